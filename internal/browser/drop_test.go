package browser_test

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/log"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/cdproto/target"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"zealousknot/internal/browser"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/promise"
	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

func TestMain(m *testing.M) {
	slog.SetDefault(slog.New(slog.NewTextHandler(io.Discard, nil)))
	pgtest.Main(m, func() { stopChromium() })
}

// page is the real interface in a real browser, with the store behind it.
type page struct {
	testing.TB
	ctx   context.Context
	url   string
	store *store.Store
	team  store.Team
	site  http.Handler

	// down makes the server break off every connection; connections are those that
	// there are.
	down        atomic.Bool
	connections sync.Map
	// installs: the program is put onto the device, as onDevice asks. It takes Chromium as long as
	// all else that most tests do.
	installs atomic.Bool
	// holding is an answer that is held up.
	holding atomic.Pointer[held]

	// fails: the test makes the page fail, which is noted only.
	fails    atomic.Bool
	mu       sync.Mutex
	outside  []string
	messages []string
}

// serve starts the site of the demo. Tests wait for browsers more than they compute, so
// that they run beside each other.
func serve(t testing.TB) *page {
	t.Helper()
	if t, ok := t.(*testing.T); ok {
		t.Parallel()
	}
	return instance(t)
}

// instance is a site with a database of its own.
func instance(t testing.TB) *page {
	t.Helper()
	s := pgtest.Store(t)
	s.Today = func(store.Team) gear.Date { return demo.Day }
	team, _, err := scenario.Load(context.Background(), s, demo.Day)
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(context.Background())
	p := &page{TB: t, store: s, team: team, site: web.Handler(ctx, &web.Config{Store: s, Version: "test", PublicURL: "http://127.0.0.1", Demo: true, DemoAccounts: scenario.Accounts()})}
	// Streams of changes end first.
	t.Cleanup(stop)
	return p
}

// open opens the site at a path, with the demo's supervisor signed in.
func open(t testing.TB, path string) *page {
	t.Helper()
	return serve(t).browse(t, "dov", path)
}

// browse opens a browser of its own, on a line of its own, with somebody signed in;
// nobody for "".
func (p *page) browse(t testing.TB, login, path string, options ...chromedp.ExecAllocatorOption) *page {
	t.Helper()
	ctx := profile(t, options...)
	b := &page{TB: t, ctx: ctx, store: p.store, team: p.team, site: p.site}
	server := httptest.NewUnstartedServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if b.down.Load() {
			panic(http.ErrAbortHandler)
		}
		if r.URL.Path == "/sw.js" && !b.installs.Load() {
			http.NotFound(w, r)
			return
		}
		b.holds(promised(t, b.site)).ServeHTTP(w, r)
	}))
	// What goes on is broken off too, when the connection is cut.
	server.Config.ConnState = func(c net.Conn, s http.ConnState) { b.connections.Store(c, s != http.StateClosed) }
	server.Start()
	t.Cleanup(func() { server.CloseClientConnections(); server.Close() })
	b.url = server.URL
	chromedp.ListenTarget(ctx, b.listen)
	b.do(network.Enable(), log.Enable(), runtime.Enable(), chromedp.EmulateViewport(1280, 800))
	if login != "" {
		cookie := signIn(t, b.site, login)
		b.do(network.SetCookie(cookie.Name, cookie.Value).WithURL(b.url + cookie.Path).WithHTTPOnly(true))
	}
	b.do(chromedp.Navigate(b.url + path))
	return b
}

var (
	// chromium is the one that tests share; stopChromium ends it, where it was started.
	chromium = sync.OnceValues(func() (context.Context, error) {
		ctx, done, err := browser.Start(context.Background(), time.Hour)
		if err == nil {
			stopChromium = done
		}
		return ctx, err
	})
	stopChromium = func() {}
)

