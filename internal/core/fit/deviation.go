package fit

import (
	"fmt"
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// DeviationLoad is deviation.load: the anchor of a deviation under the redirect force of
// whoever hangs on its strand, as soon as they are below it. Its connector is not in the document:
// that is not looked at.
func DeviationLoad(c *Context) (found []finding.Finding, looked int) {
	for _, s := range c.Rig.Strands {
		for i := range s.Marks {
			m := &s.Marks[i]
			if m.Kind != rig.DeviationMark {
				continue
			}
			looked++
			h := heaviestOn(c.Rig, s)
			a := c.Rig.Anchor(m.Anchor)
			if h == nil || a == nil {
				continue
			}
			found = append(found, deviationLegs(c, s, m, a, h)...)
		}
	}
	return found, looked
}

// deviations gives what a hold that nobody has made yet does to the deviations of its strand.
func deviations(h *rig.HoldView, c *Context) (found []finding.Finding) {
	for i := range h.Strand.Marks {
		m := &h.Strand.Marks[i]
		if a := c.Rig.Anchor(m.Anchor); m.Kind == rig.DeviationMark && a != nil {
			found = append(found, deviationLegs(c, h.Strand, m, a, h)...)
		}
	}
	return found
}

// heaviestOn is the hold with the greatest load on a strand, wherever it is: who goes along the
// strand comes below each deviation. Nil for none.
func heaviestOn(r *rig.Rig, s *rig.StrandView) *rig.HoldView {
	var most *rig.HoldView
	for _, h := range r.EveryHold() {
		if h.Strand == s && (most == nil || h.Load() > most.Load()) {
			most = h
		}
	}
	return most
}

// redirect is the force on a deviation that draws a strand aside: from what it hangs from
// to the deviation and from there down. Aside is how far, up how high the hang point is.
func redirect(load quantity.Kilonewtons, aside, up quantity.Metres) (force quantity.Kilonewtons, x, y float64) {
	length := math.Hypot(float64(aside), float64(up))
	if length == 0 {
		return 0, 0, -1
	}
	// The strand pulls along itself, up to the hang point and straight down.
	x, y = -float64(aside)/length, float64(up)/length-1
	size := math.Hypot(x, y)
	if size == 0 {
		return 0, 0, -1
	}
	return load * quantity.Kilonewtons(size), x / size, y / size
}

func deviationLegs(c *Context, s *rig.StrandView, m *rig.Mark, a *rig.AnchorView, h *rig.HoldView) []finding.Finding {
	top := s.SectionAt(m.HeightM - 0.01)
	if len(top.Anchors) == 0 {
		return nil
	}
	force, x, y := redirect(h.Load(), a.XM-top.Anchors[0].XM, top.TopM-a.HeightM)
	if force == 0 {
		return nil
	}
	in := mechanics.AnchorIn{LoadKN: force, Direction: &mechanics.Direction{X: x, Y: y}, Legs: make([]mechanics.AnchorLeg, len(a.Legs))}
	for i, l := range a.Legs {
		in.Legs[i] = mechanics.AnchorLeg{ID: l.ID, X: l.XM, Y: l.YM, Z: l.ZM}
	}
	out, err := mechanics.Anchor(in)
	var found []finding.Finding
	for i, l := range a.Legs {
		tension := force
		if err == nil {
			tension = out.Legs[i].TensionKN
		}
		want := c.Policy.Factor(false)
		limit, short := l.WorkKN, ""
		switch {
		case l.WorkKN > 0 && tension > l.WorkKN:
			short = fmt.Sprintf("its working load limit is %v", l.WorkKN)
		case l.StrengthKN > 0 && (c.Policy.Margins != "limits" || l.WorkKN == 0) && quantity.Ratio(l.StrengthKN/tension) < want:
			limit = l.StrengthKN
			short = fmt.Sprintf("it holds %v, less than %s times that", l.StrengthKN, quantity.Text(want))
		}
		if short == "" {
			continue
		}
		found = append(found, finding.Finding{
			Severity: finding.Stop,
			Subject:  finding.Subject{Kind: finding.Anchor, ID: a.ID, Label: a.Name, Strand: s.ID, Person: h.Person.ID, Hold: h.ID},
			What:     fmt.Sprintf("With %v below it, the deviation at %v pulls leg %s of %s with %v; %s.", h.Mass(), m.HeightM, l.ID, a.Name, tension, short),
			Figures:  []finding.Figure{finding.Fig("redirect force", force), finding.Fig("on the leg", tension), finding.Fig("limit", limit)},
			Why:      "If it lets go, the strand and who hangs on it swing.",
			Remedy:   "Use a stronger anchor, or draw the strand less far aside.",
			Source:   byPolicy(c.Policy),
			Working: []finding.Working{finding.Work("redirect force", "R = T √(2 + 2 cos φ), φ between the strand above and below", force,
				"low while anything moves; friction in its connector is left out", finding.Fig("load at rest", h.Load()))},
		})
	}
	return found
}
