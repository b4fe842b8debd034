package run

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/strict"
)

// Contact is where a rope lay on an edge, by metre from the end of the rope that was up.
type Contact struct {
	Rope   string          `json:"rope" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"item id"`
	Strand string          `json:"strand" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Edge   string          `json:"edge" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Name   string          `json:"name" minLength:"1" maxLength:"60" doc:"of the edge"`
	FromM  quantity.Metres `json:"from_m" minimum:"0" maximum:"2000" doc:"from the end of the rope that was up"`
	ToM    quantity.Metres `json:"to_m" minimum:"0" maximum:"2000" doc:"from the end of the rope that was up"`
	// Ran: a team let it run over the edge, and it is counted from the end at the load.
	Ran bool `json:"ran,omitempty" doc:"a team let it run over the edge: counted from the end at the load"`
	// Bare: nothing protected the rope there.
	Bare bool `json:"bare,omitempty" doc:"nothing protected the rope there"`
}

// around is how far about a place on a rope its zone reaches: knots take more or less rope
// than is counted, and a rope that is loaded is longer.
const around quantity.Metres = 0.5

// lies tells where the ropes of the strands lie on the edges. Ropes that a team lets through a
// brake run over them: of those the zone is as long as the way.
func (d *Document) lies(s *site.Site) {
	for _, strand := range s.Rig.Strands {
		for _, e := range s.Rig.Geometry.Edges {
			if e.HeightM > s.Rig.ComesFrom(strand) || e.HeightM <= strand.ToM || len(d.Contacts) >= mostContacts {
				continue
			}
			part := strand.RopeAt(e.HeightM)
			at := part.TopM - e.HeightM
			c := Contact{Rope: part.Item.ID, Strand: strand.ID, Edge: e.ID, Name: e.Name, Bare: e.Protection == "none", FromM: max(0, at-around), ToM: at + around + e.RopeM}
			if lets(s.Rig.Team, strand) {
				// What runs over the edge is counted from the load: from where it crosses to the landing.
				c.Ran, c.FromM, c.ToM = true, 0, e.HeightM-strand.ToM+around
			}
			if c.ToM = min(c.ToM, part.Item.LengthM); c.FromM < c.ToM {
				d.Contacts = append(d.Contacts, c)
			}
		}
	}
}

// mostContacts is how many are kept with a run.
const mostContacts = 200

func lets(t *rig.TeamView, strand *rig.StrandView) bool {
	return t != nil && (t.Main.Strand == strand || t.Belay.Strand == strand)
}

// AfterItem is an item with what is left to do about it, and why.
type AfterItem struct {
	Item  string `json:"item"`
	Label string `json:"label"`
	Why   string `json:"why"`
}

// After is what is left to do when a run is over: what was wet or dirty by what was signed, what
// something happened to, what has not come back, what is now due.
type After struct {
	Dry     []AfterItem    `json:"dry,omitempty"`
	Clean   []AfterItem    `json:"clean,omitempty"`
	LookAt  []AfterItem    `json:"look_at,omitempty" doc:"something happened to them, or they lay on a bare edge"`
	NotBack []AfterItem    `json:"not_back,omitempty" doc:"in a kit that is out, or missing from one"`
	Due     []care.DueLine `json:"due,omitempty" doc:"within a month, or overdue"`
	// Unseen: what was on it was not kept with the run, and nothing is said of it.
	Unseen bool `json:"not_looked_at,omitempty" doc:"what was on it was not kept with the run: nothing is said of it"`
}

// Kept is what the store has of a run's items now.
type Kept struct {
	Items  []gear.Item
	Models []gear.Model
	Kits   []gear.Kit
	// Months is the team's interval of examinations.
	Months int
	Today  gear.Date
}

// dueDays is how far ahead what is due is listed when a run is put away.
const dueDays = 31

