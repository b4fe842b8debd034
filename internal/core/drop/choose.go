package drop

import (
	"cmp"
	"fmt"
	"maps"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// Place is a place in a drop that one item fills: a hold's device, one of its
// links, one of a strand's ropes, or a brake of the team or its connector.
type Place struct {
	Person string `json:"person,omitempty" doc:"with hold: whose hold"`
	Hold   string `json:"hold,omitempty"`
	Link   *int   `json:"link,omitempty" minimum:"0" doc:"with hold: index of the link; left out: the device"`
	Strand string `json:"strand,omitempty" doc:"in place of a hold"`
	Rope   int    `json:"rope,omitempty" minimum:"0" doc:"with strand: index of the rope from the top"`
	Team   string `json:"team,omitempty" enum:"main,belay,main-connector,belay-connector" doc:"in place of a hold: a brake of the team, or what fixes it"`
}

// Choice is one item of the store for a place, with what would be found if it
// were there.
type Choice struct {
	Item  string `json:"item"`
	Label string `json:"label"`
	Model string `json:"model"`
	Title string `json:"title"`
	Fits  bool   `json:"fits" doc:"no stop that depends on the choice of this item"`
	// Taken says where else in this drop the item is, empty where it is free.
	Taken string `json:"taken,omitempty"`
	// Elsewhere says on which other drop of the day it is, or to whom it is issued.
	Elsewhere string            `json:"elsewhere,omitempty"`
	Findings  []finding.Finding `json:"findings" doc:"stops and looks that depend on the choice"`
	Chosen    bool              `json:"chosen,omitempty" doc:"it is there now"`
	// Mode and Position are those of a device that are nearest to the present
	// ones; the findings are for them.
	Mode     string `json:"mode,omitempty"`
	Position string `json:"position,omitempty"`
}

// Choices are all items of the class that a place takes.
type Choices struct {
	Class   gear.Class `json:"class"`
	Fit     int        `json:"fit" doc:"how many fit"`
	Choices []Choice   `json:"choices" doc:"those that fit first"`
}

// Choose tries every item of the store that is of the class now in a place, and
// says for each what would be found.
func (d *Document) Choose(place Place, store *Store) (*Choices, error) {
	trial := d.clone()
	slot, err := trial.slot(place)
	if err != nil {
		return nil, err
	}
	now := *slot
	models := byID(store.Models, func(m *gear.Model) string { return m.ID })
	class, err := d.classOf(now, models)
	if err != nil {
		return nil, err
	}
	classes := []gear.Class{class}
	if brakes := []gear.Class{gear.AnchorBrake, gear.Descender, gear.WindingDev}; slices.Contains(brakes, class) && place.Team != "" {
		classes = brakes
	}
	taken := d.taken()
	out := &Choices{Class: class, Choices: []Choice{}}
	for i := range store.Items {
		item := &store.Items[i]
		m := models[item.Model]
		if m == nil || !slices.Contains(classes, m.Class) {
			continue
		}
		c := Choice{Item: item.ID, Label: item.Label, Model: m.ID, Title: m.Title(), Chosen: item.ID == now, Findings: []finding.Finding{}}
		if where, ok := taken[item.ID]; ok && !c.Chosen {
			c.Taken = where
		} else if err := trial.try(place, item, m, &c); err != nil {
			return nil, err
		}
		if c.Fits {
			out.Fit++
		}
		out.Choices = append(out.Choices, c)
	}
	slices.SortStableFunc(out.Choices, func(a, b Choice) int {
		return cmp.Or(order(!a.Fits, !b.Fits), order(a.Taken != "", b.Taken != ""), cmp.Compare(len(a.Findings), len(b.Findings)), cmp.Compare(a.Label, b.Label))
	})
	return out, nil
}

func order(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return 1
	default:
		return -1
	}
}

func byID[T any](list []T, id func(*T) string) map[string]*T {
	m := make(map[string]*T, len(list))
	for i := range list {
		m[id(&list[i])] = &list[i]
	}
	return m
}

