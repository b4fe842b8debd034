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
	return find(manoeuvre.Skills, func(s *manoeuvre.Skill) bool { return s.ID == id })
}
