package run_test

import (
	"errors"
	"math"
	"slices"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/run"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/demo"
)

func contactsOn(t *testing.T, d *drop.Document) *run.Document {
	t.Helper()
	s, err := site.Open(d)
	if err != nil {
		t.Fatal(err)
	}
	out := &run.Document{Drop: "drop"}
	out.Lies(s)
	return out
}

// Rope that hangs lies on an edge where it crosses it, on the rope that is there; what a team
// lets out runs over it, as far as from the edge to the landing; above the anchor, and below
// where a strand goes, there is no edge for it.
func TestContacts(t *testing.T) {
	shaft := func(at float64, protection string) *drop.Document {
		d := demo.Drops()["gate-shaft"]
		d.Geometry.TopM = 50
		d.Geometry.Edges = []rig.Edge{{ID: "sill", Name: "sill", HeightM: quantity.Metres(at), Protection: protection, RopeM: 0.4}}
		return d
	}
	for _, c := range []struct {
		at       float64
		rope     string
		from, to quantity.Metres
	}{
		// The anchors are at 39.1 m; the main's join is at 18 m.
		{39.1, "rope-7", 0, 0.9}, {39.09, "rope-7", 0, 0.91}, {37, "rope-7", 1.6, 3}, {18.1, "rope-7", 20.5, 21.9}, {17.9, "rope-8", 0, 1},
	} {
		d := contactsOn(t, shaft(c.at, "pad"))
		if len(d.Contacts) != 2 || d.Contacts[1].Rope != "rope-9" {
			t.Fatalf("at %v m: %+v", c.at, d.Contacts)
		}
		if got := d.Contacts[0]; got.Rope != c.rope || math.Abs(float64(got.FromM-c.from)) > 1e-6 || math.Abs(float64(got.ToM-c.to)) > 1e-6 || got.Bare || got.Ran {
			t.Errorf("at %v m: %+v, want %+v", c.at, got, c)
		}
	}
	for _, at := range []float64{39.101, 45, 0} {
		if d := contactsOn(t, shaft(at, "pad")); len(d.Contacts) != 0 {
			t.Errorf("an edge at %v m: %+v", at, d.Contacts)
		}
	}
	// One edge that no rope runs over keeps none of the others back.
	several := shaft(45, "pad")
	several.Geometry.Edges = append(several.Geometry.Edges, rig.Edge{ID: "lip", Name: "lip", HeightM: 37, Protection: "pad"})
	if d := contactsOn(t, several); len(d.Contacts) != 2 || d.Contacts[0].Edge != "lip" {
		t.Errorf("%+v", d.Contacts)
	}
	if d := contactsOn(t, shaft(37, "none")); !d.Contacts[0].Bare || d.Contacts[0].Words() != "lay on sill, bare" {
		t.Errorf("%+v", d.Contacts[0])
	}
	// A team's brakes may lie lower than the edge that its ropes run over.
	for _, anchors := range []quantity.Metres{48.8, 47} {
		wall := demo.Drops()["basin-wall"]
		wall.Anchors[0].HeightM, wall.Anchors[1].HeightM = anchors, anchors
		d := contactsOn(t, wall)
		if len(d.Contacts) != 2 {
			t.Fatalf("%+v", d.Contacts)
		}
		for _, c := range d.Contacts {
			if !c.Ran || c.FromM != 0 || math.Abs(float64(c.ToM-47.9)) > 1e-6 || c.Words() != "ran over coping" {
				t.Errorf("%+v", c)
			}
		}
	}
}

// A zone is counted from end A, whichever end was up, and lies on the rope; of what is not known
// nothing is recorded.
func TestZones(t *testing.T) {
	d := &run.Document{Drop: "drop", Contacts: []run.Contact{{Rope: "rope", Edge: "a", Name: "a", FromM: 1, ToM: 3}, {Rope: "rope", Edge: "b", Name: "b", FromM: 20, ToM: 22}, {Rope: "other", Edge: "a", Name: "a", FromM: 1, ToM: 2}}}
	lengths := map[string]quantity.Metres{"rope": 21}
	lines := func(end string) []run.EdgeLine { return []run.EdgeLine{{"rope", "a", end}, {"rope", "b", end}} }
	for end, want := range map[string][][2]quantity.Metres{"A": {{1, 3}, {20, 22}}, "B": {{18, 20}, {0, 1}}, "": nil} {
		var faults strict.Faults
		list := d.Zones("2026-11-24", lines(end), lengths, &faults)
		var got [][2]quantity.Metres
		for _, e := range list {
			got = append(got, [2]quantity.Metres{e.Rope.FromM, e.Rope.ToM})
			if e.Kind != record.RopeNote || e.Item != "rope" || e.Rope.What != record.RopeZone {
				t.Errorf("%+v", e)
			}
		}
		if !slices.Equal(got, want) || faults.Err() != nil {
			t.Errorf("end %q up: %v, %v", end, got, faults.Err())
		}
	}
	for pointer, wrong := range map[string][]run.EdgeLine{"/edges/1": {{"rope", "a", "A"}, {"rope", "a", "B"}}, "/edges/0": {{"rope", "c", "A"}}, "/edges/0/up": {{"other", "a", "B"}}} {
		var faults strict.Faults
		d.Zones("2026-11-24", wrong, lengths, &faults)
		var refused *strict.Error
		if !errors.As(faults.Err(), &refused) || len(refused.Faults) != 1 || refused.Faults[0].Pointer != pointer {
			t.Errorf("%+v: %v", wrong, faults.Err())
		}
	}
}

