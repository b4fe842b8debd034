package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// LegAt is an anchor point as seen from the master point.
type LegAt struct {
	X, Y quantity.Metres
}

// WidestAngle is the widest angle between any two legs, 0 for a single leg:
// cos θ = u·v / |u||v|. Legs are taken as straight; it errs low where a leg runs
// round something.
func WidestAngle(legs []LegAt) (quantity.Degrees, func() []finding.Working) {
	widest := 0.0
	for i, a := range legs {
		for _, b := range legs[:i] {
			cross := float64(a.X)*float64(b.Y) - float64(a.Y)*float64(b.X)
			dot := float64(a.X)*float64(b.X) + float64(a.Y)*float64(b.Y)
			widest = max(widest, math.Abs(math.Atan2(cross, dot))*180/math.Pi)
		}
	}
	return quantity.Degrees(widest), func() []finding.Working { return evenPair(quantity.Degrees(widest)) }
}

// evenPair is what each leg of an even pair carries: T = F / (2 cos(θ/2)).
func evenPair(angle quantity.Degrees) []finding.Working {
	cos := math.Cos(float64(angle) / 2 * math.Pi / 180)
	if angle == 0 || cos < 1e-6 {
		return nil
	}
	return []finding.Working{finding.Work("load on each leg of an even pair", "T = F / (2 cos(θ/2))", quantity.Percent(100/(2*cos)),
		"errs low for uneven legs", finding.Fig("θ", angle))}
}
