package callout_test

import (
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
)

func asJSON(v any) string {
	text, _ := json.Marshal(v)
	return string(text)
}

// ranged is how many ranges are tried: -ranged 1000 in a soak.
var ranged = flag.Int("ranged", 60, "ranges that are tried")

func asked(k callout.Known) *callout.Asked {
	g := demo.Gear()
	return &callout.Asked{Known: k, Day: demo.Day, Models: g.Models, Items: g.Items}
}

func card(t testing.TB, k callout.Known) *callout.Card {
	t.Helper()
	c, err := asked(k).Answer(t.Context())
	if err != nil {
		t.Fatalf("%s: %v", asJSON(k), err)
	}
	return c
}

// masses are what the domain takes for each load, written down apart from the package.
var masses = map[string][2]float64{"one": {80, 130}, "two": {160, 260}, "stretcher": {160, 280}}

// somebody's ranges, each of which may be unknown.
func ranges(r *rand.Rand) (k callout.Known) {
	span := func(least, most, wide float64) *callout.Span {
		low := least + r.Float64()*(most-least)
		return &callout.Span{LowM: quantity.Metres(low), HighM: quantity.Metres(low + r.Float64()*wide)}
	}
	if r.IntN(5) > 0 {
		k.HeightM = span(5, 80, 30)
	}
	if r.IntN(4) > 0 {
		k.BackM = span(0.5, 8, 6)
	}
	k.Edge = []string{"", "roller", "pad", "sleeve", "none", "free"}[r.IntN(6)]
	k.Ropes = []gear.Condition{"", gear.Dry, gear.Wet, gear.Icy}[r.IntN(4)]
	k.Load = []string{"", "one", "two", "stretcher"}[r.IntN(4)]
	if r.IntN(3) > 0 {
		k.Knots = new(r.IntN(2) > 0)
	}
	for i := range r.IntN(9) {
		k.People = append(k.People, callout.Comer{Name: fmt.Sprint("person ", i+1), ArrivesMin: r.IntN(40)})
	}
	k.Kits = [][]string{nil, {"van bag"}, {"van bag", "long bag"}}[r.IntN(3)]
	return k
}

// inside is the drop of a card moved to a random case inside what is known, or to one of its
// ends.
func inside(r *rand.Rand, k callout.Known, c *callout.Card, ends bool) *drop.Document {
	d := *c.Drop
	tr := *d.Team
	d.Team, d.Anchors, d.Strands = &tr, slices.Clone(d.Anchors), slices.Clone(d.Strands)
	between := func(low, high float64) float64 {
		if ends {
			return []float64{low, high}[r.IntN(2)]
		}
		return low + r.Float64()*(high-low)
	}
	h := float64(c.Rig.HeightM)
	if k.HeightM != nil {
		h = between(float64(k.HeightM.LowM), float64(k.HeightM.HighM))
	}
	back := between(0.5, 15)
	if k.BackM != nil {
		back = between(float64(k.BackM.LowM), float64(k.BackM.HighM))
	}
	edge := k.Edge
	if edge == "" {
		edge = []string{"roller", "pad", "sleeve", "none", "free"}[r.IntN(5)]
	}
	d.Geometry.TopM, d.Geometry.Edges = quantity.Metres(h), nil
	if edge != "free" {
		d.Geometry.Edges = []rig.Edge{{ID: "edge", Name: "edge", HeightM: quantity.Metres(h), Protection: edge}}
	}
	tr.BackM = new(quantity.Metres(back))
	load := k.Load
	if load == "" {
		load = []string{"one", "two", "stretcher"}[r.IntN(3)]
	}
	tr.Load.MassKg = quantity.Kilograms(between(masses[load][0], masses[load][1]))
	condition := []gear.Condition{gear.Dry, gear.Wet}[r.IntN(2)]
	if k.Ropes != "" {
		condition = k.Ropes
	}
	d.Items = slices.Clone(d.Items)
	for i := range d.Items {
		if d.Items[i].LengthM > 0 {
			d.Items[i].Condition = condition
		}
	}
	tr.Load.Persons, tr.Load.Stretcher = 2, load == "stretcher"
	if load == "one" {
		tr.Load.Persons = 1
	}
	for i := range d.Anchors {
		d.Anchors[i].HeightM = quantity.Metres(h + 1)
	}
	for i := range d.Strands {
		d.Strands[i].Marks = slices.Clone(d.Strands[i].Marks)
		for j := range d.Strands[i].Marks {
			d.Strands[i].Marks[j].HeightM = min(d.Strands[i].Marks[j].HeightM, quantity.Metres(h))
		}
	}
	return &d
}

