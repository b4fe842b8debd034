package cover

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/progress"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
)

// Change is one change of the plan, with what it covers.
type Change struct {
	Words string `json:"words"`
	// GainM are metres, summed over people, that are covered with it and were not.
	GainM int `json:"gain_m"`
	// SlowM are metres that are no longer too slow, or no longer by a last resort alone.
	SlowM int `json:"slow_m,omitempty"`
	LeftM int `json:"left_m" doc:"metres that stay uncovered"`
	// Here: the person at the height that was asked about is then reached.
	Here bool   `json:"here,omitempty"`
	Why  string `json:"why"`

	drop *drop.Document
}

// Drop is the drop with the change.
func (c *Change) Drop() *drop.Document { return c.drop }

// mostChanges bounds what is tried.
const mostChanges = 14

// Changes tries single changes of a drop whose cover is known, and gives those that cover
// more, the most first. They take from a store and from a team's people; with a height they
// say whether the person is then reached there.
func Changes(ctx context.Context, s *site.Site, o Options, now *Cover, store *drop.Store, people []rig.Member, who string, at *quantity.Metres) ([]Change, error) {
	c := &changing{now: s.Drop, store: cmp.Or(store, &drop.Store{}), used: s.Drop.Used()}
	c.brakes()
	c.rescueSet()
	c.ratedForTwo()
	c.second(people)
	c.longer()
	c.carry()
	c.knots()
	before, worse := open(now)
	list := []Change{}
	for i, t := range c.list {
		if i >= mostChanges {
			break
		}
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		n := float64(min(len(c.list), mostChanges))
		changed, err := site.Open(t.drop)
		if err != nil {
			continue // it makes a drop that cannot be
		}
		pl, err := Open(progress.Part(ctx, float64(i)/n, float64(i+1)/n), changed, o)
		if err != nil || pl == nil {
			continue
		}
		cover, err := pl.Cover()
		if err != nil {
			continue
		}
		after, less := open(cover)
		if at != nil {
			ways := pl.Ways(who, *at)
			t.Here = len(ways) > 0 && ways[0].Works
		}
		if t.GainM, t.SlowM, t.LeftM = before-after, worse-less, after; t.GainM > 0 || t.GainM == 0 && t.SlowM > 0 {
			list = append(list, t)
		}
	}
	slices.SortStableFunc(list, func(a, b Change) int {
		return cmp.Or(cmp.Compare(b.GainM, a.GainM), cmp.Compare(b.SlowM, a.SlowM))
	})
	return list, ctx.Err()
}

// open counts the metres that are uncovered, and those that are too slow or by a last
// resort.
func open(c *Cover) (uncovered, worse int) {
	for _, p := range c.People {
		for _, s := range p.States {
			switch s.State {
			case "uncovered", "undecided":
				uncovered++
			case "slow", "last-resort":
				worse++
			}
		}
	}
	return uncovered, worse
}

// changing gathers the changes that are worth trying.
type changing struct {
	now   *drop.Document
	store *drop.Store
	used  map[string]bool
	list  []Change
}

// copied is the drop with everything that a change touches its own.
func (c *changing) copied() *drop.Document {
	d := c.now.Clone()
	for i := range d.People {
		d.People[i].Carries = slices.Clone(d.People[i].Carries)
	}
	d.Items, d.Models = slices.Clone(d.Items), slices.Clone(d.Models)
	r := *d.Rescue
	r.Rescuers, r.Sets = slices.Clone(r.Rescuers), slices.Clone(r.Sets)
	d.Rescue = &r
	return d
}

// take is the first free thing of the store that fits, not taken before; nil for none.
func (c *changing) take(taken map[string]bool, fits func(*gear.Item, *gear.Model) bool) (*gear.Item, *gear.Model) {
	models := gear.ModelsByID(c.store.Models)
	for i := range c.store.Items {
		item := &c.store.Items[i]
		m := models[item.Model]
		if m == nil || c.used[item.ID] || taken[item.ID] || item.State == gear.Quarantine || item.State == gear.Retired || !fits(item, m) {
			continue
		}
		taken[item.ID] = true
		return item, m
	}
	return nil, nil
}

