package main

import (
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/record"
	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
)

// A database with ten thousand records is written to a file and restored from it: every
// table is as it was, the chain is whole, the program's role may go on and no more. What
// cannot be restored is refused and leaves nothing.
func TestBackup(t *testing.T) {
	program, owner := pgtest.URLs(t)
	fill(t, program, 10_000)
	dir := t.TempDir()
	file := filepath.Join(dir, "all.backup")
	if code, _, errs := command(t, "", "backup", "--database-url="+program, file); code == 0 || !strings.Contains(errs, "permission denied") {
		t.Errorf("the program's role wrote a backup: %d %q", code, errs)
	}
	if left, _ := filepath.Glob(filepath.Join(dir, "*")); len(left) != 0 {
		t.Errorf("a failed backup left %v", left)
	}
	if code, out, errs := command(t, "", "backup", "--database-url="+owner, file); code != 0 || !strings.Contains(out, "all.backup: ") {
		t.Fatalf("%d %q %q", code, out, errs)
	}
	if code, _, errs := command(t, "", "backup", "--database-url="+owner, file); code != 2 || !strings.Contains(errs, "there already") {
		t.Errorf("overwritten: %d %q", code, errs)
	}
	into := pgtest.Empty(t)
	whole, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	for name, c := range map[string]struct {
		make func(path string) error
		says string
	}{
		"nothing":       {func(string) error { return nil }, "No such file"},
		"words":         {func(p string) error { return os.WriteFile(p, []byte("drop all"), 0o600) }, "FILE: "},
		"its beginning": {func(p string) error { return os.WriteFile(p, whole[:len(whole)/2], 0o600) }, ""},
		"data alone":    {func(p string) error { return dumpWith(owner, p, "--data-only") }, "data without its tables"},
		"tables alone":  {func(p string) error { return dumpWith(owner, p, "--schema-only") }, "tables without data"},
	} {
		path := filepath.Join(dir, strings.ReplaceAll(name, " ", "-"))
		if err := c.make(path); err != nil {
			t.Fatal(err)
		}
		code, _, errs := command(t, "", "restore", "--database-url="+into, path)
		if code == 0 || !strings.Contains(errs, c.says) || c.says != "" && code != 2 {
			t.Errorf("%s: %d %q", name, code, errs)
		}
	}
	code, out, errs := command(t, "", "restore", "--database-url="+into, "--program-role="+pg.Program, file)
	if code != 0 || !strings.Contains(out, "records, whole") {
		t.Fatalf("%d %q %q", code, out, errs)
	}
	if code, _, errs := command(t, "", "restore", "--database-url="+into, file); code != 2 || !strings.Contains(errs, "something in this database already") {
		t.Errorf("restored over what is there: %d %q", code, errs)
	}
	if a, b := contents(t, owner), contents(t, into); a != b {
		t.Errorf("other rows:\n%s\n%s", a, b)
	}
	// It goes on where it was, with the rights that the program has.
	asProgram := strings.Replace(program, program[strings.LastIndex(program, "/"):], into[strings.LastIndex(into, "/"):], 1)
	fill(t, asProgram, 100)
	if _, err := exec1(asProgram, "DELETE FROM records"); err == nil {
		t.Error("the program may remove records")
	}
	if code, out, _ := command(t, "", "verify", "--database-url="+asProgram); code != 0 {
		t.Errorf("%d %s", code, out)
	}
}

// Data alone, put by hand into tables that are there, is refused with the reason.
func TestRestoreByHand(t *testing.T) {
	program, owner := pgtest.URLs(t)
	fill(t, program, 100)
	_, into := pgtest.URLs(t)
	file := filepath.Join(t.TempDir(), "data")
	if err := dumpWith(owner, file, "--data-only"); err != nil {
		t.Fatal(err)
	}
	tool, err := pg.Tool("pg_restore")
	if err != nil {
		t.Fatal(err)
	}
	out, err := exec.Command(tool, "--data-only", "--dbname="+into, file).CombinedOutput()
	if err == nil || !strings.Contains(string(out), "use the restore command") {
		t.Errorf("%v %s", err, out)
	}
}

func dumpWith(url, path, option string) error {
	tool, err := pg.Tool("pg_dump")
	if err != nil {
		return err
	}
	return exec.Command(tool, "--format=custom", option, "--dbname="+url, "--file="+path).Run()
}

// fill records n quarantines of the demo's items.
func fill(t *testing.T, url string, n int) {
	t.Helper()
	ctx := t.Context()
	db, err := store.Open(ctx, url)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	team, _, err := scenario.Load(ctx, db, demo.Day)
	if err != nil {
		t.Fatal(err)
	}
	by := &record.Signer{Account: uuid.New(), Name: "Somebody"}
	for n > 0 {
		now := time.Now().UTC().Format(time.RFC3339Nano)
		b := &record.Batch{SentAt: now}
		for ; n > 0 && len(b.Records) < 100; n-- {
			b.Records = append(b.Records, record.Entry{ID: uuid.NewString(), Kind: record.FunctionCheck, GivenAt: now, Day: "2026-11-24", Item: "descender-21",
				Check: &record.Proved{Rope: "rope-3", Passed: true}})
		}
		out, err := db.Record(ctx, team, by, b)
		if err != nil || out[0].State != "kept" {
			t.Fatal(out, err)
		}
	}
}

// contents are the rows of every table of the program, summed up.
func contents(t *testing.T, url string) (sums string) {
	t.Helper()
	for _, table := range []string{"teams", "accounts", "memberships", "models", "items", "item_events", "kits", "feeds", "photos", "people", "familiarisations", "practices", "classes", "marks", "joint_exercises", "drops", "drop_versions", "policies", "boards", "preplans", "callouts", "runs", "run_events", "device_tokens", "readings",
		"records", "record_subjects", "chains", "serials", "goose_db_version"} {
		sum, err := exec1(url, fmt.Sprintf("SELECT count(*) || ' ' || coalesce(md5(string_agg(t::text, E'\\n' ORDER BY t::text COLLATE \"C\")), '') FROM %s t", table))
		if err != nil {
			t.Fatal(table, err)
		}
		sums += table + " " + sum + "\n"
	}
	return sums
}

func exec1(url, statement string) (text string, err error) {
	ctx := context.Background()
	conn, err := pgx.Connect(ctx, url)
	if err != nil {
		return "", err
	}
	defer conn.Close(ctx)
	if strings.HasPrefix(statement, "SELECT") {
		err = conn.QueryRow(ctx, statement).Scan(&text)
		return text, err
	}
	_, err = conn.Exec(ctx, statement)
	return "", err
}
