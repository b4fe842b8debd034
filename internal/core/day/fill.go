package day

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
)

// Filled is a board as it is proposed; nothing of it is kept.
type Filled struct {
	Board   Board    `json:"board"`
	Changes []Change `json:"changes"`
	// Drops are those whose people or items are others now.
	Drops    []DropOf   `json:"drops"`
	Unplaced []Unplaced `json:"unplaced"`
	// Outcome is found where no board with times as they are proposed, on the half hour from
	// 06:00 to 20:00, leaves fewer drops out or does it with fewer changes; undecided where one may.
	Outcome search.Outcome `json:"outcome" enum:"found,undecided"`
	Report  *Report        `json:"report" doc:"of the board as proposed"`
}

// Change is one thing that is otherwise on the board as proposed.
type Change struct {
	Drop string `json:"drop"`
	Kind string `json:"kind" enum:"time,person,item"`
	// Was is empty for a drop that had no time.
	Was   string `json:"was,omitempty"`
	Is    string `json:"is"`
	Words string `json:"words"`
}

// Unplaced is a drop that has no place on the day, and what would give it one.
type Unplaced struct {
	Drop string `json:"drop"`
	Name string `json:"name"`
	Help string `json:"help" doc:"the smallest thing that would help, as far as one thing would"`
}

// Fill finds times, people and items for the drops of a board: nobody and nothing twice, no
// hour in which the weather stops a drop, nobody whose paper has ended, no supervisor without
// theirs, nothing that is not in service or overdue. It leaves out as few drops as it must and
// changes as little as it can; who stands by for one drop is not given a second, who is on a
// drop no other task there, and who is on site beside them all is not exchanged. Times are on
// the half hour from 06:00, and a drop ends by 20:00 unless it stood later already.
//
// The search is complete: each conflict is resolved by changing one of what is in it, in every
// way, with a growing number of changes. Past its bound it gives what a planner does by hand,
// drop by drop, and says that fewer changes may do.
func (a *Asked) Fill(ctx context.Context) (*Filled, error) {
	b, err := a.open()
	if err != nil {
		return nil, err
	}
	store := a.Store
	if store == nil {
		store = &drop.Store{}
	}
	p := newPuzzle(b, store)
	best, outcome := p.solve(ctx)
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	out := &Filled{Board: *b.Board, Changes: []Change{}, Drops: []DropOf{}, Unplaced: []Unplaced{}, Outcome: outcome}
	p.write(best, out)
	for s, left := range best.out {
		if left {
			out.Unplaced = append(out.Unplaced, Unplaced{b.Slots[s].Drop, p.slots[s].doc.Name, p.help(ctx, best, s)})
		}
	}
	after := *a
	after.Board = out.Board
	after.Drops = slices.Clone(a.Drops)
	for i := range after.Drops {
		if j := slices.IndexFunc(out.Drops, func(d DropOf) bool { return d.ID == after.Drops[i].ID }); j >= 0 {
			after.Drops[i] = out.Drops[j]
		}
	}
	out.Report, err = after.Check()
	return out, err
}

