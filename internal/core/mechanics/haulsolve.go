package mechanics

import "math"

// solution is a system's forces per unit of the hand's force.
type solution struct {
	// segments are the tensions of each line's parts.
	segments [][]float64
	pulleys  []float64
	grabs    []float64
	load     float64
	anchor   float64
	// inverse of I − B, with B what a unit pull on one grab puts on another.
	inverse [][]float64
	system  *system
	e       []float64
}

// solve gives the forces for a unit of the hand's force. Each tension is linear
// in the hand's force and the pulls on the grabs: a first pass finds the
// coefficients of the pulls, the grabs are solved, a second pass gives all.
func (s *system) solve(e []float64) (*solution, error) {
	n := len(s.grabs)
	sol := &solution{system: s, e: e}
	if n == 0 {
		sol.forces(1, nil, nil)
		return sol, nil
	}
	onGrabs := make([]float64, n)
	m := square(n)
	units := make([]float64, n)
	trial := &solution{system: s, e: e}
	for g := range n {
		units[g] = 1
		trial.forces(0, units, nil)
		for i := range n {
			m[i][g] = -trial.grabs[i]
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
			pulls[i] += sol.inverse[i][j] * trial.grabs[j]
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
func (s *system) gains(m [][]float64) error {
	at := 0
	for g := range s.grabs {
		if s.reaches(m, g, g, make([]bool, len(s.grabs))) {
			at = g
			break
		}
	}
	return s.at[at].refuse("grab:%s pulls itself without bound: what it holds pulls on it again", s.grabs[at])
}

// reaches reports whether a pull on one grab comes to another.
func (s *system) reaches(m [][]float64, from, to int, seen []bool) bool {
	for i := range s.grabs {
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
func (sol *solution) forces(hand float64, pulls []float64, cut func(line, element int) (float64, bool)) {
	s := sol.system
	if sol.pulleys == nil {
		sol.pulleys, sol.grabs = make([]float64, len(s.pulleys)), make([]float64, len(s.grabs))
		sol.segments = make([][]float64, len(s.lines))
		for i, l := range s.lines {
			sol.segments[i] = make([]float64, len(l.elements)+1)
		}
	}
	clear(sol.grabs)
	sol.load, sol.anchor = 0, 0
	for i, l := range s.lines {
		t := 0.0
		if l.hand {
			t = hand
		}
		sol.segments[i][0] = t
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
				sol.pulleys[el.pulley] = before + t
				sol.pullOn(el.to, before+t)
			}
			sol.segments[i][j+1] = t
		}
		sol.pullOn(l.end, t)
	}
}

func (sol *solution) pullOn(what int, force float64) {
	switch what {
	case toLoad:
		sol.load += force
	case toAnchor:
		sol.anchor += force
	default:
		sol.grabs[what] += force
	}
}

// speed is how many times as fast as the load a grab moves: the load that a unit
// force on it alone holds, the hand's force 0.
func (sol *solution) speed(grab int) float64 {
	n := len(sol.grabs)
	pulls := make([]float64, n)
	for i := range n {
		pulls[i] = sol.inverse[i][grab]
	}
	trial := &solution{system: sol.system, e: sol.e}
	trial.forces(0, pulls, nil)
	return trial.load
}
