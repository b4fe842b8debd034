package callout

import (
	"slices"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/team"
)

// bound is the worst of the figures at some points.
type bound struct {
	Figures
	// handKN is what the hand holds at most with what is added, worst the point at which it
	// does; stiff: at some point the load hardly runs.
	handKN [2]quantity.Kilonewtons
	worst  [2]int
	known  [2]bool
	stiff  [2]bool
	// lines are the knots of each line.
	lines  [2][]Knot
	haulKN quantity.Kilonewtons
}

// boundOf takes the worst of each figure. What is added for friction is the most that any
// point wants; the hand then holds what that leaves at the worst of them. What is missing at one
// point is missing.
func boundOf(all []*Figures) *bound {
	b := &bound{Figures: *all[0], known: [2]bool{true, true}}
	b.Hauls = nil
	for _, f := range all {
		for i := range lineNames {
			b.LeftM[i], b.NeedM[i], b.short[i] = min(b.LeftM[i], f.LeftM[i]), max(b.NeedM[i], f.NeedM[i]), max(b.short[i], f.short[i])
			b.known[i] = b.known[i] && len(f.Hands[i]) > 0
			if more(f.Adds[i], b.Adds[i]) {
				b.Adds[i] = f.Adds[i]
			}
		}
		b.CatchKN, b.DropM, b.LowerS = max(b.CatchKN, f.CatchKN), max(b.DropM, f.DropM), max(b.LowerS, f.LowerS)
	}
	b.hands(all)
	b.hauls(all)
	b.knots(all)
	return b
}

// hands is what is left for the hand with what is added.
func (b *bound) hands(all []*Figures) {
	for i := range lineNames {
		for n, f := range all {
			if !b.known[i] {
				continue
			}
			with := f.with(i, b.Adds[i])
			b.stiff[i] = b.stiff[i] || with.Stiff
			if with.HandKN > b.handKN[i] {
				b.handKN[i], b.worst[i] = with.HandKN, n
			}
		}
	}
}

// with is a way to add friction at a brake; -1: the most that can be added.
func (f *Figures) with(i, add int) team.Added {
	if add < 0 {
		add = len(f.Hands[i]) - 1
	}
	return f.Hands[i][add]
}

// more reports whether a way to add friction is more than another; -1 is the most.
func more(a, b int) bool { return b >= 0 && (a < 0 || a > b) }

// hauls are the hauls that get the load up at every point, at the worst of them.
func (b *bound) hauls(all []*Figures) {
	for _, h := range all[0].Hauls {
		worst, everywhere := h, true
		for _, f := range all[1:] {
			i := slices.IndexFunc(f.Hauls, func(o team.HaulFigures) bool { return o.System == h.System })
			if i < 0 {
				everywhere = false
				break
			}
			o := f.Hauls[i]
			worst.Ready = worst.Ready && o.Ready
			worst.Pulleys = max(worst.Pulleys, o.Pulleys)
			worst.HandKN, worst.Needed = max(worst.HandKN, o.HandKN), max(worst.Needed, o.Needed)
			worst.Strokes, worst.Resets = max(worst.Strokes, o.Strokes), max(worst.Resets, o.Resets)
			worst.RopeM, worst.Seconds = max(worst.RopeM, o.RopeM), max(worst.Seconds, o.Seconds)
			worst.AnchorKN, worst.JammedKN, worst.JammedAt = max(worst.AnchorKN, o.AnchorKN), max(worst.JammedKN, o.JammedKN), max(worst.JammedAt, o.JammedAt)
		}
		if everywhere {
			b.Hauls = append(b.Hauls, worst)
		}
	}
}

// knots are where each knot is met, at the earliest and at the latest, on the way down from
// the edge.
func (b *bound) knots(all []*Figures) {
	for i, name := range lineNames {
		for _, f := range all {
			n := 0
			for _, k := range f.Knots {
				if k.Line != name {
					continue
				}
				down := f.HeightM - k.AtM
				if n == len(b.lines[i]) {
					b.lines[i] = append(b.lines[i], Knot{LowM: down, HighM: down, Before: k.Before, Ready: true})
				}
				at := &b.lines[i][n]
				at.LowM, at.HighM, at.Ready = min(at.LowM, down), max(at.HighM, down), at.Ready && k.Ready && k.Settles
				n++
			}
		}
		b.unmet(i, name, all)
	}
}

// unmet widens where a knot is met to all that lies between a point at which it is met and one
// at which it is not: nearer anchors bring it later, down to the landing, further ones sooner.
func (b *bound) unmet(i int, name string, all []*Figures) {
	meets := func(f *Figures) bool {
		return slices.ContainsFunc(f.Knots, func(k team.KnotFigures) bool { return k.Line == name })
	}
	at := slices.IndexFunc(all, meets)
	for _, f := range all {
		if at < 0 || meets(f) {
			continue
		}
		for n := range b.lines[i] {
			if k := &b.lines[i][n]; f.BackM <= all[at].BackM {
				k.HighM = max(k.HighM, f.HeightM)
			} else {
				k.LowM = 0
			}
		}
	}
}

// anchorKN is the most that an anchor bears.
func (b *bound) anchorKN() quantity.Kilonewtons { return max(b.CatchKN, b.haulKN) }

// Raise is how the load comes up.
type Raise struct {
	Haulers int        `json:"haulers" doc:"who are left to pull"`
	Ways    []RaiseWay `json:"ways" doc:"that the gear gives, the smallest ratio first"`
	// Best is the way that the haulers who come manage; -1: none.
	Best int `json:"best"`
	// More are the haulers that are missing to the easiest way; 0: none.
	More int `json:"more,omitempty" doc:"haulers that are missing for the easiest way"`
}

// RaiseWay is one haul at the worst end.
type RaiseWay struct {
	System   string               `json:"system"`
	Needed   int                  `json:"haulers_needed"`
	HandKN   quantity.Kilonewtons `json:"hand_kN" doc:"pulled together by all"`
	Seconds  float64              `json:"seconds_s"`
	Resets   int                  `json:"resets"`
	Pulleys  int                  `json:"pulleys"`
	Ready    bool                 `json:"ready" doc:"the kits have what it takes"`
	AnchorKN quantity.Kilonewtons `json:"anchor_kN"`
}

// raise is how so many haulers bring the load up, at the worst end.
func (b *bound) raise(haulers int) *Raise {
	r := &Raise{Haulers: haulers, Ways: []RaiseWay{}, Best: -1}
	least := 0
	for _, h := range b.Hauls {
		w := RaiseWay{h.System, h.Needed, h.HandKN, h.Seconds, h.Resets, h.Pulleys, h.Ready, h.AnchorKN}
		r.Ways = append(r.Ways, w)
		if !w.Ready {
			continue
		}
		if w.Needed <= haulers && r.Best < 0 {
			r.Best, b.haulKN = len(r.Ways)-1, w.AnchorKN
		}
		if least == 0 || w.Needed < least {
			least = w.Needed
			if r.Best < 0 {
				// Too few are there: the anchors bear the easiest way once more have come.
				b.haulKN = w.AnchorKN
			}
		}
	}
	if r.Best < 0 && least > haulers {
		r.More = least - haulers
	}
	return r
}
