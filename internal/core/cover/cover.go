package cover

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/progress"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// evacuate is the last resort: a sealed kit from the top, brought by a rescuer.
func (pl *Planner) evacuate(c *rescuer, h *casualty, at stance.Cm) (Way, bool) {
	kit := pl.kitFor(c, h)
	if kit == nil {
		return Way{}, false
	}
	w := Way{Kind: "evacuate", Rescuer: c.ID, Name: c.Name, Words: c.Name + " with " + kit.Item.Label + ", a last resort", Last: true, Phases: []Phase{}}
	pl.begin(&w)
	pl.walk(&w, c)
	m := kit.Model.Evacuation
	if top := pl.rig.Geometry.TopM; m.MaxM < top {
		w.block("%s lowers %v, and the top is at %v", kit.Item.Label, m.MaxM, top)
	}
	if h.MassKg < m.MinKg || h.MassKg > m.MaxKg {
		w.block("%s is rated from %v to %v", kit.Item.Label, m.MinKg, m.MaxKg)
	}
	fewest, reached, undecided := pl.fromTop(&w, c, h, at)
	if !reached {
		w.stop(stopped{"nobody reaches them from the top", undecided})
		fewest = 0
	}
	if lift, lacks := pl.lifts(c, h); len(lift) == 0 {
		w.block("%s", cmp.Or(lacks, "a hand ascender, a foot loop and a pulley are needed to take their weight off"))
	}
	w.phase("reach", c.Name, fewest, "by the moves, down")
	steps, err := pl.evacuated(kit, h, at).Find(pl.ctx)
	if err != nil {
		w.block("the kit is not for this mass or height")
	}
	attach, lower := 0.0, 0.0
	for _, st := range steps {
		if st.Action.Do == "lower" {
			lower += st.Seconds
		} else if st.Action.Do != "free" {
			attach += st.Seconds
		}
	}
	w.phase("attach", c.Name, attach, "by the steps of the kit, shipped times")
	w.phase("lower", "the kit", lower, "by the kit's own brake")
	w.Notes = append(w.Notes, "one person is on a single point of attachment while it lowers; medical go-ahead first; look down before and while")
	return w, true
}

// kitFor is the evacuation kit that is there: one that is rated for it, where there are
// several.
func (pl *Planner) kitFor(c *rescuer, h *casualty) (kit *rig.Piece) {
	for _, o := range slices.Concat(h.Carries, c.Carries) {
		if m := o.Model.Evacuation; m != nil && (kit == nil || m.MaxM >= pl.rig.Geometry.TopM && h.MassKg >= m.MinKg && h.MassKg <= m.MaxKg) {
			kit = o
		}
	}
	return kit
}

// fromTop is the shortest way down to somebody from the top, by any set.
func (pl *Planner) fromTop(w *Way, c *rescuer, h *casualty, at stance.Cm) (fewest float64, reached, undecided bool) {
	fewest = 1e9
	for _, set := range pl.sets() {
		main, backup, lacks := c.sc.Strands(set)
		if lacks != "" || c.conf.From == "landing" || c.hangs() || pl.works(set, c, h) != "" || max(c.sc.Lines[main].End, c.sc.Lines[backup].End) > at || !pl.solo(c, set, at) {
			continue
		}
		s, _, stop := pl.profile(c.way, set, false, false).between(at, c.sc.Lines[main].Top, stance.DeviceLen, downMetre)
		if stop.why == "" && s < fewest {
			fewest, reached, w.Set = s, true, set
		}
		undecided = undecided || stop.undecided
	}
	return fewest, reached, undecided
}

// evacuated is the scene of an evacuation with a kit.
func (pl *Planner) evacuated(kit *rig.Piece, h *casualty, at stance.Cm) *Evacuated {
	return &Evacuated{Kit: kit.Model, Label: kit.Item.Label, MassKg: h.MassKg, HeightM: at.M(), Landing: pl.setup.Landing}
}

// Evacuation are the steps of a last resort; nil where a way is none.
func (pl *Planner) Evacuation(w *Way, casualty string, at quantity.Metres) []EvacuationStep {
	h := pl.casualty(casualty)
	if w.Kind != "evacuate" || h == nil {
		return nil
	}
	for _, c := range pl.rescuers {
		if c.ID != w.Rescuer {
			continue
		}
		if kit := pl.kitFor(c, h); kit != nil {
			steps, _ := pl.evacuated(kit, h, stance.ToCm(at)).Find(pl.ctx)
			return steps
		}
	}
	return nil
}

