// Package web is the HTTP side: routes, headers, problems. What a request means
// is decided in the core; what is kept, in the store.
package web

import (
	"context"
	"crypto/rand"
	"log/slog"
	"net"
	"net/http"
	"path"
	"reflect"
	"runtime/debug"
	"slices"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/google/uuid"

	"zealousknot/internal/store"
	"zealousknot/internal/web/ui"
)

// Config is what a server needs.
type Config struct {
	Store   *store.Store
	Version string
	// PublicURL is where people reach the program, for labels; no slash at its end.
	PublicURL string
	// Secure lets session cookies over https alone.
	Secure bool
	// TrustedProxies are the addresses, as prefixes, of proxies whose word of where a
	// request comes from counts; empty for none.
	TrustedProxies []string
	// Demo is set when the demo scenario was loaded; DemoAccounts are then shown to
	// whoever wants to sign in.
	Demo         bool
	DemoAccounts []DemoAccount
	// LookFor is how long a list of drops looks at those that changed since the last request;
	// 0 for the default.
	LookFor time.Duration

	sessions  *scs.SessionManager
	listeners listeners
	metrics   *metrics
	turns     *turns
	done      <-chan struct{}
}

// Handler gives the whole site: screens, API and health. What it does beside
// answering ends when ctx is done.
func Handler(ctx context.Context, c *Config) http.Handler {
	c.sessions, c.done = newSessions(c), ctx.Done()
	if c.Store != nil {
		go c.Store.Listen(ctx, c.listeners.tell, func() { c.listeners.tell(uuid.Nil, store.Change{All: true}) })
	}
	c.turns, c.metrics = newTurns(), newMetrics(c)
	r := stack(c.metrics.measure)
	if len(c.TrustedProxies) > 0 {
		r.Use(middleware.ClientIPFromXFF(c.TrustedProxies...))
	}
	r.Get("/healthz", func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte("up\n")) })
	r.Get("/readyz", c.ready)
	r.Group(func(r chi.Router) {
		r.Use(noStore, legible, c.sessions.LoadAndSave, c.identify)
		Register(NewAPI(r), c)
		r.HandleFunc("/api/*", func(w http.ResponseWriter, _ *http.Request) {
			writeProblem(w, NewProblem(http.StatusNotFound, "there is no such address in the API"))
		})
	})
	r.Method(http.MethodGet, "/*", ui.Handler())
	r.Method(http.MethodHead, "/*", ui.Handler())
	return r
}

// stack is a router with everything that every request goes through.
func stack(measure func(http.Handler) http.Handler) *chi.Mux {
	r := chi.NewRouter()
	r.Use(requestID, logRequests, measure, middleware.Recoverer, securityHeaders, sameOrigin, limitTime)
	return r
}

// noStore keeps answers out of the browser's own cache: the service worker keeps
// those that are needed without a connection, and lets them go at sign-out.
func noStore(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Cache-Control", "no-store")
		next.ServeHTTP(w, r)
	})
}

// NewAPI gives an API without operations on a router.
func NewAPI(r chi.Router) huma.API {
	config := huma.DefaultConfig("Zealous Knot", "1")
	config.Info.Description = "For trained people. The manufacturer's instructions, local rules and the person in charge come first; " +
		"figures are models with stated limits. An empty list of findings means that nothing was found, never that a drop is safe."
	config.CreateHooks = nil
	// A query that is misspelt would give everything in place of what was sought.
	config.RejectUnknownQueryParameters = true
	config.Transformers = append(config.Transformers, func(ctx huma.Context, _ string, v any) (any, error) {
		if p, ok := v.(*Problem); ok {
			said := *p
			said.RequestID = middleware.GetReqID(ctx.Context())
			return &said, nil
		}
		return v, nil
	})
	config.DocsPath = ""
	config.SchemasPath = ""
	config.OpenAPIPath = "/api/v1/openapi"
	config.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", SchemaName)
	api := humachi.New(r, config)
	ListValues(api.OpenAPI().Components.Schemas)
	return api
}

// moving are what a person and a team have both.
var moving = []string{"Action", "Figures", "Offer", "Plan", "State", "Step"}

