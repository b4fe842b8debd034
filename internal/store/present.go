package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

// Present gives drops what is the team's now: the record of their items, what
// their people are familiar with, the policy, and the checks that were recorded
// for their days. What a document says of these itself does not count.
func (s *Store) Present(ctx context.Context, team Team, docs ...*drop.Document) error {
	return present(ctx, s.q, team, docs...)
}

func present(ctx context.Context, q *sqlc.Queries, team Team, docs ...*drop.Document) error {
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
	days, err := checksOf(ctx, q, team, p.With().Day.CheckH, docs)
	if err != nil {
		return err
	}
	named := map[string]bool{}
	for _, d := range docs {
		days[d.Day].give(d)
		for _, id := range d.Names() {
			named[id] = true
		}
	}
	g, err := readNamed(ctx, q, team.ID, slices.Collect(maps.Keys(named)))
	if err != nil {
		return err
	}
	for _, d := range docs {
		familiar(d, people)
		practised(d, last)
		d.Refresh(g)
		d.Policy = *p
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

// checks are those that were recorded for a day and stand.
type checks struct {
	// function has the last of each item, which decides.
	function map[string]rig.FunctionCheck
	partner  map[string][]rig.PartnerCheck
	// worn has all of each person, in the order in which they were done.
	worn map[string][]rig.WornCheck
}

// checkSaid is a check as its record has it, and who signed it.
type checkSaid struct {
	record.Content
	by string
}

// checksOf gives the checks of the days of some drops, by day.
func checksOf(ctx context.Context, q *sqlc.Queries, team Team, hours quantity.Hours, docs []*drop.Document) (map[gear.Date]*checks, error) {
	now := time.Now()
	s := &record.Shift{At: now, Today: gear.Date(now.In(team.Location()).Format(time.DateOnly)), Hours: hours}
	days := map[gear.Date]*checks{}
	var ask []string
	for _, d := range docs {
		if days[d.Day] == nil {
			days[d.Day] = &checks{function: map[string]rig.FunctionCheck{}, partner: map[string][]rig.PartnerCheck{}, worn: map[string][]rig.WornCheck{}}
			if ask = append(ask, string(d.Day)); d.Day == s.Today {
				ask = append(ask, string(d.Day.AddDays(-1)))
			}
		}
	}
	rows, err := q.ChecksOfDays(ctx, sqlc.ChecksOfDaysParams{TeamID: team.ID, Days: ask})
	if err != nil {
		return nil, err
	}
	all := make([]checkSaid, len(rows))
	for i, row := range rows {
		all[i].by = row.ByName
		if err := json.Unmarshal(row.Content, &all[i].Content); err != nil {
			return nil, fmt.Errorf("record %s: %w", row.ID, err)
		}
	}
	// The last that was done decides, whatever was sent or typed last.
	slices.SortStableFunc(all, func(a, b checkSaid) int { return a.DoneAt().Compare(b.DoneAt()) })
	for i := range all {
		said := &all[i]
		for day, c := range days {
			if s.Counts(&said.Content, day) {
				until := ""
				if u := s.Until(&said.Content, day); u != nil {
					until = u.UTC().Format(time.RFC3339)
				}
				c.add(&said.Content, said.by, day, s.Over(&said.Content, day), until)
			}
		}
	}
	return days, nil
}

// add keeps the last word on each item and rigging: one that was found wrong after it had been
// passed is not passed.
func (c *checks) add(said *record.Content, by string, day gear.Date, over, until string) {
	if said.Check != nil {
		f := said.FunctionCheckBy(by)
		f.On, f.Over, f.Until = day, over, until
		c.function[said.Item] = f
	}
	if said.Worn != nil {
		w := said.WornCheckBy(by)
		w.On, w.Over, w.Until = day, over, until
		c.worn[said.Person] = append(c.worn[said.Person], w)
	}
	if said.Partner == nil {
		return
	}
	list := slices.DeleteFunc(c.partner[said.Person], func(p rig.PartnerCheck) bool { return p.Rigging == said.Partner.Rigging })
	if said.Partner.Passed {
		p := said.PartnerCheckBy(by)
		p.On, p.Over, p.Until = day, over, until
		list = append(list, p)
	}
	c.partner[said.Person] = list
}

// give gives a drop the checks of its items and people, in place of those that it has.
func (c *checks) give(d *drop.Document) {
	d.Checks, d.PartnerChecks, d.WornChecks = nil, nil, nil
	used := d.Used()
	for _, id := range slices.Sorted(maps.Keys(used)) {
		if last, ok := c.function[id]; ok {
			d.Checks = append(d.Checks, last)
		}
	}
	for _, p := range d.People {
		d.PartnerChecks = append(d.PartnerChecks, c.partner[p.ID]...)
		for _, w := range c.worn[p.ID] {
			// What the drop knows nothing of, it does not name.
			w.Items = slices.DeleteFunc(slices.Clone(w.Items), func(i rig.WornItem) bool { return !used[i.Item] })
			if len(w.Items) > 0 {
				d.WornChecks = append(d.WornChecks, w)
			}
		}
	}
}

func familiar(d *drop.Document, people []rig.Member) {
	for i := range d.People {
		if j := slices.IndexFunc(people, func(m rig.Member) bool { return m.ID == d.People[i].ID }); j >= 0 {
			d.People[i].Familiar = people[j].Familiar
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