func (c *changing) add(d *drop.Document, why, format string, args ...any) {
	c.list = append(c.list, Change{Words: fmt.Sprintf(format, args...), Why: why, drop: d})
}

func classed(class gear.Class) func(*gear.Item, *gear.Model) bool {
	return func(_ *gear.Item, m *gear.Model) bool { return m.Class == class }
}

// forTwo fits a device of a class that is rated for two of a mass.
func forTwo(class gear.Class, mass quantity.Kilograms) func(*gear.Item, *gear.Model) bool {
	return func(_ *gear.Item, m *gear.Model) bool {
		if m.Class != class || m.Device == nil {
			return false
		}
		return slices.ContainsFunc(m.Device.Modes, func(o gear.Mode) bool { return o.Persons > 1 && mass <= o.MaxKg })
	}
}

// strandSet is a set with both strands, by their numbers.
type strandSet struct{ set, main, backup int }

// sets are those of the drop with both strands, in order.
func (c *changing) sets() []strandSet {
	var list []strandSet
	for i, s := range c.now.Strands {
		for j, o := range c.now.Strands {
			if s.Role == rig.Main && o.Role == rig.Backup && s.Set == o.Set {
				list = append(list, strandSet{s.Set, i, j})
			}
		}
	}
	slices.SortStableFunc(list, func(a, b strandSet) int { return cmp.Compare(a.set, b.set) })
	return list
}

// brakes lets the strands of a set run through brakes at their anchors, with the rope
// to be paid out ready behind.
func (c *changing) brakes() {
	if c.now.Team != nil {
		return
	}
	top := c.now.Geometry.TopM
	for _, at := range c.sets() {
		d, taken := c.copied(), map[string]bool{}
		main, m := c.take(taken, classed(gear.AnchorBrake))
		belay, b := c.take(taken, classed(gear.AnchorBrake))
		if main == nil || belay == nil {
			return
		}
		d.Include(main, m)
		d.Include(belay, b)
		t := &rig.TeamRig{
			Load: rig.TeamLoad{Name: "a casualty", MassKg: heaviestOf(d), Persons: 1},
			Main: rig.TeamLine{Strand: d.Strands[at.main].ID, Brake: main.ID}, Belay: rig.TeamLine{Strand: d.Strands[at.backup].ID, Brake: belay.ID}, Operators: []string{"first operator", "second operator"},
		}
		ok := true
		for _, i := range []int{at.main, at.backup} {
			// Twice the drop, and what is needed at the top anyway.
			ok = ok && c.ropeOf(d, i, 2*top+5, taken)
			d.Strands[i].LoopsM = top + 1
		}
		if !ok {
			continue
		}
		d.Team = t
		c.add(d, "whoever hangs there is lowered at once: nobody has to go to them", "let set %d run through %s and %s at its anchors, with rope for the whole way down behind them", at.set, main.Label, belay.Label)
	}
}

func heaviestOf(d *drop.Document) quantity.Kilograms {
	most := quantity.Kilograms(80)
	for _, p := range d.People {
		most = max(most, p.MassKg)
	}
	return most
}

// ropeOf sees that a strand's one rope is long enough, else takes a longer one.
func (c *changing) ropeOf(d *drop.Document, strand int, want quantity.Metres, taken map[string]bool) bool {
	s := &d.Strands[strand]
	if len(s.Ropes) != 1 {
		return false
	}
	for i := range d.Items {
		if d.Items[i].ID == s.Ropes[0] && d.Items[i].LengthM >= want {
			return true
		}
	}
	item, m := c.take(taken, func(i *gear.Item, m *gear.Model) bool { return m.Rope != nil && i.LengthM >= want })
	if item == nil {
		return false
	}
	d.Include(item, m)
	s.Ropes = []string{item.ID}
	return true
}

