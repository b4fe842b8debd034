package web_test

import (
	"bytes"
	"crypto/sha256"
	"fmt"
	"image"
	"image/jpeg"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/wear"
	"zealousknot/internal/store"
)

func (h *house) item(t testing.TB, url, id string) gear.Item {
	t.Helper()
	g := read[drop.Store](t, url+"/api/v1/gear")
	return g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == id })]
}

// picture is a JPEG file, and its sum.
func picture(t testing.TB) (body []byte, sum string) {
	t.Helper()
	var b bytes.Buffer
	if err := jpeg.Encode(&b, image.NewRGBA(image.Rect(0, 0, 40, 30)), nil); err != nil {
		t.Fatal(err)
	}
	return b.Bytes(), fmt.Sprintf("%x", sha256.Sum256(b.Bytes()))
}

// A picture is kept under its sum, small, of the team alone, and before a record names it.
func TestPhotos(t *testing.T) {
	h := newHouse(t)
	rhea := h.as(t, "rhea")
	body, sum := picture(t)
	at := rhea.URL + "/api/v1/photos/"
	named := func() []byte {
		return batch(`"kind":"quarantine","item":"descender-21","quarantine":{"event":"heat","kept":"red box"},"photos":["` + sum + `"]`)
	}
	if out := send(t, rhea.URL, named())[0]; out.State != "refused" || out.Errors[0].Pointer != "/records/0/photos/0" {
		t.Errorf("%+v", out)
	}
	refused(t, 422, "/path/sum", "PUT", at+strings.Repeat("0", 64), body)
	text := []byte("no picture")
	refused(t, 415, "", "PUT", at+fmt.Sprintf("%x", sha256.Sum256(text)), text)
	large := append(slices.Clone(body), make([]byte, store.MaxPhoto+1-len(body))...)
	refused(t, 413, "", "PUT", at+fmt.Sprintf("%x", sha256.Sum256(large)), large)
	refused(t, 403, "", "PUT", h.as(t, "sunniva").URL+"/api/v1/photos/"+sum, body)
	full := large[:store.MaxPhoto]
	for _, b := range [][]byte{body, body, full} {
		if answer, text := call(t, "PUT", at+fmt.Sprintf("%x", sha256.Sum256(b)), b); answer.StatusCode != 204 {
			t.Fatalf("%s %s", answer.Status, text)
		}
	}
	if out := send(t, rhea.URL, named())[0]; out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	if i := h.item(t, rhea.URL, "descender-21"); i.State != gear.Quarantine || !strings.Contains(i.Reason, "kept at red box") {
		t.Errorf("%+v", i)
	}
	if answer, got := call(t, "GET", at+sum, nil); answer.Header.Get("Content-Type") != "image/jpeg" || !bytes.Equal(got, body) || !strings.Contains(answer.Header.Get("Cache-Control"), "private") {
		t.Errorf("%s %v", answer.Status, answer.Header)
	}
	refused(t, 404, "", "GET", h.as(t, "stranger").URL+"/api/v1/photos/"+sum, nil)
	refused(t, 404, "", "GET", at+"zz", nil)
}

