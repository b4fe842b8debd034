package drill

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// maxStates bounds the search for a plan that an exercise is made of, shortStates where only a
// stance or a step of it is shown: one that takes longer is not the one that is made.
const maxStates, shortStates = 3_500, 1_500

func (m *maker) bound() int {
	if m.e.Kind == Move {
		return maxStates
	}
	return shortStates
}

// plan is a plan of a person or of a team on a sound rig.
type plan struct {
	site   *site.Site
	person *moves.Plan
	// sc and id are the person's.
	sc   *stance.Scene
	id   string
	team *team.Plan
	rig  *team.Rig
	ask  team.Ask
}

// planned makes a sound rig and finds a move on it.
func (m *maker) planned(ctx context.Context, s shape) (*plan, error) {
	of, err := m.base(ctx, s)
	if err != nil {
		return nil, err
	}
	m.e.Drop = of.Drop
	p := &plan{site: of}
	isTeam := team.Find(m.Move) != nil
	if of.Rig.Team != nil && (isTeam || m.Move == "" && (len(personsUp(of.Rig)) == 0 || m.rnd.IntN(2) == 0)) {
		return p, m.planTeam(ctx, p)
	}
	return p, m.planPerson(ctx, p)
}

// personsUp are those who hang.
func personsUp(r *rig.Rig) (list []string) {
	for _, p := range r.People {
		if len(p.Holds) > 0 {
			list = append(list, p.ID)
		}
	}
	return list
}

// planPerson finds a move of somebody who hangs.
func (m *maker) planPerson(ctx context.Context, p *plan) error {
	people := personsUp(p.site.Rig)
	if m.Person != "" {
		people = []string{m.Person}
	}
	if len(people) == 0 {
		return m.stop(refused("/drop/people", "nobody hangs on this drop, and no team lowers"))
	}
	p.id = one(m.rnd, people)
	sc, view, err := moves.Scene(p.site, p.id, p.site.Policy.Schools)
	if err != nil {
		return err
	}
	p.sc = sc
	names := m.moveNames(view)
	if m.Move != "" {
		names = []string{m.Move}
	}
	var last error
	least := m.leastSteps()
	for _, name := range names {
		at := m.from(view, name)
		found, err := moves.For(ctx, sc, at, moves.Ask{Move: name, From: &at, MaxStates: m.bound(), Unproved: true})
		if err == nil && len(found.Steps) >= least {
			p.person = found
			return nil
		}
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if last = err; err == nil {
			last = refused("/move", "there is nothing to do for %s here", name)
		}
	}
	if errors.Is(last, search.ErrNone) || errors.Is(last, search.ErrUndecided) {
		last = refused("/move", "%s: %v", names[len(names)-1], last)
	}
	var asked *strict.Error
	if m.Move != "" && m.Drop != nil && errors.As(last, &asked) {
		return m.stop(last)
	}
	return last
}

// leastSteps is how many steps a plan has at least to be an exercise: of a move that is named, one.
func (m *maker) leastSteps() int {
	if m.Move != "" {
		return 1
	}
	return 2
}

// from is where a move begins that an exercise asks for: on a strand with something in the way,
// beyond it for who goes up.
func (m *maker) from(p *rig.PersonView, name string) quantity.Metres {
	at := p.AtM
	for _, h := range p.Holds {
		for _, mark := range h.Strand.Marks {
			if up := name == "pass-knots-up" || name == "rebelay-up" || name == "deviation-up"; up && mark.HeightM < at && mark.HeightM > 4 {
				return mark.HeightM - 3
			}
			if down := name == "pass-knots-down" || name == "rebelay-down" || name == "deviation-down"; down && mark.HeightM > at {
				return mark.HeightM + 2
			}
		}
	}
	return at
}

