// Package stance knows the state of all holds of a body at one moment: what bears
// it, what else holds it, what every rule says of it, and what happens if one thing fails.
//
// It knows the actions that lead from one stance to the next.
// It knows nothing of plans: how actions are chosen is for package moves.
package stance

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
)

// Cm is a height or a length in whole centimetres: moves are distinguished no finer,
// and stances can be compared.
type Cm int32

// M gives it in metres.
func (c Cm) M() quantity.Metres { return quantity.Metres(c) / 100 }

// MM gives it in millimetres, as body measures are stated.
func (c Cm) MM() quantity.Millimetres { return quantity.Millimetres(c) * 10 }

// ToCm rounds to whole centimetres.
func ToCm(m quantity.Metres) Cm {
	if m < 0 {
		return -ToCm(-m)
	}
	return Cm(m*100 + 0.5)
}

// Measures of a body and of how things lie on a rope, in centimetres. Heights of a
// body are those of its ventral point.
const (
	Sternal   Cm = 35  // above the ventral point
	ReachUp   Cm = 100 // of an arm, above the ventral point
	ReachDown Cm = 45
	ReachOut  Cm = 70 // of an arm, sideways from the ventral point
	SmallLift Cm = 10 // just enough to take the weight off
	StandUp   Cm = 40 // gained by standing up in a foot loop
	StropNear Cm = 45 // a slack loop's lowest point below the hip: a knee bends that far
	StropFar  Cm = 90 // and a leg reaches that far
	OnGround  Cm = 95 // of the ventral point of who stands
	Snug      Cm = 5  // from a device to a mark it is put close to
	Apart     Cm = 10 // least distance of two devices on a rope
	DeviceLen Cm = 15 // of a descender or ascender with its connector
	KnotHalf  Cm = 10 // from the middle of a knot to its end
	KnotLen   Cm = 2 * KnotHalf
	Slackness Cm = 2  // less than this and two holds bear together
	SlingRoom Cm = 20 // that the sling of a deviation gives a device beyond its height
	Together  Cm = 30 // strands of a set with anchors no farther apart hang as one
	Settle    Cm = 15 // policy default: settle beyond knot and devices
)

// sidePushN is what a body holds itself aside with for long, by hand or foot against
// the structure: on a rope of a length L that is sidePushN/weight × L aside.
const sidePushN = 80

// Line is a strand as moves see it, or the structure with the slings on it: those
// are its marks, and nothing rides on it.
type Line struct {
	ID, Name string
	Role     rig.Role
	Set      int
	Top      Cm
	// Anchors hold its top.
	Anchors []string
	// With is the line that hangs in the same rope, and is lost with it; empty for none.
	With  string
	X     Cm
	Marks []Mark
	// End is the height of its lower end.
	End Cm
	// LoopRope is how much rope a loop tied for a moment takes, and frees again.
	LoopRope Cm
	// Ropes are those that it is made of, as far as what goes onto them depends on it.
	Ropes []Rope
}

// Rope is a rope as devices are made for it.
type Rope struct {
	Construction gear.Construction
	DiameterMM   quantity.Millimetres
}

// Structure is the role of the line of slings, and its id.
const Structure = "structure"

// SlingMark is a sling on the structure to clip into.
const SlingMark rig.MarkKind = "sling"

// Mark is what a device cannot slide over, from the top down.
type Mark struct {
	ID, Name string
	Kind     rig.MarkKind
	At       Cm
	// UpTo is how high a device below comes, DownTo how low one above.
	UpTo, DownTo Cm
	// Clip says that a lanyard can go in.
	Clip bool
	// Anchor is of a re-belay, a deviation or a sling, X where it is sideways.
	Anchor string
	X      Cm
	Loop   Cm
	// Damage that no knot covers holds nothing that hangs below it. Damage is its
	// number among the damage of the scene, Sheath says that only the sheath is hurt.
	Open   bool
	Damage int8
	Sheath bool
}

// side is somewhere to hang: the strands of a set between two re-belays, or a sling.
type side struct {
	// id is its number among the sides of the scene.
	id           int8
	set, section int
	// x is where a body hangs there, anchor where what it hangs from is, top how high.
	x, anchor, top Cm
}

// Scene is what moves are made in: the lines, the kit, the schools.
type Scene struct {
	Lines []Line
	Tools []Tool
	// Connectors are spare ones on the harness.
	Connectors int
	// LeftOut says of carried items by id why nothing is done with them.
	LeftOut map[string]string
	// MassKg is of the body with everything.
	MassKg  quantity.Kilograms
	Name    string
	Schools school.Schools
	Ground  Cm

	// Pace is how plans are timed and compared.
	Pace Pace
	// CeilingKN is the maximum permitted arrest force.
	CeilingKN quantity.Kilonewtons
	// HandMM is the width of the hand.
	HandMM quantity.Millimetres
	// Up and Out are how far the arm reaches from the ventral point.
	Up, Out Cm

	rig    *rig.Rig
	person *rig.PersonView
	quiet  bool
	// relaxed: heights, reach, settle and parking are left out.
	relaxed bool
	// own: strands hang under their own anchors.
	own bool
	// heavy: a pair, that nobody lifts by standing up.
	heavy bool
	// fewer, third and near are schools that a search asks about often.
	fewer, third, near bool
	derived
}

