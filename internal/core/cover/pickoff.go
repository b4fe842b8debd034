package cover

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"zealousknot/internal/core/digest"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// freed is what a pick-off takes, or why there is none.
type freed struct {
	seconds float64
	stopped
	joined joined
}

// joined is what joins a casualty to their rescuer all the way down: it is of no other use
// meanwhile. The zero joined is nothing.
type joined struct {
	// long is the item of the long lanyard.
	long  string
	links int8
	// strap is the length of a strap in the chain; 0: none.
	strap stance.Cm
}

// connectors are those that it takes, the long lanyard's among them.
func (j joined) connectors(sc *stance.Scene) int {
	n := int(j.links)
	if i := sc.Tool(j.long); i >= 0 {
		n += sc.Tools[i].Connectors
	}
	return n
}

// pickOffRoom is how far around both the strands decide a pick-off: further than
// either moves and reaches.
const pickOffRoom stance.Cm = 250

// pickOff is the fastest pick-off at a height by any of some variants, and by which.
func (pl *Planner) pickOff(c *rescuer, h *casualty, set int, at stance.Cm, list []*fitted, strap bool) (least freed, by *fitted) {
	for _, f := range list {
		got := pl.pickOffBy(c, h, set, at, f, strap)
		switch {
		case by == nil, got.why == "" && (least.why != "" || got.seconds < least.seconds), got.undecided && least.why != "" && !least.undecided:
			least, by = got, f
		}
	}
	return least, by
}

// pickOffBy is the pick-off by one variant; nil for who is lowered by the team. It is
// searched for with what is near alone, so that heights that are alike are searched for
// once.
func (pl *Planner) pickOffBy(c *rescuer, h *casualty, set int, at stance.Cm, f *fitted, strap bool) freed {
	sets := []int{set, h.set}
	place, empty := c.sc.Empty(sets, at, pickOffRoom, pickOffRoom)
	if !empty {
		return pl.searchPickOff(c, h, set, at, f, strap)
	}
	short := pickOff{c, f.variant, h, set, f.across, strap, place}
	found, known := pl.freed[short]
	if !known {
		found = pl.searchPickOff(c, h, set, at, f, strap)
		pl.freed[short] = found
	}
	return found
}

func (pl *Planner) searchPickOff(c *rescuer, h *casualty, set int, at stance.Cm, f *fitted, strap bool) freed {
	sc, err := pl.joins(c, h, f, strap)
	if err != nil {
		return freed{stopped: stopped{why: detail(err)}}
	}
	kits := digest.Of(pl.kit(sc.R), pl.kit(sc.C))
	sets := []int{set, h.set}
	whole := *sc
	var lift stance.Cm
	sc.R, _ = sc.R.Window(sets, at, pickOffRoom, pickOffRoom)
	sc.C, lift = sc.C.Window(sets, at, pickOffRoom, pickOffRoom)
	if sc.R == nil || sc.C == nil {
		return freed{stopped: stopped{"there are more anchors than are planned with", true}}
	}
	start, err := pl.startOf(sc, set, h.set, at+lift)
	if err != nil {
		return freed{stopped: stopped{why: detail(err)}}
	}
	// The scenes by their digests, the rest as it is.
	rest := *sc
	rest.R, rest.C = nil, nil
	// Where both begin follows from these.
	key := digest.Of("pick-off", kits, sc.R.Digest(kits), sc.C.Digest(kits), rest, set, h.set, at+lift, pl.setup.Rescue.On)
	found := pl.in.Cache.recall(pl.ctx, key, func() searched {
		seconds, end, err := sc.Cost(pl.ctx, start)
		out := outcome(seconds, err)
		out.links, out.strap = end.Links, end.Strap
		return out
	})
	out := freed{seconds: found.seconds, joined: joined{links: found.links}}
	if sc.LongTool >= 0 {
		out.joined.long = sc.R.Tools[sc.LongTool].Item
	}
	if found.strap {
		out.joined.strap = sc.StrapCm
	}
	switch {
	case found.outcome == search.Undecided:
		out.stopped = stopped{search.ErrUndecided.Error(), true}
	case found.outcome == search.None && !strap:
		// With a strap it was looked for too, and what lacks then is said.
		out.stopped = stopped{why: search.ErrNone.Error()}
	case found.outcome == search.None:
		lacks := pl.in.Cache.recall(pl.ctx, digest.Of("lacks", key), func() searched {
			start, err := pl.startOf(&whole, set, h.set, at)
			if err != nil {
				return searched{refused: detail(err)}
			}
			return searched{refused: whole.Lacks(pl.ctx, start)}
		})
		out.stopped = stopped{why: lacks.refused}
	}
	return out
}

