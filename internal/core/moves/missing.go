package moves

import (
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// addition is something that could be there: in the kit, or in how the strands are
// rigged.
type addition struct {
	words string
	// with gives the scene with it; nil where it cannot be added.
	with func(*stance.Scene) *stance.Scene
}

// Missing finds the smallest addition to the kit or change of the rigging that makes
// a move possible, one thing before two; empty where none of what it knows does.
func Missing(sc *stance.Scene, at quantity.Metres, ask Ask, store []stance.Tool) []string {
	spent := 0
	ask.Most, ask.spent = triedStances, &spent
	list := additions(sc, store)
	for i, a := range list {
		if with := a.with(sc); with != nil && possible(with, at, ask) {
			return []string{list[i].words}
		}
	}
	for i, a := range list {
		for _, b := range list[i+1:] {
			if spent > triedTogether {
				return nil
			}
			with := a.with(sc)
			if with != nil {
				with = b.with(with)
			}
			if with != nil && possible(with, at, ask) {
				return []string{a.words, b.words}
			}
		}
	}
	return nil
}

func possible(sc *stance.Scene, at quantity.Metres, ask Ask) bool {
	_, err := For(sc, at, ask)
	return err == nil
}

// additions are what is tried: the least first.
func additions(sc *stance.Scene, store []stance.Tool) []addition {
	list := []addition{{"a further connector", func(sc *stance.Scene) *stance.Scene { return sc.WithConnectors(1) }}}
	for _, t := range sc.Tools {
		if t.Class == gear.HandAscender && !t.Stands {
			list = append(list, addition{"a foot loop", (*stance.Scene).WithFootLoop})
			break
		}
	}
	for _, t := range store {
		list = append(list, addition{t.Label, func(sc *stance.Scene) *stance.Scene { return sc.With([]stance.Tool{t}) }})
	}
	return append(list, rigging(sc)...)
}

// loops are lengths of slack that are tried at a re-belay.
var loops = []stance.Cm{120, 200, 300, 450, 600}

// rigging are changes of how the strands are rigged: eyes in knots, longer loops.
func rigging(sc *stance.Scene) []addition {
	var list []addition
	eyes := false
	longest := stance.Cm(-1)
	for i := range sc.Lines {
		for _, m := range sc.Lines[i].Marks {
			switch m.Kind {
			case rig.KnotMark, rig.JoinMark:
				eyes = eyes || !m.Clip
			case rig.RebelayMark:
				longest = max(longest, m.Loop)
			}
		}
	}
	if eyes {
		list = append(list, addition{"eyes to clip into left at the knots", func(sc *stance.Scene) *stance.Scene {
			return sc.Rerigged(func(m *stance.Mark) { m.Clip = m.Clip || m.Kind == rig.KnotMark || m.Kind == rig.JoinMark })
		}})
	}
	for _, l := range loops {
		if longest >= 0 && l > longest {
			list = append(list, addition{fmt.Sprintf("loops of %v left at the re-belay", l.M()), func(sc *stance.Scene) *stance.Scene {
				return sc.Rerigged(func(m *stance.Mark) {
					if m.Kind == rig.RebelayMark {
						m.Loop = max(m.Loop, l)
					}
				})
			}})
		}
	}
	return list
}
