package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgtype"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store/sqlc"
)

// Drop is a drop document as it is kept.
type Drop struct {
	ID        string
	Version   int
	ChangedAt time.Time
	Document  *drop.Document
	// ChangedBy is who changed it last; empty where that is not known.
	ChangedBy   string
	ChangedByID *uuid.UUID
}

// AddDrop keeps a new drop under an id; ErrExists where the id is taken.
func (s *Store) AddDrop(ctx context.Context, team uuid.UUID, signer *record.Signer, id string, d *drop.Document) (version int, err error) {
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		if version, err = addDrop(ctx, q, team, signer, id, d); err != nil {
			return err
		}
		return (&Change{Drops: []string{id}}).tell(ctx, q, team)
	})
	return version, err
}

func addDrop(ctx context.Context, q *sqlc.Queries, team uuid.UUID, signer *record.Signer, id string, d *drop.Document) (int, error) {
	body, err := kept(ctx, q, team, d)
	if err != nil {
		return 0, err
	}
	v, err := q.AddDrop(ctx, sqlc.AddDropParams{TeamID: team, ID: id, Name: d.Name, Document: body, ChangedBy: accountOf(signer), ChangedByName: nameOf(signer)})
	if errors.Is(err, pgx.ErrNoRows) {
		return 0, ErrExists
	}
	return int(v), refused(err)
}

// BringBack keeps a drop again that was removed, if its last version is the one that was
// looked at; a *ConflictError where it is not, ErrNotFound where there never was such a drop.
func (s *Store) BringBack(ctx context.Context, team uuid.UUID, signer *record.Signer, id string, last int, d *drop.Document) (version int, err error) {
	versions, err := s.Versions(ctx, team, id, 0, 1)
	if err != nil {
		return 0, err
	}
	if now := versions[0].Version; now != last {
		return 0, &ConflictError{Version: now}
	}
	return s.AddDrop(ctx, team, signer, id, d)
}

// kept is a document as it is kept: without what Present gives it.
func kept(ctx context.Context, q *sqlc.Queries, team uuid.UUID, d *drop.Document) ([]byte, error) {
	ids, err := q.ItemIDs(ctx, team)
	if err != nil {
		return nil, err
	}
	own := make(map[string]bool, len(ids))
	for _, id := range ids {
		own[id] = true
	}
	return json.Marshal(d.Kept(func(item string) bool { return own[item] }))
}

// Drop gives a drop by its id, as it is kept: Present gives it what is the team's.
func (s *Store) Drop(ctx context.Context, team uuid.UUID, id string) (*Drop, error) {
	r, err := s.q.Drop(ctx, sqlc.DropParams{TeamID: team, ID: id})
	if err != nil {
		return nil, missing(err)
	}
	d, err := readDrop(r.ID, r.Version, r.Document, r.ChangedAt.Time)
	if err != nil {
		return nil, err
	}
	d.ChangedBy, d.ChangedByID = value(r.ChangedByName), r.ChangedBy
	return d, nil
}

// DropNames gives the names of drops by their ids; those that were removed have none.
func (s *Store) DropNames(ctx context.Context, team uuid.UUID, ids []string) (map[string]string, error) {
	names := map[string]string{}
	if len(ids) == 0 {
		return names, nil
	}
	rows, err := s.q.DropNames(ctx, sqlc.DropNamesParams{TeamID: team, Ids: ids})
	for _, r := range rows {
		names[r.ID] = r.Name
	}
	return names, err
}

// Drops gives the drops of a team, last changed first, at most limit.
func (s *Store) Drops(ctx context.Context, team uuid.UUID, limit int) ([]*Drop, error) {
	return s.DropsPage(ctx, team, DropsPage{Limit: limit})
}

// DropsPage is which drops of a list are needed.
type DropsPage struct {
	Limit int
	// Find are letters of a name, a site or a day; "" for all.
	Find string
	// Before and After are when the last drop that was seen was changed, and its id; zero
	// for the first page.
	Before time.Time
	After  string
}

// DropsPage gives a page of a team's drops, last changed first. A drop that is changed
// meanwhile goes to the front: whoever pages on does not see it again.
func (s *Store) DropsPage(ctx context.Context, team uuid.UUID, p DropsPage) ([]*Drop, error) {
	before := pgtype.Timestamptz{Time: p.Before, Valid: !p.Before.IsZero()}
	rows, err := s.q.Drops(ctx, sqlc.DropsParams{TeamID: team, Limit: int32(p.Limit), Find: p.Find, Before: before, After: p.After})
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
	d, err := drop.ReadKept(body)
	if err != nil {
		return nil, fmt.Errorf("drop %s in the database: %w", id, err)
	}
	return &Drop{ID: id, Version: int(version), ChangedAt: changed, Document: d}, nil
}

