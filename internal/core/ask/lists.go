package ask

import (
	"slices"

	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/team"
)

// MoveLine is one move of a list.
type MoveLine struct {
	Name string `json:"name"`
	Does string `json:"does"`
}

// Moves are those of a person.
func Moves() []MoveLine {
	list := make([]MoveLine, 0, len(moves.Catalogue))
	for _, m := range moves.Catalogue {
		list = append(list, MoveLine{m.Name, manoeuvre.MoveName(m.Name).Find().Does})
	}
	return list
}

// TeamMoves are those of a team.
func TeamMoves() []MoveLine {
	list := make([]MoveLine, 0, len(team.Catalogue))
	for _, m := range team.Catalogue {
		list = append(list, MoveLine{m.Name, m.Does})
	}
	return list
}

// Schools are where practitioners differ.
func Schools() []school.Question { return school.Catalogue }

// RuleOut is one rule on a drop.
type RuleOut struct {
	ID    string             `json:"id"`
	Gives []finding.Severity `json:"gives" enum:"stop,look,note"`
	Fires string             `json:"fires"`
}

// Rules are all those on a drop.
func Rules() []RuleOut {
	var list []RuleOut
	for _, r := range fit.Rules {
		list = append(list, RuleOut{r.ID, r.Gives, r.Fires})
	}
	for _, r := range slices.Concat(team.RigRules, cover.Rules) {
		list = append(list, RuleOut{r.ID, []finding.Severity{r.Gives}, r.Fires})
	}
	return list
}
