package browser_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"zealousknot/internal/core/run"
)

// tap presses a button by its words in a part of the page.
func (p *page) tap(in, words string) {
	p.Helper()
	p.pressed(fmt.Sprintf(`[...document.querySelectorAll(%q)].find((e) => e.textContent.trim().startsWith(%q) && e.getClientRects().length)`, in+" button", words))
}

// The phone rings: without a connection, by nine taps and no letter, the first card stands; it
// changes as the ranges narrow, and says so. Findings block nothing. What was tapped is sent when
// the connection is back, a second device takes part, and a supervisor makes drop and run of it.
func TestCallout(t *testing.T) {
	p := open(t, "/")
	p.do(chromedp.EmulateViewport(390, 844))
	p.onDevice()
	p.until(`window.onDevice?.includes('/preplans')`)
	p.cut(true)
	p.do(chromedp.Evaluate(`window.taps = window.keys = 0; document.addEventListener('click', () => taps++, true); document.addEventListener('keydown', () => keys++, true), 0`, nil))
	p.press("[data-callout]")
	for _, q := range [][2]string{{"height", "30–45"}, {"back", "2–5"}, {"edge", "roller"}, {"load", "stretcher"}, {"landing", "ground"}, {"ropes", "dry"}, {"knots", "no knot"}, {"kits", "van bag"}} {
		p.tap("[data-question="+q[0]+"]", q[1])
	}
	p.says("[data-head]", "Ropes for 45 m")
	p.says("[data-line=main]", "rope 31")
	p.says("[data-line=main]", "in the hand")
	p.says("[data-raise]", "nobody here manages it")
	var taps, keys int
	p.do(chromedp.Evaluate(`window.taps`, &taps), chromedp.Evaluate(`window.keys`, &keys))
	if taps > 9 || keys > 0 {
		t.Errorf("the first card took %d taps and %d keys", taps, keys)
	}
	var small string
	p.do(chromedp.Evaluate(`[...document.querySelectorAll('main button, main summary')].filter((e) => e.getClientRects().length && e.getBoundingClientRect().height < 55.5 && !e.closest('article')).map((e) => e.textContent.trim()).join()`, &small))
	if small != "" {
		t.Errorf("too small for gloves: %s", small)
	}
	// Narrower: the rope that is needed is less, and marked.
	p.tap("[data-question=height]", "Height")
	p.press(`[aria-label="At most: a metre less"]`)
	p.says("[data-head]", "Ropes for 44 m")
	p.until(`document.querySelector('[data-line=main] [data-changed]')`)
	p.tap("[data-question=people]", "People")
	for _, name := range []string{"Rhea Tolland", "Ivo Kestrane", "Dov Pellister", "Maren Oake"} {
		p.tap("[data-question=people]", name)
	}
	p.says("[data-question=people]", "4 people")
	p.tap("[data-comer='Maren Oake']", "24 h")
	p.says("[data-found='callout.awake']", "has been awake for 24 h")
	p.press("[data-found='callout.awake'] summary")
	p.tap("[data-found='callout.awake']", "a life is at risk now")
	p.says("[data-found='callout.awake'] [data-reason]", "a life is at risk now")
	for _, what := range []string{"arrived", "over-edge", "down"} {
		p.press("[data-mark-time]")
		p.press("[data-mark-as=" + what + "]")
	}
	p.says("[data-waiting]", "not yet sent")
	p.again()
	p.until(`document.querySelectorAll('[data-mark]').length === 3`)
	p.cut(false)
	p.gone("[data-waiting]")
	p.gone("[data-put-away]")

	q := p.browse(t, "dov", "/callout")
	q.button("Callout 20")
	q.says("[data-head]", "Ropes for 44 m")
	q.press("[data-mark-time]")
	q.cut(true)
	q.press("[data-mark-as=ended]")
	q.press("[data-put-away]")
	q.says("[role=alert]", "has not all of it yet")
	q.cut(false)
	q.gone("[data-waiting]")
	q.press("[data-put-away]")
	q.says("[data-phase]", "ended")
	q.says("main", "first on scene")
	q.says("[data-entered]", "typed by Dov Pellister")
	r, err := p.store.Run(p.ctx, p.team.ID, p.running())
	if err != nil || r.Document.Entered == nil || r.Phase != run.Ended || r.Document.Entered.By != "Dov Pellister" {
		t.Fatalf("%+v, %v", r, err)
	}
	p.says("[data-away]", "put away")
	p.gone("[data-mark-time]")
}

