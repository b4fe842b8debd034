package web_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/demo"
	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

// commandSigner signs what a command does.
var commandSigner = &record.Signer{Name: "a command"}

// operations are those of the API's own description.
func operations(t testing.TB, url string) map[string]struct{ method, path string } {
	t.Helper()
	var api struct {
		Paths map[string]map[string]struct{ OperationID string }
	}
	if _, text := call(t, "GET", url+"/api/v1/openapi.json", nil); json.Unmarshal(text, &api) != nil {
		t.Fatal(string(text))
	}
	list := map[string]struct{ method, path string }{}
	for path, methods := range api.Paths {
		for method, op := range methods {
			list[op.OperationID] = struct{ method, path string }{strings.ToUpper(method), path}
		}
	}
	return list
}

// Every operation in the API's own description, with every role and with none: who
// may is let in, who may not is notified and changes nothing. An operation without a
// right cannot be declared.
func TestRoles(t *testing.T) {
	h := newHouse(t)
	hash, err := web.HashPassword(t.Context(), password)
	if err != nil {
		t.Fatal(err)
	}
	team, err := h.store.TeamNamed(t.Context(), demo.Team)
	if err != nil {
		t.Fatal(err)
	}
	sites := map[string]*httptest.Server{"": httptest.NewServer(h.handler)}
	t.Cleanup(sites[""].Close)
	for _, role := range web.Roles {
		token, login := uuid.NewString(), "only-"+role
		if _, err := h.store.Invite(t.Context(), team.ID, token, store.Invitation{Name: role, Roles: []web.Role{role}, MadeBy: "test"}); err != nil {
			t.Fatal(err)
		}
		if _, err := h.store.Join(t.Context(), token, &store.NewAccount{Login: login, Name: role, Hash: hash}, uuid.Nil); err != nil {
			t.Fatal(err)
		}
		sites[role] = h.as(t, login)
	}
	list := operations(t, sites[""].URL)
	for id := range web.Rights {
		if _, there := list[id]; !there {
			t.Errorf("%s has a right and is missing", id)
		}
	}
	for id, op := range list {
		right, ok := web.RightOf(id)
		if !ok {
			t.Errorf("%s has no right", id)
		}
		for role, s := range sites {
			// A sign-out would end what the others are tried with; it may be anybody's.
			if id == "sign-out" && role != "" {
				continue
			}
			path := strings.NewReplacer("{id}", uuid.Nil.String(), "{version}", "1", "{kind}", "people").Replace(op.path)
			status := status(t, op.method, s.URL+path)
			var wrong bool
			switch {
			case right.Open || role != "" && right.Has([]web.Role{role}):
				// Refused for what is asked, not for who asks; to see one's own log one is
				// somebody on the drops.
				// A device shows its token, whoever is signed in.
				wrong = status == http.StatusUnauthorized && id != "send-readings" || status == http.StatusForbidden && !strings.HasPrefix(id, "log") && id != "import"
			case role == "":
				wrong = status != http.StatusUnauthorized
			default:
				wrong = status != http.StatusForbidden
			}
			if wrong {
				t.Errorf("%s as %q: %d", id, role, status)
			}
		}
	}
	for kind, right := range web.KindRights {
		for role, s := range sites {
			status := 0
			if role != "" {
				answer, _ := call(t, "POST", s.URL+"/api/v1/records", batch(`"kind":"`+string(kind)+`"`))
				status = answer.StatusCode
			}
			if role != "" && (status == http.StatusForbidden) == right.Has([]web.Role{role}) {
				t.Errorf("%s as %q: %d", kind, role, status)
			}
		}
	}
	if d, err := h.store.Drops(t.Context(), team.ID, 10); err != nil || len(d) != len(demo.Drops()) {
		t.Errorf("something was changed: %v", err)
	}
}

// status sends an empty object and gives the status alone; it does not wait for
// what goes on.
func status(t testing.TB, method, url string) int {
	t.Helper()
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	r, err := http.NewRequestWithContext(ctx, method, url, strings.NewReader("{}"))
	if err != nil {
		t.Fatal(err)
	}
	answer, err := http.DefaultClient.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	answer.Body.Close()
	return answer.StatusCode
}