// clone copies everything that trying an item changes.
func (d *Document) clone() *Document {
	c := *d
	c.People = slices.Clone(d.People)
	for i := range c.People {
		p := &c.People[i]
		p.Holds = slices.Clone(p.Holds)
		for j := range p.Holds {
			p.Holds[j].Links = slices.Clone(p.Holds[j].Links)
		}
	}
	if d.Team != nil {
		t := *d.Team
		c.Team = &t
	}
	c.Strands = slices.Clone(d.Strands)
	for i := range c.Strands {
		c.Strands[i].Ropes = slices.Clone(c.Strands[i].Ropes)
	}
	return &c
}

// slot is where the document names the item of a place.
func (d *Document) slot(p Place) (*string, error) {
	if p.Strand != "" {
		for i := range d.Strands {
			if s := &d.Strands[i]; s.ID == p.Strand && p.Rope < len(s.Ropes) {
				return &s.Ropes[p.Rope], nil
			}
		}
		return nil, wrong("/place/strand", "no such rope in this drop")
	}
	if p.Team != "" {
		return d.teamSlot(p.Team)
	}
	h := d.hold(p)
	switch {
	case h == nil:
		return nil, wrong("/place/hold", "no such hold in this drop")
	case p.Link == nil:
		return &h.Device, nil
	case *p.Link >= len(h.Links):
		return nil, wrong("/place/link", "no such link in this hold")
	}
	return &h.Links[*p.Link].Item, nil
}

func (d *Document) teamSlot(place string) (*string, error) {
	if d.Team == nil {
		return nil, wrong("/place/team", "nothing is rigged for a team on this drop")
	}
	slots := map[string]*string{"main": &d.Team.Main.Brake, "belay": &d.Team.Belay.Brake, "main-connector": &d.Team.Main.Connector, "belay-connector": &d.Team.Belay.Connector}
	if s := slots[place]; s != nil && *s != "" {
		return s, nil
	}
	return nil, wrong("/place/team", "nothing is told of it yet")
}

func (d *Document) hold(p Place) *rig.Hold {
	for i := range d.People {
		for j := range d.People[i].Holds {
			if h := &d.People[i].Holds[j]; d.People[i].ID == p.Person && h.ID == p.Hold {
				return h
			}
		}
	}
	return nil
}

func wrong(pointer, detail string) error {
	return &strict.Error{Faults: []strict.Fault{{Pointer: pointer, Detail: detail}}}
}

func (d *Document) classOf(item string, models map[string]*gear.Model) (gear.Class, error) {
	for i := range d.Items {
		if d.Items[i].ID != item {
			continue
		}
		for j := range d.Models {
			if d.Models[j].ID == d.Items[i].Model {
				return d.Models[j].Class, nil
			}
		}
		if m := models[d.Items[i].Model]; m != nil {
			return m.Class, nil
		}
	}
	return "", wrong("/place", fmt.Sprintf("no item %q in this drop", item))
}

// taken says where each item of the drop is.
func (d *Document) taken() map[string]string {
	where := map[string]string{}
	for _, s := range d.Strands {
		for _, r := range s.Ropes {
			where[r] = s.Name
		}
	}
	for _, p := range d.People {
		for _, id := range append([]string{p.Harness}, p.Carries...) {
			where[id] = "carried by " + p.Name
		}
		for _, h := range p.Holds {
			where[h.Device] = "in a hold of " + p.Name
			for _, l := range h.Links {
				where[l.Item] = "in a hold of " + p.Name
			}
		}
	}
	if t := d.Team; t != nil {
		for _, id := range append([]string{t.Main.Brake, t.Belay.Brake, t.Main.Connector, t.Belay.Connector}, t.Kit...) {
			where[id] = "at the team's anchors"
		}
	}
	return where
}

// Used gives the ids of every item that the drop has in some place.
func (d *Document) Used() map[string]bool {
	used := map[string]bool{}
	for id := range d.taken() {
		used[id] = id != ""
	}
	return used
}

// Names are the ids of every item that the document needs: those in some place, and those
// that its checks name.
func (d *Document) Names() []string {
	named := d.taken()
	delete(named, "")
	for _, c := range d.Checks {
		named[c.Item], named[c.Rope] = "", ""
	}
	return slices.Sorted(maps.Keys(named))
}