// moveNames are the moves that are worth trying for somebody, in an order by the seed.
func (m *maker) moveNames(p *rig.PersonView) []string {
	list := []string{"descend-to-ascend", "ascend-to-descend"}
	if m.e.Level > 1 {
		list = append(list, "short-work")
	}
	var past []string
	for _, h := range p.Holds {
		for i := range h.Strand.Marks {
			switch h.Strand.Marks[i].Kind {
			case rig.KnotMark, rig.JoinMark:
				past = append(past, "pass-knots-down", "pass-knots-up")
			case rig.RebelayMark:
				past = append(past, "rebelay-down", "rebelay-up")
			case rig.DeviationMark:
				past = append(past, "deviation-down", "deviation-up")
			}
		}
	}
	slices.Sort(past)
	past = slices.Compact(past)
	if m.e.Kind == Fails {
		// A changeover and a re-belay show as much, and are found sooner.
		past = slices.DeleteFunc(past, func(name string) bool { return name != "rebelay-down" })
	}
	past, list = shuffled(m.rnd, past), shuffled(m.rnd, list)
	if m.e.Level == 1 || len(past) == 0 {
		return append(list, past...)
	}
	// From the second level on what is in the way comes first. On a rig that is made up one such
	// move is tried: a changeover is there at once, and nobody waits for the others.
	if m.Drop == nil {
		past = past[:1]
	}
	return append(past, list...)
}

// planTeam finds a move of the team.
func (m *maker) planTeam(ctx context.Context, p *plan) error {
	r := team.On(p.site)
	names := []string{"prove-brake", "lower", "swap-operator", "walk-away"}
	if m.e.Level > 1 {
		names = append(names, "lower-to-raise", "raise", "reset", "raise-to-lower")
		if r.Knotted() {
			names = append(names, "lower-past-knot", "lower-past-knot")
		}
	}
	if names = shuffled(m.rnd, names); m.Move != "" {
		names = []string{m.Move}
	}
	var last error
	least := m.leastSteps()
	for _, name := range names {
		ask := toHeight(r, name)
		ask.MaxStates = m.bound()
		found, err := r.For(ctx, ask)
		if err == nil && len(found.Steps) >= least {
			p.team, p.rig, p.ask = found, r, ask
			return nil
		}
		if ctx.Err() != nil {
			return ctx.Err()
		}
		last = refused("/move", "%s: %v", name, err)
	}
	if m.Move != "" && m.Drop != nil {
		return m.stop(last)
	}
	return last
}

// nearLanding is where a lower of an exercise ends.
const nearLanding quantity.Metres = 1

// toHeight asks for a move of a team, from and to a height where it wants them: down to near the
// landing, or from half way up to the edge.
func toHeight(r *team.Rig, name string) team.Ask {
	ask := team.Ask{Move: name}
	switch edge := r.EdgeM; name {
	case "lower":
		ask.ToM = new(nearLanding)
	case "raise", "wind-up":
		half := quantity.Metres(float64(int(edge / 2)))
		ask.FromM, ask.ToM = new(half), new(half+min(3, edge-half))
	}
	return ask
}

// stepFault plants a fault into the steps of a plan: something left out, done at another time,
// or done carelessly. It is one that can be walked to the end, and that the rules see.
func (m *maker) stepFault(ctx context.Context) error {
	p, err := m.planned(ctx, shape(m.rnd.IntN(int(shapes))))
	if err != nil {
		return err
	}
	if p.team != nil {
		return m.teamStepFault(p)
	}
	list := moves.StepsOf(p.person)
	list.Person = p.id
	if m.rnd.IntN(6) == 0 {
		m.e.Question, m.e.Answers = Question{List: list}, &Answers{Faults: []Fault{}}
		return nil
	}
	for _, with := range shuffled(m.rnd, mutated(list.Steps)) {
		list.Steps = with
		if found, ok := p.personFaults(with); ok && len(found) == 1 {
			m.e.Question, m.e.Answers = Question{List: list}, &Answers{Faults: found}
			return nil
		}
	}
	return refused("/move", "no step of it can go wrong in a way that can be walked on from")
}

