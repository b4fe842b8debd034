package stance

import (
	"zealousknot/internal/core/gear"
)

// onLine finds the line and checks that a height is on the span.
func (sc *Scene) onLine(a Action) (line int, at Cm, err error) {
	line, at = sc.Line(a.Line), ToCm(a.AtM)
	if line < 0 {
		return 0, 0, sc.impossible("there is no strand %q", a.Line)
	}
	l := &sc.Lines[line]
	if a.Span < 0 || a.Span > len(l.Marks) {
		return 0, 0, sc.impossible("%s has no span %d", l.Name, a.Span)
	}
	if low, high := l.span(a.Span); !sc.relaxed && (at < low || at > high) {
		return 0, 0, sc.impossible("%v is not on span %d of %s, which is from %v to %v", at.M(), a.Span, l.Name, low.M(), high.M())
	}
	return line, at, nil
}

// free wants room for a device at a height of a span.
func (sc *Scene) free(s *Stance, line, span int, at Cm, but int) error {
	if sc.relaxed {
		return nil
	}
	for i := range sc.Tools {
		h := &s.Holds[i]
		if i != but && h.There && h.Clip == NoClip && int(h.Line) == line && int(h.Span) == span && h.At-at < Apart && at-h.At < Apart {
			return sc.impossible("%s is there already", sc.Tools[i].Label)
		}
	}
	if l := s.Loop; l.There && int(l.Line) == line && int(l.Span) == span && l.At-at < KnotHalf && at-l.At < KnotHalf {
		return sc.impossible("the loop is there")
	}
	return nil
}

func (sc *Scene) spare(s *Stance, t int) error {
	n := sc.Connectors
	for i := range sc.Tools {
		if s.Holds[i].There {
			n -= sc.Tools[i].Connectors
		}
	}
	if n < sc.Tools[t].Connectors {
		return sc.impossible("no connector is left for %s", sc.Tools[t].Label)
	}
	return nil
}

func (sc *Scene) putOn(s Stance, a Action, t int) (Stance, []Violation, error) {
	switch {
	case t < 0:
		return s, nil, sc.impossible("put on what")
	case s.Holds[t].There:
		return s, nil, sc.impossible("%s is on already", sc.Tools[t].Label)
	case sc.Tools[t].Class == gear.Lanyard:
		return s, nil, sc.impossible("a lanyard is clipped, not put on a rope")
	}
	line, at, err := sc.onLine(a)
	if err != nil {
		return s, nil, err
	}
	if sc.takes[line]&(1<<t) == 0 {
		return s, nil, sc.impossible("%s does not take the rope of the %s", sc.Tools[t].Label, sc.Lines[line].Name)
	}
	for _, check := range []error{sc.reaches(&s, line, a.Span, at, false), sc.free(&s, line, a.Span, at, t), sc.spare(&s, t), sc.lanyardFree(&s, t)} {
		if check != nil {
			return s, nil, check
		}
	}
	broken := append(sc.handsFree(&s), sc.kind(t)...)
	if d := sc.Tools[t].Model.Device; d != nil && !d.OpensOnConnector && !s.Grounded && sc.Tools[t].Class != gear.HandAscender {
		broken = append(broken, sc.look("device.drop", "%s leaves its connector to be loaded and can be dropped: on its tether", sc.Tools[t].Label)...)
	}
	broken = append(append(broken, sc.knotOrder(&s, t, line, a.Span)...), sc.atEdge(&s, t)...)
	if !sc.sound(&s, line, a.Span) {
		broken = append(broken, sc.broken("rope.damage", "%s is put on below damage that no knot covers", sc.Tools[t].Label)...)
	}
	s.Holds[t] = Hold{There: true, Line: int8(line), Span: int8(a.Span), At: at, Locked: !a.Unlocked, Proved: !a.Unproved}
	return s, broken, nil
}

func (sc *Scene) takeOff(s Stance, a Action, t int) (Stance, []Violation, error) {
	switch {
	case t < 0 || !s.Holds[t].There:
		return s, nil, sc.impossible("%s is not on", a.Item)
	case (s.Holds[t].Clip != NoClip) != (a.Do == Unclip):
		return s, nil, sc.impossible("%s: a lanyard is unclipped, a device taken off", a.Item)
	}
	if err := sc.getsAt(&s, t); err != nil {
		return s, nil, err
	}
	broken := sc.handsFree(&s)
	if int(s.Bears) == t {
		broken = append(broken, sc.broken("moves.bearing", "%s bears the weight and is taken off", sc.Tools[t].Label)...)
	}
	broken = append(broken, sc.knotUp(&s, t)...)
	s.Holds[t] = Hold{}
	s.Found &^= 1 << t
	return s, broken, nil
}

func (sc *Scene) clip(s Stance, a Action, t int) (Stance, []Violation, error) {
	switch {
	case t < 0 || sc.Tools[t].Class != gear.Lanyard:
		return s, nil, sc.impossible("only a lanyard is clipped")
	case s.Holds[t].There:
		return s, nil, sc.impossible("%s is clipped already", sc.Tools[t].Label)
	}
	h, err := sc.clipPoint(&s, a)
	if err != nil {
		return s, nil, err
	}
	fixed := sc.Lines[h.Line].fixed(&h)
	span := int(h.Span)
	if h.Clip == IntoMark && !fixed {
		span--
	}
	for _, check := range []error{sc.reaches(&s, int(h.Line), span, h.At, fixed), sc.spare(&s, t), sc.lanyardFree(&s, t)} {
		if check != nil {
			return s, nil, check
		}
	}
	h.Locked, h.Proved = !a.Unlocked, true
	broken := sc.handsFree(&s)
	s.Holds[t] = h
	if !sc.relaxed && sc.tightAt(&s, t) > s.At && !s.Grounded {
		return s, nil, sc.impossible("%s is too short for it", sc.Tools[t].Label)
	}
	return s, broken, nil
}

