package moves

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

const (
	isolateDamage = "isolate-damage"
	passKnotsDown = "pass-knots-down"
	transfer      = "transfer"
	aid           = "aid"
	shortWork     = "short-work"
	overEdge      = "over-edge"
	// thereAndBack is a chain of moves: up past every mark, over onto the descender,
	// and down past every mark.
	thereAndBack = "there-and-back"
)

// Find gives a move by its name; nil for none.
func Find(name string) *Move {
	if i := slices.IndexFunc(Catalogue, func(m Move) bool { return m.Name == name }); i >= 0 {
		return &Catalogue[i]
	}
	return nil
}

// Names lists the moves that are planned.
func Names() string {
	var names []string
	for _, m := range Catalogue {
		names = append(names, m.Name)
	}
	return strings.Join(names, ", ")
}

// Step is one action with what it leads to.
type Step struct {
	Action  stance.Action      `json:"action"`
	Say     string             `json:"say" doc:"what to do, for the person on the rope"`
	Reason  string             `json:"reason,omitempty"`
	Call    string             `json:"call,omitempty" doc:"said before it, and answered"`
	Seconds float64            `json:"seconds_s"`
	SettleM quantity.Metres    `json:"settle_m,omitempty" doc:"how far the body drops when it sits"`
	After   ShownStance        `json:"after"`
	FailOne []stance.Lost      `json:"fail_one" doc:"what happens if one thing fails now, worst first"`
	Broken  []stance.Violation `json:"broken,omitempty" doc:"rules that this step or the stance after it breaks"`
}

// Plan is a move that was found.
type Plan struct {
	Move    string          `json:"move"`
	Person  string          `json:"person"`
	Schools school.Schools  `json:"schools"`
	Start   ShownStance     `json:"start"`
	ToM     quantity.Metres `json:"to_m" doc:"height that the move ends at or beyond"`
	Steps   []Step          `json:"steps"`
	Seconds float64         `json:"seconds_s"`
	Handled int             `json:"handled" doc:"holds put on and taken off"`
	WorstM  quantity.Metres `json:"worst_fall_m" doc:"the longest free fall of any one failure at any step"`
	// Expanded is how many stances were looked at.
	Expanded int `json:"expanded"`
	// ReachUpMM and ReachOutMM are what was planned with, from the ventral point.
	ReachUpMM  quantity.Millimetres `json:"reach_up_mm,omitempty"`
	ReachOutMM quantity.Millimetres `json:"reach_out_mm,omitempty"`
	// Note is what the plan leaves to do.
	Note string `json:"note,omitempty"`
	// LeftOut says of each carried thing that nothing is done with, why.
	LeftOut []string `json:"left_out,omitempty" maxItems:"100" doc:"of each carried thing that nothing is done with: why"`
}

// Ask says what is to be planned.
type Ask struct {
	Move string
	// From is where the person begins, To where the move is to end; nil for where they
	// are, and for just beyond what is in the way.
	From, To *quantity.Metres
	// Set is the one that the person is on, ToSet the one that a transfer leads to; 0:
	// the first, and the nearest other one.
	Set, ToSet int
	// AsRigged begins with the holds that the person has on the drop, as they are, and
	// not hanging cleanly at a height.
	AsRigged bool
	// MaxStates bounds the states that are expanded in sum; 0: MaxStates.
	MaxStates int
	// Unproved wants a plan soon or not at all: where none is found, nothing is proved, and the
	// error is ErrUndecided.
	Unproved bool

	// grid is how far apart the heights are that are considered; 0: gridCm.
	grid stance.Cm
}

// bound is how many states may be expanded.
func (a *Ask) bound() int { return cmp.Or(a.MaxStates, MaxStates) }

