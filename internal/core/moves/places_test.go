package moves_test

import (
	"fmt"
	"slices"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/stance"
)

// beside is a shaft with a second set of strands, some way aside.
func beside(aside float64) *drop.Document {
	d := carry(shaft(20, nil, nil), "+absorber-8")
	for _, s := range d.Strands[:2:2] {
		a := d.Anchors[0]
		a.ID, a.Name, a.XM = s.ID+"-2-anchor", s.Name+" anchor of set 2", quantity.Metres(aside)
		s.ID, s.Name, s.Set, s.Anchors, s.Ropes = s.ID+"-2", s.Name+" 2", 2, []string{a.ID}, []string{s.Ropes[0] + "-2"}
		rope := *itemOf(d, d.Strands[0].Ropes[0])
		rope.ID = s.Ropes[0]
		d.Anchors, d.Strands, d.Items = append(d.Anchors, a), append(d.Strands, s), append(d.Items, rope)
	}
	return d
}

func itemOf(d *drop.Document, id string) *gear.Item {
	i := slices.IndexFunc(d.Items, func(i gear.Item) bool { return i.ID == id })
	return &d.Items[i]
}

// hurt is a shaft with damage on both strands, or on the main alone, and a second set
// where one is needed.
func hurt(aside float64, main, backup rig.Mark) *drop.Document {
	d := carry(shaft(20, nil, nil), "+absorber-8")
	if aside > 0 {
		d = beside(aside)
	}
	for i, m := range []rig.Mark{main, backup} {
		if m.ID != "" {
			d.Strands[i].Marks = []rig.Mark{m}
		}
	}
	return d
}

func damage(at float64, sheath bool) rig.Mark {
	return rig.Mark{ID: "hurt", Kind: rig.DamageMark, HeightM: quantity.Metres(at), SheathOnly: sheath}
}

// deviated is a shaft with a deviation of both strands.
func deviated() *drop.Document {
	d := shaft(22, nil, nil)
	d.Anchors = append(d.Anchors, rig.Anchor{ID: "wall", Name: "deviation", XM: 1, HeightM: 18, Legs: []rig.Leg{{ID: "wall-bolt", YM: 0.2}}})
	for i := range d.Strands {
		d.Strands[i].Marks = []rig.Mark{{ID: "dev", Kind: rig.DeviationMark, Name: "deviation", HeightM: 18, Anchor: "wall"}}
	}
	return d
}

// twoKnots is a shaft with a knot in each strand, level, and a second backup.
func twoKnots() *drop.Document {
	return carry(shaft(20, []rig.Mark{knot("m", 18, false)}, []rig.Mark{knot("b", 18, false)}), "+absorber-8")
}

// slung is a structure with slings, some way apart, between two sets of strands.
func slung(apart float64, n int) *drop.Document {
	d := carry(beside(apart*float64(n+1)), "+lanyard-13", "+foot-loop-3", "+foot-loop-1")
	for i := range n {
		d.Anchors = append(d.Anchors, rig.Anchor{
			ID: fmt.Sprint("sling-", i), Name: fmt.Sprint("sling ", i+1), XM: quantity.Metres(apart * float64(i+1)), HeightM: 22, Sling: true,
			Legs: []rig.Leg{{ID: fmt.Sprint("beam-", i), YM: 0.2}},
		})
	}
	return d
}

// relayed is a shaft with a re-belay of both strands, some way aside.
func relayed(aside, loop float64) *drop.Document {
	d := carry(shaft(20, nil, nil), "+absorber-8")
	for i := range d.Strands[:2] {
		id := "side-" + d.Strands[i].ID
		d.Anchors = append(d.Anchors, rig.Anchor{ID: id, Name: id, XM: quantity.Metres(aside), HeightM: 18, Legs: []rig.Leg{{ID: "bolt-" + id, YM: 0.2}}})
		d.Strands[i].Marks = append(d.Strands[i].Marks, rig.Mark{ID: "relay", Kind: rig.RebelayMark, HeightM: 18, Anchor: id, LoopM: quantity.Metres(loop)})
	}
	return d
}

