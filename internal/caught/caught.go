// Package caught holds what a replay says of a spoilt step against the rules that must
// catch it. Only tests use it.
package caught

import (
	"slices"
	"testing"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/stance"
)

// By gives the rules that catch a fault: by its kind, or by its kind and the action that
// is spoilt, as "a step is left out/park". CannotBeDone stands for a step that is refused.
type By map[string][]string

// CannotBeDone is what no rule need catch: the step is not possible.
const CannotBeDone = "cannot be done"

// Tally counts faults that were caught, and those that were caught by a rule of another
// thing.
type Tally struct {
	by               By
	caught, misnamed int
	named            map[string]bool
}

// New counts against some rules.
func New(by By) *Tally { return &Tally{by: by, named: map[string]bool{}} }

// Add counts a breach that stops, of a fault of a kind in an action.
func (y *Tally) Add(t *testing.T, kind, do string, b *stance.Breach) {
	t.Helper()
	rules := y.by[kind]
	key := kind
	if rules == nil {
		key = kind + "/" + do
		rules = y.by[key]
	}
	y.caught++
	said := []string{CannotBeDone}
	if b.Impossible == "" {
		said = nil
		for _, v := range b.Broken {
			if v.Severity == finding.Stop {
				said = append(said, v.Rule)
			}
		}
	}
	for _, r := range said {
		if slices.Contains(rules, r) {
			y.named[key+": "+r] = true
			return
		}
	}
	if y.misnamed++; y.misnamed < 5 {
		t.Logf("%s, %s: caught by %v, not by %v", kind, do, said, rules)
	}
}

// Check fails where more than one fault of a hundred was caught by a rule of another
// thing, and where fewer than so many pairs of fault and rule were seen.
func (y *Tally) Check(t *testing.T, seen int) {
	t.Helper()
	if 100*y.misnamed > y.caught || len(y.named) < seen {
		t.Errorf("of %d faults %d were caught by a rule of another thing; %d of the rules named one", y.caught, y.misnamed, len(y.named))
	}
}