// TestBounds holds cards to what they are: no case inside the ranges is worse than the card,
// some case at their ends comes within a twentieth of it, and where the card says that the
// ropes reach and a hand holds, a lower to the landing has a plan that breaks no rule.
func TestBounds(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	cases, points := *ranged, 12
	if cases >= 1000 {
		points = 50
	}
	lowered := 0
	for range cases {
		k := ranges(r)
		c := card(t, k)
		if c.Rig == nil {
			t.Fatalf("%s: no rig", asJSON(k))
		}
		tight := map[string]float64{}
		for n := range points + 1 {
			d := inside(r, k, c, false)
			if n == points {
				d = c.Drop
			}
			s, err := site.Open(d)
			if err != nil {
				t.Fatalf("%s: %v", asJSON(k), err)
			}
			rg := team.On(s)
			within(t, k, c, rg, tight)
			report, err := check.Drop(t.Context(), d, nil, check.FindingsOnly)
			if err != nil {
				t.Fatal(err)
			}
			for _, f := range report.Findings {
				if f.Severity == finding.Stop && fit.AboutChoice(f.Rule) && !slices.ContainsFunc(c.Findings, func(o finding.Finding) bool { return o.Rule == f.Rule && o.Severity == finding.Stop }) {
					t.Fatalf("%s: %s at %v is on no card: %s", asJSON(k), f.Rule, d.Geometry.TopM, f.What)
				}
			}
			if c.Reaches && c.Rig.Main.Held && c.Rig.Belay.Held && (n < 2 || cases >= 1000) {
				lowered++
				lowers(t, k, rg)
			}
		}
		loose := func() string {
			for what, best := range tight {
				if best < 0.95 {
					return fmt.Sprintf("%s is %.0f %% of what the card says at most", what, 100*best)
				}
			}
			return ""
		}
		for n := 0; n < 400 && loose() != ""; n++ {
			s, err := site.Open(inside(r, k, c, true))
			if err != nil {
				t.Fatal(err)
			}
			within(t, k, c, team.On(s), tight)
		}
		if what := loose(); what != "" {
			t.Errorf("%s: %s", asJSON(k), what)
		}
	}
	if lowered < cases/2 {
		t.Errorf("%d lowers were planned", lowered)
	}
}

