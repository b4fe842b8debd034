package rig

import (
	"fmt"
	"slices"
	"strconv"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/strict"
)

// Parts is everything that a rig is resolved from.
type Parts struct {
	Day      gear.Date
	WindMS   quantity.MetresPerSecond
	Geometry Geometry
	Anchors  []Anchor
	Strands  []Strand
	People   []Person
	Models   []gear.Model
	Items    []gear.Item
	Checks   []FunctionCheck
	Partner  []PartnerCheck
	Worn     []WornCheck
	Team     *TeamRig
	Rescue   *Rescue
}

// Rig is a drop with its names tied to things. It is read only.
type Rig struct {
	Day      gear.Date
	WindMS   quantity.MetresPerSecond
	Geometry *Geometry
	Anchors  []*AnchorView
	Strands  []*StrandView
	People   []*PersonView
	// Team is what is rigged for lowering and raising; nil for nothing.
	Team *TeamView
	// Rescue is how people are got down; nil where nothing is planned.
	Rescue *RescueView
	Pieces []*Piece
	Checks []FunctionCheck
	// PartnerChecks are those of people who are on the drop.
	PartnerChecks []PartnerCheck
	// WornChecks are in the order in which they were done.
	WornChecks []WornCheck

	pieces map[string]*Piece
}

// Piece gives an item with its model by the item's id.
func (r *Rig) Piece(id string) *Piece { return r.pieces[id] }

// Anchor gives an anchor by its id; nil for none.
func (r *Rig) Anchor(id string) *AnchorView {
	for _, a := range r.Anchors {
		if a.ID == id {
			return a
		}
	}
	return nil
}

// Resolve ties names to things. Names that lead nowhere, ids given twice and
// things that cannot be where they are said to be are reported to p, and the
// rig must then not be used.
func Resolve(parts *Parts, p *strict.Faults) *Rig {
	r := &resolver{p: p, rig: &Rig{
		Day: parts.Day, WindMS: parts.WindMS, Geometry: &parts.Geometry, Checks: parts.Checks, PartnerChecks: parts.Partner, WornChecks: parts.Worn,
		Pieces: make([]*Piece, 0, len(parts.Items)), pieces: make(map[string]*Piece, len(parts.Items)),
	}}
	models := r.models(parts.Models)
	r.items(parts.Items, models)
	anchors := r.anchors(parts.Anchors)
	strands := r.strands(parts.Strands, anchors)
	used := make(map[string]string, len(r.rig.pieces))
	r.people(parts.People, strands, used)
	r.team(parts.Team, strands, used)
	r.rescue(parts.Rescue)
	r.geometry(&parts.Geometry)
	for i, c := range parts.Checks {
		r.piece(c.Item, entry("", "checks", i)+"/item")
		r.rope(c.Rope, entry("", "checks", i)+"/rope")
	}
	for i, c := range parts.Worn {
		for j, w := range c.Items {
			r.piece(w.Item, entry(entry("", "worn_checks", i), "items", j)+"/item")
		}
	}
	return r.rig
}

// entry is the JSON Pointer of an entry of a list.
func entry(parent, list string, i int) string { return parent + "/" + list + "/" + strconv.Itoa(i) }

type resolver struct {
	rig *Rig
	p   *strict.Faults
}

// ids remembers the ids of one list and reports those given twice.
type ids map[string]bool

func (r *resolver) unique(seen ids, id, at string) {
	if seen[id] {
		r.p.Addf(at+"/id", "%q is given twice", id)
	}
	seen[id] = true
}

func (r *resolver) models(list []gear.Model) map[string]*gear.Model {
	byID := make(map[string]*gear.Model, len(list))
	seen := ids{}
	for i := range list {
		m, at := &list[i], entry("", "models", i)
		r.unique(seen, m.ID, at)
		m.Validate(at, r.p)
		byID[m.ID] = m
	}
	return byID
}

func (r *resolver) items(list []gear.Item, models map[string]*gear.Model) {
	seen := make(ids, len(list))
	for i := range list {
		item, at := &list[i], entry("", "items", i)
		r.unique(seen, item.ID, at)
		m := models[item.Model]
		if m == nil {
			r.p.Addf(at+"/model", "no model %q in this document", item.Model)
			continue
		}
		item.Validate(m, at, r.p)
		piece := &Piece{Item: item, Model: m}
		r.rig.pieces[item.ID] = piece
		r.rig.Pieces = append(r.rig.Pieces, piece)
	}
}

func (r *resolver) piece(id, at string) *Piece {
	p := r.rig.pieces[id]
	if p == nil {
		r.p.Addf(at, "no item %q in this document", id)
	}
	return p
}

