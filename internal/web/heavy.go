package web

import (
	"context"
	"net/http"
	"runtime"
	"slices"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
)

const (
	// maxWaiting is how many heavy questions may wait, perAccount how many of them may be
	// of one account.
	maxWaiting, perAccount = 64, 8
	// patience is how long one waits before it is sent away.
	patience = 10 * time.Second
)

// turns lets so many heavy questions compute at once, and the others wait: teams in turn,
// and in a team its accounts, so that nobody's many keep another's one back.
type turns struct {
	mu      sync.Mutex
	free    int
	waiting []*turn
	// served says when a team or an account last had its turn.
	served map[uuid.UUID]int64
	count  int64
}

type turn struct {
	team, account uuid.UUID
	ready         chan struct{}
	came          int64
}

// newTurns leaves a processor to everything else where there are several.
func newTurns() *turns {
	return &turns{free: max(1, runtime.GOMAXPROCS(0)-1), served: map[uuid.UUID]int64{}}
}

// enter waits for a turn, which ends with leave. The error is errBusy, or the context's.
func (t *turns) enter(ctx context.Context, team, account uuid.UUID) (leave func(), err error) {
	t.mu.Lock()
	if t.free > 0 {
		t.free--
		t.serve(&turn{team: team, account: account})
		t.mu.Unlock()
		return t.leave, nil
	}
	mine := 0
	for _, w := range t.waiting {
		if w.account == account {
			mine++
		}
	}
	if mine >= perAccount || len(t.waiting) >= maxWaiting {
		t.mu.Unlock()
		return nil, errBusy
	}
	t.count++
	w := &turn{team, account, make(chan struct{}), t.count}
	t.waiting = append(t.waiting, w)
	t.mu.Unlock()
	late := time.NewTimer(patience)
	defer late.Stop()
	select {
	case <-w.ready:
		return t.leave, nil
	case <-late.C:
		err = errBusy
	case <-ctx.Done():
		err = ctx.Err()
	}
	t.mu.Lock()
	i := slices.Index(t.waiting, w)
	if i >= 0 {
		t.waiting = slices.Delete(t.waiting, i, i+1)
	}
	t.mu.Unlock()
	if i < 0 {
		// It had just been called.
		t.leave()
	}
	return nil, err
}

// leave gives the turn to whoever has waited longest for one: the team, then its account.
func (t *turns) leave() {
	t.mu.Lock()
	defer t.mu.Unlock()
	if len(t.waiting) == 0 {
		t.free++
		clear(t.served)
		return
	}
	w := slices.MinFunc(t.waiting, func(a, b *turn) int {
		for _, d := range []int64{t.served[a.team] - t.served[b.team], t.served[a.account] - t.served[b.account], a.came - b.came} {
			if d != 0 {
				return int(d)
			}
		}
		return 0
	})
	t.waiting = slices.DeleteFunc(t.waiting, func(o *turn) bool { return o == w })
	t.serve(w)
	close(w.ready)
}

func (t *turns) serve(w *turn) {
	t.count++
	t.served[w.team], t.served[w.account] = t.count, t.count
}

// busy gives how many wait.
func (t *turns) busy() int {
	t.mu.Lock()
	defer t.mu.Unlock()
	return len(t.waiting)
}

// heavy has a handler that may compute for seconds take turns, so that what answers in
// milliseconds never waits behind it. Its turn begins when its body is read: only from then
// on the server sees that a client has gone.
func heavy[I, O any](c *Config, handler func(context.Context, *I) (*O, error)) func(context.Context, *I) (*O, error) {
	return func(ctx context.Context, in *I) (*O, error) {
		i := who(ctx)
		leave, err := c.turns.enter(ctx, i.Team.ID, i.Account)
		if err != nil {
			p := NewProblem(http.StatusServiceUnavailable, "others are computing; try again in a moment, nothing was changed")
			return nil, huma.ErrorWithHeaders(p, http.Header{"Retry-After": {"5"}})
		}
		defer leave()
		return handler(ctx, in)
	}
}
