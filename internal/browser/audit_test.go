package browser_test

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
	"github.com/google/uuid"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/glossary"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/demo"
)

// measures holds a page against WCAG 2.2 AA, and against what gloves need: it gives what is
// wrong, in words.
const measures = `((ids) => {
  const wrong = []
  for (const word of document.body.innerText.match(/[a-z0-9]+(?:[-.][a-z0-9]+)+/g) || [])
    if (ids.includes(word)) wrong.push('an id: ' + word)
  const name = (e) => e.tagName.toLowerCase() + ' "' + (e.getAttribute('aria-label') || e.textContent).trim().slice(0, 40) + '"'
  const seen = (e) => e.checkVisibility({ visibilityProperty: true }) && !e.closest('.sr-only')
  if (document.documentElement.scrollWidth > innerWidth) wrong.push('wider than the screen: ' + document.documentElement.scrollWidth)
  if (document.querySelectorAll('h1').length !== 1) wrong.push('has not one h1')
  for (const e of document.querySelectorAll('a, button, input, summary, [role=slider], [role=link]')) {
    if (!seen(e)) continue
    if (!(e.getAttribute('aria-label') || e.textContent.trim() || e.labels?.length)) wrong.push('no name: ' + e.outerHTML.slice(0, 80))
    // Links in running text have their page beside them.
    if (e.closest('footer')) continue
    const box = (e.closest('label') || e).getBoundingClientRect()
    // Names on the rail stand at heights that are near each other.
    if (e.getAttribute('role') === 'link') {
      if (box.height < 23.5) wrong.push('too near others, ' + Math.round(box.height) + ' px: ' + name(e))
      continue
    }
    if (box.height < 43.5) wrong.push('too small for gloves, ' + Math.round(box.height) + ' px: ' + name(e))
  }
  const rgb = (c) => (c.match(/[\d.]+/g) || []).map(Number)
  const light = ([r, g, b]) => [r, g, b].map((v) => ((v /= 255) <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4))
    .reduce((sum, v, i) => sum + v * [0.2126, 0.7152, 0.0722][i], 0)
  const ground = (e) => {
    for (; e; e = e.parentElement) {
      const c = rgb(getComputedStyle(e).backgroundColor)
      if (c.length === 3 || c[3] > 0.99) return c
    }
    return rgb(getComputedStyle(document.documentElement).backgroundColor)
  }
  const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
  for (let t = texts.nextNode(); t; t = texts.nextNode()) {
    const e = t.parentElement
    if (!t.data.trim() || !seen(e) || e.closest(':disabled, script, style')) continue
    const s = getComputedStyle(e)
    const svg = e.closest('svg')
    // Letters on the round sign of a person stand on the accent colour.
    const under = svg && e.getAttribute('fill') === 'var(--on-accent)' ? rgb(getComputedStyle(e.parentElement.querySelector('circle')).fill) : ground(e)
    const [a, b] = [light(rgb(svg ? s.fill : s.color)), light(under)].sort((x, y) => y - x)
    const size = parseFloat(s.fontSize)
    const large = size >= 24 || (size >= 18.66 && Number(s.fontWeight) >= 700)
    if ((a + 0.05) / (b + 0.05) < (large ? 3 : 4.5)) wrong.push('contrast ' + ((a + 0.05) / (b + 0.05)).toFixed(2) + ': ' + name(e))
    if (size < 11.5) wrong.push('letters of ' + size + ' px: ' + name(e))
  }
  return [...new Set(wrong)]
})`

// audit is what measures a page, in its own language.
var audit = sync.OnceValue(func() string {
	list, err := json.Marshal(hyphened())
	if err != nil {
		panic(err) // texts alone
	}
	return measures + "(" + string(list) + ")"
})

