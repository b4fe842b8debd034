package moves

import (
	"fmt"
	"testing"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// Consistent walks stances from where a move begins, the nearest first, and holds
// what each costs at the least against what its actions cost: that is what makes the
// first way found the cheapest.
func Consistent(t testing.TB, sc *stance.Scene, at quantity.Metres, ask Ask, most int) {
	t.Helper()
	m := Find(ask.Move)
	ask.Set = 1
	m = m.here(sc, stance.ToCm(at), ask)
	start, err := startOf(sc, m, stance.ToCm(at), ask.Set)
	if err != nil {
		return
	}
	goals, err := m.goals(sc, &start, ask)
	if err != nil {
		return
	}
	g := m.generator(sc, &start, goals[0], ask)
	quiet := sc.Quiet()
	seen := map[stance.Stance]bool{start: true}
	for list := []stance.Stance{start}; len(list) > 0 && len(seen) < most; list = list[1:] {
		s := list[0]
		before := g.goal.lowerBound(quiet, &s)
		if g.goal.is(quiet, &s) && before > 0 {
			t.Fatalf("%s: the goal is left %v: %s", ask.Move, before, fmt.Sprint(s))
		}
		for _, a := range append([]stance.Action{}, g.actions(&s)...) {
			next, broken, err := quiet.Apply(s, a)
			if err != nil || stance.Stops(broken) {
				continue
			}
			c := cost(quiet, &s, &next, &a, len(broken))
			if after := g.goal.lowerBound(quiet, &next); before > after+c+1e-9 {
				t.Fatalf("%s: %+v costs %v and brings the goal %v nearer\n%+v\n%+v", ask.Move, a, c, before-after, show(sc, &s), show(sc, &next))
			}
			if !seen[next] {
				seen[next] = true
				list = append(list, next)
			}
		}
	}
}

// Gridded asks for heights so far apart, in centimetres.
func Gridded(a Ask, cm int) Ask {
	a.grid = stance.Cm(cm)
	return a
}

// Shown writes a stance.
func Shown(sc *stance.Scene, s *stance.Stance) ShownStance { return show(sc, s) }

// Hopeless reports whether the relaxed problem of a move proves that there is no way.
func Hopeless(t testing.TB, sc *stance.Scene, at quantity.Metres, ask Ask) bool {
	m := Find(ask.Move)
	ask.Set = 1
	m = m.here(sc, stance.ToCm(at), ask)
	from := stance.ToCm(at)
	switch m.start {
	case onGround:
		from = sc.Ground
	case onTop:
		from = sc.Top(lineOf(sc, "main", 1))
	}
	start, err := m.begin(sc, from, &ask)
	if err != nil {
		t.Fatal(err)
	}
	goals, err := m.goals(sc, &start, ask)
	return err == nil && m.hopeless(t.Context(), sc, &start, goals, ask)
}
