package day

import (
	"context"
	"slices"

	"zealousknot/internal/core/progress"
	"zealousknot/internal/core/search"
)

// solve leaves out as few drops as it can, and of these boards takes one with the fewest
// changes. Undecided: the bound was met first, and the board is a planner's by hand.
func (p *puzzle) solve(ctx context.Context) (*plan, search.Outcome) {
	bound := mostNodes
	if len(p.slots) <= fewDrops {
		bound = fewNodes
	}
	p.left = bound
	for n := 0; n <= len(p.slots); n++ {
		sets := subsets(len(p.slots), n)
		for most := 0; most <= mostChanges; most++ {
			progress.Say(ctx, bound-p.left, bound, "boards")
			cut := false
			for _, out := range sets {
				pl, outcome := p.within(ctx, out, most)
				switch {
				case outcome == search.Found:
					return pl, outcome
				case p.left <= 0 || ctx.Err() != nil:
					return p.byHand(), search.Undecided
				}
				cut = cut || outcome == search.Undecided
			}
			if !cut {
				break // with more changes there is none either
			}
			if most == mostChanges {
				return p.byHand(), search.Undecided
			}
		}
	}
	return p.byHand(), search.Undecided
}

// subsets are all sets of n of some drops that are left out, the last of the board first.
func subsets(of, n int) [][]bool {
	var list [][]bool
	set := make([]bool, of)
	var pick func(from, left int)
	pick = func(from, left int) {
		if left == 0 {
			list = append(list, slices.Clone(set))
			return
		}
		for i := from; i >= left-1; i-- {
			set[i] = true
			pick(i-1, left-1)
			set[i] = false
		}
	}
	pick(of-1, n)
	return list
}

// within finds a board with so many changes at most. None: there is no board with any number
// of changes; Undecided: more may do, or the bound was met.
func (p *puzzle) within(ctx context.Context, out []bool, most int) (*plan, search.Outcome) {
	pl := p.start(out)
	found, cut := p.repair(ctx, pl, most)
	switch {
	case found:
		return pl, search.Found
	case cut || p.left <= 0 || ctx.Err() != nil:
		return nil, search.Undecided
	}
	return nil, search.None
}

// repair resolves the first conflict by changing one of what is in it, in every way. Every
// board without a conflict has at least one of these changes, so that nothing is missed.
func (p *puzzle) repair(ctx context.Context, pl *plan, most int) (found, cut bool) {
	if p.left--; p.left < 0 || ctx.Err() != nil {
		return false, true
	}
	all := p.conflicts(pl)
	if len(all) == 0 {
		return true, false
	}
	if apart(all) > most-pl.changes {
		// Conflicts with nothing in common need a change each.
		if !slices.ContainsFunc(all, func(c []variable) bool { return len(c) == 0 }) {
			return false, true
		}
		return false, false
	}
	for _, v := range all[0] {
		free := v.kind == 't' && pl.at[v.slot] < 0
		if !free && pl.changes == most {
			cut = true
			continue
		}
		value := p.value(pl, v)
		was := *value
		pl.changed[v] = true
		if !free {
			pl.changes++
		}
		for _, to := range p.domain(pl, v, was) {
			*value = to
			ok, more := p.repair(ctx, pl, most)
			if ok {
				return true, false
			}
			cut = cut || more
			if p.left <= 0 {
				break
			}
		}
		*value = was
		delete(pl.changed, v)
		if !free {
			pl.changes--
		}
	}
	return false, cut
}

func (p *puzzle) value(pl *plan, v variable) *int {
	switch v.kind {
	case 't':
		return &pl.at[v.slot]
	case 'p':
		return &pl.who[v.slot][v.n]
	}
	return &pl.what[v.slot][v.n]
}

// domain is what a variable may be changed to.
func (p *puzzle) domain(pl *plan, v variable, was int) []int {
	switch v.kind {
	case 't':
		return without(p.starts[v.slot], was)
	case 'p':
		// Who is on the drop already is given no other task on it.
		return slices.DeleteFunc(without(p.people[v.slot][p.seats[v.slot][v.n].as], was), func(n int) bool {
			there := func(o seatOf) bool { return o.who == n }
			return slices.Contains(pl.who[v.slot], n) || slices.ContainsFunc(p.seats[v.slot], there) || slices.ContainsFunc(p.fixed[v.slot], there)
		})
	}
	i := p.itemOf[was]
	if i == nil {
		return nil
	}
	// Of those that lie in the store as many as there are drops are enough: every other drop
	// takes one at most.
	var list []int
	free := 0
	for _, n := range p.spare[i.Model] {
		o := p.itemOf[n]
		if n == was || o.LengthM < i.LengthM || slices.Contains(pl.what[v.slot], n) || slices.Contains(p.things[v.slot], n) {
			continue
		}
		if !p.inUse(n) {
			if free++; free > len(p.slots) {
				continue
			}
		}
		list = append(list, n)
	}
	return list
}

func (p *puzzle) inUse(n int) bool {
	return slices.ContainsFunc(p.things, func(list []int) bool { return slices.Contains(list, n) })
}

func without(list []int, n int) []int {
	return slices.DeleteFunc(slices.Clone(list), func(o int) bool { return o == n })
}

// apart counts conflicts that have nothing in common, as they are met; those that a free
// choice may resolve count nothing.
func apart(all [][]variable) int {
	taken := map[variable]bool{}
	n := 0
	for _, c := range all {
		if len(c) == 0 {
			return 1 << 20 // nothing in it can be changed any more
		}
		if len(c) == 1 && c[0].n < 0 || slices.ContainsFunc(c, func(v variable) bool { return taken[v] }) {
			continue
		}
		for _, v := range c {
			taken[v] = true
		}
		n++
	}
	return n
}
