package ask_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/demo"
)

// misused reads the moves of a pair by what is carried and by the plan before them: what
// joins the two is of no other use, every thing that is on takes its connectors, one for
// each bend among them, and each device ends on its own strand below the knots.
func misused(d *drop.Document, out *ask.RescueAnswer) string {
	rescuer, casualty := &d.People[len(d.People)-1], &d.People[0]
	connectors, lanyards := 0, []string{}
	for _, id := range rescuer.Carries {
		switch modelOf(d, id).Class {
		case gear.Connector:
			connectors++
		case gear.Lanyard:
			lanyards = append(lanyards, id)
		}
	}
	slices.SortFunc(lanyards, func(a, b string) int {
		return int(1000 * (modelOf(d, b).LengthM - modelOf(d, a).LengthM))
	})
	// A casualty's connectors are taken over with their lanyards.
	theirs, with := 0, 0
	for _, id := range casualty.Carries {
		switch modelOf(d, id).Class {
		case gear.Connector:
			theirs++
		case gear.Lanyard:
			with++
		}
	}
	connectors += min(theirs, with)
	inUse := map[string]bool{lanyards[0]: true}
	connectors-- // of the long lanyard
	for i := range out.Plan.Steps {
		if a := &out.Plan.Steps[i].Action; a.Do == pair.ChainOn {
			connectors -= a.Links
			if a.Strap {
				inUse[lanyards[1]] = true
			}
		}
	}
	for _, m := range out.Passes {
		for i := range m.Steps {
			st := &m.Steps[i]
			if inUse[st.Action.Item] {
				return st.Action.Item + " joins the two, and is used"
			}
			if st.Action.Do == stance.Stand {
				return "somebody stands up with two"
			}
			need := 0
			for _, h := range st.After.Holds {
				own := slices.Contains(rescuer.Carries, h.Item)
				switch c := modelOf(d, h.Item).Class; {
				case c == gear.Descender && own:
					need += 2
				case c == gear.Descender:
					need++ // it comes with the one that it hangs from
				case c == gear.BackupDevice && own:
					need += 2
				case c == gear.Lanyard:
					need++
				}
			}
			if need > connectors {
				return fmt.Sprintf("%d connectors are needed and %d are there: %s", need, connectors, st.Say)
			}
			for _, l := range st.FailOne {
				if !l.Held {
					return fmt.Sprintf("if %s nothing holds: %s", l.Words, st.Say)
				}
			}
		}
		end := m.Steps[len(m.Steps)-1].After
		on := map[gear.Class]string{}
		for _, h := range end.Holds {
			on[modelOf(d, h.Item).Class] = h.Strand
		}
		if len(end.Holds) != 2 || on[gear.Descender] != "backup" || on[gear.BackupDevice] != "main" {
			return fmt.Sprintf("it ends with %+v", end.Holds)
		}
	}
	return ""
}

// A pair gets past a knot in each strand by a descender above one and another below the
// other, with what is left of both kits; not where the knots are level, nor where what the
// two are joined by would be needed.
func TestPairPastKnots(t *testing.T) {
	at, env := quantity.Metres(50), ask.NewEnv()
	rest := func(d *drop.Document, person, class, but int) {
		p := &d.People[person]
		n := 0
		p.Carries = slices.DeleteFunc(slices.Clone(p.Carries), func(id string) bool {
			if string(modelOf(d, id).Class) != []string{"connector", "lanyard"}[class] {
				return false
			}
			n++
			return n > but
		})
	}
	works, blocked := 0, map[string]int{}
	for connectors := 5; connectors <= 14; connectors++ {
		for lanyards := range 3 {
			d := demo7(t)
			give(d, demo.Gear(), "dov", "connector-52", "connector-53", "connector-54", "connector-55", "connector-56")
			rest(d, 1, 0, connectors)
			rest(d, 0, 1, lanyards)
			asked := ask.RescueAsked{Drop: *d, Person: "ivo", AtM: &at}
			out, err := asked.Answer(t.Context(), env)
			if err != nil {
				t.Fatal(err)
			}
			w := out.Ways[0]
			if !w.Works {
				blocked[w.Blocked]++
				continue
			}
			works++
			if len(out.Passes) != 1 || out.Passes[0].Move != "pass-knots-down" {
				t.Fatalf("%d connectors, %d lanyards: %+v", connectors, lanyards, out.Passes)
			}
			if wrong := misused(d, out); wrong != "" {
				t.Errorf("%d connectors, %d lanyards: %s", connectors, lanyards, wrong)
			}
		}
	}
	if works < 10 || len(blocked) < 2 {
		t.Errorf("%d work; %v", works, blocked)
	}
	// A descender that is taken over goes no further down with both than it may.
	for most, works := range map[quantity.Metres]bool{26: true, 24: false} {
		d := demo7(t)
		modesOf(d, "descender-17", 2, func(m *gear.Mode) { m.MaxDescentM = most })
		asked := ask.RescueAsked{Drop: *d, Person: "ivo", AtM: &at}
		if out, err := asked.Answer(t.Context(), env); err != nil || out.Ways[0].Works != works {
			t.Errorf("for two down %v: %v %+v", most, err, out.Ways[0])
		}
	}
	level := demo7(t)
	level.Strands[0].Marks[0].HeightM = level.Strands[1].Marks[0].HeightM
	asked := ask.RescueAsked{Drop: *level, Person: "ivo", AtM: &at}
	if out, err := asked.Answer(t.Context(), env); err != nil || out.Ways[0].Works || !strings.Contains(out.Ways[0].Blocked, "nobody lifts two") {
		t.Errorf("level knots: %v %+v", err, out.Ways[0])
	}
}

