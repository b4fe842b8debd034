package team

import (
	"fmt"
	"math"
	"slices"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// grabs does what is done with a grab and its hitch, on the load side of the brake.
func (r *Rig) grabs(s *State, h *Half, a *Action) (found []stance.Violation, err error) {
	hangs := s.Hangs && (a.Line == "main" || s.Shared)
	switch a.Do {
	case PutGrab:
		return r.putGrab(s, h, a, hangs)
	case Settle:
		return nil, r.settles(s, h)
	case Through:
		return r.through(s, h, a)
	case Extend:
		return r.extend(s, h, a, hangs)
	}
	if h.Grab == NoGrab {
		return nil, fmt.Errorf("no grab is on it")
	}
	if h.Grab == Holding && hangs {
		found = stance.Broken("moves.bearing", "the grab of the %s bears the load and is taken off", a.Line)
	}
	h.Grab, h.Extended = NoGrab, false
	return found, nil
}

// putGrab puts a grab with its hitch on.
func (r *Rig) putGrab(s *State, h *Half, a *Action, hangs bool) (found []stance.Violation, err error) {
	if h.Grab != NoGrab || r.hitched(s) >= r.Kit.Grabs || r.used(s) >= r.Kit.Grabs+r.Kit.Plain {
		return nil, fmt.Errorf("no grab with its hitch is left")
	}
	if !h.Parked {
		found = stance.Broken("team.hand", "both hands put the grab on and the %s is not parked", a.Line)
	}
	if a.Behind {
		found = append(found, stance.Broken("team.grab", "the grab is on the wrong side of the knot: behind the brake of the %s it bears nothing", a.Line)...)
	}
	if a.Loose {
		found = append(found, stance.Broken("moves.settle", "grab and hitch are left loose: the load would settle %v", loose.M())...)
	}
	h.Grab, h.Extended = OnSlack, false
	if !hangs {
		// A belay that carries nothing hangs in its grab at once.
		h.Grab = Holding
	}
	return found, nil
}

// settles lets the load down until the grab holds.
func (r *Rig) settles(s *State, h *Half) error {
	if h.Grab != OnSlack || !h.Loaded || h.Parked || h.Hand == 0 {
		return fmt.Errorf("the load is let down onto a grab that is on, by the brake, with a hand on it and unparked")
	}
	if err := r.into(s, s.At-r.settle()); err != nil {
		return err
	}
	h.Grab = Holding
	s.At -= r.settle()
	return nil
}

// through opens a brake that bears nothing for a knot.
func (r *Rig) through(s *State, h *Half, a *Action) (found []stance.Violation, err error) {
	by := r.goesThrough(s, h, a.Line)
	if h.Grab != Holding || by == 0 {
		return nil, fmt.Errorf("a brake is opened for a knot that is there, while the grab bears")
	}
	if apart, ok := r.between(a.Line, int(h.Passed+by)); ok && apart < r.room()-1e-6 {
		return nil, fmt.Errorf("two knots of the %s are %v apart: its brake has no room between them", a.Line, apart)
	}
	if h.Parked {
		found = stance.Broken("team.park", "the park brake of the %s is on while rope is loaded", a.Line)
	}
	h.Passed += by
	h.Proved, h.Beyond = false, false
	return found, nil
}

// between is how far apart the knots are between which a line's brake is with some of them
// through; ok is false where there is one at most.
func (r *Rig) between(name string, passed int) (apart quantity.Metres, ok bool) {
	knots := r.line(name).KnotsM
	if passed < 1 || passed >= len(knots) {
		return 0, false
	}
	return knots[passed] - knots[passed-1], true
}

// room is how far apart two knots of a line are at least, that its brake can be between them:
// what the knot that is through takes, what the brake lets out until it holds, the stretch that
// comes back, and the gap before the next; to the centimetre, as loads hang.
func (r *Rig) room() quantity.Metres {
	return (knotLen + stopLen).M() + r.stretchBehind() + r.gap() + 0.01
}

// crowds are the knots of a line, by their place in it, before which there is less room than a
// length.
func (r *Rig) crowds(name string, room quantity.Metres) (list []int) {
	for i := range r.line(name).KnotsM {
		if apart, ok := r.between(name, i); ok && apart < room-1e-6 {
			list = append(list, i)
		}
	}
	return list
}

// spread are the knots of a line, moved away from the load until they are a length apart.
func (r *Rig) spread(name string, room quantity.Metres) []quantity.Metres {
	knots := slices.Clone(r.line(name).KnotsM)
	for i := 1; i < len(knots); i++ {
		knots[i] = max(knots[i], knots[i-1]+room)
	}
	return knots
}

// extend lets the hitch out until the brake bears.
func (r *Rig) extend(s *State, h *Half, a *Action, hangs bool) (found []stance.Violation, err error) {
	out := r.slackIn(a.Line, h, s.At) + r.stretchBehind()
	to := s.At - stance.Cm(math.Ceil(float64(out/r.path(a.Line).slant())*100-1e-6))
	switch {
	case h.Grab != Holding || h.Extended:
		return nil, fmt.Errorf("nothing is to be let out")
	case !hangs:
		return nil, fmt.Errorf("the %s carries nothing: its grab is taken off", a.Line)
	case r.Kit.HitchOutM < out:
		return nil, fmt.Errorf("the hitch lets out %v and %v are needed", r.Kit.HitchOutM, out)
	case !h.Loaded:
		return nil, fmt.Errorf("no rope is in the brake")
	}
	if err := r.into(s, to); err != nil {
		return nil, err
	}
	if !h.Proved {
		found = stance.Broken("service.function-check", "the brake of the %s is not proved by a tug before it bears", a.Line)
	}
	if h.Hand == 0 && !h.Parked {
		found = append(found, stance.Broken("team.hand", "the load moves to the %s and no hand is on its brake strand", a.Line)...)
	}
	h.Grab, h.Extended, s.At = OnSlack, true, to
	return found, nil
}

// goesThrough is by how much the knots that are through change where a brake is opened: 1
// for the next one down that is close enough, -1 for one that was raised past its brake,
// 0 for none.
func (r *Rig) goesThrough(s *State, h *Half, line string) int8 {
	if rope, ok := r.pastKnot(line, h, s.At); ok && rope <= -r.gap()+1e-6 {
		return -1
	}
	if gap, ok := r.toKnot(line, h, s.At); ok && gap <= r.ready() {
		return 1
	}
	return 0
}

// used counts the grabs that are on, hitched those with a hitch.
func (r *Rig) used(s *State) int {
	n := r.hitched(s)
	if s.Main.Haul > 1 {
		n++
	}
	return n
}

func (r *Rig) hitched(s *State) int {
	n := 0
	for _, h := range []*Half{&s.Main, &s.Belay} {
		if h.Grab != NoGrab {
			n++
		}
	}
	return n
}
