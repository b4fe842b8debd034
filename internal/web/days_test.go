package web_test

import (
	"encoding/json"
	"net/http"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/day"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/demo"
	"zealousknot/internal/store"
)

type boardSaid struct {
	Board  day.Board
	Report day.Report
	Gone   []string
}

func dayOf(t *testing.T, url, date string) (b boardSaid, etag string) {
	t.Helper()
	answer, text := call(t, "GET", url+"/api/v1/days/"+date, nil)
	if answer.StatusCode != http.StatusOK || json.Unmarshal(text, &b) != nil {
		t.Fatalf("%s %s", answer.Status, text)
	}
	return b, answer.Header.Get("ETag")
}

// A day's board is everybody's to read and a supervisor's to keep; a lost race is reported; a
// drop of the day that nobody has placed stands on it, one that is gone does not; what is
// proposed has nobody twice.
func TestDays(t *testing.T) {
	h := newHouse(t)
	dov, ivo, sunniva := h.as(t, "dov"), h.as(t, "ivo"), h.as(t, "sunniva")
	url := dov.URL + "/api/v1/days/" + string(demo.Day)
	b, etag := dayOf(t, sunniva.URL, string(demo.Day))
	twice := func(r *day.Report) bool {
		return slices.ContainsFunc(r.Findings, func(f finding.Finding) bool { return f.Rule == "day.twice" })
	}
	if etag != `"1"` || len(b.Report.Lanes) != len(demo.Drops()) || !twice(&b.Report) {
		t.Errorf("%s, %d lanes, %d stops", etag, len(b.Report.Lanes), b.Report.Stops)
	}
	body := []byte(asJSON(t, b.Board))
	for _, s := range []string{ivo.URL, sunniva.URL} {
		refused(t, 403, "", "PUT", s+"/api/v1/days/"+string(demo.Day), body, "If-Match", etag)
	}
	refused(t, 428, "/header/If-Match", "PUT", url, body)
	refused(t, 422, "/day", "PUT", dov.URL+"/api/v1/days/2026-11-25", body, "If-Match", `"0"`)
	refused(t, 422, "/slots/0/from", "PUT", url, []byte(strings.Replace(string(body), `"07:30"`, `"24:30"`, 1)), "If-Match", etag)
	refused(t, 412, "", "PUT", url, body, "If-Match", `"0"`)
	b.Board.Note = "moved"
	body = []byte(asJSON(t, b.Board))
	if answer, text := call(t, "PUT", url, body, "If-Match", etag); answer.StatusCode != 200 || answer.Header.Get("ETag") != `"2"` || !strings.Contains(string(text), `"changed_by":"Dov Pellister"`) {
		t.Errorf("%s %.200s", answer.Status, text)
	}
	refused(t, 412, "", "PUT", url, body, "If-Match", etag)
	if again, _ := dayOf(t, ivo.URL, string(demo.Day)); again.Board.Note != "moved" {
		t.Errorf("kept %q", again.Board.Note)
	}

	// What is sent beside a board counts; the rest is the team's.
	people := demo.People()
	for i := range people {
		people[i].Papers = nil
	}
	for papers, asked := range map[bool]day.Asked{true: {Board: b.Board}, false: {Board: b.Board, People: people}} {
		_, text := call(t, "POST", dov.URL+"/api/v1/day/check", []byte(asJSON(t, asked)))
		if strings.Contains(string(text), "holds no qualification") == papers {
			t.Errorf("papers %v: %.400s", papers, text)
		}
	}

	// What was not counted back is on no drop for sure.
	gone := func() bool {
		b, _ := dayOf(t, ivo.URL, string(demo.Day))
		return slices.ContainsFunc(b.Report.Findings, func(f finding.Finding) bool { return f.Rule == "day.missing" && f.Subject.ID == "rope-3" })
	}
	if gone() {
		t.Error("missing from the start")
	}
	for _, e := range []string{`"kind":"kit-issue","kit":{"kit":"rescue-bag","to":"van 2","items":["rope-3"]}`, `"kind":"kit-return","kit":{"kit":"rescue-bag","items":[]}`} {
		if out := send(t, dov.URL, batch(e)); out[0].State != "kept" {
			t.Fatalf("%+v", out)
		}
	}
	if !gone() {
		t.Error("what did not come back is planned with, and nothing says so")
	}

	// What the board has against a drop stands in the way of its release; the wind does not.
	release := func(drop string) (*store.Plan, int) {
		t.Helper()
		at := dov.URL + "/api/v1/drops/" + drop + "/plan"
		set := func(state string) int {
			answer, _ := call(t, "PUT", at, []byte(`{"state":"`+state+`"}`), "If-Match", `"1"`)
			return answer.StatusCode
		}
		if code := set("checked"); code != 200 {
			t.Fatal(drop, code)
		}
		p := read[store.Plan](t, at)
		return &p, set("released")
	}
	b, etag = dayOf(t, dov.URL, string(demo.Day))
	i := slices.IndexFunc(b.Board.Slots, func(s day.Slot) bool { return s.Drop == "gate-shaft" })
	was := b.Board.Slots[i].From
	b.Board.Slots[i].From = b.Board.Slots[slices.IndexFunc(b.Board.Slots, func(s day.Slot) bool { return s.Drop == "face-7" })].From
	put := func() {
		t.Helper()
		answer, text := call(t, "PUT", url, []byte(asJSON(t, b.Board)), "If-Match", etag)
		if etag = answer.Header.Get("ETag"); answer.StatusCode != 200 {
			t.Fatal(string(text))
		}
	}
	put()
	p, code := release("gate-shaft")
	if code != 422 || len(p.ToRelease) == 0 || !strings.HasPrefix(p.ToRelease[0], "the day's board: ") || !strings.Contains(p.ToRelease[0], "at the same time") {
		t.Errorf("%d %q", code, p.ToRelease)
	}
	b.Board.Slots[i].From = was
	put()
	if p, code := release("gate-shaft"); code != 200 || len(p.ToRelease) > 0 {
		t.Errorf("%d %q", code, p.ToRelease)
	}
	// Nor is a run made of it where the board was changed after the release.
	b.Board.Slots[i].From = b.Board.Slots[slices.IndexFunc(b.Board.Slots, func(s day.Slot) bool { return s.Drop == "face-7" })].From
	put()
	refused(t, 422, "/drop", "POST", dov.URL+"/api/v1/runs", []byte(`{"drop":"gate-shaft"}`))
	b.Board.Slots[i].From = was
	put()
	if answer, text := call(t, "POST", dov.URL+"/api/v1/runs", []byte(`{"drop":"gate-shaft"}`)); answer.StatusCode != 201 {
		t.Error(string(text))
	}

	// A seat changes hands, on the drop's version that was looked at.
	answer, _ := call(t, "GET", dov.URL+"/api/v1/drops/face-4", nil)
	seen := answer.Header.Get("ETag")
	seat := dov.URL + "/api/v1/drops/face-4/seat"
	refused(t, 422, "/by", "POST", seat, []byte(`{"person":"rhea","by":"nobody"}`), "If-Match", seen)
	refused(t, 422, "/by", "POST", seat, []byte(`{"person":"rhea","by":"rhea"}`), "If-Match", seen)
	refused(t, 422, "/person", "POST", seat, []byte(`{"person":"ivo","by":"maren"}`), "If-Match", seen)
	refused(t, 403, "", "POST", sunniva.URL+"/api/v1/drops/face-4/seat", []byte(`{"person":"rhea","by":"maren"}`), "If-Match", seen)
	if answer, text := call(t, "POST", seat, []byte(`{"person":"rhea","by":"maren"}`), "If-Match", seen); answer.StatusCode != 200 {
		t.Errorf("%s %s", answer.Status, text)
	}
	refused(t, 412, "", "POST", seat, []byte(`{"person":"maren","by":"rhea"}`), "If-Match", seen)
	if _, text := call(t, "GET", dov.URL+"/api/v1/drops/face-4", nil); !strings.Contains(string(text), `"id":"maren","name":"Maren Oake","mass_kg":74`) || strings.Contains(string(text), `"id":"rhea"`) {
		t.Errorf("%.400s", text)
	}

	var f day.Filled
	if answer, text := call(t, "POST", url+"/fill", nil); answer.StatusCode != 200 || json.Unmarshal(text, &f) != nil || twice(f.Report) || len(f.Changes) == 0 {
		t.Errorf("%s %.300s", answer.Status, text)
	}
	if _, text := call(t, "GET", url+"/board.pdf", nil); !strings.HasPrefix(string(text), "%PDF") {
		t.Errorf("%.20s", text)
	}
	_, text := call(t, "GET", ivo.URL+"/api/v1/days/"+string(demo.Day)+"/calendar.ics", nil)
	if n := strings.Count(string(text), "BEGIN:VEVENT"); n != 2 || !strings.Contains(string(text), "SUMMARY:Face 7\\, on rope") {
		t.Errorf("%d events: %s", n, text)
	}
	if _, text := call(t, "GET", dov.URL+"/api/v1/days?from="+string(demo.Day)+"&days=2", nil); strings.Count(string(text), `"day":`) != 2 || !strings.Contains(string(text), `"name":"Face 7","from":"07:30"`) {
		t.Errorf("%s", text)
	}
	// A drop that is removed is gone from the board; on a day without any the board is empty.
	answer, _ = call(t, "GET", dov.URL+"/api/v1/drops/sump-hatch", nil)
	if answer, text := call(t, "DELETE", dov.URL+"/api/v1/drops/sump-hatch", nil, "If-Match", answer.Header.Get("ETag")); answer.StatusCode >= 300 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	if b, _ := dayOf(t, dov.URL, string(demo.Day)); !slices.Equal(b.Gone, []string{"sump-hatch"}) {
		t.Errorf("gone: %v", b.Gone)
	}
	if b, etag := dayOf(t, dov.URL, "2027-01-01"); etag != `"0"` || len(b.Board.Slots) != 0 {
		t.Errorf("%s %v", etag, b.Board.Slots)
	}
}
