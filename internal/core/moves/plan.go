package moves

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// A Move is a named manoeuvre: from one way of hanging to another, up or down. What
// is done between is found.
type Move struct {
	// Name is that of its row in manoeuvre.Moves.
	Name  string
	start rest
	goal  rest
	// way is +1 up, -1 down, 0 where it is.
	way int
	// past says that it ends beyond the next marks, not before them.
	past bool
}

// Catalogue are the moves of one person that are planned.
var Catalogue = []Move{
	{"leave-ground", onGround, onAscenders, 0, false},
	{"ascend", onAscenders, onAscenders, 1, false},
	{"ascend-to-descend", onAscenders, onDescender, 0, false},
	{"descend-to-ascend", onDescender, onAscenders, 0, false},
	{"descend", onDescender, onDescender, -1, false},
	{"pass-knots-up", onAscenders, onAscenders, 1, true},
	{"pass-knots-down", onDescender, onDescender, -1, true},
	{"rebelay-up", onAscenders, onAscenders, 1, true},
	{"rebelay-down", onDescender, onDescender, -1, true},
	{"deviation-up", onAscenders, onAscenders, 1, true},
	{"deviation-down", onDescender, onDescender, -1, true},
	{isolateDamage, onDescender, onDescender, -1, false},
	{transfer, onDescender, onAscenders, 0, false},
	{aid, onAscenders, onSlings, 0, false},
	{overEdge, onTop, onDescender, -1, false},
	{shortWork, onDescender, onDescender, 0, false},
	{thereAndBack, onGround, onGround, 0, false},
}

