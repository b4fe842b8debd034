package web_test

import (
	"fmt"
	"maps"
	"net/http/httptest"
	"slices"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

// BenchmarkDrops lists the drops of a team that has five hundred: 200 of them, each with what
// was found on it; "first" is right after the start of the program, "page" are the 50 that the
// page asks for.
func BenchmarkDrops(b *testing.B) {
	ctx := b.Context()
	s := pgtest.Store(b)
	hash, err := web.HashPassword(ctx, password)
	if err != nil {
		b.Fatal(err)
	}
	sc := scenario.Of(hash)
	sc.Drops, sc.Signed = map[string]*drop.Document{}, nil
	ids := slices.Sorted(maps.Keys(demo.Drops()))
	for i := range 500 {
		d := demo.Drops()[ids[i%len(ids)]]
		d.Name = fmt.Sprint("drop ", i)
		sc.Drops[fmt.Sprint("drop-", i)] = d
	}
	sc.Members = []store.ScenarioMember{{NewAccount: store.NewAccount{Login: "dov", Name: "Dov Pellister", Hash: hash}, Roles: everything}}
	if _, _, err := s.Load(ctx, sc); err != nil {
		b.Fatal(err)
	}
	list := func(b *testing.B, h *house, query string) {
		w, r := httptest.NewRecorder(), httptest.NewRequest("GET", "/api/v1/drops"+query, nil)
		r.AddCookie(h.signIn(b, "dov"))
		b.StartTimer()
		h.handler.ServeHTTP(w, r)
		b.StopTimer()
		if w.Code != 200 {
			b.Fatal(w.Code, w.Body)
		}
	}
	b.Run("first", func(b *testing.B) {
		b.StopTimer()
		for range b.N {
			list(b, &house{s, web.Handler(ctx, &web.Config{Store: s, Version: "test"})}, "")
		}
	})
	h := &house{s, web.Handler(ctx, &web.Config{Store: s, Version: "test"})}
	list(b, h, "")
	for name, query := range map[string]string{"again": "", "page": "?limit=50"} {
		b.Run(name, func(b *testing.B) {
			b.StopTimer()
			for range b.N {
				list(b, h, query)
			}
		})
	}
}