// detail is what an error says of its first fault, without where it stands.
func detail(err error) string {
	var refused *strict.Error
	if errors.As(err, &refused) && len(refused.Faults) > 0 {
		return refused.Faults[0].Detail
	}
	return err.Error()
}

// LiftPart is a thing that a lift takes, and who has it.
type LiftPart struct{ Label, Who string }

// LiftGear is what takes the weight of who hangs in what grips, off whom it is taken.
func (pl *Planner) LiftGear(w *Way, casualty string) []LiftPart {
	h := pl.casualty(casualty)
	i := slices.IndexFunc(pl.rescuers, func(c *rescuer) bool { return c.ID == w.Rescuer })
	if h == nil || i < 0 || cmp.Or(pair.On(pl.setup.Rescue.On), pair.OnDescender) == pair.OnDescender {
		return nil
	}
	var list []LiftPart
	parts, _ := pl.lifts(pl.rescuers[i], h)
	for _, o := range parts {
		who := pl.rescuers[i].Name
		if !slices.Contains(pl.rescuers[i].All, o) {
			who = h.Name
		}
		list = append(list, LiftPart{o.Item.Label, who})
	}
	return list
}

// Scene is the scene of a pick-off by one of the ways, with the pair as it begins: the
// rescuer parked beside the casualty.
func (pl *Planner) Scene(w *Way, casualty string, at quantity.Metres) (*pair.Scene, pair.State, error) {
	id := w.Rescuer
	h := pl.casualty(casualty)
	i := slices.IndexFunc(pl.rescuers, func(c *rescuer) bool { return c.ID == id })
	if h == nil || i < 0 {
		return nil, pair.State{}, strict.Faultf("/rescuer", "there is nobody of this id to come, or to be fetched")
	}
	return pl.begins(pl.rescuers[i], h, w, stance.ToCm(at))
}

func (pl *Planner) begins(c *rescuer, h *casualty, w *Way, at stance.Cm) (*pair.Scene, pair.State, error) {
	by, set := &fitted{variant: loweredBy}, w.Set
	if w.Kind != "lowered" {
		list, why := pl.hangs(c, h, set, at, w.Across)
		if len(list) == 0 {
			return nil, pair.State{}, strict.Faultf("/rescuer", "%s", why)
		}
		_, by = pl.pickOff(c, h, set, at, list, !w.NoStrap)
	}
	sc, err := pl.joins(c, h, by, !w.NoStrap)
	if err != nil {
		return nil, pair.State{}, err
	}
	p, err := pl.startOf(sc, set, h.set, at)
	return sc, p, err
}

