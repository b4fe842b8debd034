package browser_test

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/demo"
	"zealousknot/internal/web"
)

// stored waits until the server has everything of a drop, and gives it.
func (p *page) stored(id string) (*drop.Document, int) {
	p.Helper()
	p.until(`document.querySelector('[data-keeping]')?.innerText === 'kept'`)
	d, err := p.store.Drop(context.Background(), p.team.ID, id)
	if err != nil {
		p.Fatal(err)
	}
	return d.Document, d.Version
}

// Figures are typed as they are shown and kept in metric: what is typed in other units is
// sent converted, what is only looked at is neither sent nor rounded, and what is no figure
// or beyond its bounds is sent nowhere.
func TestUnits(t *testing.T) {
	p := open(t, "/drops/gate-shaft")
	const mass = "/people/0/mass_kg"
	p.says("[data-pointer='"+mass+"']", "81")
	_, version := p.stored("gate-shaft")
	p.press("[data-units]")
	p.says("[data-pointer='"+mass+"']", "179")
	// Opened and left as it is.
	p.do(chromedp.Focus("[data-pointer='"+mass+"'] button"), chromedp.KeyEvent(kb.Enter))
	p.until(`document.activeElement.tagName === 'INPUT'`)
	p.do(chromedp.KeyEvent(kb.Enter))
	p.until(`document.activeElement.tagName === 'BUTTON'`)
	if d, now := p.stored("gate-shaft"); now != version || d.People[0].MassKg != 81 {
		t.Errorf("only looked at, and it is %v in version %d", d.People[0].MassKg, now)
	}
	p.typeInto(mass, "200")
	p.says("[data-pointer='"+mass+"']", "200")
	kept := func(want float64) {
		t.Helper()
		if d, _ := p.stored("gate-shaft"); math.Abs(float64(d.People[0].MassKg)-want) > 1e-5 {
			t.Errorf("kept %v, want %v", d.People[0].MassKg, want)
		}
	}
	p.until(`JSON.stringify(Object.keys(localStorage)).indexOf('draft:') < 0`)
	kept(200 * 0.45359237)
	for wrong, says := range map[string]string{"heavy": "a plain number", "100000": "between"} {
		p.do(chromedp.Focus("[data-pointer='"+mass+"'] button"), chromedp.KeyEvent(kb.Enter))
		p.until(`document.activeElement.tagName === 'INPUT' && getSelection().toString() !== ''`)
		p.do(chromedp.KeyEvent(wrong + kb.Enter))
		p.says("[data-pointer='"+mass+"']", says)
		p.do(chromedp.KeyEvent(kb.Escape))
		p.says("[data-pointer='"+mass+"']", "200")
	}
	kept(200 * 0.45359237)
	// Findings and figures speak the same units; in metric again it is what was typed.
	p.until(`/\d lbf\b/.test(document.body.innerText) && !/\d kN\b/.test(document.querySelector('main').innerText)`)
	p.press("[data-units]")
	p.says("[data-pointer='"+mass+"']", "90.7")
	kept(200 * 0.45359237)
}

// What somebody else wrote meanwhile is written over by who says so, and by nobody else.
func TestKeepMine(t *testing.T) {
	p := open(t, "/drops/gate-shaft")
	_, version := p.stored("gate-shaft")
	p.cut(true)
	p.typeInto("/people/0/mass_kg", "91")
	p.says("[data-keeping]", "no connection")
	p.changed("gate-shaft", func(d *drop.Document) { d.People[0].MassKg = 77 })
	p.cut(false)
	p.says("main [role=alert]", "Somebody else changed this drop")
	if d, err := p.store.Drop(t.Context(), p.team.ID, "gate-shaft"); err != nil || d.Document.People[0].MassKg != 77 {
		t.Errorf("written over unasked: %v %v", d.Document.People[0].MassKg, err)
	}
	// What the store tells while mine is on its way is no change of mine.
	const path = "/api/v1/drops/gate-shaft"
	mine := p.hold("PUT", path, 0)
	p.button("Keep mine over theirs")
	mine.wait(p)
	had := p.came(path)
	rules, policies, err := p.store.Policy(t.Context(), p.team)
	if err != nil {
		t.Fatal(err)
	}
	rules.ReserveM = 7
	if _, err := p.store.SavePolicy(t.Context(), p.team, &record.Signer{Name: "Somebody"}, policies, rules); err != nil {
		t.Fatal(err)
	}
	p.comes(path, had)
	close(mine.release)
	if d, after := p.stored("gate-shaft"); d.People[0].MassKg != 91 || after != version+2 {
		t.Errorf("kept %v in version %d, after %d", d.People[0].MassKg, after, version)
	}
	p.gone("main [role=alert]")
}

