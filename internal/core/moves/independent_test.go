package moves_test

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// What follows reads a plan as somebody else's program would: from the drop document
// and the written stances alone, with no code of the engine. It knows less (no reach,
// no lanyards), and what it knows it got by another way.

// reader is such a program.
type reader struct {
	d      *drop.Document
	slings []rig.Anchor
}

func newReader(d *drop.Document) *reader {
	r := &reader{d: d}
	for _, a := range d.Anchors {
		if a.Sling {
			r.slings = append(r.slings, a)
		}
	}
	slices.SortStableFunc(r.slings, func(a, b rig.Anchor) int { return cmp.Compare(a.XM, b.XM) })
	return r
}

func (r *reader) class(item string) gear.Class {
	for _, i := range r.d.Items {
		if i.ID == item {
			for _, m := range r.d.Models {
				if m.ID == i.Model {
					return m.Class
				}
			}
		}
	}
	return ""
}

// marks are those of a strand from the top down; damage that a knot of the document
// covers is none.
func (r *reader) marks(strand string) (*rig.Strand, []rig.Mark) {
	for i := range r.d.Strands {
		s := &r.d.Strands[i]
		if s.ID != strand {
			continue
		}
		var list []rig.Mark
		for _, m := range s.Marks {
			if m.Kind != rig.DamageMark || !slices.ContainsFunc(s.Marks, func(k rig.Mark) bool { return k.Isolates == m.ID }) {
				list = append(list, m)
			}
		}
		slices.SortStableFunc(list, func(a, b rig.Mark) int { return cmp.Compare(b.HeightM, a.HeightM) })
		return s, list
	}
	return nil, nil
}

// way walks the rope from a hold upwards to what it hangs from, and tells everything
// that it needs on the way; nil for a way that holds nothing.
func (r *reader) way(s *moves.ShownStance, h *moves.StanceHold) []string {
	if h.Strand == "structure" {
		return []string{h.Item, "anchor " + r.slings[h.Span-1].ID}
	}
	strand, marks := r.marks(h.Strand)
	way := []string{h.Item}
	from := h.Span
	if h.Into == "mark" {
		switch m := marks[h.Span-1]; m.Kind {
		case rig.RebelayMark:
			return append(way, "anchor "+m.Anchor)
		case rig.DeviationMark:
			return nil
		}
		from--
	}
	way = append(way, "strand "+h.Strand)
	for n := from - 1; n >= 0; n-- {
		switch m := marks[n]; {
		case m.Kind == rig.RebelayMark:
			return append(way, "anchor "+m.Anchor)
		case m.Kind == rig.DamageMark && !slices.Contains(s.Isolated, h.Strand+"/"+m.ID):
			return nil
		}
	}
	if len(strand.Anchors) == 1 {
		way = append(way, "anchor "+strand.Anchors[0])
	}
	return way
}

// holds are those that count: locked and proved, no hand ascender, a descender only
// where it bears or is parked, a rope only within an arm of who hangs in a sling.
func (r *reader) ways(s *moves.ShownStance) [][]string {
	var ways [][]string
	inSling := slices.ContainsFunc(s.Holds, func(h moves.StanceHold) bool { return h.Item == s.Bears && h.Strand == "structure" })
	for i := range s.Holds {
		h := &s.Holds[i]
		c := r.class(h.Item)
		if h.Unlocked || h.Unproved || c == gear.HandAscender || c == gear.Descender && !h.Parked && s.Bears != h.Item {
			continue
		}
		if inSling && h.Strand != "structure" && r.aside(s, h) > 0.7+1e-9 {
			continue
		}
		if way := r.way(s, h); way != nil {
			ways = append(ways, way)
		}
	}
	return ways
}

// anchor is what a hold on a strand hangs from: where sideways, and how high; ok is false
// where a deviation comes before it.
func (r *reader) anchor(h *moves.StanceHold) (x, top float64, ok bool) {
	strand, marks := r.marks(h.Strand)
	id, top, ok := strand.Anchors[0], math.NaN(), true
	for n := range h.Span {
		switch m := marks[n]; m.Kind {
		case rig.RebelayMark:
			id, top, ok = m.Anchor, float64(m.HeightM), true
		case rig.DeviationMark:
			ok = false
		}
	}
	for _, a := range r.d.Anchors {
		if a.ID == id {
			x = float64(a.XM)
			if math.IsNaN(top) {
				top = float64(a.HeightM)
			}
		}
	}
	return x, top, ok
}

