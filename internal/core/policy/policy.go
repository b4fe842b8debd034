// Package policy holds what a team may decide for itself: factors, ceilings,
// tables and schools. It may make a rule stricter, never weaker.
package policy

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/knot"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/strict"
)

// Policy is a team's policy. A figure left out has the shipped default; With
// gives the policy with every default filled in.
type Policy struct {
	Name                string                   `json:"name" minLength:"1" maxLength:"80"`
	Margins             string                   `json:"margins,omitempty" enum:"fixed-factors,limits" doc:"school of margins; left out: fixed-factors"`
	TextileFactor       quantity.Ratio           `json:"textile_factor,omitempty" minimum:"1" maximum:"50"`
	MetalFactor         quantity.Ratio           `json:"metal_factor,omitempty" minimum:"1" maximum:"50"`
	ArrestCeilingKN     quantity.Kilonewtons     `json:"arrest_ceiling_kN,omitempty" exclusiveMinimum:"0" maximum:"12"`
	ReserveM            quantity.Metres          `json:"reserve_m,omitempty" exclusiveMinimum:"0" maximum:"20" doc:"spare rope at the landing below which an end stop is required"`
	TeethLook           quantity.Ratio           `json:"teeth_look,omitempty" exclusiveMinimum:"0" maximum:"1" doc:"part of the sheath-harm force from which it is a look"`
	DescentSpeedMS      quantity.MetresPerSecond `json:"descent_speed_m_s,omitempty" exclusiveMinimum:"0" maximum:"10"`
	AirC                *quantity.Celsius        `json:"air_C,omitempty" minimum:"-60" maximum:"60"`
	ExaminationMonths   int                      `json:"examination_months,omitempty" minimum:"1" maximum:"60"`
	ExaminationWarnDays quantity.Days            `json:"examination_warn_days,omitempty" exclusiveMinimum:"0" maximum:"365"`
	FeetM               quantity.Metres          `json:"feet_m,omitempty" exclusiveMinimum:"0" maximum:"3" doc:"from the attachment down to the feet"`
	MarginM             quantity.Metres          `json:"margin_m,omitempty" exclusiveMinimum:"0" maximum:"10" doc:"clearance kept below the feet"`
	ConnectorM          quantity.Metres          `json:"connector_m,omitempty" exclusiveMinimum:"0" maximum:"0.5" doc:"length of a connector whose model gives none"`
	FoulGapM            quantity.Metres          `json:"foul_gap_m,omitempty" exclusiveMinimum:"0" maximum:"1" doc:"gap kept between a lever's reach and another device"`
	StretchM            quantity.Metres          `json:"stretch_m,omitempty" exclusiveMinimum:"0" maximum:"20" doc:"stretch at rest above which a re-belay is needed"`
	WindSlackM          quantity.Metres          `json:"wind_slack_m,omitempty" exclusiveMinimum:"0" maximum:"20" doc:"slack above a backup, left or drawn by wind, above which it is found"`
	GripKN              quantity.Kilonewtons     `json:"grip_kN,omitempty" exclusiveMinimum:"0" maximum:"2" doc:"what a hand holds for long"`
	GripMostKN          quantity.Kilonewtons     `json:"grip_most_kN,omitempty" exclusiveMinimum:"0" maximum:"2" doc:"what a hand holds for a moment"`
	DampingRatio        *quantity.Ratio          `json:"damping_ratio,omitempty" minimum:"0" maximum:"0.5" doc:"of ropes, for likely forces"`
	BelayShare          *quantity.Ratio          `json:"belay_share,omitempty" minimum:"0" maximum:"1" doc:"part of the load on the second strand where both carry"`
	BelaySlackM         *quantity.Metres         `json:"belay_slack_m,omitempty" minimum:"0" maximum:"20" doc:"slack in the second strand where one carries"`
	EdgePart            *EdgePart                `json:"edge_part,omitempty" doc:"part of a pull that gets over an edge, by its protection"`
	HaulerKN            quantity.Kilonewtons     `json:"hauler_kN,omitempty" exclusiveMinimum:"0" maximum:"2" doc:"what one pulls steadily"`
	HaulerPeakKN        quantity.Kilonewtons     `json:"hauler_peak_kN,omitempty" exclusiveMinimum:"0" maximum:"3" doc:"what one pulls at most"`
	StrokeM             quantity.Metres          `json:"stroke_m,omitempty" exclusiveMinimum:"0" maximum:"20" doc:"how far the grab of a haul runs before it is set back"`
	ResetLossM          *quantity.Metres         `json:"reset_loss_m,omitempty" minimum:"0" maximum:"2" doc:"what the load sinks back at each reset"`
	GrabSettleM         quantity.Metres          `json:"grab_settle_m,omitempty" exclusiveMinimum:"0" maximum:"1" doc:"what a snug grab with its hitch settles until it holds"`
	HandWidthM          quantity.Metres          `json:"hand_width_m,omitempty" exclusiveMinimum:"0" maximum:"0.5" doc:"what a knot is kept short of its brake"`
	KnotGapM            quantity.Metres          `json:"knot_gap_m,omitempty" exclusiveMinimum:"0" maximum:"0.5" doc:"what is left between a knot and its brake after the settle onto grab and hitch"`
	TeamTimes           []TeamTime               `json:"team_times,omitempty" maxItems:"40"`
	HangLimitMin        float64                  `json:"hang_limit_min,omitempty" exclusiveMinimum:"0" maximum:"240" doc:"how long a casualty may hang still, until the landing"`
	AlarmS              *float64                 `json:"alarm_s,omitempty" minimum:"0" maximum:"7200" doc:"until a casualty is seen and the team knows"`
	WalkS               *float64                 `json:"walk_s,omitempty" minimum:"0" maximum:"7200" doc:"until a rescuer is at the strands, kit on"`
	PracticeMonths      int                      `json:"practice_months,omitempty" minimum:"1" maximum:"60" doc:"after how long rescues and captures must be practised again"`
	PracticeOtherMonths int                      `json:"practice_other_months,omitempty" minimum:"1" maximum:"60" doc:"after how long other skills must be practised again"`
	RescueTimes         []RescueTime             `json:"rescue_times,omitempty" maxItems:"40"`
	Unsure              *Unsure                  `json:"unsure,omitempty"`
	Friction            *RopeFriction            `json:"friction,omitempty"`
	Knots               *knot.Table              `json:"knots,omitempty"`
	KnotStrength        *KnotStrength            `json:"knot_strength,omitempty"`
	RoleStandards       []RoleStandard           `json:"role_standards,omitempty"`
	Raises              []Raise                  `json:"raises,omitempty"`
	CheckedAlone        bool                     `json:"checked_alone,omitempty" doc:"a plan may be marked as checked by who changed it last; its record and sheet say so"`
	Day                 *Day                     `json:"day,omitempty" doc:"what a day's board is judged by"`
	MoveTimes           []MoveTime               `json:"move_times,omitempty" maxItems:"40"`
	MoveWeights         *MoveWeights             `json:"move_weights,omitempty"`
	Schools             school.Schools           `json:"schools,omitzero" doc:"where practitioners differ over moves; an answer left out is the shipped one"`
}

