package drill

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// shape is what a made-up rig is.
type shape int

const (
	plain shape = iota
	knots
	rebelay
	forTwo
	twoSets
	lowering
	shapes
	// fetched is of pick-offs alone.
	fetched
)

// Learner is who hangs on a made-up rig.
const Learner = "learner"

// dayOf is the day of a made-up rig: that of a learner is no day of any work.
const dayOf gear.Date = "2030-05-14"

// taking picks gear for a made-up rig, each thing once.
type taking struct {
	*maker
	models map[string]*gear.Model
	left   []gear.Item
	d      *drop.Document
	err    error
}

// take picks one thing that is in service and fits; its model goes onto the drop with it.
func (t *taking) take(class gear.Class, fits func(*gear.Item, *gear.Model) bool) (*gear.Item, *gear.Model) {
	for n := range t.left {
		i, m := t.left[n], t.models[t.left[n].Model]
		if m == nil || m.Class != class || i.State != gear.InService || len(i.Events) > 0 || i.Damaged() || fits != nil && !fits(&i, m) {
			continue
		}
		t.left = slices.Delete(t.left, n, n+1)
		i.MadeOn, i.FirstUsedOn, i.ExaminedOn = dayOf.AddMonths(-30), dayOf.AddMonths(-26), dayOf.AddMonths(-2)
		t.d.Items = append(t.d.Items, i)
		if !slices.ContainsFunc(t.d.Models, func(o gear.Model) bool { return o.ID == m.ID }) {
			t.d.Models = append(t.d.Models, *m)
		}
		return &t.d.Items[len(t.d.Items)-1], m
	}
	if t.err == nil {
		t.err = refused("/gear", "no %s of the store fits a rig that is made up", class.Words())
	}
	return new(gear.Item), new(gear.Model)
}

// madeUp makes a rig from the gear; it is sound as far as the rules agree.
func (m *maker) madeUp(s shape) (*drop.Document, error) {
	t := &taking{maker: m, models: gear.ModelsByID(m.Gear.Models), left: shuffled(m.rnd, m.Gear.Items)}
	t.d = &drop.Document{
		Format: drop.Format, Version: drop.Version, Name: "Exercise", Site: "made up", Day: dayOf, Policy: policy.Policy{Name: "exercise"},
		Geometry: rig.Geometry{TopM: quantity.Metres(18 + m.rnd.IntN(40)), TopName: "edge", LandingName: "landing"},
	}
	g := &t.d.Geometry
	g.Edges = []rig.Edge{{ID: "edge", Name: "edge", HeightM: g.TopM - 0.6, Protection: one(m.rnd, []string{"roller", "pad"}), RopeM: 0.3}}
	sets := 1
	if s == twoSets {
		sets = 2
	}
	for set := 1; set <= sets; set++ {
		t.set(set)
	}
	t.marks(s)
	if s == lowering {
		t.team()
	} else {
		t.person(s)
	}
	if s == fetched && t.err == nil {
		t.fetch()
	}
	return t.d, t.err
}

// set hangs a main and a backup from an anchor each.
func (t *taking) set(n int) {
	g := &t.d.Geometry
	for i, role := range []rig.Role{rig.Main, rig.Backup} {
		id := fmt.Sprintf("%s-%d", role, n)
		name := string(role)
		if n > 1 {
			name = fmt.Sprintf("%s %d", role, n)
		}
		x := quantity.Metres(float64(n-1)*1.2 + float64(i)*0.5)
		t.d.Anchors = append(t.d.Anchors, rig.Anchor{ID: "anchor-" + id, Name: name + " anchor", XM: x, HeightM: g.TopM + 0.8, Legs: twoLegs("bolt-" + id)})
		rope, _ := t.take(gear.Rope, func(i *gear.Item, m *gear.Model) bool {
			mm, _ := gear.Diameter(i, m)
			return i.LengthM >= g.TopM+8 && mm >= 10.2 && mm <= 10.9 && cmp.Or(i.Condition, gear.Dry) == gear.Dry
		})
		t.d.Strands = append(t.d.Strands, rig.Strand{ID: id, Name: name, Role: role, Set: n, Anchors: []string{"anchor-" + id}, Ropes: []string{rope.ID}, EndStop: rig.EndKnot})
	}
}

func twoLegs(id string) []rig.Leg {
	return []rig.Leg{
		{ID: id + "-a", XM: -0.3, YM: 0.6, ElongationPct: 4, StrengthKN: 22},
		{ID: id + "-b", XM: 0.3, YM: 0.6, ElongationPct: 4, StrengthKN: 22},
	}
}

