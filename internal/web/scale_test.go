package web_test

import (
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

// BenchmarkThousandTeams has a thousand teams with twenty drops each on one server: how
// many requests a second of people all over them it answers. docs/scale.md says what was
// measured.
func BenchmarkThousandTeams(b *testing.B) {
	ctx := b.Context()
	s := pgtest.Store(b)
	hash, err := web.HashPassword(ctx, password)
	if err != nil {
		b.Fatal(err)
	}
	const teams, drops = 1000, 20
	for n := range teams {
		sc := scenario.Of(hash)
		sc.Team, sc.Drops, sc.Signed = fmt.Sprint("team ", n), map[string]*drop.Document{}, nil
		sc.Members = []store.ScenarioMember{{NewAccount: store.NewAccount{Login: fmt.Sprint("dov", n), Name: "Dov Pellister", Hash: hash}, Roles: everything}}
		for i := range drops {
			d := demo.Drops()["face-4"]
			d.Name = fmt.Sprint("Face ", i)
			sc.Drops[fmt.Sprint("face-", i)] = d
		}
		if _, _, err := s.Load(ctx, sc); err != nil {
			b.Fatal(err)
		}
	}
	h := &house{s, web.Handler(ctx, &web.Config{Store: s, Version: "test"})}
	cookies := make([]*http.Cookie, 50)
	for i := range cookies {
		cookies[i] = h.signIn(b, fmt.Sprint("dov", i*teams/len(cookies)))
	}
	for name, make := range map[string]func(random *rand.Rand) *http.Request{
		"drop": func(r *rand.Rand) *http.Request {
			return httptest.NewRequest("GET", fmt.Sprint("/api/v1/drops/face-", r.IntN(drops)), nil)
		},
		"drops": func(*rand.Rand) *http.Request { return httptest.NewRequest("GET", "/api/v1/drops", nil) },
		"record": func(*rand.Rand) *http.Request {
			return httptest.NewRequest("POST", "/api/v1/records", strings.NewReader(string(batch(checked("backup-7", "rope-4", true, wheelProofs...)))))
		},
	} {
		b.Run(name, func(b *testing.B) {
			b.SetParallelism(8)
			b.RunParallel(func(pb *testing.PB) {
				random := rand.New(rand.NewPCG(rand.Uint64(), 1))
				for pb.Next() {
					r, w := make(random), httptest.NewRecorder()
					r.AddCookie(cookies[random.IntN(len(cookies))])
					r.Header.Set("Content-Type", "application/json")
					if h.handler.ServeHTTP(w, r); w.Code != 200 {
						b.Error(w.Code, w.Body)
					}
				}
			})
			b.ReportMetric(float64(b.N)/b.Elapsed().Seconds(), "requests/s")
		})
	}
}
