package team

import (
	"fmt"

	"zealousknot/internal/core/stance"
)

// hauls builds a haul on the load side, moves its grab, and takes it off.
func (r *Rig) hauls(s *State, h *Half, a *Action) (found []stance.Violation, err error) {
	if a.Line != "main" {
		return nil, fmt.Errorf("the main is hauled")
	}
	switch a.Do {
	case Build:
		return r.build(s, h, a)
	case Capture:
		return r.captures(s, h)
	case OverKnot:
		return r.overKnot(s, h, a)
	case Advance:
		return advance(h)
	}
	return strip(h)
}

// build puts a haul on the load side, or another in its place.
func (r *Rig) build(s *State, h *Half, a *Action) (found []stance.Violation, err error) {
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
	if need+r.bends(s) > r.Kit.Connectors {
		return nil, fmt.Errorf("no connectors are left for its pulleys: %d:1 takes %d, and the kit has %d of which %d are in bends", a.Ratio, need, r.Kit.Connectors, r.bends(s))
	}
	if !h.Parked && r.Schools.ParkAt != "hand" {
		found = stance.Broken("team.park", "the main is not parked while the haul is built")
	}
	if h.Pull {
		found = append(found, stance.Broken("moves.bearing", "the haulers bear the load while the haul is built anew: the brake bears it first")...)
	}
	h.Haul, h.Spent = int8(a.Ratio), false
	rope, ok := r.pastKnot(a.Line, h, s.At)
	h.Beyond = ok && rope < knotLen.M()+toGrabM
	return found, nil
}

// captures gives slack until the brake, or the grab behind a knot, bears.
func (r *Rig) captures(s *State, h *Half) (found []stance.Violation, err error) {
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
		found = stance.Broken("moves.bearing", "slack is given, and the brake of the main does not hold")
	}
	h.Pull = false
	return found, nil
}

// overKnot puts the grab of the haul on again beyond a knot that came up to it.
func (r *Rig) overKnot(s *State, h *Half, a *Action) (found []stance.Violation, err error) {
	rope, ok := r.pastKnot(a.Line, h, s.At)
	switch {
	case h.Haul < 2 || h.Beyond:
		return nil, fmt.Errorf("no grab of a haul stands before a knot")
	case !ok || rope > knotLen.M()+2*toGrabM:
		return nil, fmt.Errorf("no knot has come up to the grab")
	}
	if h.Pull {
		found = stance.Broken("moves.bearing", "the grab of the haul bears the load and is taken off")
	}
	if !h.holds() {
		found = append(found, stance.Broken("moves.bearing", "the brake of the main does not hold while the grab is moved")...)
	}
	h.Beyond = true
	return found, nil
}

// advance sets the grab of the haul out again.
func advance(h *Half) (found []stance.Violation, err error) {
	if !h.Spent {
		return nil, fmt.Errorf("the grab has its way before it")
	}
	if h.Pull {
		found = stance.Broken("moves.bearing", "the grab of the haul bears the load and is set out")
	}
	h.Spent = false
	return found, nil
}

// strip takes the haul off.
func strip(h *Half) (found []stance.Violation, err error) {
	if h.Haul == 0 {
		return nil, fmt.Errorf("no haul is on it")
	}
	if h.Pull {
		found = stance.Broken("moves.bearing", "the haulers bear the load while the haul comes off: the brake bears it first")
	}
	if !h.holds() {
		found = append(found, stance.Broken("moves.bearing", "the brake of the main does not hold while the haul comes off")...)
	}
	h.Haul, h.Spent, h.Beyond = 0, false, false
	return found, nil
}

// haulUp raises the load by its haul.
func (r *Rig) haulUp(s *State, h *Half, a *Action) (found []stance.Violation, err error) {
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
	s.Shared = false // what is hauled bears all; a belay is taken in by hand
	if err := r.upInto(s, to); err != nil {
		return nil, err
	}
	if h.Parked {
		found = stance.Broken("team.park", "the park brake of the main is on while hauling")
	}
	if h.Hand == 0 {
		found = append(found, stance.Broken("team.hand", "no hand is on the brake strand of the main while hauling")...)
	}
	if !s.Belay.live() && (s.Belay.Grab == NoGrab || s.Belay.Parked) {
		found = append(found, stance.Broken("points.two", "the belay is not taken in while hauling")...)
	}
	if h.Grab == Holding {
		h.Grab = OnSlack
	}
	s.At, h.Pull = to, true
	return found, nil
}

// upInto says which knot would come up into a grab or brake with the load raised to a
// height. A grab with its hitch beyond the knot catches the load instead of the brake.
func (r *Rig) upInto(s *State, to stance.Cm) error {
	_, waits := r.waits(s, to)
	for _, name := range lines {
		h := s.half(name)
		rope, ok := r.pastKnot(name, h, to)
		hauled := name == "main" && h.Haul > 1
		switch {
		case !ok:
		case hauled && !h.Beyond && rope < knotLen.M()+toGrabM-1e-6:
			return fmt.Errorf("a knot of the main would come up into the grab of the haul: the grab is put on beyond it first")
		case name == "belay" && waits:
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
func (r *Rig) freeTeeth(s *State, h *Half, a *Action) (found []stance.Violation, err error) {
	switch {
	case h.Toothed != TeethBear:
		return nil, fmt.Errorf("no toothed capture bears on the %s", a.Line)
	case !r.Kit.CaptureHolds:
		return nil, fmt.Errorf("the cam of the capture cannot be held open: it would close again while lowering")
	}
	to := s.At + stance.ToCm(r.Kit.CaptureM)
	if err := r.upInto(s, to); err != nil {
		return nil, err
	}
	if !h.Loaded || !h.Proved || !h.Parked {
		found = stance.Broken("moves.bearing", "the capture of the %s is opened under load, and behind it is no device that can lower, proved and parked", a.Line)
	}
	h.Toothed = TeethOpen
	s.At = to
	return found, nil
}

// winds does what is done with the wheel of a winding descender.
func (r *Rig) winds(s *State, h *Half, a *Action) (found []stance.Violation, err error) {
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
			found = stance.Broken("moves.bearing", "the lock of the %s is freed and no hand grips its wheel", a.Line)
		}
		if h.Wheel.Handle {
			found = append(found, stance.Broken("team.wheel", "the handle of the wheel is out while its lock is freed: it strikes")...)
		}
		h.Parked = false
	case LetGoWheel:
		if !h.Parked && h.Hand == 0 {
			found = stance.Broken("team.hand", "the wheel of the %s is let go, its lock is free and no hand is on the strand", a.Line)
		}
		h.Wheel.Grip = false
	}
	return found, nil
}

// turn lifts by the wheel, as far as slack need not be drawn.
func (r *Rig) turn(s *State, h *Half, a *Action) (found []stance.Violation, err error) {
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
		found = stance.Broken("team.wheel", "the wheel is turned and its lock does not catch")
	}
	s.At, s.Shared, h.Wheel.Slack = to, false, true
	return found, nil
}
