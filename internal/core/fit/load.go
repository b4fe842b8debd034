package fit

import (
	"fmt"
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// LoadRated is load.rated: the mass on the hold must lie in the rated range of
// the mode, and of an absorber in the path; both ends belong to the range.
func LoadRated(h *rig.HoldView, _ *Context) []finding.Finding {
	mass := h.Mass()
	found := outOfRange(h, h.Device, mass, h.Mode.MinKg, h.Mode.MaxKg, fmt.Sprintf(" in mode %q", h.Mode.Name))
	for _, l := range h.Links {
		if a := l.Model.Absorber; a != nil {
			found = append(found, outOfRange(h, l.Piece, mass, a.MinKg, a.MaxKg, "")...)
		}
	}
	return found
}

func outOfRange(h *rig.HoldView, p *rig.Piece, mass, low, high quantity.Kilograms, mode string) []finding.Finding {
	if mass >= low && mass <= high {
		return nil
	}
	limit := high
	word, why := "above", "Above its rating a device may not stop the load, or be damaged by it."
	if mass < low {
		limit = low
		word, why = "below", "Below its rating a device may not lock or not let go, and an absorber stays shut too long."
	}
	held, atMost := quantity.Beside(mass, limit)
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.LinkSubject(p),
		What: fmt.Sprintf("%s on %s is %s its limit of %s: it is rated from %v to %v%s.", held, p.Item.Label, word, atMost, low, high, mode),
		Figures: []finding.Figure{
			finding.Fig("mass", mass), finding.Fig("rated from", low), finding.Fig("rated to", high),
		},
		Why:    why,
		Remedy: fmt.Sprintf("Use a device or mode rated for %v, or change the load.", mass),
		Source: manufacturer(p.Model),
	})
}

// LoadTwoPerson is load.two-person: a second person, told on any hold of the
// person, only where every hold is in a mode rated for two, with whatever that
// mode then needs in place.
func LoadTwoPerson(h *rig.HoldView, c *Context) []finding.Finding {
	if h.Second() == 0 {
		return nil
	}
	on := 2
	if t := c.Rig.Team; t != nil && h.Person == t.Body {
		on = t.Load.Persons
	}
	persons := []finding.Figure{finding.Fig("persons", quantity.Count(on)), finding.Fig("rated for", quantity.Count(h.Mode.Persons)), finding.Fig("mass", h.Mass())}
	if h.Mode.Persons < on {
		return one(finding.Finding{
			Severity: finding.Stop, Subject: h.Subject(), Figures: persons,
			What:   fmt.Sprintf("%d persons, %v, on %s in mode %q, which is rated for %d.", on, h.Mass(), h.Device.Item.Label, h.Mode.Name, h.Mode.Persons),
			Why:    "More persons than a device is rated for may run away or tear it.",
			Remedy: "Use a mode or a device rated for as many, or further sets for the others.",
			Source: manufacturer(h.Device.Model),
		})
	}
	missing := ""
	switch {
	case h.Mode.Needs == gear.ExtraFriction && !h.ExtraFriction:
		missing = "the extra friction bend"
	case h.Mode.Needs == gear.SecondConnector && connectors(h) < 2:
		missing = "the second connector"
	default:
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Look, Subject: h.Subject(), Figures: append(persons, finding.State("missing", missing)),
		What:   fmt.Sprintf("%s in mode %q needs %s for two persons; it is missing.", h.Device.Item.Label, h.Mode.Name, missing),
		Why:    "Without it one hand cannot hold two persons.",
		Remedy: fmt.Sprintf("Put %s in before the second weight comes on.", missing),
		Source: manufacturer(h.Device.Model),
	})
}

func connectors(h *rig.HoldView) int {
	n := 0
	for _, l := range h.Links {
		if l.Model.Connector != nil {
			n++
		}
	}
	return n
}

