package team

import (
	"cmp"
	"math"

	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
)

// goal is where a move of the team ends.
type goal struct {
	to stance.Cm
	// up: at to or above; else at to or, past a knot, below.
	up, hangs, shared, parked, away bool
	// freed: a toothed capture is held open. liveBelay: the main is parked and the belay is
	// live. handle: that of a wheel stays out.
	freed, liveBelay, handle bool
	haul                     int8
	// passed are the knots of main and belay that must be through; 0: as they come.
	passed [2]int8
	// under are the knots of main and belay that must have come back: fewer than so many are
	// through; 0: as they come. beyond: the grab of the haul is on beyond the next.
	under  [2]int8
	beyond bool
	// haulTo is how far is hauled to get there; 0: to.
	haulTo stance.Cm
	// operator at the main; 0: any.
	operator int8
}

func (g *goal) is(s *State) bool {
	switch {
	case s.Hangs != g.hangs, s.Shared != g.shared, s.Main.Haul != g.haul, s.Main.Pull || s.Main.Spent, g.freed != (s.Main.Toothed == TeethOpen):
		return false
	case g.up && s.At < g.to, !g.up && s.At > g.to:
		return false
	case g.beyond && !s.Main.Beyond, g.under[0] > 0 && s.Main.Passed >= g.under[0], g.under[1] > 0 && s.Belay.Passed >= g.under[1]:
		return false
	case s.Main.Passed < g.passed[0], s.Belay.Passed < g.passed[1], g.operator != 0 && s.Main.Hand != g.operator:
		return false
	}
	return g.left(&s.Main, g.parked, g.handle) && g.left(&s.Belay, g.parked && !g.liveBelay, false)
}

// left reports whether a strand is as the goal leaves it.
func (g *goal) left(h *Half, parked, handle bool) bool {
	if h.Wheel.Grip || h.Wheel.Slack || h.Wheel.Handle != handle {
		return false
	}
	return h.Loaded && h.Proved && h.Grab == NoGrab && h.Parked == parked && h.Away == g.away && h.Tied == g.away && !(h.Away && h.Hand > 0) && (parked || h.Hand > 0)
}

// seconds is how long an action takes.
func (r *Rig) seconds(from, to *State, a *Action) float64 {
	return r.along(math.Abs(float64((to.At-from.At).M())), from, a) + r.fixed(a)
}

// along is the part of an action's time that grows with the way.
func (r *Rig) along(way float64, from *State, a *Action) float64 {
	switch a.Do {
	case Lower:
		return way / float64(cmp.Or(r.Measures.SpeedMS, 0.25))
	case Haul:
		// By the rope that goes through the haulers' hands, with the resets on the way.
		again := r.fixed(&Action{Do: Capture}) + r.fixed(&Action{Do: Advance})
		return 6*way*float64(max(1, from.Main.Haul)) + again*float64(r.resets(way, from.Main.Haul))
	case Turn:
		return 25 * way
	}
	return 0
}

// resets is how often a haul is set back on a way.
func (r *Rig) resets(way float64, ratio int8) int {
	if ratio < 3 {
		return 0 // no grab that runs
	}
	rise, loss := float64(r.stroke()), float64(r.Measures.Loss)
	if ratio == 9 {
		rise /= 3 // its inner grab moves three times as fast
	}
	if rise <= loss {
		return 0
	}
	return max(0, int(math.Ceil((way-loss)/(rise-loss)-1e-9))-1)
}

// fixed is the part of it that does not, with what each pulley of a haul takes.
func (r *Rig) fixed(a *Action) float64 {
	s, known := r.Measures.Seconds[a.Do]
	if !known {
		s = took[a.Do]
	}
	if a.Do == Build {
		s += 30 * float64(pulleysFor[a.Ratio])
	}
	return s
}

// took is how long actions take where a policy does not tell.
var took = manoeuvre.Seconds[Do](manoeuvre.Team)

// space is what is searched in.
type space struct {
	search.Plain[State]
	rig  *Rig
	goal goal
	list []Action
}

// The methods that search.Space asks for.

