// Package check says what is found on a drop, what was looked at and what was not, and what
// figures lead to it; which things of a store fit a place, and how a plan stands.
//
// It searches for no move.
package check

import (
	"context"
	"errors"
	"slices"

	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// Report is what a check of a drop says.
type Report struct {
	// Findings are worst first. An empty list means that nothing was found in
	// what was looked at, never that the drop is safe.
	Findings []finding.Finding `json:"findings"`
	Stops    int               `json:"stops"`
	Looks    int               `json:"looks"`
	Notes    int               `json:"notes"`
	// LookedAt lists every rule with the number of things it was applied to.
	LookedAt    []fit.Looked `json:"looked_at"`
	NotLookedAt []string     `json:"not_looked_at"`
	// Unsaid is what of that could not be judged since it is not entered.
	Unsaid  []string        `json:"-"`
	Anchors []AnchorFigures `json:"anchors,omitempty" doc:"with figures only"`
	Strands []StrandFigures `json:"strands,omitempty" doc:"with figures only"`
	Holds   []HoldFigures   `json:"holds,omitempty" doc:"with figures only"`
	Curves  *Curves         `json:"curves,omitempty" doc:"with curves only"`
	Checks  []procedure.Due `json:"checks,omitempty" doc:"with checks only: those the rig needs today"`
}

// Detail says how much a report holds beyond findings.
type Detail struct {
	// Figures adds the figures of anchors, strands and holds, each with its working.
	Figures bool
	// Curves adds the figures of one person's set at every height; Person says
	// whose, of no id or one that does not hang, the first who hangs.
	Curves bool
	Person string
	// Checks adds the function checks that the rig needs today.
	Checks bool
}

var (
	// FindingsOnly leaves all figures out.
	FindingsOnly = Detail{}
	// WithFigures adds them.
	WithFigures = Detail{Figures: true}
)

// Empty reports whether there was nothing to look at, so that nothing could be
// found.
func (report *Report) Empty() bool {
	return !slices.ContainsFunc(report.LookedAt, func(l fit.Looked) bool { return l.Things > 0 })
}

// notLookedAt is what no rule of this version looks at.
var notLookedAt = []string{
	"whether anchors, structure and knots are as described: only a person at the drop can see that",
	"wear of the gear beyond what is recorded",
	"movement of ropes over edges, falling objects, weather, and the people themselves",
	"the moves themselves, step by step, and what one failure would do at each",
	"rescue from every height",
}

// teamUnseen is what the document does not say of a team's rig.
func teamUnseen(r *rig.Rig) []string {
	list := []string{"how the rope lies in the team's brakes, and whether their plates and gates are shut (device.direction, device.open, connector.gate): the document does not say"}
	if r.Team.BackM == nil {
		list = append(list, "how far the team's anchors are back from the edge: 2 m is assumed")
	}
	for _, l := range []*rig.TeamLineView{&r.Team.Main, &r.Team.Belay} {
		if l.Brake != nil && l.Brake.Model.Winding != nil {
			list = append(list, "on which side "+l.Brake.Item.Label+" is loaded, and whether its lock is set for that side: the document does not say")
		}
	}
	return list
}

// deviationUnseen is what the document does not say of deviations.
const deviationUnseen = "the connectors of deviations (deviation.load): the document does not say which they are"

// Drop resolves a drop and checks it. Its error may be a *strict.Error, for a document that
// drop.Read would have refused, or the context's.
func Drop(ctx context.Context, d *drop.Document, known *cover.Cache, detail Detail) (*Report, error) {
	s, err := site.Open(d)
	if err != nil {
		return nil, err
	}
	return Site(ctx, s, known, detail)
}

// Site applies every rule to a site. What is known of rescues is used and added to; nil for
// nothing. Its error is the context's.
func Site(ctx context.Context, s *site.Site, known *cover.Cache, detail Detail) (*Report, error) {
	r, p := s.Rig, s.Policy
	c := &fit.Context{Rig: r, Policy: p}
	found, looked := fit.Check(c)
	var unsaid []string
	unseen := notLookedAt
	if r.Rescue != nil {
		rescues, people, not, err := rescueFindings(ctx, s, known)
		if err != nil {
			return nil, err
		}
		if people > 0 {
			unseen = unseen[:len(unseen)-1] // rescue is the last
		}
		for _, line := range not {
			unseen = append(slices.Clone(unseen), "in a rescue, "+line)
		}
		found = append(found, rescues...)
		finding.Sort(found)
		for _, rule := range cover.Rules {
			looked = append(looked, fit.Looked{Rule: rule.ID, Things: people, What: "person at every metre"})
		}
	}
	if r.Team != nil {
		unseen = append(slices.Clone(unseen), teamUnseen(r)...)
		if r.Team.Body != nil {
			rigged := team.On(s)
			found = append(found, rigged.Findings()...)
			unsaid = rigged.Unseen()
		}
		finding.Sort(found)
		for _, rule := range team.RigRules {
			looked = append(looked, fit.Looked{Rule: rule.ID, Things: 1, What: "team rig"})
		}
	}
	if slices.ContainsFunc(r.Strands, func(s *rig.StrandView) bool {
		return slices.ContainsFunc(s.Marks, func(m rig.Mark) bool { return m.Kind == rig.DeviationMark })
	}) {
		unseen = append(slices.Clone(unseen), deviationUnseen)
	}
	unsaid = append(unsaid, fit.Unseen(c)...)
	report := &Report{
		Findings: found, LookedAt: looked, NotLookedAt: append(slices.Clone(unseen), unsaid...), Unsaid: unsaid,
		Stops: finding.Count(found, finding.Stop), Looks: finding.Count(found, finding.Look), Notes: finding.Count(found, finding.Note),
	}
	if detail.Figures {
		report.addFigures(c)
	}
	if detail.Checks {
		report.Checks = procedure.Today(r)
	}
	if detail.Curves {
		report.Curves = curves(r, p, detail.Person, everyHalfMetre)
	}
	return report, nil
}

// rescueFindings are those on a drop's cover, with how many people it was computed for and what
// of it could not be judged.
// A rescue that cannot be planned at all covers nobody, and says why.
func rescueFindings(ctx context.Context, s *site.Site, known *cover.Cache) (found []finding.Finding, people int, not []string, err error) {
	pl, err := cover.Open(ctx, s, cover.Options{Cache: known})
	var refused *strict.Error
	if errors.As(err, &refused) {
		return []finding.Finding{cover.NotComputed(s.Policy, refused)}, 0, nil, nil
	}
	if err != nil || pl == nil {
		return nil, 0, nil, err
	}
	cover, err := pl.Cover()
	if err != nil {
		return nil, 0, nil, err
	}
	return pl.Findings(cover), len(cover.People), cover.NotLookedAt, nil
}