// A drop that the server refuses is said not to be kept, stays on the device, and is sent
// again with the next change.
func TestRefusedDrop(t *testing.T) {
	house := serve(t)
	var refuse, named atomic.Bool
	site := house.site
	house.site = http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if !refuse.Load() || r.Method != "PUT" || !strings.HasPrefix(r.URL.Path, "/api/v1/drops/") {
			site.ServeHTTP(w, r)
			return
		}
		_, _ = io.Copy(io.Discard, r.Body)
		w.Header().Set("Content-Type", "application/problem+json")
		w.WriteHeader(422)
		p := web.NewProblem(422, "refused by the test")
		if named.Load() {
			p.Errors = []strict.Fault{{Pointer: "/people/0/mass_kg", Detail: "not today"}}
		}
		_ = json.NewEncoder(w).Encode(p)
	})
	p := house.browse(t, "dov", "/drops/gate-shaft")
	_, version := p.stored("gate-shaft")
	refuse.Store(true)
	p.typeInto("/people/0/mass_kg", "90")
	p.says("main [role=alert]", "refused by the test")
	named.Store(true)
	p.typeInto("/people/0/mass_kg", "91")
	p.says("[data-keeping]", "refused")
	p.says("main [role=alert]", "not today")
	p.until(`Object.entries(localStorage).some(([k, v]) => k.startsWith('draft:') && v.includes('"mass_kg":91'))`)
	if d, err := p.store.Drop(t.Context(), p.team.ID, "gate-shaft"); err != nil || d.Version != version {
		t.Errorf("version %d, was %d: %v", d.Version, version, err)
	}
	refuse.Store(false)
	p.typeInto("/people/0/mass_kg", "92")
	if d, _ := p.stored("gate-shaft"); d.People[0].MassKg != 92 {
		t.Errorf("kept %v", d.People[0].MassKg)
	}
	p.gone("main [role=alert]")
	p.until(`!Object.keys(localStorage).some((k) => k.startsWith('draft:'))`)
}

