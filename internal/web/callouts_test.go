package web_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/run"
	"zealousknot/internal/demo"
	"zealousknot/internal/store"
)

// calloutText is a callout as a device gives it, with marks of so many minutes after it began.
func calloutText(name string, more ...string) []byte {
	at := began.Format(time.RFC3339)
	return fmt.Appendf(nil, `{"format":"callout","version":1,"name":%q,"day":%q,"began_at":%q,"known_at":%q,"known":{"height_m":{"low_m":20,"high_m":25},"load":"two","kits":["van bag"]}%s}`,
		name, demo.Day, at, at, strings.Join(more, ""))
}

func mark(n int, minutes int, what string) string {
	return fmt.Sprintf(`{"id":"5f9d3b1c-0000-4000-8000-%012d","at":%q,"what":%q,"by":"Maren Oake"}`, n, began.Add(time.Duration(minutes)*time.Minute).Format(time.RFC3339), what)
}

// A callout is put together from devices in any order, becomes a drop and a run that says it
// was typed afterwards, once, and is signed and sealed like any; readers give nothing, and a
// supervisor puts it away.
func TestCallout(t *testing.T) {
	h := newHouse(t)
	dov, ivo, reader := h.as(t, "dov"), h.as(t, "ivo"), h.as(t, "sunniva")
	const at = "/api/v1/callouts/7b8a6f1e-1111-4222-8333-444455556666"
	refused(t, 403, "", "PUT", reader.URL+at, calloutText("Night"))
	refused(t, 422, "/known/height_m", "PUT", ivo.URL+at, []byte(strings.Replace(string(calloutText("Night")), `"low_m":20`, `"low_m":30`, 1)))
	refused(t, 422, "/marks/1/id", "PUT", ivo.URL+at, calloutText("Night", `,"marks":[`, mark(1, 1, "arrived"), ",", mark(1, 2, "ready"), "]"))
	var last struct{ Callout callout.Document }
	for _, c := range [][]byte{
		calloutText("Night", `,"marks":[`, mark(3, 30, "down"), ",", mark(1, 5, "arrived"), "]"),
		calloutText("Night", `,"marks":[`, mark(2, 20, "over-edge"), "]", `,"reasons":[{"id":"5f9d3b1c-0000-4000-8000-0000000000aa","at":"`+began.Add(6*time.Minute).Format(time.RFC3339)+`","rule":"callout.landing","subject":"landing","words":"seen from the edge","by":"Dov Pellister"}]`),
		calloutText("Night", `,"marks":[`, mark(2, 20, "over-edge"), ",", mark(4, 50, "ended"), "]"),
	} {
		for range 2 {
			answer, text := call(t, "PUT", ivo.URL+at, c)
			if answer.StatusCode != 200 || json.Unmarshal(text, &last) != nil {
				t.Fatalf("%s %s", answer.Status, text)
			}
		}
	}
	if what := fmt.Sprint(last.Callout.Marks); len(last.Callout.Marks) != 4 || !slices.IsSortedFunc(last.Callout.Marks, func(a, b callout.Mark) int { return strings.Compare(a.At, b.At) }) || len(last.Callout.Reasons) != 1 {
		t.Fatalf("put together: %s, %v", what, last.Callout.Reasons)
	}
	// Nobody marks a time in the name of somebody else; who marked it stays.
	if by := last.Callout.Marks[0].By + last.Callout.Reasons[0].By; by != "Ivo Kestrane"+"Ivo Kestrane" {
		t.Errorf("marked by %s", by)
	}
	// The later word on what is known stands, whenever it comes.
	later := strings.Replace(string(calloutText("Night")), `"known_at":"`+began.Format(time.RFC3339), `"known_at":"`+began.Add(time.Hour).Format(time.RFC3339), 1)
	later = strings.Replace(later, `"high_m":25`, `"high_m":22`, 1)
	// The rig that stood is the one of the run, whatever would be chosen today.
	later = strings.Replace(later, `"known":{`, `"used":{"main":{"brake":"brake-12","ropes":["rope-34"]},"belay":{"brake":"brake-11","ropes":["rope-33"]}},"marks":[`+mark(5, 51, "handed-over")+`],"known":{`, 1)
	for _, c := range [][]byte{[]byte(later), calloutText("Night")} {
		_, text := call(t, "PUT", dov.URL+at, c)
		if json.Unmarshal(text, &last) != nil || last.Callout.Known.HeightM.HighM != 22 {
			t.Fatalf("%s", text)
		}
	}
	refused(t, 403, "", "POST", ivo.URL+at+"/put-away", []byte(`{}`))
	refused(t, 422, "/person", "POST", dov.URL+at+"/put-away", []byte(`{"person":"nobody"}`))
	const open = "/api/v1/callouts/7b8a6f1e-1111-4222-8333-444455556667"
	if answer, text := call(t, "PUT", ivo.URL+open, calloutText("Running")); answer.StatusCode != 200 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	refused(t, 422, "/marks", "POST", dov.URL+open+"/put-away", []byte(`{}`))
	var made [2]struct{ Drop, Run string }
	for i := range made {
		answer, text := call(t, "POST", dov.URL+at+"/put-away", []byte(`{"person":"rhea"}`))
		if answer.StatusCode != 200 || json.Unmarshal(text, &made[i]) != nil {
			t.Fatalf("%s %s", answer.Status, text)
		}
	}
	if made[0] != made[1] {
		t.Errorf("put away twice it is %v and %v", made[0], made[1])
	}
	if answer, _ := call(t, "GET", dov.URL+"/api/v1/drops/"+made[0].Drop, nil); answer.StatusCode != 200 {
		t.Errorf("the drop: %s", answer.Status)
	}
	var r runSaid
	if _, text := call(t, "GET", dov.URL+"/api/v1/runs/"+made[0].Run, nil); json.Unmarshal(text, &r) != nil {
		t.Fatal(string(text))
	}
	if r.Phase != run.Ended || r.Run.Entered == nil || r.Run.Entered.By != "Dov Pellister" || len(r.State.Conflicts) > 0 || len(r.State.Marks) != 5 || len(r.State.Otherwise) != 1 {
		t.Fatalf("%+v", r)
	}
	rhea := slices.IndexFunc(r.State.Counters, func(c run.Counter) bool { return c.Person == "rhea" })
	if rhea < 0 || r.State.Counters[rhea].DownM != 22 || fmt.Sprintf("%.3f", r.State.Counters[rhea].HoursH) != fmt.Sprintf("%.3f", 10.0/60) {
		t.Errorf("counted %+v", r.State.Counters)
	}
	if rope := slices.IndexFunc(r.State.Counters, func(c run.Counter) bool { return c.Item == "rope-34" }); rope < 0 || len(r.State.Counters) != 5 {
		t.Errorf("counted %+v", r.State.Counters)
	}
	// What comes later is refused and changes nothing; what all have is taken again.
	refused(t, 409, "", "PUT", ivo.URL+at, calloutText("Night", `,"marks":[`, mark(9, 55, "other"), "]"))
	if answer, text := call(t, "PUT", ivo.URL+at, []byte(later)); answer.StatusCode != 200 {
		t.Errorf("%s %s", answer.Status, text)
	}
	away := run.PuttingAway{}
	for _, c := range r.State.Counters {
		away.Lines = append(away.Lines, run.AwayLine{Person: c.Person, Item: c.Item, DownM: c.DownM, UpM: c.UpM, HoursH: c.HoursH})
	}
	if answer, text := call(t, "POST", dov.URL+"/api/v1/runs/"+made[0].Run+"/put-away", []byte(asJSON(t, away))); answer.StatusCode/100 != 2 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	sealed := linesOf(t, dov.URL, "day="+string(demo.Day))
	if !slices.ContainsFunc(sealed, func(l store.RecordLine) bool {
		return l.Says.Kind == record.RunClosed && l.Says.Run != nil && l.Says.Run.EnteredAfter
	}) {
		t.Errorf("no record of the run says that it was typed afterwards: %+v", sealed)
	}
	if answer, pdf := call(t, "GET", ivo.URL+"/api/v1/store/kits/van%20bag/capability.pdf", nil); answer.StatusCode != 200 || !strings.HasPrefix(string(pdf), "%PDF") {
		t.Errorf("the card: %s", answer.Status)
	}
	refused(t, 422, "/kit", "GET", ivo.URL+"/api/v1/store/kits/none/capability.pdf", nil)
}