// try puts an item into a place of a trial document and notes what is found.
func (d *Document) try(place Place, item *gear.Item, m *gear.Model, c *Choice) error {
	t := d.clone()
	slot, err := t.slot(place)
	if err != nil {
		return err
	}
	*slot = item.ID
	t.Include(item, m)
	if h := t.hold(place); h != nil && place.Link == nil {
		Adapt(h, m)
		c.Mode, c.Position = h.Mode, h.Position
	}
	r, err := t.resolve()
	if err != nil {
		return err
	}
	p := t.Policy.With()
	figures(r, p)
	found, _ := fit.Check(&fit.Context{Rig: r, Policy: p})
	c.Fits = true
	for _, f := range found {
		if f.Severity == finding.Note || !fit.AboutChoice(f.Rule) || !place.concerns(f.Subject, item.ID) {
			continue
		}
		c.Findings = append(c.Findings, f)
		c.Fits = c.Fits && f.Severity != finding.Stop
	}
	return nil
}

// concerns reports whether a finding is about an item in this place. A device
// is concerned by all of its hold, a rope by every hold on its strand.
func (p Place) concerns(s finding.Subject, item string) bool {
	switch {
	case p.Strand != "":
		return s.Strand == p.Strand && (s.Hold == "" || s.Item == item || s.Kind == finding.Hold)
	case p.Team == "main" || p.Team == "belay":
		return s.Hold == "team-"+p.Team || s.Item == item
	case p.Team != "":
		return s.Item == item
	case p.Link == nil:
		return s.Person == p.Person && s.Hold == p.Hold || s.Item == item
	default:
		return s.Item == item
	}
}

// Include puts an item and its model into the document, in the place of what it
// has of them.
func (d *Document) Include(item *gear.Item, m *gear.Model) {
	d.Items = with(d.Items, *item, func(i *gear.Item) string { return i.ID })
	d.Models = with(d.Models, *m, func(m *gear.Model) string { return m.ID })
}

func with[T any](list []T, v T, id func(*T) string) []T {
	list = slices.Clone(list)
	i := slices.IndexFunc(list, func(o T) bool { return id(&o) == id(&v) })
	if i < 0 {
		return append(list, v)
	}
	list[i] = v
	return list
}

// Adapt gives a hold the mode and position of a newly chosen device that are
// nearest to those it had: of the same name, else for as many persons; else the
// first position that holds with hands off.
func Adapt(h *rig.Hold, m *gear.Model) {
	if m.Device == nil {
		return
	}
	if m.Device.Mode(h.Mode) == nil {
		persons := 1
		if h.SecondKg > 0 {
			persons = 2
		}
		i := max(0, slices.IndexFunc(m.Device.Modes, func(o gear.Mode) bool { return o.Persons == persons }))
		h.Mode = m.Device.Modes[i].Name
	}
	if m.Device.Position(h.Position) == nil {
		i := max(0, slices.IndexFunc(m.Device.Positions, func(o gear.Position) bool { return o.HandsOff == gear.Stops }))
		h.Position = m.Device.Positions[i].Name
	}
}

// Refresh gives the document the store's present record of every item and model
// that it has, adds those it names and does not have, and leaves out those it
// does not name. An item that is not in the store keeps the record the document
// brought.
func (d *Document) Refresh(store *Store) {
	items := byID(append(slices.Clone(d.Items), store.Items...), func(i *gear.Item) string { return i.ID })
	models := byID(append(slices.Clone(d.Models), store.Models...), func(m *gear.Model) string { return m.ID })
	named := d.Names()
	d.Items, d.Models = nil, nil
	seen := map[string]bool{}
	for _, id := range named {
		item := items[id]
		if item == nil {
			continue
		}
		d.Items = append(d.Items, item.Unrevised())
		if m := models[item.Model]; m != nil && !seen[m.ID] {
			seen[m.ID] = true
			d.Models = append(d.Models, m.Unrevised())
		}
	}
}
