package drop

import (
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

// names are what people call the things of some documents, by kind and id.
type names map[string]map[string]string

// namesOf gathers them; what the last document calls a thing stands.
func namesOf(documents ...*Document) names {
	n := names{}
	for _, d := range documents {
		called(n, "item", d.Items, func(i *gear.Item) (string, string) { return i.ID, i.Label })
		called(n, "model", d.Models, func(m *gear.Model) (string, string) { return m.ID, m.Name })
		called(n, "strand", d.Strands, func(s *rig.Strand) (string, string) { return s.ID, s.Name })
		called(n, "anchor", d.Anchors, func(a *rig.Anchor) (string, string) { return a.ID, a.Name })
		called(n, "person", d.People, func(p *rig.Person) (string, string) { return p.ID, p.Name })
	}
	return n
}

func called[T any](n names, kind string, list []T, of func(*T) (id, name string)) {
	if n[kind] == nil {
		n[kind] = map[string]string{}
	}
	for i := range list {
		id, name := of(&list[i])
		n[kind][id] = name
	}
}

// kinds are of what kind the thing is that a field names by its id.
var kinds = map[string]string{
	"device": "item", "item": "item", "rope": "item", "ropes": "item", "harness": "item", "carries": "item",
	"brake": "item", "connector": "item", "kit": "item",
	"model": "model", "follows": "model", "strand": "strand",
	"anchor": "anchor", "anchors": "anchor", "person": "person",
}

// told is the plain value of a field: a thing that it names by its id is called by its name.
func (n names) told(path []string, v any) string {
	if id, ok := v.(string); ok && len(path) > 0 {
		if name := n[kinds[path[len(path)-1]]][id]; name != "" {
			return name
		}
	}
	return withUnit(path, words(v))
}

// label is what people call an entry of a list at a path.
func (n names) label(path []string, v any, key string) string {
	o, isObject := v.(map[string]any)
	if !isObject {
		return n.told(path, v)
	}
	for _, field := range []string{"label", "name"} {
		if s, ok := o[field].(string); ok && s != "" {
			return s
		}
	}
	switch {
	case o["device"] != nil && o["strand"] != nil:
		// Two holds may be on one strand.
		return n.told([]string{"device"}, o["device"]) + " on " + n.told([]string{"strand"}, o["strand"])
	case o["item"] != nil:
		return n.told([]string{"item"}, o["item"])
	case o["kind"] != nil && o["height_m"] != nil:
		return fmt.Sprintf("%s at %s m", words(o["kind"]), words(o["height_m"]))
	}
	return key
}
