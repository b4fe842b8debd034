package record

import (
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/strict"
)

// What is noted on a rope.
const (
	RopeDamage   = "damage"
	RopeZone     = "edge-contact"
	RopeDiameter = "diameter"
	RopeMarking  = "mark"
	RopeWash     = "wash"
	RopeTurn     = "turn"
	// RopeJoint is where another rope is joined to it, RopeApart that the two are apart again.
	RopeJoint = "joint"
	RopeApart = "apart"
)

// RopeNoted is something on a rope, by metre from its end A; a wash and a turn are of all of
// it.
type RopeNoted struct {
	What  string               `json:"what" enum:"damage,edge-contact,diameter,mark,wash,turn,joint,apart"`
	FromM quantity.Metres      `json:"from_m,omitempty" minimum:"0" maximum:"2000" doc:"from end A"`
	ToM   quantity.Metres      `json:"to_m,omitempty" minimum:"0" maximum:"2000" doc:"from end A; left out: at one place"`
	MM    quantity.Millimetres `json:"mm,omitempty" exclusiveMinimum:"0" maximum:"60" doc:"of a diameter"`
	With  string               `json:"with,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"of a joint and of its end: item id of the other rope"`
	WithM quantity.Metres      `json:"with_m,omitempty" minimum:"0" maximum:"2000" doc:"of a joint: where on the other rope, from its end A"`
}

// RopeCut is a cut: what is on the side of end A keeps the item, the other side becomes one of
// its own, or waste.
type RopeCut struct {
	LengthM quantity.Metres `json:"length_m" exclusiveMinimum:"0" maximum:"2000" doc:"of the rope before, as who cuts it knows it"`
	AtM     quantity.Metres `json:"at_m" exclusiveMinimum:"0" maximum:"2000" doc:"from end A"`
	// Into and Label are of the part on the side of end B; left out: it is waste.
	Into  string `json:"into,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"item id of the part on the side of end B; left out: it is waste"`
	Label string `json:"label,omitempty" maxLength:"80" doc:"what that part is called"`
}

// whole reports what is of all of a rope.
func (n *RopeNoted) whole() bool {
	return n.What == RopeWash || n.What == RopeTurn || n.What == RopeApart
}

// judgeWith wants the other rope of a joint, and of its end.
func (n *RopeNoted) judgeWith(e *Entry, f *Facts, at string, p *strict.Faults) {
	joint := n.What == RopeJoint
	switch {
	case n.With == "" && n.WithM == 0 && !joint && n.What != RopeApart:
	case !joint && n.What != RopeApart:
		p.Addf(at+"/with", "does not belong to a %s", n.What)
	case n.With == "":
		p.Addf(at+"/with", "missing")
	case n.With == e.Item:
		p.Addf(at+"/with", "is the rope itself")
	case f.With == nil:
		p.Addf(at+"/with", "no rope %q in the store", n.With)
	case n.WithM > f.With.LengthM:
		p.Addf(at+"/with_m", "%s is %v long", f.With.Label, f.With.LengthM)
	}
}

func (e *Entry) judgeRope(f *Facts, at string, p *strict.Faults) {
	e.wantItem(f, at, p)
	e.notLater(f, at, p)
	if f.Model != nil && f.Model.Rope == nil {
		p.Addf(at+"/item", "is no rope")
		return
	}
	if n := e.Rope; n != nil && f.Item != nil {
		at += "/rope"
		switch {
		case n.whole() && (n.FromM > 0 || n.ToM > 0):
			p.Addf(at+"/from_m", "a %s is of the whole rope", n.What)
		case n.FromM > f.Item.LengthM:
			p.Addf(at+"/from_m", "the rope is %v long", f.Item.LengthM)
		case n.ToM > f.Item.LengthM:
			p.Addf(at+"/to_m", "the rope is %v long", f.Item.LengthM)
		case n.ToM > 0 && n.ToM < n.FromM:
			p.Addf(at+"/to_m", "is before %v", n.FromM)
		}
		n.judgeWith(e, f, at, p)
		if (n.MM > 0) != (n.What == RopeDiameter) {
			p.Addf(at+"/mm", "belongs to a diameter, and a diameter needs it")
		}
	}
	if c := e.Cut; c != nil && f.Item != nil {
		at += "/cut"
		switch {
		case f.Item.State == gear.Retired:
			p.Addf(at, "it is retired")
		case c.LengthM != f.Item.LengthM:
			p.Addf(at+"/length_m", "the rope is %v long now", f.Item.LengthM)
		case c.AtM >= c.LengthM:
			p.Addf(at+"/at_m", "the rope is %v long", c.LengthM)
		case c.Into != "" && f.Taken:
			p.Addf(at+"/into", "another item has this id")
		case (c.Into == "") != (strings.TrimSpace(c.Label) == ""):
			p.Addf(at+"/label", "a part that is kept has an id and a name")
		}
	}
}