func (m *maker) teamStepFault(p *plan) error {
	steps := actions(p.team)
	q := p.teamQuestion()
	if q.Steps = steps; m.rnd.IntN(6) == 0 {
		m.e.Question, m.e.Answers = q, &Answers{Faults: []Fault{}}
		return nil
	}
	for _, with := range shuffled(m.rnd, careless(steps)) {
		if found, ok := p.teamFaults(with); ok && len(found) == 1 {
			q.Steps = with
			m.e.Question, m.e.Answers = q, &Answers{Faults: found}
			return nil
		}
	}
	return refused("/move", "no step of it can go wrong in a way that can be walked on from")
}

// teamQuestion asks for the move of a team's plan.
func (p *plan) teamQuestion() Question {
	q := Question{Of: ofTeam, Move: p.team.Move, AtM: p.team.Start.At.M()}
	if p.ask.ToM != nil {
		q.ToM = *p.ask.ToM
	}
	return q
}

func actions(p *team.Plan) (list []team.Action) {
	for i := range p.Steps {
		list = append(list, p.Steps[i].Action)
	}
	return list
}

// mutated are the ways in which a list of a person's steps goes wrong.
func mutated(steps []stance.Action) (all [][]stance.Action) {
	all = changed(steps)
	for i, a := range steps {
		if a.Do == stance.PutOn || a.Do == stance.Clip {
			open, unproved := slices.Clone(steps), slices.Clone(steps)
			open[i].Unlocked, unproved[i].Unproved = true, true
			all = append(all, open, unproved)
		}
	}
	return all
}

// careless are the ways in which a list of a team's steps goes wrong.
func careless(steps []team.Action) (all [][]team.Action) {
	all = changed(steps)
	for i := range steps {
		for _, do := range []func(*team.Action){
			func(a *team.Action) { a.Silent = true }, func(a *team.Action) { a.Forward = a.Do == team.HandOn },
			func(a *team.Action) { a.Loose = a.Do == team.PutGrab }, func(a *team.Action) { a.Behind = a.Do == team.PutGrab },
		} {
			with := slices.Clone(steps)
			if do(&with[i]); with[i] != steps[i] {
				all = append(all, with)
			}
		}
	}
	return all
}

// changed are a list with one step left out, or two that change places.
func changed[A any](steps []A) (all [][]A) {
	for i := range steps {
		all = append(all, slices.Delete(slices.Clone(steps), i, i+1))
		if i > 0 {
			with := slices.Clone(steps)
			with[i-1], with[i] = with[i], with[i-1]
			all = append(all, with)
		}
	}
	return all
}

// personFaults says which step of a list is wrong; false for one that cannot be walked to the
// end of its move.
func (p *plan) personFaults(steps []stance.Action) ([]Fault, bool) {
	start, err := p.person.Start.Read(p.sc)
	if err != nil {
		return nil, false
	}
	found, end := moves.Replay(p.sc, start, steps)
	return firstFault(found), whole(found) && moves.Find(p.person.Move).Reached(p.sc, &start, &end, moves.Ask{To: &p.person.ToM})
}

func (p *plan) teamFaults(steps []team.Action) ([]Fault, bool) {
	start := p.team.Start
	found, end := p.rig.Replay(start, steps)
	return firstFault(found), whole(found) && p.rig.Reached(&start, &end, p.ask)
}

// whole reports whether every step could be done.
func whole(found []stance.Breach) bool {
	return !slices.ContainsFunc(found, func(b stance.Breach) bool { return b.Impossible != "" })
}

// firstFault is the first step that breaks a rule that stops; what comes after follows from it.
func firstFault(found []stance.Breach) []Fault {
	list := []Fault{}
	for i := range found {
		for _, v := range found[i].Broken {
			switch {
			case v.Severity != finding.Stop:
			case len(list) == 0:
				list = append(list, Fault{Rule: v.Rule, Subject: step(found[i].Step), Planted: fmt.Sprintf("step %d: %s", found[i].Step, v.Why)})
			case v.Rule != list[0].Rule && !slices.Contains(list[0].Follows, v.Rule):
				list[0].Follows = append(list[0].Follows, v.Rule)
			}
		}
	}
	return list
}
