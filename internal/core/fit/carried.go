package fit

import (
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
)

// What somebody carries is what they go on with: on the ropes that they work on it is judged like
// a hold, as a look, since nobody hangs on it yet. What does not go onto them at all is kit.unfit.

// carriedCondition is rope.condition of it.
func carriedCondition(p *rig.PersonView, c *Context) (found []finding.Finding) {
	var ropes []rig.RopePart
	for _, s := range worksOn(p, c.Rig) {
		ropes = append(ropes, s.Ropes...)
	}
	for _, o := range p.Carries {
		if o.Model.Device == nil || !o.Model.Class.RidesRope() {
			continue
		}
		for _, f := range InConditions(o, ropes) {
			if why, _ := unfit(p, o, c); why != "" {
				break
			}
			f.Subject = carriedBy(p, o)
			found = append(found, f)
		}
	}
	return found
}

// carriedDescent is device.descent-limit of descenders that somebody carries: on the way of its
// strands and modes that leaves least to say.
func carriedDescent(p *rig.PersonView, c *Context) (found []finding.Finding) {
	for _, o := range p.Carries {
		if o.Model.Class != gear.Descender {
			continue
		}
		if why, _ := unfit(p, o, c); why != "" {
			continue
		}
		var least []finding.Finding
		for i, h := range descents(p, o, c) {
			list := DeviceDescentLimit(h, c)
			if i == 0 || len(list) < len(least) {
				least = list
			}
		}
		for _, f := range least {
			f.Severity, f.Subject = finding.Look, carriedBy(p, o)
			found = append(found, f)
		}
	}
	return found
}

// descents are the holds on which somebody would descend by a device, one for each strand and mode
// that fits.
func descents(p *rig.PersonView, o *rig.Piece, c *Context) (list []*rig.HoldView) {
	for _, s := range worksOn(p, c.Rig) {
		for i := range o.Model.Device.Modes {
			mode := &o.Model.Device.Modes[i]
			if s.Role == rig.Backup || mode.Persons > 1 || !rig.Take(mode, s.Ropes...) || p.MassKg > mode.MaxKg || p.MassKg < mode.MinKg {
				continue
			}
			h := &rig.HoldView{Hold: &rig.Hold{Strand: s.ID, Device: o.Item.ID, Mode: mode.Name, Role: rig.ToDescend}, Person: p, Strand: s, Device: o, Mode: mode}
			site.Heats(c.Rig, h, c.Policy)
			list = append(list, h)
		}
	}
	return list
}

func carriedBy(p *rig.PersonView, o *rig.Piece) finding.Subject {
	return finding.Subject{Kind: finding.Item, ID: o.Item.ID, Label: o.Item.Label, Person: p.ID, Item: o.Item.ID}
}