// What is changed while an answer is on its way is kept after it, whatever it says: a refusal
// is of what stood before, and a server that can take nothing now is asked again. So too for a
// drop that is left. Who signs in next on the device sends nothing of it.
func TestChangedMeanwhile(t *testing.T) {
	house := serve(t)
	var out atomic.Bool
	site := house.site
	house.site = http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if out.Load() && r.Method == "PUT" {
			_, _ = io.Copy(io.Discard, r.Body)
			w.WriteHeader(401)
			return
		}
		site.ServeHTTP(w, r)
	})
	p := house.browse(t, "dov", "/drops/gate-shaft")
	const mass, path = "/people/0/mass_kg", "/api/v1/drops/gate-shaft"
	for i, status := range []int{422, 503, broken, 0} {
		p.stored("gate-shaft")
		late := p.hold("PUT", path, status)
		p.typeInto(mass, fmt.Sprint(90+2*i))
		late.wait(p)
		p.typeInto(mass, fmt.Sprint(91+2*i))
		close(late.release)
		if d, _ := p.stored("gate-shaft"); d.People[0].MassKg != quantity.Kilograms(91+2*i) {
			t.Errorf("after an answer of %d it is %v that is kept", status, d.People[0].MassKg)
		}
		p.gone("main [role=alert]")
	}
	busy := p.hold("PUT", path, 503)
	close(busy.release)
	p.typeInto(mass, "80")
	p.says("[data-busy]", "Not kept yet")
	p.says("[data-keeping]", "not yet kept: on this device")
	if d, _ := p.stored("gate-shaft"); d.People[0].MassKg != 80 {
		t.Errorf("kept %v", d.People[0].MassKg)
	}
	p.gone("[data-busy]")

	// A device without room says so, and the server has it all the same.
	p.do(chromedp.Evaluate(`window.put = Storage.prototype.setItem
		Storage.prototype.setItem = function (k, v) {
			if (k.startsWith('draft:')) throw new DOMException('full', 'QuotaExceededError')
			window.put.call(this, k, v)
		}`, nil))
	full := p.hold("PUT", path, 0)
	p.typeInto(mass, "79")
	full.wait(p)
	p.says("[data-full]", "NOT kept until the server has it")
	close(full.release)
	if d, _ := p.stored("gate-shaft"); d.People[0].MassKg != 79 {
		t.Errorf("kept %v", d.People[0].MassKg)
	}
	p.gone("[data-full]")
	p.do(chromedp.Evaluate(`Storage.prototype.setItem = window.put`, nil))

	left := p.hold("PUT", path, 0)
	p.typeInto(mass, "81")
	left.wait(p)
	p.typeInto(mass, "82")
	p.press("header a")
	p.button("Face 7")
	p.says("body", "Fetching the drop")
	close(left.release)
	p.says("header", "Face 7")
	now := func(want quantity.Kilograms) {
		t.Helper()
		if d, err := p.store.Drop(t.Context(), p.team.ID, "gate-shaft"); err != nil || d.Document.People[0].MassKg != want {
			t.Errorf("kept %v, want %v", d.Document.People[0].MassKg, want)
		}
	}
	p.until(`document.querySelector("[data-pointer='/people/0/mass_kg']")`)
	now(82)

	p.do(chromedp.Navigate(p.url + "/drops/gate-shaft"))
	p.says("[data-keeping]", "kept")
	out.Store(true)
	p.typeInto(mass, "83")
	p.says("[data-busy]", "could not take it")
	p.press("header [data-me]")
	p.press("[data-sign-out]")
	out.Store(false)
	p.do(chromedp.WaitVisible("[name=login]"), chromedp.SendKeys("[name=login]", "rhea"), chromedp.SendKeys("[name=password]", "marrowfell crest"), press("form button"))
	p.says("[data-me]", "Rhea")
	p.press("header a")
	p.button("Face 7")
	p.until(`document.querySelector("[data-pointer='/people/0/mass_kg']")`)
	p.press("header a")
	p.button("Gate shaft")
	p.says("[data-pointer='"+mass+"']", "82")
	now(82)
}

// A drop file is added as it says; one that is refused names the field, also where it says
// something twice, and adds nothing.
func TestDropFile(t *testing.T) {
	p := open(t, "/")
	p.until(`document.querySelector('input[type=file]')`)
	count := func() int {
		t.Helper()
		list, err := p.store.Drops(t.Context(), p.team.ID, 50)
		if err != nil {
			t.Fatal(err)
		}
		return len(list)
	}
	before := count()
	good, err := json.Marshal(demo.Drops()["gate-shaft"])
	if err != nil {
		t.Fatal(err)
	}
	file := func(text string) {
		t.Helper()
		path := filepath.Join(t.TempDir(), "drop.json")
		if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
		p.do(chromedp.SetUploadFiles("input[type=file]", []string{path}, chromedp.NodeReady))
	}
	for says, text := range map[string]string{
		"not JSON":           "A drop",
		"/name":              strings.Replace(string(good), `{"format"`, `{"name":"twice","format"`, 1),
		"/geometry/top_ft":   strings.Replace(string(good), `"top_m"`, `"top_ft"`, 1),
		"/people/0/mass_kg":  strings.Replace(string(good), `"mass_kg":81`, `"mass_kg":-81`, 1),
		"/strands/0/anchors": strings.Replace(string(good), `"anchors":["`, `"anchors":["no-`, 1),
	} {
		file(text)
		p.says("[role=alert]", says)
		p.do(chromedp.Reload(), chromedp.WaitReady("input[type=file]"))
	}
	if n := count(); n != before {
		t.Errorf("%d drops, were %d", n, before)
	}
	file(string(good))
	p.says("h1", demo.Drops()["gate-shaft"].Name)
	if n := count(); n != before+1 {
		t.Errorf("%d drops, were %d", n, before)
	}
}
