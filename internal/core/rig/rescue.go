package rig

import (
	"zealousknot/internal/core/gear"
)

// Rescue is how people on a drop are got down when they cannot help themselves.
type Rescue struct {
	Rescuers []Rescuer `json:"rescuers" minItems:"1" maxItems:"20"`
	// Sets hang ready for a rescue, and nobody works on them.
	Sets []int `json:"sets,omitempty" maxItems:"20" minimum:"1" maximum:"20" doc:"sets that are rigged for rescue beforehand"`
	// On is what a casualty is taken to hang on.
	On          string  `json:"on,omitempty" enum:"descender,chest-ascender,backup" doc:"what a casualty is taken to hang on; left out: the descender"`
	Conscious   bool    `json:"conscious,omitempty" doc:"the casualty can help; left out: they cannot"`
	TheirBackup string  `json:"their_backup,omitempty" enum:"strip,keep" doc:"the casualty's own backup at the pick-off; left out: stripped where the rescuer's is rated for two"`
	AlarmS      float64 `json:"alarm_s,omitempty" minimum:"0" maximum:"7200" doc:"until somebody sees it and the team knows; left out: the policy's"`
	Phones      []Phone `json:"phones,omitempty" maxItems:"12" doc:"whom to call, for the sheet at the top"`
	Landing     string  `json:"landing,omitempty" enum:"ground,deck,water,boat" doc:"what people are brought down onto; left out: ground"`
}

// Rescuer is somebody on the drop who comes.
type Rescuer struct {
	Person string `json:"person" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"id of a person on the drop"`
	From   string `json:"from,omitempty" enum:"top,landing" doc:"where they set out; left out: the top"`
	// WalkS is until they are at the strands with their kit on.
	WalkS float64 `json:"walk_s,omitempty" minimum:"0" maximum:"7200" doc:"until they stand at the strands, kit on; left out: the policy's"`
	// PractisedOn is when they last did a pick-off as a drill.
	PractisedOn gear.Date `json:"practised_on,omitempty" format:"date"`
}

// Phone is whom to call.
type Phone struct {
	Who    string `json:"who" minLength:"1" maxLength:"80"`
	Number string `json:"number,omitempty" maxLength:"40" doc:"left out: a line to fill in"`
}

// RescueView is a rescue with its people.
type RescueView struct {
	*Rescue
	People []*PersonView
}

func (r *resolver) rescue(p *Rescue) {
	if p == nil {
		return
	}
	v := &RescueView{Rescue: p}
	seen := ids{}
	for i, who := range p.Rescuers {
		at := entry("/rescue", "rescuers", i)
		if seen[who.Person] {
			r.p.Addf(at+"/person", "%q is stated twice", who.Person)
		}
		seen[who.Person] = true
		var found *PersonView
		for _, o := range r.rig.People {
			if o.ID == who.Person {
				found = o
			}
		}
		if found == nil {
			r.p.Addf(at+"/person", "there is nobody of this id on the drop")
			continue
		}
		v.People = append(v.People, found)
	}
	for i, set := range p.Sets {
		known := false
		for _, s := range r.rig.Strands {
			known = known || s.Set == set
		}
		if !known {
			r.p.Addf(entry("/rescue", "sets", i), "no strand is of set %d", set)
		}
	}
	r.rig.Rescue = v
}