// What is used is counted with the days that it covers; a withdrawn entry is not. What is
// destroyed stays so, with how and by whom.
func TestUseAndRetirement(t *testing.T) {
	h := newHouse(t)
	rhea, dov := h.as(t, "rhea"), h.as(t, "dov")
	used := func() care.Counters {
		return read[struct{ Used care.Counters }](t, rhea.URL+"/api/v1/items/descender-21/life").Used
	}
	entry := batch(`"kind":"use","item":"descender-21","day":"2026-11-20","use":{"from":"2026-11-18","days":2,"wet_days":1,"down_m":240,"loads":6,"peak_kN":2.1}`)
	if out := send(t, rhea.URL, entry)[0]; out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	if c := used(); c.Days != 2 || c.Wet != 1 || c.DownM != 240 || c.Peak != 2.1 || len(c.Covers) != 1 || c.Covers[0] != (care.Span{From: "2026-11-18", To: "2026-11-20"}) {
		t.Errorf("%+v", c)
	}
	id := linesOf(t, rhea.URL, "item=descender-21")[0].Says.ID
	if out := send(t, rhea.URL, batch(`"kind":"withdrawal","corrects":"`+id+`","note":"another descender"`))[0]; out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	if c := used(); c.Days != 0 || len(c.Covers) != 0 {
		t.Errorf("%+v", c)
	}
	out := `"kind":"retirement","item":"descender-21","note":"cheek worn through","destroyed":{"how":"sawn in two","by":"Maren Oake"}`
	refused(t, 403, "/records/0/kind", "POST", rhea.URL+"/api/v1/records", batch(out))
	if out := send(t, dov.URL, batch(out))[0]; out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	if i := h.item(t, dov.URL, "descender-21"); i.State != gear.Retired || i.Reason != "cheek worn through; destroyed by Maren Oake: sawn in two" {
		t.Errorf("%+v", i)
	}
	if out := send(t, dov.URL, batch(out))[0]; out.State != "refused" {
		t.Errorf("%+v", out)
	}
}

// An incident keeps the plan, the kit and who was there as they were, whatever they are later;
// what it stops is stopped at once; lists do not carry what was kept.
func TestIncident(t *testing.T) {
	h := newHouse(t)
	rhea, dov := h.as(t, "rhea"), h.as(t, "dov")
	was := h.item(t, dov.URL, "rope-4")
	entry := batch(`"kind":"incident","drop":"face-4","incident":{"kind":"near-miss","what":"A block fell past.","people":["ivo"],"items":["helmet-9"],"stop":["rope-4"],"event":"edge"}`)
	out := send(t, rhea.URL, entry)[0]
	if out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	if again := send(t, rhea.URL, entry)[0]; again.State != "already" || again.Number != out.Number {
		t.Errorf("%+v", again)
	}
	if i := h.item(t, dov.URL, "rope-4"); i.State != gear.Quarantine || !strings.Contains(i.Reason, "near miss: A block fell past.") {
		t.Errorf("%+v", i)
	}
	// What lies in quarantine already has this to be looked at too, and not by who was in it.
	second := batch(`"kind":"incident","incident":{"kind":"incident","what":"It was trodden on.","people":["ivo","dov"],"in":["dov"],"stop":["rope-4"],"event":"edge"}`)
	if out := send(t, rhea.URL, second)[0]; out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	if i := h.item(t, dov.URL, "rope-4"); !strings.Contains(i.Reason, "A block fell past.") || len(i.Events) != 2 || !strings.Contains(i.Events[1].Note, "It was trodden on.") {
		t.Errorf("%+v", i)
	}
	back := `"kind":"back-in-service","item":"rope-4","note":"looked at: whole"`
	if out := send(t, dov.URL, batch(back))[0]; out.State != "refused" || !strings.Contains(out.Errors[0].Detail, "you were in the event") {
		t.Errorf("%+v", out)
	}
	lines := linesOf(t, dov.URL, "item=helmet-9")
	if len(lines) != 1 || lines[0].Number != out.Number || lines[0].Says.Frozen != nil {
		t.Errorf("%+v", lines)
	}
	at := fmt.Sprintf("/api/v1/records/%d/frozen", out.Number)
	f := read[record.Frozen](t, rhea.URL+at)
	item := func(id string) int { return slices.IndexFunc(f.Items, func(i gear.Item) bool { return i.ID == id }) }
	d, err := drop.ReadKept(f.Document)
	if err != nil || f.Version != 1 || d.Name != "Face 4" || item("helmet-9") < 0 || item("rope-4") < 0 || f.Items[item("rope-4")].State != was.State {
		t.Fatalf("%v %+v", err, f)
	}
	for _, id := range []string{"ivo", "rhea"} {
		if !slices.ContainsFunc(f.People, func(p rig.Member) bool { return p.ID == id }) {
			t.Errorf("%s is not among %+v", id, f.People)
		}
	}
	refused(t, 404, "", "GET", dov.URL+"/api/v1/records/1/frozen", nil)
	members := read[[]store.Membership](t, dov.URL+"/api/v1/members")
	maren := members[slices.IndexFunc(members, func(m store.Membership) bool { return m.Person == "maren" })]
	if answer, text := call(t, "PUT", dov.URL+"/api/v1/members/"+maren.Account.String(), []byte(`{"roles":["trainer","store-keeper"],"person":"maren"}`)); answer.StatusCode != 204 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	if out := send(t, h.as(t, "maren").URL, batch(back))[0]; out.State != "kept" {
		t.Errorf("%+v", out)
	}
	i := h.item(t, dov.URL, "rope-4")
	if i.State != gear.InService || i.Events[1].CheckedOn == "" {
		t.Errorf("%+v", i)
	}
	// No table stops it without a record: verify holds its state against the last one.
	i.State, i.Reason = gear.Quarantine, "by the table"
	refused(t, 422, "/items/0/state", "PUT", dov.URL+"/api/v1/gear", []byte(`{"items":[`+asJSON(t, i)+`]}`))
	if out := send(t, rhea.URL, batch(`"kind":"incident","incident":{"kind":"incident","what":"It rolled off.","people":["ivo"],"in":[],"stop":["rope-4"],"event":"dropped"}`))[0]; out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	// Where it is said that nobody was in it, nobody was.
	if i := h.item(t, dov.URL, "rope-4"); i.Events[2].In != "" {
		t.Errorf("%+v", i)
	}
	refused(t, 403, "", "POST", h.as(t, "sunniva").URL+"/api/v1/records", entry)
	for pointer, bad := range map[string]string{
		"/records/0/drop":              `"kind":"incident","drop":"none","incident":{"kind":"incident","what":"A fall."}`,
		"/records/0/incident/people/0": `"kind":"incident","incident":{"kind":"incident","what":"A fall.","people":["nobody"]}`,
	} {
		if out := send(t, rhea.URL, batch(bad))[0]; out.State != "refused" || out.Errors[0].Pointer != pointer {
			t.Errorf("%+v", out)
		}
	}
	if chains, err := h.store.Verify(t.Context(), 0); err != nil || len(chains) == 0 || chains[0].Broken != nil || chains[0].Differs != nil {
		t.Errorf("%+v %v", chains, err)
	}
}

