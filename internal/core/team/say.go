package team

import (
	"cmp"
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// knots are what is tied when an operator leaves, by school.
var knots = map[string]string{
	"overhand": "an overhand in a bight round the load strand", "stopped-eight": "a stopped figure-eight", "connector": "the bight with a connector to the anchor",
}

// Call is what is said before a kind of step, and answered: the team's own words, else
// the shipped ones.
func (r *Rig) Call(do Do) (call, answer string) {
	for _, c := range r.Calls {
		if Do(c.Do) == do {
			return c.Call, cmp.Or(c.Answer, c.Call)
		}
	}
	a := manoeuvre.Team.Find(string(do))
	if a == nil {
		return "", ""
	}
	return a.Call, a.Answer
}

// named is an operator by number; one that nobody is named for says so.
func (r *Rig) named(operator int8) string {
	if int(operator) > len(r.Operators) {
		return fmt.Sprintf("operator %d, whom nobody is named for", operator)
	}
	return r.Operators[operator-1]
}

// handsOf says whose hands do a step.
func (r *Rig) handsOf(s *State, a *Action) string {
	h := s.half(a.Line)
	switch {
	case a.By > 0 && a.By <= len(r.Operators):
		return r.Operators[a.By-1]
	case a.Do == Haul:
		return quantity.Count(r.Haulers).Of("hauler")
	case a.Do == Lower || a.Do == Over || a.Do == Share || a.Do == Unshare:
		var both []string
		for _, h := range []*Half{&s.Main, &s.Belay} {
			if h.Hand > 0 {
				both = append(both, r.named(h.Hand))
			}
		}
		if len(both) == 2 {
			return both[0] + " and " + both[1]
		}
	case h != nil && h.Hand > 0:
		return r.named(h.Hand)
	}
	return r.operator(a.Line)
}

// say writes a step: whose hands do it, and what is done.
func (r *Rig) say(s *State, a *Action) (who, words string) {
	who = r.handsOf(s, a)
	l, brake := r.line(a.Line), ""
	if a.Line != "" {
		brake = l.Brake
	}
	switch a.Do {
	case LoadRope:
		if h := s.half(a.Line); h != nil && h.Toothed == TeethBear {
			return who, fmt.Sprintf("%s on the rope snug behind the capture, to its own anchor, or the operator tied in; closed.", brake)
		}
		return who, fmt.Sprintf("Park brake of %s off. Rope in as its picture shows; close it, lock it in the anchor.", brake)
	case Prove:
		return who, fmt.Sprintf("Tug on the load side of %s: it locks.", brake)
	case Park:
		return who, fmt.Sprintf("Park %s. See that it seats.", brake)
	case Unpark:
		return who, fmt.Sprintf("Hand on the brake strand, led back. Park brake of %s off.", brake)
	case Tie:
		return who, fmt.Sprintf("Knot %s off with %s; show it to another.", brake, knots[cmp.Or(r.Schools.WalkAway, "overhand")])
	case Untie:
		return who, fmt.Sprintf("Hand on the strand, then the knot of %s out.", brake)
	case HandOn:
		if l.Winding != nil && l.Winding.Guide != "" {
			return who, fmt.Sprintf("The strand in hand, over %s.", l.Winding.Guide)
		}
		return who, fmt.Sprintf("Take the brake strand of the %s, led back, never forward.", a.Line)
	case HandOff:
		return who, fmt.Sprintf("Let go of the brake strand of the %s; it is parked.", a.Line)
	case Swap:
		return who, fmt.Sprintf("Take the brake strand of the %s behind the hand that is on it; only then does that one let go.", a.Line)
	case Leave:
		return who, fmt.Sprintf("Leave the %s: parked, knotted, shown.", a.Line)
	case Return:
		return who, fmt.Sprintf("Back at the %s: look at brake, knot and anchor.", a.Line)
	case BendIn:
		return who, fmt.Sprintf("The bend for two at %s, before it is unparked.", brake)
	case BendOut:
		return who, fmt.Sprintf("The bend at %s out.", brake)
	case Over, Lower, Share, Unshare:
		return who, r.sayLower(s, a)
	case PutGrab, Settle, Through, Extend, TakeGrab:
		return who, r.sayGrab(s, a, brake)
	case Build, Haul, Capture, Advance, Strip, OverKnot:
		return who, r.sayHaul(s, a)
	case FreeTeeth:
		return who, fmt.Sprintf("Take in by %v, the capture's release travel: teeth free; hold its cam open, the top of %s off it. Braced: it pulls the operator in.", r.Kit.CaptureM, brake)
	}
	return who, r.sayWheel(a, l.Winding)
}

func (r *Rig) sayLower(s *State, a *Action) string {
	speed := "the handle fully open, the speed by the brake hand"
	if r.Schools.SpeedBy == "handle" {
		speed = "the speed by the handle, the hand on the strand throughout"
	}
	switch a.Do {
	case Over:
		return "Belay hand-tight and a little ahead; the attendant controls the load. Over the edge until both strands run over the protectors. “Edge clear.”"
	case Share:
		return "The main slows; the belayer moves behind the brake, hand on the strand, and lets the belay take its part. Operators see each other; the attendant has control and hangs in the fall line."
	case Unshare:
		return "The belay gives its part to the main, and is hand-tight again."
	}
	if s.Shared {
		return fmt.Sprintf("Both at the same rate, by metre marks or eye: down to %v; %s. “Stop.”", a.AtM, speed)
	}
	return fmt.Sprintf("Down to %v; %s; the belay hand-tight. “Stop.”", a.AtM, speed)
}

func (r *Rig) sayGrab(s *State, a *Action, brake string) string {
	h := s.half(a.Line)
	rope, passed := r.pastKnot(a.Line, h, s.At)
	switch a.Do {
	case PutGrab:
		if passed && rope < knotLen.M()+2*toGrabM && h.Grab == NoGrab {
			return fmt.Sprintf("Grab on the load side of %s, beyond the knot that came up, the hitch snug to the anchor; it is moved along while the rope comes up.", brake)
		}
		return fmt.Sprintf("Grab on the load side of %s, the hitch snug to the anchor.", brake)
	case Settle:
		return fmt.Sprintf("Hand on the brake strand: let the load down until the grab holds; it settles about %v.", r.settle().M())
	case Through:
		if passed && rope < 0 {
			return fmt.Sprintf("%s open, the knot back through it, rope in again on the load side of the knot, drawn snug; closed.", brake)
		}
		return fmt.Sprintf("%s open, the knot through, rope in again, closed.", brake)
	case Extend:
		return fmt.Sprintf("Let the hitch out until %s bears; it must have %v to give.", brake, r.slackIn(a.Line, h, s.At)+r.stretchBehind())
	}
	return "Grab off; hitch drawn in again for the next knot."
}

func (r *Rig) sayHaul(s *State, a *Action) string {
	switch a.Do {
	case Build:
		return fmt.Sprintf("Grab and travelling pulley on the load side, rope through: %d:1.", a.Ratio)
	case Haul:
		return fmt.Sprintf("Haul to %v, the brake strand taken in; at each reset slack is given, the brake captures, the grab goes out again. %s", a.AtM, r.belayed(s, stance.ToCm(a.AtM)))
	case OverKnot:
		return "The knot has come up to the grab of the haul: the brake holds, grab off, and on again beyond the knot."
	case Capture:
		if s.Main.Grab == OnSlack {
			return "Slack is given until the grab with its hitch holds, beyond the knot."
		}
		return "Slack is given until the brake of the main captures."
	case Advance:
		return "Grab out again, down the load strand as far as it goes. “Set.”"
	}
	return "The brake bears: grab and pulley off."
}

// belayed is what becomes of the belay while the load is hauled to a height.
func (r *Rig) belayed(s *State, to stance.Cm) string {
	if short, waits := r.waits(s, to); waits && short > 1e-6 {
		return fmt.Sprintf("The belay is left slack below its knot, up to %v of it, until the main's is past.", short)
	}
	return "The belay takes in."
}

// locks are how a lock is freed, by its kind.
var locks = map[string]string{"ratchet": "lift the ratchet", "lever": "press the lever", "pin": "draw the pin"}

func (r *Rig) sayWheel(a *Action, w *gear.Winding) string {
	if w == nil {
		return string(a.Do)
	}
	switch a.Do {
	case SetLock:
		side := map[string]string{"left": "; it works on the left only: the load strand leaves on the left", "right": "; it works on the right only: the load strand leaves on the right"}[w.LockSides]
		return "Set the lock for the loaded side; as it is unpacked it runs free" + side + "."
	case HandleOut:
		return "Handle of the wheel out."
	case Turn:
		return fmt.Sprintf("Turn the wheel: up to %v, %v a turn; the belay takes in.", a.AtM, w.LiftPerTurnM)
	case DrawSlack:
		return "Draw the slack through."
	case FoldHandle:
		return "Fold the handle."
	case GripWheel:
		return "One hand grips the wheel and takes the load a little."
	case FreeLock:
		return fmt.Sprintf("The other hand: %s.", locks[w.Lock])
	}
	return "Let go of the wheel: the strand is in hand."
}

// TurnsFor is how many turns of a wheel lift so far, and how often slack is drawn.
func TurnsFor(w *gear.Winding, lift quantity.Metres) (turns, draws int) {
	up := func(q quantity.Metres) int {
		n := int(lift / q)
		if quantity.Metres(n)*q < lift-1e-9 {
			n++
		}
		return n
	}
	return up(w.LiftPerTurnM), up(w.SlackAfterM)
}
