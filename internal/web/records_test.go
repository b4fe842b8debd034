package web_test

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/demo"
	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

// batch makes a batch of entries, of which the parts that matter are given; what is
// left out of id, time and day is a new id, the present and the scenario's day.
func batch(entries ...string) []byte {
	now := time.Now().UTC().Format(time.RFC3339Nano)
	full := make([]string, len(entries))
	for i, e := range entries {
		for field, value := range map[string]string{"id": uuid.NewString(), "given_at": now, "day": "2026-11-24"} {
			if !strings.Contains(e, `"`+field+`":`) {
				e += fmt.Sprintf(",%q:%q", field, value)
			}
		}
		full[i] = "{" + e + "}"
	}
	return fmt.Appendf(nil, `{"sent_at":%q,"records":[%s]}`, now, strings.Join(full, ","))
}

// check is the entry of a function check with some of its proofs.
func checked(item, rope string, passed bool, proofs ...string) string {
	list := make([]string, len(proofs))
	for i, p := range proofs {
		did := passed || i < len(proofs)-1
		list[i] = fmt.Sprintf(`{"proof":%q,"did":%v}`, p, did)
	}
	return fmt.Sprintf(`"kind":"function-check","drop":"face-4","item":%q,"check":{"rope":%q,"passed":%v,"proofs":[%s]}`, item, rope, passed, strings.Join(list, ","))
}

var wheelProofs = []string{"look", "rolls", "jerk", "free", "park", "unparked"}

// send sends a batch and gives what became of each entry.
func send(t testing.TB, url string, body []byte) []store.Outcome {
	t.Helper()
	answer, text := call(t, "POST", url+"/api/v1/records", body)
	var out struct{ Records []store.Outcome }
	if err := json.Unmarshal(text, &out); err != nil || answer.StatusCode != 200 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	return out.Records
}

func linesOf(t testing.TB, url, query string) []store.RecordLine {
	t.Helper()
	answer, text := call(t, "GET", url+"/api/v1/records?"+query, nil)
	var out struct{ Records []store.RecordLine }
	if err := json.Unmarshal(text, &out); err != nil || answer.StatusCode != 200 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	return out.Records
}

func firstRecord(t testing.TB, url string) string {
	t.Helper()
	lines := linesOf(t, url, "day=2026-11-24")
	return lines[len(lines)-1].Says.ID
}

func read[T any](t testing.TB, url string) (v T) {
	t.Helper()
	if _, text := call(t, "GET", url, nil); json.Unmarshal(text, &v) != nil {
		t.Fatal(string(text))
	}
	return v
}

// A failed check takes its item out at once, on every drop; the check and the
// quarantine stand as records; what is sent twice is there once; only the store
// keeper brings the item back, with a record.
func TestRecords(t *testing.T) {
	h := newHouse(t)
	rhea, dov := h.as(t, "rhea"), h.as(t, "dov")
	before := len(linesOf(t, rhea.URL, "day=2026-11-24"))
	body := batch(checked("backup-7", "rope-4", true, wheelProofs...), checked("backup-7", "rope-4", false, "look", "rolls"))
	first := send(t, rhea.URL, body)
	if first[0].State != "kept" || first[1].State != "kept" || first[1].Number != first[0].Number+1 {
		t.Fatalf("%+v", first)
	}
	for i, again := range send(t, rhea.URL, body) {
		if again.State != "already" || again.Number != first[i].Number {
			t.Errorf("sent again: %+v", again)
		}
	}
	lines := linesOf(t, rhea.URL, "day=2026-11-24")
	if len(lines) != before+3 || lines[0].Says.Kind != record.Quarantine || lines[0].Says.Note != `the proof "rolls both ways" failed` || lines[0].By != "Rhea Tolland" {
		t.Fatalf("%d of %d: %+v", len(lines), before+3, lines[0])
	}
	d := read[drop.Document](t, rhea.URL+"/api/v1/drops/face-4")
	report, err := check.Drop(t.Context(), &d, nil, check.WithFigures)
	if err != nil {
		t.Fatal(err)
	}
	for _, rule := range []string{"service.quarantine", "service.function-check", "service.event"} {
		if !slices.ContainsFunc(report.Findings, func(f finding.Finding) bool { return f.Rule == rule && f.Subject.Item == "backup-7" }) {
			t.Errorf("%s is not found on the drop", rule)
		}
	}
	// Somebody who did not know passes it: recorded, with what they could not know.
	late := send(t, h.as(t, "ivo").URL, batch(checked("backup-7", "rope-4", true, wheelProofs...)))
	if late[0].State != "kept" || !strings.Contains(late[0].Conflict, `quarantine: failed check: the proof "rolls both ways" failed`) {
		t.Errorf("%+v", late)
	}
	back := `"kind":"back-in-service","item":"backup-7","note":"opened, cleaned, wheel turns"`
	refused(t, 403, "/records/0/kind", "POST", rhea.URL+"/api/v1/records", batch(back))
	item := demo.Items()[slices.IndexFunc(demo.Items(), func(i gear.Item) bool { return i.ID == "backup-7" })]
	refused(t, 422, "/items/0/state", "PUT", dov.URL+"/api/v1/gear", []byte(`{"items":[`+asJSON(t, item)+`]}`))
	if out := send(t, dov.URL, batch(back)); out[0].State != "kept" {
		t.Fatalf("%+v", out)
	}
	g := read[drop.Store](t, dov.URL+"/api/v1/gear")
	for _, i := range g.Items {
		if i.ID == "backup-7" && (i.State != gear.InService || i.Events[0].CheckedOn != "2026-11-24") {
			t.Errorf("%+v", i)
		}
	}
	if out := send(t, dov.URL, batch(back)); out[0].State != "refused" || out[0].Errors[0].Pointer != "/records/0/item" {
		t.Errorf("back twice: %+v", out)
	}
}

