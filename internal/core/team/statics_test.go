package team_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/reeving"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/team"
)

func piece(id string, m gear.Model) *rig.Piece {
	m.ID, m.StrengthKN = id, 20
	return &rig.Piece{Item: &gear.Item{ID: id, Model: id, Label: id}, Model: &m}
}

// made is a team's rig of made-up pieces, whose haul is changed at random places.
func made(r *rand.Rand, ideal bool) (*rig.TeamView, team.Setting) {
	part := func() quantity.Ratio {
		if ideal {
			return 1
		}
		return quantity.Ratio(0.5 + r.Float64()/2)
	}
	brake := func(id string) *rig.Piece {
		return piece(id, gear.Model{Class: gear.AnchorBrake, MassG: 1000, Device: &gear.Device{
			Modes:     []gear.Mode{{Name: "one", Persons: 1, MaxKg: 300}, {Name: "two", Persons: 2, MaxKg: 300}},
			Positions: []gear.Position{{Name: "park", HandsOff: gear.Stops, Parked: true}, {Name: "work", HandsOff: gear.Creeps}},
			Friction:  &gear.Friction{BaseRatio: quantity.Ratio(5 + 20*r.Float64()), TakeInPart: part()},
		}})
	}
	line := func(id string) rig.TeamLineView {
		rope := piece(id+"-rope", gear.Model{Class: gear.Rope, Rope: &gear.RopeModel{DiameterMM: 11, MassGPerM: 75, ElongationPct: 3.5}})
		anchor := &rig.AnchorView{Anchor: &rig.Anchor{ID: id, Name: id, HeightM: 51, Legs: []rig.Leg{{ID: id, YM: 1, StrengthKN: 22}}}, Parts: []quantity.Ratio{1}}
		v := rig.TeamLineView{
			TeamLine: &rig.TeamLine{Strand: id, HandDeg: quantity.Degrees(90 * r.Float64())},
			Strand:   &rig.StrandView{Strand: &rig.Strand{ID: id}, Anchors: []*rig.AnchorView{anchor}, Ropes: []rig.RopePart{{Piece: rope, TopM: 51, BottomM: -60}}},
			Brake:    brake(id + "-brake"),
		}
		v.Mode = &v.Brake.Model.Device.Modes[1]
		return v
	}
	back := quantity.Metres(4 * r.Float64())
	v := &rig.TeamView{
		TeamRig: &rig.TeamRig{
			Load: rig.TeamLoad{Name: "load", MassKg: quantity.Kilograms(60 + 200*r.Float64()), Persons: 1 + r.IntN(2)}, Operators: []string{"a", "b"}, Haulers: r.IntN(7), BackM: &back,
			Lowering: []string{"", "shared", "mixed"}[r.IntN(3)], Haul: &rig.TeamHaul{Reeving: changed(r)},
		},
		Main: line("main"), Belay: line("belay"),
	}
	for i := range r.IntN(6) {
		v.Kit = append(v.Kit, piece(fmt.Sprint("pulley-", i), gear.Model{Class: gear.Pulley, Pulley: &gear.PulleyModel{Efficiency: part(), SideKN: 8}}))
	}
	p := policy.Default()
	share, loss := quantity.Ratio(r.Float64()), quantity.Metres(0)
	p.BelayShare, p.ResetLossM = &share, &loss
	in := team.Setting{EdgeM: 48, EdgePart: part(), Policy: p}
	if ideal {
		// What is not in the kit has no figure of its own: the worst of the kit counts.
		v.Kit = append(v.Kit, piece("pulley", gear.Model{Class: gear.Pulley, Pulley: &gear.PulleyModel{Efficiency: 1, SideKN: 8}}))
		in.EdgePart = 1
	}
	return v, in
}

// changed is a named haul after some changes taken from the lists of its parts.
func changed(r *rand.Rand) []reeving.Rope {
	ropes := reeving.Named([]string{"1:1", "2:1", "3:1", "5:1", "9:1"}[r.IntN(5)])
	for range r.IntN(5) {
		rope := ropes[r.IntN(len(ropes))]
		if list := reeving.Changes(ropes, rope.Rope, r.IntN(len(rope.Path)-1)); len(list) > 0 {
			if next := list[r.IntN(len(list))]; len(next.Reeving) <= 4 && next.Ideal < 200 {
				ropes = next.Reeving
			}
		}
	}
	return ropes
}

