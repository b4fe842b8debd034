package moves_test

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/caught"
	"zealousknot/internal/chance"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/demo"
)

// drops is how many drops and kits are made up: -drops 2000 for the whole bar.
var drops = flag.Int("drops", 60, "drops and kits to plan on")

// shaft is the demo's gate shaft with plain ropes, knots where they are put, and
// the person at a height.
func shaft(at float64, main, backup []rig.Mark) *drop.Document {
	d := demo.Drops()["gate-shaft"]
	d.Strands[0].Ropes, d.Strands[0].Marks, d.Strands[1].Marks = []string{"rope-6"}, main, backup
	d.Checks = nil
	d.Items = slices.DeleteFunc(d.Items, func(i gear.Item) bool { return i.ID == "rope-7" || i.ID == "rope-8" })
	d.People[0].AtM = quantity.Metres(at)
	d.Refresh(demo.Gear())
	return apart(d, 0.3)
}

// apart puts the first two anchors so far from each other; to 0.3 m two strands hang as one.
func apart(d *drop.Document, m float64) *drop.Document {
	d.Anchors[0].XM, d.Anchors[1].XM = quantity.Metres(-m/2), quantity.Metres(m/2)
	return d
}

func knot(id string, at float64, eye bool) rig.Mark {
	return rig.Mark{ID: id, Kind: rig.KnotMark, HeightM: quantity.Metres(at), Eye: eye}
}

// carry changes what the person carries: + adds an item, - takes it away.
func carry(d *drop.Document, changes ...string) *drop.Document {
	p := &d.People[0]
	for _, c := range changes {
		if c[0] == '+' {
			if slices.Contains(p.Carries, c[1:]) {
				continue
			}
			p.Carries = append(p.Carries, c[1:])
		} else {
			p.Carries = slices.DeleteFunc(p.Carries, func(i string) bool { return strings.HasPrefix(i, c[1:]) })
		}
	}
	d.Refresh(demo.Gear())
	return d
}

func plan(t *testing.T, d *drop.Document, move string, s school.Schools) *moves.Plan {
	t.Helper()
	p, err := planOn(t.Context(), d, moves.Ask{Move: move}, s, demo.Gear())
	if err != nil {
		t.Fatalf("%s: %v", move, err)
	}
	return p
}

// replay walks a plan as somebody else would: by what is written alone.
func replay(t *testing.T, d *drop.Document, p *moves.Plan) []moves.Breach {
	t.Helper()
	text, err := json.Marshal(p)
	if err != nil {
		t.Fatal(err)
	}
	list, err := moves.ReadSteps(text)
	if err != nil {
		t.Fatalf("the plan cannot be read again: %v\n%s", err, text)
	}
	_, found, err := walkOn(d, list, p.Schools)
	if err != nil {
		t.Fatal(err)
	}
	return found
}

// held reports whether the plan has a stance in which one failure holds nobody.
func held(p *moves.Plan) error {
	for i, s := range p.Steps {
		for _, l := range s.FailOne {
			if !l.Held {
				return fmt.Errorf("step %d: if %s goes nothing holds", i+1, l.Words)
			}
		}
	}
	return nil
}

// random makes a place with marks anywhere and a kit of some kind.
func random(r *rand.Rand) (*drop.Document, string, school.Schools) {
	move := moves.Catalogue[r.IntN(len(moves.Catalogue))].Name
	d := place(r, move)
	d.People[0].AtM = 4 + quantity.Metres(r.IntN(2900))/100
	ways := school.Schools{Sides: []string{"four", "fewer"}[r.IntN(2)]}
	if r.IntN(2) == 0 {
		carry(d, "+absorber-8")
	}
	if r.IntN(4) == 0 {
		d.People[0].ReachUpM = 0.8 + quantity.Metres(r.IntN(20))/100
		if r.IntN(3) == 0 {
			d.People[0].ReachUpM += 0.8
		}
	}
	if r.IntN(3) == 0 {
		// The order in which things are carried decides nothing but ties.
		list := d.People[0].Carries
		r.Shuffle(len(list), func(i, j int) { list[i], list[j] = list[j], list[i] })
	}
	if r.IntN(4) == 0 {
		// At and beside what devices are rated for.
		d.People[0].MassKg = []quantity.Kilograms{40, 50, 100, 120, 140, 150, 151, 200}[r.IntN(8)]
	}
	for _, part := range []string{"-lanyard-3", "-lanyard-12", "-hand-2", "-chest-2", "-foot-loop", "-backup-9"} {
		if r.IntN(8) == 0 {
			carry(d, part)
		}
	}
	for _, q := range school.Catalogue {
		if r.IntN(6) == 0 {
			_ = ways.Set(q.Name, q.Answers[r.IntN(len(q.Answers))].Value)
		}
	}
	return apart(d, []float64{0.3, 0.3, 0.8, 1.4}[r.IntN(4)]), move, ways
}

// asking asks for a move; of the whole way, to a work place.
func asking(move string) moves.Ask {
	ask := moves.Ask{Move: move, MaxStates: 20_000}
	if to := quantity.Metres(30); move == "there-and-back" {
		ask.To = &to
	}
	return ask
}

