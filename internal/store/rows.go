package store

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

// RowOutcome is what became of a row that was to be added or changed.
type RowOutcome struct {
	Kind  string `json:"kind" enum:"model,item,kit,person,member,policy,team"`
	ID    string `json:"id"`
	State string `json:"state" enum:"new,changed,same,conflict,refused" doc:"conflict: it is there with another revision than was given, or is missing"`
	// Revision is the one that is there now; 0 where the row is missing.
	Revision int            `json:"revision"`
	Errors   []strict.Fault `json:"errors,omitempty"`
	// Stopped says why an item that was written went into quarantine at once.
	Stopped string `json:"stopped,omitempty" doc:"the event or recall for which it went into quarantine at once"`
}

// States of a row.
const (
	rowNew      = "new"
	rowChanged  = "changed"
	rowSame     = "same"
	rowConflict = "conflict"
	rowRefused  = "refused"
)

// wrong reports whether a row is not as it was wanted.
func (r *RowOutcome) wrong() bool { return r.State == rowConflict || r.State == rowRefused }

// Put says how rows are written.
type Put struct {
	// Reason is recorded with what changes.
	Reason string
	// OnlyRight writes the rows that are right although others are not; otherwise one that
	// is wrong keeps all back.
	OnlyRight bool
	// Try writes nothing: it says what would become of the rows, and which plans would be
	// taken back.
	Try bool
	// Refused are rows that were refused before they came here, for the answer.
	Refused []RowOutcome
}

// errTried ends a transaction that was only a trial.
var errTried = errors.New("only tried")

// RowsError is returned where a row was not as it was wanted, and nothing was written.
type RowsError struct {
	Rows []RowOutcome
}

func (e *RowsError) Error() string {
	for _, r := range e.Rows {
		switch r.State {
		case rowConflict:
			return fmt.Sprintf("%s %s: changed meanwhile, or there already: revision %d is there now", r.Kind, r.ID, r.Revision)
		case rowRefused:
			return fmt.Sprintf("%s %s: %s", r.Kind, r.ID, (&strict.Error{Faults: r.Errors}).Error())
		}
	}
	return "refused"
}

// Unwrap gives ErrRefused, or ErrConflict where rows were refused for their revision alone.
func (e *RowsError) Unwrap() error {
	for _, r := range e.Rows {
		if r.State == rowRefused {
			return ErrRefused
		}
	}
	return ErrConflict
}

// Conflicts counts the rows of which another revision is there.
func (e *RowsError) Conflicts() (n int) {
	for _, r := range e.Rows {
		if r.State == rowConflict {
			n++
		}
	}
	return n
}

// change is a row on its way into the database.
type change struct {
	kind, id string
	// at is where the row stands in what was given, as a JSON Pointer.
	at string
	// given is the revision that it was read with, 0 for a new one; was the one that is
	// there.
	given, was int
	// before and after are its values without revisions, as JSON; before is nil for a new one.
	before, after []byte
	write         func(context.Context, *sqlc.Queries) error
	// item is the item that it writes, to be sent with others; nil for what is none.
	item *gear.Item
}

// writing is a set of rows being written in one transaction.
type writing struct {
	*ledger
	tx     pgx.Tx
	signer *record.Signer
	put    Put
}

// rows writes what changes and records it; a *RowsError where one is wrong and that keeps
// all back.
func (w *writing) rows(ctx context.Context, kind record.Kind, changes []change) (rows []RowOutcome, written []change, err error) {
	rows = make([]RowOutcome, len(changes))
	var writes []int
	for i := range changes {
		if rows[i] = changes[i].outcome(); !rows[i].wrong() && rows[i].State != rowSame {
			writes = append(writes, i)
		}
	}
	if err := w.write(ctx, changes, rows, writes); err != nil {
		return nil, nil, err
	}
	wrong := len(w.put.Refused) > 0
	for i := range rows {
		if rows[i].State == rowNew || rows[i].State == rowChanged {
			written = append(written, changes[i])
		}
		wrong = wrong || rows[i].wrong()
	}
	rows = append(w.put.Refused, rows...)
	if wrong && !w.put.OnlyRight {
		return nil, nil, &RowsError{rows}
	}
	return rows, written, w.record(kind, written)
}

// outcome is what is to become of a row, as far as its revision says.
func (c *change) outcome() RowOutcome {
	row := RowOutcome{Kind: c.kind, ID: c.id, State: rowNew, Revision: 1}
	switch {
	case c.before != nil && bytes.Equal(c.before, c.after):
		row.State, row.Revision = rowSame, c.was
	case c.given != c.was:
		row.State, row.Revision = rowConflict, c.was
	case c.was > 0:
		row.State, row.Revision = rowChanged, c.was+1
	}
	return row
}

// write writes some rows: all at once, and where the database refuses one, each by itself,
// so that it is known which.
func (w *writing) write(ctx context.Context, changes []change, rows []RowOutcome, writes []int) error {
	err := w.within(ctx, func(q *sqlc.Queries) error {
		var items []*gear.Item
		for _, i := range writes {
			if c := &changes[i]; c.item != nil {
				items = append(items, c.item)
			} else if err := c.write(ctx, q); err != nil {
				return err
			}
		}
		return putItems(ctx, q, w.chain.Team, items...)
	})
	if !errors.Is(err, ErrRefused) {
		return err
	}
	for _, i := range writes {
		c := &changes[i]
		err := w.within(ctx, func(q *sqlc.Queries) error { return c.write(ctx, q) })
		if errors.Is(err, ErrRefused) {
			rows[i].State, rows[i].Revision = rowRefused, c.was
			rows[i].Errors = []strict.Fault{{Pointer: c.at, Detail: err.Error()}}
		} else if err != nil {
			return err
		}
	}
	return nil
}

// within does something that is undone by itself where it fails.
func (w *writing) within(ctx context.Context, do func(*sqlc.Queries) error) error {
	return refused(pgx.BeginFunc(ctx, w.tx, func(sub pgx.Tx) error { return do(w.q.WithTx(sub)) }))
}

// record notes what was written, all of it in one record.
func (w *writing) record(kind record.Kind, written []change) error {
	if len(written) == 0 {
		return nil
	}
	changed := &record.Changed{Count: len(written)}
	for _, c := range written {
		changed.Rows = append(changed.Rows, record.ChangedRow{Kind: c.kind, ID: c.id, Revision: c.was + 1, Before: c.before, After: c.after})
	}
	return w.ledger.change(w.signer, kind, w.put.Reason, changed)
}

// change records what somebody changed.
func (l *ledger) change(signer *record.Signer, kind record.Kind, reason string, changed *record.Changed) error {
	e := l.entry(record.Entry{Kind: kind, Note: reason})
	_, err := l.add(signer, uuid.MustParse(e.ID), &record.Content{Entry: e, Change: changed})
	return err
}

// text is a value as JSON; nil stays nil.
func text(v any) []byte {
	b, err := json.Marshal(v)
	if err != nil {
		panic(err) // what is kept can be written
	}
	return b
}
