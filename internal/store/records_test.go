package store_test

import (
	"context"
	"encoding/hex"
	"fmt"
	"os"
	"runtime"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
)

// stop is a batch that puts an item into quarantine.
func stop(item, note string) *record.Batch {
	now := time.Now().UTC().Format(time.RFC3339Nano)
	return &record.Batch{SentAt: now, Records: []record.Entry{{
		ID: uuid.NewString(), Kind: record.Quarantine, GivenAt: now, Day: "2026-11-24", Item: item, Note: note, Quarantine: &record.Quarantined{Event: "dropped"},
	}}}
}

// Records are neither changed nor removed: not by the program, not by the owner,
// and not out of order; who switches the guard off is found, at the first record
// that is not as it was.
func TestRecordsStand(t *testing.T) {
	ctx := context.Background()
	program, owner := pgtest.URLs(t)
	s, err := store.Open(ctx, program)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	team, _, err := s.Load(ctx, scenario.Of(hash))
	if err != nil {
		t.Fatal(err)
	}
	for i := range 20 {
		if _, err := s.Record(ctx, team, by, stop("rope-3", fmt.Sprint("knock “", i, "” é\n"))); err != nil {
			t.Fatal(err)
		}
	}
	asProgram, asOwner := connect(t, program), connect(t, owner)
	for _, attempt := range []string{
		"UPDATE records SET by_name = 'x'", "UPDATE records SET content = content", "DELETE FROM records WHERE number = 3", "TRUNCATE records",
		"INSERT INTO records (team_id, number, id, kind, by_id, by_name, at, content, seal) SELECT team_id, number + 100, gen_random_uuid(), kind, by_id, by_name, at, content, seal FROM records LIMIT 1",
	} {
		for name, conn := range map[string]*pgx.Conn{"program": asProgram, "owner": asOwner} {
			if _, err := conn.Exec(ctx, attempt); err == nil {
				t.Errorf("the %s could: %s", name, attempt)
			}
		}
	}
	for _, attempt := range []string{"UPDATE chains SET number = 1", "DELETE FROM chains", "ALTER TABLE records DISABLE TRIGGER ALL", "UPDATE items SET state = 'in-service', reason = '' WHERE id = 'rope-3'"} {
		if _, err := asProgram.Exec(ctx, attempt); err == nil {
			t.Errorf("the program could: %s", attempt)
		}
	}

	chain := func() store.Chain {
		chains, err := s.Verify(ctx, 5)
		if err != nil {
			t.Fatal(err)
		}
		return chains[0]
	}
	whole := chain()
	if whole.Broken != nil || whole.Number < 20 {
		t.Fatalf("%+v", whole)
	}
	replaySeals(t, asOwner, whole)
	if _, err := asOwner.Exec(ctx, "ALTER TABLE records DISABLE TRIGGER ALL"); err != nil {
		t.Fatal(err)
	}
	var knock int
	if err := asOwner.QueryRow(ctx, "SELECT min(number) FROM records WHERE content::text LIKE '%knock%'").Scan(&knock); err != nil {
		t.Fatal(err)
	}
	for attempt, want := range map[string]string{
		"UPDATE records SET content = replace(content::text, 'knock', 'knack')::json WHERE content::text LIKE '%knock%'":                       fmt.Sprintf("record %d: is not as it was sealed", knock),
		"UPDATE records SET by_name = 'Somebody' WHERE number = 7":                                                                             "record 7: is not as it was sealed",
		"UPDATE records SET at = at + interval '1 microsecond' WHERE number = 1":                                                               "record 1: is not as it was sealed",
		"UPDATE records SET content = (content::text || ' ')::json WHERE number = 20":                                                          "record 20: is not as it was sealed",
		"DELETE FROM records WHERE number = 9":                                                                                                 "record 9: is missing; the next that is there is 10",
		"DELETE FROM records WHERE number > 18":                                                                                                "record 19: is missing, and all that follow",
		"DELETE FROM records WHERE number = 12; UPDATE records SET number = number - 1 WHERE number IN (13)":                                   "record 12: is not as it was sealed",
		"UPDATE records SET number = 1000 - number WHERE number IN (4, 5); UPDATE records SET number = 9 - (1000 - number) WHERE number > 900": "record 4: is not as it was sealed",
		"DELETE FROM records": "record 1: is missing, and all that follow",
	} {
		tx, err := asOwner.Begin(ctx)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := tx.Exec(ctx, attempt); err != nil {
			t.Fatal(attempt, err)
		}
		if err := tx.Commit(ctx); err != nil {
			t.Fatal(err)
		}
		if c := chain(); c.Broken == nil || !strings.HasPrefix(c.Broken.Error(), want) {
			t.Errorf("%s: %v, want %s", attempt, c.Broken, want)
		}
		restore(t, asOwner)
		if c := chain(); c.Broken != nil || c.Last != whole.Last {
			t.Fatalf("put back after %s: %v", attempt, c.Broken)
		}
	}
}

