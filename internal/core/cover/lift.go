package cover

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// lifts are what a rescuer and a casualty carry together for a lift, of what may be used and
// bears the casualty: a hand ascender, a foot loop and a pulley. Nothing where one is missing,
// with what is the matter with one that is there.
func (pl *Planner) lifts(c *rescuer, h *casualty) (list []*rig.Piece, lacks string) {
	for _, classes := range [][]gear.Class{{gear.HandAscender}, {gear.FootLoop}, {gear.Pulley, gear.CapturePulley}} {
		var found *rig.Piece
		for _, p := range []*rig.PersonView{c.PersonView, h.PersonView} {
			for _, o := range p.All {
				if found != nil || !slices.Contains(classes, o.Model.Class) {
					continue
				}
				why := pl.tooWeakToLift(o, h)
				if lacks = cmp.Or(lacks, why); why == "" {
					found = o
				}
			}
		}
		if found == nil {
			return nil, lacks
		}
		list = append(list, found)
	}
	return list, ""
}

// tooWeakToLift says why something does not lift a casualty; empty where it does, or where its
// strength is not known. A pulley bears both its sides; the ascender that it hangs on is judged by
// whom it lifts, as a device rated for one person is: the pull of who stands in the loop is left
// out there.
func (pl *Planner) tooWeakToLift(o *rig.Piece, h *casualty) string {
	m, load := o.Model, quantity.Weight(h.MassKg)
	switch d := m.Device; {
	case m.Pulley != nil:
		if m.Pulley.SideKN > 0 && load > m.Pulley.SideKN {
			over, atMost := quantity.Beside(load, m.Pulley.SideKN)
			return fmt.Sprintf("%s of %s on %s is above the %s of each side", over, h.Name, o.Item.Label, atMost)
		}
		return pl.tooWeak(m, o.Item.Label, 2*h.MassKg, h.Name)
	case d == nil:
	case d.SlipKN > 0 && d.SlipKN <= load:
		at, pull := quantity.Beside(d.SlipKN, load)
		return fmt.Sprintf("%s slips at %s, and %s weighs %s", o.Item.Label, at, h.Name, pull)
	case !takes(d, h):
		return fmt.Sprintf("%s is not for %v on the ropes of %s", o.Item.Label, h.MassKg, h.Name)
	}
	return pl.tooWeak(m, o.Item.Label, h.MassKg, h.Name)
}

// takes reports whether a mode of a device takes a casualty on the ropes that they hang on.
func takes(d *gear.Device, h *casualty) bool {
	for i := range d.Modes {
		for _, on := range h.Holds {
			if m := &d.Modes[i]; h.MassKg <= m.MaxKg && rig.Take(m, on.Strand.Ropes...) {
				return true
			}
		}
	}
	return len(h.Holds) == 0
}