// Past a re-belay that is aside there is a way as long as its loop lets the body hang on
// either side, and it takes no more than it must: up, eight holds in sixteen steps.
func TestWideRebelay(t *testing.T) {
	for _, c := range []struct {
		move                 string
		at                   float64
		aside, loop          float64
		steps, holds, states int
	}{
		{"rebelay-up", 10, 0.5, 2, 16, 8, 10_000}, {"rebelay-up", 10, 1, 2, 16, 8, 10_000}, {"rebelay-up", 10, 1, 4, 16, 8, 10_000},
		{"rebelay-up", 10, 2, 3, 16, 8, 10_000}, {"rebelay-up", 10, 2, 6, 16, 8, 10_000}, {"rebelay-up", 10, 3, 4, 16, 8, 10_000},
		{"rebelay-down", 24, 1, 3, 17, 8, 10_000}, {"rebelay-down", 24, 2, 5, 17, 8, 10_000}, {"rebelay-down", 24, 3, 7, 17, 8, 10_000},
	} {
		d := relayed(c.aside, c.loop)
		d.People[0].AtM = quantity.Metres(c.at)
		sc, at, err := sceneOn(d, school.Schools{})
		if err != nil {
			t.Fatal(err)
		}
		p, err := moves.For(t.Context(), sc, at, moves.Ask{Move: c.move, MaxStates: c.states})
		if err != nil {
			t.Errorf("%s, %v m aside, loop of %v m: %v", c.move, c.aside, c.loop, err)
			continue
		}
		if len(p.Steps) > c.steps || p.Handled > c.holds {
			t.Errorf("%s, %v m aside, loop of %v m: %d steps, %d holds", c.move, c.aside, c.loop, len(p.Steps), p.Handled)
		}
	}
	// Where the loop is too short to hang below the anchor on both sides there is none.
	d := relayed(2, 0.3)
	d.People[0].AtM = 10
	if p, err := planOn(t.Context(), d, moves.Ask{Move: "rebelay-up", MaxStates: 10_000}, school.Schools{}, nil); err == nil {
		t.Errorf("%d steps past a loop that lets nobody across", len(p.Steps))
	}
}

// A move is planned on the set of the request, and its written steps lead there
// for who reads it without being told the set.
func TestOnAnotherSet(t *testing.T) {
	for _, move := range []string{"ascend", "descend", "descend-to-ascend", "ascend-to-descend", "short-work"} {
		for set, suffix := range map[int]string{1: "", 2: "-2"} {
			d := beside(1.4)
			d.People[0].AtM = 12
			p, err := planOn(t.Context(), d, moves.Ask{Move: move, Set: set}, school.Schools{}, nil)
			if err != nil {
				t.Errorf("%s on set %d: %v", move, set, err)
				continue
			}
			for _, a := range p.Actions() {
				if a.Do == stance.PutOn && a.Line != "main"+suffix && a.Line != "backup"+suffix {
					t.Errorf("%s on set %d: %+v", move, set, a)
				}
			}
			if found := replay(t, d, p); slices.ContainsFunc(found, func(b moves.Breach) bool { return b.Stops() }) {
				t.Errorf("%s on set %d: %+v", move, set, found)
			}
		}
	}
}

// Who goes over to the other strand to tie damage out sits level: what is left on the first
// strand lets them no lower. The height that is level is on no grid.
func TestLevelWithTheOtherStrand(t *testing.T) {
	d := carry(shaft(28.46, []rig.Mark{damage(29.18, false), knot("k", 23.45, false)}, []rig.Mark{damage(26.62, false)}), "+absorber-8")
	d.People[0].ReachUpM = 0.85
	sc, at, err := sceneOn(d, school.Schools{KnotUp: "descender", Sides: "four"})
	if err != nil {
		t.Fatal(err)
	}
	for _, grid := range []int{15, 5} {
		p, err := moves.For(t.Context(), sc, at, moves.Gridded(moves.Ask{Move: "isolate-damage", MaxStates: 60_000}, grid))
		if err != nil || p.Note != "" {
			t.Errorf("at %d cm: %v", grid, err)
		}
	}
}

// Damage is tied out from above and from below, by who descends and by who climbs; what is
// written leads there, and short of its last step that counts it does not.
func TestIsolateFromBothSides(t *testing.T) {
	for _, at := range []quantity.Metres{17.3, 24} {
		d := hurt(0, rig.Mark{}, damage(18, false))
		d.People[0].AtM = at
		p, err := planOn(t.Context(), d, moves.Ask{Move: "isolate-damage"}, school.Schools{}, nil)
		if err != nil {
			t.Errorf("from %v: %v", at, err)
			continue
		}
		stopped := func(b moves.Breach) bool { return b.Stops() }
		if found := replay(t, d, p); slices.ContainsFunc(found, stopped) {
			t.Errorf("from %v: %+v", at, found)
		}
		i := slices.IndexFunc(p.Steps, func(s moves.Step) bool { return s.Action.Do == stance.Isolate })
		if i < 0 {
			t.Errorf("from %v nothing is tied out: %+v", at, p.Actions())
			continue
		}
		p.Steps = p.Steps[:i]
		if found := replay(t, d, p); i > 0 && !slices.ContainsFunc(found, stopped) {
			t.Errorf("from %v, short of the knot: %+v", at, found)
		}
	}
}
