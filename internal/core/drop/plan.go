package drop

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// unrelated are the fields whose change does not take a plan back: names and
// notes, where things are kept, where people happen to be, and what is recorded.
var unrelated = []string{
	"name", "site", "note", "format", "version", "checks", "partner_checks",
	"people.at_m", "people.grounded", "people.holds.position", "people.familiar",
	"items.label", "items.owner", "items.place", "items.examined_on", "items.serial", "models.source", "models.follows", "models.name", "models.maker",
	"policy.name",
}

// Changes tells in words what of a drop's kit, masses, ropes, geometry and policy
// is otherwise now than then; empty where nothing that matters is.
func Changes(then, now *Document) ([]string, error) {
	was, err := parts(then)
	if err != nil {
		return nil, err
	}
	is, err := parts(now)
	if err != nil {
		return nil, err
	}
	c := changes{}
	// Most of a drop is the same, byte for byte, and is not looked into: many plans are held
	// against what they were at each change of the store.
	names := maps.Clone(was)
	maps.Copy(names, is)
	for _, n := range slices.Sorted(maps.Keys(names)) {
		if bytes.Equal(was[n], is[n]) {
			continue
		}
		var w, i any
		for _, side := range []struct {
			text json.RawMessage
			v    *any
		}{{was[n], &w}, {is[n], &i}} {
			if side.text == nil {
				continue
			}
			if err := json.Unmarshal(side.text, side.v); err != nil {
				return nil, err
			}
		}
		c.compare([]string{n}, join("", strict.Stem(n)), w, i)
	}
	return c.list, nil
}

// parts are the fields of a document as JSON.
func parts(d *Document) (fields map[string]json.RawMessage, err error) {
	text, err := json.Marshal(d)
	if err != nil {
		return nil, err
	}
	return fields, json.Unmarshal(text, &fields)
}

type changes struct{ list []string }

// compare notes what differs between two values. Path is of the field names, to
// tell whether it matters; at says where in words.
func (c *changes) compare(path []string, at string, was, is any) {
	if reflect.DeepEqual(was, is) || slices.Contains(unrelated, strings.Join(path, ".")) {
		return
	}
	switch w := was.(type) {
	case map[string]any:
		if i, ok := is.(map[string]any); ok {
			c.compareObjects(path, at, w, i)
			return
		}
	case []any:
		i, ok := is.([]any)
		if ok || is == nil {
			c.compareLists(path, at, w, i)
			return
		}
	case nil:
		if i, ok := is.([]any); ok {
			c.compareLists(path, at, nil, i)
			return
		}
	}
	if a, b := words(was), words(is); a != b {
		c.list = append(c.list, fmt.Sprintf("%s: %s → %s", at, withUnit(path, a), withUnit(path, b)))
	}
}

func (c *changes) compareObjects(path []string, at string, was, is map[string]any) {
	names := map[string]bool{}
	for n := range maps.Keys(was) {
		names[n] = true
	}
	for n := range maps.Keys(is) {
		names[n] = true
	}
	for _, n := range slices.Sorted(maps.Keys(names)) {
		c.compare(append(slices.Clone(path), n), join(at, strict.Stem(n)), was[n], is[n])
	}
}

// compareLists sets entries with ids against each other by id, others by place.
func (c *changes) compareLists(path []string, at string, was, is []any) {
	old, oldKeys := keyed(was)
	now, nowKeys := keyed(is)
	for _, k := range oldKeys {
		if i, ok := now[k]; ok {
			c.compare(path, join(at, label(i, k)), old[k], i)
		} else {
			c.list = append(c.list, join(at, label(old[k], k))+": taken away")
		}
	}
	for _, k := range nowKeys {
		if _, ok := old[k]; !ok {
			c.list = append(c.list, join(at, label(now[k], k))+": added")
		}
	}
}

func keyed(list []any) (map[string]any, []string) {
	m, keys := map[string]any{}, []string{}
	for i, v := range list {
		k := strconv.Itoa(i + 1)
		if o, ok := v.(map[string]any); ok {
			if id, ok := o["id"].(string); ok {
				k = id
			}
		} else if s, ok := v.(string); ok {
			k = s
		}
		if _, twice := m[k]; twice {
			k += "#" + strconv.Itoa(i+1)
		}
		m[k] = v
		keys = append(keys, k)
	}
	return m, keys
}

