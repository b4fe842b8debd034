package browser_test

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"zealousknot/internal/core/drop"
)

// The demo's gap is found, the change that covers most is planned, and it is covered;
// the plan for the worst height is stepped through, drilled by key, and written to be
// hung up.
func TestRescuePage(t *testing.T) {
	p := open(t, "/drops/face-7/rescue")
	p.says("[data-cover]", "1 metre is reached by nobody")
	p.until(`document.querySelectorAll('[data-ways] li').length === 2`)
	p.says("[data-ways]", "works on set 2")
	p.press("[data-changes]")
	p.says("[data-change-list]", "hang a rescue set beside set 1")
	p.press("[data-apply='1']")
	p.says("[data-cover]", "Every metre is reached within 15 minutes")
	p.says("[data-ways]", "rigged beforehand")

	// The height is chosen on the strip, by key.
	p.do(chromedp.Focus("[data-strip]"), chromedp.KeyEvent(kb.PageDown))
	p.until(`/61\s*m/.test(document.querySelector('[data-at]').innerText)`)
	p.until(`document.querySelectorAll('[data-column]').length > 10`)
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil))
	p.until(stepTo("until the chain bears"))
	// A key does nothing while an answer is looked for again: it is pressed until it counts.
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil))
	p.until(`document.querySelector('[data-fail-one]') ||
		(document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'f', bubbles: true })), false)`)
	p.says("[data-fail-one]", "the chain to the casualty")

	// A drill: what comes too early is stopped by a rule and said.
	p.press("[data-start-drill]")
	p.until(`document.querySelectorAll('[data-offer]').length > 2`)
	p.until(`(() => {
		if (document.querySelector('[data-wrong]') || document.querySelector('[data-drill] ol li')) return true
		const offers = [...document.querySelectorAll('[data-offer]')]
		const last = offers.at(-1)
		;(last?.dataset.offer === '0' ? offers[0] : last)?.click()
		return false
	})()`)
	for ready := false; !ready; {
		p.until(`!document.querySelector('[data-offer][disabled]')`)
		p.do(chromedp.Evaluate(`(() => {
			if (document.querySelector('[data-drill] [role=status]')?.innerText.includes('ready to go down')) return true
			const offers = [...document.querySelectorAll('[data-offer]')].sort((a, b) => a.dataset.offer - b.dataset.offer)
			const next = offers.find((o) => !o.dataset.strand)
			const wrong = document.querySelector('[data-wrong]')?.innerText.includes('control strand')
			const strand = next?.innerText.includes('npark') || next?.innerText.includes('untie')
				? offers.find((o) => o.dataset.strand && o.innerText.includes(next.innerText.includes('17') ? 'Ivo' : 'your own')) : undefined
			;(wrong && strand ? strand : next)?.click()
			return false
		})()`, &ready))
	}
	p.do(chromedp.Evaluate(`fetch('/api/v1/drops/face-7').then(r => r.json()).then(drop => Promise.all(['pdf', 'svg'].map(kind =>
		fetch('/api/v1/rescue/sheet.' + kind, {method: 'POST', headers: {'content-type': 'application/json'}, body: JSON.stringify({drop, person: 'ivo', at_m: 61})})
			.then(r => r.text())))).then(t => { window.sheets = t })`, nil))
	p.until(`window.sheets && window.sheets[0].startsWith('%PDF') && window.sheets[1].includes('medical emergency') && window.sheets[1].includes('limit 15 min')`)

	// Without a connection the core on the device looks.
	p.onDevice()
	p.do(chromedp.Reload())
	p.until(`document.querySelector('[data-strip] rect')`)
	p.cut(true)
	p.do(chromedp.Focus("[data-strip]"), chromedp.KeyEvent(kb.PageDown))
	p.says("[data-here]", "Found on this device")
	p.says("[data-ways]", "rigged beforehand")
	p.cut(false)

	// A run asks about somebody at the height where they hang.
	p.do(chromedp.Navigate(p.url + "/drops/face-7/rescue?person=rhea&at=31"))
	p.says("[data-at]", "Rhea Tolland")
	p.until(`/31\s*m/.test(document.querySelector('[data-at]').innerText)`)
	p.says("[data-planned]", "medical provider")
	p.says("[data-pick-off] [data-cautions]", "With two persons the added friction bend")

	// Where nobody comes the page says so, and begins.
	p.do(chromedp.Navigate(p.url + "/drops/gate-shaft/rescue"))
	p.says("main", "No rescuer is assigned")
	p.press("[data-begin]")
	p.says("[data-planned]", "Ivo Kestrane")

	// What a rescue may hang on and is not stated to hold is said beside the cover.
	p.changed("face-7", func(d *drop.Document) {
		for i := range d.Anchors {
			d.Anchors[i].Legs[0].StrengthKN = 0
		}
	})
	p.gone("[data-unseen]")
	p.do(chromedp.Navigate(p.url + "/drops/face-7/rescue"))
	p.says("[data-unseen]", "the strength of leg")
}
