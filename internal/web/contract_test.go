package web_test

import (
	"net/http"
	"testing"

	"zealousknot/internal/promise"
)

// kept holds an answer against the contract.
func kept(t testing.TB, method string, answer *http.Response, text []byte) {
	t.Helper()
	if broken := promise.Broken(method, answer.Request.URL.Path, answer.StatusCode, answer.Header.Get("Content-Type"), text); broken != "" {
		t.Error(broken)
	}
}
