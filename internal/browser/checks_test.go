package browser_test

import (
	"context"
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/google/uuid"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/demo"
	"zealousknot/internal/store"
)

// onDevice has the page put the program onto the device, and waits until the service worker has
// everything that is needed without a connection.
func (p *page) onDevice() {
	p.Helper()
	p.installs.Store(true)
	p.do(chromedp.Evaluate(`dispatchEvent(new Event('load'))`, nil))
	p.do(chromedp.Evaluate(`(async () => {
		for (;;) {
			const names = await caches.keys()
			const lists = await Promise.all(names.map(async (n) => (await (await caches.open(n)).keys()).map((r) => r.url)))
			window.onDevice = lists.flat().join(' ')
			await new Promise((r) => setTimeout(r, 50))
		}
	})(), 0`, nil))
	for _, what := range []string{"core-", "core.worker-", "/gear", "/people", "/drops/face-4"} {
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

// state waits until a check stands as it should.
func (p *page) state(check, state string) {
	p.Helper()
	p.until(fmt.Sprintf(`document.querySelector('[data-check=%q]')?.dataset.state === %q`, check, state))
}

// told gives the kinds of all records after a number, in order, with what they are
// about.
func (p *page) told(after int64) (list []string, last int64) {
	p.Helper()
	lines, err := p.store.RecordsOfDay(context.Background(), p.team.ID, "2026-11-24", "", store.Page{Limit: 500})
	if err != nil {
		p.Fatal(err)
	}
	last = after
	for _, l := range slices.Backward(lines) {
		if l.Number > after {
			list = append(list, string(l.Says.Kind)+" "+l.Says.Item+l.Says.Person+" by "+l.By)
			last = l.Number
		}
	}
	return list, last
}

// At the top without signal: a check half done is found again after a reload; one
// that fails takes its item out here at once and, when there is signal, everywhere:
// what was recorded arrives once and in order, and another browser shows it by
// itself. The partner check is somebody else's, and a changed rigging asks for it
// again.
func TestChecks(t *testing.T) {
	house := serve(t)
	p := house.browse(t, "rhea", "/drops/face-4/checks")
	_, before := p.told(0)
	p.do(chromedp.EmulateViewport(390, 844))
	p.says("main", "2 of 6 passed")
	p.press("[data-check=rope-3]")
	p.says("[data-do]", "Through the hand, end to end")
	p.press("[data-did]")
	p.says("main", "proof 2 of 4")
	p.do(chromedp.Reload())
	p.press("[data-check=rope-3]")
	p.says("main", "proof 2 of 4")
	p.button("undo")
	p.says("main", "proof 1 of 4")
	p.do(press("[data-did]"), press("[data-did]"), press("[data-did]"), press("[data-did]"))
	p.state("rope-3", "passed")
	// Nobody does the partner check of their own rigging; the other person's shows.
	p.until(`document.querySelector('[data-check=partner-rhea]').disabled`)
	ivo := house.browse(t, "ivo", "/drops/face-4/checks")
	ivo.prove("partner-rhea", 2)
	p.state("partner-rhea", "passed")

	p.onDevice()
	p.says("main", "4 of 6 passed")
	p.cut(true)
	// Without a connection the page comes from this device, and so does the core
	// that checks.
	p.again()
	p.says("main", "it is checked here")
	p.says("main", "4 of 6 passed")
	p.do(press("[data-check=backup-7]"), press("[data-off] summary"))
	p.says("[data-off]", "its links are slack")
	p.press("[data-did]")
	p.says("main", "proof 2 of 6")
	p.do(chromedp.SendKeys("main input", "grinds"), press("[data-did-not]"))
	p.says("[aria-label^='Check of']", "It rolls freely both ways")
	p.button("It failed: into quarantine")
	p.says("main", "wheel backup 7 is in quarantine")
	p.says("[data-waiting]", "1 not yet sent")
	p.state("backup-7", "failed")
	p.says("[data-found]", "4 stop")
	p.prove("rope-4", 4)
	p.prove("descender-14", 7)
	p.again()
	p.state("backup-7", "failed")
	p.state("rope-4", "passed")
	p.says("[data-waiting]", "3 not yet sent")

	// Meanwhile somebody stops the descender; nothing of this device is there yet.
	stop := &record.Batch{SentAt: now(), Records: []record.Entry{{
		ID: uuid.NewString(), Kind: record.Quarantine, GivenAt: now(), Day: "2026-11-24", Item: "descender-14", Note: "recalled", Quarantine: &record.Quarantined{Event: "recall"},
	}}}
	if _, err := p.store.Record(context.Background(), p.team, &record.Signer{Name: "Dov Pellister"}, stop); err != nil {
		t.Fatal(err)
	}
	// Another browser is at the store all the time.
	store := house.browse(t, "dov", "/store")
	store.until(`document.querySelector('[data-item=backup-7]')?.dataset.state === 'in-service'`)
	p.cut(false)
	store.until(`document.querySelector('[data-item=backup-7]')?.dataset.state === 'quarantine'`)
	p.until(`!document.querySelector('[data-waiting]')`)
	want := []string{
		"function-check rope-3 by Rhea Tolland", "partner-check rhea by Ivo Kestrane", "quarantine descender-14 by Dov Pellister",
		"function-check backup-7 by Rhea Tolland", "quarantine backup-7 by Rhea Tolland", "function-check rope-4 by Rhea Tolland", "function-check descender-14 by Rhea Tolland",
	}
	if got, _ := p.told(before); !slices.Equal(got, want) {
		t.Errorf("recorded %q, want %q", got, want)
	}
	// What met something else in the store is shown until it was read.
	p.says("[data-trouble]", "descender 14 is in state quarantine: recall: recalled")
	p.again()
	p.says("[data-trouble]", "descender 14")
	p.button("Read: put this notice aside")
	p.gone("[data-trouble]")
	p.state("backup-7", "failed")
	// What to use instead, and what that asks for.
	p.button("What to use instead of wheel backup 7")
	p.press("[data-choice='backup-9'] button")
	p.state("backup-9", "not-done")
	p.state("partner-rhea", "stale")
	p.kept()
	// What the partner finds amiss is read here, and mended on Kit.
	ivo.do(chromedp.Reload(), press("[data-check=partner-rhea]"), press("[data-did]"))
	ivo.says("main", "proof 2 of 2")
	ivo.do(chromedp.SendKeys("main input", "gate open", chromedp.NodeVisible), press("[data-did-not]"), press("main [role=alert] button:last-of-type"))
	ivo.state("partner-rhea", "failed")
	p.state("partner-rhea", "failed")
	p.says("[data-check=partner-rhea]", "it failed, by Ivo Kestrane: hold 2, gate open")
	p.until(`[...document.querySelectorAll('main a')].filter(a => a.innerText === 'Change it on Kit' && a.href.includes('rhea')).length === 1`)
	var wrong []string
	p.do(press("[data-check=backup-9]"), chromedp.Evaluate(audit(), &wrong))
	if len(wrong) > 0 {
		t.Error(fmt.Sprint(wrong))
	}
	// The store keeper brings it back, with what was checked.
	store.do(press("[data-item=backup-7]"), chromedp.SendKeys("form input", "opened and cleaned", chromedp.NodeVisible))
	store.button("Back in service")
	store.until(`document.querySelector('[data-item=backup-7]')?.dataset.state === 'in-service'`)
	// A notice that something is in quarantine goes when it is not.
	p.do(chromedp.Navigate(p.url+"/drops/face-4/checks"), press("[data-check=backup-9]"), press("[data-did-not]"))
	p.button("It cannot be put right: into quarantine")
	p.says("main [role=alert]", "wheel backup 9 is in quarantine")
	store.until(`document.querySelector('[data-item=backup-9]')?.dataset.state === 'quarantine'`)
	store.do(press("[data-item=backup-9]"), chromedp.SendKeys("form input", "it rolled after all", chromedp.NodeVisible))
	store.button("Back in service")
	p.until(`!document.querySelector('main').innerText.includes('wheel backup 9 is in quarantine')`)
	p.says("[data-check=descender-14]", "is in quarantine: recall")
}

// A check is signed by answers given on its screen after it was opened, and by nothing
// else: not by opening it again, not by answers to another day's check, not by those
// that an earlier version of the page left behind, nor by a second tap.
func TestCheckIsSignedByItsAnswersAlone(t *testing.T) {
	p := serve(t).browse(t, "maren", "/drops/face-7/checks")
	p.do(chromedp.EmulateViewport(390, 844))
	_, last := p.told(0)
	recorded := func(want ...string) {
		t.Helper()
		p.until(`!document.querySelector('[data-waiting]')`)
		var got []string
		if got, last = p.told(last); !slices.Equal(got, want) {
			t.Errorf("recorded %q, want %q", got, want)
		}
	}
	const rope = "function-check rope-17 by Maren Oake"
	p.prove("rope-17", 4)
	recorded(rope)
	for range 3 {
		p.press("[data-check=rope-17]")
		p.says("main", "proof 1 of 4")
		p.gone("[data-half-done]")
		p.button("all checks")
		p.state("rope-17", "passed")
	}
	recorded()
	// Complete answers that an interruption left are not signed by opening the check.
	p.do(press("[data-check=rope-17]"), press("[data-did]"))
	p.says("main", "proof 2 of 4")
	p.do(chromedp.Evaluate(`for (const k of Object.keys(localStorage).filter((k) => k.startsWith('proofs:'))) {
		const v = JSON.parse(localStorage[k])
		v.results = v.results.concat(['knots', 'end', 'gates'].map((proof) => ({ proof, did: true })))
		localStorage[k] = JSON.stringify(v)
		localStorage['checking:' + JSON.parse(k.slice(7))[0] + ':face-7'] = JSON.stringify({ x: v.results })
	}`, nil), chromedp.Reload())
	p.press("[data-check=rope-17]")
	p.says("[data-half-done]", "Half done: you answered 3 of 4")
	p.until(`!Object.keys(localStorage).some((k) => k.startsWith('checking:'))`)
	p.button("Begin again")
	p.says("main", "proof 1 of 4")
	p.gone("[data-half-done]")
	// A tap that comes twice answers one proof.
	p.do(chromedp.Evaluate(`document.querySelector('[data-did]').dispatchEvent(new MouseEvent('click', { detail: 1, bubbles: true }))`, nil))
	p.says("main", "proof 2 of 4")
	p.do(chromedp.Evaluate(`document.querySelector('[data-did]').dispatchEvent(new MouseEvent('click', { detail: 2, bubbles: true }))`, nil))
	p.says("main", "proof 2 of 4")
	recorded()
	// On another day the same check begins anew.
	ctx := context.Background()
	d, err := p.store.Drop(ctx, p.team.ID, "face-7")
	if err != nil {
		t.Fatal(err)
	}
	d.Document.Day = "2026-11-25"
	if _, err := p.store.SaveDrop(ctx, p.team, &record.Signer{Name: "Somebody"}, d.ID, d.Version, d.Document); err != nil {
		t.Fatal(err)
	}
	p.says("main", "proof 1 of 4")
	p.button("all checks")
	p.says("main", "Checks for 2026-11-25")
	p.state("rope-17", "not-done")
	p.press("[data-check=rope-17]")
	p.says("main", "proof 1 of 4")
	p.gone("[data-half-done]")
	recorded()
	// One that failed is recorded by the press that says so, not by opening it.
	p.press("[data-did-not]")
	p.says("[role=alert]", "It did not")
	p.do(chromedp.Reload())
	p.press("[data-check=rope-17]")
	p.says("[role=alert]", "It did not")
	recorded()
	p.button("It failed: into quarantine")
	p.state("rope-17", "failed")
}

func now() string { return time.Now().UTC().Format(time.RFC3339Nano) }

// A plan is checked, released with its reasons, and taken back by what is changed.
func TestPlanStates(t *testing.T) {
	p := serve(t)
	ctx := context.Background()
	d, err := p.store.Drop(ctx, p.team.ID, "gate-shaft")
	if err != nil {
		t.Fatal(err)
	}
	d.Document.People[0].Carries = slices.DeleteFunc(d.Document.People[0].Carries, func(i string) bool { return i == "gloves-2" })
	if _, err := p.store.SaveDrop(ctx, p.team, &record.Signer{Name: "Somebody"}, d.ID, d.Version, d.Document); err != nil {
		t.Fatal(err)
	}
	p = p.browse(t, "dov", "/drops/gate-shaft")
	p.says("[data-plan=draft]", "draft")
	p.button("Mark as checked")
	p.says("[data-plan=checked]", "by Dov Pellister")
	// A press counts once what was found is known for this version.
	p.until(`(() => {
		const asked = document.querySelector("[data-plan] form [data-reason='hands.gloves']")
		if (!asked) [...document.querySelectorAll('[data-plan] button')].find((b) => b.textContent.includes('Release for use') && !b.disabled)?.click()
		return asked
	})()`)
	p.until(`document.querySelector('[data-plan] form button').disabled`)
	p.do(chromedp.SendKeys("[data-reason='hands.gloves']", "they lie at the deck"))
	p.button("Release and sign")
	p.says("[data-plan=released]", "by Dov Pellister")
	// Another browser sees it by itself; what matters takes it back, undone or not.
	ivo := p.browse(t, "ivo", "/drops/gate-shaft")
	ivo.says("[data-plan=released]", "released")
	p.typeInto("/people/0/mass_kg", "90")
	ivo.says("[data-plan=draft]", "people, Ivo Kestrane, mass: 81 kg → 90 kg")
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil), chromedp.KeyEvent("u"))
	p.says("[data-pointer='/people/0/mass_kg']", "81")
	p.says("[data-plan=draft]", "81 kg → 90 kg")
}

