package drill_test

import (
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
)

var exercises = flag.Int("exercises", 40, "how many exercises of each kind are made")

// made makes an exercise of a seed, at the level that goes with it.
func made(t *testing.T, k drill.Kind, seed int) *drill.Exercise {
	t.Helper()
	a := drill.Asked{Kind: k, Seed: int64(seed), Level: 1 + seed%4, Gear: demo.Gear(), Answers: true}
	e, err := a.Make(t.Context())
	if err != nil {
		t.Fatalf("%s %d: %v", k, seed, err)
	}
	return e
}

// through is an exercise as it comes back from a file, with and without its answers.
func through(t *testing.T, e *drill.Exercise) (with, without *drill.Exercise) {
	t.Helper()
	read := func(e *drill.Exercise) *drill.Exercise {
		data, err := json.Marshal(e)
		if err != nil {
			t.Fatal(err)
		}
		out, err := drill.Read(data)
		if err != nil {
			t.Fatalf("%s %d cannot be read back: %v", e.Kind, e.Seed, err)
		}
		return out
	}
	plain := *e
	plain.Answers = nil
	return read(e), read(&plain)
}

func mark(t *testing.T, e *drill.Exercise, a *drill.Answer) *drill.Mark {
	t.Helper()
	m, err := (&drill.Marked{Exercise: *e, Answer: *a}).Mark(t.Context())
	if err != nil {
		t.Fatalf("%s %d: %v", e.Kind, e.Seed, err)
	}
	return m
}

// own is the engine's answer as a learner would give it.
func own(e *drill.Exercise) *drill.Answer {
	a := &drill.Answer{Option: e.Answers.Option, Steps: e.Answers.Steps, Team: e.Answers.Team, Rescue: e.Answers.Rescue}
	for _, f := range e.Answers.Faults {
		a.Faults = append(a.Faults, drill.Named{Rule: f.Rule, Subject: drill.Pointed{Kind: f.Subject.Kind, ID: f.Subject.ID}})
	}
	return a
}

// Of every exercise: the same seed makes the same, it comes back from a file as it was, and the
// engine's own answer to it, marked without its answers, has full marks.
func TestOwnAnswers(t *testing.T) {
	for _, k := range drill.Kinds {
		for seed := range *exercises {
			e := made(t, k, seed)
			if seed < 5 && !reflect.DeepEqual(e, made(t, k, seed)) {
				t.Errorf("%s %d is another the second time", k, seed)
			}
			with, without := through(t, e)
			a, _ := json.Marshal(e)
			if b, _ := json.Marshal(with); string(a) != string(b) {
				t.Errorf("%s %d is another after reading", k, seed)
			}
			// A rig that has no fault says so.
			if strings.Contains(string(a), `"answers":{"faults":[`) != (k == drill.Faults) {
				t.Errorf("%s %d: %s", k, seed, fmt.Sprintf("%+v", e.Answers))
			}
			if m := mark(t, without, own(e)); m.Score != 1 || len(m.Missed)+len(m.FalseAlarms) > 0 {
				t.Errorf("%s %d: the engine's own answer gets %+v", k, seed, m)
			}
		}
	}
}

