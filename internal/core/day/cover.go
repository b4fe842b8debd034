package day

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"

	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/progress"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/strict"
)

// CoverAnswer is which drops stay covered while their rescuers are shared.
type CoverAnswer struct {
	// Shared has one row for each rescuer, drop that they are away at, and drop that they stand
	// by for at the same time.
	Shared   []Shared          `json:"shared"`
	Findings []finding.Finding `json:"findings"`
}

// Shared is what is left of the cover of a drop for somebody who comes there.
type Shared struct {
	Person string `json:"person"`
	Name   string `json:"name"`
	// At is the drop that they are at, For the one that they stand by for besides.
	At   string `json:"at"`
	For  string `json:"for"`
	Span Span   `json:"span" doc:"when both are worked on"`
	// Coming are the stretches of For that are not covered well though they come, from At.
	Coming []cover.Gap `json:"coming" doc:"stretches that get worse by the way from the other drop"`
	// Away are those while a rescue at At is under way, which lasts AwayS at most.
	Away  []cover.Gap `json:"away" doc:"stretches that get worse while they rescue at the other drop"`
	AwayS float64     `json:"away_s" doc:"the longest rescue at the other drop that is planned"`
	// Unknown says which cover could not be planned: nothing is then known of it.
	Unknown string `json:"unknown,omitempty" doc:"why nothing is known of this cover"`
}

// Cover plans the rescues of drops that share a rescuer, once as they are, once with the way
// from the other drop, and once without who is away. Nobody who is shared: no row. Its error
// is a *strict.Error, or the context's.
func (a *Asked) Cover(ctx context.Context, known *cover.Cache) (*CoverAnswer, error) {
	b, err := a.open()
	if err != nil {
		return nil, err
	}
	out := &CoverAnswer{Shared: []Shared{}, Findings: []finding.Finding{}}
	pairs := b.sharing()
	covers := &covers{ctx: ctx, known: known, kept: map[string]*cover.Cover{}}
	for i, p := range pairs {
		progress.Say(ctx, i, len(pairs), "shared rescuers")
		s, err := covers.shared(&p)
		var not *unplanned
		if errors.As(err, &not) {
			s, err = &Shared{Person: p.person, Name: p.name, At: p.at.id, For: p.to.id, Span: p.span, Coming: []cover.Gap{}, Away: []cover.Gap{}, Unknown: not.why}, nil
		}
		if err != nil {
			return nil, err
		}
		out.Shared = append(out.Shared, *s)
		if f, uncovered := b.coverFinding(&p, s); uncovered {
			out.Findings = append(out.Findings, f)
		}
	}
	finding.Sort(out.Findings)
	return out, nil
}

// sharedBy is a rescuer of two drops at one time.
type sharedBy struct {
	person string
	name   string
	at, to turn
	span   Span
}

// sharing are the rescuers of several drops at once, in the order of the board.
func (b *board) sharing() []sharedBy {
	var list []sharedBy
	all := b.turns()
	for i := range all {
		for j := range all {
			x, y := all[i], all[j]
			if i == j || !x.span.meets(y.span, 0) || y.doc.Rescue == nil {
				continue
			}
			on := b.onSite(x.onDrop, x.slot)
			for _, c := range y.doc.Rescue.Rescuers {
				if n := slices.IndexFunc(on, func(s Seat) bool { return s.Person == c.Person }); n >= 0 {
					list = append(list, sharedBy{c.Person, on[n].Name, x, y, Span{max(x.span.From, y.span.From), min(x.span.To, y.span.To)}})
				}
			}
		}
	}
	return list
}

// covers keeps what was planned: each drop is planned once as it is.
type covers struct {
	ctx   context.Context
	known *cover.Cache
	kept  map[string]*cover.Cover
}

// unplanned is a cover that cannot be planned.
type unplanned struct{ why string }

func (u *unplanned) Error() string { return u.why }

func (c *covers) shared(p *sharedBy) (*Shared, error) {
	base, err := c.of(p.to.id, p.to.doc)
	if err != nil {
		return nil, err
	}
	there, err := c.of(p.at.id, p.at.doc)
	if err != nil {
		return nil, err
	}
	late := with(p.to.doc, func(r *rig.Rescue) {
		for i := range r.Rescuers {
			if r.Rescuers[i].Person == p.person {
				r.Rescuers[i].WalkS += float64(p.to.slot.come() * 60)
			}
		}
	})
	if i := slices.IndexFunc(late.Rescue.Rescuers, func(o rig.Rescuer) bool { return o.Person == p.person }); i >= 0 && p.to.doc.Rescue.Rescuers[i].WalkS == 0 {
		// Left out, the policy's way to the strands counts besides.
		late.Rescue.Rescuers[i].WalkS += *late.Policy.With().WalkS
	}
	coming, err := c.of("", late)
	if err != nil {
		return nil, err
	}
	gone := with(p.to.doc, func(r *rig.Rescue) {
		r.Rescuers = slices.DeleteFunc(r.Rescuers, func(o rig.Rescuer) bool { return o.Person == p.person })
	})
	away, err := c.of("", gone)
	if err != nil {
		return nil, err
	}
	s := &Shared{Person: p.person, Name: p.name, At: p.at.id, For: p.to.id, Span: p.span, Coming: worse(base, coming), Away: worse(base, away)}
	for _, pc := range there.People {
		for _, st := range pc.States {
			s.AwayS = max(s.AwayS, st.Seconds)
		}
	}
	return s, nil
}

