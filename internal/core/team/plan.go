package team

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// begins is how a move of the team begins.
type begins int8

const (
	bare begins = iota
	ready
	hanging
	hauling
	away
	spent
	captured
	locked
)

// A Move is a named manoeuvre of a team.
type Move struct {
	Name   string
	Does   string
	begins begins
}

// Catalogue are the moves of a team that are planned.
var Catalogue = []Move{
	{"prove-brake", "both brakes loaded, proved and parked", bare},
	{"lower", "over the edge and down, or further down", hanging},
	{"edge", "from the level over the edge", ready},
	{"lower-past-knot", "down past the next knot of either strand", hanging},
	{"share", "both strands carry", hanging},
	{"unshare", "the main carries again", hanging},
	{"lower-to-raise", "a haul is built and ready", hanging},
	{"raise", "up by a haul", hanging},
	{"reset", "the stroke is used up: the brake bears, the grab goes out", spent},
	{"change-ratio", "another ratio, at a reset", hauling},
	{"raise-to-lower", "the haul off, ready to lower", hauling},
	{"release-capture", "off a toothed capture that bears, onto a brake that lowers", captured},
	{"wind-up", "a short way up by the wheel of a winding descender", locked},
	{"wind-down", "the lock of a winding descender freed, ready to lower", locked},
	{"swap-operator", "another operator at the main", hanging},
	{"walk-away", "parked and knotted, the operators leave", hanging},
	{"come-back", "the operators are back, ready to lower", away},
}

// Find gives a move by its name; nil for none.
func Find(name string) *Move {
	if i := slices.IndexFunc(Catalogue, func(m Move) bool { return m.Name == name }); i >= 0 {
		return &Catalogue[i]
	}
	return nil
}

// Names lists the moves of a team.
func Names() string {
	var names []string
	for _, m := range Catalogue {
		names = append(names, m.Name)
	}
	return strings.Join(names, ", ")
}

// Ask says what is to be planned.
type Ask struct {
	Move string
	// FromM is where the load hangs, ToM where it is to come; left out: at the edge, and
	// as far as the move says.
	FromM, ToM *quantity.Metres
	// Ratio is of a haul; 0: 3.
	Ratio int
	// MaxStates bounds the states that are expanded; 0: MaxStates.
	MaxStates int
}

// Step is one action of the team with what it leads to.
type Step struct {
	Action  Action             `json:"action"`
	Call    string             `json:"call,omitempty" doc:"said before it"`
	Answer  string             `json:"answer,omitempty" doc:"what is waited for"`
	Who     string             `json:"who,omitempty" doc:"whose hands do it"`
	Say     string             `json:"say"`
	Seconds float64            `json:"seconds_s"`
	After   State              `json:"after"`
	FailOne []stance.Lost      `json:"fail_one" doc:"worst first"`
	Hands   []string           `json:"hands_off,omitempty" doc:"what moves if everybody lets go"`
	Broken  []stance.Violation `json:"broken,omitempty"`
}

// Plan is a move of the team that was found.
type Plan struct {
	Move     string          `json:"move"`
	Start    State           `json:"start"`
	ToM      quantity.Metres `json:"to_m"`
	Steps    []Step          `json:"steps"`
	Seconds  float64         `json:"seconds_s"`
	WorstM   quantity.Metres `json:"worst_drop_m" doc:"the longest drop of any one failure at any step"`
	Expanded int             `json:"expanded"`
}

// MaxStates bounds the states that are expanded for one move.
const MaxStates = 50_000

// For plans a move of the team. A *strict.Error names what cannot be asked; a *NoWay is
// returned where there is no way, search.ErrUndecided where the search was cut off; of
// the plan that goes with those, Expanded alone counts.
func (r *Rig) For(ctx context.Context, ask Ask) (*Plan, error) {
	p, err := r.plan(ctx, ask)
	if errors.Is(err, search.ErrNone) {
		err = r.missing(ctx, ask)
	}
	return p, err
}

