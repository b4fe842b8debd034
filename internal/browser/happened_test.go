package browser_test

import (
	"context"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store"
)

// photo writes a picture that is far too large to be kept as it is.
func photo(t *testing.T) string {
	t.Helper()
	r := rand.New(rand.NewPCG(1, 2))
	m := image.NewRGBA(image.Rect(0, 0, 1600, 1200))
	for i := range m.Pix {
		m.Pix[i] = byte(r.Uint32())
	}
	m.Set(0, 0, color.White)
	path := filepath.Join(t.TempDir(), "photo.jpg")
	f, err := os.Create(path)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	if err := jpeg.Encode(f, m, &jpeg.Options{Quality: 95}); err != nil {
		t.Fatal(err)
	}
	if i, err := f.Stat(); err != nil || i.Size() < 2*store.MaxPhoto {
		t.Fatal("the picture is small already")
	}
	return path
}

// records are the newest records about a thing, the newest first.
func (p *page) records(kind, id string) []store.RecordLine {
	p.Helper()
	lines, err := p.store.RecordsAbout(context.Background(), p.team.ID, record.Subject{Kind: kind, ID: id}, store.Page{Limit: 50})
	if err != nil {
		p.Fatal(err)
	}
	return lines
}

// sets puts a value where one was.
func (p *page) sets(selector, value string) {
	p.Helper()
	p.until(fmt.Sprintf(`(() => {
		const f = document.querySelector(%q)
		if (!f) return false
		f.value = %q
		f.dispatchEvent(new Event('input'))
		f.dispatchEvent(new Event('change'))
		return true
	})()`, selector, value))
}

// selected chooses an option by its value.
func (p *page) selected(selector, value string) {
	p.Helper()
	p.until(fmt.Sprintf(`!!document.querySelector(%q)?.querySelector('option[value=%q]')`, selector, value))
	p.do(chromedp.Evaluate(fmt.Sprintf(`(() => { const f = document.querySelector(%q); f.value = %q; f.dispatchEvent(new Event('change')) })()`, selector, value), nil))
}

// A picture that was taken without a connection is scaled down, kept, and there before the
// record that names it; who reads the record sees it.
func TestPhoto(t *testing.T) {
	p := open(t, "/examine")
	p.do(chromedp.EmulateViewport(390, 844))
	p.onDevice()
	p.until(`!!document.querySelector('[data-scan]') && ['/examinations/points', '/due'].every((u) => window.onDevice?.includes(u))`)
	p.cut(true)
	p.scan("descender 21")
	p.do(chromedp.SetUploadFiles(`[data-take]`, []string{photo(t)}, chromedp.ByQuery))
	p.until(`document.querySelector('[data-photo] img')?.naturalWidth > 0`)
	p.press(`[data-under="descender-21"] [data-point="body"] [data-result="fail"]`)
	p.typed(`[data-under="descender-21"] [data-point="body"] input`, "cracked")
	p.typed(`[data-kept]`, "red box")
	p.press(`[data-give="quarantine"]`)
	p.again()
	p.cut(false)
	p.until(`!Object.keys(localStorage).some((k) => k.startsWith('outbox:'))`)
	lines := p.records("item", "descender-21")
	i := slices.IndexFunc(lines, func(l store.RecordLine) bool { return l.Says.Examined != nil })
	if i < 0 || len(lines[i].Says.Photos) != 1 {
		t.Fatalf("%+v", lines)
	}
	kept, err := p.store.Photo(context.Background(), p.team.ID, lines[i].Says.Photos[0])
	if err != nil || len(kept.Body) > store.MaxPhoto || len(kept.Body) < 20_000 {
		t.Fatalf("%v, %d bytes", err, len(kept.Body))
	}
	p.press(`[data-begin]`)
	p.do(chromedp.Navigate(p.url + "/store/item/descender-21"))
	p.until(fmt.Sprintf(`document.querySelector('[data-photo=%q] img')?.naturalWidth > 0`, lines[i].Says.Photos[0]))
}