// SaveDrop replaces a drop if it still has the version it was read with, and
// gives the new version; a *ConflictError where somebody was faster. The document
// has what is the team's (Present). A plan that was checked or released is taken
// back by what matters.
func (s *Store) SaveDrop(ctx context.Context, team Team, signer *record.Signer, id string, version int, d *drop.Document) (saved int, err error) {
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		l, err := s.openLedger(ctx, q, team.ID)
		if err != nil {
			return err
		}
		body, err := kept(ctx, q, team.ID, d)
		if err != nil {
			return err
		}
		v, err := q.SaveDrop(ctx, sqlc.SaveDropParams{TeamID: team.ID, ID: id, Version: int32(version), Name: d.Name, Document: body, ChangedBy: accountOf(signer), ChangedByName: nameOf(signer)})
		if saved, err = whoWon(ctx, q, team.ID, id, v, err); err != nil {
			return err
		}
		return l.changed(ctx, team, signer, Change{Drops: []string{id}})
	})
	return saved, err
}

// Version is a version of a drop that was saved.
type Version struct {
	Version   int       `json:"version"`
	Name      string    `json:"name" doc:"of the drop"`
	ChangedAt time.Time `json:"changed_at"`
	// By is who saved it; left out where that is not known.
	By      string     `json:"by,omitempty"`
	Account *uuid.UUID `json:"account,omitempty"`
}

// Versions gives those of a drop that were saved, last first, at most limit, also of one
// that was removed; only those before a version, unless that is 0. ErrNotFound where there
// never was such a drop.
func (s *Store) Versions(ctx context.Context, team uuid.UUID, id string, before, limit int) ([]Version, error) {
	rows, err := s.q.DropVersions(ctx, sqlc.DropVersionsParams{TeamID: team, DropID: id, Before: int32(before), Limit: int32(limit)})
	if err == nil && len(rows) == 0 && before == 0 {
		err = ErrNotFound
	}
	list := make([]Version, len(rows))
	for i, r := range rows {
		list[i] = Version{Version: int(r.Version), Name: r.Name, ChangedAt: r.ChangedAt.Time, By: value(r.ChangedByName), Account: r.ChangedBy}
	}
	return list, err
}

// RemovedDrop is a drop that was removed, by its last version.
type RemovedDrop struct {
	ID        string    `json:"id"`
	Version   int       `json:"version"`
	Name      string    `json:"name"`
	ChangedAt time.Time `json:"changed_at" doc:"when it was last saved"`
}

// RemovedDrops gives the drops of a team that were removed, last changed first, at most limit.
func (s *Store) RemovedDrops(ctx context.Context, team uuid.UUID, limit int) ([]RemovedDrop, error) {
	rows, err := s.q.RemovedDrops(ctx, sqlc.RemovedDropsParams{TeamID: team, Limit: int32(limit)})
	list := make([]RemovedDrop, len(rows))
	for i, r := range rows {
		list[i] = RemovedDrop{r.DropID, int(r.Version), r.Name, r.ChangedAt.Time}
	}
	return list, err
}

// DropAt gives a drop as it was saved in a version.
func (s *Store) DropAt(ctx context.Context, team uuid.UUID, id string, version int) (*Drop, error) {
	r, err := s.q.DropAt(ctx, sqlc.DropAtParams{TeamID: team, DropID: id, Version: int32(version)})
	if err != nil {
		return nil, missing(err)
	}
	d, err := readDrop(id, r.Version, r.Document, r.ChangedAt.Time)
	if err != nil {
		return nil, err
	}
	d.ChangedBy, d.ChangedByID = value(r.ChangedByName), r.ChangedBy
	return d, nil
}

// accountOf and nameOf are of who changes something; nil for the program itself.
func accountOf(s *record.Signer) *uuid.UUID {
	if s == nil || s.Account == uuid.Nil {
		return nil
	}
	id := uuid.UUID(s.Account)
	return &id
}

func nameOf(s *record.Signer) *string {
	if s == nil {
		return nil
	}
	return &s.Name
}

// RemoveDrop removes a drop if it still has the version it was read with. What was
// recorded for it stands.
func (s *Store) RemoveDrop(ctx context.Context, team uuid.UUID, id string, version int) error {
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		v, err := q.RemoveDrop(ctx, sqlc.RemoveDropParams{TeamID: team, ID: id, Version: int32(version)})
		if _, err = whoWon(ctx, q, team, id, v, err); err != nil {
			return err
		}
		return (&Change{Drops: []string{id}}).tell(ctx, q, team)
	})
}

// whoWon tells a drop that is missing from one that has another version.
func whoWon(ctx context.Context, q *sqlc.Queries, team uuid.UUID, id string, version int32, err error) (int, error) {
	if !errors.Is(err, pgx.ErrNoRows) {
		return int(version), err
	}
	now, err := q.DropVersion(ctx, sqlc.DropVersionParams{TeamID: team, ID: id})
	if err != nil {
		return 0, missing(err)
	}
	return 0, &ConflictError{Version: int(now)}
}
