// Package record knows what is recorded so that it stands: function checks,
// partner checks, quarantines, returns, plan states, familiarisations, hours; how
// an entry is judged when it comes, and how records are sealed into a chain.
//
// It knows nothing of where records are kept.
package record

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"time"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// Kind is what a record is about.
type Kind string

const (
	FunctionCheck Kind = "function-check"
	PartnerCheck  Kind = "partner-check"
	// WornCheck is of what somebody wears and carries that has no function check.
	WornCheck       Kind = "worn-check"
	Quarantine      Kind = "quarantine"
	BackInService   Kind = "back-in-service"
	Retirement      Kind = "retirement"
	Familiarisation Kind = "familiarisation"
	Hours           Kind = "hours"
	Withdrawal      Kind = "withdrawal"
	KitIssue        Kind = "kit-issue"
	KitReturn       Kind = "kit-return"
	// KitSealed is a bag that was counted, checked and sealed, SealBroken that it was opened.
	KitSealed  Kind = "kit-sealed"
	SealBroken Kind = "seal-broken"
	// Examination is a thorough one, Inspection an interim one.
	Examination Kind = "examination"
	Inspection  Kind = "inspection"
	// RopeNote is of what is on a rope, RopeCutting of a rope that was cut.
	RopeNote    Kind = "rope-note"
	RopeCutting Kind = "rope-cut"
	// Use is how an item was used on some days.
	Use Kind = "use"
	// Incident is one, or a near miss; the plan, the kit and who was there are kept with it as
	// they were.
	Incident Kind = "incident"
	// RecallNotice is about things of a model, Acknowledgement by somebody who has read it.
	RecallNotice    Kind = "recall"
	Acknowledgement Kind = "acknowledgement"
	// Countersignature is a supervisor's, of hours that somebody else recorded.
	Countersignature Kind = "countersignature"
	// Practice is that somebody practised a skill.
	Practice Kind = "practice"
	// PlanState is written by the program alone, when somebody sets a plan's state
	// or a change takes it back.
	PlanState Kind = "plan-state"
	// RunClosed seals a run that was put away; written by the program alone.
	RunClosed Kind = "run"
	// What somebody changed, with what was there before; written by the program alone.
	GearChange   Kind = "gear-change"
	PersonChange Kind = "person-change"
	MemberChange Kind = "member-change"
	PolicyChange Kind = "policy-change"
)

// Written are the kinds that the program alone writes: nobody gives them to be recorded.
func Written() []Kind {
	return []Kind{PlanState, RunClosed, GearChange, PersonChange, MemberChange, PolicyChange}
}

// A Batch is what a device sends at once, in the order in which it was given.
type Batch struct {
	SentAt  string  `json:"sent_at" format:"date-time" doc:"by the clock of the device that sends"`
	Records []Entry `json:"records" minItems:"1" maxItems:"100"`
}

// An Entry is what somebody gives to be recorded. Beside what all have it holds
// the part of its kind.
type Entry struct {
	ID       string    `json:"id" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$" doc:"made by the device; an entry with the same id is kept once"`
	Kind     Kind      `json:"kind" enum:"function-check,partner-check,worn-check,quarantine,back-in-service,familiarisation,hours,withdrawal,kit-issue,kit-return,kit-sealed,seal-broken,countersignature,examination,inspection,recall,acknowledgement,rope-note,rope-cut,retirement,use,incident,practice"`
	GivenAt  string    `json:"given_at" format:"date-time" doc:"by the clock of the device it was given on"`
	Day      gear.Date `json:"day" format:"date" doc:"the day it counts for; of checks the drop's"`
	Drop     string    `json:"drop,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Item     string    `json:"item,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Person   string    `json:"person,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"whose rigging, familiarisation or hours"`
	Corrects string    `json:"corrects,omitempty" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$" doc:"id of the record in whose place this one stands"`
	Confirms string    `json:"confirms,omitempty" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$" doc:"of a countersignature: id of the hours, of an acknowledgement: of the recall"`
	Note     string    `json:"note,omitempty" maxLength:"380"`
	Photos   []string  `json:"photos,omitempty" maxItems:"4" pattern:"^[0-9a-f]{64}$" doc:"SHA-256 of pictures that were sent before"`

	// Paper is of a check that was done on paper and is typed afterwards.
	Paper *OnPaper `json:"paper,omitempty" doc:"of a check that was done on paper: it is typed afterwards, and counts as done by whom and when that says"`

	Check      *Proved      `json:"check,omitempty"`
	Partner    *Touched     `json:"partner,omitempty"`
	Worn       *Worn        `json:"worn,omitempty"`
	Quarantine *Quarantined `json:"quarantine,omitempty"`
	Familiar   *Familiar    `json:"familiar,omitempty"`
	Hours      *OnRope      `json:"hours,omitempty"`
	Kit        *KitMoved    `json:"kit,omitempty"`
	Examined   *Examined    `json:"examined,omitempty"`
	Recall     *Recalled    `json:"recall,omitempty"`
	Rope       *RopeNoted   `json:"rope,omitempty"`
	Cut        *RopeCut     `json:"cut,omitempty"`
	Destroyed  *Destroyed   `json:"destroyed,omitempty"`
	Use        *Used        `json:"use,omitempty"`
	Incident   *Happened    `json:"incident,omitempty"`
	Practice   *Exercised   `json:"practice,omitempty"`
}

