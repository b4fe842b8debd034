// Package propose fills what a drop lacks from a store: anchors to be confirmed, ropes, and
// for each person a harness, a descender, a backup device with its links, and what the moves
// ahead need. What is there already stays.
//
// It knows how things are searched for. Whether a thing fits is said by the rules of package
// fit alone, asked of the drop with the thing in its place.
package propose

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// RigAsked asks for what a drop lacks.
type RigAsked struct {
	Drop drop.Document `json:"drop"`
	// Parts narrows it.
	Parts []string `json:"parts,omitempty" maxItems:"60" pattern:"^(anchors|strands|people(/[a-z0-9][a-z0-9-]{0,63})?)$" doc:"anchors, strands, people, or people/ID for one of them; left out: all"`
}

// Stock is what there is to choose from.
type Stock struct {
	Store *drop.Store
	// Busy says where an item is on the day besides: on which other drop.
	Busy map[string]string
	// Away are the names of those of the team who are not on the drop: what is issued to them
	// stays with them.
	Away []string
}

// Proposal is the drop with what is proposed for it.
type Proposal struct {
	Drop    *drop.Document `json:"drop"`
	Choices []Proposed     `json:"choices" doc:"what was put in, in the order of the drop"`
	// Missing is what could not be found, and what stays wrong.
	Missing []Missing `json:"missing"`
	// Undecided: the search was cut off.
	Undecided bool `json:"undecided,omitempty" doc:"the search was cut off: what is missing may be there after all"`
}

// Proposed is one thing that was put in.
type Proposed struct {
	Path string `json:"path" doc:"JSON Pointer into the drop"`
	Item string `json:"item,omitempty" doc:"item id; left out where it is no item"`
	Why  string `json:"why"`
	Next string `json:"next,omitempty" doc:"label of the next best; left out: there is none"`
}

// Missing is something that stays open.
type Missing struct {
	Rule     string `json:"rule" doc:"of the rule that is not kept"`
	What     string `json:"what"`
	Smallest string `json:"smallest" doc:"the smallest thing that would help"`
}

// MaxTries is how many partial rigs one proposal looks at: about a second.
const MaxTries = 4000

// Answer proposes. A *strict.Error names what cannot be asked.
func (a *RigAsked) Answer(ctx context.Context, stock Stock) (*Proposal, error) {
	if err := a.Drop.Validate(); err != nil {
		return nil, err
	}
	doc := fork(&a.Drop)
	for i, p := range a.Parts {
		if id, one := strings.CutPrefix(p, "people/"); one && !slices.ContainsFunc(doc.People, func(p rig.Person) bool { return p.ID == id }) {
			return nil, &strict.Error{Faults: []strict.Fault{{Pointer: fmt.Sprintf("/parts/%d", i), Detail: "nobody of this id is on the drop"}}}
		}
	}
	s := newSearch(ctx, a, doc, stock)
	s.anchors()
	s.plan()
	if err := s.run(); err != nil {
		return nil, err
	}
	return s.answer()
}

// wants reports whether a part is requested.
func (a *RigAsked) wants(part string) bool {
	return len(a.Parts) == 0 || slices.ContainsFunc(a.Parts, func(p string) bool { return p == part || strings.HasPrefix(part, p+"/") })
}

// fork is a copy to which ropes, holds and what is carried can be added.
func fork(d *drop.Document) *drop.Document {
	c := *d
	c.Anchors, c.Strands, c.Items, c.Models = slices.Clip(d.Anchors), slices.Clip(d.Strands), slices.Clip(d.Items), slices.Clip(d.Models)
	c.People = slices.Clone(d.People)
	for i := range c.People {
		p := &c.People[i]
		p.Holds, p.Carries, p.Moves = slices.Clip(p.Holds), slices.Clip(p.Carries), slices.Clip(p.Moves)
	}
	return &c
}

// railM is how high above the top an anchor is proposed: at a rail, above who stands there.
const railM = 1

// roles are those of the two strands of a set.
var roles = []rig.Role{rig.Main, rig.Backup}

// anchors finds for each strand that is missing an anchor of its own, and proposes one
// where there is none. Whether they are independent is for somebody to see: until then
// anchor.confirm says so.
func (s *search) anchors() {
	unused := s.freeAnchors()
	for i, role := range roles {
		if has(s.doc, role) {
			continue
		}
		switch {
		case len(unused) > 0:
			s.anchorOf[role], unused = unused[0], unused[1:]
		case s.asked.wants("anchors"):
			s.anchorOf[role] = s.addAnchor(string(role)+" anchor", metres(float64(i)-0.5))
		}
	}
}

