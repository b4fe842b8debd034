package glossary_test

import (
	"strings"
	"testing"

	"zealousknot/internal/core/glossary"
)

// TestOneWordOneMeaning holds that a name stands for one thing only, whatever region says it,
// and that a meaning is short and whole.
func TestOneWordOneMeaning(t *testing.T) {
	meanings := map[string]string{}
	for _, term := range glossary.Terms {
		for _, name := range append([]string{term.Word}, term.Also...) {
			key := strings.ToLower(name)
			if was, twice := meanings[key]; twice {
				t.Errorf("%q means both %q and %q", name, was, term.Word)
			}
			meanings[key] = term.Word
			if got, ok := glossary.Find(strings.ToUpper(name)); !ok || got.Word != term.Word {
				t.Errorf("%q finds %q", name, got.Word)
			}
		}
		if n := len(strings.Fields(term.Means)); n > 30 || !strings.HasSuffix(term.Means, ".") {
			t.Errorf("%s: %d words, %q", term.Word, n, term.Means)
		}
	}
	if _, ok := glossary.Find("nothing of the kind"); ok {
		t.Error("an unknown word has a meaning")
	}
}
