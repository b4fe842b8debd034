package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/demo"
)

// stream is a device that sends one thing after another until it gets no answer.
type stream struct {
	path    string
	headers []string
	// next makes what is sent, and names each thing in it; taken reads the answer.
	next  func() (body string, names []string)
	taken func(answer []byte) (numbers []int64, err error)
	// acknowledged has what was answered for, by its name, with its number; open is what was
	// sent last, without an answer.
	acknowledged map[string]int64
	open         string
	names        []string
}

func (s *stream) run(r *running, acknowledged chan<- bool) {
	for {
		s.open, s.names = s.next()
		if s.send(r) != nil {
			return
		}
		acknowledged <- true
	}
}

// send sends what is open and notes what is answered.
func (s *stream) send(r *running) error {
	text, err := r.call("POST", s.path, s.open, s.headers...)
	if err != nil {
		return err
	}
	numbers, err := s.taken(text)
	if err != nil || len(numbers) != len(s.names) {
		return fmt.Errorf("%s %w", text, err)
	}
	for i, name := range s.names {
		s.acknowledged[name] = numbers[i]
	}
	return nil
}

// checks records one check after another.
func checks() *stream {
	return &stream{
		path: "/api/v1/records", headers: []string{"Content-Type", "application/json"}, acknowledged: map[string]int64{},
		next: func() (string, []string) {
			now, id := time.Now().UTC().Format(time.RFC3339Nano), uuid.NewString()
			return fmt.Sprintf(`{"sent_at":%q,"records":[{"id":%q,"given_at":%q,"day":"2026-11-24","drop":"face-4","item":"backup-7","kind":"function-check","check":{"rope":"rope-4","passed":true}}]}`, now, id, now), []string{id}
		},
		taken: outcomes("records"),
	}
}

// outcomes reads the numbers of what was kept.
func outcomes(of string) func([]byte) ([]int64, error) {
	return func(text []byte) (numbers []int64, err error) {
		out := map[string][]struct {
			State  string
			Number int64
		}{}
		if err := json.Unmarshal(text, &out); err != nil {
			return nil, err
		}
		for _, o := range out[of] {
			if o.State == "refused" {
				return nil, errors.New("refused")
			}
			numbers = append(numbers, o.Number)
		}
		return numbers, nil
	}
}

// calls gives one event of a run after another.
func calls(id string) *stream {
	return &stream{
		path: "/api/v1/runs/" + id + "/events", headers: []string{"Content-Type", "application/json"}, acknowledged: map[string]int64{},
		next: func() (string, []string) {
			now, event := time.Now().UTC().Format(time.RFC3339Nano), uuid.NewString()
			return fmt.Sprintf(`{"sent_at":%q,"events":[{"id":%q,"given_at":%q,"by":"Dov","kind":"call","reason":"wind"}]}`, now, event, now), []string{event}
		},
		taken: func(text []byte) ([]int64, error) {
			// Their order is by time: a number is none of theirs.
			numbers, err := outcomes("events")(text)
			clear(numbers)
			return numbers, err
		},
	}
}

// measured sends a second of a channel at 100 Hz after another.
func measured(id, token, channel string) *stream {
	at := time.Date(2026, 11, 24, 8, 0, 0, 0, time.UTC)
	return &stream{
		path: "/api/v1/runs/" + id + "/readings", headers: []string{"Authorization", "Bearer " + token}, acknowledged: map[string]int64{},
		next: func() (string, []string) {
			var b strings.Builder
			names := make([]string, 100)
			for i := range names {
				stamp := at.Format("2006-01-02T15:04:05.000Z")
				names[i] = stamp + "," + channel
				fmt.Fprintf(&b, `{"at":%q,"channel":%q,"value":%g,"unit":"kN"}`+"\n", stamp, channel, float64(i)/100)
				at = at.Add(10 * time.Millisecond)
			}
			return b.String(), names
		},
		taken: func(text []byte) ([]int64, error) {
			var out struct{ Kept int }
			err := json.Unmarshal(text, &out)
			return make([]int64, out.Kept), err
		},
	}
}

