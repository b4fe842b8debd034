package ask_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/demo"
)

func covered(t testing.TB, env ask.Env, d *drop.Document) *ask.RescueAnswer {
	t.Helper()
	asked := ask.RescueAsked{Drop: *d}
	out, err := asked.Answer(t.Context(), env)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// copyOf is a drop with everything its own.
func copyOf(t testing.TB, d *drop.Document) *drop.Document {
	t.Helper()
	text, err := json.Marshal(d)
	if err != nil {
		t.Fatal(err)
	}
	c := new(drop.Document)
	if err := json.Unmarshal(text, c); err != nil {
		t.Fatal(err)
	}
	return c
}

var ranks = map[string]int{"uncovered": 0, "last-resort": 1, "slow": 2, "covered": 3}

// give puts items of the store onto somebody.
func give(d *drop.Document, g *drop.Store, person string, items ...string) {
	for _, id := range items {
		for i := range g.Items {
			if g.Items[i].ID != id {
				continue
			}
			for j := range g.Models {
				if g.Models[j].ID == g.Items[i].Model {
					d.Include(&g.Items[i], &g.Models[j])
				}
			}
		}
		for i := range d.People {
			if d.People[i].ID == person {
				// First of all, where it must not stand in the way of what was there.
				d.People[i].Carries = slices.Insert(slices.Clone(d.People[i].Carries), 0, id)
			}
		}
	}
}

// More gear, more people or more rigging never takes cover away: whatever is added to a
// drop, in whatever order, each metre stays at least as well covered as it was.
func TestMoreNeverCoversLess(t *testing.T) {
	g := demo.Gear()
	r := chance.Rand(7, 2)
	adds := map[string]func(d *drop.Document){
		"connectors":  func(d *drop.Document) { give(d, g, "dov", "connector-52", "connector-53") },
		"a pulley":    func(d *drop.Document) { give(d, g, "dov", "pulley-3") },
		"a descender": func(d *drop.Document) { give(d, g, "dov", "descender-16") },
		"a backup":    func(d *drop.Document) { give(d, g, "dov", "backup-9", "absorber-11") },
		"a kit":       func(d *drop.Document) { give(d, g, "dov", "evacuation-1") },
		"a rescuer": func(d *drop.Document) {
			d.Rescue.Rescuers = append(d.Rescue.Rescuers, rig.Rescuer{Person: "rhea"})
		},
		"a set": func(d *drop.Document) {
			for i, role := range []rig.Role{rig.Main, rig.Backup} {
				s := d.Strands[i]
				s.ID, s.Name, s.Set, s.Marks, s.Ropes = "rescue-"+string(role), "rescue "+string(role), 3, nil, []string{[]string{"rope-3", "rope-4"}[i]}
				d.Strands = append(d.Strands, s)
				for j := range g.Items {
					if g.Items[j].ID == s.Ropes[0] {
						for k := range g.Models {
							if g.Models[k].ID == g.Items[j].Model {
								d.Include(&g.Items[j], &g.Models[k])
							}
						}
					}
				}
			}
			d.Rescue.Sets = append(d.Rescue.Sets, 3)
		},
	}
	var names []string
	for name := range adds {
		names = append(names, name)
	}
	slices.Sort(names)
	better, env := 0, ask.NewEnv()
	for range *covers / 4 {
		d := copyOf(t, demo.Drops()["face-7"])
		before := covered(t, env, d).Cover
		order := slices.Clone(names)
		r.Shuffle(len(order), func(i, j int) { order[i], order[j] = order[j], order[i] })
		for _, name := range order {
			adds[name](d)
			after := covered(t, env, d).Cover
			for i, p := range before.People {
				for j, s := range p.States {
					now := after.People[i].States[j]
					if ranks[now.State] < ranks[s.State] && !(s.State == "covered" && now.State == "slow") {
						t.Errorf("with %s too %s at %v is %s, and was %s", name, p.Name, before.Heights[j], now.State, s.State)
					}
					if ranks[now.State] > ranks[s.State] {
						better++
					}
				}
			}
			before = after
		}
	}
	if better == 0 {
		t.Error("nothing that was added covered anything")
	}
}

// forOne leaves one descender that bears two: no pair passes anything.
func forOne(d *drop.Document) {
	modesOf(d, "descender-17", 2, func(m *gear.Mode) { m.MaxKg = 150 })
}

// Gaps are stops that say what blocks, mended by the first change that is
// proposed, which is then a drop of its own that can be read and has none.
func TestRescueChanges(t *testing.T) {
	d := copyOf(t, demo.Drops()["face-7"])
	forOne(d)
	at, env := quantity.Metres(50), ask.NewEnv()
	asked := ask.RescueAsked{Drop: *d, Person: "ivo", AtM: &at, Changes: true}
	out, err := asked.Answer(t.Context(), stocked(env))
	if err != nil {
		t.Fatal(err)
	}
	if len(out.Cover.Gaps) == 0 || out.Ways[0].Works || len(out.Changes) < 2 || finding.Count(out.Findings, finding.Stop) == 0 {
		t.Fatalf("%+v %+v", out.Cover.Gaps, out.Changes)
	}
	report, err := check.Drop(t.Context(), d, nil, check.WithFigures)
	if err != nil || !slices.ContainsFunc(report.Findings, func(f finding.Finding) bool { return f.Rule == "rescue.uncovered" && f.Severity == finding.Stop }) {
		t.Errorf("the check says nothing of it: %v", err)
	}
	for i := 1; i < len(out.Changes); i++ {
		if out.Changes[i].GainM > out.Changes[i-1].GainM {
			t.Errorf("%+v comes after %+v", out.Changes[i], out.Changes[i-1])
		}
	}
	// Two lines take two brakes: with one in the store nobody is lowered at once.
	one := stocked(env)
	one.Store = func(context.Context) (*drop.Store, error) {
		g, had := demo.Gear(), false
		models := gear.ModelsByID(g.Models)
		g.Items = slices.DeleteFunc(slices.Clone(g.Items), func(o gear.Item) bool {
			brake := models[o.Model].Class == gear.AnchorBrake
			gone := brake && had
			had = had || brake
			return gone
		})
		return g, nil
	}
	few, err := asked.Answer(t.Context(), one)
	runs := func(c cover.Change) bool { return strings.Contains(c.Words, "run through") }
	if err != nil || slices.ContainsFunc(few.Changes, runs) || !slices.ContainsFunc(out.Changes, runs) {
		t.Errorf("%v: with one brake %+v", err, few)
	}
	// What a change promises is what its drop shows to somebody who knows of nothing else.
	asked.Changes, asked.Apply = false, 2
	second, err := asked.Answer(t.Context(), stocked(env))
	if err != nil {
		t.Fatal(err)
	}
	left := 0
	for _, p := range covered(t, ask.NewEnv(), second.Drop).Cover.People {
		for _, s := range p.States {
			if s.State == "uncovered" || s.State == "undecided" {
				left++
			}
		}
	}
	if promise := out.Changes[1]; left != promise.LeftM {
		t.Errorf("%s: %d m left uncovered, %d were promised", promise.Words, left, promise.LeftM)
	}
	asked.Apply = 1
	if out, err = asked.Answer(t.Context(), stocked(env)); err != nil {
		t.Fatal(err)
	}
	text, err := json.Marshal(out.Drop)
	if err != nil {
		t.Fatal(err)
	}
	changed, err := drop.Read(text)
	if err != nil {
		t.Fatal(err)
	}
	asked = ask.RescueAsked{Drop: *changed, Person: "ivo", AtM: &at}
	if out, err = asked.Answer(t.Context(), env); err != nil || len(out.Cover.Gaps) > 0 || !out.Ways[0].Works || out.Plan == nil {
		t.Fatalf("%v: %+v %+v", err, out.Cover.Gaps, out.Impossible)
	}
	for n := len(out.Plan.Steps) - 1; n <= len(out.Plan.Steps); n++ {
		asked.Steps = []pair.Action{}
		for _, s := range out.Plan.Steps[:n] {
			asked.Steps = append(asked.Steps, s.Action)
		}
		walked, err := asked.Answer(t.Context(), env)
		if err != nil || len(walked.Found) > 0 || (walked.Unfinished == "") != (n == len(out.Plan.Steps)) {
			t.Errorf("%d steps: %v %+v %q", n, err, walked.Found, walked.Unfinished)
		}
	}
	asked.Steps = nil
	// The times add up, none is left out, and the plan's own is among them.
	for _, w := range out.Ways {
		sum := 0.0
		for _, p := range w.Phases {
			sum += p.Seconds
			if p.Source == "" {
				t.Errorf("%+v has no source", p)
			}
		}
		if sum != w.Seconds {
			t.Errorf("%s: %v, its parts %v", w.Words, w.Seconds, sum)
		}
	}
	if free := out.Ways[0].Phases[3]; free.Name != "free" || free.Seconds != out.Plan.Seconds {
		t.Errorf("%+v, the plan takes %v", free, out.Plan.Seconds)
	}
	// A set that somebody works on is not free because it is called ready.
	busy := copyOf(t, d)
	busy.Rescue.Sets = []int{2}
	asked = ask.RescueAsked{Drop: *busy, Person: "ivo", AtM: &at}
	if out, err := asked.Answer(t.Context(), env); err != nil || out.Ways[0].Works {
		t.Errorf("%v: %+v", err, out.Ways)
	}
	asked.Drop.Rescue = nil
	if _, err := asked.Answer(t.Context(), env); err == nil {
		t.Error("a rescue where nobody comes")
	}
}

// coverTrials show for every rule on cover what makes it fire and what does not, each by
// one change of the demo's drop; quick is the longest that anybody waits there, in minutes.
var coverTrials = map[string]struct {
	fires, not func(d *drop.Document, quick float64)
}{
	"rescue.uncovered": {
		func(*drop.Document, float64) {},
		func(d *drop.Document, _ float64) { d.Strands = withoutKnots(d.Strands) },
	},
	"rescue.slow": {
		func(d *drop.Document, quick float64) { d.Policy.HangLimitMin = quick - 0.01 },
		func(d *drop.Document, quick float64) { d.Policy.HangLimitMin = quick },
	},
	"rescue.last-resort": {
		func(d *drop.Document, _ float64) { give(d, demo.Gear(), "dov", "evacuation-1") },
		func(d *drop.Document, _ float64) {
			give(d, demo.Gear(), "dov", "evacuation-1")
			d.Strands = withoutKnots(d.Strands)
		},
	},
}

// withoutKnots takes everything out of the way on the strands.
func withoutKnots(strands []rig.Strand) []rig.Strand {
	list := slices.Clone(strands)
	for i := range list {
		list[i].Marks = nil
	}
	return list
}

// Every rule on cover fires on a change that asks for it, and not on one just inside; a
// rule without trials fails here.
func TestEveryCoverRule(t *testing.T) {
	env := ask.NewEnv()
	base := demo.Drops()["face-7"]
	quick := 0.0
	for _, p := range covered(t, env, base).Cover.People {
		for _, s := range p.States {
			quick = max(quick, s.Seconds/60)
		}
	}
	fires := func(rule string, change func(*drop.Document, float64)) bool {
		d := copyOf(t, base)
		change(d, quick)
		return slices.ContainsFunc(covered(t, env, d).Findings, func(f finding.Finding) bool { return f.Rule == rule })
	}
	for _, r := range cover.Rules {
		c := coverTrials[r.ID]
		if c.fires == nil {
			t.Errorf("%s has no trials", r.ID)
			continue
		}
		if !fires(r.ID, c.fires) {
			t.Errorf("%s does not fire", r.ID)
		}
		if fires(r.ID, c.not) {
			t.Errorf("%s fires just inside", r.ID)
		}
	}
}

// What a rescue may hang on and whose strength or heat is not entered is said; entered, nothing.
func TestCoverSaysWhatItCannotJudge(t *testing.T) {
	env := ask.NewEnv()
	for _, c := range []struct {
		line string
		do   func(*drop.Document)
	}{
		{"the strength of leg ", func(d *drop.Document) {
			for _, a := range d.Anchors {
				a.Legs[0].StrengthKN, a.Legs[0].WorkKN = 0, 0
			}
		}},
		{"the strength of connector 75", func(d *drop.Document) { modelOf(d, "connector-75").StrengthKN = 0 }},
		{"the strength of ", func(d *drop.Document) {
			for _, id := range []string{"lanyard-6", "lanyard-13"} {
				modelOf(d, id).StrengthKN, modelOf(d, id).WorkingLoads = 0, nil
			}
		}},
		{"the heat with two of descender 22", func(d *drop.Document) { modelOf(d, "descender-22").Device.Heat = nil }},
		{"the pick-off of Dov Pellister: no practice", func(d *drop.Document) { d.Rescue.Rescuers[0].PractisedOn = "" }},
		{"the heat with two against", func(d *drop.Document) {
			for i := range d.Models {
				if r := d.Models[i].Rope; r != nil {
					r.SheathLimitC = 0
				}
			}
		}},
	} {
		d := withSet(t)
		low(d)
		before := covered(t, env, copyOf(t, d)).Cover
		if list := before.NotLookedAt; len(list) > 0 {
			t.Fatal(list)
		}
		c.do(d)
		after := covered(t, env, d).Cover
		list := after.NotLookedAt
		if len(after.Gaps) != len(before.Gaps) {
			t.Errorf("%s: gaps %+v, and %+v before", c.line, after.Gaps, before.Gaps)
		}
		if len(list) != 1 || !strings.HasPrefix(list[0], c.line) {
			t.Errorf("%q: %q", c.line, list)
		}
	}
	// The loop of a lift bears who hangs in what grips.
	for on, said := range map[string]bool{"": false, "chest-ascender": true} {
		d := withSet(t)
		low(d)
		d.Rescue.On = on
		list := covered(t, env, d).Cover.NotLookedAt
		if slices.ContainsFunc(list, func(line string) bool { return strings.HasPrefix(line, "the strength of foot loop") }) != said {
			t.Errorf("on %q: %q", on, list)
		}
	}
}

// With two descenders and two backups rated for two, the casualty's taken over among them,
// a pair passes a re-belay without anybody standing up; with one descender nobody does, and
// it is said; nor past a knot. A team's strands
// beside the casualty's give a way that lowers a rescuer to them.
func TestPairPasses(t *testing.T) {
	d := copyOf(t, demo.Drops()["face-7"])
	d.People = slices.Delete(d.People, 1, 2)
	d.Strands[0].Marks, d.Strands[1].Marks = d.Strands[0].Marks[:1], d.Strands[1].Marks[:1]
	at := quantity.Metres(66)
	asked := ask.RescueAsked{Drop: *d, Person: "ivo", AtM: &at}
	find := func(kind string) (*ask.RescueAnswer, *cover.Way) {
		asked.Way = 0
		out, err := asked.Answer(t.Context(), ask.Env{})
		if err != nil {
			t.Fatal(err)
		}
		for i := range out.Ways {
			if out.Ways[i].Kind == kind {
				asked.Way = i
				if out, err = asked.Answer(t.Context(), ask.Env{}); err != nil {
					t.Fatal(err)
				}
				return out, &out.Ways[i]
			}
		}
		t.Fatalf("no %s among %+v", kind, out.Ways)
		return nil, nil
	}
	if out, w := find("own-strands"); !w.Works || len(out.Passes) != 1 {
		t.Errorf("with the casualty's taken over: %+v", w)
	}
	forOne(&asked.Drop)
	if _, w := find("own-strands"); w.Works || !strings.Contains(w.Blocked, "nobody lifts two") {
		t.Errorf("%+v", w)
	}
	on, err := site.Open(demo.Drops()["face-7"])
	if err != nil {
		t.Fatal(err)
	}
	sc, _, err := moves.Scene(on, "dov", school.Schools{})
	if err != nil {
		t.Fatal(err)
	}
	above := quantity.Metres(26)
	if plan, err := moves.For(t.Context(), sc.ForPair(180, func(string) bool { return true }), above, moves.Ask{Move: "pass-knots-down", From: &above, Set: 1}); !errors.Is(err, moves.ErrNone) {
		t.Errorf("two past a knot: %v %v", plan, err)
	}
	give(&asked.Drop, demo.Gear(), "dov", "descender-21", "backup-9", "absorber-11", "connector-52", "connector-53", "connector-54", "connector-55", "connector-56")
	out, w := find("own-strands")
	if !w.Works || len(out.Passes) != 1 || out.Plan == nil {
		t.Fatalf("%+v: %d", w, len(out.Passes))
	}
	for _, st := range out.Passes[0].Steps {
		if st.Action.Do == stance.Stand {
			t.Errorf("somebody stands up with two: %s", st.Say)
		}
		for _, l := range st.FailOne {
			if !l.Held {
				t.Errorf("%s: if %s goes nothing holds", st.Say, l.Words)
			}
		}
	}
	asked.Drop.Team = &rig.TeamRig{
		Load: rig.TeamLoad{Name: "a rescuer", MassKg: 92, Persons: 1}, Main: rig.TeamLine{Strand: "main-two", Brake: "brake-1"}, Belay: rig.TeamLine{Strand: "backup-two", Brake: "brake-2"},
		Operators: []string{"one", "two"}, Kit: []string{"connector-85", "connector-86"},
	}
	give(&asked.Drop, demo.Gear(), "", "brake-1", "brake-2", "connector-85", "connector-86")
	out, w = find("lowered")
	if !w.Works || out.Plan == nil || !slices.ContainsFunc(out.Plan.Steps, func(s pair.Step) bool { return s.Call == "Two on the rope: bend in" }) {
		t.Errorf("%+v", w)
	}
	// A knot in the team's rope is passed by the team, with what it has for it.
	asked.Drop.Team.Main.KnotsM = []quantity.Metres{40}
	if _, w = find("lowered"); w.Works || !strings.Contains(w.Blocked, "does not pass a knot") {
		t.Errorf("%+v", w)
	}
	plain := w.Seconds
	give(&asked.Drop, demo.Gear(), "", "grab-1", "hitch-1")
	asked.Drop.Team.Kit = append(asked.Drop.Team.Kit, "grab-1", "hitch-1")
	if _, w = find("lowered"); !w.Works || w.Seconds < plain+100 {
		t.Errorf("%+v", w)
	}
	// Who is lowered, or fetched, works no brake.
	for _, who := range []string{"dov  pellister", "Ivo Kestrane"} {
		asked.Drop.Team.Operators[1] = who
		if _, w = find("lowered"); w.Works || !strings.Contains(w.Blocked, "one operator cannot work two brakes") {
			t.Errorf("%s at a brake: %+v", who, w)
		}
	}
	// A knot is no re-belay.
	for i := range asked.Drop.Strands {
		if s := &asked.Drop.Strands[i]; s.ID == "main-two" {
			s.Marks = []rig.Mark{{ID: "join", Kind: rig.KnotMark, HeightM: 30}}
		}
	}
	asked.Drop.Team.Operators = []string{"Dov Pellister", "one", "two"}
	if _, w = find("lowered"); !w.Works {
		t.Errorf("%+v", w)
	}
	asked.Drop.Team.Main.KnotsM = nil
	asked.Drop.Team.Kit = nil
	if _, w = find("lowered"); w.Works || !strings.Contains(w.Blocked, "friction bend needs") {
		t.Errorf("%+v", w)
	}
}

// high is a drop with three obstacles for every 55 m, and three people.
func high(t testing.TB, sections int) *drop.Document {
	top := quantity.Metres(55 * sections)
	d := copyOf(t, demo.Drops()["face-7"])
	d.Geometry.TopM = top
	d.Geometry.Edges[0].HeightM = top - 1
	for i := range d.Anchors {
		if d.Anchors[i].HeightM > 70 {
			d.Anchors[i].HeightM = top + 0.8
		}
	}
	for i := range d.Items {
		if d.Items[i].LengthM == 110 {
			d.Items[i].LengthM = top + 50
		}
	}
	for i := range d.Strands {
		if d.Strands[i].Set == 2 {
			for n := range sections {
				h := quantity.Metres(20 + 55*n)
				d.Strands[i].Marks = append(d.Strands[i].Marks,
					rig.Mark{ID: fmt.Sprintf("%s-low-%d", d.Strands[i].ID, n), Kind: rig.KnotMark, HeightM: h, Eye: true},
					rig.Mark{ID: fmt.Sprintf("%s-high-%d", d.Strands[i].ID, n), Kind: rig.KnotMark, HeightM: h + 20, Eye: true})
			}
			continue
		}
		d.Strands[i].Marks = nil
		for n := range sections {
			d.Strands[i].Marks = append(d.Strands[i].Marks, rig.Mark{ID: fmt.Sprintf("%s-%d", d.Strands[i].ID, n), Kind: rig.KnotMark, HeightM: quantity.Metres(30 + 55*n), Eye: true})
		}
	}
	for i := range d.People {
		if d.People[i].Grounded {
			d.People[i].AtM = top
		}
	}
	d.Rescue.Rescuers = append(d.Rescue.Rescuers, rig.Rescuer{Person: "rhea"}, rig.Rescuer{Person: "ivo"})
	return d
}

// BenchmarkCover is the cover of 110 m, six obstacles and three people at every metre:
// from nothing known, and after one person's kit has changed.
func BenchmarkCover(b *testing.B) {
	b.Run("cold", func(b *testing.B) {
		for b.Loop() {
			b.StopTimer()
			d := high(b, 2)
			b.StartTimer()
			covered(b, ask.Env{}, d)
		}
	})
	for _, sections := range []int{1, 4} {
		b.Run(fmt.Sprint("grows-", sections), func(b *testing.B) {
			for b.Loop() {
				b.StopTimer()
				d := high(b, sections)
				b.StartTimer()
				covered(b, ask.Env{}, d)
			}
		})
	}
	b.Run("one-kit", func(b *testing.B) {
		d := high(b, 2)
		env := ask.NewEnv()
		covered(b, env, d)
		n := 0
		for b.Loop() {
			b.StopTimer()
			c := copyOf(b, d)
			n++
			g := demo.Gear()
			for i := range g.Items {
				if g.Items[i].ID == "connector-52" {
					g.Items[i].ID = fmt.Sprintf("connector-x%d", n)
				}
			}
			give(c, g, "dov", fmt.Sprintf("connector-x%d", n))
			b.StartTimer()
			covered(b, env, c)
		}
	})
	b.Run("again", func(b *testing.B) {
		d, env := high(b, 2), ask.NewEnv()
		covered(b, env, d)
		for b.Loop() {
			covered(b, env, d)
		}
	})
}

// What the page shows of waiting is what the ways are timed with, by the policy and
// where the drop says otherwise.
func TestWaits(t *testing.T) {
	asked := ask.RescueAsked{Drop: *demo.Drops()["face-7"]}
	alarm, walk, at := 90.0, 200.0, quantity.Metres(20)
	asked.Drop.Policy.AlarmS, asked.Drop.Policy.WalkS, asked.AtM = &alarm, &walk, &at
	setup := *asked.Drop.Rescue
	setup.AlarmS, setup.Rescuers = 0, slices.Clone(setup.Rescuers)
	asked.Drop.Rescue = &setup
	for i, told := range []float64{0, 42} {
		setup.Rescuers[0].WalkS = told
		answer, err := asked.Answer(t.Context(), ask.Env{})
		if err != nil {
			t.Fatal(err)
		}
		if w := answer.Walks[0]; answer.Alarm.S != alarm || len(answer.Walks) != len(setup.Rescuers) || w.S != []float64{walk, told}[i] {
			t.Errorf("alarm %+v, walks %+v", answer.Alarm, answer.Walks)
		}
		name := ""
		for _, p := range asked.Drop.People {
			if p.ID == setup.Rescuers[0].Person {
				name = p.Name
			}
		}
		seen := 0
		for _, w := range answer.Ways {
			if p := w.Phases; len(p) > 1 && p[1].Who == name {
				seen++
				if p[0].Seconds != alarm || p[1].Seconds != answer.Walks[0].S || p[1].Source != answer.Walks[0].Source {
					t.Errorf("%s: %+v", w.Words, p[:2])
				}
			}
		}
		if seen == 0 {
			t.Error("the rescuer has no way")
		}
	}
}

// A rescue that cannot be planned is said to cover nobody, and is not said to have been
// looked at; and one that is cut off says so for every metre.
func TestRescueNotComputed(t *testing.T) {
	d := copyOf(t, demo.Drops()["face-7"])
	for set := 3; set <= 20; set++ {
		for n, role := range []rig.Role{rig.Main, rig.Backup} {
			id := fmt.Sprint(role, "-", set)
			item, anchor, strand := d.Items[slices.IndexFunc(d.Items, func(o gear.Item) bool { return o.ID == "rope-19" })], d.Anchors[n], d.Strands[2+n]
			item.ID, item.Label, item.Serial = "rope-"+id, "rope "+id, id
			anchor.ID, anchor.Name = id, id
			strand.ID, strand.Name, strand.Set, strand.Anchors, strand.Ropes = id, id, set, []string{id}, []string{item.ID}
			d.Items, d.Anchors, d.Strands = append(d.Items, item), append(d.Anchors, anchor), append(d.Strands, strand)
		}
	}
	report, err := check.Drop(t.Context(), d, nil, check.FindingsOnly)
	if err != nil {
		t.Fatal(err)
	}
	if !slices.ContainsFunc(report.Findings, func(f finding.Finding) bool {
		return f.Rule == "rescue.uncovered" && f.Severity == finding.Stop && strings.Contains(f.What, "cannot be computed")
	}) || !slices.Contains(report.NotLookedAt, "rescue from every height") {
		t.Errorf("%+v\n%q", report.Findings, report.NotLookedAt)
	}
	for _, l := range report.LookedAt {
		if l.Rule == "rescue.uncovered" && l.Things > 0 {
			t.Errorf("%d people are said to have been looked at", l.Things)
		}
	}
	// A set without a main strand is no way, and asked about it says so.
	half := copyOf(t, demo.Drops()["face-7"])
	half.Strands[2].Set = 4
	for way := range 6 {
		at := quantity.Metres(20)
		asked := ask.RescueAsked{Drop: *half, Person: "ivo", AtM: &at, Way: way}
		out, err := asked.Answer(t.Context(), ask.Env{})
		if err != nil {
			break
		}
		if w := out.Ways[way]; w.Set != 1 && w.Rescuer != "" && (w.Blocked == "" || out.Plan != nil || !strings.Contains(out.Impossible, "lacks a main")) {
			t.Errorf("way %d: %q %q", way, w.Blocked, out.Impossible)
		}
	}
	// A last resort whose way down was not decided is not decided.
	last := copyOf(t, demo.Drops()["face-7"])
	give(last, demo.Gear(), "dov", "evacuation-1")
	last.People = slices.DeleteFunc(last.People, func(p rig.Person) bool { return p.ID == "rhea" })
	last.Strands = last.Strands[:2]
	at := quantity.Metres(50)
	cut := ask.RescueAsked{Drop: *last, Person: "ivo", AtM: &at, MaxStates: 1}
	cutOff, err := cut.Answer(t.Context(), ask.Env{})
	if err != nil {
		t.Fatal(err)
	}
	if !slices.ContainsFunc(cutOff.Ways, func(w cover.Way) bool { return w.Kind == "evacuate" && w.Undecided && !w.Works }) {
		t.Errorf("%+v", cutOff.Ways)
	}
	asked := ask.RescueAsked{Drop: *demo.Drops()["face-7"], MaxStates: 1}
	out, err := asked.Answer(t.Context(), ask.Env{})
	if err != nil {
		t.Fatal(err)
	}
	undecided := 0
	for _, p := range out.Cover.People {
		for _, s := range p.States {
			if s.State == "undecided" {
				undecided++
			}
		}
	}
	if undecided == 0 || out.Bound != 1 || !slices.ContainsFunc(out.Findings, func(f finding.Finding) bool { return strings.Contains(f.What, "cut off") && f.Severity == finding.Stop }) {
		t.Errorf("%d metres undecided: %+v", undecided, out.Findings)
	}
	whole := covered(t, ask.Env{}, demo.Drops()["face-7"])
	t.Logf("%d states of %d", whole.Expanded, whole.Bound)
}

// stocked is an Env with the demo's store and people.
func stocked(env ask.Env) ask.Env {
	env.Store = func(context.Context) (*drop.Store, error) { return demo.Gear(), nil }
	env.People = func(context.Context) ([]rig.Member, error) { return demo.People(), nil }
	return env
}
