package intake

import (
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
)

// names are the ids of things by what people call them, in small letters. An id is never
// another thing's name.
type names map[string][]string

// add notes what a thing is called besides its id.
func (n names) add(id string, called ...string) {
	n["\x00"+id] = []string{id}
	for _, name := range called {
		if name = strings.ToLower(name); name != "" && !slices.Contains(n[name], id) {
			n[name] = append(n[name], id)
		}
	}
}

// of are the things that a name may mean: the one of this id, else all that are called so.
func (n names) of(name string) []string {
	name = strings.ToLower(name)
	if ids := n["\x00"+name]; ids != nil {
		return ids
	}
	return n[name]
}

func itemNames(items []gear.Item) names {
	n := names{}
	for i := range items {
		n.add(items[i].ID, items[i].Label, items[i].Code)
	}
	return n
}

// named finds the thing that a row is about; which of several is never guessed.
func (e *Entry) named(n names, field, name string) {
	switch ids := n.of(name); {
	case name == "":
		e.Faults = append(e.Faults, FieldFault{field, "missing"})
	case len(ids) == 1:
		e.ID = ids[0]
	case len(ids) > 1:
		e.Faults = append(e.Faults, *several(field, ids))
	default:
		e.Faults = append(e.Faults, FieldFault{field, fmt.Sprintf("no %s %q in the team", field, name)})
	}
}

func several(field string, ids []string) *FieldFault {
	return &FieldFault{field, "several are called so: give the id, one of " + strings.Join(ids, ", ")}
}
