package check_test

import (
	"slices"
	"testing"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/demo"
)

// A model is tried as the rules judge it on a drop: at the limits of its rope and of its load
// in each mode, on both sides; every model of the demo that rides on a rope can be tried.
func TestModelTrial(t *testing.T) {
	g := demo.Gear()
	g.Items = append(g.Items, gear.Item{ID: "rope-s", Model: "rope-105", Serial: "s", Label: "rope s", State: gear.Quarantine, Reason: "wet", LengthM: 40, MeasuredMM: 10.5})
	rules := func(m *gear.Model, rope string, mass quantity.Kilograms) map[string][]string {
		t.Helper()
		tried, err := (&check.ModelAsked{Model: *m, Rope: rope, MassKg: mass}).Answer(t.Context(), g)
		if err != nil {
			t.Fatal(m.ID, err)
		}
		found := map[string][]string{}
		for _, one := range tried {
			found[one.Mode] = []string{}
			for _, f := range one.Findings {
				if f.Severity == finding.Stop {
					found[one.Mode] = append(found[one.Mode], f.Rule)
				}
			}
		}
		return found
	}
	tried, others := 0, map[gear.Class]int{}
	for i := range g.Models {
		m := &g.Models[i]
		if m.Class.Links() || m.Class == gear.Harness || m.Class == gear.Rope {
			others[m.Class]++
			weak := *m
			weak.StrengthKN = 0.5
			if got := rules(&weak, "rope-s", 100); !slices.Contains(got["one person"], "load.margin") {
				t.Errorf("%s of half a kilonewton: %v", m.ID, got)
			}
			if got := rules(m, "rope-s", 80); slices.Contains(got["one person"], "load.margin") {
				t.Errorf("%s: %v", m.ID, got)
			}
			continue
		}
		if m.Device == nil || !m.Class.RidesRope() {
			_, err := (&check.ModelAsked{Model: *m, Rope: "rope-s", MassKg: 80}).Answer(t.Context(), g)
			if refused, ok := err.(*strict.Error); !ok || refused.Faults[0].Pointer != "/model/class" {
				t.Errorf("%s: %v", m.ID, err)
			}
			continue
		}
		tried++
		for _, mode := range m.Device.Modes {
			r := mode.Ropes[0]
			for _, c := range []struct {
				mm   quantity.Millimetres
				mass quantity.Kilograms
				rule string
				stop bool
			}{
				{r.MinMM, mode.MaxKg, "rope.diameter", false}, {r.MaxMM, mode.MinKg, "rope.diameter", false},
				{r.MinMM - 0.01, mode.MaxKg, "rope.diameter", true}, {r.MaxMM + 0.01, mode.MaxKg, "rope.diameter", true},
				{r.MinMM, mode.MaxKg, "load.rated", false}, {r.MinMM, mode.MaxKg + 1, "load.rated", true},
			} {
				if c.mass <= 0 {
					c.mass = 1
				}
				g.Items[len(g.Items)-1].MeasuredMM = c.mm
				if got := slices.Contains(rules(m, "rope-s", c.mass)[mode.Name], c.rule); got != c.stop {
					t.Errorf("%s in %s on %v under %v: %s %v", m.ID, mode.Name, c.mm, c.mass, c.rule, got)
				}
			}
		}
	}
	if tried < 8 || len(others) < 6 {
		t.Errorf("%d models tried on a rope, %v otherwise", tried, others)
	}
	bare := gear.Model{ID: "x", Class: gear.Descender, Maker: "m", Name: "n", Source: "s"}
	for at, a := range map[string]check.ModelAsked{
		"/model/device": {Model: bare, Rope: "rope-s", MassKg: 80}, "/rope": {Model: g.Models[slices.IndexFunc(g.Models, func(m gear.Model) bool { return m.ID == "descender-a" })], Rope: "helmet-1", MassKg: 80},
	} {
		if _, err := a.Answer(t.Context(), g); err == nil || err.(*strict.Error).Faults[0].Pointer != at {
			t.Errorf("%s: %v", at, err)
		}
	}
}
