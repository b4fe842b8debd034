package team

import (
	"cmp"
	"fmt"
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
)

// Braking is what a brake asks of the hand on its strand while the load is lowered.
type Braking struct {
	Line  string               `json:"line"`
	Brake string               `json:"brake"`
	Label string               `json:"label"`
	Mode  string               `json:"mode"`
	Known bool                 `json:"known" doc:"its friction is entered; else nothing is said of the hand"`
	TopKN quantity.Kilonewtons `json:"load_kN" doc:"on the brake, behind the edge"`
	// Adds are what can be added, from nothing on.
	Adds []Added `json:"adds"`
	// Best is the first of them that a hand can hold for long; -1: none.
	Best int `json:"best"`
	// Two says how the brake bears two persons.
	Two string `json:"two,omitempty"`
	// Heat at the end of the lower at the speed known, left out where it is not known.
	EndC      *quantity.Celsius         `json:"end_C,omitempty"`
	LimitC    quantity.Celsius          `json:"limit_C,omitempty"`
	FastestMS *quantity.MetresPerSecond `json:"fastest_m_s,omitempty" doc:"left out: any speed stays within the limit"`
	SpeedMS   quantity.MetresPerSecond  `json:"speed_m_s"`
	Working   []finding.Working         `json:"working"`
}

// Added is a way to add friction, with what is left for the hand.
type Added struct {
	Words  string               `json:"words"`
	HandKN quantity.Kilonewtons `json:"hand_kN"`
	// Held: for long; Most: for a moment. Stiff: the load hardly runs.
	Held  bool `json:"held"`
	Most  bool `json:"most"`
	Stiff bool `json:"stiff,omitempty"`
}

// MovingKN is the hand's force with what is best added; 0 where it is not known.
func (b *Braking) MovingKN() quantity.Kilonewtons {
	if !b.Known {
		return 0
	}
	return b.Adds[max(0, b.Best)].HandKN
}

// stiffKN is a brake strand force below which a load hardly moves.
const stiffKN = 0.005

// Brake works out what the brake of a line asks for. In shared tension it carries its
// part; a slack belay's brake is looked at as if the main had failed, with the whole.
func (r *Rig) Brake(name string) *Braking {
	v, p := r.lineView(name), r.setting.Policy
	m := v.Brake.Model
	share, belay := r.shares()
	if name == "belay" {
		share = cmp.Or(belay, 1)
	}
	_, part := r.edge()
	top := quantity.Kilonewtons(share * r.weight() * part)
	out := &Braking{Line: name, Brake: v.Brake.Item.ID, Label: v.Brake.Item.Label, Mode: v.Mode.Name, TopKN: top, Adds: []Added{}, Best: -1, SpeedMS: r.Measures.SpeedMS, Working: []finding.Working{}}
	r.two(name, out)
	if f := m.Device.Friction; f != nil {
		out.Known = true
		in := mechanics.LowerIn{LoadKg: quantity.Kilograms(top * 1000 / quantity.G), BaseRatio: f.BaseRatio, GripKN: p.GripKN, RopeGPerM: heaviest(v)}
		for i, rope := range v.Strand.Ropes { // of those that are joined the most slippery one comes through it too
			if mu := p.Friction.Of(rope.Item.Condition); i == 0 || mu < in.Mu {
				in.Mu = mu
			}
		}
		base := []quantity.Degrees{}
		if v.HandDeg > 0 {
			base = append(base, v.HandDeg)
		}
		for _, more := range []struct {
			words string
			turns []quantity.Degrees
		}{{"as it is", nil}, {"the added bend", []quantity.Degrees{f.Bend()}}, {"the bend and a turn round a post", []quantity.Degrees{f.Bend(), 180}}, {"the bend and two posts", []quantity.Degrees{f.Bend(), 180, 180}}} {
			in.WrapsDeg = append(base[:len(base):len(base)], more.turns...)
			low := mechanics.Lower(in)
			out.Adds = append(out.Adds, Added{more.words, low.HandKN, low.WithinGrip, low.HandKN <= p.GripMostKN, low.HandKN < stiffKN})
			if last := len(out.Adds) - 1; out.Best < 0 && low.WithinGrip && (last > 0 || out.Two != needsBend) {
				out.Best, out.Working = last, append(out.Working, low.Working()...)
			}
		}
	}
	r.heat(name, out, top)
	return out
}

