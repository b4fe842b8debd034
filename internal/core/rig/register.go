package rig

import (
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
)

// Registered is what the register of a site has of an anchor.
type Registered struct {
	Site       string               `json:"site" maxLength:"80" doc:"the pre-plan's name"`
	Name       string               `json:"name" maxLength:"80" doc:"what the register calls it"`
	StrengthKN quantity.Kilonewtons `json:"strength_kN,omitempty" minimum:"0" maximum:"500" doc:"as proved, of the whole; left out: not known"`
	ExaminedOn gear.Date            `json:"examined_on,omitempty" format:"date"`
	AgainBy    gear.Date            `json:"again_by,omitempty" format:"date"`
}

// Stale says why an anchor is not counted on by its examination; empty where it is in date.
func (r *Registered) Stale(on gear.Date) string {
	switch {
	case r.ExaminedOn == "":
		return "nobody is on record as having examined it"
	case r.ExaminedOn > on:
		return fmt.Sprintf("its examination is dated %s, after today", r.ExaminedOn)
	case r.AgainBy == "":
		return fmt.Sprintf("nobody said until when its examination of %s holds", r.ExaminedOn)
	case on > r.AgainBy:
		return fmt.Sprintf("its examination of %s ran out on %s", r.ExaminedOn, r.AgainBy)
	}
	return ""
}

// strongest is the greatest strength that is stated of a leg; 0 where none is.
func (a *Anchor) strongest() (kN quantity.Kilonewtons) {
	for _, l := range a.Legs {
		kN = max(kN, l.StrengthKN)
	}
	return kN
}

// Overstated gives the strength that a leg of an anchor is said to have where its whole was
// proved to less, and that less; ok is false where neither is known or it was not.
func (a *Anchor) Overstated() (leg, proved quantity.Kilonewtons, ok bool) {
	if a.Register == nil || a.Register.StrengthKN == 0 {
		return 0, 0, false
	}
	leg, proved = a.strongest(), a.Register.StrengthKN
	return leg, proved, leg > proved
}
