package fit

import (
	"fmt"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
)

// use is an item in use, named where it is used.
type use struct {
	*rig.Piece
	subject finding.Subject
}

// uses gives every item of every person and strand once, as part of the hold it
// is in where it is in one.
func uses(r *rig.Rig) []use {
	list := make([]use, 0, len(r.Pieces))
	seen := make(map[*rig.Piece]bool, len(r.Pieces))
	add := func(p *rig.Piece, s finding.Subject) {
		if !seen[p] {
			seen[p] = true
			list = append(list, use{Piece: p, subject: s})
		}
	}
	for _, s := range r.Strands {
		for _, rope := range s.Ropes {
			add(rope.Piece, s.RopeSubject(rope.Piece))
		}
	}
	for _, h := range r.EveryHold() {
		add(h.Device, h.Subject())
		for _, l := range h.Links {
			add(l.Piece, h.LinkSubject(l.Piece))
		}
	}
	for _, p := range r.People {
		for _, piece := range p.All {
			add(piece, finding.Subject{Kind: finding.Item, ID: piece.Item.ID, Label: piece.Item.Label, Person: p.ID, Item: piece.Item.ID})
		}
	}
	if r.Team != nil {
		for _, piece := range r.Team.Kit {
			add(piece, finding.Subject{Kind: finding.Item, ID: piece.Item.ID, Label: piece.Item.Label, Person: rig.TeamBody, Item: piece.Item.ID})
		}
	}
	return list
}

// ServiceQuarantine is service.quarantine: nothing in use is quarantined,
// retired or past its life. The day its life ends is its last.
func ServiceQuarantine(u use, c *Context) []finding.Finding {
	f := finding.Finding{
		Severity: finding.Stop, Subject: u.subject,
		Why:    "Somebody found a reason not to use it.",
		Remedy: "Put it aside and take another; only the named check by someone allowed to brings it back.",
	}
	if u.Item.State != gear.InService {
		f.What = fmt.Sprintf("%s is in %s: %s.", u.Item.Label, u.Item.State, u.Item.Reason)
		if u.Item.State == gear.Retired {
			f.What = fmt.Sprintf("%s is retired: %s.", u.Item.Label, u.Item.Reason)
			f.Remedy = "Take another; a retired item does not come back."
		}
		f.Figures = []finding.Figure{finding.State("state", string(u.Item.State))}
		f.Source = "the store's record of the item"
		return one(f)
	}
	end, from := u.Model.EndOfLife(u.Item)
	if end == "" || c.Rig.Day <= end {
		return lifeUnknown(u, c)
	}
	over, _ := end.DaysTo(c.Rig.Day)
	f.What = fmt.Sprintf("%s passed the end of its life, counted from %s, on %s.", u.Item.Label, from, end)
	f.Figures = []finding.Figure{finding.Fig("past its life", over), finding.State("end of life", string(end))}
	f.Why = "Materials age even when they look well."
	f.Remedy = "Retire it and take another."
	f.Source = manufacturer(u.Model)
	return one(f)
}

// lifeUnknown is a look where the model has a life, and whether it has ended cannot be said.
func lifeUnknown(u use, c *Context) []finding.Finding {
	missing := u.Model.LifeUnknown(u.Item, c.Rig.Day)
	if missing == "" {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Look, Subject: u.subject,
		What:    fmt.Sprintf("Whether the life of %s has ended is not known: %s is not recorded.", u.Item.Label, missing),
		Figures: []finding.Figure{finding.State("not recorded", missing)},
		Why:     "Materials age even when they look well.",
		Remedy:  "Record it from the mark on it or its papers; where nobody knows, retire it and take another.",
		Source:  manufacturer(u.Model),
	})
}

