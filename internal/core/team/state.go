package team

import (
	"cmp"
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// Grab is where a rope grab with its hitch is on a strand.
type Grab int8

const (
	NoGrab Grab = iota
	// OnSlack: on the load side, snug; it bears nothing yet.
	OnSlack
	// Holding: it bears what hangs on the strand.
	Holding
)

// Teeth is how a toothed capture stands.
type Teeth int8

const (
	NoTeeth Teeth = iota
	TeethBear
	TeethOpen
)

// Wheel is how the wheel of a winding descender stands; while its lock is in, the line
// is parked.
type Wheel struct {
	// Set: the lock is set for the loaded side.
	Set    bool `json:"set,omitempty"`
	Handle bool `json:"handle,omitempty" doc:"out, not folded"`
	Grip   bool `json:"grip,omitempty" doc:"a hand on it takes the load"`
	Slack  bool `json:"slack,omitempty" doc:"slack is to be drawn"`
}

// Half is one strand through its brake at one moment.
type Half struct {
	Loaded bool `json:"loaded,omitempty"`
	Proved bool `json:"proved,omitempty"`
	Parked bool `json:"parked,omitempty"`
	Tied   bool `json:"tied,omitempty"`
	Bend   bool `json:"bend,omitempty"`
	// Hand is the operator whose hand is on the brake strand, from 1; 0: none.
	Hand int8 `json:"hand,omitempty"`
	// Forward: the brake strand comes off at less than a right angle.
	Forward bool `json:"forward,omitempty"`
	// Away: its operator has left.
	Away bool `json:"away,omitempty"`
	Grab Grab `json:"grab,omitempty" enum:"0,1,2" doc:"0: none, 1: on, snug, 2: it bears"`
	// Extended: the hitch is let out.
	Extended bool `json:"extended,omitempty"`
	// Haul is the ratio of a haul on the strand; 0: none.
	Haul int8 `json:"haul,omitempty"`
	// Pull: the haulers bear what hangs on it. Spent: the stroke of the haul is used up.
	Pull  bool `json:"pull,omitempty"`
	Spent bool `json:"spent,omitempty"`
	// Beyond: the grab of the haul is on beyond the knot that comes up next.
	Beyond bool `json:"beyond,omitempty"`
	// Toothed is a toothed capture on the strand.
	Toothed Teeth `json:"toothed,omitempty" enum:"0,1,2" doc:"0: none, 1: it bears, 2: its cam is held open"`
	// Wheel is that of a winding descender.
	Wheel Wheel `json:"wheel,omitzero"`
	// Passed counts the knots that are through.
	Passed int8 `json:"passed,omitempty"`
}

// State is the whole team rig at one moment. Two states are the same where they are
// equal.
type State struct {
	Main  Half `json:"main"`
	Belay Half `json:"belay"`
	// At is the height of the load.
	At stance.Cm `json:"at_cm"`
	// Hangs: the load is over the edge.
	Hangs bool `json:"hangs,omitempty"`
	// Shared: both strands carry.
	Shared bool `json:"shared,omitempty"`
}

// half gives a strand by its name, nil for none.
func (s *State) half(name string) *Half {
	switch name {
	case "main":
		return &s.Main
	case "belay":
		return &s.Belay
	}
	return nil
}

func (r *Rig) line(name string) *Line {
	if name == "belay" {
		return &r.Belay
	}
	return &r.Main
}

// holds reports whether a strand holds its load if everybody does what they do: by
// its grab, or by its brake, proved, parked or with a hand on it.
func (h *Half) holds() bool {
	return h.Grab == Holding || h.Toothed == TeethBear || h.Wheel.Grip || h.Loaded && h.Proved && (h.Parked || h.Hand > 0)
}

// without reports whether a strand holds if one operator lets go.
func (r *Rig) without(h *Half, l *Line, operator int8) bool {
	if h.Grab == Holding || h.Toothed == TeethBear || h.Hand != operator || h.Parked {
		return h.holds()
	}
	return h.Loaded && h.Proved && l.HandsOff == gear.Stops
}

// Check applies the rules on a state.
func (r *Rig) Check(s *State) []stance.Violation {
	var found []stance.Violation
	for _, name := range []string{"main", "belay"} {
		found = append(found, r.checkHalf(s, name)...)
	}
	if s.Main.Grab != NoGrab && s.Belay.Grab != NoGrab {
		found = append(found, stance.Broken("team.both", "main and belay are both worked on at once")...)
	}
	if s.Hangs {
		for _, l := range r.FailOne(s) {
			if !l.Held {
				found = append(found, stance.Broken("points.two", "if %s, nothing holds %s", l.Words, r.Load.Name)...)
			}
		}
	}
	return found
}

func (r *Rig) checkHalf(s *State, name string) []stance.Violation {
	h, l := s.half(name), r.line(name)
	var found []stance.Violation
	if h.Loaded && h.Proved && !h.Parked && h.Hand == 0 && !h.Wheel.Grip && h.Toothed != TeethBear && (s.Hangs || h.Haul > 0) {
		found = append(found, stance.Broken("team.hand", "no hand is on the brake strand of the %s and it is not parked", name)...)
	}
	if h.Hand > 0 && h.Forward {
		found = append(found, stance.Broken("team.angle", "the brake strand of the %s comes off at less than a right angle: it holds little", name)...)
	}
	if h.Away && !(h.Parked && h.Tied) {
		found = append(found, stance.Broken("team.away", "the operator of the %s has left it, and it is not parked and knotted", name)...)
	}
	if s.Hangs && h.Loaded && !h.Parked && r.Load.Persons > 1 && !l.TwoPersons && !h.Bend {
		found = append(found, stance.Broken("device.two", "%s is rated for one person without the added bend, and is not parked", l.Brake)...)
	}
	return found
}

// FailOne takes every strand, brake, anchor, grab and operator away in turn, worst
// first: what is not held, then the longest drop. The figures are those of package
// mechanics for two strands of which one fails.
func (r *Rig) FailOne(s *State) []stance.Lost {
	list := []stance.Lost{}
	if !s.Hangs {
		return list
	}
	for _, name := range []string{"main", "belay"} {
		h, l := s.half(name), r.line(name)
		if !h.holds() {
			continue
		}
		list = append(list, r.loseWhole(s, name, "the "+name+" strand parts", r.setting.OneRope), r.loseWhole(s, name, "the "+name+" anchor goes", r.setting.OneAnchor))
		words := ""
		switch {
		case h.Grab == Holding:
			words = "the grab or hitch of the " + name + " lets go"
		case h.Toothed == TeethBear:
			words = "the capture of the " + name + " lets go"
		default:
			words = l.Brake + " lets go"
		}
		list = append(list, r.lose(s, name, words))
	}
	if s.Main.Pull {
		for _, words := range []string{"the haulers let go", "the grab of the haul slips"} {
			list = append(list, r.stopsPulling(s, words))
		}
	}
	for i := range r.Operators {
		list = append(list, r.letsGo(s, int8(i+1))...)
	}
	for i := 1; i < len(list); i++ {
		for j := i; j > 0 && worse(&list[j], &list[j-1]); j-- {
			list[j], list[j-1] = list[j-1], list[j]
		}
	}
	return list
}

func worse(a, b *stance.Lost) bool {
	if a.Held != b.Held {
		return !a.Held
	}
	return a.FreeFallM > b.FreeFallM
}

// other is the strand that is left when one is lost.
func other(name string) string {
	if name == "main" {
		return "belay"
	}
	return "main"
}

// loseWhole is the loss of a strand, and of the other with it where both are one.
func (r *Rig) loseWhole(s *State, name, words string, both bool) stance.Lost {
	if both {
		return stance.Lost{Point: stance.Point{Kind: stance.OfStrand, ID: name}, Words: words}
	}
	return r.lose(s, name, words)
}

func (r *Rig) lose(s *State, name, words string) stance.Lost {
	out := stance.Lost{Point: stance.Point{Kind: stance.OfStrand, ID: name}, Words: words}
	left := other(name)
	if !s.half(left).holds() {
		return out
	}
	out.Held, out.By = true, "the "+left
	if name == "belay" && !s.Shared {
		// The main carries all already.
		return out
	}
	shared := mechanics.Share(mechanics.ShareIn{
		MassKg: r.Load.MassKg, RopeLengthM: r.inService(left, s.At), ElongationPct: r.line(left).ElongationPct, Share: r.share(s), SlackM: r.slack(s) + r.slackIn(left, s.half(left), s.At),
	})
	school := shared.Slack
	if s.Shared {
		school = shared.Shared
	}
	out.FreeFallM, out.PeakKN = school.DropM, school.PeakKN
	return out
}

// stopsPulling is what happens if nothing pulls on the main any more: its brake
// captures, as far as it is ready.
func (r *Rig) stopsPulling(s *State, words string) stance.Lost {
	if s.Main.holds() {
		return stance.Lost{Point: stance.Point{Kind: stance.OfHold, ID: "haul"}, Words: words, Held: true, By: "the brake of the main, which captures", FreeFallM: r.Measures.Loss}
	}
	out := r.lose(s, "main", words)
	out.Point = stance.Point{Kind: stance.OfHold, ID: "haul"}
	return out
}

// share is the part of the weight on the strand that is left.
func (r *Rig) share(s *State) quantity.Ratio {
	if s.Shared {
		return cmp.Or(r.Schools.Share, 0.5)
	}
	return 0
}

// slack is what hangs in a belay that carries nothing.
func (r *Rig) slack(s *State) quantity.Metres {
	switch {
	case s.Shared:
		return 0
	case r.Schools.SlackM > 0:
		return r.Schools.SlackM
	}
	return 0.3
}

// letsGo is what happens if an operator lets go of every brake strand.
func (r *Rig) letsGo(s *State, operator int8) []stance.Lost {
	if s.Main.Hand != operator && s.Belay.Hand != operator {
		return nil
	}
	out := stance.Lost{Point: stance.Point{Kind: stance.OfHold, ID: fmt.Sprint("operator-", operator)}, Words: r.named(operator) + " lets go"}
	main, belay := r.without(&s.Main, &r.Main, operator), r.without(&s.Belay, &r.Belay, operator)
	switch {
	case main:
		out.Held, out.By = true, "the main"
	case belay:
		lost := r.lose(s, "main", out.Words)
		lost.Point = out.Point
		out = lost
	}
	return []stance.Lost{out}
}

// HandsOff says what moves if everybody lets go of everything, and what it does then.
func (r *Rig) HandsOff(s *State) []string {
	var list []string
	for _, name := range []string{"main", "belay"} {
		h, l := s.half(name), r.line(name)
		if !s.Hangs || !h.Loaded || h.Parked || h.Grab == Holding || h.Toothed == TeethBear {
			continue
		}
		list = append(list, fmt.Sprintf("the %s: %s %s by itself", name, l.Brake, map[gear.HandsOff]string{gear.Stops: "stops", gear.Creeps: "creeps", gear.Runs: "runs and does not stop"}[l.HandsOff]))
	}
	return list
}