// rescueSet hangs a further set beside one that is worked on, on its anchors.
func (c *changing) rescueSet() {
	top := c.now.Geometry.TopM
	next := 1
	for _, s := range c.now.Strands {
		next = max(next, s.Set+1)
	}
	for _, at := range c.sets() {
		if slices.Contains(c.now.Rescue.Sets, at.set) || next > 20 {
			continue
		}
		d, taken := c.copied(), map[string]bool{}
		long := func(i *gear.Item, m *gear.Model) bool { return m.Rope != nil && i.LengthM >= top+4 }
		main, m := c.take(taken, long)
		backup, b := c.take(taken, long)
		if main == nil || backup == nil {
			return
		}
		d.Include(main, m)
		d.Include(backup, b)
		for i, s := range []struct {
			of   int
			rope string
			role rig.Role
		}{{at.main, main.ID, rig.Main}, {at.backup, backup.ID, rig.Backup}} {
			name := []string{"rescue main", "rescue backup"}[i]
			d.Strands = append(d.Strands, rig.Strand{ID: fmt.Sprintf("rescue-%d-%s", next, s.role), Name: name, Role: s.role, Set: next, Anchors: slices.Clone(d.Strands[s.of].Anchors), Ropes: []string{s.rope}, EndStop: rig.EndKnot})
		}
		d.Rescue.Sets = append(d.Rescue.Sets, next)
		c.add(d, "a set that nobody works on is free and has nothing in the way", "hang a rescue set beside set %d, of %s and %s, on its anchors", at.set, main.Label, backup.Label)
	}
}

// ratedForTwo gives each rescuer a descender, or a backup device, that is rated for two.
func (c *changing) ratedForTwo() {
	for _, who := range c.now.Rescue.Rescuers {
		for i := range c.now.People {
			p := &c.now.People[i]
			if p.ID != who.Person {
				continue
			}
			mass := p.MassKg + heaviestOf(c.now)
			d, taken := c.copied(), map[string]bool{}
			item, m := c.take(taken, forTwo(gear.Descender, mass))
			if item == nil {
				continue
			}
			d.Include(item, m)
			d.People[i].Carries = append(d.People[i].Carries, item.ID)
			c.add(d, "two go down only on a device that is rated for two", "give %s %s, rated for two", p.Name, item.Label)
		}
	}
}

// second brings a further rescuer with a kit of the store.
func (c *changing) second(people []rig.Member) {
	tried := 0
	for _, member := range people {
		if tried > 0 || slices.ContainsFunc(c.now.People, func(p rig.Person) bool { return p.ID == member.ID }) {
			continue
		}
		d, taken := c.copied(), map[string]bool{}
		p := rig.Person{ID: member.ID, Name: member.Name, MassKg: member.MassKg, AtM: d.Geometry.TopM, Grounded: true, Familiar: member.Familiar}
		mass := member.MassKg + heaviestOf(d)
		for _, fits := range []func(*gear.Item, *gear.Model) bool{
			forTwo(gear.Descender, mass), forTwo(gear.BackupDevice, mass), classed(gear.Lanyard), classed(gear.Lanyard), classed(gear.HandAscender), classed(gear.ChestAscender), classed(gear.FootLoop), classed(gear.Pulley),
			classed(gear.Connector), classed(gear.Connector), classed(gear.Connector), classed(gear.Connector), classed(gear.Connector), classed(gear.Connector), classed(gear.Absorber),
		} {
			item, m := c.take(taken, fits)
			if item == nil {
				continue
			}
			d.Include(item, m)
			p.Carries = append(p.Carries, item.ID)
		}
		c.absorber(d, &p, taken)
		d.People = append(d.People, p)
		d.Rescue.Rescuers = append(d.Rescue.Rescuers, rig.Rescuer{Person: p.ID})
		tried++
		c.add(d, "somebody else comes while one is the casualty, or works", "bring %s as a rescuer, with a kit of the store", member.Name)
	}
}