// place is somewhere that a move may be asked for.
func place(r *rand.Rand, move string) *drop.Document {
	height := func() float64 { return 8 + float64(r.IntN(2200))/100 }
	if r.IntN(3) == 0 {
		// Marks level with each other, and whole lengths apart.
		height = func() float64 { return 15 + 0.1*float64(r.IntN(40)) }
	}
	var marks [2][]rig.Mark
	for line := range marks {
		for n := range r.IntN(4) {
			marks[line] = append(marks[line], knot(fmt.Sprintf("k%d%d", line, n), height(), r.IntN(2) == 0))
		}
		if move == "isolate-damage" && r.IntN(2) == 0 || r.IntN(12) == 0 {
			marks[line] = append(marks[line], damage(height(), r.IntN(2) == 0))
		}
	}
	wall := rig.Anchor{ID: "wall", Name: "deviation", XM: 1, HeightM: 5, Legs: []rig.Leg{{ID: "wall-bolt", YM: 0.2}}}
	if r.IntN(3) == 0 {
		wall.HeightM = quantity.Metres(height())
		for line := range marks {
			marks[line] = append(marks[line], rig.Mark{ID: "dev", Kind: rig.DeviationMark, HeightM: wall.HeightM, Anchor: "wall"})
		}
	}
	d := shaft(20, marks[0], marks[1])
	switch {
	case move == "aid":
		d = slung(0.4+float64(r.IntN(30))/100, 1+r.IntN(4))
	case move == "transfer" || r.IntN(6) == 0:
		d = beside(float64(r.IntN(16)) / 5)
	case strings.HasPrefix(move, "rebelay"):
		d = relayed(float64(r.IntN(3)), 1+float64(r.IntN(50))/10)
	}
	d.Anchors = append(d.Anchors, wall)
	return d
}

// Wherever somebody begins beside a knot of the backup, its device is where its links reach.
func TestBeginsBesideKnot(t *testing.T) {
	found := 0
	for at := 22.5; at < 24.6; at += 0.03 {
		for _, move := range []string{"ascend", "descend"} {
			d := shaft(at, nil, []rig.Mark{knot("k", 24.31, false)})
			d.People[0].ReachUpM = 1.63
			sc, from, err := sceneOn(d, school.Schools{})
			if err != nil {
				t.Fatal(err)
			}
			p, err := moves.For(t.Context(), sc, from, moves.Ask{Move: move})
			if err != nil {
				continue
			}
			found++
			if broken := replay(t, d, p); slices.ContainsFunc(broken, func(b moves.Breach) bool { return b.Impossible != "" || stance.Stops(b.Broken) }) {
				t.Errorf("%s at %.2f: %+v", move, at, broken)
			}
		}
	}
	if found < 60 {
		t.Errorf("only %d were found", found)
	}
}

// Whatever the knots and the kit: a plan that is found replays clean by what is
// written of it, holds everybody at every step whatever fails, and is the same when
// it is requested again.
func TestPlansReplay(t *testing.T) {
	r := chance.Rand(5, 1)
	none, found := 0, map[string]int{}
	for range *drops {
		d, move, ways := random(r)
		sc, at, err := sceneOn(d, ways)
		if err != nil {
			t.Fatal(err)
		}
		ask := asking(move)
		p, err := moves.For(t.Context(), sc, at, ask)
		var refused *strict.Error
		if errors.As(err, &refused) || search.OutcomeOf(err) != search.Found {
			none++
			continue
		}
		found[move]++
		// One that ends elsewhere than asked, and says so, proves nothing of what was asked.
		if p.Note == "" && moves.Hopeless(t, sc, at, ask) {
			t.Errorf("%s at %v: the relaxed problem has no way, and a way was found", move, at)
		}
		inHand(t, sc, p)
		for i := range p.Steps {
			s, err := p.Steps[i].After.Read(sc)
			if got := moves.Shown(sc, &s); err != nil || !reflect.DeepEqual(got, p.Steps[i].After) {
				t.Errorf("%s, step %d reads back as %+v, written as %+v: %v", move, i+1, got, p.Steps[i].After, err)
			}
		}
		if broken := replay(t, d, p); slices.ContainsFunc(broken, func(f moves.Breach) bool { return f.Impossible != "" || stance.Stops(f.Broken) }) {
			t.Errorf("%s at %v: %+v", move, at, broken)
		}
		if start, _ := p.Start.Read(sc); !sc.InBreach(&start) {
			if err := held(p); err != nil {
				t.Errorf("%s at %v: %v", move, at, err)
			}
		}
		if again, err := moves.For(t.Context(), sc, at, asking(move)); err != nil || !slices.Equal(again.Actions(), p.Actions()) {
			t.Errorf("%s is not planned twice alike: %v", move, err)
		}
	}
	t.Logf("%d not found, found %v", none, found)
	if none > *drops*2/3 || *drops > 500 && len(found) < len(moves.Catalogue) {
		t.Errorf("%d not found, found %v", none, found)
	}
}

