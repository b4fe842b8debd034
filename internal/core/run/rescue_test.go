package run_test

import (
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/run"
	"zealousknot/internal/core/site"
	"zealousknot/internal/demo"
)

// A run has the steps of the rescue of each person who is reached by somebody, those that the
// planner gives at their height; with nobody to come it has none.
func TestRescueSteps(t *testing.T) {
	with, past := 0, 0
	for id, d := range demo.Drops() {
		if d.Rescue == nil {
			continue
		}
		doc, err := run.Of(t.Context(), id, "", d, nil, false)
		if err != nil {
			t.Fatal(err)
		}
		s, err := site.Open(d)
		if err != nil {
			t.Fatal(err)
		}
		pl, err := cover.Open(t.Context(), s, cover.Options{})
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range s.Rig.People {
			i := slices.IndexFunc(pl.Ways(p.ID, p.AtM), func(w cover.Way) bool { return w.Works && !w.Last && w.Rescuer != "" })
			j := slices.IndexFunc(doc.Moves, func(m run.Move) bool { return m.ID == "rescue-"+p.ID })
			if len(p.Holds) == 0 || p.Grounded {
				continue
			}
			if (i < 0) != (j < 0) {
				t.Errorf("%s: a way to %s: %v, steps of it: %v", id, p.Name, i >= 0, j >= 0)
			}
			if j < 0 {
				continue
			}
			with++
			m := doc.Moves[j]
			w := pl.Ways(p.ID, p.AtM)[i]
			plan, err := pl.Plan(&w, p.ID, p.AtM)
			passes, err2 := pl.Passes(&w, p.ID, p.AtM)
			said := []string{}
			for _, pass := range passes {
				for _, st := range pass.Steps {
					said = append(said, "With both: "+st.Say)
				}
			}
			if err != nil || err2 != nil || len(plan.Steps)+len(said) != len(m.Steps) || m.Of != run.OfRescue || !strings.Contains(m.Name, w.Name) {
				t.Fatalf("%s: %v, %+v", id, err, m)
			}
			past += len(said)
			for n, words := range said {
				if say := m.Steps[len(plan.Steps)+n].Say; !strings.HasPrefix(words, say) {
					t.Errorf("%s: %q, want %q", id, say, words)
				}
			}
			for n, st := range plan.Steps {
				if m.Steps[n].Say != st.Say || m.Steps[n].Seconds != st.Seconds || m.Steps[n].Do != string(st.Action.Do) {
					t.Errorf("%s, step %d: %+v, want %+v", id, n+1, m.Steps[n], st)
				}
			}
		}
		for i := range d.People {
			d.People[i].Carries = nil // with nothing in hand nobody comes
		}
		if doc, err := run.Of(t.Context(), id, "", d, nil, false); err != nil || slices.ContainsFunc(doc.Moves, func(m run.Move) bool { return m.Of == run.OfRescue }) {
			t.Errorf("%s: %v, a rescue with nothing: %+v", id, err, doc)
		}
	}
	if with == 0 || past == 0 {
		t.Error("nobody has a rescue in steps, or none past anything")
	}
}
