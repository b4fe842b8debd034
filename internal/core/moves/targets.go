package moves

import (
	"slices"

	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// underAnchor is how far below its anchor a body comes with its backup above its
// attachment.
const underAnchor = stance.Sternal + stance.DeviceLen + 2*stance.Snug

// targets are the heights that the move ends at or beyond, one after the other:
// marks that leave no room to rest between them are passed together.
func (m *Move) targets(sc *stance.Scene, s *stance.Stance, ask Ask) ([]stance.Cm, error) {
	last, err := m.target(sc, s, ask)
	if err != nil || !m.past {
		return []stance.Cm{last}, err
	}
	return append(between(marksAhead(sc, s.At, m.way, ask.Set), last, m.way), last), nil
}

// between gives where a body rests between marks on its way to a height.
func between(marks []stance.Cm, last stance.Cm, way int) []stance.Cm {
	var list []stance.Cm
	w := stance.Cm(way)
	for i, k := range marks {
		if (last-k)*w <= 0 {
			break
		}
		if i+1 < len(marks) && (last-marks[i+1])*w > 0 && (marks[i+1]-k)*w < room {
			continue
		}
		rest := k + w*(stance.KnotHalf+stance.Snug) - stance.DeviceLen
		if (last-rest)*w > 0 {
			list = append(list, rest)
		}
	}
	return list
}

// target is the height that the move ends at or beyond.
func (m *Move) target(sc *stance.Scene, s *stance.Stance, ask Ask) (stance.Cm, error) {
	if ask.To != nil {
		to := stance.ToCm(*ask.To)
		if m.way > 0 && to <= s.At || m.way < 0 && to >= s.At {
			return 0, strict.Faultf("/to_m", "%v is not on the way from %v", to.M(), s.At.M())
		}
		return to, nil
	}
	switch {
	case m.way == 0:
		return s.At, nil
	case m.Name == overEdge:
		return sc.BelowEdge(sc.LineOf(ask.Set, rig.Main)), nil
	}
	marks := marksAhead(sc, s.At, m.way, ask.Set)
	if len(marks) == 0 {
		if m.past {
			return 0, strict.Faultf("/move", "nothing is in the way that %s would pass", m.Name)
		}
		if m.way < 0 {
			return sc.Ground, nil
		}
		return sc.Lines[sc.LineOf(ask.Set, rig.Main)].Top - underAnchor, nil
	}
	// Marks that are close together are passed together.
	last := marks[0]
	for _, k := range marks[1:] {
		if gap := k - last; gap*stance.Cm(m.way) <= stance.ReachUp {
			last = k
		}
	}
	switch {
	case !m.past && m.way < 0:
		return marks[0] + stance.KnotHalf, nil
	case !m.past:
		return marks[0] - stance.ReachUp, nil
	case m.way < 0:
		return last - stance.ReachUp, nil
	}
	return last + stance.KnotHalf, nil
}

// marksAhead gives the heights of the marks of a set's lines ahead, nearest first.
func marksAhead(sc *stance.Scene, at stance.Cm, way, set int) []stance.Cm {
	var list []stance.Cm
	for i := range sc.Lines {
		if sc.Lines[i].Set != set {
			continue
		}
		for _, k := range sc.Lines[i].Marks {
			if (k.At-at)*stance.Cm(way) > 0 {
				list = append(list, k.At)
			}
		}
	}
	slices.SortStableFunc(list, func(a, b stance.Cm) int { return int((a - b) * stance.Cm(way)) })
	return slices.Compact(list)
}
