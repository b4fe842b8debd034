package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"maps"
	"slices"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/record"
	"zealousknot/internal/core/run"
	"zealousknot/internal/store/sqlc"
)

// DeviceToken is what a device shows to send readings for one run.
type DeviceToken struct {
	ID     string    `json:"id"`
	Name   string    `json:"name"`
	MadeBy string    `json:"made_by"`
	MadeAt time.Time `json:"made_at"`
}

// AddDeviceToken makes a token of a run; the secret is given once and never kept.
func (s *Store) AddDeviceToken(ctx context.Context, team uuid.UUID, signer *record.Signer, id uuid.UUID, name string) (token uuid.UUID, secret string, err error) {
	if _, err := s.q.Run(ctx, sqlc.RunParams{TeamID: team, ID: id}); err != nil {
		return token, "", missing(err)
	}
	raw := make([]byte, 24)
	_, _ = rand.Read(raw) // it never fails
	secret = base64.RawURLEncoding.EncodeToString(raw)
	sum := sha256.Sum256([]byte(secret))
	token = uuid.New()
	return token, secret, s.q.AddDeviceToken(ctx, sqlc.AddDeviceTokenParams{TeamID: team, RunID: id, ID: token, Name: name, Secret: sum[:], MadeBy: signer.Name})
}

// DeviceTokens lists those of a run that were not revoked.
func (s *Store) DeviceTokens(ctx context.Context, team, id uuid.UUID) ([]DeviceToken, error) {
	rows, err := s.q.DeviceTokens(ctx, sqlc.DeviceTokensParams{TeamID: team, RunID: id})
	list := make([]DeviceToken, len(rows))
	for i, r := range rows {
		list[i] = DeviceToken{r.ID.String(), r.Name, r.MadeBy, r.MadeAt.Time.UTC()}
	}
	return list, err
}

// RevokeDeviceToken takes a token back.
func (s *Store) RevokeDeviceToken(ctx context.Context, team, id, token uuid.UUID) error {
	_, err := s.q.RevokeDeviceToken(ctx, sqlc.RevokeDeviceTokenParams{TeamID: team, RunID: id, ID: token})
	return missing(err)
}

// RunOfToken gives the run that a secret sends for; ErrNotFound where it is of none, or revoked.
func (s *Store) RunOfToken(ctx context.Context, secret string) (team, id uuid.UUID, err error) {
	sum := sha256.Sum256([]byte(secret))
	row, err := s.q.DeviceTokenRun(ctx, sum[:])
	return row.TeamID, row.RunID, missing(err)
}

// few is a row that is put together with others, once there are as many of them as tooMany.
const few, tooMany = 500, 50

// AddReadings keeps readings by channel in one transaction; they stand when it returns. The
// same channel and time twice is one, the first, when they are read.
func (s *Store) AddReadings(ctx context.Context, team, id uuid.UUID, byChannel map[string][]run.Point) error {
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		for _, channel := range slices.Sorted(maps.Keys(byChannel)) {
			list := byChannel[channel]
			if err := q.AddReadings(ctx, sqlc.AddReadingsParams{TeamID: team, RunID: id, Channel: channel, Count: int32(len(list)), Body: run.Pack(list)}); err != nil {
				return refused(err)
			}
			if err := gathered(ctx, q, team, id, channel); err != nil {
				return err
			}
		}
		return (&Change{Runs: []uuid.UUID{id}}).tell(ctx, q, team)
	})
}

// gathered puts many rows of few readings into one, so that a channel of eight hours is read
// at once.
func gathered(ctx context.Context, q *sqlc.Queries, team, id uuid.UUID, channel string) error {
	rows, err := q.FewReadings(ctx, sqlc.FewReadingsParams{TeamID: team, RunID: id, Channel: channel, Few: few})
	if err != nil || len(rows) < tooMany {
		return err
	}
	var list []run.Point
	var numbers []int64
	for _, r := range rows {
		points, err := run.Unpack(r.Body)
		if err != nil {
			return fmt.Errorf("readings %d: %w", r.Number, err)
		}
		list, numbers = append(list, points...), append(numbers, r.Number)
	}
	list = run.InTime(list)
	if err := q.RemoveReadings(ctx, sqlc.RemoveReadingsParams{TeamID: team, RunID: id, Channel: channel, Numbers: numbers}); err != nil {
		return err
	}
	return q.AddReadings(ctx, sqlc.AddReadingsParams{TeamID: team, RunID: id, Channel: channel, Count: int32(len(list)), Body: run.Pack(list)})
}

// Readings gives the readings of a run in time, by channel; of one channel unless it is "".
func (s *Store) Readings(ctx context.Context, team, id uuid.UUID, channel string) (map[string][]run.Point, error) {
	return readReadings(ctx, s.q, team, id, channel)
}

func readReadings(ctx context.Context, q *sqlc.Queries, team, id uuid.UUID, channel string) (map[string][]run.Point, error) {
	rows, err := q.Readings(ctx, sqlc.ReadingsParams{TeamID: team, RunID: id, Channel: channel})
	if err != nil {
		return nil, err
	}
	by := map[string][]run.Point{}
	for _, r := range rows {
		points, err := run.Unpack(r.Body)
		if err != nil {
			return nil, fmt.Errorf("readings %d: %w", r.Number, err)
		}
		by[r.Channel] = append(by[r.Channel], points...)
	}
	for c := range by {
		by[c] = run.InTime(by[c])
	}
	return by, nil
}
