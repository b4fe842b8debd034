package team_test

import (
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
)

// What of a kit grips or carries a rope is for the rope and the load, or it is found and not
// planned with: on both sides of each limit, on the main, and on the belay where that has a knot.
func TestKitIsForTheRope(t *testing.T) {
	model := func(d *drop.Document, id string) *gear.Model {
		return &d.Models[slices.IndexFunc(d.Models, func(m gear.Model) bool { return m.ID == id })]
	}
	// The main is 10.5 mm, the belay 11, the load two of 165 kg, with 48.8 m of the main below.
	grab := func(d *drop.Document, change func(*gear.Mode)) {
		for i := range model(d, "grab-a").Device.Modes {
			mode := &model(d, "grab-a").Device.Modes[i]
			mode.Ropes = slices.Clone(mode.Ropes)
			change(mode)
		}
	}
	most := func(mm quantity.Millimetres) func(*drop.Document) {
		return func(d *drop.Document) { grab(d, func(m *gear.Mode) { m.Ropes[0].MaxMM = mm }) }
	}
	alone := quantity.Weight(165 + 48.8*0.071)
	works := func(d *drop.Document, id string, limit quantity.Kilonewtons) {
		model(d, id).WorkingLoads = []gear.WorkingLoad{{KN: limit}}
	}
	cords := func(d *drop.Document, catch string, strength quantity.Kilonewtons) {
		m := *model(d, "rope-105")
		m.ID, m.StrengthKN = "cord-8", strength
		d.Models, d.Team.Catch = append(d.Models, m), catch
		for _, id := range []string{"cord-1", "cord-2"} {
			d.Items = append(d.Items, gear.Item{ID: id, Label: id, Serial: id, Model: m.ID, State: gear.InService, LengthM: 3})
			d.Team.Kit = append(slices.Clone(d.Team.Kit), id)
		}
	}
	for name, c := range map[string]struct {
		change func(*drop.Document)
		item   string
	}{
		"as it is":                {func(*drop.Document) {}, ""},
		"a grab for thinner rope": {most(10.4), "grab-1"},
		"a grab just for it":      {most(10.5), ""},
		"a grab for another rope": {func(d *drop.Document) {
			grab(d, func(m *gear.Mode) { m.Ropes[0].Constructions = []gear.Construction{gear.Dynamic} })
		}, "grab-1"},
		"a grab rated to less":         {func(d *drop.Document) { grab(d, func(m *gear.Mode) { m.MaxKg = min(m.MaxKg, 164.9) }) }, "grab-1"},
		"a grab rated just to it":      {func(d *drop.Document) { grab(d, func(m *gear.Mode) { m.MaxKg = min(m.MaxKg, 165) }) }, ""},
		"a grab for one":               {func(d *drop.Document) { m := model(d, "grab-a"); m.Device.Modes = m.Device.Modes[:1] }, "grab-1"},
		"pulleys for thinner rope":     {func(d *drop.Document) { model(d, "pulley-a").Pulley.LargestDiameterMM = 10.4 }, "pulley-1"},
		"pulleys just for it":          {func(d *drop.Document) { model(d, "pulley-a").Pulley.LargestDiameterMM = 10.5 }, ""},
		"a grab too weak past a knot":  {func(d *drop.Document) { model(d, "grab-a").StrengthKN = alone * 4.99 }, "grab-1"},
		"a grab just strong enough":    {func(d *drop.Document) { model(d, "grab-a").StrengthKN = alone * 5 }, ""},
		"a hitch too weak past a knot": {func(d *drop.Document) { model(d, "hitch-a").StrengthKN = alone * 9.99 }, "hitch-1"},
		"a hitch just strong enough":   {func(d *drop.Document) { model(d, "hitch-a").StrengthKN = alone * 10 }, ""},
		"a capture for thinner rope": {func(d *drop.Document) {
			model(d, "capture-a").Device.Modes[1].Ropes[0].MaxMM = 10.4
			model(d, "capture-a").Device.Modes[0].Ropes[0].MaxMM = 10.4
		}, "capture-1"},
		"a grab that slips past a knot":   {func(d *drop.Document) { model(d, "grab-a").Device.SlipKN = alone - 0.001 }, "grab-1"},
		"a grab that just does not":       {func(d *drop.Document) { model(d, "grab-a").Device.SlipKN = alone + 0.001 }, ""},
		"a hitch above its working load":  {func(d *drop.Document) { works(d, "hitch-a", alone-0.001) }, "hitch-1"},
		"a hitch just at it":              {func(d *drop.Document) { works(d, "hitch-a", alone+0.001) }, ""},
		"a capture that slips":            {func(d *drop.Document) { model(d, "capture-a").Device.SlipKN = alone - 0.001 }, "capture-1"},
		"a capture that just does not":    {func(d *drop.Document) { model(d, "capture-a").Device.SlipKN = alone + 0.001 }, ""},
		"a capture whose side is weak":    {func(d *drop.Document) { model(d, "capture-a").Pulley.SideKN = alone - 0.001 }, "capture-1"},
		"a capture whose side just bears": {func(d *drop.Document) { model(d, "capture-a").Pulley.SideKN = alone + 0.001 }, ""},
		"a cord too weak past a knot":     {func(d *drop.Document) { cords(d, "cord", alone*9.99) }, "cord-1"},
		"a cord just strong enough":       {func(d *drop.Document) { cords(d, "cord", alone*10.001) }, ""},
		"two too weak together":           {func(d *drop.Document) { cords(d, "two-cords", alone*4.99) }, "cord-1"},
		"two just strong enough":          {func(d *drop.Document) { cords(d, "two-cords", alone*5.001) }, ""},
		"a knot in a thicker belay":       {func(d *drop.Document) { most(10.9)(d); d.Team.Belay.KnotsM = []quantity.Metres{30} }, "grab-1"},
		"a marked knot in a thicker belay": {func(d *drop.Document) {
			most(10.9)(d)
			d.Strands[1].Marks = []rig.Mark{{ID: "k", Kind: rig.KnotMark, HeightM: 10}}
		}, "grab-1"},
		"a knot in a belay just taken": {func(d *drop.Document) { most(11)(d); d.Team.Belay.KnotsM = []quantity.Metres{30} }, ""},
	} {
		d := demo.Drops()["basin-wall"]
		c.change(d)
		s, err := site.Open(d)
		if err != nil {
			t.Fatal(name, err)
		}
		r := team.On(s)
		found := slices.DeleteFunc(r.Findings(), func(f finding.Finding) bool {
			return f.Severity != finding.Stop || f.Rule != "team.kit"
		})
		if (c.item != "") != (len(found) > 0) || c.item != "" && found[0].Subject.Item != c.item {
			t.Errorf("%s: %+v", name, found)
		}
		_, err = r.For(t.Context(), team.Ask{Move: "lower-past-knot"})
		var none *team.NoWay
		if wants := strings.HasPrefix(c.item, "grab") || strings.HasPrefix(c.item, "cord") || strings.HasPrefix(c.item, "hitch"); wants != errors.As(err, &none) {
			t.Errorf("%s: a plan past the knot: %v", name, err)
		}
	} // The kit of the rig with another load, or held at a height, is that load's and height's own.
	s, err := site.Open(demo.Drops()["basin-wall"])
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		mass       quantity.Kilograms
		past, held int // grabs with the knot of the main, and held with none above
	}{{300, 1, 1}, {300.1, 0, 0}} {
		with := team.On(s).With(rig.TeamLoad{Name: "two", MassKg: c.mass, Persons: 2})
		if with.Kit.Grabs != c.past || with.Holding(10).Kit.Grabs != c.held {
			t.Errorf("with %v: %d grabs, %d held", c.mass, with.Kit.Grabs, with.Holding(10).Kit.Grabs)
		}
	}
	for i := range s.Drop.Models {
		if m := &s.Drop.Models[i]; m.ID == "grab-a" {
			m.StrengthKN = quantity.Weight(200+48.8*0.071) * 5.0001
		}
	}
	for mass, grabs := range map[quantity.Kilograms]int{200: 1, 200.1: 0} {
		with := team.On(s).With(rig.TeamLoad{Name: "two", MassKg: mass, Persons: 2})
		if with.Kit.Grabs != grabs || with.Holding(10).Kit.Grabs != 1 {
			t.Errorf("with %v past a knot: %d grabs, %d held", mass, with.Kit.Grabs, with.Holding(10).Kit.Grabs)
		}
	}
}