func (r *resolver) rope(id, at string) *Piece {
	p := r.piece(id, at)
	if p != nil && p.Model.Rope == nil {
		r.p.Addf(at, "%s is a %s, not a rope", p.Item.Label, p.Model.Class.Words())
		return nil
	}
	return p
}

func (r *resolver) anchors(list []Anchor) map[string]*AnchorView {
	byID := make(map[string]*AnchorView, len(list))
	seen := ids{}
	for i := range list {
		a, at := &list[i], entry("", "anchors", i)
		r.unique(seen, a.ID, at)
		legs := ids{}
		for j, l := range a.Legs {
			r.unique(legs, l.ID, entry(at, "legs", j))
			if l.XM == 0 && l.YM == 0 && l.ZM == 0 {
				r.p.Addf(entry(at, "legs", j), "leg %s has no length", l.ID)
			}
		}
		v := &AnchorView{Anchor: a}
		byID[a.ID] = v
		r.rig.Anchors = append(r.rig.Anchors, v)
	}
	return byID
}

func (r *resolver) strands(list []Strand, anchors map[string]*AnchorView) map[string]*StrandView {
	byID := make(map[string]*StrandView, len(list))
	seen, roles := ids{}, ids{}
	for i := range list {
		s, at := &list[i], entry("", "strands", i)
		r.unique(seen, s.ID, at)
		if role := fmt.Sprint(s.Role, s.Set); roles[role] {
			r.p.Addf(at+"/role", "set %d already has a %s strand", s.Set, s.Role)
		} else {
			roles[role] = true
		}
		v := &StrandView{Strand: s}
		for j, id := range s.Anchors {
			if a := r.anchor(anchors, id, entry(at, "anchors", j)); a != nil {
				v.Anchors = append(v.Anchors, a)
			}
		}
		r.marks(v, at, anchors)
		r.ropes(v, at)
		if len(v.Anchors) > 0 {
			r.sections(v, anchors)
		}
		byID[s.ID] = v
		r.rig.Strands = append(r.rig.Strands, v)
	}
	return byID
}

func (r *resolver) anchor(anchors map[string]*AnchorView, id, at string) *AnchorView {
	a := anchors[id]
	if a == nil {
		r.p.Addf(at, "no anchor %q in this document", id)
	}
	return a
}

func (r *resolver) marks(v *StrandView, at string, anchors map[string]*AnchorView) {
	seen := ids{}
	for j := range v.Marks {
		m, where := &v.Marks[j], entry(at, "marks", j)
		r.unique(seen, m.ID, where)
		switch needs := m.Kind == RebelayMark || m.Kind == DeviationMark; {
		case needs:
			r.anchor(anchors, m.Anchor, where+"/anchor")
		case m.Anchor != "":
			r.p.Addf(where+"/anchor", "a %s has no anchor", m.Kind)
		}
		if m.Isolates != "" && !slices.ContainsFunc(v.Marks, func(d Mark) bool { return d.ID == m.Isolates && d.Kind == DamageMark }) {
			r.p.Addf(where+"/isolates", "no damage %q on this strand", m.Isolates)
		}
		if m.Isolates != "" && m.Kind != KnotMark {
			r.p.Addf(where+"/isolates", "only a knot isolates damage")
		}
		if len(v.Anchors) > 0 && m.HeightM > v.TopM() {
			r.p.Addf(where+"/height_m", "%v is above the anchor at %v", m.HeightM, v.TopM())
		}
	}
}

// ropes gives each rope of a joined strand the heights between which it hangs.
func (r *resolver) ropes(v *StrandView, at string) {
	joins := v.joins()
	if len(v.Strand.Ropes) != len(joins)+1 {
		r.p.Addf(at+"/ropes", "%d ropes need %d join marks, there are %d", len(v.Strand.Ropes), len(v.Strand.Ropes)-1, len(joins))
		return
	}
	if len(v.Anchors) == 0 {
		return
	}
	top := v.TopM()
	for j, id := range v.Strand.Ropes {
		bottom := quantity.Metres(0)
		if j < len(joins) {
			bottom = joins[j].HeightM
		}
		if p := r.rope(id, entry(at, "ropes", j)); p != nil {
			v.Ropes = append(v.Ropes, RopePart{Piece: p, TopM: top, BottomM: bottom})
		}
		top = bottom
	}
}

