package ask_test

import (
	"math"
	"slices"
	"testing"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
)

// What hauling asks is by the kit's own pulleys, in closed form for 1:1, 2:1 and 3:1;
// the schools are the springs of package mechanics, and a lost strand drops less the
// higher the load hangs.
func TestTeamFigures(t *testing.T) {
	asked := ask.TeamAsked{Drop: *demo.Drops()["basin-wall"], Move: "prove-brake"}
	weight := float64(asked.Drop.Team.Load.MassKg) * 9.80665 / 1000
	for _, e := range []float64{1, 0.92, 0.5} {
		for i := range asked.Drop.Models {
			m := &asked.Drop.Models[i]
			if m.Pulley != nil {
				m.Pulley.Efficiency = quantity.Ratio(e)
			}
			if m.ID == "brake-a" {
				m.Device.Friction.TakeInPart = quantity.Ratio(e)
			}
		}
		asked.Drop.Policy.EdgePart = &policy.EdgePart{Roller: 1, Pad: 1, Sleeve: 1, None: 1}
		answer, err := asked.Answer(t.Context(), ask.Env{})
		if err != nil {
			t.Fatal(err)
		}
		pull := map[int]float64{2: 1 + e, 3: 1 + e + e*e}
		for _, h := range answer.Figures.Hauls {
			if factor, known := pull[h.Ratio]; known && math.Abs(float64(h.HandKN)-weight/factor) > 1e-6 {
				t.Errorf("%d:1 with pulleys of %v: %v, closed form %v", h.Ratio, e, h.HandKN, weight/factor)
			}
			if float64(h.Needed) != math.Ceil(float64(h.HandKN)/0.2-1e-9) {
				t.Errorf("%d:1: %v takes %d haulers", h.Ratio, h.HandKN, h.Needed)
			}
		}
		last := answer.Figures.Schools[0]
		for _, s := range answer.Figures.Schools[1:] {
			if s.AtM >= last.AtM || s.Slack.DropM <= last.Slack.DropM || s.Shared.DropM <= last.Shared.DropM || s.Shared.DropM >= s.Slack.DropM {
				t.Errorf("%+v after %+v", s, last)
			}
			last = s
		}
	}
	asked.Drop.Team = nil
	if _, err := asked.Answer(t.Context(), ask.Env{}); err == nil {
		t.Error("a team where nothing is rigged")
	}
}

