package moves

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// Impossible is returned where a move has no way that keeps every rule, among the heights
// that are considered, or where that was not decided.
type Impossible struct {
	Move string
	// Outcome is none, or undecided.
	Outcome search.Outcome
	// Expanded are the states that were expanded for the move, of at most Bound.
	Expanded, Bound int
	// Beyond says what no kit mends, and what then: who asks hangs below damage, or the move leads
	// to strands that hang on one thing. Empty where it is neither.
	Beyond string
	// Addition is the smallest addition to the kit that gives a way; empty where none was
	// found. AdditionsCut: not every addition was decided.
	Addition     []string
	AdditionsCut bool
	// LeftOut says of each carried thing that was not planned with, why.
	LeftOut []string
}

func (e *Impossible) Error() string {
	if len(e.LeftOut) > 0 {
		return e.why() + " (not planned with: " + strings.TrimSuffix(strings.Join(e.LeftOut, " "), ".") + ")"
	}
	return e.why()
}

func (e *Impossible) why() string {
	if e.Beyond != "" {
		return fmt.Sprintf("%s: %s", e.Move, e.Beyond)
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

// Scene is the scene of a person on a site, with what they carry that may be used on the day,
// is for the ropes, and strong enough; an empty id is the first person's. What schools leave out is the
// policy's. A *strict.Error says who or what is missing.
func Scene(s *site.Site, person string, schools school.Schools) (*stance.Scene, *rig.PersonView, error) {
	p := s.Person(person)
	if p == nil {
		return nil, nil, site.Refused("/person", "there is nobody of this id on the drop")
	}
	p, left := fit.Ready(p, &fit.Context{Rig: s.Rig, Policy: s.Policy})
	sc, err := stance.On(s, p, schools)
	if err != nil {
		return nil, nil, err
	}
	sc.LeftOut = left
	return sc, p, nil
}

// leftOut are the reasons of what was left out, in the order in which it is carried.
func leftOut(s *site.Site, person string, sc *stance.Scene) []string {
	var list []string
	for _, o := range s.Person(person).Carries {
		if why := sc.LeftOut[o.Item.ID]; why != "" {
			list = append(list, why)
		}
	}
	return list
}

// within holds the heights that are requested to the strands, of the set where one is: a search
// for what is out of every reach would be cut off, and decide nothing. Who is to come down to the
// landing stands on it.
func (a *Ask) within(sc *stance.Scene) error {
	top, reach := sc.Ground, sc.Ground
	for i := range sc.Lines {
		l := &sc.Lines[i]
		if a.Set != 0 && l.Set != a.Set {
			continue
		}
		top = max(top, l.Top)
		if other := sc.LineOf(l.Set, rig.Backup); l.Role == rig.Main && other >= 0 {
			reach = max(reach, min(l.Top, sc.Lines[other].Top)-stance.Sternal)
		}
	}
	if a.From != nil && stance.ToCm(*a.From) > top {
		return strict.Faultf("/from_m", "%v is above the anchors, at %v", *a.From, top.M())
	}
	m := Find(a.Move)
	if a.ToSet != 0 && m != nil && m.Name != transfer {
		return strict.Faultf("/to_set", "belongs to a transfer, not to %s", m.Name)
	}
	if a.To == nil || m == nil {
		return nil
	}
	switch to := stance.ToCm(*a.To); {
	case m.way == 0 && m.Name != thereAndBack && m.Name != isolateDamage:
		return strict.Faultf("/to_m", "%s ends where it begins: it has no height to come to", m.Name)
	case to < 0:
		return strict.Faultf("/to_m", "%v is below the landing", *a.To)
	case to > reach:
		return strict.Faultf("/to_m", "%v is higher than anybody hangs here: below the anchors there is room for a backup up to %v", *a.To, reach.M())
	case to < sc.Ground:
		ground := sc.Ground.M()
		a.To = &ground
	}
	return nil
}

// On finds a move of a person on a site; an *Impossible where there is none. An addition is
// looked for among the models of the drop and more, which are requested only then.
func On(ctx context.Context, s *site.Site, person string, ask Ask, schools school.Schools, more func() ([]gear.Model, error)) (*Plan, error) {
	sc, p, err := Scene(s, person, schools)
	if err != nil {
		return nil, err
	}
	if err := ask.within(sc); err != nil {
		return nil, err
	}
	plan, err := For(ctx, sc, p.AtM, ask)
	var refused *strict.Error
	lacks := errors.As(err, &refused) && refused.Faults[0].Pointer == "/kit"
	bound := cmp.Or(ask.MaxStates, MaxStates)
	outcome := search.OutcomeOf(err)
	if outcome == search.Undecided || outcome == search.None {
		none := &Impossible{Move: ask.Move, Outcome: outcome, Expanded: plan.Expanded, Bound: bound, LeftOut: leftOut(s, person, sc), Beyond: cmp.Or(BelowDamage(sc, p.AtM, ask), Unmended(sc, p.AtM, ask))}
		if none.Beyond != "" || outcome == search.Undecided && plan.Expanded >= bound {
			none.AdditionsCut = none.Beyond == ""
			return nil, none
		}
		err = ErrNone
	}
	if errors.Is(err, ErrNone) || lacks {
		none := &Impossible{Move: ask.Move, Outcome: cmp.Or(outcome, search.None), Expanded: plan.Expanded, Bound: bound, LeftOut: leftOut(s, person, sc)}
		var models []gear.Model
		if more != nil {
			if models, err = more(); err != nil {
				return nil, err
			}
		}
		found := Missing(ctx, sc, p.AtM, ask, spares(s, models), bound-plan.Expanded)
		none.Addition, none.AdditionsCut = found.List, found.Cut
		return nil, none
	}
	if err == nil {
		plan.LeftOut = leftOut(s, person, sc)
	}
	return plan, err
}

// addable are the classes that an addition is looked for in, the commonest first.
var addable = []gear.Class{gear.BackupDevice, gear.Lanyard, gear.HandAscender, gear.ChestAscender, gear.Descender}

// spares are things that could be added to a person's kit: one of each class.
func spares(s *site.Site, more []gear.Model) []stance.Tool {
	var list []stance.Tool
	models := slices.Concat(s.Drop.Models, more)
	for _, class := range addable {
		for i := range models {
			if m := &models[i]; m.Class == class {
				item := &gear.Item{ID: "another-" + m.ID, Label: "a further " + m.Title()}
				list = append(list, stance.ToolOf(&rig.Piece{Item: item, Model: m}, s.Policy.ConnectorM))
				break
			}
		}
	}
	return list
}

// StepList is a move as a list of actions, to be replayed.
type StepList struct {
	// Move and ToM say what it is to lead to; without, only the rules are looked at.
	Move   string          `json:"move,omitempty" maxLength:"40"`
	ToM    quantity.Metres `json:"to_m,omitempty" minimum:"0" maximum:"2000"`
	Person string          `json:"person,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"left out: the first"`
	Start  ShownStance     `json:"start"`
	Steps  []stance.Action `json:"steps" maxItems:"500"`
	// Schools are those that it follows; what is left out is the policy's.
	Schools school.Schools `json:"schools,omitzero"`
}

// ReadSteps reads a step list strictly: a start with its steps, or a whole plan as
// it is printed, of which the start and the actions count.
func ReadSteps(text []byte) (*StepList, error) {
	list := new(StepList)
	if !strict.Has(text, "seconds_s") {
		return list, strict.Read(text, list)
	}
	var plan Plan
	if err := strict.Read(text, &plan); err != nil {
		return nil, err
	}
	return StepsOf(&plan), nil
}

// StepsOf is a plan as a step list.
func StepsOf(p *Plan) *StepList {
	return &StepList{Move: p.Move, ToM: p.ToM, Start: p.Start, Steps: p.Actions(), Schools: p.Schools}
}

// Walk walks the list on a site by the rules alone: the steps that can be done, told like a
// plan's, and at which step which rule is broken.
func (list *StepList) Walk(s *site.Site, schools school.Schools) (*Plan, []Breach, error) {
	sc, _, err := Scene(s, list.Person, schools.With(list.Schools))
	if err != nil {
		return nil, nil, err
	}
	start, err := list.Start.Read(sc)
	if err != nil {
		return nil, nil, err
	}
	m := Find(list.Move)
	if m == nil && list.Move != "" {
		return nil, nil, site.Refused("/move", "no move "+list.Move+" is known")
	}
	walked, found, end := Walk(sc, start, list.Steps)
	walked.Move, walked.ToM = list.Move, list.ToM
	done := len(walked.Steps) == len(list.Steps)
	if m != nil && done && !m.Reached(sc, &start, &end, Ask{To: &list.ToM}) {
		why := "the steps do not lead to where " + m.Name + " ends"
		found = append(found, Breach{Step: len(list.Steps), Broken: []stance.Violation{{Rule: "moves.goal", Why: why, Severity: finding.Stop}}})
	}
	return walked, found, nil
}
