package drill

import (
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
)

// SkillNamed gives a skill by its id; nil for none. How models differ is one skill for each
// class, of which the title names the class.
func SkillNamed(id string) *manoeuvre.Skill {
	if class, ok := strings.CutPrefix(id, "models-"); ok {
		return &manoeuvre.Skill{ID: id, Title: "how models differ: " + gear.Class(class).Words(), Screen: true}
	}
	return manoeuvre.FindSkill(id)
}

// Practises is the skill that an exercise practises, read from what it asks.
func (e *Exercise) Practises() string {
	switch e.Kind {
	case Faults:
		return "fault-finding"
	case Fails:
		return "failures"
	case Move:
		return manoeuvre.SkillOf(e.Question.Move)
	}
	if list := e.modelsOf(); len(list) > 0 {
		return "models-" + string(list[0].Class)
	}
	return ""
}