// within holds one case against the card.
func within(t *testing.T, k callout.Known, c *callout.Card, r *team.Rig, tight map[string]float64) {
	t.Helper()
	least := func(what string, is, most float64) {
		if is > most*(1+1e-6)+1e-6 {
			t.Fatalf("%s: %s is %v, the card says %v", asJSON(k), what, is, most)
		}
		if most > 0 {
			tight[what] = max(tight[what], is/most)
		}
	}
	for i, l := range []*callout.Line{&c.Rig.Main, &c.Rig.Belay} {
		name := []string{"main", "belay"}[i]
		b := r.Brake(name)
		add := slices.IndexFunc(b.Adds, func(a team.Added) bool { return a.Words == l.Add })
		if l.Held && (add < 0 || !b.Adds[add].Held) {
			t.Fatalf("%s: %s at the %s is not held", asJSON(k), l.Add, name)
		}
		least("hand, "+name, float64(b.Adds[add].HandKN), float64(l.HandKN))
		// An anchor bears what the belay catches, and the easiest haul that the kits have.
		easiest := slices.MinFunc(slices.DeleteFunc(slices.Clone(c.Raise.Ways), func(w callout.RaiseWay) bool { return !w.Ready }), func(a, b callout.RaiseWay) int { return a.Needed - b.Needed })
		if b := c.Raise.Best; b >= 0 {
			easiest = c.Raise.Ways[b]
		}
		if c.Rig.AnchorKN < easiest.AnchorKN || c.Rig.AnchorKN < c.Rig.CatchKN {
			t.Fatalf("%s: an anchor of %v under %v by %s, caught with %v", asJSON(k), c.Rig.AnchorKN, easiest.AnchorKN, easiest.System, c.Rig.CatchKN)
		}
		if kept := []quantity.Metres{r.Main.KeptM, r.Belay.KeptM}[i]; (l.ShortM > 0) != (l.LeftM < kept-1e-9) {
			t.Fatalf("%s: %v short with %v left", asJSON(k), l.ShortM, l.LeftM)
		}
		if left, _ := r.LeftM(name, 0); left < l.LeftM-1e-6 {
			t.Fatalf("%s: %v left behind the %s, the card says %v", asJSON(k), left, name, l.LeftM)
		}
		for _, f := range r.Knots() {
			down := float64(r.EdgeM - f.AtM)
			if f.Line == name && !slices.ContainsFunc(l.Knots, func(n callout.Knot) bool {
				return float64(n.LowM)-0.011 <= down && down <= float64(n.HighM)+0.011
			}) {
				t.Fatalf("%s: a knot is met %v m down, the card says %+v", asJSON(k), down, l.Knots)
			}
		}
	}
	hauls, _ := r.Hauls()
	for _, w := range c.Raise.Ways {
		i := slices.IndexFunc(hauls, func(h team.HaulFigures) bool { return h.System == w.System })
		if i < 0 || w.Ready && !hauls[i].Ready {
			t.Fatalf("%s: %s is on the card and not there", asJSON(k), w.System)
		}
		least(w.System+" haulers", float64(hauls[i].Needed), float64(w.Needed))
		least(w.System+" seconds", hauls[i].Seconds, w.Seconds)
		least(w.System+" anchor", float64(hauls[i].AnchorKN), float64(w.AnchorKN))
	}
	for z := 0; z <= 4; z++ {
		s := r.SchoolsAt(r.EdgeM * quantity.Metres(z) / 4)
		least("catch", float64(s.Slack.PeakKN), float64(c.Rig.CatchKN))
		least("drop", float64(s.Slack.DropM), float64(c.Rig.DropM))
	}
}

// lowers plans the lower to the landing.
func lowers(t *testing.T, k callout.Known, r *team.Rig) {
	t.Helper()
	p, err := r.For(t.Context(), team.Ask{Move: "lower", ToM: new(quantity.Metres)})
	if err != nil {
		t.Fatalf("%s: no lower: %v", asJSON(k), err)
	}
	for _, s := range p.Steps {
		if len(s.Broken) > 0 {
			t.Fatalf("%s: %s breaks %s", asJSON(k), s.Say, s.Broken[0].Rule)
		}
	}
}

// TestRules holds the rules on a callout to both sides of their limits.
func TestRules(t *testing.T) {
	h := func(hours float64) *quantity.Hours { return new(quantity.Hours(hours)) }
	comers := func(n int) (list []callout.Comer) {
		for i := range n {
			list = append(list, callout.Comer{Name: fmt.Sprint(i)})
		}
		return list
	}
	awake := func(hours float64) []callout.Comer {
		return append(comers(3), callout.Comer{Name: "late", AwakeH: h(hours)})
	}
	reach := card(t, callout.Known{Kits: []string{"van bag"}}).Rig.HeightM
	to := func(m quantity.Metres) callout.Known {
		return callout.Known{HeightM: &callout.Span{LowM: 5, HighM: m}, Kits: []string{"van bag"}}
	}
	known := callout.Known{HeightM: &callout.Span{LowM: 10, HighM: 30}, Load: "one", Landing: "ground", Edge: "roller", BackM: &callout.Span{LowM: 3, HighM: 4}}
	with := func(change func(*callout.Known)) callout.Known { k := known; change(&k); return k }
	for _, c := range []struct {
		rule        string
		fires, none callout.Known
	}{
		{"callout.reach", to(reach + 0.02), to(reach - 0.02)},
		{"callout.people", with(func(k *callout.Known) { k.People = comers(2) }), with(func(k *callout.Known) { k.People = comers(10) })},
		{"callout.people", with(func(k *callout.Known) { k.People = nil }), with(func(k *callout.Known) { k.People = comers(10) })},
		{"callout.people", with(func(k *callout.Known) { k.People = comers(4) }), with(func(k *callout.Known) { k.People = comers(10) })},
		{"callout.awake", with(func(k *callout.Known) { k.People = awake(16.1) }), with(func(k *callout.Known) { k.People = awake(16) })},
		{"callout.landing", with(func(k *callout.Known) { k.Landing = "" }), known},
		{"callout.landing", with(func(k *callout.Known) { k.Landing = "water" }), with(func(k *callout.Known) { k.Landing = "deck" })},
		{"callout.kit", with(func(k *callout.Known) { k.Kits = []string{"rescue bag"} }), with(func(k *callout.Known) { k.Kits = []string{"van bag"} })},
	} {
		for i, k := range []callout.Known{c.fires, c.none} {
			found := slices.ContainsFunc(card(t, k).Findings, func(f finding.Finding) bool { return f.Rule == c.rule })
			if found != (i == 0) {
				t.Errorf("%s, %+v: fires is %v", c.rule, k, found)
			}
		}
	}
}

