package day

import (
	"slices"
)

// conflicts are what cannot be on a board, each as what may be changed in it; one that has
// nothing left makes the board impossible.
func (p *puzzle) conflicts(pl *plan) [][]variable {
	var all [][]variable
	add := func(list ...variable) {
		c := []variable{}
		for _, v := range list {
			if !pl.changed[v] {
				c = append(c, v)
			}
		}
		all = append(all, c)
	}
	for s := range p.slots {
		if pl.out[s] {
			continue
		}
		if pl.at[s] < 0 {
			add(variable{'t', s, -1})
			continue
		}
		p.alone(pl, s, add)
		for o := range s {
			if !pl.out[o] && pl.at[o] >= 0 && p.span(pl, s).meets(p.span(pl, o), p.b.day.ChangeMin) {
				p.together(pl, o, s, add)
			}
		}
		p.carried(pl, s, add)
	}
	return all
}

// alone are conflicts of one drop.
func (p *puzzle) alone(pl *plan, s int, add func(...variable)) {
	if !slices.Contains(p.starts[s], pl.at[s]) {
		add(variable{'t', s, -1})
	}
	for n, who := range pl.who[s] {
		if p.unfitAs(s, who, &p.seats[s][n]) {
			add(variable{'p', s, n})
		}
	}
	for n, what := range pl.what[s] {
		if p.isBroken(what) {
			add(variable{'i', s, n})
		}
	}
}

// together are conflicts of two drops whose times meet.
func (p *puzzle) together(pl *plan, a, b int, add func(...variable)) {
	for _, x := range p.onBoth(pl, a, b) {
		if !p.shares(pl, a, b, &x[0], &x[1]) {
			add(append(append(x[0].seats, x[1].seats...), variable{'t', a, -1}, variable{'t', b, -1})...)
		}
	}
	for n, x := range pl.what[a] {
		m := slices.Index(pl.what[b], x)
		if m < 0 || p.goesWith(pl, a, b, x) {
			continue
		}
		add(variable{'i', a, n}, variable{'i', b, m}, variable{'t', a, -1}, variable{'t', b, -1})
	}
}

// sitter is somebody on a drop once, with the most binding of their tasks and all their seats;
// who is not exchanged has none.
type sitter struct {
	who   int
	task  Task
	seats []variable
}

// present is everybody on a drop.
func (p *puzzle) present(pl *plan, s int) []sitter {
	var list []sitter
	add := func(who int, task Task, seats ...variable) {
		i := slices.IndexFunc(list, func(x sitter) bool { return x.who == who })
		if i < 0 {
			list = append(list, sitter{who, task, seats})
			return
		}
		list[i].task, list[i].seats = binding(list[i].task, task), append(list[i].seats, seats...)
	}
	for n, who := range pl.who[s] {
		add(who, p.seats[s][n].task, variable{'p', s, n})
	}
	for _, f := range p.fixed[s] {
		add(f.who, f.task)
	}
	return list
}

// onBoth is who is on two drops, as on each. It is asked of every board that is tried: most
// have nobody there, and nothing is made then.
func (p *puzzle) onBoth(pl *plan, a, b int) (list [][2]sitter) {
	on := func(s, who int) bool {
		return slices.Contains(pl.who[s], who) || slices.ContainsFunc(p.fixed[s], func(f seatOf) bool { return f.who == who })
	}
	if !slices.ContainsFunc(pl.who[a], func(who int) bool { return on(b, who) }) &&
		!slices.ContainsFunc(p.fixed[a], func(f seatOf) bool { return on(b, f.who) }) {
		return nil
	}
	there := p.present(pl, b)
	for _, x := range p.present(pl, a) {
		for _, y := range there {
			if x.who == y.who {
				list = append(list, [2]sitter{x, y})
			}
		}
	}
	return list
}

// shares reports whether somebody may be on both: as they are now, never newly.
func (p *puzzle) shares(pl *plan, a, b int, x, y *sitter) bool {
	newly := func(v variable) bool { return pl.changed[v] }
	if slices.ContainsFunc(x.seats, newly) || slices.ContainsFunc(y.seats, newly) {
		return false
	}
	one, two := Seat{Task: x.task}, Seat{Task: y.task}
	return mayShare(&one, &two, &turn{onDrop: p.slots[a]}, &turn{onDrop: p.slots[b]})
}

// goesWith reports whether an item is on both drops as somebody's own who is on both, and is
// said with them.
func (p *puzzle) goesWith(pl *plan, a, b, item int) bool {
	by := p.slots[a].items[p.names[item]]
	if by == "" || p.slots[b].items[p.names[item]] != by {
		return false
	}
	n := p.number["p:"+by]
	wears := func(pl *plan, s int) bool {
		return slices.ContainsFunc(p.seats[s], func(o seatOf) bool { return o.who == n && o.as == listed }) && slices.Contains(pl.who[s], n)
	}
	return wears(pl, a) && wears(pl, b) && !p.bothShare(pl, a, b, n)
}

// bothShare reports whether somebody may be on both.
func (p *puzzle) bothShare(pl *plan, a, b, who int) bool {
	return slices.ContainsFunc(p.onBoth(pl, a, b), func(x [2]sitter) bool {
		return x[0].who == who && p.shares(pl, a, b, &x[0], &x[1])
	})
}

// carried are conflicts with what goes on from the day before.
func (p *puzzle) carried(pl *plan, s int, add func(...variable)) {
	for i := range p.b.before {
		t := &p.b.before[i]
		if !t.span.meets(p.span(pl, s), p.b.day.ChangeMin) {
			continue
		}
		for _, seat := range p.b.onSite(t.onDrop, t.slot) {
			n, known := p.number["p:"+seat.Person]
			for _, x := range p.present(pl, s) {
				if known && x.who == n {
					add(append(slices.Clone(x.seats), variable{'t', s, -1})...)
				}
			}
		}
		for n, x := range pl.what[s] {
			if _, there := t.items[p.names[x]]; there {
				add(variable{'i', s, n}, variable{'t', s, -1})
			}
		}
	}
}