// SchemaName names a type of the contract: by itself, or with its package where packages have
// types of one name.
func SchemaName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice {
		t = t.Elem()
	}
	switch path.Base(t.PkgPath()) {
	case "run":
		return "Run" + name
	case "day":
		return "Day" + name
	case "callout":
		return "Callout" + name
	case "pair", "cover":
		return "Rescue" + name
	case "team":
		if slices.Contains(moving, name) {
			return "Team" + name
		}
	case "moves":
		if slices.Contains(moving, name) {
			return "Move" + name
		}
	case "drill":
		return "Drill" + name
	case "knot":
		return "Knot" + name
	case "reeving":
		return "Reeving" + strings.TrimPrefix(name, "Rope")
	}
	return name
}

func (c *Config) ready(w http.ResponseWriter, r *http.Request) {
	ctx, cancel := context.WithTimeout(r.Context(), 2*time.Second)
	defer cancel()
	if err := c.Store.Ping(ctx); err != nil {
		writeProblem(w, NewProblem(http.StatusServiceUnavailable, "the database does not answer"))
		return
	}
	_, _ = w.Write([]byte("ready\n"))
}

// Limits of how long a request may work: heavy ones longer, since they say how far they
// are, wait for their turn and can be stopped.
const quickLimit, heavyLimit = 20 * time.Second, 50 * time.Second

// limitTime bounds how long a request may work; the one that waits for changes
// lasts.
func limitTime(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path == changesPath {
			next.ServeHTTP(w, r)
			return
		}
		limit := quickLimit
		if r.Header.Get("Accept") == lines {
			limit = heavyLimit
		}
		ctx, cancel := context.WithTimeout(r.Context(), limit)
		defer cancel()
		next.ServeHTTP(w, r.WithContext(ctx))
	})
}

// contentPolicy lets the page load from its own origin alone; inline scripts and
// styles are refused too, and so is WebAssembly but in the core's worker.
const contentPolicy = "default-src 'none'; script-src 'self'; worker-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; " +
	"manifest-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"

func securityHeaders(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", contentPolicy)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(self), geolocation=(), microphone=()")
		next.ServeHTTP(w, r)
	})
}

// sameOrigin refuses requests that change something and come from another site.
func sameOrigin(next http.Handler) http.Handler {
	p := http.NewCrossOriginProtection()
	p.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		writeProblem(w, NewProblem(http.StatusForbidden, "this request came from another site"))
	}))
	return p.Handler(next)
}

// requestID gives each request an id of its own, for the log and for problems. One that a
// client sends is not taken.
func requestID(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		id := rand.Text()[:16]
		w.Header().Set(requestIDHeader, id)
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), middleware.RequestIDKey, id)))
	})
}

const requestIDHeader = "X-Request-Id"

// LogHandler is a log that says with each line which request it is about.
type LogHandler struct{ slog.Handler }

// Handle adds the id of the request.
func (h LogHandler) Handle(ctx context.Context, r slog.Record) error {
	if id := middleware.GetReqID(ctx); id != "" {
		r.AddAttrs(slog.String("request_id", id))
	}
	return h.Handler.Handle(ctx, r)
}

// WithAttrs and WithGroup keep it the log that it is.
func (h LogHandler) WithAttrs(a []slog.Attr) slog.Handler { return LogHandler{h.Handler.WithAttrs(a)} }
func (h LogHandler) WithGroup(n string) slog.Handler      { return LogHandler{h.Handler.WithGroup(n)} }

func logRequests(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		ww := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		start := time.Now()
		next.ServeHTTP(ww, r)
		slog.InfoContext(r.Context(), "request", "method", r.Method, "path", r.URL.Path, "status", ww.Status(), "bytes", ww.BytesWritten(),
			"ms", float64(time.Since(start).Microseconds())/1000)
	})
}

// gcPercent lets garbage grow to four times what is kept before it is collected:
// what is kept is small, and every request leaves much behind.
const gcPercent = 400

// Serve serves on a listener until ctx is done, then lets running requests end.
func Serve(ctx context.Context, l net.Listener, h http.Handler) error {
	defer debug.SetGCPercent(debug.SetGCPercent(gcPercent)) // the inner call sets it now, the outer puts it back
	s := &http.Server{
		Handler: h, ReadHeaderTimeout: 5 * time.Second, ReadTimeout: 30 * time.Second, WriteTimeout: 60 * time.Second,
		IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 16 << 10,
	}
	ended := make(chan error, 1)
	go func() { ended <- s.Serve(l) }()
	select {
	case err := <-ended:
		return err
	case <-ctx.Done():
	}
	end, cancel := context.WithTimeout(context.WithoutCancel(ctx), 10*time.Second)
	defer cancel()
	return s.Shutdown(end)
}
