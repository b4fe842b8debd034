package check

import (
	"fmt"

	"zealousknot/internal/core/calc"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
)

// Shown is a figure that a screen shows, with its limit and its working.
type Shown struct {
	finding.Figure
	// Limit is what the figure is held against; Beyond is set where it passes it.
	Limit   *finding.Figure   `json:"limit,omitempty"`
	Beyond  bool              `json:"beyond,omitempty"`
	Note    string            `json:"note,omitempty" doc:"what to know or do"`
	Working []finding.Working `json:"working"`
}

func shown(name string, q quantity.Quantity, working []finding.Working) Shown {
	return Shown{Figure: finding.Fig(name, q), Working: working}
}

// most holds the figure against a limit that it must not pass.
func (s Shown) most(name string, limit quantity.Quantity) Shown {
	f := finding.Fig(name, limit)
	s.Limit, s.Beyond = &f, s.Value > limit.Value()
	return s
}

func (s Shown) note(format string, args ...any) Shown {
	s.Note = fmt.Sprintf(format, args...)
	return s
}

// HoldFigures are the computed figures of a hold.
type HoldFigures struct {
	Person  string         `json:"person"`
	Hold    string         `json:"hold"`
	Load    finding.Figure `json:"load" doc:"weight at rest"`
	Path    []fit.PathPart `json:"path" doc:"device, links, harness, ropes, anchor legs"`
	Weakest string         `json:"weakest" doc:"label of the part with the least margin"`
	Figures []Shown        `json:"figures"`
	Fall    *FallAsked     `json:"fall,omitempty" doc:"what to ask calc/fall for the course and the band of a fall onto this hold"`
}

// FallAsked is a fall as calc/fall takes it, with the spread of what is not known
// exactly.
type FallAsked struct {
	mechanics.FallIn
	Spread map[string]calc.Spread `json:"spread"`
}

// StrandFigures are the computed figures of a strand.
type StrandFigures struct {
	Strand string  `json:"strand"`
	EndM   float64 `json:"end_m" doc:"height of the lower end, stretch left out; below 0: rope on the landing"`
	// Figures begin with the spare rope, negative where the strand is too short.
	Figures []Shown `json:"figures"`
}

// AnchorFigures are the computed figures of an anchor.
type AnchorFigures struct {
	Anchor string `json:"anchor"`
	// Load is the greatest weight at rest that hangs on it; Whose says of whom.
	Load        finding.Figure `json:"load"`
	Whose       string         `json:"whose"`
	Angle       finding.Figure `json:"angle" doc:"widest between taut legs"`
	Legs        []LegFigures   `json:"legs"`
	WhyUnshared string         `json:"untold,omitempty" doc:"why tensions cannot be determined; each leg then counts with the whole load"`
	// Working is that of all figures of the anchor.
	Working []finding.Working `json:"working"`
}

// LegFigures are the computed figures of a leg.
type LegFigures struct {
	Leg     string          `json:"leg"`
	Tension finding.Figure  `json:"tension"`
	Share   finding.Figure  `json:"share" doc:"tension as a part of the load"`
	Slack   bool            `json:"slack,omitempty"`
	Lost    bool            `json:"lost,omitempty" doc:"nothing holds if it goes"`
	Drop    *finding.Figure `json:"drop,omitempty" doc:"of the master point if it goes"`
	Sway    *finding.Figure `json:"sway,omitempty" doc:"of the master point across the load"`
	Peak    *finding.Figure `json:"peak,omitempty" doc:"left out where the elongation of a leg is not stated"`
}

func (report *Report) addFigures(c *fit.Context) {
	for _, a := range c.Rig.Anchors {
		report.Anchors = append(report.Anchors, anchorReport(a, c.Rig))
	}
	for _, s := range c.Rig.Strands {
		report.Strands = append(report.Strands, strandReport(s, c))
	}
	for _, person := range c.Rig.People {
		for _, h := range person.Holds {
			report.Holds = append(report.Holds, holdReport(h, c))
		}
	}
}

// nobody is what an anchor is computed for while nobody hangs on it.
const nobody quantity.Kilograms = 100

// heaviest is the heaviest load of some holds, with the words for whose it is.
func heaviest(r *rig.Rig, on func(*rig.HoldView) bool) (mass quantity.Kilograms, whose string) {
	for _, p := range r.People {
		for _, h := range p.Holds {
			if on(h) && h.Mass() > mass {
				mass, whose = h.Mass(), p.Name
				if h.Second() > 0 {
					whose += " with a second person"
				}
			}
		}
	}
	if whose == "" {
		return nobody, "nobody yet: 100 kg"
	}
	return mass, whose
}

