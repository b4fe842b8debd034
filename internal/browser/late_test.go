package browser_test

import (
	"fmt"
	"maps"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/record"
)

// held is an answer that is on its way for as long as the test wants: it was given, and
// the page does not have it.
type held struct {
	method, path string
	// status is answered instead of what the site says, where it is not 0; broken: nothing is.
	status  int
	text    string
	given   chan struct{}
	release chan struct{}
}

// broken is a line that breaks.
const broken = -1

// hold holds the next answer to a method and a path.
func (p *page) hold(method, path string, status int) *held {
	h := &held{method: method, path: path, status: status, given: make(chan struct{}), release: make(chan struct{})}
	p.holding.Store(h)
	return h
}

// wait waits until the answer was given.
func (h *held) wait(p *page) {
	p.Helper()
	select {
	case <-h.given:
	case <-p.ctx.Done():
		p.Fatalf("nobody asks %s %s", h.method, h.path)
	}
}

// holds stands before a site.
func (p *page) holds(site http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := p.holding.Load()
		if h == nil || r.Method != h.method || r.URL.Path != h.path || !p.holding.CompareAndSwap(h, nil) {
			site.ServeHTTP(w, r)
			return
		}
		answer := httptest.NewRecorder()
		switch h.status {
		case 0:
			site.ServeHTTP(answer, r)
		case broken:
		default:
			answer.Header().Set("Content-Type", "application/json")
			answer.WriteHeader(h.status)
			answer.WriteString(h.text)
		}
		close(h.given)
		select {
		case <-h.release:
		case <-r.Context().Done():
			return
		}
		if h.status == broken {
			panic(http.ErrAbortHandler) // the line breaks without an answer
		}
		maps.Copy(w.Header(), answer.Header())
		w.WriteHeader(answer.Code)
		_, _ = w.Write(answer.Body.Bytes())
	})
}

// came gives how many answers from a path the page has.
func (p *page) came(path string) (n int) {
	p.Helper()
	p.do(chromedp.Evaluate(fmt.Sprintf(`performance.getEntriesByType('resource').filter((e) => new URL(e.name).pathname === %q).length`, path), &n))
	return n
}

// comes waits until the page has more answers from a path than it had.
func (p *page) comes(path string, had int) {
	p.Helper()
	p.until(fmt.Sprintf(`performance.getEntriesByType('resource').filter((e) => new URL(e.name).pathname === %q).length > %d`, path, had))
}

// changed changes a drop in the store, as somebody else.
func (p *page) changed(id string, change func(*drop.Document)) {
	p.Helper()
	now, err := p.store.Drop(p.ctx, p.team.ID, id)
	if err == nil {
		change(now.Document)
		_, err = p.store.SaveDrop(p.ctx, p.team, &record.Signer{Name: "Somebody"}, id, now.Version, now.Document)
	}
	if err != nil {
		p.Fatal(err)
	}
}

// An answer that was overtaken is let go: a check that was recorded meanwhile stays
// recorded, a drop that was left does not stand in the place of the next, and what was
// said of rescues is of the drop as it is, or is not known.
func TestLateAnswers(t *testing.T) {
	p := open(t, "/drops/face-4/checks")
	const face4, face7, rescue = "/api/v1/drops/face-4", "/api/v1/drops/face-7", "/api/v1/rescue"
	p.state("rope-4", "not-done")
	// The server does not answer in time, and the device gives what it had.
	p.onDevice()
	late := p.hold("GET", face4, 0)
	p.changed("face-4", func(d *drop.Document) { d.People[0].MassKg = 77 })
	late.wait(p)
	p.prove("rope-4", 4)
	p.gone("[data-waiting]")
	p.says("[data-behind]", "no answer: as of ")
	p.do(chromedp.KeyEvent("1"))
	p.says(`[data-pointer='/people/0/mass_kg']`, "88")
	p.do(chromedp.KeyEvent("3"))
	p.state("rope-4", "passed")
	close(late.release)
	p.do(chromedp.KeyEvent("1"))
	p.says(`[data-pointer='/people/0/mass_kg']`, "77")
	p.gone("[data-behind]")
	p.do(chromedp.KeyEvent("3"))
	p.state("rope-4", "passed")

	p.do(chromedp.Navigate(p.url + "/"))
	late = p.hold("GET", face7, 0)
	p.button("Face 7")
	late.wait(p)
	p.press("header a")
	p.button("Face 4")
	p.says("header", "Face 4")
	had := p.came(face7)
	close(late.release)
	p.comes(face7, had)
	p.typeInto("/people/0/mass_kg", "78")
	if d := p.kept(); d.Name != "Face 4" || d.People[0].MassKg != 78 {
		t.Errorf("kept %s with %v kg as Face 4", d.Name, d.People[0].MassKg)
	}

	p.do(chromedp.Navigate(p.url + "/drops/face-7/rescue"))
	p.says("[data-cover]", "1 metre is reached by nobody")
	// What is shown for one height is not taken for what is done at another.
	p.until(`!document.querySelector('[data-not-there]')`)
	for _, status := range []int{http.StatusServiceUnavailable, 0} {
		late = p.hold("POST", rescue, status)
		p.do(chromedp.Focus("[data-strip]"), chromedp.KeyEvent(kb.PageDown))
		late.wait(p)
		p.says("[data-not-there]", "Looking at this height")
		p.until(`document.querySelector('[data-ways]').closest('[inert]') !== null`)
		close(late.release)
		if status != 0 {
			p.says("[data-not-there]", "it was not answered")
			p.until(`!document.querySelector('[data-ways]').checkVisibility()`)
		}
	}
	p.gone("[data-not-there]")
	p.until(`document.querySelector('[data-ways]').checkVisibility() && !document.querySelector('[data-ways]').closest('[inert]')`)
	p.press("header a")
	p.button("Gate shaft")
	p.says("header", "Gate shaft")
	p.do(chromedp.KeyEvent("6"))
	p.says("main", "No rescuer is assigned")
	late = p.hold("POST", rescue, http.StatusServiceUnavailable)
	p.press("[data-begin]")
	late.wait(p)
	p.says("[data-cover]", "Looking at every metre")
	p.gone("[data-strip]")
	close(late.release)
	p.says("[data-cover]", "It is not known who is reached")
}

// What changed before the first line for changes stood is seen once it stands, also where the
// first one broke before it was answered.
func TestFirstLineBreaks(t *testing.T) {
	p := open(t, "/")
	p.says("main", "Face 4")
	late := p.hold("GET", "/api/v1/changes", broken)
	p.do(chromedp.Navigate(p.url + "/drops/face-4"))
	late.wait(p)
	p.says(`[data-pointer='/people/0/mass_kg']`, "88")
	p.changed("face-4", func(d *drop.Document) { d.People[0].MassKg = 66 })
	close(late.release)
	p.says(`[data-pointer='/people/0/mass_kg']`, "66")
}
