package demo

import (
	"fmt"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/run"
)

// Run is a morning on Face 7 as its events tell it: two people on the rope, a lower by the
// team that is tapped step by step, one thing that was not as planned.
func Run() *run.Document {
	m := func(v quantity.Metres) *quantity.Metres { return &v }
	d := &run.Document{
		Format: run.Format, Version: run.Version, Drop: "face-7",
		People: []run.Person{
			{ID: "ivo", Name: "Ivo Kestrane", AtM: 44, Devices: []string{"descender-17", "backup-11"}},
			{ID: "rhea", Name: "Rhea Tolland", AtM: 58, CheckInS: 900, Devices: []string{"descender-21"}},
		},
		Moves: []run.Move{{ID: "lower", Name: "lower", Of: "team", Steps: []run.Step{
			{Do: "unpark", Say: "Park off.", Seconds: 4},
			{Do: "lower", Say: "Down to 20 m.", Call: "Down", Answer: "Down", Seconds: 120},
			{Do: "park", Say: "Park.", Seconds: 3},
		}}},
	}
	add := func(at string, e run.Event) {
		e.ID = fmt.Sprintf("%08d-0000-4000-8000-000000000000", len(d.Events)+1)
		e.GivenAt = string(Day) + "T" + at + "Z"
		if e.By == "" {
			e.By = "Dov Pellister"
		}
		d.Events = append(d.Events, e)
	}
	add("07:40:00", run.Event{Kind: run.Briefed, Person: "ivo"})
	add("07:40:20", run.Event{Kind: run.Briefed, Person: "rhea"})
	add("08:00:00", run.Event{Kind: run.Start})
	add("08:04:00", run.Event{Kind: run.OnRope, Person: "ivo", AtM: m(70), Device: "phone-1", By: "Ivo Kestrane"})
	add("08:21:00", run.Event{Kind: run.AtPlace, Person: "ivo", AtM: m(44), Device: "phone-1", By: "Ivo Kestrane"})
	add("08:22:00", run.Event{Kind: run.OnRope, Person: "rhea", AtM: m(70), Device: "phone-2", By: "Rhea Tolland"})
	add("08:31:00", run.Event{Kind: run.Working, Person: "rhea", AtM: m(58), Device: "phone-2", By: "Rhea Tolland"})
	add("08:40:00", run.Event{Kind: run.Begin, Move: "lower", Device: "phone-3"})
	add("08:40:06", run.Event{Kind: run.StepTo, Move: "lower", Step: 1, Device: "phone-3"})
	add("08:42:41", run.Event{Kind: run.StepTo, Move: "lower", Step: 2, Device: "phone-3"})
	add("08:42:46", run.Event{Kind: run.StepTo, Move: "lower", Step: 3, Device: "phone-3"})
	add("08:42:50", run.Event{Kind: run.Done, Move: "lower", Device: "phone-3"})
	add("09:10:00", run.Event{Kind: run.Otherwise, Reason: "the lower sling is wet: the work begins above it", Person: "ivo", By: "Ivo Kestrane"})
	add("11:30:00", run.Event{Kind: run.OffRope, Person: "ivo", AtM: m(0), Device: "phone-1", By: "Ivo Kestrane"})
	add("11:41:00", run.Event{Kind: run.OffRope, Person: "rhea", AtM: m(0), Device: "phone-2", By: "Rhea Tolland"})
	add("11:50:00", run.Event{Kind: run.End})
	return d
}
