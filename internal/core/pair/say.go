package pair

import (
	"fmt"

	"zealousknot/internal/core/gear"
)

// say writes a step, with its call and why it is needed now.
func (sc *Scene) say(p *State, a *Action) (call, words, why string) {
	own := "the descender"
	if b := p.R.Bears; b >= 0 {
		own = sc.R.Tools[b].Label
	}
	theirs := "their descender"
	if d := hold(sc.C, &p.C, gear.Descender); d >= 0 {
		theirs = sc.C.Tools[d].Label
	}
	whose := map[Strand]string{Rescuers: "your own", Casualtys: sc.C.Name + "'s"}
	at := "the connector of " + own
	if sc.FromAnchor {
		at = "the connector that you hang from"
	}
	switch a.Do {
	case Park, TieOff, UntieOff, Unpark:
		return sc.sayOwn(a, own)
	case ClearAll:
		return "", "Both sets of ropes from between all legs; straddle early.", "what is caught between legs cannot be freed later"
	case LongOn:
		return "", fmt.Sprintf("%s to the harness of %s, locked.", sc.R.Tools[max(0, sc.LongTool)].Label, sc.C.Name), "it catches if the chain fails"
	case ChainOn:
		if a.Strap {
			return "", fmt.Sprintf("A short lanyard or sling from %s's ventral point to %s, each gate locked.", sc.C.Name, at), "as short as can be: it bears as soon as they are let down"
		}
		return "", fmt.Sprintf("Chain of %d from %s's ventral point to %s, each gate locked.", a.Links, sc.C.Name, at), "as short as can be: it bears as soon as they are let down"
	case LockIt:
		return "", "Lock every gate.", ""
	case TakeStrand:
		if sc.FromAnchor && a.Strand == Rescuers {
			return "", "Let go of the casualty's control strand: the operators have yours.", ""
		}
		return "", fmt.Sprintf("Find %s control strand; name it; in hand.", whose[a.Strand]), "the two are easily confused"
	case FreeTheirs:
		return "", fmt.Sprintf("Unpark %s.", theirs), ""
	case LowerTheirs:
		return "", fmt.Sprintf("Let %s down on %s until the chain bears and it is slack; their backup comes along.", sc.C.Name, theirs), "nothing that bears is taken off"
	case RigLift:
		return "", fmt.Sprintf("A foot loop over a pulley on a hand ascender above what holds %s, down to them.", sc.C.Name), "what grips lets go only without weight"
	case Lift:
		return "", "Stand in the loop, no higher than their weight asks for; open what gripped, rope out, shut.", "late and short: nobody stands in a loop longer than needed"
	case LetUp:
		return "", "Let up until the chain bears.", ""
	case TakeOff:
		i := sc.C.Tool(a.Item)
		return "", fmt.Sprintf("%s off; shut, and kept.", sc.C.Tools[max(0, i)].Label), "it is slack, and useful further down"
	case Bend:
		if sc.FromAnchor {
			return "Two on the rope: bend in", fmt.Sprintf("The operators put the added bend in at %s, parked, and look its rating for two up; they answer “Bend is in”.", own), "before the second weight comes on"
		}
		return "", fmt.Sprintf("The friction for two on %s control strand, named and touched.", whose[a.Strand]), "before it is unparked"
	case Descend:
		return "", fmt.Sprintf("Down to %v, slowly; nothing between legs.", a.AtM), ""
	case Land:
		return "", "Onto the landing: park; medical provider takes over.", ""
	}
	return "", string(a.Do), ""
}

// sayOwn writes what is done with what the rescuer hangs on: their descender, or the brakes
// at the anchors, which the operators work by the rescuer's call.
func (sc *Scene) sayOwn(a *Action, own string) (call, words, why string) {
	if sc.FromAnchor {
		switch a.Do {
		case Park:
			return "Stop, park", fmt.Sprintf("The operators stop and park %s and the belay; they answer “Parked”.", own), "nothing moves while both hands are needed"
		case TieOff:
			return "Tie off", fmt.Sprintf("The operators knot %s and the belay off, and show it to each other; they answer “Tied off”.", own), "it bears two soon, and stays where it is meanwhile"
		case UntieOff:
			return "Ready for two, untie", fmt.Sprintf("The operators take their brake strands in hand, then the knots of %s and the belay out.", own), ""
		}
		return "Two on the rope, down slow", fmt.Sprintf("Hands on the brake strands, %s and the belay unparked, down slowly; they answer “Down”.", own), "slowly: two weigh on it"
	}
	switch a.Do {
	case Park:
		return "", fmt.Sprintf("Park %s.", own), "both hands are needed"
	case TieOff:
		return "", fmt.Sprintf("Tie %s off.", own), "it bears two soon, and stays where it is meanwhile"
	case UntieOff:
		return "", fmt.Sprintf("Your control strand in hand; untie %s.", own), ""
	}
	return "", fmt.Sprintf("Hand on the control strand; unpark %s.", own), "slowly: two weigh on it"
}
