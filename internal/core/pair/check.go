package pair

import (
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// Rules are those on a pair, beside those on each body.
var Rules = []stance.Rule{
	{ID: "points.two", Gives: finding.Stop, Fires: "one anchor, strand, device or connection fails and rescuer or casualty is held by nothing that is rated for what then hangs on it; a look where it was so before the rescue began"},
	{ID: "moves.bearing", Gives: finding.Stop, Fires: "what bears the casualty is taken off"},
	{ID: "device.mode", Gives: finding.Stop, Fires: "both hands leave a descender that bears and is not parked and, by school, tied off; the casualty's is open and bears while something else is done"},
	{ID: "device.two", Gives: finding.Stop, Fires: "the second weight moves to a device that is not rated for it, or it is unparked before the friction for two is in"},
	{ID: "connector.gate", Gives: finding.Stop, Fires: "a gate of the chain is not locked before it bears"},
	{ID: "rescue.long", Gives: finding.Stop, Fires: "the casualty is lifted, or moves to the chain, and the long lanyard is not on and locked; lifted, and the chain is not"},
	{ID: "rescue.lift", Gives: finding.Stop, Fires: "the casualty hangs on the lift, and something else is done than to let up"},
	{ID: "rescue.stripped", Gives: finding.Stop, Fires: "something of the casualty's comes off while they still hang on their own devices"},
	{ID: "rescue.strand", Gives: finding.Stop, Fires: "a descender is opened with the other one's control strand in hand, or none; the bend is on the casualty's"},
	{ID: "rescue.legs", Gives: finding.Stop, Fires: "the casualty is lifted or moves to the chain, or two go down, and rope is between somebody's legs"},
}

// Check applies the rules on a pair.
func (sc *Scene) Check(p *State) []stance.Violation {
	var found []stance.Violation
	for _, q := range append([]stance.Point{{}}, sc.points(p)...) {
		rescuer, casualty := sc.held(p, q)
		if rescuer && casualty {
			continue
		}
		who := sc.R.Name
		if rescuer {
			who = sc.C.Name
		}
		words := "nothing that is rated for it holds " + who
		if q.ID != "" {
			words = "if " + sc.words(q) + " goes, " + words
		}
		if rescuer && sc.breach[q] {
			// Rule 17: it was so before, and is no worse.
			found = append(found, stance.Violation{Rule: "points.two", Severity: finding.Look, Why: "in breach since before the rescue: " + words})
			continue
		}
		return append(found, stance.Broken("points.two", "%s", words)...)
	}
	return found
}

func (sc *Scene) words(q stance.Point) string {
	switch {
	case q == chainPoint:
		return "the chain to the casualty"
	case sc.R.Tool(q.ID) >= 0:
		return sc.R.PointWords(q)
	}
	return sc.C.PointWords(q)
}

// FailOne takes every anchor, strand, device and connection away in turn, worst first,
// for whoever falls further.
func (sc *Scene) FailOne(p *State) []stance.Lost {
	list := []stance.Lost{}
	if p.R.Grounded {
		return list
	}
	for _, q := range sc.points(p) {
		list = append(list, sc.lose(p, q))
	}
	slices.SortStableFunc(list, func(a, b stance.Lost) int {
		switch {
		case a.Held != b.Held && !a.Held:
			return -1
		case a.Held != b.Held:
			return 1
		case a.FreeFallM != b.FreeFallM && a.FreeFallM > b.FreeFallM:
			return -1
		case a.FreeFallM != b.FreeFallM:
			return 1
		}
		return 0
	})
	return list
}

// lanyardPct is how much a lanyard between two bodies stretches: little, which errs to
// more force.
const lanyardPct = 3

func (sc *Scene) lose(p *State, q stance.Point) stance.Lost {
	out := stance.Lost{Point: q, Words: sc.words(q)}
	rescuer, casualty := sc.held(p, q)
	if !rescuer || !casualty {
		return out
	}
	out.Held, out.By = true, "what else holds"
	take := func(l stance.Lost) {
		if l.FreeFallM >= out.FreeFallM {
			out.By, out.FreeFallM, out.PeakKN, out.SwingM = l.By, l.FreeFallM, l.PeakKN, l.SwingM
		}
	}
	r, c := left(sc.R, &p.R, q), left(sc.C, &p.C, q)
	mass := sc.R.MassKg
	if c == 0 && !p.C.Grounded {
		mass = sc.Mass()
	}
	if b := p.R.Bears; b >= 0 && !has(r, int(b)) {
		if best := lowest(sc.R, &p.R, r); best >= 0 {
			take(sc.R.FallOnto(&p.R, best, mass))
		} else {
			take(stance.Lost{By: "the casualty's holds, by the long lanyard", FreeFallM: sc.longDrop(p)})
		}
	}
	switch bears := p.C.Bears; {
	case p.Bears == ByChain && q == chainPoint && r != 0:
		drop := sc.longDrop(p)
		l := stance.Lost{By: "the long lanyard", FreeFallM: drop}
		l.PeakKN = peak(sc.C.MassKg, drop, sc.R.Tools[sc.LongTool].Length.M())
		if best := lowest(sc.C, &p.C, c); best >= 0 {
			if own := sc.C.FallOnto(&p.C, best, sc.C.MassKg); own.FreeFallM < drop {
				l = own
			}
		}
		take(l)
	case bears >= 0 && !has(c, int(bears)):
		if best := lowest(sc.C, &p.C, c); best >= 0 {
			take(sc.C.FallOnto(&p.C, best, sc.C.MassKg))
		} else if p.Long == Joined || p.Chain == Joined {
			drop := sc.longDrop(p)
			if p.Chain == Joined {
				drop = min(drop, max(0, sc.slack(p, int(p.Links), p.Strap)).M())
			}
			take(stance.Lost{By: "the rescuer", FreeFallM: drop, PeakKN: peak(sc.C.MassKg, drop, 0.3)})
		}
	}
	return out
}

// longDrop is how far one falls until the long lanyard comes tight.
func (sc *Scene) longDrop(p *State) quantity.Metres {
	if sc.LongTool < 0 {
		return 0
	}
	apart := p.R.At - p.C.At
	return max(0, sc.R.Tools[sc.LongTool].Length-max(apart, -apart)).M()
}

// peak is a fall onto a lanyard, undamped.
func peak(mass quantity.Kilograms, drop, length quantity.Metres) quantity.Kilonewtons {
	return mechanics.Fall(mechanics.FallIn{MassKg: mass, LanyardM: drop, RopeLengthM: max(0.3, length), ElongationPct: lanyardPct}).PeakKN
}

// lowest is the hold that comes tight first; -1 for none.
func lowest(sc *stance.Scene, s *stance.Stance, list uint32) int {
	best := -1
	for i := range sc.Tools {
		if !has(list, i) {
			continue
		}
		if best < 0 || sc.TightAt(s, i) > sc.TightAt(s, best) {
			best = i
		}
	}
	return best
}

// HandsOff says what moves if both let go of everything, and what it does then.
func (sc *Scene) HandsOff(p *State) []string {
	var list []string
	tell := func(of *stance.Scene, s *stance.Stance, who string) {
		i := hold(of, s, gear.Descender)
		if i < 0 || s.Holds[i].Parked || int(s.Bears) != i {
			return
		}
		does := "runs and does not stop"
		for _, pos := range of.Tools[i].Model.Device.Positions {
			if !pos.Parked && pos.HandsOff == gear.Stops {
				does = "stops by itself"
			}
		}
		list = append(list, who+": "+of.Tools[i].Label+" "+does)
	}
	tell(sc.R, &p.R, "the rescuer")
	tell(sc.C, &p.C, "the casualty")
	return list
}