const needsBend = "rated for two with the added bend"

// two says how a brake bears the persons of the load.
func (r *Rig) two(name string, out *Braking) {
	v := r.lineView(name)
	switch {
	case r.Load.Persons < 2:
	case v.Mode.Persons < 2:
		out.Two = "rated for one person only"
	case r.line(name).TwoPersons:
		out.Two = "rated for two as it is"
	default:
		out.Two = needsBend
	}
}

// heat is that of the lower from the edge to the landing in one go.
func (r *Rig) heat(name string, out *Braking, top quantity.Kilonewtons) {
	v, p := r.lineView(name), r.setting.Policy
	d := v.Brake.Model
	if d.Device.Heat == nil || d.MassG == 0 || r.EdgeM <= 0 {
		return
	}
	in := mechanics.HeatIn{
		LoadKg: quantity.Kilograms(top * 1000 / quantity.G), HeightM: r.EdgeM, SpeedMS: out.SpeedMS, DeviceG: d.MassG, SpecificHeat: d.Device.Heat.SpecificHeat,
		CoolingWK: d.Device.Heat.CoolingWK, HeatShare: d.Device.Heat.Share, AmbientC: *p.AirC,
	}
	for _, rope := range v.Strand.Ropes {
		if l := rope.Model.Rope.SheathLimitC; l > 0 && (in.LimitC == 0 || l < in.LimitC) {
			in.LimitC = l
		}
	}
	heat := mechanics.HeatEnd(in)
	if in.LimitC > in.AmbientC {
		if full, err := mechanics.Heat(in); err == nil {
			heat = full
			if full.FastestMS != nil && !math.IsInf(float64(*full.FastestMS), 0) {
				out.FastestMS = full.FastestMS
			}
		}
	}
	out.EndC, out.LimitC = &heat.EndC, in.LimitC
	out.Working = append(out.Working, heat.Working()...)
}

// Findings are those on the rig as it is built, beside those of the gear's fit: what a
// hand cannot hold, what gets too hot, what breaks too soon, what a jammed load does,
// and what is missing.
func (r *Rig) Findings() []finding.Finding {
	found := []finding.Finding{}
	for _, name := range []string{"main", "belay"} {
		found = append(found, r.brakeFindings(r.Brake(name))...)
		found = append(found, r.ropeFindings(name)...)
	}
	if how := r.Schools.Lowering; r.OutOfSight && (how == "shared" || how == "mixed") {
		found = append(found, r.found("team.sight", finding.Stop, "operators", "operators", "", "The load is to hang on both strands, and the operators do not see each other.", "Two who share a load let out the same rope at the same time; by ear alone they do not.", "Put them where they see each other, or lower with all of it on the main."))
	}
	found = append(found, r.knotFindings()...)
	found = append(found, r.kitFindings()...)
	loads, short := r.Loads()
	for i := range loads {
		found = append(found, r.loadFindings(&loads[i])...)
	}
	found = append(found, r.arrestFindings()...)
	b, out, err := r.Hauling()
	if err != nil {
		return append(found, r.found("team.haul", finding.Stop, "main-haul", "the haul", "", err.Error(), "It never gets the load up.", "Choose another haul, or a longer stroke."))
	}
	for _, c := range b.Chosen {
		if c.Item == "" {
			found = append(found, r.found("kit.missing", finding.Look, c.Part, "haul, part "+c.Part, "", fmt.Sprintf("The kit has no %s for the haul; a typical figure is used.", c.Part), "What is missing is not hauled with.", "Put it in the kit, or choose a simpler haul."))
		}
	}
	if short > 0 {
		found = append(found, r.found("kit.missing", finding.Look, "connectors", "connectors", "", fmt.Sprintf("The haul needs %s more than the kit has.", quantity.Count(short).Of("connector")), "Every pulley hangs from a connector.", "Put them in the kit."))
	}
	if out.HaulersNeeded > r.Haulers {
		found = append(found, r.found("team.haulers", finding.Look, "haulers", "haulers", "", fmt.Sprintf("This haul needs %s at %v each; available: %d.", quantity.Count(out.HaulersNeeded).Of("hauler"), r.setting.Policy.HaulerKN, r.Haulers), "Tired people let rope run back.", "Choose a greater ratio, or call more people."))
	}
	return append(found, r.jamFindings(b.Jam)...)
}

