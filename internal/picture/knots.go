package picture

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zealousknot/internal/core/knot"
	"zealousknot/internal/core/quantity"
)

// A Knot is one of the knots of the job, as it is tied here.
type Knot struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	// Term is its word in the glossary; none for what stands under another word.
	Term string `json:"term,omitempty"`
	// Use says what it is for, Runs how its rope runs, Wrong what its wrong form is.
	Use   string `json:"use"`
	Runs  string `json:"runs"`
	Wrong string `json:"wrong"`
	// Steps are the actions of a person's moves that tie it. What a team ties its kit decides.
	Steps []string `json:"steps,omitempty"`

	// tied gives its ropes with a tail of so many diameters, amiss its wrong form.
	tied, amiss func(tail float64) *tied
	takes       func(t *knot.Table) quantity.Ratio
}

// A tied knot is its ropes, with where its tails end and what else is there.
type tied struct {
	cords []cord
	// tails are where a tail leaves the knot, and which way it runs.
	tails []tailOf
	rings []place
	harm  []place
	// named are words at places.
	named []named
}

type tailOf struct{ x, y, way float64 }

type named struct {
	at    place
	words string
}

// tooShort is the tail of a wrong form: well below what the table asks for, whatever that is.
func tooShort(tail float64) float64 { return 0.3 * tail }

// Knots is every knot that is drawn.
var Knots = []Knot{
	{
		ID: "end-loop", Name: "figure-eight loop", Term: "end loop", Use: "the rope's end at its anchor", Runs: "two strands side by side through a figure eight, the loop above, the tail beside the strand that bears", Wrong: "the tail is too short: it can pull through",
		tied: endTied, amiss: func(tail float64) *tied { return endTied(tooShort(tail)) }, takes: func(t *knot.Table) quantity.Ratio { return t.EndLoop },
	},
	{
		ID: "mid-loop", Name: "mid-line loop", Term: "mid-line loop", Use: "a loop in the middle of a strand, pulled both ways", Runs: "twisted twice, folded down over its own feet, and brought up from behind through the middle", Wrong: "one twist is missing: it runs through", Steps: []string{"tie"},
		tied:  func(float64) *tied { return &tied{cords: midLoop(2)} },
		amiss: func(float64) *tied { return &tied{cords: midLoop(1)} }, takes: func(t *knot.Table) quantity.Ratio { return t.MidLoop },
	},
	{
		ID: "eye-loop", Name: "loop with an eye", Term: "loop with an eye", Use: "damage taken out of the line, with an eye to clip into", Runs: "a figure eight in a bight; its long loop is tied off by an overhand, so that the eye between them is clear of the damage", Wrong: "the damage is in the eye, not in the loop beyond it", Steps: []string{"isolate"},
		tied:  func(float64) *tied { return eyeTied(22.4) },
		amiss: func(float64) *tied { return eyeTied(5.1) },
	},
	{
		ID: "join", Name: "figure-eight join", Term: "join", Use: "two ropes tied into one strand", Runs: "the second rope follows the first back through its figure eight; the tails leave at opposite ends", Wrong: "the tails are too short: they can pull through",
		tied: joinTied, amiss: func(tail float64) *tied { return joinTied(tooShort(tail)) }, takes: func(t *knot.Table) quantity.Ratio { return t.Join },
	},
	{
		ID: "stopper", Name: "double overhand stopper", Term: "end stop", Use: "the end stop: no device runs off", Runs: "two turns round its own strand, and the end down through both", Wrong: "one turn only: it is small, and works loose",
		tied: func(tail float64) *tied {
			return &tied{cords: stopper(2, tail), tails: []tailOf{{-0.62, -3.6, -1}}}
		},
		amiss: func(tail float64) *tied {
			return &tied{cords: stopper(1, tail), tails: []tailOf{{-0.62, -3, -1}}}
		}, takes: func(t *knot.Table) quantity.Ratio { return t.Stopper },
	},
	{
		ID: "backing", Name: "backing knot", Term: "backing knot", Use: "keeps a knot's tail from pulling through", Runs: "two turns of the tail round the strand that bears and itself, and the end down through both", Wrong: "tied round itself alone: it holds nothing",
		tied:  func(tail float64) *tied { return backed(tail, false) },
		amiss: func(tail float64) *tied { return backed(tail, true) },
	},
	{
		ID: "walk-away", Name: "overhand round the load strand", Term: "walk-away knot", Use: "ties a parked brake off when its operator leaves", Runs: "a bight of the brake strand, once round the load strand and down through its own turn", Wrong: "tied beside the load strand, not round it",
		tied: func(float64) *tied {
			return &tied{cords: roundStrand(false), named: []named{{place{1.2, -13, 0}, "load strand"}}}
		},
		amiss: func(float64) *tied {
			return &tied{cords: roundStrand(true), named: []named{{place{5.6, -15.4, 0}, "load strand"}}}
		},
	},
	{
		ID: "grip-hitch", Name: "friction hitch", Term: "friction hitch", Use: "a cord that grips the rope both ways", Runs: "three turns to each side of the middle, every turn beside the last, both legs out under the bar", Wrong: "one turn to each side: it slides",
		tied:  func(float64) *tied { return &tied{cords: gripping(3)} },
		amiss: func(float64) *tied { return &tied{cords: gripping(1)} },
	},
	{
		ID: "release-hitch", Name: "load-releasing hitch", Term: "load-releasing hitch", Use: "lets a caught load down onto its brake", Runs: "reeved between two connectors, wound four times round its own strands, and the end passed between them", Wrong: "the end is not passed through: it lets go",
		tied:  func(float64) *tied { return &tied{cords: releasing(true), rings: []place{{0, 10.6, 0}, {0, -9.9, 0}}} },
		amiss: func(float64) *tied { return &tied{cords: releasing(false), rings: []place{{0, 10.6, 0}, {0, -9.9, 0}}} },
	},
}

