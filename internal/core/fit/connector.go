package fit

import (
	"fmt"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// longestChain is the number of connectors in a row from which a look is
// due.
const longestChain = 3

// ConnectorGate is connector.gate: every connector in the load path is locked;
// three or more in a row are a look, since they lie on each other's gates.
func ConnectorGate(h *rig.HoldView, _ *Context) []finding.Finding {
	var found []finding.Finding
	run, longest := 0, 0
	for _, l := range h.Links {
		if l.Model.Connector == nil {
			run = 0
			continue
		}
		run++
		longest = max(longest, run)
		if f, ok := gate(h, l); ok {
			found = append(found, f)
		}
	}
	if longest >= longestChain {
		found = append(found, finding.Finding{
			Severity: finding.Look, Subject: h.Subject(),
			What:    fmt.Sprintf("%d connectors in a row hang between %s and the harness.", longest, h.Device.Item.Label),
			Figures: []finding.Figure{finding.Fig("in a row", quantity.Count(longest)), finding.Fig("looked at from", quantity.Count(longestChain))},
			Why:     "A chain of connectors is only as locked as its weakest gate, hangs lower, and lies on gates.",
			Remedy:  "Use a sling or a lanyard of the right length instead.",
			Source:  byRule,
		})
	}
	return found
}

func gate(h *rig.HoldView, l rig.LinkView) (finding.Finding, bool) {
	c := l.Model.Connector
	state := string(l.Link.Gate)
	switch {
	case l.Link.Gate == rig.GateShut, l.Link.Gate == rig.GateOpen:
	case c.Gate == "plain":
		state = "without a lock"
	default:
		return finding.Finding{}, false
	}
	left := l.Model.StrengthKN
	if l.Link.Gate == rig.GateOpen {
		left = c.OpenKN
	}
	return finding.Finding{
		Severity: finding.Stop, Subject: h.LinkSubject(l.Piece),
		What:    fmt.Sprintf("The gate of %s is %s, not locked.", l.Item.Label, state),
		Figures: []finding.Figure{finding.State("gate", state), finding.Fig("holds now", left), finding.Fig("holds with the gate open", c.OpenKN)},
		Why:     "A gate that is not locked is opened by a rope or an edge; open, the connector holds a fraction.",
		Remedy:  "Lock it and press it to prove it; a connector without a lock does not belong in a load path.",
		Source:  manufacturer(l.Model),
	}, true
}

// ConnectorCross is connector.cross: a connector lies, or may turn to lie, across its
// short axis. A look; a stop where the load at rest, or the peak of a fall onto the hold,
// passes what it holds across.
func ConnectorCross(h *rig.HoldView, _ *Context) []finding.Finding {
	var found []finding.Finding
	for _, l := range h.Links {
		word := map[rig.Lie]string{rig.LieMayTurn: "may turn and be loaded across", rig.LieAcross: "is loaded across"}[l.Link.Lie]
		if l.Model.Connector == nil || word == "" {
			continue
		}
		f := finding.Finding{
			Severity: finding.Look, Subject: h.LinkSubject(l.Piece),
			What:    fmt.Sprintf("%s %s: it then holds %v, not %v.", l.Item.Label, word, l.Model.Connector.AcrossKN, l.Model.StrengthKN),
			Figures: []finding.Figure{finding.Fig("across", l.Model.Connector.AcrossKN), finding.Fig("along", l.Model.StrengthKN)},
			Why:     "Across its short axis, or over an edge, a connector holds a fraction.",
			Remedy:  "Turn it along; use a shape or a keeper that cannot turn.",
			Source:  manufacturer(l.Model),
		}
		load := h.Load()
		if p := h.Figures.Peak; p != nil {
			load = max(load, p.Value)
		}
		if across := l.Model.Connector.AcrossKN; load > across {
			f.Severity = finding.Stop
			f.What += fmt.Sprintf(" %v may come onto it.", load)
			f.Figures = append(f.Figures, finding.Fig("may come onto it", load))
		}
		found = append(found, f)
	}
	return found
}
