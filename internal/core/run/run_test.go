package run_test

import (
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/run"
	"zealousknot/internal/core/strict"
)

var dawn = time.Date(2026, 11, 24, 7, 0, 0, 0, time.UTC)

// plan is a run without events: two people, one of them out of sight, and a lower of three
// steps.
func plan() *run.Document {
	return &run.Document{
		Format: run.Format, Version: run.Version, Drop: "face",
		People: []run.Person{{ID: "ivo", Name: "Ivo", AtM: 40, Devices: []string{"descender-1"}}, {ID: "rhea", Name: "Rhea", AtM: 50, CheckInS: 600}},
		Moves: []run.Move{{ID: "lower", Name: "lower", Of: "team", Steps: []run.Step{
			{Do: "unpark", Say: "Park off.", Seconds: 4}, {Do: "lower", Say: "Down.", Call: "Down", Answer: "Down", Seconds: 100}, {Do: "park", Say: "Park.", Seconds: 3},
		}}},
		Events: []run.Event{},
	}
}

// given adds an event some seconds after dawn.
func given(d *run.Document, seconds float64, e run.Event) *run.Event {
	e.ID = fmt.Sprintf("%08d-0000-4000-8000-000000000000", len(d.Events)+1)
	e.GivenAt = dawn.Add(time.Duration(seconds * float64(time.Second))).Format(time.RFC3339Nano)
	e.By = "Dov"
	d.Events = append(d.Events, e)
	return &d.Events[len(d.Events)-1]
}

func at(m quantity.Metres) *quantity.Metres { return &m }

// morning is a run from start to closing.
func morning() *run.Document {
	d := plan()
	given(d, 0, run.Event{Kind: run.Start})
	given(d, 30, run.Event{Kind: run.Briefed, Person: "ivo"})
	given(d, 60, run.Event{Kind: run.OnRope, Person: "ivo", AtM: at(70)})
	given(d, 660, run.Event{Kind: run.AtPlace, Person: "ivo", AtM: at(40)})
	given(d, 700, run.Event{Kind: run.Height, Person: "ivo", AtM: at(45)})
	given(d, 800, run.Event{Kind: run.Begin, Move: "lower", Device: "a"})
	given(d, 806, run.Event{Kind: run.StepTo, Move: "lower", Step: 1, Device: "a"})
	given(d, 930, run.Event{Kind: run.StepTo, Move: "lower", Step: 2, Device: "a"})
	given(d, 935, run.Event{Kind: run.StepTo, Move: "lower", Step: 3, Device: "a"})
	given(d, 940, run.Event{Kind: run.Done, Move: "lower", Device: "a"})
	given(d, 3660, run.Event{Kind: run.OffRope, Person: "ivo", AtM: at(0)})
	given(d, 4000, run.Event{Kind: run.End})
	given(d, 5000, run.Event{Kind: run.PutAway})
	given(d, 6000, run.Event{Kind: run.Close})
	return d
}

