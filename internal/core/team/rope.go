package team

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// Path is the way of a rope from its brake to the load: what P(z) is made of. The zero
// Path is a rope that hangs plumb from a brake at height 0.
type Path struct {
	// TopM is the height of the brake, EdgeM that of the first edge; without Edged the
	// rope goes straight down from the brake.
	TopM, EdgeM quantity.Metres
	Edged       bool
	// BackM is from the edge back to the brake, on the level.
	BackM quantity.Metres
	// Slant is metres of rope for a metre of height below the edge, 1 or more; 0: 1.
	Slant  quantity.Ratio
	Pieces []Piece
}

// Piece is rope that something on the way takes.
type Piece struct {
	Name string
	M    quantity.Metres
	// BelowM is the height of the load below which it counts; Always wherever it is.
	BelowM quantity.Metres
	Always bool
}

// hair is less than anybody measures.
const hair quantity.Metres = 1e-9

// from is where the slant begins.
func (p *Path) from() quantity.Metres {
	if p.Edged {
		return p.EdgeM
	}
	return p.TopM
}

func (p *Path) slant() quantity.Metres { return quantity.Metres(max(1, p.Slant)) }

// toEdge is the rope from the brake to the edge.
func (p *Path) toEdge() quantity.Metres {
	if !p.Edged {
		return 0
	}
	return quantity.Metres(math.Hypot(float64(p.BackM), float64(p.TopM-p.EdgeM)))
}

// At is P(z): the length of rope between the brake and the load when the load is at
// height z, m. To the edge + what the edge and the termination take + down to the load +
// what is on the way. It errs low where rope lies in bights on the level.
func (p *Path) At(z quantity.Metres) quantity.Metres {
	sum := p.toEdge() + p.slant()*max(0, p.from()-z)
	for _, q := range p.Pieces {
		if q.Always || z < q.BelowM {
			sum += q.M
		}
	}
	return sum
}

// Height is the highest z at which P(z) is a length or more; above from() it goes on as
// if the rope went straight up.
func (p *Path) Height(length quantity.Metres) quantity.Metres {
	low := p.from()
	if over := p.At(low); over >= length {
		return low + over - length
	}
	steps := []quantity.Metres{low}
	for _, q := range p.Pieces {
		if !q.Always && q.BelowM < low {
			steps = append(steps, q.BelowM)
		}
	}
	slices.SortStableFunc(steps, func(a, b quantity.Metres) int { return cmp.Compare(b, a) })
	for i, high := range steps {
		below := p.At(high - hair)
		if below >= length {
			return high
		}
		z := high - (length-below)/p.slant()
		if i+1 == len(steps) || z > steps[i+1] {
			return z
		}
	}
	return 0
}

// Working tells how P(z) was got.
func (p *Path) Working(z quantity.Metres) finding.Working {
	inputs := []finding.Figure{finding.Fig("brake to edge", p.toEdge()), finding.Fig("edge to load", p.slant()*max(0, p.from()-z))}
	for _, q := range p.Pieces {
		if q.Always || z < q.BelowM {
			inputs = append(inputs, finding.Fig(q.Name, q.M))
		}
	}
	return finding.Work("rope between brake and load", "brake to edge + edge + edge to load + what is on the way", p.At(z), "low where rope lies in bights on the level", inputs...)
}

// pathOf is the way of a line's rope over the edges of a drop, past the deviations of its
// strand, to a load that hangs in its end.
func pathOf(v *rig.TeamLineView, back quantity.Metres, in *Setting) Path {
	p := Path{TopM: v.Strand.TopM(), EdgeM: in.EdgeM, Edged: in.EdgeName != "", BackM: back}
	if high := float64(p.from()); in.OffsetM > 0 && high > 0 {
		p.Slant = quantity.Ratio(math.Hypot(high, float64(in.OffsetM)) / high)
	}
	for i := range in.Edges {
		if e := &in.Edges[i]; e.RopeM > 0 {
			p.Pieces = append(p.Pieces, Piece{Name: e.Name, M: e.RopeM, BelowM: e.HeightM, Always: e.HeightM >= p.EdgeM})
		}
	}
	for i := range v.Strand.Marks {
		m := &v.Strand.Marks[i]
		if a := in.deviation(m); a != nil && m.HeightM < p.from() {
			down, aside := float64(p.from()-m.HeightM), float64(a.XM-v.Strand.Anchors[0].XM)
			p.Pieces = append(p.Pieces, Piece{Name: cmp.Or(m.Name, "deviation"), M: quantity.Metres(math.Hypot(down, aside) - down), BelowM: m.HeightM})
		}
	}
	p.Pieces = append(p.Pieces, Piece{Name: "knot at the load", M: knotted(v, in, mechanics.EndLoop, mechanics.Tail), Always: true})
	return p
}