// Signing in: the wrong password and the unknown login are answered alike, guessing is
// stopped, a device is signed out from another one, a changed password signs out
// all others, and one's teams are gone over between.
func TestSignIn(t *testing.T) {
	h := newHouse(t)
	phone, laptop := h.as(t, "dov"), h.as(t, "dov")
	session := func(s *httptest.Server) (v struct {
		SignedIn bool `json:"signed_in"`
		Team     *store.Team
		Teams    []store.TeamRoles
		Roles    []string
		May      []string
	}) {
		if _, text := call(t, "GET", s.URL+"/api/v1/session", nil); json.Unmarshal(text, &v) != nil {
			t.Fatal(string(text))
		}
		return v
	}
	if s := session(phone); !s.SignedIn || len(s.Teams) != 2 || s.Team.Name != demo.Team || !slices.Contains(s.May, "record:back-in-service") {
		t.Fatalf("%+v", s)
	}
	other := session(phone).Teams[1]
	if answer, text := call(t, "PUT", phone.URL+"/api/v1/session/team", fmt.Appendf(nil, `{"team":%q}`, other.ID)); answer.StatusCode != 204 {
		t.Fatal(string(text))
	}
	if s := session(phone); s.Team.Name != demo.OtherTeam || slices.Contains(s.Roles, web.StoreKeeper) {
		t.Errorf("%+v", s)
	}
	if list := read[[]any](t, phone.URL+"/api/v1/drops"); len(list) != 0 {
		t.Error("the first team's drops in the second team")
	}
	if s := session(laptop); s.Team.Name != demo.Team {
		t.Error("the other device went over too")
	}

	devices := read[[]store.SignInLine](t, phone.URL+"/api/v1/sign-ins")
	i := slices.IndexFunc(devices, func(l store.SignInLine) bool { return !l.Present })
	if answer, _ := call(t, "DELETE", phone.URL+"/api/v1/sign-ins/"+devices[i].ID.String(), nil); answer.StatusCode != 204 || session(laptop).SignedIn || !session(phone).SignedIn {
		t.Errorf("%+v", devices)
	}
	refused(t, 401, "", "GET", laptop.URL+"/api/v1/drops", nil)
	laptop = h.as(t, "dov")
	for new, pointer := range map[string]string{"short": "/new", "aaaaaaaaaaaaaaaa": "/new"} {
		refused(t, 422, pointer, "PUT", phone.URL+"/api/v1/session/password", fmt.Appendf(nil, `{"old":%q,"new":%q}`, password, new))
	}
	if answer, text := call(t, "PUT", phone.URL+"/api/v1/session/password", fmt.Appendf(nil, `{"old":%q,"new":"four words of rope"}`, password)); answer.StatusCode != 204 {
		t.Fatal(string(text))
	}
	if session(laptop).SignedIn || !session(phone).SignedIn {
		t.Error("after the change of the password")
	}
	if answer, _ := call(t, "DELETE", phone.URL+"/api/v1/session", nil); answer.StatusCode != 204 || session(phone).SignedIn {
		t.Error("signed out, and still in")
	}

	open := httptest.NewServer(h.handler)
	defer open.Close()
	first, _ := call(t, "POST", open.URL+"/api/v1/session", fmt.Appendf(nil, `{"login":"rhea","password":%q}`, password))
	device := slices.IndexFunc(first.Cookies(), func(c *http.Cookie) bool { return c.Name == "zealousknot_device" && c.HttpOnly })
	if device < 0 {
		t.Fatalf("no device is named: %v", first.Cookies())
	}
	onDevice := first.Cookies()[device]
	try := func(login string) string {
		answer, text := call(t, "POST", open.URL+"/api/v1/session", fmt.Appendf(nil, `{"login":%q,"password":"a guess"}`, login))
		var p web.Problem
		if err := json.Unmarshal(text, &p); err != nil {
			t.Fatal(err)
		}
		p.RequestID = ""
		return fmt.Sprint(answer.StatusCode, p)
	}
	if known, unknown := try("rhea"), try("nobody"); known != unknown || !strings.HasPrefix(known, "401") {
		t.Errorf("%s\n%s", known, unknown)
	}
	// So many that the wait is a minute, however slow the machine that tests.
	wrong := func(of string) {
		for range 8 {
			if err := h.store.NoteWrong(t.Context(), of); err != nil {
				t.Fatal(err)
			}
		}
	}
	wrong("login rhea")
	// Even the right one is not checked for a while, but on a device that rhea knows.
	right := fmt.Appendf(nil, `{"login":"rhea","password":%q}`, password)
	refused(t, 429, "", "POST", open.URL+"/api/v1/session", right)
	if answer, _ := call(t, "POST", open.URL+"/api/v1/session", right, "Cookie", onDevice.Name+"="+onDevice.Value); answer.StatusCode != 204 {
		t.Errorf("on the owner's own device: %d", answer.StatusCode)
	}
	refused(t, 429, "", "POST", open.URL+"/api/v1/session", right, "Cookie", onDevice.Name+"="+uuid.NewString())
	// On such a device guesses are slowed too, whatever else its cookie names.
	elsewhere := []string{"Cookie", onDevice.Name + "=" + uuid.NewString() + "." + onDevice.Value}
	if answer, _ := call(t, "POST", open.URL+"/api/v1/session", []byte(`{"login":"rhea","password":"a guess"}`), elsewhere...); answer.StatusCode != 401 {
		t.Errorf("a guess on the owner's own device: %d", answer.StatusCode)
	}
	if n, _, err := h.store.Wrong(t.Context(), "login rhea on a known device"); err != nil || n != 1 {
		t.Errorf("%d wrong guesses counted on the device: %v", n, err)
	}
	wrong("login rhea on a known device")
	refused(t, 429, "", "POST", open.URL+"/api/v1/session", right, elsewhere...)
	refused(t, 422, "/pass", "POST", open.URL+"/api/v1/session", []byte(`{"login":"rhea","password":"secret","pass":"secret"}`))
	if _, text := call(t, "POST", open.URL+"/api/v1/session", []byte(`{"login":"rhea","password":["hush"]}`)); strings.Contains(string(text), "hush") {
		t.Errorf("a password is said back: %s", text)
	}
	// What the demo lets in is nobody elsewhere, signed in already or not.
	real := httptest.NewServer(web.Handler(t.Context(), &web.Config{Store: h.store}))
	defer real.Close()
	refused(t, 401, "", "POST", real.URL+"/api/v1/session", fmt.Appendf(nil, `{"login":"maren","password":%q}`, password))
	cookie := h.signIn(t, "maren")
	refused(t, 401, "", "GET", real.URL+"/api/v1/drops", nil, "Cookie", cookie.Name+"="+cookie.Value)
	if _, text := call(t, "GET", real.URL+"/api/v1/session", nil); strings.Contains(string(text), "demo_accounts") {
		t.Error("demo accounts are listed outside of the demo")
	}
	if !cookie.HttpOnly || cookie.SameSite != http.SameSiteLaxMode {
		t.Errorf("%+v", cookie)
	}
}

