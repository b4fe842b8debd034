package moves

import (
	"context"
	"errors"
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

// Additions is what was found to make a move possible.
type Additions struct {
	// List is the smallest addition to the kit or change of the rigging that gives a way;
	// empty where none that was tried does.
	List []string
	// Cut: some were not decided, or not tried, so that an empty list proves nothing and a
	// smaller one than List may do.
	Cut      bool
	Expanded int
}

// Missing finds the smallest addition to the kit or change of the rigging that makes a
// move possible, one thing before two, with at most states expanded in sum.
func Missing(ctx context.Context, sc *stance.Scene, at quantity.Metres, ask Ask, store []stance.Tool, states int) Additions {
	var out Additions
	possible := func(with *stance.Scene) bool {
		if with == nil {
			return false
		}
		left := states - out.Expanded
		if left <= 0 || ctx.Err() != nil {
			out.Cut = true
			return false
		}
		one := ask
		one.MaxStates = min(triedStates, left)
		_, n, err := Time(ctx, with, at, one)
		out.Expanded += n
		out.Cut = out.Cut || errors.Is(err, ErrUndecided)
		return err == nil
	}
	list := additions(sc, store)
	for _, a := range list {
		if possible(a.with(sc)) {
			out.List = []string{a.words}
			return out
		}
	}
	for i, a := range list {
		for _, b := range list[i+1:] {
			with := a.with(sc)
			if with != nil {
				with = b.with(with)
			}
			if possible(with) {
				out.List = []string{a.words, b.words}
				return out
			}
		}
	}
	return out
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
	if sc.WithLanyardLoop() != nil {
		list = append(list, addition{"a further foot loop", (*stance.Scene).WithLanyardLoop})
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
