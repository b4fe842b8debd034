// Package stance knows the state of all holds of a body at one moment: what bears
// it, what else holds it, what every rule says of it, and what would happen if one
// thing failed; and it knows the actions that lead from one stance to the next.
//
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

// Cm is a height or a length in whole centimetres: moves are told apart no finer,
// and stances can be compared.
type Cm int32

// M gives it in metres.
func (c Cm) M() quantity.Metres { return quantity.Metres(c) / 100 }

// MM gives it in millimetres, as body measures are told.
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
	X       Cm
	Marks   []Mark
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
	// x is where a body hangs there, top the height of what it hangs from.
	x, top Cm
}

// Tool is something that can be made a hold, with what belongs to it.
type Tool struct {
	Item, Label string
	Class       gear.Class
	Model       *gear.Model
	// Length is from where it is to the harness point: of a lanyard its own, of a
	// backup device its links.
	Length Cm
	// Absorber is in a backup device's links; nil for none.
	Absorber *gear.Model
	// Connectors are how many the tool takes from the kit while it is a hold.
	Connectors int
	// Stands says that there is a foot loop on it.
	Stands bool
	// One: it counts as rated for one person alone.
	One bool
	// Modes are the modes it may be used in, as bits; 0: all.
	Modes uint32
	// Shared is of a hand ascender: the lanyard that keeps it, where that is a clip-in
	// lanyard too; NoTool for its own.
	Shared int
}

// MaxTools bounds what a body may work with at once.
const MaxTools = 16

// Scene is what moves are made in: the lines, the kit, the schools.
type Scene struct {
	Lines []Line
	Tools []Tool
	// Connectors are spare ones on the harness.
	Connectors int
	// MassKg is of the body with everything.
	MassKg  quantity.Kilograms
	Name    string
	Schools school.Schools
	Ground  Cm

	// Pace is how plans are timed and compared.
	Pace Pace
	// CeilingKN is the force that nobody is to be caught with.
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
	// heavy: a pair, that nobody lifts by standing up.
	heavy bool
	// fewer, third and near are schools that a search asks about often.
	fewer, third, near bool
	derived
}