// An invitation is taken once, by a new account or by who has one; a team keeps a
// supervisor; who was taken out is out at once.
func TestMembers(t *testing.T) {
	h := newHouse(t)
	dov, stranger := h.as(t, "dov"), h.as(t, "stranger")
	open := httptest.NewServer(h.handler)
	defer open.Close()
	inviteOf := func(url, roles string) string {
		_, text := call(t, "POST", url+"/api/v1/invitations", []byte(`{"name":"Nils","roles":`+roles+`}`))
		var made struct{ Path string }
		if err := json.Unmarshal(text, &made); err != nil || made.Path == "" {
			t.Fatal(string(text))
		}
		return strings.TrimPrefix(made.Path, "/join#")
	}
	invite := func(roles string) string { return inviteOf(dov.URL, roles) }
	refused(t, 422, "/person", "POST", dov.URL+"/api/v1/invitations", []byte(`{"name":"Again","roles":["reader"],"person":"ivo"}`))
	token := invite(`["reader"]`)
	join := func(url, token, more string) *http.Response {
		answer, _ := call(t, "POST", url+"/api/v1/join", []byte(`{"token":"`+token+`"`+more+`}`))
		return answer
	}
	for pointer, body := range map[string]string{"/login": `"login":"N","name":"Nils","password":"four words of rope"`, "/password": `"login":"nils","name":"Nils","password":"four"`, "/name": `"login":"nils","password":"four words of rope"`} {
		refused(t, 422, pointer, "POST", open.URL+"/api/v1/join", []byte(`{"token":"`+token+`",`+body+`}`))
	}
	const nils = `,"login":"Nils","name":"Nils Aasen","password":"four words of rope"`
	refused(t, 409, "/login", "POST", open.URL+"/api/v1/join", []byte(`{"token":"`+token+`"`+strings.Replace(nils, `"Nils"`, `"rhea"`, 1)+`}`))
	if answer := join(open.URL, token, nils); answer.StatusCode != 204 || len(answer.Cookies()) != 2 {
		t.Fatal(answer.Status)
	}
	if answer := join(open.URL, token, strings.Replace(nils, "Nils", "other", 1)); answer.StatusCode != 404 {
		t.Errorf("taken twice: %s", answer.Status)
	}
	if answer := join(stranger.URL, invite(`["reader"]`), ""); answer.StatusCode != 204 {
		t.Errorf("joining with an account: %s", answer.Status)
	}
	if answer := join(dov.URL, invite(`["reader"]`), ""); answer.StatusCode != 409 {
		t.Errorf("in the team already: %s", answer.Status)
	}
	list := read[[]store.Membership](t, dov.URL+"/api/v1/members")
	of := func(login string) string {
		i := slices.IndexFunc(list, func(m store.Membership) bool { return m.Login == login })
		return dov.URL + "/api/v1/members/" + list[i].Account.String()
	}
	if len(list) != 7 {
		t.Errorf("%+v", list)
	}
	refused(t, 409, "", "PUT", of("dov"), []byte(`{"roles":["technician"],"person":"dov"}`))
	refused(t, 409, "", "DELETE", of("dov"), nil)
	refused(t, 422, "/roles/0", "PUT", of("rhea"), []byte(`{"roles":["chief"]}`))
	rhea := h.as(t, "rhea")
	refused(t, 403, "", "DELETE", rhea.URL+"/api/v1/drops/face-4", nil, "If-Match", `"1"`)
	refused(t, 412, "", "PUT", of("rhea"), []byte(`{"roles":["supervisor"],"person":"rhea","revision":9}`))
	if answer, _ := call(t, "PUT", of("rhea"), []byte(`{"roles":["supervisor"],"person":"rhea","revision":1}`)); answer.StatusCode != 204 {
		t.Error(answer.Status)
	}
	if answer, _ := call(t, "PUT", of("rhea"), []byte(`{"roles":["supervisor"],"person":"rhea"}`)); answer.StatusCode != 204 {
		t.Error(answer.Status)
	}
	refused(t, 412, "", "DELETE", rhea.URL+"/api/v1/drops/face-4", nil, "If-Match", `"9"`)
	// What she hands out counts as long as she may hand it out.
	handed := inviteOf(rhea.URL, `["supervisor"]`)
	_, text := call(t, "POST", rhea.URL+"/api/v1/due/feeds", nil)
	var feed store.Feed
	readJSON(t, text, &feed)
	listed := func(invitations, feeds int) {
		t.Helper()
		i, f := read[[]store.Invitation](t, dov.URL+"/api/v1/invitations"), read[[]store.Feed](t, dov.URL+"/api/v1/due/feeds")
		if len(i) != invitations || len(f) != feeds {
			t.Errorf("%d invitations, %d feeds: %+v", len(i), len(f), i)
		}
	}
	listed(2, 1)
	if answer, _ := call(t, "PUT", of("rhea"), []byte(`{"roles":["store-keeper"],"person":"rhea"}`)); answer.StatusCode != 204 {
		t.Error(answer.Status)
	}
	listed(1, 1)
	if answer := join(stranger.URL, handed, ""); answer.StatusCode != 404 {
		t.Errorf("invited by who invites nobody any more: %s", answer.Status)
	}
	if answer, _ := call(t, "GET", open.URL+"/api/v1/feeds/"+feed.Secret+".ics", nil); answer.StatusCode != 200 {
		t.Error(answer.Status)
	}
	if answer, _ := call(t, "DELETE", of("rhea"), nil); answer.StatusCode != 204 {
		t.Error(answer.Status)
	}
	listed(1, 0)
	refused(t, 404, "", "GET", open.URL+"/api/v1/feeds/"+feed.Secret+".ics", nil)
	if answer := join(open.URL, handed, strings.ReplaceAll(nils, "ils", "ora")); answer.StatusCode != 404 {
		t.Errorf("invited by who has left: %s", answer.Status)
	}
	refused(t, 401, "", "GET", rhea.URL+"/api/v1/drops", nil)
	// Who was removed and is invited again comes back with the same login, by its password.
	if answer, _ := call(t, "DELETE", of("nils"), nil); answer.StatusCode != 204 {
		t.Error(answer.Status)
	}
	again := invite(`["trainer"]`)
	if answer := join(open.URL, again, strings.Replace(nils, "four words of rope", "four words of sand", 1)); answer.StatusCode != 409 {
		t.Errorf("with another password: %s", answer.Status)
	}
	if answer := join(open.URL, again, nils); answer.StatusCode != 204 {
		t.Errorf("with the same: %s", answer.Status)
	}
	// Who came, left and became something else is recorded, for supervisors and who it is about.
	changes := func(lines []store.RecordLine) (list []string) {
		for _, l := range lines {
			if l.Says.Kind != record.MemberChange {
				continue
			}
			var was, is store.Membership
			_, _ = json.Unmarshal(l.Says.Change.Rows[0].Before, &was), json.Unmarshal(l.Says.Change.Rows[0].After, &is)
			list = append(list, fmt.Sprint(l.By, " ", was.Login, was.Roles, "→", is.Login, is.Roles))
		}
		return list
	}
	today := "day=" + time.Now().UTC().Format(time.DateOnly)
	if got, want := changes(linesOf(t, dov.URL, today)), []string{
		"Nils Aasen []→nils[trainer]", "Dov Pellister nils[reader]→[]", "Dov Pellister rhea[store-keeper]→[]", "Dov Pellister rhea[supervisor]→rhea[store-keeper]", "Dov Pellister rhea[technician]→rhea[supervisor]",
		"Orla Venn []→stranger[reader]", "Nils Aasen []→nils[reader]",
	}; !slices.Equal(got, want) {
		t.Errorf("%q", got)
	}
	if got := changes(linesOf(t, h.as(t, "ivo").URL, today)); len(got) != 0 {
		t.Errorf("a technician reads %q", got)
	}
	back := read[[]store.Membership](t, dov.URL+"/api/v1/members")
	if i := slices.IndexFunc(back, func(m store.Membership) bool { return m.Login == "nils" }); i < 0 || !slices.Equal(back[i].Roles, []string{"trainer"}) || back[i].Account != list[slices.IndexFunc(list, func(m store.Membership) bool { return m.Login == "nils" })].Account {
		t.Errorf("%+v", back)
	}
}

