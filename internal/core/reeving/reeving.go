// Package reeving reads how the ropes of a haul system run, says what each of its parts
// bears for a unit of pull, and what could be changed. It knows no person and no gear.
package reeving

import (
	"fmt"
	"slices"
	"strings"
	"zealousknot/internal/core/strict"
)

// Rope is one rope of a haul system: its path from the hand to its far end.
//
// A path begins with "hand", or "slack" where nobody pulls; in between stand
// "pulley:P@X", a pulley fixed to the anchor, the load or a grab ("grab:G"), and
// "grab:G", a grab that holds this rope at this place; it ends with "load",
// "anchor" or "grab:G".
type Rope struct {
	Rope string   `json:"rope" minLength:"1" maxLength:"40"`
	Path []string `json:"path" minItems:"2" maxItems:"40" maxLength:"100"`
}

// named are the haul systems that go by a ratio, each on one rope.
var named = map[string][]string{
	"1:1": {"hand", "pulley:A@anchor", "load"},
	"2:1": {"hand", "pulley:A@load", "anchor"},
	"3:1": {"hand", "pulley:A@grab:G", "pulley:B@anchor", "grab:G", "load"},
	"5:1": {"hand", "pulley:A@grab:G", "pulley:B@anchor", "pulley:C@grab:G", "pulley:D@anchor", "grab:G", "load"},
	"9:1": {"hand", "pulley:C@grab:H", "pulley:D@anchor", "grab:H", "pulley:A@grab:G", "pulley:B@anchor", "grab:G", "load"},
}

// What something is fixed to, where it is not the number of a grab.
const (
	toLoad   = -1
	toAnchor = -2
)

// element is one token of a path between its ends: a pulley, or a grab that
// holds the rope there.
type element struct {
	pulley int // number of the pulley; -1 for a grab
	grab   int // number of the grab that holds the rope, for a grab
	to     int // what a pulley is fixed to
}

// line is one rope of a reeving, read.
type line struct {
	rope     string
	hand     bool
	elements []element
	end      int
}

// place is a token of a reeving; it is written as a JSON Pointer only when
// something is wrong there.
type place struct {
	list        string
	rope, token int
}

func (p place) refuse(format string, args ...any) error {
	return strict.Faultf(fmt.Sprintf("%s/%d/path/%d", p.list, p.rope, p.token), format, args...)
}

// System is a haul system, read: every name is a number.
type System struct {
	// Pulleys and Grabs are their names, by their numbers.
	Pulleys, Grabs []string
	lines          []line
	// at is the token where each grab holds its rope.
	at []place
}

// reader reads a system.
type reader struct {
	System
	numbers map[string]int
	placed  map[string]bool
}

// Read reads the paths of a haul system, and refuses by the token what
// cannot be read or solved: unknown words, a grab that holds no rope or two,
// a pulley used twice, more than one hand, no load. Pointer is the JSON Pointer
// of the list.
func Read(ropes []Rope, pointer string) (*System, error) {
	r := &reader{numbers: map[string]int{}, placed: map[string]bool{}}
	r.grabsHeld(ropes, pointer)
	names, hands := map[string]bool{}, 0
	for i, rope := range ropes {
		if names[rope.Rope] {
			return nil, strict.Faultf(fmt.Sprintf("%s/%d/rope", pointer, i), "two ropes are called %q", rope.Rope)
		}
		names[rope.Rope] = true
		l, err := r.line(rope, place{list: pointer, rope: i})
		if err != nil {
			return nil, err
		}
		if l.hand {
			if hands++; hands > 1 {
				return nil, place{pointer, i, 0}.refuse("\"hand\": another rope begins with the hand already; the others begin with \"slack\"")
			}
		}
		r.lines = append(r.lines, l)
	}
	if hands == 0 {
		return nil, strict.Faultf(pointer, "no rope begins with \"hand\"")
	}
	if !r.reachesLoad() {
		return nil, strict.Faultf(pointer, "no load: no rope ends at \"load\" and no pulley is fixed to it")
	}
	return &r.System, nil
}

// grabsHeld numbers the grabs by where they hold a rope, so that paths may name
// them before.
func (r *reader) grabsHeld(ropes []Rope, pointer string) {
	for i, rope := range ropes {
		for j := 1; j < len(rope.Path)-1; j++ {
			name, ok := strings.CutPrefix(rope.Path[j], "grab:")
			if _, known := r.numbers[name]; ok && !known {
				r.numbers[name] = len(r.Grabs)
				r.Grabs = append(r.Grabs, name)
				r.at = append(r.at, place{pointer, i, j})
			}
		}
	}
}