// Day is what a team decides about its days.
type Day struct {
	GustMS       quantity.MetresPerSecond `json:"gust_m_s" exclusiveMinimum:"0" maximum:"60" doc:"gusts at the height of the work, above which nobody works"`
	ChangeMin    int                      `json:"change_min" minimum:"0" maximum:"600" doc:"minutes between two drops of one person or item: the way, and a new function check"`
	ShiftH       quantity.Hours           `json:"shift_h" exclusiveMinimum:"0" maximum:"24" doc:"longest shift, breaks included"`
	RestH        quantity.Hours           `json:"rest_h" minimum:"0" maximum:"24" doc:"rest between two shifts"`
	ShockKN      quantity.Kilonewtons     `json:"shock_kN" exclusiveMinimum:"0" maximum:"100" doc:"measured on a run, above which what is in the load path goes into quarantine"`
	RescueFactor quantity.Ratio           `json:"rescue_factor" minimum:"1" maximum:"10" doc:"by which the planned minutes of a rescue are multiplied on a run: they err low"`
	Papers       []string                 `json:"papers,omitempty" maxItems:"4" enum:"qualification,medical,first-aid,induction" doc:"kinds that everybody on a drop holds"`
	Supervisor   string                   `json:"supervisor,omitempty" maxLength:"80" doc:"name of the qualification that a supervisor holds; left out: any"`
	CheckH       quantity.Hours           `json:"check_h,omitempty" exclusiveMinimum:"0" maximum:"24" doc:"how long function and partner checks count within a shift; left out: 14"`
	AwakeH       quantity.Hours           `json:"awake_h,omitempty" exclusiveMinimum:"0" maximum:"48" doc:"hours awake, above which somebody who is called out is relieved; left out: 16"`
}

