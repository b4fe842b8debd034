package picture

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// StancePictured is a person with their holds at one step of a move.
type StancePictured struct {
	Drop  drop.Document     `json:"drop"`
	State moves.ShownStance `json:"state"`
	View  string            `json:"view,omitempty" enum:"front,back" doc:"left out: front"`
	Hand  string            `json:"hand,omitempty" enum:"right,left" doc:"the brake hand; left out: right"`
	Lost  *stance.Lost      `json:"lost,omitempty" doc:"what one failure would do, of the step's list"`
}

func stancePicture(_ context.Context, _ ask.Env, _ struct{}, a *StancePictured) (*Drawing, error) {
	r, err := a.Drop.Rig()
	if err != nil {
		return nil, err
	}
	for i, h := range a.State.Holds {
		if strandOf(r, h.Strand) == nil && h.Strand != stance.Structure {
			return nil, refused(fmt.Sprintf("/state/holds/%d/strand", i), "there is no strand %q", h.Strand)
		}
	}
	return Stance(r, a), nil
}

// The box of a person close up, to one scale: what is within reach.
const (
	closeWide  = 320.0
	closeHigh  = 380.0
	perMetre   = 105.0
	strandsOff = 0.16 // of a metre, from the middle of the body
	sternalUp  = 0.35
	reachUp    = 2.1
	reachDown  = 1.4
)

// A closeSketch is a person close up in the making.
type closeSketch struct {
	sketch
	r    *rig.Rig
	of   *StancePictured
	s    *moves.ShownStance
	flip float64
}

// Stance draws a person at a step with their holds on the strands near them, and what one
// failure would do.
func Stance(r *rig.Rig, a *StancePictured) *Drawing {
	c := &closeSketch{sketch: sketch{Drawing: &Drawing{Width: closeWide, Height: closeHigh, Letters: 13, Shapes: []Shape{}, Labels: []Label{}}}, r: r, of: a, s: &a.State, flip: 1}
	view := "front"
	if a.View == "back" {
		c.flip, view = -1, "back"
	}
	c.say("close up from the %s", view)
	for _, s := range r.Strands {
		c.strand(s)
	}
	c.slings()
	c.body()
	c.holds()
	if a.Lost != nil {
		c.lose(a.Lost)
	}
	c.Text = sentences(c.says)
	return c.Drawing
}

func (c *closeSketch) x(m float64) float64 { return closeWide/2 + m*perMetre }
func (c *closeSketch) y(m float64) float64 {
	return closeHigh*0.6 - (m-float64(c.s.AtM))*perMetre
}

// beside is where the strands of a role hang when they hang at the body.
func (c *closeSketch) beside(role rig.Role) float64 {
	if role == rig.Main {
		return -strandsOff * c.flip
	}
	return strandsOff * c.flip
}

// aside is how far to the side of the body a strand of a set hangs in a section.
func (c *closeSketch) aside(set, section int) float64 {
	sum, n := 0.0, 0.0
	for _, s := range c.r.Strands {
		if s.Set == set && section < len(s.Sections) && len(s.Sections[section].Anchors) > 0 {
			sum, n = sum+float64(s.Sections[section].Anchors[0].XM), n+1
		}
	}
	if n > 0 {
		sum /= n
	}
	return math.Max(-0.75, math.Min(0.75, (sum-float64(c.s.XM))*c.flip))
}

func (c *closeSketch) strand(s *rig.StrandView) {
	marks := slices.SortedFunc(slices.Values(s.Marks), func(a, b rig.Mark) int { return cmp.Compare(b.HeightM, a.HeightM) })
	line := Shape{Ink: Rope, Width: 4, Part: "strand " + s.ID}
	if s.Role != rig.Main {
		line.Ink, line.Dashed = Other, true
	}
	at := float64(c.s.AtM)
	for i := range s.Sections {
		top, low := math.Min(float64(s.Sections[i].TopM), at+reachUp), at-reachDown
		if i == 0 {
			top = at + reachUp
		}
		if i+1 < len(s.Sections) {
			low = math.Max(low, float64(s.Sections[i+1].TopM))
		}
		if top <= low {
			continue
		}
		x, own := c.aside(s.Set, i)+c.beside(s.Role), c.beside(s.Role)
		p := from(c.x(x), c.y(top))
		if h := c.onSection(s, marks, i); h != nil && math.Abs(x-own) > 0.05 {
			p.line(c.x(own), c.y(math.Min(top, float64(h.AtM))))
		}
		c.draw(turn{}, p.line(c.x(x), c.y(low)), line)
	}
	section := 0
	for _, m := range marks {
		if m.Kind == rig.RebelayMark {
			section++
		}
		if float64(m.HeightM) > at+reachUp || float64(m.HeightM) < at-reachDown {
			continue
		}
		x, y := c.x(c.aside(s.Set, section)+c.beside(s.Role)), c.y(float64(m.HeightM))
		c.draw(turn{}, circle(x, y, 7), Shape{Ink: line.Ink, Width: 1, Filled: true, Part: "mark"})
		name := cmp.Or(m.Name, string(m.Kind))
		c.say("%s of %s at %v", name, s.Name, m.HeightM)
		// What a lanyard is in is named by the lanyard.
		if !slices.ContainsFunc(c.s.Holds, func(h moves.StanceHold) bool {
			return h.Into != "" && h.Strand == s.ID && math.Abs(float64(h.AtM-m.HeightM)) < 0.05
		}) {
			c.put(x, y+4, x, name)
		}
	}
	if c.s.LoopOn == s.ID {
		x, y := c.x(c.beside(s.Role)), c.y(float64(c.s.LoopAtM))
		c.draw(turn{}, circle(x, y, 8), Shape{Ink: line.Ink, Width: 4, Part: "loop"})
		c.say("a loop is tied in %s at %v", s.Name, c.s.LoopAtM)
	}
}

