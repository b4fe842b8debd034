package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// AbsorberIn is an energy absorber: it extends at a constant force up to its
// greatest extension.
type AbsorberIn struct {
	Force quantity.Kilonewtons
	Max   quantity.Metres
}

// FallIn is a fall onto a device that rides on a hanging rope.
type FallIn struct {
	Mass         quantity.Kilograms
	Lanyard      quantity.Metres
	DeviceAbove  quantity.Metres // height of the device above the attachment
	Slack        quantity.Metres
	LockDistance quantity.Metres
	LockSpeed    quantity.MetresPerSecond
	RopeLength   quantity.Metres // from the anchor to the device
	Elongation   quantity.Percent
	Absorber     *AbsorberIn
	Feet         quantity.Metres // from the attachment to the feet
	Margin       quantity.Metres
}

// FallOut is what a fall does.
type FallOut struct {
	FreeFall        quantity.Metres
	BeforeArrest    quantity.Metres // h, the fall until the device has locked
	Peak            quantity.Kilonewtons
	AbsorberExtends quantity.Metres
	Stretch         quantity.Metres
	AbsorberUsedUp  bool
	FallFactor      quantity.Ratio
	ClearanceNeeded quantity.Metres

	in      FallIn
	formula string
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
	mg := newtons(in.Mass)
	k := AxialStiffness(in.Elongation) / float64(in.RopeLength)
	free := max(0, in.Lanyard-in.DeviceAbove) + in.Slack
	roll := quantity.Metres(float64(in.LockSpeed) * float64(in.LockSpeed) / (2 * quantity.G))
	h := max(free, roll) + in.LockDistance
	out := FallOut{FreeFall: free, BeforeArrest: h, FallFactor: quantity.Ratio(h / in.RopeLength)}
	out.in, out.formula = in, out.arrest(mg, k, in.Absorber)
	out.ClearanceNeeded = h + out.AbsorberExtends + out.Stretch + in.Feet + in.Margin
	return out
}

// arrest fills in the peak, the absorber and the stretch, and gives the formula
// that applied.
func (out *FallOut) arrest(mg, k float64, a *AbsorberIn) string {
	h := float64(out.BeforeArrest)
	peak := peakForce(mg, k, h)
	formula := "F = mg + √((mg)² + 2 mg k h), k = EA/L"
	if a != nil && peak > float64(a.Force)*1000 {
		peak, formula = out.extend(mg, k, h, float64(a.Force)*1000, float64(a.Max))
	}
	out.Peak = kN(peak)
	out.Stretch = quantity.Metres(peak / k)
	return formula
}

func (out *FallOut) extend(mg, k, h, force, most float64) (float64, string) {
	if force > mg {
		x := (mg*(h+force/k) - force*force/(2*k)) / (force - mg)
		if x <= most {
			out.AbsorberExtends = quantity.Metres(max(0, x))
			return force, "F = F_a, x_a = (mg(h + F_a/k) − F_a²/2k) / (F_a − mg)"
		}
	}
	out.AbsorberUsedUp = true
	out.AbsorberExtends = quantity.Metres(most)
	root := mg*mg + 2*k*(mg*(h+most)-force*most)
	x := (mg + math.Sqrt(max(0, root))) / k
	return max(force, k*x), "½ k x² + F_a x_max = mg(h + x + x_max), F = k x"
}

// PeakWorking is how the peak was got.
func (out FallOut) PeakWorking() []finding.Working {
	in := out.in
	fall := finding.Work("fall before arrest", "h = max(max(0, lanyard − device above) + slack, v²/2g) + locking distance",
		out.BeforeArrest, "errs low when the device is held back or slides without locking",
		finding.Fig("lanyard", in.Lanyard), finding.Fig("device above attachment", in.DeviceAbove), finding.Fig("slack", in.Slack),
		finding.Fig("locking speed", in.LockSpeed), finding.Fig("locking distance", in.LockDistance))
	inputs := []finding.Figure{
		finding.Fig("mass", in.Mass), finding.Fig("h", out.BeforeArrest), finding.Fig("rope from anchor to device", in.RopeLength),
		finding.Fig("elongation", in.Elongation),
	}
	if in.Absorber != nil {
		inputs = append(inputs, finding.Fig("absorber force", in.Absorber.Force), finding.Fig("absorber extension at most", in.Absorber.Max))
	}
	return []finding.Working{fall, finding.Work("peak force", out.formula, out.Peak,
		"errs high: no damping, no slip, a rigid body; low where an edge shortens the rope", inputs...)}
}

// ClearanceWorking is how the clearance needed was got.
func (out FallOut) ClearanceWorking() []finding.Working {
	return append(out.PeakWorking(), finding.Work("clearance needed", "h + absorber + stretch + feet + margin", out.ClearanceNeeded,
		"errs high: stretch is undamped",
		finding.Fig("h", out.BeforeArrest), finding.Fig("absorber", out.AbsorberExtends), finding.Fig("stretch", out.Stretch),
		finding.Fig("feet below attachment", out.in.Feet), finding.Fig("margin", out.in.Margin)))
}
