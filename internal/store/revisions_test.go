package store_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/run"
	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
)

// Of a set of rows each is judged by its revision; one that is wrong keeps all back, unless
// the right ones alone are needed; what was changed is one record, with what was there
// before, and is found from each thing.
func TestRevisions(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	items := demo.Items()
	at := func(id string) gear.Item {
		return items[slices.IndexFunc(items, func(i gear.Item) bool { return i.ID == id })]
	}
	same, changed, stale, fresh, refused := at("rope-3"), at("rope-4"), at("rope-5"), at("rope-5"), at("rope-17")
	changed.Place, changed.Revision = "van 2", 1
	stale.Place, stale.Revision = "van 2", 3
	fresh.ID, fresh.Label, fresh.Serial = "rope-77", "rope 77", "R-77"
	refused.Model, refused.Serial, refused.Revision = "rope-105", "R-4", 1
	model := demo.Gear().Models[0]
	model.Cautions = append(slices.Clone(model.Cautions), "wash it")
	all := &drop.Store{Models: []gear.Model{model}, Items: []gear.Item{same, changed, stale, fresh, refused}}
	states := func(rows []store.RowOutcome) (list string) {
		for _, r := range rows {
			list += fmt.Sprintf("%s %s %s %d; ", r.Kind, r.ID, r.State, r.Revision)
		}
		return list
	}
	want := "model " + model.ID + " conflict 1; item rope-3 same 1; item rope-4 changed 2; item rope-5 conflict 1; item rope-77 new 1; item rope-17 refused 1; "
	before := number(t, s, team)
	_, _, err := s.PutGear(ctx, team, by, all, store.Put{})
	var wrong *store.RowsError
	if !errors.As(err, &wrong) || !errors.Is(err, store.ErrRefused) || states(wrong.Rows) != want || wrong.Rows[5].Errors[0].Pointer != "/items/4" {
		t.Fatalf("%v: %s", err, states(wrong.Rows))
	}
	if g, err := s.Gear(ctx, team.ID); err != nil || len(g.Items) != len(items) || number(t, s, team) != before {
		t.Error("something was written", err)
	}
	rows, _, err := s.PutGear(ctx, team, by, all, store.Put{OnlyRight: true, Reason: "moved house"})
	if err != nil || states(rows) != want {
		t.Fatal(err, states(rows))
	}
	lines := about(t, s, team, "item", "rope-4")
	said := lines[0].Says
	if said.Kind != record.GearChange || said.Note != "moved house" || said.Change.Count != 2 || len(said.Change.Rows) != 1 || lines[0].By != by.Name {
		t.Fatalf("%+v", said)
	}
	var was, is gear.Item
	if err := errors.Join(json.Unmarshal(said.Change.Rows[0].Before, &was), json.Unmarshal(said.Change.Rows[0].After, &is)); err != nil || was.Place != "rope store" || is.Place != "van 2" {
		t.Errorf("%v: %+v, %+v", err, was, is)
	}
	if row := about(t, s, team, "item", "rope-77")[0].Says.Change.Rows[0]; row.Before != nil || row.ID != "rope-77" {
		t.Errorf("%+v", row)
	}
	if n := number(t, s, team); n != before+1 {
		t.Errorf("%d records were written", n-before)
	}
	// Conflicts are kept apart from refusals; the same again is the same.
	if _, _, err := s.PutGear(ctx, team, by, &drop.Store{Items: []gear.Item{stale}}, store.Put{}); !errors.Is(err, store.ErrConflict) || errors.Is(err, store.ErrRefused) {
		t.Error(err)
	}
	if rows, _, err := s.PutGear(ctx, team, by, &drop.Store{Items: []gear.Item{changed}}, store.Put{}); err != nil || rows[0].State != "same" || number(t, s, team) != before+1 {
		t.Error(rows, err)
	}
	// A quarantine is a change too: who read the item before gets a conflict.
	if _, err := s.Record(ctx, team, by, stop("rope-4", "a knock")); err != nil {
		t.Fatal(err)
	}
	changed.Revision, changed.Place = 2, "van 3"
	if _, _, err := s.PutGear(ctx, team, by, &drop.Store{Items: []gear.Item{changed}}, store.Put{}); !errors.Is(err, store.ErrConflict) {
		t.Error(err)
	}
	// What happened to an item is only added to.
	g, err := s.Gear(ctx, team.ID)
	if err != nil {
		t.Fatal(err)
	}
	now := g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == "rope-4" })]
	now.Events = []gear.Event{{Kind: "heat", On: "2026-01-02"}}
	if _, _, err := s.PutGear(ctx, team, by, &drop.Store{Items: []gear.Item{now}}, store.Put{}); !errors.Is(err, store.ErrRefused) {
		t.Error(err)
	}
	now.Events, now.Place = nil, "quarantine shelf"
	if rows, _, err := s.PutGear(ctx, team, by, &drop.Store{Items: []gear.Item{now}}, store.Put{}); err != nil || rows[0].State != "changed" {
		t.Error(rows, err)
	}
	person := demo.People()[0]
	person.MassKg++
	if _, _, err := s.PutPeople(ctx, team, by, []rig.Member{person}, store.Put{}); !errors.Is(err, store.ErrConflict) {
		t.Error(err)
	}
	person.Revision, person.Familiar = 1, nil
	if rows, _, err := s.PutPeople(ctx, team, by, []rig.Member{person}, store.Put{Reason: "weighed"}); err != nil || rows[0].Revision != 2 {
		t.Error(rows, err)
	}
	if p, err := s.People(ctx, team.ID); err != nil || !slices.ContainsFunc(p, func(m rig.Member) bool {
		return m.ID == person.ID && m.MassKg == person.MassKg && len(m.Familiar) == len(demo.People()[0].Familiar)
	}) {
		t.Error(p, err)
	}
	if c, err := s.Verify(ctx, 0); err != nil || c[0].Broken != nil || len(c[0].Differs) > 0 {
		t.Error(c, err)
	}
}

