package corpus

import (
	"bytes"
	"encoding/json"
	"maps"
	"math/rand/v2"
	"slices"
	"testing"

	"zealousknot/internal/core/drop"
)

// Spot is a value of a document as JSON that can be changed.
type Spot struct {
	Path string
	Set  func(any)
	Now  any
}

// Spots lists every value and list of a document as JSON, itself first.
func Spots(v any) []Spot { return spots("", v, nil, nil) }

func spots(path string, v any, set func(any), list []Spot) []Spot {
	list = append(list, Spot{path, set, v})
	switch v := v.(type) {
	case map[string]any:
		for _, k := range slices.Sorted(maps.Keys(v)) {
			list = spots(path+"/"+k, v[k], func(n any) { v[k] = n }, list)
		}
	case []any:
		for i := range v {
			list = spots(path, v[i], func(n any) { v[i] = n }, list)
		}
	}
	return list
}

// Edit changes one value of a document at random: a figure, an answer, a word that stands
// elsewhere in it, the order of a list, one thing out of it. Empty where that is refused.
func Edit(t testing.TB, r *rand.Rand, text []byte) (changed *drop.Document, what string) {
	t.Helper()
	var doc any
	if err := json.Unmarshal(text, &doc); err != nil {
		t.Fatal(err)
	}
	all := Spots(doc)
	s := all[1+r.IntN(len(all)-1)]
	switch v := s.Now.(type) {
	case float64:
		s.Set([]any{v * 0.5, v * 2, v + 1, 0.0, v - 0.3}[r.IntN(5)])
	case bool:
		s.Set(!v)
	case string:
		o := all[r.IntN(len(all))]
		if _, ok := o.Now.(string); !ok {
			return nil, ""
		}
		s.Set(o.Now)
	case []any:
		if len(v) == 0 {
			return nil, ""
		}
		c := slices.Clone(v)
		if i := r.IntN(len(c)); r.IntN(2) == 0 {
			c = slices.Delete(c, i, i+1)
		} else {
			r.Shuffle(len(c), func(i, j int) { c[i], c[j] = c[j], c[i] })
		}
		s.Set(c)
	default:
		return nil, ""
	}
	again, err := json.Marshal(doc)
	if err != nil || bytes.Equal(again, text) {
		return nil, ""
	}
	if changed, err = drop.Read(again); err != nil {
		return nil, ""
	}
	return changed, s.Path
}
