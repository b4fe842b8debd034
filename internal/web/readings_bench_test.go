package web_test

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/run"
	"zealousknot/internal/demo"
)

// load sends seconds of a channel at a rate, as a device does, in requests of as many lines as
// one may have.
type load struct {
	at, token, channel string
	hz                 int
	next               time.Time
}

func (l *load) send(t testing.TB) {
	t.Helper()
	var b strings.Builder
	for i := range run.MostLines {
		// A swing of 1.2 Hz about a load, as a descent has.
		fmt.Fprintf(&b, `{"at":%q,"channel":%q,"value":%.3f,"unit":"kN"}`+"\n", l.next.Format("2006-01-02T15:04:05.000Z"), l.channel, 0.9+0.001*float64(i*37%211))
		l.next = l.next.Add(time.Second / time.Duration(l.hz))
	}
	request, err := http.NewRequest("POST", l.at+"/readings", strings.NewReader(b.String()))
	if err != nil {
		t.Fatal(err)
	}
	request.Header.Set("Authorization", "Bearer "+l.token)
	answer, err := http.DefaultClient.Do(request)
	if err != nil {
		t.Fatal(err)
	}
	defer answer.Body.Close()
	if text, err := io.ReadAll(answer.Body); err != nil || answer.StatusCode != 200 {
		t.Fatal(answer.Status, string(text), err)
	}
}

// loads begins an exercise of a run, with a device on each of two channels.
func loads(t testing.TB, dov *httptest.Server, hz int) []*load {
	t.Helper()
	at := dov.URL + "/api/v1/runs/" + makeExercise(t, dov)
	var made struct{ Token string }
	if answer, text := call(t, "POST", at+"/device-tokens", []byte(`{"name":"load cell"}`)); answer.StatusCode != 201 || json.Unmarshal(text, &made) != nil {
		t.Fatalf("%s %s", answer.Status, text)
	}
	first := time.Date(2026, 11, 24, 8, 0, 0, 0, time.UTC)
	return []*load{{at, made.Token, "main.force", hz, first}, {at, made.Token, "backup.force", hz, first}}
}

// BenchmarkReadings is readings that come in, a thousand a request: how many a second, and how
// long 99 of 100 requests take. A run takes 60 000 at once, so that another one follows.
func BenchmarkReadings(b *testing.B) {
	dov := newHouse(b).as(b, "dov")
	var took []time.Duration
	var devices []*load
	for n := 0; b.Loop(); n++ {
		if n%50 == 0 {
			b.StopTimer()
			devices = loads(b, dov, run.MostASecond)
			b.StartTimer()
		}
		began := time.Now()
		devices[n%2].send(b)
		took = append(took, time.Since(began))
	}
	slices.Sort(took)
	b.ReportMetric(float64(b.N)*run.MostLines/b.Elapsed().Seconds(), "readings/s")
	b.ReportMetric(float64(took[len(took)*99/100].Microseconds())/1000, "p99-ms")
}

// BenchmarkDrawn is what a page of a run asks for: eight hours of two channels at 10 Hz.
func BenchmarkDrawn(b *testing.B) {
	h := newHouse(b)
	dov := h.as(b, "dov")
	team, err := h.store.TeamNamed(b.Context(), demo.Team)
	if err != nil {
		b.Fatal(err)
	}
	devices := loads(b, dov, 10)
	id := uuid.MustParse(devices[0].at[strings.LastIndex(devices[0].at, "/")+1:])
	for _, device := range devices {
		points := make([]run.Point, 8*3600*10)
		for i := range points {
			points[i] = run.Point{Ms: device.next.UnixMilli() + int64(i)*100, V: 9000 + int64(i*37%2111)}
		}
		for part := range slices.Chunk(points, run.MostLines) {
			if err := h.store.AddReadings(b.Context(), team.ID, id, map[string][]run.Point{device.channel: part}); err != nil {
				b.Fatal(err)
			}
		}
	}
	for b.Loop() {
		answer, err := http.Get(devices[0].at + "/readings?width=600")
		if err != nil || answer.StatusCode != 200 {
			b.Fatal(answer, err)
		}
		if n, err := io.Copy(io.Discard, answer.Body); err != nil || n < 10_000 {
			b.Fatal(n, err)
		}
		answer.Body.Close()
	}
}