// FindKnot gives a knot by its id; nil for none.
func FindKnot(id string) *Knot {
	if i := slices.IndexFunc(Knots, func(k Knot) bool { return k.ID == id }); i >= 0 {
		return &Knots[i]
	}
	return nil
}

func endTied(tail float64) *tied {
	return &tied{cords: endLoop(tail), tails: []tailOf{{-half, -6.2 * 1.75, -1}}}
}

func joinTied(tail float64) *tied {
	return &tied{cords: join(tail), tails: []tailOf{{-half, -6.2 * 1.75, -1}, {half, 6.2 * 1.75, 1}}}
}

func backed(tail float64, loose bool) *tied {
	t := &tied{cords: backing(tail, loose), tails: []tailOf{{-1.24, -3.6, -1}}}
	if loose {
		t.tails[0].x = -0.62
	}
	return t
}

func eyeTied(harm float64) *tied {
	x := 1.7
	if harm < 10 {
		x = 3.2
	}
	return &tied{cords: eyeLoop(), harm: []place{{x, harm, 0}}}
}

// A Tying is a knot in a rope.
type Tying struct {
	DiameterMM quantity.Millimetres
	Table      knot.Table
	Back       bool
}

// Draw draws the knot in the rope, to scale; wrong draws its wrong form.
func (k *Knot) Draw(in Tying, wrong bool) *Drawing {
	tail := float64(in.Table.Tail)
	of := k.tied(tail)
	if wrong {
		of = k.amiss(tail)
	}
	if in.Back {
		of.turn()
	}
	d := &Drawing{Width: wide, Height: high, Shapes: []Shape{}, Labels: []Label{}}
	f := fitted(of)
	all := crossings(of.cords)
	for _, r := range of.rings {
		x, y := f.at(r)
		d.draw(turn{}, circle(x, y, 1.9*f.scale), Shape{Ink: Soft, Width: 4, Part: "connector"})
	}
	for i := range of.cords {
		f.cord(d, of, all, i)
	}
	f.harm(d, of, wrong)
	for _, t := range of.tails {
		f.tail(d, t, k.tailOf(wrong, tail), in, wrong && k.shortens())
	}
	for _, n := range of.named {
		f.words(d, n)
	}
	if wrong {
		d.draw(turn{}, from(4, 6).line(18, 6).line(18, 20).line(4, 20).shut(), Shape{Ink: Wrong, Width: 1, Filled: true, Part: "wrong"})
		d.Labels = append(d.Labels, Label{X: 24, Y: 19, Words: "wrong", Anchor: "start"})
	}
	d.Text = k.text(in, wrong, len(all))
	return d
}

// shortens: the wrong form is a tail that is too short.
func (k *Knot) shortens() bool { return k.ID == "end-loop" || k.ID == "join" }

func (k *Knot) tailOf(wrong bool, tail float64) float64 {
	if wrong && k.shortens() {
		return tooShort(tail)
	}
	return tail
}

func (k *Knot) text(in Tying, wrong bool, crossed int) string {
	var b strings.Builder
	b.WriteString(strings.ToUpper(k.Name[:1]) + k.Name[1:])
	if wrong {
		b.WriteString(", its wrong form: " + k.Wrong)
	} else {
		b.WriteString(": " + k.Runs)
	}
	view := "front"
	if in.Back {
		view = "back"
	}
	fmt.Fprintf(&b, ". Seen from the %s, ropes lie over each other at %s.", view, quantity.Count(crossed).Of("place"))
	if !wrong {
		for _, m := range k.Measures(in) {
			b.WriteString(" " + m + ".")
		}
	}
	return b.String()
}