// TestFold follows a run from its start to its closing: who was where, what a move took, what
// is counted, and the seal over the events as another reader makes it.
func TestFold(t *testing.T) {
	d := morning()
	s := run.Fold(d)
	if s.Phase != run.Closed || len(s.Conflicts) != 0 || s.Events != len(d.Events) {
		t.Fatalf("%+v", s)
	}
	m := s.Moves[0]
	if m.Step != 3 || m.Next != nil || m.ElapsedS != 135 || m.PlannedS != 107 || len(m.Taken) != 3 || m.Taken[1].RealS != 124 || m.Taken[1].Do != "lower" {
		t.Errorf("%+v", m)
	}
	want := []run.Counter{{Person: "ivo", DownM: 75, UpM: 5, HoursH: 1}, {Item: "descender-1", DownM: 75, UpM: 5, HoursH: 1}}
	if !reflect.DeepEqual(s.Counters, want) {
		t.Errorf("%+v", s.Counters)
	}
	// Without the heights at which they went on and off, the metres are said to err low.
	for _, i := range []int{2, 10} {
		e := morning()
		e.Events[i].AtM = nil
		if got := run.Fold(e).Counters; len(got) != 2 || !got[0].Low || !got[1].Low || got[0].DownM >= 75 {
			t.Errorf("without the height of %s: %+v", e.Events[i].Kind, got)
		}
	}
	if d.Exercise = true; run.Fold(d).Counters != nil {
		t.Error("an exercise counts")
	}
	d.Exercise = false
	// Another reader of the published JSON makes the same seal.
	h := sha256.New()
	for _, e := range d.Events {
		text, err := json.Marshal(e)
		if err != nil {
			t.Fatal(err)
		}
		_ = binary.Write(h, binary.BigEndian, uint64(len(text)))
		h.Write(text)
	}
	if got := hex.EncodeToString(h.Sum(nil)); got != s.Seal {
		t.Errorf("%s, not %s", s.Seal, got)
	}
	// What comes after the closing is an addendum, and changes neither state nor seal.
	given(d, 9000, run.Event{Kind: run.Mark})
	late := run.Fold(d)
	if len(late.Addenda) != 1 || late.Seal != s.Seal || late.Events != s.Events || !reflect.DeepEqual(late.Counters, s.Counters) {
		t.Errorf("%+v", late)
	}
	d.Events[1].Reason = "altered"
	if run.Fold(d).Seal == s.Seal {
		t.Error("an altered event has the same seal")
	}
}

// TestOrder holds that the state is the same in whatever order events come, however often, and
// whatever the clocks of the devices say as long as their offsets are known.
func TestOrder(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for n := range 300 {
		d := plan()
		kinds := []run.Kind{run.Start, run.End, run.PutAway, run.OnRope, run.OffRope, run.AtPlace, run.Working, run.Height, run.CheckIn, run.Begin, run.StepTo, run.Done, run.Otherwise, run.Stop, run.Resume, run.Mark, run.Quarantine}
		given(d, 0, run.Event{Kind: run.Start})
		for range 5 + r.IntN(30) {
			e := run.Event{Kind: kinds[r.IntN(len(kinds))], Person: []string{"ivo", "rhea"}[r.IntN(2)], Device: []string{"a", "b"}[r.IntN(2)], Reason: "reason", Items: []string{"rope-1"}}
			switch e.Kind {
			case run.Begin, run.StepTo, run.Done:
				e.Move, e.Person, e.Step = "lower", "", 1+r.IntN(3)
			case run.Height:
				e.AtM = at(quantity.Metres(r.IntN(70)))
			}
			given(d, float64(r.IntN(200)), e)
		}
		if err := d.Validate(); err != nil {
			t.Fatal(err)
		}
		want := run.Fold(d)
		if again := run.Fold(d); !reflect.DeepEqual(want, again) {
			t.Fatalf("%d: folded twice it differs", n)
		}
		// Two devices, each in its own order, one after the other or between each other; some twice.
		mixed := *d
		mixed.Events = slices.Clone(d.Events)
		for range r.IntN(8) {
			mixed.Events = append(mixed.Events, mixed.Events[r.IntN(len(mixed.Events))])
		}
		r.Shuffle(len(mixed.Events), func(i, j int) { mixed.Events[i], mixed.Events[j] = mixed.Events[j], mixed.Events[i] })
		if got := run.Fold(&mixed); !reflect.DeepEqual(want, got) {
			t.Fatalf("%d: in another order\n%+v\n%+v", n, want, got)
		}
	}
	// A clock that is an hour wrong, and known to be, changes nothing but what is sealed.
	d := morning()
	want := run.Fold(d)
	for i := range d.Events {
		e := &d.Events[i]
		e.GivenAt, e.OffsetS = e.At().Add(time.Hour).Format(time.RFC3339Nano), -3600
	}
	if got := run.Fold(d); got.Phase != want.Phase || !reflect.DeepEqual(got.Moves, want.Moves) || !reflect.DeepEqual(got.Counters, want.Counters) || !reflect.DeepEqual(got.People, want.People) {
		t.Errorf("an hour wrong: %+v", got)
	}
}

