package store

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store/sqlc"
)

// Policy gives what a team decided for itself and its version; a team that has
// decided nothing yet has version 0 and uses what the program ships.
func (s *Store) Policy(ctx context.Context, team Team) (p *policy.Policy, version int, err error) {
	return readPolicy(ctx, s.q, team)
}

// SavePolicy replaces a team's policy if it still has the version it was read
// with, and gives the new version; a *ConflictError where somebody was faster.
// Plans that it touches are taken back.
func (s *Store) SavePolicy(ctx context.Context, team Team, signer *record.Signer, version int, p *policy.Policy) (saved int, err error) {
	body, err := json.Marshal(p)
	if err != nil {
		return 0, err
	}
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		l, err := s.openLedger(ctx, q, team.ID)
		if err != nil {
			return err
		}
		was, now, err := readPolicy(ctx, q, team)
		if err != nil {
			return err
		}
		if saved = now; now > 0 && bytes.Equal(text(was), body) {
			return nil
		}
		if saved, err = savePolicy(ctx, q, team.ID, version, body); err != nil {
			return err
		}
		row := record.ChangedRow{Kind: "policy", ID: "policy", Revision: saved, Before: text(was), After: body}
		if err := l.change(signer, record.PolicyChange, "", &record.Changed{Count: 1, Rows: []record.ChangedRow{row}}); err != nil {
			return err
		}
		return l.changed(ctx, team, signer, Change{Policy: true})
	})
	return saved, err
}

// SetTimeZone changes the zone whose days and hours are a team's.
func (s *Store) SetTimeZone(ctx context.Context, team Team, signer *record.Signer, zone string) error {
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		l, err := s.openLedger(ctx, q, team.ID)
		if err != nil {
			return err
		}
		was, err := q.TimeZone(ctx, team.ID)
		if err != nil || was == zone {
			return missing(err)
		}
		if err := q.SetTimeZone(ctx, sqlc.SetTimeZoneParams{ID: team.ID, TimeZone: zone}); err != nil {
			return err
		}
		said := func(zone string) []byte { return text(map[string]string{"time_zone": zone}) }
		row := record.ChangedRow{Kind: "team", ID: "team", Before: said(was), After: said(zone)}
		if err := l.change(signer, record.PolicyChange, "", &record.Changed{Count: 1, Rows: []record.ChangedRow{row}}); err != nil {
			return err
		}
		return l.changed(ctx, team, signer, Change{Policy: true})
	})
}

func savePolicy(ctx context.Context, q *sqlc.Queries, team uuid.UUID, version int, body []byte) (int, error) {
	var v int32
	var err error
	if version == 0 {
		v, err = q.AddPolicy(ctx, sqlc.AddPolicyParams{TeamID: team, Body: body})
	} else {
		v, err = q.SavePolicy(ctx, sqlc.SavePolicyParams{TeamID: team, Version: int32(version), Body: body})
	}
	if !errors.Is(err, pgx.ErrNoRows) {
		return int(v), err
	}
	now, err := q.Policy(ctx, team)
	if err != nil {
		return 0, missing(err)
	}
	return 0, &ConflictError{Version: int(now.Version)}
}
