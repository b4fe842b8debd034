package team

import "fmt"

// knots are what is tied when an operator leaves, by school.
var knots = map[string]string{
	"": "an overhand in a bight round the load strand", "overhand": "an overhand in a bight round the load strand", "stopped-eight": "a stopped figure-eight",
	"connector": "the bight with a connector to the anchor",
}

// say writes a step: what is called, with its answer, and what is done by whom.
func (r *Rig) say(s *TeamState, a *TeamAction) (call, words string) {
	who := "Whoever is free"
	if a.By > 0 {
		who = r.Operators[a.By-1]
	} else if h := s.half(a.Line); h != nil && h.Hand > 0 {
		who = r.Operators[h.Hand-1]
	}
	brake := ""
	if a.Line != "" {
		brake = r.line(a.Line).Brake
	}
	switch a.Do {
	case LoadRope:
		return "", fmt.Sprintf("Park brake of %s off. Rope in as its picture shows; close it, lock it in the anchor.", brake)
	case Prove:
		return "", fmt.Sprintf("Tug on the load side of %s: it locks.", brake)
	case Park:
		return "", fmt.Sprintf("%s: park %s. See that it seats.", who, brake)
	case Unpark:
		return "", fmt.Sprintf("%s: hand on the brake strand, led back. Park brake of %s off.", who, brake)
	case Tie:
		return "", fmt.Sprintf("Knot %s off with %s; show it to another.", brake, knots[r.Schools.WalkAway])
	case Untie:
		return "", fmt.Sprintf("%s: hand on the strand, then the knot of %s out.", who, brake)
	case HandOn:
		return "", fmt.Sprintf("%s takes the brake strand of the %s, led back, never forward.", who, a.Line)
	case HandOff:
		return "", fmt.Sprintf("%s lets go of the brake strand of the %s; it is parked.", who, a.Line)
	case Swap:
		return "I have it", fmt.Sprintf("%s takes the brake strand of the %s behind the hand that is on it; only then does that one let go.", who, a.Line)
	case Leave:
		return "", fmt.Sprintf("Leave the %s: parked, knotted, shown.", a.Line)
	case Return:
		return "", fmt.Sprintf("Back at the %s: look at brake, knot and anchor.", a.Line)
	case BendIn:
		return "", fmt.Sprintf("The bend for two at %s, before it is unparked.", brake)
	case BendOut:
		return "", fmt.Sprintf("The bend at %s out.", brake)
	case Over:
		return "Ready to go over", "Belay hand-tight and a little ahead, the attendant controls the load; over the edge until both strands run over the protectors. “Edge clear.”"
	case Lower:
		if s.Shared {
			return "Down", fmt.Sprintf("Both at the same rate, by metre marks or eye: down to %v; the speed by the hand. “Stop.”", a.AtM)
		}
		return "Down", fmt.Sprintf("Down to %v; the speed by the hand, the belay hand-tight. “Stop.”", a.AtM)
	case PutGrab:
		return "", fmt.Sprintf("Grab on the load side of %s, the hitch snug to the anchor.", brake)
	case Settle:
		return "Settling", fmt.Sprintf("Hand on the brake strand: let the load down until the grab holds; it settles about %v.", grabSlack.M())
	case Through:
		return "", fmt.Sprintf("%s open, the knot through, rope in again, closed.", brake)
	case Extend:
		return "Onto the brake", fmt.Sprintf("Let the hitch out until %s bears; it must have %v to give.", brake, r.HitchNeeds())
	case TakeGrab:
		return "", "Grab off; hitch drawn in again for the next knot."
	case Build:
		return "", fmt.Sprintf("Grab and travelling pulley on the load side, rope through: %d:1.", a.Ratio)
	case Haul:
		return "Haul", fmt.Sprintf("Haul to %v; at each reset slack is given, the brake captures, the grab goes out again. The belay takes in.", a.AtM)
	case Strip:
		return "Stop", "The brake bears: grab and pulley off."
	case Share:
		return "Sharing", "The main slows; the belayer moves behind the brake, hand on the strand, and lets the belay take its part. Operators see each other."
	case Unshare:
		return "On the main", "The belay gives its part to the main, and is hand-tight again."
	}
	return "", string(a.Do)
}
