package moves

import (
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// begin is the stance that the move begins with.
func (m *Move) begin(sc *stance.Scene, from stance.Cm, ask *Ask) (stance.Stance, error) {
	if !ask.AsRigged {
		return startOf(sc, m, from, ask.Set)
	}
	s, err := sc.Rigged()
	if err != nil {
		return s, strict.Faultf("/as_rigged", "%v", err)
	}
	ask.Set = setOn(sc, &s)
	classes := m.start.classes()
	if s.Grounded != (m.start == onGround || m.start == onTop) || len(classes) > 0 && sc.Tools[s.Bears].Class != classes[0] {
		return s, strict.Faultf("/as_rigged", "%s begins %s, and %s does not hang so on the drop", m.Name, m.start, sc.Name)
	}
	return s, nil
}

// startOf is the stance of a body that rests at a height, with the first of the
// tools that rest needs.
func startOf(sc *stance.Scene, m *Move, at stance.Cm, set int) (s stance.Stance, err error) {
	r := m.start
	s.Bears = stance.NoTool
	s.At, s.Sat = at, at
	main, backup, lacks := sc.Strands(set)
	if lacks != "" {
		return s, strict.Faultf("/set", "%s", lacks)
	}
	under, _, _ := place(sc, main, at+stance.DeviceLen)
	s.On(sc, main, under)
	if r == onGround || r == onTop {
		s.Grounded = true
		return s, nil
	}
	bears := gear.Descender
	if r == onAscenders {
		bears = gear.ChestAscender
	}
	put := func(class gear.Class, line int, at stance.Cm) (int, error) {
		t := slices.IndexFunc(sc.Tools, func(t stance.Tool) bool { return t.Class == class && (class != gear.HandAscender || t.Stands) })
		if t < 0 {
			return t, strict.Faultf("/kit", "%s has no %s, which hanging %s needs", sc.Name, class.Words(), r)
		}
		if class == gear.BackupDevice {
			at = s.At + stance.Sternal + sc.High(t)
			span, _, _ := place(sc, line, at)
			at = sc.Along(&s, line, span, at)
		}
		want := at
		span, at, ok := place(sc, line, want)
		if class == gear.BackupDevice && at > want {
			// Above a mark its links would come tight: it goes below, where that is not below the
			// attachment.
			if low, high := sc.Span(line, span+1); low <= high && high >= s.At+stance.Sternal {
				span, at = span+1, high
			}
		}
		if !ok {
			return t, strict.Faultf("/from_m", "there is no room for %s at %v", sc.Tools[t].Label, at.M())
		}
		s.Holds[t] = stance.Hold{There: true, Line: int8(line), Span: int8(span), At: at, Locked: true, Proved: true, Parked: class == gear.Descender && m.Name != shortWork}
		return t, nil
	}
	t, err := put(bears, main, at+stance.DeviceLen)
	if err != nil {
		return s, err
	}
	s.Bears = int8(t)
	// A mark may have moved the device, and the body hangs from it.
	s.At = s.Holds[t].At - stance.DeviceLen
	s.Sat = s.At
	if r == onAscenders {
		if _, err := put(gear.HandAscender, main, s.Holds[t].At+3*stance.Apart); err != nil {
			return s, err
		}
	}
	_, err = put(gear.BackupDevice, backup, 0)
	return s, err
}

// place finds the span of a height, and the nearest height on it where a device may
// be.
func place(sc *stance.Scene, line int, at stance.Cm) (span int, placed stance.Cm, ok bool) {
	l := &sc.Lines[line]
	for span < len(l.Marks) && l.Marks[span].At > at {
		span++
	}
	low, high := sc.Span(line, span)
	return span, min(high, max(low, at)), low <= high
}
