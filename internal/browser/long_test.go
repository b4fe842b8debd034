package browser_test

import (
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/demo"
	"zealousknot/internal/store"
)

// Names as long as they may be, with words that a line has no room for, make no page wider than
// the smallest phone.
func TestLongNames(t *testing.T) {
	p := open(t, "/")
	long := func(of *string, most int) {
		*of = string([]rune(*of + " of the Upper Service Gallery, or so: Ødegårdsskjæringa-Nordøstvestibylen-" + strings.Repeat("ø", 80))[:most])
	}
	g, err := p.store.Gear(t.Context(), p.team.ID)
	if err != nil {
		t.Fatal(err)
	}
	for i := range g.Items {
		if item := &g.Items[i]; item.State == gear.InService {
			long(&item.Label, 80)
			long(&item.Serial, 80)
			long(&item.Place, 80)
		}
	}
	for i := range g.Models {
		long(&g.Models[i].Name, 60)
	}
	by := &record.Signer{Name: "Somebody"}
	if _, _, err := p.store.PutGear(t.Context(), p.team, by, g, store.Put{}); err != nil {
		t.Fatal(err)
	}
	people, err := p.store.People(t.Context(), p.team.ID)
	if err != nil {
		t.Fatal(err)
	}
	for i := range people {
		long(&people[i].Name, 80)
	}
	if _, _, err := p.store.PutPeople(t.Context(), p.team, by, people, store.Put{}); err != nil {
		t.Fatal(err)
	}
	for _, id := range []string{"face-4", "face-7", "basin-wall"} {
		p.changed(id, func(d *drop.Document) {
			long(&d.Name, 80)
			long(&d.Site, 80)
			for i := range d.People {
				long(&d.People[i].Name, 80)
			}
			for i := range d.Anchors {
				long(&d.Anchors[i].Name, 60)
			}
			for i := range d.Strands {
				long(&d.Strands[i].Name, 60)
			}
			if d.Team != nil {
				long(&d.Team.Operators[0], 60)
				long(&d.Team.Load.Name, 60)
			}
		})
	}
	p.do(chromedp.EmulateViewport(320, 568))
	for path, there := range map[string]string{
		"/": "[data-me]", "/day/" + string(demo.Day): "[data-counts]", "/store": "[data-item]", "/store/item/descender-14": "dl", "/due": "select", "/examine": "select", "/people": "[data-person], table, li", "/practice/skills": "table, li",
		"/drops/face-4": "[data-rope]", "/drops/face-4/kit": "[data-bead]", "/drops/face-4/checks": "[data-check]", "/drops/face-7/moves": "[data-move]", "/drops/face-7/rescue": "[data-at]",
		"/drops/basin-wall/team": "[data-moves]", "/drops/basin-wall/team?view=rig": "[data-builder]", "/drops/face-4/history": "main li, main tr",
	} {
		p.do(chromedp.Navigate(p.url + path))
		p.until("document.querySelector('" + there + "')")
		var over []string
		p.do(chromedp.Evaluate(`(document.documentElement.scrollWidth > innerWidth ? [...document.querySelectorAll('main *')] : []).filter((e) => e.getBoundingClientRect().right > innerWidth + 1 && !e.closest('[role=region], svg, .sr-only')).slice(0, 3).map((e) => e.tagName + ' ' + e.innerText)`, &over))
		if len(over) > 0 {
			t.Errorf("%s is wider than the phone: %q", path, over)
		}
	}
}
