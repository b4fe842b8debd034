package stance

import (
	"math"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// far is a height that nothing reaches.
const far Cm = 1 << 20

func (l *Line) fixed(h *Hold) bool {
	if h.Clip != IntoMark {
		return false
	}
	k := l.Marks[h.Span-1].Kind
	return k == rig.RebelayMark || k == SlingMark
}

// sideOf is the side that a hold hangs on.
func (sc *Scene) sideOf(h *Hold) *side {
	span := h.Span
	if h.Clip == IntoMark && !sc.Lines[h.Line].fixed(h) {
		// The eye of a knot hangs from what is above it.
		span--
	}
	return &sc.sides[h.Line][span]
}

// below is how far straight below its anchor the end of a length of rope is that is
// drawn aside; negative where it does not reach so far.
func below(length, aside Cm) Cm {
	if aside == 0 {
		return length
	}
	l, a := float64(length), float64(aside)
	if length < 0 || l*l < a*a {
		return -far
	}
	return Cm(math.Floor(math.Sqrt(l*l - a*a)))
}

// Under is the lowest height of a body from which a lanyard of a length reaches a sling of
// the structure; far above where it is too far aside.
func (sc *Scene) Under(s *Stance, line, sling int, length Cm) Cm {
	return sc.Lines[line].Marks[sling].At - below(length, sc.aside(s, &sc.sides[line][sling+1]))
}

// aside is how far a side is from a body, sideways. The strands that a body is on draw it to
// the middle of their anchors, as far as it holds itself aside on the rope it hangs on: far
// below them that is all the way, near them hardly any. Who stands at the top stands where the
// main of that side is.
func (sc *Scene) aside(s *Stance, sd *side) Cm {
	if sc.walks(s) {
		return 0
	}
	if s.Grounded {
		return sd.x - sc.mainX[sd.id]
	}
	aside := sd.x - s.X
	if sc.own {
		sway := sc.sway(s)
		middle := sc.sideX[sd.id] - sc.sideX[s.Side]
		aside += min(sway, max(-sway, middle-aside))
	}
	return aside
}

// walks reports whether a body stands where it walks under whatever it puts on; at the top
// the anchors are too near for that.
func (sc *Scene) walks(s *Stance) bool { return s.Grounded && s.At < sc.Ground+edgeRope }

// Highest is how high a device on a span comes whose strand is drawn to the body.
func (sc *Scene) Highest(s *Stance, line, span int) Cm {
	_, high := sc.Lines[line].span(span)
	sd := &sc.sides[line][span]
	return min(sc.drawn(s, sd, high), sd.top)
}

// tightAt is the height of the body at which a hold comes tight; above far where it
// is tight wherever the body is.
func (sc *Scene) tightAt(s *Stance, i int) Cm {
	h := &s.Holds[i]
	sd := sc.sideOf(h)
	aside := sc.aside(s, sd)
	if aside == 0 {
		return h.At - sc.Tools[i].taut()
	}
	return sd.top - below(sd.top-h.At+sc.Tools[i].taut(), aside)
}

// drawn is the height that a point of a strand comes to when it is drawn across to
// the body.
func (sc *Scene) drawn(s *Stance, sd *side, at Cm) Cm {
	aside := sc.aside(s, sd)
	if aside == 0 {
		return at
	}
	return sd.top - below(sd.top-at, aside)
}

// Along gives the point of a span that is at a height when the strand is drawn
// across to the body: points of strands are named by where they hang. A strand that is
// drawn aside comes no higher than what it hangs from.
func (sc *Scene) Along(s *Stance, line, span int, height Cm) Cm {
	sd := &sc.sides[line][span]
	aside := sc.aside(s, sd)
	if aside == 0 {
		return height
	}
	d, v := float64(aside), float64(max(0, sd.top-height))
	return sd.top - Cm(math.Ceil(math.Sqrt(d*d+v*v)))
}

// reaches refuses what the hand does not get at: a point of a strand, or a fixed one.
// A strand aside is reached by the arm, by holding oneself aside, by the slack loop that joins
// it to the one that one hangs on, or from a strand beside it that one is on already.
func (sc *Scene) reaches(s *Stance, line, span int, at Cm, fixed bool) error {
	if sc.relaxed {
		return nil
	}
	sd := &sc.sides[line][span]
	height := at
	if !fixed {
		if height = sc.drawn(s, sd, at); height >= far {
			return sc.impossible("the %s strand does not come across so far from %v", sc.Lines[line].Name, at.M())
		}
	}
	if err := sc.inReach(s, height); err != nil || s.Grounded {
		return err
	}
	aside := max(sc.aside(s, sd), -sc.aside(s, sd))
	if aside <= sc.Out || !fixed && (max(sd.x-s.X, s.X-sd.x) <= sc.Out+sc.sway(s) || sc.joined(s, line, sd) || sc.pulled(s, sd)) {
		return nil
	}
	return sc.impossible("%v aside is out of reach", aside.M())
}

// Reaches reports whether the hand gets at a point of a strand.
func (sc *Scene) Reaches(s *Stance, line, span int, at Cm) bool {
	return sc.reaches(s, line, span, at, false) == nil
}

// Across reports whether a span hangs on another side than the body, aside of it.
func (sc *Scene) Across(s *Stance, line, span int) bool {
	sd := &sc.sides[line][span]
	return sd.id != s.Side && sd.x != s.X
}

// On puts a body under a span, on the side that it is part of.
func (s *Stance) On(sc *Scene, line, span int) {
	s.X, s.Side = sc.sides[line][span].x, sc.sides[line][span].id
}

// X is where a body hangs sideways that is on a span.
func (sc *Scene) X(line, span int) Cm { return sc.sides[line][span].x }

// XOf is where a body hangs sideways that is on a hold.
func (sc *Scene) XOf(h *Hold) Cm { return sc.sideOf(h).x }

// SideOf finds the side of what bears a body, or of a strand for who stands.
func (sc *Scene) SideOf(s *Stance) int8 {
	for i := range sc.Tools {
		if s.Holds[i].There && (int(s.Bears) == i || s.Bears < 0) {
			return sc.sideOf(&s.Holds[i]).id
		}
	}
	return 0
}

// Sound reports whether what bears the body is on nothing that is hurt.
func (sc *Scene) Sound(s *Stance) bool {
	return s.Bears >= 0 && sc.bearable(s, &s.Holds[s.Bears])
}

// sway is how far a body holds itself aside on the rope it hangs on.
func (sc *Scene) sway(s *Stance) Cm {
	if s.Bears < 0 {
		return 0
	}
	return sc.swayOn(sc.sideOf(&s.Holds[s.Bears]).top - s.At)
}

// swayOn is sway on so much rope.
func (sc *Scene) swayOn(rope Cm) Cm {
	return Cm(float64(rope) * sidePushN / (float64(quantity.Weight(sc.MassKg)) * 1000))
}

// joined reports whether the loop of a re-belay leads to a side: from below it hangs from
// the anchor in reach, from above the strand in hand leads to it, and a slack loop is
// drawn in however low it hangs.
func (sc *Scene) joined(s *Stance, line int, sd *side) bool {
	if s.Bears < 0 || sc.sideOf(&s.Holds[s.Bears]).set != sd.set {
		return false
	}
	for _, m := range sc.Lines[line].Marks {
		if m.Kind == rig.RebelayMark && m.At <= s.At+sc.Up && m.At >= s.At-ReachDown {
			return true
		}
	}
	return false
}

// pulled reports whether a body is on another strand of a side, by which it pulls itself to
// within the arm's reach of this one.
func (sc *Scene) pulled(s *Stance, sd *side) bool {
	for i := range sc.Tools {
		h := &s.Holds[i]
		if !h.There {
			continue
		}
		if o := sc.sideOf(h); o.id == sd.id && max(o.x-sd.x, sd.x-o.x) <= sc.Out {
			return true
		}
	}
	return false
}

// crosses is moves.four and moves.swing: who changes to another side has two holds on
// each, of which no one thing lets both go, and is lowered across or in reach of it.
// Close by, a school may do with fewer; from a side that is hurt those on the other
// are enough.
func (sc *Scene) crosses(s *Stance, t int, lowered bool) []Violation {
	to := sc.sideOf(&s.Holds[t])
	if s.Grounded || to.id == s.Side {
		return nil
	}
	aside := sc.aside(s, to)
	if aside = max(aside, -aside); aside > sc.Out && !lowered {
		return sc.broken("moves.swing", "%s swings %v aside when the weight moves to %s", sc.Name, aside.M(), sc.Tools[t].Label)
	}
	// Along slings two are always in; that is the two-line rule.
	if !sc.Four(s.Side, to.id) {
		return nil
	}
	if !sc.hurtAbove(s, s.Side) {
		if v := sc.twice(s, s.Side); v != nil {
			return v
		}
	}
	return sc.twice(s, to.id)
}

// hurtAbove reports whether a strand of a side is damaged above a body and not tied out: two
// holds are not to be had there. What is damaged below takes none away.
func (sc *Scene) hurtAbove(s *Stance, id int8) bool {
	for line := range sc.sides {
		marks := sc.Lines[line].Marks
		for n := range sc.sides[line] {
			if n > 0 && marks[n-1].At < s.At {
				break
			}
			if sc.sides[line][n].id == id && !sc.sound(s, line, n) {
				return true
			}
		}
	}
	return false
}

// Hurt reports whether a strand of a side is damaged anywhere and not tied out.
func (sc *Scene) Hurt(s *Stance, id int8) bool {
	for line := range sc.sides {
		for n := range sc.sides[line] {
			if sc.sides[line][n].id == id && !sc.sound(s, line, n) {
				return true
			}
		}
	}
	return false
}

// Four reports whether changing from one side to another asks for two holds on each.
func (sc *Scene) Four(from, to int8) bool {
	aside := sc.sideX[from] - sc.sideX[to]
	return sc.sideSet[from] != 0 && sc.sideSet[to] != 0 && !(sc.fewer && max(aside, -aside) <= sc.Out)
}

// Far reports whether a side is out of the arm's reach of another.
func (sc *Scene) Far(from, to int8) bool {
	aside := sc.sideX[from] - sc.sideX[to]
	return sc.sideSet[from] != 0 && sc.sideSet[to] != 0 && max(aside, -aside) > sc.Out
}

// Level reports whether every strand hangs at the same place sideways: none is drawn
// aside.
func (sc *Scene) Level() bool {
	for i := range sc.sides {
		for n := range sc.sides[i] {
			if sc.sides[i][n].x != sc.sides[0][0].x {
				return false
			}
		}
	}
	return true
}

// Strops reports whether there is a slack loop to stand in anywhere.
func (sc *Scene) Strops() bool { return sc.strops }

// Fixed reports whether a hold is in an anchor or a sling, and not on a strand.
func (sc *Scene) Fixed(h *Hold) bool { return sc.Lines[h.Line].fixed(h) }

// Relayed reports whether any strand has a re-belay.
func (sc *Scene) Relayed() bool { return len(sc.sideX) > len(sc.sets()) }

// sets are those of the lines.
func (sc *Scene) sets() map[int]bool {
	sets := map[int]bool{}
	for i := range sc.Lines {
		sets[sc.Lines[i].Set] = true
	}
	return sets
}

// SideOfHold is the side that a hold hangs on, by number.
func (sc *Scene) SideOfHold(h *Hold) int8 { return sc.sideOf(h).id }

// SideID is the side of a span, by number.
func (sc *Scene) SideID(line, span int) int8 { return sc.sides[line][span].id }

// twice wants two holds on a side, of which no one thing lets both go.
func (sc *Scene) twice(s *Stance, id int8) []Violation {
	common, n := ^points(0), 0
	for i := range sc.Tools {
		if sc.counts(s, i) && sc.sideOf(&s.Holds[i]).id == id {
			n++
			common &= sc.way(s, i)
		}
	}
	if n == 0 || common != 0 {
		return sc.broken("moves.four", "%s changes sides and is not held twice on both", sc.Name)
	}
	return nil
}

// Apart reports whether nobody who hangs gets at a set sideways, at any height and with any kit:
// from side to side no strand of it comes within the arm's reach of a body that holds itself aside
// on all the rope that it can hang on. Gap is how far aside its nearest strand then hangs, most
// what is got at from there. Who stands walks, and is never apart.
func (sc *Scene) Apart(s *Stance, set int) (gap, most Cm, apart bool) {
	if len(sc.sideX) > 64 {
		return 0, 0, false // more sides than bits: nothing is proved
	}
	got := uint64(1) << s.Side
	for i := range sc.Tools {
		if s.Holds[i].There {
			got |= 1 << sc.sideOf(&s.Holds[i]).id
		}
	}
	for before := uint64(0); got != before; {
		before = got
		gap, most = far, 0
		inSet := s.Grounded
		for l := range sc.sides {
			for n := range sc.sides[l] {
				sd := &sc.sides[l][n]
				g, m := sc.nearest(got, sd, min(sc.Ground, s.At))
				if g <= m {
					got |= 1 << sd.id
				}
				inSet = inSet || sd.set == set && g <= m
				if sd.set == set && g-m < gap-most {
					gap, most = g, m
				}
			}
		}
		if inSet {
			return 0, 0, false
		}
	}
	return gap, most, gap < far
}

// nearest is how far aside a side hangs of that one of some from which it is got at most nearly,
// and how far one gets from there: the arm, and what a body holds itself aside on the rope down
// to its lowest height; on a sling that is no more than the longest thing it hangs in. The loops
// of re-belays lead from side to side of a set.
func (sc *Scene) nearest(got uint64, sd *side, lowest Cm) (gap, most Cm) {
	gap = far
	for l := range sc.sides {
		for n := range sc.sides[l] {
			o := &sc.sides[l][n]
			if got>>o.id&1 == 0 {
				continue
			}
			rope := o.top - lowest
			if sc.Lines[l].Role == Structure {
				rope = StandUp + Sternal
				for i := range sc.Tools {
					rope = max(rope, sc.Tools[i].Length+StandUp+Sternal)
				}
			}
			g, m := max(o.x-sd.x, sd.x-o.x), sc.Out+sc.swayOn(max(0, rope))
			if o.set == sd.set {
				g = 0
			}
			if g-m < gap-most {
				gap, most = g, m
			}
		}
	}
	return gap, most
}
