package picture_test

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"maps"
	"math/rand/v2"
	"runtime/debug"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
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
	{"loading", `{"person":"ivo","hold":"ivo-main"}`}, {"knots", `{"strand":"main"}`}, {"forces-picture", `{"raising":true}`}, {"forces-picture", `{}`},
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
			if answered, wrong := end(q[0], request(drops[id])); answered {
				sound = append(sound, id)
			} else if wrong != "" {
				t.Fatal(wrong)
			}
		}
		src, answers := chance.Rand(901, uint64(n)), 0
		for range *spoilt {
			id := sound[src.IntN(len(sound))]
			doc := tree(t, drops[id]).(map[string]any)
			did := spoil(src, doc)
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

// end asks, and says whether it is answered, and what is wrong with how it ends: "" for an
// answer and for a refusal.
func end(id, request string) (answered bool, wrong string) {
	defer func() {
		if p := recover(); p != nil {
			wrong = fmt.Sprintf("%v\n%s", p, debug.Stack())
		}
	}()
	var refused *strict.Error
	_, err := picture.Find(id).Ask(context.Background(), ask.NewEnv(), nil, []byte(request))
	if err != nil && !errors.As(err, &refused) {
		return false, err.Error()
	}
	return err == nil, ""
}

func tree(t *testing.T, v any) (out any) {
	if err := json.Unmarshal([]byte(text(t, v)), &out); err != nil {
		t.Fatal(err)
	}
	return out
}

// spoil changes a document in one to three places, and says how.
func spoil(src *rand.Rand, doc map[string]any) (did []string) {
	for range 1 + src.IntN(3) {
		// Each part of a drop alike: most of its lines are models.
		byKey, edits, part := map[string][]any{}, map[string][]func() string{}, ""
		var walk func(v any, key, at string, put func(any))
		walk = func(v any, key, at string, put func(any)) {
			if _, top, found := strings.Cut(at, "/"); found {
				part, _, _ = strings.Cut(top, "/")
			}
			add := func(change func() string) { edits[part] = append(edits[part], change) }
			edit := func(words string, to func() any) { add(func() string { put(to()); return at + " " + words }) }
			byKey[key] = append(byKey[key], v)
			edit("like another", func() any { return byKey[key][src.IntN(len(byKey[key]))] })
			switch v := v.(type) {
			case map[string]any:
				for _, k := range slices.Sorted(maps.Keys(v)) {
					add(func() string { delete(v, k); return at + "/" + k + " left out" })
					walk(v[k], k, at+"/"+k, func(to any) { v[k] = to })
				}
			case []any:
				edit("emptied", func() any { return []any{} })
				edit("the other way round", func() any { c := slices.Clone(v); slices.Reverse(c); return c })
				for i := range v {
					edit(fmt.Sprintf("without %d", i), func() any { return slices.Delete(slices.Clone(v), i, i+1) })
					walk(v[i], key+"[]", fmt.Sprintf("%s/%d", at, i), func(to any) { v[i] = to })
				}
			case float64:
				edit("none", func() any { return 0.0 })
				edit("half", func() any { return v / 2 })
				edit("double", func() any { return v * 2 })
				edit("tiny", func() any { return 0.001 })
			case bool:
				edit("not", func() any { return !v })
			}
		}
		walk(doc, "", "", func(any) {})
		parts := slices.Sorted(maps.Keys(edits))
		of := edits[parts[src.IntN(len(parts))]]
		did = append(did, of[src.IntN(len(of))]())
	}
	return did
}