// begin is where a move begins and the goals on its way.
func (r *Rig) begin(ask Ask) (m *Move, start State, goals []goal, err error) {
	if m = Find(ask.Move); m == nil {
		return nil, start, nil, strict.Faultf("/move", "no move of a team %q; known are %s", ask.Move, Names())
	}
	switch top := max(r.EdgeM, r.TopM); {
	case top == 0: // the rig of a trial has no heights
	case ask.FromM != nil && *ask.FromM > top:
		return nil, start, nil, strict.Faultf("/from_m", "%v is above the anchors and the edge, at %v", *ask.FromM, top)
	case ask.ToM != nil && *ask.ToM > top:
		return nil, start, nil, strict.Faultf("/to_m", "%v is above the anchors and the edge, at %v", *ask.ToM, top)
	}
	start = r.start(m, ask)
	for _, name := range lines {
		if h := start.half(name); int(h.Hand) > len(r.Operators) {
			return nil, start, nil, strict.Faultf("/drop/team/operators", "%s begins with a hand on both brake strands: name a second operator", m.Name)
		}
	}
	goals, err = r.goals(m, &start, ask)
	return m, start, goals, err
}

func (r *Rig) plan(ctx context.Context, ask Ask) (*Plan, error) {
	m, start, goals, err := r.begin(ask)
	if err != nil {
		return nil, err
	}
	p := &Plan{Move: m.Name, Start: start, ToM: goals[len(goals)-1].to.M(), Steps: []Step{}}
	var c search.Chain[State, State, Action]
	for _, g := range goals {
		c = append(c, &space{rig: r, goal: g})
	}
	steps, n, err := c.Through(ctx, start, cmp.Or(ask.MaxStates, MaxStates))
	if p.Expanded = n; err != nil {
		return &Plan{Expanded: n}, err
	}
	at := start
	for _, st := range steps {
		p.add(r, &at, st.Action)
	}
	return p, nil
}

// add tells one more step.
func (p *Plan) add(r *Rig, at *State, a Action) {
	next, found, _ := r.Apply(*at, a)
	st := Step{Action: a, Seconds: r.seconds(at, &next, &a), After: next, FailOne: r.FailOne(&next), Hands: r.HandsOff(&next), Broken: found}
	st.Call, st.Answer = r.Call(a.Do)
	st.Who, st.Say = r.say(at, &a)
	for _, l := range st.FailOne {
		p.WorstM = max(p.WorstM, l.FreeFallM)
	}
	p.Seconds += st.Seconds
	p.Steps = append(p.Steps, st)
	*at = next
}

// begun is the ratio of a haul that is built as a move begins.
const begun = 3

// start is the state that a move begins with.
func (r *Rig) start(m *Move, ask Ask) State {
	s := State{At: stance.ToCm(r.EdgeM)}
	for _, name := range []string{"main", "belay"} {
		w := r.line(name).Winding
		s.half(name).Wheel.Set = w != nil && w.SetFor != "chosen" && !w.FreeAsUnpacked
	}
	if m.begins == bare {
		return s
	}
	bends := r.Kit.Connectors
	if m.begins == hauling || m.begins == spent {
		bends -= pulleysFor[begun]
	}
	for _, name := range lines {
		h, l := s.half(name), r.line(name)
		*h = Half{Loaded: true, Proved: true, Parked: true, Wheel: Wheel{Set: l.Winding != nil}}
		// The bend is in as far as there are connectors for it.
		if r.Load.Persons > 1 && !l.TwoPersons && bends > 0 {
			h.Bend = true
			bends--
		}
	}
	if m.begins == ready {
		return s
	}
	s.Hangs = true
	if ask.FromM != nil {
		s.At = stance.ToCm(*ask.FromM)
	}
	for _, name := range []string{"main", "belay"} {
		h := s.half(name)
		for gap, ok := r.toKnot(name, h, s.At); ok && gap < 0; gap, ok = r.toKnot(name, h, s.At) {
			// It is through already.
			h.Passed++
		}
		if m.begins == away {
			h.Tied, h.Away = true, true
			continue
		}
		if m.begins != locked || name == "belay" {
			h.Parked, h.Hand = false, map[string]int8{"main": 1, "belay": 2}[name]
		}
	}
	switch m.begins {
	case hauling:
		s.Main.Haul, s.Main.Pull = begun, m.Name == "raise-to-lower"
	case spent:
		s.Main.Haul, s.Main.Pull, s.Main.Spent = begun, true, true
	case captured:
		s.Main = Half{Toothed: TeethBear, Passed: s.Main.Passed, Bend: s.Main.Bend, Wheel: s.Main.Wheel}
	}
	edge := s.At == stance.ToCm(r.EdgeM)
	switch {
	case m.Name == "unshare", m.begins == hanging && m.Name != "share" && (r.Schools.Lowering == "shared" || r.Schools.Lowering == "mixed" && !edge):
		s.Shared = true
	}
	return s
}

