// Package rig describes what hangs at a drop: anchors, strands with their marks,
// people with their holds. Everything names everything else by id, as the drop
// document does; Resolve ties the names to the things.
//
// It knows what is there. It knows no rule: those are in fit, stance and moves.
package rig

import (
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
)

// Geometry is the lie of the drop. Heights are above the lowest landing.
type Geometry struct {
	TopM        quantity.Metres `json:"top_m" exclusiveMinimum:"0" maximum:"2000" doc:"height of the place people leave from"`
	TopName     string          `json:"top_name" minLength:"1" maxLength:"60"`
	LandingName string          `json:"landing_name" minLength:"1" maxLength:"60" doc:"the lowest landing, height 0"`
	OffsetM     quantity.Metres `json:"offset_m" minimum:"0" maximum:"500" doc:"how far out from plumb the lowest landing is"`
	Ledges      []Ledge         `json:"ledges,omitempty" maxItems:"50"`
	Edges       []Edge          `json:"edges,omitempty" maxItems:"50"`
}

// Ledge is something people could fall onto, or stand on, above the landing.
type Ledge struct {
	ID      string          `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Name    string          `json:"name" minLength:"1" maxLength:"60"`
	HeightM quantity.Metres `json:"height_m" exclusiveMinimum:"0" maximum:"2000"`
	Kind    string          `json:"kind,omitempty" enum:"ledge,structure" doc:"structure: a beam, platform or basket to stand on; left out: ledge"`
}

// Edge is an edge the strands run over.
type Edge struct {
	ID         string          `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Name       string          `json:"name" minLength:"1" maxLength:"60"`
	HeightM    quantity.Metres `json:"height_m" minimum:"0" maximum:"2000"`
	Protection string          `json:"protection" enum:"roller,pad,sleeve,none"`
	RopeM      quantity.Metres `json:"rope_m,omitempty" minimum:"0" maximum:"50" doc:"rope it takes up on each strand"`
	Sharp      bool            `json:"sharp,omitempty" doc:"it cuts a rope that is loaded over it"`
}

// Anchor is a place ropes hang from, made of one leg or several.
type Anchor struct {
	ID      string          `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Name    string          `json:"name" minLength:"1" maxLength:"60"`
	XM      quantity.Metres `json:"x_m" minimum:"-500" maximum:"500" doc:"sideways from the middle of the drop, right is positive seen from the front"`
	HeightM quantity.Metres `json:"height_m" minimum:"0" maximum:"2000" doc:"of the master point"`
	Legs    []Leg           `json:"legs" minItems:"1" maxItems:"8"`
	Sling   bool            `json:"sling,omitempty" doc:"a sling hangs here to clip into, for travel along the structure"`
	// Proposed: the program put it there, and nobody has seen it yet.
	Proposed bool `json:"proposed,omitempty" doc:"nobody has confirmed at the anchor that it is there, and independent of the others"`
	// Register is what the pre-plan that names this drop has of the anchor.
	Register *Registered `json:"register,omitempty" doc:"what the register of the drop's pre-plan has of it; a team's store says it"`
}

// Leg is one leg of an anchor: its anchor point as seen from the master point.
type Leg struct {
	ID string          `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"the same id in two anchors is the same point of the structure"`
	XM quantity.Metres `json:"x_m" minimum:"-100" maximum:"100"`
	YM quantity.Metres `json:"y_m" minimum:"-100" maximum:"100" doc:"up is positive"`
	ZM quantity.Metres `json:"z_m,omitempty" minimum:"-100" maximum:"100" doc:"out from the structure is positive"`
	// ElongationPct is that of the leg's material; without it the peak when a leg
	// goes is not computed.
	ElongationPct quantity.Percent     `json:"elongation_pct,omitempty" minimum:"0" maximum:"60" doc:"between 50 and 150 kg; left out: not known"`
	StrengthKN    quantity.Kilonewtons `json:"strength_kN,omitempty" minimum:"0" doc:"left out: not known"`
	WorkKN        quantity.Kilonewtons `json:"working_load_kN,omitempty" minimum:"0"`
}

// Role is what a strand is for.
type Role string

const (
	Main   Role = "main"
	Backup Role = "backup"
)

// Strand is one rope, or ropes joined end to end, hanging from one place.
type Strand struct {
	ID   string `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Name string `json:"name" minLength:"1" maxLength:"60"`
	Role Role   `json:"role" enum:"main,backup"`
	Set  int    `json:"set" minimum:"1" maximum:"20" doc:"main and backup of one set belong together"`
	// Anchors hold the strand at its top; any one of them is enough.
	Anchors []string `json:"anchors" minItems:"1" maxItems:"4" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	// Ropes are item ids, from the top down; between two stands a join mark.
	Ropes   []string        `json:"ropes" minItems:"1" maxItems:"6" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	EndStop EndStop         `json:"end_stop" enum:"knot,sewn,none"`
	ToM     quantity.Metres `json:"to_m,omitempty" minimum:"0" maximum:"2000" doc:"height of the lowest landing needed on this strand"`
	LoopsM  quantity.Metres `json:"loops_m,omitempty" minimum:"0" maximum:"200" doc:"rope in slack loops and tied-off tails at the top"`
	Marks   []Mark          `json:"marks,omitempty" maxItems:"100"`
}

