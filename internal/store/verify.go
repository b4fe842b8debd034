package store

import (
	"context"
	"encoding/binary"
	"errors"
	"time"

	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/record"
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
}

// Verify walks the chain of every team, in one view of the database, and notes the
// seal of the record of a number on its way; 0: of none.
func (s *Store) Verify(ctx context.Context, noted int64) ([]Chain, error) {
	var chains []Chain
	options := pgx.TxOptions{IsoLevel: pgx.RepeatableRead, AccessMode: pgx.ReadOnly}
	err := pgx.BeginTxFunc(ctx, s.pool, options, func(tx pgx.Tx) error {
		ends, err := s.q.WithTx(tx).ChainForVerify(ctx)
		if err != nil {
			return err
		}
		for _, e := range ends {
			c := Chain{Team: Team{e.ID, e.Name}}
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
	rows, err := tx.Query(ctx, `SELECT number, id, by_id, at, kind, by_name, content::text, seal FROM records WHERE team_id = $1 ORDER BY number`, team)
	if err != nil {
		return chain, err
	}
	defer rows.Close()
	for rows.Next() {
		v := rows.RawValues()
		err := chain.Follow(&record.Record{
			Team: team, Number: wire(v[0]), ID: record.UUID(v[1]), By: record.UUID(v[2]), At: time.UnixMicro(since2000 + wire(v[3])),
			Kind: record.Kind(v[4]), ByName: string(v[5]), Content: v[6], Seal: record.Seal(v[7]),
		})
		if err != nil {
			return chain, err
		}
		if chain.Number == noted {
			c.Noted = chain.Last
		}
	}
	return chain, rows.Err()
}

// since2000 is the beginning of the database's times, in microseconds.
var since2000 = time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC).UnixMicro()

// wire is a whole number, or a time, as the database sends it.
func wire(b []byte) int64 { return int64(binary.BigEndian.Uint64(b)) }
