package browser_test

import (
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// A move is found with the kit carried, stepped through by key with the rail
// following, and each step tells what one failure would do; what there is no way for
// is said with what would give one.
func TestMovesPage(t *testing.T) {
	p := open(t, "/drops/face-4/moves")
	p.do(chromedp.Click("[data-move=rebelay-down]"))
	p.says("[data-step]", "Start")
	const person = `Number(document.querySelector('[role=slider]').getAttribute('aria-valuenow'))`
	p.until(person + ` === 61.2`)
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil), chromedp.KeyEvent(kb.ArrowRight), chromedp.KeyEvent(kb.ArrowRight))
	p.says("[data-step]", "hand on the control strand")
	p.until(person + ` < 53`)
	p.do(chromedp.KeyEvent("f"))
	p.says("[data-fail-one]", "wheel backup 7")
	p.until(`!document.querySelector('[data-fail-one]').innerText.includes('nothing')`)
	// Leaving the page puts the person back: nothing of the drop was changed.
	p.do(chromedp.KeyEvent("1"))
	p.until(person + ` === 61.2`)

	// A step that is left out is found by the rules.
	p.do(chromedp.Navigate(p.url + "/drops/gate-shaft/moves"))
	p.says("h1", "Moves")
	p.do(chromedp.Click("[data-move=pass-knots-down]"))
	p.says("main", "nothing is in the way")
	p.typeAt("Height to begin at", "22")
	p.says("[data-step]", "Start")
	p.until(`document.querySelectorAll('[data-column]').length > 10`)
	p.do(chromedp.Click("[data-column='3']"))
	p.says("[data-step]", "Park descender 21")
	p.do(chromedp.Click("[data-leave-out]"))
	p.says("[data-breaches]", "device.mode")
	p.says("[data-breaches]", "descender 21 bears and is not parked")
	p.button("as it was found")
	p.gone("[data-breaches]")
	// The whole way, and another way held against it.
	p.do(chromedp.Click("[data-move=there-and-back]"))
	p.typeAt("Height of the work place", "25")
	p.until(`document.querySelectorAll('[data-column]').length > 25`)
	p.do(chromedp.Click("[aria-label^='Another way to hold']"), chromedp.Click(`//*[@role='option'][contains(., 'a loop tied')]`, chromedp.BySearch))
	p.says("[data-other]", "They are the same")
	// On paper every step stands.
	p.do(emulation.SetEmulatedMedia().WithMedia("print"))
	p.until(`document.querySelectorAll('[data-sheet] li').length === document.querySelectorAll('[data-column]').length - 1`)
	p.until(`document.querySelector('[data-sheet]').checkVisibility() && !document.querySelector('[data-step]').checkVisibility()`)
}
