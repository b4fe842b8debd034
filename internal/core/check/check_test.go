package check_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/demo"
)

// random makes a drop that a careless person might describe: everything is named
// rightly, nothing is sure to fit.
func random(r *rand.Rand) *drop.Document {
	top := quantity.Metres(1 + 150*r.Float64())
	d := &drop.Document{
		Format: drop.Format, Version: drop.Version, Name: "random", Day: gear.Date(fmt.Sprintf("2026-%02d-11", 1+r.IntN(12))),
		Geometry: rig.Geometry{TopM: top, TopName: "top", LandingName: "ground", OffsetM: quantity.Metres(10 * r.Float64())},
		Policy:   policy.Policy{Name: "random"},
	}
	if r.IntN(2) == 0 {
		d.Geometry.Ledges = []rig.Ledge{{ID: "l", Name: "l", HeightM: top * quantity.Metres(0.01+0.9*r.Float64())}}
		d.Policy.Margins = "limits"
	}
	for i := range 1 + r.IntN(3) {
		a := rig.Anchor{ID: fmt.Sprint("a", i), Name: "anchor", HeightM: top}
		for j := range 1 + r.IntN(3) {
			a.Legs = append(a.Legs, rig.Leg{ID: fmt.Sprintf("leg-%d-%d", r.IntN(6), j), XM: quantity.Metres(r.NormFloat64()), YM: 0.5, StrengthKN: quantity.Kilonewtons(r.IntN(30))})
		}
		d.Anchors = append(d.Anchors, a)
	}
	items := byClass(r)
	for i := range 1 + r.IntN(4) {
		s := rig.Strand{
			ID: fmt.Sprint("s", i), Name: fmt.Sprint("strand ", i), Role: []rig.Role{rig.Main, rig.Backup}[i%2], Set: 1 + i/2,
			Anchors: []string{pick(r, d.Anchors).ID}, Ropes: []string{items.take(gear.Rope)}, EndStop: pick(r, []rig.EndStop{rig.EndKnot, rig.EndSewn, rig.EndNone}),
		}
		for j := range r.IntN(4) {
			m := rig.Mark{ID: fmt.Sprint("m", j), Kind: pick(r, []rig.MarkKind{rig.KnotMark, rig.RebelayMark, rig.DamageMark, rig.DeviationMark}), HeightM: top * quantity.Metres(r.Float64())}
			if m.Kind == rig.RebelayMark || m.Kind == rig.DeviationMark {
				m.Anchor = pick(r, d.Anchors).ID
			}
			s.Marks = append(s.Marks, m)
		}
		d.Strands = append(d.Strands, s)
	}
	for _, m := range demo.People()[:r.IntN(4)] {
		p := rig.Person{ID: m.ID, Name: m.Name, MassKg: quantity.Kilograms(20 + 180*r.Float64()), AtM: top * quantity.Metres(r.Float64()), Grounded: r.IntN(5) == 0}
		for j := range r.IntN(4) {
			p.Holds = append(p.Holds, hold(r, items, fmt.Sprint(m.ID, j), pick(r, d.Strands).ID))
		}
		p.Moves = []manoeuvre.MoveName{"descend", "pass-knots-up", "evacuate"}[:r.IntN(4)]
		d.People = append(d.People, p)
	}
	g := demo.Gear()
	d.Refresh(g)
	return d
}

func hold(r *rand.Rand, items stock, id, strand string) rig.Hold {
	device := items.take(items.stocked(r, gear.Descender, gear.BackupDevice, gear.ChestAscender, gear.HandAscender))
	h := rig.Hold{
		ID: id, Strand: strand, Device: device, Point: pick(r, []gear.Point{gear.Ventral, gear.Sternal, gear.Dorsal}),
		AboveM: quantity.Metres(r.NormFloat64() / 2), SlackM: quantity.Metres(r.Float64()), Open: r.IntN(6) == 0,
		Threaded: pick(r, []rig.Threaded{rig.ThreadedRight, rig.ThreadedRight, rig.ThreadedReversed}), SecondKg: quantity.Kilograms(r.IntN(2) * 80), Links: []rig.Link{},
	}
	spec := items.models[device].Device
	h.Mode, h.Position = pick(r, spec.Modes).Name, pick(r, spec.Positions).Name
	for range r.IntN(4) {
		class := items.stocked(r, gear.Connector, gear.Lanyard, gear.Absorber)
		l := rig.Link{Item: items.take(class)}
		if class == gear.Connector {
			l.Gate, l.Lie = pick(r, []rig.Gate{rig.GateLocked, rig.GateShut, rig.GateOpen}), pick(r, []rig.Lie{rig.LieAlong, rig.LieAcross})
		}
		h.Links = append(h.Links, l)
	}
	return h
}

