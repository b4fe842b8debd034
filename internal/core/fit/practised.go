package fit

import (
	"fmt"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// PersonPractised is person.practised: a skill that a move on somebody's plan needs was practised
// too long ago. Of a skill without any record nothing is known, and nothing is said.
func PersonPractised(p *rig.PersonView, c *Context) []finding.Finding {
	found := Stale(p.Person, c.Policy, c.Rig.Day)
	for i := range found {
		found[i].Subject = p.Subject()
	}
	return found
}

// Stale gives a finding for each skill that somebody's moves need and that was practised too
// long before a day. The finding has no subject.
func Stale(p *rig.Person, pol *policy.Policy, day gear.Date) (found []finding.Finding) {
	seen := map[string]bool{}
	for _, m := range p.Moves {
		s := manoeuvre.FindSkill(manoeuvre.SkillOf(string(m)))
		if s == nil || seen[s.ID] {
			continue
		}
		seen[s.ID] = true
		on, months := rig.LastPractised(p.Practised, s), pol.Practice(s)
		if on == "" || on.AddMonths(months) >= day {
			continue
		}
		found = append(found, finding.Finding{
			Severity: finding.Look,
			What:     fmt.Sprintf("%s last practised %s on %s, more than %s ago; it is on the plan.", p.Name, s.Title, on, quantity.Count(months).Of("month")),
			Figures:  []finding.Figure{finding.State("practised", string(on)), finding.Fig("months", quantity.Count(months))},
			Why:      "What was not done lately goes slower, and some of it wrong.",
			Remedy:   "Practise it near the ground first, and have it signed.",
			Source:   byPolicy(pol),
		})
	}
	return found
}
