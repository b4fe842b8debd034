package stance

import (
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
)

// Do is what an action is: a row of manoeuvre.Person.
type Do = manoeuvre.PersonDo

const (
	PutOn     Do = "put-on"
	TakeOff   Do = "take-off"
	Lock      Do = "lock"
	Prove     Do = "prove"
	Clip      Do = "clip"
	Unclip    Do = "unclip"
	Move      Do = "move"
	Stand     Do = "stand"
	Sit       Do = "sit"
	LowerOnto Do = "lower-onto"
	Climb     Do = "climb"
	Descend   Do = "descend"
	Park      Do = "park"
	Unpark    Do = "unpark"
	Tie       Do = "tie"
	Untie     Do = "untie"
	Land      Do = "land"
	// Pass puts the connector of a deviation beyond the body, on one strand.
	Pass Do = "pass"
	// TieOff ties the control strand of a parked descender off, UntieOff takes that out.
	TieOff   Do = "tie-off"
	UntieOff Do = "untie-off"
	// Work is what the body came for.
	Work Do = "work"
	// Isolate ties a knot with damage in its loop.
	Isolate Do = "isolate"
)

// Action is one action with what it needs to be given; a list of them is a step
// list, as it is written, typed and exchanged.
type Action struct {
	Do Do `json:"do"`
	// Item is the tool; of stand, the hand ascender, or none for a re-belay's loop.
	Item string `json:"item,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Line string `json:"strand,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	// Span is the stretch of the strand between two marks, numbered from the top.
	Span int `json:"span,omitempty" minimum:"0" maximum:"200"`
	// AtM is the height the device is put at or moved to, or the body's after a climb
	// or descent.
	AtM quantity.Metres `json:"at_m,omitempty" minimum:"0" maximum:"2000"`
	// Into names what a lanyard is clipped into.
	Into string `json:"into,omitempty" enum:"mark,loop"`
	// Eye is of an isolating knot: a second knot leaves an eye to clip into.
	Eye bool `json:"eye,omitempty"`
	// Unlocked and Unproved leave out what putting on and clipping includes.
	Unlocked bool `json:"unlocked,omitempty" doc:"the connector is left unlocked"`
	Unproved bool `json:"unproved,omitempty" doc:"the function check is left out"`
}

// Apply does an action. What keeps it from being done at all is in the error; what
// rules the step and the stance after it break, in the violations.
func (sc *Scene) Apply(s Stance, a Action) (Stance, []Violation, error) {
	next, broken, err := sc.Do(s, a)
	if err != nil {
		return s, nil, err
	}
	return next, append(broken, sc.Judge(&next, &s, a)...), nil
}

// Do does an action and asks only the rules on the step itself; Judge those on the
// stance that it leads to. A search that has been at a stance before needs no judging.
func (sc *Scene) Do(s Stance, a Action) (Stance, []Violation, error) {
	t := NoTool
	if a.Item != "" {
		if t = sc.Tool(a.Item); t < 0 {
			return s, nil, sc.impossible("%s", sc.NotThere(a.Item))
		}
	}
	next, broken, err := sc.apply(s, a, t)
	if err == nil {
		err = sc.tight(&next)
	}
	return next, broken, err
}

// Judge asks the rules on a stance that an action has led to from another.
func (sc *Scene) Judge(next, before *Stance, a Action) []Violation {
	inHand := NoTool
	switch a.Do {
	case PutOn, Clip, Lock, Prove:
		inHand = sc.Tool(a.Item)
	}
	return append(sc.Loose(next, inHand), sc.check(next, before)...)
}

// tight refuses a stance in which a hold that does not bear is too short to be
// slack: it would bear. The links of a backup device are judged by a rule.
func (sc *Scene) tight(s *Stance) error {
	if s.Grounded || sc.relaxed {
		return nil
	}
	for i := range sc.Tools {
		h := &s.Holds[i]
		if c := sc.Tools[i].Class; !h.There || int(s.Bears) == i || c == gear.HandAscender || c == gear.BackupDevice {
			continue
		}
		if sc.tightAt(s, i) > s.At+Slackness {
			return sc.impossible("%s would come tight", sc.Tools[i].Label)
		}
	}
	return nil
}

func (sc *Scene) apply(s Stance, a Action, t int) (Stance, []Violation, error) {
	switch a.Do {
	case PutOn:
		return sc.putOn(s, a, t)
	case TakeOff, Unclip:
		return sc.takeOff(s, a, t)
	case Clip:
		return sc.clip(s, a, t)
	case Lock, Prove, Park, Unpark:
		return sc.set(s, a, t)
	case Move:
		return sc.move(s, a, t)
	case Stand:
		return sc.stand(s, a, t)
	case Sit, LowerOnto:
		return sc.bear(s, a, t)
	case Climb:
		return sc.climb(s, a)
	case Descend:
		return sc.descend(s, a)
	case Tie:
		return sc.tie(s, a)
	case Untie:
		return sc.untie(s)
	case Land:
		return sc.land(s)
	case Pass:
		return sc.pass(s, a)
	case TieOff, UntieOff:
		return sc.tieOff(s, a, t)
	case Work:
		return sc.work(s)
	case Isolate:
		return sc.isolate(s, a)
	}
	return s, nil, sc.impossible("there is no action %q", a.Do)
}

// handsFree wants the descender that bears parked: both hands are needed.
func (sc *Scene) handsFree(s *Stance) []Violation {
	if b := s.Bears; b >= 0 && !sc.relaxed && sc.Tools[b].Class == gear.Descender && !s.Holds[b].Parked && !(sc.near && sc.Tools[b].stops()) {
		return sc.broken("device.mode", "%s bears and is not parked while the hand leaves its control strand", sc.Tools[b].Label)
	}
	return nil
}

// stops reports whether a device has a position, not parked, in which it stops by
// itself: it is left in that.
func (t *Tool) stops() bool {
	if t.Model.Device == nil {
		return false
	}
	for _, p := range t.Model.Device.Positions {
		if !p.Parked && p.HandsOff == gear.Stops {
			return true
		}
	}
	return false
}

func (sc *Scene) inReach(s *Stance, at Cm) error {
	if !sc.relaxed && (at > s.At+sc.Up || at < s.At-ReachDown) {
		return sc.impossible("%v is out of reach", at.M())
	}
	return nil
}

// work is what the body came for: on a descender that is parked, by school tied off.
func (sc *Scene) work(s Stance) (Stance, []Violation, error) {
	if s.Grounded || s.Standing || s.Bears < 0 {
		return s, nil, sc.impossible("who works hangs in a device")
	}
	h, t := &s.Holds[s.Bears], &sc.Tools[s.Bears]
	broken := sc.stays(&s)
	if t.Class == gear.Descender && !sc.relaxed {
		switch {
		case !h.Parked:
			broken = append(broken, sc.broken("device.mode", "%s is not parked while both hands work", t.Label)...)
		case !h.Tied && sc.Schools.Parked == "tied":
			broken = append(broken, sc.broken("device.mode", "%s is not tied off while both hands work", t.Label)...)
		}
	}
	s.Worked = true
	return s, broken, nil
}

// Stops reports whether any violation is a stop.
func Stops(list []Violation) bool {
	for _, v := range list {
		if v.Severity == finding.Stop {
			return true
		}
	}
	return false
}
