package team_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"testing"

	"zealousknot/internal/core/search"
	"zealousknot/internal/core/team"
	"zealousknot/internal/corpus"
)

// Plans of teams on made-up rigs, what is missing where there is none, and the figures of
// rigs are what they were.
func TestCorpus(t *testing.T) {
	var lines []string
	for n := range 160 {
		r := rand.New(rand.NewPCG(61, uint64(n)))
		rigged, ask := random(r)
		name := fmt.Sprintf("%03d %s", n, ask.Move)
		p, err := rigged.For(t.Context(), ask)
		if err != nil {
			kind := "refused"
			if errors.Is(err, search.ErrNone) {
				kind = "none"
			}
			lines = append(lines, corpus.Line(t, name, kind, err.Error()))
			continue
		}
		lines = append(lines, corpus.Line(t, name, fmt.Sprintf("%d steps %.0f s", len(p.Steps), p.Seconds), p))
	}
	for n := range 60 {
		view, in := made(rand.New(rand.NewPCG(62, uint64(n))), n%2 == 0)
		rigged := team.New(view, in)
		f := rigged.Figures()
		lines = append(lines, corpus.Line(t, fmt.Sprintf("%03d figures", n), fmt.Sprintf("%d found, best %d", len(f.Found), f.Best), f))
	}
	corpus.Same(t, "testdata/teams.corpus", lines)
}
