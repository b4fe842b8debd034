package ask

import (
	"cmp"
	"context"
	"errors"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/progress"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/site"
)

// MoveAsked asks for a move of a person on a drop.
type MoveAsked struct {
	Drop   drop.Document    `json:"drop"`
	Person string           `json:"person,omitempty" maxLength:"64" doc:"left out: the first"`
	Move   string           `json:"move" maxLength:"40"`
	FromM  *quantity.Metres `json:"from_m,omitempty" minimum:"0" maximum:"2000" doc:"left out: where the person is"`
	ToM    *quantity.Metres `json:"to_m,omitempty" minimum:"0" maximum:"2000" doc:"left out: just beyond what is in the way"`
	Set    int              `json:"set,omitempty" minimum:"0" maximum:"20" doc:"that the person is on; left out: the first"`
	ToSet  int              `json:"to_set,omitempty" minimum:"0" maximum:"20" doc:"of a transfer; left out: the nearest other one"`
	// AsRigged begins with the holds on the drop.
	AsRigged bool           `json:"as_rigged,omitempty" doc:"begin with the person's holds as the drop has them; left out: hanging cleanly"`
	Schools  school.Schools `json:"schools,omitzero" doc:"what is left out is the policy's"`
	// MaxStates bounds the search.
	MaxStates int `json:"max_states,omitempty" minimum:"1" maximum:"400000" doc:"states that are expanded at most; left out: 400 000"`
}

// MoveAnswer is a plan, or why there is none.
type MoveAnswer struct {
	Outcome  search.Outcome `json:"outcome" enum:"found,none,undecided" doc:"none: among the heights that are considered; undecided: the search was cut off"`
	Expanded int            `json:"expanded" doc:"states that were expanded for the move"`
	Bound    int            `json:"bound" doc:"how many could have been"`
	Plan     *moves.Plan    `json:"plan,omitempty"`
	// Impossible says why there is none, and Addition what would give one.
	Impossible string   `json:"impossible,omitempty"`
	Addition   []string `json:"addition,omitempty"`
	// AdditionsCut: not every addition was decided.
	AdditionsCut bool `json:"additions_cut,omitempty" doc:"not every addition was decided: another one may do"`
	// LeftOut says of each carried thing that was not planned with, why.
	LeftOut []string `json:"left_out,omitempty" doc:"where there is no plan, of each carried thing that nothing is done with: why"`
}

// Answer plans what is requested. A *strict.Error names what cannot be asked.
func (a *MoveAsked) Answer(ctx context.Context, env Env) (*MoveAnswer, error) {
	s, err := site.Open(&a.Drop)
	if err != nil {
		return nil, err
	}
	of := moves.Ask{Move: a.Move, From: a.FromM, To: a.ToM, Set: a.Set, ToSet: a.ToSet, AsRigged: a.AsRigged, MaxStates: a.MaxStates}
	plan, err := moves.On(progress.States(ctx), s, a.Person, of, a.Schools, func() ([]gear.Model, error) {
		g, err := env.store(ctx)
		if err != nil {
			return nil, err
		}
		return g.Models, nil
	})
	var none *moves.Impossible
	if errors.As(err, &none) {
		return &MoveAnswer{Outcome: none.Outcome, Expanded: none.Expanded, Bound: none.Bound, Impossible: none.Error(), Addition: none.Addition, AdditionsCut: none.AdditionsCut, LeftOut: none.LeftOut}, ctx.Err()
	}
	if err != nil {
		return nil, err
	}
	return &MoveAnswer{Outcome: search.Found, Expanded: plan.Expanded, Bound: cmp.Or(a.MaxStates, moves.MaxStates), Plan: plan}, nil
}

// ReplayAsked asks for a step list to be walked by the rules.
type ReplayAsked struct {
	Drop    drop.Document  `json:"drop"`
	List    moves.StepList `json:"list"`
	Schools school.Schools `json:"schools,omitzero" doc:"what is left out is the policy's"`
}

// ReplayAnswer is what a replay found.
type ReplayAnswer struct {
	Found []moves.Breach `json:"found" doc:"each step that breaks a rule or cannot be done"`
	// Walked are the steps as far as they can be done, told like a plan's.
	Walked *moves.Plan `json:"walked"`
}

// Answer walks the list. A *strict.Error names what cannot be asked.
func (a *ReplayAsked) Answer(context.Context, Env) (*ReplayAnswer, error) {
	s, err := site.Open(&a.Drop)
	if err != nil {
		return nil, err
	}
	walked, found, err := a.List.Walk(s, a.Schools)
	if err != nil {
		return nil, err
	}
	return &ReplayAnswer{Found: append([]moves.Breach{}, found...), Walked: walked}, nil
}
