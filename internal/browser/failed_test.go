package browser_test

import (
	"path"
	"path/filepath"
	"testing"

	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
)

// What cannot be drawn or fetched is said, never left blank without a word; where the server has
// other files than when the page was loaded, they are loaded.
func TestFailuresAreSaid(t *testing.T) {
	house := serve(t)
	p := house.browse(t, "dov", "/records")
	p.until(`document.querySelector('h1')?.innerText === 'Records'`)
	p.fails.Store(true)
	p.do(network.SetBypassServiceWorker(true))
	wear := p.hold("GET", "/api/v1/items/backup-9/wear", 200)
	wear.text = "[{}]"
	close(wear.release)
	p.do(chromedp.Evaluate(`history.pushState({}, '', '/store/item/backup-9'), dispatchEvent(new PopStateEvent('popstate'))`, nil))
	p.says("[data-failed]", "part of this page failed")
	if len(p.messages) == 0 {
		t.Error("nothing is written of it")
	}

	// It is said as long as the page stays.
	p.do(chromedp.Evaluate(`history.pushState({}, '', '/store/item/backup-9?again=1'), dispatchEvent(new PopStateEvent('popstate'))`, nil))
	p.until(`location.search === '?again=1'`)
	p.says("[data-failed]", "part of this page failed")

	// Of a page that was never fetched, while nothing answers.
	p.down.Store(true)
	p.press(`nav a[href="/due"]`)
	p.says("[data-failed]", "Due could not be fetched")
	p.down.Store(false)
	p.press(`nav a[href="/due"]`)
	p.until(`document.querySelector('h1')?.innerText.startsWith('Due')`)
	p.gone("[data-failed]")

	// The server has no such file any more.
	files, err := filepath.Glob("../web/ui/dist/app/assets/PeoplePage-*.js")
	if err != nil || len(files) != 1 {
		t.Fatal(files, err)
	}
	gone := p.hold("GET", "/assets/"+path.Base(filepath.ToSlash(files[0])), 404)
	close(gone.release)
	p.press(`nav a[href="/people"]`)
	p.until(`performance.getEntriesByType('navigation')[0].name.endsWith('/people') && document.querySelector('h1')?.innerText === 'People'`)
	p.gone("[data-failed]")
}
