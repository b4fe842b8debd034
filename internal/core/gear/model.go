package gear

import (
	"slices"
	"strings"

	"zealousknot/internal/core/quantity"
)

// A Model is what the manufacturer's instructions for use say, as entered by
// the team. Only the blocks its class needs are present.
type Model struct {
	ID         string               `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"lower-case letters, digits and hyphens"`
	Class      Class                `json:"class"`
	Maker      string               `json:"maker" minLength:"1" maxLength:"80"`
	Name       string               `json:"name" minLength:"1" maxLength:"80"`
	Generation string               `json:"generation,omitempty" maxLength:"40" doc:"where generations of one model differ in handling"`
	Follows    string               `json:"follows,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"id of the model of which it is the next generation"`
	MassG      quantity.Grams       `json:"mass_g,omitempty" minimum:"0"`
	StrengthKN quantity.Kilonewtons `json:"strength_kN,omitempty" minimum:"0" doc:"breaking strength; 0 or left out: not entered"`
	// WorkingLoads are the working load limits, one for each mode that has its own.
	WorkingLoads      []WorkingLoad `json:"working_loads,omitempty" doc:"left out: the maker states none"`
	Standards         []string      `json:"standards,omitempty" maxLength:"40" doc:"standards and classes marked on it, by number"`
	Life              *Life         `json:"life,omitempty" doc:"left out: none is entered"`
	ExaminationMonths int           `json:"examination_months,omitempty" minimum:"0" maximum:"120" doc:"interval of the thorough examination; 0: the team's default"`
	// Examine are the leaflet's points of a thorough examination, Wear the parts that it limits.
	Examine  []string   `json:"examine,omitempty" maxItems:"30" minLength:"1" maxLength:"200" doc:"points of a thorough examination; left out: those of its class"`
	Wear     []WearPart `json:"wear,omitempty" maxItems:"12" doc:"parts that wear, with the limit of the leaflet"`
	Cautions []string   `json:"cautions,omitempty" maxLength:"400"`
	// Proofs are the function check's as its own instructions tell them: one with
	// the id of a part of its class takes that part's place, others come first.
	Proofs []Proof `json:"proofs,omitempty" maxItems:"30"`
	Source string  `json:"source" minLength:"1" maxLength:"200" doc:"where the figures were read, such as: instructions for use, issue 3"`
	// Revision is the store's, and decides nothing.
	Revision int `json:"revision,omitempty" minimum:"1" doc:"in the store: one more at each change; given with a change, the one that was read"`

	Rope       *RopeModel       `json:"rope,omitempty"`
	Device     *Device          `json:"device,omitempty"`
	Backup     *Backup          `json:"backup,omitempty"`
	Pulley     *PulleyModel     `json:"pulley,omitempty"`
	Winding    *Winding         `json:"winding,omitempty"`
	Connector  *ConnectorModel  `json:"connector,omitempty"`
	LengthM    quantity.Metres  `json:"length_m,omitempty" minimum:"0" maximum:"100" doc:"of a lanyard, sling, absorber or foot loop, end to end"`
	Absorber   *AbsorberModel   `json:"absorber,omitempty"`
	Harness    *HarnessModel    `json:"harness,omitempty"`
	Hitch      *HitchModel      `json:"hitch,omitempty"`
	Evacuation *EvacuationModel `json:"evacuation,omitempty"`
}

// WearPart is a part that wears, and how far it may.
type WearPart struct {
	Part    string               `json:"part" minLength:"1" maxLength:"40" doc:"such as groove or post"`
	LimitMM quantity.Millimetres `json:"limit_mm" exclusiveMinimum:"0" maximum:"500"`
	Grows   bool                 `json:"grows,omitempty" doc:"the reading grows with wear, as the depth of a groove; left out: it shrinks, as the width of a post"`
}

