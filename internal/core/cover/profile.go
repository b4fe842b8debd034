package cover

import (
	"context"
	"fmt"
	"sync"

	"zealousknot/internal/core/digest"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
)

// kit names the kit of a scene, once.
func (pl *Planner) kit(sc *stance.Scene) digest.Sum {
	k, known := pl.kits[sc]
	if !known {
		k = sc.Kit()
		pl.kits[sc] = k
	}
	return k
}

// Cache keeps what searches found, so that what is the same is not searched for again.
// Its keys are digests over the whole input of a search, so that none leaves anything
// out. The zero Cache is ready; it may be used by several at once, and forgets all of it
// when it is full. It belongs to whoever asks: a process, a worker, a command.
type Cache struct {
	mu    sync.Mutex
	known map[digest.Sum]searched
}

// searched is what a search found.
type searched struct {
	outcome search.Outcome
	seconds float64
	// refused says why it was not even begun; empty where it was.
	refused string
	// links are connectors that a pick-off's chain takes, strap: a strap is in it.
	links int8
	strap bool
}

// maxKnown bounds a cache.
const maxKnown = 8192

// recall gives what is known under a key, found where it is not. What was cancelled is
// not kept.
func (c *Cache) recall(ctx context.Context, key digest.Sum, find func() searched) searched {
	if c == nil {
		return find()
	}
	c.mu.Lock()
	v, ok := c.known[key]
	c.mu.Unlock()
	if ok {
		return v
	}
	v = find()
	c.mu.Lock()
	defer c.mu.Unlock()
	if ctx.Err() != nil {
		return v
	}
	if c.known == nil || len(c.known) >= maxKnown {
		c.known = map[digest.Sum]searched{}
	}
	c.known[key] = v
	return v
}

// outcome is what a search's error says.
func outcome(seconds float64, err error) searched {
	if o := search.OutcomeOf(err); o != "" {
		return searched{outcome: o, seconds: seconds}
	}
	return searched{outcome: search.None, refused: detail(err)}
}

// obstacle is a mark, or marks close together, on the way along a set.
type obstacle struct {
	// at is the height of the highest of its marks, low that of the lowest.
	at, low stance.Cm
	name    string
	seconds float64
	// stops says why it is not passed; empty: it is. undecided: the search was cut off.
	stops     string
	undecided bool
}

// profile is a way along a set for one body or a pair: what is in it.
type profile struct {
	// begin is what it takes to get onto the strands.
	begin     float64
	obstacles []obstacle
	stops     string
}

// metre is how long one metre of a descent or climb takes.
const (
	downMetre, upMetre = 0.7, 6.0
	overEdgeS          = 90.0
	offGroundS         = 60.0
)

// between sums the way between two heights of a body: seconds, or why it is stopped. Over
// is how far above the body its descender is: a mark counts on the side on which the
// descender is of it, and marks that are passed in one go count on both.
func (p *profile) between(low, high, over stance.Cm, metre float64) (seconds float64, passed []string, stop stopped) {
	if p.stops != "" {
		return 0, nil, stopped{why: p.stops}
	}
	seconds = p.begin + metre*float64((high-low).M())
	for _, o := range p.obstacles {
		if o.at <= low+over || o.low >= high+over {
			continue
		}
		if o.stops != "" {
			if !stop.undecided && stop.why != "" {
				continue
			}
			if s := (stopped{fmt.Sprintf("%s at %v: %s", o.name, o.at.M(), o.stops), o.undecided}); stop.why == "" || !s.undecided {
				stop = s
			}
			continue
		}
		seconds += o.seconds
		passed = append(passed, fmt.Sprintf("%s at %v, %.0f s", o.name, o.at.M(), o.seconds))
	}
	if stop.why != "" {
		return 0, nil, stop
	}
	return seconds, passed, stopped{}
}

// stopped says why a way is not gone; undecided: only because a search was cut off.
type stopped struct {
	why       string
	undecided bool
}

// clusterM is how close together marks are passed in one go.
const clusterM stance.Cm = 100

// obstacleStates bound the search past one obstacle for one person, pairStates for two, who
// have the devices of both.
const (
	obstacleStates = 20_000
	pairStates     = 60_000
)

