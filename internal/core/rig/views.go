package rig

import (
	"cmp"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
)

// Piece is an item with its model.
type Piece struct {
	Item  *gear.Item
	Model *gear.Model
}

// AnchorView is an anchor with the figures computed for it.
type AnchorView struct {
	*Anchor
	// WidestAngle is the widest angle between two of its taut legs.
	WidestAngle quantity.Degrees
	// Parts is the tension of each leg as a part of the load; nil where it cannot
	// be stated, and WhyUnshared then says why.
	Parts       []quantity.Ratio
	WhyUnshared string
	Working     func() []finding.Working
}

// Part is the tension of a leg as a part of the load on the anchor; where it
// cannot be determined, the whole load.
func (a *AnchorView) Part(leg int) quantity.Ratio {
	if a.Parts == nil {
		return 1
	}
	return a.Parts[leg]
}

// StrandView is a strand with its ropes and anchors.
type StrandView struct {
	*Strand
	Anchors []*AnchorView
	Ropes   []RopePart
	// Sections are the stretches between the anchor and each re-belay.
	Sections []Section
	Length   *LengthFigures
}

// IsolatesWithin is how far from damage the knot that takes it out of the line is at
// most: a long loop, no more.
const IsolatesWithin quantity.Metres = 1

// Isolated reports whether a knot takes damage out of the line: one that names it, and
// is where it is.
func (s *StrandView) Isolated(damage string) bool {
	const hair = 1e-9 // heights that are written alike may differ by it
	for _, d := range s.Marks {
		if d.ID != damage {
			continue
		}
		for _, m := range s.Marks {
			if m.Isolates == damage && max(m.HeightM-d.HeightM, d.HeightM-m.HeightM) <= IsolatesWithin+hair {
				return true
			}
		}
	}
	return false
}

// RopePart is one rope of a strand and the heights between which it hangs.
type RopePart struct {
	*Piece
	TopM, BottomM quantity.Metres
}

// Take reports whether a mode takes every one of some ropes.
func Take(m *gear.Mode, ropes ...RopePart) bool {
	return !slices.ContainsFunc(ropes, func(r RopePart) bool {
		return slices.ContainsFunc(gear.Gauges(r.Item, r.Model), func(g gear.Gauge) bool { return !m.Takes(r.Model.Rope.Construction, g.MM) })
	})
}

// Section is the part of a strand below one of its anchors.
type Section struct {
	TopM    quantity.Metres
	Anchors []*AnchorView
	// Mark is the re-belay it starts at, nil at the top of the strand.
	Mark *Mark
}

// LengthFigures say how far down a strand reaches.
type LengthFigures struct {
	// EndM is the height of its lower end, stretch left out.
	EndM quantity.Metres
	// SpareM is the rope beyond the lowest landing needed.
	SpareM  quantity.Metres
	Working func() []finding.Working
}

// PersonView is a person with their holds and kit.
type PersonView struct {
	*Person
	Holds   []*HoldView
	Carries []*Piece
	Harness *Piece
	// All is everything on the person, in holds, carried and worn, each once,
	// in the order of ids.
	All []*Piece
}

// HoldView is a hold with everything it names.
type HoldView struct {
	*Hold
	Person   *PersonView
	Strand   *StrandView
	Device   *Piece
	Mode     *gear.Mode
	Position *gear.Position
	Links    []LinkView
	Figures  HoldFigures
	// Knotted: knots run with the rope, beside the marks of its strand.
	Knotted bool
}

// LinkView is a link with its item.
type LinkView struct {
	Link *Link
	*Piece
}

