package fit

import (
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// silent is what one rule could not judge for one reason, of all things together.
type silent struct{ rule, what, why string }

// Unsaid gathers what rules could not judge since it is not entered, by the rule and the reason.
type Unsaid struct {
	order []silent
	of    map[silent][]string
}

func (u *Unsaid) add(g silent, label string) {
	if u.of == nil {
		u.of = map[silent][]string{}
	}
	if u.of[g] == nil {
		u.order = append(u.order, g)
	}
	if !slices.Contains(u.of[g], label) {
		u.of[g] = append(u.of[g], label)
	}
}

// Lines are a line for each rule and reason, with what it concerns.
func (u *Unsaid) Lines() (list []string) {
	for _, g := range u.order {
		list = append(list, fmt.Sprintf(g.what, Few(u.of[g]))+" ("+g.rule+"): "+g.why)
	}
	return list
}

// Strength adds something whose margin nobody can judge, by a rule: it has a working load limit
// at most.
func (u *Unsaid) Strength(rule string, p *rig.Piece, margins string) {
	m := p.Model
	switch {
	case m.StrengthKN > 0:
	case len(m.WorkingLoads) == 0 && (m.Pulley == nil || m.Pulley.SideKN == 0):
		u.add(silent{rule, "whether %s bears what hangs on it", "neither a strength nor a working load limit is entered"}, p.Item.Label)
	case margins != "limits":
		u.add(limitAlone, p.Item.Label)
	}
}

var limitAlone = silent{"load.margin", "the margin of %s", "a working load limit is entered, and no strength"}

// Grip adds a device that grips: what it slips at, which a rule judges, and what its teeth do to a
// sheath.
func (u *Unsaid) Grip(slips string, p *rig.Piece) {
	d := p.Model.Device
	if d.SlipKN == 0 {
		u.add(silent{slips, "the force at which %s would slip", "it is not entered"}, p.Item.Label)
	}
	if len(d.Teeth) == 0 && toothed(p.Model) {
		u.add(silent{"load.teeth", "harm to the sheath by the teeth of %s", "the force is not entered"}, p.Item.Label)
	}
}

// Unseen is what the rules could not judge since the document does not say it, a line each
// with its rule: nothing was found there, and nothing was looked at either.
func Unseen(c *Context) []string {
	u := &Unsaid{}
	for _, h := range c.Rig.EveryHold() {
		u.Grip("device.slip", h.Device)
		for _, g := range holdUnseen(h, c) {
			u.add(g, h.Device.Item.Label)
		}
		for _, p := range path(h, c) {
			if p.strength == 0 && p.limit > 0 && c.Policy.Margins != "limits" {
				u.add(limitAlone, p.label)
			}
		}
	}
	for _, o := range uses(c.Rig) {
		for _, g := range useUnseen(o.Piece) {
			u.add(g, o.Item.Label)
		}
	}
	for _, p := range c.Rig.People {
		for _, o := range p.Carries {
			carriedUnseen(u, p, o, c)
		}
	}
	var list []string
	if len(c.Rig.Geometry.Edges) == 0 && len(c.Rig.EveryHold()) > 0 {
		list = append(list, "the edges that ropes run over (edge.bare): none is stated")
	}
	return append(list, u.Lines()...)
}

// carriedUnseen is of what a later step hangs on: it is judged like a hold.
func carriedUnseen(u *Unsaid, p *rig.PersonView, o *rig.Piece, c *Context) {
	if !mayBear(o.Model) {
		return
	}
	u.Strength("kit.unfit", o, c.Policy.Margins)
	if o.Model.Device == nil {
		return
	}
	u.Grip("device.slip", o)
	for i := range o.Model.Device.Modes {
		if m := &o.Model.Device.Modes[i]; m.Persons < 2 && m.MinKg == 0 {
			u.add(tooLight, o.Item.Label)
		}
	}
	if o.Model.Class == gear.Descender {
		for _, h := range descents(p, o, c) {
			for _, g := range descentUnseen(h) {
				u.add(g, o.Item.Label)
			}
		}
	}
}

var tooLight = silent{"load.rated", "whether somebody is too light for %s", "the least mass of its mode is not entered"}

// Few names three things at most, and counts the others.
func Few(labels []string) string {
	if n := len(labels) - 3; n > 0 {
		return fmt.Sprintf("%s and %s more", strings.Join(labels[:3], ", "), quantity.Count(n))
	}
	return strings.Join(labels, ", ")
}

func holdUnseen(h *rig.HoldView, c *Context) (list []silent) {
	d, m := h.Device.Model.Device, h.Device.Model
	role := h.Role()
	if role == rig.ToDescend || role == rig.ToLower {
		list = descentUnseen(h)
	}
	if b := m.Backup; b != nil && b.Kind == gear.Wheel && role == rig.ToBackUp && !h.Position.Parked && c.Rig.WindMS == 0 {
		list = append(list, silent{"wind.slack", "the slack that wind draws above %s", "no wind is stated"})
	}
	if n := connectorsInHole(h); n > 1 && d.ConnectorsInHole == 0 {
		list = append(list, silent{"link.hole", "the connectors in the hole of %s", "how many it takes is not entered"})
	}
	if m.Class == gear.Descender && d.LeverReachM == 0 && slices.ContainsFunc(h.Person.Holds, func(o *rig.HoldView) bool { return o != h && o.Device.Model.Device.OpensIfPushed }) {
		list = append(list, silent{"device.foul", "whether the lever of %s opens what is near", "how far it reaches is not entered"})
	}
	if h.Mode.MinKg == 0 {
		list = append(list, tooLight)
	}
	return list
}

// descentUnseen is of a hold that somebody would go down on.
func descentUnseen(h *rig.HoldView) (list []silent) {
	d, m := h.Device.Model.Device, h.Device.Model
	switch {
	case d.Heat == nil || m.MassG == 0:
		list = append(list, silent{"device.descent-limit", "the heat of %s on the way down", "what its model takes up is not entered"})
	case slices.ContainsFunc(h.Strand.Ropes, func(r rig.RopePart) bool { return r.Model.Rope.SheathLimitC == 0 }):
		list = append(list, silent{"device.descent-limit", "the heat of %s against the limit of the sheath", "a rope's model states none"})
	}
	if h.Mode.MaxDescentM == 0 {
		list = append(list, silent{"device.descent-limit", "the length of a descent on %s", "the longest of its mode is not entered"})
	}
	if d.MaxSpeedMS == 0 {
		list = append(list, silent{"device.descent-limit", "the speed of a descent on %s", "the fastest is not entered"})
	}
	return list
}

// useUnseen is of everything on a drop: cloth ages, and leaflets say for how long it lasts.
func useUnseen(p *rig.Piece) (list []silent) {
	if l := p.Model.Life; p.Model.Class.Textile() && (l == nil || l.FromMadeYears == 0 && l.FromFirstUseYears == 0) {
		list = append(list, silent{"service.quarantine", "whether the life of %s has ended", "no life is entered"})
	}
	return list
}

// mayBear reports whether a body may come to hang of things of a model.
func mayBear(m *gear.Model) bool {
	return m.Device != nil && m.Class.RidesRope() || slices.Contains(bears, m.Class)
}

// toothed reports whether a model bites: by its class, or by how it is drawn. What captures or
// grabs without teeth is drawn so.
func toothed(m *gear.Model) bool {
	switch m.Class {
	case gear.HandAscender, gear.ChestAscender:
		return true
	case gear.RopeGrab, gear.CapturePulley:
		return m.Device.Looks == nil || m.Device.Looks.RopePath == gear.ToothedCam
	}
	return m.Device.Looks != nil && m.Device.Looks.RopePath == gear.ToothedCam
}
