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

	"github.com/alexedwards/scs/pgxstore"
	"github.com/alexedwards/scs/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/store/sqlc"
)

//go:embed migrations/*.sql
var migrations embed.FS

var (
	// ErrNotFound is returned for what the team does not have.
	ErrNotFound = errors.New("not found")
	// ErrExists is returned when an id is already taken.
	ErrExists = errors.New("already exists")
	// ErrUnknown is returned when the database was told to keep something and did not
	// answer, or nobody waited for it: it may be kept or not.
	ErrUnknown = errors.New("not known whether it was kept")
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
	// Env is what the process keeps of what was found.
	Env drop.Env

	pool   *pgxpool.Pool
	q      *sqlc.Queries
	queues queues
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
	return &Store{Env: drop.NewEnv(), pool: pool, q: sqlc.New(pool)}, nil
}

// Close gives all connections back.
func (s *Store) Close() { s.pool.Close() }

// Sessions keeps the sessions of the screens.
func (s *Store) Sessions() scs.Store { return pgxstore.New(s.pool) }

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

// Grant lets a role do what the program does, and no more: records are read and
// added, never changed or removed.
func (s *Store) Grant(ctx context.Context, role string) error {
	name := pgx.Identifier{role}.Sanitize()
	for _, statement := range []string{
		"GRANT USAGE ON SCHEMA public TO " + name,
		"GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO " + name,
		"REVOKE UPDATE, DELETE, TRUNCATE ON records, chains, teams FROM " + name,
		"REVOKE INSERT ON chains FROM " + name,
		"REVOKE ALL ON goose_db_version FROM " + name,
	} {
		if _, err := s.pool.Exec(ctx, statement); err != nil {
			return fmt.Errorf("privileges of %s: %w", role, err)
		}
	}
	return nil
}

// MayAlterRecords reports whether the role that is signed in has more than Grant
// gives: then only a trigger stands between it and the records.
func (s *Store) MayAlterRecords(ctx context.Context) (may bool, err error) {
	err = s.pool.QueryRow(ctx, "SELECT has_table_privilege('records', 'UPDATE') OR has_table_privilege('records', 'DELETE')").Scan(&may)
	return may, err
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

// TeamNamed gives the team of a name, ErrNotFound where there is none.
func (s *Store) TeamNamed(ctx context.Context, name string) (Team, error) {
	t, err := s.q.TeamNamed(ctx, name)
	return Team{t.ID, t.Name}, missing(err)
}

// inTx runs f in one transaction.
func (s *Store) inTx(ctx context.Context, f func(*sqlc.Queries) error) error {
	done := false
	err := pgx.BeginFunc(ctx, s.pool, func(tx pgx.Tx) error {
		err := f(s.q.WithTx(tx))
		done = err == nil
		return err
	})
	var pg *pgconn.PgError
	if done && err != nil && !errors.As(err, &pg) {
		// The database was told to keep it, and did not answer.
		return fmt.Errorf("%w: %w", ErrUnknown, err)
	}
	return refused(err)
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