// part is one component of a load path with its strength and limit; 0 where
// they are not known.
type part struct {
	subject  finding.Subject
	label    string
	strength quantity.Kilonewtons
	// derated says what the strength is multiplied by, in words.
	derated string
	// factor is what the strength of the component by itself was multiplied by; 0 for 1.
	factor  quantity.Ratio
	working []finding.Working
	limit   quantity.Kilonewtons
	// load is what it bears at rest; when says when, empty for as the rig is.
	load quantity.Kilonewtons
	when string
	// leg is the point of the structure of an anchor's leg.
	leg     string
	textile bool
	// model is whose instructions the figures come from; nil for an anchor.
	model *gear.Model
}

func (p part) source() string {
	if p.model == nil {
		return "strength of the leg as entered"
	}
	return manufacturer(p.model)
}

// PathPart is one component of a load path as a screen shows it.
type PathPart struct {
	Label string `json:"label"`
	Item  string `json:"item,omitempty" doc:"item id; left out for the leg of an anchor"`
	// Margin is strength divided by load at rest; left out where the strength
	// is not known.
	Margin   float64 `json:"margin,omitempty"`
	Wanted   float64 `json:"wanted" doc:"required margin"`
	Strength string  `json:"strength" doc:"as people read it"`
	Text     string  `json:"text" doc:"the margin as people read it"`
	// Working tells how strength, load and margin were got.
	Working []finding.Working `json:"working"`
}

// Path gives the components of a hold's load path with their margins, and the
// label of the one whose margin is the smallest part of what is requested.
func Path(h *rig.HoldView, c *Context) (parts []PathPart, weakest string) {
	least := math.Inf(1)
	for _, p := range path(h, c) {
		wanted := c.Policy.Factor(p.textile)
		view := PathPart{Label: p.label, Item: p.subject.Item, Wanted: float64(wanted), Strength: "not known", Text: "not known",
			Working: append(p.working[:len(p.working):len(p.working)], weight(p.load))}
		if p.strength > 0 {
			margin := quantity.Ratio(p.strength / p.load)
			view.Working = append(view.Working, finding.Work("margin of "+p.label, "strength / load at rest", margin, "high for worn gear and while anything moves: only weight at rest counts",
				finding.Fig("strength", p.strength), finding.Fig("load", p.load), finding.Fig("required", wanted)))
			view.Margin, view.Strength, view.Text = float64(margin), p.strength.String()+p.derated, quantity.Text(margin)+" ×"
			if left := float64(margin / wanted); left < least {
				least, weakest = left, p.label
			}
		}
		parts = append(parts, view)
	}
	return parts, weakest
}

// path gives every component between the harness and the structure: device,
// links, harness (which bears its own wearer only), the ropes with their weakest knot, and each leg of each
// anchor with its tension by statics; where that cannot be determined, a leg is taken
// to see the whole load.
//
// A team's brakes have none here: what their parts bear is worked out with the rig that
// they are built into.
func path(h *rig.HoldView, c *Context) []part {
	if h.Role() == rig.ToLower {
		return nil
	}
	if list, done := c.paths[h]; done {
		return list
	}
	list := make([]part, 0, 16)
	list = append(list, component(h, h.Device, h.Mode.Name))
	for _, l := range h.Links {
		list = append(list, linkPart(h, l))
	}
	if p := h.Person.Harness; p != nil {
		harness := component(h, p, "")
		harness.load = quantity.Weight(h.Person.MassKg)
		list = append(list, harness)
	}
	for _, r := range h.Strand.Ropes {
		list = append(list, ropePart(h, r, c))
	}
	list = append(list, legParts(h, h.Strand.SectionAt(h.Person.AtM), hanging(h.Strand, h.HeightM()))...)
	if c.paths == nil {
		c.paths = map[*rig.HoldView][]part{}
	}
	c.paths[h] = list
	return list
}

