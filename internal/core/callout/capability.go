package callout

import (
	"cmp"
	"context"
	"encoding/hex"
	"slices"
	"strings"

	"zealousknot/internal/core/digest"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// KitAsked asks what one kit is capable of.
type KitAsked struct {
	Kit    string         `json:"kit" minLength:"1" maxLength:"80" doc:"its name, as it stands on what is in it"`
	Day    gear.Date      `json:"day" format:"date"`
	Models []gear.Model   `json:"models,omitempty" maxItems:"5000" doc:"with items: what there is; both left out: the team's store"`
	Items  []gear.Item    `json:"items,omitempty" maxItems:"5000"`
	Kits   []gear.Kit     `json:"kits,omitempty" maxItems:"1000" doc:"what did not come back of one is not counted"`
	Policy *policy.Policy `json:"policy,omitempty" doc:"left out: as shipped"`
}

// Capability is what a kit does by itself, for the card in its lid: with the anchors between
// NearM and BackM back, over any edge.
type Capability struct {
	Kit    string `json:"kit"`
	Number string `json:"number" doc:"of this content, and of what of it counts on the day: another content, another number"`
	// On is the day that it was worked out for, Until the first on which something that it counts
	// ends, of the days that are known.
	On       gear.Date `json:"on" format:"date"`
	Until    gear.Date `json:"until,omitempty" format:"date" doc:"the first day, of those that are known, with which an examination or a life of what it counts ends; left out: none is known"`
	UntilFor string    `json:"until_for,omitempty" doc:"whose examination or life ends first"`
	// Why says why it gives no lower; empty where it gives one.
	Why        string          `json:"why,omitempty" doc:"why it gives no lower by itself; left out: it gives one"`
	NearM      quantity.Metres `json:"near_m" doc:"the nearest that the anchors are to the edge"`
	BackM      quantity.Metres `json:"back_m" doc:"the furthest that they are back"`
	SingleM    quantity.Metres `json:"single_m" doc:"how far down from the edge two lines come without a knot"`
	JoinedM    quantity.Metres `json:"joined_m,omitempty" doc:"with a knot in one line or both; left out: no further, or the kit does not pass one"`
	Largest    []Largest       `json:"largest"`
	Raises     []KitRaise      `json:"raises" doc:"from two who pull to eight, over the whole single reach"`
	Friction   []KitFriction   `json:"friction"`
	Items      []string        `json:"items" doc:"labels of what is counted"`
	Left       []Left          `json:"left,omitempty"`
	Seal       *gear.Seal      `json:"seal,omitempty" doc:"of its last check; left out: it is open"`
	SealUndone string          `json:"seal_undone,omitempty" doc:"why that check is not of what is in the kit now"`
}

// Largest is the largest load of so many persons that is lowered, in steps of 5 kg; 0: none.
type Largest struct {
	Persons int                `json:"persons"`
	MassKg  quantity.Kilograms `json:"mass_kg" doc:"0: none"`
}

// KitRaise is how so many who pull bring each load up.
type KitRaise struct {
	Haulers int      `json:"haulers"`
	Of      []KitWay `json:"of"`
}

// KitWay is a haul of a load at its heaviest; no system: they do not manage.
type KitWay struct {
	Load    string  `json:"load" enum:"one,two,stretcher"`
	System  string  `json:"system,omitempty" doc:"left out: they do not manage it"`
	Seconds float64 `json:"seconds_s,omitempty"`
}

// KitFriction is what a brake of the kit wants on a rope of it.
type KitFriction struct {
	Brake string `json:"brake"`
	Rope  string `json:"rope"`
	Of    []Hand `json:"of"`
}

// Hand is what is added for a load, and what is left for the hand at its heaviest.
type Hand struct {
	Load   string               `json:"load" enum:"one,two,stretcher"`
	Add    string               `json:"add" doc:"for friction"`
	HandKN quantity.Kilonewtons `json:"hand_kN"`
	Held   bool                 `json:"held" doc:"a hand holds it for long"`
	Stiff  bool                 `json:"stiff,omitempty" doc:"at its lightest the load hardly runs"`
}

// kitBack is how far back the anchors are, for the card in a lid: a haul with its full stroke
// fits between them and the edge.
var kitBack = Span{3, 5}

// loadNames are the loads, the lightest first.
var loadNames = []string{"one", "two", "stretcher"}

// Answer works out what the kit is capable of. A *strict.Error names what cannot be asked.
func (a *KitAsked) Answer(ctx context.Context) (*Capability, error) {
	var faults strict.Faults
	if a.Policy != nil {
		a.Policy.Validate("/policy", &faults)
	}
	if !slices.ContainsFunc(a.Items, func(i gear.Item) bool { return i.Kit == a.Kit }) {
		faults.Addf("/kit", "nothing is in a kit called %q", a.Kit)
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	p := a.Policy
	if p == nil {
		p = policy.Default()
	}
	p = p.With()
	// Each part below sets the load that it is about; joined alone allows knots.
	back := kitBack
	k := &Known{BackM: &back, Kits: []string{a.Kit}, Knots: new(false)}
	m := newMaking(k, open(k.Kits, a.Items, a.Models), a.Day, p, false)
	m.kits = a.Kits
	m.sift()
	c := &Capability{
		Kit: a.Kit, On: a.Day, Number: a.number(m), NearM: kitBack.LowM, BackM: kitBack.HighM, Largest: []Largest{}, Raises: []KitRaise{}, Friction: []KitFriction{}, Items: []string{}, Left: m.unfit,
	}
	if i := slices.IndexFunc(a.Kits, func(k gear.Kit) bool { return k.Name == a.Kit }); i >= 0 {
		c.Seal, c.SealUndone = a.Kits[i].Seal, a.Kits[i].SealUndone(a.Items)
	}
	for _, p := range slices.Concat(m.bag.ropes, m.bag.brakes, m.bag.kit) {
		c.Items = append(c.Items, p.Item.Label)
		c.ends(p, m.policy.ExaminationMonths)
	}
	if len(m.bag.ropes) < 2 || len(m.bag.brakes) < 2 {
		c.Why = m.noRig().What
		return c, nil
	}
	if err := m.ways(ctx, k.corners(1, p)[0]); err != nil {
		return nil, err
	}
	return c, m.capable(ctx, c)
}

// ends notes the last day of something that is counted, where it is the first.
func (c *Capability) ends(p *rig.Piece, months int) {
	if due, by := p.Model.ExaminationDue(p.Item, months); due != "" && (c.Until == "" || due < c.Until) {
		c.Until, c.UntilFor = due, "examination of "+p.Item.Label+", by "+by
	}
	if end, from := p.Model.EndOfLife(p.Item); end != "" && (c.Until == "" || end < c.Until) {
		c.Until, c.UntilFor = end, "life of "+p.Item.Label+" from "+from
	}
}

// number is of the kit's content: what is in it, its models, what of it may not be used on the
// day, its seal, and what the team decides.
func (a *KitAsked) number(m *making) string {
	var in []any
	used := map[string]bool{}
	for i := range a.Items {
		if it := a.Items[i]; it.Kit == a.Kit {
			it.Revision, it.Place, it.Owner, used[it.Model] = 0, "", "", true
			in = append(in, it)
		}
	}
	for i := range a.Models {
		if used[a.Models[i].ID] {
			in = append(in, a.Models[i])
		}
	}
	for i := range a.Kits {
		if k := &a.Kits[i]; k.Name == a.Kit {
			in = append(in, k.Missing, k.Seal)
		}
	}
	// Why something may not be used changes with the day: that it may not does not.
	for _, l := range m.unfit {
		in = append(in, l.Item)
	}
	sum := digest.Of(append(in, *m.policy, a.Kit)...)
	n := strings.ToUpper(hex.EncodeToString(sum[:4]))
	return n[:4] + "-" + n[4:]
}

// capable fills a card in. All loads are lowered with the rig of the heaviest for which the
// kit has one without a stop.
func (m *making) capable(ctx context.Context, c *Capability) error {
	var l *layout
	for _, load := range []string{"stretcher", "one"} {
		m.known.Load = load
		best, height, err := m.choose(ctx)
		if err != nil {
			return err
		}
		if best == nil {
			continue
		}
		bad, err := m.stops(best, m.known.corners(height, m.policy)[0])
		if err != nil {
			return err
		}
		if l, c.SingleM = best, height; bad == 0 {
			break
		}
	}
	if l == nil {
		c.Why = "No two ropes of the kit come down over an edge."
		return nil
	}
	if err := m.joined(ctx, c); err != nil {
		return err
	}
	for _, persons := range []int{1, 2} {
		kg, err := m.largest(l, persons, c.SingleM)
		if err != nil {
			return err
		}
		c.Largest = append(c.Largest, Largest{persons, kg})
	}
	if err := m.raises(ctx, l, c); err != nil {
		return err
	}
	return m.friction(c)
}

// joined is how far the kit reaches with knots that it passes.
func (m *making) joined(ctx context.Context, c *Capability) error {
	m.known.Knots = new(true)
	defer func() { m.known.Knots = new(false) }()
	l, height, err := m.choose(ctx)
	if err != nil || l == nil || height <= c.SingleM {
		return err
	}
	for _, p := range m.known.corners(height, m.policy) {
		if bad, err := m.stops(l, p); err != nil || bad > 0 {
			return err
		}
	}
	c.JoinedM = height
	return nil
}

// largest is the largest mass of so many persons, in steps of 5 kg, with which no rule stops
// the rig at any end of what is known and a hand holds it.
func (m *making) largest(l *layout, persons int, height quantity.Metres) (quantity.Kilograms, error) {
	m.known.Load = loadNames[persons-1]
	defer func() { m.known.MassKg = nil }()
	const step = 5
	low, high := 0, int(600/step)+1
	for high-low > 1 {
		middle := (low + high) / 2
		kg := quantity.Kilograms(step * middle)
		m.known.MassKg = &Masses{kg, kg}
		for _, p := range m.known.corners(height, m.policy) {
			bad, err := m.stops(l, p)
			if err != nil {
				return 0, err
			}
			if bad > 0 {
				high = middle
				break
			}
		}
		if high != middle {
			low = middle
		}
	}
	return quantity.Kilograms(step * low), nil
}

// atEnds works a layout out at every end of what is known.
func (m *making) atEnds(ctx context.Context, l *layout, height quantity.Metres) (*bound, error) {
	var all []*Figures
	for _, p := range m.known.corners(height, m.policy) {
		f, _, err := l.at(p, m.day, m.policy)
		if err != nil {
			return nil, err
		}
		all = append(all, f)
	}
	return boundOf(all), ctx.Err()
}

// raises is how two to eight who pull bring each load up from the landing.
func (m *making) raises(ctx context.Context, l *layout, c *Capability) error {
	ends := map[string]*bound{}
	for _, load := range loadNames {
		m.known.Load = load
		b, err := m.atEnds(ctx, l, c.SingleM)
		if err != nil {
			return err
		}
		ends[load] = b
	}
	for n := 2; n <= 8; n++ {
		row := KitRaise{Haulers: n}
		for _, load := range loadNames {
			w := KitWay{Load: load}
			if r := ends[load].raise(n); r.Best >= 0 {
				w.System, w.Seconds = r.Ways[r.Best].System, r.Ways[r.Best].Seconds
			}
			row.Of = append(row.Of, w)
		}
		c.Raises = append(c.Raises, row)
	}
	return nil
}

// friction is what each kind of brake of the kit wants on each kind of its ropes.
func (m *making) friction(c *Capability) error {
	seen := map[string]bool{}
	for _, brake := range m.bag.brakes {
		for _, on := range m.bag.ropes {
			title := on.Model.Title()
			if wet := cmp.Or(on.Item.Condition, gear.Dry); wet != gear.Dry {
				title += ", " + string(wet)
			}
			key := brake.Model.ID + title
			if seen[key] {
				continue
			}
			seen[key] = true
			row := KitFriction{Brake: brake.Model.Title(), Rope: title}
			for _, load := range loadNames {
				h, err := m.hand(brake, on, load)
				if err != nil {
					return err
				}
				row.Of = append(row.Of, h)
			}
			c.Friction = append(c.Friction, row)
		}
	}
	return nil
}

// hand is what is added for a load with a brake on a rope.
func (m *making) hand(brake, on *rig.Piece, load string) (Hand, error) {
	m.known.Load = load
	other := m.bag.brakes[0]
	if other == brake {
		other = m.bag.brakes[1]
	}
	behind := m.bag.ropes[0]
	if behind == on {
		behind = m.bag.ropes[1]
	}
	b, err := m.atEnds(context.Background(), m.bare([2]*rig.Piece{brake, other}, [2]rope{{on}, {behind}}), 10)
	if err != nil {
		return Hand{}, err
	}
	h := Hand{Load: load, Add: "not known: its friction is not entered"}
	if b.known[0] {
		h.Add, h.HandKN, h.Held, h.Stiff = b.adds(0), b.handKN[0], b.Adds[0] >= 0, b.stiff[0]
	}
	return h, nil
}

// adds are the words for what is added at a brake.
func (b *bound) adds(i int) string {
	if b.Adds[i] < 0 {
		return "nothing that can be added is enough"
	}
	return b.Hands[i][b.Adds[i]].Words
}
