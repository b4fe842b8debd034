package propose

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

// slot is something that is to be filled: a rope, a device with its links, things carried.
type slot struct {
	what   string
	class  gear.Class
	person int // index of the person; -1 for a strand's
	rule   string
	held   bool // its options depend on the ropes that are chosen
	// options gives what could fill it, best first, for the drop as it is filled so far.
	options func() []*option
	// takes says what a thing must take to be of use.
	takes func() string
	// short is the class of which too little is left for it.
	short func() gear.Class
	// fitted: something fitted it, on some rope.
	fitted bool
	// nearest is what stopped the thing that came nearest to fitting.
	nearest []finding.Finding
}

// stopped notes what stops something from filling the slot.
func (sl *slot) stopped(found []finding.Finding) {
	if sl.nearest == nil || len(found) < len(sl.nearest) {
		sl.nearest = found
	}
}

// option is one way to fill a slot: kinds of things, and how they are put in.
type option struct {
	kinds []*kind
	put   func(d *drop.Document, items []*gear.Item) (paths []string)
	why   string
	mode  string
	held  bool // it makes a hold, which keeps its links
}

// pick is what fills a slot.
type pick struct {
	slot   *slot
	option *option
	items  []*gear.Item
}

// search fills slots one after the other; where what one needs is elsewhere, whoever has it
// is given something else first (augmenting paths of a matching). Ropes are tried shortest
// first, until everybody hangs. What stays open is proved to, by counting or since nothing
// fits on any rope, or the answer is undecided.
type search struct {
	ctx     context.Context
	asked   *RigAsked
	doc     *drop.Document
	shelf   *shelf
	ropes   []*slot // of strands
	holds   []*slot // what people wear and hang on
	needs   []*slot // what they carry
	fixed   []Proposed
	without []Missing

	used map[string]bool
	// filled is what fills each slot now.
	filled map[*slot]*pick
	tries  int
	cut    bool
	err    error

	// anchorOf is what the strands to come hang from.
	anchorOf map[rig.Role]string

	classOf map[string]gear.Class
	ready   map[string][]*option
	judged  map[string]bool
	carried map[string][]*kind
}

func newSearch(ctx context.Context, a *RigAsked, d *drop.Document, stock Stock) *search {
	s := &search{
		ctx: ctx, asked: a, doc: d, shelf: shelve(d, stock), used: map[string]bool{}, filled: map[*slot]*pick{},
		anchorOf: map[rig.Role]string{}, classOf: map[string]gear.Class{}, ready: map[string][]*option{}, judged: map[string]bool{}, carried: map[string][]*kind{},
	}
	for _, i := range d.Items {
		if m := modelOf(d, i.Model); m != nil {
			s.classOf[i.ID] = m.Class
		}
	}
	return s
}

// run fills the slots: the ropes on which the fewest are left without a hold, then what is
// carried.
func (s *search) run() error {
	least, best := len(s.holds)+1, []*pick(nil)
	s.eachRopes(0, func() bool {
		open := s.place(s.holds)
		if open < least {
			least, best = open, s.taken()
		}
		for _, sl := range s.holds {
			s.leave(sl)
		}
		return open == 0
	})
	for _, sl := range s.ropes {
		s.leave(sl)
	}
	for _, p := range best {
		s.fill(p)
	}
	// What is carried is looked for also where the ropes were not all tried.
	cut := s.cut
	s.tries, s.cut = 0, false
	s.place(s.needs)
	s.cut = s.cut || cut
	return s.err
}

// eachRopes goes over the ropes that strands may have, until f says that it is enough.
func (s *search) eachRopes(n int, f func() bool) bool {
	if s.failed() || s.cut {
		return true
	}
	if n == len(s.ropes) {
		return f()
	}
	sl, any := s.ropes[n], false
	for _, o := range sl.options() {
		items := s.items(o, -1)
		if items == nil {
			continue
		}
		any = true
		s.fill(&pick{sl, o, items})
		if s.eachRopes(n+1, f) {
			return true
		}
		s.leave(sl)
	}
	return !any && s.eachRopes(n+1, f)
}

// place fills slots as far as it goes, and gives how many stay open.
func (s *search) place(slots []*slot) (open int) {
	for _, sl := range slots {
		if !s.put(sl, map[*slot]bool{}) {
			open++
		}
	}
	return open
}

