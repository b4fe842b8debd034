package browser_test

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"zealousknot/internal/core/day"
	"zealousknot/internal/demo"
)

// board is the day as the server keeps it.
func (p *page) board() *day.Board {
	p.Helper()
	b, err := p.store.Board(p.ctx, p.team.ID, demo.Day)
	if err != nil {
		p.Fatal(err)
	}
	return b.Document
}

func at(b *day.Board, drop string) day.Clock {
	for _, s := range b.Slots {
		if s.Drop == drop {
			return s.From
		}
	}
	return ""
}

// A day with somebody on two drops: moved along its lane the conflict goes, at once and kept;
// what the program proposes is shown before it is taken; wind is pasted and shuts hours; who is
// no supervisor sees the board and changes nothing of it.
func TestDay(t *testing.T) {
	p := open(t, "/day/"+string(demo.Day))
	p.says("[data-person=dov]", "at two drops at once")
	p.says("[data-counts]", "5 stops")

	// By the arrow keys to eleven o'clock.
	for range 10 {
		p.do(chromedp.Focus(`[data-lane="crown-gallery"] [data-bar]`), chromedp.KeyEvent(kb.ArrowRight))
	}
	p.says(`[data-lane="crown-gallery"]`, "11:00 to 13:00")
	p.says("[data-day-state]", "kept")
	p.until(`!document.querySelector('[data-counts].opacity-40')`)
	for at(p.board(), "crown-gallery") != "11:00" {
		p.do(chromedp.Evaluate(`new Promise(requestAnimationFrame)`, nil))
	}

	// Dragged along its lane, and told while it is: the sump hatch at noon.
	p.press(`[data-lane="sump-hatch"] [data-place]`)
	p.until(`document.querySelector('[data-lane="sump-hatch"] [data-bar]')`)
	p.until(`!document.querySelector('[data-counts].opacity-40')`)
	var box struct{ X, Y, Width float64 }
	p.do(chromedp.Evaluate(`document.querySelector('[data-lane="sump-hatch"]').scrollIntoView({ block: 'center', behavior: 'instant' })`, nil),
		chromedp.Evaluate(`(() => { const t = document.querySelector('[data-lane="sump-hatch"] [data-bar]').getBoundingClientRect(); return { x: t.x + 10, y: t.y + 10, width: document.querySelector('[data-lane="sump-hatch"] [data-track]').getBoundingClientRect().width } })()`, &box))
	p.do(chromedp.MouseEvent("mousePressed", box.X, box.Y, chromedp.ButtonLeft),
		chromedp.MouseEvent("mouseMoved", box.X+box.Width/3, box.Y, chromedp.ButtonLeft),
		chromedp.MouseEvent("mouseReleased", box.X+box.Width/3, box.Y, chromedp.ButtonLeft))
	p.says(`[data-lane="sump-hatch"]`, "12:00 to 13:30")

	// A proposal, looked at and taken: nobody is twice any more, on the server too.
	p.press("[data-fill]")
	p.says("[data-filled]", "Proposed")
	p.press("[data-take]")
	p.gone("[data-filled]")
	p.until(`!document.querySelector('main').innerText.includes('at two drops at once')`)
	p.until(`!document.querySelector('[data-rule="day.twice"]')`)

	// Hazards stop until their protection is stated.
	p.press(`[data-lane="face-7"] button`)
	p.choose("Hazard", "grinding")
	p.says(`[data-rule="work.hazard"]`, "Grinding at Face 7")
	p.press(`[aria-label^="What protects"]`)
	p.until(`document.activeElement.tagName === 'TEXTAREA'`)
	p.do(chromedp.KeyEvent("sleeves"), chromedp.Evaluate(`document.activeElement.blur()`, nil))
	p.gone(`[data-rule="work.hazard"]`)

	// Wind as it is pasted; a wrong line is named and nothing is taken.
	p.press("[data-wind]")
	set := func(text string) {
		p.do(chromedp.SetValue("[data-wind-text]", text), chromedp.Evaluate(`document.querySelector('[data-wind-text]').dispatchEvent(new Event('input', { bubbles: true }))`, nil))
		p.press("[data-wind-set]")
	}
	set("08:00 2 3\nnoon 9")
	p.until(`document.querySelector('[role=alert]')?.innerText.includes('line 2')`)
	set("07:00,2,3\n08:00,9,30\n09:00,2,2.5,lightning")
	p.gone("[data-wind-text]")
	p.says(`[data-lane="face-7"] [data-shut]`, "lightning")
	p.says("main", "lightning; in 2 of the stated hours of Face 7")

	// Cover: Dov stands by for one drop alone.
	p.press("[data-cover]")
	p.until(`document.querySelector('[data-across]')`)

	q := p.browse(t, "ivo", fmt.Sprintf("/day/%s", demo.Day))
	q.until(`document.querySelectorAll('[data-lane]').length === 7`)
	q.gone("[data-wind], [data-place], [data-day-note]")
	p.sets("[data-day-note]", "The gate opens at seven.")
	q.says("[data-noted]", "The gate opens at seven.")
	q.press(`[data-lane="face-7"] button`)
	q.until(`document.querySelector('[data-slot]').inert`)
	q.press("[data-fill]")
	q.until(`document.querySelector('[data-filled]')`)
	q.gone("[data-take]")
}

// What is changed while a save is on its way is saved after it, over the version that it made; a
// server that can take nothing now is asked again.
func TestDayKept(t *testing.T) {
	p := open(t, "/day/"+string(demo.Day))
	p.says("[data-day-state]", "kept")
	const path = "/api/v1/days/" + string(demo.Day)
	later := func() {
		p.do(chromedp.Focus(`[data-lane="crown-gallery"] [data-bar]`), chromedp.KeyEvent(kb.ArrowRight))
	}
	kept := func() {
		t.Helper()
		var shown string
		p.do(chromedp.Evaluate(`document.querySelector('[data-lane="crown-gallery"]').innerText.match(/\d\d:\d\d/)[0]`, &shown))
		for string(at(p.board(), "crown-gallery")) != shown {
			p.do(chromedp.Evaluate(`new Promise(requestAnimationFrame)`, nil, waits))
		}
		p.until(`document.querySelector('[data-day-state]').innerText === 'kept'`)
		p.gone("main [role=alert]")
	}
	before := at(p.board(), "crown-gallery")
	late := p.hold("PUT", path, 0)
	later()
	late.wait(p)
	later()
	close(late.release)
	kept()
	busy := p.hold("PUT", path, 503)
	close(busy.release)
	later()
	p.says("[data-day-state]", "not yet kept")
	kept()
	if after := at(p.board(), "crown-gallery"); after <= before {
		t.Errorf("kept at %s, was at %s", after, before)
	}
}
