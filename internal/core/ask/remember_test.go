package ask_test

import (
	"bytes"
	"encoding/json"
	"flag"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/ask"
	"zealousknot/internal/corpus"
	"zealousknot/internal/demo"
)

var covers = flag.Int("covers", 8, "drops whose cover is asked about after another one")

// What was asked before never decides an answer: a drop that differs in one field from
// one that was asked about is answered as if it were asked about alone.
func TestCoverRemembersNothingOfAnotherDrop(t *testing.T) {
	r := chance.Rand(13, 2)
	base := copyOf(t, demo.Drops()["face-7"])
	base.Checks, base.PartnerChecks = nil, nil
	text, err := json.Marshal(base)
	if err != nil {
		t.Fatal(err)
	}
	env := ask.NewEnv()
	covered(t, env, base)
	differ := 0
	for n := 0; n < *covers; {
		d, what := corpus.Edit(t, r, text)
		// Words that decide nothing are not worth an answer.
		if d == nil || d.Rescue == nil || strings.Contains(what, "proofs") || strings.HasSuffix(what, "/name") || strings.HasSuffix(what, "label") || strings.HasSuffix(what, "on") {
			continue
		}
		n++
		after, alone := covered(t, env, d), covered(t, ask.Env{}, d)
		after.Expanded, alone.Expanded = 0, 0 // what is known is not expanded again
		a, _ := json.Marshal(after)
		b, _ := json.Marshal(alone)
		if !bytes.Equal(a, b) {
			t.Fatalf("%s: asked after another drop\n%.600s\nalone\n%.600s", what, a, b)
		}
		if was := covered(t, env, base); len(was.Cover.Gaps) != len(alone.Cover.Gaps) {
			differ++
		}
	}
	t.Logf("%d of the edits change the gaps", differ)
}