// onSection is a hold on a section of a strand, nil for none.
func (c *closeSketch) onSection(s *rig.StrandView, marks []rig.Mark, section int) *moves.StanceHold {
	for i := range c.s.Holds {
		h := &c.s.Holds[i]
		if h.Strand != s.ID || h.Into != "" {
			continue
		}
		n := 0
		for _, m := range marks[:min(h.Span, len(marks))] {
			if m.Kind == rig.RebelayMark {
				n++
			}
		}
		if n == section {
			return h
		}
	}
	return nil
}

// put writes words beside a place, on the side on which it lies.
func (c *closeSketch) put(x, y, at float64, words string) {
	if at < closeWide/2 {
		c.Labels = append(c.Labels, Label{X: math.Round(x - 14), Y: math.Round(y), Words: words, Anchor: "end"})
		return
	}
	c.Labels = append(c.Labels, Label{X: math.Round(x + 14), Y: math.Round(y), Words: words, Anchor: "start"})
}

// slung are the anchors with slings to clip into, from the left.
func (c *closeSketch) slung() []rig.Anchor {
	var list []rig.Anchor
	for _, a := range c.of.Drop.Anchors {
		if a.Sling {
			list = append(list, a)
		}
	}
	slices.SortStableFunc(list, func(a, b rig.Anchor) int { return cmp.Compare(a.XM, b.XM) })
	return list
}

func (c *closeSketch) slings() {
	for _, a := range c.slung() {
		x := (float64(a.XM) - float64(c.s.XM)) * c.flip
		if h := float64(a.HeightM - c.s.AtM); h < reachUp && h > -reachDown && math.Abs(x) < 0.9 {
			c.draw(turn{}, circle(c.x(x), c.y(float64(a.HeightM)), 7), Shape{Ink: Outline, Width: 1, Filled: true, Part: "sling"})
		}
	}
}

// body is a plain shape with its two points; standing, with the loop under its feet.
func (c *closeSketch) body() {
	c.draw(turn{}, c.figure(c.y(float64(c.s.AtM))), Shape{Ink: Outline, Width: 2, Part: "body"})
	y := c.y(float64(c.s.AtM))
	switch {
	case c.s.Grounded:
		c.say("on their feet")
	case c.s.Standing:
		c.draw(turn{}, from(c.x(0), y+26).line(c.x(0), y+0.9*perMetre).move(c.x(0)-9, y+0.9*perMetre).line(c.x(0)+9, y+0.9*perMetre), Shape{Ink: Outline, Width: 3, Part: "foot loop"})
		c.say("standing in the foot loop")
	}
}

func (c *closeSketch) figure(y float64) *path {
	x := c.x(0)
	return round(17, x-17, y-0.62*perMetre, x+17, y-0.62*perMetre, x+17, y+24, x-17, y+24)
}

// holds draws each hold where it is, what bears heavy, with its words beside it.
func (c *closeSketch) holds() {
	label := map[bool]float64{true: math.Inf(-1), false: math.Inf(-1)}
	list := slices.SortedFunc(slices.Values(c.s.Holds), func(a, b moves.StanceHold) int { return cmp.Compare(b.AtM, a.AtM) })
	slung := c.slung()
	for _, h := range list {
		piece := c.r.Piece(h.Item)
		s := strandOf(c.r, h.Strand)
		x, on, ink := 0.0, "the structure", Outline
		switch {
		case s != nil:
			x, on, ink = c.beside(s.Role), s.Name, Rope
			if s.Role != rig.Main {
				ink = Other
			}
		case h.Span >= 1 && h.Span <= len(slung):
			x = (float64(slung[h.Span-1].XM) - float64(c.s.XM)) * c.flip
		}
		from0 := float64(c.s.AtM)
		if piece != nil && piece.Model.Class == gear.BackupDevice {
			from0 += sternalUp
		}
		bears := c.s.Bears == h.Item
		link := Shape{Ink: Soft, Width: 2, Part: "link " + h.Item}
		if bears {
			link.Ink, link.Width = Outline, 5
		}
		px, py := c.x(x), c.y(float64(h.AtM))
		c.draw(turn{}, from(c.x(0), c.y(from0)).line(px, py), link)
		c.device(&h, piece, px, py, ink)
		if bears && piece != nil && piece.Model.Class == gear.Descender && !h.Parked {
			c.grip(px, py)
		}
		words, state := c.told(&h, piece)
		c.say("%s on %s%s%s", words, on, map[bool]string{true: ", bears"}[bears], map[bool]string{true: ", " + state}[state != ""])
		left := px < closeWide/2
		y := math.Max(py+4, label[left]+26)
		label[left] = y
		c.put(px-map[bool]float64{true: 4, false: -4}[left], y, px, words)
		if state != "" {
			c.put(px-map[bool]float64{true: 4, false: -4}[left], y+13, px, state)
		}
	}
	if len(list) == 0 {
		c.say("no hold")
	}
}