// What cannot be is refused with its place and keeps nothing else back; a batch
// that cannot be read, or says more than its sender may, keeps nothing.
func TestRecordsRefused(t *testing.T) {
	h := newHouse(t)
	rhea := h.as(t, "rhea")
	ours := firstRecord(t, rhea.URL)
	for _, kind := range []string{"gear-change", "person-change", "member-change", "policy-change", "plan-state"} {
		refused(t, 422, "/records/0/kind", "POST", rhea.URL+"/api/v1/records", batch(`"kind":"`+kind+`","change":{"count":0,"rows":[]}`))
	}
	for pointer, entry := range map[string]string{
		"/records/1/item":           checked("none", "rope-4", true),
		"/records/1/check/rope":     checked("backup-7", "backup-8", true),
		"/records/1/check/passed":   strings.Replace(checked("backup-7", "rope-4", false, "look", "jerk"), `"passed":false`, `"passed":true`, 1),
		"/records/1/check":          `"kind":"function-check","item":"backup-7"`,
		"/records/1/quarantine":     checked("backup-7", "rope-4", true) + `,"quarantine":{"event":"heat"}`,
		"/records/1/person":         `"kind":"partner-check","drop":"face-4","person":"rhea","partner":{"rigging":"a","passed":true}`,
		"/records/1/partner/passed": `"kind":"partner-check","drop":"face-4","person":"ivo","partner":{"rigging":"a","passed":true,"proofs":[{"proof":"hold-1","did":false}]}`,
		"/records/1/corrects":       `"kind":"withdrawal","note":"wrong item","corrects":"` + uuid.NewString() + `"`,
		"/records/1/note":           `"kind":"withdrawal","corrects":"` + ours + `"`,
		"/records/1/hours":          `"kind":"hours","person":"rhea"`,
		"/records/1/given_at":       `"kind":"quarantine","item":"rope-3","quarantine":{"event":"heat"},"given_at":"2020-01-01T00:00:00Z"`,
		"/records/1/day":            `"kind":"hours","person":"rhea","hours":{"hours_h":2,"work":"face"},"day":"2199-01-01"`,
	} {
		out := send(t, rhea.URL, batch(`"kind":"quarantine","item":"connector-92","quarantine":{"event":"dropped"}`, entry))
		if out[0].State != "kept" || out[1].State != "refused" || !slices.ContainsFunc(out[1].Errors, func(f strict.Fault) bool { return f.Pointer == pointer }) {
			t.Errorf("%s: %+v", pointer, out)
		}
	}
	const stop = `"kind":"quarantine","item":"rope-3","quarantine":{"event":"heat"}`
	// Another record's id is not taken over, by somebody else or with other words.
	for _, login := range []string{"ivo", "rhea"} {
		if out := send(t, h.as(t, login).URL, batch(stop+`,"id":"`+ours+`"`)); out[0].State != "refused" || out[0].Errors[0].Pointer != "/records/0/id" {
			t.Errorf("%+v", out)
		}
	}
	for _, off := range []time.Duration{-24 * time.Hour, 24 * time.Hour} {
		when := time.Now().Add(off).UTC().Format(time.RFC3339)
		b := fmt.Appendf(nil, `{"sent_at":%q,"records":[{"id":%q,"given_at":%q,"day":"2026-11-24",%s}]}`, when, uuid.NewString(), when, stop)
		if out := send(t, rhea.URL, b); out[0].State != "refused" || out[0].Errors[0].Pointer != "/sent_at" {
			t.Errorf("a clock that is off by %v: %+v", off, out)
		}
	}
	refused(t, 422, "/records", "POST", rhea.URL+"/api/v1/records", batch(slices.Repeat([]string{checked("backup-7", "rope-4", true)}, 101)...))
	refused(t, 413, "", "POST", rhea.URL+"/api/v1/records", bytes.Repeat([]byte(" "), 300<<10))
	if g := read[drop.Store](t, rhea.URL+"/api/v1/gear"); slices.ContainsFunc(g.Items, func(i gear.Item) bool { return i.ID == "rope-3" && i.State != gear.InService }) {
		t.Error("what was refused had an effect")
	}
}