// profile is a browser with nothing kept in it: one of the Chromium that tests share, or where
// there are options a Chromium of its own. To its page it has the focus, whatever others do.
func profile(t testing.TB, options ...chromedp.ExecAllocatorOption) context.Context {
	t.Helper()
	if len(options) > 0 {
		ctx, done, err := browser.Start(context.Background(), 20*time.Minute, options...)
		if err != nil {
			t.Fatal(err)
		}
		t.Cleanup(done)
		return ctx
	}
	shared, err := chromium()
	if err != nil {
		t.Fatal(err)
	}
	on := cdp.WithExecutor(shared, chromedp.FromContext(shared).Browser)
	own, err := target.CreateBrowserContext().Do(on)
	if err != nil {
		t.Fatal(err)
	}
	id, err := target.CreateTarget("about:blank").WithBrowserContextID(own).WithNewWindow(true).Do(on)
	if err != nil {
		t.Fatal(err)
	}
	ctx, done := chromedp.NewContext(shared, chromedp.WithTargetID(id))
	t.Cleanup(func() {
		done()
		if err := target.DisposeBrowserContext(own).Do(on); err != nil {
			t.Error(err)
		}
	})
	if err := chromedp.Run(ctx, emulation.SetFocusEmulationEnabled(true)); err != nil {
		t.Fatal(err)
	}
	return ctx
}

// promised holds what a site answers against the contract.
func promised(t testing.TB, site http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		said := &saying{ResponseWriter: w}
		site.ServeHTTP(said, r)
		if said.status == http.StatusBadGateway {
			return // what a proxy says that stands before the site
		}
		if broken := promise.Broken(r.Method, r.URL.Path, said.status, w.Header().Get("Content-Type"), said.text.Bytes()); broken != "" {
			t.Error(broken)
		}
	})
}

// saying keeps what is answered.
type saying struct {
	http.ResponseWriter
	status int
	text   bytes.Buffer
}

func (s *saying) WriteHeader(status int) {
	s.status = status
	s.ResponseWriter.WriteHeader(status)
}

func (s *saying) Write(text []byte) (int, error) {
	if s.status == 0 {
		s.status = http.StatusOK
	}
	s.text.Write(text)
	return s.ResponseWriter.Write(text)
}

func (s *saying) Unwrap() http.ResponseWriter { return s.ResponseWriter }

func (s *saying) Flush() { s.ResponseWriter.(http.Flusher).Flush() }

func signIn(t testing.TB, site http.Handler, login string) *http.Cookie {
	t.Helper()
	w := httptest.NewRecorder()
	r := httptest.NewRequest("POST", "/api/v1/session", strings.NewReader(`{"login":"`+login+`","password":"`+demo.Password+`"}`))
	site.ServeHTTP(w, r)
	i := slices.IndexFunc(w.Result().Cookies(), func(c *http.Cookie) bool { return c.Name == "zealousknot" })
	if i < 0 {
		t.Fatal(w.Code, w.Body)
	}
	return w.Result().Cookies()[i]
}

// listen notes every request that leaves the site and every complaint.
func (p *page) listen(event any) {
	p.mu.Lock()
	defer p.mu.Unlock()
	switch e := event.(type) {
	case *network.EventRequestWillBeSent:
		if !strings.HasPrefix(e.Request.URL, p.url) && !strings.HasPrefix(e.Request.URL, "data:") {
			p.outside = append(p.outside, e.Request.URL)
		}
	case *log.EventEntryAdded:
		withheld := !p.installs.Load() && strings.HasSuffix(e.Entry.Text, "when fetching the script.")
		if e.Entry.Level == log.LevelError && !strings.Contains(e.Entry.Text, "412") && !withheld {
			p.messages = append(p.messages, e.Entry.Text)
		}
	case *runtime.EventExceptionThrown:
		p.complains(e.ExceptionDetails.Error())
	case *runtime.EventConsoleAPICalled:
		// What fails while a page is drawn is caught and written here.
		if e.Type == runtime.APITypeError {
			for _, a := range e.Args {
				p.complains(fmt.Sprint(a.Description, a.Value))
			}
		}
	}
}

// complains notes what fails in the page's script, and fails the test unless the test did it.
func (p *page) complains(of string) {
	p.messages = append(p.messages, of)
	if !p.fails.Load() {
		p.Errorf("the page's script fails: %s", of)
	}
}

