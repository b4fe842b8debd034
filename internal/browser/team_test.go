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
	p.until(drop + ` > 6`)
	p.choose("School of lowering", "shared tension")
	p.until(drop + ` < 4`)
	p.says("[data-schools]", "◆ ")
	p.do(chromedp.Click("[data-move=lower-to-raise]"))
	p.says("[data-hauls]", "3:1")
	p.choose("Ratio of the haul", "9:1")
	p.until(`document.querySelectorAll('[data-column]').length > 1`)
	p.typeAt("Haulers", "1")
	p.says("[data-hauls]", "◆ ")
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil), chromedp.KeyEvent(kb.ArrowRight))
	p.says("[data-step]", "park combined brake 1")
	p.do(emulation.SetEmulatedMedia().WithMedia("print"))
	p.until(`document.querySelector('[data-sheet]').checkVisibility()`)

	// Where nothing is rigged the page says so.
	p.do(emulation.SetEmulatedMedia().WithMedia(""), chromedp.Navigate(p.url+"/drops/face-4/team"))
	p.says("main", "Nothing is rigged for a team")
}
