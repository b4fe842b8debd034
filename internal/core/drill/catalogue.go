package drill

import (
	"cmp"
	"slices"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// planted is a kind of fault: how it gets onto a sound rig, and what the rules must say.
type planted struct {
	// what is the fault in the words by which people point at it.
	what string
	// rule must fire, follows may.
	rule    string
	follows []string
	// rare: it is in a place where nobody looks, or everybody forgets to.
	rare bool
	// places are the changes that plant it, each at one place of the rig.
	places func(r *rig.Rig) []change
}

// change plants a fault on a drop that may be changed.
type change func(d *drop.Document)

// catalogue are all faults of rigs; those that only the rules of steps see are planted in
// lists of steps.
var catalogue = []planted{
	{what: "it is loaded the wrong way round", rule: "device.direction", follows: []string{"points.two"}, places: onHolds(any_, func(h *rig.Hold) { h.Threaded = rig.ThreadedReversed })},
	{what: "the rope is not on its path", rule: "device.direction", follows: []string{"points.two"}, places: onHolds(any_, func(h *rig.Hold) { h.Threaded = rig.ThreadedWrong })},
	{what: "a side plate or catch is open", rule: "device.open", follows: []string{"points.two"}, places: onHolds(any_, func(h *rig.Hold) { h.Open = true })},
	{what: "a gate is open", rule: "connector.gate", follows: []string{"points.two", "load.margin"}, places: onGates(rig.GateOpen)},
	{what: "a gate is shut and not locked", rule: "connector.gate", places: onGates(rig.GateShut), rare: true},
	{what: "a connector is loaded across", rule: "connector.cross", follows: []string{"load.margin"}, places: onLinks(func(l *rig.Link) { l.Lie = rig.LieAcross })},
	{what: "it is left in a position that does not hold", rule: "device.mode", follows: []string{"points.two"}, places: leftRunning},
	{what: "the wheel is still parked", rule: "device.park-before-descent", places: leftParked, rare: true},
	{what: "the backup is low", rule: "device.height", follows: []string{"fall.clearance", "force.arrest", "load.teeth", "device.foul"}, places: onHolds(backsUp, func(h *rig.Hold) { h.AboveM = -0.4 })},
	{what: "the backup hangs from a point that is not for fall arrest", rule: "device.point", follows: []string{"device.height", "fall.clearance", "device.foul"}, places: onHolds(backsUp, func(h *rig.Hold) { h.Point = gear.Lateral })},
	{what: "no stopper is at the end", rule: "rope.end-stop", follows: []string{"team.rope"}, places: ends(0.4, func(s *rig.Strand) { s.EndStop = rig.EndNone })},
	{what: "the rope is too thick", rule: "rope.diameter", places: measured(func(most, _ quantity.Millimetres) quantity.Millimetres { return most + 0.3 }), rare: true},
	{what: "the rope is too thin", rule: "rope.diameter", places: measured(func(_, least quantity.Millimetres) quantity.Millimetres { return least - 0.4 })},
	{what: "the friction for two is missing", rule: "load.two-person", follows: []string{"load.rated", "device.descent-limit"}, places: onHolds(bends, func(h *rig.Hold) { h.ExtraFriction = false })},
	{what: "it is set for one person, under two", rule: "load.two-person", follows: []string{"load.rated", "load.wll", "device.descent-limit", "rope.diameter"}, places: forOne, rare: true},
	{what: "both strands are on one bolt", rule: "anchor.shared", follows: []string{"points.two"}, places: oneBolt, rare: true},
	{what: "an anchor is too weak", rule: "load.margin", places: weakAnchor, rare: true},
	{what: "it sits on a knot", rule: "device.place", places: onKnot, rare: true},
	{what: "the legs are too wide", rule: "anchor.angle", follows: []string{"load.wll", "load.margin"}, places: wideLegs},
	{what: "damage is not taken out of the line", rule: "rope.damage", follows: []string{"points.two"}, places: damaged},
	{what: "the rope is too short", rule: "rope.short", follows: []string{"rope.end-stop", "team.rope"}, places: ends(-2, func(*rig.Strand) {}), rare: true},
	{what: "the lanyard or absorber is too long, or not on its list", rule: "device.lanyard", follows: []string{"fall.clearance", "force.arrest", "load.rated", "load.margin", "connector.gate", "load.teeth", "link.missing"}, places: longer},
	{what: "a connector more is in its hole than goes in", rule: "link.hole", follows: []string{"connector.gate"}, places: twoInHole, rare: true},
	{what: "the sharp edge is bare", rule: "edge.bare", follows: []string{"load.margin"}, places: bareEdge},
	{what: "the examination is overdue", rule: "service.examination", places: onItems(func(i *gear.Item, day gear.Date) { i.ExaminedOn = day.AddMonths(-30) }), rare: true},
	{what: "it had a shock load, and no check since", rule: "service.event", places: onItems(func(i *gear.Item, day gear.Date) {
		i.Events = []gear.Event{{Kind: "shock-load", On: day.AddDays(-3), Note: "caught a fall"}}
	}), rare: true},
	{what: "it is quarantined", rule: "service.quarantine", follows: []string{"points.two"}, places: onItems(func(i *gear.Item, _ gear.Date) { i.State, i.Reason = gear.Quarantine, "set aside" }), rare: true},
	{what: "nobody has checked its function today", rule: "service.function-check", places: unchecked},
	{what: "who hangs on it is too heavy for it", rule: "load.rated", follows: []string{"load.wll", "load.margin", "force.arrest", "fall.clearance", "load.teeth", "device.descent-limit", "wind.slack"}, places: heavy, rare: true},
	{what: "the strand leaves it on the side for a device at the anchor", rule: "device.turned", places: onHolds(func(h *rig.HoldView) bool { return h.Leaves != nil }, func(h *rig.Hold) {
		h.Leaves = &rig.Leaves{Side: h.Leaves.Side.Other(), SeenFrom: h.Leaves.SeenFrom}
	}), rare: true},
	{what: "one operator is at two brakes", rule: "team.operator", places: oneOperator},
}

// looks are the rules whose faults may be looks: a rig of an exercise has none of them that is
// not planted.
var looks = []string{"connector.cross", "load.two-person", "device.turned", "rope.short"}

// pointedAt are the kinds of thing that a fault may be pointed out at.
var pointedAt = map[string][]finding.Kind{
	"device.direction": {finding.Hold}, "device.open": {finding.Hold}, "device.mode": {finding.Hold}, "device.park-before-descent": {finding.Hold},
	"device.height": {finding.Hold}, "device.point": {finding.Hold}, "device.turned": {finding.Hold}, "load.two-person": {finding.Hold},
	"connector.gate": {finding.Item}, "connector.cross": {finding.Item}, "device.lanyard": {finding.Item, finding.Hold}, "link.hole": {finding.Item, finding.Hold},
	"rope.end-stop": {finding.Strand}, "rope.short": {finding.Strand}, "rope.diameter": {finding.Strand, finding.Hold}, "rope.damage": {finding.Mark, finding.Strand},
	"anchor.shared": {finding.Anchor, finding.Strand}, "anchor.angle": {finding.Anchor}, "edge.bare": {finding.Edge},
	"service.examination": {finding.Item, finding.Hold, finding.Strand}, "service.event": {finding.Item, finding.Hold, finding.Strand}, "service.quarantine": {finding.Item, finding.Hold, finding.Strand},
	"service.function-check": {finding.Hold}, "load.rated": {finding.Hold, finding.Person}, "team.operator": {finding.Person},
	"load.margin": {finding.Anchor}, "device.place": {finding.Hold, finding.Mark},
}

// any_ is every hold.
func any_(*rig.HoldView) bool { return true }

func backsUp(h *rig.HoldView) bool { return h.Role() == rig.ToBackUp }

func bends(h *rig.HoldView) bool {
	return h.SecondKg > 0 && h.ExtraFriction && h.Mode.Needs == gear.ExtraFriction
}

// hold finds a hold of a person by its id.
func hold(d *drop.Document, id string) *rig.Hold {
	for i := range d.People {
		for j := range d.People[i].Holds {
			if h := &d.People[i].Holds[j]; h.ID == id {
				return h
			}
		}
	}
	panic("no hold " + id)
}

func find[T any](list []T, is func(*T) bool) *T {
	for i := range list {
		if is(&list[i]) {
			return &list[i]
		}
	}
	return nil
}

func item(d *drop.Document, id string) *gear.Item {
	return find(d.Items, func(i *gear.Item) bool { return i.ID == id })
}

func strand(d *drop.Document, id string) *rig.Strand {
	return find(d.Strands, func(s *rig.Strand) bool { return s.ID == id })
}

// personHolds are the holds of people.
func personHolds(r *rig.Rig) (list []*rig.HoldView) {
	for _, p := range r.People {
		list = append(list, p.Holds...)
	}
	return list
}

func onHolds(fits func(*rig.HoldView) bool, plant func(*rig.Hold)) func(*rig.Rig) []change {
	return func(r *rig.Rig) (list []change) {
		for _, h := range personHolds(r) {
			if fits(h) {
				list = append(list, func(d *drop.Document) { plant(hold(d, h.ID)) })
			}
		}
		return list
	}
}

// onLinks are the connectors of holds.
func onLinks(plant func(*rig.Link)) func(*rig.Rig) []change {
	return func(r *rig.Rig) (list []change) {
		for _, h := range personHolds(r) {
			for n := range h.Links {
				if h.Links[n].Model.Connector != nil {
					list = append(list, func(d *drop.Document) { plant(&hold(d, h.ID).Links[n]) })
				}
			}
		}
		return list
	}
}

func onGates(g rig.Gate) func(*rig.Rig) []change {
	return onLinks(func(l *rig.Link) { l.Gate = g })
}

// position leaves a hold in a position of its model.
func position(fits func(*rig.HoldView, *gear.Position) bool) func(*rig.Rig) []change {
	return func(r *rig.Rig) (list []change) {
		for _, h := range personHolds(r) {
			for i := range h.Device.Model.Device.Positions {
				if p := &h.Device.Model.Device.Positions[i]; fits(h, p) {
					list = append(list, func(d *drop.Document) { hold(d, h.ID).Position = p.Name })
				}
			}
		}
		return list
	}
}

var (
	leftRunning = position(func(_ *rig.HoldView, p *gear.Position) bool { return p.HandsOff != gear.Stops })
	leftParked  = position(func(h *rig.HoldView, p *gear.Position) bool {
		b := h.Device.Model.Backup
		return b != nil && b.UnparkBeforeDescent && p.Parked
	})
)

// ends leaves a strand of one rope with so much of it to spare at the landing.
func ends(spare quantity.Metres, plant func(*rig.Strand)) func(*rig.Rig) []change {
	return func(r *rig.Rig) (list []change) {
		for _, s := range r.Strands {
			if len(s.Ropes) != 1 || s.EndStop == rig.EndNone || s.Length.SpareM <= spare {
				continue
			}
			id, length := s.Ropes[0].Item.ID, s.Ropes[0].Item.LengthM-s.Length.SpareM+spare
			list = append(list, func(d *drop.Document) {
				item(d, id).LengthM = quantity.Metres(float64(int(length*10)) / 10)
				plant(strand(d, s.ID))
			})
		}
		return list
	}
}

// measured gives the rope of a hold another measured diameter, by what its mode takes.
func measured(as func(most, least quantity.Millimetres) quantity.Millimetres) func(*rig.Rig) []change {
	return func(r *rig.Rig) (list []change) {
		for _, h := range r.EveryHold() {
			for _, rope := range h.Strand.Ropes {
				var least, most quantity.Millimetres
				for _, g := range h.Mode.Ranges(rope.Model.Rope.Construction) {
					most = max(most, g.MaxMM)
					least = min(cmp.Or(least, g.MinMM), g.MinMM)
				}
				mm, id := as(most, least), rope.Item.ID
				list = append(list, func(d *drop.Document) { item(d, id).MeasuredMM = mm })
			}
		}
		return list
	}
}

// forOne sets what bears two for one person.
func forOne(r *rig.Rig) (list []change) {
	for _, h := range personHolds(r) {
		for i := range h.Device.Model.Device.Modes {
			if m := &h.Device.Model.Device.Modes[i]; h.SecondKg > 0 && h.Mode.Persons == 2 && m.Persons == 1 {
				list = append(list, func(d *drop.Document) { hold(d, h.ID).Mode = m.Name })
			}
		}
	}
	return list
}

// weakAnchor has the legs of one anchor hold too little for a body, where they hang now or come to
// hang.
func weakAnchor(r *rig.Rig) (list []change) {
	if len(r.People) == 0 {
		return nil
	}
	for i := range r.Anchors {
		list = append(list, func(d *drop.Document) {
			for j := range d.Anchors[i].Legs {
				d.Anchors[i].Legs[j].StrengthKN = 1.5
			}
		})
	}
	return list
}

// onKnot puts a knot to where a device is.
func onKnot(r *rig.Rig) (list []change) {
	for _, h := range r.EveryHold() {
		for i := range h.Strand.Marks {
			if m := &h.Strand.Marks[i]; m.Kind == rig.KnotMark && m.Isolates == "" {
				at := h.HeightM() + 0.03
				list = append(list, func(d *drop.Document) { strand(d, h.Strand.ID).Marks[i].HeightM = at })
			}
		}
	}
	return list
}

// oneBolt hangs main and backup of a set from one leg of the main's anchor.
func oneBolt(r *rig.Rig) (list []change) {
	for _, b := range r.Strands {
		for _, m := range r.Strands {
			if b.Role != rig.Backup || m.Role != rig.Main || m.Set != b.Set || len(b.Anchors) != 1 || len(m.Anchors) != 1 {
				continue
			}
			of, from := b.Anchors[0].ID, m.Anchors[0].ID
			list = append(list, func(d *drop.Document) {
				bolt := slices.Clone(anchor(d, from).Legs[:1])
				anchor(d, from).Legs, anchor(d, of).Legs = bolt, slices.Clone(bolt)
			})
		}
	}
	return list
}

func anchor(d *drop.Document, id string) *rig.Anchor {
	return find(d.Anchors, func(a *rig.Anchor) bool { return a.ID == id })
}

func wideLegs(r *rig.Rig) (list []change) {
	for _, a := range r.Anchors {
		if len(a.Legs) == 2 {
			list = append(list, func(d *drop.Document) {
				legs := anchor(d, a.ID).Legs
				legs[0].XM, legs[0].YM, legs[1].XM, legs[1].YM = -1.2, 0.4, 1.2, 0.4
			})
		}
	}
	return list
}

// damaged leaves damage on a strand, between marks: new, or with its knot forgotten.
func damaged(r *rig.Rig) (list []change) {
	for _, s := range r.Strands {
		for n := range s.Marks {
			if s.Marks[n].Isolates != "" {
				list = append(list, func(d *drop.Document) { marks := strand(d, s.ID); marks.Marks = slices.Delete(marks.Marks, n, n+1) })
			}
		}
		at := quantity.Metres(float64(int(s.ToM + (r.Geometry.TopM-s.ToM)/4)))
		list = append(list, func(d *drop.Document) {
			st := strand(d, s.ID)
			st.Marks = append(st.Marks, rig.Mark{ID: "sheath", Kind: rig.DamageMark, Name: "chafed sheath", HeightM: at})
		})
	}
	return list
}

// longer puts a lanyard that is carried between a backup device and its first link.
func longer(r *rig.Rig) (list []change) {
	for _, p := range r.People {
		for _, h := range p.Holds {
			if h.Role() != rig.ToBackUp {
				continue
			}
			for _, c := range p.Carries {
				if c.Model.Class == gear.Lanyard || c.Model.Class == gear.Absorber {
					list = append(list, func(d *drop.Document) {
						drops(d, p.ID, c.Item.ID)
						to := hold(d, h.ID)
						at := slices.IndexFunc(to.Links, func(l rig.Link) bool { return r.Piece(l.Item).Model.Connector == nil })
						if at < 0 {
							at = len(to.Links)
							to.Links = append(to.Links, rig.Link{})
						}
						to.Links[at] = rig.Link{Item: c.Item.ID}
					})
				}
			}
		}
	}
	return list
}

// drops takes an item out of what somebody carries.
func drops(d *drop.Document, person, id string) {
	p := find(d.People, func(p *rig.Person) bool { return p.ID == person })
	p.Carries = slices.DeleteFunc(p.Carries, func(i string) bool { return i == id })
}

// twoInHole puts a connector that is carried beside the one in a device.
func twoInHole(r *rig.Rig) (list []change) {
	for _, p := range r.People {
		for _, h := range p.Holds {
			for _, c := range p.Carries {
				if c.Model.Connector != nil && len(h.Links) > 0 {
					list = append(list, func(d *drop.Document) {
						drops(d, p.ID, c.Item.ID)
						to := hold(d, h.ID)
						to.Links = slices.Insert(to.Links, 1, rig.Link{Item: c.Item.ID})
					})
					break
				}
			}
		}
	}
	return list
}

func bareEdge(r *rig.Rig) (list []change) {
	for n := range r.Geometry.Edges {
		list = append(list, func(d *drop.Document) { d.Geometry.Edges[n].Protection, d.Geometry.Edges[n].Sharp = "none", true })
	}
	return list
}

// onItems changes what is in use.
func onItems(plant func(*gear.Item, gear.Date)) func(*rig.Rig) []change {
	return func(r *rig.Rig) (list []change) {
		var seen []string
		add := func(id string) {
			if !slices.Contains(seen, id) {
				seen = append(seen, id)
				list = append(list, func(d *drop.Document) { plant(item(d, id), d.Day) })
			}
		}
		for _, h := range r.EveryHold() {
			add(h.Device.Item.ID)
			for _, l := range h.Links {
				add(l.Item.ID)
			}
			for _, rope := range h.Strand.Ropes {
				add(rope.Item.ID)
			}
		}
		return list
	}
}

func unchecked(r *rig.Rig) (list []change) {
	for _, h := range r.EveryHold() {
		id := h.Device.Item.ID
		list = append(list, func(d *drop.Document) {
			d.Checks = slices.DeleteFunc(d.Checks, func(c rig.FunctionCheck) bool { return c.Item == id })
		})
	}
	return list
}

// heavy gives somebody who hangs more than what they hang on takes.
func heavy(r *rig.Rig) (list []change) {
	for _, p := range r.People {
		var most quantity.Kilograms
		for _, h := range p.Holds {
			if h.Mode.Persons == 1 && (most == 0 || h.Mode.MaxKg < most) {
				most = h.Mode.MaxKg
			}
		}
		if most > 0 {
			list = append(list, func(d *drop.Document) {
				find(d.People, func(o *rig.Person) bool { return o.ID == p.ID }).MassKg = most + 6
			})
		}
	}
	return list
}

func oneOperator(r *rig.Rig) []change {
	if r.Team == nil || len(r.Team.Hands()) < 2 {
		return nil
	}
	return []change{func(d *drop.Document) { d.Team.Operators = d.Team.Operators[:1] }}
}
