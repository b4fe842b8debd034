package day

import (
	"maps"
	"slices"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
)

// DropOf is a drop with its document, as a board asks for it.
type DropOf struct {
	ID string `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	// Version is the store's: what is proposed is of this one, and replaces no other.
	Version  int           `json:"version,omitempty" minimum:"1" doc:"in the store: the version that was looked at"`
	Document drop.Document `json:"document"`
}

// Seat is what somebody does on a drop.
type Seat struct {
	Person string `json:"person"`
	Name   string `json:"name"`
	Task   Task   `json:"task" enum:"on rope,stands by,at the brakes,on site"`
	// Practised is when a rescuer last did a pick-off.
	Practised gear.Date `json:"practised_on,omitempty"`
}

// Task is the most binding thing that somebody does on a drop.
type Task string

const (
	Hangs    Task = "on rope"
	StandsBy Task = "stands by"
	Operates Task = "at the brakes"
	OnSite   Task = "on site"
)

// binding is the one of two tasks that binds more: a hand on a brake cannot leave it to rescue,
// who stands by may do so, and who is on site may go.
func binding(a, b Task) Task {
	for _, t := range []Task{Hangs, Operates, StandsBy} {
		if a == t || b == t {
			return t
		}
	}
	return OnSite
}

// does is the task as somebody does it.
func (t Task) does() string {
	if t == StandsBy {
		return string(t)
	}
	return "is " + string(t)
}

// onDrop is what a board needs to know of a drop.
type onDrop struct {
	id    string
	doc   *drop.Document
	seats []Seat
	// items are those in use, with who carries or hangs on each; "" for what is the drop's.
	items map[string]string
	// operated are the brakes of its team, with who works them.
	operated []rig.Operated
	// wind is the lowest wind at which slack in a backup passes its limit; nil: no wheel rolls.
	wind   *quantity.MetresPerSecond
	windOf string
}

// know takes in a drop. Its error is a *strict.Error of its document.
func know(id string, d *drop.Document, people []rig.Member) (*onDrop, error) {
	s, err := site.Open(d)
	if err != nil {
		return nil, err
	}
	o := &onDrop{id: id, doc: d, items: map[string]string{}}
	o.sit(people)
	for item, used := range d.Used() {
		if used {
			o.items[item] = ""
		}
	}
	for _, p := range s.Rig.People {
		for _, piece := range p.All {
			o.items[piece.Item.ID] = p.ID
		}
	}
	if s.Rig.Team != nil {
		o.operated = s.Rig.Team.Operated()
	}
	o.wind, o.windOf = WindLimit(s)
	return o, nil
}

// sit says who is on the drop, each once, with the most binding of their tasks.
func (o *onDrop) sit(people []rig.Member) {
	for i := range o.doc.People {
		p := &o.doc.People[i]
		s := Seat{Person: p.ID, Name: p.Name, Task: o.task(p)}
		if c := o.rescuer(p.ID); c != nil {
			s.Practised = c.LastPickOff(o.doc.People)
		}
		o.seats = append(o.seats, s)
	}
	if o.doc.Team == nil {
		return
	}
	for _, name := range o.doc.Team.Operators {
		id := personNamed(name, o.doc, people)
		if s := o.seat(id); s != nil {
			s.Task = binding(s.Task, Operates)
			continue
		}
		o.seats = append(o.seats, Seat{Person: id, Name: name, Task: Operates})
	}
}

// task is what one of the drop's people does, beside what they may do at a brake.
func (o *onDrop) task(p *rig.Person) Task {
	switch {
	case len(p.Holds) > 0:
		return Hangs
	case o.rescuer(p.ID) != nil:
		return StandsBy
	}
	return OnSite
}

func (o *onDrop) rescuer(person string) *rig.Rescuer {
	if r := o.doc.Rescue; r != nil {
		if i := slices.IndexFunc(r.Rescuers, func(c rig.Rescuer) bool { return c.Person == person }); i >= 0 {
			return &r.Rescuers[i]
		}
	}
	return nil
}

// personNamed is the id of who has a name, on the drop or in the team, whatever its capitals and
// spaces: it is typed by hand. A name that nobody has stands for itself.
func personNamed(name string, d *drop.Document, people []rig.Member) string {
	for i := range d.People {
		if rig.SameName(d.People[i].Name, name) {
			return d.People[i].ID
		}
	}
	for i := range people {
		if rig.SameName(people[i].Name, name) {
			return people[i].ID
		}
	}
	return name
}

func (o *onDrop) seat(person string) *Seat {
	if i := slices.IndexFunc(o.seats, func(s Seat) bool { return s.Person == person }); i >= 0 {
		return &o.seats[i]
	}
	return nil
}

// WindLimit is the lowest wind at which slack above a wheel that is not parked passes the
// policy's limit, at every metre that its user may hang at; on a drop of more than 50 m at
// fifty heights, between which it changes little; nil where no wheel rolls. Whose: the wheel.
func WindLimit(s *site.Site) (limit *quantity.MetresPerSecond, whose string) {
	top := s.Rig.Geometry.TopM
	for _, h := range s.Rig.EveryHold() {
		for at := quantity.Metres(1); at <= top; at += max(1, top/50) {
			in, rolls := site.SpotAt(s.Rig, h, s.Policy, at).Wind()
			if !rolls || in.Parked || in.AboveM <= 0 {
				continue
			}
			if at := mechanics.Wind(in).LimitWindMS; at != nil && (limit == nil || *at < *limit) {
				limit, whose = at, h.Device.Item.Label
			}
		}
	}
	return limit, whose
}

// usedItems are the ids of what is in use, in order.
func (o *onDrop) usedItems() []string { return slices.Sorted(maps.Keys(o.items)) }
