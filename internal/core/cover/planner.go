// Package cover knows how everybody on a drop is reached, and brought down, from every
// height: the ways by the people, kit and rigging planned, how long each takes, where none
// is left, what would change that, and the last resort. It knows nothing of what a rescue
// is in its steps: packages pair, moves and team do.
package cover

import (
	"cmp"
	"context"
	"fmt"
	"strings"

	"zealousknot/internal/core/digest"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// Setting is what a rescue is planned in.
type Setting struct {
	Policy *policy.Policy
	// Team is what is rigged at the top; nil for nothing.
	Team *team.Rig
	Options
}

// MaxStates bounds the states that one request expands in sum.
const MaxStates = 400_000

// Planner knows who may need a rescue on a drop, and who comes. It lives as long as one
// request, whose context stops its searches.
type Planner struct {
	ctx      context.Context
	rig      *rig.Rig
	in       Setting
	rescuers []*rescuer
	people   []*casualty
	limitS   float64
	setup    *rig.RescueView
	// states are those that may still be expanded.
	states int
	// kits are the digests of scenes, profiles and freed what was looked up already.
	kits     map[*stance.Scene]digest.Sum
	profiles map[way]*profile
	freed    map[pickOff]freed
	judged   map[judged]*judgement
	pairs    map[judged]*pairKit
	braked   map[braked]string
	lowers   map[lowerBy]timed
	hauls    map[quantity.Kilograms]int
}

// way is a way along a set that was looked up.
type way struct {
	sc       *stance.Scene
	set      int
	up, pair bool
}

// pickOff is a pick-off where nothing is near.
type pickOff struct {
	c      *rescuer
	v      *variant
	h      *casualty
	set    int
	across bool
	strap  bool
	place  string
}

// rescuer is a rescuer with what they can do.
type rescuer struct {
	*rig.PersonView
	conf *rig.Rescuer
	sc   *stance.Scene
	// unavailable says why they cannot come at all; empty: they can.
	unavailable string
	note        string
	// variants are what they may do a pick-off with.
	variants []*variant
	// way is the scene for ways along strands: the mass in tens of kilograms, up, so that
	// a search is not done anew for every kilogram; who is heavier holds themselves aside
	// less.
	way *stance.Scene
	// crossed are those with the descender on the backup strand, by set.
	crossed map[int]*stance.Scene
	// lowered is the scene of who is lowered by the team; nil until it is requested.
	lowered *stance.Scene
}

// casualty is somebody who may need a rescue.
type casualty struct {
	*rig.PersonView
	sc  *stance.Scene
	set int
}

// New plans for everybody on a drop who is on, or would go onto, a set of strands. Its
// anchors and lengths must be worked out. A rig without a rescue has no planner: nil.
func New(ctx context.Context, r *rig.Rig, in Setting) (*Planner, error) {
	if r.Rescue == nil {
		return nil, nil
	}
	pl := &Planner{
		ctx: ctx, rig: r, in: in, setup: r.Rescue, limitS: in.Policy.HangLimitMin * 60,
		states: cmp.Or(in.MaxStates, MaxStates),
		kits:   map[*stance.Scene]digest.Sum{}, profiles: map[way]*profile{}, freed: map[pickOff]freed{},
		judged: map[judged]*judgement{}, pairs: map[judged]*pairKit{}, braked: map[braked]string{}, lowers: map[lowerBy]timed{}, hauls: map[quantity.Kilograms]int{},
	}
	if in.Team != nil {
		pl.in.Team = in.Team.Without(func(o *rig.Piece) bool { return fit.Unfit(o, pl.context()) != "" })
	}
	for i := range r.Rescue.Rescuers {
		conf := &r.Rescue.Rescuers[i]
		p := pl.kitted(r.Rescue.People[i])
		sc, err := pl.scene(p)
		if err != nil {
			return nil, err
		}
		c := &rescuer{PersonView: p, conf: conf, sc: sc, way: inTens(sc)}
		if c.variants, err = pl.variants(p); err != nil {
			return nil, err
		}
		c.unavailable, c.note = pl.able(c)
		pl.rescuers = append(pl.rescuers, c)
	}
	for _, o := range r.People {
		p := pl.kitted(o)
		sc, err := pl.scene(p)
		if err != nil {
			return nil, err
		}
		h := &casualty{PersonView: p, sc: sc, set: setOf(p)}
		if len(p.Holds) == 0 && len(p.Moves) == 0 {
			continue // nobody who goes onto the strands
		}
		pl.people = append(pl.people, h)
	}
	return pl, nil
}

// Expanded is how many states were expanded so far, and how many may be in sum.
func (pl *Planner) Expanded() (expanded, bound int) {
	bound = cmp.Or(pl.in.MaxStates, MaxStates)
	return bound - pl.states, bound
}

func (pl *Planner) scene(p *rig.PersonView) (*stance.Scene, error) {
	sc, err := stance.NewScene(pl.rig, p, pl.in.Policy.ConnectorM, pl.in.Policy.Schools)
	if err != nil {
		return nil, strict.Faultf("/people", "%v", err)
	}
	sc.Follow(pl.in.Policy)
	return sc.Own(), nil
}

// setOf is the set that a person hangs on; the first where they hang on none.
func setOf(p *rig.PersonView) int {
	for _, h := range p.Holds {
		return h.Strand.Set
	}
	return 1
}

// able says why somebody cannot come, and what is to be known of them.
func (pl *Planner) able(c *rescuer) (unavailable, note string) {
	if longLanyard(c.sc, nil) < 0 {
		unavailable = c.Name + " carries no lanyard for the casualty"
	}
	for _, class := range []gear.Class{gear.Descender, gear.BackupDevice} {
		if c.sc.First(class) < 0 {
			unavailable = pl.without(c, class)
		}
	}
	var notes []string
	on := c.conf.LastPickOff([]rig.Person{*c.Person})
	if on == "" {
		notes = append(notes, c.Name+": no practised pick-off is stated")
	} else if until := pl.in.Policy.PractisedUntil(manoeuvre.FindSkill(manoeuvre.SkillOf("pick-off")), on); until < pl.rig.Day {
		notes = append(notes, fmt.Sprintf("%s last practised a pick-off on %s", c.Name, on))
	}
	if pl.elsewhere(c) {
		notes = append(notes, fmt.Sprintf("%s stands at %v and sets out from the %s: how long the way there takes is not stated", c.Name, c.AtM, cmp.Or(c.conf.From, "top")))
	}
	return unavailable, strings.Join(notes, "; ")
}

// elsewhere reports whether somebody stands at the other end of the drop than they set out from,
// and nobody has said how long they take to it.
func (pl *Planner) elsewhere(c *rescuer) bool {
	top := pl.rig.Geometry.TopM
	if !c.Grounded || c.conf.WalkS > 0 {
		return false
	}
	return (c.AtM > top/2) == (c.conf.From == "landing")
}

// without says why somebody has nothing of a class to work with: what they have may not be
// used, or they have none.
func (pl *Planner) without(c *rescuer, class gear.Class) string {
	why := ""
	for i := range pl.setup.People {
		p := pl.setup.People[i]
		for _, o := range p.Carries {
			if p.ID == c.ID && o.Model.Class == class {
				why = cmp.Or(plain(fit.Unfit(o, pl.context())), why, fmt.Sprintf("%s carries no absorber or lanyard that %s is used with", c.Name, o.Item.Label))
			}
		}
	}
	return cmp.Or(why, fmt.Sprintf("%s has no %s of their own", c.Name, class.Words()))
}

// longLanyard is the longest lanyard of a kit that is good, nil for any; -1 for none.
func longLanyard(sc *stance.Scene, good func(*stance.Tool) bool) int {
	at := -1
	for i := range sc.Tools {
		if t := &sc.Tools[i]; t.Class == gear.Lanyard && (good == nil || good(t)) && (at < 0 || t.Length > sc.Tools[at].Length) {
			at = i
		}
	}
	return at
}

// casualty finds somebody by id, the first for none.
func (pl *Planner) casualty(id string) *casualty {
	for _, h := range pl.people {
		if id == "" || h.ID == id {
			return h
		}
	}
	return nil
}