// EndStop is what keeps a device from running off the end.
type EndStop string

const (
	EndKnot EndStop = "knot"
	EndSewn EndStop = "sewn"
	EndNone EndStop = "none"
)

// MarkKind is what a mark is.
type MarkKind string

const (
	KnotMark      MarkKind = "knot"
	JoinMark      MarkKind = "join"
	RebelayMark   MarkKind = "re-belay"
	DeviationMark MarkKind = "deviation"
	DamageMark    MarkKind = "damage"
)

// Mark is something on a strand that a device cannot simply slide over.
type Mark struct {
	ID      string          `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Kind    MarkKind        `json:"kind" enum:"knot,join,re-belay,deviation,damage"`
	Name    string          `json:"name,omitempty" maxLength:"60"`
	HeightM quantity.Metres `json:"height_m" minimum:"0" maximum:"2000"`
	Anchor  string          `json:"anchor,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"of a re-belay or deviation"`
	LoopM   quantity.Metres `json:"loop_m,omitempty" minimum:"0" maximum:"50" doc:"slack left in the loop of a re-belay"`
	Eye     bool            `json:"eye,omitempty" doc:"of a knot or join: it leaves a loop to clip into"`
	// Isolates names the damage mark that a knot takes out of the line.
	Isolates   string `json:"isolates,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	SheathOnly bool   `json:"sheath_only,omitempty" doc:"of damage: seen all round, the core untouched"`
}

// Person is somebody on the drop, with what they carry and how they hang.
type Person struct {
	ID     string             `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Name   string             `json:"name" minLength:"1" maxLength:"80"`
	MassKg quantity.Kilograms `json:"mass_kg" exclusiveMinimum:"0" maximum:"400" doc:"with clothing and equipment"`
	// AtM is the height of the harness attachment.
	AtM quantity.Metres `json:"at_m" minimum:"0" maximum:"2000"`
	// ReachUpM and ReachOutM are measured on the person, from the ventral point.
	ReachUpM  quantity.Metres      `json:"reach_up_m,omitempty" exclusiveMinimum:"0" maximum:"2" doc:"to the closed hand of an arm held up; left out: 1.0 m"`
	HandMM    quantity.Millimetres `json:"hand_mm,omitempty" exclusiveMinimum:"0" maximum:"200" doc:"width of the hand over the knuckles; left out: 85 mm"`
	ReachOutM quantity.Metres      `json:"reach_out_m,omitempty" exclusiveMinimum:"0" maximum:"2" doc:"to the closed hand of an arm held out sideways; left out: 0.7 m"`
	Grounded  bool                 `json:"grounded,omitempty" doc:"stands on the landing, a ledge or a structure, or at the top, away from any unprotected edge"`
	Holds     []Hold               `json:"holds,omitempty" maxItems:"20"`
	// Carries are items on the harness that are in no hold.
	Carries  []string      `json:"carries,omitempty" maxItems:"100" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Harness  string        `json:"harness,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"item id"`
	Familiar []Familiarity `json:"familiar,omitempty" maxItems:"200"`
	// Listed is what the team's people have of them where that differs.
	Listed *Measures `json:"listed,omitempty" doc:"what the team's people have of them where that differs; a team's store says it, and nothing that is given changes it"`
	// Practised is what they did last of each skill; where a team keeps records, theirs.
	Practised []Practised          `json:"practised,omitempty" maxItems:"200"`
	Moves     []manoeuvre.MoveName `json:"moves,omitempty" maxItems:"40" doc:"moves on this person's plan"`
}

