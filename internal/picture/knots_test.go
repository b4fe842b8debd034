package picture

import (
	"math"
	"strings"
	"testing"
	"zealousknot/internal/core/knot"
)

// twice writes each pass twice: what a second strand beside the first does to a word.
func twice(word string) string {
	var b strings.Builder
	for _, c := range word {
		b.WriteRune(c)
		b.WriteRune(c)
	}
	return b.String()
}

func reversed(word string) string {
	b := []byte(word)
	for i, j := 0, len(b)-1; i < j; i, j = i+1, j-1 {
		b[i], b[j] = b[j], b[i]
	}
	return string(b)
}

// words are what each rope of a knot does at its crossings in turn, written down from how it
// is tied, not from its path.
func words() map[string][]string {
	const eight, overhand = "OUOUOUOU", "OUOUOU"
	there := twice(eight)
	return map[string][]string{
		"end-loop": {there + reversed(there)},
		"join":     {there, reversed(there)},
		// Through the eight, the overhand of the loop, and back through both.
		"eye-loop": {there + twice(overhand) + reversed(twice(overhand)) + reversed(there)},
		// The left foot: under the side of the loop that is folded down over it, over both feet of
		// the loop and the other twist; and so on round.
		"mid-loop": {"U" + "OOO" + "UUU" + "O" + "UU" + "OO" + "OO" + "UU" + "O" + "U" + "OU" + "OU" + "OU"},
	}
}

// TestCrossings holds that the passes that come out of a path are those of the knot.
func TestCrossings(t *testing.T) {
	for id, want := range words() {
		cords := FindKnot(id).tied(10).cords
		all := crossings(cords)
		for i, w := range want {
			if got := passes(all, i); got != w {
				t.Errorf("%s, rope %d: %s, want %s", id, i, got, w)
			}
		}
	}
	// Each rope of a join is a figure eight by itself, whatever the other does.
	for _, c := range join(10) {
		if got := passes(crossings([]cord{c}), 0); got != "OUOUOUOU" && got != "UOUOUOUO" {
			t.Errorf("a rope of a join alone: %s", got)
		}
	}
}

// kind tells knots apart that no pulling makes the same: the determinant, and the odd part of
// the polynomial of Alexander at 2, of a rope whose ends are joined outside.
func kindOfKnot(line []place) (determinant, at2 int) {
	all := crossings([]cord{{thick: 1, line: line}})
	at := func(t float64) float64 { return math.Abs(alexander(line, all, t)) }
	odd := at(2)
	for odd > 0.5 && math.Abs(odd/2-math.Round(odd/2)) < 1e-6 {
		odd /= 2
	}
	for odd < 0.99 && odd > 1e-9 {
		odd *= 2
	}
	return int(math.Round(at(-1))), int(math.Round(odd))
}

// alexander is the polynomial at t up to a factor of t: a minor of Fox's matrix.
func alexander(line []place, all []crossing, t float64) float64 {
	n := len(all)
	if n < 2 {
		return 1
	}
	// An arc runs from one pass below to the next.
	arc := func(at float64) (k int) {
		for _, c := range all {
			if c.underAt < at {
				k++
			}
		}
		return k % n
	}
	way := func(at float64) place {
		i := min(int(at), len(line)-2)
		return place{line[i+1].x - line[i].x, line[i+1].y - line[i].y, 0}
	}
	m := make([][]float64, n)
	for i, c := range all {
		m[i] = make([]float64, n)
		in, out := arc(c.underAt), arc(c.underAt+1e-9)
		o, u := way(c.overAt), way(c.underAt)
		if o.x*u.y-o.y*u.x < 0 {
			in, out = out, in
		}
		m[i][arc(c.overAt)] += 1 - t
		m[i][in] += t
		m[i][out]--
	}
	return determinant(m, n-1)
}

func determinant(m [][]float64, n int) float64 {
	det := 1.0
	for c := range n {
		best := c
		for r := c; r < n; r++ {
			if math.Abs(m[r][c]) > math.Abs(m[best][c]) {
				best = r
			}
		}
		if math.Abs(m[best][c]) < 1e-12 {
			return 0
		}
		if best != c {
			m[c], m[best] = m[best], m[c]
			det = -det
		}
		det *= m[c][c]
		for r := c + 1; r < n; r++ {
			f := m[r][c] / m[c][c]
			for k := c; k < n; k++ {
				m[r][k] -= f * m[c][k]
			}
		}
	}
	return det
}

