package fit

import (
	"fmt"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// WindSlack is wind.slack: the slack that the day's wind draws above a wheel that is not
// parked. Beyond the policy's limit a look; where the wind takes the whole tail a stop.
func WindSlack(h *rig.HoldView, c *Context) []finding.Finding {
	drawn := h.Figures.WindSlack
	if h.Position.Parked || drawn <= c.Policy.WindSlackM {
		return nil
	}
	slack, limit := quantity.Beside(drawn, c.Policy.WindSlackM)
	f := finding.Finding{
		Severity: finding.Look, Subject: h.Subject(),
		What: fmt.Sprintf("At %v the wind draws %s of slack above %s; the policy's limit is %s.", c.Rig.WindMS, slack, h.Device.Item.Label, limit),
		Figures: []finding.Figure{
			finding.Fig("wind", c.Rig.WindMS), finding.Fig("slack", drawn), finding.Fig("limit", c.Policy.WindSlackM),
		},
		Why:    "That slack is free fall waiting to happen, and friction keeps it from going back.",
		Remedy: "Park the wheel while you stay, take the parking off before you move; or wait for less wind.",
		Source: byPolicy(c.Policy),
	}
	if h.Figures.WindRuns {
		f.Severity = finding.Stop
		f.What += " It takes all the rope that hangs below."
	}
	return one(f)
}

// FallSlack is fall.slack: slack that is left above a backup, against the limit that the policy
// sets for slack that the wind draws.
func FallSlack(h *rig.HoldView, c *Context) []finding.Finding {
	if h.Role() != rig.ToBackUp || h.Person.Grounded || h.SlackM <= c.Policy.WindSlackM {
		return nil
	}
	slack, limit := quantity.Beside(h.SlackM, c.Policy.WindSlackM)
	return one(finding.Finding{
		Severity: finding.Look, Subject: h.Subject(), Source: byPolicy(c.Policy),
		What:    fmt.Sprintf("%s of slack is above %s; the policy's limit is %s.", slack, h.Device.Item.Label, limit),
		Figures: []finding.Figure{finding.Fig("slack", h.SlackM), finding.Fig("limit", c.Policy.WindSlackM)},
		Why:     "If what bears goes, that slack is fallen through before the backup begins to hold.",
		Remedy:  fmt.Sprintf("Take it in to %s or less.", quantity.Down(c.Policy.WindSlackM)),
	})
}

// goesDown are moves that end lower than they begin.
var goesDown = []manoeuvre.MoveName{"descend", "over-edge", "pass-knots-down", "rebelay-down", "deviation-down"}

// ParkBeforeDescent is device.park-before-descent: no wheel is parked on the strand of
// somebody who goes down: whose descender is not parked, or whose plan is to go down
// without stopping to work.
func ParkBeforeDescent(h *rig.HoldView, _ *Context) []finding.Finding {
	b := h.Device.Model.Backup
	if b == nil || b.Kind != gear.Wheel || !h.Position.Parked || !descends(h.Person) {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What:    fmt.Sprintf("%s is parked, and %s is about to go down.", h.Device.Item.Label, h.Person.Name),
		Figures: []finding.Figure{finding.State("position", h.Position.Name)},
		Why:     "A parked wheel stays where it is: the descent ends hanging in it, or pulls its absorber.",
		Remedy:  "Take the parking lock off before the descent.",
		Source:  byRule,
	})
}

func descends(p *rig.PersonView) bool {
	for _, h := range p.Holds {
		if h.Role() == rig.ToDescend && !h.Position.Parked {
			return true
		}
	}
	return !slices.Contains(p.Moves, "short-work") && slices.ContainsFunc(p.Moves, func(m manoeuvre.MoveName) bool { return slices.Contains(goesDown, m) })
}
