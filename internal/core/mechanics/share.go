package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// ShareIn is a load on two strands of which one fails at once.
type ShareIn struct {
	MassKg        quantity.Kilograms `json:"mass_kg" exclusiveMinimum:"0"`
	RopeLengthM   quantity.Metres    `json:"rope_length_m" exclusiveMinimum:"0" doc:"from the anchor of the strand that survives to the load"`
	ElongationPct quantity.Percent   `json:"elongation_pct" exclusiveMinimum:"0" doc:"between 50 and 150 kg"`
	Share         quantity.Ratio     `json:"share" minimum:"0" maximum:"1" doc:"part of the weight on the strand that survives; 0: free of slack, no load"`
	SlackM        quantity.Metres    `json:"slack_m,omitempty" minimum:"0" default:"0" doc:"slack in a strand that carries nothing"`
}

// SchoolOut is what one way of sharing does when a strand fails.
type SchoolOut struct {
	PeakKN quantity.Kilonewtons `json:"peak_kN"`
	DropM  quantity.Metres      `json:"drop_m"`
}

// ShareOut sets two schools side by side: both strands carry, or one carries and
// the other hangs with slack.
type ShareOut struct {
	Shared SchoolOut `json:"shared"`
	Slack  SchoolOut `json:"slack"`
	in     ShareIn
}

// Share computes what the strand that survives sees when the other fails at
// once, undamped, from conservation of energy with the rope as a spring k =
// EA/L: with a share s of the weight on it already, peak = mg(2 − s), further
// drop = 2(1 − s) mg/k; with slack d and no load, the fall of d onto it, and the
// drop is d and the stretch.
//
// It errs high: nothing damps, and what fails gives way at once. It errs low
// where the strand that survives runs over an edge.
func Share(in ShareIn) ShareOut {
	mg := newtons(in.MassKg)
	k := AxialStiffness(in.ElongationPct) / float64(in.RopeLengthM)
	s := float64(in.Share)
	peak := peakForce(mg, k, float64(in.SlackM))
	return ShareOut{
		Shared: SchoolOut{kN(mg * (2 - s)), quantity.Metres(2 * (1 - s) * mg / k)},
		Slack:  SchoolOut{kN(peak), in.SlackM + quantity.Metres(peak/k)},
		in:     in,
	}
}

// Working tells how both schools were got.
func (out *ShareOut) Working() []finding.Working {
	in := &out.in
	ea := finding.Fig("EA", kN(AxialStiffness(in.ElongationPct)))
	m, l, s, d := finding.Fig("mass", in.MassKg), finding.Fig("L", in.RopeLengthM), finding.Fig("share", in.Share), finding.Fig("slack", in.SlackM)
	const errs = "high: nothing damps, and the other strand fails at once"
	return []finding.Working{
		finding.Work("peak, shared", "mg (2 − s)", out.Shared.PeakKN, errs, m, s),
		finding.Work("further drop, shared", "2 (1 − s) mg / k, k = EA/L", out.Shared.DropM, errs, m, s, ea, l),
		finding.Work("peak, slack", "mg + √((mg)² + 2 mg k d)", out.Slack.PeakKN, errs, m, d, ea, l),
		finding.Work("drop, slack", "d + F/k", out.Slack.DropM, errs, d, ea, l),
	}
}

// Course is the shared school in time, undamped, from the moment the other
// strand fails. (The slack school is a fall: FallInTime.)
func (out *ShareOut) Course() []CoursePoint {
	mg := newtons(out.in.MassKg)
	f := newFaller(&FallIn{MassKg: out.in.MassKg, RopeLengthM: out.in.RopeLengthM, ElongationPct: out.in.ElongationPct}, 0)
	f.shift = -float64(out.in.Share) * mg / f.k
	f.record = true
	period := 2 * math.Pi * math.Sqrt(f.m/f.k)
	f.phases(1.5*period, period, false)
	return thin(f.points)
}
