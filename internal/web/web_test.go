package web_test

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"io"
	"log/slog"
	"maps"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/calc"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

func TestMain(m *testing.M) {
	slog.SetDefault(slog.New(slog.NewTextHandler(io.Discard, nil)))
	pgtest.Main(m)
}

// everything is a role of each kind, for who is in another team.
var everything = []web.Role{web.Technician, web.Supervisor, web.StoreKeeper, web.Trainer}

const password = demo.Password

// house is the demo team's site and a second team's, in one database.
type house struct {
	store   *store.Store
	handler http.Handler
}

func newHouse(t testing.TB) *house {
	t.Helper()
	ctx := t.Context()
	s := pgtest.Store(t)
	s.Today = func(store.Team) gear.Date { return demo.Day }
	if _, _, err := scenario.Load(ctx, s, demo.Day); err != nil {
		t.Fatal(err)
	}
	hash, err := web.HashPassword(t.Context(), password)
	if err != nil {
		t.Fatal(err)
	}
	stranger := store.ScenarioMember{NewAccount: store.NewAccount{Login: "stranger", Name: "Orla Venn", Hash: hash}, Roles: everything}
	if _, _, err := s.Load(ctx, &store.Scenario{Team: "another team", Members: []store.ScenarioMember{stranger}}); err != nil {
		t.Fatal(err)
	}
	// A list looks at every drop, however slow the machine is.
	return &house{s, web.Handler(ctx, &web.Config{Store: s, Version: "test", PublicURL: "https://knots.example.org", Demo: true, LookFor: time.Hour})}
}

// as is the site as somebody has it who is signed in.
func (h *house) as(t testing.TB, login string) *httptest.Server {
	t.Helper()
	cookie := h.signIn(t, login)
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		r.AddCookie(cookie)
		h.handler.ServeHTTP(w, r)
	}))
	t.Cleanup(server.Close)
	return server
}

func (h *house) signIn(t testing.TB, login string) *http.Cookie {
	t.Helper()
	w := httptest.NewRecorder()
	r := httptest.NewRequest("POST", "/api/v1/session", strings.NewReader(`{"login":"`+login+`","password":"`+password+`"}`))
	r.Header.Set("Content-Type", "application/json")
	h.handler.ServeHTTP(w, r)
	i := slices.IndexFunc(w.Result().Cookies(), func(c *http.Cookie) bool { return c.Name == "zealousknot" })
	if w.Code != http.StatusNoContent || i < 0 {
		t.Fatalf("sign in as %s: %d %s", login, w.Code, w.Body)
	}
	return w.Result().Cookies()[i]
}

// site is the demo team's site as its supervisor and store keeper has it, and the
// one of somebody with every role in another team.
func site(t testing.TB) (demoSite, otherSite *httptest.Server) {
	t.Helper()
	h := newHouse(t)
	return h.as(t, "dov"), h.as(t, "stranger")
}

// call sends a request and gives the answer with its body; headers are pairs.
func call(t testing.TB, method, url string, body []byte, headers ...string) (*http.Response, []byte) {
	t.Helper()
	r, err := http.NewRequest(method, url, bytes.NewReader(body))
	if err != nil {
		t.Fatal(err)
	}
	r.Header.Set("Content-Type", "application/json")
	for i := 0; i < len(headers); i += 2 {
		r.Header.Set(headers[i], headers[i+1])
	}
	answer, err := http.DefaultClient.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	defer answer.Body.Close()
	text, err := io.ReadAll(answer.Body)
	if err != nil {
		t.Fatal(err)
	}
	kept(t, method, answer, text)
	return answer, text
}

// refused calls and wants a problem with a status that points at a place.
func refused(t testing.TB, status int, pointer string, method, url string, body []byte, headers ...string) {
	t.Helper()
	answer, text := call(t, method, url, body, headers...)
	var p web.Problem
	if err := json.Unmarshal(text, &p); err != nil || answer.StatusCode != status || p.Status != status || p.Title == "" ||
		answer.Header.Get("Content-Type") != "application/problem+json" {
		t.Fatalf("%s %s: got %d %s, want a problem %d", method, url, answer.StatusCode, text, status)
	}
	if pointer != "" && !slices.ContainsFunc(p.Errors, func(f strict.Fault) bool { return f.Pointer == pointer }) {
		t.Errorf("%s %s: %s does not point at %s", method, url, text, pointer)
	}
}

func document(t testing.TB, id string, change func(*drop.Document)) []byte {
	t.Helper()
	d := demo.Drops()[id]
	if change != nil {
		change(d)
	}
	text, err := json.Marshal(d)
	if err != nil {
		t.Fatal(err)
	}
	return text
}