// What is checked on another drop is to be checked again here, also while neither is sent.
func TestCheckedElsewhere(t *testing.T) {
	p := open(t, "/")
	today := gear.Date(time.Now().In(p.team.Location()).Format(time.DateOnly))
	p.changed("face-4", func(d *drop.Document) { d.Day = today })
	d, err := p.store.Drop(t.Context(), p.team.ID, "face-4")
	if err == nil {
		_, err = p.store.AddDrop(t.Context(), p.team.ID, &record.Signer{Name: "Somebody"}, "beside", d.Document)
	}
	if err != nil {
		t.Fatal(err)
	}
	p.do(chromedp.Navigate(p.url + "/drops/beside/checks"))
	p.prove("rope-4", 4)
	p.gone("[data-waiting]")
	p.do(chromedp.Navigate(p.url + "/drops/face-4/checks"))
	p.state("rope-4", "stale")
	p.says("main", "it was done on another drop, beside")
	p.onDevice()
	p.cut(true)
	p.prove("rope-4", 4)
	p.state("rope-4", "passed")
	p.do(chromedp.Navigate(p.url + "/drops/beside/checks"))
	p.says("main", "it is checked here")
	p.state("rope-4", "stale")
	p.says("main", "it was checked on another drop since, face-4")
	p.cut(false)
	p.gone("[data-waiting]")
	p.state("rope-4", "stale")
}