// hyphened are ids that would be seen to be ids if a page showed them.
func hyphened() []string {
	ids := []string{}
	add := func(id string) {
		if strings.ContainsAny(id, "-.") && !slices.Contains(english, id) {
			ids = append(ids, id)
		}
	}
	for _, r := range fit.Rules {
		add(string(r.ID))
	}
	for _, m := range manoeuvre.Moves {
		add(m.Name)
	}
	for _, a := range manoeuvre.Person {
		add(string(a.Do))
	}
	for id := range procedure.Titles {
		add(id)
	}
	g := demo.Gear()
	for _, m := range g.Models {
		add(m.ID)
		add(string(m.Class))
	}
	for _, i := range g.Items {
		add(i.ID)
	}
	for _, k := range []record.Kind{record.FunctionCheck, record.PartnerCheck, record.BackInService, record.RopeNote, record.RopeCutting, record.KitIssue, record.KitReturn} {
		add(string(k))
	}
	return ids
}

// auditor is a common audit of accessibility; it is no part of what is shipped.
var auditor = sync.OnceValues(func() (string, error) {
	text, err := os.ReadFile("../../web/node_modules/axe-core/axe.min.js")
	return string(text), err
})

// audited gives what that audit finds serious on a page, by its rules for WCAG 2.2 AA and for
// what is good practice.
func (p *page) audited() (wrong []string) {
	p.Helper()
	source, err := auditor()
	if err != nil {
		p.Fatal(err)
	}
	p.do(chromedp.Evaluate(source+`; 0`, nil), chromedp.Evaluate(`axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice', 'experimental'], resultTypes: ['violations'] })
		.then((r) => r.violations.flatMap((v) => v.nodes.map((n) => v.impact + ' ' + v.id + ': ' + n.html.slice(0, 120))))`, &wrong, waits))
	return wrong
}

// english are ids that are words of the language too.
var english = []string{"pick-off"}

// Every page in every look, at the laptop and on the phone: nothing wider than
// the screen, everything named, large enough for gloves, and read in the sun.
func TestPagesAreMeasured(t *testing.T) {
	p := open(t, "/")
	p.do(chromedp.Evaluate(`localStorage.setItem('curves-open', 'true')`, nil))
	now, ringing := time.Now().UTC().Format(time.RFC3339), "3c7c1f6e-0000-4000-8000-00000000000a"
	if _, err := p.store.GiveCallout(p.ctx, p.team.ID, &record.Signer{Name: "Dov Pellister"}, uuid.MustParse(ringing), &callout.Document{Format: callout.Format, Version: 1, Name: "Callout", Day: demo.Day, BeganAt: now, KnownAt: now}); err != nil {
		t.Fatal(err)
	}
	joint := p.joined(t, "lower-past-knot")
	for _, path := range []string{"/", "/practice/joint/" + joint, "/store", "/records?day=2026-11-24", "/people", "/me", "/tables", "/glossary", "/figures/fall", "/figures/anchor", "/due", "/examine", "/store/kits", "/callout", "/callout/" + ringing, "/preplans", "/practice", "/practice/do/faults?seed=5&level=2", "/practice/do/move?seed=3&level=2", "/practice/do/apart?seed=3", "/practice/skills", "/practice/class/new", "/preplans/basin-wall", "/store/recalls", "/store/item/backup-34", "/drops/face-7/checks", "/drops/face-4", "/drops/spillway-lip/kit", "/drops/gate-shaft/moves", "/drops/basin-wall/team", "/drops/basin-wall/team?view=rig", "/drops/basin-wall/team?view=heights", "/drops/basin-wall/team?view=places", "/drops/face-7/rescue?person=ivo&at=50", "/drops/face-7/run", "/drops/face-7/history", "/day/2026-11-24", "/join#none"} {
		p.do(chromedp.EmulateViewport(1280, 844), chromedp.Navigate(p.url+path))
		ready := "[data-found], [data-offers], [data-row], ul a, [data-item], [data-record], [data-glossary-term], main table, main li, main input, [data-familiar], [data-sign-out], [data-begin], form"
		if path == "/store/recalls" || strings.Contains(path, "/item/") {
			ready = "main h1"
		}
		p.until(`document.querySelector('` + ready + `') && document.fonts.status === 'loaded'`)
		if strings.HasSuffix(path, ringing) {
			p.until(`document.querySelector('[data-line=belay]')`)
		}
		if strings.HasSuffix(path, joint) {
			p.until(`document.querySelector('[data-sees] li') && document.querySelector('[data-call]')`)
		}
		if strings.Contains(path, "/day/") || strings.HasSuffix(path, "/run") {
			p.until(`document.querySelector('[data-lane], [data-make]')`)
		}
		if strings.Contains(path, "face-4") {
			p.until(`document.querySelector('[data-curve] canvas') && document.querySelector('[data-figure]')`)
		}
		if strings.Contains(path, "team") {
			p.until(`document.querySelector('[data-column], [data-choice], [data-plots] canvas, [data-roles]')`)
		}
		if strings.Contains(path, "rescue") {
			p.until(`document.querySelector('[data-column]') && document.querySelector('[data-strip] rect')`)
		}
		for _, look := range []string{"paper", "night", "sun", "wall"} {
			p.do(chromedp.Evaluate(fmt.Sprintf(`dispatchEvent(new StorageEvent('storage', { key: 'look', newValue: %q, storageArea: localStorage }))`, look), nil))
			for _, width := range []int64{1280, 390} {
				if look == "wall" && width == 390 {
					continue // a projector is wide
				}
				var wrong []string
				p.do(chromedp.EmulateViewport(width, 844))
				p.until(fmt.Sprintf(`document.documentElement.dataset.look === %q && innerWidth === %d`, look, width))
				// What follows a change of width is drawn in the next frame.
				p.do(chromedp.Evaluate(`new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))`, nil, waits), chromedp.Evaluate(audit(), &wrong))
				if look == "paper" && width == 1280 {
					wrong = append(wrong, p.audited()...)
				}
				for _, w := range wrong {
					t.Errorf("%s, %s, %d px wide: %s", path, look, width, w)
				}
			}
		}
	}
}

