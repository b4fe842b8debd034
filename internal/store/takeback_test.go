package store_test

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
)

// checker checks plans that somebody else changed.
var checker = &record.Signer{Account: uuid.New(), Name: "Ivo Kestrane", Person: "ivo", Others: true}

// checkedPlans adds n drops like the gate shaft, each changed a little, and has them checked.
func checkedPlans(t testing.TB, s *store.Store, team store.Team, n int, change func(i int, d *drop.Document)) (ids []string) {
	t.Helper()
	ctx := context.Background()
	for i := range n {
		d := demo.Drops()["gate-shaft"]
		d.Name = fmt.Sprint("Shaft ", i)
		change(i, d)
		id := fmt.Sprint("shaft-", i)
		if _, err := s.AddDrop(ctx, team.ID, by, id, d); err != nil {
			t.Fatal(err)
		}
		if err := s.SetPlan(ctx, team, checker, id, 1, record.Checked, nil); err != nil {
			t.Fatal(err)
		}
		ids = append(ids, id)
	}
	return ids
}

// A change takes back the plans whose drop has what was changed, whichever way it is
// changed, and no others.
func TestTakesBackWhatItTouches(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	const item = "gloves-2"
	ids := checkedPlans(t, s, team, 4, func(i int, d *drop.Document) {
		if i%2 == 1 {
			d.People[0].Carries = slices.DeleteFunc(d.People[0].Carries, func(c string) bool { return c == item })
		}
	})
	states := func() (list string) {
		t.Helper()
		for _, id := range ids {
			p, err := s.Plan(ctx, team, id)
			if err != nil {
				t.Fatal(err)
			}
			list += string(p.State) + " "
		}
		given, err := s.States(ctx, team.ID)
		if err != nil {
			t.Fatal(err)
		}
		for _, id := range ids {
			list += string(given[id].State) + " "
		}
		return list
	}
	const whole = "checked checked checked checked checked checked checked checked "
	const half = "draft checked draft checked draft checked draft checked "
	g, err := s.Gear(ctx, team.ID)
	if err != nil {
		t.Fatal(err)
	}
	of := func(id string) gear.Item {
		return g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == id })]
	}
	other := of("rope-3")
	other.Label = "rope 3, the long one"
	if err := put(s, team, &drop.Store{Items: []gear.Item{other}}); err != nil || states() != whole {
		t.Errorf("an item of another drop: %s %v", states(), err)
	}
	if _, err := s.Record(ctx, team, by, stop("rope-3", "a knock")); err != nil || states() != whole {
		t.Errorf("another drop's quarantine: %s %v", states(), err)
	}
	// A trial names the plans, and writes nothing.
	worn := of(demo.Drops()["gate-shaft"].Strands[0].Ropes[0])
	worn.LengthM--
	before := number(t, s, team)
	rows, plans, err := s.PutGear(ctx, team, by, &drop.Store{Items: []gear.Item{worn}}, store.Put{Try: true})
	if slices.Sort(plans); err != nil || rows[0].State != "changed" || !slices.Equal(plans, ids) || states() != whole || number(t, s, team) != before {
		t.Errorf("%+v %v %v: %s", rows, plans, err, states())
	}
	if _, err := s.Record(ctx, team, by, stop(item, "torn")); err != nil || states() != half {
		t.Errorf("an item of every other drop: %s %v", states(), err)
	}
}

// A cut takes back the plans that counted on the rope, and says why.
func TestCutTakesBack(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	rope := demo.Drops()["gate-shaft"].Strands[0].Ropes[0]
	ids := checkedPlans(t, s, team, 1, func(int, *drop.Document) {})
	g, err := s.Gear(ctx, team.ID)
	if err != nil {
		t.Fatal(err)
	}
	long := g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == rope })].LengthM
	now := time.Now().UTC().Format(time.RFC3339Nano)
	out, err := s.Record(ctx, team, by, &record.Batch{SentAt: now, Records: []record.Entry{{
		ID: uuid.NewString(), Kind: record.RopeCutting, GivenAt: now, Day: "2026-11-24", Item: rope, Cut: &record.RopeCut{LengthM: long, AtM: long - 1},
	}}})
	if err != nil || out[0].State != "kept" {
		t.Fatal(out, err)
	}
	p, err := s.Plan(ctx, team, ids[0])
	if err != nil || p.State != record.Draft || !slices.ContainsFunc(p.Because, func(b string) bool { return strings.Contains(b, "length") }) {
		t.Errorf("%+v %v", p, err)
	}
}

