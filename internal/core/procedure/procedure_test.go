package procedure_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/demo"
)

func today(t *testing.T, d *drop.Document) []procedure.Due {
	t.Helper()
	r, err := check.Drop(t.Context(), d, nil, check.Detail{Checks: true})
	if err != nil {
		t.Fatal(err)
	}
	return r.Checks
}

// of is the check of an item, or of a person's rigging.
// proved are all proofs of the first check's device, done.
func proved(t *testing.T, d *drop.Document) (list []rig.ProofResult) {
	t.Helper()
	for _, p := range of(t, d, d.Checks[0].Item).Proofs {
		list = append(list, rig.ProofResult{Proof: p.ID, Did: true})
	}
	return list
}

func of(t *testing.T, d *drop.Document, id string) procedure.Due {
	t.Helper()
	list := today(t, d)
	i := slices.IndexFunc(list, func(d procedure.Due) bool {
		return d.Item == id || d.Kind == procedure.OfPartner && d.Person == id
	})
	if i < 0 {
		t.Fatalf("no check of %s", id)
	}
	return list[i]
}

// Every proof of every class and model says all of it, once; what a model does
// not have is not asked for; a model's own text comes before the class's.
func TestProofs(t *testing.T) {
	titled := map[string]bool{}
	for _, m := range demo.Models() {
		list := procedure.Of(&m)
		seen := map[string]bool{}
		for _, p := range list {
			if p.ID == "" || p.Do == "" || p.Must == "" || p.Fails == "" || p.Cue == "" || p.Sign == "" || seen[p.ID] {
				t.Errorf("%s: %+v", m.ID, p)
			}
			seen[p.ID], titled[p.ID] = true, true
			if procedure.Titles[p.ID] == "" {
				t.Errorf("%s: the proof %s has no title", m.ID, p.ID)
			}
			for _, word := range []string{"safe", "OK", "!"} {
				if strings.Contains(p.Do+p.Must+p.Fails, word) {
					t.Errorf("%s: %s says %q", m.ID, p.ID, word)
				}
			}
		}
		if rides := m.Device != nil || m.Rope != nil; rides != (len(list) > 0) && m.Class != gear.Evacuation {
			t.Errorf("%s, a %s: %d proofs", m.ID, m.Class, len(list))
		}
	}
	ids := func(m *gear.Model) string {
		var list []string
		for _, p := range procedure.Of(m) {
			list = append(list, p.ID)
		}
		return strings.Join(list, " ")
	}
	model := func(id string) *gear.Model {
		list := demo.Models()
		return &list[slices.IndexFunc(list, func(m gear.Model) bool { return m.ID == id })]
	}
	for id, want := range map[string]string{
		"descender-a": "look lay handle pull let-go over-pull park", "descender-b": "look lay handle pull let-go park",
		"backup-wheel": "look rolls jerk free park unparked", "backup-cam": "lay up down cord", "chest-a": "look lay up down", "rope-105": "hand knots end gates",
	} {
		if got := ids(model(id)); got != want {
			t.Errorf("%s: %s, want %s", id, got, want)
		}
	}
	own := model("descender-b")
	own.Proofs = []gear.Proof{{ID: "catch", Do: "Lay the rope reversed.", Must: "The catch bites."}, {ID: "pull", Do: "Twice.", Must: "Locks."}, {ID: "look", Do: "By daylight.", Must: "No wear."}}
	if got := ids(own); got != "catch look lay handle pull let-go park" || procedure.Of(own)[4].Do != "Twice." || procedure.Of(own)[1].Do != "By daylight." {
		t.Errorf("its own first: %s", got)
	}
	if ids(model("descender-b")) != "look lay handle pull let-go park" {
		t.Error("a model's own text came into its class")
	}
}

