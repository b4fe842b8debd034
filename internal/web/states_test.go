package web_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/store"
)

// Whatever state an item is in, every action is done with one record of its kind, or refused
// with the reason and changes nothing.
func TestStatesAndActions(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	find := func(id string) gear.Item {
		g := read[drop.Store](t, dov.URL+"/api/v1/gear")
		return g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == id })]
	}
	signed := func(entry string) func(string) (string, bool) {
		return func(id string) (string, bool) {
			out := send(t, dov.URL, batch(strings.ReplaceAll(entry, "ITEM", id)))[0]
			why := out.Conflict
			for _, e := range out.Errors {
				why = e.Detail
			}
			return why, out.State == "kept"
		}
	}
	typed := func(change func(*gear.Item)) func(string) (string, bool) {
		return func(id string) (string, bool) {
			i := find(id)
			i.Events = nil
			change(&i)
			answer, text := call(t, "PUT", dov.URL+"/api/v1/gear", []byte(`{"items":[`+asJSON(t, i)+`]}`))
			return string(text), answer.StatusCode == 200
		}
	}
	actions := []struct {
		name string
		do   func(id string) (why string, done bool)
		// kind is the record that it writes; after is the state that it leaves from each
		// state, none where it is refused; says is in the reason, or in what is noted beside it.
		kind  string
		after map[gear.State]gear.State
		says  map[gear.State]string
	}{
		{
			"call it otherwise", typed(func(i *gear.Item) { i.Label += " b" }), "gear-change",
			map[gear.State]gear.State{gear.InService: gear.InService},
			map[gear.State]string{gear.Quarantine: "nothing changes but where it lies", gear.Retired: "nothing changes but where it lies"},
		},
		{
			"move it", typed(func(i *gear.Item) { i.Place = "shelf" }), "gear-change",
			map[gear.State]gear.State{gear.InService: gear.InService, gear.Quarantine: gear.Quarantine, gear.Retired: gear.Retired}, nil,
		},
		{
			"retire it", typed(func(i *gear.Item) {
				if i.State != gear.Retired {
					i.State, i.Reason = gear.Retired, "cut"
				}
			}), "retirement",
			map[gear.State]gear.State{gear.InService: gear.Retired, gear.Quarantine: gear.Retired, gear.Retired: gear.Retired}, nil,
		},
		{
			"into quarantine by hand", typed(func(i *gear.Item) { i.State, i.Reason = gear.Quarantine, "odd" }), "gear-change",
			map[gear.State]gear.State{gear.Quarantine: gear.Quarantine}, map[gear.State]string{gear.InService: "goes with a record", gear.Retired: "is retired"},
		},
		{
			"back by hand", typed(func(i *gear.Item) { i.State, i.Reason = gear.InService, "" }), "gear-change",
			map[gear.State]gear.State{gear.InService: gear.InService}, map[gear.State]string{gear.Quarantine: "goes with a record", gear.Retired: "is retired"},
		},
		{
			"into quarantine", signed(`"kind":"quarantine","item":"ITEM","note":"again","quarantine":{"event":"heat"}`), "quarantine",
			map[gear.State]gear.State{gear.InService: gear.Quarantine, gear.Quarantine: gear.Quarantine, gear.Retired: gear.Retired},
			map[gear.State]string{gear.Retired: "retired already"},
		},
		{
			"back in service", signed(`"kind":"back-in-service","item":"ITEM","note":"looked at"`), "back-in-service",
			map[gear.State]gear.State{gear.Quarantine: gear.InService},
			map[gear.State]string{gear.InService: "not in quarantine", gear.Retired: "not in quarantine"},
		},
		{
			"a check that failed", signed(checked("ITEM", "rope-4", false, "look", "rolls")), "function-check",
			map[gear.State]gear.State{gear.InService: gear.Quarantine, gear.Quarantine: gear.Quarantine, gear.Retired: gear.Retired}, nil,
		},
		{
			"a check that passed", signed(checked("ITEM", "rope-4", true, wheelProofs...)), "function-check",
			map[gear.State]gear.State{gear.InService: gear.InService, gear.Quarantine: gear.Quarantine, gear.Retired: gear.Retired},
			map[gear.State]string{gear.Quarantine: "is in state quarantine", gear.Retired: "is in state retired"},
		},
		{
			"worn and not as it must be", signed(`"kind":"worn-check","person":"rhea","worn":{"items":[{"item":"ITEM","sound":false,"note":"cut"}]}`), "worn-check",
			map[gear.State]gear.State{gear.InService: gear.Quarantine, gear.Quarantine: gear.Quarantine, gear.Retired: gear.Retired}, nil,
		},
		{
			"worn, and said to be sound", signed(`"kind":"worn-check","person":"rhea","worn":{"items":[{"item":"ITEM","sound":true}]}`), "worn-check",
			map[gear.State]gear.State{gear.InService: gear.InService, gear.Quarantine: gear.Quarantine, gear.Retired: gear.Retired},
			map[gear.State]string{gear.Quarantine: "is in state quarantine", gear.Retired: "is in state retired"},
		},
		{
			"hand it out", signed(`"kind":"kit-issue","day":"2026-11-24","kit":{"kit":"rescue-bag","to":"van 2","items":["ITEM"]}`), "kit-issue",
			map[gear.State]gear.State{gear.InService: gear.InService, gear.Quarantine: gear.Quarantine, gear.Retired: gear.Retired},
			map[gear.State]string{gear.Quarantine: "is in state quarantine", gear.Retired: "is in state retired"},
		},
	}
	n := 0
	for _, state := range []gear.State{gear.InService, gear.Quarantine, gear.Retired} {
		for _, a := range actions {
			n++
			id := fmt.Sprintf("wheel-%d", n)
			fresh := gear.Item{ID: id, Model: "backup-wheel", Serial: id, Label: id, State: state}
			if state != gear.InService {
				fresh.Reason = "worn"
			}
			if answer, text := call(t, "PUT", dov.URL+"/api/v1/gear", []byte(`{"items":[`+asJSON(t, fresh)+`]}`)); answer.StatusCode != 200 {
				t.Fatalf("%s %s", answer.Status, text)
			}
			before, had := find(id), len(linesOf(t, dov.URL, "item="+id))
			why, done := a.do(id)
			after, records := find(id), linesOf(t, dov.URL, "item="+id)
			want := a.after[state]
			if done != (want != "") {
				t.Errorf("%s, %s: done %v, %s", state, a.name, done, why)
			}
			if !strings.Contains(why, a.says[state]) {
				t.Errorf("%s, %s: %q does not say %q", state, a.name, why, a.says[state])
			}
			if !done && (asJSON(t, after) != asJSON(t, before) || len(records) != had) {
				t.Errorf("%s, %s: refused, and something was changed", state, a.name)
			}
			if done && after.State != want {
				t.Errorf("%s, %s: then %s, wanted %s", state, a.name, after.State, want)
			}
			// What is typed and changes nothing leaves no record; what is signed always does.
			signed := !slices.Contains([]string{"gear-change", "retirement"}, a.kind)
			recorded := slices.ContainsFunc(records[:len(records)-had], func(l store.RecordLine) bool { return string(l.Says.Kind) == a.kind })
			if done && recorded != (signed || after.Reason != before.Reason || after.Label != before.Label || after.Place != before.Place || after.State != before.State) {
				t.Errorf("%s, %s: recorded %v among %d", state, a.name, recorded, len(records)-had)
			}
		}
	}
}
