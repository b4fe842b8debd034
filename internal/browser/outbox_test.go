package browser_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/chromedp"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/demo"
	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

// answers stands before the site and answers for it where records are sent.
type answers struct {
	mu sync.Mutex
	// to gives the status of what is sent, 0 to let it through, and what is refused.
	to func(sent []record.Entry) (int, []strict.Fault)
	// seen are how many were sent at once.
	seen []int
}

func (a *answers) set(to func([]record.Entry) (int, []strict.Fault)) {
	a.mu.Lock()
	defer a.mu.Unlock()
	a.to, a.seen = to, nil
}

func (a *answers) batches() []int {
	a.mu.Lock()
	defer a.mu.Unlock()
	return slices.Clone(a.seen)
}

func (a *answers) before(site http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method != "POST" || r.URL.Path != "/api/v1/records" {
			site.ServeHTTP(w, r)
			return
		}
		text, err := io.ReadAll(r.Body)
		var sent record.Batch
		if err == nil {
			err = json.Unmarshal(text, &sent)
		}
		if err != nil {
			http.Error(w, err.Error(), http.StatusTeapot)
			return
		}
		a.mu.Lock()
		status, faults := a.to(sent.Records)
		a.seen = append(a.seen, len(sent.Records))
		a.mu.Unlock()
		if status == 0 {
			r.Body = io.NopCloser(bytes.NewReader(text))
			site.ServeHTTP(w, r)
			return
		}
		w.Header().Set("Content-Type", "application/problem+json")
		w.WriteHeader(status)
		_ = json.NewEncoder(w).Encode(web.NewProblem(status, "refused by the test", faults...))
	})
}

func through([]record.Entry) (int, []strict.Fault) { return 0, nil }

func always(status int) func([]record.Entry) (int, []strict.Fault) {
	return func([]record.Entry) (int, []strict.Fault) { return status, nil }
}