// put fills a slot, by moving what others have if it must; those that were visited stay.
func (s *search) put(sl *slot, visited map[*slot]bool) bool {
	if s.failed() || s.spent() {
		return false
	}
	visited[sl] = true
	options := sl.options()
	for _, o := range options {
		if items := s.items(o, sl.person); items != nil && s.goes(&pick{sl, o, items}) {
			s.fill(&pick{sl, o, items})
			return true
		}
	}
	for _, o := range options {
		for _, h := range s.holders(sl, o) {
			if !visited[h] && s.instead(sl, o, h, visited) {
				return true
			}
		}
	}
	return false
}

// failed reports whether something went wrong, or nobody waits any more. The first error
// stays: what could not be checked was not found sound.
func (s *search) failed() bool {
	s.err = cmp.Or(s.err, s.ctx.Err())
	return s.err != nil
}

// spent counts one more look at a rig, and reports whether it was one too many.
func (s *search) spent() bool {
	s.tries++
	s.cut = s.cut || s.tries > MaxTries
	return s.cut
}

// instead fills a slot with an option by giving the holder of what it takes something else.
func (s *search) instead(sl *slot, o *option, holder *slot, visited map[*slot]bool) bool {
	was := s.filled[holder]
	s.leave(holder)
	items := s.items(o, sl.person)
	if items == nil || !s.goes(&pick{sl, o, items}) {
		s.fill(was)
		return false
	}
	s.fill(&pick{sl, o, items})
	if s.put(holder, visited) {
		return true
	}
	s.leave(sl)
	s.fill(was)
	return false
}

// holders are the slots that have what an option would take, and those of the same person
// that it may not go with.
func (s *search) holders(sl *slot, o *option) (list []*slot) {
	for _, h := range append(slices.Clone(s.holds), s.needs...) {
		p := s.filled[h]
		if p == nil || h == sl {
			continue
		}
		has := slices.ContainsFunc(p.items, func(i *gear.Item) bool {
			return slices.ContainsFunc(o.kinds, func(k *kind) bool { return slices.Contains(k.items, i) })
		})
		if has || o.held && p.option.held && h.person == sl.person {
			list = append(list, h)
		}
	}
	return list
}

func (s *search) fill(p *pick) {
	s.filled[p.slot] = p
	for _, i := range p.items {
		s.used[i.ID] = true
	}
}

func (s *search) leave(sl *slot) {
	p := s.filled[sl]
	if p == nil {
		return
	}
	delete(s.filled, sl)
	for _, i := range p.items {
		delete(s.used, i.ID)
	}
}

// taken are the picks in the order of the slots.
func (s *search) taken() (list []*pick) {
	for _, sl := range s.slots() {
		if p := s.filled[sl]; p != nil {
			list = append(list, p)
		}
	}
	return list
}

func (s *search) slots() []*slot {
	return slices.Concat(s.ropes, s.holds, s.needs)
}

// items takes an item for each kind of an option; nil where one is missing.
func (s *search) items(o *option, person int) []*gear.Item {
	id := ""
	if person >= 0 {
		id = s.doc.People[person].ID
	}
	items := make([]*gear.Item, 0, len(o.kinds))
	for _, k := range o.kinds {
		i := s.take(k, id)
		if i == nil {
			break
		}
		s.used[i.ID] = true
		items = append(items, i)
	}
	for _, i := range items {
		delete(s.used, i.ID)
	}
	if len(items) < len(o.kinds) {
		return nil
	}
	return items
}

// nextBest is the label of what would come next in the place of the first thing of a pick,
// of what is left.
func (s *search) nextBest(p *pick) string {
	for _, o := range p.slot.options() {
		if items := s.items(o, p.slot.person); len(items) > 0 {
			return items[0].Label
		}
	}
	return ""
}

// built is the drop with what fills its slots, and what went where.
func (s *search) built() (*drop.Document, []Proposed) {
	d := fork(s.doc)
	choices := []Proposed{}
	for _, p := range s.taken() {
		for i, item := range p.items {
			plain, model := item.Unrevised(), p.option.kinds[i].model.Unrevised()
			d.Include(&plain, &model)
		}
		for i, path := range p.option.put(d, p.items) {
			c := Proposed{Path: path, Item: p.items[i].ID, Why: p.option.why}
			if i > 0 {
				c.Why = "goes with " + p.items[0].Label
			}
			choices = append(choices, c)
		}
	}
	return d, choices
}

