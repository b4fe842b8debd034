package fit

import (
	"fmt"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// hardSwingM is the straight drop from which a swing that ends as fast is found: it ends at what is
// beside, not on a rope.
const hardSwingM quantity.Metres = 0.5

// FallSwing is fall.swing: what the backup hangs from is far aside of what bears. If that goes, the
// body swings over.
func FallSwing(h *rig.HoldView, c *Context) []finding.Finding {
	if h.Role() != rig.ToBackUp || h.Person.Grounded {
		return nil
	}
	var bears *rig.HoldView
	for _, o := range h.Person.Holds {
		if o.Role() != rig.ToBackUp && o.Role() != rig.Third && bears == nil {
			bears = o
		}
	}
	if bears == nil {
		return nil
	}
	from, _ := pivot(bears, c.Rig)
	to, top := pivot(h, c.Rig)
	aside := max(from-to, to-from)
	f := swings(h, aside, top, fmt.Sprintf("%s hangs %v aside of %s. If the %s goes", h.Strand.Name, aside, bears.Strand.Name, bears.Strand.Name))
	if f == nil {
		return nil
	}
	f.Why = "A swing is stopped by what stands beside, with the whole body."
	f.Remedy = "Hang the backup nearer to plumb, or tie the body in beside it."
	return one(*f)
}

// swings is what is found of a body that swings so far over under what hangs so high; nil where that
// is slow. What says how it comes to it.
func swings(h *rig.HoldView, aside, top quantity.Metres, what string) *finding.Finding {
	length := top - h.HeightM()
	if length <= 0 {
		return nil
	}
	swing, err := mechanics.Swing(mechanics.SwingIn{RopeLengthM: length, OffsetM: min(aside, length)})
	if err != nil || swing.EqualDropM <= hardSwingM {
		return nil
	}
	return &finding.Finding{
		Severity: finding.Look, Subject: h.Subject(), Source: byPhysics, Working: swing.Working(),
		What:    what + fmt.Sprintf(", %s swings over with %v, as after a fall of %v.", h.Person.Name, swing.SpeedMS, swing.EqualDropM),
		Figures: []finding.Figure{finding.Fig("aside", aside), finding.Fig("rope", length), finding.Fig("speed", swing.SpeedMS), finding.Fig("equal drop", swing.EqualDropM)},
	}
}

// DeviationSwing is fall.swing of a deviation: if it goes, who bears on the strand that it draws
// aside swings back under what is above it, with both strands where both run through it.
func DeviationSwing(h *rig.HoldView, c *Context) []finding.Finding {
	role := h.Role()
	if role == rig.ToBackUp || role == rig.Third || role == rig.ToLower || h.Person.Grounded {
		return nil
	}
	goes, back := pivots(h, c.Rig)
	if back.name == "" {
		return nil
	}
	aside := max(back.x-goes.x, goes.x-back.x)
	f := swings(h, aside, back.top, fmt.Sprintf("%s draws %s %v aside. If it goes", goes.name, h.Strand.Name, aside))
	if f == nil {
		return nil
	}
	f.Why = "A deviation hangs on one anchor and one connector, and neither counts as a hold."
	f.Remedy = "Draw it less far aside, or re-belay there."
	return one(*f)
}

// hangs is something that a strand hangs from: an anchor, or a deviation.
type hangs struct {
	name   string
	x, top quantity.Metres
}

// pivot is what a hold's strand hangs from there: the anchor of its section, or a deviation below
// it.
func pivot(h *rig.HoldView, r *rig.Rig) (x, top quantity.Metres) {
	is, _ := pivots(h, r)
	return is.x, is.top
}

// pivots are what a hold's strand hangs from there, and what it would hang from if that went: the
// anchor of its section and the deviations above the hold, the lowest and the one above it.
func pivots(h *rig.HoldView, r *rig.Rig) (is, then hangs) {
	s := h.Strand.SectionAt(h.HeightM())
	is = hangs{s.Anchors[0].Name, s.Anchors[0].XM, s.TopM}
	for i := range h.Strand.Marks {
		m := &h.Strand.Marks[i]
		a := r.Anchor(m.Anchor)
		if m.Kind != rig.DeviationMark || a == nil || m.HeightM <= h.HeightM() || m.HeightM >= s.TopM {
			continue
		}
		switch d := (hangs{a.Name, a.XM, m.HeightM}); {
		case d.top < is.top:
			is, then = d, is
		case then.name == "" || d.top < then.top:
			then = d
		}
	}
	return is, then
}
