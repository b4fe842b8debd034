package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/store/sqlc"
)

// Practised gives what each of a team's people practised last, by person: of every skill and way
// the last time.
func (s *Store) Practised(ctx context.Context, team uuid.UUID) (map[string][]rig.Practised, error) {
	return readPractised(ctx, s.q, team)
}

func readPractised(ctx context.Context, q *sqlc.Queries, team uuid.UUID) (map[string][]rig.Practised, error) {
	rows, err := q.Practices(ctx, team)
	by := map[string][]rig.Practised{}
	for _, r := range rows {
		by[r.PersonID] = append(by[r.PersonID], rig.Practised{Skill: r.Skill, How: rig.How(r.How), On: fromDate(r.Day), By: r.ByName})
	}
	return by, err
}

// practised gives the people of a drop what they practised.
func practised(d *drop.Document, by map[string][]rig.Practised) {
	for i := range d.People {
		d.People[i].Practised = by[d.People[i].ID]
	}
}

// practise keeps what a record says was practised.
func (r *recorder) practise(ctx context.Context, e *record.Entry) error {
	if e.Corrects != "" {
		if err := r.forget(ctx, e.Corrects); err != nil {
			return err
		}
	}
	return r.q.PutPractice(ctx, sqlc.PutPracticeParams{
		TeamID: r.team.ID, RecordID: uuid.MustParse(e.ID), PersonID: e.Person, Skill: e.Practice.Skill, How: string(e.Practice.How), Day: toDate(e.Day), ByName: r.job.signer.Name,
	})
}

// Class is a class as it is kept.
type Class struct {
	ID        string       `json:"id"`
	Version   int          `json:"version"`
	ChangedAt time.Time    `json:"changed_at"`
	ChangedBy string       `json:"changed_by,omitempty"`
	Class     *drill.Class `json:"class"`
}

// Classes gives those of a team, last changed first.
func (s *Store) Classes(ctx context.Context, team uuid.UUID) ([]Class, error) {
	rows, err := s.q.Classes(ctx, team)
	list := make([]Class, len(rows))
	for i, r := range rows {
		c, err := drill.ReadClass(r.Document)
		if err != nil {
			return nil, fmt.Errorf("class %s: %w", r.ID, err)
		}
		list[i] = Class{r.ID.String(), int(r.Version), r.ChangedAt.Time.UTC(), r.ChangedByName, c}
	}
	return list, err
}

// SaveClass keeps a class if it still has the version that it was read with, 0 for a new one,
// and gives the new version; nil removes it. A *ConflictError where somebody was faster.
func (s *Store) SaveClass(ctx context.Context, team uuid.UUID, signer *record.Signer, id uuid.UUID, version int, c *drill.Class) (saved int, err error) {
	body, err := json.Marshal(c)
	if err != nil {
		return 0, err
	}
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		var v int32
		switch {
		case c == nil:
			v, err = q.RemoveClass(ctx, sqlc.RemoveClassParams{TeamID: team, ID: id, Version: int32(version)})
		case version == 0:
			v, err = q.AddClass(ctx, sqlc.AddClassParams{TeamID: team, ID: id, Document: body, ChangedByName: signer.Name})
		default:
			v, err = q.SaveClass(ctx, sqlc.SaveClassParams{TeamID: team, ID: id, Version: int32(version), Document: body, ChangedByName: signer.Name})
		}
		if errors.Is(err, pgx.ErrNoRows) {
			now, err := q.Class(ctx, sqlc.ClassParams{TeamID: team, ID: id})
			if err != nil {
				return missing(err)
			}
			return &ConflictError{Version: int(now.Version)}
		}
		if saved = int(v); err != nil {
			return err
		}
		return (&Change{Practice: true}).tell(ctx, q, team)
	})
	return saved, err
}

// Marked is an answer with what it was worth.
type Marked struct {
	ID uuid.UUID
	// Class and Listed say which exercise of which class it was; nil for none.
	Class  *uuid.UUID
	Listed *int32
	Skill  string
	// Exercise, Answer and Mark are JSON, as they were marked.
	Exercise, Answer []byte
	Mark             *drill.Mark
}

// Sum is the SHA-256 over exercise and answer, the length of the first before it.
func (m *Marked) Sum() string {
	h := sha256.New()
	fmt.Fprintf(h, "%d\n", len(m.Exercise))
	h.Write(m.Exercise)
	h.Write(m.Answer)
	return hex.EncodeToString(h.Sum(nil))
}

// ErrMarkTaken says that the id of a mark is somebody else's.
var ErrMarkTaken = errors.New("the id of this mark is taken by another")

