package web_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/wear"
	"zealousknot/internal/store"
)

// examinable is what may be examined.
type examinable struct {
	Models map[string][]care.ExaminationPoint
	MayNot map[gear.Class]string `json:"may_not"`
}

// examined is the entry of an examination of an item with every point of its model passed.
func examined(t *testing.T, url, item, result, more string) string {
	t.Helper()
	g := read[drop.Store](t, url+"/api/v1/gear")
	i := g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == item })]
	var points []string
	for _, p := range read[examinable](t, url+"/api/v1/examinations/points").Models[i.Model] {
		points = append(points, fmt.Sprintf(`{"point":%q,"result":"pass"}`, p.ID))
	}
	return fmt.Sprintf(`"kind":"examination","day":"2026-11-24","item":%q,"examined":{"batch":"00000000-0000-4000-8000-000000000002","result":%q,"points":[%s]%s}`, item, result, strings.Join(points, ","), more)
}

// An examination moves the day it is due; one that fails stops the item in the same breath;
// who may sign is the team's examiners, and the store keepers until there is one.
func TestExaminations(t *testing.T) {
	h := newHouse(t)
	dov, rhea := h.as(t, "dov"), h.as(t, "rhea")
	item := func(id string) gear.Item {
		g := read[drop.Store](t, dov.URL+"/api/v1/gear")
		return g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == id })]
	}
	due := func(id string) care.DueLine {
		body := read[struct{ Due []care.DueLine }](t, dov.URL+"/api/v1/due?until=2028-01-01")
		for _, d := range body.Due {
			if d.Item == id && d.Kind == care.Examination {
				return d
			}
		}
		return care.DueLine{}
	}
	before := due("connector-63")
	if before.On == "" || before.Blocks == nil && before.Days < 0 {
		t.Fatalf("%+v", before)
	}
	out := send(t, dov.URL, batch(examined(t, dov.URL, "connector-63", "fit", `,"again_by":"2026-12-24","readings":[{"part":"nose","mm":9.2}]`)))[0]
	if out.State != "kept" || out.Conflict != "" {
		t.Fatalf("%+v", out)
	}
	if i, d := item("connector-63"), due("connector-63"); i.ExaminedOn != "2026-11-24" || i.AgainBy != "2026-12-24" || d.On != "2026-12-24" || d.By != gear.DueByExaminer {
		t.Errorf("%+v %+v", i, d)
	}
	// A later one without a day of the examiner's leaves the intervals.
	if out := send(t, dov.URL, batch(strings.Replace(examined(t, dov.URL, "connector-63", "fit", ""), "2026-11-24", "2026-11-25", 1)))[0]; out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	if i := item("connector-63"); i.ExaminedOn != "2026-11-25" || i.AgainBy != "" {
		t.Errorf("%+v", i)
	}
	// An older one that arrives later changes no day.
	if out := send(t, dov.URL, batch(strings.Replace(examined(t, dov.URL, "connector-63", "fit", ""), "2026-11-24", "2026-11-20", 1)))[0]; out.State != "kept" || !strings.Contains(out.Conflict, "later") {
		t.Errorf("%+v", out)
	}
	if i := item("connector-63"); i.ExaminedOn != "2026-11-25" {
		t.Errorf("%+v", i)
	}
	// It fails: out of service, with a record of its own, and once however often it is sent.
	failing := batch(strings.Replace(examined(t, dov.URL, "descender-21", "quarantine", `,"kept":"red box"`), `"result":"pass"`, `"result":"fail","note":"cracked"`, 1))
	if out := send(t, dov.URL, failing)[0]; out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	if out := send(t, dov.URL, failing)[0]; out.State != "already" {
		t.Errorf("%+v", out)
	}
	if i := item("descender-21"); i.State != gear.Quarantine || !strings.Contains(i.Reason, "cracked") || !strings.Contains(i.Reason, "red box") || due("descender-21").Item != "" {
		t.Errorf("%+v", i)
	}
	lines := linesOf(t, dov.URL, "item=descender-21")
	if len(lines) < 2 || lines[0].Says.Kind != "quarantine" || lines[1].Says.Kind != "examination" {
		t.Errorf("%+v", lines)
	}
	// In quarantine it stays there, whatever is found.
	if out := send(t, dov.URL, batch(examined(t, dov.URL, "descender-21", "fit", "")))[0]; out.State != "kept" || out.Conflict == "" {
		t.Errorf("%+v", out)
	}
	if i := item("descender-21"); i.State != gear.Quarantine || i.ExaminedOn == "2026-11-24" {
		t.Errorf("%+v", i)
	}
	// A technician who is no store keeper may not; with a paper for the class they may, and the
	// store keeper without one may no longer.
	byRhea := func(id string) string {
		out := send(t, rhea.URL, batch(examined(t, dov.URL, id, "fit", "")))[0]
		for _, e := range out.Errors {
			return e.Pointer + " " + e.Detail
		}
		return out.State
	}
	if got := byRhea("connector-61"); !strings.HasPrefix(got, "/records/0/item") {
		t.Errorf("%s", got)
	}
	mayNot := func(url string, c gear.Class) bool {
		return read[examinable](t, url+"/api/v1/examinations/points").MayNot[c] != ""
	}
	if mayNot(dov.URL, gear.Connector) || !mayNot(rhea.URL, gear.Connector) {
		t.Error("who may examine is shown and judged differently")
	}
	people := read[[]rig.Member](t, dov.URL+"/api/v1/people")
	p := people[slices.IndexFunc(people, func(p rig.Member) bool { return p.ID == "rhea" })]
	p.Papers = append(p.Papers, rig.Paper{Kind: "examiner", Name: "gear examiner", Until: "2026-12-31", Classes: []gear.Class{gear.Connector}})
	if answer, text := call(t, "PUT", dov.URL+"/api/v1/people", []byte(`{"people":[`+asJSON(t, p)+`]}`)); answer.StatusCode != 200 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	if got := byRhea("connector-61"); got != "kept" {
		t.Errorf("%s", got)
	}
	if got := byRhea("descender-14"); !strings.HasPrefix(got, "/records/0/item") {
		t.Errorf("of another class: %s", got)
	}
	if out := send(t, dov.URL, batch(examined(t, dov.URL, "connector-62", "fit", "")))[0]; out.State != "refused" {
		t.Errorf("%+v", out)
	}
	if !mayNot(dov.URL, gear.Connector) || mayNot(rhea.URL, gear.Connector) || !mayNot(rhea.URL, gear.Descender) || mayNot(dov.URL, gear.Descender) != true {
		t.Error("who may examine is shown and judged differently")
	}
	// The session's report has each once, first one first, as it was found then.
	_, csv := call(t, "GET", dov.URL+"/api/v1/examinations/00000000-0000-4000-8000-000000000002/report.csv", nil)
	if rows := strings.Split(strings.TrimSpace(string(csv)), "\r\n"); len(rows) != 7 || rows[0] != "item,on,by,result,next_due,note,readings,record" || !strings.Contains(rows[1], "connector-63,2026-11-24,Dov Pellister,fit,2026-12-24,,nose_mm=9.2,") || !strings.Contains(rows[4], ",quarantine,,") {
		t.Errorf("%s", csv)
	}
	if answer, pdf := call(t, "GET", dov.URL+"/api/v1/examinations/00000000-0000-4000-8000-000000000002/report.pdf", nil); answer.StatusCode != 200 || !strings.HasPrefix(string(pdf), "%PDF") {
		t.Errorf("%s", answer.Status)
	}
	// Wear is computed from what was measured.
	trend := read[[]wear.Trend](t, dov.URL+"/api/v1/items/connector-63/wear")
	if len(trend) != 1 || trend[0].Part != "nose" || len(trend[0].Points) != 1 || trend[0].Fit != nil || trend[0].Why == "" {
		t.Errorf("%+v", trend)
	}
}

