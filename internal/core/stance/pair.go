package stance

import (
	"slices"

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
	modes := t.rated(persons, mass, nil)
	return t.asks(modes)
}

// RatedOn is Rated on the ropes of a line.
func (sc *Scene) RatedOn(t, line, persons int, mass quantity.Kilograms) (rated, bend bool) {
	return sc.Tools[t].asks(sc.Tools[t].rated(persons, mass, sc.Lines[line].Ropes))
}

// asks says of some modes whether there are any, and whether all of them ask for the
// added bend.
func (t *Tool) asks(modes uint32) (rated, bend bool) {
	if modes == 0 {
		return false, false
	}
	for i, m := range t.Model.Device.Modes {
		if modes&(1<<i) != 0 && m.Needs != gear.ExtraFriction {
			return true, false
		}
	}
	return true, true
}

// rated are the modes for so many persons and this mass that take all of some ropes.
func (t *Tool) rated(persons int, mass quantity.Kilograms, ropes []Rope) (modes uint32) {
	if t.Model.Device == nil || persons > 1 && (t.One || t.Absorber != nil && mass > t.Absorber.Absorber.MaxKg) {
		return 0
	}
	for i := range t.Model.Device.Modes {
		if m := &t.Model.Device.Modes[i]; m.Persons >= persons && mass >= m.MinKg && mass <= m.MaxKg && takesAll(m, ropes) {
			modes |= 1 << i
		}
	}
	return modes
}

func takesAll(m *gear.Mode, ropes []Rope) bool {
	if len(m.Ropes) == 0 {
		return true // the model lists no ropes
	}
	for _, r := range ropes {
		if !m.Takes(r.Construction, r.DiameterMM) {
			return false
		}
	}
	return true
}

// ForOne gives the scene with a tool that counts as rated for one person alone, whatever
// its modes say.
func (sc *Scene) ForOne(item string) *Scene {
	one := *sc
	one.Tools = slices.Clone(sc.Tools)
	if i := sc.Tool(item); i >= 0 {
		one.Tools[i].One = true
	}
	return &one
}

// goesOnto reports whether a tool has a mode that takes every rope of a line. What runs
// on no rope goes anywhere.
func (t *Tool) goesOnto(l *Line) bool {
	if t.Model == nil || t.Model.Device == nil || len(t.Model.Device.Modes) == 0 {
		return true
	}
	for i := range t.Model.Device.Modes {
		if (t.Modes == 0 || t.Modes&(1<<i) != 0) && takesAll(&t.Model.Device.Modes[i], l.Ropes) {
			return true
		}
	}
	return false
}

// ForPair gives the scene for somebody who brings a second person along: the mass of
// both, only what is rated for two and may be used so, a connector for the bend of each
// descender that asks for one, and nobody stands up with two.
func (sc *Scene) ForPair(mass quantity.Kilograms, may func(item string) bool) *Scene {
	pair := *sc
	pair.MassKg, pair.heavy, pair.Tools = mass, true, nil
	for i := range sc.Tools {
		t := sc.Tools[i]
		t.Modes = t.rated(2, mass, nil)
		rated, bend := t.asks(t.Modes)
		switch t.Class {
		case gear.Descender, gear.BackupDevice:
			bend = bend && t.Class == gear.Descender
			if !rated || !may(t.Item) || bend && pair.Connectors < 1 {
				continue
			}
			if bend {
				t.Connectors++
			}
		case gear.Lanyard:
			if !may(t.Item) {
				continue
			}
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

// Crossed gives the scene with main and backup of a set changed about: below somebody
// whose weight is on the main, a descender goes onto the backup strand.
func (sc *Scene) Crossed(set int) *Scene {
	of := *sc
	of.Lines = slices.Clone(sc.Lines)
	for i := range of.Lines {
		switch l := &of.Lines[i]; {
		case l.Set != set:
		case l.Role == rig.Main:
			l.Role = rig.Backup
		case l.Role == rig.Backup:
			l.Role = rig.Main
		}
	}
	return &of
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
