package care

import (
	"cmp"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
)

// Use is how an item was used on some days.
type Use struct {
	From, To         gear.Date
	Days, Wet, Dirty int
	DownM, UpM       quantity.Metres
	Loads            int
	Peak             quantity.Kilonewtons
}

// Span is some days, the first and the last with them.
type Span struct {
	From gear.Date `json:"from" format:"date"`
	To   gear.Date `json:"to" format:"date"`
}

// Counters are an item's use in sum, of the days that they cover and of no other.
type Counters struct {
	Days   int                  `json:"days" doc:"of use"`
	Wet    int                  `json:"wet_days"`
	Dirty  int                  `json:"dirty_days"`
	DownM  quantity.Metres      `json:"down_m" doc:"descended and lowered"`
	UpM    quantity.Metres      `json:"up_m" doc:"ascended and raised"`
	Loads  int                  `json:"loads"`
	Peak   quantity.Kilonewtons `json:"peak_kN,omitempty" doc:"greatest load that was measured; left out: none was"`
	Shocks int                  `json:"shocks" doc:"shock loads that are recorded, of all days"`
	// Covers are the days that are counted, Twice those that more than one entry is of.
	Covers []Span `json:"covers" doc:"days that are counted, first ones first; of other days nothing is known"`
	Twice  []Span `json:"twice,omitempty" doc:"days that more than one entry is of: what is counted may be counted twice"`
}

// Count sums what is known of an item's use.
func Count(uses []Use, events []gear.Event) Counters {
	c := Counters{Covers: []Span{}}
	uses = slices.Clone(uses)
	slices.SortStableFunc(uses, func(a, b Use) int { return cmp.Or(cmp.Compare(a.From, b.From), cmp.Compare(a.To, b.To)) })
	for _, u := range uses {
		c.Days, c.Wet, c.Dirty, c.Loads = c.Days+u.Days, c.Wet+u.Wet, c.Dirty+u.Dirty, c.Loads+u.Loads
		c.DownM, c.UpM, c.Peak = c.DownM+u.DownM, c.UpM+u.UpM, max(c.Peak, u.Peak)
		if n := len(c.Covers); n > 0 && u.From <= c.Covers[n-1].To {
			c.Twice = follow(c.Twice, Span{u.From, min(u.To, c.Covers[n-1].To)})
		}
		c.Covers = follow(c.Covers, Span{u.From, u.To})
	}
	for _, e := range events {
		if e.Kind == "shock-load" {
			c.Shocks++
		}
	}
	return c
}

// follow adds a span that begins with the last one of a list or later; what touches it is one
// with it.
func follow(list []Span, s Span) []Span {
	if n := len(list); n > 0 && s.From <= list[n-1].To.AddDays(1) {
		list[n-1].To = max(list[n-1].To, s.To)
		return list
	}
	return append(list, s)
}