// balance sums the pulls on every node but those that the structure or people hold,
// along the rope: what comes from nearer the load counts up.
func balance(t *testing.T, name string, b *team.Built, of func(team.Segment) float64) {
	t.Helper()
	sum := map[string]float64{}
	kinds := map[string]team.Node{}
	for _, n := range b.Nodes {
		kinds[n.ID] = n
	}
	for _, s := range b.Segments {
		if s.Kind == "fixed" {
			// A pulley on the anchor is held back from the load, one on a grab or the load
			// towards it.
			away := 1.0
			if kinds[s.From].Kind == "anchor" {
				away = -1
			}
			sum[s.To] += away * of(s)
			sum[s.From] -= away * of(s)
			continue
		}
		// Of a rope's part the end at a thing behind is pulled towards the load, the
		// other away from it; both ends of a part at turning things are pulled as the
		// thing is fixed.
		for _, end := range []string{s.From, s.To} {
			n := kinds[end]
			pull := of(s)
			switch {
			case n.Kind == "load":
				pull = -pull
			case n.Kind == "edge", n.Kind == "grab" && end == s.To && through(b, s):
				pull = -pull
			case n.Kind == "grab" && end == s.To, n.Kind == "pulley" && kinds[n.Fixed].Kind != "anchor":
				pull = -pull
			case n.Kind == "brake" && kinds[s.From].Kind == "hand":
				pull = -pull
			}
			sum[end] += pull
		}
	}
	for id, n := range kinds {
		switch n.Kind {
		case "hand", "slack", "anchor", "edge":
			continue
		case "load":
			sum[id] += b.WeightKN
		}
		if math.Abs(sum[id]) > 1e-9*b.WeightKN {
			t.Errorf("%s: %s is out of balance by %g kN of %g\n%s", name, id, sum[id], b.WeightKN, b.Text)
		}
	}
}

// through reports whether a rope runs on through the grab at the end of its part.
func through(b *team.Built, s team.Segment) bool {
	for _, o := range b.Segments {
		if o.Kind == "rope" && o.From == s.To && o.Rope == s.Rope && o.Index == s.Index+1 {
			return true
		}
	}
	return false
}

// A thousand rigs, each with a haul that was changed at random: at every node the pulls
// balance, held and moving; over the edge the load side is the part of the other that
// the edge lets through; with nothing lost anywhere it is what a haul that loses ever less comes to.
func TestStatics(t *testing.T) {
	r := chance.Rand(6, 2)
	seen := map[string]bool{}
	for i := range 1000 {
		ideal := i%2 == 0
		view, in := made(r, ideal)
		rigged := team.New(view, in)
		held := func(s team.Segment) float64 { return float64(s.HeldKN) }
		moving := func(s team.Segment) float64 { return float64(s.MovingKN) }
		low := rigged.Lowering()
		balance(t, "lowering", low, moving)
		balance(t, "lowering, held", low, held)
		b, out, err := rigged.Hauling()
		if err != nil {
			t.Fatalf("%v: %v", err, view.Haul.Reeving)
		}
		seen[b.Text] = true
		balance(t, "hauling", b, moving)
		if out.Capture != "" {
			balance(t, "hauling, held", b, held)
		}
		over := 0.0
		for _, s := range b.Segments {
			if s.To == "main-edge" || s.From == "main-edge" && s.Kind == "fixed" {
				over += moving(s)
			}
		}
		if math.Abs(over*float64(b.EdgePart)-b.WeightKN) > 1e-9*b.WeightKN {
			t.Errorf("over the edge %g comes, of which %v is not %g", over, b.EdgePart, b.WeightKN)
		}
		if ideal {
			still(t, b, out, view, in)
		}
		jammed(t, rigged, b, out)
		measured(t, rigged)
		withRope(t, rigged, view)
	}
	if len(seen) < 300 {
		t.Errorf("only %d hauls", len(seen))
	}
}

// measured holds that the load while lowering, and nothing else, is what runs measure.
func measured(t *testing.T, r *team.Rig) {
	t.Helper()
	loads, _ := r.Loads()
	for _, l := range loads {
		for _, w := range l.Working {
			want := finding.Loading("")
			if w.Name == "load, "+l.While && strings.Contains(l.While, "lowering") {
				want = finding.WhileLowering
			}
			if w.Loading != want {
				t.Errorf("%s of %s, %s: %q", w.Name, l.Label, l.While, w.Loading)
			}
		}
	}
}

