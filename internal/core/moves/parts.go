package moves

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// way is a move that was found.
type way struct {
	start    stance.Stance
	steps    []step
	reached  goal
	note     string
	expanded int
}

// search finds what is requested. Where strands of a set are far from each other, it looks
// under the middle of their anchors first, where fewer stances differ: a way there that keeps
// every rule by their own anchors too is one.
func (a Ask) search(ctx context.Context, sc *stance.Scene, at quantity.Metres) (w way, err error) {
	mid, ok := sc.Middle()
	if !ok {
		return a.searchIn(ctx, sc, at)
	}
	found, err := a.searchIn(ctx, mid, at)
	if err == nil && found.byOwn(sc, a, at) {
		return found, nil
	}
	if strict.Refused(err) || ctx.Err() != nil {
		return found, cmp.Or(err, ErrUndecided)
	}
	if found.expanded >= a.bound() {
		// That there is none under the middle says nothing of their own anchors; that there is
		// none whatever is reached does.
		if errors.Is(err, ErrNone) && a.hopelessIn(ctx, sc, at) {
			return found, ErrNone
		}
		return found, ErrUndecided
	}
	under := err
	a.MaxStates = a.bound() - found.expanded
	w, err = a.searchIn(ctx, sc, at)
	w.expanded += found.expanded
	if under == nil && errors.Is(err, ErrNone) {
		// The one that is there under the middle may keep the rules at other heights.
		err = ErrUndecided
	}
	return w, err
}

// hopelessIn reports whether the relaxed problem of what is requested has no way in a scene.
func (a Ask) hopelessIn(ctx context.Context, sc *stance.Scene, at quantity.Metres) bool {
	m, start, err := a.startIn(sc, at)
	if err != nil {
		return false
	}
	goals, err := m.goals(sc, &start, a)
	return err == nil && m.hopeless(ctx, sc, &start, goals, a)
}

// byOwn walks a way that was found under the middle of the anchors by their own, and reports
// whether nothing on it is worse.
func (w *way) byOwn(sc *stance.Scene, a Ask, at quantity.Metres) bool {
	_, start, err := a.startIn(sc, at)
	if err != nil {
		return false
	}
	now := start
	for i := range w.steps {
		st := &w.steps[i]
		next, broken, err := sc.Apply(now, st.action)
		if err != nil || stance.Stops(broken) {
			return false
		}
		st.after, now = next, next
	}
	w.start = start
	return w.reached.is(sc, &now)
}

// startIn is the move as it is from where it begins in a scene, and that stance.
func (a *Ask) startIn(sc *stance.Scene, at quantity.Metres) (*Move, stance.Stance, error) {
	m := Find(a.Move)
	if m == nil {
		return nil, stance.Stance{}, strict.Faultf("/move", "no move %q is planned", a.Move)
	}
	if a.Set == 0 {
		a.Set = 1
	}
	if a.From != nil {
		at = *a.From
	}
	m = m.here(sc, stance.ToCm(at), *a)
	from := stance.ToCm(at)
	switch line := sc.LineOf(a.Set, rig.Main); {
	case m.start == onGround:
		from = sc.Ground
	case m.start == onTop && line >= 0:
		from = sc.Top(line)
	}
	s, err := m.begin(sc, from, a)
	return m, s, err
}

func (a Ask) searchIn(ctx context.Context, sc *stance.Scene, at quantity.Metres) (w way, err error) {
	var m *Move
	if m, w.start, err = a.startIn(sc, at); err != nil {
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
	w.reached = goals[len(goals)-1]
	w.steps = inOneGo(sc, w.start, w.steps)
	if len(goals) > 1 {
		w.steps = spared(sc, w.start, w.steps)
	}
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
	if ask.Unproved && errors.Is(err, ErrNone) {
		return ErrUndecided
	}
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
	most := ask.bound() - before
	err = w.find(ctx, c, min(firstTry*len(goals), most))
	if !errors.Is(err, ErrUndecided) || ask.Unproved {
		return false, err
	}
	if m.hopeless(ctx, sc, &w.start, goals, ask) {
		return true, ErrNone
	}
	if w.expanded-before >= most {
		return false, err
	}
	w.expanded = before
	return false, w.find(ctx, c, most)
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
	g.goal.plain = !sc.InBreach(here)
	g.goal.crossed = g.goal.plain && sc.Heavy() && m.Name == passKnotsDown
	if !g.goal.plain || g.goal.crossed {
		g.either = ask.Set
	}
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