// Measures are what is weighed and measured on somebody; 0 is not known, or no different.
type Measures struct {
	MassKg    quantity.Kilograms   `json:"mass_kg,omitempty" minimum:"0" maximum:"400"`
	ReachUpM  quantity.Metres      `json:"reach_up_m,omitempty" minimum:"0" maximum:"2"`
	ReachOutM quantity.Metres      `json:"reach_out_m,omitempty" minimum:"0" maximum:"2"`
	HandMM    quantity.Millimetres `json:"hand_mm,omitempty" minimum:"0" maximum:"200"`
}

// ListedOf are the measures of a member that are known and differ from somebody's on a drop;
// nil for none.
func ListedOf(m *Member, p *Person) *Measures {
	l := Measures{MassKg: other(m.MassKg, p.MassKg), ReachUpM: other(m.ReachUpM, p.ReachUpM), ReachOutM: other(m.ReachOutM, p.ReachOutM), HandMM: other(m.HandMM, p.HandMM)}
	if l == (Measures{}) {
		return nil
	}
	return &l
}

// other is a figure that differs from another one; 0 where it does not.
func other[T ~float64](is, than T) T {
	if is == than {
		return 0
	}
	return is
}

// Member is somebody of the team, before they are on a drop.
type Member struct {
	ID      string             `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Name    string             `json:"name" minLength:"1" maxLength:"80"`
	MassKg  quantity.Kilograms `json:"mass_kg" exclusiveMinimum:"0" maximum:"400" doc:"with clothing and equipment"`
	Harness string             `json:"harness,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"item id"`
	// What is measured on them goes with them onto a drop.
	ReachUpM  quantity.Metres      `json:"reach_up_m,omitempty" exclusiveMinimum:"0" maximum:"2" doc:"from the ventral point to the closed hand of an arm held up; left out: 1.0 m"`
	ReachOutM quantity.Metres      `json:"reach_out_m,omitempty" exclusiveMinimum:"0" maximum:"2" doc:"to the closed hand of an arm held out sideways; left out: 0.7 m"`
	HandMM    quantity.Millimetres `json:"hand_mm,omitempty" exclusiveMinimum:"0" maximum:"200" doc:"width of the hand over the knuckles; left out: 85 mm"`
	Papers    []Paper              `json:"papers,omitempty" maxItems:"30" doc:"what they hold: qualifications, medical fitness, first aid, induction"`
	Familiar  []Familiarity        `json:"familiar,omitempty" maxItems:"200"`
	Revision  int                  `json:"revision,omitempty" minimum:"1" doc:"one more at each change; given with a change, the one that was read"`
}

