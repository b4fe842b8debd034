package drop

import (
	"bytes"
	"encoding/json"
	"errors"
	"maps"
	"reflect"
	"slices"
	"strings"

	"zealousknot/internal/core/strict"
)

// A Touch is a place that two people changed, each to something else.
type Touch struct {
	Where string `json:"where"`
	Base  string `json:"base" doc:"what it was before both"`
	// Mine and Theirs are what each made of it.
	Mine   string `json:"mine"`
	Theirs string `json:"theirs"`
}

// Merged is two changes of one drop put together.
type Merged struct {
	// Drop has everything that only one of them changed, and at each touch what is preferred.
	Drop *Document `json:"drop"`
	// Mine and Theirs are what each changed, in words.
	Mine   []string `json:"mine"`
	Theirs []string `json:"theirs"`
	Touch  []Touch  `json:"touching"`
	// Faults say why it cannot be kept as it is: both together may name what one took away.
	Faults []strict.Fault `json:"faults,omitempty"`
}

// ours are the fields that the store and the records decide: nobody edits them, and what came
// last stands.
var ours = []string{"checks", "partner_checks", "worn_checks", "policy"}

// isDerived reports whether the store makes what is at a path of what it has besides a drop:
// nobody changes it, and what follows from it is found.
func isDerived(path []string) bool {
	return slices.Contains([]string{"people.listed", "items.noted", "anchors.register"}, strings.Join(path, "."))
}

// Merge puts two changes of a drop together. Entries of lists with ids are compared by their
// ids, all other lists as a whole. Where both changed one place to something else it is a touch,
// and mine says whose stands.
func Merge(base, mine, theirs *Document, preferMine bool) (*Merged, error) {
	var sides [3]any
	for i, d := range []*Document{base, mine, theirs} {
		text, err := json.Marshal(d)
		if err != nil {
			return nil, err
		}
		if err := json.Unmarshal(text, &sides[i]); err != nil {
			return nil, err
		}
	}
	n := namesOf(base, theirs, mine)
	m := &merging{mine: preferMine, touch: []Touch{}, names: n}
	text, err := json.Marshal(m.three(nil, "", sides[0], sides[1], sides[2]))
	if err != nil {
		return nil, err
	}
	out := &Merged{Drop: new(Document), Mine: differences(n, sides[0], sides[1]), Theirs: differences(n, sides[0], sides[2]), Touch: m.touch}
	d := json.NewDecoder(bytes.NewReader(text))
	if err := d.Decode(out.Drop); err != nil {
		return nil, err
	}
	var refused *strict.Error
	if err := out.Drop.Validate(); errors.As(err, &refused) {
		out.Faults = refused.Faults
	} else if err != nil {
		return nil, err
	}
	return out, nil
}

// differences are all changes between two documents in words, those that take no plan back too.
func differences(n names, was, is any) []string {
	c := changes{all: true, names: func() names { return n }}
	c.compare(nil, "", was, is)
	if c.list == nil {
		return []string{}
	}
	return c.list
}

// absent stands for a field or an entry that is missing.
type absent struct{}

type merging struct {
	mine  bool
	touch []Touch
	names names
}

// three puts a value together from what it was and what both made of it.
func (m *merging) three(path []string, at string, base, mine, theirs any) any {
	switch {
	case len(path) == 1 && slices.Contains(ours, path[0]), isDerived(path):
		return theirs
	case reflect.DeepEqual(mine, theirs), reflect.DeepEqual(base, theirs):
		return mine
	case reflect.DeepEqual(base, mine):
		return theirs
	}
	if a, b, c, ok := objects(base, mine, theirs); ok {
		return m.fields(path, at, a, b, c)
	}
	if a, b, c, ok := lists(base, mine, theirs); ok {
		return m.entries(path, at, a, b, c)
	}
	m.touch = append(m.touch, Touch{at, m.told(path, base), m.told(path, mine), m.told(path, theirs)})
	if m.mine {
		return mine
	}
	return theirs
}

// told is a value in words.
func (m *merging) told(path []string, v any) string {
	if _, gone := v.(absent); gone {
		return "none"
	}
	if o, ok := v.(map[string]any); ok {
		return m.names.label(path, o, "there")
	}
	return m.names.told(path, v)
}

func objects(base, mine, theirs any) (a, b, c map[string]any, ok bool) {
	a, _ = base.(map[string]any) // both may have added it
	b, is := mine.(map[string]any)
	c, too := theirs.(map[string]any)
	_, gone := base.(absent)
	return a, b, c, is && too && (a != nil || gone || base == nil)
}

func (m *merging) fields(path []string, at string, base, mine, theirs map[string]any) any {
	names := map[string]bool{}
	for _, o := range []map[string]any{base, mine, theirs} {
		for n := range maps.Keys(o) {
			names[n] = true
		}
	}
	out := map[string]any{}
	for _, n := range slices.Sorted(maps.Keys(names)) {
		v := m.three(append(slices.Clone(path), n), join(at, strict.Stem(n)), field(base, n), field(mine, n), field(theirs, n))
		if _, gone := v.(absent); !gone {
			out[n] = v
		}
	}
	return out
}

func field(o map[string]any, name string) any {
	if v, ok := o[name]; ok {
		return v
	}
	return absent{}
}

// lists are three lists whose entries all have ids; a missing one is empty.
func lists(base, mine, theirs any) (a, b, c []any, ok bool) {
	var out [3][]any
	for i, v := range []any{base, mine, theirs} {
		switch v := v.(type) {
		case absent, nil:
		case []any:
			for _, e := range v {
				if o, is := e.(map[string]any); !is || o["id"] == nil {
					return nil, nil, nil, false
				}
			}
			out[i] = v
		default:
			return nil, nil, nil, false
		}
	}
	return out[0], out[1], out[2], len(out[1])+len(out[2]) > 0
}

// entries puts lists together by the ids of their entries: in their order, with what I added
// behind.
func (m *merging) entries(path []string, at string, base, mine, theirs []any) any {
	was, _ := keyed(base)
	own, ownKeys := keyed(mine)
	other, otherKeys := keyed(theirs)
	out := []any{}
	put := func(k string) {
		there := func(of map[string]any) any {
			if v, ok := of[k]; ok {
				return v
			}
			return absent{}
		}
		name := k
		for _, of := range []map[string]any{own, other, was} {
			if v, ok := of[k]; ok {
				name = m.names.label(path, v, k)
				break
			}
		}
		v := m.three(path, join(at, name), there(was), there(own), there(other))
		if _, gone := v.(absent); !gone {
			out = append(out, v)
		}
	}
	for _, k := range otherKeys {
		put(k)
	}
	for _, k := range ownKeys {
		if _, ok := other[k]; !ok {
			put(k)
		}
	}
	return out
}

// MergeAsked is two changes of a drop that began from one version of it.
type MergeAsked struct {
	Base   Document `json:"base" doc:"the version that both began from"`
	Mine   Document `json:"mine"`
	Theirs Document `json:"theirs"`
	Prefer string   `json:"prefer,omitempty" enum:"mine,theirs" doc:"whose stands where both changed one place; left out: theirs"`
}

// Answer puts the two together.
func (a *MergeAsked) Answer() (*Merged, error) {
	return Merge(&a.Base, &a.Mine, &a.Theirs, strings.EqualFold(a.Prefer, "mine"))
}
