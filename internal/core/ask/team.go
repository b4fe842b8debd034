package ask

import (
	"cmp"
	"context"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/progress"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/reeving"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/team"
)

// TeamAsked asks for a move of the team of a drop, or for a list of its actions to be
// walked by the rules; without a move, for the figures of its rig alone.
type TeamAsked struct {
	Drop  drop.Document    `json:"drop"`
	Move  string           `json:"move,omitempty" maxLength:"40" doc:"left out: no move, the figures alone"`
	FromM *quantity.Metres `json:"from_m,omitempty" minimum:"0" maximum:"2000" doc:"where the load hangs; left out: at the edge"`
	ToM   *quantity.Metres `json:"to_m,omitempty" minimum:"0" maximum:"2000" doc:"where it is to come, of lower, raise and wind-up"`
	Ratio int              `json:"ratio,omitempty" enum:"0,1,2,3,5,9" doc:"of a haul; left out: 3"`
	// Steps are walked in place of planning.
	Steps []team.Action `json:"steps,omitempty" maxItems:"500"`
	// MaxStates bounds the search.
	MaxStates int `json:"max_states,omitempty" minimum:"1" maximum:"400000" doc:"states that are expanded at most; left out: 50 000"`
	// Part asks what can be changed at a part of the haul's rope.
	Part *TeamPart `json:"part,omitempty"`
}

// TeamPart is a part of a rope of the haul's reeving.
type TeamPart struct {
	Rope  string `json:"rope" minLength:"1" maxLength:"40"`
	Index int    `json:"index" minimum:"0" maximum:"40" doc:"0: the part at the hand"`
}

// TeamAnswer is what was found.
type TeamAnswer struct {
	Plan *team.Plan `json:"plan,omitempty"`
	// Outcome is of the plan that was asked for.
	Outcome  search.Outcome `json:"outcome,omitempty" enum:"found,none,undecided" doc:"of the move that was requested; undecided: the search was cut off"`
	Expanded int            `json:"expanded,omitempty" doc:"states that were expanded for the move"`
	Bound    int            `json:"bound,omitempty" doc:"how many could have been"`
	// Impossible says why there is none.
	Impossible string          `json:"impossible,omitempty"`
	Found      []stance.Breach `json:"found,omitempty" doc:"of steps that were walked"`
	Unfinished string          `json:"unfinished,omitempty" doc:"why steps that were walked do not end where the move does; left out: they do"`
	Figures    *team.Figures   `json:"figures,omitempty"`
	// Heights are those of the curves, from the landing up.
	Heights check.Values     `json:"heights_m"`
	Curves  []check.Curve    `json:"curves"`
	Changes []reeving.Change `json:"changes,omitempty" doc:"at the part that was asked about"`
	Calls   []rig.TeamCall   `json:"calls" doc:"what is called before which step, in the team's words"`
}

// Answer plans or walks what is requested. A *strict.Error names what cannot be asked.
func (a *TeamAsked) Answer(ctx context.Context, _ Env) (*TeamAnswer, error) {
	s, err := site.Open(&a.Drop)
	if err != nil {
		return nil, err
	}
	r := team.On(s)
	if r == nil {
		return nil, site.Refused("/drop/team", "missing: nothing is rigged for a team on this drop")
	}
	out := &TeamAnswer{Figures: r.Figures(), Calls: callsOf(r)}
	out.Heights, out.Curves = check.TeamCurves(r, s.Policy)
	if a.Part != nil {
		out.Changes = reeving.Changes(r.Reeving(), a.Part.Rope, a.Part.Index)
	}
	switch {
	case a.Move == "" && a.Steps != nil:
		return nil, site.Refused("/move", "missing: steps are walked as those of a move")
	case a.Move == "":
		return out, nil
	}
	of := team.Ask{Move: a.Move, FromM: a.FromM, ToM: a.ToM, Ratio: a.Ratio, MaxStates: a.MaxStates}
	if a.Steps != nil {
		out.Plan, out.Found, out.Unfinished, err = r.Walk(of, a.Steps)
		return out, err
	}
	plan, err := r.For(progress.States(ctx), of)
	out.Plan, out.Outcome = plan, search.OutcomeOf(err)
	if plan != nil {
		out.Expanded, out.Bound = plan.Expanded, cmp.Or(a.MaxStates, team.MaxStates)
	}
	switch {
	case err != nil && out.Outcome != "":
		out.Plan, out.Impossible = nil, a.Move+": "+err.Error()
		return out, ctx.Err()
	case err != nil:
		return nil, err
	}
	return out, nil
}

// callsOf are the calls of every kind of step that has one.
func callsOf(r *team.Rig) []rig.TeamCall {
	list := []rig.TeamCall{}
	for _, a := range manoeuvre.Team.Called() {
		call, answer := r.Call(team.Do(a.Do))
		list = append(list, rig.TeamCall{Do: manoeuvre.CalledDo(a.Do), Call: call, Answer: answer})
	}
	return list
}
