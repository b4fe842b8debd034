package browser_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/chromedp/chromedp"

	"zealousknot/internal/store"
)

// Who signs in is tied to who is on the drops, or said to be nobody there by somebody
// else; a refusal is shown and changes nothing, on the page too.
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
	p.until(`document.querySelector('[data-link=dov]').disabled && !document.querySelector('[data-link=rhea]').disabled && !document.querySelector('[data-link=rhea] option[value="-"]').disabled`)

	say("sunniva", "-")
	p.gone("[data-unknown]")
	p.says("main", "says Dov Pellister")
	if m := of("sunniva"); m.NobodyBy == "" || m.Person != "" {
		t.Errorf("nobody: %+v", m)
	}
	p.press(`[aria-label="Roles of Sunniva Arrel"] label:first-of-type input`)
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
	// The team's day is its zone's, and what was changed stands under Records, in words.
	p.do(chromedp.Evaluate(`(() => { const s = document.querySelector('[data-zone]'); s.value = 'Pacific/Kiritimati'; s.dispatchEvent(new Event('change')) })()`, nil))
	// It was sent before the page is left.
	p.comes("/api/v1/team/time-zone", 0)
	p.do(chromedp.Navigate(p.url + "/records?day=" + time.Now().UTC().Format(time.DateOnly)))
	p.says("[data-record=policy-change]", "time zone UTC → Pacific/Kiritimati")
	p.says("[data-record=policy-change]", "+14:00")
	p.says("[data-record=member-change]", "Sunniva Arrel: ")
}

// An invitation is made, taken once with a password that is long enough, and signs its
// taker in with the roles it names; one that is taken back, or taken already, lets nobody
// in; who is taken out of the team is out.
func TestInviteAndJoin(t *testing.T) {
	p := open(t, "/people")
	members := func() (logins []string) {
		t.Helper()
		all, err := p.store.Members(t.Context(), p.team.ID)
		if err != nil {
			t.Fatal(err)
		}
		for _, m := range all {
			logins = append(logins, m.Login)
		}
		return logins
	}
	before := members()
	invite := func(name string) (path string) {
		t.Helper()
		p.do(chromedp.SendKeys(`//h2[contains(., 'Invite')]/following-sibling::form//input`, name, chromedp.BySearch))
		p.button("Make an invitation")
		p.until(`document.querySelector('[data-invitation]')?.innerText.includes('/join#') && document.querySelector('[data-invitation]').innerText !== window.invited`)
		p.do(chromedp.Evaluate(`window.invited = document.querySelector('[data-invitation]').innerText, new URL(window.invited).pathname + new URL(window.invited).hash`, &path))
		return path
	}
	first := invite("Una Ferrant")
	guest := p.browse(t, "", first)
	fill := func(login, password string) {
		t.Helper()
		for name, text := range map[string]string{"name": "Una Ferrant", "login": login, "password": password} {
			guest.do(chromedp.Evaluate(fmt.Sprintf(`(() => { const f = document.querySelector('[name=%s]'); f.value = %q; f.dispatchEvent(new Event('input')) })()`, name, text), nil))
		}
		guest.button("Join")
	}
	guest.do(chromedp.WaitVisible("[name=password]"))
	fill("una", "short")
	guest.says("[role=alert]", "■")
	fill("dov", "quite a long password")
	guest.says("[role=alert]", "■")
	if got := members(); !slices.Equal(got, before) {
		t.Errorf("a refused one joined: %q", got)
	}
	fill("una", "quite a long password")
	guest.says("[data-me]", "Una Ferrant")
	guest.do(chromedp.Navigate(guest.url+"/me"), chromedp.WaitVisible("[data-sign-out]"))
	guest.says("main", "technician in")
	if got := members(); len(got) != len(before)+1 || !slices.Contains(got, "una") {
		t.Errorf("members are %q", got)
	}
	// Taken already, and taken back.
	late := p.browse(t, "sunniva", first)
	late.says("form", "You are signed in as")
	late.button("Join")
	late.says("[role=alert]", "■")
	second := invite("Somebody Else")
	p.pressed(`[...document.querySelectorAll('li')].find((e) => e.innerText.includes('Somebody Else'))?.querySelector('button')`)
	p.until(`![...document.querySelectorAll('button')].some((b) => b.innerText === 'take it back')`)
	late.do(chromedp.Navigate(late.url+"/"), chromedp.Navigate(late.url+second))
	late.says("form", "You are signed in as")
	late.button("Join")
	late.says("[role=alert]", "■")

	p.do(chromedp.Reload())
	p.until(`document.querySelector('[data-link=una]')`)
	p.do(chromedp.Evaluate(`[...document.querySelector('[data-link=una]').closest('li').querySelectorAll('button')].find((b) => b.innerText.includes('take out')).click()`, nil))
	p.gone("[data-link=una]")
	if got := members(); !slices.Equal(got, before) {
		t.Errorf("members are %q, were %q", got, before)
	}
	guest.do(chromedp.Navigate(guest.url + "/store"))
	guest.until(`!document.querySelector('[data-item]')`)
}