// deviation is the anchor of a deviation; nil for any other mark.
func (in *Setting) deviation(m *rig.Mark) *rig.AnchorView {
	if m.Kind != rig.DeviationMark {
		return nil
	}
	if i := slices.IndexFunc(in.Anchors, func(a *rig.AnchorView) bool { return a.ID == m.Anchor }); i >= 0 {
		return in.Anchors[i]
	}
	return nil
}

// knotted is how much of a line's rope some knots and tails take, by the policy's table.
func knotted(v *rig.TeamLineView, in *Setting, kinds ...string) quantity.Metres {
	need := mechanics.RopeIn{}
	for _, rope := range v.Strand.Ropes {
		d, _ := gear.Diameter(rope.Item, rope.Model)
		need.DiameterMM = max(need.DiameterMM, d)
	}
	for _, kind := range kinds {
		need.Items = append(need.Items, mechanics.RopeItem{Kind: kind, Count: 1})
	}
	out, err := mechanics.RopeBy(need, in.Policy.Knots)
	if err != nil {
		panic(err) // the items are made here
	}
	return out.LengthNeededM
}

// roped fills in what a line's rope is: its way, how much of it there is, what each knot
// takes and what must stay behind the brake.
func (l *Line) roped(v *rig.TeamLineView, back quantity.Metres, in *Setting) {
	l.Path = pathOf(v, back, in)
	l.KnotM, l.KeptM = knotted(v, in, mechanics.Join, mechanics.Tail, mechanics.Tail), knotted(v, in, mechanics.MidLoop, mechanics.Tail)
	switch v.Strand.EndStop {
	case rig.EndKnot:
		l.KeptM += knotted(v, in, mechanics.Stopper, mechanics.Tail)
	case rig.EndNone:
		l.KeptM += in.Policy.ReserveM
	}
	for i := len(v.Strand.Ropes) - 1; i >= 0; i-- {
		l.LengthM += v.Strand.Ropes[i].Item.LengthM
		if i > 0 {
			l.joined(l.LengthM)
		}
	}
	// A knot that is marked on the strand as it hangs is so far from the rope's end. Joins are
	// where the ropes end, wherever the strand hangs now.
	if v.Strand.Length == nil {
		return
	}
	for i := range v.Strand.Marks {
		m := &v.Strand.Marks[i]
		if k := m.HeightM - v.Strand.Length.EndM; k > 0 && m.Kind == rig.KnotMark {
			l.joined(k)
		}
	}
}

// joined adds a knot, of two ropes that are joined or marked on the strand, where the line
// states none.
func (l *Line) joined(at quantity.Metres) {
	const tied = 3 // m: somebody who states a join has measured it as it is tied
	for _, k := range l.KnotsM {
		if k > at-tied && k < at+tied {
			return
		}
	}
	l.KnotsM = append(slices.Clone(l.KnotsM), at)
	slices.Sort(l.KnotsM)
}

// path is the way of a line's rope.
func (r *Rig) path(name string) *Path {
	if p := &r.line(name).Path; p.TopM != 0 {
		return p
	}
	return &Path{TopM: r.TopM}
}

// LeftM is the rope behind a line's brake with the load at a height, all knots taken off;
// less than nothing where it does not reach. Told is false where its length is not known.
func (r *Rig) LeftM(name string, at quantity.Metres) (left quantity.Metres, known bool) {
	l := r.line(name)
	return l.LengthM - r.path(name).At(at) - l.KnotM*quantity.Metres(len(l.KnotsM)), l.LengthM > 0
}

// RunsOutM is the highest height of the load at which a line has less rope behind its
// brake than its end stop and the walk-away knot need; below 0 where it reaches further
// than the landing. Told is false where the length of its rope is not known.
func (r *Rig) RunsOutM(name string) (at quantity.Metres, known bool) {
	l := r.line(name)
	if l.LengthM == 0 {
		return -1, false
	}
	return r.path(name).Height(l.LengthM - l.KeptM - l.KnotM*quantity.Metres(len(l.KnotsM))), true
}

