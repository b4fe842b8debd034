package web_test

import (
	"encoding/json"
	"fmt"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store"
)

// partnerDue is the partner check of somebody on a drop, as it stands.
func partnerDue(t *testing.T, url, id, person string) procedure.Due {
	t.Helper()
	d := read[drop.Document](t, url+"/api/v1/drops/"+id)
	r, err := check.Drop(t.Context(), &d, nil, check.Detail{Checks: true})
	if err != nil {
		t.Fatal(err)
	}
	return r.Checks[slices.IndexFunc(r.Checks, func(d procedure.Due) bool { return d.Kind == procedure.OfPartner && d.Person == person })]
}

func setPIN(t *testing.T, of *httptest.Server, pin string) {
	t.Helper()
	if answer, text := call(t, "PUT", of.URL+"/api/v1/session/pin", fmt.Appendf(nil, `{"password":%q,"pin":%q}`, password, pin)); answer.StatusCode != 204 {
		t.Fatalf("%s %s", answer.Status, text)
	}
}

// A partner signs on the device of somebody else by a number of their own: it is judged as
// theirs, and the record says whose device it was. Nothing else is signed so, by nobody who may
// not, and guesses are slowed.
func TestPartnerByPIN(t *testing.T) {
	h := newHouse(t)
	ivo, rhea, dov, reader := h.as(t, "ivo"), h.as(t, "rhea"), h.as(t, "dov"), h.as(t, "sunniva")
	for pin, pointer := range map[string]string{"12345": "/pin", "1234567890123": "/pin", "12345a": "/pin", "777777": "/pin", "123456": "/pin", "890123": "/pin", "654321": "/pin"} {
		refused(t, 422, pointer, "PUT", rhea.URL+"/api/v1/session/pin", fmt.Appendf(nil, `{"password":%q,"pin":%q}`, password, pin))
	}
	refused(t, 422, "/password", "PUT", rhea.URL+"/api/v1/session/pin", []byte(`{"password":"not it at all","pin":"482913"}`))
	type partners struct {
		Partners []struct{ Account, Name string }
	}
	if list := read[partners](t, ivo.URL+"/api/v1/partners").Partners; len(list) != 0 {
		t.Errorf("with a number: %+v", list)
	}
	setPIN(t, rhea, "482913")
	setPIN(t, ivo, "905172")
	setPIN(t, reader, "550871")
	list := read[partners](t, ivo.URL+"/api/v1/partners").Partners
	if len(list) != 1 || list[0].Name != "Rhea Tolland" {
		t.Fatalf("%+v", list)
	}
	refused(t, 403, "", "GET", reader.URL+"/api/v1/partners", nil)

	own := read[partners](t, dov.URL+"/api/v1/partners").Partners
	accounts := map[string]string{}
	for _, p := range own {
		accounts[p.Name] = p.Account
	}
	id := uuid.NewString()
	body := func(account, pin, more string) []byte {
		now := time.Now().UTC().Format(time.RFC3339Nano)
		return fmt.Appendf(nil, `{"sent_at":%q,"account":%q,"pin":%q,"record":{"id":%q,"given_at":%q,"day":"2026-11-24",%s}}`, now, account, pin, id, now, more)
	}
	entry := func(drop, person string) string {
		due := partnerDue(t, ivo.URL, drop, person)
		return fmt.Sprintf(`"kind":"partner-check","drop":%q,"person":%q,"partner":{"rigging":%q,"passed":true}`, drop, person, due.Rigging)
	}
	const to = "/api/v1/records/by-pin"
	ivos := entry("gate-shaft", "ivo")
	refused(t, 403, "", "POST", reader.URL+to, body(accounts["Rhea Tolland"], "482913", ivos))
	refused(t, 422, "/pin", "POST", ivo.URL+to, body(accounts["Rhea Tolland"], "482914", ivos))
	refused(t, 422, "/pin", "POST", ivo.URL+to, body(uuid.NewString(), "482913", ivos))
	refused(t, 422, "/record/kind", "POST", ivo.URL+to, body(accounts["Rhea Tolland"], "482913", checked("backup-31", "rope-9", true)))
	refused(t, 422, "/record/kind", "POST", ivo.URL+to, body(accounts["Rhea Tolland"], "482913", ivos+`,"paper":{"by":"maren","at":"2026-11-24T08:00:00Z"}`))
	says := func(server *httptest.Server, body []byte) store.Outcome {
		t.Helper()
		answer, text := call(t, "POST", server.URL+to, body)
		if answer.StatusCode != 200 {
			t.Fatalf("%s %s", answer.Status, text)
		}
		var out struct{ Records []store.Outcome }
		if err := json.Unmarshal(text, &out); err != nil {
			t.Fatal(err)
		}
		return out.Records[0]
	}
	// Nobody passes their own rigging, on whosever device.
	if out := says(rhea, body(accounts["Ivo Kestrane"], "905172", ivos)); out.State != "refused" || out.Errors[0].Pointer != "/records/0/person" {
		t.Errorf("of their own: %+v", out)
	}
	send(t, dov.URL, batch(strings.Replace(ivos, `"passed":true`, `"passed":false,"proofs":[{"proof":"hold-1","did":false}]`, 1)))
	if due := partnerDue(t, ivo.URL, "gate-shaft", "ivo"); due.State == procedure.Passed {
		t.Errorf("%+v", due)
	}
	right := body(accounts["Rhea Tolland"], "482913", ivos)
	for _, state := range []string{"kept", "already"} {
		if out := says(ivo, right); out.State != state {
			t.Errorf("%+v, want %s", out, state)
		}
	}
	due := partnerDue(t, ivo.URL, "gate-shaft", "ivo")
	if due.State != procedure.Passed || !strings.Contains(due.Why, "Rhea Tolland, on the device of Ivo Kestrane") {
		t.Errorf("%+v", due)
	}
	line := linesOf(t, dov.URL, "day=2026-11-24&drop=gate-shaft")[0]
	if line.By != "Rhea Tolland" || line.Says.OnDeviceOf != "Ivo Kestrane" || line.Says.Kind != record.PartnerCheck {
		t.Errorf("%+v", line)
	}
	// A wrong one is noted; after some it is slow, for the right one too; no number, no partner.
	key := "pin of " + accounts["Rhea Tolland"]
	refused(t, 422, "/pin", "POST", ivo.URL+to, body(accounts["Rhea Tolland"], "000001", ivos))
	if n, _, err := h.store.Wrong(t.Context(), key); err != nil || n != 1 {
		t.Errorf("%d wrong ones are noted, %v", n, err)
	}
	for range 6 {
		if err := h.store.NoteWrong(t.Context(), key); err != nil {
			t.Fatal(err)
		}
	}
	refused(t, 429, "", "POST", ivo.URL+to, body(accounts["Rhea Tolland"], "482913", ivos))
	setPIN(t, rhea, "")
	if list := read[partners](t, ivo.URL+"/api/v1/partners").Partners; len(list) != 0 {
		t.Errorf("without a number: %+v", list)
	}
}

