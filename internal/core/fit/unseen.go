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

// Unseen is what the rules could not judge since the document does not say it, a line each
// with its rule: nothing was found there, and nothing was looked at either.
func Unseen(c *Context) []string {
	var order []silent
	of := map[silent][]string{}
	add := func(g silent, label string) {
		if of[g] == nil {
			order = append(order, g)
		}
		if !slices.Contains(of[g], label) {
			of[g] = append(of[g], label)
		}
	}
	for _, h := range c.Rig.EveryHold() {
		for _, g := range holdUnseen(h, c) {
			add(g, h.Device.Item.Label)
		}
		for _, p := range path(h, c) {
			if p.strength == 0 && p.limit > 0 && c.Policy.Margins != "limits" {
				add(silent{"load.margin", "the margin of %s", "a working load limit is entered, and no strength"}, p.label)
			}
		}
	}
	for _, u := range uses(c.Rig) {
		for _, g := range useUnseen(u.Piece) {
			add(g, u.Item.Label)
		}
	}
	for _, p := range c.Rig.People {
		for _, o := range p.Carries {
			if mayBear(o.Model) && o.Model.StrengthKN == 0 && len(o.Model.WorkingLoads) == 0 {
				add(silent{"kit.unfit", "whether %s bears somebody", "neither a strength nor a working load limit is entered"}, o.Item.Label)
			}
		}
	}
	var list []string
	if len(c.Rig.Geometry.Edges) == 0 && len(c.Rig.EveryHold()) > 0 {
		list = append(list, "the edges that ropes run over (edge.bare): none is stated")
	}
	for _, g := range order {
		list = append(list, fmt.Sprintf(g.what, Few(of[g]))+" ("+g.rule+"): "+g.why)
	}
	return list
}

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
		limit := !slices.ContainsFunc(h.Strand.Ropes, func(r rig.RopePart) bool { return r.Model.Rope.SheathLimitC == 0 })
		switch {
		case d.Heat == nil || m.MassG == 0:
			list = append(list, silent{"device.descent-limit", "the heat of %s on the way down", "what its model takes up is not entered"})
		case !limit:
			list = append(list, silent{"device.descent-limit", "the heat of %s against the limit of the sheath", "a rope's model states none"})
		}
	}
	if b := m.Backup; b != nil && b.Kind == gear.Wheel && role == rig.ToBackUp && !h.Position.Parked && c.Rig.WindMS == 0 {
		list = append(list, silent{"wind.slack", "the slack that wind draws above %s", "no wind is stated"})
	}
	if n := connectorsInHole(h); n > 1 && d.ConnectorsInHole == 0 {
		list = append(list, silent{"link.hole", "the connectors in the hole of %s", "how many it takes is not entered"})
	}
	if role == rig.ToDescend || role == rig.ToLower {
		if h.Mode.MaxDescentM == 0 {
			list = append(list, silent{"device.descent-limit", "the length of a descent on %s", "the longest of its mode is not entered"})
		}
		if d.MaxSpeedMS == 0 {
			list = append(list, silent{"device.descent-limit", "the speed of a descent on %s", "the fastest is not entered"})
		}
	}
	if m.Class == gear.Descender && d.LeverReachM == 0 && slices.ContainsFunc(h.Person.Holds, func(o *rig.HoldView) bool { return o != h && o.Device.Model.Device.OpensIfPushed }) {
		list = append(list, silent{"device.foul", "whether the lever of %s opens what is near", "how far it reaches is not entered"})
	}
	if h.Mode.MinKg == 0 {
		list = append(list, silent{"load.rated", "whether somebody is too light for %s", "the least mass of its mode is not entered"})
	}
	if len(d.Teeth) == 0 && toothed(m) {
		list = append(list, silent{"load.teeth", "harm to the sheath by the teeth of %s", "the force is not entered"})
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

// toothed reports whether a model bites: by its class, or by how it is drawn.
func toothed(m *gear.Model) bool {
	return m.Class == gear.HandAscender || m.Class == gear.ChestAscender || m.Device.Looks != nil && m.Device.Looks.RopePath == gear.ToothedCam
}