// RopeMark is something on a rope as it is now, by metre from its present end A.
type RopeMark struct {
	RopeNoted
	On   gear.Date `json:"on" format:"date"`
	Note string    `json:"note,omitempty"`
	// Number is of the record that says it.
	Number int64 `json:"record"`
}

// A Numbered is a record with its number.
type Numbered struct {
	Number int64
	Says   *Content
}

// RopeMap is what is on a rope, by metre. Of gives the records about a rope, first one first:
// what a part had before it was cut off comes with it, and nothing that lay on the other part.
func RopeMap(rope string, of func(rope string) ([]Numbered, error)) ([]RopeMark, error) {
	return mapUntil(rope, 1<<62, of, 0)
}

// mostCuts bounds how often a rope was cut off another.
const mostCuts = 100

func mapUntil(rope string, until int64, of func(string) ([]Numbered, error), deep int) ([]RopeMark, error) {
	if deep > mostCuts {
		return nil, fmt.Errorf("%s was cut off another rope more than %d times", rope, mostCuts)
	}
	list, err := of(rope)
	if err != nil {
		return nil, err
	}
	marks := []RopeMark{}
	for _, r := range list {
		if r.Number >= until {
			break
		}
		switch s := r.Says; {
		case s.Cut != nil && s.Cut.Into == rope:
			before, err := mapUntil(s.Item, r.Number, of, deep+1)
			if err != nil {
				return nil, err
			}
			_, marks = CutMarks(before, s.Cut.AtM)
		case s.Cut != nil && s.Item == rope:
			marks, _ = CutMarks(marks, s.Cut.AtM)
		case s.Rope != nil:
			marks = noted(marks, rope, r.Number, s)
		}
	}
	return marks, nil
}

// noted adds to what is on a rope what a record says of it. A joint is on both ropes, until
// they are apart.
func noted(marks []RopeMark, rope string, number int64, s *Content) []RopeMark {
	n := *s.Rope
	if s.Item != rope {
		if n.With != rope {
			return marks
		}
		n.FromM, n.WithM, n.With = n.WithM, n.FromM, s.Item
	}
	if n.What == RopeApart {
		return slices.DeleteFunc(marks, func(m RopeMark) bool { return m.What == RopeJoint && m.With == n.With })
	}
	return append(marks, RopeMark{n, s.Day, s.Note, number})
}

// NotedOf is what a check needs of what is on a rope.
func NotedOf(marks []RopeMark) *gear.Noted {
	n, last := &gear.Noted{}, gear.Date("")
	for _, m := range marks {
		switch m.What {
		case RopeDamage:
			if len(n.Damage) < mostDamage {
				n.Damage = append(n.Damage, gear.Stretch{FromM: m.FromM, ToM: m.ToM})
			}
		case RopeDiameter:
			if m.On > last {
				last, n.LeastMM, n.MostMM = m.On, m.MM, m.MM
			}
			if m.On == last {
				n.LeastMM, n.MostMM = min(n.LeastMM, m.MM), max(n.MostMM, m.MM)
			}
		}
	}
	return n
}

// mostDamage is as many places of damage as an item has room for.
const mostDamage = 200

// UsedOf gives how a thing was used, first recorded first. What was cut off a rope was used as
// the rope was, until then.
func UsedOf(item string, of func(item string) ([]Numbered, error)) ([]care.Use, error) {
	return usedUntil(item, 1<<62, of, 0)
}

func usedUntil(item string, until int64, of func(string) ([]Numbered, error), deep int) ([]care.Use, error) {
	if deep > mostCuts {
		return nil, fmt.Errorf("%s was cut off another rope more than %d times", item, mostCuts)
	}
	list, err := of(item)
	if err != nil {
		return nil, err
	}
	var uses []care.Use
	for _, r := range list {
		if r.Number >= until {
			break
		}
		switch s := r.Says; {
		case s.Cut != nil && s.Cut.Into == item:
			if uses, err = usedUntil(s.Item, r.Number, of, deep+1); err != nil {
				return nil, err
			}
		case s.Use != nil && s.Item == item:
			uses = append(uses, s.Use.Of(s.Day))
		}
	}
	return uses, nil
}

// CutMarks parts what is on a rope that is cut: each part has what lies on it, from its own
// end A; what lies across the cut is on both, as long in sum as it was; what is of all of the
// rope is of both. What lies just at the cut goes with the part at end A.
func CutMarks(marks []RopeMark, at quantity.Metres) (a, b []RopeMark) {
	a, b = []RopeMark{}, []RopeMark{}
	for _, m := range marks {
		to := max(m.FromM, m.ToM)
		switch {
		case m.whole():
			a, b = append(a, m), append(b, m)
		case to <= at:
			a = append(a, m)
		case m.FromM >= at:
			m.FromM, m.ToM = m.FromM-at, max(0, m.ToM-at)
			b = append(b, m)
		default:
			left, right := m, m
			left.ToM = at
			right.FromM, right.ToM = 0, m.ToM-at
			a, b = append(a, left), append(b, right)
		}
	}
	return slices.Clip(a), slices.Clip(b)
}