// TestTopology holds that each rope is the knot that its name says, by what no pulling
// changes; and that the wrong forms are other knots where they are tied otherwise.
func TestTopology(t *testing.T) {
	eight2, overhand2 := eight(), overhand()
	rope := func(cords []cord) []place {
		for _, c := range cords {
			if c.ink == Rope {
				return c.line
			}
		}
		return nil
	}
	for name, c := range map[string]struct {
		line             []place
		determinant, at2 int
	}{
		"overhand":             {overhand2, 3, 3},
		"figure eight":         {eight2, 5, 1},
		"stopper":              {rope(stopper(2, 10)), 5, 11},
		"stopper of one turn":  {rope(stopper(1, 10)), 3, 3},
		"backing":              {rope(backing(10, false)), 5, 11},
		"end loop":             {rope(endLoop(10)), 1, 1},
		"mid-line loop":        {rope(midLoop(2)), 1, 1},
		"loop with an eye":     {rope(eyeLoop()), 1, 1},
		"bight round a strand": {rope(roundStrand(false)), 1, 1},
		"its way, as one rope": {overhandRound(0), 3, 3},
		"hitch, off its rope":  {rope(gripping(3)), 1, 1},
		"rope of a join alone": {rope(join(10)), 5, 1},
	} {
		if d, a := kindOfKnot(c.line); d != c.determinant || a != c.at2 {
			t.Errorf("%s: determinant %d, at 2 %d; want %d, %d", name, d, a, c.determinant, c.at2)
		}
	}
	// What is tied round a strand goes round it; its wrong form does not.
	for name, c := range map[string]struct{ right, wrong []cord }{
		"backing": {backing(10, false), backing(10, true)}, "walk-away": {roundStrand(false), roundStrand(true)},
	} {
		if right, wrong := passes(crossings(c.right), 0), passes(crossings(c.wrong), 0); wrong != "" || !strings.Contains(right, "U") || !strings.Contains(right, "O") {
			t.Errorf("%s: right %q, wrong %q", name, right, wrong)
		}
	}
}

// TestKnotPictures holds that ropes lie over each other and not in each other, from both
// sides alike; that a tail is to scale; and that text and picture are of this rope.
func TestKnotPictures(t *testing.T) {
	for i := range Knots {
		k := &Knots[i]
		for _, of := range []*tied{k.tied(10), k.amiss(10)} {
			front := crossings(of.cords)
			of.turn()
			back := crossings(of.cords)
			if len(front) != len(back) {
				t.Errorf("%s: %d crossings from the front, %d from the back", k.ID, len(front), len(back))
			}
			for _, c := range front {
				if room := (of.cords[c.over].thick + of.cords[c.under].thick) / 2; c.apart < 0.8*room {
					t.Errorf("%s: ropes run into each other, %.2f apart", k.ID, c.apart)
				}
			}
		}
		// Whatever the table asks for, the wrong form has less.
		for _, tail := range []float64{1, 3, 10} {
			if right, wrong := k.tailOf(false, tail), k.tailOf(true, tail); k.shortens() && wrong >= right {
				t.Errorf("%s: a wrong tail of %g where %g is right", k.ID, wrong, right)
			}
		}
		in := Tying{DiameterMM: 10.5, Table: knot.Shipped()}
		right, wrong := k.Draw(in, false), k.Draw(in, true)
		if strings.Contains(right.Text, "wrong") || !strings.Contains(wrong.Text, k.Wrong) || right.Text == wrong.Text {
			t.Errorf("%s: %q, %q", k.ID, right.Text, wrong.Text)
		}
		thick := in
		thick.DiameterMM = 12
		for _, m := range k.Measures(thick) {
			if !strings.Contains(m, "× 12.0 mm") && !strings.Contains(m, "× 12 mm") {
				t.Errorf("%s: %q is not of this rope", k.ID, m)
			}
		}
		if of := k.tied(10); len(of.tails) > 0 {
			f := fitted(of)
			for n, s := range partsOf(right, "tail") {
				low, high := s[0], s[1]
				if got := (high - low) / f.scale; math.Abs(got-10) > 0.05 {
					t.Errorf("%s: tail %d is %.2f diameters, not 10", k.ID, n, got)
				}
			}
		}
	}
}

// partsOf gives the least and the most height of the shapes of a part.
func partsOf(d *Drawing, part string) (list [][2]float64) {
	for _, s := range d.Shapes {
		if s.Part != part {
			continue
		}
		low, high := math.Inf(1), math.Inf(-1)
		for _, n := range s.nodes {
			low, high = min(low, n.at[0][1]), max(high, n.at[0][1])
		}
		list = append(list, [2]float64{low, high})
	}
	return list
}
