package fit_test

import (
	"flag"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// replay judges the two-line rule again from the words of the rule, by failing
// one thing at a time in the plain document: its only common ground with the
// rule under test is the document.
func replay(d *drop.Document, p *rig.Person) (heldTwice bool) {
	things := map[string]bool{"": true} // "" fails nothing
	ways := [][][]string{}              // of each hold: all these sets, any one of each set
	for _, h := range p.Holds {
		if way := wayOf(d, p, &h); way != nil {
			ways = append(ways, way)
			for _, set := range way {
				for _, thing := range set {
					things[thing] = true
				}
			}
		}
	}
	for failed := range things {
		if !slices.ContainsFunc(ways, func(way [][]string) bool {
			return !slices.ContainsFunc(way, func(set []string) bool {
				return !slices.ContainsFunc(set, func(thing string) bool { return !broken(d, thing, failed) })
			})
		}) {
			return false
		}
	}
	return true
}

// broken: a thing is broken by its own failure; an anchor of one leg by its leg's.
func broken(d *drop.Document, thing, failed string) bool {
	if thing == failed {
		return failed != ""
	}
	for _, a := range d.Anchors {
		if "anchor "+a.ID == thing {
			return len(a.Legs) == 1 && "leg "+a.Legs[0].ID == failed
		}
	}
	// A leg by itself carries nothing that its anchor does not.
	return false
}

// wayOf is what a hold's way to the anchors needs, nil where it would not hold.
func wayOf(d *drop.Document, p *rig.Person, h *rig.Hold) [][]string {
	items := map[string]gear.Item{}
	for _, i := range d.Items {
		items[i.ID] = i
	}
	models := map[string]gear.Model{}
	for _, m := range d.Models {
		models[m.ID] = m
	}
	m := models[items[h.Device].Model]
	third := h.Role == rig.Third || m.Class == gear.HandAscender
	if third || h.Open || h.Threaded != rig.ThreadedRight || m.Device.Position(h.Position).HandsOff != gear.Stops {
		return nil
	}
	way := [][]string{{"item " + h.Device}}
	for _, l := range h.Links {
		if l.Gate == rig.GateOpen || items[l.Item].State != gear.InService {
			return nil
		}
		way = append(way, []string{"item " + l.Item})
	}
	if items[h.Device].State != gear.InService {
		return nil
	}
	s := d.Strands[slices.IndexFunc(d.Strands, func(s rig.Strand) bool { return s.ID == h.Strand })]
	anchors := s.Anchors
	top := d.Geometry.TopM + 1000
	for _, k := range s.Marks {
		if k.Kind == rig.RebelayMark && k.HeightM > p.AtM && k.HeightM < top {
			top, anchors = k.HeightM, []string{k.Anchor}
		}
	}
	for _, k := range s.Marks {
		covered := slices.ContainsFunc(s.Marks, func(o rig.Mark) bool { return o.Isolates == k.ID && math.Abs(float64(o.HeightM-k.HeightM)) <= 1 })
		if k.Kind == rig.DamageMark && !covered && k.HeightM >= p.AtM && k.HeightM <= top {
			return nil
		}
	}
	way = append(way, []string{"item " + s.Ropes[0]})
	any := []string{}
	for _, a := range anchors {
		any = append(any, "anchor "+a)
		for _, l := range d.Anchors[slices.IndexFunc(d.Anchors, func(o rig.Anchor) bool { return o.ID == a })].Legs {
			// Named so that it is failed; never on a way by itself.
			way = append(way, []string{"leg " + l.ID, "never fails"})
		}
	}
	return append(way, any)
}

// replays is how many rigs are replayed: -replays 20000 in a soak.
var replays = flag.Int("replays", 1200, "rigs whose two lines are counted twice")

// The two-line rule agrees with its independent replay on random holds.
func TestPointsTwoReplayed(t *testing.T) {
	r := chance.Rand(5, 6)
	counts := map[bool]int{}
	for range *replays {
		c := clean()
		shake(r, c)
		report, err := check.Drop(t.Context(), c.Document, nil, check.FindingsOnly)
		if err != nil {
			t.Fatal(err)
		}
		found := slices.ContainsFunc(report.Findings, func(f finding.Finding) bool { return f.Rule == "points.two" })
		if want := replay(c.Document, c.ivo); found == want {
			t.Fatalf("found is %v, replay says held twice is %v: %+v\n%+v\n%+v", found, want, c.ivo.Holds, c.Strands, c.Anchors)
		}
		counts[found]++
	}
	if counts[true] < *replays/10 || counts[false] < *replays/10 {
		t.Errorf("found %d times, not %d times: not a test of both", counts[true], counts[false])
	}
}

// shake changes what holds at random.
func shake(r *rand.Rand, c *rigged) {
	maybe := func(n int, f func()) {
		if r.IntN(n) == 0 {
			f()
		}
	}
	c.Strands[0].Ropes, c.Strands[0].Marks = c.Strands[0].Ropes[:1], nil
	c.upper.LengthM = 60
	for _, h := range []*rig.Hold{c.main, c.backup} {
		maybe(12, func() { h.Open = true })
		maybe(12, func() { h.Threaded = rig.ThreadedReversed })
		maybe(12, func() { h.Role = rig.Third })
		maybe(12, func() { h.Links[0].Gate = rig.GateOpen })
		maybe(12, func() { h.Links[0].Gate = rig.GateShut })
		maybe(12, func() { h.Strand = []string{"main", "backup"}[r.IntN(2)] })
	}
	maybe(12, func() { c.main.Position = "work" })
	maybe(12, func() { i := c.item(c.backup.Links[0].Item); i.State, i.Reason = gear.Quarantine, "worn" })
	anchors := []string{"deck-main", "deck-backup"}
	for i := range c.Strands {
		s := &c.Strands[i]
		maybe(3, func() { s.Anchors = [][]string{anchors, anchors[:1], anchors[1:]}[r.IntN(3)] })
		maybe(8, func() {
			s.Marks = append(s.Marks, rig.Mark{ID: "d", Kind: rig.DamageMark, HeightM: []quantity.Metres{5, 14, 30}[r.IntN(3)]})
		})
		maybe(16, func() {
			s.Marks = append(s.Marks, rig.Mark{ID: "k", Kind: rig.KnotMark, HeightM: []quantity.Metres{29, 29.4, 31}[r.IntN(3)], Isolates: damageOf(s)})
		})
	}
	maybe(4, func() { c.rebelay("low", []string{"low", "low-b"}[r.IntN(2)]) })
	maybe(3, func() { c.Anchors[0].Legs = c.Anchors[0].Legs[:1] })
	maybe(6, func() { c.Anchors[1].Legs = c.Anchors[0].Legs })
	c.ivo.AtM = []quantity.Metres{4, 12, 25}[r.IntN(3)]
}

// damageOf is the damage of a strand, empty where it has none.
func damageOf(s *rig.Strand) string {
	for _, m := range s.Marks {
		if m.Kind == rig.DamageMark {
			return m.ID
		}
	}
	return ""
}
