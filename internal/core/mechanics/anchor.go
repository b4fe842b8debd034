package mechanics

import (
	"fmt"
	"math"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// Direction is a direction in space; its size does not matter.
type Direction struct {
	X float64 `json:"x"`
	Y float64 `json:"y" doc:"up is positive"`
	Z float64 `json:"z,omitempty" default:"0"`
}

// AnchorLeg is one leg of an anchor: its anchor point as seen from the master
// point.
type AnchorLeg struct {
	ID            string            `json:"id" minLength:"1" maxLength:"64"`
	X             quantity.Metres   `json:"x"`
	Y             quantity.Metres   `json:"y" doc:"up is positive"`
	Z             quantity.Metres   `json:"z,omitempty" default:"0"`
	ElongationPct *quantity.Percent `json:"elongation_pct,omitempty" exclusiveMinimum:"0" nullable:"true" doc:"of the leg's material between 50 and 150 kg"`
}

// AnchorIn is a load on a master point that is held by legs.
type AnchorIn struct {
	LoadKN    quantity.Kilonewtons `json:"load_kN" exclusiveMinimum:"0"`
	Direction *Direction           `json:"direction,omitempty" doc:"of the load; left out: straight down"`
	Legs      []AnchorLeg          `json:"legs" minItems:"1" maxItems:"12"`
}

// AnchorOut is what each leg bears, and what happens if one goes.
type AnchorOut struct {
	Legs           []LegOut         `json:"legs"`
	WidestAngleDeg quantity.Degrees `json:"widest_angle_deg" doc:"between taut legs, 0 for one"`
	Lost           []LostOut        `json:"lost" doc:"for each leg: what happens if it goes"`
	in             AnchorIn
}

// LegOut is what a leg bears.
type LegOut struct {
	ID        string               `json:"id"`
	TensionKN quantity.Kilonewtons `json:"tension_kN"`
	Slack     bool                 `json:"slack" doc:"it hangs loose and carries nothing"`
}

// LostOut is what happens if a leg goes.
type LostOut struct {
	ID     string                `json:"id"`
	DropM  *quantity.Metres      `json:"drop_m" doc:"of the master point, in the direction of the load; null where nothing holds it then"`
	PeakKN *quantity.Kilonewtons `json:"peak_kN" doc:"on the master point; null where the elongation of a leg that then carries is not stated"`
	// Sway is how far the master point moves across the load.
	Sway quantity.Metres `json:"-"`
}

const (
	// illConditioned is the condition number of the legs' directions (1-norm for three,
	// which is within a factor of 3 of the 2-norm) beyond which their tensions mean nothing.
	illConditioned = 1e8
	// slackPart is the part of the load below which a pushing leg is rounding.
	slackPart = 1e-9
)

// Anchor computes the tension of each leg of an anchor by statics.
//
// Legs pull along unit vectors u_i from the master point to their anchor points:
// Σ T_i u_i = −F; one leg, two in a plane with the load, three in space. Legs are
// straight and do not stretch. A leg that would have to push hangs slack: the
// master point then comes to rest as low in the direction of the load as the
// unchanged lengths of all legs allow, and the legs that are taut there carry.
// A single leg turns into the line of the load.
//
// More legs than dimensions, a load out of the plane of two legs, legs without
// length, two of one name and geometry in which small errors decide are refused
// by the names of the legs.
//
// A lost leg lets the master point move to where the others hold it; the peak is
// that of the strand-sharing form with nothing carried before (Share with slack):
// the load falls by the drop onto the legs that hold then, as springs in series
// with the load, 1/k = Σ (T_i/F)² L_i / EA_i. A leg that carried nothing
// changes nothing. The drop and the tensions err low
// where a leg runs round something or stretches; the peak errs high, since the
// point swings rather than falls.
func Anchor(in AnchorIn) (AnchorOut, error) {
	a, err := newAnchoring(&in)
	if err != nil {
		return AnchorOut{}, err
	}
	rest, err := a.inPlace()
	if err != nil {
		return AnchorOut{}, err
	}
	out := AnchorOut{Legs: make([]LegOut, len(in.Legs)), Lost: make([]LostOut, len(in.Legs)), in: in}
	for i, l := range in.Legs {
		out.Legs[i] = LegOut{l.ID, quantity.Kilonewtons(rest.tension[i]), !rest.taut[i]}
	}
	out.WidestAngleDeg = a.widest(rest)
	for i := range in.Legs {
		out.Lost[i] = a.lose(i, rest)
	}
	return out, nil
}

// anchoring is the geometry of an anchor.
type anchoring struct {
	in     *AnchorIn
	points []vec
	length []float64
	// down is the direction of the load, load its size in kN.
	down vec
	load float64
}

// resting is where a master point rests and what the legs bear there, in kN.
type resting struct {
	at      vec
	tension []float64
	taut    []bool
}

func newAnchoring(in *AnchorIn) (*anchoring, error) {
	a := &anchoring{in: in, down: vec{Y: -1}, load: float64(in.LoadKN)}
	if d := in.Direction; d != nil {
		v := vec{X: d.X, Y: d.Y, Z: d.Z}
		if v.norm() < 1e-12 {
			return nil, refuse("/direction", "must point somewhere")
		}
		a.down = v.unit()
	}
	seen := map[string]bool{}
	for i, l := range in.Legs {
		p := vec{X: float64(l.X), Y: float64(l.Y), Z: float64(l.Z)}
		length := p.norm()
		switch at := fmt.Sprintf("/legs/%d", i); {
		case seen[l.ID]:
			return nil, refuse(at+"/id", "two legs are called %q", l.ID)
		case length < 1e-9:
			return nil, refuse(at, "leg %s has no length", l.ID)
		}
		seen[l.ID] = true
		a.points, a.length = append(a.points, p), append(a.length, length)
	}
	return a, nil
}

// inPlace solves the legs where they are; if one would have to push, where the
// master point comes to rest.
func (a *anchoring) inPlace() (*resting, error) {
	all := a.all(-1)
	if n := len(all); n > 3 || n == 3 && a.flat() {
		return nil, refuse("/legs", "more legs than dimensions: the tensions of %s cannot be distinguished by statics", quoted(a.names(all)))
	}
	if len(all) == 1 {
		return a.hanging(0), nil
	}
	tension, err := a.solve(vec{}, all)
	if err != nil {
		return nil, err
	}
	if rest := a.keep(vec{}, all, tension); rest != nil {
		return rest, nil
	}
	if rest := a.rest(all); rest != nil {
		return rest, nil
	}
	return nil, refuse("/legs", "legs %s leave the master point no place to rest", quoted(a.names(all)))
}

// flat reports whether all legs and the load lie in the plane z = 0.
func (a *anchoring) flat() bool {
	return a.down.Z == 0 && !slices.ContainsFunc(a.points, func(p vec) bool { return p.Z != 0 })
}

// all gives the numbers of the legs without one.
func (a *anchoring) all(without int) []int {
	var list []int
	for i := range a.points {
		if i != without {
			list = append(list, i)
		}
	}
	return list
}

func (a *anchoring) names(legs []int) []string {
	list := make([]string, len(legs))
	for i, l := range legs {
		list[i] = a.in.Legs[l].ID
	}
	return list
}

// solve gives the tensions in kN of two or three legs with the master point at
// p, negative where a leg would push.
func (a *anchoring) solve(p vec, legs []int) ([]float64, error) {
	u := make([]vec, len(legs))
	for i, l := range legs {
		u[i] = a.points[l].sub(p).unit()
	}
	if len(legs) == 2 {
		return a.solvePair(u, legs)
	}
	inverse, ok := inverseOf(u)
	if !ok {
		return nil, a.illConditioned(legs)
	}
	t := make([]float64, 3)
	for i, row := range inverse {
		t[i] = -a.load * row.dot(a.down)
	}
	return t, nil
}

// inverseOf gives the rows of the inverse of the matrix with three columns, the cross products of
// two of them over the triple product of all; false where its condition number in the 1-norm is
// above illConditioned.
func inverseOf(u []vec) (rows [3]vec, ok bool) {
	det := u[0].dot(u[1].cross(u[2]))
	if det == 0 {
		return rows, false
	}
	var sums, greatest float64
	for i := range rows {
		rows[i] = u[(i+1)%3].cross(u[(i+2)%3]).times(1 / det)
		greatest = max(greatest, math.Abs(u[i].X)+math.Abs(u[i].Y)+math.Abs(u[i].Z))
	}
	for _, of := range []func(vec) float64{func(v vec) float64 { return v.X }, func(v vec) float64 { return v.Y }, func(v vec) float64 { return v.Z }} {
		sums = max(sums, math.Abs(of(rows[0]))+math.Abs(of(rows[1]))+math.Abs(of(rows[2])))
	}
	return rows, greatest*sums <= illConditioned
}

func (a *anchoring) illConditioned(legs []int) error {
	return refuse("/legs", "the directions of legs %s lie too nearly in one line or plane: their tensions cannot be determined", quoted(a.names(legs)))
}

// solvePair solves two legs and a load in one plane.
func (a *anchoring) solvePair(u []vec, legs []int) ([]float64, error) {
	normal := u[0].cross(u[1])
	sin := normal.norm()
	if 1+math.Abs(u[0].dot(u[1])) > illConditioned*sin {
		return nil, a.illConditioned(legs)
	}
	if math.Abs(a.down.dot(normal)) > 1e-6*sin {
		return nil, refuse("/legs", "the load is out of the plane of legs %s: they cannot hold it where it is", quoted(a.names(legs)))
	}
	normal = normal.times(1 / (sin * sin))
	return []float64{
		-a.load * a.down.cross(u[1]).dot(normal),
		-a.load * u[0].cross(a.down).dot(normal),
	}, nil
}

// keep gives the rest of some legs if none of them has to push.
func (a *anchoring) keep(at vec, legs []int, tension []float64) *resting {
	rest := &resting{at: at, tension: make([]float64, len(a.points)), taut: make([]bool, len(a.points))}
	for i, l := range legs {
		if tension[i] < -slackPart*a.load {
			return nil
		}
		rest.tension[l], rest.taut[l] = max(0, tension[i]), true
	}
	return rest
}

// hanging is the rest of a single leg.
func (a *anchoring) hanging(leg int) *resting {
	at := a.points[leg].add(a.down.times(a.length[leg]))
	return a.keep(at, []int{leg}, []float64{a.load})
}

// rest finds where the master point rests on some legs. The lowest point that
// all lengths allow is unique, since each length allows a ball: it is the first
// set of taut legs that carry by pulling and leave the others loose.
func (a *anchoring) rest(legs []int) *resting {
	for i, l := range legs {
		if r := a.hanging(l); a.allows(r, legs) {
			return r
		}
		for _, m := range legs[i+1:] {
			if r := a.onPair(l, m); a.allows(r, legs) {
				return r
			}
		}
	}
	if len(legs) == 3 {
		if r := a.mirrored(legs); a.allows(r, legs) {
			return r
		}
	}
	return nil
}

// allows reports whether a rest is within the lengths of all legs.
func (a *anchoring) allows(r *resting, legs []int) bool {
	return r != nil && !slices.ContainsFunc(legs, func(l int) bool {
		return a.points[l].sub(r.at).norm() > a.length[l]*(1+1e-9)
	})
}

// onPair is the rest on two legs: the lowest point of the circle that both
// lengths leave.
func (a *anchoring) onPair(l, m int) *resting {
	across := a.points[m].sub(a.points[l])
	apart := across.norm()
	if apart < 1e-9 {
		return nil
	}
	axis := across.times(1 / apart)
	along := (a.length[l]*a.length[l] - a.length[m]*a.length[m] + apart*apart) / (2 * apart)
	square := a.length[l]*a.length[l] - along*along
	side := a.down.sub(axis.times(a.down.dot(axis)))
	if square < 0 || side.norm() < 1e-9 {
		return nil
	}
	at := a.points[l].add(axis.times(along).add(side.unit().times(math.Sqrt(square))))
	tension, err := a.solve(at, []int{l, m})
	if err != nil {
		return nil
	}
	return a.keep(at, []int{l, m}, tension)
}

// mirrored is the rest of three legs on the other side of their anchor points.
func (a *anchoring) mirrored(legs []int) *resting {
	p, q, s := a.points[legs[0]], a.points[legs[1]], a.points[legs[2]]
	normal := q.sub(p).cross(s.sub(p))
	if normal.norm() < 1e-12 {
		return nil
	}
	n := normal.unit()
	at := n.times(2 * p.dot(n))
	tension, err := a.solve(at, legs)
	if err != nil {
		return nil
	}
	return a.keep(at, legs, tension)
}

// widest is the widest angle between taut legs.
func (a *anchoring) widest(r *resting) quantity.Degrees {
	widest := 0.0
	for i := range a.points {
		for j := range i {
			if !r.taut[i] || !r.taut[j] {
				continue
			}
			u, v := a.points[i].sub(r.at), a.points[j].sub(r.at)
			widest = max(widest, math.Atan2(u.cross(v).norm(), u.dot(v)))
		}
	}
	return quantity.Degrees(widest * 180 / math.Pi)
}

// lose is what happens if a leg goes.
func (a *anchoring) lose(leg int, before *resting) LostOut {
	out := LostOut{ID: a.in.Legs[leg].ID}
	after := before
	if before.taut[leg] {
		if after = a.rest(a.all(leg)); after == nil {
			return out
		}
	}
	moved := after.at.sub(before.at)
	drop := max(0, moved.dot(a.down))
	out.Sway = quantity.Metres(moved.sub(a.down.times(moved.dot(a.down))).norm())
	out.DropM = (*quantity.Metres)(&drop)
	if soft, told := a.compliance(after); told {
		peak := quantity.Kilonewtons(a.load)
		if before.tension[leg] > slackPart*a.load {
			peak = quantity.Kilonewtons(peakForce(a.load*1000, 1/soft, drop) / 1000)
		}
		out.PeakKN = &peak
	}
	return out
}

// compliance is 1/k in m/N of the legs that carry, by the unit load theorem.
func (a *anchoring) compliance(r *resting) (soft float64, told bool) {
	for i, t := range r.tension {
		if t == 0 {
			continue
		}
		e := a.in.Legs[i].ElongationPct
		if e == nil {
			return 0, false
		}
		part := t / a.load
		soft += part * part * a.length[i] / AxialStiffness(*e)
	}
	return soft, soft > 0
}

// WidestAngle is the widest angle between any two legs as they are stated, 0 for
// one, where their tensions cannot be determined.
func WidestAngle(legs []AnchorLeg) quantity.Degrees {
	a := &anchoring{points: make([]vec, len(legs))}
	all := &resting{taut: make([]bool, len(legs))}
	for i, l := range legs {
		a.points[i], all.taut[i] = vec{X: float64(l.X), Y: float64(l.Y), Z: float64(l.Z)}, true
	}
	return a.widest(all)
}

// Working tells how the tensions were got.
func (out *AnchorOut) Working() []finding.Working {
	inputs := []finding.Figure{finding.Fig("load", out.in.LoadKN)}
	for _, l := range out.in.Legs {
		inputs = append(inputs, finding.Fig(l.ID+" x", l.X), finding.Fig(l.ID+" y", l.Y))
		if l.Z != 0 {
			inputs = append(inputs, finding.Fig(l.ID+" z", l.Z))
		}
	}
	const errs = "low where a leg runs round something, or while anything moves"
	var list []finding.Working
	for i, l := range out.Legs {
		w := finding.Work("tension of leg "+l.ID, "Σ T_i u_i = −F", l.TensionKN, errs, inputs...)
		if l.Slack {
			w = finding.Work("tension of leg "+l.ID, "would have to push: slack, the others solved where they then rest", l.TensionKN, errs, inputs...)
		}
		list = append(list, w)
		inputs = inputs[:1:1] // the geometry is shown once
		if d := out.Lost[i].DropM; d != nil {
			list = append(list, finding.Work("drop if "+l.ID+" goes", "rest on the other legs, lengths unchanged", *d, "low: legs stretch", inputs...))
			if p := out.Lost[i].PeakKN; p != nil {
				list = append(list, finding.Work("peak if "+l.ID+" goes", "F + √(F² + 2 F k d), 1/k = Σ (T_i/F)² L_i/EA_i", *p,
					"high: the point swings rather than falls", finding.Fig("F", out.in.LoadKN), finding.Fig("d", *d)))
			}
		}
	}
	return append(list, finding.Work("widest angle between taut legs", "cos θ = u·v", out.WidestAngleDeg, "low where a leg runs round something"))
}