func number(t testing.TB, s *store.Store, team store.Team) int64 {
	t.Helper()
	chains, err := s.Verify(context.Background(), 0)
	if err != nil {
		t.Fatal(err)
	}
	return chains[slices.IndexFunc(chains, func(c store.Chain) bool { return c.Team.ID == team.ID })].Number
}

func about(t testing.TB, s *store.Store, team store.Team, kind, id string) []store.RecordLine {
	t.Helper()
	lines, err := s.RecordsAbout(context.Background(), team.ID, record.Subject{Kind: kind, ID: id}, store.Page{Limit: 100})
	if err != nil || len(lines) == 0 {
		t.Fatal(lines, err)
	}
	return lines
}

// Of many who change what they read at once one wins, and revisions have no gaps.
func TestRevisionRace(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	for from := range 3 {
		var won atomic.Int32
		together(8, func(i int) {
			item := demo.Items()[3]
			item.Place, item.Revision = fmt.Sprintf("shelf %d.%d", from, i), from+1
			switch rows, _, err := s.PutGear(ctx, team, by, &drop.Store{Items: []gear.Item{item}}, store.Put{}); {
			case err == nil && rows[0].Revision == from+2:
				won.Add(1)
			case !errors.Is(err, store.ErrConflict):
				t.Error(rows, err)
			}
		})
		if won.Load() != 1 {
			t.Errorf("%d won", won.Load())
		}
	}
}

// Every version of a drop is there, also after it was removed, and comes back.
func TestVersions(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	for v := 1; v <= 3; v++ {
		d := demo.Drops()["face-4"]
		d.Note = fmt.Sprint("version ", v+1)
		if _, err := s.SaveDrop(ctx, team, by, "face-4", v, d); err != nil {
			t.Fatal(err)
		}
	}
	if err := s.RemoveDrop(ctx, team.ID, "face-4", 4); err != nil {
		t.Fatal(err)
	}
	list, err := s.Versions(ctx, team.ID, "face-4", 0, 10)
	if err != nil || len(list) != 4 || list[0].Version != 4 || list[0].By != by.Name || list[3].By != "" {
		t.Fatalf("%+v %v", list, err)
	}
	if list, err := s.Versions(ctx, team.ID, "face-4", 3, 1); err != nil || len(list) != 1 || list[0].Version != 2 {
		t.Fatalf("%+v %v", list, err)
	}
	if gone, err := s.RemovedDrops(ctx, team.ID, 10); err != nil || len(gone) != 1 || gone[0].ID != "face-4" || gone[0].Version != 4 {
		t.Fatalf("%+v %v", gone, err)
	}
	d, err := s.DropAt(ctx, team.ID, "face-4", 2)
	if err != nil || d.Document.Note != "version 2" {
		t.Fatal(d, err)
	}
	if _, err := s.BringBack(ctx, team.ID, by, "face-4", 3, d.Document); !errors.As(err, new(*store.ConflictError)) {
		t.Error(err)
	}
	if v, err := s.BringBack(ctx, team.ID, by, "face-4", 4, d.Document); err != nil || v != 5 {
		t.Errorf("brought back as %d: %v", v, err)
	}
	if gone, err := s.RemovedDrops(ctx, team.ID, 10); err != nil || len(gone) != 0 {
		t.Errorf("%+v %v", gone, err)
	}
	if _, err := s.BringBack(ctx, team.ID, by, "none", 1, d.Document); !errors.Is(err, store.ErrNotFound) {
		t.Error(err)
	}
	if _, err := s.DropAt(ctx, team.ID, "face-4", 9); !errors.Is(err, store.ErrNotFound) {
		t.Error(err)
	}
}