// stock hands out items of the demo store, each once.
type stock struct {
	models map[string]*gear.Model
	left   map[gear.Class][]string
}

func byClass(r *rand.Rand) stock {
	s := stock{map[string]*gear.Model{}, map[gear.Class][]string{}}
	models := map[string]*gear.Model{}
	for _, m := range demo.Models() {
		models[m.ID] = &m
	}
	for _, i := range demo.Items() {
		s.models[i.ID] = models[i.Model]
		c := models[i.Model].Class
		if slices.Contains([]gear.Class{gear.Helmet, gear.Stretcher, gear.Bag}, c) {
			continue // no rule of a rig reads them
		}
		s.left[c] = append(s.left[c], i.ID)
	}
	for _, c := range slices.Sorted(maps.Keys(s.left)) {
		list := s.left[c]
		r.Shuffle(len(list), func(i, j int) { list[i], list[j] = list[j], list[i] })
	}
	return s
}

func (s stock) take(c gear.Class) string {
	id := s.left[c][0]
	s.left[c] = s.left[c][1:]
	return id
}

// stocked picks one of the classes of which there is something left.
func (s stock) stocked(r *rand.Rand, classes ...gear.Class) gear.Class {
	return pick(r, slices.DeleteFunc(classes, func(c gear.Class) bool { return len(s.left[c]) == 0 }))
}

func pick[T any](r *rand.Rand, list []T) T { return list[r.IntN(len(list))] }

// A thousand random drops: what is written can be read; every finding says what
// it is about, with figures and what would clear it; the same drop is always
// judged the same; leaving a hold out never leaves fewer ways unguarded.
func TestRandomDrops(t *testing.T) {
	r := chance.Rand(11, 24)
	fired := map[string]bool{}
	for n := range 1000 {
		d := random(r)
		text, err := json.Marshal(d)
		if err != nil {
			t.Fatal(err)
		}
		again, err := drop.Read(text)
		if err != nil {
			t.Fatalf("drop %d: %v\n%s", n, err, text)
		}
		report, err := check.Drop(t.Context(), again, nil, check.WithFigures)
		if err != nil {
			t.Fatalf("drop %d: %v", n, err)
		}
		for _, f := range report.Findings {
			fired[f.Rule] = true
			if !finding.Rule(f.Rule) || f.Subject.ID == "" || f.Subject.Label == "" || len(f.Figures) == 0 || f.Remedy == "" ||
				f.What == "" || f.Why == "" || f.Source == "" || strings.Contains(f.What+f.Remedy, "%!") {
				t.Fatalf("drop %d: a finding that does not say it all: %+v", n, f)
			}
		}
		if !slices.IsSortedFunc(report.Findings, func(a, b finding.Finding) int { return rank(a) - rank(b) }) {
			t.Fatalf("drop %d: not worst first", n)
		}
		if second, _ := check.Drop(t.Context(), d, nil, check.WithFigures); !reflect.DeepEqual(second, report) {
			t.Fatalf("drop %d: judged otherwise a second time", n)
		}
		fewer(t, d, report)
	}
	if len(fired) < 28 {
		t.Errorf("only %d rules fired: the drops are not random enough: %v", len(fired), fired)
	}
}

func rank(f finding.Finding) int {
	return slices.Index([]finding.Severity{finding.Stop, finding.Look, finding.Note}, f.Severity)
}

