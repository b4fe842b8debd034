package store

import (
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/run"
	"zealousknot/internal/store/sqlc"
)

// Chain is what a walk along a team's records found.
type Chain struct {
	Team Team
	// Number and Last are of the last record that is whole and in its place.
	Number int64
	Last   record.Seal
	// Noted is the seal of the record that was asked for.
	Noted record.Seal
	// Broken is where the chain is broken first; nil where it is whole.
	Broken *record.Break
	// Differs names what is searched for and is not as the sealed content says, at most
	// maxDiffers.
	Differs []Difference
}

// Difference is something that is made from a record and is not as the record says.
type Difference struct {
	Number int64
	// What is the column or table.
	What string
}

func (d Difference) String() string { return fmt.Sprintf("record %d: %s", d.Number, d.What) }

// maxDiffers is how many differences of a team are named.
const maxDiffers = 20

func (c *Chain) differs(number int64, what string) {
	if len(c.Differs) < maxDiffers {
		c.Differs = append(c.Differs, Difference{number, what})
	}
}

// ChainEnd gives the number and the seal of a team's last record; 0 where there is none.
func (s *Store) ChainEnd(ctx context.Context, team record.UUID) (number int64, seal record.Seal, err error) {
	end, err := s.q.ChainEnd(ctx, team)
	copy(seal[:], end.Seal)
	return end.Number, seal, missing(err)
}

// Verify walks the chain of every team, in one view of the database, compares what is
// searched for with what was sealed, and notes the seal of the record of a number on its
// way; 0: of none.
func (s *Store) Verify(ctx context.Context, noted int64) ([]Chain, error) {
	var chains []Chain
	options := pgx.TxOptions{IsoLevel: pgx.RepeatableRead, AccessMode: pgx.ReadOnly}
	err := pgx.BeginTxFunc(ctx, s.pool, options, func(tx pgx.Tx) error {
		ends, err := s.q.WithTx(tx).ChainForVerify(ctx)
		if err != nil {
			return err
		}
		for _, e := range ends {
			c := Chain{Team: Team{ID: e.ID, Name: e.Name}}
			walked, err := walk(ctx, tx, &c, noted)
			if err == nil {
				var last record.Seal
				copy(last[:], e.Seal)
				err = walked.End(e.Number, last)
			}
			c.Number, c.Last = walked.Number, walked.Last
			if err != nil && !errors.As(err, &c.Broken) {
				return err
			}
			if c.Broken == nil {
				for _, compare := range []func(context.Context, pgx.Tx, *Chain) error{compareBeyond, compareItems, s.compareNoted, s.compareRuns} {
					if err := compare(ctx, tx, &c); err != nil {
						return err
					}
				}
			}
			chains = append(chains, c)
		}
		return nil
	})
	return chains, err
}

// walk follows a team's chain to its end or to its first break. Values are taken
// as they come over the wire: there may be millions.
func walk(ctx context.Context, tx pgx.Tx, c *Chain, noted int64) (*record.Chain, error) {
	team := c.Team.ID
	chain := &record.Chain{Team: team}
	for {
		named, err := walkSome(ctx, tx, c, chain, noted)
		if err != nil || named == nil {
			return chain, err
		}
		if err := compareSubjects(ctx, tx, c, chain.Number, named); err != nil {
			return chain, err
		}
	}
}

// some is how many records are walked before their subjects are looked at.
const some = 20_000

// walkSome follows the next records of a chain and gives what each is about; nil at the end.
func walkSome(ctx context.Context, tx pgx.Tx, c *Chain, chain *record.Chain, noted int64) (named [][]record.Subject, err error) {
	rows, err := tx.Query(ctx, `SELECT number, id, by_id, at, kind, by_name, content::text, seal, day, drop_id, item_id, person_id, corrects
		FROM records WHERE team_id = $1 AND number > $2 ORDER BY number LIMIT $3`, c.Team.ID, chain.Number, some)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		v := rows.RawValues()
		r := &record.Record{
			Team: c.Team.ID, Number: wire(v[0]), ID: record.UUID(v[1]), By: record.UUID(v[2]), At: time.UnixMicro(since2000 + wire(v[3])),
			Kind: record.Kind(v[4]), ByName: string(v[5]), Content: v[6], Seal: record.Seal(v[7]),
		}
		if err := chain.Follow(r); err != nil {
			return nil, err
		}
		if chain.Number == noted {
			c.Noted = chain.Last
		}
		named = append(named, c.compareColumns(r, v[8:]))
	}
	return named, rows.Err()
}

// compareColumns compares the columns by which a record is found with what was sealed, and
// gives what it is about.
func (c *Chain) compareColumns(r *record.Record, columns [][]byte) []record.Subject {
	said, err := record.ReadSearched(r.Content)
	if err != nil {
		c.differs(r.Number, "content is not readable")
		return nil
	}
	for i, want := range [...]string{said.Day, said.Drop, said.Item, said.Person, said.Corrects} {
		if string(columns[i]) != want {
			c.differs(r.Number, "column "+[...]string{"day", "drop_id", "item_id", "person_id", "corrects"}[i])
		}
	}
	return said.Subjects
}

