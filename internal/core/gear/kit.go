package gear

import (
	"fmt"
	"slices"

	"zealousknot/internal/core/strict"
)

// A Kit is a named set of items with a list of what belongs in it; it is issued and counted
// back as one. What is in it says so itself, by the kit's name.
type Kit struct {
	ID     string    `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Name   string    `json:"name" minLength:"1" maxLength:"80" doc:"as it stands on the items that are in it"`
	Wanted []KitLine `json:"wanted,omitempty" maxItems:"60" doc:"what belongs in it"`
	// What follows comes by records of issue and return alone.
	IssuedTo string   `json:"issued_to,omitempty" maxLength:"80" doc:"who or what has it: a person of the team, or a vehicle; left out: it is in the store"`
	IssuedOn Date     `json:"issued_on,omitempty" format:"date"`
	Out      []string `json:"out,omitempty" maxItems:"500" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"items that went out with it"`
	Missing  []string `json:"missing,omitempty" maxItems:"500" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"items that went out and were not counted back"`
	// Seal is of its last check; none: it is open.
	Seal *Seal `json:"seal,omitempty" doc:"of its last check: it stands until it is broken; left out: it is open"`
	// Revision is the store's, and decides nothing.
	Revision int `json:"revision,omitempty" minimum:"1" doc:"in the store: one more at each change; given with a change, the one that was read"`
}

// A Seal closes a bag whose content was counted and checked.
type Seal struct {
	Number string `json:"number" minLength:"1" maxLength:"40" doc:"as it stands on the seal"`
	On     Date   `json:"on" format:"date"`
	By     string `json:"by" minLength:"1" maxLength:"80"`
	Items  int    `json:"items" minimum:"0" maximum:"500" doc:"how many were counted"`
	// Counted are which; nil of a seal from before they were kept.
	Counted []string `json:"counted,omitempty" maxItems:"500" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"ids of what was counted; left out of seals from before they were kept"`
}

// A KitLine is so many things of a class, or of one model.
type KitLine struct {
	Class Class  `json:"class,omitempty" pattern:"^[a-z][a-z-]{0,39}$" doc:"as of models"`
	Model string `json:"model,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"id; instead of a class"`
	Count int    `json:"count" minimum:"1" maximum:"200"`
}

// Unrevised is the kit without its revision.
func (k Kit) Unrevised() Kit {
	k.Revision = 0
	return k
}

// SealUndone says why the check that its seal stands for is not of what is in a kit now, as far as
// the store knows; empty where it is, or no seal is on it. Of a seal that does not say which
// were counted only their number is held against what is in it.
func (k *Kit) SealUndone(items []Item) string {
	if k.Seal == nil {
		return ""
	}
	n, counted := 0, k.Seal.Counted
	for i := range items {
		item := &items[i]
		was := slices.Contains(counted, item.ID)
		switch in := item.Kit == k.Name && item.State != Retired && !slices.Contains(k.Missing, item.ID); {
		case was && !in:
			return item.Label + " was counted, and is not in it now"
		case !in:
			continue
		case item.State != InService:
			return item.Label + " in it is in " + string(item.State)
		case item.Damaged():
			return item.Label + " in it has damage on its map"
		case counted != nil && !was:
			return item.Label + " is in it, and was not counted"
		}
		n++
	}
	if n != k.Seal.Items {
		return fmt.Sprintf("%d were counted, and the store has %d in it", k.Seal.Items, n)
	}
	return ""
}

// Validate reports what a kit says that cannot be, given the models that there are.
func (k *Kit) Validate(models map[string]*Model, at string, p *strict.Faults) {
	for i, l := range k.Wanted {
		where := at + strict.Pointer("wanted", i)
		switch {
		case (l.Class == "") == (l.Model == ""):
			p.Addf(where, "needs either class or model")
		case l.Class != "" && l.Class.Words() == "":
			p.Addf(where+"/class", "no class %q", l.Class)
		case l.Model != "" && models[l.Model] == nil:
			p.Addf(where+"/model", "no model %q here or in the store", l.Model)
		}
	}
}

// A KitCount is a kit held against its list.
type KitCount struct {
	Kit   Kit            `json:"kit"`
	Lines []KitCountLine `json:"lines" doc:"one for each of what belongs in it"`
	// Items are in it; More are those that its list does not ask for.
	Items      []string `json:"items"`
	More       []string `json:"more,omitempty" doc:"items in it that its list does not ask for"`
	SealUndone string   `json:"seal_undone,omitempty" doc:"why the check under its seal is not of what is in it now"`
	// Complete: everything that belongs in it is there and in service, and nothing is missing
	// since the last return.
	Complete bool `json:"complete"`
}

// A KitCountLine is what belongs in a kit, with what there is of it.
type KitCountLine struct {
	Words  string   `json:"words"`
	Wanted int      `json:"wanted"`
	Items  []string `json:"items" doc:"in service and not missing"`
	Unfit  []string `json:"unfit,omitempty" doc:"in it, but out of service, damaged by its map, or missing since the last return"`
}

// Count holds a kit against its list. An item counts once: for its model where the list
// names that, else for its class.
func (k *Kit) Count(items []Item, models map[string]*Model) KitCount {
	k = k.withoutRetired(items)
	c := KitCount{Kit: *k, Items: []string{}, Lines: make([]KitCountLine, len(k.Wanted)), SealUndone: k.SealUndone(items), Complete: len(k.Missing) == 0}
	for i, l := range k.Wanted {
		words := l.Class.Words()
		if m := models[l.Model]; m != nil {
			words = m.Title()
		}
		c.Lines[i] = KitCountLine{Words: words, Wanted: l.Count, Items: []string{}}
	}
	for i := range items {
		if item := &items[i]; item.Kit == k.Name {
			c.Items = append(c.Items, item.ID)
			k.place(item, models[item.Model], &c)
		}
	}
	for _, l := range c.Lines {
		c.Complete = c.Complete && len(l.Items) >= l.Wanted
	}
	return c
}

// withoutRetired is the kit where what was retired is not waited for any more.
func (k *Kit) withoutRetired(items []Item) *Kit {
	is := *k
	is.Missing = slices.DeleteFunc(slices.Clone(k.Missing), func(id string) bool {
		return slices.ContainsFunc(items, func(i Item) bool { return i.ID == id && i.State == Retired })
	})
	return &is
}

// place counts an item on the first line of its model that is not full, else of its class;
// what is not fit fills no line.
func (k *Kit) place(item *Item, m *Model, c *KitCount) {
	fit := item.State == InService && !item.Damaged() && !slices.Contains(k.Missing, item.ID)
	at, full := -1, false
	for _, byModel := range []bool{true, false} {
		for i, l := range k.Wanted {
			if byModel && l.Model != item.Model || !byModel && (m == nil || l.Class != m.Class) {
				continue
			}
			if room := len(c.Lines[i].Items) < l.Count; at < 0 || full && room {
				at, full = i, !room
			}
		}
	}
	switch {
	case at < 0 || fit && full:
		c.More = append(c.More, item.ID)
	case fit:
		c.Lines[at].Items = append(c.Lines[at].Items, item.ID)
	default:
		c.Lines[at].Unfit = append(c.Lines[at].Unfit, item.ID)
	}
}
