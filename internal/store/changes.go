package store

import (
	"context"
	"encoding/json"
	"log/slog"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/store/sqlc"
)

// Change tells what of a team's things was changed, by whatever instance of the
// program.
type Change struct {
	Records bool        `json:"records,omitempty"`
	Gear    bool        `json:"gear,omitempty"`
	People  bool        `json:"people,omitempty"`
	Policy  bool        `json:"policy,omitempty"`
	Drops   []string    `json:"drops,omitempty" doc:"ids of drops that were saved, removed, checked, or whose plan has another state"`
	Days    []gear.Date `json:"days,omitempty" doc:"days whose board was changed"`
	Runs    []uuid.UUID `json:"runs,omitempty" doc:"runs on which something was given"`
	// Callouts: of callouts or pre-plans something was changed.
	Callouts bool `json:"callouts,omitempty"`
	// Practice: in an exercise that several do together somebody took a turn, a class was
	// changed, or an answer to an exercise was marked.
	Practice bool `json:"practice,omitempty"`
	// All is sent where changes may have been missed.
	All bool `json:"all,omitempty"`

	// items and models are what of the gear was changed, people who of the people; where
	// something else may have been too they are nil.
	items, models, people map[string]bool
	// takenBack are the drops whose plan went back to draft by it, all of them.
	takenBack []string
}

// touches reports whether something that was changed is part of a drop, as it is with what
// is the team's.
func (c *Change) touches(id string, d *drop.Document) bool {
	return c.Policy || slices.Contains(c.Drops, id) ||
		c.Gear && (c.items == nil || slices.ContainsFunc(d.Items, func(i gear.Item) bool { return c.items[i.ID] }) ||
			slices.ContainsFunc(d.Models, func(m gear.Model) bool { return c.models[m.ID] })) ||
		c.People && (c.people == nil || slices.ContainsFunc(d.People, func(p rig.Person) bool { return c.people[p.ID] }))
}

// drop adds the id of a drop.
func (c *Change) drop(id string) {
	if id != "" && !slices.Contains(c.Drops, id) && len(c.Drops) < 50 {
		c.Drops = append(c.Drops, id)
	}
}

// item and person add one thing that was changed.
func (c *Change) item(id string) {
	c.kit()
	if c.items != nil {
		c.items[id] = true
	}
}

// kit notes that a kit was changed, which changes no item.
func (c *Change) kit() {
	if !c.Gear {
		c.Gear, c.items = true, map[string]bool{}
	}
}

func (c *Change) person(id string) {
	if !c.People {
		c.People, c.people = true, map[string]bool{}
	}
	if c.people != nil {
		c.people[id] = true
	}
}

// any reports whether anything was changed.
func (c *Change) any() bool {
	return c.Records || c.Gear || c.People || c.Policy || c.Callouts || c.Practice || c.All || len(c.Drops) > 0 || len(c.Days) > 0 || len(c.Runs) > 0
}

// add adds what another change changed.
func (c *Change) add(o *Change) {
	c.Records, c.Gear, c.People, c.Policy, c.Callouts, c.Practice, c.All = c.Records || o.Records, c.Gear || o.Gear, c.People || o.People, c.Policy || o.Policy, c.Callouts || o.Callouts, c.Practice || o.Practice, c.All || o.All
	for _, id := range o.Drops {
		c.drop(id)
	}
}

// channel is where changes are announced.
const channel = "team_changes"

type notice struct {
	Team uuid.UUID `json:"team"`
	Change
}

// tell tells every instance of the program, when the transaction is committed.
func (c *Change) tell(ctx context.Context, q *sqlc.Queries, team uuid.UUID) error {
	text, err := json.Marshal(notice{team, *c})
	if err != nil {
		return err
	}
	return q.Notify(ctx, string(text))
}

// Listen calls notify for every change of any team until ctx is done. After a lost
// connection it begins again and calls missed, since what was announced meanwhile
// never came.
func (s *Store) Listen(ctx context.Context, notify func(team uuid.UUID, c Change), missed func()) {
	for first := true; ctx.Err() == nil; first = false {
		if !first {
			pause(ctx, time.Second)
		}
		if err := s.listen(ctx, notify, missed); err != nil && ctx.Err() == nil {
			slog.WarnContext(ctx, "lost the LISTEN connection, reconnecting", "error", err)
		}
	}
}

func (s *Store) listen(ctx context.Context, notify func(uuid.UUID, Change), missed func()) error {
	conn, err := pgx.ConnectConfig(ctx, s.pool.Config().ConnConfig)
	if err != nil {
		return err
	}
	defer conn.Close(context.WithoutCancel(ctx))
	if _, err := conn.Exec(ctx, "LISTEN "+channel); err != nil {
		return err
	}
	missed()
	for {
		n, err := conn.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		var c notice
		if err := json.Unmarshal([]byte(n.Payload), &c); err != nil {
			return err
		}
		notify(c.Team, c.Change)
	}
}

func pause(ctx context.Context, d time.Duration) {
	select {
	case <-ctx.Done():
	case <-time.After(d):
	}
}