// Exercised is a skill that was practised.
type Exercised struct {
	Skill string  `json:"skill" minLength:"1" maxLength:"40"`
	How   rig.How `json:"how" enum:"run,ground,screen" doc:"run: in earnest; ground: an exercise on ropes; screen: one on a screen, recorded with its mark"`
	// SHA256 is over exercise and answer, of a screen: the mark itself is kept apart.
	SHA256 string `json:"sha256,omitempty" pattern:"^([0-9a-f]{64})?$" doc:"of a screen: over the exercise and the answer"`
}

// OnPaper says who did a check on paper, and when; who signs has typed it.
type OnPaper struct {
	By string `json:"by" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"person of the team who did it"`
	At string `json:"at" format:"date-time" doc:"when it was done, as the paper says"`
}

// Together is the way of a check whose proofs were all shown on one screen.
const Together = "together"

// Proved is the function check of a device or rope.
type Proved struct {
	Rope   string            `json:"rope" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"item id of the rope it was checked on"`
	Mode   string            `json:"mode,omitempty" maxLength:"40"`
	Passed bool              `json:"passed"`
	Way    string            `json:"way,omitempty" enum:"together" doc:"together: every proof shown on one screen and signed at once, by somebody familiar with the model; left out: one by one"`
	Proofs []rig.ProofResult `json:"proofs,omitempty" maxItems:"40" doc:"in the order in which they were done"`
}

// Touched is the partner check of a person's rigging.
type Touched struct {
	Rigging string            `json:"rigging" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"names the rigging that was looked at"`
	Passed  bool              `json:"passed"`
	Proofs  []rig.ProofResult `json:"proofs,omitempty" maxItems:"40"`
}

// Worn is one signature for what somebody wears and carries that has no function check: each
// thing that was looked at, with what is not as it must be.
type Worn struct {
	Items []rig.WornItem `json:"items" minItems:"1" maxItems:"200" doc:"each thing that was looked at; one that is not sound goes into quarantine"`
}

// Quarantined says what stops an item.
type Quarantined struct {
	Event string `json:"event" enum:"shock-load,dropped,heat,chemical,edge,failed-check,recall"`
	// In is who was in the event: somebody else brings the item back.
	In string `json:"in,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"person who was in the event: somebody else brings the item back"`
	// Others are who was in it too.
	Others []string `json:"others_in,omitempty" maxItems:"100" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"who else was in the event"`
	// Kept is where it is tagged and kept apart.
	Kept string `json:"kept,omitempty" maxLength:"80" doc:"where it is tagged and kept apart"`
}

// Involved are all who were in the event.
func (q *Quarantined) Involved() []string {
	if q.In == "" {
		return q.Others
	}
	return append([]string{q.In}, q.Others...)
}

// Destroyed is how an item that is retired was made useless.
type Destroyed struct {
	How string `json:"how" minLength:"1" maxLength:"120" doc:"such as: cut into pieces of a metre"`
	By  string `json:"by" minLength:"1" maxLength:"80" doc:"who did it"`
}

