package main

import (
	"bufio"
	"context"
	"crypto/rand"
	"flag"
	"fmt"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg"
	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

var several = flag.Bool("several", false, "also run the trials with several servers and databases, which take a minute")

// filled brings a database to this version with the demo's team in it, to be served as a
// site that is not the demo.
func filled(t *testing.T, s *pg.Server) {
	t.Helper()
	db, err := store.Open(t.Context(), s.URL)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if err := db.Migrate(t.Context(), func(string) {}); err != nil {
		t.Fatal(err)
	}
	if err := db.Grant(t.Context(), pg.Program); err != nil {
		t.Fatal(err)
	}
	hash, err := web.HashPassword(t.Context(), demo.Password)
	if err != nil {
		t.Fatal(err)
	}
	sc := scenario.Of(hash)
	for i := range sc.Members {
		sc.Members[i].Demo = false
	}
	if _, _, err := db.Load(t.Context(), sc); err != nil {
		t.Fatal(err)
	}
}

// The database is lost in the middle of a stream of records, and its standby takes over:
// what was acknowledged is there, the program finds the new one by itself, and what got no
// answer is sent again and is there once.
func TestFailover(t *testing.T) {
	if !*several {
		t.Skip("with -several, as make soak does")
	}
	ctx := t.Context()
	dir := demoDir(t)
	start := func(make func(context.Context, pg.Options) (*pg.Server, error), name string) *pg.Server {
		s, err := make(ctx, pg.Options{Dir: dir + "/" + name, Durable: true, Progress: func(string) {}})
		if err != nil {
			t.Fatal(name, err)
		}
		return s
	}
	primary := start(pg.Start, "first")
	filled(t, primary)
	standby := start(primary.Standby, "second")
	t.Cleanup(standby.Stop)
	r := startProgram(t, both(t, primary, standby), "serve", "--address=127.0.0.1:0", "--plain-http").signIn(t)

	streams := make([]stream, 6)
	acknowledged := make(chan bool, 100_000)
	var all sync.WaitGroup
	for i := range streams {
		streams[i].acknowledged = map[string]int64{}
		all.Go(func() { streams[i].run(r, acknowledged) })
	}
	for range 200 {
		<-acknowledged
	}
	primary.Kill()
	all.Wait()
	if err := standby.Promote(ctx); err != nil {
		t.Fatal(err)
	}
	// What was open is sent until it is answered; the program finds its new database itself.
	for i := range streams {
		for tries := 0; ; tries++ {
			if err := streams[i].send(r); err == nil {
				break
			} else if tries > 200 {
				t.Fatal("after the standby took over:", err)
			}
			retry := time.NewTimer(50 * time.Millisecond)
			<-retry.C
		}
	}
	after := r.numbers(t)
	n := 0
	for i := range streams {
		for id, number := range streams[i].acknowledged {
			if n++; after[id] != number {
				t.Errorf("record %d was acknowledged and is now %d", number, after[id])
			}
		}
	}
	if n < 200 {
		t.Errorf("only %d records were acknowledged", n)
	}
	if code, out, errs := command(t, "", "verify", "--database-url="+standby.URL); code != 0 || !strings.Contains(out, fmt.Sprintf("%d records, whole", len(after))) {
		t.Errorf("%d %s %s", code, out, errs)
	}
}

// both is where the program finds whichever of two databases may be written to.
func both(t *testing.T, a, b *pg.Server) string {
	t.Helper()
	first, err1 := url.Parse(a.ProgramURL)
	second, err2 := url.Parse(b.ProgramURL)
	if err1 != nil || err2 != nil {
		t.Fatal(err1, err2)
	}
	password, _ := first.User.Password()
	return fmt.Sprintf("postgres://%s:%s@%s,%s%s?sslmode=disable&target_session_attrs=read-write&connect_timeout=2", first.User.Username(), password, first.Host, second.Host, first.Path)
}

// Two instances behind the proxy that is shipped are one site: who signs in on one is in on
// the other, each reports what happens on the other, and a guess counts on both. One that
// ends takes nobody out.
func TestTwoInstances(t *testing.T) {
	if !*several {
		t.Skip("with -several, as make soak does")
	}
	database, err := pg.Start(t.Context(), pg.Options{Dir: demoDir(t) + "/pg", Durable: true, Progress: func(string) {}})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(database.Stop)
	filled(t, database)
	var instances [2]*running
	for i := range instances {
		instances[i] = startProgram(t, database.ProgramURL, "serve", "--address=127.0.0.1:0", "--trusted-proxy=127.0.0.1/32")
	}
	host := func(r *running) string { return strings.TrimPrefix(r.address, "http://") }
	proxied, client := nginx(t, host(instances[0]), host(instances[1]))
	site := &running{client: client, address: proxied}
	site.signIn(t)
	for range 10 { // asked in turn
		if text, err := site.call("GET", "/api/v1/session", ""); err != nil || !strings.Contains(string(text), `"signed_in":true`) {
			t.Fatal(string(text), err)
		}
	}
	// A page listens on each, whichever is asked to record.
	ctx, stop := context.WithTimeout(t.Context(), time.Minute)
	defer stop()
	told := make(chan string, 2)
	for range 2 {
		r, err := http.NewRequestWithContext(ctx, "GET", proxied+"/api/v1/changes", nil)
		if err != nil {
			t.Fatal(err)
		}
		live, err := client.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		defer live.Body.Close()
		lines := bufio.NewScanner(live.Body)
		lines.Scan()
		go func() {
			for lines.Scan() {
				if strings.Contains(lines.Text(), `"gear":true`) {
					told <- "told"
					return
				}
			}
			told <- fmt.Sprint("not stated: ", lines.Err())
		}()
	}
	now := time.Now().UTC().Format(time.RFC3339Nano)
	stopped := fmt.Sprintf(`{"sent_at":%q,"records":[{"id":%q,"given_at":%q,"day":"2026-11-24","item":"rope-3","kind":"quarantine","quarantine":{"event":"dropped"}}]}`, now, uuid.NewString(), now)
	if _, err := site.call("POST", "/api/v1/records", stopped, "Content-Type", "application/json"); err != nil {
		t.Fatal(err)
	}
	for range 2 {
		if said := <-told; said != "told" {
			t.Error(said)
		}
	}
	// Three wrong guesses, wherever they arrive, make the next wait, and each after them
	// twice as long: on a slow machine not the fourth is caught, but one soon after it.
	guesses := 0
	for ; guesses < 9; guesses++ {
		if _, err := site.call("POST", "/api/v1/session", `{"login":"ivo","password":"a guess"}`, "Content-Type", "application/json"); err != nil && strings.Contains(err.Error(), "429") {
			break
		}
	}
	if guesses < 3 || guesses == 9 {
		t.Errorf("refused after %d guesses", guesses)
	}
	_ = instances[0].cmd.Process.Signal(os.Interrupt)
	_ = instances[0].cmd.Wait()
	answered := 0
	for range 10 {
		if _, err := site.call("GET", "/api/v1/drops", ""); err == nil {
			answered++
		}
	}
	if answered < 9 {
		t.Errorf("with one instance gone %d of 10 requests were answered", answered)
	}
}

// The disk fills up in the middle of a stream of records: what cannot be kept is answered
// as such, what was acknowledged stands, and with room again everything goes on.
func TestDiskFull(t *testing.T) {
	if !*several {
		t.Skip("with -several, as make soak does")
	}
	dir := demoDir(t)
	database, err := pg.Start(t.Context(), pg.Options{Dir: dir + "/pg", Durable: true, Progress: func(string) {}})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(database.Stop)
	filled(t, database)
	room := func(bytes string) {
		t.Helper()
		pids := []string{fmt.Sprint(postmaster(t, dir))}
		children, err := os.ReadFile("/proc/" + pids[0] + "/task/" + pids[0] + "/children")
		if err != nil {
			t.Fatal(err)
		}
		for _, pid := range append(pids, strings.Fields(string(children))...) {
			// As whoever it runs as; the soft limit alone, so that it can be raised again.
			limit := exec.Command("prlimit", "--pid", pid, "--fsize="+bytes+":")
			if info, err := os.Stat("/proc/" + pid); err == nil && os.Geteuid() == 0 {
				owner := info.Sys().(*syscall.Stat_t)
				limit.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: owner.Uid, Gid: owner.Gid}}
			}
			if out, err := limit.CombinedOutput(); err != nil {
				t.Fatal(err, string(out))
			}
		}
	}
	r := startProgram(t, database.ProgramURL, "serve", "--address=127.0.0.1:0", "--plain-http").signIn(t)
	// No file may grow past what a segment of the log needs.
	room("17000000")
	big := func() string {
		now := time.Now().UTC().Format(time.RFC3339Nano)
		entries := make([]string, 12)
		for i := range entries {
			proofs := make([]string, 40)
			for p := range proofs {
				proofs[p] = fmt.Sprintf(`{"proof":"p%d","did":true,"note":"%s"}`, p, noise())
			}
			entries[i] = fmt.Sprintf(`{"id":%q,"given_at":%q,"day":"2026-11-24","item":"backup-7","kind":"function-check","check":{"rope":"rope-4","passed":true,"proofs":[%s]}}`,
				uuid.NewString(), now, strings.Join(proofs, ","))
		}
		return fmt.Sprintf(`{"sent_at":%q,"records":[%s]}`, now, strings.Join(entries, ","))
	}
	kept, open := 0, ""
	for n := range 400 {
		open = big()
		if _, err := r.call("POST", "/api/v1/records", open, "Content-Type", "application/json"); err != nil {
			if !strings.Contains(err.Error(), ": 50") {
				t.Fatal(err)
			}
			kept = n * 12
			break
		}
	}
	if kept == 0 {
		t.Fatal("the disk did not fill")
	}
	before := len(r.numbers(t))
	room("unlimited")
	if text, err := r.call("POST", "/api/v1/records", open, "Content-Type", "application/json"); err != nil || strings.Contains(string(text), "refused") {
		t.Errorf("%.300s %v", text, err)
	}
	after := r.numbers(t)
	if before < kept || len(after) != before+12 {
		t.Errorf("%d were acknowledged, %d were there, then %d", kept, before, len(after))
	}
	if code, out, errs := command(t, "", "verify", "--database-url="+database.URL); code != 0 {
		t.Errorf("%d %s %s", code, out, errs)
	}
}

// noise is a note that cannot be compressed to nothing.
func noise() (text string) {
	for len(text) < 180 {
		text += rand.Text()
	}
	return text
}
