package browser_test

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync/atomic"
	"testing"

	"github.com/chromedp/chromedp"

	"zealousknot/internal/core/drop"
)

// onPage: the focus is on the page, not lost.
const onPage = `document.activeElement !== document.body && document.getElementById('page').contains(document.activeElement)`

// Where one is stands in the title of the window, and whoever works by keys is on the page
// after each step: what had the focus may be gone. On a phone the head of the page makes room.
func TestWhere(t *testing.T) {
	p := open(t, "/drops/face-4/checks")
	title := func(words string) {
		t.Helper()
		p.until(fmt.Sprintf(`document.title === %q`, words))
	}
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

// Two people change one drop: each sees who, when and what, and both changes are kept together
// where they do not touch; where they do, whose stands is asked.
func TestConflictTogether(t *testing.T) {
	p := open(t, "/drops/face-4/kit")
	p.until(`document.querySelector('[data-bead]')`)
	p.cut(true)
	p.typeInto("/people/0/mass_kg", "91")
	p.changed("face-4", func(d *drop.Document) { d.WindMS = 9 })
	p.cut(false)
	p.says("[data-theirs]", "wind: 5 m/s → 9 m/s")
	p.says("[data-mine]", "people, Rhea Tolland, mass: 88 kg → 91 kg")
	p.gone("[data-touching]")
	p.press("[data-together]")
	p.gone("[data-conflict]")
	p.until(onPage)
	p.until(`document.querySelector('header').innerText.includes('kept')`)
	if d := p.kept(); d.WindMS != 9 || d.People[0].MassKg != 91 {
		t.Errorf("wind %v, mass %v", d.WindMS, d.People[0].MassKg)
	}
	// One place, two ways; and undo takes the other's change back as well as one's own.
	p.cut(true)
	p.typeInto("/people/0/mass_kg", "85")
	p.changed("face-4", func(d *drop.Document) { d.People[0].MassKg = 95; d.Note = "wet" })
	p.cut(false)
	p.says("[data-touching]", "theirs 95 kg, yours 85 kg")
	p.press("[data-both-mine]")
	p.gone("[data-conflict]")
	p.until(`document.querySelector('header').innerText.includes('kept')`)
	if d := p.kept(); d.Note != "wet" || d.People[0].MassKg != 85 {
		t.Errorf("note %q, mass %v", d.Note, d.People[0].MassKg)
	}
}

// From anywhere a few letters find an item by its label or serial, a person, a word by any of
// its names, and within a drop its moves; what begins so comes first.
func TestFindAnywhere(t *testing.T) {
	p := open(t, "/records")
	find := func(letters, first string) {
		t.Helper()
		// The keys are nobody's before the page knows who is signed in.
		p.until(`document.querySelector('[data-me]')`)
		p.do(chromedp.Evaluate(`document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '/', bubbles: true }))`, nil))
		p.until(`document.querySelector('[aria-label=Find]')`)
		p.do(chromedp.SendKeys(`[aria-label=Find]`, letters))
		p.until(fmt.Sprintf(`document.querySelector('[role=option]')?.innerText.startsWith(%q)`, first))
	}
	take := func() { p.do(chromedp.KeyEvent("\r")) }
	find("descender 2", "descender 21")
	take()
	p.until(`location.pathname === '/store/item/descender-21'`)
	find("Ivo Ke", "Ivo Kestrane")
	take()
	p.until(`location.pathname === '/people/person/ivo'`)
	// A word by what others call it.
	find("rebelay", "re-belay")
	take()
	p.until(`location.pathname === '/glossary' && [...document.querySelectorAll('[data-glossary-term]')].some((t) => t.innerText.startsWith('re-belay')) && document.querySelectorAll('[data-glossary-term]').length < 5`)
	p.do(chromedp.Navigate(p.url + "/drops/basin-wall/kit"))
	p.until(`document.querySelector('[data-found]')`)
	find("walk aw", "walk away")
	take()
	p.until(`location.pathname === '/drops/basin-wall/team' && document.querySelector('[data-moves]')?.innerText.startsWith('walk away')`)
	find("aid", "aid")
	take()
	p.until(`location.pathname.startsWith('/drops/basin-wall/moves')`)
}

// Undone is redone, until something else is changed. The history tells who changed what, what is
// otherwise now, and goes back; a copy is a drop of its own; what was removed is brought back.
func TestHistory(t *testing.T) {
	house := serve(t)
	site := house.site
	var checked, gone atomic.Bool
	house.site = http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if gone.Load() && r.URL.Path == "/api/v1/drops/face-4/plan" {
			http.Error(w, "{}", http.StatusBadGateway)
			return
		}
		if !checked.Load() || r.URL.Path != "/api/v1/drops/face-4/plan" {
			site.ServeHTTP(w, r)
			return
		}
		answer := httptest.NewRecorder()
		site.ServeHTTP(answer, r)
		w.Header().Set("Content-Type", "application/json")
		fmt.Fprint(w, strings.Replace(answer.Body.String(), `"state":"draft"`, `"state":"checked"`, 1))
	})
	p := house.browse(t, "dov", "/drops/face-4/kit")
	p.until(`document.querySelector('[data-bead]')`)
	kept := func(mass float64) {
		t.Helper()
		p.until(`document.querySelector('header [data-keeping]').innerText === 'kept'`)
		if d := p.kept(); float64(d.People[0].MassKg) != mass {
			t.Errorf("kept %v kg, not %v", d.People[0].MassKg, mass)
		}
	}
	p.typeInto("/people/0/mass_kg", "91")
	kept(91)
	p.button("undo")
	kept(88)
	p.button("redo")
	kept(91)
	p.do(chromedp.KeyEvent("u"))
	kept(88)
	p.do(chromedp.KeyEvent("r"))
	kept(91)
	p.button("undo")
	p.typeInto("/people/0/mass_kg", "95")
	kept(95)
	p.until(`![...document.querySelectorAll('header button')].some((b) => b.innerText === 'redo')`)

	p.changed("face-4", func(d *drop.Document) { d.WindMS = 9 })
	p.until(`document.querySelector('[data-found]')`)
	p.press("[data-history]")
	p.says("[data-sitting]", "as it stands")
	p.says("[data-sitting]", "wind: 5 m/s → 9 m/s")
	// The first version is the program's own, and is gone back to.
	p.says("[data-sitting='1']", "version 1")
	p.press("[data-sitting='1'] [data-compare]")
	p.says("[data-compared]", "people, Rhea Tolland, mass: 88 kg → 95 kg")
	p.says("[data-compared]", "2 differences")
	// What would take a checked plan back is said twice, and may be left.
	gone.Store(true)
	p.again()
	p.press("[data-sitting='1'] [data-again]")
	p.says("[data-takes-back]", "not known whether the plan was checked")
	gone.Store(false)
	checked.Store(true)
	p.again()
	p.press("[data-sitting='1'] [data-again]")
	p.says("[data-takes-back]", "The plan is checked")
	p.button("leave it as it is")
	p.gone("[data-takes-back]")
	if d := p.kept(); d.WindMS != 9 {
		t.Errorf("gone back by one word: wind %v", d.WindMS)
	}
	p.press("[data-sitting='1'] [data-again]")
	p.says("[data-sitting='1'] [data-again]", "all the same")
	p.press("[data-sitting='1'] [data-again]")
	p.says("[data-done]", "Version 1 stands again")
	if d := p.kept(); d.WindMS != 5 || d.People[0].MassKg != 88 {
		t.Errorf("wind %v, mass %v", d.WindMS, d.People[0].MassKg)
	}

	p.press("[data-copy]")
	p.says("h1", "Face 4, copy")
	p.press("[data-history]")
	p.says("[data-sitting='1']", "The first version.")
	p.press("[data-remove]")
	p.until(`location.pathname === '/' && document.querySelector('main ul')?.innerText.includes('Face 4, copy') === false`)
	p.press("[data-removed] summary")
	p.press("[data-bring-back]")
	p.says("h1", "Face 4, copy")
	p.until(`location.pathname.startsWith('/drops/face-4-')`)
	p.gone("[data-removed]")
}
