package web_test

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"runtime"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/progress"
	"zealousknot/internal/web"
)

// Who waits is called by team, then by account, then as they came; an account has so many
// places and no more; who gives up gives their place to the next.
func TestTurns(t *testing.T) {
	turns := web.NewTurns(1)
	team, other := uuid.New(), uuid.New()
	many, one, stranger := uuid.New(), uuid.New(), uuid.New()
	leave, err := turns.Enter(t.Context(), team, many)
	if err != nil {
		t.Fatal(err)
	}
	var mu sync.Mutex
	var called []string
	var all sync.WaitGroup
	wait := func(ctx context.Context, name string, team, account uuid.UUID) {
		n := turns.Waiting()
		all.Go(func() {
			leave, err := turns.Enter(ctx, team, account)
			if err != nil {
				return
			}
			mu.Lock()
			called = append(called, name)
			mu.Unlock()
			leave()
		})
		for turns.Waiting() == n {
			runtime.Gosched()
		}
	}
	gone, stop := context.WithCancel(t.Context())
	wait(gone, "gone", other, stranger)
	for i := range 8 {
		wait(t.Context(), fmt.Sprint("many ", i), team, many)
	}
	if _, err := turns.Enter(t.Context(), team, many); err == nil {
		t.Error("a ninth of one account waits")
	}
	wait(t.Context(), "one", team, one)
	wait(t.Context(), "stranger", other, stranger)
	stop()
	for turns.Waiting() != 10 {
		runtime.Gosched()
	}
	leave()
	all.Wait()
	want := []string{"stranger", "one", "many 0", "many 1", "many 2", "many 3", "many 4", "many 5", "many 6", "many 7"}
	if !slices.Equal(called, want) {
		t.Errorf("%q", called)
	}
	if again, err := turns.Enter(t.Context(), team, many); err != nil {
		t.Error(err)
	} else {
		again()
	}
}

// While heavy questions compute and wait, checks are answered; one account's many are sent
// away at once with when to come again, and who has gone waits no more.
func TestHeavy(t *testing.T) {
	h := newHouse(t)
	config := &web.Config{Store: h.store, Version: "test", Demo: true}
	h.handler = web.Handler(t.Context(), config)
	dov, ivo := h.as(t, "dov"), h.as(t, "ivo")
	release := config.Hold(t.Context())
	rescue := []byte(`{"drop":` + string(document(t, "face-7", nil)) + `,"person":"ivo","at_m":50}`)
	ctx, stop := context.WithCancel(t.Context())
	var all sync.WaitGroup
	for range 8 {
		r, err := http.NewRequestWithContext(ctx, "POST", dov.URL+"/api/v1/rescue", bytes.NewReader(rescue))
		if err != nil {
			t.Fatal(err)
		}
		all.Go(func() {
			if answer, err := http.DefaultClient.Do(r); err == nil {
				answer.Body.Close()
				t.Errorf("answered with %s while others compute", answer.Status)
			}
		})
	}
	for config.Waits() < 8 {
		runtime.Gosched()
	}
	answer, text := call(t, "POST", dov.URL+"/api/v1/rescue", rescue)
	if answer.StatusCode != http.StatusServiceUnavailable || answer.Header.Get("Retry-After") == "" || !strings.Contains(string(text), "request_id") {
		t.Errorf("%s %v %s", answer.Status, answer.Header, text)
	}
	if answer, _ := call(t, "POST", ivo.URL+"/api/v1/check", document(t, "face-7", nil)); answer.StatusCode != 200 {
		t.Errorf("a check: %s", answer.Status)
	}
	stop()
	all.Wait()
	for config.Waits() > 0 {
		runtime.Gosched()
	}
	release()
	if answer, text := call(t, "POST", ivo.URL+"/api/v1/rescue", rescue); answer.StatusCode != 200 {
		t.Errorf("%s %.200s", answer.Status, text)
	}
}