func (p *page) do(actions ...chromedp.Action) {
	p.Helper()
	if err := chromedp.Run(p.ctx, actions...); err != nil {
		var text string
		_ = chromedp.Run(p.ctx, chromedp.Text("body", &text))
		p.Fatalf("%v\nthe page says:\n%s", err, text)
	}
}

// until waits for an expression to be true in the page.
func (p *page) until(expression string) {
	p.Helper()
	p.do(until(expression))
}

func until(expression string) chromedp.Action {
	poll := chromedp.Poll(expression, nil, chromedp.WithPollingTimeout(90*time.Second))
	return chromedp.ActionFunc(func(ctx context.Context) error {
		for {
			// A page that is being left takes the poll with it; ask the new one.
			if err := poll.Do(ctx); err == nil || !strings.Contains(err.Error(), "context") && !strings.Contains(err.Error(), "navigated") || ctx.Err() != nil {
				return err
			}
		}
	})
}

// press presses what a selector names.
func press(selector string) chromedp.Action {
	return until(pressing(fmt.Sprintf(`document.querySelector(%q)`, selector)))
}

// pressing is an expression that presses an element once a finger would meet it: looking and
// pressing are one act, as what arrives between the two moves the page.
func pressing(element string) string {
	return fmt.Sprintf(`(() => {
		const e = %s
		if (!e || e.disabled || e.closest('[inert]')) return false
		e.scrollIntoView({ block: 'center', inline: 'center', behavior: 'instant' })
		const [box] = e.getClientRects()
		const met = box && document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2)
		if (!met || !e.contains(met) && !met.contains(e)) return false
		e.dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true, view: window }))
		return true
	})()`, element)
}

// says waits until an element says something.
func (p *page) says(selector, text string) {
	p.Helper()
	p.until(fmt.Sprintf(`document.querySelector(%q)?.innerText.includes(%q)`, selector, text))
}

func (p *page) gone(selector string) {
	p.Helper()
	p.until(fmt.Sprintf(`!document.querySelector(%q)`, selector))
}

// button presses the first button or link with these words that can be pressed.
func (p *page) button(words string) {
	p.Helper()
	p.pressed(fmt.Sprintf(`[...document.querySelectorAll('button, a')].find((e) => e.textContent.replace(/\s+/g, ' ').includes(%q) && e.getClientRects().length)`, words))
}

// press presses what a selector names.
func (p *page) press(selector string) {
	p.Helper()
	p.do(press(selector))
}

// pressed presses an element as soon as it is there and can be pressed, where it is by then.
func (p *page) pressed(element string) {
	p.Helper()
	p.until(pressing(element))
}

// choose takes one of a few words where they are read.
func (p *page) choose(label, words string) {
	p.Helper()
	p.press(`[aria-label^="` + label + `:"]`)
	p.pressed(fmt.Sprintf(`[...document.querySelectorAll('[role=option]')].find((e) => e.textContent.includes(%q))`, words))
}

// prove does a whole check whose proofs all do what they must.
func (p *page) prove(check string, proofs int) {
	p.Helper()
	p.press(fmt.Sprintf(`[data-check=%q]`, check))
	for i := range proofs {
		p.says("main", fmt.Sprintf("proof %d of %d", i+1, proofs))
		p.press("[data-did]")
	}
	p.until(fmt.Sprintf(`document.querySelector('[data-check=%q]')?.dataset.state === 'passed'`, check))
}

// kept waits until the server has everything, and gives the drop it has.
func (p *page) kept() *drop.Document {
	p.Helper()
	p.until(`document.querySelector('[data-keeping]')?.innerText === 'kept'`)
	d, err := p.store.Drop(context.Background(), p.team.ID, "face-4")
	if err == nil {
		err = p.store.Present(context.Background(), p.team, d)
	}
	if err != nil {
		p.Fatal(err)
	}
	return d.Document
}

