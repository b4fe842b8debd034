package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// SwingIn is a body held out of plumb on a rope.
type SwingIn struct {
	RopeLengthM quantity.Metres `json:"rope_length_m" exclusiveMinimum:"0"`
	OffsetM     quantity.Metres `json:"offset_m" doc:"out of plumb, to either side; at most the rope's length"`
}

// SwingOut is how hard it swings when let go.
type SwingOut struct {
	SpeedMS    quantity.MetresPerSecond `json:"speed_m_s" doc:"at the bottom"`
	EqualDropM quantity.Metres          `json:"equal_drop_m" doc:"straight drop that gives the same speed"`
	AngleDeg   quantity.Degrees         `json:"angle_deg" doc:"of the rope out of plumb"`
	in         SwingIn
}

// Swing is the speed at the bottom of a swing from an offset x out of plumb on a
// rope of length L: θ = asin(x/L), v = √(2 g L (1 − cos θ)), the speed of a
// straight drop of L(1 − cos θ), from conservation of energy.
//
// The rope is taken as not stretching and not touching: it errs high for what
// brakes on the face, and low where the rope hangs on an edge on the way.
func Swing(in SwingIn) (SwingOut, error) {
	r := math.Abs(float64(in.OffsetM / in.RopeLengthM))
	if r > 1 {
		return SwingOut{}, refuse("/offset_m", "must not be more than rope_length_m, %v", in.RopeLengthM)
	}
	// 1 − cos θ without loss of digits.
	rise := r * r / (1 + math.Sqrt(1-r*r))
	drop := in.RopeLengthM * quantity.Metres(rise)
	return SwingOut{
		SpeedMS: quantity.MetresPerSecond(math.Sqrt(2 * quantity.G * float64(drop))), EqualDropM: drop,
		AngleDeg: quantity.Degrees(math.Asin(r) * 180 / math.Pi), in: in,
	}, nil
}

// Working tells how the swing was got.
func (out *SwingOut) Working() []finding.Working {
	in := &out.in
	l, x := finding.Fig("L", in.RopeLengthM), finding.Fig("x", in.OffsetM)
	const errs = "high: nothing brakes; low where the rope catches an edge"
	return []finding.Working{
		finding.Work("angle out of plumb", "θ = asin(x / L)", out.AngleDeg, "either way by how the offset was stated", x, l),
		finding.Work("equal straight drop", "L (1 − cos θ)", out.EqualDropM, errs, l, finding.Fig("θ", out.AngleDeg)),
		finding.Work("speed at the bottom", "√(2 g L (1 − cos θ))", out.SpeedMS, errs, l, finding.Fig("θ", out.AngleDeg)),
	}
}
