package fit

import (
	"fmt"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// LinkMissing is link.missing: what is between a device and the harness is stated. A
// backup device without the absorber, or the link on its list, that it needs is a stop;
// a device without a connector a look, since it is most likely only not stated. A chest
// ascender sits on the harness itself.
func LinkMissing(h *rig.HoldView, c *Context) []finding.Finding {
	class := h.Device.Model.Class
	if h.Role() == rig.ToLower {
		return brakeFixed(h, c)
	}
	if class == gear.ChestAscender {
		return nil
	}
	f := finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(), Source: manufacturer(h.Device.Model),
		Why: "Without it a fall is stopped by what was not made for it, or by nothing.",
	}
	if what := neededLink(h, c.Rig); what != "" {
		f.What = fmt.Sprintf("%s needs %s, and none is stated between it and the harness.", h.Device.Item.Label, what)
		f.Figures = []finding.Figure{finding.State("needs", what), finding.State("stated", orNone(linkLabels(h)))}
		f.Remedy = fmt.Sprintf("Put in a link that is on the list of %s.", h.Device.Model.Title())
		return one(f)
	}
	if connectors(h) > 0 {
		return nil
	}
	f.Severity = finding.Look
	f.What = fmt.Sprintf("No connector is stated for %s.", h.Device.Item.Label)
	f.Figures = []finding.Figure{finding.Fig("connectors stated", quantity.Count(0))}
	f.Why = "What is not stated is not looked at: its gate, its strength, how it lies."
	f.Remedy = "State the connector that it hangs from."
	f.Source = byRule
	return one(f)
}

// brakeFixed is a look where nothing is stated between a team's brake and its anchor.
func brakeFixed(h *rig.HoldView, c *Context) []finding.Finding {
	for _, l := range []*rig.TeamLineView{&c.Rig.Team.Main, &c.Rig.Team.Belay} {
		if l.Brake != h.Device || l.Connector != nil {
			continue
		}
		return one(finding.Finding{
			Severity: finding.Look, Subject: h.Subject(),
			What:    fmt.Sprintf("No connector is stated between %s and its anchor.", h.Device.Item.Label),
			Figures: []finding.Figure{finding.Fig("connectors stated", quantity.Count(0))},
			Why:     "What is not stated is not looked at: its gate, its strength, how it lies.",
			Remedy:  "State the connector that fixes it.",
			Source:  byRule,
		})
	}
	return nil
}

// neededLink is what a backup device needs and does not have, in words; empty for
// nothing. A wheel needs an absorber, and so does a cam whose listed links, as far as
// their models are known here, all are absorbers.
func neededLink(h *rig.HoldView, r *rig.Rig) string {
	b := h.Device.Model.Backup
	if b == nil || b.IntegralAbsorberKN > 0 {
		return ""
	}
	listed := false
	for _, l := range h.Links {
		if l.Model.Absorber != nil {
			return ""
		}
		_, on := allowedLink(b, l.Model.ID)
		listed = listed || on
	}
	absorbers, others := 0, 0
	for _, p := range r.Pieces {
		if _, on := allowedLink(b, p.Model.ID); on && p.Model.Absorber != nil {
			absorbers++
		} else if on {
			others++
		}
	}
	switch {
	case b.Kind == gear.Wheel, absorbers > 0 && others == 0:
		return "an energy absorber"
	case !listed:
		return "a lanyard or absorber on its list"
	}
	return ""
}

func linkLabels(h *rig.HoldView) string {
	text := ""
	for i, l := range h.Links {
		if i > 0 {
			text += ", "
		}
		text += l.Item.Label
	}
	return text
}

// LinkHole is link.hole: no more connectors are in the hole of a device than it takes.
// Those in a row from the device on count as in its hole.
func LinkHole(h *rig.HoldView, _ *Context) []finding.Finding {
	takes, in := h.Device.Model.Device.ConnectorsInHole, connectorsInHole(h)
	if takes == 0 || in <= takes {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What:    fmt.Sprintf("The hole of %s takes %s; %d are entered.", h.Device.Item.Label, quantity.Count(takes).Of("connector"), in),
		Figures: []finding.Figure{finding.Fig("connectors", quantity.Count(in)), finding.Fig("the hole takes", quantity.Count(takes))},
		Why:     "Connectors that crowd a hole lie on each other's gates and are levered open.",
		Remedy:  fmt.Sprintf("Leave %d at the device; use a sling or a lanyard of the right length for the rest.", takes),
		Source:  manufacturer(h.Device.Model),
	})
}

// connectorsInHole counts the connectors that are stated one after another at a device.
func connectorsInHole(h *rig.HoldView) int {
	if i := slices.IndexFunc(h.Links, func(l rig.LinkView) bool { return l.Model.Connector == nil }); i >= 0 {
		return i
	}
	return len(h.Links)
}

// HarnessMissing is harness.missing: off the ground a person's harness is stated, so
// that it is looked at like what hangs from it.
func HarnessMissing(p *rig.PersonView, c *Context) []finding.Finding {
	if p.Harness != nil || onGround(p, c.Rig.Geometry) {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Stop, Subject: p.Subject(),
		What:    fmt.Sprintf("No harness of %s is stated, at %v.", p.Name, p.AtM),
		Figures: []finding.Figure{finding.State("harness", "not stated"), finding.Fig("height", p.AtM)},
		Why:     "Everything hangs from the harness: its life, its examination and its points are looked at only where it is stated.",
		Remedy:  "State the harness they wear.",
		Source:  byRule,
	})
}
