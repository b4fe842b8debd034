package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// AbsorberIn is an energy absorber: it extends at a constant force up to its
// greatest extension.
type AbsorberIn struct {
	_       struct{}             `nullable:"true"`
	ForceKN quantity.Kilonewtons `json:"force_kN" exclusiveMinimum:"0"`
	MaxM    quantity.Metres      `json:"max_m" exclusiveMinimum:"0"`
}

// FallIn is a fall onto a device that rides on a hanging rope.
type FallIn struct {
	MassKg        quantity.Kilograms       `json:"mass_kg" exclusiveMinimum:"0"`
	LanyardM      quantity.Metres          `json:"lanyard_m" exclusiveMinimum:"0" doc:"from the device to the attachment"`
	DeviceAboveM  quantity.Metres          `json:"device_above_attachment_m" doc:"negative: the device is below"`
	SlackM        quantity.Metres          `json:"slack_m,omitempty" minimum:"0" default:"0" doc:"slack in the rope above the device"`
	LockDistanceM quantity.Metres          `json:"lock_distance_m,omitempty" minimum:"0" default:"0"`
	LockSpeedMS   quantity.MetresPerSecond `json:"lock_speed_m_s,omitempty" minimum:"0" default:"0" doc:"of a wheel; a cam has 0"`
	RopeLengthM   quantity.Metres          `json:"rope_length_m" exclusiveMinimum:"0" doc:"from the anchor to the device"`
	ElongationPct quantity.Percent         `json:"elongation_pct" exclusiveMinimum:"0" doc:"between 50 and 150 kg"`
	Absorber      *AbsorberIn              `json:"absorber,omitempty"`
	DampingRatio  quantity.Ratio           `json:"damping_ratio" required:"false" minimum:"0" maximum:"0.5" default:"0.1" doc:"of the rope, for likely_kN and the course"`
	FeetM         quantity.Metres          `json:"feet_m" required:"false" minimum:"0" default:"1.3" doc:"from the attachment to the feet"`
	MarginM       quantity.Metres          `json:"margin_m" required:"false" minimum:"0" default:"1" doc:"clearance kept below the feet"`
	ClearanceM    *quantity.Metres         `json:"clearance_m,omitempty" minimum:"0" nullable:"true" doc:"what is free below the attachment"`
}

// FallOut is what a fall does, in closed form.
type FallOut struct {
	FreeFallM        quantity.Metres      `json:"free_fall_m"`
	BeforeArrestM    quantity.Metres      `json:"fall_before_arrest_m" doc:"h, the fall until the device has locked"`
	PeakKN           quantity.Kilonewtons `json:"peak_kN" doc:"undamped: the ceiling"`
	AbsorberM        quantity.Metres      `json:"absorber_m" doc:"extension of the absorber"`
	StretchM         quantity.Metres      `json:"stretch_m"`
	AbsorberUsedUp   bool                 `json:"absorber_used_up"`
	FallFactor       quantity.Ratio       `json:"fall_factor" doc:"h / rope length"`
	ClearanceNeededM quantity.Metres      `json:"clearance_needed_m" doc:"down from the attachment"`
	Clear            *bool                `json:"clear" doc:"null where no clearance is stated"`
	in               FallIn
	formula          string
}

// Fall computes a fall in closed form, without damping.
//
// Free fall = max(0, lanyard − height of the device above the attachment) +
// slack. A wheel rolls until its locking speed v, then needs its locking
// distance: h = max(free fall, v²/2g) + locking distance. The rope is a spring
// k = EA/L; an absorber in series extends at a constant force F_a up to x_max.
// The rest is conservation of energy.
//
// Valid for a body that falls straight down on the line of the rope, a rope
// hanging free, and a device that grips. Without damping, slip or a yielding
// body the peak errs high. It errs low where the rope runs over an edge between
// the anchor and the device (a shorter rope takes the fall) and for a wheel that
// slides too slowly to lock.
func Fall(in FallIn) FallOut {
	mg := newtons(in.MassKg)
	k := AxialStiffness(in.ElongationPct) / float64(in.RopeLengthM)
	free := max(0, in.LanyardM-in.DeviceAboveM) + in.SlackM
	roll := quantity.Metres(float64(in.LockSpeedMS) * float64(in.LockSpeedMS) / (2 * quantity.G))
	h := max(free, roll) + in.LockDistanceM
	out := FallOut{FreeFallM: free, BeforeArrestM: h, FallFactor: quantity.Ratio(h / in.RopeLengthM), in: in}
	out.formula = out.arrest(mg, k, in.Absorber)
	out.ClearanceNeededM = h + out.AbsorberM + out.StretchM + in.FeetM + in.MarginM
	if in.ClearanceM != nil {
		clear := *in.ClearanceM >= out.ClearanceNeededM
		out.Clear = &clear
	}
	return out
}

