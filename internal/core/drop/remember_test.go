package drop_test

import (
	"bytes"
	"encoding/json"
	"flag"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/demo"
)

var covers = flag.Int("covers", 8, "drops whose cover is asked about after another one")

// spot is a value of a document as JSON that can be changed.
type spot struct {
	path string
	set  func(any)
	now  any
}

// spots lists every value and list of a document.
func spots(path string, v any, set func(any), list []spot) []spot {
	list = append(list, spot{path, set, v})
	switch v := v.(type) {
	case map[string]any:
		for _, k := range sorted(v) {
			list = spots(path+"/"+k, v[k], func(n any) { v[k] = n }, list)
		}
	case []any:
		for i := range v {
			list = spots(path, v[i], func(n any) { v[i] = n }, list)
		}
	}
	return list
}

func sorted(m map[string]any) []string {
	var keys []string
	for k := range m {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	return keys
}

// edit changes one value of a document at random: a figure, an answer, a word that stands
// elsewhere in it, the order of a list, one thing out of it. Empty where that is refused.
func edit(t testing.TB, r *rand.Rand, text []byte) (changed *drop.Document, what string) {
	t.Helper()
	var doc any
	if err := json.Unmarshal(text, &doc); err != nil {
		t.Fatal(err)
	}
	all := spots("", doc, nil, nil)
	s := all[1+r.IntN(len(all)-1)]
	switch v := s.now.(type) {
	case float64:
		s.set([]any{v * 0.5, v * 2, v + 1, 0.0, v - 0.3}[r.IntN(5)])
	case bool:
		s.set(!v)
	case string:
		o := all[r.IntN(len(all))]
		if _, ok := o.now.(string); !ok {
			return nil, ""
		}
		s.set(o.now)
	case []any:
		if len(v) == 0 {
			return nil, ""
		}
		c := slices.Clone(v)
		if i := r.IntN(len(c)); r.IntN(2) == 0 {
			c = slices.Delete(c, i, i+1)
		} else {
			r.Shuffle(len(c), func(i, j int) { c[i], c[j] = c[j], c[i] })
		}
		s.set(c)
	default:
		return nil, ""
	}
	again, err := json.Marshal(doc)
	if err != nil || bytes.Equal(again, text) {
		return nil, ""
	}
	if changed, err = drop.Read(again); err != nil {
		return nil, ""
	}
	return changed, s.path
}

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
	env := drop.NewEnv()
	cover(t, env, base)
	differ := 0
	for n := 0; n < *covers; {
		d, what := edit(t, r, text)
		// Words that decide nothing are not worth an answer.
		if d == nil || d.Rescue == nil || strings.Contains(what, "proofs") || strings.HasSuffix(what, "/name") || strings.HasSuffix(what, "label") || strings.HasSuffix(what, "on") {
			continue
		}
		n++
		after, alone := cover(t, env, d), cover(t, drop.Env{}, d)
		after.Expanded, alone.Expanded = 0, 0 // what is known is not expanded again
		a, _ := json.Marshal(after)
		b, _ := json.Marshal(alone)
		if !bytes.Equal(a, b) {
			t.Fatalf("%s: asked after another drop\n%.600s\nalone\n%.600s", what, a, b)
		}
		if was := cover(t, env, base); len(was.Cover.Gaps) != len(alone.Cover.Gaps) {
			differ++
		}
	}
	t.Logf("%d of the edits change the gaps", differ)
}
