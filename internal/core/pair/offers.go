package pair

import (
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// Offer is one thing that a rescuer beside a casualty could do next, right or wrong.
type Offer struct {
	Action Action `json:"action"`
	Say    string `json:"say"`
	// With is at whose things it is done.
	With string `json:"with"`
	// LowM and HighM are the heights between which AtM of the action may be; nil where it
	// has none.
	LowM  *quantity.Metres `json:"low_m,omitempty"`
	HighM *quantity.Metres `json:"high_m,omitempty"`
}

// What an offer is done with.
const (
	AtOwn    = "your own descender"
	AtTheirs = "the casualty's things"
	Between  = "between you two"
	Both     = "both of you"
)

// Has reports whether an action is the one that is offered, at any height that it may have;
// locked or not.
func (o *Offer) Has(a Action) bool {
	if o.LowM != nil {
		at := stance.ToCm(a.AtM)
		if at < stance.ToCm(*o.LowM) || at > stance.ToCm(*o.HighM) {
			return false
		}
		a.AtM = o.Action.AtM
	}
	a.Unlocked = false
	return a == o.Action
}

// with says at whose things an action is done.
var with = map[Do]string{
	Park: AtOwn, TieOff: AtOwn, UntieOff: AtOwn, Unpark: AtOwn, Bend: AtOwn, ClearAll: Between, LongOn: Between, ChainOn: Between, LockIt: Between, TakeStrand: Both,
	FreeTheirs: AtTheirs, LowerTheirs: AtTheirs, RigLift: AtTheirs, Lift: AtTheirs, LetUp: AtTheirs, TakeOff: AtTheirs, Descend: Both, Land: Both,
}

// longest is how many connectors a chain is offered with at most.
const longest = 8

// Offers lists everything that could physically be done by a rescuer with a pair as it is,
// whatever the rules say of it.
func (sc *Scene) Offers(p *State) (list []Offer) {
	for _, row := range manoeuvre.Rescue {
		for _, a := range sc.variants(p, Do(row.Do)) {
			o := Offer{Action: a, Say: row.Title, With: with[a.Do]}
			switch {
			case a.Do == ChainOn:
				o.Say = fmt.Sprintf("%s: %s", row.Title, quantity.Count(a.Links).Of("connector"))
				if a.Strap {
					o.Say += " and a strap"
				}
			case a.Do == TakeStrand || a.Do == Bend:
				o.Say = row.Title + map[Strand]string{Rescuers: ": your own", Casualtys: ": the casualty's"}[a.Strand]
			case a.Do == TakeOff:
				o.Say = row.Title + ": " + sc.C.Tools[sc.C.Tool(a.Item)].Label
			}
			if a.Do == Descend && !sc.reachesDown(p, &o) {
				continue
			}
			if _, _, err := sc.do(*p, o.Action); err == nil {
				list = append(list, o)
			}
		}
	}
	return list
}

// reachesDown gives an offer to go down the heights that it may have; false for none.
func (sc *Scene) reachesDown(p *State, o *Offer) bool {
	can := func(at stance.Cm) bool {
		_, _, err := sc.do(*p, Action{Do: Descend, AtM: at.M()})
		return err == nil
	}
	low, high := p.R.At, p.R.At-1
	for step := p.R.At - sc.R.Ground; step > 0; step /= 2 {
		for low-step >= sc.R.Ground && can(low-step) {
			low -= step
		}
	}
	if low == p.R.At {
		return false
	}
	o.Action.AtM, o.LowM, o.HighM = low.M(), new(low.M()), new(high.M())
	return true
}

// variants are the ways in which an action could be done.
func (sc *Scene) variants(p *State, do Do) (list []Action) {
	switch do {
	case ChainOn:
		for n := 1; n <= min(longest, sc.Connectors); n++ {
			list = append(list, Action{Do: do, Links: n})
		}
		if sc.StrapCm > 0 {
			list = append(list, Action{Do: do, Links: 1, Strap: true})
		}
	case TakeStrand, Bend:
		list = []Action{{Do: do, Strand: Rescuers}, {Do: do, Strand: Casualtys}}
	case TakeOff:
		for i := range sc.C.Tools {
			if p.C.Holds[i].There && sc.C.Tools[i].Class != gear.Lanyard {
				list = append(list, Action{Do: do, Item: sc.C.Tools[i].Item})
			}
		}
	default:
		list = []Action{{Do: do}}
	}
	return list
}
