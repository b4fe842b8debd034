package ask

import (
	"context"
	"fmt"
	"slices"

	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/progress"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/team"
)

// RescueAsked asks who is reached from where on a drop, and by which way; with a height
// also for the best way's plan.
type RescueAsked struct {
	Drop   drop.Document    `json:"drop"`
	Person string           `json:"person,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"who needs it; left out: the first"`
	AtM    *quantity.Metres `json:"at_m,omitempty" minimum:"0" maximum:"2000" doc:"where they hang; left out: the cover alone"`
	// Way is the index of the way, in the order in which the ways are answered, whose
	// plan is needed; left out: the best.
	Way int `json:"way,omitempty" minimum:"0" maximum:"60"`
	// Steps are walked in place of planning.
	Steps []pair.Action `json:"steps,omitempty" maxItems:"200"`
	// MaxStates bounds the searches.
	MaxStates int `json:"max_states,omitempty" minimum:"1" maximum:"400000" doc:"states that are expanded at most, in sum; left out: 400 000; of changes, for each"`
	// Changes asks for single changes that would cover more, ranked.
	Changes bool `json:"changes,omitempty"`
	// Apply is the number of a change, from 1, whose drop is needed.
	Apply int `json:"apply,omitempty" minimum:"0" maximum:"60"`
}

// RescueAnswer is what was found.
type RescueAnswer struct {
	Cover *cover.Cover `json:"cover"`
	Ways  []cover.Way  `json:"ways,omitempty" doc:"to the person at the height, the best first"`
	Plan  *pair.Plan   `json:"plan,omitempty" doc:"of the way that was requested, from beside the casualty on"`
	// Passes are the moves of both past what is in the way down.
	Passes []*moves.Plan          `json:"passes,omitempty"`
	Last   []cover.EvacuationStep `json:"last_resort,omitempty" doc:"the steps of an evacuation kit"`
	Team   *team.Plan             `json:"team,omitempty" doc:"where the team does it"`
	// Outcome is of the plan that was asked for.
	Outcome search.Outcome `json:"outcome,omitempty" enum:"found,none,undecided" doc:"of the plan: undecided where the search was cut off"`
	// Expanded and Bound are of all searches that were not known already.
	Expanded int `json:"expanded" doc:"states that were expanded; what was known already counts nothing"`
	Bound    int `json:"bound" doc:"how many could have been"`
	// Impossible says why there is no plan.
	Impossible string            `json:"impossible,omitempty"`
	Found      []stance.Breach   `json:"found,omitempty" doc:"of steps that were walked"`
	Unfinished string            `json:"unfinished,omitempty" doc:"why steps that were walked do not end where a pick-off does; left out: they do"`
	Gear       []GearLine        `json:"gear,omitempty" doc:"what the way wants, and who has it"`
	Changes    []cover.Change    `json:"changes,omitempty" doc:"what covers most first"`
	Drop       *drop.Document    `json:"drop,omitempty" doc:"with the change that was to be applied"`
	Alarm      cover.Wait        `json:"alarm" doc:"until it is noticed and reported"`
	Walks      []cover.Wait      `json:"walks,omitempty" doc:"until each rescuer is at the strands"`
	LimitMin   float64           `json:"limit_min" doc:"how long somebody may hang still, by the policy"`
	Findings   []finding.Finding `json:"findings"`
}

// GearLine is one thing of a way.
type GearLine struct {
	What string `json:"what"`
	Who  string `json:"who"`
}

// Answer works it out. A *strict.Error names what cannot be asked. Changes take from the
// store and from the team's people.
func (a *RescueAsked) Answer(ctx context.Context, env Env) (*RescueAnswer, error) {
	if a.Drop.Rescue == nil {
		return nil, site.Refused("/drop/rescue", "missing: no rescuer is assigned to this drop")
	}
	s, err := site.Open(&a.Drop)
	if err != nil {
		return nil, err
	}
	if err := a.fits(s); err != nil {
		return nil, err
	}
	o := cover.Options{Cache: env.Rescues, MaxStates: a.MaxStates}
	if o.Cache == nil {
		// What is tried one after the other has most in common.
		o.Cache = new(cover.Cache)
	}
	first := ctx
	if a.Changes || a.Apply > 0 {
		first = progress.Part(ctx, 0, 0.1)
	}
	pl, err := cover.Open(first, s, o)
	if err != nil {
		return nil, err
	}
	out := &RescueAnswer{LimitMin: s.Policy.HangLimitMin}
	if out.Cover, err = pl.Cover(); err != nil {
		return nil, err
	}
	out.Expanded, out.Bound = pl.Expanded()
	out.Alarm, out.Walks = pl.Waits()
	out.Findings = pl.Findings(out.Cover)
	if a.AtM != nil {
		if err := a.at(ctx, s, pl, out); err != nil {
			return nil, err
		}
	}
	if a.Changes || a.Apply > 0 {
		list, err := a.changes(progress.Part(ctx, 0.1, 1), env, s, o, out.Cover)
		if err != nil {
			return nil, err
		}
		out.Changes = list
		if a.Apply > len(list) {
			return nil, site.Refused("/apply", "there is no such change")
		}
		if a.Apply > 0 {
			out.Drop = list[a.Apply-1].Drop()
		}
	}
	// Half an answer is none.
	return out, ctx.Err()
}

