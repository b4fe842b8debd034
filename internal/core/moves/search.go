// Package moves finds sequences of actions: the cheapest way from one stance to
// another with the kit at hand, where no step breaks a rule; and it says what would
// have to be there where there is none. No sequence is stored: a move is a start
// and a goal.
//
// Replay walks any list of actions by the rules alone and shares nothing of the
// search.
package moves

import (
	"container/heap"
	"errors"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/stance"
)

// ErrNone is returned where no sequence leads to the goal with this kit.
var ErrNone = errors.New("there is no way with this kit that keeps every rule")

// maxStances bounds a search.
const maxStances = 20_000

// step is an action with the stance after it.
type step struct {
	action stance.Action
	after  stance.Stance
	broken []stance.Violation
}

// seconds is how long an action takes, and how much its handling counts beside: the
// defaults of the policy.
var seconds = map[stance.Do]float64{
	stance.PutOn: 25, stance.TakeOff: 12, stance.Clip: 10, stance.Unclip: 8, stance.Move: 6, stance.Stand: 5, stance.Sit: 4, stance.LowerOnto: 10,
	stance.Climb: 10, stance.Descend: 8, stance.Park: 3, stance.Unpark: 4, stance.Tie: 40, stance.Untie: 20, stance.Land: 3, stance.Pass: 15, stance.Lock: 4, stance.Prove: 8,
}

const (
	handled = 10.0
	// Of a metre climbed and a metre descended.
	climbMetre, descendMetre = 6.0, 0.7
	standingEffort           = 2.0
	// Of a metre that would be fallen, at each step.
	fallMetre = 12.0
)

// Seconds is how long an action takes from a stance.
func Seconds(from, to *stance.Stance, do stance.Do) float64 {
	t := seconds[do]
	switch do {
	case stance.Climb:
		t += climbMetre * abs(float64((to.At - from.At).M()))
	case stance.Descend:
		t += descendMetre * abs(float64((to.At - from.At).M()))
	}
	return t
}

func abs(f float64) float64 {
	if f < 0 {
		return -f
	}
	return f
}

// cost is the weighted sum by which plans are compared: time, holds handled, what
// would be fallen if what bears fails, and what is only just allowed.
func cost(sc *stance.Scene, from, to *stance.Stance, do stance.Do, looks int) float64 {
	c := Seconds(from, to, do)
	if from.Standing {
		// Standing in a foot loop is hard work, with little in the hands.
		c *= standingEffort
	}
	switch do {
	case stance.PutOn, stance.TakeOff, stance.Clip, stance.Unclip:
		c += handled
	}
	return c + fallMetre*float64(sc.Drop(to).M()) + 5*float64(looks)
}

// node is a stance on its way to being settled.
type node struct {
	at    stance.Stance
	cost  float64
	least float64 // to the goal by way of it
	order int
	prev  *node
	step  step
	index int
}

type queue []*node

func (q queue) Len() int { return len(q) }
func (q queue) Less(i, j int) bool {
	if q[i].least != q[j].least {
		return q[i].least < q[j].least
	}
	// The same input gives the same plan.
	return q[i].order < q[j].order
}
func (q queue) Swap(i, j int) {
	q[i], q[j] = q[j], q[i]
	q[i].index, q[j].index = i, j
}
func (q *queue) Push(x any) {
	n := x.(*node)
	n.index = len(*q)
	*q = append(*q, n)
}
func (q *queue) Pop() any {
	old := *q
	n := old[len(old)-1]
	*q = old[:len(old)-1]
	// Settled: no way to it is cheaper.
	n.index = -1
	return n
}

