package web

import (
	"context"

	"zealousknot/internal/core/propose"
	"zealousknot/internal/core/strict"
)

type proposeIn struct {
	ID      string `query:"id" maxLength:"64" doc:"the drop's own id, so that what is on it as it is kept is not elsewhere"`
	RawBody []byte
}

type proposeOut struct {
	Body *propose.Proposal
}

// propose fills what a drop lacks from the team's store; nothing is kept.
func (c *Config) propose(ctx context.Context, in *proposeIn) (*proposeOut, error) {
	var asked propose.RigAsked
	if err := strict.Read(in.RawBody, &asked); err != nil {
		return nil, failed(ctx, err)
	}
	stock, err := c.Store.Stock(ctx, who(ctx).Team, &asked.Drop, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	answer, err := asked.Answer(ctx, stock)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &proposeOut{answer}, nil
}
