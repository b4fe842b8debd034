package fit

import (
	"fmt"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// How far the attachment of somebody who stands is from what they stand on: from lying
// down to tall.
const (
	standsFrom quantity.Metres = -0.1
	standsTo   quantity.Metres = 1.3
	// hair forgives the rounding of typed-in heights.
	hair quantity.Metres = 1e-9
)

// hasGround reports whether there is something to stand on for somebody whose attachment
// is at a height: the landing, a ledge, a structure, or the place people leave from, where
// heights are measured along the strands.
func hasGround(at quantity.Metres, g *rig.Geometry) bool {
	stands := func(on quantity.Metres) bool { return at >= on+standsFrom-hair && at <= on+standsTo+hair }
	for _, l := range g.Ledges {
		if stands(l.HeightM) {
			return true
		}
	}
	return stands(0) || at >= g.TopM+standsFrom-hair
}

// onGround reports whether somebody is said to stand, and can.
func onGround(p *rig.PersonView, g *rig.Geometry) bool { return p.Grounded && hasGround(p.AtM, g) }

// BodyGround is body.ground: who is marked as standing has something to stand on.
func BodyGround(p *rig.PersonView, c *Context) []finding.Finding {
	if !p.Grounded || hasGround(p.AtM, c.Rig.Geometry) {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Stop, Subject: p.Subject(),
		What: fmt.Sprintf("%s is marked as standing at %v, but there is nothing to stand on.", p.Name, p.AtM),
		Figures: []finding.Figure{
			finding.Fig("height of the attachment", p.AtM), finding.Fig("stands from below", -standsFrom), finding.Fig("stands to above", standsTo),
		},
		Why:    "Who stands is not asked to be held twice; who hangs is.",
		Remedy: "Take the mark away, or state the ledge or structure that they stand on.",
		Source: byRule,
	})
}

// StrandBelow is strand.below: the anchor of a strand is above the device that hangs on it, and a
// team's load does not begin above what its strands come down from.
func StrandBelow(h *rig.HoldView, c *Context) []finding.Finding {
	if h.Role() == rig.ToLower {
		return loadAbove(h, c.Rig)
	}
	if !hangsBelow(h) {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What:    fmt.Sprintf("%s is at %v on %s, whose anchor is at %v, below it.", h.Device.Item.Label, h.HeightM(), h.Strand.Name, h.Strand.TopM()),
		Figures: []finding.Figure{finding.Fig("device", h.HeightM()), finding.Fig("anchor", h.Strand.TopM())},
		Why:     "A strand holds from its anchor down: who is above falls to it, and as far again.",
		Remedy:  "Hang it from a strand that is anchored above.",
		Source:  byPhysics,
	})
}

// loadAbove is strand.below of a team's load: who stands at the top is no higher above what the
// strand comes down from than somebody is tall.
func loadAbove(h *rig.HoldView, r *rig.Rig) []finding.Finding {
	from, begins := r.ComesFrom(h.Strand), r.Geometry.TopM
	if begins <= from+standsTo+hair {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What:    fmt.Sprintf("%s begins at %v, and %s comes down from %v, below it.", h.Person.Name, begins, h.Strand.Name, from),
		Figures: []finding.Figure{finding.Fig("the load begins", begins), finding.Fig("the strand comes from", from)},
		Why:     "A strand holds from its anchor down: who is above falls to it, and as far again.",
		Remedy:  "Hang it from a strand that is anchored above.",
		Source:  byPhysics,
	})
}

// hangsBelow reports a device at or above the anchor of its strand.
func hangsBelow(h *rig.HoldView) bool { return h.HeightM() >= h.Strand.TopM()-hair }

// EdgeBare is edge.bare: a strand that somebody counts on runs over an edge with nothing
// between. At a sharp edge a stop.
func EdgeBare(c *Context) (found []finding.Finding, looked int) {
	for i := range c.Rig.Geometry.Edges {
		e := &c.Rig.Geometry.Edges[i]
		looked++
		over := over(c.Rig, e)
		if e.Protection != "none" || len(over) == 0 {
			continue
		}
		f := finding.Finding{
			Severity: finding.Look, Subject: finding.Subject{Kind: finding.Edge, ID: e.ID, Label: e.Name},
			What:    fmt.Sprintf("%s run over %s at %v with no protection.", strings.Join(over, ", "), e.Name, e.HeightM),
			Figures: []finding.Figure{finding.State("protection", "none"), finding.State("strands", strings.Join(over, ", "))},
			Why:     "A loaded rope that moves over a bare edge is cut sooner than anybody sees it.",
			Remedy:  "Protect it with a roller, pad or sleeve, or take the strands off it with a re-belay or deviation.",
			Source:  byRule,
		}
		if len(over) == 1 {
			f.What = fmt.Sprintf("%s runs over %s at %v with no protection.", over[0], e.Name, e.HeightM)
		}
		if e.Sharp {
			f.Severity = finding.Stop
			f.What += " It is sharp."
			f.Figures = append(f.Figures, finding.State("edge", "sharp"))
		}
		found = append(found, f)
	}
	return found, looked
}

// over names the strands that are counted on and run from above an edge to below it.
func over(r *rig.Rig, e *rig.Edge) []string {
	var list []string
	for _, s := range r.Strands {
		below := s.ToM
		if len(s.Sections) > 1 {
			below = s.Sections[1].TopM
		}
		if r.ComesFrom(s) >= e.HeightM && below < e.HeightM && counted(r, s) {
			list = append(list, s.Name)
		}
	}
	return list
}

// counted reports whether anybody hangs, or is to hang, on a strand.
func counted(r *rig.Rig, s *rig.StrandView) bool {
	for _, h := range r.EveryHold() {
		if h.Strand == s {
			return true
		}
	}
	return false
}
