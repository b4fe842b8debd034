package moves_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"regexp"
	"testing"

	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/corpus"
)

// nowhere is a height that stands for none, and must not be shown.
var nowhere = regexp.MustCompile(`[0-9]{4,}(\.[0-9]+)? m\b`)

// Plans on made-up drops, and what comes of actions that stray from them, are what they
// were: each limit that a stance, a step or a plan keeps decides some of them.
func TestCorpus(t *testing.T) {
	var (
		plans, strays []string
		sc            *stance.Scene
		at            quantity.Metres
		p             *moves.MovePlan
		ask           moves.Ask
		name          string
		err           error
	)
	for n := range 160 {
		r := rand.New(rand.NewPCG(41, uint64(n)))
		var refused *strict.Error
		for again := true; again; again = errors.As(err, &refused) && r.IntN(6) > 0 {
			d, move, ways := random(r)
			if sc, at, err = d.Scene("", ways); err != nil {
				t.Fatal(err)
			}
			name, ask = fmt.Sprintf("%03d %s", n, move), asking(move)
			ask.MaxStates, ask.AsRigged = 3000, r.IntN(5) == 0
			if n%4 > 0 {
				ask = moves.Gridded(ask, 15) // the usual heights alone: finer ones take long
			}
			p, err = moves.For(t.Context(), sc, at, ask)
		}
		switch {
		case errors.As(err, &refused):
			plans = append(plans, corpus.Line(t, name, "refused", refused.Error()))
		case err != nil:
			plans = append(plans, corpus.Line(t, name, string(search.OutcomeOf(err)), err.Error()))
		default:
			plans = append(plans, corpus.Line(t, name, fmt.Sprintf("%d steps", len(p.Steps)), p))
		}
		tried := moves.Stray(sc, at, ask, r, 250)
		for i := range tried {
			if text := fmt.Sprint(tried[i].No, tried[i].Broken); nowhere.MatchString(text) {
				t.Errorf("%s: %+v: %s", name, tried[i].Action, text)
			}
		}
		strays = append(strays, corpus.Line(t, name, fmt.Sprintf("%d tried", len(tried)), tried))
	}
	corpus.Same(t, "testdata/plans.corpus", plans)
	corpus.Same(t, "testdata/strays.corpus", strays)
}
