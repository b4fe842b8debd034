package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"strings"
	"time"

	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

// database is how commands name the database they use.
type database struct {
	URL string `name:"database-url" env:"DATABASE_URL" required:"" help:"Where the database is, such as postgres://user@host/name."`
}

type migrateCommand struct {
	database
	Role string `name:"program-role" help:"Role that the program signs in as when it serves: it gets what it needs, and may not change records."`
}

func (c *migrateCommand) Run(ctx context.Context, s streams) error {
	return prepare(ctx, c.URL, c.Role, s)
}

// prepare brings a database to this version, and lets a role use it.
func prepare(ctx context.Context, url, role string, s streams) error {
	db, err := store.Open(ctx, url)
	if err != nil {
		return err
	}
	defer db.Close()
	if err := db.Migrate(ctx, func(name string) { fmt.Fprintln(s.err, "migrated:", name) }); err != nil || role == "" {
		return err
	}
	return db.Grant(ctx, role)
}

type inviteCommand struct {
	database
	Team   string   `required:"" help:"Name of the team; it is made where there is none of this name."`
	Name   string   `required:"" help:"Who is invited."`
	Roles  []string `default:"supervisor" enum:"technician,supervisor,store-keeper,trainer,reader" help:"What they are in the team."`
	Server string   `default:"http://127.0.0.1:8137" help:"Where the program serves, for the address that is printed."`
}

func (c *inviteCommand) Run(ctx context.Context, s streams) error {
	db, err := store.Open(ctx, c.URL)
	if err != nil {
		return err
	}
	defer db.Close()
	team, err := db.EnsureTeam(ctx, c.Team)
	if err != nil {
		return err
	}
	path, made, err := web.Invite(ctx, db, team.ID, store.Invitation{Name: c.Name, Roles: c.Roles, MadeBy: "the invite command"})
	if err != nil {
		return err
	}
	_, err = fmt.Fprintf(s.out, "%s may join %s until %s at\n%s%s\n", c.Name, team.Name, made.EndsAt.Format("2006-01-02 15:04"), c.Server, path)
	return err
}

type serveCommand struct {
	database
	Address   string `default:"127.0.0.1:8137" help:"Address to listen on."`
	PlainHTTP bool   `help:"Let sessions over plain http: on this machine alone, never over a network."`
	Internal  string `name:"internal-address" help:"Loopback address for metrics (/metrics) and profiles (/debug/pprof), such as 127.0.0.1:9137. None by default."`
	PublicURL string `name:"public-url" env:"PUBLIC_URL" help:"Where people reach the program, such as https://knots.example.org: it stands on labels. Without, no labels are made."`
	// TrustedProxy is checked as it is read: a word of a proxy that is not meant opens doors.
	TrustedProxy []netip.Prefix `help:"Address of a proxy in front, as a prefix such as 10.0.0.5/32: its X-Forwarded-For then says where requests come from. None by default."`
}

// Run listens at once: /healthz answers from the start, everything else once the database
// does.
func (c *serveCommand) Run(ctx context.Context, s streams) error {
	slog.SetDefault(slog.New(web.LogHandler{Handler: slog.NewJSONHandler(s.err, nil)}))
	if err := c.checkInternal(); err != nil {
		return err
	}
	l, err := net.Listen("tcp", c.Address)
	if err != nil {
		return err
	}
	ctx, stop := context.WithCancel(ctx)
	defer stop()
	var gate web.Gate
	ended := make(chan error, 1)
	go func() { ended <- web.Serve(ctx, l, &gate) }()
	db, err := c.database.ready(ctx, s)
	if err != nil {
		stop()
		return errors.Join(err, <-ended)
	}
	defer db.Close()
	config := &web.Config{Store: db, Version: version, Secure: !c.PlainHTTP, PublicURL: strings.TrimRight(c.PublicURL, "/"), TrustedProxies: texts(c.TrustedProxy)}
	gate.Open(web.Handler(ctx, config))
	if err := c.serveInternal(ctx, config); err != nil {
		stop()
		return errors.Join(err, <-ended)
	}
	fmt.Fprintf(s.out, "Zealous Knot is at http://%s\n%s\n", l.Addr(), caution)
	return <-ended
}

// checkInternal refuses an address that other machines reach: profiles show what the
// program has in its hands.
func (c *serveCommand) checkInternal() error {
	if c.Internal == "" {
		return nil
	}
	if at, err := netip.ParseAddrPort(c.Internal); err != nil || !at.Addr().IsLoopback() {
		return &exit{exitBadInput, fmt.Sprintf("--internal-address: %q is not an address of this machine alone, such as 127.0.0.1:9137", c.Internal)}
	}
	return nil
}

// serveInternal serves metrics and profiles beside the site until ctx is done.
func (c *serveCommand) serveInternal(ctx context.Context, config *web.Config) error {
	if c.Internal == "" {
		return nil
	}
	l, err := net.Listen("tcp", c.Internal)
	if err != nil {
		return err
	}
	s := &http.Server{Handler: config.Internal(), ReadHeaderTimeout: 5 * time.Second}
	context.AfterFunc(ctx, func() { _ = s.Close() })
	go func() { _ = s.Serve(l) }()
	slog.InfoContext(ctx, "metrics and profiles", "address", l.Addr().String())
	return nil
}

// ready waits for the database and sees that this program may serve on it.
func (d *database) ready(ctx context.Context, s streams) (*store.Store, error) {
	db, err := store.Wait(ctx, d.URL, func(err error) { fmt.Fprintln(s.err, "waiting for the database:", err) })
	if err != nil {
		return nil, err
	}
	if err := db.Fits(ctx); err != nil {
		db.Close()
		return nil, err
	}
	lacks, err := db.Lacks(ctx)
	if err == nil && len(lacks) > 0 {
		db.Close()
		return nil, fmt.Errorf("the database's role may not read %s: run migrate --program-role for it again", strings.Join(lacks, ", "))
	}
	may, err := db.MayAlterRecords(ctx)
	if err != nil {
		db.Close()
		return nil, fmt.Errorf("run migrate first: %w", err)
	}
	if may {
		fmt.Fprintln(s.err, "The database's role may change records: only a trigger keeps it from that. Better: migrate --program-role, and serve as that role.")
	}
	return db, nil
}

func texts(list []netip.Prefix) []string {
	out := make([]string, len(list))
	for i, p := range list {
		out[i] = p.String()
	}
	return out
}