// joins is the scene of a rescuer with a casualty, by a variant; without its scene they are
// lowered by the team. Strap: a lanyard or sling may be in the chain.
func (pl *Planner) joins(c *rescuer, h *casualty, f *fitted, strap bool) (*pair.Scene, error) {
	own, lowered := f.sc, f.sc == nil
	if lowered {
		if c.lowered == nil {
			t := pl.rig.Team
			c.lowered = c.sc.Lowered(t.Main.Brake, t.Belay.Brake, stance.ToCm(*pl.in.Policy.BelaySlackM))
		}
		if own = c.lowered; own == nil {
			return nil, strict.Faultf("/team", "there are more things than are planned with")
		}
	}
	lift, lacks := pl.lifts(c, h)
	sc := &pair.Scene{
		FromAnchor: lowered, Across: f.across, R: own, C: h.sc, LongTool: longLanyard(own, pl.strongFor(h)), Connectors: c.sc.Connectors, LinkCm: stance.ToCm(pl.in.Policy.ConnectorM), CanLift: len(lift) > 0, LiftLacks: lacks,
		Conscious: pl.setup.Conscious, KeepBackup: pl.setup.TheirBackup == "keep", Times: pair.ShippedTimes(),
	}
	for _, t := range pl.in.Policy.RescueTimes {
		sc.Times[pair.Do(t.Do)] = t.S
	}
	if strap {
		sc.Straps = pl.straps(c.PersonView, h, own, sc.LongTool)
	}
	return sc, nil
}

// startOf is the pair as a pick-off begins.
func (pl *Planner) startOf(sc *pair.Scene, set, theirs int, at stance.Cm) (pair.State, error) {
	p, err := sc.Begin(at, set, theirs, pair.On(cmp.Or(pl.setup.Rescue.On, string(pair.OnDescender))))
	sc.Spare(&p)
	return p, err
}

// straps are the other lanyards and slings that somebody carries and that bear a casualty,
// the shortest first.
func (pl *Planner) straps(p *rig.PersonView, h *casualty, sc *stance.Scene, long int) []stance.Cm {
	var list []stance.Cm
	for i := range sc.Tools {
		if i != long && sc.Tools[i].Class == gear.Lanyard && pl.strongFor(h)(&sc.Tools[i]) {
			list = append(list, sc.Tools[i].Length)
		}
	}
	for _, c := range p.Carries {
		if c.Model.Class == gear.Sling && pl.tooWeak(c.Model, c.Item.Label, h.MassKg, h.Name) == "" {
			list = append(list, stance.ToCm(c.Model.LengthM))
		}
	}
	slices.Sort(list)
	return slices.DeleteFunc(list, func(c stance.Cm) bool { return c <= 0 })
}

// Passes are the moves of the pair past what is in the way down below a height: nobody
// stands up with two, every device is rated for two. The error is that of the first which is
// not found.
func (pl *Planner) Passes(w *Way, casualty string, at quantity.Metres) ([]*moves.Plan, error) {
	h := pl.casualty(casualty)
	i := slices.IndexFunc(pl.rescuers, func(c *rescuer) bool { return c.ID == w.Rescuer })
	if h == nil || i < 0 || w.Kind == "lowered" || w.Kind == "evacuate" {
		return nil, nil
	}
	c := pl.rescuers[i]
	on, _ := pl.hangs(c, h, w.Set, stance.ToCm(at), w.Across)
	free, _ := pl.pickOff(c, h, w.Set, stance.ToCm(at), on, !w.NoStrap)
	pair := pl.pairOn(c, h, w.Set, stance.ToCm(at), w.Across, free.joined)
	if pair == nil {
		return nil, nil
	}
	var list []*moves.Plan
	for _, group := range marksOf(pair, w.Set) {
		if group[0].At >= stance.ToCm(at) {
			continue
		}
		ask := passing(group, w.Set, false, pair.Ground, 0)
		plan, err := moves.For(pl.ctx, pair, *ask.From, ask)
		if err != nil {
			return list, fmt.Errorf("%s at %v: %w", markWords(group), group[0].At.M(), err)
		}
		list = append(list, plan)
	}
	return list, nil
}

// Plan finds the pick-off of a way at a height.
func (pl *Planner) Plan(w *Way, casualty string, at quantity.Metres) (*pair.Plan, error) {
	sc, start, err := pl.Scene(w, casualty, at)
	if err != nil {
		return nil, err
	}
	p, err := sc.Find(pl.ctx, w.Kind, start)
	if errors.Is(err, search.ErrNone) {
		return nil, fmt.Errorf("%s: %w", sc.Lacks(pl.ctx, start), err)
	}
	return p, err
}
