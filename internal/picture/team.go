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
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/team"
)

// TeamPictured is the rig of a team at one step of a move.
type TeamPictured struct {
	Drop  drop.Document `json:"drop"`
	State team.State    `json:"state"`
	// Lost is a single failure of that step.
	Lost *stance.Lost `json:"lost,omitempty" doc:"what one failure would do, of the step's list"`
}

func teamPicture(_ context.Context, _ ask.Env, _ struct{}, a *TeamPictured) (*Drawing, error) {
	s, err := site.Open(&a.Drop)
	if err != nil {
		return nil, err
	}
	r := team.On(s)
	if r == nil {
		return nil, refused("/drop/team", "missing: nothing is rigged for a team on this drop")
	}
	return Team(r, &a.State, a.Lost), nil
}

// The box of a team's rig: the main on the left, the belay on the right, words outside.
const (
	teamWide = 420.0
	teamHigh = 440.0
	anchorY  = 34.0
	brakeY   = 84.0
	grabY    = 138.0
	edgeY    = 206.0
	groundY  = 424.0
	loadTop  = 226.0
	loadLow  = 370.0
	mainX    = 168.0
	belayX   = 252.0
	centre   = (mainX + belayX) / 2
)

// A teamSketch is a drawing of a team's rig in the making.
type teamSketch struct {
	sketch
	rig  *team.Rig
	s    *team.State
	load float64
}

// Team draws the rig of a team as it stands, and what one failure would do; nil: none.
func Team(r *team.Rig, s *team.State, lost *stance.Lost) *Drawing {
	t := &teamSketch{sketch: sketch{Drawing: &Drawing{Width: teamWide, Height: teamHigh, Shapes: []Shape{}, Labels: []Label{}}}, rig: r, s: s, load: edgeY - 38}
	top := math.Max(0.1, float64(r.TopM))
	if s.Hangs {
		t.load = loadTop + (loadLow-loadTop)*(1-math.Min(1, math.Max(0, float64(s.At.M())/top)))
		t.say("%s hangs at %v", r.Load.Name, s.At.M())
	} else {
		t.say("%s is on the level", r.Load.Name)
	}
	t.draw(turn{}, from(70, anchorY-18).line(350, anchorY-18), Shape{Ink: Outline, Width: 6})
	t.draw(turn{}, from(70, edgeY).line(350, edgeY), Shape{Ink: Soft, Width: 4, Dashed: true, Part: "edge"})
	t.draw(turn{}, from(70, groundY).line(350, groundY), Shape{Ink: Outline, Width: 4})
	t.Labels = append(t.Labels, Label{X: 2, Y: edgeY + 16, Words: "edge", Anchor: "start"}, Label{X: 2, Y: groundY - 8, Words: "landing", Anchor: "start"})
	t.half("main", &s.Main, &r.Main, mainX, -1)
	t.half("belay", &s.Belay, &r.Belay, belayX, 1)
	t.body()
	if lost != nil {
		t.lose(lost)
	}
	t.Text = sentences(t.says)
	return t.Drawing
}

// box is the outline of the load, its top at y.
func (t *teamSketch) box(y float64) *path {
	return round(8, centre-38, y, centre+38, y, centre+38, y+36, centre-38, y+36)
}

func (t *teamSketch) body() {
	t.draw(turn{}, t.box(t.load), Shape{Ink: Outline, Width: 3, Part: "load"})
	words := "on the level"
	if t.s.Hangs {
		words = fmt.Sprint(t.s.At.M())
	}
	t.Labels = append(t.Labels, Label{X: centre, Y: math.Round(t.load + 24), Words: words, Anchor: "middle"})
}

// aside puts words beside a strand, on its outer side.
func (t *teamSketch) aside(x, y, out float64, words string) {
	anchor := "start"
	if out < 0 {
		anchor = "end"
	}
	t.Labels = append(t.Labels, Label{X: math.Round(x), Y: math.Round(y), Words: words, Anchor: anchor})
}

