package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// RedirectIn is a rope that changes its direction at a point.
type RedirectIn struct {
	T1KN        quantity.Kilonewtons `json:"t1_kN" exclusiveMinimum:"0"`
	T2KN        quantity.Kilonewtons `json:"t2_kN" exclusiveMinimum:"0"`
	IncludedDeg quantity.Degrees     `json:"included_angle_deg" minimum:"0" maximum:"180" doc:"between the two parts of the rope; 0: both run the same way"`
}

// RedirectOut is what the point bears.
type RedirectOut struct {
	ResultantKN quantity.Kilonewtons `json:"resultant_kN"`
	in          RedirectIn
}

// Redirect is the sum of two rope tensions at an included angle φ, by the law of
// cosines: R = √(T1² + T2² + 2 T1 T2 cos φ). It errs low while anything moves.
func Redirect(in RedirectIn) RedirectOut {
	sin, cos := math.Sincos(float64(in.IncludedDeg) / 2 * math.Pi / 180)
	// Halves of the angle lose no digits where the two nearly cancel.
	r := math.Hypot(float64(in.T1KN+in.T2KN)*cos, float64(in.T1KN-in.T2KN)*sin)
	return RedirectOut{quantity.Kilonewtons(r), in}
}

// Working tells how the resultant was got.
func (out *RedirectOut) Working() []finding.Working {
	return []finding.Working{finding.Work("load on the redirect", "R = √(T1² + T2² + 2 T1 T2 cos φ)", out.ResultantKN, "low while anything moves",
		finding.Fig("T1", out.in.T1KN), finding.Fig("T2", out.in.T2KN), finding.Fig("φ", out.in.IncludedDeg))}
}
