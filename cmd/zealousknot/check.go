package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/strict"
)

type checkCommand struct {
	File    string `arg:"" help:"A drop document, or - for standard input."`
	JSON    bool   `help:"Print the report as JSON."`
	Figures bool   `help:"With --json: the figures of anchors, strands and holds too, each with its working."`
	Curves  bool   `help:"With --json: the figures of the first who hangs at every height too."`
}

func (c *checkCommand) Run(ctx context.Context, s streams) error {
	data, err := readInput(c.File, s.in)
	if err != nil {
		return &exit{exitBadInput, err.Error()}
	}
	d := new(drop.Document)
	if err := strict.Read(data, d); err != nil {
		return badInput(c.File, err)
	}
	report, err := ask.Check(ctx, ask.NewEnv(), ask.CheckOptions{Figures: c.Figures, Curves: c.Curves}, d)
	if err != nil {
		return badInput(c.File, err)
	}
	if c.JSON {
		e := json.NewEncoder(s.out)
		e.SetIndent("", "  ")
		err = e.Encode(report)
	} else {
		_, err = io.WriteString(s.out, text(d, report))
	}
	if err == nil && report.Stops > 0 {
		return &exit{code: exitStop}
	}
	return err
}

// readInput reads a file, or standard input, up to one byte more than the
// reader takes.
func readInput(file string, in io.Reader) ([]byte, error) {
	if file != "-" {
		f, err := os.Open(file)
		if err != nil {
			return nil, err
		}
		defer f.Close()
		in = f
	}
	return io.ReadAll(io.LimitReader(in, strict.MaxBytes+1))
}

func badInput(file string, err error) error {
	var refused *strict.Error
	if !errors.As(err, &refused) {
		return &exit{exitBadInput, err.Error()}
	}
	return &exit{exitBadInput, file + " was refused:\n" + refused.Error()}
}

// shapes go with the words of severity, so that neither stands alone.
var shapes = map[finding.Severity]string{finding.Stop: "■ stop", finding.Look: "◆ look", finding.Note: "● note"}

func text(d *drop.Document, r *check.Report) string {
	var b strings.Builder
	fmt.Fprintf(&b, "%s, checked for %s\n%s\n\n", d.Name, d.Day, caution)
	for _, f := range r.Findings {
		fmt.Fprintf(&b, "%s  %s  %s%s\n  %s\n  why: %s\n  to clear: %s\n  limit from: %s\n", shapes[f.Severity], f.Rule, f.Subject.Label,
			owner(d, f.Subject), f.What, f.Why, f.Remedy, f.Source)
		for _, w := range f.Working {
			fmt.Fprintf(&b, "  working: %s = %s, %s (errs %s)\n", w.Name, w.Text, w.Formula, w.Errs)
		}
		b.WriteByte('\n')
	}
	switch {
	case r.Empty():
		b.WriteString("There is nothing in this drop to look at yet.\n\n")
	case len(r.Findings) == 0:
		b.WriteString("Nothing found in what was looked at.\n\n")
	default:
		fmt.Fprintf(&b, "%s, %s, %s.\n\n", quantity.Count(r.Stops).Of("stop"), quantity.Count(r.Looks).Of("look"), quantity.Count(r.Notes).Of("note"))
	}
	looked, idle := 0, []string{}
	for _, l := range r.LookedAt {
		if l.Things > 0 {
			looked++
		} else {
			idle = append(idle, l.Rule)
		}
	}
	fmt.Fprintf(&b, "Looked at: %d rules.\n", looked)
	if len(idle) > 0 {
		fmt.Fprintf(&b, "Nothing there to look at for: %s.\n", strings.Join(idle, ", "))
	}
	b.WriteString("Not looked at:\n")
	for _, n := range r.NotLookedAt {
		fmt.Fprintf(&b, "  - %s\n", n)
	}
	return b.String()
}

func owner(d *drop.Document, s finding.Subject) string {
	if s.Kind == finding.Person {
		return ""
	}
	for _, p := range d.People {
		if p.ID == s.Person {
			return ", " + p.Name
		}
	}
	return ""
}