// derived is what follows from the lines and the tools of a scene.
type derived struct {
	sides [][]side
	// sideX and sideSet are of the sides by number, mainX is where the main of each hangs.
	sideX   []Cm
	mainX   []Cm
	sideSet []int
	// strops: there is a slack loop to stand in somewhere. apart: there are strands of a
	// set whose anchors are farther apart than Together.
	strops, apart bool
	// names are the points by number, spans what each span needs.
	names []Point
	spans [][]spanPoints
	// takes are the tools that may go onto each line, as bits.
	takes []uint32
}

// NewScene makes the scene of a person on a drop.
func NewScene(r *rig.Rig, p *rig.PersonView, connector quantity.Metres, s school.Schools) (*Scene, error) {
	sc := &Scene{MassKg: p.MassKg, Name: p.Name, Schools: s.With(school.Shipped()), Pace: DefaultPace(), Ground: OnGround, rig: r, person: p}
	sc.Up, sc.Out = cmp.Or(ToCm(p.ReachUpM), ReachUp), cmp.Or(ToCm(p.ReachOutM), ReachOut)
	sc.HandMM = cmp.Or(p.HandMM, 85)
	sc.fewer, sc.third, sc.near = sc.Schools.Sides == "fewer", sc.Schools.HandPoint == "third", sc.Schools.BrakeHand == "near"
	for _, strand := range r.Strands {
		l := lineOf(strand)
		if l.With = r.CutWith(strand); l.With == l.ID {
			l.With = ""
		}
		sc.Lines = append(sc.Lines, l)
	}
	sc.addStructure()
	if err := sc.numberDamage(); err != nil {
		return nil, err
	}
	sc.addTools(p, connector)
	if len(sc.Tools) > MaxTools {
		return nil, fmt.Errorf("%s has %d things to work with; at most %d are planned with", p.Name, len(sc.Tools), MaxTools)
	}
	return sc, sc.number()
}

// Loops tells how much rope a loop takes, in diameters of the thickest rope of its strand.
func (sc *Scene) Loops(diameters quantity.Ratio) {
	for i, s := range sc.rig.Strands {
		for _, r := range s.Ropes {
			if m := r.Model.Rope; m != nil {
				l := &sc.Lines[i]
				l.LoopRope = max(l.LoopRope, Cm(math.Ceil(float64(diameters)*float64(m.DiameterMM)/10)))
			}
		}
	}
}

// addStructure gathers the slings that are anchored to the structure.
func (sc *Scene) addStructure() {
	l := Line{ID: Structure, Name: Structure, Role: Structure}
	for _, a := range sc.rig.Anchors {
		if at := ToCm(a.HeightM); a.Sling {
			l.Marks = append(l.Marks, Mark{ID: a.ID, Name: a.Name, Kind: SlingMark, At: at, UpTo: at, DownTo: at, Clip: true, Anchor: a.ID, X: ToCm(a.XM)})
		}
	}
	slices.SortStableFunc(l.Marks, func(a, b Mark) int { return cmp.Compare(a.X, b.X) })
	if len(l.Marks) > 0 {
		sc.Lines = append(sc.Lines, l)
	}
}

// numberDamage numbers what is hurt, as a stance notes it.
func (sc *Scene) numberDamage() error {
	n := 0
	for i := range sc.Lines {
		for j := range sc.Lines[i].Marks {
			m := &sc.Lines[i].Marks[j]
			for _, a := range sc.rig.Anchors {
				if a.ID == m.Anchor {
					m.X = ToCm(a.XM)
				}
			}
			if m.Open {
				m.Damage = int8(n)
				n++
			}
		}
	}
	if n > 32 {
		return fmt.Errorf("%d places are damaged; at most 32 are planned with", n)
	}
	sc.hang()
	return nil
}

// Damage names the damage marks of a set of bits, as strand/mark.
func (sc *Scene) Damage(bits uint32) []string {
	var list []string
	for i := range sc.Lines {
		for _, m := range sc.Lines[i].Marks {
			if m.Open && bits&(1<<m.Damage) != 0 {
				list = append(list, sc.Lines[i].ID+"/"+m.ID)
			}
		}
	}
	return list
}

// DamageBits is Damage the other way; unknown is an id that is none.
func (sc *Scene) DamageBits(ids []string) (bits uint32, unknown string) {
	for _, id := range ids {
		known := false
		for i := range sc.Lines {
			for _, m := range sc.Lines[i].Marks {
				if m.Open && sc.Lines[i].ID+"/"+m.ID == id {
					bits, known = bits|1<<m.Damage, true
				}
			}
		}
		if !known {
			return 0, id
		}
	}
	return bits, ""
}

