package search_test

import (
	"errors"
	"math"
	"math/rand/v2"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/search"
)

// maze is a made-up graph: from each state some ways lead on, each with a cost and
// with what is judged once one is there.
type maze struct {
	search.Plain[int]
	ways  [][]way
	more  []float64
	shut  []bool
	goal  int
	left  []float64
	asked int
}

type way struct {
	to   int
	cost float64
}

func (m *maze) Actions(s *int) []way { return m.ways[*s] }
func (m *maze) Do(_ *int, a *way, next *int) (float64, bool) {
	*next = a.to
	return a.cost, true
}
func (m *maze) Judge(next, _ *int, _ *way) (float64, bool) {
	m.asked++
	return m.more[*next], !m.shut[*next]
}
func (m *maze) LowerBound(s *int) float64 { return m.left[*s] }
func (m *maze) Reached(s *int) bool       { return *s == m.goal }

// random makes a maze, with what each state costs to the goal by going over all ways
// until nothing gets cheaper.
func random(r *rand.Rand) (*maze, []float64) {
	n := 5 + r.IntN(40)
	m := &maze{ways: make([][]way, n), more: make([]float64, n), shut: make([]bool, n), goal: n - 1, left: make([]float64, n)}
	for i := range n {
		for range r.IntN(5) {
			m.ways[i] = append(m.ways[i], way{r.IntN(n), float64(r.IntN(20))})
		}
		m.more[i] = float64(r.IntN(3))
		m.shut[i] = i > 0 && i < n-1 && r.IntN(6) == 0
	}
	exact := make([]float64, n)
	for i := range exact {
		exact[i] = math.Inf(1)
	}
	exact[m.goal] = 0
	for changed := true; changed; {
		changed = false
		for i, ways := range m.ways {
			for _, w := range ways {
				if c := w.cost + m.more[w.to] + exact[w.to]; !m.shut[w.to] && c < exact[i] {
					exact[i], changed = c, true
				}
			}
		}
	}
	return m, exact
}

// The way that is found costs what going over everything says, with any bound that is
// consistent, leads over ways that are there, and none that is shut.
func TestFind(t *testing.T) {
	r := chance.Rand(8, 1)
	for range 2000 {
		m, exact := random(r)
		var looked [3]int
		for i, part := range []float64{0, 0.5, 1} {
			for s := range m.left {
				m.left[s] = 0
				if !math.IsInf(exact[s], 1) {
					m.left[s] = part * exact[s]
				}
			}
			steps, n, err := search.Find[int, int, way](t.Context(), m, 0, 10_000)
			looked[i] = n
			if math.IsInf(exact[0], 1) {
				if !errors.Is(err, search.ErrNone) {
					t.Fatalf("found where there is nothing: %v", steps)
				}
				continue
			}
			cost, at := 0.0, 0
			for _, st := range steps {
				there := false
				for _, w := range m.ways[at] {
					there = there || w == st.Action
				}
				if !there || st.Action.to != st.After || m.shut[st.After] {
					t.Fatalf("%d to %d is no way", at, st.After)
				}
				cost, at = cost+st.Action.cost+m.more[st.After], st.After
			}
			if at != m.goal || math.Abs(cost-exact[0]) > 1e-9 {
				t.Fatalf("to %d for %v, cheapest is %v", at, cost, exact[0])
			}
		}
		// Equal ways may be looked at in another order, no more.
		if !math.IsInf(exact[0], 1) && looked[2] > looked[0]+len(m.ways)/4 {
			t.Errorf("a full bound looks at %d, none at %d", looked[2], looked[0])
		}
	}
}

// A search stops after so many states, and one from the goal is done.
func TestFindStops(t *testing.T) {
	m := &maze{goal: -1}
	for i := range 1000 {
		m.ways = append(m.ways, []way{{(i + 1) % 1000, 1}})
	}
	m.more, m.shut, m.left = make([]float64, 1000), make([]bool, 1000), make([]float64, 1000)
	if _, n, err := search.Find[int, int, way](t.Context(), m, 0, 10); !errors.Is(err, search.ErrUndecided) || n != 10 {
		t.Errorf("%d looked at: %v", n, err)
	}
	m.goal = 0
	if steps, n, err := search.Find[int, int, way](t.Context(), m, 0, 10); err != nil || n != 0 || len(steps) != 0 {
		t.Errorf("%d looked at: %v %v", n, steps, err)
	}
}
