package propose

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

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
		return k.model.Connector.Gate == "plain" || k.model.Connector.Gate == "none"
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

// planNeed asks for what a move needs and the person does not have yet.
func (s *search) planNeed(i int, n fit.Need) {
	p := &s.doc.People[i]
	why := "for " + strings.ReplaceAll(n.Move, "-", " ")
	if n.Move == "" {
		why = "for the hand on a live rope"
	}
	put := func(d *drop.Document, items []*gear.Item) (paths []string) {
		o := &d.People[i]
		for _, item := range items {
			paths = append(paths, fmt.Sprintf("/people/%d/carries/%d", i, len(o.Carries)))
			o.Carries = append(o.Carries, item.ID)
		}
		return paths
	}
	sl := &slot{what: fmt.Sprintf("%s for %s", n.Words, p.Name), class: s.classes(n.AnyOf[0])[0], person: i, rule: n.Rule}
	sl.takes = func() string {
		if sl.class == gear.Connector {
			return "a load behind a locked gate"
		}
		return fmt.Sprintf("the ropes that hang and %v", p.MassKg)
	}
	sl.short = func() gear.Class {
		have := s.have(i)
		for _, class := range s.classes(n.AnyOf[0]) {
			there := 0
			for _, k := range s.carriable(i, class) {
				there += s.left(k, i, false)
			}
			if there < n.AnyOf[0][class]-have[class] {
				return class
			}
		}
		return sl.class
	}
	sl.options = func() (list []*option) {
		have := s.have(i)
		// What is free comes first; what others have may be had by giving them something else.
		for _, taken := range []bool{false, true} {
			for _, bundle := range n.AnyOf {
				for _, kinds := range s.bundles(i, bundle, have, taken) {
					list = append(list, &option{kinds: kinds, put: put, why: why})
				}
			}
		}
		return list
	}
	s.needs = append(s.needs, sl)
}

func (s *search) classes(bundle map[gear.Class]int) (list []gear.Class) {
	for c := range bundle {
		list = append(list, c)
	}
	slices.Sort(list)
	return list
}

// have counts what a person has by class. Lanyards and connectors in a hold stay there.
func (s *search) have(person int) map[gear.Class]int {
	p := &s.doc.People[person]
	n := map[gear.Class]int{}
	for _, id := range p.Carries {
		n[s.classOf[id]]++
	}
	for _, h := range p.Holds {
		n[s.classOf[h.Device]]++
	}
	for _, p := range s.taken() {
		if p.slot.person != person {
			continue
		}
		for i, k := range p.option.kinds {
			if i == 0 || !p.option.held {
				n[k.model.Class]++
			}
		}
	}
	return n
}

// ropeKey names the ropes that hang or are chosen.
func (s *search) ropeKey() string {
	var b strings.Builder
	for _, o := range s.doc.Strands {
		b.WriteString(strings.Join(o.Ropes, " ") + ",")
	}
	for _, r := range s.ropes {
		if f := s.filled[r]; f != nil {
			b.WriteString(f.items[0].ID)
		}
		b.WriteString(",")
	}
	return b.String()
}

// bundles are the ways to complete a bundle: for each class from one kind on, the next ones
// where it has too few; with what others have taken, or of what is free alone.
func (s *search) bundles(person int, bundle, have map[gear.Class]int, taken bool) [][]*kind {
	list := [][]*kind{{}}
	for _, class := range s.classes(bundle) {
		lack := bundle[class] - have[class]
		if lack <= 0 {
			continue
		}
		kinds := s.carriable(person, class)
		var next [][]*kind
		for from := range kinds {
			var more []*kind
			for _, k := range append(slices.Clone(kinds[from:]), kinds[:from]...) {
				for range min(lack-len(more), s.left(k, person, taken)) {
					more = append(more, k)
				}
			}
			if len(more) < lack {
				continue
			}
			for _, l := range list {
				next = append(next, append(slices.Clone(l), more...))
			}
		}
		list = next
	}
	return list
}

// leftOf counts how many of a class a person may still take.
func (s *search) leftOf(class gear.Class, person int) (n int) {
	for _, k := range s.shelf.kinds[class] {
		n += s.left(k, person, false)
	}
	return n
}

// left counts how many of a kind a person may still take, with what others have taken or
// without.
func (s *search) left(k *kind, person int, taken bool) (n int) {
	for _, i := range k.items {
		if who := s.issued(i); (taken || !s.used[i.ID]) && (who == "" || who == s.doc.People[person].ID) {
			n++
		}
	}
	return n
}

// carriable are the kinds of a class that are of use to a person on this drop: connectors
// that lock, devices that take a rope of it and their mass.
func (s *search) carriable(person int, class gear.Class) (list []*kind) {
	p := &s.doc.People[person]
	key := fmt.Sprint(person, class, s.ropeKey())
	if list, done := s.carried[key]; done {
		return list
	}
	var ropes []*gear.Item
	var models []*gear.Model
	d, _ := s.built()
	for _, st := range d.Strands {
		for _, id := range st.Ropes {
			for i := range d.Items {
				if d.Items[i].ID == id {
					ropes = append(ropes, &d.Items[i])
					models = append(models, modelOf(d, d.Items[i].Model))
				}
			}
		}
	}
	for _, k := range s.shelf.kinds[class] {
		if c := k.model.Connector; c != nil && (c.Gate == "plain" || c.Gate == "none") {
			continue
		}
		if k.model.Device != nil && !slices.ContainsFunc(k.model.Device.Modes, func(m gear.Mode) bool { return takes(m, ropes, models, p) }) {
			continue
		}
		list = append(list, k)
	}
	slices.SortStableFunc(list, func(a, b *kind) int {
		return cmp.Compare(s.liking(&option{kinds: []*kind{a}}, p), s.liking(&option{kinds: []*kind{b}}, p))
	})
	s.carried[key] = list
	return list
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
		mm, _ := gear.Diameter(r, models[i])
		if !slices.ContainsFunc(m.Ropes, func(o gear.RopeRange) bool {
			return mm >= o.MinMM && mm <= o.MaxMM && slices.Contains(o.Constructions, models[i].Rope.Construction)
		}) {
			return false
		}
	}
	return true
}
