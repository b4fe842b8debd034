package callout

import (
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// used is a rig by the ids of its items.
func (l *layout) used() *Used {
	line := func(i int) UsedLine { return UsedLine{l.brakes[i].Item.ID, l.ropes[i].ids()} }
	return &Used{line(0), line(1)}
}

// fix takes a rig that stands already, whatever became of its things since: it is what
// happened. A *strict.Error names what is not a brake or a rope of the store, or there twice.
func (m *making) fix(a *Asked) error {
	var faults strict.Faults
	models, items := gear.ModelsByID(a.Models), map[string]*gear.Item{}
	for i := range a.Items {
		items[a.Items[i].ID] = &a.Items[i]
	}
	taken := map[string]bool{}
	piece := func(id, at string, is func(*gear.Model) bool, what string) *rig.Piece {
		it := items[id]
		switch {
		case it == nil || models[it.Model] == nil || !is(models[it.Model]):
			faults.Addf("/used"+at, "%q is no %s of the store", id, what)
			return nil
		case taken[id]:
			faults.Addf("/used"+at, "%s is there twice", it.Label)
		}
		taken[id] = true
		return &rig.Piece{Item: it, Model: models[it.Model]}
	}
	var brakes [2]*rig.Piece
	var ropes [2]rope
	for i, l := range []*UsedLine{&a.Used.Main, &a.Used.Belay} {
		at := "/" + lineNames[i]
		brakes[i] = piece(l.Brake, at+"/brake", brakesRope, "brake")
		for n, id := range l.Ropes {
			ropes[i] = append(ropes[i], piece(id, at+strict.Pointer("ropes", n), func(m *gear.Model) bool { return m.Rope != nil }, "rope"))
		}
	}
	if err := faults.Err(); err != nil {
		return err
	}
	m.fixed = m.bare(brakes, ropes)
	return nil
}

// fixedRig is the rig that stands, with the height that is known, else how far it reaches.
func (m *making) fixedRig() (*layout, quantity.Metres, error) {
	l := m.bare(m.fixed.brakes, m.fixed.ropes)
	if m.known.HeightM != nil {
		return l, m.known.HeightM.HighM, nil
	}
	h, err := l.reachM(m.known.corners(1, m.policy)[0], m.day, m.policy)
	return l, max(1, h), err
}
