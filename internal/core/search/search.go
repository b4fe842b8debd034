// Package search finds the cheapest path from one state to another with A*, for
// whatever has states, actions and a cost: moves of one person, of a team, of a pair.
//
// It always says how it ended: a path, none (everything that can be reached was
// expanded), or not decided (a bound was met first).
package search

import (
	"container/heap"
	"context"
	"errors"
	"hash/maphash"
	"unsafe"

	"zealousknot/internal/core/progress"
)

var (
	// ErrNone is returned where every state that can be reached was expanded, and none
	// is a goal.
	ErrNone = errors.New("there is no way with this kit that keeps every rule")
	// ErrUndecided is returned where a search met its bound first. It says nothing about
	// whether there is a path.
	ErrUndecided = errors.New("not decided: the search was cut off before everything was tried")
)

// Outcome is how a search ended, as it is reported.
type Outcome string

const (
	Found     Outcome = "found"
	None      Outcome = "none"
	Undecided Outcome = "undecided"
)

// OutcomeOf names the outcome of a search by its error; empty for an error that is not
// a search's.
func OutcomeOf(err error) Outcome {
	switch {
	case err == nil:
		return Found
	case errors.Is(err, ErrNone):
		return None
	case errors.Is(err, ErrUndecided):
		return Undecided
	}
	return ""
}

// Space is what is searched in. S is a state as it is worked with, K the same packed,
// as it is kept: two states are the same where their packed forms are equal. Actions
// come in a fixed order, so that the same input gives the same path.
type Space[S any, K comparable, A any] interface {
	Pack(s *S) K
	Unpack(k *K, s *S)
	// Actions are those worth trying from a state; they are used before the next call,
	// and are the same whenever the same state is asked about.
	Actions(s *S) []A
	// Do does an action into next, applies the rules on the step itself, and gives its
	// cost; ok is false where it cannot be done, or breaks a rule.
	Do(s *S, a *A, next *S) (cost float64, ok bool)
	// Judge applies the rules on the state that was reached; more is what it adds to the
	// cost. It is called once a cheaper path to the state is found.
	Judge(next, before *S, a *A) (more float64, ok bool)
	// LowerBound is an admissible and consistent heuristic: a lower bound on the
	// remaining cost, that no action reduces by more than it costs.
	LowerBound(s *S) float64
	// Reached reports the goal.
	Reached(s *S) bool
}

// Plain packs a state as it is, for a Space whose states are small.
type Plain[S comparable] struct{}

func (Plain[S]) Pack(s *S) S       { return *s }
func (Plain[S]) Unpack(k *S, s *S) { *s = *k }

// Step is an action with the state after it.
type Step[S, A any] struct {
	Action A
	After  S
}

// node is a state on the frontier, or expanded.
type node[K comparable] struct {
	at          K
	cost, total float64 // total: with the lower bound of what remains
	prev        *node[K]
	// same is another state with the same hash.
	same *node[K]
	// order breaks ties; index is the place on the frontier, negative once expanded.
	order, index int32
	// action is the index, among those of the state before, that led here.
	action int32
}

type frontier[K comparable] []*node[K]

func (q frontier[K]) Len() int { return len(q) }
func (q frontier[K]) Less(i, j int) bool {
	if q[i].total != q[j].total {
		return q[i].total < q[j].total
	}
	// The same input gives the same path.
	return q[i].order < q[j].order
}
func (q frontier[K]) Swap(i, j int) {
	q[i], q[j] = q[j], q[i]
	q[i].index, q[j].index = int32(i), int32(j)
}
func (q *frontier[K]) Push(x any) {
	n := x.(*node[K])
	n.index = int32(len(*q))
	*q = append(*q, n)
}
func (q *frontier[K]) Pop() any {
	old := *q
	n := old[len(old)-1]
	*q = old[:len(old)-1]
	n.index = -1
	return n
}

// nodes keeps every state that was met, once.
type nodes[K comparable] struct {
	seed  maphash.Seed
	known map[uint64]*node[K]
	slab  []node[K]
	made  int
}

