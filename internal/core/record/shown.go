package record

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
)

// Shown shows in a drop what was recorded of its items and people. Records are added in the
// order in which they were done: the last word on each thing decides, and what is put on a
// rope somewhere else, or was stopped, is proved again. What counted for a day that is history
// stays.
type Shown struct {
	drop  *drop.Document
	id    string
	shift *Shift
	used  map[string]bool
	// live: the day is not history.
	live bool
	// elsewhere are items and people whose check here was done on another drop.
	elsewhere map[string]bool
}

// Show begins with a drop, which is kept under an id, as it is.
func Show(d *drop.Document, id string, s *Shift) *Shown {
	return &Shown{drop: d, id: id, shift: s, used: d.Used(), live: d.Day >= s.Today.AddDays(-1), elsewhere: map[string]bool{}}
}

// InOrder compares records by when they were done. Of two at once that which takes something
// off its rope comes first: what is checked then counts.
func InOrder(a, b *Content) int {
	return cmp.Or(a.DoneAt().Compare(b.DoneAt()), cmp.Compare(b2i(a.takesOff() == ""), b2i(b.takesOff() == "")))
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

// takesOff says what became of an item that comes off its rope, or of a rope that comes down;
// empty where nothing does.
func (c *Content) takesOff() string {
	switch c.Kind {
	case BackInService:
		return "was in quarantine since"
	case RopeCutting:
		return "was cut since"
	}
	return ""
}

// Add shows a record that somebody signed; one that says nothing of the drop changes nothing.
func (s *Shown) Add(c *Content, by string) {
	switch why := c.takesOff(); {
	case why != "":
		if s.live {
			s.takeOff(c.Item, why)
		}
	case c.Kind == Withdrawal:
		s.withdraw(c)
	case !s.shift.Counts(c, s.drop.Day):
	case c.Check != nil:
		if s.used[c.Item] {
			s.checked(c, by)
		}
	case c.Partner != nil:
		s.partnerChecked(c, by)
	case c.Worn != nil:
		s.worn(c, by)
	}
}

// counted is where a check says how long it counts, and why it counts no more.
type counted struct{ over, until *string }

// begin says of a check that comes how long it counts.
func (s *Shown) begin(c *Content, is counted) {
	if u := s.shift.Until(c, s.drop.Day); u != nil {
		*is.until = u.UTC().Format(time.RFC3339)
	}
	*is.over = s.shift.Over(c, s.drop.Day)
}

// last decides between a check that is shown, nil for none, and one that comes. It reports
// whether that takes the other's place.
func (s *Shown) last(c *Content, of string, shown *counted, comes counted) (take bool) {
	s.begin(c, comes)
	own := shown != nil && !s.elsewhere[of]
	switch here := c.Drop == "" || c.Drop == s.id; {
	case own && s.later(*shown.until, c):
		return false
	case here:
		delete(s.elsewhere, of)
	case !own:
		s.elsewhere[of] = true
		if s.live {
			*comes.over, *comes.until = "it was done on another drop, "+c.Drop, ""
		}
	default:
		if s.live {
			*shown.over, *shown.until = "it was checked on another drop since, "+c.Drop, ""
		}
		return false
	}
	return true
}

// later reports whether a check that counts until a time was done after another.
func (s *Shown) later(until string, c *Content) bool {
	u, err := time.Parse(time.RFC3339, until)
	return err == nil && u.Add(-s.shift.length()).After(c.DoneAt())
}

// put puts a check before the first that comes after it.
func put[C any](list []C, c C, after func(C) bool) []C {
	i := slices.IndexFunc(list, after)
	if i < 0 {
		i = len(list)
	}
	return slices.Insert(list, i, c)
}

func (s *Shown) checked(c *Content, by string) {
	f := c.FunctionCheckBy(by)
	f.On = s.drop.Day
	var shown *counted
	same := func(o rig.FunctionCheck) bool { return o.Item == c.Item }
	if i := slices.IndexFunc(s.drop.Checks, same); i >= 0 {
		shown = &counted{&s.drop.Checks[i].Over, &s.drop.Checks[i].Until}
	}
	if s.last(c, "item "+c.Item, shown, counted{&f.Over, &f.Until}) {
		s.drop.Checks = put(slices.DeleteFunc(s.drop.Checks, same), f, func(o rig.FunctionCheck) bool { return o.Item > f.Item })
	}
}

// place is where somebody stands among the people of the drop; -1 for nobody of it.
func (s *Shown) place(id string) int {
	return slices.IndexFunc(s.drop.People, func(p rig.Person) bool { return p.ID == id })
}

func (s *Shown) partnerChecked(c *Content, by string) {
	k := c.PartnerCheckBy(by)
	k.On = s.drop.Day
	var shown *counted
	same := func(o rig.PartnerCheck) bool { return o.Person == c.Person }
	if i := slices.IndexFunc(s.drop.PartnerChecks, same); i >= 0 {
		shown = &counted{&s.drop.PartnerChecks[i].Over, &s.drop.PartnerChecks[i].Until}
	}
	place := s.place(c.Person)
	if place < 0 || !s.last(c, "person "+c.Person, shown, counted{&k.Over, &k.Until}) {
		return
	}
	// One that failed stays: what was found is to be read, and an older one that is sent late
	// does not count over it.
	if !c.Partner.Passed && k.Over == "" {
		k.Failed, k.Over = true, c.Partner.failed(by)
	}
	s.drop.PartnerChecks = put(slices.DeleteFunc(s.drop.PartnerChecks, same), k, func(o rig.PartnerCheck) bool { return s.place(o.Person) > place })
}

// failed says what was not as said, within what a drop keeps of it.
func (t *Touched) failed(by string) string {
	said := "it failed, by " + by
	for _, p := range t.Proofs {
		if p.Did {
			continue
		}
		said += ": " + procedure.Title(p.Proof)
		if p.Note != "" {
			said += ", " + p.Note
		}
		break
	}
	for len(said) > 160 {
		said = strings.ToValidUTF8(said[:160], "")
	}
	return said
}

// worn shows a look at what somebody wears, which goes with them from drop to drop. What the
// drop knows nothing of, it does not name.
func (s *Shown) worn(c *Content, by string) {
	w := c.WornCheckBy(by)
	w.On = s.drop.Day
	s.begin(c, counted{&w.Over, &w.Until})
	w.Items = slices.DeleteFunc(slices.Clone(w.Items), func(i rig.WornItem) bool { return !s.used[i.Item] })
	there := slices.ContainsFunc(s.drop.WornChecks, func(o rig.WornCheck) bool {
		return o.Person == w.Person && o.Until == w.Until && slices.Equal(o.Items, w.Items)
	})
	if place := s.place(c.Person); place >= 0 && len(w.Items) > 0 && !there {
		s.drop.WornChecks = put(s.drop.WornChecks, w, func(o rig.WornCheck) bool { return s.place(o.Person) > place })
	}
}

// withdraw ends what was checked of an item, or of somebody, of whom a record is withdrawn:
// which one, a drop does not say.
func (s *Shown) withdraw(c *Content) {
	const why = "a record of it is withdrawn"
	for i := range s.drop.Checks {
		if f := &s.drop.Checks[i]; f.Item == c.Item {
			f.Over, f.Until = why, ""
		}
	}
	for i := range s.drop.PartnerChecks {
		if k := &s.drop.PartnerChecks[i]; k.Person == c.Person {
			k.Over, k.Until, k.Failed = why, "", false
		}
	}
	for i := range s.drop.WornChecks {
		if w := &s.drop.WornChecks[i]; w.Person == c.Person {
			w.Over, w.Until = why, ""
		}
	}
}

// takeOff ends what was checked of an item before it came off its rope, or the rope down.
func (s *Shown) takeOff(item, why string) {
	end := func(over, until *string, what string) {
		if *over == "" {
			*over, *until = what+" "+why, ""
		}
	}
	for i := range s.drop.Checks {
		switch f := &s.drop.Checks[i]; item {
		case f.Item:
			end(&f.Over, &f.Until, "it")
		case f.Rope:
			end(&f.Over, &f.Until, "the rope")
		}
	}
	for i := range s.drop.PartnerChecks {
		k := &s.drop.PartnerChecks[i]
		if n := s.place(k.Person); n >= 0 {
			if what := hangsOn(s.drop, &s.drop.People[n])[item]; what != "" {
				end(&k.Over, &k.Until, what)
			}
		}
	}
	list := []rig.WornCheck(nil)
	for _, w := range s.drop.WornChecks {
		w.Items = slices.DeleteFunc(slices.Clone(w.Items), func(i rig.WornItem) bool { return i.Item == item })
		if len(w.Items) > 0 {
			list = append(list, w)
		}
	}
	s.drop.WornChecks = list
}

// hangsOn are the items of somebody's rigging with the ropes that they hang on, each with what
// it is.
func hangsOn(d *drop.Document, p *rig.Person) map[string]string {
	items := map[string]string{p.Harness: "the harness"}
	for _, h := range p.Holds {
		for _, s := range d.Strands {
			for _, rope := range s.Ropes {
				if s.ID == h.Strand {
					items[rope] = "a rope of it"
				}
			}
		}
		items[h.Device] = "a device of it"
		for _, l := range h.Links {
			items[l.Item] = "a part of it"
		}
	}
	return items
}

// A Waiting entry is on a device that has not sent it yet; By is who signs it.
type Waiting struct {
	Entry Entry  `json:"entry"`
	By    string `json:"by" minLength:"1" maxLength:"80"`
}

// Out takes an item out of service that an entry stops or retires, and shortens a rope that it
// cuts. It reports whether the item is another than before. What an entry would let back on a
// rope comes when the entry is taken.
func (e *Entry) Out(i *gear.Item) (changed bool) {
	length, state := i.LengthM, i.State
	if e.Cut != nil && e.Item == i.ID && e.Cut.AtM < i.LengthM {
		i.LengthM = e.Cut.AtM
	}
	for _, stop := range e.stopsOf(i) {
		stop.Stop(i)
	}
	if e.Kind == Retirement && e.Item == i.ID && e.Destroyed != nil {
		e.Retire(i)
	}
	return length != i.LengthM || state != i.State
}

// Happened is what a quarantine notes of its item.
func (e *Entry) Happened() gear.Event {
	return gear.Event{Kind: e.Quarantine.Event, On: e.Day, Note: e.Why(), In: e.Quarantine.In}
}

// Stop puts an item that is in service into quarantine.
func (e *Entry) Stop(i *gear.Item) {
	if event := e.Happened(); i.State == gear.InService {
		i.State, i.Reason = gear.Quarantine, event.Reason()
	}
}

// Retire takes an item out of service for good, and says how it was made useless.
func (e *Entry) Retire(i *gear.Item) {
	reason := fmt.Sprintf("%s; destroyed by %s: %s", e.Note, e.Destroyed.By, e.Destroyed.How)
	for len(reason) > 400 {
		reason = strings.ToValidUTF8(reason[:400], "")
	}
	i.State, i.Reason = gear.Retired, reason
}

// stopsOf are the quarantines of an item that an entry is, or that follow from it.
func (e *Entry) stopsOf(i *gear.Item) (list []*Entry) {
	switch {
	case e.Kind == Quarantine && e.Quarantine != nil:
		list = append(list, e)
	case e.Kind == Incident && e.Incident != nil && slices.Contains(e.Incident.Stop, i.ID):
		list = append(list, e.StopsIn(i.ID))
	case e.Kind == RecallNotice && e.Recall != nil:
		of := e.Recall.Of()
		if stop := e.StopsFor(i.ID); stop != nil && of.Affects(i) {
			list = append(list, stop)
		}
	default:
		list = e.FollowUps()
	}
	return slices.DeleteFunc(list, func(q *Entry) bool { return q.Item != i.ID })
}
