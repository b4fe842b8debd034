package drop_test

import (
	"encoding/json"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/demo"
)

// TestMerge holds that what only one of two people changed is in the outcome, whoever is
// asked; that where both changed one place it says so and the preferred one stands; and that
// what cannot be kept together says why.
func TestMerge(t *testing.T) {
	base := func() *drop.Document { return demo.Drops()["face-7"].Clone() }
	merge := func(mine, theirs func(d *drop.Document), preferMine bool) *drop.Merged {
		t.Helper()
		m, o := base(), base()
		mine(m)
		theirs(o)
		out, err := drop.Merge(base(), m, o, preferMine)
		if err != nil {
			t.Fatal(err)
		}
		return out
	}
	nothing := func(*drop.Document) {}
	listed := func(kg float64) func(*drop.Document) {
		return func(d *drop.Document) { d.People[0].Listed = &rig.Measures{MassKg: demoKg(kg)} }
	}
	if out := merge(listed(80), listed(90), true); len(out.Touch) > 0 || len(out.Mine)+len(out.Theirs) > 0 || out.Drop.People[0].Listed.MassKg != 90 {
		t.Errorf("what the store makes is nobody's change: %+v", out)
	}
	type change = func(d *drop.Document)
	apart := map[string]change{
		"name":         func(d *drop.Document) { d.Name = "Face 7 north" },
		"mass":         func(d *drop.Document) { d.People[0].MassKg = 99 },
		"another mass": func(d *drop.Document) { d.People[1].MassKg = 71 },
		"a mark": func(d *drop.Document) {
			d.Strands[0].Marks = append(d.Strands[0].Marks, rig.Mark{ID: "new", Kind: rig.KnotMark, HeightM: 30})
		},
		"another mark": func(d *drop.Document) {
			d.Strands[1].Marks = append(d.Strands[1].Marks, rig.Mark{ID: "new", Kind: rig.KnotMark, HeightM: 31})
		},
		"a mark away":   func(d *drop.Document) { d.Strands[0].Marks = d.Strands[0].Marks[:len(d.Strands[0].Marks)-1] },
		"wind":          func(d *drop.Document) { d.WindMS = 7 },
		"a note":        func(d *drop.Document) { d.Note = "wet" },
		"a person away": func(d *drop.Document) { d.People = d.People[:len(d.People)-1] },
		"a position":    func(d *drop.Document) { d.People[0].Holds[0].Open = !d.People[0].Holds[0].Open },
	}
	text := func(d *drop.Document) string {
		b, err := json.Marshal(d)
		if err != nil {
			t.Fatal(err)
		}
		return string(b)
	}
	for a, mine := range apart {
		for b, theirs := range apart {
			if a > b {
				continue
			}
			out := merge(mine, theirs, false)
			if a == b {
				if len(out.Touch) != 0 {
					t.Errorf("both: %s: %+v", a, out.Touch)
				}
				continue
			}
			if a == "a person away" && b == "another mass" || b == "a person away" && a == "another mass" {
				continue // the last person may be the second
			}
			if a == "a mark" && b == "a mark away" {
				continue // one after the other takes away the new one
			}
			both := base()
			mine(both)
			theirs(both)
			if len(out.Touch) != 0 || text(out.Drop) != text(both) {
				t.Errorf("%s and %s: touching %+v", a, b, out.Touch)
			}
			if len(out.Mine) == 0 || len(out.Theirs) == 0 || reflect.DeepEqual(out.Mine, out.Theirs) {
				t.Errorf("%s and %s: mine %q, theirs %q", a, b, out.Mine, out.Theirs)
			}
		}
		if out := merge(mine, nothing, false); text(out.Drop) != text(merge(nothing, mine, true).Drop) || len(out.Touch) != 0 || len(out.Theirs) != 0 {
			t.Errorf("%s alone: %+v", a, out.Touch)
		}
	}
	// One place, two ways.
	mass := func(kg float64) change {
		return func(d *drop.Document) { d.People[0].MassKg = demoKg(kg) }
	}
	for _, mine := range []bool{true, false} {
		out := merge(mass(90), mass(95), mine)
		want := demoKg(95)
		if mine {
			want = demoKg(90)
		}
		if len(out.Touch) != 1 || !strings.Contains(out.Touch[0].Where, "mass") || out.Touch[0].Mine != "90 kg" || out.Touch[0].Theirs != "95 kg" || out.Drop.People[0].MassKg != want {
			t.Errorf("prefer mine %v: %+v, %v", mine, out.Touch, out.Drop.People[0].MassKg)
		}
	}
	// I changed what they took away.
	gone := merge(func(d *drop.Document) { d.People[len(d.People)-1].MassKg = 101 }, apart["a person away"], true)
	if len(gone.Touch) != 1 || gone.Touch[0].Theirs != "none" || len(gone.Drop.People) != len(base().People) {
		t.Errorf("%+v", gone.Touch)
	}
	// I hang somebody on a strand that they took away: both together cannot be kept.
	last := len(base().Strands) - 1
	broken := merge(func(d *drop.Document) { d.People[0].Holds[0].Strand = d.Strands[last].ID }, func(d *drop.Document) {
		id := d.Strands[last].ID
		d.Strands = d.Strands[:last]
		for i := range d.People {
			d.People[i].Holds = slices.DeleteFunc(d.People[i].Holds, func(h rig.Hold) bool { return h.Strand == id })
		}
	}, false)
	if len(broken.Faults) == 0 {
		t.Error("it is not said that it cannot be kept")
	}
}

func demoKg(kg float64) quantity.Kilograms { return quantity.Kilograms(kg) }

// Everything that differs is named as people name it; what the store and the records
// decide is none of it.
func TestDifferences(t *testing.T) {
	then := demo.Drops()["face-7"]
	now := then.Clone()
	now.Policy.Name, now.Note = "other", "wet"
	now.People[0].Listed, now.Items[0].Noted = &rig.Measures{MassKg: 99}, &gear.Noted{MostMM: 12}
	now.Anchors[0].Register = &rig.Registered{Site: "crest"}
	p, strand := &now.People[0], &now.Strands[0]
	p.Holds[0].Open = !p.Holds[0].Open
	hung := then.Strands[slices.IndexFunc(then.Strands, func(s rig.Strand) bool { return s.ID == p.Holds[0].Strand })]
	strand.Ropes = []string{then.Strands[1].Ropes[0]}
	strand.Marks = append(strand.Marks, rig.Mark{ID: "k", Kind: rig.KnotMark, HeightM: 30.5})
	called := func(id string) string {
		return then.Items[slices.IndexFunc(then.Items, func(i gear.Item) bool { return i.ID == id })].Label
	}
	got, err := drop.Differences(then, now)
	want := []string{
		"people, " + p.Name + ", holds, " + called(p.Holds[0].Device) + " on " + hung.Name + ", open: none → yes",
		"strands, " + strand.Name + ", marks, knot at 30.5 m: added",
		"strands, " + strand.Name + ", ropes, " + called(then.Strands[0].Ropes[0]) + ": taken away",
		"strands, " + strand.Name + ", ropes, " + called(strand.Ropes[0]) + ": added",
	}
	for _, w := range want {
		if !slices.Contains(got, w) {
			t.Errorf("missing: %s", w)
		}
	}
	if err != nil || len(got) != len(want)+1 {
		t.Errorf("%q, %v", got, err)
	}
	if same, err := drop.Differences(then, then); err != nil || len(same) != 0 {
		t.Error(same, err)
	}
}
