package fit

import (
	"fmt"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

const (
	// bodyM is what a device with its slack adds to the reach of its links, knotHalfM how far a knot goes
	// from its middle.
	bodyM, knotHalfM quantity.Metres = 0.3, 0.1
	// chestM is how far above its attachment an ascender on the chest is at most.
	chestM quantity.Metres = 0.5
)

// DevicePlace is device.place: a device is where it can be. Its links reach from the harness to it,
// and no knot is in it.
func DevicePlace(h *rig.HoldView, c *Context) []finding.Finding {
	if h.Role() == rig.ToLower {
		return nil
	}
	f := finding.Finding{Severity: finding.Stop, Subject: h.Subject(), Source: byPhysics}
	if reach, stated := linksReach(h, c); stated && max(h.AboveM, -h.AboveM) > reach+hair {
		where := "above"
		if h.AboveM < 0 {
			where = "below"
		}
		f.What = fmt.Sprintf("%s is said to be %v %s its attachment; what is stated between them reaches %v.", h.Device.Item.Label, max(h.AboveM, -h.AboveM), where, reach)
		f.Figures = []finding.Figure{finding.Fig("height above the attachment", h.AboveM), finding.Fig("reach", reach)}
		f.Why = "Where it is decides how far one falls onto it: a height that cannot be gives a fall that is too short."
		f.Remedy = "State where it is with the load on, and all that is between it and the harness."
		return one(f)
	}
	for i := range h.Strand.Marks {
		m := &h.Strand.Marks[i]
		away := max(h.HeightM()-m.HeightM, m.HeightM-h.HeightM())
		if knotted := m.Kind == rig.KnotMark || m.Kind == rig.JoinMark || m.Kind == rig.RebelayMark; !knotted || away > knotHalfM-hair {
			continue
		}
		f.What = fmt.Sprintf("%s is said to be at %v, and the %s of %s is at %v.", h.Device.Item.Label, h.HeightM(), m.Kind, h.Strand.Name, m.HeightM)
		f.Figures = []finding.Figure{finding.Fig("device", h.HeightM()), finding.Fig("knot", m.HeightM), finding.Fig("half a knot", knotHalfM)}
		f.Why = "No device runs, grips or locks on a knot."
		f.Remedy = "Say where it is, clear above or below the knot."
		return one(f)
	}
	return nil
}

// linksReach is how far from its attachment a device may be; false where its links are not stated.
// A chest ascender sits on the harness itself.
func linksReach(h *rig.HoldView, c *Context) (quantity.Metres, bool) {
	if len(h.Links) == 0 {
		return chestM, h.Role() == rig.ToAscend
	}
	all, _ := h.LinksLength(c.Policy.ConnectorM)
	for _, l := range h.Links {
		if a := l.Model.Absorber; a != nil && l.Model.LengthM == 0 {
			return 0, false
		}
	}
	return all + bodyM, true
}
