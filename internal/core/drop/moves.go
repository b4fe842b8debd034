package drop

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// Scene is what a person's moves on a drop are made in, with where they are. An
// empty id is the first person's.
func (d *Document) Scene(person string, schools school.Schools) (sc *stance.Scene, at quantity.Metres, err error) {
	sc, p, err := d.scene(person, schools)
	if err != nil {
		return nil, 0, err
	}
	return sc, p.AtM, nil
}

func (d *Document) scene(person string, schools school.Schools) (*stance.Scene, *rig.PersonView, error) {
	r, err := d.resolve()
	if err != nil {
		return nil, nil, err
	}
	for _, p := range r.People {
		if person != "" && p.ID != person {
			continue
		}
		sc, err := stance.NewScene(r, p, d.Policy.With().ConnectorM, schools.With(d.Policy.Schools))
		if err != nil {
			return nil, nil, asked("/people", err.Error())
		}
		d.paced(sc)
		return sc, p, nil
	}
	return nil, nil, asked("/person", "there is nobody of this id on the drop")
}

// paced gives a scene what the policy says of time and force.
func (d *Document) paced(sc *stance.Scene) {
	p := d.Policy.With()
	sc.CeilingKN = p.ArrestCeilingKN
	sc.Loops(p.Knots.MidLoop)
	for _, t := range d.Policy.MoveTimes {
		sc.Pace.Seconds[stance.Do(t.Do)] = float64(t.S)
	}
	if w := d.Policy.MoveWeights; w != nil {
		sc.Pace.Handled, sc.Pace.Effort, sc.Pace.FallMetre, sc.Pace.Look = float64(w.HandledS), float64(w.Effort), float64(w.FallS), float64(w.LookS)
	}
}

func asked(pointer, detail string) error {
	return &strict.Error{Faults: []strict.Fault{{Pointer: pointer, Detail: detail}}}
}

// Impossible is returned where a move has no way that keeps every rule, among the heights
// that are considered, or where that was not decided.
type Impossible struct {
	Move string
	// Outcome is none, or undecided.
	Outcome search.Outcome
	// Expanded are the states that were expanded for the move, of at most Bound.
	Expanded, Bound int
	// Damage says that who asks hangs below damage, and what then; empty where they do not.
	Damage string
	// Addition is the smallest addition to the kit that gives a way; empty where none was
	// found. AdditionsCut: not every addition was decided.
	Addition     []string
	AdditionsCut bool
}

func (e *Impossible) Error() string {
	if e.Damage != "" {
		return fmt.Sprintf("%s: %s", e.Move, e.Damage)
	}
	if e.Outcome == search.Undecided {
		with := ""
		if len(e.Addition) > 0 {
			with = "; with " + strings.Join(e.Addition, " and ") + " there is a way"
		}
		return fmt.Sprintf("%s: %v; %d states were expanded, of at most %d%s", e.Move, search.ErrUndecided, e.Expanded, e.Bound, with)
	}
	switch {
	case len(e.Addition) > 0:
		return fmt.Sprintf("%s: %v; with %s there is one", e.Move, search.ErrNone, strings.Join(e.Addition, " and "))
	case e.AdditionsCut:
		return fmt.Sprintf("%s: %v; whether an addition gives one is not decided", e.Move, search.ErrNone)
	}
	return fmt.Sprintf("%s: %v; no addition of one or two things that are known here gives one", e.Move, search.ErrNone)
}

// Plan finds a move of a person on the drop; an *Impossible where there is none. An
// addition is looked for among the models of the document and of a store, where one
// is given.
func (d *Document) Plan(ctx context.Context, person string, ask moves.Ask, schools school.Schools, store *Store) (*moves.MovePlan, error) {
	sc, p, err := d.scene(person, schools)
	if err != nil {
		return nil, err
	}
	plan, err := moves.For(ctx, sc, p.AtM, ask)
	var refused *strict.Error
	lacks := errors.As(err, &refused) && refused.Faults[0].Pointer == "/kit"
	bound := cmp.Or(ask.MaxStates, moves.MaxStates)
	outcome := search.OutcomeOf(err)
	if outcome == search.Undecided || outcome == search.None {
		none := &Impossible{Move: ask.Move, Outcome: outcome, Expanded: plan.Expanded, Bound: bound, Damage: moves.BelowDamage(sc, p.AtM, ask)}
		if none.Damage != "" || outcome == search.Undecided && plan.Expanded >= bound {
			none.AdditionsCut = none.Damage == ""
			return nil, none
		}
		err = moves.ErrNone
	}
	if errors.Is(err, moves.ErrNone) || lacks {
		none := &Impossible{Move: ask.Move, Outcome: cmp.Or(outcome, search.None), Expanded: plan.Expanded, Bound: bound}
		more := moves.Missing(ctx, sc, p.AtM, ask, d.spares(store), bound-plan.Expanded)
		none.Addition, none.AdditionsCut = more.List, more.Cut
		return nil, none
	}
	return plan, err
}

