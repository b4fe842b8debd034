package drop

import (
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/strict"
)

// Store is the gear that a drop may choose from.
type Store struct {
	Models []gear.Model `json:"models,omitempty" maxItems:"5000"`
	Items  []gear.Item  `json:"items,omitempty" maxItems:"5000"`
	Kits   []gear.Kit   `json:"kits,omitempty" maxItems:"1000"`
	// Reason is why they are changed.
	Reason string `json:"reason,omitempty" maxLength:"380" doc:"recorded with what changes"`
}

// mostRowFaults is how many problems of rows are gathered.
const mostRowFaults = 1000

// ReadStore reads models, items and kits that are to be added to a store, or to replace what it
// has of them, as strictly as Read reads a drop. Items may be of models that the store has
// already. With a *strict.Error it gives what it read all the same, of which the rows that
// no fault points into are right; nil where it could not read on.
func ReadStore(data []byte, present *Store) (*Store, error) {
	s := new(Store)
	faults := strict.Faults{Most: mostRowFaults}
	if !strict.ReadWith(&faults, data, s) {
		return nil, faults.Err()
	}
	models := byID(present.Models, func(m *gear.Model) string { return m.ID })
	seen := map[string]bool{}
	for i := range s.Models {
		m, at := &s.Models[i], fmt.Sprintf("/models/%d", i)
		once(seen, m.ID, at, &faults)
		m.Validate(at, &faults)
		models[m.ID] = m
	}
	for i := range s.Models {
		if f := s.Models[i].Follows; f != "" && (models[f] == nil || f == s.Models[i].ID) {
			faults.Addf(fmt.Sprintf("/models/%d/follows", i), "no other model %q here or in the store", f)
		}
	}
	clear(seen)
	items := byID(present.Items, func(i *gear.Item) string { return i.ID })
	for i := range s.Items {
		item, at := &s.Items[i], fmt.Sprintf("/items/%d", i)
		once(seen, item.ID, at, &faults)
		if m := models[item.Model]; m == nil {
			faults.Addf(at+"/model", "no model %q here or in the store", item.Model)
		} else {
			item.Validate(m, at, &faults)
		}
		// Out of quarantine only with a record of what was checked, into it likewise.
		if was := items[item.ID]; was != nil && was.State != item.State && was.State != gear.Retired && item.State != gear.Retired {
			faults.Addf(at+"/state", "is %s; into quarantine and back an item goes with a record", was.State)
		}
	}
	clear(seen)
	names := byID(present.Kits, func(k *gear.Kit) string { return k.Name })
	for i := range s.Kits {
		k, at := &s.Kits[i], fmt.Sprintf("/kits/%d", i)
		once(seen, k.ID, at, &faults)
		k.Validate(models, at, &faults)
		if other := names[k.Name]; other != nil && other.ID != k.ID {
			faults.Addf(at+"/name", "another kit is called %q", k.Name)
		}
		names[k.Name] = k
	}
	return s, faults.Err()
}

func once(seen map[string]bool, id, at string, faults *strict.Faults) {
	if seen[id] {
		faults.Addf(at+"/id", "%q is given twice", id)
	}
	seen[id] = true
}