// profileOf finds what is in the way along a set, up or down.
func (pl *Planner) profileOf(sc *stance.Scene, set int, up, pair bool) *profile {
	p := &profile{begin: overEdgeS}
	if up {
		p.begin = offGroundS
	}
	if pair {
		p.begin = 0
	}
	if _, _, p.stops = sc.Strands(set); p.stops != "" {
		return p
	}
	for _, group := range marksOf(sc, set) {
		p.obstacles = append(p.obstacles, pl.pass(sc, set, group, up, pair))
	}
	return p
}

// marksOf are the marks of a set from the top down, those close together as one.
func marksOf(sc *stance.Scene, set int) [][]stance.Mark {
	var all []stance.Mark
	for i := range sc.Lines {
		if sc.Lines[i].Set == set {
			all = append(all, sc.Lines[i].Marks...)
		}
	}
	for i := 1; i < len(all); i++ {
		for j := i; j > 0 && all[j].At > all[j-1].At; j-- {
			all[j], all[j-1] = all[j-1], all[j]
		}
	}
	var groups [][]stance.Mark
	for _, m := range all {
		if n := len(groups); n > 0 && groups[n-1][0].At-m.At <= clusterM {
			groups[n-1] = append(groups[n-1], m)
			continue
		}
		groups = append(groups, []stance.Mark{m})
	}
	return groups
}

var past = map[rig.MarkKind][2]string{
	rig.KnotMark: {"pass-knots-down", "pass-knots-up"}, rig.JoinMark: {"pass-knots-down", "pass-knots-up"},
	rig.RebelayMark: {"rebelay-down", "rebelay-up"}, rig.DeviationMark: {"deviation-down", "deviation-up"},
}

// obstacleRoom is how far around marks the strands decide how they are passed: further
// than anybody stands, reaches and settles on the way.
const obstacleRoom stance.Cm = 500

// pass is how long it takes past some marks, by the moves of one person or of a pair. It
// is searched for with what is near the marks alone, so that obstacles that are alike
// are searched for once, wherever they are.
func (pl *Planner) pass(sc *stance.Scene, set int, marks []stance.Mark, up, pair bool) obstacle {
	o := obstacle{at: marks[0].At, low: marks[len(marks)-1].At, name: markWords(marks)}
	for _, m := range marks {
		if m.Open {
			o.stops = "no knot takes it out"
			return o
		}
	}
	top := marks[0].At
	down := top - marks[len(marks)-1].At + obstacleRoom
	bound := min(obstacleStates, pl.states)
	if pair {
		bound = min(pairStates, pl.states)
	}
	if bound <= 0 {
		o.stops, o.undecided = search.ErrUndecided.Error(), true
		return o
	}
	w, lift := sc.Window([]int{set}, top, obstacleRoom, down)
	if w == nil {
		o.stops, o.undecided = "it has more anchors than are planned with", true
		return o
	}
	ask := passing(marks, set, up, w.Ground, lift)
	ask.MaxStates = bound
	found := pl.in.Cache.recall(pl.ctx, digest.Of("past", w.Digest(pl.kit(sc)), ask), func() searched {
		seconds, n, err := moves.Time(pl.ctx, w, *ask.From, ask)
		pl.states -= n
		return outcome(seconds, err)
	})
	o.seconds = found.seconds
	switch {
	case found.outcome == search.Undecided:
		o.stops, o.undecided = search.ErrUndecided.Error(), true
	case found.refused != "":
		o.stops = found.refused
	case found.outcome == search.None && pair:
		o.stops = "nobody lifts two past it with this kit"
	case found.outcome == search.None:
		o.stops = "it is not passed with this kit"
	}
	return o
}

// passing asks for the move past some marks, from just above or below them; lift is
// added to their heights.
func passing(marks []stance.Mark, set int, up bool, ground, lift stance.Cm) moves.Ask {
	kind := marks[0].Kind
	for _, m := range marks {
		if m.Kind == rig.RebelayMark {
			kind = m.Kind
		}
	}
	move, from := past[kind][0], marks[0].At+clusterM+stance.Apart
	if up {
		move, from = past[kind][1], marks[len(marks)-1].At-2*clusterM
	}
	at := max(from+lift, ground).M()
	return moves.Ask{Move: move, From: &at, Set: set}
}

func markWords(marks []stance.Mark) string {
	if marks[0].Name != "" {
		return marks[0].Name
	}
	return string(marks[0].Kind)
}
