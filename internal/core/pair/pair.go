// Package pair knows a rescuer and a casualty as one: two stances that share strands
// and are joined to each other, the actions that bring the casualty off their own holds
// and down.
//
// Each body is a stance of package stance, judged by its rules; what is joined is
// judged here: a way to the anchors may run through the other body.
package pair

import (
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// Join is how a connection between the two stands.
type Join int8

const (
	Apart Join = iota
	// Shut, not locked.
	Shut
	Joined
)

// Bears says what bears the casualty.
type Bears int8

const (
	ByOwn Bears = iota
	ByLift
	ByChain
	ByGround
)

// Strand is whose control strand something is about.
type Strand int8

const (
	Nobodys Strand = iota
	Rescuers
	Casualtys
)

// State is the whole state of both at one moment. Two pairs are the same where they are
// equal.
type State struct {
	R, C stance.Stance
	// Long is the long lanyard from the rescuer's harness to the casualty's.
	Long Join
	// Chain is the short connection from the casualty's ventral point to the connector
	// of the rescuer's descender, Links how many connectors it is made of.
	Chain Join
	Links int8
	// Strap: a short lanyard or sling is in the chain too.
	Strap bool
	// Clear: no rope is between anybody's legs, and both straddle.
	Clear bool
	// Bend is the added friction for two, Hand which control strand is in hand.
	Bend, Hand Strand
	// Lift: a loop over a pulley is rigged above the casualty.
	Lift  bool
	Bears Bears
}

// Scene is what a rescue is made in.
type Scene struct {
	R, C *stance.Scene
	// LongTool is the rescuer's long lanyard among their tools; -1 for none.
	LongTool int
	// Connectors are spare ones for the chain and the bend, LinkCm how long each is.
	Connectors int
	LinkCm     stance.Cm
	// Straps are the lengths that StrapCm is chosen from, the shortest first.
	Straps []stance.Cm
	// StrapCm is a further short lanyard or sling that a chain may be made with; 0: none.
	StrapCm stance.Cm
	// CanLift: a hand ascender with its foot loop and a pulley are there. LiftLacks is what is the
	// matter with one that is there.
	CanLift   bool
	LiftLacks string
	// FromAnchor: the rescuer's devices are the team's brakes at the anchors.
	FromAnchor bool
	// Across: the rescuer's descender is on the backup strand, the backup device on the main.
	Across bool
	// Conscious: the casualty can help.
	Conscious bool
	// KeepBackup is the school that leaves the casualty's backup on until the landing.
	KeepBackup bool
	Times      Times

	// breach are the points that hold the casualty alone as the rescue begins: rule 17 lets
	// a rescue make that no worse. A rescuer never begins in breach.
	breach map[stance.Point]bool
}

// begun is the scene of a rescue that begins with a pair: what is in breach already may
// stay so until the casualty hangs on the rescuer.
func (sc *Scene) begun(start *State) *Scene {
	of := *sc
	of.breach = nil
	for _, q := range append([]stance.Point{{}}, sc.points(start)...) {
		if rescuer, casualty := sc.held(start, q); rescuer && !casualty {
			if of.breach == nil {
				of.breach = map[stance.Point]bool{}
			}
			of.breach[q] = true
		}
	}
	return &of
}

// Mass is that of both.
func (sc *Scene) Mass() quantity.Kilograms { return sc.R.MassKg + sc.C.MassKg }

// hold is the rescuer's hold of a class that is on; -1 for none.
func hold(sc *stance.Scene, s *stance.Stance, class gear.Class) int {
	for i := range sc.Tools {
		if s.Holds[i].There && sc.Tools[i].Class == class {
			return i
		}
	}
	return -1
}

// slack is how far the casualty must come down for the chain to bear; below 0 where it
// does not reach.
func (sc *Scene) slack(p *State, links int, strap bool) stance.Cm {
	length := stance.Cm(links) * sc.LinkCm
	if strap {
		length += sc.StrapCm
	}
	return p.C.At - (p.R.At + stance.DeviceLen - length)
}

// chainPoint and longPoint are what fails where a connection does.
var chainPoint = stance.Point{Kind: stance.OfHold, ID: "chain"}

func (sc *Scene) longPoint() stance.Point {
	if sc.LongTool < 0 {
		return stance.Point{}
	}
	return stance.Point{Kind: stance.OfHold, ID: sc.R.Tools[sc.LongTool].Item}
}

// points are all those on which anybody depends.
func (sc *Scene) points(p *State) []stance.Point {
	list := sc.R.PointsOf(sc.R.Ways(&p.R))
	for _, q := range sc.C.PointsOf(sc.C.Ways(&p.C)) {
		if !slices.Contains(list, q) {
			list = append(list, q)
		}
	}
	if p.Chain != Apart {
		list = append(list, chainPoint)
	}
	if p.Long != Apart {
		list = append(list, sc.longPoint())
	}
	return list
}

// left gives a body's holds that count and do not need a point, as the bits of their
// numbers.
func left(sc *stance.Scene, s *stance.Stance, lost stance.Point) uint32 {
	bit := sc.Bit(lost)
	var list uint32
	for i := range sc.Tools {
		if sc.Counts(s, i) && !sc.Needs(s, i, bit) {
			list |= 1 << i
		}
	}
	return list
}

// held says who is held when a point fails, nothing failing for the zero point. Of
// holds that come to bear both, one must be rated for both.
func (sc *Scene) held(p *State, lost stance.Point) (rescuer, casualty bool) {
	r, c := left(sc.R, &p.R, lost), left(sc.C, &p.C, lost)
	long := p.Long == Joined && lost != sc.longPoint()
	descender := hold(sc.R, &p.R, gear.Descender)
	chain := p.Chain == Joined && lost != chainPoint && descender >= 0 && has(r, descender)
	mass := sc.Mass()
	rescuer, casualty = r != 0 || p.R.Grounded, c != 0 || p.C.Grounded
	two := func(of *stance.Scene, s *stance.Stance, list uint32) bool {
		for i := range of.Tools {
			if list&(1<<i) == 0 {
				continue
			}
			if rated, _ := of.RatedOn(i, int(s.Holds[i].Line), 2, mass); rated {
				return true
			}
		}
		return false
	}
	switch {
	case rescuer && !casualty:
		// The casualty hangs on the rescuer alone.
		through := chain && rates(sc.R, descender, mass) || long && two(sc.R, &p.R, r)
		return rescuer && (through || !chain && !long), through
	case !rescuer && casualty:
		through := long && two(sc.C, &p.C, c)
		return through, casualty
	}
	return rescuer, casualty
}

func rates(sc *stance.Scene, i int, mass quantity.Kilograms) bool {
	rated, _ := sc.Tools[i].Rated(2, mass)
	return rated
}

func has(list uint32, n int) bool { return list&(1<<n) != 0 }
