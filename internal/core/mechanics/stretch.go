package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// StretchIn is a load at rest at the end of a hanging rope.
type StretchIn struct {
	LoadKg        quantity.Kilograms     `json:"load_kg" exclusiveMinimum:"0"`
	LengthM       quantity.Metres        `json:"length_m" exclusiveMinimum:"0"`
	ElongationPct quantity.Percent       `json:"elongation_pct" exclusiveMinimum:"0" doc:"between 50 and 150 kg"`
	RopeGPerM     quantity.GramsPerMetre `json:"rope_g_per_m" minimum:"0"`
}

// StretchOut is how far the rope stretches.
type StretchOut struct {
	EAKN     quantity.Kilonewtons `json:"EA_kN"`
	StretchM quantity.Metres      `json:"stretch_m"`
	in       StretchIn
}

// Stretch is the static stretch of a hanging rope under a load and its own
// weight: F L / EA + w L² / (2 EA), a linear spring (Hooke).
//
// It errs high on old or much used ropes and low on new, wet or dynamic ones.
func Stretch(in StretchIn) StretchOut {
	ea, l := AxialStiffness(in.ElongationPct), float64(in.LengthM)
	return StretchOut{kN(ea), quantity.Metres((newtons(in.LoadKg) + perMetre(in.RopeGPerM)*l/2) * l / ea), in}
}

// Bounce is the dip m g / k by which a load that comes on or goes at once makes
// the body swing up and down about its rest, and the time of one swing, 2π√(m/k).
// Undamped, so that it errs high.
func (out *StretchOut) Bounce() (dip quantity.Metres, seconds float64) {
	k := float64(out.EAKN) * 1000 / float64(out.in.LengthM)
	return quantity.Metres(newtons(out.in.LoadKg) / k), 2 * math.Pi * math.Sqrt(float64(out.in.LoadKg)/k)
}

// LongestFor is the length of rope that stretches by a limit: the positive root
// of w L² / 2 + F L = EA · limit. Re-belays closer than this keep the stretch
// below it.
func (out *StretchOut) LongestFor(limit quantity.Metres) quantity.Metres {
	f, w, right := newtons(out.in.LoadKg), perMetre(out.in.RopeGPerM), float64(out.EAKN)*1000*float64(limit)
	// The form that loses no digits where w is small.
	return quantity.Metres(2 * right / (f + math.Sqrt(f*f+2*w*right)))
}

// Working tells how the stretch was got.
func (out *StretchOut) Working() []finding.Working {
	in := &out.in
	return []finding.Working{
		finding.Work("axial stiffness", "EA = 100 kg · g / (e / 100)", out.EAKN, "low at high load: ropes stiffen", finding.Fig("e", in.ElongationPct)),
		finding.Work("stretch at rest", "F L / EA + w L² / (2 EA)", out.StretchM, "high on old ropes, low on new or wet ones",
			finding.Fig("load", in.LoadKg), finding.Fig("L", in.LengthM), finding.Fig("rope", in.RopeGPerM)),
	}
}