// yields is how far to one side a body is at no effort: eighty newtons, on the rope that
// it hangs on.
func (r *reader) yields(s *moves.ShownStance) float64 {
	for i := range s.Holds {
		if h := &s.Holds[i]; h.Item == s.Bears && h.Strand != "structure" {
			_, top, _ := r.anchor(h)
			return (top - float64(s.AtM)) * 80 / (float64(r.d.People[0].MassKg) * 9.80665)
		}
	}
	return 0
}

// aside is how far the anchor of a hold is from a body at least.
func (r *reader) aside(s *moves.ShownStance, h *moves.StanceHold) float64 {
	x, _, _ := r.anchor(h)
	return max(0, math.Abs(x-float64(s.XM))-r.yields(s))
}

// tight tells a backup or a lanyard that does not reach from its own anchor to the body
// while something else bears it: rope and links are shorter than the way.
func (r *reader) tight(sc *stance.Scene, s *moves.ShownStance) error {
	for i := range s.Holds {
		h := &s.Holds[i]
		tool := &sc.Tools[sc.Tool(h.Item)]
		if h.Strand == "structure" || h.Item == s.Bears || tool.Class != gear.BackupDevice && tool.Class != gear.Lanyard {
			continue
		}
		_, top, ok := r.anchor(h)
		body := float64(s.AtM)
		if tool.Class == gear.BackupDevice {
			body += 0.35
		}
		rope, aside := top-float64(h.AtM)+float64(tool.Length.M()), r.aside(s, h)
		if way := math.Hypot(aside, top-body); ok && way > rope+0.021 {
			return fmt.Errorf("%s: %.2f m from its anchor, on %.2f m of rope and links; %.2f m aside", h.Item, way, rope, aside)
		}
	}
	return nil
}

// alone gives what lets the body go by itself, by taking everything away in turn.
func (r *reader) alone(s *moves.ShownStance) (lost []string) {
	ways := r.ways(s)
	if len(ways) == 0 {
		return []string{"everything"}
	}
	for _, point := range ways[0] {
		if !slices.ContainsFunc(ways, func(w []string) bool { return !slices.Contains(w, point) }) {
			lost = append(lost, point)
		}
	}
	return lost
}

// crossed tells a device that changed its span without being taken off, but for past
// a deviation or a hurt sheath.
func (r *reader) crossed(before, after *moves.ShownStance) error {
	for _, a := range after.Holds {
		i := slices.IndexFunc(before.Holds, func(h moves.StanceHold) bool { return h.Item == a.Item })
		if i < 0 {
			continue
		}
		b := before.Holds[i]
		if b.Strand != a.Strand || b.Into != a.Into {
			return fmt.Errorf("%s went from %s to %s by itself", a.Item, b.Strand, a.Strand)
		}
		_, marks := r.marks(a.Strand)
		for n := min(a.Span, b.Span); n < max(a.Span, b.Span); n++ {
			if k := marks[n]; k.Kind != rig.DeviationMark && !(k.Kind == rig.DamageMark && k.SheathOnly) {
				return fmt.Errorf("%s slid over the %s at %v", a.Item, k.Kind, k.HeightM)
			}
		}
	}
	return nil
}

// Read by somebody else, no plan has a stance in which one thing lets the body go that
// was not so before, none in which less than two hold, and no device slides over a
// mark; and what is stated about each failure is what is found by taking it away.
func TestPlansReadByOthers(t *testing.T) {
	r := chance.Rand(5, 4)
	plans, stances := 0, 0
	for range *drops {
		d, move, ways := random(r)
		sc, at, err := sceneOn(d, ways)
		if err != nil {
			t.Fatal(err)
		}
		p, err := moves.For(t.Context(), sc, at, asking(move))
		if err != nil {
			continue
		}
		plans++
		other := newReader(d)
		before := &p.Start
		breach := other.alone(before)
		for i := range p.Steps {
			s := &p.Steps[i]
			stances++
			if err := other.crossed(before, &s.After); err != nil {
				t.Errorf("%s step %d: %v", move, i+1, err)
			}
			if !s.After.Grounded {
				alone := other.alone(&s.After)
				for _, point := range alone {
					if before.Grounded || !slices.Contains(breach, point) && !slices.Contains(breach, "everything") {
						t.Errorf("%s step %d: %s alone holds", move, i+1, point)
					}
				}
				if err := other.tight(sc, &s.After); err != nil {
					t.Errorf("%s step %d, %+v: %v", move, i+1, s.Action, err)
				}
				if n := len(other.ways(&s.After)); n != s.After.Held {
					t.Errorf("%s step %d: %d holds, told %d", move, i+1, n, s.After.Held)
				}
				breach = alone
			}
			before = &s.After
		}
	}
	t.Logf("%d plans, %d stances", plans, stances)
	if plans < *drops/4 {
		t.Errorf("only %d plans", plans)
	}
}
