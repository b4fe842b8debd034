package web_test

import (
	"bytes"
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"math"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/run"
	"zealousknot/internal/demo"
	"zealousknot/internal/store"
)

type runSaid struct {
	ID    string
	Phase run.Phase
	Plan  record.State
	Run   run.Document
	State run.State
}

// began is when the runs of trials begin.
var began = time.Now().Add(-2 * time.Hour).UTC().Truncate(time.Second)

// event is one as a device gives it, some seconds after the run began.
func event(seconds int, more string) string {
	return fmt.Sprintf(`{"id":%q,"given_at":%q,"by":"whoever",%s}`, uuid.NewString(), began.Add(time.Duration(seconds)*time.Second).Format(time.RFC3339), more)
}

func events(list ...string) []byte {
	return fmt.Appendf(nil, `{"sent_at":%q,"events":[%s]}`, time.Now().UTC().Format(time.RFC3339Nano), strings.Join(list, ","))
}

// gives sends events and gives what became of each.
func gives(t testing.TB, url, id string, list ...string) []store.Outcome {
	t.Helper()
	answer, text := call(t, "POST", url+"/api/v1/runs/"+id+"/events", events(list...))
	var out struct{ Events []store.Outcome }
	if err := json.Unmarshal(text, &out); err != nil || answer.StatusCode != 200 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	return out.Events
}

// makeRun makes a run of the gate shaft, released before.
func makeRun(t testing.TB, ivo, dov *httptest.Server) string {
	t.Helper()
	return makeRunOf(t, ivo, dov, "gate-shaft")
}

// makeRunOf makes a run of a drop, released before with a reason for each look.
func makeRunOf(t testing.TB, ivo, dov *httptest.Server, drop string) string {
	t.Helper()
	_, doc := call(t, "GET", dov.URL+"/api/v1/drops/"+drop, nil)
	_, text := call(t, "POST", dov.URL+"/api/v1/check", doc)
	var report struct{ Findings []finding.Finding }
	if err := json.Unmarshal(text, &report); err != nil {
		t.Fatal(err)
	}
	reasons := []record.Reason{}
	for _, f := range report.Findings {
		if f.Severity == finding.Look {
			reasons = append(reasons, record.Reason{Rule: f.Rule, What: f.What, Reason: "seen"})
		}
	}
	for _, s := range []struct {
		by    *httptest.Server
		state string
	}{{ivo, "checked"}, {dov, "released"}} {
		etag, _ := call(t, "GET", s.by.URL+"/api/v1/drops/"+drop, nil)
		if answer, text := call(t, "PUT", s.by.URL+"/api/v1/drops/"+drop+"/plan", []byte(`{"state":"`+s.state+`","reasons":`+asJSON(t, reasons)+`}`), "If-Match", etag.Header.Get("ETag")); answer.StatusCode != 200 {
			t.Fatalf("%s %s", answer.Status, text)
		}
	}
	var made struct{ ID string }
	if answer, text := call(t, "POST", dov.URL+"/api/v1/runs", []byte(`{"drop":"`+drop+`"}`)); answer.StatusCode != 201 || json.Unmarshal(text, &made) != nil {
		t.Fatalf("%s %s", answer.Status, text)
	}
	return made.ID
}

