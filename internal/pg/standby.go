package pg

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"github.com/jackc/pgx/v5"
)

// Standby makes a copy of a running server that follows it, and has the server wait for it
// at every commit. It is for trials on one machine: operations.md says how it is done on
// several.
func (s *Server) Standby(ctx context.Context, o Options) (*Server, error) {
	owner, err := findOwner()
	if err != nil {
		return nil, err
	}
	dir, err := owner.folder(o.Dir)
	if err != nil {
		return nil, err
	}
	bin, err := programs("")
	if err != nil {
		return nil, err
	}
	config, err := pgx.ParseConfig(s.URL)
	if err != nil {
		return nil, err
	}
	if err := owner.write(filepath.Join(dir, "password"), config.Password); err != nil {
		return nil, err
	}
	c := &cluster{bin: bin, dir: dir, data: filepath.Join(dir, "data"), owner: owner, progress: o.Progress}
	copied := c.command(ctx, "pg_basebackup", "--pgdata="+c.data, "--write-recovery-conf", "--checkpoint=fast", "--dbname="+s.URL+"&application_name=standby")
	if out, err := copied.CombinedOutput(); err != nil {
		return nil, fmt.Errorf("pg_basebackup: %w: %s", err, out)
	}
	standby, err := c.start(ctx, o.Durable)
	if err != nil {
		return nil, err
	}
	if err := s.waitFor(ctx); err != nil {
		standby.Stop()
		return nil, err
	}
	return standby, nil
}

// waitFor has a server acknowledge what its standby has, and waits until it does.
func (s *Server) waitFor(ctx context.Context) error {
	conn, err := pgx.Connect(ctx, s.URL)
	if err != nil {
		return err
	}
	defer conn.Close(ctx)
	for _, statement := range []string{"ALTER SYSTEM SET synchronous_standby_names = 'standby'", "SELECT pg_reload_conf()"} {
		if _, err := conn.Exec(ctx, statement); err != nil {
			return err
		}
	}
	ctx, stop := context.WithTimeout(ctx, time.Minute)
	defer stop()
	for {
		var follows bool
		if err := conn.QueryRow(ctx, "SELECT EXISTS (SELECT FROM pg_stat_replication WHERE sync_state = 'sync')").Scan(&follows); err != nil || follows {
			return err
		}
		select {
		case <-ctx.Done():
			return fmt.Errorf("the standby does not follow: %w", ctx.Err())
		case <-time.After(20 * time.Millisecond):
		}
	}
}

// Promote makes a standby the server that is written to.
func (s *Server) Promote(ctx context.Context) error {
	conn, err := pgx.Connect(ctx, s.URL)
	if err != nil {
		return err
	}
	defer conn.Close(ctx)
	_, err = conn.Exec(ctx, "SELECT pg_promote()")
	return err
}

// Kill ends a server as a broken machine would.
func (s *Server) Kill() {
	_ = s.cmd.Process.Signal(os.Kill)
	<-s.done
}
