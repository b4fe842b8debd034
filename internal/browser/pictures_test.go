package browser_test

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
)

// A proof shows how the rope lies and what moves, on the phone too, and names drop, item and
// strand; the Kit page shows what is wrong beside how it must be. Turned, picture and words
// turn.
func TestPictures(t *testing.T) {
	p := open(t, "/drops/face-4/checks")
	label := func(where, words string) {
		t.Helper()
		p.until(fmt.Sprintf(`document.querySelector('%s [data-picture]')?.getAttribute('aria-label').includes(%q)`, where, words))
	}
	p.do(chromedp.EmulateViewport(390, 844))
	p.press("[data-check=backup-7]")
	label("main", "wheel backup 7, wheel that locks, riding on a person, seen from the front")
	p.says("main section", "Face 4")
	p.says("main section", "wheel backup 7 · backup strand")
	p.until(`(() => {
		const box = document.querySelector('[data-picture]').getBoundingClientRect()
		return box.height > 200 && box.width <= innerWidth && box.bottom < document.querySelector('[data-do]').getBoundingClientRect().top
	})()`)
	p.press("[data-did]")
	label("main", "What moves: the device, up and down")
	p.until(`document.querySelector('[data-picture] .moves-roll')`)
	p.press("[data-turn]")
	label("main", "seen from the back")

	// Without a connection the page's own core draws.
	p.onDevice()
	p.cut(true)
	p.button("all checks")
	p.press("[data-check=descender-14]")
	label("main", "descender 14, cam and post, riding on a person, seen from the front")
	p.cut(false)

	p.do(chromedp.EmulateViewport(1280, 844), chromedp.Navigate(p.url+"/drops/face-4/kit"))
	p.until(`document.querySelectorAll('[data-loading]').length === 2 && !document.querySelector('[data-loading][open], [data-must]')`)
	p.choose("How the rope lies", "wrong way")
	label("[data-loading][open]", "Wrong way round")
	p.until(`!document.querySelector('[data-must] [data-picture]').getAttribute('aria-label').includes('Wrong')`)
	p.choose("Plates and catches", "not shut")
	label("[data-loading][open]", "It is open")
	p.button("undo")
	p.button("undo")
	p.gone("[data-must]")
}

// A score that does not fit shows that it goes on, how far, and goes there.
func TestScoreGoesOn(t *testing.T) {
	p := open(t, "/drops/basin-wall/team")
	p.do(chromedp.EmulateViewport(390, 844))
	shown := func(words string) {
		t.Helper()
		p.until(fmt.Sprintf(`document.querySelector('[data-overview] svg')?.getAttribute('aria-label').startsWith(%q)`, words))
	}
	shown("Steps 0 to 3 of 12")
	p.says("[data-overview]", "9 more")
	p.until(`document.querySelector('[data-overview] button').disabled`)
	p.until(`(() => { const b = document.querySelector('[data-later]'); b.click(); return b.disabled })()`)
	p.says("[data-overview]", "end")
	p.until(`!document.querySelector('[data-overview] button').disabled`)
	p.do(chromedp.EmulateViewport(1800, 844))
	p.gone("[data-overview]")
}