// demo7 is the demo's face with one set and no re-belay: somebody above a knot in each
// strand, and who comes to them.
func demo7(t *testing.T) *drop.Document {
	d := copyOf(t, demo.Drops()["face-7"])
	d.People = slices.Delete(d.People, 1, 2)
	d.Strands = slices.Delete(d.Strands, 2, 4)
	for i := range d.Strands {
		d.Strands[i].Marks = slices.DeleteFunc(d.Strands[i].Marks, func(m rig.Mark) bool { return m.Kind == rig.RebelayMark })
	}
	return d
}

// Who hangs on a team's own strands is lowered and raised by those who are at the brakes:
// the plan that is shown is of that load, and takes as long as the way says.
func TestTeamBringsItsOwn(t *testing.T) {
	at := quantity.Metres(20)
	d := demo7(t)
	for i := range d.Strands {
		d.Strands[i].Marks, d.Strands[i].LoopsM = nil, 25
	}
	d.Team = &rig.TeamRig{
		Load: rig.TeamLoad{Name: "the stretcher", MassKg: 190, Persons: 2, Stretcher: true}, Main: rig.TeamLine{Strand: "main", Brake: "brake-1"}, Belay: rig.TeamLine{Strand: "backup", Brake: "brake-2"},
		Operators: []string{"Ivo Kestrane", "one", "two"}, Haulers: 4, Kit: []string{"connector-85", "connector-86", "pulley-11", "pulley-12", "pulley-13", "grab-1", "hitch-1", "grab-2"},
	}
	give(d, demo.Gear(), "", "brake-1", "brake-2", "connector-85", "connector-86", "pulley-11", "pulley-12", "pulley-13", "grab-1", "hitch-1", "grab-2")
	asked := ask.RescueAsked{Drop: *d, Person: "ivo", AtM: &at}
	shown := map[string]int{}
	for ; asked.Way < 5; asked.Way++ {
		out, err := asked.Answer(t.Context(), ask.Env{})
		if err != nil {
			break
		}
		w := out.Ways[asked.Way]
		if w.Kind != "lower" && w.Kind != "raise" {
			continue
		}
		if !w.Works || out.Team == nil {
			t.Fatalf("%+v %s", w, out.Impossible)
		}
		shown[w.Kind]++
		last := w.Phases[len(w.Phases)-1]
		if d := last.Seconds - out.Team.Seconds; last.Name != w.Kind || d > 2 || d < -2 {
			t.Errorf("%s takes %v s by the way and %v s by the plan", w.Kind, last.Seconds, out.Team.Seconds)
		}
		for _, st := range out.Team.Steps {
			if strings.Contains(st.Who, "Ivo") || strings.Contains(st.Say, "stretcher") {
				t.Errorf("%s: %s: %s", w.Kind, st.Who, st.Say)
			}
		}
	}
	if shown["lower"] != 1 || shown["raise"] != 1 {
		t.Errorf("shown: %v", shown)
	}
	// What is hurt above them holds the strand; what is level with them or below does not.
	for high, works := range map[quantity.Metres]bool{19.99: true, 20: true, 20.01: false} {
		hurt := copyOf(t, &asked.Drop)
		hurt.Strands[0].Marks = []rig.Mark{{ID: "hurt", Kind: rig.DamageMark, HeightM: high}}
		a := ask.RescueAsked{Drop: *hurt, Person: "ivo", AtM: &at}
		out, err := a.Answer(t.Context(), ask.Env{})
		if err != nil {
			t.Fatal(err)
		}
		for _, w := range out.Ways {
			if w.Kind == "lower" && w.Works != works {
				t.Errorf("hurt at %v: %+v", high, w)
			}
		}
	}
	// Who hangs there works no brake: one is too few, and none plans nothing.
	for _, c := range []struct {
		operators []string
		why       string
	}{{[]string{"ivo kestrane", "one"}, "one operator cannot work two brakes"}, {[]string{"ivo kestrane"}, "nobody is left at the brakes"}} {
		asked.Drop.Team.Operators = c.operators
		for asked.Way = range 5 {
			out, err := asked.Answer(t.Context(), ask.Env{})
			if err != nil {
				break
			}
			w := out.Ways[asked.Way]
			if byTeam := w.Kind == "lower" || w.Kind == "raise"; byTeam && (w.Works || !strings.HasPrefix(w.Blocked, c.why) || out.Team != nil) || !byTeam && out.Team != nil {
				t.Errorf("%v: %+v", c.operators, w)
			}
		}
	}
}

