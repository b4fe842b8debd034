package stance

import (
	"fmt"
	"math"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// Lost is what happens when one point fails.
type Lost struct {
	Point Point  `json:"point"`
	Words string `json:"words" doc:"what fails, in words"`
	// Held says whether anything holds then, and By what.
	Held bool   `json:"held"`
	By   string `json:"by,omitempty"`
	// FreeFallM is how far the body falls before that holds, PeakKN the undamped
	// peak, SwingM how far aside it swings.
	FreeFallM quantity.Metres      `json:"free_fall_m"`
	PeakKN    quantity.Kilonewtons `json:"peak_kN,omitempty"`
	SwingM    quantity.Metres      `json:"swing_m,omitempty"`
	// Fall is what the figures were computed from.
	Fall *mechanics.FallIn `json:"-"`
}

// FailOne takes every anchor, strand and hold of a stance away in turn, worst first:
// what is not held, then the longest fall. Of several holds that are left the one
// that comes tight first catches.
func (sc *Scene) FailOne(s *Stance) []Lost {
	list := []Lost{}
	if s.Grounded {
		return list
	}
	var all points
	for i := range sc.Tools {
		if s.Holds[i].There {
			all |= sc.way(s, i)
		}
	}
	for n, p := range sc.names {
		if all&(1<<n) != 0 {
			list = append(list, sc.lose(s, p, 1<<n))
		}
	}
	for i := 1; i < len(list); i++ {
		for j := i; j > 0 && list[j].worse(&list[j-1]); j-- {
			list[j], list[j-1] = list[j-1], list[j]
		}
	}
	return list
}

func (a *Lost) worse(b *Lost) bool {
	if a.Held != b.Held {
		return !a.Held
	}
	return a.FreeFallM > b.FreeFallM
}

func (sc *Scene) lose(s *Stance, p Point, lost points) Lost {
	out := Lost{Point: p, Words: sc.pointWords(p)}
	best := NoTool
	var drop Cm
	for _, i := range sc.holding(s, lost) {
		if d := max(0, s.At-sc.tightAt(s, i)); best < 0 || d < drop {
			best, drop = i, d
		}
	}
	if best < 0 {
		return out
	}
	out.Held, out.By = true, sc.Tools[best].Label
	if s.Bears >= 0 && sc.way(s, int(s.Bears))&lost == 0 {
		// What bears stays: nothing moves.
		return out
	}
	out.FreeFallM = drop.M()
	sc.figures(s, best, &out)
	return out
}

// lanyardPct is how much a lanyard in a sling stretches between 50 and 150 kg: little,
// which errs to more force.
const lanyardPct = 3

// figures computes the fall onto a hold, by the closed form of package mechanics,
// and the swing to under its anchor.
func (sc *Scene) figures(s *Stance, i int, out *Lost) {
	h, t := &s.Holds[i], &sc.Tools[i]
	top, x := sc.hangs(h)
	length, elongation := max(0.3, (top-h.At).M()), quantity.Percent(lanyardPct)
	if sc.Lines[h.Line].Role != Structure {
		elongation, _, _ = sc.rig.Strands[h.Line].Rope(top.M(), h.At.M())
	}
	in := mechanics.FallIn{MassKg: sc.MassKg, LanyardM: t.taut().M(), DeviceAboveM: (h.At - s.At).M(), RopeLengthM: length, ElongationPct: elongation}
	if t.Class == gear.BackupDevice && t.Model.Backup != nil {
		b := t.Model.Backup
		in.LanyardM, in.DeviceAboveM = t.Length.M(), (h.At - s.At - Sternal).M()
		in.LockSpeedMS, in.LockDistanceM = b.LockSpeedMS, b.LockDistanceM
		if t.Absorber != nil {
			in.Absorber = &mechanics.AbsorberIn{ForceKN: t.Absorber.Absorber.ForceKN, MaxM: t.Absorber.Absorber.MaxM}
		}
		if b.IntegralAbsorberKN > 0 {
			in.Absorber = &mechanics.AbsorberIn{ForceKN: b.IntegralAbsorberKN, MaxM: b.IntegralAbsorberMaxM}
		}
	}
	f := mechanics.Fall(in)
	out.FreeFallM, out.PeakKN, out.Fall = f.FreeFallM, f.PeakKN, &in
	if s.Bears >= 0 {
		_, from := sc.hangs(&s.Holds[s.Bears])
		out.SwingM = quantity.Metres(math.Abs(float64((x - from).M())))
	}
}

// hangs gives the height and the side of the anchor that a hold hangs from.
func (sc *Scene) hangs(h *Hold) (top, x Cm) {
	l := &sc.Lines[h.Line]
	top, x = l.Top, l.X
	span := int(h.Span)
	if l.Role == Structure {
		return l.Marks[span-1].At, l.Marks[span-1].X
	}
	if h.Clip == IntoMark && l.Marks[span-1].Kind != rig.RebelayMark {
		span--
	}
	if m := l.section(span); m != nil {
		top = m.At
		for _, a := range sc.rig.Anchors {
			if a.ID == m.Anchor {
				x = ToCm(a.XM)
			}
		}
	}
	return top, x
}

// Peaks is moves.peak: a failure of one thing that is held, with more force than the
// policy allows.
func (sc *Scene) Peaks(list []Lost) []Violation {
	for _, l := range list {
		if l.Held && sc.CeilingKN > 0 && l.PeakKN > sc.CeilingKN {
			return sc.look("moves.peak", "if %s goes, %s holds with a peak of %v; the ceiling is %v", l.Words, l.By, l.PeakKN, sc.CeilingKN)
		}
	}
	return nil
}

// Worst is the headline of a fail-one table.
func Worst(list []Lost) string {
	switch {
	case len(list) == 0:
		return "on the ground"
	case !list[0].Held:
		return fmt.Sprintf("if %s goes, NOTHING holds", list[0].Words)
	}
	w := list[0]
	return fmt.Sprintf("if %s goes, %s holds after %v, peak %v", w.Words, w.By, w.FreeFallM, w.PeakKN)
}
