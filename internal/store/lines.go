package store

import (
	"context"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"math"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store/sqlc"
)

// RecordLine is a record as it is listed: without the document that a plan state holds.
type RecordLine struct {
	Number  int64          `json:"number"`
	Account uuid.UUID      `json:"account" doc:"who signed it"`
	By      string         `json:"by"`
	At      time.Time      `json:"at" doc:"by the server's clock"`
	Seal    string         `json:"seal" doc:"SHA-256 over it and the one before it"`
	Says    record.Content `json:"says"`
	// Changes are what it changed, in words.
	Changes []string `json:"changes,omitempty" doc:"what it changed, in words"`
	// CorrectedBy is the number of the record that stands in its place.
	CorrectedBy int64 `json:"corrected_by,omitempty"`
}

// Reader is who reads: an account, and who on the team's drops it is.
type Reader struct {
	Account uuid.UUID
	Person  string
}

// Page says which of the records that were asked for are given: at most Limit, the
// last ones before a number; 0: before the end.
type Page struct {
	Before int64
	Limit  int
	// Reader is who of all hours sees their own alone; nil for somebody who sees everybody's.
	Reader *Reader
	// NoMembers leaves out who came, left or is something else now.
	NoMembers bool
}

func (p Page) before() int64 {
	if p.Before == 0 {
		return math.MaxInt64
	}
	return p.Before
}

// RecordsOfDay gives the records of a day, of one drop or of all, last first.
func (s *Store) RecordsOfDay(ctx context.Context, team uuid.UUID, day gear.Date, drop string, p Page) ([]RecordLine, error) {
	ask := sqlc.RecordsOfDayParams{TeamID: team, Day: string(day), DropID: drop, Before: p.before(), Limit: int32(p.Limit), NoMembers: p.NoMembers}
	if r := p.Reader; r != nil {
		ask.OwnHours, ask.Reader, ask.Person = true, r.Account, r.Person
	}
	rows, err := s.q.RecordsOfDay(ctx, ask)
	return lines(rows, err, func(r sqlc.RecordsOfDayRow) line { return line(r) })
}

// RecordsAbout gives the records that one thing is a subject of, last first; of a change
// its own rows.
func (s *Store) RecordsAbout(ctx context.Context, team uuid.UUID, about record.Subject, p Page) ([]RecordLine, error) {
	rows, err := s.q.RecordsAbout(ctx, sqlc.RecordsAboutParams{TeamID: team, Kind: about.Kind, ID: about.ID, Before: p.before(), Limit: int32(p.Limit)})
	return lines(rows, err, func(r sqlc.RecordsAboutRow) line { return line(r) })
}

// RecordsOfPerson gives what an account signed and what is about a person, last
// first.
func (s *Store) RecordsOfPerson(ctx context.Context, team, account uuid.UUID, person string, p Page) ([]RecordLine, error) {
	rows, err := s.q.RecordsOfPerson(ctx, sqlc.RecordsOfPersonParams{TeamID: team, Account: account, Person: person, Before: p.before(), Limit: int32(p.Limit)})
	return lines(rows, err, func(r sqlc.RecordsOfPersonRow) line { return line(r) })
}

// line is a record as every query lists it.
type line sqlc.RecordsOfDayRow

func lines[R any](rows []R, err error, of func(R) line) ([]RecordLine, error) {
	if err != nil {
		return nil, err
	}
	list := make([]RecordLine, len(rows))
	for i := range rows {
		r := of(rows[i])
		list[i] = RecordLine{Number: r.Number, Account: r.ByID, By: r.ByName, At: r.At.Time.UTC(), Seal: hex.EncodeToString(r.Seal), CorrectedBy: r.CorrectedBy}
		if err := json.Unmarshal(r.Content, &list[i].Says); err != nil {
			return nil, fmt.Errorf("record %d: %w", r.Number, err)
		}
		if c := list[i].Says.Change; c != nil {
			list[i].Changes = c.Words()
		}
	}
	return list, nil
}

// WorkHours is somebody's time on rope with one kind of work.
type WorkHours struct {
	Work  string         `json:"work"`
	Hours quantity.Hours `json:"hours_h"`
	Days  int            `json:"days"`
}

// HoursOf sums somebody's hours on rope by kind of work, most first.
func (s *Store) HoursOf(ctx context.Context, team uuid.UUID, person string) ([]WorkHours, error) {
	rows, err := s.q.HoursOfPerson(ctx, sqlc.HoursOfPersonParams{TeamID: team, Person: person})
	list := make([]WorkHours, len(rows))
	for i, r := range rows {
		list[i] = WorkHours{r.Work, quantity.Hours(r.Hours), int(r.Days)}
	}
	return list, err
}

// HoursLine is a record of hours, with who countersigned it.
type HoursLine struct {
	RecordLine
	ConfirmedBy string
}

// Examinations gives the thorough examinations of a team that stand, first ones first.
func (s *Store) Examinations(ctx context.Context, team uuid.UUID) ([]RecordLine, error) {
	rows, err := s.q.Examinations(ctx, team)
	return lines(rows, err, func(r sqlc.ExaminationsRow) line {
		return line{Number: r.Number, ByID: r.ByID, ByName: r.ByName, At: r.At, Seal: r.Seal, Content: r.Content}
	})
}

// Hours gives the hours on rope that stand, first ones first; a reader sees their own alone.
func (s *Store) Hours(ctx context.Context, team uuid.UUID, r *Reader) ([]HoursLine, error) {
	ask := sqlc.HoursParams{TeamID: team}
	if r != nil {
		ask.OwnHours, ask.Reader, ask.Person = true, r.Account, r.Person
	}
	rows, err := s.q.Hours(ctx, ask)
	list, err := lines(rows, err, func(r sqlc.HoursRow) line {
		return line{Number: r.Number, ByID: r.ByID, ByName: r.ByName, At: r.At, Seal: r.Seal, Content: r.Content}
	})
	hours := make([]HoursLine, len(list))
	for i := range list {
		hours[i] = HoursLine{list[i], rows[i].ConfirmedBy}
	}
	return hours, err
}
