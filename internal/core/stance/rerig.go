package stance

import (
	"slices"

	"zealousknot/internal/core/gear"
)

// With gives the scene with more tools in the kit, each with the connectors it
// needs; nil where that is more than is planned with.
func (sc *Scene) With(more []Tool) *Scene {
	if len(sc.Tools)+len(more) > MaxTools {
		return nil
	}
	with := *sc
	with.Tools = append(slices.Clone(sc.Tools), more...)
	for i := range with.Tools {
		if t := &with.Tools[i]; t.Class == gear.HandAscender && t.Length == 0 {
			t.Length = sc.Up
		}
	}
	for _, t := range more {
		with.Connectors += t.Connectors
	}
	if with.number() != nil {
		return nil
	}
	return &with
}

// WithConnectors gives the scene with more connectors on the harness.
func (sc *Scene) WithConnectors(n int) *Scene {
	with := *sc
	with.Connectors += n
	return &with
}

// WithFootLoop gives the scene with a foot loop on the first hand ascender that has
// none; nil where every one has.
func (sc *Scene) WithFootLoop() *Scene {
	with := *sc
	with.Tools = slices.Clone(sc.Tools)
	for i := range with.Tools {
		if t := &with.Tools[i]; t.Class == gear.HandAscender && !t.Stands {
			t.Stands = true
			return &with
		}
	}
	return nil
}

// WithLanyardLoop gives the scene with a foot loop on the longest lanyard that has none,
// as for travel on slings; nil where every one has, or a hand ascender lacks one.
func (sc *Scene) WithLanyardLoop() *Scene {
	longest := NoTool
	for i := range sc.Tools {
		t := &sc.Tools[i]
		if t.Class == gear.HandAscender && !t.Stands {
			return nil
		}
		if t.Class == gear.Lanyard && !t.Stands && (longest < 0 || t.Length > sc.Tools[longest].Length) {
			longest = i
		}
	}
	if longest < 0 {
		return nil
	}
	with := *sc
	with.Tools = slices.Clone(sc.Tools)
	with.Tools[longest].Stands = true
	return &with
}

// Rerigged gives the scene with every mark changed as is stated.
func (sc *Scene) Rerigged(change func(*Mark)) *Scene {
	with := *sc
	with.Lines = slices.Clone(sc.Lines)
	for i := range with.Lines {
		l := &with.Lines[i]
		l.Marks = slices.Clone(l.Marks)
		for j := range l.Marks {
			change(&l.Marks[j])
		}
	}
	with.hang()
	return &with
}
