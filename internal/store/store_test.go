package store_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"net"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
)

func TestMain(m *testing.M) { pgtest.Main(m) }

// hash stands for that of a password nobody knows.
const hash = "$argon2id$"

// by signs in tests that are not about who does it.
var by = &record.Signer{Account: uuid.New(), Name: "Dov Pellister", Person: "dov", Others: true, Keeps: true}

func loaded(t testing.TB) (*store.Store, store.Team) {
	t.Helper()
	s := pgtest.Store(t)
	team, fresh, err := s.Load(context.Background(), scenario.Of(hash))
	if err != nil || !fresh {
		t.Fatal(fresh, err)
	}
	return s, team
}

// What is kept comes back as it was.
func TestRoundTrip(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	g, err := s.Gear(ctx, team.ID)
	if err != nil {
		t.Fatal(err)
	}
	for i := range g.Items {
		g.Items[i].Revision--
		if _, err := care.ReadCode(g.Items[i].Code); err != nil {
			t.Errorf("%s has the code %q: %v", g.Items[i].ID, g.Items[i].Code, err)
		}
		g.Items[i].Code = ""
	}
	for i := range g.Models {
		g.Models[i].Revision--
	}
	if want := demo.Gear(); !sameByID(g.Items, want.Items, func(i gear.Item) string { return i.ID }) ||
		!sameByID(g.Models, want.Models, func(m gear.Model) string { return m.ID }) {
		t.Error("gear came back otherwise, or not with its first revision")
	}
	people, err := s.People(ctx, team.ID)
	if err != nil || len(people) != 4 {
		t.Fatal(people, err)
	}
	for id, want := range demo.Drops() {
		got, err := s.Drop(ctx, team.ID, id)
		if err != nil {
			t.Fatal(err)
		}
		// What is the team's is not kept with the drop; with it, it is as it was.
		if d := got.Document; len(d.Items)+len(d.Models)+len(d.Checks)+len(d.PartnerChecks) > 0 {
			t.Errorf("%s has copies of what is the team's", id)
		}
		if err := errors.Join(s.Present(ctx, team, got, &store.Drop{ID: id, Document: want}), got.Document.Validate()); err != nil || got.Version != 1 || asJSON(got.Document) != asJSON(want) {
			t.Errorf("%s came back otherwise: %v", id, err)
		}
	}
	// A second load changes nothing.
	if _, fresh, err := s.Load(ctx, scenario.Of(hash)); fresh || err != nil {
		t.Error("loaded twice", err)
	}
}

func sameByID[T any](a, b []T, id func(T) string) bool {
	index := func(list []T) map[string]string {
		m := map[string]string{}
		for _, v := range list {
			m[id(v)] = asJSON(v)
		}
		return m
	}
	return maps.Equal(index(a), index(b))
}

func asJSON(v any) string {
	b, err := json.Marshal(v)
	if err != nil {
		panic(err)
	}
	return string(b)
}

// Of many who save the same version one wins, and the others get a conflict.
func TestSaveRace(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	const n = 12
	var wins, losses sync.Map
	var wait sync.WaitGroup
	for i := range n {
		wait.Go(func() {
			v, err := s.SaveDrop(ctx, team, by, "face-4", 1, demo.Drops()["face-4"])
			var conflict *store.ConflictError
			switch {
			case err == nil && v == 2:
				wins.Store(i, true)
			case errors.As(err, &conflict) && conflict.Version == 2:
				losses.Store(i, true)
			default:
				t.Errorf("version %d, %v", v, err)
			}
		})
	}
	wait.Wait()
	if w, l := size(&wins), size(&losses); w != 1 || l != n-1 {
		t.Errorf("%d won and %d lost", w, l)
	}
}

func size(m *sync.Map) (n int) {
	m.Range(func(any, any) bool { n++; return true })
	return n
}

