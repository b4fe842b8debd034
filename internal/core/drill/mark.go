package drill

import (
	"context"
	"slices"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// Answer is what a learner answers.
type Answer struct {
	Faults []Named         `json:"faults,omitempty" maxItems:"60"`
	Option string          `json:"option,omitempty" pattern:"^[a-f]?$"`
	Steps  *moves.StepList `json:"steps,omitempty" doc:"of a person's move"`
	Team   []team.Action   `json:"team_steps,omitempty" maxItems:"500" doc:"of a team's move"`

	Rescue []pair.Action `json:"rescue_steps,omitempty" maxItems:"200" doc:"of a pick-off"`
}

// Named is a fault that a learner names: what it is, and what it is at.
type Named struct {
	Rule    string  `json:"rule,omitempty" maxLength:"60" doc:"the rule; left out: by what"`
	What    string  `json:"what,omitempty" maxLength:"200" doc:"the fault in the words of the list; left out: by rule"`
	Subject Pointed `json:"subject"`
}

// Pointed is what a learner points at: a finding's subject as it is printed will do, of which the
// kind and the id count.
type Pointed struct {
	Kind   finding.Kind `json:"kind,omitempty" enum:"hold,item,strand,anchor,person,mark,edge,drop,step"`
	ID     string       `json:"id" minLength:"1" maxLength:"80"`
	Label  string       `json:"label,omitempty" maxLength:"200" doc:"this and what follows: as a finding has it; the kind and the id count"`
	Person string       `json:"person,omitempty" maxLength:"80"`
	Hold   string       `json:"hold,omitempty" maxLength:"80"`
	Strand string       `json:"strand,omitempty" maxLength:"80"`
	Item   string       `json:"item,omitempty" maxLength:"80"`
}

// Mark is what an answer is worth.
type Mark struct {
	Score       float64         `json:"score" doc:"0 to 1"`
	Found       []Fault         `json:"found" doc:"of faults"`
	Missed      []Fault         `json:"missed" doc:"of faults"`
	FalseAlarms []Named         `json:"false_alarms" doc:"of faults"`
	Breaches    []stance.Breach `json:"breaches" doc:"of a move: each step that breaks a rule or cannot be done"`
	Holds       int             `json:"holds,omitempty" doc:"of a move: put on and taken off"`
	Seconds     float64         `json:"seconds,omitempty" doc:"of a move"`
	Best        *Best           `json:"best,omitempty" doc:"of a move: what the engine's plan takes"`
	// Right is the option that is right, Lost what the engine says happens.
	Right string       `json:"right,omitempty" doc:"of options: the one that is right"`
	Lost  *stance.Lost `json:"lost,omitempty" doc:"of what would happen: what the engine computes"`
	Done  bool         `json:"done,omitempty" doc:"of a move: it leads to where it ends"`
}

// Marked asks for a mark.
type Marked struct {
	Exercise Exercise `json:"exercise"`
	Answer   Answer   `json:"answer"`
}

// Mark marks an answer by the rules. A *strict.Error says what of the exercise or the answer
// cannot be marked.
func (a *Marked) Mark(ctx context.Context) (*Mark, error) {
	e := &a.Exercise
	if err := e.Validate(); err != nil {
		return nil, under("/exercise", err)
	}
	if err := a.Answer.fits(e); err != nil {
		return nil, err
	}
	m := &Mark{Found: []Fault{}, Missed: []Fault{}, FalseAlarms: []Named{}, Breaches: []stance.Breach{}}
	if e.Kind == Apart {
		return m, m.option(e, a.Answer.Option, e.rightApart)
	}
	s, err := site.Open(e.Drop)
	if err != nil {
		return nil, err
	}
	switch e.Kind {
	case Faults:
		return m, m.faults(ctx, e, s, a.Answer.Faults)
	case Fails:
		return m, m.option(e, a.Answer.Option, func() (right string, err error) {
			right, m.Lost, err = e.rightFails(s)
			return right, err
		})
	}
	if m.Best = e.Question.Best; e.Question.Of == ofRescue {
		return m, m.rescue(ctx, e, s, a.Answer.Rescue)
	}
	return m, m.move(e, s, &a.Answer)
}

// fits refuses what does not belong to an exercise: an answer to another one would be marked as
// if nothing had been said.
func (a *Answer) fits(e *Exercise) error {
	of, given := "faults", ""
	switch {
	case e.Kind == Fails || e.Kind == Apart:
		of = "option"
	case e.Kind == Move && e.Question.Of == ofTeam:
		of = "team_steps"
	case e.Kind == Move && e.Question.Of == ofRescue:
		of = "rescue_steps"
	case e.Kind == Move:
		of = "steps"
	}
	switch {
	case a.Faults != nil && of != "faults":
		given = "faults"
	case a.Option != "" && of != "option":
		given = "option"
	case a.Steps != nil && of != "steps":
		given = "steps"
	case a.Team != nil && of != "team_steps":
		given = "team_steps"
	case a.Rescue != nil && of != "rescue_steps":
		given = "rescue_steps"
	default:
		return nil
	}
	return refused("/answer/"+given, "does not belong to this exercise, which is answered by %s", of)
}

// option marks an answer that is one of several.
func (m *Mark) option(e *Exercise, chosen string, rightOf func() (string, error)) error {
	right, err := rightOf()
	if err != nil {
		return under("/exercise", err)
	}
	if !slices.ContainsFunc(e.Question.Options, func(o Option) bool { return o.ID == chosen }) {
		return refused("/answer/option", "%q is none of the options", chosen)
	}
	if m.Right = right; right == chosen {
		m.Score = 1
	}
	return nil
}

// faults marks what was named: each fault is found once, what is no fault is a false alarm.
func (m *Mark) faults(ctx context.Context, e *Exercise, s *site.Site, named []Named) error {
	all, real, err := e.faultsOf(ctx, s)
	if err != nil {
		return err
	}
	found := make([]bool, len(all))
	for i := range named {
		n := &named[i]
		rules, err := n.rules(e, i)
		if err != nil {
			return err
		}
		hit := false
		for j := range all {
			if f := &all[j]; n.at(e.Drop, &f.Subject) && (slices.Contains(rules, f.Rule) || slices.ContainsFunc(rules, func(r string) bool { return slices.Contains(f.Follows, r) })) {
				hit, found[j] = true, true
			}
		}
		hit = hit || slices.ContainsFunc(real, func(f finding.Finding) bool { return slices.Contains(rules, f.Rule) && n.at(e.Drop, &f.Subject) })
		if !hit {
			m.FalseAlarms = append(m.FalseAlarms, *n)
		}
	}
	for j := range all {
		if found[j] {
			m.Found = append(m.Found, all[j])
		} else {
			m.Missed = append(m.Missed, all[j])
		}
	}
	m.Score = 1
	if of := len(all) + len(m.FalseAlarms); of > 0 {
		m.Score = float64(len(m.Found)) / float64(of)
	}
	return nil
}

// faultsOf are the faults of an exercise, and everything else that the rules really find: who
// names that raises no false alarm.
func (e *Exercise) faultsOf(ctx context.Context, s *site.Site) (all []Fault, real []finding.Finding, err error) {
	q := &e.Question
	var found []stance.Breach
	switch {
	case q.Of == ofTeam:
		r := team.On(s)
		if r == nil {
			return nil, nil, refused("/exercise/drop/team", "missing")
		}
		_, found, _, err = r.Walk(e.TeamAsk(), q.Steps)
		all = firstFault(found)
	case q.List != nil:
		_, found, err = q.List.Walk(s, s.Policy.Schools)
		all = firstFault(found)
	default:
		all, real, err = present(ctx, s)
		return all, slices.DeleteFunc(real, func(f finding.Finding) bool { return f.Severity == finding.Note }), err
	}
	for _, b := range found {
		for _, v := range b.Broken {
			real = append(real, finding.Finding{Rule: v.Rule, Subject: step(b.Step)})
		}
	}
	return all, real, err
}

// rules are those that a learner may mean: the one that is named, or those of the words.
func (n *Named) rules(e *Exercise, i int) (list []string, err error) {
	if n.Rule != "" {
		return []string{n.Rule}, nil
	}
	whats := Whats()
	if e.Question.List != nil || e.Question.Of == ofTeam {
		whats = StepWhats(e.Question.Of == ofTeam)
	}
	for _, w := range whats {
		if w.What == n.What {
			list = append(list, w.Rule)
		}
	}
	if list == nil {
		return nil, refused(strict.Pointer("answer", "faults", i), "names neither a rule nor a fault of the list")
	}
	return list, nil
}

// StepWhats are all that one may point at in a list of steps.
func StepWhats(ofTeam bool) (list []What) {
	rules := stance.Rules
	if ofTeam {
		rules = team.Rules
	}
	for _, r := range rules {
		if r.Gives == finding.Stop && r.ID != goalRule {
			list = append(list, What{What: stepWords(r.ID, ofTeam), Rule: r.ID})
		}
	}
	return list
}

// at reports whether somebody points at a subject: at itself, or at what it is part of.
func (n *Named) at(d *drop.Document, s *finding.Subject) bool {
	id := n.Subject.ID
	if n.Subject.Kind == finding.Step || s.Kind == finding.Step {
		return n.Subject.Kind == s.Kind && id == s.ID
	}
	if id == s.ID || id == s.Item || id == s.Hold || id == s.Strand {
		return true
	}
	return slices.Contains(touching(d, s), id)
}

// touching is what else a subject is seen at: the device, the links and the ropes of a hold; the
// ropes of a strand; the strands of an anchor, and both of a set that hang on one.
func touching(d *drop.Document, s *finding.Subject) (list []string) {
	set := 0
	for i := range d.Strands {
		st := &d.Strands[i]
		if s.Strand == st.ID {
			set = st.Set
		}
		if s.Strand == st.ID || s.ID == st.ID || slices.Contains(st.Ropes, s.ID) {
			list = append(append(list, st.ID), st.Ropes...)
		}
		if s.Kind == finding.Anchor && slices.Contains(st.Anchors, s.ID) {
			list = append(list, st.ID)
		}
	}
	for i := range d.Strands {
		if st := &d.Strands[i]; s.Kind == finding.Anchor && st.Set == set {
			list = append(append(list, st.ID), st.Anchors...)
		}
	}
	for i := range d.People {
		for j := range d.People[i].Holds {
			h := &d.People[i].Holds[j]
			of := s.Kind == finding.Person && d.People[i].ID == s.ID
			if of || h.Device == s.ID || slices.ContainsFunc(h.Links, func(l rig.Link) bool { return l.Item == s.ID }) {
				list = append(list, h.ID, h.Device)
			}
		}
	}
	return list
}

// move marks a list of steps: what was broken alone counts.
func (m *Mark) move(e *Exercise, s *site.Site, a *Answer) error {
	steps, reached := 0, false
	if e.Question.Of == ofTeam {
		r := team.On(s)
		if r == nil {
			return refused("/exercise/drop/team", "missing")
		}
		walked, found, unfinished, err := r.Walk(e.TeamAsk(), a.Team)
		if err != nil {
			return err
		}
		m.Breaches, m.Seconds, m.Holds = append(m.Breaches, found...), walked.Seconds, len(walked.Steps)
		steps, reached = len(walked.Steps), unfinished == ""
	} else {
		if a.Steps == nil {
			return refused("/answer/steps", "missing")
		}
		walked, found, err := e.list(a.Steps.Steps).Walk(s, s.Policy.Schools)
		if err != nil {
			return err
		}
		reached = !slices.ContainsFunc(found, func(b stance.Breach) bool {
			return b.Impossible != "" || slices.ContainsFunc(b.Broken, func(v stance.Violation) bool { return v.Rule == goalRule })
		})
		m.Breaches, m.Seconds, m.Holds, steps = append(m.Breaches, found...), walked.Seconds, walked.Handled, len(walked.Steps)
	}
	m.Done = reached
	m.Score = scored(m.Breaches, reached && steps > 0)
	return nil
}

// perStep is what a step that breaks a rule costs, unfinished what it costs not to get there.
const (
	perStep    = 0.25
	unfinished = 0.5
)

func scored(found []stance.Breach, reached bool) float64 {
	score := 1.0
	for i := range found {
		if found[i].Stops() && !slices.ContainsFunc(found[i].Broken, func(v stance.Violation) bool { return v.Rule == goalRule }) {
			score -= perStep
		}
	}
	if !reached {
		score -= unfinished
	}
	return max(0, score)
}

// modelsOf gives the models that an exercise of telling apart is about.
func (e *Exercise) modelsOf() (list []*gear.Model) {
	for _, id := range e.Question.Asked {
		if m := find(e.Models, func(m *gear.Model) bool { return m.ID == id }); m != nil {
			list = append(list, m)
		}
	}
	return list
}
