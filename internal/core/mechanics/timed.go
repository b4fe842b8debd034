package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// CoursePoint is one moment of a fall: time and way since it began, speed
// downwards, force on the rope.
type CoursePoint struct {
	TS      float64                  `json:"t_s"`
	XM      quantity.Metres          `json:"x_m" doc:"downwards since the fall began"`
	VMS     quantity.MetresPerSecond `json:"v_m_s"`
	ForceKN quantity.Kilonewtons     `json:"force_kN"`
}

// MostPoints is how many points a course has at most.
const MostPoints = 400

// TimedFallOut is a fall in closed form, with what damping leaves of its peak.
type TimedFallOut struct {
	FallOut
	LikelyKN quantity.Kilonewtons `json:"likely_kN" doc:"with the damping ratio given"`
}

// FallInTime is Fall and the same fall integrated step by step, with damping.
//
// The rope is a spring with a dashpot in parallel, F = max(0, k x + 2ζ√(km) ẋ),
// and pulls only while it is stretched; the absorber in series extends at F_a
// while more than that would be pulled, and does not come back. Position and
// speed are integrated by the method of Dormand and Prince with an error below
// 1e-7 of the fall in each step; with ζ = 0 it agrees with the closed form.
//
// Likely is the greatest force until the lowest point, at most the undamped
// peak: a dashpot answers the sudden stop of a used-up absorber with a jump that
// ropes do not show. Ropes damp more in a hard fall than in a soft one, so the
// likely force errs high in hard falls and low in soft ones.
func FallInTime(in FallIn) TimedFallOut {
	out := TimedFallOut{FallOut: Fall(in)}
	f := newFaller(&in, float64(out.BeforeArrestM))
	f.run(false)
	out.LikelyKN = min(kN(f.most), out.PeakKN)
	return out
}

// Working tells how every figure was got.
func (out *TimedFallOut) Working() []finding.Working {
	return append(out.FallOut.Working(), finding.Work("likely force", "m ẍ = mg − F, F = max(0, k x + 2ζ√(km) ẋ), absorber in series at F_a", out.LikelyKN,
		"either way: damping of ropes is known roughly", finding.Fig("ζ", out.in.DampingRatio), finding.Fig("peak undamped", out.PeakKN)))
}

// Course is the fall in time: the free fall, the arrest, and what follows for
// one and a half swings of the rope.
func (out *TimedFallOut) Course() []CoursePoint {
	h := float64(out.BeforeArrestM)
	f := newFaller(&out.in, h)
	falls := math.Sqrt(2 * h / quantity.G)
	const before = 40
	for i := range before {
		t := falls * float64(i) / before
		f.points = append(f.points, CoursePoint{t, quantity.Metres(quantity.G * t * t / 2), quantity.MetresPerSecond(quantity.G * t), 0})
	}
	f.run(true)
	return thin(f.points)
}

// thin leaves at most MostPoints of a course, the first, the last and the one of
// greatest force among them.
func thin(points []CoursePoint) []CoursePoint {
	if len(points) <= MostPoints {
		return points
	}
	most := 0
	for i, p := range points {
		if p.ForceKN > points[most].ForceKN {
			most = i
		}
	}
	kept := make([]CoursePoint, 0, MostPoints)
	const evenly = MostPoints - 1
	last := -1
	for i := range evenly {
		at := i * (len(points) - 1) / (evenly - 1)
		if most > last && most < at {
			kept = append(kept, points[most])
		}
		kept = append(kept, points[at])
		last = at
	}
	return kept
}

// faller is a body caught by a rope with an absorber in series. Its way y begins
// where the rope begins to pull.
type faller struct {
	m, k, c float64
	// force and room are the absorber's; room is what it can still extend.
	force, room float64
	h           float64
	// shift is where the force law's spring has its zero, measured in y.
	shift  float64
	state  motion
	most   float64
	peaked bool
	record bool
	points []CoursePoint
}

func newFaller(in *FallIn, h float64) *faller {
	f := &faller{m: float64(in.MassKg), k: AxialStiffness(in.ElongationPct) / float64(in.RopeLengthM), h: h, force: math.Inf(1)}
	f.c = 2 * float64(in.DampingRatio) * math.Sqrt(f.k*f.m)
	if in.Absorber != nil {
		f.force, f.room = float64(in.Absorber.ForceKN)*1000, float64(in.Absorber.MaxM)
	}
	f.state = motion{math.Sqrt(2 * h / quantity.G), 0, math.Sqrt(2 * quantity.G * h)}
	return f
}

// pull is the force of the rope while the absorber does not move.
func (f *faller) pull(m motion) float64 {
	x := m.x - f.shift
	if x < 0 {
		return 0
	}
	return max(0, f.k*x+f.c*m.v)
}

