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

// The knots of a rope stand in its proof with what is measured by hand, in the steps that tie
// one and in the glossary; the rig of the team and both of a rescue follow the steps, and show
// what one failure would do.
func TestStepPictures(t *testing.T) {
	p := open(t, "/drops/face-7/checks")
	label := func(where, words string) {
		t.Helper()
		p.until(fmt.Sprintf(`document.querySelector('%s')?.getAttribute('aria-label').includes(%q)`, where, words))
	}
	p.do(chromedp.EmulateViewport(390, 844))
	p.press("[data-check=rope-17]")
	p.press("[data-did]")
	p.says("[data-knot=end-loop]", "Tail: 10 × 10.5 mm = 105 mm at least")
	p.says("[data-knot=mid-loop]", "knot at 25 m")
	p.gone("[data-knot=stopper]")
	// However many knots there are, the answers stay where the thumb is.
	p.until(`document.querySelector('[data-did]').getBoundingClientRect().bottom <= innerHeight`)
	p.press("[data-did]")
	p.says("[data-knot=stopper]", "one turn only")
	p.gone("[data-knot=end-loop]")

	p.do(chromedp.EmulateViewport(1280, 844), chromedp.Navigate(p.url+"/drops/basin-wall/team"))
	p.press("[data-moves]")
	p.press("[data-move=lower-past-knot]")
	p.until(`document.querySelector('[data-step]')?.innerText.includes('Start: the load hangs')`)
	label("[data-rig-step]", "hangs at 47.4 m")
	p.button("next step")
	label("[data-rig-step]", "hangs at 29.14 m")
	label("[data-rig-step]", "knot 0.15 m before the brake")
	p.button("what if this fails?")
	label("[data-rig-step]", "it drops 2.95 m, then the belay holds")
	p.button("next step")
	p.button("next step")
	label("[data-rig-step]", "grab on, snug")
	// A device grips here: no hitch is drawn that nobody ties. To walk away a knot is tied.
	p.gone("[data-tied]")
	p.press("[data-moves]")
	p.press("[data-move=walk-away]")
	p.until(`(() => {
		const tied = document.querySelector('[data-step]')?.innerText.includes('off with an overhand')
		if (!tied) [...document.querySelectorAll('button')].find((b) => b.textContent.includes('next step') && !b.disabled)?.click()
		return tied
	})()`)
	p.says("[data-tied] [data-knot=walk-away]", "not round it")

	p.do(chromedp.Navigate(p.url + "/drops/face-7/rescue?person=ivo&at=50"))
	label("[data-pair]", "Ivo Kestrane has descender")
	for range 3 {
		p.button("next step")
	}
	label("[data-pair]", "The long lanyard joins them")

	p.onDevice()
	p.cut(true)
	// A step counts once what was asked without a connection is answered.
	p.until(`(() => {
		const joined = document.querySelector('[data-pair]')?.getAttribute('aria-label').includes('A short lanyard or sling from Ivo Kestrane')
		if (!joined) [...document.querySelectorAll('button')].find((b) => b.textContent.includes('next step'))?.click()
		return joined
	})()`)
	p.cut(false)
	p.do(chromedp.Navigate(p.url + "/glossary"))
	p.typed("[data-find-term]", "backing")
	p.press("[data-glossary-term] summary")
	p.says("[data-knot=backing]", "tied round itself alone")
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