// MoveTime is how long one action of a move takes, where it is not the shipped time.
type MoveTime struct {
	Do manoeuvre.PersonDo `json:"do"`
	S  float64            `json:"s" minimum:"0" maximum:"7200" doc:"of a way along the rope more is counted by the metre"`
}

// MoveWeights are what counts beside time when plans of moves are compared, in
// seconds; left out: as shipped.
type MoveWeights struct {
	HandledS float64        `json:"handled_s" minimum:"0" maximum:"600" doc:"putting something on or taking it off"`
	Effort   quantity.Ratio `json:"effort" minimum:"1" maximum:"20" doc:"time spent standing in a foot loop is multiplied with it"`
	FallS    float64        `json:"fall_s_per_m" minimum:"0" maximum:"600" doc:"at each step, for a metre that would be fallen if what bears went"`
	LookS    float64        `json:"look_s" minimum:"0" maximum:"600" doc:"what is only just allowed"`
}

// EdgePart is the part of a pull that gets over an edge, by what protects it: while
// hauling the rope behind the edge pulls more than the load by it, while lowering less.
type EdgePart struct {
	Roller quantity.Ratio `json:"roller" exclusiveMinimum:"0" maximum:"1"`
	Pad    quantity.Ratio `json:"pad" exclusiveMinimum:"0" maximum:"1"`
	Sleeve quantity.Ratio `json:"sleeve" exclusiveMinimum:"0" maximum:"1"`
	None   quantity.Ratio `json:"none" exclusiveMinimum:"0" maximum:"1"`
}

// Of is the part at an edge with this protection.
func (e *EdgePart) Of(protection string) quantity.Ratio {
	switch protection {
	case "roller":
		return e.Roller
	case "pad":
		return e.Pad
	case "sleeve":
		return e.Sleeve
	}
	return e.None
}

// TeamTime is how long one action of a team takes, where it is not the shipped time.
type TeamTime struct {
	Do manoeuvre.TeamDo `json:"do"`
	S  float64          `json:"s" minimum:"0" maximum:"7200" doc:"of a way along the rope more is counted by the metre, of a haul more for each pulley"`
}

// RescueTime is how long one action of a rescue takes, where it is not the shipped time.
type RescueTime struct {
	Do manoeuvre.RescueDo `json:"do"`
	S  float64            `json:"s" minimum:"0" maximum:"7200" doc:"of a way along the rope more is counted by the metre"`
}

// Unsure is how far from the truth what is stated about a fall may be, for bands.
type Unsure struct {
	MassKg         quantity.Kilograms `json:"mass_kg" exclusiveMinimum:"0" maximum:"100"`
	HeightM        quantity.Metres    `json:"height_m" exclusiveMinimum:"0" maximum:"5" doc:"of the device above the attachment"`
	ElongationPart quantity.Ratio     `json:"elongation_part" exclusiveMinimum:"0" maximum:"0.9" doc:"of the elongation of ropes, as a part of it"`
}

// RopeFriction is the friction of rope on metal by the state of the rope.
type RopeFriction struct {
	Dry    quantity.Ratio `json:"dry" minimum:"0" maximum:"1"`
	Wet    quantity.Ratio `json:"wet" minimum:"0" maximum:"1"`
	Muddy  quantity.Ratio `json:"muddy" minimum:"0" maximum:"1"`
	Icy    quantity.Ratio `json:"icy" minimum:"0" maximum:"1"`
	Stiff  quantity.Ratio `json:"stiff" minimum:"0" maximum:"1"`
	Glazed quantity.Ratio `json:"glazed" minimum:"0" maximum:"1"`
}

// Of is the friction of a rope in a state; not stated counts as dry.
func (f *RopeFriction) Of(c gear.Condition) quantity.Ratio {
	switch c {
	case gear.Wet:
		return f.Wet
	case gear.Muddy:
		return f.Muddy
	case gear.Icy:
		return f.Icy
	case gear.Stiff:
		return f.Stiff
	case gear.Glazed:
		return f.Glazed
	default:
		return f.Dry
	}
}

