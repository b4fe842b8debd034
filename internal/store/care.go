package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store/sqlc"
)

// PlannedByItem gives for each item the drops of a day and later that it is on, by day.
func (s *Store) PlannedByItem(ctx context.Context, team Team, since gear.Date) (map[string][]care.PlannedDrop, error) {
	rows, err := s.q.DropsSince(ctx, sqlc.DropsSinceParams{TeamID: team.ID, Since: string(since)})
	if err != nil {
		return nil, err
	}
	planned := map[string][]care.PlannedDrop{}
	for _, r := range rows {
		d, err := drop.ReadKept(r.Document)
		if err != nil {
			return nil, fmt.Errorf("drop %s: %w", r.ID, err)
		}
		for id := range d.Used() {
			planned[id] = append(planned[id], care.PlannedDrop{Drop: r.ID, Name: r.Name, Day: d.Day})
		}
	}
	delete(planned, "")
	return planned, nil
}

// ItemByCode gives the id of the item with a code; ErrNotFound for none.
func (s *Store) ItemByCode(ctx context.Context, team uuid.UUID, code string) (string, error) {
	id, err := s.q.ItemByCode(ctx, sqlc.ItemByCodeParams{TeamID: team, Code: code})
	return id, missing(err)
}

// ErrTooLarge is returned for a picture that is larger than is kept.
var ErrTooLarge = errors.New("a picture has at most 200 kB")

// MaxPhoto is the size of the largest picture, in bytes.
const MaxPhoto = 200_000

// Photo is a picture that records name by a sum over it.
type Photo struct {
	// Type is image/jpeg or image/webp.
	Type string
	Body []byte
}

// photoSum reads a SHA-256, 64 figures of base 16.
func photoSum(text string) (sum [sha256.Size]byte, ok bool) {
	raw, err := hex.DecodeString(text)
	return sum, err == nil && copy(sum[:], raw) == len(sum) && len(raw) == len(sum)
}

// AddPhoto keeps a picture; one that is there already stays.
func (s *Store) AddPhoto(ctx context.Context, team uuid.UUID, by uuid.UUID, p *Photo) error {
	if len(p.Body) > MaxPhoto {
		return ErrTooLarge
	}
	sum := sha256.Sum256(p.Body)
	return refused(s.q.AddPhoto(ctx, sqlc.AddPhotoParams{TeamID: team, Sum: sum[:], Type: p.Type, Body: p.Body, ByID: by}))
}

// Photo gives a picture by its sum; ErrNotFound where there is none.
func (s *Store) Photo(ctx context.Context, team uuid.UUID, sum string) (*Photo, error) {
	raw, ok := photoSum(sum)
	if !ok {
		return nil, ErrNotFound
	}
	row, err := s.q.Photo(ctx, sqlc.PhotoParams{TeamID: team, Sum: raw[:]})
	return &Photo{row.Type, row.Body}, missing(err)
}

// Frozen is what an incident was about, as it was when it was recorded; ErrNotFound for a
// record that is none.
func (s *Store) Frozen(ctx context.Context, team uuid.UUID, number int64) (*record.Frozen, error) {
	text, err := s.q.Frozen(ctx, sqlc.FrozenParams{TeamID: team, Number: number})
	if err != nil {
		return nil, missing(err)
	}
	f := new(record.Frozen)
	return f, json.Unmarshal([]byte(text), f)
}

// Feed is a secret address at which the team's calendar is read, as long as whoever made it
// may make one: nobody leaves the team and goes on reading.
type Feed struct {
	ID     uuid.UUID `json:"id"`
	MadeBy string    `json:"made_by"`
	MadeAt time.Time `json:"made_at"`
	// Secret is given once, when it is made: only a sum over it is kept.
	Secret string `json:"secret,omitempty" doc:"given once, when it is made"`
}

// AddFeed makes a secret address.
func (s *Store) AddFeed(ctx context.Context, team uuid.UUID, by *record.Signer) (*Feed, error) {
	raw := make([]byte, 32)
	if _, err := rand.Read(raw); err != nil {
		return nil, err
	}
	f := &Feed{ID: uuid.New(), MadeBy: by.Name, MadeAt: time.Now().UTC(), Secret: base64.RawURLEncoding.EncodeToString(raw)}
	sum, account := sha256.Sum256([]byte(f.Secret)), uuid.UUID(by.Account)
	return f, s.q.AddFeed(ctx, sqlc.AddFeedParams{TeamID: team, ID: f.ID, Secret: sum[:], MadeBy: by.Name, MadeByID: &account})
}

// Feeds are the addresses that stand.
func (s *Store) Feeds(ctx context.Context, team uuid.UUID) ([]Feed, error) {
	rows, err := s.q.Feeds(ctx, team)
	list := make([]Feed, len(rows))
	for i, r := range rows {
		list[i] = Feed{ID: r.ID, MadeBy: r.MadeBy, MadeAt: r.MadeAt.Time}
	}
	return list, err
}

// RevokeFeed shuts an address; ErrNotFound where none of this id stands.
func (s *Store) RevokeFeed(ctx context.Context, team, id uuid.UUID) error {
	_, err := s.q.RevokeFeed(ctx, sqlc.RevokeFeedParams{TeamID: team, ID: id})
	return missing(err)
}

// FeedTeam is the team whose calendar is read at a secret address; ErrNotFound for one that
// does not stand.
func (s *Store) FeedTeam(ctx context.Context, secret string) (Team, error) {
	sum := sha256.Sum256([]byte(secret))
	r, err := s.q.FeedTeam(ctx, sum[:])
	if errors.Is(err, pgx.ErrNoRows) {
		return Team{}, ErrNotFound
	}
	return Team{ID: r.ID, Name: r.Name, TimeZone: r.TimeZone}, err
}
