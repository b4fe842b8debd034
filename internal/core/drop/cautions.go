package drop

import (
	"fmt"
	"maps"
	"slices"
)

// Cautions are what the instructions of everything in use say to take care of: each of a
// model once, with the model and where it stands. They are the manufacturer's words, as
// somebody entered them; a model without any has none entered.
func (d *Document) Cautions() []string {
	var list []string
	said := map[string]bool{}
	used := d.Used()
	for _, id := range slices.Sorted(maps.Keys(used)) {
		for i := range d.Items {
			if d.Items[i].ID != id || said[d.Items[i].Model] {
				continue
			}
			said[d.Items[i].Model] = true
			list = append(list, d.cautionsOf(d.Items[i].Model)...)
		}
	}
	return list
}

func (d *Document) cautionsOf(model string) (list []string) {
	for i := range d.Models {
		m := &d.Models[i]
		if m.ID != model {
			continue
		}
		from := ""
		if m.Source != "" {
			from = ", " + m.Source
		}
		for _, words := range m.Cautions {
			list = append(list, fmt.Sprintf("%s%s: %s", m.Title(), from, words))
		}
	}
	return list
}