// What was checked for a day that is over says nothing of today: it is not released, no run is
// made of it, and one that was prepared is not started, nor in the way of another.
func TestRunOfAnotherDay(t *testing.T) {
	h := newHouse(t)
	ivo, dov := h.as(t, "ivo"), h.as(t, "dov")
	on := func(days int) { h.store.Today = func(store.Team) gear.Date { return demo.Day.AddDays(days) } }
	code := func(method, path, body string) (int, string) {
		etag, _ := call(t, "GET", dov.URL+"/api/v1/drops/gate-shaft", nil)
		answer, text := call(t, method, dov.URL+path, []byte(body), "If-Match", etag.Header.Get("ETag"))
		return answer.StatusCode, string(text)
	}
	over := func(what string) {
		t.Helper()
		if is, text := code("POST", "/api/v1/runs", `{"drop":"gate-shaft"}`); is != 422 || !strings.Contains(text, what) {
			t.Errorf("%d %s", is, text)
		}
	}
	prepared := makeRun(t, ivo, dov)
	on(2)
	over("is over")
	if p := read[store.Plan](t, dov.URL+"/api/v1/drops/gate-shaft/plan"); len(p.ToRelease) != 1 || !strings.Contains(p.ToRelease[0], "is over") {
		t.Errorf("%q", p.ToRelease)
	}
	for state, want := range map[string]int{"released": 422, "checked": 200} {
		if is, text := code("PUT", "/api/v1/drops/gate-shaft/plan", `{"state":"`+state+`"}`); is != want {
			t.Errorf("%s: %d %s", state, is, text)
		}
	}
	if out := gives(t, dov.URL, prepared, event(0, `"kind":"start"`)); out[0].State != "refused" || !strings.Contains(out[0].Errors[0].Detail, "is over") {
		t.Errorf("%+v", out)
	}
	// The shift of yesterday's release goes on past midnight, and beside what was prepared for a
	// day that is over there is room.
	on(0)
	if is, text := code("PUT", "/api/v1/drops/gate-shaft/plan", `{"state":"released"}`); is != 200 {
		t.Fatal(text)
	}
	if is, _ := code("POST", "/api/v1/runs", `{"drop":"gate-shaft"}`); is != 409 {
		t.Errorf("beside one that is prepared for today: %d", is)
	}
	on(1)
	if out := gives(t, dov.URL, prepared, event(0, `"kind":"start"`), event(1, `"kind":"end"`)); out[0].State != "kept" || out[1].State != "kept" {
		t.Errorf("%+v", out)
	}
	is, text := code("POST", "/api/v1/runs", `{"drop":"gate-shaft"}`)
	if is != 201 {
		t.Error(text)
	}
	own, _ := call(t, "GET", dov.URL+"/api/v1/policy", nil)
	shorter := `{"name":"x","day":{"gust_m_s":10,"change_min":30,"shift_h":12,"rest_h":11,"shock_kN":4,"rescue_factor":1.5,"check_h":0.000001}}`
	if answer, body := call(t, "PUT", dov.URL+"/api/v1/policy", []byte(shorter), "If-Match", own.Header.Get("ETag")); answer.StatusCode != 204 {
		t.Fatal(string(body))
	}
	on(0)
	for _, state := range []string{"checked", "released"} {
		if is, text := code("PUT", "/api/v1/drops/gate-shaft/plan", `{"state":"`+state+`"}`); is != 200 {
			t.Fatal(text)
		}
	}
	on(1)
	over("of a shift ago")
	on(3)
	if is, text := code("POST", "/api/v1/runs", `{"drop":"gate-shaft","exercise":true}`); is != 201 {
		t.Error(text)
	}
}

