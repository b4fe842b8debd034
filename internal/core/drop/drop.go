// Package drop ties the core together: the drop document, how it is read, and
// the check of a whole drop.
//
// It knows the document's format. Rules and figures are in the packages below.
package drop

import (
	"context"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rescue"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// Format and Version mark a drop document of the kind this program writes.
const (
	Format  = "drop"
	Version = 1
)

// A Document is one drop with everything that is needed to check it: geometry,
// anchors, strands, people, and the items they use with their models.
type Document struct {
	Format  string    `json:"format" enum:"drop" doc:"always: drop"`
	Version int       `json:"version" minimum:"1" maximum:"1" doc:"version of the format"`
	Name    string    `json:"name" minLength:"1" maxLength:"80"`
	Site    string    `json:"site,omitempty" maxLength:"80"`
	Day     gear.Date `json:"day" format:"date" doc:"the day the drop is checked for"`
	Note    string    `json:"note,omitempty" maxLength:"2000"`
	// WindMS is the day's wind across the drop.
	WindMS quantity.MetresPerSecond `json:"wind_m_s,omitempty" minimum:"0" maximum:"60" doc:"the day's wind; left out: none"`

	Geometry rig.Geometry        `json:"geometry"`
	Anchors  []rig.Anchor        `json:"anchors,omitempty" maxItems:"50"`
	Strands  []rig.Strand        `json:"strands,omitempty" maxItems:"40"`
	People   []rig.Person        `json:"people,omitempty" maxItems:"30"`
	Team     *rig.TeamRig        `json:"team,omitempty" doc:"what is rigged at the top for lowering and raising"`
	Rescue   *rig.Rescue         `json:"rescue,omitempty" doc:"who comes when somebody cannot help themselves, and how"`
	Models   []gear.Model        `json:"models,omitempty" maxItems:"300"`
	Items    []gear.Item         `json:"items,omitempty" maxItems:"600"`
	Checks   []rig.FunctionCheck `json:"checks,omitempty" maxItems:"1000"`
	// PartnerChecks are of people's rigging.
	PartnerChecks []rig.PartnerCheck `json:"partner_checks,omitempty" maxItems:"1000"`
	Policy        policy.Policy      `json:"policy"`
}

// Read reads a drop document strictly. Every problem of the first kind found
// (what JSON or a field's limits refuse, else what names or combinations cannot
// be) is in the *strict.Error it returns.
func Read(data []byte) (*Document, error) {
	d, _, err := read(data)
	return d, err
}

// ReadKept reads a document as it was kept: what the store has of its items, and the team's
// policy, may not be in it yet, so that names are not tied to things.
func ReadKept(data []byte) (*Document, error) {
	d := new(Document)
	return d, strict.Read(data, d)
}

// Kept is the document as it is kept: without what is the store's and the team's, which
// whoever reads it gets as it then is. Own reports whether an item is the store's.
func (d *Document) Kept(own func(item string) bool) *Document {
	kept := *d
	kept.Checks, kept.PartnerChecks, kept.Policy = nil, nil, policy.Policy{Name: d.Policy.Name}
	kept.Items = slices.DeleteFunc(slices.Clone(d.Items), func(i gear.Item) bool { return own(i.ID) })
	kept.Models = slices.DeleteFunc(slices.Clone(d.Models), func(m gear.Model) bool {
		return !slices.ContainsFunc(kept.Items, func(i gear.Item) bool { return i.Model == m.ID })
	})
	return &kept
}

// ReadAndCheck is Read and Check in one, with the names tied to things once.
func ReadAndCheck(ctx context.Context, env Env, data []byte, detail Detail) (*Document, *Report, error) {
	d, r, err := read(data)
	if err != nil {
		return nil, nil, err
	}
	report, err := d.report(ctx, env, r, detail)
	return d, report, err
}

func read(data []byte) (*Document, *rig.Rig, error) {
	d := new(Document)
	if err := strict.Read(data, d); err != nil {
		return nil, nil, err
	}
	r, err := d.resolve()
	if err != nil {
		return nil, nil, err
	}
	return d, r, nil
}

// Validate reports names that lead nowhere and combinations that cannot be.
func (d *Document) Validate() error {
	_, err := d.resolve()
	return err
}

// Rigging names the rigging of a person as it is in the document; empty for nobody
// of this id.
func (d *Document) Rigging(person string) string {
	r, err := d.resolve()
	if err != nil {
		return ""
	}
	for _, p := range r.People {
		if p.ID == person {
			return procedure.Rigging(p)
		}
	}
	return ""
}

// resolve ties the document's names to things.
func (d *Document) resolve() (*rig.Rig, error) {
	var faults strict.Faults
	d.Policy.Validate("/policy", known, &faults)
	r := rig.Resolve(&rig.Parts{
		Day: d.Day, WindMS: d.WindMS, Geometry: d.Geometry, Anchors: d.Anchors, Strands: d.Strands, People: d.People,
		Models: d.Models, Items: d.Items, Checks: d.Checks, Partner: d.PartnerChecks, Team: d.Team, Rescue: d.Rescue,
	}, &faults)
	return r, faults.Err()
}

// Report is what a check of a drop says.
type Report struct {
	// Findings are worst first. An empty list means that nothing was found in
	// what was looked at, never that the drop is safe.
	Findings []finding.Finding `json:"findings"`
	Stops    int               `json:"stops"`
	Looks    int               `json:"looks"`
	Notes    int               `json:"notes"`
	// LookedAt lists every rule with the number of things it was applied to.
	LookedAt    []fit.Looked    `json:"looked_at"`
	NotLookedAt []string        `json:"not_looked_at"`
	Anchors     []AnchorFigures `json:"anchors,omitempty" doc:"with figures only"`
	Strands     []StrandFigures `json:"strands,omitempty" doc:"with figures only"`
	Holds       []HoldFigures   `json:"holds,omitempty" doc:"with figures only"`
	Curves      *Curves         `json:"curves,omitempty" doc:"with curves only"`
	Checks      []procedure.Due `json:"checks,omitempty" doc:"with checks only: those the rig needs today"`
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
	for _, l := range []*rig.TeamLineView{&r.Team.Main, &r.Team.Belay} {
		if l.Brake != nil && l.Brake.Model.Winding != nil {
			list = append(list, "on which side "+l.Brake.Item.Label+" is loaded, and whether its lock is set for that side: the document does not say")
		}
	}
	return list
}

// deviationUnseen is what the document does not say of deviations.
const deviationUnseen = "the connectors of deviations (deviation.load): the document does not say which they are"

// Check applies every rule to the document and gives the figures too. It fails
// only for a document that Read would have refused.
func (d *Document) Check() (*Report, error) {
	return d.CheckIn(context.Background(), Env{}, WithFigures)
}

// CheckIn is Check with a choice of what the report holds. Its error may be the context's.
func (d *Document) CheckIn(ctx context.Context, env Env, detail Detail) (*Report, error) {
	r, err := d.resolve()
	if err != nil {
		return nil, err
	}
	return d.report(ctx, env, r, detail)
}

func (d *Document) report(ctx context.Context, env Env, r *rig.Rig, detail Detail) (*Report, error) {
	p := d.Policy.With()
	figures(r, p)
	c := &fit.Context{Rig: r, Policy: p}
	found, looked := fit.Check(c)
	unseen := notLookedAt
	if r.Rescue != nil {
		rescues, people, err := d.rescueFindings(ctx, env, r, p)
		if err != nil {
			return nil, err
		}
		if people > 0 {
			unseen = unseen[:len(unseen)-1] // rescue is the last
		}
		found = append(found, rescues...)
		finding.Sort(found)
		for _, rule := range rescue.RigRules {
			looked = append(looked, fit.Looked{Rule: rule.ID, Things: people, What: "person at every metre"})
		}
	}
	if r.Team != nil {
		unseen = append(slices.Clone(unseen), teamUnseen(r)...)
		found = append(found, teamFindings(r, p)...)
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
	report := &Report{
		Findings: found, LookedAt: looked, NotLookedAt: unseen,
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