// For plans a move for a scene. A *strict.Error names what cannot be asked for;
// ErrNone is returned where there is no way, ErrUndecided where the search was cut off.
// Of the plan that goes with those, Expanded alone counts.
func For(ctx context.Context, sc *stance.Scene, at quantity.Metres, ask Ask) (*Plan, error) {
	w, err := ask.search(ctx, sc, at)
	if err != nil {
		return &Plan{Expanded: w.expanded}, err
	}
	p := &Plan{
		Steps: []Step{}, Move: ask.Move, Person: sc.Name, Schools: sc.Schools, Start: show(sc, &w.start), ToM: w.reached.to.M(), Expanded: w.expanded, Note: w.note,
		ReachUpMM: sc.Up.MM(), ReachOutMM: sc.Out.MM(),
	}
	p.tell(sc, w.start, w.steps)
	return p, nil
}

// Time is how long a move takes, found like a plan but without its words. The error is
// as that of For.
func Time(ctx context.Context, sc *stance.Scene, at quantity.Metres, ask Ask) (seconds float64, expanded int, err error) {
	w, err := ask.search(ctx, sc, at)
	if err != nil {
		return 0, w.expanded, err
	}
	from := &w.start
	for i := range w.steps {
		st := &w.steps[i]
		seconds += Seconds(sc, from, &st.after, &st.action)
		from = &st.after
	}
	return seconds, w.expanded, nil
}

// spansAt are the spans of the lines on which devices of a body at a height ride.
func spansAt(sc *stance.Scene, at stance.Cm) []int {
	spans := make([]int, len(sc.Lines))
	for i := range sc.Lines {
		spans[i], _, _ = place(sc, i, at+stance.DeviceLen)
	}
	return spans
}

// nearTo gives spans from which a device gets to others without being taken off: past
// deviations, whose connectors are moved, and past hurt sheaths.
func nearTo(sc *stance.Scene, spans []int, way int) []int {
	near := slices.Clone(spans)
	for i := range near {
		marks := sc.Lines[i].Marks
		for way < 0 && near[i] > 0 && runsPast(&marks[near[i]-1]) {
			near[i]--
		}
		for way > 0 && near[i] < len(marks) && runsPast(&marks[near[i]]) {
			near[i]++
		}
	}
	return near
}

func runsPast(m *stance.Mark) bool {
	return m.Kind == rig.DeviationMark || m.Kind == rig.DamageMark && m.Sheath
}

// goalAt is the goal of the move at a height.
func (m *Move) goalAt(sc *stance.Scene, to stance.Cm, set int) goal {
	g := goal{rest: m.goal, way: m.way, to: to, spans: spansAt(sc, to), set: set, worked: m.Name == shortWork}
	g.near = nearTo(sc, g.spans, m.way)
	if main := sc.LineOf(set, rig.Main); main >= 0 {
		g.side = sc.SideID(main, g.spans[main])
	}
	return g
}

// Reached reports whether a stance is the goal of the move, asked for as it was from
// a start.
func (m *Move) Reached(sc *stance.Scene, start, s *stance.Stance, ask Ask) bool {
	if ask.Set == 0 {
		ask.Set = setOn(sc, start)
	}
	m = m.here(sc, start.At, ask)
	if m.Name == isolateDamage && start.Bears >= 0 && sc.Tools[start.Bears].Class != gear.Descender {
		// Met while climbing, however near.
		m.start, m.goal, m.way = onAscenders, onAscenders, 0
	}
	if m.past || m.way != 0 && m.Name != isolateDamage {
		g := m.goalAt(sc, stance.ToCm(*ask.To), ask.Set)
		return g.is(sc, s)
	}
	if m.Name == thereAndBack {
		g := (&Move{goal: onGround}).goalAt(sc, s.At, ask.Set)
		return g.is(sc, s)
	}
	ask.To = nil
	sound := goal{rest: onSound}
	if m.Name == isolateDamage && m.start == onAscenders && sound.is(sc, s) {
		return true
	}
	goals, err := m.goals(sc, start, ask)
	return err == nil && goals[len(goals)-1].is(sc, s)
}