// Signing in by the page, going over to another team and out again; what was kept
// on the device for one person is missing for the next. A reader changes nothing.
func TestSignInPage(t *testing.T) {
	p := serve(t).browse(t, "", "/drops/gate-shaft")
	p.says("h1", "Sign in")
	p.do(chromedp.SendKeys("[name=login]", "dov"), chromedp.SendKeys("[name=password]", "not it"), press("form button"))
	p.says("[role=alert]", "login or password is wrong")
	p.press("[data-account=dov]")
	p.says("h1", "Gate shaft")
	p.onDevice()
	p.press("[data-me]")
	p.button("Carrow Vale practice group")
	p.says("main", "supervisor, trainer in Carrow Vale practice group")
	p.button("Drops")
	p.says("#app", "No drop yet")
	p.do(press("[data-me]"), press("[data-sign-out]"))
	p.says("h1", "Sign in")
	p.until(`(caches.open('answers').then((c) => c.keys()).then((k) => (window.there = k.map((r) => r.url).join(' '))),
		window.there !== undefined && !window.there.includes('/drops'))`)
	p.press("[data-account=sunniva]")
	p.says("[data-me]", "Sunniva Arrel")
	p.do(chromedp.Navigate(p.url + "/drops/gate-shaft"))
	p.says("h1", "Gate shaft")
	p.typeInto("/people/0/mass_kg", "120")
	p.says("[data-keeping]", "not kept: your roles change no drop")
	p.until(`!document.querySelector('[data-plan] button')`)
	if d, err := p.store.Drop(context.Background(), p.team.ID, "gate-shaft"); err != nil || d.Version != 1 {
		t.Errorf("%+v %v", d, err)
	}
}

