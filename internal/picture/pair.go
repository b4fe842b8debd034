package picture

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// PairPictured is a rescuer with a casualty at one step of a rescue.
type PairPictured struct {
	Drop     drop.Document `json:"drop"`
	Rescuer  string        `json:"rescuer" maxLength:"64"`
	Casualty string        `json:"casualty" maxLength:"64"`
	State    pair.Shown    `json:"state"`
	// Next is the step after it: what it opens is marked.
	Next *pair.Action `json:"next,omitempty" doc:"the next step's: what it opens is marked"`
	Lost *stance.Lost `json:"lost,omitempty" doc:"what one failure would do, of the step's list"`
}

func pairPicture(_ context.Context, _ ask.Env, _ struct{}, a *PairPictured) (*Drawing, error) {
	r, err := a.Drop.Rig()
	if err != nil {
		return nil, err
	}
	p := Pair{State: &a.State, Lost: a.Lost}
	for _, b := range []struct{ id, at, place string }{{a.Rescuer, "rescuer", "/rescuer"}, {a.Casualty, "casualty", "/casualty"}} {
		i := slices.IndexFunc(r.People, func(v *rig.PersonView) bool { return v.ID == b.id })
		if i < 0 {
			return nil, refused(b.place, "there is nobody %q on this drop", b.id)
		}
		if b.at == "rescuer" {
			p.Rescuer = r.People[i].Name
		} else {
			p.Casualty = r.People[i].Name
		}
	}
	for i, h := range slices.Concat(a.State.Own, a.State.Theirs) {
		s := strandOf(r, h.Strand)
		if s == nil {
			return nil, refused(fmt.Sprintf("/state/holds/%d", i), "there is no strand %q", h.Strand)
		}
		if !slices.ContainsFunc(p.Strands, func(o PairStrand) bool { return o.ID == s.ID }) {
			p.Strands = append(p.Strands, PairStrand{s.ID, s.Name, s.Role == rig.Main})
		}
	}
	p.Opens = opens(&a.State, a.Next)
	return p.Draw(), nil
}

// opens is the casualty's item that a step opens: what is taken off, or what gripped and is
// opened while they are lifted.
func opens(s *pair.Shown, next *pair.Action) string {
	switch {
	case next == nil:
	case next.Do == pair.TakeOff:
		return next.Item
	case next.Do == pair.Lift:
		for _, h := range s.Theirs {
			if h.Bears {
				return h.Item
			}
		}
	}
	return ""
}

// A Pair is a rescuer with a casualty, as they are drawn.
type Pair struct {
	Rescuer, Casualty string
	State             *pair.Shown
	Strands           []PairStrand
	// Opens is the item of the casualty that is taken off next.
	Opens string
	Lost  *stance.Lost
}

// PairStrand is a strand that either of them is on.
type PairStrand struct {
	ID, Name string
	Main     bool
}

// The box of a pair: the rescuer on the left, the casualty on the right.
const (
	pairWide = 470.0
	pairHigh = 440.0
	rescuerX = 165.0
	otherX   = 305.0
	bodyY    = 316.0
)

type pairSketch struct {
	sketch
	of     *Pair
	strand map[string]float64
	// at is where each hold is, by its item.
	at map[string][2]float64
}

// Draw draws both with their holds and what joins them.
func (p *Pair) Draw() *Drawing {
	k := &pairSketch{sketch: sketch{Drawing: &Drawing{Width: pairWide, Height: pairHigh, Shapes: []Shape{}, Labels: []Label{}}}, of: p, strand: map[string]float64{}, at: map[string][2]float64{}}
	k.strands()
	// Metres between the two are to one scale, as far as the box goes.
	apart := math.Max(-70, math.Min(70, 60*float64(p.State.RescuerM-p.State.CasualtyM)))
	own, theirs := bodyY-apart/2, bodyY+apart/2
	k.holds(p.Rescuer, p.State.Own, rescuerX, own, -1)
	k.holds(p.Casualty, p.State.Theirs, otherX, theirs, 1)
	k.joined(own, theirs)
	k.body(p.Rescuer, rescuerX, own)
	k.body(p.Casualty, otherX, theirs)
	if p.Lost != nil {
		k.lose(p.Lost)
	}
	k.Text = sentences(k.says)
	return k.Drawing
}