// BenchmarkQuarantine records the quarantine of an item that 71 checked plans have.
func BenchmarkQuarantine(b *testing.B) {
	ctx := context.Background()
	for b.Loop() {
		b.StopTimer()
		s, team := loaded(b)
		checkedPlans(b, s, team, 71, func(int, *drop.Document) {})
		b.StartTimer()
		if _, err := s.Record(ctx, team, by, stop("gloves-2", "torn")); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkLargeStore reads one drop of a team with five thousand items, with what is the
// team's.
func BenchmarkLargeStore(b *testing.B) {
	ctx := context.Background()
	s, team := loaded(b)
	like := demo.Items()[3]
	g := &drop.Store{}
	for i := range 5000 {
		item := like
		item.ID, item.Serial, item.Label = fmt.Sprint("more-", i), fmt.Sprint("M-", i), fmt.Sprint("more ", i)
		g.Items = append(g.Items, item)
	}
	if _, _, err := s.PutGear(ctx, team, by, g, store.Put{}); err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		d, err := s.Drop(ctx, team.ID, "face-4")
		if err != nil {
			b.Fatal(err)
		}
		if err := s.Present(ctx, team, d); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkDueBoard reads what the board of a team with five thousand items is made of, and
// lists it.
func BenchmarkDueBoard(b *testing.B) {
	ctx := context.Background()
	s, team := loaded(b)
	like := demo.Items()[3]
	g := &drop.Store{}
	for i := range 5000 {
		item := like
		item.ID, item.Serial, item.Label, item.Events = fmt.Sprint("more-", i), fmt.Sprint("M-", i), fmt.Sprint("more ", i), nil
		g.Items = append(g.Items, item)
	}
	if _, _, err := s.PutGear(ctx, team, by, g, store.Put{}); err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		g, err := s.Gear(ctx, team.ID)
		if err != nil {
			b.Fatal(err)
		}
		planned, err := s.PlannedByItem(ctx, team, "2026-11-24")
		if err != nil {
			b.Fatal(err)
		}
		if list := care.DueUntil(g.Items, gear.ModelsByID(g.Models), 6, "2026-11-24", "2028-01-01", planned); len(list) < 5000 {
			b.Fatal(len(list))
		}
	}
}

// A run is made of what was looked at: not of a plan that was taken back, or a drop that was
// changed, while it waited for its turn.
func TestRunOfWhatWasSeen(t *testing.T) {
	ctx := context.Background()
	program, owner := pgtest.URLs(t)
	s, err := store.Open(ctx, program)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	s.Today = func(store.Team) gear.Date { return demo.Day }
	team, _, err := s.Load(ctx, scenario.Of(hash))
	if err != nil {
		t.Fatal(err)
	}
	for _, state := range []record.State{record.Checked, record.Released} {
		if err := s.SetPlan(ctx, team, checker, "gate-shaft", 1, state, nil); err != nil {
			t.Fatal(err)
		}
	}
	holds, looks := connect(t, owner), connect(t, owner)
	tx, err := holds.Begin(ctx)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := tx.Exec(ctx, "SELECT pg_advisory_xact_lock(hashtextextended('records of ' || $1::uuid::text, 0))", team.ID); err != nil {
		t.Fatal(err)
	}
	made := make(chan error)
	go func() {
		_, err := s.AddRun(ctx, team, by, "gate-shaft", false)
		made <- err
	}()
	for waits := 0; waits == 0; {
		if err := looks.QueryRow(ctx, "SELECT count(*) FROM pg_locks l JOIN pg_database d ON d.oid = l.database WHERE d.datname = current_database() AND l.locktype = 'advisory' AND NOT l.granted").Scan(&waits); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := tx.Exec(ctx, "UPDATE drops SET version = version + 1 WHERE id = 'gate-shaft'"); err != nil {
		t.Fatal(err)
	}
	if err := tx.Commit(ctx); err != nil {
		t.Fatal(err)
	}
	var conflict *store.ConflictError
	if err := <-made; !errors.As(err, &conflict) || conflict.Version != 2 {
		t.Errorf("a run of a drop that was changed meanwhile: %v", err)
	}
	if runs, err := s.Runs(ctx, team.ID, "gate-shaft"); err != nil || len(runs) > 0 {
		t.Errorf("%+v %v", runs, err)
	}
}