// TestConflicts holds that nothing that was given is dropped: what does not fit is shown, and
// the newest word on where somebody is stands.
func TestConflicts(t *testing.T) {
	for name, c := range map[string]struct {
		more  func(d *run.Document)
		words string
	}{
		"on twice":        {func(d *run.Document) { given(d, 70, run.Event{Kind: run.OnRope, Person: "ivo"}) }, "on rope already"},
		"off twice":       {func(d *run.Document) { given(d, 70, run.Event{Kind: run.OffRope, Person: "rhea"}) }, "off rope already"},
		"height off rope": {func(d *run.Document) { given(d, 70, run.Event{Kind: run.Height, Person: "rhea", AtM: at(3)}) }, "is off rope"},
		"working":         {func(d *run.Document) { given(d, 70, run.Event{Kind: run.Working, Person: "rhea"}) }, "was not given as on rope"},
		"step unbegun":    {func(d *run.Document) { given(d, 70, run.Event{Kind: run.StepTo, Move: "lower", Step: 1}) }, "is not begun"},
		"step left out": {func(d *run.Document) {
			given(d, 70, run.Event{Kind: run.Begin, Move: "lower"})
			given(d, 80, run.Event{Kind: run.StepTo, Move: "lower", Step: 2})
		}, "step 2 after step 0"},
		"done early": {func(d *run.Document) {
			given(d, 70, run.Event{Kind: run.Begin, Move: "lower"})
			given(d, 80, run.Event{Kind: run.Done, Move: "lower"})
		}, "done after step 0 of 3"},
		"begun twice": {func(d *run.Document) {
			given(d, 70, run.Event{Kind: run.Begin, Move: "lower"})
			given(d, 80, run.Event{Kind: run.Begin, Move: "lower"})
		}, "begun already"},
		"ended with somebody on": {func(d *run.Document) { given(d, 70, run.Event{Kind: run.End}) }, "ended while Ivo was on rope"},
		"put away running":       {func(d *run.Document) { given(d, 70, run.Event{Kind: run.PutAway}) }, "put-away of a run that is running"},
		"after the end": {func(d *run.Document) {
			given(d, 70, run.Event{Kind: run.OffRope, Person: "ivo"})
			given(d, 75, run.Event{Kind: run.End})
			given(d, 80, run.Event{Kind: run.OnRope, Person: "ivo"})
		}, "the run is ended"},
		"resumed, not stopped": {func(d *run.Document) { given(d, 70, run.Event{Kind: run.Resume}) }, "was not stopped"},
		"one id, two events": {func(d *run.Document) {
			given(d, 70, run.Event{Kind: run.Mark}).ID = d.Events[0].ID
		}, "another event has the same id"},
	} {
		d := plan()
		given(d, 0, run.Event{Kind: run.Start})
		given(d, 50, run.Event{Kind: run.Briefed, Person: "ivo"})
		given(d, 60, run.Event{Kind: run.OnRope, Person: "ivo", AtM: at(70)})
		if s := run.Fold(d); len(s.Conflicts) != 0 {
			t.Fatalf("%+v", s.Conflicts)
		}
		c.more(d)
		s := run.Fold(d)
		if len(s.Conflicts) != 1 || !strings.Contains(s.Conflicts[0].Words, c.words) {
			t.Errorf("%s: %+v", name, s.Conflicts)
		}
	}
	d := plan()
	given(d, 0, run.Event{Kind: run.Start})
	given(d, 10, run.Event{Kind: run.Working, Person: "rhea", AtM: at(12)})
	p := run.Fold(d).People[1]
	if p.Doing != run.AtItNow || p.AtM != 12 || p.Since == nil || *p.DueAt != dawn.Add(610*time.Second).Format(time.RFC3339) {
		t.Errorf("%+v", p)
	}
	// To check in is no movement: hanging still counts from the last one.
	given(d, 300, run.Event{Kind: run.CheckIn, Person: "rhea"})
	q := run.Fold(d).People[1]
	if *q.Moved != *p.Moved || *q.Heard == *p.Heard || *q.DueAt == *p.DueAt {
		t.Errorf("%+v", q)
	}
	// Work that is stopped stays so until it is resumed.
	given(d, 310, run.Event{Kind: run.Stop, Reason: "lightning"})
	if s := run.Fold(d); s.Stopped == nil || s.Stopped.Words != "lightning" {
		t.Error("not stopped")
	}
	given(d, 320, run.Event{Kind: run.Resume})
	if run.Fold(d).Stopped != nil {
		t.Error("not resumed")
	}
}

