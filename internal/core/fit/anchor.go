package fit

import (
	"cmp"
	"fmt"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// Angles between anchor legs from which a look, and a stop, is requested. At
// 120° each leg carries the whole load.
const (
	wideAngle    quantity.Degrees = 90
	tooWideAngle quantity.Degrees = 120
	// angleTolerance forgives the rounding of typed-in positions.
	angleTolerance quantity.Degrees = 1e-6
)

// AnchorAngle is anchor.angle: legs wider than 90° are a look, wider than 120° a
// stop.
func AnchorAngle(a *rig.AnchorView, _ *Context) []finding.Finding {
	angle := a.WidestAngle
	if angle <= wideAngle+angleTolerance {
		return nil
	}
	wide, limit := quantity.Beside(angle, wideAngle)
	f := finding.Finding{
		Severity: finding.Look,
		Subject:  finding.Subject{Kind: finding.Anchor, ID: a.ID, Label: a.Name},
		What:     fmt.Sprintf("The legs of %s stand %s apart, wider than %s.", a.Name, wide, limit),
		Figures:  []finding.Figure{finding.Fig("widest angle", angle), finding.Fig("look from", wideAngle), finding.Fig("stop from", tooWideAngle)},
		Why:      "The wider the legs, the more each of them carries; at 120° each carries the whole load.",
		Remedy:   "Lengthen the legs, or use anchor points that are closer together.",
		Source:   byPhysics, Working: a.Working(),
	}
	if angle > tooWideAngle+angleTolerance {
		f.Severity = finding.Stop
		wide, limit = quantity.Beside(angle, tooWideAngle)
		f.What = fmt.Sprintf("The legs of %s stand %s apart, wider than %s: each carries more than the whole load.", a.Name, wide, limit)
	}
	return one(f)
}

// AnchorConfirm is anchor.confirm: what the program proposed is a look until somebody has
// seen it, and that it is independent of the others.
func AnchorConfirm(a *rig.AnchorView, _ *Context) []finding.Finding {
	if !a.Proposed {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Look,
		Subject:  finding.Subject{Kind: finding.Anchor, ID: a.ID, Label: a.Name},
		What:     fmt.Sprintf("%s was proposed and nobody has confirmed it.", a.Name),
		Figures:  []finding.Figure{finding.State("confirmed", "no")},
		Why:      "A program sees no rock, no weld and no corrosion, nor whether two points hang on one thing.",
		Remedy:   "Look at it: that it is there, where it is, what it holds, and that it depends on nothing the other one does; then confirm it.",
		Source:   byRule,
	})
}

// AnchorRegister is anchor.register: what the register of the site has of an anchor is in date,
// and no less strong.
func AnchorRegister(a *rig.AnchorView, c *Context) (found []finding.Finding) {
	r := a.Register
	if r == nil {
		return nil
	}
	look := finding.Finding{
		Severity: finding.Look,
		Subject:  finding.Subject{Kind: finding.Anchor, ID: a.ID, Label: a.Name},
		Source:   byRule,
	}
	if stale := r.Stale(c.Rig.Day); stale != "" {
		f := look
		f.What = fmt.Sprintf("%s is %s in the register of %s, and %s.", a.Name, r.Name, r.Site, stale)
		f.Figures = []finding.Figure{finding.State("examined", cmp.Or(string(r.ExaminedOn), "not known")), finding.State("again by", cmp.Or(string(r.AgainBy), "not known"))}
		f.Why = "Bolts corrode and loosen where nobody sees it."
		f.Remedy = "Have it examined and enter that among the pre-plans, or say why it is counted on."
		found = append(found, f)
	}
	if leg, proved, over := a.Overstated(); over {
		f := look
		says, is := quantity.Beside(leg, proved)
		f.What = fmt.Sprintf("A leg of %s is said to hold %s here; the register of %s has proved the whole to %s.", a.Name, says, r.Site, is)
		f.Figures = []finding.Figure{finding.Fig("a leg, here", leg), finding.Fig("the whole, in the register", proved)}
		f.Why = "Margins are worked out with the figure of the drop."
		f.Remedy = "Put the lower figure into the drop, or prove the anchor and enter that."
		found = append(found, f)
	}
	return found
}

// AnchorShared is anchor.shared: in every section of a set, no single anchor or
// anchor point may hold both main and backup. The anchor above a re-belay is not
// counted as a second one: its rope is slack.
func AnchorShared(c *Context) (found []finding.Finding, looked int) {
	for _, m := range c.Rig.Strands {
		for _, b := range c.Rig.Strands {
			if m.Role != rig.Main || b.Role != rig.Backup || m.Set != b.Set {
				continue
			}
			looked++
			if f, shared := sharedAnchor(m, b); shared {
				found = append(found, f)
			}
		}
	}
	return found, looked
}

// sharedAnchor looks just below every height at which a section begins.
func sharedAnchor(m, b *rig.StrandView) (finding.Finding, bool) {
	for _, s := range append(m.Sections[:len(m.Sections):len(m.Sections)], b.Sections...) {
		below := s.TopM - 0.01
		ms, bs := m.SectionAt(below), b.SectionAt(below)
		for _, failing := range failures(ms.Anchors, bs.Anchors) {
			if survives(ms.Anchors, failing) || survives(bs.Anchors, failing) {
				continue
			}
			subject := m.Subject()
			subject.Kind, subject.ID, subject.Label = finding.Anchor, failing.anchor, failing.name
			return finding.Finding{
				Severity: finding.Stop, Subject: subject,
				What:    fmt.Sprintf("%s holds both %s and %s below %v.", failing.name, m.Name, b.Name, s.TopM),
				Figures: []finding.Figure{finding.Fig("anchors between them", quantity.Count(1)), finding.Fig("required", quantity.Count(2)), finding.Fig("height", s.TopM)},
				Why:     "If it fails, both strands go.",
				Remedy:  "Hang the backup from an anchor of its own, or link both strands to a second, independent anchor.",
				Source:  byRule,
			}, true
		}
	}
	return finding.Finding{}, false
}

// failure is one thing at an anchor that may fail: the whole anchor, or a point
// of the structure that legs of several anchors may share.
type failure struct {
	anchor, leg, name string
}

// failures gives every single failure of some anchors.
func failures(lists ...[]*rig.AnchorView) []failure {
	var all []failure
	for _, list := range lists {
		for _, a := range list {
			all = append(all, failure{anchor: a.ID, name: a.Name})
			for _, l := range a.Legs {
				all = append(all, failure{anchor: a.ID, leg: l.ID, name: "anchor point " + l.ID})
			}
		}
	}
	return all
}

// survives reports whether any of the anchors still holds after a failure.
func survives(list []*rig.AnchorView, f failure) bool {
	for _, a := range list {
		if f.leg == "" {
			if a.ID != f.anchor {
				return true
			}
			continue
		}
		if len(a.Legs) > 1 || a.Legs[0].ID != f.leg {
			return true
		}
	}
	return false
}
