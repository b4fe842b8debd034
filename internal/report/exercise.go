package report

import (
	"context"
	"fmt"
	"strings"

	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/team"
)

var exerciseTitles = map[drill.Kind]string{drill.Faults: "Find the fault", drill.Fails: "What would happen?", drill.Move: "Do it", drill.Apart: "Tell them apart"}

// ExerciseSheet is an exercise on paper, its answers on a page of their own. The exercise has
// its answers.
func ExerciseSheet(e *drill.Exercise) (*List, error) {
	l := &List{Title: "EXERCISE: " + exerciseTitles[e.Kind], About: []string{fmt.Sprintf("Number %d, level %d. Practise on ropes near the ground, with somebody who knows it.", e.Seed, e.Level)}}
	if e.Drop != nil {
		r, err := e.Drop.Rig()
		if err != nil {
			return nil, err
		}
		l.Parts = append(l.Parts, rigged(e.Drop, r)...)
	}
	asked, err := askedOf(e)
	if err != nil {
		return nil, err
	}
	l.Parts = append(l.Parts, asked...)
	answers, err := answersOf(e)
	if err != nil {
		return nil, err
	}
	answers.OnNewPage = true
	l.Parts = append(l.Parts, *answers)
	return l, nil
}

// rigged describes a rig in tables.
func rigged(d *drop.Document, r *rig.Rig) []ListPart {
	strands := ListPart{Heading: fmt.Sprintf("%s: %v from the %s down to the %s", d.Name, d.Geometry.TopM, d.Geometry.TopName, d.Geometry.LandingName), Widths: []float64{16, 26, 16, 42}, Head: []string{"strand", "rope", "end", "anchors and what is on it, from the top"}}
	for _, s := range r.Strands {
		var ropes, on []string
		for _, p := range s.Ropes {
			ropes = append(ropes, fmt.Sprintf("%s, %v, %v", p.Item.Label, p.Item.LengthM, p.Item.MeasuredMM))
		}
		for _, a := range s.Anchors {
			var legs []string
			for _, g := range a.Legs {
				legs = append(legs, g.ID)
			}
			on = append(on, fmt.Sprintf("%s (%s)", a.Name, strings.Join(legs, ", ")))
		}
		for i := range s.Marks {
			m := &s.Marks[i]
			on = append(on, fmt.Sprintf("%s %s at %v", m.Name, m.Kind, m.HeightM))
		}
		strands.Rows = append(strands.Rows, []string{s.Name, strings.Join(ropes, "; "), string(s.EndStop), strings.Join(on, "; ")})
	}
	for _, e := range d.Geometry.Edges {
		sharp := ""
		if e.Sharp {
			sharp = ", sharp"
		}
		strands.Rows = append(strands.Rows, []string{e.Name, fmt.Sprintf("edge at %v%s", e.HeightM, sharp), "", "protection: " + e.Protection})
	}
	parts := []ListPart{strands}
	for _, p := range r.People {
		if len(p.Holds) > 0 {
			parts = append(parts, hanging(p))
		}
	}
	return append(parts, inUse(r))
}

// inUse is what the tags and records say of what is in use.
func inUse(r *rig.Rig) ListPart {
	part := ListPart{Heading: "Gear, on " + string(r.Day), Widths: []float64{26, 22, 22, 30}, Head: []string{"item", "state", "examined", "since then, and checks of the day"}}
	seen := map[string]bool{}
	add := func(p *rig.Piece, checked bool) {
		if seen[p.Item.ID] {
			return
		}
		seen[p.Item.ID] = true
		var said []string
		for _, e := range p.Item.Events {
			said = append(said, fmt.Sprintf("%s on %s", e.Words(), e.On))
		}
		if checked {
			said = append(said, "function checked")
		}
		part.Rows = append(part.Rows, []string{p.Item.Label, string(p.Item.State), string(p.Item.ExaminedOn), strings.Join(said, "; ")})
	}
	for _, h := range r.EveryHold() {
		state, _ := procedure.OfHold(r, h)
		add(h.Device, state == procedure.Passed)
		for _, l := range h.Links {
			add(l.Piece, false)
		}
	}
	for _, s := range r.Strands {
		for _, rope := range s.Ropes {
			add(rope.Piece, false)
		}
	}
	return part
}

// hanging describes how somebody hangs.
func hanging(p *rig.PersonView) ListPart {
	part := ListPart{Heading: fmt.Sprintf("%s, %v, hangs at %v", p.Name, p.MassKg, p.AtM), Widths: []float64{22, 20, 28, 30}, Head: []string{"device, strand", "mode, position", "how it is on", "links"}}
	for _, h := range p.Holds {
		how := fmt.Sprintf("%v above the %s point, rope %s", h.AboveM, h.Point, h.Threaded)
		if h.Open {
			how += ", a plate is open"
		}
		if h.Leaves != nil {
			how += fmt.Sprintf(", the strand leaves on the %s seen from the %s", h.Leaves.Side, h.Leaves.SeenFrom)
		}
		if h.SecondKg > 0 {
			how += fmt.Sprintf(", for a second person of %v", h.SecondKg)
			if h.ExtraFriction {
				how += ", the bend is in"
			}
		}
		var links []string
		for _, l := range h.Links {
			words := l.Item.Label
			if l.Model.Connector != nil {
				gate, lie := l.Link.Gate, l.Link.Lie
				if gate == "" {
					gate = rig.GateLocked
				}
				words += " (" + string(gate)
				if lie != "" && lie != rig.LieAlong {
					words += ", loaded " + string(lie)
				}
				words += ")"
			}
			links = append(links, words)
		}
		part.Rows = append(part.Rows, []string{h.Device.Item.Label + ", " + h.Strand.Name, h.Mode.Name + ", " + h.Position.Name, how, strings.Join(links, ", ")})
	}
	return part
}

