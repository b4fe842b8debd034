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
	"slices"
	"time"
	_ "time/tzdata" // the zones, wherever the program runs

	"github.com/alexedwards/scs/pgxstore"
	"github.com/alexedwards/scs/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"

	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/store/sqlc"
)

//go:embed migrations/*.sql
var migrations embed.FS

var (
	// ErrNotFound is returned for what the team does not have.
	ErrNotFound = errors.New("not found")
	// ErrExists is returned when an id is already taken.
	ErrExists = errors.New("already exists")
	// ErrConflict is returned where a row has another revision than the one that was read.
	ErrConflict = errors.New("changed by somebody else meanwhile")
	// ErrUnknown is returned when the database was instructed to keep something and did not
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
	// Rescues is what the process keeps of what searches of rescues found.
	Rescues *cover.Cache
	// Today is a team's day: by the clock, unless what is played is of another day.
	Today func(Team) gear.Date
	looks *looks

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
	return &Store{Rescues: new(cover.Cache), Today: Team.today, looks: newLooks(), pool: pool, q: sqlc.New(pool)}, nil
}

// Wait is Open for a database that may come late: it is asked again until it answers or ctx
// is done. Told is called with what kept it, when that changes. A URL that is empty or
// cannot be read is an error at once.
func Wait(ctx context.Context, url string, notify func(error)) (*Store, error) {
	if url == "" {
		return nil, errors.New("database: it is not said where it is")
	}
	if _, err := pgxpool.ParseConfig(url); err != nil {
		return nil, fmt.Errorf("database: %w", err)
	}
	last := ""
	for {
		s, err := Open(ctx, url)
		if err == nil {
			return s, nil
		}
		if err.Error() != last {
			last = err.Error()
			notify(err)
		}
		select {
		case <-ctx.Done():
			return nil, err
		case <-time.After(askAgain):
		}
	}
}

// askAgain is how long a database that does not answer is left alone.
const askAgain = 500 * time.Millisecond

// Close gives all connections back.
func (s *Store) Close() { s.pool.Close() }

// Sessions keeps the sessions of the screens.
func (s *Store) Sessions() scs.Store { return pgxstore.New(s.pool) }

// Connections gives how many connections to the database are in use, and how many may be.
func (s *Store) Connections() (busy, most int) {
	stat := s.pool.Stat()
	return int(stat.AcquiredConns()), int(stat.MaxConns())
}

// Ping reports whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.pool.Ping(ctx) }

// Migrate brings the tables to the newest version. Done is called for each
// migration that was applied. Of several at once one migrates, and the others wait for
// it. It gives ErrNewer where the database knows more than the program.
func (s *Store) Migrate(ctx context.Context, done func(name string)) error {
	if err := s.Fits(ctx); errors.Is(err, ErrNewer) {
		return err
	}
	db := stdlib.OpenDBFromPool(s.pool)
	defer db.Close()
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	one, err := lock.NewPostgresSessionLocker(lock.WithLockTimeout(1, 120))
	if err != nil {
		return fmt.Errorf("migrations: %w", err)
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, db, files, goose.WithSessionLocker(one))
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
	if !slices.ContainsFunc(results, func(r *goose.MigrationResult) bool { return r.Source.Version == notedSince }) {
		return nil
	}
	return s.remapOld(ctx)
}

// Empty reports whether there is nothing at all in the database.
func (s *Store) Empty(ctx context.Context) (empty bool, err error) {
	err = s.pool.QueryRow(ctx, "SELECT NOT EXISTS (SELECT FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname NOT LIKE 'pg\\_%' AND n.nspname <> 'information_schema')").Scan(&empty)
	return empty, err
}

// ErrNewer is returned where a newer program migrated the database: this one would not
// keep what it does not know.
var ErrNewer = errors.New("the database belongs to a newer version of the program; use that one")

// Fits reports whether this program knows the database as it is: ErrNewer where a newer
// one migrated it. Nothing is said of a database that was never migrated, or whose version
// the role may not read.
func (s *Store) Fits(ctx context.Context) error {
	var there int
	err := s.pool.QueryRow(ctx, "SELECT coalesce(max(version_id) FILTER (WHERE is_applied), 0) FROM goose_db_version").Scan(&there)
	var pg *pgconn.PgError
	if errors.As(err, &pg) && (pg.Code == "42P01" || pg.Code == "42501") {
		return nil // no such table, or no right to read it
	}
	if err != nil {
		return err
	}
	known, err := newest()
	if err == nil && there > known {
		err = fmt.Errorf("%w: it is at %d, this one knows %d", ErrNewer, there, known)
	}
	return err
}

// newest is the number of the last migration that the program has.
func newest() (n int, err error) {
	files, err := fs.Glob(migrations, "migrations/*.sql")
	for _, f := range files {
		v, err := goose.NumericComponent(f)
		if err != nil {
			return 0, err
		}
		n = max(n, int(v))
	}
	return n, err
}

