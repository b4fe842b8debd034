package drill

import (
	"context"
	"math/rand/v2"
	"slices"
	"testing"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/demo"
)

// Each fault of the catalogue goes onto some made-up rig, where before it there was none: its
// rule fires then, and no stop but what is declared to follow from it. What follows from a
// fault never has that fault follow from it, or neither would be one.
func TestCatalogue(t *testing.T) {
	tried := map[string]bool{}
	for seed := range uint64(8) {
		for s := range shapes {
			m := &maker{Asked: &Asked{Gear: demo.Gear()}, e: &Exercise{Level: 1}, rnd: rand.New(rand.NewPCG(seed, uint64(s)))}
			on, err := m.base(t.Context(), s)
			if err != nil {
				continue // the next seed has other gear
			}
			d, r := on.Drop, on.Rig
			if found, _, err := present(t.Context(), on); err != nil || len(found) > 0 {
				t.Fatalf("shape %d, seed %d: a sound rig has %v, %v", s, seed, found, err)
			}
			for i := range catalogue {
				p := &catalogue[i]
				for _, c := range p.places(r) {
					with := clone(d)
					c(with)
					then, err := site.Open(with)
					if err != nil {
						continue
					}
					found, _, err := present(t.Context(), then)
					if err != nil {
						t.Fatal(err)
					}
					switch {
					case len(found) == 1 && found[0].Rule == p.rule:
						tried[p.what] = true
					case slices.ContainsFunc(found, func(f Fault) bool { return f.Rule != p.rule }) && len(found) == 1:
						t.Errorf("%s: %s fires in place of %s", p.what, found[0].Rule, p.rule)
					}
				}
			}
		}
	}
	for i := range catalogue {
		p := &catalogue[i]
		if !tried[p.what] {
			t.Errorf("%s (%s) goes onto no rig so that it stands by itself", p.what, p.rule)
		}
		if !finding.Rule(p.rule) || len(pointedAt[p.rule]) == 0 {
			t.Errorf("%s: no rule %s", p.what, p.rule)
		}
		for _, f := range p.follows {
			if !finding.Rule(f) || slices.Contains(followsOf(f), p.rule) {
				t.Errorf("%s: %s follows from %s, and the other way round", p.what, f, p.rule)
			}
		}
	}
}

// Each rule of steps that stops has words by which one points at it, and none has another's.
func TestStepWords(t *testing.T) {
	for _, ofTeam := range []bool{false, true} {
		seen := map[string]bool{}
		for _, w := range StepWhats(ofTeam) {
			if w.What == "" || seen[w.What] {
				t.Errorf("%s has no words of its own: %q", w.Rule, w.What)
			}
			seen[w.What] = true
		}
		if len(seen) < 10 {
			t.Errorf("%d faults of steps", len(seen))
		}
	}
}

// Each step that a rule stops takes a quarter, not to get there takes half, and nothing is below
// nought; a look, and that the end is missing, take nothing by themselves.
func TestScored(t *testing.T) {
	of := func(severity finding.Severity, rule string, n int) (list []stance.Breach) {
		for i := range n {
			list = append(list, stance.Breach{Step: i + 1, Broken: []stance.Violation{{Rule: rule, Severity: severity}}})
		}
		return list
	}
	for _, c := range []struct {
		found   []stance.Breach
		reached bool
		want    float64
	}{
		{nil, true, 1}, {nil, false, 0.5}, {of(finding.Look, "device.drop", 3), true, 1}, {of(finding.Stop, "points.two", 1), true, 0.75},
		{of(finding.Stop, "points.two", 2), false, 0}, {of(finding.Stop, "points.two", 5), true, 0}, {of(finding.Stop, goalRule, 1), false, 0.5},
		{[]stance.Breach{{Step: 1, Impossible: "out of reach"}}, false, 0.25},
	} {
		if got := scored(c.found, c.reached); got != c.want {
			t.Errorf("%+v, reached %v: %v, not %v", c.found, c.reached, got, c.want)
		}
	}
}

// A stop that may follow from another is a fault of its own where that one is of somebody else.
func TestPresent(t *testing.T) {
	a := finding.Subject{Kind: finding.Hold, ID: "a", Person: "a", Strand: "s"}
	for name, c := range map[string]struct {
		f, cause finding.Finding
		want     bool
	}{
		"of one person": {finding.Finding{Rule: "points.two", Subject: a}, finding.Finding{Rule: "device.open", Subject: a}, true},
		"of another":    {finding.Finding{Rule: "points.two", Subject: finding.Subject{Kind: finding.Person, ID: "b", Person: "b"}}, finding.Finding{Rule: "device.open", Subject: a}, false},
		"of no such":    {finding.Finding{Rule: "rope.short", Subject: a}, finding.Finding{Rule: "device.open", Subject: a}, false},
		"of one anchor": {finding.Finding{Rule: "points.two", Subject: finding.Subject{Kind: finding.Person, ID: "b", Person: "b"}}, finding.Finding{Rule: "anchor.shared", Subject: finding.Subject{Kind: finding.Anchor, ID: "x"}}, true},
		"of one strand": {finding.Finding{Rule: "points.two", Subject: finding.Subject{Kind: finding.Hold, Person: "b", Strand: "s"}}, finding.Finding{Rule: "device.open", Subject: a}, true},
		"of itself":     {finding.Finding{Rule: "device.open", Subject: a}, finding.Finding{Rule: "device.open", Subject: a}, false},
		"the way round": {finding.Finding{Rule: "device.open", Subject: a}, finding.Finding{Rule: "points.two", Subject: a}, false},
	} {
		if got := from(&c.f, &c.cause); got != c.want {
			t.Errorf("%s: %v", name, got)
		}
	}
}

// Nothing is made for somebody who has stopped asking.
func TestStopped(t *testing.T) {
	ctx, stop := context.WithCancel(t.Context())
	stop()
	for _, k := range Kinds {
		if _, err := (&Asked{Kind: k, Gear: demo.Gear()}).Make(ctx); err != context.Canceled {
			t.Errorf("%s: %v", k, err)
		}
	}
}
