package fit

import (
	"fmt"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// ForceArrest is force.arrest: the peak force of a fall onto a backup hold must
// not pass the policy's ceiling.
func ForceArrest(h *rig.HoldView, c *Context) []finding.Finding {
	peak := h.Figures.Peak
	if h.Role() != rig.ToBackUp || peak == nil || peak.Value <= c.Policy.ArrestCeilingKN {
		return nil
	}
	force, ceiling := quantity.Beside(peak.Value, c.Policy.ArrestCeilingKN)
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What:    fmt.Sprintf("A fall onto %s would peak at %s, above the ceiling of %s.", h.Device.Item.Label, force, ceiling),
		Figures: []finding.Figure{finding.Fig("peak force", peak.Value), finding.Fig("ceiling", c.Policy.ArrestCeilingKN)},
		Why:     "Above the ceiling the body is hurt by the arrest itself.",
		Remedy:  "Move the backup device higher, shorten its lanyard, take out slack, or use an absorber that opens sooner.",
		Source:  byPolicy(c.Policy), Working: peak.Working(),
	})
}

// firstMetres are those off the landing in which no backup has clearance enough, on any
// drop.
const firstMetres quantity.Metres = 8

// FallClearance is fall.clearance: what lies below the person, the landing or a
// ledge, must be further below the attachment than a fall onto the backup
// needs. A stop; in the first metres above the landing, which every drop has, a look
// with the height from which it suffices, where there is one on this drop.
func FallClearance(h *rig.HoldView, c *Context) []finding.Finding {
	need := h.Figures.ClearanceNeeded
	if h.Role() != rig.ToBackUp || need == nil || onGround(h.Person, c.Rig.Geometry) {
		return nil
	}
	name, height := Below(h.Person.AtM, c.Rig.Geometry)
	there := h.Person.AtM - height
	if there >= need.Value {
		return nil
	}
	enough := height + need.Value
	free, needed := quantity.Beside(there, need.Value)
	f := finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What: fmt.Sprintf("%s hangs %s above %s; a fall onto %s needs %s.", h.Person.Name, free, name, h.Device.Item.Label, needed),
		Figures: []finding.Figure{
			finding.Fig("clearance there", there), finding.Fig("clearance needed", need.Value), finding.Fig("enough from", enough),
		},
		Why:    "The fall ends on what is below before the backup has stopped it.",
		Remedy: fmt.Sprintf("Keep the backup high and its strand tight here; the clearance is enough from %s up.", quantity.Up(enough)),
		Source: byPhysics, Working: need.Working(),
	}
	switch {
	case height == 0 && h.Person.AtM <= firstMetres && enough <= c.Rig.Geometry.TopM:
		f.Severity = finding.Look
		f.What += fmt.Sprintf(" In the first metres off the ground it is not enough; from %v up it is.", enough)
	case enough > c.Rig.Geometry.TopM:
		f.Remedy = "Raise the backup device, take out slack or shorten its links: at no height of this drop is the clearance enough."
	}
	return one(f)
}

// ClearanceThere is what is free below a person's attachment, and above what.
func ClearanceThere(h *rig.HoldView, g *rig.Geometry) (there quantity.Metres, above string) {
	name, height := Below(h.Person.AtM, g)
	return h.Person.AtM - height, name
}

// Below is what a body at a height would hit first: the highest ledge below it,
// else the landing.
func Below(at quantity.Metres, g *rig.Geometry) (name string, height quantity.Metres) {
	name = g.LandingName
	for _, l := range g.Ledges {
		if l.HeightM < at && l.HeightM > height {
			name, height = l.Name, l.HeightM
		}
	}
	return name, height
}
