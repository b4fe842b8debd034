package store

import (
	"context"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/archive"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

// Import says how an archive is taken in.
type Import struct {
	// Name is shown instead of the name that the team had.
	Name string
	// Try writes nothing.
	Try bool
	// By is who takes it in by screen, and is its supervisor from then on: an account of this
	// server, recorded in the chain as a member that came. Nil: nobody, by the command.
	By *record.Signer
}

// ErrArchive is the kind of error of an archive that is not as it must be.
var ErrArchive = errors.New("the archive")

// Import makes a team of an archive, with the id that it had: its records are sealed over
// it. All or nothing; ErrExists where the id or the name is taken, ErrArchive where the
// archive cannot be read, is cut off, or its chain of records is broken.
func (s *Store) Import(ctx context.Context, r io.ReaderAt, size int64, how Import) (about *archive.About, err error) {
	a, err := archive.NewReader(r, size)
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrArchive, err)
	}
	err = s.inTransaction(ctx, func(tx pgx.Tx) error {
		i := &importing{ctx: ctx, tx: tx, s: s, in: a, how: how, models: map[string]*gear.Model{}}
		for _, part := range []func() error{i.team, i.gear, i.serials, i.people, i.policy, i.drops, i.photos, i.boards, i.preplans, i.runs, i.callouts, i.classes, i.marks, i.records, i.practices, i.whole, i.supervisor} {
			if err := part(); err != nil {
				return err
			}
		}
		if about = &i.about; how.Try {
			return errTried
		}
		return (&Change{All: true}).tell(ctx, i.s.q.WithTx(tx), i.id)
	})
	if errors.Is(err, errTried) {
		err = nil
	}
	if err != nil {
		return nil, err
	}
	return about, nil
}

// importing is an archive on its way in.
type importing struct {
	ctx   context.Context
	tx    pgx.Tx
	s     *Store
	in    *archive.Reader
	how   Import
	about archive.About
	got   archive.Counts
	id    uuid.UUID

	models map[string]*gear.Model
}

// wrong says that an archive is not as it must be.
func wrong(err error) error {
	if err == nil || errors.Is(err, ErrArchive) {
		return err
	}
	return fmt.Errorf("%w: %w", ErrArchive, err)
}

// loose reads a line that a later version of the program may have added to.
func loose(v any) func([]byte) error {
	return func(data []byte) error { return json.Unmarshal(data, v) }
}

func (i *importing) team() error {
	if err := i.in.JSON(archive.Manifest, func(data []byte) error { return strict.Read(data, &i.about) }); err != nil {
		return wrong(err)
	}
	if i.about.Format != archive.Format {
		return fmt.Errorf("%w: it has format %d, and this program reads %d", ErrArchive, i.about.Format, archive.Format)
	}
	if _, err := time.LoadLocation(i.about.Team.TimeZone); err != nil {
		return fmt.Errorf("%w: manifest.json: time zone %q is not known", ErrArchive, i.about.Team.TimeZone)
	}
	i.id = uuid.MustParse(i.about.Team.ID)
	if i.how.Name != "" {
		i.about.Team.Name = i.how.Name
	}
	if name := strings.TrimSpace(i.about.Team.Name); name == "" || utf8.RuneCountInString(name) > 80 {
		return fmt.Errorf("%w: the team's name has 1 to 80 letters", ErrArchive)
	}
	tag, err := i.tx.Exec(i.ctx, "INSERT INTO teams (id, name, time_zone) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING", i.id, i.about.Team.Name, i.about.Team.TimeZone)
	if err == nil && tag.RowsAffected() == 0 {
		return fmt.Errorf("%w: a team of this id or this name is here already", ErrExists)
	}
	return err
}

// copied reads a part and sends what its lines give to a table, as they come.
func (i *importing) copied(part, table string, columns []string, count *int, line func(data []byte) ([]any, error)) error {
	return i.sent(table, columns, func(send func([]any, int)) error {
		return i.in.Lines(part, func(data []byte) error {
			row, err := line(data)
			if err == nil {
				*count++
				send(row, len(data))
			}
			return err
		})
	})
}

// How much is sent together: rows, and bytes of their lines.
const atOnceRows, atOnceBytes = 2000, 8 << 20

