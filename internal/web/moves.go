package web

import (
	"bytes"
	"context"
	"reflect"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
	"zealousknot/internal/report"
)

// registerMoves declares what finds and judges moves; nothing is kept.
func (c *Config) registerMoves(api huma.API) {
	get(api, "moves", "/moves", "The moves that are planned", moveList)
	get(api, "schools", "/schools", "Where practitioners differ over moves", schoolList)
	heavyPost(api, c, "plan-move", "/moves/plan", "Find a move of a person on a drop", reflect.TypeFor[drop.MoveAsked](), c.planMove)
	get(api, "team-moves", "/team/moves", "The moves of a team that are planned", teamMoves)
	heavyPost(api, c, "plan-team", "/team/plan", "Find a move of a drop's team, or walk a list of its actions", reflect.TypeFor[drop.TeamAsked](), c.planTeam)
	heavyPost(api, c, "rescue", "/rescue", "Who is reached from where on a drop, by which ways, and what would cover more", reflect.TypeFor[drop.RescueAsked](), c.rescue)
	fileOf(api, "rescue-sheet-pdf", "/rescue/sheet.pdf", "The rescue plan of a drop on one page, as PDF", "application/pdf", reflect.TypeFor[drop.RescueAsked](), heavy(c, c.rescueSheet("pdf")))
	fileOf(api, "rescue-sheet-svg", "/rescue/sheet.svg", "The rescue plan of a drop on one page, as SVG", "image/svg+xml", reflect.TypeFor[drop.RescueAsked](), heavy(c, c.rescueSheet("svg")))
	fileOf(api, "team-sheet-pdf", "/team/sheet.pdf", "The sheet of a drop's team, with a move, as PDF", "application/pdf", reflect.TypeFor[drop.TeamAsked](), heavy(c, c.teamSheet("pdf")))
	fileOf(api, "team-sheet-svg", "/team/sheet.svg", "The sheet of a drop's team, with a move, as SVG", "image/svg+xml", reflect.TypeFor[drop.TeamAsked](), heavy(c, c.teamSheet("svg")))
	post(api, "replay-moves", "/moves/replay", "Walk a step list by the rules", reflect.TypeFor[drop.ReplayAsked](), c.replayMoves)
}

type moveLine struct {
	Name string `json:"name"`
	Does string `json:"does"`
}

type movesOut struct{ Body []moveLine }

func moveList(context.Context, *struct{}) (*movesOut, error) {
	out := &movesOut{}
	for _, m := range moves.Catalogue {
		out.Body = append(out.Body, moveLine{m.Name, m.Does})
	}
	return out, nil
}

type schoolsOut struct{ Body []school.Question }

func schoolList(context.Context, *struct{}) (*schoolsOut, error) {
	return &schoolsOut{Body: school.Catalogue}, nil
}

func (c *Config) planMove(ctx context.Context, in *rawIn) (*drop.MoveAnswer, error) {
	var asked drop.MoveAsked
	if err := strict.Read(in.RawBody, &asked); err != nil {
		return nil, err
	}
	g, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, err
	}
	return asked.Answer(ctx, g)
}

type replayOut struct{ Body *drop.ReplayAnswer }

func (c *Config) replayMoves(ctx context.Context, in *rawIn) (*replayOut, error) {
	var asked drop.ReplayAsked
	if err := strict.Read(in.RawBody, &asked); err != nil {
		return nil, failed(ctx, err)
	}
	answer, err := asked.Answer()
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &replayOut{answer}, nil
}

// rescues answers what is asked of a rescue; changes are taken from the caller's store
// and people.
func (c *Config) rescues(ctx context.Context, in *rawIn) (*drop.RescueAsked, *drop.RescueAnswer, error) {
	asked := new(drop.RescueAsked)
	if err := strict.Read(in.RawBody, asked); err != nil {
		return nil, nil, err
	}
	g, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, nil, err
	}
	people, err := c.Store.People(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, nil, err
	}
	answer, err := asked.Answer(ctx, c.env(), g, people)
	return asked, answer, err
}

func (c *Config) rescue(ctx context.Context, in *rawIn) (*drop.RescueAnswer, error) {
	_, answer, err := c.rescues(ctx, in)
	return answer, err
}

// rescueSheet writes the plan to hang at the top; nothing is kept.
func (c *Config) rescueSheet(kind string) func(context.Context, *rawIn) (*fileOut, error) {
	return func(ctx context.Context, in *rawIn) (*fileOut, error) {
		asked, answer, err := c.rescues(ctx, in)
		if err != nil {
			return nil, failed(ctx, err)
		}
		i, d := who(ctx), &asked.Drop
		s := &report.RescueSheet{
			Team: i.Team.Name, Drop: d.Name, Site: d.Site, Day: string(d.Day), Rescue: d.Rescue, Answer: answer, Person: asked.Person, AtM: asked.AtM, Way: asked.Way,
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
		var asked drop.TeamAsked
		if err := strict.Read(in.RawBody, &asked); err != nil {
			return nil, failed(ctx, err)
		}
		answer, err := asked.Answer(ctx)
		if err != nil {
			return nil, failed(ctx, err)
		}
		i, d := who(ctx), &asked.Drop
		s := &report.TeamSheet{
			Team: i.Team.Name, Drop: d.Name, Site: d.Site, Day: string(d.Day), Load: d.Team.Load.Name, Figures: answer.Figures, Calls: answer.Calls,
			Plan: answer.Plan, Impossible: answer.Impossible, Printed: time.Now().In(i.Team.Location()), PrintedBy: i.Name,
		}
		var b bytes.Buffer
		if err := s.Write(&b, kind); err != nil {
			return nil, failed(ctx, err)
		}
		return attached("team."+kind, &b), nil
	}
}

func teamMoves(context.Context, *struct{}) (*movesOut, error) {
	out := &movesOut{}
	for _, m := range team.Catalogue {
		out.Body = append(out.Body, moveLine{m.Name, m.Does})
	}
	return out, nil
}

func (c *Config) planTeam(ctx context.Context, in *rawIn) (*drop.TeamAnswer, error) {
	var asked drop.TeamAsked
	if err := strict.Read(in.RawBody, &asked); err != nil {
		return nil, err
	}
	return asked.Answer(ctx)
}
