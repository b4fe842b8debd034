package fit

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// What several bodies hang on bears them together: the legs of an anchor that holds strands of
// several sets, and a point of the structure on which several anchors stand. Each body counts once
// on a leg, by the hold that loads it most.

// crowdMargin is load.margin of what several bodies hang on.
func crowdMargin(c *Context) ([]finding.Finding, int) {
	parts := crowded(c.Rig)
	return margins(parts, c), len(parts)
}

// crowdLimits is load.wll of what several bodies hang on.
func crowdLimits(c *Context) ([]finding.Finding, int) {
	parts := crowded(c.Rig)
	return limits(parts, 0), len(parts)
}

// WithOthers gives what stops a rescuer's hold that nobody has made yet on anchors that hold others
// too, each where they hang. The casualty, of this id, hangs at the hold's height, or on the hold
// where it is for two.
func WithOthers(h *rig.HoldView, c *Context, casualty string) []finding.Finding {
	t := &tally{legs: map[string]*crowdedLeg{}}
	t.add(h.Person.Name, now(h))
	own := len(t.order)
	for _, p := range bodies(c.Rig) {
		switch {
		case p.Grounded || p.ID == h.Person.ID || p.ID == casualty && h.Second() > 0:
		case p.ID == casualty:
			t.add(p.Name, now(at(p, h.Person.AtM)...))
		default:
			t.add(p.Name, now(p.Holds...))
		}
	}
	t.order = t.order[:own]
	parts := t.parts()
	found := append(limits(parts, 0), margins(parts, c)...)
	return slices.DeleteFunc(found, func(f finding.Finding) bool { return f.Severity != finding.Stop })
}

// at are somebody's holds with their body at another height.
func at(p *rig.PersonView, height quantity.Metres) []*rig.HoldView {
	person, view := *p.Person, *p
	person.AtM, view.Person, view.Holds = height, &person, nil
	for _, h := range p.Holds {
		there := *h
		there.Person = &view
		view.Holds = append(view.Holds, &there)
	}
	return view.Holds
}

// crowded are the legs that several bodies hang on, or come to hang on along their strands, each
// with all of them.
func crowded(r *rig.Rig) []part {
	t := &tally{legs: map[string]*crowdedLeg{}}
	for _, p := range bodies(r) {
		if waits(p, r) {
			continue
		}
		all := now(p.Holds...)
		for _, h := range p.Holds {
			all = append(all, sections(h, math.Inf(1))...)
		}
		t.add(p.Name, all)
	}
	return t.parts()
}

// now are the legs that some holds hang on where they are.
func now(holds ...*rig.HoldView) (list []part) {
	for _, h := range holds {
		list = append(list, legParts(h, h.Strand.SectionAt(h.Person.AtM), hanging(h.Strand, h.HeightM()))...)
	}
	return list
}

type crowdedLeg struct {
	part
	names []string
}

// tally adds bodies up by the points of the structure that they hang on.
type tally struct {
	legs  map[string]*crowdedLeg
	order []string
}

// add puts a body on its legs, on each once.
func (t *tally) add(name string, parts []part) {
	slices.SortStableFunc(parts, func(a, b part) int { return cmp.Compare(b.load, a.load) })
	done := map[string]bool{}
	for _, p := range parts {
		if done[p.leg] {
			continue
		}
		done[p.leg] = true
		l := t.legs[p.leg]
		if l == nil {
			l = &crowdedLeg{part: p}
			l.load = 0
			t.legs[p.leg] = l
			t.order = append(t.order, p.leg)
		}
		l.load += p.load
		l.names = append(l.names, name)
		l.strength, l.limit = weaker(l.strength, p.strength), weaker(l.limit, p.limit)
	}
}

// parts are the legs with several bodies of which a strength or a limit is known.
func (t *tally) parts() (list []part) {
	for _, id := range t.order {
		l := t.legs[id]
		if len(l.names) < 2 || l.strength == 0 && l.limit == 0 {
			continue
		}
		l.when = ", with " + strings.Join(l.names, " and ") + " on it"
		l.working = []finding.Working{finding.Work("load of all on the leg", "Σ load at rest", l.load, "low while anything moves", finding.Fig("bodies", quantity.Count(len(l.names))))}
		list = append(list, l.part)
	}
	return list
}

// bodies are all that hang on a rig, with what a team lowers.
func bodies(r *rig.Rig) []*rig.PersonView {
	if t := r.Team; t != nil && t.Body != nil {
		return append(slices.Clone(r.People), t.Body)
	}
	return r.People
}

// waits reports whether somebody stands and shares a strand: they go on it when who is on it is off.
func waits(p *rig.PersonView, r *rig.Rig) bool {
	return p.Grounded && slices.ContainsFunc(p.Holds, func(h *rig.HoldView) bool {
		return slices.ContainsFunc(bodies(r), func(o *rig.PersonView) bool {
			return o.ID != p.ID && slices.ContainsFunc(o.Holds, func(k *rig.HoldView) bool { return k.Strand == h.Strand })
		})
	})
}

// weaker is the smaller of two that are known; 0 where neither is.
func weaker(a, b quantity.Kilonewtons) quantity.Kilonewtons {
	if a == 0 || b != 0 && b < a {
		return b
	}
	return a
}