// What was recorded on a device waits where the server is busy, is set aside to be read
// where the server refuses it, is sent once, in order, and by the account that gave it;
// what the device could not keep is said not to be recorded.
func TestOutbox(t *testing.T) {
	house := serve(t)
	var server answers
	server.set(through)
	house.site = server.before(house.site)
	p := house.browse(t, "rhea", "/drops/face-4/checks")
	p.do(chromedp.EmulateViewport(390, 844))
	_, last := p.told(0)
	recorded := func(want ...string) {
		t.Helper()
		var got []string
		if got, last = p.told(last); !slices.Equal(got, want) {
			t.Errorf("recorded %q, want %q", got, want)
		}
	}
	tried := func(times int) {
		t.Helper()
		for len(server.batches()) < times {
			p.do(chromedp.Evaluate(`new Promise(requestAnimationFrame)`, nil, waits))
		}
	}
	const rope3, rope4, brake = "function-check rope-3 by Rhea Tolland", "function-check rope-4 by Rhea Tolland", "function-check descender-14 by Rhea Tolland"

	// Busy, not signed in any more, broken: it waits, and nothing is lost.
	for _, status := range []int{503, 429, 401} {
		server.set(always(status))
		if status == 503 {
			p.prove("rope-3", 4)
		}
		tried(1)
		p.says("[data-waiting]", "1 not yet sent")
		p.gone("[data-trouble]")
	}
	recorded()
	server.set(through)
	p.gone("[data-waiting]")
	recorded(rope3)

	// A batch that is refused, and it is not said for which: one by one.
	server.set(always(503))
	p.prove("rope-4", 4)
	p.prove("descender-14", 7)
	server.set(func(sent []record.Entry) (int, []strict.Fault) {
		if len(sent) > 1 {
			return 422, nil
		}
		if sent[0].Item == "rope-4" {
			return 422, []strict.Fault{{Pointer: "/records/0/check/rope", Detail: "no such rope"}}
		}
		return 0, nil
	})
	p.says("[data-trouble]", "no such rope")
	p.says("[data-trouble]", "Not taken: function check of rope 4")
	p.gone("[data-waiting]")
	recorded(brake)
	p.again()
	p.says("[data-trouble]", "no such rope")
	p.button("Read: put this notice aside")
	p.gone("[data-trouble]")

	// A batch that is refused for one: the others go.
	server.set(always(503))
	p.prove("rope-3", 4)
	p.prove("rope-4", 4)
	server.set(func(sent []record.Entry) (int, []strict.Fault) {
		if i := slices.IndexFunc(sent, func(e record.Entry) bool { return e.Item == "rope-3" }); i >= 0 {
			return 422, []strict.Fault{{Pointer: fmt.Sprintf("/records/%d/day", i), Detail: "not a day"}}
		}
		return 0, nil
	})
	p.says("[data-trouble]", "not a day")
	p.gone("[data-waiting]")
	recorded(rope4)
	p.button("Read: put this notice aside")
	p.gone("[data-trouble]")

	// The device is full: said, and not recorded anywhere.
	server.set(through)
	p.do(chromedp.Evaluate(`window.put = Storage.prototype.setItem
		Storage.prototype.setItem = function (k, v) {
			if (k.startsWith('outbox:')) throw new DOMException('full', 'QuotaExceededError')
			window.put.call(this, k, v)
		}`, nil), press("[data-check=backup-7]"), press("[data-did-not]"))
	p.button("into quarantine")
	p.says("[role=alert]", "NOT recorded")
	p.state("backup-7", "passed")
	p.again()
	p.state("backup-7", "passed")
	recorded()

	// Given by one account, found by the next: it waits for who gave it.
	server.set(always(503))
	p.prove("backup-7", 6)
	p.do(chromedp.Navigate(p.url+"/me"), press("[data-sign-out]"), press("[data-account=ivo]"))
	p.says("h1", "Ivo")
	p.do(chromedp.Navigate(p.url + "/drops/face-4/checks"))
	p.says("main", "1 given by Rhea Tolland: sent when they sign in here")
	server.set(through)
	p.prove("partner-rhea", 2)
	p.gone("[data-waiting]")
	recorded("partner-check rhea by Ivo Kestrane")
	p.do(chromedp.Navigate(p.url+"/me"), press("[data-sign-out]"), press("[data-account=rhea]"))
	p.until(`!Object.keys(localStorage).some((k) => k.startsWith('outbox:'))`)
	recorded("function-check backup-7 by Rhea Tolland")
}

// Windows of one browser share a session. What one gives is signed by who it shows, in the
// team that it shows: where in another window somebody else signed in, or went over to another
// team, it waits for them, and for that team.
func TestSharedSession(t *testing.T) {
	house := serve(t)
	var server answers
	server.set(always(503))
	house.site = server.before(house.site)
	p := house.browse(t, "dov", "/drops/face-4/checks")
	_, last := p.told(0)
	recorded := func(want ...string) {
		t.Helper()
		var got []string
		if got, last = p.told(last); !slices.Equal(got, want) {
			t.Errorf("recorded %q, want %q", got, want)
		}
	}
	inOtherWindow := func(method, path, body string) {
		t.Helper()
		var status int
		p.do(chromedp.Evaluate(fmt.Sprintf(`fetch('/api/v1/session%s', { method: %q, body: %q || undefined, headers: { 'Content-Type': 'application/json' } }).then((r) => r.status)`, path, method, body), &status, waits))
		if status != 204 {
			t.Fatalf("%s session%s: %d", method, path, status)
		}
	}
	enters := func(login string) {
		t.Helper()
		// At once: a page that asks between signing out and signing in shows that nobody is.
		inOtherWindow("POST", "", fmt.Sprintf(`{"login":%q,"password":%q}`, login, demo.Password))
	}
	p.prove("rope-3", 4)
	p.says("[data-waiting]", "1 not yet sent")
	enters("ivo")
	server.set(through)
	p.says("[data-me]", "Ivo Kestrane")
	p.says("main", "1 given by Dov Pellister: sent when they sign in here")
	recorded()
	enters("dov")
	p.do(chromedp.Reload())
	p.says("[data-me]", "Dov Pellister")
	p.until(`!Object.keys(localStorage).some((k) => k.startsWith('outbox:'))`)
	recorded("function-check rope-3 by Dov Pellister")

	server.set(always(503))
	p.prove("rope-4", 4)
	p.says("[data-waiting]", "1 not yet sent")
	var other string
	p.do(chromedp.Evaluate(`fetch('/api/v1/session').then((r) => r.json()).then((s) => s.teams.find((t) => t.id !== s.team.id).id)`, &other, waits))
	inOtherWindow("PUT", "/team", fmt.Sprintf(`{"team":%q}`, other))
	server.set(through)
	p.says("[data-elsewhere]", "1 not yet sent, given in Marrowfell")
	p.gone("[data-waiting]")
	inOtherWindow("PUT", "/team", fmt.Sprintf(`{"team":%q}`, p.team.ID))
	p.do(chromedp.Reload())
	p.until(`!Object.keys(localStorage).some((k) => k.startsWith('outbox:'))`)
	p.gone("[data-elsewhere]")
	recorded("function-check rope-4 by Dov Pellister")
}