// GiveMark keeps a marked answer. One with full marks is recorded as practised on a screen, if
// its skill is kept and the account is a person of the team. Sent again it is kept once.
func (s *Store) GiveMark(ctx context.Context, team Team, signer *record.Signer, m *Marked) error {
	mark, err := json.Marshal(m.Mark)
	if err != nil {
		return err
	}
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		l, err := s.openLedger(ctx, q, team.ID)
		if err != nil {
			return err
		}
		n, err := q.AddMark(ctx, sqlc.AddMarkParams{
			TeamID: team.ID, ID: m.ID, ByID: signer.Account, ByName: signer.Name, PersonID: pointer(signer.Person), ClassID: m.Class, Listed: m.Listed,
			Skill: m.Skill, Score: m.Mark.Score, Exercise: string(m.Exercise), Answer: string(m.Answer), Mark: string(mark),
		})
		if err != nil {
			return err
		}
		if n == 0 {
			was, err := q.Mark(ctx, sqlc.MarkParams{TeamID: team.ID, ID: m.ID})
			if err == nil && (was.ByID != signer.Account || was.Answer != string(m.Answer) || was.Exercise != string(m.Exercise)) {
				err = ErrMarkTaken
			}
			return err
		}
		if m.Mark.Score < 1 || m.Skill == "" || signer.Person == "" {
			return (&Change{Practice: true}).tell(ctx, q, team.ID)
		}
		now := l.now.Format(time.RFC3339Nano)
		e := record.Entry{
			ID: ofRun(m.ID, "practised"), Kind: record.Practice, GivenAt: now, Day: l.today, Person: signer.Person,
			Practice: &record.Exercised{Skill: m.Skill, How: rig.OnScreen, SHA256: m.Sum()},
		}
		j := &job{signer: signer, batch: &record.Batch{SentAt: now, Records: []record.Entry{e}}, sent: l.now}
		if err := (&recorder{ledger: l, team: team, jobs: []*job{j}}).run(ctx); err != nil {
			return err
		}
		if j.err != nil {
			return j.err
		}
		if err := l.flush(ctx); err != nil {
			return err
		}
		return (&Change{Records: true, People: true, Practice: true}).tell(ctx, q, team.ID)
	})
}

// MarkLine is a mark as it is listed.
type MarkLine struct {
	ID string `json:"id"`
	By string `json:"by"`
	// Account tells two of one name apart.
	Account string     `json:"account" format:"uuid"`
	Own     bool       `json:"own,omitempty" doc:"it is of whoever asks"`
	Person  string     `json:"person,omitempty"`
	Class   string     `json:"class,omitempty"`
	Listed  *int32     `json:"listed,omitempty" doc:"which of the class's exercises as they are now, from 0; left out: it is in it no more"`
	Skill   string     `json:"skill,omitempty"`
	Kind    drill.Kind `json:"kind" enum:"faults,fails,move,apart"`
	Seed    int64      `json:"seed"`
	Level   int32      `json:"level"`
	Score   float64    `json:"score"`
	At      time.Time  `json:"at"`
}

// Marks gives the last 500, of one account or of everybody, or the last 10 000 of a class.
func (s *Store) Marks(ctx context.Context, team, asks uuid.UUID, all bool, class *uuid.UUID) ([]MarkLine, error) {
	of := sqlc.MarksParams{TeamID: team, ClassID: class}
	if !all {
		of.ByID = &asks
	}
	rows, err := s.q.Marks(ctx, of)
	if err != nil {
		return nil, err
	}
	classes, err := s.Classes(ctx, team)
	if err != nil {
		return nil, err
	}
	now := make(map[string]*drill.Class, len(classes))
	for i := range classes {
		now[classes[i].ID] = classes[i].Class
	}
	list := make([]MarkLine, len(rows))
	for i := range rows {
		list[i] = markLine(&rows[i], asks, now)
	}
	return list, nil
}

// markLine is a mark as it is listed: of a class that was changed since, at the place where its
// exercise is now.
func markLine(r *sqlc.MarksRow, asks uuid.UUID, classes map[string]*drill.Class) MarkLine {
	m := MarkLine{
		ID: r.ID.String(), By: r.ByName, Account: r.ByID.String(), Own: r.ByID == asks, Person: value(r.PersonID), Skill: r.Skill,
		Kind: drill.Kind(r.Kind), Seed: r.Seed, Level: r.Level, Score: r.Score, At: r.At.Time.UTC(),
	}
	if r.ClassID == nil {
		return m
	}
	m.Class = r.ClassID.String()
	if c := classes[m.Class]; c != nil && r.Listed != nil {
		if at := int32(c.Place(int(*r.Listed), drill.Listed{Kind: m.Kind, Seed: r.Seed, Level: int(r.Level), Move: r.Move})); at >= 0 {
			m.Listed = &at
		}
	}
	return m
}

// WholeMark is a mark with its exercise and answer.
type WholeMark struct {
	Exercise json.RawMessage `json:"exercise"`
	Answer   json.RawMessage `json:"answer"`
	Mark     json.RawMessage `json:"mark"`
}

// Mark gives one: one's own, or with all anybody's. ErrNotFound for none, or for one of others.
func (s *Store) Mark(ctx context.Context, team, asks uuid.UUID, all bool, id uuid.UUID) (*WholeMark, error) {
	row, err := s.q.Mark(ctx, sqlc.MarkParams{TeamID: team, ID: id})
	if err != nil {
		return nil, missing(err)
	}
	if row.ByID != asks && !all {
		return nil, ErrNotFound
	}
	return &WholeMark{json.RawMessage(row.Exercise), json.RawMessage(row.Answer), json.RawMessage(row.Mark)}, nil
}