// exercise begins an exercise of a run, and lets a device send what it measures.
func (r *running) exercise(t *testing.T) (id, token string) {
	t.Helper()
	var made, device struct{ ID, Token string }
	text, err := r.call("POST", "/api/v1/runs", `{"drop":"gate-shaft","exercise":true}`, "Content-Type", "application/json")
	if err != nil || json.Unmarshal(text, &made) != nil {
		t.Fatal(err, string(text))
	}
	now := time.Now().UTC().Format(time.RFC3339Nano)
	if text, err := r.call("POST", "/api/v1/runs/"+made.ID+"/events", fmt.Sprintf(`{"sent_at":%q,"events":[{"id":%q,"given_at":%q,"by":"Dov","kind":"start"}]}`, now, uuid.NewString(), now), "Content-Type", "application/json"); err != nil {
		t.Fatal(err, string(text))
	}
	text, err = r.call("POST", "/api/v1/runs/"+made.ID+"/device-tokens", `{"name":"load cell"}`, "Content-Type", "application/json")
	if err != nil || json.Unmarshal(text, &device) != nil {
		t.Fatal(err, string(text))
	}
	return made.ID, device.Token
}

// given counts everything that a run has: its events by id, its readings by time and channel.
func (r *running) given(t *testing.T, id string) map[string]int64 {
	t.Helper()
	times := map[string]int64{}
	text, err := r.call("GET", "/api/v1/runs/"+id, "")
	var out struct {
		Run struct{ Events []struct{ ID string } }
	}
	if err != nil || json.Unmarshal(text, &out) != nil {
		t.Fatal(err, string(text))
	}
	for _, e := range out.Run.Events {
		times[e.ID]++
	}
	text, err = r.call("GET", "/api/v1/runs/"+id+"/readings.csv", "")
	if err != nil {
		t.Fatal(err)
	}
	for line := range strings.SplitSeq(string(text), "\r\n") {
		if cells := strings.SplitN(line, ",", 3); len(cells) == 3 {
			times[cells[0]+","+cells[1]]++
		}
	}
	return times
}

// otherDays counts the demo's records of other days than its own.
func otherDays() (n int) {
	for _, g := range demo.Records() {
		if g.Entry.Day != demo.Day {
			n++
		}
	}
	return n
}

// numbers gives the numbers of all records of the day, by id, and fails for an id
// that is there twice.
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

// The server, and the database, are killed in the middle of streams of checks, of a run's
// events and of readings from many devices: what was acknowledged is there, with its number;
// what got no answer is sent again and is there once; the chain is whole.
func TestKilled(t *testing.T) {
	dir := demoDir(t)
	for name, kill := range map[string]func(*running) error{
		"server":   func(r *running) error { return r.cmd.Process.Kill() },
		"database": func(*running) error { return syscall.Kill(postmaster(t, dir), syscall.SIGKILL) },
	} {
		r := startDemo(t, dir).signIn(t)
		id, token := r.exercise(t)
		recorded := make([]*stream, 6)
		for i := range recorded {
			recorded[i] = checks()
		}
		live := []*stream{measured(id, token, "main.force"), measured(id, token, "backup.force")}
		for range 20 {
			live = append(live, calls(id))
		}
		acknowledged := make(chan bool, 100_000)
		var all sync.WaitGroup
		for _, s := range slices.Concat(recorded, live) {
			all.Go(func() { s.run(r, acknowledged) })
		}
		for range 400 {
			<-acknowledged
		}
		if err := kill(r); err != nil {
			t.Fatal(err)
		}
		all.Wait()
		_ = r.cmd.Wait()

		r = startDemo(t, dir).signIn(t)
		stands := func() map[string]int64 {
			numbers, given := r.numbers(t), r.given(t, id)
			for _, s := range recorded {
				for id, number := range s.acknowledged {
					if numbers[id] != number {
						t.Errorf("%s killed: record %d was acknowledged and is now %d", name, number, numbers[id])
					}
				}
			}
			readings, events := 0, 0
			for n, s := range live {
				if n < 2 {
					readings += len(s.acknowledged)
				} else {
					events += len(s.acknowledged)
				}
				for what := range s.acknowledged {
					if given[what] != 1 {
						t.Errorf("%s killed: %s was acknowledged and is there %d times", name, what, given[what])
					}
				}
			}
			if readings == 0 || events == 0 {
				t.Errorf("%s killed: %d readings and %d events were acknowledged", name, readings, events)
			}
			return numbers
		}
		stands()
		for _, s := range slices.Concat(recorded, live) {
			if err := s.send(r); err != nil {
				t.Errorf("%s killed: sent again: %v", name, err)
			}
		}
		after := stands()
		out, err := program("verify", "--dir", dir).CombinedOutput()
		if err != nil || !strings.Contains(string(out), fmt.Sprintf("Marrowfell rope team: %d records, whole", len(after)+otherDays())) {
			t.Errorf("%s killed: %v %s", name, err, out)
		}
		_ = r.cmd.Process.Signal(syscall.SIGINT)
		_ = r.cmd.Wait()
	}
}
