package day

import (
	"cmp"
	"maps"
	"slices"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
)

const (
	// mostNodes bounds the search of a board, fewNodes that of one of few drops, which is then
	// gone through whole, helpNodes that of what would help a drop.
	mostNodes, fewNodes, helpNodes = 20000, 400000, 1500
	fewDrops                       = 4
	// mostChanges is how many changes are tried at most.
	mostChanges          = 12
	firstStart, lastStop = 6 * 60, 20 * 60
	grid                 = 30
)

// A puzzle is a board with what may be changed on it: the time of each drop, each person and
// each item, as numbers. All is fixed but the nodes that are left.
type puzzle struct {
	b     *board
	store *drop.Store
	slots []*onDrop
	// names are of people and items, by number.
	names  []string
	number map[string]int

	// Of each slot: who and what is on it now; fixed are people who are not exchanged.
	seats  [][]seatOf
	fixed  [][]seatOf
	things [][]int
	// starts are the minutes at which a drop may begin.
	starts [][]int
	// people are those who may take a seat, by slot and role; itemOf and models what the numbers
	// of items stand for; spare the items of a model, ropes the shortest first.
	people [][roles][]int
	itemOf map[int]*gear.Item
	models map[string]*gear.Model
	spare  map[string][]int
	// unfit keeps who may not be on a slot, broken what may not be used on the day.
	unfit  map[[2]int]bool
	broken map[int]bool

	left int
}

// A role is as what somebody is on a drop: it says who may take the seat, and where it is written.
type role byte

const (
	listed     role = iota // one of the drop's people
	brake                  // an operator of its team
	supervisor             // of the slot
	roles
)

type seatOf struct {
	who  int
	task Task
	as   role
	// n is which operator.
	n int
}

// A plan is a board in the making.
type plan struct {
	out  []bool
	at   []int // -1: no time yet
	who  [][]int
	what [][]int
	// changed are what was touched already: each thing is changed once.
	changed map[variable]bool
	changes int
}

// variable is what may be changed: the time of a slot, one of its seats, one of its items.
type variable struct {
	kind byte // t, p or i
	slot int
	n    int
}

func newPuzzle(b *board, store *drop.Store) *puzzle {
	p := &puzzle{b: b, store: store, number: map[string]int{}, itemOf: map[int]*gear.Item{}, models: map[string]*gear.Model{}, spare: map[string][]int{}, unfit: map[[2]int]bool{}, broken: map[int]bool{}}
	for i := range store.Models {
		p.models[store.Models[i].ID] = &store.Models[i]
	}
	for i := range store.Items {
		p.itemOf[p.num("i:"+store.Items[i].ID, store.Items[i].ID)] = &store.Items[i]
	}
	for i := range b.Slots {
		p.slot(&b.Slots[i], b.drops[b.Slots[i].Drop])
	}
	p.stock()
	for s := range p.slots {
		p.people = append(p.people, p.takers(s))
	}
	return p
}

// num gives the number of a person or an item.
func (p *puzzle) num(key, name string) int {
	n, known := p.number[key]
	if !known {
		n = len(p.names)
		p.names, p.number[key] = append(p.names, name), n
	}
	return n
}

func (p *puzzle) slot(s *Slot, o *onDrop) {
	p.slots = append(p.slots, o)
	var seats, fixed []seatOf
	var things []int
	for _, m := range o.doc.People {
		seats = append(seats, seatOf{who: p.num("p:"+m.ID, m.ID), task: o.task(&m), as: listed})
	}
	if t := o.doc.Team; t != nil {
		for i, name := range t.Operators {
			id := personNamed(name, o.doc, p.b.people)
			seats = append(seats, seatOf{p.num("p:"+id, id), Operates, brake, i})
		}
	}
	if id := s.Supervisor; id != "" {
		seats = append(seats, seatOf{who: p.num("p:"+id, id), task: OnSite, as: supervisor})
	}
	for _, id := range s.Others {
		fixed = append(fixed, seatOf{who: p.num("p:"+id, id), task: OnSite})
	}
	for i := range o.doc.Models {
		if m := &o.doc.Models[i]; p.models[m.ID] == nil {
			p.models[m.ID] = m
		}
	}
	for _, id := range o.usedItems() {
		n := p.num("i:"+id, id)
		if p.itemOf[n] == nil {
			if i := slices.IndexFunc(o.doc.Items, func(i gear.Item) bool { return i.ID == id }); i >= 0 {
				p.itemOf[n] = &o.doc.Items[i]
			}
		}
		things = append(things, n)
	}
	p.seats, p.fixed, p.things = append(p.seats, seats), append(p.fixed, fixed), append(p.things, things)
	p.starts = append(p.starts, p.startsOf(s, o))
}

