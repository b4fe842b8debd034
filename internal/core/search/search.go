// Package search finds the cheapest way from one state to another, for whatever has
// states, actions and a cost: moves of one person, moves of a team.
package search

import (
	"container/heap"
	"errors"
)

// ErrNone is returned where no way leads to the goal.
var ErrNone = errors.New("there is no way with this kit that keeps every rule")

// Space is what is searched in. A search asks for actions in a fixed order, so that
// the same input gives the same way.
type Space[S comparable, A any] interface {
	// Actions are those worth trying from a state; they are used before the next call.
	Actions(s *S) []A
	// Do does an action into next, asks the rules on the step itself, and gives its
	// cost; ok is false where it cannot be done, or breaks a rule.
	Do(s *S, a *A, next *S) (cost float64, ok bool)
	// Judge asks the rules on the state that was reached; more is what it adds to the
	// cost. It is asked once a cheaper way to the state is found.
	Judge(next, before *S, a *A) (more float64, ok bool)
	// Left is what a state costs at the least to the goal: never more than it does, and
	// by no action brought down by more than that costs.
	Left(s *S) float64
	// Reached reports the goal.
	Reached(s *S) bool
}

// Step is an action with the state after it.
type Step[S comparable, A any] struct {
	Action A
	After  S
}

// node is a state on its way to being settled.
type node[S comparable, A any] struct {
	at     S
	cost   float64
	least  float64 // to the goal by way of it
	order  int
	prev   *node[S, A]
	action A
	index  int
}

// reach notes a cheaper way to a state.
func (m *node[S, A]) reach(from *node[S, A], cost, left float64, a A) {
	m.prev, m.cost, m.least, m.action = from, cost, cost+left, a
}

type queue[S comparable, A any] []*node[S, A]

func (q queue[S, A]) Len() int { return len(q) }
func (q queue[S, A]) Less(i, j int) bool {
	if q[i].least != q[j].least {
		return q[i].least < q[j].least
	}
	// The same input gives the same way.
	return q[i].order < q[j].order
}
func (q queue[S, A]) Swap(i, j int) {
	q[i], q[j] = q[j], q[i]
	q[i].index, q[j].index = i, j
}
func (q *queue[S, A]) Push(x any) {
	n := x.(*node[S, A])
	n.index = len(*q)
	*q = append(*q, n)
}
func (q *queue[S, A]) Pop() any {
	old := *q
	n := old[len(old)-1]
	*q = old[:len(old)-1]
	// Settled: no way to it is cheaper.
	n.index = -1
	return n
}

// slabSize is how many nodes are made at once.
const slabSize = 32

// Find gives the cheapest way, looking at no more than so many states. States are
// looked at in the order of what they cost at the least, which is never more than
// they do: the first way that is found is the cheapest.
func Find[S comparable, A any](sp Space[S, A], from S, most int) (steps []Step[S, A], expanded int, err error) {
	start := &node[S, A]{at: from, least: sp.Left(&from)}
	seen := map[S]*node[S, A]{from: start}
	q := queue[S, A]{start}
	// One of each, not one for every action that is tried.
	next, tried := new(S), new(A)
	var slab []node[S, A]
	for order := 1; len(q) > 0; {
		n := heap.Pop(&q).(*node[S, A])
		expanded++
		if sp.Reached(&n.at) {
			return n.unwind(), expanded, nil
		}
		if expanded > most {
			break
		}
		for _, a := range sp.Actions(&n.at) {
			*tried = a
			cost, ok := sp.Do(&n.at, tried, next)
			if !ok {
				continue
			}
			c := n.cost + cost
			m := seen[*next]
			if m != nil && (m.index < 0 || c >= m.cost) {
				continue
			}
			more, ok := sp.Judge(next, &n.at, tried)
			if !ok {
				continue
			}
			c += more
			switch {
			case m == nil:
				if len(slab) == cap(slab) {
					slab = make([]node[S, A], 0, slabSize)
				}
				slab = append(slab, node[S, A]{at: *next, order: order})
				m = &slab[len(slab)-1]
				order++
				seen[*next] = m
				m.reach(n, c, sp.Left(next), a)
				heap.Push(&q, m)
			case c < m.cost:
				m.reach(n, c, m.least-m.cost, a)
				heap.Fix(&q, m.index)
			}
		}
	}
	return nil, expanded, ErrNone
}

func (n *node[S, A]) unwind() []Step[S, A] {
	var list []Step[S, A]
	for ; n.prev != nil; n = n.prev {
		list = append(list, Step[S, A]{n.action, n.at})
	}
	for i, j := 0, len(list)-1; i < j; i, j = i+1, j-1 {
		list[i], list[j] = list[j], list[i]
	}
	return list
}
