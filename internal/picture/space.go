package picture

import (
	"cmp"
	"math"
	"slices"
)

// A place in space, in diameters of the rope: y grows upwards, z towards who looks.
type place struct{ x, y, z float64 }

// A rope in space: its centre line.
type cord struct {
	ink Ink
	// thick is its diameter in diameters of the rope that is drawn to scale.
	thick float64
	line  []place
	part  string
}

// A crossing is where, seen from the front, one piece of rope lies over another.
type crossing struct {
	// over and under are the cords, overAt and underAt how far along each, in points.
	over, under     int
	overAt, underAt float64
	// apart is how far apart they are there, from centre to centre.
	apart float64
	// sine is that of the angle at which they cross.
	sine float64
}

// smooth puts a curve through points: Catmull and Rom's, with n pieces between two.
func smooth(points []place, n int) []place {
	last := len(points) - 1
	at := func(i int) place { return points[min(max(i, 0), last)] }
	var out []place
	for i := range last {
		for k := range n {
			out = append(out, between(at(i-1), at(i), at(i+1), at(i+2), float64(k)/float64(n)))
		}
	}
	return append(out, points[last])
}

func between(a, b, c, d place, t float64) place {
	f := func(a, b, c, d float64) float64 {
		return 0.5 * (2*b + (c-a)*t + (2*a-5*b+4*c-d)*t*t + (3*b-a-3*c+d)*t*t*t)
	}
	return place{f(a.x, b.x, c.x, d.x), f(a.y, b.y, c.y, d.y), f(a.z, b.z, c.z, d.z)}
}

// beside is a line that runs beside another at a distance to its right, seen from the front.
func beside(line []place, by float64) []place {
	out := make([]place, len(line))
	for i, p := range line {
		a, b := line[max(i-1, 0)], line[min(i+1, len(line)-1)]
		dx, dy := b.x-a.x, b.y-a.y
		d := math.Hypot(dx, dy)
		out[i] = place{p.x + by*dy/d, p.y - by*dx/d, p.z}
	}
	return out
}

// A reach is a few pieces of a cord with the box that they are in: boxes apart spare looking.
type reach struct {
	from, to               int
	left, right, low, high float64
}

const perReach = 8

func reaches(line []place) (list []reach) {
	for from := 0; from+1 < len(line); from += perReach {
		r := reach{from: from, to: min(from+perReach, len(line)-1), left: math.Inf(1), right: math.Inf(-1), low: math.Inf(1), high: math.Inf(-1)}
		for _, p := range line[r.from : r.to+1] {
			r.left, r.right, r.low, r.high = min(r.left, p.x), max(r.right, p.x), min(r.low, p.y), max(r.high, p.y)
		}
		list = append(list, r)
	}
	return list
}

func (r *reach) apart(o *reach) bool {
	return r.right < o.left || o.right < r.left || r.high < o.low || o.high < r.low
}

// crossings finds where cords lie over each other or themselves.
func crossings(cords []cord) []crossing {
	var found []crossing
	for i := range cords {
		own := reaches(cords[i].line)
		for j := i; j < len(cords); j++ {
			others := reaches(cords[j].line)
			for a := range own {
				first := 0
				if i == j {
					first = a
				}
				for b := first; b < len(others); b++ {
					if !own[a].apart(&others[b]) {
						found = within(cords, i, &own[a], j, &others[b], found)
					}
				}
			}
		}
	}
	return found
}

// within adds the crossings of a reach of cord i with one of cord j.
func within(cords []cord, i int, a *reach, j int, b *reach, found []crossing) []crossing {
	for m := a.from; m < a.to; m++ {
		first := b.from
		if i == j {
			first = max(first, m+2)
		}
		for n := first; n < b.to; n++ {
			if c, ok := meet(cords, i, m, j, n); ok {
				found = append(found, c)
			}
		}
	}
	return found
}

