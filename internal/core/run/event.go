// Package run knows a run: what happened between the release of a plan and its putting away,
// as events that people and devices gave. Its state is a fold over them, so that replaying the
// same events gives it again, on the server, on a phone and in tests.
//
// It knows no store and no clock; what it has of a rig it is given when a run is made of a
// plan, and keeps. The screen never replaces a call: a state
// says what was given and how old it is, not what is so.
package run

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/strict"
)

// Format and Version mark a run's document.
const (
	Format  = "run"
	Version = 1
)

// A Document is a run as it is written: the people of its plan, the moves that are stepped
// through, and its events in any order.
type Document struct {
	Format  string `json:"format" enum:"run" doc:"always: run"`
	Version int    `json:"version" minimum:"1" maximum:"1"`
	// Drop is the id of the drop that was released, Plan the SHA-256 of its document.
	Drop     string `json:"drop" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Plan     string `json:"plan_sha256,omitempty" pattern:"^[0-9a-f]{64}$" doc:"of the released document"`
	Site     string `json:"site,omitempty" maxLength:"80"`
	Exercise bool   `json:"exercise,omitempty" doc:"nothing of it enters a counter or what is learnt"`
	// Entered is of a run that was typed afterwards.
	Entered *Entered `json:"entered_after,omitempty" doc:"it was typed after it happened: by whom, and when; left out: given while it was"`
	People  []Person `json:"people" maxItems:"30"`
	Moves   []Move   `json:"moves,omitempty" maxItems:"50" doc:"those whose steps are tapped: a team's, and rescues"`
	Events  []Event  `json:"events" maxItems:"20000"`
	// Cover is who is reached from where, as it was planned; HangLimitS how long somebody may
	// hang still by the policy.
	Cover      []Reach `json:"cover,omitempty" maxItems:"60000"`
	HangLimitS float64 `json:"hang_limit_s,omitempty" minimum:"0" maximum:"86400"`
	// Contacts are where its ropes lie on edges, Items everything that is on it.
	Contacts []Contact `json:"contacts,omitempty" maxItems:"200" doc:"where its ropes lie on edges"`
	Items    []string  `json:"items,omitempty" maxItems:"500" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"everything that is on it"`
	// Unplanned is what could not be planned when the run was made, with why.
	Unplanned []string `json:"unplanned,omitempty" maxItems:"10" maxLength:"400" doc:"what could not be planned when the run was made, with why"`
	// Bands are what is predicted for each channel at rest, Shock the force above which what it
	// is in goes into quarantine.
	Bands   []Band               `json:"bands,omitempty" maxItems:"60"`
	ShockKN quantity.Kilonewtons `json:"shock_kN,omitempty" minimum:"0" maximum:"100"`
	// GustLimitMS is the lowest limit of the drop, GustLimitOf whose it is.
	GustLimitMS quantity.MetresPerSecond `json:"gust_limit_m_s,omitempty" minimum:"0" maximum:"100"`
	GustLimitOf string                   `json:"gust_limit_of,omitempty" maxLength:"160"`
}

// Band is what is predicted for a channel of force at rest, and what is in its load path.
type Band struct {
	Channel string               `json:"channel" pattern:"^[a-z0-9][a-z0-9-]{0,63}\\.force$"`
	Name    string               `json:"name" minLength:"1" maxLength:"120"`
	Person  string               `json:"person,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"who hangs on it; a team's load: team-load"`
	LowKN   quantity.Kilonewtons `json:"low_kN" minimum:"0" maximum:"100" doc:"with 5 % it is less"`
	HighKN  quantity.Kilonewtons `json:"high_kN" minimum:"0" maximum:"100" doc:"with 5 % it is more"`
	// CeilingKN is the policy's.
	CeilingKN quantity.Kilonewtons `json:"ceiling_kN,omitempty" minimum:"0" maximum:"100"`
	Items     []string             `json:"items,omitempty" maxItems:"50" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
}

// A Person of the plan.
type Person struct {
	ID   string          `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Name string          `json:"name" minLength:"1" maxLength:"80"`
	AtM  quantity.Metres `json:"at_m" minimum:"0" maximum:"2000" doc:"height that is planned"`
	// CheckInS is how often somebody out of sight says that they are well; 0: in sight.
	CheckInS float64 `json:"check_in_s,omitempty" minimum:"0" maximum:"86400"`
	// Devices are the items of their holds, on which the metres count.
	Devices []string `json:"devices,omitempty" maxItems:"20" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
}

// A Move of the plan with its steps.
type Move struct {
	ID    string `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Name  string `json:"name" minLength:"1" maxLength:"80"`
	Of    string `json:"of" enum:"person,team,rescue"`
	Steps []Step `json:"steps" minItems:"1" maxItems:"500"`
}