// strands are those of both, side by side from the top.
func (k *pairSketch) strands() {
	n := len(k.of.Strands)
	for i, s := range k.of.Strands {
		x := pairWide/2 + 60*(float64(i)-float64(n-1)/2)
		k.strand[s.ID] = x
		ink := Rope
		if !s.Main {
			ink = Other
		}
		k.anchor(x, 40)
		k.draw(turn{}, from(x, 40).line(x, pairHigh-10), Shape{Ink: ink, Width: 4, Dashed: !s.Main, Part: "strand " + s.ID})
	}
	if n > 0 {
		var names []string
		for _, s := range k.of.Strands {
			names = append(names, s.Name)
		}
		k.say("strands from the left: %s", strings.Join(names, ", "))
	}
}

// holds are a body's on their strands, the one that bears heavy.
func (k *pairSketch) holds(name string, list []pair.ShownHold, x, y, out float64) {
	// The rescuer's are above the casualty's: they may share a strand.
	top := 78.0
	if out > 0 {
		top += 36 * float64(max(2, len(k.of.State.Own)))
	}
	for i, h := range list {
		sx := k.strand[h.Strand]
		hy := top + 36*float64(i)
		k.at[h.Item] = [2]float64{sx, hy}
		link := Shape{Ink: Soft, Width: 2, Part: "link " + h.Item}
		words := h.Label
		state := ""
		if h.Bears {
			link.Ink, link.Width = Outline, 5
			state = "bears"
		}
		if h.Parked {
			state = strings.TrimPrefix(state+", parked", ", ")
		}
		if h.Tied {
			state = strings.TrimPrefix(state+", tied off", ", ")
		}
		k.draw(turn{}, from(sx, hy).line(x, y-30), link)
		if h.Item == k.of.Opens {
			k.draw(turn{}, circle(sx, hy, 20), Shape{Ink: Moving, Width: 4, Dashed: true, Part: "opens"})
			state = "opens next"
		}
		box := Shape{Ink: Outline, Width: 3, Part: "hold " + h.Item}
		k.draw(turn{}, round(4, sx-12, hy-12, sx+12, hy-12, sx+12, hy+12, sx-12, hy+12), box)
		if h.Parked {
			k.draw(turn{}, from(sx-16, hy).line(sx+16, hy), Shape{Ink: Outline, Width: 4, Part: "parked"})
		}
		anchor, lx := "end", 156.0
		if out > 0 {
			anchor, lx = "start", pairWide-156
		}
		k.Labels = append(k.Labels, Label{X: lx, Y: hy + 2, Words: fitting(words, 16), Anchor: anchor}, Label{X: lx, Y: hy + 17, Words: state, Anchor: anchor})
		k.say("%s has %s on %s%s", name, h.Label, k.nameOf(h.Strand), map[bool]string{true: ", " + state, false: ""}[state != ""])
	}
	if len(list) == 0 {
		k.say("%s has no hold of their own", name)
	}
}

func (k *pairSketch) nameOf(strand string) string {
	for _, s := range k.of.Strands {
		if s.ID == strand {
			return s.Name
		}
	}
	return strand
}

