package ask_test

import (
	"slices"
	"testing"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/finding"
)

// A policy may name every rule on a drop and on a board, and no other.
func TestRuleIDs(t *testing.T) {
	var ids []string
	for _, r := range ask.Rules() {
		ids = append(ids, r.ID)
	}
	ids = append(ids, day.RuleIDs()...)
	for _, r := range callout.Rules {
		ids = append(ids, r.ID)
	}
	slices.Sort(ids)
	if list := finding.Rules(); !slices.Equal(slices.Compact(ids), list) {
		t.Errorf("the rules are\n%v\nand a policy may name\n%v", ids, list)
	}
}

// Each question has an id and an address of its own, and answers in one object or list.
func TestQuestions(t *testing.T) {
	seen := map[string]bool{}
	for _, q := range ask.Questions() {
		if at := q.Method + " " + q.Path; seen[q.ID] || seen[at] || q.Summary == "" || len(q.Answer) == 0 || (q.Method == "GET") != (q.Request == nil) {
			t.Errorf("%s: %+v", q.ID, q)
		} else {
			seen[q.ID], seen[at] = true, true
		}
		if _, err := q.Ask(t.Context(), ask.Env{}, []byte(`{"none":1}`), []byte(`{"none":1}`)); (err == nil) != (q.Request == nil) {
			t.Errorf("%s takes what it does not know: %v", q.ID, err)
		}
	}
	if ask.Find("none") != nil || ask.Find("check").ID != "check" {
		t.Error("found by another id")
	}
}