// Nothing of one team can be read, changed or removed by another.
func TestTeamsAreApart(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	other, err := s.EnsureTeam(ctx, "another team")
	if err != nil {
		t.Fatal(err)
	}
	for _, id := range []uuid.UUID{other.ID, uuid.New()} {
		if _, err := s.Drop(ctx, id, "face-4"); !errors.Is(err, store.ErrNotFound) {
			t.Errorf("read: %v", err)
		}
		if _, err := s.SaveDrop(ctx, store.Team{ID: id}, by, "face-4", 1, demo.Drops()["face-4"]); !errors.Is(err, store.ErrNotFound) {
			t.Errorf("saved: %v", err)
		}
		if err := s.RemoveDrop(ctx, id, "face-4", 1); !errors.Is(err, store.ErrNotFound) {
			t.Errorf("removed: %v", err)
		}
		if list, err := s.Drops(ctx, id, 10); err != nil || len(list) != 0 {
			t.Errorf("listed: %v %v", list, err)
		}
		if g, err := s.Gear(ctx, id); err != nil || len(g.Items) != 0 {
			t.Errorf("gear: %v", err)
		}
		if p, err := s.People(ctx, id); err != nil || len(p) != 0 {
			t.Errorf("people: %v", err)
		}
	}
	// An item of a model that only another team has is refused.
	item := demo.Items()[0]
	if err := put(s, other, &drop.Store{Items: []gear.Item{item}}); !errors.Is(err, store.ErrRefused) {
		t.Errorf("an item of another team's model: %v", err)
	}
	if d, err := s.Drop(ctx, team.ID, "face-4"); err != nil || d.Version != 1 {
		t.Errorf("the drop was touched: %v", err)
	}
}

// put changes gear as somebody who has just read it.
func put(s *store.Store, team store.Team, g *drop.Store) error {
	present, err := s.Gear(context.Background(), team.ID)
	if err != nil {
		return err
	}
	for i := range g.Items {
		for _, p := range present.Items {
			if p.ID == g.Items[i].ID {
				g.Items[i].Revision = p.Revision
			}
		}
	}
	_, _, err = s.PutGear(context.Background(), team, by, g, store.Put{})
	return err
}