// A pre-plan is everybody's to read; who draws up drops keeps one, a supervisor removes it, and
// a lost race is reported.
func TestPreplans(t *testing.T) {
	h := newHouse(t)
	dov, ivo, reader := h.as(t, "dov"), h.as(t, "ivo"), h.as(t, "sunniva")
	const at = "/api/v1/preplans/new-site"
	body := []byte(`{"format":"pre-plan","version":1,"name":"New site","lat":46.4,"lon":9.8,"anchors":[{"name":"bolt","examined_on":"2026-01-01","examined_by":"Dov"}]}`)
	refused(t, 403, "", "PUT", reader.URL+at, body, "If-Match", `"0"`)
	for what, wrong := range map[string][2]string{
		"/lon": {`"lon":9.8,`, ""}, "/anchors/0/examined_by": {`,"examined_by":"Dov"`, ""}, "/anchors/0/examined_on": {`"examined_on":"2026-01-01",`, ""},
		"/anchors/1/name": {`[{`, `[{"name":"bolt"},{`}, "/height_m": {`"lat"`, `"height_m":{"low_m":9,"high_m":8},"lat"`}, "/lat": {"46.4", "91"},
	} {
		refused(t, 422, what, "PUT", ivo.URL+at, []byte(strings.Replace(string(body), wrong[0], wrong[1], 1)), "If-Match", `"0"`)
	}
	refused(t, 428, "/header/If-Match", "PUT", ivo.URL+at, body)
	if answer, text := call(t, "PUT", ivo.URL+"/api/v1/preplans/site-0", body, "If-Match", `"0"`); answer.StatusCode != 200 {
		t.Errorf("%s %s", answer.Status, text)
	}
	const made = "/api/v1/preplans/site-0"
	refused(t, 412, "", "PUT", ivo.URL+made, body, "If-Match", `"0"`)
	if answer, _ := call(t, "PUT", ivo.URL+made, body, "If-Match", `"1"`); answer.Header.Get("ETag") != `"2"` {
		t.Errorf("%s %s", answer.Status, answer.Header.Get("ETag"))
	}
	refused(t, 403, "", "DELETE", ivo.URL+made, nil, "If-Match", `"2"`)
	refused(t, 412, "", "DELETE", dov.URL+made, nil, "If-Match", `"1"`)
	if answer, _ := call(t, "DELETE", dov.URL+made, nil, "If-Match", `"2"`); answer.StatusCode != 204 {
		t.Errorf("%s", answer.Status)
	}
	_, text := call(t, "GET", reader.URL+"/api/v1/preplans", nil)
	if !strings.Contains(string(text), "Old quarry") || strings.Contains(string(text), "New site") {
		t.Errorf("%s", text)
	}
}