// TestGoingOn holds that who goes on a rope while work is stopped, or with what was taken out in
// the run, is shown: work that goes on again, another's device, and coming down are no conflict.
func TestGoingOn(t *testing.T) {
	d := plan()
	d.Bands = []run.Band{{Channel: "main.force", Person: "rhea", Items: []string{"rope-1", "connector-1"}}}
	var want []string
	conflict := func(words string) { want = append(want, words) }
	given(d, 0, run.Event{Kind: run.Start})
	given(d, 1, run.Event{Kind: run.Briefed, Person: "ivo"})
	given(d, 2, run.Event{Kind: run.Briefed, Person: "rhea"})
	given(d, 10, run.Event{Kind: run.OnRope, Person: "ivo"})
	given(d, 20, run.Event{Kind: run.Stop, Reason: "wind"})
	given(d, 30, run.Event{Kind: run.AtPlace, Person: "ivo"})
	given(d, 40, run.Event{Kind: run.Working, Person: "ivo"})
	conflict("Ivo works, and work is stopped")
	given(d, 50, run.Event{Kind: run.OffRope, Person: "ivo"})
	given(d, 60, run.Event{Kind: run.OnRope, Person: "rhea"})
	conflict("Rhea went on the rope, and work is stopped")
	given(d, 70, run.Event{Kind: run.Resume})
	given(d, 80, run.Event{Kind: run.Quarantine, Reason: "8 kN", Items: []string{"rope-1"}})
	given(d, 90, run.Event{Kind: run.Working, Person: "rhea"})
	given(d, 100, run.Event{Kind: run.OnRope, Person: "ivo"})
	given(d, 110, run.Event{Kind: run.OffRope, Person: "rhea"})
	given(d, 120, run.Event{Kind: run.OnRope, Person: "rhea"})
	conflict("Rhea went on the rope with rope-1, which was put into quarantine")
	given(d, 130, run.Event{Kind: run.OffRope, Person: "ivo"})
	given(d, 140, run.Event{Kind: run.Quarantine, Reason: "dropped", Items: []string{"descender-1"}})
	given(d, 150, run.Event{Kind: run.OnRope, Person: "ivo"})
	conflict("Ivo went on the rope with descender-1, which was put into quarantine")
	var got []string
	for _, c := range run.Fold(d).Conflicts {
		got = append(got, c.Words)
	}
	if !slices.Equal(got, want) {
		t.Errorf("%q, want %q", got, want)
	}
}

// TestBurst holds that steps which are tapped in a burst are kept and teach nothing, on both
// sides of its limit; and that another device's tap is no part of it.
func TestBurst(t *testing.T) {
	times := func(second, third float64, device string) []int {
		d := plan()
		given(d, 0, run.Event{Kind: run.Start})
		given(d, 10, run.Event{Kind: run.Begin, Move: "lower", Device: "a"})
		given(d, 20, run.Event{Kind: run.StepTo, Move: "lower", Step: 1, Device: "a"})
		given(d, second, run.Event{Kind: run.StepTo, Move: "lower", Step: 2, Device: device})
		given(d, third, run.Event{Kind: run.StepTo, Move: "lower", Step: 3, Device: "a"})
		m := run.Fold(d).Moves[0]
		if m.Step != 3 {
			t.Fatalf("%+v", m)
		}
		var steps []int
		for _, x := range m.Taken {
			steps = append(steps, x.Step)
		}
		return steps
	}
	for _, c := range []struct {
		second, third float64
		device        string
		want          []int
	}{
		{23, 26, "a", []int{1, 2, 3}},
		{22.9, 30, "a", []int{3}},
		{40, 42.9, "a", []int{1}},
		{21, 22, "a", nil},
		{21, 22, "b", []int{1, 2, 3}},
	} {
		if got := times(c.second, c.third, c.device); !slices.Equal(got, c.want) {
			t.Errorf("at %g and %g by %s: %v, want %v", c.second, c.third, c.device, got, c.want)
		}
	}
}

