package team_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/caught"
	"zealousknot/internal/chance"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// stretcher is a lower of a stretcher with its attendant.
func stretcher() *team.Rig {
	brake := team.Line{Brake: "combined brake", HandsOff: gear.Stops, ElongationPct: 3.5}
	main, belay := brake, brake
	belay.Brake = "second combined brake"
	return &team.Rig{
		Load: rig.TeamLoad{Name: "the stretcher", MassKg: 190, Persons: 2}, Main: main, Belay: belay, Operators: []string{"Rhea", "Ivo", "Maren"}, Haulers: 3,
		TopM: 96.4, EdgeM: 94.2, Kit: team.Kit{Grabs: 1, HitchOutM: 1, Pulleys: 3, Connectors: 5, CaptureM: 0.04, CaptureHolds: true},
	}
}

// winding is a lift of one person by a winding descender of either generation, which
// differ in kind and side of the lock.
func winding(generation int) *team.Rig {
	r := stretcher()
	r.Load = rig.TeamLoad{Name: "one person", MassKg: 90, Persons: 1}
	r.Main.Winding = &gear.Winding{LiftPerTurnM: 0.12, Lock: "pin", LockSides: "left", SetFor: "load-left", SlackAfterM: 0.6}
	if generation == 2 {
		r.Main.Winding = &gear.Winding{LiftPerTurnM: 0.15, Lock: "lever", LockSides: "both", SetFor: "chosen", FreeAsUnpacked: true, SlackAfterM: 1}
	}
	return r
}

func m(f float64) *quantity.Metres {
	q := quantity.Metres(f)
	return &q
}

// parse reads steps such as "lower 60.5" or "hand-on main 1".
func parse(t *testing.T, text string) []team.Action {
	t.Helper()
	var list []team.Action
	for line := range strings.Lines(strings.TrimSpace(text)) {
		f := strings.Fields(line)
		a := team.Action{Do: team.Do(f[0])}
		for _, w := range f[1:] {
			var n float64
			switch {
			case w == "main" || w == "belay":
				a.Line = w
			case strings.Contains(w, "."):
				if _, err := fmt.Sscan(w, &n); err != nil {
					t.Fatal(line)
				}
				a.AtM = quantity.Metres(n)
			case a.Do == team.Build:
				_, _ = fmt.Sscan(w, &a.Ratio)
			default:
				_, _ = fmt.Sscan(w, &a.By)
			}
		}
		list = append(list, a)
	}
	return list
}

func stops(found []stance.Breach) bool {
	return slices.ContainsFunc(found, func(b stance.Breach) bool { return b.Stops() })
}