// A code finds its item however it is typed, and is given once.
func TestCodesOfItems(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	g := read[drop.Store](t, dov.URL+"/api/v1/gear")
	i := g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == "rope-3" })]
	for _, typed := range []string{i.Code, strings.ToLower(i.Code)} {
		if got := read[struct{ Item string }](t, dov.URL+"/api/v1/codes/"+strings.NewReplacer("*", "%2A", "=", "%3D").Replace(typed)); got.Item != "rope-3" {
			t.Errorf("%s finds %q", typed, got.Item)
		}
	}
	last := i.Code[len(i.Code)-1:]
	refused(t, 422, "/path/code", "GET", dov.URL+"/api/v1/codes/"+i.Code[:6]+map[bool]string{true: "1", false: "0"}[last == "0"], nil)
	// What somebody says of a code changes none.
	was := i.Code
	i.Code, i.Place, i.Events = "0000000", "shelf 9", nil
	if answer, text := call(t, "PUT", dov.URL+"/api/v1/gear", []byte(`{"items":[`+asJSON(t, i)+`]}`)); answer.StatusCode != 200 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	g = read[drop.Store](t, dov.URL+"/api/v1/gear")
	if i := g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == "rope-3" })]; i.Code != was || i.Place != "shelf 9" {
		t.Errorf("%+v", i)
	}
	answer, pdf := call(t, "POST", dov.URL+"/api/v1/labels.pdf", []byte(`{"items":["rope-3","rope-4"],"sheet":"38x21","skip":64}`))
	if answer.StatusCode != 200 || !strings.HasPrefix(string(pdf), "%PDF") || strings.Count(string(pdf), "/Type /Page\n") != 2 {
		t.Errorf("%s, %d pages", answer.Status, strings.Count(string(pdf), "/Type /Page\n"))
	}
	refused(t, 422, "/skip", "POST", dov.URL+"/api/v1/labels.pdf", []byte(`{"items":["rope-3"],"sheet":"70x37","skip":24}`))
	refused(t, 422, "/items/1", "POST", dov.URL+"/api/v1/labels.pdf", []byte(`{"items":["rope-3","none"],"sheet":"70x37"}`))
}

