package team

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/reeving"
	"zealousknot/internal/core/rig"
)

// Node is a thing at which rope ends, turns or is held.
type Node struct {
	ID    string `json:"id"`
	Kind  string `json:"kind" enum:"load,edge,brake,pulley,grab,hand,slack,anchor"`
	Line  string `json:"line" enum:"main,belay"`
	Label string `json:"label"`
	Item  string `json:"item,omitempty"`
	// Fixed is what a pulley is fixed to.
	Fixed string `json:"fixed,omitempty"`
	// Capture: a progress capture holds here when the hands let go.
	Capture bool `json:"capture,omitempty"`
	// X and Y place it in a picture whose anchors stand at 0, whose load hangs at 10 and
	// whose columns are 1 apart.
	X float64 `json:"x"`
	Y float64 `json:"y" doc:"downwards"`
}

// Segment is a part of a rope between two nodes, or what fixes one node to another.
type Segment struct {
	Kind string `json:"kind" enum:"rope,fixed"`
	From string `json:"from"`
	To   string `json:"to"`
	// Rope and Index are its place in the reeving.
	Rope  string `json:"rope,omitempty"`
	Index int    `json:"index,omitempty"`
	// HeldKN is its tension when nothing moves and no hand holds, MovingKN while it moves.
	HeldKN   quantity.Kilonewtons `json:"held_kN"`
	MovingKN quantity.Kilonewtons `json:"moving_kN"`
	// Share is the greater of both as a part of the weight of the load.
	Share       quantity.Ratio `json:"share"`
	HeldShare   quantity.Ratio `json:"held_share"`
	MovingShare quantity.Ratio `json:"moving_share"`
	X           float64        `json:"x" doc:"column of its rope in the picture"`
}

// Built is a rig as it stands while the load is lowered, or raised.
type Built struct {
	Text     string    `json:"text,omitempty" doc:"the reeving of a haul, a rope to a line"`
	Nodes    []Node    `json:"nodes"`
	Segments []Segment `json:"segments"`
	WeightKN float64   `json:"weight_kN"`
	// EdgePart is the part of a pull that gets over the edge as the rope turns there,
	// EdgeDeg how far it turns.
	EdgePart quantity.Ratio   `json:"edge_part"`
	EdgeDeg  quantity.Degrees `json:"edge_deg"`
	Jam      *Jam             `json:"jam,omitempty"`
	Haul     *HaulSums        `json:"haul,omitempty"`
	// Chosen says what each pulley and grab of a haul is; an empty item: there is none in
	// the kit.
	Chosen []rig.TeamGear `json:"chosen,omitempty"`

	// alone is the line that bears everything, the other one having failed; "" for none.
	alone string
}

// HaulSums are those of the haul as it is built.
type HaulSums struct {
	Ideal  quantity.Ratio       `json:"ideal_ratio"`
	Actual quantity.Ratio       `json:"actual_ratio"`
	HandKN quantity.Kilonewtons `json:"hand_kN"`
	Needed int                  `json:"haulers_needed"`
}

// Jam is what the haulers put on the rig if the load is caught and they pull their most.
type Jam struct {
	LineKN    quantity.Kilonewtons `json:"line_kN" doc:"on the load line; errs low"`
	CeilingKN quantity.Kilonewtons `json:"ceiling_kN" doc:"the same with every pulley ideal"`
	// Times is how many times as much as while hauling.
	Times float64 `json:"times"`
	Gives []Gives `json:"gives" doc:"limits on the way, the first to be reached first"`
}

// Gives is a limit that a jammed load comes to.
type Gives struct {
	Node    string               `json:"node"`
	Label   string               `json:"label"`
	Limit   string               `json:"limit" enum:"breaks,working load limit,teeth harm the sheath,slips"`
	LimitKN quantity.Kilonewtons `json:"limit_kN"`
	ForceKN quantity.Kilonewtons `json:"force_kN"`
	Passed  bool                 `json:"passed"`
}

// weight is that of the load, in kN.
func (r *Rig) weight() float64 { return float64(quantity.Weight(r.Load.MassKg)) }