// ropes are where the ropes of both lines are with the load at the landing.
func (r *Rig) ropes() []RopeFigures {
	list := []RopeFigures{}
	for _, name := range lines {
		to := r.lineView(name).Strand.ToM
		left, known := r.LeftM(name, to)
		if !known {
			continue
		}
		l, p := r.line(name), r.path(name)
		f := RopeFigures{Line: name, LengthM: l.LengthM, LeftM: left, KeptM: l.KeptM}
		if out, _ := r.RunsOutM(name); out > to {
			f.RunsOutM = &out
		}
		f.Working = []finding.Working{p.Working(to), finding.Work("left behind the brake", "rope − rope between brake and load − knots", left, "high where knots are tied longer than the table says",
			finding.Fig("rope", l.LengthM), finding.Fig("between brake and load", p.At(to)), finding.Fig("knots", l.KnotM*quantity.Metres(len(l.KnotsM))))}
		list = append(list, f)
	}
	return list
}

// ropeFindings is team.rope: a line's rope comes down to the lowest landing needed.
func (r *Rig) ropeFindings(name string) []finding.Finding {
	if found := r.pastEnd(name); found != nil {
		return found
	}
	v := r.lineView(name).Strand
	to := v.ToM
	out, known := r.RunsOutM(name)
	if !known || out <= to {
		return nil
	}
	l, p := r.line(name), r.path(name)
	short := p.At(to) - p.At(out)
	f := r.found("team.rope", finding.Stop, name, v.Name, "", fmt.Sprintf("The rope of the %s through %s runs out with the load at %v: %v are missing to the landing at %v.", name, l.Brake, out, short, to),
		"Rope that runs out behind a brake leaves the load where it is, or lets it go.", fmt.Sprintf("A rope at least %s longer on the %s, or a landing above.", quantity.Up(short), name))
	f.Source = "physics"
	f.Figures = []finding.Figure{finding.Fig("runs out at", out), finding.Fig("missing", short), finding.Fig("rope", l.LengthM), finding.Fig("knots", l.KnotM*quantity.Metres(len(l.KnotsM))), finding.Fig("kept behind the brake", l.KeptM)}
	f.Working = []finding.Working{p.Working(to)}
	return []finding.Finding{f}
}

// knotFindings is team.knot: what comes to a brake on the way to the landing is passed, one knot
// after the other. A hitch that is long enough for one knot may be too short for the first of two side by side:
// the plan of the lower says so.
func (r *Rig) knotFindings() (found []finding.Finding) {
	for _, k := range r.Knots() {
		to := r.lineView(k.Line).Strand.ToM
		if k.Ready || k.AtM < to {
			continue
		}
		lacks := "the kit has no rope grab with a hitch to pass it"
		if r.Kit.Grabs > 0 {
			lacks = fmt.Sprintf("the hitch lets out %v of the %v that passing it takes", k.HasM, k.NeedsM)
		}
		f := r.found("team.knot", finding.Stop, k.Line, r.lineView(k.Line).Strand.Name, "", fmt.Sprintf("A knot of the %s comes to its brake with the load at %v, and %s.", k.Line, k.AtM, lacks),
			"A knot that is not passed leaves the load where it is.", fmt.Sprintf("A grab with a hitch that lets out at least %s, or a rope without a knot.", quantity.Up(k.NeedsM)))
		f.Source = "physics"
		f.Figures = []finding.Figure{finding.Fig("load at", k.AtM), finding.Fig("hitch needed", k.NeedsM), finding.Fig("hitch", k.HasM)}
		f.Working = k.Working
		found = append(found, f)
	}
	for _, name := range lines {
		found = append(found, r.crowded(name)...)
	}
	return found
}

// crowded finds two knots of a line that have no room for its brake between them and come to it
// on the way to the landing.
func (r *Rig) crowded(name string) []finding.Finding {
	v := r.lineView(name).Strand
	var at quantity.Metres
	crowds := r.crowds(name, r.room())
	// Those that are through before the load is over the edge, or never reached, do not matter.
	n := slices.IndexFunc(crowds, func(i int) bool {
		at = r.heightFor(name, r.line(name).KnotsM[i-1]-r.short()).M()
		return at < r.EdgeM && at >= v.ToM
	})
	if n < 0 {
		return nil
	}
	i := crowds[n]
	apart, _ := r.between(name, i)
	near, least := quantity.Beside(apart, r.room())
	f := r.found("team.knot", finding.Stop, name, v.Name, "", fmt.Sprintf("Two knots of the %s are %s apart and come to its brake from %v on; it needs %s between them.", name, near, at, least),
		"A brake is loaded again between two knots; with no room there the load stays where it is.", fmt.Sprintf("Tie them at least %s apart, or out of the rope; or plan by hand how both go through at once.", quantity.Up(r.room())))
	f.Source = "physics"
	f.Figures = []finding.Figure{finding.Fig("apart", apart), finding.Fig("needed", r.room()), finding.Fig("load at", at)}
	return []finding.Finding{f}
}