// HoldFigures are the computed figures the rules on a hold compare. A nil
// pointer means that the figure could not be computed.
type HoldFigures struct {
	// WindSlack is the slack that the day's wind draws above the device; it is in
	// the fall already.
	WindSlack quantity.Metres
	// WindRuns: it takes the whole tail.
	WindRuns bool
	// PeakKN is the greatest force the hold may see if what else holds fails.
	Peak *Figure[quantity.Kilonewtons]
	// Clearance needed below the attachment in a fall onto this hold.
	ClearanceNeeded *Figure[quantity.Metres]
	// EndTemperature of the device after the longest descent of this drop.
	EndTemperature *Figure[quantity.Celsius]
	// Fastest is the fastest descent that keeps the device within what the ropes'
	// sheaths stand; nil where any speed does.
	Fastest *quantity.MetresPerSecond
}

// Figure is a computed quantity with its working.
type Figure[Q quantity.Quantity] struct {
	Value   Q
	Working func() []finding.Working
}

// Role is what the hold is for, from its class where it is not said.
func (h *HoldView) Role() HoldRole {
	if h.Hold.Role != "" {
		return h.Hold.Role
	}
	switch h.Device.Model.Class {
	case gear.BackupDevice:
		return ToBackUp
	case gear.HandAscender:
		return Third
	case gear.ChestAscender:
		return ToAscend
	default:
		return ToDescend
	}
}

// sternalM is how far the sternal and dorsal points are above the ventral one, in a
// body that hangs upright.
const sternalM quantity.Metres = 0.35

// PointHeight is the height of a harness point above the ventral one.
func PointHeight(p gear.Point) quantity.Metres {
	if p == gear.Sternal || p == gear.Dorsal {
		return sternalM
	}
	return 0
}

// HeightM is the height of the device.
func (h *HoldView) HeightM() quantity.Metres { return h.Person.AtM + PointHeight(h.Point) + h.AboveM }

// Second is the second person that the hold is to bear: the heaviest told on any
// hold of its person, since what one hold lets go of moves to the others.
func (h *HoldView) Second() quantity.Kilograms {
	var most quantity.Kilograms
	for _, o := range h.Person.Holds {
		most = max(most, o.SecondKg)
	}
	return most
}

// Mass is what the hold is to bear.
func (h *HoldView) Mass() quantity.Kilograms { return h.Person.MassKg + h.Second() }

// Load is the weight of what the hold is to bear, at rest.
func (h *HoldView) Load() quantity.Kilonewtons { return quantity.Weight(h.Mass()) }

// LinksLength is the length of the hold's links from the device to the harness
// point: all of them, and without connectors. A connector whose model gives no
// length counts as the one given.
func (h *HoldView) LinksLength(connector quantity.Metres) (all, soft quantity.Metres) {
	for _, l := range h.Links {
		switch length := l.Model.LengthM; {
		case l.Model.Connector == nil:
			all, soft = all+length, soft+length
		case length == 0:
			all += connector
		default:
			all += length
		}
	}
	return all, soft
}

// Subject is the hold as findings name it.
func (h *HoldView) Subject() finding.Subject {
	return finding.Subject{
		Kind: finding.Hold, ID: h.ID, Label: h.Device.Item.Label, Person: h.Person.ID, Hold: h.ID,
		Strand: h.Strand.ID, Item: h.Device.Item.ID,
	}
}

// LinkSubject is one piece of a hold's load path as findings name it.
func (h *HoldView) LinkSubject(p *Piece) finding.Subject {
	s := h.Subject()
	s.Kind, s.ID, s.Label, s.Item = finding.Item, p.Item.ID, p.Item.Label, p.Item.ID
	return s
}

// Subject is the strand as findings name it.
func (s *StrandView) Subject() finding.Subject {
	return finding.Subject{Kind: finding.Strand, ID: s.ID, Label: s.Name, Strand: s.ID}
}

// RopeSubject is one rope of the strand as findings name it.
func (s *StrandView) RopeSubject(p *Piece) finding.Subject {
	return finding.Subject{Kind: finding.Strand, ID: s.ID, Label: p.Item.Label, Strand: s.ID, Item: p.Item.ID}
}

