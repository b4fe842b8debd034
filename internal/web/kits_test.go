package web_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
)

// A kit is handed out and counted back by signed records alone: what is out says with whom,
// what was not counted back is missing until it is, and each thing in it tells where it was.
func TestKits(t *testing.T) {
	h := newHouse(t)
	dov, rhea := h.as(t, "dov"), h.as(t, "rhea")
	kit := func() gear.KitCount {
		t.Helper()
		for _, k := range read[struct{ Kits []gear.KitCount }](t, dov.URL+"/api/v1/kits").Kits {
			if k.Kit.ID == "rescue-bag" {
				return k
			}
		}
		t.Fatal("the kit is missing")
		return gear.KitCount{}
	}
	first := kit()
	if l := first.Lines; first.Complete || len(l) != 4 || len(l[1].Items) != 2 || l[1].Wanted != 3 || l[3].Words != "connector" || len(l[3].Items) != 0 {
		t.Fatalf("%+v", first)
	}
	put := func(kit string) string { return `{"kits":[` + kit + `]}` }
	for at, body := range map[string]string{
		"/kits/0/wanted/0":       put(`{"id":"k","name":"k","wanted":[{"count":1}]}`),
		"/kits/0/wanted/0/class": put(`{"id":"k","name":"k","wanted":[{"class":"spoon","count":1}]}`),
		"/kits/0/wanted/0/model": put(`{"id":"k","name":"k","wanted":[{"model":"spoon","count":1}]}`),
		"/kits/0/wanted/0/count": put(`{"id":"k","name":"k","wanted":[{"class":"bag","count":0}]}`),
		"/kits/0/name":           put(`{"id":"k","name":"rescue bag"}`),
	} {
		refused(t, 422, at, "PUT", dov.URL+"/api/v1/gear", []byte(body))
	}
	// It keeps its name while things bear it, and goes out with a record alone.
	refused(t, 409, "/kits/0", "PUT", dov.URL+"/api/v1/gear", []byte(put(`{"id":"rescue-bag","name":"red bag","revision":1}`)))
	refused(t, 409, "/kits/0", "PUT", dov.URL+"/api/v1/gear", []byte(put(`{"id":"rescue-bag","name":"rescue bag","issued_to":"van 2","issued_on":"2026-11-24","revision":1}`)))
	refused(t, 403, "", "PUT", rhea.URL+"/api/v1/gear", []byte(put(`{"id":"k","name":"k"}`)))

	move := func(kind, more string) string {
		return `"kind":"` + kind + `","day":"2026-11-24","kit":{"kit":"rescue-bag"` + more + `}`
	}
	refused(t, 403, "/records/0/kind", "POST", rhea.URL+"/api/v1/records", batch(move("kit-issue", `,"to":"van 2"`)))
	for at, entry := range map[string]string{
		"/records/0/kit":         `"kind":"kit-issue","day":"2026-11-24"`,
		"/records/0/kit/kit":     strings.Replace(move("kit-return", ""), "rescue-bag", "none", 1),
		"/records/0/kit/to":      move("kit-issue", `,"to":" "`),
		"/records/0/kit/items/0": move("kit-return", `,"items":["none"]`),
		"/records/0/kit/items/1": move("kit-return", `,"items":["bag-1","bag-1"]`),
		"/records/0/day":         strings.Replace(move("kit-return", ""), "2026-11-24", "2199-01-01", 1),
		"/records/0/quarantine":  move("kit-return", "") + `,"quarantine":{"event":"heat"}`,
	} {
		if out := send(t, dov.URL, batch(entry)); out[0].State != "refused" || out[0].Errors[0].Pointer != at {
			t.Errorf("%s: %+v", at, out)
		}
	}
	if out := send(t, dov.URL, batch(move("kit-return", `,"to":"van 2"`))); out[0].State != "refused" {
		t.Errorf("back to somebody: %+v", out)
	}
	if now := kit(); now.Kit.IssuedTo != "" || now.Kit.Revision != 1 {
		t.Fatalf("what was refused changed it: %+v", now.Kit)
	}
	recorded := func(entry, conflict string) {
		t.Helper()
		if out := send(t, dov.URL, batch(entry)); out[0].State != "kept" || out[0].Conflict != conflict {
			t.Fatalf("%+v", out)
		}
	}
	recorded(move("kit-issue", `,"to":"Maren Oake","items":["stretcher-1","helmet-1","helmet-2","bag-1"]`), "")
	if k := kit().Kit; k.IssuedTo != "Maren Oake" || k.IssuedOn != "2026-11-24" || len(k.Out) != 4 || k.Revision != 2 {
		t.Fatalf("%+v", k)
	}
	// A change of its list keeps who has it.
	if status, text := call(t, "PUT", dov.URL+"/api/v1/gear", []byte(put(`{"id":"rescue-bag","name":"rescue bag","wanted":[{"class":"stretcher","count":1},{"class":"helmet","count":2}],"revision":2}`))); status.StatusCode != 200 {
		t.Fatalf("%s", text)
	}
	// Handed out again without coming back, it leaves behind what nobody counts.
	recorded(move("kit-issue", `,"to":"van 2","items":["stretcher-1","helmet-1","helmet-2"]`), "it was out with Maren Oake")
	if k := kit().Kit; !slices.Equal(k.Missing, []string{"bag-1"}) {
		t.Fatalf("%+v", k)
	}
	recorded(move("kit-return", `,"items":["stretcher-1","helmet-2"]`), "")
	if k := kit(); k.Kit.IssuedTo != "" || k.Kit.Out != nil || !slices.Equal(k.Kit.Missing, []string{"bag-1", "helmet-1"}) || k.Complete ||
		!slices.Equal(k.Lines[1].Unfit, []string{"helmet-1"}) || !slices.Equal(k.More, []string{"bag-1"}) {
		t.Fatalf("%+v", k)
	}
	recorded(move("kit-return", `,"items":["helmet-1","bag-1"]`), "it was in the store")
	if k := kit(); !k.Complete || k.Kit.Missing != nil {
		t.Fatalf("%+v", k)
	}
	if back := linesOf(t, dov.URL, "item=helmet-1")[1]; back.Says.Kind != record.KitReturn || !slices.Equal(back.Says.Missing, []string{"bag-1", "helmet-1"}) {
		t.Errorf("%+v", back.Says)
	}
	// A seal is put on what was counted; it stands while the bag is handed out, and is gone when
	// it is broken or counted back.
	for at, entry := range map[string]string{
		"/records/0/kit/seal":    move("kit-sealed", `,"seal":" ","items":["bag-1"]`),
		"/records/0/kit/items":   move("kit-sealed", `,"seal":"4711"`),
		"/records/0/kit/items/0": move("kit-sealed", `,"seal":"4711","items":["rope-31"]`),
		"/records/0/kit/to":      move("kit-sealed", `,"to":"van 2","seal":"4711","items":["bag-1"]`),
	} {
		if out := send(t, rhea.URL, batch(entry)); out[0].State != "refused" || out[0].Errors[0].Pointer != at {
			t.Errorf("%s: %+v", at, out)
		}
	}
	if out := send(t, dov.URL, batch(move("kit-return", `,"seal":"1"`))); out[0].State != "refused" || out[0].Errors[0].Pointer != "/records/0/kit/seal" {
		t.Errorf("sealed by counting back: %+v", out)
	}
	sealed := func(number string) {
		t.Helper()
		if s := kit().Kit.Seal; (s == nil) != (number == "") || s != nil && s.Number != number {
			t.Fatalf("sealed with %+v, not %q", s, number)
		}
	}
	recorded(move("kit-sealed", `,"seal":"4711","items":["stretcher-1","helmet-1","helmet-2"]`), "")
	sealed("4711")
	recorded(move("kit-issue", `,"to":"van 2","items":["stretcher-1","helmet-1","helmet-2"]`), "")
	sealed("4711")
	recorded(move("seal-broken", `,"seal":"4712"`), "the seal that was on it is 4711")
	sealed("")
	recorded(move("seal-broken", ""), "no seal was on it")
	// What was missing, and is counted into the bag, is there.
	recorded(move("kit-return", `,"items":["stretcher-1"]`), "")
	recorded(move("kit-sealed", `,"seal":"4713","items":["stretcher-1","helmet-1","bag-1"]`), "")
	if k := kit(); !slices.Equal(k.Kit.Missing, []string{"helmet-2"}) || k.SealUndone != "" {
		t.Fatalf("%+v", k)
	}
	recorded(move("kit-return", `,"items":["stretcher-1","helmet-1","helmet-2"]`), "it was in the store")
	sealed("")
	refused(t, 409, "/kits/0", "PUT", dov.URL+"/api/v1/gear", []byte(put(`{"id":"rescue-bag","name":"rescue bag","seal":{"number":"1","on":"2026-11-24","by":"x","items":1},"revision":`+fmt.Sprint(kit().Kit.Revision)+`}`)))
	lines := linesOf(t, dov.URL, "about=kit:rescue-bag")[7:]
	if len(lines) != 5 || lines[0].Says.Kind != record.KitReturn || lines[3].Says.Kind != record.GearChange {
		t.Errorf("%d records of the kit", len(lines))
	}
	life := read[struct {
		Life gear.LifeLine
		Kit  gear.Kit
	}](t, dov.URL+"/api/v1/items/helmet-1/life")
	var words []string
	for _, m := range life.Life.Marks {
		words = append(words, m.Words)
	}
	if say := strings.Join(words, ", "); life.Kit.ID != "rescue-bag" || !strings.Contains(say, "handed out to Maren Oake, handed out to van 2, did not come back, counted back") {
		t.Errorf("%s: %s", life.Kit.ID, say)
	}
	d := read[drop.Document](t, dov.URL+"/api/v1/drops/face-4")
	planned := read[struct{ Drops []struct{ ID string } }](t, fmt.Sprintf("%s/api/v1/items/%s/life", dov.URL, d.Items[0].ID))
	if past := d.Day < life.Life.Today; past != !slices.ContainsFunc(planned.Drops, func(p struct{ ID string }) bool { return p.ID == "face-4" }) {
		t.Errorf("on %s, a drop of %s: %+v", life.Life.Today, d.Day, planned.Drops)
	}
}
