// Package callout answers for a team that is called out and knows little: ranges go in, and
// the worst end of each comes out, with the rig that its vehicles' kits give.
//
// Every figure is of a drop that is made for one point of the ranges and asked like any other:
// the package has no formula of its own. Figures that only grow, or only shrink, along a
// range need its ends alone; edges are taken by the policy's parts, least and most. It knows
// no store and no clock.
package callout

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/strict"
)

// Format and Version mark a callout's document.
const (
	Format  = "callout"
	Version = 1
)

// Span is what is known of a length: no less than LowM, no more than HighM.
type Span struct {
	LowM  quantity.Metres `json:"low_m" minimum:"0" maximum:"600"`
	HighM quantity.Metres `json:"high_m" minimum:"0" maximum:"600"`
}

// Masses is what is known of a mass.
type Masses struct {
	LowKg  quantity.Kilograms `json:"low_kg" exclusiveMinimum:"0" maximum:"600"`
	HighKg quantity.Kilograms `json:"high_kg" exclusiveMinimum:"0" maximum:"600"`
}

// Known is what a team knows when it is called. Everything may be left out: it is not known,
// and its worst end counts.
type Known struct {
	HeightM *Span `json:"height_m,omitempty" doc:"from the edge down to the landing"`
	BackM   *Span `json:"back_m,omitempty" doc:"from the edge back to the anchors"`
	// Edge is what the ropes run over.
	Edge string `json:"edge,omitempty" enum:"roller,pad,sleeve,none,free" doc:"how it is protected; free: the ropes hang from the anchors and touch none"`
	Load string `json:"load,omitempty" enum:"one,two,stretcher" doc:"one person, two, or a stretcher with its attendant"`
	// MassKg narrows what is taken for the load.
	MassKg  *Masses `json:"mass_kg,omitempty" doc:"of the load with everything; left out: as is usual for it"`
	Landing string  `json:"landing,omitempty" enum:"ground,deck,water,boat"`
	// Ropes are how they are tonight: wet ones leave more for the hand.
	Ropes  gear.Condition `json:"ropes,omitempty" enum:"dry,wet,icy" doc:"how the ropes are; left out: wet counts where that is worse"`
	Knots  *bool          `json:"knots,omitempty" doc:"whether ropes may be joined, so that a knot is passed"`
	People []Comer        `json:"people,omitempty" maxItems:"40"`
	Kits   []string       `json:"kits,omitempty" maxItems:"40" minLength:"1" maxLength:"80" doc:"names of the kits that are in the vehicles; left out: everything that is in a kit"`
}

// Comer is somebody who is coming.
type Comer struct {
	Name       string          `json:"name" minLength:"1" maxLength:"80"`
	ArrivesMin int             `json:"arrives_min,omitempty" minimum:"0" maximum:"1440" doc:"minutes from now; left out: is here"`
	AwakeH     *quantity.Hours `json:"awake_h,omitempty" minimum:"0" maximum:"96" doc:"left out: not known"`
}

// Asked asks for the card of a callout.
type Asked struct {
	Known  Known          `json:"known"`
	Day    gear.Date      `json:"day" format:"date"`
	Models []gear.Model   `json:"models,omitempty" maxItems:"5000" doc:"with items: what there is; both left out: the team's store"`
	Items  []gear.Item    `json:"items,omitempty" maxItems:"5000"`
	Kits   []gear.Kit     `json:"kits,omitempty" maxItems:"1000" doc:"what did not come back of one is not counted on"`
	Policy *policy.Policy `json:"policy,omitempty" doc:"left out: as shipped"`
	// Used is a rig that stands already: nothing is chosen then.
	Used     *Used `json:"used,omitempty" doc:"the rig that is used, in place of the one that would be chosen"`
	Exercise bool  `json:"exercise,omitempty"`
}

// Used are the things of a rig, by the ids of items.
type Used struct {
	Main  UsedLine `json:"main"`
	Belay UsedLine `json:"belay"`
}

// UsedLine is one line; ropes from the brake down.
type UsedLine struct {
	Brake string   `json:"brake" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Ropes []string `json:"ropes" minItems:"1" maxItems:"2" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
}

// usual is what is taken for a load: its mass with everything, from a light person with little
// to a heavy one with equipment, and a stretcher of 10 to 20 kg.
var usual = map[string]struct {
	words   string
	mass    Masses
	persons int
}{
	"one":       {"one person", Masses{80, 130}, 1},
	"two":       {"two persons", Masses{160, 260}, 2},
	"stretcher": {"a stretcher with its attendant", Masses{160, 280}, 2},
}

// unknownBack is what is taken where nobody knows how far back the anchors are.
var unknownBack = Span{0.5, 15}

// Point is one case inside what is known.
type Point struct {
	HeightM quantity.Metres    `json:"height_m"`
	BackM   quantity.Metres    `json:"back_m"`
	Edge    string             `json:"edge"`
	MassKg  quantity.Kilograms `json:"mass_kg"`
	Load    string             `json:"load"`
	// Ropes is how they are; empty: each as the store has it.
	Ropes gear.Condition `json:"ropes,omitempty"`
}