// freeAnchors are those from which nothing hangs and that hold no mark, highest first.
func (s *search) freeAnchors() (list []string) {
	taken := map[string]bool{}
	for _, st := range s.doc.Strands {
		for _, id := range st.Anchors {
			taken[id] = true
		}
		for _, m := range st.Marks {
			taken[m.Anchor] = true
		}
	}
	sorted := slices.Clone(s.doc.Anchors)
	slices.SortStableFunc(sorted, func(a, b rig.Anchor) int { return cmp.Compare(b.HeightM, a.HeightM) })
	for _, a := range sorted {
		if !taken[a.ID] && !a.Sling {
			list = append(list, a.ID)
		}
	}
	return list
}

func (s *search) addAnchor(name string, x quantity.Metres) string {
	id := free(strings.ReplaceAll(name, " ", "-"), func(id string) bool {
		return slices.ContainsFunc(s.doc.Anchors, func(o rig.Anchor) bool { return o.ID == id })
	})
	s.fixed = append(s.fixed, Proposed{Path: fmt.Sprintf("/anchors/%d", len(s.doc.Anchors)), Why: "at the top, to be confirmed: nobody has seen it"})
	s.doc.Anchors = append(s.doc.Anchors, rig.Anchor{
		ID: id, Name: name, XM: x, HeightM: s.doc.Geometry.TopM + railM, Proposed: true, Legs: []rig.Leg{{ID: id + "-point", YM: 0.5}},
	})
	return id
}

// answer puts the picks into the drop and says what stays open.
func (s *search) answer() (*Proposal, error) {
	d, picks := s.built()
	byItem := map[string]string{}
	for _, p := range s.taken() {
		if len(p.items) > 0 {
			byItem[p.items[0].ID] = s.nextBest(p)
		}
	}
	for i := range picks {
		picks[i].Next = byItem[picks[i].Item]
	}
	out := &Proposal{Drop: d, Choices: append(append([]Proposed{}, s.fixed...), picks...), Missing: slices.Clone(s.without), Undecided: s.cut}
	slices.SortStableFunc(out.Choices, func(a, b Proposed) int { return cmp.Compare(order(a.Path), order(b.Path)) })
	// What is missing both in a hold and for a move is reported once.
	told := map[lacking]bool{}
	for _, sl := range s.slots() {
		if s.filled[sl] != nil {
			continue
		}
		if sl.short != nil {
			sl.class = sl.short()
		}
		out.Undecided = out.Undecided || !s.proved(sl)
		if key := s.about(sl); !told[key] {
			told[key] = true
			out.Missing = append(out.Missing, s.lack(sl))
		}
	}
	again := func(f finding.Finding) bool {
		for key := range told {
			if f.Rule == "kit.missing" && f.Subject.Person == key.person && strings.Contains(f.What, key.class) {
				return true
			}
		}
		return false
	}
	report, err := check.Drop(s.ctx, d, nil, check.FindingsOnly)
	if err != nil {
		return nil, err
	}
	for _, f := range report.Findings {
		if f.Severity == finding.Stop && !onTheDay(f.Rule) && !again(f) {
			out.Missing = append(out.Missing, Missing{Rule: f.Rule, What: f.What, Smallest: f.Remedy})
		}
	}
	if out.Missing == nil {
		out.Missing = []Missing{}
	}
	return out, nil
}

// order puts anchors before strands, and those before people, each in their order.
func order(path string) int {
	parts := strings.Split(path, "/")
	n, _ := strconv.Atoi(parts[2])
	return n + 1000*slices.Index([]string{"anchors", "strands", "people"}, parts[1])
}

// lacking is who lacks what class of thing, in words; nobody, of a strand.
type lacking struct{ person, class string }

func (s *search) about(sl *slot) lacking {
	l := lacking{class: sl.class.Words()}
	if sl.person >= 0 {
		l.person = s.doc.People[sl.person].ID
	}
	return l
}

// onTheDay are rules that only what is done on the day clears.
func onTheDay(rule string) bool { return rule == "service.function-check" || rule == "check.due" }

// free is a name that nothing has: itself, or with a number.
func free(name string, used func(string) bool) string {
	id := name
	for n := 2; used(id); n++ {
		id = fmt.Sprintf("%s-%d", name, n)
	}
	return id
}