// TestUnknown holds what is not known to being said, with what it costs.
func TestUnknown(t *testing.T) {
	all := card(t, callout.Known{})
	for _, taken := range all.Taken {
		if taken.Known || taken.Words == "" {
			t.Errorf("%+v", taken)
		}
		if slices.Contains([]string{"height", "back", "edge", "load", "knots"}, taken.Of) && taken.Cost == "" {
			t.Errorf("%s costs nothing", taken.Of)
		}
	}
	if n := len(all.NotLookedAt); n == 0 || strings.Contains(strings.Join(all.NotLookedAt, " "), "awake") {
		t.Errorf("%q", all.NotLookedAt)
	}
	// What is not entered of the things that it chose is said too.
	if said := strings.Join(all.NotLookedAt, " "); !strings.Contains(said, "The force at which combined brake 11, combined brake 12 would slip: it is not entered.") {
		t.Errorf("%q", all.NotLookedAt)
	}
	if all.Reaches {
		t.Error("ropes reach a landing that nobody knows")
	}
	tired := card(t, callout.Known{People: []callout.Comer{{Name: "awake", AwakeH: new(quantity.Hours(20))}, {Name: "far", ArrivesMin: 30}, {Name: "near", ArrivesMin: 5}, {Name: "there"}}})
	if p := tired.People; p.Main != "there" || p.Belay != "near" || p.Down != "far" || p.Edge != "awake" || *p.LowerMin != 30 {
		t.Errorf("seats: %+v", p)
	}
	if said := strings.Join(tired.NotLookedAt, " "); !strings.Contains(said, "been awake: far, near and there.") {
		t.Errorf("who did not say how long they are awake: %q", said)
	}
	if len(tired.Checks) < 8 || !strings.HasPrefix(tired.Checks[0].Of, "anchors") {
		t.Errorf("checks by touch: %+v", tired.Checks)
	}
}

// TestUsed holds a rig that stands already to be the one of the card, whatever became of its
// things, and what did not come back to be left out.
func TestUsed(t *testing.T) {
	a := asked(callout.Known{Kits: []string{"van bag"}, HeightM: &callout.Span{LowM: 20, HighM: 30}})
	a.Used = &callout.Used{Main: callout.UsedLine{Brake: "brake-12", Ropes: []string{"rope-34"}}, Belay: callout.UsedLine{Brake: "brake-11", Ropes: []string{"rope-31"}}}
	for i := range a.Items {
		if a.Items[i].ID == "rope-34" {
			a.Items[i].State, a.Items[i].Reason = gear.Quarantine, "looked at"
		}
	}
	c, err := a.Answer(t.Context())
	if err != nil || asJSON(c.Rig.Used) != asJSON(a.Used) {
		t.Fatalf("%v, %+v", err, c)
	}
	for at, u := range map[string]callout.UsedLine{"/used/main/brake": {Brake: "rope-34", Ropes: []string{"rope-33"}}, "/used/main/ropes/0": {Brake: "brake-12", Ropes: []string{"none"}}, "/used/belay/ropes/0": {Brake: "brake-12", Ropes: []string{"rope-31"}}} {
		a.Used.Main = u
		_, err := a.Answer(t.Context())
		var refused *strict.Error
		if !errors.As(err, &refused) || refused.Faults[0].Pointer != at {
			t.Errorf("%s: %v", at, err)
		}
	}
	a.Used, a.Kits = nil, []gear.Kit{{Name: "van bag", Missing: []string{"rope-31", "rope-32"}}}
	if c, err = a.Answer(t.Context()); err != nil || c.Rig != nil || len(c.Left) != 3 {
		t.Errorf("ropes that did not come back are used: %v, %+v", err, c)
	}
}