// A plan is checked, then released by a supervisor; a stop is in the way, a look
// needs its reason; what matters takes it back for good and says what, what does
// not matter does not.
func TestPlan(t *testing.T) {
	h := newHouse(t)
	ivo, dov := h.as(t, "ivo"), h.as(t, "dov")
	const path = "/api/v1/drops/gate-shaft"
	plan := func() *store.Plan { p := read[store.Plan](t, ivo.URL+path+"/plan"); return &p }
	set := func(s *httptest.Server, state string, reasons []record.Reason) (int, string) {
		body := []byte(`{"state":"` + state + `","reasons":` + asJSON(t, append([]record.Reason{}, reasons...)) + `}`)
		answer, text := call(t, "PUT", s.URL+path+"/plan", body, "If-Match", fmt.Sprintf("%q", fmt.Sprint(plan().Version)))
		return answer.StatusCode, string(text)
	}
	save := func(change func(*drop.Document)) {
		t.Helper()
		answer, text := call(t, "GET", dov.URL+path, nil)
		d := new(drop.Document)
		if err := json.Unmarshal(text, d); err != nil {
			t.Fatal(err)
		}
		change(d)
		if answer, text := call(t, "PUT", dov.URL+path, []byte(asJSON(t, d)), "If-Match", answer.Header.Get("ETag")); answer.StatusCode != 200 {
			t.Fatal(string(text))
		}
	}
	// The shaft as it is has something to look at.
	save(func(d *drop.Document) {
		d.People[0].Carries = slices.DeleteFunc(d.People[0].Carries, func(s string) bool { return s == "gloves-2" })
	})
	refused(t, 422, "/state", "PUT", dov.URL+path+"/plan", []byte(`{"state":"released"}`), "If-Match", `"2"`)
	refused(t, 412, "", "PUT", dov.URL+path+"/plan", []byte(`{"state":"checked"}`), "If-Match", `"1"`)
	if code, text := set(ivo, "checked", nil); code != 200 || plan().State != record.Checked {
		t.Fatal(text)
	}
	if code, _ := set(ivo, "released", nil); code != 403 {
		t.Error("released by a technician")
	}
	refused(t, 422, "/reasons", "PUT", dov.URL+path+"/plan", []byte(`{"state":"released"}`), "If-Match", `"2"`)
	d := read[drop.Document](t, ivo.URL+path)
	report, err := check.Drop(t.Context(), &d, nil, check.FindingsOnly)
	if err != nil || report.Stops > 0 || report.Looks == 0 {
		t.Fatal(err, report.Stops, report.Looks)
	}
	var reasons []record.Reason
	for _, f := range report.Findings {
		reasons = append(reasons, record.Reason{Rule: f.Rule, What: f.What, Reason: "gloves lie at the deck"})
	}
	release := func() {
		t.Helper()
		if code, text := set(ivo, "checked", nil); code != 200 {
			t.Fatal(text)
		}
		if code, text := set(dov, "released", reasons); code != 200 {
			t.Fatal(text)
		}
	}
	release()
	if p := plan(); p.State != record.Released || p.By != "Dov Pellister" || len(p.Reasons) != len(reasons) {
		t.Errorf("%+v", p)
	}
	save(func(d *drop.Document) { d.Note, d.People[0].AtM = "another note", 20 })
	if p := plan(); p.State != record.Released {
		t.Errorf("taken back by nothing: %+v", p)
	}
	for what, c := range map[string]struct{ do, undo func(*drop.Document) }{
		"people, Ivo Kestrane, mass: 81 kg → 90 kg": {func(d *drop.Document) { d.People[0].MassKg = 90 }, func(d *drop.Document) { d.People[0].MassKg = 81 }},
		"geometry, top: 38 m → 37 m":                {func(d *drop.Document) { d.Geometry.TopM = 37 }, func(d *drop.Document) { d.Geometry.TopM = 38 }},
		"wind m/s: 0":                               {func(d *drop.Document) { d.WindMS = 9 }, func(d *drop.Document) { d.WindMS = 0 }},
	} {
		save(c.do)
		save(c.undo)
		p := plan()
		if p.State != record.Draft || len(p.Because) == 0 {
			t.Errorf("%s: undone, it is %s: %q", what, p.State, p.Because)
		}
		if what[0] != 'w' && p.Because[0] != what {
			t.Errorf("%q, want %q", p.Because, what)
		}
		release()
	}
	// So does what the team's people weigh now, where the drop has what they weighed then.
	weighs := func(kg quantity.Kilograms) {
		t.Helper()
		people := read[[]rig.Member](t, dov.URL+"/api/v1/people")
		p := people[slices.IndexFunc(people, func(p rig.Member) bool { return p.ID == "ivo" })]
		p.MassKg = kg
		if answer, text := call(t, "PUT", dov.URL+"/api/v1/people", []byte(`{"people":[`+asJSON(t, p)+`]}`)); answer.StatusCode != 200 {
			t.Fatal(string(text))
		}
	}
	weighs(85)
	const heavier = "The mass of Ivo Kestrane is 81 kg here, and 85 kg among the team's people."
	if p := plan(); p.State != record.Draft || !slices.Contains(p.Because, heavier) {
		t.Errorf("%+v", p)
	}
	if code, text := set(ivo, "checked", nil); code != 200 {
		t.Fatal(text)
	}
	if code, text := set(dov, "released", reasons); code != 422 || !strings.Contains(text, heavier) {
		t.Errorf("%d %s", code, text)
	}
	weighs(81)
	release()
	// What happens in the store takes it back too, on every drop.
	send(t, ivo.URL, batch(`"kind":"quarantine","item":"descender-21","quarantine":{"event":"dropped"},"note":"from the deck"`))
	send(t, dov.URL, batch(`"kind":"back-in-service","item":"descender-21","note":"examined"`))
	if p := plan(); p.State != record.Draft || !strings.Contains(strings.Join(p.Because, "; "), "descender 21, state: in-service → quarantine") {
		t.Errorf("%+v", p)
	}
	// Who changed it last does not check it, unless the team's policy lets them, and then
	// everything says so.
	save(func(d *drop.Document) { d.People[0].MassKg = 82 })
	reasons = append(reasons, record.Reason{Rule: "person.listed", What: "The mass of Ivo Kestrane is 82 kg here, and 81 kg among the team's people.", Reason: "with the camera"})
	if code, text := set(dov, "checked", nil); code != 422 || !strings.Contains(text, "another person checks it") || plan().State != record.Draft {
		t.Errorf("checked by who changed it: %d %s", code, text)
	}
	answer, text := call(t, "GET", dov.URL+"/api/v1/policy", nil)
	var ours struct{ Own map[string]any }
	if err := json.Unmarshal(text, &ours); err != nil {
		t.Fatal(err)
	}
	policy := ours.Own
	if policy == nil {
		policy = map[string]any{"name": "ours"}
	}
	policy["checked_alone"] = true
	if answer, text := call(t, "PUT", dov.URL+"/api/v1/policy", []byte(asJSON(t, policy)), "If-Match", answer.Header.Get("ETag")); answer.StatusCode >= 300 {
		t.Fatal(string(text))
	}
	release()
	if p := plan(); p.Alone {
		t.Error("checked by another person, and said to be alone")
	}
	if code, text := set(dov, "draft", nil); code != 200 {
		t.Fatal(text)
	}
	if code, text := set(dov, "checked", nil); code != 200 || !plan().Alone {
		t.Errorf("%d %s", code, text)
	}
	if code, text := set(dov, "released", reasons); code != 200 || !plan().Alone {
		t.Errorf("released after it was checked alone: %d %s", code, text)
	}
	states := 0
	for _, l := range linesOf(t, dov.URL, "day=2026-11-24&drop=gate-shaft") {
		if l.Says.Plan != nil {
			states++
		}
	}
	if states != 1+4*2+4+4+2+1+2 {
		t.Errorf("%d plan states are recorded", states)
	}
}