// Worn reports whether a reading of the part is at its limit, or past it.
func (w *WearPart) Worn(mm quantity.Millimetres) bool {
	if w.Grows {
		return mm >= w.LimitMM
	}
	return mm <= w.LimitMM
}

// WearParts are the parts that wear: those of the model, and those that its device lists and
// the model does not.
func (m *Model) WearParts() []WearPart {
	list := slices.Clone(m.Wear)
	if m.Device == nil {
		return list
	}
	for _, l := range m.Device.WearLimits {
		if !slices.ContainsFunc(list, func(w WearPart) bool { return w.Part == l.Part }) {
			list = append(list, WearPart{Part: l.Part, LimitMM: l.LimitMM, Grows: l.Deepens})
		}
	}
	return list
}

// Unrevised is the model without its revision.
func (m Model) Unrevised() Model {
	m.Revision = 0
	return m
}

// ModelsByID gives models by their ids; they are those of the list, not copies.
func ModelsByID(list []Model) map[string]*Model {
	models := make(map[string]*Model, len(list))
	for i := range list {
		models[list[i].ID] = &list[i]
	}
	return models
}

// Title is the model as people say it.
func (m *Model) Title() string {
	t := m.Maker + " " + m.Name
	if m.Generation != "" {
		t += " (" + m.Generation + ")"
	}
	return t
}

// A WorkingLoad is a working load limit, as a force or as a mass.
type WorkingLoad struct {
	Mode string               `json:"mode,omitempty" maxLength:"40" doc:"the mode it is for; left out: every mode"`
	KN   quantity.Kilonewtons `json:"limit_kN,omitempty" minimum:"0"`
	Mass quantity.Kilograms   `json:"limit_kg,omitempty" minimum:"0"`
}

// Limit is the working load limit as a force.
func (w WorkingLoad) Limit() quantity.Kilonewtons {
	if w.KN > 0 {
		return w.KN
	}
	return quantity.Weight(w.Mass)
}

// WorkingLoad gives the limit for a mode: its own, else the one for every
// mode. Found is false where none is entered.
func (m *Model) WorkingLoad(mode string) (limit quantity.Kilonewtons, found bool) {
	for _, w := range m.WorkingLoads {
		if w.Mode == mode {
			return w.Limit(), true
		}
		if w.Mode == "" {
			limit, found = w.Limit(), true
		}
	}
	return limit, found
}

// Life is how long a model may be used.
type Life struct {
	FromMadeYears     float64 `json:"from_made_years,omitempty" minimum:"0" maximum:"100"`
	FromFirstUseYears float64 `json:"from_first_use_years,omitempty" minimum:"0" maximum:"100"`
}

// Construction is how a rope is made.
type Construction string

const (
	LowStretchA Construction = "low-stretch-a"
	LowStretchB Construction = "low-stretch-b"
	Static      Construction = "static"
	Dynamic     Construction = "dynamic"
	Cord        Construction = "accessory-cord"
	Tape        Construction = "tape"
)

// RopeModel is what a data sheet says of a rope.
type RopeModel struct {
	Construction  Construction           `json:"construction" enum:"low-stretch-a,low-stretch-b,static,dynamic,accessory-cord,tape"`
	DiameterMM    quantity.Millimetres   `json:"diameter_mm" exclusiveMinimum:"0" maximum:"60" doc:"nominal"`
	MassGPerM     quantity.GramsPerMetre `json:"mass_g_per_m" exclusiveMinimum:"0" maximum:"1000"`
	ElongationPct quantity.Percent       `json:"elongation_pct" exclusiveMinimum:"0" maximum:"60" doc:"between 50 and 150 kg"`
	Sheath        string                 `json:"sheath,omitempty" maxLength:"80"`
	SheathLimitC  quantity.Celsius       `json:"sheath_limit_C,omitempty" minimum:"0" maximum:"500" doc:"highest temperature of the sheath"`
}

