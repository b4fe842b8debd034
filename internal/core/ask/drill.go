package ask

import (
	"context"

	"zealousknot/internal/core/drill"
)

// MakeExercise makes an exercise; a made-up rig without gear is made from the team's store.
func MakeExercise(ctx context.Context, env Env, _ none, a *drill.Asked) (*drill.Exercise, error) {
	if a.Drop == nil && a.Gear == nil {
		store, err := env.store(ctx)
		if err != nil {
			return nil, err
		}
		a.Gear = store
	}
	return a.Make(ctx)
}

// MarkExercise marks an answer.
func MarkExercise(ctx context.Context, _ Env, _ none, a *drill.Marked) (*drill.Mark, error) {
	return a.Mark(ctx)
}

// StepExercise says where the steps of a move lead, and what could be done then.
func StepExercise(ctx context.Context, _ Env, _ none, a *drill.Stepped) (*drill.Standing, error) {
	return a.Answer(ctx)
}
