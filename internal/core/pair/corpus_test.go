package pair_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/corpus"
)

// Anything done after anything, what it breaks, and what one failure then does, are what
// they were.
func TestStrays(t *testing.T) {
	var lines []string
	for n := range 160 {
		r := rand.New(rand.NewPCG(73, uint64(n)))
		m := some(r)
		sc, at := m.scene(t, quantity.Metres(1+r.IntN(50)))
		var all []any
		for range 14 {
			a := pair.Action{
				Do: pair.Do(every[r.IntN(len(every))]), Item: []string{"their-descender", "their-backup", "their-chest", "none"}[r.IntN(4)], Links: r.IntN(5), Strap: r.IntN(3) == 0,
				Strand: pair.Strand(r.IntN(3)), AtM: at.R.At.M() - quantity.Metres(r.IntN(300))/100, Unlocked: r.IntN(6) == 0,
			}
			next, found, err := sc.Apply(at, a)
			if err != nil {
				all = append(all, a, err.Error())
				continue
			}
			at = next
			all = append(all, a, found, sc.Show(&at), sc.FailOne(&at), sc.HandsOff(&at), sc.Ready(&at))
		}
		lines = append(lines, corpus.Line(t, fmt.Sprintf("%03d %s set %d", n, m.on, m.set), fmt.Sprint(len(all)), all))
	}
	corpus.Same(t, "testdata/strays.corpus", lines)
}

// every is all that can be done; what comes far is there more often.
var every = strings.Split("park,tie-off,untie-off,unpark,clear-legs,clear-legs,long-lanyard,long-lanyard,chain,chain,chain,lock,take-strand,take-strand,unpark-theirs,lower-theirs,rig-lift,lift,let-up,take-off,take-off,bend,descend,land", ",")

// Pick-offs that are found, walked on down to the landing, and with one step left out are
// what they were.
func TestCorpus(t *testing.T) {
	var lines []string
	for n := range 120 {
		r := rand.New(rand.NewPCG(71, uint64(n)))
		m := some(r)
		sc, start := m.scene(t, quantity.Metres(5+r.IntN(50)))
		name := fmt.Sprintf("%03d %s set %d", n, m.on, m.set)
		plan, err := sc.Find(t.Context(), "way", start)
		if err != nil {
			lines = append(lines, corpus.Line(t, name, "none", err.Error()))
			continue
		}
		var list []pair.Action
		for _, s := range plan.Steps {
			list = append(list, s.Action)
		}
		down := append(list, pair.Action{Do: pair.Descend, AtM: 1}, pair.Action{Do: pair.Land})
		walked, found := sc.Walk("way", start, down)
		i := r.IntN(len(list))
		without, wrong := sc.Walk("way", start, append(append([]pair.Action{}, list[:i]...), list[i+1:]...))
		lines = append(lines, corpus.Line(t, name, fmt.Sprintf("%d steps %.0f s", len(plan.Steps), plan.Seconds), []any{plan, walked, found, without, wrong}))
	}
	corpus.Same(t, "testdata/pick-offs.corpus", lines)
}