// sent gathers rows and sends them some at a time.
func (i *importing) sent(table string, columns []string, each func(send func(row []any, bytes int)) error) error {
	var rows [][]any
	var failed error
	size := 0
	flush := func() {
		if failed == nil && len(rows) > 0 {
			_, failed = i.tx.CopyFrom(i.ctx, pgx.Identifier{table}, columns, pgx.CopyFromRows(rows))
		}
		rows, size = rows[:0], 0
	}
	err := each(func(row []any, bytes int) {
		rows, size = append(rows, row), size+bytes
		if len(rows) == atOnceRows || size > atOnceBytes {
			flush()
		}
	})
	flush()
	if err != nil {
		return wrong(err)
	}
	if failed = refused(failed); errors.Is(failed, ErrRefused) {
		return fmt.Errorf("%w: %s: %w", ErrArchive, table, failed)
	}
	return failed
}

// revised is a revision as the database keeps it.
func revised(n int) (int32, error) {
	if n < 1 || n > math.MaxInt32 {
		return 0, errors.New("the revision is missing")
	}
	return int32(n), nil
}

func (i *importing) gear() error {
	err := i.copied(archive.Models, "models", []string{"team_id", "id", "class", "body", "revision"}, &i.got.Models, func(data []byte) ([]any, error) {
		m := new(gear.Model)
		faults := strict.Faults{}
		if strict.ReadWith(&faults, data, m) {
			m.Validate("", &faults)
		}
		revision, err := revised(m.Revision)
		i.models[m.ID] = m
		return []any{i.id, m.ID, string(m.Class), text(m.Unrevised()), revision}, errors.Join(faults.Err(), err)
	})
	if err != nil {
		return err
	}
	var events [][]any
	columns := []string{
		"team_id", "id", "model_id", "class", "serial", "label", "state", "reason", "made_on", "first_used_on", "examined_on", "owner", "place", "kit",
		"length_m", "measured_mm", "condition", "guest", "again_by", "code", "lot", "harsh_months", "bought_on", "marking", "noted", "revision",
	}
	err = i.copied(archive.Items, "items", columns, &i.got.Items, func(data []byte) ([]any, error) {
		item := new(gear.Item)
		faults := strict.Faults{}
		if !strict.ReadWith(&faults, data, item) {
			return nil, faults.Err()
		}
		m := i.models[item.Model]
		if m == nil {
			return nil, fmt.Errorf("no model %q in the archive", item.Model)
		}
		item.Validate(m, "", &faults)
		for n, e := range item.Events {
			events = append(events, []any{i.id, item.ID, int32(n + 1), e.Kind, toDate(e.On), toDate(e.CheckedOn), e.Note, pointer(e.In), e.CheckedBy})
		}
		revision, err := revised(item.Revision)
		return []any{
			i.id, item.ID, item.Model, string(m.Class), item.Serial, item.Label, string(item.State), item.Reason, toDate(item.MadeOn), toDate(item.FirstUsedOn),
			toDate(item.ExaminedOn), item.Owner, item.Place, item.Kit, pointer(float64(item.LengthM)), pointer(float64(item.MeasuredMM)),
			pointer(string(item.Condition)), item.Guest, toDate(item.AgainBy), pointer(item.Code), item.Lot, pointer(int32(item.HarshMonths)), toDate(item.BoughtOn), item.Marking, notedOf(item.Noted), revision,
		}, errors.Join(faults.Err(), err)
	})
	if err != nil {
		return err
	}
	err = i.sent("item_events", []string{"team_id", "item_id", "number", "kind", "happened", "checked_on", "note", "person_in", "checked_by"}, func(send func([]any, int)) error {
		for _, e := range events {
			send(e, 0)
		}
		return nil
	})
	if err != nil {
		return err
	}
	columns = []string{"team_id", "id", "name", "wanted", "issued_to", "issued_on", "went_out", "missing", "seal", "revision"}
	return i.copied(archive.Kits, "kits", columns, &i.got.Kits, func(data []byte) ([]any, error) {
		k := new(gear.Kit)
		faults := strict.Faults{}
		if strict.ReadWith(&faults, data, k) {
			k.Validate(i.models, "", &faults)
		}
		revision, err := revised(k.Revision)
		return []any{
			i.id, k.ID, k.Name, append([]gear.KitLine{}, k.Wanted...), k.IssuedTo, toDate(k.IssuedOn), append([]string{}, k.Out...), append([]string{}, k.Missing...), k.Seal, revision,
		}, errors.Join(faults.Err(), err)
	})
}

// serials notes those that items had before: a serial is one item's for ever.
func (i *importing) serials() error {
	return wrong(i.in.Lines(archive.Serials, func(data []byte) error {
		var v archivedSerial
		if err := loose(&v)(data); err != nil {
			return err
		}
		_, err := i.tx.Exec(i.ctx, "SELECT serial_was_used($1, $2, $3, $4)", i.id, v.Model, v.Serial, v.Item)
		return err
	}))
}

