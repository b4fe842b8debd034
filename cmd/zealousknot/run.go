package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"time"

	"zealousknot/internal/core/ask"
	events "zealousknot/internal/core/run"
)

type runCommand struct {
	File string `arg:"" help:"Run with its events; - for standard input."`
	JSON bool   `name:"json" help:"Print the whole state as JSON."`
}

// Run prints the state of a run. Exit 0: it was folded; 2: bad input.
func (c *runCommand) Run(ctx context.Context, s streams) error {
	data, err := readInput(c.File, s.in)
	if err != nil {
		return &exit{exitBadInput, err.Error()}
	}
	d, err := events.Read(data)
	if err != nil {
		return badInput(c.File, err)
	}
	state, err := ask.RunState(ctx, ask.Env{}, struct{}{}, d)
	if err != nil {
		return badInput(c.File, err)
	}
	if c.JSON {
		e := json.NewEncoder(s.out)
		e.SetIndent("", "  ")
		return e.Encode(state)
	}
	if d.Exercise {
		fmt.Fprintln(s.out, "EXERCISE")
	}
	fmt.Fprintln(s.out, caution)
	printRun(s.out, state)
	return nil
}

func printRun(w io.Writer, s *events.State) {
	fmt.Fprintf(w, "%s, %d events, sealed %s\n", s.Phase, s.Events, s.Seal[:8])
	if s.Stopped != nil {
		fmt.Fprintf(w, "■ work is stopped since %s by %s: %s\n", clockOf(&s.Stopped.At), s.Stopped.By, s.Stopped.Words)
	}
	for _, p := range s.People {
		fmt.Fprintf(w, "%s: %s at %v, heard %s, moved %s\n", p.Name, p.Doing, p.AtM, clockOf(p.Heard), clockOf(p.Moved))
	}
	for _, m := range s.Moves {
		next := "done"
		if m.Next != nil {
			next = "next: " + m.Next.Say
		}
		fmt.Fprintf(w, "%s: step %d of %d, %.0f s of %.0f planned; %s\n", m.Name, m.Step, m.Of, m.ElapsedS, m.PlannedS, next)
	}
	for _, list := range []struct {
		what  string
		notes []events.Note
	}{{"not as planned", s.Otherwise}, {"quarantined", s.Quarantined}, {"incident", s.Happened}, {"conflict", s.Conflicts}, {"addendum", s.Addenda}} {
		for _, n := range list.notes {
			fmt.Fprintf(w, "%s, %s, %s: %s\n", list.what, clockOf(&n.At), n.By, n.Words)
		}
	}
	for _, c := range s.Counters {
		low := ""
		if c.Low {
			low = "; heights are missing, the metres err low"
		}
		fmt.Fprintf(w, "%s%s: %v down, %v up, %.2f h on the rope%s\n", c.Person, c.Item, c.DownM, c.UpM, c.HoursH, low)
	}
}

// clockOf is the time of day of a moment, by its own zone.
func clockOf(at *string) string {
	if at == nil {
		return "never"
	}
	t, err := time.Parse(time.RFC3339Nano, *at)
	if err != nil {
		return *at
	}
	return t.Format("15:04:05")
}
