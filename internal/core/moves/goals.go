package moves

import (
	"slices"

	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// above is how far a body stops above damage below it, so that its hands reach it and
// nothing it hangs on does.
const above = stance.ReachDown - stance.Snug

// tiedOut is what isolate-damage reaches: the damage nearest to the body, and what is
// beside it on the other strand, tied out.
func (m *Move) tiedOut(sc *stance.Scene, s *stance.Stance, ask Ask) ([]goal, error) {
	near := nearestDamage(sc, s.At, ask.Set)
	if near == nil {
		return nil, strict.Faultf("/move", "nothing on these strands is hurt and not tied out")
	}
	to := s.At
	switch {
	case m.way < 0:
		to = min(s.At, near.At+above)
	case near.Sheath && sc.Schools.DamageAbove == "past":
		to = near.At + above - stance.Apart
	case near.At > s.At+sc.Up:
		// Out of reach above: the weight goes to what is sound.
		return nil, ErrNone
	}
	g := m.goalAt(sc, to, ask.Set)
	for i := range sc.Lines {
		for _, k := range sc.Lines[i].Marks {
			if sc.Lines[i].Set == ask.Set && k.Open && distance(k.At, near.At) <= stance.ReachDown {
				g.isolated |= 1 << k.Damage
			}
		}
	}
	return []goal{g}, nil
}

// fallback is where one goes from damage above that cannot be tied out.
type fallback struct {
	goal goal
	note string
}

// soundGoals are those, the best first: another set, or the strand that is sound.
func soundGoals(sc *stance.Scene, s *stance.Stance, ask Ask) []fallback {
	var list []fallback
	if near := nearestSet(sc, s.X, ask.Set); near != 0 {
		other := Move{goal: onAscenders}
		list = append(list, fallback{other.goalAt(sc, s.At, near), "The damage is not tied out: those strands are left alone, and nobody else goes onto them."})
	}
	return append(list, fallback{goal{rest: onSound, set: ask.Set}, "The damage is not tied out, and one strand alone holds. Stay where you are and call for rescue."})
}

// across is what a transfer reaches: the ascenders on another set, at whatever height
// that leads to.
func (m *Move) across(sc *stance.Scene, s *stance.Stance, ask Ask) ([]goal, error) {
	to := ask.ToSet
	if to == 0 {
		to = nearestSet(sc, s.X, ask.Set)
	}
	if to == 0 || to == ask.Set || sc.LineOf(to, rig.Main) < 0 || sc.LineOf(to, rig.Backup) < 0 {
		return nil, strict.Faultf("/to_set", "there is no other set with both strands")
	}
	g := m.goalAt(sc, s.At, to)
	return []goal{g}, nil
}

// nearestSet is the set with both strands that hangs nearest to a place sideways,
// other than one; 0 for none.
func nearestSet(sc *stance.Scene, x stance.Cm, but int) int {
	best, least := 0, stance.Cm(0)
	for _, set := range setsOf(sc) {
		main := sc.LineOf(set, rig.Main)
		if set == but || main < 0 || sc.LineOf(set, rig.Backup) < 0 {
			continue
		}
		if d := distance(sc.X(main, 0), x); best == 0 || d < least {
			best, least = set, d
		}
	}
	return best
}

// along is what aid reaches: sling after sling from where the body hangs, then the
// strands of another set, where there are any within the arm's reach of the last.
func (m *Move) along(sc *stance.Scene, s *stance.Stance, ask Ask) ([]goal, error) {
	line := sc.Line(stance.Structure)
	if line < 0 {
		return nil, strict.Faultf("/move", "no sling hangs on the structure")
	}
	slings := sc.Lines[line].Marks
	var list []goal
	order := make([]int, len(slings))
	for i := range slings {
		order[i] = i
	}
	if distance(slings[0].X, s.X) > distance(slings[len(slings)-1].X, s.X) {
		slices.Reverse(order)
	}
	for n, i := range order {
		g := m.goalAt(sc, slings[i].At, ask.Set)
		g.sling, g.slings, g.off = i+1, true, n > 0
		if n+1 < len(order) {
			g.ahead = order[n+1] + 1
		}
		list = append(list, g)
	}
	last := slings[order[len(order)-1]]
	if to := nearestSet(sc, last.X, ask.Set); to != 0 && distance(sc.X(sc.LineOf(to, rig.Main), 0), last.X) <= sc.Out {
		out := Move{goal: onAscenders}
		g := out.goalAt(sc, last.At, to)
		g.slings = true
		list = append(list, g)
	}
	return list, nil
}