// Two knots of one line have room between them for its brake, or that is found, and no plan
// passes them; with room there is a plan, on either line.
func TestKnotsApart(t *testing.T) {
	for _, apart := range []quantity.Metres{0.05, 0.37, 0.379, 0.383, 0.4, 1} {
		for _, line := range []string{"main", "belay"} {
			d := demo.Drops()["basin-wall"]
			l, knots := &d.Team.Main, []quantity.Metres{22, 22 + apart}
			if line == "belay" {
				l, d.Team.Main.KnotsM = &d.Team.Belay, nil
			}
			l.KnotsM = knots
			s, err := site.Open(d)
			if err != nil {
				t.Fatal(err)
			}
			r := team.On(s)
			found := slices.ContainsFunc(r.Findings(), func(f finding.Finding) bool { return f.Rule == "team.knot" && f.Severity == finding.Stop })
			var none *team.NoWay
			_, err = r.For(t.Context(), team.Ask{Move: "lower-past-knot"})
			if close := apart < 0.38; found != close || errors.As(err, &none) != close {
				t.Errorf("%v apart on the %s: found %v, planned %v", apart, line, found, err)
			}
			if none != nil && !strings.HasSuffix(err.Error(), "with knots of the "+line+" at least 0.39 m apart there is one") {
				t.Error(err)
			}
			// Passed before the load is over the edge they are in nobody's way.
			l.KnotsM = []quantity.Metres{1, 1.1}
			if s, err = site.Open(d); err != nil {
				t.Fatal(err)
			}
			if found := team.On(s).Findings(); slices.ContainsFunc(found, func(f finding.Finding) bool { return f.Rule == "team.knot" }) {
				t.Errorf("before the edge: %+v", found)
			}
		}
	}
}

