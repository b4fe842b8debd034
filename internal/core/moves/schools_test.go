package moves_test

import (
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/demo"
)

// first is the place of the first action of a kind on an item, -1 for none.
func first(p *moves.Plan, do stance.Do, item string) int {
	return slices.IndexFunc(p.Actions(), func(a stance.Action) bool { return a.Do == do && strings.HasPrefix(a.Item, item) })
}

// Every way of every question is followed: the plan by it does what it says, and what
// the other way does is refused where the way forbids it.
func TestSchools(t *testing.T) {
	eyes := func() *drop.Document {
		return carry(shaft(14, []rig.Mark{knot("m", 18, true)}, []rig.Mark{knot("b", 18.6, true)}), "+absorber-8")
	}
	// The backup's knot hangs higher: either may be first.
	either := func() *drop.Document {
		return carry(shaft(20, []rig.Mark{knot("m", 18, false)}, []rig.Mark{knot("b", 18.5, false)}), "+absorber-8")
	}
	one := func() *drop.Document { return shaft(14, nil, nil) }
	// A cam whose instructions do not let it be towed.
	untowed := func() *drop.Document {
		d := carry(one(), "-backup-9")
		for i := range d.Models {
			if b := d.Models[i].Backup; b != nil {
				b.TowedByCord = false
			}
		}
		return d
	}
	hurtBelow := func() *drop.Document { return hurt(0, damage(12, false), rig.Mark{}) }
	for _, c := range []struct {
		question, way, move string
		drop                func() *drop.Document
		at                  float64
		// does tells the plan from others; breaks is what a plan of the shipped way, or of
		// another, breaks by this one.
		does          func(p *moves.Plan) bool
		other, breaks string
	}{
		{"knot_cover", "second-device", "pass-knots-down", twoKnots, 20, func(p *moves.Plan) bool { return first(p, stance.PutOn, "backup-9") >= 0 }, "", ""},
		{"knot_cover", "loop", "pass-knots-down", twoKnots, 20, func(p *moves.Plan) bool { return first(p, stance.Tie, "") >= 0 }, "", ""},
		{"knot_cover", "eye", "pass-knots-up", eyes, 14, func(p *moves.Plan) bool {
			return first(p, stance.Clip, "lanyard") >= 0 && first(p, stance.Tie, "") < 0
		}, "", ""},
		{"knot_order", "main-first", "pass-knots-down", either, 20, func(p *moves.Plan) bool {
			return first(p, stance.PutOn, "descender") < first(p, stance.PutOn, "backup")
		}, "backup-first", "moves.knot-order"},
		{"knot_order", "backup-first", "pass-knots-down", either, 20, func(p *moves.Plan) bool {
			return first(p, stance.PutOn, "backup") < first(p, stance.PutOn, "descender")
		}, "main-first", "moves.knot-order"},
		{"knot_up", "descender", "pass-knots-up", eyes, 14, func(p *moves.Plan) bool { return first(p, stance.PutOn, "descender") >= 0 }, "chest", "moves.knot-up"},
		{"sides", "four", "rebelay-down", func() *drop.Document { return demo.Drops()["face-4"] }, 61, func(p *moves.Plan) bool {
			return slices.ContainsFunc(p.Steps, func(s moves.Step) bool { return s.After.Held >= 4 })
		}, "fewer", "moves.four"},
		{"transfer_cover", "loop", "transfer", func() *drop.Document { return beside(2) }, 20, func(p *moves.Plan) bool {
			return first(p, stance.Tie, "") >= 0 && first(p, stance.Clip, "lanyard") >= 0
		}, "", ""},
		{"hand_point", "never", "ascend", one, 14, func(p *moves.Plan) bool {
			return !slices.ContainsFunc(p.Steps[0].FailOne, func(l stance.Lost) bool { return strings.HasPrefix(l.By, "hand") })
		}, "", ""},
		{"hand_point", "third", "ascend", one, 14, func(p *moves.Plan) bool {
			return slices.ContainsFunc(p.Steps[0].FailOne, func(l stance.Lost) bool { return strings.HasPrefix(l.By, "hand") })
		}, "", ""},
		{"ascent", "descender", "ascend", one, 14, func(p *moves.Plan) bool {
			return first(p, stance.PutOn, "hand") >= 0 && first(p, stance.PutOn, "chest") < 0
		}, "", ""},
		{"backup_kind", "wheel", "transfer", func() *drop.Document { return beside(2) }, 20, func(p *moves.Plan) bool { return first(p, stance.PutOn, "backup-9") >= 0 }, "", ""},
		{"backup_kind", "cam", "transfer", func() *drop.Document { return beside(2) }, 20, nil, "any", "moves.backup-kind"},
		{"parked", "lock", "short-work", one, 14, func(p *moves.Plan) bool { return first(p, stance.TieOff, "") < 0 }, "", ""},
		{"parked", "tied", "short-work", one, 14, func(p *moves.Plan) bool { return first(p, stance.TieOff, "") >= 0 }, "lock", "device.mode"},
		{"brake_hand", "always", "isolate-damage", hurtBelow, 14, func(p *moves.Plan) bool { return first(p, stance.Park, "") >= 0 }, "near", "device.mode"},
		{"brake_hand", "near", "isolate-damage", hurtBelow, 14, func(p *moves.Plan) bool { return first(p, stance.Park, "") < 0 }, "", ""},
		{"isolating_knot", "eye", "isolate-damage", hurtBelow, 14, func(p *moves.Plan) bool { return p.Steps[len(p.Steps)-1].Action.Eye }, "", ""},
		{"backup_down", "towed", "descend", untowed, 14, nil, "one-for-one", "device.tow"},
	} {
		var ways, others school.Schools
		if err := ways.Set(c.question, c.way); err != nil {
			t.Fatal(err)
		}
		d := c.drop()
		d.People[0].AtM = quantity.Metres(c.at)
		if c.does == nil {
			if _, err := planOn(t.Context(), d, moves.Ask{Move: c.move, MaxStates: 20_000}, ways, nil); err == nil {
				t.Errorf("%s %s: a plan", c.question, c.way)
			}
		} else if p := plan(t, d, c.move, ways); !c.does(p) {
			t.Errorf("%s %s: %+v", c.question, c.way, p.Actions())
		}
		if c.breaks == "" {
			continue
		}
		if err := others.Set(c.question, c.other); err != nil {
			t.Fatal(err)
		}
		list := moves.StepsOf(plan(t, d, c.move, others))
		list.Schools = school.Schools{}
		_, found, err := walkOn(d, list, ways)
		if err != nil || !slices.ContainsFunc(found, func(f moves.Breach) bool {
			return slices.ContainsFunc(f.Broken, func(v stance.Violation) bool { return v.Rule == c.breaks })
		}) {
			t.Errorf("%s %s: a plan by %s breaks %+v %v", c.question, c.way, c.other, found, err)
		}
	}
}
