package team

import (
	"context"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// With is the rig with another load.
func (r *Rig) With(load rig.TeamLoad) *Rig {
	v := *r.view
	tr := *v.TeamRig
	tr.Load, v.TeamRig = load, &tr
	v.Main.Mode, v.Belay.Mode = rig.ModeFor(v.Main.Brake.Model.Device, load.Persons), rig.ModeFor(v.Belay.Brake.Model.Device, load.Persons)
	o := *r
	o.Load, o.view = load, &v
	o.Kit = o.kitOf(&v)
	return &o
}

// Staffed is the rig without some of its operators.
func (r *Rig) Staffed(away func(name string) bool) *Rig {
	o := *r
	o.Operators = slices.DeleteFunc(slices.Clone(r.Operators), away)
	return &o
}

// Without is the rig without what may not be used of its kit.
func (r *Rig) Without(unfit func(*rig.Piece) bool) *Rig {
	v := *r.view
	v.Kit = slices.DeleteFunc(slices.Clone(v.Kit), unfit)
	return New(&v, r.setting)
}

// Holding is the rig when somebody hangs at a height on the strands themselves, with all
// their rope in use: the knots that count are those between them and the brakes, and
// behind the brakes lies what is in loops at the top.
func (r *Rig) Holding(at quantity.Metres) *Rig {
	o := *r
	for _, name := range lines {
		l, v, p := o.line(name), o.lineView(name), r.path(name)
		l.KnotsM = nil
		for i := range v.Strand.Marks {
			if m := &v.Strand.Marks[i]; m.HeightM > at && (m.Kind == rig.KnotMark || m.Kind == rig.JoinMark) {
				l.KnotsM = append(l.KnotsM, p.At(at)-p.At(m.HeightM))
			}
		}
		slices.Sort(l.KnotsM)
		l.LengthM = p.At(at) + v.Strand.LoopsM + l.KnotM*quantity.Metres(len(l.KnotsM))
	}
	o.Kit = o.kitOf(o.view)
	return &o
}

// Seconds is how long a move takes by its plan, without its words.
func (r *Rig) Seconds(ctx context.Context, ask Ask) (float64, error) {
	p, err := r.plan(ctx, ask)
	return p.seconds(), err
}

func (p *Plan) seconds() float64 {
	if p == nil {
		return 0
	}
	return p.Seconds
}

// WayS is how long the load takes along a way by itself, in a lower or a haul.
func (r *Rig) WayS(do Do, ratio int, way quantity.Metres) float64 {
	return r.along(float64(way), &State{Main: Half{Haul: int8(ratio)}}, &Action{Do: do})
}

// Knotted reports whether a knot is in either line.
func (r *Rig) Knotted() bool { return len(r.Main.KnotsM)+len(r.Belay.KnotsM) > 0 }

// Stops are what stops this load from hanging on either line by itself, through its
// brake: what a hand cannot hold, what breaks too soon.
func (r *Rig) Stops() []finding.Finding {
	b := r.builder()
	for i, name := range lines {
		b.braked(name, float64(3*i), 1, r.Brake(name).MovingKN())
	}
	loads := r.loads(&b.out, nil)
	var found []finding.Finding
	for i := range loads {
		found = append(found, r.loadFindings(&loads[i])...)
	}
	for _, name := range lines {
		found = append(found, r.brakeFindings(r.Brake(name))...)
	}
	return slices.DeleteFunc(found, func(f finding.Finding) bool { return f.Severity != finding.Stop })
}

// BendsNeeded are the connectors that two brakes take for the added bend with two on them.
func (r *Rig) BendsNeeded() int {
	n := 0
	for _, l := range []*rig.TeamLineView{&r.view.Main, &r.view.Belay} {
		if m := rig.ModeFor(l.Brake.Model.Device, 2); m.Persons > 1 && m.Needs == gear.ExtraFriction {
			n++
		}
	}
	return n
}
