package browser_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

// mostEntries is how many entries and choices the first day may take.
const mostEntries = 90

// The first day, from an empty team by screens alone, as docs/tutorial.md tells it: somebody
// joins, types models from their leaflets, adds ropes, kit and a person, rigs a drop, and
// reads what is wrong with it. Every entry and choice counts.
func TestFirstDay(t *testing.T) {
	house := serve(t)
	team, err := house.store.EnsureTeam(t.Context(), "first day")
	if err != nil {
		t.Fatal(err)
	}
	house.team.ID = team.ID
	path, _, err := web.Invite(t.Context(), house.store, team.ID, store.Invitation{Name: "Una Ferrant", Roles: []string{"supervisor", "store-keeper", "technician"}, MadeBy: "test"})
	if err != nil {
		t.Fatal(err)
	}
	p := house.browse(t, "", path)
	entries := 0
	press := func(selector string) {
		t.Helper()
		entries++
		p.press(selector)
	}
	button := func(words string) {
		t.Helper()
		entries++
		p.button(words)
	}
	fill := func(fields ...string) {
		t.Helper()
		for i := 0; i < len(fields); i += 2 {
			entries++
			p.fill(fields[i], fields[i+1])
		}
	}
	saved := func(at string) {
		t.Helper()
		press("[data-save]")
		p.until(fmt.Sprintf(`location.pathname === %q`, at))
	}
	model := func(fields ...string) {
		t.Helper()
		press("[data-add-model]")
		for i := range fields {
			fields[i] = strings.ReplaceAll(fields[i], "…", "/models/0")
		}
		for i := 0; i < len(fields); i += 2 {
			// What a list begins with is shown after a press.
			switch fields[i] {
			case "+":
				press(fmt.Sprintf("[data-add=%q]", fields[i+1]))
				continue
			case "tick":
				press(fmt.Sprintf("[data-choose=%q]", fields[i+1]))
				continue
			}
			fill(fields[i], fields[i+1])
		}
		saved("/store")
	}
	items := func(model, count string, more ...string) {
		t.Helper()
		press("[data-add-items]")
		fill("/items/0/model", model)
		fill(more...)
		for selector, text := range map[string]string{"[data-count]": count, "[data-serials]": "24-{n}"} {
			entries++
			p.do(chromedp.Evaluate(fmt.Sprintf(`(() => { const f = document.querySelector(%q); f.value = %q; f.dispatchEvent(new Event('input', {bubbles: true})) })()`, selector, text), nil))
		}
		saved("/store")
	}

	// Coming in.
	for selector, text := range map[string]string{"[name=name]": "Una Ferrant", "[name=login]": "una", "[autocomplete=new-password]": "a long enough word"} {
		entries++
		p.do(chromedp.SendKeys(selector, text, chromedp.NodeVisible))
	}
	button("Join")
	p.says("main", "No drop yet")

	button("Store")
	model("…/class", "rope", "…/maker", "Hollin & Sarn", "…/name", "Low stretch 10.2", "…/strength_kN", "30", "…/source", "leaflet, issue 2",
		"…/rope/construction", "low-stretch-a", "…/rope/diameter_mm", "10.2", "…/rope/mass_g_per_m", "68", "…/rope/elongation_pct", "3.1")
	items("low-stretch-10-2", "2", "/items/0/length_m", "40", "/items/0/examined_on", "2026-11-01")
	model("…/class", "descender", "…/maker", "Tarn Works", "…/name", "Lever 2", "…/strength_kN", "16", "…/source", "leaflet, issue 5",
		"+", "modes", "…/device/modes/0/name", "one person", "…/device/modes/0/persons", "1", "…/device/modes/0/max_kg", "150",
		"+", "ropes", "tick", "…/device/modes/0/ropes/0/constructions/low-stretch-a", "…/device/modes/0/ropes/0/min_mm", "10.5", "…/device/modes/0/ropes/0/max_mm", "11.5",
		"+", "positions", "…/device/positions/0/name", "hold", "…/device/positions/0/hands_off", "stops")
	items("lever-2", "2", "/items/0/examined_on", "2026-11-01")

	button("People")
	press("[data-add-person]")
	fill("/people/0/name", "Una Ferrant", "/people/0/mass_kg", "78")
	saved("/people")

	button("Drops")
	button("Start an empty drop")
	p.says("[data-found]", "nothing to look at yet")
	entries++
	p.typeInto("/geometry/top_m", "30")
	entries++
	p.pressed(`[...document.querySelectorAll('#people button')].find((b) => b.innerText.includes('Una Ferrant'))`)
	p.until(`document.querySelector('[data-pointer="/people/0/mass_kg"]')`)
	press("[data-rig-it]")
	// The true finding: what hangs there is too thin for the descender, by its leaflet.
	p.says("[data-lacks]", "rope")
	p.says("[data-lacks]", "10.2 mm")
	press("[data-put-in]")
	entries++
	p.do(chromedp.KeyEvent("2"))
	button("descender")
	p.says("[data-rule='rope.diameter']", "10.2 mm")
	t.Logf("%d entries and choices", entries)
	if entries > mostEntries {
		t.Errorf("the first day takes %d entries and choices, %d are too many", entries, mostEntries)
	}
}