// setOn is the set that a body hangs on; the first where it stands.
func setOn(sc *stance.Scene, s *stance.Stance) int {
	if s.Bears >= 0 {
		if set := sc.Lines[s.Holds[s.Bears].Line].Set; set != 0 {
			return set
		}
	}
	return 1
}

// room is the least distance between two marks at which a body rests between them.
const room = 45

// goals are what the move reaches, one after the other.
func (m *Move) goals(sc *stance.Scene, s *stance.Stance, ask Ask) ([]goal, error) {
	switch m.Name {
	case thereAndBack:
		return chain(sc, ask)
	case isolateDamage:
		return m.tiedOut(sc, s, ask)
	case transfer:
		return m.across(sc, s, ask)
	case aid:
		return m.along(sc, s, ask)
	}
	targets, err := m.targets(sc, s, ask)
	list := make([]goal, len(targets))
	for i, to := range targets {
		list[i] = m.goalAt(sc, to, ask.Set)
	}
	return list, err
}

// chain is the way there and back: marks that leave no room to rest between them are
// passed together, each way.
func chain(sc *stance.Scene, ask Ask) ([]goal, error) {
	if ask.To == nil {
		return nil, strict.Faultf("/to_m", "missing: the height of the work place")
	}
	top := stance.ToCm(*ask.To)
	if main := sc.LineOf(ask.Set, rig.Main); main < 0 || top > sc.Lines[main].Top-underAnchor || top <= sc.Ground {
		return nil, strict.Faultf("/to_m", "%v is not between the landing and the anchor", top.M())
	}
	at := func(m Move, to stance.Cm) goal { return m.goalAt(sc, to, ask.Set) }
	list := []goal{at(Move{goal: onAscenders}, sc.Ground)}
	for _, leg := range []struct {
		move     Move
		from, to stance.Cm
	}{{Move{goal: onAscenders, way: 1}, sc.Ground, top}, {Move{goal: onDescender, way: -1}, top, sc.Ground}} {
		if leg.move.way < 0 {
			list = append(list, at(Move{goal: onDescender}, top))
		}
		for _, to := range between(marksAhead(sc, leg.from, leg.move.way, ask.Set), leg.to, leg.move.way) {
			list = append(list, at(leg.move, to))
		}
		list = append(list, at(leg.move, leg.to))
	}
	return append(list, at(Move{goal: onGround}, sc.Ground)), nil
}

// tell writes the steps out with their figures.
func (p *Plan) tell(sc *stance.Scene, from stance.Stance, steps []step) {
	at := from
	var loose slacks
	for i := range steps {
		st := &steps[i]
		// The search did not ask for words.
		_, st.broken, _ = sc.Apply(at, st.action)
		var frees slacks
		if st.action.Do == stance.Untie {
			frees = freed(sc, &at)
		}
		loose = loose.after(&st.after, frees)
		out := told(sc, &at, st, loose)
		p.Seconds += out.Seconds
		switch st.action.Do {
		case stance.PutOn, stance.TakeOff, stance.Clip, stance.Unclip:
			p.Handled++
		}
		for _, l := range out.FailOne {
			p.WorstM = max(p.WorstM, l.FreeFallM)
		}
		p.Steps = append(p.Steps, out)
		at = st.after
	}
}

func told(sc *stance.Scene, at *stance.Stance, st *step, loose slacks) Step {
	out := Step{
		Action: st.action, Seconds: Seconds(sc, at, &st.after, &st.action), After: show(sc, &st.after), FailOne: loose.failOne(sc, &st.after), Broken: st.broken,
	}
	out.Broken = append(out.Broken, sc.Peaks(out.FailOne)...)
	if st.action.Do == stance.Sit && !at.Grounded {
		out.SettleM = max(0, (at.Sat - st.after.At).M())
	}
	out.Say, out.Reason = say(sc, at, st)
	var tool *stance.Tool
	if i := sc.Tool(st.action.Item); i >= 0 {
		tool = &sc.Tools[i]
	}
	out.Call = call(at, st, tool)
	return out
}
