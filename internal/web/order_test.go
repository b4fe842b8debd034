package web_test

import (
	"bytes"
	"flag"
	"fmt"
	"math/rand/v2"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/record"
	"zealousknot/internal/demo"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
)

var orders = flag.Int("orders", 60, "how many things are done in any order")

// acting is a team whose members do anything, in any order.
type acting struct {
	*testing.T
	*house
	src    *rand.Rand
	people map[string]*httptest.Server
	team   store.Team
	// released counts how often a plan was seen released.
	done, refused, released int
}

// archived is everything that is kept of the team.
func (a *acting) archived() []byte {
	a.Helper()
	var b bytes.Buffer
	if err := a.store.Export(a.Context(), a.team, &b, time.Unix(0, 0), true); err != nil {
		a.Fatal(err)
	}
	return b.Bytes()
}

// spoilt is a document of the team as it is, changed anywhere.
func (a *acting) spoilt(path, in string) []byte {
	a.Helper()
	got := read[any](a, a.people["dov"].URL+path)
	doc, is := got.(map[string]any)
	if in != "" {
		// Of a list a few, so that some are taken.
		list, _ := got.([]any)
		if is {
			list, _ = doc[in].([]any)
		}
		n := a.src.IntN(len(list))
		doc = map[string]any{in: list[n:min(n+1+a.src.IntN(3), len(list))]}
	}
	if a.src.IntN(2) > 0 {
		chance.Spoil(a.src, doc)
	}
	return []byte(asJSON(a.T, doc))
}

// deeds are what is done: the method, the path and the body. Its ETag is
// read before.
var deeds = []func(a *acting, drop string) (method, path string, body []byte){
	func(a *acting, drop string) (string, string, []byte) {
		return "PUT", "/api/v1/gear", a.spoilt("/api/v1/gear", []string{"models", "items", "kits"}[a.src.IntN(3)])
	},
	func(a *acting, drop string) (string, string, []byte) {
		return "PUT", "/api/v1/people", a.spoilt("/api/v1/people", "people")
	},
	func(a *acting, drop string) (string, string, []byte) {
		return "PUT", "/api/v1/policy", a.spoilt("/api/v1/policy", "")
	},
	func(a *acting, drop string) (string, string, []byte) {
		return "PUT", "/api/v1/drops/" + drop, a.spoilt("/api/v1/drops/"+drop, "")
	},
	func(a *acting, drop string) (string, string, []byte) {
		return "PUT", "/api/v1/days/2026-11-24", a.spoilt("/api/v1/days/2026-11-24", "")
	},
	func(a *acting, drop string) (string, string, []byte) { return "DELETE", "/api/v1/drops/" + drop, nil },
	func(a *acting, drop string) (string, string, []byte) {
		return "POST", "/api/v1/drops/" + drop + "/versions/1", nil
	},
	func(a *acting, drop string) (string, string, []byte) {
		return "POST", "/api/v1/runs", []byte(fmt.Sprintf(`{"drop":%q}`, drop))
	},
	func(a *acting, drop string) (string, string, []byte) {
		return "PUT", "/api/v1/drops/gate-shaft/plan", []byte(fmt.Sprintf(`{"state":%q}`, []string{"draft", "checked", "checked", "released", "released"}[a.src.IntN(5)]))
	},
	func(a *acting, drop string) (string, string, []byte) {
		items := demo.Items()
		item := items[a.src.IntN(len(items))].ID
		return "POST", "/api/v1/records", batch([]string{
			fmt.Sprintf(`"kind":"quarantine","item":%q,"quarantine":{"event":"dropped"}`, item),
			fmt.Sprintf(`"kind":"back-in-service","item":%q,"note":"looked over"`, item),
			fmt.Sprintf(`"kind":"retirement","item":%q,"note":"worn","destroyed":{"how":"cut","by":"Rhea"}`, item),
			`"kind":"practice","person":"ivo","practice":{"skill":"knot-pass","how":"ground"}`,
			checked("backup-7", "rope-4", a.src.IntN(3) > 0, wheelProofs...),
			fmt.Sprintf(`"kind":"hours","person":"rhea","hours":{"hours_h":%d,"work":"face"}`, a.src.IntN(30)),
		}[a.src.IntN(6)])
	},
}