// Pages receive what changes in their team, at once, and of nothing else.
func TestChanges(t *testing.T) {
	h := newHouse(t)
	dov, stranger := h.as(t, "dov"), h.as(t, "stranger")
	told := map[*httptest.Server]chan string{}
	for _, s := range []*httptest.Server{dov, stranger} {
		answer, err := http.Get(s.URL + "/api/v1/changes")
		if err != nil {
			t.Fatal(err)
		}
		t.Cleanup(func() { answer.Body.Close() })
		lines := bufio.NewScanner(answer.Body)
		wait(t, lines, `data: {}`)
		ch := make(chan string, 100)
		told[s] = ch
		go func() {
			for lines.Scan() {
				if data, ok := strings.CutPrefix(lines.Text(), "data: "); ok && data != "{}" && data != `{"all":true}` {
					ch <- data
				}
			}
		}()
	}
	send(t, dov.URL, batch(`"kind":"quarantine","item":"descender-21","drop":"gate-shaft","quarantine":{"event":"dropped"}`))
	if got := <-told[dov]; got != `{"records":true,"gear":true,"drops":["gate-shaft"]}` {
		t.Error(got)
	}
	call(t, "PUT", stranger.URL+"/api/v1/people", []byte(`{"people":[{"id":"a","name":"A","mass_kg":80}]}`))
	if got := <-told[stranger]; got != `{"records":true,"people":true}` {
		t.Error(got)
	}
}

