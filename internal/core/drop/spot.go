package drop

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

// spot is a hold with its person at some height: it puts together what the
// models of package mechanics ask for.
type spot struct {
	rig *rig.Rig
	h   *rig.HoldView
	p   *policy.Policy
	// at is the height of the person's attachment.
	at quantity.Metres
}

// spotOf is a hold where its person is.
func spotOf(r *rig.Rig, h *rig.HoldView, p *policy.Policy) spot { return spot{r, h, p, h.Person.AtM} }

// device is the height of the device.
func (s spot) device() quantity.Metres { return s.at + rig.PointHeight(s.h.Point) + s.h.AboveM }

// onRope reports whether the strand is there at this height.
func (s spot) onRope() bool {
	l := s.h.Strand.Length
	return s.device() < s.h.Strand.TopM() && (l == nil || s.device() > l.EndM)
}

// length is the rope in service, from the anchor of the section to the device.
func (s spot) length() quantity.Metres {
	return max(shortestRope, s.h.Strand.SectionAt(s.device()).TopM-s.device())
}

func (s spot) rope() (quantity.Percent, quantity.GramsPerMetre, quantity.Millimetres) {
	return s.h.Strand.Rope(s.h.Strand.SectionAt(s.device()).TopM, s.device())
}

// below is the rope that hangs free below the device, and its mass per metre.
func (s spot) below() (length quantity.Metres, mass quantity.GramsPerMetre) {
	to := s.h.Strand.HangsTo(s.device())
	_, mass, _ = s.h.Strand.Rope(s.device(), to)
	return max(0, s.device()-to), mass
}

// wind is the day's wind on the strand above a wheel; ok is false for what does
// not roll freely.
func (s spot) wind() (in mechanics.WindIn, ok bool) {
	b := s.h.Device.Model.Backup
	if s.h.Role() != rig.ToBackUp || b == nil || b.Kind != gear.Wheel {
		return in, false
	}
	_, mass, diameter := s.rope()
	tail, _ := s.below()
	return mechanics.WindIn{
		AboveM: s.length(), TailM: tail, DiameterMM: diameter, RopeGPerM: mass, WindMS: s.rig.WindMS,
		DeviceDragN: b.DragN, Parked: s.h.Position.Parked, SlackLimitM: s.p.WindSlackM,
	}, true
}

// fall is a fall onto the hold. On a hold that is not a backup nothing hangs
// lower than it, and the fall is the slack alone: with none, the load that comes
// on at once is twice the weight. What the day's wind draws is slack too.
func (s spot) fall() (in mechanics.FallIn, windSlack quantity.Metres) {
	elongation, _, _ := s.rope()
	in = mechanics.FallIn{
		MassKg: s.h.Mass(), SlackM: s.h.SlackM, FeetM: s.p.FeetM, MarginM: s.p.MarginM, DampingRatio: *s.p.DampingRatio,
		RopeLengthM: s.length(), ElongationPct: elongation,
	}
	b := s.h.Device.Model.Backup
	if s.h.Role() != rig.ToBackUp || b == nil {
		return in, 0
	}
	in.LanyardM, _ = s.h.LinksLength(s.p.ConnectorM)
	for _, l := range s.h.Links {
		if a := l.Model.Absorber; a != nil {
			in.Absorber = &mechanics.AbsorberIn{ForceKN: a.ForceKN, MaxM: a.MaxM}
		}
	}
	if b.IntegralAbsorberKN > 0 {
		in.Absorber = &mechanics.AbsorberIn{ForceKN: b.IntegralAbsorberKN, MaxM: b.IntegralAbsorberMaxM}
	}
	in.DeviceAboveM, in.LockSpeedMS, in.LockDistanceM = s.h.AboveM, b.LockSpeedMS, b.LockDistanceM
	if wind, rolls := s.wind(); rolls {
		windSlack, _ = wind.Slack()
		in.SlackM += windSlack
	}
	return in, windSlack
}

// lower is what the device asks of the hand; ok is false where its friction is
// not typed in.
func (s spot) lower() (in mechanics.LowerIn, ok bool) {
	f := s.h.Device.Model.Device.Friction
	if s.h.Role() != rig.ToDescend || f == nil {
		return in, false
	}
	in = mechanics.LowerIn{
		LoadKg: s.h.Mass(), BaseRatio: f.BaseRatio, Mu: s.p.Friction.Of(s.h.Strand.RopeAt(s.device()).Item.Condition), GripKN: s.p.GripKN,
	}
	in.HangingM, in.RopeGPerM = s.below()
	if s.h.ExtraFriction {
		in.WrapsDeg = []quantity.Degrees{f.Bend()}
	}
	return in, true
}

// heat is the descent from the top of the strand to this height in one go; ok is
// false where the device's figures are not typed in. The limit is the lowest of
// the ropes', 0 where none is known.
func (s spot) heat() (in mechanics.HeatIn, ok bool) {
	d := s.h.Device.Model
	height := s.h.Strand.TopM() - s.at
	if s.h.Role() != rig.ToDescend || d.Device.Heat == nil || d.MassG == 0 || height <= 0 {
		return in, false
	}
	in = mechanics.HeatIn{
		LoadKg: s.h.Mass(), HeightM: height, SpeedMS: s.p.DescentSpeedMS, DeviceG: d.MassG, SpecificHeat: d.Device.Heat.SpecificHeat,
		CoolingWK: d.Device.Heat.CoolingWK, HeatShare: d.Device.Heat.Share, AmbientC: *s.p.AirC,
	}
	for _, r := range s.h.Strand.Ropes {
		if l := r.Model.Rope.SheathLimitC; l > 0 && (in.LimitC == 0 || l < in.LimitC) {
			in.LimitC = l
		}
	}
	return in, true
}

// stretch is the rope above under the load at rest.
func (s spot) stretch() mechanics.StretchIn {
	elongation, mass, _ := s.rope()
	return mechanics.StretchIn{LoadKg: s.h.Mass(), LengthM: s.length(), ElongationPct: elongation, RopeGPerM: mass}
}

// share is the load on two strands like this one.
func (s spot) share() mechanics.ShareIn {
	elongation, _, _ := s.rope()
	return mechanics.ShareIn{
		MassKg: s.h.Mass(), RopeLengthM: s.length(), ElongationPct: elongation, Share: *s.p.BelayShare, SlackM: *s.p.BelaySlackM,
	}
}

// swing is the swing about this hold's anchor if another hold lets go: sideways
// by how far apart their anchors are, outwards by how far the way to the landing
// is out of plumb here.
func (s spot) swing(other *rig.HoldView) mechanics.SwingIn {
	aside := x(s.h.Strand.SectionAt(s.device())) - x(other.Strand.SectionAt(s.at+other.AboveM))
	top := s.rig.Geometry.TopM
	out := s.rig.Geometry.OffsetM * max(0, min(1, (top-s.at)/top))
	offset := quantity.Metres(math.Hypot(float64(aside), float64(out)))
	return mechanics.SwingIn{RopeLengthM: s.length(), OffsetM: min(offset, s.length())}
}

// x is where a section hangs, sideways.
func x(s rig.Section) quantity.Metres {
	if len(s.Anchors) == 0 {
		return 0
	}
	return s.Anchors[0].XM
}
