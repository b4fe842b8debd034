package school_test

import (
	"reflect"
	"strings"
	"testing"

	"zealousknot/internal/core/school"
)

// The catalogue and the fields of a plan say the same: every field but a reason is a
// question, its values are the answers in order, each with what speaks for it.
func TestCatalogue(t *testing.T) {
	fields := reflect.TypeFor[school.Schools]()
	questions := 0
	for i := range fields.NumField() {
		f := fields.Field(i)
		name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		q := school.Find(name)
		if f.Tag.Get("enum") == "" {
			if q != nil {
				t.Errorf("%s has no values", name)
			}
			continue
		}
		if q == nil {
			t.Errorf("no question %s", name)
			continue
		}
		questions++
		var values []string
		for _, a := range q.Answers {
			values = append(values, a.Value)
			if a.Words == "" || a.For == "" {
				t.Errorf("%s %s: %+v", name, a.Value, a)
			}
		}
		if got := strings.Join(values, ","); got != f.Tag.Get("enum") {
			t.Errorf("%s: answers %s, values %s", name, got, f.Tag.Get("enum"))
		}
		if q.Asks == "" || len(q.Moves) == 0 || len(q.Answers) < 2 {
			t.Errorf("%+v", q)
		}
	}
	if questions != len(school.Catalogue) {
		t.Errorf("%d questions have a field, of %d", questions, len(school.Catalogue))
	}
}

// What a plan asks for goes before the team's way, and that before the shipped one;
// what is not an answer is refused and changes nothing.
func TestWith(t *testing.T) {
	for _, q := range school.Catalogue {
		for _, a := range q.Answers {
			var own school.Schools
			if err := own.Set(strings.ReplaceAll(q.Name, "_", "-"), a.Value); err != nil {
				t.Fatal(err)
			}
			for _, b := range q.Answers {
				var team school.Schools
				if err := team.Set(q.Name, b.Value); err != nil {
					t.Fatal(err)
				}
				if own.With(team) != own || (school.Schools{}).With(team) != team {
					t.Errorf("%s: %s with %s", q.Name, a.Value, b.Value)
				}
			}
			before := own
			if err := own.Set(q.Name, "luck"); err == nil || !strings.Contains(err.Error(), a.Value) || own != before {
				t.Errorf("%s: %v", q.Name, err)
			}
		}
	}
	shipped := school.Shipped()
	if shipped.With(school.Schools{Sides: "fewer"}) != shipped || shipped.Sides != "four" {
		t.Errorf("%+v", shipped)
	}
	var s school.Schools
	if err := s.Set("luck", "good"); err == nil || s != (school.Schools{}) {
		t.Error(err)
	}
	if err := s.Set("damage-reason", "seen all round"); err != nil || s.DamageReason != "seen all round" {
		t.Error(err)
	}
}
