package team_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/team"
	"zealousknot/internal/corpus"
)

// every is all that a team can do.
var every = strings.Split("load-rope,prove,park,unpark,tie,untie,hand-on,hand-off,bend-in,bend-out,over-edge,lower,put-grab,settle,through,extend,take-grab,build,haul,capture,advance,strip,share,unshare,leave,return,swap,over-knot,free-teeth,set-lock,handle-out,turn,draw-slack,fold-handle,grip-wheel,free-lock,let-go-wheel", ",")

// stray is a state in which a team need not ever be, and something that is done in it.
func stray(r *rand.Rand, rigged *team.Rig) (team.State, team.Action) {
	coin := func(n int) bool { return r.IntN(n) == 0 }
	half := func(knots int) team.Half {
		h := team.Half{
			Loaded: !coin(6), Proved: !coin(5), Parked: coin(3), Tied: coin(8), Bend: coin(2), Hand: int8(r.IntN(4)), Forward: coin(8), Away: coin(8), Grab: team.Grab(max(0, r.IntN(6)-3)), Extended: coin(6),
			Spent: coin(6), Pull: coin(5), Beyond: coin(4), Toothed: team.Teeth(max(0, r.IntN(8)-5)), Passed: int8(r.IntN(knots + 1)),
		}
		h.Wheel = team.Wheel{Set: coin(2), Handle: coin(3), Grip: coin(3), Slack: coin(3)}
		return h
	}
	s := team.State{Main: half(len(rigged.Main.KnotsM)), Belay: half(len(rigged.Belay.KnotsM)), At: stance.Cm(2000 + r.IntN(7400)), Hangs: !coin(8), Shared: coin(4)}
	if coin(2) {
		s.Main.Haul = int8([]int{1, 2, 3, 5, 9}[r.IntN(5)])
	}
	// Now and then just where a knot is of some account.
	if l := rigged.Main; len(l.KnotsM) > 0 && coin(2) {
		k := l.KnotsM[r.IntN(len(l.KnotsM))]
		s.At = stance.ToCm(l.Path.Height(k + quantity.Metres(r.IntN(140)-40)/100))
	}
	a := team.Action{Do: team.Do(every[r.IntN(len(every))]), Line: []string{"main", "main", "belay"}[r.IntN(3)], By: r.IntN(4), AtM: s.At.M() + quantity.Metres(r.IntN(300)-150)/100, Ratio: []int{1, 2, 3, 5, 9}[r.IntN(5)]}
	if coin(6) {
		a.AtM = s.At.M() // neither up nor down
	}
	a.Silent, a.Forward, a.Loose, a.Behind = coin(6), coin(6), coin(6), coin(6)
	return s, a
}

// What is done in any state, what it breaks, and what then fails, are what they were.
func TestStrays(t *testing.T) {
	var lines []string
	for n := range 700 {
		r := rand.New(rand.NewPCG(63, uint64(n)))
		rigged, _ := random(r)
		s, a := stray(r, rigged)
		next, found, err := rigged.Apply(s, a)
		short := "done"
		said := ""
		if err != nil {
			short, said = "cannot be", err.Error()
		}
		lines = append(lines, corpus.Line(t, fmt.Sprintf("%03d %s", n, a.Do), short, []any{said, found, next, rigged.FailOne(&next), rigged.HandsOff(&next), rigged.Check(&s)}))
	}
	corpus.Same(t, "testdata/strays.corpus", lines)
}

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
		if n%3 > 0 {
			in.EdgeName, in.OffsetM = "edge", quantity.Metres(n%7)
			in.Edges = []rig.Edge{{ID: "edge", Name: "edge", HeightM: in.EdgeM, RopeM: 0.4}, {ID: "second", Name: "second", HeightM: in.EdgeM / 2, RopeM: 0.3}}
			view.Main.KnotsM = []quantity.Metres{12, quantity.Metres(20 + n%9)}
		}
		rigged := team.New(view, in)
		f := rigged.Figures()
		lines = append(lines, corpus.Line(t, fmt.Sprintf("%03d figures", n), fmt.Sprintf("%d found, best %d", len(f.Found), f.Best), f))
	}
	corpus.Same(t, "testdata/teams.corpus", lines)
}
