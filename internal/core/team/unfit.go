package team

import (
	"fmt"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// grips are the classes of a kit that hold a rope by a device.
func grips(p *rig.Piece) bool {
	return (p.Model.Class == gear.RopeGrab || p.Model.Class == gear.CapturePulley) && p.Model.Device != nil
}

// unfit says why something of the kit could not be put onto a line; empty where it could. What
// grips is to take the ropes and the load, a pulley the thickest rope; grab and hitch are to hold
// the load past a knot.
func (r *Rig) unfit(p *rig.Piece, name string) string {
	v := r.lineView(name)
	if m := p.Model.Pulley; m != nil {
		for _, rope := range v.Strand.Ropes {
			for _, g := range gear.Gauges(rope.Item, rope.Model) {
				if m.LargestDiameterMM > 0 && g.MM > m.LargestDiameterMM {
					return fmt.Sprintf("%s takes rope of at most %v; %s is %v.", p.Item.Label, m.LargestDiameterMM, rope.Item.Label, g.MM)
				}
			}
		}
	}
	if holds := grips(p) || p.Model.Hitch != nil || p.Model.Class == gear.Rope; holds && (len(r.line(name).KnotsM) > 0 || p.Model.Class == gear.CapturePulley) {
		load := quantity.Weight(r.Load.MassKg) + r.ropeKN(name)
		if p.Model.Class == gear.Rope && r.view.Catch == "two-cords" {
			load /= 2
		}
		if why := r.weak(p, load); why != "" {
			return why
		}
	}
	if !grips(p) {
		return ""
	}
	for _, rope := range v.Strand.Ropes {
		if why := offRope(p, rope); why != "" {
			return why
		}
	}
	most := quantity.Kilograms(0)
	for _, m := range p.Model.Device.Modes {
		if m.Persons < r.Load.Persons || !rig.Take(&m, v.Strand.Ropes...) {
			continue
		}
		if r.Load.MassKg >= m.MinKg && r.Load.MassKg <= m.MaxKg {
			return ""
		}
		most = max(most, m.MaxKg)
	}
	if most == 0 {
		return fmt.Sprintf("%s has no mode for %s on these ropes.", p.Item.Label, quantity.Count(r.Load.Persons).Of("person"))
	}
	return fmt.Sprintf("%s is rated to %v; %s weighs %v.", p.Item.Label, most, r.Load.Name, r.Load.MassKg)
}

// weak says why something may not hold a load by itself, as it does on the way past a knot or
// while a capture holds it, with its rope; empty where it may, or where that is not known.
func (r *Rig) weak(p *rig.Piece, load quantity.Kilonewtons) string {
	m, factor := p.Model, r.setting.Policy.Factor(p.Model.Class.Textile())
	limit, limited := m.WorkingLoad("")
	switch {
	case m.StrengthKN > 0 && float64(m.StrengthKN) < float64(factor)*float64(load)-1e-9:
		return fmt.Sprintf("%s breaks at %v, less than %v times %v.", p.Item.Label, m.StrengthKN, factor, load)
	case limited && load > limit:
		return fmt.Sprintf("%s has a working load limit of %v; it would hold %v.", p.Item.Label, limit, load)
	case m.Pulley != nil && m.Pulley.SideKN > 0 && load > m.Pulley.SideKN:
		return fmt.Sprintf("%s bears %v on each side; it would hold %v.", p.Item.Label, m.Pulley.SideKN, load)
	case m.Device != nil && m.Device.SlipKN > 0 && load >= m.Device.SlipKN:
		return fmt.Sprintf("%s slips at %v; it would hold %v.", p.Item.Label, m.Device.SlipKN, load)
	}
	return ""
}

// offRope says why no mode of what grips takes a rope.
func offRope(p *rig.Piece, rope rig.RopePart) string {
	made, known := rope.Model.Rope.Construction, false
	for _, m := range p.Model.Device.Modes {
		if rig.Take(&m, rope) {
			return ""
		}
		known = known || m.Accepts(made)
	}
	mm, _ := gear.Diameter(rope.Item, rope.Model)
	if !known {
		return fmt.Sprintf("%s takes no rope of %s, as %s is.", p.Item.Label, made, rope.Item.Label)
	}
	return fmt.Sprintf("%s takes no rope of %v, as %s is.", p.Item.Label, mm, rope.Item.Label)
}

// unready says why something of the kit is not counted on: a haul is on the main, and a knot in a
// line wants a grab there.
func (r *Rig) unready(p *rig.Piece) string {
	for _, name := range lines {
		if name == "main" || len(r.line(name).KnotsM) > 0 && p.Model.Pulley == nil {
			if why := r.unfit(p, name); why != "" {
				return why
			}
		}
	}
	return ""
}

// kitFindings are those on what grips or carries a rope in the kit.
func (r *Rig) kitFindings() (found []finding.Finding) {
	for _, p := range r.view.Kit {
		why := r.unready(p)
		if c := p.Model.Connector; c != nil && !c.Locks() {
			f := r.found("connector.gate", finding.Look, p.Item.ID, p.Item.Label, p.Item.ID, "The gate of "+p.Item.Label+" does not lock.", "What is not locked is opened by a rope or an edge; plans hang nothing from it.", "Put one with a lock into the kit, or take it out.")
			f.Figures = []finding.Figure{finding.State("gate", c.Gate)}
			found = append(found, f)
		}
		if why == "" && grips(p) { // what is not counted on need not be looked at
			found = append(found, r.inCondition(p)...)
		}
		if why != "" {
			found = append(found, r.found("team.kit", finding.Stop, p.Item.ID, p.Item.Label, p.Item.ID, why, "It slips, jams or breaks with the load on it; plans do not count on it.", "Take one that is for this rope and load, or take it out of the kit."))
		}
	}
	return found
}

// inCondition is rope.condition of what grips the lines that it is for: the main, and a belay with
// a knot in it.
func (r *Rig) inCondition(p *rig.Piece) (found []finding.Finding) {
	var ropes []rig.RopePart
	for _, name := range lines {
		if name == "main" || len(r.line(name).KnotsM) > 0 {
			ropes = append(ropes, r.lineView(name).Strand.Ropes...)
		}
	}
	for _, f := range fit.InConditions(p, ropes) {
		f.Rule, f.Severity = "rope.condition", r.setting.Policy.Severity("rope.condition", f.Severity)
		f.Subject = finding.Subject{Kind: finding.Item, ID: p.Item.ID, Label: p.Item.Label, Item: p.Item.ID}
		found = append(found, f)
	}
	return found
}