// Measures are what can be checked by hand, in the rope as it is.
func (k *Knot) Measures(in Tying) []string {
	list := []string{}
	if len(k.tied(1).tails) > 0 {
		list = append(list, fmt.Sprintf("Tail: %s × %v = %.0f mm at least", quantity.Text(in.Table.Tail), in.DiameterMM, float64(in.Table.Tail)*float64(in.DiameterMM)))
	}
	if k.takes != nil {
		n := k.takes(&in.Table)
		list = append(list, fmt.Sprintf("It takes %s × %v = %.0f mm of rope", quantity.Text(n), in.DiameterMM, float64(n)*float64(in.DiameterMM)))
	}
	return list
}

// turn looks from behind.
func (t *tied) turn() {
	flip := func(p *place) { p.x, p.z = -p.x, -p.z }
	for i := range t.cords {
		t.cords[i].line = slices.Clone(t.cords[i].line)
		for j := range t.cords[i].line {
			flip(&t.cords[i].line[j])
		}
	}
	for i := range t.tails {
		t.tails[i].x *= -1
	}
	for i := range t.rings {
		flip(&t.rings[i])
	}
	for i := range t.harm {
		flip(&t.harm[i])
	}
	for i := range t.named {
		flip(&t.named[i].at)
	}
}

// A frame puts diameters into the box.
type frame struct{ scale, x, y float64 }

// fitted shows as much of a rope as the knot needs, in the middle of the box.
func fitted(t *tied) frame {
	low, top := place{math.Inf(1), math.Inf(1), 0}, place{math.Inf(-1), math.Inf(-1), 0}
	for _, c := range t.cords {
		for _, p := range c.line {
			low.x, low.y = min(low.x, p.x-1), min(low.y, p.y)
			top.x, top.y = max(top.x, p.x+1), max(top.y, p.y)
		}
	}
	for _, l := range t.tails {
		low.x = min(low.x, l.x-8)
	}
	s := min(wide/(top.x-low.x), high/(top.y-low.y), 14)
	return frame{s, wide/2 - s*(low.x+top.x)/2, high/2 + s*(low.y+top.y)/2}
}

func (f frame) at(p place) (x, y float64) { return f.x + f.scale*p.x, f.y - f.scale*p.y }

// cord draws what is seen of a rope: nothing where another lies over it.
func (f frame) cord(d *Drawing, t *tied, all []crossing, i int) {
	c := &t.cords[i]
	for _, s := range seen(t.cords, all, i) {
		p, line := &path{}, piece(c.line, s)
		if length(line) < 0.4 {
			continue // a speck between two ropes says nothing
		}
		for n, q := range line {
			x, y := f.at(q)
			if n == 0 {
				p.move(x, y)
			} else {
				p.line(x, y)
			}
		}
		d.draw(turn{}, p, Shape{Ink: c.ink, Width: f.scale * c.thick, Part: c.part, Cut: true})
	}
}

// tail measures a tail beside it.
func (f frame) tail(d *Drawing, l tailOf, long float64, in Tying, wrong bool) {
	side := 1.6
	if l.x < 0 {
		side = -1.6
	}
	x, y := f.at(place{l.x + side, l.y, 0})
	_, end := f.at(place{0, l.y + l.way*long, 0})
	ink := Moving
	if wrong {
		ink = Wrong
	}
	d.draw(turn{}, from(x-5, y).line(x+5, y).move(x, y).line(x, end).move(x-5, end).line(x+5, end), Shape{Ink: ink, Width: 2.5, Part: "tail"})
	anchor := "end"
	if side > 0 {
		anchor = "start"
	}
	d.Labels = append(d.Labels, Label{X: math.Round(x + side*4), Y: math.Round((y+end)/2 + 5), Words: fmt.Sprintf("%.0f mm", long*float64(in.DiameterMM)), Anchor: anchor})
}

// harm marks damage by its shape.
func (f frame) harm(d *Drawing, t *tied, wrong bool) {
	for _, h := range t.harm {
		x, y := f.at(h)
		d.draw(turn{}, from(x-9, y-9).line(x+9, y+9).move(x+9, y-9).line(x-9, y+9), Shape{Ink: Wrong, Width: 4, Part: "damage"})
		side, anchor := 14.0, "start"
		if h.x < 0 {
			side, anchor = -14, "end"
		}
		d.Labels = append(d.Labels, Label{X: math.Round(x + side), Y: math.Round(y + 5), Words: "damage", Anchor: anchor})
	}
}

func (f frame) words(d *Drawing, n named) {
	x, y := f.at(n.at)
	anchor := "start"
	if x > wide*0.6 {
		anchor, x = "end", x-16
	}
	d.Labels = append(d.Labels, Label{X: math.Round(x), Y: math.Round(min(y, high-4)), Words: n.words, Anchor: anchor})
}