// A run is made of what is released, by a supervisor; people mark themselves; an event counts
// once however often it is sent; a plan that is taken back ends nothing; what is put away is
// recorded once, on the items too, and sealed over its events.
func TestRun(t *testing.T) {
	h := newHouse(t)
	ivo, dov, rhea, sunniva := h.as(t, "ivo"), h.as(t, "dov"), h.as(t, "rhea"), h.as(t, "sunniva")
	refused(t, 422, "/drop", "POST", dov.URL+"/api/v1/runs", []byte(`{"drop":"gate-shaft"}`))
	refused(t, 403, "", "POST", ivo.URL+"/api/v1/runs", []byte(`{"drop":"gate-shaft"}`))
	etag, doc := call(t, "GET", dov.URL+"/api/v1/drops/gate-shaft", nil)
	edged := bytes.Replace(doc, []byte(`"top_m":38`), []byte(`"edges":[{"id":"sill","name":"deck sill","height_m":37,"protection":"roller"}],"top_m":38`), 1)
	if answer, text := call(t, "PUT", dov.URL+"/api/v1/drops/gate-shaft", edged, "If-Match", etag.Header.Get("ETag")); answer.StatusCode != 200 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	id := makeRun(t, ivo, dov)
	// Beside it there is no second one, nor an exercise that would be shown in its place.
	for _, second := range []string{`{"drop":"gate-shaft"}`, `{"drop":"gate-shaft","exercise":true}`} {
		refused(t, 409, "", "POST", dov.URL+"/api/v1/runs", []byte(second))
	}
	of := func(s *httptest.Server) runSaid { t.Helper(); return read[runSaid](t, s.URL+"/api/v1/runs/"+id) }
	at := "/api/v1/runs/" + id
	if r := of(sunniva); r.Phase != run.Prepared || r.Plan != record.Released || len(r.Run.People) != 1 || !slices.Equal(r.Run.People[0].Devices, []string{"backup-31", "descender-21"}) {
		t.Errorf("%+v", r)
	}

	// Who may give what.
	on, off := event(60, `"kind":"on-rope","person":"ivo","at_m":30`), event(1860, `"kind":"off-rope","person":"ivo","at_m":0`)
	start, end := event(0, `"kind":"start"`), event(1900, `"kind":"end"`)
	refused(t, 403, "", "POST", sunniva.URL+at+"/events", events(on))
	refused(t, 403, "/events/0/kind", "POST", ivo.URL+at+"/events", events(start))
	refused(t, 403, "/events/0/kind", "POST", ivo.URL+at+"/events", events(event(1, `"kind":"briefing","briefing":{"channel":"3","lost_contact":"three pulls"}`)))
	refused(t, 403, "/events/1/person", "POST", rhea.URL+at+"/events", events(event(1, `"kind":"mark"`), on))
	for _, k := range []string{"put-away", "close"} {
		refused(t, 403, "/events/0/kind", "POST", dov.URL+at+"/events", events(event(1, `"kind":"`+k+`"`)))
	}
	refused(t, 422, "/events/0/kind", "POST", dov.URL+at+"/events", events(event(1, `"kind":"dance"`)))
	refused(t, 422, "/sent_at", "POST", ivo.URL+at+"/events", []byte(strings.Replace(string(events(on)), time.Now().UTC().Format("2006"), "2020", 1)))

	// Out of order, by two devices at once, each sent twice: kept once.
	var all sync.WaitGroup
	for range 2 {
		all.Add(2)
		go func() { defer all.Done(); gives(t, ivo.URL, id, off, on) }()
		go func() { defer all.Done(); gives(t, dov.URL, id, start) }()
	}
	all.Wait()
	if out := gives(t, ivo.URL, id, on); out[0].State != "already" {
		t.Errorf("sent again: %+v", out)
	}
	if out := gives(t, ivo.URL, id, strings.Replace(on, `"at_m":30`, `"at_m":31`, 1)); out[0].State != "refused" || out[0].Errors[0].Pointer != "/events/0/id" {
		t.Errorf("another under its id: %+v", out)
	}
	for seconds, says := range map[int]string{3 * 3600: "later than now", -32 * 24 * 3600: "days ago"} {
		if out := gives(t, rhea.URL, id, event(seconds, `"kind":"mark"`)); out[0].State != "refused" || !strings.Contains(out[0].Errors[0].Detail, says) {
			t.Errorf("%d s after it began: %+v", seconds, out)
		}
	}
	if out := gives(t, rhea.URL, id, event(72, `"kind":"quarantine","items":["none-such"],"reason":"8 kN"`)); out[0].State != "kept" || !strings.Contains(out[0].Conflict, "none-such is not in quarantine") {
		t.Errorf("an item that is none: %+v", out)
	}
	if out := gives(t, rhea.URL, id, event(70, `"kind":"not-as-planned","reason":"late"`), event(71, `"kind":"stop-work"`), event(73, `"kind":"stop-work","reason":"  "`)); out[0].State != "kept" || out[1].State != "refused" || out[1].Errors[0].Pointer != "/events/1/reason" || out[2].State != "refused" || out[2].Errors[0].Pointer != "/events/2/reason" {
		t.Errorf("%+v", out)
	}
	r := of(ivo)
	if r.Phase != run.Running || r.State.Events != 5 || len(r.State.Conflicts) != 1 || !strings.HasSuffix(r.State.Conflicts[0].Words, "was not briefed") || r.State.People[0].Doing != run.Off || r.Run.Events[0].By == "whoever" {
		t.Errorf("%+v", r.State)
	}

	// Into quarantine by one tap; the plan goes back, and the run goes on.
	shock := event(80, `"kind":"quarantine","items":["connector-46"],"reason":"8.1 kN on the main"`)
	gives(t, rhea.URL, id, shock)
	gives(t, rhea.URL, id, shock)
	if i := h.item(t, dov.URL, "connector-46"); i.State != gear.Quarantine {
		t.Errorf("%+v", i)
	}
	if lines := linesOf(t, dov.URL, "item=connector-46"); len(lines) != 1 {
		t.Errorf("%d records of one quarantine", len(lines))
	}
	etag, _ = call(t, "GET", dov.URL+"/api/v1/drops/gate-shaft", nil)
	call(t, "PUT", dov.URL+"/api/v1/drops/gate-shaft/plan", []byte(`{"state":"draft"}`), "If-Match", etag.Header.Get("ETag"))
	if r := of(dov); r.Plan != record.Draft || r.Phase != run.Running {
		t.Errorf("%s while the plan is %s", r.Phase, r.Plan)
	}

	// An incident keeps the run as far as it had come, whatever is given later.
	happened := `"kind":"incident","drop":"gate-shaft","incident":{"kind":"near-miss","what":"The main took 8.1 kN.","run":"` + id + `"}`
	if out := send(t, rhea.URL, batch(strings.Replace(happened, id, uuid.NewString(), 1))); out[0].State != "refused" || out[0].Errors[0].Pointer != "/records/0/incident/run" {
		t.Errorf("a run that is none: %+v", out)
	}
	told := of(dov).State
	out := send(t, rhea.URL, batch(happened))
	if out[0].State != "kept" {
		t.Fatalf("%+v", out)
	}
	gives(t, rhea.URL, id, event(85, `"kind":"call","reason":"all well"`))
	if f := read[record.Frozen](t, fmt.Sprintf("%s/api/v1/records/%d/frozen", dov.URL, out[0].Number)); f.RunEvents != told.Events || f.RunSHA256 != told.Seal || !strings.Contains(string(f.Run), "8.1 kN") || strings.Contains(string(f.Run), "all well") {
		t.Errorf("kept %d events, %s", f.RunEvents, f.RunSHA256)
	}

	// Put away: once it has ended, with a line for each counter, a reason for what is otherwise.
	away := func(lines string) []byte {
		return []byte(`{"lines":[` + lines + `],"edges":[{"rope":"rope-7","edge":"sill","up":"B"},{"rope":"rope-9","edge":"sill"}],"work":"inspection"}`)
	}
	person, backup := `{"person":"ivo","down_m":30,"up_m":0,"hours_h":0.5}`, `{"item":"backup-31","down_m":30,"up_m":0,"hours_h":0.5}`
	right := person + "," + backup + `,{"item":"descender-21","down_m":34,"up_m":0,"hours_h":0.5,"wet":true,"reason":"a second way down"}`
	before := len(linesOf(t, dov.URL, "item=descender-21"))
	refused(t, 422, "", "POST", dov.URL+at+"/put-away", away(right))
	gives(t, dov.URL, id, end)
	refused(t, 403, "", "POST", ivo.URL+at+"/put-away", away(right))
	refused(t, 422, "/lines", "POST", dov.URL+at+"/put-away", away(person))
	refused(t, 422, "/lines/2/reason", "POST", dov.URL+at+"/put-away", away(strings.Replace(right, "a second way down", "", 1)))
	refused(t, 422, "/lines/3", "POST", dov.URL+at+"/put-away", away(right+`,{"item":"rope-3","down_m":1,"up_m":0}`))
	refused(t, 422, "/edges/0", "POST", dov.URL+at+"/put-away", bytes.Replace(away(right), []byte("sill"), []byte("cornice"), 1))
	if len(linesOf(t, dov.URL, "item=descender-21")) != before {
		t.Error("something was recorded before it was put away")
	}
	left := func() run.After { t.Helper(); return read[run.After](t, ivo.URL+at+"/after") }
	if l := left(); len(l.Dry) > 0 || len(l.LookAt) != 2 || l.LookAt[0].Item != "connector-46" {
		t.Errorf("left to do before it is put away: %+v", l)
	}
	if answer, text := call(t, "POST", dov.URL+at+"/put-away", away(right)); answer.StatusCode != 200 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	refused(t, 422, "", "POST", dov.URL+at+"/put-away", away(right))
	if l := left(); len(l.Dry) != 1 || l.Dry[0].Item != "descender-21" || len(l.Clean) > 0 {
		t.Errorf("left to do: %+v", l)
	}
	// On the map of the rope whose upper end is known: the zone is counted from end A.
	rope := h.item(t, dov.URL, "rope-7")
	zones := 0
	for _, l := range append(linesOf(t, dov.URL, "item=rope-7"), linesOf(t, dov.URL, "item=rope-9")...) {
		if z := l.Says.Rope; z != nil {
			if zones++; l.Says.Item != "rope-7" || z.What != record.RopeZone || math.Abs(float64(rope.LengthM-2.6-z.FromM)) > 1e-9 || math.Abs(float64(rope.LengthM-1.6-z.ToM)) > 1e-9 || l.Says.Note != "lay on deck sill" {
				t.Errorf("%+v on a rope of %v", l.Says, rope.LengthM)
			}
		}
	}
	if zones != 1 {
		t.Errorf("%d zones", zones)
	}
	r = of(dov)
	if r.Phase != run.Closed || r.State.Seal != sealOf(t, r.Run.Events) {
		t.Errorf("%s, sealed %s", r.Phase, r.State.Seal)
	}
	i := slices.IndexFunc(linesOf(t, dov.URL, "day=2026-11-24&drop=gate-shaft"), func(l store.RecordLine) bool {
		return l.Says.Run != nil && l.Says.Run.SHA256 == r.State.Seal && l.Says.Run.Plan == r.Run.Plan && l.Says.Run.Events == r.State.Events
	})
	if i < 0 {
		t.Error("no record seals the run")
	}
	if _, text := call(t, "GET", dov.URL+"/api/v1/items/descender-21/life", nil); !strings.Contains(string(text), `"down_m":34`) {
		t.Errorf("%s", text)
	}
	if _, text := call(t, "GET", dov.URL+"/api/v1/people/ivo/log", nil); !strings.Contains(string(text), `"work":"inspection","site":"Marrowfell dam"`) {
		t.Errorf("%s", text)
	}
	// What comes after the closing is an addendum: the seal stays.
	gives(t, ivo.URL, id, event(90, `"kind":"call","reason":"radio lost"`))
	if late := of(dov); len(late.State.Addenda) != 1 || late.Phase != run.Closed || late.State.Seal != r.State.Seal || len(late.State.Calls) != 1 {
		t.Errorf("%+v", late.State)
	}
	for path, says := range map[string]string{"/log.pdf": "%PDF", "/sheet.pdf": "%PDF", "/log.csv": "stop-work"} {
		if _, text := call(t, "GET", dov.URL+at+path, nil); path != "/log.csv" && !strings.HasPrefix(string(text), says) || path == "/log.csv" && !strings.Contains(string(text), "not-as-planned,,,,,,late") {
			t.Errorf("%s: %.200s", path, text)
		}
	}
	// When it is over another may begin.
	makeExercise(t, dov)
}

