package check

import (
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// Standing is how a plan stands: the state it was given last, unless something
// took it back since.
type Standing struct {
	State record.State `json:"state" enum:"draft,checked,released"`
	// Because says what took it back since it was checked or released.
	Because []string `json:"because,omitempty"`
}

// Stand says how a plan stands now. Then is the document as it was checked or
// released, rules the set of rules by which it was; now and report are of today.
func Stand(given record.State, rules int, then, now *drop.Document, report *Report) (Standing, error) {
	if given == record.Draft {
		return Standing{State: record.Draft}, nil
	}
	because, err := drop.Changes(then, now)
	if err != nil {
		return Standing{}, err
	}
	for _, f := range report.Findings {
		if f.Severity == finding.Stop && !(given == record.Checked && ofTheDay(f.Rule)) {
			why := "a stop was found: "
			if fit.NewerThan(f.Rule, rules) {
				why = "new rule in this version: "
			}
			because = append(because, why+f.What)
		}
	}
	because = append(because, known(rules, then, now, report)...)
	if len(because) > 0 {
		return Standing{State: record.Draft, Because: because}, nil
	}
	return Standing{State: given}, nil
}

// known says of whom or what else the team knows otherwise since a plan was given its state:
// its people's figures, and the register of the site. One that was given it before the program
// looked at them stands: nothing has changed by that.
func known(rules int, then, now *drop.Document, report *Report) (because []string) {
	for i := range report.Findings {
		f := &report.Findings[i]
		if !fit.NewerThan(f.Rule, rules) && asKnown(then, f) != asKnown(now, f) {
			because = append(because, f.What)
		}
	}
	return because
}

// asKnown is what the team knew, by a document, of what a finding is about: the measures of
// somebody, or what the register has of an anchor as it stands on the drop's day.
func asKnown(d *drop.Document, f *finding.Finding) string {
	switch f.Rule {
	case "person.listed":
		for i := range d.People {
			if p := &d.People[i]; p.ID == f.Subject.Person && p.Listed != nil {
				return fmt.Sprint(*p.Listed)
			}
		}
	case "anchor.register":
		for i := range d.Anchors {
			if a := &d.Anchors[i]; a.ID == f.Subject.ID && a.Register != nil {
				return fmt.Sprint(a.Register.StrengthKN, " ", a.Register.Stale(d.Day))
			}
		}
	}
	return ""
}

// daysRules are about what can only be done on the day: they stand in the way of
// releasing a plan, not of checking it.
var daysRules = []string{"service.function-check", "check.due"}

func ofTheDay(rule string) bool { return slices.Contains(daysRules, rule) }

// Missing says what keeps a plan from being checked or released, without what somebody
// writes for it; each in words.
func (report *Report) Missing(d *drop.Document, to record.State) []string {
	list := []string{}
	if to == record.Draft {
		return list
	}
	if len(d.Strands) == 0 {
		list = append(list, "no strand hangs on the drop")
	}
	if !hangs(d) {
		list = append(list, "nobody is planned to hang on it: no person has a hold, and no team has a load")
	}
	for _, f := range report.Findings {
		if f.Severity == finding.Stop && (to == record.Released || !ofTheDay(f.Rule)) {
			list = append(list, "a stop is in the way: "+f.What)
		}
	}
	return list
}

// hangs reports whether anybody is planned to hang on the drop.
func hangs(d *drop.Document) bool {
	return d.Team != nil || slices.ContainsFunc(d.People, func(p rig.Person) bool { return len(p.Holds) > 0 })
}

// MaySet reports what keeps a plan from being given a state, each with its place in
// the request: a stop keeps it from being released, one that does not wait for the day
// from being checked; a look without a written reason keeps it from being released, and
// a draft is checked before it is released.
func (report *Report) MaySet(d *drop.Document, to, from record.State, reasons []record.Reason) error {
	var p strict.Faults
	for _, m := range report.Missing(d, to) {
		p.Add(m, "state")
	}
	if to == record.Released && from != record.Checked && from != record.Released {
		p.Add("is checked first, then released", "state")
	}
	for _, f := range report.Findings {
		if f.Severity == finding.Look && to == record.Released && !reasoned(f, reasons) {
			p.Add("no reason is written for this look: "+f.What, "reasons")
		}
	}
	return p.Err()
}

func reasoned(f finding.Finding, reasons []record.Reason) bool {
	return slices.ContainsFunc(reasons, func(r record.Reason) bool {
		return r.Rule == f.Rule && r.What == f.What && strings.TrimSpace(r.Reason) != ""
	})
}
