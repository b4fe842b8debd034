package fit

import (
	"fmt"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// PersonPractised is person.practised: a skill that a move on somebody's plan needs, or the
// pick-off of who would come, was practised too long ago. Of a skill without any record nothing
// is known, and nothing is said.
func PersonPractised(p *rig.PersonView, c *Context) []finding.Finding {
	found := Stale(p.Person, c.Policy, c.Rig.Day)
	if r := c.Rig.Rescue; r != nil && !slices.Contains(p.Moves, pickOff) {
		for i := range r.Rescuers {
			if r.Rescuers[i].Person == p.ID {
				found = append(found, staleSince(p.Person, pickOff, r.Rescuers[i].LastPickOff([]rig.Person{*p.Person}), c.Policy, c.Rig.Day)...)
			}
		}
	}
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
		found = append(found, staleSince(p, m, rig.LastPractised(p.Practised, s), pol, day)...)
	}
	return found
}

// pickOff is the move of who would come.
const pickOff manoeuvre.MoveName = "pick-off"

// staleSince gives a finding where a move's skill was practised too long before a day.
func staleSince(p *rig.Person, m manoeuvre.MoveName, on gear.Date, pol *policy.Policy, day gear.Date) []finding.Finding {
	s := manoeuvre.FindSkill(manoeuvre.SkillOf(string(m)))
	months := pol.Practice(s)
	if until := pol.PractisedUntil(s, on); until == "" || until >= day {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Look,
		What:     fmt.Sprintf("%s last practised %s on %s, more than %s ago; it is counted on here.", p.Name, s.Title, on, quantity.Count(months).Of("month")),
		Figures:  []finding.Figure{finding.State("practised", string(on)), finding.Fig("months", quantity.Count(months))},
		Why:      "What was not done lately goes slower, and some of it wrong.",
		Remedy:   "Practise it near the ground first, and have it signed.",
		Source:   byPolicy(pol),
	})
}
