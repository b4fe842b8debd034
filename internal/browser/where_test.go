package browser_test

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
)

// Where one is stands in the title of the window, and whoever works by keys is on the page
// after each step: what had the focus may be gone. On a phone the head of the page makes room.
func TestWhere(t *testing.T) {
	p := open(t, "/drops/face-4/checks")
	title := func(words string) {
		t.Helper()
		p.until(fmt.Sprintf(`document.title === %q`, words))
	}
	onPage := `document.activeElement !== document.body && document.getElementById('page').contains(document.activeElement)`
	title("Checks · Face 4 · Zealous Knot")
	p.prove("backup-7", 6)
	p.until(onPage)
	p.do(chromedp.Focus("[data-check]"), chromedp.KeyEvent("2"))
	title("Kit · Face 4 · Zealous Knot")
	p.until(onPage)
	p.do(chromedp.Navigate(p.url + "/store"))
	title("Store · Zealous Knot")

	// A name that is chosen is replaced by what is typed.
	p.do(chromedp.Navigate(p.url + "/"))
	title("Drops · Zealous Knot")
	p.button("Start an empty drop")
	title("Drop · New drop · Zealous Knot")
	p.press(`[aria-label^="Name of the drop"]`)
	p.until(`document.activeElement.tagName === 'INPUT' && document.activeElement.selectionEnd - document.activeElement.selectionStart === 'New drop'.length`)
	p.do(chromedp.KeyEvent("North facade\r"))
	title("Drop · North facade · Zealous Knot")

	p.do(chromedp.EmulateViewport(320, 568), chromedp.Navigate(p.url+"/drops/face-4/kit"))
	p.until(`document.querySelector('[data-bead]')`)
	p.do(chromedp.Evaluate(`scrollTo(0, 600)`, nil))
	p.until(`document.querySelector('header').getBoundingClientRect().bottom <= 0`)
}
