package fit

import (
	"fmt"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// KitUnfit is kit.unfit: what a person carries could not be made a hold here. It goes onto none
// of the ropes that they work on, is not rated for them, or too weak. How it would be put on is
// for whoever plans it; whether it may be used at all is for the rules on service.
func KitUnfit(p *rig.PersonView, c *Context) []finding.Finding {
	var found []finding.Finding
	for _, o := range p.Carries {
		why, figures := unfit(p, o, c)
		if why == "" {
			continue
		}
		found = append(found, finding.Finding{
			Severity: finding.Look,
			Subject:  finding.Subject{Kind: finding.Item, ID: o.Item.ID, Label: o.Item.Label, Person: p.ID, Item: o.Item.ID},
			What:     fmt.Sprintf("%s carries %s. %s", p.Name, o.Item.Label, why),
			Figures:  figures,
			Why:      "What is carried is used when something goes otherwise, and nobody looks then.",
			Remedy:   "Take another that is for these ropes and this load, or leave it behind.",
			Source:   manufacturer(o.Model),
		})
	}
	return found
}

// Ready is a person with what of the things they carry may be used on a day and could be made a
// hold, and why each of the others was left out, by its id.
func Ready(p *rig.PersonView, c *Context) (ready *rig.PersonView, left map[string]string) {
	out := *p
	out.Carries, left = nil, map[string]string{}
	for _, o := range p.Carries {
		why := Unfit(o, c)
		if why == "" {
			if why, _ = unfit(p, o, c); why != "" {
				why = o.Item.Label + " is left out. " + why
			}
		}
		if why != "" {
			left[o.Item.ID] = why
			continue
		}
		out.Carries = append(out.Carries, o)
	}
	return &out, left
}

// unfit says why something that is carried could not be made a hold; empty where it could.
func unfit(p *rig.PersonView, o *rig.Piece, c *Context) (why string, figures []finding.Figure) {
	load := quantity.Weight(p.MassKg)
	switch m := o.Model; {
	case m.Device != nil && m.Class.RidesRope():
		if why, figures = offRopes(p, o, c); why != "" {
			return why, figures
		}
	case m.Absorber != nil && (p.MassKg < m.Absorber.MinKg || p.MassKg > m.Absorber.MaxKg):
		return fmt.Sprintf("It is rated from %v to %v, and they weigh %v.", m.Absorber.MinKg, m.Absorber.MaxKg, p.MassKg),
			[]finding.Figure{finding.Fig("mass", p.MassKg), finding.Fig("rated from", m.Absorber.MinKg), finding.Fig("rated to", m.Absorber.MaxKg)}
	case m.Connector != nil && !m.Connector.Locks():
		return "Its gate does not lock: nobody is clipped in with it.", []finding.Figure{finding.State("gate", m.Connector.Gate)}
	case !slices.Contains(bears, m.Class):
		return "", nil
	}
	if factor := c.Policy.Factor(o.Model.Class.Textile()); o.Model.StrengthKN > 0 && float64(o.Model.StrengthKN) < float64(factor)*float64(load)-1e-9 {
		return fmt.Sprintf("It breaks at %v, less than %v times their weight.", o.Model.StrengthKN, factor),
			[]finding.Figure{finding.Fig("strength", o.Model.StrengthKN), finding.Fig("load", load), finding.Fig("required", factor)}
	}
	return "", nil
}

// bears are the classes, beside devices, of which a body may come to hang.
var bears = []gear.Class{gear.Lanyard, gear.Connector, gear.Absorber, gear.Sling}

// offRopes says why a device goes onto none of the strands that somebody works on; where they are
// on none yet, of the drop.
func offRopes(p *rig.PersonView, o *rig.Piece, c *Context) (why string, figures []finding.Figure) {
	for _, s := range worksOn(p, c.Rig) {
		w, f := offStrand(p, o.Model, s)
		if w == "" {
			return "", nil
		}
		if why == "" {
			why, figures = w, f
		}
	}
	return why, figures
}

// worksOn are the strands with a rope of the sets that somebody works on; where they are on none
// yet, of the drop.
func worksOn(p *rig.PersonView, r *rig.Rig) (list []*rig.StrandView) {
	for _, s := range r.Strands {
		mine := len(p.Holds) == 0 || slices.ContainsFunc(p.Holds, func(h *rig.HoldView) bool { return h.Strand.Set == s.Set })
		if len(s.Ropes) > 0 && mine {
			list = append(list, s)
		}
	}
	return list
}

// offStrand says why a device does not go onto a strand, by the mode that comes nearest: one that
// takes the ropes, and then the mass.
func offStrand(p *rig.PersonView, m *gear.Model, s *rig.StrandView) (why string, figures []finding.Figure) {
	rope := s.Ropes[0]
	mm, _ := gear.Diameter(rope.Item, rope.Model)
	why = fmt.Sprintf("It takes none of the ropes that they work on: %s is %v of %s.", rope.Item.Label, mm, rope.Model.Rope.Construction)
	figures = []finding.Figure{finding.Fig("diameter", mm)}
	for i := range m.Device.Modes {
		mode := &m.Device.Modes[i]
		if rig.Take(mode, s.Ropes...) {
			limit, limited := m.WorkingLoad(mode.Name)
			switch {
			case p.MassKg > mode.MaxKg || p.MassKg < mode.MinKg && mode.Persons < 2:
				why = fmt.Sprintf("It is rated from %v to %v, and they weigh %v.", mode.MinKg, mode.MaxKg, p.MassKg)
				figures = []finding.Figure{finding.Fig("mass", p.MassKg), finding.Fig("rated from", mode.MinKg), finding.Fig("rated to", mode.MaxKg)}
			case limited && quantity.Weight(p.MassKg) > limit:
				why = fmt.Sprintf("Its working load limit is %v, and their weight is %v.", limit, quantity.Weight(p.MassKg))
				figures = []finding.Figure{finding.Fig("load", quantity.Weight(p.MassKg)), finding.Fig("working load limit", limit)}
			case m.Device.SlipKN > 0 && m.Device.SlipKN <= quantity.Weight(p.MassKg):
				why = fmt.Sprintf("It slips at %v, and their weight is %v.", m.Device.SlipKN, quantity.Weight(p.MassKg))
				figures = []finding.Figure{finding.Fig("slips at", m.Device.SlipKN), finding.Fig("weight", quantity.Weight(p.MassKg))}
			default:
				return "", nil
			}
		}
	}
	return why, figures
}