// hang says for every span where a body hangs that is on it: under the middle of the
// anchors of the set's strands there. Where they are farther apart than Together, and the
// scene is by own anchors, each strand hangs under its own.
func (sc *Scene) hang() {
	type where struct{ set, section int }
	ids, anchors := map[where]int8{}, map[where][]Cm{}
	sc.sides = make([][]side, len(sc.Lines))
	for i := range sc.Lines {
		l := &sc.Lines[i]
		last := -1
		for n := range len(l.Marks) + 1 {
			sd := side{set: l.Set, x: l.X, top: l.Top}
			if l.Role == Structure {
				sd.section = n
				if n > 0 {
					sd.x, sd.top = l.Marks[n-1].X, l.Marks[n-1].At
				}
			}
			if m := l.section(n); m != nil {
				sd.x, sd.top = m.X, m.At
				for _, o := range l.Marks[:n] {
					if o.Kind == rig.RebelayMark {
						sd.section++
					}
				}
			}
			sd.anchor = sd.x
			w := where{sd.set, sd.section}
			if sd.section != last {
				anchors[w], last = append(anchors[w], sd.x), sd.section
			}
			if _, known := ids[w]; !known {
				ids[w] = int8(len(ids))
			}
			sd.id = ids[w]
			sc.sides[i] = append(sc.sides[i], sd)
		}
	}
	sc.sideX, sc.mainX, sc.sideSet = make([]Cm, len(ids)), make([]Cm, len(ids)), make([]int, len(ids))
	mains := make([]rig.Role, len(ids))
	for i := range sc.sides {
		for n := range sc.sides[i] {
			sd := &sc.sides[i][n]
			at := anchors[where{sd.set, sd.section}]
			middle, apart := middleOf(at), slices.Max(at)-slices.Min(at) > Together
			sc.apart = sc.apart || apart
			if !sc.own || !apart {
				sd.x = middle
			}
			sc.sideX[sd.id], sc.sideSet[sd.id] = middle, sd.set
			if role := sc.Lines[i].Role; mains[sd.id] == "" || role == rig.Main && mains[sd.id] != rig.Main {
				sc.mainX[sd.id], mains[sd.id] = sd.x, role
			}
		}
		for n := range sc.Lines[i].Marks {
			if m := &sc.Lines[i].Marks[n]; m.Kind == rig.RebelayMark {
				m.DownTo = sc.loopEnd(i, n)
				sc.strops = sc.strops || m.Loop > 0
			}
		}
	}
}

// Own gives the scene by own anchors: each strand hangs under its own where those of a set
// are farther apart than Together.
func (sc *Scene) Own() *Scene { return sc.hung(true) }

// Middle gives the scene with the strands of each set under the middle of their anchors,
// in which more stances are alike; ok is false where the scene is so already.
func (sc *Scene) Middle() (m *Scene, ok bool) {
	if !sc.own || !sc.apart {
		return sc, false
	}
	return sc.hung(false), true
}

func (sc *Scene) hung(own bool) *Scene {
	h := *sc
	h.own, h.Lines = own, slices.Clone(sc.Lines)
	for i := range h.Lines {
		h.Lines[i].Marks = slices.Clone(h.Lines[i].Marks)
	}
	h.hang()
	return &h
}

func middleOf(list []Cm) Cm {
	sum := Cm(0)
	for _, x := range list {
		sum += x
	}
	return sum / Cm(len(list))
}

// Tool gives the index of an item, -1 where the body has no such tool.
func (sc *Scene) Tool(item string) int {
	return slices.IndexFunc(sc.Tools, func(t Tool) bool { return t.Item == item })
}

// First gives the index of the first tool of a class: what somebody hangs on stands before
// what they carry; -1 for none.
func (sc *Scene) First(class gear.Class) int {
	return slices.IndexFunc(sc.Tools, func(t Tool) bool { return t.Class == class })
}

// NotThere says why something is no tool of the body.
func (sc *Scene) NotThere(item string) string {
	if why := sc.LeftOut[item]; why != "" {
		return why
	}
	return fmt.Sprintf("%q is not in the kit", item)
}

// Line gives the index of a strand, -1 for none.
func (sc *Scene) Line(id string) int {
	return slices.IndexFunc(sc.Lines, func(l Line) bool { return l.ID == id })
}

// LineOf gives the index of the strand of a role in a set, -1 for none.
func (sc *Scene) LineOf(set int, role rig.Role) int {
	return slices.IndexFunc(sc.Lines, func(l Line) bool { return l.Role == role && l.Set == set })
}

// Strands are the main and the backup strand of a set; lacks is in words, "" where it has both.
func (sc *Scene) Strands(set int) (main, backup int, lacks string) {
	main, backup = sc.LineOf(set, rig.Main), sc.LineOf(set, rig.Backup)
	if main < 0 || backup < 0 {
		lacks = fmt.Sprintf("set %d lacks a main or backup strand", set)
	}
	return main, backup, lacks
}
