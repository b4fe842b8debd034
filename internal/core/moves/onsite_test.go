package moves_test

import (
	"context"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
)

// sceneOn is the scene of the first person on a drop, with where they are.
func sceneOn(d *drop.Document, ways school.Schools) (*stance.Scene, quantity.Metres, error) {
	s, err := site.Open(d)
	if err != nil {
		return nil, 0, err
	}
	sc, p, err := stance.On(s, "", ways)
	if err != nil {
		return nil, 0, err
	}
	return sc, p.AtM, nil
}

// planOn plans a move of the first person on a drop; additions are of the drop and a store.
func planOn(ctx context.Context, d *drop.Document, ask moves.Ask, ways school.Schools, store *drop.Store) (*moves.MovePlan, error) {
	s, err := site.Open(d)
	if err != nil {
		return nil, err
	}
	return moves.On(ctx, s, "", ask, ways, func() ([]gear.Model, error) {
		if store == nil {
			return nil, nil
		}
		return store.Models, nil
	})
}

// walkOn walks a list on a drop.
func walkOn(d *drop.Document, list *moves.StepList, ways school.Schools) (*moves.MovePlan, []moves.Breach, error) {
	s, err := site.Open(d)
	if err != nil {
		return nil, nil, err
	}
	return list.Walk(s, ways)
}