// typeInto types a figure where it is read.
func (p *page) typeInto(pointer, figure string) {
	p.Helper()
	at := fmt.Sprintf(`[data-pointer=%q]`, pointer)
	p.do(chromedp.Focus(at+" button"), chromedp.KeyEvent(kb.Enter))
	// What was there is selected, so that typing replaces it.
	p.until(fmt.Sprintf(`document.activeElement === document.querySelector(%q) && getSelection().toString() !== ''`, at+" input"))
	p.do(chromedp.KeyEvent(figure + kb.Enter))
}

// typeAt types a figure by what it is called.
func (p *page) typeAt(label, figure string) {
	p.Helper()
	at := fmt.Sprintf(`[aria-label^=%q]`, label)
	p.do(chromedp.Focus(at), chromedp.KeyEvent(kb.Enter))
	p.until(`document.activeElement.tagName === 'INPUT' && getSelection().toString() !== ''`)
	p.do(chromedp.KeyEvent(figure + kb.Enter))
}

// cut cuts the connection to the server, for the page and its service worker, or
// joins it again.
func (p *page) cut(offline bool) {
	p.down.Store(offline)
	p.connections.Range(func(c, open any) bool {
		if offline && open.(bool) {
			_ = c.(net.Conn).Close()
		}
		return true
	})
}

// The whole job: open the demo, see the planted fault, mend it, see it gone,
// reload, find it mended; with nothing loaded from elsewhere and no complaint.
func TestMendThePlantedFault(t *testing.T) {
	p := open(t, "/")
	p.button("Face 4")
	p.says("[data-found]", "1 stop")
	p.do(chromedp.KeyEvent("2"))
	p.says("[data-rule='rope.diameter']", "11.4 mm")
	p.button("why, figures")
	p.says("[data-rule='rope.diameter']", "Limit from: manufacturer's instructions")
	p.press("[data-bead='descender-14']")
	p.says("[data-count]", "2 of 7")
	p.do(press("[data-choice='descender-14'] input"), press("[data-choice='descender-22'] input"))
	p.says("[aria-label=Comparison]", "for two persons, ropes")
	p.press("[data-choice='descender-21'] button")
	p.gone("[data-rule='rope.diameter']")
	// Another device was chosen, so its function check is not recorded yet.
	p.says("[data-rule='service.function-check']", "No function check of descender 21")
	p.button("Do its function check")
	p.prove("descender-21", 6)
	p.says("[data-found]", "no stop")
	p.do(chromedp.KeyEvent("2"))
	// Of many one is found by its letters.
	p.do(chromedp.KeyEvent("1"))
	p.press("[data-rope='rope-3']")
	p.says("[data-count]", "in the store fit this place")
	p.typed("[data-find-choice]", "rope 17")
	p.says("[data-count]", "1 of 1 with these letters")
	p.until(`document.activeElement.matches('[data-find-choice]')`)
	p.says("[data-choice='rope-17']", "on Face 7 that day")
	p.button("Close")
	p.do(chromedp.KeyEvent("2"))
	if d := p.kept(); d.People[0].Holds[0].Device != "descender-21" || d.People[0].Holds[0].Mode != "rescue" {
		t.Errorf("kept: %+v", d.People[0].Holds[0])
	}
	p.do(chromedp.Reload(), chromedp.WaitVisible("[data-bead='descender-21']"))
	p.says("[data-found]", "no stop")
	p.gone("[data-rule='rope.diameter']")

	p.mu.Lock()
	defer p.mu.Unlock()
	if len(p.outside) > 0 || len(p.messages) > 0 {
		t.Errorf("loaded from elsewhere: %v; complaints: %v", p.outside, p.messages)
	}
}

