package main

import (
	"encoding/json"
	"fmt"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/demo"
)

// stream is a device that records one check after another until it gets no answer.
type stream struct {
	// acknowledged has the number of each record that was answered for; open is the
	// batch that was sent last, without an answer.
	acknowledged map[string]int64
	open         string
}

func (s *stream) run(r *running, acknowledged chan<- bool) {
	for {
		now := time.Now().UTC().Format(time.RFC3339Nano)
		s.open = fmt.Sprintf(`{"sent_at":%q,"records":[{"id":%q,"given_at":%q,"day":"2026-11-24","drop":"face-4","item":"backup-7","kind":"function-check","check":{"rope":"rope-4","passed":true}}]}`,
			now, uuid.NewString(), now)
		if s.send(r) != nil {
			return
		}
		acknowledged <- true
	}
}

// send sends the open batch and notes what is answered.
func (s *stream) send(r *running) error {
	text, err := r.call("POST", "/api/v1/records", s.open, "Content-Type", "application/json")
	if err != nil {
		return err
	}
	var out struct {
		Records []struct {
			ID, State string
			Number    int64
		}
	}
	if err := json.Unmarshal(text, &out); err != nil || out.Records[0].State == "refused" {
		return fmt.Errorf("%s %w", text, err)
	}
	s.acknowledged[out.Records[0].ID] = out.Records[0].Number
	return nil
}

// numbers gives the numbers of all records of the day, by id, and fails for an id
// that is there twice.
// otherDays counts the demo's records of other days than its own.
func otherDays() (n int) {
	for _, g := range demo.Records() {
		if g.Entry.Day != demo.Day {
			n++
		}
	}
	return n
}

func (r *running) numbers(t *testing.T) map[string]int64 {
	t.Helper()
	all := map[string]int64{}
	for before := int64(0); ; {
		text, err := r.call("GET", fmt.Sprintf("/api/v1/records?day=2026-11-24&before=%d", before), "")
		var page struct {
			Records []struct {
				Number int64
				Says   struct{ ID string }
			}
			More bool
		}
		if err != nil || json.Unmarshal(text, &page) != nil {
			t.Fatal(err, string(text))
		}
		for _, l := range page.Records {
			if all[l.Says.ID] != 0 {
				t.Errorf("%s is there twice", l.Says.ID)
			}
			all[l.Says.ID], before = l.Number, l.Number
		}
		if !page.More {
			return all
		}
	}
}

// The server, and the database, are killed in the middle of a stream of checks from
// several devices: every record that was acknowledged is there, with its number;
// what got no answer is sent again and is there once; the chain is whole.
func TestKilled(t *testing.T) {
	dir := demoDir(t)
	for name, kill := range map[string]func(*running) error{
		"server":   func(r *running) error { return r.cmd.Process.Kill() },
		"database": func(*running) error { return syscall.Kill(postmaster(t, dir), syscall.SIGKILL) },
	} {
		r := startDemo(t, dir).signIn(t)
		streams := make([]stream, 6)
		acknowledged := make(chan bool, 10_000)
		var all sync.WaitGroup
		for i := range streams {
			streams[i].acknowledged = map[string]int64{}
			all.Go(func() { streams[i].run(r, acknowledged) })
		}
		for range 60 {
			<-acknowledged
		}
		if err := kill(r); err != nil {
			t.Fatal(err)
		}
		all.Wait()
		_ = r.cmd.Wait()

		r = startDemo(t, dir).signIn(t)
		before := r.numbers(t)
		for i := range streams {
			for id, number := range streams[i].acknowledged {
				if before[id] != number {
					t.Errorf("%s killed: record %d was acknowledged and is now %d", name, number, before[id])
				}
			}
			if err := streams[i].send(r); err != nil {
				t.Errorf("%s killed: sent again: %v", name, err)
			}
		}
		after := r.numbers(t)
		for i := range streams {
			for id, number := range streams[i].acknowledged {
				if after[id] != number {
					t.Errorf("%s killed: record %d is now %d", name, number, after[id])
				}
			}
		}
		out, err := program("verify", "--dir", dir).CombinedOutput()
		if err != nil || !strings.Contains(string(out), fmt.Sprintf("Marrowfell rope team: %d records, whole", len(after)+otherDays())) {
			t.Errorf("%s killed: %v %s", name, err, out)
		}
		_ = r.cmd.Process.Signal(syscall.SIGINT)
		_ = r.cmd.Wait()
	}
}