// derived is what follows from the lines and the tools of a scene.
type derived struct {
	sides [][]side
	// sideX and sideSet are of the sides by number.
	sideX   []Cm
	sideSet []int
	// strops: there is a slack loop to stand in somewhere.
	strops bool
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
		sc.Lines = append(sc.Lines, lineOf(strand))
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

func lineOf(s *rig.StrandView) Line {
	l := Line{ID: s.ID, Name: s.Name, Role: s.Role, Set: s.Set, Top: ToCm(s.TopM()), Anchors: s.Strand.Anchors, X: ToCm(s.Anchors[0].XM)}
	if s.Length != nil {
		l.End = max(0, ToCm(s.Length.EndM))
	}
	for _, r := range s.Ropes {
		d, _ := gear.Diameter(r.Item, r.Model)
		l.Ropes = append(l.Ropes, Rope{r.Model.Rope.Construction, d})
	}
	for _, m := range s.Marks {
		at := ToCm(m.HeightM)
		mark := Mark{ID: m.ID, Name: cmp.Or(m.Name, string(m.Kind)), Kind: m.Kind, At: at, UpTo: at - KnotHalf, DownTo: at + KnotHalf, Clip: m.Eye, Anchor: m.Anchor, Loop: ToCm(m.LoopM)}
		switch m.Kind {
		case rig.RebelayMark:
			mark.Clip = true
		case rig.DamageMark:
			if s.Isolated(m.ID) {
				continue
			}
			mark.Open, mark.Sheath = true, m.SheathOnly
		case rig.DeviationMark:
			// Its connector is put beyond the body by hand; its sling gives it room.
			mark.Clip = true
			mark.UpTo, mark.DownTo = at+SlingRoom, at-SlingRoom
		}
		l.Marks = append(l.Marks, mark)
	}
	slices.SortFunc(l.Marks, func(a, b Mark) int { return cmp.Compare(b.At, a.At) })
	return l
}

// addTools finds what of the kit can be made a hold. Each backup device gets the
// links it hangs from now; a further one the first of its allowed links that
// nothing else uses.
func (sc *Scene) addTools(p *rig.PersonView, connector quantity.Metres) {
	used, feet := map[string]bool{}, 0
	for _, h := range p.Holds {
		for _, l := range h.Links {
			used[l.Item.ID] = true
		}
		t := toolOf(h.Device)
		if t.Class == gear.BackupDevice {
			all, _ := h.LinksLength(connector)
			t.Length = ToCm(all)
			for _, l := range h.Links {
				if l.Model.Absorber != nil {
					t.Absorber = l.Model
				}
			}
		}
		// The connectors it hangs from are its own.
		t.Connectors = 0
		sc.Tools = append(sc.Tools, t)
	}
	for _, c := range p.Carries {
		switch {
		case c.Model.Class == gear.Connector && c.Model.Connector != nil:
			sc.Connectors++
		case c.Model.Class == gear.FootLoop:
			feet++
		}
	}
	for _, c := range p.Carries {
		t := toolOf(c)
		switch c.Model.Class {
		case gear.BackupDevice:
			// Without a link on its list it is no backup.
			link := slices.IndexFunc(p.Carries, func(o *rig.Piece) bool { return !used[o.Item.ID] && allowed(c.Model, o.Model) })
			if link < 0 {
				continue
			}
			o := p.Carries[link]
			used[o.Item.ID] = true
			t.Connectors, t.Length = 2, 2*ToCm(connector)+ToCm(o.Model.LengthM)
			if o.Model.Absorber != nil {
				t.Absorber = o.Model
			}
		case gear.Descender, gear.ChestAscender, gear.HandAscender:
		case gear.Lanyard:
			if used[c.Item.ID] {
				continue
			}
			t.Length = ToCm(c.Model.LengthM)
		default:
			continue
		}
		sc.Tools = append(sc.Tools, t)
	}
	sc.addFeet(feet)
}

// addFeet gives foot loops to hand ascenders, then to lanyards, the longest first;
// and hand ascenders their lanyards.
func (sc *Scene) addFeet(feet int) {
	var lanyards []int
	for i := range sc.Tools {
		t := &sc.Tools[i]
		if t.Class == gear.HandAscender && feet > 0 {
			t.Stands = true
			feet--
		}
		if t.Class == gear.Lanyard {
			lanyards = append(lanyards, i)
		}
	}
	slices.SortStableFunc(lanyards, func(a, b int) int { return cmp.Compare(sc.Tools[b].Length, sc.Tools[a].Length) })
	for n, i := range lanyards {
		sc.Tools[i].Stands = n < feet
	}
	for i := range sc.Tools {
		if t := &sc.Tools[i]; t.Class == gear.HandAscender {
			t.Length = sc.Up
			if sc.Schools.HandLanyard == "shared" && len(lanyards) > 0 {
				t.Shared, t.Length = lanyards[0], min(sc.Up, sc.Tools[lanyards[0]].Length)
			}
		}
	}
}

func allowed(b, link *gear.Model) bool {
	return b.Backup != nil && (link.Absorber != nil || link.Class == gear.Lanyard) &&
		slices.ContainsFunc(b.Backup.Links, func(a gear.AllowedLink) bool { return a.Model == link.ID })
}

func toolOf(p *rig.Piece) Tool {
	t := Tool{Item: p.Item.ID, Label: p.Item.Label, Class: p.Model.Class, Model: p.Model, Connectors: 1, Shared: NoTool}
	if t.Class == gear.ChestAscender {
		t.Connectors = 0
	}
	return t
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
// anchors of the set's strands there.
func (sc *Scene) hang() {
	type where struct{ set, section int }
	sum, count, ids := map[where]Cm{}, map[where]Cm{}, map[where]int8{}
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
			w := where{sd.set, sd.section}
			if sd.section != last {
				sum[w], count[w], last = sum[w]+sd.x, count[w]+1, sd.section
			}
			if _, known := ids[w]; !known {
				ids[w] = int8(len(ids))
			}
			sd.id = ids[w]
			sc.sides[i] = append(sc.sides[i], sd)
		}
	}
	sc.sideX, sc.sideSet = make([]Cm, len(ids)), make([]int, len(ids))
	for i := range sc.sides {
		for n := range sc.sides[i] {
			sd := &sc.sides[i][n]
			w := where{sd.set, sd.section}
			sd.x = sum[w] / count[w]
			sc.sideX[sd.id], sc.sideSet[sd.id] = sd.x, sd.set
		}
		for n := range sc.Lines[i].Marks {
			if m := &sc.Lines[i].Marks[n]; m.Kind == rig.RebelayMark {
				m.DownTo = sc.loopEnd(i, n)
				sc.strops = sc.strops || m.Loop > 0
			}
		}
	}
}

