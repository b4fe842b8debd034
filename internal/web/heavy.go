package web

import (
	"context"
	"errors"
	"net/http"
	"reflect"
	"runtime"
	"slices"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/google/uuid"

	"zealousknot/internal/core/progress"
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

// turn waits until what may take seconds may compute, so that what answers in milliseconds
// never waits behind it; leave ends it. It begins when a body is read: only from then on the
// server sees that a client has gone.
func (c *Config) turn(ctx context.Context) (leave func(), err error) {
	i := who(ctx)
	if leave, err = c.turns.enter(ctx, i.Team.ID, i.Account); err != nil {
		p := NewProblem(http.StatusServiceUnavailable, "others are computing; try again in a moment, nothing was changed")
		return nil, huma.ErrorWithHeaders(p, http.Header{"Retry-After": {"5"}})
	}
	return leave, nil
}

// heavy has a handler take turns.
func heavy[I, O any](c *Config, handler func(context.Context, *I) (*O, error)) func(context.Context, *I) (*O, error) {
	return func(ctx context.Context, in *I) (*O, error) {
		leave, err := c.turn(ctx)
		if err != nil {
			return nil, err
		}
		defer leave()
		return handler(ctx, in)
	}
}

// lines is the media type of an answer that says meanwhile how far it is.
const lines = "application/x-ndjson"

// sayEvery is how often it is said at most.
const sayEvery = 100 * time.Millisecond

type heavyIn struct {
	Accept string `header:"Accept" doc:"application/x-ndjson: lines {\"progress\": …} while it computes, then one {\"answer\": …} or {\"problem\": …}"`
	askedIn
}

// line is one of an answer that says how far it is.
type line struct {
	Progress *progress.Report `json:"progress,omitempty"`
	Answer   any              `json:"answer,omitempty"`
	Problem  any              `json:"problem,omitempty"`
}

// registerHeavy declares a question that may take seconds: it takes turns, stops when its
// client has gone, and says how far it is to whoever accepts lines.
func registerHeavy(api huma.API, c *Config, o huma.Operation, options []reflect.StructField, body *huma.Schema, answer func(ctx context.Context, options, request []byte) (any, error)) {
	withSchema(api, o, body, func(ctx context.Context, in *heavyIn) (*huma.StreamResponse, error) {
		asked := func(ctx context.Context) (any, error) {
			leave, err := c.turn(ctx)
			if err != nil {
				return nil, err
			}
			defer leave()
			return answer(ctx, in.options(options), in.RawBody)
		}
		if in.Accept == lines {
			return &huma.StreamResponse{Body: func(hc huma.Context) { sayLines(ctx, api, hc, asked) }}, nil
		}
		found, err := asked(ctx)
		if err != nil {
			return nil, err
		}
		return &huma.StreamResponse{Body: func(hc huma.Context) {
			hc.SetHeader("Content-Type", "application/json")
			_ = api.Marshal(hc.BodyWriter(), "application/json", found)
		}}, nil
	})
}

// sayLines computes and says meanwhile how far it is. What is said goes through another
// goroutine: a client that reads slowly keeps nobody's turn.
func sayLines(ctx context.Context, api huma.API, hc huma.Context, ask func(context.Context) (any, error)) {
	hc.SetHeader("Content-Type", lines)
	// A proxy that gathers answers would gather these.
	hc.SetHeader("X-Accel-Buffering", "no")
	w := hc.BodyWriter()
	write := func(l line) {
		_ = api.Marshal(w, "application/json", l)
		if f, ok := w.(http.Flusher); ok {
			f.Flush()
		}
	}
	said, written := make(chan progress.Report, 1), make(chan struct{})
	go func() {
		defer close(written)
		for r := range said {
			write(line{Progress: &r})
		}
	}()
	var last time.Time
	found, err := ask(progress.Told(ctx, func(r progress.Report) {
		if now := time.Now(); now.Sub(last) >= sayEvery {
			last = now
			select {
			case said <- r:
			default: // the one before is not yet written
			}
		}
	}))
	close(said)
	<-written
	var p *Problem
	switch {
	case err == nil:
		write(line{Answer: found})
	case errors.As(err, &p):
		of := *p
		of.RequestID = middleware.GetReqID(ctx)
		write(line{Problem: of})
	default:
		write(line{Problem: NewProblem(http.StatusInternalServerError, err.Error())})
	}
}
