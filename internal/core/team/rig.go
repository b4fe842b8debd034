// Package team knows rope that runs through brakes at the anchor, worked by several
// people: lowering, belaying, raising, and a knot in the way. It shares the search,
// the violations and the table of single failures with the moves of one person.
package team

import (
	"cmp"
	"math"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// Rig is what a team has rigged at the top, for one load on a main and a belay.
type Rig struct {
	Load        rig.TeamLoad
	Main, Belay Line
	// Operators are named, each once; the first is at the main, the second at the belay.
	Operators  []string
	OutOfSight bool
	// Haulers are people who pull, beside the operators.
	Haulers int
	// TopM is the height of the anchors, EdgeM of the edge that the load goes over.
	TopM, EdgeM quantity.Metres
	Kit         Kit
	Schools     Schools
	Calls       []rig.TeamCall
	Measures    Measures

	// view and setting are what figures are worked out from; nil where only moves are.
	view    *rig.TeamView
	setting Setting
}

// Line is one strand through its brake at the anchor.
type Line struct {
	Brake string
	// HandsOff is what the brake does with the handle let go.
	HandsOff gear.HandsOff
	// TwoPersons: rated for two without the added bend.
	TwoPersons bool
	// Winding is what a winding descender says of its wheel and lock; nil for any other
	// brake.
	Winding *gear.Winding
	// Ground: the brake lies on the ground, else it hangs.
	Ground bool
	// KnotsM are metres of rope, counted from the load, at which there is a knot.
	KnotsM []quantity.Metres
	// ElongationPct is of the rope, between 50 and 150 kg.
	ElongationPct quantity.Percent
	// Path is the way of its rope; the zero one: plumb down from the rig's anchors.
	Path Path
	// LengthM is all its rope, 0: not stated. KnotM is what each knot takes of it, KeptM what
	// end stop and walk-away knot need behind the brake.
	LengthM, KnotM, KeptM quantity.Metres
}

// Kit is what lies ready at the anchors.
type Kit struct {
	// Grabs grip a loaded rope, each with a hitch that lets out HitchOutM under load.
	Grabs     int
	HitchOutM quantity.Metres
	// Plain are grabs without a hitch: good for a haul, not for a knot.
	Plain int
	// HitchPct is the elongation of that hitch; 0: not stated.
	HitchPct quantity.Percent
	Pulleys  int
	// PulleyPart is the part of a pull that gets round the worst of them; 0: not stated.
	PulleyPart quantity.Ratio
	// Connectors are for added bends and for the pulleys of a haul, one each.
	Connectors int
	// CaptureM is the take-in that frees the teeth of the kit's capture pulley; 0: there
	// is none. CaptureHolds: its cam can be held open.
	CaptureM     quantity.Metres
	CaptureHolds bool
}

// Schools are the ways that a team follows.
type Schools struct {
	// Lowering is slack-belay, all on the main with a hand-tight belay; shared, both from
	// the edge on; or mixed, slack belay over the edge and shared after.
	Lowering, WalkAway, ParkAt, SpeedBy, RatioWay string
	// SlackM is in a belay that carries nothing, Share the part that it carries where
	// both do.
	SlackM quantity.Metres
	Share  quantity.Ratio
}

// Measures are lengths and times that a team's policy sets.
type Measures struct {
	// Hand is what a knot is kept short of its brake, Settle what a snug grab with its
	// hitch settles until it holds, Stroke how far the grab of a haul runs, Loss what the
	// load sinks back when it is set back.
	Hand, Settle, Stroke, Loss quantity.Metres
	// Gap is what a knot is kept off its brake.
	Gap quantity.Metres
	// SpeedMS is of lowering.
	SpeedMS quantity.MetresPerSecond
	// Seconds are times that are not the shipped ones.
	Seconds map[Do]float64
}

// measures are those of a policy.
func measures(p *policy.Policy, speed quantity.MetresPerSecond) Measures {
	m := Measures{Hand: p.HandWidthM, Settle: p.GrabSettleM, Stroke: p.StrokeM, Loss: *p.ResetLossM, Gap: p.KnotGapM, SpeedMS: cmp.Or(speed, p.DescentSpeedMS), Seconds: map[Do]float64{}}
	for _, t := range p.TeamTimes {
		m.Seconds[Do(t.Do)] = t.S
	}
	return m
}

// Setting is what a team's rig stands in.
type Setting struct {
	// EdgeM is the height of the edge that the load goes over, EdgeName what it is called.
	EdgeM    quantity.Metres
	EdgeName string
	// EdgePart is the part of a pull that gets over the edge at a right angle; 0: there
	// is no edge.
	EdgePart quantity.Ratio
	// Edges are all that the strands run over, OffsetM is how far out from plumb the landing
	// lies.
	Edges       []rig.Edge
	OffsetM     quantity.Metres
	Anchors     []*rig.AnchorView
	LandingName string
	Policy      *policy.Policy
	// OneAnchor: main and belay hang on one anchor, or one point of the structure. OneRope: they
	// are one rope.
	OneAnchor, OneRope bool
}

// New takes what a drop says of its team; the policy is one with every default filled
// in. The kit's grabs count with a hitch each, and a hitch lets out as far as the
// shortest of them.
func New(v *rig.TeamView, in Setting) *Rig {
	r := &Rig{
		Load: v.Load, Operators: v.Hands(), OutOfSight: v.OutOfSight, Haulers: v.Haulers, EdgeM: in.EdgeM, Main: lineOf(&v.Main), Belay: lineOf(&v.Belay),
		TopM: v.Main.Strand.TopM(), Calls: v.Calls, Measures: measures(in.Policy, v.SpeedMS), view: v, setting: in,
		Schools: Schools{Lowering: v.Lowering, WalkAway: v.WalkAway, ParkAt: v.ParkAt, SpeedBy: v.SpeedBy, RatioWay: v.RatioWay, SlackM: *in.Policy.BelaySlackM, Share: *in.Policy.BelayShare},
	}
	r.Main.roped(&v.Main, v.Back(), &in)
	r.Belay.roped(&v.Belay, v.Back(), &in)
	r.Kit = r.kitOf(v)
	return r
}

func (r *Rig) kitOf(v *rig.TeamView) Kit {
	var k Kit
	cords, grabs, hitches := 0, 0, 0
	for _, p := range v.Kit {
		if r.unready(p) != "" {
			continue
		}
		switch m := p.Model; {
		case m.Class == gear.RopeGrab:
			grabs++
		case m.Class == gear.Rope:
			cords++
		case m.Hitch != nil:
			if hitches++; hitches == 1 || m.Hitch.ExtendsM < k.HitchOutM {
				k.HitchOutM, k.HitchPct = m.Hitch.ExtendsM, m.Hitch.ElongationPct
			}
		case m.Pulley != nil:
			if m.Class == gear.CapturePulley && k.CaptureM == 0 {
				k.CaptureM, k.CaptureHolds = max(m.Pulley.ReleaseTravelM, 0.01), m.Pulley.CamHoldsOpen
			}
			if k.Pulleys++; k.Pulleys == 1 || m.Pulley.Efficiency < k.PulleyPart {
				k.PulleyPart = m.Pulley.Efficiency
			}
		case m.Connector != nil && m.Connector.Locks():
			k.Connectors++
		}
	}
	switch v.Catch {
	case "cord":
		grabs = cords
	case "two-cords":
		grabs = cords / 2
	case "mechanical":
	default:
		grabs += cords
	}
	k.Grabs = min(grabs, hitches)
	k.Plain = grabs - k.Grabs
	return k
}

func lineOf(v *rig.TeamLineView) Line {
	l := Line{Brake: v.Brake.Item.Label, HandsOff: gear.Runs, KnotsM: v.KnotsM, Winding: v.Brake.Model.Winding, Ground: v.Place == "ground"}
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
	// knotLen is what a knot takes on its way through, stopLen how far a brake lets out
	// until it holds.
	knotLen, stopLen stance.Cm = 20, 10
	// loose is what a grab settles that is not drawn snug.
	loose stance.Cm = 60
)

// handWidth and grabSlack are the measures in the grain of a state.
func (r *Rig) handWidth() stance.Cm { return stance.ToCm(cmp.Or(r.Measures.Hand, 0.1)) }
func (r *Rig) grabSlack() stance.Cm { return stance.ToCm(cmp.Or(r.Measures.Settle, 0.05)) }

// stretchBehind is how much the rope from a brake to the grab before it stretches when it
// bears again.
func (r *Rig) stretchBehind() quantity.Metres {
	return mechanics.Stretch(mechanics.StretchIn{LoadKg: r.Load.MassKg, LengthM: toGrabM, ElongationPct: cmp.Or(r.Main.ElongationPct, 3)}).StretchM
}

// toGrabM is how much rope lies between a brake and the grab before it.
const toGrabM quantity.Metres = 0.7

// settle is how far rope moves onto a snug grab, rounded up: what grab and hitch settle,
// the stretch of the hitch, and of the rope between grab and brake.
func (r *Rig) settle() stance.Cm {
	return r.grabSlack() + stance.Cm(math.Ceil(float64(r.stretchOfHitch()+r.stretchBehind())*100))
}

// hitchM is how long a contracted hitch is.
const hitchM quantity.Metres = 0.4

func (r *Rig) stretchOfHitch() quantity.Metres {
	return mechanics.Stretch(mechanics.StretchIn{LoadKg: r.Load.MassKg, LengthM: hitchM, ElongationPct: cmp.Or(r.Kit.HitchPct, r.Main.ElongationPct, 3)}).StretchM
}

// HitchNeeds is how far a hitch must let out so that the brake bears again beyond a knot:
// what is left before the brake after the settle, the knot, the way that the brake takes
// to hold, and the stretch that comes back.
func (r *Rig) HitchNeeds() quantity.Metres {
	return r.short() - r.settle().M() + (knotLen + stopLen).M() + r.stretchBehind()
}
