package pair_test

import (
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/stance"
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

func onChest(m *made) { m.on = pair.OnChest }

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
		if m.on == pair.OnChest {
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
		return slices.ContainsFunc(found, func(b stance.Breach) bool {
			for _, v := range b.Broken {
				if v.Rule == rule && v.Severity == finding.Stop {
					return true
				}
			}
			return false
		})
	}
	for _, rule := range pair.Rules {
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
