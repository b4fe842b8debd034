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
	// sets are those that are worked on.
	sets []int
	// either is a set on which either strand may bear: the other is hurt, or two, who do not
	// stand up, pass a knot; 0: none.
	either int
	goal   goal
	// from is where the search begins, grid how far apart heights are.
	from, grid stance.Cm
	// relaxed: heights, reach and settle are left out.
	relaxed bool
	// longest is the longest tool's length.
	longest stance.Cm
	list    []stance.Action
}

// on reports whether a line is of the sets that are worked on.
func (g *generator) on(l *stance.Line) bool { return slices.Contains(g.sets, l.Set) }

func (g *generator) add(a stance.Action) { g.list = append(g.list, a) }

// actions gives everything worth trying from a stance, in a fixed order.
func (g *generator) actions(s *stance.Stance) []stance.Action {
	g.list = g.list[:0]
	if !g.relaxed && g.onTheWay(s) {
		return g.list
	}
	for t := range g.sc.Tools {
		tool, h := &g.sc.Tools[t], &s.Holds[t]
		switch {
		case !h.There && g.alike(s, t):
			// One of those that are alike is enough.
		case !h.There && s.Standing && !g.goal.slings && tool.Class != gear.Descender && tool.Class != gear.ChestAscender:
			// Done before, sitting: it costs less effort.
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
	if !g.relaxed {
		g.ways(s)
	}
	g.loops(s)
	g.marks(s)
	if g.goal.worked && !s.Worked {
		g.add(stance.Action{Do: stance.Work})
	}
	if g.goal.rest == onGround && !s.Grounded && (g.relaxed || s.At <= g.sc.Ground+stance.Apart) {
		g.add(stance.Action{Do: stance.Land})
	}
	return g.list
}

// back is how far it goes back from where it begins.
const back stance.Cm = 200

// alone is how far from every mark nothing is to be done but to go on.
const alone stance.Cm = 250

// onTheWay proposes no more than going on where no mark is near and going on can be
// done: whatever else is to be done is done as well at the mark.
func (g *generator) onTheWay(s *stance.Stance) bool {
	if g.goal.way == 0 || s.Grounded || s.Standing || s.Bears < 0 || g.goal.worked {
		return false
	}
	for i := range g.sc.Lines {
		for _, m := range g.sc.Lines[i].Marks {
			if d := m.At - s.At; g.on(&g.sc.Lines[i]) && d < alone && d > -alone {
				return false
			}
		}
	}
	if d := g.goal.to - s.At; d < alone && d > -alone {
		return false
	}
	g.ways(s)
	ahead := g.list[:0]
	for _, a := range g.list {
		if to := stance.ToCm(a.AtM); (to > s.At) != (g.goal.way > 0) {
			continue
		}
		if _, broken, err := g.sc.Apply(*s, a); err == nil && !stance.Stops(broken) {
			ahead = append(ahead, a)
		}
	}
	g.list = ahead
	return len(ahead) > 0
}

// alike reports whether a tool that is off is like an earlier one that is off too: with
// either a plan goes on in the same way.
func (g *generator) alike(s *stance.Stance, t int) bool {
	for u := range t {
		if !s.Holds[u].There && g.sc.Alike(u, t) {
			return true
		}
	}
	return false
}

func (g *generator) withHold(s *stance.Stance, t int) {
	tool, h := &g.sc.Tools[t], &s.Holds[t]
	item := tool.Item
	bears := int(s.Bears) == t
	if !h.Locked {
		g.add(stance.Action{Do: stance.Lock, Item: item})
	} else if !h.Proved {
		g.add(stance.Action{Do: stance.Prove, Item: item})
	}
	if h.Clip != stance.NoClip {
		if !bears {
			g.add(stance.Action{Do: stance.Unclip, Item: item})
		}
	} else if !bears {
		g.add(stance.Action{Do: stance.TakeOff, Item: item})
	}
	if tool.Stands && !s.Standing && !s.Grounded && (tool.Class == gear.HandAscender || g.sc.Lines[h.Line].Role == stance.Structure) {
		g.add(stance.Action{Do: stance.Stand, Item: item})
		if !g.relaxed {
			g.add(stance.Action{Do: stance.Stand, Item: item, AtM: (s.At + stance.SmallLift).M()})
		}
	}
	if !bears && tool.Class != gear.HandAscender && tool.Class != gear.BackupDevice {
		do := stance.LowerOnto
		if s.Standing || s.Grounded {
			do = stance.Sit
		}
		g.add(stance.Action{Do: do, Item: item})
	}
	if g.relaxed {
		return
	}
	switch {
	case tool.Class == gear.BackupDevice:
		g.withBackup(s, t)
	case tool.Class != gear.Descender:
	case !h.Parked:
		g.add(stance.Action{Do: stance.Park, Item: item})
	case bears:
		if !h.Tied {
			g.add(stance.Action{Do: stance.Unpark, Item: item})
		}
		if g.goal.worked {
			do := stance.TieOff
			if h.Tied {
				do = stance.UntieOff
			}
			g.add(stance.Action{Do: do, Item: item})
		}
	}
}

// withBackup is what is done with a backup device that is on.
func (g *generator) withBackup(s *stance.Stance, t int) {
	h, item := &s.Holds[t], g.sc.Tools[t].Item
	if h.Parked {
		g.add(stance.Action{Do: stance.Unpark, Item: item})
		return
	}
	low, high := g.span(int(h.Line), int(h.Span))
	if s.Standing || s.Grounded {
		return
	}
	if marks := g.sc.Lines[h.Line].Marks; int(h.Span) < len(marks) && marks[h.Span].Kind == rig.DeviationMark && g.near(s, &marks[h.Span]) {
		// As high as it may be when the deviation is passed.
		if to := marks[h.Span].UpTo - stance.Snug; to >= low && to < h.At {
			g.add(stance.Action{Do: stance.Move, Item: item, AtM: to.M()})
		}
	}
	for _, above := range []stance.Cm{g.sc.High(t), stance.SmallLift} {
		if to := min(high, max(low, g.sc.Along(s, int(h.Line), int(h.Span), s.At+stance.Sternal+above))); to != h.At {
			g.add(stance.Action{Do: stance.Move, Item: item, AtM: to.M()})
		}
	}
}

// span is where a device on a span may be.
func (g *generator) span(line, n int) (low, high stance.Cm) {
	return g.sc.Span(line, n)
}

func (g *generator) putOns(s *stance.Stance, t int) {
	tool := &g.sc.Tools[t]
	role := roleOf(tool)
	for line := range g.sc.Lines {
		l := &g.sc.Lines[line]
		if l.Role == stance.Structure || l.Role != role && l.Set != g.either || !g.on(l) {
			continue
		}
		if role == rig.Backup && !g.mayBackUp(s, t, l) {
			continue
		}
		for span := range len(g.sc.Lines[line].Marks) + 1 {
			if g.goal.way != 0 && !g.sc.Ordered(s, t, line, span, g.goal.way < 0) {
				continue
			}
			for _, at := range g.heights(s, t, line, span) {
				g.add(stance.Action{Do: stance.PutOn, Item: tool.Item, Line: g.sc.Lines[line].ID, Span: span, AtM: at.M()})
			}
		}
	}
}

// mayBackUp reports whether the schools let a backup device go onto a line.
func (g *generator) mayBackUp(s *stance.Stance, t int, l *stance.Line) bool {
	if g.changing(s, l) {
		return g.sc.Schools.TransferCover == "device"
	}
	if g.another(s, t) == 0 {
		return true
	}
	k := g.sc.Schools.KnotCover
	return (k == "any" || k == "second-device") && !s.Loop.There && !g.clipped(s, l)
}

// clipped reports whether a lanyard is in a loop or a knot of a strand: what covers a
// backup one way needs no other.
func (g *generator) clipped(s *stance.Stance, l *stance.Line) bool {
	for i := range g.sc.Tools {
		if h := &s.Holds[i]; h.There && h.Clip != stance.NoClip && &g.sc.Lines[h.Line] == l && !g.sc.Fixed(h) {
			return true
		}
	}
	return false
}

// changing reports whether a line is of another set than what bears is on.
func (g *generator) changing(s *stance.Stance, l *stance.Line) bool {
	return s.Bears >= 0 && g.sc.Lines[s.Holds[s.Bears].Line].Set != l.Set
}

// another counts the backup devices that are on, but for one.
func (g *generator) another(s *stance.Stance, but int) int {
	n := 0
	for i := range g.sc.Tools {
		if i != but && s.Holds[i].There && g.sc.Tools[i].Class == gear.BackupDevice {
			n++
		}
	}
	return n
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
	ups, downs := g.places(s, h, low, high)
	if d && g.sc.Schools.Ascent != "descender" {
		// By school one climbs on the ascenders.
		ups = nil
	}
	for _, to := range ups {
		if to > s.At && (g.goal.way >= 0 || to <= g.from+back) {
			g.way(stance.Climb, to.M())
		}
	}
	if to := low - stance.DeviceLen; !d && to < s.At {
		// Small steps down, to close above a mark.
		g.way(stance.Climb, to.M())
	}
	if d {
		for _, to := range downs {
			if to < s.At && to >= g.sc.Ground && (g.goal.way <= 0 || to >= g.from-back) {
				g.way(stance.Descend, to.M())
			}
		}
	}
}

// places are where a body that hangs in a hold could go: as far as its span and those of the
// backups let it, and to where what is in the way is dealt with.
func (g *generator) places(s *stance.Stance, h *stance.Hold, low, high stance.Cm) (ups, downs []stance.Cm) {
	ups = []stance.Cm{high - stance.DeviceLen, high - stance.DeviceLen - stance.Apart}
	downs = []stance.Cm{max(low-stance.DeviceLen, g.sc.Ground)}
	for i := range g.sc.Tools {
		o := &s.Holds[i]
		if !o.There || g.sc.Tools[i].Class != gear.BackupDevice || o.Clip != stance.NoClip {
			continue
		}
		lowest, _ := g.span(int(o.Line), int(o.Span))
		ups = append(ups, g.sc.Highest(s, int(o.Line), int(o.Span))-stance.Sternal)
		downs = append(downs, lowest-stance.Sternal, lowest-stance.Sternal-g.sc.Tools[i].Length+stance.Snug)
	}
	if n := int(h.Span); n < len(g.sc.Lines[h.Line].Marks) && g.sc.X(int(h.Line), n) != g.sc.X(int(h.Line), n+1) {
		// Above a wide re-belay: where the strands beyond are in reach.
		downs = append(downs, g.sc.Lines[h.Line].Marks[n].At-g.sc.Up)
	}
	if n := int(h.Span); g.sc.Heavy() && n < len(g.sc.Lines[h.Line].Marks) && g.sc.Lines[h.Line].Marks[n].Kind == rig.RebelayMark {
		// Two are lowered from one descender onto another, which is put on from level with
		// the anchor.
		downs = append(downs, g.sc.Lines[h.Line].Marks[n].At)
	}
	if line := g.sc.Line(stance.Structure); g.goal.slings && line >= 0 {
		for i := range g.sc.Lines[line].Marks {
			for t := range g.sc.Tools {
				if g.sc.Tools[t].Class == gear.Lanyard {
					ups = append(ups, g.sc.Under(s, line, i, g.sc.Tools[t].Length)+stance.Snug)
				}
			}
		}
	}
	return append(ups, g.stations...), append(downs, g.stations...)
}

func (g *generator) way(do stance.Do, to quantity.Metres) {
	a := stance.Action{Do: do, AtM: to}
	if !slices.Contains(g.list, a) {
		g.add(a)
	}
}
