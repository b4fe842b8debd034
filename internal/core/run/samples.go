package run

import "zealousknot/internal/core/team"

// ofTheWay are actions of a team whose time is mostly that of a way along the rope, or of what
// is built: they have no one time to learn.
var ofTheWay = map[team.Do]bool{team.Lower: true, team.Haul: true, team.Turn: true, team.Build: true}

// Samples are how long the actions of a team's moves took on a run; none of an exercise, nor of
// a run that was typed afterwards. Steps that were tapped in a burst, or out of turn, have no
// time.
func (d *Document) Samples() (list []Sample) {
	if d.Exercise || d.Entered != nil {
		return nil
	}
	st := Fold(d)
	for i := range st.Moves {
		if d.Moves[i].Of != "team" {
			continue
		}
		for _, t := range st.Moves[i].Taken {
			if !ofTheWay[team.Do(t.Do)] {
				list = append(list, Sample{Do: t.Do, RealS: t.RealS})
			}
		}
	}
	return list
}
