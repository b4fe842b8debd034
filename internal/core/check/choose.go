package check

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/digest"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
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
	Alike     int               `json:"alike,omitempty" doc:"how many more of its model there are that are not listed, of which the same would be found; letters of their names list them"`
	// Mode and Position are those of a device that are nearest to the present
	// ones; the findings are for them.
	Mode     string `json:"mode,omitempty"`
	Position string `json:"position,omitempty"`
}

// Choices are items of the class that a place takes.
type Choices struct {
	Class   gear.Class `json:"class"`
	Fit     int        `json:"fit" doc:"how many fit"`
	Of      int        `json:"of" doc:"how many of the class there are, or of them have the letters"`
	Choices []Choice   `json:"choices" doc:"those that fit first"`
}

// A store has hundreds of one model. Of those that differ in nothing but their names the first
// are tried and listed; of those that are found by letters more.
const (
	listedAlike = 4
	listedFound = 60
)

// Choose tries the items of the store that are of the class now in a place, and says for each
// what would be found. Where, which may be nil, says where else an item is that day; find are
// letters of what people call it, "" for all.
func Choose(d *drop.Document, place Place, store *drop.Store, where func(item string) string, find string) (*Choices, error) {
	trial := d.Clone()
	slot, err := place.slot(trial)
	if err != nil {
		return nil, err
	}
	c := &choosing{trial: trial, place: place, now: *slot, taken: d.Taken(), where: where, alike: map[digest.Sum][]int{}}
	models := gear.ModelsByID(store.Models)
	class, err := classOf(d, c.now, models)
	if err != nil {
		return nil, err
	}
	classes := []gear.Class{class}
	if brakes := []gear.Class{gear.AnchorBrake, gear.Descender, gear.WindingDev}; slices.Contains(brakes, class) && place.Team != "" {
		classes = brakes
	}
	c.out = &Choices{Class: class, Choices: []Choice{}}
	items := make([]*gear.Item, len(store.Items))
	for i := range items {
		items[i] = &store.Items[i]
	}
	slices.SortStableFunc(items, func(a, b *gear.Item) int { return cmp.Compare(a.Label, b.Label) })
	for _, item := range items {
		m := models[item.Model]
		if m == nil || !slices.Contains(classes, m.Class) || !named(item, m, find) {
			continue
		}
		if err := c.add(item, m, find != ""); err != nil {
			return nil, err
		}
	}
	slices.SortStableFunc(c.out.Choices, func(a, b Choice) int {
		return cmp.Or(order(!a.Fits, !b.Fits), order(a.Taken != "", b.Taken != ""), order(a.Elsewhere != "", b.Elsewhere != ""), cmp.Compare(len(a.Findings), len(b.Findings)), cmp.Compare(a.Label, b.Label))
	})
	return c.out, nil
}

// named reports whether what people call an item has some letters.
func named(item *gear.Item, m *gear.Model, letters string) bool {
	letters = strings.ToLower(strings.TrimSpace(letters))
	return letters == "" || slices.ContainsFunc([]string{item.Label, item.Serial, item.Code, item.ID, m.Title()}, func(s string) bool {
		return strings.Contains(strings.ToLower(s), letters)
	})
}

// choosing tries items in a place.
type choosing struct {
	trial *drop.Document
	place Place
	now   string
	taken map[string]string
	where func(item string) string
	// alike are the items listed so far that differ in nothing but their names.
	alike map[digest.Sum][]int
	out   *Choices
}

// add tries an item and lists it, or counts it to one that is like it.
func (c *choosing) add(item *gear.Item, m *gear.Model, found bool) error {
	o := Choice{Item: item.ID, Label: item.Label, Model: m.ID, Title: m.Title(), Chosen: item.ID == c.now, Findings: []finding.Finding{}}
	if c.where != nil {
		o.Elsewhere = c.where(item.ID)
	}
	if !o.Chosen {
		o.Taken = c.taken[item.ID]
	}
	c.out.Of++
	key := digest.Of(unnamed(*item), o.Elsewhere, o.Taken, o.Chosen)
	if listed := c.alike[key]; !found && len(listed) == listedAlike || found && len(c.out.Choices) >= listedFound && len(listed) > 0 {
		like := &c.out.Choices[listed[len(listed)-1]]
		like.Alike++
		if like.Fits {
			c.out.Fit++
		}
		return nil
	}
	if o.Taken == "" {
		if err := c.place.try(c.trial, item, m, &o); err != nil {
			return err
		}
	}
	if o.Fits {
		c.out.Fit++
	}
	c.alike[key] = append(c.alike[key], len(c.out.Choices))
	c.out.Choices = append(c.out.Choices, o)
	return nil
}

// unnamed is an item without what tells it from others and decides nothing.
func unnamed(i gear.Item) gear.Item {
	i = i.Unrevised()
	i.ID, i.Serial, i.Label, i.Place = "", "", "", ""
	return i
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

// slot is where the document names the item of a place.
func (p Place) slot(d *drop.Document) (*string, error) {
	if p.Strand != "" {
		for i := range d.Strands {
			if s := &d.Strands[i]; s.ID == p.Strand && p.Rope < len(s.Ropes) {
				return &s.Ropes[p.Rope], nil
			}
		}
		return nil, site.Refused("/place/strand", "no such rope in this drop")
	}
	if p.Team != "" {
		return teamSlot(d, p.Team)
	}
	h := p.hold(d)
	switch {
	case h == nil:
		return nil, site.Refused("/place/hold", "no such hold in this drop")
	case p.Link == nil:
		return &h.Device, nil
	case *p.Link >= len(h.Links):
		return nil, site.Refused("/place/link", "no such link in this hold")
	}
	return &h.Links[*p.Link].Item, nil
}

func teamSlot(d *drop.Document, place string) (*string, error) {
	if d.Team == nil {
		return nil, site.Refused("/place/team", "nothing is rigged for a team on this drop")
	}
	slots := map[string]*string{"main": &d.Team.Main.Brake, "belay": &d.Team.Belay.Brake, "main-connector": &d.Team.Main.Connector, "belay-connector": &d.Team.Belay.Connector}
	if s := slots[place]; s != nil && *s != "" {
		return s, nil
	}
	return nil, site.Refused("/place/team", "nothing is stated of it yet")
}

func (p Place) hold(d *drop.Document) *rig.Hold {
	for i := range d.People {
		for j := range d.People[i].Holds {
			if h := &d.People[i].Holds[j]; d.People[i].ID == p.Person && h.ID == p.Hold {
				return h
			}
		}
	}
	return nil
}

func classOf(d *drop.Document, item string, models map[string]*gear.Model) (gear.Class, error) {
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
	return "", site.Refused("/place", fmt.Sprintf("no item %q in this drop", item))
}

// try puts an item into a place of a trial document and notes what is found.
func (p Place) try(d *drop.Document, item *gear.Item, m *gear.Model, c *Choice) error {
	t := d.Clone()
	slot, err := p.slot(t)
	if err != nil {
		return err
	}
	*slot = item.ID
	t.Include(item, m)
	if h := p.hold(t); h != nil && p.Link == nil {
		drop.Adapt(h, m)
		c.Mode, c.Position = h.Mode, h.Position
	}
	s, err := site.Open(t)
	if err != nil {
		return err
	}
	found, _ := fit.Check(&fit.Context{Rig: s.Rig, Policy: s.Policy})
	c.Fits = true
	for _, f := range found {
		if f.Severity == finding.Note || !fit.AboutChoice(f.Rule) || !p.concerns(f.Subject, item.ID) {
			continue
		}
		f.Working = nil // of so many nobody reads it
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
