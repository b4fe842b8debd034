package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"

	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

// database is how commands name the database they use.
type database struct {
	URL string `name:"database-url" env:"DATABASE_URL" required:"" help:"Where the database is, such as postgres://user@host/name."`
}

type migrateCommand struct {
	database
	Team string `default:"Our team" help:"Team to make where there is none yet."`
}

func (c *migrateCommand) Run(ctx context.Context, s streams) error {
	db, err := store.Open(ctx, c.URL)
	if err != nil {
		return err
	}
	defer db.Close()
	if err := migrate(ctx, db, s); err != nil {
		return err
	}
	if _, err := db.FirstTeam(ctx); !errors.Is(err, store.ErrNotFound) {
		return err
	}
	_, err = db.EnsureTeam(ctx, c.Team)
	return err
}

func migrate(ctx context.Context, db *store.Store, s streams) error {
	return db.Migrate(ctx, func(name string) { fmt.Fprintln(s.err, "migrated:", name) })
}

type serveCommand struct {
	database
	Address string `default:"127.0.0.1:8137" help:"Address to listen on."`
}

func (c *serveCommand) Run(ctx context.Context, s streams) error {
	slog.SetDefault(slog.New(slog.NewJSONHandler(s.err, nil)))
	db, err := store.Open(ctx, c.URL)
	if err != nil {
		return err
	}
	defer db.Close()
	team, err := db.FirstTeam(ctx)
	if err != nil {
		return fmt.Errorf("the database has no team yet, run migrate first: %w", err)
	}
	l, err := net.Listen("tcp", c.Address)
	if err != nil {
		return err
	}
	fmt.Fprintf(s.out, "Zealous Knot is at http://%s\n%s\n", l.Addr(), caution)
	return web.Serve(ctx, l, web.Handler(web.Config{Store: db, Team: team, Version: version}))
}
