package browser_test

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/boombuler/barcode/qr"
	"github.com/chromedp/chromedp"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/store"
)

// The examiner's day on a phone without signal: everything that passes waits for the
// signature, survives a reload, and arrives once and in order; what fails is stopped at once,
// in another browser too.
func TestExaminersDay(t *testing.T) {
	p := open(t, "/examine")
	p.do(chromedp.EmulateViewport(390, 844))
	p.onDevice()
	p.until(`!!document.querySelector('[data-scan]') && ['/examinations/points', '/due'].every((u) => window.onDevice?.includes(u))`)
	desk := p.browse(t, "dov", "/store/item/descender-21")
	desk.until(`!!document.querySelector('[aria-label="Planned on"], h2')`)
	p.cut(true)
	var items []gear.Item
	for _, i := range p.gear().Items {
		if strings.HasPrefix(i.ID, "connector-") && i.State == gear.InService {
			items = append(items, i)
		}
	}
	items = items[:min(12, len(items))]
	for n, i := range items {
		// A hand scanner types the address on the label, of whatever host.
		p.scan("https://elsewhere.example/i/" + i.Code)
		p.until(fmt.Sprintf(`!!document.querySelector('[data-under=%q]')`, i.ID))
		if n == 1 {
			// Nothing is fit that was not looked at.
			p.gone(`[data-give="fit"]`)
			p.press(`[data-point="gate"] [data-result="observation"]`)
			p.typed(`[data-point="gate"] input`, "stiff, cleaned")
		}
		p.press(`[data-rest]`)
		p.press(map[bool]string{true: `[data-give="observation"]`, false: `[data-give="fit"]`}[n == 1])
		p.until(fmt.Sprintf(`!!document.querySelector('[data-looked=%q]')`, i.ID))
	}
	// One that nobody has, and one that is looked at again and left out.
	p.scan("0000000")
	p.says(`[data-said]`, "No item has the code 0000000")
	// Half done, the page goes and comes back.
	p.again()
	p.until(fmt.Sprintf(`document.querySelectorAll('[data-looked]').length === %d`, len(items)))
	p.pressed(fmt.Sprintf(`document.querySelector('[data-looked=%q] button[aria-label^="leave"]')`, items[2].ID))
	p.until(fmt.Sprintf(`document.querySelectorAll('[data-looked]').length === %d`, len(items)-1))
	// One fails: it is recorded there and then, before anything is signed.
	p.scan("descender 21")
	p.press(`[data-under="descender-21"] [data-point="body"] [data-result="fail"]`)
	p.gone(`[data-give="fit"]`)
	p.typed(`[data-kept]`, "red box")
	p.press(`[data-give="quarantine"]`)
	p.says(`[data-waiting]`, "1 not yet sent")
	p.press(`[data-sign]`)
	p.says(`[data-waiting]`, fmt.Sprintf("%d not yet sent", len(items)))
	p.cut(false)
	desk.says(`[data-stopped]`, "red box")
	p.until(`!document.querySelector('[data-waiting]') && [...document.querySelectorAll('a')].some((a) => a.textContent === 'report, PDF')`)
	// Once each, in the order in which they were given.
	var signed []string
	for _, i := range append(slices.Clone(items), gear.Item{ID: "descender-21"}) {
		lines := p.kindsOf(i.ID)
		n := slices.Index(lines, "examination")
		if i.ID == items[2].ID {
			if n >= 0 {
				t.Errorf("%s was left out, and is recorded", i.ID)
			}
			continue
		}
		if n < 0 || slices.Contains(lines[n+1:], "examination") {
			t.Errorf("%s: %v", i.ID, lines)
		}
		signed = append(signed, i.ID)
	}
	if len(signed) != len(items) {
		t.Errorf("%v", signed)
	}
}

