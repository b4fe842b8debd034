package main

import (
	"context"
	"errors"
	"fmt"

	"zealousknot/internal/core/record"
	"zealousknot/internal/store"
)

type linkCommand struct {
	database
	Team   string `required:"" help:"Name of the team."`
	Login  string `required:"" help:"Who signs in."`
	Person string `required:"" help:"Id of who they are on the team's drops."`
}

// Run ties a login to a person, so that nobody does the partner check of their own
// rigging. Records that were signed before stand as they are.
func (c *linkCommand) Run(ctx context.Context, s streams) error {
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
	switch err := db.Link(ctx, team, &record.Signer{Name: "the link command"}, c.Login, c.Person); {
	case errors.Is(err, store.ErrNotFound):
		return &exit{exitBadInput, fmt.Sprintf("--login: nobody signs in to %s as %q", team.Name, c.Login)}
	case errors.Is(err, store.ErrRefused):
		return &exit{exitBadInput, fmt.Sprintf("--person: %s has nobody %q whose login is not known yet", team.Name, c.Person)}
	case err != nil:
		return err
	}
	_, err = fmt.Fprintf(s.out, "%s is %s on the drops of %s\n", c.Login, c.Person, team.Name)
	return err
}