// An incident is recorded on the phone, stops what it names, and shows what was kept with it.
func TestIncident(t *testing.T) {
	p := open(t, "/records")
	p.do(chromedp.EmulateViewport(390, 844))
	p.press(`[data-incident]`)
	p.until(`!!document.querySelector('[data-there="ivo"]') && !!document.querySelector('[data-drop] option[value="face-4"]')`)
	p.selected(`[data-drop]`, "face-4")
	p.until(`document.querySelector('[data-there="rhea"]').checked && !document.querySelector('[data-there="ivo"]').checked`)
	p.press(`[data-there="ivo"]`)
	p.until(`document.querySelector('[data-sign]').disabled`)
	p.typed(`[data-what]`, "A block fell past the rope.")
	p.press(`[data-add="rope-3"]`)
	p.press(`[data-add="descender-14"]`)
	p.press(`[data-thing="descender-14"] input`)
	p.selected(`[data-event]`, "edge")
	p.until(`document.querySelector('[data-in="rhea"]').checked && document.querySelector('[data-in="ivo"]').checked`)
	p.press(`[data-in="rhea"]`)
	p.says(`[data-sign]`, "stop 1")
	p.press(`[data-sign]`)
	p.says(`[data-record="incident"]`, "A block fell past the rope.")
	p.says(`[data-record="incident"]`, "Stopped: rope 3")
	p.press(`[data-open-frozen]`)
	p.says(`[data-frozen]`, "version 1")
	p.says(`[data-frozen]`, "Ivo Kestrane, Rhea Tolland")
	state := func(id string) gear.State {
		for _, i := range p.gear().Items {
			if i.ID == id {
				return i.State
			}
		}
		return ""
	}
	// Who was in it is on the item: somebody else brings it back.
	items := p.gear().Items
	if e := items[slices.IndexFunc(items, func(i gear.Item) bool { return i.ID == "rope-3" })].Events; len(e) == 0 || e[len(e)-1].In != "ivo" {
		t.Errorf("%+v", e)
	}
	if state("rope-3") != gear.Quarantine || state("descender-14") != gear.InService {
		t.Error(state("rope-3"), state("descender-14"))
	}
	// Who only reads is notified.
	p.browse(t, "sunniva", "/incident").says("main", "Your roles record no incidents")
}

// On the page of a thing its use is counted, a joint noted, and it is retired for good.
func TestItemIsUsedJoinedAndRetired(t *testing.T) {
	p := open(t, "/store/item/rope-3")
	p.press(`[data-add-use]`)
	p.sets(`[data-from]`, "2026-11-01")
	p.sets(`[data-figure="days"]`, "3")
	p.sets(`[data-figure="down_m"]`, "much")
	p.until(`document.querySelector('[data-sign-use]').disabled`)
	p.sets(`[data-figure="down_m"]`, "240,5")
	p.press(`[data-sign-use]`)
	p.says(`[data-use]`, "240.5 m")
	p.says(`[data-use]`, "Counted from 2026-11-01 to ")
	p.press(`[data-note-rope]`)
	p.selected(`[data-what]`, "joint")
	p.typed(`[data-from]`, "110")
	p.selected(`[data-other]`, "rope-4")
	p.typed(`[data-other-at]`, "2")
	p.press(`[data-sign-note]`)
	p.says(`[data-noted="joint"]`, "rope 4 at 2 m")
	// It is on the other rope too, and ends for both.
	q := p.browse(t, "dov", "/store/item/rope-4")
	q.says(`[data-noted="joint"]`, "rope 3 at 110 m")
	q.press(`[data-note-rope]`)
	q.selected(`[data-what]`, "apart")
	q.selected(`[data-other]`, "rope-3")
	q.press(`[data-sign-note]`)
	q.gone(`[data-noted="joint"]`)
	p.gone(`[data-noted="joint"]`)
	p.press(`[data-retire]`)
	p.typed(`[data-why]`, "sheath through")
	p.until(`document.querySelector('[data-sign-retire]').disabled`)
	p.typed(`[data-how]`, "cut into pieces")
	p.press(`[data-sign-retire]`)
	p.says(`[data-stopped]`, "retired: sheath through; destroyed by Dov Pellister: cut into pieces")
	p.gone(`[data-retire]`)
}

// Somebody from outside is in the team until a day: as invited, and as changed later.
func TestInTheTeamUntil(t *testing.T) {
	p := open(t, "/people")
	until := func(login string) string {
		list, err := p.store.Members(context.Background(), p.team.ID)
		if err != nil {
			t.Fatal(err)
		}
		return string(list[slices.IndexFunc(list, func(m store.Membership) bool { return m.Login == login })].Until)
	}
	p.until(`!!document.querySelector('[data-until="sunniva"]')`)
	p.sets(`[data-until="sunniva"]`, "2020-01-01")
	p.says(`[data-until="sunniva"] + span`, "signs in no more")
	if got := until("sunniva"); got != "2020-01-01" {
		t.Error(got)
	}
	// What else is changed of them leaves it.
	p.selected(`[data-link="sunniva"]`, "-")
	p.says(`main`, "says Dov Pellister")
	if got := until("sunniva"); got != "2020-01-01" {
		t.Error(got)
	}
	p.sets(`[data-until="sunniva"]`, "")
	p.gone(`[data-until="sunniva"] + span`)
	if got := until("sunniva"); got != "" {
		t.Error(got)
	}
	tomorrow := time.Now().Add(24 * time.Hour).Format(time.DateOnly)
	p.sets(`[data-invite-until]`, tomorrow)
	p.sets(`[data-invite-name]`, "Outside Examiner")
	p.button("Make an invitation")
	p.says("main", "Outside Examiner, technician, in the team until "+tomorrow)
	var link string
	p.do(chromedp.Text(`[data-invitation]`, &link))
	if !strings.Contains(link, "/join#") {
		t.Error(link)
	}
}