// TestRefused holds that a document which cannot be a run is refused with its place.
// TestPermit holds that nobody goes on the rope or works unseen once the permit has ended, on both sides of its end.
func TestPermit(t *testing.T) {
	for after, want := range map[float64][]string{
		0:   nil,
		0.5: {"Ivo went on the rope, and the permit had ended", "Ivo works, and the permit had ended"},
	} {
		d := plan()
		given(d, 0, run.Event{Kind: run.Start})
		until := dawn.Add(60 * time.Second).Format(time.RFC3339Nano)
		given(d, 1, run.Event{Kind: run.Brief, Briefing: &run.Briefing{Channel: "3", Lost: "three pulls", Permit: "7", Until: until}})
		given(d, 2, run.Event{Kind: run.Briefed, Person: "ivo"})
		given(d, 60+after, run.Event{Kind: run.OnRope, Person: "ivo"})
		given(d, 60+after, run.Event{Kind: run.Working, Person: "ivo"})
		var got []string
		for _, c := range run.Fold(d).Conflicts {
			got = append(got, c.Words)
		}
		if !slices.Equal(got, want) {
			t.Errorf("%g s after it ended: %q", after, got)
		}
	}
}

// TestBriefing holds a briefing to what it asks: everybody signs the one that stands, a new one
// asks again, whoever goes on the rope without is shown, and who is out of sight is due.
func TestBriefing(t *testing.T) {
	d := plan()
	of := func(id string) run.Standing {
		s := run.Fold(d)
		return s.People[slices.IndexFunc(s.People, func(p run.Standing) bool { return p.Person == id })]
	}
	given(d, 0, run.Event{Kind: run.Start})
	given(d, 1, run.Event{Kind: run.OnRope, Person: "rhea", AtM: at(50)})
	if s := run.Fold(d); len(s.Conflicts) != 1 || s.Conflicts[0].Words != "Rhea went on the rope and was not briefed" || *of("rhea").DueAt != dawn.Add(601*time.Second).Format(time.RFC3339Nano) {
		t.Errorf("without a briefing: %+v", s)
	}
	brief := &run.Briefing{Channel: "3", Lost: "three pulls", CheckIns: []run.CheckEvery{{Person: "ivo", EveryS: 300}}}
	given(d, 10, run.Event{Kind: run.Briefed, Person: "ivo"})
	given(d, 20, run.Event{Kind: run.Brief, Briefing: brief})
	if of("ivo").Briefed || of("rhea").DueAt != nil || run.Fold(d).Briefing.Channel != "3" {
		t.Errorf("what was signed before a briefing is signed after it: %+v", of("ivo"))
	}
	given(d, 30, run.Event{Kind: run.OnRope, Person: "ivo", AtM: at(40)})
	if s := run.Fold(d); len(s.Conflicts) != 2 || s.Conflicts[1].Words != "Ivo went on the rope and had not signed the briefing" || *of("ivo").DueAt != dawn.Add(330*time.Second).Format(time.RFC3339Nano) {
		t.Errorf("went on unsigned: %+v", s)
	}
	given(d, 40, run.Event{Kind: run.Briefed, Person: "ivo"})
	if p := of("ivo"); !p.Briefed || p.BriefedBy != "Dov" {
		t.Errorf("%+v", p)
	}
	for pointer, e := range map[string]run.Event{
		"/events/6/briefing":                     {Kind: run.Brief},
		"/events/6/briefing/check_ins/0/person":  {Kind: run.Brief, Briefing: &run.Briefing{Channel: "3", Lost: "x", CheckIns: []run.CheckEvery{{Person: "nobody", EveryS: 60}}}},
		"/events/6/briefing/channel":             {Kind: run.Brief, Briefing: &run.Briefing{Lost: "x"}},
		"/events/6/briefing/check_ins/0/every_s": {Kind: run.Brief, Briefing: &run.Briefing{Channel: "3", Lost: "x", CheckIns: []run.CheckEvery{{Person: "ivo", EveryS: 59}}}},
	} {
		o := *d
		o.Events = slices.Clone(d.Events)
		given(&o, 50, e)
		text, _ := json.Marshal(&o)
		_, err := run.Read(text)
		var refused *strict.Error
		if !errors.As(err, &refused) || refused.Faults[0].Pointer != pointer {
			t.Errorf("%s: %v", pointer, err)
		}
	}
	given(d, 50, run.Event{Kind: run.Mark, Briefing: brief})
	if d.Validate() == nil {
		t.Error("a mark has a briefing")
	}
}

