package team

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/search"
)

// NoWay says that a move of the team has no way with this rig, and the smallest addition
// with which it has one. It is search.ErrNone to errors.Is.
type NoWay struct {
	// Why is what stands in the way by itself, empty where it is the kit.
	Why string
	// Addition is empty where none was found; Cut: not every one was decided.
	Addition []string
	Cut      bool
}

func (e *NoWay) Error() string {
	text := search.ErrNone.Error()
	if e.Why != "" {
		text = e.Why
	}
	switch {
	case len(e.Addition) > 0:
		return text + "; with " + strings.Join(e.Addition, " and ") + " there is one"
	case e.Cut:
		return text + "; whether an addition gives one is not decided"
	}
	return text + ", and no addition to kit, rope or people gives one"
}

func (e *NoWay) Is(target error) bool { return target == search.ErrNone }

// addition is something more at the anchors.
type addition struct {
	words string
	apply func(*Rig)
}

// additions are what may be added for a move, the larger first, so that it is left out
// first where less is enough.
func (r *Rig) additions(ask Ask) []addition {
	var list []addition
	_, start, goals, _ := r.begin(ask)
	passes := slices.ContainsFunc(goals, func(g goal) bool { return g.passed != [2]int8{} || g.under != [2]int8{} })
	hauls := slices.ContainsFunc(goals, func(g goal) bool { return g.haul > start.Main.Haul })
	add := func(words string, apply func(*Rig)) { list = append(list, addition{words, apply}) }
	for _, name := range lines {
		if more := r.shortBy(name, ask); more > 0 {
			add(fmt.Sprintf("a rope at least %s longer on the %s", quantity.Up(more), name), func(r *Rig) { r.line(name).LengthM += more + 0.01 })
		}
	}
	if r.setting.OneAnchor {
		add("an anchor of its own for the belay", func(r *Rig) { r.setting.OneAnchor = false })
	}
	if r.setting.OneRope {
		add("a rope of its own for the belay", func(r *Rig) { r.setting.OneRope = false })
	}
	room := r.room()
	if hauls {
		room = knotLen.M() + 2*toGrabM // the grab of the haul goes between them too
	}
	for _, name := range lines {
		if (passes || hauls) && len(r.crowds(name, room)) > 0 {
			knots := r.spread(name, room)
			add(fmt.Sprintf("knots of the %s at least %s apart", name, quantity.Up(room)), func(r *Rig) { r.line(name).KnotsM = knots })
		}
	}
	if passes {
		// The one of two knots side by side that is passed first stands furthest away.
		far := r.ready() - r.settle().M() + (knotLen + stopLen).M() + r.stretchBehind() + 0.01
		for _, out := range []quantity.Metres{far, r.HitchNeeds()} {
			if q := quantity.Metres(math.Ceil(float64(out)*20) / 20); q > r.Kit.HitchOutM {
				add(fmt.Sprintf("a hitch that lets out %v", q), func(r *Rig) { r.Kit.HitchOutM = max(r.Kit.HitchOutM, q) })
			}
		}
		for range 2 {
			add("a rope grab with its hitch", func(r *Rig) { r.Kit.Grabs++ })
		}
	}
	if hauls {
		add("a rope grab", func(r *Rig) { r.Kit.Plain++ })
		for range 3 {
			add("a pulley", func(r *Rig) { r.Kit.Pulleys++ })
		}
	}
	connectors := 0 // of pulleys, and of bends
	if hauls {
		connectors += 3
	}
	if r.Load.Persons > 1 {
		connectors += 2
	}
	for range connectors {
		add("a connector", func(r *Rig) { r.Kit.Connectors++ })
	}
	if r.Haulers == 0 && hauls {
		add("somebody to haul", func(r *Rig) { r.Haulers = 1 })
	}
	if r.OutOfSight {
		add("operators who see each other", func(r *Rig) { r.OutOfSight = false })
	}
	if start.Main.Toothed != NoTeeth && !r.Kit.CaptureHolds {
		add("a capture whose cam can be held open", func(r *Rig) { r.Kit.CaptureHolds = true })
	}
	return list
}

// shortBy is how much rope a line wants more to come down to where a move goes.
func (r *Rig) shortBy(name string, ask Ask) quantity.Metres {
	out, told := r.RunsOutM(name)
	if !told || ask.ToM == nil || *ask.ToM >= out {
		return 0
	}
	p := r.path(name)
	return p.At(*ask.ToM) - p.At(out)
}

// missing is why a move has no way, with the smallest addition found that gives one: all
// that may be added is, and what is not needed is left out again one by one.
func (r *Rig) missing(ctx context.Context, ask Ask) error {
	none := &NoWay{Why: r.lostTogether()}
	for _, name := range lines {
		if out, _ := r.RunsOutM(name); none.Why == "" && r.shortBy(name, ask) > 0 {
			none.Why = fmt.Sprintf("the rope of the %s runs out at %v", name, out)
		}
	}
	if none.Why == "" {
		none.Why = r.knotMet(ask)
	}
	with := func(list []addition) bool {
		o := *r
		for _, a := range list {
			a.apply(&o)
		}
		_, err := o.plan(ctx, ask)
		none.Cut = none.Cut || errors.Is(err, search.ErrUndecided)
		return err == nil
	}
	all := r.additions(ask)
	if !with(all) {
		if err := ctx.Err(); err != nil {
			return err
		}
		return none
	}
	for i := 0; i < len(all); {
		if less := slices.Delete(slices.Clone(all), i, i+1); with(less) {
			all = less
			continue
		}
		i++
	}
	if err := ctx.Err(); err != nil {
		return err
	}
	none.Cut = false
	for _, a := range all {
		none.Addition = append(none.Addition, a.words)
	}
	none.Addition = counted(none.Addition)
	return none
}

// lostTogether says what main and belay are lost with, both at once; empty for nothing.
func (r *Rig) lostTogether() string {
	switch {
	case r.setting.OneAnchor:
		return "main and belay hang on one anchor: if it goes, nothing holds " + r.Load.Name
	case r.setting.OneRope:
		return "main and belay are one rope: if it parts, nothing holds " + r.Load.Name
	}
	return ""
}

// knotMet says which knot is met on the way of a move; empty for none.
func (r *Rig) knotMet(ask Ask) string {
	_, start, goals, err := r.begin(ask)
	if err != nil || len(goals) < 2 {
		return ""
	}
	to := goals[len(goals)-1].to
	if u := (upward{rig: r, at: start, last: goals[len(goals)-1]}); goals[0].up {
		if i, at := u.first(); i >= 0 && at < to {
			return fmt.Sprintf("with the load at %v a knot of the %s comes up, and is not passed with this kit", at.M(), lines[i])
		}
		return ""
	}
	if at := r.nextKnot(&start); at > to {
		return fmt.Sprintf("with the load at %v a knot comes to its brake, and is not passed with this kit", at.M())
	}
	return ""
}

var many = []string{"two ", "three ", "four ", "five "}

// counted writes alike things as a number of them.
func counted(list []string) []string {
	var out []string
	for i := 0; i < len(list); {
		n := 1
		for i+n < len(list) && list[i+n] == list[i] {
			n++
		}
		words := list[i]
		if n > 1 {
			first, rest, _ := strings.Cut(strings.TrimPrefix(words, "a "), " ")
			words = many[n-2] + first + "s " + rest
			if strings.HasPrefix(list[i], "a rope grab") {
				words = many[n-2] + "rope grabs" + strings.TrimPrefix(list[i], "a rope grab")
			}
		}
		out, i = append(out, strings.TrimSpace(words)), i+n
	}
	return out
}