func waits(p *runtime.EvaluateParams) *runtime.EvaluateParams { return p.WithAwaitPromise(true) }

// A drop from nothing, by what the screens offer alone: what is missing is said
// first, and in the end nothing is found.
func TestBuildFromNothing(t *testing.T) {
	p := open(t, "/")
	p.button("Start an empty drop")
	p.says("[data-found]", "nothing to look at yet")
	// The page moves when the check's answer comes: each is there before the next press.
	p.press("[data-pair]")
	p.until(`document.querySelector('[data-pointer^="/strands/1/"]')`)
	p.gone("[data-pair]")
	// One press is one change.
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil), chromedp.KeyEvent("u"))
	p.says("#anchors", "No anchor yet")
	p.button("Add an anchor")
	p.until(`document.querySelector('[data-pointer^="/anchors/0/"]')`)
	p.button("Add an anchor")
	p.until(`document.querySelector('[data-pointer^="/anchors/1/"]')`)
	p.button("Hang a main strand")
	p.until(`document.querySelector('[data-pointer^="/strands/0/"]')`)
	p.button("Hang a backup strand")
	p.until(`document.querySelector('[data-pointer^="/strands/1/"]')`)
	p.button("Ivo Kestrane")
	p.until(`document.querySelector('[data-pointer="/people/0/mass_kg"]')`)
	p.typeInto("/people/0/at_m", "12")
	p.do(chromedp.KeyEvent("2"))
	p.says("main", "No hold yet")
	p.button("descender")
	p.until(`document.querySelectorAll('[aria-label^="Load path"]').length === 1`)
	p.button("backup device")
	p.until(`document.querySelectorAll('[aria-label^="Load path"]').length === 2`)
	// On the ground two holds are not asked for; hanging on devices that nobody
	// has proved is.
	p.says("[data-rule='service.function-check']", "No function check")

	ctx := context.Background()
	p.until(`document.querySelector('[data-keeping]')?.innerText === 'kept'`)
	list, err := p.store.Drops(ctx, p.team.ID, 1)
	if err != nil || len(list) != 1 || list[0].Document.Name != "New drop" {
		t.Fatal(list, err)
	}
	d := list[0].Document
	if len(d.Anchors) != 2 || len(d.Strands) != 2 || len(d.People) != 1 || len(d.People[0].Holds) != 2 || d.People[0].AtM != 12 {
		t.Errorf("kept %+v", d)
	}
	if d.People[0].Holds[0].Strand == d.People[0].Holds[1].Strand {
		t.Error("both holds are on one strand")
	}
	if err := p.store.Present(ctx, p.team, list[0]); err != nil {
		t.Fatal(err)
	}
	for _, s := range d.Strands {
		if i := slices.IndexFunc(d.Items, func(i gear.Item) bool { return i.ID == s.Ropes[0] }); d.Items[i].LengthM < d.Geometry.TopM || s.Anchors[0] != fmt.Sprintf("anchor-%d", 1+slices.Index([]rig.Role{rig.Main, rig.Backup}, s.Role)) {
			t.Errorf("%+v hangs on %v", d.Items[i], s.Anchors)
		}
	}
	// The command box and the key list, by key alone.
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil), chromedp.KeyEvent("?"))
	p.says("[role=dialog]", "undo the last change")
	p.do(chromedp.KeyEvent("\u001b"))
	p.gone("[role=dialog]")
	// One event, as a keyboard sends it, so that the page can keep the character.
	p.do(input.DispatchKeyEvent(input.KeyDown).WithKey("/").WithText("/"), input.DispatchKeyEvent(input.KeyUp).WithKey("/"))
	p.until(`document.activeElement?.getAttribute('aria-label') === 'Find'`)
	p.do(chromedp.KeyEvent("gate sh"))
	p.says("[role=option]", "Gate shaft")
	p.do(input.DispatchKeyEvent(input.KeyDown).WithKey("Enter").WithCode("Enter").WithText("\r").WithWindowsVirtualKeyCode(13))
	p.says("[data-found]", "nothing found")
}

