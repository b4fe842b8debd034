package stance

import (
	"zealousknot/internal/core/gear"
)

// tie ties a loop knot into a slack strand, to clip into for a moment.
func (sc *Scene) tie(s Stance, a Action) (Stance, []Violation, error) {
	if s.Loop.There {
		return s, nil, sc.impossible("a loop is tied already")
	}
	line, at, err := sc.onLine(a)
	if err != nil {
		return s, nil, err
	}
	if err := sc.reaches(&s, line, a.Span, at, false); err != nil {
		return s, nil, err
	}
	for i := range sc.Tools {
		h := &s.Holds[i]
		if !h.There || int(h.Line) != line || h.Clip != NoClip {
			continue
		}
		if sc.Tools[i].Class != gear.BackupDevice || int(s.Bears) == i {
			return s, nil, sc.impossible("the strand bears %s: a loop is tied into slack rope", sc.Tools[i].Label)
		}
		if !sc.relaxed && int(h.Span) == a.Span && h.At-at < KnotLen && at-h.At < KnotLen {
			return s, nil, sc.impossible("%s is there already", sc.Tools[i].Label)
		}
	}
	broken := sc.handsFree(&s)
	s.Loop = Loop{There: true, Line: int8(line), Span: int8(a.Span), At: at}
	return s, broken, nil
}

func (sc *Scene) untie(s Stance) (Stance, []Violation, error) {
	if !s.Loop.There {
		return s, nil, sc.impossible("no loop is tied")
	}
	for i := range sc.Tools {
		if s.Holds[i].There && s.Holds[i].Clip == IntoLoop {
			return s, nil, sc.impossible("%s is in the loop", sc.Tools[i].Label)
		}
	}
	broken := sc.handsFree(&s)
	s.Loop = Loop{}
	return s, broken, nil
}

// isolate ties a loop knot with damage in its loop, on a strand that is slack there
// and on which nothing depends.
func (sc *Scene) isolate(s Stance, a Action) (Stance, []Violation, error) {
	line := sc.Line(a.Line)
	if line < 0 || a.Span < 1 || a.Span > len(sc.Lines[line].Marks) || !sc.Lines[line].Marks[a.Span-1].open(&s) {
		return s, nil, sc.impossible("there is no damage to tie out above span %d of %s", a.Span, a.Line)
	}
	m := &sc.Lines[line].Marks[a.Span-1]
	if err := sc.reaches(&s, line, a.Span, m.At, false); err != nil {
		return s, nil, err
	}
	for i := range sc.Tools {
		if h := &s.Holds[i]; h.There && int(h.Line) == line && int(h.Span) >= a.Span && *sc.sideOf(h) == sc.sides[line][a.Span] {
			return s, nil, sc.impossible("%s depends on it", sc.Tools[i].Label)
		}
	}
	broken := sc.handsFree(&s)
	s.Isolated |= 1 << m.Damage
	if a.Eye {
		s.Eyed |= 1 << m.Damage
	}
	return s, broken, nil
}
