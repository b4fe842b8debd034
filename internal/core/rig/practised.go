package rig

import (
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
)

// How is in what way a skill was practised: the three are never mixed up.
type How string

const (
	// OnRun is in earnest, NearGround an exercise on ropes, OnScreen one on a screen.
	OnRun      How = "run"
	NearGround How = "ground"
	OnScreen   How = "screen"
)

// Practised is when somebody last practised a skill in one way.
type Practised struct {
	Skill string    `json:"skill" minLength:"1" maxLength:"40"`
	How   How       `json:"how" enum:"run,ground,screen" doc:"run: in earnest; ground: an exercise on ropes; screen: one on a screen"`
	On    gear.Date `json:"on" format:"date"`
	By    string    `json:"by,omitempty" maxLength:"80" doc:"who signed it off"`
}

// LastPractised is the last day that counts for a skill, or for a kind of it; empty where none
// does. On a screen alone nobody practises a rescue.
func LastPractised(list []Practised, s *manoeuvre.Skill) (on gear.Date) {
	for i := range list {
		if p := &list[i]; s.Counts(p.Skill) && (!s.Rescue || p.How != OnScreen) && p.On > on {
			on = p.On
		}
	}
	return on
}

// LastPickOff is when a rescuer last did a pick-off: by what is recorded of the person, else by
// what the drop says of them.
func (c *Rescuer) LastPickOff(people []Person) gear.Date {
	for i := range people {
		if people[i].ID != c.Person {
			continue
		}
		if on := LastPractised(people[i].Practised, manoeuvre.FindSkill(manoeuvre.SkillOf("pick-off"))); on != "" {
			return on
		}
	}
	return c.PractisedOn
}
