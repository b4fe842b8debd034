package reeving

import "math"

// Forces are a system's forces per unit of the hand's force.
type Forces struct {
	// Segments are the tensions of each rope's parts, from the hand on.
	Segments [][]float64
	Pulleys  []float64
	Grabs    []float64
	Load     float64
	Anchor   float64
	// inverse of I − B, with B what a unit pull on one grab puts on another.
	inverse [][]float64
	system  *System
	e       []float64
}

// Ideal are the efficiencies of pulleys without friction.
func (s *System) Ideal() []float64 {
	ones := make([]float64, len(s.Pulleys))
	for i := range ones {
		ones[i] = 1
	}
	return ones
}

// Solve gives the forces for a unit of the hand's force, with the efficiency of each pulley. Each tension is linear
// in the hand's force and the pulls on the grabs: a first pass finds the
// coefficients of the pulls, the grabs are solved, a second pass gives all.
func (s *System) Solve(e []float64) (*Forces, error) {
	n := len(s.Grabs)
	sol := &Forces{system: s, e: e}
	if n == 0 {
		sol.forces(1, nil, nil)
		return sol, nil
	}
	onGrabs := make([]float64, n)
	m := square(n)
	units := make([]float64, n)
	trial := &Forces{system: s, e: e}
	for g := range n {
		units[g] = 1
		trial.forces(0, units, nil)
		for i := range n {
			m[i][g] = -trial.Grabs[i]
		}
		m[g][g]++
		units[g] = 0
	}
	sol.inverse = inverted(m)
	for i := range n {
		for j := range n {
			// Pulls only add, so that I − B has a solution that is a sum of pulls
			// just where its inverse has no negative entry.
			if v := sol.inverse[i][j]; v < -1e-12 || math.IsInf(v, 0) || math.IsNaN(v) {
				return nil, s.gains(m)
			}
		}
	}
	trial.forces(1, onGrabs, nil)
	pulls := make([]float64, n)
	for i := range n {
		for j := range n {
			pulls[i] += sol.inverse[i][j] * trial.Grabs[j]
		}
	}
	sol.forces(1, pulls, nil)
	return sol, nil
}

// square is a matrix of zeros, by rows.
func square(n int) [][]float64 {
	m := make([][]float64, n)
	for i := range m {
		m[i] = make([]float64, n)
	}
	return m
}

// inverted is the inverse of a small matrix by Gauss-Jordan elimination with the greatest pivot of
// each column; of a singular one it has entries that are no numbers. A library for it would be
// most of what a browser fetches of this program.
func inverted(of [][]float64) [][]float64 {
	n := len(of)
	m, inverse := square(n), square(n)
	for i := range n {
		copy(m[i], of[i])
		inverse[i][i] = 1
	}
	for c := range n {
		pivot := c
		for i := c + 1; i < n; i++ {
			if math.Abs(m[i][c]) > math.Abs(m[pivot][c]) {
				pivot = i
			}
		}
		m[c], m[pivot] = m[pivot], m[c]
		inverse[c], inverse[pivot] = inverse[pivot], inverse[c]
		by := m[c][c]
		for j := range n {
			m[c][j] /= by
			inverse[c][j] /= by
		}
		for i := range n {
			f := m[i][c]
			if i == c || f == 0 {
				continue
			}
			for j := range n {
				m[i][j] -= f * m[c][j]
				inverse[i][j] -= f * inverse[c][j]
			}
		}
	}
	return inverse
}

// gains is the error for grabs that pull themselves without bound; it names one
// that does.
func (s *System) gains(m [][]float64) error {
	at := 0
	for g := range s.Grabs {
		if s.reaches(m, g, g, make([]bool, len(s.Grabs))) {
			at = g
			break
		}
	}
	return s.at[at].refuse("grab:%s pulls itself without bound: what it holds pulls on it again", s.Grabs[at])
}

// reaches reports whether a pull on one grab comes to another.
func (s *System) reaches(m [][]float64, from, to int, seen []bool) bool {
	for i := range s.Grabs {
		pulls := m[i][from] < 0
		if i == from {
			pulls = m[i][i] < 1
		}
		if !pulls || seen[i] {
			continue
		}
		seen[i] = true
		if i == to || s.reaches(m, i, to, seen) {
			return true
		}
	}
	return false
}

