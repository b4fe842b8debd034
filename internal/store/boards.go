package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/day"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store/sqlc"
)

// Board is a day's board as it is kept.
type Board struct {
	Version   int
	ChangedAt time.Time
	ChangedBy string
	Document  *day.Board
}

// Board gives the board of a day; one that nobody has kept yet has version 0 and is empty.
func (s *Store) Board(ctx context.Context, team uuid.UUID, on gear.Date) (*Board, error) {
	row, err := s.q.Board(ctx, sqlc.BoardParams{TeamID: team, Day: toDate(on)})
	if errors.Is(err, pgx.ErrNoRows) {
		return &Board{Document: &day.Board{Format: day.Format, Version: day.Version, Day: on, Slots: []day.Slot{}}}, nil
	}
	if err != nil {
		return nil, err
	}
	b, err := day.Read(row.Document)
	if err != nil {
		return nil, fmt.Errorf("board of %s: %w", on, err)
	}
	return &Board{int(row.Version), row.ChangedAt.Time, row.ChangedByName, b}, nil
}

// SaveBoard keeps a board if it still has the version that it was read with, 0 for one that
// was not kept yet, and gives the new version; a *ConflictError where somebody was faster.
func (s *Store) SaveBoard(ctx context.Context, team uuid.UUID, signer *record.Signer, version int, b *day.Board) (saved int, err error) {
	body, err := json.Marshal(b)
	if err != nil {
		return 0, err
	}
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		var v int32
		if version == 0 {
			v, err = q.AddBoard(ctx, sqlc.AddBoardParams{TeamID: team, Day: toDate(b.Day), Document: body, ChangedByName: signer.Name})
		} else {
			v, err = q.SaveBoard(ctx, sqlc.SaveBoardParams{TeamID: team, Day: toDate(b.Day), Version: int32(version), Document: body, ChangedByName: signer.Name})
		}
		if errors.Is(err, pgx.ErrNoRows) {
			now, err := q.Board(ctx, sqlc.BoardParams{TeamID: team, Day: toDate(b.Day)})
			if err != nil {
				return missing(err)
			}
			return &ConflictError{Version: int(now.Version)}
		}
		if err != nil {
			return err
		}
		saved = int(v)
		return (&Change{Days: []gear.Date{b.Day}}).tell(ctx, q, team)
	})
	return saved, err
}

// Gather gives what a board is judged by: its drops and those of the day before with what is
// the team's, the team's people and policy. A drop that was removed is left for the core to
// refuse.
func (s *Store) Gather(ctx context.Context, team Team, a *day.Asked) error {
	if err := s.gatherBefore(ctx, team, a); err != nil {
		return err
	}
	boards := []*day.Board{&a.Board}
	if a.Before != nil {
		boards = append(boards, a.Before)
	}
	var ids []string
	for _, b := range boards {
		for i := range b.Slots {
			if !slices.Contains(ids, b.Slots[i].Drop) {
				ids = append(ids, b.Slots[i].Drop)
			}
		}
	}
	rows, err := s.q.DropsByID(ctx, sqlc.DropsByIDParams{TeamID: team.ID, Ids: ids})
	if err != nil {
		return err
	}
	drops := make([]*Drop, len(rows))
	for i, r := range rows {
		d, err := drop.ReadKept(r.Document)
		if err != nil {
			return fmt.Errorf("drop %s: %w", r.ID, err)
		}
		drops[i] = &Drop{ID: r.ID, Document: d}
	}
	if err := s.Present(ctx, team, drops...); err != nil {
		return err
	}
	a.Drops = nil
	for i, r := range rows {
		// One that cannot be read with the present records stops no other.
		if drops[i].Document.Validate() == nil {
			a.Drops = append(a.Drops, day.DropOf{ID: r.ID, Version: int(r.Version), Document: *drops[i].Document})
		}
	}
	if a.Kits == nil {
		kits, err := s.q.Kits(ctx, team.ID)
		if err != nil {
			return err
		}
		for _, k := range kits {
			a.Kits = append(a.Kits, kit(k))
		}
	}
	if a.People == nil {
		if a.People, err = s.People(ctx, team.ID); err != nil {
			return err
		}
	}
	if a.Policy == nil {
		a.Policy, _, err = s.Policy(ctx, team)
	}
	return err
}

// gatherBefore adds the board of the day before where there is one, and none was sent.
func (s *Store) gatherBefore(ctx context.Context, team Team, a *day.Asked) error {
	if a.Before != nil {
		return nil
	}
	before, err := s.Board(ctx, team.ID, a.Board.Day.AddDays(-1))
	if err == nil && before.Version > 0 {
		a.Before = before.Document
	}
	return err
}

// DaysBetween gives the boards of some days, and every drop that is planned for one of them.
func (s *Store) DaysBetween(ctx context.Context, team uuid.UUID, first, last gear.Date) (boards []*day.Board, drops []Planned, err error) {
	rows, err := s.q.BoardsBetween(ctx, sqlc.BoardsBetweenParams{TeamID: team, First: toDate(first), Last: toDate(last)})
	if err != nil {
		return nil, nil, err
	}
	for _, r := range rows {
		b, err := day.Read(r.Document)
		if err != nil {
			return nil, nil, err
		}
		boards = append(boards, b)
	}
	planned, err := s.q.DropsOfDays(ctx, sqlc.DropsOfDaysParams{TeamID: team, First: string(first), Last: string(last)})
	for _, p := range planned {
		drops = append(drops, Planned{p.ID, p.Name, gear.Date(p.Day)})
	}
	return boards, drops, err
}