// looped is the rope between what a span hangs from and the re-belay that ends it.
func (sc *Scene) looped(line, span int) Cm {
	up, m := &sc.sides[line][span], &sc.Lines[line].Marks[span]
	return hypot(up.x-sc.sides[line][span+1].x, up.top-m.At) + m.Loop
}

func hypot(a, b Cm) Cm { return Cm(math.Round(math.Hypot(float64(a), float64(b)))) }

// loopEnd is how low a device comes above a re-belay: until the loop below it is
// taut. At a wide one that is well above its anchor where the loop is short.
func (sc *Scene) loopEnd(line, span int) Cm {
	up, m := &sc.sides[line][span], &sc.Lines[line].Marks[span]
	rope, aside := sc.looped(line, span), up.x-sc.sides[line][span+1].x
	at := m.At - m.Loop
	for up.top-at+hypot(aside, at-m.At) > rope {
		at++
	}
	return at
}

// lowest is how low a device comes on a span whose strand is drawn to a body at a
// height: to the mark below, or as far as the loop of a wide re-belay gives rope.
func (sc *Scene) lowest(s *Stance, line, span int, at Cm) Cm {
	low, _ := sc.Lines[line].span(span)
	if s.X == sc.sides[line][span].x || span == len(sc.Lines[line].Marks) || sc.Lines[line].Marks[span].Kind != rig.RebelayMark {
		return low
	}
	m := &sc.Lines[line].Marks[span]
	return sc.sides[line][span].top - sc.looped(line, span) + hypot(s.X-sc.sides[line][span+1].x, at-m.At)
}

// LoopToStandIn is how much slack is left in the loop of a re-belay for somebody who sits
// on a lanyard of a length, in the anchor, to stand up in it: the loop's lowest point is
// half its slack below the anchor, and from StropNear to StropFar below the hip.
func LoopToStandIn(lanyard quantity.Metres) (least, most quantity.Metres) {
	return 2 * (lanyard + StropNear.M()), 2 * (lanyard + StropFar.M())
}

// Tool gives the index of an item, -1 where the body has no such tool.
func (sc *Scene) Tool(item string) int {
	return slices.IndexFunc(sc.Tools, func(t Tool) bool { return t.Item == item })
}

// Line gives the index of a strand, -1 for none.
func (sc *Scene) Line(id string) int {
	return slices.IndexFunc(sc.Lines, func(l Line) bool { return l.ID == id })
}

// Alike reports whether two tools are the same but for the item: of one model, used in
// one way, and neither shared with another tool.
func (sc *Scene) Alike(t, u int) bool {
	for i := range sc.Tools {
		if o := sc.Tools[i].Shared; o == t || o == u {
			return false
		}
	}
	a, b := sc.Tools[t], sc.Tools[u]
	a.Item, a.Label, b.Item, b.Label = "", "", "", ""
	return a == b
}

// taut is how far the ventral point is below a tool that bears.
func (t *Tool) taut() Cm {
	switch t.Class {
	case gear.BackupDevice:
		return t.Length + Sternal
	case gear.Lanyard, gear.HandAscender:
		return t.Length
	}
	return DeviceLen
}

// span gives the heights between which a device on a span may be: spans are
// numbered from the top, by how many marks are above.
func (l *Line) span(n int) (low, high Cm) {
	high, low = l.Top-Snug, 0
	if n > 0 {
		high = l.Marks[n-1].UpTo - Snug
	}
	if n < len(l.Marks) {
		low = l.Marks[n].DownTo + Snug
	}
	return low, high
}

// Span gives the heights between which a device on a span of a line may be.
func (sc *Scene) Span(line, n int) (low, high Cm) { return sc.Lines[line].span(n) }

// section is the mark of the re-belay that a span hangs from; nil for the top.
func (l *Line) section(n int) *Mark {
	for i := n - 1; i >= 0; i-- {
		if l.Marks[i].Kind == rig.RebelayMark {
			return &l.Marks[i]
		}
	}
	return nil
}

