package picture_test

import (
	"context"
	"encoding/json"
	"flag"
	"maps"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/demo"
	"zealousknot/internal/picture"
)

var spoilt = flag.Int("spoilt", 10, "how often each question on a drop is asked of a spoilt one")

// onDrop are questions on a drop, with what is asked beside it.
var onDrop = [][2]string{
	{"check", ""},
	{"propose", `{}`},
	{"plan-move", `{"move":"descend","max_states":400}`}, {"plan-move", `{"move":"ascend","max_states":400}`}, {"plan-move", `{"move":"transfer","max_states":400}`}, {"plan-move", `{"move":"descend","as_rigged":true,"max_states":400}`},
	{"plan-team", `{}`}, {"plan-team", `{"move":"lower","to_m":10,"max_states":2000}`}, {"plan-team", `{"move":"raise","from_m":10,"to_m":30,"ratio":3,"max_states":2000}`}, {"plan-team", `{"move":"share","max_states":2000}`},
	{"rescue", `{"max_states":500}`}, {"rescue", `{"person":"ivo","at_m":20,"max_states":4000}`}, {"rescue", `{"person":"ivo","at_m":20,"way":1,"max_states":4000}`},
	{"choices", `{"place":{"person":"ivo","hold":"ivo-backup"}}`}, {"choices", `{"place":{"strand":"main"}}`},
	{"loading", `{"person":"ivo","hold":"ivo-main"}`}, {"knots", `{"strand":"main"}`}, {"knots", `{}`}, {"forces-picture", `{"raising":true}`}, {"forces-picture", `{}`},
	{"make-exercise", `{"kind":"faults","seed":3,"level":2}`}, {"make-exercise", `{"kind":"fails","seed":3,"level":2}`},
}

// together is Face 7 with a team at its brakes, of whom one hangs there.
func together() *drop.Document {
	d, g := demo.Drops()["face-7"], demo.Gear()
	d.Team = &rig.TeamRig{
		Load: rig.TeamLoad{Name: "the stretcher", MassKg: 190, Persons: 2, Stretcher: true}, Main: rig.TeamLine{Strand: "main", Brake: "brake-1"}, Belay: rig.TeamLine{Strand: "backup", Brake: "brake-2"},
		Operators: []string{"Ivo Kestrane", "one", "two"}, Haulers: 4, Kit: []string{"connector-85", "connector-86", "pulley-11", "pulley-12", "pulley-13", "grab-1", "hitch-1", "grab-2"},
	}
	for _, id := range append([]string{"brake-1", "brake-2"}, d.Team.Kit...) {
		item := &g.Items[slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == id })]
		d.Include(item, &g.Models[slices.IndexFunc(g.Models, func(m gear.Model) bool { return m.ID == item.Model })])
	}
	return d
}

// A drop that is spoilt anywhere is answered or refused: nothing crashes, and no other error
// comes out.
func TestSpoiltDrops(t *testing.T) {
	drops := demo.Drops()
	drops["together"] = together()
	for n, q := range onDrop {
		// The question with a drop: in its field, or by itself.
		request := func(d any) string {
			if q[1] == "" {
				return text(t, d)
			}
			all := map[string]any{}
			if err := json.Unmarshal([]byte(q[1]), &all); err != nil {
				t.Fatal(err)
			}
			all["drop"] = d
			return text(t, all)
		}
		var sound []string
		for _, id := range slices.Sorted(maps.Keys(drops)) {
			answered, wrong := end(q[0], request(drops[id]))
			if wrong != "" {
				t.Fatalf("%s %s of %s: %s", q[0], q[1], id, wrong)
			}
			if answered {
				sound = append(sound, id)
			}
		}
		src, answers := chance.Rand(901, uint64(n)), 0
		for range *spoilt {
			id := sound[src.IntN(len(sound))]
			doc := tree(t, drops[id]).(map[string]any)
			did := chance.Spoil(src, doc)
			answered, wrong := end(q[0], request(doc))
			if wrong != "" {
				t.Errorf("%s %s of %s, %s: %s", q[0], q[1], id, strings.Join(did, "; "), wrong)
			}
			if answered {
				answers++
			}
		}
		if len(sound) == 0 || answers == 0 {
			t.Errorf("%s %s: answered on %v, and %d times of %d when spoilt", q[0], q[1], sound, answers, *spoilt)
		}
	}
}

