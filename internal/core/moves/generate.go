package moves

import (
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// generator lists what might be done next. It proposes; package stance judges.
type generator struct {
	sc *stance.Scene
	// stations are heights of the body that a climb or descent may end at.
	stations []stance.Cm
	set      int
	goal     goal
	list     []stance.Action
}

func (g *generator) add(a stance.Action) { g.list = append(g.list, a) }

// actions gives everything worth trying from a stance, in a fixed order.
func (g *generator) actions(s *stance.Stance) []stance.Action {
	g.list = g.list[:0]
	for t := range g.sc.Tools {
		tool, h := &g.sc.Tools[t], &s.Holds[t]
		switch {
		case !h.There && tool.Class == gear.Lanyard:
			g.clips(s, t)
		case !h.There:
			g.putOns(s, t)
		default:
			g.withHold(s, t)
		}
	}
	if !s.Grounded && !s.Standing && s.Bears >= 0 && g.sc.Tools[s.Bears].Class == gear.Lanyard {
		g.add(stance.Action{Do: stance.Stand})
	}
	g.ways(s)
	g.loops(s)
	g.deviations(s)
	if !s.Grounded && s.At <= g.sc.Ground+stance.Apart {
		g.add(stance.Action{Do: stance.Land})
	}
	return g.list
}

func (g *generator) withHold(s *stance.Stance, t int) {
	tool, h := &g.sc.Tools[t], &s.Holds[t]
	item := tool.Item
	bears := int(s.Bears) == t
	if h.Clip != stance.NoClip {
		if !bears {
			g.add(stance.Action{Do: stance.Unclip, Item: item})
		}
	} else if !bears {
		g.add(stance.Action{Do: stance.TakeOff, Item: item})
	}
	if tool.Stands && !s.Standing && !s.Grounded {
		g.add(stance.Action{Do: stance.Stand, Item: item})
		g.add(stance.Action{Do: stance.Stand, Item: item, AtM: (s.At + stance.SmallLift).M()})
	}
	if !bears && tool.Class != gear.HandAscender && tool.Class != gear.BackupDevice {
		do := stance.LowerOnto
		if s.Standing || s.Grounded {
			do = stance.Sit
		}
		g.add(stance.Action{Do: do, Item: item})
	}
	switch tool.Class {
	case gear.Descender:
		if h.Parked {
			if bears {
				g.add(stance.Action{Do: stance.Unpark, Item: item})
			}
		} else {
			g.add(stance.Action{Do: stance.Park, Item: item})
		}
	case gear.BackupDevice:
		if h.Parked {
			g.add(stance.Action{Do: stance.Unpark, Item: item})
			return
		}
		low, high := g.span(int(h.Line), int(h.Span))
		if s.Standing || s.Grounded {
			return
		}
		best := g.sc.High(t)
		for _, above := range []stance.Cm{best, best / 2, stance.SmallLift} {
			if to := min(high, max(low, s.At+stance.Sternal+above)); to != h.At {
				g.add(stance.Action{Do: stance.Move, Item: item, AtM: to.M()})
			}
		}
	}
}

// span is where a device on a span may be.
func (g *generator) span(line, n int) (low, high stance.Cm) {
	return g.sc.Span(line, n)
}

func (g *generator) putOns(s *stance.Stance, t int) {
	tool := &g.sc.Tools[t]
	role := rig.Main
	if tool.Class == gear.BackupDevice {
		role = rig.Backup
		if g.sc.Schools.KnotCover == stance.TempLoop || g.sc.Schools.KnotCover == stance.ClipInEye {
			if g.another(s, t) {
				return
			}
		}
	}
	for line := range g.sc.Lines {
		if l := &g.sc.Lines[line]; l.Role != role || l.Set != g.set {
			continue
		}
		for span := range len(g.sc.Lines[line].Marks) + 1 {
			for _, at := range g.heights(s, t, line, span) {
				g.add(stance.Action{Do: stance.PutOn, Item: tool.Item, Line: g.sc.Lines[line].ID, Span: span, AtM: at.M()})
			}
		}
	}
}

// another reports whether a backup device is on already.
func (g *generator) another(s *stance.Stance, t int) bool {
	for i := range g.sc.Tools {
		if i != t && s.Holds[i].There && g.sc.Tools[i].Class == gear.BackupDevice {
			return true
		}
	}
	return false
}

// heights are where a device is put on a span: where it is usual, and close to the
// marks and devices that are in reach.
func (g *generator) heights(s *stance.Stance, t, line, span int) []stance.Cm {
	low, high := g.span(line, span)
	at := s.At
	var want []stance.Cm
	switch g.sc.Tools[t].Class {
	case gear.Descender:
		want = []stance.Cm{at + stance.DeviceLen, high, low}
		for i := range g.sc.Tools {
			if h := &s.Holds[i]; h.There && g.sc.Tools[i].Class == gear.ChestAscender && int(h.Line) == line {
				want = append(want, h.At-stance.Apart)
			}
		}
	case gear.ChestAscender:
		want = []stance.Cm{at + stance.DeviceLen, low}
		for i := range g.sc.Tools {
			if h := &s.Holds[i]; h.There && g.sc.Tools[i].Class == gear.Descender && int(h.Line) == line {
				want = append(want, h.At+stance.DeviceLen)
			}
		}
	case gear.HandAscender:
		want = []stance.Cm{at + stance.ReachUp - stance.Snug, at + 45}
	case gear.BackupDevice:
		want = []stance.Cm{at + stance.Sternal + g.sc.High(t), high, low}
		if l := s.Loop; l.There && int(l.Line) == line && int(l.Span) == span {
			want = append(want, l.At+stance.KnotHalf, l.At-stance.KnotHalf)
		}
	}
	var list []stance.Cm
	for _, w := range want {
		if w >= low && w <= high && w <= at+stance.ReachUp && w >= at-stance.ReachDown && !slices.Contains(list, w) {
			list = append(list, w)
		}
	}
	return list
}

func (g *generator) clips(s *stance.Stance, t int) {
	item := g.sc.Tools[t].Item
	for line := range g.sc.Lines {
		l := &g.sc.Lines[line]
		for i, m := range l.Marks {
			if !m.Clip || m.At > s.At+stance.ReachUp || m.At < s.At-stance.ReachDown {
				continue
			}
			if m.Kind != rig.RebelayMark && m.Kind != rig.DeviationMark && l.Role == rig.Backup && g.sc.Schools.KnotCover != stance.AnyCover && g.sc.Schools.KnotCover != stance.ClipInEye {
				continue
			}
			g.add(stance.Action{Do: stance.Clip, Item: item, Line: l.ID, Span: i + 1, Into: "mark"})
		}
	}
	if s.Loop.There {
		g.add(stance.Action{Do: stance.Clip, Item: item, Line: g.sc.Lines[s.Loop.Line].ID, Into: "loop"})
	}
}

// deviations puts the connector of one that is in reach beyond the body.
func (g *generator) deviations(s *stance.Stance) {
	if s.Grounded || s.Standing {
		return
	}
	for line := range g.sc.Lines {
		l := &g.sc.Lines[line]
		for i, m := range l.Marks {
			if l.Set == g.set && m.Kind == rig.DeviationMark && m.At <= s.At+stance.ReachUp && m.At >= s.At-stance.ReachDown {
				g.add(stance.Action{Do: stance.Pass, Line: l.ID, Span: i + 1})
			}
		}
	}
}

// loops ties a loop beside a knot of the backup, with room for a device between.
func (g *generator) loops(s *stance.Stance) {
	if s.Loop.There {
		g.add(stance.Action{Do: stance.Untie})
		return
	}
	if k := g.sc.Schools.KnotCover; s.Grounded || s.Standing || k != stance.AnyCover && k != stance.TempLoop {
		return
	}
	for line := range g.sc.Lines {
		l := &g.sc.Lines[line]
		if l.Role != rig.Backup || l.Set != g.set {
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
			for _, at := range want {
				if at > low && at < high && at <= s.At+stance.ReachUp && at >= s.At-stance.ReachDown {
					g.add(stance.Action{Do: stance.Tie, Line: l.ID, Span: span, AtM: at.M()})
				}
			}
		}
	}
}

// ways are climbs and descents to where something is in the way, and to stations.
func (g *generator) ways(s *stance.Stance) {
	b := s.Bears
	if s.Standing || b < 0 || s.Holds[b].Clip != stance.NoClip {
		return
	}
	d := g.sc.Tools[b].Class == gear.Descender
	h := &s.Holds[b]
	low, high := g.span(int(h.Line), int(h.Span))
	ups := []stance.Cm{high - stance.DeviceLen, high - stance.DeviceLen - stance.Apart}
	downs := []stance.Cm{max(low-stance.DeviceLen, g.sc.Ground)}
	for i := range g.sc.Tools {
		o := &s.Holds[i]
		if !o.There || g.sc.Tools[i].Class != gear.BackupDevice || o.Clip != stance.NoClip {
			continue
		}
		lowest, highest := g.span(int(o.Line), int(o.Span))
		ups = append(ups, highest-stance.Sternal)
		downs = append(downs, lowest-stance.Sternal, lowest-stance.Sternal-g.sc.Tools[i].Length+stance.Snug)
	}
	for _, to := range append(ups, g.stations...) {
		if to > s.At {
			g.way(stance.Climb, to.M())
		}
	}
	if to := low - stance.DeviceLen; !d && to < s.At {
		// Small steps down, to close above a mark.
		g.way(stance.Climb, to.M())
	}
	if d {
		for _, to := range append(downs, g.stations...) {
			if to < s.At && to >= g.sc.Ground {
				g.way(stance.Descend, to.M())
			}
		}
	}
}

func (g *generator) way(do stance.Do, to quantity.Metres) {
	a := stance.Action{Do: do, AtM: to}
	if !slices.Contains(g.list, a) {
		g.add(a)
	}
}