// firstSlab and maxSlab are how many nodes are made at once.
const firstSlab, maxSlab = 32, 4096

func (l *nodes[K]) find(k K) (*node[K], uint64) {
	h := maphash.Comparable(l.seed, k)
	n := l.known[h]
	for n != nil && n.at != k {
		n = n.same
	}
	return n, h
}

func (l *nodes[K]) add(k K, h uint64) *node[K] {
	if len(l.slab) == cap(l.slab) {
		l.slab = make([]node[K], 0, min(maxSlab, max(firstSlab, l.made)))
	}
	l.slab = append(l.slab, node[K]{at: k, same: l.known[h], order: int32(l.made)})
	n := &l.slab[len(l.slab)-1]
	l.known[h] = n
	l.made++
	return n
}

// MaxBytes bounds the memory of one search: a search that would take more ends
// undecided. An entry of the table of known states is reckoned with entryBytes.
const MaxBytes, entryBytes = 150 << 20, 32

// polled is after how many expansions a context is asked.
const polled = 256

// Find gives the cheapest path, expanding at most bound states. States are expanded in
// the order of their cost with the lower bound of what remains: the first path to a goal
// is a cheapest one. The error is ErrNone, ErrUndecided, or the context's.
func Find[S any, K comparable, A any](ctx context.Context, sp Space[S, K, A], from S, bound int) (steps []Step[S, A], expanded int, err error) {
	if err := ctx.Err(); err != nil {
		return nil, 0, err
	}
	l := &nodes[K]{seed: maphash.MakeSeed(), known: map[uint64]*node[K]{}}
	maxNodes := MaxBytes / (int(unsafe.Sizeof(node[K]{})) + entryBytes)
	key := sp.Pack(&from)
	_, h := l.find(key)
	start := l.add(key, h)
	start.total = sp.LowerBound(&from)
	q := frontier[K]{start}
	// One of each, not one for every action that is tried.
	at, next, tried := new(S), new(S), new(A)
	for len(q) > 0 {
		n := heap.Pop(&q).(*node[K])
		sp.Unpack(&n.at, at)
		if sp.Reached(at) {
			return unwind[S, K, A](sp, n), expanded, nil
		}
		if expanded++; expanded > bound || l.made > maxNodes {
			return nil, expanded - 1, ErrUndecided
		}
		if expanded%polled == 0 {
			if err := ctx.Err(); err != nil {
				return nil, expanded, err
			}
			progress.Searched(ctx, expanded, bound)
		}
		for i, a := range sp.Actions(at) {
			*tried = a
			cost, ok := sp.Do(at, tried, next)
			if !ok {
				continue
			}
			c := n.cost + cost
			key = sp.Pack(next)
			m, h := l.find(key)
			if m != nil && (m.index < 0 || c >= m.cost) {
				continue
			}
			more, ok := sp.Judge(next, at, tried)
			if !ok {
				continue
			}
			c += more
			switch {
			case m == nil:
				m = l.add(key, h)
				m.prev, m.cost, m.total, m.action = n, c, c+sp.LowerBound(next), int32(i)
				heap.Push(&q, m)
			case c < m.cost:
				m.prev, m.cost, m.total, m.action = n, c, c+m.total-m.cost, int32(i)
				heap.Fix(&q, int(m.index))
			}
		}
	}
	return nil, expanded, ErrNone
}

// unwind gives the path to a state; its actions are requested again.
func unwind[S any, K comparable, A any](sp Space[S, K, A], n *node[K]) []Step[S, A] {
	length := 0
	for m := n; m.prev != nil; m = m.prev {
		length++
	}
	list := make([]Step[S, A], length)
	var before S
	for ; n.prev != nil; n = n.prev {
		length--
		sp.Unpack(&n.prev.at, &before)
		list[length].Action = sp.Actions(&before)[n.action]
		sp.Unpack(&n.at, &list[length].After)
	}
	return list
}
