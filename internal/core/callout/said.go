package callout

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/team"
)

// Rules are those on a callout itself.
var Rules = []struct {
	ID    string
	Gives finding.Severity
	Fires string
}{
	{"callout.kit", finding.Stop, "the kits have not two brakes and two ropes that may be used"},
	{"callout.people", finding.Stop, "fewer come than a lower takes; look: nobody is entered, or too few to pull"},
	{"callout.awake", finding.Look, "somebody who is needed has been awake for longer than the policy allows"},
	{"callout.landing", finding.Look, "the landing is water, or nobody knows what it is"},
	{"callout.reach", finding.Stop, "no ropes of the kits come down at the worst end of the height"},
}

func (m *making) found(rule string, s finding.Severity, id, what, why, remedy string, figures ...finding.Figure) finding.Finding {
	return finding.Finding{
		Rule: rule, Severity: m.policy.Severity(rule, s), Subject: finding.Subject{Kind: finding.Drop, ID: id, Label: id}, What: what, Figures: figures, Why: why, Remedy: remedy,
		Source: "team policy: " + m.policy.Name, Working: []finding.Working{},
	}
}

// noRig is callout.kit.
func (m *making) noRig() finding.Finding {
	return m.found("callout.kit", finding.Stop, "kits", fmt.Sprintf("The kits give no rig for a lower: %s and %s that may be used.", quantity.Count(len(m.bag.brakes)).Of("brake"), quantity.Count(len(m.bag.ropes)).Of("rope")),
		"Main and belay each want a rope and a brake of their own.", "Take another kit.", finding.Fig("brakes", quantity.Count(len(m.bag.brakes))), finding.Fig("ropes", quantity.Count(len(m.bag.ropes))))
}

// close adds what is found on the callout itself, sorts, and says what was not looked at.
func (m *making) close(c *Card, b *bound) *Card {
	if c.Rig == nil {
		c.People = m.crew()
	}
	c.Findings = append(c.Findings, m.peopleFindings(&c.People, c.Raise)...)
	c.Findings = append(c.Findings, m.landing()...)
	if b != nil && m.known.HeightM != nil && !c.Reaches {
		c.Findings = append(c.Findings, m.short(c, b))
	}
	finding.Sort(c.Findings)
	c.Reach = m.furthest()
	c.NotLookedAt = m.notLookedAt()
	return c
}

// short is callout.reach.
func (m *making) short(c *Card, b *bound) finding.Finding {
	missing := max(0, b.short[0], b.short[1])
	remedy := fmt.Sprintf("Ropes at least %s longer, or a landing above.", quantity.Up(missing))
	if m.known.Knots == nil || !*m.known.Knots {
		remedy = "Allow a knot, ropes at least " + quantity.Up(missing) + " longer, or a landing above."
	}
	f := m.found("callout.reach", finding.Stop, "ropes", fmt.Sprintf("No ropes of these kits come down %v: %v are missing.", m.known.HeightM.HighM, missing), "Rope that runs out behind a brake leaves the load where it is, or lets it go.", remedy, finding.Fig("height", m.known.HeightM.HighM), finding.Fig("missing", missing))
	f.Working = c.Rig.Working
	return f
}

// landing is callout.landing.
func (m *making) landing() []finding.Finding {
	switch m.known.Landing {
	case "":
		return []finding.Finding{m.found("callout.landing", finding.Look, "landing", "Nobody knows what the load comes down onto.", "Who comes down on water, or on nothing that holds them, stays on the ropes.", "Have somebody look before the load goes over the edge; keep the way up rigged.", finding.State("landing", "not known"))}
	case "water", "boat":
		return []finding.Finding{m.found("callout.landing", finding.Look, "landing", fmt.Sprintf("The load comes down onto %s.", map[string]string{"water": "water", "boat": "a boat"}[m.known.Landing]), "Nobody stands there: the ropes carry until somebody has hold of them, and a boat moves.", "Flotation on everybody who goes down; the way up stays rigged until they are taken over.", finding.State("landing", m.known.Landing))}
	}
	return nil
}

