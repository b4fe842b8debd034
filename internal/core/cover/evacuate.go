package cover

import (
	"context"
	"fmt"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
)

// Evacuation is one person let down by a sealed kit: a last resort. Two are the same
// where they are equal.
type Evacuation struct {
	Cleared  bool // a medical go-ahead, other ways used up
	KitSeen  bool // the kit looked at, its wrapping kept off the floor
	WaySeen  bool // looked up and down the way
	Anchored bool
	Locked   bool // the anchor's gate
	Strapped bool // harness or bridle on the kit's strap
	Opened   bool // rail gates
	Lifted   bool // over, on the kit
	SlackIn  bool
	Again    bool // looked down again after the lift
	Lowering bool
	Held     bool // stopped on the way, tied off
	Told     bool // the landing reported clear
	Down     bool
	Freed    bool // ready for the next
}

// EvacuationAction is one action of it.
type EvacuationAction struct {
	Do string `json:"do" enum:"clear,look-kit,look-way,anchor,lock-gate,strap,open-rail,lift-over,slack-in,look-again,lower,hold,landing,go-on,land,free"`
}

// Evacuated is the scene of an evacuation.
type Evacuated struct {
	Kit     *gear.Model
	Label   string
	MassKg  quantity.Kilograms
	HeightM quantity.Metres
	Landing string
}

var evacuationSeconds = map[string]float64{
	"clear": 60, "look-kit": 20, "look-way": 15, "anchor": 40, "lock-gate": 4, "strap": 45, "open-rail": 10, "lift-over": 25, "slack-in": 10, "look-again": 8, "landing": 10, "hold": 8, "go-on": 5, "land": 15, "free": 30,
}

// EvacuationRules are those on an evacuation.
var EvacuationRules = []stance.Rule{
	{ID: "evacuate.last", Gives: finding.Stop, Fires: "a kit is used before a medical provider has let it and other ways are used up"},
	{ID: "evacuate.look", Gives: finding.Stop, Fires: "the kit, or the way up and down, is not looked at before somebody is on it; or not looked down again after the lift"},
	{ID: "evacuate.gate", Gives: finding.Stop, Fires: "somebody is lifted over and the gate of the anchor is not locked"},
	{ID: "evacuate.slack", Gives: finding.Stop, Fires: "somebody is let go into slack"},
	{ID: "evacuate.landing", Gives: finding.Stop, Fires: "somebody is let down onto a landing that is not reported clear"},
	{ID: "load.rated", Gives: finding.Stop, Fires: "the mass or the height is outside what the kit is rated for"},
	{ID: "points.two", Gives: finding.Look, Fires: "one person hangs on a single point of attachment: a last resort"},
}

// Apply does an action: what cannot be done is in the error, what it breaks in the
// violations.
func (ev *Evacuated) Apply(s Evacuation, a EvacuationAction) (Evacuation, []stance.Violation, error) {
	steps := map[string]struct {
		flag  *bool
		needs []*bool
		words string
	}{
		"clear":      {&s.Cleared, nil, ""},
		"look-kit":   {&s.KitSeen, nil, ""},
		"look-way":   {&s.WaySeen, nil, ""},
		"anchor":     {&s.Anchored, []*bool{&s.KitSeen}, "the kit is unpacked and looked at first"},
		"lock-gate":  {&s.Locked, []*bool{&s.Anchored}, "nothing is anchored"},
		"strap":      {&s.Strapped, []*bool{&s.Anchored}, "nothing is anchored"},
		"open-rail":  {&s.Opened, nil, ""},
		"lift-over":  {&s.Lifted, []*bool{&s.Strapped, &s.Opened}, "they are strapped on, and the rail's gates are open, first"},
		"slack-in":   {&s.SlackIn, []*bool{&s.Strapped}, "they are not on the strap"},
		"look-again": {&s.Again, []*bool{&s.Lifted}, "they are not lifted over yet"},
		"landing":    {&s.Told, []*bool{&s.WaySeen}, "look down the way first"},
		"free":       {&s.Freed, []*bool{&s.Down}, "they are not down"},
	}
	if st, known := steps[a.Do]; known {
		switch {
		case *st.flag:
			return s, nil, fmt.Errorf("that is done already")
		case !all(st.needs):
			return s, nil, fmt.Errorf("%s", st.words)
		}
		*st.flag = true
		if a.Do == "lift-over" {
			return s, ev.lifts(&s), nil
		}
		return s, nil, nil
	}
	return ev.lowers(s, a)
}

func all(list []*bool) bool {
	for _, b := range list {
		if !*b {
			return false
		}
	}
	return true
}

// lifts is what must be so before somebody hangs on a kit.
func (ev *Evacuated) lifts(s *Evacuation) (found []stance.Violation) {
	if !s.Cleared {
		found = append(found, stance.Broken("evacuate.last", "no medical go-ahead, or other ways are left")...)
	}
	if !s.KitSeen || !s.WaySeen {
		found = append(found, stance.Broken("evacuate.look", "kit and way are not looked at")...)
	}
	if !s.Locked {
		found = append(found, stance.Broken("evacuate.gate", "the anchor's gate is not locked")...)
	}
	k := ev.Kit.Evacuation
	if ev.MassKg < k.MinKg || ev.MassKg > k.MaxKg {
		found = append(found, stance.Broken("load.rated", "%v on %s, rated from %v to %v", ev.MassKg, ev.Label, k.MinKg, k.MaxKg)...)
	}
	if ev.HeightM > k.MaxM {
		found = append(found, stance.Broken("load.rated", "%v to lower, and %s reaches %v", ev.HeightM, ev.Label, k.MaxM)...)
	}
	return append(found, stance.Violation{Rule: "points.two", Why: "on a single point of attachment: a last resort", Severity: finding.Look})
}