// The calendar is read at its secret address by whoever knows it, until it is revoked.
func TestFeed(t *testing.T) {
	h := newHouse(t)
	dov, stranger := h.as(t, "dov"), h.as(t, "stranger")
	anybody := httptest.NewServer(h.handler)
	defer anybody.Close()
	_, text := call(t, "POST", dov.URL+"/api/v1/due/feeds", nil)
	var made struct{ ID, Secret string }
	readJSON(t, text, &made)
	address := anybody.URL + "/api/v1/feeds/" + made.Secret + ".ics"
	answer, calendar := call(t, "GET", address, nil)
	if answer.StatusCode != http.StatusOK || !strings.HasPrefix(answer.Header.Get("Content-Type"), "text/calendar") || !strings.Contains(string(calendar), "BEGIN:VEVENT") || !strings.Contains(string(calendar), "connector 63") {
		t.Errorf("%s %s %.300s", answer.Status, answer.Header.Get("Content-Type"), calendar)
	}
	for _, line := range strings.Split(strings.TrimSuffix(string(calendar), "\r\n"), "\r\n") {
		if len(line) > 75 || strings.Contains(line, "\n") {
			t.Errorf("a line of %d bytes: %q", len(line), line)
		}
	}
	if list := read[[]struct{ ID, Secret string }](t, dov.URL+"/api/v1/due/feeds"); len(list) != 1 || list[0].ID != made.ID || list[0].Secret != "" {
		t.Errorf("%+v", list)
	}
	// Nobody else's to see, or to shut.
	if list := read[[]struct{ ID string }](t, stranger.URL+"/api/v1/due/feeds"); len(list) != 0 {
		t.Errorf("%+v", list)
	}
	refused(t, 404, "", "DELETE", stranger.URL+"/api/v1/due/feeds/"+made.ID, nil)
	refused(t, 404, "", "GET", anybody.URL+"/api/v1/feeds/"+made.Secret[1:]+".ics", nil)
	if answer, text := call(t, "DELETE", dov.URL+"/api/v1/due/feeds/"+made.ID, nil); answer.StatusCode != http.StatusNoContent {
		t.Fatalf("%s %s", answer.Status, text)
	}
	refused(t, 404, "", "GET", address, nil)
	refused(t, 404, "", "DELETE", dov.URL+"/api/v1/due/feeds/"+made.ID, nil)
}