// half draws a strand through its brake, with what is on it.
func (t *teamSketch) half(name string, h *team.Half, l *team.Line, x, out float64) {
	says := []string{fmt.Sprintf("%s: %s", name, l.Brake)}
	t.anchor(x, anchorY)
	t.draw(turn{}, from(x, anchorY).line(x, brakeY-16), Shape{Ink: Outline, Width: 3})
	caught := h.Grab == team.Holding || h.Toothed == team.TeethBear
	bears := t.s.Hangs && (name == "main" || t.s.Shared)
	if h.Loaded {
		t.strand(h, x, out, bears, caught)
		t.brakeSide(name, h, l, x, out)
		for i, k := range l.KnotsM {
			says = append(says, t.knot(h, l, i, k, x, out))
		}
	}
	says = append(says, t.brake(h, l, x, out)...)
	says = append(says, t.onStrand(h, x, out)...)
	if name == "belay" && t.s.Hangs && h.Loaded && !t.s.Shared {
		says = append(says, "carries nothing")
	}
	t.say("%s", strings.Join(says, ", "))
}

// strand is the rope below the brake: heavy where it bears, a wave where it carries nothing,
// thin above a grab that bears.
func (t *teamSketch) strand(h *team.Half, x, out float64, bears, caught bool) {
	end := centre + out*20
	p := from(x, brakeY+16)
	heavy := Shape{Ink: Rope, Width: 6, Part: "strand"}
	if out > 0 {
		heavy.Ink = Other
	}
	switch {
	case caught:
		t.draw(turn{}, from(x, brakeY+16).bend(x+out*12, (brakeY+grabY)/2, x, grabY), Shape{Ink: heavy.Ink, Width: 2.5, Dashed: true, Part: "strand"})
		p = from(x, grabY)
	case !bears && t.s.Hangs:
		heavy.Width = 3
		p.bend(x+out*14, brakeY+50, x, brakeY+80).line(x, edgeY)
		t.draw(turn{}, p.line(end, t.load), heavy)
		return
	}
	if t.s.Hangs {
		p.line(x, edgeY)
	}
	t.draw(turn{}, p.line(end, t.load), heavy)
}

// brakeSide is the brake strand with the hand that is on it.
func (t *teamSketch) brakeSide(name string, h *team.Half, l *team.Line, x, out float64) {
	ink := Rope
	if out > 0 {
		ink = Other
	}
	p := from(x+out*14, brakeY)
	at := [2]float64{x + out*58, brakeY + 44}
	switch {
	case h.Forward:
		at = [2]float64{x + out*52, brakeY + 4}
		p.line(at[0], at[1])
	case h.Hand > 0:
		p.bend(x+out*50, brakeY+6, at[0], at[1]).line(x+out*50, brakeY+80)
	default:
		p.bend(x+out*40, brakeY+4, x+out*44, brakeY+56).line(x+out*44, brakeY+76)
	}
	t.draw(turn{}, p, Shape{Ink: ink, Width: 4, Part: "brake strand"})
	if h.Tied {
		t.draw(turn{}, circle(x+out*32, brakeY+8, 8), Shape{Ink: Outline, Width: 4, Part: "tied"})
	}
	if h.Bend {
		t.draw(turn{}, circle(x+out*22, brakeY+26, 6), Shape{Ink: Outline, Width: 2.5, Part: "bend"})
	}
	if h.Hand == 0 {
		return
	}
	t.draw(turn{}, circle(at[0], at[1], 10), Shape{Ink: Moving, Width: 2, Filled: true, Part: "hand"})
	t.aside(at[0]+out*14, at[1]+5, out, t.operator(h.Hand))
}

// operator is who has a number, as far as the words fit.
func (t *teamSketch) operator(n int8) string {
	if i := int(n) - 1; i < len(t.rig.Operators) && t.rig.Operators[i] != "" {
		first, _, _ := strings.Cut(t.rig.Operators[i], " ")
		return first
	}
	return fmt.Sprint("operator ", n)
}

