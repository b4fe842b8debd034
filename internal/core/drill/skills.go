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
		switch skill := manoeuvre.SkillOf(e.Question.Move); {
		case e.Question.Of == ofRescue:
			return manoeuvre.SkillOfWay(e.Question.Way)
		case skill == manoeuvre.SkillOf("wind-up"):
			return e.winding()
		default:
			return skill
		}
	}
	if list := e.modelsOf(); len(list) > 0 {
		return "models-" + string(list[0].Class)
	}
	return ""
}

// winding is the skill of the winding descender of the drop: that of its generation where all are
// of one.
func (e *Exercise) winding() string {
	of := ""
	for i := range e.Drop.Models {
		if m := &e.Drop.Models[i]; m.Class == gear.WindingDev {
			if skill := manoeuvre.WindingOf(m.Generation); of == "" || of == skill {
				of = skill
			} else {
				return manoeuvre.WindingOf("")
			}
		}
	}
	return of
}
