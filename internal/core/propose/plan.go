package propose

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/rig"
)

// plan lists what is to be filled: ropes first, then what each person hangs on, then what
// they carry, so that what hangs has the first choice.
func (s *search) plan() {
	if s.asked.wants("strands") {
		for _, role := range roles {
			s.planStrand(role)
		}
	}
	var people []int
	for i, p := range s.doc.People {
		if s.asked.wants("people/" + p.ID) {
			people = append(people, i)
		}
	}
	if len(people) == 0 && s.asked.wants("people") {
		s.without = append(s.without, Missing{"points.two", "Nobody is on the drop, so nobody's kit is proposed.", "Say who goes down."})
	}
	for _, i := range people {
		s.planMoves(i)
		s.planHarness(i)
		s.planHold(i, gear.Descender)
		s.planHold(i, gear.BackupDevice)
	}
	for _, i := range people {
		for _, n := range fit.Needs(s.doc.People[i].Moves) {
			s.planNeed(i, n)
		}
		s.planNeed(i, fit.Need{Rule: "hands.gloves", Words: "gloves", AnyOf: []map[gear.Class]int{{gear.Gloves: 1}}})
	}
}

func has(d *drop.Document, role rig.Role) bool {
	return slices.ContainsFunc(d.Strands, func(o rig.Strand) bool { return o.Role == role })
}

// planStrand asks for the shortest rope that reaches.
func (s *search) planStrand(role rig.Role) {
	if has(s.doc, role) {
		return
	}
	anchor := s.anchorOf[role]
	if anchor == "" {
		s.without = append(s.without, Missing{"anchor.shared", fmt.Sprintf("There is no anchor of its own for the %s strand.", role), "An independent anchor; it can be proposed too."})
		return
	}
	put := func(d *drop.Document, items []*gear.Item) []string {
		id := free(string(role), func(id string) bool {
			return slices.ContainsFunc(d.Strands, func(o rig.Strand) bool { return o.ID == id })
		})
		d.Strands = append(d.Strands, rig.Strand{ID: id, Name: string(role), Role: role, Set: 1, Anchors: []string{anchor}, Ropes: []string{items[0].ID}, EndStop: rig.EndKnot})
		return []string{fmt.Sprintf("/strands/%d/ropes/0", len(d.Strands)-1)}
	}
	sl := &slot{what: fmt.Sprintf("the rope of the %s strand", role), class: gear.Rope, person: -1, rule: "rope.short"}
	var ready []*option
	sl.options = func() []*option {
		if ready != nil {
			return ready
		}
		ready = []*option{}
		for _, k := range s.shelf.kinds[gear.Rope] {
			if s.spent() {
				return ready
			}
			d := fork(s.doc)
			d.People = nil
			d.Include(k.items[0], k.model)
			put(d, k.items[:1])
			if found := s.stops(d, []string{k.items[0].ID}); len(found) > 0 {
				sl.stopped(found)
				continue
			}
			sl.fitted = true
			ready = append(ready, &option{kinds: []*kind{k}, put: put, why: "the shortest free rope that reaches and that the devices take"})
		}
		return ready
	}
	s.ropes = append(s.ropes, sl)
}

// planMoves says what is in the way of a person who has no moves on their plan.
func (s *search) planMoves(i int) {
	p := &s.doc.People[i]
	if len(p.Moves) > 0 {
		return
	}
	p.Moves = []manoeuvre.MoveName{"descend"}
	if p.AtM < s.doc.Geometry.TopM/2 && p.Grounded {
		p.Moves = []manoeuvre.MoveName{"leave-ground", "ascend-to-descend"}
	}
	for _, st := range s.doc.Strands {
		for _, m := range st.Marks {
			// Whether damage is tied out, or kept away from, is for somebody to decide.
			if pass := manoeuvre.Past(string(m.Kind), m.HeightM > p.AtM); m.Kind != rig.DamageMark && pass != "" && !slices.Contains(p.Moves, pass) {
				p.Moves = append(p.Moves, pass)
			}
		}
	}
	s.fixed = append(s.fixed, Proposed{Path: fmt.Sprintf("/people/%d/moves", i), Why: "the way, and what hangs in it"})
}