// askedOf is what is asked, in tables.
func askedOf(e *drill.Exercise) ([]ListPart, error) {
	q := &e.Question
	options := func(heading string) []ListPart {
		p := ListPart{Heading: heading, Widths: []float64{10, 90}, Head: []string{"", "answer"}}
		for i := range q.Options {
			p.Rows = append(p.Rows, []string{q.Options[i].ID, q.Options[i].Say()})
		}
		return []ListPart{p}
	}
	switch e.Kind {
	case drill.Fails:
		return options("This fails: " + q.Words + ". What then?"), nil
	case drill.Apart:
		return options(q.Asks), nil
	case drill.Move:
		return []ListPart{{Heading: "Write the steps", Widths: []float64{10, 90}, Head: []string{"", fmt.Sprintf("%s, from %v", q.Move, q.AtM)}, Rows: blank(14)}}, nil
	}
	if q.List == nil && q.Of == "" {
		return []ListPart{{Heading: "What is wrong, and where?", Widths: []float64{35, 65}, Head: []string{"where", "what"}, Rows: blank(5)}}, nil
	}
	steps, err := stepsOf(e)
	return []ListPart{{Heading: "Which step is wrong, if any, and what is wrong with it?", Widths: []float64{8, 92}, Head: []string{"", "step"}, Rows: steps}}, err
}

func blank(n int) (rows [][]string) {
	for range n {
		rows = append(rows, []string{" ", " "})
	}
	return rows
}

// stepsOf are the steps of an exercise that is a list of them.
func stepsOf(e *drill.Exercise) (rows [][]string, err error) {
	s, err := site.Open(e.Drop)
	if err != nil {
		return nil, err
	}
	if e.Question.Of != "" {
		walked, _, _, err := team.On(s).Walk(e.TeamAsk(), e.Question.Steps)
		return teamRows(walked), err
	}
	walked, _, err := e.Question.List.Walk(s, s.Policy.Schools)
	return personRows(walked), err
}

func personRows(p *moves.Plan) (rows [][]string) {
	if p == nil {
		return nil
	}
	for i := range p.Steps {
		say := p.Steps[i].Say
		if p.Steps[i].Action.Unlocked {
			say += " Its connector stays as it is."
		}
		if p.Steps[i].Action.Unproved {
			say += " On with the next."
		}
		rows = append(rows, []string{fmt.Sprint(i + 1), say})
	}
	return rows
}

func teamRows(p *team.Plan) (rows [][]string) {
	if p == nil {
		return nil
	}
	for i := range p.Steps {
		s := &p.Steps[i]
		say := s.Say
		if s.Call != "" && !s.Action.Silent {
			say = fmt.Sprintf("“%s”, “%s”. %s", s.Call, s.Answer, say)
		}
		rows = append(rows, []string{fmt.Sprint(i + 1), say})
	}
	return rows
}

func rescueRows(e *drill.Exercise) (rows [][]string, err error) {
	st, err := (&drill.Stepped{Exercise: *e, Rescue: e.Answers.Rescue}).Answer(context.Background())
	if err != nil {
		return nil, err
	}
	for i := range st.Rescue.Steps {
		rows = append(rows, []string{fmt.Sprint(i + 1), st.Rescue.Steps[i].Say})
	}
	return rows, nil
}

// answersOf is the engine's answer.
func answersOf(e *drill.Exercise) (*ListPart, error) {
	p := &ListPart{Heading: "Answers", Widths: []float64{30, 70}, Head: []string{"where", "what"}, Empty: "Nothing is wrong."}
	switch e.Kind {
	case drill.Faults:
		for _, f := range e.Answers.Faults {
			p.Rows = append(p.Rows, []string{f.Subject.Label, f.Planted})
		}
		return p, nil
	case drill.Move:
		p.Widths, p.Head = []float64{8, 92}, []string{"", "one way; any other that breaks no rule is as good"}
		s, err := site.Open(e.Drop)
		if err != nil {
			return nil, err
		}
		if e.Question.Of == "rescue" {
			p.Rows, err = rescueRows(e)
			return p, err
		}
		if e.Question.Of != "" {
			walked, _, _, err := team.On(s).Walk(e.TeamAsk(), e.Answers.Team)
			p.Rows = teamRows(walked)
			return p, err
		}
		walked, _, err := e.Answers.Steps.Walk(s, s.Policy.Schools)
		p.Rows = personRows(walked)
		return p, err
	}
	p.Head[0] = "letter"
	for i := range e.Question.Options {
		if o := &e.Question.Options[i]; o.ID == e.Answers.Option {
			p.Rows = append(p.Rows, []string{o.ID, o.Say()})
		}
	}
	return p, nil
}
