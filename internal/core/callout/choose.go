package callout

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/team"
)

// mostTries bounds how many rigs are checked until one without a stop is found.
const mostTries = 24

// making is a card that is being made.
type making struct {
	known    *Known
	bag      *Bag
	day      gear.Date
	policy   *policy.Policy
	exercise bool
	// kits say what did not come back; fixed is a rig that stands already.
	kits  []gear.Kit
	items []gear.Item
	fixed *layout
	// unfit says why things of the kits may not be used.
	unfit []Left
	// unsaid is what of the rig could not be judged since it is not entered.
	unsaid []string
	reach  []Reach
	list   []rope
}

// Left is a thing of the kits that is not used, and why.
type Left struct {
	Item  string `json:"item"`
	Label string `json:"label"`
	Why   string `json:"why"`
}

func newMaking(k *Known, bag *Bag, day gear.Date, p *policy.Policy, exercise bool) *making {
	return &making{known: k, bag: bag, day: day, policy: p, exercise: exercise}
}

// sift takes out of the bag what may not be used at all on the day.
func (m *making) sift() {
	m.unfit = append(m.unfit, m.bag.unread...)
	c := &fit.Context{Rig: &rig.Rig{Day: m.day}, Policy: m.policy}
	for _, list := range []*[]*rig.Piece{&m.bag.ropes, &m.bag.brakes, &m.bag.kit} {
		*list = slices.DeleteFunc(slices.Clone(*list), func(p *rig.Piece) bool {
			why := fit.Unfit(p, c)
			if slices.ContainsFunc(m.kits, func(k gear.Kit) bool { return slices.Contains(k.Missing, p.Item.ID) }) {
				why = "It did not come back with " + p.Item.Kit + "."
			}
			if why != "" {
				m.unfit = append(m.unfit, Left{p.Item.ID, p.Item.Label, why})
			}
			return why != ""
		})
	}
	// What may not be used takes nothing else's place.
	if n := len(m.bag.ropes); n > mostRopes {
		m.bag.left, m.bag.ropes = n-mostRopes, m.bag.ropes[:mostRopes]
	}
}

// bare is the layout of two ropes and two brakes with what the bag has beside them.
func (m *making) bare(brakes [2]*rig.Piece, ropes [2]rope) *layout {
	l := &layout{brakes: brakes, ropes: ropes, operators: []string{"main operator", "belay operator"}}
	free := 0
	for _, p := range m.bag.kit {
		if p.Model.Connector != nil && p.Model.Connector.Locks() && free < 2 {
			l.connectors[free] = p
			free++
			continue
		}
		if len(l.kit) < mostKit {
			l.kit = append(l.kit, p)
		}
	}
	return l
}

// ways are the ropes that may be lowered on, with how far each reaches: single ones, and where
// knots are allowed, two that are joined, with the longer one at the load.
func (m *making) ways(ctx context.Context, worst Point) error {
	ropes := m.bag.ropes
	other := func(r rope) rope {
		for _, p := range ropes {
			if !slices.Contains(r, p) {
				return rope{p}
			}
		}
		return nil
	}
	add := func(r rope) error {
		o := other(r)
		if o == nil {
			return nil // nothing is left for the other line
		}
		reach, err := m.bare([2]*rig.Piece{m.bag.brakes[0], m.bag.brakes[1]}, [2]rope{r, o}).reachM(worst, m.day, m.policy)
		if err != nil {
			return err
		}
		m.list = append(m.list, r)
		m.reach = append(m.reach, Reach{Ropes: r.labels(), Joined: len(r) > 1, LengthM: r.lengthM(), ReachM: max(0, reach)})
		return ctx.Err()
	}
	for i, p := range ropes {
		if err := add(rope{p}); err != nil {
			return err
		}
		for _, q := range ropes[:i] {
			// Alike ones alone: a brake is set for one rope. From the brake down: the shorter
			// rope, then the longer one at the load.
			if p.Model.ID != q.Model.ID || p.Item.Condition != q.Item.Condition {
				continue
			}
			if err := add(rope{p, q}); err != nil {
				return err
			}
		}
	}
	return nil
}

