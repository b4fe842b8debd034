package rescue_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rescue"
	"zealousknot/internal/corpus"
)

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
		var list []rescue.RescueAction
		for _, s := range plan.Steps {
			list = append(list, s.Action)
		}
		down := append(list, rescue.RescueAction{Do: rescue.Descend, AtM: 1}, rescue.RescueAction{Do: rescue.Land})
		walked, found := sc.Walk("way", start, down)
		i := r.IntN(len(list))
		without, wrong := sc.Walk("way", start, append(append([]rescue.RescueAction{}, list[:i]...), list[i+1:]...))
		lines = append(lines, corpus.Line(t, name, fmt.Sprintf("%d steps %.0f s", len(plan.Steps), plan.Seconds), []any{plan, walked, found, without, wrong}))
	}
	corpus.Same(t, "testdata/pick-offs.corpus", lines)
}
