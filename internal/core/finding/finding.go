// Package finding is the one way every rule and figure speaks: a Finding is one
// result of a rule, a Working is how a figure was got.
//
// It knows words, figures and severities. It knows no rule.
package finding

import (
	"cmp"
	"slices"
	"strings"

	"zealousknot/internal/core/quantity"
)

// Severity says what a finding asks of the reader. There is none that says a
// rig is safe.
type Severity string

const (
	// Stop: do not load this until it is mended.
	Stop Severity = "stop"
	// Look: a person must judge this before going on.
	Look Severity = "look"
	// Note: worth knowing; among them what could not be looked at.
	Note Severity = "note"
)

// rank orders severities, worst first.
func (s Severity) rank() int {
	switch s {
	case Stop:
		return 0
	case Look:
		return 1
	default:
		return 2
	}
}

// Worse reports whether s asks for more than t.
func (s Severity) Worse(t Severity) bool { return s.rank() < t.rank() }

// A Figure is a named quantity a finding compares.
type Figure struct {
	Name  string  `json:"name"`
	Value float64 `json:"value" doc:"in unit, not rounded"`
	Unit  string  `json:"unit"`
	Text  string  `json:"text" doc:"as people read it"`
}

// Fig names a quantity.
func Fig(name string, q quantity.Quantity) Figure {
	return Figure{Name: name, Value: q.Value(), Unit: q.Unit(), Text: quantity.Text(q)}
}

// Working is one formula behind a figure, with what went in and came out, and
// which way it errs.
type Working struct {
	Name    string   `json:"name"`
	Formula string   `json:"formula"`
	Inputs  []Figure `json:"inputs"`
	Result  float64  `json:"result"`
	Unit    string   `json:"unit"`
	Text    string   `json:"text"`
	Errs    string   `json:"errs" doc:"which way the figure errs"`
	// Loading is how the strand is loaded of whose force this is; what runs measured of it is
	// shown beside.
	Loading Loading `json:"loading,omitempty" enum:"rest,lowering" doc:"how a strand is loaded whose force this is; left out: no force that runs measure"`
}

// Loading is how a strand is loaded while it is measured. Falls are none of it.
type Loading string

const (
	// AtRest is somebody who hangs still at their place, WhileLowering a team's load that moves.
	AtRest        Loading = "rest"
	WhileLowering Loading = "lowering"
)

// As is the working of a force that runs measure.
func (w Working) As(l Loading) Working {
	w.Loading = l
	return w
}

// Work makes a Working from a result quantity.
func Work(name, formula string, result quantity.Quantity, errs string, inputs ...Figure) Working {
	if inputs == nil {
		inputs = []Figure{}
	}
	return Working{
		Name: name, Formula: formula, Inputs: inputs,
		Result: result.Value(), Unit: result.Unit(), Text: quantity.Text(result), Errs: errs,
	}
}

// Kind says what sort of thing a Subject is.
type Kind string

const (
	Hold   Kind = "hold"
	Item   Kind = "item"
	Strand Kind = "strand"
	Anchor Kind = "anchor"
	Person Kind = "person"
	Mark   Kind = "mark"
	Edge   Kind = "edge"
	Drop   Kind = "drop"
	// Step is one of a list of steps; its id is its number, from 1.
	Step Kind = "step"
)

// A Subject is the thing a finding is about, so that a screen can put the
// finding beside it.
type Subject struct {
	Kind   Kind   `json:"kind" enum:"hold,item,strand,anchor,person,mark,edge,drop,step"`
	ID     string `json:"id"`
	Label  string `json:"label" doc:"the thing in people's words"`
	Person string `json:"person,omitempty" doc:"id of the person whose kit it is"`
	Hold   string `json:"hold,omitempty" doc:"id of the hold it is part of"`
	Strand string `json:"strand,omitempty" doc:"id of the strand it is on"`
	Item   string `json:"item,omitempty" doc:"id of the item to change"`
	Drop   string `json:"drop,omitempty" doc:"of a board: id of the drop"`
	With   string `json:"with,omitempty" doc:"of a board: id of the other drop that it is about"`
}

// A Finding is one result of a rule.
type Finding struct {
	Rule     string    `json:"rule" doc:"stable id of the rule, such as rope.diameter"`
	Severity Severity  `json:"severity" enum:"stop,look,note"`
	Subject  Subject   `json:"subject"`
	What     string    `json:"what" doc:"what is found, with figures"`
	Figures  []Figure  `json:"figures" doc:"the figures compared"`
	Why      string    `json:"why" doc:"why it matters"`
	Remedy   string    `json:"remedy" doc:"what would clear it"`
	Source   string    `json:"source" doc:"where the limit comes from"`
	Working  []Working `json:"working,omitempty"`
}

// Sort puts findings worst first, then by rule and subject, so that the same
// rig always gives the same list.
func Sort(list []Finding) {
	slices.SortStableFunc(list, func(a, b Finding) int {
		return cmp.Or(
			cmp.Compare(a.Severity.rank(), b.Severity.rank()),
			strings.Compare(a.Rule, b.Rule),
			strings.Compare(a.Subject.Person, b.Subject.Person),
			strings.Compare(a.Subject.Hold, b.Subject.Hold),
			strings.Compare(a.Subject.ID, b.Subject.ID),
		)
	})
}

// Count gives the number of findings of a severity.
func Count(list []Finding, s Severity) int {
	n := 0
	for _, f := range list {
		if f.Severity == s {
			n++
		}
	}
	return n
}

// State is a figure that is a word, not a number, such as the position of a
// handle.
func State(name, state string) Figure { return Figure{Name: name, Text: state} }
