package browser_test

import (
	"errors"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
	"github.com/google/uuid"
	"github.com/xuri/excelize/v2"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/store"
)

// somebody is another store keeper.
var somebody = &record.Signer{Account: uuid.New(), Name: "Somebody", Nobody: true}

// fill types into the field of a form, or chooses there.
func (p *page) fill(pointer, text string) {
	p.Helper()
	at := fmt.Sprintf(`[data-field=%q] :is(input, select, textarea)`, pointer)
	p.until(fmt.Sprintf(`document.querySelector(%q)`, at))
	p.do(chromedp.Evaluate(fmt.Sprintf(`(() => { const f = document.querySelector(%q); f.value = %q; f.dispatchEvent(new Event('input', {bubbles: true})); f.dispatchEvent(new Event('change', {bubbles: true})) })()`, at, text), nil))
}

func (p *page) gear() *drop.Store {
	p.Helper()
	g, err := p.store.Gear(p.Context(), p.team.ID)
	if err != nil {
		p.Fatal(err)
	}
	return g
}

// A team enters by screens what it has: a model from its leaflet, ropes of it, a person;
// what is refused stands at its field, and nothing is saved before all is right.
func TestFirstThings(t *testing.T) {
	p := open(t, "/store")
	before := len(p.gear().Items)
	p.press("[data-add-model]")
	p.fill("/models/0/class", "rope")
	p.fill("/models/0/maker", "Hollin & Sarn")
	p.fill("/models/0/name", "Low stretch 10.2")
	p.press("[data-save]")
	p.says(`[data-field="/models/0/source"]`, "■ missing")
	p.says(`[data-field="/models/0/rope/diameter_mm"]`, "■ missing")
	p.fill("/models/0/source", "leaflet, issue 2")
	p.fill("/models/0/rope/construction", "low-stretch-a")
	p.fill("/models/0/rope/diameter_mm", "10,2")
	p.fill("/models/0/rope/mass_g_per_m", "68")
	p.fill("/models/0/rope/elongation_pct", "-3")
	p.press("[data-save]")
	p.says(`[data-field="/models/0/rope/elongation_pct"]`, "more than 0")
	p.fill("/models/0/rope/elongation_pct", "3.1")
	p.press("[data-save]")
	p.until(`location.pathname === '/store' && document.querySelector('[data-item]')`)
	i := slices.IndexFunc(p.gear().Models, func(m gear.Model) bool { return m.ID == "low-stretch-10-2" })
	if i < 0 || p.gear().Models[i].Rope.DiameterMM != 10.2 || p.gear().Models[i].Revision != 1 {
		t.Fatal("no such model")
	}

	p.press("[data-add-items]")
	p.fill("/items/0/model", "low-stretch-10-2")
	p.fill("/items/0/length_m", "60")
	p.fill("/items/0/place", "van 2")
	set := func(selector, text string) {
		p.do(chromedp.Evaluate(fmt.Sprintf(`(() => { const f = document.querySelector(%q); f.value = %q; f.dispatchEvent(new Event('input', {bubbles: true})) })()`, selector, text), nil))
	}
	set("[data-labels]", "long rope {n}")
	set("[data-pasted]", "LS-7\nLS-9\nLS-7")
	p.says("[data-preview]", "3 items: long rope ")
	p.press("[data-save]")
	p.says("main", "another item's")
	if n := len(p.gear().Items); n != before {
		t.Errorf("%d items were saved", n-before)
	}
	set("[data-pasted]", "LS-7\nLS-9\nLS-11")
	p.press("[data-save]")
	p.until(`location.pathname === '/store' && [...document.querySelectorAll('[data-item]')].filter((i) => i.innerText.includes('long rope')).length === 3`)

	// What somebody else changed meanwhile is not overwritten.
	g := p.gear()
	at := slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.Serial == "LS-9" })
	rope := g.Items[at]
	p.do(press(fmt.Sprintf("[data-item=%q]", rope.ID)), press(fmt.Sprintf("[data-change=%q]", rope.ID)))
	p.fill("/items/0/place", "shelf 3")
	rope.Place = "workshop"
	if _, _, err := p.store.PutGear(p.Context(), p.team, somebody, &drop.Store{Items: []gear.Item{rope}}, store.Put{}); err != nil {
		t.Fatal(err)
	}
	p.press("[data-save]")
	p.says("main", "somebody changed it meanwhile (revision 2)")

	// A change that takes a plan back says so before it is saved.
	if err := p.store.SetPlan(p.Context(), p.team, somebody, "gate-shaft", 1, "checked", nil); err != nil {
		t.Fatal(err)
	}
	shaft, err := p.store.Drop(p.Context(), p.team.ID, "gate-shaft")
	if err != nil {
		t.Fatal(err)
	}
	p.do(chromedp.Navigate(p.url + "/store/items/" + shaft.Document.Strands[0].Ropes[0]))
	p.fill("/items/0/length_m", "31")
	p.press("[data-save]")
	p.says("[data-plans]", "gate-shaft")
	if plan, err := p.store.Plan(p.Context(), p.team, "gate-shaft"); err != nil || plan.State != "checked" {
		t.Fatal("taken back before it was said", err)
	}
	p.press("[data-save]")
	p.until(`location.pathname === '/store'`)
	if plan, err := p.store.Plan(p.Context(), p.team, "gate-shaft"); err != nil || plan.State != "draft" {
		t.Error("not taken back", err)
	}

	p.do(chromedp.Navigate(p.url + "/people"))
	p.until(`document.querySelector('[data-add-person]')`)
	p.press("[data-add-person]")
	p.fill("/people/0/name", "Una Ferrant")
	p.fill("/people/0/mass_kg", "0")
	p.press("[data-save]")
	p.says(`[data-field="/people/0/mass_kg"]`, "more than 0")
	p.fill("/people/0/mass_kg", "71.5")
	p.fill("/people/0/reach_up_m", "0,9")
	p.press("[data-add=papers]")
	p.fill("/people/0/papers/0/kind", "first-aid")
	p.fill("/people/0/papers/0/until", "2026-11-26")
	p.press("[data-save]")
	p.says(`[data-field="/people/0/papers/0/name"]`, "■ missing")
	p.fill("/people/0/papers/0/name", "first aid at height")
	p.press("[data-save]")
	p.until(`location.pathname === '/people'`)
	people, err := p.store.People(p.Context(), p.team.ID)
	if err != nil || !slices.ContainsFunc(people, func(m rig.Member) bool {
		return m.ID == "una-ferrant" && m.MassKg == 71.5 && m.ReachUpM == 0.9 && len(m.Papers) == 1 && m.Papers[0].Until == "2026-11-26"
	}) {
		t.Error(people, err)
	}
	// What has ended is said, and what is measured goes with them onto a drop.
	p.says("[data-member=una-ferrant]", "◆ first aid at height ended 2026-11-26")
	p.do(chromedp.Navigate(p.url + "/drops/gate-shaft"))
	p.pressed(`[...document.querySelectorAll('#people button')].find((b) => b.innerText.includes('Una Ferrant'))`)
	p.until(`document.querySelector('[data-pointer="/people/1/mass_kg"]')`)
	if d, _ := p.stored("gate-shaft"); d.People[1].ReachUpM != 0.9 {
		t.Errorf("on a drop: %+v", d.People[1])
	}
}