// Familiar is that a person was shown a model.
type Familiar struct {
	Model string `json:"model" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	By    string `json:"by,omitempty" maxLength:"80" doc:"who showed it; left out: who signs"`
}

// OnRope is time on rope.
type OnRope struct {
	Hours quantity.Hours `json:"hours_h" exclusiveMinimum:"0" maximum:"24"`
	Work  string         `json:"work" minLength:"1" maxLength:"60" doc:"kind of work"`
	Site  string         `json:"site,omitempty" maxLength:"80" doc:"where it was"`
	// HeightM is the greatest height that was worked at.
	HeightM quantity.Metres `json:"height_m,omitempty" minimum:"0" maximum:"2000" doc:"greatest height that was worked at"`
}

// KitMoved is a kit that was handed out, taken back or sealed, with what was counted.
type KitMoved struct {
	Kit   string   `json:"kit" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	To    string   `json:"to,omitempty" maxLength:"80" doc:"who or what has it from now on: a person of the team, or a vehicle; of an issue"`
	Seal  string   `json:"seal,omitempty" maxLength:"40" doc:"number of the seal that it was closed with, or that was broken"`
	Items []string `json:"items,omitempty" maxItems:"500" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"that were there; of a return, what went out and is not among them is missing"`
}

// Sealed is a run as it was put away.
type Sealed struct {
	Run      string `json:"run"`
	Plan     string `json:"plan_sha256" doc:"of the document that was released"`
	SHA256   string `json:"sha256" doc:"over the run's events in order"`
	Events   int    `json:"events"`
	Exercise bool   `json:"exercise,omitempty"`
	// EnteredAfter: it was typed after it happened.
	EnteredAfter bool `json:"entered_after,omitempty" doc:"it was typed after it happened"`
}

// Content is what a record says: what was given, and what the program adds.
type Content struct {
	Entry
	// ClockOffS is set where the device's clock was off by a minute or more.
	ClockOffS int    `json:"clock_off_s,omitempty" doc:"how far the device's clock was behind the server's"`
	Conflict  string `json:"conflict,omitempty" doc:"what was otherwise in the store when it came"`
	// DoneBy is the name of who did it on paper.
	DoneBy string `json:"done_by,omitempty" doc:"name of who did it on paper; who signed it has typed it"`
	// OnDeviceOf is whose device it was signed on by PIN.
	OnDeviceOf string `json:"on_device_of,omitempty" doc:"it was signed by PIN on the device of this person"`
	// Missing are the items that did not come back with a kit.
	Missing []string `json:"missing,omitempty" doc:"items that went out with a kit, or were missing before, and were not counted back"`
	// Affected are the items that a recall is about, as the store was then.
	Affected []string `json:"affected,omitempty" doc:"items that a recall is about, as the store was then"`
	// Frozen is what an incident was about, as it was then.
	Frozen *Frozen    `json:"frozen,omitempty" hidden:"true"`
	Plan   *PlanGiven `json:"plan,omitempty"`
	Run    *Sealed    `json:"run,omitempty"`
	Change *Changed   `json:"change,omitempty"`
}

// Changed is what somebody changed at once.
type Changed struct {
	Count int          `json:"count" doc:"how many rows were changed"`
	Rows  []ChangedRow `json:"rows" doc:"in a list: those about the subject of the request, or the first twenty"`
}

// ChangedRow is one thing that was changed.
type ChangedRow struct {
	Kind     string `json:"kind" enum:"model,item,kit,person,member,policy,team"`
	ID       string `json:"id"`
	Revision int    `json:"revision" doc:"the one that it made"`
	// Before and After are its values; without Before it is new, without After it was removed.
	Before json.RawMessage `json:"before,omitempty"`
	After  json.RawMessage `json:"after,omitempty"`
}

// PlanGiven is a state that a plan was given.
type PlanGiven struct {
	State   State    `json:"state" enum:"draft,checked,released"`
	Version int      `json:"version" doc:"of the drop"`
	Because []string `json:"because,omitempty" doc:"what took it back"`
	Reasons []Reason `json:"reasons,omitempty"`
	// Alone: it was checked by who had changed it last, as the team's policy allows.
	Alone bool `json:"alone,omitempty" doc:"checked by who had changed it last, as the team's policy allows"`
	// Rules is the set of rules by which it was given.
	Rules int `json:"rules,omitempty" doc:"set of rules by which it was given; left out: the first"`
	// Document is the drop as it was checked or released.
	Document json.RawMessage `json:"document,omitempty" hidden:"true"`
}

// State is how far a plan is.
type State string

