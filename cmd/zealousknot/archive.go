package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"zealousknot/internal/store"
)

type exportCommand struct {
	database
	Team string `required:"" help:"Name of the team."`
	File string `arg:"" help:"File to write; one that is there is not overwritten."`
}

// Run writes a team's archive. The file is there with its name only once it is whole and on
// the disk.
func (c *exportCommand) Run(ctx context.Context, s streams) error {
	db, err := store.Open(ctx, c.URL)
	if err != nil {
		return err
	}
	defer db.Close()
	team, err := db.TeamNamed(ctx, c.Team)
	if errors.Is(err, store.ErrNotFound) {
		return &exit{exitBadInput, fmt.Sprintf("--team: there is no team %q", c.Team)}
	}
	if err != nil {
		return err
	}
	return writeWhole(c.File, func(f *os.File) error { return db.Export(ctx, team, f, time.Now(), false) })
}

// writeWhole writes a file that has its name only once it is whole and on the disk.
func writeWhole(name string, write func(*os.File) error) error {
	if _, err := os.Stat(name); err == nil {
		return &exit{exitBadInput, fmt.Sprintf("FILE: %s is there already", name)}
	}
	part := name + ".part"
	f, err := os.OpenFile(part, os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return &exit{exitBadInput, "FILE: " + err.Error()}
	}
	defer os.Remove(part) // gone already where all went well
	if err := errors.Join(write(f), f.Sync(), f.Close()); err != nil {
		return err
	}
	if err := os.Link(part, name); err != nil { // unlike a rename it overwrites nothing
		return err
	}
	return syncFolder(filepath.Dir(name))
}

type importCommand struct {
	database
	File   string `arg:"" help:"Archive of a team."`
	Team   string `help:"Name to show instead of the one that the team had."`
	DryRun bool   `name:"dry-run" help:"Write nothing: say whether it could be taken in."`
}

// Run makes a team of an archive, with the id that it had; nobody signs in to it until
// somebody is invited.
func (c *importCommand) Run(ctx context.Context, s streams) error {
	f, err := os.Open(c.File)
	if err != nil {
		return &exit{exitBadInput, "FILE: " + err.Error()}
	}
	defer f.Close()
	info, err := f.Stat()
	if err != nil {
		return err
	}
	db, err := store.Open(ctx, c.URL)
	if err != nil {
		return err
	}
	defer db.Close()
	about, err := db.Import(ctx, f, info.Size(), store.Import{Name: c.Team, Try: c.DryRun})
	switch {
	case errors.Is(err, store.ErrArchive), errors.Is(err, store.ErrExists):
		return &exit{exitBadInput, "FILE: " + err.Error() + "; nothing was changed"}
	case err != nil:
		return err
	}
	n, done := about.Counts, "is here"
	if c.DryRun {
		done = "could be taken in; nothing was written"
	}
	_, err = fmt.Fprintf(s.out, "%s %s: %d models, %d items, %d people, %d kits, %d drops, %d records, whole; the last one's seal is %s.\n",
		about.Team.Name, done, n.Models, n.Items, n.People, n.Kits, n.Drops, n.Records, about.Chain.Seal)
	if err == nil && !c.DryRun {
		_, err = fmt.Fprintf(s.out, "Nobody signs in to it yet: zealousknot invite --team %q …\n", about.Team.Name)
	}
	return err
}
