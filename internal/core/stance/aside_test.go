package stance

import (
	"math"
	"slices"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
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

// Strands of the given sets hang at one place between two heights, or not:
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

// A fixed point is reached as far aside as the arm; a strand as far as one holds oneself
// aside too.
func TestReaches(t *testing.T) {
	sc := &Scene{
		Up: 100, Out: 70, MassKg: 100, Lines: []Line{{Set: 1}, {Set: 2}, {Set: 1}}, Tools: make([]Tool, 2),
		derived: derived{sides: [][]side{{{set: 1, top: 3000}}, {{id: 1, set: 2, top: 3000}}, {{set: 1, top: 3000, x: 300}}}},
	}
	sway := sc.sway(&Stance{At: 1000})
	for _, c := range []struct {
		aside, at Cm
		fixed     bool
		want      bool
	}{
		{70, 1100, true, true}, {-70, 1100, true, true}, {71, 1100, true, false}, {-71, 1100, true, false}, {0, 1101, true, false}, {0, 1000 - ReachDown, true, true}, {0, 999 - ReachDown, true, false},
		{70 + sway, 1000, false, true}, {71 + sway, 1000, false, false},
	} {
		s := &Stance{At: 1000, X: c.aside}
		s.Holds[0] = Hold{There: true, Line: 1}
		if err := sc.reaches(s, 0, 0, c.at, c.fixed); (err == nil) != c.want {
			t.Errorf("%d aside at %d, fixed %v: %v", c.aside, c.at, c.fixed, err)
		}
	}
	// On the strand beside it already, one pulls oneself across to within the arm's reach of it.
	for x, want := range map[Cm]bool{70: true, -70: true, 71: false, -71: false} {
		sc.sides[2][0].x = x
		s := &Stance{At: 1000, X: 500}
		s.Holds[0], s.Holds[1] = Hold{There: true, Line: 1}, Hold{There: true, Line: 2, At: 1000}
		if err := sc.reaches(s, 0, 0, 1000, false); (err == nil) != want {
			t.Errorf("a strand %d beside one that one is on: %v", x, err)
		}
	}
}

// The loop of a re-belay leads to the other side where its anchor is within the arm's
// reach, above and below; a device whose rope is shorter than the way aside is not in hand.
func TestJoined(t *testing.T) {
	for at, want := range map[Cm]bool{1100: true, 1101: false, 1000 - ReachDown: true, 999 - ReachDown: false} {
		sc := &Scene{
			Up: 100, Out: 70, MassKg: 100, Lines: []Line{{Set: 1, Marks: []Mark{{Kind: rig.RebelayMark, At: at, DownTo: at - 400}}}},
			Tools: []Tool{{Class: gear.Descender}}, derived: derived{sides: [][]side{{{set: 1, top: 3000, x: 400}, {set: 1, top: at}}}},
		}
		s := &Stance{At: 1000}
		s.Holds[0] = Hold{There: true, Span: 1, At: 1000}
		if got := sc.joined(s, 0, &sc.sides[0][0]); got != want {
			t.Errorf("the anchor at %d, sat at 1000: %v", at, got)
		}
		s.Holds[0] = Hold{There: true, At: 3000 - 399}
		if err := sc.getsAt(s, 0); err == nil {
			t.Error("a device 4 m aside on 3.99 m of rope is in hand")
		}
	}
}

// What would come tight and bear is refused: not what bears, what is kept slack by hand or
// by a rule, or what is not on.
func TestTight(t *testing.T) {
	classes := []gear.Class{gear.Descender, gear.ChestAscender, gear.HandAscender, gear.BackupDevice, gear.Lanyard}
	sc := &Scene{Lines: []Line{{Set: 1}}, derived: derived{sides: [][]side{{{set: 1, top: 3000}}}}}
	for _, c := range classes {
		sc.Tools = append(sc.Tools, Tool{Class: c, Length: 60})
	}
	for i, refused := range []bool{false, true, false, false, true} {
		for over, want := range map[Cm]bool{Slackness: false, Slackness + 1: refused} {
			s := Stance{At: 1000, Bears: 0}
			s.Holds[0] = Hold{There: true, At: 1000 + DeviceLen}
			s.Holds[i] = Hold{There: true, At: 1000 + sc.Tools[i].taut() + over}
			if err := sc.tight(&s); (err != nil) != want {
				t.Errorf("%v, %d tight: %v", classes[i], over, err)
			}
			s.Holds[i].There = false
			if err := sc.tight(&s); err != nil {
				t.Errorf("%v is not on: %v", classes[i], err)
			}
			s.Holds[i].There, s.Grounded = true, true
			if err := sc.tight(&s); err != nil {
				t.Errorf("on the ground: %v", err)
			}
		}
	}
}

// A foot loop goes onto a hand ascender that has none; a second one onto the longest lanyard
// without, once every hand ascender has one.
func TestLoopsAreAdded(t *testing.T) {
	stands := func(sc *Scene) (list []bool) {
		if sc == nil {
			return nil
		}
		for i := range sc.Tools {
			list = append(list, sc.Tools[i].Stands)
		}
		return list
	}
	hand, short, long := Tool{Class: gear.HandAscender}, Tool{Class: gear.Lanyard, Length: 60}, Tool{Class: gear.Lanyard, Length: 100}
	on := func(t Tool) Tool { t.Stands = true; return t }
	for _, c := range []struct {
		tools         []Tool
		foot, lanyard []bool
	}{
		{[]Tool{hand, short, long}, []bool{true, false, false}, nil},
		{[]Tool{on(hand), short, long}, nil, []bool{true, false, true}},
		{[]Tool{long, on(hand), short}, nil, []bool{true, true, false}},
		{[]Tool{on(hand), short, on(long)}, nil, []bool{true, true, true}},
		{[]Tool{on(hand)}, nil, nil},
		{[]Tool{short, long}, nil, []bool{false, true}},
	} {
		sc := &Scene{Tools: c.tools}
		if got := stands(sc.WithFootLoop()); !slices.Equal(got, c.foot) {
			t.Errorf("%+v with a foot loop: %v", c.tools, got)
		}
		if got := stands(sc.WithLanyardLoop()); !slices.Equal(got, c.lanyard) {
			t.Errorf("%+v with a loop on a lanyard: %v", c.tools, got)
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

// Of who hangs in a sling a rope counts within an arm's reach of its own anchor, however near
// the middle of its set is.
func TestLeftBehind(t *testing.T) {
	for x, counts := range map[Cm]bool{55: true, 56: false, -85: true, -86: false} {
		sc := &Scene{MassKg: 100, Out: ReachOut, Lines: []Line{
			{Set: 1, Role: rig.Main, Top: 5000, X: -15}, {Set: 1, Role: rig.Backup, Top: 5000, X: 15},
			{Set: 3, Role: Structure, Top: 3000, Marks: []Mark{{Kind: SlingMark, At: 3000, X: x}}},
		}, Tools: []Tool{{Class: gear.ChestAscender}, {Class: gear.Lanyard}}}
		sc.hang()
		s := &Stance{At: 2950, Bears: 1}
		s.Holds[0] = Hold{There: true, Locked: true, Proved: true, At: 3000}
		s.Holds[1] = Hold{There: true, Locked: true, Proved: true, Line: 2, Span: 1, Clip: IntoMark, At: 3000}
		s.On(sc, 2, 1)
		if sc.counts(s, 0) != counts || !sc.counts(s, 1) {
			t.Errorf("in a sling %d from the middle of the set: counts is %v", x, !counts)
		}
	}
}

// Strands whose anchors are apart draw the body to the middle of them as far as eighty
// newtons do on the rope above it: near the anchors each hangs under its own, far below both
// under the middle; and a window far below has them at one place.
func TestOwnAnchors(t *testing.T) {
	for _, c := range []struct{ apart, rope, aside Cm }{
		// 100 kg: 8.16 cm of a metre.
		{Together, 100, 0}, {80, 0, 80}, {80, 100, 72}, {80, 500, 40}, {80, 980, 1}, {80, 981, 0}, {120, 1400, 6}, {120, 1472, 0},
	} {
		sc := &Scene{MassKg: 100, Lines: []Line{{Set: 1, Role: rig.Main, Top: 5000, X: -c.apart / 2}, {Set: 1, Role: rig.Backup, Top: 5000, X: c.apart / 2}}, Tools: make([]Tool, 1)}
		sc.hang()
		own := sc.Own()
		s := &Stance{At: 5000 - c.rope}
		s.Holds[0].There = true
		s.On(own, 0, 0)
		for _, flip := range []bool{false, true} {
			other := 1
			if flip {
				s.Holds[0].Line, other = 1, 0
				s.On(own, 1, 0)
			}
			aside := own.aside(s, &own.sides[other][0])
			if got := max(aside, -aside); got != c.aside || aside != 0 && (aside < 0) != flip {
				t.Errorf("anchors %d apart, %d below them: the other strand is %d aside, want %d", c.apart, c.rope, aside, c.aside)
			}
			if aside := own.aside(s, &own.sides[1-other][0]); aside != 0 {
				t.Errorf("the strand that bears is %d aside", aside)
			}
		}
		// At the top one stands at the main, wherever one was before; at the landing one walks.
		for at, want := range map[Cm]Cm{4900: c.apart, 0: 0} {
			if c.apart <= Together {
				want = 0
			}
			if got := own.aside(&Stance{Grounded: true, At: at, X: 777}, &own.sides[1][0]); got != want {
				t.Errorf("standing at %d: %d aside, want %d", at, got, want)
			}
		}
		mid, apart := own.Middle()
		if apart != (c.apart > Together) || !mid.Level() || own.Level() == apart {
			t.Errorf("anchors %d apart: %v", c.apart, apart)
		}
		// Of a pair as well: from twice as far below.
		for high, want := range map[Cm]bool{5000 - 2*982: c.apart <= 80, 5000 - 2*980: c.apart <= Together, 5000 - 2*1472: true} {
			if got := own.aligned([]int{1}, high, 0); got != want {
				t.Errorf("anchors %d apart, from %d: at one place: %v", c.apart, high, got)
			}
		}
	}
}
