package moves

import (
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// anywhere is the height of everything in a relaxed scene.
var anywhere = []stance.Cm{0}

// clipsInto reports whether a lanyard is worth clipping into a mark.
func (g *generator) clipsInto(s *stance.Stance, l *stance.Line, m *stance.Mark) bool {
	switch m.Kind {
	case rig.RebelayMark, rig.DeviationMark:
		return g.on(l)
	case stance.SlingMark:
		return g.goal.slings
	case rig.DamageMark:
		if s.Eyed&(1<<m.Damage) == 0 {
			return false
		}
	default:
		if !m.Clip {
			return false
		}
	}
	k := g.sc.Schools.KnotCover
	return g.on(l) && (l.Role != rig.Backup || k == "any" || k == "eye")
}

func (g *generator) clips(s *stance.Stance, t int) {
	item := g.sc.Tools[t].Item
	for line := range g.sc.Lines {
		l := &g.sc.Lines[line]
		for i, m := range l.Marks {
			if !g.near(s, &m) || !g.clipsInto(s, l, &m) {
				continue
			}
			g.add(stance.Action{Do: stance.Clip, Item: item, Line: l.ID, Span: i + 1, Into: "mark"})
		}
	}
	if s.Loop.There {
		g.add(stance.Action{Do: stance.Clip, Item: item, Line: g.sc.Lines[s.Loop.Line].ID, Into: "loop"})
	}
}

// near reports whether the hands get at a mark.
func (g *generator) near(s *stance.Stance, m *stance.Mark) bool {
	if g.relaxed {
		return g.around(s, m.At, m.At)
	}
	return m.At <= s.At+g.sc.Up && m.At >= s.At-stance.ReachDown
}

// around reports, of a relaxed scene, whether anything between two heights can be near a
// body that hangs as it does: what it hangs on is on a span, and the body no further from
// it than the longest tool and the arm.
func (g *generator) around(s *stance.Stance, low, high stance.Cm) bool {
	from, to := min(g.sc.Ground, g.from), max(g.sc.Ground, g.from)
	if b := s.Bears; b >= 0 {
		h := &s.Holds[b]
		if g.sc.Lines[h.Line].Role == stance.Structure {
			from, to = g.sc.Lines[h.Line].Marks[h.Span-1].At, g.sc.Lines[h.Line].Marks[h.Span-1].At
		} else {
			from, to = g.span(int(h.Line), int(h.Span))
			if h.Clip != stance.NoClip {
				// Into a mark at either end.
				to += 2 * stance.KnotLen
			}
		}
	} else if !s.Grounded {
		return true
	}
	if !g.sc.Level() {
		// Drawn aside a strand comes down.
		return true
	}
	return low <= to+g.sc.Up && high >= from-g.longest-stance.Sternal-stance.ReachDown
}

// marks puts the connector of a deviation that is in reach beyond the body, and ties
// out damage.
func (g *generator) marks(s *stance.Stance) {
	if s.Grounded || s.Standing {
		return
	}
	for line := range g.sc.Lines {
		l := &g.sc.Lines[line]
		for i, m := range l.Marks {
			if !g.on(l) || !g.near(s, &m) {
				continue
			}
			switch {
			case m.Kind == rig.DeviationMark:
				g.add(stance.Action{Do: stance.Pass, Line: l.ID, Span: i + 1})
			case m.Open && s.Isolated&(1<<m.Damage) == 0:
				g.add(stance.Action{Do: stance.Isolate, Line: l.ID, Span: i + 1, Eye: g.sc.Schools.IsolatingKnot == "eye"})
			}
		}
	}
}

// loops ties a loop beside a knot of the backup, with room for a device between; or
// into a backup that is changed over to.
func (g *generator) loops(s *stance.Stance) {
	if s.Loop.There {
		g.add(stance.Action{Do: stance.Untie})
		return
	}
	if s.Grounded || s.Standing {
		return
	}
	for line := range g.sc.Lines {
		l := &g.sc.Lines[line]
		if l.Role != rig.Backup || !g.on(l) {
			continue
		}
		changing, k := g.changing(s, l), g.sc.Schools.KnotCover
		if changing && g.sc.Schools.TransferCover != "loop" || !changing && (k != "any" && k != "loop" || g.another(s, -1) > 1 || g.clipped(s, l)) {
			continue
		}
		for span := range len(l.Marks) + 1 {
			low, high := g.span(line, span)
			var want []stance.Cm
			if span > 0 {
				want = append(want, high-3*stance.Apart)
			}
			if span < len(l.Marks) {
				want = append(want, low+3*stance.Apart)
			}
			if changing {
				want = append(want, g.sc.Along(s, line, span, s.At+stance.Sternal))
			}
			if g.relaxed {
				if g.around(s, low, high) {
					g.add(stance.Action{Do: stance.Tie, Line: l.ID, Span: span})
				}
				continue
			}
			for _, at := range want {
				if at > low && at < high && g.sc.Reaches(s, line, span, at) {
					g.add(stance.Action{Do: stance.Tie, Line: l.ID, Span: span, AtM: at.M()})
				}
			}
		}
	}
}
