package procedure_test

import (
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/demo"
)

// worn is the check of what somebody wears, of those that a drop asks for today.
func worn(t *testing.T, d *drop.Document, person string) *procedure.Due {
	t.Helper()
	list := today(t, d)
	i := slices.IndexFunc(list, func(d procedure.Due) bool { return d.Kind == procedure.OfWorn && d.Person == person })
	if i < 0 {
		return nil
	}
	return &list[i]
}

// Whoever hangs looks at each thing on them that has no function check, in each shift;
// what is added asks for itself alone, and the last look at a thing decides.
func TestWorn(t *testing.T) {
	ids := func(d *procedure.Due) (list []string) {
		for _, p := range d.Proofs {
			list = append(list, p.ID)
		}
		return list
	}
	first := worn(t, demo.Drops()["gate-shaft"], "ivo")
	all := ids(first)
	if first.State != procedure.Passed || first.Why != "by Ivo Kestrane" || !slices.Contains(all, "lanyard-2") || !slices.Contains(all, "connector-67") || slices.Contains(all, "descender-21") {
		t.Fatalf("%+v", first)
	}
	const day = "2026-11-24"
	look := func(sound bool, items ...string) rig.WornCheck {
		c := rig.WornCheck{Person: "ivo", On: day, By: "Rhea Tolland"}
		for _, i := range items {
			c.Items = append(c.Items, rig.WornItem{Item: i, Sound: sound})
		}
		return c
	}
	over := look(true, all...)
	over.Over = "it was done 15 h ago"
	others, yesterday := look(true, all...), look(true, all...)
	others.Person, yesterday.On = "rhea", "2026-11-23"
	without := slices.DeleteFunc(slices.Clone(all), func(id string) bool { return id == "lanyard-2" })
	for name, c := range map[string]struct {
		checks []rig.WornCheck
		state  procedure.State
		why    string
		asks   []string
	}{
		"nothing recorded":            {nil, procedure.NotDone, "", all},
		"all sound":                   {[]rig.WornCheck{look(true, all...)}, procedure.Passed, "by Rhea", all},
		"somebody else's":             {[]rig.WornCheck{others}, procedure.NotDone, "", all},
		"yesterday":                   {[]rig.WornCheck{yesterday}, procedure.NotDone, "", all},
		"a shift that is over":        {[]rig.WornCheck{over}, procedure.Stale, "15 h ago", all},
		"one was left out":            {[]rig.WornCheck{look(true, without...)}, procedure.Stale, "lanyard 2 was not part of it", []string{"lanyard-2"}},
		"looked at in two goes":       {[]rig.WornCheck{look(true, without...), look(true, "lanyard-2")}, procedure.Passed, "", all},
		"one is not as it must be":    {[]rig.WornCheck{look(true, without...), look(false, "lanyard-2")}, procedure.Failed, "lanyard 2 was not as it must be, by Rhea", []string{"lanyard-2"}},
		"not sound, then sound":       {[]rig.WornCheck{look(false, "lanyard-2"), look(true, all...)}, procedure.Passed, "", all},
		"sound, then not":             {[]rig.WornCheck{look(true, all...), look(false, "lanyard-2")}, procedure.Failed, "", []string{"lanyard-2"}},
		"not sound in a shift before": {[]rig.WornCheck{over, look(false, "lanyard-2")}, procedure.Failed, "lanyard 2", all},
	} {
		d := demo.Drops()["gate-shaft"]
		d.WornChecks = c.checks
		got := worn(t, d, "ivo")
		if got.State != c.state || !strings.Contains(got.Why, c.why) || !slices.Equal(ids(got), c.asks) {
			t.Errorf("%s: %s, %q, %v", name, got.State, got.Why, ids(got))
		}
	}
	// A model's own instructions come before those of its class; who wears nothing is not asked.
	d := demo.Drops()["gate-shaft"]
	i := slices.IndexFunc(d.Items, func(i gear.Item) bool { return i.ID == "lanyard-2" })
	m := slices.IndexFunc(d.Models, func(m gear.Model) bool { return m.ID == d.Items[i].Model })
	d.Models[m].Proofs = []gear.Proof{{ID: "thread", Do: "Find the red thread.", Must: "It does not show."}}
	d.WornChecks = nil
	proof := worn(t, d, "ivo").Proofs[slices.Index(all, "lanyard-2")]
	if !strings.HasPrefix(proof.Do, "short lanyard 2: Find the red thread. ") || !strings.HasPrefix(proof.Must, "It does not show. ") {
		t.Errorf("%+v", proof)
	}
	bare := &d.People[0]
	bare.Harness, bare.Carries = "", nil
	for i := range bare.Holds {
		bare.Holds[i].Links = nil
	}
	if got := worn(t, d, "ivo"); got != nil {
		t.Errorf("%+v", got)
	}
}