// startsOf are the times at which a drop may begin: its own first, then by how far they are
// from it, else from the morning on; none in which the weather stops it, or that meet what
// goes on from the day before.
func (p *puzzle) startsOf(s *Slot, o *onDrop) []int {
	var list []int
	add := func(at int) {
		span := Span{at, at + s.minutes()}
		if !slices.Contains(list, at) && !slices.ContainsFunc(p.b.shut(o, s), func(shut Shut) bool { return shut.meets(span, 0) }) {
			list = append(list, at)
		}
	}
	own := -1
	if s.From != "" {
		own = s.From.Minutes()
		add(own)
	}
	for at := firstStart; at+s.minutes() <= lastStop; at += grid {
		add(at)
	}
	if own >= 0 {
		slices.SortStableFunc(list, func(a, b int) int { return cmp.Compare(max(a-own, own-a), max(b-own, own-b)) })
	}
	return list
}

// stock sorts what may be used on the day by model, in the order of ids, ropes the shortest
// first.
func (p *puzzle) stock() {
	for n := range p.names {
		i := p.itemOf[n]
		if i != nil && p.usable(i) {
			p.spare[i.Model] = append(p.spare[i.Model], n)
		}
	}
	for _, list := range p.spare {
		slices.SortStableFunc(list, func(a, b int) int {
			return cmp.Or(cmp.Compare(p.itemOf[a].LengthM, p.itemOf[b].LengthM), cmp.Compare(p.names[a], p.names[b]))
		})
	}
}

// usable reports whether an item may be on a drop on the day.
func (p *puzzle) usable(i *gear.Item) bool {
	m := p.models[i.Model]
	if m == nil {
		return false
	}
	severity, what := p.b.isDue(i, m)
	if _, gone := p.b.missing[i.ID]; gone {
		return false
	}
	stopped := slices.ContainsFunc(i.Events, func(e gear.Event) bool { return e.CheckedOn == "" })
	return !stopped && !i.Damaged() && (what == "" || severity != finding.Stop)
}

// isBroken reports whether what is known of an item keeps it from being used on the day.
func (p *puzzle) isBroken(n int) bool {
	broken, known := p.broken[n]
	if !known {
		i := p.itemOf[n]
		broken = i != nil && !p.usable(i)
		p.broken[n] = broken
	}
	return broken
}

// unfitFor reports whether somebody may not be on a drop; a drop that goes on past midnight
// asks for papers that are valid on the next day.
func (p *puzzle) unfitFor(s, who int) bool {
	unfit, known := p.unfit[[2]int{s, who}]
	if !known {
		t := turn{onDrop: p.slots[s], slot: &p.b.Slots[s], span: Span{0, p.b.Slots[s].minutes()}}
		if from := p.b.Slots[s].From; from != "" {
			t.span = Span{from.Minutes(), from.Minutes() + p.b.Slots[s].minutes()}
		}
		unfit = p.b.unfit(p.names[who], p.names[who], &t)
		p.unfit[[2]int{s, who}] = unfit
	}
	return unfit
}

// unfitAs reports whether somebody may not take a seat of a drop. Who is on site alone may be
// anybody; who supervises holds the paper that the policy asks for.
func (p *puzzle) unfitAs(s, who int, seat *seatOf) bool {
	if seat.as == supervisor {
		slot := &p.b.Slots[s]
		span, _ := slot.Span()
		t := turn{span: span}
		_, valid := papers(p.b.members[p.names[who]], "qualification", p.b.day.Supervisor, t.lastDay(p.b.Day))
		return !valid
	}
	return seat.task != OnSite && p.unfitFor(s, who)
}

// takers are those of the team who may be on a drop, by role and name. An operator is written
// by name, so that of two of one name the first alone may be one.
func (p *puzzle) takers(s int) (list [roles][]int) {
	for i := range p.b.people {
		m := &p.b.people[i]
		n := p.num("p:"+m.ID, m.ID)
		if !p.unfitFor(s, n) {
			list[listed] = append(list[listed], n)
			if personNamed(m.Name, p.slots[s].doc, p.b.people) == m.ID {
				list[brake] = append(list[brake], n)
			}
		}
		if !p.unfitAs(s, n, &seatOf{as: supervisor}) {
			list[supervisor] = append(list[supervisor], n)
		}
	}
	for as := range list {
		slices.SortStableFunc(list[as], func(a, b int) int { return cmp.Compare(p.names[a], p.names[b]) })
	}
	return list
}

