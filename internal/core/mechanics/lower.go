package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// LowerIn is a load on a brake that one hand holds.
type LowerIn struct {
	LoadKg    quantity.Kilograms     `json:"load_kg" exclusiveMinimum:"0"`
	BaseRatio quantity.Ratio         `json:"base_ratio" minimum:"1" doc:"load to hand with the brake fully open, hand at its reference place"`
	Mu        quantity.Ratio         `json:"mu,omitempty" minimum:"0" default:"0.25" doc:"rope on metal"`
	WrapsDeg  []quantity.Degrees     `json:"wraps_deg,omitempty" minimum:"0" maximum:"180" doc:"each added wrap: hand angle, extra post or connector"`
	HangingM  quantity.Metres        `json:"hanging_m,omitempty" minimum:"0" default:"0" doc:"rope that hangs on the brake side"`
	RopeGPerM quantity.GramsPerMetre `json:"rope_g_per_m" minimum:"0"`
	GripKN    quantity.Kilonewtons   `json:"grip_kN,omitempty" exclusiveMinimum:"0" default:"0.1" doc:"what a hand holds for long"`
}

// LowerOut is what the brake asks of the hand.
type LowerOut struct {
	Ratio        quantity.Ratio       `json:"ratio"`
	BrakeKN      quantity.Kilonewtons `json:"brake_kN" doc:"needed on the brake side"`
	HandKN       quantity.Kilonewtons `json:"hand_kN" doc:"what hanging rope leaves of it"`
	RunsByItself bool                 `json:"runs_by_itself" doc:"hanging rope does not hold it"`
	FreesBelowM  *quantity.Metres     `json:"frees_below_m" doc:"rope hanging below the device under which it runs; null for rope without weight"`
	WithinGrip   bool                 `json:"within_grip"`
	in           LowerIn
}

// Lower computes a brake by the belt friction formula (Euler, Eytelwein): R =
// R₀ · exp(μ Σβ), brake side W / R; rope hanging there gives w L of it, so hand =
// max(0, W/R − w L), and the load does not run by itself while w L > W / R.
//
// R₀ is taken as constant and the rope as slowly sliding: the hand's force errs
// high in a groove that bites harder under load, low on wet, icy or glazed rope
// when μ is that of a dry one.
func Lower(in LowerIn) LowerOut {
	turn := 0.0
	for _, w := range in.WrapsDeg {
		turn += float64(w) * math.Pi / 180
	}
	load, w := newtons(in.LoadKg), perMetre(in.RopeGPerM)
	ratio := float64(in.BaseRatio) * math.Exp(float64(in.Mu)*turn)
	brake := load / ratio
	hand := max(0, brake-w*float64(in.HangingM))
	out := LowerOut{
		Ratio: quantity.Ratio(ratio), BrakeKN: kN(brake), HandKN: kN(hand), RunsByItself: brake >= w*float64(in.HangingM),
		WithinGrip: kN(hand) <= in.GripKN, in: in,
	}
	if w > 0 {
		frees := quantity.Metres(brake / w)
		out.FreesBelowM = &frees
	}
	return out
}

// Working tells how the hand's force was got.
func (out *LowerOut) Working() []finding.Working {
	in := &out.in
	turn := quantity.Degrees(0)
	for _, w := range in.WrapsDeg {
		turn += w
	}
	const errs = "high in a groove that bites, low on wet or icy rope"
	list := []finding.Working{
		finding.Work("ratio of the brake", "R = R₀ · exp(μ Σβ)", out.Ratio, errs,
			finding.Fig("R₀", in.BaseRatio), finding.Fig("μ", in.Mu), finding.Fig("Σβ", turn)),
		finding.Work("needed on the brake side", "W / R", out.BrakeKN, errs, finding.Fig("load", in.LoadKg)),
		finding.Work("left for the hand", "max(0, W/R − w L)", out.HandKN, errs,
			finding.Fig("rope", in.RopeGPerM), finding.Fig("L", in.HangingM), finding.Fig("grip", in.GripKN)),
	}
	if out.FreesBelowM != nil {
		list = append(list, finding.Work("runs with less rope below than", "W / (R w)", *out.FreesBelowM, errs, finding.Fig("rope", in.RopeGPerM)))
	}
	return list
}
