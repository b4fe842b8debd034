package browser_test

import (
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// A stretcher lower with a knot in it: stepped to the transfer onto the grab, with
// what one failure would do; by the other school the drop is smaller; the haul is read
// for the haulers there are.
func TestTeamPage(t *testing.T) {
	p := open(t, "/drops/basin-wall/team")
	p.says("[data-step]", "the load hangs at 47.4 m")
	p.until(`document.querySelectorAll('[data-column]').length > 8`)
	p.until(stepTo("until the grab holds"))
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil), chromedp.KeyEvent("f"))
	p.says("[data-fail-one]", "the grab or hitch of the main lets go")
	p.until(`!document.querySelector('[data-fail-one]').innerText.includes('nothing')`)
	const drop = `Number(document.querySelector('main').innerText.match(/failure ([0-9.]+) m/)[1])`
	p.until(drop + ` > 5`)
	p.press("[data-view=rig]")
	p.choose("School of lowering", "shared tension")
	p.press("[data-view=moves]")
	p.until(drop + ` < 4`)
	p.press("[data-moves]")
	p.press("[data-move=lower-to-raise]")
	p.choose("Ratio of the haul", "5:1")
	p.gone("[data-not-there]")
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil), chromedp.KeyEvent(kb.ArrowRight))
	p.says("[data-step]", "Park combined brake 1")
	p.press("[data-leave]")
	p.says("[data-without]", "not parked while the haul is built")
	p.press("[data-leave]")
	p.gone("[data-without]")
	p.do(emulation.SetEmulatedMedia().WithMedia("print"))
	p.until(`document.querySelector('[data-sheet]').checkVisibility()`)

	p.do(emulation.SetEmulatedMedia().WithMedia(""))
	p.says("[data-knots]", "29.14 m")
	p.do(chromedp.Evaluate(`fetch('/api/v1/drops/basin-wall').then(r => r.json()).then(drop => Promise.all(['pdf', 'svg'].map(kind =>
		fetch('/api/v1/team/sheet.' + kind, {method: 'POST', headers: {'content-type': 'application/json'}, body: JSON.stringify({drop, move: 'edge'})})
			.then(r => r.text())))).then(t => { window.sheets = t })`, nil))
	p.until(`window.sheets && window.sheets[0].startsWith('%PDF') && window.sheets[1].includes('Who stands where')`)
}

// The haul for three haulers is chosen by its figures, read, changed at a part of its
// rope, written by hand; what is missing and what cannot be is said.
func TestTeamRig(t *testing.T) {
	p := open(t, "/drops/basin-wall/team")
	p.press("[data-view=heights]")
	p.says("[data-hauls]", "5:1 ←")
	p.says("[data-crosses]", "ceiling of 6 kN")
	p.press("[data-view=rig]")
	p.says("[data-brake=main]", "on the brake strand")
	p.press("[data-raising]")
	p.says("[data-hand]", "4 of them")
	p.choose("Haul of the team", "5:1")
	p.says("[data-hand]", "3 of them")
	p.says("[data-jam]", "4.98 kN")
	segment := `document.querySelector('[data-choice="pulley:A>pulley:B"]')`
	p.until(segment)
	p.do(chromedp.Evaluate(segment+`.dispatchEvent(new MouseEvent('click', {bubbles: true}))`, nil))
	p.says("[data-chosen]", "Change it here")
	p.until(`[...document.querySelectorAll('[data-changes] button')].some(b => b.innerText.includes('2:1 of another rope'))`)
	p.do(chromedp.Evaluate(`[...document.querySelectorAll('[data-changes] button')].find(b => b.innerText.includes('2:1 of another rope')).click()`, nil))
	p.until(`document.querySelector('[data-reeving]').value.includes('rope 1')`)
	p.do(chromedp.SetValue("[data-reeving]", "main: hand, pulley:A@nowhere, load"), chromedp.Evaluate(`document.querySelector('[data-reeving]').dispatchEvent(new Event('input'))`, nil))
	p.button("Reeve it so")
	p.says("[data-haul]", "a pulley is fixed to")
	p.choose("Haul of the team", "3:1")
	p.until(`document.querySelector('[data-reeving]').value.startsWith('main: hand, pulley:A@grab:G')`)
	p.press("[data-view=places]")
	p.do(chromedp.Focus(`[aria-label^="Call before: lower"]`), chromedp.KeyEvent(kb.Enter))
	p.until(`document.activeElement.tagName === 'INPUT'`)
	p.do(chromedp.KeyEvent("Down slowly" + kb.Enter))
	p.says("[data-call=lower]", "Down slowly")
	p.do(chromedp.Navigate(p.url + "/drops/sump-hatch/team"))
	p.do(press("[data-view=moves]"), press("[data-moves]"), press("[data-move=wind-up]"))
	p.until(stepTo("Draw the slack through"))

	// Where nothing is rigged the page says so, and a team can be made.
	p.do(chromedp.Navigate(p.url + "/drops/face-4/team"))
	p.says("main", "Nothing is rigged for a team")
	p.press("[data-rig]")
	p.says("[data-builder]", "runs on the")
	p.says("[data-brake=main]", "brake")
}