// A model is tried on a rope as it is typed: figures in the units of its leaflet, what is not
// judged while a field is empty, and in what the next generation differs.
func TestModelEditor(t *testing.T) {
	p := open(t, "/store/model")
	p.until(`document.querySelector('[data-from] option[value=descender-a]')`)
	p.do(chromedp.SetValue("[data-from]", "descender-a"), chromedp.Evaluate(`document.querySelector('[data-from]').dispatchEvent(new Event('change'))`, nil))
	p.press("[data-next]")
	p.says("[data-differences]", "generation: second → –")
	p.fill("/models/0/generation", "third")
	p.fill("/models/0/strength_kN", "4900 lbf")
	p.says("[data-differences]", "strength kN: 18 → 21.79")
	p.until(`!document.querySelector('[data-trial-rope] option[value=rope-12]')`) // retired
	p.do(chromedp.SetValue("[data-trial-rope]", "rope-5"), chromedp.Evaluate(`document.querySelector('[data-trial-rope]').dispatchEvent(new Event('change'))`, nil))
	p.says("[data-tried='one person']", "nothing found")
	p.do(chromedp.Evaluate(`(() => { const m = document.querySelector('[data-trial-mass]'); m.value = '151'; m.dispatchEvent(new Event('input')) })()`, nil))
	p.until(`document.querySelector("[data-tried='one person']")?.innerText.includes('■')`)
	// Where the server fails, nothing found is not what it says.
	late := p.hold("POST", "/api/v1/gear/trial", http.StatusServiceUnavailable)
	p.do(chromedp.Evaluate(`(() => { const m = document.querySelector('[data-trial-mass]'); m.value = '150'; m.dispatchEvent(new Event('input')) })()`, nil))
	late.wait(p)
	p.gone("[data-tried]")
	close(late.release)
	p.says("[data-trial-lost]", "not tried")
	p.gone(`[data-field="/models/0/strength_kN"] [data-silent]`)
	p.fill("/models/0/strength_kN", "")
	p.says(`[data-field="/models/0/strength_kN"]`, "empty: not judged whether")
	p.fill("/models/0/strength_kN", "strong")
	p.says("[data-not-tried]", "strength kN")
	p.press("[data-save]")
	p.says(`[data-field="/models/0/strength_kN"]`, "■")
	p.fill("/models/0/strength_kN", "22")
	p.press("[data-save]")
	p.until(`location.pathname === '/store' && document.querySelector('[data-item]')`)
	models := p.gear().Models
	i := slices.IndexFunc(models, func(m gear.Model) bool { return m.Follows == "descender-a" })
	if i < 0 || models[i].StrengthKN != 22 || models[i].Generation != "third" {
		t.Errorf("%+v", models)
	}
}

