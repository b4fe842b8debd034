package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// WindIn is a backup strand in the wind, with a device that rolls freely.
type WindIn struct {
	AboveM      quantity.Metres          `json:"above_m" exclusiveMinimum:"0" doc:"strand from the anchor to the device"`
	TailM       quantity.Metres          `json:"tail_m" minimum:"0" doc:"rope that hangs free below the device; rope on the ground weighs nothing"`
	DiameterMM  quantity.Millimetres     `json:"diameter_mm" exclusiveMinimum:"0"`
	RopeGPerM   quantity.GramsPerMetre   `json:"rope_g_per_m" exclusiveMinimum:"0"`
	WindMS      quantity.MetresPerSecond `json:"wind_m_s" minimum:"0"`
	DeviceDragN float64                  `json:"device_drag_N,omitempty" minimum:"0" default:"0" doc:"force it takes to draw rope up through the device"`
	Parked      bool                     `json:"parked,omitempty" doc:"the wheel is locked against the wind"`
	SlackLimitM quantity.Metres          `json:"slack_limit_m,omitempty" minimum:"0" default:"0.5"`
}

// WindOut is the slack that the wind draws.
type WindOut struct {
	SlackM      quantity.Metres           `json:"slack_m" doc:"rope drawn up through the device: free fall waiting to happen"`
	BowM        quantity.Metres           `json:"bow_m" doc:"widest sideways"`
	LimitWindMS *quantity.MetresPerSecond `json:"limit_wind_m_s" doc:"lowest wind at which the slack passes the limit or the tail runs; null above 60 m/s or when parked"`
	in          WindIn
}

const (
	airDensity = 1.225 // kg/m³, 15 °C at sea level
	dragOfRope = 1.2   // of a long cylinder across the wind
	mostWind   = 60    // m/s
)

// Wind computes how much rope a side wind draws up through a freely rolling
// backup device, by the statics of a loaded string.
//
// Drag per metre q = ½ ρ C_d d v² with ρ 1.225 and C_d 1.2. The strand is drawn
// up against the weight of the tail and the device's drag D: T_b = w (tail − s) +
// D. With z from the device up, T(z) = T_b + w z and T y′ = C − q z, y(0) = y(L)
// = 0, so C = q I₁/I₀, I₀ = ln((T_b + wL)/T_b)/w, I₁ = (L − T_b I₀)/w. The extra
// length ∫(√(1 + y′²) − 1) dz is s: the smallest root in [0, tail), else the
// whole tail runs.
//
// Steady wind straight across, the strand free of the face. It errs low in gusts,
// since friction keeps slack from going back, and where the wind is stronger
// above; high where the face gives shelter.
func Wind(in WindIn) WindOut {
	out := WindOut{in: in}
	out.SlackM, out.BowM = in.Slack()
	if !in.Parked {
		out.LimitWindMS = in.limit()
	}
	return out
}

// Slack is the slack and the bow of Wind without the search for the limit. With
// the wheel parked the strand above keeps its length and stays straight.
func (in *WindIn) Slack() (slack, widest quantity.Metres) {
	if in.Parked {
		return 0, 0
	}
	b := newBow(in, in.WindMS)
	s, _ := b.slack()
	return quantity.Metres(s), quantity.Metres(b.widest(s))
}

// limit finds by halving the lowest wind at which the slack passes the limit:
// slack grows with wind. With no tail nothing can run.
func (in *WindIn) limit() *quantity.MetresPerSecond {
	passes := func(v quantity.MetresPerSecond) bool {
		s, holds := newBow(in, v).slack()
		return !holds || s > float64(in.SlackLimitM)
	}
	calm, storm := quantity.MetresPerSecond(0), quantity.MetresPerSecond(mostWind)
	if in.TailM == 0 || !passes(storm) {
		return nil
	}
	for storm-calm > 1e-6 {
		if middle := (calm + storm) / 2; passes(middle) {
			storm = middle
		} else {
			calm = middle
		}
	}
	return &storm
}

// bow is a strand of length l and weight w per metre under a side load q.
type bow struct{ l, w, q, tail, drag float64 }