// BenchmarkToSecondBrowser tells how long after it was recorded a quarantine shows in
// a browser that looks at the store.
func BenchmarkToSecondBrowser(b *testing.B) {
	p := serve(b).browse(b, "dov", "/store")
	p.until(`document.querySelector('[data-item=connector-41]')`)
	items := []string{"connector-41", "connector-42", "connector-43", "connector-44", "connector-45", "connector-46", "connector-47", "connector-48"}
	b.ResetTimer()
	for _, item := range items[:min(b.N, len(items))] {
		e := record.Entry{ID: uuid.NewString(), Kind: record.Quarantine, GivenAt: now(), Day: "2026-11-24", Item: item, Quarantine: &record.Quarantined{Event: "dropped"}}
		if _, err := p.store.Record(context.Background(), p.team, &record.Signer{}, &record.Batch{SentAt: now(), Records: []record.Entry{e}}); err != nil {
			b.Fatal(err)
		}
		p.until(fmt.Sprintf(`document.querySelector('[data-item=%s]')?.dataset.state === 'quarantine'`, item))
	}
}

// Beside one proof after the other: all on one screen, by a long press, for who knows the model;
// what was done on paper; and the partner's own PIN on this device.
func TestOtherWaysToSign(t *testing.T) {
	house := serve(t)
	p := house.browse(t, "rhea", "/drops/face-4/checks")
	_, before := p.told(0)
	p.do(chromedp.EmulateViewport(390, 844))
	// A rope has no model that one knows; a device that one was shown has.
	p.press("[data-check=rope-4]")
	p.says("main", "proof 1 of 4")
	p.gone("[data-at-once]")
	p.button("all checks")
	p.press("[data-check=descender-14]")
	p.press("[data-at-once]")
	p.says("[data-all]", "7 proofs of descender 14")
	p.press("[data-singly]")
	p.says("main", "proof 1 of 7")
	p.press("[data-at-once]")
	// Let go too soon, nothing is signed.
	p.until(holding(`e.dispatchEvent(new PointerEvent('pointerup', { bubbles: true }))`))
	p.says("[data-hold]", "Hold: all 7 did")
	p.until(holding(""))
	p.state("descender-14", "passed")

	// From paper: by whom and when it was done.
	p.press("[data-to-paper]")
	p.says("[data-from-paper]", "You type what was done on paper")
	p.press("[data-check=rope-4]")
	p.until(`document.querySelector('[data-paper-done]').disabled`)
	p.selected("[data-paper-by]", "maren")
	p.press("[data-paper-passed]")
	p.press("[data-paper-done]")
	p.state("rope-4", "passed")
	p.button("No more paper")
	p.gone("[data-from-paper]")

	// The partner check of one's own rigging: by the partner's PIN alone.
	p.press("[data-by-partner]")
	p.do(press("[data-did]"), press("[data-did]"))
	p.says("[data-pin-sign]", "Nobody else of the team has a PIN yet")
	ivo := house.browse(t, "ivo", "/me")
	ivo.typed("[data-pin-password]", demo.Password)
	ivo.typed("[data-pin-new]", "111111")
	ivo.press("[data-pin-set]")
	ivo.says("[data-pin-said]", "anybody would try this one")
	ivo.typed("[data-pin-new]", "905172")
	ivo.press("[data-pin-set]")
	ivo.says("[data-pin-said]", "Set.")
	p.button("Leave it unsigned")
	p.state("partner-rhea", "not-done")
	p.press("[data-by-partner]")
	p.do(press("[data-did]"), press("[data-did]"))
	sign := func(pin string) {
		p.until(`[...document.querySelectorAll('[data-partner] option')].length`)
		p.selected("[data-partner]", fmt.Sprint(ivo.account("ivo")))
		p.typed("[data-pin]", pin)
		p.press("[data-pin-done]")
	}
	sign("905173")
	p.says("[data-pin-sign] [role=alert]", "is not this person's")
	p.cut(true)
	sign("905172")
	p.says("[data-pin-sign] [role=alert]", "the PIN is kept nowhere")
	p.cut(false)
	sign("905172")
	p.says("[data-signed]", "signed by Ivo Kestrane")
	p.state("partner-rhea", "passed")
	want := []string{"function-check descender-14 by Rhea Tolland", "function-check rope-4 by Rhea Tolland", "partner-check rhea by Ivo Kestrane"}
	if list, _ := p.told(before); !slices.Equal(list, want) {
		t.Errorf("%q, want %q", list, want)
	}
	p.do(chromedp.Navigate(p.url + "/records?day=2026-11-24"))
	p.says("[data-on-paper]", "done by Maren Oake on paper")
	p.says("[data-on-device]", "on the device of Rhea Tolland")
	p.says("main", "all proofs signed at once")
}

