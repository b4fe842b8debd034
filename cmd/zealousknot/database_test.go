package main

import (
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
)

// A login is tied to a person by command; what is refused names what is wrong and ties
// nobody.
func TestLink(t *testing.T) {
	ctx := t.Context()
	program, _ := pgtest.URLs(t)
	db, err := store.Open(ctx, program)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	team, _, err := scenario.Load(ctx, db, demo.Day)
	if err != nil {
		t.Fatal(err)
	}
	person := func(login string) string {
		t.Helper()
		all, err := db.Members(ctx, team.ID)
		i := slices.IndexFunc(all, func(m store.Membership) bool { return m.Login == login })
		if err != nil || i < 0 {
			t.Fatal(login, err)
		}
		return all[i].Person
	}
	const none = "no such"
	for _, c := range []struct {
		team, login, person string
		code                int
		says                string
	}{
		{none, "sunniva", "maren", 2, "--team: there is no team"},
		{team.Name, none, "maren", 2, "--login: nobody signs in"},
		{team.Name, "sunniva", none, 2, "--person: "},
		{team.Name, "sunniva", "rhea", 2, "--person: "},
	} {
		code, out, errs := command(t, "", "link", "--database-url="+program, "--team="+c.team, "--login="+c.login, "--person="+c.person)
		if code != c.code || out != "" || !strings.Contains(errs, c.says) {
			t.Errorf("%+v: %d %q %q", c, code, out, errs)
		}
		if got := person("sunniva"); got != "" {
			t.Errorf("%+v: sunniva is %q", c, got)
		}
	}
	was, free := person("rhea"), "una"
	if _, _, err := db.PutPeople(ctx, team, &record.Signer{Name: "Somebody"}, []rig.Member{{ID: free, Name: "Una Ferrant", MassKg: 70}}, store.Put{}); err != nil {
		t.Fatal(err)
	}
	code, out, errs := command(t, "", "link", "--database-url="+program, "--team="+team.Name, "--login=sunniva", "--person="+free)
	if code != 0 || !strings.Contains(out, "sunniva is "+free) || errs != "" {
		t.Errorf("%d %q %q", code, out, errs)
	}
	if person("sunniva") != free || person("rhea") != was {
		t.Errorf("sunniva is %q, rhea %q", person("sunniva"), person("rhea"))
	}
}

// The chain of records is read by command: whole, with the record and seal that were
// written down, and otherwise not.
func TestVerify(t *testing.T) {
	ctx := t.Context()
	program, _ := pgtest.URLs(t)
	db, err := store.Open(ctx, program)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if _, _, err := scenario.Load(ctx, db, demo.Day); err != nil {
		t.Fatal(err)
	}
	if code, _, errs := command(t, "", "verify", "--database-url=postgres://nobody@127.0.0.1:1/none?connect_timeout=2"); code != 3 || errs == "" {
		t.Errorf("no database there: %d %q", code, errs)
	}
	chains, err := db.Verify(ctx, 5)
	if err != nil {
		t.Fatal(err)
	}
	if _, out, _ := command(t, "", "verify", "--database-url="+program); !strings.Contains(out, chains[0].Last.Whole()) {
		t.Errorf("not the whole seal: %s", out)
	}
	i := slices.IndexFunc(chains, func(c store.Chain) bool { return c.Number >= 5 })
	seal := chains[i].Noted.Whole()
	for expect, want := range map[string]struct {
		code int
		says string
	}{
		"":                   {0, "records, whole"},
		"5:" + seal[:8]:      {0, "records, whole"},
		"4:" + seal[:8]:      {1, "No team has record 4"},
		"999999:" + seal[:8]: {1, "No team has record 999999"},
		"5":                  {2, "--expect"},
		"five:" + seal[:8]:   {2, "--expect"},
	} {
		code, out, errs := command(t, "", "verify", "--database-url="+program, "--expect="+expect)
		if code != want.code || !strings.Contains(out+errs, want.says) {
			t.Errorf("%s: %d %q %q", expect, code, out, errs)
		}
	}
}

// A database is brought to this version once; then somebody is invited to a team, which
// is made where there is none.
func TestMigrateAndInvite(t *testing.T) {
	url := pgtest.Empty(t)
	code, out, errs := command(t, "", "migrate", "--database-url="+url)
	if code != 0 || out != "" || !strings.Contains(errs, "migrated: ") {
		t.Fatalf("%d %q %q", code, out, errs)
	}
	if code, _, errs := command(t, "", "migrate", "--database-url="+url); code != 0 || errs != "" {
		t.Errorf("a second time: %d %q", code, errs)
	}
	db, err := store.Open(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if code, _, errs := command(t, "", "invite", "--database-url="+url, "--team=Low Quarry", "--name=Una Ferrant", "--roles=king"); code != 2 || errs == "" {
		t.Errorf("a role there is not: %d %q", code, errs)
	}
	if _, err := db.TeamNamed(t.Context(), "Low Quarry"); err == nil {
		t.Error("a refused invitation made a team")
	}
	code, out, errs = command(t, "", "invite", "--database-url="+url, "--team=Low Quarry", "--name=Una Ferrant", "--server=http://127.0.0.1:9")
	if code != 0 || !strings.Contains(out, "http://127.0.0.1:9/join#") {
		t.Errorf("%d %q %q", code, out, errs)
	}
	if _, err := db.TeamNamed(t.Context(), "Low Quarry"); err != nil {
		t.Error(err)
	}
}