// edge is how far the rope turns at the edge, and the part of a pull that gets over it.
func (r *Rig) edge() (turn float64, part float64) {
	if r.view == nil {
		return 0, 1 // a haul by itself
	}
	back := float64(r.view.Back())
	up := max(0, float64(r.TopM-r.EdgeM))
	if r.setting.EdgePart == 0 || back == 0 {
		return 0, 1
	}
	turn = math.Atan2(back, up) * 180 / math.Pi
	return turn, math.Pow(float64(r.setting.EdgePart), turn/90)
}

// shares are the parts of the weight on main and belay while lowering.
func (r *Rig) shares() (main, belay float64) {
	if r.Schools.Lowering == "shared" || r.Schools.Lowering == "mixed" {
		return 1 - float64(r.Schools.Share), float64(r.Schools.Share)
	}
	return 1, 0
}

// builder gathers nodes and segments.
type builder struct {
	*Rig
	out Built
}

func (r *Rig) builder() *builder {
	b := &builder{Rig: r}
	turn, part := r.edge()
	b.out = Built{WeightKN: r.weight(), EdgePart: quantity.Ratio(part), EdgeDeg: quantity.Degrees(turn), Nodes: []Node{}, Segments: []Segment{}}
	return b
}

func (b *builder) node(n Node) { b.out.Nodes = append(b.out.Nodes, n) }

func (b *builder) segment(s Segment) {
	s.HeldShare, s.MovingShare = quantity.Ratio(float64(s.HeldKN)/b.out.WeightKN), quantity.Ratio(float64(s.MovingKN)/b.out.WeightKN)
	s.Share = max(s.HeldShare, s.MovingShare)
	b.out.Segments = append(b.out.Segments, s)
}

// Lowering is the rig while the load is lowered: both lines through their brakes.
func (r *Rig) Lowering() *Built {
	b := r.builder()
	main, belay := r.shares()
	b.node(Node{ID: "load", Kind: "load", Line: "main", Label: r.Load.Name, Y: 10})
	b.braked("main", 0, main, r.Brake("main").MovingKN())
	b.braked("belay", 3, belay, r.Brake("belay").MovingKN())
	return &b.out
}

// Alone is the rig with the whole load on one line: the other one has failed, and nothing moves.
func (r *Rig) Alone(line string) *Built {
	b := r.builder()
	b.out.alone = line
	b.node(Node{ID: "load", Kind: "load", Line: line, Label: r.Load.Name, Y: 10})
	for i, name := range lines {
		share := 0.0
		if name == line {
			share = 1
		}
		b.braked(name, float64(3*i), share, 0)
	}
	return &b.out
}

// braked lays out a line through its brake at the anchor: while it is lowered the edge
// carries a part of the weight and the hand takes what the brake leaves of it; held,
// the brake is parked and the edge counts for nothing.
func (b *builder) braked(name string, x, share float64, hand quantity.Kilonewtons) {
	w := quantity.Kilonewtons(share * b.out.WeightKN)
	top := w * quantity.Kilonewtons(b.out.EdgePart)
	l, v := b.line(name), b.lineView(name)
	b.anchor(name, x)
	b.node(Node{ID: name + "-brake", Kind: "brake", Line: name, Label: l.Brake, Item: v.Brake.Item.ID, X: x, Y: 2.2})
	b.node(Node{ID: name + "-hand", Kind: "hand", Line: name, Label: b.operator(name), X: x - 1, Y: 4})
	b.node(Node{ID: name + "-edge", Kind: "edge", Line: name, Label: cmp.Or(b.setting.EdgeName, "edge"), X: x, Y: 7})
	b.segment(Segment{Kind: "fixed", From: name + "-anchor", To: name + "-brake", HeldKN: w, MovingKN: top - hand, X: x})
	b.segment(Segment{Kind: "rope", From: name + "-hand", To: name + "-brake", Rope: v.TeamLine.Strand, MovingKN: hand, X: x - 1})
	b.segment(Segment{Kind: "rope", From: name + "-brake", To: name + "-edge", Rope: v.TeamLine.Strand, Index: 1, HeldKN: w, MovingKN: top, X: x})
	b.segment(Segment{Kind: "rope", From: name + "-edge", To: "load", Rope: v.TeamLine.Strand, Index: 2, HeldKN: w, MovingKN: w, X: x})
}

