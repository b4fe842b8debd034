package stance

import (
	"math"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
)

// Rope is neither made nor lost by drawing it aside: from the anchor to a point that
// is drawn to a body the way is as long as the rope is to that point hanging.
func TestDrawnAside(t *testing.T) {
	r := chance.Rand(9, 1)
	for range 5000 {
		top := Cm(500 + r.IntN(9000))
		sc := &Scene{derived: derived{sides: [][]side{{{id: 0, set: 1, x: Cm(r.IntN(1000) - 500), top: top}}}}, Lines: []Line{{}}}
		sd := &sc.sides[0][0]
		s := &Stance{X: Cm(r.IntN(1000) - 500)}
		aside := float64(s.X - sd.x)
		at := Cm(r.IntN(int(top)))
		drawn := sc.drawn(s, sd, at)
		if float64(top-at) < math.Abs(aside) {
			if drawn < far {
				t.Fatalf("a rope of %d reaches %v aside", top-at, aside)
			}
			continue
		}
		if length := math.Hypot(aside, float64(top-drawn)); math.Abs(length-float64(top-at)) > 1.5*float64(top-at)/math.Max(1, float64(top-drawn)) {
			t.Errorf("rope of %d is %.1f long, %v aside", top-at, length, aside)
		}
		if drawn < at {
			t.Errorf("drawn aside %d comes down to %d", at, drawn)
		}
		// Named by where it hangs again, it is the same point or a hair lower.
		if back := sc.Along(s, 0, 0, drawn); back > at || at-back > 2+Cm(aside*aside/math.Max(1, float64(top-drawn))/10) {
			t.Errorf("%d drawn is %d, and that is %d", at, drawn, back)
		}
	}
}

// Straight below its anchor, and for who stands, nothing is drawn; above its anchor a rope
// that is drawn aside does not come. A hold comes tight where rope and links together are
// as long as the way from the anchor to the body, above or below that it is not.
func TestDrawnAtTheEdges(t *testing.T) {
	r := chance.Rand(9, 2)
	for range 3000 {
		top, x := Cm(500+r.IntN(9000)), Cm(r.IntN(400)-200)
		sc := &Scene{derived: derived{sides: [][]side{{{set: 1, x: x, top: top}}}}, Lines: []Line{{}}, Tools: []Tool{{Class: gear.Lanyard, Length: Cm(20 + r.IntN(120))}}}
		sd, at := &sc.sides[0][0], Cm(r.IntN(int(top)-250))
		s := &Stance{X: x + Cm(1+r.IntN(200)), Bears: NoTool}
		s.Holds[0] = Hold{There: true, At: at}
		aside, links := s.X-x, sc.Tools[0].Length
		if got := sc.Along(s, 0, 0, top+Cm(r.IntN(100))); got != top-aside || sc.drawn(s, sd, got) != top {
			t.Errorf("above the anchor it is %d, drawn %d; the anchor is at %d, %d aside", got, sc.drawn(s, sd, got), top, aside)
		}
		tight := sc.tightAt(s, 0)
		rope := float64(top - at + links)
		if reach := math.Hypot(float64(aside), float64(top-tight)); reach > rope+1e-9 {
			t.Errorf("tight at %d it would be %.2f long, of %v", tight, reach, rope)
		}
		if longer := math.Hypot(float64(aside), float64(top-tight+1)); longer <= rope {
			t.Errorf("a centimetre below %d it is not tight: %.2f of %v", tight, longer, rope)
		}
		for _, still := range []Stance{{X: x, Holds: s.Holds}, {X: s.X, Grounded: true, Holds: s.Holds}} {
			if a, d, tight := sc.Along(&still, 0, 0, at), sc.drawn(&still, sd, at), sc.tightAt(&still, 0); a != at || d != at || tight != at-links {
				t.Errorf("%+v: along %d, drawn %d, tight at %d; at %d with links of %d", still, a, d, tight, at, links)
			}
		}
	}
}

// Strands of the sets that are asked for hang at one place between two heights, or not:
// those of other sets and what is above or below do not count.
func TestAligned(t *testing.T) {
	sc := &Scene{
		Lines:   []Line{{Set: 1}, {Set: 2, Marks: []Mark{{At: 2000}}}, {Set: 2, Marks: []Mark{{At: 2000}}}},
		derived: derived{sides: [][]side{{{x: 0}}, {{x: 100}, {x: 250}}, {{x: 100}, {x: 250}}}},
	}
	for _, c := range []struct {
		sets      []int
		high, low Cm
		want      bool
	}{
		{[]int{1}, 2500, 1500, true}, {[]int{2}, 2500, 2001, true}, {[]int{2}, 1999, 1500, true},
		{[]int{2}, 2500, 2000, false}, {[]int{2}, 2000, 1500, false}, {[]int{1, 2}, 2500, 2001, false},
	} {
		if got := sc.aligned(c.sets, c.high, c.low); got != c.want {
			t.Errorf("sets %v from %d to %d: %v", c.sets, c.high, c.low, got)
		}
	}
}

// Who holds aside on a rope leans on the structure as a pendulum's statics says: the
// push over the weight is the way aside over the length, for small angles.
func TestSway(t *testing.T) {
	for _, mass := range []quantity.Kilograms{60, 90, 120} {
		for _, length := range []Cm{300, 2000, 9000} {
			sc := &Scene{MassKg: mass, derived: derived{sides: [][]side{{{set: 1, top: 10000}}}}, Lines: []Line{{}}, Tools: make([]Tool, 1)}
			s := &Stance{At: 10000 - length, Bears: 0}
			s.Holds[0] = Hold{There: true}
			aside := float64(sc.sway(s))
			weight := float64(mass) * 9.80665
			push := weight * aside / float64(length)
			if math.Abs(push-sidePushN) > sidePushN*0.05+weight/float64(length) {
				t.Errorf("%v kg on %v m: %v cm aside takes %.0f N", mass, length.M(), aside, push)
			}
		}
	}
}
