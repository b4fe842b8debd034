package strict

import (
	"errors"
	"slices"
	"strings"
	"testing"
)

type lengths struct {
	Each *float64           `json:"each,omitempty" exclusiveMinimum:"0"`
	By   map[string]float64 `json:"by,omitempty" exclusiveMinimum:"0"`
}

func (lengths) Union() {}

type part struct {
	_     struct{} `nullable:"true"`
	Force float64  `json:"force_kN" exclusiveMinimum:"0"`
}

type named struct {
	ID string   `json:"id" minLength:"1"`
	X  float64  `json:"x"`
	E  *float64 `json:"e_pct,omitempty" exclusiveMinimum:"0" nullable:"true"`
}

type figures struct {
	Mass    float64            `json:"mass_kg" exclusiveMinimum:"0"`
	Slack   float64            `json:"slack_m,omitempty" minimum:"0" default:"0.25"`
	Ratio   float64            `json:"ratio" default:"0.1" maximum:"0.5"`
	Count   int                `json:"count,omitempty" default:"7"`
	Part    *part              `json:"part,omitempty"`
	Free    *float64           `json:"free_m,omitempty" minimum:"0" nullable:"true"`
	Travel  lengths            `json:"travel_m,omitempty"`
	Legs    []named            `json:"legs,omitempty"`
	Pulleys map[string]part    `json:"pulleys,omitempty"`
	Turns   []float64          `json:"turns,omitempty" maximum:"180"`
	Loose   map[string]float64 `json:"loose,omitempty"`
}

type options struct {
	Working bool `json:"working,omitempty"`
	Samples int  `json:"samples,omitempty" minimum:"10" default:"100"`
}

// What is left out has its default, in every one of several structs read as one;
// null stands for what is left out where a field says so, and nowhere else; a
// union takes the kind that is there.
func TestReadSeveral(t *testing.T) {
	var f figures
	var o options
	if err := Read([]byte(`{"working":true,"mass_kg":80,"part":null,"free_m":null,"travel_m":2}`), &f, &o); err != nil {
		t.Fatal(err)
	}
	if f.Slack != 0.25 || f.Ratio != 0.1 || f.Count != 7 || o.Samples != 100 || !o.Working || f.Part != nil || f.Free != nil || *f.Travel.Each != 2 {
		t.Errorf("%+v %+v", f, o)
	}
	f = figures{}
	if err := Read([]byte(`{"mass_kg":80,"slack_m":0,"ratio":0,"travel_m":{"G":1.5,"H":3},"legs":[{"id":"a","x":1,"e_pct":null}]}`), &f, &o); err != nil {
		t.Fatal(err)
	}
	if f.Slack != 0 || f.Ratio != 0 || f.Travel.Each != nil || f.Travel.By["H"] != 3 || f.Legs[0].E != nil {
		t.Errorf("%+v", f)
	}
	for text, want := range map[string][2]string{
		`{"slack_m":1}`:                            {"/mass_kg", "missing"},
		`{"mass_kg":null}`:                         {"/mass_kg", "must be a plain number"},
		`{"mass_kg":1,"slack_m":null}`:             {"/slack_m", "must be a plain number"},
		`{"mass_kg":1,"samples":9}`:                {"/samples", "10 or more"},
		`{"mass_kg":1,"sample":9}`:                 {"/sample", "unknown field"},
		`{"mass_kg":1,"working":true,"working":1}`: {"/working", "twice"},
		`{"mass_kg":1,"travel_m":0}`:               {"/travel_m", "more than 0"},
		`{"mass_kg":1,"travel_m":{"G":0}}`:         {"/travel_m/G", "more than 0"},
		`{"mass_kg":1,"travel_m":[1]}`:             {"/travel_m", "must be an object"},
		`{"mass_kg":1,"turns":[1,181]}`:            {"/turns/1", "180 or less"},
		`{"mass_kg":1,"ratio":0.6}`:                {"/ratio", "0.5 or less"},
		`[1]`:                                      {"", "must be an object"},
		`{"mass_kg":1} {}`:                         {"", "after the end"},
	} {
		var refused *Error
		if err := Read([]byte(text), new(figures), new(options)); !errors.As(err, &refused) ||
			!slices.ContainsFunc(refused.Faults, func(f Fault) bool { return f.Pointer == want[0] && strings.Contains(f.Detail, want[1]) }) {
			t.Errorf("%s: got %v, want %v", text, err, want)
		}
	}
}

// A figure is found by its name however deep it is, set there and nowhere else,
// and keeps the limits of its field.
func TestLocate(t *testing.T) {
	const text = `{"mass_kg":80,"part":{"force_kN":4},"travel_m":{"G":1.5},"legs":[{"id":"a","x":1},{"id":"b","x":2,"e_pct":3}],"pulleys":{"A":{"force_kN":1},"B":{"force_kN":2}},"turns":[90,45]}`
	for name, c := range map[string]struct {
		value   float64
		get     func(*figures) float64
		refused float64
	}{
		"mass_kg":            {80, func(f *figures) float64 { return f.Mass }, 0},
		"slack_m":            {0.25, func(f *figures) float64 { return f.Slack }, -1},
		"part.force_kN":      {4, func(f *figures) float64 { return f.Part.Force }, 0},
		"travel_m.G":         {1.5, func(f *figures) float64 { return f.Travel.By["G"] }, 0},
		"legs.b.x":           {2, func(f *figures) float64 { return f.Legs[1].X }, 0},
		"legs.0.x":           {1, func(f *figures) float64 { return f.Legs[0].X }, 0},
		"legs.b.e_pct":       {3, func(f *figures) float64 { return *f.Legs[1].E }, 0},
		"pulleys.B.force_kN": {2, func(f *figures) float64 { return f.Pulleys["B"].Force }, -2},
		"turns.1":            {45, func(f *figures) float64 { return f.Turns[1] }, 181},
	} {
		var f figures
		if err := Read([]byte(text), &f); err != nil {
			t.Fatal(err)
		}
		place, err := Locate(&f, name)
		if err != nil || place.Value != c.value || place.Whole() {
			t.Errorf("%s: %+v, %v", name, place, err)
			continue
		}
		before := f.Mass + f.Pulleys["A"].Force + f.Turns[0]
		if place.Set(11); c.get(&f) != 11 {
			t.Errorf("%s: is %v after it was set", name, c.get(&f))
		}
		if name != "mass_kg" && before != f.Mass+f.Pulleys["A"].Force+f.Turns[0] {
			t.Errorf("%s: setting it changed something else", name)
		}
		if limited := name != "legs.b.x" && name != "legs.0.x"; limited != (place.Wrong(c.refused) != "") || place.Wrong(c.value) != "" {
			t.Errorf("%s: limits %q, %q", name, place.Wrong(c.refused), place.Wrong(c.value))
		}
	}
	var f figures
	if err := Read([]byte(text), &f); err != nil {
		t.Fatal(err)
	}
	if place, err := Locate(&f, "count"); err != nil || !place.Whole() {
		t.Errorf("%+v, %v", place, err)
	}
	for _, name := range []string{"", "mass", "free_m", "legs", "legs.c.x", "legs.2.x", "legs.a", "legs.a.id", "legs.a.e_pct", "pulleys.C.force_kN", "part", "turns.9", "mass_kg.x", "travel_m.H"} {
		if place, err := Locate(&f, name); err == nil {
			t.Errorf("%q: found %+v", name, place)
		}
	}
}