// fewer takes each hold away in turn: whoever was not held twice over is not
// held better with less.
func fewer(t *testing.T, d *drop.Document, with *check.Report) {
	for i := range d.People {
		holds := d.People[i].Holds
		if len(holds) == 0 || !loose(with, d.People[i].ID) {
			continue
		}
		d.People[i].Holds = holds[1:]
		without, err := check.Drop(t.Context(), d, nil, check.WithFigures)
		d.People[i].Holds = holds
		if err != nil {
			t.Fatal(err)
		}
		if !loose(without, d.People[i].ID) {
			t.Fatalf("%s is held twice over with a hold less", d.People[i].ID)
		}
	}
}

// loose reports whether somebody is found not to be held twice over.
func loose(r *check.Report, person string) bool {
	return slices.ContainsFunc(r.Findings, func(f finding.Finding) bool { return f.Rule == "points.two" && f.Subject.Person == person })
}

// What JSON cannot refuse is refused by where names lead.
func TestReadRefuses(t *testing.T) {
	refuses(t, "face-4", map[string]spoiled{
		"no such strand":         {func(d *drop.Document) { d.People[0].Holds[0].Strand = "x" }, "/people/0/holds/0/strand"},
		"no such item":           {func(d *drop.Document) { d.People[0].Holds[0].Device = "x" }, "/people/0/holds/0/device"},
		"an item twice":          {func(d *drop.Document) { d.People[0].Carries[0] = "descender-14" }, "/people/0/holds/0/device"},
		"not a device":           {func(d *drop.Document) { d.People[0].Holds[0].Device = "connector-63" }, "/people/0/holds/0/device"},
		"no such mode":           {func(d *drop.Document) { d.People[0].Holds[0].Mode = "x" }, "/people/0/holds/0/mode"},
		"no such position":       {func(d *drop.Document) { d.People[0].Holds[0].Position = "x" }, "/people/0/holds/0/position"},
		"a gate on an absorber":  {func(d *drop.Document) { d.People[0].Holds[1].Links[1].Gate = rig.GateShut }, "/people/0/holds/1/links/1"},
		"not a link":             {func(d *drop.Document) { d.People[0].Holds[0].Links[0] = rig.Link{Item: "gloves-1"}; use(d, "gloves-1") }, "/people/0/holds/0/links/0/item"},
		"not a harness":          {func(d *drop.Document) { d.People[0].Harness = "connector-72"; use(d, "connector-72") }, "/people/0/harness"},
		"no such anchor":         {func(d *drop.Document) { d.Strands[0].Anchors[0] = "x" }, "/strands/0/anchors/0"},
		"not a rope":             {func(d *drop.Document) { d.Strands[0].Ropes[0] = "chest-1" }, "/strands/0/ropes/0"},
		"a join too few":         {func(d *drop.Document) { d.Strands[0].Ropes = append(d.Strands[0].Ropes, "rope-5"); use(d, "rope-5") }, "/strands/0/ropes"},
		"two mains of a set":     {func(d *drop.Document) { d.Strands[1].Role = rig.Main }, "/strands/1/role"},
		"a mark above":           {func(d *drop.Document) { d.Strands[0].Marks[0].HeightM = 97 }, "/strands/0/marks/0/height_m"},
		"a knot with an anchor":  {func(d *drop.Document) { d.Strands[0].Marks[2].Anchor = "face-main" }, "/strands/0/marks/2/anchor"},
		"isolates nothing":       {func(d *drop.Document) { d.Strands[0].Marks[2].Isolates = "x" }, "/strands/0/marks/2/isolates"},
		"a leg without length":   {func(d *drop.Document) { d.Anchors[0].Legs[0].XM, d.Anchors[0].Legs[0].YM = 0, 0 }, "/anchors/0/legs/0"},
		"an id twice":            {func(d *drop.Document) { d.Anchors[1].ID = d.Anchors[0].ID }, "/anchors/1/id"},
		"no such rule to raise":  {func(d *drop.Document) { d.Policy.Raises = []policy.Raise{{Rule: "x", To: "stop"}} }, "/policy/raises/0/rule"},
		"too high up":            {func(d *drop.Document) { d.People[0].AtM = 120 }, "/people/0/at_m"},
		"a model upside down":    {func(d *drop.Document) { model(d, "descender-a").Device.Modes[0].MaxKg = 1 }, "/models/5/device/modes/0/max_kg"},
		"a part that is missing": {func(d *drop.Document) { model(d, "descender-a").Device = nil }, "/models/5/device"},
		"a part too many": {func(d *drop.Document) {
			model(d, "descender-a").Pulley = &gear.PulleyModel{Efficiency: 1, Sheaves: 1, SideKN: 1, LargestDiameterMM: 1}
		}, "/models/5/pulley"},
		"quarantine, no reason": {func(d *drop.Document) { d.Items[0].State = gear.Quarantine }, "/items/0/reason"},
	})
	haul := func(h rig.TeamHaul) func(*drop.Document) { return func(d *drop.Document) { d.Team.Haul = &h } }
	part := func(part, item string) rig.TeamGear { return rig.TeamGear{Part: part, Item: item} }
	refuses(t, "basin-wall", map[string]spoiled{
		"the team as it is":        {func(*drop.Document) {}, ""},
		"one strand for both":      {func(d *drop.Document) { d.Team.Belay.Strand = "main" }, "/team/belay/strand"},
		"no such strand":           {func(d *drop.Document) { d.Team.Main.Strand = "third" }, "/team/main/strand"},
		"no such brake":            {func(d *drop.Document) { d.Team.Main.Brake = "brake-9" }, "/team/main/brake"},
		"a pulley for a brake":     {func(d *drop.Document) { d.Team.Kit, d.Team.Main.Brake = nil, "pulley-1" }, "/team/main/brake"},
		"a brake twice":            {func(d *drop.Document) { d.Team.Belay.Brake = "brake-1" }, "/team/belay/brake"},
		"a pulley for a connector": {func(d *drop.Document) { d.Team.Kit, d.Team.Belay.Connector = nil, "pulley-1" }, "/team/belay/connector"},
		"no connector":             {func(d *drop.Document) { d.Team.Belay.Connector = "" }, ""},
		"kit that is missing":      {func(d *drop.Document) { d.Team.Kit[0] = "pulley-99" }, "/team/kit/0"},
		"knots the wrong way":      {func(d *drop.Document) { d.Team.Main.KnotsM = []quantity.Metres{22, 21.9} }, "/team/main/knots_m/1"},
		"two knots at one place":   {func(d *drop.Document) { d.Team.Main.KnotsM = []quantity.Metres{22, 22} }, "/team/main/knots_m/1"},
		"knots in their order":     {func(d *drop.Document) { d.Team.Main.KnotsM = []quantity.Metres{22, 22.1} }, ""},
		"a call twice": {func(d *drop.Document) {
			d.Team.Calls = []rig.TeamCall{{Do: "lower", Call: "a"}, {Do: "lower", Call: "b"}}
		}, "/team/calls/1/do"},
		"neither name nor reeving": {haul(rig.TeamHaul{}), "/team/haul"},
		"a haul by its name":       {haul(rig.TeamHaul{System: "3:1", Gear: []rig.TeamGear{part("A", "pulley-1"), part("B", "pulley-2"), part("G", "grab-1")}}), ""},
		"a part twice":             {haul(rig.TeamHaul{System: "3:1", Gear: []rig.TeamGear{part("A", "pulley-1"), part("A", "pulley-2")}}), "/team/haul/gear/1/part"},
		"one pulley for two":       {haul(rig.TeamHaul{System: "3:1", Gear: []rig.TeamGear{part("A", "pulley-1"), part("B", "pulley-1")}}), "/team/haul/gear/1/item"},
		"no such part":             {haul(rig.TeamHaul{System: "3:1", Gear: []rig.TeamGear{part("Z", "pulley-1")}}), "/team/haul/gear/0/part"},
		"not in the kit":           {haul(rig.TeamHaul{System: "3:1", Gear: []rig.TeamGear{part("A", "brake-1")}}), "/team/haul/gear/0/item"},
		"a grab for a pulley":      {haul(rig.TeamHaul{System: "3:1", Gear: []rig.TeamGear{part("A", "grab-1")}}), "/team/haul/gear/0/item"},
	})
	refuses(t, "face-7", map[string]spoiled{
		"the rescue as it is": {func(*drop.Document) {}, ""},
		"one comes twice":     {func(d *drop.Document) { d.Rescue.Rescuers = append(d.Rescue.Rescuers, d.Rescue.Rescuers[0]) }, "/rescue/rescuers/1/person"},
		"nobody comes":        {func(d *drop.Document) { d.Rescue.Rescuers[0].Person = "una" }, "/rescue/rescuers/0/person"},
		"a set there is not":  {func(d *drop.Document) { d.Rescue.Sets = []int{1, 7} }, "/rescue/sets/1"},
		"a set there is":      {func(d *drop.Document) { d.Rescue.Sets = []int{1, 2} }, ""},
	})
}

