package store_test

import (
	"compress/gzip"
	"context"
	"io"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/record"
	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
)

// A database of the first version, with plans that were released then, is brought to
// this one: what stands, stands; what is taken back is taken back by a new rule alone,
// and says so. Fields that a migration added take nothing back.
func TestFirstDatabase(t *testing.T) {
	ctx := context.Background()
	url := pgtest.Empty(t)
	file, err := os.Open("testdata/v1.sql.gz")
	if err != nil {
		t.Fatal(err)
	}
	defer file.Close()
	unzipped, err := gzip.NewReader(file)
	if err != nil {
		t.Fatal(err)
	}
	text, err := io.ReadAll(unzipped)
	if err != nil {
		t.Fatal(err)
	}
	// Lines for the command-line client alone are left out.
	lines := slices.DeleteFunc(strings.Split(string(text), "\n"), func(l string) bool { return strings.HasPrefix(l, "\\") })
	conn, err := pgx.Connect(ctx, url)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := conn.PgConn().Exec(ctx, strings.Join(lines, "\n")).ReadAll(); err != nil {
		t.Fatal(err)
	}
	conn.Close(ctx)
	s, err := store.Open(ctx, url)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	if err := s.Migrate(ctx, func(string) {}); err != nil {
		t.Fatal(err)
	}
	team, err := s.TeamNamed(ctx, demo.Team)
	if err != nil {
		t.Fatal(err)
	}
	for id, want := range map[string]struct {
		state   record.State
		because string
	}{
		"gate-shaft": {record.Released, ""},
		"bare-edge":  {record.Released, ""},
		"mid-air":    {record.Draft, "new rule in this version: No harness of Ivo Kestrane is stated"},
		"draft":      {record.Draft, ""},
	} {
		p, err := s.Plan(ctx, team, id)
		if err != nil {
			t.Fatal(id, err)
		}
		because := strings.Join(p.Because, "; ")
		if p.State != want.state || !strings.HasPrefix(because, want.because) || (want.because == "") != (because == "") || len(p.Because) > 1 {
			t.Errorf("%s is %s: %q", id, p.State, because)
		}
		if p.ChangedBy != "" || p.Alone {
			t.Errorf("%s says what was not kept then: %+v", id, p)
		}
	}
	// Records of then are as whole as they were.
	chains, err := s.Verify(ctx, 0)
	if err != nil || len(chains) == 0 {
		t.Fatal(err)
	}
	for _, c := range chains {
		if c.Broken != nil {
			t.Errorf("%+v", c)
		}
	}
}

// What was noted on ropes before the program kept what a check needs of it counts after the
// migration, and what is kept is then what the records say.
func TestOldMaps(t *testing.T) {
	ctx := context.Background()
	program, owner := pgtest.URLs(t)
	before, err := store.Open(ctx, program)
	if err != nil {
		t.Fatal(err)
	}
	team, _, err := before.Load(ctx, scenario.Of(hash))
	if err != nil {
		t.Fatal(err)
	}
	b := stop("rope-5", "fluff")
	b.Records[0].Kind, b.Records[0].Quarantine, b.Records[0].Rope = record.RopeNote, nil, &record.RopeNoted{What: record.RopeDamage, FromM: 12}
	if _, err := before.Record(ctx, team, by, b); err != nil {
		t.Fatal(err)
	}
	before.Close()
	db := connect(t, owner)
	if _, err := db.Exec(ctx, `ALTER TABLE items DROP COLUMN noted; ALTER TABLE feeds DROP COLUMN made_by_id; ALTER TABLE invitations DROP COLUMN made_by_id; DROP FUNCTION still_may;
		DELETE FROM goose_db_version WHERE version_id >= 23;
		INSERT INTO feeds (team_id, id, secret, made_by) SELECT team_id, gen_random_uuid(), sha256(name::bytea), name FROM (SELECT id, 'Dov Pellister' FROM teams UNION ALL SELECT id, 'Who left' FROM teams) AS f (team_id, name)`); err != nil {
		t.Fatal(err)
	}
	s, err := store.Open(ctx, owner)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := s.Migrate(ctx, func(string) {}); err != nil {
		t.Fatal(err)
	}
	// An address for the calendar stands where whoever made it is still there.
	feeds, err := s.Feeds(ctx, team.ID)
	if err != nil || len(feeds) != 1 || feeds[0].MadeBy != "Dov Pellister" {
		t.Errorf("%+v %v", feeds, err)
	}
	g, err := s.Gear(ctx, team.ID)
	if err != nil {
		t.Fatal(err)
	}
	for i := range g.Items {
		if g.Items[i].Damaged() != (g.Items[i].ID == "rope-5") {
			t.Errorf("%s: %+v", g.Items[i].ID, g.Items[i].Noted)
		}
	}
	if chains, err := s.Verify(ctx, 0); err != nil || chains[0].Broken != nil || len(chains[0].Differs) > 0 {
		t.Errorf("%+v %v", chains, err)
	}
}