func text(t *testing.T, v any) string {
	text, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

// end is how a question ends.
func end(id, request string) (answered bool, wrong string) {
	env := ask.NewEnv()
	env.Store = func(context.Context) (*drop.Store, error) { return demo.Gear(), nil }
	env.People = func(context.Context) ([]rig.Member, error) { return demo.People(), nil }
	return chance.End(func() (any, error) {
		return picture.Find(id).Ask(context.Background(), env, nil, []byte(request))
	}, strict.Refused)
}

func tree(t *testing.T, v any) (out any) {
	if err := json.Unmarshal([]byte(text(t, v)), &out); err != nil {
		t.Fatal(err)
	}
	return out
}

// What is asked with more than a drop is answered or refused too, wherever it is spoilt.
func TestSpoiltRequests(t *testing.T) {
	face, store := demo.Drops()["face-7"], demo.Gear()
	made := func(kind drill.Kind) any {
		e, err := (&drill.Asked{Kind: kind, Seed: 1, Level: 1, Gear: store}).Make(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return e
	}
	list := func(d *drop.Document, move string) any {
		a := ask.MoveAsked{Drop: *d, Move: move}
		out, err := a.Answer(t.Context(), ask.Env{})
		if err != nil || out.Plan == nil {
			t.Fatal(err, out)
		}
		return map[string]any{"move": move, "to_m": out.Plan.ToM, "start": out.Plan.Start, "steps": out.Plan.Actions()[1:]}
	}
	team := ask.TeamAsked{Drop: *demo.Drops()["basin-wall"], Move: "lower-past-knot"}
	lowered, err := team.Answer(t.Context(), ask.Env{})
	if err != nil || lowered.Plan == nil {
		t.Fatal(err, lowered)
	}
	var steps []any
	for _, s := range lowered.Plan.Steps {
		steps = append(steps, s.Action)
	}
	shaft := demo.Drops()["gate-shaft"]
	stopped := record.Entry{ID: "6f1d1f0e-58f2-4b3c-9f3a-0b2f6c1d2e3f", Kind: record.Quarantine, GivenAt: "2026-11-24T08:00:00Z", Day: demo.Day, Item: "descender-1", Quarantine: &record.Quarantined{Event: "dropped"}}
	worn := record.Entry{ID: "6f1d1f0e-58f2-4b3c-9f3a-0b2f6c1d2e40", Kind: record.WornCheck, GivenAt: "2026-11-24T08:10:00Z", Day: demo.Day, Drop: "face-7", Person: "ivo", Worn: &record.Worn{Items: []rig.WornItem{{Item: "harness-1", Sound: true}}}}
	bags := slices.DeleteFunc(demo.Items(), func(i gear.Item) bool { return i.Kit == "" })
	for n, q := range []struct {
		id      string
		request any
	}{
		{"run-state", demo.Run()},
		{"merge", map[string]any{"base": face, "mine": face, "theirs": together()}},
		{"replay-moves", map[string]any{"drop": shaft, "list": list(shaft, "descend")}},
		{"plan-team", map[string]any{"drop": team.Drop, "move": team.Move, "steps": steps}},
		{"mark-exercise", map[string]any{"exercise": made("fails"), "answer": map[string]any{"option": "a"}}},
		{"mark-exercise", map[string]any{"exercise": made("faults"), "answer": map[string]any{"faults": []any{}}}},
		{"step-exercise", map[string]any{"exercise": made("move"), "steps": []any{}}},
		{"callout", map[string]any{"known": map[string]any{"height_m": map[string]any{"low_m": 20, "high_m": 40}, "load": "two", "knots": true}, "day": demo.Day, "models": store.Models, "items": bags}},
		{"capability", map[string]any{"kit": "van bag", "day": demo.Day, "models": store.Models, "items": bags}},
		{"team-picture", map[string]any{"drop": team.Drop, "state": lowered.Plan.Steps[2].After, "lost": lowered.Plan.Steps[2].FailOne[0]}},
		{"pair-picture", json.RawMessage(`{"drop":` + text(t, face) + `,"rescuer":"dov","casualty":"ivo","state":{"rescuer_m":20.4,"casualty_m":20,"rescuer":[],"casualty":[],"bears":"chain","chain":"locked","links":2}}`)},
		{"stance-picture", json.RawMessage(`{"drop":` + text(t, shaft) + `,"view":"back","state":{"at_m":20,"holds":[{"item":"descender-1","strand":"main","span":0,"at_m":20.2}]}}`)},
		{"model-trial", map[string]any{"model": store.Models[0], "rope": "rope-1", "mass_kg": 90}},
		{"near", json.RawMessage(`{"preplans":[{"id":"a","preplan":{"format":"pre-plan","version":1,"name":"A","lat":46,"lon":9}}],"lat":46.1,"lon":9.1,"day":"2026-11-24"}`)},
		{"waiting", map[string]any{"drop": face, "id": "face-7", "items": bags, "at": "2026-11-24T09:00:00Z", "today": demo.Day, "waiting": []record.Waiting{{Entry: stopped, By: "Dov"}, {Entry: worn, By: "Ivo"}}}},
	} {
		src, answers := chance.Rand(902, uint64(n)), 0
		if answered, wrong := end(q.id, text(t, q.request)); !answered || wrong != "" {
			t.Errorf("%s: answered %v as it is, %s", q.id, answered, wrong)
		}
		for range *spoilt * 4 {
			doc := tree(t, q.request).(map[string]any)
			did := chance.Spoil(src, doc)
			answered, wrong := end(q.id, text(t, doc))
			if wrong != "" {
				t.Errorf("%s, %s: %s", q.id, strings.Join(did, "; "), wrong)
			}
			if answered {
				answers++
			}
		}
		if answers == 0 {
			t.Errorf("%s: never answered when spoilt", q.id)
		}
	}
}
