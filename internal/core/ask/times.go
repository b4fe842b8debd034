package ask

import (
	"cmp"
	"slices"

	"zealousknot/internal/core/manoeuvre"
)

// ActionTime is how long one action takes as shipped; a policy may say otherwise in
// its table of that name. Of a way along the rope, and of the pulleys of a haul, more
// is counted.
type ActionTime struct {
	Table string  `json:"table" enum:"move_times,team_times,rescue_times" doc:"the policy's"`
	Do    string  `json:"do"`
	Words string  `json:"words"`
	S     float64 `json:"s"`
}

// ActionTimes are the shipped times of every action, by table and by words.
func ActionTimes() []ActionTime {
	var all []ActionTime
	for _, t := range []struct {
		name string
		rows manoeuvre.Table
	}{{"move_times", manoeuvre.Person}, {"team_times", manoeuvre.Team}, {"rescue_times", manoeuvre.Rescue}} {
		rows := slices.Clone(t.rows)
		slices.SortStableFunc(rows, func(a, b manoeuvre.Action) int { return cmp.Compare(a.Title, b.Title) })
		for _, a := range rows {
			all = append(all, ActionTime{t.name, a.Do, a.Title, a.Seconds})
		}
	}
	return all
}
