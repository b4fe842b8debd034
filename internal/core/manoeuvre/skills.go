package manoeuvre

import (
	"slices"
	"strings"
)

// Skill is something that is forgotten between two trainings.
type Skill struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	// Rescue skills go stale sooner, and are never practised on a screen alone.
	Rescue bool `json:"rescue,omitempty"`
	// Screen: there is nothing of it but on a screen.
	Screen bool `json:"screen,omitempty"`
	// Of is the skill that this one is a kind of: who practised the kind practised that one too,
	// and never the other way round.
	Of string `json:"of,omitempty" doc:"the skill that this one is a kind of"`
}

// Skills are all that are kept, in the order in which they are shown.
var Skills = []Skill{
	{ID: "changeover", Title: "changeovers"},
	{ID: "knot-pass", Title: "knot pass"},
	{ID: "re-belay", Title: "re-belay"},
	{ID: "deviation", Title: "deviation"},
	{ID: "transfer", Title: "rope-to-rope transfer"},
	{ID: "aid", Title: "aid"},
	{ID: "edge", Title: "over the edge"},
	{ID: "damage", Title: "damage tied out"},
	{ID: "work", Title: "work position"},
	{ID: pickOff, Title: "pick-off", Rescue: true},
	{ID: "pick-off-own-strands", Title: "pick-off, down their own strands", Rescue: true, Of: pickOff},
	{ID: "pick-off-second-set", Title: "pick-off, from a second set", Rescue: true, Of: pickOff},
	{ID: "pick-off-set-beforehand", Title: "pick-off, from a set rigged beforehand", Rescue: true, Of: pickOff},
	{ID: "pick-off-from-below", Title: "pick-off, from below", Rescue: true, Of: pickOff},
	{ID: "pick-off-lowered", Title: "pick-off, lowered by the team", Rescue: true, Of: pickOff},
	{ID: "lower", Title: "team lower"},
	{ID: "knot-lower", Title: "knot in a lower"},
	{ID: "haul", Title: "haul and change", Rescue: true},
	{ID: "capture", Title: "release a capture", Rescue: true},
	{ID: winding, Title: "winding descender", Rescue: true},
	{ID: functionCheck, Title: "function checks"},
	{ID: "function-check-descender", Title: "function check, descender", Of: functionCheck},
	{ID: "function-check-backup-device", Title: "function check, backup device", Of: functionCheck},
	{ID: "function-check-ascender", Title: "function check, ascender", Of: functionCheck},
	{ID: "function-check-anchor-brake", Title: "function check, anchor brake", Of: functionCheck},
	{ID: "function-check-rope-grab", Title: "function check, rope grab", Of: functionCheck},
	{ID: "function-check-capture-pulley", Title: "function check, capture pulley", Of: functionCheck},
	{ID: "function-check-winding-descender", Title: "function check, winding descender", Of: functionCheck},
	{ID: "function-check-evacuation-kit", Title: "function check, evacuation kit", Of: functionCheck},
	{ID: "fault-finding", Title: "find the fault", Screen: true},
	{ID: "failures", Title: "what would happen", Screen: true},
	{ID: "models", Title: "how models differ", Screen: true},
}

// Skills that have kinds.
const pickOff, winding, functionCheck = "pick-off", "winding", "function-check"

// ofMoves says which skill a move practises.
var ofMoves = map[string]string{
	"ascend-to-descend": "changeover", "descend-to-ascend": "changeover", "leave-ground": "changeover", "there-and-back": "changeover",
	"pass-knots-up": "knot-pass", "pass-knots-down": "knot-pass", "rebelay-up": "re-belay", "rebelay-down": "re-belay",
	"deviation-up": "deviation", "deviation-down": "deviation", "transfer": "transfer", "aid": "aid", "over-edge": "edge", "isolate-damage": "damage", "short-work": "work",
	pickOff: pickOff, "prove-brake": "function-check-anchor-brake", "lower": "lower", "edge": "lower", "share": "lower", "unshare": "lower", "swap-operator": "lower", "walk-away": "lower", "come-back": "lower",
	"lower-past-knot": "knot-lower", "lower-to-raise": "haul", "raise": "haul", "reset": "haul", "change-ratio": "haul", "raise-to-lower": "haul",
	"release-capture": "capture", "wind-up": winding, "wind-down": winding,
}

// SkillOf is the skill that a move practises; empty for none that is kept.
func SkillOf(move string) string { return ofMoves[move] }

// SkillOfWay is the skill of a pick-off by a way; that of any where none is kept for it.
func SkillOfWay(way string) string {
	if s := FindSkill(pickOff + "-" + way); s != nil {
		return s.ID
	}
	return pickOff
}

// WindingOf is the skill of a generation of the winding descender, as its model names it; that of
// any where it names none that an id can hold.
func WindingOf(generation string) string {
	if s := FindSkill(winding + "-" + strings.ReplaceAll(strings.ToLower(generation), " ", "-")); s != nil {
		return s.ID
	}
	return winding
}

// slug reports whether a text may be what a generation is called in the id of its skill: to 30
// letters, digits and hyphens, no hyphen first.
func slug(text string) bool {
	const letters = "abcdefghijklmnopqrstuvwxyz0123456789"
	return text != "" && len(text) <= 30 && text[0] != '-' && strings.Trim(text, letters+"-") == ""
}

// FindSkill gives a skill by its id; nil for none. Each generation of the winding descender is a
// kind of its own, of which the id names the generation.
func FindSkill(id string) *Skill {
	if i := slices.IndexFunc(Skills, func(s Skill) bool { return s.ID == id }); i >= 0 {
		return &Skills[i]
	}
	if of, ok := strings.CutPrefix(id, winding+"-"); ok && slug(of) {
		return &Skill{ID: id, Title: "winding descender, " + strings.ReplaceAll(of, "-", " "), Rescue: true, Of: winding}
	}
	return nil
}

// Counts reports whether who practised a skill by its id practised this one.
func (s *Skill) Counts(id string) bool {
	if id == s.ID {
		return true
	}
	kind := FindSkill(id)
	return kind != nil && kind.Of == s.ID
}