// Who is in a team until a day is in it on that day and not after it, by the team's time.
func TestUntil(t *testing.T) {
	h := newHouse(t)
	dov, open := h.as(t, "dov"), httptest.NewServer(h.handler)
	defer open.Close()
	day := time.Now().UTC().Format(time.DateOnly)
	refused(t, 422, "/until", "POST", dov.URL+"/api/v1/invitations", []byte(`{"name":"N","roles":["reader"],"until":"2020-01-01"}`))
	_, text := call(t, "POST", dov.URL+"/api/v1/invitations", []byte(`{"name":"N","roles":["technician"],"until":"2199-01-01"}`))
	var made struct{ Path string }
	readJSON(t, text, &made)
	if answer, text := call(t, "POST", open.URL+"/api/v1/join", []byte(`{"token":"`+strings.TrimPrefix(made.Path, "/join#")+`","login":"outside","name":"Out Side","password":"`+password+`"}`)); answer.StatusCode != 204 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	outside := h.as(t, "outside")
	var m store.Membership
	for _, o := range read[[]store.Membership](t, dov.URL+"/api/v1/members") {
		if o.Login == "outside" {
			m = o
		}
	}
	if m.Until != "2199-01-01" {
		t.Fatalf("%+v", m)
	}
	set := func(account, until string, roles string) int {
		answer, _ := call(t, "PUT", dov.URL+"/api/v1/members/"+account, []byte(`{`+roles+`,"until":"`+until+`"}`))
		return answer.StatusCode
	}
	for _, c := range []struct {
		until string
		in    int
	}{{day, 200}, {"2020-01-01", 401}, {"2199-01-01", 200}} {
		if got := set(m.Account.String(), c.until, `"roles":["technician"]`); got != 204 {
			t.Fatal(got)
		}
		if answer, _ := call(t, "GET", outside.URL+"/api/v1/gear", nil); answer.StatusCode != c.in {
			t.Errorf("until %s: %s", c.until, answer.Status)
		}
	}
	// A supervisor who leaves by themself does not count as one who stays.
	for _, o := range read[[]store.Membership](t, dov.URL+"/api/v1/members") {
		if o.Login == "dov" {
			if got := set(o.Account.String(), "2199-01-01", `"roles":["supervisor"],"person":"dov"`); got != 409 {
				t.Errorf("%d", got)
			}
		}
	}
}