// arrest fills in the peak, the absorber and the stretch, and gives the formula
// that applied.
func (out *FallOut) arrest(mg, k float64, a *AbsorberIn) string {
	h := float64(out.BeforeArrestM)
	peak := peakForce(mg, k, h)
	formula := "F = mg + √((mg)² + 2 mg k h), k = EA/L"
	if a != nil && peak > float64(a.ForceKN)*1000 {
		peak, formula = out.extend(mg, k, h, float64(a.ForceKN)*1000, float64(a.MaxM))
	}
	out.PeakKN = kN(peak)
	out.StretchM = quantity.Metres(peak / k)
	return formula
}

func (out *FallOut) extend(mg, k, h, force, most float64) (float64, string) {
	if force > mg {
		x := (mg*(h+force/k) - force*force/(2*k)) / (force - mg)
		if x <= most {
			out.AbsorberM = quantity.Metres(x)
			return force, "F = F_a, x_a = (mg(h + F_a/k) − F_a²/2k) / (F_a − mg)"
		}
	}
	out.AbsorberM, out.AbsorberUsedUp = quantity.Metres(most), true
	// ½ k x² + F_a x_max = mg (h + x + x_max), the larger root.
	root := mg*mg - 2*k*(force*most-mg*(h+most))
	x := (mg + math.Sqrt(max(0, root))) / k
	return max(k*x, force), "½ k x² + F_a x_max = mg(h + x + x_max), F = k x"
}

// Working tells how every figure was got.
func (out *FallOut) Working() []finding.Working {
	return append(out.ClearanceWorking(), finding.Work("fall factor", "h / L", out.FallFactor, "neither way: it leaves the absorber out",
		finding.Fig("h", out.BeforeArrestM), finding.Fig("L", out.in.RopeLengthM)))
}

// PeakWorking tells how the peak force was got.
func (out *FallOut) PeakWorking() []finding.Working {
	in := &out.in
	inputs := []finding.Figure{
		finding.Fig("mass", in.MassKg), finding.Fig("h", out.BeforeArrestM), finding.Fig("L", in.RopeLengthM),
		finding.Fig("elongation", in.ElongationPct), finding.Fig("EA", kN(AxialStiffness(in.ElongationPct))),
	}
	if in.Absorber != nil {
		inputs = append(inputs, finding.Fig("F_a", in.Absorber.ForceKN), finding.Fig("x_max", in.Absorber.MaxM), finding.Fig("x_a", out.AbsorberM))
	}
	fall := finding.Work("fall before the device has locked", "h = max(free fall, v²/2g) + locking distance", out.BeforeArrestM,
		"low for a wheel that slides too slowly to lock",
		finding.Fig("lanyard", in.LanyardM), finding.Fig("device above attachment", in.DeviceAboveM), finding.Fig("slack", in.SlackM),
		finding.Fig("v", in.LockSpeedMS), finding.Fig("locking distance", in.LockDistanceM))
	return []finding.Working{fall, finding.Work("peak force", out.formula, out.PeakKN, "high: no damping, no slip", inputs...)}
}

// ClearanceWorking tells how the clearance was got.
func (out *FallOut) ClearanceWorking() []finding.Working {
	return append(out.PeakWorking(), finding.Work("clearance needed", "h + x_a + stretch + feet + margin", out.ClearanceNeededM,
		"high: stretch undamped",
		finding.Fig("h", out.BeforeArrestM), finding.Fig("x_a", out.AbsorberM), finding.Fig("stretch", out.StretchM),
		finding.Fig("feet", out.in.FeetM), finding.Fig("margin", out.in.MarginM)))
}
