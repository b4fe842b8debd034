package publish_test

import (
	"bytes"
	"encoding/json"
	"maps"
	"slices"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/demo"
	"zealousknot/internal/publish"
)

// produced are documents of each published schema, as the program makes them.
func produced(t *testing.T) map[string][]any {
	t.Helper()
	ctx, drops, gear := t.Context(), demo.Drops(), demo.Gear()
	made := map[string][]any{"run": {demo.Run()}}
	add := func(of string, v any, err error) {
		t.Helper()
		if err != nil {
			t.Fatal(of, err)
		}
		made[of] = append(made[of], v)
	}
	for _, id := range slices.Sorted(maps.Keys(drops)) {
		add("drop", drops[id], nil)
	}
	for id, list := range map[string][]string{"face-7": {"descend", "pass-knots-down", "ascend", "descend-to-ascend"}, "gate-shaft": {"descend", "leave-ground"}} {
		for _, move := range list {
			a, err := (&ask.MoveAsked{Drop: *drops[id], Move: move}).Answer(ctx, ask.NewEnv())
			if err != nil || a.Plan == nil {
				t.Fatal(id, move, a, err)
			}
			add("plan", a.Plan, nil)
		}
	}
	at, low, high := quantity.Metres(20), quantity.Metres(10), quantity.Metres(22)
	for move, to := range map[string]*quantity.Metres{"lower": &low, "raise": &high} {
		a, err := (&ask.TeamAsked{Drop: *drops["basin-wall"], Move: move, FromM: &at, ToM: to}).Answer(ctx, ask.NewEnv())
		if err != nil || a.Plan == nil {
			t.Fatal(move, a, err)
		}
		add("team-plan", a.Plan, nil)
	}
	pickOff, err := (&ask.RescueAsked{Drop: *drops["face-7"], AtM: &at}).Answer(ctx, ask.Env{Rescues: new(cover.Cache)})
	if err != nil || pickOff.Plan == nil {
		t.Fatal(pickOff, err)
	}
	add("rescue-plan", pickOff.Plan, nil)
	for level := 1; level <= 4; level++ {
		for _, kind := range []drill.Kind{drill.Faults, drill.Fails, drill.Move, drill.Apart} {
			e, err := (&drill.Asked{Kind: kind, Seed: 3, Level: level, Gear: gear, Answers: level%2 == 0}).Make(ctx)
			add("exercise", e, err)
			answer := drill.Answer{}
			switch kind {
			case drill.Fails, drill.Apart:
				answer.Option = "a"
			case drill.Move:
				// Its mark wants steps, which the questions of the API are tried with.
				continue
			}
			m, err := (&drill.Marked{Exercise: *e, Answer: answer}).Mark(ctx)
			add("mark", m, err)
		}
	}
	add("day", &day.Asked{Board: *demo.Board()}, nil)
	return made
}

// A validator that is not ours takes every document that the program makes of a published
// schema, and refuses each with a field that nobody knows and each without one that it must have.
func TestSchemasAgree(t *testing.T) {
	files, err := publish.Files("../..")
	if err != nil {
		t.Fatal(err)
	}
	made := produced(t)
	for _, name := range []string{"drop", "plan", "team-plan", "rescue-plan", "run", "day", "exercise", "mark"} {
		value, err := jsonschema.UnmarshalJSON(bytes.NewReader(files["docs/formats/"+name+".schema.json"]))
		if err != nil {
			t.Fatal(name, err)
		}
		compiler := jsonschema.NewCompiler()
		compiler.AssertFormat()
		if err := compiler.AddResource(name, value); err != nil {
			t.Fatal(name, err)
		}
		schema, err := compiler.Compile(name)
		if err != nil {
			t.Fatal(name, err)
		}
		if len(made[name]) == 0 {
			t.Errorf("nothing was made of %s", name)
		}
		for i, v := range made[name] {
			text, err := json.Marshal(v)
			if err != nil {
				t.Fatal(err)
			}
			whole, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
			if err == nil {
				err = schema.Validate(whole)
			}
			if err != nil {
				t.Errorf("%s %d: %.600v", name, i, err)
				continue
			}
			o := whole.(map[string]any)
			o["nobody-knows"] = true
			if schema.Validate(o) == nil {
				t.Errorf("%s %d: taken with a field that nobody knows", name, i)
			}
			delete(o, "nobody-knows")
			for _, field := range schema.Required {
				was := o[field]
				delete(o, field)
				if schema.Validate(o) == nil {
					t.Errorf("%s %d: taken without %s", name, i, field)
				}
				o[field] = was
			}
		}
	}
}