// What a run took is shown once it is put away, to everybody of the team; nothing is changed
// by it.
func TestLearning(t *testing.T) {
	h := newHouse(t)
	dov, ivo := h.as(t, "dov"), h.as(t, "ivo")
	id := makeRunOf(t, ivo, dov, "basin-wall")
	r := read[runSaid](t, dov.URL+"/api/v1/runs/"+id)
	at := slices.IndexFunc(r.Run.Moves, func(m run.Move) bool { return m.Of == "team" })
	if at < 0 {
		t.Fatal("the basin wall has no move of a team")
	}
	m := &r.Run.Moves[at]
	list := []string{event(0, `"kind":"start"`), event(60, `"kind":"begin","move":"`+m.ID+`"`)}
	for n := range m.Steps {
		list = append(list, event(70+20*n, fmt.Sprintf(`"kind":"step","move":%q,"step":%d`, m.ID, n+1)))
	}
	gives(t, dov.URL, id, append(list, event(70+20*len(m.Steps), `"kind":"end"`))...)
	// A tenth more than was predicted of the load on the team's strands.
	team, err := h.store.TeamNamed(t.Context(), demo.Team)
	if err != nil {
		t.Fatal(err)
	}
	measured := map[string][]run.Point{}
	for _, b := range r.Run.Bands {
		for n := range int64(200 * len(m.Steps)) {
			measured[b.Channel] = append(measured[b.Channel], run.Point{Ms: began.UnixMilli() + 70_000 + 100*n, V: int64(1.1e4 * float64(b.LowKN+b.HighKN) / 2)})
		}
	}
	if err := h.store.AddReadings(t.Context(), team.ID, uuid.MustParse(id), measured); err != nil {
		t.Fatal(err)
	}
	if l := read[store.Learning](t, ivo.URL+"/api/v1/runs/learning"); l.Runs != 0 || len(l.Measured) != 0 {
		t.Errorf("learnt from a run that is not put away: %+v", l)
	}
	if answer, text := call(t, "POST", dov.URL+"/api/v1/runs/"+id+"/put-away", []byte(`{"measured":[{"channel":"main.force","loading":"rest","ratio":9,"count":1}]}`)); answer.StatusCode != 200 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	l := read[store.Learning](t, ivo.URL+"/api/v1/runs/learning")
	timed := 0
	for _, a := range l.Learnt {
		timed += a.Count
		if a.ProposedS != nil || a.Do == "lower" || a.Count > 1 && a.MedianS != 20 {
			t.Errorf("%+v", a)
		}
	}
	if l.Runs != 1 || timed == 0 {
		t.Errorf("%+v", l)
	}
	// By the readings that were there, whatever is claimed.
	if len(l.Measured) != 1 || l.Measured[0].Loading != finding.WhileLowering || l.Measured[0].Words != "measured on one run: 10 % above what was predicted" {
		t.Errorf("%+v", l.Measured)
	}
}