// What is left to do is of the run's own items, each thing once.
func TestAfter(t *testing.T) {
	at := quantity.Metres(0)
	d := &run.Document{
		Items:    []string{"rope", "cam", "plate", "gone"},
		Contacts: []run.Contact{{Rope: "rope", Name: "lip", Bare: true}, {Rope: "rope", Name: "rail"}},
		Events:   []run.Event{{Kind: run.Quarantine, Items: []string{"cam", "elsewhere"}, Reason: "8 kN"}, {Kind: run.Quarantine, Items: []string{"cam"}, Reason: "8 kN"}, {Kind: run.Height, Items: []string{"rope"}, AtM: &at}},
	}
	item := func(id string, state gear.State, examined gear.Date) gear.Item {
		return gear.Item{ID: id, Label: "the " + id, Model: "m", State: state, ExaminedOn: examined, Reason: "8 kN"}
	}
	now := &run.Kept{
		Items:  []gear.Item{item("rope", gear.InService, "2026-06-20"), item("cam", gear.Quarantine, "2026-06-20"), item("plate", gear.InService, "2026-05-24")},
		Models: []gear.Model{{ID: "m", Class: gear.Descender}},
		Kits:   []gear.Kit{{Name: "bag", IssuedTo: "van", IssuedOn: "2026-11-24", Out: []string{"rope", "plate", "elsewhere"}, Missing: []string{"plate"}}, {Name: "box"}},
		Months: 6, Today: "2026-11-24",
	}
	words := func(list []run.AfterItem) (all []string) {
		for _, i := range list {
			all = append(all, i.Label+": "+i.Why)
		}
		return all
	}
	a := d.AfterOf(now, []run.AwayLine{{Item: "rope", Wet: true, Dirty: true}, {Item: "plate", Dirty: true}, {Person: "ivo", Wet: true}})
	for _, c := range []struct{ got, want []string }{
		{words(a.Dry), []string{"the rope: it was wet"}},
		{words(a.Clean), []string{"the rope: it was dirty", "the plate: it was dirty"}},
		{words(a.LookAt), []string{"the cam: 8 kN", "the rope: it lay on lip, bare", "the cam: in quarantine: 8 kN"}},
		{words(a.NotBack), []string{"the plate: missing from bag", "the rope: bag is out with van since 2026-11-24", "gone: not in the store any more"}},
	} {
		if !slices.Equal(c.got, c.want) {
			t.Errorf("%q, want %q", c.got, c.want)
		}
	}
	// Due to the day a month ahead; what is in quarantine is not in use.
	if len(a.Due) != 2 || a.Due[0].Item != "plate" || a.Due[0].Days != 0 || a.Due[1].Item != "rope" || a.Due[1].Days != 26 {
		t.Errorf("%+v", a.Due)
	}
	if a.Unseen || !(&run.Document{}).AfterOf(now, nil).Unseen {
		t.Errorf("what is not known of a run: %+v", a)
	}
	never := item("never", gear.InService, "")
	never.MadeOn = "2026-01-01"
	now.Items = append(now.Items, never, item("old", gear.Retired, ""))
	if a := d.AfterOf(now, nil); len(a.Due) != 3 || a.Due[0].Item != "never" || a.Due[0].On != "" || !slices.Contains(words(a.LookAt), "the old: retired: 8 kN") {
		t.Errorf("never examined, and retired: %+v", a)
	}
	now.Items = now.Items[:3]
	now.Today = "2026-10-24"
	if a := d.AfterOf(now, nil); len(a.Due) != 1 || a.Dry != nil || a.Clean != nil {
		t.Errorf("a month before: %+v", a)
	}
}