// Cover is which metre of a drop is covered for whom.
type Cover struct {
	Heights []quantity.Metres `json:"heights_m" doc:"from the landing up"`
	People  []PersonCover     `json:"people"`
	LimitS  float64           `json:"limit_s" doc:"how long somebody may hang still"`
	Gaps    []Gap             `json:"gaps" doc:"stretches that are not covered, too slow, or by a last resort only, worst first"`
	// NotLookedAt is what a rescue may hang on that cannot be judged.
	NotLookedAt []string `json:"not_looked_at" doc:"what a rescue may hang on whose strength or heat is not entered"`
}

// PersonCover is one person's.
type PersonCover struct {
	Person string `json:"person"`
	Name   string `json:"name"`
	Set    int    `json:"set"`
	// States are one for each height.
	States []Covered `json:"states"`
}

// Covered is one height for one person.
type Covered struct {
	State   string  `json:"state" enum:"covered,slow,last-resort,undecided,uncovered" doc:"undecided: a search was cut off; it counts as not covered"`
	Kind    string  `json:"kind,omitempty"`
	Seconds float64 `json:"seconds_s,omitempty"`
}

// Gap is a stretch of a drop that is not covered well.
type Gap struct {
	Person  string          `json:"person"`
	Name    string          `json:"name"`
	State   string          `json:"state" enum:"slow,last-resort,undecided,uncovered"`
	FromM   quantity.Metres `json:"from_m"`
	ToM     quantity.Metres `json:"to_m"`
	Blocked []string        `json:"blocked" doc:"what blocks the ways there are"`
}

// Cover looks at every metre for everybody. Its error is the context's.
func (pl *Planner) Cover() (*Cover, error) {
	out := &Cover{Heights: []quantity.Metres{}, People: []PersonCover{}, LimitS: pl.limitS, Gaps: []Gap{}, NotLookedAt: pl.unseen()}
	for at := quantity.Metres(1); at <= pl.rig.Geometry.TopM-1; at++ {
		out.Heights = append(out.Heights, at)
	}
	for n, h := range pl.people {
		pc := PersonCover{Person: h.ID, Name: h.Name, Set: h.set, States: make([]Covered, len(out.Heights))}
		for i, at := range out.Heights {
			ways := pl.ways(h, stance.ToCm(at))
			if err := pl.ctx.Err(); err != nil {
				return nil, err
			}
			progress.Say(pl.ctx, n*len(out.Heights)+i+1, len(pl.people)*len(out.Heights), "metres")
			pc.States[i] = pl.state(ways)
			out.gap(h, at, pc.States[i].State, ways)
		}
		out.People = append(out.People, pc)
	}
	order := map[string]int{"uncovered": 0, "undecided": 1, "last-resort": 2, "slow": 3}
	slices.SortStableFunc(out.Gaps, func(a, b Gap) int {
		return cmp.Or(cmp.Compare(order[a.State], order[b.State]), cmp.Compare(b.ToM-b.FromM, a.ToM-a.FromM))
	})
	return out, nil
}

func (pl *Planner) state(ways []Way) Covered {
	if len(ways) == 0 || !ways[0].Works {
		if slices.ContainsFunc(ways, func(w Way) bool { return w.Undecided }) {
			return Covered{State: "undecided"}
		}
		return Covered{State: "uncovered"}
	}
	w := &ways[0]
	c := Covered{State: "covered", Kind: w.Kind, Seconds: w.Seconds}
	switch {
	case w.Last:
		c.State = "last-resort"
	case w.Seconds > pl.limitS:
		c.State = "slow"
	}
	return c
}

// gap lengthens the last gap, or begins one.
func (c *Cover) gap(h *casualty, at quantity.Metres, state string, ways []Way) {
	if state == "covered" {
		return
	}
	g := Gap{Person: h.ID, Name: h.Name, State: state, FromM: at, ToM: at, Blocked: []string{}}
	for i := range ways {
		if w := &ways[i]; w.Blocked != "" && len(g.Blocked) < 4 {
			g.Blocked = append(g.Blocked, w.Words+": "+w.Blocked)
		}
	}
	if len(ways) == 0 {
		g.Blocked = append(g.Blocked, "nobody else is assigned to come")
	}
	if n := len(c.Gaps); n > 0 {
		// What blocks is the same all along a gap, but for its figures.
		if was := &c.Gaps[n-1]; was.Person == h.ID && was.State == state && at-was.ToM < 1.5 && slices.EqualFunc(was.Blocked, g.Blocked, func(a, b string) bool { return figureless(a) == figureless(b) }) {
			was.ToM = at
			return
		}
	}
	c.Gaps = append(c.Gaps, g)
}