// An exercise says so wherever it is; a known site fills in what it knows, by its name, and its
// anchors show examinations that ran out; what no kit does is said.
func TestCalloutSite(t *testing.T) {
	p := open(t, "/callout")
	p.press("[data-exercise-begin]")
	p.says("[data-exercise]", "EXERCISE")
	p.press("[data-sites]")
	p.typed(`[aria-label="Letters of its name"]`, "quarry")
	p.until(`document.querySelectorAll('[data-site]').length === 1`)
	p.press("[data-site=old-quarry]")
	p.says("[data-preplan]", "nobody is on record as having examined it")
	p.says("[data-question=height]", "60 m to 75 m")
	p.says("[data-question=landing]", "boat")
	p.says("[data-found='callout.landing']", "a boat")
	p.tap("[data-question=kits]", "Kits")
	p.tap("[data-question=kits]", "rescue bag")
	p.says("[data-head]", "no rig")
	p.tap("[data-question=kits]", "rescue bag")
	p.tap("[data-question=kits]", "van bag")
	p.says("[data-head]", "No ropes of these kits come down 75 m")
	p.tap("[data-question=knots]", "Knots")
	p.tap("[data-question=knots]", "ropes may be joined")
	p.says("[data-head]", "Ropes for 75 m")
	p.says("[data-line=main]", "a knot meets the brake")
	// A stop takes one tap.
	p.tap("[data-found='load.margin']", "no other kit here")
	p.says("[data-found='load.margin'] [data-reason]", "no other kit here")
	p.do(chromedp.Navigate(p.url + "/store/kits"))
	// Sealed, it says so in the next callout, until the seal is broken.
	p.press("[data-kit=long-bag] [data-seal]")
	for _, i := range []string{"rope-41", "rope-42", "brake-13", "brake-14"} {
		p.press("[data-count=" + i + "]")
	}
	p.typed("[data-seal-number]", "4711")
	p.press("[data-kit=long-bag] [data-sign]")
	p.says("[data-kit=long-bag] [data-sealed]", "sealed 4711: 4 counted and checked by Dov Pellister")
	p.press("[data-kit=long-bag] [data-seal]")
	p.says("[data-kit=long-bag]", "stands no more")
	p.press("[data-kit=long-bag] [data-sign]")
	p.gone("[data-kit=long-bag] [data-sealed]")
	p.press("[data-kit=van-bag] [data-capable]")
	p.says("[data-capability]", "a printed card with another number is void")
	var number string
	p.do(chromedp.Text("[data-number]", &number))
	// The page's own core and the server, which prints the card, give one number.
	var printed string
	p.do(chromedp.Evaluate(`(async () => {
		const policy = (await (await fetch('/api/v1/policy')).json()).own
		const headers = { 'Content-Type': 'application/json' }
		const body = JSON.stringify({ kit: 'van bag', day: '2026-11-24', policy })
		return (await (await fetch('/api/v1/callout/kit', { method: 'POST', headers, body })).json()).number
	})()`, &printed, waits))
	if number != printed {
		t.Errorf("the page says %s, the server prints %s", number, printed)
	}
	if len(number) != 9 || strings.Trim(number, "0123456789ABCDEF-") != "" {
		t.Errorf("the card has the number %q", number)
	}
	p.do(chromedp.Navigate(p.url + "/preplans"))
	p.press("[data-new]")
	p.fill("/name", "Mill weir")
	p.selected(`[data-field="/drop"] select`, "basin-wall")
	p.press("[data-add=anchors]")
	p.fill("/anchors/0/name", "the ring")
	p.selected(`[data-field="/anchors/0/anchor"] select`, "wall-belay")
	p.press("[data-save]")
	p.says("main", "Mill weir")
	p.says("main", "the ring: nobody is on record as having examined it")
	p.do(chromedp.Navigate(p.url + "/drops/basin-wall"))
	p.says("[data-rule='anchor.register']", "ran out on 2026-04-01")
}
