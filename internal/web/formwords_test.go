package web

import (
	"regexp"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/strict"
)

// A form calls its fields as the trade does: no name of the document's, no two alike side by
// side, and no word for a field that is gone.
func TestFormWords(t *testing.T) {
	out, err := forms(t.Context(), nil)
	if err != nil {
		t.Fatal(err)
	}
	unit := regexp.MustCompile(`^(%|°C?|g/m|kg|g|mm|m|m/s|kN|N|months|years|J/\(kg·K\)|W/K)?$`)
	used := map[string]bool{}
	var walk func(path string, fields []strict.FormField)
	walk = func(path string, fields []strict.FormField) {
		seen := map[string]bool{}
		for _, f := range fields {
			at, in := path+"/"+f.Name, path[strings.LastIndex(path, "/")+1:]
			used[in+"/"+f.Name], used[f.Name] = true, true
			if f.Kind == "number" && strict.Stem(f.Name) != f.Name && f.Unit == "" || !unit.MatchString(f.Unit) {
				t.Errorf("%s is in %q", at, f.Unit)
			}
			if seen[f.Words] || f.Words == "" {
				t.Errorf("%s is called %q, as another one", at, f.Words)
			}
			seen[f.Words] = true
			walk(at, f.Fields)
		}
	}
	b := &out.Body
	for name, fields := range map[string][]strict.FormField{"model": b.Model, "item": b.Item, "person": b.Person, "preplan": b.Preplan} {
		walk(name, fields)
	}
	for path := range formWords {
		if !used[path] {
			t.Errorf("%s is no field of a form", path)
		}
	}
	var order []string
	for _, f := range b.Model {
		order = append(order, f.Name)
	}
	for _, pair := range [][2]string{{"class", "maker"}, {"generation", "standards"}, {"standards", "rope"}, {"evacuation", "strength_kN"}, {"strength_kN", "life"}, {"life", "examination_months"}, {"cautions", "source"}} {
		if a, z := slices.Index(order, pair[0]), slices.Index(order, pair[1]); a < 0 || a >= z {
			t.Errorf("%v: %v", pair, order)
		}
	}
}