func connect(t testing.TB, url string) *pgx.Conn {
	t.Helper()
	conn, err := pgx.Connect(context.Background(), url)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { conn.Close(context.Background()) })
	return conn
}

// restore puts the records back from the copy that replaySeals made.
func restore(t testing.TB, conn *pgx.Conn) {
	t.Helper()
	const columns = "team_id, number, id, kind, by_id, by_name, at, content, seal"
	if _, err := conn.Exec(context.Background(), "DELETE FROM records; INSERT INTO records ("+columns+") SELECT "+columns+" FROM copied"); err != nil {
		t.Fatal(err)
	}
}

// replaySeals computes the seals again in the database, from what their
// documentation says, and keeps a copy of the records.
func replaySeals(t testing.TB, conn *pgx.Conn, c store.Chain) {
	t.Helper()
	rows, err := conn.Query(context.Background(), `CREATE TEMP TABLE copied AS TABLE records`)
	if err != nil {
		t.Fatal(err)
	}
	rows.Close()
	var wrong int
	var last string
	err = conn.QueryRow(context.Background(), `WITH said AS (SELECT *, convert_to(content::text, 'UTF8') AS bytes,
			coalesce(lag(seal) OVER (ORDER BY number), decode(repeat('00', 32), 'hex')) AS before FROM records WHERE team_id = $1)
		SELECT count(*) FILTER (WHERE seal <> sha256(convert_to(E'zealousknot record 1\n', 'UTF8') || before || uuid_send(team_id) || int8send(number) || uuid_send(id)
			|| uuid_send(by_id) || int8send((extract(epoch FROM at) * 1000000)::bigint) || int8send(octet_length(kind)) || convert_to(kind, 'UTF8')
			|| int8send(octet_length(by_name)) || convert_to(by_name, 'UTF8') || int8send(length(bytes)) || bytes)),
			encode((array_agg(seal ORDER BY number DESC))[1], 'hex') FROM said`, c.Team.ID).Scan(&wrong, &last)
	if err != nil || wrong != 0 || last != c.Last.Whole() {
		t.Fatalf("%d seals otherwise: %v", wrong, err)
	}
}