// What is due is narrowed by what it is and where.
func TestDueIsNarrowed(t *testing.T) {
	p := serve(t)
	i := gear.Item{ID: "rope-99", Model: "rope-110", Serial: "R-99", Label: "rope 99", State: gear.InService, LengthM: 30, FirstUsedOn: "2025-01-01"}
	i.ExaminedOn = gear.Date(time.Now().AddDate(0, -5, 0).Format(time.DateOnly))
	if _, _, err := p.store.PutGear(t.Context(), p.team, somebody, &drop.Store{Items: []gear.Item{i}}, store.Put{}); err != nil {
		t.Fatal(err)
	}
	p = p.browse(t, "dov", "/examine")
	p.until(`document.querySelectorAll('[data-due]').length > 1 && !!document.querySelector('[data-only="class"]')`)
	p.selected(`[data-only="class"]`, "rope")
	p.until(`[...document.querySelectorAll('[data-due]')].every((e) => e.dataset.due.startsWith('rope-')) && !!document.querySelector('[data-due]')`)
	p.selected(`[data-only="class"]`, "")
	p.until(`!!document.querySelector('[data-due="connector-63"]')`)
}

// Whoever may not examine learns it before they look, not after.
func TestMayNotExamine(t *testing.T) {
	p := serve(t).browse(t, "rhea", "/examine?item=connector-63")
	p.says(`[data-may-not]`, "store keeper")
	p.gone(`[data-under]`)
}

// A name may be shaped like a code, and finds its thing all the same.
func TestNameShapedLikeACode(t *testing.T) {
	p := serve(t)
	i := gear.Item{ID: "many-100", Model: "connector-oval", Serial: "M-100", Label: "many 100", State: gear.InService, FirstUsedOn: "2026-06-01"}
	if _, _, err := p.store.PutGear(t.Context(), p.team, somebody, &drop.Store{Items: []gear.Item{i}}, store.Put{}); err != nil {
		t.Fatal(err)
	}
	p = p.browse(t, "dov", "/examine")
	p.until(`!!document.querySelector('[data-scan]')`)
	p.scan("many 101")
	p.says(`[data-said]`, "misread")
	p.scan("Many 100")
	p.until(`!!document.querySelector('[data-under="many-100"]')`)
}

// kindsOf gives the kinds of the records of an item, last first.
func (p *page) kindsOf(item string) (kinds []string) {
	p.Helper()
	p.do(chromedp.Evaluate(fmt.Sprintf(`fetch('/api/v1/records?item=%s').then((r) => r.json()).then((b) => b.records.map((r) => r.says.kind))`, item), &kinds, waits))
	return kinds
}

// scan types as a hand scanner does: all of it, then Enter.
func (p *page) scan(text string) {
	p.Helper()
	p.until(fmt.Sprintf(`(() => {
		const i = document.querySelector('[data-scan]')
		if (!i) return false
		i.value = %q
		i.dispatchEvent(new Event('input', { bubbles: true }))
		i.form.requestSubmit()
		return true
	})()`, text))
}

// typed types into what a selector names.
func (p *page) typed(selector, text string) {
	p.Helper()
	p.do(chromedp.WaitVisible(selector, chromedp.ByQuery), chromedp.SendKeys(selector, text, chromedp.ByQuery))
}

// The camera reads a real picture of a label, and nothing is fetched from elsewhere; without a
// camera the code is typed.
func TestScan(t *testing.T) {
	p := serve(t)
	item := p.gear().Items[3]
	file := filepath.Join(t.TempDir(), "label.y4m")
	if err := os.WriteFile(file, film(t, "https://knots.example.org/i/"+item.Code), 0o600); err != nil {
		t.Fatal(err)
	}
	b := p.browse(t, "dov", "/store", chromedp.Flag("use-fake-ui-for-media-stream", true), chromedp.Flag("use-fake-device-for-media-stream", true), chromedp.Flag("use-file-for-fake-video-capture", file))
	b.until(`!!document.querySelector('[data-examine]')`)
	b.do(chromedp.KeyEvent("/"))
	b.press(`[data-camera]`)
	b.until(fmt.Sprintf(`location.pathname === '/store/item/%s'`, item.ID))
	if b.mu.Lock(); len(b.outside) > 0 {
		t.Errorf("asked for elsewhere: %v", b.outside)
	}
	b.mu.Unlock()
	none := p.browse(t, "dov", "/examine")
	none.press(`[data-camera]`)
	none.says(`[data-camera-scan]`, "type the code")
}