// with is a drop with another rescue.
func with(d *drop.Document, change func(*rig.Rescue)) *drop.Document {
	o, r := *d, *d.Rescue
	r.Rescuers = slices.Clone(r.Rescuers)
	change(&r)
	o.Rescue = &r
	return &o
}

// of is the cover of a drop; of one that is kept under an id, it is planned once. A drop that
// nobody comes to is covered nowhere.
func (c *covers) of(id string, d *drop.Document) (*cover.Cover, error) {
	if k := c.kept[id]; k != nil && id != "" {
		return k, nil
	}
	planned := &cover.Cover{}
	if d.Rescue != nil && len(d.Rescue.Rescuers) > 0 {
		s, err := site.Open(d)
		if err != nil {
			return nil, err
		}
		pl, err := cover.Open(c.ctx, s, cover.Options{Cache: c.known})
		var refused *strict.Error
		if errors.As(err, &refused) {
			return nil, &unplanned{fmt.Sprintf("the rescue of %s cannot be planned: %s", d.Name, refused.Faults[0].Detail)}
		}
		if err != nil {
			return nil, err
		}
		if planned, err = pl.Cover(); err != nil {
			return nil, err
		}
	}
	if id != "" {
		c.kept[id] = planned
	}
	return planned, nil
}

// ranks order states of a metre, the best first.
var ranks = map[string]int{"covered": 0, "slow": 1, "last-resort": 2, "undecided": 3, "uncovered": 4}

// worse are the stretches on which a cover is worse than another, by how each metre is.
func worse(base, now *cover.Cover) []cover.Gap {
	gaps := []cover.Gap{}
	for _, pc := range base.People {
		i := slices.IndexFunc(now.People, func(o cover.PersonCover) bool { return o.Person == pc.Person })
		for n, was := range pc.States {
			is := cover.Covered{State: "uncovered"}
			if i >= 0 && n < len(now.People[i].States) {
				is = now.People[i].States[n]
			}
			if ranks[is.State] <= ranks[was.State] {
				continue
			}
			at := base.Heights[n]
			if k := len(gaps); k > 0 && gaps[k-1].Person == pc.Person && gaps[k-1].State == is.State && at-gaps[k-1].ToM < 1.5 {
				gaps[k-1].ToM = at
				continue
			}
			gaps = append(gaps, cover.Gap{Person: pc.Person, Name: pc.Name, State: is.State, FromM: at, ToM: at, Blocked: []string{}})
		}
	}
	slices.SortStableFunc(gaps, func(a, b cover.Gap) int {
		return cmp.Or(cmp.Compare(ranks[b.State], ranks[a.State]), cmp.Compare(b.ToM-b.FromM, a.ToM-a.FromM))
	})
	return gaps
}

// coverFinding is day.cover.
func (b *board) coverFinding(p *sharedBy, s *Shared) (f finding.Finding, uncovered bool) {
	if len(s.Coming) == 0 && len(s.Away) == 0 && s.Unknown == "" {
		return f, false
	}
	f = finding.Finding{
		Rule: CoverRule, Severity: b.policy.Severity(CoverRule, finding.Look), Subject: finding.Subject{Kind: finding.Person, ID: s.Person, Label: s.Name, Person: s.Person, Drop: s.For},
		Figures: []finding.Figure{{Name: "away at most", Value: s.AwayS / 60, Unit: "min", Text: minutes(s.AwayS)}},
		Why:     "Who rescues at one drop comes to no other; two people may need it on one day.",
		Remedy:  "Name another rescuer for one of the two, or let them follow each other.", Source: b.bySource(),
	}
	if s.Unknown != "" {
		f.What = fmt.Sprintf("What is covered while %s is shared is not known: %s.", s.Name, s.Unknown)
		f.Remedy = "Mend the rescue of the drop, then ask again."
	}
	if len(s.Away) > 0 {
		f.What = fmt.Sprintf("While %s rescues at %s, up to %s, %s at %s.", s.Name, p.at.doc.Name, minutes(s.AwayS), gapWords(s.Away), p.to.doc.Name)
	}
	if len(s.Coming) > 0 {
		if f.What != "" {
			f.What += " "
		}
		f.What += fmt.Sprintf("Coming from %s, %s, %s at %s.", p.at.doc.Name, quantity.Count(p.to.slot.come()).Of("minute"), gapWords(s.Coming), p.to.doc.Name)
	}
	return f, true
}

func minutes(s float64) string {
	if s == 0 {
		return "of unknown length"
	}
	return fmt.Sprintf("%.0f min", s/60)
}

// gapWords is the first of some gaps in words, with how many more there are.
func gapWords(gaps []cover.Gap) string {
	g := &gaps[0]
	words := fmt.Sprintf("%s from %v to %v is %s", g.Name, g.FromM, g.ToM, stateWords[g.State])
	if g.FromM == g.ToM {
		words = fmt.Sprintf("%s at %v is %s", g.Name, g.FromM, stateWords[g.State])
	}
	if n := len(gaps) - 1; n > 0 {
		words += fmt.Sprintf(" (and %s more)", quantity.Count(n).Of("gap"))
	}
	return words
}

var stateWords = map[string]string{"slow": "reached too late", "last-resort": "reached by a last resort alone", "undecided": "not decided", "uncovered": "not covered"}