// Hours, gear that is stopped, a record that is withdrawn: each is recorded once, by the
// press that says so; a box that is left records nothing; who may not is offered nothing.
func TestRecordsByHand(t *testing.T) {
	house := serve(t)
	p := house.browse(t, "rhea", "/me")
	recorded := func(want ...string) {
		t.Helper()
		p.gone("[data-waiting]")
		lines, err := p.store.RecordsOfDay(t.Context(), p.team.ID, gear.Date(time.Now().Format(time.DateOnly)), "", store.Page{Limit: 50})
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, l := range slices.Backward(lines) {
			got = append(got, strings.TrimSpace(fmt.Sprintf("%s by %s %s", l.Says.Kind, l.By, l.Says.Note)))
		}
		if !slices.Equal(got, want) {
			t.Errorf("recorded %q, want %q", got, want)
		}
	}
	field := func(label, text string) {
		t.Helper()
		p.do(chromedp.SendKeys(fmt.Sprintf(`//label[contains(., %q)]//input`, label), text, chromedp.BySearch))
	}
	field("Hours", "2.5")
	field("Kind of work", "face work")
	p.button("Record and sign")
	p.says("[data-record=hours]", "2.5 h")
	recorded("hours by Rhea Tolland")

	p.button("withdraw")
	p.says("[role=dialog]", "It stays to be seen")
	p.button("Leave it")
	p.gone("[role=dialog]")
	recorded("hours by Rhea Tolland")
	p.button("withdraw")
	field("Why", "that was yesterday")
	p.button("Withdraw and sign")
	p.until(`document.querySelector('[data-record=hours] .line-through')`)
	recorded("hours by Rhea Tolland", "withdrawal by Rhea Tolland that was yesterday")

	p.do(chromedp.Navigate(p.url+"/store"), press("[data-item=backup-9]"))
	p.do(chromedp.SetValue("form select", "heat"))
	field("Note", "beside the torch")
	p.button("Into quarantine")
	p.until(`document.querySelector('[data-item=backup-9]').dataset.state === 'quarantine'`)
	p.says("main", "A store keeper brings it back")
	const stopped = "quarantine by Rhea Tolland beside the torch"
	recorded("hours by Rhea Tolland", "withdrawal by Rhea Tolland that was yesterday", stopped)
	// What lies there already may have more happen to it.
	p.press("[data-further]")
	p.do(chromedp.SetValue("form select", "edge"))
	field("Note", "dragged over the lip")
	p.button("Note it too, signed")
	p.until(`document.querySelector('[data-item=backup-9]').parentElement.textContent.includes('edge: dragged over the lip')`)
	const more = "quarantine by Rhea Tolland dragged over the lip"
	recorded("hours by Rhea Tolland", "withdrawal by Rhea Tolland that was yesterday", stopped, more)

	// Wherever a record stands that may be withdrawn, it is.
	p.do(chromedp.Navigate(p.url + "/store/item/descender-14"))
	p.says("[data-record=function-check]", "Rhea Tolland")
	p.button("withdraw")
	p.says("[role=dialog]", "“function check”, signed by Rhea Tolland")
	field("Why", "the other one was meant")
	p.button("Withdraw and sign")
	p.until(`document.querySelector('[data-record=function-check] .line-through')`)

	// Who only reads may look.
	reader := house.browse(t, "sunniva", "/store")
	reader.press("[data-item=rope-4]")
	reader.until(`document.querySelector('[data-item=rope-4]').getAttribute('aria-expanded') === 'true' && !document.querySelector('main form')`)

	// A password is changed by who knows it; the other devices are out then.
	other := house.browse(t, "rhea", "/me")
	other.says("h1", "Rhea")
	p.do(chromedp.Navigate(p.url+"/me"), chromedp.WaitVisible("[autocomplete=new-password]"))
	change := func(old string) {
		t.Helper()
		for kind, text := range map[string]string{"current": old, "new": "a long enough new one"} {
			p.do(chromedp.Evaluate(fmt.Sprintf(`(() => {
				const f = document.querySelector('[autocomplete=%s-password]')
				f.value = %q
				f.dispatchEvent(new Event('input'))
			})()`, kind, text), nil))
		}
		p.button("Change it")
	}
	change("not the old one")
	p.says("[role=status]", "■")
	change(demo.Password)
	p.says("[role=status]", "Every other device is signed out")
	other.do(chromedp.Reload())
	other.says("h1", "Sign in")
	recorded("hours by Rhea Tolland", "withdrawal by Rhea Tolland that was yesterday", stopped, more)
}

