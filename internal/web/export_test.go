package web

import (
	"context"

	"github.com/google/uuid"

	"zealousknot/internal/store"
)

// Told gives what pages that listen get to hear: quick ones take everything at once, slow
// ones nothing until the end.
func Told(quick, slow, changes int) (heard [][]store.Change) {
	var l listeners
	team := uuid.New()
	var pages []chan store.Change
	for range quick + slow {
		pages = append(pages, l.add(team))
	}
	heard = make([][]store.Change, len(pages))
	for range changes {
		l.tell(team, store.Change{Records: true})
		for i, ch := range pages[:quick] {
			heard[i] = append(heard[i], <-ch)
		}
	}
	for i, ch := range pages {
		for len(ch) > 0 {
			heard[i] = append(heard[i], <-ch)
		}
	}
	return heard
}

// Turns are the turns of heavy questions, for tests that hold them.
type Turns = turns

// NewTurns lets n compute at once.
func NewTurns(n int) *Turns { return &turns{free: n, served: map[uuid.UUID]int64{}} }

// Enter and Waiting are what handlers use.
func (t *turns) Enter(ctx context.Context, team, account uuid.UUID) (func(), error) {
	return t.enter(ctx, team, account)
}
func (t *turns) Waiting() int { return t.busy() }

// Hold takes every turn of a site, until it is released.
func (c *Config) Hold(ctx context.Context) (release func()) {
	var all []func()
	for range c.turns.free {
		leave, err := c.turns.enter(ctx, uuid.New(), uuid.New())
		if err != nil {
			panic(err)
		}
		all = append(all, leave)
	}
	return func() {
		for _, leave := range all {
			leave()
		}
	}
}

// Failed is the problem of an error from below.
func Failed(err error) error { return failed(context.Background(), err) }

// Waits is how many wait for a turn.
func (c *Config) Waits() int { return c.turns.busy() }