// pastEnd finds a knot that is stated beyond the end of its rope.
func (r *Rig) pastEnd(name string) []finding.Finding {
	l := r.line(name)
	last := slices.Max(append([]quantity.Metres{0}, l.KnotsM...))
	if l.LengthM == 0 || last <= l.LengthM {
		return nil
	}
	f := r.found("team.rope", finding.Stop, name, r.lineView(name).Strand.Name, "",
		fmt.Sprintf("A knot of the %s is said to be %v from the load, and its rope is %v long.", name, last, l.LengthM),
		"What is worked out of a rope that cannot be so is wrong: where it runs out, and where its knots come.", "Measure where the knot is, from the load.")
	f.Source = "physics"
	f.Figures = []finding.Figure{finding.Fig("knot", last), finding.Fig("rope", l.LengthM)}
	return []finding.Finding{f}
}

// heightFor is the lowest height, in whole centimetres, at which no more than a length of
// rope lies between a line's brake and the load.
func (r *Rig) heightFor(name string, length quantity.Metres) stance.Cm {
	return stance.Cm(math.Ceil(float64(r.path(name).Height(length))*100 - 1e-6))
}

// heightUnder is the highest height, in whole centimetres, at which at least a length of
// rope lies between a line's brake and the load.
func (r *Rig) heightUnder(name string, length quantity.Metres) stance.Cm {
	return stance.Cm(math.Floor(float64(r.path(name).Height(length))*100 + 1e-6))
}

// inService is the rope of a line that stretches: from its brake to the load.
func (r *Rig) inService(name string, at stance.Cm) quantity.Metres {
	return max(0.5, r.path(name).At(at.M()))
}

// toKnot is how much rope lies between the brake of a line and the next knot behind it;
// ok is false where there is none.
func (r *Rig) toKnot(name string, h *Half, at stance.Cm) (gap quantity.Metres, ok bool) {
	l := r.line(name)
	if int(h.Passed) >= len(l.KnotsM) {
		return 0, false
	}
	return l.KnotsM[h.Passed] - r.path(name).At(at.M()), true
}

// pastKnot is how much rope lies between the brake of a line and the last knot that went
// through it, on the load side; ok is false where none did.
func (r *Rig) pastKnot(name string, h *Half, at stance.Cm) (rope quantity.Metres, ok bool) {
	if h.Passed == 0 {
		return 0, false
	}
	return r.path(name).At(at.M()) - r.line(name).KnotsM[h.Passed-1], true
}

// slackIn is what hangs slack in a line because its brake is beyond a knot that came
// through before the load had come down so far.
func (r *Rig) slackIn(name string, h *Half, at stance.Cm) quantity.Metres {
	rope, ok := r.pastKnot(name, h, at)
	if !ok {
		return 0
	}
	return max(0, (knotLen+stopLen).M()-rope)
}

// into says which line's knot would come into its brake with the load at a height; empty
// for none.
func (r *Rig) into(s *State, at stance.Cm) error {
	for _, name := range []string{"main", "belay"} {
		if gap, ok := r.toKnot(name, s.half(name), at); ok && gap < r.gap()-1e-6 {
			return fmt.Errorf("a knot of the %s would come into its brake: with the load at %v it is %v before it", name, at.M(), max(0, gap))
		}
		if out, known := r.RunsOutM(name); known && at.M() < out-1e-6 {
			return fmt.Errorf("the rope of the %s runs out at %v: less is left behind its brake than the end stop and the walk-away knot need", name, out)
		}
	}
	return nil
}

// stroke is how far the grab of a haul runs: as far as the policy says, and no further
// than the rope between brake and edge has room for beside the haul drawn together.
func (r *Rig) stroke() quantity.Metres {
	s := cmp.Or(r.Measures.Stroke, 2)
	if p := r.path("main"); p.Edged {
		return max(0.01, min(s, p.toEdge()-toGrabM))
	}
	return s
}

// gap is how far a knot is kept off its brake.
func (r *Rig) gap() quantity.Metres { return cmp.Or(r.Measures.Gap, 0.03) }

// short is how far before its brake a knot is stopped: a hand's width, or more where the
// settle onto grab and hitch would bring it too close.
func (r *Rig) short() quantity.Metres {
	return max(r.handWidth(), r.settle()+stance.Cm(math.Ceil(float64(r.gap())*100))).M()
}

// ready is the stretch of rope before a knot within which it may be passed: with the other
// line's knot beside it one of them is passed early.
func (r *Rig) ready() quantity.Metres { return r.short() + (knotLen + stopLen).M() + 0.2 }