// What the program's role may do to each table and view is what it needs and no more, also
// where any one of the guards is off; and what was changed past them is named.
func TestNoWayRound(t *testing.T) {
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
	if _, err := s.Record(ctx, team, by, stop("rope-3", "a knock")); err != nil {
		t.Fatal(err)
	}
	ran, err := s.AddRun(ctx, team, by, "gate-shaft", true)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.GiveEvents(ctx, team, by, ran, 0, []run.Event{{ID: uuid.NewString(), Kind: run.Start, GivenAt: time.Now().UTC().Format(time.RFC3339)}}); err != nil {
		t.Fatal(err)
	}
	asProgram, asOwner := connect(t, program), connect(t, owner)
	// s, i, u, d, t: may select, insert, update, delete, truncate.
	may := map[string]string{
		"records": "si", "sent": "siu", "record_subjects": "s", "chains": "s", "drop_versions": "s", "serials": "", "goose_db_version": "s", "teams": "si",
		"accounts": "siu", "invitations": "siud", "sign_ins": "siu", "attempts": "sid", "sessions": "siud", "memberships": "siud", "models": "siu", "items": "siu", "kits": "siu", "feeds": "siu", "photos": "si",
		"item_events": "siu", "people": "siu", "familiarisations": "sid", "practices": "sid", "classes": "siud", "marks": "si", "joint_exercises": "siud", "drops": "siud", "policies": "siu", "boards": "siu", "preplans": "siud", "callouts": "siu", "runs": "siu", "run_events": "si", "device_tokens": "siu", "readings": "sid",
	}
	rows, err := asOwner.Query(ctx, `SELECT c.relname, string_agg(CASE WHEN has_table_privilege($1, c.oid, r.name) THEN left(lower(r.name), 1) ELSE '' END, '' ORDER BY r.at)
		FROM pg_class c CROSS JOIN (VALUES ('SELECT', 1), ('INSERT', 2), ('UPDATE', 3), ('DELETE', 4), ('TRUNCATE', 5)) r (name, at)
		WHERE c.relnamespace = 'public'::regnamespace AND c.relkind IN ('r', 'v', 'm', 'p', 'f') GROUP BY 1`, "zealousknot_program")
	if err != nil {
		t.Fatal(err)
	}
	for rows.Next() {
		var name, has string
		if err := rows.Scan(&name, &has); err != nil {
			t.Fatal(err)
		}
		if want, known := may[name]; !known || has != want {
			t.Errorf("%s: the program may %q, wanted %q", name, has, want)
		}
	}
	// With the triggers off the rights hold; with the rights given the triggers do.
	attempts := []string{
		"UPDATE records SET by_name = 'x'", "DELETE FROM records", "TRUNCATE records CASCADE",
		"DELETE FROM record_subjects", "UPDATE record_subjects SET id = 'x'", "TRUNCATE record_subjects",
		"UPDATE run_events SET content = '{}'", "DELETE FROM run_events", "TRUNCATE run_events",
	}
	// Of a run nothing but how far it is changes.
	for _, a := range []string{"UPDATE runs SET document = '{}'", "UPDATE runs SET by_name = 'x'", "UPDATE runs SET sum = sha256('x')", "DELETE FROM runs"} {
		if _, err := asProgram.Exec(ctx, a); err == nil {
			t.Errorf("the program could: %s", a)
		}
	}
	for _, guard := range []struct{ off, on string }{
		{"ALTER TABLE records DISABLE TRIGGER USER; ALTER TABLE record_subjects DISABLE TRIGGER USER; ALTER TABLE run_events DISABLE TRIGGER USER", "ALTER TABLE records ENABLE TRIGGER USER; ALTER TABLE record_subjects ENABLE TRIGGER USER; ALTER TABLE run_events ENABLE TRIGGER USER"},
		{"GRANT ALL ON records, record_subjects, run_events TO zealousknot_program", "REVOKE UPDATE, DELETE, TRUNCATE ON records, record_subjects, run_events FROM zealousknot_program"},
	} {
		if _, err := asOwner.Exec(ctx, guard.off); err != nil {
			t.Fatal(err)
		}
		for _, a := range attempts {
			if _, err := asProgram.Exec(ctx, a); err == nil {
				t.Errorf("after %q the program could: %s", guard.off, a)
			}
		}
		if _, err := asOwner.Exec(ctx, guard.on); err != nil {
			t.Fatal(err)
		}
	}
	for attempt, want := range map[string]string{
		"ALTER TABLE records ALTER day DROP EXPRESSION; UPDATE records SET day = '2020-01-01' WHERE number = 2":             "column day",
		"ALTER TABLE records ALTER item_id DROP EXPRESSION; UPDATE records SET item_id = 'rope-4' WHERE item_id = 'rope-3'": "column item_id",
		"DELETE FROM record_subjects WHERE id = 'rope-3'":                                                                   "table record_subjects",
		"INSERT INTO record_subjects VALUES ('" + uuid.Nil.String() + "', 2, 'item', 'x')":                                  "record 2: table record_subjects",
		"INSERT INTO record_subjects VALUES ('" + uuid.Nil.String() + "', 4000, 'item', 'x')":                               "record 4000: table record_subjects, and there is no such record",
		"ALTER TABLE items DISABLE TRIGGER ALL; UPDATE items SET state = 'in-service', reason = '' WHERE id = 'rope-3'":     "item rope-3 is in-service, and by this record quarantine",
		"UPDATE items SET noted = NULL WHERE id = 'rope-5'":                                                                 "the rope rope-5, and what its map has",
		"UPDATE items SET noted = '{\"most_mm\": 10.5}' WHERE id = 'rope-5'":                                                "the rope rope-5, and what its map has",
	} {
		tampered(t, attempt, want)
	}
}