// Examinations go out as CSV and come back in as the same; new ones from a paper move the day
// it is due, by who keeps the store alone.
func TestExaminationsByTable(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	if out := send(t, dov.URL, batch(examined(t, dov.URL, "connector-63", "fit", `,"readings":[{"part":"nose","mm":9.2}]`)))[0]; out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	counts := func(table string, query string) map[string]int {
		answer, text := call(t, "POST", dov.URL+"/api/v1/imports/examinations"+query, []byte(table), "Content-Type", "text/csv")
		var out struct{ Counts map[string]int }
		readJSON(t, text, &out)
		if answer.StatusCode != 200 {
			t.Fatalf("%s %s", answer.Status, text)
		}
		return out.Counts
	}
	_, csv := call(t, "GET", dov.URL+"/api/v1/exports/examinations.csv", nil)
	if c := counts(string(csv), ""); c["same"] != 1 || c["new"]+c["wrong"]+c["changes"] != 0 {
		t.Errorf("%v of %s", c, csv)
	}
	const table = "item,on,by,result,next_due,note,readings\r\n" +
		"connector-61,2026-11-20,Outside Works,fit,2027-01-31,,nose_mm=9\r\n" + "descender 21,2026-11-20,Outside Works,quarantine,,cheek cracked,\r\n"
	wrong := table + "none,2026-11-20,O,fit,,,\r\nconnector-62,,O,fit,,,\r\nconnector-62,2026-11-20,,fit,,,\r\nconnector-62,2026-11-20,O,good,,,\r\nconnector-62,2026-11-20,O,fit,2026-11-01,,\r\nconnector-62,2026-11-20,O,fit,,,nose=thin\r\n"
	if c := counts(wrong, "?dry_run=true"); c["new"] != 2 || c["wrong"] != 6 {
		t.Errorf("%v", c)
	}
	if c := counts(wrong, ""); c["wrong"] < 5 {
		t.Errorf("%v", c)
	}
	if i := h.item(t, dov.URL, "connector-61"); i.ExaminedOn == "2026-11-20" {
		t.Error("written although rows are wrong")
	}
	if c := counts(table, ""); c["new"] != 2 {
		t.Fatalf("%v", c)
	}
	if i := h.item(t, dov.URL, "connector-61"); i.ExaminedOn != "2026-11-20" || i.AgainBy != "2027-01-31" {
		t.Errorf("%+v", i)
	}
	if i := h.item(t, dov.URL, "descender-21"); i.State != gear.Quarantine || !strings.Contains(i.Reason, "cheek cracked") {
		t.Errorf("%+v", i)
	}
	if c := counts(table, ""); c["same"] != 2 {
		t.Errorf("%v", c)
	}
	if c := counts(strings.Replace(table, "2027-01-31", "2028-01-31", 1), ""); c["same"] != 1 || c["wrong"] != 1 {
		t.Errorf("what is there, due again on another day: %v", c)
	}
	refused(t, 403, "", "POST", h.as(t, "rhea").URL+"/api/v1/imports/examinations", []byte(table), "Content-Type", "text/csv")
	// Nobody gets round looking at points by naming a paper.
	entry := `"kind":"examination","item":"connector-62","examined":{"batch":"00000000-0000-4000-8000-000000000002","result":"fit","source":"x","examiner":"y"}`
	if out := send(t, h.as(t, "rhea").URL, batch(entry))[0]; out.State != "refused" {
		t.Errorf("%+v", out)
	}
	lines := linesOf(t, dov.URL, "item=descender-21")
	session := lines[slices.IndexFunc(lines, func(l store.RecordLine) bool { return l.Says.Examined != nil })].Says.Examined.Batch
	if answer, pdf := call(t, "GET", dov.URL+"/api/v1/examinations/"+session+"/notice.pdf", nil); answer.StatusCode != 200 || !bytes.HasPrefix(pdf, []byte("%PDF")) {
		t.Errorf("%s", answer.Status)
	}
	refused(t, 404, "", "GET", dov.URL+"/api/v1/examinations/00000000-0000-4000-8000-000000000002/notice.pdf", nil)
}

