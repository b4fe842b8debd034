package team

import (
	"cmp"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// Load is what one component bears, against what it stands.
type Load struct {
	Node  string `json:"node"`
	Label string `json:"label"`
	Item  string `json:"item,omitempty"`
	// While says what is done when it bears most: lowering or raising, held or moving.
	While    string               `json:"while"`
	LoadKN   quantity.Kilonewtons `json:"load_kN"`
	Strength quantity.Kilonewtons `json:"strength_kN,omitempty" doc:"left out: not known"`
	LimitKN  quantity.Kilonewtons `json:"working_load_kN,omitempty" doc:"left out: not known"`
	// Margin is strength divided by load; left out where the strength is not known.
	Margin  quantity.Ratio    `json:"margin,omitempty"`
	Wanted  quantity.Ratio    `json:"wanted"`
	Working []finding.Working `json:"working"`

	heldKN, movingKN, sideKN quantity.Kilonewtons
	derated                  string
	// rope is what the load is counted greater by for the rope that hangs with it.
	rope quantity.Ratio
	// factor is what the strength by itself was multiplied by; 0 for 1.
	factor quantity.Ratio
	limits []limit
	model  *gear.Model
}

// limit is one force that a component must not see.
type limit struct {
	words string
	kN    quantity.Kilonewtons
	// side: it is of each side of a pulley.
	side bool
}

// bears sets what a component bears, the worst of held and moving.
func (l *Load) bears(held, moving quantity.Kilonewtons, doing string) {
	l.heldKN, l.movingKN = held, moving
	l.LoadKN, l.While = moving, doing
	if held >= moving {
		l.LoadKN, l.While = held, "held while "+doing
	}
}

const lowering = "lowering"

// loads gives every component of a rig as it is built, with what it bears.
func (r *Rig) loads(b *Built, parts map[string]part) []Load {
	doing := lowering
	switch {
	case b.alone != "":
		doing = "the " + b.alone + " bears it alone"
	case b.Text != "":
		doing = "raising"
	}
	g := &weighing{Rig: r, built: b, parts: parts, doing: doing}
	for _, p := range r.view.Kit {
		if p.Model.Connector != nil && p.Model.Connector.Locks() {
			g.connectors = append(g.connectors, p)
		}
	}
	for i := range b.Nodes {
		g.weigh(&b.Nodes[i])
	}
	g.ropes()
	for i := range g.list {
		g.list[i].finish()
	}
	return g.list
}

// withRope are the parts that what bears a line's load is counted greater by, for the rope that
// hangs beside it with the load at the landing: (load + rope) / load.
func (g *weighing) withRope(line string) quantity.Ratio {
	var load quantity.Kilonewtons
	for _, s := range g.built.Segments {
		if s.To == "load" && g.lineOf(s) == line {
			load = max(load, s.HeldKN)
		}
	}
	rope := g.ropeKN(line)
	if load == 0 || rope == 0 {
		return 1
	}
	return quantity.Ratio((load + rope) / load)
}

// ropeKN is the weight of the rope of a line that hangs with the load at the landing.
func (r *Rig) ropeKN(line string) quantity.Kilonewtons {
	return quantity.Weight(quantity.Kilograms(float64(max(0, r.EdgeM, r.TopM)) * float64(heaviest(r.lineView(line))) / 1000))
}

// heaviest is a metre of the heaviest rope of a line.
func heaviest(v *rig.TeamLineView) (g quantity.GramsPerMetre) {
	for _, o := range v.Strand.Ropes {
		g = max(g, o.Model.Rope.MassGPerM)
	}
	return g
}

type weighing struct {
	*Rig
	built      *Built
	parts      map[string]part
	doing      string
	connectors []*rig.Piece
	list       []Load
}

// of gathers the segments at a node: what fixes it, and the ropes at it.
func (g *weighing) of(node string) (fixed []Segment, ropes []Segment) {
	for _, s := range g.built.Segments {
		switch {
		case s.Kind == "fixed" && s.To == node:
			fixed = append(fixed, s)
		case s.Kind == "rope" && (s.From == node || s.To == node):
			ropes = append(ropes, s)
		}
	}
	return fixed, ropes
}

func (g *weighing) weigh(n *Node) {
	switch n.Kind {
	case "anchor":
		g.anchor(n)
	case "brake":
		g.brake(n)
	case "pulley":
		g.pulley(n)
	case "grab":
		g.grab(n)
	}
}

func (g *weighing) add(n *Node, label string, p *rig.Piece, held, moving quantity.Kilonewtons) *Load {
	l := Load{Node: n.ID, Label: label, Wanted: g.setting.Policy.Factor(false)}
	l.bears(held, moving, g.doing)
	l.rope = g.withRope(cmp.Or(n.Line, "main"))
	if p != nil {
		l.Item, l.Label, l.Strength, l.model = p.Item.ID, p.Item.Label, p.Model.StrengthKN, p.Model
		l.Wanted = g.setting.Policy.Factor(p.Model.Class.Textile())
		l.LimitKN, _ = p.Model.WorkingLoad("")
	}
	g.list = append(g.list, l)
	return &g.list[len(g.list)-1]
}

// anchor is what all that is fixed or ends at an anchor puts on its legs.
func (g *weighing) anchor(n *Node) {
	var held, moving quantity.Kilonewtons
	for _, s := range g.built.Segments {
		if s.From == n.ID || s.To == n.ID {
			held, moving = held+s.HeldKN, moving+s.MovingKN
		}
	}
	for _, a := range g.lineView(n.Line).Strand.Anchors {
		for i, leg := range a.Legs {
			part := quantity.Kilonewtons(a.Part(i))
			if part == 0 {
				continue
			}
			l := g.add(n, "leg "+leg.ID+" of "+a.Name, nil, held*part, moving*part)
			l.Strength, l.LimitKN = leg.StrengthKN, leg.WorkKN
			l.Working = append(l.Working, finding.Work("part of the pull on the leg", "T = Σ T_i u_i = −F, the pull straight away from the legs", a.Part(i), "low where the pull is aslant",
				finding.Fig("pull on the anchor", max(held, moving))))
		}
	}
}

// brake is a brake that the load is lowered through, with what fixes it.
func (g *weighing) brake(n *Node) {
	v := g.lineView(n.Line)
	fixed, ropes := g.of(n.ID)
	var held, moving quantity.Kilonewtons
	for _, s := range ropes {
		held, moving = max(held, s.HeldKN), max(moving, s.MovingKN)
	}
	l := g.add(n, "", v.Brake, held, moving)
	l.LimitKN, _ = v.Brake.Model.WorkingLoad(v.Mode.Name)
	if v.Connector != nil {
		g.add(n, "", v.Connector, fixed[0].HeldKN, fixed[0].MovingKN)
	}
}

// pulley is one of a haul, with the connector that fixes it.
func (g *weighing) pulley(n *Node) {
	p := g.parts[n.ID[len("pulley:"):]]
	fixed, ropes := g.of(n.ID)
	sum := fixed[0]
	if p.piece != nil {
		l := g.add(n, "", p.piece, sum.HeldKN, sum.MovingKN)
		for _, s := range ropes {
			l.sideKN = max(l.sideKN, s.HeldKN, s.MovingKN)
		}
		d := p.piece.Model.Device
		switch m := p.piece.Model.Pulley; {
		case m != nil:
			l.limits = append(l.limits, limit{"working load limit", m.SideKN, true})
			l.Working = append(l.Working, finding.Work("greater of both sides", "T", l.sideKN, "low: friction of bent rope is not in it", finding.Fig("working load limit of each side", m.SideKN)))
		case p.brake:
			l.LimitKN, _ = p.piece.Model.WorkingLoad(g.view.Main.Mode.Name)
		}
		if d != nil && n.Capture {
			g.grips(l, d)
		}
	}
	if p.brake {
		if c := g.view.Main.Connector; c != nil {
			g.add(n, "", c, sum.HeldKN, sum.MovingKN)
		}
		return
	}
	if len(g.connectors) == 0 {
		return
	}
	g.add(n, "", g.connectors[0], sum.HeldKN, sum.MovingKN)
	g.connectors = g.connectors[1:]
}

// grab is a rope grab: what it bears is what its rope bears beyond it.
func (g *weighing) grab(n *Node) {
	p := g.parts[n.ID[len("grab:"):]].piece
	if p == nil {
		return
	}
	var held, moving quantity.Kilonewtons
	for _, s := range g.built.Segments {
		if s.From == n.ID && s.Kind == "fixed" || s.To == n.ID && s.Kind == "rope" && g.ends(s, n.ID) {
			held, moving = held+s.HeldKN, moving+s.MovingKN
		}
	}
	l := g.add(n, "", p, held, moving)
	if p.Model.Device != nil {
		g.grips(l, p.Model.Device)
	}
}

// ends reports whether a rope's part ends at a grab, not running on through it.
func (g *weighing) ends(s Segment, grab string) bool {
	return !slices.ContainsFunc(g.built.Segments, func(o Segment) bool {
		return o.Kind == "rope" && o.From == grab && o.Rope == s.Rope && o.Index == s.Index+1
	})
}

// grips adds the limits of what grips a rope: what it slips at, and what its teeth do.
func (g *weighing) grips(l *Load, d *gear.Device) {
	if d.SlipKN > 0 {
		l.limits = append(l.limits, limit{"slips", d.SlipKN, false})
	}
	for _, r := range g.view.Main.Strand.Ropes {
		mm, _ := gear.Diameter(r.Item, r.Model)
		if harm, listed := d.Harm(mm); listed {
			l.limits = append(l.limits, limit{"teeth harm the sheath", harm.HarmKN, false})
		}
	}
}

// ropes are the two lines, each where it is pulled most, at its weakest knot.
func (g *weighing) ropes() {
	k := g.setting.Policy.KnotStrength
	for _, name := range []string{"main", "belay"} {
		var held, moving quantity.Kilonewtons
		at := ""
		for _, s := range g.built.Segments {
			if n := g.lineOf(s); s.Kind == "rope" && n == name {
				if max(s.HeldKN, s.MovingKN) > max(held, moving) {
					at = s.To
				}
				held, moving = max(held, s.HeldKN), max(moving, s.MovingKN)
			}
		}
		v := g.lineView(name)
		factor, knot := k.EndLoop, "end loop"
		if len(g.line(name).KnotsM) > 0 && k.MidLoop < factor {
			factor, knot = k.MidLoop, "knot that runs with it"
		}
		if len(v.Strand.Ropes) > 1 && k.Join < factor {
			factor, knot = k.Join, "join"
		}
		for _, rope := range v.Strand.Ropes {
			l := g.add(&Node{ID: at, Line: name}, "", rope.Piece, held, moving)
			l.Strength *= quantity.Kilonewtons(factor)
			l.derated, l.factor = " at its "+knot, factor
			l.Working = append(l.Working, finding.Work("strength at the knot", "breaking strength · knot factor", l.Strength, "high for a worn or badly dressed knot",
				finding.Fig("breaking strength", rope.Model.StrengthKN), finding.Fig("knot factor, "+knot, factor)))
		}
	}
}

// lineOf is the line that a segment's rope belongs to.
func (g *weighing) lineOf(s Segment) string {
	for i := range g.built.Nodes {
		if n := &g.built.Nodes[i]; n.ID == s.From {
			return n.Line
		}
	}
	return "main"
}

// Loads gives what each component bears at worst, the smallest part of the margin asked
// for first; those of which no strength is known come last. Short is how many connectors
// the haul wants beyond those in the kit.
func (r *Rig) Loads() (list []Load, short int) {
	worst := map[string]int{}
	take := func(loads []Load) {
		for _, l := range loads {
			key := l.Label + "|" + l.Item
			if i, seen := worst[key]; !seen {
				worst[key] = len(list)
				list = append(list, l)
			} else if l.LoadKN > list[i].LoadKN {
				list[i] = l
			}
		}
	}
	take(r.loads(r.Lowering(), nil))
	for _, line := range lines {
		take(r.loads(r.Alone(line), nil))
	}
	if b, _, err := r.Hauling(); err == nil {
		parts := r.partsOf(b)
		take(r.loads(b, parts))
		short = r.connectorsShort(b, parts)
	}
	slices.SortStableFunc(list, func(a, b Load) int { return cmp.Compare(a.left(), b.left()) })
	return list, short
}

// partsOf is what the parts of a built haul are.
func (r *Rig) partsOf(b *Built) map[string]part {
	capture := ""
	for i := range b.Nodes {
		if b.Nodes[i].Capture {
			capture = b.Nodes[i].ID[len("pulley:"):]
		}
	}
	return r.chosen(r.Reeving(), capture)
}

// connectorsShort counts the pulleys that nothing in the kit fixes, with the added bends in
// while it is hauled.
func (r *Rig) connectorsShort(b *Built, parts map[string]part) int {
	wanted := -r.Kit.Connectors
	if r.Load.Persons > 1 {
		wanted += r.BendsNeeded()
	}
	for i := range b.Nodes {
		if n := &b.Nodes[i]; n.Kind == "pulley" && !parts[n.ID[len("pulley:"):]].brake {
			wanted++
		}
	}
	return max(0, wanted)
}

// finish works the margin out, with the rope that hangs beside the load.
func (l *Load) finish() {
	w := finding.Work("load, "+l.While, "by the parts of the rope", l.LoadKN, "low while it jerks, and for rope that rubs")
	if strings.HasSuffix(l.While, lowering) {
		w = w.As(finding.WhileLowering)
	}
	l.Working = append(l.Working, w)
	if l.rope > 1 {
		by := l.LoadKN
		l.LoadKN *= quantity.Kilonewtons(l.rope)
		l.Working = append(l.Working, finding.Work("load with its rope", "by the parts of the rope · (load + rope) / load", l.LoadKN, "high above the landing, where less rope hangs",
			finding.Fig("by the parts of the rope", by), finding.Fig("(load + rope) / load", l.rope)))
	}
	if l.Strength > 0 && l.LoadKN > 0 {
		l.Margin = quantity.Ratio(l.Strength / l.LoadKN)
		l.Working = append(l.Working, finding.Work("margin of "+l.Label, "strength / load", l.Margin, "high for worn gear",
			finding.Fig("strength", l.Strength), finding.Fig("load", l.LoadKN), finding.Fig("required", l.Wanted)))
		l.limits = append(l.limits, limit{"breaks", l.Strength, false})
	}
	if l.LimitKN > 0 {
		l.limits = append(l.limits, limit{"working load limit", l.LimitKN, false})
	}
}

// left is the part of the margin asked for that is there.
func (l *Load) left() float64 {
	if l.Margin == 0 {
		return 1e9
	}
	return float64(l.Margin / l.Wanted)
}