// sound reports whether nothing between a span and its anchor is damaged.
func (sc *Scene) sound(s *Stance, line, n int) bool {
	l := &sc.Lines[line]
	for i := n - 1; i >= 0 && l.Marks[i].Kind != rig.RebelayMark; i-- {
		if l.Marks[i].open(s) {
			return false
		}
	}
	return true
}

// open reports damage that no knot covers yet.
func (m *Mark) open(s *Stance) bool { return m.Open && s.Isolated&(1<<m.Damage) == 0 }

// clips reports whether a lanyard can go in.
func (m *Mark) clips(s *Stance) bool { return m.Clip || m.Open && s.Eyed&(1<<m.Damage) != 0 }

// With gives the scene with more tools in the kit, each with the connectors it
// needs; nil where that is more than is planned with.
func (sc *Scene) With(more []Tool) *Scene {
	if len(sc.Tools)+len(more) > MaxTools {
		return nil
	}
	with := *sc
	with.Tools = append(slices.Clone(sc.Tools), more...)
	for i := range with.Tools {
		if t := &with.Tools[i]; t.Class == gear.HandAscender && t.Length == 0 {
			t.Length = sc.Up
		}
	}
	for _, t := range more {
		with.Connectors += t.Connectors
	}
	if with.number() != nil {
		return nil
	}
	return &with
}

// WithConnectors gives the scene with more connectors on the harness.
func (sc *Scene) WithConnectors(n int) *Scene {
	with := *sc
	with.Connectors += n
	return &with
}

// WithFootLoop gives the scene with a foot loop on the first hand ascender that has
// none; nil where every one has.
func (sc *Scene) WithFootLoop() *Scene {
	with := *sc
	with.Tools = slices.Clone(sc.Tools)
	for i := range with.Tools {
		if t := &with.Tools[i]; t.Class == gear.HandAscender && !t.Stands {
			t.Stands = true
			return &with
		}
	}
	return nil
}

// WithLanyardLoop gives the scene with a foot loop on the longest lanyard that has none,
// as for travel on slings; nil where every one has, or a hand ascender lacks one.
func (sc *Scene) WithLanyardLoop() *Scene {
	longest := NoTool
	for i := range sc.Tools {
		t := &sc.Tools[i]
		if t.Class == gear.HandAscender && !t.Stands {
			return nil
		}
		if t.Class == gear.Lanyard && !t.Stands && (longest < 0 || t.Length > sc.Tools[longest].Length) {
			longest = i
		}
	}
	if longest < 0 {
		return nil
	}
	with := *sc
	with.Tools = slices.Clone(sc.Tools)
	with.Tools[longest].Stands = true
	return &with
}

// Rerigged gives the scene with every mark changed as is told.
func (sc *Scene) Rerigged(change func(*Mark)) *Scene {
	with := *sc
	with.Lines = slices.Clone(sc.Lines)
	for i := range with.Lines {
		l := &with.Lines[i]
		l.Marks = slices.Clone(l.Marks)
		for j := range l.Marks {
			change(&l.Marks[j])
		}
	}
	with.hang()
	return &with
}

// TailMM is how long the tails of a knot in a strand are at the least, by school.
func (sc *Scene) TailMM(line int, at Cm) quantity.Millimetres {
	if sc.Schools.Tails == "hand" {
		return sc.HandMM
	}
	_, _, d := sc.rig.Strands[line].Rope(at.M(), at.M()-1)
	if sc.Schools.Tails == "twenty" {
		return 20 * d
	}
	return 10 * d
}

// ToolOf makes a tool of an item that is not in the kit yet.
func ToolOf(p *rig.Piece, connector quantity.Metres) Tool {
	t := toolOf(p)
	switch t.Class {
	case gear.BackupDevice:
		t.Connectors, t.Length = 2, 2*ToCm(connector)
		if b := p.Model.Backup; b != nil {
			t.Label += fmt.Sprintf(" with a link of %v that is on its list, and %d connectors", b.Links[0].MaxM, t.Connectors)
			t.Length += ToCm(b.Links[0].MaxM)
		}
	case gear.Lanyard:
		t.Length = ToCm(p.Model.LengthM)
	case gear.HandAscender:
		t.Stands = true
	}
	return t
}