func anchorReport(a *rig.AnchorView, r *rig.Rig) AnchorFigures {
	mass, whose := heaviest(r, func(h *rig.HoldView) bool {
		for _, sec := range h.Strand.Sections {
			for _, o := range sec.Anchors {
				if o == a {
					return true
				}
			}
		}
		return false
	})
	load := quantity.Weight(mass)
	f := AnchorFigures{
		Anchor: a.ID, Load: finding.Fig("load at rest", load), Whose: whose, Angle: finding.Fig("widest angle", a.WidestAngle),
		WhyUnshared: a.WhyUnshared, Legs: make([]LegFigures, len(a.Legs)), Working: []finding.Working{},
	}
	out, err := mechanics.Anchor(site.AnchorIn(a, load))
	for i, l := range a.Legs {
		part := a.Part(i)
		f.Legs[i] = LegFigures{Leg: l.ID, Tension: finding.Fig("tension", load*quantity.Kilonewtons(part)), Share: finding.Fig("share", 100*quantity.Percent(part))}
		if err == nil {
			f.Legs[i].lose(out.Legs[i], out.Lost[i])
		}
	}
	if err == nil {
		f.Working = out.Working()
	}
	return f
}

// lose fills in what happens if the leg goes.
func (f *LegFigures) lose(leg mechanics.LegOut, lost mechanics.LostOut) {
	f.Slack, f.Lost = leg.Slack, lost.DropM == nil
	if lost.DropM == nil {
		return
	}
	drop, sway := finding.Fig("drop", *lost.DropM), finding.Fig("sway", lost.Sway)
	f.Drop, f.Sway = &drop, &sway
	if lost.PeakKN != nil {
		peak := finding.Fig("peak", *lost.PeakKN)
		f.Peak = &peak
	}
}

func strandReport(s *rig.StrandView, c *fit.Context) StrandFigures {
	f := StrandFigures{Strand: s.ID, EndM: float64(s.Length.EndM)}
	left := shown("spare rope", s.Length.SpareM, s.Length.Working()).note("%s", spare(s.Length.SpareM))
	left.Beyond = s.Length.SpareM < 0
	f.Figures = append(f.Figures, left)
	if s.Role == rig.Main {
		f.stretch(s, c)
		f.schools(s, c)
	}
	f.loops(s, c)
	return f
}

// loops gives what slack to leave at a re-belay: who goes down and sits on a lanyard in
// its anchor stands up in the loop to free it.
func (f *StrandFigures) loops(s *rig.StrandView, c *fit.Context) {
	least, most, whose := quantity.Metres(0), quantity.Metres(0), ""
	var figures []finding.Figure
	for _, p := range c.Rig.People {
		l := shortLanyard(p)
		if l == nil {
			continue
		}
		low, high := stance.LoopToStandIn(l.Model.LengthM)
		figures = append(figures, finding.Fig(l.Item.Label+" of "+p.Name, l.Model.LengthM))
		if whose == "" {
			least, most, whose = low, high, p.Name
			continue
		}
		least, most, whose = max(least, low), min(most, high), whose+", "+p.Name
	}
	for _, m := range s.Marks {
		if m.Kind != rig.RebelayMark || whose == "" {
			continue
		}
		name := fmt.Sprintf("loop to leave at %v", m.HeightM)
		if most < least {
			// No length is shown that would be right for one and wrong for another.
			none := Shown{Figure: finding.State(name, "no one length"), Working: []finding.Working{}}
			f.Figures = append(f.Figures, none.note("the lanyards of %s differ too much to stand up in one loop", whose))
			continue
		}
		left := shown(name+", at least", least, []finding.Working{finding.Work("slack to stand in", "2 (lanyard + 0.45 m)", least,
			"the loop hangs half its slack below the anchor; its lowest point is 0.45 to 0.90 m below the hip of who sits on the lanyard", figures...)})
		limit := finding.Fig("at most", most)
		left.Limit = &limit
		f.Figures = append(f.Figures, left.note("to stand in and free the short lanyard, for %s; the loop has %v", whose, m.LoopM))
	}
}

// shortLanyard is the shortest that somebody has; nil for none.
func shortLanyard(p *rig.PersonView) (short *rig.Piece) {
	for _, o := range p.All {
		if o.Model.Class == gear.Lanyard && o.Model.LengthM > 0 && (short == nil || o.Model.LengthM < short.Model.LengthM) {
			short = o
		}
	}
	return short
}