// brake draws a brake as it stands, and says it.
func (t *teamSketch) brake(h *team.Half, l *team.Line, x, out float64) (says []string) {
	box := Shape{Ink: Outline, Width: 3, Part: "brake"}
	if !h.Loaded {
		box.Dashed = true
	}
	t.draw(turn{}, round(6, x-15, brakeY-16, x+15, brakeY-16, x+12, brakeY+16, x-12, brakeY+16), box)
	add := func(is bool, words string) {
		if is {
			says = append(says, words)
		}
	}
	add(!h.Loaded, "no rope in it")
	add(h.Loaded && !h.Proved, "not proved")
	add(h.Parked, "parked")
	add(h.Loaded && !h.Parked, "live")
	if h.Parked {
		t.draw(turn{}, from(x-20, brakeY).line(x+20, brakeY), Shape{Ink: Outline, Width: 6, Part: "parked"})
	}
	add(h.Tied, "tied off")
	add(h.Bend, "with the added bend")
	add(h.Wheel.Set, "lock set")
	add(h.Wheel.Handle, "handle out")
	add(h.Wheel.Grip, "wheel gripped")
	add(h.Away, "its operator away")
	t.aside(x+out*22, brakeY-32, out, fitting(l.Brake, 16))
	short := says[:min(2, len(says))]
	if h.Bend && h.Loaded && h.Proved && !h.Tied {
		short = []string{says[0], "bend"}
	}
	t.aside(x+out*22, brakeY-16, out, strings.Join(short, ", "))
	if h.Hand > 0 {
		says = append(says, "the hand of "+t.operator(h.Hand)+" on its brake strand")
	}
	add(h.Hand > 0 && h.Forward, "which comes off forward")
	return says
}

// fitting is as much of a name as fits, in whole words where it can be, and marked where it is
// not all.
func fitting(name string, most int) string {
	letters := []rune(name)
	if len(letters) <= most {
		return name
	}
	part := string(letters[:most])
	if i := strings.LastIndex(part, " "); i > 0 {
		part = part[:i]
	}
	return part + "…"
}

// onStrand draws grab, hitch, capture and haul, and says them.
func (t *teamSketch) onStrand(h *team.Half, x, out float64) (says []string) {
	if h.Grab != team.NoGrab {
		hitch := Shape{Ink: Outline, Width: 3, Dashed: true, Part: "hitch"}
		words := "grab on, snug"
		if h.Grab == team.Holding {
			hitch.Width, hitch.Dashed, words = 5, false, "grab holds"
		}
		low := grabY
		if h.Extended {
			low += 24
			words += ", hitch let out"
		}
		side := x - out*26
		t.draw(turn{}, from(x, anchorY).bend(side, anchorY+20, side, brakeY).line(side, low-14).bend(side, low, x, low), hitch)
		t.thing(round(4, x-12, low-10, x+12, low-10, x+12, low+10, x-12, low+10))
		t.aside(x+out*18, low+26, out, words)
		says = append(says, words)
	}
	switch h.Toothed {
	case team.TeethBear:
		says = append(says, "toothed capture bears")
	case team.TeethOpen:
		says = append(says, "capture held open")
	}
	if h.Toothed != team.NoTeeth {
		t.thing(from(x-14, grabY-12).line(x+14, grabY-12).line(x+4, grabY-4).line(x+14, grabY).line(x+4, grabY+6).line(x-14, grabY+12).shut())
		t.aside(x+out*18, grabY+6, out, says[len(says)-1])
	}
	if h.Haul > 0 {
		says = append(says, t.haulOn(h, x, out))
	}
	return says
}