// What a careful team does, worked by hand, replays clean, leads to where the move
// ends, and the plan that is found takes no more steps.
func TestSequences(t *testing.T) {
	knotted := stretcher()
	knotted.Main.KnotsM = []quantity.Metres{40}
	for _, q := range []struct {
		name, move, steps string
		rig               *team.Rig
		ask               team.Ask
	}{
		{"prove", "prove-brake", `
			load-rope main
			prove main
			park main
			load-rope belay
			prove belay
			park belay`, stretcher(), team.Ask{}},
		{"edge", "edge", `
			hand-on main 1
			unpark main
			hand-on belay 2
			unpark belay
			over-edge`, stretcher(), team.Ask{}},
		{"lower past a knot", "lower-past-knot", `
			lower 56.56
			park main
			put-grab main
			unpark main
			settle main
			through main
			prove main
			extend main
			take-grab main
			park main
			park belay`, knotted, team.Ask{FromM: m(80)}},
		{"lower to raise", "lower-to-raise", `
			park main
			build main 3
			unpark main`, stretcher(), team.Ask{FromM: m(60)}},
		{"raise to lower", "raise-to-lower", `
			capture main
			strip main`, stretcher(), team.Ask{FromM: m(60)}},
		{"change of ratio", "change-ratio", `
			park main
			build main 5
			park belay`, stretcher(), team.Ask{FromM: m(60), Ratio: 5}},
		{"reset", "reset", `
			capture main
			advance main`, stretcher(), team.Ask{FromM: m(60)}},
		{"off a toothed capture", "release-capture", `
			load-rope main
			prove main
			park main
			free-teeth main
			hand-on main 1
			unpark main`, stretcher(), team.Ask{FromM: m(60)}},
		{"up by the wheel", "wind-up", `
			handle-out main
			turn main 20.60
			draw-slack main
			turn main 21.00
			draw-slack main
			fold-handle main`, winding(1), team.Ask{FromM: m(20), ToM: m(21)}},
		{"down off the lock", "wind-down", `
			grip-wheel main
			free-lock main
			hand-on main 1
			let-go-wheel main`, winding(2), team.Ask{FromM: m(60)}},
		{"swap of operators", "swap-operator", `
			swap main 3`, stretcher(), team.Ask{FromM: m(60)}},
		{"walk away and back", "walk-away", `
			park main
			tie main
			hand-off main
			leave main
			park belay
			tie belay
			hand-off belay
			leave belay`, stretcher(), team.Ask{FromM: m(60)}},
		{"share", "share", `
			share`, stretcher(), team.Ask{FromM: m(90)}},
	} {
		q.ask.Move = q.move
		p, err := q.rig.For(t.Context(), q.ask)
		if err != nil {
			t.Errorf("%s: %v", q.name, err)
			continue
		}
		list := parse(t, q.steps)
		found, end := q.rig.Replay(p.Start, list)
		if stops(found) || !q.rig.Reached(&p.Start, &end, q.ask) {
			t.Errorf("%s: %+v, ends %+v", q.name, found, end)
		}
		if len(p.Steps) > len(list) {
			t.Errorf("%s: %d steps, by hand %d: %+v", q.name, len(p.Steps), len(list), p.Steps)
		}
	}
}

// random makes a rig with knots anywhere, and something to ask of it.
func random(r *rand.Rand) (*team.Rig, team.Ask) {
	made := stretcher()
	for _, l := range []*team.Line{&made.Main, &made.Belay} {
		at := quantity.Metres(3)
		for range r.IntN(3) {
			at += 1 + quantity.Metres(r.IntN(300))/10
			l.KnotsM = append(l.KnotsM, at)
		}
		l.Path = team.Path{
			TopM: 96.4, EdgeM: 94.2, Edged: r.IntN(3) > 0, BackM: quantity.Metres(r.IntN(13)), Slant: quantity.Ratio(1 + float64(r.IntN(3))/10),
			Pieces: []team.Piece{{Name: "edge", M: quantity.Metres(r.IntN(5)) / 10, Always: true}, {Name: "second edge", M: quantity.Metres(r.IntN(5)) / 10, BelowM: quantity.Metres(30 + r.IntN(40))}},
		}
		if r.IntN(2) == 0 {
			l.LengthM, l.KnotM, l.KeptM = quantity.Metres(70+r.IntN(80)), 0.9, 1
		}
		l.TwoPersons = r.IntN(2) == 0
		l.HandsOff = []gear.HandsOff{gear.Stops, gear.Creeps, gear.Runs}[r.IntN(6)%3]
	}
	made.Kit.Grabs, made.Kit.Plain, made.Kit.Pulleys = r.IntN(3), r.IntN(2), r.IntN(4)
	made.Schools.Lowering = []string{"slack-belay", "shared", "mixed"}[r.IntN(3)]
	made.OutOfSight = r.IntN(8) == 0
	if wheel := r.IntN(4); wheel > 1 {
		made.Main.Winding = winding(wheel - 1).Main.Winding
	}
	ask := team.Ask{Move: team.Catalogue[r.IntN(len(team.Catalogue))].Name, Ratio: []int{1, 2, 3, 5}[r.IntN(4)]}
	if from := 20 + float64(r.IntN(700))/10; r.IntN(3) > 0 {
		ask.FromM = m(from)
	}
	switch ask.Move {
	case "lower":
		ask.ToM = m(1 + float64(r.IntN(150))/10)
	case "wind-up":
		ask.FromM, ask.ToM = m(20), m(20.3+float64(r.IntN(40))/10)
	case "raise":
		ask.FromM, ask.ToM = m(20), m(40+float64(r.IntN(500))/10)
	}
	return made, ask
}

