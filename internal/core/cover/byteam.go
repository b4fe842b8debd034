package cover

import (
	"fmt"
	"slices"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// braked is a load on a team's brakes that was judged already.
type braked struct{ one, second quantity.Kilograms }

// lowerBy is a move of the team that was timed already.
type lowerBy struct {
	ask      string
	hands    int
	mass     quantity.Kilograms
	from, to stance.Cm
}

// timed is how long a move of the team takes by its plan, or why there is none.
type timed struct {
	seconds float64
	stopped
}

// brakesHold judges a load on both lines of the team, once.
func (pl *Planner) brakesHold(one, second quantity.Kilograms) string {
	key := braked{one, second}
	why, known := pl.braked[key]
	if !known {
		why = pl.byBrakes(one, second)
		pl.braked[key] = why
	}
	return why
}

// byTeam are the ways in which nobody goes to the casualty: their own strands run
// through brakes at the anchors.
func (pl *Planner) byTeam(h *casualty, at stance.Cm) []Way {
	t := pl.rig.Team
	if t == nil || pl.in.Team == nil || t.Main.Strand.Set != h.set || t.Belay.Strand.Set != h.set {
		return nil
	}
	lower := Way{Kind: "lower", Words: "lowered on their own strands, which run through brakes at the anchors", Prepared: true, Set: h.set, Phases: []Phase{}}
	raise := Way{Kind: "raise", Words: "raised on their own strands by a haul at the anchors", Prepared: true, Set: h.set, Phases: []Phase{}}
	for _, w := range []*Way{&lower, &raise} {
		pl.begin(w)
		w.phase("walk", "operators", *pl.in.Policy.WalkS, "policy")
		pl.atBrakes(w, h.MassKg, 0, h.PersonView)
		for _, l := range []*rig.TeamLineView{&t.Main, &t.Belay} {
			pl.strandAbove(w, l.Strand, at)
		}
	}
	holding := pl.holding(h, at)
	landing, edge := quantity.Metres(0), pl.in.Team.EdgeM
	from := at.M()
	down := pl.takes(holding, team.Ask{Move: "lower", FromM: &from, ToM: &landing}, "own")
	lower.stop(down.stopped)
	lower.phase("lower", "operators", down.seconds, "by the team's plan")
	if ratio := pl.bestHaul(holding); ratio == 0 {
		raise.block("the haulers who are there manage no haul of the kit")
	} else if from < edge {
		system := fmt.Sprintf("%d:1", ratio)
		up := pl.takes(holding, team.Ask{Move: "raise", FromM: &from, ToM: &edge, Ratio: ratio}, "own "+system)
		raise.stop(up.stopped)
		raise.phase("raise", "haulers", up.seconds, "by the team's plan, "+system)
	}
	return []Way{lower, raise}
}

// bestHaul is the ratio that the haulers who are there manage with a load, worked out
// once; 0 for none.
func (pl *Planner) bestHaul(r *team.Rig) int {
	ratio, known := pl.hauls[r.Load.MassKg]
	if !known {
		if list, best := r.Hauls(); best >= 0 {
			ratio = list[best].Ratio
		}
		pl.hauls[r.Load.MassKg] = ratio
	}
	return ratio
}

// atBrakes blocks a way by what is amiss at the brakes for a load of one or two. Away are
// those who are part of the load: they work no brake meanwhile, nor does who hangs elsewhere.
func (pl *Planner) atBrakes(w *Way, one, second quantity.Kilograms, away ...*rig.PersonView) {
	switch len(pl.staffed(pl.in.Team, away...).Operators) {
	case 0:
		w.block("nobody is left at the brakes: who works them hangs on the strands")
	case 1:
		w.block("one operator cannot work two brakes")
	}
	if why := pl.brakesHold(one, second); why != "" {
		w.block("%s", why)
	}
}

// staffed is a team without those who are part of its load, and who hang elsewhere.
func (pl *Planner) staffed(r *team.Rig, away ...*rig.PersonView) *team.Rig {
	for _, p := range pl.rig.People {
		if len(p.Holds) > 0 && !p.Grounded {
			away = append(away, p)
		}
	}
	return r.Staffed(func(who string) bool {
		return slices.ContainsFunc(away, func(p *rig.PersonView) bool { return rig.SameName(p.Name, who) })
	})
}

// holding is the team with a casualty who hangs on its strands at a height.
func (pl *Planner) holding(h *casualty, at stance.Cm) *team.Rig {
	load := pl.rig.Team.Load
	load.Name, load.MassKg, load.Persons, load.Stretcher = h.Name, h.MassKg, 1, false
	return pl.staffed(pl.in.Team.With(load), h.PersonView).Holding(at.M())
}

// TeamPlan is the team's own move of a way on which nobody goes to the casualty: down to the
// landing, or up to the edge. Errors are those of team.Rig.For.
func (pl *Planner) TeamPlan(w *Way, casualty string, at quantity.Metres) (*team.Plan, error) {
	h := pl.casualty(casualty)
	if h == nil || pl.in.Team == nil {
		return nil, strict.Faultf("/drop/team", "missing: nothing is rigged for a team on this drop")
	}
	r := pl.holding(h, stance.ToCm(at))
	ask := team.Ask{Move: "lower", FromM: &at, ToM: new(quantity.Metres)}
	if edge := r.EdgeM; w.Kind == "raise" {
		ask = team.Ask{Move: "raise", FromM: &at, ToM: &edge, Ratio: pl.bestHaul(r)}
	}
	return r.For(pl.ctx, ask)
}

// strandAbove blocks a way of somebody who hangs on a strand below what keeps it from being
// lowered or raised.
func (pl *Planner) strandAbove(w *Way, s *rig.StrandView, at stance.Cm) {
	for _, m := range s.Marks {
		if stance.ToCm(m.HeightM) <= at {
			continue
		}
		switch {
		case m.Kind == rig.RebelayMark:
			w.block("the strand is held at the re-belay at %v, above them", m.HeightM)
		case m.Kind == rig.DamageMark && !s.Isolated(m.ID):
			w.block("damage at %v on the %s strand, above them", m.HeightM, s.Name)
		}
	}
}

// takes is how long a move of the team takes, by its plan. Where no knot is in a line a
// plan differs from height to height by the way alone, and is searched for once.
func (pl *Planner) takes(r *team.Rig, ask team.Ask, name string) timed {
	key := lowerBy{ask.Move + " " + name, len(r.Operators), r.Load.MassKg, 0, 0}
	do, way := team.Lower, *ask.FromM-*ask.ToM
	if ask.Move == "raise" {
		do, way = team.Haul, *ask.ToM-*ask.FromM
	}
	for _, line := range []string{"main", "belay"} {
		if out, known := r.RunsOutM(line); known && ask.Move == "lower" && out > *ask.ToM {
			return timed{stopped: stopped{why: fmt.Sprintf("the rope of the %s runs out at %v", line, out)}}
		}
	}
	if way <= 0 {
		return timed{}
	}
	if r.Knotted() {
		key.from, key.to = stance.ToCm(*ask.FromM), stance.ToCm(*ask.ToM)
	}
	found, known := pl.lowers[key]
	if !known {
		s, err := r.Seconds(pl.ctx, ask)
		found = timed{seconds: s}
		switch outcome := search.OutcomeOf(err); {
		case outcome == search.Undecided:
			found.stopped = stopped{search.ErrUndecided.Error(), true}
		case err != nil && r.Knotted():
			found.stopped = stopped{why: "the team does not pass a knot on the way with this kit"}
		case err != nil:
			found.stopped = stopped{why: detail(err)}
		case !r.Knotted():
			found.seconds -= r.WayS(do, ask.Ratio, way)
		}
		pl.lowers[key] = found
	}
	if found.why == "" && !r.Knotted() {
		found.seconds += r.WayS(do, ask.Ratio, way)
	}
	return found
}

// lowered is a rescuer whom the team lowers to the casualty: one becomes two.
func (pl *Planner) lowered(c *rescuer, h *casualty, at stance.Cm) (Way, bool) {
	t := pl.rig.Team
	if t == nil || pl.in.Team == nil || t.Main.Strand.Set == h.set {
		return Way{}, false
	}
	set := t.Main.Strand.Set
	w := Way{Kind: "lowered", Rescuer: c.ID, Name: c.Name, Set: set, Words: c.Name + " lowered to them by the team", Prepared: true, Phases: []Phase{}}
	pl.begin(&w)
	pl.walk(&w, c)
	if who := pl.works(set, c, h); who != "" {
		w.block("%s works on set %d", who, set)
	}
	if c.hangs() {
		w.block("%s hangs on set %d", c.Name, setOf(c.PersonView))
	}
	pl.atBrakes(&w, c.MassKg, h.MassKg, c.PersonView, h.PersonView)
	if why := pl.chain(c, h); why != "" {
		w.block("%s", why)
	}
	for _, l := range []*rig.TeamLineView{&t.Main, &t.Belay} {
		for _, m := range l.Strand.Marks {
			if m.Kind == rig.RebelayMark || m.Kind == rig.DamageMark && !l.Strand.Isolated(m.ID) {
				w.block("%s at %v on the %s strand", m.Kind, m.HeightM, l.Strand.Name)
			}
		}
	}
	if need := pl.in.Team.BendsNeeded(); need > pl.in.Team.Kit.Connectors {
		w.block("the friction bend needs %s at the anchors; available: %d", quantity.Count(need).Of("connector"), pl.in.Team.Kit.Connectors)
	}
	main, theirs := c.sc.LineOf(w.Set, rig.Main), h.sc.LineOf(h.set, rig.Main)
	if main >= 0 && theirs >= 0 {
		if aside := h.sc.X(theirs, spanAt(h.sc, theirs, at)) - c.sc.X(main, 0); max(aside, -aside) > 2*c.sc.Out {
			w.block("they hang %v aside of the team's strands: out of reach", max(aside, -aside).M())
		}
	}
	edge, here, landing := pl.in.Team.EdgeM, at.M(), quantity.Metres(0)
	one := t.Load
	one.Name, one.MassKg, one.Persons = c.Name, c.MassKg, 1
	down := pl.takes(pl.staffed(pl.in.Team.With(one), c.PersonView, h.PersonView), team.Ask{Move: "lower", FromM: &edge, ToM: &here}, "down to")
	w.stop(down.stopped)
	w.phase("reach", "the team", overEdgeS+down.seconds, "by the team's plan")
	free := pl.pickOffBy(c, h, w.Set, at, &fitted{variant: loweredBy}, true)
	w.stop(free.stopped)
	if why := pl.chained(c, h, free.joined, true); why != "" && free.why == "" {
		w.block("%s", why)
	}
	w.phase("free", c.Name, free.seconds, "by the pick-off")
	two := one
	two.MassKg, two.Persons = c.MassKg+h.MassKg, 2
	both := pl.takes(pl.staffed(pl.in.Team.With(two), c.PersonView, h.PersonView), team.Ask{Move: "lower", FromM: &here, ToM: &landing}, "with both")
	w.stop(both.stopped)
	w.phase("lower", "the team", both.seconds, "by the team's plan")
	return w, true
}

// loweredBy is the variant of whoever is lowered by the team: its brakes.
var loweredBy = &variant{}

// solo reports whether a rescuer has a descender and a backup device that may be hung on a
// set by themself.
func (pl *Planner) solo(c *rescuer, set int, at stance.Cm) bool {
	main, backup := pl.strand(set, rig.Main), pl.strand(set, rig.Backup)
	for _, v := range c.variants {
		_, d := pl.would(c, nil, v, v.descender, main, 0, at.M())
		_, b := pl.would(c, nil, v, v.backup, backup, 0, at.M())
		if d == "" && b == "" {
			return true
		}
	}
	return false
}