func asJSON(t testing.TB, v any) string {
	t.Helper()
	text, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

// A team fills its store and its list of people; a bad row leaves nothing behind.
func TestFillTheStore(t *testing.T) {
	_, other := site(t)
	gear, people := other.URL+"/api/v1/gear", other.URL+"/api/v1/people"
	if answer, text := call(t, "PUT", gear, []byte(asJSON(t, demo.Gear()))); answer.StatusCode != 200 {
		t.Fatal(answer.Status, string(text))
	}
	if answer, text := call(t, "PUT", people, []byte(`{"people":`+asJSON(t, demo.People())+`}`)); answer.StatusCode != 200 {
		t.Fatal(answer.Status, string(text))
	}
	_, before := call(t, "GET", gear, nil)
	if !strings.Contains(string(before), `"descender-21"`) {
		t.Fatal(string(before))
	}
	item := asJSON(t, demo.Items()[0])
	for pointer, body := range map[string]string{
		"/items/0/length_m":   `{"items":[` + strings.Replace(item, `"length_m":110,`, ``, 1) + `]}`,
		"/items/1/id":         `{"items":[` + item + `,` + item + `]}`,
		"/items/0/length_ft":  `{"items":[` + strings.Replace(item, `"length_m"`, `"length_ft"`, 1) + `]}`,
		"/models/0/connector": `{"models":[{"id":"c","class":"connector","maker":"m","name":"n","source":"s"}],"items":[` + item + `]}`,
	} {
		refused(t, 422, pointer, "PUT", gear, []byte(strings.Replace(body, `"place":"rope store"`, `"place":"moved"`, 1)))
	}
	// The rows say what is with each; where the right ones alone are needed, they are written.
	mixed := []byte(`{"reason":"moved house","items":[` + item + `,` + strings.Replace(item, `"place":"rope store"`, `"place":"moved"`, 1) + `,{"id":"x","model":"none","serial":"1","label":"x","state":"in-service"},{"id":"y"}]}`)
	mixed = bytes.Replace(mixed, []byte(`"id":"rope-3"`), []byte(`"id":"rope-4","revision":7`), 1)
	refused(t, 422, "/items/2/model", "PUT", gear, mixed)
	refused(t, 422, "/item", "PUT", gear+"?only_right=true", []byte(`{"item":[],"items":[`+item+`]}`))
	_, rows := call(t, "PUT", gear+"?only_right=true", mixed)
	var out struct{ Rows []store.RowOutcome }
	if err := json.Unmarshal(rows, &out); err != nil || len(out.Rows) != 4 {
		t.Fatal(err, string(rows))
	}
	states := map[string]string{}
	for _, r := range out.Rows {
		states[r.ID] = r.State
	}
	if want := map[string]string{"rope-3": "conflict", "rope-4": "conflict", "x": "refused", "y": "refused"}; !maps.Equal(states, want) {
		t.Errorf("%v, want %v", states, want)
	}
	answer, conflict := call(t, "PUT", gear, []byte(`{"items":[`+strings.Replace(item, `"place":"rope store"`, `"place":"moved"`, 1)+`]}`))
	if answer.StatusCode != 409 || !strings.Contains(string(conflict), `"rows":[{"kind":"item","id":"rope-3","state":"conflict","revision":1}]`) {
		t.Errorf("%s %s", answer.Status, conflict)
	}
	// What only the database knows: the retired do not come back.
	refused(t, 409, "", "PUT", gear, []byte(`{"items":[`+strings.Replace(item, `"place":"rope store"`, `"revision":1,"place":"moved"`, 1)+`,`+
		strings.NewReplacer(`"id":"rope-3"`, `"id":"rope-12"`, `"serial":"R-3"`, `"serial":"R-12"`).Replace(item)+`]}`))
	refused(t, 422, "/people/0/mass_kg", "PUT", people, []byte(`{"people":[{"id":"a","name":"A","mass_kg":0}]}`))
	if _, after := call(t, "GET", gear, nil); !bytes.Equal(after, before) {
		t.Error("a refused request left something")
	}
}

// A drop is read, changed, saved, read again; the slower one gets a conflict.
func TestDropsAreVersioned(t *testing.T) {
	s, _ := site(t)
	url := s.URL + "/api/v1/drops/face-4"
	answer, first := call(t, "GET", url, nil)
	if answer.StatusCode != 200 || answer.Header.Get("ETag") != `"1"` {
		t.Fatal(answer.Status, answer.Header)
	}
	mended := bytes.Replace(first, []byte(`"mode":"two persons"`), []byte(`"mode":"one person"`), 1)
	answer, text := call(t, "PUT", url, mended, "If-Match", `"1"`)
	if answer.StatusCode != 200 || answer.Header.Get("ETag") != `"2"` {
		t.Fatal(answer.Status, string(text))
	}
	if _, again := call(t, "GET", url, nil); !bytes.Equal(again, mended) {
		t.Error("what was saved came back otherwise")
	}
	refused(t, 412, "", "PUT", url, first, "If-Match", `"1"`)
	if answer, _ := call(t, "PUT", url, first, "If-Match", `"1"`); answer.Header.Get("ETag") != `"2"` {
		t.Error("the loser does not learn which version is there")
	}
	refused(t, 428, "/header/If-Match", "PUT", url, first)
	refused(t, 422, "/header/If-Match", "PUT", url, first, "If-Match", "2")
	refused(t, 422, "/name", "PUT", url, bytes.Replace(first, []byte(`"name":"Face 4"`), []byte(`"name":""`), 1), "If-Match", `"2"`)
	refused(t, 404, "", "PUT", s.URL+"/api/v1/drops/none", first, "If-Match", `"1"`)
	refused(t, 412, "", "DELETE", url, nil, "If-Match", `"1"`)
	if answer, _ := call(t, "GET", url, nil); answer.Header.Get("ETag") != `"2"` {
		t.Error("a refused request changed the drop")
	}
	if answer, _ := call(t, "DELETE", url, nil, "If-Match", `"2"`); answer.StatusCode != 204 {
		t.Error(answer.Status)
	}
	refused(t, 404, "", "GET", url, nil)
	// Each version that was saved is there, and comes back, also of a drop that was removed.
	answer, text = call(t, "GET", url+"/versions", nil)
	if !strings.Contains(string(text), `"removed":true`) || !strings.Contains(string(text), `"by":"Dov Pellister"`) || answer.Header.Get("ETag") != `"2"` {
		t.Fatal(answer.Header.Get("ETag"), string(text))
	}
	if _, then := call(t, "GET", url+"/versions/1", nil); !bytes.Equal(then, first) {
		t.Error("the first version came back otherwise")
	}
	if _, text := call(t, "GET", s.URL+"/api/v1/removed-drops", nil); !strings.Contains(string(text), `"id":"face-4","version":2`) {
		t.Error(string(text))
	}
	// What a version has otherwise, each way round; the first differs from nothing.
	for query, want := range map[string]string{"2/changes": `{"since":1,"changes":["people, Rhea Tolland, holds, descender 14 on `, "1/changes": `{"since":0,"changes":[]}`, "2/changes?since=2": `{"since":2,"changes":[]}`} {
		if _, text := call(t, "GET", url+"/versions/"+query, nil); !strings.HasPrefix(string(text), want) {
			t.Error(query, string(text))
		}
	}
	refused(t, 422, "/query/since", "GET", url+"/versions/1/changes?since=2", nil)
	refused(t, 404, "", "GET", url+"/versions/3/changes?since=1", nil)
	refused(t, 404, "", "GET", url+"/versions/3", nil)
	refused(t, 422, "/path/version", "GET", url+"/versions/0", nil)
	refused(t, 428, "/header/If-Match", "POST", url+"/versions/1", nil)
	refused(t, 412, "", "POST", url+"/versions/1", nil, "If-Match", `"1"`)
	if answer, text := call(t, "POST", url+"/versions/1", nil, "If-Match", `"2"`); answer.StatusCode != 200 || answer.Header.Get("ETag") != `"3"` {
		t.Fatal(answer.Status, string(text))
	}
	refused(t, 412, "", "POST", url+"/versions/2", nil, "If-Match", `"2"`)
	if answer, _ := call(t, "POST", url+"/versions/2", nil, "If-Match", `"3"`); answer.Header.Get("ETag") != `"4"` {
		t.Error(answer.Status)
	}
	if _, again := call(t, "GET", url, nil); !bytes.Equal(again, mended) {
		t.Error("what was restored came back otherwise")
	}

	answer, text = call(t, "POST", s.URL+"/api/v1/drops", first)
	if answer.StatusCode != 201 || !strings.HasPrefix(answer.Header.Get("Location"), "/api/v1/drops/face-4-") {
		t.Fatal(answer.Status, string(text))
	}
	if answer, text := call(t, "GET", s.URL+answer.Header.Get("Location"), nil); answer.StatusCode != 200 || !bytes.Equal(text, first) {
		t.Error("the new drop came back otherwise")
	}
}

// Every operation of the API, found in its own description: another team sees
// and changes nothing of the first, and no operation is left out here.
// What a list says of a drop is what a check of it finds, from the same; where the server has not
// looked yet it says nothing, and each time that it is asked it has looked at one more.
func TestDropsAreCounted(t *testing.T) {
	h := newHouse(t)
	hurried := &house{h.store, web.Handler(t.Context(), &web.Config{Store: h.store, Version: "test", Demo: true, LookFor: 1})}
	dov := hurried.as(t, "dov")
	type line struct {
		ID, Plan     string
		Stops, Looks *int
	}
	lists := func() (list []line, counted int) {
		t.Helper()
		list = read[[]line](t, dov.URL+"/api/v1/drops")
		for _, l := range list {
			if (l.Stops == nil) != (l.Looks == nil) || (l.Stops == nil) != (l.Plan == "") {
				t.Errorf("half of %+v", l)
			}
			if l.Stops != nil {
				counted++
			}
		}
		return list, counted
	}
	same := func(anew int) {
		t.Helper()
		all := len(demo.Drops())
		for left := anew - 1; left >= 0; left-- {
			if _, counted := lists(); counted != all-left {
				t.Fatalf("%d of %d are counted, %d are left", counted, all, left)
			}
		}
		list, _ := lists()
		for _, l := range list {
			_, text := call(t, "GET", dov.URL+"/api/v1/drops/"+l.ID, nil)
			var report check.Report
			if _, text = call(t, "POST", dov.URL+"/api/v1/check", text); json.Unmarshal(text, &report) != nil || report.Stops != *l.Stops || report.Looks != *l.Looks {
				t.Errorf("%s has %d and %d in the list, and %d and %d by itself", l.ID, *l.Stops, *l.Looks, report.Stops, report.Looks)
			}
			if plan := read[store.Plan](t, dov.URL+"/api/v1/drops/"+l.ID+"/plan"); string(plan.State) != l.Plan {
				t.Errorf("%s is %s in the list, and %s by itself", l.ID, l.Plan, plan.State)
			}
		}
	}
	same(len(demo.Drops()))
	// What changes for a drop is counted again, and nothing else is.
	send(t, dov.URL, batch(`"kind":"quarantine","item":"rope-4","quarantine":{"event":"dropped"}`))
	with := 0
	for _, d := range demo.Drops() {
		if slices.ContainsFunc(d.Items, func(i gear.Item) bool { return i.ID == "rope-4" }) {
			with++
		}
	}
	if with == 0 || with == len(demo.Drops()) {
		t.Fatal(with)
	}
	same(with)
}

// A list that is longer than a page says so: paged through, each drop comes once, also where
// one is changed meanwhile; what is searched for is found wherever it stands.
func TestDropsArePaged(t *testing.T) {
	s, _ := site(t)
	lines := func(path string) (ids []string, next string) {
		t.Helper()
		answer, text := call(t, "GET", s.URL+path, nil)
		var list []struct{ ID, Name, Site string }
		if err := json.Unmarshal(text, &list); err != nil || answer.StatusCode != 200 {
			t.Fatalf("%s: %s %s", path, answer.Status, text)
		}
		for _, l := range list {
			ids = append(ids, l.ID)
		}
		next, _, _ = strings.Cut(strings.TrimPrefix(answer.Header.Get("Link"), "<"), ">")
		return ids, next
	}
	all, next := lines("/api/v1/drops")
	if len(all) != len(demo.Drops()) || next != "" {
		t.Errorf("%v %q", all, next)
	}
	var paged []string
	for path := "/api/v1/drops?limit=3"; path != ""; {
		var page []string
		page, path = lines(path)
		if len(page) > 3 || len(page) < 3 && path != "" {
			t.Errorf("a page of %d", len(page))
		}
		if paged = append(paged, page...); len(paged) == 3 {
			// The last of all goes to the front.
			last := document(t, all[len(all)-1], func(d *drop.Document) { d.Note = "changed" })
			if answer, text := call(t, "PUT", s.URL+"/api/v1/drops/"+all[len(all)-1], last, "If-Match", `"1"`); answer.StatusCode != 200 {
				t.Fatalf("%s %s", answer.Status, text)
			}
		}
	}
	if want := all[:len(all)-1]; !slices.Equal(paged, want) {
		t.Errorf("paged %v, all %v", paged, all)
	}
	for find, want := range map[string]int{"FACE": 2, "face 4": 1, "Marrowfell": len(all), "2026-11-24": len(all), "%": 0, "nowhere": 0} {
		if got, _ := lines("/api/v1/drops?find=" + url.QueryEscape(find)); len(got) != want {
			t.Errorf("%q finds %v", find, got)
		}
	}
	refused(t, 422, "", "GET", s.URL+"/api/v1/drops?limit=0", nil)
	refused(t, 422, "", "GET", s.URL+"/api/v1/drops?before=yesterday", nil)
}

func TestTeamsAreApart(t *testing.T) {
	s, other := site(t)
	_, text := call(t, "GET", s.URL+"/api/v1/openapi.json", nil)
	var api struct {
		Openapi string
		Paths   map[string]map[string]struct{ OperationID string }
	}
	if err := json.Unmarshal(text, &api); err != nil || !strings.HasPrefix(api.Openapi, "3.1") {
		t.Fatal(api.Openapi, err)
	}
	_, drops := call(t, "GET", s.URL+"/api/v1/drops", nil)
	doc := document(t, "face-4", nil)
	place := []byte(`{"drop":` + string(doc) + `,"place":{"person":"rhea","hold":"rhea-main"}}`)
	var session struct {
		Account string
		Team    store.Team
	}
	if _, text := call(t, "GET", s.URL+"/api/v1/session", nil); json.Unmarshal(text, &session) != nil {
		t.Fatal(string(text))
	}
	account, team, recorded := session.Account, session.Team.ID.String(), firstRecord(t, s.URL)
	// A window that shows somebody else, or another team, than is signed in by now does nothing.
	const as = "As-Signed-In"
	if answer, _ := call(t, "GET", s.URL+"/api/v1/drops", nil, as, account+" "+team); answer.StatusCode != 200 {
		t.Errorf("as who is signed in: %s", answer.Status)
	}
	for _, whom := range []string{uuid.NewString() + " " + team, account + " " + uuid.NewString(), account, "x"} {
		refused(t, 401, "", "GET", s.URL+"/api/v1/drops", nil, as, whom)
		refused(t, 401, "", "PUT", s.URL+"/api/v1/drops/shown-as-another", doc, as, whom)
	}
	refused(t, 404, "", "GET", s.URL+"/api/v1/drops/shown-as-another", nil)
	var made struct{ ID string }
	if _, text := call(t, "POST", s.URL+"/api/v1/runs", []byte(`{"drop":"gate-shaft","exercise":true}`)); json.Unmarshal(text, &made) != nil || made.ID == "" {
		t.Fatalf("%s", text)
	}
	ran := made.ID
	if answer, text := call(t, "PUT", s.URL+"/api/v1/session/pin", []byte(`{"password":"`+password+`","pin":"482913"}`)); answer.StatusCode != 204 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	for path, methods := range api.Paths {
		url := other.URL + strings.NewReplacer("{id}", "face-4", "{version}", "1", "{kind}", "items").Replace(path)
		for method, op := range methods {
			method = strings.ToUpper(method)
			switch op.OperationID {
			case "drop", "save-drop", "remove-drop", "plan", "sheet-pdf", "sheet-csv", "drop-versions", "drop-version", "drop-changes", "restore-drop":
				refused(t, 404, "", method, url, doc, "If-Match", `"1"`)
			case "send-readings":
				refused(t, 401, "/header/Authorization", method, strings.ReplaceAll(other.URL+path, "{id}", ran), []byte("x"), "Authorization", "Bearer x")
			case "make-token":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", ran), []byte(`{"name":"x"}`))
			case "revoke-token":
				refused(t, 404, "", method, strings.NewReplacer("{id}", ran, "{token}", ran).Replace(other.URL+path), nil)
			case "tokens":
				if _, text := call(t, method, strings.ReplaceAll(other.URL+path, "{id}", ran), nil); string(text) != `{"tokens":[]}`+"\n" {
					t.Errorf("%s: %s", op.OperationID, text)
				}
			case "run", "run-after", "run-pdf", "run-sheet-pdf", "run-csv", "readings", "readings-csv":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", ran), nil)
			case "give-events":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", ran), []byte(`{"sent_at":"`+time.Now().UTC().Format(time.RFC3339)+`","events":[{"id":"00000000-0000-4000-8000-000000000001","kind":"start","given_at":"2026-11-24T08:00:00Z","by":"x"}]}`))
			case "put-away":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", ran), []byte(`{}`))
			case "make-run":
				refused(t, 404, "", method, url, []byte(`{"drop":"face-4","exercise":true}`))
			case "partners":
				if _, text := call(t, method, url, nil); string(text) != `{"partners":[]}`+"\n" {
					t.Errorf("%s: %s", op.OperationID, text)
				}
			case "record-by-pin":
				// Somebody of another team signs nothing here, whatever their number.
				refused(t, 422, "/pin", method, url, []byte(`{"sent_at":"2026-11-24T08:00:00Z","account":"`+account+`","pin":"482913","record":{"id":"00000000-0000-4000-8000-000000000009","kind":"partner-check","given_at":"2026-11-24T08:00:00Z","day":"2026-11-24","person":"ivo","partner":{"rigging":"a","passed":true}}}`))
			case "runs":
				if _, text := call(t, method, url, nil); string(text) != `{"runs":[]}`+"\n" {
					t.Errorf("%s: %s", op.OperationID, text)
				}
			case "seat":
				refused(t, 404, "", method, url, []byte(`{"person":"rhea","by":"maren"}`), "If-Match", `"1"`)
			case "days", "day", "fill-day", "day-pdf", "day-ics":
				// A day of the caller's own team, which has nothing.
				if answer, text := call(t, method, strings.ReplaceAll(url, "{date}", string(demo.Day)), nil); answer.StatusCode != 200 || strings.Contains(string(text), "Gate shaft") || strings.Contains(string(text), "BEGIN:VEVENT") {
					t.Errorf("%s: %s %.200s", op.OperationID, answer.Status, text)
				}
			case "save-day":
				refused(t, 422, "/board/slots/0/drop", method, strings.ReplaceAll(url, "{date}", string(demo.Day)),
					[]byte(`{"format":"board","version":1,"day":"`+string(demo.Day)+`","slots":[{"drop":"face-4","hours":1}]}`), "If-Match", `"0"`)
			case "day-check", "day-cover", "day-fill":
				refused(t, 422, "/board/slots/0/drop", method, url, []byte(`{"board":{"format":"board","version":1,"day":"`+string(demo.Day)+`","slots":[{"drop":"face-4","hours":1}]}}`))
			case "callout", "capability":
				// A kit of the first team's is none of this one's.
				refused(t, 422, map[string]string{"callout": "/known/kits/0", "capability": "/kit"}[op.OperationID], method, url,
					[]byte(map[string]string{"callout": `{"known":{"kits":["van bag"]},"day":"2026-11-24"}`, "capability": `{"kit":"van bag","day":"2026-11-24"}`}[op.OperationID]))
			case "near":
				refused(t, 422, "/lon", method, url, []byte(`{"preplans":[],"lat":1,"day":"2026-11-24"}`))
			case "learning":
				if answer, text := call(t, method, url, nil); answer.StatusCode != 200 || !strings.Contains(string(text), `"runs":0`) {
					t.Errorf("%s: %s %s", op.OperationID, answer.Status, text)
				}
			case "callouts", "preplans":
				if answer, text := call(t, method, url, nil); answer.StatusCode != 200 || strings.Contains(string(text), "Basin") {
					t.Errorf("%s: %s %s", op.OperationID, answer.Status, text)
				}
			case "give-callout":
				// The id may be another team's callout: here it is one of its own.
				if answer, text := call(t, method, strings.ReplaceAll(other.URL+path, "{id}", account), calloutText("Theirs")); answer.StatusCode != 200 {
					t.Errorf("%s: %s %s", op.OperationID, answer.Status, text)
				}
			case "put-away-callout":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", team), []byte(`{}`))
			case "skills", "classes", "marks":
				if answer, text := call(t, method, url, nil); answer.StatusCode != 200 || strings.Contains(string(text), "Rhea") || strings.Contains(string(text), "Evening") {
					t.Errorf("%s: %s %s", op.OperationID, answer.Status, text)
				}
			case "mark":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", team), nil)
			case "save-class":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", team), []byte(classText("Theirs")), "If-Match", `"1"`)
			case "remove-class":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", team), nil, "If-Match", `"1"`)
			case "make-exercise", "exercise-pdf":
				// This team has no gear to make a rig from.
				refused(t, 422, "/gear", method, url, []byte(`{"kind":"faults"}`))
			case "mark-exercise":
				refused(t, 422, "/exercise/drop", method, url, []byte(`{"exercise":{"format":"exercise","version":1,"kind":"faults","seed":1,"level":1,"question":{}},"answer":{}}`))
			case "step-exercise":
				refused(t, 422, "/exercise/drop", method, url, []byte(`{"exercise":{"format":"exercise","version":1,"kind":"move","seed":1,"level":1,"question":{"move":"lower"}}}`))
			case "give-mark":
				refused(t, 422, "/id", method, url, []byte(`{"id":"none","exercise":{"format":"exercise","version":1,"kind":"faults","seed":1,"level":1,"question":{}},"answer":{}}`))
			case "joint-exercises":
				if answer, text := call(t, method, url, nil); answer.StatusCode != 200 || !strings.Contains(string(text), `"exercises":[]`) {
					t.Errorf("%s: %s %s", op.OperationID, answer.Status, text)
				}
			case "joint-exercise":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", team), nil)
			case "take-turn":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", team), []byte(`{"id":"`+team+`","end":true}`))
			case "begin-joint":
				// It is one's own that is begun, with a drop that has none of this team's things.
				refused(t, 422, "/exercise/drop", method, strings.ReplaceAll(other.URL+path, "{id}", team), []byte(`{"exercise":{"format":"exercise","version":1,"kind":"move","seed":1,"level":1,"question":{"move":"lower"}}}`))
			case "capability-pdf":
				refused(t, 422, "/kit", method, strings.ReplaceAll(other.URL+path, "{name}", "van%20bag"), nil)
			case "save-preplan":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", "basin-wall"), []byte(`{"format":"pre-plan","version":1,"name":"x"}`), "If-Match", `"1"`)
			case "remove-preplan":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", "basin-wall"), nil, "If-Match", `"1"`)
			case "set-plan":
				refused(t, 404, "", method, url, []byte(`{"state":"draft"}`), "If-Match", `"1"`)
			case "log", "log-csv":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", "rhea"), nil)
			case "set-member":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", account), []byte(`{"roles":["reader"]}`))
			case "remove-member", "end-sign-in", "remove-invitation":
				refused(t, 404, "", method, strings.ReplaceAll(other.URL+path, "{id}", account), nil)
			case "switch-team":
				refused(t, 404, "", method, url, []byte(`{"team":"`+team+`"}`))
			case "add-records":
				// The first team's item, drop, person and record are nobody's here.
				for what, entry := range map[string]string{
					"/item": `"kind":"quarantine","item":"descender-21","quarantine":{"event":"dropped"}`, "/person": `"kind":"hours","person":"rhea","hours":{"hours_h":2,"work":"face"}`,
					"/corrects": `"kind":"withdrawal","note":"no","corrects":"` + recorded + `"`,
				} {
					_, text := call(t, method, url, batch(entry))
					if !strings.Contains(string(text), `"state":"refused"`) || !strings.Contains(string(text), `/records/0`+what) {
						t.Errorf("%s: %s", op.OperationID, text)
					}
				}
			case "import":
				// The first team's item is new here, and its model is missing.
				if _, text := call(t, method, url+"?dry_run=true", []byte("id,label,model,serial\nrope-3,rope 3,rope-110,R-3\n"), "Content-Type", "text/csv"); !strings.Contains(string(text), `"state":"wrong"`) {
					t.Errorf("%s: %s", op.OperationID, text)
				}
			case "export":
				if _, text := call(t, method, url, nil); strings.Contains(string(text), "rope-3") {
					t.Errorf("%s: %s", op.OperationID, text)
				}
			case "records":
				if _, text := call(t, method, url+"?day=2026-11-24", nil); string(text) != `{"records":[]}`+"\n" {
					t.Errorf("%s: %s", op.OperationID, text)
				}
			case "take-history":
				// What goes out of the first team comes into the other one as a guest's, once.
				_, own := call(t, "GET", s.URL+"/api/v1/items/helmet-9/history.json", nil)
				if answer, text := call(t, method, url, own); answer.StatusCode != 200 || !strings.Contains(string(text), `"id":"helmet-9","state":"new"`) {
					t.Errorf("%s: %s %s", op.OperationID, answer.Status, text)
				}
				refused(t, 409, "", method, url, bytes.Replace(own, []byte("2027-02-28"), []byte("2027-03-28"), 1))
				_, bare := call(t, "GET", s.URL+"/api/v1/items/helmet-1/history.json", nil)
				refused(t, 422, "/item/guest", method, url, bare)
				refused(t, 409, "", method, url, bytes.Replace(own, []byte(`"class": "helmet"`), []byte(`"class": "bag"`), 1))
				if lines := linesOf(t, strings.TrimSuffix(url, "/api/v1/items/history"), "item=helmet-9"); len(lines) != 1 || !strings.Contains(lines[0].Says.Note, "history from "+demo.Team) {
					t.Errorf("%+v", lines)
				}
			case "model-trial":
				// The rope is the first team's.
				m := demo.Gear().Models[slices.IndexFunc(demo.Gear().Models, func(m gear.Model) bool { return m.Class == gear.Descender })]
				refused(t, 422, "/rope", method, url, []byte(`{"model":`+asJSON(t, m)+`,"rope":"rope-4","mass_kg":80}`))
				if answer, text := call(t, method, s.URL+"/api/v1/gear/trial", []byte(`{"model":`+asJSON(t, m)+`,"rope":"rope-4","mass_kg":80}`)); answer.StatusCode != 200 || !strings.Contains(string(text), `"mode"`) {
					t.Errorf("%s: %s %s", op.OperationID, answer.Status, text)
				}
			case "comparison":
				refused(t, 404, "/query/model/0", "GET", url+"?model=descender-a&model=descender-b", nil)
			case "put-gear":
				// An item of a model that only the first team has.
				refused(t, 422, "/items/0/model", method, url, []byte(`{"items":[`+asJSON(t, demo.Items()[0])+`]}`))
			case "policy", "put-policy":
				// Of the caller's own team: version 0, and the first team's stays.
				answer, text := call(t, method, url, []byte(`{"name":"theirs","grip_kN":0.2}`), "If-Match", `"0"`)
				if answer.StatusCode/100 != 2 || strings.Contains(string(text), demo.Team) {
					t.Errorf("%s: %s %.200s", op.OperationID, answer.Status, text)
				}
				if _, first := call(t, "GET", s.URL+"/api/v1/policy", nil); strings.Contains(string(first), `"name":"theirs"`) {
					t.Error("another team changed the policy")
				}
			case "set-time-zone":
				// Of the caller's own team.
				if answer, text := call(t, method, url, []byte(`{"time_zone":"Asia/Tokyo"}`)); answer.StatusCode != 204 {
					t.Errorf("%s: %s %s", op.OperationID, answer.Status, text)
				}
				if _, text := call(t, "GET", s.URL+"/api/v1/session", nil); !strings.Contains(string(text), `"time_zone":"UTC"`) {
					t.Errorf("another team changed the zone: %s", text)
				}
			case "put-people":
				// A harness that only the first team has.
				refused(t, 409, "", method, url, []byte(`{"people":[`+asJSON(t, demo.People()[0])+`]}`))
			case "due", "due-ics", "due-pdf", "points", "feeds", "recalls":
				// Of the caller's own team alone, which has nothing.
				if answer, text := call(t, method, url, nil); answer.StatusCode != 200 || strings.Contains(string(text), "rope") {
					t.Errorf("%s: %s %.200s", op.OperationID, answer.Status, text)
				}
			case "affected":
				if answer, text := call(t, method, url, []byte(`{"model":"rope-110","asks":"stop","source":"x"}`)); answer.StatusCode != 200 || string(text) != "[]\n" {
					t.Errorf("%s: %s %s", op.OperationID, answer.Status, text)
				}
			case "photo", "frozen":
				refused(t, 404, "", method, strings.NewReplacer("{sum}", strings.Repeat("0", 64), "{number}", "1").Replace(url), nil)
			case "put-photo":
				// Tried in TestPhotos.
			case "batch-pdf", "batch-csv", "batch-notice":
				refused(t, 404, "", method, url, nil)
			case "wear", "rope-map":
				refused(t, 404, "", method, strings.ReplaceAll(url, "face-4", "rope-3"), nil)
			case "item-by-code":
				g := read[drop.Store](t, s.URL+"/api/v1/gear")
				refused(t, 404, "", method, strings.ReplaceAll(url, "{code}", g.Items[0].Code), nil)
			case "labels":
				refused(t, 422, "/items/0", method, url, []byte(`{"items":["rope-3"],"sheet":"70x37"}`))
			case "add-feed", "revoke-feed", "feed":
				// Tried in TestFeed.
			case "moves", "schools", "team-moves":
				// Of no team.
			case "plan-move":
				// By what is in the request; of the store only the caller's models are named.
				body := []byte(`{"drop":` + string(doc) + `,"move":"rebelay-down"}`)
				if answer, text := call(t, method, url, body); answer.StatusCode != 200 || !strings.Contains(string(text), `"steps":[{`) {
					t.Errorf("%s: %s %.200s", op.OperationID, answer.Status, text)
				}
			case "rescue", "rescue-sheet-pdf", "rescue-sheet-svg":
				// Of the request alone, and on this drop nobody comes.
				refused(t, 422, "/drop/rescue", method, url, []byte(`{"drop":`+string(doc)+`}`))
			case "plan-team", "team-sheet-pdf", "team-sheet-svg":
				// Of the request alone, and this drop has no team.
				refused(t, 422, "/drop/team", method, url, []byte(`{"drop":`+string(doc)+`,"move":"prove-brake"}`))
			case "replay-moves":
				body := []byte(`{"drop":` + string(doc) + `,"list":{"start":{"grounded":true,"at_m":0.95,"holds":[]},"steps":[{"do":"stand"}]}}`)
				if _, text := call(t, method, url, body); !strings.Contains(string(text), "nothing to stand up from") {
					t.Errorf("%s: %.200s", op.OperationID, text)
				}
			case "join":
				refused(t, 404, "", method, url, []byte(`{"token":"none"}`))
			case "sign-in":
				refused(t, 401, "", method, url, []byte(`{"login":"rhea","password":"wrong"}`))
			case "change-password":
				refused(t, 422, "/old", method, url, []byte(`{"old":"wrong","new":"whatever it is"}`))
			case "set-pin":
				refused(t, 422, "/password", method, url, []byte(`{"password":"wrong","pin":"482913"}`))
			case "changes", "sign-out":
				// Tried in TestChanges and TestSignIn.
			case "export-archive":
				// Of the caller's own team alone.
				answer, text := call(t, method, url, nil)
				z, err := zip.NewReader(bytes.NewReader(text), int64(len(text)))
				if answer.StatusCode != 200 || err != nil || len(z.File) < 8 {
					t.Fatalf("%s: %s %v", op.OperationID, answer.Status, err)
				}
				for _, f := range z.File {
					r, err := f.Open()
					if err != nil {
						t.Fatal(err)
					}
					if part, err := io.ReadAll(r); err != nil || bytes.Contains(part, []byte("descender-21")) || bytes.Contains(part, []byte("Kestrane")) || bytes.Contains(part, []byte("rescue bag")) {
						t.Errorf("%s: %v %s", f.Name, err, part)
					}
				}
			case "import-archive":
				_, own := call(t, "GET", s.URL+"/api/v1/archive", nil)
				refused(t, 409, "", method, url, own, "Content-Type", "application/zip")
				refused(t, 422, "", method, url, own[:len(own)/2], "Content-Type", "application/zip")
			case "item-life", "item-pdf", "item-history":
				refused(t, 404, "", method, strings.Replace(url, "{id}", "rope-4", 1), nil)
			case "kit-pdf":
				refused(t, 404, "", method, strings.Replace(url, "{id}", "rescue-bag", 1), nil)
			case "store-pdf":
				// TestPrints says what stands on it.
				if answer, text := call(t, method, url, nil); answer.StatusCode != 200 || len(text) > 40_000 {
					t.Errorf("%s: %s, %d bytes", op.OperationID, answer.Status, len(text))
				}
			case "drops", "removed-drops", "people", "gear", "kits", "choices", "propose", "members", "invitations", "invite", "sign-ins":
				body := place
				switch op.OperationID {
				case "invite":
					body = []byte(`{"name":"Somebody","roles":["reader"]}`)
				case "propose":
					body = []byte(`{"drop":` + string(doc) + `}`)
				}
				if answer, text := call(t, method, url, body); answer.StatusCode != 200 || strings.Contains(string(text), "descender-21") || strings.Contains(string(text), "Kestrane") || strings.Contains(string(text), "rescue bag") {
					t.Errorf("%s: %s %.200s", op.OperationID, answer.Status, text)
				}
			case "session", "rules", "forms", "check", "add-drop":
				// Of no team, or of the caller's own.
				if answer, _ := call(t, method, url, doc); answer.StatusCode/100 != 2 {
					t.Errorf("%s: %s", op.OperationID, answer.Status)
				}
			case "loading", "figure-picture", "team-picture", "pair-picture", "forces-picture", "stance-picture":
				// A picture too knows what is in the request alone.
				refused(t, 422, "", method, url, []byte(`{}`))
			case "merge", "waiting":
				// What is put together, or waits on a device, is what the request says.
				refused(t, 422, "", method, url, []byte(`{}`))
			case "run-state":
				// A run too is folded from what is in the request alone.
				refused(t, 422, "", method, url, []byte(`{}`))
			case "knots":
				refused(t, 422, "", method, url, []byte(`{"drop":`+string(doc)+`,"strand":"none"}`))
			default:
				// Figures are of no team: they know what is in the request alone.
				if name, figure := strings.CutPrefix(op.OperationID, "calc-"); figure && calc.Find(name) != nil {
					refused(t, 422, "", method, url, []byte(`{}`))
					continue
				}
				t.Errorf("no trial of %s", op.OperationID)
			}
		}
	}
	if _, after := call(t, "GET", s.URL+"/api/v1/drops", nil); !bytes.Equal(after, drops) {
		t.Error("the other team changed something")
	}
}

func TestCheckAndChoose(t *testing.T) {
	s, _ := site(t)
	_, text := call(t, "POST", s.URL+"/api/v1/check", document(t, "face-4", nil))
	var report check.Report
	if err := json.Unmarshal(text, &report); err != nil || report.Stops != 1 || report.Findings[0].Rule != "rope.diameter" {
		t.Errorf("%v %s", err, text)
	}
	place := `,"place":{"person":"rhea","hold":"rhea-main"}}`
	_, text = call(t, "POST", s.URL+"/api/v1/choices", []byte(`{"drop":`+string(document(t, "face-4", nil))+place))
	var choices check.Choices
	if err := json.Unmarshal(text, &choices); err != nil || choices.Fit != 2 {
		t.Errorf("%v %s", err, text)
	}
	refused(t, 422, "/place/hold", "POST", s.URL+"/api/v1/choices", []byte(`{"drop":`+string(document(t, "gate-shaft", nil))+place))
	_, text = call(t, "GET", s.URL+"/api/v1/comparison?model=descender-a&model=descender-b", nil)
	if !strings.Contains(string(text), `"differs":true`) {
		t.Errorf("%s", text)
	}
	refused(t, 422, "/query/model/1", "GET", s.URL+"/api/v1/comparison?model=descender-a&model=rope-90", nil)
	refused(t, 422, "", "GET", s.URL+"/api/v1/comparison?model=descender-a", nil)
}

// What the searches of a rescue found is kept by the process: asked again, nothing is
// searched again, and the answer is the same.
func TestRescueIsSearchedOnce(t *testing.T) {
	demoSite, _ := site(t)
	body := []byte(`{"drop":` + string(document(t, "face-7", func(*drop.Document) {})) + `,"person":"ivo","at_m":50}`)
	var answers [2]ask.RescueAnswer
	for i := range answers {
		r, text := call(t, "POST", demoSite.URL+"/api/v1/rescue", body)
		if err := json.Unmarshal(text, &answers[i]); r.StatusCode != 200 || err != nil {
			t.Fatalf("%s %v %.300s", r.Status, err, text)
		}
	}
	if answers[0].Expanded == 0 || answers[1].Expanded != 0 {
		t.Errorf("%d states were expanded, then %d", answers[0].Expanded, answers[1].Expanded)
	}
	answers[0].Expanded = 0
	if a, b := asJSON(t, answers[0]), asJSON(t, answers[1]); a != b {
		t.Error("the answer is another one the second time")
	}
}

// A team's own figures come into every drop at once; the slower one gets a conflict; what
// no rule has is refused and changes nothing.
func TestPolicy(t *testing.T) {
	s, _ := site(t)
	url := s.URL + "/api/v1/policy"
	answer, text := call(t, "GET", url, nil)
	if answer.Header.Get("ETag") != `"0"` || !strings.Contains(string(text), `"shipped":{"name":"shipped default"`) {
		t.Fatal(answer.Header, string(text))
	}
	own := []byte(`{"name":"ours","arrest_ceiling_kN":0.5,"knots":{"end_loop":80,"mid_loop":55,"join":70,"stopper":25,"tail":10}}`)
	if answer, text := call(t, "PUT", url, own, "If-Match", `"0"`); answer.StatusCode/100 != 2 || answer.Header.Get("ETag") != `"1"` {
		t.Fatal(answer.Status, string(text))
	}
	refused(t, 412, "", "PUT", url, bytes.Replace(own, []byte("ours"), []byte("mine"), 1), "If-Match", `"0"`)
	if answer, _ := call(t, "PUT", url, own, "If-Match", `"0"`); answer.Header.Get("ETag") != `"1"` {
		t.Error("the same again is another version")
	}
	refused(t, 428, "/header/If-Match", "PUT", url, own)
	refused(t, 422, "/raises/0/rule", "PUT", url, []byte(`{"name":"ours","raises":[{"rule":"x","to":"stop"}]}`), "If-Match", `"1"`)
	refused(t, 422, "/grip_kN", "PUT", url, []byte(`{"name":"ours","grip_kN":0}`), "If-Match", `"1"`)
	answer, text = call(t, "GET", url, nil)
	if answer.Header.Get("ETag") != `"1"` || !strings.Contains(string(text), `"in_force":{"name":"ours","margins":"fixed-factors"`) {
		t.Fatal(answer.Header, string(text))
	}
	_, doc := call(t, "GET", s.URL+"/api/v1/drops/gate-shaft", nil)
	_, text = call(t, "POST", s.URL+"/api/v1/check", doc)
	if !strings.Contains(string(text), "force.arrest") || !strings.Contains(string(text), "above the ceiling of 0.5 kN") {
		t.Errorf("the drop is not checked by the team's ceiling: %.300s", text)
	}
}

// The command and the API compute the same; curves have a value for each height.
func TestFigures(t *testing.T) {
	s, _ := site(t)
	const in = `{"rope_length_m":30,"offset_m":4,"working":true}`
	want, err := calc.Find("swing").Run([]byte(in))
	if err != nil {
		t.Fatal(err)
	}
	if _, text := call(t, "POST", s.URL+"/api/v1/calc/swing", []byte(in)); strings.TrimSpace(string(text)) != asJSON(t, want) {
		t.Errorf("%s\nwant %s", text, asJSON(t, want))
	}
	refused(t, 422, "/offset_m", "POST", s.URL+"/api/v1/calc/swing", []byte(`{"rope_length_m":30,"offset_m":40}`))
	refused(t, 404, "", "POST", s.URL+"/api/v1/calc/fly", []byte(in))
	var report check.Report
	if _, text := call(t, "POST", s.URL+"/api/v1/check?curves=true&person=rhea", document(t, "face-4", nil)); json.Unmarshal(text, &report) != nil ||
		report.Curves == nil || report.Curves.Person != "rhea" || len(report.Curves.Curves) < 9 || report.Holds != nil {
		t.Errorf("%.300s", text)
	}
	// What no question of an address knows is not passed over.
	for pointer, ask := range map[string]struct {
		method, path string
		body         []byte
	}{
		"/query/stat": {"GET", "/gear?stat=quarantine", nil}, "/query/version": {"GET", "/drops/face-7?version=3", nil}, "/query/site": {"GET", "/drops?site=dam", nil},
		"/persn": {"POST", "/check?persn=rhea", document(t, "face-4", nil)}, "/query/at_m": {"POST", "/rescue?at_m=20", []byte("{}")}, "/curves": {"POST", "/check?curves=yes", document(t, "face-4", nil)},
	} {
		refused(t, 422, pointer, ask.method, s.URL+"/api/v1"+ask.path, ask.body)
	}
}

// What the reader refuses, the API refuses in the same words, and keeps nothing.
func TestBadInput(t *testing.T) {
	s, _ := site(t)
	_, before := call(t, "GET", s.URL+"/api/v1/drops", nil)
	good := string(document(t, "face-4", nil))
	for pointer, body := range map[string]string{
		"/geometry/top_ft":         strings.Replace(good, `"top_m":96`, `"top_ft":315`, 1),
		"/geometry/top_m":          strings.Replace(good, `"top_m":96`, `"top_m":"96 m"`, 1),
		"/people/0/mass_kg":        strings.Replace(good, `"mass_kg":88`, `"mass_kg":1e12`, 1),
		"/people/0/holds/0/strand": strings.Replace(good, `"strand":"main"`, `"strand":"x"`, 1),
		"/version":                 strings.Replace(good, `"version":1`, `"version":NaN`, 1),
		"/colour":                  strings.Replace(good, `{"format"`, `{"colour":1,"format"`, 1),
		"/note":                    `{"note":` + strings.Repeat("[", 500),
	} {
		refused(t, 422, pointer, "POST", s.URL+"/api/v1/check", []byte(body))
		refused(t, 422, pointer, "POST", s.URL+"/api/v1/drops", []byte(body))
		refused(t, 422, pointer, "PUT", s.URL+"/api/v1/drops/face-4", []byte(body), "If-Match", `"1"`)
	}
	refused(t, 413, "", "POST", s.URL+"/api/v1/check", bytes.Repeat([]byte("x"), 5<<20))
	// No text that the database would choke on gets to it by an address.
	for path, pointer := range map[string]string{"/drops?find=%00x": "/query/find", "/records?item=%ff": "/query/item", "/drops?%00=x": "/query", "/drops/%00x": "/path", "/examinations/%ff/report.csv": "/path"} {
		refused(t, 422, pointer, "GET", s.URL+"/api/v1"+path, nil)
	}
	if _, after := call(t, "GET", s.URL+"/api/v1/drops", nil); !bytes.Equal(after, before) {
		t.Error("a refused request left something")
	}
}

func TestAround(t *testing.T) {
	s, _ := site(t)
	for path, want := range map[string]string{"/healthz": "up\n", "/readyz": "ready\n"} {
		if _, text := call(t, "GET", s.URL+path, nil); string(text) != want {
			t.Errorf("%s: %s", path, text)
		}
	}
	answer, _ := call(t, "GET", s.URL+"/", nil)
	if csp := answer.Header.Get("Content-Security-Policy"); !strings.Contains(csp, "default-src 'none'") || strings.Contains(csp, "unsafe-inline") || strings.Contains(csp, "'unsafe-eval") ||
		answer.Header.Get("X-Content-Type-Options") != "nosniff" {
		t.Errorf("headers: %v", answer.Header)
	}
	refused(t, 404, "", "GET", s.URL+"/api/v1/nothing", nil)
	refused(t, 403, "", "POST", s.URL+"/api/v1/drops", document(t, "face-4", nil), "Sec-Fetch-Site", "cross-site")
	if answer, _ := call(t, "GET", s.URL+"/missing.js", nil); answer.StatusCode != 404 {
		t.Error(answer.Status)
	}
}

// A database that does not answer: not ready, and a problem that tells no inside.
func TestWithoutDatabase(t *testing.T) {
	db := pgtest.Store(t)
	s := httptest.NewServer(web.Handler(t.Context(), &web.Config{Store: db}))
	defer s.Close()
	db.Close()
	refused(t, 503, "", "GET", s.URL+"/readyz", nil)
	refused(t, 500, "", "GET", s.URL+"/api/v1/drops", nil, "Cookie", "zealousknot=x")
	if _, text := call(t, "GET", s.URL+"/api/v1/drops", nil, "Cookie", "zealousknot=x"); strings.Contains(string(text), "pool") {
		t.Errorf("tells what is inside: %s", text)
	}
}

// BenchmarkFirstLoad tells the size of what a first visit loads before it is shown,
// and of all scripts there are, compressed.
func BenchmarkFirstLoad(b *testing.B) {
	const root = "ui/dist/app"
	page, err := os.ReadFile(root + "/index.html")
	if err != nil {
		b.Skip("the front end is not built")
	}
	files, err := os.ReadDir(root + "/assets")
	if err != nil {
		b.Fatal(err)
	}
	sizes := map[string]int64{}
	for _, f := range files {
		info, err := f.Info()
		if err != nil {
			b.Fatal(err)
		}
		if name, script := strings.CutSuffix(f.Name(), ".js.br"); script {
			sizes["all_scripts_B"] += info.Size()
			if bytes.Contains(page, []byte(name+".js")) {
				sizes["first_scripts_B"] += info.Size()
			}
		}
		if strings.HasSuffix(f.Name(), ".woff2") {
			sizes["fonts_B"] += info.Size()
		}
	}
	for unit, size := range sizes {
		b.ReportMetric(float64(size), unit)
	}
}
