package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/store/sqlc"
)

// Drop is a drop document as it is kept.
type Drop struct {
	ID        string
	Version   int
	ChangedAt time.Time
	Document  *drop.Document
}

// AddDrop keeps a new drop under an id; ErrExists where the id is taken.
func (s *Store) AddDrop(ctx context.Context, team uuid.UUID, id string, d *drop.Document) (version int, err error) {
	return addDrop(ctx, s.q, team, id, d)
}

func addDrop(ctx context.Context, q *sqlc.Queries, team uuid.UUID, id string, d *drop.Document) (int, error) {
	body, err := json.Marshal(d)
	if err != nil {
		return 0, err
	}
	v, err := q.AddDrop(ctx, sqlc.AddDropParams{TeamID: team, ID: id, Name: d.Name, Document: body})
	if errors.Is(err, pgx.ErrNoRows) {
		return 0, ErrExists
	}
	return int(v), refused(err)
}

// Drop gives a drop by its id.
func (s *Store) Drop(ctx context.Context, team uuid.UUID, id string) (*Drop, error) {
	r, err := s.q.Drop(ctx, sqlc.DropParams{TeamID: team, ID: id})
	if err != nil {
		return nil, missing(err)
	}
	return readDrop(r.ID, r.Version, r.Document, r.ChangedAt.Time)
}

// Drops gives the drops of a team, last changed first, at most limit.
func (s *Store) Drops(ctx context.Context, team uuid.UUID, limit int) ([]*Drop, error) {
	rows, err := s.q.Drops(ctx, sqlc.DropsParams{TeamID: team, Limit: int32(limit)})
	if err != nil {
		return nil, err
	}
	list := make([]*Drop, len(rows))
	for i, r := range rows {
		if list[i], err = readDrop(r.ID, r.Version, r.Document, r.ChangedAt.Time); err != nil {
			return nil, err
		}
	}
	return list, nil
}

func readDrop(id string, version int32, body []byte, changed time.Time) (*Drop, error) {
	d, err := drop.Read(body)
	if err != nil {
		return nil, fmt.Errorf("drop %s in the database: %w", id, err)
	}
	return &Drop{ID: id, Version: int(version), ChangedAt: changed, Document: d}, nil
}

// SaveDrop replaces a drop if it still has the version it was read with, and
// gives the new version; a *ConflictError where somebody was faster.
func (s *Store) SaveDrop(ctx context.Context, team uuid.UUID, id string, version int, d *drop.Document) (int, error) {
	body, err := json.Marshal(d)
	if err != nil {
		return 0, err
	}
	v, err := s.q.SaveDrop(ctx, sqlc.SaveDropParams{TeamID: team, ID: id, Version: int32(version), Name: d.Name, Document: body})
	return s.changed(ctx, team, id, v, err)
}

// RemoveDrop removes a drop if it still has the version it was read with.
func (s *Store) RemoveDrop(ctx context.Context, team uuid.UUID, id string, version int) error {
	v, err := s.q.RemoveDrop(ctx, sqlc.RemoveDropParams{TeamID: team, ID: id, Version: int32(version)})
	_, err = s.changed(ctx, team, id, v, err)
	return err
}

// changed tells a drop that is not there from one that has another version.
func (s *Store) changed(ctx context.Context, team uuid.UUID, id string, version int32, err error) (int, error) {
	if !errors.Is(err, pgx.ErrNoRows) {
		return int(version), refused(err)
	}
	now, err := s.q.DropVersion(ctx, sqlc.DropVersionParams{TeamID: team, ID: id})
	if err != nil {
		return 0, missing(err)
	}
	return 0, &ConflictError{Version: int(now)}
}