// An exercise is made of any plan, and nothing of it is counted.
func TestExercise(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	made := struct{ ID string }{makeExercise(t, dov)}
	before := len(linesOf(t, dov.URL, "item=descender-21"))
	gives(t, dov.URL, made.ID, event(0, `"kind":"start"`), event(60, `"kind":"on-rope","person":"ivo","at_m":30`), event(600, `"kind":"off-rope","person":"ivo","at_m":0`), event(700, `"kind":"end"`))
	gives(t, dov.URL, made.ID, event(80, `"kind":"quarantine","items":["descender-21"],"reason":"8 kN"`))
	if i := h.item(t, dov.URL, "descender-21"); i.State != gear.InService {
		t.Errorf("an exercise put it into %s", i.State)
	}
	refused(t, 422, "/lines/0", "POST", dov.URL+"/api/v1/runs/"+made.ID+"/put-away", []byte(`{"lines":[{"item":"descender-21","down_m":30,"up_m":0}]}`))
	if answer, text := call(t, "POST", dov.URL+"/api/v1/runs/"+made.ID+"/put-away", []byte(`{}`)); answer.StatusCode != 200 || !strings.Contains(string(text), `"phase":"closed"`) {
		t.Fatalf("%s %s", answer.Status, text)
	}
	if n := len(linesOf(t, dov.URL, "item=descender-21")); n != before {
		t.Errorf("%d records of an item after an exercise, %d before", n, before)
	}
}