// stretch gives the stretch on the longest stretch between anchors, and how far
// apart re-belays may be for the stretch that is needed.
func (f *StrandFigures) stretch(s *rig.StrandView, c *fit.Context) {
	mass, whose := heaviest(c.Rig, func(h *rig.HoldView) bool { return h.Strand == s })
	top, to := s.TopM(), max(s.ToM, s.Length.EndM, 0)
	if top <= to {
		return
	}
	var longest, from quantity.Metres
	for i, sec := range s.Sections {
		bottom := to
		if i+1 < len(s.Sections) {
			bottom = s.Sections[i+1].TopM
		}
		if l := sec.TopM - bottom; l > longest {
			longest, from = l, sec.TopM
		}
	}
	elongation, rope, _ := s.Rope(from, from-longest)
	stretch := mechanics.Stretch(mechanics.StretchIn{LoadKg: mass, LengthM: longest, ElongationPct: elongation, RopeGPerM: rope})
	spacing := stretch.LongestFor(c.Policy.StretchM)
	f.Figures = append(f.Figures,
		shown("stretch at the lowest", stretch.StretchM, stretch.Working()).most("limit", c.Policy.StretchM).
			note("under %s, %v, on the longest stretch between anchors, %v", whose, mass, longest),
		shown("re-belays for that, apart at most", spacing, []finding.Working{finding.Work("spacing of re-belays", "w L² / 2 + F L = EA · limit", spacing,
			"high where the rope is stretched further by wet or use", finding.Fig("limit", c.Policy.StretchM), finding.Fig("load", mass), finding.Fig("EA", stretch.EAKN))}).
			note("to keep the stretch within %v", c.Policy.StretchM))
}

// schools sets side by side what happens if one of two strands goes under the
// heaviest who hangs: both carrying, or one carrying and slack in the other.
func (f *StrandFigures) schools(s *rig.StrandView, c *fit.Context) {
	var at *rig.HoldView
	for _, p := range c.Rig.People {
		for _, h := range p.Holds {
			if h.Strand == s && (at == nil || h.Mass() > at.Mass()) {
				at = h
			}
		}
	}
	if at == nil {
		return
	}
	in := site.SpotOf(c.Rig, at, c.Policy).Share()
	out := mechanics.Share(in)
	work := out.Working()
	f.Figures = append(f.Figures,
		shown("if one of two goes, both carrying", out.Shared.PeakKN, work[:2]).note("with %v of the load on the other, it drops %v further", 100*quantity.Percent(in.Share), out.Shared.DropM),
		shown("one carrying, the other slack", out.Slack.PeakKN, work[2:]).note("with %v of slack it drops %v", in.SlackM, out.Slack.DropM))
}

func spare(m quantity.Metres) string {
	if m < 0 {
		return (-m).String() + " too short"
	}
	return m.String() + " to spare"
}

func holdReport(h *rig.HoldView, c *fit.Context) HoldFigures {
	f := HoldFigures{Person: h.Person.ID, Hold: h.ID, Load: finding.Fig("load at rest", h.Load())}
	f.Path, f.Weakest = fit.Path(h, c)
	s := site.SpotOf(c.Rig, h, c.Policy)
	if h.Role() == rig.ToBackUp {
		f.backup(s, c)
	} else {
		f.bearing(s)
	}
	return f
}

// backup gives the figures of a hold that catches a fall.
func (f *HoldFigures) backup(s site.Spot, c *fit.Context) {
	in, windSlack := s.Fall()
	fall := mechanics.FallInTime(in)
	there, name := fit.ClearanceThere(s.Hold, c.Rig.Geometry)
	clearance := shown("clearance needed", fall.ClearanceNeededM, fall.ClearanceWorking())
	limit := finding.Fig("free above "+name, there)
	clearance.Limit, clearance.Beyond = &limit, fall.ClearanceNeededM > there && !s.Hold.Person.Grounded
	f.Figures = append(f.Figures,
		shown("arrest force", fall.PeakKN, fall.PeakWorking()).most("ceiling", s.Policy.ArrestCeilingKN),
		shown("likely", fall.LikelyKN, fall.Working()[len(fall.Working())-1:]), clearance)
	if wind, rolls := s.Wind(); rolls && s.Rig.WindMS > 0 {
		out := mechanics.Wind(wind)
		w := shown("wind draws", windSlack, out.Working()).most("limit", s.Policy.WindSlackM)
		switch {
		case wind.Parked:
			w.Note = "parked: nothing runs"
		case out.LimitWindMS != nil:
			w = w.note("park the wheel from %v of wind here", *out.LimitWindMS)
		default:
			w.Note = "no wind up to 60 m/s draws the limit here"
		}
		f.Figures = append(f.Figures, w)
	}
	if in.LanyardM > 0 {
		f.Fall = &FallAsked{in, spreadOf(in, s.Policy)}
	}
}

