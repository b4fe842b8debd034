package store

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/store/sqlc"
)

// checks are those that were recorded for a day and stand, in the order in which they were done.
type checks struct {
	day      gear.Date
	function map[string][]done[rig.FunctionCheck] // by item
	partner  map[string][]done[rig.PartnerCheck]  // by person
	worn     map[string][]done[rig.WornCheck]     // by person
	// live: the day is not history, in which what was counted stays.
	live bool
	// off is when items last came off every rope, and why.
	off map[string]taken
}

// taken is why and when an item was taken off its rope, or a rope down.
type taken struct {
	at  time.Time
	why string
}

// done is a check with the drop on which it was done and when.
type done[C any] struct {
	check  C
	drop   string
	at     time.Time
	passed bool
}

// checkSaid is a check as its record has it, and who signed it.
type checkSaid struct {
	record.Content
	by string
}

// checksOf gives the checks of the days of some drops, by day.
func checksOf(ctx context.Context, q *sqlc.Queries, team Team, hours quantity.Hours, drops []*Drop) (map[gear.Date]*checks, error) {
	now := time.Now()
	s := &record.Shift{At: now, Today: gear.Date(now.In(team.Location()).Format(time.DateOnly)), Hours: hours}
	days := map[gear.Date]*checks{}
	var ask []string
	for _, d := range drops {
		day := d.Document.Day
		if days[day] == nil {
			days[day] = &checks{
				day: day, live: day >= s.Today.AddDays(-1),
				function: map[string][]done[rig.FunctionCheck]{}, partner: map[string][]done[rig.PartnerCheck]{}, worn: map[string][]done[rig.WornCheck]{},
			}
			if ask = append(ask, string(day)); day == s.Today {
				ask = append(ask, string(day.AddDays(-1)))
			}
		}
	}
	rows, err := q.ChecksOfDays(ctx, sqlc.ChecksOfDaysParams{TeamID: team.ID, Days: ask})
	if err != nil || len(rows) == 0 {
		return days, err
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
	off, err := takenOff(ctx, q, team.ID, drops)
	if err != nil {
		return nil, err
	}
	for _, c := range days {
		c.off = off
		for i := range all {
			if s.Counts(&all[i].Content, c.day) {
				c.add(&all[i], s)
			}
		}
	}
	return days, nil
}

// takenOff is when the items of some drops were last taken off, by their return from quarantine
// and the cuts of ropes.
func takenOff(ctx context.Context, q *sqlc.Queries, team uuid.UUID, drops []*Drop) (map[string]taken, error) {
	used := map[string]bool{}
	for _, d := range drops {
		maps.Copy(used, d.Document.Used())
	}
	rows, err := q.TakenOff(ctx, sqlc.TakenOffParams{TeamID: team, Ids: slices.Collect(maps.Keys(used))})
	if err != nil {
		return nil, err
	}
	off := map[string]taken{}
	for _, row := range rows {
		var c record.Content
		if err := json.Unmarshal(row.Content, &c); err != nil {
			return nil, fmt.Errorf("record %s: %w", row.ID, err)
		}
		why := "was in quarantine since"
		if c.Kind == record.RopeCutting {
			why = "was cut since"
		}
		if at := c.DoneAt(); at.After(off[c.Item].at) {
			off[c.Item] = taken{at, why}
		}
	}
	return off, nil
}

func (c *checks) add(said *checkSaid, s *record.Shift) {
	until := ""
	if u := s.Until(&said.Content, c.day); u != nil {
		until = u.UTC().Format(time.RFC3339)
	}
	over, at := s.Over(&said.Content, c.day), said.DoneAt()
	if said.Check != nil {
		f := said.FunctionCheckBy(said.by)
		f.On, f.Over, f.Until = c.day, over, until
		c.function[said.Item] = append(c.function[said.Item], done[rig.FunctionCheck]{f, said.Drop, at, f.Passed})
	}
	if said.Worn != nil {
		w := said.WornCheckBy(said.by)
		w.On, w.Over, w.Until = c.day, over, until
		c.worn[said.Person] = append(c.worn[said.Person], done[rig.WornCheck]{w, said.Drop, at, true})
	}
	if said.Partner != nil {
		p := said.PartnerCheckBy(said.by)
		p.On, p.Over, p.Until = c.day, over, until
		c.partner[said.Person] = append(c.partner[said.Person], done[rig.PartnerCheck]{p, said.Drop, at, said.Partner.Passed})
	}
}

// lastOn is the last word on something for a drop; over says why it counts no more, if so:
// what is put on a rope somewhere else is proved again where it comes back to, and so is what
// was stopped. What counted for a day that is history stays. Nil where nothing was said, on any
// drop.
func lastOn[C any](c *checks, list []done[C], id string, of func(*C) map[string]string) (own *done[C], over string) {
	for i := range list {
		// One that names no drop was done for whatever it is on.
		if d := &list[i]; d.drop == "" || d.drop == id {
			own = d
		}
	}
	if len(list) == 0 {
		return nil, ""
	}
	last := &list[len(list)-1]
	switch {
	case own == nil && !c.live:
		return last, ""
	case own == nil:
		return last, "it was done on another drop, " + last.drop
	case !c.live:
	case own != last:
		return own, "it was checked on another drop since, " + last.drop
	}
	items := of(&own.check)
	for _, item := range slices.Sorted(maps.Keys(items)) {
		if off := c.off[item]; c.live && off.at.After(own.at) {
			return own, items[item] + " " + off.why
		}
	}
	return own, ""
}

// give gives a drop the checks of its items and people, in place of those that it has: of each
// item and of each person's rigging the last one, which decides. One that was found wrong after
// it had been passed is not passed.
func (c *checks) give(d *drop.Document, id string) {
	d.Checks, d.PartnerChecks, d.WornChecks = nil, nil, nil
	used := d.Used()
	for _, item := range slices.Sorted(maps.Keys(used)) {
		last, over := lastOn(c, c.function[item], id, func(f *rig.FunctionCheck) map[string]string {
			return map[string]string{f.Rope: "the rope", f.Item: "it"}
		})
		if last == nil {
			continue
		}
		f := last.check
		if over != "" {
			f.Over, f.Until = over, ""
		}
		d.Checks = append(d.Checks, f)
	}
	for i := range d.People {
		c.givePerson(d, &d.People[i], id, used)
	}
}

func (c *checks) givePerson(d *drop.Document, p *rig.Person, id string, used map[string]bool) {
	hangs := func(*rig.PartnerCheck) map[string]string { return hangsOn(d, p) }
	if last, over := lastOn(c, c.partner[p.ID], id, hangs); last != nil && last.passed {
		k := last.check
		if over != "" {
			k.Over, k.Until = over, ""
		}
		d.PartnerChecks = append(d.PartnerChecks, k)
	}
	// What somebody wears goes with them from drop to drop.
	for _, w := range c.worn[p.ID] {
		w.check.Items = slices.DeleteFunc(slices.Clone(w.check.Items), func(i rig.WornItem) bool {
			// What the drop knows nothing of, it does not name.
			return !used[i.Item] || c.live && c.off[i.Item].at.After(w.at)
		})
		if len(w.check.Items) > 0 {
			d.WornChecks = append(d.WornChecks, w.check)
		}
	}
}

// hangsOn are the items of somebody's rigging with the ropes that they hang on, each with what it
// is.
func hangsOn(d *drop.Document, p *rig.Person) map[string]string {
	items := map[string]string{p.Harness: "the harness"}
	for _, h := range p.Holds {
		for _, s := range d.Strands {
			for _, rope := range s.Ropes {
				if s.ID == h.Strand {
					items[rope] = "a rope of it"
				}
			}
		}
		items[h.Device] = "a device of it"
		for _, l := range h.Links {
			items[l.Item] = "a part of it"
		}
	}
	return items
}
