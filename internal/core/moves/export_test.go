package moves

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// Consistent walks stances from where a move begins, the nearest first, and holds
// the heuristic of each against what its actions cost: that is what makes the
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
		from = sc.Top(sc.LineOf(1, rig.Main))
	}
	start, err := m.begin(sc, from, &ask)
	if err != nil {
		t.Fatal(err)
	}
	goals, err := m.goals(sc, &start, ask)
	return err == nil && m.hopeless(t.Context(), sc, &start, goals, ask)
}

// Tried is an action somewhere on a way, right or wrong, and what came of it.
type Tried struct {
	Action stance.Action
	No     string `json:"impossible"`
	Broken []stance.Violation
	After  ShownStance
	Lost   []stance.Lost
	Worst  string
}

// Stray walks from where a move begins by actions that chance draws, some of them
// spoilt: put higher or lower by what often decides, on another span, by another tool.
// What cannot be done and what stops is tried, and not followed.
func Stray(sc *stance.Scene, at quantity.Metres, ask Ask, r *rand.Rand, n int) (all []Tried) {
	m := Find(ask.Move)
	ask.Set = 1
	m = m.here(sc, stance.ToCm(at), ask)
	s, err := startOf(sc, m, stance.ToCm(at), ask.Set)
	if err != nil {
		return nil
	}
	goals, err := m.goals(sc, &s, ask)
	if err != nil {
		return nil
	}
	g := m.generator(sc, &s, goals[0], ask)
	for range n {
		list := g.actions(&s)
		if len(list) == 0 {
			return all
		}
		a := list[r.IntN(len(list))]
		if r.IntN(2) == 0 {
			spoil(&a, sc, r)
		}
		next, broken, err := sc.Apply(s, a)
		tried := Tried{Action: a, Broken: broken}
		if err != nil {
			tried.No = err.Error()
		} else {
			tried.After, tried.Lost = show(sc, &next), sc.FailOne(&next)
			tried.Worst = stance.Worst(tried.Lost)
		}
		all = append(all, tried)
		if err == nil && !stance.Stops(broken) {
			s = next
		}
	}
	return all
}

func spoil(a *stance.Action, sc *stance.Scene, r *rand.Rand) {
	switch r.IntN(6) {
	case 0:
		a.AtM += quantity.Metres(r.IntN(9)-4) / 100
	case 1:
		a.AtM = max(0, a.AtM+quantity.Metres(r.IntN(41)-20)/20)
	case 2:
		a.Span = max(0, a.Span+1-2*r.IntN(2))
	case 3:
		a.Item = sc.Tools[r.IntN(len(sc.Tools))].Item
	case 4:
		a.Unlocked, a.Unproved = r.IntN(2) == 0, r.IntN(2) == 0
	case 5:
		a.Line = sc.Lines[r.IntN(len(sc.Lines))].Name
	}
}
