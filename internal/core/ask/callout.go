package ask

import (
	"context"

	"zealousknot/internal/core/callout"
)

// Callout answers a callout with its card.
func Callout(ctx context.Context, env Env, _ none, a *callout.Asked) (*callout.Card, error) {
	if a.Models == nil && a.Items == nil {
		s, err := env.store(ctx)
		if err != nil {
			return nil, err
		}
		a.Models, a.Items, a.Kits = s.Models, s.Items, s.Kits
	}
	return a.Answer(ctx)
}

// Capability says what one kit is capable of.
func Capability(ctx context.Context, env Env, _ none, a *callout.KitAsked) (*callout.Capability, error) {
	if a.Models == nil && a.Items == nil {
		s, err := env.store(ctx)
		if err != nil {
			return nil, err
		}
		a.Models, a.Items, a.Kits = s.Models, s.Items, s.Kits
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
