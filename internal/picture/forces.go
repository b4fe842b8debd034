package picture

import (
	"context"
	"fmt"
	"math"
	"strings"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/team"
)

// The grid of a rig with its forces: columns of ropes, rows downwards.
const (
	column    = 75.0
	row       = 47.0
	forcesTop = 40.0
	forceSide = 70.0
)

// A forceSketch is a rig with its forces in the making.
type forceSketch struct {
	sketch
	of     *team.Built
	moving bool
	least  float64
	nodes  map[string]*team.Node
	// edges are the columns in which ropes go over the edge, load the one of the load.
	edges map[string]float64
	load  float64
	// strokes are the ropes and what is fixed, bodies the nodes: no words stand on them.
	strokes []stroke
	bodies  []box
}

// Forces draws a rig as it is built with the tension of every part of its ropes, held or while
// it moves: the width of a rope goes by its tension. weakest is the load of the least margin, the
// zero Load for none.
func Forces(b *team.Built, moving bool, weakest team.Load) *Drawing {
	f := &forceSketch{sketch: sketch{Drawing: &Drawing{Height: forcesTop + 10*row + 60, Letters: 13, Shapes: []Shape{}, Labels: []Label{}}}, of: b, moving: moving, nodes: map[string]*team.Node{}, edges: map[string]float64{}}
	most, belay := 0.5, false
	for i := range b.Nodes {
		n := &b.Nodes[i]
		f.nodes[n.ID] = n
		f.least, most, belay = min(f.least, n.X), max(most, n.X), belay || n.Line == "belay"
	}
	for i := range b.Segments {
		if s := &b.Segments[i]; f.nodes[s.To].Kind == "edge" {
			f.edges[s.To] = s.X
			f.load = s.X
		}
	}
	if belay {
		most, f.load = max(most, 3), 1.5
	} else {
		// By itself a haul is drawn small: its words are larger.
		f.Letters = 18
	}
	f.Width = (most-f.least)*column + 2*forceSide + 84
	f.structure()
	for i := range b.Segments {
		f.segment(&b.Segments[i])
	}
	for i := range b.Nodes {
		f.node(&b.Nodes[i], b.Nodes[i].ID == weakest.Node)
	}
	for i := range b.Segments {
		f.tension(&b.Segments[i])
	}
	if weakest.Label != "" {
		f.say("the weakest is %s, %s", weakest.Label, weakest.While)
	}
	while := map[bool]string{true: "while it moves", false: "held"}[moving]
	f.says = append([]string{fmt.Sprintf("the rig %s, with a load of %.2f kN", while, b.WeightKN)}, f.says...)
	f.Text = sentences(f.says)
	return f.Drawing
}

func (f *forceSketch) x(c float64) float64 { return (c-f.least)*column + forceSide }
func (f *forceSketch) y(r float64) float64 { return forcesTop + r*row }

// nodeLetters are how many letters of a name stand beside another line's.
const nodeLetters = 22

func (f *forceSketch) put(x, y float64, anchor, format string, a ...any) {
	f.Labels = append(f.Labels, Label{X: math.Round(x), Y: math.Round(y), Words: fmt.Sprintf(format, a...), Anchor: anchor})
}

// structure is what the anchors stand on, and the edge.
func (f *forceSketch) structure() {
	for i := range f.of.Nodes {
		switch n := &f.of.Nodes[i]; n.Kind {
		case "anchor":
			from0, to := f.span(n.Line)
			f.draw(turn{}, from(from0, 16).line(to, 16).line(to, 28).line(from0, 28).shut(), Shape{Ink: Soft, Width: 2, Filled: true, Choice: n.ID, Part: "anchor"})
			f.put(from0, 11, "start", "%s", fitting(n.Label, nodeLetters))
		case "edge":
			if n.Line == "main" && n.Label != "" {
				f.draw(turn{}, from(0, f.y(n.Y)).line(f.Width, f.y(n.Y)), Shape{Ink: Soft, Width: 5, Dashed: true, Part: "edge"})
				f.put(2, f.y(n.Y)-8, "start", "%s", fitting(n.Label, nodeLetters))
			}
		}
	}
}

