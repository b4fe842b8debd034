package policy

import (
	"reflect"
	"testing"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/strict"
)

// A policy that says nothing is the default one; what it says is kept, whatever it is, and
// every figure that a rule reads is there.
func TestWith(t *testing.T) {
	d := Default()
	if got := (&Policy{Name: d.Name}).With(); !reflect.DeepEqual(got.Factor(true), d.Factor(true)) || got.HangLimitMin != d.HangLimitMin || got.Standards("rope") == nil {
		t.Errorf("%+v", got)
	}
	filled, plain := reflect.ValueOf(*(&Policy{}).With()), reflect.TypeFor[Policy]()
	// Empty is an answer of these: a name, lists and answers of the team's own.
	may := map[string]bool{"Name": true, "TeamTimes": true, "RescueTimes": true, "Raises": true, "CheckedAlone": true, "MoveTimes": true, "MoveWeights": true, "Schools": true}
	for i := range plain.NumField() {
		if f := plain.Field(i); filled.Field(i).IsZero() && !may[f.Name] {
			t.Errorf("%s has no default", f.Name)
		}
	}
	// Each figure that is said stays, beside defaults for the rest.
	for i := range plain.NumField() {
		var p Policy
		v := reflect.ValueOf(&p).Elem().Field(i)
		if v.Kind() != reflect.Float64 && v.Kind() != reflect.Int {
			continue
		}
		if v.CanFloat() {
			v.SetFloat(0.37)
		} else {
			v.SetInt(37)
		}
		if got := reflect.ValueOf(*p.With()).Field(i); !got.Equal(v) {
			t.Errorf("%s: said %v, with defaults %v", plain.Field(i).Name, v, got)
		}
	}
}

// A team makes findings worse, never milder, and of no rule that there is not.
func TestSeverity(t *testing.T) {
	of := []finding.Severity{finding.Note, finding.Look, finding.Stop}
	for _, to := range of {
		p := Policy{Raises: []Raise{{Rule: "rope.short", To: to}}}
		for _, s := range of {
			got := p.Severity("rope.short", s)
			if s.Worse(got) || to.Worse(got) || got != s && got != to {
				t.Errorf("%s raised to %s is %s", s, to, got)
			}
			if p.Severity("rope.kit", s) != s {
				t.Errorf("another rule's %s is raised", s)
			}
		}
		var faults strict.Faults
		p.Validate("/policy", &faults)
		if faults.Err() != nil {
			t.Error(faults.Err())
		}
		p.Raises[0].Rule = "rope.shorter"
		p.Validate("/policy", &faults)
		if err := faults.Err(); err == nil || err.Error() == "" {
			t.Error("a rule there is not is raised")
		}
	}
}