// absorber adds a link that the backup device of a kit is used with.
func (c *changing) absorber(d *drop.Document, p *rig.Person, taken map[string]bool) {
	for _, id := range p.Carries {
		for i := range d.Items {
			if d.Items[i].ID != id {
				continue
			}
			for j := range d.Models {
				m := &d.Models[j]
				if m.ID != d.Items[i].Model || m.Backup == nil {
					continue
				}
				for _, l := range m.Backup.Links {
					if item, link := c.take(taken, func(_ *gear.Item, o *gear.Model) bool { return o.ID == l.Model }); item != nil {
						d.Include(item, link)
						p.Carries = append(p.Carries, item.ID)
						return
					}
				}
			}
		}
	}
}

// longer gives strands that end above the landing a longer rope.
func (c *changing) longer() {
	top := c.now.Geometry.TopM
	for i := range c.now.Strands {
		s := &c.now.Strands[i]
		if len(s.Ropes) != 1 || s.ToM > 0 {
			continue
		}
		d, taken := c.copied(), map[string]bool{}
		if c.ropeOf(d, i, top+6, taken) && d.Strands[i].Ropes[0] != s.Ropes[0] {
			c.add(d, "two go all the way to the landing on one rope", "a longer rope on the %s strand of set %d: %s", s.Name, s.Set, d.Label(d.Strands[i].Ropes[0]))
		}
	}
}

// carry puts what a pick-off wants onto the first rescuer.
func (c *changing) carry() {
	for _, what := range []struct {
		words, why string
		classes    []gear.Class
	}{
		{"three connectors", "a chain to the casualty and the friction for two take three", []gear.Class{gear.Connector, gear.Connector, gear.Connector}},
		{"a long lanyard and three connectors", "the casualty hangs on two connections", []gear.Class{gear.Lanyard, gear.Connector, gear.Connector, gear.Connector}},
		{"a hand ascender, a foot loop and a pulley", "who hangs in what grips is lifted first", []gear.Class{gear.HandAscender, gear.FootLoop, gear.Pulley}},
		{"a second descender and backup device rated for two", "past a re-belay two go from one descender onto another", []gear.Class{gear.Descender, gear.BackupDevice}},
		{"an evacuation kit", "a last resort is better than nothing", []gear.Class{gear.Evacuation}},
	} {
		// One rescuer is enough to try.
		i := slices.IndexFunc(c.now.People, func(p rig.Person) bool { return p.ID == c.now.Rescue.Rescuers[0].Person })
		d, taken := c.copied(), map[string]bool{}
		all := true
		for _, class := range what.classes {
			fits := classed(class)
			if class == gear.Descender || class == gear.BackupDevice {
				fits = forTwo(class, c.now.People[i].MassKg+heaviestOf(c.now))
			}
			item, m := c.take(taken, fits)
			if all = all && item != nil; item != nil {
				d.Include(item, m)
				d.People[i].Carries = append(d.People[i].Carries, item.ID)
			}
		}
		if all {
			c.absorber(d, &d.People[i], taken)
			c.add(d, what.why, "give %s %s to carry", d.People[i].Name, what.words)
		}
	}
}

// knots moves the knots of a strand down, to just above the landing.
func (c *changing) knots() {
	for i := range c.now.Strands {
		for j, m := range c.now.Strands[i].Marks {
			if m.Kind != rig.KnotMark || m.Isolates != "" || m.HeightM < 4 {
				continue
			}
			d := c.copied()
			d.Strands[i].Marks = slices.Clone(d.Strands[i].Marks)
			d.Strands[i].Marks[j].HeightM = 2
			c.add(d, "nobody lifts two past a knot", "move the knot at %v of the %s strand of set %d down to 2 m", m.HeightM, c.now.Strands[i].Name, c.now.Strands[i].Set)
		}
	}
}
