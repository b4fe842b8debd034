package run

import (
	"slices"

	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/team"
)

// ofTheWay are actions of a team whose time is mostly that of a way along the rope, or of what
// is built: they have no one time to learn.
var ofTheWay = map[team.Do]bool{team.Lower: true, team.Haul: true, team.Turn: true, team.Build: true}

// Samples are how long the actions of a team's moves took on a run; none of an exercise, nor of
// a run that was typed afterwards. Steps that were tapped in a burst, or out of turn, have no
// time.
func (d *Document) Samples() []Sample {
	if d.Exercise {
		return nil
	}
	return d.timed("team", func(_ *Move, t *Timing) bool { return ofTheWay[team.Do(t.Do)] })
}

// RescueSamples are how long the actions of rescues took. On an exercise they are timed practice.
// The way down as two has no one time to learn; what is passed with both stands behind the
// landing, and its actions are a person's.
func (d *Document) RescueSamples() []Sample {
	return d.timed(OfRescue, func(m *Move, t *Timing) bool {
		land := slices.IndexFunc(m.Steps, func(s Step) bool { return pair.Do(s.Do) == pair.Land })
		return pair.Do(t.Do) == pair.Descend || land >= 0 && t.Step > land+1
	})
}

// timed are the times of the steps of moves of a kind, but for those that have no one time.
func (d *Document) timed(of string, without func(*Move, *Timing) bool) (list []Sample) {
	if d.Entered != nil {
		return nil
	}
	st := Fold(d)
	for i := range st.Moves {
		if d.Moves[i].Of != of {
			continue
		}
		for n := range st.Moves[i].Taken {
			if t := &st.Moves[i].Taken[n]; !without(&d.Moves[i], t) {
				list = append(list, Sample{Do: t.Do, RealS: t.RealS, Practice: d.Exercise})
			}
		}
	}
	return list
}