// Backup is what a backup device says of itself.
type Backup struct {
	Kind BackupKind `json:"kind" enum:"cam,wheel"`
	// Links are the lanyards and absorbers it may be used with.
	Links                []AllowedLink            `json:"links" minItems:"1"`
	LockSpeedMS          quantity.MetresPerSecond `json:"lock_speed_m_s,omitempty" minimum:"0" maximum:"20" doc:"of a wheel"`
	LockDistanceM        quantity.Metres          `json:"lock_distance_m" minimum:"0" maximum:"5"`
	DragN                float64                  `json:"drag_N,omitempty" minimum:"0" maximum:"500" doc:"force it takes to draw rope up through it; left out: none, which errs to more slack in wind"`
	Parks                bool                     `json:"parks,omitempty" doc:"has a parking lock against wind"`
	UnparkBeforeDescent  bool                     `json:"unpark_before_descent,omitempty"`
	TowedByCord          bool                     `json:"towed_by_cord,omitempty" doc:"the instructions allow towing it by its cord"`
	IntegralAbsorberKN   quantity.Kilonewtons     `json:"integral_absorber_kN,omitempty" minimum:"0" doc:"force of an absorber that is part of it"`
	IntegralAbsorberMaxM quantity.Metres          `json:"integral_absorber_max_m,omitempty" minimum:"0" maximum:"5"`
}

// BackupKind is one of the two kinds of backup device.
type BackupKind string

const (
	// Cam is pinched by the pull of its lanyard.
	Cam BackupKind = "cam"
	// Wheel rolls freely and locks when it turns too fast.
	Wheel BackupKind = "wheel"
)

