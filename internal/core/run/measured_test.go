package run_test

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/run"
)

// What is measured counts where somebody hangs still, or a team's load is lowered, away from the
// taps on either side; of falls, exercises and strands that bear nobody nothing does.
func TestMeasure(t *testing.T) {
	from := time.Date(2026, 11, 24, 8, 0, 0, 0, time.UTC)
	at := func(s float64) time.Time { return from.Add(time.Duration(s * float64(time.Second))) }
	n := 0
	event := func(s float64, e run.Event) run.Event {
		n++
		e.ID, e.GivenAt, e.By = fmt.Sprintf("0b9f6a3e-7a52-4f0e-9c3b-%012d", n), at(s).Format(time.RFC3339Nano), "Dov"
		return e
	}
	d := &run.Document{
		People: []run.Person{{ID: "ivo", Name: "Ivo"}},
		Moves:  []run.Move{{ID: "lower", Of: "team", Steps: []run.Step{{Do: "call"}, {Do: "lower"}, {Do: "tie-off"}}}},
		Bands:  []run.Band{{Channel: "main.force", Person: "ivo", LowKN: 0.7, HighKN: 0.9}, {Channel: "team.force", Person: "team-load", LowKN: 0.9, HighKN: 1.1}, {Channel: "old.force", LowKN: 1, HighKN: 1}},
		Events: []run.Event{
			event(0, run.Event{Kind: run.Start}), event(10, run.Event{Kind: run.OnRope, Person: "ivo"}), event(100, run.Event{Kind: run.AtPlace, Person: "ivo"}),
			event(200, run.Event{Kind: run.Working, Person: "ivo"}), event(300, run.Event{Kind: run.Begin, Move: "lower"}), event(310, run.Event{Kind: run.StepTo, Move: "lower", Step: 1}),
			event(350, run.Event{Kind: run.StepTo, Move: "lower", Step: 2}), event(400, run.Event{Kind: run.StepTo, Move: "lower", Step: 3}), event(500, run.Event{Kind: run.End}),
		},
	}
	// course is a channel at 1 Hz with one value inside a stretch, and another elsewhere.
	course := func(since, until, inside, outside float64) (list []run.Point) {
		for s := range 500 {
			v := outside
			if float64(s) >= since && float64(s) <= until {
				v = inside
			}
			list = append(list, run.Point{Ms: at(float64(s)).UnixMilli(), V: int64(v * 1e4)})
		}
		return list
	}
	still, lowered := course(102, 198, 0.88, 3), course(312, 348, 0.95, 5)
	readings := map[string][]run.Point{"main.force": still, "team.force": lowered, "old.force": course(0, 500, 1, 1)}
	want := []run.Measured{{Channel: "main.force", Loading: finding.AtRest, Ratio: 1.1, Count: 97}, {Channel: "team.force", Loading: finding.WhileLowering, Ratio: 0.95, Count: 37}}
	if got := d.Measure(readings); !slices.Equal(got, want) {
		t.Errorf("%+v", got)
	}
	type change = func(*run.Document, map[string][]run.Point)
	for name, c := range map[string]struct {
		change change
		left   int
	}{
		"an exercise":         {func(d *run.Document, _ map[string][]run.Point) { d.Exercise = true }, 0},
		"typed afterwards":    {func(d *run.Document, _ map[string][]run.Point) { d.Entered = new(run.Entered) }, 0},
		"standing on a ledge": {func(_ *run.Document, r map[string][]run.Point) { r["main.force"] = course(102, 198, 0.239, 3) }, 1},
		"hanging, hardly":     {func(_ *run.Document, r map[string][]run.Point) { r["main.force"] = course(102, 198, 0.241, 3) }, 2},
		"too few":             {func(_ *run.Document, r map[string][]run.Point) { r["team.force"] = r["team.force"][:331] }, 1},
		"enough":              {func(_ *run.Document, r map[string][]run.Point) { r["team.force"] = r["team.force"][:332] }, 2},
		"a move begins": {func(d *run.Document, _ map[string][]run.Point) {
			d.Events = append(d.Events, event(120, run.Event{Kind: run.Begin, Move: "lower"}))
		}, 1},
		"nobody said they are there": {func(d *run.Document, _ map[string][]run.Point) { d.Events = slices.Delete(d.Events, 2, 3) }, 1},
	} {
		changed := *d
		changed.Events = slices.Clone(d.Events)
		r := map[string][]run.Point{"main.force": still, "team.force": lowered}
		c.change(&changed, r)
		if got := changed.Measure(r); len(got) != c.left {
			t.Errorf("%s: %+v", name, got)
		}
	}
}

// Over runs, nine of ten of what was measured lie between what is said.
func TestAccuracies(t *testing.T) {
	var runs [][]run.Measured
	for i := range 20 {
		runs = append(runs, []run.Measured{{Loading: finding.AtRest, Ratio: 0.9 + float64(i)/100}})
	}
	runs = append(runs, nil, []run.Measured{{Loading: finding.WhileLowering, Ratio: 0.8}, {Loading: finding.WhileLowering, Ratio: 1.2}})
	got := run.Accuracies(runs)
	if len(got) != 2 || got[0].Runs != 20 || got[0].Words != "measured on 20 runs: 10 % below to 8 % above what was predicted" || got[1].Runs != 1 || got[1].Words != "measured on one run: 0 % above what was predicted" {
		t.Errorf("%+v", got)
	}
	if none := run.Accuracies([][]run.Measured{nil}); none == nil || len(none) != 0 {
		t.Errorf("%+v", none)
	}
}
