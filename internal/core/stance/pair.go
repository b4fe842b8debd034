package stance

import (
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// Counts reports whether a hold is one of the two that the two-line rule asks for.
func (sc *Scene) Counts(s *Stance, i int) bool { return s.Holds[i].There && sc.counts(s, i) }

// Ways are the points that all holds of a stance need, as the bits of their numbers.
func (sc *Scene) Ways(s *Stance) uint64 {
	var all points
	for i := range sc.Tools {
		if s.Holds[i].There {
			all |= sc.way(s, i)
		}
	}
	return uint64(all)
}

// PointsOf gives the points of a set of bits.
func (sc *Scene) PointsOf(bits uint64) []Point {
	var list []Point
	for n, p := range sc.names {
		if bits&(1<<n) != 0 {
			list = append(list, p)
		}
	}
	return list
}

// Bit is the bit of a point; 0 for one that is not of this scene.
func (sc *Scene) Bit(p Point) uint64 {
	for n, o := range sc.names {
		if o == p {
			return 1 << n
		}
	}
	return 0
}

// Needs reports whether a hold is let go by a point.
func (sc *Scene) Needs(s *Stance, i int, bit uint64) bool { return uint64(sc.way(s, i))&bit != 0 }

// PointWords says what a point is, in words.
func (sc *Scene) PointWords(p Point) string { return sc.pointWords(p) }

// TightAt is the height of the body at which a hold comes tight.
func (sc *Scene) TightAt(s *Stance, i int) Cm { return sc.tightAt(s, i) }

// FallOnto works the fall of a mass onto one hold out, as FailOne does.
func (sc *Scene) FallOnto(s *Stance, i int, mass quantity.Kilograms) Lost {
	heavier := *sc
	heavier.MassKg = mass
	out := Lost{Held: true, By: sc.Tools[i].Label, FreeFallM: max(0, s.At-sc.tightAt(s, i)).M()}
	heavier.figures(s, i, &out)
	return out
}

// Rated reports whether a device has a mode for so many persons and this mass, and
// whether that asks for the added bend.
func (t *Tool) Rated(persons int, mass quantity.Kilograms) (rated, bend bool) {
	if t.Model.Device == nil {
		return false, false
	}
	bend = true
	for _, m := range t.Model.Device.Modes {
		if m.Persons >= persons && mass >= m.MinKg && mass <= m.MaxKg {
			rated, bend = true, bend && m.Needs == gear.ExtraFriction
		}
	}
	return rated, rated && bend
}

// ForPair gives the scene for somebody who brings a second person along: the mass of
// both, only devices that are rated for two, and nobody stands up with two.
func (sc *Scene) ForPair(mass quantity.Kilograms) *Scene {
	pair := *sc
	pair.MassKg, pair.heavy, pair.Tools = mass, true, nil
	for i := range sc.Tools {
		t := sc.Tools[i]
		rated, bend := t.Rated(2, mass)
		switch t.Class {
		case gear.Descender, gear.BackupDevice:
			if !rated || bend && t.Class == gear.Descender && pair.Connectors == 0 {
				continue
			}
		case gear.Lanyard:
		default:
			continue
		}
		t.Stands = false
		pair.Tools = append(pair.Tools, t)
	}
	if pair.number() != nil {
		return nil
	}
	return &pair
}

// Heavy reports a scene of two, that nobody lifts.
func (sc *Scene) Heavy() bool { return sc.heavy }

// Lowered gives the scene of somebody who hangs on a team's two strands: the brakes at
// the anchors stand for descender and backup, slack is in the belay.
func (sc *Scene) Lowered(main, belay *rig.Piece, slack Cm) *Scene {
	low := *sc
	m, b := toolOf(main), toolOf(belay)
	m.Class, b.Class, m.Connectors, b.Connectors = gear.Descender, gear.BackupDevice, 0, 0
	b.Length = max(slack, Apart)
	low.Tools = []Tool{m, b}
	for i := range sc.Tools {
		if sc.Tools[i].Class == gear.Lanyard {
			low.Tools = append(low.Tools, sc.Tools[i])
		}
	}
	if low.number() != nil {
		return nil
	}
	return &low
}