// figureless is a text without its figures.
func figureless(s string) string {
	return strings.Map(func(r rune) rune {
		if r >= '0' && r <= '9' || r == '.' || r == '-' {
			return -1
		}
		return r
	}, s)
}

// Rules are the rules on a drop's cover.
var Rules = []stance.Rule{
	{ID: "rescue.uncovered", Gives: finding.Stop, Fires: "somebody on the drop is reached by no way at some height with the people, kit and rigging planned"},
	{ID: "rescue.slow", Gives: finding.Look, Fires: "somebody would hang still longer than the policy's limit"},
	{ID: "rescue.last-resort", Gives: finding.Look, Fires: "a last resort is the only way to somebody at some height"},
}

// Findings are what a drop's cover asks for, one for each person and kind.
func (pl *Planner) Findings(c *Cover) []finding.Finding {
	found := []finding.Finding{}
	for _, p := range pl.people {
		for _, state := range []string{"uncovered", "undecided", "last-resort", "slow"} {
			var parts []Gap
			var blocked []string
			metres := quantity.Metres(0)
			for _, g := range c.Gaps {
				if g.Person == p.ID && g.State == state {
					parts = append(parts, g)
					metres += g.ToM - g.FromM + 1
					for _, b := range g.Blocked {
						if !slices.Contains(blocked, b) {
							blocked = append(blocked, b)
						}
					}
				}
			}
			if len(parts) > 0 {
				found = append(found, pl.finding(p, state, metres, heights(parts), blocked))
			}
		}
	}
	return found
}

// heights says where some gaps are, from the lowest up; those that follow each other are one.
func heights(gaps []Gap) string {
	gaps = slices.SortedFunc(slices.Values(gaps), func(a, b Gap) int { return cmp.Compare(a.FromM, b.FromM) })
	var words []string
	for i := 0; i < len(gaps); {
		from, to := gaps[i].FromM, gaps[i].ToM
		for i++; i < len(gaps) && gaps[i].FromM <= to+1; i++ {
			to = max(to, gaps[i].ToM)
		}
		if from == to {
			words = append(words, quantity.Text(from))
		} else {
			words = append(words, fmt.Sprintf("%v to %v", from, to))
		}
	}
	return strings.Join(words, ", ")
}

// NotComputed is the finding of a rescue that cannot be planned on a drop: nothing of it
// is known, so it covers nobody.
func NotComputed(p *policy.Policy, why error) finding.Finding {
	return finding.Finding{
		Rule: "rescue.uncovered", Severity: p.Severity("rescue.uncovered", finding.Stop), Subject: finding.Subject{Kind: finding.Person, ID: "rescue", Label: "Rescue"},
		What: fmt.Sprintf("Rescue cover cannot be computed: %v.", why), Why: "What is not computed counts as not covered.",
		Remedy: "Change what is named, so that every metre can be computed.", Source: "team policy: " + p.Name, Figures: []finding.Figure{}, Working: []finding.Working{},
	}
}

func (pl *Planner) finding(p *casualty, state string, metres quantity.Metres, where string, blocked []string) finding.Finding {
	rule, severity := "rescue."+state, finding.Look
	what, why := "is reached only by a last resort", "A last resort holds one person once only."
	switch state {
	case "uncovered":
		severity = finding.Stop
		what, why = "is reached by nobody", "A casualty hanging still is a medical emergency."
	case "undecided":
		rule, severity = "rescue.uncovered", finding.Stop
		what, why = "is not known to be reached: the search was cut off", "What is not decided counts as not covered."
	case "slow":
		what, why = fmt.Sprintf("would hang still longer than %v min", pl.in.Policy.HangLimitMin), "A casualty hanging still is a medical emergency; how long is too long is a medical question."
	}
	remedy := "Rig a set or brakes for rescue beforehand, bring a second rescuer or a device rated for two: the Rescue page ranks what covers most."
	if len(blocked) > 0 {
		why += " " + strings.ToUpper(blocked[0][:1]) + blocked[0][1:] + "."
	}
	return finding.Finding{
		Rule: rule, Severity: pl.in.Policy.Severity(rule, severity), Subject: finding.Subject{Kind: finding.Person, ID: p.ID, Label: p.Name, Person: p.ID},
		What:    fmt.Sprintf("%s %s at %s.", p.Name, what, where),
		Figures: []finding.Figure{finding.Fig("metres", metres), finding.State("state", state)},
		Why:     why, Remedy: remedy, Source: "team policy: " + pl.in.Policy.Name, Working: []finding.Working{},
	}
}
