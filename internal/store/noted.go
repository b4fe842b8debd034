package store

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"reflect"
	"slices"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store/sqlc"
)

// notedOf is what is kept of a rope's map; nil where it is nothing.
func notedOf(n *gear.Noted) *gear.Noted {
	if n == nil || n.MostMM == 0 && len(n.Damage) == 0 {
		return nil
	}
	return n
}

// Standing gives the records about an item that stand, first ones first.
func (s *Store) Standing(ctx context.Context, team uuid.UUID, item string) ([]record.Numbered, error) {
	return standing(ctx, s.q, team, item)
}

// standing gives the records about an item that stand, first ones first.
func standing(ctx context.Context, q *sqlc.Queries, team uuid.UUID, item string) ([]record.Numbered, error) {
	rows, err := q.RecordsAbout(ctx, sqlc.RecordsAboutParams{TeamID: team, Kind: "item", ID: item, Before: math.MaxInt64, Limit: math.MaxInt32})
	if err != nil {
		return nil, err
	}
	var list []record.Numbered
	for _, row := range slices.Backward(rows) {
		if row.CorrectedBy > 0 {
			continue
		}
		c := new(record.Content)
		if err := json.Unmarshal(row.Content, c); err != nil {
			return nil, fmt.Errorf("record %d: %w", row.Number, err)
		}
		list = append(list, record.Numbered{Number: row.Number, Says: c})
	}
	return list, nil
}

// mapped is what the records say of a rope that whoever hangs it must know.
func mapped(ctx context.Context, q *sqlc.Queries, team uuid.UUID, rope string) (*gear.Noted, error) {
	marks, err := record.RopeMap(rope, func(item string) ([]record.Numbered, error) { return standing(ctx, q, team, item) })
	if err != nil {
		return nil, err
	}
	return record.NotedOf(marks), nil
}

// remap has ropes say what the records do, once these are written.
func (r *recorder) remap(ropes ...string) {
	for _, id := range ropes {
		if id == "" {
			continue
		}
		r.changed.item(id)
		r.effects = append(r.effects, func(ctx context.Context) error { return remap(ctx, r.q, r.team.ID, id) })
	}
}

func remap(ctx context.Context, q *sqlc.Queries, team uuid.UUID, rope string) error {
	n, err := mapped(ctx, q, team, rope)
	if err != nil {
		return err
	}
	return q.NoteItem(ctx, sqlc.NoteItemParams{TeamID: team, ID: rope, Noted: notedOf(n)})
}

// noteGiven records the damage that a rope which is new to the store comes with, such as a
// guest's: its own records are another team's.
func (w *writing) noteGiven(ctx context.Context, written []change) error {
	for _, c := range written {
		if c.before != nil || c.item == nil || c.item.Noted == nil {
			continue
		}
		for _, d := range c.item.Noted.Damage {
			e := record.Entry{Kind: record.RopeNote, Item: c.id, Note: "as it came to the team", Rope: &record.RopeNoted{What: record.RopeDamage, FromM: d.FromM, ToM: d.ToM}}
			if err := w.note(w.signer, e); err != nil {
				return err
			}
		}
		if err := w.flush(ctx); err != nil {
			return err
		}
		if err := remap(ctx, w.q, w.chain.Team, c.id); err != nil {
			return err
		}
	}
	return nil
}

// notedSince is the migration from which on ropes say what their maps have.
const notedSince = 23

// remapOld has the ropes of which something was noted before the program kept what a check needs
// of it say it.
func (s *Store) remapOld(ctx context.Context) error {
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		ropes, err := q.NotedRopes(ctx, nil)
		if err != nil {
			return err
		}
		for _, r := range ropes {
			if err := remap(ctx, q, r.TeamID, r.ID); err != nil {
				return err
			}
		}
		return nil
	})
}

// compareNoted holds what ropes say of their maps against the records.
func (s *Store) compareNoted(ctx context.Context, tx pgx.Tx, c *Chain) error {
	q := s.q.WithTx(tx)
	ropes, err := q.NotedRopes(ctx, &c.Team.ID)
	if err != nil {
		return err
	}
	for _, r := range ropes {
		said, err := mapped(ctx, q, c.Team.ID, r.ID)
		if err != nil {
			return err
		}
		if !reflect.DeepEqual(notedOf(said), notedOf(r.Noted)) {
			c.differs(c.Number, fmt.Sprintf("the rope %s, and what its map has of damage and diameters", r.ID))
		}
	}
	return nil
}