// arrestFindings say what the strand that is left sees where the other one fails, by the team's
// school, at the height where that is most.
func (r *Rig) arrestFindings() []finding.Finding {
	ceiling := r.setting.Policy.ArrestCeilingKN
	var at quantity.Metres
	var peak mechanics.SchoolOut
	for _, s := range r.schoolsAt() {
		if c := r.caught(s); c.PeakKN > peak.PeakKN {
			at, peak = s.AtM, c
		}
	}
	if peak.PeakKN <= ceiling {
		return nil
	}
	sees, limit := quantity.Beside(peak.PeakKN, ceiling)
	f := r.found("team.arrest", finding.Look, "belay", r.Load.Name, "", fmt.Sprintf("If a strand fails with the load at %v, the other one sees %s; the policy's ceiling is %s.", at, sees, limit),
		"Harnesses, rope and anchor see it all at once.", "Keep the belay tighter, share the load between both strands, or hang it on more rope.")
	f.Figures = []finding.Figure{finding.Fig("peak", peak.PeakKN), finding.Fig("ceiling", ceiling), finding.Fig("drop", peak.DropM)}
	return []finding.Finding{f}
}

// caught is what the failure of a strand does by the team's school: in the mixed one the load is
// shared from the edge down.
func (r *Rig) caught(s SchoolFigures) mechanics.SchoolOut {
	switch how := r.Schools.Lowering; {
	case how != "shared" && how != "mixed", how == "mixed" && s.AtM >= r.EdgeM:
		return s.Slack
	case s.BelayFails.PeakKN > s.Shared.PeakKN:
		return s.BelayFails
	}
	return s.Shared
}

func (r *Rig) jamFindings(j *Jam) []finding.Finding {
	for _, g := range j.Gives {
		if g.Passed {
			f := r.found("team.jam", finding.Look, g.Node, g.Label, "", fmt.Sprintf("If the load is caught and the haulers pull their most, %s sees %v: %s at %v.", g.Label, g.ForceKN, g.Limit, g.LimitKN),
				"Haulers feel a jam late; the first of these limits is met before anybody stops.", "Fewer haulers or a smaller ratio; somebody at the edge who calls a stop.")
			f.Figures = []finding.Figure{finding.Fig("force", g.ForceKN), finding.Fig("limit", g.LimitKN), finding.Fig("on the load line", j.LineKN), finding.Fig("at most", j.CeilingKN)}
			return []finding.Finding{f}
		}
	}
	return nil
}

func (r *Rig) found(rule string, s finding.Severity, id, label, item, what, why, remedy string) finding.Finding {
	return finding.Finding{
		Rule: rule, Severity: r.setting.Policy.Severity(rule, s), Subject: finding.Subject{Kind: finding.Item, ID: id, Label: label, Item: item}, What: what, Figures: []finding.Figure{}, Why: why, Remedy: remedy,
		Source: "team policy: " + r.setting.Policy.Name, Working: []finding.Working{},
	}
}

