package search_test

import (
	"errors"
	"math"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/search"
)

// A chain of goals is reached wherever going over everything says it can be, also where
// the nearest end of one goal leads nowhere; and never otherwise.
func TestChain(t *testing.T) {
	r := chance.Rand(8, 2)
	greedy := 0
	for range 3000 {
		m, _ := random(r)
		n := len(m.ways)
		for i := range m.left {
			m.left[i] = 0
		}
		// The first goal is any of three states, the second the last one.
		first := map[int]bool{r.IntN(n): true, r.IntN(n): true, r.IntN(n): true}
		one, two := &legOf{maze: m, goals: first}, &legOf{maze: m, goals: map[int]bool{m.goal: true}}
		_, toFirst := m.reach(0)
		want := math.Inf(1)
		for mid := range first {
			if at, ok := toFirst[mid]; ok {
				if _, on := m.reach(mid); on != nil {
					if end, ok := on[m.goal]; ok {
						want = min(want, at+end)
					}
				}
			}
		}
		c := search.Chain[int, int, way]{one, two}
		steps, _, err := c.Find(t.Context(), 0, 10_000)
		if math.IsInf(want, 1) != errors.Is(err, search.ErrNone) {
			t.Fatalf("want %v, got %v", want, err)
		}
		quick, _, err2 := c.Through(t.Context(), 0, 10_000)
		if (err == nil) != (err2 == nil) {
			t.Fatalf("together %v, one after the other %v", err, err2)
		}
		if err != nil {
			continue
		}
		if got := m.cost(steps); math.Abs(got-want) > 1e-9 {
			t.Fatalf("costs %v, cheapest is %v", got, want)
		}
		if m.cost(quick) > want+1e-9 {
			greedy++
		}
		if _, n, err := c.Through(t.Context(), 0, 0); len(quick) > 0 && (!errors.Is(err, search.ErrUndecided) || n > 0) {
			t.Fatalf("with no state to expand: %v after %d", err, n)
		}
	}
	if greedy == 0 {
		t.Error("no chain was gone through greedily at a cost: the trial tries nothing")
	}
}

// legOf is a maze with goals of its own.
type legOf struct {
	*maze
	goals map[int]bool
}

func (l *legOf) Reached(s *int) bool { return l.goals[*s] }

// reach goes over everything: what it costs to each state from one.
func (m *maze) reach(from int) (int, map[int]float64) {
	cost := map[int]float64{from: 0}
	for changed := true; changed; {
		changed = false
		for i, c := range cost {
			for _, w := range m.ways[i] {
				to := c + w.cost + m.more[w.to]
				if old, known := cost[w.to]; !m.shut[w.to] && (!known || to < old) {
					cost[w.to], changed = to, true
				}
			}
		}
	}
	return from, cost
}

func (m *maze) cost(steps []search.Step[int, way]) (sum float64) {
	for _, st := range steps {
		sum += st.Action.cost + m.more[st.After]
	}
	return sum
}