// write puts a plan into words, documents and the board.
func (p *puzzle) write(best *plan, out *Filled) {
	out.Board.Slots = slices.Clone(p.b.Slots)
	for s := range p.slots {
		slot := &out.Board.Slots[s]
		if best.out[s] {
			slot.From = ""
			continue
		}
		o := p.slots[s]
		add := func(kind, was, is, words string) {
			out.Changes = append(out.Changes, Change{slot.Drop, kind, was, is, words})
		}
		if at := ClockOf(best.at[s]); at != slot.From {
			add("time", string(slot.From), string(at), fmt.Sprintf("%s at %s", o.doc.Name, at))
			slot.From = at
		}
		doc := o.doc.Clone()
		changed := false
		for v := range p.seats[s] {
			seat := &p.seats[s][v]
			was, is := seat.who, best.who[s][v]
			if was == is {
				continue
			}
			m := p.b.members[p.names[is]]
			words := "%s at %s in place of %s"
			switch seat.as {
			case listed:
				doc.Seat(p.names[was], m)
				changed = true
			case brake:
				doc.Team.Operators[seat.n] = m.Name
				words, changed = "%s at a brake of %s in place of %s", true
			case supervisor:
				slot.Supervisor = m.ID
				words = "%s supervises %s in place of %s"
			}
			add("person", p.names[was], m.ID, fmt.Sprintf(words, m.Name, o.doc.Name, p.b.name(p.names[was])))
		}
		for v := range p.things[s] {
			was, is := p.things[s][v], best.what[s][v]
			if was == is {
				continue
			}
			item := p.itemOf[is]
			doc.Replace(p.names[was], item.ID)
			doc.Include(item, p.models[item.Model])
			changed = true
			add("item", p.names[was], item.ID, fmt.Sprintf("%s at %s in place of %s", item.Label, o.doc.Name, o.doc.Label(p.names[was])))
		}
		if changed {
			// What is no more on the drop leaves it, and a harness comes with who wears it.
			doc.Refresh(p.store)
			out.Drops = append(out.Drops, DropOf{ID: slot.Drop, Version: p.b.versions[slot.Drop], Document: *doc})
		}
	}
}

// help says what one thing would give a drop a place that was left out.
func (p *puzzle) help(ctx context.Context, best *plan, s int) string {
	out := slices.Clone(best.out)
	out[s] = false
	try := func(q *puzzle) bool {
		q.left = helpNodes
		_, found := q.within(ctx, out, len(q.slots)*4)
		return found == search.Found
	}
	if try(p) {
		return "more changes than were tried"
	}
	extra := rig.Member{ID: "one-more", Name: "one more person", MassKg: 80}
	for _, k := range []string{"qualification", "medical", "first-aid"} {
		extra.Papers = append(extra.Papers, rig.Paper{Kind: k, Name: cmp.Or(p.b.day.Supervisor, k), SeenBy: "assumed"})
	}
	b := *p.b
	b.people = append(slices.Clone(b.people), extra)
	b.members = map[string]*rig.Member{}
	for i := range b.people {
		b.members[b.people[i].ID] = &b.people[i]
	}
	if try(newPuzzle(&b, p.store)) {
		return "one more person with valid papers"
	}
	tried := map[string]bool{}
	for _, v := range p.things[s] {
		if i := p.itemOf[v]; i == nil || tried[i.Model] || len(tried) == 6 {
			continue
		}
		tried[p.itemOf[v].Model] = true
		if q, label := p.withOneMore(v); q != nil && try(q) {
			return "one more " + label
		}
	}
	calm := *p.b
	board := *p.b.Board
	board.Wind = nil
	calm.Board = &board
	if len(p.b.Wind) > 0 && try(newPuzzle(&calm, p.store)) {
		return "less wind, or another day"
	}
	return "not known: neither one more person, nor one more of an item, nor less wind was found to"
}

// withOneMore is the puzzle with another item like one of it.
func (p *puzzle) withOneMore(item int) (q *puzzle, label string) {
	i := p.itemOf[item]
	if i == nil {
		return nil, ""
	}
	more := *i
	more.ID, more.Label, more.State, more.ExaminedOn, more.AgainBy, more.FirstUsedOn, more.MadeOn = "one-more", "one more", gear.InService, p.b.Day, "", "", ""
	store := *p.store
	store.Items = append(slices.Clone(store.Items), more)
	if p.models[i.Model] == nil {
		return nil, ""
	}
	if !slices.ContainsFunc(store.Models, func(m gear.Model) bool { return m.ID == i.Model }) {
		store.Models = append(slices.Clone(store.Models), *p.models[i.Model])
	}
	return newPuzzle(p.b, &store), "like " + i.Label
}

// unfit reports whether somebody may not be on a drop, whatever its hours.
func (b *board) unfit(person, name string, t *turn) bool {
	s := Seat{Person: person, Name: name, Task: Hangs}
	return slices.ContainsFunc(b.wanted(t.doc.Site), func(w want) bool {
		f, lacks := b.lacks(&s, w, t)
		return lacks && f.Severity == finding.Stop
	})
}
