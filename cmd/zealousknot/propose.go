package main

import (
	"context"
	"encoding/json"
	"fmt"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/propose"
	"zealousknot/internal/core/strict"
)

type proposeCommand struct {
	File  string   `arg:"" help:"Drop document; - for standard input."`
	Store string   `help:"Models and items to choose from, as the API gives them; left out: those in the document."`
	Part  []string `help:"What to propose: anchors, strands, people, or people/ID; left out: all."`
	JSON  bool     `name:"json" help:"Print the whole answer, the drop with it, as JSON."`
}

// Run proposes what a drop lacks. Exit 0: nothing is missing; 1: something is; 2: bad
// input; 3: not decided.
func (c *proposeCommand) Run(ctx context.Context, s streams) error {
	data, err := readInput(c.File, s.in)
	if err != nil {
		return &exit{exitBadInput, err.Error()}
	}
	d, err := drop.Read(data)
	if err != nil {
		return badInput(c.File, err)
	}
	var env ask.Env
	if c.Store != "" {
		text, err := readInput(c.Store, s.in)
		if err != nil {
			return &exit{exitBadInput, err.Error()}
		}
		store, err := drop.ReadStore(text, new(drop.Store))
		if err != nil {
			return badInput(c.Store, err)
		}
		env.Stock = func(context.Context, *drop.Document, string) (propose.Stock, error) {
			return propose.Stock{Store: store}, nil
		}
	}
	asked, err := json.Marshal(propose.RigAsked{Drop: *d, Parts: c.Part})
	if err != nil {
		return err
	}
	var a propose.RigAsked
	if err := strict.Read(asked, &a); err != nil {
		return badInput("--part", err)
	}
	answer, err := ask.Propose(ctx, env, ask.StockOptions{}, &a)
	if err != nil {
		return badInput(c.File, err)
	}
	if c.JSON {
		e := json.NewEncoder(s.out)
		e.SetIndent("", "  ")
		if err := e.Encode(answer); err != nil {
			return err
		}
	} else {
		for _, o := range answer.Choices {
			fmt.Fprintf(s.out, "%s: %s, %s\n", o.Path, o.Item, o.Why)
		}
		for _, m := range answer.Missing {
			fmt.Fprintf(s.out, "■ missing, %s: %s To help: %s\n", m.Rule, m.What, m.Smallest)
		}
	}
	switch {
	case answer.Undecided:
		return &exit{code: exitUndecided}
	case len(answer.Missing) > 0:
		return &exit{code: exitStop}
	}
	return nil
}
