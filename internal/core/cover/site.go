package cover

import (
	"context"

	"zealousknot/internal/core/site"
	"zealousknot/internal/core/team"
)

// Options are of whoever asks.
type Options struct {
	// Cache keeps what is found; nil for nothing.
	Cache *Cache
	// MaxStates bounds the states that are expanded in sum; 0: MaxStates.
	MaxStates int
}

// Open plans rescues on a site; nil where no rescuer is assigned.
func Open(ctx context.Context, s *site.Site, o Options) (*Planner, error) {
	in := Setting{Policy: s.Policy, Options: o}
	if s.Rig.Team != nil && s.Rig.Team.Body != nil {
		in.Team = team.On(s)
	}
	return New(ctx, s.Rig, in)
}