// What is stopped without a connection is stopped on this device at once: in the store, and on
// the drop that has it.
func TestStoppedOffline(t *testing.T) {
	p := open(t, "/drops/gate-shaft")
	d, err := p.store.Drop(t.Context(), p.team.ID, "gate-shaft")
	if err != nil {
		t.Fatal(err)
	}
	device := d.Document.People[0].Holds[0].Device
	p.onDevice()
	p.do(chromedp.Navigate(p.url + "/store"))
	p.press(`[data-item=` + device + `]`)
	p.cut(true)
	p.typed("[data-kept-at]", "red box")
	p.button("Into quarantine")
	p.until(`document.querySelector('[data-item=` + device + `]')?.dataset.state === 'quarantine'`)
	p.says("main", "kept at red box")
	p.says("[data-waiting]", "not yet sent")
	p.do(chromedp.Navigate(p.url + "/drops/gate-shaft/kit"))
	p.says("main", "is in quarantine: dropped from height: kept at red box")
	p.do(chromedp.Navigate(p.url + "/drops/gate-shaft/checks"))
	p.state(device, "failed")
	p.do(chromedp.Navigate(p.url + "/store"))
	p.until(`document.querySelector('[data-item=` + device + `]')?.dataset.state === 'quarantine'`)
	p.press(`[data-item=` + device + `]`)
	p.says("main", "Recorded on this device, and not yet sent")
	// What cannot be counted in is said, never passed over.
	p.do(chromedp.Evaluate(`(() => {
		const key = Object.keys(localStorage).find((k) => k.startsWith('outbox:'))
		const kept = JSON.parse(localStorage.getItem(key))
		localStorage.setItem(key + '0', JSON.stringify({ ...kept, entry: { ...kept.entry, kind: 'nothing known' } }))
	})()`, nil), chromedp.Navigate(p.url+"/drops/gate-shaft"))
	p.says("[data-unshown]", "what waits on this device is not counted in")
	p.do(chromedp.Evaluate(`Object.keys(localStorage).filter((k) => k.startsWith('outbox:') && k.endsWith('0') && localStorage.getItem(k).includes('nothing known')).forEach((k) => localStorage.removeItem(k))`, nil), chromedp.Navigate(p.url+"/store"))
	p.says("[data-waiting]", "not yet sent")
	p.gone("[data-unshown]")
	p.cut(false)
	p.gone("[data-waiting]")
	if item := p.gear().Items[slices.IndexFunc(p.gear().Items, func(i gear.Item) bool { return i.ID == device })]; item.State != gear.Quarantine {
		t.Errorf("%+v", item)
	}
}