// The heuristic never exceeds what a stance costs, by any action from any
// stance: the first way that is found is the cheapest.
func TestLeast(t *testing.T) {
	r := chance.Rand(5, 3)
	for range *drops / 2 {
		d, move, ways := random(r)
		sc, at, err := sceneOn(d, ways)
		if err != nil {
			t.Fatal(err)
		}
		moves.Consistent(t, sc, at, asking(move), 2000)
	}
	// Where sides are changed, near and far.
	for move, places := range map[string][]*drop.Document{
		"transfer": {beside(0.5), beside(1.4), beside(3)}, "rebelay-down": {relayed(0.5, 2), relayed(1, 3), relayed(3, 7)}, "rebelay-up": {relayed(1, 3), relayed(3, 7)},
		// Who stands up off a parked descender comes back to it, and unparks it then.
		"short-work": {carry(shaft(28.35, []rig.Mark{{ID: "hurt", Kind: rig.DamageMark, HeightM: 28.72}}, nil), "+backup-9", "+absorber-8")},
	} {
		for _, d := range places {
			sc, at, err := sceneOn(d, school.Schools{})
			if err != nil {
				t.Fatal(err)
			}
			moves.Consistent(t, sc, at, moves.Ask{Move: move}, 6000)
		}
	}
}

// What is forgotten, done in the wrong order, left unlocked, unproved or put too low
// is found by the replay. A cheapest plan has no step too many, so that leaving one
// out always matters; two that are swapped may lead to the same stance all the same.
func TestMutations(t *testing.T) {
	r := chance.Rand(5, 2)
	found, missed := map[string]int{}, map[string]int{}
	tally := caught.New(catches)
	for range *drops {
		d, move, ways := random(r)
		sc, at, err := sceneOn(d, ways)
		if err != nil {
			t.Fatal(err)
		}
		p, err := moves.For(t.Context(), sc, at, asking(move))
		if err != nil {
			continue
		}
		start, err := p.Start.Read(sc)
		if err != nil {
			t.Fatal(err)
		}
		good := p.Actions()
		_, goal := moves.Replay(sc, start, good)
		for kind, spoil := range mutations {
			for i := range good {
				list := spoil(slices.Clone(good), i)
				if list == nil {
					continue
				}
				breaches, end := moves.Replay(sc, start, list)
				first := slices.IndexFunc(breaches, func(f moves.Breach) bool { return f.Impossible != "" || stance.Stops(f.Broken) })
				bad := first >= 0
				if bad && kind != "two are swapped" {
					tally.Add(t, kind, string(good[i].Do), &breaches[first])
				}
				reached := moves.Find(move).Reached(sc, &start, &end, moves.Ask{To: &p.ToM})
				switch {
				case bad && breaches[first].Step < i:
					t.Errorf("%s at step %d of %s is reported at step %d", kind, i+1, move, breaches[first].Step)
				case bad || !reached:
					found[kind]++
				case end != goal || alwaysMatters[kind]:
					if missed[kind]++; missed[kind] < 4 {
						t.Logf("let pass: %s, step %d of %s: %+v", kind, i+1, move, good[i])
					}
				}
			}
		}
	}
	all, lost := 0, 0
	for kind := range mutations {
		t.Logf("%s: %d caught, %d let pass", kind, found[kind], missed[kind])
		all, lost = all+found[kind], lost+missed[kind]
	}
	tally.Check(t, 15)
	for _, kind := range []string{"a connector is left unlocked", "a device is not proved", "a wheel is left parked"} {
		if missed[kind] > 0 {
			t.Errorf("%s: %d let pass", kind, missed[kind])
		}
	}
	if all < 3**drops || 100*lost > all {
		t.Errorf("%d caught, %d let pass", all, lost)
	}
}

// catches are the rules that must report a fault.
var catches = caught.By{
	"a connector is left unlocked":            {"connector.gate"},
	"a device is not proved":                  {"service.function-check"},
	"a wheel is left parked":                  {"device.mode"},
	"the backup is put below":                 {caught.CannotBeDone, "device.height"},
	"the loop side of a re-belay is threaded": {caught.CannotBeDone, "device.foul", "device.height", "moves.backup-slack", "moves.four", "moves.swing"},
	"a step is left out/climb":                {caught.CannotBeDone},
	"a step is left out/clip":                 {caught.CannotBeDone, "moves.deviation", "moves.four", "points.two"},
	"a step is left out/descend":              {caught.CannotBeDone, "device.foul", "device.height"},
	"a step is left out/isolate":              {"rope.damage"},
	"a step is left out/land":                 {"device.mode"},
	"a step is left out/lower-onto":           {caught.CannotBeDone, "device.mode", "moves.bearing"},
	"a step is left out/move":                 {caught.CannotBeDone, "moves.backup-slack"},
	"a step is left out/park":                 {caught.CannotBeDone, "device.height", "device.mode", "points.two"},
	"a step is left out/pass":                 {caught.CannotBeDone, "moves.backup-slack"},
	"a step is left out/put-on":               {caught.CannotBeDone, "moves.backup-off", "moves.edge", "moves.four", "points.two"},
	"a step is left out/sit":                  {caught.CannotBeDone, "device.height", "moves.bearing", "points.two"},
	"a step is left out/stand":                {caught.CannotBeDone, "moves.bearing"},
	"a step is left out/take-off":             {caught.CannotBeDone, "device.height", "moves.backup-slack", "moves.reach"},
	"a step is left out/tie":                  {caught.CannotBeDone},
	"a step is left out/tie-off":              {"device.mode"},
	"a step is left out/unclip":               {caught.CannotBeDone},
	"a step is left out/unpark":               {"device.mode"},
	"a step is left out/untie":                {caught.CannotBeDone, "moves.backup-slack"},
	"a step is left out/untie-off":            {caught.CannotBeDone},
}

