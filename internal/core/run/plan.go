package run

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// Reach is how somebody is reached at a height, as it was planned before the run: kept with
// it, so that it is there without any computation and without a connection.
type Reach struct {
	Person string          `json:"person" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	AtM    quantity.Metres `json:"at_m" minimum:"0" maximum:"2000"`
	State  string          `json:"state" enum:"covered,slow,last-resort,undecided,uncovered"`
	Words  string          `json:"words,omitempty" maxLength:"200"`
	// Seconds are from the alarm to the landing, as planned: they err low. ToldS is what a run
	// shows: with the policy's factor.
	Seconds float64 `json:"seconds_s,omitempty" minimum:"0" maximum:"86400"`
	ToldS   float64 `json:"told_s,omitempty" minimum:"0" maximum:"864000" doc:"planned, times the policy's factor"`
}

// Of makes the run of a drop that is released: its people with what they hang on, the team's
// way down where there is one, and who is reached from where. Its error is a *strict.Error of
// the document, or the context's.
func Of(ctx context.Context, id, sum string, d *drop.Document, known *cover.Cache, exercise bool) (*Document, error) {
	s, err := site.Open(d)
	if err != nil {
		return nil, err
	}
	out := &Document{Format: Format, Version: Version, Drop: id, Plan: sum, Site: d.Site, Exercise: exercise, People: []Person{}, Events: []Event{}, HangLimitS: s.Policy.HangLimitMin * 60}
	for _, p := range s.Rig.People {
		q := Person{ID: p.ID, Name: p.Name, AtM: p.AtM}
		for _, h := range p.Holds {
			q.Devices = append(q.Devices, h.Device.Item.ID)
		}
		if slices.Sort(q.Devices); len(q.Devices) > 20 {
			q.Devices = q.Devices[:20]
		}
		out.People = append(out.People, q)
	}
	out.predict(s)
	out.lies(s)
	for _, id := range slices.Sorted(maps.Keys(d.Used())) {
		if id != "" && len(out.Items) < 500 {
			out.Items = append(out.Items, id)
		}
	}
	if err := out.lower(ctx, s); err != nil {
		return nil, err
	}
	return out, out.reach(ctx, s, known)
}

// predict gives for each strand that somebody hangs on what it bears at rest: their weight,
// with as much doubt as the policy has of a mass. The doubt is even, so that 90 % of it is the
// band. Movement adds to it and edges take from it: a reading outside is for somebody to judge.
func (d *Document) predict(s *site.Site) {
	d.ShockKN, d.GustLimitMS, d.GustLimitOf = s.Policy.Day.ShockKN, s.Policy.Day.GustMS, "the policy's limit for gusts"
	if limit, whose := day.WindLimit(s); limit != nil && *limit < d.GustLimitMS {
		d.GustLimitMS, d.GustLimitOf = *limit, "the wind at which slack above "+whose+" passes its limit"
	}
	for _, h := range s.Rig.EveryHold() {
		channel := h.Strand.ID + ".force"
		if h.Role() == rig.ToBackUp || slices.ContainsFunc(d.Bands, func(b Band) bool { return b.Channel == channel }) {
			continue
		}
		doubt := quantity.Kilograms(0.9) * s.Policy.Unsure.MassKg
		b := Band{Channel: channel, Name: h.Strand.Name + ", " + h.Person.Name, Person: h.Person.ID, LowKN: quantity.Weight(max(0, h.Mass()-doubt)), HighKN: quantity.Weight(h.Mass() + doubt), CeilingKN: s.Policy.ArrestCeilingKN}
		b.Items = append(b.Items, h.Device.Item.ID)
		for _, l := range h.Links {
			b.Items = append(b.Items, l.Item.ID)
		}
		for _, r := range h.Strand.Ropes {
			b.Items = append(b.Items, r.Item.ID)
		}
		d.Bands = append(d.Bands, b)
	}
}

// lower adds the team's lower to the landing, where the rig allows it.
func (d *Document) lower(ctx context.Context, s *site.Site) error {
	if s.Rig.Team == nil || s.Rig.Team.Body == nil {
		return nil
	}
	landing := quantity.Metres(0)
	var why error
	for _, move := range []string{"lower", "lower-past-knot"} {
		plan, err := team.On(s).For(ctx, team.Ask{Move: move, ToM: &landing})
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if err != nil || plan == nil || len(plan.Steps) == 0 {
			if err != nil {
				why = err
			}
			continue
		}
		m := Move{ID: move, Name: strings.ReplaceAll(move, "-", " "), Of: "team"}
		for _, st := range plan.Steps {
			m.Steps = append(m.Steps, Step{Do: string(st.Action.Do), Say: st.Say, Call: st.Call, Answer: st.Answer, Seconds: st.Seconds})
		}
		d.Moves = append(d.Moves, m)
		return nil
	}
	d.unplanned("the team's lower to the landing", why)
	return nil
}

// unplanned notes what could not be planned.
func (d *Document) unplanned(what string, why error) {
	if why != nil {
		what += ": " + why.Error()
	}
	d.Unplanned = append(d.Unplanned, string([]rune(what)[:min(400, len([]rune(what)))]))
}

// reach keeps who is reached from where.
func (d *Document) reach(ctx context.Context, s *site.Site, known *cover.Cache) error {
	if s.Rig.Rescue == nil {
		return nil
	}
	pl, err := cover.Open(ctx, s, cover.Options{Cache: known})
	var refused *strict.Error
	if errors.As(err, &refused) {
		d.unplanned("the rescue", refused)
		return nil
	}
	if err != nil {
		return err
	}
	cover, err := pl.Cover()
	if err != nil {
		return err
	}
	for _, p := range cover.People {
		for i, c := range p.States {
			d.Cover = append(d.Cover, Reach{Person: p.Person, AtM: cover.Heights[i], State: c.State, Words: c.Kind, Seconds: c.Seconds, ToldS: c.Seconds * float64(s.Policy.Day.RescueFactor)})
		}
		d.rescue(pl, s.Person(p.Person), cover.Heights)
	}
	return ctx.Err()
}

// rescue adds the steps of the rescue of somebody by somebody who comes to them: from where they
// are planned to be, or from half way for who begins on the ground. At another height the same
// is done with other figures.
func (d *Document) rescue(pl *cover.Planner, p *rig.PersonView, heights []quantity.Metres) {
	if p == nil || len(heights) == 0 || len(d.Moves) >= mostMoves {
		return
	}
	at := p.AtM
	if p.Grounded {
		at = heights[len(heights)/2]
	}
	var why error
	for _, w := range pl.Ways(p.ID, at) {
		if !w.Works || w.Last || w.Rescuer == "" {
			continue
		}
		plan, err := pl.Plan(&w, p.ID, at)
		if err != nil || len(plan.Steps) == 0 {
			why = cmp.Or(err, why)
			continue
		}
		name := []rune(fmt.Sprintf("Rescue of %s from %v by %s", p.Name, at, w.Name))
		m := Move{ID: rescueOf(p.ID), Name: string(name[:min(len(name), 80)]), Of: OfRescue}
		for _, st := range plan.Steps {
			say := []rune(st.Say)
			m.Steps = append(m.Steps, Step{Do: string(st.Action.Do), Say: string(say[:min(len(say), 400)]), Call: st.Call, Seconds: st.Seconds})
		}
		passes, err := pl.Passes(&w, p.ID, at)
		if err != nil {
			why = err
			continue
		}
		for _, pass := range passes {
			for _, st := range pass.Steps {
				say := []rune("With both: " + st.Say)
				m.Steps = append(m.Steps, Step{Do: string(st.Action.Do), Say: string(say[:min(len(say), 400)]), Call: st.Call, Seconds: st.Seconds})
			}
		}
		if len(m.Steps) > mostSteps {
			why = fmt.Errorf("it has more than %d steps", mostSteps)
			continue
		}
		d.Moves = append(d.Moves, m)
		return
	}
	if why != nil && len(d.Unplanned) < 10 {
		d.unplanned("the steps of the rescue of "+p.Name, why)
	}
}

// mostMoves is how many moves a run has room for, mostSteps how many steps each.
const (
	mostMoves = 50
	mostSteps = 500
)

// OfRescue is a move that brings somebody down who cannot help themselves.
const OfRescue = "rescue"

// rescueOf is the id of the rescue of somebody.
func rescueOf(person string) string {
	id := "rescue-" + person
	return id[:min(len(id), 64)]
}
