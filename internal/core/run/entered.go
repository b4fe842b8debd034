package run

import (
	"cmp"
	"slices"
	"time"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/quantity"
)

// Entered is when and by whom a run was typed that nobody gave while it was.
type Entered struct {
	At string `json:"at" format:"date-time"`
	By string `json:"by" minLength:"1" maxLength:"80"`
	// Callout is the id of the callout whose times it has.
	Callout string `json:"callout,omitempty" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$"`
}

// FromCallout gives the events of a callout, in order: its start, the times that were marked,
// why somebody went on, who went down, and its end. At is the height of the edge; an empty
// person: nobody of the team. What was marked keeps its time and who marked it; id names each
// event by what it is of, so that it has the same id whenever this is made again. What nobody
// marked is not made up: without a mark over the edge nobody was on the rope, and without one
// of an arrival nobody came off it. The callout has ended by a mark; without one it has none.
func FromCallout(c *callout.Document, person string, at quantity.Metres, by string, id func(of string) string) []Event {
	var list []Event
	add := func(of string, when time.Time, e Event) {
		e.ID, e.GivenAt, e.By = id(of), when.UTC().Format(time.RFC3339Nano), cmp.Or(e.By, by)
		list = append(list, e)
	}
	last := c.Began()
	for i := range c.Marks {
		m := &c.Marks[i]
		when, _ := time.Parse(time.RFC3339Nano, m.At)
		add(m.ID, when, Event{Kind: Mark, Reason: m.Text(), By: m.By})
		last = later(last, when)
	}
	for i := range c.Reasons {
		r := &c.Reasons[i]
		when, _ := time.Parse(time.RFC3339Nano, r.At)
		add(r.ID, when, Event{Kind: Otherwise, Reason: r.Rule + " " + r.Subject + ": " + r.Words, By: r.By})
		last = later(last, when)
	}
	if over, ok := c.First(callout.OverEdge); ok && person != "" {
		landing := quantity.Metres(0)
		add("over", over, Event{Kind: OnRope, Person: person, AtM: &at})
		off := time.Time{}
		if down, ok := c.First(callout.Down); ok && down.After(over) {
			add("down", down, Event{Kind: Height, Person: person, AtM: &landing})
			off = down
		}
		if up, ok := c.Last(callout.Up); ok && up.After(over) {
			add("up", up, Event{Kind: Height, Person: person, AtM: &at})
			off = later(off, up)
		}
		if !off.IsZero() {
			add("off", off.Add(time.Microsecond), Event{Kind: OffRope, Person: person})
		}
	}
	add("start", earliest(list, c.Began()).Add(-time.Microsecond), Event{Kind: Start})
	if _, ok := c.Last(callout.Ended); ok {
		// After everything that was marked: what is noted while a callout is wound up belongs to it.
		add("end", last.Add(time.Millisecond), Event{Kind: End})
	}
	slices.SortStableFunc(list, func(a, b Event) int { return a.At().Compare(b.At()) })
	return list
}

func later(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}

// earliest is the first of the events, or a time before it.
func earliest(list []Event, before time.Time) time.Time {
	for i := range list {
		if at := list[i].At(); at.Before(before) {
			before = at
		}
	}
	return before
}