// Of ropes that are joined the most slippery one counts wherever it hangs.
func TestWorstOfJoined(t *testing.T) {
	hand := func(first, second gear.Condition) quantity.Kilonewtons {
		d := demo.Drops()["basin-wall"]
		rope := d.Items[slices.IndexFunc(d.Items, func(i gear.Item) bool { return i.ID == "rope-5" })]
		rope.ID, rope.Serial, rope.Condition = "rope-99", "99", second
		for i := range d.Items {
			if d.Items[i].ID == "rope-5" {
				d.Items[i].Condition = first
			}
		}
		d.Items = append(d.Items, rope)
		d.Strands[0].Ropes = append(d.Strands[0].Ropes, rope.ID)
		d.Strands[0].Marks = append(d.Strands[0].Marks, rig.Mark{ID: "join", Kind: rig.JoinMark, Name: "join", HeightM: 20})
		s, err := site.Open(d)
		if err != nil {
			t.Fatal(err)
		}
		return team.On(s).Brake("main").Adds[1].HandKN
	}
	dry := hand(gear.Dry, gear.Dry)
	icy := hand(gear.Icy, gear.Icy)
	for _, of := range [][2]gear.Condition{{gear.Dry, gear.Icy}, {gear.Icy, gear.Dry}} {
		if got := hand(of[0], of[1]); got != icy || icy <= dry {
			t.Errorf("%v: a hand of %v, with both icy %v, both dry %v", of, got, icy, dry)
		}
	}
}

// A deviation takes the rope that its own anchor draws aside.
func TestDeviationTakesRope(t *testing.T) {
	d := demo.Drops()["basin-wall"]
	d.Anchors = append(d.Anchors, rig.Anchor{ID: "aside", Name: "aside", XM: d.Anchors[0].XM + 4, HeightM: 20, Legs: []rig.Leg{{ID: "a", YM: 0.2, StrengthKN: 30}}})
	d.Strands[0].Marks = append(d.Strands[0].Marks, rig.Mark{ID: "dev", Kind: rig.DeviationMark, Name: "the deviation", HeightM: 20, Anchor: "aside"})
	s, err := site.Open(d)
	if err != nil {
		t.Fatal(err)
	}
	path := team.On(s).Main.Path
	down := float64(path.EdgeM - 20)
	i := slices.IndexFunc(path.Pieces, func(p team.Piece) bool { return p.Name == "the deviation" })
	if want := math.Hypot(down, 4) - down; i < 0 || !path.Edged || math.Abs(float64(path.Pieces[i].M)-want) > 1e-9 {
		t.Errorf("%+v, by hand %v", path, want)
	}
}