// A device may send what a day without signal gathered, and then no more than a
// steady stream.
func TestRate(t *testing.T) {
	h := newHouse(t)
	rhea := h.as(t, "rhea")
	body := batch(slices.Repeat([]string{`"kind":"withdrawal"`}, 100)...)
	// Two instances count together.
	other := newInstance(t, h).as(t, "rhea")
	for n := range 40 {
		answer, _ := call(t, "POST", []string{rhea.URL, other.URL}[n%2]+"/api/v1/records", body)
		if answer.StatusCode == http.StatusTooManyRequests {
			if n < 30 || answer.Header.Get("Retry-After") == "" {
				t.Errorf("after %d batches: %v", n, answer.Header)
			}
			return
		}
	}
	t.Error("4000 records at once were taken")
}

// Corrections: what stands is the newer record; the older one is there, with what
// stands in its place, and does not count. Once only, and one's own.
func TestCorrections(t *testing.T) {
	h := newHouse(t)
	rhea, dov := h.as(t, "rhea"), h.as(t, "dov")
	hours := func(n int, more string) string {
		return fmt.Sprintf(`"kind":"hours","person":"rhea","hours":{"hours_h":%d,"work":"face inspection"}%s`, n, more)
	}
	send(t, rhea.URL, batch(hours(3, "")))
	wrong := send(t, rhea.URL, batch(hours(20, "")))[0]
	type log struct {
		Hours   []store.WorkHours
		Records []store.RecordLine
	}
	if l := read[log](t, rhea.URL+"/api/v1/people/me/log"); len(l.Hours) != 1 || l.Hours[0].Hours != 23 {
		t.Errorf("%+v", l.Hours)
	}
	correct := hours(2, `,"corrects":"`+wrong.ID+`"`)
	if out := send(t, h.as(t, "ivo").URL, batch(strings.Replace(correct, `"person":"rhea"`, `"person":"ivo"`, 1)))[0]; out.State != "refused" {
		t.Errorf("somebody else's was corrected: %+v", out)
	}
	right := send(t, rhea.URL, batch(correct))[0]
	if out := send(t, rhea.URL, batch(correct))[0]; out.State != "refused" {
		t.Errorf("corrected twice: %+v", out)
	}
	l := read[log](t, dov.URL+"/api/v1/people/rhea/log")
	i := slices.IndexFunc(l.Records, func(r store.RecordLine) bool { return r.Number == wrong.Number })
	if l.Hours[0].Hours != 5 || l.Records[i].CorrectedBy != right.Number {
		t.Errorf("%+v %+v", l.Hours, l.Records[i])
	}
	// A check that was withdrawn asks for another one.
	checks := linesOf(t, rhea.URL, "item=descender-14")
	out := send(t, dov.URL, batch(`"kind":"withdrawal","note":"another descender","corrects":"`+checks[0].Says.ID+`"`))
	if out[0].State != "kept" {
		t.Fatalf("%+v", out)
	}
	d := read[drop.Document](t, rhea.URL+"/api/v1/drops/face-4")
	if len(d.Checks) != 1 || d.Checks[0].Item != "backup-7" {
		t.Errorf("%+v", d.Checks)
	}
	refused(t, 403, "", "GET", rhea.URL+"/api/v1/people/ivo/log", nil)
	refused(t, 404, "", "GET", dov.URL+"/api/v1/people/none/log", nil)
	_, text := call(t, "GET", dov.URL+"/api/v1/people/rhea/log.csv", nil)
	rows, err := csv.NewReader(bytes.NewReader(text)).ReadAll()
	if err != nil || len(rows) < 5 || rows[0][0] != "number" {
		t.Errorf("%v %s", err, text)
	}
}

