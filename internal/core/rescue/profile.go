package rescue

import (
	"encoding/json"
	"errors"
	"fmt"
	"sync"

	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
)

// Cache keeps what was found for a body, its kit and a set of strands, so that what
// does not change is not searched for again. The zero Cache is ready; it may be used by
// several at once, and forgets all of it when it is full.
type Cache struct {
	mu    sync.Mutex
	known map[string]any
}

// mostKnown bounds a cache.
const mostKnown = 4096

// recall gives what is known under a key, made where it is not.
func recall[T any](c *Cache, key string, make func() T) T {
	c.mu.Lock()
	v, ok := c.known[key]
	c.mu.Unlock()
	if ok {
		return v.(T)
	}
	made := make()
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.known == nil || len(c.known) >= mostKnown {
		c.known = map[string]any{}
	}
	c.known[key] = made
	return made
}

// obstacle is a mark, or marks close together, on the way along a set.
type obstacle struct {
	at      stance.Cm
	name    string
	seconds float64
	// stops says why it is not passed; empty: it is.
	stops string
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

// between sums the way between two heights: seconds, or why it is stopped. Near is how
// close to a mark one may stay without passing it.
func (p *profile) between(low, high stance.Cm, metre float64) (seconds float64, passed []string, stops string) {
	if p.stops != "" {
		return 0, nil, p.stops
	}
	seconds = p.begin + metre*float64((high-low).M())
	for _, o := range p.obstacles {
		if o.at <= low || o.at >= high {
			continue
		}
		if o.stops != "" {
			return 0, nil, fmt.Sprintf("%s at %v: %s", o.name, o.at.M(), o.stops)
		}
		seconds += o.seconds
		passed = append(passed, fmt.Sprintf("%s at %v, %.0f s", o.name, o.at.M(), o.seconds))
	}
	return seconds, passed, ""
}

// bodyKey says what of a body and its kit decides what is found; linesKey what of the
// strands of a set does.
func bodyKey(sc *stance.Scene) string {
	type tool struct {
		Item       string
		Model      any
		Length     stance.Cm
		Connectors int
		Stands     bool
	}
	key := struct {
		Name       string
		Tools      []tool
		Connectors int
		Mass       quantity.Kilograms
		Schools    any
		Up, Out    stance.Cm
		Pace       stance.Pace
	}{Name: sc.Name, Connectors: sc.Connectors, Mass: sc.MassKg, Schools: sc.Schools, Up: sc.Up, Out: sc.Out, Pace: sc.Pace}
	for i := range sc.Tools {
		t := &sc.Tools[i]
		key.Tools = append(key.Tools, tool{t.Item, t.Model, t.Length, t.Connectors, t.Stands})
	}
	text, _ := json.Marshal(key)
	return string(text)
}

func linesKey(sc *stance.Scene, set int) string {
	var lines []stance.Line
	for i := range sc.Lines {
		if sc.Lines[i].Set == set {
			lines = append(lines, sc.Lines[i])
		}
	}
	text, _ := json.Marshal(lines)
	return string(text)
}

// clusterM is how close together marks are passed in one go.
const clusterM stance.Cm = 100

// mostTried bounds the search for one obstacle.
const mostTried = 6000

// profileOf finds what is in the way along a set, up or down.
func profileOf(c *Cache, sc *stance.Scene, body string, set int, up, pair bool) *profile {
	p := &profile{begin: overEdgeS}
	if up {
		p.begin = offGroundS
	}
	if pair {
		p.begin = 0
	}
	if lineOf(sc, "main", set) < 0 || lineOf(sc, "backup", set) < 0 {
		p.stops = fmt.Sprintf("set %d has not both strands", set)
		return p
	}
	for _, group := range marksOf(sc, set) {
		// Obstacles that are alike are passed alike, wherever they are.
		o := recall(c, fmt.Sprintf("obstacle %v %v %s %s", up, pair, body, shape(sc, set, group)), func() obstacle { return pass(sc, set, group, up, pair) })
		o.at, o.name = group[0].At, markWords(group)
		p.obstacles = append(p.obstacles, o)
	}
	return p
}

// shape is what of some marks decides how they are passed: what they are, on which
// strand, how far apart, and what is aside of them.
func shape(sc *stance.Scene, set int, marks []stance.Mark) string {
	text := ""
	for i := range sc.Lines {
		if sc.Lines[i].Set != set {
			continue
		}
		text += fmt.Sprintf("|%s %d", sc.Lines[i].Role, sc.Lines[i].X)
		for n, m := range sc.Lines[i].Marks {
			if d := marks[0].At - m.At; d >= -4*clusterM && d <= 5*clusterM {
				text += fmt.Sprintf(" %s %d %v %d %v %d", m.Kind, d, m.Clip, m.Loop, m.Open, sc.X(i, n+1)-sc.X(i, n))
			}
		}
	}
	return text
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

// pass is how long it takes past some marks, by the moves of one person.
func pass(sc *stance.Scene, set int, marks []stance.Mark, up, pair bool) obstacle {
	o := obstacle{at: marks[0].At, name: markWords(marks)}
	relay := false
	for _, m := range marks {
		relay = relay || m.Kind == rig.RebelayMark
		if m.Open {
			o.stops = "no knot takes it out"
			return o
		}
	}
	if k := marks[0].Kind; pair && !relay && (k == rig.KnotMark || k == rig.JoinMark) {
		// From one descender onto another below a knot of the same strand somebody has to
		// be lifted: no search finds what cannot be.
		o.stops = "nobody lifts two past it with this kit"
		return o
	}
	plan, err := passing(sc, set, marks, up)
	switch {
	case errors.Is(err, search.ErrNone) && pair:
		o.stops = "nobody lifts two past it with this kit"
	case err != nil:
		o.stops = "it is not passed with this kit"
	default:
		o.seconds = plan.Seconds
	}
	return o
}

// passing is the move past some marks, from just above or below them.
func passing(sc *stance.Scene, set int, marks []stance.Mark, up bool) (*moves.MovePlan, error) {
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
	at := max(from, sc.Ground).M()
	return moves.For(sc, at, moves.Ask{Move: move, From: &at, Set: set, Most: mostTried})
}

func markWords(marks []stance.Mark) string {
	if marks[0].Name != "" {
		return marks[0].Name
	}
	return string(marks[0].Kind)
}