// marks puts what is in the way on the strands of the first set.
func (t *taking) marks(s shape) {
	g := &t.d.Geometry
	at := quantity.Metres(float64(int(g.TopM) / 2))
	main, backup := &t.d.Strands[0], &t.d.Strands[1]
	switch {
	case s == knots || s == twoSets && t.rnd.IntN(2) == 0:
		main.Marks = []rig.Mark{{ID: "knot-main", Kind: rig.KnotMark, Name: "knot", HeightM: at, Eye: true}}
		backup.Marks = []rig.Mark{{ID: "knot-backup", Kind: rig.KnotMark, Name: "knot", HeightM: at - 0.4, Eye: true}}
	case s == rebelay:
		for i, st := range []*rig.Strand{main, backup} {
			id := "re-belay-" + st.Name
			t.d.Anchors = append(t.d.Anchors, rig.Anchor{ID: id, Name: "re-belay, " + st.Name, XM: t.d.Anchors[i].XM, HeightM: at, Legs: []rig.Leg{{ID: "bolt-" + id, YM: 0.2, StrengthKN: 22}}})
			st.Marks = []rig.Mark{{ID: id, Kind: rig.RebelayMark, Name: "re-belay", HeightM: at, Anchor: id, LoopM: 2.4}}
		}
	case s == plain && t.rnd.IntN(3) == 0:
		main.Marks = []rig.Mark{
			{ID: "knot-main", Kind: rig.KnotMark, Name: "isolating knot", HeightM: at, Isolates: "chafe"},
			{ID: "chafe", Kind: rig.DamageMark, Name: "chafed sheath", HeightM: at - 0.4},
		}
	}
}

// person hangs the learner on the first set, above what is in the way.
func (t *taking) person(s shape) {
	p := rig.Person{ID: Learner, Name: "the learner", MassKg: quantity.Kilograms(68 + t.rnd.IntN(24)), AtM: t.d.Geometry.TopM - quantity.Metres(3+t.rnd.IntN(4))}
	persons, second := 1, quantity.Kilograms(0)
	if s == forTwo {
		persons, second = 2, quantity.Kilograms(75+t.rnd.IntN(15))
		p.Moves = append(p.Moves, "pick-off")
	}
	harness, _ := t.take(gear.Harness, nil)
	p.Harness = harness.ID
	for _, role := range []rig.HoldRole{rig.ToDescend, rig.ToBackUp} {
		h := t.hold(role, persons)
		h.SecondKg, h.ID = second, fmt.Sprintf("%s-%s", Learner, role)
		p.Holds = append(p.Holds, h)
	}
	p.Moves = append(p.Moves, manoeuvre.MoveName("descend"))
	t.climbing(&p)
	t.carry(&p, gear.Gloves, nil)
	for range 4 {
		t.carry(&p, gear.Connector, locking)
	}
	for i := range t.d.Models {
		p.Familiar = append(p.Familiar, rig.Familiarity{Model: t.d.Models[i].ID, On: dayOf.AddMonths(-6)})
	}
	t.d.People = []rig.Person{p}
}

// carry puts one thing into somebody's kit.
func (t *taking) carry(p *rig.Person, class gear.Class, fits func(*gear.Item, *gear.Model) bool) *gear.Model {
	i, m := t.take(class, fits)
	p.Carries = append(p.Carries, i.ID)
	return m
}

// climbing puts into somebody's kit what one goes up and changes over with: of the two lanyards
// one is short and one long, as a re-belay wants them.
func (t *taking) climbing(p *rig.Person) {
	for _, class := range []gear.Class{gear.ChestAscender, gear.HandAscender, gear.FootLoop} {
		t.carry(p, class, nil)
	}
	t.carry(p, gear.Lanyard, func(_ *gear.Item, m *gear.Model) bool { return m.LengthM <= 0.7 })
	t.carry(p, gear.Lanyard, func(_ *gear.Item, m *gear.Model) bool { return m.LengthM > 0.7 })
}

// locking reports a connector whose gate locks.
func locking(_ *gear.Item, m *gear.Model) bool { return m.Connector.Locks() }