// KnotStrength is the part of a rope's strength left at a knot.
type KnotStrength struct {
	EndLoop quantity.Ratio `json:"end_loop" exclusiveMinimum:"0" maximum:"1"`
	MidLoop quantity.Ratio `json:"mid_loop" exclusiveMinimum:"0" maximum:"1"`
	Join    quantity.Ratio `json:"join" exclusiveMinimum:"0" maximum:"1"`
}

// RoleStandard names the standards of which one must be marked on a model that
// is used in a role.
type RoleStandard struct {
	Role  string   `json:"role" enum:"descend,ascend,backup,rope,connector,lanyard,absorber,harness"`
	AnyOf []string `json:"any_of" minItems:"1" maxLength:"40"`
}

// Raise makes the findings of a rule more severe.
type Raise struct {
	Rule string           `json:"rule" minLength:"1" maxLength:"40"`
	To   finding.Severity `json:"to" enum:"stop,look"`
}

// Default is the policy shipped with the program, to be checked against the
// manufacturer's instructions and local rules.
func Default() *Policy {
	air := quantity.Celsius(20)
	knots := knot.Shipped()
	damping, share, slack := quantity.Ratio(0.1), quantity.Ratio(0.5), quantity.Metres(0.3)
	alarm, walk := 60.0, 120.0
	loss := quantity.Metres(0.05)
	return &Policy{
		Name: "shipped default", Margins: "fixed-factors", TextileFactor: 10, MetalFactor: 5, ArrestCeilingKN: 6,
		ReserveM: 1, TeethLook: 0.8, DescentSpeedMS: 0.5, AirC: &air, ExaminationMonths: 6, ExaminationWarnDays: 14,
		FeetM: 1.3, MarginM: 1, ConnectorM: 0.11, FoulGapM: 0.05, StretchM: 1, WindSlackM: 0.5, GripKN: 0.1, GripMostKN: 0.25,
		DampingRatio: &damping, BelayShare: &share, BelaySlackM: &slack,
		EdgePart: &EdgePart{Roller: 0.9, Pad: 0.65, Sleeve: 0.65, None: 0.5}, HaulerKN: 0.2, HaulerPeakKN: 0.4, StrokeM: 2, ResetLossM: &loss,
		HangLimitMin: 15, AlarmS: &alarm, WalkS: &walk, PracticeMonths: 6, PracticeOtherMonths: 12,
		GrabSettleM: 0.05, HandWidthM: 0.1, KnotGapM: 0.03,
		Unsure:       &Unsure{MassKg: 5, HeightM: 0.1, ElongationPart: 0.2},
		Friction:     &RopeFriction{Dry: 0.25, Wet: 0.2, Muddy: 0.18, Icy: 0.1, Stiff: 0.25, Glazed: 0.18},
		Knots:        &knots,
		Day:          &Day{GustMS: 10, ChangeMin: 30, ShiftH: 12, RestH: 11, ShockKN: 4, RescueFactor: 1.5, CheckH: 14, AwakeH: 16, Papers: []string{"qualification", "medical"}},
		KnotStrength: &KnotStrength{EndLoop: 0.65, MidLoop: 0.6, Join: 0.5},
		RoleStandards: []RoleStandard{
			{Role: "descend", AnyOf: []string{"EN 12841-C", "EN 341"}},
			{Role: "ascend", AnyOf: []string{"EN 12841-B", "EN 567"}},
			{Role: "backup", AnyOf: []string{"EN 12841-A"}},
			{Role: "rope", AnyOf: []string{"EN 1891-A"}},
			{Role: "connector", AnyOf: []string{"EN 362"}},
			{Role: "lanyard", AnyOf: []string{"EN 354", "EN 795-B"}},
			{Role: "absorber", AnyOf: []string{"EN 355"}},
			{Role: "harness", AnyOf: []string{"EN 361", "EN 813"}},
		},
	}
}