// ServiceExamination is service.examination: a thorough examination overdue is
// a stop, due within the policy's days a look. On the due day itself it is due,
// not overdue. An examination before it was made is none. It is due by the earliest of all that bind. Gloves, bags and edge protectors are not examined by interval.
func ServiceExamination(u use, c *Context) []finding.Finding {
	if !u.Model.Class.Examined() {
		return nil
	}
	due, by := u.Model.ExaminationDue(u.Item, c.Policy.ExaminationMonths)
	left, known := c.Rig.Day.DaysTo(due)
	f := finding.Finding{
		Subject: u.subject,
		Why:     "Wear and damage that a daily look misses are found at the thorough examination.",
		Remedy:  "Have it examined by someone competent and record it, or take another.",
		Source:  byPolicy(c.Policy),
	}
	switch by {
	case gear.DueByLeaflet:
		f.Source = manufacturer(u.Model)
	case gear.DueByExaminer:
		f.Source = "the record of its last examination"
	case gear.DueByPaper:
		f.Source = "the paper " + u.Item.Guest.Certificate + " by " + u.Item.Guest.Examiner
	}
	switch {
	case by == gear.DueBeforeUse:
		f.Severity = finding.Stop
		f.What = fmt.Sprintf("%s has been neither used nor examined: it is examined before its first use.", u.Item.Label)
		f.Figures = []finding.Figure{finding.State("due", "before first use")}
	case u.Item.ExaminedOn != "" && u.Item.ExaminedOn < u.Item.MadeOn:
		f.Severity = finding.Stop
		f.What = fmt.Sprintf("%s is entered as examined on %s, before it was made on %s: one of the two is wrong.", u.Item.Label, u.Item.ExaminedOn, u.Item.MadeOn)
		f.Figures = []finding.Figure{finding.State("examined", string(u.Item.ExaminedOn)), finding.State("made", string(u.Item.MadeOn))}
		f.Remedy = "Read both on the item and its paper, and correct the wrong one."
	case !known:
		f.Severity = finding.Look
		f.What = fmt.Sprintf("When %s is due for examination is not known: no date of manufacture, first use or examination is recorded.", u.Item.Label)
		f.Figures = []finding.Figure{finding.State("due", "not known")}
	case left < 0:
		f.Severity = finding.Stop
		f.What = fmt.Sprintf("The thorough examination of %s is overdue by %v; it was due on %s.", u.Item.Label, -left, due)
		f.Figures = []finding.Figure{finding.Fig("overdue", -left), finding.State("due", string(due))}
	case left <= c.Policy.ExaminationWarnDays:
		f.Severity = finding.Look
		f.What = fmt.Sprintf("The thorough examination of %s is due in %v, on %s.", u.Item.Label, left, due)
		f.Figures = []finding.Figure{finding.Fig("due in", left), finding.State("due", string(due))}
	default:
		return nil
	}
	return one(f)
}

// ServiceFunctionCheck is service.function-check: the last check recorded today
// for the device on a rope of its strand, in its mode, was passed.
func ServiceFunctionCheck(h *rig.HoldView, c *Context) []finding.Finding {
	state, why := procedure.OfHold(c.Rig, h)
	f := finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What:    fmt.Sprintf("No function check of %s on %s is recorded today.", h.Device.Item.Label, h.Strand.Name),
		Figures: []finding.Figure{finding.State("check today", string(state)), finding.State("day", string(c.Rig.Day))},
		Why:     "Each device is proved on this rope, in this mode, before anyone's weight depends on it.",
		Remedy:  "Do its function check on this rope and record it.",
		Source:  byRule,
	}
	switch state {
	case procedure.Passed:
		return nil
	case procedure.Failed:
		f.What = fmt.Sprintf("%s failed its last function check on %s today: %s.", h.Device.Item.Label, h.Strand.Name, why)
		f.Remedy = "Put it aside and take another."
	case procedure.Stale:
		f.What = fmt.Sprintf("The function check of %s does not count any more: %s.", h.Device.Item.Label, why)
	}
	return one(f)
}

// ServiceEvent is service.event: every event that stops an item has been
// followed by its check, by somebody other than who was in it; a look where nobody says by whom.
func ServiceEvent(u use, c *Context) []finding.Finding {
	var found []finding.Finding
	for _, e := range u.Item.Events {
		f := finding.Finding{
			Severity: finding.Stop, Subject: u.subject,
			Figures: []finding.Figure{finding.State("event", e.Words()), finding.State("on", string(e.On)), finding.State("checked", "no")},
			Why:     "What such an event does to gear does not always show.",
			Remedy:  "Put it aside until someone competent has done the check for this event and recorded it.",
			Source:  "the store's record of the item",
		}
		switch by := strings.TrimSpace(e.CheckedBy); {
		case e.CheckedOn == "" || e.CheckedOn < e.On:
			f.What = fmt.Sprintf("%s: %s on %s, and no check since.", u.Item.Label, e.Words(), e.On)
		case by == "":
			f.Severity, f.What = finding.Look, fmt.Sprintf("%s: %s on %s, checked on %s, and nobody says by whom.", u.Item.Label, e.Words(), e.On, e.CheckedOn)
			f.Figures[2] = finding.State("checked by", "not stated")
			f.Remedy = "Ask the store who did the check, and enter them; else have it checked again."
		case isCalled(c.Rig, e.In, by):
			f.What = fmt.Sprintf("%s: %s on %s, checked by %s, who was in it.", u.Item.Label, e.Words(), e.On, by)
			f.Figures[2] = finding.State("checked by", by)
			f.Remedy = "Have somebody check it who was not in the event."
		default:
			continue
		}
		found = append(found, f)
	}
	return found
}

// isCalled reports whether somebody on the drop has a name.
func isCalled(r *rig.Rig, person, name string) bool {
	for _, p := range r.People {
		if p.ID == person && strings.EqualFold(p.Name, name) {
			return true
		}
	}
	return person != "" && person == name
}