// compareSubjects compares what the last records up to a number are about with the table
// by which they are found.
func compareSubjects(ctx context.Context, tx pgx.Tx, c *Chain, last int64, named [][]record.Subject) error {
	first := last - int64(len(named)) + 1
	rows, err := tx.Query(ctx, `SELECT number, kind, id FROM record_subjects WHERE team_id = $1 AND number BETWEEN $2 AND $3`, c.Team.ID, first, last)
	if err != nil {
		return err
	}
	defer rows.Close()
	wrong := map[int64]bool{}
	for rows.Next() {
		v := rows.RawValues()
		n := wire(v[0])
		list := &named[n-first]
		if i := slices.Index(*list, record.Subject{Kind: string(v[1]), ID: string(v[2])}); i >= 0 {
			*list = slices.Delete(*list, i, i+1)
		} else {
			wrong[n] = true
		}
	}
	for i, missing := range named {
		if n := first + int64(i); len(missing) > 0 || wrong[n] {
			c.differs(n, "table record_subjects")
		}
	}
	return rows.Err()
}

// compareBeyond looks for subjects of records that are missing.
func compareBeyond(ctx context.Context, tx pgx.Tx, c *Chain) error {
	rows, err := tx.Query(ctx, `SELECT DISTINCT number FROM record_subjects WHERE team_id = $1 AND (number < 1 OR number > $2) ORDER BY 1 LIMIT $3`, c.Team.ID, c.Number, maxDiffers)
	if err != nil {
		return err
	}
	numbers, err := pgx.CollectRows(rows, pgx.RowTo[int64])
	for _, n := range numbers {
		c.differs(n, "table record_subjects, and there is no such record")
	}
	return err
}

// compareItems holds the state of each item against the last record that gave it one: what was
// stopped or retired is not in service by another way. Of items that no record stopped the
// store's word stands.
func compareItems(ctx context.Context, tx pgx.Tx, c *Chain) error {
	rows, err := tx.Query(ctx, `SELECT s.number, s.item_id, s.kind, coalesce(i.state, 'gone') AS state
		FROM (SELECT DISTINCT ON (item_id) number, item_id, kind FROM records
			WHERE team_id = $1 AND item_id IS NOT NULL AND kind = ANY ($2)
			ORDER BY item_id, kind = $3 DESC, number DESC) s
		LEFT JOIN items i ON i.team_id = $1 AND i.id = s.item_id
		ORDER BY s.number`, c.Team.ID, []string{string(record.Quarantine), string(record.BackInService), string(record.Retirement)}, string(record.Retirement))
	if err != nil {
		return err
	}
	type last struct {
		Number            int64
		Item, Kind, State string
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[last])
	for _, l := range list {
		said := map[record.Kind]gear.State{record.Quarantine: gear.Quarantine, record.BackInService: gear.InService, record.Retirement: gear.Retired}[record.Kind(l.Kind)]
		if is := gear.State(l.State); is != said && (is != gear.Retired || said != gear.Quarantine) {
			c.differs(l.Number, fmt.Sprintf("item %s is %s, and by this record %s", l.Item, l.State, said))
		}
	}
	return err
}

// compareRuns folds every run that was sealed again, and compares it with its record.
func (s *Store) compareRuns(ctx context.Context, tx pgx.Tx, c *Chain) error {
	rows, err := tx.Query(ctx, `SELECT number, content::text FROM records WHERE team_id = $1 AND kind = $2 ORDER BY number`, c.Team.ID, string(record.RunClosed))
	if err != nil {
		return err
	}
	type closing struct {
		Number  int64
		Content string
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[closing])
	if err != nil {
		return err
	}
	q := s.q.WithTx(tx)
	for _, l := range list {
		var said record.Content
		if json.Unmarshal([]byte(l.Content), &said) != nil || said.Run == nil {
			c.differs(l.Number, "what it says of its run is not readable")
			continue
		}
		id, err := uuid.Parse(said.Run.Run)
		if err != nil {
			c.differs(l.Number, "it names no run")
			continue
		}
		row, err := q.Run(ctx, sqlc.RunParams{TeamID: c.Team.ID, ID: id})
		if errors.Is(err, pgx.ErrNoRows) {
			c.differs(l.Number, "its run is gone")
			continue
		}
		if err != nil {
			return err
		}
		d, err := readRun(ctx, q, c.Team.ID, id, row.Document)
		if err != nil {
			return err
		}
		if st := run.Fold(d); st.Seal != said.Run.SHA256 || d.Plan != said.Run.Plan {
			c.differs(l.Number, "the events of its run are not those that were sealed")
		}
	}
	return nil
}

// since2000 is the beginning of the database's times, in microseconds.
var since2000 = time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC).UnixMicro()

// wire is a whole number, or a time, as the database sends it.
func wire(b []byte) int64 { return int64(binary.BigEndian.Uint64(b)) }