// furthest are the ways that come down furthest.
func (m *making) furthest() []Reach {
	list := slices.Clone(m.reach)
	for i := range list {
		list[i].Enough = m.known.HeightM != nil && list[i].ReachM >= m.known.HeightM.HighM
	}
	slices.SortStableFunc(list, func(a, b Reach) int {
		return cmp.Or(cmp.Compare(len(a.Ropes), len(b.Ropes)), cmp.Compare(b.ReachM, a.ReachM))
	})
	out := []Reach{}
	for _, r := range list {
		if last := len(out) - 1; last >= 0 && out[last].Joined == r.Joined && out[last].LengthM == r.LengthM && out[last].ReachM == r.ReachM {
			out[last].Alike++
			continue
		}
		out = append(out, r)
	}
	return out[:min(len(out), mostReach)]
}

// mostReach is how many ways a card lists.
const mostReach = 12

// notLookedAt is what a card knows nothing of.
func (m *making) notLookedAt() []string {
	list := []string{
		"The anchors: nobody has seen them. Each line has one of its own, as strong as the card says, independent of the other.",
		"Function checks: none is on record for this rig. They are done by touch, in the order below.",
		"Ropes that are icy, muddy or glazed, unless that is said or the store has it. What is on the way down: ledges, sharp edges, loose rock, what is overhead. The way is taken as plumb.",
		"The casualty, the weather, the way to the edge, and who leads.",
	}
	for _, line := range m.unsaid {
		list = append(list, plainly(line))
	}
	var awake []string
	for _, p := range m.known.People {
		if p.AwakeH == nil {
			awake = append(awake, p.Name)
		}
	}
	if awake != nil {
		list = append(list, "How long they have been awake: "+join(awake)+".")
	}
	if m.bag.left > 0 {
		list = append(list, fmt.Sprintf("%s: the %d longest were looked at.", quantity.Count(m.bag.left).Of("more rope"), mostRopes))
	}
	// Two connectors hang the brakes.
	if len(m.bag.kit) > mostKit+2 {
		list = append(list, fmt.Sprintf("More of the kits than the %d things that lie ready at the anchors.", mostKit))
	}
	for i := range m.kits {
		k := &m.kits[i]
		if why := k.SealUndone(m.items); why != "" && (len(m.known.Kits) == 0 || slices.Contains(m.known.Kits, k.Name)) {
			list = append(list, "What is in "+k.Name+": seal "+k.Seal.Number+" stands, but "+why+". Look through it.")
		}
	}
	return list
}

// plainly is a line of a check as a sentence, without the id of its rule: nobody at a callout
// looks rules up.
func plainly(line string) string {
	at := strings.Index(line, "): ") // behind the id, which has no brackets; a label may
	for i := at; i > 0; i-- {
		if line[i] == '(' {
			line = line[:i-1] + line[at+1:]
			break
		}
	}
	return strings.ToUpper(line[:1]) + line[1:] + "."
}

// taken says what was taken for each thing that is known, and what it costs not to know it
// better: the same rig at the favourable end beside it.
func (m *making) taken(c *Card, l *layout, corners []Point, all []*Figures) error {
	k, b := m.known, boundOf(all)
	add := func(of, words string, known bool, cost string) {
		c.Taken = append(c.Taken, Taken{of, words, known, cost})
	}
	if h := k.HeightM; h == nil {
		add("height", fmt.Sprintf("taken as the %v to which these ropes come down", corners[0].HeightM), false, "whether they reach the landing is not known")
	} else {
		cost := ""
		if h.LowM < h.HighM {
			low := corners[0]
			low.HeightM = max(1, h.LowM)
			f, _, err := l.at(low, m.day, m.policy)
			if err != nil {
				return err
			}
			cost = b.costs(boundOf([]*Figures{f}))
		}
		add("height", fmt.Sprintf("%v to %v: %v", h.LowM, h.HighM, h.HighM), true, cost)
	}
	better := func(is func(Point) bool) string {
		var few []*Figures
		for i, p := range corners {
			if is(p) {
				few = append(few, all[i])
			}
		}
		if len(few) == 0 || len(few) == len(all) {
			return ""
		}
		return b.costs(boundOf(few))
	}
	back := k.back()
	if k.Edge != "free" {
		add("back", fmt.Sprintf("%v to %v", back.LowM, back.HighM), k.BackM != nil, better(func(p Point) bool { return p.BackM == back.LowM }))
	}
	least, most := k.edges(m.policy)
	edge := map[string]string{"roller": "a roller", "pad": "a pad", "sleeve": "a sleeve", "none": "bare", "free": "none: the ropes hang free"}
	words := edge[least]
	if least != most {
		words = "anything from " + edge[least] + " to free-hanging"
	}
	add("edge", words, k.Edge != "", better(func(p Point) bool { return p.Edge == most }))
	low, high := k.loads()
	words = usual[high.Load].words
	if low.Load != high.Load {
		words = "anything from " + usual[low.Load].words + " to " + words
	}
	words += fmt.Sprintf(", %v to %v", low.MassKg, high.MassKg)
	add("load", words, k.Load != "", better(func(p Point) bool { return p.Load == low.Load && p.MassKg == low.MassKg }))
	add("landing", cmp.Or(k.Landing, "not known"), k.Landing != "", "")
	add("ropes", cmp.Or(string(k.Ropes), "taken as wet where that is worse"), k.Ropes != "", "")
	m.takenKnots(add)
	words = quantity.Count(len(k.People)).Of("person") + " coming"
	add("people", words, len(k.People) > 0, "")
	add("kits", cmp.Or(join(k.Kits), "everything that is in a kit"), len(k.Kits) > 0, "")
	return nil
}