func (r *Rig) brakeFindings(b *Braking) (found []finding.Finding) {
	p := r.setting.Policy
	if !b.Known {
		return append(found, r.found("team.grip", finding.Note, b.Line, b.Label, b.Brake, "No friction of "+b.Label+" is entered: the force of the hand was not looked at.", "What is not known cannot be compared.", "Type in its ratio from the instructions."))
	}
	first := b.Adds[0]
	switch {
	case b.Best < 0:
		f := r.found("team.grip", finding.Stop, b.Line, b.Label, b.Brake, fmt.Sprintf("Nothing that can be added to %s brings the brake strand down to the %v that a hand holds for long.", b.Label, p.GripKN), "A hand that tires lets go.", "Another brake, or a smaller load.")
		f.Working = b.Working
		found = append(found, f)
	case b.Best > 0 && !first.Held:
		f := r.found("team.grip", finding.Look, b.Line, b.Label, b.Brake, fmt.Sprintf("The brake strand of %s wants %v as it is; a hand holds %v for long. With %s it wants %v.", b.Label, first.HandKN, p.GripKN, b.Adds[b.Best].Words, b.Adds[b.Best].HandKN), "A hand that tires lets go.", "Put in "+b.Adds[b.Best].Words+" before it is unparked.")
		f.Figures = []finding.Figure{finding.Fig("hand", first.HandKN), finding.Fig("for long", p.GripKN)}
		f.Working = b.Working
		found = append(found, f)
	case first.Stiff && b.Two != needsBend:
		found = append(found, r.found("team.grip", finding.Look, b.Line, b.Label, b.Brake, fmt.Sprintf("%s brakes so much that the load hardly runs: %v is left.", b.Label, first.HandKN), "A load that does not run is fed by hand, in jerks.", "Take friction out: a straighter brake strand."))
	}
	if b.EndC != nil && b.LimitC > 0 && *b.EndC > b.LimitC {
		fastest := "no speed keeps it below"
		if b.FastestMS != nil && *b.FastestMS > 0 {
			fastest = fmt.Sprintf("up to %v it stays below", *b.FastestMS)
		}
		hot, stands := quantity.Beside(*b.EndC, b.LimitC)
		f := r.found("device.descent-limit", finding.Stop, b.Line, b.Label, b.Brake, fmt.Sprintf("%s comes to %s at %v; the limit of the sheath is %s; %s.", b.Label, hot, b.SpeedMS, stands, fastest), "A hot brake melts the sheath where it stops.", "Lower more slowly, or rest on the way.")
		f.Working = b.Working
		found = append(found, f)
	}
	return found
}

// stronger says what strength a component needs by itself, with what it loses at its knot made
// good.
func (l *Load) stronger() string {
	need := l.LoadKN * quantity.Kilonewtons(l.Wanted)
	if l.factor > 0 {
		return fmt.Sprintf("A rope of at least %s, which is what it needs for its knot, or a smaller load.", quantity.Up(need/quantity.Kilonewtons(l.factor)))
	}
	return fmt.Sprintf("A component of at least %s, or a smaller load.", quantity.Up(need))
}

// loadFindings are load.margin, load.wll and load.teeth of one component.
func (r *Rig) loadFindings(l *Load) (found []finding.Finding) {
	add := func(rule string, s finding.Severity, what, why, remedy string, figures ...finding.Figure) {
		f := r.found(rule, s, l.Node, l.Label, l.Item, what, why, remedy)
		f.Figures, f.Working = figures, l.Working
		found = append(found, f)
	}
	if l.Margin > 0 && l.Margin < l.Wanted && (r.setting.Policy.Margins != "limits" || l.LimitKN == 0) {
		margin, least := quantity.Beside(l.Margin, l.Wanted)
		add("load.margin", finding.Stop, fmt.Sprintf("%s holds %v%s: %s times the %v on it %s. The policy requires %s.", l.Label, l.Strength, l.derated, margin, l.LoadKN, l.While, least),
			"The margin covers wear, knots, movement and what nobody thought of.", l.stronger(),
			finding.Fig("strength", l.Strength), finding.Fig("load", l.LoadKN), finding.Fig("margin", l.Margin), finding.Fig("required margin", l.Wanted))
	}
	if l.Strength == 0 && l.LimitKN == 0 {
		add("load.margin", finding.Note, fmt.Sprintf("Neither a strength nor a working load limit of %s is entered, so its margin was not judged.", l.Label),
			"What is not known cannot be compared.", "Type in its strength or working load limit from the instructions or the anchor's record.",
			finding.Fig("load", l.LoadKN), finding.State("strength", "not known"))
	}
	for _, limit := range l.limits {
		at := l.LoadKN
		if limit.side {
			at = l.sideKN * quantity.Kilonewtons(max(1, l.rope))
		}
		if at <= limit.kN || limit.words == "breaks" {
			continue
		}
		rule := map[string]string{"working load limit": "load.wll", "slips": "team.slip", "teeth harm the sheath": "load.teeth"}[limit.words]
		load, atMost := quantity.Beside(at, limit.kN)
		add(rule, finding.Stop, fmt.Sprintf("%s on %s %s: %s at %s.", load, l.Label, l.While, limit.words, atMost), "Beyond it the maker promises nothing.", "A stronger component, or a smaller load.",
			finding.Fig("load", at), finding.Fig("limit", limit.kN))
	}
	return found
}
