package drill

import (
	"context"

	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/team"
)

// move asks for a move, step by step.
func (m *maker) move(ctx context.Context) error {
	s := shape(m.rnd.IntN(int(shapes)))
	switch {
	case m.Move == pickOff, m.Move == "" && m.Drop == nil && m.e.Level > 1 && m.rnd.IntN(6) == 0:
		return m.rescuing(ctx)
	case m.Move == "":
	case team.Find(m.Move) != nil:
		s = lowering
	case moves.Find(m.Move) == nil:
		return m.stop(refused("/move", "no move %q; known are %s, %s, %s", m.Move, moves.Names(), team.Names(), pickOff))
	default:
		s = shape(m.rnd.IntN(int(lowering)))
	}
	p, err := m.planned(ctx, s)
	if err != nil {
		return err
	}
	if p.team != nil {
		m.e.Question = p.teamQuestion()
		m.e.Question.Best = &Best{Holds: len(p.team.Steps), Seconds: p.team.Seconds}
		m.e.Answers = &Answers{Team: actions(p.team)}
		return nil
	}
	list := moves.StepsOf(p.person)
	list.Person = p.id
	m.e.Question = Question{
		Move: p.person.Move, Person: p.id, Stance: &p.person.Start, AtM: p.person.Start.AtM, ToM: p.person.ToM, Schools: p.person.Schools,
		Best: &Best{Holds: p.person.Handled, Seconds: p.person.Seconds},
	}
	m.e.Answers = &Answers{Steps: list}
	return nil
}

// Stepped asks where the steps that were done lead, and what could be done then.
type Stepped struct {
	Exercise Exercise        `json:"exercise"`
	Steps    []stance.Action `json:"steps,omitempty" maxItems:"500"`
	Team     []team.Action   `json:"team_steps,omitempty" maxItems:"500"`

	Rescue []pair.Action `json:"rescue_steps,omitempty" maxItems:"200"`
}

// Standing is where somebody who does a move stands.
type Standing struct {
	// Walked are the steps that were done, told like a plan's.
	Walked *moves.Plan     `json:"walked,omitempty"`
	Team   *team.Plan      `json:"team,omitempty"`
	Found  []stance.Breach `json:"found" doc:"each step that breaks a rule or cannot be done"`
	// Reached: the steps lead to where the move ends.
	Reached    bool          `json:"reached,omitempty"`
	Offers     []moves.Offer `json:"offers,omitempty" doc:"of a person: everything that could be done"`
	TeamOffers []team.Offer  `json:"team_offers,omitempty" doc:"of a team: everything that could be done"`
	// Rescue are the steps of a pick-off that were done.
	Rescue       *pair.Plan   `json:"rescue,omitempty"`
	RescueOffers []pair.Offer `json:"rescue_offers,omitempty" doc:"of a rescuer: everything that could be done"`
}

// Answer walks the steps by the rules. A *strict.Error names what cannot be asked.
func (a *Stepped) Answer(ctx context.Context) (*Standing, error) {
	e := &a.Exercise
	if err := e.Validate(); err != nil {
		return nil, under("/exercise", err)
	}
	if e.Kind != Move {
		return nil, refused("/exercise/kind", "only a move is done step by step")
	}
	s, err := site.Open(e.Drop)
	if err != nil {
		return nil, err
	}
	if e.Question.Of == ofRescue {
		return e.rescueStanding(ctx, s, a.Rescue)
	}
	if e.Question.Of == ofTeam {
		return e.teamStanding(s, a.Team)
	}
	list := e.list(a.Steps)
	out := &Standing{}
	if out.Walked, out.Found, err = list.Walk(s, s.Policy.Schools); err != nil {
		return nil, err
	}
	out.Found = stepsOnly(out.Found)
	sc, _, err := moves.Scene(s, list.Person, s.Policy.Schools.With(list.Schools))
	if err != nil {
		return nil, err
	}
	end, reached, err := list.After(sc)
	if err != nil {
		return nil, err
	}
	out.Reached, out.Offers = reached, moves.Offers(sc, &end)
	return out, nil
}

// list is a step list of the move to do.
func (e *Exercise) list(steps []stance.Action) *moves.StepList {
	q := &e.Question
	return &moves.StepList{Move: q.Move, ToM: q.ToM, Person: q.Person, Start: *q.Stance, Steps: steps, Schools: q.Schools}
}

// stepsOnly leaves out that a list is not done yet.
func stepsOnly(found []stance.Breach) []stance.Breach {
	list := []stance.Breach{}
	for _, b := range found {
		if len(b.Broken) == 1 && b.Broken[0].Rule == goalRule {
			continue
		}
		list = append(list, b)
	}
	return list
}

// goalRule is that of a list that does not lead to where its move ends.
const goalRule = "moves.goal"

// TeamAsk is the move of a team that an exercise is about.
func (e *Exercise) TeamAsk() team.Ask {
	ask := team.Ask{Move: e.Question.Move}
	if e.Question.AtM > 0 {
		ask.FromM = new(e.Question.AtM)
	}
	if e.Question.ToM > 0 {
		ask.ToM = new(e.Question.ToM)
	}
	return ask
}

func (e *Exercise) teamStanding(s *site.Site, steps []team.Action) (*Standing, error) {
	r := team.On(s)
	if r == nil {
		return nil, refused("/exercise/drop/team", "missing: nothing is rigged for a team on this drop")
	}
	out := &Standing{}
	var err error
	if out.Team, out.Found, _, err = r.Walk(e.TeamAsk(), steps); err != nil {
		return nil, err
	}
	end, reached, err := r.After(e.TeamAsk(), steps)
	if err != nil {
		return nil, err
	}
	if out.Found == nil {
		out.Found = []stance.Breach{}
	}
	out.Reached, out.TeamOffers = reached, r.Offers(&end)
	return out, nil
}
