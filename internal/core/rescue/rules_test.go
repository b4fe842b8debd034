package rescue_test

import (
	"cmp"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rescue"
	"zealousknot/internal/core/school"
)

// fault is one thing done wrongly in what a careful rescuer does.
type fault struct {
	name string
	// was and is are the steps that are done in another way; was is "" where it is the
	// kit, the school or the order that changes.
	was, is string
	made    func(*made)
	school  school.Schools
}

func lift(s string) string {
	return strings.NewReplacer("take-strand theirs\n\tunpark-theirs\n\tlower-theirs\n\ttake-off their-descender", "rig-lift\n\tlift\n\tlet-up\n\ttake-off their-chest").Replace(s)
}

func onChest(m *made) { m.on = rescue.OnChest }

// faults break each rule on a pair by one change of steps that break none.
var faults = map[string][]fault{
	"points.two": {
		{"their backup off, ours is rated for one", "", "", func(m *made) { m.rated = false }, school.Schools{}},
	},
	"moves.bearing": {
		{"their descender off while it bears", "take-strand theirs\n\tunpark-theirs\n\tlower-theirs\n\t", "", nil, school.Schools{}},
	},
	"device.mode": {
		{"ours open, both hands busy", "tie-off\n\tclear-legs", "take-strand own\n\tunpark\n\tclear-legs", nil, school.Schools{}},
		{"parked only, where it is tied off", "tie-off\n", "", nil, school.Schools{Parked: "tied"}},
		{"theirs open, the hand leaves", "unpark-theirs\n", "unpark-theirs\n\tbend own\n", nil, school.Schools{}},
	},
	"device.two": {
		{"the friction for two is forgotten", "bend own\n\t", "", nil, school.Schools{}},
		{"a descender for one", "", "", func(m *made) { m.descender = false }, school.Schools{}},
	},
	"connector.gate": {
		{"the chain is not locked", "chain 2", "chain 2 unlocked", nil, school.Schools{}},
	},
	"rescue.long": {
		{"onto the chain without it", "long-lanyard\n\t", "", nil, school.Schools{}},
		{"not locked", "long-lanyard\n\t", "long-lanyard unlocked\n\t", nil, school.Schools{}},
		{"lifted without it", "long-lanyard\n\t", "", onChest, school.Schools{}},
		{"lifted, the chain not locked", "chain 2", "chain 2 unlocked", onChest, school.Schools{}},
	},
	"rescue.lift": {
		{"the bend first", "let-up", "bend own\n\tlet-up", onChest, school.Schools{}},
		{"their chest ascender kept first", "let-up\n\ttake-off their-chest", "take-off their-chest\n\tlet-up", onChest, school.Schools{}},
	},
	"rescue.stripped": {
		{"their backup off first", "take-strand theirs", "take-off their-backup\n\ttake-strand theirs", nil, school.Schools{}},
	},
	"rescue.strand": {
		{"none in hand", "take-strand theirs\n\t", "", nil, school.Schools{}},
		{"ours in hand", "take-strand theirs", "take-strand own", nil, school.Schools{}},
		{"theirs in hand as ours is opened", "take-strand own\n\t", "", nil, school.Schools{}},
		{"the bend on theirs", "bend own", "bend theirs", nil, school.Schools{}},
	},
	"rescue.legs": {
		{"nobody looked", "clear-legs\n\t", "", nil, school.Schools{}},
	},
}

// Every rule on a pair is broken by one fault in careful steps, and not by the steps; a
// rule without a fault fails here.
func TestEveryPairRule(t *testing.T) {
	breaks := func(t *testing.T, f fault, wrong bool, rule string) bool {
		m := whole()
		if f.made != nil && (wrong || f.was != "") {
			f.made(&m)
		}
		steps := byHand
		if m.on == rescue.OnChest {
			steps = lift(steps)
		}
		if wrong && f.was != "" {
			if !strings.Contains(steps, f.was) {
				t.Fatalf("no step %q", f.was)
			}
			steps = strings.Replace(steps, f.was, f.is, 1)
		}
		sc, start := m.scene(t, 30)
		sc.R.Schools = f.school
		_, found := sc.Walk("", start, read(t, steps))
		return slices.ContainsFunc(found, func(b rescue.Breach) bool {
			for _, v := range b.Broken {
				if v.Rule == rule && v.Severity == finding.Stop {
					return true
				}
			}
			return false
		})
	}
	for _, rule := range rescue.Rules {
		if len(faults[rule.ID]) == 0 {
			t.Errorf("%s: no fault breaks it", rule.ID)
		}
		for _, f := range faults[rule.ID] {
			if breaks(t, f, false, rule.ID) {
				t.Errorf("%s, %s: the careful steps break it", rule.ID, f.name)
			}
			if !breaks(t, f, true, rule.ID) {
				t.Errorf("%s, %s: the fault does not break it", rule.ID, f.name)
			}
		}
	}
}

// lastResort is an evacuation done with care, and how a change of it breaks a rule.
const lastResort = "clear look-kit look-way anchor lock-gate strap open-rail lift-over slack-in look-again lower landing land free"

var evacuationFaults = map[string][]struct {
	without     string
	mass, reach quantity.Metres
	gives       finding.Severity
}{
	"evacuate.last":    {{without: "clear", gives: finding.Stop}},
	"evacuate.look":    {{without: "look-way", gives: finding.Stop}, {without: "look-again", gives: finding.Stop}},
	"evacuate.gate":    {{without: "lock-gate", gives: finding.Stop}},
	"evacuate.slack":   {{without: "slack-in", gives: finding.Stop}},
	"evacuate.landing": {{without: "landing", gives: finding.Stop}},
	"load.rated": {
		{mass: 150.1, gives: finding.Stop}, {mass: 39.9, gives: finding.Stop}, {reach: 60.1, gives: finding.Stop},
		{mass: 150}, {mass: 40}, {reach: 60},
	},
	"points.two": {{gives: finding.Look}},
}

// Every rule on an evacuation is broken by one fault in careful steps, and not just inside
// its limit; the steps themselves break none but the last resort's own.
func TestEveryEvacuationRule(t *testing.T) {
	worst := func(without string, mass, height quantity.Metres, rule string) (w finding.Severity) {
		kit := &gear.Model{Evacuation: &gear.EvacuationModel{MinKg: 40, MaxKg: 150, MaxM: 60, SpeedMS: 0.8}}
		ev := &rescue.Evacuated{Kit: kit, Label: "the kit", MassKg: quantity.Kilograms(cmp.Or(mass, 90)), HeightM: cmp.Or(height, 40)}
		var steps []rescue.EvacuationAction
		for _, do := range strings.Fields(lastResort) {
			if do != without {
				steps = append(steps, rescue.EvacuationAction{Do: do})
			}
		}
		_, found := ev.Walk(steps)
		for _, b := range found {
			for _, v := range b.Broken {
				if v.Rule == rule && (w == "" || v.Severity.Worse(w)) {
					w = v.Severity
				}
			}
		}
		return w
	}
	for _, rule := range rescue.EvacuationRules {
		if len(evacuationFaults[rule.ID]) == 0 {
			t.Errorf("%s: no fault breaks it", rule.ID)
		}
		if w := worst("", 0, 0, rule.ID); w == finding.Stop {
			t.Errorf("%s: the careful steps break it", rule.ID)
		}
		for _, f := range evacuationFaults[rule.ID] {
			if w := worst(f.without, f.mass, f.reach, rule.ID); w != f.gives {
				t.Errorf("%s, %+v: %q", rule.ID, f, w)
			}
		}
	}
}
