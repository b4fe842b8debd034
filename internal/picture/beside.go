package picture

import "unicode/utf8"

// A box is where words stand: left, top, right, bottom.
type box struct{ x0, y0, x1, y1 float64 }

func (b box) over(o box) bool { return b.x0 < o.x1 && o.x0 < b.x1 && b.y0 < o.y1 && o.y0 < b.y1 }

// A stroke is a straight line.
type stroke struct{ x0, y0, x1, y1 float64 }

// through: a stroke crosses a box, or ends in it (Liang and Barsky).
func (s stroke) through(b box) bool {
	from, to := 0.0, 1.0
	dx, dy := s.x1-s.x0, s.y1-s.y0
	for _, side := range [][2]float64{{-dx, s.x0 - b.x0}, {dx, b.x1 - s.x0}, {-dy, s.y0 - b.y0}, {dy, b.y1 - s.y0}} {
		p, q := side[0], side[1]
		switch {
		case p == 0:
			if q < 0 {
				return false
			}
		case p < 0:
			from = max(from, q/p)
		default:
			to = min(to, q/p)
		}
	}
	return from < to
}

// wordsWide is about how wide words are: letters of the sheets' and the screens' font are half as
// wide as they are high.
func wordsWide(words string, letters float64) float64 {
	return 0.55 * letters * float64(utf8.RuneCountInString(words))
}

// boxOf is where a label stands.
func boxOf(l *Label, letters float64) box {
	w := wordsWide(l.Words, letters)
	x := l.X
	switch l.Anchor {
	case "middle":
		x -= w / 2
	case "end":
		x -= w
	}
	return box{x, l.Y - 0.8*letters, x + w, l.Y + 0.2*letters}
}
