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
	length, aside := top-h.HeightM(), max(from-to, to-from)
	if length <= 0 {
		return nil
	}
	swing, err := mechanics.Swing(mechanics.SwingIn{RopeLengthM: length, OffsetM: min(aside, length)})
	if err != nil || swing.EqualDropM <= hardSwingM {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Look, Subject: h.Subject(), Source: byPhysics, Working: swing.Working(),
		What:    fmt.Sprintf("%s hangs %v aside of %s. If the %s goes, %s swings over with %v, as after a fall of %v.", h.Strand.Name, aside, bears.Strand.Name, bears.Strand.Name, h.Person.Name, swing.SpeedMS, swing.EqualDropM),
		Figures: []finding.Figure{finding.Fig("aside", aside), finding.Fig("rope", length), finding.Fig("speed", swing.SpeedMS), finding.Fig("equal drop", swing.EqualDropM)},
		Why:     "A swing is stopped by what stands beside, with the whole body.",
		Remedy:  "Hang the backup nearer to plumb, or tie the body in beside it.",
	})
}

// pivot is what a hold's strand hangs from there: the anchor of its section, or a deviation below
// it.
func pivot(h *rig.HoldView, r *rig.Rig) (x, top quantity.Metres) {
	s := h.Strand.SectionAt(h.HeightM())
	x, top = s.Anchors[0].XM, s.TopM
	for i := range h.Strand.Marks {
		m := &h.Strand.Marks[i]
		if a := r.Anchor(m.Anchor); m.Kind == rig.DeviationMark && a != nil && m.HeightM > h.HeightM() && m.HeightM < top {
			x, top = a.XM, m.HeightM
		}
	}
	return x, top
}