func (r *resolver) sections(v *StrandView, anchors map[string]*AnchorView) {
	v.Sections = []Section{{TopM: v.TopM(), Anchors: v.Anchors}}
	for _, m := range v.marksOf(RebelayMark) {
		if a := anchors[m.Anchor]; a != nil {
			v.Sections = append(v.Sections, Section{TopM: m.HeightM, Anchors: []*AnchorView{a}, Mark: &m})
		}
	}
}

func (r *resolver) people(list []Person, strands map[string]*StrandView, used map[string]string) {
	seen := ids{}
	for i := range list {
		p, at := &list[i], entry("", "people", i)
		r.unique(seen, p.ID, at)
		v := &PersonView{Person: p}
		if p.Harness != "" {
			r.use(used, p.Harness, at+"/harness")
			if v.Harness = r.piece(p.Harness, at+"/harness"); v.Harness != nil && v.Harness.Model.Harness == nil {
				r.p.Addf(at+"/harness", "%s is a %s, not a harness", v.Harness.Item.Label, v.Harness.Model.Class.Words())
			}
		}
		for j, id := range p.Carries {
			where := entry(at, "carries", j)
			r.use(used, id, where)
			if piece := r.piece(id, where); piece != nil {
				v.Carries = append(v.Carries, piece)
			}
		}
		holds := ids{}
		for j := range p.Holds {
			where := entry(at, "holds", j)
			r.unique(holds, p.Holds[j].ID, where)
			r.hold(v, &p.Holds[j], where, strands, used)
		}
		if p.AtM > r.rig.Geometry.TopM+3 {
			r.p.Addf(at+"/at_m", "%v is above the top at %v", p.AtM, r.rig.Geometry.TopM)
		}
		v.All = v.all()
		r.rig.People = append(r.rig.People, v)
	}
}

// use reports an item that is in two places at once.
func (r *resolver) use(used map[string]string, id, at string) {
	if other, ok := used[id]; ok {
		r.p.Addf(at, "item %q is already at %s", id, other)
	}
	used[id] = at
}

func (r *resolver) hold(v *PersonView, h *Hold, at string, strands map[string]*StrandView, used map[string]string) {
	view := &HoldView{Hold: h, Person: v, Strand: strands[h.Strand]}
	if view.Strand == nil {
		r.p.Addf(at+"/strand", "no strand %q in this document", h.Strand)
	}
	r.use(used, h.Device, at+"/device")
	if view.Device = r.piece(h.Device, at+"/device"); view.Device != nil {
		r.device(view, at)
	}
	for k := range h.Links {
		where := entry(at, "links", k)
		l := &h.Links[k]
		r.use(used, l.Item, where+"/item")
		piece := r.piece(l.Item, where+"/item")
		if piece == nil {
			continue
		}
		if !piece.Model.Class.Links() {
			r.p.Addf(where+"/item", "%s is a %s; between a device and a harness the rules know connectors, lanyards, slings and absorbers", piece.Item.Label, piece.Model.Class.Words())
		}
		if piece.Model.Connector == nil && (l.Gate != "" || l.Lie != "") {
			r.p.Addf(where, "gate and lie belong to connectors; %s is a %s", piece.Item.Label, piece.Model.Class.Words())
		}
		view.Links = append(view.Links, LinkView{Link: l, Piece: piece})
	}
	v.Holds = append(v.Holds, view)
}

func (r *resolver) device(h *HoldView, at string) {
	d := h.Device.Model.Device
	if d == nil {
		r.p.Addf(at+"/device", "%s is a %s and cannot be put on a rope", h.Device.Item.Label, h.Device.Model.Class.Words())
		return
	}
	if h.Mode = d.Mode(h.Hold.Mode); h.Mode == nil {
		r.p.Addf(at+"/mode", "%q is not a mode of %s", h.Hold.Mode, h.Device.Model.Title())
	}
	if h.Position = d.Position(h.Hold.Position); h.Position == nil {
		r.p.Addf(at+"/position", "%q is not a position of %s", h.Hold.Position, h.Device.Model.Title())
	}
}

func (r *resolver) geometry(g *Geometry) {
	seen := ids{}
	for i, l := range g.Ledges {
		r.unique(seen, l.ID, entry("", "geometry/ledges", i))
		if l.HeightM > g.TopM {
			r.p.Addf(entry("", "geometry/ledges", i)+"/height_m", "above the top at %v", g.TopM)
		}
	}
	for i, e := range g.Edges {
		r.unique(seen, e.ID, entry("", "geometry/edges", i))
		if e.HeightM > g.TopM+3 {
			r.p.Addf(entry("", "geometry/edges", i)+"/height_m", "above the top at %v", g.TopM)
		}
	}
}