// joined is what joins the two: the chain to the rescuer's descender, and the long lanyard.
func (k *pairSketch) joined(own, theirs float64) {
	s := k.of.State
	if s.Chain != "" {
		from0 := [2]float64{rescuerX, own - 30}
		for _, h := range s.Own {
			if h.Bears {
				from0 = k.at[h.Item]
			}
		}
		line := Shape{Ink: Outline, Width: 3, Part: "chain"}
		if s.Bears == "chain" {
			line.Width = 6
		}
		line.Dashed = s.Chain != "locked"
		k.draw(turn{}, from(from0[0], from0[1]+12).bend(pairWide/2+10, theirs-50, otherX, theirs-30), line)
		for n := range s.Links {
			t := (float64(n) + 1) / (float64(s.Links) + 1)
			x, y := bent(from0[0], from0[1]+12, pairWide/2+10, theirs-50, otherX, theirs-30, t)
			k.draw(turn{}, circle(x, y, 6), Shape{Ink: Outline, Width: 2.5, Part: "links"})
		}
		what := fmt.Sprintf("a chain of %d", s.Links)
		if s.Strap {
			what = "a short lanyard or sling"
		}
		k.say("%s from %s to the rescuer's descender, %s%s", what, k.of.Casualty, locked(s.Chain), map[bool]string{true: ", bears them", false: ""}[s.Bears == "chain"])
	}
	if s.Long != "" {
		line := Shape{Ink: Moving, Width: 4, Part: "long lanyard"}
		line.Dashed = s.Long != "locked"
		low := math.Max(own, theirs) + 60
		k.draw(turn{}, from(rescuerX+16, own).bend(pairWide/2, low, otherX-16, theirs), line)
		k.Labels = append(k.Labels, Label{X: pairWide / 2, Y: math.Round(low - 6), Words: "long lanyard", Anchor: "middle"})
		k.say("the long lanyard joins them, %s", locked(s.Long))
	}
	switch s.Bears {
	case "lift":
		k.draw(turn{}, from(otherX+24, theirs-34).line(otherX+24, 60).move(otherX+16, 74).line(otherX+24, 60).line(otherX+32, 74), Shape{Ink: Moving, Width: 4, Part: "lift"})
		k.say("%s is on the lift", k.of.Casualty)
	case "ground":
		k.say("%s is on the ground", k.of.Casualty)
	}
	if s.Bend {
		k.say("the friction for two is in")
	}
}

func locked(join string) string {
	if join == "locked" {
		return "locked"
	}
	return "shut, and not locked"
}

// bent is a point on a curve of two.
func bent(x0, y0, x1, y1, x2, y2, t float64) (x, y float64) {
	a, b, c := (1-t)*(1-t), 2*t*(1-t), t*t
	return a*x0 + b*x1 + c*x2, a*y0 + b*y1 + c*y2
}

// body is a plain shape with a name below it.
func (k *pairSketch) body(name string, x, y float64) {
	k.draw(turn{}, circle(x, y-44, 11), Shape{Ink: Outline, Width: 2.5, Part: "body"})
	k.draw(turn{}, round(15, x-17, y-32, x+17, y-32, x+17, y+44, x-17, y+44), Shape{Ink: Outline, Width: 2.5, Part: "body"})
	first, _, _ := strings.Cut(name, " ")
	k.Labels = append(k.Labels, Label{X: x, Y: math.Round(y + 66), Words: first, Anchor: "middle"})
}

// lose marks what fails, and says what it does.
func (k *pairSketch) lose(l *stance.Lost) {
	x, y := pairWide/2, 60.0
	switch at, there := k.at[l.Point.ID]; {
	case there:
		x, y = at[0], at[1]
	case l.Point.ID == "chain":
		x, y = pairWide/2+10, bodyY-60
	default:
		if sx, is := k.strand[l.Point.ID]; is {
			x = sx
		}
	}
	k.draw(turn{}, from(x-13, y-13).line(x+13, y+13).move(x+13, y-13).line(x-13, y+13), Shape{Ink: Wrong, Width: 6, Part: "lost"})
	words := "■ nothing holds"
	if l.Held {
		words = fmt.Sprintf("■ falls %v", l.FreeFallM)
		k.say("if %s goes, they fall %v, then %s holds", l.Words, l.FreeFallM, l.By)
	} else {
		k.say("if %s goes, nothing holds", l.Words)
	}
	k.Labels = append(k.Labels, Label{X: pairWide / 2, Y: 18, Words: words, Anchor: "middle"})
}
