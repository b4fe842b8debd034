package check

import (
	"context"
	"slices"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// ModelAsked asks what would be found of a model before anything of it is there: what rides
// on a rope is tried on one of the store's, under a mass, in each of its modes; a rope,
// a link or a harness with a descender of the store's.
type ModelAsked struct {
	Model gear.Model `json:"model"`
	Rope  string     `json:"rope" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"item id of a rope in the store; of a model of a rope it is not looked at"`
	// MassKg hangs on it, HeightM below the anchor and above the ground.
	MassKg  quantity.Kilograms `json:"mass_kg" exclusiveMinimum:"0" maximum:"400"`
	HeightM quantity.Metres    `json:"height_m,omitempty" minimum:"0" maximum:"1000" doc:"how far down it goes; left out: 20"`
}

// ModelTried is what would be found in one mode.
type ModelTried struct {
	Mode     string            `json:"mode" doc:"of the model; of what has none, of the device it was tried with"`
	With     string            `json:"with,omitempty" doc:"label of the device that it was tried with"`
	Findings []finding.Finding `json:"findings" doc:"those that depend on which thing it is"`
}

// Answer tries the model. A *strict.Error names what cannot be tried.
func (a *ModelAsked) Answer(ctx context.Context, store *drop.Store) ([]ModelTried, error) {
	var faults strict.Faults
	a.Model.Validate("/model", &faults)
	t := &modelTrial{asked: a, models: gear.ModelsByID(store.Models)}
	switch {
	case a.Model.Device != nil && a.Model.Class.RidesRope():
		t.device = &gear.Item{ID: a.Model.ID, Model: a.Model.ID, Label: a.Model.Name}
	case a.Model.Class == gear.Rope, a.Model.Class == gear.Harness, a.Model.Class.Links():
		if t.device = t.descender(store); t.device == nil {
			faults.Addf("/model/class", "there is no descender in the store to try it with")
		}
	default:
		faults.Addf("/model/class", "no rule of a rig reads a %s by itself", a.Model.Class.Words())
	}
	if a.Model.Class == gear.Rope {
		t.rope = &gear.Item{ID: a.Model.ID, Model: a.Model.ID, Label: a.Model.Name, LengthM: 2000}
	} else if at := slices.IndexFunc(store.Items, func(i gear.Item) bool { return i.ID == a.Rope }); at >= 0 && t.models[store.Items[at].Model].Rope != nil {
		t.rope = &store.Items[at]
	} else {
		faults.Addf("/rope", "no rope %q in the store", a.Rope)
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	t.models[a.Model.ID] = &a.Model
	list := []ModelTried{}
	for _, mode := range t.models[t.device.Model].Device.Modes {
		report, err := Drop(ctx, t.rigged(mode.Name), nil, FindingsOnly)
		if err != nil {
			return nil, err
		}
		tried := ModelTried{Mode: mode.Name, Findings: []finding.Finding{}}
		if t.device.ID != a.Model.ID {
			tried.With = t.device.Label
		}
		for _, f := range report.Findings {
			if f.Subject.Item == a.Model.ID && fit.AboutChoice(f.Rule) {
				tried.Findings = append(tried.Findings, f)
			}
		}
		list = append(list, tried)
	}
	return list, nil
}

// modelTrial is a model with what it is tried with.
type modelTrial struct {
	asked        *ModelAsked
	models       map[string]*gear.Model
	device, rope *gear.Item
}

// descender is the first of the store's that is in service.
func (t *modelTrial) descender(store *drop.Store) *gear.Item {
	for i := range store.Items {
		item := &store.Items[i]
		if m := t.models[item.Model]; m != nil && m.Class == gear.Descender && item.State == gear.InService {
			return item
		}
	}
	return nil
}

// fresh is an item as it is tried: in service, examined, and nobody's.
func fresh(i *gear.Item) *gear.Item {
	c := *i
	c.Serial, c.State, c.Reason, c.Events, c.Guest, c.Kit = "trial", gear.InService, "", nil, nil, ""
	c.MadeOn, c.FirstUsedOn, c.ExaminedOn = "", "2026-01-01", "2026-01-01"
	return &c
}

// rigged is a drop with nothing on it but what is tried.
func (t *modelTrial) rigged(mode string) *drop.Document {
	a, device := t.asked, t.models[t.device.Model]
	deep := a.HeightM
	if deep == 0 {
		deep = 20
	}
	d := &drop.Document{
		Format: drop.Format, Version: drop.Version, Name: "trial", Day: "2026-01-02",
		Geometry: rig.Geometry{TopM: deep, TopName: "top", LandingName: "ground"},
		Anchors:  []rig.Anchor{{ID: "anchor", Name: "anchor", Legs: []rig.Leg{{ID: "a", YM: 1, StrengthKN: 100}}}},
		Strands:  []rig.Strand{{ID: "strand", Name: "rope", Role: rig.Main, Set: 1, Anchors: []string{"anchor"}, Ropes: []string{t.rope.ID}, EndStop: rig.EndKnot}},
	}
	h := rig.Hold{
		ID: "hold", Device: t.device.ID, Strand: "strand", Mode: mode, Position: device.Device.Positions[0].Name, Point: gear.Ventral, Threaded: rig.ThreadedRight, Links: []rig.Link{},
	}
	if device.Class == gear.BackupDevice {
		d.Strands[0].Role, h.Point = rig.Backup, gear.Sternal
	}
	if s := device.Device.Sides; s != nil {
		h.Leaves = &rig.Leaves{Side: s.Riding, SeenFrom: "front"}
	}
	person := rig.Person{
		ID: "person", Name: "somebody", MassKg: a.MassKg, AtM: deep / 2, Moves: []manoeuvre.MoveName{"descend"},
		Familiar: []rig.Familiarity{{Model: device.ID, On: d.Day}},
	}
	d.Include(fresh(t.rope), t.models[t.rope.Model])
	d.Include(fresh(t.device), device)
	own := fresh(&gear.Item{ID: a.Model.ID, Model: a.Model.ID, Label: a.Model.Name})
	switch {
	case a.Model.Class == gear.Harness:
		person.Harness = own.ID
		d.Include(own, &a.Model)
	case a.Model.Class.Links():
		l := rig.Link{Item: own.ID}
		if a.Model.Class == gear.Connector {
			l.Gate, l.Lie = rig.GateLocked, rig.LieAlong
		}
		h.Links = append(h.Links, l)
		d.Include(own, &a.Model)
	}
	person.Holds = []rig.Hold{h}
	d.People = []rig.Person{person}
	return d
}