// span is from where to where the ropes of a line are.
func (f *forceSketch) span(line string) (from0, to float64) {
	at := f.x(0)
	if line == "belay" {
		at = f.x(3)
	}
	from0, to = at, at
	for i := range f.of.Segments {
		if s := &f.of.Segments[i]; f.nodes[s.From].Line == line {
			from0, to = min(from0, f.x(s.X)), max(to, f.x(s.X))
		}
	}
	return from0 - 26, to + 26
}

// across is where a part of a rope meets a node: on the near side of a pulley.
func (f *forceSketch) across(n *team.Node, s *team.Segment) float64 {
	switch n.Kind {
	case "load":
		return f.x(f.load)
	case "edge":
		return f.x(f.edges[n.ID])
	case "grab":
		// A rope that ends at the grab of another comes to its side.
		switch {
		case s.X > n.X+0.4:
			return f.x(n.X) + 15
		case s.X < n.X-0.4:
			return f.x(n.X) - 15
		}
	case "brake":
		return f.x(n.X)
	case "pulley":
		if s.X > n.X {
			return f.x(n.X) + 17
		}
		return f.x(n.X) - 17
	}
	return f.x(s.X)
}

func (f *forceSketch) of2(s *team.Segment) (kN quantity.Kilonewtons, share quantity.Ratio) {
	if f.moving {
		return s.MovingKN, s.MovingShare
	}
	return s.HeldKN, s.HeldShare
}

func (f *forceSketch) segment(s *team.Segment) {
	a, b := f.nodes[s.From], f.nodes[s.To]
	if s.Kind == "fixed" {
		ax, ay := f.x(a.X), f.y(a.Y)
		if a.Kind == "anchor" {
			ax, ay = f.x(b.X), 28
		}
		f.draw(turn{}, from(ax, ay).line(f.x(b.X), f.y(b.Y)), Shape{Ink: Outline, Width: 2, Dashed: true})
		f.strokes = append(f.strokes, stroke{ax, ay, f.x(b.X), f.y(b.Y)})
		return
	}
	kN, share := f.of2(s)
	shape := Shape{Ink: Rope, Width: 2 + min(7, 3.2*float64(share)), Choice: s.From + ">" + s.To, Part: "rope"}
	if a.Line == "belay" {
		shape.Ink = Other
	}
	if kN <= 0 {
		shape.Width, shape.Dashed = 1.5, true
	}
	f.draw(turn{}, from(f.across(a, s), f.y(a.Y)).line(f.across(b, s), f.y(b.Y)), shape)
	f.strokes = append(f.strokes, stroke{f.across(a, s), f.y(a.Y), f.across(b, s), f.y(b.Y)})
}

// tension is the words of a part of a rope, beside its middle.
func (f *forceSketch) tension(s *team.Segment) {
	if s.Kind != "rope" {
		return
	}
	a, b := f.nodes[s.From], f.nodes[s.To]
	kN, share := f.of2(s)
	upper, lower := kN.String(), fmt.Sprintf("%.0f %%", 100*float64(share))
	along := stroke{f.across(a, s), f.y(a.Y), f.across(b, s), f.y(b.Y)}
	x, y, anchor := f.beside(along, max(wordsWide(upper, f.Letters), wordsWide(lower, f.Letters)))
	f.put(x, y, anchor, "%s", upper)
	f.put(x, y+max(14, f.Letters), anchor, "%s", lower)
	f.say("from %s to %s %v, %.0f %% of the load", a.Label, b.Label, kN, 100*float64(share))
}

// beside is where two lines of words of a width stand beside a part of a rope: the first place
// that hides the least.
func (f *forceSketch) beside(along stroke, w float64) (x, y float64, anchor string) {
	fewest := -1
	for _, off := range []float64{7, 16, 28} {
		for _, at := range []float64{0.5, 0.34, 0.66, 0.2, 0.8} {
			for _, side := range []string{"start", "end"} {
				cx, cy := along.x0+at*(along.x1-along.x0)+off, along.y0+at*(along.y1-along.y0)+4
				b := box{cx, cy - f.Letters, cx + w, cy + 1.2*f.Letters}
				if side == "end" {
					cx -= 2 * off
					b.x0, b.x1 = cx-w, cx
				}
				if hidden := f.hides(b); fewest < 0 || hidden < fewest {
					fewest, x, y, anchor = hidden, cx, cy, side
				}
			}
		}
	}
	return x, y, anchor
}

