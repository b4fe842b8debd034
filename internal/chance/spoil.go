package chance

import (
	"encoding/json"
	"fmt"
	"maps"
	"math/rand/v2"
	"reflect"
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
// answer and for what is refused. A crash is wrong, and so are any other error and a list of
// the answer that is written as null.
func End(ask func() (any, error), refused func(error) bool) (answered bool, wrong string) {
	defer func() {
		if p := recover(); p != nil {
			wrong = fmt.Sprintf("%v\n%s", p, debug.Stack())
		}
	}()
	answer, err := ask()
	switch {
	case err == nil:
		return true, null(reflect.ValueOf(answer), "")
	case !refused(err):
		return false, err.Error()
	}
	return false, ""
}

var marshals = reflect.TypeFor[json.Marshaler]()

// null names the first list or map that is written as null, "" for none: readers count on one.
func null(v reflect.Value, at string) string {
	if v.IsValid() && (v.Type().Implements(marshals) || reflect.PointerTo(v.Type()).Implements(marshals)) {
		return ""
	}
	switch v.Kind() {
	case reflect.Pointer, reflect.Interface:
		return null(v.Elem(), at)
	case reflect.Slice, reflect.Map:
		if v.IsNil() {
			return at + " is null"
		}
	}
	switch v.Kind() {
	case reflect.Slice, reflect.Array:
		for i := range v.Len() {
			if wrong := null(v.Index(i), fmt.Sprint(at, "/", i)); wrong != "" {
				return wrong
			}
		}
	case reflect.Map:
		for of := v.MapRange(); of.Next(); {
			if wrong := null(of.Value(), fmt.Sprint(at, "/", of.Key())); wrong != "" {
				return wrong
			}
		}
	case reflect.Struct:
		for i := range v.NumField() {
			f := v.Type().Field(i)
			name, omit, _ := strings.Cut(f.Tag.Get("json"), ",")
			if name == "-" || !f.IsExported() && !f.Anonymous || omit != "" && v.Field(i).IsZero() {
				continue
			}
			if wrong := null(v.Field(i), at+"/"+name); wrong != "" {
				return wrong
			}
		}
	}
	return ""
}