func (ev *Evacuated) lowers(s Evacuation, a EvacuationAction) (Evacuation, []stance.Violation, error) {
	var found []stance.Violation
	switch {
	case !s.Lifted || s.Down:
		return s, nil, fmt.Errorf("nobody hangs on the kit")
	case a.Do == "lower" && !s.Lowering:
		s.Lowering = true
		if !s.Again {
			found = stance.Broken("evacuate.look", "not looked down again after the lift")
		}
		if !s.SlackIn {
			found = append(found, stance.Broken("evacuate.slack", "they are let go into slack")...)
		}
	case !s.Lowering:
		return s, nil, fmt.Errorf("they are not let go yet")
	case a.Do == "hold" && !s.Held:
		s.Held = true
	case a.Do == "go-on" && s.Held:
		s.Held = false
	case a.Do == "land" && !s.Held:
		s.Down = true
		if !s.Told {
			found = stance.Broken("evacuate.landing", "the landing is not reported clear")
		}
	default:
		return s, nil, fmt.Errorf("not now")
	}
	return s, found, nil
}

// evacuationSpace is what is searched in.
type evacuationSpace struct {
	search.Plain[Evacuation]
	ev *Evacuated
}

var evacuationActions = []EvacuationAction{
	{"clear"}, {"look-kit"}, {"look-way"}, {"anchor"}, {"lock-gate"}, {"strap"}, {"open-rail"}, {"slack-in"}, {"lift-over"}, {"look-again"}, {"landing"}, {"lower"}, {"land"}, {"free"},
}

// The methods that search.Space asks for.

func (sp evacuationSpace) Actions(*Evacuation) []EvacuationAction { return evacuationActions }

func (sp evacuationSpace) Do(s *Evacuation, a *EvacuationAction, next *Evacuation) (float64, bool) {
	to, found, err := sp.ev.Apply(*s, *a)
	*next = to
	return sp.ev.seconds(a), err == nil && !stance.Stops(found)
}

func (sp evacuationSpace) Judge(*Evacuation, *Evacuation, *EvacuationAction) (float64, bool) {
	return 0, true
}
func (sp evacuationSpace) LowerBound(*Evacuation) float64 { return 0 }
func (sp evacuationSpace) Reached(s *Evacuation) bool     { return s.Freed }

func (ev *Evacuated) seconds(a *EvacuationAction) float64 {
	if a.Do == "lower" {
		return float64(ev.HeightM) / float64(ev.Kit.Evacuation.SpeedMS)
	}
	return evacuationSeconds[a.Do]
}

// EvacuationStep is one action of an evacuation, done.
type EvacuationStep struct {
	Action  EvacuationAction   `json:"action"`
	Say     string             `json:"say"`
	Seconds float64            `json:"seconds_s"`
	Broken  []stance.Violation `json:"broken,omitempty"`
}

// Find plans an evacuation from the beginning; search.ErrNone where the kit does not do.
func (ev *Evacuated) Find(ctx context.Context) ([]EvacuationStep, error) {
	steps, _, err := search.Find[Evacuation, Evacuation, EvacuationAction](ctx, evacuationSpace{ev: ev}, Evacuation{}, 20_000)
	if err != nil {
		return nil, err
	}
	list := make([]EvacuationAction, len(steps))
	for i := range steps {
		list[i] = steps[i].Action
	}
	done, _ := ev.Walk(list)
	return done, nil
}

// Walk walks a list by the rules, done as far as it can be done.
func (ev *Evacuated) Walk(list []EvacuationAction) (done []EvacuationStep, found []stance.Breach) {
	at := Evacuation{}
	for i, a := range list {
		next, wrong, err := ev.Apply(at, a)
		if err != nil {
			return done, append(found, stance.Breach{Step: i + 1, Impossible: err.Error()})
		}
		if len(wrong) > 0 {
			found = append(found, stance.Breach{Step: i + 1, Broken: wrong})
		}
		done = append(done, EvacuationStep{a, ev.say(a.Do), ev.seconds(&a), wrong})
		at = next
	}
	return done, found
}

func (ev *Evacuated) say(do string) string {
	landing := ev.Landing
	if landing == "" {
		landing = "ground"
	}
	ready := "ready for the next as the model says."
	if ev.Kit.Evacuation.OneShot {
		ready = "it is for one descent: out of service."
	}
	return map[string]string{
		"clear":      "Medical go-ahead obtained; the other ways are used up.",
		"look-kit":   ev.Label + " looked at: seal, date, tape or rope; its wrapping kept off the floor.",
		"look-way":   "Look up and down the way.",
		"anchor":     "Anchor, best first by the team's list; a sling round it where the connector cannot go in.",
		"lock-gate":  "Gate of the anchor locked.",
		"strap":      "Harness, or the stretcher's bridle, onto the strap.",
		"open-rail":  "Gates in the rail open.",
		"lift-over":  "Lift over.",
		"slack-in":   "Slack drawn in.",
		"look-again": "Look down again.",
		"landing":    "Landing reported clear: " + landing + ".",
		"lower":      "Let go: the kit's brake limits the speed by itself. Landing no longer clear: keep tension, tie off, go on when it is.",
		"hold":       "Hold: keep tension, tie off.",
		"go-on":      "Untie, go on.",
		"land":       "Down, off the strap.",
		"free":       "Kit freed; " + ready,
	}[do]
}