// newInstance is a second instance of the program on the same database.
func newInstance(t testing.TB, h *house) *house {
	return &house{h.store, web.Handler(t.Context(), &web.Config{Store: h.store, Version: "test", Demo: true})}
}

// A day has 24 hours, however they come: in one batch, in several, or by corrections.
func TestHoursOfADay(t *testing.T) {
	h := newHouse(t)
	rhea := h.as(t, "rhea")
	hours := func(n float64, day, more string) string {
		return fmt.Sprintf(`"kind":"hours","person":"rhea","day":"2026-11-%s","hours":{"hours_h":%g,"work":"face"}%s`, day, n, more)
	}
	out := send(t, rhea.URL, batch(hours(20, "21", ""), hours(3.9, "21", ""), hours(0.2, "21", ""), hours(0.1, "21", ""), hours(24, "22", "")))
	for i, want := range []string{"kept", "kept", "refused", "kept", "kept"} {
		if out[i].State != want {
			t.Errorf("%d: %+v", i, out[i])
		}
	}
	if out[2].Errors[0].Pointer != "/records/2/hours/hours_h" {
		t.Errorf("%+v", out[2])
	}
	for _, c := range []struct{ entry, want string }{
		{hours(0.1, "21", ""), "refused"},
		{hours(20.1, "21", `,"corrects":"`+out[0].ID+`"`), "refused"},
		{hours(19, "21", `,"corrects":"`+out[0].ID+`"`), "kept"},
		{hours(1.5, "21", ""), "refused"},
		{hours(1, "21", ""), "kept"},
		{`"kind":"withdrawal","note":"another day","corrects":"` + out[1].ID + `"`, "kept"},
		{hours(3.9, "21", ""), "kept"},
	} {
		if got := send(t, rhea.URL, batch(c.entry))[0]; got.State != c.want {
			t.Errorf("%s: %+v", c.entry, got)
		}
	}
}