// run follows the fall to its lowest point, or on with a record of every step.
func (f *faller) run(record bool) {
	f.record = record
	period := 2 * math.Pi * math.Sqrt(f.m/f.k)
	// Far beyond any fall: only figures without sense come here.
	end := f.state.t + 100*period + 100*math.Sqrt(2*(f.h+f.room)/quantity.G)
	f.phases(end, period, true)
	if record {
		f.phases(f.state.t+1.5*period, period, false)
	}
}

// phases follows the fall from phase to phase until the end, or until the speed
// downwards is gone. A phase ends at a change of law: the absorber opens, rests,
// is used up, or the greatest force is passed.
func (f *faller) phases(end, period float64, down bool) {
	next := f.swing
	if f.opens() {
		next = f.flow
	}
	for range 50 {
		what := next(end, period, down)
		if what == lowest || f.state.t >= end {
			return
		}
		f.peaked = what == peaks
		next = f.swing
		if what == opens {
			next = f.flow
		}
	}
}

// What ends a phase, as the number of the event that is looked for.
const (
	lowest = iota
	opens
	peaks
	rests
	usedUp
)

// never is an event that does not happen.
func never(motion) float64 { return 1 }

// opens reports whether the rope pulls enough at once to extend the absorber.
func (f *faller) opens() bool {
	return f.room > 0 && f.state.v > 0 && f.pull(f.state) >= f.force
}

// swing follows the body on the rope with the absorber at rest.
func (f *faller) swing(end, period float64, down bool) int {
	accelerate := func(m motion) float64 { return quantity.G - f.pull(m)/f.m }
	c := f.course(period, accelerate, f.pull)
	c.events = []func(motion) float64{lowest: never, opens: never, peaks: never}
	if down {
		c.events[lowest] = func(m motion) float64 { return m.v }
	}
	if f.room > 0 {
		c.events[opens] = func(m motion) float64 { return f.force - f.pull(m) }
	}
	if down && !f.peaked && f.c > 0 {
		c.events[peaks] = func(m motion) float64 { return f.k*m.v + f.c*accelerate(m) }
	}
	f.note(f.state, f.pull(f.state))
	var what int
	f.state, what = c.run(f.state, end)
	return what
}

// flow follows the body while the absorber extends at its force. The rope's
// stretch then goes by itself: k x + c ẋ = F_a, so that x(t) = F_a/k + (x₀ −
// F_a/k) e^(−kt/c).
func (f *faller) flow(end, period float64, down bool) int {
	start, settled := f.state, f.force/f.k
	x0 := start.x - f.shift
	stretch := func(m motion) (x, speed float64) {
		if f.c == 0 {
			return settled, 0
		}
		away := (x0 - settled) * math.Exp(-f.k*(m.t-start.t)/f.c)
		return settled + away, -away * f.k / f.c
	}
	extended := func(m motion) float64 {
		x, _ := stretch(m)
		return m.x - x - f.shift
	}
	c := f.course(period, func(motion) float64 { return quantity.G - f.force/f.m }, func(motion) float64 { return f.force })
	c.events = []func(motion) float64{lowest: never, opens: never, peaks: never, rests: f.rests(start, stretch), usedUp: func(m motion) float64 {
		return f.room - extended(m)
	}}
	if down {
		c.events[lowest] = func(m motion) float64 { return m.v }
	}
	// The pull is constant: a long way needs no more steps than a short one.
	if stops := start.v / math.Abs(f.force/f.m-quantity.G); !math.IsInf(stops, 0) {
		c.longest = max(c.longest, stops/60)
	}
	f.note(start, f.force)
	var what int
	f.state, what = c.run(start, end)
	more := max(0, extended(f.state))
	f.room, f.shift = max(0, f.room-more), f.shift+more
	if what == usedUp {
		f.room = 0
	}
	f.note(f.state, f.pull(f.state))
	return what
}

// rests is the event that the absorber stops: the rope then stretches as fast as
// the body moves. It begins to extend from rest, so that nothing counts until it
// has moved.
func (f *faller) rests(start motion, stretch func(motion) (x, speed float64)) func(motion) float64 {
	moving := false
	return func(m motion) float64 {
		_, rope := stretch(m)
		if !moving {
			moving = m.v-rope > 1e-9*start.v
			return 1
		}
		return m.v - rope
	}
}

// course is how a phase of the fall is followed. What is recorded is drawn, and
// needs short steps.
func (f *faller) course(period float64, accelerate, pull func(motion) float64) *course {
	longest := period / 16
	if f.record {
		longest = period / 120
	}
	return &course{
		accelerate: accelerate, longest: longest, scale: f.h + f.m*quantity.G/f.k,
		each: func(m motion) { f.note(m, pull(m)) },
	}
}

func (f *faller) note(m motion, force float64) {
	f.most = max(f.most, force)
	if f.record {
		f.points = append(f.points, CoursePoint{m.t, quantity.Metres(f.h + m.x), quantity.MetresPerSecond(m.v), kN(force)})
	}
}