// holding is an expression that begins to hold the button that signs, and does more.
func holding(more string) string {
	return `(() => {
		const e = document.querySelector('[data-hold]')
		if (!e) return false
		e.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, button: 0 }))
		` + more + `
		return true
	})()`
}

// What somebody wears is signed at once, with what is not as it must be: that is said before
// anything can be signed, goes into quarantine here at once, and alone waits for another look.
// From paper each thing is recorded too.
func TestWhatIsWorn(t *testing.T) {
	p := serve(t).browse(t, "rhea", "/drops/face-4/checks")
	_, before := p.told(0)
	p.do(chromedp.EmulateViewport(390, 844))
	p.says("[data-check=worn-rhea]", "13 things")
	p.press("[data-check=worn-rhea]")
	p.says("[data-worn]", "Harness, lanyards and connectors: 13 things")
	p.says("[data-hold]", "Hold: all 13 as they must be")
	p.press("[data-worn-item=absorber-11] [data-wrong]")
	p.says("[data-worn] [role=status]", "Say what is wrong with absorber 11")
	p.gone("[data-hold]")
	// Turned back, everything may be signed again; then it is said.
	p.press("[data-worn-item=absorber-11] [data-wrong]")
	p.says("[data-hold]", "Hold: all 13 as they must be")
	p.press("[data-worn-item=absorber-11] [data-wrong]")
	p.typed("[data-wrong-note]", "loop drawn out")
	p.says("[data-hold]", "Hold: 12 as they must be, 1 into quarantine")
	p.until(holding(`e.dispatchEvent(new PointerEvent('pointerup', { bubbles: true }))`))
	p.onDevice()
	p.cut(true)
	p.until(holding(""))
	p.state("worn-rhea", "failed")
	p.says("[data-aside]", "absorber 11 is in quarantine")
	p.says("[data-check=worn-rhea]", "absorber 11 was not as it must be, by Rhea Tolland: loop drawn out")
	p.cut(false)
	p.gone("[data-waiting]")
	p.says("[data-check=worn-rhea]", "1 thing")
	want := []string{"worn-check rhea by Rhea Tolland", "quarantine absorber-11 by Rhea Tolland"}
	list, last := p.told(before)
	if !slices.Equal(list, want) {
		t.Errorf("%q, want %q", list, want)
	}
	p.press("main a[href$='/kit/rhea']")
	p.says("main", "absorber 11")
	p.do(chromedp.Navigate(p.url + "/drops/face-4/checks"))

	p.press("[data-to-paper]")
	p.press("[data-check=worn-rhea]")
	p.selected("[data-paper-by]", "rhea")
	p.press("[data-paper-passed]")
	p.press("[data-paper-done]")
	// What is in quarantine passes by no signature.
	p.says("[data-check=worn-rhea]", "absorber 11 is in quarantine: failed check: loop drawn out")
	p.state("worn-rhea", "failed")
	p.gone("[data-waiting]")
	if list, _ := p.told(last); !slices.Equal(list, want[:1]) {
		t.Errorf("%q", list)
	}
	p.do(chromedp.Navigate(p.url + "/records?day=2026-11-24"))
	p.says("[data-record=worn-check]", "done by Rhea Tolland on paper")
	p.until(`[...document.querySelectorAll('[data-record=worn-check]')].some((e) => e.innerText.includes('absorber 11: loop drawn out'))`)
}