// A callout's run has what was marked and nothing else: nobody comes off the rope, and nothing
// has ended, without somebody's mark.
func TestFromCallout(t *testing.T) {
	c := &callout.Document{BeganAt: dawn.Format(time.RFC3339)}
	mark := func(minutes int, what callout.What) {
		id := fmt.Sprintf("%08d-0000-4000-8000-000000000000", len(c.Marks)+100)
		c.Marks = append(c.Marks, callout.Mark{ID: id, At: dawn.Add(time.Duration(minutes) * time.Minute).Format(time.RFC3339), What: what, By: "Ivo"})
	}
	folded := func() *run.State {
		ids := map[string]string{}
		id := func(of string) string {
			ids[of] = fmt.Sprintf("%08d-0000-4000-8000-00000000000a", len(ids)+1)
			return ids[of]
		}
		d := &run.Document{Entered: &run.Entered{By: "Dov"}, People: []run.Person{{ID: "rhea", Name: "Rhea", AtM: 40}}, Events: run.FromCallout(c, "rhea", 40, "Dov", id)}
		if err := d.Validate(); err != nil {
			t.Fatal(err)
		}
		return run.Fold(d)
	}
	if s := folded(); s.Phase != run.Running || s.People[0].Doing != run.Off || len(s.Conflicts) > 0 {
		t.Errorf("unmarked: %+v", s)
	}
	mark(10, callout.OverEdge)
	mark(40, callout.Ended)
	if s := folded(); s.Phase != run.Ended || s.People[0].Doing != run.On || len(s.Conflicts) != 1 || s.Counters[0].DownM != 0 {
		t.Errorf("nobody marked an arrival: %+v", s)
	}
	mark(20, callout.Down)
	if s := folded(); len(s.Conflicts) > 0 || s.Counters[0].DownM != 40 || s.Counters[0].UpM != 0 || math.Abs(s.Counters[0].HoursH-10.0/60) > 1e-6 {
		t.Errorf("down: %+v", s)
	}
	mark(35, callout.Up)
	if s := folded(); len(s.Conflicts) > 0 || s.Counters[0].UpM != 40 || math.Abs(s.Counters[0].HoursH-25.0/60) > 1e-6 || s.Marks[0].By != "Ivo" {
		t.Errorf("up again: %+v", s)
	}
}