func (s *search) planHarness(i int) {
	if s.doc.People[i].Harness != "" {
		return
	}
	put := func(d *drop.Document, items []*gear.Item) []string {
		d.People[i].Harness = items[0].ID
		return []string{fmt.Sprintf("/people/%d/harness", i)}
	}
	sl := &slot{what: "the harness of " + s.doc.People[i].Name, class: gear.Harness, person: i, rule: "harness.missing"}
	sl.options = func() (list []*option) {
		for _, k := range s.shelf.kinds[gear.Harness] {
			ventral, _ := k.model.Harness.Has(gear.Ventral)
			if _, arrest := k.model.Harness.Has(gear.Sternal); !ventral || !arrest {
				sl.stopped([]finding.Finding{{
					Rule: "device.point", What: k.items[0].Label + " has no ventral point, or no sternal point marked A.", Remedy: "A harness that has both.",
				}})
				continue
			}
			sl.fitted = true
			list = append(list, &option{kinds: []*kind{k}, put: put, why: "has the points that the two devices hang from"})
		}
		return list
	}
	s.holds = append(s.holds, sl)
}

// holds reports whether a person hangs on a strand of a role already.
func holds(d *drop.Document, p *rig.Person, role rig.Role) bool {
	return slices.ContainsFunc(p.Holds, func(h rig.Hold) bool {
		return slices.ContainsFunc(d.Strands, func(o rig.Strand) bool { return o.ID == h.Strand && o.Role == role })
	})
}

// planHold asks for a descender on the main strand, or a backup device on the backup.
func (s *search) planHold(i int, class gear.Class) {
	p := &s.doc.People[i]
	role := rig.Main
	if class == gear.BackupDevice {
		role = rig.Backup
	}
	if holds(s.doc, p, role) {
		return
	}
	sl := &slot{what: fmt.Sprintf("the %s of %s", class.Words(), p.Name), class: class, person: i, rule: "points.two", held: true}
	sl.options = func() []*option {
		d := fork(s.doc)
		for _, r := range s.ropes {
			if f := s.filled[r]; f != nil {
				d.Include(f.items[0], f.option.kinds[0].model)
				f.option.put(d, f.items)
			}
		}
		at := slices.IndexFunc(d.Strands, func(o rig.Strand) bool { return o.Role == role })
		if at < 0 {
			return nil
		}
		strand := d.Strands[at]
		key := fmt.Sprint(class, p.ID, strand.Ropes)
		if list, done := s.ready[key]; done {
			return list
		}
		list := []*option{}
		for _, h := range s.chains(class, p) {
			if s.spent() {
				return list
			}
			o := h.option(i, strand.ID)
			found := s.trial(d, i, o)
			if len(found) > 0 {
				sl.stopped(found)
				continue
			}
			o.why = s.fits(h, p, strand)
			sl.fitted = true
			list = append(list, o)
		}
		slices.SortStableFunc(list, func(a, b *option) int { return cmp.Compare(s.liking(a, p), s.liking(b, p)) })
		s.ready[key] = list
		return list
	}
	s.holds = append(s.holds, sl)
}

// liking orders options: what is issued to them, then what they know, then what is whole.
func (s *search) liking(o *option, p *rig.Person) int {
	rank := 0
	k := o.kinds[0]
	if !slices.ContainsFunc(k.items, func(i *gear.Item) bool { return s.issued(i) == p.ID }) {
		rank += 4
	}
	if !knows(p, k.model) {
		rank += 2
	}
	if len(o.kinds) == 1 {
		rank++
	}
	return rank
}

func knows(p *rig.Person, m *gear.Model) bool {
	return slices.ContainsFunc(p.Familiar, func(f rig.Familiarity) bool { return f.Model == m.ID })
}

// trial asks the rules of one person with one more hold.
func (s *search) trial(d *drop.Document, person int, o *option) []finding.Finding {
	t := fork(d)
	var items []*gear.Item
	var ids []string
	for _, k := range o.kinds {
		// The same item twice would be two things in one place.
		n := slices.IndexFunc(k.items, func(i *gear.Item) bool { return !slices.Contains(ids, i.ID) })
		if n < 0 {
			return []finding.Finding{{Rule: "link.missing", What: "There are too few of " + k.model.Title() + ".", Remedy: "One more of " + k.model.Title() + "."}}
		}
		t.Include(k.items[n], k.model)
		items, ids = append(items, k.items[n]), append(ids, k.items[n].ID)
	}
	t.People[person].Holds = nil
	o.put(t, items)
	t.People = t.People[person : person+1]
	return s.stops(t, ids)
}

