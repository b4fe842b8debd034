package team

import (
	"cmp"
	"slices"

	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// Offer is one thing that a team could do next, right or wrong.
type Offer struct {
	Action Action `json:"action"`
	Say    string `json:"say"`
	// With is what it is done at: main, belay, or the load.
	With string `json:"with"`
	// Who has the hands that do it, Role what they are at.
	Who string `json:"who,omitempty"`
	// LowM and HighM are the heights between which AtM of the action may be; nil where it
	// has none.
	LowM  *quantity.Metres `json:"low_m,omitempty"`
	HighM *quantity.Metres `json:"high_m,omitempty"`
	// Call is said before it, unless it is done silently.
	Call string `json:"call,omitempty"`
}

// TheLoad is what an offer is done at that is done at neither strand alone.
const TheLoad = "the load"

// Has reports whether an action is the one that is offered, at any height that it may have,
// with or without its call.
func (o *Offer) Has(a Action) bool {
	if o.LowM != nil {
		at := stance.ToCm(a.AtM)
		if at < stance.ToCm(*o.LowM) || at > stance.ToCm(*o.HighM) {
			return false
		}
		a.AtM = o.Action.AtM
	}
	a.Silent = false
	return a == o.Action
}

// atLoad are done at neither strand, moved are done to a height.
var (
	atLoad = []Do{Over, Lower, Share, Unshare}
	moved  = []Do{Lower, Haul, Turn}
)

// Offers lists everything that could physically be done from a state, whatever the rules
// say of it.
func (r *Rig) Offers(s *State) (list []Offer) {
	for _, row := range manoeuvre.Team {
		do := Do(row.Do)
		at := lines[:]
		if slices.Contains(atLoad, do) {
			at = []string{""}
		}
		for _, line := range at {
			for _, a := range r.variants(do, line) {
				if o, ok := r.offer(s, a); ok {
					list = append(list, o)
				}
			}
		}
	}
	return list
}

// variants are the ways in which an action could be done.
func (r *Rig) variants(do Do, line string) (list []Action) {
	a := Action{Do: do, Line: line}
	switch do {
	case HandOn, Swap:
		for by := range r.Operators {
			a.By = by + 1
			list = append(list, a)
		}
		a.By, a.Forward = 1, true
		if line == "belay" {
			a.By = min(2, len(r.Operators))
		}
	case Build:
		for _, a.Ratio = range []int{1, 2, 3, 5, 9} {
			list = append(list, a)
		}
		return list
	case PutGrab:
		loose, behind := a, a
		loose.Loose, behind.Behind = true, true
		list = append(list, loose, behind)
	}
	return append(list, a)
}

func (r *Rig) offer(s *State, a Action) (o Offer, ok bool) {
	can := func(at stance.Cm) bool {
		a.AtM = at.M()
		_, _, err := r.do(*s, a)
		return err == nil
	}
	if slices.Contains(moved, a.Do) {
		to, step := stance.Cm(0), stance.Cm(-1)
		if a.Do != Lower {
			to, step = stance.ToCm(r.EdgeM), 1
		}
		far := furthest(s.At, to, step, can)
		if far == s.At {
			return o, false
		}
		low, high := min(far, s.At+step), max(far, s.At+step)
		o.LowM, o.HighM, a.AtM = new(low.M()), new(high.M()), far.M()
	} else if _, _, err := r.do(*s, a); err != nil {
		return o, false
	}
	o.Action, o.With = a, cmp.Or(a.Line, TheLoad)
	o.Call, _ = r.Call(a.Do)
	o.Who, o.Say = r.handsOf(s, &a), r.offered(&a)
	return o, true
}

// furthest is how far a load gets from a height towards another, by steps of one centimetre,
// where what keeps it from a height keeps it from all beyond.
func furthest(from, to, step stance.Cm, can func(stance.Cm) bool) stance.Cm {
	if (to-from)*step <= 0 || !can(from+step) {
		return from
	}
	good, bad := from+step, to+step
	for (bad-good)*step > 1 {
		if mid := good + (bad-good)/2; can(mid) {
			good = mid
		} else {
			bad = mid
		}
	}
	return good
}

// offered is an action in words that do not say how it is done right.
func (r *Rig) offered(a *Action) string {
	words := string(a.Do)
	for _, row := range manoeuvre.Team {
		if row.Do == string(a.Do) {
			words = row.Title
		}
	}
	switch {
	case a.Forward:
		words += ", the strand led forward to the load"
	case a.Do == HandOn:
		words += ", the strand led back"
	case a.Loose:
		words += ", with slack in the hitch"
	case a.Behind:
		words += ", behind the brake"
	case a.Do == PutGrab:
		words += ", on the load side, the hitch snug"
	case a.Ratio > 0:
		words += " of " + mechanicalAdvantage[a.Ratio]
	}
	if a.By > 0 && a.By <= len(r.Operators) {
		words += ": " + r.Operators[a.By-1]
	}
	return words
}

var mechanicalAdvantage = map[int]string{1: "1:1", 2: "2:1", 3: "3:1", 5: "5:1", 9: "9:1"}

// After gives the state that a list leads to from where a move begins, and whether that is
// where the move ends. A *strict.Error names what cannot be asked.
func (r *Rig) After(ask Ask, actions []Action) (end State, reached bool, err error) {
	_, start, goals, err := r.begin(ask)
	if err != nil {
		return end, false, err
	}
	_, end = r.Replay(start, actions)
	return end, goals[len(goals)-1].is(&end), nil
}