// addable are the classes that an addition is looked for in, the commonest first.
var addable = []gear.Class{gear.BackupDevice, gear.Lanyard, gear.HandAscender, gear.ChestAscender, gear.Descender}

// spares are things that could be added to a person's kit: one of each class.
func (d *Document) spares(store *Store) []stance.Tool {
	var list []stance.Tool
	connector := d.Policy.With().ConnectorM
	models := slices.Clone(d.Models)
	if store != nil {
		models = append(models, store.Models...)
	}
	for _, class := range addable {
		for i := range models {
			if m := &models[i]; m.Class == class {
				item := &gear.Item{ID: "another-" + m.ID, Label: "a further " + m.Title()}
				list = append(list, stance.ToolOf(&rig.Piece{Item: item, Model: m}, connector))
				break
			}
		}
	}
	return list
}

// StepList is a move as a list of actions, to be replayed.
type StepList struct {
	// Move and ToM say what it is to lead to; without, only the rules are looked at.
	Move   string            `json:"move,omitempty" maxLength:"40"`
	ToM    quantity.Metres   `json:"to_m,omitempty" minimum:"0" maximum:"2000"`
	Person string            `json:"person,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"left out: the first"`
	Start  moves.ShownStance `json:"start"`
	Steps  []stance.Action   `json:"steps" maxItems:"500"`
	// Schools are those that it follows; what is left out is the policy's.
	Schools school.Schools `json:"schools,omitzero"`
}

// ReadSteps reads a step list strictly: a start with its steps, or a whole plan as
// it is printed, of which the start and the actions count.
func ReadSteps(text []byte) (*StepList, error) {
	list := new(StepList)
	if !bytes.Contains(text, []byte(`"seconds_s"`)) {
		return list, strict.Read(text, list)
	}
	var plan moves.MovePlan
	if err := strict.Read(text, &plan); err != nil {
		return nil, err
	}
	return StepsOf(&plan), nil
}

// StepsOf is a plan as a step list.
func StepsOf(p *moves.MovePlan) *StepList {
	return &StepList{Move: p.Move, ToM: p.ToM, Start: p.Start, Steps: p.Actions(), Schools: p.Schools}
}

// Replay walks a list of actions on the drop by the rules alone, and says at which
// step which rule is broken.
func (d *Document) Replay(list *StepList, schools school.Schools) ([]moves.Breach, error) {
	_, found, err := d.Walk(list, schools)
	return found, err
}

// Walk is Replay with the steps that can be done, told like a plan's.
func (d *Document) Walk(list *StepList, schools school.Schools) (*moves.MovePlan, []moves.Breach, error) {
	sc, _, err := d.Scene(list.Person, schools.With(list.Schools))
	if err != nil {
		return nil, nil, err
	}
	start, err := list.Start.Read(sc)
	if err != nil {
		return nil, nil, err
	}
	m := moves.Find(list.Move)
	if m == nil && list.Move != "" {
		return nil, nil, asked("/move", "no move "+list.Move+" is known")
	}
	walked, found, end := moves.Walk(sc, start, list.Steps)
	walked.Move, walked.ToM = list.Move, list.ToM
	done := len(walked.Steps) == len(list.Steps)
	if m != nil && done && !m.Reached(sc, &start, &end, moves.Ask{To: &list.ToM}) {
		why := "the steps do not lead to where " + m.Name + " ends"
		found = append(found, moves.Breach{Step: len(list.Steps), Broken: []stance.Violation{{Rule: "moves.goal", Why: why, Severity: finding.Stop}}})
	}
	return walked, found, nil
}
