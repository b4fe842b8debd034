package drop

import (
	"errors"

	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/school"
)

// MoveAsked asks for a move of a person on a drop.
type MoveAsked struct {
	Drop   Document         `json:"drop"`
	Person string           `json:"person,omitempty" maxLength:"64" doc:"left out: the first"`
	Move   string           `json:"move" maxLength:"40"`
	FromM  *quantity.Metres `json:"from_m,omitempty" minimum:"0" maximum:"2000" doc:"left out: where the person is"`
	ToM    *quantity.Metres `json:"to_m,omitempty" minimum:"0" maximum:"2000" doc:"left out: just beyond what is in the way"`
	Set    int              `json:"set,omitempty" minimum:"0" maximum:"20" doc:"that the person is on; left out: the first"`
	ToSet  int              `json:"to_set,omitempty" minimum:"0" maximum:"20" doc:"of a transfer; left out: the nearest other one"`
	// AsRigged begins with the holds on the drop.
	AsRigged bool           `json:"as_rigged,omitempty" doc:"begin with the person's holds as the drop has them; left out: hanging cleanly"`
	Schools  school.Schools `json:"schools,omitzero" doc:"what is left out is the policy's"`
}

// MoveAnswer is a plan, or why there is none.
type MoveAnswer struct {
	Plan *moves.MovePlan `json:"plan,omitempty"`
	// Impossible says why there is none, and Addition what would give one.
	Impossible string   `json:"impossible,omitempty"`
	Addition   []string `json:"addition,omitempty"`
}

// Answer plans what is asked for. A *strict.Error names what cannot be asked.
func (a *MoveAsked) Answer(store *Store) (*MoveAnswer, error) {
	ask := moves.Ask{Move: a.Move, From: a.FromM, To: a.ToM, Set: a.Set, ToSet: a.ToSet, AsRigged: a.AsRigged}
	plan, err := a.Drop.Plan(a.Person, ask, a.Schools, store)
	var none *Impossible
	if errors.As(err, &none) {
		return &MoveAnswer{Impossible: none.Error(), Addition: none.Addition}, nil
	}
	if err != nil {
		return nil, err
	}
	return &MoveAnswer{Plan: plan}, nil
}

// ReplayAsked asks for a step list to be walked by the rules.
type ReplayAsked struct {
	Drop    Document       `json:"drop"`
	List    StepList       `json:"list"`
	Schools school.Schools `json:"schools,omitzero" doc:"what is left out is the policy's"`
}

// ReplayAnswer is what a replay found.
type ReplayAnswer struct {
	Found []moves.Breach `json:"found" doc:"each step that breaks a rule or cannot be done"`
	// Walked are the steps as far as they can be done, told like a plan's.
	Walked *moves.MovePlan `json:"walked"`
}

// Answer walks the list. A *strict.Error names what cannot be asked.
func (a *ReplayAsked) Answer() (*ReplayAnswer, error) {
	walked, found, err := a.Drop.Walk(&a.List, a.Schools)
	if err != nil {
		return nil, err
	}
	return &ReplayAnswer{Found: append([]moves.Breach{}, found...), Walked: walked}, nil
}
