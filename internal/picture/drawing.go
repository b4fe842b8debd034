// Package picture draws what a person would rather look at than read: how a rope lies in a
// device for its role, from the model's fields and the hold as it is.
//
// A drawing is lines, shapes and words in a box, the same for the screen, for SVG and for
// paper. Every one has a text alternative made from the same values. All outlines are plain
// ones of a kind of thing.
package picture

import (
	"math"
	"strconv"
	"strings"
)

// An Ink is what a stroke stands for; who shows it chooses the colour.
type Ink string

const (
	// Rope is the strand that is drawn, Other a second one, Outline a thing's edge, Soft what is behind or beside
	// it, Sign our mark for the way to the anchor, Moving what a proof moves, Wrong what is not
	// as it must be.
	Rope    Ink = "rope"
	Outline Ink = "outline"
	Soft    Ink = "soft"
	Sign    Ink = "sign"
	Moving  Ink = "moving"
	Wrong   Ink = "wrong"
	Other   Ink = "other"
)

// A Drawing is a picture in a box of Width by Height units; y grows downwards.
type Drawing struct {
	Width  float64 `json:"width"`
	Height float64 `json:"height"`
	// Letters are the height of its words; 0: 15.
	Letters float64 `json:"letters,omitempty"`
	Shapes  []Shape `json:"shapes"`
	Labels  []Label `json:"labels"`
	// Text says the same in words.
	Text string `json:"text"`
	// Note is what a reader must know of it, in words beside it.
	Note string `json:"note,omitempty"`
}

// A Shape is a path with its stroke. Shapes of one part move together.
type Shape struct {
	Path   string  `json:"path" doc:"as the attribute d of an SVG path, absolute commands M, L, Q, C and Z"`
	Ink    Ink     `json:"ink" enum:"rope,outline,soft,sign,moving,wrong,other"`
	Width  float64 `json:"width"`
	Dashed bool    `json:"dashed,omitempty"`
	Filled bool    `json:"filled,omitempty" doc:"filled with its ink; left out: with the ground where it is closed"`
	Cut    bool    `json:"cut,omitempty" doc:"its ends are flat, not round"`
	Part   string  `json:"part,omitempty" doc:"what it belongs to"`
	Choice string  `json:"choice,omitempty" doc:"what is chosen by choosing it"`
	Moves  string  `json:"moves,omitempty" enum:"up,down,jerk,roll,turn,away" doc:"how a proof moves it"`

	nodes []node
}

// A Label is words at a place.
type Label struct {
	X     float64 `json:"x"`
	Y     float64 `json:"y"`
	Words string  `json:"words"`
	// Anchor is which end of the words stands at the place.
	Anchor string `json:"anchor" enum:"start,middle,end"`
}

// A node is one command of a path with its points.
type node struct {
	op byte
	at [3][2]float64
}

// path builds nodes.
type path struct{ nodes []node }

func from(x, y float64) *path { return (&path{}).add('M', x, y) }

func (p *path) add(op byte, xy ...float64) *path {
	n := node{op: op}
	for i := 0; i+1 < len(xy); i += 2 {
		n.at[i/2] = [2]float64{xy[i], xy[i+1]}
	}
	p.nodes = append(p.nodes, n)
	return p
}

func (p *path) line(x, y float64) *path { return p.add('L', x, y) }
func (p *path) move(x, y float64) *path { return p.add('M', x, y) }
func (p *path) curve(x1, y1, x2, y2, x, y float64) *path {
	return p.add('C', x1, y1, x2, y2, x, y)
}
func (p *path) bend(x1, y1, x, y float64) *path { return p.add('Q', x1, y1, x, y) }
func (p *path) shut() *path                     { return p.add('Z') }

// round is a polygon with round corners.
func round(r float64, xy ...float64) *path {
	n := len(xy) / 2
	at := func(i int) (x, y float64) { i = (i + n) % n; return xy[2*i], xy[2*i+1] }
	p := &path{}
	for i := range n {
		x, y := at(i)
		ax, ay := toward(x, y, r, at, i-1)
		bx, by := toward(x, y, r, at, i+1)
		if i == 0 {
			p.move(ax, ay)
		} else {
			p.line(ax, ay)
		}
		p.bend(x, y, bx, by)
	}
	return p.shut()
}

// toward is the point at a distance from a corner on the way to another one.
func toward(x, y, r float64, at func(int) (float64, float64), i int) (float64, float64) {
	tx, ty := at(i)
	d := math.Hypot(tx-x, ty-y)
	r = min(r, d/2)
	return x + (tx-x)*r/d, y + (ty-y)*r/d
}

// circle is a circle of four curves.
func circle(x, y, r float64) *path {
	k := 0.5523 * r
	return from(x+r, y).curve(x+r, y+k, x+k, y+r, x, y+r).curve(x-k, y+r, x-r, y+k, x-r, y).
		curve(x-r, y-k, x-k, y-r, x, y-r).curve(x+k, y-r, x+r, y-k, x+r, y).shut()
}

// points is how many points a command has.
var points = map[byte]int{'M': 1, 'L': 1, 'Q': 2, 'C': 3, 'Z': 0}

// letters writes nodes as an SVG path.
func letters(nodes []node) string {
	var b strings.Builder
	for _, n := range nodes {
		b.WriteByte(n.op)
		for i := range points[n.op] {
			if i > 0 {
				b.WriteByte(' ')
			}
			b.WriteString(short(n.at[i][0]))
			b.WriteByte(' ')
			b.WriteString(short(n.at[i][1]))
		}
	}
	return b.String()
}

func short(v float64) string {
	return strconv.FormatFloat(math.Round(v*10)/10+0, 'f', -1, 64)
}

// A turn maps places: mirrored left to right, or top to bottom, about the middle of the box.
type turn struct {
	width, height  float64
	mirror, upside bool
}

func (t turn) place(x, y float64) (float64, float64) {
	if t.mirror {
		x = t.width - x
	}
	if t.upside {
		y = t.height - y
	}
	return x, y
}

// draw adds a shape, turned.
func (d *Drawing) draw(t turn, p *path, s Shape) {
	s.nodes = make([]node, len(p.nodes))
	for i, n := range p.nodes {
		for j := range points[n.op] {
			n.at[j][0], n.at[j][1] = t.place(n.at[j][0], n.at[j][1])
		}
		s.nodes[i] = n
	}
	s.Path = letters(s.nodes)
	d.Shapes = append(d.Shapes, s)
}

// say adds words at a place, turned; the words are not.
func (d *Drawing) say(t turn, x, y float64, words string) {
	x, y = t.place(x, y)
	anchor := "middle"
	switch {
	case x < d.Width*0.3:
		anchor, x = "start", 4
	case x > d.Width*0.7:
		anchor, x = "end", d.Width-2
	}
	d.Labels = append(d.Labels, Label{X: math.Round(x), Y: math.Round(y), Words: words, Anchor: anchor})
}

// Each calls with every command of the shape's path, M, L, Q, C or Z, and its points.
func (s *Shape) Each(call func(op byte, at [][2]float64)) {
	for _, n := range s.nodes {
		call(n.op, n.at[:points[n.op]])
	}
}

// Size is the height of the words.
func (d *Drawing) Size() float64 {
	if d.Letters > 0 {
		return d.Letters
	}
	return 15
}
