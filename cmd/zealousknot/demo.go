package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg"
	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

type demoCommand struct {
	Dir  string    `default:".run" help:"Folder for the private database, the log and the lock."`
	Port int       `default:"8137" help:"Port on 127.0.0.1; another one is taken where it is in use."`
	Day  time.Time `format:"2006-01-02" help:"Day that the demo data play on, such as 2026-11-24; left out: today. Data that are loaded already stay."`
	Live bool      `help:"Begin an exercise of a run, with a load cell and an anemometer that stand in for real ones."`
	URL  string    `name:"database-url" env:"DATABASE_URL" help:"Use this database in the place of a private one."`
}

func (c *demoCommand) Run(ctx context.Context, s streams) error {
	if err := os.MkdirAll(c.Dir, 0o755); err != nil {
		return err
	}
	lock, err := lockDir(c.Dir)
	if err != nil {
		return err
	}
	defer lock.Close()
	log, err := os.OpenFile(filepath.Join(c.Dir, "log.json"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer log.Close()
	slog.SetDefault(slog.New(web.LogHandler{Handler: slog.NewJSONHandler(log, nil)}))

	ctx, cancel := context.WithCancelCause(ctx)
	defer cancel(nil)
	url, owner := c.URL, c.URL
	if url == "" {
		server, err := pg.Start(ctx, pg.Options{Dir: filepath.Join(c.Dir, "pg"), Durable: true, Progress: func(t string) { fmt.Fprintln(s.err, "…", t) }})
		if err != nil {
			return err
		}
		defer server.Stop()
		go func() {
			<-server.Done()
			cancel(errors.New("the database ended by itself; its log is in " + c.Dir))
		}()
		url, owner = server.ProgramURL, server.URL
	}
	if err := prepare(ctx, owner, pgRole(c.URL), s); err != nil {
		return err
	}
	if err := c.serve(ctx, url, lock, s); err != nil {
		return err
	}
	if err := context.Cause(ctx); !errors.Is(err, context.Canceled) {
		return err
	}
	fmt.Fprintln(s.out, "Stopped.")
	return nil
}

func (c *demoCommand) serve(ctx context.Context, url string, lock *os.File, s streams) error {
	db, err := store.Open(ctx, url)
	if err != nil {
		return err
	}
	defer db.Close()
	day := gear.Date(time.Now().UTC().Format(time.DateOnly))
	if !c.Day.IsZero() {
		day = gear.Date(c.Day.Format(time.DateOnly))
		db.Today = func(store.Team) gear.Date { return day }
	}
	team, loaded, err := scenario.Load(ctx, db, day)
	if err != nil {
		return fmt.Errorf("demo data: %w", err)
	}
	if loaded {
		fmt.Fprintln(s.err, "… demo data loaded")
	}
	l, err := listen(c.Port)
	if err != nil {
		return err
	}
	address := "http://" + l.Addr().String()
	if err := note(lock, address); err != nil {
		return err
	}
	fmt.Fprintf(s.out, "\nZealous Knot is at %s\n%s\nCtrl-C stops it and its database.\n", address, caution)
	if c.Live {
		// The stand-ins send to the address, which answers from here on.
		if err := live(ctx, db, team, address, s); err != nil {
			return err
		}
	}
	config := &web.Config{Store: db, Version: version, PublicURL: address, Demo: true, DemoAccounts: scenario.Accounts()}
	return web.Serve(ctx, l, web.Handler(ctx, config))
}

// pgRole is the role that the program has in a private database; in one that was
// given it has whatever its address says.
func pgRole(url string) string {
	if url == "" {
		return pg.Program
	}
	return ""
}

// listen takes the port, or any other where that one is in use.
func listen(port int) (net.Listener, error) {
	l, err := net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", port))
	if errors.Is(err, syscall.EADDRINUSE) {
		return net.Listen("tcp", "127.0.0.1:0")
	}
	return l, err
}

// lockDir makes sure that one demo at a time uses a folder. The lock goes with
// the process, however it ends.
func lockDir(dir string) (*os.File, error) {
	f, err := os.OpenFile(filepath.Join(dir, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, err
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		where, _ := io.ReadAll(f)
		f.Close()
		if len(where) == 0 {
			where = []byte("an address it is about to print")
		}
		return nil, fmt.Errorf("the demo is already running at %s", strings.TrimSpace(string(where)))
	}
	return f, f.Truncate(0)
}

// note writes down where the demo is, for whoever starts a second one.
func note(lock *os.File, address string) error {
	_, err := lock.WriteAt([]byte(address+"\n"), 0)
	return err
}