// do does one thing as anybody: the server answers, what it refuses changes nothing, and a plan
// that is released has no stop.
func (a *acting) do() {
	a.Helper()
	ids := []string{"face-4", "gate-shaft", "gate-shaft", "sump-hatch", "basin-wall"}
	// Plans and records, which are the last ones, three times as often.
	n := min(a.src.IntN(len(deeds)+4), len(deeds)-1)
	if n == len(deeds)-1 && a.src.IntN(2) == 0 {
		n--
	}
	method, path, body := deeds[n](a, ids[a.src.IntN(len(ids))])
	who := []string{"dov", "dov", "ivo", "maren", "rhea"}[a.src.IntN(5)]
	before := a.archived()
	version, _ := call(a, "GET", a.people[who].URL+strings.TrimSuffix(path, "/plan"), nil)
	answer, text := call(a, method, a.people[who].URL+path, body, "If-Match", version.Header.Get("ETag"))
	switch after := a.archived(); {
	case answer.StatusCode >= 500:
		a.Errorf("%s %s by %s: %d %s\n%s", method, path, who, answer.StatusCode, text, body)
	case answer.StatusCode >= 400:
		if a.refused++; !bytes.Equal(before, after) {
			a.Errorf("%s %s by %s was refused, %s, and changed something\n%s", method, path, who, text, body)
		}
	default:
		a.done++
	}
	for _, l := range read[[]struct {
		ID, Plan string
		Stops    *int
	}](a, a.people["rhea"].URL+"/api/v1/drops") {
		if l.Plan == string(record.Released) {
			if a.released++; *l.Stops > 0 {
				a.Errorf("%s is released with %d stops, after %s %s", l.ID, *l.Stops, method, path)
			}
		}
	}
}

// Whatever is done in whatever order, by whoever may and who may not: nothing breaks, what is
// refused changes nothing, no plan stays released with a stop, the chain is whole, and all of
// it comes back out of an archive.
func TestAnyOrder(t *testing.T) {
	h := newHouse(t)
	team, err := h.store.TeamNamed(t.Context(), demo.Team)
	if err != nil {
		t.Fatal(err)
	}
	a := &acting{T: t, house: h, src: chance.Rand(905, 1), team: team, people: map[string]*httptest.Server{}}
	for _, who := range []string{"dov", "ivo", "maren", "rhea"} {
		a.people[who] = h.as(t, who)
	}
	for _, set := range [][2]string{{"ivo", "checked"}, {"dov", "released"}} {
		version, _ := call(t, "GET", a.people[set[0]].URL+"/api/v1/drops/gate-shaft", nil)
		if answer, text := call(t, "PUT", a.people[set[0]].URL+"/api/v1/drops/gate-shaft/plan", []byte(fmt.Sprintf(`{"state":%q}`, set[1])), "If-Match", version.Header.Get("ETag")); answer.StatusCode != 200 {
			t.Fatal(string(text))
		}
	}
	for range *orders {
		a.do()
	}
	chains, err := h.store.Verify(t.Context(), 0)
	if err != nil || slices.ContainsFunc(chains, func(c store.Chain) bool { return c.Broken != nil || len(c.Differs) > 0 }) {
		t.Errorf("%+v %v", chains, err)
	}
	out := a.archived()
	there := pgtest.Store(t)
	if _, err := there.Import(t.Context(), bytes.NewReader(out), int64(len(out)), store.Import{}); err != nil {
		t.Fatal(err)
	}
	a.store = there
	if again := a.archived(); !bytes.Equal(out, again) {
		t.Error("out, in and out again it is something else")
	}
	if a.done < *orders/10 || a.refused < *orders/10 || a.released == 0 {
		t.Errorf("%d done, %d refused, released plans seen %d times", a.done, a.refused, a.released)
	}
	t.Logf("%d done, %d refused, %d released", a.done, a.refused, a.released)
}