// legParts are the legs that a section of a hold's strand hangs from, with the rope below it.
func legParts(h *rig.HoldView, s rig.Section, rope quantity.Kilonewtons) (list []part) {
	for _, a := range s.Anchors {
		for i, leg := range a.Legs {
			if a.Part(i) == 0 {
				continue // it hangs slack, or beside the load
			}
			list = append(list, part{
				subject: finding.Subject{Kind: finding.Anchor, ID: a.ID, Label: a.Name, Strand: h.Strand.ID, Person: h.Person.ID, Hold: h.ID},
				label:   "leg " + leg.ID + " of " + a.Name, leg: leg.ID, working: legWorking(h, a, i), strength: leg.StrengthKN, limit: leg.WorkKN, load: (h.Load() + rope) * quantity.Kilonewtons(a.Part(i)),
			})
		}
	}
	return list
}

// legWorking tells which part of the load a leg bears.
func legWorking(h *rig.HoldView, a *rig.AnchorView, leg int) []finding.Working {
	part := a.Part(leg)
	formula, errs := "T = Σ T_i u_i = −F, by statics", "low while anything moves"
	if a.Parts == nil {
		formula, errs = "the whole load: "+a.WhyUnshared, "high up to 120° between legs"
	}
	return []finding.Working{finding.Work("part of the load on the leg", formula, part, errs, finding.Fig("load at rest", h.Load()))}
}

// linkPart is a link with the strength it has as it lies: across, or with its gate open,
// a connector holds a fraction.
func linkPart(h *rig.HoldView, l rig.LinkView) part {
	p := component(h, l.Piece, "")
	k := l.Model.Connector
	if k == nil {
		return p
	}
	if l.Link.Lie == rig.LieAcross {
		p.strength, p.derated = k.AcrossKN, " across"
	}
	if l.Link.Gate == rig.GateOpen && (k.OpenKN < p.strength || p.strength == 0) {
		p.strength, p.derated = k.OpenKN, " with its gate open"
	}
	return p
}

// hanging is the weight of the rope that a strand's section at a height bears beside the load.
func hanging(s *rig.StrandView, at quantity.Metres) quantity.Kilonewtons {
	top, to := s.SectionAt(at).TopM, s.HangsTo(at)
	_, mass, _ := s.Rope(top, to)
	return quantity.Weight(quantity.Kilograms(float64(mass) / 1000 * max(0, float64(top-to))))
}

func component(h *rig.HoldView, p *rig.Piece, mode string) part {
	limit, _ := p.Model.WorkingLoad(mode)
	return part{
		subject: h.LinkSubject(p), label: p.Item.Label, strength: p.Model.StrengthKN, limit: limit, load: h.Load(),
		textile: p.Model.Class.Textile(), model: p.Model,
	}
}

// ropePart is a rope with its strength at its weakest knot.
func ropePart(h *rig.HoldView, r rig.RopePart, c *Context) part {
	k := c.Policy.KnotStrength
	factor, knot := k.EndLoop, "end loop"
	for _, m := range h.Strand.Marks {
		switch {
		case m.Kind == rig.JoinMark && k.Join < factor:
			factor, knot = k.Join, "join"
		case (m.Kind == rig.KnotMark || m.Kind == rig.RebelayMark) && k.MidLoop < factor:
			factor, knot = k.MidLoop, "mid-rope loop"
		}
	}
	if h.Knotted && k.MidLoop < factor {
		factor, knot = k.MidLoop, "knot that runs with it"
	}
	p := component(h, r.Piece, "")
	p.load += hanging(h.Strand, h.HeightM())
	p.factor = factor
	p.strength = r.Model.StrengthKN * quantity.Kilonewtons(factor)
	p.derated = " at its " + knot
	p.working = []finding.Working{finding.Work("strength at the knot", "breaking strength · knot factor", p.strength,
		"high for a worn or badly dressed knot",
		finding.Fig("breaking strength", r.Model.StrengthKN), finding.Fig("knot factor, "+knot, factor))}
	return p
}

// LoadWLL is load.wll: the weight at rest must not exceed the working load limit
// of any component for which one is known.
func LoadWLL(h *rig.HoldView, c *Context) []finding.Finding {
	return limits(path(h, c), h.Mass())
}