const (
	Draft    State = "draft"
	Checked  State = "checked"
	Released State = "released"
)

// Reason is why a plan is released with something to look at.
type Reason struct {
	Rule   string `json:"rule" minLength:"1" maxLength:"60"`
	What   string `json:"what" minLength:"1" maxLength:"1000" doc:"the finding's own words"`
	Reason string `json:"reason" minLength:"3" maxLength:"400"`
}

// FollowUps are the entries that the program adds after one that failed: its items go into
// quarantine in the same breath. Their ids come from the check's, so that they too are there
// once.
func (e *Entry) FollowUps() []*Entry {
	switch {
	case e.Examined != nil && e.Examined.Stops():
		return []*Entry{e.stopsItem()}
	case e.Kind == WornCheck && e.Worn != nil:
		return e.stopsWorn()
	case e.Kind == FunctionCheck && e.Check != nil && !e.Check.Passed:
		return []*Entry{e.stopsChecked()}
	}
	return nil
}

// stopsWorn stops each thing that was not as it must be.
func (e *Entry) stopsWorn() (list []*Entry) {
	id := e.ID
	for _, w := range e.Worn.Items {
		if !w.Sound {
			id = derived(id)
			list = append(list, &Entry{
				ID: id, Kind: Quarantine, GivenAt: e.GivenAt, Day: e.Day, Drop: e.Drop, Item: w.Item, Note: w.Note,
				Quarantine: &Quarantined{Event: "failed-check"},
			})
		}
	}
	return list
}

func (e *Entry) stopsChecked() *Entry {
	note := e.Note
	for _, p := range e.Check.Proofs {
		if !p.Did {
			note = fmt.Sprintf("the proof %q failed", procedure.Title(p.Proof))
			if p.Note != "" {
				note += ": " + p.Note
			}
		}
	}
	return &Entry{
		ID: derived(e.ID), Kind: Quarantine, GivenAt: e.GivenAt, Day: e.Day, Drop: e.Drop, Item: e.Item, Note: note,
		Quarantine: &Quarantined{Event: "failed-check"},
	}
}

// Another gives an entry that the program adds the next id, where its own was taken by
// somebody else's.
func (e *Entry) Another() { e.ID = derived(e.ID) }

// derived makes an id from another one (RFC 9562, version 8).
func derived(id string) string {
	sum := sha256.Sum256([]byte("follow-up of " + id))
	sum[6], sum[8] = sum[6]&0x0f|0x80, sum[8]&0x3f|0x80
	return FormatUUID(UUID(sum[:16]))
}

// by names who did what is recorded, and how that came into the record.
func (c *Content) by(signer string) string {
	switch {
	case c.DoneBy != "":
		return fmt.Sprintf("%s, on paper, typed by %s", c.DoneBy, signer)
	case c.OnDeviceOf != "":
		return fmt.Sprintf("%s, on the device of %s", signer, c.OnDeviceOf)
	}
	return signer
}

// DoneAt is when it was done: as the paper says, or when it was given, by the server's clock.
func (c *Content) DoneAt() time.Time {
	if c.Paper != nil {
		at, _ := time.Parse(time.RFC3339Nano, c.Paper.At)
		return at
	}
	return c.Given().Add(time.Duration(c.ClockOffS) * time.Second)
}

// WornCheckBy is the check as a drop document has it.
func (c *Content) WornCheckBy(name string) rig.WornCheck {
	return rig.WornCheck{Person: c.Person, Items: c.Worn.Items, On: c.Day, By: c.by(name)}
}

// FunctionCheckBy is the check as a drop document has it.
func (c *Content) FunctionCheckBy(name string) rig.FunctionCheck {
	name = c.by(name)
	return rig.FunctionCheck{Item: c.Item, Rope: c.Check.Rope, On: c.Day, By: name, Passed: c.Check.Passed, Mode: c.Check.Mode, Proofs: c.Check.Proofs}
}

// PartnerCheckBy is the check as a drop document has it.
func (c *Content) PartnerCheckBy(name string) rig.PartnerCheck {
	return rig.PartnerCheck{Person: c.Person, Rigging: c.Partner.Rigging, On: c.Day, By: c.by(name)}
}

// Given is when an entry was given by its device; zero where it does not say.
func (e *Entry) Given() time.Time {
	t, _ := time.Parse(time.RFC3339Nano, e.GivenAt)
	return t
}
