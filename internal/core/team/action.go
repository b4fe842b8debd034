package team

import (
	"fmt"
	"math"

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

// TeamAction is one action of the team.
type TeamAction struct {
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
func (r *Rig) Apply(s TeamState, a TeamAction) (TeamState, []stance.Violation, error) {
	next, found, err := r.do(s, a)
	if err != nil {
		return s, nil, err
	}
	return next, append(found, r.Check(&next)...), nil
}

// moves reports whether an action moves the load, or what bears it.
func (a *TeamAction) moves() bool {
	switch a.Do {
	case Over, Lower, Settle, Extend, Haul, Capture, Share, Unshare, FreeTeeth, Turn, FreeLock, Swap:
		return true
	}
	return false
}

func (r *Rig) do(s TeamState, a TeamAction) (TeamState, []stance.Violation, error) {
	h := s.half(a.Line)
	if h == nil && a.Do != Over && a.Do != Lower && a.Do != Share && a.Do != Unshare {
		return s, nil, fmt.Errorf("there is no strand %q", a.Line)
	}
	var found []stance.Violation
	if a.moves() && a.Silent {
		found = broken("moves.call", "the load is moved without a call and its answer")
	}
	var more []stance.Violation
	var err error
	switch a.Do {
	case LoadRope, Prove, Park, Unpark, Tie, Untie, BendIn, BendOut:
		if a.Do == BendIn && r.bends(&s) >= r.Kit.Bends {
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
func (r *Rig) bends(s *TeamState) int {
	n := 0
	for _, h := range []*Half{&s.Main, &s.Belay} {
		if h.Bend {
			n++
		}
	}
	return n
}

// setBrake does what is done to a brake alone.
func (r *Rig) setBrake(h *Half, a *TeamAction) (found []stance.Violation, err error) {
	switch {
	case a.Do != LoadRope && !h.Loaded:
		return nil, fmt.Errorf("no rope is in the brake of the %s", a.Line)
	case a.Do == LoadRope && h.Loaded, a.Do == Prove && h.Proved, a.Do == Park && h.Parked, a.Do == Unpark && !h.Parked, a.Do == Tie && h.Tied, a.Do == Untie && !h.Tied:
		return nil, fmt.Errorf("that is done already")
	case a.Do == Unpark && r.line(a.Line).Winding != nil:
		return nil, fmt.Errorf("its lock is freed with a hand on the wheel")
	case a.Do == Prove && r.line(a.Line).Winding != nil && !h.Wheel.Set:
		return nil, fmt.Errorf("it runs free until its lock is set for the loaded side")
	case a.Do == Unpark && h.Tied:
		return nil, fmt.Errorf("it is knotted: untie it first")
	}
	switch a.Do {
	case LoadRope:
		if h.Parked {
			found = broken("team.park", "the park brake of the %s is on while rope is loaded", a.Line)
		}
		h.Loaded, h.Proved = true, false
	case Prove:
		h.Proved = true
	case Park:
		h.Parked = true
	case Unpark:
		h.Parked = false
		if h.Hand == 0 {
			found = broken("team.hand", "the %s is unparked and no hand is on its brake strand", a.Line)
		}
	case Tie:
		if !h.Parked {
			found = broken("team.away", "the %s is knotted and not parked", a.Line)
		}
		h.Tied = true
	case Untie:
		h.Tied = false
		if h.Hand == 0 {
			found = broken("team.hand", "the knot of the %s is taken out and no hand is on its brake strand", a.Line)
		}
	case BendIn, BendOut:
		if h.Bend == (a.Do == BendIn) {
			return nil, fmt.Errorf("that is done already")
		}
		if !h.Parked {
			found = broken("device.two", "the bend of the %s is changed while it is not parked", a.Line)
		}
		h.Bend = a.Do == BendIn
	}
	return found, nil
}

// hands does what operators do.
func (r *Rig) hands(s *TeamState, h *Half, a *TeamAction) (found []stance.Violation, err error) {
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
			found = broken("team.hand", "the hand leaves the brake strand of the %s, which is not parked", a.Line)
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
func (r *Rig) lowers(s *TeamState, a *TeamAction) ([]stance.Violation, error) {
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

// grabs does what is done with a grab and its hitch, on the load side of the brake.
func (r *Rig) grabs(s *TeamState, h *Half, a *TeamAction) (found []stance.Violation, err error) {
	hangs := s.Hangs && (a.Line == "main" || s.Shared)
	switch a.Do {
	case PutGrab:
		if h.Grab != NoGrab || r.hitched(s) >= r.Kit.Grabs || r.used(s) >= r.Kit.Grabs+r.Kit.Plain {
			return nil, fmt.Errorf("no grab with its hitch is left")
		}
		if !h.Parked {
			found = broken("team.hand", "both hands put the grab on and the %s is not parked", a.Line)
		}
		if a.Behind {
			found = append(found, broken("team.grab", "the grab is on the wrong side of the knot: behind the brake of the %s it bears nothing", a.Line)...)
		}
		if a.Loose {
			found = append(found, broken("moves.settle", "grab and hitch are left loose: the load would settle %v", loose.M())...)
		}
		h.Grab, h.Extended = OnSlack, false
		if !hangs {
			// A belay that carries nothing hangs in its grab at once.
			h.Grab = Holding
		}
	case Settle:
		if h.Grab != OnSlack || !h.Loaded || h.Parked || h.Hand == 0 {
			return nil, fmt.Errorf("the load is let down onto a grab that is on, by the brake, with a hand on it and unparked")
		}
		if err := r.into(s, s.At-r.settle()); err != nil {
			return nil, err
		}
		h.Grab = Holding
		s.At -= r.settle()
	case Through:
		by := r.goesThrough(s, h, a.Line)
		if h.Grab != Holding || by == 0 {
			return nil, fmt.Errorf("a brake is opened for a knot that is there, while the grab bears")
		}
		if h.Parked {
			found = broken("team.park", "the park brake of the %s is on while rope is loaded", a.Line)
		}
		h.Passed += by
		h.Proved, h.Beyond = false, false
	case Extend:
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
			found = broken("service.function-check", "the brake of the %s is not proved by a tug before it bears", a.Line)
		}
		if h.Hand == 0 && !h.Parked {
			found = append(found, broken("team.hand", "the load comes onto the %s and no hand is on its brake strand", a.Line)...)
		}
		h.Grab, h.Extended, s.At = OnSlack, true, to
	case TakeGrab:
		if h.Grab == NoGrab {
			return nil, fmt.Errorf("no grab is on it")
		}
		if h.Grab == Holding && hangs {
			found = broken("moves.bearing", "the grab of the %s bears the load and is taken off", a.Line)
		}
		h.Grab, h.Extended = NoGrab, false
	}
	return found, nil
}

// goesThrough is by how much the knots that are through change where a brake is opened: 1
// for the next one down that is close enough, -1 for one that was raised past its brake,
// 0 for none.
func (r *Rig) goesThrough(s *TeamState, h *Half, line string) int8 {
	if rope, ok := r.pastKnot(line, h, s.At); ok && rope <= -r.gap() {
		return -1
	}
	if gap, ok := r.toKnot(line, h, s.At); ok && gap <= r.ready() {
		return 1
	}
	return 0
}

// used counts the grabs that are on, hitched those with a hitch.
func (r *Rig) used(s *TeamState) int {
	n := r.hitched(s)
	if s.Main.Haul > 1 {
		n++
	}
	return n
}

func (r *Rig) hitched(s *TeamState) int {
	n := 0
	for _, h := range []*Half{&s.Main, &s.Belay} {
		if h.Grab != NoGrab {
			n++
		}
	}
	return n
}

// hauls builds a haul on the load side, moves its grab, and takes it off.
func (r *Rig) hauls(s *TeamState, h *Half, a *TeamAction) (found []stance.Violation, err error) {
	if a.Line != "main" {
		return nil, fmt.Errorf("the main is hauled")
	}
	switch a.Do {
	case Build:
		need, known := pulleysFor[a.Ratio]
		switch {
		case !known:
			return nil, fmt.Errorf("no haul of %d:1", a.Ratio)
		case int8(a.Ratio) == h.Haul:
			return nil, fmt.Errorf("that is built already")
		case h.Grab != NoGrab:
			return nil, fmt.Errorf("a grab is on it")
		case need > r.Kit.Pulleys, a.Ratio > 1 && h.Haul <= 1 && r.used(s) >= r.Kit.Grabs+r.Kit.Plain:
			return nil, fmt.Errorf("%d:1 needs %d pulleys and a grab", a.Ratio, need)
		}
		if !h.Parked && r.Schools.ParkAt != "hand" {
			found = broken("team.park", "the main is not parked while the haul is built")
		}
		if h.Pull {
			found = append(found, broken("moves.bearing", "the haulers bear the load while the haul is built anew: the brake bears it first")...)
		}
		h.Haul, h.Spent = int8(a.Ratio), false
		rope, ok := r.pastKnot(a.Line, h, s.At)
		h.Beyond = ok && rope < knotLen.M()+toGrabM
	case Capture:
		if !h.Pull {
			return nil, fmt.Errorf("the haulers bear nothing")
		}
		if h.Grab == OnSlack {
			if err := r.into(s, s.At-r.settle()); err != nil {
				return nil, err
			}
			h.Grab = Holding
			s.At -= r.settle()
		}
		if !h.holds() {
			found = broken("moves.bearing", "slack is given, and the brake of the main does not hold")
		}
		h.Pull = false
	case OverKnot:
		rope, ok := r.pastKnot(a.Line, h, s.At)
		switch {
		case h.Haul < 2 || h.Beyond:
			return nil, fmt.Errorf("no grab of a haul stands before a knot")
		case !ok || rope > knotLen.M()+2*toGrabM:
			return nil, fmt.Errorf("no knot has come up to the grab")
		}
		if h.Pull {
			found = broken("moves.bearing", "the grab of the haul bears the load and is taken off")
		}
		if !h.holds() {
			found = append(found, broken("moves.bearing", "the brake of the main does not hold while the grab is moved")...)
		}
		h.Beyond = true
	case Advance:
		if !h.Spent {
			return nil, fmt.Errorf("the grab has its way before it")
		}
		if h.Pull {
			found = broken("moves.bearing", "the grab of the haul bears the load and is set out")
		}
		h.Spent = false
	case Strip:
		if h.Haul == 0 {
			return nil, fmt.Errorf("no haul is on it")
		}
		if h.Pull {
			found = broken("moves.bearing", "the haulers bear the load while the haul comes off: the brake bears it first")
		}
		if !h.holds() {
			found = append(found, broken("moves.bearing", "the brake of the main does not hold while the haul comes off")...)
		}
		h.Haul, h.Spent, h.Beyond = 0, false, false
	}
	return found, nil
}

// haulUp raises the load by its haul.
func (r *Rig) haulUp(s *TeamState, h *Half, a *TeamAction) (found []stance.Violation, err error) {
	to := stance.ToCm(a.AtM)
	switch {
	case a.Line != "main":
		return nil, fmt.Errorf("the main is hauled")
	case h.Haul == 0 || !s.Hangs || to <= s.At:
		return nil, fmt.Errorf("there is no haul that raises it there")
	case to > stance.ToCm(r.EdgeM):
		return nil, fmt.Errorf("that is above the edge")
	case !h.Loaded || !h.Proved:
		return nil, fmt.Errorf("the brake of the main captures the rope, and is not ready")
	case h.Spent:
		return nil, fmt.Errorf("the stroke is used up: reset first")
	case r.Haulers < 1:
		return nil, fmt.Errorf("nobody is there to haul")
	}
	if err := r.upInto(s, to); err != nil {
		return nil, err
	}
	if h.Parked {
		found = broken("team.park", "the park brake of the main is on while hauling")
	}
	if h.Hand == 0 {
		found = append(found, broken("team.hand", "no hand is on the brake strand of the main while hauling")...)
	}
	if !s.Belay.live() && (s.Belay.Grab == NoGrab || s.Belay.Parked) {
		found = append(found, broken("points.two", "the belay is not taken in while hauling")...)
	}
	if h.Grab == Holding {
		h.Grab = OnSlack
	}
	s.At, h.Pull = to, true
	return found, nil
}

// upInto says which knot would come up into a grab or brake with the load raised to a
// height. A grab with its hitch beyond the knot catches the load instead of the brake.
func (r *Rig) upInto(s *TeamState, to stance.Cm) error {
	for _, name := range []string{"main", "belay"} {
		h := s.half(name)
		rope, ok := r.pastKnot(name, h, to)
		hauled := name == "main" && h.Haul > 1
		switch {
		case !ok:
		case hauled && !h.Beyond && rope < knotLen.M()+toGrabM-1e-6:
			return fmt.Errorf("a knot of the main would come up into the grab of the haul: the grab is put on beyond it first")
		case h.Grab == NoGrab && rope < knotLen.M()+r.gap()-1e-6:
			return fmt.Errorf("a knot of the %s would come up into its brake: a grab with its hitch catches beyond it first", name)
		case hauled && h.Passed > 1:
			before := *h
			before.Passed--
			if rope, _ := r.pastKnot(name, &before, to); rope < knotLen.M()+toGrabM-1e-6 {
				return fmt.Errorf("a second knot of the main would come up into the grab of the haul")
			}
		}
	}
	return nil
}

// freeTeeth opens a toothed capture that bears: rope is taken in by its release travel
// until the teeth are free, and its cam is held open.
func (r *Rig) freeTeeth(s *TeamState, h *Half, a *TeamAction) (found []stance.Violation, err error) {
	switch {
	case h.Toothed != TeethBear:
		return nil, fmt.Errorf("no toothed capture bears on the %s", a.Line)
	case !r.Kit.CaptureHolds:
		return nil, fmt.Errorf("the cam of the capture cannot be held open: it would close again while lowering")
	}
	if !h.Loaded || !h.Proved || !h.Parked {
		found = broken("moves.bearing", "the capture of the %s is opened under load, and behind it is no device that can lower, proved and parked", a.Line)
	}
	h.Toothed = TeethOpen
	s.At += stance.ToCm(r.Kit.CaptureM)
	return found, nil
}

// winds does what is done with the wheel of a winding descender.
func (r *Rig) winds(s *TeamState, h *Half, a *TeamAction) (found []stance.Violation, err error) {
	w := r.line(a.Line).Winding
	if w == nil {
		return nil, fmt.Errorf("%s has no wheel", r.line(a.Line).Brake)
	}
	done := map[Do]bool{SetLock: h.Wheel.Set, HandleOut: h.Wheel.Handle, DrawSlack: !h.Wheel.Slack, FoldHandle: !h.Wheel.Handle, GripWheel: h.Wheel.Grip, FreeLock: !h.Parked, LetGoWheel: !h.Wheel.Grip}
	if done[a.Do] {
		return nil, fmt.Errorf("that is done already")
	}
	switch a.Do {
	case SetLock:
		h.Wheel.Set = true
	case HandleOut, FoldHandle:
		h.Wheel.Handle = a.Do == HandleOut
	case DrawSlack:
		h.Wheel.Slack = false
	case GripWheel:
		h.Wheel.Grip = true
	case Turn:
		return r.turn(s, h, a)
	case FreeLock:
		if h.Hand > 0 {
			return nil, fmt.Errorf("one hand is on the wheel, the other frees the lock: the strand is taken after")
		}
		if h.Tied {
			return nil, fmt.Errorf("it is knotted: untie it first")
		}
		if !h.Wheel.Grip {
			found = broken("moves.bearing", "the lock of the %s is freed and no hand grips its wheel", a.Line)
		}
		if h.Wheel.Handle {
			found = append(found, broken("team.wheel", "the handle of the wheel is out while its lock is freed: it strikes")...)
		}
		h.Parked = false
	case LetGoWheel:
		if !h.Parked && h.Hand == 0 {
			found = broken("team.hand", "the wheel of the %s is let go, its lock is free and no hand is on the strand", a.Line)
		}
		h.Wheel.Grip = false
	}
	return found, nil
}

// turn lifts by the wheel, as far as slack need not be drawn.
func (r *Rig) turn(s *TeamState, h *Half, a *TeamAction) (found []stance.Violation, err error) {
	to, w := stance.ToCm(a.AtM), r.line(a.Line).Winding
	switch {
	case !h.Loaded || !h.Proved || !h.Wheel.Set:
		return nil, fmt.Errorf("the wheel turns nothing before its lock is set and proved")
	case !h.Wheel.Handle:
		return nil, fmt.Errorf("the handle is folded")
	case h.Wheel.Slack:
		return nil, fmt.Errorf("slack is drawn before it is turned on")
	case !s.Hangs || to <= s.At || to > stance.ToCm(r.EdgeM):
		return nil, fmt.Errorf("that is not up, or above the edge")
	case to-s.At > stance.ToCm(w.SlackAfterM):
		return nil, fmt.Errorf("after %v slack is drawn", w.SlackAfterM)
	}
	if err := r.upInto(s, to); err != nil {
		return nil, err
	}
	if !h.Parked {
		found = broken("team.wheel", "the wheel is turned and its lock does not catch")
	}
	s.At, h.Wheel.Slack = to, true
	return found, nil
}

// sight is team.sight: a load that both strands bear is moved, or comes onto both, only
// where the operators see each other.
func (r *Rig) sight(s *TeamState) []stance.Violation {
	if s.Shared && r.OutOfSight {
		return broken("team.sight", "the operators who share the load do not see each other")
	}
	return nil
}