// That somebody was shown a model is recorded by the press that says so.
func TestFamiliar(t *testing.T) {
	p := open(t, "/people")
	var missing string
	p.until(`document.querySelector('[data-familiar] button')`)
	p.do(chromedp.Evaluate(`document.querySelector('[data-familiar] button').closest('td').dataset.familiar`, &missing))
	at := fmt.Sprintf("[data-familiar=%q]", missing)
	p.press(at + " button")
	p.says("main form", "class")
	p.button("Leave it")
	p.until(fmt.Sprintf(`document.querySelector(%q).innerText.includes('not yet')`, at))
	p.press(at + " button")
	p.do(chromedp.SendKeys(`//form[contains(., 'was shown')]//input[@maxlength='80']`, "Their trainer", chromedp.BySearch))
	p.button("Record and sign")
	p.until(fmt.Sprintf(`document.querySelector(%q).innerText.includes('by Their trainer')`, at))
}

// Nobody shows a model to themself: who did is said before it is signed.
func TestShownByAnother(t *testing.T) {
	p := serve(t).browse(t, "maren", "/people")
	p.press(`[data-familiar="maren descender-b"] button`)
	by := `document.querySelector('main form input[maxlength="80"]')`
	p.until(by + `.required && ` + by + `.placeholder === 'who showed you'`)
	p.button("Record and sign")
	p.until(by + `.matches(':invalid') && document.querySelector('[data-familiar="maren descender-b"]').innerText.includes('not yet')`)
	p.do(chromedp.SendKeys(`main form input[maxlength="80"]`, "Their trainer"))
	p.button("Record and sign")
	p.says(`[data-familiar="maren descender-b"]`, "by Their trainer")
}

// Who is shown a model sees how it differs from what they know of its class.
func TestShownDifferences(t *testing.T) {
	p := open(t, "/people")
	p.press(`[data-familiar="maren descender-b"] button`)
	p.says("[data-known]", "differ")
	p.until(`document.querySelectorAll('[data-known] th').length > 3`)
}

// A team's archive, saved from one instance, is looked at, taken in by another under another
// name, and is whole there; what is no archive is refused, and a name that is taken.
func TestArchive(t *testing.T) {
	first := serve(t)
	dir := t.TempDir()
	words, file := filepath.Join(dir, "words.zip"), filepath.Join(dir, "team.zip")
	var b bytes.Buffer
	if err := first.store.Export(t.Context(), first.team, &b, time.Now(), false); err != nil {
		t.Fatal(err)
	}
	for name, text := range map[string][]byte{words: []byte("words"), file: b.Bytes()} {
		if err := os.WriteFile(name, text, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	p := instance(t).browse(t, "dov", "/people")
	p.until(`document.querySelector('[data-archive] a')?.href.endsWith('/api/v1/archive')`)
	p.do(chromedp.SetUploadFiles("[data-archive-file]", []string{words}))
	p.says("[data-archive] [role=alert]", "not an archive")
	p.do(chromedp.SetUploadFiles("[data-archive-file]", []string{file}))
	p.says("[data-archive] [role=alert]", "this id or this name is here already")
	p.do(chromedp.SendKeys("[data-archive-name]", "The other dam"))
	p.press("[data-archive-try]")
	p.says("[data-archive-seen]", "The other dam: ")
	if _, err := p.store.TeamNamed(t.Context(), "The other dam"); !errors.Is(err, store.ErrNotFound) {
		t.Fatalf("looking at it made a team: %v", err)
	}
	p.press("[data-archive-take]")
	p.says("[data-archive-seen]", "It is here")
	chains, err := p.store.Verify(t.Context(), 0)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range chains {
		if c.Broken != nil || len(c.Differs) > 0 || c.Team.Name == "The other dam" && c.Number < 20 {
			t.Errorf("%+v", c)
		}
	}
	p.do(chromedp.Navigate(p.url + "/me"))
	p.button("The other dam")
	p.do(chromedp.Navigate(p.url + "/"))
	p.says("main", "Face 4")
}

// Hours are recorded with where and how high, and countersigned by a supervisor once; nobody
// is offered their own.
func TestHours(t *testing.T) {
	p := serve(t)
	ivo := p.browse(t, "ivo", "/me")
	ivo.do(chromedp.SendKeys("form input[max='24']", "6.5"), chromedp.SendKeys("form input[maxlength='60']", "face"), chromedp.SendKeys("[data-site]", "Weir"), chromedp.SendKeys("[data-height]", "42"))
	ivo.button("Record and sign")
	ivo.says("main", "6.5 h, face; Weir, to 42 m")
	ivo.gone("[data-countersign]")
	file := filepath.Join(t.TempDir(), "hours.csv")
	if err := os.WriteFile(file, []byte("who;date;hours;kind of work\nIvo Kestrane;20.11.2026;7,5;face\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	ivo.press("[data-load-hours]")
	ivo.do(chromedp.SetUploadFiles("[data-file]", []string{file}))
	ivo.says("[data-counts]", "1 new")
	ivo.press("[data-load]")
	ivo.says("[data-counts]", "Loaded: 1 new")
	dov := p.browse(t, "dov", "/records")
	dov.says("main", "6.5 h, face; Weir, to 42 m")
	dov.press("[data-countersign]")
	dov.says("[data-record=countersignature]", "hours of Ivo Kestrane")
	dov.gone("[data-countersign]")
}