// AllowedLink is a lanyard or absorber model on a backup device's list.
type AllowedLink struct {
	Model string          `json:"model" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	MaxM  quantity.Metres `json:"max_m" exclusiveMinimum:"0" maximum:"5" doc:"greatest length from the device to the harness point, connectors left out"`
}

// PulleyModel is what a pulley or capture pulley says of itself.
type PulleyModel struct {
	Efficiency        quantity.Ratio       `json:"efficiency" exclusiveMinimum:"0" maximum:"1" doc:"1 is ideal"`
	Sheaves           int                  `json:"sheaves" minimum:"1" maximum:"6"`
	SideKN            quantity.Kilonewtons `json:"side_kN" exclusiveMinimum:"0" doc:"working load limit of each side"`
	BecketKN          quantity.Kilonewtons `json:"becket_kN,omitempty" minimum:"0"`
	OpensOnConnector  bool                 `json:"opens_on_connector,omitempty"`
	CamHoldsOpen      bool                 `json:"cam_holds_open,omitempty" doc:"the capture can be held open"`
	ReleaseTravelM    quantity.Metres      `json:"release_travel_m,omitempty" minimum:"0" maximum:"1" doc:"take-in that frees the teeth"`
	LargestDiameterMM quantity.Millimetres `json:"largest_diameter_mm" exclusiveMinimum:"0" maximum:"60"`
}

// Winding is what a winding descender says of its wheel and lock. Two
// generations may differ in each of these.
type Winding struct {
	LiftPerTurnM   quantity.Metres `json:"lift_per_turn_m" exclusiveMinimum:"0" maximum:"5"`
	Lock           string          `json:"lock" enum:"ratchet,lever,pin" doc:"kind of lock"`
	LockSides      string          `json:"lock_sides" enum:"left,right,both" doc:"sides on which the lock works"`
	SetFor         string          `json:"set_for" enum:"load-left,load-right,chosen" doc:"which loaded side it is set for"`
	FreeAsUnpacked bool            `json:"free_as_unpacked,omitempty" doc:"runs free until it is set"`
	Guide          string          `json:"guide,omitempty" maxLength:"120" doc:"what the control strand runs round"`
	SlackAfterM    quantity.Metres `json:"slack_after_m" exclusiveMinimum:"0" maximum:"10" doc:"lift after which slack is drawn"`
}

// ConnectorModel is what a connector says of itself.
type ConnectorModel struct {
	OpenKN   quantity.Kilonewtons `json:"open_kN" exclusiveMinimum:"0" doc:"strength with the gate open"`
	AcrossKN quantity.Kilonewtons `json:"across_kN" exclusiveMinimum:"0" doc:"strength across the short axis"`
	Gate     string               `json:"gate" enum:"screw,two-action,three-action,plain,none"`
	Shape    string               `json:"shape" enum:"oval,offset,pear,symmetric,ring,link"`
	Place    string               `json:"place,omitempty" maxLength:"80" doc:"where it is meant to be used"`
}

// Locks reports whether somebody may be clipped in with it: its gate opens, and locks.
func (c *ConnectorModel) Locks() bool { return c.Gate != "plain" && c.Gate != "none" }

// AbsorberModel is what an energy absorber says of itself.
type AbsorberModel struct {
	ForceKN quantity.Kilonewtons `json:"force_kN" exclusiveMinimum:"0" maximum:"50" doc:"force at which it extends"`
	MaxM    quantity.Metres      `json:"max_m" exclusiveMinimum:"0" maximum:"5" doc:"greatest extension"`
	MinKg   quantity.Kilograms   `json:"min_kg,omitempty" minimum:"0" doc:"lightest load; left out: not limited"`
	MaxKg   quantity.Kilograms   `json:"max_kg" exclusiveMinimum:"0"`
}

// Point is an attachment point of a harness.
type Point string

const (
	Ventral Point = "ventral"
	Sternal Point = "sternal"
	Dorsal  Point = "dorsal"
	Lateral Point = "lateral"
)

// HarnessModel is what a harness says of itself.
type HarnessModel struct {
	Points []HarnessPoint `json:"points" minItems:"1" maxItems:"8"`
}

// HarnessPoint is one point of a harness.
type HarnessPoint struct {
	Point Point `json:"point" enum:"ventral,sternal,dorsal,lateral"`
	// FallArrest is set on the points marked "A".
	FallArrest bool `json:"fall_arrest,omitempty" doc:"marked A, for fall arrest"`
}

// Has reports whether the harness has the point, and whether it is marked "A".
func (h *HarnessModel) Has(p Point) (has, fallArrest bool) {
	for _, hp := range h.Points {
		if hp.Point == p {
			return true, hp.FallArrest
		}
	}
	return false, false
}

// Words lists the points of the harness.
func (h *HarnessModel) Words() string {
	list := make([]string, len(h.Points))
	for i, p := range h.Points {
		list[i] = string(p.Point)
	}
	return strings.Join(list, ", ")
}

// HitchModel is what a load-releasing hitch says of itself.
type HitchModel struct {
	ExtendsM quantity.Metres `json:"extends_m" exclusiveMinimum:"0" maximum:"20" doc:"how far it lets out under load"`
	// ElongationPct is that of its cord or tape.
	ElongationPct quantity.Percent `json:"elongation_pct,omitempty" minimum:"0" maximum:"60" doc:"between 50 and 150 kg; left out: not stated, the main's rope counts"`
	Sewn          bool             `json:"sewn,omitempty"`
}

// EvacuationModel is what a sealed evacuation kit says of itself.
type EvacuationModel struct {
	MinKg   quantity.Kilograms       `json:"min_kg" exclusiveMinimum:"0"`
	MaxKg   quantity.Kilograms       `json:"max_kg" exclusiveMinimum:"0"`
	MaxM    quantity.Metres          `json:"max_m" exclusiveMinimum:"0" doc:"greatest height it lowers"`
	SpeedMS quantity.MetresPerSecond `json:"speed_m_s" exclusiveMinimum:"0" doc:"speed its brake limits itself to"`
	OneShot bool                     `json:"one_shot,omitempty"`
}