// withRope holds what bears a line while lowering against the load with the rope that hangs at
// the landing.
func withRope(t *testing.T, r *team.Rig, view *rig.TeamView) {
	t.Helper()
	loads, _ := r.Loads()
	main := view.Main.Strand.Ropes[0]
	for _, l := range loads {
		if l.Item != main.Item.ID || l.While != "held while lowering" {
			continue
		}
		low := r.Lowering()
		rope := float64(main.Model.Rope.MassGPerM) / 1000 * float64(max(r.TopM, r.EdgeM)) * 9.80665 / 1000
		share := 0.0
		for _, s := range low.Segments {
			if s.To == "load" && s.From == "main-edge" {
				share = float64(s.HeldKN)
			}
		}
		if want := share + rope; len(view.Main.Strand.Ropes) == 1 && math.Abs(float64(l.LoadKN)-want) > 1e-9 {
			t.Errorf("%s bears %v, with its rope %g", l.Label, l.LoadKN, want)
		}
		if l.Strength > 0 && math.Abs(float64(l.Margin)-float64(l.Strength/l.LoadKN)) > 1e-9 {
			t.Errorf("%s: margin %v", l.Label, l.Margin)
		}
	}
}

// still checks a haul that loses nothing: a rope pulls as much behind a pulley as before
// it; the hands hold the weight divided by the ideal ratio; where they are what holds, what
// is held is what moves; and a haul that loses next to nothing comes to the same.
func still(t *testing.T, b *team.Built, out *mechanics.HaulOut, view *rig.TeamView, in team.Setting) {
	t.Helper()
	if hand := b.WeightKN / float64(out.IdealRatio); math.Abs(hand-float64(out.HandKN)) > 1e-9*b.WeightKN {
		t.Errorf("hands %v, by the ideal ratio %g", out.HandKN, hand)
	}
	before := map[string]quantity.Kilonewtons{}
	for _, s := range b.Segments {
		if s.Kind == "rope" && strings.HasPrefix(s.To, "pulley:") {
			before[s.To] = s.MovingKN
		}
	}
	for _, s := range b.Segments {
		if was, ok := before[s.From]; ok && s.Kind == "rope" && math.Abs(float64(was-s.MovingKN)) > 1e-9*b.WeightKN {
			t.Errorf("%s takes %v and gives %v", s.From, was, s.MovingKN)
		}
		if out.Capture == "" && math.Abs(float64(s.HeldKN-s.MovingKN)) > 1e-9*b.WeightKN {
			t.Errorf("the hands hold, and %+v differs", s)
		}
	}
	for _, p := range view.Kit {
		p.Model.Pulley.Efficiency = 1 - 1e-9
	}
	view.Main.Brake.Model.Device.Friction.TakeInPart = 1 - 1e-9
	near, _, err := team.New(view, in).Hauling()
	if err != nil {
		t.Fatal(err)
	}
	for i, s := range near.Segments {
		if math.Abs(float64(s.MovingKN-b.Segments[i].MovingKN)) > 1e-6*b.WeightKN {
			t.Errorf("%+v is not the limit of %+v", b.Segments[i], s)
		}
	}
}

// jammed checks what is said of a caught load: every force grows as the hand's does, and
// the limits stand in the order in which they are reached.
func jammed(t *testing.T, r *team.Rig, b *team.Built, out *mechanics.HaulOut) {
	t.Helper()
	haulers := float64(max(r.Haulers, 0))
	if haulers == 0 {
		haulers = float64(out.HaulersNeeded)
	}
	if times := haulers * 0.4 / float64(out.HandKN); math.Abs(b.Jam.Times-times) > 1e-9*times {
		t.Errorf("jammed %g times, by the hands %g", b.Jam.Times, times)
	}
	last := math.Inf(1)
	for _, g := range b.Jam.Gives {
		if now := float64(g.ForceKN / g.LimitKN); now > last+1e-12 {
			t.Errorf("%+v comes before", g)
		} else {
			last = now
		}
		if g.Passed != (g.ForceKN > g.LimitKN) {
			t.Errorf("%+v", g)
		}
	}
}

// BenchmarkFigures is everything that the page shows of a rig without a move.
func BenchmarkFigures(b *testing.B) {
	view, in := made(chance.Rand(6, 4), false)
	r := team.New(view, in)
	for b.Loop() {
		r.Figures()
	}
}

// BenchmarkMoves is every move of the catalogue on a rig that has what it takes.
func BenchmarkMoves(b *testing.B) {
	for _, move := range team.Catalogue {
		b.Run(move.Name, func(b *testing.B) {
			r, ask := stretcher(), team.Ask{Move: move.Name, FromM: m(60), ToM: m(2)}
			r.Main.KnotsM = []quantity.Metres{50, 70}
			switch move.Name {
			case "raise":
				ask.ToM = m(90)
			case "wind-up", "wind-down":
				r, ask.ToM = winding(2), m(66)
			}
			for b.Loop() {
				if _, err := r.For(b.Context(), ask); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