// Of the connectors that are carried the strongest that lock are taken: with too few that bear a
// casualty nobody is taken off, by a chain of connectors or with a strap.
func TestChainBears(t *testing.T) {
	at := quantity.Metres(15)
	unlocked := func(m *gear.Model) { m.StrengthKN, m.Connector.Gate = 40, "plain" }
	weakly := func(m *gear.Model) { m.StrengthKN, m.WorkingLoads = 2, nil }
	for _, c := range []struct {
		sound, straps int
		spoil         func(*gear.Model)
		works         bool
	}{
		{5, 1, weakly, true}, {4, 1, weakly, false}, // descender, two at the backup, long lanyard, strap
		{10, 0, weakly, true}, {9, 0, weakly, false}, // a chain of six in its place
		{6, 1, unlocked, true}, {5, 1, unlocked, false}, {11, 0, unlocked, true}, {10, 0, unlocked, false}, // and one for the bend
	} {
		d := demo7(t)
		for i := range d.Strands {
			d.Strands[i].Marks = nil
		}
		weak := *modelOf(d, "connector-75")
		gate := *weak.Connector
		weak.ID, weak.Connector = "connector-weak", &gate
		c.spoil(&weak)
		d.Models = append(d.Models, weak)
		p := &d.People[1]
		give(d, demo.Gear(), "dov", "connector-52", "connector-53", "connector-54", "connector-55", "connector-56")
		n := 0
		for _, id := range p.Carries {
			if modelOf(d, id).Class == gear.Connector {
				if n++; n > c.sound {
					itemOf(d, id).Model = weak.ID
				}
			}
		}
		if c.straps == 0 {
			p.Carries = slices.DeleteFunc(p.Carries, func(id string) bool { return id == "lanyard-6" })
		}
		asked := ask.RescueAsked{Drop: *d, Person: "ivo", AtM: &at}
		out, err := asked.Answer(t.Context(), ask.Env{})
		if err != nil {
			t.Fatal(err)
		}
		if w := out.Ways[0]; w.Works != c.works {
			t.Errorf("%d that bear, %d straps: %v %q", c.sound, c.straps, w.Works, w.Blocked)
		}
	}
}

