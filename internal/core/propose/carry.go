package propose

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
)

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
		if c := k.model.Connector; c != nil && !c.Locks() {
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