var alwaysMatters = map[string]bool{"a step is left out": true, "a connector is left unlocked": true, "a device is not proved": true, "a wheel is left parked": true}

var mutations = map[string]func(list []stance.Action, i int) []stance.Action{
	"a step is left out": func(l []stance.Action, i int) []stance.Action { return slices.Delete(l, i, i+1) },
	"two are swapped": func(l []stance.Action, i int) []stance.Action {
		if i == 0 {
			return nil
		}
		l[i], l[i-1] = l[i-1], l[i]
		return l
	},
	"a connector is left unlocked": func(l []stance.Action, i int) []stance.Action {
		if l[i].Do != stance.PutOn && l[i].Do != stance.Clip {
			return nil
		}
		l[i].Unlocked = true
		return l
	},
	"a device is not proved": func(l []stance.Action, i int) []stance.Action {
		if l[i].Do != stance.PutOn {
			return nil
		}
		l[i].Unproved = true
		return l
	},
	"the backup is put below": func(l []stance.Action, i int) []stance.Action {
		if l[i].Do != stance.PutOn || !strings.HasPrefix(l[i].Item, "backup") {
			return nil
		}
		l[i].AtM -= 0.7
		return l
	},
	"the loop side of a re-belay is threaded": func(l []stance.Action, i int) []stance.Action {
		if l[i].Do != stance.PutOn || l[i].Span == 0 {
			return nil
		}
		l[i].Span--
		return l
	},
	"a wheel is left parked": func(l []stance.Action, i int) []stance.Action {
		const wheel = "backup-9"
		on := false
		for _, a := range l[:i] {
			on = on && !(a.Do == stance.TakeOff && a.Item == wheel) || a.Do == stance.PutOn && a.Item == wheel
		}
		if !on || l[i].Do != stance.Climb && l[i].Do != stance.Descend {
			return nil
		}
		return slices.Insert(l, i, stance.Action{Do: stance.Park, Item: wheel})
	},
}

