package cover_test

import (
	"cmp"
	"errors"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
)

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
		ev := &cover.Evacuated{Kit: kit, Label: "the kit", MassKg: quantity.Kilograms(cmp.Or(mass, 90)), HeightM: cmp.Or(height, 40)}
		var steps []cover.EvacuationAction
		for _, do := range strings.Fields(lastResort) {
			if do != without {
				steps = append(steps, cover.EvacuationAction{Do: do})
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
	for _, rule := range cover.EvacuationRules {
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

// An evacuation as it is worked by hand replays clean but for what a last resort is, the
// plan has no more steps, whatever is left out of it is a stop or cannot be done, and a
// kit that is too short or for another mass has no plan.
func TestEvacuation(t *testing.T) {
	kit := &gear.Model{Evacuation: &gear.EvacuationModel{MinKg: 40, MaxKg: 150, MaxM: 60, SpeedMS: 0.8}}
	ev := &cover.Evacuated{Kit: kit, Label: "the kit", MassKg: 90, HeightM: 40}
	steps := func(text string) (list []cover.EvacuationAction) {
		for _, w := range strings.Fields(text) {
			list = append(list, cover.EvacuationAction{Do: w})
		}
		return list
	}
	hand := steps(lastResort)
	_, found := ev.Walk(hand)
	if stopped(found) || len(found) != 1 || found[0].Broken[0].Rule != "points.two" {
		t.Errorf("%+v", found)
	}
	plan, err := ev.Find(t.Context())
	if err != nil || len(plan) > len(hand) {
		t.Fatalf("%v, %d steps", err, len(plan))
	}
	sound := func(list []cover.EvacuationAction) bool {
		done, found := ev.Walk(list)
		return len(done) == len(list) && !stopped(found)
	}
	for i := range hand[:len(hand)-1] {
		if sound(slices.Delete(slices.Clone(hand), i, i+1)) {
			t.Errorf("%s is left out, and nobody says so", hand[i].Do)
		}
	}
	held := steps("clear look-kit look-way anchor lock-gate strap open-rail lift-over slack-in look-again lower hold landing go-on land free")
	src := rand.New(rand.NewPCG(7, 7))
	for range 4000 {
		for _, list := range [][]cover.EvacuationAction{slices.Clone(hand), slices.Clone(held)} {
			for range 1 + src.IntN(3) {
				i, j := src.IntN(len(list)), src.IntN(len(list)-1)
				moved := list[i]
				list = slices.Insert(slices.Delete(list, i, i+1), j, moved)
			}
			if wrong := outOfOrder(list); (wrong == "") != sound(list) {
				t.Fatalf("%v: %q, and the walk says the contrary", list, wrong)
			}
		}
	}
	for _, other := range []cover.Evacuated{{Kit: kit, MassKg: 160, HeightM: 40}, {Kit: kit, MassKg: 30, HeightM: 40}, {Kit: kit, MassKg: 90, HeightM: 61}} {
		if _, err := other.Find(t.Context()); !errors.Is(err, search.ErrNone) {
			t.Errorf("%+v: %v", other, err)
		}
	}
}

func stopped(found []stance.Breach) bool {
	return slices.ContainsFunc(found, func(b stance.Breach) bool { return b.Stops() })
}

// outOfOrder is what comes too late or too early in an evacuation that leaves nothing
// out, by a list of what comes before what, made by hand.
func outOfOrder(list []cover.EvacuationAction) string {
	at := func(do string) int {
		return slices.IndexFunc(list, func(a cover.EvacuationAction) bool { return a.Do == do })
	}
	for _, pair := range strings.Fields(`look-kit<anchor anchor<lock-gate anchor<strap strap<lift-over open-rail<lift-over lock-gate<lift-over clear<lift-over
		look-way<lift-over look-way<landing strap<slack-in lift-over<look-again look-again<lower slack-in<lower lower<land landing<land land<free
		lower<hold hold<go-on go-on<land`) {
		before, after, _ := strings.Cut(pair, "<")
		if at(before) >= 0 && at(after) >= 0 && at(before) > at(after) {
			return pair
		}
	}
	return ""
}