// fits says why a device is put in.
func (s *search) fits(h *chain, p *rig.Person, strand rig.Strand) string {
	why := fmt.Sprintf("takes the rope of the %s strand and %v in mode %q", strand.Name, p.MassKg, h.mode.Name)
	if slices.ContainsFunc(h.device.items, func(i *gear.Item) bool { return s.issued(i) == p.ID }) {
		why += "; issued to them"
	}
	if knows(p, h.device.model) {
		return why + "; they know it"
	}
	return why + "; nothing on record that they know it"
}

// chain is a device in a mode with its links.
type chain struct {
	device   *kind
	mode     gear.Mode
	position string
	links    []*kind
}

// chains are the devices of a class with every sort of links that they could have, whole
// ones first.
func (s *search) chains(class gear.Class, p *rig.Person) (list []*chain) {
	connectors := slices.DeleteFunc(slices.Clone(s.shelf.kinds[gear.Connector]), func(k *kind) bool {
		return !k.model.Connector.Locks()
	})
	for _, k := range s.shelf.kinds[class] {
		dev := k.model.Device
		position := dev.Positions[max(0, slices.IndexFunc(dev.Positions, func(o gear.Position) bool { return o.HandsOff == gear.Stops }))].Name
		for _, links := range s.linksOf(k.model, connectors) {
			for _, mode := range dev.Modes {
				if mode.Persons == 1 {
					list = append(list, &chain{k, mode, position, links})
				}
			}
		}
	}
	return list
}

// linksOf are the chains of links that a model may have, with a connector at each end, and
// without connectors last: those may be there and not stated.
func (s *search) linksOf(m *gear.Model, connectors []*kind) (list [][]*kind) {
	middles := [][]*kind{nil}
	if b := m.Backup; b != nil {
		middles = nil
		for _, class := range []gear.Class{gear.Absorber, gear.Lanyard, gear.Sling} {
			for _, k := range s.shelf.kinds[class] {
				if slices.ContainsFunc(b.Links, func(l gear.AllowedLink) bool { return l.Model == k.model.ID }) {
					middles = append(middles, []*kind{k})
				}
			}
		}
		middles = append(middles, nil)
	}
	for _, middle := range middles {
		for _, c := range connectors {
			whole := append([]*kind{c}, middle...)
			if middle != nil {
				whole = append(whole, c)
			}
			list = append(list, whole)
		}
	}
	return append(list, middles...)
}

// option puts the chain onto a strand, for a person.
func (c *chain) option(person int, strand string) *option {
	return &option{
		held: true, mode: c.mode.Name,
		kinds: append([]*kind{c.device}, c.links...),
		put: func(d *drop.Document, items []*gear.Item) []string {
			p := &d.People[person]
			h := rig.Hold{
				ID:     free(p.ID+"-"+string(c.device.model.Class), func(id string) bool { return slices.ContainsFunc(p.Holds, func(o rig.Hold) bool { return o.ID == id }) }),
				Strand: strand, Device: items[0].ID, Mode: c.mode.Name, Position: c.position,
				Point: gear.Ventral, AboveM: 0.15, Threaded: rig.ThreadedRight, Links: []rig.Link{},
			}
			if c.device.model.Class == gear.BackupDevice {
				h.Point, h.AboveM = gear.Sternal, 0.3
			}
			at := fmt.Sprintf("/people/%d/holds/%d", person, len(p.Holds))
			paths := []string{at + "/device"}
			for n, item := range items[1:] {
				h.Links = append(h.Links, rig.Link{Item: item.ID})
				paths = append(paths, fmt.Sprintf("%s/links/%d/item", at, n))
			}
			p.Holds = append(p.Holds, h)
			return paths
		},
	}
}

func modelOf(d *drop.Document, id string) *gear.Model {
	for i := range d.Models {
		if d.Models[i].ID == id {
			return &d.Models[i]
		}
	}
	return nil
}

// takes reports whether a mode takes every rope and the mass.
func takes(m gear.Mode, ropes []*gear.Item, models []*gear.Model, p *rig.Person) bool {
	if p.MassKg < m.MinKg || p.MassKg > m.MaxKg {
		return false
	}
	for i, r := range ropes {
		for _, g := range gear.Gauges(r, models[i]) {
			if !m.Takes(models[i].Rope.Construction, g.MM) {
				return false
			}
		}
	}
	return true
}
