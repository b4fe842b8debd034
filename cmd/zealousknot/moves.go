package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// schools are the ways that a plan follows, as they are stated on the command line.
type schools struct {
	School map[string]string `help:"Answers to where practitioners differ, such as knot-cover=second-device; \"zealousknot schools\" lists them."`
}

func (s schools) read() (school.Schools, error) {
	var out school.Schools
	for name, value := range s.School {
		if err := out.Set(name, value); err != nil {
			return out, &exit{exitBadInput, "--school: " + err.Error()}
		}
	}
	return out, nil
}

type schoolsCommand struct{}

// Run lists where practitioners differ over moves.
func (schoolsCommand) Run(s streams) error {
	for _, q := range school.Catalogue {
		fmt.Fprintf(s.out, "%s: %s\n", q.Name, q.Asks)
		for i, a := range q.Answers {
			shipped := ""
			if i == 0 {
				shipped = " (shipped)"
			}
			fmt.Fprintf(s.out, "    %s%s: %s; %s\n", a.Value, shipped, a.Words, a.For)
		}
	}
	_, err := fmt.Fprintln(s.out, "damage_reason: the written reason for going past damage")
	return err
}

type planCommand struct {
	File   string   `arg:"" help:"Drop document; - for standard input."`
	Move   string   `required:"" help:"Move to plan: ${moves}."`
	Person string   `help:"Whose, by id; left out: the first."`
	Set    int      `help:"Set that the person is on; left out: the first."`
	ToSet  int      `name:"to-set" help:"Set that a transfer leads to; left out: the nearest other one."`
	From   *float64 `help:"Height to begin at, in m; left out: where the person is."`
	To     *float64 `help:"Height to end at, in m; left out: just beyond what is in the way."`
	Rigged bool     `name:"as-rigged" help:"Begin with the holds that the person has on the drop, as they are."`
	bound
	JSON  bool `name:"json" help:"Print the plan, or why there is none, as JSON."`
	Whole bool `help:"Print the drop with the move's step list as JSON, one file for replay."`
	schools
}

// bound is how far a search goes before it is cut off.
type bound struct {
	MaxStates int `name:"max-states" help:"Expand at most so many states; left out: 400 000, for a team 50 000."`
}

// Validate holds the bound to what the API takes.
func (b bound) Validate() error {
	if b.MaxStates < 0 || b.MaxStates > moves.MaxStates {
		return fmt.Errorf("--max-states: %d is not between 1 and %d", b.MaxStates, moves.MaxStates)
	}
	return nil
}

// Run plans a move. Exit 0: a way was found; 1: there is none; 2: bad input; 3: not
// decided.
func (c *planCommand) Run(ctx context.Context, s streams) error {
	d, err := readDrop(c.File, s)
	if err != nil {
		return err
	}
	ways, err := c.read()
	if err != nil {
		return err
	}
	asked := ask.MoveAsked{Drop: *d, Person: c.Person, Move: c.Move, FromM: metres(c.From), ToM: metres(c.To), Set: c.Set, ToSet: c.ToSet, AsRigged: c.Rigged, Schools: ways, MaxStates: c.MaxStates}
	answer, err := asked.Answer(ctx, ask.Env{})
	var refused *strict.Error
	switch {
	case errors.As(err, &refused):
		return &exit{exitBadInput, refused.Error()}
	case err != nil:
		return err
	}
	plan := answer.Plan
	switch {
	case plan == nil:
		return noPlan(s, answer, answer.Outcome, answer.Impossible, c.JSON)
	case c.Whole:
		return json.NewEncoder(s.out).Encode(ask.ReplayAsked{Drop: *d, List: *moves.StepsOf(plan)})
	case c.JSON:
		return json.NewEncoder(s.out).Encode(plan)
	}
	return printPlan(s.out, plan)
}

// noPlan says why there is none, or that it was not decided.
func noPlan(s streams, answer any, outcome search.Outcome, why string, asJSON bool) error {
	code := exitStop
	if outcome == search.Undecided {
		code = exitUndecided
	}
	if !asJSON {
		return &exit{code, why}
	}
	if err := json.NewEncoder(s.out).Encode(answer); err != nil {
		return err
	}
	return &exit{code: code}
}

func metres(f *float64) *quantity.Metres {
	if f == nil {
		return nil
	}
	m := quantity.Metres(*f)
	return &m
}

