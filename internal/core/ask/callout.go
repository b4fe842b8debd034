package ask

import (
	"context"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/gear"
)

// bags fills in what is in the team's kits where a request does not bring it.
func (e *Env) bags(ctx context.Context, models *[]gear.Model, items *[]gear.Item, kits *[]gear.Kit) error {
	if *models != nil || *items != nil {
		return nil
	}
	s, err := e.store(ctx)
	if err == nil {
		*models, *items, *kits = s.Models, s.Items, s.Kits
	}
	return err
}

// Callout answers a callout with its card.
func Callout(ctx context.Context, env Env, _ none, a *callout.Asked) (*callout.Card, error) {
	if err := env.bags(ctx, &a.Models, &a.Items, &a.Kits); err != nil {
		return nil, err
	}
	return a.Answer(ctx)
}

// Capability says what one kit is capable of.
func Capability(ctx context.Context, env Env, _ none, a *callout.KitAsked) (*callout.Capability, error) {
	if err := env.bags(ctx, &a.Models, &a.Items, &a.Kits); err != nil {
		return nil, err
	}
	return a.Answer(ctx)
}

// Near is what sites are near.
type Near struct {
	Sites []callout.Near `json:"sites"`
}

// NearSites finds sites by name or distance.
func NearSites(_ context.Context, _ Env, _ none, a *callout.NearAsked) (*Near, error) {
	list, err := a.Answer()
	return &Near{list}, err
}
