// Package team knows rope that runs through brakes at the anchor, worked by several
// people: lowering, belaying, raising, and a knot in the way. It shares the search,
// the violations and the table of single failures with the moves of one person.
package team

import (
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// Rig is what a team has rigged at the top, for one load on a main and a belay.
type Rig struct {
	Load        rig.TeamLoad
	Main, Belay Line
	// Operators are named; the first is at the main, the second at the belay.
	Operators []string
	// Haulers are people who pull, beside the operators.
	Haulers int
	// TopM is the height of the anchors, EdgeM of the edge that the load goes over.
	TopM, EdgeM quantity.Metres
	Kit         Kit
	Schools     Schools
}

// Line is one strand through its brake at the anchor.
type Line struct {
	Brake string
	// HandsOff is what the brake does with the handle let go.
	HandsOff gear.HandsOff
	// TwoPersons: rated for two without the added bend.
	TwoPersons bool
	// KnotsM are metres of rope, counted from the load, at which there is a knot.
	KnotsM []quantity.Metres
	// ElongationPct is of the rope, between 50 and 150 kg.
	ElongationPct quantity.Percent
}

// Kit is what lies ready at the anchors.
type Kit struct {
	// Grabs grip a loaded rope, each with a hitch that lets out HitchOutM under load.
	Grabs     int
	HitchOutM quantity.Metres
	Pulleys   int
	// PulleyPart is the part of a pull that gets round the worst of them; 0: not told.
	PulleyPart quantity.Ratio
	// Bends are connectors for the added bend.
	Bends int
}

// Schools are the ways that a team follows.
type Schools struct {
	// Lowering is slack-belay, all on the main with a hand-tight belay, or shared.
	Lowering, WalkAway, ParkAt string
	// SlackM is in a belay that carries nothing.
	SlackM quantity.Metres
}

// New takes what a drop says of its team. The kit's grabs count with a hitch each, and
// a hitch lets out as far as the shortest of them.
func New(v *rig.TeamView, edge, slack quantity.Metres) *Rig {
	r := &Rig{
		Load: v.Load, Operators: v.Operators, Haulers: v.Haulers, EdgeM: edge, Main: lineOf(&v.Main, v.TeamRig.Main.KnotsM), Belay: lineOf(&v.Belay, v.TeamRig.Belay.KnotsM),
		TopM: v.Main.Strand.TopM(), Schools: Schools{Lowering: v.Lowering, WalkAway: v.WalkAway, ParkAt: v.ParkAt, SlackM: slack},
	}
	grabs, hitches := 0, 0
	for _, p := range v.Kit {
		switch m := p.Model; {
		case m.Class == gear.RopeGrab:
			grabs++
		case m.Hitch != nil:
			if hitches++; hitches == 1 || m.Hitch.ExtendsM < r.Kit.HitchOutM {
				r.Kit.HitchOutM = m.Hitch.ExtendsM
			}
		case m.Pulley != nil:
			if r.Kit.Pulleys++; r.Kit.Pulleys == 1 || m.Pulley.Efficiency < r.Kit.PulleyPart {
				r.Kit.PulleyPart = m.Pulley.Efficiency
			}
		case m.Connector != nil:
			r.Kit.Bends++
		}
	}
	r.Kit.Grabs = min(grabs, hitches)
	return r
}

func lineOf(v *rig.TeamLineView, knots []quantity.Metres) Line {
	l := Line{Brake: v.Brake.Item.Label, HandsOff: gear.Runs, KnotsM: knots}
	l.ElongationPct, _, _ = v.Strand.Rope(v.Strand.TopM(), 0)
	d := v.Brake.Model.Device
	for _, p := range d.Positions {
		// It is let go in the position in which it does best by itself.
		if !p.Parked && (p.HandsOff == gear.Stops || p.HandsOff == gear.Creeps && l.HandsOff == gear.Runs) {
			l.HandsOff = p.HandsOff
		}
	}
	for _, m := range d.Modes {
		l.TwoPersons = l.TwoPersons || m.Persons > 1 && m.Needs != gear.ExtraFriction
	}
	return l
}

const (
	handWidth stance.Cm = 10
	// knotLen is what a knot takes on its way through, stopLen how far a brake lets out
	// until it holds, grabSlack what a snug grab with its hitch settles: the rope above
	// the load is as tight before as after, so that only they take up.
	knotLen, stopLen, grabSlack stance.Cm = 20, 10, 5
	// loose is what a grab settles that is not drawn snug.
	loose stance.Cm = 60
)

// knotAt is the height of the load at which the next knot of a line comes to its
// brake; below everything where there is none.
func (r *Rig) knotAt(l *Line, passed int8) stance.Cm {
	if int(passed) >= len(l.KnotsM) {
		return -1 << 20
	}
	return stance.ToCm(r.TopM - l.KnotsM[passed])
}

// atKnot reports whether the next knot of a line is within a hand's width of its
// brake, or between it and the grab.
func (r *Rig) atKnot(l *Line, h *Half, at stance.Cm) bool {
	return at-r.knotAt(l, h.Passed) <= handWidth
}

// HitchNeeds is how far a hitch must let out so that the brake bears again: what the
// brake takes to stop, the knot and the settle.
func (r *Rig) HitchNeeds() quantity.Metres { return (stopLen + knotLen + grabSlack).M() }
