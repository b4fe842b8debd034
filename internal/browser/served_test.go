package browser_test

import (
	"io"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"

	"zealousknot/internal/web"
)

// The built screens are served compressed as asked, kept for ever where the name
// changes with the contents, and asked for again where it does not.
func TestServed(t *testing.T) {
	s := httptest.NewServer(web.Handler(t.Context(), &web.Config{}))
	defer s.Close()
	get := func(method, path, encoding string) (*http.Response, string) {
		r, err := http.NewRequest(method, s.URL+path, nil)
		if err != nil {
			t.Fatal(err)
		}
		r.Header.Set("Accept-Encoding", encoding)
		answer, err := http.DefaultTransport.RoundTrip(r)
		if err != nil {
			t.Fatal(err)
		}
		defer answer.Body.Close()
		text, err := io.ReadAll(answer.Body)
		if err != nil {
			t.Fatal(err)
		}
		return answer, string(text)
	}
	page, text := get("GET", "/drops/any/kit", "identity")
	script := regexp.MustCompile(`/assets/[^"]+\.js`).FindString(text)
	if page.StatusCode != 200 || script == "" || page.Header.Get("Cache-Control") != "no-cache" {
		t.Fatalf("the first page (make build): %s %s", page.Status, text)
	}
	_, plain := get("GET", script, "identity")
	for encoding, want := range map[string]string{"br, gzip": "br", "gzip": "gzip", "identity": ""} {
		answer, text := get("GET", script, encoding)
		if answer.Header.Get("Content-Encoding") != want || !strings.Contains(answer.Header.Get("Cache-Control"), "immutable") ||
			!strings.HasPrefix(answer.Header.Get("Content-Type"), "text/javascript") || answer.Header.Get("Vary") != "Accept-Encoding" {
			t.Errorf("%s: %v", encoding, answer.Header)
		}
		if want != "" && len(text) >= len(plain)/2 {
			t.Errorf("%s: %d of %d bytes", encoding, len(text), len(plain))
		}
	}
	for path, want := range map[string]string{"/manifest.webmanifest": "application/manifest+json", "/sw.js": "text/javascript; charset=utf-8"} {
		if answer, text := get("GET", path, "br"); answer.StatusCode != 200 || text == "" || answer.Header.Get("Content-Type") != want || answer.Header.Get("Cache-Control") != "no-cache" {
			t.Errorf("%s: %s %v", path, answer.Status, answer.Header)
		}
	}
	// What the service worker keeps on the device is what there is without a signal.
	_, kept := get("GET", "/sw.js", "identity")
	if core := regexp.MustCompile(`assets/core-[^"']+\.wasm`).FindString(kept); core == "" {
		t.Error("the core is not kept on the device")
	} else if answer, text := get("GET", "/"+core, "br"); len(text) > 2_000_000 {
		t.Errorf("the core is %d bytes: what grew? (docs/benchmarks.md)", len(text))
	} else if answer.Header.Get("Content-Type") != "application/wasm" || answer.Header.Get("Content-Encoding") != "br" {
		t.Errorf("%s: %v", core, answer.Header)
	}
	first := 0
	for _, script := range regexp.MustCompile(`/assets/[^"]+\.js`).FindAllString(text, -1) {
		_, part := get("GET", script, "br")
		first += len(part)
	}
	if first > 80_000 {
		t.Errorf("every page loads %d bytes of scripts before its own", first)
	}
	if answer, text := get("HEAD", script, "br"); answer.StatusCode != 200 || text != "" {
		t.Errorf("HEAD: %s, %d bytes", answer.Status, len(text))
	}
	for _, path := range []string{"/assets/none.js", "/..%2f..%2fgo.mod", "/.keep.txt"} {
		if answer, text := get("GET", path, "identity"); answer.StatusCode == 200 && !strings.Contains(text, `<div id="app">`) {
			t.Errorf("%s: %s %.60s", path, answer.Status, text)
		}
	}
}
