package moves_test

import (
	"errors"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/stance"
)

// What is near a mark alone decides how it is passed: in a window around it the move
// takes as long as with the whole strands, and the window is the same wherever the mark
// is, as long as what is near it is.
func TestWindow(t *testing.T) {
	r := chance.Rand(13, 3)
	past := map[rig.MarkKind]string{rig.KnotMark: "pass-knots-down", rig.RebelayMark: "rebelay-down", rig.DeviationMark: "deviation-down"}
	compared := 0
	for range max(12, *drops/20) {
		d, _, ways := random(r)
		sc, _, err := sceneOn(d, ways)
		if err != nil {
			t.Fatal(err)
		}
		for _, m := range sc.Lines[0].Marks {
			if past[m.Kind] == "" || m.At > sc.Lines[0].Top-300 {
				continue
			}
			whole, lift := sc.Window([]int{1}, m.At, 1<<20, m.At)
			window, by := sc.Window([]int{1}, m.At, 500, 700)
			from := func(by stance.Cm) moves.Ask {
				at := (m.At + 150 + by).M()
				return moves.Ask{Move: past[m.Kind], From: &at, MaxStates: 10_000}
			}
			a, n, err1 := moves.Time(t.Context(), whole, 0, from(lift))
			b, _, err2 := moves.Time(t.Context(), window, 0, from(by))
			if errors.Is(err1, moves.ErrUndecided) || errors.Is(err2, moves.ErrUndecided) || n == 0 {
				continue
			}
			compared++
			if (err1 == nil) != (err2 == nil) || a-b > 1e-6 || b-a > 1e-6 {
				t.Errorf("%s at %v: %v %v with the whole strands, %v %v in the window\n%+v", m.Kind, m.At.M(), a, err1, b, err2, sc.Lines)
			}
		}
	}
	if compared < 5 {
		t.Errorf("%d compared", compared)
	}
	// Moved up on a longer strand it is the same window.
	digest := func(up float64) any {
		d := shaft(24, []rig.Mark{knot("m", 12+up, true)}, []rig.Mark{knot("b", 12.2+up, false)})
		for i := range d.Anchors {
			d.Anchors[i].HeightM += quantity.Metres(up)
		}
		sc, _, err := sceneOn(d, school.Schools{})
		if err != nil {
			t.Fatal(err)
		}
		w, _ := sc.Window([]int{1}, stance.ToCm(quantity.Metres(12+up)), 500, 500)
		return w.Digest(sc.Kit())
	}
	if digest(0) != digest(3) {
		t.Error("a knot 3 m further up is another one")
	}
}

// Where it is said that there is no way, there is none among heights closer together
// than those that were considered.
func TestFinerAgrees(t *testing.T) {
	r := chance.Rand(13, 4)
	none, finer := 0, 0
	for range *drops {
		d, move, ways := random(r)
		sc, at, err := sceneOn(d, ways)
		if err != nil {
			t.Fatal(err)
		}
		ask := asking(move)
		if _, err := moves.For(t.Context(), sc, at, ask); !errors.Is(err, moves.ErrNone) {
			continue
		}
		none++
		ask.MaxStates = 60_000
		_, err = moves.For(t.Context(), sc, at, moves.Gridded(ask, 3))
		if err == nil {
			t.Errorf("%s at %v: a way among finer heights\n%+v", move, at, sc.Lines)
		}
		if errors.Is(err, moves.ErrNone) {
			finer++
		}
	}
	if t.Logf("%d without a way, %d of them with none among finer heights", none, finer); finer == 0 {
		t.Error("nothing compared")
	}
}