// What somebody is lifted on bears them: a pulley both its sides, the ascender by its rating, on
// their ropes. One that does not is passed over for one that does.
func TestLiftBears(t *testing.T) {
	at, weight := quantity.Metres(15), quantity.Weight(81)
	both := func(d *drop.Document, id string) *gear.Model {
		m := modelOf(d, id)
		m.WorkingLoads = nil
		return m
	}
	for name, c := range map[string]struct {
		blocked string
		do      func(*drop.Document)
	}{
		"as it is":        {"", func(*drop.Document) {}},
		"a weak pulley":   {" holds", func(d *drop.Document) { both(d, "pulley-1").StrengthKN = weight*10 - 0.01 }},
		"one that bears":  {"", func(d *drop.Document) { both(d, "pulley-1").StrengthKN = weight*10 + 0.01 }},
		"a weak side":     {"above the", func(d *drop.Document) { both(d, "pulley-1").Pulley.SideKN = weight - 0.01 }},
		"one that does":   {"", func(d *drop.Document) { both(d, "pulley-1").Pulley.SideKN = weight + 0.01 }},
		"it slips":        {"slips at", func(d *drop.Document) { both(d, "hand-1").Device.SlipKN = weight - 0.01 }},
		"it does not":     {"", func(d *drop.Document) { both(d, "hand-1").Device.SlipKN = weight + 0.01 }},
		"rated for less":  {"is not for 81 kg", func(d *drop.Document) { both(d, "hand-1").Device.Modes[0].MaxKg = 80.9 }},
		"just rated":      {"", func(d *drop.Document) { both(d, "hand-1").Device.Modes[0].MaxKg = 81 }},
		"on another rope": {"is not for 81 kg", func(d *drop.Document) { both(d, "hand-1").Device.Modes[0].Ropes[0].MaxMM = 9 }},
		"a weak ascender": {"holds", func(d *drop.Document) { both(d, "hand-1").StrengthKN = weight*5 - 0.01 }},
		"a second pulley": {"", func(d *drop.Document) {
			weak := *modelOf(d, "pulley-1")
			weak.ID, weak.StrengthKN = "pulley-weak", 1
			d.Models = append(d.Models, weak)
			itemOf(d, "pulley-1").Model, itemOf(d, "pulley-2").Model = weak.ID, weak.ID
			give(d, demo.Gear(), "rhea", "pulley-3")
			give(d, demo.Gear(), "dov", "pulley-11")
		}},
	} {
		d := demo7(t)
		d.Rescue.On = "chest-ascender"
		for i := range d.Strands {
			d.Strands[i].Marks = nil
		}
		c.do(d)
		asked := ask.RescueAsked{Drop: *d, Person: "ivo", AtM: &at}
		out, err := asked.Answer(t.Context(), ask.Env{})
		if err != nil {
			t.Fatal(err)
		}
		if w := out.Ways[0]; w.Works != (c.blocked == "") || !strings.Contains(w.Blocked, c.blocked) {
			t.Errorf("%s: %v %q", name, w.Works, w.Blocked)
		}
	}
}

// A lanyard that bears nobody does not stand in for the strap of the same length: past a
// deviation two need a lanyard that joins nobody.
func TestStrapInUse(t *testing.T) {
	at := quantity.Metres(50)
	for spare, works := range map[quantity.Kilonewtons]bool{1: false, 22: true} {
		d := demo7(t)
		d.People[0].Carries = slices.DeleteFunc(slices.Clone(d.People[0].Carries), func(id string) bool { return modelOf(d, id).Class == gear.Lanyard })
		for i := range d.Strands {
			id := "aside-" + d.Strands[i].ID
			d.Anchors = append(d.Anchors, rig.Anchor{ID: id, Name: "aside", XM: 3, HeightM: 40, Legs: []rig.Leg{{ID: id, XM: 0.1, YM: 0.2, WorkKN: 9}}})
			d.Strands[i].Marks = []rig.Mark{{ID: id, Kind: rig.DeviationMark, Name: "deviation", HeightM: 40, Anchor: id}}
		}
		m, o := *modelOf(d, "lanyard-6"), *itemOf(d, "lanyard-6")
		m.ID, m.StrengthKN, m.WorkingLoads, o.ID, o.Label, o.Serial, o.Model = "a-spare", spare, nil, "a-lanyard", "lanyard 0", "0", "a-spare"
		d.Models, d.Items = append(d.Models, m), append(d.Items, o)
		d.People[1].Carries = append([]string{o.ID}, d.People[1].Carries...)
		asked := ask.RescueAsked{Drop: *d, Person: "ivo", AtM: &at}
		out, err := asked.Answer(t.Context(), ask.Env{})
		if err != nil || out.Ways[0].Works != works {
			t.Errorf("a further lanyard of %v: %v %q", spare, err, out.Ways[0].Blocked)
		}
	}
}
