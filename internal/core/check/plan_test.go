package check_test

import (
	"encoding/json"
	"maps"
	"slices"
	"strconv"
	"strings"
	"testing"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/demo"
)

// doesNotMatter are the only fields that may change under a plan that was released.
var doesNotMatter = []string{
	"/name", "/site", "/note", "/format", "/version", "/policy/name", "/checks", "/partner_checks", "/people/*/at_m", "/people/*/grounded",
	"/people/*/holds/*/position", "/people/*/familiar", "/items/*/label", "/items/*/owner", "/items/*/place", "/items/*/examined_on", "/items/*/serial",
	"/models/*/source", "/models/*/name", "/models/*/maker",
}

// Every single value of a drop, changed alone or taken away: it shows, with one
// change in words that are not empty, unless it is one of the few that do not
// matter.
func TestChangesShow(t *testing.T) {
	for id, d := range map[string]*drop.Document{"face-4": demo.Drops()["face-4"]} {
		text, err := json.Marshal(d)
		if err != nil {
			t.Fatal(err)
		}
		var tree any
		if err := json.Unmarshal(text, &tree); err != nil {
			t.Fatal(err)
		}
		n := 0
		alter(tree, "", func(path string) {
			n++
			text, _ := json.Marshal(tree)
			now := new(drop.Document)
			if err := json.Unmarshal(text, now); err != nil {
				t.Fatal(path, err)
			}
			got, err := drop.Changes(d, now)
			matters := !slices.ContainsFunc(doesNotMatter, func(f string) bool { return path == f || strings.HasPrefix(path, f+"/") })
			if err != nil || (len(got) > 0) != matters || slices.Contains(got, "") {
				t.Errorf("%s%s: %q, %v", id, path, got, err)
			}
		})
		if same, err := drop.Changes(d, d); err != nil || len(same) > 0 || n < 300 {
			t.Errorf("%s: %d values, unchanged: %q %v", id, n, same, err)
		}
	}
}

// alter changes every plain value below v in turn, one at a time, and puts it back.
func alter(v any, path string, then func(path string)) {
	each := func(get func() any, set func(any), path string) {
		switch was := get().(type) {
		case map[string]any, []any:
			alter(was, path, then)
		case float64:
			set(was + 1)
			then(path)
			set(was)
		case string:
			set(was + "x")
			then(path)
			set(was)
		case bool:
			set(!was)
			then(path)
			set(was)
		}
	}
	switch v := v.(type) {
	case map[string]any:
		for _, name := range slices.Sorted(maps.Keys(v)) {
			each(func() any { return v[name] }, func(o any) { v[name] = o }, path+"/"+name)
		}
	case []any:
		for i := range v {
			each(func() any { return v[i] }, func(o any) { v[i] = o }, path+"/*")
		}
	}
}

// What was changed is said by its name, its old and new value and its unit.
func TestChangesInWords(t *testing.T) {
	then, now := demo.Drops()["face-4"], demo.Drops()["face-4"]
	now.People[0].MassKg, now.WindMS, now.Strands[0].Ropes[0] = 92, 7, "rope-5"
	now.People[0].Carries = now.People[0].Carries[1:]
	now.Anchors = now.Anchors[:3]
	got, err := drop.Changes(then, now)
	want := []string{
		"anchors, re-belay backup: taken away", "people, Rhea Tolland, carries, connector 63: taken away",
		"people, Rhea Tolland, mass: 88 kg → 92 kg", "strands, main, ropes, rope 3: taken away", "strands, main, ropes, rope-5: added", "wind: 5 m/s → 7 m/s",
	}
	if err != nil || !slices.Equal(got, want) {
		t.Errorf("%q\nwant %q", got, want)
	}
}

// A stop keeps a plan from being checked or released, a look without its own
// written reason from being released; what is given back is where.
func TestMaySet(t *testing.T) {
	type planned struct {
		*drop.Document
		*check.Report
	}
	report := func(id string, change func(*drop.Document)) planned {
		d := demo.Drops()[id]
		change(d)
		r, err := check.Drop(t.Context(), d, nil, check.FindingsOnly)
		if err != nil {
			t.Fatal(err)
		}
		return planned{d, r}
	}
	looks := report("gate-shaft", func(d *drop.Document) {
		d.People[0].Carries = slices.DeleteFunc(d.People[0].Carries, func(id string) bool { return id == "gloves-2" })
	})
	if looks.Stops > 0 || looks.Looks == 0 {
		t.Fatal(looks.Stops, looks.Looks)
	}
	reasons := []record.Reason{}
	for _, f := range looks.Findings {
		reasons = append(reasons, record.Reason{Rule: f.Rule, What: f.What, Reason: "as agreed"})
	}
	other := slices.Clone(reasons)
	other[0].What += " once"
	stops, empty := report("face-4", func(*drop.Document) {}), report("face-4", func(d *drop.Document) { *d = drop.Document{Name: "none", Day: d.Day} })
	// What is proved on the day waits for the day; who hangs on nothing yet is no plan.
	unproved := report("gate-shaft", func(d *drop.Document) { d.Checks = nil })
	bare := report("gate-shaft", func(d *drop.Document) { d.People[0].Holds, d.People[0].Grounded, d.People[0].AtM = nil, true, 1 })
	alone := report("gate-shaft", func(d *drop.Document) { d.People = nil })
	for i, c := range []struct {
		to, from record.State
		of       planned
		reasons  []record.Reason
		refused  string
	}{
		{record.Checked, record.Draft, looks, nil, ""},
		{record.Released, record.Checked, looks, reasons, ""},
		{record.Released, record.Released, looks, reasons, ""},
		{record.Draft, record.Released, stops, nil, ""},
		{record.Checked, record.Draft, unproved, nil, ""},
		{record.Released, record.Checked, unproved, reasons, "/state"},
		{record.Released, record.Draft, looks, reasons, "/state"},
		{record.Released, record.Checked, looks, nil, "/reasons"},
		{record.Released, record.Checked, looks, other, "/reasons"},
		{record.Checked, record.Draft, stops, nil, "/state"},
		{record.Released, record.Checked, stops, nil, "/state"},
		{record.Checked, record.Draft, empty, nil, "/state"},
		{record.Checked, record.Draft, bare, nil, "/state"},
		{record.Released, record.Checked, bare, reasons, "/state"},
		{record.Checked, record.Draft, alone, nil, "/state"},
	} {
		err := c.of.Report.MaySet(c.of.Document, c.to, c.from, c.reasons)
		refused, _ := err.(*strict.Error)
		if (err == nil) != (c.refused == "") || refused != nil && refused.Faults[0].Pointer != c.refused {
			t.Errorf("%s: %v, want %q", strconv.Itoa(i), err, c.refused)
		}
	}
}
