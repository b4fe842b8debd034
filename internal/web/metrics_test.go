package web_test

import (
	"net/http/httptest"
	"strings"
	"testing"

	"zealousknot/internal/web"
)

// A server counts requests by route, never by path, what became of records and how often
// somebody guessed wrong; profiles are beside it. The site itself gives neither.
func TestMetrics(t *testing.T) {
	h := newHouse(t)
	config := &web.Config{Store: h.store, Version: "test"}
	h.handler = web.Handler(t.Context(), config)
	internal := httptest.NewServer(config.Internal())
	t.Cleanup(internal.Close)
	_, hash := call(t, "GET", internal.URL+"/metrics", nil)
	if strings.Contains(string(hash), "route=") {
		t.Error("something is counted before it was asked")
	}
	open := httptest.NewServer(h.handler)
	t.Cleanup(open.Close)
	for range 3 {
		call(t, "GET", open.URL+"/api/v1/drops/face-4", nil)
		call(t, "BREW", open.URL+"/made-up/"+strings.Repeat("x", 20), nil)
	}
	call(t, "POST", open.URL+"/api/v1/session", []byte(`{"login":"rhea","password":"a guess"}`))
	_, text := call(t, "GET", internal.URL+"/metrics", nil)
	for _, want := range []string{
		`zealousknot_request_seconds_count{method="GET",route="/api/v1/drops/{id}",status="401"} 3`,
		`method="other",route="none",status="405"} 3`, "zealousknot_wrong_sign_ins_total 1", "zealousknot_listeners 0", "zealousknot_connections_max ", "go_goroutines ",
	} {
		if !strings.Contains(string(text), want) {
			t.Errorf("no %s", want)
		}
	}
	if strings.Contains(string(text), "xxx") || strings.Contains(string(text), "face-4") {
		t.Error("a path makes a series of its own")
	}
	if answer, _ := call(t, "GET", internal.URL+"/debug/pprof/goroutine?debug=1", nil); answer.StatusCode != 200 {
		t.Error(answer.Status)
	}
	for _, path := range []string{"/metrics", "/debug/pprof/"} {
		if _, text := call(t, "GET", open.URL+path, nil); strings.Contains(string(text), "go_goroutines") || strings.Contains(string(text), "profile") {
			t.Errorf("the site gives %s", path)
		}
	}
}
