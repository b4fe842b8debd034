// Package ui holds the built front end and serves it, compressed beforehand,
// from the binary.
package ui

import (
	"embed"
	"io"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"
)

// The front end is built into dist/app; .keep lets the package build without it.
//
//go:embed all:dist
var dist embed.FS

const notBuilt = `<!doctype html><meta charset="utf-8"><title>Zealous Knot</title>
<p>This program was built without its screens. Run <code>make build</code>.</p>
`

// Handler serves files by their path and the first page for every other path,
// so that a page of the front end can be opened by its address.
func Handler() http.Handler {
	app, err := fs.Sub(dist, "dist/app")
	if err != nil {
		panic(err) // the path is a constant
	}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
		if info, err := fs.Stat(app, name); err != nil || info.IsDir() {
			if path.Ext(name) != "" {
				http.NotFound(w, r)
				return
			}
			name = "index.html"
		}
		serve(w, r, app, name)
	})
}

func serve(w http.ResponseWriter, r *http.Request, app fs.FS, name string) {
	h := w.Header()
	h.Set("Content-Type", contentType(name))
	h.Set("Vary", "Accept-Encoding")
	h.Set("Cache-Control", "no-cache")
	if strings.HasPrefix(name, "assets/core.worker-") || strings.HasPrefix(name, "assets/scan.worker-") {
		// A worker obeys the policy of its own script; the core and the reader of codes are
		// WebAssembly.
		h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; connect-src 'self'")
	}
	if strings.HasPrefix(name, "assets/") {
		// Vite puts a hash of the contents into these names.
		h.Set("Cache-Control", "public, max-age=31536000, immutable")
	}
	for _, c := range []struct{ encoding, ending string }{{"br", ".br"}, {"gzip", ".gz"}} {
		if !strings.Contains(r.Header.Get("Accept-Encoding"), c.encoding) {
			continue
		}
		if f, err := app.Open(name + c.ending); err == nil {
			defer f.Close()
			h.Set("Content-Encoding", c.encoding)
			send(w, r, f)
			return
		}
	}
	f, err := app.Open(name)
	if err != nil {
		h.Set("Content-Type", "text/html; charset=utf-8")
		_, _ = io.WriteString(w, notBuilt)
		return
	}
	defer f.Close()
	send(w, r, f)
}

// contentType is the type of a file by its name.
func contentType(name string) string {
	if path.Ext(name) == ".webmanifest" {
		// The standard library does not know it.
		return "application/manifest+json"
	}
	return mime.TypeByExtension(path.Ext(name))
}

func send(w http.ResponseWriter, r *http.Request, f io.Reader) {
	if r.Method != http.MethodHead {
		_, _ = io.Copy(w, f) // a client that went away is no error here
	}
}
