package drop_test

import (
	"slices"
	"testing"

	"zealousknot/internal/demo"
)

// Cautions are those of what is in use, each of a model once, with where they stand.
func TestCautions(t *testing.T) {
	d := demo.Drops()["face-7"].Clone()
	list := d.Cautions()
	want := "Hemmick narrow descender (second), instructions for use, issue 5: With two persons the added friction bend goes in before the second weight comes on."
	if !slices.Equal(list, []string{want}) {
		t.Errorf("%q", list)
	}
	for i := range d.Models {
		d.Models[i].Cautions, d.Models[i].Source = []string{"one", "two"}, ""
	}
	used := map[string]bool{}
	for id := range d.Used() {
		for _, it := range d.Items {
			if it.ID == id {
				used[it.Model] = true
			}
		}
	}
	if list = d.Cautions(); len(list) != 2*len(used) || !slices.Contains(list, "Varrowby wide descender: two") {
		t.Errorf("%d of %d models: %q", len(list), len(used), list)
	}
	d.People, d.Strands, d.Team = nil, nil, nil
	if list = d.Cautions(); len(list) > 0 {
		t.Errorf("of nothing in use: %q", list)
	}
}