// Ropes, devices and people each have their check; another rope, device or mode,
// a failed proof or another day leave none that counts; a changed rigging makes
// the partner check stale, and only that.
func TestToday(t *testing.T) {
	d := demo.Drops()["face-4"]
	var kinds []string
	for _, due := range today(t, d) {
		kinds = append(kinds, fmt.Sprint(due.Kind, " ", due.Label))
	}
	if want := "[rope rope 3 rope rope 4 device descender 14 device wheel backup 7 worn Harness, lanyards and connectors partner Partner check]"; fmt.Sprint(kinds) != want {
		t.Errorf("%v", kinds)
	}
	hold := func(d *drop.Document) *rig.Hold { return &d.People[0].Holds[0] }
	for name, c := range map[string]struct {
		do    func(*drop.Document)
		state procedure.State
		why   string
	}{
		"as recorded":      {func(*drop.Document) {}, procedure.Passed, "by Rhea"},
		"nothing recorded": {func(d *drop.Document) { d.Checks = nil }, procedure.NotDone, ""},
		"yesterday":        {func(d *drop.Document) { d.Checks[0].On = "2026-11-23" }, procedure.NotDone, ""},
		"another rope":     {func(d *drop.Document) { hold(d).Strand = "backup" }, procedure.Stale, "another rope"},
		"moved and back": {func(d *drop.Document) {
			d.Checks = append(d.Checks, rig.FunctionCheck{Item: "descender-14", Rope: "rope-4", On: d.Day, By: "x", Passed: true})
		}, procedure.Stale, "checked on rope 4"},
		"in this mode":    {func(d *drop.Document) { d.Checks[0].Mode = "two persons" }, procedure.Passed, ""},
		"in another mode": {func(d *drop.Document) { d.Checks[0].Mode = "one person" }, procedure.Stale, `it is in "two persons"`},
		"a failed proof": {func(d *drop.Document) {
			d.Checks[0].Passed, d.Checks[0].Proofs = false, []rig.ProofResult{{Proof: "look", Did: true}, {Proof: "pull", Note: "creeps"}}
		}, procedure.Failed, `"strand pulled sharply" failed, by Rhea Tolland: creeps`},
		"with every proof":               {func(d *drop.Document) { d.Checks[0].Proofs = proved(t, d) }, procedure.Passed, "by Rhea"},
		"without the first proof":        {func(d *drop.Document) { d.Checks[0].Proofs = proved(t, d)[1:] }, procedure.Stale, `proof "look" was not part of it`},
		"without the last proof":         {func(d *drop.Document) { d.Checks[0].Proofs = proved(t, d)[:5] }, procedure.Stale, "was not part of it"},
		"said to have passed":            {func(d *drop.Document) { d.Checks[0].Proofs = []rig.ProofResult{{Proof: "pull"}} }, procedure.Failed, `"strand pulled sharply" failed`},
		"in a shift that is over":        {func(d *drop.Document) { d.Checks[0].Over = "it was done 15 h ago" }, procedure.Stale, "15 h ago"},
		"failed in a shift that is over": {func(d *drop.Document) { d.Checks[0].Passed, d.Checks[0].Over = false, "it was done 15 h ago" }, procedure.Failed, ""},
		"failed, then again": {func(d *drop.Document) {
			c := d.Checks[0]
			c.Passed = false
			d.Checks = append([]rig.FunctionCheck{c}, d.Checks...)
		}, procedure.Passed, ""},
	} {
		d := demo.Drops()["face-4"]
		c.do(d)
		due := of(t, d, "descender-14")
		if due.State != c.state || !strings.Contains(due.Why, c.why) {
			t.Errorf("%s: %s, %s", name, due.State, due.Why)
		}
		// The rule and the list never differ.
		r, err := check.Drop(t.Context(), d, nil, check.WithFigures)
		if err != nil {
			t.Fatal(err)
		}
		found := slices.ContainsFunc(r.Findings, func(f finding.Finding) bool {
			return f.Rule == "service.function-check" && f.Subject.Hold == "rhea-main"
		})
		if found != (c.state != procedure.Passed) {
			t.Errorf("%s: found is %v", name, found)
		}
	}
	partner := of(t, d, "rhea")
	if partner.State != procedure.NotDone || len(partner.Proofs) != 2 || !strings.Contains(partner.Proofs[1].Do, "absorber 11; connector 62 shut and locked; sternal point") {
		t.Errorf("%+v", partner)
	}
	d.PartnerChecks = []rig.PartnerCheck{{Person: "rhea", Rigging: partner.Rigging, On: d.Day, By: "rhea  Tolland"}}
	if got := of(t, d, "rhea"); got.State != procedure.NotDone {
		t.Errorf("her own: %+v", got)
	}
	d.PartnerChecks[0].By = "Ivo Kestrane"
	for _, c := range []rig.PartnerCheck{
		{Person: "rhea", Rigging: partner.Rigging, On: d.Day.AddDays(-1), By: "Ivo Kestrane"}, {Person: "ivo", Rigging: partner.Rigging, On: d.Day, By: "Ivo Kestrane"},
	} {
		was := d.PartnerChecks
		d.PartnerChecks = []rig.PartnerCheck{c}
		if got := of(t, d, "rhea"); got.State != procedure.NotDone {
			t.Errorf("of %s on %s: %+v", c.Person, c.On, got)
		}
		d.PartnerChecks = was
	}
	if got := of(t, d, "rhea"); got.State != procedure.Passed {
		t.Errorf("%+v", got)
	}
	d.PartnerChecks[0].Over = "it was done 15 h ago"
	if got := of(t, d, "rhea"); got.State != procedure.Stale || got.Why != "it was done 15 h ago" {
		t.Errorf("%+v", got)
	}
	d.PartnerChecks[0].Over, d.PartnerChecks[0].Failed = "", true
	if got := of(t, d, "rhea"); got.State != procedure.Failed || got.Why != "by Ivo Kestrane" {
		t.Errorf("%+v", got)
	}
	d.PartnerChecks[0].Failed = false
	// Where the person hangs is no rigging; a gate is.
	d.People[0].AtM = 40
	if got := of(t, d, "rhea"); got.State != procedure.Passed {
		t.Errorf("moved down: %+v", got)
	}
	harness := d.People[0].Harness
	d.Items = append(d.Items, gear.Item{ID: "another", Model: d.Items[slices.IndexFunc(d.Items, func(i gear.Item) bool { return i.ID == harness })].Model, Label: "another", State: gear.InService})
	d.People[0].Harness = "another"
	if got := of(t, d, "rhea"); got.State != procedure.Stale {
		t.Errorf("another harness: %+v", got)
	}
	// A name of before harnesses were part of it.
	d.PartnerChecks[0].Rigging, _, _ = strings.Cut(partner.Rigging, "-")
	if got := of(t, d, "rhea"); got.State != procedure.Passed {
		t.Errorf("the holds as they were: %+v", got)
	}
	// What was looked at with no harness stated is not the harness that is stated later.
	d.People[0].Harness = ""
	d.PartnerChecks[0].Rigging = of(t, d, "rhea").Rigging
	if got := of(t, d, "rhea"); got.State != procedure.Passed {
		t.Errorf("no harness stated: %+v", got)
	}
	d.People[0].Harness = harness
	if got := of(t, d, "rhea"); got.State != procedure.Stale {
		t.Errorf("a harness stated since: %+v", got)
	}
	// Changed, looked at again and changed back: the last look was at another rigging.
	d.PartnerChecks = append([]rig.PartnerCheck{{Person: "rhea", Rigging: partner.Rigging, On: d.Day, By: "Ivo Kestrane"}}, d.PartnerChecks...)
	if got := of(t, d, "rhea"); got.State != procedure.Stale {
		t.Errorf("changed back: %+v", got)
	}
	d.PartnerChecks = d.PartnerChecks[:1]
	hold(d).Links[0].Gate = rig.GateShut
	if got := of(t, d, "rhea"); got.State != procedure.Stale || of(t, d, "descender-14").State != procedure.Passed {
		t.Errorf("a gate changed: %+v", got)
	}
}