// Hours say where and how high, and are countersigned by a supervisor: somebody else's, that
// stand, and nothing else; the table of hours says by whom.
func TestCountersignature(t *testing.T) {
	h := newHouse(t)
	ivo, dov, rhea := h.as(t, "ivo"), h.as(t, "dov"), h.as(t, "rhea")
	const hours = `"kind":"hours","person":"ivo","day":"2026-11-21","hours":{"hours_h":6.5,"work":"=face","site":"Weir","height_m":42}`
	first := send(t, ivo.URL, batch(hours, strings.Replace(hours, "6.5", "1", 1), `"kind":"quarantine","item":"rope-3","quarantine":{"event":"heat"}`))
	own := send(t, dov.URL, batch(strings.Replace(hours, `"person":"ivo"`, `"person":"dov"`, 1)))
	send(t, ivo.URL, batch(`"kind":"withdrawal","note":"twice","corrects":"`+first[1].ID+`"`))
	confirm := func(id, person string) string {
		return `"kind":"countersignature","day":"2026-11-21","person":"` + person + `","confirms":"` + id + `"`
	}
	refused(t, 403, "/records/0/kind", "POST", rhea.URL+"/api/v1/records", batch(confirm(first[0].ID, "ivo")))
	for at, entry := range map[string]string{
		"is corrected":             confirm(first[1].ID, "ivo"),
		"is not counter":           confirm(first[2].ID, "ivo"),
		"their own hours":          confirm(own[0].ID, "dov"),
		"hours are of":             confirm(first[0].ID, "rhea"),
		"no such record":           confirm(uuid.NewString(), "ivo"),
		"missing":                  `"kind":"countersignature","day":"2026-11-21","person":"ivo"`,
		"does not belong to":       `"kind":"quarantine","item":"rope-3","quarantine":{"event":"heat"},"confirms":"` + first[0].ID + `"`,
		"not belong to a function": strings.TrimSuffix(checked("backup-7", "rope-4", true), "}") + `},"confirms":"` + first[0].ID + `"`,
	} {
		if out := send(t, dov.URL, batch(entry)); out[0].State != "refused" || !strings.Contains(out[0].Errors[0].Detail, at) {
			t.Errorf("%s: %+v", at, out)
		}
	}
	row := "ivo,2026-11-21,6.5,'=face,,Weir,42,,Ivo Kestrane,"
	if _, text := call(t, "GET", dov.URL+"/api/v1/exports/hours.csv", nil); !strings.Contains(string(text), row+"\r\n") || strings.Contains(string(text), "ivo,2026-11-21,1,") {
		t.Errorf("%s", text)
	}
	if out := send(t, dov.URL, batch(confirm(first[0].ID, "ivo"))); out[0].State != "kept" {
		t.Fatalf("%+v", out)
	}
	if _, text := call(t, "GET", dov.URL+"/api/v1/exports/hours.csv", nil); !strings.Contains(string(text), row+"Dov Pellister\r\n") {
		t.Errorf("%s", text)
	}
	// A table of hours is what stands, or is recorded: by a supervisor for anybody, by others for
	// themselves; a row that makes a day too long keeps the others back.
	_, table := call(t, "GET", dov.URL+"/api/v1/exports/hours.csv", nil)
	if back := importCSV(t, dov.URL, "hours", string(table)); back.Counts["same"] != len(back.Rows) || len(back.Rows) < 2 {
		t.Errorf("%+v", back)
	}
	const more = "person,on,hours,kind,height\nIvo Kestrane,2026-11-22,20,face,12\nivo,2026-11-22,3,face,12\nivo,2026-11-22,2,face,12\nivo,2026-11-23,0,face,12\nnobody,2026-11-23,1,face,12\n"
	had := len(linesOf(t, dov.URL, "day=2026-11-22"))
	tried := importCSV(t, dov.URL, "hours?dry_run=true", more)
	if fmt.Sprint(tried.Counts) != "map[changes:0 new:2 same:0 wrong:3]" || tried.Rows[2].Errors[0].Field != "hours" || tried.Rows[3].Errors[0].Field != "hours" || tried.Rows[4].Errors[0].Field != "person" {
		t.Errorf("%+v", tried)
	}
	if whole := importCSV(t, dov.URL, "hours", more); whole.Written || len(linesOf(t, dov.URL, "day=2026-11-22")) != had {
		t.Errorf("written although rows are wrong: %+v", whole)
	}
	if some := importCSV(t, ivo.URL, "hours?only_right=true", more); !some.Written || len(linesOf(t, dov.URL, "day=2026-11-22")) != had+2 {
		t.Errorf("%+v", some)
	}
	if other := importCSV(t, rhea.URL, "hours?dry_run=true", "person,on,hours,kind\nivo,2026-11-20,1,face\n"); other.Counts["wrong"] != 1 {
		t.Errorf("%+v", other)
	}
	// Others see their own alone.
	if _, text := call(t, "GET", rhea.URL+"/api/v1/exports/hours.csv", nil); strings.Contains(string(text), "ivo") {
		t.Errorf("%s", text)
	}
}

// Familiarisation is recorded by who may, and the rule uses it.
func TestFamiliarisation(t *testing.T) {
	h := newHouse(t)
	maren, dov := h.as(t, "maren"), h.as(t, "dov")
	entry := `"kind":"familiarisation","person":"ivo","familiar":{"model":"descender-a"}`
	refused(t, 403, "/records/0/kind", "POST", h.as(t, "ivo").URL+"/api/v1/records", batch(entry))
	knows := func(model string) bool {
		d := read[drop.Document](t, dov.URL+"/api/v1/drops/gate-shaft")
		for _, f := range d.People[0].Familiar {
			if f.Model == model {
				return f.By == "Maren Oake"
			}
		}
		return false
	}
	if knows("descender-a") {
		t.Fatal("known before")
	}
	out := send(t, maren.URL, batch(entry))
	if !knows("descender-a") {
		t.Errorf("%+v", out)
	}
	send(t, maren.URL, batch(`"kind":"withdrawal","note":"the other generation","corrects":"`+out[0].ID+`"`))
	if knows("descender-a") {
		t.Error("withdrawn, and still known")
	}
	// Nobody shows a model to themself, whoever may record it.
	for by, at := range map[string]string{"": "/records/0/familiar/by", `,"by":"maren  oake"`: "/records/0/familiar/by", `,"by":"the maker"`: ""} {
		out := send(t, maren.URL, batch(`"kind":"familiarisation","person":"maren","familiar":{"model":"descender-a"`+by+`}`))
		if at == "" && out[0].Errors != nil || at != "" && (len(out[0].Errors) != 1 || out[0].Errors[0].Pointer != at) {
			t.Errorf("by %q: %+v", by, out)
		}
	}
	if out := send(t, dov.URL, batch(`"kind":"familiarisation","person":"nobody","familiar":{"model":"none"}`)); len(out[0].Errors) != 2 {
		t.Errorf("%+v", out)
	}
}

