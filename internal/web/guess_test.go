package web_test

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

// Where a request comes from is the peer, or what a trusted proxy says; what anybody else
// says of it is not believed. Right sign-ins count nowhere; many wrong ones from one
// address slow it alone.
func TestBehindAProxy(t *testing.T) {
	h := newHouse(t)
	sites := map[string]*httptest.Server{}
	for name, trusted := range map[string][]string{"direct": nil, "proxied": {"127.0.0.1/32"}} {
		sites[name] = httptest.NewServer(web.Handler(t.Context(), &web.Config{Store: h.store, Demo: true, TrustedProxies: trusted}))
		defer sites[name].Close()
	}
	try := func(site, login, word string, forwarded ...string) int {
		var headers []string
		for _, f := range forwarded {
			headers = append(headers, "X-Forwarded-For", f)
		}
		answer, _ := call(t, "POST", sites[site].URL+"/api/v1/session", fmt.Appendf(nil, `{"login":%q,"password":%q}`, login, word), headers...)
		if answer.StatusCode == http.StatusTooManyRequests && answer.Header.Get("Retry-After") == "" {
			t.Error("no word of when to come again")
		}
		return answer.StatusCode
	}
	wrong := func(address string) int {
		n, _, err := h.store.Wrong(t.Context(), "from "+address)
		if err != nil {
			t.Fatal(err)
		}
		return n
	}
	for i, c := range []struct {
		site, forwarded, counted string
	}{
		{"proxied", "203.0.113.7", "203.0.113.7"}, {"proxied", "198.51.100.1, 203.0.113.8", "203.0.113.8"}, {"proxied", "not an address", "127.0.0.1"}, {"direct", "203.0.113.9", "127.0.0.1"},
	} {
		before := wrong(c.counted)
		if code := try(c.site, fmt.Sprint("nobody-", i), "a guess", c.forwarded); code != 401 || wrong(c.counted) != before+1 {
			t.Errorf("%+v: %d, %d wrong", c, code, wrong(c.counted)-before)
		}
	}
	if wrong("203.0.113.9") != 0 || wrong("") != 0 {
		t.Error("what anybody says of themself is believed")
	}
	const busy = "203.0.113.50"
	for range 299 {
		if err := h.store.NoteWrong(t.Context(), "from "+busy); err != nil {
			t.Fatal(err)
		}
	}
	for range 3 {
		if code := try("proxied", "rhea", password, busy); code != 204 {
			t.Errorf("a right sign-in is refused: %d", code)
		}
	}
	if try("proxied", "nobody-x", "a guess", busy); wrong(busy) != 300 {
		t.Errorf("%d wrong ones are counted", wrong(busy))
	}
	if code := try("proxied", "ivo", password, busy); code != 429 {
		t.Errorf("after 300 wrong ones from there: %d", code)
	}
	if code := try("proxied", "ivo", password, "203.0.113.51"); code != 204 {
		t.Errorf("somebody else behind the proxy: %d", code)
	}
}

// Of many who sign in at once those for whom there is room get in; the rest get 503 with
// Retry-After.
func TestCrowd(t *testing.T) {
	h := newHouse(t)
	var wg sync.WaitGroup
	codes := make([]int, 200)
	for i := range codes {
		wg.Add(1)
		go func() {
			defer wg.Done()
			w, r := httptest.NewRecorder(), httptest.NewRequestWithContext(t.Context(), "POST", "/api/v1/session", strings.NewReader(`{"login":"rhea","password":"`+password+`"}`))
			r.Header.Set("Content-Type", "application/json")
			h.handler.ServeHTTP(w, r)
			if codes[i] = w.Code; w.Code == 503 && w.Header().Get("Retry-After") == "" {
				t.Error("no word of when to come again")
			}
		}()
	}
	wg.Wait()
	count := map[int]int{}
	for _, c := range codes {
		count[c]++
	}
	if count[204] == 0 || count[503] == 0 || count[204]+count[503] != len(codes) {
		t.Errorf("%v", count)
	}
}

// Each wrong guess after the third doubles the wait, up to a minute.
func TestWaitAfter(t *testing.T) {
	for n, want := range map[int]time.Duration{0: 0, 2: 0, 3: 2 * time.Second, 4: 4 * time.Second, 7: 32 * time.Second, 8: time.Minute, 1000: time.Minute} {
		if got := web.WaitAfter(n); got != want {
			t.Errorf("after %d wrong: %v", n, got)
		}
	}
}

// A slow page learns that it missed changes; the others get each change.
func TestSlowPage(t *testing.T) {
	for i, heard := range web.Told(20, 2, 40) {
		missed := slices.ContainsFunc(heard, func(c store.Change) bool { return c.All })
		if slow := i >= 20; missed != slow || !slow && len(heard) != 40 {
			t.Errorf("page %d hears %d changes, missed some: %v", i, len(heard), missed)
		}
	}
}

// What no id or version can be is refused, by itself.
func TestOddRequests(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	for _, c := range []struct {
		method, path, header string
	}{
		{"GET", "/api/v1/drops/%00", ""}, {"GET", "/api/v1/drops/" + strings.Repeat("a", 65), ""}, {"DELETE", "/api/v1/drops/face-4", `"4294967297"`}, {"DELETE", "/api/v1/drops/face-4", `"1e0"`},
	} {
		answer, text := call(t, c.method, dov.URL+c.path, nil, "If-Match", c.header)
		if answer.StatusCode < 400 || answer.StatusCode >= 500 {
			t.Errorf("%s %s %s: %d %s", c.method, c.path, c.header, answer.StatusCode, text)
		}
		if answer.Header.Get("Permissions-Policy") == "" || !strings.Contains(answer.Header.Get("Permissions-Policy"), "camera=(self)") {
			t.Error("this site may not use the camera")
		}
	}
}

// Hours of others are no more to be had by the day than by the person.
func TestHoursOfOthers(t *testing.T) {
	h := newHouse(t)
	send(t, h.as(t, "rhea").URL, batch(`"kind":"hours","person":"rhea","hours":{"hours_h":2,"work":"face"}`))
	sees := map[string]bool{"rhea": true, "dov": true, "ivo": false}
	for login, want := range sees {
		_, text := call(t, "GET", h.as(t, login).URL+"/api/v1/records?day=2026-11-24", nil)
		if got := strings.Contains(string(text), `"kind":"hours"`); got != want {
			t.Errorf("%s sees hours of rhea: %v", login, got)
		}
	}
}

// Before the site is there it lives and is not ready; then everything goes through.
func TestGate(t *testing.T) {
	var gate web.Gate
	ask := func(path string) int {
		w := httptest.NewRecorder()
		gate.ServeHTTP(w, httptest.NewRequest("GET", path, nil))
		if w.Code == 503 && w.Header().Get("Retry-After") == "" {
			t.Error("no word of when to come again")
		}
		return w.Code
	}
	if a, b, c := ask("/healthz"), ask("/readyz"), ask("/api/v1/session"); a != 200 || b != 503 || c != 503 {
		t.Errorf("shut: %d %d %d", a, b, c)
	}
	gate.Open(newHouse(t).handler)
	if a, b, c := ask("/healthz"), ask("/readyz"), ask("/api/v1/session"); a != 200 || b != 200 || c != 200 {
		t.Errorf("open: %d %d %d", a, b, c)
	}
}