// Of every rig: each fault that is declared is found by the check, with no stop that is neither
// declared nor said to follow; one without faults has no stop. Each fault counts once, what is
// no fault is a false alarm, and what follows from a fault is none.
func TestFaults(t *testing.T) {
	none, steps := 0, 0
	for seed := range 2 * *exercises {
		e := made(t, drill.Faults, seed)
		if len(e.Answers.Faults) == 0 {
			none++
		}
		if e.Question.List != nil || e.Question.Of != "" {
			steps++
		} else {
			declared(t, e)
		}
		all := own(e)
		wrong := drill.Named{Rule: "body.ground", Subject: drill.Pointed{Kind: finding.Person, ID: drill.Learner}}
		if m := mark(t, e, &drill.Answer{Faults: append(slices.Clone(all.Faults), wrong)}); len(m.FalseAlarms) != 1 || m.Score == 1 || len(m.Missed) > 0 {
			t.Errorf("faults %d: a false alarm gets %v, %v", seed, m.Score, m.FalseAlarms)
		}
		for i, f := range e.Answers.Faults {
			less := slices.Delete(slices.Clone(all.Faults), i, i+1)
			m := mark(t, e, &drill.Answer{Faults: less})
			if len(m.Missed) != 1 || m.Missed[0].Rule != f.Rule || m.Score >= 1 || m.Missed[0].Planted == "" {
				t.Errorf("faults %d: without %s: %v missed, %v", seed, f.Rule, m.Missed, m.Score)
			}
			for _, r := range f.Follows {
				n := drill.Named{Rule: r, Subject: drill.Pointed{Kind: f.Subject.Kind, ID: f.Subject.ID}}
				if m := mark(t, e, &drill.Answer{Faults: append(slices.Clone(all.Faults), n)}); m.Score != 1 {
					t.Errorf("faults %d: naming %s, which follows from %s, gets %v", seed, r, f.Rule, m.Score)
				}
			}
			twice := mark(t, e, &drill.Answer{Faults: append(slices.Clone(all.Faults), all.Faults[i])})
			if twice.Score != 1 {
				t.Errorf("faults %d: naming %s twice gets %v", seed, f.Rule, twice.Score)
			}
		}
	}
	if all := 2 * *exercises; none < all/12 || none > all/3 || steps < all/12 {
		t.Errorf("of %d exercises %d have no fault, %d are lists of steps", all, none, steps)
	}
}

// declared holds a rig to what the check says of it by itself.
func declared(t *testing.T, e *drill.Exercise) {
	t.Helper()
	report, err := check.Drop(t.Context(), e.Drop, nil, check.FindingsOnly)
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range report.Findings {
		ok := f.Severity != finding.Stop || slices.ContainsFunc(e.Answers.Faults, func(d drill.Fault) bool { return d.Rule == f.Rule || slices.Contains(d.Follows, f.Rule) })
		if !ok {
			t.Errorf("faults %d: %s fires, and is neither planted nor follows: %s", e.Seed, f.Rule, f.What)
		}
	}
	for _, d := range e.Answers.Faults {
		if !slices.ContainsFunc(report.Findings, func(f finding.Finding) bool { return f.Rule == d.Rule && f.Subject == d.Subject }) {
			t.Errorf("faults %d: %s is declared and not found", e.Seed, d.Rule)
		}
	}
	if n := len(e.Answers.Faults); n > []int{1, 2, 3, 4}[e.Level-1] {
		t.Errorf("faults %d: %d at level %d", e.Seed, n, e.Level)
	}
}

// A fault is found by pointing at what it is part of, and by its words; not by pointing
// elsewhere.
func TestPointing(t *testing.T) {
	d := demo.Drops()["gate-shaft"]
	d.People[0].Holds[0].Links[0].Gate = "open"
	e := &drill.Exercise{Format: drill.Format, Version: drill.Version, Kind: drill.Faults, Level: 1, Drop: d}
	point := func(kind finding.Kind, id, rule, what string) float64 {
		return mark(t, e, &drill.Answer{Faults: []drill.Named{{Rule: rule, What: what, Subject: drill.Pointed{Kind: kind, ID: id}}}}).Score
	}
	for _, id := range []string{"connector-42", "ivo-main", "descender-21"} {
		if s := point(finding.Item, id, "", "a gate is open"); s != 1 {
			t.Errorf("pointing at %s: %v", id, s)
		}
	}
	if s := point(finding.Hold, "ivo-backup", "", "a gate is open"); s != 0 {
		t.Errorf("pointing at the backup: %v", s)
	}
	if s := point(finding.Hold, "ivo-main", "device.direction", ""); s != 0 {
		t.Errorf("another fault of it: %v", s)
	}
	_, err := (&drill.Marked{Exercise: *e, Answer: drill.Answer{Faults: []drill.Named{{What: "it is blue", Subject: drill.Pointed{ID: "ivo-main"}}}}}).Mark(t.Context())
	refusedAt(t, "/answer/faults/0", err)
}

