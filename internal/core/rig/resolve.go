package rig

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"

	"zealousknot/internal/core/finding"
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

	pieces map[string]*Piece
}

// Piece is an item with its model.
type Piece struct {
	Item  *gear.Item
	Model *gear.Model
}

// AnchorView is an anchor with the figures computed for it.
type AnchorView struct {
	*Anchor
	// WidestAngle is the widest angle between two of its taut legs.
	WidestAngle quantity.Degrees
	// Parts is the tension of each leg as a part of the load; nil where it cannot
	// be told, and Untold then says why.
	Parts   []quantity.Ratio
	Untold  string
	Working func() []finding.Working
}

// Part is the tension of a leg as a part of the load on the anchor; where it
// cannot be told, the whole load.
func (a *AnchorView) Part(leg int) quantity.Ratio {
	if a.Parts == nil {
		return 1
	}
	return a.Parts[leg]
}

// StrandView is a strand with its ropes and anchors.
type StrandView struct {
	*Strand
	Anchors []*AnchorView
	Ropes   []RopePart
	// Sections are the stretches between the anchor and each re-belay.
	Sections []Section
	Length   *LengthFigures
}

// IsolatesWithin is how far from damage the knot that takes it out of the line is at
// most: a long loop, no more.
const IsolatesWithin quantity.Metres = 1

// Isolated reports whether a knot takes damage out of the line: one that names it, and
// is where it is.
func (s *StrandView) Isolated(damage string) bool {
	const hair = 1e-9 // heights that are written alike may differ by it
	for _, d := range s.Marks {
		if d.ID != damage {
			continue
		}
		for _, m := range s.Marks {
			if m.Isolates == damage && max(m.HeightM-d.HeightM, d.HeightM-m.HeightM) <= IsolatesWithin+hair {
				return true
			}
		}
	}
	return false
}

// RopePart is one rope of a strand and the heights between which it hangs.
type RopePart struct {
	*Piece
	TopM, BottomM quantity.Metres
}

// Section is the part of a strand below one of its anchors.
type Section struct {
	TopM    quantity.Metres
	Anchors []*AnchorView
	// Mark is the re-belay it starts at, nil at the top of the strand.
	Mark *Mark
}

// LengthFigures say how far down a strand reaches.
type LengthFigures struct {
	// EndM is the height of its lower end, stretch left out.
	EndM quantity.Metres
	// SpareM is the rope beyond the lowest landing needed.
	SpareM  quantity.Metres
	Working func() []finding.Working
}

// PersonView is a person with their holds and kit.
type PersonView struct {
	*Person
	Holds   []*HoldView
	Carries []*Piece
	Harness *Piece
	// All is everything on the person, in holds, carried and worn, each once,
	// in the order of ids.
	All []*Piece
}

// HoldView is a hold with everything it names.
type HoldView struct {
	*Hold
	Person   *PersonView
	Strand   *StrandView
	Device   *Piece
	Mode     *gear.Mode
	Position *gear.Position
	Links    []LinkView
	Figures  HoldFigures
	// Knotted: knots run with the rope, beside the marks of its strand.
	Knotted bool
}

// LinkView is a link with its item.
type LinkView struct {
	Link *Link
	*Piece
}

// HoldFigures are the computed figures the rules on a hold compare. A nil
// pointer means that the figure could not be computed.
type HoldFigures struct {
	// WindSlack is the slack that the day's wind draws above the device; it is in
	// the fall already.
	WindSlack quantity.Metres
	// WindRuns: it takes the whole tail.
	WindRuns bool
	// PeakKN is the greatest force the hold may see if what else holds fails.
	Peak *Figure[quantity.Kilonewtons]
	// Clearance needed below the attachment in a fall onto this hold.
	ClearanceNeeded *Figure[quantity.Metres]
	// EndTemperature of the device after the longest descent of this drop.
	EndTemperature *Figure[quantity.Celsius]
	// Fastest is the fastest descent that keeps the device within what the ropes'
	// sheaths stand; nil where any speed does.
	Fastest *quantity.MetresPerSecond
}