// limits is load.wll of some components under a mass; 0 for several bodies.
func limits(parts []part, mass quantity.Kilograms) []finding.Finding {
	var found []finding.Finding
	for _, p := range parts {
		if p.limit == 0 || p.load <= p.limit {
			continue
		}
		load, limit := quantity.Beside(p.load, p.limit)
		figures := []finding.Figure{finding.Fig("load at rest", p.load), finding.Fig("working load limit", p.limit)}
		if mass > 0 {
			figures = append(figures, finding.Fig("mass", mass))
		}
		found = append(found, finding.Finding{
			Severity: finding.Stop, Subject: p.subject,
			What:    fmt.Sprintf("%s on %s is above its working load limit of %s%s.", load, p.label, limit, p.when),
			Figures: figures,
			Why:     "A working load limit holds its maker's reserve for wear, knots and movement; above it that reserve is spent.",
			Remedy:  fmt.Sprintf("Use a component with a limit of at least %s, or a smaller load.", quantity.Up(p.load)),
			Source:  p.source(),
			Working: []finding.Working{weight(p.load)},
		})
	}
	return found
}

func weight(load quantity.Kilonewtons) finding.Working {
	return finding.Work("load at rest", "m g", load, "low while anything moves", finding.Fig("mass", quantity.Kilograms(load*1000/quantity.G))).As(finding.AtRest)
}

// LoadMargin is load.margin: strength divided by load at rest must reach the
// policy's factor. In the school of limits a component with a working load
// limit is left to load.wll and the force ceilings, and the factor is asked only
// of those without one. A component of unknown strength and limit is a note.
func LoadMargin(h *rig.HoldView, c *Context) []finding.Finding {
	return margins(path(h, c), c)
}

func margins(parts []part, c *Context) []finding.Finding {
	var found []finding.Finding
	for _, p := range parts {
		if c.Policy.Margins == "limits" && p.limit > 0 {
			continue
		}
		if p.strength == 0 {
			if p.limit == 0 {
				found = append(found, unknownStrength(p))
			}
			continue
		}
		want := c.Policy.Factor(p.textile)
		got := quantity.Ratio(p.strength / p.load)
		if got >= want {
			continue
		}
		margin, least := quantity.Beside(got, want)
		found = append(found, finding.Finding{
			Severity: finding.Stop, Subject: p.subject,
			What: fmt.Sprintf("%s holds %v%s: %s times the load of %v%s. The policy requires %s.",
				p.label, p.strength, p.derated, margin, p.load, p.when, least),
			Figures: []finding.Figure{
				finding.Fig("strength", p.strength), finding.Fig("load at rest", p.load), finding.Fig("margin", got), finding.Fig("required margin", want),
			},
			Why:     "The margin covers wear, knots, movement and what nobody thought of.",
			Remedy:  p.stronger(want),
			Source:  byPolicy(c.Policy),
			Working: append(p.working, weight(p.load)),
		})
	}
	return found
}

// stronger says what strength a component needs by itself, with what it loses at its
// knot made good.
func (p part) stronger(want quantity.Ratio) string {
	need := p.load * quantity.Kilonewtons(want)
	switch {
	case p.factor > 0:
		return fmt.Sprintf("Use a rope of at least %s, which is what it needs for its knot, or a smaller load.", quantity.Up(need/quantity.Kilonewtons(p.factor)))
	case p.derated != "":
		return fmt.Sprintf("Turn it along and lock its gate; or use a component that holds at least %s as it lies, or a smaller load.", quantity.Up(need))
	}
	return fmt.Sprintf("Use a component of at least %s, or a smaller load.", quantity.Up(need))
}

func unknownStrength(p part) finding.Finding {
	return finding.Finding{
		Severity: finding.Note, Subject: p.subject,
		What:    fmt.Sprintf("Neither a strength nor a working load limit of %s is entered, so its margin was not judged.", p.label),
		Figures: []finding.Figure{finding.Fig("load at rest", p.load), finding.State("strength", "not known")},
		Why:     "What is not known cannot be compared.",
		Remedy:  "Type in its strength or working load limit from the instructions or the anchor's record.",
		Source:  p.source(),
	}
}

