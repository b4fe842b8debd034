package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"slices"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/team"
)

type teamCommand struct {
	File  string   `arg:"" help:"Drop document with its team; - for standard input."`
	Move  string   `help:"Move of the team: ${teammoves}. Left out: what the rig asks of the team."`
	From  *float64 `help:"Height at which the load hangs, in m; left out: at the edge."`
	To    *float64 `help:"Height that it is lowered or raised to, in m."`
	Ratio int      `help:"Ratio of a haul: 1, 2, 3, 5 or 9; left out: 3."`
	List  string   `help:"Walk the steps of this plan or list by the rules, in place of planning; - for standard input."`
	bound
	JSON bool `name:"json" help:"Print the whole plan, or what was found, as JSON."`
}

// Validate refuses what would be left out of the answer.
func (c *teamCommand) Validate() error {
	if c.Move == "" {
		for _, f := range []struct {
			name  string
			given bool
		}{{"--list", c.List != ""}, {"--from", c.From != nil}, {"--to", c.To != nil}, {"--ratio", c.Ratio != 0}} {
			if f.given {
				return fmt.Errorf("%s: give --move as well", f.name)
			}
		}
	}
	if !slices.Contains([]int{0, 1, 2, 3, 5, 9}, c.Ratio) {
		return fmt.Errorf("--ratio: %d is not one of 1, 2, 3, 5 and 9", c.Ratio)
	}
	return c.bound.Validate()
}

// Run plans a move of a team, or walks a list. Exit 0: found, or nothing broken; 1:
// there is no way, or something is broken; 2: bad input; 3: not decided.
func (c *teamCommand) Run(ctx context.Context, s streams) error {
	d, err := readDrop(c.File, s)
	if err != nil {
		return err
	}
	asked := ask.TeamAsked{Drop: *d, Move: c.Move, FromM: metres(c.From), ToM: metres(c.To), Ratio: c.Ratio, MaxStates: c.MaxStates}
	if c.List != "" {
		text, err := readInput(c.List, s.in)
		if err == nil {
			asked.Steps, err = team.ReadSteps(text)
		}
		if err != nil {
			return badInput(c.List, err)
		}
	}
	answer, err := asked.Answer(ctx, ask.Env{})
	switch {
	case err != nil:
		return &exit{exitBadInput, err.Error()}
	case answer.Impossible != "":
		answer.Figures, answer.Heights, answer.Curves, answer.Calls = nil, check.Values{}, []check.Curve{}, []rig.TeamCall{}
		return noPlan(s, answer, answer.Outcome, answer.Impossible, c.JSON)
	case c.JSON && c.Move == "":
		return json.NewEncoder(s.out).Encode(answer.Figures)
	case c.JSON && c.List == "":
		return json.NewEncoder(s.out).Encode(answer.Plan)
	case c.Move == "":
		return printFigures(s.out, answer.Figures)
	case c.List != "":
		if answer.Unfinished != "" {
			answer.Found = append(answer.Found, stance.Breach{Step: len(asked.Steps), Impossible: answer.Unfinished})
		}
		return tellFound(s.out, answer.Found, len(asked.Steps), c.JSON)
	}
	return printTeam(s.out, d.Team.Load.Name, answer.Plan)
}

func printTeam(w io.Writer, load string, p *team.Plan) error {
	fmt.Fprintf(w, "%s\n\n%s: %s, about %.0f s, longest drop of any one failure %v\n\n", caution, load, p.Move, p.Seconds, p.WorstM)
	for i := range p.Steps {
		st := &p.Steps[i]
		said := ""
		if st.Call != "" {
			said = fmt.Sprintf("“%s” – “%s”. ", st.Call, st.Answer)
		}
		fmt.Fprintf(w, "%2d  %s%s: %s\n", i+1, said, st.Who, st.Say)
		if len(st.FailOne) > 0 {
			fmt.Fprintf(w, "    now: %s\n", worstOf(st.FailOne))
		}
		for _, h := range st.Hands {
			fmt.Fprintf(w, "    hands off: %s\n", h)
		}
	}
	_, err := fmt.Fprintln(w)
	return err
}

// printFigures tells what a team's rig asks for, without a move.
func printFigures(w io.Writer, f *team.Figures) error {
	fmt.Fprintf(w, "%s\n", caution)
	for _, found := range f.Found {
		fmt.Fprintf(w, "\n%s  %s: %s\n    to clear: %s\n", found.Severity, found.Rule, found.What, found.Remedy)
	}
	for _, b := range f.Brakes {
		fmt.Fprintf(w, "\n%s, %s: %v on it\n", b.Label, b.Line, b.TopKN)
		for _, a := range b.Adds {
			fmt.Fprintf(w, "    %s: %v for the hand\n", a.Words, a.HandKN)
		}
	}
	fmt.Fprintf(w, "\nhaul   all pull  haulers  strokes  rope  jammed\n")
	for _, h := range f.Hauls {
		fmt.Fprintf(w, "%-5s  %v  %d  %d  %v  %v to %v\n", h.System, h.HandKN, h.Needed, h.Strokes, h.RopeM, h.JammedKN, h.JammedAt)
	}
	for _, k := range f.Knots {
		fmt.Fprintf(w, "\nknot of the %s: %v short of its brake with the load at %v; settles %v; the hitch must let out %v and lets out %v\n", k.Line, k.LeftM, k.AtM, k.SettleM, k.NeedsM, k.HasM)
	}
	fmt.Fprintln(w)
	for _, c := range f.Crosses {
		at := ""
		if c.AtM != nil {
			at = fmt.Sprintf("%v: ", *c.AtM)
		}
		fmt.Fprintf(w, "%s%s\n", at, c.Words)
	}
	for _, r := range f.Roles {
		fmt.Fprintf(w, "%s, %s: %s\n", r.Who, r.At, r.Place)
	}
	return nil
}

func worstOf(list []stance.Lost) string {
	l := list[0]
	if !l.Held {
		return fmt.Sprintf("if %s, NOTHING holds", l.Words)
	}
	return fmt.Sprintf("if %s, %s holds after %v, peak %v", l.Words, l.By, l.FreeFallM, l.PeakKN)
}
