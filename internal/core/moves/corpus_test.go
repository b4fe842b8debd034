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
	"zealousknot/internal/demo"
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
		p             *moves.Plan
		ask           moves.Ask
		name          string
		err           error
	)
	for n := range 160 {
		r := rand.New(rand.NewPCG(41, uint64(n)))
		var refused *strict.Error
		for again := true; again; again = errors.As(err, &refused) && r.IntN(6) > 0 {
			d, move, ways := random(r)
			if sc, at, err = sceneOn(d, ways); err != nil {
				t.Fatal(err)
			}
			name, ask = fmt.Sprintf("%03d %s", n, move), asking(move)
			ask.MaxStates, ask.AsRigged = 3000, r.IntN(5) == 0
			if r.IntN(3) == 0 {
				// To where one is, to both ends, and to what is just beside those.
				ends := []quantity.Metres{at, at, sc.Top(0).M(), sc.Ground.M(), at + 5, at - 3}
				to := max(0, ends[r.IntN(len(ends))]+quantity.Metres(r.IntN(5)-2)/100-quantity.Metres(r.IntN(2)*r.IntN(8))/20)
				ask.To = &to
			}
			if r.IntN(4) == 0 {
				ask.Set, ask.ToSet = r.IntN(3), r.IntN(4)
			}
			if r.IntN(5) == 0 {
				from := at + quantity.Metres(r.IntN(9)-4)
				ask.From = &from
			}
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
		strays = append(strays, corpus.Line(t, name, "windows", windows(sc, r)))
		strays = append(strays, corpus.Line(t, name, fmt.Sprintf("%d tried", len(tried)), tried))
	}
	corpus.Same(t, "testdata/plans.corpus", plans)
	corpus.Same(t, "testdata/strays.corpus", strays)
}

// windows are parts of a scene, by their digests: what is alike there is searched once.
func windows(sc *stance.Scene, r *rand.Rand) (list []string) {
	for range 20 {
		at := stance.Cm(r.IntN(4000))
		for i := range sc.Lines {
			if m := sc.Lines[i].Marks; len(m) > 0 && r.IntN(2) == 0 {
				at = m[r.IntN(len(m))].At + stance.Cm(r.IntN(3)-1)*stance.Cm(r.IntN(2))*500
			}
		}
		sets := [][]int{{1}, {2}, {1, 2}}[r.IntN(3)]
		text, empty := sc.Empty(sets, at, 500, 500)
		w, by := sc.Window(sets, at, 500, 500)
		sum := "none"
		if w != nil {
			sum = fmt.Sprintf("%x", w.Digest(sc.Kit()))
		}
		list = append(list, fmt.Sprint(at, text, empty, by, sum))
	}
	return list
}

// What would make a move possible that is not, by the kit and the store, is what it was.
func TestAdditionsCorpus(t *testing.T) {
	var lines []string
	for n := 0; len(lines) < 25 && n < 400; n++ {
		r := rand.New(rand.NewPCG(44, uint64(n)))
		d, move, ways := random(r)
		ask := moves.Gridded(moves.Ask{Move: move, MaxStates: 8000}, 15)
		_, err := planOn(t.Context(), d, ask, ways, demo.Gear())
		if none := (*moves.Impossible)(nil); errors.As(err, &none) {
			lines = append(lines, corpus.Line(t, fmt.Sprintf("%03d %s", n, move), string(none.Outcome), none))
		}
	}
	corpus.Same(t, "testdata/additions.corpus", lines)
}
