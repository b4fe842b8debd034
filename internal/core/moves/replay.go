package moves

import (
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/stance"
)

// Breach is what a replay found at a step.
type Breach = stance.Breach

// Replay walks a list of actions from a start and reports each step that breaks a
// rule or cannot be done. It shares the rules with the search, and nothing else.
func Replay(sc *stance.Scene, start stance.Stance, actions []stance.Action) (found []Breach, end stance.Stance) {
	if broken := sc.Check(&start); stance.Stops(broken) {
		// Where one starts is a fact, not a step: what is in breach then is shown, and a
		// step that makes it worse is broken.
		if sc.InBreach(&start) {
			for i := range broken {
				broken[i].Severity = finding.Look
			}
		}
		found = append(found, Breach{Step: 0, Broken: broken})
	}
	at := start
	for i, a := range actions {
		next, broken, err := sc.Apply(at, a)
		if err != nil {
			return append(found, Breach{Step: i + 1, Impossible: err.Error()}), at
		}
		if len(broken) > 0 {
			found = append(found, Breach{Step: i + 1, Broken: broken})
		}
		at = next
	}
	if loose := sc.Loose(&at, stance.NoTool); len(loose) > 0 {
		found = append(found, Breach{Step: len(actions), Broken: loose})
	}
	return found, at
}

// Walk is Replay with each step told like a plan's, as far as the steps can be done.
func Walk(sc *stance.Scene, start stance.Stance, actions []stance.Action) (*Plan, []Breach, stance.Stance) {
	found, end := Replay(sc, start, actions)
	if n := len(found); n > 0 && found[n-1].Impossible != "" {
		actions = actions[:found[n-1].Step-1]
	}
	p := &Plan{Steps: []Step{}, Person: sc.Name, Schools: sc.Schools, Start: show(sc, &start), ReachUpMM: sc.Up.MM(), ReachOutMM: sc.Out.MM()}
	steps, at := make([]step, len(actions)), start
	for i, a := range actions {
		at, _, _ = sc.Apply(at, a)
		steps[i] = step{action: a, after: at}
	}
	p.tell(sc, start, steps)
	return p, found, end
}

// Actions gives the plan's actions alone.
func (p *Plan) Actions() []stance.Action {
	list := make([]stance.Action, len(p.Steps))
	for i := range p.Steps {
		list[i] = p.Steps[i].Action
	}
	return list
}
