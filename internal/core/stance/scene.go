// Package stance knows the state of all holds of a body at one moment: what bears
// it, what else holds it, what every rule says of it, and what would happen if one
// thing failed; and it knows the actions that lead from one stance to the next.
//
// It knows nothing of plans: how actions are chosen is for package moves.
package stance

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// Cm is a height or a length in whole centimetres: moves are told apart no finer,
// and stances can be compared.
type Cm int32

// M gives it in metres.
func (c Cm) M() quantity.Metres { return quantity.Metres(c) / 100 }

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
	SmallLift Cm = 10 // just enough to take the weight off
	StandUp   Cm = 40 // gained by standing up in a foot loop
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

// Line is a strand as moves see it.
type Line struct {
	ID, Name string
	Role     rig.Role
	Set      int
	Top      Cm
	// Anchors hold its top.
	Anchors []string
	X       Cm
	Marks   []Mark
}

// Mark is what a device cannot slide over, from the top down.
type Mark struct {
	ID, Name string
	Kind     rig.MarkKind
	At       Cm
	// UpTo is how high a device below comes, DownTo how low one above.
	UpTo, DownTo Cm
	// Clip says that a lanyard can go in.
	Clip bool
	// Anchor is of a re-belay.
	Anchor string
	Loop   Cm
	// Damage that no knot covers holds nothing that hangs below it.
	Open bool
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
}

// MaxTools bounds what a body may work with at once.
const MaxTools = 12

// Scene is what moves are made in: the lines, the kit, the schools.
type Scene struct {
	Lines []Line
	Tools []Tool
	// Connectors are spare ones on the harness.
	Connectors int
	// MassKg is of the body with everything.
	MassKg  quantity.Kilograms
	Name    string
	Schools Schools
	Ground  Cm

	rig   *rig.Rig
	quiet bool
	// names are the points by number, spans what each span needs.
	names []Point
	spans [][]spanPoints
}

// Schools are the ways of practitioners that a plan follows.
type Schools struct {
	// KnotCover is how a knot on the backup is passed.
	KnotCover KnotCover `json:"knot_cover,omitempty" enum:"any,second-device,loop,eye" doc:"how a knot on the backup is passed; left out: any way"`
	// HandPoint counts a hand ascender as a third hold.
	HandPoint bool `json:"hand_point,omitempty"`
}

// KnotCover is how a knot on the backup is passed.
type KnotCover string

const (
	AnyCover     KnotCover = "any"
	SecondDevice KnotCover = "second-device"
	TempLoop     KnotCover = "loop"
	ClipInEye    KnotCover = "eye"
)

// NewScene makes the scene of a person on a drop.
func NewScene(r *rig.Rig, p *rig.PersonView, connector quantity.Metres, s Schools) (*Scene, error) {
	sc := &Scene{MassKg: p.MassKg, Name: p.Name, Schools: s, Ground: OnGround, rig: r}
	if sc.Schools.KnotCover == "" {
		sc.Schools.KnotCover = AnyCover
	}
	for _, strand := range r.Strands {
		sc.Lines = append(sc.Lines, lineOf(strand))
	}
	sc.addTools(p, connector)
	if len(sc.Tools) > MaxTools {
		return nil, fmt.Errorf("%s has %d things to work with; at most %d are planned with", p.Name, len(sc.Tools), MaxTools)
	}
	return sc, sc.number()
}

func lineOf(s *rig.StrandView) Line {
	l := Line{ID: s.ID, Name: s.Name, Role: s.Role, Set: s.Set, Top: ToCm(s.TopM()), Anchors: s.Strand.Anchors, X: ToCm(s.Anchors[0].XM)}
	covered := map[string]bool{}
	for _, m := range s.Marks {
		covered[m.Isolates] = true
	}
	for _, m := range s.Marks {
		at := ToCm(m.HeightM)
		mark := Mark{ID: m.ID, Name: cmp.Or(m.Name, string(m.Kind)), Kind: m.Kind, At: at, UpTo: at - KnotHalf, DownTo: at + KnotHalf, Clip: m.Eye, Anchor: m.Anchor, Loop: ToCm(m.LoopM)}
		switch m.Kind {
		case rig.RebelayMark:
			mark.Clip = true
			// The upper strand hangs past the anchor in its slack loop.
			mark.DownTo = at - mark.Loop/2
		case rig.DamageMark:
			if covered[m.ID] {
				continue
			}
			mark.Open = true
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
	for i := range sc.Tools {
		if t := &sc.Tools[i]; t.Class == gear.HandAscender && feet > 0 {
			t.Stands = true
			feet--
		}
	}
}

func allowed(b, link *gear.Model) bool {
	return b.Backup != nil && (link.Absorber != nil || link.Class == gear.Lanyard) &&
		slices.ContainsFunc(b.Backup.Links, func(a gear.AllowedLink) bool { return a.Model == link.ID })
}

func toolOf(p *rig.Piece) Tool {
	t := Tool{Item: p.Item.ID, Label: p.Item.Label, Class: p.Model.Class, Model: p.Model, Connectors: 1}
	if t.Class == gear.ChestAscender {
		t.Connectors = 0
	}
	return t
}

// Tool gives the index of an item, -1 where the body has no such tool.
func (sc *Scene) Tool(item string) int {
	return slices.IndexFunc(sc.Tools, func(t Tool) bool { return t.Item == item })
}

// Line gives the index of a strand, -1 for none.
func (sc *Scene) Line(id string) int {
	return slices.IndexFunc(sc.Lines, func(l Line) bool { return l.ID == id })
}

// taut is how far the ventral point is below a tool that bears.
func (t *Tool) taut() Cm {
	switch t.Class {
	case gear.BackupDevice:
		return t.Length + Sternal
	case gear.Lanyard:
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
func (l *Line) sound(n int) bool {
	for i := n - 1; i >= 0 && l.Marks[i].Kind != rig.RebelayMark; i-- {
		if l.Marks[i].Open {
			return false
		}
	}
	return true
}

// With gives the scene with more tools in the kit, each with the connectors it
// needs; nil where that is more than is planned with.
func (sc *Scene) With(more []Tool) *Scene {
	if len(sc.Tools)+len(more) > MaxTools {
		return nil
	}
	with := *sc
	with.Tools = append(slices.Clone(sc.Tools), more...)
	for _, t := range more {
		with.Connectors += t.Connectors
	}
	if with.number() != nil {
		return nil
	}
	return &with
}

// ToolOf makes a tool of an item that is not in the kit yet.
func ToolOf(p *rig.Piece, connector quantity.Metres) Tool {
	t := toolOf(p)
	switch t.Class {
	case gear.BackupDevice:
		t.Connectors, t.Length = 2, 2*ToCm(connector)
		if b := p.Model.Backup; b != nil {
			t.Label += " with a link on its list"
			t.Length += ToCm(b.Links[0].MaxM)
		}
	case gear.Lanyard:
		t.Length = ToCm(p.Model.LengthM)
	case gear.HandAscender:
		t.Stands = true
	}
	return t
}
