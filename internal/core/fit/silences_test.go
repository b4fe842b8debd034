package fit_test

import (
	"encoding/json"
	"flag"
	"fmt"
	"maps"
	"os"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
)

var update = flag.Bool("update", false, "write the table of silences anew")

// emptied gives a model without one field that may be left out; nil where it then is not one.
func emptied(m gear.Model, path string) *gear.Model {
	text, _ := json.Marshal(m)
	var all map[string]any
	_ = json.Unmarshal(text, &all)
	if !remove(all, strings.Split(path, "/")) {
		return nil
	}
	text, _ = json.Marshal(all)
	store, err := drop.ReadStore([]byte(`{"models":[`+string(text)+`]}`), &drop.Store{})
	if err != nil {
		return nil
	}
	return &store.Models[0]
}

// remove takes a field away, in every entry of a list.
func remove(v any, path []string) (done bool) {
	switch v := v.(type) {
	case []any:
		for _, e := range v {
			done = remove(e, path) || done
		}
	case map[string]any:
		if len(path) > 1 {
			return remove(v[path[0]], path[1:])
		}
		_, done = v[path[0]]
		delete(v, path[0])
	}
	return done
}

// paths are the fields of a model that are filled in, with those below them.
func paths(v any, at string) (list []string) {
	switch v := v.(type) {
	case []any:
		for _, e := range v {
			list = append(list, paths(e, at)...)
		}
	case map[string]any:
		for name, e := range v {
			list = append(list, strings.TrimPrefix(at+"/"+name, "/"))
			list = append(list, paths(e, at+"/"+name)...)
		}
	}
	return list
}

// silenced reports whether a rule says nothing any more where it found something, once a
// field of a model is left empty.
func silenced(t *testing.T, rule string, c trial, model, path string) bool {
	r := clean()
	c.do(r)
	i := slices.IndexFunc(r.Models, func(m gear.Model) bool { return m.ID == model })
	if i < 0 {
		return false
	}
	m := emptied(r.Models[i], path)
	if m == nil {
		return false
	}
	r.Models[i] = *m
	report, err := check.Drop(t.Context(), r.Document, nil, check.FindingsOnly)
	if err != nil {
		return false
	}
	return !slices.ContainsFunc(report.Findings, func(f finding.Finding) bool { return f.Rule == rule })
}

// The table says of each field of a model which rules are silent without it: shown by a rule
// that fires in a trial and no longer does when the field is left empty. Everything that the
// trials show is in the table, and nothing else.
func TestSilences(t *testing.T) {
	if !*update {
		for path, rules := range gear.Silences {
			for _, rule := range rules {
				if !slices.ContainsFunc(trials[rule], func(c trial) bool { return c.want != quiet && witness(t, rule, c, path) }) {
					t.Errorf("%s without %s is not silent in any trial", rule, path)
				}
			}
		}
		return
	}
	found := map[string]map[string]bool{}
	for rule, list := range trials {
		for _, c := range list {
			if c.want == quiet {
				continue
			}
			r := clean()
			c.do(r)
			for _, m := range r.Models {
				text, _ := json.Marshal(m.Unrevised())
				var all any
				_ = json.Unmarshal(text, &all)
				for _, path := range slices.Compact(slices.Sorted(slices.Values(paths(all, "")))) {
					if found[path][rule] || !silenced(t, rule, c, m.ID, path) {
						continue
					}
					if found[path] == nil {
						found[path] = map[string]bool{}
					}
					found[path][rule] = true
				}
			}
		}
	}
	var b strings.Builder
	b.WriteString("package gear\n\n// Silences says of a field of a model which rules have nothing to say of it while it is left\n// empty. Made by: go test ./internal/core/fit -run TestSilences -update\nvar Silences = map[string][]string{\n")
	for _, path := range slices.Sorted(maps.Keys(found)) {
		fmt.Fprintf(&b, "\t%q: {", path)
		for i, rule := range slices.Sorted(maps.Keys(found[path])) {
			fmt.Fprintf(&b, "%s%q", map[bool]string{true: ", "}[i > 0], rule)
		}
		b.WriteString("},\n")
	}
	b.WriteString("}\n")
	if err := os.WriteFile("../gear/silences.go", []byte(b.String()), 0o600); err != nil {
		t.Fatal(err)
	}
}

// witness reports whether some model of a trial shows that a field silences a rule.
func witness(t *testing.T, rule string, c trial, path string) bool {
	for _, m := range clean().Models {
		if silenced(t, rule, c, m.ID, path) {
			return true
		}
	}
	return false
}