// Grant lets a role do what the program does, and no more: records are read and
// added, never changed or removed.
func (s *Store) Grant(ctx context.Context, role string) error {
	name := pgx.Identifier{role}.Sanitize()
	for _, statement := range []string{
		"GRANT USAGE ON SCHEMA public TO " + name,
		"REVOKE ALL ON ALL TABLES IN SCHEMA public FROM " + name,
		"GRANT SELECT ON ALL TABLES IN SCHEMA public TO " + name,
		"REVOKE ALL ON serials FROM " + name,
		"GRANT INSERT ON sent, teams, records, accounts, invitations, sign_ins, attempts, sessions, memberships, models, items, item_events, kits, feeds, photos, people, familiarisations, practices, classes, marks, joint_exercises, drops, policies, boards, preplans, callouts, runs, run_events, device_tokens, readings TO " + name,
		"GRANT UPDATE ON sent, accounts, invitations, sign_ins, sessions, memberships, models, items, item_events, kits, feeds, people, classes, joint_exercises, drops, policies, boards, preplans, callouts, runs, device_tokens TO " + name,
		"GRANT UPDATE (time_zone) ON teams TO " + name,
		"GRANT DELETE ON invitations, attempts, sessions, memberships, familiarisations, practices, classes, joint_exercises, drops, preplans, readings TO " + name,
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

// Lacks gives the tables that the role that is signed in may not read, although the program
// does: a newer version was migrated to, and the role was not given what it needs.
func (s *Store) Lacks(ctx context.Context) (tables []string, err error) {
	rows, err := s.pool.Query(ctx, `SELECT c.relname FROM pg_class c WHERE c.relnamespace = 'public'::regnamespace AND c.relkind = 'r'
		AND c.relname NOT IN ('serials', 'goose_db_version') AND NOT has_table_privilege(c.oid, 'SELECT') ORDER BY 1`)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[string])
}

// Team is who owns everything else.
type Team struct {
	ID       uuid.UUID `json:"id"`
	Name     string    `json:"name"`
	TimeZone string    `json:"time_zone" doc:"IANA name of the zone whose days and hours are the team's"`
}

// Location is the team's time zone.
func (t Team) Location() *time.Location {
	if l, err := time.LoadLocation(t.TimeZone); err == nil {
		return l
	}
	return time.UTC
}

// today is the day by the clock where a team is.
func (t Team) today() gear.Date {
	return gear.Date(time.Now().In(t.Location()).Format(time.DateOnly))
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
		return Team{there.ID, there.Name, there.TimeZone}, false, err
	}
	return Team{row.ID, row.Name, row.TimeZone}, true, err
}

// TeamNamed gives the team of a name, ErrNotFound where there is none.
func (s *Store) TeamNamed(ctx context.Context, name string) (Team, error) {
	t, err := s.q.TeamNamed(ctx, name)
	return Team{t.ID, t.Name, t.TimeZone}, missing(err)
}

// inTx runs f in one transaction.
func (s *Store) inTx(ctx context.Context, f func(*sqlc.Queries) error) error {
	return s.inTransaction(ctx, func(tx pgx.Tx) error { return f(s.q.WithTx(tx)) })
}

func (s *Store) inTransaction(ctx context.Context, f func(pgx.Tx) error) error {
	done := false
	err := pgx.BeginFunc(ctx, s.pool, func(tx pgx.Tx) error {
		err := f(tx)
		done = err == nil
		return err
	})
	var pg *pgconn.PgError
	if done && err != nil && !errors.As(err, &pg) {
		// The database was instructed to keep it, and did not answer.
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

// rules are what the constraints ask for that a row may break although every field of it is
// right by itself.
var rules = map[string]string{
	"retired_is_final":                  "what is retired does not come back",
	"quarantine_is_left_with_a_record":  "what is in quarantine comes back by its record alone",
	"stopped_stays_as_it_is":            "of what is out of service nothing changes but where it lies",
	"serial_is_used_once":               "this serial is, or was, another item's of the same model",
	"items_team_id_model_id_serial_key": "this serial is another item's of the same model",
	"items_team_id_model_id_class_fkey": "there is no such model, or items are of it: a model keeps its class while they are",
	"out_of_service_has_a_reason":       "what is out of service has a reason",
	"used_after_it_was_made":            "it is used before it was made",
	"rope_has_a_length":                 "a rope has a length, and nothing else has",
	"only_ropes_are_measured":           "only ropes have a measured diameter and a condition",
	"checked_after_it_happened":         "an event is checked before it happened",
	"checked_by_somebody_on_a_day":      "who checked an event is given without the day",
	"memberships_team_id_person_id_key": "another account is this person already",
}

// refused says what a row breaks, as far as the constraint that refused it has words.
func refused(err error) error {
	var pg *pgconn.PgError
	if !errors.As(err, &pg) || len(pg.Code) != 5 || pg.Code[:2] != "23" {
		return err
	}
	if words := rules[pg.ConstraintName]; words != "" {
		return fmt.Errorf("%w: %s", ErrRefused, words)
	}
	switch pg.Code {
	case "23503":
		return fmt.Errorf("%w: something that it names is missing", ErrRefused)
	case "23505":
		return fmt.Errorf("%w: there is one like it already", ErrRefused)
	}
	return fmt.Errorf("%w: a field is not as it must be", ErrRefused)
}