// goals are what a move reaches, one after the other.
func (r *Rig) goals(m *Move, s *State, ask Ask) ([]goal, error) {
	ratio := int8(cmp.Or(ask.Ratio, 3))
	g := goal{to: s.At, parked: true, hangs: s.Hangs, shared: s.Shared, haul: s.Main.Haul}
	if m.Name == "lower" || m.Name == "lower-past-knot" || m.Name == "raise" || m.Name == "wind-up" {
		return r.onTheWay(m, s, g, ask)
	}
	switch m.Name {
	case "prove-brake":
		g.hangs = false
	case "edge":
		g.hangs, g.shared, g.parked = true, r.Schools.Lowering == "shared", false
	case "share", "unshare":
		g.shared, g.parked = m.Name == "share", false
	case "lower-to-raise":
		g.haul, g.parked = ratio, false
	case "change-ratio":
		if g.haul = int8(cmp.Or(ask.Ratio, 5)); g.haul == s.Main.Haul {
			return nil, strict.Faultf("/ratio", "it is %d:1 already", g.haul)
		}
	case "raise-to-lower":
		g.haul, g.parked = 0, false
	case "reset":
		g.parked = false
	case "release-capture":
		if r.Kit.CaptureM == 0 {
			return nil, strict.Faultf("/team/kit", "no capture pulley is in the kit")
		}
		g.parked, g.freed = false, true
		g.to = s.At + stance.ToCm(r.Kit.CaptureM)
	case "wind-down":
		if r.Main.Winding == nil {
			return nil, r.noWinding()
		}
		g.parked = false
	case "swap-operator":
		g.parked, g.operator = false, 3
		if len(r.Operators) < 3 {
			return nil, strict.Faultf("/operators", "there is no third operator to swap with")
		}
	case "walk-away":
		g.away = true
	case "come-back":
		g.parked = false
	}
	return []goal{g}, nil
}

func (r *Rig) noWinding() error {
	return strict.Faultf("/team/main/brake", "%s is not a winding descender", r.Main.Brake)
}

// onTheWay are the goals of a move that leads to a height: one at each thing in the way.
func (r *Rig) onTheWay(m *Move, s *State, g goal, ask Ask) ([]goal, error) {
	to := func(up bool) error {
		if ask.ToM == nil {
			return strict.Faultf("/to_m", "missing: the height that it is to come to")
		}
		if g.to = stance.ToCm(*ask.ToM); up != (g.to > s.At) || g.to == s.At {
			return strict.Faultf("/to_m", "%v is not on the way from %v", g.to.M(), s.At.M())
		}
		return nil
	}
	switch m.Name {
	case "lower":
		if err := to(false); err != nil {
			return nil, err
		}
		g.shared = g.shared || r.Schools.Lowering == "mixed"
		return r.downTo(s, g), nil
	case "lower-past-knot":
		next := r.nextKnot(s)
		if next < 0 {
			return nil, strict.Faultf("/move", "no knot is in the way below %v", s.At.M())
		}
		g.to = next - 1
		return r.downTo(s, g), nil
	case "raise":
		if err := to(true); err != nil {
			return nil, err
		}
		g.haul, g.up, g.shared = int8(cmp.Or(ask.Ratio, 3)), true, false
		return r.upTo(s, g), nil
	}
	if r.Main.Winding == nil {
		return nil, r.noWinding()
	}
	if err := to(true); err != nil {
		return nil, err
	}
	return r.turns(s, g), nil
}

// turns are the lifts of a winding descender: slack is drawn after each.
func (r *Rig) turns(s *State, last goal) []goal {
	last.up, last.liveBelay = true, true
	by := stance.ToCm(r.Main.Winding.SlackAfterM)
	var list []goal
	for at := s.At + by; at < last.to; at += by {
		stop := last
		stop.to, stop.handle = at, true
		list = append(list, stop)
	}
	return append(list, last)
}

