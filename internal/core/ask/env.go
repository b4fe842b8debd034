package ask

import (
	"context"

	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/propose"
	"zealousknot/internal/core/rig"
)

// Env is what belongs to whoever asks: a process, a worker, a command. The zero Env is
// ready to use: it keeps nothing, and what a question names is all there is. Several may
// ask with one at once.
type Env struct {
	// Rescues keeps what the searches of rescues found; nil for nothing.
	Rescues *cover.Cache
	// Store gives the team's store, Stock what of it may go on a drop that is kept under an
	// id, People the team's people. They are called only where an answer needs them; nil for
	// what there is not.
	Store  func(context.Context) (*drop.Store, error)
	Stock  func(ctx context.Context, d *drop.Document, id string) (propose.Stock, error)
	People func(context.Context) ([]rig.Member, error)
	// Day adds to a board what of the team it is judged by; nil: it is judged by what is sent.
	Day func(context.Context, *day.Asked) error
}

// NewEnv is an Env that keeps what was found.
func NewEnv() Env { return Env{Rescues: new(cover.Cache)} }

func (e *Env) store(ctx context.Context) (*drop.Store, error) {
	if e.Store == nil {
		return &drop.Store{}, nil
	}
	return e.Store(ctx)
}

func (e *Env) people(ctx context.Context) ([]rig.Member, error) {
	if e.People == nil {
		return nil, nil
	}
	return e.People(ctx)
}

// stock is what may go on a drop; without a store, what the drop has itself.
func (e *Env) stock(ctx context.Context, d *drop.Document, id string) (propose.Stock, error) {
	if e.Stock == nil {
		return propose.Stock{Store: &drop.Store{Models: d.Models, Items: d.Items}}, nil
	}
	return e.Stock(ctx, d, id)
}
