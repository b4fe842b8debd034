package pair

import (
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// Do is what an action of a rescue is: a row of manoeuvre.Rescue.
type Do = manoeuvre.RescueDo

const (
	Park     Do = "park"
	TieOff   Do = "tie-off"
	UntieOff Do = "untie-off"
	Unpark   Do = "unpark"
	ClearAll Do = "clear-legs"
	LongOn   Do = "long-lanyard"
	ChainOn  Do = "chain"
	LockIt   Do = "lock"
	// TakeStrand takes a control strand in hand.
	TakeStrand Do = "take-strand"
	// FreeTheirs unparks the casualty's descender, LowerTheirs lowers them on it until
	// the chain bears.
	FreeTheirs  Do = "unpark-theirs"
	LowerTheirs Do = "lower-theirs"
	// RigLift puts a loop over a pulley above the casualty, Lift takes their weight,
	// LetUp lets them down onto the chain.
	RigLift Do = "rig-lift"
	Lift    Do = "lift"
	LetUp   Do = "let-up"
	TakeOff Do = "take-off"
	Bend    Do = "bend"
	Descend Do = "descend"
	Land    Do = "land"
)

// Action is one action of a rescue.
type Action struct {
	Do   Do     `json:"do"`
	Item string `json:"item,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"of take-off: which of the casualty's"`
	// Links are connectors of a chain.
	Links int `json:"links,omitempty" minimum:"0" maximum:"12"`
	// Strap: a short lanyard or sling is in the chain too.
	Strap bool `json:"strap,omitempty"`
	// Strand is whose control strand is taken, or gets the bend.
	Strand Strand          `json:"strand,omitempty" enum:"0,1,2" doc:"1: the rescuer's, 2: the casualty's"`
	AtM    quantity.Metres `json:"at_m,omitempty" minimum:"0" maximum:"2000"`
	// Unlocked leaves a gate unlocked.
	Unlocked bool `json:"unlocked,omitempty"`
}

// LiftCm is how far a loop over a pulley lets somebody down again.
const LiftCm stance.Cm = 30

// Apply does an action. What keeps it from being done at all is in the error; what
// rules the step and the pair after it break, in the violations.
func (sc *Scene) Apply(p State, a Action) (State, []stance.Violation, error) {
	next, found, err := sc.do(p, a)
	if err != nil {
		return p, nil, err
	}
	return next, append(found, sc.Check(&next)...), nil
}

// do does an action; one that takes both hands leaves no control strand in them.
func (sc *Scene) do(p State, a Action) (State, []stance.Violation, error) {
	next, found, err := sc.act(p, a)
	found = append(found, sc.onLift(&p, &a)...)
	switch a.Do {
	case ClearAll, LongOn, ChainOn, LockIt, RigLift, Lift, LetUp, TakeOff, Bend, TieOff:
		next.Hand = Nobodys
	}
	return next, found, err
}

func (sc *Scene) act(p State, a Action) (State, []stance.Violation, error) {
	switch a.Do {
	case Park, TieOff, UntieOff, Unpark:
		return sc.own(p, a)
	case ClearAll:
		if p.Clear {
			return p, nil, fmt.Errorf("that is done already")
		}
		p.Clear = true
		return p, sc.bothHands(&p), nil
	case LongOn, ChainOn, LockIt:
		return sc.join(p, a)
	case TakeStrand:
		if a.Strand == Nobodys || p.Hand == a.Strand {
			return p, nil, fmt.Errorf("whose strand")
		}
		if a.Strand == Casualtys && hold(sc.C, &p.C, gear.Descender) < 0 {
			return p, nil, fmt.Errorf("the casualty is on no descender")
		}
		found := sc.theirsOpen(&p)
		p.Hand = a.Strand
		return p, found, nil
	case FreeTheirs, LowerTheirs:
		return sc.lowerTheirs(p, a)
	case RigLift, Lift, LetUp:
		return sc.lift(p, a)
	case TakeOff:
		return sc.takeOff(p, a)
	case Bend:
		return sc.bend(p, a)
	case Descend, Land:
		return sc.down(p, a)
	}
	return p, nil, fmt.Errorf("there is no action %q", a.Do)
}

// bothHands wants the rescuer's descender parked, by school tied off: both hands leave
// its control strand. The casualty's is not open while they do something else.
func (sc *Scene) bothHands(p *State) []stance.Violation {
	if b := p.R.Bears; b >= 0 {
		switch h := &p.R.Holds[b]; {
		case !h.Parked:
			return stance.Broken("device.mode", "%s bears and is not parked while both hands are needed", sc.R.Tools[b].Label)
		case !h.Tied && sc.R.Schools.Parked == "tied":
			return stance.Broken("device.mode", "%s is not tied off while both hands are needed", sc.R.Tools[b].Label)
		}
	}
	return sc.theirsOpen(p)
}

// theirsOpen is device.mode for the casualty's descender: while it is open and bears, a
// hand is on its control strand and nothing else is done.
func (sc *Scene) theirsOpen(p *State) []stance.Violation {
	if d := p.C.Bears; d >= 0 && sc.C.Tools[d].Class == gear.Descender && !p.C.Holds[d].Parked {
		return stance.Broken("device.mode", "%s is open and bears, and the hand leaves its control strand", sc.C.Tools[d].Label)
	}
	return nil
}

// own does what is done to the rescuer's own descender.
func (sc *Scene) own(p State, a Action) (State, []stance.Violation, error) {
	b := p.R.Bears
	if b < 0 || sc.R.Tools[b].Class != gear.Descender {
		return p, nil, fmt.Errorf("no descender bears the rescuer")
	}
	h := &p.R.Holds[b]
	done := map[Do]bool{Park: h.Parked, TieOff: h.Tied, UntieOff: !h.Tied, Unpark: !h.Parked}
	if done[a.Do] {
		return p, nil, fmt.Errorf("that is done already")
	}
	switch a.Do {
	case Park:
		h.Parked = true
		return p, nil, nil
	case TieOff:
		if !h.Parked {
			return p, nil, fmt.Errorf("it is parked first")
		}
		h.Tied = true
		return p, nil, nil
	case UntieOff:
		h.Tied = false
		return p, sc.inHand(&p, Rescuers), nil
	}
	if h.Tied {
		return p, nil, fmt.Errorf("it is tied off")
	}
	found := sc.inHand(&p, Rescuers)
	h.Parked = false
	if p.Bears != ByOwn {
		found = append(found, sc.readyForTwo(&p)...)
	}
	return p, found, nil
}

// inHand is rescue.strand: the right control strand is in the hand before its
// descender is opened. At a team's anchor the operator has it.
func (sc *Scene) inHand(p *State, whose Strand) []stance.Violation {
	if p.Hand == whose || whose == Rescuers && sc.FromAnchor {
		return nil
	}
	words := map[Strand]string{Nobodys: "no control strand is in hand", Rescuers: "the rescuer's control strand is in hand, not the casualty's", Casualtys: "the casualty's control strand is in hand, not the rescuer's"}
	return stance.Broken("rescue.strand", "%s", words[p.Hand])
}

// readyForTwo is what must be so before two go down on one descender.
func (sc *Scene) readyForTwo(p *State) (found []stance.Violation) {
	t := &sc.R.Tools[p.R.Bears]
	if _, bend := t.Rated(2, sc.Mass()); bend && p.Bend != Rescuers {
		found = stance.Broken("device.two", "the friction for two is not in at %s and it is unparked", t.Label)
	}
	if !p.Clear {
		found = append(found, stance.Broken("rescue.legs", "rope is between somebody's legs")...)
	}
	return found
}

// join makes and locks the connections between both.
func (sc *Scene) join(p State, a Action) (State, []stance.Violation, error) {
	found := sc.bothHands(&p)
	state := Joined
	if a.Unlocked {
		state = Shut
	}
	aside := p.C.X - p.R.X
	if aside = max(aside, -aside); aside > sc.R.Out+sc.R.Out {
		return p, nil, fmt.Errorf("the casualty hangs %v aside: out of reach", aside.M())
	}
	switch a.Do {
	case LockIt:
		if p.Long != Shut && p.Chain != Shut {
			return p, nil, fmt.Errorf("nothing is unlocked")
		}
		p.Long, p.Chain = max(p.Long, p.Long*2), max(p.Chain, p.Chain*2)
		if p.Long > Joined {
			p.Long = Joined
		}
		if p.Chain > Joined {
			p.Chain = Joined
		}
		return p, found, nil
	case LongOn:
		switch {
		case sc.LongTool < 0:
			return p, nil, fmt.Errorf("the rescuer has no long lanyard")
		case p.Long != Apart:
			return p, nil, fmt.Errorf("that is done already")
		case p.C.At-p.R.At > sc.R.Tools[sc.LongTool].Length || p.R.At-p.C.At > sc.R.Tools[sc.LongTool].Length:
			return p, nil, fmt.Errorf("the long lanyard does not reach")
		}
		p.Long = state
		return p, found, nil
	}
	spare := sc.Connectors
	if p.Bend != Nobodys {
		spare--
	}
	switch {
	case p.Chain != Apart:
		return p, nil, fmt.Errorf("that is done already")
	case a.Links < 1 || a.Links > spare:
		return p, nil, fmt.Errorf("%d connectors are spare for a chain of %d", spare, a.Links)
	case a.Strap && sc.StrapCm == 0:
		return p, nil, fmt.Errorf("no short lanyard or sling is left for the chain")
	case sc.slack(&p, a.Links, a.Strap) < 0:
		return p, nil, fmt.Errorf("a chain of %d does not reach", a.Links)
	}
	p.Chain, p.Links, p.Strap = state, int8(a.Links), a.Strap
	return p, found, nil
}

// lowerTheirs lets the casualty down on their own descender until the chain bears.
func (sc *Scene) lowerTheirs(p State, a Action) (State, []stance.Violation, error) {
	d := hold(sc.C, &p.C, gear.Descender)
	if d < 0 || int(p.C.Bears) != d || p.Bears != ByOwn {
		return p, nil, fmt.Errorf("the casualty does not hang on a descender")
	}
	h := &p.C.Holds[d]
	if a.Do == FreeTheirs {
		if !h.Parked {
			return p, nil, fmt.Errorf("it is unparked")
		}
		found := append(sc.bothHands(&p), sc.inHand(&p, Casualtys)...)
		h.Parked, h.Tied = false, false
		return p, found, nil
	}
	if h.Parked {
		return p, nil, fmt.Errorf("%s is parked", sc.C.Tools[d].Label)
	}
	found := sc.inHand(&p, Casualtys)
	more, err := sc.ontoChain(&p, stance.Cm(1<<20))
	if err != nil {
		return p, nil, err
	}
	h.At = p.C.At + stance.DeviceLen
	return p, append(found, more...), nil
}

// ontoChain brings the casualty down until the chain bears, by at most so far.
func (sc *Scene) ontoChain(p *State, most stance.Cm) ([]stance.Violation, error) {
	if p.Chain == Apart {
		return nil, fmt.Errorf("no chain is there to bear")
	}
	slack := sc.slack(p, int(p.Links), p.Strap)
	down := p.C.At - slack
	switch {
	case slack > most:
		return nil, fmt.Errorf("the chain is %v too long: the casualty cannot be unweighted by what lets them down", (slack - most).M())
	case p.Long != Apart && p.R.At-down > sc.R.Tools[sc.LongTool].Length:
		return nil, fmt.Errorf("the chain is too long: the long lanyard comes tight before it bears")
	}
	if b := hold(sc.C, &p.C, gear.BackupDevice); b >= 0 && int(p.C.Bears) != b {
		// A wheel follows, a cam is brought along by its cord, as far as its span goes.
		h := &p.C.Holds[b]
		to := min(h.At, down+stance.Sternal+sc.C.Tools[b].Length)
		if low, _ := sc.C.Span(int(h.Line), int(h.Span)); h.Parked || to < low {
			return nil, fmt.Errorf("the casualty's backup comes tight before the chain bears: it is parked, or over a mark")
		}
		h.At = to
	}
	var found []stance.Violation
	if p.Chain == Shut {
		found = stance.Broken("connector.gate", "a gate of the chain is not locked before it bears")
	}
	if !p.Clear {
		found = append(found, stance.Broken("rescue.legs", "rope is between somebody's legs as the casualty moves to the chain")...)
	}
	if p.Long != Joined {
		found = append(found, stance.Broken("rescue.long", "the casualty moves to the chain, and the long lanyard is not on and locked")...)
	}
	t := &sc.R.Tools[p.R.Bears]
	if rated, _ := t.Rated(2, sc.Mass()); !rated {
		found = append(found, stance.Broken("device.two", "%s is not rated for two persons of %v", t.Label, sc.Mass())...)
	}
	p.C.At, p.C.Sat, p.C.Bears, p.Bears = down, down, stance.NoTool, ByChain
	return found, nil
}

// onLift is rescue.lift: while the casualty hangs on the lift, somebody stands in its loop
// and has opened what gripped, and nothing is done but to let up.
func (sc *Scene) onLift(p *State, a *Action) []stance.Violation {
	if p.Bears != ByLift || a.Do == LetUp {
		return nil
	}
	return stance.Broken("rescue.lift", "%s hangs on the lift, and something else is done than to let up", sc.C.Name)
}

// lift takes the casualty's weight off a device that does not lower.
func (sc *Scene) lift(p State, a Action) (State, []stance.Violation, error) {
	found := sc.bothHands(&p)
	switch a.Do {
	case RigLift:
		if p.Lift || !sc.CanLift {
			return p, nil, fmt.Errorf("a hand ascender, its foot loop and a pulley are missing for a lift")
		}
		p.Lift = true
	case Lift:
		if !p.Lift || p.Bears != ByOwn || p.C.Bears < 0 {
			return p, nil, fmt.Errorf("there is nothing to lift with, or off")
		}
		if p.Long != Joined || p.Chain != Joined {
			found = append(found, stance.Broken("rescue.long", "the casualty is lifted, and long lanyard and chain are not on and locked")...)
		}
		if !p.Clear {
			found = append(found, stance.Broken("rescue.legs", "rope is between somebody's legs as the casualty is lifted")...)
		}
		p.C.At += stance.SmallLift
		p.Bears, p.C.Bears = ByLift, stance.NoTool
	case LetUp:
		if p.Bears != ByLift {
			return p, nil, fmt.Errorf("nobody is lifted")
		}
		more, err := sc.ontoChain(&p, LiftCm)
		if err != nil {
			return p, nil, err
		}
		p.Lift = false
		found = append(found, more...)
	}
	return p, found, nil
}

// takeOff takes a device of the casualty's off, and keeps it.
func (sc *Scene) takeOff(p State, a Action) (State, []stance.Violation, error) {
	i := sc.C.Tool(a.Item)
	if i < 0 || !p.C.Holds[i].There {
		return p, nil, fmt.Errorf("%s is not on", a.Item)
	}
	found := sc.bothHands(&p)
	if int(p.C.Bears) == i {
		found = append(found, stance.Broken("moves.bearing", "%s bears the casualty and is taken off", sc.C.Tools[i].Label)...)
	}
	if p.Bears == ByOwn {
		found = append(found, stance.Broken("rescue.stripped", "%s comes off before the chain bears the casualty", sc.C.Tools[i].Label)...)
	}
	p.C.Holds[i] = stance.Hold{}
	if int(p.C.Bears) == i {
		p.C.Bears = stance.NoTool
	}
	return p, found, nil
}

// bend puts the added friction in, on one control strand or the other.
func (sc *Scene) bend(p State, a Action) (State, []stance.Violation, error) {
	spare := sc.Connectors - int(p.Links)
	if p.Chain == Apart {
		spare = sc.Connectors
	}
	switch {
	case p.Bend != Nobodys || a.Strand == Nobodys:
		return p, nil, fmt.Errorf("that is done already")
	case spare < 1 && !sc.FromAnchor:
		return p, nil, fmt.Errorf("no connector is left for the bend")
	}
	found := sc.bothHands(&p)
	if a.Strand == Casualtys {
		found = append(found, stance.Broken("rescue.strand", "the bend is on the casualty's control strand, not the rescuer's")...)
	}
	if b := p.R.Bears; b >= 0 && !p.R.Holds[b].Parked {
		found = append(found, stance.Broken("device.two", "the bend is put in while %s is not parked", sc.R.Tools[b].Label)...)
	}
	p.Bend = a.Strand
	return p, found, nil
}

// down brings both down, and onto the landing.
func (sc *Scene) down(p State, a Action) (State, []stance.Violation, error) {
	b := p.R.Bears
	if b < 0 || p.Bears != ByChain {
		return p, nil, fmt.Errorf("the casualty does not hang on the rescuer")
	}
	if a.Do == Land {
		if p.R.At > sc.R.Ground+stance.Apart+LiftCm {
			return p, nil, fmt.Errorf("not at the landing yet")
		}
		p.R.Grounded, p.C.Grounded, p.Bears = true, true, ByGround
		return p, nil, nil
	}
	h := &p.R.Holds[b]
	to := stance.ToCm(a.AtM)
	low, _ := sc.R.Span(int(h.Line), int(h.Span))
	switch {
	case to >= p.R.At:
		return p, nil, fmt.Errorf("that is not down")
	case h.Parked || h.Tied:
		return p, nil, fmt.Errorf("%s is parked", sc.R.Tools[b].Label)
	case to+stance.DeviceLen < low, to < sc.R.Ground:
		return p, nil, fmt.Errorf("a mark, or the landing, is in the way")
	case to+stance.DeviceLen < sc.R.Lines[h.Line].End:
		return p, nil, fmt.Errorf("the strand ends above that")
	}
	if d := hold(sc.C, &p.C, gear.Descender); d >= 0 {
		return p, nil, fmt.Errorf("%s is still on, and would come tight", sc.C.Tools[d].Label)
	}
	found := append(sc.inHand(&p, Rescuers), sc.readyForTwo(&p)...)
	by := p.R.At - to
	p.R.At, p.R.Sat, p.C.At, p.C.Sat = to, to, p.C.At-by, p.C.At-by
	h.At = to + stance.DeviceLen
	follow(sc.R, &p.R, by)
	follow(sc.C, &p.C, by)
	return p, found, nil
}

// follow brings the backup devices that are on down with a body.
func follow(sc *stance.Scene, s *stance.Stance, by stance.Cm) {
	for i := range sc.Tools {
		if h := &s.Holds[i]; h.There && sc.Tools[i].Class == gear.BackupDevice {
			h.At -= by
		}
	}
}
