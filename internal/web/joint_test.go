package web_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"

	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
	"zealousknot/internal/store"
)

// Two do a lower together, each on a device: a role is had by one, what is called is answered by
// the other, an action is done once even where both send it; the trainer sees all of it, others
// of the team nothing but who takes part. At its end each has what there is to be marked.
func TestJointExercise(t *testing.T) {
	h := newHouse(t)
	ivo, rhea, dov, maren, reader := h.as(t, "ivo"), h.as(t, "rhea"), h.as(t, "dov"), h.as(t, "maren"), h.as(t, "sunniva")
	e, err := (&drill.Asked{Kind: drill.Move, Move: "lower", Seed: 3, Level: 1, Gear: demo.Gear(), Answers: true}).Make(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	own := e.Answers.Team
	const id = "5f9d3b1c-0000-4000-8000-0000000000f1"
	const at = "/api/v1/practice/joint/" + id
	body := []byte(fmt.Sprintf(`{"exercise":%s}`, asJSON(t, e)))
	refused(t, 403, "", "PUT", reader.URL+at, body)
	refused(t, 422, "/exercise/question/of", "PUT", ivo.URL+at, []byte(fmt.Sprintf(`{"exercise":%s}`, asJSON(t, exercised(t, drill.Faults, 1)))))
	refused(t, 404, "", "GET", ivo.URL+at, nil)
	if answer, text := call(t, "PUT", ivo.URL+at, body); answer.StatusCode != 200 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	refused(t, 409, "", "PUT", rhea.URL+at, body)

	turn := func(site *httptest.Server, id, says string) (*http.Response, *drill.Seen) {
		t.Helper()
		answer, text := call(t, "POST", site.URL+at+"/turns", []byte(fmt.Sprintf(`{"id":%q,%s}`, id, says)))
		s := new(drill.Seen)
		if err := json.Unmarshal(text, s); err != nil {
			t.Fatal(err)
		}
		return answer, s
	}
	takes := func(site *httptest.Server, says string) *drill.Seen {
		t.Helper()
		answer, s := turn(site, uuid.NewString(), says)
		if answer.StatusCode != 200 {
			t.Fatalf("%s: %s", says, answer.Status)
		}
		return s
	}
	takes(ivo, `"roles":["main","haul"]`)
	refused(t, 422, "/roles", "POST", rhea.URL+at+"/turns", []byte(`{"id":"`+uuid.NewString()+`","roles":["main"]}`))
	refused(t, 403, "", "POST", reader.URL+at+"/turns", []byte(`{"id":"`+uuid.NewString()+`","roles":["edge"]}`))
	refused(t, 422, "/action", "POST", rhea.URL+at+"/turns", []byte(`{"id":"`+uuid.NewString()+`","action":"jump"}`))
	takes(rhea, `"roles":["belay","edge","attendant"]`)

	seats := map[*httptest.Server]*httptest.Server{ivo: rhea, rhea: ivo}
	for _, a := range own {
		for site, other := range seats {
			if !slices.ContainsFunc(read[drill.Seen](t, site.URL+at).Offers, func(o team.Offer) bool { return o.Has(a) }) {
				continue
			}
			if row := manoeuvre.Team.Find(string(a.Do)); row.Call != "" {
				takes(site, fmt.Sprintf(`"call":%q`, a.Do))
				takes(other, `"answer":true`)
			}
			id, says := uuid.NewString(), `"action":`+asJSON(t, a)
			var both sync.WaitGroup
			for range 2 { // a lost answer is sent again, also at once
				both.Go(func() {
					if answer, _ := turn(site, id, says); answer.StatusCode != 200 {
						t.Errorf("%s: %s", says, answer.Status)
					}
				})
			}
			both.Wait()
			break
		}
	}
	if s := read[drill.Seen](t, dov.URL+at); len(s.Members) != 2 || len(s.Sees)+len(s.Heard)+len(s.Offers) > 0 {
		t.Errorf("who takes no part sees %+v", s)
	}
	whole := read[drill.Seen](t, maren.URL+at)
	if len(whole.Sees) < 5 || len(whole.Offers) > 0 || !whole.Reached || len(whole.Found) > 0 {
		t.Errorf("the trainer sees %+v", whole)
	}
	// A role that is taken when all is done is worth no mark.
	takes(maren, `"roles":["haul"]`)
	end := takes(ivo, `"end":true`)
	if !end.Ended || end.Exercise == nil || len(end.Steps) != len(own) {
		t.Fatalf("%+v", end)
	}
	refused(t, 422, "/id", "POST", rhea.URL+at+"/turns", []byte(`{"id":"`+uuid.NewString()+`","back":true}`))
	ids := map[string]bool{}
	for n, site := range []*httptest.Server{ivo, rhea, ivo} {
		s := read[struct {
			drill.Seen
			MarkID string `json:"mark_id"`
		}](t, site.URL+at)
		ids[s.MarkID] = true
		n %= 2
		if m := gaveMark(t, site, 40+n, s.Exercise, drill.Answer{Team: s.Steps}, ""); m.Score != 1 || !m.Done {
			t.Errorf("%+v", m)
		}
	}
	if s := read[struct {
		MarkID string `json:"mark_id"`
	}](t, maren.URL+at); s.MarkID != "" {
		t.Errorf("who did nothing has the mark %s", s.MarkID)
	}
	if len(ids) != 2 || ids[""] {
		t.Errorf("two have the marks %v", ids)
	}
	if s := read[drill.Seen](t, dov.URL+at); s.Exercise != nil || len(s.Steps) > 0 {
		t.Errorf("mistakes of others are seen: %+v", s)
	}
	list := read[struct{ Exercises []store.JointLine }](t, reader.URL+"/api/v1/practice/joint").Exercises
	if len(list) != 1 || !list[0].Ended || list[0].Move != "lower" || !strings.HasPrefix(list[0].By, "Ivo") {
		t.Errorf("%+v", list)
	}
}