// pairs are the ropes for main and belay, the best first: those that reach, with the fewest
// knots and the least rope; where none reaches, or nobody knows how far it is, those that come
// down furthest.
func (m *making) pairs() (list [][2]int) {
	allowed := func(i int) bool { return !m.reach[i].Joined || m.known.Knots != nil && *m.known.Knots }
	for i := range m.list {
		for j := range m.list {
			if i != j && allowed(i) && allowed(j) && !m.list[i].shares(m.list[j]) && m.reach[i].LengthM <= m.reach[j].LengthM {
				list = append(list, [2]int{i, j})
			}
		}
	}
	knots := func(p [2]int) int { return len(m.list[p[0]]) + len(m.list[p[1]]) }
	length := func(p [2]int) quantity.Metres { return m.reach[p[0]].LengthM + m.reach[p[1]].LengthM }
	slices.SortStableFunc(list, func(a, b [2]int) int {
		both := func(p [2]int) int {
			if m.reaching(p) {
				return 0
			}
			return 1
		}
		if c := cmp.Compare(both(a), both(b)); c != 0 {
			return c
		}
		if both(a) == 0 {
			return cmp.Or(cmp.Compare(knots(a), knots(b)), cmp.Compare(length(a), length(b)))
		}
		least := func(p [2]int) quantity.Metres { return min(m.reach[p[0]].ReachM, m.reach[p[1]].ReachM) }
		return cmp.Or(cmp.Compare(least(b), least(a)), cmp.Compare(knots(a), knots(b)), cmp.Compare(length(a), length(b)))
	})
	return list
}

// reaching reports whether both lines come down at the worst end of a height that is known.
func (m *making) reaching(p [2]int) bool {
	return m.known.HeightM != nil && min(m.reach[p[0]].ReachM, m.reach[p[1]].ReachM) >= m.known.HeightM.HighM
}

// choose finds the rig: the best ropes on the best brakes of which no rule stops the choice of
// a thing; where there is none among the first, the one with the fewest stops. Its height is
// that which is known, else how far both lines reach.
func (m *making) choose(ctx context.Context) (best *layout, height quantity.Metres, err error) {
	if m.fixed != nil {
		return m.fixedRig()
	}
	fewest, tries, seen := -1, 0, map[string]bool{}
	pairs := m.pairs()
	for n, pair := range pairs {
		h := min(m.reach[pair[0]].ReachM, m.reach[pair[1]].ReachM)
		if m.known.HeightM != nil {
			h = m.known.HeightM.HighM
		}
		for _, brakes := range m.twoBrakes() {
			l := m.bare(brakes, [2]rope{m.list[pair[0]], m.list[pair[1]]})
			if seen[l.alike()] {
				continue
			}
			seen[l.alike()] = true
			if tries++; tries > mostTries || h < 1 {
				return best, height, nil
			}
			bad, err := m.stops(l, m.known.corners(h, m.policy)[0])
			if err == nil {
				err = ctx.Err()
			}
			if err != nil {
				return nil, 0, err
			}
			// Ropes that reach come before those that do not, whatever stops them besides.
			if fewest < 0 || bad < fewest {
				best, height, fewest = l, h, bad
			}
			if bad == 0 {
				return best, height, nil
			}
		}
		if next := n + 1; best != nil && next < len(pairs) && m.reaching(pair) && !m.reaching(pairs[next]) {
			break
		}
	}
	return best, height, nil
}

// twoBrakes are the brakes for main and belay, the best first, alike ones once.
func (m *making) twoBrakes() (list [][2]*rig.Piece) {
	seen := map[[2]string]bool{}
	for i, a := range m.bag.brakes {
		for j, b := range m.bag.brakes {
			if key := [2]string{a.Model.ID, b.Model.ID}; i != j && !seen[key] {
				seen[key] = true
				list = append(list, [2]*rig.Piece{a, b})
			}
		}
	}
	return list
}

// alike is the same for layouts of which no rule could tell one from the other.
func (l *layout) alike() string {
	var b strings.Builder
	for i := range lineNames {
		fmt.Fprint(&b, l.brakes[i].Model.ID, " ", l.brakes[i].Item.Kit)
		for _, r := range l.ropes[i] {
			fmt.Fprint(&b, " ", r.Model.ID, r.Item.LengthM, gear.Gauges(r.Item, r.Model), r.Item.Condition, r.Item.Kit)
		}
	}
	return b.String()
}

// stops counts what stops the choice of a layout's things for a lower at a point: rules on how
// a thing is put on, or on what was checked, say nothing of that, and a haul is chosen later.
func (m *making) stops(l *layout, p Point) (int, error) {
	s, err := site.Open(l.document(p, m.day, m.policy))
	if err != nil {
		return 0, err
	}
	found, _ := fit.Check(&fit.Context{Rig: s.Rig, Policy: s.Policy})
	found = slices.DeleteFunc(found, func(f finding.Finding) bool { return f.Severity != finding.Stop || !fit.AboutChoice(f.Rule) })
	r := team.On(s)
	bad := len(found) + len(r.Stops())
	for _, k := range r.Knots() {
		if !k.Ready || !k.Settles {
			bad++
		}
	}
	return bad, nil
}