// The database refuses rows that cannot be, and a refused batch leaves nothing.
func TestRefused(t *testing.T) {
	ctx := context.Background()
	s, team := loaded(t)
	before, err := s.Gear(ctx, team.ID)
	if err != nil {
		t.Fatal(err)
	}
	for name, spoil := range map[string]func(*gear.Item){
		"out of service without a reason": func(i *gear.Item) { i.State = gear.Quarantine },
		"used before it was made":         func(i *gear.Item) { i.FirstUsedOn, i.MadeOn = "2020-01-01", "2021-01-01" },
		"a rope without length":           func(i *gear.Item) { i.LengthM = 0 },
		"no such model":                   func(i *gear.Item) { i.Model = "x" },
		"no such state":                   func(i *gear.Item) { i.State = "lost" },
		"the serial of another":           func(i *gear.Item) { i.Model, i.Serial = "rope-105", "R-4" },
		"an id that is none":              func(i *gear.Item) { i.ID = "No Id" },
		"no label":                        func(i *gear.Item) { i.Label = " " },
		"a check before its event":        func(i *gear.Item) { i.Events = []gear.Event{{Kind: "edge", On: "2026-02-02", CheckedOn: "2026-02-01"}} },
	} {
		good, bad := demo.Items()[3], demo.Items()[0]
		good.Place = "moved"
		spoil(&bad)
		if err := put(s, team, &drop.Store{Items: []gear.Item{good, bad}}); !errors.Is(err, store.ErrRefused) {
			t.Errorf("%s: %v", name, err)
		}
	}
	if after, err := s.Gear(ctx, team.ID); err != nil || !reflect.DeepEqual(after, before) {
		t.Error("a refused batch left something")
	}
	retired := demo.Items()[slices.IndexFunc(demo.Items(), func(i gear.Item) bool { return i.State == gear.Retired })]
	retired.State = gear.InService
	if err := put(s, team, &drop.Store{Items: []gear.Item{retired}}); !errors.Is(err, store.ErrRefused) {
		t.Errorf("a retired item came back: %v", err)
	}
	// What is out of service stays as it is but for where it lies, and a serial is used once
	// for ever, whatever becomes of the item that had it.
	if _, err := s.Record(ctx, team, by, stop("rope-3", "a knock")); err != nil {
		t.Fatal(err)
	}
	items, err := s.Gear(ctx, team.ID)
	if err != nil {
		t.Fatal(err)
	}
	stopped := items.Items[slices.IndexFunc(items.Items, func(i gear.Item) bool { return i.ID == "rope-3" })]
	fresh := demo.Items()[slices.IndexFunc(demo.Items(), func(i gear.Item) bool { return i.ID == "rope-5" })]
	for name, change := range map[string]struct {
		item *gear.Item
		to   func(*gear.Item)
		fine bool
	}{
		"the serial of what is stopped": {&stopped, func(i *gear.Item) { i.Serial = "R-999" }, false},
		"its length":                    {&stopped, func(i *gear.Item) { i.LengthM++ }, false},
		"its length, as if it was cut":  {&stopped, func(i *gear.Item) { i.LengthM-- }, false},
		"its examination":               {&stopped, func(i *gear.Item) { i.ExaminedOn = "2026-11-01" }, false},
		"where it lies":                 {&stopped, func(i *gear.Item) { i.Place = "quarantine shelf" }, true},
		"nothing":                       {&stopped, func(*gear.Item) {}, true},
		"another serial of what is fit": {&fresh, func(i *gear.Item) { i.Serial = "R-1005" }, true},
	} {
		i := *change.item
		change.to(&i)
		if err := put(s, team, &drop.Store{Items: []gear.Item{i}}); (err == nil) != change.fine || err != nil && !errors.Is(err, store.ErrRefused) {
			t.Errorf("%s: %v", name, err)
		}
	}
	old := fresh
	old.ID, old.Label = "rope-99", "rope 99"
	if err := put(s, team, &drop.Store{Items: []gear.Item{old}}); !errors.Is(err, store.ErrRefused) || !strings.Contains(err.Error(), "another item's") {
		t.Errorf("an old serial on another item: %v", err)
	}
	if before, err = s.Gear(ctx, team.ID); err != nil {
		t.Fatal(err)
	}
	if _, _, err := s.PutPeople(ctx, team, by, []rig.Member{{ID: "new", Name: "New", MassKg: 80}, {ID: "bad", Name: "Bad", MassKg: -1}}, store.Put{}); !errors.Is(err, store.ErrRefused) {
		t.Errorf("a person without mass: %v", err)
	}
	if after, err := s.Gear(ctx, team.ID); err != nil || !reflect.DeepEqual(after, before) {
		t.Error("a refused batch left something")
	}
	if people, err := s.People(ctx, team.ID); err != nil || len(people) != 4 {
		t.Error("a refused batch left a person")
	}
}

// Migrating a migrated database changes nothing.
func TestMigrateTwice(t *testing.T) {
	ctx := context.Background()
	_, url := pgtest.URLs(t)
	s, err := store.Open(ctx, url)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	together(3, func(int) {
		if err := s.Migrate(ctx, func(name string) { t.Errorf("migrated %s a second time", name) }); err != nil {
			t.Error(err)
		}
	})
	conn, err := pgx.Connect(ctx, url)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(ctx)
	var tables int
	if err := conn.QueryRow(ctx, "SELECT count(*) FROM information_schema.tables WHERE table_schema = 'public'").Scan(&tables); err != nil || tables < 7 {
		t.Errorf("%d tables, %v", tables, err)
	}
	// What a newer program has migrated is left alone.
	if _, err := conn.Exec(ctx, "INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, true)"); err != nil {
		t.Fatal(err)
	}
	if err := s.Fits(ctx); !errors.Is(err, store.ErrNewer) {
		t.Errorf("of a newer program: %v", err)
	}
	if err := s.Migrate(ctx, func(string) {}); !errors.Is(err, store.ErrNewer) {
		t.Errorf("migrated back: %v", err)
	}
}

