package site

import (
	"errors"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// figures computes what the rules compare.
func figures(r *rig.Rig, p *policy.Policy) {
	for _, a := range r.Anchors {
		anchorFigures(a)
	}
	for _, s := range r.Strands {
		s.Length = reach(r, s, p)
	}
	for _, h := range r.EveryHold() {
		if h.Role() != rig.ToLower {
			holdFigures(SpotOf(r, h, p))
		}
	}
}

// AnchorIn is an anchor under a load.
func AnchorIn(a *rig.AnchorView, load quantity.Kilonewtons) mechanics.AnchorIn {
	in := mechanics.AnchorIn{LoadKN: load, Legs: make([]mechanics.AnchorLeg, len(a.Legs))}
	for i, l := range a.Legs {
		in.Legs[i] = mechanics.AnchorLeg{ID: l.ID, X: l.XM, Y: l.YM, Z: l.ZM}
		if l.ElongationPct > 0 {
			in.Legs[i].ElongationPct = &l.ElongationPct
		}
	}
	return in
}

// anchorFigures gives each leg its part of the load, under 1 kN. Where statics
// cannot tell, each leg counts with the whole load and the angle is that of the
// legs as told.
func anchorFigures(a *rig.AnchorView) {
	in := AnchorIn(a, 1)
	out, err := mechanics.Anchor(in)
	if err != nil {
		a.WidestAngle, a.WhyUnshared = mechanics.WidestAngle(in.Legs), detail(err)
		a.Working = func() []finding.Working { return []finding.Working{} }
		return
	}
	a.WidestAngle, a.Parts, a.Working = out.WidestAngleDeg, make([]quantity.Ratio, len(out.Legs)), out.Working
	for i, l := range out.Legs {
		a.Parts[i] = quantity.Ratio(l.TensionKN)
	}
}

// detail is what a model says when it refuses.
func detail(err error) string {
	var refused *strict.Error
	if errors.As(err, &refused) {
		return refused.Faults[0].Detail
	}
	return err.Error()
}

func reach(r *rig.Rig, s *rig.StrandView, p *policy.Policy) *rig.LengthFigures {
	in := mechanics.ReachIn{Top: s.TopM(), To: s.ToM, Items: takesRope(r, s)}
	if s.ToM == 0 {
		in.Offset = r.Geometry.OffsetM
	}
	for _, rope := range s.Ropes {
		in.Rope += rope.Item.LengthM
		d, _ := gear.Diameter(rope.Item, rope.Model)
		in.Diameter = max(in.Diameter, d)
	}
	out, err := mechanics.Reach(in, p.Knots)
	if err != nil {
		panic(err) // the items are made here
	}
	return &rig.LengthFigures{EndM: out.End, SpareM: out.Spare, Working: out.Working}
}

// takesRope lists what takes up rope on a strand.
func takesRope(r *rig.Rig, s *rig.StrandView) []mechanics.RopeItem {
	loops, middles := s.LoopsM, 0
	for _, m := range s.Marks {
		loops += m.LoopM
		if m.Kind == rig.KnotMark || m.Kind == rig.RebelayMark {
			middles++
		}
	}
	edges := quantity.Metres(0)
	for _, e := range r.Geometry.Edges {
		edges += e.RopeM
	}
	joins := len(s.Ropes) - 1
	items := []mechanics.RopeItem{
		{Kind: mechanics.EndLoop, Count: 1}, {Kind: mechanics.MidLoop, Count: middles}, {Kind: mechanics.Join, Count: joins},
		{Kind: mechanics.Edge, Count: 1, EachM: &edges}, {Kind: mechanics.Loop, Count: 1, EachM: &loops},
	}
	tails := 1 + 2*joins
	if s.EndStop == rig.EndKnot {
		items, tails = append(items, mechanics.RopeItem{Kind: mechanics.Stopper, Count: 1}), tails+1
	}
	return append(items, mechanics.RopeItem{Kind: mechanics.Tail, Count: tails})
}

// holdFigures computes the fall onto a hold and the heat of a descent on it.
// What is not typed in leaves the figure out.
func holdFigures(s Spot) {
	h := s.Hold
	in, windSlack := s.Fall()
	fall := mechanics.Fall(in)
	h.Figures.WindSlack = windSlack
	if tail, _ := s.Below(); windSlack > 0 && windSlack >= tail-1e-6 {
		h.Figures.WindRuns = true
	}
	h.Figures.Peak = &rig.Figure[quantity.Kilonewtons]{Value: fall.PeakKN, Working: fall.PeakWorking}
	if h.Role() == rig.ToBackUp {
		h.Figures.ClearanceNeeded = &rig.Figure[quantity.Metres]{Value: fall.ClearanceNeededM, Working: fall.ClearanceWorking}
	}
	s.heats()
}

// Heats computes the heat of the longest descent on a hold that nobody has made yet.
func Heats(r *rig.Rig, h *rig.HoldView, p *policy.Policy) { Spot{r, h, p, 0}.heats() }

func (s Spot) heats() {
	h := s.Hold
	s.At = h.Strand.ToM
	if heat, ok := s.Heat(); ok {
		end := mechanics.HeatEnd(heat)
		if out, err := mechanics.Heat(heat); err == nil && heat.LimitC != 0 {
			h.Figures.Fastest = out.FastestMS
		}
		h.Figures.EndTemperature = &rig.Figure[quantity.Celsius]{Value: end.EndC, Working: end.Working}
	}
}