// film is a QR code before a camera, as raw pictures (YUV4MPEG2, 4:2:0).
func film(t *testing.T, text string) []byte {
	t.Helper()
	code, err := qr.Encode(text, qr.M, qr.Auto)
	if err != nil {
		t.Fatal(err)
	}
	const wide, high, unit = 640, 480, 8
	luma := bytes.Repeat([]byte{235}, wide*high)
	n := code.Bounds().Dx()
	left, top := (wide-n*unit)/2, (high-n*unit)/2
	for y := range n * unit {
		for x := range n * unit {
			if r, _, _, _ := code.At(x/unit, y/unit).RGBA(); r < 0x8000 {
				luma[(top+y)*wide+left+x] = 16
			}
		}
	}
	var b bytes.Buffer
	fmt.Fprintf(&b, "YUV4MPEG2 W%d H%d F10:1 Ip A1:1 C420jpeg\n", wide, high)
	for range 5 {
		b.WriteString("FRAME\n")
		b.Write(luma)
		b.Write(bytes.Repeat([]byte{128}, wide*high/2))
	}
	return b.Bytes()
}

// What is due shows what it blocks; its calendar's address is shown once and shut for good.
func TestDueBoard(t *testing.T) {
	p := open(t, "/due")
	p.until(`!!document.querySelector('[data-group="Within 30 days"] [data-due="connector-63"]')`)
	p.press(`[data-add-feed]`)
	p.until(`!!document.querySelector('[data-secret]')`)
	var address string
	p.do(chromedp.Text(`[data-secret] code`, &address))
	read := func() (status int) {
		p.do(chromedp.Evaluate(fmt.Sprintf(`fetch(%q, { credentials: 'omit' }).then((r) => r.status)`, strings.TrimSpace(address)), &status, waits))
		return status
	}
	if status := read(); status != 200 {
		t.Fatalf("the calendar at its address: %d", status)
	}
	p.pressed(`document.querySelector('[data-feed] button')`)
	p.gone(`[data-feed]`)
	if status := read(); status != 404 {
		t.Errorf("the calendar at an address that was shut: %d", status)
	}
}

// A recall shows what it is about before it is signed, stops it in another browser, and is
// acknowledged once.
func TestRecall(t *testing.T) {
	p := open(t, "/store/recalls")
	p.press(`[data-recall]`)
	item := p.gear().Items[slices.IndexFunc(p.gear().Items, func(i gear.Item) bool { return i.ID == "connector-63" })]
	desk := p.browse(t, "rhea", "/store/item/connector-63")
	desk.until(`!!document.querySelector('h1')`)
	p.do(chromedp.SetValue(`[data-model]`, item.Model, chromedp.ByQuery), chromedp.SetValue(`[data-asks]`, "inspect", chromedp.ByQuery))
	p.typed(`[data-serials]`, item.Serial)
	p.says(`[data-affected]`, "It is about 1 in the store")
	p.until(`document.querySelector('[data-sign]').disabled`)
	p.typed(`[data-source]`, "maker, notice 4")
	p.press(`[data-sign]`)
	p.says(`[data-notice]`, "■ in quarantine")
	desk.says(`[data-stopped]`, "inspect before use: maker, notice 4")
	p.press(`[data-acknowledge]`)
	p.says(`[data-read]`, "Dov Pellister")
	p.gone(`[data-acknowledge]`)

	// What comes into the store after it is stopped too, which is said before it is saved.
	p.do(chromedp.Navigate(p.url+"/store"), press("[data-add-items]"))
	p.fill("/items/0/model", item.Model)
	p.typed(`[data-pasted]`, item.Serial+"/B")
	p.press("[data-save]")
	p.says("[data-recalled]", "goes into quarantine at once. recall: inspect before use: maker, notice 4")
	if all := p.gear().Items; slices.ContainsFunc(all, func(i gear.Item) bool { return i.Serial == item.Serial+"/B" }) {
		t.Error("saved before it was said what follows")
	}
	p.press("[data-save]")
	p.until(`location.pathname === '/store'`)
	all := p.gear().Items
	if i := slices.IndexFunc(all, func(i gear.Item) bool { return i.Serial == item.Serial+"/B" }); i < 0 || all[i].State != gear.Quarantine {
		t.Errorf("what came later: %d", i)
	}
	p.do(chromedp.Navigate(p.url + "/store/recalls"))
	p.says(`[data-notice]`, "came later")
}

