package drop

import (
	"maps"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

func byID[T any](list []T, id func(*T) string) map[string]*T {
	m := make(map[string]*T, len(list))
	for i := range list {
		m[id(&list[i])] = &list[i]
	}
	return m
}

// Clone is a copy whose places can be filled with other items, the document left as it is.
func (d *Document) Clone() *Document {
	c := *d
	c.People = slices.Clone(d.People)
	for i := range c.People {
		p := &c.People[i]
		p.Holds, p.Carries = slices.Clone(p.Holds), slices.Clone(p.Carries)
		for j := range p.Holds {
			p.Holds[j].Links = slices.Clone(p.Holds[j].Links)
		}
	}
	if d.Team != nil {
		t := *d.Team
		t.Kit, t.Operators = slices.Clone(t.Kit), slices.Clone(t.Operators)
		c.Team = &t
	}
	if d.Rescue != nil {
		r := *d.Rescue
		r.Rescuers = slices.Clone(r.Rescuers)
		c.Rescue = &r
	}
	c.Strands = slices.Clone(d.Strands)
	for i := range c.Strands {
		c.Strands[i].Ropes = slices.Clone(c.Strands[i].Ropes)
	}
	return &c
}

// Taken says where each item of the drop is, in words.
func (d *Document) Taken() map[string]string {
	where := map[string]string{}
	for _, s := range d.Strands {
		for _, r := range s.Ropes {
			where[r] = s.Name
		}
	}
	for _, p := range d.People {
		for _, id := range append([]string{p.Harness}, p.Carries...) {
			where[id] = "carried by " + p.Name
		}
		for _, h := range p.Holds {
			where[h.Device] = "in a hold of " + p.Name
			for _, l := range h.Links {
				where[l.Item] = "in a hold of " + p.Name
			}
		}
	}
	if t := d.Team; t != nil {
		for _, id := range append([]string{t.Main.Brake, t.Belay.Brake, t.Main.Connector, t.Belay.Connector}, t.Kit...) {
			where[id] = "at the team's anchors"
		}
	}
	return where
}

// Used gives the ids of every item that the drop has in some place.
func (d *Document) Used() map[string]bool {
	used := map[string]bool{}
	for id := range d.Taken() {
		used[id] = id != ""
	}
	return used
}

// Names are the ids of every item that the document needs: those in some place, and those
// that its checks name.
func (d *Document) Names() []string {
	named := d.Taken()
	delete(named, "")
	for _, c := range d.Checks {
		named[c.Item], named[c.Rope] = "", ""
	}
	for _, c := range d.WornChecks {
		for _, w := range c.Items {
			named[w.Item] = ""
		}
	}
	return slices.Sorted(maps.Keys(named))
}

// Replace puts another item of the same model wherever the document has one.
func (d *Document) Replace(item, by string) {
	swap := func(id *string) {
		if *id == item {
			*id = by
		}
	}
	for i := range d.Strands {
		for j := range d.Strands[i].Ropes {
			swap(&d.Strands[i].Ropes[j])
		}
	}
	for i := range d.People {
		p := &d.People[i]
		swap(&p.Harness)
		for j := range p.Carries {
			swap(&p.Carries[j])
		}
		for j := range p.Holds {
			swap(&p.Holds[j].Device)
			for k := range p.Holds[j].Links {
				swap(&p.Holds[j].Links[k].Item)
			}
		}
	}
	if t := d.Team; t != nil {
		for _, id := range []*string{&t.Main.Brake, &t.Belay.Brake, &t.Main.Connector, &t.Belay.Connector} {
			swap(id)
		}
		for j := range t.Kit {
			swap(&t.Kit[j])
		}
	}
}

// Seat puts somebody else of the team in somebody's place: what is measured on them and what
// they are familiar with comes with them, what they hang on stays.
func (d *Document) Seat(person string, by *rig.Member) {
	for i := range d.People {
		p := &d.People[i]
		if p.ID != person {
			continue
		}
		p.ID, p.Name, p.MassKg, p.ReachUpM, p.ReachOutM, p.HandMM, p.Familiar, p.Practised = by.ID, by.Name, by.MassKg, by.ReachUpM, by.ReachOutM, by.HandMM, by.Familiar, nil
		p.Listed = nil
		if by.Harness != "" {
			p.Harness = by.Harness
		}
	}
	if d.Rescue != nil {
		for i := range d.Rescue.Rescuers {
			if c := &d.Rescue.Rescuers[i]; c.Person == person {
				// When somebody else practised says nothing of them.
				c.Person, c.PractisedOn = by.ID, ""
			}
		}
	}
}

// Include puts an item and its model into the document, in the place of what it
// has of them.
func (d *Document) Include(item *gear.Item, m *gear.Model) {
	d.Items = with(d.Items, *item, func(i *gear.Item) string { return i.ID })
	d.Models = with(d.Models, *m, func(m *gear.Model) string { return m.ID })
}

func with[T any](list []T, v T, id func(*T) string) []T {
	list = slices.Clone(list)
	i := slices.IndexFunc(list, func(o T) bool { return id(&o) == id(&v) })
	if i < 0 {
		return append(list, v)
	}
	list[i] = v
	return list
}

// Adapt gives a hold the mode and position of a newly chosen device that are
// nearest to those it had: of the same name, else for as many persons; else the
// first position that holds with hands off.
func Adapt(h *rig.Hold, m *gear.Model) {
	if m.Device == nil {
		return
	}
	if m.Device.Mode(h.Mode) == nil {
		persons := 1
		if h.SecondKg > 0 {
			persons = 2
		}
		i := max(0, slices.IndexFunc(m.Device.Modes, func(o gear.Mode) bool { return o.Persons == persons }))
		h.Mode = m.Device.Modes[i].Name
	}
	if m.Device.Position(h.Position) == nil {
		i := max(0, slices.IndexFunc(m.Device.Positions, func(o gear.Position) bool { return o.HandsOff == gear.Stops }))
		h.Position = m.Device.Positions[i].Name
	}
}

// Refresh gives the document the store's present record of every item and model
// that it has, adds those it names and does not have, and leaves out those it
// does not name. An item that is not in the store keeps the record the document
// brought.
func (d *Document) Refresh(store *Store) {
	items := byID(append(slices.Clone(d.Items), store.Items...), func(i *gear.Item) string { return i.ID })
	models := byID(append(slices.Clone(d.Models), store.Models...), func(m *gear.Model) string { return m.ID })
	named := d.Names()
	d.Items, d.Models = nil, nil
	seen := map[string]bool{}
	for _, id := range named {
		item := items[id]
		if item == nil {
			continue
		}
		d.Items = append(d.Items, item.Unrevised())
		if m := models[item.Model]; m != nil && !seen[m.ID] {
			seen[m.ID] = true
			d.Models = append(d.Models, m.Unrevised())
		}
	}
}

// Label is how an item of the document is called; its id where it is not in it.
func (d *Document) Label(item string) string {
	if i := slices.IndexFunc(d.Items, func(o gear.Item) bool { return o.ID == item }); i >= 0 {
		return d.Items[i].Label
	}
	return item
}