// A Step of a move.
type Step struct {
	Do      string  `json:"do" minLength:"1" maxLength:"40"`
	Say     string  `json:"say" minLength:"1" maxLength:"400"`
	Call    string  `json:"call,omitempty" maxLength:"120"`
	Answer  string  `json:"answer,omitempty" maxLength:"120"`
	Seconds float64 `json:"seconds_s" minimum:"0" maximum:"86400" doc:"planned"`
}

// Kind is what an event says.
type Kind string

const (
	Start   Kind = "start"
	End     Kind = "end"
	PutAway Kind = "put-away"
	Close   Kind = "close"

	OnRope  Kind = "on-rope"
	AtPlace Kind = "at-place"
	Working Kind = "working"
	OffRope Kind = "off-rope"
	Height  Kind = "height"
	CheckIn Kind = "check-in"
	Briefed Kind = "briefed"
	// Brief is what people are briefed on; a new one asks everybody again.
	Brief Kind = "briefing"

	Begin  Kind = "begin"
	StepTo Kind = "step"
	Done   Kind = "done"

	Otherwise  Kind = "not-as-planned"
	Stop       Kind = "stop-work"
	Resume     Kind = "resume"
	Call       Kind = "call"
	Mark       Kind = "mark"
	Quarantine Kind = "quarantine"
	Happened   Kind = "incident"
)

// An Event is one thing that was given on a device.
type Event struct {
	ID      string `json:"id" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$" doc:"made by the device; an event with the same id counts once"`
	Kind    Kind   `json:"kind" enum:"start,end,put-away,close,on-rope,at-place,working,off-rope,height,check-in,briefed,briefing,begin,step,done,not-as-planned,stop-work,resume,call,mark,quarantine,incident"`
	GivenAt string `json:"given_at" format:"date-time" doc:"by the clock of the device"`
	// OffsetS is added to the device's clock; it is kept as it was at the first arrival.
	OffsetS float64 `json:"offset_s,omitempty" minimum:"-86400" maximum:"86400" doc:"from the device's clock to the server's, at the first arrival"`
	Device  string  `json:"device,omitempty" maxLength:"64"`
	By      string  `json:"by" minLength:"1" maxLength:"80"`

	Person string           `json:"person,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	AtM    *quantity.Metres `json:"at_m,omitempty" minimum:"0" maximum:"2000"`
	Move   string           `json:"move,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	// Step counts from 1.
	Step   int      `json:"step,omitempty" minimum:"0" maximum:"500"`
	Items  []string `json:"items,omitempty" maxItems:"50" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Reason string   `json:"reason,omitempty" maxLength:"400"`
	// Briefing is of a briefing.
	Briefing *Briefing `json:"briefing,omitempty"`
	// Away is of putting away: what was signed.
	Away *PuttingAway `json:"away,omitempty" doc:"of putting away: what was signed"`
	// Late is set by the server: it came after the run was closed, whenever it was given.
	Late bool `json:"late,omitempty" doc:"set by the server: it came after the run was closed, and is an addendum"`
}

// A Briefing is what each person signs before they clip in, beside the plan: its hazards and its
// rescue are the plan's.
type Briefing struct {
	Permit string `json:"permit,omitempty" maxLength:"80" doc:"number of the permit to work; left out: none is needed here"`
	// Until is when the permit ends.
	Until     string   `json:"permit_until,omitempty" format:"date-time" doc:"when the permit ends"`
	Exclusion string   `json:"exclusion,omitempty" maxLength:"200" doc:"the zone that is kept clear, and how"`
	Sentry    string   `json:"sentry,omitempty" maxLength:"80" doc:"who keeps it clear"`
	Channel   string   `json:"channel" minLength:"1" maxLength:"80" doc:"channel, with the radio check"`
	Lost      string   `json:"lost_contact" minLength:"1" maxLength:"200" doc:"signals when nobody is heard, and what is then done"`
	Points    []string `json:"points,omitempty" maxItems:"20" minLength:"1" maxLength:"200" doc:"of the day"`
	// CheckIns are of people who are out of sight.
	CheckIns []CheckEvery `json:"check_ins,omitempty" maxItems:"30"`
}

// CheckEvery is how often somebody out of sight says that they are well.
type CheckEvery struct {
	Person string  `json:"person" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	EveryS float64 `json:"every_s" minimum:"60" maximum:"86400"`
}

// needs are what events of a kind must say.
var needs = map[Kind]struct{ person, height, move, step, items, reason bool }{
	OnRope: {person: true}, AtPlace: {person: true}, Working: {person: true}, OffRope: {person: true},
	Height: {person: true, height: true}, CheckIn: {person: true}, Briefed: {person: true},
	Begin: {move: true}, StepTo: {move: true, step: true}, Done: {move: true},
	Otherwise: {reason: true}, Stop: {reason: true}, Call: {reason: true}, Quarantine: {items: true, reason: true}, Happened: {reason: true},
}