func (r *reader) line(rope Rope, at place) (line, error) {
	l := line{rope: rope.Rope}
	last := len(rope.Path) - 1
	if last < 1 {
		return l, at.refuse("a path needs a beginning and an end")
	}
	switch rope.Path[0] {
	case "hand":
		l.hand = true
	case "slack":
	default:
		return l, at.refuse("%.60q: a path begins with \"hand\" or \"slack\"", rope.Path[0])
	}
	for j := 1; j < last; j++ {
		at.token = j
		e, err := r.element(rope.Path[j], at)
		if err != nil {
			return l, err
		}
		l.elements = append(l.elements, e)
	}
	at.token = last
	var err error
	l.end, err = r.fixed(rope.Path[last], at, "a path ends with \"load\", \"anchor\" or \"grab:NAME\"")
	return l, err
}

func (r *reader) element(token string, at place) (element, error) {
	if name, ok := strings.CutPrefix(token, "grab:"); ok {
		if r.placed[token] {
			return element{}, at.refuse("%.60q: this grab holds a rope already", token)
		}
		if !isName(name) {
			return element{}, at.refuse("%.60q: a grab needs a name of letters, digits, - or _", token)
		}
		r.placed[token] = true
		return element{pulley: -1, grab: r.numbers[name]}, nil
	}
	rest, ok := strings.CutPrefix(token, "pulley:")
	name, to, found := strings.Cut(rest, "@")
	if !ok || !found || !isName(name) {
		return element{}, at.refuse("%.60q: between the ends stand \"pulley:NAME@anchor\", \"pulley:NAME@load\", \"pulley:NAME@grab:NAME\" or \"grab:NAME\"", token)
	}
	if r.placed["pulley:"+name] {
		return element{}, at.refuse("%.60q: pulley %s has a rope already", token, name)
	}
	r.placed["pulley:"+name] = true
	e := element{pulley: len(r.Pulleys)}
	r.Pulleys = append(r.Pulleys, name)
	var err error
	e.to, err = r.fixed(to, at, "a pulley is fixed to \"anchor\", \"load\" or \"grab:NAME\"")
	return e, err
}

// fixed reads what a rope's end or a pulley is fixed to.
func (r *reader) fixed(to string, at place, wants string) (int, error) {
	switch to {
	case "load":
		return toLoad, nil
	case "anchor":
		return toAnchor, nil
	}
	name, ok := strings.CutPrefix(to, "grab:")
	if !ok {
		return 0, at.refuse("%.60q: %s", to, wants)
	}
	n, known := r.numbers[name]
	if !known {
		return 0, at.refuse("grab:%.40s holds no rope anywhere", name)
	}
	return n, nil
}

func (r *reader) reachesLoad() bool {
	for _, l := range r.lines {
		if l.end == toLoad {
			return true
		}
		for _, e := range l.elements {
			if e.pulley >= 0 && e.to == toLoad {
				return true
			}
		}
	}
	return false
}

// Named gives the reeving of a named system; nil for a name that has none.
func Named(name string) []Rope {
	path, known := named[name]
	if !known {
		return nil
	}
	return []Rope{{"main", slices.Clone(path)}}
}

// Check reports a reeving that cannot be, or that raises nothing; pointer is the JSON Pointer
// of the list.
func Check(ropes []Rope, pointer string) error {
	_, err := solved(ropes, pointer)
	return err
}

// solved gives the load that a unit pull raises with ideal pulleys.
func solved(ropes []Rope, pointer string) (ideal float64, err error) {
	s, err := Read(ropes, pointer)
	if err != nil {
		return 0, err
	}
	sol, err := s.Solve(s.Ideal())
	if err != nil {
		return 0, err
	}
	if sol.Load <= 0 {
		return 0, strict.Faultf(pointer, "no load: pulling on the hand's rope puts no force on it")
	}
	return sol.Load, nil
}

// Parts names the pulleys and grabs of a system, stated by its name or its reeving, in
// the order in which the hand's rope meets them.
func Parts(name string, ropes []Rope) (pulleys, grabs []string) {
	if ropes == nil {
		ropes = Named(name)
	}
	for _, rope := range ropes {
		for _, token := range rope.Path {
			if p, ok := strings.CutPrefix(token, "pulley:"); ok {
				p, _, _ = strings.Cut(p, "@")
				pulleys = append(pulleys, p)
			} else if g, ok := strings.CutPrefix(token, "grab:"); ok && token != rope.Path[len(rope.Path)-1] {
				grabs = append(grabs, g)
			}
		}
	}
	return pulleys, grabs
}

func isName(s string) bool {
	for _, c := range s {
		if (c < 'a' || c > 'z') && (c < 'A' || c > 'Z') && (c < '0' || c > '9') && c != '-' && c != '_' {
			return false
		}
	}
	return len(s) >= 1 && len(s) <= 40
}