func readJSON(t *testing.T, text []byte, into any) {
	t.Helper()
	if err := json.Unmarshal(text, into); err != nil {
		t.Fatalf("%v: %s", err, text)
	}
}

// A recall also stops what comes into the store after it, what is corrected to what it is about,
// and notes itself where something is in quarantine already; each is said before it is saved.
func TestRecalledLater(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	item := func(id string) *gear.Item {
		g := read[drop.Store](t, dov.URL+"/api/v1/gear")
		if i := slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == id }); i >= 0 {
			return &g.Items[i]
		}
		return nil
	}
	first := item("connector-63")
	for _, entry := range []string{
		fmt.Sprintf(`"kind":"quarantine","item":%q,"note":"from the table","quarantine":{"event":"dropped"}`, first.ID),
		fmt.Sprintf(`"kind":"recall","day":"2026-11-24","recall":{"model":%q,"asks":"stop","source":"maker, notice 9","serials":["Z 1",%q]}`, first.Model, first.Serial),
		fmt.Sprintf(`"kind":"recall","day":"2026-11-24","recall":{"model":%q,"asks":"information","source":"maker, to know"}`, first.Model),
	} {
		if out := send(t, dov.URL, batch(entry))[0]; out.State != "kept" {
			t.Fatalf("%+v", out)
		}
	}
	if e := item(first.ID).Events; len(e) != len(first.Events)+2 || e[len(e)-1].Kind != "recall" || e[len(e)-1].CheckedOn != "" {
		t.Errorf("dropped, then recalled: %+v", e)
	}
	put := func(how string, items ...gear.Item) []store.RowOutcome {
		body, _ := json.Marshal(map[string]any{"items": items})
		res, text := call(t, "PUT", dov.URL+"/api/v1/gear"+how, body)
		var out struct{ Rows []store.RowOutcome }
		if err := json.Unmarshal(text, &out); err != nil || res.StatusCode != 200 {
			t.Fatalf("%s: %s", res.Status, text)
		}
		return out.Rows
	}
	like := func(id, serial string) gear.Item {
		return gear.Item{ID: id, Label: id, Serial: serial, Model: first.Model, State: gear.InService}
	}
	for step, c := range map[string]struct {
		item gear.Item
		stop bool
	}{
		"another serial": {like("late-2", "Z-2"), false},
		"its serial":     {like("late-1", "z1"), true},
		"cut off it":     {like("late-3", "Z1/B"), true},
	} {
		for _, how := range []string{"?dry_run=true", ""} {
			rows := put(how, c.item)
			if said := strings.Contains(rows[0].Stopped, "notice 9"); len(rows) != 1 || rows[0].State != "new" || said != c.stop {
				t.Errorf("%s: %+v", step, rows)
			}
			if i := item(c.item.ID); how != "" && i != nil || how == "" && (i.Revision != rows[0].Revision || (i.State == gear.Quarantine) != c.stop) {
				t.Errorf("%s: %+v", step, i)
			}
		}
	}
	// A serial that is corrected to it; then nothing more, as often as the item is written.
	other := *item("late-2")
	other.Serial = "Z.1"
	if rows := put("", other); rows[0].State != "changed" || rows[0].Stopped == "" {
		t.Errorf("corrected: %+v", rows)
	}
	moved := *item("late-2")
	moved.Place = "on the shelf"
	if rows := put("", moved); rows[0].Stopped != "" || len(item("late-2").Events) != 1 {
		t.Errorf("moved: %+v", rows)
	}
	if lines := linesOf(t, dov.URL, "item=late-1"); len(lines) != 2 || lines[0].Says.Kind != "quarantine" || lines[1].Says.Kind != "gear-change" {
		t.Errorf("%+v", lines)
	}
	later := 0
	for _, l := range read[[]struct {
		Recall   record.Recalled
		Affected []struct {
			Item  string
			Later bool
		}
	}](t, dov.URL+"/api/v1/recalls") {
		for _, a := range l.Affected {
			if a.Later && l.Recall.Asks == "stop" {
				later++
			}
		}
	}
	if later != 3 {
		t.Errorf("%d came later, want 3", later)
	}
	table := "id,label,class,model,serial,state\nlate-4,late 4,connector," + first.Model + ",Z1/B2,in-service\n"
	for _, trial := range []string{"true", "false"} {
		_, text := call(t, "POST", dov.URL+"/api/v1/imports/items?dry_run="+trial, []byte(table))
		if !strings.Contains(string(text), "notice 9") || (item("late-4") != nil) != (trial == "false") {
			t.Errorf("table, trial %s: %s", trial, text)
		}
	}
	if i := item("late-4"); i == nil || i.State != gear.Quarantine {
		t.Errorf("from a table: %+v", i)
	}
}