// Read reads a run's document strictly. Every problem is in the *strict.Error that it gives,
// with its place.
func Read(data []byte) (*Document, error) {
	d := new(Document)
	if err := strict.Read(data, d); err != nil {
		return nil, err
	}
	return d, d.Validate()
}

// Validate refuses what the types cannot: names that lead nowhere, and events that lack what
// their kind must say.
func (d *Document) Validate() error {
	var faults strict.Faults
	people, moves := map[string]bool{}, map[string]*Move{}
	for i := range d.People {
		if people[d.People[i].ID] {
			faults.Addf(strict.Pointer("people", i, "id"), "%q is there twice", d.People[i].ID)
		}
		people[d.People[i].ID] = true
	}
	for i := range d.Moves {
		if moves[d.Moves[i].ID] != nil {
			faults.Addf(strict.Pointer("moves", i, "id"), "%q is there twice", d.Moves[i].ID)
		}
		moves[d.Moves[i].ID] = &d.Moves[i]
	}
	for i := range d.Events {
		d.Events[i].check(i, people, moves, &faults)
	}
	return faults.Err()
}

// Judge refuses an event that is given now, as Validate does; at is its index in what was sent.
func (d *Document) Judge(e *Event, at int, faults *strict.Faults) {
	people, moves := map[string]bool{}, map[string]*Move{}
	for i := range d.People {
		people[d.People[i].ID] = true
	}
	for i := range d.Moves {
		moves[d.Moves[i].ID] = &d.Moves[i]
	}
	e.check(at, people, moves, faults)
	if e.Reason != "" && strings.TrimSpace(e.Reason) == "" {
		faults.Addf(strict.Pointer("events", at, "reason"), "says nothing: it is only spaces")
	}
}

// check refuses an event that lacks what its kind must say, or names what the plan has not.
func (e *Event) check(i int, people map[string]bool, moves map[string]*Move, faults *strict.Faults) {
	need := needs[e.Kind]
	for _, n := range []struct {
		field  string
		needed bool
		there  bool
	}{
		{"person", need.person, e.Person != ""}, {"at_m", need.height, e.AtM != nil}, {"move", need.move, e.Move != ""},
		{"step", need.step, e.Step > 0}, {"items", need.items, len(e.Items) > 0}, {"reason", need.reason, e.Reason != ""},
	} {
		if n.needed && !n.there {
			faults.Addf(strict.Pointer("events", i, n.field), "missing: %s says it", e.Kind)
		}
	}
	if (e.Kind == Brief) != (e.Briefing != nil) {
		faults.Addf(strict.Pointer("events", i, "briefing"), "belongs to a briefing, and to nothing else")
	}
	for n := range e.checkIns() {
		if c := &e.Briefing.CheckIns[n]; !people[c.Person] {
			faults.Addf(strict.Pointer("events", i, "briefing", "check_ins", n, "person"), "%q is nobody of this run", c.Person)
		}
	}
	if e.Away != nil && e.Kind != PutAway {
		faults.Addf(strict.Pointer("events", i, "away"), "belongs to putting away, and to nothing else")
	}
	if e.Person != "" && !people[e.Person] {
		faults.Addf(strict.Pointer("events", i, "person"), "%q is nobody of this run", e.Person)
	}
	switch m := moves[e.Move]; {
	case e.Move != "" && m == nil:
		faults.Addf(strict.Pointer("events", i, "move"), "%q is no move of this run", e.Move)
	case m != nil && e.Step > len(m.Steps):
		faults.Addf(strict.Pointer("events", i, "step"), "%s has %s", m.Name, quantity.Count(len(m.Steps)).Of("step"))
	}
}

// checkIns are those of a briefing; none of anything else.
func (e *Event) checkIns() []CheckEvery {
	if e.Briefing == nil {
		return nil
	}
	return e.Briefing.CheckIns
}

// At is when an event was given, by the server's clock as far as its offset says.
func (e *Event) At() time.Time {
	t, _ := time.Parse(time.RFC3339Nano, e.GivenAt)
	return t.Add(time.Duration(e.OffsetS * float64(time.Second)))
}

// InOrder are the events by the time given, then by id: the same whatever order they came in.
// An event that came twice is there once; where one id stands for two different events the one
// that is first in order counts, and the other is among twice.
func InOrder(events []Event) (list, twice []Event) {
	sorted := slices.Clone(events)
	slices.SortStableFunc(sorted, func(a, b Event) int {
		return cmp.Or(a.At().Compare(b.At()), cmp.Compare(a.ID, b.ID), cmp.Compare(string(content(&a)), string(content(&b))))
	})
	seen := map[string]string{}
	for _, e := range sorted {
		now := string(content(&e))
		was, there := seen[e.ID]
		switch {
		case !there:
			seen[e.ID] = now
			list = append(list, e)
		case was != now:
			twice = append(twice, e)
		}
	}
	return list, twice
}
