package store

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store/sqlc"
)

// stopRecalled puts into quarantine each item among what was written that a recall of before is
// about and that it was not about until now: one that is new, or whose serial, lot or day of
// manufacture was corrected. It is noted in the item's row.
func (w *writing) stopRecalled(ctx context.Context, written []change, rows []RowOutcome) error {
	recalls, err := w.recallsOf(ctx, written)
	if err != nil || len(recalls) == 0 {
		return err
	}
	for _, c := range written {
		if c.item == nil {
			continue
		}
		var was gear.Item
		if c.before != nil {
			if err := json.Unmarshal(c.before, &was); err != nil {
				return fmt.Errorf("item %s: %w", c.id, err)
			}
		}
		for i := range recalls {
			of := recalls[i].Recall.Of()
			if !of.Affects(c.item) || c.before != nil && of.Affects(&was) {
				continue
			}
			if err := w.stopFor(ctx, &recalls[i], c.id, rows); err != nil {
				return err
			}
		}
	}
	return nil
}

// recallsOf are the recalls of the models of what was written, first ones first.
func (w *writing) recallsOf(ctx context.Context, written []change) (list []record.Entry, err error) {
	var models []string
	for _, c := range written {
		if c.item != nil && !slices.Contains(models, c.item.Model) {
			models = append(models, c.item.Model)
		}
	}
	if models == nil {
		return nil, nil
	}
	texts, err := w.q.RecallsOf(ctx, sqlc.RecallsOfParams{TeamID: w.chain.Team, Models: models})
	if err != nil {
		return nil, err
	}
	list = make([]record.Entry, len(texts))
	for i, text := range texts {
		var c record.Content
		if err := json.Unmarshal(text, &c); err != nil {
			return nil, fmt.Errorf("recall in the records: %w", err)
		}
		list[i] = c.Entry
	}
	return list, nil
}

// stopFor records today that a recall stops an item.
func (w *writing) stopFor(ctx context.Context, recall *record.Entry, item string, rows []RowOutcome) error {
	stop := recall.StopsFor(item)
	if stop == nil {
		return nil
	}
	stop.GivenAt, stop.Day = "", ""
	e := w.entry(*stop)
	if _, err := w.add(w.signer, uuid.MustParse(e.ID), &record.Content{Entry: e}); err != nil {
		return err
	}
	event := e.Happened()
	if err := quarantine(ctx, w.q, w.chain.Team, item, event); err != nil {
		return err
	}
	stoppedRow(rows, item, &event)
	return nil
}