// goes reports whether a hold goes together with the others that its person has.
func (s *search) goes(p *pick) bool {
	if !p.option.held {
		return true
	}
	var key strings.Builder
	key.WriteString(s.ropeKey() + s.doc.People[p.slot.person].ID)
	alone := true
	for _, sl := range s.holds {
		o := s.filled[sl]
		if sl == p.slot {
			o = p
		} else if o != nil && o.option.held && sl.person == p.slot.person {
			alone = false
		}
		if o != nil && sl.person == p.slot.person {
			for _, k := range o.option.kinds {
				key.WriteString(" " + k.model.ID)
			}
			key.WriteString(o.option.mode + ";")
		}
	}
	if alone && len(s.doc.People[p.slot.person].Holds) == 0 {
		return true // it was tried by itself
	}
	if ok, known := s.judged[key.String()]; known {
		return ok
	}
	was := s.filled[p.slot]
	s.fill(p)
	d, _ := s.built()
	d.People = d.People[p.slot.person : p.slot.person+1]
	ok := len(s.stops(d, nil)) == 0
	s.leave(p.slot)
	if was != nil {
		s.fill(was)
	}
	s.judged[key.String()] = ok
	return ok
}

// stops are those that something that was put in has a part in, or that some items would
// have.
func (s *search) stops(d *drop.Document, extra []string) (found []finding.Finding) {
	d.Rescue, d.Team, d.PartnerChecks, d.WornChecks = nil, nil, nil, nil
	report, err := check.Drop(s.ctx, d, nil, check.FindingsOnly)
	if err != nil {
		s.err = cmp.Or(s.err, err)
		return nil
	}
	in := func(item string) bool { return item != "" && (s.used[item] || slices.Contains(extra, item)) }
	hangs := func(strand string) bool {
		i := slices.IndexFunc(d.Strands, func(o rig.Strand) bool { return o.ID == strand })
		return i >= 0 && slices.ContainsFunc(d.Strands[i].Ropes, in)
	}
	mine := func(sub finding.Subject) bool {
		if in(sub.Item) || sub.Hold == "" && sub.Kind == finding.Strand && hangs(sub.Strand) {
			return true
		}
		for _, p := range d.People {
			for _, h := range p.Holds {
				if h.ID == sub.Hold && (in(h.Device) || hangs(h.Strand)) {
					return true
				}
			}
		}
		return false
	}
	for _, f := range report.Findings {
		// A rope that ends in the air is none to propose, with a stopper in its end or without.
		bad := f.Severity == finding.Stop || f.Rule == "rope.short"
		if bad && !onTheDay(f.Rule) && !slices.Contains(ofTheWhole, f.Rule) && mine(f.Subject) {
			found = append(found, f)
		}
	}
	return found
}

// ofTheWhole are rules that a rig that is not complete yet cannot keep.
var ofTheWhole = []string{"points.two", "harness.missing", "kit.missing", "date.future"}

// proved reports whether a slot that stays open must: nothing fits it on any rope, or all
// that there is of its class is in use here.
func (s *search) proved(sl *slot) bool {
	switch {
	case s.cut:
		return false
	case sl.person < 0:
		return true // all that reach hang
	case sl.held && !sl.fitted, sl.nearest != nil && !sl.fitted, !sl.held && len(s.carriable(sl.person, sl.class)) == 0:
		return true
	}
	return s.leftOf(sl.class, sl.person) == 0
}

// lack says what a slot that stays open lacks.
func (s *search) lack(sl *slot) Missing {
	thing := sl.class.Words()
	if sl.class == gear.Gloves {
		thing = "pair of gloves"
	}
	switch {
	case sl.takes != nil && len(s.shelf.kinds[sl.class]) > 0 && len(s.carriable(sl.person, sl.class)) == 0:
		return Missing{sl.rule, fmt.Sprintf("%s: none in the store takes %s.", sl.what, sl.takes()), fmt.Sprintf("One %s that takes %s.", thing, sl.takes())}
	case sl.fitted, len(s.shelf.kinds[sl.class]) > 0 && sl.nearest == nil:
		return Missing{sl.rule, fmt.Sprintf("%s: what fits is needed elsewhere on this drop.", sl.what), fmt.Sprintf("One more %s that fits.", thing)}
	case sl.nearest != nil:
		f := sl.nearest[0]
		return Missing{f.Rule, fmt.Sprintf("%s: nothing in the store fits. Nearest: %s", sl.what, f.What), f.Remedy}
	case len(s.shelf.kept[sl.class]) > 0:
		return Missing{sl.rule, fmt.Sprintf("%s: none is free and in service. %s", sl.what, s.shelf.kept[sl.class][0]), fmt.Sprintf("One %s in service.", thing)}
	}
	return Missing{sl.rule, fmt.Sprintf("%s: the store has none.", sl.what), fmt.Sprintf("One %s.", thing)}
}
