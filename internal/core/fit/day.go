package fit

import (
	"slices"

	"fmt"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
)

// CheckDue is check.due: the checks of ropes, of what people wear and of partners that the day
// asks for and that are not recorded as passed. Devices are service.function-check's,
// and what is out of service is service.quarantine's.
func CheckDue(c *Context) (found []finding.Finding, looked int) {
	seen := map[string]bool{}
	for _, d := range procedure.Recorded(c.Rig) {
		if d.Kind == procedure.OfDevice {
			continue
		}
		looked++
		name := string(d.Kind) + d.Item + d.Person
		if d.State == procedure.Passed || seen[name] || d.Item != "" && c.Rig.Piece(d.Item).Item.State != gear.InService {
			continue
		}
		seen[name] = true
		found = append(found, dueFinding(c, &d))
	}
	return found, looked
}

func dueFinding(c *Context, d *procedure.Due) finding.Finding {
	f := finding.Finding{
		Severity: finding.Look, Subject: finding.Subject{Kind: finding.Person, ID: d.Person, Label: d.On, Person: d.Person},
		What:    fmt.Sprintf("No partner check of %s is recorded for %s.", d.On, c.Rig.Day),
		Figures: []finding.Figure{finding.State("check", string(d.State)), finding.State("day", string(c.Rig.Day))},
		Why:     "Four eyes find what two have got used to.",
		Remedy:  "Have another person touch every hold and say it, and record it.",
		Source:  byRule,
	}
	switch d.Kind {
	case procedure.OfWorn:
		f.What = fmt.Sprintf("No check of what %s wears, harness, lanyards and connectors, is recorded for %s.", d.On, c.Rig.Day)
		f.Why = "A cut webbing or a gate that does not shut is found in the hand, before it is loaded."
		f.Remedy = "Look at each thing, and record it with what is not as it must be."
	case procedure.OfRope:
		f.Subject = finding.Subject{Kind: finding.Item, ID: d.Item, Label: d.Label, Strand: d.Strand, Item: d.Item}
		f.What = fmt.Sprintf("No check of %s, with its knots and end, is recorded for %s.", d.Label, c.Rig.Day)
		f.Why = "Cuts, flat spots and loose knots are found by the hand that goes along the rope."
		f.Remedy = "Check it end to end and record it."
	}
	if d.State == procedure.Stale || d.State == procedure.Failed {
		f.What += " " + upper(d.Why) + "."
	}
	return f
}

func upper(s string) string {
	if s == "" {
		return s
	}
	return string(s[0]-'a'+'A') + s[1:]
}

// DateFuture is date.future: nothing is recorded as done after the day that is planned.
func DateFuture(c *Context) (found []finding.Finding, looked int) {
	add := func(s finding.Subject, what string, on gear.Date) {
		looked++
		if on == "" || on <= c.Rig.Day {
			return
		}
		found = append(found, finding.Finding{
			Severity: finding.Stop, Subject: s,
			What:    fmt.Sprintf("%s is dated %s, after the day of the drop, %s.", what, on, c.Rig.Day),
			Figures: []finding.Figure{finding.State("dated", string(on)), finding.State("day of the drop", string(c.Rig.Day))},
			Why:     "What has not happened yet proves nothing; a wrong date hides what is overdue.",
			Remedy:  "Correct the date, or the day of the drop.",
			Source:  byRule,
		})
	}
	for _, p := range c.Rig.Pieces {
		s := finding.Subject{Kind: finding.Item, ID: p.Item.ID, Label: p.Item.Label, Item: p.Item.ID}
		add(s, "The making of "+p.Item.Label, p.Item.MadeOn)
		add(s, "The first use of "+p.Item.Label, p.Item.FirstUsedOn)
		add(s, "The examination of "+p.Item.Label, p.Item.ExaminedOn)
		for _, e := range p.Item.Events {
			add(s, "The "+e.Kind+" event of "+p.Item.Label, e.On)
			add(s, "The check after the "+e.Kind+" event of "+p.Item.Label, e.CheckedOn)
		}
	}
	for _, k := range c.Rig.Checks {
		if p := c.Rig.Piece(k.Item); p != nil {
			add(finding.Subject{Kind: finding.Item, ID: k.Item, Label: p.Item.Label, Item: k.Item}, "The function check of "+p.Item.Label, k.On)
		}
	}
	for _, p := range c.Rig.People {
		for _, k := range c.Rig.PartnerChecks {
			if k.Person == p.ID {
				add(p.Subject(), "The partner check of "+p.Name, k.On)
			}
		}
		for _, k := range c.Rig.WornChecks {
			if k.Person == p.ID {
				add(p.Subject(), "The check of what "+p.Name+" wears", k.On)
			}
		}
		for _, f := range p.Familiar {
			add(p.Subject(), "A familiarisation of "+p.Name, f.On)
		}
	}
	return found, looked
}

// TeamOperator is team.operator: two live brakes have an operator each, who stands. The same
// name twice is one person.
func TeamOperator(c *Context) (found []finding.Finding, looked int) {
	t := c.Rig.Team
	if t == nil {
		return nil, 0
	}
	hands := t.Hands()
	add := func(who string, s finding.Subject, what, why, remedy string) {
		found = append(found, finding.Finding{
			Severity: finding.Stop, Subject: s, What: what,
			Figures: []finding.Figure{finding.State("operator", who), finding.State("brakes", t.Main.Brake.Item.Label+", "+t.Belay.Brake.Item.Label)},
			Why:     why, Remedy: remedy, Source: byRule,
		})
	}
	if len(hands) < 2 {
		add(hands[0], finding.Subject{Kind: finding.Person, ID: rig.TeamBody, Label: t.Load.Name, Person: rig.TeamBody}, "One operator is named for two brakes.",
			"Each live brake has a hand on its brake strand; one person cannot let one run and hold the other.", "Name a second operator.")
	}
	for _, p := range c.Rig.People {
		if len(p.Holds) > 0 && !onGround(p, c.Rig.Geometry) && slices.ContainsFunc(hands, func(who string) bool { return rig.SameName(who, p.Name) }) {
			add(p.Name, p.Subject(), p.Name+" is named as an operator at the brakes, and hangs on this drop.",
				"Who hangs has no hand for a brake at the anchors.", "Name another operator.")
		}
	}
	return found, 1
}
