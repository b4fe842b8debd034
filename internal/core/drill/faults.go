package drill

import (
	"context"
	"fmt"
	"slices"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
)

// Fault is one fault with what the rules say of it.
type Fault struct {
	Rule string `json:"rule" maxLength:"60"`
	// Subject is what it is at.
	Subject finding.Subject `json:"subject"`
	Planted string          `json:"planted" maxLength:"400" doc:"the fault in words"`
	// Follows are rules that fire because of it.
	Follows []string `json:"follows,omitempty" maxItems:"20"`
	// Finding is what the engine says, with its working.
	Finding *finding.Finding `json:"finding,omitempty"`
}

// What is a fault that one may point at, by its words.
type What struct {
	What string `json:"what"`
	Rule string `json:"rule"`
	// At are the kinds of thing that it may be pointed out at.
	At []finding.Kind `json:"at,omitempty"`
}

// Whats are all that one may point at on a rig.
func Whats() (list []What) {
	for i := range catalogue {
		list = append(list, What{catalogue[i].what, catalogue[i].rule, pointedAt[catalogue[i].rule]})
	}
	return list
}

// at is what one fault differs from another by.
type at struct {
	rule string
	kind finding.Kind
	id   string
}

func where(f *finding.Finding) at { return at{f.Rule, f.Subject.Kind, f.Subject.ID} }

// followsOf are the rules that may follow from one.
func followsOf(rule string) (list []string) {
	for i := range catalogue {
		if catalogue[i].rule == rule {
			list = append(list, catalogue[i].follows...)
		}
	}
	return list
}

// present says which faults are on a drop: each stop that does not follow from another that
// is near it. A rule that fires at two things is two faults. All that was found is given too.
func present(ctx context.Context, s *site.Site) ([]Fault, []finding.Finding, error) {
	report, err := check.Site(ctx, s, nil, check.FindingsOnly)
	if err != nil {
		return nil, nil, err
	}
	var stops []finding.Finding
	for i := range report.Findings {
		if f := &report.Findings[i]; counts(f) {
			stops = append(stops, *f)
		}
	}
	list := []Fault{}
	seen := map[at]bool{}
	for i := range stops {
		f := &stops[i]
		if seen[where(f)] || slices.ContainsFunc(stops, func(g finding.Finding) bool { return from(f, &g) }) {
			continue
		}
		seen[where(f)] = true
		fault := Fault{Rule: f.Rule, Subject: f.Subject, Planted: f.What, Finding: f}
		for j := range stops {
			if g := &stops[j]; from(g, f) && !slices.Contains(fault.Follows, g.Rule) {
				fault.Follows = append(fault.Follows, g.Rule)
			}
		}
		list = append(list, fault)
	}
	return list, report.Findings, nil
}

// counts reports whether a finding is a fault: a stop, or a look of a rule that is planted.
func counts(f *finding.Finding) bool {
	return f.Severity == finding.Stop || f.Severity == finding.Look && slices.Contains(looks, f.Rule)
}

// from reports whether a finding may follow from another that is near it.
func from(f, cause *finding.Finding) bool {
	return f.Rule != cause.Rule && slices.Contains(followsOf(cause.Rule), f.Rule) && near(&f.Subject, &cause.Subject)
}

// near reports whether two subjects have to do with each other: of one person, of one strand,
// or of the whole drop. An anchor, a mark and an edge have to do with all.
func near(a, b *finding.Subject) bool {
	whole := func(s *finding.Subject) bool {
		return s.Kind == finding.Anchor || s.Kind == finding.Mark || s.Kind == finding.Edge || s.Kind == finding.Drop || s.Kind == finding.Strand
	}
	return whole(a) || whole(b) || a.Person == b.Person || a.Strand != "" && a.Strand == b.Strand
}