// haulOn is a haul on a strand: its moving pulley far below while there is stroke, drawn up when
// it is used up.
func (t *teamSketch) haulOn(h *team.Half, x, out float64) string {
	side, low := x-out*30, edgeY-22
	words := fmt.Sprintf("%d:1 haul", h.Haul)
	switch {
	case h.Spent:
		low = brakeY + 26
		words += ", stroke used up"
	case h.Pull:
		words += ", haulers pull"
	default:
		words += ", slack"
	}
	if h.Beyond {
		words += ", its grab beyond the knot"
	}
	for _, y := range []float64{anchorY + 24, low} {
		t.thing(circle(side, y, 9))
	}
	for _, dx := range []float64{-9, 9} {
		t.draw(turn{}, from(side+dx, anchorY+24).line(side+dx, low), Shape{Ink: Soft, Width: 3, Part: "haul"})
	}
	t.draw(turn{}, from(side, low).line(x, low+8), Shape{Ink: Outline, Width: 3, Part: "haul"})
	if h.Pull {
		t.arrow(side-out*2, low-30, side-out*2, anchorY+48)
	}
	t.aside(x+out*18, edgeY-8, out, strings.Split(words, " haul")[0]+map[bool]string{true: " used up", false: " haul"}[h.Spent])
	return words
}

// knot draws a knot where it is: beyond the brake, or still before it.
func (t *teamSketch) knot(h *team.Half, l *team.Line, i int, k quantity.Metres, x, out float64) string {
	in := l.Path.At(t.s.At.M())
	kx, ky := x, 0.0
	words := ""
	if i < int(h.Passed) {
		below := max(0, in-k)
		ky = brakeY + 30 + (edgeY-brakeY-40)*math.Min(1, float64(below)/5)
		words = fmt.Sprintf("knot %v below", below)
	} else {
		// Rounded down: heights are in whole centimetres, and the load stops above rather than below.
		before := quantity.Metres(math.Floor(float64(max(0, k-in))*100+1e-6) / 100)
		kx, ky = x+out*46, brakeY+76
		if h.Hand > 0 {
			kx = x + out*51
		}
		if i > int(h.Passed) {
			// Those further back stay on the rope that lies behind.
			return fmt.Sprintf("a further knot %v before it", before)
		}
		if before < 0.3 {
			kx, ky = x+out*26, brakeY+2
		}
		words = fmt.Sprintf("knot %v before", before)
	}
	short := strings.TrimSuffix(strings.TrimSuffix(words, " before"), " below")
	t.draw(turn{}, circle(kx, ky, 7), Shape{Ink: Rope, Width: 2, Filled: true, Part: "knot"})
	t.aside(x+out*50, brakeY+98, out, short+map[bool]string{true: " past", false: " off"}[i < int(h.Passed)])
	return words + " the brake"
}

// lose draws a failure: what goes, and where the load comes to rest.
func (t *teamSketch) lose(lost *stance.Lost) {
	x, y := mainX, brakeY+40
	switch {
	case lost.Point.ID == "belay":
		x = belayX
	case lost.Point.ID == "haul":
		x, y = mainX+30, brakeY
	case strings.HasPrefix(lost.Point.ID, "operator-"):
		x, y = mainX-58, brakeY+44
		if fmt.Sprint("operator-", t.s.Main.Hand) != lost.Point.ID {
			x = belayX + 58
		}
	}
	t.draw(turn{}, from(x-12, y-12).line(x+12, y+12).move(x+12, y-12).line(x-12, y+12), Shape{Ink: Wrong, Width: 6, Part: "lost"})
	if !lost.Held {
		t.Labels = append(t.Labels, Label{X: centre, Y: edgeY + 14, Words: "■ nothing holds", Anchor: "middle"})
		t.draw(turn{}, from(276, t.load).line(276, groundY-4).move(266, groundY-16).line(276, groundY-4).line(286, groundY-16), Shape{Ink: Wrong, Width: 4, Part: "falls"})
		t.say("if %s, nothing holds", lost.Words)
		return
	}
	by := math.Min(groundY-40-t.load, 40+6*float64(lost.FreeFallM)) // not to scale: its words say how far
	t.draw(turn{}, t.box(t.load+by), Shape{Ink: Wrong, Width: 2.5, Dashed: true, Part: "rests"})
	t.Labels = append(t.Labels, Label{X: centre + 44, Y: math.Round(math.Min(t.load+by+24, groundY-8)), Words: fmt.Sprintf("■ drops %v", lost.FreeFallM), Anchor: "start"})
	t.say("if %s, it drops %v, then %s holds", lost.Words, lost.FreeFallM, lost.By)
}