// spoiled is a change of a drop and where it is refused; "" where it is not.
type spoiled struct {
	do      func(*drop.Document)
	pointer string
}

func refuses(t *testing.T, id string, table map[string]spoiled) {
	for name, c := range table {
		t.Run(id+"/"+name, func(t *testing.T) {
			d := demo.Drops()[id]
			c.do(d)
			text, err := json.Marshal(d)
			if err != nil {
				t.Fatal(err)
			}
			_, err = drop.Read(text)
			var refused *strict.Error
			switch {
			case c.pointer == "" && err != nil:
				t.Errorf("refused: %v", err)
			case c.pointer != "" && (!errors.As(err, &refused) || !slices.ContainsFunc(refused.Faults, func(f strict.Fault) bool { return f.Pointer == c.pointer })):
				t.Errorf("got %v, want a fault at %s", err, c.pointer)
			}
		})
	}
}

// use brings an item of the store and its model into a drop.
func use(d *drop.Document, id string) {
	g := demo.Gear()
	item := g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == id })]
	m := g.Models[slices.IndexFunc(g.Models, func(m gear.Model) bool { return m.ID == item.Model })]
	d.Include(&item, &m)
}

func model(d *drop.Document, id string) *gear.Model {
	return &d.Models[slices.IndexFunc(d.Models, func(m gear.Model) bool { return m.ID == id })]
}

