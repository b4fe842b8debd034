package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/store"
)

// Checks count for the shift, not for the date: past midnight, and no longer than the policy's
// hours. What was counted for days that are over stays.
func TestChecksOfAShift(t *testing.T) {
	h := newHouse(t)
	rhea, dov := h.as(t, "rhea"), h.as(t, "dov")
	zone := read[struct{ Team store.Team }](t, dov.URL+"/api/v1/session").Team.Location()
	day := func(days int) gear.Date {
		return gear.Date(time.Now().In(zone).AddDate(0, 0, days).Format(time.DateOnly))
	}
	onDay := func(on gear.Date) {
		t.Helper()
		answer, doc := call(t, "GET", dov.URL+"/api/v1/drops/face-4", nil)
		d := read[drop.Document](t, dov.URL+"/api/v1/drops/face-4")
		moved := bytes.Replace(doc, fmt.Appendf(nil, `"day":%q`, d.Day), fmt.Appendf(nil, `"day":%q`, on), 1)
		if answer, text := call(t, "PUT", dov.URL+"/api/v1/drops/face-4", moved, "If-Match", answer.Header.Get("ETag")); answer.StatusCode != 200 {
			t.Fatalf("%s %s", answer.Status, text)
		}
	}
	give := func(item string, on gear.Date, ago time.Duration) {
		t.Helper()
		now := time.Now().UTC()
		entry := checked(item, map[string]string{"descender-14": "rope-3", "backup-7": "rope-4"}[item], true)
		if strings.HasPrefix(item, "rope") {
			entry = checked(item, item, true)
		}
		text := fmt.Sprintf(`{"sent_at":%q,"records":[{"id":%q,"given_at":%q,"day":%q,%s}]}`, now.Format(time.RFC3339Nano), uuid.NewString(), now.Add(-ago).Format(time.RFC3339Nano), on, entry)
		if out := send(t, rhea.URL, []byte(text)); out[0].State != "kept" {
			t.Fatalf("%+v", out)
		}
	}
	state := func(item string) procedure.Due {
		d := read[drop.Document](t, rhea.URL+"/api/v1/drops/face-4")
		r, err := check.Drop(t.Context(), &d, nil, check.Detail{Checks: true})
		if err != nil {
			t.Fatal(err)
		}
		return r.Checks[slices.IndexFunc(r.Checks, func(d procedure.Due) bool { return d.Item == item })]
	}
	for i, c := range []struct {
		item        string
		drop, check int
		ago         time.Duration
		want        procedure.State
	}{
		{"descender-14", 0, 0, 14*time.Hour + time.Minute, procedure.Stale},
		{"descender-14", 0, 0, 14*time.Hour - time.Minute, procedure.Passed},
		{"rope-3", 3, 3, 15 * time.Hour, procedure.Stale},
		{"rope-3", 3, 3, time.Hour, procedure.Passed},
		// The evening before, on another drop; the shift has gone past midnight, or is another one.
		{"backup-7", 0, -1, 15 * time.Hour, procedure.NotDone},
		{"backup-7", 0, -1, 13 * time.Hour, procedure.Passed},
		{"rope-4", 4, 3, time.Minute, procedure.NotDone},
		// A drop of yesterday goes on; the day before is history.
		{"backup-7", -1, -1, 13 * time.Hour, procedure.Passed},
		{"rope-4", -1, -1, 15 * time.Hour, procedure.Stale},
		{"rope-4", -2, -2, 15 * time.Hour, procedure.Passed},
	} {
		onDay(day(c.drop))
		give(c.item, day(c.check), c.ago)
		d := read[drop.Document](t, rhea.URL+"/api/v1/drops/face-4")
		for _, k := range d.Checks {
			// What is history has no end, nor what has ended.
			if until, err := time.Parse(time.RFC3339, k.Until); k.Item == c.item && (c.want == procedure.Passed && c.drop > -2) != (err == nil) || err == nil && k.Item == c.item && until.Sub(time.Now().Add(14*time.Hour-c.ago)).Abs() > time.Minute {
				t.Errorf("%d: counts until %q", i, k.Until)
			}
		}
		if got := state(c.item); got.State != c.want || c.want == procedure.Stale && !strings.Contains(got.Why, "counts for 14 h of a shift") {
			t.Errorf("%d: a drop of day %d, checked %v ago for day %d: %+v", i, c.drop, c.ago, c.check, got)
		}
	}
	// By the team's own hours.
	own, _ := call(t, "GET", dov.URL+"/api/v1/policy", nil)
	text := `{"name":"x","day":{"gust_m_s":10,"change_min":30,"shift_h":12,"rest_h":11,"shock_kN":4,"rescue_factor":1.5,"check_h":2}}`
	if answer, body := call(t, "PUT", dov.URL+"/api/v1/policy", []byte(text), "If-Match", own.Header.Get("ETag")); answer.StatusCode != 204 {
		t.Fatalf("%s %s", answer.Status, body)
	}
	onDay(day(5))
	give("rope-3", day(5), 121*time.Minute)
	if got := state("rope-3"); got.State != procedure.Stale {
		t.Errorf("%+v", got)
	}
	give("rope-3", day(5), 119*time.Minute)
	if got := state("rope-3"); got.State != procedure.Passed {
		t.Errorf("%+v", got)
	}
}

