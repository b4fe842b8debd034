package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/strict"
)

type dayCommand struct {
	File  string `arg:"" help:"Board with its drops and people; - for standard input."`
	Fill  bool   `help:"Propose times, people and items with nothing twice and the fewest changes."`
	Cover bool   `help:"Plan the rescues of drops that share a rescuer too; takes longer."`
	JSON  bool   `name:"json" help:"Print everything as JSON."`
}

// Run judges a board. Exit 0: no stop; 1: a stop, or a drop without a place; 2: bad input.
func (c *dayCommand) Run(ctx context.Context, s streams) error {
	data, err := readInput(c.File, s.in)
	if err != nil {
		return &exit{exitBadInput, err.Error()}
	}
	a := new(day.Asked)
	if err := strict.Read(data, a); err != nil {
		return badInput(c.File, err)
	}
	if c.Fill {
		return c.fill(ctx, s, a)
	}
	r, err := ask.CheckDay(ctx, ask.Env{}, struct{}{}, a)
	if err != nil {
		return badInput(c.File, err)
	}
	if c.Cover {
		cover, err := ask.CoverDay(ctx, ask.NewEnv(), struct{}{}, a)
		if err != nil {
			return badInput(c.File, err)
		}
		r.Findings = append(r.Findings, cover.Findings...)
	}
	if err := c.print(s.out, r, func(w io.Writer) { printBoard(w, r) }); err != nil {
		return err
	}
	if r.Stops > 0 {
		return &exit{code: exitStop}
	}
	return nil
}

func (c *dayCommand) print(w io.Writer, v any, say func(io.Writer)) error {
	if !c.JSON {
		fmt.Fprintln(w, caution)
		say(w)
		return nil
	}
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	return e.Encode(v)
}

func (c *dayCommand) fill(ctx context.Context, s streams, a *day.Asked) error {
	f, err := ask.FillDay(ctx, ask.Env{}, struct{}{}, a)
	if err != nil {
		return badInput(c.File, err)
	}
	err = c.print(s.out, f, func(w io.Writer) {
		for _, ch := range f.Changes {
			fmt.Fprintf(w, "%s: %s\n", ch.Kind, ch.Words)
		}
		for _, u := range f.Unplaced {
			fmt.Fprintf(w, "■ no place for %s; what would help: %s\n", u.Name, u.Help)
		}
		if f.Outcome != "found" {
			fmt.Fprintln(w, "not decided whether fewer changes do")
		}
		printBoard(w, f.Report)
	})
	if err == nil && (len(f.Unplaced) > 0 || f.Report.Stops > 0) {
		return &exit{code: exitStop}
	}
	return err
}

func printBoard(w io.Writer, r *day.Report) {
	for _, l := range r.Lanes {
		hours := "no time yet"
		if l.Span != nil {
			hours = fmt.Sprintf("%s to %s", day.ClockOf(l.Span.From), day.ClockOf(l.Span.To))
		}
		fmt.Fprintf(w, "%s, %s: %d people, %d items\n", l.Name, hours, len(l.Seats), l.Items)
	}
	for _, f := range r.Findings {
		fmt.Fprintf(w, "%s %s: %s\n    %s\n", f.Severity, f.Rule, f.What, f.Remedy)
	}
	for _, u := range r.NotLookedAt {
		fmt.Fprintf(w, "not looked at: %s\n", u)
	}
}
