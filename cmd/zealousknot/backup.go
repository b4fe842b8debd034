package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"

	"zealousknot/internal/pg"
	"zealousknot/internal/store"
)

type backupCommand struct {
	database
	File string `arg:"" help:"File to write; one that is there is not overwritten."`
}

// Run writes the whole database, as it is at one moment, to a file.
func (c *backupCommand) Run(ctx context.Context, s streams) error {
	err := writeWhole(c.File, func(f *os.File) error {
		dump, err := c.tool(ctx, "pg_dump", "--format=custom", "--no-owner", "--no-privileges")
		if err != nil {
			return err
		}
		dump.Stdout = f
		return runTool(dump)
	})
	if err != nil {
		return err
	}
	info, err := os.Stat(c.File)
	if err != nil {
		return err
	}
	_, err = fmt.Fprintf(s.out, "%s: %d kB. Keep it elsewhere, and try it with restore.\n", c.File, (info.Size()+1023)/1024)
	return err
}

// syncFolder waits until a folder's names are on the disk.
func syncFolder(dir string) error {
	f, err := os.Open(dir)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

// tool is one of PostgreSQL's programs on the database. The password goes where other
// users of the machine do not see it.
func (d *database) tool(ctx context.Context, name string, args ...string) (*exec.Cmd, error) {
	program, err := pg.Tool(name)
	if err != nil {
		return nil, err
	}
	at, env := d.URL, os.Environ()
	if m := secret.FindStringSubmatch(d.URL); m != nil {
		password, err := url.PathUnescape(m[2])
		if err != nil {
			return nil, fmt.Errorf("DATABASE_URL: %w", err)
		}
		at, env = m[1]+m[3], append(env, "PGPASSWORD="+password)
	}
	cmd := exec.CommandContext(ctx, program, append(args, "--dbname="+at)...)
	cmd.Env = env
	return cmd, nil
}

// secret finds the password in a database's URL, which may name several hosts.
var secret = regexp.MustCompile(`^(postgres(?:ql)?://[^:/@]+):([^@/]*)(@.*)$`)

// runTool runs a program and says what it said where it failed.
func runTool(cmd *exec.Cmd) error {
	var said bytes.Buffer
	cmd.Stderr = &said
	if err := cmd.Run(); err != nil {
		return fmt.Errorf("%s: %w: %s", filepath.Base(cmd.Path), err, strings.TrimSpace(said.String()))
	}
	return nil
}

type restoreCommand struct {
	database
	File string `arg:"" help:"File that backup wrote."`
	Role string `name:"program-role" help:"Role that the program signs in as when it serves: it gets what it needs, and may not change records."`
}

// Run puts a backup into an empty database, all of it or nothing, brings it to this version
// and walks its records. Exit 0: restored and whole; 1: restored and broken; 2: refused.
func (c *restoreCommand) Run(ctx context.Context, s streams) error {
	if err := c.readable(ctx); err != nil {
		return err
	}
	db, err := store.Open(ctx, c.URL)
	if err != nil {
		return &exit{exitUnanswered, err.Error()}
	}
	defer db.Close()
	empty, err := db.Empty(ctx)
	if err != nil {
		return err
	}
	if !empty {
		return &exit{exitBadInput, "DATABASE_URL: there is something in this database already; a backup is restored into an empty one"}
	}
	restore, err := c.tool(ctx, "pg_restore", "--no-owner", "--no-privileges", "--single-transaction", "--exit-on-error", c.File)
	if err != nil {
		return err
	}
	if err := runTool(restore); err != nil {
		return err
	}
	if err := prepare(ctx, c.URL, c.Role, s); err != nil {
		return err
	}
	return verifyAll(ctx, db, 0, "", s)
}

// Lines of a backup's list of contents.
var (
	tablesLine = regexp.MustCompile(`(?m)^\d+; .* TABLE public records `)
	dataLine   = regexp.MustCompile(`(?m)^\d+; .* TABLE DATA public records `)
)

// readable refuses what is no backup of this program, and one that holds data or tables
// alone: records are sealed by the tables' own rules, which data alone would meet.
func (c *restoreCommand) readable(ctx context.Context) error {
	program, err := pg.Tool("pg_restore")
	if err != nil {
		return err
	}
	list := exec.CommandContext(ctx, program, "--list", c.File)
	var out bytes.Buffer
	list.Stdout = &out
	if err := runTool(list); err != nil {
		return &exit{exitBadInput, "FILE: " + err.Error()}
	}
	tables, data := tablesLine.Match(out.Bytes()), dataLine.Match(out.Bytes())
	switch {
	case !tables && !data:
		return &exit{exitBadInput, "FILE: this is no backup of Zealous Knot"}
	case !tables:
		return &exit{exitBadInput, "FILE: this holds data without its tables, which cannot be restored: records only come with the rules that keep them"}
	case !data:
		return &exit{exitBadInput, "FILE: this holds tables without data"}
	}
	return nil
}
