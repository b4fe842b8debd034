package stance

import (
	"cmp"
	"math"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

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
	slices.SortStableFunc(l.Marks, func(a, b Mark) int { return cmp.Compare(b.At, a.At) })
	return l
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
	if sc.aside(s, &sc.sides[line][span]) == 0 || span == len(sc.Lines[line].Marks) || sc.Lines[line].Marks[span].Kind != rig.RebelayMark {
		return low
	}
	m := &sc.Lines[line].Marks[span]
	return sc.sides[line][span].top - sc.looped(line, span) + hypot(sc.aside(s, &sc.sides[line][span+1]), at-m.At)
}

// LoopToStandIn is how much slack is left in the loop of a re-belay for somebody who sits
// on a lanyard of a length, in the anchor, to stand up in it: the loop's lowest point is
// half its slack below the anchor, and from StropNear to StropFar below the hip.
func LoopToStandIn(lanyard quantity.Metres) (least, most quantity.Metres) {
	return 2 * (lanyard + StropNear.M()), 2 * (lanyard + StropFar.M())
}

// TailMM is how long the tails of a knot in a strand are at least, by school.
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
