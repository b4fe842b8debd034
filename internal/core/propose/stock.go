package propose

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

func metres(v float64) quantity.Metres { return quantity.Metres(v) }

// kind are items that the rules cannot tell from each other: of one model, and for ropes of
// one length, diameter and condition.
type kind struct {
	model *gear.Model
	items []*gear.Item
}

// Where says where an item is besides: on another drop of the day, or with whom; empty for
// nowhere else.
func (s *Stock) Where(item string) string {
	if where := s.Busy[item]; where != "" {
		return "on " + where + " that day"
	}
	i := slices.IndexFunc(s.Store.Items, func(i gear.Item) bool { return i.ID == item })
	switch {
	case i < 0:
	case slices.Contains(s.kitOf(&s.Store.Items[i]).Missing, item):
		return "missing: it did not come back with " + s.Store.Items[i].Kit
	case s.kitOf(&s.Store.Items[i]).IssuedTo != "":
		k := s.kitOf(&s.Store.Items[i])
		return "in " + k.Name + ", with " + k.IssuedTo
	case s.Store.Items[i].Owner != "":
		return "issued to, or owned by, " + s.Store.Items[i].Owner
	}
	return ""
}

// kitOf is the kit that an item is in; one without a name where there is none.
func (s *Stock) kitOf(item *gear.Item) gear.Kit {
	if i := slices.IndexFunc(s.Store.Kits, func(k gear.Kit) bool { return k.Name == item.Kit }); i >= 0 {
		return s.Store.Kits[i]
	}
	return gear.Kit{}
}

// holder is who has an item: who its kit was issued to, else whose it is.
func (s *Stock) holder(item *gear.Item) string {
	return cmp.Or(s.kitOf(item).IssuedTo, item.Owner)
}

// shelf is what may be used on the day, by class.
type shelf struct {
	kinds map[gear.Class][]*kind
	// holder says of an item who has it, by id.
	holder map[string]string
	// kept says of each class why things of it were left out, for what is missing.
	kept map[gear.Class][]string
}

// shelve sorts out what may be used: in service, not on this drop and not on another one
// that day. Where the drop describes an item differently, the store counts.
func shelve(d *drop.Document, stock Stock) *shelf {
	s := &shelf{kinds: map[gear.Class][]*kind{}, kept: map[gear.Class][]string{}, holder: map[string]string{}}
	models := gear.ModelsByID(stock.Store.Models)
	c := &fit.Context{Rig: &rig.Rig{Day: d.Day}, Policy: d.Policy.With()}
	used := d.Used()
	byKey := map[string]*kind{}
	for i := range stock.Store.Items {
		item := &stock.Store.Items[i]
		m := models[item.Model]
		if m == nil || used[item.ID] {
			continue
		}
		why := fit.Unfit(&rig.Piece{Item: item, Model: m}, c)
		if where := stock.Busy[item.ID]; why == "" && where != "" {
			why = fmt.Sprintf("%s is on %s that day.", item.Label, where)
		}
		who := stock.holder(item)
		if why == "" && slices.Contains(stock.Away, who) {
			why = fmt.Sprintf("%s is issued to %s.", item.Label, who)
		}
		if slices.Contains(stock.kitOf(item).Missing, item.ID) {
			why = fmt.Sprintf("%s did not come back with %s.", item.Label, item.Kit)
		}
		s.holder[item.ID] = who
		if why != "" {
			s.kept[m.Class] = append(s.kept[m.Class], why)
			continue
		}
		key := m.ID
		if m.Rope != nil {
			key = fmt.Sprint(m.ID, item.LengthM, gear.Gauges(item, m), item.Condition, item.Kit)
		}
		k := byKey[key]
		if k == nil {
			k = &kind{model: m}
			byKey[key] = k
			s.kinds[m.Class] = append(s.kinds[m.Class], k)
		}
		k.items = append(k.items, item)
	}
	for _, kinds := range s.kinds {
		for _, k := range kinds {
			slices.SortStableFunc(k.items, func(a, b *gear.Item) int { return natural(a.Label, b.Label) })
		}
		slices.SortStableFunc(kinds, func(a, b *kind) int {
			return cmp.Or(cmp.Compare(a.items[0].LengthM, b.items[0].LengthM), natural(a.items[0].Label, b.items[0].Label))
		})
	}
	return s
}

// natural orders labels as people count: rope 9 before rope 10.
func natural(a, b string) int {
	return cmp.Or(cmp.Compare(len(a), len(b)), cmp.Compare(a, b))
}

// issued says whose an item is, of the people on the drop; empty where it is nobody's of them.
func (s *search) issued(i *gear.Item) string {
	for _, p := range s.doc.People {
		if s.shelf.holder[i.ID] == p.Name {
			return p.ID
		}
	}
	return ""
}

// take gives an item of a kind that a person may take: what is issued to them first, never
// what is issued to somebody else. Nobody, for a strand, takes what is shared.
func (s *search) take(k *kind, person string) *gear.Item {
	var shared *gear.Item
	for _, i := range k.items {
		if s.used[i.ID] {
			continue
		}
		switch s.issued(i) {
		case person:
			if person != "" {
				return i
			}
			shared = cmp.Or(shared, i)
		case "":
			shared = cmp.Or(shared, i)
		default:
			// A rope that is issued to one of them hangs for all.
			if person == "" && i.LengthM > 0 {
				shared = cmp.Or(shared, i)
			}
		}
	}
	return shared
}