// Whatever the rig: a plan that is found replays clean, holds the load whatever one
// thing or person fails, and is the same when it is requested again. What is
// forgotten, swapped or done wrongly is caught, at its step or after it.
func TestPlansReplay(t *testing.T) {
	r := chance.Rand(6, 1)
	found, none := map[string]int{}, 0
	stopped, passed := map[string]int{}, map[string]int{}
	tally := caught.New(catches)
	for range 900 {
		rigged, ask := random(r)
		p, err := rigged.For(t.Context(), ask)
		var refused *strict.Error
		if errors.Is(err, search.ErrNone) || errors.As(err, &refused) {
			none++
			continue
		}
		if err != nil {
			t.Fatal(err)
		}
		found[ask.Move]++
		good := make([]team.Action, len(p.Steps))
		for i := range p.Steps {
			good[i] = p.Steps[i].Action
		}
		breaches, end := rigged.Replay(p.Start, good)
		if stops(breaches) || !rigged.Reached(&p.Start, &end, ask) {
			t.Errorf("%+v: %+v", ask, breaches)
		}
		for i, s := range p.Steps {
			for _, l := range s.FailOne {
				if !l.Held {
					t.Errorf("%s step %d: if %s nothing holds", ask.Move, i+1, l.Words)
				}
			}
		}
		if again, err := rigged.For(t.Context(), ask); err != nil || len(again.Steps) != len(p.Steps) {
			t.Errorf("%s is not planned twice alike: %v", ask.Move, err)
		}
		for kind, spoil := range mutations {
			for i := range good {
				list := spoil(slices.Clone(good), i)
				if list == nil {
					continue
				}
				breaches, last := rigged.Replay(p.Start, list)
				first := slices.IndexFunc(breaches, func(b stance.Breach) bool { return b.Stops() })
				if first >= 0 && kind != "two are swapped" {
					tally.Add(t, kind, string(good[i].Do), &breaches[first])
				}
				switch {
				case first >= 0 && breaches[first].Step < i:
					t.Errorf("%s at step %d of %s is reported at step %d", kind, i+1, ask.Move, breaches[first].Step)
				case first >= 0 || !rigged.Reached(&p.Start, &last, ask):
					stopped[kind]++
				case last != end:
					if passed[kind]++; passed[kind] < 3 {
						t.Logf("let pass: %s, step %d of %s: %+v", kind, i+1, ask.Move, good[i])
					}
				}
			}
		}
	}
	t.Logf("found %v, %d not; caught %v, let pass %v", found, none, stopped, passed)
	if len(found) < len(team.Catalogue) {
		t.Errorf("only %v were found", found)
	}
	tally.Check(t, 30)
	all, lost := 0, 0
	for kind := range mutations {
		all, lost = all+stopped[kind], lost+passed[kind]
	}
	if 100*lost > all {
		t.Errorf("%d caught, %d let pass", all, lost)
	}
}

