package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/store/sqlc"
)

// Policy gives what a team decided for itself and its version; a team that has
// decided nothing yet has version 0 and uses what the program ships.
func (s *Store) Policy(ctx context.Context, team Team) (p *policy.Policy, version int, err error) {
	row, err := s.q.Policy(ctx, team.ID)
	if errors.Is(err, pgx.ErrNoRows) {
		return &policy.Policy{Name: team.Name}, 0, nil
	}
	if err != nil {
		return nil, 0, err
	}
	if p, err = drop.ReadPolicy(row.Body); err != nil {
		return nil, 0, fmt.Errorf("policy in the database: %w", err)
	}
	return p, int(row.Version), nil
}

// SavePolicy replaces a team's policy if it still has the version it was read
// with, and gives the new version; a *ConflictError where somebody was faster.
func (s *Store) SavePolicy(ctx context.Context, team uuid.UUID, version int, p *policy.Policy) (int, error) {
	body, err := json.Marshal(p)
	if err != nil {
		return 0, err
	}
	var v int32
	if version == 0 {
		v, err = s.q.AddPolicy(ctx, sqlc.AddPolicyParams{TeamID: team, Body: body})
	} else {
		v, err = s.q.SavePolicy(ctx, sqlc.SavePolicyParams{TeamID: team, Version: int32(version), Body: body})
	}
	if !errors.Is(err, pgx.ErrNoRows) {
		return int(v), refused(err)
	}
	now, err := s.q.Policy(ctx, team)
	if err != nil {
		return 0, missing(err)
	}
	return 0, &ConflictError{Version: int(now.Version)}
}
