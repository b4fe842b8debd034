package drop

import (
	"context"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// ModelAsked asks what would be found of a model that rides on a rope, before anything of
// it is there: on a rope of the store, under a mass, in each of its modes.
type ModelAsked struct {
	Model gear.Model `json:"model"`
	Rope  string     `json:"rope" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"item id of a rope in the store"`
	// MassKg hangs on it, HeightM below the anchor and above the ground.
	MassKg  quantity.Kilograms `json:"mass_kg" exclusiveMinimum:"0" maximum:"400"`
	HeightM quantity.Metres    `json:"height_m,omitempty" minimum:"0" maximum:"1000" doc:"how far down it goes; left out: 20"`
}

// ModelTried is what would be found in one mode.
type ModelTried struct {
	Mode     string            `json:"mode"`
	Findings []finding.Finding `json:"findings" doc:"those that depend on which thing it is"`
}

// Answer tries the model. A *strict.Error names what cannot be tried.
func (a *ModelAsked) Answer(ctx context.Context, store *Store) ([]ModelTried, error) {
	var faults strict.Faults
	a.Model.Validate("/model", &faults)
	if a.Model.Device == nil || !a.Model.Class.RidesRope() {
		faults.Addf("/model/class", "only what rides on a rope is tried on one")
	}
	at := slices.IndexFunc(store.Items, func(i gear.Item) bool { return i.ID == a.Rope })
	var rope *gear.Model
	if at >= 0 {
		rope = gear.ModelsByID(store.Models)[store.Items[at].Model]
	}
	if rope == nil || rope.Rope == nil {
		faults.Addf("/rope", "no rope %q in the store", a.Rope)
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	list := []ModelTried{}
	for _, mode := range a.Model.Device.Modes {
		report, err := a.rigged(&store.Items[at], rope, mode.Name).CheckIn(ctx, Env{}, FindingsOnly)
		if err != nil {
			return nil, err
		}
		tried := ModelTried{Mode: mode.Name, Findings: []finding.Finding{}}
		for _, f := range report.Findings {
			if f.Subject.Item == a.Model.ID && fit.AboutChoice(f.Rule) {
				tried.Findings = append(tried.Findings, f)
			}
		}
		list = append(list, tried)
	}
	return list, nil
}

// rigged is a drop with nothing on it but the model, in service, on the rope.
func (a *ModelAsked) rigged(rope *gear.Item, model *gear.Model, mode string) *Document {
	deep := a.HeightM
	if deep == 0 {
		deep = 20
	}
	item := gear.Item{ID: a.Model.ID, Model: a.Model.ID, Serial: "trial", Label: a.Model.Name, State: gear.InService, FirstUsedOn: "2026-01-01", ExaminedOn: "2026-01-01"}
	hung := *rope
	hung.State, hung.Reason, hung.Events, hung.Guest = gear.InService, "", nil, nil
	d := &Document{
		Format: Format, Version: Version, Name: "trial", Day: "2026-01-02",
		Geometry: rig.Geometry{TopM: deep, TopName: "top", LandingName: "ground"},
		Anchors:  []rig.Anchor{{ID: "anchor", Name: "anchor", Legs: []rig.Leg{{ID: "a", YM: 1, StrengthKN: 100}}}},
		Strands:  []rig.Strand{{ID: "strand", Name: "rope", Role: rig.Main, Set: 1, Anchors: []string{"anchor"}, Ropes: []string{hung.ID}, EndStop: rig.EndKnot}},
	}
	h := rig.Hold{
		ID: "hold", Device: item.ID, Strand: "strand", Mode: mode, Position: a.Model.Device.Positions[0].Name, Point: gear.Ventral, Threaded: rig.ThreadedRight, Links: []rig.Link{},
	}
	if a.Model.Class == gear.BackupDevice {
		d.Strands[0].Role, h.Point = rig.Backup, gear.Sternal
	}
	if s := a.Model.Device.Sides; s != nil {
		h.Leaves = &rig.Leaves{Side: s.Riding, SeenFrom: "front"}
	}
	d.People = []rig.Person{{
		ID: "person", Name: "somebody", MassKg: a.MassKg, AtM: deep / 2, Moves: []string{"descend"}, Holds: []rig.Hold{h},
		Familiar: []rig.Familiarity{{Model: a.Model.ID, On: d.Day}},
	}}
	d.Include(&hung, model)
	d.Include(&item, &a.Model)
	return d
}