// tampered does something to a database past its guards and wants it named.
func tampered(t *testing.T, attempt, want string) {
	t.Helper()
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
	damaged := stop("rope-5", "fluff")
	damaged.Records[0].Kind, damaged.Records[0].Quarantine, damaged.Records[0].Rope = record.RopeNote, nil, &record.RopeNoted{What: record.RopeDamage, FromM: 12}
	for _, b := range []*record.Batch{stop("rope-3", "a knock"), damaged} {
		if _, err := s.Record(ctx, team, by, b); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := connect(t, owner).Exec(ctx, "ALTER TABLE records DISABLE TRIGGER ALL; ALTER TABLE record_subjects DISABLE TRIGGER ALL; "+
		strings.ReplaceAll(attempt, uuid.Nil.String(), team.ID.String())); err != nil {
		t.Fatal(attempt, err)
	}
	chains, err := s.Verify(ctx, 0)
	if err != nil || chains[0].Broken != nil || !slices.ContainsFunc(chains[0].Differs, func(d store.Difference) bool { return strings.Contains(d.String(), want) }) {
		t.Errorf("%s: %+v %v, want %s", attempt, chains, err, want)
	}
}

// What is retired as rows is recorded for each, once; the stock of a drop names who is not on
// it.
func TestRetiredRows(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	retire := func(reason string, ids ...string) {
		t.Helper()
		g, err := s.Gear(ctx, team.ID)
		if err != nil {
			t.Fatal(err)
		}
		rows := &drop.Store{}
		for _, i := range g.Items {
			if slices.Contains(ids, i.ID) {
				i.State, i.Reason = gear.Retired, reason
				rows.Items = append(rows.Items, i)
			}
		}
		if _, _, err := s.PutGear(ctx, team, by, rows, store.Put{}); err != nil {
			t.Fatal(err)
		}
	}
	retired := func(id string) (n int) {
		for _, l := range about(t, s, team, "item", id) {
			if l.Says.Kind == record.Retirement {
				n++
			}
		}
		return n
	}
	retire("worn", "pulley-3", "pulley-4")
	if retired("pulley-3") != 1 || retired("pulley-4") != 1 {
		t.Errorf("%d and %d retirements", retired("pulley-3"), retired("pulley-4"))
	}
	retire("worn, and cut up", "pulley-3")
	if retired("pulley-3") != 1 {
		t.Errorf("%d retirements", retired("pulley-3"))
	}
	stock, err := s.Stock(ctx, team, demo.Drops()["face-4"], "face-4")
	if err != nil || slices.Contains(stock.Away, "Rhea Tolland") || !slices.Contains(stock.Away, "Ivo Kestrane") || len(stock.Away) != 3 {
		t.Errorf("%v %q", err, stock.Away)
	}
}
