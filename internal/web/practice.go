package web

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"reflect"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/report"
	"zealousknot/internal/store"
)

// registerPractice declares exercises that are kept, classes and skills.
func (c *Config) registerPractice(api huma.API) {
	get(api, "skills", "/practice/skills", "What each of the team's people practised last", c.skills)
	get(api, "classes", "/practice/classes", "The team's classes, last changed first", c.classes)
	withBody(api, operation(http.MethodPut, "save-class", "/practice/classes/{id}", "Keep a class, if nobody else has changed it; If-Match \"0\" for a new one"), reflect.TypeFor[drill.Class](), c.saveClass)
	remove := operation(http.MethodDelete, "remove-class", "/practice/classes/{id}", "Remove a class, if nobody else has changed it; its marks stay")
	remove.DefaultStatus = http.StatusNoContent
	huma.Register(api, remove, c.removeClass)
	get(api, "marks", "/practice/marks", "What one answered and what it was worth, the last first, 500 at most; a trainer sees everybody's", c.marks)
	get(api, "mark", "/practice/marks/{id}", "A mark with its exercise and answer", c.mark)
	withBody(api, operation(http.MethodPost, "give-mark", "/practice/marks", "Give an answer to an exercise: it is marked here and kept; full marks are recorded as practised on a screen"), reflect.TypeFor[markBody](), c.giveMark)
	fileOf(api, "exercise-pdf", "/practice/sheet.pdf", "An exercise as a sheet, its answers on a page of their own, as PDF", "application/pdf", reflect.TypeFor[drill.Asked](), c.printExercise)
}

// PersonSkills is what somebody practised last.
type PersonSkills struct {
	Person    string          `json:"person"`
	Name      string          `json:"name"`
	Practised []rig.Practised `json:"practised"`
	Stands    []SkillStands   `json:"stands" doc:"each skill of which something counts"`
}

// SkillStands is how long a skill counts as practised.
type SkillStands struct {
	Skill string    `json:"skill"`
	Until gear.Date `json:"until" doc:"the last day on which it is not stale"`
	Stale bool      `json:"stale,omitempty" doc:"by the team's day"`
	Kind  string    `json:"kind,omitempty" doc:"the kind of it that was practised last; left out: it is recorded itself"`
}

// stands says of each skill that somebody practised, it or a kind of it, until when that counts.
func stands(skills []manoeuvre.Skill, list []rig.Practised, p *policy.Policy, today gear.Date) []SkillStands {
	out := []SkillStands{}
	for i := range skills {
		s := &skills[i]
		on := rig.LastPractised(list, s)
		until := p.PractisedUntil(s, on)
		if until == "" {
			continue
		}
		st := SkillStands{Skill: s.ID, Until: until, Stale: until < today}
		if last := slices.IndexFunc(list, func(o rig.Practised) bool { return o.Skill == s.ID && o.On == on }); last < 0 {
			st.Kind = list[slices.IndexFunc(list, func(o rig.Practised) bool { return s.Counts(o.Skill) && o.On == on })].Skill
		}
		out = append(out, st)
	}
	return out
}

// skillsOf are the skills of a team: those that are kept, with the generations of its winding
// descenders, and what somebody practised besides.
func skillsOf(models []gear.Model, by map[string][]rig.Practised) []manoeuvre.Skill {
	list := slices.DeleteFunc(slices.Clone(manoeuvre.Skills), func(s manoeuvre.Skill) bool { return s.ID == "models" })
	var more []string
	for i := range models {
		if models[i].Class == gear.WindingDev {
			more = append(more, manoeuvre.WindingOf(models[i].Generation))
		}
	}
	for _, done := range by {
		for i := range done {
			more = append(more, done[i].Skill)
		}
	}
	slices.Sort(more)
	for _, id := range slices.Compact(more) {
		s := drill.SkillNamed(id)
		if s == nil || slices.ContainsFunc(list, func(o manoeuvre.Skill) bool { return o.ID == id }) {
			continue
		}
		at := len(list)
		for i := range list {
			if s.Of != "" && (list[i].ID == s.Of || list[i].Of == s.Of) {
				at = i + 1
			}
		}
		list = slices.Insert(list, at, *s)
	}
	return list
}

type skillsOut struct {
	Body struct {
		People []PersonSkills    `json:"people"`
		Skills []manoeuvre.Skill `json:"skills" doc:"those that are kept, each followed by its kinds"`
		// RescueMonths and OtherMonths are the policy's.
		RescueMonths int `json:"rescue_months" doc:"after how long rescues and captures go stale"`
		OtherMonths  int `json:"other_months" doc:"after how long other skills go stale"`
	}
}