// Paper is something that a person holds and that somebody has seen.
type Paper struct {
	Kind   string    `json:"kind" enum:"qualification,medical,first-aid,induction,examiner"`
	Name   string    `json:"name" minLength:"1" maxLength:"80" doc:"such as the scheme with its level, or the site"`
	Until  gear.Date `json:"until,omitempty" format:"date" doc:"its last day; left out: not known, and a board says so"`
	SeenBy string    `json:"seen_by,omitempty" maxLength:"80" doc:"who has seen it"`
	// Classes are what an examiner may examine.
	Classes []gear.Class `json:"classes,omitempty" maxItems:"40" doc:"of an examiner: classes of gear that they may examine; left out: all"`
}

// Examines reports whether the paper lets its holder examine things of a class on a day.
func (p *Paper) Examines(c gear.Class, on gear.Date) bool {
	return p.Kind == "examiner" && (p.Until == "" || on <= p.Until) && (len(p.Classes) == 0 || slices.Contains(p.Classes, c))
}

// MayNotExamine says why somebody may not examine things of a class on a day; empty where
// they may. Until somebody of the team is an examiner, whoever keeps the store may.
func MayNotExamine(team []Member, person string, keeps bool, c gear.Class, on gear.Date) string {
	any := false
	for i := range team {
		for j := range team[i].Papers {
			p := &team[i].Papers[j]
			if p.Kind != "examiner" {
				continue
			}
			if any = true; team[i].ID == person && p.Examines(c, on) {
				return ""
			}
		}
	}
	switch {
	case any:
		return "is examined by somebody who holds an examiner's paper for a " + c.Words()
	case !keeps:
		return "is examined by a store keeper, until somebody of the team holds an examiner's paper"
	}
	return ""
}

// Unrevised is the member without their revision.
func (m Member) Unrevised() Member {
	m.Revision = 0
	return m
}

// Familiarity is a record that a person was shown a model.
type Familiarity struct {
	Model string    `json:"model" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	On    gear.Date `json:"on" format:"date"`
	By    string    `json:"by,omitempty" maxLength:"80"`
}

// Hold is one attachment between a person and a strand: a device, where it is,
// and the chain of links from it to a harness point.
type Hold struct {
	ID       string          `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Strand   string          `json:"strand" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Device   string          `json:"device" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"item id"`
	Mode     string          `json:"mode" maxLength:"40" doc:"one of the modes of its model"`
	Position string          `json:"position" maxLength:"40" doc:"one of the positions of its model"`
	Point    gear.Point      `json:"point" enum:"ventral,sternal,dorsal,lateral"`
	AboveM   quantity.Metres `json:"above_m" minimum:"-5" maximum:"5" doc:"height of the device above the harness point"`
	SlackM   quantity.Metres `json:"slack_m,omitempty" minimum:"0" maximum:"50" doc:"slack in the strand above the device"`
	Threaded Threaded        `json:"threaded" enum:"right,reversed,wrong-path"`
	Open     bool            `json:"open,omitempty" doc:"a side plate or catch is not shut"`
	// SecondKg is a second person this hold is to bear; 0: none.
	SecondKg      quantity.Kilograms `json:"second_kg,omitempty" minimum:"0" maximum:"400"`
	ExtraFriction bool               `json:"extra_friction,omitempty" doc:"the bend for a second person is in"`
	Leaves        *Leaves            `json:"leaves,omitempty" doc:"side the load strand was seen to leave"`
	Links         []Link             `json:"links" maxItems:"12" doc:"from the device to the harness point"`
	Role          HoldRole           `json:"role,omitempty" enum:"descend,ascend,backup,third" doc:"left out: from the class of the device"`
}

// HoldRole is what a hold is for.
type HoldRole string

const (
	ToDescend HoldRole = "descend"
	ToAscend  HoldRole = "ascend"
	ToBackUp  HoldRole = "backup"
	Third     HoldRole = "third"
	// ToLower is the role of a team's brake; no hold of a person has it.
	ToLower HoldRole = "lower"
)

// Threaded is how the rope lies in a device.
type Threaded string

const (
	ThreadedRight    Threaded = "right"
	ThreadedReversed Threaded = "reversed"
	ThreadedWrong    Threaded = "wrong-path"
)

// Leaves says which side a strand was seen to leave, and from where.
type Leaves struct {
	Side     gear.Side `json:"side" enum:"left,right"`
	SeenFrom string    `json:"seen_from" enum:"front,back"`
}

// Link is one thing in the chain between a device and a harness point.
type Link struct {
	Item string `json:"item" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Gate Gate   `json:"gate,omitempty" enum:"locked,shut,open" doc:"of a connector; left out: locked"`
	Lie  Lie    `json:"lie,omitempty" enum:"along,may-turn,across" doc:"how a connector is loaded; left out: along"`
}