// What the register of a site has of an anchor counts on its drop: a plan that was checked before
// that was known goes back, one that was checked with it stands.
func TestAnchorsInRegister(t *testing.T) {
	h := newHouse(t)
	ivo, dov := h.as(t, "ivo"), h.as(t, "dov")
	version := 0
	keep := func(anchors string) {
		t.Helper()
		body := `{"format":"pre-plan","version":1,"name":"Shaft","drop":"gate-shaft","anchors":[` + anchors + `]}`
		if answer, text := call(t, "PUT", ivo.URL+"/api/v1/preplans/shaft", []byte(body), "If-Match", fmt.Sprintf(`"%d"`, version)); answer.StatusCode != 200 {
			t.Fatal(string(text))
		}
		version++
	}
	for what, wrong := range map[string]string{
		"/drop": `"drop":"gone"`, "/anchors/0/anchor": `"drop":"gate-shaft","anchors":[{"name":"a","anchor":"wall-main"}]`,
		"/anchors/1/anchor": `"drop":"gate-shaft","anchors":[{"name":"a","anchor":"deck-main"},{"name":"b","anchor":"deck-main"}]`,
	} {
		refused(t, 422, what, "PUT", ivo.URL+"/api/v1/preplans/shaft", []byte(`{"format":"pre-plan","version":1,"name":"Shaft",`+wrong+`}`), "If-Match", `"0"`)
	}
	refused(t, 422, "/anchors/0/anchor", "PUT", ivo.URL+"/api/v1/preplans/shaft", []byte(`{"format":"pre-plan","version":1,"name":"Shaft","anchors":[{"name":"a","anchor":"deck-main"}]}`), "If-Match", `"0"`)
	plan := func() store.Plan { return read[store.Plan](t, ivo.URL+"/api/v1/drops/gate-shaft/plan") }
	checked := func() {
		t.Helper()
		if answer, text := call(t, "PUT", dov.URL+"/api/v1/drops/gate-shaft/plan", []byte(`{"state":"checked"}`), "If-Match", `"1"`); answer.StatusCode != 200 {
			t.Fatal(string(text))
		}
	}
	stands := func(what string, want record.State, because string) {
		t.Helper()
		if p := plan(); p.State != want || !strings.Contains(strings.Join(p.Because, " "), because) {
			t.Errorf("%s: %s, %q", what, p.State, p.Because)
		}
	}
	checked()
	const inDate, proved = `{"name":"beam","anchor":"deck-main","examined_on":"2026-01-01","examined_by":"Dov","again_by":"2099-01-01"`, `,"strength_kN":12}`
	keep(inDate + "}")
	stands("in date", record.Checked, "")
	keep(`{"name":"beam"}`)
	stands("tied to nothing", record.Checked, "")
	keep(`{"name":"beam","anchor":"deck-main"}`)
	stands("examined by nobody", record.Draft, "main anchor is beam in the register of Shaft, and nobody is on record")
	checked()
	keep(`{"name":"beam","what":"behind the grating","anchor":"deck-main"}`)
	stands("as it was checked", record.Checked, "")
	keep(inDate + proved)
	stands("proved to less", record.Draft, "has proved the whole to 12 kN")
	checked()
	if answer, _ := call(t, "DELETE", dov.URL+"/api/v1/preplans/shaft", nil, "If-Match", fmt.Sprintf(`"%d"`, version)); answer.StatusCode != 204 {
		t.Error(answer.Status)
	}
	stands("in no register", record.Checked, "")
	if d := read[drop.Document](t, ivo.URL+"/api/v1/drops/gate-shaft"); d.Anchors[0].Register != nil {
		t.Errorf("%+v", d.Anchors[0].Register)
	}
}