// No sequence is stored: what is taken out of the kit changes the plan or forbids
// it, and what would make it possible is named.
func TestKitDecides(t *testing.T) {
	knots := func() *drop.Document {
		return carry(shaft(24, []rig.Mark{knot("m", 18, false)}, []rig.Mark{knot("b", 18.2, false)}), "+absorber-8")
	}
	whole := plan(t, knots(), "pass-knots-down", school.Schools{})
	uses := func(p *moves.Plan, part string) bool {
		return slices.ContainsFunc(p.Actions(), func(a stance.Action) bool { return strings.HasPrefix(a.Item, part) || string(a.Do) == part })
	}
	if !uses(whole, "backup-9") || uses(whole, "tie") {
		t.Errorf("with a second backup: %+v", whole.Actions())
	}
	loop := plan(t, carry(knots(), "-backup-9"), "pass-knots-down", school.Schools{})
	if !uses(loop, "tie") || !uses(loop, "lanyard") {
		t.Errorf("without one: %+v", loop.Actions())
	}
	byLoop := plan(t, knots(), "pass-knots-down", school.Schools{KnotCover: "loop"})
	if !uses(byLoop, "tie") {
		t.Errorf("by the loop: %+v", byLoop.Actions())
	}
	for _, without := range [][]string{{"-backup-9", "-lanyard"}, {"-foot-loop"}, {"-hand-2"}} {
		_, err := planOn(t.Context(), carry(knots(), without...), moves.Ask{Move: "pass-knots-down", MaxStates: 60_000}, school.Schools{}, demo.Gear())
		var none *moves.Impossible
		if !errors.As(err, &none) {
			t.Errorf("without %v: %v", without, err)
			continue
		}
		t.Logf("without %v: %v", without, none.Addition)
		if len(none.Addition) == 0 && without[0] != "-foot-loop" {
			t.Errorf("without %v nothing is named", without)
		}
	}
	// An eye in the knot makes it possible where nothing else is to cover it; a join in
	// the main is none to clip into either.
	for _, d := range []*drop.Document{shaft(20, nil, []rig.Mark{knot("b", 18, false)}), demo.Drops()["gate-shaft"]} {
		d = carry(d, "-backup-9")
		d.People[0].AtM = 20
		for i := range d.Strands[1].Marks {
			d.Strands[1].Marks[i].Eye = false
		}
		var none *moves.Impossible
		_, err := planOn(t.Context(), d, moves.Ask{Move: "pass-knots-down"}, school.Schools{KnotCover: "eye"}, nil)
		if !errors.As(err, &none) || none.Outcome != search.None || !slices.Contains(none.Addition, "eyes to clip into left at the knots") {
			t.Errorf("no eye: %v", err)
		}
		for i := range d.Strands[1].Marks {
			d.Strands[1].Marks[i].Eye = true
		}
		if _, err := planOn(t.Context(), d, moves.Ask{Move: "pass-knots-down"}, school.Schools{KnotCover: "eye"}, nil); err != nil {
			t.Errorf("an eye: %v", err)
		}
	}
	// A longer loop at a wide re-belay is a change of the rigging.
	short := carry(relayed(2, 1.2), "-lanyard")
	short.People[0].AtM = 12
	_, err := planOn(t.Context(), short, moves.Ask{Move: "rebelay-up"}, school.Schools{}, demo.Gear())
	var none *moves.Impossible
	if !errors.As(err, &none) || len(none.Addition) != 1 || !strings.HasPrefix(none.Addition[0], "loops of") {
		t.Errorf("a short loop: %v", err)
	}
	// A knot at a re-belay, damage on one strand on the way: no new code.
	at := relayed(0, 1.2)
	at.Strands[1].Marks = append(at.Strands[1].Marks, knot("k", 17.3, false))
	hurtOnTheWay := hurt(0, rig.Mark{}, damage(18, false))
	for move, d := range map[string]*drop.Document{"rebelay-down": at, "pass-knots-down": hurtOnTheWay} {
		d.People[0].AtM = 24
		p := plan(t, d, move, school.Schools{})
		if err := held(p); err != nil || slices.ContainsFunc(replay(t, d, p), func(f moves.Breach) bool { return f.Impossible != "" || stance.Stops(f.Broken) }) {
			t.Errorf("%s: %v", move, err)
		}
	}
	// Three knots close together, and one on one strand only, need no new code.
	for _, marks := range [][2][]rig.Mark{
		{{knot("a", 18.6, false), knot("b", 18, false), knot("c", 17.4, false)}, nil},
		{nil, {knot("b", 18, false)}},
		{{knot("a", 18, true)}, {knot("b", 17.2, true), knot("c", 16.5, false)}},
	} {
		for _, move := range []string{"pass-knots-down", "pass-knots-up"} {
			d := carry(shaft(map[string]float64{"pass-knots-down": 24, "pass-knots-up": 12}[move], marks[0], marks[1]), "+absorber-8")
			p := plan(t, d, move, school.Schools{})
			if err := held(p); err != nil || len(replay(t, d, p)) > 0 && slices.ContainsFunc(replay(t, d, p), func(f moves.Breach) bool { return stance.Stops(f.Broken) }) {
				t.Errorf("%s: %v", move, err)
			}
		}
	}
}

