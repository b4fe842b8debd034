package browser_test

import (
	"context"
	"fmt"
	"slices"
	"testing"

	"github.com/chromedp/chromedp"

	"zealousknot/internal/core/gear"
)

// onDevice waits until the service worker has everything that is needed without a
// connection.
func (p *page) onDevice() {
	p.Helper()
	p.do(chromedp.Evaluate(`(async () => {
		for (;;) {
			const names = await caches.keys()
			const lists = await Promise.all(names.map(async (n) => (await (await caches.open(n)).keys()).map((r) => r.url)))
			window.onDevice = lists.flat().join(' ')
			await new Promise((r) => setTimeout(r, 50))
		}
	})(), 0`, nil))
	for _, what := range []string{"core-", "wasm_exec", "/gear", "/people", "/drops/face-4"} {
		p.until(fmt.Sprintf(`navigator.serviceWorker.controller && window.onDevice?.includes(%q)`, what))
	}
}

// again loads the page again and waits until the new one is there. Without a server
// the browser tells nobody that the page has come.
func (p *page) again() {
	p.Helper()
	p.do(chromedp.Evaluate(`window.old = true; setTimeout(() => location.reload(), 100)`, nil))
	p.until(`!window.old && document.querySelector('main')`)
}

// At the top without signal: a check half done is found again after a reload; one
// that fails takes its item out here at once and, when there is signal, in the
// store, once; the partner check is somebody else's, and a changed rigging asks
// for it again.
func TestChecks(t *testing.T) {
	p := open(t, "/drops/face-4/checks")
	p.do(chromedp.EmulateViewport(390, 844))
	p.says("main", "2 of 5 passed")
	p.until(`document.querySelector('[data-check=rope-3]').disabled`)
	p.choose("Who does the checks", "Rhea Tolland")
	p.do(chromedp.Click("[data-check=rope-3]"))
	p.says("[data-do]", "Through the hand, end to end")
	p.do(chromedp.Click("[data-did]"))
	p.says("main", "proof 2 of 4")
	p.do(chromedp.Reload())
	p.do(chromedp.Click("[data-check=rope-3]"))
	p.says("main", "proof 2 of 4")
	p.button("undo")
	p.says("main", "proof 1 of 4")
	p.do(chromedp.Click("[data-did]"), chromedp.Click("[data-did]"), chromedp.Click("[data-did]"), chromedp.Click("[data-did]"))
	p.until(`document.querySelector('[data-check=rope-3]')?.dataset.state === 'passed'`)
	// Nobody does the partner check of their own rigging.
	p.until(`document.querySelector('[data-check=partner-rhea]').disabled`)
	p.choose("Who does the checks", "Ivo Kestrane")
	p.prove("partner-rhea", 2)
	d := p.kept()
	if n := len(d.Checks); n != 3 || d.Checks[2].Item != "rope-3" || d.Checks[2].By != "Rhea Tolland" || len(d.Checks[2].Proofs) != 4 ||
		len(d.PartnerChecks) != 1 || d.PartnerChecks[0].By != "Ivo Kestrane" {
		t.Errorf("kept %+v %+v", d.Checks, d.PartnerChecks)
	}

	p.onDevice()
	p.cut(true)
	// Without a connection the page comes from this device, and so does the core
	// that checks.
	p.again()
	p.says("main", "it is checked here")
	p.says("main", "4 of 5 passed")
	p.do(chromedp.Click("[data-check=backup-7]"), chromedp.Click("[data-did]"))
	p.says("main", "proof 2 of 6")
	p.do(chromedp.SendKeys("main input", "grinds"), chromedp.Click("[data-did-not]"))
	p.says("[aria-label^='Check of']", "It rolls freely both ways")
	p.button("It failed: into quarantine")
	p.says("main", "wheel backup 7 is in quarantine")
	p.says("main", "not yet sent to the store")
	p.until(`document.querySelector('[data-check=backup-7]')?.dataset.state === 'failed'`)
	p.says("[data-found]", "4 stop")
	p.again()
	p.until(`document.querySelector('[data-check=backup-7]')?.dataset.state === 'failed'`)
	p.cut(false)
	p.until(`!document.body.innerText.includes('not yet sent')`)
	p.until(`document.querySelector('[data-check=backup-7]')?.dataset.state === 'failed'`)
	p.kept()
	g, err := p.store.Gear(context.Background(), p.team.ID)
	if err != nil {
		t.Fatal(err)
	}
	item := g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == "backup-7" })]
	if item.State != gear.Quarantine || len(item.Events) != 1 || item.Events[0].Note != "proof rolls: grinds" {
		t.Errorf("in the store: %+v", item)
	}
	// What to use instead, and what that asks for.
	p.button("What to use instead")
	p.do(chromedp.Click("[data-choice='backup-9'] button"))
	p.until(`document.querySelector('[data-check=backup-9]')?.dataset.state === 'not-done'`)
	p.until(`document.querySelector('[data-check=partner-rhea]')?.dataset.state === 'stale'`)
	var wrong []string
	p.do(chromedp.Click("[data-check=backup-9]"), chromedp.Evaluate(audit, &wrong))
	if len(wrong) > 0 {
		t.Error(fmt.Sprint(wrong))
	}
}