func (sc *Scene) clipPoint(s *Stance, a Action) (Hold, error) {
	line := sc.Line(a.Line)
	if line < 0 {
		return Hold{}, sc.impossible("there is no strand %q", a.Line)
	}
	if a.Into == "loop" {
		if !s.Loop.There || int(s.Loop.Line) != line {
			return Hold{}, sc.impossible("no loop is tied there")
		}
		return Hold{There: true, Line: int8(line), Span: s.Loop.Span, Clip: IntoLoop, At: s.Loop.At}, nil
	}
	marks := sc.Lines[line].Marks
	if a.Span < 1 || a.Span > len(marks) || !marks[a.Span-1].clips(s) {
		return Hold{}, sc.impossible("nothing to clip into above span %d of %s", a.Span, a.Line)
	}
	return Hold{There: true, Line: int8(line), Span: int8(a.Span), Clip: IntoMark, At: marks[a.Span-1].At}, nil
}

func (sc *Scene) set(s Stance, a Action, t int) (Stance, []Violation, error) {
	if t < 0 || !s.Holds[t].There {
		return s, nil, sc.impossible("%s is not on", a.Item)
	}
	h, tool := &s.Holds[t], &sc.Tools[t]
	switch a.Do {
	case Lock:
		h.Locked = true
	case Prove:
		h.Proved = true
	case Park, Unpark:
		if tool.Class != gear.Descender && (tool.Model.Backup == nil || !tool.Model.Backup.Parks) {
			return s, nil, sc.impossible("%s cannot be parked", tool.Label)
		}
		if h.Tied {
			return s, nil, sc.impossible("%s is tied off", tool.Label)
		}
		h.Parked = a.Do == Park
	}
	return s, nil, nil
}

// move moves a hand ascender or a backup device along its span; a backup by its
// connector upwards, by its cord or rolling downwards.
func (sc *Scene) move(s Stance, a Action, t int) (Stance, []Violation, error) {
	if t < 0 || !s.Holds[t].There || s.Holds[t].Clip != NoClip || sc.Tools[t].Class != gear.HandAscender && sc.Tools[t].Class != gear.BackupDevice {
		return s, nil, sc.impossible("%s is not to be moved along a rope", a.Item)
	}
	h := &s.Holds[t]
	a.Line, a.Span = sc.Lines[h.Line].ID, int(h.Span)
	line, at, err := sc.onLine(a)
	if err != nil {
		return s, nil, err
	}
	if err := sc.reaches(&s, line, a.Span, at, false); err != nil {
		return s, nil, err
	}
	if err := sc.getsAt(&s, t); err != nil {
		return s, nil, err
	}
	if err := sc.free(&s, line, a.Span, at, t); err != nil {
		return s, nil, err
	}
	if l := s.Loop; l.There && l.Line == h.Line && l.Span == h.Span && (l.At > h.At) != (l.At > at) {
		return s, nil, sc.impossible("the loop is in the way of %s", sc.Tools[t].Label)
	}
	broken := sc.handsFree(&s)
	switch {
	case int(s.Bears) == t:
		broken = append(broken, sc.broken("moves.bearing", "%s bears the weight and is moved", sc.Tools[t].Label)...)
	case h.Parked:
		broken = append(broken, sc.broken("device.mode", "%s is parked and is moved", sc.Tools[t].Label)...)
	}
	h.At = at
	return s, broken, nil
}

// getsAt refuses what the hands do not get at: a hold where it is now. A strand that the
// body is on by a device is drawn to the body by it; only a fixed point stays aside.
func (sc *Scene) getsAt(s *Stance, t int) error {
	h := &s.Holds[t]
	switch {
	case s.Grounded || sc.relaxed:
		return nil
	case sc.Lines[h.Line].fixed(h):
		return sc.reaches(s, int(h.Line), int(h.Span), h.At, true)
	}
	height := sc.drawn(s, sc.sideOf(h), h.At)
	if height >= far {
		return sc.impossible("%s does not come across so far", sc.Tools[t].Label)
	}
	return sc.inReach(s, height)
}

// tieOff ties a parked descender off, or takes that out again.
func (sc *Scene) tieOff(s Stance, a Action, t int) (Stance, []Violation, error) {
	if t < 0 || !s.Holds[t].There || sc.Tools[t].Class != gear.Descender {
		return s, nil, sc.impossible("%s is not a descender that is on", a.Item)
	}
	h := &s.Holds[t]
	switch {
	case !h.Parked:
		return s, nil, sc.impossible("%s is parked before it is tied off", sc.Tools[t].Label)
	case h.Tied == (a.Do == TieOff):
		return s, nil, sc.impossible("that is done already")
	}
	h.Tied = a.Do == TieOff
	return s, nil, nil
}
