package store

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

// Present gives drops what is the team's now: the record of their items, what
// their people are familiar with, the policy, and the checks that were recorded
// for them. What a document says of these itself does not count.
func (s *Store) Present(ctx context.Context, team Team, drops ...*Drop) error {
	return present(ctx, s.q, team, drops...)
}

func present(ctx context.Context, q *sqlc.Queries, team Team, drops ...*Drop) error {
	p, _, err := readPolicy(ctx, q, team)
	if err != nil {
		return err
	}
	people, err := readPeople(ctx, q, team.ID)
	if err != nil {
		return err
	}
	last, err := readPractised(ctx, q, team.ID)
	if err != nil {
		return err
	}
	said, err := checksOf(ctx, q, team, p.With().Day.CheckH, drops)
	if err != nil {
		return err
	}
	named := map[string]bool{}
	for _, d := range drops {
		said.give(d.Document, d.ID)
		for _, id := range d.Document.Names() {
			named[id] = true
		}
	}
	g, err := readNamed(ctx, q, team.ID, slices.Collect(maps.Keys(named)))
	if err != nil {
		return err
	}
	sites, err := sitesOf(ctx, q, team.ID, drops)
	if err != nil {
		return err
	}
	for _, d := range drops {
		familiar(d.Document, people)
		registered(d, sites)
		practised(d.Document, last)
		d.Document.Refresh(g)
		d.Document.Policy = *p
	}
	return nil
}

// readNamed reads some items with their models, as plans know them: of what a plan depends
// on the revision is no part.
func readNamed(ctx context.Context, q *sqlc.Queries, team uuid.UUID, ids []string) (*drop.Store, error) {
	rows, err := q.ItemsByID(ctx, sqlc.ItemsByIDParams{TeamID: team, Ids: ids})
	if err != nil {
		return nil, err
	}
	events, err := q.EventsOf(ctx, sqlc.EventsOfParams{TeamID: team, Ids: ids})
	if err != nil {
		return nil, err
	}
	happened := map[string][]gear.Event{}
	for _, e := range events {
		happened[e.ItemID] = append(happened[e.ItemID], event(e))
	}
	g := &drop.Store{}
	models := map[string]bool{}
	for _, row := range rows {
		i := item(row.Item).Unrevised()
		i.Events = happened[i.ID]
		g.Items = append(g.Items, i)
		if models[i.Model] {
			continue
		}
		models[i.Model] = true
		var m gear.Model
		if err := strict.Read(row.Body, &m); err != nil {
			return nil, fmt.Errorf("model in the database: %w", err)
		}
		g.Models = append(g.Models, m)
	}
	return g, nil
}

func familiar(d *drop.Document, people []rig.Member) {
	for i := range d.People {
		d.People[i].Listed = nil
		if j := slices.IndexFunc(people, func(m rig.Member) bool { return m.ID == d.People[i].ID }); j >= 0 {
			d.People[i].Familiar, d.People[i].Listed = people[j].Familiar, rig.ListedOf(&people[j], &d.People[i])
		}
	}
}

// sitesOf are the pre-plans that name some drops.
func sitesOf(ctx context.Context, q *sqlc.Queries, team uuid.UUID, drops []*Drop) (sites []*callout.Preplan, err error) {
	ids := make([]string, len(drops))
	for i, d := range drops {
		ids[i] = d.ID
	}
	rows, err := q.PreplansOf(ctx, sqlc.PreplansOfParams{TeamID: team, Drops: ids})
	for _, r := range rows {
		p, err := callout.ReadPreplan(r.Document)
		if err != nil {
			return nil, fmt.Errorf("pre-plan %s: %w", r.ID, err)
		}
		sites = append(sites, p)
	}
	return sites, err
}

// registered gives the anchors of a drop what the register of its site has of them; where
// several do, what was examined last.
func registered(d *Drop, sites []*callout.Preplan) {
	for i := range d.Document.Anchors {
		a := &d.Document.Anchors[i]
		a.Register = nil
		for _, p := range sites {
			j := slices.IndexFunc(p.Anchors, func(r callout.Register) bool { return p.Drop == d.ID && r.Anchor == a.ID })
			if j >= 0 && (a.Register == nil || p.Anchors[j].ExaminedOn > a.Register.ExaminedOn) {
				a.Register = p.Anchors[j].Of(p.Name)
			}
		}
	}
}

func readPolicy(ctx context.Context, q *sqlc.Queries, team Team) (p *policy.Policy, version int, err error) {
	row, err := q.Policy(ctx, team.ID)
	if errors.Is(err, pgx.ErrNoRows) {
		return &policy.Policy{Name: team.Name}, 0, nil
	}
	if err != nil {
		return nil, 0, err
	}
	if p, err = policy.Read(row.Body); err != nil {
		return nil, 0, fmt.Errorf("policy in the database: %w", err)
	}
	return p, int(row.Version), nil
}
