package gear

import (
	"slices"

	"zealousknot/internal/core/quantity"
)

// Device is what a device that works on a rope says of itself.
type Device struct {
	Modes []Mode `json:"modes" minItems:"1" maxItems:"8"`
	// Positions are the positions its handle, lever or cam can be left in.
	Positions        []Position               `json:"positions" minItems:"1" maxItems:"8"`
	ButtonToMove     bool                     `json:"button_to_move,omitempty" doc:"a button is pressed before it moves"`
	OpensOnConnector bool                     `json:"opens_on_connector,omitempty" doc:"rope goes in without taking it off its connector, so it cannot be dropped"`
	ConnectorsInHole int                      `json:"connectors_in_hole,omitempty" minimum:"0" maximum:"4" doc:"how many its hole takes; left out: not stated"`
	EasyPath         bool                     `json:"easy_path,omitempty" doc:"has a strand path with less friction for starting a long descent"`
	ControlEdge      bool                     `json:"control_edge,omitempty" doc:"has an edge over which the control strand is bent"`
	ThumbRelease     string                   `json:"thumb_release,omitempty" enum:"none,slack-only,slopes"`
	Teeth            []TeethLimit             `json:"teeth,omitempty"`
	SlipKN           quantity.Kilonewtons     `json:"slip_kN,omitempty" minimum:"0" doc:"force at which it slips; left out: not stated"`
	Sides            *Sides                   `json:"sides,omitempty" doc:"on which side the load strand leaves, where that depends on the role"`
	WrongLoading     string                   `json:"wrong_loading,omitempty" enum:"locks,slips,nothing" doc:"what it does when loaded the wrong way round"`
	WearLimits       []WearLimit              `json:"wear_limits,omitempty"`
	RopeEffects      []RopeEffect             `json:"rope_effects,omitempty" doc:"what the state of the rope changes"`
	LeverReachM      quantity.Metres          `json:"lever_reach_m,omitempty" minimum:"0" maximum:"1" doc:"how far its moving lever reaches along the rope; left out: none is entered"`
	OpensIfPushed    bool                     `json:"opens_if_pushed,omitempty" doc:"another device pressing on it can release it"`
	Heat             *DeviceHeat              `json:"heat,omitempty"`
	Friction         *Friction                `json:"friction,omitempty" doc:"of a device that brakes a running rope"`
	MaxSpeedMS       quantity.MetresPerSecond `json:"max_speed_m_s,omitempty" minimum:"0" maximum:"10" doc:"fastest descent; left out: none is entered"`
	// Looks is what its loading picture is drawn from; nil: the picture is that of its class.
	Looks *Looks `json:"looks,omitempty" doc:"how it is built, for its loading picture; left out: the picture of its class"`
}

// Looks is how a device is built, as far as a plain drawing of it shows.
type Looks struct {
	RopePath   RopePath `json:"rope_path" enum:"cam-and-post,sheave-and-brake,toothed-cam,pinching-cam,locking-wheel,drum,capture-sheave,coils" doc:"how the rope runs through it"`
	AnchorSign string   `json:"anchor_sign,omitempty" enum:"front,back,both" doc:"the face on which the way to the anchor is engraved; left out: not stated"`
	SecondPost bool     `json:"second_post,omitempty" doc:"it has a second post for more friction"`
}

// RopePath is the kind of way that a rope takes through a device.
type RopePath string

const (
	CamAndPost     RopePath = "cam-and-post"
	SheaveAndBrake RopePath = "sheave-and-brake"
	ToothedCam     RopePath = "toothed-cam"
	PinchingCam    RopePath = "pinching-cam"
	LockingWheel   RopePath = "locking-wheel"
	DrumPath       RopePath = "drum"
	CaptureSheave  RopePath = "capture-sheave"
	CoilsPath      RopePath = "coils"
)

// Mode is one use a device is rated for, with what it is rated for in it.
type Mode struct {
	Name    string             `json:"name" minLength:"1" maxLength:"40" doc:"such as one person, two persons"`
	Persons int                `json:"persons" minimum:"1" maximum:"3"`
	Ropes   []RopeRange        `json:"ropes" minItems:"1" maxItems:"8"`
	MinKg   quantity.Kilograms `json:"min_kg,omitempty" minimum:"0" doc:"lightest load; left out: none is entered"`
	MaxKg   quantity.Kilograms `json:"max_kg" exclusiveMinimum:"0"`
	// Needs is what it needs with a two-person load.
	Needs       Need            `json:"needs,omitempty" enum:"extra-friction,second-connector" doc:"left out: nothing"`
	MaxDescentM quantity.Metres `json:"max_descent_m,omitempty" minimum:"0" doc:"longest single descent; left out: none is entered"`
}

// Need is something extra that a mode needs.
type Need string

const (
	ExtraFriction   Need = "extra-friction"
	SecondConnector Need = "second-connector"
)

// RopeRange is a range of ropes that a mode accepts; both ends belong to it.
type RopeRange struct {
	Constructions []Construction       `json:"constructions" minItems:"1" enum:"low-stretch-a,low-stretch-b,static,dynamic,accessory-cord,tape"`
	MinMM         quantity.Millimetres `json:"min_mm" exclusiveMinimum:"0" maximum:"60"`
	MaxMM         quantity.Millimetres `json:"max_mm" exclusiveMinimum:"0" maximum:"60"`
}

// Accepts reports whether a construction is accepted at all.
func (m *Mode) Accepts(c Construction) bool {
	return slices.ContainsFunc(m.Ropes, func(r RopeRange) bool { return slices.Contains(r.Constructions, c) })
}