// Of every "what would happen": the right option is what the failure does in that stance by
// itself, no two say the same to two figures, and one alone is right. So of how models differ.
func TestOptions(t *testing.T) {
	two := func(f float64) string { return fmt.Sprintf("%.1e", f) }
	for _, k := range []drill.Kind{drill.Fails, drill.Apart} {
		for seed := range *exercises {
			e := made(t, k, seed)
			seen := map[string]bool{}
			right := 0
			for i, o := range e.Question.Options {
				say := o.Text + o.HeldBy + two(float64(o.DropM)) + two(float64(o.PeakKN)) + two(float64(o.AsideM))
				if seen[say] || o.ID != string(rune('a'+i)) || o.Say() == "" {
					t.Errorf("%s %d: %+v is there twice, or has no letter", k, seed, o)
				}
				seen[say] = true
				if m := mark(t, e, &drill.Answer{Option: o.ID}); m.Score == 1 {
					right++
				} else if m.Right != e.Answers.Option {
					t.Errorf("%s %d: %s is right, not %s", k, seed, m.Right, e.Answers.Option)
				}
			}
			if right != 1 || len(seen) < 2 {
				t.Errorf("%s %d: %d of %d options are right", k, seed, right, len(seen))
			}
			if k == drill.Fails {
				happens(t, e)
			}
		}
	}
}

// happens computes by itself what the failure does.
func happens(t *testing.T, e *drill.Exercise) {
	t.Helper()
	s, err := site.Open(e.Drop)
	if err != nil {
		t.Fatal(err)
	}
	sc, _, err := moves.Scene(s, e.Question.Person, e.Question.Schools)
	if err != nil {
		t.Fatal(err)
	}
	at, err := e.Question.Stance.Read(sc)
	if err != nil {
		t.Fatal(err)
	}
	right := e.Question.Options[e.Answers.Option[0]-'a']
	for _, l := range sc.FailOne(&at) {
		if string(l.Point.Kind)+":"+l.Point.ID != e.Question.Fails {
			continue
		}
		if !l.Held && right.HeldBy != "" || l.Held && (right.HeldBy != l.By || right.DropM != l.FreeFallM || right.PeakKN != l.PeakKN || right.AsideM != l.SwingM) {
			t.Errorf("fails %d: %+v is said to be right; it is %+v", e.Seed, right, l)
		}
		return
	}
	t.Errorf("fails %d: %s bears nothing", e.Seed, e.Question.Fails)
}

// Every move can be done from what is offered: each step of the engine's plan is among the
// offers of where it is done, whatever is offered can be done and be gone on from, and a plan
// with a step left out loses marks at the step at which the rules see it first.
func TestMoves(t *testing.T) {
	for seed := range *exercises {
		e := made(t, drill.Move, seed)
		switch e.Question.Of {
		case "team":
			teamMove(t, e)
		case "rescue":
			rescueMove(t, e)
		default:
			personMove(t, e, seed)
		}
	}
	fetch := drill.Asked{Kind: drill.Move, Move: "pick-off", Drop: demo.Drops()["face-7"], Person: "rhea", Answers: true}
	e, err := fetch.Make(t.Context())
	if err != nil || e.Question.Rescuer != "dov" {
		t.Fatalf("a pick-off on a drop of the team: %v", err)
	}
	rescueMove(t, e)
}

func rescueMove(t *testing.T, e *drill.Exercise) {
	t.Helper()
	standing := func(steps []pair.Action) *drill.Standing {
		st, err := (&drill.Stepped{Exercise: *e, Rescue: steps}).Answer(t.Context())
		if err != nil {
			t.Fatalf("move %d: %v", e.Seed, err)
		}
		return st
	}
	steps := e.Answers.Rescue
	for n, a := range steps {
		st := standing(steps[:n])
		if st.Reached || stops(st.Found) || !slices.ContainsFunc(st.RescueOffers, func(o pair.Offer) bool { return o.Has(a) }) {
			t.Errorf("move %d, pick-off, step %d: %+v is not offered; reached %v, found %v", e.Seed, n+1, a, st.Reached, st.Found)
		}
		for i := range st.RescueOffers {
			on := append(slices.Clone(steps[:n]), st.RescueOffers[i].Action)
			if after := standing(on); len(after.Rescue.Steps) != n+1 || st.RescueOffers[i].Say == "" || st.RescueOffers[i].With == "" {
				t.Errorf("move %d, step %d: %+v is offered and cannot be done: %v", e.Seed, n+1, st.RescueOffers[i].Action, after.Found)
			}
		}
		less := slices.Delete(slices.Clone(steps), n, n+1)
		st = standing(less)
		if m := mark(t, e, &drill.Answer{Rescue: less}); (m.Score == 1) != (st.Reached && !stops(st.Found)) {
			t.Errorf("move %d without step %d gets %v; %v", e.Seed, n+1, m.Score, st.Found)
		}
	}
	if !standing(steps).Reached {
		t.Errorf("move %d: the plan does not get there", e.Seed)
	}
}