// One step rigs a drop: somebody reads the proposal, puts it in, and confirms the anchors;
// after an edit an older proposal cannot be put in.
func TestRigIt(t *testing.T) {
	p := open(t, "/")
	p.button("Start an empty drop")
	p.says("[data-found]", "nothing to look at yet")
	p.button("Ivo Kestrane")
	p.until(`document.querySelector('[data-pointer="/people/0/mass_kg"]')`)
	// What was saved comes back with the store's records, and makes a proposal void: the
	// button is pressed until there is one.
	proposed := func(says string) {
		t.Helper()
		p.until(`document.querySelector('[data-keeping]')?.innerText === 'kept'`)
		p.until(fmt.Sprintf(`(() => {
			const there = %s
			const ask = document.querySelector('[data-rig-it]')
			if (!there && ask && !ask.disabled && !document.querySelector('[data-proposal]')) ask.click()
			return Boolean(there)
		})()`, says))
	}
	proposed(`document.querySelector('[data-proposal]')?.innerText.includes('Proposed, not yet put in')`)
	p.says("[data-proposal]", "next best")
	p.typeInto("/people/0/mass_kg", "250")
	p.gone("[data-proposal]")
	proposed(`document.querySelector('[data-lacks]')?.innerText.includes('250 kg')`)
	p.typeInto("/people/0/mass_kg", "90")
	proposed(`document.querySelector('[data-proposal]') && !document.querySelector('[data-lacks]')`)
	p.press("[data-put-in]")
	p.gone("[data-proposal]")
	p.says("[data-rule='anchor.confirm']", "nobody has confirmed it")
	for range 2 {
		p.press("[data-confirm]")
	}
	p.gone("[data-rule='anchor.confirm']")
	p.until(`document.querySelector('[data-keeping]')?.innerText === 'kept'`)
	list, err := p.store.Drops(t.Context(), p.team.ID, 1)
	if err != nil || len(list[0].Document.People[0].Holds) != 2 || len(list[0].Document.Strands) != 2 || list[0].Document.Anchors[0].Proposed {
		t.Errorf("kept %+v %v", list[0].Document, err)
	}
	if err := p.store.Present(t.Context(), p.team, list[0]); err != nil {
		t.Fatal(err)
	}
	report, err := check.Drop(t.Context(), list[0].Document, nil, check.WithFigures)
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range report.Findings {
		if f.Severity == finding.Stop && f.Rule != "service.function-check" {
			t.Errorf("%s: %s", f.Rule, f.What)
		}
	}
}

