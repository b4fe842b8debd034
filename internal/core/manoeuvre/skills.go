package manoeuvre

import "slices"

// Skill is something that is forgotten between two trainings.
type Skill struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	// Rescue skills go stale sooner, and are never practised on a screen alone.
	Rescue bool `json:"rescue,omitempty"`
	// Screen: there is nothing of it but on a screen.
	Screen bool `json:"screen,omitempty"`
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
	{ID: "pick-off", Title: "pick-off", Rescue: true},
	{ID: "lower", Title: "team lower"},
	{ID: "knot-lower", Title: "knot in a lower"},
	{ID: "haul", Title: "haul and change", Rescue: true},
	{ID: "capture", Title: "release a capture", Rescue: true},
	{ID: "winding", Title: "winding descender", Rescue: true},
	{ID: "function-check", Title: "function checks"},
	{ID: "fault-finding", Title: "find the fault", Screen: true},
	{ID: "failures", Title: "what would happen", Screen: true},
	{ID: "models", Title: "how models differ", Screen: true},
}

// ofMoves says which skill a move practises.
var ofMoves = map[string]string{
	"ascend-to-descend": "changeover", "descend-to-ascend": "changeover", "leave-ground": "changeover", "there-and-back": "changeover",
	"pass-knots-up": "knot-pass", "pass-knots-down": "knot-pass", "rebelay-up": "re-belay", "rebelay-down": "re-belay",
	"deviation-up": "deviation", "deviation-down": "deviation", "transfer": "transfer", "aid": "aid", "over-edge": "edge", "isolate-damage": "damage", "short-work": "work",
	"pick-off": "pick-off", "prove-brake": "function-check", "lower": "lower", "edge": "lower", "share": "lower", "unshare": "lower", "swap-operator": "lower", "walk-away": "lower", "come-back": "lower",
	"lower-past-knot": "knot-lower", "lower-to-raise": "haul", "raise": "haul", "reset": "haul", "change-ratio": "haul", "raise-to-lower": "haul",
	"release-capture": "capture", "wind-up": "winding", "wind-down": "winding",
}

// SkillOf is the skill that a move practises; empty for none that is kept.
func SkillOf(move string) string { return ofMoves[move] }

// FindSkill gives a skill by its id; nil for none.
func FindSkill(id string) *Skill {
	if i := slices.IndexFunc(Skills, func(s Skill) bool { return s.ID == id }); i >= 0 {
		return &Skills[i]
	}
	return nil
}