// sound records what an exercise takes as done: the checks of the day.
func sound(d *drop.Document, r *rig.Rig) {
	for _, h := range r.EveryHold() {
		if state, _ := procedure.OfHold(r, h); state != procedure.Passed {
			d.Checks = append(d.Checks, rig.FunctionCheck{Item: h.Device.Item.ID, Rope: h.Strand.RopeAt(h.HeightM()).Item.ID, On: d.Day, By: "exercise", Passed: true, Proofs: done(h)})
		}
	}
	for _, s := range r.Strands {
		for _, rope := range s.Ropes {
			d.Checks = append(d.Checks, rig.FunctionCheck{Item: rope.Item.ID, Rope: rope.Item.ID, On: d.Day, By: "exercise", Passed: true})
		}
	}
	for _, p := range r.People {
		if len(p.Holds) > 0 {
			if worn := procedure.AllSound(p); worn != nil {
				d.WornChecks = append(d.WornChecks, rig.WornCheck{Person: p.ID, Items: worn, On: d.Day, By: "exercise"})
			}
			d.PartnerChecks = append(d.PartnerChecks, rig.PartnerCheck{Person: p.ID, Rigging: procedure.Rigging(p), On: d.Day, By: "exercise"})
		}
	}
}

// done are the proofs of a device, each done.
func done(h *rig.HoldView) (list []rig.ProofResult) {
	for _, p := range procedure.Of(h.Device.Model) {
		list = append(list, rig.ProofResult{Proof: p.ID, Did: true})
	}
	return list
}

// base is a sound rig to begin with: the drop that was given, or a made-up one.
func (m *maker) base(ctx context.Context, shape shape) (*site.Site, error) {
	var d *drop.Document
	var err error
	if m.Drop != nil {
		d = clone(m.Drop)
	} else if d, err = m.madeUp(shape); err != nil {
		return nil, err
	}
	r, err := d.Rig()
	if err != nil {
		return nil, err
	}
	d.Rescue = nil // who would come is another exercise
	sound(d, r)
	s, err := site.Open(d)
	if err != nil {
		return nil, err
	}
	report, err := check.Site(ctx, s, nil, check.FindingsOnly)
	if err != nil {
		return nil, err
	}
	if wrong := find(report.Findings, counts); wrong != nil || report.Empty() {
		why := "nothing hangs on it"
		if wrong != nil {
			why = wrong.What
		}
		err = refused("/drop", "an exercise begins with a sound rig; this one is not: %s", why)
		if m.Drop != nil {
			return nil, m.stop(err)
		}
		return nil, err
	}
	return s, nil
}

// faults makes an exercise with as many faults as its level has, or none.
func (m *maker) faults(ctx context.Context) error {
	if m.e.Level > 1 && m.rnd.IntN(4) == 0 {
		return m.stepFault(ctx)
	}
	s, err := m.base(ctx, shape(m.rnd.IntN(int(shapes))))
	if err != nil {
		return err
	}
	n := m.count()
	found := []Fault{}
	for _, p := range shuffled(m.rnd, m.weighed()) {
		if len(found) == n {
			break
		}
		places := p.places(s.Rig)
		if len(places) == 0 {
			continue
		}
		with := clone(s.Drop)
		one(m.rnd, places)(with)
		then, err := site.Open(with)
		if err != nil {
			continue // it cannot be so
		}
		// The rules must say of each what is declared, and nothing else.
		more, _, err := present(ctx, then)
		if err != nil {
			return err
		}
		of := func(f Fault) bool { return f.Rule == p.rule }
		if len(more) == len(found)+1 && !slices.ContainsFunc(found, of) && slices.ContainsFunc(more, of) {
			s, found = then, more
		}
	}
	if len(found) < n {
		return refused("/drop", "%d faults cannot be planted on this rig so that each stands by itself", n)
	}
	m.e.Drop, m.e.Answers = s.Drop, &Answers{Faults: append([]Fault{}, found...)}
	return nil
}

// count is how many faults a level has: none in one of six.
func (m *maker) count() int {
	if m.rnd.IntN(6) == 0 {
		return 0
	}
	least := []int{1, 1, 2, 3}[m.e.Level-1]
	most := []int{1, 2, 3, 4}[m.e.Level-1]
	return least + m.rnd.IntN(most-least+1)
}

// weighed are the faults of a level: at the first those where everybody looks, later more of
// those where nobody does.
func (m *maker) weighed() (list []*planted) {
	for i := range catalogue {
		p := &catalogue[i]
		if p.rare && m.e.Level == 1 {
			continue
		}
		list = append(list, p)
		if p.rare && m.e.Level > 2 {
			list = append(list, p)
		}
	}
	return list
}

// step is the subject of a fault in a list of steps.
func step(n int) finding.Subject {
	return finding.Subject{Kind: finding.Step, ID: fmt.Sprint(n), Label: fmt.Sprintf("step %d", n)}
}