const (
	isolateDamage = "isolate-damage"
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

// MoveStep is one action with what it leads to.
type MoveStep struct {
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

// MovePlan is a move that was found.
type MovePlan struct {
	Move    string          `json:"move"`
	Person  string          `json:"person"`
	Schools school.Schools  `json:"schools"`
	Start   ShownStance     `json:"start"`
	ToM     quantity.Metres `json:"to_m" doc:"height that the move ends at or beyond"`
	Steps   []MoveStep      `json:"steps"`
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

	// grid is how far apart the heights are that are considered; 0: gridCm.
	grid stance.Cm
}

// bound is how many states may be expanded.
func (a *Ask) bound() int { return cmp.Or(a.MaxStates, MaxStates) }

// For plans a move for a scene. A *strict.Error names what cannot be asked for;
// ErrNone is returned where there is no way, ErrUndecided where the search was cut off.
// Of the plan that goes with those, Expanded alone counts.
func For(ctx context.Context, sc *stance.Scene, at quantity.Metres, ask Ask) (*MovePlan, error) {
	w, err := ask.search(ctx, sc, at)
	if err != nil {
		return &MovePlan{Expanded: w.expanded}, err
	}
	p := &MovePlan{
		Steps: []MoveStep{}, Move: ask.Move, Person: sc.Name, Schools: sc.Schools, Start: show(sc, &w.start), ToM: w.to.M(), Expanded: w.expanded, Note: w.note,
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

// way is a move that was found.
type way struct {
	start    stance.Stance
	steps    []step
	to       stance.Cm
	note     string
	expanded int
}

// search finds what is asked for.
func (a Ask) search(ctx context.Context, sc *stance.Scene, at quantity.Metres) (w way, err error) {
	m := Find(a.Move)
	if m == nil {
		return w, fault("/move", "no move %q is planned", a.Move)
	}
	if a.Set == 0 {
		a.Set = 1
	}
	if a.From != nil {
		at = *a.From
	}
	m = m.here(sc, stance.ToCm(at), a)
	from := stance.ToCm(at)
	switch line := lineOf(sc, rig.Main, a.Set); {
	case m.start == onGround:
		from = sc.Ground
	case m.start == onTop && line >= 0:
		from = sc.Top(line)
	}
	if w.start, err = m.begin(sc, from, &a); err != nil {
		return w, err
	}
	goals, err := m.goals(sc, &w.start, a)
	if err == nil {
		err = m.through(ctx, sc, &w, goals, a)
	}
	if m.Name == isolateDamage && m.start == onAscenders {
		open := errors.Is(err, ErrUndecided)
		for _, fallback := range soundGoals(sc, &w.start, a) {
			if !errors.Is(err, ErrNone) && !errors.Is(err, ErrUndecided) {
				break
			}
			goals, w.note = []goal{fallback.goal}, fallback.note
			err = m.through(ctx, sc, &w, goals, a)
			open = open || errors.Is(err, ErrUndecided)
		}
		if open && errors.Is(err, ErrNone) {
			// None is said only where every goal has none.
			err = ErrUndecided
		}
	}
	if err != nil {
		return w, err
	}
	w.to = goals[len(goals)-1].to
	w.steps = inOneGo(sc, w.start, w.steps)
	return w, nil
}

// firstTry is how many states are expanded before it is asked whether there can be a
// way at all.
const firstTry = 8_000

// through searches from goal to goal. Where there is no way among the heights of the grid,
// and no relaxed problem proves it, finer ones are searched too, as far as fineStates go;
// beyond those it is not decided.
func (m *Move) through(ctx context.Context, sc *stance.Scene, w *way, goals []goal, ask Ask) error {
	proved, err := m.among(ctx, sc, w, goals, ask)
	if !errors.Is(err, ErrNone) || proved || ask.grid > 0 || m.hopeless(ctx, sc, &w.start, goals, ask) {
		return err
	}
	ask.grid, ask.MaxStates = fineCm, min(ask.bound(), w.expanded+fineStates)
	if w.expanded >= ask.MaxStates {
		return ErrUndecided
	}
	_, err = m.among(ctx, sc, w, goals, ask)
	return err
}

// among searches among the heights of a grid; proved tells that none is so for any.
func (m *Move) among(ctx context.Context, sc *stance.Scene, w *way, goals []goal, ask Ask) (proved bool, err error) {
	var c legs
	from := w.start.At
	for i := range goals {
		g := m.generator(sc, &w.start, goals[i], ask)
		g.from, from = from, goals[i].to
		c = append(c, g)
	}
	before := w.expanded
	err = w.find(ctx, c, min(firstTry*len(goals), ask.bound()-before))
	if !errors.Is(err, ErrUndecided) {
		return false, err
	}
	if m.hopeless(ctx, sc, &w.start, goals, ask) {
		return true, ErrNone
	}
	w.expanded = before
	return false, w.find(ctx, c, ask.bound()-before)
}

func (w *way) find(ctx context.Context, c legs, bound int) error {
	found, n, err := c.Through(ctx, w.start, bound)
	w.expanded += n
	w.steps = nil
	for _, f := range found {
		w.steps = append(w.steps, step{action: f.Action, after: f.After})
	}
	return err
}

// generator gives what proposes actions on the way from a stance to a goal.
func (m *Move) generator(sc *stance.Scene, here *stance.Stance, next goal, ask Ask) *generator {
	g := &generator{sc: sc.Quiet(), sets: []int{ask.Set}, stations: []stance.Cm{next.to}, goal: next, from: here.At, grid: cmp.Or(ask.grid, gridCm)}
	for i := range sc.Tools {
		g.longest = max(g.longest, sc.Tools[i].Length)
	}
	if sc.InBreach(here) {
		g.hurt = ask.Set
	}
	g.goal.plain = g.hurt == 0
	g.goal.simple = g.goal.plain && len(setsOf(sc)) == 1 && !sc.Relayed() && sc.Line(stance.Structure) < 0
	if next.set != ask.Set || next.rest == onSound || m.Name == isolateDamage && m.start == onAscenders {
		g.sets = setsOf(sc)
	}
	return g
}

// setsOf are the sets of a scene.
func setsOf(sc *stance.Scene) []int {
	var sets []int
	for _, l := range sc.Lines {
		if l.Set != 0 && !slices.Contains(sets, l.Set) {
			sets = append(sets, l.Set)
		}
	}
	slices.Sort(sets)
	return sets
}

// here is the move as it is from a height: damage above is met while climbing.
func (m *Move) here(sc *stance.Scene, at stance.Cm, ask Ask) *Move {
	as := *m
	switch {
	case m.Name == isolateDamage:
		if mark := nearestDamage(sc, at, ask.Set); mark != nil && mark.At > at {
			as.start, as.goal, as.way = onAscenders, onAscenders, 0
		}
	case m.Name == "ascend" && sc.Schools.Ascent == "descender":
		as.start, as.goal = onDescender, onDescender
	}
	return &as
}

// nearestDamage is the damage on the lines of a set that is nearest to a height, nil
// for none.
func nearestDamage(sc *stance.Scene, at stance.Cm, set int) *stance.Mark {
	var near *stance.Mark
	for i := range sc.Lines {
		for j := range sc.Lines[i].Marks {
			m := &sc.Lines[i].Marks[j]
			if sc.Lines[i].Set == set && m.Open && (near == nil || distance(m.At, at) < distance(near.At, at)) {
				near = m
			}
		}
	}
	return near
}

func distance(a, b stance.Cm) stance.Cm { return max(a-b, b-a) }

// inOneGo leaves out a climb or descent that the next one makes in one go: legs of a
// chain end where a body could rest, not where it must.
func inOneGo(sc *stance.Scene, start stance.Stance, steps []step) []step {
	quiet := sc.Quiet()
	var list []step
	at := start
	for i, st := range steps {
		do := st.action.Do
		if i+1 < len(steps) && (do == stance.Climb || do == stance.Descend) && steps[i+1].action.Do == do {
			next, broken, err := quiet.Apply(at, steps[i+1].action)
			if err == nil && next == steps[i+1].after && !stance.Stops(broken) {
				continue
			}
		}
		list = append(list, st)
		at = st.after
	}
	return list
}

// spansAt are the spans of the lines on which devices of a body at a height ride.
func spansAt(sc *stance.Scene, at stance.Cm) []int {
	spans := make([]int, len(sc.Lines))
	for i := range sc.Lines {
		spans[i], _, _ = place(sc, i, at+stance.DeviceLen)
	}
	return spans
}

func fault(pointer, format string, args ...any) error {
	var p strict.Faults
	p.Addf(pointer, format, args...)
	return p.Err()
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
	if main := lineOf(sc, rig.Main, set); main >= 0 {
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
		return nil, fault("/to", "missing: the height of the work place")
	}
	top := stance.ToCm(*ask.To)
	if main := lineOf(sc, rig.Main, ask.Set); main < 0 || top > sc.Lines[main].Top-underAnchor || top <= sc.Ground {
		return nil, fault("/to", "%v is not between the landing and the anchor", top.M())
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

// begin is the stance that the move begins with.
func (m *Move) begin(sc *stance.Scene, from stance.Cm, ask *Ask) (stance.Stance, error) {
	if !ask.AsRigged {
		return startOf(sc, m, from, ask.Set)
	}
	s, err := sc.Rigged()
	if err != nil {
		return s, fault("/as_rigged", "%v", err)
	}
	ask.Set = setOn(sc, &s)
	classes := m.start.classes()
	if s.Grounded != (m.start == onGround || m.start == onTop) || len(classes) > 0 && sc.Tools[s.Bears].Class != classes[0] {
		return s, fault("/as_rigged", "%s begins %s, and %s does not hang so on the drop", m.Name, m.start, sc.Name)
	}
	return s, nil
}

// startOf is the stance of a body that rests at a height, with the first of the
// tools that rest needs.
func startOf(sc *stance.Scene, m *Move, at stance.Cm, set int) (s stance.Stance, err error) {
	r := m.start
	s.Bears = stance.NoTool
	s.At, s.Sat = at, at
	main, backup := lineOf(sc, rig.Main, set), lineOf(sc, rig.Backup, set)
	if main < 0 || backup < 0 {
		return s, fault("/set", "set %d has not both strands", set)
	}
	under, _, _ := place(sc, main, at+stance.DeviceLen)
	s.On(sc, main, under)
	if r == onGround || r == onTop {
		s.Grounded = true
		return s, nil
	}
	bears := gear.Descender
	if r == onAscenders {
		bears = gear.ChestAscender
	}
	put := func(class gear.Class, line int, at stance.Cm) (int, error) {
		t := slices.IndexFunc(sc.Tools, func(t stance.Tool) bool { return t.Class == class && (class != gear.HandAscender || t.Stands) })
		if t < 0 {
			return t, fault("/kit", "%s has no %s, which hanging %s needs", sc.Name, class.Words(), r)
		}
		if class == gear.BackupDevice {
			at = s.At + stance.Sternal + sc.High(t)
		}
		span, at, ok := place(sc, line, at)
		if !ok {
			return t, fault("/from", "there is no room for %s at %v", sc.Tools[t].Label, at.M())
		}
		s.Holds[t] = stance.Hold{There: true, Line: int8(line), Span: int8(span), At: at, Locked: true, Proved: true, Parked: class == gear.Descender && m.Name != shortWork}
		return t, nil
	}
	t, err := put(bears, main, at+stance.DeviceLen)
	if err != nil {
		return s, err
	}
	s.Bears = int8(t)
	// A mark may have moved the device, and the body hangs from it.
	s.At = s.Holds[t].At - stance.DeviceLen
	s.Sat = s.At
	if r == onAscenders {
		if _, err := put(gear.HandAscender, main, s.Holds[t].At+3*stance.Apart); err != nil {
			return s, err
		}
	}
	_, err = put(gear.BackupDevice, backup, 0)
	return s, err
}

// place finds the span of a height, and the nearest height on it where a device may
// be.
func place(sc *stance.Scene, line int, at stance.Cm) (span int, placed stance.Cm, ok bool) {
	l := &sc.Lines[line]
	for span < len(l.Marks) && l.Marks[span].At > at {
		span++
	}
	low, high := sc.Span(line, span)
	return span, min(high, max(low, at)), low <= high
}

// tell writes the steps out with their figures.
func (p *MovePlan) tell(sc *stance.Scene, from stance.Stance, steps []step) {
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

func told(sc *stance.Scene, at *stance.Stance, st *step, loose slacks) MoveStep {
	out := MoveStep{
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