func standing(t *testing.T, e *drill.Exercise, steps []stance.Action, of []team.Action) *drill.Standing {
	t.Helper()
	st, err := (&drill.Stepped{Exercise: *e, Steps: steps, Team: of}).Answer(t.Context())
	if err != nil {
		t.Fatalf("move %d: %v", e.Seed, err)
	}
	return st
}

func stops(found []stance.Breach) bool {
	return slices.ContainsFunc(found, func(b stance.Breach) bool { return b.Stops() })
}

func personMove(t *testing.T, e *drill.Exercise, seed int) {
	t.Helper()
	steps := e.Answers.Steps.Steps
	for n, a := range steps {
		st := standing(t, e, steps[:n], nil)
		if st.Reached || stops(st.Found) || !slices.ContainsFunc(st.Offers, func(o moves.Offer) bool { return o.Has(a) }) {
			t.Errorf("move %d, %s, step %d: %+v is not offered; reached %v, found %v", seed, e.Question.Move, n+1, a, st.Reached, st.Found)
		}
		for i := range st.Offers {
			if n%4 != seed%4 {
				break
			}
			on := append(slices.Clone(steps[:n]), st.Offers[i].Action)
			after := standing(t, e, on, nil)
			if len(after.Offers) == 0 || len(after.Walked.Steps) != n+1 || st.Offers[i].Say == "" {
				t.Errorf("move %d, step %d: %+v is offered and leads nowhere: %v", seed, n+1, st.Offers[i].Action, after.Found)
			}
		}
	}
	if end := standing(t, e, steps, nil); !end.Reached {
		t.Errorf("move %d: the plan does not get there", seed)
	}
	for i := range steps {
		list := *e.Answers.Steps
		list.Steps = slices.Delete(slices.Clone(steps), i, i+1)
		s, err := site.Open(e.Drop)
		if err != nil {
			t.Fatal(err)
		}
		_, found, err := list.Walk(s, s.Policy.Schools)
		if err != nil {
			t.Fatal(err)
		}
		m := mark(t, e, &drill.Answer{Steps: &list})
		if sound := !stops(found); sound != (m.Score == 1) || !reflect.DeepEqual(m.Breaches, append([]stance.Breach{}, found...)) {
			t.Errorf("move %d without step %d gets %v; found %v, not %v", seed, i+1, m.Score, m.Breaches, found)
		}
	}
}

func teamMove(t *testing.T, e *drill.Exercise) {
	t.Helper()
	steps := e.Answers.Team
	for n, a := range steps {
		st := standing(t, e, nil, steps[:n])
		if st.Reached || stops(st.Found) || !slices.ContainsFunc(st.TeamOffers, func(o team.Offer) bool { return o.Has(a) }) {
			t.Errorf("move %d, %s, step %d: %+v is not offered; reached %v, found %v", e.Seed, e.Question.Move, n+1, a, st.Reached, st.Found)
		}
		for i := range st.TeamOffers {
			on := append(slices.Clone(steps[:n]), st.TeamOffers[i].Action)
			if after := standing(t, e, nil, on); len(after.Team.Steps) != n+1 || st.TeamOffers[i].Say == "" {
				t.Errorf("move %d, step %d: %+v is offered and cannot be done: %v", e.Seed, n+1, st.TeamOffers[i].Action, after.Found)
			}
		}
		silent := slices.Clone(steps)
		if call := st.TeamOffers[slices.IndexFunc(st.TeamOffers, func(o team.Offer) bool { return o.Has(a) })].Call; call != "" && a.Do != team.Strip { // which moves nothing
			silent[n].Silent = true
			if m := mark(t, e, &drill.Answer{Team: silent}); m.Score == 1 {
				t.Errorf("move %d: step %d without “%s” has full marks", e.Seed, n+1, call)
			}
		}
	}
	if m := mark(t, e, &drill.Answer{Team: steps[:len(steps)-1]}); m.Done || m.Score == 1 {
		t.Errorf("move %d: a list that ends too soon is done: %v", e.Seed, m.Score)
	}
}