// FuzzReadDocument: any input is refused with a reason or can be checked.
func FuzzReadDocument(f *testing.F) {
	// Small seeds: the fuzzer shortens large ones for minutes first.
	f.Add([]byte(`{"format":"drop","version":1,"name":"n","day":"2026-01-01","geometry":{"top_m":1,"top_name":"t","landing_name":"l","offset_m":0},"policy":{"name":"p"}}`))
	f.Add([]byte(`{"format":"drop","version":1,"name":"n","day":"2026-01-01","geometry":{"top_m":9,"top_name":"t","landing_name":"l","offset_m":1},
"anchors":[{"id":"a","name":"a","x_m":0,"height_m":9,"legs":[{"id":"l","x_m":0,"y_m":1}]}],
"strands":[{"id":"s","name":"s","role":"main","set":1,"anchors":["a"],"ropes":["r"],"end_stop":"none","marks":[{"id":"m","kind":"damage","height_m":3}]}],
"people":[{"id":"p","name":"p","mass_kg":80,"at_m":4,"holds":[{"id":"h","strand":"s","device":"d","mode":"m","position":"p","point":"ventral","above_m":0,"threaded":"right","links":[]}]}],
"models":[{"id":"r","class":"rope","maker":"m","name":"n","source":"s","rope":{"construction":"static","diameter_mm":10,"mass_g_per_m":70,"elongation_pct":3}},
{"id":"d","class":"descender","maker":"m","name":"n","source":"s","mass_g":500,"device":{"modes":[{"name":"m","persons":1,"ropes":[{"constructions":["static"],"min_mm":9,"max_mm":11}],"max_kg":150}],"positions":[{"name":"p","hands_off":"stops"}],"heat":{"specific_heat_J_kgK":900,"cooling_W_K":0,"heat_share":1}}}],
"items":[{"id":"r","model":"r","serial":"1","label":"r","state":"in-service","length_m":12},{"id":"d","model":"d","serial":"2","label":"d","state":"in-service"}],
"policy":{"name":"p"}}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		d, err := drop.Read(data)
		if err != nil {
			var refused *strict.Error
			if !errors.As(err, &refused) || len(refused.Faults) == 0 {
				t.Fatalf("refused without a reason: %v", err)
			}
			return
		}
		report, err := check.Drop(t.Context(), d, nil, check.WithFigures)
		if err != nil {
			t.Fatalf("read, but not checked: %v", err)
		}
		if _, err := json.Marshal(report); err != nil {
			t.Fatalf("a figure that is not finite: %v", err)
		}
	})
}

// The planted fault of the demo, and what clears it.
func TestChoose(t *testing.T) {
	d := demo.Drops()["face-4"]
	place := check.Place{Person: "rhea", Hold: "rhea-main"}
	choices, err := check.Choose(d, place, demo.Gear(), nil, "")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range choices.Choices {
		wide := c.Model == "descender-b"
		if c.Fits != (wide && c.Taken == "") {
			t.Errorf("%s: fits is %v", c.Item, c.Fits)
		}
		if c.Chosen != (c.Item == "descender-14") {
			t.Errorf("%s: chosen is %v", c.Item, c.Chosen)
		}
		if wide && c.Mode != "rescue" {
			t.Errorf("%s: mode %q, want the one for two persons", c.Item, c.Mode)
		}
	}
	if choices.Fit != 2 || !choices.Choices[0].Fits {
		t.Errorf("%d fit, first is %+v", choices.Fit, choices.Choices[0])
	}
	long := []string{"rope-5", "rope-17", "rope-18", "rope-19", "rope-20", "rope-21", "rope-22", "rope-41", "rope-42"}
	if choices, err := check.Choose(d, check.Place{Strand: "main"}, demo.Gear(), nil, ""); err != nil || !slices.Contains(long, choices.Choices[0].Item) {
		t.Errorf("the rope that reaches the landing does not come first: %+v, %v", choices, err)
	}
	if report, _ := check.Drop(t.Context(), d, nil, check.WithFigures); report.Stops != 1 {
		t.Errorf("choosing changed the drop: %d stops", report.Stops)
	}
	rope, err := check.Choose(d, check.Place{Strand: "main"}, demo.Gear(), nil, "")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range rope.Choices {
		// Ropes that end above the person, or are thicker than 11 mm, do not fit.
		if want := slices.Contains(append(long, "rope-6", "rope-9", "rope-31", "rope-32", "rope-33", "rope-34"), c.Item) && c.Taken == ""; c.Fits != want {
			t.Errorf("%s: fits is %v: %v", c.Item, c.Fits, c.Findings)
		}
	}
	for _, p := range []check.Place{{Person: "rhea", Hold: "x"}, {Strand: "x"}, {Strand: "main", Rope: 3}, {}} {
		if _, err := check.Choose(d, p, demo.Gear(), nil, ""); err == nil {
			t.Errorf("%+v: taken", p)
		}
	}
}

// itemsLike are the items of a store whose models' ids begin so.
func itemsLike(g *drop.Store, prefix string) []gear.Item {
	return slices.DeleteFunc(slices.Clone(g.Items), func(i gear.Item) bool { return !strings.HasPrefix(i.Model, prefix) })
}

// Of many items that differ in nothing but their names the first are listed, and the others
// counted with them as they are found when their names are typed; one that is elsewhere, worn
// or in quarantine is listed by itself.
func TestChooseOfMany(t *testing.T) {
	d, g, r := demo.Drops()["face-4"], demo.Gear(), chance.Rand(17, 1)
	like := itemsLike(g, "descender-")
	for n := range 300 {
		item := like[r.IntN(6)]
		item.ID, item.Serial, item.Label = fmt.Sprint("many-", n), fmt.Sprint("M", n), fmt.Sprintf("many %03d", n)
		item.State, item.Reason = gear.InService, ""
		switch r.IntN(12) {
		case 0:
			item.State, item.Reason = gear.Quarantine, "dropped"
		case 1:
			item.ExaminedOn = "2024-01-01"
		}
		g.Items = append(g.Items, item)
	}
	where := func(item string) string {
		if strings.HasSuffix(item, "7") {
			return "in the van"
		}
		return ""
	}
	place := check.Place{Person: "rhea", Hold: "rhea-main"}
	all, err := check.Choose(d, place, g, where, "")
	if err != nil {
		t.Fatal(err)
	}
	listed, fit := 0, 0
	for _, c := range all.Choices {
		if listed += 1 + c.Alike; c.Fits {
			fit += 1 + c.Alike
		}
	}
	if all.Of != len(like)+300 || listed != all.Of || fit != all.Fit || len(all.Choices) > 150 {
		t.Errorf("%d listed one by one, %d with those alike, of %d; %d of %d fit", len(all.Choices), listed, all.Of, fit, all.Fit)
	}
	fit = 0
	for _, item := range g.Items {
		if !strings.HasPrefix(item.Model, "descender-") {
			continue
		}
		one, err := check.Choose(d, place, g, where, strings.ToUpper(item.Label))
		if err != nil || one.Of < 1 || one.Of > 12 {
			t.Fatalf("%q finds %+v, %v", item.Label, one, err)
		}
		c := one.Choices[slices.IndexFunc(one.Choices, func(c check.Choice) bool { return c.Item == item.ID })]
		if c.Fits {
			fit++
		}
		if c.Elsewhere != where(item.ID) || c.Fits && item.State != gear.InService {
			t.Errorf("%+v", c)
		}
	}
	if fit != all.Fit {
		t.Errorf("%d fit by name, %d in all", fit, all.Fit)
	}
	if many, err := check.Choose(d, place, g, where, "many"); err != nil || many.Of != 300 || len(many.Choices) < 60 || len(many.Choices) > 150 {
		t.Errorf("%d of %d are found, %v", len(many.Choices), many.Of, err)
	}
}

// The store's record of an item counts before the one the document brought.
func TestRefresh(t *testing.T) {
	d, g := demo.Drops()["face-4"], demo.Gear()
	i := slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == "descender-14" })
	g.Items[i].State, g.Items[i].Reason = gear.Quarantine, "dropped"
	d.Items = append(d.Items, gear.Item{ID: "unused", Model: "rope-90"})
	d.Refresh(g)
	report, err := check.Drop(t.Context(), d, nil, check.WithFigures)
	if err != nil {
		t.Fatal(err)
	}
	if !slices.ContainsFunc(report.Findings, func(f finding.Finding) bool { return f.Rule == "service.quarantine" && f.Subject.ID == "rhea-main" }) {
		t.Error("the quarantine in the store does not show")
	}
	if slices.ContainsFunc(d.Items, func(i gear.Item) bool { return i.ID == "unused" }) {
		t.Error("an item that nothing names stayed")
	}
}

func BenchmarkCheck(b *testing.B) {
	d := demo.Drops()["face-4"]
	b.ReportAllocs()
	for b.Loop() {
		if _, err := check.Drop(b.Context(), d, nil, check.WithFigures); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkRead(b *testing.B) {
	text, _ := json.Marshal(demo.Drops()["face-4"])
	b.SetBytes(int64(len(text)))
	b.ReportAllocs()
	for b.Loop() {
		if _, err := drop.Read(text); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkCurves(b *testing.B) {
	d := demo.Drops()["face-4"]
	d.Geometry.TopM, d.WindMS = 110, 8
	for i := range 2 {
		d.Anchors[i].HeightM = 110.4
	}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := check.Drop(b.Context(), d, nil, check.Detail{Curves: true}); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkChoose chooses a rope of a store with five thousand ropes.
func BenchmarkChoose(b *testing.B) {
	d, g, r := demo.Drops()["face-4"], demo.Gear(), chance.Rand(17, 2)
	like := itemsLike(g, "rope-")
	for n := range 5000 {
		item := like[r.IntN(len(like))]
		item.ID, item.Serial, item.Label = fmt.Sprint("many-", n), fmt.Sprint("M", n), fmt.Sprint("many ", n)
		g.Items = append(g.Items, item)
	}
	var out *check.Choices
	for b.Loop() {
		var err error
		if out, err = check.Choose(d, check.Place{Strand: "main"}, g, nil, ""); err != nil {
			b.Fatal(err)
		}
	}
	text, err := json.Marshal(out)
	if err != nil {
		b.Fatal(err)
	}
	b.ReportMetric(float64(len(text))/1000, "kB")
}
