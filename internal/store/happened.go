package store

import (
	"context"
	"encoding/json"
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store/sqlc"
)

// stopHappened puts into quarantine each item that was written with an event that nobody has
// checked, and that was not there before; one that is in quarantine already notes it too.
func (w *writing) stopHappened(ctx context.Context, written []change, rows []RowOutcome) error {
	for _, c := range written {
		if c.item == nil || c.item.State == gear.Retired {
			continue
		}
		var was gear.Item
		if c.before != nil {
			if err := json.Unmarshal(c.before, &was); err != nil {
				return fmt.Errorf("item %s: %w", c.id, err)
			}
		}
		for _, e := range c.item.Events[len(was.Events):] {
			if e.CheckedOn != "" {
				continue
			}
			if err := w.stopAfter(ctx, c.id, &e, rows); err != nil {
				return err
			}
		}
	}
	return nil
}

// stopAfter records today that an event which is noted stops an item.
func (w *writing) stopAfter(ctx context.Context, item string, event *gear.Event, rows []RowOutcome) error {
	stop := record.Entry{Kind: record.Quarantine, Item: item, Note: event.Note, Quarantine: &record.Quarantined{Event: event.Kind, In: event.In}}
	if err := w.note(w.signer, stop); err != nil {
		return err
	}
	if _, err := w.q.QuarantineItem(ctx, sqlc.QuarantineItemParams{TeamID: w.chain.Team, ID: item, Reason: event.Reason()}); err != nil {
		return missing(err)
	}
	stoppedRow(rows, item, event)
	return nil
}

// stoppedRow notes in an item's row what stopped it.
func stoppedRow(rows []RowOutcome, item string, event *gear.Event) {
	for i := range rows {
		if row := &rows[i]; row.Kind == "item" && row.ID == item {
			row.Stopped = event.Reason()
			row.Revision++
		}
	}
}
