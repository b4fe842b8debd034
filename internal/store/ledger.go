package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgtype"

	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store/sqlc"
)

// ledger adds records to a team's chain within one transaction. While it is open
// nobody else adds to that chain, so that numbers have no gaps.
type ledger struct {
	q *sqlc.Queries
	// rescues is what the process keeps of what was found.
	rescues *cover.Cache
	chain   record.Chain
	now     time.Time
	// today is the team's day.
	today gear.Date
	rows  []sqlc.AddRecordsParams
	// added: something was, whether it is written yet or not.
	added bool
}

// openLedger waits for its turn and stands at the end of the chain. Whoever locks
// other rows too opens it first.
func (s *Store) openLedger(ctx context.Context, q *sqlc.Queries, team uuid.UUID) (*ledger, error) {
	if err := q.LockChain(ctx, team); err != nil {
		return nil, err
	}
	end, err := q.ChainEnd(ctx, team)
	if err != nil {
		return nil, missing(err)
	}
	l := &ledger{q: q, rescues: s.Rescues, chain: record.Chain{Team: team, Number: end.Number}, now: end.Now.Time.UTC().Truncate(time.Microsecond)}
	l.today = gear.Date(l.now.In(Team{TimeZone: end.TimeZone}.Location()).Format(time.DateOnly))
	copy(l.chain.Last[:], end.Seal)
	return l, nil
}

// add signs and seals a record; flush writes it.
func (l *ledger) add(signer *record.Signer, id uuid.UUID, content *record.Content) (int64, error) {
	text, err := json.Marshal(content)
	if err != nil {
		return 0, err
	}
	r := &record.Record{ID: id, Kind: content.Kind, By: signer.Account, ByName: signer.Name, At: l.now, Content: text}
	l.chain.Close(r)
	l.added = true
	l.rows = append(l.rows, sqlc.AddRecordsParams{
		TeamID: r.Team, Number: r.Number, ID: r.ID, Kind: string(r.Kind), ByID: r.By, ByName: r.ByName,
		At: pgtype.Timestamptz{Time: r.At, Valid: true}, Content: text, Seal: r.Seal[:],
	})
	return r.Number, nil
}

func (l *ledger) flush(ctx context.Context) error {
	rows := l.rows
	l.rows = nil
	if len(rows) == 0 {
		return nil
	}
	var failed error
	l.q.AddRecords(ctx, rows).Exec(func(_ int, err error) { failed = errors.Join(failed, err) })
	return failed
}