// Of several that migrate an empty database at once one does, and all end well.
func TestMigrateAtOnce(t *testing.T) {
	ctx := context.Background()
	url := pgtest.Empty(t)
	var done atomic.Int64
	together(3, func(int) {
		s, err := store.Open(ctx, url)
		if err != nil {
			t.Error(err)
			return
		}
		defer s.Close()
		if err := s.Migrate(ctx, func(string) { done.Add(1) }); err != nil {
			t.Error(err)
		}
	})
	files, err := filepath.Glob("migrations/*.sql")
	if n := done.Load(); err != nil || n != int64(len(files)) {
		t.Errorf("%d of %d migrations were done: %v", n, len(files), err)
	}
}

func BenchmarkReadAndSave(b *testing.B) {
	ctx := context.Background()
	s, team := loaded(b)
	for b.Loop() {
		d, err := s.Drop(ctx, team.ID, "face-4")
		if err != nil {
			b.Fatal(err)
		}
		if _, err := s.SaveDrop(ctx, team, by, d.ID, d.Version, d.Document); err != nil {
			b.Fatal(err)
		}
	}
}

// Of many who save a policy over one version, one does.
func TestTogether(t *testing.T) {
	ctx := context.Background()
	s := pgtest.Store(t)
	team, _, err := s.Load(ctx, scenario.Of(hash))
	if err != nil {
		t.Fatal(err)
	}
	if p, version, err := s.Policy(ctx, team); err != nil || version != 0 || p.Name != demo.Team {
		t.Fatal(p, version, err)
	}
	for from := range 3 {
		saved := atomic.Int32{}
		together(8, func(i int) {
			_, err := s.SavePolicy(ctx, team, by, from, &policy.Policy{Name: "ours", GripKN: quantity.Kilonewtons(0.1 + 0.01*float64(i) + 0.1*float64(from))})
			var conflict *store.ConflictError
			switch {
			case err == nil:
				saved.Add(1)
			case !errors.As(err, &conflict) || conflict.Version != from+1:
				t.Error(err)
			}
		})
		if _, version, err := s.Policy(ctx, team); err != nil || version != from+1 || saved.Load() != 1 {
			t.Errorf("version %d, %d saved, %v", version, saved.Load(), err)
		}
	}
}

// together does something n times at once.
func together(n int, do func(int)) {
	var all sync.WaitGroup
	for i := range n {
		all.Go(func() { do(i) })
	}
	all.Wait()
}

// A database that comes late is waited for; one that cannot be named is not.
func TestWait(t *testing.T) {
	program, _ := pgtest.URLs(t)
	config, err := pgx.ParseConfig(program)
	if err != nil {
		t.Fatal(err)
	}
	free, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	late := free.Addr().String()
	free.Close()
	asked := 0
	s, err := store.Wait(t.Context(), strings.Replace(program, fmt.Sprintf("127.0.0.1:%d", config.Port), late, 1), func(error) {
		// It was asked once and was not there: now it comes.
		if asked++; asked == 1 {
			forward(t, late, fmt.Sprintf("127.0.0.1:%d", config.Port))
		}
	})
	if err != nil || asked == 0 {
		t.Fatalf("%v after %d times", err, asked)
	}
	defer s.Close()
	if err := s.Ping(t.Context()); err != nil {
		t.Error(err)
	}
	if _, err := store.Wait(t.Context(), "postgres://host:not-a-port/x", func(error) {}); err == nil {
		t.Error("a database of no name is waited for")
	}
	gone, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := store.Wait(gone, program, func(error) {}); err == nil {
		t.Error("waited for by nobody")
	}
}

// forward passes what comes to one address on to another, until the test ends.
func forward(t *testing.T, from, to string) {
	l, err := net.Listen("tcp", from)
	if err != nil {
		t.Error(err)
		return
	}
	t.Cleanup(func() { l.Close() })
	go func() {
		for {
			in, err := l.Accept()
			if err != nil {
				return
			}
			out, err := net.Dial("tcp", to)
			if err != nil {
				in.Close()
				continue
			}
			go func() { _, _ = io.Copy(out, in); out.Close() }()
			go func() { _, _ = io.Copy(in, out); in.Close() }()
		}
	}()
}
