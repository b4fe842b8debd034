package fit

import (
	"fmt"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// kits are the evacuation kits that somebody carries.
func kits(p *rig.PersonView) []*rig.Piece {
	var list []*rig.Piece
	for _, o := range p.All {
		if o.Model.Evacuation != nil {
			list = append(list, o)
		}
	}
	return list
}

func kitSubject(p *rig.PersonView, o *rig.Piece) finding.Subject {
	return finding.Subject{Kind: finding.Item, ID: o.Item.ID, Label: o.Item.Label, Person: p.ID, Item: o.Item.ID}
}

// evacuationRated is load.rated for an evacuation kit: everybody on the drop whom it may
// have to lower is in its range.
func evacuationRated(p *rig.PersonView, c *Context) []finding.Finding {
	var found []finding.Finding
	for _, o := range kits(p) {
		e := o.Model.Evacuation
		for _, who := range c.Rig.People {
			if who.MassKg >= e.MinKg && who.MassKg <= e.MaxKg {
				continue
			}
			limit := e.MaxKg
			if who.MassKg < e.MinKg {
				limit = e.MinKg
			}
			mass, rated := quantity.Beside(who.MassKg, limit)
			found = append(found, finding.Finding{
				Severity: finding.Stop, Subject: kitSubject(p, o),
				What:    fmt.Sprintf("%s weighs %s; the limit of %s is %s. It is rated from %v to %v.", who.Name, mass, o.Item.Label, rated, e.MinKg, e.MaxKg),
				Figures: []finding.Figure{finding.Fig("mass", who.MassKg), finding.Fig("rated from", e.MinKg), finding.Fig("rated to", e.MaxKg)},
				Why:     "Outside its rating its brake does not limit the speed as it was proved to.",
				Remedy:  fmt.Sprintf("Take a kit that is rated for %v, or leave this one behind.", who.MassKg),
				Source:  manufacturer(o.Model),
			})
		}
	}
	return found
}

// evacuationLength is device.descent-limit for an evacuation kit.
func evacuationLength(p *rig.PersonView, c *Context) []finding.Finding {
	var found []finding.Finding
	for _, o := range kits(p) {
		e, top := o.Model.Evacuation, c.Rig.Geometry.TopM
		if e.MaxM >= top {
			continue
		}
		found = append(found, finding.Finding{
			Severity: finding.Stop, Subject: kitSubject(p, o),
			What:    fmt.Sprintf("%s lowers %v; the drop is %v.", o.Item.Label, e.MaxM, top),
			Figures: []finding.Figure{finding.Fig("descent", top), finding.Fig("longest", e.MaxM)},
			Why:     "It ends in the air.",
			Remedy:  fmt.Sprintf("Take a kit that lowers at least %s.", quantity.Up(top)),
			Source:  manufacturer(o.Model),
		})
	}
	return found
}

// teamGloves is hands.gloves for who works a team's brakes.
func teamGloves(c *Context) ([]finding.Finding, int) {
	t := c.Rig.Team
	if t == nil {
		return nil, 0
	}
	for _, o := range t.Kit {
		if o.Model.Class == gear.Gloves {
			return nil, 1
		}
	}
	return one(finding.Finding{
		Severity: finding.Look, Subject: finding.Subject{Kind: finding.Person, ID: rig.TeamBody, Label: t.Load.Name, Person: rig.TeamBody},
		What:    "The operators handle a live load, and no gloves are in the kit at the anchors.",
		Figures: []finding.Figure{finding.Fig("gloves", quantity.Count(0))},
		Why:     "A running rope burns the hand that should stop it.",
		Remedy:  "Put gloves for the operators into the kit.",
		Source:  byRule,
	}), 1
}