// A recall stops what it is about, once and at once, also what nobody knows the day of; what
// it only tells stops nothing; each reads it once, and who was in an event brings nothing back.
func TestRecalls(t *testing.T) {
	h := newHouse(t)
	dov, rhea := h.as(t, "dov"), h.as(t, "rhea")
	g := read[drop.Store](t, dov.URL+"/api/v1/gear")
	model := g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == "connector-63" })].Model
	var all []gear.Item
	for _, i := range g.Items {
		if i.Model == model && i.State != gear.Retired {
			all = append(all, i)
		}
	}
	if len(all) < 3 {
		t.Fatal(model, len(all))
	}
	notice := func(asks, more string) string {
		return fmt.Sprintf(`"kind":"recall","day":"2026-11-24","note":"gates","recall":{"model":%q,"asks":%q,"source":"maker, notice 4"%s}`, model, asks, more)
	}
	refused(t, 403, "/records/0/kind", "POST", rhea.URL+"/api/v1/records", batch(notice("stop", "")))
	for at, entry := range map[string]string{
		"/records/0/recall":         `"kind":"recall","day":"2026-11-24"`,
		"/records/0/recall/model":   strings.Replace(notice("stop", ""), model, "none", 1),
		"/records/0/recall/serials": notice("stop", `,"serials":["a"],"from":"2020-01-01"`),
		"/records/0/recall/to":      notice("stop", `,"from":"2020-01-02","to":"2020-01-01"`),
		"/records/0/day":            strings.Replace(notice("stop", ""), "2026-11-24", "2199-01-01", 1),
	} {
		out := send(t, dov.URL, batch(entry))[0]
		if out.State != "refused" || out.Errors[0].Pointer != at {
			t.Errorf("%s: %+v", at, out)
		}
	}
	state := func(id string) gear.State {
		g := read[drop.Store](t, dov.URL+"/api/v1/gear")
		return g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == id })].State
	}
	if out := send(t, dov.URL, batch(notice("information", "")))[0]; out.State != "kept" || state(all[0].ID) != gear.InService {
		t.Fatalf("%+v", out)
	}
	// By serial, however it is written.
	typed := strings.ToLower(strings.Join(strings.Split(all[0].Serial, "-"), " "))
	stop := batch(notice("inspect", fmt.Sprintf(`,"serials":[%q]`, typed)))
	if out := send(t, dov.URL, stop)[0]; out.State != "kept" || state(all[0].ID) != gear.Quarantine || state(all[1].ID) != gear.InService {
		t.Fatalf("%+v: %s %s", out, state(all[0].ID), state(all[1].ID))
	}
	if out := send(t, dov.URL, stop)[0]; out.State != "already" {
		t.Errorf("%+v", out)
	}
	// Between days that none was made in: those without a day are affected, the others not.
	_, text := call(t, "POST", dov.URL+"/api/v1/recalls/affected", []byte(fmt.Sprintf(`{"model":%q,"asks":"stop","source":"x","from":"1990-01-01","to":"1990-12-31"}`, model)))
	for _, i := range all {
		if strings.Contains(string(text), `"item":"`+i.ID+`"`) != (i.MadeOn == "") {
			t.Errorf("%s made on %q: %s", i.ID, i.MadeOn, text)
		}
	}
	if out := send(t, dov.URL, batch(notice("stop", "")))[0]; out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	for _, i := range all {
		if state(i.ID) != gear.Quarantine {
			t.Errorf("%s is %s", i.ID, state(i.ID))
		}
	}
	list := read[[]struct {
		ID       string
		Affected []struct{ Item string }
		Mine     bool
		ReadBy   []string `json:"read_by"`
	}](t, rhea.URL+"/api/v1/recalls")
	if len(list) != 3 || len(list[0].Affected) != len(all) || len(list[1].Affected) != 1 || list[0].Mine {
		t.Fatalf("%+v", list)
	}
	if out := send(t, rhea.URL, batch(`"kind":"acknowledgement","confirms":"`+list[0].ID+`"`))[0]; out.State != "kept" {
		t.Errorf("%+v", out)
	}
	list = read[[]struct {
		ID       string
		Affected []struct{ Item string }
		Mine     bool
		ReadBy   []string `json:"read_by"`
	}](t, rhea.URL+"/api/v1/recalls")
	if !list[0].Mine || len(list[0].ReadBy) != 1 || list[1].Mine {
		t.Errorf("%+v", list)
	}
	lines := linesOf(t, dov.URL, "item="+all[1].ID)
	if len(lines) < 2 || lines[0].Says.Kind != "quarantine" || !strings.Contains(lines[0].Says.Note, "notice 4") || lines[1].Says.Kind != "recall" {
		t.Errorf("%+v", lines)
	}
	// Who was in the event does not bring it back; somebody else does.
	if out := send(t, dov.URL, batch(`"kind":"quarantine","item":"descender-21","quarantine":{"event":"shock-load","in":"dov"}`))[0]; out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	back := batch(`"kind":"back-in-service","item":"descender-21","note":"looked at, as new"`)
	if out := send(t, dov.URL, back)[0]; out.State != "refused" || !strings.Contains(out.Errors[0].Detail, "somebody else") {
		t.Errorf("%+v", out)
	}
	// Nor in the same sending, as from a device that had no connection.
	const stopIn = `"kind":"quarantine","item":"descender-22","quarantine":{"event":"shock-load","in":%q}`
	const backIn = `"kind":"back-in-service","item":"descender-22","note":"looked at, as new","given_at":%q`
	given := func(ago time.Duration) string { return time.Now().Add(-ago).UTC().Format(time.RFC3339Nano) }
	both := send(t, dov.URL, batch(fmt.Sprintf(stopIn, "dov"), `"kind":"back-in-service","item":"descender-22","note":"looked at, as new"`))
	if both[0].State != "kept" || both[1].State != "refused" || !strings.Contains(both[1].Errors[0].Detail, "somebody else") || state("descender-22") != gear.Quarantine {
		t.Errorf("%+v", both)
	}
	// What was given before it was stopped again is not of what happened since.
	for _, c := range []struct {
		item string
		ago  time.Duration
		want string
	}{{"descender-14", time.Minute, "refused"}, {"descender-14", 0, "kept"}} {
		if state(c.item) == gear.InService {
			send(t, dov.URL, batch(strings.Replace(fmt.Sprintf(stopIn, "rhea"), "descender-22", c.item, 1)))
		}
		out := send(t, dov.URL, batch(strings.Replace(fmt.Sprintf(backIn, given(c.ago)), "descender-22", c.item, 1)))[0]
		if out.State != c.want || (state(c.item) == gear.InService) != (c.want == "kept") || c.want == "refused" && out.Errors[0].Pointer != "/records/0/given_at" {
			t.Errorf("given %v ago: %+v", c.ago, out)
		}
	}
	if out := send(t, dov.URL, batch(fmt.Sprintf(`"kind":"back-in-service","item":%q,"note":"gates whole"`, all[0].ID)))[0]; out.State != "kept" || state(all[0].ID) != gear.InService {
		t.Errorf("%+v", out)
	}
}