// catches are the rules that must report a fault.
var catches = caught.By{
	"an operator walks away with the brake alone":     {"team.away"},
	"grab and hitch are loose":                        {"moves.settle"},
	"one operator lets go":                            {"team.hand"},
	"the brake strand comes off forward":              {"team.angle"},
	"the call is left out":                            {"moves.call"},
	"the capture is opened before anything can lower": {"moves.bearing"},
	"the grab is on the wrong side":                   {"team.grab"},
	"the grab is set out while the haulers pull":      {"moves.bearing"},
	"the lock is freed with no hand on the wheel":     {"moves.bearing"},
	"the park brake is left on while hauling":         {"team.park"},
	"a step is left out/build":                        {caught.CannotBeDone},
	"a step is left out/capture":                      {"moves.bearing"},
	"a step is left out/draw-slack":                   {caught.CannotBeDone},
	"a step is left out/extend":                       {"moves.bearing"},
	"a step is left out/free-lock":                    {caught.CannotBeDone},
	"a step is left out/grip-wheel":                   {"moves.bearing"},
	"a step is left out/hand-off":                     {caught.CannotBeDone},
	"a step is left out/hand-on":                      {caught.CannotBeDone, "team.hand"},
	"a step is left out/handle-out":                   {caught.CannotBeDone},
	"a step is left out/haul":                         {caught.CannotBeDone},
	"a step is left out/let-go-wheel":                 {caught.CannotBeDone},
	"a step is left out/load-rope":                    {caught.CannotBeDone},
	"a step is left out/lower":                        {caught.CannotBeDone},
	"a step is left out/over-edge":                    {caught.CannotBeDone},
	"a step is left out/park":                         {"moves.bearing", "team.hand", "team.park"},
	"a step is left out/prove":                        {"moves.bearing", "points.two", "service.function-check"},
	"a step is left out/put-grab":                     {caught.CannotBeDone},
	"a step is left out/set-lock":                     {caught.CannotBeDone},
	"a step is left out/settle":                       {caught.CannotBeDone},
	"a step is left out/share":                        {caught.CannotBeDone},
	"a step is left out/take-grab":                    {caught.CannotBeDone},
	"a step is left out/through":                      {caught.CannotBeDone},
	"a step is left out/tie":                          {"team.away"},
	"a step is left out/turn":                         {caught.CannotBeDone},
	"a step is left out/unpark":                       {caught.CannotBeDone, "team.park"},
	"a step is left out/untie":                        {caught.CannotBeDone},
}

var mutations = map[string]func(l []team.Action, i int) []team.Action{
	"a step is left out": func(l []team.Action, i int) []team.Action { return slices.Delete(l, i, i+1) },
	"two are swapped": func(l []team.Action, i int) []team.Action {
		if i == 0 || l[i].Line != l[i-1].Line {
			return nil
		}
		l[i], l[i-1] = l[i-1], l[i]
		return l
	},
	"the call is left out": func(l []team.Action, i int) []team.Action {
		switch l[i].Do {
		case team.Capture, team.FreeTeeth, team.Turn, team.FreeLock, team.Lower, team.Haul, team.Over, team.Settle, team.Extend, team.Share, team.Unshare:
			l[i].Silent = true
			return l
		}
		return nil
	},
	"the brake strand comes off forward": func(l []team.Action, i int) []team.Action {
		if l[i].Do != team.HandOn && l[i].Do != team.Swap {
			return nil
		}
		l[i].Forward = true
		return l
	},
	"grab and hitch are loose": func(l []team.Action, i int) []team.Action {
		if l[i].Do != team.PutGrab {
			return nil
		}
		l[i].Loose = true
		return l
	},
	"the grab is on the wrong side": func(l []team.Action, i int) []team.Action {
		if l[i].Do != team.PutGrab {
			return nil
		}
		l[i].Behind = true
		return l
	},
	"the park brake is left on while hauling": func(l []team.Action, i int) []team.Action {
		if l[i].Do != team.Haul {
			return nil
		}
		return slices.Insert(l, i, team.Action{Do: team.Park, Line: "main"})
	},
	"an operator walks away with the brake alone": func(l []team.Action, i int) []team.Action {
		if l[i].Do != team.Tie {
			return nil
		}
		return slices.Delete(l, i, i+1)
	},
	"the capture is opened before anything can lower": func(l []team.Action, i int) []team.Action {
		if !slices.ContainsFunc(l[i+1:], func(a team.Action) bool { return a.Do == team.FreeTeeth }) {
			return nil
		}
		rest := slices.DeleteFunc(slices.Clone(l[i:]), func(a team.Action) bool { return a.Do == team.FreeTeeth })
		return append(append(l[:i:i], team.Action{Do: team.FreeTeeth, Line: "main"}), rest...)
	},
	"the lock is freed with no hand on the wheel": func(l []team.Action, i int) []team.Action {
		if l[i].Do != team.GripWheel {
			return nil
		}
		return append(l[:i:i], slices.DeleteFunc(l[i:], func(a team.Action) bool { return a.Do == team.GripWheel || a.Do == team.LetGoWheel })...)
	},
	"the grab is set out while the haulers pull": func(l []team.Action, i int) []team.Action {
		if l[i].Do != team.Advance {
			return nil
		}
		l[i], l[i-1] = l[i-1], l[i]
		return l
	},
	"one operator lets go": func(l []team.Action, i int) []team.Action {
		if l[i].Do != team.Lower {
			return nil
		}
		return slices.Insert(l, i, team.Action{Do: team.HandOff, Line: "belay"})
	},
}