func (b *builder) anchor(name string, x float64) {
	label := "anchor"
	if v := b.lineView(name); v != nil && len(v.Strand.Anchors) > 0 {
		label = v.Strand.Anchors[0].Name
	}
	b.node(Node{ID: name + "-anchor", Kind: "anchor", Line: name, Label: label, X: x})
}

func (r *Rig) lineView(name string) *rig.TeamLineView {
	if r.view == nil {
		return nil
	}
	if name == "belay" {
		return &r.view.Belay
	}
	return &r.view.Main
}

// operator is who is at a line's brake: nobody where all who could be are away.
func (r *Rig) operator(name string) string {
	switch {
	case len(r.Operators) == 0:
		return "nobody"
	case name == "belay" && len(r.Operators) > 1:
		return r.Operators[1]
	}
	return r.Operators[0]
}

// Reeving is that of the haul, 3:1 where nothing is stated.
func (r *Rig) Reeving() []reeving.Rope {
	switch h := r.view.Haul; {
	case h == nil:
		return reeving.Named("3:1")
	case h.Reeving != nil:
		return h.Reeving
	default:
		return reeving.Named(h.System)
	}
}

// part is what a pulley or grab of the haul is.
type part struct {
	piece *rig.Piece
	// brake: the brake of the main stands for a pulley and captures.
	brake bool
}

// chosen says what each part of the haul is: as it is stated, else the capture is the
// brake of the main, the pulleys of the kit come best first from the hands on, and the
// grabs in the kit's order. A part without a piece is missing.
func (r *Rig) chosen(ropes []reeving.Rope, capture string) map[string]part {
	pulleys, grabs := reeving.Parts("", ropes)
	list := map[string]part{}
	taken := map[*rig.Piece]bool{}
	if h := r.view.Haul; h != nil {
		for _, g := range h.Gear {
			for _, p := range r.view.Kit {
				if p.Item.ID == g.Item {
					list[g.Part], taken[p] = part{piece: p}, true
				}
			}
		}
	}
	if _, known := list[capture]; capture != "" && !known {
		list[capture] = part{piece: r.view.Main.Brake, brake: true}
	}
	free := func(fits func(*gear.Model) bool) []*rig.Piece {
		var pieces []*rig.Piece
		for _, p := range r.view.Kit {
			if fits(p.Model) && !taken[p] {
				pieces = append(pieces, p)
			}
		}
		return pieces
	}
	wheels := free(func(m *gear.Model) bool { return m.Pulley != nil })
	slices.SortStableFunc(wheels, func(a, b *rig.Piece) int { return cmp.Compare(b.Model.Pulley.Efficiency, a.Model.Pulley.Efficiency) })
	give := func(names []string, pieces []*rig.Piece) {
		for _, name := range names {
			if _, known := list[name]; known {
				continue
			}
			list[name] = part{}
			if len(pieces) > 0 {
				list[name], pieces = part{piece: pieces[0]}, pieces[1:]
			}
		}
	}
	give(pulleys, wheels)
	give(grabs, free(func(m *gear.Model) bool { return m.Class == gear.RopeGrab || m.Class == gear.Rope }))
	return list
}

// defaultPulleyEfficiency is the part of a pull that gets round a pulley whose efficiency is not stated.
const defaultPulleyEfficiency = 0.9

// efficiency is the part of a pull that gets round a pulley of the haul.
func (r *Rig) efficiency(p part) quantity.Ratio {
	switch {
	case p.piece == nil:
		return cmp.Or(r.Kit.PulleyPart, defaultPulleyEfficiency)
	case p.brake:
		if f := p.piece.Model.Device.Friction; f != nil && f.TakeInPart > 0 {
			return f.TakeInPart
		}
		return min(0.7, cmp.Or(r.Kit.PulleyPart, defaultPulleyEfficiency))
	default:
		return p.piece.Model.Pulley.Efficiency
	}
}

