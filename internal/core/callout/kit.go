package callout

import (
	"cmp"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

const (
	// shortest is the shortest rope that is lowered on: shorter ones are cords.
	shortest quantity.Metres = 12
	// mostRopes is how many ropes are considered, the longest first. Every two of them may be
	// joined, so that the work grows with its square.
	mostRopes = 12
	// mostKit is how much lies at the anchors at most.
	mostKit = 40
)

// Bag is what the kits hold, sorted by what it is for.
type Bag struct {
	ropes, brakes, kit []*rig.Piece
	// left counts ropes that were not looked at.
	left int
	// unread are things whose model nobody has entered.
	unread []Left
}

// open sorts what is in the kits. What is retired is in none.
func open(kits []string, items []gear.Item, models []gear.Model) *Bag {
	b, of := new(Bag), gear.ModelsByID(models)
	for i := range items {
		it := &items[i]
		m := of[it.Model]
		if it.State == gear.Retired || it.Kit == "" || len(kits) > 0 && !slices.Contains(kits, it.Kit) {
			continue
		}
		if m == nil {
			b.unread = append(b.unread, Left{it.ID, it.Label, "Its model is missing: nothing is known of it."})
			continue
		}
		piece := &rig.Piece{Item: it, Model: m}
		switch {
		case m.Class == gear.Rope && it.LengthM >= shortest && m.Rope != nil:
			b.ropes = append(b.ropes, piece)
		case brakesRope(m):
			b.brakes = append(b.brakes, piece)
		case m.Class == gear.Rope, m.Class == gear.RopeGrab, m.Hitch != nil, m.Pulley != nil, m.Connector != nil:
			b.kit = append(b.kit, piece)
		}
	}
	slices.SortStableFunc(b.ropes, func(x, y *rig.Piece) int {
		return cmp.Or(cmp.Compare(y.Item.LengthM, x.Item.LengthM), cmp.Compare(x.Item.ID, y.Item.ID))
	})
	brake := map[gear.Class]int{gear.AnchorBrake: 0, gear.WindingDev: 1, gear.Descender: 2}
	slices.SortStableFunc(b.brakes, func(x, y *rig.Piece) int {
		return cmp.Or(cmp.Compare(brake[x.Model.Class], brake[y.Model.Class]), cmp.Compare(x.Item.ID, y.Item.ID))
	})
	slices.SortStableFunc(b.kit, func(x, y *rig.Piece) int {
		return cmp.Or(cmp.Compare(rank(x.Model), rank(y.Model)), cmp.Compare(y.Model.StrengthKN, x.Model.StrengthKN), cmp.Compare(x.Item.ID, y.Item.ID))
	})
	return b
}

// brakesRope reports whether a load is lowered on a device of a model.
func brakesRope(m *gear.Model) bool {
	return slices.Contains([]gear.Class{gear.AnchorBrake, gear.WindingDev, gear.Descender}, m.Class) && m.Device != nil
}

// rank is the order in which a rig can least do without a thing.
func rank(m *gear.Model) int {
	switch {
	case m.Class == gear.RopeGrab:
		return 0
	case m.Hitch != nil:
		return 1
	case m.Pulley != nil:
		return 2
	case m.Connector != nil:
		return 3
	}
	return 4
}

// rope is a rope, or two that are joined, from the brake down to the load.
type rope []*rig.Piece

func (r rope) lengthM() (sum quantity.Metres) {
	for _, p := range r {
		sum += p.Item.LengthM
	}
	return sum
}

func (r rope) labels() (list []string) {
	for _, p := range r {
		list = append(list, p.Item.Label)
	}
	return list
}

func (r rope) ids() (list []string) {
	for _, p := range r {
		list = append(list, p.Item.ID)
	}
	return list
}

func (r rope) shares(o rope) bool {
	return slices.ContainsFunc(r, func(p *rig.Piece) bool { return slices.Contains(o, p) })
}

// layout is a rig that a kit gives: two brakes, two ropes, and what lies at the anchors.
type layout struct {
	brakes [2]*rig.Piece
	ropes  [2]rope
	// connectors hang the brakes; nil where there are none.
	connectors [2]*rig.Piece
	kit        []*rig.Piece
	haul       string
	operators  []string
	haulers    int
}
