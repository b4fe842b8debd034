package store

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"io"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/archive"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

// archivedDrop is a drop as it is kept now, and a version of one, in an archive.
type archivedDrop struct {
	Drop      string          `json:"drop,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Name      string          `json:"name" minLength:"1"`
	Version   int             `json:"version" minimum:"1"`
	ChangedAt time.Time       `json:"changed_at"`
	By        *uuid.UUID      `json:"by,omitempty"`
	ByName    *string         `json:"by_name,omitempty"`
	Document  json.RawMessage `json:"document"`
}

// archivedRecord is a record in an archive. What it says is a text, so that it stays as it
// was sealed, byte for byte.
type archivedRecord struct {
	Number  int64     `json:"number"`
	ID      uuid.UUID `json:"id"`
	Kind    string    `json:"kind"`
	By      uuid.UUID `json:"by"`
	ByName  string    `json:"by_name"`
	At      time.Time `json:"at"`
	Seal    string    `json:"seal"`
	Content string    `json:"content"`
}

// archivedSerial is a serial that an item had before the one that it has.
type archivedSerial struct {
	Model  string `json:"model"`
	Serial string `json:"serial"`
	Item   string `json:"item"`
}

// archivedPhoto is a picture that records name by a sum over it.
type archivedPhoto struct {
	Sum  string    `json:"sum"`
	Type string    `json:"type"`
	By   uuid.UUID `json:"by"`
	At   time.Time `json:"at"`
	Body []byte    `json:"body"`
}

// archivedBoard is a day's board.
type archivedBoard struct {
	Day       gear.Date       `json:"day" format:"date"`
	Version   int             `json:"version" minimum:"1"`
	ChangedAt time.Time       `json:"changed_at"`
	ByName    string          `json:"by_name,omitempty"`
	Document  json.RawMessage `json:"document"`
}

type archivedPreplan struct {
	ID        string          `json:"id"`
	Version   int             `json:"version" minimum:"1"`
	ChangedAt time.Time       `json:"changed_at"`
	ByName    string          `json:"by_name,omitempty"`
	Document  json.RawMessage `json:"document"`
}

type archivedCallout struct {
	ID        uuid.UUID       `json:"id"`
	Run       *uuid.UUID      `json:"run,omitempty"`
	ChangedAt time.Time       `json:"changed_at"`
	ByName    string          `json:"by_name,omitempty"`
	Document  json.RawMessage `json:"document"`
}

// archivedRun is a run; its documents are texts, so that they stay as they were made.
type archivedRun struct {
	ID       uuid.UUID `json:"id"`
	Drop     string    `json:"drop"`
	Day      gear.Date `json:"day" format:"date"`
	Document string    `json:"document"`
	Released string    `json:"released"`
	Phase    string    `json:"phase"`
	By       uuid.UUID `json:"by"`
	ByName   string    `json:"by_name"`
	At       time.Time `json:"at"`
}

// archivedEvent is an event of a run, as it came.
type archivedEvent struct {
	Run     uuid.UUID `json:"run"`
	ID      uuid.UUID `json:"id"`
	By      uuid.UUID `json:"by"`
	At      time.Time `json:"at"`
	Content string    `json:"content"`
}

// archivedReadings are readings of a channel, as they are packed.
type archivedReadings struct {
	Run     uuid.UUID `json:"run"`
	Channel string    `json:"channel"`
	Count   int32     `json:"count"`
	Body    []byte    `json:"body"`
}

type archivedPolicy struct {
	Version   int             `json:"version" minimum:"1"`
	ChangedAt time.Time       `json:"changed_at"`
	Body      json.RawMessage `json:"body"`
}

// archivedMark is a marked answer; exercise, answer and mark are texts, so that they stay as
// they were made.
type archivedMark struct {
	ID       uuid.UUID  `json:"id"`
	By       uuid.UUID  `json:"by"`
	ByName   string     `json:"by_name"`
	Person   *string    `json:"person,omitempty"`
	Class    *uuid.UUID `json:"class,omitempty"`
	Listed   *int32     `json:"listed,omitempty"`
	Skill    string     `json:"skill,omitempty"`
	Score    float64    `json:"score"`
	Exercise string     `json:"exercise"`
	Answer   string     `json:"answer"`
	Mark     string     `json:"mark"`
	At       time.Time  `json:"at"`
}

// Export writes everything of a team, as it is at one moment, but for who may sign in. What
// people answered in exercises is for them and a trainer alone: it comes only with marks.
func (s *Store) Export(ctx context.Context, team Team, w io.Writer, made time.Time, marks bool) error {
	options := pgx.TxOptions{IsoLevel: pgx.RepeatableRead, AccessMode: pgx.ReadOnly}
	return pgx.BeginTxFunc(ctx, s.pool, options, func(tx pgx.Tx) error {
		e := &exporting{ctx: ctx, tx: tx, s: s, team: team, out: archive.NewWriter(w)}
		e.about.Format, e.about.MadeAt = archive.Format, made.UTC().Format(time.RFC3339)
		e.about.Team.ID, e.about.Team.Name, e.about.Team.TimeZone = team.ID.String(), team.Name, team.TimeZone
		for _, part := range []func() error{e.gear, e.people, e.policy, e.drops, e.versions, e.photos, e.boards, e.preplans, e.runs, e.callouts, e.classes, func() error { return e.marks(marks) }, e.records} {
			if err := part(); err != nil {
				return err
			}
		}
		if err := e.out.JSON(archive.Manifest, e.about); err != nil {
			return err
		}
		return e.out.Close()
	})
}

// exporting is an archive that is being written.
type exporting struct {
	ctx   context.Context
	tx    pgx.Tx
	s     *Store
	team  Team
	out   *archive.Writer
	about archive.About
}

// listed writes a list, a line each, and counts it.
func listed[T any](e *exporting, name string, list []T, count *int) error {
	*count = len(list)
	return e.out.Lines(name, func(add func(any) error) error {
		for i := range list {
			if err := add(&list[i]); err != nil {
				return err
			}
		}
		return nil
	})
}

func (e *exporting) gear() error {
	g, err := readGear(e.ctx, e.s.q.WithTx(e.tx), e.team.ID)
	if err != nil {
		return err
	}
	c := &e.about.Counts
	if err := listed(e, archive.Models, g.Models, &c.Models); err != nil {
		return err
	}
	if err := listed(e, archive.Items, g.Items, &c.Items); err != nil {
		return err
	}
	if err := listed(e, archive.Kits, g.Kits, &c.Kits); err != nil {
		return err
	}
	return rowsOf(e, archive.Serials, "SELECT model_id, serial, item_id FROM serials_of($1) ORDER BY 1, 2", func(row pgx.Rows) (any, error) {
		var v archivedSerial
		return &v, row.Scan(&v.Model, &v.Serial, &v.Item)
	}, nil)
}

func (e *exporting) people() error {
	people, err := readPeople(e.ctx, e.s.q.WithTx(e.tx), e.team.ID)
	if err != nil {
		return err
	}
	slices.SortFunc(people, func(a, b rig.Member) int { return cmp.Compare(a.ID, b.ID) })
	return listed(e, archive.People, people, &e.about.Counts.People)
}

func (e *exporting) policy() error {
	p, version, err := readPolicy(e.ctx, e.s.q.WithTx(e.tx), e.team)
	if err != nil || version == 0 {
		return err
	}
	v := archivedPolicy{Version: version, Body: text(p)}
	err = e.tx.QueryRow(e.ctx, "SELECT changed_at FROM policies WHERE team_id = $1", e.team.ID).Scan(&v.ChangedAt)
	v.ChangedAt = v.ChangedAt.UTC()
	return errors.Join(err, e.out.JSON(archive.Policy, v))
}

// rowsOf writes what a query of the team gives, a line each, and counts it.
func rowsOf(e *exporting, name, query string, scan func(pgx.Rows) (any, error), count *int) error {
	rows, err := e.tx.Query(e.ctx, query, e.team.ID)
	if err != nil {
		return err
	}
	defer rows.Close()
	return e.out.Lines(name, func(add func(any) error) error {
		for rows.Next() {
			v, err := scan(rows)
			if err == nil {
				err = add(v)
			}
			if err != nil {
				return err
			}
			if count != nil {
				*count++
			}
		}
		return rows.Err()
	})
}

func scanDrop(row pgx.Rows) (v archivedDrop, err error) {
	var document string
	err = row.Scan(&v.Drop, &v.Name, &v.Version, &v.ChangedAt, &v.By, &v.ByName, &document)
	v.ChangedAt, v.Document = v.ChangedAt.UTC(), json.RawMessage(document)
	return v, err
}

func (e *exporting) drops() error {
	rows, err := e.tx.Query(e.ctx, "SELECT id, name, version, changed_at, changed_by, changed_by_name, document::text FROM drops WHERE team_id = $1 ORDER BY id", e.team.ID)
	if err != nil {
		return err
	}
	list, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (archivedDrop, error) { return scanDrop(row.(pgx.Rows)) })
	if err != nil {
		return err
	}
	e.about.Counts.Drops = len(list)
	for i := range list {
		if err := e.out.JSON(archive.Drop(list[i].Drop), &list[i]); err != nil {
			return err
		}
	}
	return nil
}

func (e *exporting) versions() error {
	const query = "SELECT drop_id, name, version, changed_at, changed_by, changed_by_name, document::text FROM drop_versions WHERE team_id = $1 ORDER BY drop_id, version"
	return rowsOf(e, archive.Versions, query, func(row pgx.Rows) (any, error) {
		v, err := scanDrop(row)
		return &v, err
	}, &e.about.Counts.Versions)
}

// photos are left out where there is none: archives were made before there were any.
func (e *exporting) photos() error {
	if n, err := e.there("photos"); err != nil || n == 0 {
		return err
	}
	const query = "SELECT encode(sum, 'hex'), type, by_id, at, body FROM photos WHERE team_id = $1 ORDER BY sum"
	return rowsOf(e, archive.Photos, query, func(row pgx.Rows) (any, error) {
		var v archivedPhoto
		err := row.Scan(&v.Sum, &v.Type, &v.By, &v.At, &v.Body)
		v.At = v.At.UTC()
		return &v, err
	}, &e.about.Counts.Photos)
}

// there reports whether a team has any row of a table: parts of later versions of the program
// are left out where it has none.
func (e *exporting) there(table string) (n int, err error) {
	err = e.tx.QueryRow(e.ctx, "SELECT count(*) FROM "+pgx.Identifier{table}.Sanitize()+" WHERE team_id = $1", e.team.ID).Scan(&n)
	return n, err
}

func (e *exporting) boards() error {
	if n, err := e.there("boards"); err != nil || n == 0 {
		return err
	}
	const query = "SELECT day::text, version, changed_at, changed_by_name, document::text FROM boards WHERE team_id = $1 ORDER BY day"
	return rowsOf(e, archive.Boards, query, func(row pgx.Rows) (any, error) {
		var v archivedBoard
		var on, document string
		err := row.Scan(&on, &v.Version, &v.ChangedAt, &v.ByName, &document)
		v.Day, v.ChangedAt, v.Document = gear.Date(on), v.ChangedAt.UTC(), json.RawMessage(document)
		return &v, err
	}, nil)
}

func (e *exporting) preplans() error {
	if n, err := e.there("preplans"); err != nil || n == 0 {
		return err
	}
	const query = "SELECT id, version, changed_at, changed_by_name, document::text FROM preplans WHERE team_id = $1 ORDER BY id"
	return rowsOf(e, archive.Preplans, query, func(row pgx.Rows) (any, error) {
		var v archivedPreplan
		var document string
		err := row.Scan(&v.ID, &v.Version, &v.ChangedAt, &v.ByName, &document)
		v.ChangedAt, v.Document = v.ChangedAt.UTC(), json.RawMessage(document)
		return &v, err
	}, nil)
}

func (e *exporting) callouts() error {
	if n, err := e.there("callouts"); err != nil || n == 0 {
		return err
	}
	const query = "SELECT id, run_id, changed_at, changed_by_name, document::text FROM callouts WHERE team_id = $1 ORDER BY changed_at, id"
	return rowsOf(e, archive.Callouts, query, func(row pgx.Rows) (any, error) {
		var v archivedCallout
		var document string
		err := row.Scan(&v.ID, &v.Run, &v.ChangedAt, &v.ByName, &document)
		v.ChangedAt, v.Document = v.ChangedAt.UTC(), json.RawMessage(document)
		return &v, err
	}, nil)
}

func (e *exporting) classes() error {
	if n, err := e.there("classes"); err != nil || n == 0 {
		return err
	}
	const query = "SELECT id::text, version, changed_at, changed_by_name, document::text FROM classes WHERE team_id = $1 ORDER BY id"
	return rowsOf(e, archive.Classes, query, func(row pgx.Rows) (any, error) {
		var v archivedPreplan
		var document string
		err := row.Scan(&v.ID, &v.Version, &v.ChangedAt, &v.ByName, &document)
		v.ChangedAt, v.Document = v.ChangedAt.UTC(), json.RawMessage(document)
		return &v, err
	}, nil)
}

func (e *exporting) marks(with bool) error {
	if n, err := e.there("marks"); err != nil || n == 0 || !with {
		return err
	}
	const query = "SELECT id, by_id, by_name, person_id, class_id, listed, skill, score, exercise, answer, mark, at FROM marks WHERE team_id = $1 ORDER BY at, id"
	return rowsOf(e, archive.Marks, query, func(row pgx.Rows) (any, error) {
		var v archivedMark
		err := row.Scan(&v.ID, &v.By, &v.ByName, &v.Person, &v.Class, &v.Listed, &v.Skill, &v.Score, &v.Exercise, &v.Answer, &v.Mark, &v.At)
		v.At = v.At.UTC()
		return &v, err
	}, nil)
}

func (e *exporting) runs() error {
	if n, err := e.there("runs"); err != nil || n == 0 {
		return err
	}
	const query = "SELECT id, drop_id, day::text, document::text, released::text, phase, by_id, by_name, at FROM runs WHERE team_id = $1 ORDER BY at, id"
	err := rowsOf(e, archive.Runs, query, func(row pgx.Rows) (any, error) {
		var v archivedRun
		var on string
		err := row.Scan(&v.ID, &v.Drop, &on, &v.Document, &v.Released, &v.Phase, &v.By, &v.ByName, &v.At)
		v.Day, v.At = gear.Date(on), v.At.UTC()
		return &v, err
	}, nil)
	if err != nil {
		return err
	}
	const events = "SELECT run_id, id, by_id, at, content::text FROM run_events WHERE team_id = $1 ORDER BY run_id, at, id"
	err = rowsOf(e, archive.Events, events, func(row pgx.Rows) (any, error) {
		var v archivedEvent
		err := row.Scan(&v.Run, &v.ID, &v.By, &v.At, &v.Content)
		v.At = v.At.UTC()
		return &v, err
	}, nil)
	if err != nil {
		return err
	}
	if n, err := e.there("readings"); err != nil || n == 0 {
		return err
	}
	const readings = "SELECT run_id, channel, count, body FROM readings WHERE team_id = $1 ORDER BY run_id, channel, number"
	return rowsOf(e, archive.Readings, readings, func(row pgx.Rows) (any, error) {
		var v archivedReadings
		return &v, row.Scan(&v.Run, &v.Channel, &v.Count, &v.Body)
	}, nil)
}

func (e *exporting) records() error {
	const query = "SELECT number, id, kind, by_id, by_name, at, encode(seal, 'hex'), content::text FROM records WHERE team_id = $1 ORDER BY number"
	end := &e.about.Chain
	return rowsOf(e, archive.Records, query, func(row pgx.Rows) (any, error) {
		var v archivedRecord
		err := row.Scan(&v.Number, &v.ID, &v.Kind, &v.By, &v.ByName, &v.At, &v.Seal, &v.Content)
		v.At = v.At.UTC()
		end.Number, end.Seal = v.Number, v.Seal
		return &v, err
	}, &e.about.Counts.Records)
}
