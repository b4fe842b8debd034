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

	"zealousknot/internal/core/strict"
)

// unrelated are the fields whose change does not take a plan back: names and
// notes, where things are kept, where people happen to be, and what is recorded.
var unrelated = []string{
	"name", "site", "note", "format", "version", "checks", "partner_checks", "worn_checks",
	"people.at_m", "people.grounded", "people.holds.position", "people.familiar", "people.practised",
	"items.label", "items.owner", "items.place", "items.examined_on", "items.again_by", "items.code", "items.serial", "items.lot", "items.bought_on", "items.marking", "models.examine", "models.wear", "models.source", "models.follows", "models.name", "models.maker",
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
	c := changes{names: func() names { return namesOf(then, now) }}
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

// Differences are all changes from one document to another in words, those that take no plan
// back too; what only the store and the records decide is left out.
func Differences(then, now *Document) ([]string, error) {
	var sides [2]map[string]any
	for i, d := range []*Document{then, now} {
		text, err := json.Marshal(d)
		if err != nil {
			return nil, err
		}
		if err := json.Unmarshal(text, &sides[i]); err != nil {
			return nil, err
		}
		for _, f := range ours {
			delete(sides[i], f)
		}
	}
	return differences(namesOf(then, now), sides[0], sides[1]), nil
}

// parts are the fields of a document as JSON.
func parts(d *Document) (fields map[string]json.RawMessage, err error) {
	text, err := json.Marshal(d)
	if err != nil {
		return nil, err
	}
	return fields, json.Unmarshal(text, &fields)
}

type changes struct {
	list []string
	// all: what takes no plan back counts too.
	all bool
	// names are gathered where something differs.
	names func() names
}

// compare notes what differs between two values. Path is of the field names, to
// tell whether it matters; at says where in words.
func (c *changes) compare(path []string, at string, was, is any) {
	if reflect.DeepEqual(was, is) || isDerived(path) || !c.all && slices.Contains(unrelated, strings.Join(path, ".")) {
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
	if words(was) != words(is) {
		n := c.names()
		c.list = append(c.list, fmt.Sprintf("%s: %s → %s", at, n.told(path, was), n.told(path, is)))
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
	n := c.names()
	for _, k := range oldKeys {
		if i, ok := now[k]; ok {
			c.compare(path, join(at, n.label(path, i, k)), old[k], i)
		} else {
			c.list = append(c.list, join(at, n.label(path, old[k], k))+": taken away")
		}
	}
	for _, k := range nowKeys {
		if _, ok := old[k]; !ok {
			c.list = append(c.list, join(at, n.label(path, now[k], k))+": added")
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