// Subject is the person as findings name them.
func (p *PersonView) Subject() finding.Subject {
	return finding.Subject{Kind: finding.Person, ID: p.ID, Label: p.Name, Person: p.ID}
}

// TopM is the height of the strand's anchor; of several, the highest.
func (s *StrandView) TopM() quantity.Metres {
	top := s.Anchors[0].HeightM
	for _, a := range s.Anchors {
		top = max(top, a.HeightM)
	}
	return top
}

// SectionAt is the section a device at a height hangs on.
func (s *StrandView) SectionAt(h quantity.Metres) Section {
	at := s.Sections[0]
	for _, sec := range s.Sections[1:] {
		if sec.TopM > h {
			at = sec
		}
	}
	return at
}

// Rope is what a stretch of a strand is made of, as one rope that stretches and
// weighs the same: of springs in series the mean elongation by length is that of
// the whole. The diameter is the greatest.
func (s *StrandView) Rope(top, bottom quantity.Metres) (elongation quantity.Percent, mass quantity.GramsPerMetre, diameter quantity.Millimetres) {
	var length quantity.Metres
	for _, r := range s.Ropes {
		part := min(top, r.TopM) - max(bottom, r.BottomM)
		if part <= 0 {
			continue
		}
		length += part
		elongation += r.Model.Rope.ElongationPct * quantity.Percent(part)
		mass += r.Model.Rope.MassGPerM * quantity.GramsPerMetre(part)
		d, _ := gear.Diameter(r.Item, r.Model)
		diameter = max(diameter, d)
	}
	if length == 0 {
		// At or beyond the ends: the lowest rope stands for all.
		last := s.Ropes[len(s.Ropes)-1]
		d, _ := gear.Diameter(last.Item, last.Model)
		return last.Model.Rope.ElongationPct, last.Model.Rope.MassGPerM, d
	}
	return elongation / quantity.Percent(length), mass / quantity.GramsPerMetre(length), diameter
}

// HangsTo is the height down to which the rope below a device at a height hangs
// free: the next re-belay, the lower end, or the ground.
func (s *StrandView) HangsTo(h quantity.Metres) quantity.Metres {
	to := quantity.Metres(0)
	if s.Length != nil {
		to = max(to, s.Length.EndM)
	}
	for _, sec := range s.Sections[1:] {
		if sec.TopM < h {
			to = max(to, sec.TopM)
		}
	}
	return min(to, h)
}

// Has reports whether a rope, by the id of its item, is part of the strand.
func (s *StrandView) Has(rope string) bool {
	return slices.ContainsFunc(s.Ropes, func(r RopePart) bool { return r.Item.ID == rope })
}

// RopeAt is the rope that is there at a height.
func (s *StrandView) RopeAt(h quantity.Metres) RopePart {
	for _, r := range s.Ropes {
		if h >= r.BottomM {
			return r
		}
	}
	return s.Ropes[len(s.Ropes)-1]
}

func (p *PersonView) all() []*Piece {
	list := slices.Clone(p.Carries)
	if p.Harness != nil {
		list = append(list, p.Harness)
	}
	for _, h := range p.Holds {
		if h.Device != nil {
			list = append(list, h.Device)
		}
		for _, l := range h.Links {
			list = append(list, l.Piece)
		}
	}
	slices.SortStableFunc(list, func(a, b *Piece) int { return cmp.Compare(a.Item.ID, b.Item.ID) })
	return slices.Compact(list)
}

// joins gives the join marks from the top down.
func (s *StrandView) joins() []Mark { return s.marksOf(JoinMark) }

func (s *StrandView) marksOf(kind MarkKind) []Mark {
	var list []Mark
	for _, m := range s.Marks {
		if m.Kind == kind {
			list = append(list, m)
		}
	}
	slices.SortStableFunc(list, func(a, b Mark) int { return cmp.Compare(b.HeightM, a.HeightM) })
	return list
}
