package mechanics

import "math"

// motion is the state of one body on one line: how far it has moved and how
// fast it moves.
type motion struct{ t, x, v float64 }

// course follows a motion step by step by the explicit Runge-Kutta method of
// order 5 with an embedded order 4 (Dormand and Prince, 1980): the difference of
// the two is the error of a step, and the step is chosen to keep it below the
// tolerance.
type course struct {
	accelerate func(motion) float64
	// events end a phase when one of them falls to zero or below; each must be
	// positive before.
	events []func(motion) float64
	// each sees every step that was taken.
	each func(motion)
	// longest is the longest step.
	longest float64
	// scale is a length of the size that is moved through; the error of a step
	// is kept below tolerance times it.
	scale float64
}

const (
	tolerance = 1e-7
	// mostSteps bounds the work of one phase.
	mostSteps = 200000
)

// The coefficients of the method; c is the sum of each row of a.
var (
	dpC = [7]float64{0, 1. / 5, 3. / 10, 4. / 5, 8. / 9, 1, 1}
	dpA = [7][6]float64{
		{},
		{1. / 5},
		{3. / 40, 9. / 40},
		{44. / 45, -56. / 15, 32. / 9},
		{19372. / 6561, -25360. / 2187, 64448. / 6561, -212. / 729},
		{9017. / 3168, -355. / 33, 46732. / 5247, 49. / 176, -5103. / 18656},
		{35. / 384, 0, 500. / 1113, 125. / 192, -2187. / 6784, 11. / 84},
	}
	// dpE is the fifth-order solution less the fourth-order one.
	dpE = [7]float64{71. / 57600, 0, -71. / 16695, 71. / 1920, -17253. / 339200, 22. / 525, -1. / 40}
)

// step goes on by h and gives the error of position and, as a length, of speed.
func (c *course) step(m motion, h float64) (next motion, err float64) {
	var kx, kv [7]float64
	for i := range 7 {
		s := motion{m.t + dpC[i]*h, m.x, m.v}
		for j := range i {
			s.x += h * dpA[i][j] * kx[j]
			s.v += h * dpA[i][j] * kv[j]
		}
		kx[i], kv[i] = s.v, c.accelerate(s)
		next = s
	}
	var ex, ev float64
	for i := range 7 {
		ex += dpE[i] * kx[i]
		ev += dpE[i] * kv[i]
	}
	return next, max(math.Abs(h*ex), math.Abs(h*ev)*h)
}

// run follows the motion until end or an event, and says which event; -1 for the
// end.
func (c *course) run(m motion, end float64) (motion, int) {
	h := min(c.longest, end-m.t)
	for range mostSteps {
		if m.t >= end {
			return m, -1
		}
		h = min(h, c.longest, end-m.t)
		next, err := c.step(m, h)
		if bound := tolerance * c.scale; err > bound {
			h *= max(0.2, 0.9*math.Pow(bound/err, 0.2))
			continue
		}
		if at := c.happened(next); at >= 0 {
			return c.find(m, h)
		}
		m = next
		c.each(m)
		h *= min(4, max(0.3, 0.9*math.Pow(tolerance*c.scale/max(err, 1e-300), 0.2)))
	}
	return m, -1
}

func (c *course) happened(m motion) int {
	for i, event := range c.events {
		if event(m) <= 0 {
			return i
		}
	}
	return -1
}

// find meets the first of the events that happen within a step to the last
// digits, by the secant that keeps the event between its ends (Illinois).
func (c *course) find(m motion, h float64) (motion, int) {
	for what := c.happened(c.at(m, h)); ; {
		h = c.meet(m, h, c.events[what])
		next := c.at(m, h)
		earlier := c.happened(next)
		if earlier == what || earlier < 0 {
			c.each(next)
			return next, what
		}
		what = earlier
	}
}

func (c *course) at(m motion, h float64) motion {
	next, _ := c.step(m, h)
	return next
}

// meet gives how far into a step an event happens: at or just after it. Each
// guess of the secant is tried with its near neighbour, so that both ends close in.
func (c *course) meet(m motion, h float64, event func(motion) float64) float64 {
	before, after, near := 0.0, h, 1e-10*h
	value := func(at float64) float64 { return event(c.at(m, at)) }
	// The event is positive at the beginning of the step, or rises from there.
	high, low := math.Max(event(m), 0), value(h)
	for range 60 {
		guess := before + (after-before)*high/(high-low)
		if !(guess > before+near && guess < after-near) {
			guess = (before + after) / 2
		}
		if after-before <= 2*near {
			break
		}
		v := value(guess)
		beside := guess + math.Copysign(near, v)
		w := value(beside)
		switch {
		case v > 0 && w <= 0:
			return beside
		case v <= 0 && w > 0:
			return guess
		case v > 0:
			before, high = beside, w
		default:
			after, low = beside, w
		}
	}
	return after
}
