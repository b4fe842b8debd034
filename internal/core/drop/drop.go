// Package drop knows the drop document: its types, how it is read, what differs between
// two of them, and how one takes over what a store has.
//
// It knows no rule and no figure of it.
package drop

import (
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
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
	// WornChecks are of what people wear and carry, in the order in which they were done.
	WornChecks []rig.WornCheck `json:"worn_checks,omitempty" maxItems:"1000" doc:"in the order in which they were done"`
	Policy     policy.Policy   `json:"policy"`
}

// Read reads a drop document strictly. Every problem of the first kind found
// (what JSON or a field's limits refuse, else what names or combinations cannot
// be) is in the *strict.Error it returns.
func Read(data []byte) (*Document, error) {
	d, err := ReadKept(data)
	if err != nil {
		return nil, err
	}
	return d, d.Validate()
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
	kept.Checks, kept.PartnerChecks, kept.WornChecks, kept.Policy = nil, nil, nil, policy.Policy{Name: d.Policy.Name}
	kept.People = slices.Clone(d.People)
	for i := range kept.People {
		kept.People[i].Practised, kept.People[i].Listed = nil, nil
	}
	kept.Anchors = slices.Clone(d.Anchors)
	for i := range kept.Anchors {
		kept.Anchors[i].Register = nil
	}
	kept.Items = slices.DeleteFunc(slices.Clone(d.Items), func(i gear.Item) bool { return own(i.ID) })
	kept.Models = slices.DeleteFunc(slices.Clone(d.Models), func(m gear.Model) bool {
		return !slices.ContainsFunc(kept.Items, func(i gear.Item) bool { return i.Model == m.ID })
	})
	return &kept
}

// Validate reports names that lead nowhere and combinations that cannot be.
func (d *Document) Validate() error {
	_, err := d.Rig()
	return err
}

// Rig ties the document's names to things. It gives no figures: they are a site's.
func (d *Document) Rig() (*rig.Rig, error) {
	var faults strict.Faults
	d.Policy.Validate("/policy", &faults)
	r := rig.Resolve(&rig.Parts{
		Day: d.Day, WindMS: d.WindMS, Geometry: d.Geometry, Anchors: d.Anchors, Strands: d.Strands, People: d.People,
		Models: d.Models, Items: d.Items, Checks: d.Checks, Partner: d.PartnerChecks, Worn: d.WornChecks, Team: d.Team, Rescue: d.Rescue,
	}, &faults)
	return r, faults.Err()
}