// A knot's figures by springs of one's own, what the schools' crossings say by the
// figures beside them on both sides, and the hands by the rope that hangs with the load.
func TestTeamKnotsAndHeights(t *testing.T) {
	asked := ask.TeamAsked{Drop: *demo.Drops()["basin-wall"]}
	answer, err := asked.Answer(t.Context(), ask.Env{})
	if err != nil {
		t.Fatal(err)
	}
	f := answer.Figures
	kg := float64(asked.Drop.Team.Load.MassKg)
	near := func(what string, got, want float64) {
		t.Helper()
		if math.Abs(got-want) > 0.011 {
			t.Errorf("%s: %g, by hand %g", what, got, want)
		}
	}
	// A rope of e % between 50 and 150 kg is a spring of 1 kN·kg/(e/100); 2 m on the level
	// and 1.4 m up lie before the edge, which takes 0.3 m, and 80 diameters go into the knot
	// at the load: a knot 22 m from the load is at its brake with that much less below.
	stretch := func(m, pct float64) float64 { return m * kg / 100 * pct / 100 }
	k := f.Knots[0]
	near("settle", float64(k.SettleM), 0.05+stretch(0.4, 4)+stretch(0.7, 3.6)+0.005)
	near("stop", float64(k.AtM), 47.4-(22-math.Hypot(2, 1.4)-0.3-80*0.0105)+float64(k.SettleM)+0.03)
	near("needs", float64(k.NeedsM), 0.03+0.2+0.1+stretch(0.7, 3.6))
	if !k.Settles || !k.Ready || len(f.Knots) != 1 {
		t.Errorf("%+v", f.Knots)
	}
	// A knot that is marked on a strand counts as one of its line: so far from the rope's end,
	// of 60 m from 48.8 m high, with 170 diameters in knots and tails and 0.3 m at the edge.
	marked := copyOf(t, demo.Drops()["basin-wall"])
	marked.Strands[1].Marks = []rig.Mark{{ID: "k", Kind: rig.KnotMark, HeightM: 10}}
	itemOf(marked, "rope-6").LengthM = 60
	with, err := (&ask.TeamAsked{Drop: *marked}).Answer(t.Context(), ask.Env{})
	if err != nil {
		t.Fatal(err)
	}
	knots := with.Figures.Knots
	if len(knots) != 2 || knots[1].Line != "belay" {
		t.Fatalf("%+v", knots)
	}
	near("a knot that is marked", float64(knots[1].KnotM), 10-48.8+60-0.3-170*0.011)
	// Each crossing is where one thing is so above and not below.
	at := func(h float64) (slack, shared, peak float64) {
		best, list := 0, answer.Heights
		for i := range list {
			if math.Abs(list[i]-h) < math.Abs(list[best]-h) {
				best = i
			}
		}
		return answer.Curves[1].Lines[0].Values[best], answer.Curves[1].Lines[1].Values[best], answer.Curves[0].Lines[0].Values[best]
	}
	edge := float64(f.Schools[0].Slack.DropM)
	for i, over := range map[int]func(h float64) bool{
		1: func(h float64) bool { _, _, peak := at(h); return peak > float64(f.CeilingKN) },
		2: func(h float64) bool { slack, _, _ := at(h); return slack < h },
		3: func(h float64) bool { _, shared, _ := at(h); return shared < h },
		4: func(h float64) bool { _, shared, _ := at(h); return shared < edge },
	} {
		c := f.Crosses[i]
		if c.AtM == nil {
			if over(0.5) != over(46) {
				t.Errorf("%+v", c)
			}
			continue
		}
		if h := float64(*c.AtM); over(h-1) == over(h+1) && i != 1 || over(h-1) {
			t.Errorf("%s at %g", c.Words, h)
		}
	}
	if f.Crosses[0].AtM != nil {
		t.Errorf("%+v", f.Crosses[0])
	}
	hands := answer.Curves[2].Lines[0].Values
	hanging := 47.4 * 71.0 / 1000 / kg
	near("hands at the landing against those at the edge", hands[0]/hands[len(hands)-1], 1+hanging)
	// What is asked of one's own list of calls is what is called.
	asked.Drop.Team.Calls = []rig.TeamCall{{Do: "lower", Call: "Easy down"}}
	asked.Move, asked.FromM = "lower-past-knot", new(quantity.Metres)
	*asked.FromM = 40
	if answer, err = asked.Answer(t.Context(), ask.Env{}); err != nil || answer.Plan.Steps[0].Call != "Easy down" || answer.Plan.Steps[0].Answer != "Easy down" {
		t.Errorf("%v %+v", err, answer.Plan.Steps[0])
	}
}