func (p Point) words() string {
	edge := map[string]string{"roller": "over a roller", "pad": "over a pad", "sleeve": "over a sleeve", "none": "over a bare edge", "free": "hanging free"}[p.Edge]
	return fmt.Sprintf("%v down, anchors %v back, %v, %s", p.HeightM, p.BackM, p.MassKg, edge)
}

// Validate names what cannot be.
func (k *Known) Validate(at string, p *strict.Faults) {
	for name, s := range map[string]*Span{"height_m": k.HeightM, "back_m": k.BackM} {
		switch {
		case s == nil:
		case s.LowM > s.HighM:
			p.Addf(at+"/"+name, "from %v to %v: the low end is above the high end", s.LowM, s.HighM)
		case name == "height_m" && s.HighM < 1:
			p.Addf(at+"/height_m/high_m", "less than a metre is no drop")
		}
	}
	if m := k.MassKg; m != nil && m.LowKg > m.HighKg {
		p.Addf(at+"/mass_kg", "from %v to %v: the low end is above the high end", m.LowKg, m.HighKg)
	}
	seen := map[string]bool{}
	for i, c := range k.People {
		if seen[c.Name] {
			p.Addf(fmt.Sprintf("%s/people/%d/name", at, i), "%s is on the list already", c.Name)
		}
		seen[c.Name] = true
	}
}

// back is the way back to the anchors.
func (k *Known) back() Span {
	if k.Edge == "free" {
		return Span{}
	}
	if k.BackM == nil {
		return unknownBack
	}
	return *k.BackM
}

// loads are the loads that it may be, the lightest and the heaviest end, with the ropes that
// make it worse.
func (k *Known) loads() (low, high Point) {
	light, heavy := k.Load, k.Load
	if k.Load == "" {
		light, heavy = "one", "stretcher"
	}
	low, high = Point{Load: light, MassKg: usual[light].mass.LowKg, Ropes: k.Ropes}, Point{Load: heavy, MassKg: usual[heavy].mass.HighKg, Ropes: k.Ropes}
	if k.Ropes == "" {
		// The heaviest on wet ropes asks most of the hand, the lightest on dry ones hardly runs.
		high.Ropes = gear.Wet
	}
	if m := k.MassKg; m != nil {
		low.MassKg, high.MassKg = m.LowKg, m.HighKg
	}
	return low, high
}

// edges are those that it may be, by the part of a pull that gets over them: least first.
func (k *Known) edges(p *policy.Policy) (least, most string) {
	if k.Edge != "" {
		return k.Edge, k.Edge
	}
	all := []string{"none", "sleeve", "pad", "roller"}
	slices.SortStableFunc(all, func(a, b string) int {
		if p.EdgePart.Of(a) < p.EdgePart.Of(b) {
			return -1
		}
		return 1
	})
	return all[0], "free"
}

// corners are the points at the ends of everything that is known, with a height of its own:
// the greatest, since rope, haul and heat only grow with it. What grows towards the edge is
// looked at from the edge down.
func (k *Known) corners(height quantity.Metres, p *policy.Policy) []Point {
	back := k.back()
	low, high := k.loads()
	least, most := k.edges(p)
	var list []Point
	for _, load := range []Point{high, low} {
		for _, edge := range []string{least, most} {
			for _, b := range []quantity.Metres{back.HighM, back.LowM} {
				q := load
				q.HeightM, q.Edge, q.BackM = height, edge, b
				if edge == "free" {
					q.BackM = 0
				}
				if !slices.Contains(list, q) {
					list = append(list, q)
				}
			}
		}
	}
	return list
}

// Answer makes the card. A *strict.Error names what cannot be asked; else the error is the
// context's.
func (a *Asked) Answer(ctx context.Context) (*Card, error) {
	var faults strict.Faults
	a.Known.Validate("/known", &faults)
	if a.Policy != nil {
		a.Policy.Validate("/policy", &faults)
	}
	for i, name := range a.Known.Kits {
		if !slices.ContainsFunc(a.Items, func(it gear.Item) bool { return it.Kit == name }) {
			faults.Addf(fmt.Sprintf("/known/kits/%d", i), "nothing is in a kit called %q", name)
		}
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	p := a.Policy
	if p == nil {
		p = policy.Default()
	}
	m := newMaking(&a.Known, open(a.Known.Kits, a.Items, a.Models), a.Day, p.With(), a.Exercise)
	m.kits, m.items = a.Kits, a.Items
	if a.Used != nil {
		if err := m.fix(a); err != nil {
			return nil, err
		}
	}
	return m.card(ctx)
}

// join writes a list with "and".
func join(list []string) string {
	if len(list) < 2 {
		return strings.Join(list, "")
	}
	return strings.Join(list[:len(list)-1], ", ") + " and " + list[len(list)-1]
}