// A long list of drops says that there are more, gives them, and finds any of them.
func TestManyDrops(t *testing.T) {
	house := serve(t)
	for n := range 60 {
		d := demo.Drops()["gate-shaft"]
		d.Name, d.People, d.PartnerChecks = fmt.Sprintf("Bay %02d", n), nil, nil
		if _, err := house.store.AddDrop(t.Context(), house.team.ID, somebody, fmt.Sprintf("bay-%02d", n), d); err != nil {
			t.Fatal(err)
		}
	}
	p := house.browse(t, "dov", "/")
	shown := func(n int) {
		t.Helper()
		p.until(fmt.Sprintf(`document.querySelectorAll('main ul a').length === %d`, n))
	}
	shown(50)
	p.press("[data-older]")
	shown(60 + len(demo.Drops()))
	p.gone("[data-older]")
	p.do(chromedp.SendKeys("[data-find]", "bay 07"))
	shown(1)
	p.do(chromedp.SendKeys("[data-find]", "x"))
	p.says("main", "No drop has these letters")
	p.press("header button:has(kbd)")
	p.do(chromedp.SendKeys("[aria-label=Find]", "bay 03", chromedp.NodeVisible))
	p.until(`[...document.querySelectorAll('[role=option]')].some((o) => o.innerText.includes('Bay 03'))`)
}

// A dotted word explains itself by tap and by key; the list of keys leads to every word, where
// another region's name finds it.
func TestGlossary(t *testing.T) {
	p := open(t, "/drops/face-4")
	p.press("[data-term=strand]")
	p.says("[data-term-means]", "hang from an anchor")
	p.says("[data-term-means]", "also called: line")
	p.do(chromedp.KeyEvent("\u001b"))
	p.gone("[data-term-means]")
	p.do(chromedp.Focus("[data-term=anchor]"))
	p.says("[data-term-means]", "What a strand hangs from")
	p.do(chromedp.Evaluate(`document.activeElement.blur()`, nil))
	p.gone("[data-term-means]")
	p.do(chromedp.KeyEvent("?"))
	p.press("[data-glossary]")
	p.until(fmt.Sprintf(`document.querySelectorAll('[data-glossary-term]').length === %d`, len(glossary.Terms)))
	p.do(chromedp.SendKeys("[data-find-term]", "cow's"))
	p.until(`document.querySelectorAll('[data-glossary-term]').length === 1`)
	p.says("[data-glossary-term]", "lanyard")
	p.do(chromedp.SendKeys("[data-find-term]", "zz"))
	p.says("main", "No word with these letters")
	// Every dotted word of the pages is in the table: an unknown one would explain nothing.
	files, err := filepath.Glob("../../web/src/*/*.vue")
	if err != nil || len(files) < 50 {
		t.Fatal(len(files), err)
	}
	for _, f := range files {
		text, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		for _, m := range termWord.FindAllStringSubmatch(string(text), -1) {
			if term, ok := glossary.Find(m[1]); !ok || term.Word != m[1] {
				t.Errorf("%s: %q is not in the glossary", f, m[1])
			}
		}
	}
}

var termWord = regexp.MustCompile(`<TermWord word="([^"]*)"`)