// fits holds what is requested to the drop: what would be left out of the answer is refused.
func (a *RescueAsked) fits(s *site.Site) error {
	if a.Person != "" && s.Person(a.Person) == nil {
		return site.Refused("/person", "there is nobody of this id on the drop")
	}
	if a.AtM == nil {
		switch {
		case a.Steps != nil:
			return site.Refused("/at_m", "missing: steps are walked to somebody at a height")
		case a.Way > 0:
			return site.Refused("/at_m", "missing: ways are to somebody at a height")
		}
		return nil
	}
	top := s.Rig.Geometry.TopM
	for _, l := range s.Rig.Strands {
		top = max(top, l.TopM())
	}
	if *a.AtM > top {
		return site.Refused("/at_m", fmt.Sprintf("%v is above all of the drop, which ends at %v", *a.AtM, top))
	}
	return nil
}

// changes tries what would cover more.
func (a *RescueAsked) changes(ctx context.Context, env Env, s *site.Site, o cover.Options, now *cover.Cover) ([]cover.Change, error) {
	g, err := env.store(ctx)
	if err != nil {
		return nil, err
	}
	people, err := env.people(ctx)
	if err != nil {
		return nil, err
	}
	return cover.Changes(ctx, s, o, now, g, people, a.Person, a.AtM)
}

// at works out the ways to somebody at a height, and the plan of one.
func (a *RescueAsked) at(ctx context.Context, s *site.Site, pl *cover.Planner, out *RescueAnswer) error {
	out.Ways = pl.Ways(a.Person, *a.AtM)
	if len(out.Ways) == 0 {
		return nil
	}
	if a.Way >= len(out.Ways) {
		return site.Refused("/way", "there is no such way")
	}
	w := &out.Ways[a.Way]
	if a.Steps != nil && (w.Rescuer == "" || w.Kind == "evacuate") {
		return site.Refused("/steps", "this way is no pick-off: its steps are not walked here")
	}
	out.Gear = append(gearOf(&a.Drop, w), liftGear(pl, w, a.Person)...)
	if w.Rescuer == "" {
		return a.byTeam(pl, w, out)
	}
	if w.Kind == "evacuate" {
		out.Last = pl.Evacuation(w, a.Person, *a.AtM)
		return nil
	}
	sc, start, err := pl.Scene(w, a.Person, *a.AtM)
	if a.Steps != nil && err == nil {
		out.Plan, out.Found = sc.Walk(w.Kind, start, a.Steps)
		if end, done := sc.End(start, a.Steps); done && !sc.Done(&end) {
			out.Unfinished = "the list ends before both hang ready to go down: nobody stays on a lift, nothing of the casualty's stays on but a backup that is kept, and the descender is unparked"
		}
		return nil
	}
	if err != nil {
		out.Impossible = err.Error()
		return nil
	}
	if out.Plan, err = pl.Plan(w, a.Person, *a.AtM); err == nil && w.Works {
		out.Passes, err = pl.Passes(w, a.Person, *a.AtM)
		out.Gear = append(out.Gear, takenOver(&a.Drop, a.Person, out.Passes)...)
	}
	if out.Outcome = search.OutcomeOf(err); out.Outcome != "" && err != nil {
		out.Impossible, err = err.Error(), nil
	}
	return err
}

// byTeam is the team's own move: down to the landing, or up to the edge.
func (a *RescueAsked) byTeam(pl *cover.Planner, w *cover.Way, out *RescueAnswer) error {
	var err error
	if out.Team, err = pl.TeamPlan(w, a.Person, *a.AtM); err != nil {
		out.Team, out.Outcome = nil, search.OutcomeOf(err)
		out.Impossible = w.Kind + ": " + err.Error()
	}
	return nil
}

// gearOf is what a way wants, and who has it.
func gearOf(d *drop.Document, w *cover.Way) []GearLine {
	var list []GearLine
	for i := range d.People {
		p := &d.People[i]
		if p.ID != w.Rescuer {
			continue
		}
		for _, h := range p.Holds {
			list = append(list, GearLine{d.Label(h.Device), p.Name})
		}
		for _, id := range p.Carries {
			list = append(list, GearLine{d.Label(id), p.Name})
		}
	}
	if t := d.Team; t != nil && (w.Rescuer == "" || w.Kind == "lowered") {
		for _, id := range append([]string{t.Main.Brake, t.Belay.Brake}, t.Kit...) {
			list = append(list, GearLine{d.Label(id), "at the anchors"})
		}
	}
	return list
}

// takenOver is what both hang on further down and the casualty has.
func takenOver(d *drop.Document, casualty string, passes []*moves.Plan) []GearLine {
	var list []GearLine
	has := map[string]bool{}
	i := slices.IndexFunc(d.People, func(p rig.Person) bool { return p.ID == casualty })
	if i < 0 {
		return nil
	}
	for _, h := range d.People[i].Holds {
		has[h.Device] = true
	}
	for _, id := range d.People[i].Carries {
		has[id] = true
	}
	for _, m := range passes {
		for j := range m.Steps {
			if id := m.Steps[j].Action.Item; has[id] {
				list = append(list, GearLine{d.Label(id) + ", taken over for the way down", d.People[i].Name})
				has[id] = false
			}
		}
	}
	return list
}

// liftGear is what a lift takes, where it is not on the rescuer.
func liftGear(pl *cover.Planner, w *cover.Way, person string) []GearLine {
	var list []GearLine
	for _, g := range pl.LiftGear(w, person) {
		list = append(list, GearLine{g.Label + " for the lift", g.Who})
	}
	return list
}