// Takes reports whether a mode takes a rope of a construction and diameter; both ends of a
// range belong to it.
func (m *Mode) Takes(c Construction, d quantity.Millimetres) bool {
	return slices.ContainsFunc(m.Ropes, func(r RopeRange) bool {
		return slices.Contains(r.Constructions, c) && d >= r.MinMM && d <= r.MaxMM
	})
}

// Ranges gives the ranges for a construction, or all of them where the
// construction is not accepted.
func (m *Mode) Ranges(c Construction) []RopeRange {
	var list []RopeRange
	for _, r := range m.Ropes {
		if slices.Contains(r.Constructions, c) {
			list = append(list, r)
		}
	}
	if list == nil {
		return m.Ropes
	}
	return list
}

// Mode gives a mode by its name, nil where there is none.
func (d *Device) Mode(name string) *Mode {
	for i := range d.Modes {
		if d.Modes[i].Name == name {
			return &d.Modes[i]
		}
	}
	return nil
}

// HandsOff is what a device does when everybody lets go.
type HandsOff string

const (
	Stops  HandsOff = "stops"
	Creeps HandsOff = "creeps"
	Runs   HandsOff = "runs"
)

// Position is one position of a device's handle, lever or lock.
type Position struct {
	Name     string   `json:"name" minLength:"1" maxLength:"40" doc:"such as stow, hold, work, park"`
	HandsOff HandsOff `json:"hands_off" enum:"stops,creeps,runs"`
	// Parked positions keep the device from moving until they are undone.
	Parked bool `json:"parked,omitempty"`
}

// Position gives a position by its name, nil where there is none.
func (d *Device) Position(name string) *Position {
	for i := range d.Positions {
		if d.Positions[i].Name == name {
			return &d.Positions[i]
		}
	}
	return nil
}

// TeethLimit is the force at which teeth begin to harm a sheath.
type TeethLimit struct {
	DiameterMM quantity.Millimetres `json:"diameter_mm" exclusiveMinimum:"0" maximum:"60"`
	HarmKN     quantity.Kilonewtons `json:"harm_kN" exclusiveMinimum:"0"`
}

// Harm gives the sheath-harm force for a rope: the figure for the thickest
// diameter listed that is not thicker than the rope, since thinner ropes are
// harmed sooner. Found is false where the rope is thinner than any listed.
func (d *Device) Harm(rope quantity.Millimetres) (limit TeethLimit, found bool) {
	for _, t := range d.Teeth {
		if t.DiameterMM <= rope && (!found || t.DiameterMM > limit.DiameterMM) {
			limit, found = t, true
		}
	}
	return limit, found
}

// Side is a side of a device, seen from its front.
type Side string

const (
	Left  Side = "left"
	Right Side = "right"
)

// Other is the other side.
func (s Side) Other() Side {
	if s == Left {
		return Right
	}
	return Left
}

// Sides says on which side, seen from the front, the strand to the load (when
// the device is fixed to the anchor) or to the anchor (when it rides on the
// person) leaves.
type Sides struct {
	Anchored Side `json:"anchored" enum:"left,right"`
	Riding   Side `json:"riding" enum:"left,right"`
}

// WearLimit is the limit of one wear part.
type WearLimit struct {
	Part    string               `json:"part" minLength:"1" maxLength:"80"`
	LimitMM quantity.Millimetres `json:"limit_mm" exclusiveMinimum:"0"`
	// Deepens is set where wear makes the reading larger, as a groove does.
	Deepens bool `json:"deepens,omitempty"`
}

// Condition is the state of a rope.
type Condition string

const (
	Dry    Condition = "dry"
	Wet    Condition = "wet"
	Muddy  Condition = "muddy"
	Icy    Condition = "icy"
	Stiff  Condition = "stiff"
	Glazed Condition = "glazed"
)

// RopeEffect is what a state of the rope changes in a device.
type RopeEffect struct {
	Condition Condition `json:"condition" enum:"wet,muddy,icy,stiff,glazed"`
	Change    string    `json:"change" enum:"less-friction,more-friction,may-not-lock,locks-late,locks-early,no-change"`
	// ParkNeedsPush is set where park then needs a further push to seat.
	ParkNeedsPush bool `json:"park_needs_push,omitempty"`
}

// Effect gives what a condition changes; found is false where the
// instructions, as typed in, say nothing of it.
func (d *Device) Effect(c Condition) (effect RopeEffect, found bool) {
	for _, e := range d.RopeEffects {
		if e.Condition == c {
			return e, true
		}
	}
	return RopeEffect{}, false
}

// DeviceHeat holds the thermal figures of a device that brakes a rope.
type DeviceHeat struct {
	SpecificHeat float64        `json:"specific_heat_J_kgK" exclusiveMinimum:"0" maximum:"5000"`
	CoolingWK    float64        `json:"cooling_W_K" minimum:"0" maximum:"100"`
	Share        quantity.Ratio `json:"heat_share" exclusiveMinimum:"0" maximum:"1" doc:"part of the energy that goes into the device"`
}

// Friction is how a device brakes a running rope.
type Friction struct {
	BaseRatio quantity.Ratio `json:"base_ratio" minimum:"1" maximum:"10000" doc:"load to hand, fully open, hand at its reference place"`
	// TakeInPart is for a brake that is hauled through as a pulley.
	TakeInPart quantity.Ratio   `json:"take_in_part,omitempty" exclusiveMinimum:"0" maximum:"1" doc:"part of a pull that gets round it while rope is taken in; left out: not stated"`
	BendDeg    quantity.Degrees `json:"bend_deg,omitempty" minimum:"0" maximum:"180" doc:"turn of the rope over its extra friction bend; left out: 180"`
}

// Bend is the turn of the rope over the extra friction bend.
func (f *Friction) Bend() quantity.Degrees {
	if f.BendDeg == 0 {
		return 180
	}
	return f.BendDeg
}
