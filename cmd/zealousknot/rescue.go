package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/search"
)

type rescueCommand struct {
	File   string   `arg:"" help:"Drop document that says who comes; - for standard input."`
	Person string   `help:"Id of who needs it; left out: the first."`
	At     *float64 `help:"Height at which they hang, in m; left out: the cover of the whole drop."`
	Way    int      `help:"Number of the way, from 1, whose plan is printed; left out: the best." default:"1"`
	bound
	JSON bool `name:"json" help:"Print all of it as JSON."`
}

// Validate refuses what would be left out of the answer.
func (c *rescueCommand) Validate() error {
	switch {
	case c.Way < 1:
		return fmt.Errorf("--way: %d is not the number of a way, from 1", c.Way)
	case c.At == nil && c.Person != "":
		return errors.New("--person: give --at as well: the cover is of everybody")
	case c.At == nil && c.Way > 1:
		return errors.New("--way: give --at as well: ways are to somebody at a height")
	}
	return c.bound.Validate()
}

// Run tells the cover of a drop, and with a height the ways to somebody there. Exit 0:
// reached; 1: somebody is not; 2: bad input; 3: not decided.
func (c *rescueCommand) Run(ctx context.Context, s streams) error {
	d, err := readDrop(c.File, s)
	if err != nil {
		return err
	}
	asked := ask.RescueAsked{Drop: *d, Person: c.Person, AtM: metres(c.At), Way: c.Way - 1, MaxStates: c.MaxStates}
	answer, err := asked.Answer(ctx, ask.NewEnv())
	if err != nil {
		return &exit{exitBadInput, err.Error()}
	}
	if c.JSON {
		err = json.NewEncoder(s.out).Encode(answer)
	} else {
		err = printRescue(s.out, answer)
	}
	if err != nil {
		return err
	}
	if code := c.reached(answer); code != 0 {
		return &exit{code: code}
	}
	return nil
}

// reached gives the exit code: a metre that nobody reaches weighs more than one that was
// not decided.
func (c *rescueCommand) reached(a *ask.RescueAnswer) int {
	has := func(state string) bool {
		return slices.ContainsFunc(a.Cover.Gaps, func(g cover.Gap) bool { return g.State == state })
	}
	way := func(w cover.Way) bool { return w.Undecided }
	switch {
	case a.Outcome == search.Undecided,
		c.At == nil && has("undecided") && !has("uncovered"),
		c.At != nil && len(a.Ways) > 0 && !a.Ways[0].Works && slices.ContainsFunc(a.Ways, way):
		return exitUndecided
	case c.At == nil && finding.Count(a.Findings, finding.Stop) > 0, c.At != nil && (len(a.Ways) == 0 || !a.Ways[0].Works):
		return exitStop
	}
	return 0
}

func printRescue(w io.Writer, a *ask.RescueAnswer) error {
	fmt.Fprintf(w, "%s\nA casualty hanging still is a medical emergency; medical decisions belong to a medical provider.\n", caution)
	for _, g := range a.Cover.Gaps {
		fmt.Fprintf(w, "\n%s: %s from %v to %v\n", g.State, g.Name, g.FromM, g.ToM)
		for _, b := range g.Blocked {
			fmt.Fprintf(w, "    %s\n", b)
		}
	}
	for i := range a.Ways {
		printWay(w, i+1, &a.Ways[i])
	}
	if a.Plan != nil {
		fmt.Fprintln(w)
		for i := range a.Plan.Steps {
			st := &a.Plan.Steps[i]
			fmt.Fprintf(w, "%2d  %s\n", i+1, st.Say)
			if len(st.FailOne) > 0 {
				fmt.Fprintf(w, "    now: %s\n", worstOf(st.FailOne))
			}
		}
	}
	for _, m := range a.Passes {
		fmt.Fprintf(w, "\non the way down with both: %s, %s, about %.0f s\n", strings.ReplaceAll(m.Move, "-", " "), quantity.Count(len(m.Steps)).Of("step"), m.Seconds)
		for i := range m.Steps {
			fmt.Fprintf(w, "%2d  %s\n", i+1, m.Steps[i].Say)
			if len(m.Steps[i].FailOne) > 0 {
				fmt.Fprintf(w, "    now: %s\n", worstOf(m.Steps[i].FailOne))
			}
		}
	}
	for i := range a.Last {
		fmt.Fprintf(w, "%2d  %s\n", i+1, a.Last[i].Say)
	}
	if a.Impossible != "" {
		fmt.Fprintf(w, "\nno plan: %s\n", a.Impossible)
	}
	if len(a.Cover.Gaps) == 0 {
		fmt.Fprintf(w, "\nEvery metre is reached within %.0f minutes by what is planned.\n", a.LimitMin)
	}
	return nil
}

func printWay(w io.Writer, n int, way *cover.Way) {
	state := "works"
	if !way.Works {
		state = "blocked: " + way.Blocked
	}
	fmt.Fprintf(w, "\n%d  %s, about %.0f min: %s\n", n, way.Words, way.Seconds/60, state)
	for _, p := range way.Phases {
		fmt.Fprintf(w, "    %s, %s: %.0f s (%s)\n", p.Name, p.Who, p.Seconds, p.Source)
	}
	for _, note := range way.Notes {
		fmt.Fprintf(w, "    note: %s\n", note)
	}
}
