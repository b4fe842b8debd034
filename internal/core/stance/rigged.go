package stance

import (
	"errors"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

// Rigged is the stance of the person as the drop has them: every hold where it is,
// with its gates and its position. The error says why it cannot be determined.
func (sc *Scene) Rigged() (Stance, error) {
	s := Stance{Bears: NoTool, At: ToCm(sc.person.AtM), Grounded: sc.person.Grounded}
	if len(sc.person.Holds) == 0 && !s.Grounded {
		return s, errors.New("nothing holds them on the drop")
	}
	for _, h := range sc.person.Holds {
		t, line := sc.Tool(h.Device.Item.ID), sc.Line(h.Strand.ID)
		s.Holds[t] = sc.riggedHold(&s, h, line)
		if !s.Grounded && bearsBefore(sc, &s, t) {
			s.Bears = int8(t)
		}
	}
	sc.Start(&s)
	if s.Grounded {
		return s, nil
	}
	if s.Bears < 0 {
		return s, errors.New("neither a descender nor a chest ascender holds them on the drop")
	}
	// The body hangs where what bears lets it.
	b := &s.Holds[s.Bears]
	b.At = s.At + DeviceLen
	s.Sat = s.At
	s.X, s.Side = sc.sideOf(b).x, sc.sideOf(b).id
	return s, nil
}

// bearsBefore reports whether a tool bears rather than the one that was found to: a
// descender before a chest ascender, the one on the main before another.
func bearsBefore(sc *Scene, s *Stance, t int) bool {
	rank := func(i int) int {
		switch sc.Tools[i].Class {
		case gear.Descender:
			return 2
		case gear.ChestAscender:
			return 1
		}
		return 0
	}
	return rank(t) > 0 && (s.Bears < 0 || rank(t) > rank(int(s.Bears)))
}

func (sc *Scene) riggedHold(s *Stance, h *rig.HoldView, line int) Hold {
	at := s.At + ToCm(h.AboveM)
	if h.Point == gear.Sternal || h.Point == gear.Dorsal {
		at += Sternal
	}
	out := Hold{There: true, Line: int8(line), At: at, Locked: true, Proved: !h.Open && h.Threaded == rig.ThreadedRight}
	for _, l := range h.Links {
		if g := l.Link.Gate; g != "" && g != rig.GateLocked {
			out.Locked = false
		}
	}
	out.Parked = h.Position != nil && h.Position.Parked
	for n, m := range sc.Lines[line].Marks {
		if m.At > at {
			out.Span = int8(n + 1)
		}
	}
	return out
}
