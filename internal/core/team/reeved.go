package team

import (
	"fmt"
	"strings"

	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/reeving"
	"zealousknot/internal/core/rig"
)

// reeved lays a haul out: anchors above, grabs below them one lower than the other,
// the load below the edge; the rope to the load stands on the right, every turn of a
// pulley goes one column to the left.
func (b *builder) reeved(ropes []reeving.Rope, out *mechanics.HaulOut, parts map[string]part) {
	w := quantity.Kilonewtons(b.out.WeightKN)
	b.node(Node{ID: "load", Kind: "load", Line: "main", Label: b.Load.Name, Y: 10})
	b.node(Node{ID: "main-edge", Kind: "edge", Line: "main", Label: b.edgeName(), Y: 8})
	b.anchor("main", 0)
	p := &placing{builder: b, ropes: ropes, parts: parts, capture: out.Capture, rows: map[string]float64{}, held: map[[2]any]quantity.Kilonewtons{}, moving: map[[2]any]quantity.Kilonewtons{}}
	for _, s := range out.Segments {
		p.moving[[2]any{s.Rope, s.Index}] = s.TensionKN
	}
	// Haul holds the load as it pulls while it is raised; held, the edge takes nothing.
	for _, s := range out.Held {
		p.held[[2]any{s.Rope, s.Index}] = s.TensionKN * quantity.Kilonewtons(b.out.EdgePart)
	}
	_, grabs := reeving.Parts("", ropes)
	for i, g := range grabs {
		p.rows["grab:"+g] = max(2.6, 6.4-1.4*float64(len(grabs)-1-i))
	}
	for _, rope := range ropes {
		p.rope(rope)
	}
	b.segment(Segment{Kind: "rope", From: "main-edge", To: "load", HeldKN: w, MovingKN: w})
}

// HaulAlone is a haul by itself as it was solved, without a rig: no edge, no belay, and no part
// of a kit.
func HaulAlone(load quantity.Kilograms, ropes []reeving.Rope, out *mechanics.HaulOut) *Built {
	b := (&Rig{Load: rig.TeamLoad{Name: "load", MassKg: load}}).builder()
	b.reeved(ropes, out, nil)
	for i := range b.out.Nodes {
		if n := &b.out.Nodes[i]; n.Kind == "edge" {
			n.Label = ""
		}
	}
	return &b.out
}

func (b *builder) edgeName() string {
	if b.setting.EdgeName != "" {
		return b.setting.EdgeName
	}
	return "edge"
}

// placing walks the ropes of a haul from their ends to the hands.
type placing struct {
	*builder
	ropes        []reeving.Rope
	parts        map[string]part
	capture      string
	rows         map[string]float64
	column       float64
	held, moving map[[2]any]quantity.Kilonewtons
}

// at is the node of a token, where the rope ends or a pulley is fixed.
func at(token string) string {
	switch token {
	case "anchor":
		return "main-anchor"
	case "load":
		return "main-edge"
	}
	return token
}

// row is how high what a pulley is fixed to, or a rope ends at, stands.
func (p *placing) row(to string) float64 {
	switch to {
	case "anchor":
		return 1.6
	case "load":
		return 7.2
	}
	return p.rows[to]
}

func (p *placing) rope(rope reeving.Rope) {
	last := len(rope.Path) - 1
	to := at(rope.Path[last])
	up := false // whether the part in hand leads up to its turn
	for i := last - 1; i >= 0; i-- {
		token := rope.Path[i]
		from := p.element(rope, i, token, &up)
		key := [2]any{rope.Rope, i}
		p.segment(Segment{Kind: "rope", From: from, To: to, Rope: rope.Rope, Index: i, HeldKN: p.held[key], MovingKN: p.moving[key], X: p.column})
		to = from
		if strings.HasPrefix(token, "pulley:") {
			p.column--
		}
	}
	p.column--
}

// element makes the node of one token and says its id.
func (p *placing) element(rope reeving.Rope, i int, token string, up *bool) string {
	if name, ok := strings.CutPrefix(token, "grab:"); ok {
		p.node(Node{ID: token, Kind: "grab", Line: "main", Label: p.label(name, "grab"), Item: p.item(name), X: p.column, Y: p.rows[token]})
		return token
	}
	if rest, ok := strings.CutPrefix(token, "pulley:"); ok {
		name, to, _ := strings.Cut(rest, "@")
		id := "pulley:" + name
		*up = to != "anchor"
		n := Node{ID: id, Kind: "pulley", Line: "main", Label: p.label(name, "pulley"), Item: p.item(name), Fixed: at(to), Capture: name == p.capture, X: p.column - 0.5, Y: p.row(to)}
		p.node(n)
		sum := func(of map[[2]any]quantity.Kilonewtons) quantity.Kilonewtons {
			return of[[2]any{rope.Rope, i - 1}] + of[[2]any{rope.Rope, i}]
		}
		p.segment(Segment{Kind: "fixed", From: at(to), To: id, HeldKN: sum(p.held), MovingKN: sum(p.moving), X: p.column - 0.5})
		return id
	}
	id := fmt.Sprintf("%s:%s", token, rope.Rope)
	n := Node{ID: id, Kind: token, Line: "main", Label: "haulers", X: p.column, Y: 7.4}
	if token == "slack" {
		n.Label = "slack"
	}
	if *up {
		n.Y = 0.4
	}
	p.node(n)
	return id
}

// label is a part as the picture names it.
func (p *placing) label(name, kind string) string {
	if piece := p.parts[name].piece; piece != nil {
		return piece.Item.Label + " (" + name + ")"
	}
	if p.parts == nil {
		return kind + " " + name
	}
	return kind + " " + name + ": none in the kit"
}

func (p *placing) item(name string) string {
	if piece := p.parts[name].piece; piece != nil {
		return piece.Item.ID
	}
	return ""
}