// A move may begin with the holds on the drop, as they are: what is left unlocked
// there is put right first.
func TestAsRigged(t *testing.T) {
	d := demo.Drops()["face-4"]
	p, err := planOn(t.Context(), d, moves.Ask{Move: "descend", AsRigged: true}, school.Schools{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	above := d.People[0].Holds[1].AboveM
	if b := p.Start.Holds[slices.IndexFunc(p.Start.Holds, func(h moves.StanceHold) bool { return h.Item == "backup-7" })]; b.AtM != d.People[0].AtM+above+stance.Sternal.M() {
		t.Errorf("the backup is at %v", b.AtM)
	}
	lip := demo.Drops()["spillway-lip"]
	for i := range lip.Strands {
		lip.Strands[i].Anchors = []string{"bridge", "other"}
	}
	lip.Anchors = append(lip.Anchors, rig.Anchor{ID: "other", Name: "other", HeightM: 14.8, Legs: []rig.Leg{{ID: "o", YM: 0.3}}})
	p, err = planOn(t.Context(), lip, moves.Ask{Move: "short-work", AsRigged: true}, school.Schools{}, nil)
	if err != nil || p.Steps[0].Action.Do != stance.Lock || p.Steps[0].Action.Item != "backup-10" {
		t.Errorf("%v %+v", err, p)
	}
	if _, err := planOn(t.Context(), d, moves.Ask{Move: "ascend", AsRigged: true}, school.Schools{}, nil); err == nil || !strings.Contains(err.Error(), "/as_rigged") {
		t.Error(err)
	}
}

// marked is a shaft with n obstacles from top to bottom, knots on one strand or the
// other by turns.
func marked(n int) *drop.Document {
	var marks [2][]rig.Mark
	for i := range n {
		marks[i%2] = append(marks[i%2], knot(fmt.Sprint("k", i), 34-30*float64(i+1)/float64(n+1), i%3 == 0))
	}
	return carry(shaft(20, marks[0], marks[1]), "+absorber-8")
}

// There and back past any number of marks: found, clean, and everybody held.
func TestThereAndBack(t *testing.T) {
	to := quantity.Metres(35)
	for _, n := range []int{0, 1, 3, 6} {
		d := marked(n)
		p, err := planOn(t.Context(), d, moves.Ask{Move: "there-and-back", To: &to}, school.Schools{}, nil)
		if err != nil {
			t.Fatal(n, err)
		}
		if err := held(p); err != nil {
			t.Error(n, err)
		}
		if slices.ContainsFunc(replay(t, d, p), func(f moves.Breach) bool { return f.Impossible != "" || stance.Stops(f.Broken) }) {
			t.Errorf("%d: %+v", n, replay(t, d, p))
		}
		last := p.Steps[len(p.Steps)-1].After
		high := slices.MaxFunc(p.Steps, func(a, b moves.Step) int { return int(100 * (a.After.AtM - b.After.AtM)) })
		if !last.Grounded || len(last.Holds) > 0 || high.After.AtM < to {
			t.Errorf("%d: up to %v, in the end %+v", n, high.After.AtM, last)
		}
	}
}

// BenchmarkThereAndBack tells how a whole drop grows with its obstacles.
func BenchmarkThereAndBack(b *testing.B) {
	to := quantity.Metres(35)
	for _, n := range []int{1, 2, 4, 6, 8, 16} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			sc, at, err := sceneOn(marked(n), school.Schools{})
			if err != nil {
				b.Fatal(err)
			}
			b.ReportAllocs()
			for b.Loop() {
				if _, err := moves.For(b.Context(), sc, at, moves.Ask{Move: "there-and-back", To: &to}); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// BenchmarkPlan finds each kind of move, where it is hardest of what is tried here.
func BenchmarkPlan(b *testing.B) {
	demoed := func(id string) func() *drop.Document { return func() *drop.Document { return demo.Drops()[id] } }
	for _, c := range []struct {
		name, move string
		drop       func() *drop.Document
		at         float64
	}{
		{"leave-ground", "leave-ground", demoed("gate-shaft"), 12},
		{"ascend", "ascend", demoed("gate-shaft"), 12},
		{"ascend-to-descend", "ascend-to-descend", demoed("gate-shaft"), 12},
		{"descend-to-ascend", "descend-to-ascend", demoed("gate-shaft"), 12},
		{"descend", "descend", demoed("gate-shaft"), 12},
		{"short-work", "short-work", demoed("gate-shaft"), 12},
		{"over-edge", "over-edge", demoed("face-4"), 12},
		{"knots-down", "pass-knots-down", demoed("gate-shaft"), 22},
		{"knots-up", "pass-knots-up", demoed("gate-shaft"), 12},
		{"rebelay-down", "rebelay-down", demoed("face-4"), 61.2},
		{"rebelay-up", "rebelay-up", demoed("face-4"), 45},
		{"wide-rebelay-down", "rebelay-down", func() *drop.Document { return relayed(2, 5) }, 24},
		{"wide-rebelay-up", "rebelay-up", func() *drop.Document { return relayed(2, 3) }, 12},
		{"deviation-up", "deviation-up", deviated, 12},
		{"deviation-down", "deviation-down", deviated, 24},
		{"transfer", "transfer", demoed("crown-gallery"), 12},
		{"isolate-damage", "isolate-damage", demoed("crown-gallery"), 12},
		{"aid-5-slings", "aid", demoed("crown-gallery"), 12},
	} {
		b.Run(c.name, func(b *testing.B) {
			d := c.drop()
			d.People[0].AtM = quantity.Metres(c.at)
			sc, at, err := sceneOn(d, school.Schools{})
			if err != nil {
				b.Fatal(err)
			}
			expanded := 0
			b.ReportAllocs()
			for b.Loop() {
				p, err := moves.For(b.Context(), sc, at, moves.Ask{Move: c.move})
				if err != nil {
					b.Fatal(err)
				}
				expanded += p.Expanded
			}
			b.ReportMetric(float64(expanded)/b.Elapsed().Seconds(), "stances/s")
		})
	}
}

// However early a search is cut off, it says of nothing that there is none, or that there
// is a way, where the whole search says otherwise.
func TestCutOffInventsNothing(t *testing.T) {
	r := chance.Rand(5, 8)
	early := 0
	for range *drops / 3 {
		d, move, ways := random(r)
		sc, at, err := sceneOn(d, ways)
		if err != nil {
			t.Fatal(err)
		}
		whole := asking(move)
		_, err = moves.For(t.Context(), sc, at, whole)
		want := search.OutcomeOf(err)
		for _, n := range []int{1, 40, 400, 401} {
			ask := whole
			ask.MaxStates, ask.Unproved = n, n > 400
			p, err := moves.For(t.Context(), sc, at, ask)
			got := search.OutcomeOf(err)
			if got == search.Undecided {
				early++
			} else if got != want {
				t.Errorf("%s at %v: %q after %d states, %q after all", move, at, got, n, want)
			}
			if p.Expanded > n {
				t.Errorf("%s: %d of at most %d states", move, p.Expanded, n)
			}
		}
	}
	if early < *drops/8 {
		t.Errorf("%d were cut off", early)
	}
	// Additions that nothing is left to try are said not to be decided.
	short := relayed(2, 1.2)
	short.People[0].AtM = 12
	_, err := planOn(t.Context(), short, moves.Ask{Move: "rebelay-up", MaxStates: 3000}, school.Schools{}, demo.Gear())
	var none *moves.Impossible
	if !errors.As(err, &none) || none.Outcome != search.Undecided || !none.AdditionsCut || len(none.Addition) > 0 {
		t.Errorf("%+v", none)
	}
}

// A search that is cut off says so; one that tried everything says that there is none;
// and two knots of the main with one of the backup between are passed.
func TestOutcomes(t *testing.T) {
	close := shaft(24, []rig.Mark{knot("m1", 20, false), knot("m2", 19.6, false)}, []rig.Mark{knot("b1", 19.8, false)})
	sc, at, err := sceneOn(carry(close, "+absorber-8"), school.Schools{})
	if err != nil {
		t.Fatal(err)
	}
	ask := moves.Ask{Move: "pass-knots-down"}
	p, err := moves.For(t.Context(), sc, at, ask)
	if err != nil {
		t.Fatalf("%v after %d", err, p.Expanded)
	}
	t.Logf("%d steps, %d expanded", len(p.Steps), p.Expanded)
	ask.MaxStates = p.Expanded - 1
	if cut, err := moves.For(t.Context(), sc, at, ask); !errors.Is(err, moves.ErrUndecided) || cut.Expanded > ask.MaxStates {
		t.Errorf("one state fewer: %v, %d", err, cut.Expanded)
	}
	ask.MaxStates++
	if _, err := moves.For(t.Context(), sc, at, ask); err != nil {
		t.Errorf("as many states: %v", err)
	}
	// Without anything to stand in nobody gets off the descender: proved, not cut off.
	bare := carry(close, "-hand-2", "-foot-loop", "-chest-2")
	_, err = planOn(t.Context(), bare, moves.Ask{Move: "pass-knots-down"}, school.Schools{}, nil)
	var none *moves.Impossible
	if !errors.As(err, &none) || none.Outcome != search.None {
		t.Errorf("with nothing to stand in: %v", err)
	}
	done, cancel := context.WithCancel(t.Context())
	cancel()
	wide := relayed(2, 1.2)
	wide.People[0].AtM = 12
	if sc, at, err = sceneOn(wide, school.Schools{}); err != nil {
		t.Fatal(err)
	}
	if _, err := moves.For(done, sc, at, moves.Ask{Move: "rebelay-up"}); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled: %v", err)
	}
}

// inHand holds a plan, by what is written of it, to what the hands get at: whatever is
// taken off, unclipped or moved hangs where they reach, where nothing is drawn aside.
func inHand(t *testing.T, sc *stance.Scene, p *moves.Plan) {
	t.Helper()
	before := &p.Start
	for i := range p.Steps {
		st := &p.Steps[i]
		do := st.Action.Do
		for _, h := range before.Holds {
			if h.Item != st.Action.Item || before.Grounded || do != stance.TakeOff && do != stance.Unclip && do != stance.Move {
				continue
			}
			if up := h.AtM - before.AtM; sc.Level() && (up > sc.Up.M()+0.011 || up < -stance.ReachDown.M()-0.011) {
				t.Errorf("step %d, %s: %v above the body, reach %v", i+1, st.Say, up, sc.Up.M())
			}
		}
		before = &st.After
	}
}

// What an untied loop frees counts as fall: once where it is drawn up, until the body is
// so much lower where a knot is between.
func TestLoopFreesRope(t *testing.T) {
	// falls are the longest of each step, hanging at 20 m, the loop in the backup strand.
	falls := func(at, loop, below float64, steps ...stance.Action) (list []float64) {
		d := shaft(20, nil, []rig.Mark{knot("b", at, false)})
		h := hang(t, d, school.Schools{}, 2000, "descender-21")
		h.on("backup-31", 1, stance.ToCm(quantity.Metres(below)))
		h.s.Loop = stance.Loop{There: true, Line: 1, At: stance.ToCm(quantity.Metres(loop))}
		p, found, _ := moves.Walk(h.Scene, h.s, steps)
		if slices.ContainsFunc(found, func(b moves.Breach) bool { return b.Impossible != "" }) {
			t.Fatalf("%+v", found)
		}
		for _, s := range p.Steps {
			most := quantity.Metres(0)
			for _, l := range s.FailOne {
				most = max(most, l.FreeFallM)
			}
			list = append(list, float64(most))
		}
		return list
	}
	unpark, down := stance.Action{Do: stance.Unpark, Item: "descender-21"}, func(at float64) stance.Action { return act(stance.Descend, "", at) }
	const rope = 0.58 // 55 diameters of 10.5 mm, as shipped
	// Tied again in the same stretch a loop takes up what the first one freed; behind
	// another knot it frees as much more. All devices below catch lower.
	untie := stance.Action{Do: stance.Untie}
	tie := func(span int, at quantity.Metres) stance.Action {
		return stance.Action{Do: stance.Tie, Line: "backup", Span: span, AtM: at}
	}
	once := falls(20.85, 21, 20.4, untie, unpark)
	for _, c := range []struct {
		span int
		at   quantity.Metres
		more float64
	}{{0, 21, 0}, {1, 20.65, rope}} {
		twice := falls(20.85, 21, 20.4, untie, tie(c.span, c.at), untie, unpark)
		if math.Abs(twice[2]-once[0]-c.more) > 0.005 {
			t.Errorf("tied again in span %d and untied it falls %v, once %v", c.span, twice, once)
		}
	}
	for _, c := range []struct {
		name              string
		knot, loop, below float64
		more              []float64
	}{
		{"drawn up", 15, 20.9, 20.6, []float64{rope, 0, 0, 0, 0}},
		{"above the device", 15, 20.4, 20.7, []float64{0, 0}},
		{"a knot between", 20.8, 21, 20.6, []float64{rope, rope, rope - 0.3, 0.01, 0}},
	} {
		steps := []stance.Action{unpark, down(19.7), down(19.43), down(19.42)}
		plain := falls(c.knot, c.loop, c.below, steps...)
		plain = append(plain[:1:1], plain...)
		untied := falls(c.knot, c.loop, c.below, append([]stance.Action{{Do: stance.Untie}}, steps...)...)
		for i, more := range c.more {
			if math.Abs(untied[i]-plain[i]-more) > 0.005 {
				t.Errorf("%s, step %d falls %v, with the loop in %v", c.name, i+1, untied[i], plain[i])
			}
		}
	}
}

// What was decided about what a body can do, on both sides of each limit.
func TestDecided(t *testing.T) {
	foot := func(loop float64) error {
		d := relayed(0, loop)
		d.People[0].AtM = 24
		sc, _, err := sceneOn(d, school.Schools{Sides: "fewer"})
		if err != nil {
			t.Fatal(err)
		}
		// Sitting on the short lanyard, 0.6 m below the anchor.
		var s stance.Stance
		short := sc.Tool("lanyard-3")
		s.Bears, s.At, s.Sat = int8(short), 1740, 1740
		s.On(sc, 0, 1)
		s.Holds[short] = stance.Hold{There: true, Line: 1, Span: 1, Clip: stance.IntoMark, At: 1800, Locked: true, Proved: true}
		_, _, err = sc.Do(s, stance.Action{Do: stance.Stand})
		return err
	}
	// The loop hangs half its slack below the anchor: 0.45 to 0.90 m below the hip.
	for loop, can := range map[float64]bool{2.08: false, 2.1: true, 3: true, 3.02: false} {
		if err := foot(loop); (err == nil) != can {
			t.Errorf("a loop of %v m: %v", loop, err)
		}
	}
	// Whoever climbs with one backup device alone stops before it is below the attachment.
	knots := shaft(24, nil, []rig.Mark{knot("b", 18, false)})
	knots.People[0].AtM = 16
	sc, at, err := sceneOn(knots, school.Schools{})
	if err != nil {
		t.Fatal(err)
	}
	to := quantity.Metres(17.6)
	if p, err := moves.For(t.Context(), sc, at, moves.Ask{Move: "ascend", To: &to, MaxStates: 20_000}); err == nil {
		for _, st := range p.Steps {
			for _, b := range st.Broken {
				if b.Rule == "device.height" && st.Action.Do == stance.Climb {
					t.Errorf("%s: %s", st.Say, b.Why)
				}
			}
		}
	}
	// Down in small steps is said so, and so is going up on the descender.
	down := plan(t, carry(shaft(24, []rig.Mark{knot("m", 18, false)}, []rig.Mark{knot("b", 18.2, false)}), "+absorber-8"), "pass-knots-down", school.Schools{})
	for i, st := range down.Steps {
		before := down.Start.AtM
		if i > 0 {
			before = down.Steps[i-1].After.AtM
		}
		if st.Action.Do == stance.Climb && strings.HasPrefix(st.Say, "Down") != (st.After.AtM < before) {
			t.Errorf("from %v to %v: %s", before, st.After.AtM, st.Say)
		}
	}
	up := shaft(24, nil, nil)
	up.People[0].AtM = 10
	for _, st := range plan(t, up, "ascend", school.Schools{Ascent: "descender"}).Steps {
		if st.Action.Do == stance.Climb && !strings.Contains(st.Say, "unpark, stand, draw the rope through, sit, park") {
			t.Errorf("on the descender: %s", st.Say)
		}
	}
	// Under damage it is damage that is spoken of, not kit.
	hung := shaft(24, []rig.Mark{damage(20, false)}, nil)
	hung.People[0].AtM = 10
	_, err = planOn(t.Context(), hung, moves.Ask{Move: "descend", MaxStates: 20_000}, school.Schools{}, demo.Gear())
	var none *moves.Impossible
	if !errors.As(err, &none) || !strings.Contains(err.Error(), "damaged at 20 m above you") || !strings.Contains(err.Error(), "call for rescue") || none.Addition != nil {
		t.Errorf("under damage: %v", err)
	}
}
