package web_test

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/propose"
	"zealousknot/internal/demo"
)

// What is on another drop of the day is proposed for none and named in the choices; what is
// on the drop itself, as it is kept, is free again once it was taken off.
func TestPropose(t *testing.T) {
	s, _ := site(t)
	ask := func(id string, change func(*drop.Document)) *propose.Proposal {
		t.Helper()
		answer, text := call(t, "POST", s.URL+"/api/v1/propose?id="+id, []byte(`{"drop":`+string(document(t, "gate-shaft", change))+`}`))
		a := new(propose.Proposal)
		if err := json.Unmarshal(text, a); err != nil || answer.StatusCode != 200 {
			t.Fatalf("%s %.300s", answer.Status, text)
		}
		return a
	}
	bare := func(d *drop.Document) {
		d.Strands, d.PartnerChecks, d.Checks = nil, nil, nil
		for i := range d.People {
			d.People[i].Holds, d.People[i].Carries = nil, nil
		}
	}
	whole := ask("gate-shaft", func(*drop.Document) {})
	if len(whole.Missing) > 0 {
		t.Errorf("missing on a drop of the demo: %+v", whole.Missing)
	}
	own, busy := map[string]bool{}, map[string]string{}
	for id, d := range demo.Drops() {
		for item := range d.Used() {
			if id == "gate-shaft" {
				own[item] = true
			} else {
				busy[item] = id
			}
		}
	}
	for id, free := range map[string]bool{"gate-shaft": true, "": false} {
		took := false
		for _, c := range ask(id, bare).Choices {
			if where := busy[c.Item]; where != "" {
				t.Errorf("%s of %s is proposed", c.Item, where)
			}
			took = took || own[c.Item]
		}
		if took != free {
			t.Errorf("as %q: what the kept drop has is taken: %v", id, took)
		}
	}
	refused(t, 422, "/parts/0", "POST", s.URL+"/api/v1/propose", []byte(`{"drop":`+string(document(t, "gate-shaft", nil))+`,"parts":["people/nobody"]}`))
	refused(t, 422, "/parts/0", "POST", s.URL+"/api/v1/propose", []byte(`{"drop":`+string(document(t, "gate-shaft", nil))+`,"parts":["weather"]}`))

	_, text := call(t, "POST", s.URL+"/api/v1/choices?id=face-4", []byte(`{"drop":`+string(document(t, "face-4", nil))+`,"place":{"person":"rhea","hold":"rhea-main"}}`))
	var choices check.Choices
	if err := json.Unmarshal(text, &choices); err != nil || !slices.ContainsFunc(choices.Choices, func(c check.Choice) bool { return strings.Contains(c.Elsewhere, "that day") }) {
		t.Errorf("no choice says where it is besides: %v", err)
	}
}