// TestLeft holds what may not be used to being left, and named.
func TestLeft(t *testing.T) {
	a := asked(callout.Known{Kits: []string{"van bag"}})
	for i := range a.Items {
		if a.Items[i].ID == "rope-31" {
			a.Items[i].ExaminedOn = "2024-01-01"
		}
		if a.Items[i].ID == "rope-32" {
			a.Items[i].State = gear.Quarantine
		}
	}
	c, err := a.Answer(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	if len(c.Left) != 2 || c.Left[0].Item != "rope-31" || c.Left[1].Item != "rope-32" || !strings.Contains(c.Left[1].Why, "quarantine") || !slices.Equal([]string{c.Rig.Main.Ropes[0], c.Rig.Belay.Ropes[0]}, []string{"rope 33", "rope 34"}) {
		t.Errorf("left %+v, ropes %v and %v", c.Left, c.Rig.Main.Ropes, c.Rig.Belay.Ropes)
	}
	bare := *a
	bare.Models = slices.DeleteFunc(slices.Clone(a.Models), func(m gear.Model) bool { return m.Pulley != nil })
	if c, err := bare.Answer(t.Context()); err != nil || !slices.ContainsFunc(c.Left, func(l callout.Left) bool { return l.Item == "pulley-11" }) {
		t.Errorf("things without a model are not named: %v", err)
	}
	// The card looks at the longest of many usable ropes.
	for i := range 14 {
		for j := range a.Items {
			if a.Items[j].ID == "rope-33" {
				more := a.Items[j]
				if more.ID = fmt.Sprint("more-", i); i < 12 {
					more.State, more.LengthM = gear.Quarantine, 200
				}
				a.Items = append(a.Items, more)
				break
			}
		}
	}
	if c, err = a.Answer(t.Context()); err != nil || len(c.Left) != 14 || c.Rig == nil {
		t.Fatalf("%v, left %+v", err, c.Left)
	}
}

func TestRefused(t *testing.T) {
	for at, k := range map[string]callout.Known{
		"/known/height_m":        {HeightM: &callout.Span{LowM: 30, HighM: 20}},
		"/known/height_m/high_m": {HeightM: &callout.Span{HighM: 0.5}},
		"/known/back_m":          {BackM: &callout.Span{LowM: 3, HighM: 2}},
		"/known/mass_kg":         {MassKg: &callout.Masses{LowKg: 90, HighKg: 80}},
		"/known/people/1/name":   {People: []callout.Comer{{Name: "a"}, {Name: "a"}}},
		"/known/kits/0":          {Kits: []string{"no bag"}},
	} {
		_, err := asked(k).Answer(t.Context())
		var refused *strict.Error
		if !errors.As(err, &refused) || refused.Faults[0].Pointer != at {
			t.Errorf("%s: %v", at, err)
		}
	}
}

func BenchmarkCapability(b *testing.B) {
	g := demo.Gear()
	for b.Loop() {
		_, _ = (&callout.KitAsked{Kit: "van bag", Day: demo.Day, Models: g.Models, Items: g.Items}).Answer(b.Context())
	}
}

func BenchmarkCard(b *testing.B) {
	for b.Loop() {
		card(b, callout.Known{})
	}
}

// TestCapability checks every claim of a kit's card by a plan: lowers at its reach, single and
// joined, with its largest load, and a step more of either without one; a raise by each row of
// its table. Any change of the kit changes its number.
func TestCapability(t *testing.T) {
	g := demo.Gear()
	of := func(items []gear.Item) *callout.Capability {
		c, err := (&callout.KitAsked{Kit: "van bag", Day: demo.Day, Models: g.Models, Items: items}).Answer(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return c
	}
	c := of(g.Items)
	back := &callout.Span{LowM: c.NearM, HighM: c.BackM}
	at := func(h quantity.Metres, load string, kg quantity.Kilograms, knots bool) *callout.Card {
		k := callout.Known{HeightM: &callout.Span{LowM: h, HighM: h}, BackM: back, Load: load, Knots: &knots, Kits: []string{"van bag"}}
		if kg > 0 {
			k.MassKg = &callout.Masses{LowKg: kg, HighKg: kg}
		}
		return card(t, k)
	}
	r := rand.New(rand.NewPCG(3, 4))
	clean := func(c *callout.Card, load string, kg quantity.Kilograms) bool {
		for range 20 {
			d := inside(r, callout.Known{HeightM: &callout.Span{LowM: c.Rig.HeightM, HighM: c.Rig.HeightM}, BackM: back, Load: load}, c, true)
			d.Team.Load.MassKg = kg
			s, err := site.Open(d)
			if err != nil {
				t.Fatal(err)
			}
			found, _ := fit.Check(&fit.Context{Rig: s.Rig, Policy: s.Policy})
			if len(team.On(s).Stops()) > 0 || slices.ContainsFunc(found, func(f finding.Finding) bool { return f.Severity == finding.Stop && fit.AboutChoice(f.Rule) }) {
				return false
			}
		}
		return c.Reaches
	}
	lower := func(c *callout.Card) {
		t.Helper()
		s, err := site.Open(c.Drop)
		if err != nil {
			t.Fatal(err)
		}
		lowers(t, callout.Known{}, team.On(s))
	}
	for _, reach := range []struct {
		h     quantity.Metres
		knots bool
	}{{c.SingleM, false}, {c.JoinedM, true}} {
		if got := at(reach.h-0.01, "stretcher", 0, reach.knots); !got.Reaches {
			t.Errorf("the card says %v, and the ropes come down less", reach.h)
		} else {
			lower(got)
		}
		if at(reach.h+0.05, "stretcher", 0, reach.knots).Reaches {
			t.Errorf("the card says %v, and the ropes come down further", reach.h)
		}
	}
	for i, load := range []string{"one", "two"} {
		kg := c.Largest[i].MassKg
		if got := at(c.SingleM-0.01, load, kg, false); !clean(got, load, kg) {
			t.Errorf("%s of %v: %+v", load, kg, got.Findings[0])
		} else {
			lower(got)
		}
		if clean(at(c.SingleM-0.01, load, kg+5, false), load, kg+5) {
			t.Errorf("%s of 5 kg more than %v is lowered too", load, kg)
		}
	}
	raised := 0
	for _, row := range c.Raises {
		for _, w := range row.Of {
			people := []callout.Comer{}
			for i := range row.Haulers + 4 {
				people = append(people, callout.Comer{Name: fmt.Sprint(i)})
			}
			got := card(t, callout.Known{HeightM: &callout.Span{LowM: c.SingleM - 0.01, HighM: c.SingleM - 0.01}, BackM: back, Load: w.Load, Kits: []string{"van bag"}, People: people})
			if (w.System == "") != (got.Raise.Best < 0) || w.System != "" && got.Raise.Ways[got.Raise.Best].System != w.System {
				t.Errorf("%d who pull at %s: the card says %q, the callout %+v", row.Haulers, w.Load, w.System, got.Raise)
			}
			if w.System == "" || row.Haulers%3 != 0 {
				continue
			}
			s, err := site.Open(got.Drop)
			if err != nil {
				t.Fatal(err)
			}
			ratio := int(w.System[0] - '0')
			if p, err := team.On(s).For(t.Context(), team.Ask{Move: "raise", FromM: new(quantity.Metres), ToM: new(got.Rig.HeightM), Ratio: ratio}); err != nil {
				t.Errorf("%d who pull at %s by %s: %v", row.Haulers, w.Load, w.System, err)
			} else if len(p.Steps) > 0 {
				raised++
			}
		}
	}
	if raised == 0 {
		t.Error("no raise was planned")
	}
	changed := slices.Clone(g.Items)
	for _, change := range []func(*gear.Item){func(i *gear.Item) { i.LengthM-- }, func(i *gear.Item) { i.State = gear.Quarantine }, func(i *gear.Item) { i.Kit = "" }} {
		at := slices.IndexFunc(changed, func(i gear.Item) bool { return i.ID == "rope-31" })
		was := changed[at]
		change(&changed[at])
		if of(changed).Number == c.Number {
			t.Errorf("%+v has the number of before", changed[at])
		}
		changed[at] = was
	}
	if of(slices.Clone(g.Items)).Number != c.Number {
		t.Error("the same kit has another number")
	}
}

// Sites come by how far they are, those without a place last; an anchor of the register is in date
// from its examination to the day that somebody said, and no longer.
func TestNear(t *testing.T) {
	at := func(id string, lat, lon *float64, anchors ...callout.Register) callout.PreplanOf {
		return callout.PreplanOf{ID: id, Preplan: callout.Preplan{Name: "Site " + id, Lat: lat, Lon: lon, Anchors: anchors}}
	}
	asked := callout.NearAsked{Day: "2026-11-24", Lat: new(50.0), Lon: new(10.0), Preplans: []callout.PreplanOf{
		at("nowhere", nil, nil), at("far", new(50.1), new(10.0)), at("near", new(50.0), new(10.01),
			callout.Register{Name: "new", ExaminedOn: "2026-11-24", AgainBy: "2026-11-24"}, callout.Register{Name: "never"},
			callout.Register{Name: "out", ExaminedOn: "2025-11-24", AgainBy: "2026-11-23"}, callout.Register{Name: "open", ExaminedOn: "2019-01-01"},
			callout.Register{Name: "typed wrong", ExaminedOn: "2026-11-25", AgainBy: "2027-11-25"}),
	}}
	list, err := asked.Answer()
	if err != nil || len(list) != 3 || list[0].ID != "near" || list[1].ID != "far" || list[2].FarM != nil || list[1].Far != "11.1 km" || list[0].Far != "715 m" {
		t.Fatalf("%v: %+v", err, list)
	}
	want := []string{"never: nobody", "out: its examination of 2025-11-24 ran out", "open: nobody said until when", "typed wrong: its examination is dated 2026-11-25"}
	if len(list[0].Stale) != len(want) {
		t.Fatalf("%q", list[0].Stale)
	}
	for i, words := range want {
		if !strings.HasPrefix(list[0].Stale[i], words) {
			t.Errorf("%q, want %q", list[0].Stale[i], words)
		}
	}
	asked.Find = "FAR"
	if list, err := asked.Answer(); err != nil || len(list) != 1 || list[0].ID != "far" {
		t.Errorf("by its name: %+v %v", list, err)
	}
	asked.Lon = nil
	if _, err := asked.Answer(); err == nil {
		t.Error("half a place is taken")
	}
}

// A card in a lid holds until the first day on which something that it counts runs out: after it
// the kit has another number. A seal that does not close what is in the kit says so.
func TestCardRunsOut(t *testing.T) {
	g := demo.Gear()
	of := func(day gear.Date, seal *gear.Seal) *callout.Capability {
		c, err := (&callout.KitAsked{Kit: "van bag", Day: day, Models: g.Models, Items: g.Items, Kits: []gear.Kit{{ID: "van-bag", Name: "van bag", Seal: seal}}}).Answer(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return c
	}
	c := of(demo.Day, nil)
	if c.Until <= demo.Day || c.UntilFor == "" {
		t.Fatalf("until %q: %q", c.Until, c.UntilFor)
	}
	if last := of(c.Until, nil); last.Number != c.Number || last.Until != c.Until {
		t.Errorf("on its last day: %s, until %s; %s before", last.Number, last.Until, c.Number)
	}
	if after := of(c.Until.AddDays(1), nil); after.Number == c.Number || len(after.Left) <= len(c.Left) {
		t.Errorf("after its last day it has the number of before, or counts all: %+v", after.Left)
	}
	n := 0
	for _, i := range g.Items {
		if i.Kit == "van bag" && i.State != gear.Retired {
			n++
		}
	}
	for counted, whole := range map[int]bool{n: true, n - 1: false} {
		seal := &gear.Seal{Number: "4711", On: demo.Day, By: "Dov", Items: counted}
		sealed := of(demo.Day, seal)
		if sealed.Number == c.Number || (sealed.SealUndone == "") != whole {
			t.Errorf("%d of %d counted: %s, %q", counted, n, sealed.Number, sealed.SealUndone)
		}
		for _, kit := range []string{"van bag", "another"} {
			asked := callout.Asked{Day: demo.Day, Models: g.Models, Items: g.Items, Kits: []gear.Kit{{ID: "k", Name: kit, Seal: seal}}}
			asked.Known.Kits = []string{"van bag"}
			card, err := asked.Answer(t.Context())
			if err != nil {
				t.Fatal(err)
			}
			if said := strings.Contains(strings.Join(card.NotLookedAt, " "), "seal 4711 stands"); said != (kit == "van bag" && !whole) {
				t.Errorf("%d of %d counted into %s: %q", counted, n, kit, card.NotLookedAt)
			}
		}
	}
}
