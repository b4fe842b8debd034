package web

import (
	"context"
	"errors"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// registerMoves declares what finds and judges moves; nothing is kept.
func (c *Config) registerMoves(api huma.API) {
	get(api, "moves", "/moves", "The moves that are planned", moveList)
	post(api, "plan-move", "/moves/plan", "Find a move of a person on a drop", reflect.TypeFor[moveBody](), c.planMove)
	post(api, "replay-moves", "/moves/replay", "Walk a step list by the rules", reflect.TypeFor[replayBody](), c.replayMoves)
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

type moveBody struct {
	Drop    drop.Document    `json:"drop"`
	Person  string           `json:"person,omitempty" maxLength:"64" doc:"left out: the first"`
	Move    string           `json:"move" maxLength:"40"`
	FromM   *quantity.Metres `json:"from_m,omitempty" minimum:"0" maximum:"2000" doc:"left out: where the person is"`
	ToM     *quantity.Metres `json:"to_m,omitempty" minimum:"0" maximum:"2000" doc:"left out: just beyond what is in the way"`
	Schools stance.Schools   `json:"schools,omitzero"`
}

type moveOut struct {
	Body struct {
		Plan *moves.MovePlan `json:"plan,omitempty"`
		// Impossible says why there is none, and Addition what would give one.
		Impossible string   `json:"impossible,omitempty"`
		Addition   []string `json:"addition,omitempty"`
	}
}

func (c *Config) planMove(ctx context.Context, in *rawIn) (*moveOut, error) {
	var body moveBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	g, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &moveOut{}
	out.Body.Plan, err = body.Drop.Plan(body.Person, moves.Ask{Move: body.Move, From: body.FromM, To: body.ToM}, body.Schools, g)
	var none *drop.Impossible
	if errors.As(err, &none) {
		out.Body.Impossible, out.Body.Addition = none.Error(), none.Addition
		return out, nil
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	return out, nil
}

type replayBody struct {
	Drop    drop.Document  `json:"drop"`
	List    drop.StepList  `json:"list"`
	Schools stance.Schools `json:"schools,omitzero"`
}

type replayOut struct {
	Body struct {
		Found []moves.Breach `json:"found" doc:"each step that breaks a rule or cannot be done"`
		// Walked are the steps as far as they can be done, told like a plan's.
		Walked *moves.MovePlan `json:"walked"`
	}
}

func (c *Config) replayMoves(ctx context.Context, in *rawIn) (*replayOut, error) {
	var body replayBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	walked, found, err := body.Drop.Walk(&body.List, body.Schools)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &replayOut{}
	out.Body.Found, out.Body.Walked = append([]moves.Breach{}, found...), walked
	return out, nil
}