// What is wrong with a team's rig is found by its rule, and by no other way it is not:
// each fault alone, put into a rig in which nothing but the haulers is short.
func TestTeamFindings(t *testing.T) {
	model := func(d *drop.Document, id string) *gear.Model {
		for i := range d.Models {
			if d.Models[i].ID == id {
				return &d.Models[i]
			}
		}
		t.Fatal(id)
		return nil
	}
	rules := func(d *drop.Document) map[string]bool {
		report, err := check.Drop(t.Context(), d, nil, check.WithFigures)
		if err != nil {
			t.Fatal(err)
		}
		fired := map[string]bool{}
		for _, f := range report.Findings {
			fired[f.Rule] = true
			if f.What == "" || f.Remedy == "" || f.Source == "" {
				t.Errorf("%+v says too little", f)
			}
		}
		return fired
	}
	sound := rules(demo.Drops()["basin-wall"])
	spoils := map[string]func(*drop.Document){
		"team.sight":      func(d *drop.Document) { d.Team.OutOfSight, d.Team.Lowering = true, "shared" },
		"load.rated":      func(d *drop.Document) { model(d, "brake-a").Device.Modes[1].MaxKg = 160 },
		"rope.diameter":   func(d *drop.Document) { model(d, "brake-a").Device.Modes[1].Ropes[0].MinMM = 10.8 },
		"load.two-person": func(d *drop.Document) { d.Team.Kit = d.Team.Kit[:5] },
		"load.margin":     func(d *drop.Document) { model(d, "rope-105").StrengthKN = 25 },
		"load.wll":        func(d *drop.Document) { model(d, "brake-a").WorkingLoads[1].Mass = 150 },
		"kit.missing":     func(d *drop.Document) { d.Team.Haul = &rig.TeamHaul{System: "9:1"} },
		"team.grip":       func(d *drop.Document) { model(d, "brake-a").Device.Friction.BaseRatio = 8 },
		"team.jam":        func(d *drop.Document) { d.Team.Haulers = 20 },
		"team.haul":       func(d *drop.Document) { loss := quantity.Metres(2); d.Policy.ResetLossM = &loss },
		"team.rope":       func(d *drop.Document) { d.Team.BackM = new(quantity.Metres); *d.Team.BackM = 61 },
		"team.kit":        func(d *drop.Document) { model(d, "pulley-a").Pulley.LargestDiameterMM = 9 },
		"team.knot":       func(d *drop.Document) { model(d, "hitch-a").Hitch.ExtendsM = 0.3 },
		"team.arrest":     func(d *drop.Document) { slack := quantity.Metres(3); d.Policy.BelaySlackM = &slack },
		"team.slip":       func(d *drop.Document) { model(d, "grab-a").Device.SlipKN = 0.8 },
		"load.teeth": func(d *drop.Document) {
			model(d, "grab-a").Device.Teeth = []gear.TeethLimit{{DiameterMM: 8, HarmKN: 0.5}}
		},
		"device.descent-limit": func(d *drop.Document) {
			model(d, "brake-a").Device.Heat = &gear.DeviceHeat{SpecificHeat: 100, CoolingWK: 0.1, Share: 1}
		},
		"service.function-check": func(d *drop.Document) { d.Checks = nil },
	}
	for _, r := range team.RigRules {
		if spoils[r.ID] == nil && r.ID != "team.haulers" {
			t.Errorf("%s has no trial", r.ID)
		}
	}
	enough := copyOf(t, demo.Drops()["basin-wall"])
	enough.Team.Haulers = 6
	if !sound["team.haulers"] || rules(enough)["team.haulers"] {
		t.Error("team.haulers fires with six, or does not with three")
	}
	// What grips the main in a haul minds the state of its rope, as its leaflet says.
	for condition, minds := range map[gear.Condition]bool{gear.Muddy: true, gear.Wet: false} {
		d := copyOf(t, demo.Drops()["basin-wall"])
		model(d, "brake-a").Device.RopeEffects = []gear.RopeEffect{{Condition: condition, Change: "no-change"}}
		for i := range d.Items {
			if d.Items[i].ID == "rope-5" {
				d.Items[i].Condition = condition
			}
		}
		if rules(d)["rope.condition"] != minds {
			t.Errorf("%s: %v", condition, rules(d))
		}
	}
	// A connector in a bend is not at a pulley too.
	fewer := copyOf(t, demo.Drops()["basin-wall"])
	for n := 6; n > 1; n-- {
		if rules(fewer)["kit.missing"] != (n < 3) {
			t.Errorf("with %d connectors: %v", n, rules(fewer))
		}
		fewer.Team.Kit = fewer.Team.Kit[:len(fewer.Team.Kit)-1]
	}
	// What does not lock hangs no pulley.
	unlocked := copyOf(t, demo.Drops()["basin-wall"])
	plain := *model(unlocked, "connector-pear")
	gate := *plain.Connector
	gate.Gate, plain.ID, plain.Connector = "plain", "connector-plain", &gate
	unlocked.Models = append(unlocked.Models, plain)
	for i := range unlocked.Items {
		if id := unlocked.Items[i].ID; slices.Contains(unlocked.Team.Kit, id) && unlocked.Items[i].Model == "connector-pear" {
			unlocked.Items[i].Model = plain.ID
		}
	}
	if found := rules(unlocked); !found["connector.gate"] || !found["kit.missing"] || sound["connector.gate"] {
		t.Errorf("connectors of a kit that do not lock: %v", found)
	}
	for _, c := range []struct {
		more  quantity.Metres
		found bool
	}{{-0.01, false}, {0.01, true}} {
		d := copyOf(t, demo.Drops()["basin-wall"])
		for i := range d.Items {
			if d.Items[i].ID == "rope-5" {
				d.Team.Main.KnotsM = []quantity.Metres{22, d.Items[i].LengthM + c.more}
			}
		}
		if rules(d)["team.rope"] != c.found {
			t.Errorf("a knot %v beyond the end of the rope: found is %v", c.more, !c.found)
		}
	}
	for rule, spoil := range spoils {
		d := copyOf(t, demo.Drops()["basin-wall"])
		spoil(d)
		if fired := rules(d); !fired[rule] || sound[rule] {
			t.Errorf("%s: fires %v, and %v on the sound rig", rule, fired[rule], sound[rule])
		}
	}
}