// A hitch that lets out too little, a ratio without pulleys, a load above what the
// rig is for: there is no way, and nothing is made up.
func TestNoWay(t *testing.T) {
	short := stretcher()
	short.Main.KnotsM, short.Kit.HitchOutM = []quantity.Metres{40}, 0.2
	bare := stretcher()
	bare.Kit.Pulleys = 0
	for name, c := range map[string]struct {
		rig *team.Rig
		ask team.Ask
	}{
		"a short hitch": {short, team.Ask{Move: "lower-past-knot", FromM: m(80)}},
		"no pulley":     {bare, team.Ask{Move: "lower-to-raise", FromM: m(60)}},
	} {
		if p, err := c.rig.For(t.Context(), c.ask); !errors.Is(err, search.ErrNone) {
			t.Errorf("%s: %v %+v", name, err, p)
		}
	}
}

// Where there is no way the answer names what is missing, and with it there is one; where
// nothing that may be added helps it says so.
func TestMissing(t *testing.T) {
	for _, c := range []struct {
		name   string
		change func(*team.Rig)
		ask    team.Ask
		want   string
	}{
		{"a grab", func(r *team.Rig) { r.Kit.Grabs = 0 }, team.Ask{Move: "lower-past-knot", FromM: m(80)}, "with a rope grab with its hitch there is one"},
		{"a longer hitch", func(r *team.Rig) { r.Kit.HitchOutM = 0.3 }, team.Ask{Move: "lower-past-knot", FromM: m(80)}, "with a hitch that lets out 0.4 m there is one"},
		{"pulleys", func(r *team.Rig) { r.Kit.Pulleys = 1 }, team.Ask{Move: "raise", FromM: m(70), ToM: m(80), Ratio: 5}, "with two pulleys there is one"},
		{"haulers and a grab", func(r *team.Rig) { r.Haulers, r.Kit.Grabs = 0, 0 }, team.Ask{Move: "raise", FromM: m(70), ToM: m(80)}, "with a rope grab and somebody to haul there is one"},
		{"connectors of a haul beside bends", func(r *team.Rig) { r.Kit.Connectors = 2 }, team.Ask{Move: "raise", FromM: m(40), ToM: m(50), Ratio: 5}, "with three connectors there is one"},
		{"bends", func(r *team.Rig) { r.Kit.Connectors = 1 }, team.Ask{Move: "lower", FromM: m(80), ToM: m(60)}, "with a connector there is one"},
		{"rope", func(r *team.Rig) { r.Main.LengthM, r.Main.KeptM, r.Main.KnotM = 61, 1, 1 }, team.Ask{Move: "lower", FromM: m(80), ToM: m(20)}, "the rope of the main runs out at 37.4 m; with a rope at least 17.4 m longer on the main there is one"},
		{"two grabs for a knot that comes up", func(*team.Rig) {}, team.Ask{Move: "raise", FromM: m(40), ToM: m(80)}, "with a rope grab there is one"},
		{"knots side by side, up", func(r *team.Rig) { r.Belay.KnotsM = r.Main.KnotsM }, team.Ask{Move: "raise", FromM: m(40), ToM: m(80)}, "with a rope grab there is one"},
		{"up by a wheel into a knot", func(r *team.Rig) { *r = *winding(1); r.Main.KnotsM = []quantity.Metres{76} }, team.Ask{Move: "wind-up", FromM: m(20), ToM: m(21)}, "no addition to kit, rope or people gives one"},
	} {
		r := stretcher()
		r.Main.KnotsM = []quantity.Metres{40}
		c.change(r)
		if _, err := r.For(t.Context(), c.ask); !errors.Is(err, search.ErrNone) || !strings.HasSuffix(err.Error(), c.want) {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}

// Rope through a brake by hand: 12 m back on the level and 2.2 m up make 12.2 m to an edge
// that takes 0.5 m; a knot at 40 m stands 0.16 m before its brake with the load 27.14 m
// below the edge. On the way up the grab of the haul is met 0.9 m earlier. What is left
// behind the brake, and where it runs out, follow from the same sum.
func TestRopeThroughABrake(t *testing.T) {
	r := stretcher()
	r.Kit.Grabs = 2
	for _, l := range []*team.Line{&r.Main, &r.Belay} {
		l.Path = team.Path{TopM: 96.4, EdgeM: 94.2, Edged: true, BackM: 12, Pieces: []team.Piece{{Name: "edge", M: 0.5, Always: true}}}
	}
	r.Main.KnotsM = []quantity.Metres{40}
	r.Main.LengthM, r.Main.KnotM, r.Main.KeptM = 100, 1, 2
	down, err := r.For(t.Context(), team.Ask{Move: "lower", FromM: m(94.2), ToM: m(60)})
	if err != nil || math.Abs(float64(down.Steps[0].Action.AtM)-(94.2-27.14)) > 0.011 {
		t.Errorf("%v %+v", err, down.Steps[0].Action)
	}
	for _, whole := range []bool{true, false} {
		list := []team.Action{}
		for _, s := range down.Steps[:len(down.Steps)-1] {
			list = append(list, s.Action)
		}
		if whole {
			list = append(list, down.Steps[len(down.Steps)-1].Action)
		}
		if _, found, unfinished, err := r.Walk(team.Ask{Move: "lower", FromM: m(94.2), ToM: m(60)}, list); err != nil || stops(found) || (unfinished == "") != whole {
			t.Errorf("%v: %+v, %q", err, found, unfinished)
		}
	}
	up, err := r.For(t.Context(), team.Ask{Move: "raise", FromM: m(60), ToM: m(90)})
	if err != nil {
		t.Fatal(err)
	}
	var did []string
	for _, s := range up.Steps {
		did = append(did, string(s.Action.Do))
		if s.Action.Do == team.OverKnot && math.Abs(float64(s.After.At.M())-(94.2-28.2)) > 0.011 {
			t.Errorf("the grab is moved with the load at %v", s.After.At.M())
		}
	}
	if order := strings.Join(did, " "); !strings.Contains(order, "haul capture over-knot haul") || !strings.Contains(order, "put-grab unpark haul capture through prove extend take-grab") {
		t.Error(order)
	}
	if out, told := r.RunsOutM("main"); !told || math.Abs(float64(out)-(94.2-(100-3-12.7))) > 0.01 {
		t.Errorf("runs out at %v", out)
	}
	// Both schools drop by the rope that is in service, the 12.7 m on the level with it.
	s := r.SchoolsAt(84.2)
	want := mechanics.Share(mechanics.ShareIn{MassKg: 190, RopeLengthM: 22.7, ElongationPct: 3.5, SlackM: 0})
	if math.Abs(float64(s.Slack.DropM-want.Slack.DropM)) > 0.005 {
		t.Errorf("%v, by hand %v", s.Slack.DropM, want.Slack.DropM)
	}
	// Height and At undo each other, over edges further down and slanted too.
	q := team.Path{TopM: 50, EdgeM: 48, Edged: true, BackM: 3, Slant: 1.2, Pieces: []team.Piece{{M: 0.4, BelowM: 30}, {M: 0.3, BelowM: 12}}}
	for z := quantity.Metres(0.5); z < 48; z += 0.37 {
		if back := q.Height(q.At(z)); math.Abs(float64(back-z)) > 1e-6 {
			t.Errorf("%v comes back as %v", z, back)
		}
	}
	if at := q.Height(q.At(30) + 0.2); math.Abs(float64(at)-30) > 1e-6 {
		t.Errorf("within what the second edge takes: %v", at)
	}
}

// Both schools drop by what package mechanics says, and sharing drops less.
func TestSchools(t *testing.T) {
	worst := func(lowering string) quantity.Metres {
		r := stretcher()
		r.Schools.Lowering = lowering
		p, err := r.For(t.Context(), team.Ask{Move: "lower", FromM: m(90), ToM: m(40)})
		if err != nil {
			t.Fatal(err)
		}
		return p.WorstM
	}
	if slack, shared := worst("slack-belay"), worst("shared"); shared >= slack || slack < 0.3 {
		t.Errorf("slack %v, shared %v", slack, shared)
	}
	if len(team.Find("lower").Does) == 0 || team.Find("fly") != nil {
		t.Error("the catalogue")
	}
	runs := stretcher()
	runs.Main.HandsOff = gear.Runs
	s := team.State{Hangs: true, At: stance.ToCm(60), Main: team.Half{Loaded: true, Proved: true, Bend: true, Hand: 1}, Belay: team.Half{Loaded: true, Proved: true, Bend: true, Hand: 2}}
	if list := runs.HandsOff(&s); len(list) != 2 || !strings.Contains(list[0], "does not stop") {
		t.Error(list)
	}
}

// Lowers with no knot to four, anywhere in either strand: all are found, and what is
// looked at grows with the knots about in line.
func TestKnots(t *testing.T) {
	r := chance.Rand(6, 5)
	var looked [5][]int
	for range 150 {
		rigged, n := stretcher(), r.IntN(5)
		at := quantity.Metres(4)
		for range n {
			at += 2 + quantity.Metres(r.IntN(160))/10
			l := &rigged.Main
			if r.IntN(2) == 0 {
				l = &rigged.Belay
			}
			l.KnotsM = append(l.KnotsM, at)
		}
		p, err := rigged.For(t.Context(), team.Ask{Move: "lower", FromM: m(93), ToM: m(0.5)})
		if err != nil {
			t.Fatalf("%d knots: %v", n, err)
		}
		through := 0
		for _, s := range p.Steps {
			if s.Action.Do == team.Through {
				through++
			}
		}
		if through != n {
			t.Errorf("%d of %d knots go through", through, n)
		}
		looked[n] = append(looked[n], p.Expanded)
	}
	most := func(n int) int { return slices.Max(looked[n]) - slices.Min(looked[0]) }
	for n := 2; n <= 4; n++ {
		if most(n) > 2*n*most(1) {
			t.Errorf("%d knots: %d states, one: %d", n, most(n), most(1))
		}
	}
}

// BenchmarkPlan tells how a lower grows with its knots.
func BenchmarkPlan(b *testing.B) {
	for _, n := range []int{0, 1, 2, 4} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			r := stretcher()
			for i := range n {
				r.Main.KnotsM = append(r.Main.KnotsM, quantity.Metres(10+20*i))
			}
			for b.Loop() {
				if _, err := r.For(b.Context(), team.Ask{Move: "lower", FromM: m(93), ToM: m(1)}); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// Whatever is typed as a list of actions is read or refused, and walked as far as it
// can be.
func FuzzSteps(f *testing.F) {
	r := stretcher()
	r.Main.KnotsM = []quantity.Metres{40}
	ask := team.Ask{Move: "lower", FromM: m(80), ToM: m(2)}
	p, err := r.For(f.Context(), ask)
	if err != nil {
		f.Fatal(err)
	}
	text, err := json.Marshal(p)
	if err != nil {
		f.Fatal(err)
	}
	f.Add(text)
	f.Add([]byte(`{"steps":[{"do":"put-grab","line":"belay"},{"do":"through","line":"belay"},{"do":"build","line":"main","ratio":9}]}`))
	f.Fuzz(func(t *testing.T, text []byte) {
		steps, err := team.ReadSteps(text)
		if err != nil {
			return
		}
		walked, found, _, err := r.Walk(ask, steps)
		if err != nil {
			t.Fatal(err)
		}
		for _, b := range found {
			if b.Step < 0 || b.Step > len(steps) || b.Impossible == "" && len(b.Broken) == 0 {
				t.Errorf("%+v", b)
			}
		}
		if len(walked.Steps) > len(steps) {
			t.Errorf("%d steps of %d", len(walked.Steps), len(steps))
		}
	})
}

// What one operator cannot do is refused and not walked into; who share a load see each
// other, from wherever they begin; and what both do not share they may do out of sight.
func TestOperators(t *testing.T) {
	for _, move := range team.Catalogue {
		one := stretcher()
		one.Operators = one.Operators[:1]
		_, _ = one.For(t.Context(), team.Ask{Move: move.Name, FromM: m(50), ToM: m(20)})
	}
	one := stretcher()
	one.Operators = one.Operators[:1]
	var refused *strict.Error
	if _, err := one.For(t.Context(), team.Ask{Move: "lower", FromM: m(50), ToM: m(20)}); !errors.As(err, &refused) || !strings.Contains(err.Error(), "operators") {
		t.Errorf("one operator lowers: %v", err)
	}
	if p, err := one.For(t.Context(), team.Ask{Move: "walk-away", FromM: m(50)}); err == nil {
		t.Errorf("one operator walks away from two: %d steps", len(p.Steps))
	}
	for how, want := range map[string]error{"shared": search.ErrNone, "slack-belay": nil} {
		r := stretcher()
		r.OutOfSight, r.Schools.Lowering = true, how
		if _, err := r.For(t.Context(), team.Ask{Move: "lower", FromM: m(50), ToM: m(20)}); !errors.Is(err, want) {
			t.Errorf("out of sight, %s: %v", how, err)
		}
		r.OutOfSight = false
		if _, err := r.For(t.Context(), team.Ask{Move: "lower", FromM: m(50), ToM: m(20)}); err != nil {
			t.Errorf("in sight, %s: %v", how, err)
		}
	}
}

// A free brake strand is offered to each operator whose hands are free, and to nobody else.
func TestOffersHands(t *testing.T) {
	r := stretcher()
	s := team.State{Hangs: true, At: stance.ToCm(60), Main: team.Half{Loaded: true, Proved: true, Parked: true, Bend: true}, Belay: team.Half{Loaded: true, Proved: true, Bend: true, Hand: 2}}
	var by []int
	for _, o := range r.Offers(&s) {
		if o.Action.Do == team.HandOn && o.Action.Line == "main" && !o.Action.Forward {
			by = append(by, o.Action.By)
		}
	}
	if !slices.Equal(by, []int{1, 3}) {
		t.Errorf("hands of %v", by)
	}
}

// A haul that is built as a move begins has its connector; what is left is in the bends.
func TestBendsBesideAHaul(t *testing.T) {
	for _, move := range []string{"raise-to-lower", "reset"} {
		for connectors, works := range map[int]bool{3: true, 2: false} {
			r := stretcher()
			r.Kit.Connectors = connectors
			if p, err := r.For(t.Context(), team.Ask{Move: move, FromM: m(60)}); (err == nil) != works || works && !(p.Start.Main.Bend && p.Start.Belay.Bend) {
				t.Errorf("%s with %d connectors: %v", move, connectors, err)
			}
		}
	}
}