// haulIn is the haul with the load as it pulls behind the edge.
func (r *Rig) haulIn(ropes []reeving.Rope, over quantity.Kilonewtons) (mechanics.HaulIn, map[string]part) {
	stroke := r.stroke()
	in := mechanics.HaulIn{
		LoadKg: quantity.Kilograms(over * 1000 / quantity.G), Reeving: ropes, HaulerKN: r.setting.Policy.HaulerKN, HaulerPeakKN: r.setting.Policy.HaulerPeakKN,
		TravelM: mechanics.Travel{Each: &stroke}, RaiseM: max(0.5, r.EdgeM), ResetLossM: r.Measures.Loss, Pulleys: map[string]mechanics.HaulPulley{},
	}
	if r.Haulers > 0 {
		in.Haulers = &r.Haulers
	}
	// Where a capture sits does not depend on what pulleys lose.
	one := quantity.Ratio(1)
	ideal := in
	ideal.Pulleys, ideal.Efficiency = nil, &one
	capture := ""
	if out, err := mechanics.Haul(ideal); err == nil {
		capture = out.Capture
	}
	parts := r.chosen(ropes, capture)
	pulleys, _ := reeving.Parts("", ropes)
	for _, name := range pulleys {
		in.Pulleys[name] = mechanics.HaulPulley{Efficiency: r.efficiency(parts[name])}
	}
	return in, parts
}

// Hauling is the rig while the load is raised: all of it on the main, over the edge,
// the belay taken in hand-tight. It fails where a stroke is less than what a reset
// loses.
func (r *Rig) Hauling() (*Built, *mechanics.HaulOut, error) {
	ropes := r.Reeving()
	b := r.builder()
	over := quantity.Kilonewtons(b.out.WeightKN / float64(b.out.EdgePart))
	in, parts := r.haulIn(ropes, over)
	out, err := mechanics.Haul(in)
	if err != nil {
		return nil, nil, err
	}
	b.out.Text = text(ropes)
	b.out.Haul = &HaulSums{out.IdealRatio, out.ActualRatio, out.HandKN, out.HaulersNeeded}
	b.reeved(ropes, &out, parts)
	b.braked("belay", 3, 0, 0)
	b.out.Jam = r.jam(&out, &b.out, parts, over)
	pulleys, grabs := reeving.Parts("", ropes)
	for _, name := range append(pulleys, grabs...) {
		g := rig.TeamGear{Part: name}
		if p := parts[name].piece; p != nil {
			g.Item = p.Item.ID
		}
		b.out.Chosen = append(b.out.Chosen, g)
	}
	return &b.out, &out, nil
}

// text writes a reeving, a rope to a line.
func text(ropes []reeving.Rope) string {
	var lines []string
	for _, rope := range ropes {
		lines = append(lines, rope.Rope+": "+strings.Join(rope.Path, ", "))
	}
	return strings.Join(lines, "\n")
}

// jam is what the haulers do to the rig if the load is caught: every force of hauling
// grows by as much as theirs.
func (r *Rig) jam(out *mechanics.HaulOut, built *Built, parts map[string]part, over quantity.Kilonewtons) *Jam {
	j := &Jam{LineKN: out.JammedKN, CeilingKN: out.JammedCeilingKN, Times: float64(out.JammedKN / over), Gives: []Gives{}}
	for _, l := range r.loads(built, parts) {
		force := l.movingKN * quantity.Kilonewtons(j.Times)
		for _, limit := range l.limits {
			at := force
			if limit.side {
				at = l.sideKN * quantity.Kilonewtons(j.Times)
			}
			j.Gives = append(j.Gives, Gives{l.Node, l.Label, limit.words, limit.kN, at, at > limit.kN})
		}
	}
	slices.SortStableFunc(j.Gives, func(a, b Gives) int { return cmp.Compare(b.ForceKN/b.LimitKN, a.ForceKN/a.LimitKN) })
	return j
}
