package store

import (
	"context"
	"errors"
	"fmt"
	"runtime/debug"
	"slices"
	"sync"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/record"
	"zealousknot/internal/store/sqlc"
)

// Record records the entries of a batch in their order, each once, and does what
// follows from them: an item that failed goes into quarantine. An entry that is
// refused keeps none of the others back. What is recorded stands when Record
// returns. Batches that come while one is being written are written together.
func (s *Store) Record(ctx context.Context, team Team, signer *record.Signer, b *record.Batch) ([]Outcome, error) {
	return s.enqueue(ctx, team, &job{signer: signer, batch: b})
}

// RecordOn is Record by somebody who signs with a PIN on the device of somebody else.
func (s *Store) RecordOn(ctx context.Context, team Team, signer *record.Signer, device string, b *record.Batch) ([]Outcome, error) {
	return s.enqueue(ctx, team, &job{signer: signer, device: device, batch: b})
}

func (s *Store) enqueue(ctx context.Context, team Team, j *job) ([]Outcome, error) {
	b := j.batch
	j.done = make(chan struct{})
	j.sent, _ = time.Parse(time.RFC3339Nano, b.SentAt)
	if s.queues.join(team.ID, j) {
		go s.lead(context.WithoutCancel(ctx), team)
	}
	select {
	case <-j.done:
		return j.outcomes, j.err
	case <-ctx.Done():
		// It may still be recorded; sent again it is there once.
		return nil, fmt.Errorf("%w: %w", ErrUnknown, ctx.Err())
	}
}

// RecordWhole records entries of a table in one transaction: all of them, or none where one
// is refused, unless the right ones alone are needed. With try nothing is written.
func (s *Store) RecordWhole(ctx context.Context, team Team, signer *record.Signer, entries []record.Entry, onlyRight, try bool) (outcomes []Outcome, written bool, err error) {
	now := time.Now().UTC()
	j := &job{signer: signer, batch: &record.Batch{SentAt: now.Format(time.RFC3339Nano), Records: entries}, sent: now}
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		l, err := s.openLedger(ctx, q, team.ID)
		if err != nil {
			return err
		}
		if err := (&recorder{ledger: l, team: team, jobs: []*job{j}}).run(ctx); err != nil {
			return err
		}
		wrong := slices.ContainsFunc(j.outcomes, func(o Outcome) bool { return o.State == "refused" })
		if try || wrong && !onlyRight {
			return errTried
		}
		written = true
		return nil
	})
	if errors.Is(err, errTried) {
		err = nil
	}
	return j.outcomes, written && err == nil, err
}

// job is a batch with who gave it, and what became of it.
type job struct {
	signer *record.Signer
	// device is whose it was signed on by PIN; empty for one's own.
	device   string
	batch    *record.Batch
	sent     time.Time
	outcomes []Outcome
	err      error
	done     chan struct{}
}

// queues are the batches that wait, by team.
type queues struct {
	mu      sync.Mutex
	waiting map[uuid.UUID][]*job
}

// join adds a job; lead is true where nobody writes for this team yet.
func (q *queues) join(team uuid.UUID, j *job) (lead bool) {
	q.mu.Lock()
	defer q.mu.Unlock()
	if q.waiting == nil {
		q.waiting = map[uuid.UUID][]*job{}
	}
	_, led := q.waiting[team]
	q.waiting[team] = append(q.waiting[team], j)
	return !led
}

// together is how many batches are written at once.
const together = 32

// next takes the jobs that wait; none ends the lead.
func (q *queues) next(team uuid.UUID) []*job {
	q.mu.Lock()
	defer q.mu.Unlock()
	list := q.waiting[team]
	if len(list) == 0 {
		delete(q.waiting, team)
		return nil
	}
	n := min(len(list), together)
	q.waiting[team] = slices.Clone(list[n:])
	return list[:n]
}

// writeTime bounds how long writing some batches may take.
const writeTime = 15 * time.Second

// lead writes what waits for a team until nothing does.
func (s *Store) lead(ctx context.Context, team Team) {
	for jobs := s.queues.next(team.ID); jobs != nil; jobs = s.queues.next(team.ID) {
		err := s.write(ctx, team, jobs)
		for _, j := range jobs {
			if j.err = err; err != nil && len(jobs) > 1 {
				// One of them cannot be written: it keeps none of the others back.
				j.err = s.write(ctx, team, []*job{j})
			}
			close(j.done)
		}
	}
}

// write writes some batches in one transaction: all of them, or on an error none. A
// panic is such an error: nobody else's request may go with it.
func (s *Store) write(ctx context.Context, team Team, jobs []*job) (err error) {
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("recording: %v\n%s", p, debug.Stack())
		}
	}()
	ctx, stop := context.WithTimeout(ctx, writeTime)
	defer stop()
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		l, err := s.openLedger(ctx, q, team.ID)
		if err != nil {
			return err
		}
		return (&recorder{ledger: l, team: team, jobs: jobs}).run(ctx)
	})
}