// Many devices at once, each batch sent three times: each record is there once,
// numbers have no gaps, and every item has every event.
func TestRecordTogether(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	before, err := s.Verify(ctx, 0)
	if err != nil {
		t.Fatal(err)
	}
	const devices, each = 8, 12
	var kept, again atomic.Int64
	together(devices, func(d int) {
		for i := range each {
			b := stop("descender-21", fmt.Sprintf("device %d, knock %d", d, i))
			together(3, func(int) {
				out, err := s.Record(ctx, team, by, b)
				if err != nil {
					t.Error(err)
					return
				}
				if out[0].State == "kept" {
					kept.Add(1)
				} else if out[0].State == "already" {
					again.Add(1)
				}
			})
		}
	})
	chains, err := s.Verify(ctx, 0)
	if err != nil || chains[0].Broken != nil || chains[0].Number != before[0].Number+devices*each || kept.Load() != devices*each || again.Load() != 2*devices*each {
		t.Errorf("%+v, kept %d, again %d, %v", chains, kept.Load(), again.Load(), err)
	}
	g, err := s.Gear(ctx, team.ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, i := range g.Items {
		if i.ID == "descender-21" && (i.State != gear.Quarantine || len(i.Events) != devices*each || i.Reason != i.Events[0].Words()+": "+i.Events[0].Note) {
			t.Errorf("%+v", i)
		}
	}
}

// A batch that cannot be written keeps nobody else's back, whatever is written with it; and
// who takes the id that the program would give to what follows from a failed check does not
// keep the item in service.
func TestRefusesItselfOnly(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	var bad, good atomic.Int64
	together(24, func(d int) {
		b := stop("descender-21", fmt.Sprintf("device %d", d))
		if d%6 == 0 {
			b.Records[0].Note = "a text that no database keeps \x00"
		}
		out, err := s.Record(ctx, team, by, b)
		switch {
		case d%6 == 0 && err != nil:
			bad.Add(1)
		case d%6 > 0 && err == nil && out[0].State == "kept":
			good.Add(1)
		default:
			t.Errorf("device %d: %+v %v", d, out, err)
		}
	})
	if bad.Load() != 4 || good.Load() != 20 {
		t.Errorf("%d refused, %d kept", bad.Load(), good.Load())
	}
	b := stop("", "")
	e := &b.Records[0]
	e.Kind, e.Item, e.Drop, e.Quarantine = record.FunctionCheck, "backup-7", "face-4", nil
	e.Check, e.Note = &record.Proved{Rope: "rope-4"}, "slips"
	taken := stop("descender-22", "a knock")
	taken.Records[0].ID = e.FollowUps()[0].ID
	for _, b := range []*record.Batch{taken, b} {
		if out, err := s.Record(ctx, team, by, b); err != nil || out[0].State != "kept" {
			t.Errorf("%+v %v", out, err)
		}
	}
	g, err := s.Gear(ctx, team.ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, i := range g.Items {
		if i.ID == "backup-7" && i.State != gear.Quarantine {
			t.Errorf("failed its check, and is %s", i.State)
		}
	}
}

// BenchmarkRecord records function checks one by one from eight devices, with a
// database that keeps what it acknowledges.
func BenchmarkRecord(b *testing.B) {
	ctx := context.Background()
	s, _ := durable(b)
	team, _, err := s.Load(ctx, scenario.Of(hash))
	if err != nil {
		b.Fatal(err)
	}
	b.SetParallelism(8 / min(8, runtime.GOMAXPROCS(0)))
	b.ResetTimer()
	b.RunParallel(func(p *testing.PB) {
		for p.Next() {
			batch := stop("", "")
			e := &batch.Records[0]
			e.Kind, e.Item, e.Drop, e.Quarantine = record.FunctionCheck, "backup-7", "face-4", nil
			e.Check = &record.Proved{Rope: "rope-4", Passed: true}
			if out, err := s.Record(ctx, team, by, batch); err != nil || out[0].State != "kept" {
				b.Error(out, err)
			}
		}
	})
	b.ReportMetric(float64(b.N)/b.Elapsed().Seconds(), "records/s")
}

// durable is a store on a database that waits for its disk.
func durable(b *testing.B) (*store.Store, string) {
	b.Helper()
	dir, err := os.MkdirTemp("", "zealousknot-bench-")
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() { os.RemoveAll(dir) })
	if err := os.Chmod(dir, 0o755); err != nil {
		b.Fatal(err)
	}
	server, err := pg.Start(context.Background(), pg.Options{Dir: dir + "/pg", Durable: true, Progress: func(string) {}})
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(server.Stop)
	s, err := store.Open(context.Background(), server.URL)
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(s.Close)
	if err := s.Migrate(context.Background(), func(string) {}); err != nil {
		b.Fatal(err)
	}
	return s, server.URL
}

// BenchmarkMillion has a team with a million records, 400 a day.
func BenchmarkMillion(b *testing.B) {
	ctx := context.Background()
	s, url := durable(b)
	team, _, err := s.Load(ctx, scenario.Of(hash))
	if err != nil {
		b.Fatal(err)
	}
	day := million(b, url, team)
	b.Run("day", func(b *testing.B) {
		for b.Loop() {
			if lines, err := s.RecordsOfDay(ctx, team.ID, day, "", store.Page{Limit: 200}); err != nil || len(lines) != 200 {
				b.Fatal(len(lines), err)
			}
		}
	})
	b.Run("checks", func(b *testing.B) {
		d, err := s.Drop(ctx, team.ID, "face-4")
		if err != nil {
			b.Fatal(err)
		}
		d.Document.Day = day
		for b.Loop() {
			if err := s.Present(ctx, team, d); err != nil {
				b.Fatal(err)
			}
		}
	})
	b.Run("verify", func(b *testing.B) {
		for b.Loop() {
			if chains, err := s.Verify(ctx, 0); err != nil || chains[0].Broken != nil || chains[0].Number < 1e6 {
				b.Fatal(chains, err)
			}
		}
		b.ReportMetric(1e6*float64(b.N)/b.Elapsed().Seconds(), "records/s")
	})
}

// million adds a million sealed records past the program, and gives one of their
// days.
func million(b *testing.B, url string, team store.Team) gear.Date {
	b.Helper()
	ctx := context.Background()
	pool, err := pgxpool.New(ctx, url)
	if err != nil {
		b.Fatal(err)
	}
	defer pool.Close()
	chain := record.Chain{Team: team.ID}
	var seal []byte
	if err := pool.QueryRow(ctx, "SELECT number, seal FROM chains WHERE team_id = $1", team.ID).Scan(&chain.Number, &seal); err != nil {
		b.Fatal(err)
	}
	chain.Last = record.Seal(seal)
	if _, err := pool.Exec(ctx, "ALTER TABLE records DISABLE TRIGGER chain_grows"); err != nil {
		b.Fatal(err)
	}
	start := time.Date(2019, 1, 1, 6, 0, 0, 0, time.UTC)
	day := func(i int) string { return start.AddDate(0, 0, i/400).Format(time.DateOnly) }
	rows := pgx.CopyFromSlice(1_000_000, func(i int) ([]any, error) {
		r := record.Record{ID: uuid.New(), Kind: record.FunctionCheck, By: by.Account, ByName: by.Name, At: start.Add(time.Duration(i) * time.Second)}
		r.Content = fmt.Appendf(nil, `{"id":%q,"kind":"function-check","given_at":"2019-01-01T06:00:00Z","day":%q,"drop":"face-4","item":"descender-%d","check":{"rope":"rope-3","passed":true,"proofs":[{"proof":"look","did":true},{"proof":"lay","did":true},{"proof":"pull","did":true}]}}`,
			record.FormatUUID(r.ID), day(i), 14+i%9)
		chain.Close(&r)
		return []any{r.Team, r.Number, r.ID, string(r.Kind), r.By, r.ByName, r.At, r.Content, r.Seal[:]}, nil
	})
	columns := []string{"team_id", "number", "id", "kind", "by_id", "by_name", "at", "content", "seal"}
	if _, err := pool.CopyFrom(ctx, pgx.Identifier{"records"}, columns, rows); err != nil {
		b.Fatal(err)
	}
	for _, after := range []string{
		fmt.Sprintf("UPDATE chains SET number = %d, seal = decode('%s', 'hex') WHERE team_id = '%s'", chain.Number, hex.EncodeToString(chain.Last[:]), team.ID),
		"ALTER TABLE records ENABLE TRIGGER chain_grows", "VACUUM ANALYZE records",
	} {
		if _, err := pool.Exec(ctx, after); err != nil {
			b.Fatal(err)
		}
	}
	return gear.Date(day(500_000))
}

// Two items come back into service by one batch, beside an entry that is refused.
func TestTwoComeBack(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	for _, item := range []string{"rope-3", "rope-4"} {
		if _, err := s.Record(ctx, team, by, stop(item, "a knock")); err != nil {
			t.Fatal(err)
		}
	}
	now := time.Now().UTC().Format(time.RFC3339Nano)
	b := &record.Batch{SentAt: now}
	for _, item := range []string{"rope-3", "rope-5", "rope-4"} {
		b.Records = append(b.Records, record.Entry{ID: uuid.NewString(), Kind: record.BackInService, GivenAt: now, Day: "2026-11-24", Item: item, Note: "looked at by hand"})
	}
	out, err := s.Record(ctx, team, by, b)
	if err != nil || out[0].State != "kept" || out[1].State != "refused" || out[2].State != "kept" {
		t.Fatal(out, err)
	}
	g, err := s.Gear(ctx, team.ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, i := range g.Items {
		if (i.ID == "rope-3" || i.ID == "rope-4") && (i.State != gear.InService || i.Events[len(i.Events)-1].CheckedOn == "") {
			t.Errorf("%+v", i)
		}
	}
}
