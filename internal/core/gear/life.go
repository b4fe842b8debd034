package gear

import (
	"cmp"
	"slices"
)

// Kinds of marks on a life line.
const (
	MarkMade        = "made"
	MarkBought      = "bought"
	MarkFirstUse    = "first-use"
	MarkExamination = "examination"
	MarkEvent       = "event"
	MarkChecked     = "checked"
	MarkDue         = "examination-due"
	MarkEnd         = "end-of-life"
	MarkPaper       = "paper-ends"
)

// A LifeMark is a day in the life of an item.
type LifeMark struct {
	On    Date   `json:"on" format:"date"`
	Kind  string `json:"kind" doc:"made, first-use, examination, event, checked, examination-due, end-of-life, paper-ends, or the kind of the record that says it"`
	Words string `json:"words"`
}

// A LifeLine is the time of an item, to be drawn to scale.
type LifeLine struct {
	From  Date       `json:"from" format:"date"`
	To    Date       `json:"to" format:"date"`
	Today Date       `json:"today" format:"date"`
	Marks []LifeMark `json:"marks" doc:"by day"`
	// Due and End are the next that matter; empty where they are not known, or the item is
	// retired.
	Due     Date   `json:"due,omitempty" format:"date" doc:"next thorough examination"`
	DueBy   string `json:"due_by,omitempty" doc:"what makes it due"`
	End     Date   `json:"end,omitempty" format:"date" doc:"end of life"`
	EndFrom string `json:"end_from,omitempty" doc:"which limit ends it: manufacture or first use"`
}

// LifeOf is the life line of an item of this model, as of a day: what it says itself, and
// more that records say. Months is the team's interval of examinations. What is retired has
// no days to come.
func (m *Model) LifeOf(i *Item, months int, today Date, more []LifeMark) LifeLine {
	l := LifeLine{Today: today, Marks: slices.Clone(more)}
	add := func(on Date, kind, words string) {
		if on != "" {
			l.Marks = append(l.Marks, LifeMark{on, kind, words})
		}
	}
	add(i.MadeOn, MarkMade, "made")
	add(i.BoughtOn, MarkBought, "bought")
	add(i.FirstUsedOn, MarkFirstUse, "first used")
	add(i.ExaminedOn, MarkExamination, "thoroughly examined")
	for _, e := range i.Events {
		add(e.On, MarkEvent, e.Kind)
		by := ""
		if e.CheckedBy != "" {
			by = " by " + e.CheckedBy
		}
		add(e.CheckedOn, MarkChecked, "checked after "+e.Kind+by)
	}
	if i.State != Retired {
		if m.Class.Examined() {
			l.Due, l.DueBy = m.ExaminationDue(i, months)
		}
		l.End, l.EndFrom = m.EndOfLife(i)
		add(l.Due, MarkDue, "examination due")
		add(l.End, MarkEnd, "end of life, from "+l.EndFrom)
		if i.Guest != nil {
			add(i.Guest.ValidUntil, MarkPaper, "its paper ends: "+i.Guest.Certificate)
		}
	}
	slices.SortStableFunc(l.Marks, func(a, b LifeMark) int { return cmp.Compare(a.On, b.On) })
	l.From, l.To = today, today
	for _, k := range l.Marks {
		l.From, l.To = min(l.From, k.On), max(l.To, k.On)
	}
	return l
}