func TestRefused(t *testing.T) {
	for pointer, change := range map[string]func(d *run.Document){
		"/people/1/id":     func(d *run.Document) { d.People[1].ID = "ivo" },
		"/events/1/person": func(d *run.Document) { d.Events[1].Person = "nobody" },
		"/events/4/at_m":   func(d *run.Document) { d.Events[4].AtM = nil },
		"/events/5/move":   func(d *run.Document) { d.Events[5].Move = "" },
		"/events/6/move":   func(d *run.Document) { d.Events[6].Move = "raise" },
		"/events/7/step":   func(d *run.Document) { d.Events[7].Step = 4 },
		"/events/0/reason": func(d *run.Document) {
			d.Events[0] = run.Event{ID: d.Events[0].ID, GivenAt: d.Events[0].GivenAt, By: "Dov", Kind: run.Stop}
		},
		"/events/0/items": func(d *run.Document) {
			d.Events[0] = run.Event{ID: d.Events[0].ID, GivenAt: d.Events[0].GivenAt, By: "Dov", Kind: run.Quarantine, Reason: "x"}
		},
		"/moves/0/steps":      func(d *run.Document) { d.Moves[0].Steps = nil },
		"/events/0/id":        func(d *run.Document) { d.Events[0].ID = "1" },
		"/events/0/given_at":  func(d *run.Document) { d.Events[0].GivenAt = "yesterday" },
		"/events/0/kind":      func(d *run.Document) { d.Events[0].Kind = "fly" },
		"/format":             func(d *run.Document) { d.Format = "drop" },
		"/people/0/devices/0": func(d *run.Document) { d.People[0].Devices[0] = "not an id" },
	} {
		d := morning()
		change(d)
		text, err := json.Marshal(d)
		if err != nil {
			t.Fatal(err)
		}
		_, err = run.Read(text)
		var refused *strict.Error
		if !errors.As(err, &refused) || refused.Faults[0].Pointer != pointer {
			t.Errorf("%s: %v", pointer, err)
		}
	}
}

func FuzzRead(f *testing.F) {
	text, err := os.ReadFile("../../../docs/formats/run.example.json")
	if err != nil {
		f.Fatal(err)
	}
	f.Add(text)
	f.Fuzz(func(t *testing.T, text []byte) {
		d, err := run.Read(text)
		if err != nil {
			return
		}
		s := run.Fold(d)
		if s.Events+len(s.Addenda)+len(s.Conflicts) == 0 && len(d.Events) > 0 {
			t.Errorf("nothing is said of %d events", len(d.Events))
		}
		slices.Reverse(d.Events)
		if !reflect.DeepEqual(s, run.Fold(d)) {
			t.Error("backwards it differs")
		}
	})
}

// TestLearn holds that another time is proposed only where there are enough and the interval
// of the median leaves out the present one; the interval has its 90 %.
func TestLearn(t *testing.T) {
	samples := func(n int, seconds func(i int) float64) []run.Sample {
		var list []run.Sample
		for i := range n {
			list = append(list, run.Sample{Do: "park", RealS: seconds(i), Practice: true})
		}
		return list
	}
	spread := func(i int) float64 { return 10 + float64(i) }
	for name, c := range map[string]struct {
		n    int
		now  float64
		want bool
	}{
		"too few": {7, 3, false}, "enough, far off": {8, 3, true}, "within": {8, 13, false}, "at the low end": {8, 11, false}, "just below it": {8, 10.9, true}, "at the high end": {8, 16, false}, "just above": {8, 16.1, true},
	} {
		got := run.Learn(samples(c.n, spread), map[string]float64{"park": c.now})[0]
		if (got.ProposedS != nil) != c.want || got.Why == "" || got.Count != c.n {
			t.Errorf("%s: %+v", name, got)
		}
		if got.ProposedS != nil && *got.ProposedS != 13.5 {
			t.Errorf("%s: %g is not the median", name, *got.ProposedS)
		}
	}
	if got := run.Learn(samples(4, spread), nil)[0]; got.LowS != nil {
		t.Errorf("four say nothing with 90 %%: %+v", got)
	}
	// Of many draws from one source at least 90 % of the intervals hold its median.
	r := rand.New(rand.NewPCG(3, 4))
	for _, n := range []int{5, 8, 13, 40} {
		held := 0
		const draws = 4000
		for range draws {
			l := run.Learn(samples(n, func(int) float64 { return r.ExpFloat64() }), nil)[0]
			if *l.LowS <= 0.693147 && 0.693147 <= *l.HighS {
				held++
			}
		}
		if held < draws*89/100 {
			t.Errorf("of %d: %d of %d intervals hold the median", n, held, draws)
		}
	}
}