// Figure is a computed quantity with its working.
type Figure[Q quantity.Quantity] struct {
	Value   Q
	Working func() []finding.Working
}

// Role is what the hold is for, from its class where it is not said.
func (h *HoldView) Role() HoldRole {
	if h.Hold.Role != "" {
		return h.Hold.Role
	}
	switch h.Device.Model.Class {
	case gear.BackupDevice:
		return ToBackUp
	case gear.HandAscender:
		return Third
	case gear.ChestAscender:
		return ToAscend
	default:
		return ToDescend
	}
}

// sternalM is how far the sternal and dorsal points are above the ventral one, in a
// body that hangs upright.
const sternalM quantity.Metres = 0.35

// PointHeight is the height of a harness point above the ventral one.
func PointHeight(p gear.Point) quantity.Metres {
	if p == gear.Sternal || p == gear.Dorsal {
		return sternalM
	}
	return 0
}

// HeightM is the height of the device.
func (h *HoldView) HeightM() quantity.Metres { return h.Person.AtM + PointHeight(h.Point) + h.AboveM }

// Second is the second person that the hold is to bear: the heaviest told on any
// hold of its person, since what one hold lets go of comes onto the others.
func (h *HoldView) Second() quantity.Kilograms {
	var most quantity.Kilograms
	for _, o := range h.Person.Holds {
		most = max(most, o.SecondKg)
	}
	return most
}

// Mass is what the hold is to bear.
func (h *HoldView) Mass() quantity.Kilograms { return h.Person.MassKg + h.Second() }

// Load is the weight of what the hold is to bear, at rest.
func (h *HoldView) Load() quantity.Kilonewtons { return quantity.Weight(h.Mass()) }

// LinksLength is the length of the hold's links from the device to the harness
// point: all of them, and without connectors. A connector whose model gives no
// length counts as the one given.
func (h *HoldView) LinksLength(connector quantity.Metres) (all, soft quantity.Metres) {
	for _, l := range h.Links {
		switch length := l.Model.LengthM; {
		case l.Model.Connector == nil:
			all, soft = all+length, soft+length
		case length == 0:
			all += connector
		default:
			all += length
		}
	}
	return all, soft
}

// Subject is the hold as findings name it.
func (h *HoldView) Subject() finding.Subject {
	return finding.Subject{
		Kind: finding.Hold, ID: h.ID, Label: h.Device.Item.Label, Person: h.Person.ID, Hold: h.ID,
		Strand: h.Strand.ID, Item: h.Device.Item.ID,
	}
}

// LinkSubject is one piece of a hold's load path as findings name it.
func (h *HoldView) LinkSubject(p *Piece) finding.Subject {
	s := h.Subject()
	s.Kind, s.ID, s.Label, s.Item = finding.Item, p.Item.ID, p.Item.Label, p.Item.ID
	return s
}

// Subject is the strand as findings name it.
func (s *StrandView) Subject() finding.Subject {
	return finding.Subject{Kind: finding.Strand, ID: s.ID, Label: s.Name, Strand: s.ID}
}

// RopeSubject is one rope of the strand as findings name it.
func (s *StrandView) RopeSubject(p *Piece) finding.Subject {
	return finding.Subject{Kind: finding.Strand, ID: s.ID, Label: p.Item.Label, Strand: s.ID, Item: p.Item.ID}
}

// Subject is the person as findings name them.
func (p *PersonView) Subject() finding.Subject {
	return finding.Subject{Kind: finding.Person, ID: p.ID, Label: p.Name, Person: p.ID}
}

// TopM is the height of the strand's anchor; of several, the highest.
func (s *StrandView) TopM() quantity.Metres {
	top := s.Anchors[0].HeightM
	for _, a := range s.Anchors {
		top = max(top, a.HeightM)
	}
	return top
}