// A partner check is somebody else's, of the rigging as it is.
func TestPartnerCheck(t *testing.T) {
	h := newHouse(t)
	ivo := h.as(t, "ivo")
	state := func() procedure.Due {
		d := read[drop.Document](t, ivo.URL+"/api/v1/drops/face-4")
		r, err := check.Drop(t.Context(), &d, nil, check.Detail{Checks: true})
		if err != nil {
			t.Fatal(err)
		}
		return r.Checks[slices.IndexFunc(r.Checks, func(d procedure.Due) bool { return d.Kind == procedure.OfPartner })]
	}
	entry := func(rigging string, did bool) string {
		return fmt.Sprintf(`"kind":"partner-check","drop":"face-4","person":"rhea","partner":{"rigging":%q,"passed":%v,"proofs":[{"proof":"hold-1","did":%v}]}`, rigging, did, did)
	}
	due := state()
	if out := send(t, ivo.URL, batch(entry("0000", true))); out[0].Conflict != "the rigging was changed meanwhile" {
		t.Errorf("%+v", out)
	}
	for _, did := range []bool{true, false, true} {
		send(t, ivo.URL, batch(entry(due.Rigging, did)))
		if got := state(); (got.State == procedure.Passed) != did || !did && got.State != procedure.Failed || !did && got.Why != "it failed, by Ivo Kestrane: hold 1" {
			t.Errorf("passed %v: %+v", did, got)
		}
	}
}

// The check sheet says what stands, as signed, and is a PDF; the CSV has a row a
// record, and nothing in it is taken for a formula.
func TestSheets(t *testing.T) {
	h := newHouse(t)
	rhea := h.as(t, "rhea")
	send(t, rhea.URL, batch(strings.Replace(checked("backup-7", "rope-4", false, "look", "rolls"), `"kind"`, `"note":"=1+1","kind"`, 1)))
	answer, text := call(t, "GET", rhea.URL+"/api/v1/drops/face-4/checks.pdf", nil)
	for _, path := range []string{"/gear/list.pdf", "/kits/rescue-bag/list.pdf", "/items/backup-34/record.pdf"} {
		printed, body := call(t, "GET", rhea.URL+"/api/v1"+path, nil)
		if printed.StatusCode != 200 || printed.Header.Get("Content-Type") != "application/pdf" || !bytes.HasPrefix(body, []byte("%PDF-")) || !strings.Contains(printed.Header.Get("Content-Disposition"), ".pdf") {
			t.Errorf("%s: %s %.40s", path, printed.Status, body)
		}
	}
	if answer.Header.Get("Content-Type") != "application/pdf" || !bytes.HasPrefix(text, []byte("%PDF-")) || !bytes.Contains(text, []byte("%%EOF")) {
		t.Errorf("%v %.80s", answer.Header, text)
	}
	answer, text = call(t, "GET", rhea.URL+"/api/v1/drops/face-4/checks.csv", nil)
	rows, err := csv.NewReader(bytes.NewReader(text)).ReadAll()
	if err != nil || len(rows) != 5 || !strings.Contains(answer.Header.Get("Content-Type"), "text/csv") {
		t.Fatalf("%v %s", err, text)
	}
	row := rows[3]
	if row[4] != "function check" || row[5] != "wheel backup 7" || row[6] != "on rope 4" || row[7] != "FAILED; looked over; rolls both ways: did NOT" || row[8] != "'=1+1" || row[10] != "Rhea Tolland" {
		t.Errorf("%q", row)
	}
}
