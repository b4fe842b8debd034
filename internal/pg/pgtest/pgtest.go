// Package pgtest gives tests a database of their own on a private server: one
// server a test binary, one migrated template, a copy of it a test.
package pgtest

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"os"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/jackc/pgx/v5"

	"zealousknot/internal/pg"
	"zealousknot/internal/store"
)

var (
	server *pg.Server
	count  atomic.Int64
	// copying guards the template: it can be copied by one test at a time.
	copying sync.Mutex
)

// Main runs the tests of a package with a server, and after them what ends what they share; call
// it from TestMain.
func Main(m *testing.M, after ...func()) {
	code, err := run(m)
	for _, end := range after {
		end()
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, "pgtest:", err)
		code = 1
	}
	os.Exit(code)
}

func run(m *testing.M) (int, error) {
	parent := "/dev/shm"
	if _, err := os.Stat(parent); err != nil {
		parent = os.TempDir()
	}
	dir, err := os.MkdirTemp(parent, "zealousknot-test-")
	if err != nil {
		return 0, err
	}
	defer os.RemoveAll(dir)
	ctx := context.Background()
	server, err = pg.Start(ctx, pg.Options{Dir: dir, Progress: func(string) {}})
	if err != nil {
		return 0, err
	}
	defer server.Stop()
	template, err := store.Open(ctx, server.URL)
	if err != nil {
		return 0, err
	}
	err = errors.Join(template.Migrate(ctx, func(string) {}), template.Grant(ctx, pg.Program))
	template.Close()
	if err != nil {
		return 0, err
	}
	return m.Run(), nil
}

// URLs give a fresh, migrated database: as the program's role has it, and as its
// owner.
func URLs(t testing.TB) (program, owner string) {
	t.Helper()
	ctx := context.Background()
	u, err := url.Parse(server.URL)
	if err != nil {
		t.Fatal(err)
	}
	template, name := u.Path[1:], fmt.Sprintf("test_%d", count.Add(1))
	u.Path = "/postgres"
	copying.Lock()
	defer copying.Unlock()
	conn, err := pgx.Connect(ctx, u.String())
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(ctx)
	if _, err := conn.Exec(ctx, fmt.Sprintf("CREATE DATABASE %s TEMPLATE %s STRATEGY FILE_COPY", name, template)); err != nil {
		t.Fatal(err)
	}
	u.Path = "/" + name
	p, err := url.Parse(server.ProgramURL)
	if err != nil {
		t.Fatal(err)
	}
	p.Path = u.Path
	return p.String(), u.String()
}

// Empty gives a database with nothing in it, as its owner has it.
func Empty(t testing.TB) string {
	t.Helper()
	ctx := context.Background()
	u, err := url.Parse(server.URL)
	if err != nil {
		t.Fatal(err)
	}
	name := fmt.Sprintf("empty_%d", count.Add(1))
	conn, err := pgx.Connect(ctx, server.URL)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(ctx)
	if _, err := conn.Exec(ctx, "CREATE DATABASE "+name+" TEMPLATE template0"); err != nil {
		t.Fatal(err)
	}
	u.Path = "/" + name
	return u.String()
}

// Store opens a fresh, migrated database and closes it with the test.
func Store(t testing.TB) *store.Store {
	t.Helper()
	program, _ := URLs(t)
	s, err := store.Open(context.Background(), program)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	return s
}
