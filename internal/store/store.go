// Package store keeps teams, models, items, people and drops in PostgreSQL.
// Every query is for one team; nothing of another team can be named through it.
//
// It knows tables and transactions. It knows no rule of the job.
package store

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"io/fs"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/store/sqlc"
)

//go:embed migrations/*.sql
var migrations embed.FS

var (
	// ErrNotFound is returned for what the team does not have.
	ErrNotFound = errors.New("not found")
	// ErrExists is returned when an id is already taken.
	ErrExists = errors.New("already exists")
	// ErrRefused is returned when a constraint of the database refuses a row;
	// it is wrapped with the name of the constraint.
	ErrRefused = errors.New("refused by the database")
)

// ConflictError is returned when a drop was changed by somebody else since it
// was read.
type ConflictError struct {
	// Version is the version that is there now.
	Version int
}

func (e *ConflictError) Error() string {
	return fmt.Sprintf("changed meanwhile: version %d is there now", e.Version)
}

// Store is a connection to the database; it is safe for concurrent use.
type Store struct {
	pool *pgxpool.Pool
	q    *sqlc.Queries
}

// Open connects to the database at a URL.
func Open(ctx context.Context, url string) (*Store, error) {
	pool, err := pgxpool.New(ctx, url)
	if err != nil {
		return nil, fmt.Errorf("database: %w", err)
	}
	if err := pool.Ping(ctx); err != nil {
		pool.Close()
		return nil, fmt.Errorf("database: %w", err)
	}
	return &Store{pool: pool, q: sqlc.New(pool)}, nil
}

// Close gives all connections back.
func (s *Store) Close() { s.pool.Close() }

// Ping reports whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.pool.Ping(ctx) }

// Migrate brings the tables to the newest version. Done is called for each
// migration that was applied.
func (s *Store) Migrate(ctx context.Context, done func(name string)) error {
	db := stdlib.OpenDBFromPool(s.pool)
	defer db.Close()
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, db, files)
	if err != nil {
		return fmt.Errorf("migrations: %w", err)
	}
	results, err := provider.Up(ctx)
	for _, r := range results {
		done(r.Source.Path)
	}
	if err != nil {
		return fmt.Errorf("migrations: %w", err)
	}
	return nil
}

// Team is who owns everything else.
type Team struct {
	ID   uuid.UUID `json:"id"`
	Name string    `json:"name"`
}

// EnsureTeam gives the team of a name, made if need be.
func (s *Store) EnsureTeam(ctx context.Context, name string) (Team, error) {
	t, _, err := ensureTeam(ctx, s.q, name)
	return t, refused(err)
}

func ensureTeam(ctx context.Context, q *sqlc.Queries, name string) (t Team, added bool, err error) {
	row, err := q.AddTeam(ctx, name)
	if errors.Is(err, pgx.ErrNoRows) {
		there, err := q.TeamNamed(ctx, name)
		return Team{there.ID, there.Name}, false, err
	}
	return Team{row.ID, row.Name}, true, err
}

// FirstTeam gives the oldest team, ErrNotFound where there is none.
func (s *Store) FirstTeam(ctx context.Context) (Team, error) {
	t, err := s.q.FirstTeam(ctx)
	return Team{t.ID, t.Name}, missing(err)
}

// inTx runs f in one transaction.
func (s *Store) inTx(ctx context.Context, f func(*sqlc.Queries) error) error {
	return refused(pgx.BeginFunc(ctx, s.pool, func(tx pgx.Tx) error { return f(s.q.WithTx(tx)) }))
}

// missing turns an empty result into ErrNotFound.
func missing(err error) error {
	if errors.Is(err, pgx.ErrNoRows) {
		return ErrNotFound
	}
	return err
}

// refused names the constraint that refused a row.
func refused(err error) error {
	var pg *pgconn.PgError
	if errors.As(err, &pg) && len(pg.Code) == 5 && pg.Code[:2] == "23" {
		return fmt.Errorf("%w: %s", ErrRefused, pg.ConstraintName)
	}
	return err
}

// Scenario is everything a team starts with.
type Scenario struct {
	Team   string
	Gear   *drop.Store
	People []rig.Member
	Drops  map[string]*drop.Document
}

// Load keeps a scenario, all of it or nothing; loaded is false where its team is
// there already, and nothing is then changed.
func (s *Store) Load(ctx context.Context, sc *Scenario) (team Team, loaded bool, err error) {
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		t, added, err := ensureTeam(ctx, q, sc.Team)
		if err != nil || !added {
			team = t
			return err
		}
		team, loaded = t, true
		if err := putGear(ctx, q, t.ID, sc.Gear); err != nil {
			return err
		}
		if err := putPeople(ctx, q, t.ID, sc.People); err != nil {
			return err
		}
		for id, d := range sc.Drops {
			if _, err := addDrop(ctx, q, t.ID, id, d); err != nil {
				return err
			}
		}
		return nil
	})
	return team, loaded, err
}