// hides is how much words in a box would hide, or be hidden by.
func (f *forceSketch) hides(b box) (n int) {
	// A rope is as wide as its tension has it.
	clear := box{b.x0 - 5, b.y0, b.x1 + 5, b.y1}
	for _, s := range f.strokes {
		if s.through(clear) {
			n++
		}
	}
	for _, o := range f.bodies {
		if o.over(b) {
			n++
		}
	}
	for i := range f.Labels {
		if boxOf(&f.Labels[i], f.Letters).over(b) {
			n++
		}
	}
	if b.x0 < 2 || b.x1 > f.Width-2 || b.y1 > f.Height {
		n += 3
	}
	return n
}

func (f *forceSketch) node(n *team.Node, weakest bool) {
	x, y := f.x(n.X), f.y(n.Y)
	f.bodies = append(f.bodies, box{x - 18, y - 18, x + 18, y + 18})
	_, letter, _ := strings.Cut(n.ID, ":")
	line := Shape{Ink: Outline, Width: 2.5, Choice: n.ID, Part: n.Kind}
	switch n.Kind {
	case "pulley":
		f.draw(turn{}, circle(x, y, 17), line)
		if n.Capture {
			f.draw(turn{}, from(x-9, y+21).line(x+9, y+21), Shape{Ink: Outline, Width: 4})
		}
		f.put(x, y+5, "middle", "%s", letter)
	case "grab":
		f.draw(turn{}, from(x-15, y-13).line(x+15, y-13).line(x+15, y+13).line(x-15, y+13).shut(), line)
		f.put(x, y+5, "middle", "%s", letter)
	case "brake":
		f.draw(turn{}, from(x-17, y-15).line(x+17, y-15).line(x+11, y+17).line(x-11, y+17).shut(), line)
		f.put(x+24, y-4, "start", "%s", fitting(n.Label, nodeLetters))
	case "hand", "slack":
		f.draw(turn{}, circle(x, y, 5), Shape{Ink: Outline, Width: 2})
		if n.Y < 2 {
			f.put(x, y-10, "middle", "%s", fitting(n.Label, nodeLetters))
		} else {
			f.put(x, y+20, "middle", "%s", fitting(n.Label, nodeLetters))
		}
	case "load":
		x, half := f.x(f.load), 60.0
		if f.load == 1.5 {
			half = 112
		}
		f.draw(turn{}, round(4, x-half, y-2, x+half, y-2, x+half, y+38, x-half, y+38), Shape{Ink: Outline, Width: 2})
		f.put(x, y+14, "middle", "%s", fitting(n.Label, 34))
		f.put(x, y+31, "middle", "%.2f kN", f.of.WeightKN)
	}
	if weakest {
		at := Label{X: math.Round(x - 20), Y: math.Round(y - 20), Words: "weakest →", Anchor: "end"}
		if n.Kind == "anchor" {
			at.X, at.Y = math.Round(x+2), 44
		}
		f.Labels = append(f.Labels, at)
	}
}

// ForcesAsked is a rig of a team with its forces.
type ForcesAsked struct {
	Drop drop.Document `json:"drop"`
	// Raising is with its haul, else as it lowers; Moving while it moves, else held.
	Raising bool `json:"raising,omitempty"`
	Moving  bool `json:"moving,omitempty"`
}

func forces(_ context.Context, _ ask.Env, _ struct{}, a *ForcesAsked) (*Drawing, error) {
	s, err := site.Open(&a.Drop)
	if err != nil {
		return nil, err
	}
	r := team.On(s)
	if r == nil {
		return nil, refused("/drop/team", "missing: nothing is rigged for a team on this drop")
	}
	of := r.Figures()
	b := of.Lowering
	if a.Raising && of.Hauling != nil {
		b = of.Hauling
	}
	return Forces(b, a.Moving, of.Weakest()), nil
}