// A table is tried before anything is loaded: how it is read can be changed, what is wrong is
// said row by row, and then the right rows are loaded.
func TestLoadATable(t *testing.T) {
	p := open(t, "/store")
	before := len(p.gear().Items)
	file := filepath.Join(t.TempDir(), "ropes.csv")
	if err := os.WriteFile(file, []byte("Label;Rope type;Serial number;Length\nrope 81;rope-105;N-81;60,5\nrope 82;rope-105;N-82;sixty\nrope 83;rope-105;N-83;40\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	// The page filters items by class, place and letters, and sorts them.
	choose := func(selector, value string) {
		p.do(chromedp.SetValue(selector, value), chromedp.Evaluate(fmt.Sprintf(`document.querySelector(%q).dispatchEvent(new Event('change'))`, selector), nil))
	}
	choose("[data-only-class]", "helmet")
	p.says("[data-found-items]", "3 of")
	choose("[data-only-place]", "gear store")
	p.says("[data-found-items]", "2 of")
	choose("[data-only-place]", "")
	choose("[data-order]", "examined")
	p.until(`document.querySelector('[data-state]:not([data-state=quarantine])').dataset.item === 'helmet-9'`)
	p.do(chromedp.SendKeys("[data-find]", "sunniva"))
	p.says("[data-found-items]", "1 of")
	choose("[data-only-class]", "rope")
	p.says("[data-found-items]", "0 of")
	p.do(press("[data-import]"), chromedp.SetUploadFiles("[data-file]", []string{file}))
	p.says("[data-counts]", "3 wrong") // nobody said what the second column is
	p.do(chromedp.Evaluate(`(() => { const s = document.querySelector('[data-header="Rope type"]'); s.value = 'model'; s.dispatchEvent(new Event('change', {bubbles: true})) })()`, nil))
	p.says("[data-counts]", "2 new, 0 changed, 0 the same, ■ 1 wrong")
	p.says("[data-row-state=wrong]", "is not a number, read with a decimal comma")
	p.until(`document.querySelector('[data-load]').disabled`)
	if n := len(p.gear().Items); n != before {
		t.Errorf("a trial loaded %d", n-before)
	}
	p.press("[data-load-right]")
	p.says("[data-counts]", "Loaded: 2 new")
	g := p.gear()
	if i := slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == "rope-81" }); len(g.Items) != before+2 || i < 0 || g.Items[i].LengthM != 60.5 {
		t.Errorf("%d items", len(g.Items)-before)
	}

	// What a column is stays known on this device.
	p.do(chromedp.Navigate(p.url+"/store/import"), chromedp.SetUploadFiles("[data-file]", []string{file}))
	p.says("[data-counts]", "0 new, 0 changed, 2 the same, ■ 1 wrong")

	// Dates that could be read in either order load nothing until somebody says which.
	either := filepath.Join(t.TempDir(), "either.csv")
	if err := os.WriteFile(either, []byte("label,model,serial,made,length\nrope 85,rope-105,N-85,3/4/2026,60\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	p.do(chromedp.Navigate(p.url+"/store/import"), chromedp.SetUploadFiles("[data-file]", []string{either}))
	p.says("[data-either-order]", "Say which below")
	p.until(`document.querySelector('[data-load]').disabled && document.querySelector('[data-dialect=dates]').value === ''`)
	p.do(chromedp.Evaluate(`(() => { const s = document.querySelector('[data-dialect=dates]'); s.value = 'month-first'; s.dispatchEvent(new Event('change', {bubbles: true})) })()`, nil))
	p.gone("[data-either-order]")
	p.press("[data-load]")
	p.says("[data-counts]", "Loaded: 1 new")
	if g := p.gear(); !slices.ContainsFunc(g.Items, func(i gear.Item) bool { return i.ID == "rope-85" && i.MadeOn == "2026-03-04" }) {
		t.Error("read in another order than was said")
	}

	// A workbook is read as it is, without asking how numbers are written.
	book := excelize.NewFile()
	cells := []any{"rope 84", "rope-105", "N-84", 60.5}
	file = filepath.Join(t.TempDir(), "ropes.xlsx")
	if err := errors.Join(book.SetSheetRow("Sheet1", "A1", &[]string{"label", "model", "serial", "length"}), book.SetSheetRow("Sheet1", "A2", &cells), book.SaveAs(file)); err != nil {
		t.Fatal(err)
	}
	p.do(chromedp.Navigate(p.url+"/store/import"), chromedp.SetUploadFiles("[data-file]", []string{file}))
	p.says("[data-counts]", "1 new, 0 changed")
	p.says("main", "Sheet Sheet1 of the workbook")
	p.press("[data-load]")
	p.says("[data-counts]", "Loaded: 1 new")
}

// A kit is given what belongs in it, handed out thing by thing and counted back, also where
// there is no connection; what did not come back is said at the kit and at the thing.
func TestKits(t *testing.T) {
	p := open(t, "/store/kits")
	p.says("[data-kit=rescue-bag]", "2 short")
	p.press("[data-kit=rescue-bag] [data-change-kit]")
	p.says("main", "What is in it")
	p.until(`document.querySelector('[data-name]').disabled`)
	for _, label := range []string{"connector 77", "connector 78"} {
		p.do(chromedp.SendKeys("[data-adding]", label, chromedp.NodeVisible))
		p.press("[data-put-into]")
		p.until(fmt.Sprintf(`[...document.querySelectorAll('main li b')].some((e) => e.innerText === %q)`, label))
	}
	p.do(chromedp.SetValue("[data-count='1']", "2"), chromedp.Evaluate(`document.querySelector("[data-count='1']").dispatchEvent(new Event('input'))`, nil))
	p.press("[data-save]")
	p.says("[data-kit=rescue-bag]", "✓ complete")

	// What is out of service stays.
	if out, err := p.store.Record(t.Context(), p.team, somebody, &record.Batch{SentAt: now(), Records: []record.Entry{{
		ID: uuid.NewString(), Kind: record.Quarantine, GivenAt: now(), Day: "2026-11-24", Item: "bag-1", Quarantine: &record.Quarantined{Event: "heat"},
	}}}); err != nil || out[0].State != "kept" {
		t.Fatal(out, err)
	}
	p.says("[data-kit=rescue-bag]", "not counted: bag 1")
	p.press("[data-kit=rescue-bag] [data-move]")
	p.until(`document.querySelector('[data-count=bag-1]').disabled`)
	for _, item := range []string{"stretcher-1", "helmet-1", "helmet-2"} {
		p.press(fmt.Sprintf("[data-count=%q]", item))
	}
	p.says("[data-left]", "Stays here: bag 1, connector 77, connector 78")
	p.until(`document.querySelector('[data-sign]').disabled`)
	p.do(chromedp.SendKeys("[data-to]", "van 2"))
	p.cut(true)
	p.press("[data-sign]")
	p.says("[data-waits]", "on its way")
	p.cut(false)
	p.says("[data-kit=rescue-bag]", "with van 2 since")
	p.press("[data-kit=rescue-bag] [data-move]")
	p.press("[data-count=stretcher-1]")
	p.press("[data-count=helmet-2]")
	p.says("[data-left]", "Missing from now on: helmet 1")
	p.press("[data-sign]")
	p.says("[data-missing]", "Did not come back: helmet 1")
	p.says("[data-kit=rescue-bag]", "in the store")
	p.do(chromedp.Navigate(p.url + "/store/item/helmet-1"))
	p.says("main", "It did not come back with rescue bag")
	p.says("main", "kit counted back")
	p.until(`document.querySelector('[data-life] svg').getAttribute('aria-label').includes('handed out to van 2')`)

	// What somebody else changes of it while it is open here is not written over.
	p.do(chromedp.Navigate(p.url + "/store/kits"))
	p.press("[data-kit=rescue-bag] [data-change-kit]")
	p.says("main", "What is in it")
	kits := p.gear().Kits
	kits = slices.DeleteFunc(kits, func(k gear.Kit) bool { return k.ID != "rescue-bag" })
	kits[0].Wanted[0].Count += 5
	spare := p.gear().Items[0]
	spare.ID, spare.Label, spare.Serial, spare.Kit, spare.Code, spare.Revision = "spare-1", "spare 1", "spare-1", "", "", 0
	if _, _, err := p.store.PutGear(t.Context(), p.team, somebody, &drop.Store{Kits: kits, Items: []gear.Item{spare}}, store.Put{}); err != nil {
		t.Fatal(err)
	}
	p.until(`[...document.querySelectorAll('datalist option')].some((o) => o.value === 'spare 1')`)
	p.press("[data-save]")
	p.says("main", "somebody changed it meanwhile")

	// Who does not keep the store sees it, and moves nothing.
	reader := p.browse(t, "ivo", "/store/kits")
	reader.says("[data-missing]", "helmet 1")
	reader.gone("[data-move], [data-add-kit], [data-change-kit]")
}

// An item goes to another team with its history, as a guest's, with the paper that is said.
func TestGuestHistory(t *testing.T) {
	first := open(t, "/store/item/backup-34")
	first.until(`[...document.querySelectorAll('a')].some((a) => a.href.endsWith('/api/v1/items/backup-34/history.json'))`)
	var text string
	first.do(chromedp.Evaluate(`fetch('/api/v1/items/backup-34/history.json').then((r) => r.text()).then((t) => { window.history34 = t })`, nil))
	first.until(`window.history34`)
	first.do(chromedp.Evaluate(`window.history34`, &text))
	file := filepath.Join(t.TempDir(), "history.json")
	words := filepath.Join(t.TempDir(), "words.json")
	text = strings.Replace(text, `"id": "backup-34"`, `"id": "backup-99"`, 1)
	text = strings.Replace(text, `"serial": "backup-cam-034"`, `"serial": "F-1"`, 1)
	if err := errors.Join(os.WriteFile(file, []byte(text), 0o600), os.WriteFile(words, []byte("words"), 0o600)); err != nil {
		t.Fatal(err)
	}
	p := instance(t).browse(t, "dov", "/store/items")
	p.press("[data-guest-history] summary")
	p.do(chromedp.SetUploadFiles("[data-history-file]", []string{words}))
	p.says("[data-guest-history] [role=alert]", "no history of an item")
	p.do(chromedp.SetUploadFiles("[data-history-file]", []string{file}))
	p.says("[data-guest-history]", "cam backup 34")
	p.until(`document.querySelector('[data-guest-take]').disabled`)
	p.do(chromedp.SendKeys("[data-guest-owner]", "Corbin Asse"), chromedp.SendKeys("[data-guest-paper]", "C-7"), chromedp.SendKeys("[data-guest-examiner]", "an examiner"))
	p.do(chromedp.Evaluate(`(() => { const d = document.querySelector('[data-guest-until]'); d.value = '2027-01-31'; d.dispatchEvent(new Event('input')) })()`, nil))
	p.press("[data-guest-take]")
	p.until(`location.pathname === '/store/item/backup-99'`)
	p.says("main", "C-7, by an examiner, until 2027-01-31")
	p.says("main", "shock load on 2026-11-18")
	p.says("main", "history from "+p.team.Name)
}

// The store of a team with 5 000 items: how long the server takes to give it, and the page to
// find some by letters.
func BenchmarkStorePage(b *testing.B) {
	p := serve(b)
	g := p.gear()
	all := &drop.Store{}
	for n := range 5000 - len(g.Items) {
		all.Items = append(all.Items, gear.Item{
			ID: fmt.Sprintf("many-%d", n), Model: "connector-oval", Serial: fmt.Sprintf("M-%d", n), Label: fmt.Sprintf("connector %d", 1000+n), State: gear.InService,
			MadeOn: "2024-01-01", FirstUsedOn: "2024-02-01", ExaminedOn: "2026-06-01", Place: []string{"gear store", "van 1", "van 2"}[n%3],
		})
	}
	if _, _, err := p.store.PutGear(b.Context(), p.team, somebody, all, store.Put{}); err != nil {
		b.Fatal(err)
	}
	p = p.browse(b, "dov", "/store")
	p.says("[data-found-items]", "of 4999")
	var server, filter []float64
	b.ResetTimer()
	for range b.N {
		var ms [2]float64
		p.do(chromedp.Evaluate(`(async () => {
			const a = performance.now()
			const r = await fetch('/api/v1/gear')
			await r.text()
			const find = document.querySelector('[data-find]')
			const b = performance.now()
			for (const text of ['connector 4', '']) {
				find.value = text
				find.dispatchEvent(new Event('input'))
				await new Promise((done) => requestAnimationFrame(() => setTimeout(done)))
			}
			return [b - a, (performance.now() - b) / 2]
		})()`, &ms, func(e *runtime.EvaluateParams) *runtime.EvaluateParams { return e.WithAwaitPromise(true) }))
		server, filter = append(server, ms[0]), append(filter, ms[1])
	}
	for name, list := range map[string][]float64{"server-ms": server, "filter-ms": filter} {
		slices.Sort(list)
		b.ReportMetric(list[len(list)/2], name)
	}
}