// meet is where piece m of a cord and piece n of another cross.
func meet(cords []cord, i, m, j, n int) (c crossing, ok bool) {
	a, b := cords[i].line[m], cords[i].line[m+1]
	p, q := cords[j].line[n], cords[j].line[n+1]
	if max(a.x, b.x) < min(p.x, q.x) || max(p.x, q.x) < min(a.x, b.x) || max(a.y, b.y) < min(p.y, q.y) || max(p.y, q.y) < min(a.y, b.y) {
		return c, false
	}
	ux, uy, vx, vy := b.x-a.x, b.y-a.y, q.x-p.x, q.y-p.y
	det := ux*vy - uy*vx
	if det == 0 {
		return c, false
	}
	s := ((p.x-a.x)*vy - (p.y-a.y)*vx) / det
	t := ((p.x-a.x)*uy - (p.y-a.y)*ux) / det
	if s < 0 || s >= 1 || t < 0 || t >= 1 {
		return c, false
	}
	za, zb := a.z+s*(b.z-a.z), p.z+t*(q.z-p.z)
	c = crossing{over: i, under: j, overAt: float64(m) + s, underAt: float64(n) + t, apart: math.Abs(za - zb), sine: math.Abs(det) / (math.Hypot(ux, uy) * math.Hypot(vx, vy))}
	if za < zb {
		c.over, c.under, c.overAt, c.underAt = c.under, c.over, c.underAt, c.overAt
	}
	return c, true
}

// passes is what a cord does at its crossings in turn: O over, U under.
func passes(all []crossing, i int) string {
	type pass struct {
		at   float64
		kind byte
	}
	var list []pass
	for _, c := range all {
		if c.over == i {
			list = append(list, pass{c.overAt, 'O'})
		}
		if c.under == i {
			list = append(list, pass{c.underAt, 'U'})
		}
	}
	slices.SortStableFunc(list, func(a, b pass) int { return cmp.Compare(a.at, b.at) })
	word := make([]byte, len(list))
	for k, p := range list {
		word[k] = p.kind
	}
	return string(word)
}

// A span is a stretch along a cord, in points.
type span struct{ from, to float64 }

// seen are the stretches of a cord that nothing lies over.
func seen(cords []cord, all []crossing, i int) []span {
	line := cords[i].line
	var hidden []span
	for _, c := range all {
		if c.under != i {
			continue
		}
		half := (cords[c.over].thick/2 + 0.18) / max(c.sine, 0.4)
		hidden = append(hidden, span{along(line, c.underAt, -half), along(line, c.underAt, half)})
	}
	slices.SortStableFunc(hidden, func(a, b span) int { return cmp.Compare(a.from, b.from) })
	var out []span
	at := 0.0
	for _, h := range hidden {
		if h.from > at {
			out = append(out, span{at, h.from})
		}
		at = max(at, h.to)
	}
	if end := float64(len(line) - 1); at < end {
		out = append(out, span{at, end})
	}
	return out
}

// along is the place so many diameters further along a line.
func along(line []place, at, by float64) float64 {
	step := 1.0
	if by < 0 {
		step, by = -1, -by
	}
	for by > 0 {
		next := math.Floor(at) + 1
		if step < 0 {
			next = math.Ceil(at) - 1
		}
		if next < 0 || next > float64(len(line)-1) {
			return min(max(at, 0), float64(len(line)-1))
		}
		a, b := on(line, at), on(line, next)
		d := math.Hypot(b.x-a.x, b.y-a.y)
		if d >= by {
			return at + step*math.Abs(next-at)*by/d
		}
		by -= d
		at = next
	}
	return at
}

// on is the place at a point along a line.
func on(line []place, at float64) place {
	i := min(int(at), len(line)-2)
	t := at - float64(i)
	a, b := line[i], line[i+1]
	return place{a.x + t*(b.x-a.x), a.y + t*(b.y-a.y), a.z + t*(b.z-a.z)}
}

// piece is the stretch of a line.
func piece(line []place, s span) []place {
	out := []place{on(line, s.from)}
	for i := int(math.Floor(s.from)) + 1; float64(i) < s.to; i++ {
		out = append(out, line[i])
	}
	return append(out, on(line, s.to))
}

// length is how long a line is, seen from the front.
func length(line []place) (long float64) {
	for i := 1; i < len(line); i++ {
		long += math.Hypot(line[i].x-line[i-1].x, line[i].y-line[i-1].y)
	}
	return long
}
