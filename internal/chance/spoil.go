package chance

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"runtime/debug"
	"slices"
	"strings"
)

// Spoil changes a JSON document in one to three places, and says how.
func Spoil(src *rand.Rand, doc map[string]any) (did []string) {
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

// End asks, and says whether it is answered, and what is wrong with how it ends: "" for an
// answer and for what is refused. A crash is wrong, and so is any other error.
func End(ask func() error, refused func(error) bool) (answered bool, wrong string) {
	defer func() {
		if p := recover(); p != nil {
			wrong = fmt.Sprintf("%v\n%s", p, debug.Stack())
		}
	}()
	err := ask()
	if err != nil && !refused(err) {
		return false, err.Error()
	}
	return err == nil, ""
}