// What was proved on one drop is proved again on the next, and where it comes back to; so is
// what came back from quarantine, and whose rigging was checked otherwise since.
func TestChecksElsewhere(t *testing.T) {
	h := newHouse(t)
	rhea, dov := h.as(t, "rhea"), h.as(t, "dov")
	zone := read[struct{ Team store.Team }](t, dov.URL+"/api/v1/session").Team.Location()
	today := time.Now().In(zone).Format(time.DateOnly)
	answer, doc := call(t, "GET", dov.URL+"/api/v1/drops/face-4", nil)
	here := bytes.Replace(doc, []byte(`"day":"2026-11-24"`), fmt.Appendf(nil, `"day":%q`, today), 1)
	put := func(text []byte) {
		t.Helper()
		var said []byte
		if answer, said = call(t, "PUT", dov.URL+"/api/v1/drops/face-4", text, "If-Match", answer.Header.Get("ETag")); answer.StatusCode != 200 {
			t.Fatal(string(said))
		}
	}
	put(here)
	var made struct{ ID string }
	if _, text := call(t, "POST", dov.URL+"/api/v1/drops", here); json.Unmarshal(text, &made) != nil || made.ID == "" {
		t.Fatalf("%s", text)
	}
	const a = "face-4"
	b := made.ID
	ago := time.Hour
	give := func(as, entry string) {
		t.Helper()
		// Each a minute after the one before.
		ago -= time.Minute
		now := time.Now().UTC()
		text := fmt.Sprintf(`{"sent_at":%q,"records":[{"id":%q,"given_at":%q,"day":%q,%s}]}`, now.Format(time.RFC3339Nano), uuid.NewString(), now.Add(-ago).Format(time.RFC3339Nano), today, entry)
		if out := send(t, map[string]string{"rhea": rhea.URL, "dov": dov.URL}[as], []byte(text)); out[0].State != "kept" || out[0].Conflict != "" {
			t.Fatalf("%+v", out)
		}
	}
	device := func(on string) {
		t.Helper()
		give("rhea", strings.Replace(checked("descender-14", "rope-3", true), a, on, 1))
	}
	state := func(on string, kind procedure.Kind) procedure.Due {
		t.Helper()
		d := read[drop.Document](t, rhea.URL+"/api/v1/drops/"+on)
		r, err := check.Drop(t.Context(), &d, nil, check.Detail{Checks: true})
		if err != nil {
			t.Fatal(err)
		}
		return r.Checks[slices.IndexFunc(r.Checks, func(d procedure.Due) bool {
			return d.Kind == kind && (kind != procedure.OfDevice || d.Item == "descender-14") && d.Person == "rhea"
		})]
	}
	is := func(on string, kind procedure.Kind, want procedure.State, why string) {
		t.Helper()
		if got := state(on, kind); got.State != want || !strings.Contains(got.Why, why) {
			t.Errorf("%s on %s: %s, %q; want %s, %q", kind, on, got.State, got.Why, want, why)
		}
	}
	partner := func(on string) {
		t.Helper()
		give("dov", fmt.Sprintf(`"kind":"partner-check","drop":%q,"person":"rhea","partner":{"rigging":%q,"passed":true}`, on, state(on, procedure.OfPartner).Rigging))
	}
	const elsewhere, since, stopped, changed = "it was done on another drop, ", "it was checked on another drop since, ", "it was in quarantine since", "the rigging was changed since"
	device(a)
	partner(a)
	is(a, procedure.OfDevice, procedure.Passed, "")
	is(a, procedure.OfPartner, procedure.Passed, "")
	is(b, procedure.OfDevice, procedure.Stale, elsewhere+a)
	is(b, procedure.OfPartner, procedure.Stale, elsewhere+a)
	device(b)
	partner(b)
	is(b, procedure.OfDevice, procedure.Passed, "")
	is(b, procedure.OfPartner, procedure.Passed, "")
	is(a, procedure.OfDevice, procedure.Stale, since+b)
	is(a, procedure.OfPartner, procedure.Stale, since+b)
	device(a)
	partner(a)
	is(a, procedure.OfDevice, procedure.Passed, "")
	is(a, procedure.OfPartner, procedure.Passed, "")

	// Rigged otherwise, looked at so, and rigged back.
	otherwise := bytes.Replace(here, []byte(`"point":"ventral"`), []byte(`"point":"sternal"`), 1)
	put(otherwise)
	is(a, procedure.OfPartner, procedure.Stale, changed)
	put(here)
	is(a, procedure.OfPartner, procedure.Passed, "")
	put(otherwise)
	partner(a)
	put(here)
	is(a, procedure.OfPartner, procedure.Stale, changed)
	partner(a)
	is(a, procedure.OfPartner, procedure.Passed, "")

	harness := read[drop.Document](t, rhea.URL+"/api/v1/drops/face-4").People[0].Harness
	all := make([]string, 0, 8)
	for _, p := range state(a, procedure.OfWorn).Proofs {
		all = append(all, fmt.Sprintf(`{"item":%q,"sound":true}`, p.ID))
	}
	give("rhea", `"kind":"worn-check","person":"rhea","worn":{"items":[`+strings.Join(all, ",")+`]}`)
	// What one wears goes along.
	is(a, procedure.OfWorn, procedure.Passed, "")
	is(b, procedure.OfWorn, procedure.Passed, "")
	for _, item := range []string{"descender-14", harness} {
		give("rhea", fmt.Sprintf(`"kind":"quarantine","item":%q,"note":"dropped","quarantine":{"event":"dropped"}`, item))
		give("dov", fmt.Sprintf(`"kind":"back-in-service","item":%q,"note":"looked at, as new"`, item))
	}
	is(a, procedure.OfDevice, procedure.Stale, stopped)
	is(a, procedure.OfPartner, procedure.Stale, stopped)
	is(a, procedure.OfWorn, procedure.Stale, "was not part of it")
	is(b, procedure.OfWorn, procedure.Stale, "was not part of it")
	device(a)
	partner(a)
	give("rhea", `"kind":"worn-check","person":"rhea","worn":{"items":[{"item":"`+harness+`","sound":true}]}`)
	for _, kind := range []procedure.Kind{procedure.OfDevice, procedure.OfPartner, procedure.OfWorn} {
		is(a, kind, procedure.Passed, "")
	}
	// The rope comes down to be cut: what is on it goes on anew.
	give("dov", `"kind":"rope-cut","item":"rope-3","cut":{"length_m":110,"at_m":108}`)
	is(a, procedure.OfDevice, procedure.Stale, "the rope was cut since")
	is(a, procedure.OfPartner, procedure.Stale, "a rope of it was cut since")
	is(a, procedure.OfWorn, procedure.Passed, "")
	device(a)
	partner(a)
	is(a, procedure.OfDevice, procedure.Passed, "")
	is(a, procedure.OfPartner, procedure.Passed, "")
}
