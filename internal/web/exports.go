package web

import (
	"bytes"
	"context"
	"io"

	"zealousknot/internal/intake"
)

type exportIn struct {
	Kind string `path:"kind" enum:"models,items,people,events,examinations,hours"`
}

func (c *Config) exportTable(ctx context.Context, in *exportIn) (*fileOut, error) {
	var b bytes.Buffer
	if err := c.writeTable(ctx, in.Kind, &b); err != nil {
		return nil, failed(ctx, err)
	}
	return attached(in.Kind+".csv", &b), nil
}

func (c *Config) writeTable(ctx context.Context, kind string, w io.Writer) error {
	team := who(ctx).Team
	switch kind {
	case "people":
		people, err := c.Store.People(ctx, team.ID)
		if err != nil {
			return err
		}
		return intake.WritePeople(w, people)
	case "hours":
		lines, err := c.Store.Hours(ctx, team.ID, reader(ctx))
		if err != nil {
			return err
		}
		worked := make([]intake.Worked, len(lines))
		for i, l := range lines {
			worked[i] = intake.Worked{By: l.By, Says: l.Says, Confirmed: l.ConfirmedBy}
		}
		return intake.WriteHours(w, worked)
	}
	g, err := c.Store.Gear(ctx, team.ID)
	if err != nil {
		return err
	}
	switch kind {
	case "examinations":
		list, err := c.examinations(ctx, g)
		if err != nil {
			return err
		}
		return intake.WriteExaminations(w, list)
	case "models":
		return intake.WriteModels(w, g.Models)
	case "events":
		return intake.WriteEvents(w, g.Items)
	}
	months, err := c.months(ctx)
	if err != nil {
		return err
	}
	return intake.WriteItems(w, g, months)
}