// Gate is the state of a connector's gate.
type Gate string

const (
	GateLocked Gate = "locked"
	GateShut   Gate = "shut"
	GateOpen   Gate = "open"
)

// Lie is how a connector is loaded.
type Lie string

const (
	LieAlong   Lie = "along"
	LieMayTurn Lie = "may-turn"
	LieAcross  Lie = "across"
)

// FunctionCheck is a recorded function check of an item on a rope.
type FunctionCheck struct {
	Item   string    `json:"item" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Rope   string    `json:"rope" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"item id of the rope it was checked on"`
	On     gear.Date `json:"on" format:"date"`
	By     string    `json:"by" minLength:"1" maxLength:"200" doc:"who did it, and how it came into the record"`
	Passed bool      `json:"passed"`
	Mode   string    `json:"mode,omitempty" maxLength:"40" doc:"the mode it was checked in; left out: any"`
	// Proofs are the single steps, in the order in which they were done.
	Proofs []ProofResult `json:"proofs,omitempty" maxItems:"40"`
	// Over says why it counts no more.
	Over  string `json:"over,omitempty" maxLength:"160" doc:"why it counts no more: the shift that it was made in is over, or the thing was on another drop or in quarantine since"`
	Until string `json:"until,omitempty" format:"date-time" doc:"how long it counts, by the shift that it was made in; left out: that is not said"`
}

// ProofResult is what one proof showed.
type ProofResult struct {
	Proof string `json:"proof" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Did   bool   `json:"did" doc:"it did what it must"`
	Note  string `json:"note,omitempty" maxLength:"200"`
}

// WornCheck is a recorded look at what somebody wears and carries that has no function check of
// its own: harness, lanyards, connectors.
type WornCheck struct {
	Person string     `json:"person" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Items  []WornItem `json:"items" minItems:"1" maxItems:"200"`
	On     gear.Date  `json:"on" format:"date"`
	By     string     `json:"by" minLength:"1" maxLength:"200" doc:"who did it, and how it came into the record"`
	Over   string     `json:"over,omitempty" maxLength:"160" doc:"why it counts no more: the shift that it was made in is over, or the thing was on another drop or in quarantine since"`
	Until  string     `json:"until,omitempty" format:"date-time" doc:"how long it counts, by the shift that it was made in; left out: that is not said"`
}

// WornItem is one thing that was looked at, and how it was found.
type WornItem struct {
	Item  string `json:"item" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Sound bool   `json:"sound" doc:"it is as it must be"`
	Note  string `json:"note,omitempty" maxLength:"200" doc:"what is wrong with it"`
}

// PartnerCheck is a recorded partner check of one person's rigging.
type PartnerCheck struct {
	Person  string    `json:"person" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Rigging string    `json:"rigging" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"the rigging that was checked; a changed one has another name"`
	On      gear.Date `json:"on" format:"date"`
	By      string    `json:"by" minLength:"1" maxLength:"200" doc:"the other person, and how it came into the record"`
	Failed  bool      `json:"failed,omitempty" doc:"something was not as said; over says what"`
	Over    string    `json:"over,omitempty" maxLength:"160" doc:"why it counts no more: the shift that it was made in is over, or the thing was on another drop or in quarantine since"`
	Until   string    `json:"until,omitempty" format:"date-time" doc:"how long it counts, by the shift that it was made in; left out: that is not said"`
}
