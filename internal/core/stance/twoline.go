package stance

import (
	"cmp"
	"fmt"
	"math/bits"
	"slices"
)

// Point is a single thing that can fail: a tool with its connectors, a strand, or
// an anchor.
type Point struct {
	Kind PointKind `json:"kind" enum:"hold,strand,anchor"`
	ID   string    `json:"id"`
}

// PointKind is what a point is.
type PointKind string

// points are a set of a scene's points, by the bits of their numbers.
type points uint64

// way gives the points that a hold needs, each of which lets it go. A strand that
// hangs from a re-belay needs that anchor: the one above it is not counted.
func (sc *Scene) way(s *Stance, i int) points {
	h := &s.Holds[i]
	span := int(h.Span)
	if h.Clip == IntoMark {
		if sc.Lines[h.Line].fixed(h) {
			return 1<<i | sc.spans[h.Line][span].anchor
		}
		span--
	}
	return 1<<i | sc.spans[h.Line][span].all
}

// anchorPoint is what lets go with an anchor: every anchor on the same point of the structure does.
func (sc *Scene) anchorPoint(id string) Point {
	if sc.rig != nil {
		id = sc.rig.StandsOn(id)
	}
	return Point{OfAnchor, id}
}

// OneThing says what all strands of a set are lost with, wherever one hangs on them; empty for
// nothing. Nobody is held twice over on such a set.
func (sc *Scene) OneThing(set int) string {
	all, strands := ^points(0), 0
	for l := range sc.Lines {
		if sc.Lines[l].Set != set || sc.Lines[l].Role == Structure {
			continue
		}
		strands++
		for _, span := range sc.spans[l] {
			all &= span.all
		}
	}
	if strands == 0 || all == 0 {
		return ""
	}
	return sc.pointWords(sc.names[bits.TrailingZeros64(uint64(all))])
}

// spanPoints are what a span of a line needs: its strand and its anchor.
type spanPoints struct{ anchor, all points }

// number gives every point of the scene a number: tools, lines, anchors.
func (sc *Scene) number() error {
	sc.names = nil
	for _, t := range sc.Tools {
		sc.names = append(sc.names, Point{OfHold, t.Item})
	}
	bit := func(p Point) points {
		for i, o := range sc.names {
			if i >= len(sc.Tools) && o == p {
				return 1 << i
			}
		}
		sc.names = append(sc.names, p)
		return 1 << (len(sc.names) - 1)
	}
	sc.spans = make([][]spanPoints, len(sc.Lines))
	sc.takes = make([]uint32, len(sc.Lines))
	for l := range sc.Lines {
		line := &sc.Lines[l]
		for t := range sc.Tools {
			if sc.Tools[t].goesOnto(line) {
				sc.takes[l] |= 1 << t
			}
		}
		if line.Role == Structure {
			sc.spans[l] = append(sc.spans[l], spanPoints{})
			for _, m := range line.Marks {
				anchor := bit(sc.anchorPoint(m.Anchor))
				sc.spans[l] = append(sc.spans[l], spanPoints{anchor, anchor})
			}
			continue
		}
		strand := bit(Point{OfStrand, cmp.Or(line.With, line.ID)})
		for n := range len(line.Marks) + 1 {
			var anchor points
			if m := line.section(n); m != nil {
				anchor = bit(sc.anchorPoint(m.Anchor))
			} else if at := sc.anchorPoint(line.Anchors[0]); !slices.ContainsFunc(line.Anchors, func(id string) bool { return sc.anchorPoint(id) != at }) {
				anchor = bit(at)
			}
			sc.spans[l] = append(sc.spans[l], spanPoints{anchor, strand | anchor})
		}
	}
	if len(sc.names) > 64 {
		return fmt.Errorf("%d tools, strands and anchors are more than are planned with", len(sc.names))
	}
	return nil
}

// holding gives the holds that are left when a point fails.
func (sc *Scene) holding(s *Stance, lost points) []int {
	var left []int
	for i := range sc.Tools {
		if (sc.counts(s, i) || sc.thirdHold(s, i)) && sc.way(s, i)&lost == 0 {
			left = append(left, i)
		}
	}
	return left
}

// pointsTwo is points.two: no single anchor, strand or hold lies on every way from
// the body to the anchors. From a stance that is in breach already a step may lead to
// one that is no worse: nothing lets go there that did not before.
func (sc *Scene) pointsTwo(s, before *Stance) []Violation {
	common := sc.common(s)
	if common == 0 {
		return nil
	}
	words := "nothing holds " + sc.Name
	if common != ^points(0) {
		if sc.quiet {
			words = ""
		} else {
			words = fmt.Sprintf("if %s goes, nothing holds %s", sc.pointWords(sc.names[bits.TrailingZeros64(uint64(common))]), sc.Name)
		}
	}
	if before != nil && !before.Grounded && common&^sc.common(before) == 0 {
		return sc.look("points.two", "in breach from before, and no worse: %s", words)
	}
	return sc.broken("points.two", "%s", words)
}

// common are the points that lie on every way; all of them where nothing holds.
func (sc *Scene) common(s *Stance) points {
	common := ^points(0)
	for i := range sc.Tools {
		if sc.counts(s, i) {
			common &= sc.way(s, i)
		}
	}
	return common
}

// InBreach reports whether one failure lets the body go.
func (sc *Scene) InBreach(s *Stance) bool { return !s.Grounded && sc.common(s) != 0 }

// Held counts the holds of the two-line rule.
func (sc *Scene) Held(s *Stance) int {
	n := 0
	for i := range sc.Tools {
		if sc.counts(s, i) {
			n++
		}
	}
	return n
}

func (sc *Scene) pointWords(p Point) string {
	switch p.Kind {
	case OfHold:
		if i := sc.Tool(p.ID); i >= 0 {
			return sc.Tools[i].Label
		}
	case OfStrand:
		if i := sc.Line(p.ID); i >= 0 {
			for j := range sc.Lines {
				if sc.Lines[j].With == p.ID {
					return "the one rope of " + sc.Lines[i].Name + " and " + sc.Lines[j].Name
				}
			}
			return "the " + sc.Lines[i].Name + " strand"
		}
	case OfAnchor:
		if sc.rig == nil {
			return p.ID
		}
		return sc.anchorWords(p.ID)
	}
	return p.ID
}

// anchorWords names an anchor; one that shares its point of the structure is named by that.
func (sc *Scene) anchorWords(id string) string {
	name, many := id, 0
	for _, a := range sc.rig.Anchors {
		if sc.rig.StandsOn(a.ID) != id {
			continue
		}
		if many++; many == 1 {
			name = "the " + a.Name
		} else {
			name = "the anchor point " + a.Legs[0].ID
		}
	}
	return name
}