// What is typed from paper counts as done by whom and when the paper says: a check that was done
// later stands before it, whatever was typed last.
func TestFromPaper(t *testing.T) {
	h := newHouse(t)
	ivo, dov := h.as(t, "ivo"), h.as(t, "dov")
	before := partnerDue(t, ivo.URL, "gate-shaft", "ivo")
	partner := func(passed bool, more string) string {
		return fmt.Sprintf(`"kind":"partner-check","drop":"gate-shaft","person":"ivo"%s,"partner":{"rigging":%q,"passed":%v,"proofs":[{"proof":"hold-1","did":%v}]}`, more, before.Rigging, passed, passed)
	}
	paper := func(ago time.Duration) string {
		return fmt.Sprintf(`,"paper":{"by":"maren","at":%q}`, time.Now().Add(-ago).UTC().Format(time.RFC3339Nano))
	}
	if out := send(t, dov.URL, batch(partner(true, paper(time.Hour)))); out[0].State != "refused" || out[0].Errors[0].Pointer != "/records/0/paper/at" {
		t.Errorf("before the drop was there: %+v", out)
	}
	if out := send(t, ivo.URL, batch(partner(true, paper(0)))); out[0].State != "refused" {
		t.Errorf("typed by whose it is: %+v", out)
	}
	if out := send(t, dov.URL, batch(partner(true, paper(0)))); out[0].State != "kept" {
		t.Fatalf("%+v", out)
	}
	if due := partnerDue(t, ivo.URL, "gate-shaft", "ivo"); due.State != procedure.Passed || !strings.Contains(due.Why, "Maren Oake, on paper, typed by Dov Pellister") {
		t.Errorf("%+v", due)
	}
	// Something was wrong on the screen; what a paper says of before that does not pass it.
	send(t, dov.URL, batch(partner(false, "")))
	done := read[struct{ Records []store.RecordLine }](t, dov.URL+"/api/v1/records?day=2026-11-24&drop=gate-shaft").Records[0].Says.Given()
	early := fmt.Sprintf(`,"paper":{"by":"maren","at":%q}`, done.Add(-time.Millisecond).Format(time.RFC3339Nano))
	if out := send(t, dov.URL, batch(partner(true, early))); out[0].State != "kept" {
		t.Fatalf("%+v", out)
	}
	if due := partnerDue(t, ivo.URL, "gate-shaft", "ivo"); due.State == procedure.Passed {
		t.Errorf("passed by an earlier paper: %+v", due)
	}
	if out := send(t, dov.URL, batch(partner(true, paper(0)))); out[0].State != "kept" {
		t.Fatalf("%+v", out)
	}
	if due := partnerDue(t, ivo.URL, "gate-shaft", "ivo"); due.State != procedure.Passed {
		t.Errorf("%+v", due)
	}
	// It stands in the log of who did it.
	if log := read[struct{ Records []store.RecordLine }](t, dov.URL+"/api/v1/people/maren/log").Records; !slices.ContainsFunc(log, func(l store.RecordLine) bool { return l.Says.DoneBy == "Maren Oake" }) {
		t.Error("not in the log of who did it")
	}
}

// Proofs are signed at once by who is familiar with the model, and the record says so.
func TestProvedTogether(t *testing.T) {
	h := newHouse(t)
	together := strings.Replace(checked("backup-7", "rope-4", true, wheelProofs...), `"passed"`, `"way":"together","passed"`, 1)
	// Dov was never shown the wheel backup.
	if out := send(t, h.as(t, "dov").URL, batch(together)); out[0].State != "refused" || out[0].Errors[0].Pointer != "/records/0/check/way" {
		t.Errorf("%+v", out)
	}
	rhea := h.as(t, "rhea")
	if out := send(t, rhea.URL, batch(together)); out[0].State != "kept" || out[0].Conflict != "" {
		t.Errorf("%+v", out)
	}
	if l := linesOf(t, rhea.URL, "item=backup-7")[0]; l.Says.Check.Way != record.Together {
		t.Errorf("%+v", l.Says.Check)
	}
}
