package moves

import (
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// lowerBound is an admissible and consistent heuristic: a lower bound on the cost from a
// stance to the goal, that no action reduces by more than it costs.
func (g *goal) lowerBound(sc *stance.Scene, s *stance.Stance) float64 {
	c := g.handling(sc, s, g.near)
	switch d := float64((g.to - s.At).M()); {
	case g.way > 0 && d > 0:
		c += climbMetre * d * 0.5
	case g.way < 0 && d < 0:
		c -= descendMetre * d * 0.5
	}
	if g.rest == onSlings {
		return c + g.alongSlings(sc, s)
	}
	if g.plain && !s.Grounded && (g.rest == onDescender || g.rest == onAscenders) {
		on := g.countOn(sc, s)
		// One more hold may cover the backup and be one of four.
		if g.simple {
			c += g.weight(sc, s, &on) + g.both(sc, &on)
		} else {
			c += g.weight(sc, s, &on) + max(g.cover(sc, &on), g.four(sc, s, &on))
		}
	}
	return c
}

// mounted is what a stance has, as far as the least cost needs it.
type mounted struct {
	// counting are holds that may count, fresh those that the goal still wants and that a
	// tool can be that is not on.
	counting, fresh int
	stands, backups int
	// stray is a backup device that is on where the goal does not want it; extra is
	// anything on beside what the goal wants.
	stray, extra bool
	// strayBearer: the only tool that bears in the goal is on and not where the goal wants
	// it; onMain and onBackup: another hold is on that strand, that is neither.
	strayBearer      bool
	onMain, onBackup bool
	// descenders: there are any; descender: one is on.
	descenders, descender bool
	// bearers are tools of the class that bears in the goal.
	bearers int
}

func (g *goal) countOn(sc *stance.Scene, s *stance.Stance) mounted {
	var on mounted
	classes := g.rest.classes()
	var have, off [2]bool
	for i := range sc.Tools {
		t, h := &sc.Tools[i], &s.Holds[i]
		if t.Class == gear.BackupDevice {
			on.backups++
		}
		if t.Class == gear.Descender {
			on.descenders, on.descender = true, on.descender || h.There
		}
		if t.Class == classes[0] {
			on.bearers++
		}
		if !h.There {
			off[0] = off[0] || t.Class == classes[0]
			off[1] = off[1] || t.Class == gear.BackupDevice
			continue
		}
		if t.Stands && t.Class == gear.HandAscender {
			on.stands++
		}
		suits := g.suits(sc, h, g.near)
		g.beside(sc, &on, t, h, suits)
		switch {
		case t.Class == gear.HandAscender:
			continue
		case t.Class == gear.BackupDevice:
			on.stray = on.stray || !suits
			have[1] = have[1] || suits
		case t.Class == classes[0]:
			have[0] = have[0] || suits
		default:
			on.extra = true
		}
		on.counting++
	}
	for i := range have {
		if !have[i] && off[i] {
			on.fresh++
		}
	}
	return on
}

// Standing up, sitting down and lowering onto something move the body too, which
// brings a height nearer; so much less is counted of each.
const standSlack, sitSlack, lowerSlack = 1.5, 1.0, 1.5

// weight is a lower bound on what is left of moving the weight: by standing up and sitting
// down, or, from a descender onto something else, by lowering.
func (g *goal) weight(sc *stance.Scene, s *stance.Stance, on *mounted) float64 {
	sit := max(0, sc.Pace.Seconds[stance.Sit]*sc.Pace.Effort-sitSlack)
	lower := 0.0
	if s.Side != g.side && sc.Far(s.Side, g.side) {
		// Out of the arm's reach one is lowered across.
		lower = max(0, sc.Pace.Seconds[stance.LowerOnto]-lowerSlack)
	}
	if s.Standing {
		return sit + lower
	}
	if s.Bears < 0 {
		return 0
	}
	c := sit + max(0, sc.Pace.Seconds[stance.Stand]-standSlack)
	class := sc.Tools[s.Bears].Class
	final := g.rest.classes()[0]
	switch {
	case class == final && g.suits(sc, &s.Holds[s.Bears], g.near):
		return 0
	case class == gear.Descender && (final != gear.Descender || on.bearers > 1):
		if lower > 0 {
			return lower
		}
		return min(c, max(0, sc.Pace.Seconds[stance.LowerOnto]-lowerSlack))
	}
	c += lower
	if final == gear.Descender && on.stands == 0 && !sc.Strops() && !g.slings {
		c += sc.Pace.Hold(stance.PutOn) + sc.Pace.Hold(stance.TakeOff)
	}
	return c
}

// cover is what covers the only backup device while it is changed.
func (g *goal) cover(sc *stance.Scene, on *mounted) float64 {
	if on.backups != 1 || !on.stray || on.extra {
		return 0
	}
	return further(sc)
}

// beside notes a hold that may cover another one while that is changed.
func (g *goal) beside(sc *stance.Scene, on *mounted, t *stance.Tool, h *stance.Hold, suits bool) {
	switch {
	case t.Class == g.rest.classes()[0]:
		on.strayBearer = on.strayBearer || !suits
	case t.Class == gear.BackupDevice, t.Class == gear.HandAscender:
	case sc.Lines[h.Line].Role == rig.Main:
		on.onMain = true
	default:
		on.onBackup = true
	}
}

// both is what covers the only device on either strand while it is changed. With two
// strands, and nothing else to hang on, what covers one is on the strand of the other
// for neither: while the main's is off the backup's holds, and a further one on the
// main; while the backup's is off, a further one on the backup.
func (g *goal) both(sc *stance.Scene, on *mounted) float64 {
	c := 0.0
	if on.stray && on.backups == 1 && !on.onBackup {
		c += further(sc)
	}
	if on.strayBearer && on.bearers == 1 && !on.onMain {
		c += g.onMain(sc)
	}
	return c
}

// onMain is a lower bound on the cost of a further hold on the main: a lanyard in a knot of
// it, or another device.
func (g *goal) onMain(sc *stance.Scene) float64 {
	for i := range sc.Lines {
		for _, m := range sc.Lines[i].Marks {
			if sc.Lines[i].Role == rig.Main && (m.Clip || m.Open) {
				return further(sc)
			}
		}
	}
	return sc.Pace.Hold(stance.PutOn) + sc.Pace.Hold(stance.TakeOff)
}

// further is a lower bound on the cost of one more hold, put on and taken off.
func further(sc *stance.Scene) float64 {
	return min(sc.Pace.Hold(stance.Clip), sc.Pace.Hold(stance.PutOn)) + min(sc.Pace.Hold(stance.Unclip), sc.Pace.Hold(stance.TakeOff))
}

// four is what two holds on each side ask for where sides must be changed; from one that is
// hurt two on the other are enough.
func (g *goal) four(sc *stance.Scene, s *stance.Stance, on *mounted) float64 {
	if s.Side == g.side || !sc.Four(s.Side, g.side) || sc.Hurt(s, s.Side) {
		return 0
	}
	short, least := 4-on.counting-on.fresh, 0.0
	if !on.descender && on.descenders && g.rest != onDescender && sc.Far(s.Side, g.side) {
		// One of them is the descender that one is lowered across on.
		short--
		least = sc.Pace.Hold(stance.PutOn) + sc.Pace.Hold(stance.TakeOff)
	}
	return least + float64(max(0, short))*further(sc)
}

// alongSlings is a lower bound on what is left of coming to a sling: a lanyard in it and in
// the one ahead, the weight on it, and lanyards for that taken from where they are.
func (g *goal) alongSlings(sc *stance.Scene, s *stance.Stance) float64 {
	var in [2]bool
	free, slung := 0, false
	for i := range sc.Tools {
		h := &s.Holds[i]
		switch {
		case sc.Tools[i].Class != gear.Lanyard:
		case !h.There:
			free++
		case h.Clip == stance.IntoMark && sc.Lines[h.Line].Role == stance.Structure:
			slung = true
			in[0] = in[0] || int(h.Span) == g.sling
			in[1] = in[1] || int(h.Span) == g.ahead
		}
	}
	clips := 0
	if !in[0] && (slung || g.ahead > 0) {
		// The first of all at the last sling is counted with what is missing.
		clips++
	}
	if g.ahead > 0 && !in[1] {
		clips++
	}
	c := float64(clips)*sc.Pace.Hold(stance.Clip) + float64(max(0, clips-free))*sc.Pace.Hold(stance.Unclip)
	sit := max(0, sc.Pace.Seconds[stance.Sit]*sc.Pace.Effort-sitSlack)
	b := s.Bears
	switch {
	case s.Standing:
		return c + sit
	case b >= 0 && sc.Lines[s.Holds[b].Line].Role == stance.Structure && int(s.Holds[b].Span) == g.sling:
		return c
	}
	way := sit + max(0, sc.Pace.Seconds[stance.Stand]-standSlack)
	if b >= 0 && sc.Tools[b].Class == gear.Descender {
		way = min(way, max(0, sc.Pace.Seconds[stance.LowerOnto]-lowerSlack))
	}
	return c + way
}
