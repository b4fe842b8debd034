package web

import (
	"net/http"
	"sync/atomic"
)

// Gate answers while a site does not exist yet: it lives, and is not ready. The zero Gate is
// shut.
type Gate struct {
	site atomic.Pointer[http.Handler]
}

// Open lets every request from now on through to a site.
func (g *Gate) Open(site http.Handler) { g.site.Store(&site) }

func (g *Gate) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if site := g.site.Load(); site != nil {
		(*site).ServeHTTP(w, r)
		return
	}
	if r.URL.Path == "/healthz" {
		_, _ = w.Write([]byte("up\n"))
		return
	}
	w.Header().Set("Retry-After", "2")
	writeProblem(w, NewProblem(http.StatusServiceUnavailable, "the database does not answer yet"))
}