func wait(t testing.TB, lines *bufio.Scanner, want string) {
	t.Helper()
	for lines.Scan() {
		if lines.Text() == want {
			return
		}
	}
	t.Fatal("the stream ended: ", lines.Err())
}

// Whatever is sent as a batch is recorded, refused or not read, and never an error
// of the program's own; the chain is whole after it.
func FuzzRecords(f *testing.F) {
	for _, entry := range []string{
		checked("backup-7", "rope-4", false, "look", "rolls"), `"kind":"hours","person":"rhea","hours":{"hours_h":2,"work":"face"}`,
		`"kind":"withdrawal","note":"x","corrects":"` + uuid.NewString() + `"`, `"kind":"partner-check","drop":"face-4","person":"ivo","partner":{"rigging":"a","passed":true}`,
	} {
		f.Add(batch(entry))
	}
	f.Add([]byte(`{"sent_at":"2026-11-24T00:00:00Z","records":[]}`))
	h := newHouse(f)
	rhea := h.as(f, "dov")
	f.Fuzz(func(t *testing.T, body []byte) {
		answer, text := call(t, "POST", rhea.URL+"/api/v1/records", body)
		if code := answer.StatusCode; code != 200 && code != 422 && code != 403 && code != 413 && code != 429 && code != 400 {
			t.Errorf("%d %s", code, text)
		}
		if answer.StatusCode == 200 {
			if chains, err := h.store.Verify(t.Context(), 0); err != nil || chains[0].Broken != nil {
				t.Errorf("%+v %v", chains, err)
			}
		}
	})
}