// search finds the cheapest way from a stance to the goal. Stances are looked at in
// the order of what they cost at the least, which is never more than they do.
func search(g *generator, from stance.Stance) (steps []step, expanded int, err error) {
	quiet := g.sc.Quiet()
	start := &node{at: from, least: g.goal.left(quiet, &from)}
	seen := map[stance.Stance]*node{from: start}
	q := queue{start}
	for order := 1; len(q) > 0; {
		n := heap.Pop(&q).(*node)
		expanded++
		if g.goal.is(quiet, &n.at) {
			return unwind(n), expanded, nil
		}
		if expanded > maxStances {
			break
		}
		for _, a := range g.actions(&n.at) {
			next, broken, err := quiet.Apply(n.at, a)
			if err != nil || stance.Stops(broken) {
				continue
			}
			c := n.cost + cost(quiet, &n.at, &next, a.Do, len(broken))
			m := seen[next]
			switch {
			case m == nil:
				m = &node{at: next, order: order}
				order++
				seen[next] = m
				m.reach(n, c, g.goal.left(quiet, &next), step{action: a, after: next})
				heap.Push(&q, m)
			case c < m.cost && m.index >= 0:
				m.reach(n, c, m.least-m.cost, step{action: a, after: next})
				heap.Fix(&q, m.index)
			}
		}
	}
	return nil, expanded, ErrNone
}

// reach notes a cheaper way to a stance.
func (m *node) reach(from *node, cost, left float64, s step) {
	m.prev, m.cost, m.least, m.step = from, cost, cost+left, s
}

func unwind(n *node) []step {
	var list []step
	for ; n.prev != nil; n = n.prev {
		list = append(list, n.step)
	}
	for i, j := 0, len(list)-1; i < j; i, j = i+1, j-1 {
		list[i], list[j] = list[j], list[i]
	}
	return list
}

// rest is how a body hangs between moves.
type rest string

const (
	onGround    rest = "on the ground"
	onDescender rest = "on the descender"
	onAscenders rest = "on the ascenders"
)

// goal is where a move ends: a way of hanging, at or beyond a height, with what
// rides the rope beyond some marks.
type goal struct {
	rest rest
	way  int
	to   stance.Cm
	// spans are those that devices must be on, or beyond on the way, by line.
	spans []int
}

// beyond reports whether a span is where the goal wants a device of the line.
func (g *goal) beyond(line, span int8) bool {
	switch {
	case g.way < 0:
		return int(span) >= g.spans[line]
	case g.way > 0:
		return int(span) <= g.spans[line]
	}
	return true
}

var (
	restsOnDescender = []gear.Class{gear.Descender, gear.BackupDevice}
	restsOnAscenders = []gear.Class{gear.ChestAscender, gear.HandAscender, gear.BackupDevice}
)

func (r rest) classes() []gear.Class {
	switch r {
	case onDescender:
		return restsOnDescender
	case onAscenders:
		return restsOnAscenders
	}
	return nil
}

// is reports whether a stance is the goal.
func (g *goal) is(sc *stance.Scene, s *stance.Stance) bool {
	if g.rest == onGround && !s.Grounded || g.rest != onGround && (s.Grounded || s.Standing || s.Bears < 0) {
		return false
	}
	if g.way > 0 && s.At < g.to || g.way < 0 && s.At > g.to {
		return false
	}
	if s.Bears >= 0 && sc.Tools[s.Bears].Class != g.rest.classes()[0] {
		return false
	}
	return g.handling(sc, s) == 0
}

// handling is what putting on and taking off is left at the least.
func (g *goal) handling(sc *stance.Scene, s *stance.Stance) float64 {
	left := 0.0
	var have [3]bool
	classes := g.rest.classes()
	for i := range sc.Tools {
		h := &s.Holds[i]
		if !h.There {
			continue
		}
		n := -1
		for j, c := range classes {
			if sc.Tools[i].Class == c && h.Clip == stance.NoClip && g.beyond(h.Line, h.Span) {
				n = j
			}
		}
		switch {
		case n >= 0 && !have[n]:
			have[n] = true
		case h.Clip != stance.NoClip:
			left += seconds[stance.Unclip] + handled
		default:
			left += seconds[stance.TakeOff] + handled
		}
	}
	for j := range classes {
		if !have[j] {
			left += seconds[stance.PutOn] + handled
		}
	}
	if s.Loop.There {
		left += seconds[stance.Untie]
	}
	return left
}

// left is what a stance costs at the least to the goal.
func (g *goal) left(sc *stance.Scene, s *stance.Stance) float64 {
	c := g.handling(sc, s)
	switch d := float64((g.to - s.At).M()); {
	case g.way > 0 && d > 0:
		c += climbMetre * d * 0.5
	case g.way < 0 && d < 0:
		c -= descendMetre * d * 0.5
	}
	return c
}