// Samples are of steps with one time of their own: none of the way along the rope, of an
// exercise, of what was typed afterwards, or of anybody but the team.
func TestSamples(t *testing.T) {
	d := morning()
	if s := d.Samples(); len(s) != 2 || s[0] != (run.Sample{Do: "unpark", RealS: 6}) || s[1] != (run.Sample{Do: "park", RealS: 5}) {
		t.Errorf("%+v", s)
	}
	for what, change := range map[string]func(*run.Document){
		"an exercise": func(d *run.Document) { d.Exercise = true }, "typed afterwards": func(d *run.Document) { d.Entered = &run.Entered{} },
		"a person's": func(d *run.Document) { d.Moves[0].Of = "person" },
	} {
		d := morning()
		if change(d); d.Samples() != nil {
			t.Errorf("%s is learnt from", what)
		}
	}
	// Of a rescue an exercise is timed practice; the way down as two has no one time.
	for exercise, want := range map[bool]run.Sample{true: {Do: "unpark", RealS: 6, Practice: true}, false: {Do: "unpark", RealS: 6}} {
		d := morning()
		if d.RescueSamples() != nil {
			t.Error("a team's move is learnt from as a rescue")
		}
		d.Moves[0].Of, d.Exercise = "rescue", exercise
		for i := range d.Moves[0].Steps {
			if s := &d.Moves[0].Steps[i]; s.Do == "lower" {
				s.Do = "descend"
			}
		}
		if s := d.RescueSamples(); len(s) != 2 || s[0] != want || s[1].Practice != exercise {
			t.Errorf("exercise %v: %+v", exercise, s)
		}
		// Behind the landing stands what is passed with both.
		d.Moves[0].Steps[0].Do = "land"
		if s := d.RescueSamples(); len(s) != 1 || s[0].Do != "land" {
			t.Errorf("behind the landing: %+v", s)
		}
		if d.Entered = new(run.Entered); d.RescueSamples() != nil {
			t.Error("what was typed afterwards is learnt from")
		}
	}
}

// TestLearnRescue holds that a rescue's time becomes shorter only by practice that was timed,
// and then to what nine of ten practices took.
func TestLearnRescue(t *testing.T) {
	of := func(n int, practice bool, seconds float64) []run.Sample {
		var list []run.Sample
		for i := range n {
			list = append(list, run.Sample{Do: "lift", RealS: seconds + float64(i), Practice: practice})
		}
		return list
	}
	for name, c := range map[string]struct {
		samples []run.Sample
		now     float64
		want    float64
	}{
		"runs alone never shorten": {of(20, false, 10), 60, 0},
		"seven practices":          {of(7, true, 10), 60, 0},
		"ten practices":            {of(10, true, 10), 60, 18},
		"nine of ten take as long": {of(10, true, 10), 18, 0},
		"runs lengthen":            {of(10, false, 100), 60, 108},
	} {
		got := run.LearnRescue(c.samples, map[string]float64{"lift": c.now})[0]
		switch {
		case c.want == 0 && got.ProposedS != nil, c.want != 0 && (got.ProposedS == nil || *got.ProposedS != c.want), got.Why == "":
			t.Errorf("%s: %+v", name, got)
		}
	}
}

// What came after the run was closed is an addendum whenever it was given, and seals nothing.
func TestLate(t *testing.T) {
	d := plan()
	given(d, 0, run.Event{Kind: run.Start})
	given(d, 60, run.Event{Kind: run.OnRope, Person: "ivo"})
	before := run.Fold(d)
	e := given(d, 30, run.Event{Kind: run.Stop, Reason: "wind"})
	if st := run.Fold(d); st.Seal == before.Seal || st.Stopped == nil {
		t.Error("an event in time changes nothing")
	}
	e.Late = true
	if st := run.Fold(d); st.Seal != before.Seal || st.Stopped != nil || len(st.Addenda) != 1 || st.Events != before.Events {
		t.Errorf("%+v", st)
	}
}