func (sp *space) Actions(s *State) []Action {
	sp.list = sp.list[:0]
	for _, name := range []string{"main", "belay"} {
		sp.half(s, name)
	}
	g := &sp.goal
	if g.hangs && !s.Hangs {
		sp.list = append(sp.list, Action{Do: Over})
	}
	if s.Hangs && g.to < s.At && !g.up {
		sp.list = append(sp.list, Action{Do: Lower, AtM: g.to.M()})
	}
	if s.Shared != g.shared {
		do := Share
		if s.Shared {
			do = Unshare
		}
		sp.list = append(sp.list, Action{Do: do})
	}
	if s.Main.Haul != g.haul {
		if g.haul == 0 {
			sp.list = append(sp.list, Action{Do: Strip, Line: "main"})
		} else {
			sp.list = append(sp.list, Action{Do: Build, Line: "main", Ratio: int(g.haul)})
		}
	}
	if s.Main.Pull {
		sp.list = append(sp.list, Action{Do: Capture, Line: "main"})
	}
	if s.Main.Spent {
		sp.list = append(sp.list, Action{Do: Advance, Line: "main"})
	}
	if s.Main.Toothed == TeethBear {
		sp.list = append(sp.list, Action{Do: FreeTeeth, Line: "main"})
	}
	if g.up && s.At < g.to && g.haul > 0 {
		sp.list = append(sp.list, Action{Do: Haul, Line: "main", AtM: max(g.to, g.haulTo).M()})
	}
	if g.beyond && !s.Main.Beyond {
		sp.list = append(sp.list, Action{Do: OverKnot, Line: "main"})
	}
	return sp.list
}

// half proposes what may be done with one strand.
func (sp *space) half(s *State, name string) {
	h := s.half(name)
	add := func(do Do) { sp.list = append(sp.list, Action{Do: do, Line: name}) }
	if !h.Loaded {
		add(LoadRope)
		return
	}
	if w := sp.rig.line(name).Winding; w != nil && !h.Wheel.Set {
		add(SetLock)
	}
	if !h.Proved {
		add(Prove)
	}
	switch {
	case sp.rig.line(name).Winding != nil:
		sp.wheel(s, h, name, add)
	case h.Parked:
		add(Unpark)
	}
	if !h.Parked {
		add(Park)
	}
	if sp.goal.away != h.Tied {
		if h.Tied {
			add(Untie)
		} else {
			add(Tie)
		}
	}
	if sp.goal.away != h.Away {
		if h.Away {
			add(Return)
		} else {
			add(Leave)
		}
	}
	for by := range sp.rig.Operators {
		do := HandOn
		if h.Hand > 0 {
			do = Swap
		}
		if do == HandOn || int(sp.goal.operator) == by+1 {
			sp.list = append(sp.list, Action{Do: do, Line: name, By: by + 1})
		}
	}
	if h.Hand > 0 {
		add(HandOff)
	}
	sp.grab(h, name, add)
}

// wheel proposes what may be done with the wheel of a winding descender.
func (sp *space) wheel(s *State, h *Half, name string, add func(Do)) {
	w := &h.Wheel
	if w.Handle {
		add(FoldHandle)
	} else if sp.goal.up {
		add(HandleOut)
	}
	if w.Slack {
		add(DrawSlack)
	}
	if w.Grip {
		add(LetGoWheel)
	} else if h.Parked {
		add(GripWheel)
	}
	if h.Parked && !sp.goal.parked {
		add(FreeLock)
	}
	if name == "main" && sp.goal.up && sp.goal.haul == 0 && s.At < sp.goal.to {
		sp.list = append(sp.list, Action{Do: Turn, Line: name, AtM: sp.goal.to.M()})
	}
}

// grab proposes what may be done with a grab and its hitch.
func (sp *space) grab(h *Half, name string, add func(Do)) {
	i := 0
	if name == "belay" {
		i = 1
	}
	under := sp.goal.under[i]
	up := under > 0 && h.Passed >= under
	down := h.Passed < sp.goal.passed[i]
	switch {
	case h.Grab == NoGrab && (down || up):
		add(PutGrab)
	case h.Grab == OnSlack && down:
		add(Settle)
	case h.Grab == Holding && (down || up):
		add(Through)
	case h.Grab == Holding:
		add(Extend)
		add(TakeGrab)
	case h.Grab == OnSlack:
		add(TakeGrab)
	}
}

func (sp *space) Do(s *State, a *Action, next *State) (float64, bool) {
	to, broken, err := sp.rig.do(*s, *a)
	if err != nil || stance.Stops(broken) {
		return 0, false
	}
	*next = to
	return sp.rig.seconds(s, next, a), true
}

func (sp *space) Judge(next, _ *State, _ *Action) (float64, bool) {
	found := sp.rig.Check(next)
	return 5 * float64(len(found)), !stance.Stops(found)
}

// Left counts nothing but what is put on or off once: the states of a team are few.
func (sp *space) LowerBound(s *State) float64 {
	c := 0.0
	if sp.goal.hangs && !s.Hangs {
		c += took[Over]
	}
	for i, h := range []*Half{&s.Main, &s.Belay} {
		if !h.Loaded {
			c += took[LoadRope]
		}
		if !h.Proved {
			c += took[Prove]
		}
		if h.Passed < sp.goal.passed[i] || sp.goal.under[i] > 0 && h.Passed >= sp.goal.under[i] {
			c += took[Through]
		}
	}
	return c
}

func (sp *space) Reached(s *State) bool { return sp.goal.is(s) }