// A rope that is cut is shorter everywhere; the part that is cut off is as old, has the same
// history and its own map; drops that counted on the rope go back to draft and say why.
func TestCutRope(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	item := func(id string) gear.Item {
		g := read[drop.Store](t, dov.URL+"/api/v1/gear")
		return g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == id })]
	}
	kept := func(entry string) {
		t.Helper()
		if out := send(t, dov.URL, batch(entry))[0]; out.State != "kept" || out.Conflict != "" {
			t.Fatalf("%s: %+v", entry, out)
		}
	}
	was := item("rope-3")
	kept(`"kind":"rope-note","item":"rope-3","rope":{"what":"edge-contact","from_m":8,"to_m":14}`)
	kept(`"kind":"rope-note","item":"rope-3","rope":{"what":"damage","from_m":12},"note":"fluff"`)
	if n := item("rope-3").Noted; n == nil || len(n.Damage) != 1 || n.Damage[0].FromM != 12 {
		t.Errorf("%+v", n)
	}
	kept(`"kind":"rope-note","item":"rope-3","rope":{"what":"wash"}`)
	kept(`"kind":"quarantine","item":"rope-3","quarantine":{"event":"edge"},"note":"fluff at 12 m"`)
	cut := func(more string) string {
		return fmt.Sprintf(`"kind":"rope-cut","item":"rope-3","cut":{"length_m":%v,"at_m":10%s}`, float64(was.LengthM), more)
	}
	for at, entry := range map[string]string{
		"/records/0/cut/into":     cut(`,"into":"rope-4","label":"rope 3b"`),
		"/records/0/cut/length_m": strings.Replace(cut(""), fmt.Sprint(float64(was.LengthM)), "7", 1),
	} {
		if out := send(t, dov.URL, batch(entry))[0]; out.State != "refused" || out.Errors[0].Pointer != at {
			t.Errorf("%s: %+v", at, out)
		}
	}
	kept(cut(`,"into":"rope-3b","label":"rope 3 b"`))
	a, b := item("rope-3"), item("rope-3b")
	if a.LengthM != 10 || b.LengthM != was.LengthM-10 || b.Model != was.Model || b.MadeOn != was.MadeOn || b.ExaminedOn != was.ExaminedOn || b.State != gear.Quarantine || len(b.Events) != len(a.Events) || b.Serial == a.Serial || b.Code == a.Code || a.Code != was.Code {
		t.Errorf("%+v\n%+v\nof %+v", a, b, was)
	}
	if a.Noted != nil || b.Noted == nil || b.Noted.Damage[0].FromM != 2 {
		t.Errorf("%+v %+v", a.Noted, b.Noted)
	}
	type marks struct {
		LengthM float64 `json:"length_m"`
		Marks   []struct {
			What  string
			FromM float64 `json:"from_m"`
			ToM   float64 `json:"to_m"`
		}
	}
	onA, onB := read[marks](t, dov.URL+"/api/v1/items/rope-3/rope"), read[marks](t, dov.URL+"/api/v1/items/rope-3b/rope")
	if len(onA.Marks) != 2 || onA.Marks[0].FromM != 8 || onA.Marks[0].ToM != 10 || onA.Marks[1].What != "wash" {
		t.Errorf("%+v", onA)
	}
	if len(onB.Marks) != 3 || onB.Marks[0].FromM != 0 || onB.Marks[0].ToM != 4 || onB.Marks[1].What != "damage" || onB.Marks[1].FromM != 2 {
		t.Errorf("%+v", onB)
	}
	refused(t, 404, "", "GET", dov.URL+"/api/v1/items/connector-63/rope", nil)
	// The rest of that part is cut off as waste; nothing new comes into the store.
	n := len(read[drop.Store](t, dov.URL+"/api/v1/gear").Items)
	kept(fmt.Sprintf(`"kind":"rope-cut","item":"rope-3b","cut":{"length_m":%v,"at_m":1}`, float64(b.LengthM)))
	if got := read[drop.Store](t, dov.URL+"/api/v1/gear"); len(got.Items) != n || item("rope-3b").LengthM != 1 || item("rope-3b").Noted != nil {
		t.Errorf("%d items of %d, %v", len(got.Items), n, item("rope-3b").LengthM)
	}
	// The records of both name the cut.
	if lines := linesOf(t, dov.URL, "item=rope-3b"); len(lines) != 2 || lines[1].Says.Kind != "rope-cut" {
		t.Errorf("%+v", lines)
	}
}
