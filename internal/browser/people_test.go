package browser_test

import (
	"context"
	"fmt"
	"slices"
	"testing"

	"github.com/chromedp/chromedp"

	"zealousknot/internal/store"
)

// Who signs in is tied to who is on the drops, or said to be nobody there by somebody
// else; what is refused is told, and changes nothing, on the page too.
func TestWhoIsOnTheDrops(t *testing.T) {
	p := open(t, "/people")
	of := func(login string) store.Membership {
		all, err := p.store.Members(context.Background(), p.team.ID)
		i := slices.IndexFunc(all, func(m store.Membership) bool { return m.Login == login })
		if err != nil || i < 0 {
			t.Fatalf("%s: %v", login, err)
		}
		return all[i]
	}
	say := func(login, who string) {
		p.do(chromedp.Evaluate(fmt.Sprintf(`(() => { const s = document.querySelector('[data-link=%s]'); s.value = %q; s.dispatchEvent(new Event('change')) })()`, login, who), nil))
	}
	shows := func(login, who string) {
		p.until(fmt.Sprintf(`document.querySelector('[data-link=%s]').value === %q`, login, who))
	}
	p.says("[data-unknown]", "Sunniva Arrel")
	p.until(`document.querySelector('[data-link=dov] option[value="-"]').disabled && !document.querySelector('[data-link=rhea] option[value="-"]').disabled`)

	say("sunniva", "-")
	p.gone("[data-unknown]")
	p.says("main", "says Dov Pellister")
	if m := of("sunniva"); m.NobodyBy == "" || m.Person != "" {
		t.Errorf("nobody: %+v", m)
	}
	p.do(chromedp.Click(`[aria-label="Roles of Sunniva Arrel"] label:first-of-type input`))
	p.until(`document.querySelector('[aria-label="Roles of Sunniva Arrel"] label:first-of-type input').checked`)

	say("sunniva", "rhea")
	p.says("[role=alert]", "■")
	shows("sunniva", "-")
	if m, r := of("sunniva"), of("rhea"); m.Person != "" || r.Person != "rhea" {
		t.Errorf("two are one: %+v, %+v", m, r)
	}
	say("sunniva", "")
	p.says("[data-unknown]", "Sunniva Arrel")
	if m := of("sunniva"); m.NobodyBy != "" {
		t.Errorf("not known: %+v", m)
	}
}
