package moves

import (
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/stance"
)

// heights are where a device is put on a span: where it is usual, and close to the
// marks and devices that are in reach.
func (g *generator) heights(s *stance.Stance, t, line, span int) []stance.Cm {
	low, high := g.span(line, span)
	if g.relaxed {
		if !g.around(s, low, high) {
			return nil
		}
		return anywhere
	}
	// At a height, or as near to it as the span goes: close to its mark.
	across := func(h stance.Cm) stance.Cm { return min(high, max(low, g.sc.Along(s, line, span, h))) }
	want := g.wanted(s, t, line, span, across)
	if g.sc.Across(s, line, span) {
		// Where one is lowered across, how much rope there is to either side decides.
		want = append(want, high, low)
	}
	var list []stance.Cm
	for _, w := range want {
		if w >= low && w <= high && (s.Grounded || g.sc.Reaches(s, line, span, w)) && !slices.Contains(list, w) {
			list = append(list, w)
		}
	}
	return list
}

// wanted are heights at which a device is put on by what else is on.
func (g *generator) wanted(s *stance.Stance, t, line, span int, across func(stance.Cm) stance.Cm) (want []stance.Cm) {
	at := s.At
	// Who stood up just to take the weight off sits down where they sat.
	seat := at
	if s.Standing && at-s.Sat <= stance.SmallLift {
		seat = s.Sat
	}
	snap := func(h stance.Cm) stance.Cm { return across(g.snap(line, span, h)) }
	if c := g.sc.Tools[t].Class; (c == gear.Descender || c == gear.ChestAscender) && s.Bears >= 0 && int(s.Holds[s.Bears].Line) != line {
		// What is left on the other strand comes tight where one sits any lower.
		want = append(want, across(seat+stance.DeviceLen))
	}
	switch g.sc.Tools[t].Class {
	case gear.Descender:
		want = append(want, snap(seat+stance.DeviceLen))
		for i := range g.sc.Tools {
			if h := &s.Holds[i]; h.There && g.sc.Tools[i].Class == gear.ChestAscender && int(h.Line) == line {
				want = append(want, h.At-stance.Apart)
			}
		}
	case gear.ChestAscender:
		want = append(want, snap(seat+stance.DeviceLen))
		for i := range g.sc.Tools {
			if h := &s.Holds[i]; h.There && g.sc.Tools[i].Class == gear.Descender && int(h.Line) == line {
				want = append(want, h.At+stance.DeviceLen)
			}
		}
	case gear.HandAscender:
		want = []stance.Cm{snap(at + g.sc.Up - stance.Snug), snap(at + 45)}
	case gear.BackupDevice:
		want = []stance.Cm{across(at + stance.Sternal + g.sc.High(t))}
		if l := s.Loop; l.There && int(l.Line) == line && int(l.Span) == span {
			want = append(want, l.At+stance.KnotHalf, l.At-stance.KnotHalf)
		}
	}
	return want
}

// gridCm is how far apart the heights are at which a device is put, from the nearer of
// the marks that end its span.
const gridCm stance.Cm = 15

// fineCm is how far apart they are before it is said that there is no way.
const fineCm stance.Cm = 5

// fineStates is how many states are expanded among them.
const fineStates = 60_000

// snap gives the next height of the grid below a height within a span; without marks
// there is no grid.
func (g *generator) snap(line, span int, h stance.Cm) stance.Cm {
	low, high := g.span(line, span)
	above, below := span > 0, span < len(g.sc.Lines[line].Marks)
	switch {
	case h <= low || h >= high || !above && !below:
		return h
	case !below || above && high-h < h-low:
		return high - (high-h+g.grid-1)/g.grid*g.grid
	}
	return low + (h-low)/g.grid*g.grid
}