// onBoard are who has the seats of a drop as the board stands.
func (p *puzzle) onBoard(s int) []int {
	list := make([]int, len(p.seats[s]))
	for i := range list {
		list[i] = p.seats[s][i].who
	}
	return list
}

// start is the board as it is.
func (p *puzzle) start(out []bool) *plan {
	pl := &plan{out: out, at: make([]int, len(p.slots)), who: make([][]int, len(p.slots)), what: make([][]int, len(p.slots)), changed: map[variable]bool{}}
	for s := range p.slots {
		pl.who[s], pl.what[s] = p.onBoard(s), slices.Clone(p.things[s])
		pl.at[s] = -1
		if from := p.b.Slots[s].From; from != "" {
			pl.at[s] = from.Minutes()
		}
	}
	return pl
}

func (p *puzzle) span(pl *plan, s int) Span { return Span{pl.at[s], pl.at[s] + p.b.Slots[s].minutes()} }

// byHand is what a planner does with a board, the best of several ways: drop after drop, as it
// is where it fits, else at the first time that fits, or at the first time at which other
// people and items make it fit; else left out. The drops come as they stand, the other way
// round, those with the fewest hours or the most people first.
func (p *puzzle) byHand() *plan {
	var best *plan
	order := make([]int, len(p.slots))
	for i := range order {
		order[i] = i
	}
	for _, before := range []func(a, b int) int{
		func(a, b int) int { return a - b },
		func(a, b int) int { return b - a },
		func(a, b int) int { return cmp.Or(len(p.starts[a])-len(p.starts[b]), a-b) },
		func(a, b int) int {
			return cmp.Or(len(p.seats[b])+len(p.fixed[b])-len(p.seats[a])-len(p.fixed[a]), a-b)
		},
		func(a, b int) int { return cmp.Or(p.b.Slots[b].minutes()-p.b.Slots[a].minutes(), a-b) },
	} {
		slices.SortStableFunc(order, before)
		for _, exchange := range []bool{false, true} {
			if pl := p.inTurn(order, exchange); best == nil || p.cost(pl) < p.cost(best) {
				best = pl
			}
		}
	}
	return best
}

// cost ranks boards: drops that are left out first, then changes.
func (p *puzzle) cost(pl *plan) (cost int) {
	count := func(differs bool, by int) {
		if differs {
			cost += by
		}
	}
	for s := range p.slots {
		if count(pl.out[s], 1<<16); pl.out[s] {
			continue
		}
		count(p.b.Slots[s].From != "" && p.b.Slots[s].From != ClockOf(pl.at[s]), 1)
		for n := range pl.who[s] {
			count(pl.who[s][n] != p.seats[s][n].who, 1)
		}
		for n := range pl.what[s] {
			count(pl.what[s][n] != p.things[s][n], 1)
		}
	}
	return cost
}

func (p *puzzle) inTurn(order []int, exchange bool) *plan {
	out := make([]bool, len(p.slots))
	for s := range out {
		out[s] = true
	}
	pl := p.start(out)
	for _, s := range order {
		pl.out[s] = false
		if !p.placeByHand(pl, s, exchange) {
			pl.out[s] = true
			pl.who[s], pl.what[s] = p.onBoard(s), slices.Clone(p.things[s])
		}
	}
	return pl
}

func (p *puzzle) placeByHand(pl *plan, s int, exchange bool) bool {
	for _, at := range p.starts[s] {
		pl.at[s] = at
		maps.DeleteFunc(pl.changed, func(v variable, _ bool) bool { return v.slot == s })
		pl.who[s], pl.what[s] = p.onBoard(s), slices.Clone(p.things[s])
		for range len(pl.who[s]) + len(pl.what[s]) + 1 {
			all := p.conflicts(pl)
			if len(all) == 0 {
				return true
			}
			if !exchange || !p.exchange(pl, s, all) {
				break
			}
		}
	}
	return false
}

// exchange resolves one conflict by another person or item on a drop.
func (p *puzzle) exchange(pl *plan, s int, all [][]variable) bool {
	for _, v := range all[0] {
		if v.slot != s || v.kind == 't' {
			continue
		}
		value := p.value(pl, v)
		was := *value
		pl.changed[v] = true
		for _, to := range p.domain(pl, v, was) {
			if *value = to; len(p.conflicts(pl)) < len(all) {
				return true
			}
		}
		*value = was
		delete(pl.changed, v)
	}
	return false
}
