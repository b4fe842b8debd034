package record

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"

	"zealousknot/internal/core/strict"
)

// maxWords is how many characters of a value are written.
const maxWords = 60

// Words says of each thing what was changed about it, field by field.
func (c *Changed) Words() []string {
	list := make([]string, len(c.Rows))
	for i := range c.Rows {
		list[i] = c.Rows[i].words()
	}
	if more := c.Count - len(c.Rows); more > 0 {
		list = append(list, fmt.Sprintf("and %d more", more))
	}
	return list
}

func (r *ChangedRow) words() string {
	before, after := fields(r.Before), fields(r.After)
	switch title := r.title(after, before); {
	case r.Before == nil:
		return title + ": new"
	case r.After == nil:
		return title + ": taken out"
	default:
		return title + ": " + strings.Join(differences(before, after), "; ")
	}
}

func fields(text []byte) map[string]json.RawMessage {
	m := map[string]json.RawMessage{}
	_ = json.Unmarshal(text, &m) // what is no object has no fields
	return m
}

// title is what people call a thing: its label, its name, or its id.
func (r *ChangedRow) title(values ...map[string]json.RawMessage) string {
	for _, name := range []string{"label", "name"} {
		for _, v := range values {
			var s string
			if json.Unmarshal(v[name], &s) == nil && s != "" {
				return s
			}
		}
	}
	if r.ID == r.Kind {
		return r.Kind
	}
	return r.Kind + " " + r.ID
}

// differences are the fields of which the values differ, by name.
func differences(before, after map[string]json.RawMessage) (list []string) {
	all := maps.Clone(before)
	maps.Copy(all, after)
	for _, name := range slices.Sorted(maps.Keys(all)) {
		was, is := before[name], after[name]
		if bytes.Equal(was, is) {
			continue
		}
		stem := strict.Stem(name)
		unit := strings.ReplaceAll(strings.TrimPrefix(strings.TrimPrefix(name, stem), "_"), "_", "/")
		words := fmt.Sprintf("%s %s → %s", strings.ReplaceAll(stem, "_", " "), valueWords(was), valueWords(is))
		if unit != "" {
			words += " " + unit
		}
		list = append(list, words)
	}
	return list
}

func valueWords(v json.RawMessage) string {
	var s string
	switch {
	case v == nil:
		return "–"
	case json.Unmarshal(v, &s) != nil:
		s = string(v)
	}
	if r := []rune(s); len(r) > maxWords {
		return string(r[:maxWords]) + "…"
	}
	return s
}
