package main

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"maps"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	events "zealousknot/internal/core/run"
	"zealousknot/internal/demo"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
)

// parts are those of an archive, unpacked.
func parts(t *testing.T, file string) map[string]string {
	t.Helper()
	z, err := zip.OpenReader(file)
	if err != nil {
		t.Fatal(err)
	}
	defer z.Close()
	all := map[string]string{}
	for _, f := range z.File {
		r, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		text, err := io.ReadAll(r)
		if err != nil {
			t.Fatal(err)
		}
		all[f.Name] = string(text)
	}
	return all
}

func pack(t *testing.T, parts map[string]string, more ...string) string {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for _, name := range append(slices.Sorted(maps.Keys(parts)), more...) {
		w, err := z.Create(name)
		if err == nil {
			_, err = io.WriteString(w, parts[name])
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(t.TempDir(), "team.zip")
	if err := os.WriteFile(file, b.Bytes(), 0o600); err != nil {
		t.Fatal(err)
	}
	return file
}

// lived gives the demo team a history: changed and removed drops, a serial that was
// corrected, a policy, a person with papers, a kit that is out, and records.
func lived(t *testing.T, url string) {
	t.Helper()
	fill(t, url, 300)
	ctx := t.Context()
	db, err := store.Open(ctx, url)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	team, err := db.TeamNamed(ctx, demo.Team)
	if err != nil {
		t.Fatal(err)
	}
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	by := &record.Signer{Name: "Somebody <&>"}
	d, err := db.Drop(ctx, team.ID, "face-4")
	must(err)
	for n := range 3 {
		d.Document.Site = fmt.Sprintf("site %d", n)
		_, err := db.SaveDrop(ctx, team, by, "face-4", d.Version+n, d.Document)
		must(err)
	}
	must(db.RemoveDrop(ctx, team.ID, "sump-hatch", 1))
	_, err = db.SavePolicy(ctx, team, by, 0, &policy.Policy{Name: "ours", GripKN: 0.2})
	must(err)
	item := demo.Items()[3]
	item.Serial, item.BoughtOn, item.Marking, item.Revision = "R-6 b", item.MadeOn, "blue tape", 1
	_, _, err = db.PutGear(ctx, team, by, &drop.Store{Items: []gear.Item{item}}, store.Put{Reason: "misread"})
	must(err)
	p := demo.People()[0]
	p.ReachUpM, p.Papers, p.Revision = 1.1, []rig.Paper{{Kind: "first-aid", Name: "first aid", Until: "2027-01-01"}}, 1
	_, _, err = db.PutPeople(ctx, team, by, []rig.Member{p}, store.Put{})
	must(err)
	now := time.Now().UTC().Format(time.RFC3339)
	e := func(id string, e record.Entry) record.Entry {
		e.ID, e.GivenAt, e.Day = "0b9f6a3e-7a52-4f0e-9c3b-0d1e2f3a4b"+id, now, "2026-11-24"
		return e
	}
	out, err := db.Record(ctx, team, by, &record.Batch{SentAt: now, Records: []record.Entry{
		e("01", record.Entry{Kind: record.KitIssue, Kit: &record.KitMoved{Kit: "rescue-bag", To: "van 2", Items: []string{"helmet-1", "bag-1"}}}),
		e("0d", record.Entry{Kind: record.RopeNote, Item: "rope-5", Rope: &record.RopeNoted{What: record.RopeDamage, FromM: 12}}),
		e("02", record.Entry{Kind: record.Quarantine, Item: "bag-1", Quarantine: &record.Quarantined{Event: "heat"}}),
	}})
	must(err)
	for _, o := range out {
		if o.State != "kept" {
			t.Fatalf("%+v", o)
		}
	}
	// A run that was put away, one event after it, and what was measured.
	ran, err := db.AddRun(ctx, team, by, "gate-shaft", true)
	must(err)
	give := func(kinds ...events.Kind) {
		t.Helper()
		for n, k := range kinds {
			e := events.Event{ID: uuid.NewString(), Kind: k, GivenAt: time.Now().Add(time.Duration(n-60) * time.Second).UTC().Format(time.RFC3339), Reason: "wind"}
			out, err := db.GiveEvents(ctx, team, by, ran, 0, []events.Event{e})
			must(err)
			if out[0].State != "kept" {
				t.Fatalf("%+v", out)
			}
		}
	}
	give(events.Start, events.Stop, events.Resume, events.End)
	must(db.AddReadings(ctx, team.ID, ran, map[string][]events.Point{"main.force": {{Ms: 1, V: 2}, {Ms: 5, V: 81000}}}))
	must(db.PutAway(ctx, team, by, ran, &events.PuttingAway{}))
	give(events.Call)
	// A callout that was put away, and one that runs.
	for n, id := range []string{"3c7c1f6e-0000-4000-8000-000000000001", "3c7c1f6e-0000-4000-8000-000000000002"} {
		_, err = db.GiveCallout(ctx, team.ID, by, uuid.MustParse(id), &callout.Document{Format: callout.Format, Version: 1, Name: "Callout", Day: "2026-11-24", BeganAt: now, KnownAt: now, Known: callout.Known{Kits: []string{"van bag"}}, Marks: []callout.Mark{{ID: id, At: now, What: callout.Ended, By: "Somebody"}}})
		must(err)
		if n == 0 {
			_, _, err = db.PutAwayCallout(ctx, team, by, uuid.MustParse(id), "rhea", time.Now())
			must(err)
		}
	}
}

// A team goes out and comes in again, with its records as they were sealed, and out again
// the same; an archive that was tampered with or cut off is refused and changes nothing.
func TestArchive(t *testing.T) {
	program, owner := pgtest.URLs(t)
	lived(t, program)
	dir := t.TempDir()
	first, second := filepath.Join(dir, "first.zip"), filepath.Join(dir, "second.zip")
	if code, _, errs := command(t, "", "export", "--database-url="+program, "--team=nobody", first); code != 2 || !strings.Contains(errs, "--team") {
		t.Errorf("%d %s", code, errs)
	}
	if code, _, errs := command(t, "", "export", "--database-url="+program, "--team="+demo.Team, first); code != 0 {
		t.Fatalf("%d %s", code, errs)
	}
	if code, _, errs := command(t, "", "export", "--database-url="+program, "--team="+demo.Team, first); code != 2 || !strings.Contains(errs, "there already") {
		t.Errorf("%d %s", code, errs)
	}
	all := parts(t, first)
	into, ownerInto := pgtest.URLs(t)
	empty := contents(t, ownerInto)
	refused := func(what, file, says string, args ...string) {
		t.Helper()
		code, _, errs := command(t, "", append([]string{"import", "--database-url=" + into, file}, args...)...)
		if code != 2 || !strings.Contains(errs, says) || !strings.Contains(errs, "nothing was changed") {
			t.Errorf("%s: %d %q", what, code, errs)
		}
	}
	with := func(name string, change func(string) string) string {
		p := maps.Clone(all)
		p[name] = change(p[name])
		return pack(t, p)
	}
	line := func(n int) func(string) string {
		return func(s string) string {
			l := strings.SplitAfter(s, "\n")
			return strings.Join(slices.Delete(l, n, n+1), "")
		}
	}
	replace := func(a, b string) func(string) string {
		return func(s string) string {
			if !strings.Contains(s, a) {
				t.Fatalf("no %q to replace", a)
			}
			return strings.Replace(s, a, b, 1)
		}
	}
	without := maps.Clone(all)
	delete(without, "items.jsonl")
	face4 := strings.Count(all["versions.jsonl"][:strings.Index(all["versions.jsonl"], `{"drop":"face-4"`)], "\n")
	last := strings.Count(all["records.jsonl"], "\n") - 1
	for what, c := range map[string][2]string{
		"words":               {pack(t, map[string]string{"readme": "x"}), `"readme" is not known`},
		"a part twice":        {pack(t, all, "items.jsonl"), "items.jsonl is there twice"},
		"a part is missing":   {pack(t, without), "items.jsonl is missing"},
		"a later format":      {with("manifest.json", replace(`"format":1`, `"format":2`)), "it has format 2"},
		"no zone":             {with("manifest.json", replace(`"time_zone":"`, `"time_zone":"Nowhere/`)), "is not known"},
		"a record is missing": {with("records.jsonl", line(7)), "record 8: is missing"},
		"its end is missing":  {with("records.jsonl", line(last)), "is missing, and all that follow"},
		"a record was altered": {with("records.jsonl", replace(`\"passed\":true`, `\"passed\":false`)),
			"is not as it was sealed"},
		"another signer":                {with("records.jsonl", replace(`"by_name":"Somebody"`, `"by_name":"Somebody else"`)), "is not as it was sealed"},
		"an item is gone":               {with("items.jsonl", line(40)), ""},
		"an unknown model":              {with("items.jsonl", replace(`"model":"gloves-a"`, `"model":"none"`)), `items.jsonl, line`},
		"a wrong field":                 {with("people.jsonl", replace(`"mass_kg":88`, `"mass_kg":8800`)), "people.jsonl, line"},
		"a wrong model":                 {with("models.jsonl", replace(`"class":"gloves"`, `"class":"rope"`)), "models.jsonl, line"},
		"no revision":                   {with("models.jsonl", replace(`,"revision":1`, ``)), "the revision is missing"},
		"a version is gone":             {with("versions.jsonl", line(face4)), "does not follow the one before it"},
		"another drop":                  {with("drops/face-7.json", replace(`"version":1`, `"version":2`)), "it is not the last version"},
		"an event of a run was altered": {with("run-events.jsonl", replace(`\"reason\":\"wind\"`, `\"reason\":\"rain\"`)), "are not those that were sealed"},
		"a plan of a run was altered":   {with("runs.jsonl", replace(`\"name\":\"Gate shaft\"`, `\"name\":\"Gate\"`)), "not the one that the run was made from"},
		"a reading is missing":          {with("readings.jsonl", replace(`"count":2`, `"count":3`)), "not as many readings"},
		"a board that is none":          {with("boards.jsonl", replace(`"from":"`, `"from":"9`)), "boards.jsonl, line"},
		"a callout that is none":        {with("callouts.jsonl", replace(`"format":"callout"`, `"format":"call"`)), "callouts.jsonl, line"},
		"a pre-plan that is none":       {with("pre-plans.jsonl", replace(`"landing":"boat"`, `"landing":"ship"`)), "pre-plans.jsonl, line"},
		"what is stopped is set free": {with("items.jsonl", func(s string) string {
			return regexp.MustCompile(`"state":"quarantine","reason":"heat[^"]*"`).ReplaceAllString(s, `"state":"in-service"`)
		}), "item bag-1 is in-service, and by this record quarantine"},
		"damage is left out": {with("items.jsonl", replace(`"noted":{"damage":[{"from_m":12}]},`, ``)), "the rope rope-5, and what its map has"},
		"no such harness":    {with("people.jsonl", replace(`"harness":"harness-1"`, `"harness":"gone"`)), "people"},
	} {
		refused(what, c[0], c[1])
	}
	refused("a name that is none", first, "1 to 80 letters", "--team= ")
	refused("a name that is too long", first, "1 to 80 letters", "--team="+strings.Repeat("ü", 81))
	if now := contents(t, ownerInto); now != empty {
		t.Fatalf("something was written:\n%s", now)
	}
	if code, out, errs := command(t, "", "import", "--database-url="+into, "--dry-run", first); code != 0 || !strings.Contains(out, "nothing was written") || contents(t, ownerInto) != empty {
		t.Fatalf("%d %s %s", code, out, errs)
	}
	if code, out, errs := command(t, "", "import", "--database-url="+into, first); code != 0 || !strings.Contains(out, "records, whole") {
		t.Fatalf("%d %s %s", code, out, errs)
	}
	refused("twice", first, "is here already")
	refused("twice, by another name", first, "is here already", "--team=another")
	if code, out, _ := command(t, "", "verify", "--database-url="+into); code != 0 {
		t.Errorf("%d %s", code, out)
	}
	if code, _, errs := command(t, "", "export", "--database-url="+into, "--team="+demo.Team, second); code != 0 {
		t.Fatalf("%d %s", code, errs)
	}
	again := parts(t, second)
	for name, was := range all {
		if name != "manifest.json" && again[name] != was {
			t.Errorf("%s is not the same:\n%.300s\n%.300s", name, was, again[name])
		}
	}
	if len(again) != len(all) {
		t.Errorf("%d parts, and then %d", len(all), len(again))
	}
	of := func(sums string) string {
		var keep []string
		for _, l := range strings.Split(sums, "\n") {
			// Records note in which transaction they were written, readings their place; what they say is compared above.
			if table, _, _ := strings.Cut(l, " "); !slices.Contains([]string{"teams", "accounts", "memberships", "records", "readings"}, table) {
				keep = append(keep, l)
			}
		}
		return strings.Join(keep, "\n")
	}
	if a, b := of(contents(t, owner)), of(contents(t, ownerInto)); a != b {
		t.Errorf("other rows:\n%s\n%s", a, b)
	}
	// It goes on: a serial that was once used is not free, and the chain grows.
	db, err := store.Open(t.Context(), into)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	team, err := db.TeamNamed(t.Context(), demo.Team)
	if err != nil {
		t.Fatal(err)
	}
	fresh := demo.Items()[3]
	fresh.ID, fresh.Label = "rope-66", "rope 66"
	if _, _, err := db.PutGear(t.Context(), team, &record.Signer{Name: "Somebody"}, &drop.Store{Items: []gear.Item{fresh}}, store.Put{}); err == nil || !strings.Contains(err.Error(), "another item's") {
		t.Errorf("a serial that was used before: %v", err)
	}
}
