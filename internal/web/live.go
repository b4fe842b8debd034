package web

import (
	"context"
	"net/http"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/sse"
	"github.com/google/uuid"

	"zealousknot/internal/store"
)

// heartbeat is how often a page that listens is notified that the line still stands, and
// how long a sign-in that was ended elsewhere may go on listening.
const heartbeat = 20 * time.Second

// changesPath is the one request that lasts.
const changesPath = "/api/v1/changes"

// listeners are the pages that want to receive changes.
type listeners struct {
	mu sync.Mutex
	of map[chan store.Change]uuid.UUID
}

func (l *listeners) add(team uuid.UUID) chan store.Change {
	ch := make(chan store.Change, 16)
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.of == nil {
		l.of = map[chan store.Change]uuid.UUID{}
	}
	l.of[ch] = team
	return ch
}

func (l *listeners) count() int {
	l.mu.Lock()
	defer l.mu.Unlock()
	return len(l.of)
}

func (l *listeners) remove(ch chan store.Change) {
	l.mu.Lock()
	defer l.mu.Unlock()
	delete(l.of, ch)
}

// tell tells every page of a team; of all teams where it is nil. A page that is too
// slow to take one by one is notified that it missed some.
func (l *listeners) tell(team uuid.UUID, c store.Change) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for ch, t := range l.of {
		if t != team && team != uuid.Nil {
			continue
		}
		say := c // what one page missed is nothing to the others
		for sent := false; !sent; {
			select {
			case ch <- say:
				sent = true
			default:
				select {
				case <-ch:
				default:
				}
				say = store.Change{All: true}
			}
		}
	}
}

// Beat is sent now and then, so that a line that broke is noticed.
type Beat struct{}

func (c *Config) registerChanges(api huma.API) {
	o := operation(http.MethodGet, "changes", "/changes", "What changes in the team, as it happens (server-sent events)")
	sse.Register(api, o, map[string]any{"change": store.Change{}, "beat": Beat{}}, func(ctx context.Context, _ *struct{}, send sse.Sender) {
		c.changes(ctx, send)
	})
}

func (c *Config) changes(ctx context.Context, send sse.Sender) {
	i := who(ctx)
	changes := c.listeners.add(i.Team.ID)
	defer c.listeners.remove(changes)
	if send.Data(Beat{}) != nil {
		return
	}
	tick := time.NewTicker(heartbeat)
	defer tick.Stop()
	for {
		var err error
		select {
		case <-ctx.Done():
			return
		case <-c.done:
			return
		case change := <-changes:
			err = send.Data(change)
		case <-tick.C:
			if now, gone := c.signedIn(ctx, i.SignIn); gone != nil || now.Team.ID != i.Team.ID {
				return
			}
			err = send.Data(Beat{})
		}
		if err != nil {
			return
		}
	}
}
