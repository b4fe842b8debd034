// Package policy holds what a team may decide for itself: factors, ceilings,
// tables and schools. It may make a rule stricter, never weaker.
package policy

import (
	"fmt"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
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
	ReserveM            quantity.Metres          `json:"reserve_m,omitempty" exclusiveMinimum:"0" maximum:"20" doc:"spare rope at the landing below which an end stop is asked for"`
	TeethLook           quantity.Ratio           `json:"teeth_look,omitempty" exclusiveMinimum:"0" maximum:"1" doc:"part of the sheath-harm force from which a look is asked for"`
	DescentSpeedMS      quantity.MetresPerSecond `json:"descent_speed_m_s,omitempty" exclusiveMinimum:"0" maximum:"10"`
	AirC                *quantity.Celsius        `json:"air_C,omitempty" minimum:"-60" maximum:"60"`
	ExaminationMonths   int                      `json:"examination_months,omitempty" minimum:"1" maximum:"60"`
	ExaminationWarnDays quantity.Days            `json:"examination_warn_days,omitempty" exclusiveMinimum:"0" maximum:"365"`
	FeetM               quantity.Metres          `json:"feet_m,omitempty" exclusiveMinimum:"0" maximum:"3" doc:"from the attachment down to the feet"`
	MarginM             quantity.Metres          `json:"margin_m,omitempty" exclusiveMinimum:"0" maximum:"10" doc:"clearance kept below the feet"`
	ConnectorM          quantity.Metres          `json:"connector_m,omitempty" exclusiveMinimum:"0" maximum:"0.5" doc:"length of a connector whose model gives none"`
	FoulGapM            quantity.Metres          `json:"foul_gap_m,omitempty" exclusiveMinimum:"0" maximum:"1" doc:"gap kept between a lever's reach and another device"`
	Knots               *mechanics.KnotTable     `json:"knots,omitempty"`
	KnotStrength        *KnotStrength            `json:"knot_strength,omitempty"`
	RoleStandards       []RoleStandard           `json:"role_standards,omitempty"`
	Raises              []Raise                  `json:"raises,omitempty"`
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
	knots := mechanics.DefaultKnots
	return &Policy{
		Name: "shipped default", Margins: "fixed-factors", TextileFactor: 10, MetalFactor: 5, ArrestCeilingKN: 6,
		ReserveM: 1, TeethLook: 0.8, DescentSpeedMS: 0.5, AirC: &air, ExaminationMonths: 6, ExaminationWarnDays: 14,
		FeetM: 1.3, MarginM: 1, ConnectorM: 0.11, FoulGapM: 0.05, Knots: &knots,
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
	fill(&q.Knots, d.Knots)
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

// Validate reports raises of rules that do not exist.
func (p *Policy) Validate(at string, known func(rule string) bool, faults *strict.Faults) {
	for i, r := range p.Raises {
		if !known(r.Rule) {
			faults.Addf(fmt.Sprintf("%s/raises/%d/rule", at, i), "no rule %q", r.Rule)
		}
	}
}
