package web_test

import (
	"bytes"
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