// takenKnots says what knots would give.
func (m *making) takenKnots(add func(of, words string, known bool, cost string)) {
	if k := m.known.Knots; k != nil {
		add("knots", map[bool]string{true: "ropes may be joined", false: "no knot"}[*k], true, "")
		return
	}
	single, joined := quantity.Metres(0), quantity.Metres(0)
	for _, r := range m.reach {
		if r.Joined {
			joined = max(joined, r.ReachM)
		} else {
			single = max(single, r.ReachM)
		}
	}
	cost := ""
	if joined > single {
		cost = fmt.Sprintf("joined, the longest ropes would come down %v rather than %v", joined, single)
	}
	add("knots", "taken as none", false, cost)
}

// costs says what the worst end costs beside a better one; empty for nothing.
func (b *bound) costs(o *bound) string {
	var list []string
	if more := max(b.NeedM[0]-o.NeedM[0], b.NeedM[1]-o.NeedM[1]); more > 0.05 {
		list = append(list, fmt.Sprintf("%v of rope on each line", more))
	}
	for _, h := range b.Hauls {
		i := slices.IndexFunc(o.Hauls, func(q team.HaulFigures) bool { return q.System == h.System })
		if i >= 0 && h.Ratio == 3 && h.Needed > o.Hauls[i].Needed {
			list = append(list, fmt.Sprintf("%d haulers at 3:1 rather than %d", h.Needed, o.Hauls[i].Needed))
		}
	}
	if b.known[0] && more(b.Adds[0], o.Adds[0]) {
		list = append(list, "more friction at the brake")
	} else if b.known[0] && b.handKN[0] > 1.05*o.handKN[0] {
		list = append(list, fmt.Sprintf("%v in the hand rather than %v", b.handKN[0], o.handKN[0]))
	}
	if b.CatchKN > 1.05*o.CatchKN {
		list = append(list, fmt.Sprintf("a catch of %v rather than %v", b.CatchKN, o.CatchKN))
	}
	if len(list) == 0 {
		return ""
	}
	return "costs " + strings.Join(list, ", ")
}

// Touch is one check by touch.
type Touch struct {
	Of   string `json:"of" doc:"what it is on"`
	Item string `json:"item,omitempty" doc:"item id"`
	Do   string `json:"do"`
	Must string `json:"must"`
}

// touches are the checks before anybody hangs on the rig, in the order in which it is built:
// anchors, then each line from its connector to its rope, the knots, and who goes down.
func touches(l *layout) []Touch {
	list := []Touch{{Of: "anchors", Do: "Two points for each line, or one that is beyond doubt. Pull each, then both together, the way the load will.", Must: "Nothing moves, nothing sounds hollow; main and belay share nothing."}}
	for i, name := range lineNames {
		if c := l.connectors[i]; c != nil {
			list = append(list, Touch{Of: c.Item.Label + ", " + name, Item: c.Item.ID, Do: "Press its gate.", Must: "Shut and locked, loaded along."})
		}
		list = append(list, proofs(l.brakes[i], name)...)
		for _, r := range l.ropes[i] {
			list = append(list, proofs(r, name)...)
		}
	}
	return append(list, Touch{Of: "who goes down", Do: "Touch every buckle, both connectors at the harness, the helmet.", Must: "Buckles doubled back, gates locked, main and belay each on a point of their own."})
}

func proofs(p *rig.Piece, line string) (list []Touch) {
	for _, q := range procedure.Of(p.Model) {
		list = append(list, Touch{Of: p.Item.Label + ", " + line, Item: p.Item.ID, Do: q.Do, Must: q.Must})
	}
	return list
}