// A check that counts runs out on the page too, by its own clock and without a connection; one
// of a day that is past stays.
func TestShiftRunsOut(t *testing.T) {
	p := serve(t).browse(t, "rhea", "/drops/face-4/checks")
	p.state("descender-14", "passed")
	p.until(`![...document.querySelectorAll('[data-check]')].some((e) => e.dataset.state === 'stale')`)
	p.changed("face-4", func(d *drop.Document) { d.Day = gear.Date(time.Now().UTC().Format(time.DateOnly)) })
	p.state("descender-14", "not-done")
	p.onDevice()
	p.cut(true)
	p.prove("rope-3", 4)
	p.state("rope-3", "passed")
	for n, state := range []string{"passed", "stale"} {
		p.do(chromedp.Evaluate(fmt.Sprintf(`window.realNow ??= Date.now; Date.now = () => window.realNow() + %d * 3600000; 0`, 13+2*n), nil))
		// What is asked next is asked by the clock of then.
		p.do(press("nav a[href$='/face-4']"))
		p.until(`location.pathname.endsWith('/face-4')`)
		p.do(press("nav a[href$='/face-4/checks']"))
		p.state("rope-3", state)
	}
	p.says("[data-check=rope-3]", "its shift is over: it counted until")
}

// account is of a login.
func (p *page) account(login string) uuid.UUID {
	p.Helper()
	members, err := p.store.Members(p.ctx, p.team.ID)
	if err != nil {
		p.Fatal(err)
	}
	return members[slices.IndexFunc(members, func(m store.Membership) bool { return m.Login == login })].Account
}