// What lies on a rope is noted by metre and drawn; cut, the rope is shorter and the other part
// has what lay on it.
func TestRopeMap(t *testing.T) {
	p := open(t, "/store/item/rope-3")
	p.press(`[data-note-rope]`)
	p.typed(`[data-from]`, "12")
	p.press(`[data-sign-note]`)
	p.until(`!!document.querySelector('[data-noted="damage"]') && !!document.querySelector('path[data-at="12"]')`)
	p.press(`[data-cut-rope]`)
	p.typed(`[data-at-m]`, "999")
	p.until(`document.querySelector('[data-sign-cut]').disabled`)
	p.do(chromedp.Evaluate(`(() => { const i = document.querySelector('[data-at-m]'); i.value = ''; i.dispatchEvent(new Event('input')) })()`, nil))
	p.typed(`[data-at-m]`, "10")
	p.typed(`[data-part-label]`, "rope 3 b")
	p.says(`[data-becomes]`, "Plans that count on it go back to draft")
	p.press(`[data-sign-cut]`)
	p.gone(`[data-noted]`)
	p.says(`dl`, "10 m")
	items := p.gear().Items
	part := items[slices.IndexFunc(items, func(i gear.Item) bool { return i.Label == "rope 3 b" })]
	p.do(chromedp.Navigate(p.url + "/store/item/" + part.ID))
	p.until(`!!document.querySelector('path[data-at="2"]')`)
}

// BenchmarkExamineSession examines 200 items in one session without a connection: how long each
// step takes to its frame, and the signature of all of them.
func BenchmarkExamineSession(b *testing.B) {
	p := serve(b)
	all := &drop.Store{}
	for n := range 200 {
		all.Items = append(all.Items, gear.Item{
			ID: fmt.Sprintf("many-%d", n), Model: "connector-oval", Serial: fmt.Sprintf("M-%d", n), Label: fmt.Sprintf("many %d", n), State: gear.InService,
			MadeOn: "2024-01-01", FirstUsedOn: "2024-02-01", ExaminedOn: "2026-06-01",
		})
	}
	if _, _, err := p.store.PutGear(b.Context(), p.team, somebody, all, store.Put{}); err != nil {
		b.Fatal(err)
	}
	p = p.browse(b, "dov", "/examine")
	p.do(chromedp.EmulateViewport(390, 844))
	p.onDevice()
	p.until(`!!document.querySelector('[data-scan]') && ['/examinations/points', '/due'].every((u) => window.onDevice?.includes(u))`)
	var steps, signed []float64
	for range b.N {
		p.cut(true)
		var ms []float64
		p.do(chromedp.Evaluate(`(async () => {
			const frame = () => new Promise((done) => requestAnimationFrame(() => setTimeout(done)))
			const took = []
			const step = async (f) => {
				const a = performance.now()
				f()
				await frame()
				took.push(performance.now() - a)
			}
			const press = (what) => step(() => document.querySelector(what).click())
			for (let n = 0; n < 200; n++) {
				await step(() => {
					const i = document.querySelector('[data-scan]')
					i.value = 'many ' + n
					i.dispatchEvent(new Event('input', { bubbles: true }))
					i.form.requestSubmit()
				})
				await press('[data-rest]')
				await press('[data-give="fit"]')
			}
			await press('[data-sign]')
			return took
		})()`, &ms, waits))
		signed, steps = append(signed, ms[len(ms)-1]), append(steps, ms[:len(ms)-1]...)
		p.cut(false)
		p.until(`!Object.keys(localStorage).some((k) => k.startsWith('outbox:'))`)
		p.press(`[data-begin]`)
	}
	slices.Sort(steps)
	b.ReportMetric(steps[len(steps)/2], "median-ms")
	b.ReportMetric(steps[len(steps)-1], "longest-ms")
	b.ReportMetric(slices.Max(signed), "sign-ms")
}
