package stance

import (
	"fmt"
	"slices"

	"zealousknot/internal/core/digest"
	"zealousknot/internal/core/rig"
)

// beyondWindow is how far outside a window what it was cut off at is put.
const beyondWindow Cm = 50

// Window gives the scene of some sets near a height alone, from up above it to down
// below it, with heights counted from the lower end: lift is what is added to those of
// the scene. It has nothing of the drop that is
// not in it, so that whatever is found in it depends on nothing else: the same window
// anywhere on any drop is the same scene. Actions that need the whole drop, such as going
// over its edge, are not done in it, and nothing in it is put in words.
//
// What is above the window counts by what hangs from it: the anchor, damage that no
// knot covers, and where it is sideways. Where strands are aside of each other the height
// of what they hang from counts too and is kept.
func (sc *Scene) Window(sets []int, at, up, down Cm) (w *Scene, lift Cm) {
	cut := *sc
	w = &cut
	w.rig, w.person, w.quiet = nil, nil, true
	w.Lines = nil
	high, low := at+up, at-down
	if !sc.level(sets, high) || !sc.level(sets, low) {
		// One of a pair of re-belays would be cut off.
		high, low = far, 0
	}
	anchors := map[string]string{}
	w.own = sc.own && sc.apartIn(sets, high, low)
	aligned := sc.aligned(sets, high, low)
	for i := range sc.Lines {
		if slices.Contains(sets, sc.Lines[i].Set) {
			w.Lines = append(w.Lines, sc.cut(i, high, low, aligned, anchors))
			if first, _ := sc.within(i, high, low); sc.own && !w.own {
				w.Lines[len(w.Lines)-1].X = sc.sideX[sc.sides[i][first].id]
			}
		}
	}
	w.Ground = max(sc.Ground-low, 0)
	w.strops = false
	w.hang()
	if w.number() != nil {
		return nil, 0
	}
	return w, -low
}

// cut is a line between two heights, counted from the lower one.
func (sc *Scene) cut(line int, high, low Cm, aligned bool, anchors map[string]string) Line {
	l := &sc.Lines[line]
	first, last := sc.within(line, high, low)
	sd := &sc.sides[line][first]
	out := Line{ID: windowID(l), Role: l.Role, Set: l.Set, Top: sd.top - low, X: sd.x, End: max(l.End-low, 0), Ropes: l.Ropes}
	anchor := func(id string) string {
		id = sc.anchorPoint(id).ID
		if anchors[id] == "" && id != "" {
			anchors[id] = fmt.Sprint("anchor ", len(anchors)+1)
		}
		return anchors[id]
	}
	if out.With = l.With; sc.Line(l.With) >= 0 {
		out.With = windowID(&sc.Lines[sc.Line(l.With)])
	}
	if m := l.section(first); m != nil {
		out.Anchors = []string{anchor(m.Anchor)}
	} else {
		for _, id := range l.Anchors {
			out.Anchors = append(out.Anchors, anchor(id))
		}
	}
	if aligned {
		out.Top = min(out.Top, high-low+2*beyondWindow)
	}
	for n := first - 1; n >= 0 && l.Marks[n].Kind != rig.RebelayMark; n-- {
		if m := l.Marks[n]; m.Open {
			m.At = high + beyondWindow
			m.UpTo, m.DownTo = m.At-KnotHalf, m.At+KnotHalf
			out.Marks = append(out.Marks, moved(m, low, anchor))
			break
		}
	}
	for _, m := range l.Marks[first:last] {
		out.Marks = append(out.Marks, moved(m, low, anchor))
	}
	return out
}

// windowID is what a line is called in a window, wherever that is.
func windowID(l *Line) string { return fmt.Sprint(l.Role, l.Set) }

func moved(m Mark, low Cm, anchor func(string) string) Mark {
	m.ID, m.Name = "", ""
	m.At, m.UpTo, m.DownTo = m.At-low, m.UpTo-low, m.DownTo-low
	m.Anchor = anchor(m.Anchor)
	return m
}

// within are the marks of a line between two heights.
func (sc *Scene) within(line int, high, low Cm) (first, last int) {
	marks := sc.Lines[line].Marks
	for first < len(marks) && marks[first].At > high {
		first++
	}
	for last = first; last < len(marks) && marks[last].At >= low; {
		last++
	}
	return first, last
}

// level reports whether the strands of each set have as many re-belays above a height.
func (sc *Scene) level(sets []int, at Cm) bool {
	above := map[int]int{}
	for i := range sc.Lines {
		l := &sc.Lines[i]
		if !slices.Contains(sets, l.Set) {
			continue
		}
		n := 0
		for _, m := range l.Marks {
			if m.Kind == rig.RebelayMark && m.At > at {
				n++
			}
		}
		if was, known := above[l.Set]; known && was != n {
			return false
		}
		above[l.Set] = n
	}
	return true
}

// apartIn reports whether between two heights a body of some sets hangs so near below an
// anchor that its strands do not draw it to their middle, be it a pair of bodies.
func (sc *Scene) apartIn(sets []int, high, low Cm) bool {
	for i := range sc.Lines {
		if !slices.Contains(sets, sc.Lines[i].Set) {
			continue
		}
		first, last := sc.within(i, high, low)
		for n := first; n <= last; n++ {
			sd := &sc.sides[i][n]
			if half := sd.x - sc.sideX[sd.id]; sc.swayOn(sd.top-high)/2 < 2*max(half, -half) {
				return true
			}
		}
	}
	return false
}

// aligned reports whether all strands of some sets hang at the same place sideways
// between two heights.
func (sc *Scene) aligned(sets []int, high, low Cm) bool {
	known, x, drawn := false, Cm(0), sc.own && !sc.apartIn(sets, high, low)
	for i := range sc.Lines {
		if !slices.Contains(sets, sc.Lines[i].Set) {
			continue
		}
		first, last := sc.within(i, high, low)
		for n := first; n <= last; n++ {
			at := sc.sides[i][n].x
			if drawn {
				at = sc.sideX[sc.sides[i][n].id]
			}
			if known && at != x {
				return false
			}
			known, x = true, at
		}
	}
	return true
}

// Kit names everything of a scene but its lines and the ground: the body, what it
// carries, the schools and times.
func (sc *Scene) Kit() digest.Sum {
	k := *sc
	k.Lines, k.Ground, k.derived = nil, 0, derived{}
	k.rig, k.person, k.quiet = nil, nil, false
	return digest.Of(k)
}

// Digest names a window by everything that is in it; kit is its scene's.
func (sc *Scene) Digest(kit digest.Sum) digest.Sum {
	return digest.Of(kit, sc.Lines, sc.Ground, sc.own)
}

// Empty tells where a window has no mark, top, end or ground in it. Windows of one scene
// that are empty and have the same text are the same.
func (sc *Scene) Empty(sets []int, at, up, down Cm) (text string, ok bool) {
	high, low := at+up, at-down
	if sc.Ground > low || !sc.aligned(sets, high, low) || !sc.level(sets, high) || !sc.level(sets, low) {
		return "", false
	}
	for i := range sc.Lines {
		l := &sc.Lines[i]
		if !slices.Contains(sets, l.Set) {
			continue
		}
		first, last := sc.within(i, high, low)
		if first != last || l.End > low || sc.sides[i][first].top < high+2*beyondWindow {
			return "", false
		}
		text += fmt.Sprintf("%d/%d ", i, first)
	}
	return text, true
}
