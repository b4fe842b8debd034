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
	p.press("[data-move=rebelay-down]")
	p.says("[data-step]", "Start")
	const person = `Number(document.querySelector('[role=slider]').getAttribute('aria-valuenow'))`
	p.until(person + ` === 61.2`)
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil), chromedp.KeyEvent(kb.ArrowRight), chromedp.KeyEvent(kb.ArrowRight))
	p.says("[data-step]", "hand on the control strand")
	p.until(person + ` < 53`)
	p.do(chromedp.KeyEvent("f"))
	p.says("[data-fail-one]", "wheel backup 7")
	p.until(`!document.querySelector('[data-fail-one]').innerText.includes('nothing')`)
	p.until(`document.querySelector('[data-fallen]') !== null`)
	// Leaving the page puts the person back: nothing of the drop was changed.
	p.do(chromedp.KeyEvent("1"))
	p.until(person + ` === 61.2`)

	// A knot pass: at the step where the backup is changed, what one failure would do;
	// and by the school with a second backup device another score.
	p.do(chromedp.Navigate(p.url + "/drops/gate-shaft/moves"))
	p.says("h1", "Moves")
	p.typeAt("Height to begin at", "22")
	p.press("[data-move=pass-knots-down]")
	p.says("[data-step]", "Start")
	p.until(`document.querySelectorAll('[data-column]').length > 10`)
	p.press("[data-ways] summary")
	p.choose("passing a knot on the backup", "the eye of the knot itself")
	const score = `document.querySelector('[aria-label="Score of the move"]').textContent`
	p.until(score + `.includes('clipped into')`)
	p.until(stepTo("cam backup 31 off"))
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil), chromedp.KeyEvent("f"))
	p.says("[data-fail-one]", "lanyard")
	p.until(`document.querySelector('[data-fallen]') && document.querySelector('[data-close]').getAttribute('aria-label').includes(', they fall ')`)
	p.choose("passing a knot on the backup", "a second backup device")
	p.until(`!` + score + `.includes('clipped into') && ` + score + `.includes('wheel backup 9')`)
	// A step that is left out is found by the rules; so is one that is put in.
	p.press("[data-column='3']")
	p.says("[data-step]", "Park descender 21")
	p.press("[data-leave-out]")
	p.says("[data-breaches]", "device.mode")
	p.says("[data-breaches]", "descender 21 bears and is not parked")
	p.button("as it was found")
	p.gone("[data-breaches]")
	p.press("[data-by-hand]")
	p.press("[data-insert]")
	p.choose("Action", "take off")
	p.button("put it in")
	p.says("[data-steps]", "bears the weight and is taken off")
	p.button("as it was found")
	// The whole way, and another way held against it.
	p.press("[data-move=there-and-back]")
	p.typeAt("Height of the work place", "25")
	p.until(`document.querySelectorAll('[data-column]').length > 25`)
	p.choose("Another way to hold it against", "passing a knot on the backup: a loop tied beside it")
	p.says("[data-other]", "They part at step")
	p.says("[data-other]", "gear handled")
	// On paper every step stands.
	p.do(emulation.SetEmulatedMedia().WithMedia("print"))
	p.until(`document.querySelectorAll('[data-sheet] li').length === document.querySelectorAll('[aria-label="Score of the move"]')[0].querySelectorAll('[data-column]').length - 1`)
	p.until(`document.querySelector('[data-sheet]').checkVisibility() && !document.querySelector('[data-step]').checkVisibility()`)
}

// Without a connection moves are found by the core in the page, and steps changed by
// hand judged by it.
func TestMovesWithoutConnection(t *testing.T) {
	p := open(t, "/")
	p.onDevice()
	p.do(chromedp.Navigate(p.url + "/drops/crown-gallery/moves"))
	p.says("h1", "Moves")
	p.until(`document.querySelector('[data-move=transfer]')`)
	p.cut(true)
	p.press("[data-move=transfer]")
	p.says("main", "Found on this device")
	p.says("main", "8 steps")
	p.do(press("[data-column='3']"), press("[data-leave-out]"))
	p.says("[data-breaches]", "device.mode")
}

// stepTo goes on to the step that says something.
func stepTo(words string) string {
	return `(() => {
		if (document.querySelector('[data-step]')?.textContent.includes('` + words + `')) return true
		document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }))
		return false
	})()`
}