// DeviceSlip is device.slip: what grips the rope slides from the force that its model states. At
// the weight on it that is a stop; at the peak of a fall onto it a look, since the figures of the
// fall leave out that it slides.
func DeviceSlip(h *rig.HoldView, _ *Context) []finding.Finding {
	slips, weight := h.Device.Model.Device.SlipKN, quantity.Weight(h.Mass())
	if slips == 0 {
		return nil
	}
	f := finding.Finding{
		Subject: h.Subject(), Source: manufacturer(h.Device.Model), Why: "What slides on the rope does not hold, and its sheath suffers.",
	}
	switch {
	case slips <= weight:
		force, limit := quantity.Beside(weight, slips)
		f.Severity, f.What = finding.Stop, fmt.Sprintf("%s slips at %s; the weight on it is %s.", h.Device.Item.Label, limit, force)
		f.Figures = []finding.Figure{finding.Fig("slips at", slips), finding.Fig("weight", weight)}
		f.Remedy = fmt.Sprintf("A device that holds more than %s.", force)
	case h.Figures.Peak != nil && h.Figures.Peak.Value > slips:
		peak := h.Figures.Peak.Value
		force, limit := quantity.Beside(peak, slips)
		f.Severity, f.What = finding.Look, fmt.Sprintf("A peak of %s is expected on %s, which slips at %s: one falls further than the figures say.", force, h.Device.Item.Label, limit)
		f.Figures, f.Working = []finding.Figure{finding.Fig("slips at", slips), finding.Fig("peak expected", peak)}, h.Figures.Peak.Working()
		f.Remedy = "Keep the rope above it tight, so that no slack can be fallen into."
	default:
		return nil
	}
	return one(f)
}

// LoadTeeth is load.teeth: the peak force expected on a toothed cam against the
// force at which its teeth begin to harm a sheath of this diameter. Above it a
// stop; from the policy's part of it a look.
func LoadTeeth(h *rig.HoldView, c *Context) []finding.Finding {
	d := h.Device.Model.Device
	if len(d.Teeth) == 0 || h.Figures.Peak == nil {
		return nil
	}
	var found []finding.Finding
	peak := h.Figures.Peak.Value
	for _, r := range h.Strand.Ropes {
		mm, _ := gear.Diameter(r.Item, r.Model)
		limit, listed := d.Harm(mm)
		if listed && peak < limit.HarmKN*quantity.Kilonewtons(c.Policy.TeethLook) {
			continue
		}
		f := finding.Finding{
			Severity: finding.Stop, Subject: h.Subject(),
			Figures: []finding.Figure{finding.Fig("peak expected", peak), finding.Fig("rope", mm)},
			Why:     "Teeth under shock strip the sheath and the device slides on the core.",
			Remedy:  "Keep the strand above it tight, so that no slack can be fallen into; or use a device without teeth.",
			Source:  manufacturer(h.Device.Model), Working: h.Figures.Peak.Working(),
		}
		switch {
		case !listed:
			f.Severity = finding.Look
			f.What = fmt.Sprintf("No sheath-harm force of %s is entered for a rope of %v; a peak of %v is expected.", h.Device.Item.Label, mm, peak)
		case peak > limit.HarmKN:
			force, harm := quantity.Beside(peak, limit.HarmKN)
			f.What = fmt.Sprintf("A peak of %s is expected on %s; its teeth begin to harm a rope of %v at %s.", force, h.Device.Item.Label, mm, harm)
			f.Figures = append(f.Figures, finding.Fig("sheath harm from", limit.HarmKN))
		default:
			f.Severity = finding.Look
			f.What = fmt.Sprintf("A peak of %v on %s comes near the %v at which its teeth begin to harm a rope of %v.", peak, h.Device.Item.Label, limit.HarmKN, mm)
			f.Figures = append(f.Figures, finding.Fig("sheath harm from", limit.HarmKN))
		}
		found = append(found, f)
	}
	return found
}
