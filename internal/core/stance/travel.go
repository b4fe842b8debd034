package stance

import (
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

// climb goes up, or a little way down, on the chest ascender; the hand ascender
// goes before it and the backup follows one for one.
func (sc *Scene) climb(s Stance, a Action) (Stance, []Violation, error) {
	b := s.Bears
	if b < 0 || s.Standing || sc.Tools[b].Class != gear.ChestAscender && sc.Tools[b].Class != gear.Descender {
		return s, nil, sc.impossible("climbing is on a chest ascender, or a short way on a descender")
	}
	hand := sc.stands(&s, int(s.Holds[b].Line))
	if hand < 0 {
		return s, nil, sc.impossible("climbing needs a hand ascender with a foot loop on the same strand")
	}
	c, h := &s.Holds[b], &s.Holds[hand]
	switch {
	case h.Span > c.Span:
		return s, nil, sc.impossible("%s is below a mark, under %s", sc.Tools[hand].Label, sc.Tools[b].Label)
	case c.Tied:
		return s, nil, sc.impossible("%s is tied off", sc.Tools[b].Label)
	}
	to := ToCm(a.AtM)
	at := to + DeviceLen
	span, high := sc.runs(&s, c, at)
	low, _ := sc.Lines[c.Line].span(int(c.Span))
	if h.Span == int8(span) {
		// The hand ascender is between it and the mark.
		high -= Apart
	}
	if at < low || at > high {
		return s, nil, sc.impossible("a mark is in the way of %s", sc.Tools[b].Label)
	}
	if to < s.At-KnotLen-ReachDown {
		return s, nil, sc.impossible("down is by a descender, but for small steps")
	}
	if err := sc.clearFor(&s, to, int(b), hand); err != nil {
		return s, nil, err
	}
	broken := append(sc.parkedBackup(&s), sc.backupOn(&s)...)
	broken = append(append(broken, sc.loads(&s, int(b))...), sc.stays(&s)...)
	if sc.Tools[b].Class == gear.ChestAscender {
		broken = append(broken, sc.ready(&s, int(b))...)
	}
	c.At = at
	if h.Span >= int8(span) {
		_, top := sc.Lines[h.Line].span(span)
		h.Span, h.At = int8(span), min(at+3*Apart, top)
	}
	c.Span = int8(span)
	s.At, s.Sat = to, to
	sc.follow(&s)
	return s, broken, nil
}

// clearFor refuses a climb to a height that another hold keeps the body from.
func (sc *Scene) clearFor(s *Stance, to Cm, but, hand int) error {
	for i := range sc.Tools {
		o := &s.Holds[i]
		switch {
		case !o.There || i == but || i == hand || sc.Tools[i].Class == gear.BackupDevice:
		case o.Clip != NoClip && o.At-to > sc.Tools[i].Length:
			return sc.impossible("%s comes tight", sc.Tools[i].Label)
		case o.Clip == NoClip:
			return sc.impossible("%s is on the rope too", sc.Tools[i].Label)
		}
	}
	return nil
}

// runs gives the span that an ascender comes to when it runs up to a height, with the
// height at which the next mark stops it. By the school that goes past damage it runs
// over a sheath that is hurt, where the core is whole.
func (sc *Scene) runs(s *Stance, c *Hold, at Cm) (span int, high Cm) {
	l := &sc.Lines[c.Line]
	span = int(c.Span)
	_, high = l.span(span)
	for at > high && span > 0 && sc.mayPass(s, int(c.Line), span) {
		span--
		_, high = l.span(span)
	}
	return span, high
}

// mayPass reports whether the mark above a span is damage that may be gone past.
func (sc *Scene) mayPass(s *Stance, line, span int) bool {
	m := &sc.Lines[line].Marks[span-1]
	return m.open(s) && m.Sheath && sc.Schools.DamageAbove == "past" && sc.Schools.DamageReason != ""
}

// stands gives a hand ascender with a foot loop on a line, -1 for none.
func (sc *Scene) stands(s *Stance, line int) int {
	for i := range sc.Tools {
		if s.Holds[i].There && sc.Tools[i].Stands && int(s.Holds[i].Line) == line {
			return i
		}
	}
	return NoTool
}

// parkedBackup is device.mode for a wheel that is parked while the body moves.
func (sc *Scene) parkedBackup(s *Stance) []Violation {
	if sc.relaxed {
		return nil
	}
	for i := range sc.Tools {
		if h := &s.Holds[i]; h.There && h.Parked && sc.Tools[i].Class == gear.BackupDevice {
			return sc.broken("device.mode", "%s is parked while the body moves", sc.Tools[i].Label)
		}
	}
	return nil
}

// backupOn is moves.backup-off: nobody goes up or down without a backup device.
func (sc *Scene) backupOn(s *Stance) []Violation {
	for i := range sc.Tools {
		if s.Holds[i].There && sc.Tools[i].Class == gear.BackupDevice && sc.counts(s, i) {
			return nil
		}
	}
	return sc.broken("moves.backup-off", "no backup device is on while the body moves along the rope")
}

// High is how far above its attachment a backup device is kept on the way: as high
// as its links and the arm allow.
func (sc *Scene) High(t int) Cm { return min(sc.Tools[t].Length-Snug, sc.Up-Sternal-Snug) }

// follow brings every backup device along, as high as it goes, as far as its span
// lets it.
func (sc *Scene) follow(s *Stance) {
	for i := range sc.Tools {
		h := &s.Holds[i]
		if !h.There || sc.Tools[i].Class != gear.BackupDevice || h.Clip != NoClip {
			continue
		}
		_, high := sc.Lines[h.Line].span(int(h.Span))
		low := sc.lowest(s, int(h.Line), int(h.Span), s.At+Sternal)
		if l := s.Loop; l.There && l.Line == h.Line && l.Span == h.Span {
			if l.At > h.At {
				high = min(high, l.At-KnotHalf)
			} else {
				low = max(low, l.At+KnotHalf)
			}
		}
		h.At = min(high, max(low, sc.Along(s, int(h.Line), int(h.Span), s.At+Sternal+sc.High(i))))
	}
}

// descend goes down on the descender, with the hand on the control strand; the
// backup follows.
func (sc *Scene) descend(s Stance, a Action) (Stance, []Violation, error) {
	b := s.Bears
	if b < 0 || s.Standing || sc.Tools[b].Class != gear.Descender {
		return s, nil, sc.impossible("descending is on a descender that bears")
	}
	to := ToCm(a.AtM)
	d := &s.Holds[b]
	low, high := sc.Lines[d.Line].span(int(d.Span))
	at := to + DeviceLen
	if to >= s.At || at > high {
		return s, nil, sc.impossible("that is not down")
	}
	if at < low {
		return s, nil, sc.impossible("a mark is in the way of %s", sc.Tools[b].Label)
	}
	if to < sc.Ground {
		return s, nil, sc.impossible("that is below the landing")
	}
	if at < sc.Lines[d.Line].End {
		return s, nil, sc.impossible("the %s strand ends above that", sc.Lines[d.Line].Name)
	}
	if d.Tied {
		return s, nil, sc.impossible("%s is tied off", sc.Tools[b].Label)
	}
	for i := range sc.Tools {
		o := &s.Holds[i]
		switch {
		case !o.There || i == int(b) || sc.Tools[i].Class == gear.BackupDevice:
		case o.Clip != NoClip && o.At-to <= sc.Tools[i].Length:
		default:
			return s, nil, sc.impossible("%s would come tight", sc.Tools[i].Label)
		}
	}
	broken := append(sc.parkedBackup(&s), sc.backupOn(&s)...)
	broken = append(append(append(broken, sc.towed(&s)...), sc.loads(&s, int(b))...), sc.stays(&s)...)
	if d.Parked {
		broken = append(broken, sc.broken("device.mode", "%s is still parked", sc.Tools[b].Label)...)
	}
	broken = append(broken, sc.ready(&s, int(b))...)
	d.At, s.At, s.Sat = at, to, to
	sc.follow(&s)
	return s, broken, nil
}

// land stands on the ground, after parking.
func (sc *Scene) land(s Stance) (Stance, []Violation, error) {
	if s.Grounded || s.Standing || !sc.relaxed && s.At > sc.Ground+Apart {
		return s, nil, sc.impossible("not on the ground yet")
	}
	s.Grounded, s.Bears, s.At, s.Sat = true, NoTool, sc.Ground, sc.Ground
	return s, nil, nil
}

// pass is moves.deviation: the connector of a deviation is taken off a strand on the
// near side of the body and put on again beyond it, while a lanyard in its sling
// keeps the body from swinging.
func (sc *Scene) pass(s Stance, a Action) (Stance, []Violation, error) {
	line := sc.Line(a.Line)
	if line < 0 || a.Span < 1 || a.Span > len(sc.Lines[line].Marks) || sc.Lines[line].Marks[a.Span-1].Kind != rig.DeviationMark {
		return s, nil, sc.impossible("there is no deviation above span %d of %s", a.Span, a.Line)
	}
	m := &sc.Lines[line].Marks[a.Span-1]
	if err := sc.inReach(&s, m.At); err != nil {
		return s, nil, err
	}
	broken, restrained := sc.handsFree(&s), false
	to := -1
	for i := range sc.Tools {
		h := &s.Holds[i]
		switch {
		case !h.There:
		case h.Clip == IntoMark:
			o := &sc.Lines[h.Line].Marks[h.Span-1]
			restrained = restrained || o.Kind == rig.DeviationMark && o.Anchor == m.Anchor && h.Locked
		case h.Clip == NoClip && int(h.Line) == line:
			beyond := map[int]int{a.Span - 1: a.Span, a.Span: a.Span - 1}
			side, near := beyond[int(h.Span)]
			if !near || to >= 0 && side != to {
				return s, nil, sc.impossible("not everything on %s is on one side of the deviation", sc.Lines[line].Name)
			}
			to = side
			// What hangs beyond it is no further past it than its sling gives way.
			if below := side == a.Span; !sc.relaxed && (below && h.At > m.UpTo || !below && h.At < m.DownTo) {
				return s, nil, sc.impossible("%s is too far from the deviation", sc.Tools[i].Label)
			}
			h.Span = int8(side)
		}
	}
	if to < 0 {
		return s, nil, sc.impossible("nothing is on %s", sc.Lines[line].Name)
	}
	if !restrained {
		broken = append(broken, sc.broken("moves.deviation", "no lanyard is in the sling of %s: the body swings when its connector comes off", m.Name)...)
	}
	return s, broken, nil
}
