package team

import (
	"fmt"

	"zealousknot/internal/core/quantity"
)

// inSight is how far below an edge somebody who stands there sees a load.
const inSight = 5

// Sees says in words what somebody sees of a rig from where they are: at the main, the belay,
// the edge, the haul, or with the load (attendant).
func (r *Rig) Sees(s *State, from string) []string {
	switch from {
	case "main", "belay":
		return r.seesLine(s, from)
	case "haul":
		return r.seesHaul(s)
	case "edge":
		below := r.EdgeM - s.At.M()
		switch {
		case !s.Hangs:
			return []string{fmt.Sprintf("%s is not over the edge.", r.Load.Name)}
		case below > inSight:
			return []string{fmt.Sprintf("%s is out of sight, below the edge.", r.Load.Name)}
		}
		return []string{fmt.Sprintf("%s hangs %v below the edge.", r.Load.Name, max(0, below))}
	case "attendant":
		if !s.Hangs {
			return []string{fmt.Sprintf("You are with %s, before the edge.", r.Load.Name)}
		}
		line := "the main carries, the belay is slack"
		if s.Shared {
			line = "both strands carry"
		}
		return []string{fmt.Sprintf("You are with %s at %v; %s.", r.Load.Name, s.At.M(), line)}
	}
	return nil
}

func (r *Rig) seesLine(s *State, name string) []string {
	h, l := s.half(name), r.line(name)
	if h.Away {
		return []string{fmt.Sprintf("You are away from the %s.", name)}
	}
	list := []string{fmt.Sprintf("%s: %s.", l.Brake, brakeIs(h))}
	switch {
	case h.Hand == 0:
		list = append(list, fmt.Sprintf("No hand is on the brake strand of the %s.", name))
	case h.Forward:
		list = append(list, fmt.Sprintf("Hand of %s on the brake strand of the %s, led forward.", r.named(h.Hand), name))
	default:
		list = append(list, fmt.Sprintf("Hand of %s on the brake strand of the %s, led back.", r.named(h.Hand), name))
	}
	if r.Load.Persons > 1 && !l.TwoPersons {
		list = append(list, fmt.Sprintf("The bend for two at %s is %s.", l.Brake, map[bool]string{true: "in", false: "not in"}[h.Bend]))
	}
	switch {
	case h.Grab == Holding && h.Extended:
		list = append(list, "Grab and hitch bear, the hitch is let out.")
	case h.Grab == Holding:
		list = append(list, "Grab and hitch bear.")
	case h.Grab == OnSlack:
		list = append(list, "Grab and hitch are on, and bear nothing.")
	}
	switch {
	case h.Toothed == TeethBear:
		list = append(list, "The toothed capture bears.")
	case h.Toothed == TeethOpen:
		list = append(list, "The cam of the toothed capture is held open.")
	}
	if l.Winding != nil {
		list = append(list, wheelIs(&h.Wheel)...)
	}
	if h.Haul > 0 {
		list = append(list, fmt.Sprintf("A haul of %s is on the %s.", mechanicalAdvantage[int(h.Haul)], name))
	}
	if gap, ok := r.toKnot(name, h, s.At); ok && gap < inSight {
		list = append(list, fmt.Sprintf("A knot is %v behind %s.", max(0, gap), l.Brake))
	}
	return list
}

func brakeIs(h *Half) string {
	switch {
	case !h.Loaded:
		return "no rope in it"
	case !h.Proved && h.Parked:
		return "loaded, not proved, parked"
	case !h.Proved:
		return "loaded, not proved, not parked"
	case h.Parked && h.Tied:
		return "proved, parked and knotted"
	case h.Parked:
		return "proved, parked"
	case h.Tied:
		return "proved, not parked, knotted"
	}
	return "proved, not parked"
}

func wheelIs(w *Wheel) (list []string) {
	for _, o := range []struct {
		is    bool
		words string
	}{
		{w.Set, "The lock of the wheel is set for this side."}, {w.Handle, "The handle is out."}, {w.Grip, "A hand on the wheel takes the load."}, {w.Slack, "There is slack to draw."},
	} {
		if o.is {
			list = append(list, o.words)
		}
	}
	return list
}

func (r *Rig) seesHaul(s *State) []string {
	for _, name := range lines {
		h := s.half(name)
		if h.Haul == 0 {
			continue
		}
		list := []string{fmt.Sprintf("%s on a haul of %s on the %s: %s.", quantity.Count(r.Haulers).Of("hauler"), mechanicalAdvantage[int(h.Haul)], name, map[bool]string{true: "you pull", false: "the brake bears"}[h.Pull])}
		if h.Spent {
			list = append(list, "The stroke is used up.")
		}
		if h.Beyond {
			list = append(list, "The grab is on beyond the knot.")
		}
		return list
	}
	return []string{"No haul is built."}
}