// What can only be done on the day stands in the way of releasing a plan, not of
// checking it; what is missing is said beforehand.
func TestTwoGates(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	const path = "/api/v1/drops/gate-shaft"
	answer, text := call(t, "GET", dov.URL+path, nil)
	d := new(drop.Document)
	if err := json.Unmarshal(text, d); err != nil {
		t.Fatal(err)
	}
	// Another day: nothing is proved on it yet.
	d.Day = "2026-11-25"
	if answer, text := call(t, "PUT", dov.URL+path, []byte(asJSON(t, d)), "If-Match", answer.Header.Get("ETag")); answer.StatusCode != 200 {
		t.Fatal(string(text))
	}
	ivo := h.as(t, "ivo")
	plan := read[store.Plan](t, ivo.URL+path+"/plan")
	if len(plan.ToCheck) > 0 || len(plan.ToRelease) == 0 || !strings.Contains(plan.ToRelease[0], "No function check") {
		t.Fatalf("to check %q, to release %q", plan.ToCheck, plan.ToRelease)
	}
	if answer, text := call(t, "PUT", ivo.URL+path+"/plan", []byte(`{"state":"checked"}`), "If-Match", `"2"`); answer.StatusCode != 200 {
		t.Fatal(string(text))
	}
	if p := read[store.Plan](t, ivo.URL+path+"/plan"); p.State != record.Checked {
		t.Errorf("taken back by what waits for the day: %+v", p)
	}
	refused(t, 422, "/state", "PUT", dov.URL+path+"/plan", []byte(`{"state":"released"}`), "If-Match", `"2"`)
	// An empty drop says what it lacks.
	answer, text = call(t, "POST", dov.URL+"/api/v1/drops", []byte(`{"format":"drop","version":1,"name":"empty","day":"2026-11-25","policy":{"name":"p"},"geometry":{"top_m":10,"top_name":"top","landing_name":"ground","offset_m":0}}`))
	if answer.StatusCode >= 300 {
		t.Fatal(string(text))
	}
	empty := read[store.Plan](t, dov.URL+answer.Header.Get("Location")+"/plan")
	if len(empty.ToCheck) < 2 {
		t.Errorf("an empty drop lacks %q", empty.ToCheck)
	}
}