func (i *importing) people() error {
	var shown [][]any
	columns := []string{"team_id", "id", "name", "mass_kg", "harness_id", "reach_up_m", "reach_out_m", "hand_mm", "papers", "revision"}
	err := i.copied(archive.People, "people", columns, &i.got.People, func(data []byte) ([]any, error) {
		p := new(rig.Member)
		if err := strict.Read(data, p); err != nil {
			return nil, err
		}
		for _, f := range p.Familiar {
			shown = append(shown, []any{i.id, p.ID, f.Model, toDate(f.On), f.By})
		}
		revision, err := revised(p.Revision)
		return []any{
			i.id, p.ID, p.Name, float64(p.MassKg), pointer(p.Harness), known(p.ReachUpM), known(p.ReachOutM), known(p.HandMM), append([]rig.Paper{}, p.Papers...), revision,
		}, err
	})
	if err != nil {
		return err
	}
	return i.sent("familiarisations", []string{"team_id", "person_id", "model_id", "shown_on", "shown_by"}, func(send func([]any, int)) error {
		for _, f := range shown {
			send(f, 0)
		}
		return nil
	})
}

func (i *importing) policy() error {
	if !i.in.Has(archive.Policy) {
		return nil
	}
	var v archivedPolicy
	if err := i.in.JSON(archive.Policy, loose(&v)); err != nil {
		return wrong(err)
	}
	version, err := revised(v.Version)
	if err := errors.Join(err, strict.Read(v.Body, new(policy.Policy))); err != nil {
		return fmt.Errorf("%w: policy.json: %w", ErrArchive, err)
	}
	_, err = i.tx.Exec(i.ctx, "INSERT INTO policies (team_id, version, body, changed_at) VALUES ($1, $2, $3, $4)", i.id, version, string(v.Body), v.ChangedAt)
	return err
}

// records walks the chain as it comes in: none is written that does not follow the one
// before it.
func (i *importing) records() error {
	chain := &record.Chain{Team: i.id}
	columns := []string{"team_id", "number", "id", "kind", "by_id", "by_name", "at", "content", "seal"}
	err := i.copied(archive.Records, "records", columns, &i.got.Records, func(data []byte) ([]any, error) {
		var v archivedRecord
		if err := json.Unmarshal(data, &v); err != nil {
			return nil, err
		}
		seal, err := hex.DecodeString(v.Seal)
		if err != nil || len(seal) != len(record.Seal{}) {
			return nil, fmt.Errorf("seal %q is none", v.Seal)
		}
		r := &record.Record{Team: i.id, Number: v.Number, ID: v.ID, Kind: record.Kind(v.Kind), By: v.By, ByName: v.ByName, At: v.At, Content: []byte(v.Content), Seal: record.Seal(seal)}
		if err := chain.Follow(r); err != nil {
			return nil, err
		}
		return []any{i.id, v.Number, v.ID, v.Kind, v.By, v.ByName, v.At, v.Content, seal}, nil
	})
	if err != nil {
		return err
	}
	var last record.Seal
	seal, _ := hex.DecodeString(i.about.Chain.Seal)
	copy(last[:], seal)
	return wrong(chain.End(i.about.Chain.Number, last))
}

// whole compares how much there was with what the manifest says.
func (i *importing) whole() error {
	if i.got != i.about.Counts {
		return fmt.Errorf("%w: it is not whole: the manifest says %+v, and there is %+v", ErrArchive, i.about.Counts, i.got)
	}
	c := &Chain{Team: Team{ID: i.id}}
	if err := errors.Join(compareItems(i.ctx, i.tx, c), i.s.compareNoted(i.ctx, i.tx, c), i.s.compareRuns(i.ctx, i.tx, c)); err != nil {
		return err
	}
	if len(c.Differs) > 0 {
		return fmt.Errorf("%w: %v", ErrArchive, c.Differs[0])
	}
	return nil
}

// supervisor lets who took it in sign in to it.
func (i *importing) supervisor() error {
	if i.how.By == nil {
		return nil
	}
	q := i.s.q.WithTx(i.tx)
	l, err := i.s.openLedger(i.ctx, q, i.id)
	if err != nil {
		return err
	}
	if err := q.AddMembership(i.ctx, sqlc.AddMembershipParams{AccountID: i.how.By.Account, TeamID: i.id, Roles: []string{"supervisor"}}); err != nil {
		return err
	}
	is, err := member(i.ctx, q, sqlc.MemberParams{TeamID: i.id, Account: i.how.By.Account})
	if err != nil {
		return err
	}
	return l.memberChanged(i.ctx, Team{i.id, i.about.Team.Name, i.about.Team.TimeZone}, i.how.By, nil, is)
}
