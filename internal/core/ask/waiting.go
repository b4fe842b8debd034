package ask

import (
	"context"
	"slices"
	"time"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
)

// WaitingAsked asks what a drop, or things of the store, are with what a device has recorded
// and not sent yet.
type WaitingAsked struct {
	Drop    *drop.Document   `json:"drop,omitempty"`
	ID      string           `json:"id,omitempty" maxLength:"64" doc:"the drop's own, so that what was done on it is known from what was done on others"`
	Items   []gear.Item      `json:"items,omitempty" maxItems:"5000"`
	Waiting []record.Waiting `json:"waiting" minItems:"1" maxItems:"2000"`
	At      string           `json:"at" format:"date-time"`
	Today   gear.Date        `json:"today" format:"date" doc:"by the team's time zone"`
}

// WaitingAnswer is what was asked about with what waits.
type WaitingAnswer struct {
	Drop *drop.Document `json:"drop,omitempty"`
	// Items are those that are other than before.
	Items []gear.Item `json:"items" doc:"those that are other than before"`
}

// Answer shows what waits, in the order in which it was done. What would put something back
// into service shows when it is taken.
func (a *WaitingAsked) Answer(context.Context, Env) (*WaitingAnswer, error) {
	out := &WaitingAnswer{Items: []gear.Item{}}
	list := make([]*told, len(a.Waiting))
	for i, w := range a.Waiting {
		list[i] = &told{record.Content{Entry: w.Entry}, w.By}
	}
	slices.SortStableFunc(list, func(x, y *told) int { return record.InOrder(&x.Content, &y.Content) })
	if a.Drop != nil {
		out.Drop = a.Drop
		a.show(list)
		for i := range a.Drop.Items {
			takeOut(&a.Drop.Items[i], list)
		}
	}
	for i := range a.Items {
		if takeOut(&a.Items[i], list) {
			out.Items = append(out.Items, a.Items[i])
		}
	}
	return out, nil
}

// told is a record with who signs it.
type told struct {
	record.Content
	by string
}

// takeOut takes an item out of service where anything that waits does.
func takeOut(item *gear.Item, list []*told) (changed bool) {
	for _, w := range list {
		changed = w.Out(item) || changed
	}
	return changed
}

// show shows in the drop what was checked.
func (a *WaitingAsked) show(list []*told) {
	now, _ := time.Parse(time.RFC3339, a.At)
	shown := record.Show(a.Drop, a.ID, &record.Shift{At: now, Today: a.Today, Hours: a.Drop.Policy.With().Day.CheckH})
	for _, w := range list {
		shown.Add(&w.Content, w.by)
	}
}