// AfterOf is what is left to do about the items of a run; away are the lines that were signed,
// nil where it is not put away yet.
func (d *Document) AfterOf(now *Kept, away []AwayLine) *After {
	out, labels := &After{Unseen: len(d.Items) == 0}, map[string]string{}
	for i := range now.Items {
		labels[now.Items[i].ID] = now.Items[i].Label
	}
	add := func(list *[]AfterItem, item, why string) {
		same := func(o AfterItem) bool { return o.Item == item && o.Why == why }
		if label, known := labels[item]; known && !slices.ContainsFunc(*list, same) {
			*list = append(*list, AfterItem{item, label, why})
		}
	}
	for _, l := range away {
		if l.Item != "" && l.Wet {
			add(&out.Dry, l.Item, "it was wet")
		}
		if l.Item != "" && l.Dirty {
			add(&out.Clean, l.Item, "it was dirty")
		}
	}
	for i := range d.Events {
		if e := &d.Events[i]; e.Kind == Quarantine || e.Kind == Happened {
			for _, item := range e.Items {
				add(&out.LookAt, item, cmp.Or(e.Reason, string(e.Kind)))
			}
		}
	}
	for _, c := range d.Contacts {
		if c.Bare {
			add(&out.LookAt, c.Rope, "it "+c.words())
		}
	}
	for i := range now.Items {
		switch item := &now.Items[i]; item.State {
		case gear.Quarantine:
			add(&out.LookAt, item.ID, "in quarantine: "+item.Reason)
		case gear.Retired:
			add(&out.LookAt, item.ID, "retired: "+item.Reason)
		}
	}
	for i := range now.Kits {
		k := &now.Kits[i]
		for _, item := range k.Missing {
			add(&out.NotBack, item, "missing from "+k.Name)
		}
		for _, item := range k.Out {
			if !slices.Contains(k.Missing, item) {
				add(&out.NotBack, item, fmt.Sprintf("%s is out with %s since %s", k.Name, k.IssuedTo, k.IssuedOn))
			}
		}
	}
	// The run was a use: what has never been examined is due too.
	used := map[string][]care.PlannedDrop{}
	for i := range now.Items {
		used[now.Items[i].ID] = []care.PlannedDrop{{Drop: d.Drop, Name: d.Drop, Day: now.Today}}
	}
	out.Due = care.DueUntil(now.Items, gear.ModelsByID(now.Models), now.Months, now.Today, now.Today.AddDays(dueDays), used)
	for _, id := range d.Items {
		if labels[id] == "" {
			out.NotBack = append(out.NotBack, AfterItem{id, id, "not in the store any more"})
		}
	}
	return out
}

// EdgeLine is a contact as it is recorded on the map of its rope, or why it is not.
type EdgeLine struct {
	Rope string `json:"rope" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Edge string `json:"edge" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	// Up is the end of the rope that was up; left out: nobody knows, and nothing is recorded.
	Up string `json:"up,omitempty" enum:"A,B" doc:"end of the rope that was up, or at the load of a team; left out: it is not known, and nothing is recorded"`
}

// zones are the records of where ropes lay on edges, of those contacts that say which end was
// up; lengths are of the ropes.
func (d *Document) zones(day gear.Date, lines []EdgeLine, lengths map[string]quantity.Metres, faults *strict.Faults) []record.Entry {
	of := map[[2]string]int{}
	for i, l := range lines {
		key := [2]string{l.Rope, l.Edge}
		if _, twice := of[key]; twice {
			faults.Addf(strict.Pointer("edges", i), "is there twice")
		}
		of[key] = i
	}
	var list []record.Entry
	for _, c := range d.Contacts {
		key := [2]string{c.Rope, c.Edge}
		n, there := of[key]
		if !there {
			continue
		}
		delete(of, key)
		z := record.RopeNoted{What: record.RopeZone, FromM: c.FromM, ToM: c.ToM}
		switch long := lengths[c.Rope]; lines[n].Up {
		case "":
			continue
		case "B":
			if long <= 0 {
				faults.Addf(strict.Pointer("edges", n, "up"), "the length of %s is not known", c.Rope)
				continue
			}
			z.FromM, z.ToM = max(0, long-c.ToM), max(0, long-c.FromM)
		}
		list = append(list, record.Entry{Kind: record.RopeNote, Day: day, Drop: d.Drop, Item: c.Rope, Rope: &z, Note: c.words()})
	}
	for key, n := range of {
		faults.Addf(strict.Pointer("edges", n), "%s lay on no edge %q", key[0], key[1])
	}
	return list
}

func (c *Contact) words() string {
	how := "lay on "
	if c.Ran {
		how = "ran over "
	}
	if c.Bare {
		return how + c.Name + ", bare"
	}
	return how + c.Name
}