// sealOf makes the seal of events again, by what docs/formats says of it.
func sealOf(t testing.TB, list []run.Event) string {
	t.Helper()
	sorted, _ := run.InOrder(list)
	sum := sha256.New()
	for _, e := range sorted {
		text, err := json.Marshal(e)
		if err != nil {
			t.Fatal(err)
		}
		_ = binary.Write(sum, binary.BigEndian, uint64(len(text)))
		sum.Write(text)
		if e.Kind == run.Close {
			break
		}
	}
	return hex.EncodeToString(sum.Sum(nil))
}

// A device sends with a token of the run alone, until it is revoked; a wrong line is refused
// with its number; sent again, out of order or as CSV it is there once; drawn to any width the
// peak is there, and what it was in is named.
func TestReadings(t *testing.T) {
	h := newHouse(t)
	ivo, dov := h.as(t, "ivo"), h.as(t, "dov")
	other := makeExercise(t, dov)
	id := makeRun(t, ivo, dov)
	at := dov.URL + "/api/v1/runs/" + id
	refused(t, 403, "", "POST", ivo.URL+"/api/v1/runs/"+id+"/device-tokens", []byte(`{"name":"load cell"}`))
	refused(t, 422, "/name", "POST", at+"/device-tokens", []byte(`{"name":""}`))
	var made struct{ ID, Token string }
	if answer, text := call(t, "POST", at+"/device-tokens", []byte(`{"name":"load cell"}`)); answer.StatusCode != 201 || json.Unmarshal(text, &made) != nil || len(made.Token) < 30 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	if _, text := call(t, "GET", at+"/device-tokens", nil); strings.Contains(string(text), made.Token) || !strings.Contains(string(text), made.ID) {
		t.Errorf("%s", text)
	}
	bearer := []string{"Authorization", "Bearer " + made.Token}
	reading := func(ms int, kN float64) string {
		return fmt.Sprintf(`{"at":"2026-11-24T09:%02d:%02d.%03dZ","channel":"main.force","value":%v,"unit":"kN"}`, ms/60000, ms/1000%60, ms%1000, kN)
	}
	send := func(body string) (kept int, wrong []run.LineFault) {
		t.Helper()
		answer, text := call(t, "POST", at+"/readings", []byte(body), bearer...)
		var out struct {
			Kept    int
			Refused []run.LineFault
		}
		if answer.StatusCode != 200 || json.Unmarshal(text, &out) != nil {
			t.Fatalf("%s %s", answer.Status, text)
		}
		return out.Kept, out.Refused
	}
	for _, headers := range [][]string{nil, {"Authorization", "Bearer x"}, {"Authorization", made.Token}} {
		refused(t, 401, "/header/Authorization", "POST", at+"/readings", []byte(reading(0, 1)), headers...)
	}
	refused(t, 401, "", "POST", dov.URL+"/api/v1/runs/"+other+"/readings", []byte(reading(0, 1)), bearer...)
	if kept, wrong := send(reading(100, 0.8) + "\n" + reading(0, 0.8) + "\nnothing\n" + reading(200, 8.1)); kept != 3 || len(wrong) != 1 || wrong[0].Line != 3 {
		t.Errorf("%d kept, refused %v", kept, wrong)
	}
	send(reading(100, 0.8) + "\n" + reading(0, 5))
	send("at,channel,value,unit\n2026-11-24T09:00:00.300Z,main.force,0.9,kN\n2026-11-24T09:00:00.300Z,gust,3,m/s\n")
	refused(t, 413, "", "POST", at+"/readings", []byte(strings.Repeat("\n", run.MostLines+5)+"x"), bearer...)
	refused(t, 413, "", "POST", at+"/readings", []byte(strings.Repeat(" ", 257<<10)), bearer...)
	// Many small requests are put together, and nothing of them is lost.
	for i := range 60 {
		send(reading(1000+100*i, 0.8))
	}
	type drawn struct {
		Channels []struct {
			Channel string
			Count   int
			Band    *run.Band
			Told    run.Told
			Peaks   []run.Peak
			Bars    []run.Bar
		}
	}
	for _, width := range []string{"1", "400"} {
		d := read[drawn](t, ivo.URL+"/api/v1/runs/"+id+"/readings?width="+width)
		if len(d.Channels) != 2 || d.Channels[0].Channel != "gust" || d.Channels[1].Count != 64 {
			t.Fatalf("%+v", d)
		}
		main := d.Channels[1]
		most := 0.0
		for _, b := range main.Bars {
			most = max(most, b.Most)
		}
		if most != 8.1 || len(main.Peaks) != 1 || main.Peaks[0].Value != 8.1 || d.Channels[1].Told.Words == "" || main.Band == nil || !slices.Contains(main.Band.Items, "descender-21") || main.Band.LowKN > 0.81 || main.Band.HighKN < 0.78 {
			t.Errorf("width %s: %v, %+v, %+v", width, most, main.Peaks, main.Band)
		}
	}
	if _, text := call(t, "GET", at+"/readings.csv", nil); strings.Count(string(text), "\n") != 66 || !strings.Contains(string(text), "2026-11-24T09:00:00.000Z,main.force,0.8,kN\r\n") {
		t.Errorf("%.300s", text)
	}
	if answer, _ := call(t, "DELETE", at+"/device-tokens/"+made.ID, nil); answer.StatusCode >= 300 {
		t.Error(answer.Status)
	}
	refused(t, 401, "", "POST", at+"/readings", []byte(reading(0, 1)), bearer...)
}

// makeExercise makes an exercise of the gate shaft.
func makeExercise(t testing.TB, dov *httptest.Server) string {
	t.Helper()
	var made struct{ ID string }
	if answer, text := call(t, "POST", dov.URL+"/api/v1/runs", []byte(`{"drop":"gate-shaft","exercise":true}`)); answer.StatusCode != 201 || json.Unmarshal(text, &made) != nil {
		t.Fatalf("%s %s", answer.Status, text)
	}
	return made.ID
}
