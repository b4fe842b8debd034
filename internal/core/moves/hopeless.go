package moves

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
)

// legs is the space of a way through several goals.
type legs = search.Chain[stance.Stance, stance.Packed, stance.Action]

// relaxedStates bounds the search of the relaxed problem.
const relaxedStates = 40_000

// hopeless proves that no way leads through the goals: where the relaxed problem has
// none, neither has the problem itself. False proves nothing.
func (m *Move) hopeless(ctx context.Context, sc *stance.Scene, start *stance.Stance, goals []goal, ask Ask) bool {
	for i := range goals {
		if goals[i].lacks(sc) || goals[i].onOne(sc) != "" || goals[i].tooFar(sc, start) != "" {
			return true
		}
	}
	r, ok := sc.Relaxed()
	if !ok {
		return false
	}
	if len(setsOf(sc)) == 1 && sc.InBreach(start) && m.stuck(sc, start, &goals[len(goals)-1]) {
		return true
	}
	var c legs
	for _, g := range goals {
		g.to = [3]stance.Cm{1 << 30, 0, -1 << 30}[g.way+1]
		leg := m.generator(sc, start, g, ask)
		leg.sc, leg.relaxed = r, true
		c = append(c, leg)
	}
	_, _, err := c.Find(ctx, *start, relaxedStates)
	return errors.Is(err, ErrNone)
}

// lacks reports whether the kit has no tool of a class that the goal ends on.
func (g *goal) lacks(sc *stance.Scene) bool {
	for _, class := range g.rest.classes() {
		if !slices.ContainsFunc(sc.Tools, func(t stance.Tool) bool { return t.Class == class }) {
			return true
		}
	}
	return false
}

// onOne says on what one thing the set hangs that the goal ends on; empty where it hangs on
// several.
func (g *goal) onOne(sc *stance.Scene) string {
	if g.rest != onDescender && g.rest != onAscenders {
		return ""
	}
	return sc.OneThing(g.set)
}

// Unmended says what about the strands keeps a move from its end: that those it leads to hang on
// one thing, or out of reach; empty where neither does, and where the move cannot be begun.
// Nothing that could be carried mends that.
func Unmended(sc *stance.Scene, at quantity.Metres, ask Ask) string {
	m, start, err := ask.startIn(sc, at)
	if err != nil {
		return ""
	}
	goals, err := m.goals(sc, &start, ask)
	if err != nil {
		return ""
	}
	for i := range goals {
		if one := goals[i].onOne(sc); one != "" {
			return fmt.Sprintf("the strands of set %d hang on one thing, %s: if that goes, nothing holds you. Give one of them an anchor and a rope of its own", goals[i].set, one)
		}
		if far := goals[i].tooFar(sc, &start); far != "" {
			return far
		}
	}
	return ""
}

// tooFar says that the set which the goal ends on hangs out of reach of who hangs as they start;
// empty where it does not.
func (g *goal) tooFar(sc *stance.Scene, start *stance.Stance) string {
	if g.rest == onSlings || g.rest == onGround {
		return ""
	}
	gap, most, apart := sc.Apart(start, g.set)
	if !apart {
		return ""
	}
	return fmt.Sprintf("the strands of set %d hang %v aside, and nobody who hangs here gets at what is more than %v aside. Change sets where you can stand", g.set, gap.M(), most.M())
}

// stuck reports whether somebody who is on a single point of attachment can never be held twice: nobody
// goes along the rope then, and the damage that holds them up is out of reach of where
// they are, standing up and hanging in the longest tool included.
func (m *Move) stuck(sc *stance.Scene, s *stance.Stance, g *goal) bool {
	if s.Grounded || g.rest == onGround || g.rest == onSound || g.rest == onSlings {
		return false
	}
	strays := stance.StandUp + stance.Sternal
	for i := range sc.Tools {
		strays = max(strays, sc.Tools[i].Length+stance.Sternal)
	}
	for i := range sc.Lines {
		above := stance.Cm(0)
		for _, k := range sc.Lines[i].Marks {
			if k.Kind == rig.RebelayMark && k.At > s.At {
				return false
			}
			if k.Open && k.At > s.At {
				above = k.At
			}
		}
		if above > s.At+strays+sc.Up {
			return true
		}
	}
	return false
}

// BelowDamage says that a move begins below damage that no knot takes out of the line, and
// what is then to be done; empty where it does not, or cannot be begun. Nothing that could
// be carried mends that: rule 17.
func BelowDamage(sc *stance.Scene, at quantity.Metres, ask Ask) string {
	m := Find(ask.Move)
	if m == nil || m.start == onGround || m.start == onTop {
		return ""
	}
	if ask.From != nil {
		at = *ask.From
	}
	ask.Set = max(ask.Set, 1)
	s, err := m.here(sc, stance.ToCm(at), ask).begin(sc, stance.ToCm(at), &ask)
	if err != nil || !sc.InBreach(&s) {
		return ""
	}
	for i := range sc.Lines {
		l := &sc.Lines[i]
		for n := len(l.Marks) - 1; n >= 0; n-- {
			if k := &l.Marks[n]; l.Set == ask.Set && k.Open && k.At > s.At {
				return fmt.Sprintf("the %s strand is damaged at %v above you, and no knot covers it: you are on a single point of attachment. Do not load it further and do not go on; hold still on what is sound and call for rescue", l.Name, k.At.M())
			}
		}
	}
	return ""
}