// hold makes the hold of a descender on the main or of a backup device on the backup.
func (t *taking) hold(role rig.HoldRole, persons int) rig.Hold {
	class, on, point, above := gear.Descender, 0, gear.Ventral, quantity.Metres(0.15)
	if role == rig.ToBackUp {
		class, on, point, above = gear.BackupDevice, 1, gear.Sternal, 0.35
	}
	rope := item(t.d, t.d.Strands[on].Ropes[0])
	if rope == nil {
		return rig.Hold{}
	}
	ropeModel := t.models[rope.Model]
	mm, _ := gear.Diameter(rope, ropeModel)
	takes := func(g *gear.Mode) bool { return g.Persons == persons && g.Takes(ropeModel.Rope.Construction, mm) }
	device, m := t.take(class, func(_ *gear.Item, m *gear.Model) bool {
		return slices.ContainsFunc(m.Device.Modes, func(g gear.Mode) bool { return takes(&g) })
	})
	if m.Device == nil {
		return rig.Hold{}
	}
	mode := find(m.Device.Modes, takes)
	h := rig.Hold{Strand: t.d.Strands[on].ID, Device: device.ID, Mode: mode.Name, Point: point, AboveM: above, Threaded: rig.ThreadedRight}
	h.ExtraFriction = mode.Needs == gear.ExtraFriction
	parked := role == rig.ToDescend
	rest := find(m.Device.Positions, func(p *gear.Position) bool { return p.HandsOff == gear.Stops && p.Parked == parked })
	if rest == nil {
		rest = find(m.Device.Positions, func(p *gear.Position) bool { return p.HandsOff == gear.Stops })
	}
	if rest != nil {
		h.Position = rest.Name
	}
	if m.Device.Sides != nil {
		h.Leaves = &rig.Leaves{Side: m.Device.Sides.Riding, SeenFrom: "front"}
	}
	t.links(&h, m, persons)
	return h
}

// links connects a device to the harness, by what its list allows.
func (t *taking) links(h *rig.Hold, m *gear.Model, persons int) {
	add := func(i *gear.Item, _ *gear.Model) { h.Links = append(h.Links, rig.Link{Item: i.ID}) }
	add(t.take(gear.Connector, locking))
	if m.Backup == nil || len(m.Backup.Links) == 0 {
		return
	}
	for _, l := range shuffled(t.rnd, m.Backup.Links) {
		of := t.models[l.Model]
		if of == nil || of.LengthM > l.MaxM || persons > 1 && of.Absorber != nil && of.Absorber.MaxKg < 170 || !slices.ContainsFunc(t.left, func(i gear.Item) bool { return i.Model == l.Model }) {
			continue
		}
		add(t.take(of.Class, func(i *gear.Item, _ *gear.Model) bool { return i.Model == l.Model }))
		add(t.take(gear.Connector, locking))
		return
	}
	t.err = cmp.Or(t.err, refused("/gear", "the store has no link of the list of %s", m.Title()))
}

// team rigs a lower with two brakes.
func (t *taking) team() {
	persons := 1 + t.rnd.IntN(2)
	load := rig.TeamLoad{Name: "one person in a harness", MassKg: quantity.Kilograms(80 + t.rnd.IntN(20)), Persons: 1}
	if persons == 2 {
		load = rig.TeamLoad{Name: "the stretcher with its attendant", MassKg: quantity.Kilograms(150 + t.rnd.IntN(30)), Persons: 2, Stretcher: true}
	}
	tr := &rig.TeamRig{Load: load, Operators: []string{"the first operator", "the second operator", "the third operator"}, Haulers: 3, RunM: 6}
	for i, l := range []*rig.TeamLine{&tr.Main, &tr.Belay} {
		rope := item(t.d, t.d.Strands[i].Ropes[0])
		brake, _ := t.take(gear.AnchorBrake, func(_ *gear.Item, m *gear.Model) bool {
			mode := rig.ModeFor(m.Device, persons)
			return rope != nil && mode != nil && mode.MaxKg >= load.MassKg
		})
		connector, _ := t.take(gear.Connector, locking)
		*l = rig.TeamLine{Strand: t.d.Strands[i].ID, Brake: brake.ID, Connector: connector.ID}
	}
	if t.rnd.IntN(2) == 0 {
		tr.Main.KnotsM = []quantity.Metres{quantity.Metres(6 + t.rnd.IntN(8))}
	}
	for _, want := range []struct {
		class gear.Class
		n     int
	}{{gear.Pulley, 3}, {gear.RopeGrab, 1}, {gear.Hitch, 1}, {gear.Connector, 6}} {
		for range want.n {
			fits := locking
			if want.class != gear.Connector {
				fits = nil
			}
			i, _ := t.take(want.class, fits)
			tr.Kit = append(tr.Kit, i.ID)
		}
	}
	gloves, _ := t.take(gear.Gloves, nil)
	tr.Kit = append(tr.Kit, gloves.ID)
	t.d.Team = tr
}