// SectionAt is the section a device at a height hangs on.
func (s *StrandView) SectionAt(h quantity.Metres) Section {
	at := s.Sections[0]
	for _, sec := range s.Sections[1:] {
		if sec.TopM > h {
			at = sec
		}
	}
	return at
}

// Rope is what a stretch of a strand is made of, as one rope that stretches and
// weighs the same: of springs in series the mean elongation by length is that of
// the whole. The diameter is the greatest.
func (s *StrandView) Rope(top, bottom quantity.Metres) (elongation quantity.Percent, mass quantity.GramsPerMetre, diameter quantity.Millimetres) {
	var length quantity.Metres
	for _, r := range s.Ropes {
		part := min(top, r.TopM) - max(bottom, r.BottomM)
		if part <= 0 {
			continue
		}
		length += part
		elongation += r.Model.Rope.ElongationPct * quantity.Percent(part)
		mass += r.Model.Rope.MassGPerM * quantity.GramsPerMetre(part)
		d, _ := gear.Diameter(r.Item, r.Model)
		diameter = max(diameter, d)
	}
	if length == 0 {
		// At or beyond the ends: the lowest rope stands for all.
		last := s.Ropes[len(s.Ropes)-1]
		d, _ := gear.Diameter(last.Item, last.Model)
		return last.Model.Rope.ElongationPct, last.Model.Rope.MassGPerM, d
	}
	return elongation / quantity.Percent(length), mass / quantity.GramsPerMetre(length), diameter
}

// HangsTo is the height down to which the rope below a device at a height hangs
// free: the next re-belay, the lower end, or the ground.
func (s *StrandView) HangsTo(h quantity.Metres) quantity.Metres {
	to := quantity.Metres(0)
	if s.Length != nil {
		to = max(to, s.Length.EndM)
	}
	for _, sec := range s.Sections[1:] {
		if sec.TopM < h {
			to = max(to, sec.TopM)
		}
	}
	return min(to, h)
}

// Has reports whether a rope, by the id of its item, is part of the strand.
func (s *StrandView) Has(rope string) bool {
	return slices.ContainsFunc(s.Ropes, func(r RopePart) bool { return r.Item.ID == rope })
}

// RopeAt is the rope that is there at a height.
func (s *StrandView) RopeAt(h quantity.Metres) RopePart {
	for _, r := range s.Ropes {
		if h >= r.BottomM {
			return r
		}
	}
	return s.Ropes[len(s.Ropes)-1]
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

func (p *PersonView) all() []*Piece {
	list := slices.Clone(p.Carries)
	if p.Harness != nil {
		list = append(list, p.Harness)
	}
	for _, h := range p.Holds {
		if h.Device != nil {
			list = append(list, h.Device)
		}
		for _, l := range h.Links {
			list = append(list, l.Piece)
		}
	}
	slices.SortFunc(list, func(a, b *Piece) int { return cmp.Compare(a.Item.ID, b.Item.ID) })
	return slices.Compact(list)
}

// Resolve ties names to things. Names that lead nowhere, ids given twice and
// things that cannot be where they are said to be are reported to p, and the
// rig must then not be used.
func Resolve(parts *Parts, p *strict.Faults) *Rig {
	r := &resolver{p: p, rig: &Rig{
		Day: parts.Day, WindMS: parts.WindMS, Geometry: &parts.Geometry, Checks: parts.Checks, PartnerChecks: parts.Partner,
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

// joins gives the join marks from the top down.
func (s *StrandView) joins() []Mark { return s.marksOf(JoinMark) }

func (s *StrandView) marksOf(kind MarkKind) []Mark {
	var list []Mark
	for _, m := range s.Marks {
		if m.Kind == kind {
			list = append(list, m)
		}
	}
	slices.SortStableFunc(list, func(a, b Mark) int { return cmp.Compare(b.HeightM, a.HeightM) })
	return list
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
