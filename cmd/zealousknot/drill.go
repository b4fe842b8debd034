package main

import (
	"context"
	"encoding/json"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
)

type drillCommand struct {
	Make drillMakeCommand `cmd:"" help:"Make an exercise: the same seed makes the same one. Exit 2: bad input."`
	Mark drillMarkCommand `cmd:"" help:"Mark an answer to an exercise. Exit 0: full marks; 1: not; 2: bad input."`
}

type drillMakeCommand struct {
	Kind    string `required:"" enum:"faults,fails,move,apart" help:"What is practised: faults, fails, move or apart."`
	Drop    string `help:"Drop document to make it of; - for standard input; left out: a rig that is made up."`
	Seed    int64  `help:"Which of them, from 0."`
	Level   int    `default:"1" help:"From 1 to 4."`
	Move    string `help:"Of move: which; left out: by the seed."`
	Person  string `help:"Of move and fails: who, by id; left out: by the seed."`
	Answers bool   `help:"Print the answers too."`
}

// Run makes an exercise.
func (c *drillMakeCommand) Run(ctx context.Context, s streams) error {
	if c.Level < 1 || c.Level > 4 {
		return &exit{exitBadInput, "--level: from 1 to 4"}
	}
	if c.Seed < 0 || c.Seed > 1_000_000_000 {
		return &exit{exitBadInput, "--seed: from 0 to 1 000 000 000"}
	}
	a := &drill.Asked{Kind: drill.Kind(c.Kind), Seed: c.Seed, Level: c.Level, Move: c.Move, Person: c.Person, Answers: c.Answers}
	if c.Drop == "" {
		a.Gear = demo.Gear()
	} else {
		data, err := readInput(c.Drop, s.in)
		if err != nil {
			return &exit{exitBadInput, err.Error()}
		}
		if a.Drop, err = drop.Read(data); err != nil {
			return badInput(c.Drop, err)
		}
	}
	e, err := ask.MakeExercise(ctx, ask.Env{}, struct{}{}, a)
	if err != nil {
		return badInput("the exercise", err)
	}
	return printJSON(s, e)
}

type drillMarkCommand struct {
	Exercise string `arg:"" help:"Exercise as \"drill make\" prints it; - for standard input."`
	Answer   string `arg:"" help:"Answer, as the exercise has its own; of a move a step list, as \"replay\" reads it, will do; - for standard input."`
}

// Run marks an answer.
func (c *drillMarkCommand) Run(ctx context.Context, s streams) error {
	if c.Exercise == "-" && c.Answer == "-" {
		return &exit{exitBadInput, "the exercise and the answer cannot both be on standard input"}
	}
	data, err := readInput(c.Exercise, s.in)
	if err != nil {
		return &exit{exitBadInput, err.Error()}
	}
	e, err := drill.Read(data)
	if err != nil {
		return badInput(c.Exercise, err)
	}
	if data, err = readInput(c.Answer, s.in); err != nil {
		return &exit{exitBadInput, err.Error()}
	}
	a, err := readAnswer(e, data)
	if err != nil {
		return badInput(c.Answer, err)
	}
	m, err := ask.MarkExercise(ctx, ask.Env{}, struct{}{}, &drill.Marked{Exercise: *e, Answer: *a})
	if err != nil {
		return badInput(c.Answer, err)
	}
	if err := printJSON(s, m); err != nil {
		return err
	}
	if m.Score < 1 {
		return &exit{code: exitStop}
	}
	return nil
}

// readAnswer reads an answer, as an exercise has its own; of a move a list of steps, or a plan as
// it is printed, will do.
func readAnswer(e *drill.Exercise, data []byte) (a *drill.Answer, err error) {
	a = new(drill.Answer)
	err = strict.Read(data, a)
	if e.Kind != drill.Move || err == nil && (a.Steps != nil || a.Team != nil || a.Rescue != nil) {
		return a, err
	}
	a = new(drill.Answer)
	if e.Question.Of == "rescue" {
		var list struct {
			Steps []pair.Action `json:"steps" maxItems:"200"`
		}
		err = strict.Read(data, &list)
		a.Rescue = list.Steps
		return a, err
	}
	if e.Question.Of == "team" {
		a.Team, err = team.ReadSteps(data)
		return a, err
	}
	a.Steps, err = moves.ReadSteps(data)
	return a, err
}

func printJSON(s streams, v any) error {
	e := json.NewEncoder(s.out)
	e.SetIndent("", "  ")
	return e.Encode(v)
}