// Values are edited where they are read, by typing and by key; the rail moves;
// what cannot be is refused beside it; undo brings back what was.
func TestEditInPlace(t *testing.T) {
	p := open(t, "/drops/face-4")
	p.says("[data-found]", "1 stop")
	const person = `document.querySelector('[role=slider] circle').cy.baseVal.value`
	var before, after float64
	p.do(chromedp.Evaluate(person, &before))
	p.typeInto("/people/0/at_m", "80,5")
	if d := p.kept(); d.People[0].AtM != 80.5 {
		t.Errorf("kept at %v", d.People[0].AtM)
	}
	if p.do(chromedp.Evaluate(person, &after)); after >= before {
		t.Errorf("the person on the rail went from %v to %v", before, after)
	}
	p.do(chromedp.Focus("[role=slider]"), chromedp.KeyEvent(kb.ArrowDown))
	if d := p.kept(); d.People[0].AtM != 80 {
		t.Errorf("by key to %v", d.People[0].AtM)
	}
	p.typeInto("/strands/0/marks/0/height_m", "97")
	p.says("[data-pointer='/strands/0/marks/0/height_m']", "above the anchor")
	p.says("main [role=alert]", "This cannot be")
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil), chromedp.KeyEvent("u"))
	p.until(`!document.body.innerText.includes('This cannot be')`)
	if d := p.kept(); d.Strands[0].Marks[0].HeightM != 52 {
		t.Errorf("kept what was refused: %v", d.Strands[0].Marks[0].HeightM)
	}
	// What is as on nearly every rig recedes, anything else stands out; in short, each value has
	// its name and no sentence.
	p.do(chromedp.KeyEvent("2"))
	p.gone(".unusual")
	p.choose("How the rope lies", "the wrong way round")
	p.says(".unusual", "the wrong way round")
	p.gone(".short")
	p.press("[data-short]")
	p.until(`[...document.querySelectorAll('.short .caption')].some((e) => e.innerText === 'How the rope lies') && getComputedStyle(document.querySelector('.said')).display === 'none'`)
}

// Without a connection edits stay on the device, survive there, and are sent
// when there is one; what somebody else wrote meanwhile is never overwritten
// unasked.
func TestLostConnectionAndConflict(t *testing.T) {
	p := open(t, "/drops/face-4")
	p.says("[data-found]", "1 stop")
	const holdTimers = `{ window.held = []; window.wait = setTimeout; window.setTimeout = (f, ms, ...a) => (ms === 500 ? held.push(f) : wait(f, ms, ...a)) }`
	p.do(chromedp.Evaluate(holdTimers, nil))
	p.cut(true)
	p.typeInto("/people/0/mass_kg", "91")
	p.says("[data-keeping]", "no connection")
	p.until(`Object.entries(localStorage).some(([k, v]) => k.startsWith('draft:') && v.includes('"mass_kg":91'))`)
	p.cut(false)
	if d := p.kept(); d.People[0].MassKg != 91 {
		t.Errorf("kept %v", d.People[0].MassKg)
	}

	// What somebody else saves shows at once where nothing was changed meanwhile.
	ctx := context.Background()
	save := func(mass quantity.Kilograms) {
		now, err := p.store.Drop(ctx, p.team.ID, "face-4")
		if err != nil {
			t.Fatal(err)
		}
		now.Document.People[0].MassKg = mass
		if _, err := p.store.SaveDrop(ctx, p.team, &record.Signer{Name: "Somebody"}, "face-4", now.Version, now.Document); err != nil {
			t.Fatal(err)
		}
	}
	// Also where the timer that keeps goes off only after all was kept.
	p.cut(true)
	save(79)
	p.do(chromedp.Evaluate(`held.forEach((f) => f())`, nil), chromedp.Evaluate(`window.setTimeout = wait`, nil))
	p.cut(false)
	p.says("[data-pointer='/people/0/mass_kg']", "79")
	p.cut(true)
	p.typeInto("/people/0/at_m", "70")
	p.says("[data-keeping]", "no connection")
	save(77)
	p.cut(false)
	p.says("main [role=alert]", "Somebody else changed this drop")
	if now, _ := p.store.Drop(ctx, p.team.ID, "face-4"); now.Document.People[0].MassKg != 77 {
		t.Error("overwritten unasked")
	}
	p.do(chromedp.Reload())
	p.says("main [role=alert]", "Somebody else changed this drop")
	p.button("Take theirs")
	p.says("[data-pointer='/people/0/mass_kg']", "77")
	if d := p.kept(); d.People[0].MassKg != 77 || d.People[0].AtM == 70 {
		t.Errorf("kept %v at %v", d.People[0].MassKg, d.People[0].AtM)
	}
}