// Nobody whose person is not known signs a partner check, since it could be of their own
// rigging; a supervisor says who they are, or another one that they are nobody there.
func TestWhoIsWho(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	team, err := h.store.TeamNamed(t.Context(), demo.Team)
	if err != nil {
		t.Fatal(err)
	}
	hash, err := web.HashPassword(t.Context(), password)
	if err != nil {
		t.Fatal(err)
	}
	token := uuid.NewString()
	if _, err := h.store.Invite(t.Context(), team.ID, token, store.Invitation{Name: "New", Roles: []web.Role{web.Supervisor, web.Trainer}, MadeBy: "test"}); err != nil {
		t.Fatal(err)
	}
	account, err := h.store.Join(t.Context(), token, &store.NewAccount{Login: "new", Name: "New", Hash: hash}, uuid.Nil)
	if err != nil {
		t.Fatal(err)
	}
	fresh := h.as(t, "new")
	d := read[drop.Document](t, fresh.URL+"/api/v1/drops/gate-shaft")
	sign := func() string {
		b := batch(fmt.Sprintf(`"kind":"partner-check","drop":"gate-shaft","person":"ivo","partner":{"rigging":%q,"passed":true}`, procedure.RiggingOn(&d, "ivo")))
		return send(t, fresh.URL, b)[0].State
	}
	practised := func() string {
		return send(t, fresh.URL, batch(`"kind":"practice","day":"2026-11-20","person":"ivo","practice":{"skill":"knot-pass","how":"ground"}`))[0].State
	}
	put := func(s *httptest.Server, body string) int {
		answer, _ := call(t, "PUT", s.URL+"/api/v1/members/"+account.String(), []byte(body))
		return answer.StatusCode
	}
	if check, practice := sign(), practised(); check != "refused" || practice != "refused" {
		t.Errorf("signed without being known: %s, %s", check, practice)
	}
	checked := func(s *httptest.Server) string {
		answer, text := call(t, "PUT", s.URL+"/api/v1/drops/gate-shaft/plan", []byte(`{"state":"checked"}`), "If-Match", `"1"`)
		return answer.Status + string(text)
	}
	if said := checked(fresh); !strings.Contains(said, "who on the drops you are") {
		t.Errorf("checked by somebody who could be anybody: %s", said)
	}
	if code := put(fresh, `{"roles":["supervisor"],"nobody":true}`); code != 403 {
		t.Errorf("says so of themself: %d", code)
	}
	// A supervisor does not become somebody else to look at their own rigging.
	of := func(body string) int {
		answer, _ := call(t, "PUT", dov.URL+"/api/v1/members/"+accountOf(t, h, "dov").String(), []byte(body))
		return answer.StatusCode
	}
	for body, want := range map[string]int{`{"roles":["supervisor"],"person":"free"}`: 403, `{"roles":["supervisor"]}`: 403, `{"roles":["supervisor","store-keeper"],"person":"dov"}`: 204} {
		if code := of(body); code != want {
			t.Errorf("%s of themself: %d", body, code)
		}
	}
	if code := put(dov, `{"roles":["supervisor"],"nobody":true,"person":"maren"}`); code != 422 {
		t.Errorf("somebody and nobody: %d", code)
	}
	if code := put(dov, `{"roles":["supervisor","trainer"],"nobody":true}`); code >= 300 {
		t.Errorf("said by another: %d", code)
	}
	if state := practised(); state != "kept" {
		t.Errorf("practice of somebody else: %s", state)
	}
	if state := sign(); state != "kept" {
		t.Errorf("of nobody there: %s", state)
	}
	if said := checked(fresh); !strings.HasPrefix(said, "200") {
		t.Errorf("checked by nobody there: %s", said)
	}
	// Said again by themself it stays as the other said it; left out it is not known.
	if code := put(fresh, `{"roles":["supervisor","technician"],"nobody":true}`); code >= 300 || sign() != "kept" {
		t.Errorf("roles changed: %d", code)
	}
	if code := put(dov, `{"roles":["supervisor","technician"]}`); code >= 300 || sign() != "refused" {
		t.Errorf("not known any more: %d", code)
	}
	if code := put(fresh, `{"roles":["supervisor"],"nobody":true}`); code != 403 {
		t.Errorf("says so of themself again: %d", code)
	}
	if err := h.store.RemoveMember(t.Context(), team, commandSigner, accountOf(t, h, "ivo")); err != nil {
		t.Fatal(err)
	}
	if err := h.store.Link(t.Context(), team, commandSigner, "new", "ivo"); err != nil {
		t.Fatal(err)
	}
	if state := sign(); state != "refused" {
		t.Errorf("of their own rigging: %s", state)
	}
	for login, person := range map[string]string{"nobody-there": "ivo", "dov": "ivo", "new": "stranger"} {
		if err := h.store.Link(t.Context(), team, commandSigner, login, person); err == nil {
			t.Errorf("%s is %s", login, person)
		}
	}
}

func accountOf(t *testing.T, h *house, login string) uuid.UUID {
	t.Helper()
	a, err := h.store.AccountByLogin(t.Context(), login)
	if err != nil {
		t.Fatal(err)
	}
	return a.ID
}