// What is out of service has failed, whatever was recorded of it; the others stand as they are,
// and the rules say it once.
func TestOutOfService(t *testing.T) {
	d := demo.Drops()["gate-shaft"]
	p, s := &d.People[0], &d.Strands[0]
	for item, row := range map[string]string{p.Holds[0].Device: p.Holds[0].Device, s.Ropes[0]: s.Ropes[0], p.Harness: p.ID} {
		was := map[string]procedure.State{}
		for _, due := range today(t, d) {
			was[string(due.Kind)+due.Item] = due.State
		}
		i := &d.Items[slices.IndexFunc(d.Items, func(i gear.Item) bool { return i.ID == item })]
		for _, state := range []gear.State{gear.Quarantine, gear.Retired, gear.InService} {
			i.State, i.Reason = state, map[bool]string{true: "dropped"}[state != gear.InService]
			for _, due := range today(t, d) {
				of, as := due.Item == row || due.Kind == procedure.OfWorn && due.Person == row, procedure.Failed
				if due.Kind == procedure.OfPartner && item != s.Ropes[0] {
					of, as = true, procedure.Stale
				}
				out := of && state != gear.InService
				if out && (due.State != as || !strings.Contains(due.Why, i.Label+" is ") || !strings.HasSuffix(due.Why, ": dropped")) || !out && due.State != was[string(due.Kind)+due.Item] {
					t.Errorf("%s %s: %s is %s, %s", item, state, due.Label, due.State, due.Why)
				}
			}
			r, err := check.Drop(t.Context(), d, nil, check.WithFigures)
			if err != nil {
				t.Fatal(err)
			}
			if slices.ContainsFunc(r.Findings, func(f finding.Finding) bool { return f.Rule == "check.due" || f.Rule == "service.function-check" }) {
				t.Errorf("%s %s: found twice", item, state)
			}
		}
	}
}
