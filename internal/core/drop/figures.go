package drop

import (
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// shortestRope is the least rope between anchor and device that a fall is
// computed for; nearer to the anchor the figures would be without bound.
const shortestRope quantity.Metres = 0.3

// figures computes what the rules compare.
func figures(r *rig.Rig, p *policy.Policy) {
	for _, a := range r.Anchors {
		legs := make([]mechanics.LegAt, len(a.Legs))
		for i, l := range a.Legs {
			legs[i] = mechanics.LegAt{X: l.XM, Y: l.YM}
		}
		a.WidestAngle, a.Working = mechanics.WidestAngle(legs)
	}
	for _, s := range r.Strands {
		s.Length = reach(r, s, p)
	}
	for _, person := range r.People {
		for _, h := range person.Holds {
			holdFigures(h, p)
		}
	}
}

func reach(r *rig.Rig, s *rig.StrandView, p *policy.Policy) *rig.LengthFigures {
	in := mechanics.ReachIn{
		Top: s.TopM(), To: s.ToM, Stopper: s.EndStop == rig.EndKnot, Loops: s.LoopsM, Joins: len(s.Ropes) - 1,
	}
	if s.ToM == 0 {
		in.Offset = r.Geometry.OffsetM
	}
	for _, rope := range s.Ropes {
		in.Rope += rope.Item.LengthM
		d, _ := gear.Diameter(rope.Item, rope.Model)
		in.Diameter = max(in.Diameter, d)
	}
	for _, e := range r.Geometry.Edges {
		in.Edges += e.RopeM
	}
	for _, m := range s.Marks {
		in.Loops += m.LoopM
		if m.Kind == rig.KnotMark || m.Kind == rig.RebelayMark {
			in.MidLoops++
		}
	}
	l := &rig.LengthFigures{}
	l.EndM, l.SpareM, l.Working = mechanics.Reach(in, *p.Knots)
	return l
}

// holdFigures computes the fall onto a hold and the heat of a descent on it.
// What is not typed in leaves the figure out. Where ropes of unlike stretch are
// joined above, the force is that of the stiffest and the clearance that of the
// one that stretches most: both err high.
func holdFigures(h *rig.HoldView, p *policy.Policy) {
	stiff, soft := h.Strand.Elongations(h.Person.AtM + h.AboveM)
	in := fallIn(h, p)
	in.Elongation = stiff
	fall := mechanics.Fall(in)
	h.Figures.Peak = &rig.Figure[quantity.Kilonewtons]{Value: fall.Peak, Working: fall.PeakWorking}
	if h.Role() == rig.ToBackUp {
		in.Elongation = soft
		low := mechanics.Fall(in)
		h.Figures.ClearanceNeeded = &rig.Figure[quantity.Metres]{Value: low.ClearanceNeeded, Working: low.ClearanceWorking}
	}
	heat := h.Device.Model.Device.Heat
	if h.Role() != rig.ToDescend || heat == nil || h.Device.Model.MassG == 0 || h.Strand.TopM() <= h.Strand.ToM {
		return
	}
	end, working := mechanics.Heat(mechanics.HeatIn{
		Mass: h.Mass(), Height: h.Strand.TopM() - h.Strand.ToM, Speed: p.DescentSpeedMS, Device: h.Device.Model.MassG,
		SpecificHeat: heat.SpecificHeat, Cooling: heat.CoolingWK, Share: heat.Share, Ambient: *p.AirC,
	})
	h.Figures.EndTemperature = &rig.Figure[quantity.Celsius]{Value: end, Working: working}
}

// fallIn describes a fall onto a hold. On a hold that is not a backup nothing
// hangs lower than it, and the fall is the slack alone: with none, the load that
// comes on at once is twice the weight.
func fallIn(h *rig.HoldView, p *policy.Policy) mechanics.FallIn {
	at := h.Person.AtM + h.AboveM
	in := mechanics.FallIn{
		Mass: h.Mass(), Slack: h.SlackM, Feet: p.FeetM, Margin: p.MarginM,
		RopeLength: max(shortestRope, h.Strand.SectionAt(at).TopM-at),
	}
	b := h.Device.Model.Backup
	if h.Role() != rig.ToBackUp || b == nil {
		return in
	}
	in.Lanyard, _ = h.LinksLength(p.ConnectorM)
	for _, l := range h.Links {
		if a := l.Model.Absorber; a != nil {
			in.Absorber = &mechanics.AbsorberIn{Force: a.ForceKN, Max: a.MaxM}
		}
	}
	if b.IntegralAbsorberKN > 0 {
		in.Absorber = &mechanics.AbsorberIn{Force: b.IntegralAbsorberKN, Max: b.IntegralAbsorberMaxM}
	}
	in.DeviceAbove, in.LockSpeed, in.LockDistance = h.AboveM, b.LockSpeedMS, b.LockDistanceM
	return in
}