func (c *Config) skills(ctx context.Context, _ *struct{}) (*skillsOut, error) {
	team := who(ctx).Team
	people, err := c.Store.People(ctx, team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	by, err := c.Store.Practised(ctx, team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	own, _, err := c.Store.Policy(ctx, team)
	if err != nil {
		return nil, failed(ctx, err)
	}
	store, err := c.Store.Gear(ctx, team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &skillsOut{}
	out.Body.Skills = skillsOf(store.Models, by)
	whole, today := own.With(), gear.Date(time.Now().In(team.Location()).Format(time.DateOnly))
	out.Body.RescueMonths, out.Body.OtherMonths, out.Body.People = whole.PracticeMonths, whole.PracticeOtherMonths, []PersonSkills{}
	for _, p := range people {
		out.Body.People = append(out.Body.People, PersonSkills{p.ID, p.Name, append([]rig.Practised{}, by[p.ID]...), stands(out.Body.Skills, by[p.ID], whole, today)})
	}
	return out, nil
}

type classesOut struct {
	Body struct {
		Classes []store.Class `json:"classes"`
	}
}

func (c *Config) classes(ctx context.Context, _ *struct{}) (*classesOut, error) {
	list, err := c.Store.Classes(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &classesOut{}
	out.Body.Classes = list
	return out, nil
}

type classIn struct {
	ID      uuid.UUID `path:"id" format:"uuid"`
	IfMatch string    `header:"If-Match" doc:"the version that was read"`
	RawBody []byte
}

func (c *Config) saveClass(ctx context.Context, in *classIn) (*versionOut, error) {
	version, err := ifMatch(in.IfMatch)
	if err != nil {
		return nil, err
	}
	class, err := drill.ReadClass(in.RawBody)
	if err != nil {
		return nil, failed(ctx, err)
	}
	saved, err := c.Store.SaveClass(ctx, who(ctx).Team.ID, signer(ctx), in.ID, version, class)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &versionOut{ETag: etag(saved)}
	out.Body.Version = saved
	return out, nil
}

type removeClassIn struct {
	ID      uuid.UUID `path:"id" format:"uuid"`
	IfMatch string    `header:"If-Match" doc:"the version that was read"`
}

func (c *Config) removeClass(ctx context.Context, in *removeClassIn) (*struct{}, error) {
	version, err := ifMatch(in.IfMatch)
	if err != nil {
		return nil, err
	}
	if _, err := c.Store.SaveClass(ctx, who(ctx).Team.ID, signer(ctx), in.ID, version, nil); err != nil {
		return nil, failed(ctx, err)
	}
	return nil, nil
}

type marksIn struct {
	Class string `query:"class" pattern:"^([0-9a-f-]{36})?$" doc:"those of a class alone"`
}

type marksOut struct {
	Body struct {
		Marks []store.MarkLine `json:"marks"`
	}
}

func (c *Config) marks(ctx context.Context, in *marksIn) (*marksOut, error) {
	i := who(ctx)
	var class *uuid.UUID
	if in.Class != "" {
		id, err := uuid.Parse(in.Class)
		if err != nil {
			return nil, NewProblem(http.StatusUnprocessableEntity, "this is no class", strict.Fault{Pointer: "/query/class", Detail: err.Error()})
		}
		class = &id
	}
	list, err := c.Store.Marks(ctx, i.Team.ID, i.Account, is(i, Trainer), class)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &marksOut{}
	out.Body.Marks = list
	return out, nil
}

type markIn struct {
	ID uuid.UUID `path:"id" format:"uuid"`
}

type markOut struct{ Body *store.WholeMark }

func (c *Config) mark(ctx context.Context, in *markIn) (*markOut, error) {
	i := who(ctx)
	m, err := c.Store.Mark(ctx, i.Team.ID, i.Account, is(i, Trainer), in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &markOut{m}, nil
}

type markBody struct {
	ID       string         `json:"id" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$" doc:"made by the device; a mark with the same id is kept once"`
	Exercise drill.Exercise `json:"exercise"`
	Answer   drill.Answer   `json:"answer"`
	Class    string         `json:"class,omitempty" pattern:"^([0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12})?$" doc:"the class that it is of"`
	Listed   *int32         `json:"listed,omitempty" minimum:"0" maximum:"59" doc:"which of the class's exercises, from 0"`
}

type givenMarkOut struct {
	Body struct {
		Mark *drill.Mark `json:"mark"`
	}
}

// giveMark marks an answer by the rules, whatever the device thinks of it. What an exercise
// practises is read from what it asks, not from what it says.
func (c *Config) giveMark(ctx context.Context, in *rawIn) (*givenMarkOut, error) {
	var body markBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	body.Exercise.Answers = nil
	m, err := (&drill.Marked{Exercise: body.Exercise, Answer: body.Answer}).Mark(ctx)
	if err != nil {
		return nil, failed(ctx, err)
	}
	given := &store.Marked{ID: uuid.MustParse(body.ID), Listed: body.Listed, Skill: body.Exercise.Practises(), Mark: m}
	if body.Class != "" {
		id := uuid.MustParse(body.Class)
		given.Class = &id
	}
	if given.Exercise, err = json.Marshal(body.Exercise); err == nil {
		given.Answer, err = json.Marshal(body.Answer)
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	i := who(ctx)
	err = c.Store.GiveMark(ctx, i.Team, signer(ctx), given)
	if errors.Is(err, store.ErrMarkTaken) {
		return nil, NewProblem(http.StatusConflict, err.Error())
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &givenMarkOut{}
	out.Body.Mark = m
	return out, nil
}

// printExercise makes an exercise with its answers, and prints both.
func (c *Config) printExercise(ctx context.Context, in *rawIn) (*fileOut, error) {
	a := new(drill.Asked)
	if err := strict.Read(in.RawBody, a); err != nil {
		return nil, failed(ctx, err)
	}
	a.Answers = true
	e, err := ask.MakeExercise(ctx, c.env(ctx), struct{}{}, a)
	if err != nil {
		return nil, failed(ctx, err)
	}
	sheet, err := report.ExerciseSheet(e)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return c.printed(ctx, "exercise", sheet)
}