// Whoever accepts lines sees meanwhile how far it is, and at the end has the same answer
// or problem as everybody.
func TestHeavyLines(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	for name, c := range map[string]struct {
		path, body string
		told       bool
	}{
		"cover":     {"/rescue", `{"drop":` + string(document(t, "face-7", nil)) + `}`, true},
		"a plan":    {"/team/plan", `{"drop":` + string(document(t, "basin-wall", nil)) + `,"move":"prove-brake"}`, false},
		"a problem": {"/moves/plan", `{"drop":` + string(document(t, "face-4", nil)) + `,"move":"fly"}`, false},
	} {
		answer, whole := call(t, "POST", dov.URL+"/api/v1"+c.path, []byte(c.body))
		streamed, text := call(t, "POST", dov.URL+"/api/v1"+c.path, []byte(c.body), "Accept", "application/x-ndjson")
		if streamed.StatusCode != 200 || streamed.Header.Get("Content-Type") != "application/x-ndjson" {
			t.Fatalf("%s: %s %v", name, streamed.Status, streamed.Header)
		}
		all := strings.Split(strings.TrimSuffix(string(text), "\n"), "\n")
		var last struct {
			Answer, Problem json.RawMessage
		}
		if err := json.Unmarshal([]byte(all[len(all)-1]), &last); err != nil {
			t.Fatal(name, err)
		}
		part := 0.0
		for _, l := range all[:len(all)-1] {
			var said struct{ Progress progress.Report }
			if err := json.Unmarshal([]byte(l), &said); err != nil || said.Progress.Part < part || said.Progress.Part > 1 || said.Progress.Of == "" {
				t.Errorf("%s: after %v: %s", name, part, l)
			}
			part = said.Progress.Part
		}
		if (len(all) > 1) != c.told {
			t.Errorf("%s: %d lines", name, len(all))
		}
		if answer.StatusCode == 200 {
			var a, b ask.RescueAnswer
			if c.path == "/rescue" {
				if err := errors.Join(json.Unmarshal(whole, &a), json.Unmarshal(last.Answer, &b)); err != nil {
					t.Fatal(err)
				}
				a.Expanded, b.Expanded = 0, 0 // what was found before is not searched again
				if asJSON(t, a) != asJSON(t, b) {
					t.Errorf("%s: another answer", name)
				}
			} else if strings.TrimSpace(string(whole)) != string(last.Answer) {
				t.Errorf("%s: another answer", name)
			}
			continue
		}
		var p, q web.Problem
		if err := errors.Join(json.Unmarshal(whole, &p), json.Unmarshal(last.Problem, &q)); err != nil || p.Status != q.Status || asJSON(t, p.Errors) != asJSON(t, q.Errors) || q.RequestID == "" {
			t.Errorf("%s: %s, then %s", name, whole, last.Problem)
		}
	}
}

// What took too long is said as such, with when to come again, and not as a fault.
func TestTookTooLong(t *testing.T) {
	err := web.Failed(fmt.Errorf("reading: %w", context.DeadlineExceeded))
	var p *web.Problem
	if !errors.As(err, &p) || p.Status != http.StatusServiceUnavailable || !strings.Contains(p.Detail, "took too long") {
		t.Errorf("%v", err)
	}
	if err := web.Failed(errors.New("something else")); !errors.As(err, &p) || p.Status != http.StatusInternalServerError {
		t.Errorf("%v", err)
	}
}

// BenchmarkBesideHeavy checks a drop while another account has a hundred heavy questions in
// flight: how long the slowest of a hundred checks takes, beside an idle server's.
func BenchmarkBesideHeavy(b *testing.B) {
	h := newHouse(b)
	dov, ivo := h.as(b, "dov"), h.as(b, "ivo")
	rescue := []byte(`{"drop":` + string(document(b, "face-7", nil)) + `,"changes":true}`)
	doc := document(b, "face-4", nil)
	p99 := func() float64 {
		var took []time.Duration
		for range 300 {
			start := time.Now()
			if answer, text := call(b, "POST", ivo.URL+"/api/v1/check", doc); answer.StatusCode != 200 {
				b.Fatal(answer.Status, string(text))
			}
			took = append(took, time.Since(start))
		}
		slices.Sort(took)
		return float64(took[len(took)*99/100].Microseconds()) / 1000
	}
	for b.Loop() {
		idle := p99()
		ctx, stop := context.WithCancel(b.Context())
		var all sync.WaitGroup
		for range 100 {
			all.Go(func() {
				r, err := http.NewRequestWithContext(ctx, "POST", dov.URL+"/api/v1/rescue", bytes.NewReader(rescue))
				if err != nil {
					b.Error(err)
					return
				}
				if answer, err := http.DefaultClient.Do(r); err == nil {
					answer.Body.Close()
				}
			})
		}
		beside := p99()
		stop()
		all.Wait()
		b.ReportMetric(idle, "idle-p99-ms")
		b.ReportMetric(beside, "beside-p99-ms")
	}
}