func newBow(in *WindIn, wind quantity.MetresPerSecond) *bow {
	v := float64(wind)
	return &bow{
		l: float64(in.AboveM), w: perMetre(in.RopeGPerM), tail: float64(in.TailM), drag: in.DeviceDragN,
		q: airDensity * dragOfRope / 2 * float64(in.DiameterMM) / 1000 * v * v,
	}
}

// slack is the smallest s at which the strand needs just s more than its length;
// holds is false where it would draw the whole tail.
func (b *bow) slack() (s float64, holds bool) {
	if b.q == 0 {
		return 0, true
	}
	// What is needed grows with s and ever faster, so that Newton's steps from
	// below never pass the smallest root.
	for range 200 {
		if s >= b.tail {
			return b.tail, false
		}
		over := b.extra(s) - s
		if over <= 1e-13*(b.l+b.tail) {
			return s, true
		}
		d := 1e-6 * max(b.tail-s, 1e-9)
		slope := (b.extra(s+d)-b.extra(s))/d - 1
		if slope >= 0 {
			return b.tail, false
		}
		next := s - over/slope
		if next <= s {
			return s, true
		}
		s = next
	}
	return s, s < b.tail
}

// line gives the tension at the device and the constants of the bow: y′ = a/T − b.
func (b *bow) line(s float64) (bottom, a, r float64) {
	bottom = max(b.w*(b.tail-s)+b.drag, 1e-9*b.w*b.l)
	x := b.w * b.l / bottom
	// C = q I₁/I₀ = q/w (wL / ln(1 + x) − T_b)
	c := b.q / b.w * (b.w*b.l/math.Log1p(x) - bottom)
	if x < 1e-4 {
		c = b.q * b.l / 2 * (1 - x/6)
	}
	return bottom, c + b.q*bottom/b.w, b.q / b.w
}

// extra is ∫(√(1 + y′²) − 1) dz in closed form. With T for z it is the integral of
// √((1 + b²) T² − 2ab T + a²)/T, less that of 1, over w.
func (b *bow) extra(s float64) float64 {
	bottom, a, r := b.line(s)
	top := bottom + b.w*b.l
	alpha := 1 + r*r
	integral := func(t float64) float64 {
		return math.Hypot(t, a-r*t) - a*r/math.Sqrt(alpha)*math.Asinh((alpha*t-a*r)/a) - a*math.Asinh(a/t-r)
	}
	return max(0, (integral(top)-integral(bottom))/b.w-b.l)
}

// widest is the bow at its widest, where y′ = 0: T = a/b.
func (b *bow) widest(s float64) float64 {
	if b.q == 0 {
		return 0
	}
	bottom, a, r := b.line(s)
	t := a / r
	return max(0, (a*math.Log(t/bottom)-r*(t-bottom))/b.w)
}

// Working tells how the slack was got.
func (out *WindOut) Working() []finding.Working {
	in := &out.in
	q := newBow(in, in.WindMS).q
	const errs = "low in gusts: friction keeps slack from going back"
	list := []finding.Working{
		finding.Work("drag on the strand N/m", "q = ½ ρ C_d d v²", quantity.Ratio(q), errs,
			finding.Fig("wind", in.WindMS), finding.Fig("d", in.DiameterMM), finding.Fig("C_d", quantity.Ratio(dragOfRope))),
		finding.Work("slack drawn by the wind", "∫(√(1 + y′²) − 1) dz = s, T_b = w (tail − s) + D", out.SlackM, errs,
			finding.Fig("strand above", in.AboveM), finding.Fig("tail", in.TailM), finding.Fig("rope", in.RopeGPerM), finding.Fig("D, N", quantity.Ratio(in.DeviceDragN))),
		finding.Work("widest bow", "y where y′ = 0", out.BowM, errs),
	}
	if out.LimitWindMS != nil {
		list = append(list, finding.Work("wind at which the wheel is to be parked", "lowest v with s above the limit, by halving", *out.LimitWindMS,
			"high in gusts", finding.Fig("limit", in.SlackLimitM)))
	}
	return list
}