// label is what people call an entry of a list.
func label(v any, key string) string {
	o, _ := v.(map[string]any)
	for _, field := range []string{"label", "name"} {
		if s, ok := o[field].(string); ok && s != "" {
			return s
		}
	}
	return key
}

func join(at, more string) string {
	more = strings.ReplaceAll(more, "_", " ")
	if at == "" {
		return more
	}
	return at + ", " + more
}

// words is a plain value as people read it.
func words(v any) string {
	switch v := v.(type) {
	case nil:
		return "none"
	case bool:
		if v {
			return "yes"
		}
		return "no"
	case float64:
		return strconv.FormatFloat(v, 'f', -1, 64)
	case string:
		return v
	}
	text, _ := json.Marshal(v)
	if len(text) > 80 {
		return "otherwise"
	}
	return string(text)
}

// withUnit adds the unit that a field's name tells.
func withUnit(path []string, value string) string {
	if len(path) == 0 || value == "none" {
		return value
	}
	name := path[len(path)-1]
	if unit := strings.TrimPrefix(name, strict.Stem(name)); unit != "" {
		return value + " " + strings.ReplaceAll(strings.TrimPrefix(unit, "_"), "_", "/")
	}
	return value
}

// Standing is how a plan stands: the state it was given last, unless something
// took it back since.
type Standing struct {
	State record.State `json:"state" enum:"draft,checked,released"`
	// Because says what took it back since it was checked or released.
	Because []string `json:"because,omitempty"`
}

// Stand says how a plan stands now. Then is the document as it was checked or
// released, rules the set of rules by which it was; now and report are of today.
func Stand(given record.State, rules int, then, now *Document, report *Report) (Standing, error) {
	if given == record.Draft {
		return Standing{State: record.Draft}, nil
	}
	because, err := Changes(then, now)
	if err != nil {
		return Standing{}, err
	}
	for _, f := range report.Findings {
		if f.Severity == finding.Stop && !(given == record.Checked && ofTheDay(f.Rule)) {
			why := "a stop was found: "
			if fit.NewerThan(f.Rule, rules) {
				why = "new rule in this version: "
			}
			because = append(because, why+f.What)
		}
	}
	if len(because) > 0 {
		return Standing{State: record.Draft, Because: because}, nil
	}
	return Standing{State: given}, nil
}

// daysRules are about what can only be done on the day: they stand in the way of
// releasing a plan, not of checking it.
var daysRules = []string{"service.function-check", "check.due"}

func ofTheDay(rule string) bool { return slices.Contains(daysRules, rule) }

// Missing says what keeps a plan from being checked or released, without what somebody
// writes for it; each in words.
func (d *Document) Missing(to record.State, report *Report) []string {
	list := []string{}
	if to == record.Draft {
		return list
	}
	if len(d.Strands) == 0 {
		list = append(list, "no strand hangs on the drop")
	}
	if !d.hangs() {
		list = append(list, "nobody is planned to hang on it: no person has a hold, and no team has a load")
	}
	for _, f := range report.Findings {
		if f.Severity == finding.Stop && (to == record.Released || !ofTheDay(f.Rule)) {
			list = append(list, fmt.Sprintf("a stop is in the way (%s): %s", f.Rule, f.What))
		}
	}
	return list
}

// hangs reports whether anybody is planned to hang on the drop.
func (d *Document) hangs() bool {
	return d.Team != nil || slices.ContainsFunc(d.People, func(p rig.Person) bool { return len(p.Holds) > 0 })
}

// MaySet reports what keeps a plan from being given a state, each with its place in
// the request: a stop keeps it from being released, one that does not wait for the day
// from being checked; a look without a written reason keeps it from being released, and
// a draft is checked before it is released.
func (d *Document) MaySet(to, from record.State, report *Report, reasons []record.Reason) error {
	var p strict.Faults
	for _, m := range d.Missing(to, report) {
		p.Add(m, "state")
	}
	if to == record.Released && from != record.Checked && from != record.Released {
		p.Add("is checked first, then released", "state")
	}
	for _, f := range report.Findings {
		if f.Severity == finding.Look && to == record.Released && !reasoned(f, reasons) {
			p.Add(fmt.Sprintf("no reason is written for %s: %s", f.Rule, f.What), "reasons")
		}
	}
	return p.Err()
}

func reasoned(f finding.Finding, reasons []record.Reason) bool {
	return slices.ContainsFunc(reasons, func(r record.Reason) bool {
		return r.Rule == f.Rule && r.What == f.What && strings.TrimSpace(r.Reason) != ""
	})
}