func refusedAt(t *testing.T, pointer string, err error) {
	t.Helper()
	var e *strict.Error
	if !errors.As(err, &e) || e.Faults[0].Pointer != pointer {
		t.Errorf("%v, not refused at %s", err, pointer)
	}
}

// What cannot be made or marked is refused by its name.
func TestRefused(t *testing.T) {
	shaft, lip := demo.Drops()["gate-shaft"], demo.Drops()["spillway-lip"]
	for pointer, a := range map[string]drill.Asked{
		"/gear":   {Kind: drill.Faults},
		"/move":   {Kind: drill.Move, Drop: shaft, Move: "fly"},
		"/drop":   {Kind: drill.Faults, Drop: lip},
		"/person": {Kind: drill.Fails, Drop: shaft, Person: "nobody"},
	} {
		_, err := a.Make(t.Context())
		refusedAt(t, pointer, err)
	}
	e := made(t, drill.Fails, 1)
	for pointer, c := range map[string]struct {
		change func(*drill.Exercise)
		answer drill.Answer
	}{
		"/answer/option":             {func(*drill.Exercise) {}, drill.Answer{Option: "f"}},
		"/exercise/drop":             {func(e *drill.Exercise) { e.Drop = nil }, drill.Answer{Option: "a"}},
		"/exercise/question":         {func(e *drill.Exercise) { e.Question.Options = nil }, drill.Answer{Option: "a"}},
		"/exercise/question/fails":   {func(e *drill.Exercise) { e.Question.Fails = "hold:none" }, drill.Answer{Option: "a"}},
		"/exercise/question/options": {func(e *drill.Exercise) { e.Question.Options = []drill.Option{{ID: "a", HeldBy: "luck"}} }, drill.Answer{Option: "a"}},
	} {
		with := *e
		c.change(&with)
		_, err := (&drill.Marked{Exercise: with, Answer: c.answer}).Mark(t.Context())
		refusedAt(t, pointer, err)
	}
	m := made(t, drill.Move, 0)
	if m.Question.Of == "" {
		_, err := (&drill.Marked{Exercise: *m}).Mark(t.Context())
		refusedAt(t, "/answer/steps", err)
	}
	_, err := (&drill.Stepped{Exercise: *e}).Answer(t.Context())
	refusedAt(t, "/exercise/kind", err)
	// An answer to another kind of exercise is not one in which nothing was said.
	for _, kind := range []drill.Kind{drill.Faults, drill.Fails, drill.Move, drill.Apart} {
		with := made(t, kind, 2)
		for part, answer := range map[string]drill.Answer{
			"faults": {Faults: []drill.Named{}}, "option": {Option: "a"}, "steps": {Steps: &moves.StepList{}}, "team_steps": {Team: []team.Action{}}, "rescue_steps": {Rescue: []pair.Action{}},
		} {
			own := map[drill.Kind]string{drill.Faults: "faults", drill.Fails: "option", drill.Apart: "option", drill.Move: map[string]string{"team": "team_steps", "rescue": "rescue_steps"}[with.Question.Of]}[kind]
			if part == own || part == "steps" && own == "" {
				continue
			}
			_, err := (&drill.Marked{Exercise: *with, Answer: answer}).Mark(t.Context())
			refusedAt(t, "/answer/"+part, err)
		}
	}
}