// The belay is no weaker than what it is there for: all of the load, with its rope. Where a
// strand fails the other one sees no more than the ceiling, by the school that is used.
func TestBelayBearsAll(t *testing.T) {
	fires := func(rule string, change func(d *drop.Document)) bool {
		t.Helper()
		d := copyOf(t, demo.Drops()["basin-wall"])
		change(d)
		report, err := check.Drop(t.Context(), d, nil, check.WithFigures)
		if err != nil {
			t.Fatal(err)
		}
		return slices.ContainsFunc(report.Findings, func(f finding.Finding) bool { return f.Rule == rule })
	}
	// 165 kg, and 48.8 m of the belay's rope, five times; two legs 53.13° apart bear 0.559 each.
	all := (165 + 48.8*0.078) * 9.80665 / 1000
	connector := func(d *drop.Document, kN float64) {
		m := *modelOf(d, d.Team.Belay.Connector)
		m.ID, m.StrengthKN = "connector-x", quantity.Kilonewtons(kN)
		d.Models = append(d.Models, m)
		itemOf(d, d.Team.Belay.Connector).Model = m.ID
	}
	leg := func(d *drop.Document, kN float64) {
		for i := range d.Anchors[1].Legs {
			d.Anchors[1].Legs[i].StrengthKN = quantity.Kilonewtons(kN)
		}
	}
	for what, c := range map[string]struct {
		needs float64
		set   func(*drop.Document, float64)
	}{"the connector": {5 * all, connector}, "a leg of the anchor": {5 * all / 2 / math.Cos(math.Atan(0.5)), leg}} {
		for _, less := range []float64{-0.01, 0.01} {
			if got := fires("load.margin", func(d *drop.Document) { c.set(d, c.needs+less) }); got != (less < 0) {
				t.Errorf("%s with %g kN: %v", what, c.needs+less, got)
			}
		}
	}
	answer, err := (&ask.TeamAsked{Drop: *demo.Drops()["basin-wall"]}).Answer(t.Context(), ask.Env{})
	if err != nil {
		t.Fatal(err)
	}
	edge, below := answer.Figures.Schools[0], answer.Figures.Schools[1]
	for school, peak := range map[string]quantity.Kilonewtons{
		"": edge.Slack.PeakKN, "shared": max(edge.Shared.PeakKN, edge.BelayFails.PeakKN), "mixed": max(edge.Slack.PeakKN, below.Shared.PeakKN, below.BelayFails.PeakKN),
	} {
		for _, less := range []quantity.Kilonewtons{0, 1e-6} {
			if got := fires("team.arrest", func(d *drop.Document) { d.Team.Lowering, d.Policy.ArrestCeilingKN = school, peak-less }); got != (less > 0) {
				t.Errorf("%q under a ceiling of %v: %v", school, peak-less, got)
			}
		}
	}
	// Brakes that lie lower than the edge run over it, unless they stand at it; and a load does
	// not begin higher above what its strands come down from than somebody stands.
	low := func(back, anchors, top quantity.Metres) func(*drop.Document) {
		return func(d *drop.Document) {
			d.Team.BackM, d.Anchors[0].HeightM, d.Anchors[1].HeightM, d.Geometry.TopM = &back, anchors, anchors, top
			d.Geometry.Edges[0].Protection = "none"
		}
	}
	for _, c := range []struct {
		change      func(*drop.Document)
		bare, above bool
	}{
		{low(2, 47, 48), true, false}, {low(0, 47, 48), false, false}, {low(2, 47, 48.7), true, false}, {low(2, 47, 48.71), true, true}, {low(0, 47, 48.31), false, true},
	} {
		if bare, above := fires("edge.bare", c.change), fires("strand.below", c.change); bare != c.bare || above != c.above {
			t.Errorf("%v %v, want %+v", bare, above, c)
		}
	}
}
