package team

import (
	"fmt"

	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// Do is what an action of the team is: a row of manoeuvre.Team.
type Do = manoeuvre.TeamDo

const (
	LoadRope Do = "load-rope" // into the brake, closed
	Prove    Do = "prove"     // by a tug
	Park     Do = "park"
	Unpark   Do = "unpark"
	Tie      Do = "tie"
	Untie    Do = "untie"
	HandOn   Do = "hand-on"
	HandOff  Do = "hand-off"
	BendIn   Do = "bend-in"
	BendOut  Do = "bend-out"
	Over     Do = "over-edge"
	Lower    Do = "lower"
	PutGrab  Do = "put-grab"
	Settle   Do = "settle"  // let down until the grab holds
	Through  Do = "through" // brake open, knot through, closed again
	Extend   Do = "extend"  // let the hitch out until the brake bears
	TakeGrab Do = "take-grab"
	Build    Do = "build"
	Haul     Do = "haul"
	Capture  Do = "capture" // slack given until the brake bears
	Advance  Do = "advance" // the grab of the haul out again
	Strip    Do = "strip"
	Share    Do = "share"
	Unshare  Do = "unshare"
	Leave    Do = "leave"
	Return   Do = "return"
	Swap     Do = "swap"
	// OverKnot puts the grab of the haul on beyond a knot that came up to it.
	OverKnot Do = "over-knot"
	// FreeTeeth takes in by a toothed capture's release travel and holds its cam open.
	FreeTeeth Do = "free-teeth"
	// What is done with a winding descender.
	SetLock    Do = "set-lock"
	HandleOut  Do = "handle-out"
	Turn       Do = "turn"
	DrawSlack  Do = "draw-slack"
	FoldHandle Do = "fold-handle"
	GripWheel  Do = "grip-wheel"
	FreeLock   Do = "free-lock"
	LetGoWheel Do = "let-go-wheel"
)

// Action is one action of the team.
type Action struct {
	Do   Do     `json:"do"`
	Line string `json:"line,omitempty" enum:"main,belay"`
	// By is the operator, from 1.
	By    int             `json:"by,omitempty" minimum:"0" maximum:"6"`
	AtM   quantity.Metres `json:"at_m,omitempty" minimum:"0" maximum:"2000" doc:"height that the load is lowered or raised to"`
	Ratio int             `json:"ratio,omitempty" enum:"0,1,2,3,5,9"`
	// Silent leaves out the call, Forward lets the brake strand come off forward, Loose
	// leaves slack in grab and hitch, Behind puts the grab behind the brake.
	Silent  bool `json:"silent,omitempty"`
	Forward bool `json:"forward,omitempty"`
	Loose   bool `json:"loose,omitempty"`
	Behind  bool `json:"behind,omitempty"`
}

// pulleysFor are the pulleys that a ratio needs beside the brake at the anchor.
var pulleysFor = map[int]int{1: 0, 2: 1, 3: 1, 5: 3, 9: 3}

// Pulleys are how many a ratio needs beside the brake at the anchor.
func Pulleys(ratio int) int { return pulleysFor[ratio] }

// Apply does an action. What keeps it from being done at all is in the error; what
// rules the step and the state after it break, in the violations.
func (r *Rig) Apply(s State, a Action) (State, []stance.Violation, error) {
	next, found, err := r.do(s, a)
	if err != nil {
		return s, nil, err
	}
	return next, append(found, r.Check(&next)...), nil
}

// moves reports whether an action moves the load, or what bears it.
func (a *Action) moves() bool {
	switch a.Do {
	case Over, Lower, Settle, Extend, Haul, Capture, Share, Unshare, FreeTeeth, Turn, FreeLock, Swap:
		return true
	}
	return false
}

func (r *Rig) do(s State, a Action) (State, []stance.Violation, error) {
	h := s.half(a.Line)
	if h == nil && a.Do != Over && a.Do != Lower && a.Do != Share && a.Do != Unshare {
		return s, nil, fmt.Errorf("there is no strand %q", a.Line)
	}
	var found []stance.Violation
	if a.moves() && a.Silent {
		found = stance.Broken("moves.call", "the load is moved without a call and its answer")
	}
	var more []stance.Violation
	var err error
	switch a.Do {
	case LoadRope, Prove, Park, Unpark, Tie, Untie, BendIn, BendOut:
		if a.Do == BendIn && r.bends(&s)+pulleysFor[int(s.Main.Haul)] >= r.Kit.Connectors {
			return s, nil, fmt.Errorf("no connector is left for the bend")
		}
		more, err = r.setBrake(h, &a)
	case HandOn, HandOff, Swap, Leave, Return:
		more, err = r.hands(&s, h, &a)
	case Over, Lower, Share, Unshare:
		more, err = r.lowers(&s, &a)
	case PutGrab, Settle, Through, Extend, TakeGrab:
		more, err = r.grabs(&s, h, &a)
	case Build, Capture, Advance, Strip, OverKnot:
		more, err = r.hauls(&s, h, &a)
	case Haul:
		more, err = r.haulUp(&s, h, &a)
	case FreeTeeth:
		more, err = r.freeTeeth(&s, h, &a)
	case SetLock, HandleOut, Turn, DrawSlack, FoldHandle, GripWheel, FreeLock, LetGoWheel:
		more, err = r.winds(&s, h, &a)
	default:
		err = fmt.Errorf("there is no action %q", a.Do)
	}
	return s, append(found, more...), err
}

// bends counts the connectors that added bends take.
func (r *Rig) bends(s *State) int {
	n := 0
	for _, h := range []*Half{&s.Main, &s.Belay} {
		if h.Bend {
			n++
		}
	}
	return n
}

// setBrake does what is done to a brake alone.
func (r *Rig) setBrake(h *Half, a *Action) (found []stance.Violation, err error) {
	if err := r.settable(h, a); err != nil {
		return nil, err
	}
	switch a.Do {
	case LoadRope:
		if h.Parked {
			found = stance.Broken("team.park", "the park brake of the %s is on while rope is loaded", a.Line)
		}
		h.Loaded, h.Proved = true, false
	case Prove:
		h.Proved = true
	case Park:
		h.Parked = true
	case Unpark:
		h.Parked = false
		if h.Hand == 0 {
			found = stance.Broken("team.hand", "the %s is unparked and no hand is on its brake strand", a.Line)
		}
	case Tie:
		if !h.Parked {
			found = stance.Broken("team.away", "the %s is knotted and not parked", a.Line)
		}
		h.Tied = true
	case Untie:
		h.Tied = false
		if h.Hand == 0 {
			found = stance.Broken("team.hand", "the knot of the %s is taken out and no hand is on its brake strand", a.Line)
		}
	case BendIn, BendOut:
		if h.Bend == (a.Do == BendIn) {
			return nil, fmt.Errorf("that is done already")
		}
		if !h.Parked {
			found = stance.Broken("device.two", "the bend of the %s is changed while it is not parked", a.Line)
		}
		h.Bend = a.Do == BendIn
	}
	return found, nil
}

// settable refuses what cannot be done to a brake as it is.
func (r *Rig) settable(h *Half, a *Action) error {
	switch {
	case a.Do != LoadRope && !h.Loaded:
		return fmt.Errorf("no rope is in the brake of the %s", a.Line)
	case a.Do == LoadRope && h.Loaded, a.Do == Prove && h.Proved, a.Do == Park && h.Parked, a.Do == Unpark && !h.Parked, a.Do == Tie && h.Tied, a.Do == Untie && !h.Tied:
		return fmt.Errorf("that is done already")
	case a.Do == Unpark && r.line(a.Line).Winding != nil:
		return fmt.Errorf("its lock is freed with a hand on the wheel")
	case a.Do == Prove && r.line(a.Line).Winding != nil && !h.Wheel.Set:
		return fmt.Errorf("it runs free until its lock is set for the loaded side")
	case a.Do == Unpark && h.Tied:
		return fmt.Errorf("it is knotted: untie it first")
	}
	return nil
}

// hands does what operators do.
func (r *Rig) hands(s *State, h *Half, a *Action) (found []stance.Violation, err error) {
	by := int8(a.By)
	switch a.Do {
	case HandOn, Swap:
		if a.By < 1 || a.By > len(r.Operators) {
			return nil, fmt.Errorf("there is no operator %d", a.By)
		}
		if s.Main.Hand == by || s.Belay.Hand == by {
			return nil, fmt.Errorf("%s has a hand on a brake strand already", r.Operators[by-1])
		}
		if (a.Do == Swap) != (h.Hand > 0) {
			return nil, fmt.Errorf("a hand is put on where none is; else two swap")
		}
		h.Hand, h.Forward, h.Away = by, a.Forward, false
	case HandOff:
		if h.Hand == 0 {
			return nil, fmt.Errorf("no hand is on it")
		}
		if h.Loaded && !h.Parked {
			found = stance.Broken("team.hand", "the hand leaves the brake strand of the %s, which is not parked", a.Line)
		}
		h.Hand, h.Forward = 0, false
	case Leave:
		if h.Hand > 0 || h.Away {
			return nil, fmt.Errorf("the hand leaves the strand before the operator leaves")
		}
		h.Away = true
	case Return:
		if !h.Away {
			return nil, fmt.Errorf("nobody is away from it")
		}
		h.Away = false
	}
	return found, nil
}

// live reports a strand whose rope can run with a hand on it.
func (h *Half) live() bool {
	return h.Loaded && h.Proved && h.Hand > 0 && !h.Parked && !h.Tied && h.Grab == NoGrab && h.Toothed != TeethBear && !h.Wheel.Grip && !h.Wheel.Handle
}

// lowers moves the load over the edge and down, and shares it between the strands.
func (r *Rig) lowers(s *State, a *Action) ([]stance.Violation, error) {
	if a.Do == Share || a.Do == Unshare {
		switch {
		case !s.Hangs:
			return nil, fmt.Errorf("before the load is over the edge nothing is shared")
		case s.Shared == (a.Do == Share):
			return nil, fmt.Errorf("that is so already")
		case !s.Main.live() || !s.Belay.live():
			return nil, fmt.Errorf("both strands are live while sharing is changed")
		}
		s.Shared = a.Do == Share
		return r.sight(s), nil
	}
	if s.Main.Haul > 0 || s.Belay.Haul > 0 {
		return nil, fmt.Errorf("a haul is on it")
	}
	for _, name := range []string{"main", "belay"} {
		if !s.half(name).live() {
			return nil, fmt.Errorf("the %s is not live: loaded, proved, unparked, with a hand on its brake strand", name)
		}
	}
	to := stance.ToCm(a.AtM)
	if a.Do == Over {
		if s.Hangs {
			return nil, fmt.Errorf("the load is over the edge already")
		}
		s.Hangs, s.At = true, stance.ToCm(r.EdgeM)
		return nil, nil
	}
	if !s.Hangs || to >= s.At {
		return nil, fmt.Errorf("that is not down")
	}
	if err := r.into(s, to); err != nil {
		return nil, err
	}
	s.At = to
	return r.sight(s), nil
}

// sight is team.sight: a load that both strands bear is moved, or moves to both, only
// where the operators see each other.
func (r *Rig) sight(s *State) []stance.Violation {
	if s.Shared && r.OutOfSight {
		return stance.Broken("team.sight", "the operators who share the load do not see each other")
	}
	return nil
}
