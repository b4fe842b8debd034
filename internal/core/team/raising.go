package team

import (
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// upTo is the way up to a goal, knot after knot from the other side: the grab of the haul
// is put on beyond a knot that comes up to it; a grab with its hitch then catches the
// load beyond the knot, until the rope is raised so far that the brake is put on before
// it. Of two knots side by side the main's is passed first: the load must rise for it, and
// the belay, which bears nothing, is left slack below its own meanwhile.
func (r *Rig) upTo(s *State, last goal) []goal {
	u := upward{rig: r, at: *s, last: last}
	for u.next() {
	}
	return append(u.list, last)
}

// upward is a raise that is laid out.
type upward struct {
	rig  *Rig
	at   State
	last goal
	list []goal
}

// meeting is where a knot that comes up is met, as heights of the load.
type meeting struct {
	// comes: there is one. over: the grab of the haul goes on beyond it. from: it is at its
	// brake. to: it is so far past the brake that the brake goes on before it. haulTo: the
	// load is hauled so far for that.
	comes                  bool
	over, from, to, haulTo stance.Cm
}

// meets is where the next knot of a line is met.
func (u *upward) meets(i int) meeting {
	r, h, name := u.rig, u.at.half(lines[i]), lines[i]
	if h.Passed == 0 {
		return meeting{}
	}
	k := r.line(name).KnotsM[h.Passed-1]
	m := meeting{comes: true, from: r.heightUnder(name, k+knotLen.M()+r.gap()), to: r.heightFor(name, k-r.gap())}
	m.over, m.haulTo = m.from, m.to
	if i == 0 {
		m.haulTo = r.heightFor(name, k-r.gap()-r.back())
		if u.last.haul > 1 && !h.Beyond {
			m.over = r.heightUnder(name, k+knotLen.M()+toGrabM)
		}
	}
	return m
}

// first is the line whose knot is met first, and the height of the load then; -1 for none.
func (u *upward) first() (line int, at stance.Cm) {
	main, belay := u.meets(0), u.meets(1)
	switch {
	case main.comes && (!belay.comes || main.over <= belay.from):
		return 0, main.over
	case belay.comes:
		return 1, belay.from
	}
	return -1, 0
}

// back is how far a load comes down until what bore before bears again.
func (r *Rig) back() quantity.Metres { return r.settle().M() + r.stretchBehind() + 0.01 }

// next lays out what is met next; false where nothing is.
func (u *upward) next() bool {
	main, belay := u.meets(0), u.meets(1)
	i, first := u.first()
	switch {
	case i < 0 || first >= u.last.to:
		return false
	case !main.comes:
		u.pass(1, belay, belay.from)
	case u.last.haul > 1 && !u.at.Main.Beyond && (!belay.comes || belay.to > main.over):
		u.over(min(main.over, max(first, u.at.At)))
	case belay.comes && belay.to <= main.from:
		u.pass(1, belay, belay.from)
	case belay.comes:
		u.pass(0, main, min(main.from, belay.from))
	default:
		u.pass(0, main, main.from)
	}
	return true
}

// stop is a place on the way that is left ready to go on.
func (u *upward) stop(at stance.Cm) goal {
	g := u.last
	u.at.At = max(u.at.At, at)
	g.to, g.parked, g.shared, g.beyond = u.at.At, false, false, u.at.Main.Beyond
	return g
}

// over puts the grab of the haul on beyond the main's next knot.
func (u *upward) over(at stance.Cm) {
	u.at.Main.Beyond = true
	u.list = append(u.list, u.stop(at))
}

// pass passes a line's knot.
func (u *upward) pass(i int, m meeting, from stance.Cm) {
	u.list = append(u.list, u.stop(from))
	h := u.at.half(lines[i])
	if i == 0 {
		u.at.Main.Beyond = false
	}
	past := u.stop(m.to)
	past.under[i], past.haulTo = h.Passed, max(m.haulTo, past.to)
	u.list = append(u.list, past)
	h.Passed--
}

// waits is how far a knot of the belay would be drawn into its brake with the load raised
// to a height, and whether it may stay below the brake meanwhile: all of the load is on the
// main, whose own knot is passed, and what slack that leaves is no more than two knots side
// by side need.
func (r *Rig) waits(s *State, to stance.Cm) (short quantity.Metres, ok bool) {
	rope, comes := r.pastKnot("belay", &s.Belay, to)
	if !comes || s.Belay.Grab != NoGrab {
		return 0, false
	}
	short = knotLen.M() + r.gap() - rope
	return short, s.Main.Grab != NoGrab && !s.Shared && short <= 2*(knotLen.M()+2*r.gap())+r.back()
}