// With gives the policy with every figure it leaves out taken from Default.
func (p *Policy) With() *Policy {
	q, d := *p, Default()
	fill(&q.Margins, d.Margins)
	fill(&q.TextileFactor, d.TextileFactor)
	fill(&q.MetalFactor, d.MetalFactor)
	fill(&q.ArrestCeilingKN, d.ArrestCeilingKN)
	fill(&q.ReserveM, d.ReserveM)
	fill(&q.TeethLook, d.TeethLook)
	fill(&q.DescentSpeedMS, d.DescentSpeedMS)
	fill(&q.AirC, d.AirC)
	fill(&q.ExaminationMonths, d.ExaminationMonths)
	fill(&q.ExaminationWarnDays, d.ExaminationWarnDays)
	fill(&q.FeetM, d.FeetM)
	fill(&q.MarginM, d.MarginM)
	fill(&q.ConnectorM, d.ConnectorM)
	fill(&q.FoulGapM, d.FoulGapM)
	fill(&q.StretchM, d.StretchM)
	fill(&q.WindSlackM, d.WindSlackM)
	fill(&q.GripKN, d.GripKN)
	fill(&q.GripMostKN, d.GripMostKN)
	fill(&q.DampingRatio, d.DampingRatio)
	fill(&q.BelayShare, d.BelayShare)
	fill(&q.BelaySlackM, d.BelaySlackM)
	fill(&q.EdgePart, d.EdgePart)
	fill(&q.HaulerKN, d.HaulerKN)
	fill(&q.HaulerPeakKN, d.HaulerPeakKN)
	fill(&q.StrokeM, d.StrokeM)
	fill(&q.ResetLossM, d.ResetLossM)
	fill(&q.GrabSettleM, d.GrabSettleM)
	fill(&q.HandWidthM, d.HandWidthM)
	fill(&q.KnotGapM, d.KnotGapM)
	fill(&q.HangLimitMin, d.HangLimitMin)
	fill(&q.AlarmS, d.AlarmS)
	fill(&q.WalkS, d.WalkS)
	fill(&q.PracticeMonths, d.PracticeMonths)
	fill(&q.PracticeOtherMonths, d.PracticeOtherMonths)
	fill(&q.Unsure, d.Unsure)
	fill(&q.Friction, d.Friction)
	fill(&q.Knots, d.Knots)
	fill(&q.Day, d.Day)
	day := *q.Day
	day.AwakeH, day.CheckH = cmp.Or(day.AwakeH, d.Day.AwakeH), cmp.Or(day.CheckH, d.Day.CheckH)
	q.Day = &day
	fill(&q.KnotStrength, d.KnotStrength)
	if q.RoleStandards == nil {
		q.RoleStandards = d.RoleStandards
	}
	return &q
}

func fill[T comparable](v *T, otherwise T) {
	var zero T
	if *v == zero {
		*v = otherwise
	}
}

// Factor is the strength a component must have as a multiple of its load.
func (p *Policy) Factor(textile bool) quantity.Ratio {
	if textile {
		return p.TextileFactor
	}
	return p.MetalFactor
}

// Standards gives the standards of which one must be marked for a role.
func (p *Policy) Standards(role string) []string {
	i := slices.IndexFunc(p.RoleStandards, func(r RoleStandard) bool { return r.Role == role })
	if i < 0 {
		return nil
	}
	return p.RoleStandards[i].AnyOf
}

// Severity gives the severity of a rule's finding under this policy: as the
// rule says, or worse.
func (p *Policy) Severity(rule string, s finding.Severity) finding.Severity {
	for _, r := range p.Raises {
		if r.Rule == rule && r.To.Worse(s) {
			s = r.To
		}
	}
	return s
}

// Read reads a team's policy as strictly as the one in a drop is read.
func Read(data []byte) (*Policy, error) {
	p := new(Policy)
	if err := strict.Read(data, p); err != nil {
		return nil, err
	}
	var faults strict.Faults
	p.Validate("", &faults)
	return p, faults.Err()
}

// Validate reports raises of rules that do not exist.
func (p *Policy) Validate(at string, faults *strict.Faults) {
	for i, r := range p.Raises {
		if !finding.Rule(r.Rule) {
			faults.Addf(fmt.Sprintf("%s/raises/%d/rule", at, i), "no rule %q", r.Rule)
		}
	}
}

// Practice is after how many months a skill must be practised again.
func (p *Policy) Practice(s *manoeuvre.Skill) int {
	if s.Rescue {
		return p.PracticeMonths
	}
	return p.PracticeOtherMonths
}

// PractisedUntil is the last day on which a skill that was practised on a day is not stale; empty
// where it never was.
func (p *Policy) PractisedUntil(s *manoeuvre.Skill, on gear.Date) gear.Date {
	if on == "" {
		return ""
	}
	return on.AddMonths(p.Practice(s))
}