// told is a hold's words, and how it stands.
func (c *closeSketch) told(h *moves.StanceHold, piece *rig.Piece) (words, state string) {
	words = h.Item
	if piece != nil {
		words = piece.Item.Label
	}
	switch {
	case h.Unlocked || h.Unproved:
		state = "not locked and proved"
	case h.Tied:
		state = "tied off"
	case h.Parked:
		state = "parked"
	}
	return words, state
}

// device is the outline of its kind, small; what is not made sure of is dashed, what is parked
// has a bar across it.
func (c *closeSketch) device(h *moves.StanceHold, piece *rig.Piece, x, y float64, ink Ink) {
	s := Shape{Ink: ink, Width: 2.5, Part: "hold " + h.Item}
	if h.Unlocked || h.Unproved {
		s.Ink, s.Dashed, s.Width = Wrong, true, 4
	}
	kind := Kind("")
	if piece != nil && h.Into == "" {
		kind = KindOf(piece.Model)
	}
	if kind == "" {
		c.draw(turn{}, round(3, x-8, y-5, x+8, y-5, x+8, y+5, x-8, y+5), s)
	} else {
		o := outlines[kind](false)
		c.draw(turn{}, sized(o.paths[0], x, y, 0.16), s)
	}
	if h.Parked {
		c.draw(turn{}, from(x-16, y).line(x+16, y), Shape{Ink: Outline, Width: 3, Part: "parked"})
	}
}

// sized is an outline made small about a place.
func sized(p *path, x, y, k float64) *path {
	q := &path{}
	for _, n := range p.nodes {
		for i := range points[n.op] {
			n.at[i] = [2]float64{x + k*(n.at[i][0]-wide/2), y + k*(n.at[i][1]-high/2)}
		}
		q.nodes = append(q.nodes, n)
	}
	return q
}

// grip is the brake hand on its strand.
func (c *closeSketch) grip(x, y float64) {
	side := -1.0
	if (c.of.Hand != "left") != (c.flip > 0) {
		side = 1
	}
	hx, hy := x+side*46, c.y(float64(c.s.AtM))+44
	c.draw(turn{}, from(x, y+14).bend(x, hy-14, hx, hy), Shape{Ink: Rope, Width: 3, Part: "brake strand"})
	c.draw(turn{}, circle(hx, hy, 8), Shape{Ink: Moving, Width: 1, Filled: true, Part: "hand"})
	c.Labels = append(c.Labels, Label{X: math.Round(hx), Y: math.Round(hy + 23), Words: "hand", Anchor: "middle"})
	c.say("the %s hand is on the brake strand", cmp.Or(c.of.Hand, "right"))
}

// lose draws what the worst failure would do: where the body comes to hang, or that nothing
// holds.
func (c *closeSketch) lose(l *stance.Lost) {
	if !l.Held {
		c.Labels = append(c.Labels, Label{X: 10, Y: 20, Words: "■ nothing holds", Anchor: "start"})
		c.say("if %s goes, nothing holds", strings.TrimSuffix(l.Words, "."))
		return
	}
	y := c.y(float64(c.s.AtM))
	fall := y + float64(l.FreeFallM)*perMetre
	shown := math.Min(fall, closeHigh-30)
	c.draw(turn{}, opened(c.figure(shown)), Shape{Ink: Wrong, Width: 2.5, Dashed: true, Part: "rests"})
	c.draw(turn{}, from(c.x(0)+30, y).line(c.x(0)+30, shown).move(c.x(0)+24, shown-8).line(c.x(0)+30, shown).line(c.x(0)+36, shown-8), Shape{Ink: Wrong, Width: 2.5, Part: "falls"})
	c.Labels = append(c.Labels, Label{X: math.Round(c.x(0) + 40), Y: math.Round(math.Min(y+36, closeHigh-6)), Words: fmt.Sprintf("■ falls %v", l.FreeFallM), Anchor: "start"})
	c.say("if %s goes, they fall %v, then %s holds", l.Words, l.FreeFallM, l.By)
}