// forces walks every rope with the hand's force and the pulls on the grabs
// given. Cut, where it is not nil, is where a capture holds: it gives the tension
// behind an element in the place of what comes from the hand.
func (sol *Forces) forces(hand float64, pulls []float64, cut func(line, element int) (float64, bool)) {
	s := sol.system
	if sol.Pulleys == nil {
		sol.Pulleys, sol.Grabs = make([]float64, len(s.Pulleys)), make([]float64, len(s.Grabs))
		sol.Segments = make([][]float64, len(s.lines))
		for i, l := range s.lines {
			sol.Segments[i] = make([]float64, len(l.elements)+1)
		}
	}
	clear(sol.Grabs)
	sol.Load, sol.Anchor = 0, 0
	for i, l := range s.lines {
		t := 0.0
		if l.hand {
			t = hand
		}
		sol.Segments[i][0] = t
		for j, el := range l.elements {
			before := t
			if el.pulley < 0 {
				t += pulls[el.grab]
			} else {
				t *= sol.e[el.pulley]
			}
			if cut != nil {
				if held, here := cut(i, j); here {
					t = held
				}
			}
			if el.pulley >= 0 {
				sol.Pulleys[el.pulley] = before + t
				sol.pullOn(el.to, before+t)
			}
			sol.Segments[i][j+1] = t
		}
		sol.pullOn(l.end, t)
	}
}

func (sol *Forces) pullOn(what int, force float64) {
	switch what {
	case toLoad:
		sol.Load += force
	case toAnchor:
		sol.Anchor += force
	default:
		sol.Grabs[what] += force
	}
}

// Speed is how many times as fast as the load a grab moves: the load that a unit
// force on it alone holds, the hand's force 0.
func (sol *Forces) Speed(grab int) float64 {
	n := len(sol.Grabs)
	pulls := make([]float64, n)
	for i := range n {
		pulls[i] = sol.inverse[i][grab]
	}
	trial := &Forces{system: sol.system, e: sol.e}
	trial.forces(0, pulls, nil)
	return trial.Load
}

// Held gives the forces, of a load of 1, with the hand let go and the capture nearest to the
// load holding; nil where nothing holds it. Pulleys count as without friction.
func (s *System) Held() *Forces {
	at, el := s.capture()
	cut := func(line, element int) (float64, bool) { return 1, line == at && element == el }
	hand := 0.0
	if el < 0 {
		hand, cut = 1, nil
	}
	sol := &Forces{system: s, e: s.Ideal()}
	pulls := make([]float64, len(s.Grabs))
	// Without friction, and with a cut, pulls settle in as many rounds as grabs
	// can stand behind one another.
	for range len(s.Grabs) + 1 {
		sol.forces(hand, pulls, cut)
		copy(pulls, sol.Grabs)
	}
	sol.forces(hand, pulls, cut)
	if sol.Load <= 0 {
		return nil
	}
	return sol
}

// Capture names the pulley at which a progress capture holds the load; "" where only the hand
// does.
func (s *System) Capture() string {
	at, el := s.capture()
	if el < 0 {
		return ""
	}
	return s.Pulleys[s.lines[at].elements[el].pulley]
}

// Named is the name of a rope, by its number.
func (s *System) Named(rope int) string { return s.lines[rope].rope }

// capture finds the element at which a progress capture holds: the pulley fixed
// to the anchor that comes first on the way from the load to the hand, through
// grabs to the ropes that pull on them. An element of -1: the hand holds.
func (s *System) capture() (at, el int) {
	seen := make([]bool, len(s.Grabs))
	var search func(what int) (int, int, bool)
	back := func(i, from int) (int, int, bool) {
		for j := from; j >= 0; j-- {
			e := s.lines[i].elements[j]
			if e.pulley >= 0 && e.to == toAnchor {
				return i, j, true
			}
		}
		if s.lines[i].hand {
			return i, -1, true
		}
		for j := from; j >= 0; j-- {
			if e := s.lines[i].elements[j]; e.pulley < 0 && !seen[e.grab] {
				seen[e.grab] = true
				if a, b, ok := search(e.grab); ok {
					return a, b, true
				}
			}
		}
		return 0, 0, false
	}
	search = func(what int) (at, el int, found bool) {
		// The hand is a capture only where no rope has another.
		note := func(i, from int) bool {
			a, b, ok := back(i, from)
			if ok && (!found || b >= 0) {
				at, el, found = a, b, true
			}
			return found && el >= 0
		}
		for i, l := range s.lines {
			if l.end == what && note(i, len(l.elements)-1) {
				return at, el, true
			}
			for j := len(l.elements) - 1; j >= 0; j-- {
				if e := l.elements[j]; e.pulley >= 0 && e.to == what && note(i, j-1) {
					return at, el, true
				}
			}
		}
		return at, el, found
	}
	if a, b, ok := search(toLoad); ok {
		return a, b
	}
	return 0, -1
}
