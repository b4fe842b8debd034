package site

import (
	"math"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// shortestRope is the least rope between anchor and device that a fall is
// computed for; nearer to the anchor the figures would be without bound.
const shortestRope quantity.Metres = 0.3

// Spot is a hold with its person at some height: it puts together what the
// models of package mechanics ask for.
type Spot struct {
	Rig    *rig.Rig
	Hold   *rig.HoldView
	Policy *policy.Policy
	// At is the height of the person's attachment.
	At quantity.Metres
}

// SpotOf is a hold where its person is.
func SpotOf(r *rig.Rig, h *rig.HoldView, p *policy.Policy) Spot {
	return SpotAt(r, h, p, h.Person.AtM)
}

// SpotAt is a hold with its person at a height.
func SpotAt(r *rig.Rig, h *rig.HoldView, p *policy.Policy, at quantity.Metres) Spot {
	return Spot{r, h, p, at}
}

// Device is the height of the device.
func (s Spot) Device() quantity.Metres { return s.At + rig.PointHeight(s.Hold.Point) + s.Hold.AboveM }

// OnRope reports whether the strand is there at this height.
func (s Spot) OnRope() bool {
	l := s.Hold.Strand.Length
	return s.Device() < s.Hold.Strand.TopM() && (l == nil || s.Device() > l.EndM)
}

// Length is the rope in service, from the anchor of the section to the device.
func (s Spot) Length() quantity.Metres {
	return max(shortestRope, s.Hold.Strand.SectionAt(s.Device()).TopM-s.Device())
}

// Rope is what is above the device: elongation, mass and diameter.
func (s Spot) Rope() (quantity.Percent, quantity.GramsPerMetre, quantity.Millimetres) {
	return s.Hold.Strand.Rope(s.Hold.Strand.SectionAt(s.Device()).TopM, s.Device())
}

// Below is the rope that hangs free below the device, and its mass per metre.
func (s Spot) Below() (length quantity.Metres, mass quantity.GramsPerMetre) {
	to := s.Hold.Strand.HangsTo(s.Device())
	_, mass, _ = s.Hold.Strand.Rope(s.Device(), to)
	return max(0, s.Device()-to), mass
}

// Wind is the day's wind on the strand above a wheel; ok is false for what does
// not roll freely.
func (s Spot) Wind() (in mechanics.WindIn, ok bool) {
	b := s.Hold.Device.Model.Backup
	if s.Hold.Role() != rig.ToBackUp || b == nil || b.Kind != gear.Wheel {
		return in, false
	}
	_, mass, diameter := s.Rope()
	tail, _ := s.Below()
	return mechanics.WindIn{
		AboveM: s.Length(), TailM: tail, DiameterMM: diameter, RopeGPerM: mass, WindMS: s.Rig.WindMS,
		DeviceDragN: b.DragN, Parked: s.Hold.Position.Parked, SlackLimitM: s.Policy.WindSlackM,
	}, true
}

// Fall is a fall onto the hold. On a hold that is not a backup nothing hangs
// lower than it, and the fall is the slack alone: with none, the load that comes
// on at once is twice the weight. What the day's wind draws is slack too.
func (s Spot) Fall() (in mechanics.FallIn, windSlack quantity.Metres) {
	elongation, _, _ := s.Rope()
	in = mechanics.FallIn{
		MassKg: s.Hold.Mass(), SlackM: s.Hold.SlackM, FeetM: s.Policy.FeetM, MarginM: s.Policy.MarginM, DampingRatio: *s.Policy.DampingRatio,
		RopeLengthM: s.Length(), ElongationPct: elongation,
	}
	b := s.Hold.Device.Model.Backup
	if s.Hold.Role() != rig.ToBackUp || b == nil {
		return in, 0
	}
	in.LanyardM, _ = s.Hold.LinksLength(s.Policy.ConnectorM)
	for _, l := range s.Hold.Links {
		if a := l.Model.Absorber; a != nil {
			in.Absorber = &mechanics.AbsorberIn{ForceKN: a.ForceKN, MaxM: a.MaxM}
		}
	}
	if b.IntegralAbsorberKN > 0 {
		in.Absorber = &mechanics.AbsorberIn{ForceKN: b.IntegralAbsorberKN, MaxM: b.IntegralAbsorberMaxM}
	}
	in.DeviceAboveM, in.LockSpeedMS, in.LockDistanceM = s.Hold.AboveM, b.LockSpeedMS, b.LockDistanceM
	if wind, rolls := s.Wind(); rolls {
		windSlack, _ = wind.Slack()
		in.SlackM += windSlack
	}
	return in, windSlack
}

// Lower is what the device asks of the hand; ok is false where its friction is
// not typed in.
func (s Spot) Lower() (in mechanics.LowerIn, ok bool) {
	f := s.Hold.Device.Model.Device.Friction
	if s.Hold.Role() != rig.ToDescend || f == nil {
		return in, false
	}
	in = mechanics.LowerIn{
		LoadKg: s.Hold.Mass(), BaseRatio: f.BaseRatio, Mu: s.Policy.Friction.Of(s.Hold.Strand.RopeAt(s.Device()).Item.Condition), GripKN: s.Policy.GripKN,
	}
	in.HangingM, in.RopeGPerM = s.Below()
	if s.Hold.ExtraFriction {
		in.WrapsDeg = []quantity.Degrees{f.Bend()}
	}
	return in, true
}

// Heat is the descent from the top of the strand to this height in one go; ok is
// false where the device's figures are not typed in. The limit is the lowest of
// the ropes', 0 where none is known.
func (s Spot) Heat() (in mechanics.HeatIn, ok bool) {
	d := s.Hold.Device.Model
	height := s.Hold.Strand.TopM() - s.At
	if s.Hold.Role() != rig.ToDescend || d.Device.Heat == nil || d.MassG == 0 || height <= 0 {
		return in, false
	}
	in = mechanics.HeatIn{
		LoadKg: s.Hold.Mass(), HeightM: height, SpeedMS: s.Policy.DescentSpeedMS, DeviceG: d.MassG, SpecificHeat: d.Device.Heat.SpecificHeat,
		CoolingWK: d.Device.Heat.CoolingWK, HeatShare: d.Device.Heat.Share, AmbientC: *s.Policy.AirC,
	}
	for _, r := range s.Hold.Strand.Ropes {
		if l := r.Model.Rope.SheathLimitC; l > 0 && (in.LimitC == 0 || l < in.LimitC) {
			in.LimitC = l
		}
	}
	return in, true
}

// Stretch is the rope above under the load at rest.
func (s Spot) Stretch() mechanics.StretchIn {
	elongation, mass, _ := s.Rope()
	return mechanics.StretchIn{LoadKg: s.Hold.Mass(), LengthM: s.Length(), ElongationPct: elongation, RopeGPerM: mass}
}

// Share is the load on two strands like this one.
func (s Spot) Share() mechanics.ShareIn {
	elongation, _, _ := s.Rope()
	return mechanics.ShareIn{
		MassKg: s.Hold.Mass(), RopeLengthM: s.Length(), ElongationPct: elongation, Share: *s.Policy.BelayShare, SlackM: *s.Policy.BelaySlackM,
	}
}

// Swing is the swing about this hold's anchor if another hold lets go: sideways
// by how far apart their anchors are, outwards by how far the way to the landing
// is out of plumb here.
func (s Spot) Swing(other *rig.HoldView) mechanics.SwingIn {
	aside := XOf(s.Hold.Strand.SectionAt(s.Device())) - XOf(other.Strand.SectionAt(s.At+other.AboveM))
	top := s.Rig.Geometry.TopM
	out := s.Rig.Geometry.OffsetM * max(0, min(1, (top-s.At)/top))
	offset := quantity.Metres(math.Hypot(float64(aside), float64(out)))
	return mechanics.SwingIn{RopeLengthM: s.Length(), OffsetM: min(offset, s.Length())}
}

// XOf is where a section hangs, sideways.
func XOf(s rig.Section) quantity.Metres {
	if len(s.Anchors) == 0 {
		return 0
	}
	return s.Anchors[0].XM
}