// Exercises are made of the team's own drops too, as far as they are sound.
func TestOwnDrop(t *testing.T) {
	for _, id := range []string{"gate-shaft", "face-7", "basin-wall", "crown-gallery"} {
		for _, k := range []drill.Kind{drill.Faults, drill.Fails, drill.Move} {
			if id == "basin-wall" && k == drill.Fails {
				continue
			}
			a := drill.Asked{Kind: k, Seed: 3, Level: 1, Drop: demo.Drops()[id], Answers: true}
			e, err := a.Make(t.Context())
			if err != nil {
				var refused *strict.Error
				if id != "crown-gallery" || !errors.As(err, &refused) || !strings.Contains(err.Error(), "sound") {
					t.Errorf("%s of %s: %v", k, id, err)
				}
				continue
			}
			if m := mark(t, e, own(e)); m.Score != 1 {
				t.Errorf("%s of %s: its own answer gets %v", k, id, m.Score)
			}
		}
	}
}

func FuzzRead(f *testing.F) {
	e, err := (&drill.Asked{Kind: drill.Apart, Gear: demo.Gear(), Answers: true}).Make(f.Context())
	if err != nil {
		f.Fatal(err)
	}
	data, err := json.Marshal(e)
	if err != nil {
		f.Fatal(err)
	}
	f.Add(data)
	f.Add([]byte(`{"format":"exercise","version":1,"kind":"faults","seed":0,"level":1,"question":{}}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		e, err := drill.Read(data)
		if err != nil {
			return
		}
		a := &drill.Marked{Exercise: *e, Answer: drill.Answer{Option: "a"}}
		if m, err := a.Mark(t.Context()); err == nil && (m.Score < 0 || m.Score > 1) {
			t.Errorf("a score of %v", m.Score)
		}
	})
}

func BenchmarkMake(b *testing.B) {
	for _, k := range drill.Kinds {
		b.Run(string(k), func(b *testing.B) {
			seed := int64(0)
			for b.Loop() {
				a := drill.Asked{Kind: k, Seed: seed % 100, Level: 1 + int(seed%4), Gear: demo.Gear()}
				if _, err := a.Make(b.Context()); err != nil {
					b.Fatal(err)
				}
				seed++
			}
		})
	}
}

func BenchmarkMark(b *testing.B) {
	for _, k := range drill.Kinds {
		e, err := (&drill.Asked{Kind: k, Seed: 2, Level: 3, Gear: demo.Gear(), Answers: true}).Make(b.Context())
		if err != nil {
			b.Fatal(err)
		}
		b.Run(string(k), func(b *testing.B) {
			for b.Loop() {
				if _, err := (&drill.Marked{Exercise: *e, Answer: *own(e)}).Mark(b.Context()); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// What an exercise practises is the kind of a skill where its rig says which.
func TestPractises(t *testing.T) {
	winders := func(generations ...string) *drop.Document {
		d := new(drop.Document)
		for _, g := range generations {
			d.Models = append(d.Models, gear.Model{Class: gear.WindingDev, Generation: g})
		}
		return d
	}
	for _, c := range []struct {
		q    drill.Question
		on   *drop.Document
		want string
	}{
		{drill.Question{Move: "pick-off", Of: "rescue", Way: "from-below"}, nil, "pick-off-from-below"},
		{drill.Question{Move: "pick-off", Of: "rescue"}, nil, "pick-off"},
		{drill.Question{Move: "wind-up", Of: "team"}, winders("Second"), "winding-second"},
		{drill.Question{Move: "wind-down", Of: "team"}, winders("first", "second"), "winding"},
		{drill.Question{Move: "wind-down", Of: "team"}, winders(""), "winding"},
		{drill.Question{Move: "prove-brake", Of: "team"}, nil, "function-check-anchor-brake"},
		{drill.Question{Move: "rebelay-up"}, nil, "re-belay"},
	} {
		e := drill.Exercise{Kind: drill.Move, Drop: c.on, Question: c.q}
		if got := e.Practises(); got != c.want || manoeuvre.FindSkill(got) == nil {
			t.Errorf("%s: %q, want %q", c.q.Move, got, c.want)
		}
	}
}