func printPlan(w io.Writer, p *moves.Plan) error {
	fmt.Fprintf(w, "%s\n\n%s: %s, about %.0f s, %s put on and taken off, longest fall of any one failure %v\n\n",
		caution, p.Person, strings.ReplaceAll(p.Move, "-", " "), p.Seconds, quantity.Count(p.Handled).Of("hold"), p.WorstM)
	if p.Note != "" {
		fmt.Fprintf(w, "%s\n\n", p.Note)
	}
	for _, why := range p.LeftOut {
		fmt.Fprintf(w, "not planned with: %s\n", why)
	}
	for i := range p.Steps {
		st := &p.Steps[i]
		said := ""
		if st.Call != "" {
			said = fmt.Sprintf("“%s”, answer. ", st.Call)
		}
		fmt.Fprintf(w, "%2d  %s%s\n", i+1, said, st.Say)
		if st.Reason != "" {
			fmt.Fprintf(w, "    why: %s\n", st.Reason)
		}
		if st.SettleM > 0 {
			fmt.Fprintf(w, "    settles %v\n", st.SettleM)
		}
		fmt.Fprintf(w, "    now: %s\n", stance.Worst(st.FailOne))
		for _, b := range st.Broken {
			fmt.Fprintf(w, "    %s %s: %s\n", b.Severity, b.Rule, b.Why)
		}
	}
	_, err := fmt.Fprintln(w)
	return err
}

type replayCommand struct {
	File string `arg:"" help:"Drop document, or a drop with its step list in one; - for standard input."`
	List string `arg:"" optional:"" help:"Step list: a plan as JSON, or its start and steps; - for standard input. Left out: it is in FILE."`
	JSON bool   `name:"json" help:"Print what was found as JSON."`
	schools
}

// Run replays a step list. Exit 0: nothing broken; 1: something is; 2: bad input.
func (c *replayCommand) Run(ctx context.Context, s streams) error {
	ways, err := c.read()
	if err != nil {
		return err
	}
	asked, err := c.asked(s)
	if err != nil {
		return err
	}
	asked.Schools = ways.With(asked.Schools)
	answer, err := asked.Answer(ctx, ask.Env{})
	if err != nil {
		return &exit{exitBadInput, err.Error()}
	}
	return tellFound(s.out, answer.Found, len(asked.List.Steps), c.JSON)
}

// asked reads the drop and the list, from one file or from two.
func (c *replayCommand) asked(s streams) (*ask.ReplayAsked, error) {
	asked := new(ask.ReplayAsked)
	if c.List == "" {
		text, err := readInput(c.File, s.in)
		if err == nil {
			err = strict.Read(text, asked)
		}
		if err != nil {
			return nil, badInput(c.File, err)
		}
		return asked, nil
	}
	d, err := readDrop(c.File, s)
	if err != nil {
		return nil, err
	}
	text, err := readInput(c.List, s.in)
	if err != nil {
		return nil, &exit{exitBadInput, err.Error()}
	}
	list, err := moves.ReadSteps(text)
	if err != nil {
		return nil, badInput(c.List, err)
	}
	asked.Drop, asked.List = *d, *list
	return asked, nil
}

func tellFound(w io.Writer, found []moves.Breach, steps int, asJSON bool) error {
	stops := false
	for _, f := range found {
		stops = stops || f.Stops()
	}
	if asJSON {
		if err := json.NewEncoder(w).Encode(append([]moves.Breach{}, found...)); err != nil {
			return err
		}
	} else {
		for _, f := range found {
			for _, b := range f.Broken {
				fmt.Fprintf(w, "step %d  %s  %s: %s\n", f.Step, b.Severity, b.Rule, b.Why)
			}
			if f.Impossible != "" {
				fmt.Fprintf(w, "step %d  cannot be done: %s\n", f.Step, f.Impossible)
			}
		}
		if len(found) == 0 {
			fmt.Fprintf(w, "Nothing found in %d steps, by the rules of moves and stances.\n", steps)
		}
	}
	if stops {
		return &exit{code: exitStop}
	}
	return nil
}

// readDrop reads a drop document.
func readDrop(file string, s streams) (*drop.Document, error) {
	text, err := readInput(file, s.in)
	if err != nil {
		return nil, &exit{exitBadInput, err.Error()}
	}
	d, err := drop.Read(text)
	if err != nil {
		return nil, badInput(file, err)
	}
	return d, nil
}