// spreadOf is how far from the truth what is stated about a fall may be.
func spreadOf(in mechanics.FallIn, p *policy.Policy) map[string]calc.Spread {
	plus := func(v float64) calc.Spread { return calc.Spread{PlusMinus: &v} }
	list := map[string]calc.Spread{
		"device_above_attachment_m": plus(float64(p.Unsure.HeightM)),
		"elongation_pct":            plus(float64(in.ElongationPct) * float64(p.Unsure.ElongationPart)),
	}
	if p.Unsure.MassKg < in.MassKg {
		list["mass_kg"] = plus(float64(p.Unsure.MassKg))
	}
	return list
}

// bearing gives the figures of a hold that bears its person.
func (f *HoldFigures) bearing(s site.Spot) {
	in, _ := s.Fall()
	fall := mechanics.Fall(in)
	f.Figures = append(f.Figures, shown("peak if loaded at once", fall.PeakKN, fall.PeakWorking()))
	stretch := mechanics.Stretch(s.Stretch())
	dip, seconds := stretch.Bounce()
	f.Figures = append(f.Figures, shown("stretch here", stretch.StretchM, stretch.Working()).most("limit", s.Policy.StretchM).
		note("bounces by %v each way, once in %.1f s", dip, seconds))
	if lower, ok := s.Lower(); ok {
		f.Figures = append(f.Figures, hand(s, lower))
	}
	if _, ok := s.Heat(); ok {
		f.Figures = append(f.Figures, temperature(s))
	}
	for _, o := range s.Hold.Person.Holds {
		if o.Role() != rig.ToBackUp {
			continue
		}
		// If this hold lets go, the body swings on the other.
		about := site.SpotOf(s.Rig, o, s.Policy)
		if swing, err := mechanics.Swing(about.Swing(s.Hold)); err == nil && swing.EqualDropM > 0 {
			f.Figures = append(f.Figures, shown("swing if it fails", swing.SpeedMS, swing.Working()).note("as hard as a drop of %v, on %s", swing.EqualDropM, o.Strand.Name))
		}
		break
	}
}

// hand is what the device asks of the hand, with what to add or leave out.
func hand(s site.Spot, in mechanics.LowerIn) Shown {
	out := mechanics.Lower(in)
	w := shown("hand on the brake", out.HandKN, out.Working()).most("limit for long", s.Policy.GripKN)
	bend := in
	bend.WrapsDeg = append(bend.WrapsDeg, s.Hold.Device.Model.Device.Friction.Bend())
	switch {
	case out.HandKN > s.Policy.GripMostKN && mechanics.Lower(bend).HandKN <= s.Policy.GripKN:
		return w.note("more than a hand holds at all, %v: add a friction bend", s.Policy.GripMostKN)
	case out.HandKN > s.Policy.GripMostKN:
		return w.note("more than a hand holds at all, %v, and a friction bend is not enough", s.Policy.GripMostKN)
	case out.HandKN > s.Policy.GripKN && mechanics.Lower(bend).HandKN <= s.Policy.GripKN:
		return w.note("add a friction bend")
	case !out.RunsByItself:
		return w.note("does not run by itself: %v hang below, it frees below %v", in.HangingM, *out.FreesBelowM)
	case out.FreesBelowM != nil:
		return w.note("runs freely with less than %v hanging below", *out.FreesBelowM)
	}
	return w
}

// temperature is that of the device when the person has come down the whole
// strand in one go.
func temperature(s site.Spot) Shown {
	s.At = s.Hold.Strand.ToM
	in, _ := s.Heat()
	out, err := mechanics.Heat(in)
	if err != nil {
		out = mechanics.HeatEnd(in)
	}
	w := shown("device at the bottom", out.EndC, out.Working())
	if in.LimitC > 0 {
		w = w.most("sheath limit", in.LimitC)
	}
	if out.FastestMS != nil {
		return w.note("at %v; no faster than %v", in.SpeedMS, *out.FastestMS)
	}
	return w.note("at %v", in.SpeedMS)
}