// What was recorded of the wrong item, or never was so, is withdrawn: the last examination that
// stands counts, a recall stops nothing more, and the map of a rope loses its mark.
func TestWithdrawn(t *testing.T) {
	h := newHouse(t)
	dov, rhea := h.as(t, "dov"), h.as(t, "rhea")
	withdraw := func(id string) string { return `"kind":"withdrawal","note":"of another one","corrects":"` + id + `"` }
	dated := func(day, more string) string {
		return strings.Replace(examined(t, dov.URL, "connector-63", "fit", more), "2026-11-24", day, 1)
	}
	kept := func(entries ...string) []store.Outcome {
		t.Helper()
		out := send(t, dov.URL, batch(entries...))
		for _, o := range out {
			if o.State != "kept" || o.Conflict != "" {
				t.Fatalf("%+v", o)
			}
		}
		return out
	}
	on := func(day, again gear.Date, state gear.State) {
		t.Helper()
		if i := h.item(t, dov.URL, "connector-63"); i.ExaminedOn != day || i.AgainBy != again || i.State != state {
			t.Errorf("%+v, want %s %s %s", i, day, again, state)
		}
	}
	put := func(change func(*gear.Item)) {
		t.Helper()
		i := h.item(t, dov.URL, "connector-63")
		change(&i)
		if answer, text := call(t, "PUT", dov.URL+"/api/v1/gear", []byte(`{"items":[`+asJSON(t, i)+`]}`)); answer.StatusCode != 200 {
			t.Fatalf("%s %s", answer.Status, text)
		}
	}
	put(func(i *gear.Item) { i.ExaminedOn = "2026-06-01" })
	first := kept(dated("2026-11-20", ""))[0]
	last := kept(dated("2026-11-24", `,"again_by":"2026-12-24","readings":[{"part":"nose","mm":9.2}]`))[0]
	put(func(i *gear.Item) { i.Place = "shelf 9" })
	on("2026-11-24", "2026-12-24", gear.InService)
	if out := send(t, rhea.URL, batch(withdraw(last.ID)))[0]; out.State != "refused" {
		t.Errorf("somebody else's was withdrawn: %+v", out)
	}
	if out := send(t, dov.URL, batch(dated("2026-11-24", "")+`,"corrects":"`+last.ID+`"`))[0]; out.State != "refused" {
		t.Errorf("one stands in another's place: %+v", out)
	}
	kept(withdraw(last.ID))
	on("2026-11-20", "", gear.InService)
	if trend := read[[]wear.Trend](t, dov.URL+"/api/v1/items/connector-63/wear"); len(trend) != 0 {
		t.Errorf("%+v", trend)
	}
	const session = "/api/v1/examinations/00000000-0000-4000-8000-000000000002/report"
	for _, at := range []string{session + ".csv", "/api/v1/exports/examinations.csv"} {
		if _, csv := call(t, "GET", dov.URL+at, nil); strings.Count(string(csv), "\r\n") != 2 || !strings.Contains(string(csv), ",2026-11-20,") {
			t.Errorf("%s: %s", at, csv)
		}
	}
	if answer, pdf := call(t, "GET", dov.URL+session+".pdf", nil); answer.StatusCode != 200 || !bytes.HasPrefix(pdf, []byte("%PDF")) {
		t.Errorf("%s", answer.Status)
	}
	kept(withdraw(first.ID))
	on("2026-06-01", "", gear.InService)
	// Also within one batch, and in quarantine, where it stays.
	again := strings.Repeat("7", 8) + "-0000-4000-8000-000000000001"
	out := kept(dated("2026-11-24", "")+`,"id":"`+again+`"`, withdraw(again), dated("2026-11-19", ""), `"kind":"quarantine","item":"connector-63","note":"fell","quarantine":{"event":"dropped"}`)
	on("2026-11-19", "", gear.Quarantine)
	kept(withdraw(out[2].ID))
	on("2026-06-01", "", gear.Quarantine)

	serials := fmt.Sprintf(`"kind":"recall","recall":{"model":%q,"asks":"stop","source":"maker, notice 9","serials":["Z 1"]}`, h.item(t, dov.URL, "connector-63").Model)
	kept(withdraw(kept(serials)[0].ID))
	if list := read[[]any](t, dov.URL+"/api/v1/recalls"); len(list) != 0 {
		t.Errorf("%v", list)
	}
	late := gear.Item{ID: "late-1", Label: "late 1", Serial: "Z 1", Model: h.item(t, dov.URL, "connector-63").Model, State: gear.InService}
	if answer, text := call(t, "PUT", dov.URL+"/api/v1/gear", []byte(`{"items":[`+asJSON(t, late)+`]}`)); answer.StatusCode != 200 || h.item(t, dov.URL, "late-1").State != gear.InService {
		t.Errorf("%s %s", answer.Status, text)
	}
	// Damage on the map of a rope is found wherever the rope hangs, until the mark is withdrawn.
	found := func() bool {
		d := read[drop.Document](t, dov.URL+"/api/v1/drops/face-4")
		report, err := check.Drop(t.Context(), &d, nil, check.WithFigures)
		if err != nil {
			t.Fatal(err)
		}
		return slices.ContainsFunc(report.Findings, func(f finding.Finding) bool { return f.Rule == "rope.noted" && f.Severity == finding.Stop })
	}
	if hung := read[drop.Document](t, dov.URL+"/api/v1/drops/face-4").Strands[1].Ropes[0]; hung != "rope-4" || found() {
		t.Fatal(hung)
	}
	damaged := kept(`"kind":"rope-note","item":"rope-4","rope":{"what":"damage","from_m":3,"to_m":4}`)[0]
	if !found() {
		t.Error("the drop does not know of the damage")
	}
	fine := h.item(t, dov.URL, "rope-4")
	fine.Noted = nil
	if answer, text := call(t, "PUT", dov.URL+"/api/v1/gear", []byte(`{"items":[`+asJSON(t, fine)+`]}`)); answer.StatusCode != 200 || h.item(t, dov.URL, "rope-4").Noted == nil {
		t.Errorf("a table takes damage off a rope: %s %s", answer.Status, text)
	}
	// One that comes with damage on its map, as a guest's does, has it in the records here.
	fine.ID, fine.Label, fine.Serial, fine.Revision, fine.Noted = "guest-1", "guest 1", "G 1", 0, &gear.Noted{Damage: []gear.Stretch{{FromM: 7}}}
	if answer, text := call(t, "PUT", dov.URL+"/api/v1/gear", []byte(`{"items":[`+asJSON(t, fine)+`]}`)); answer.StatusCode != 200 || h.item(t, dov.URL, "guest-1").Noted.Damage[0].FromM != 7 {
		t.Errorf("%s %s", answer.Status, text)
	}
	if m := read[struct{ Marks []record.RopeMark }](t, dov.URL+"/api/v1/items/guest-1/rope"); len(m.Marks) != 1 || m.Marks[0].What != record.RopeDamage {
		t.Errorf("%+v", m)
	}
	kept(`"kind":"rope-note","item":"rope-31","rope":{"what":"damage","from_m":3}`)
	if out := send(t, dov.URL, batch(`"kind":"kit-sealed","kit":{"kit":"van-bag","seal":"1","items":["rope-31"]}`))[0]; out.State != "refused" || out.Errors[0].Pointer != "/records/0/kit/items/0" {
		t.Errorf("%+v", out)
	}
	if kept(withdraw(damaged.ID)); found() {
		t.Error("what was withdrawn is found")
	}
	if m := read[struct{ Marks []record.RopeMark }](t, dov.URL+"/api/v1/items/rope-4/rope"); len(m.Marks) != 0 {
		t.Errorf("%+v", m)
	}
}