// lines are the names of both strands, as goals count them.
var lines = [2]string{"main", "belay"}

// nextKnot is the height at which the load stands when the next knot of either line is
// stopped short of its brake; below everything where there is none.
func (r *Rig) nextKnot(s *State) stance.Cm {
	most := stance.Cm(-1 << 20)
	for _, name := range lines {
		if gap, ok := r.toKnot(name, s.half(name), s.At); ok {
			most = max(most, r.heightFor(name, gap+r.path(name).At(s.At.M())-r.short()))
		}
	}
	return most
}

// downTo is the way down to a goal, knot after knot. Knots so close that passing one
// would draw the other in are passed from the same place; all of the load is on the main
// meanwhile.
func (r *Rig) downTo(s *State, last goal) []goal {
	at := *s
	var list []goal
	for {
		k := r.nextKnot(&at)
		if k <= last.to {
			return append(list, last)
		}
		at.At = min(at.At, k)
		stop := last
		stop.to, stop.parked, stop.shared = k, false, false
		list = append(list, stop)
		past := stop
		for i, name := range lines {
			h := at.half(name)
			if gap, ok := r.toKnot(name, h, k); ok && gap <= r.ready() {
				h.Passed++
				past.passed[i] = h.Passed
			}
		}
		list = append(list, past)
	}
}

// Replay walks a list of actions from a start and reports each step that breaks a
// rule or cannot be done. It shares the rules with the search, and nothing else.
func (r *Rig) Replay(start State, actions []Action) (found []stance.Breach, end State) {
	if broken := r.Check(&start); stance.Stops(broken) {
		found = append(found, stance.Breach{Step: 0, Broken: broken})
	}
	at := start
	for i, a := range actions {
		next, broken, err := r.Apply(at, a)
		if err != nil {
			return append(found, stance.Breach{Step: i + 1, Impossible: err.Error()}), at
		}
		if len(broken) > 0 {
			found = append(found, stance.Breach{Step: i + 1, Broken: broken})
		}
		at = next
	}
	return found, at
}

// ReadSteps reads a list of actions strictly: {"steps": [action, …]}, or a whole plan
// as it is printed, of which the actions count.
func ReadSteps(text []byte) ([]Action, error) {
	var list struct {
		Steps []Action `json:"steps" maxItems:"500"`
	}
	if !strict.Has(text, "seconds_s") {
		err := strict.Read(text, &list)
		return append([]Action{}, list.Steps...), err
	}
	list.Steps = []Action{} // a list of none is a list
	var plan Plan
	if err := strict.Read(text, &plan); err != nil {
		return nil, err
	}
	for i := range plan.Steps {
		list.Steps = append(list.Steps, plan.Steps[i].Action)
	}
	return list.Steps, nil
}

// Walk is Replay from where a move begins, with each step told like a plan's, as far as
// the steps can be done. Unfinished says that a list does not end where the move ends;
// empty where it does. A *strict.Error names what cannot be asked.
func (r *Rig) Walk(ask Ask, actions []Action) (walked *Plan, found []stance.Breach, unfinished string, err error) {
	m, start, goals, err := r.begin(ask)
	if err != nil {
		return nil, nil, "", err
	}
	last := goals[len(goals)-1]
	found, end := r.Replay(start, actions)
	if n := len(found); n > 0 && found[n-1].Impossible != "" {
		actions = actions[:found[n-1].Step-1]
	}
	if !last.is(&end) {
		unfinished = fmt.Sprintf("the list ends before %s does: %s", m.Name, m.Does)
	}
	walked = &Plan{Move: m.Name, Start: start, ToM: last.to.M(), Steps: []Step{}}
	at := start
	for _, a := range actions {
		walked.add(r, &at, a)
	}
	return walked, found, unfinished, nil
}

// Reached reports whether a state is where a move ends that began at a start.
func (r *Rig) Reached(start, s *State, ask Ask) bool {
	m := Find(ask.Move)
	goals, err := r.goals(m, start, ask)
	return err == nil && goals[len(goals)-1].is(s)
}
