package web

import (
	"bytes"
	"context"
	"reflect"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/picture"
	"zealousknot/internal/report"
)

// registerSheets declares the sheets of what the core answers; nothing is kept.
func (c *Config) registerSheets(api huma.API) {
	rescue, team := reflect.TypeFor[ask.RescueAsked](), reflect.TypeFor[ask.TeamAsked]()
	fileOf(api, "rescue-sheet-pdf", "/rescue/sheet.pdf", "The rescue plan of a drop on one page, as PDF", "application/pdf", rescue, heavy(c, c.rescueSheet("pdf")))
	fileOf(api, "rescue-sheet-svg", "/rescue/sheet.svg", "The rescue plan of a drop on one page, as SVG", "image/svg+xml", rescue, heavy(c, c.rescueSheet("svg")))
	fileOf(api, "team-sheet-pdf", "/team/sheet.pdf", "The sheet of a drop's team, with a move, as PDF", "application/pdf", team, heavy(c, c.teamSheet("pdf")))
	fileOf(api, "team-sheet-svg", "/team/sheet.svg", "The sheet of a drop's team, with a move, as SVG", "image/svg+xml", team, heavy(c, c.teamSheet("svg")))
}

// rescueSheet writes the plan to hang at the top; nothing is kept.
func (c *Config) rescueSheet(kind string) func(context.Context, *rawIn) (*fileOut, error) {
	return func(ctx context.Context, in *rawIn) (*fileOut, error) {
		var asked ask.RescueAsked
		if err := strict.Read(in.RawBody, &asked); err != nil {
			return nil, failed(ctx, err)
		}
		answer, err := asked.Answer(ctx, c.env(ctx))
		if err != nil {
			return nil, failed(ctx, err)
		}
		i, d := who(ctx), &asked.Drop
		s := &report.RescueSheet{
			Team: i.Team.Name, Drop: d.Name, Site: d.Site, Day: string(d.Day), Rescue: d.Rescue, Answer: answer, Person: asked.Person, AtM: asked.AtM, Way: asked.Way, Cautions: d.Cautions(),
			Printed: time.Now().In(i.Team.Location()), PrintedBy: i.Name,
		}
		var b bytes.Buffer
		if err := s.Write(&b, kind); err != nil {
			return nil, failed(ctx, err)
		}
		return attached("rescue."+kind, &b), nil
	}
}

// teamSheet writes the sheet of what is asked; nothing is kept.
func (c *Config) teamSheet(kind string) func(context.Context, *rawIn) (*fileOut, error) {
	return func(ctx context.Context, in *rawIn) (*fileOut, error) {
		var asked ask.TeamAsked
		if err := strict.Read(in.RawBody, &asked); err != nil {
			return nil, failed(ctx, err)
		}
		answer, err := asked.Answer(ctx, c.env(ctx))
		if err != nil {
			return nil, failed(ctx, err)
		}
		i, d := who(ctx), &asked.Drop
		tied, err := picture.OfTeam(d, answer.Plan)
		if err != nil {
			return nil, failed(ctx, err)
		}
		s := &report.TeamSheet{
			Team: i.Team.Name, Drop: d.Name, Site: d.Site, Day: string(d.Day), Load: d.Team.Load.Name, Cautions: d.Cautions(), Figures: answer.Figures, Calls: answer.Calls,
			Plan: answer.Plan, Impossible: answer.Impossible, Knots: tied, Printed: time.Now().In(i.Team.Location()), PrintedBy: i.Name,
		}
		var b bytes.Buffer
		if err := s.Write(&b, kind); err != nil {
			return nil, failed(ctx, err)
		}
		return attached("team."+kind, &b), nil
	}
}
