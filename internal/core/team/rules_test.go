package team_test

import (
	"slices"
	"testing"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/team"
)

// trial is an action on a state, or a state alone, and whether a rule then stops it.
type trial struct {
	name   string
	change func(r *team.Rig, s *team.State)
	do     team.Action
	stops  bool
}

// ready is both strands loaded, proved, parked and with a hand on them, the load at 60 m.
func ready() team.State {
	brake := team.Half{Loaded: true, Proved: true, Parked: true, Bend: true, Hand: 1}
	s := team.State{Main: brake, Belay: brake, At: 6000, Hangs: true}
	s.Belay.Hand = 2
	return s
}

func live(_ *team.Rig, s *team.State) { s.Main.Parked, s.Belay.Parked = false, false }

func hauling(_ *team.Rig, s *team.State) {
	s.Main.Parked, s.Belay.Parked, s.Main.Haul, s.Main.Pull = false, false, 3, true
}

func grabbed(_ *team.Rig, s *team.State) { s.Main.Grab = team.Holding }

func toothed(_ *team.Rig, s *team.State) { s.Main.Toothed = team.TeethBear }

// wheeled hangs on a winding descender whose lock is set and catches.
func wheeled(r *team.Rig, s *team.State) {
	r.Main.Winding = &gear.Winding{LiftPerTurnM: 0.12, Lock: "pin", LockSides: "left", SetFor: "load-left", SlackAfterM: 0.6}
	s.Main.Hand, s.Main.Wheel = 0, team.Wheel{Set: true}
}

// then does one change after another.
func then(all ...func(*team.Rig, *team.State)) func(*team.Rig, *team.State) {
	return func(r *team.Rig, s *team.State) {
		for _, f := range all {
			f(r, s)
		}
	}
}

func onMain(change func(h *team.Half)) func(*team.Rig, *team.State) {
	return func(_ *team.Rig, s *team.State) { change(&s.Main) }
}

var stays = team.Action{}

// trials show for every rule on a team's steps that it fires, and that it does not just
// inside its limit.
var trials = map[string][]trial{
	"points.two": {
		{"one strand holds nothing", onMain(func(h *team.Half) { h.Proved = false }), stays, true},
		{"a brake that runs, hands off", func(r *team.Rig, s *team.State) {
			live(r, s)
			r.Main.HandsOff, r.Belay.HandsOff = gear.Runs, gear.Runs
			s.Belay.Hand = 1
		}, stays, true},
		{"both hold", nil, stays, false},
		{"hauled, belay parked", then(hauling, func(_ *team.Rig, s *team.State) { s.Belay.Parked = true }), team.Action{Do: team.Haul, Line: "main", AtM: 61}, true},
		{"hauled, belay taken in", hauling, team.Action{Do: team.Haul, Line: "main", AtM: 61}, false},
	},
	"moves.bearing": {
		{"a grab that bears comes off", grabbed, team.Action{Do: team.TakeGrab, Line: "main"}, true},
		{"a grab on slack comes off", onMain(func(h *team.Half) { h.Grab = team.OnSlack }), team.Action{Do: team.TakeGrab, Line: "main"}, false},
		{"a haul comes off under load", hauling, team.Action{Do: team.Strip, Line: "main"}, true},
		{"a haul comes off, the brake bears", then(hauling, onMain(func(h *team.Half) { h.Pull = false })), team.Action{Do: team.Strip, Line: "main"}, false},
		{"the grab of a haul is set out under load", then(hauling, onMain(func(h *team.Half) { h.Spent = true })), team.Action{Do: team.Advance, Line: "main"}, true},
		{"the grab of a haul is set out", then(hauling, onMain(func(h *team.Half) { h.Spent, h.Pull = true, false })), team.Action{Do: team.Advance, Line: "main"}, false},
		{"a haul is built anew under load", hauling, team.Action{Do: team.Build, Line: "main", Ratio: 5}, true},
		{"slack is given and no brake holds", then(hauling, onMain(func(h *team.Half) { h.Hand = 0 })), team.Action{Do: team.Capture, Line: "main"}, true},
		{"slack is given, the brake holds", hauling, team.Action{Do: team.Capture, Line: "main"}, false},
		{"teeth freed, nothing behind", then(toothed, onMain(func(h *team.Half) { h.Loaded = false })), team.Action{Do: team.FreeTeeth, Line: "main"}, true},
		{"teeth freed, a device that is not parked", then(toothed, onMain(func(h *team.Half) { h.Parked = false })), team.Action{Do: team.FreeTeeth, Line: "main"}, true},
		{"teeth freed, a parked device behind", toothed, team.Action{Do: team.FreeTeeth, Line: "main"}, false},
		{"a lock freed without a hand", wheeled, team.Action{Do: team.FreeLock, Line: "main"}, true},
		{"a lock freed with a hand on the wheel", then(wheeled, onMain(func(h *team.Half) { h.Wheel.Grip = true })), team.Action{Do: team.FreeLock, Line: "main"}, false},
	},
	"moves.call": {
		{"silent", live, team.Action{Do: team.Lower, AtM: 50, Silent: true}, true},
		{"called", live, team.Action{Do: team.Lower, AtM: 50}, false},
		{"silent, nothing moves", nil, team.Action{Do: team.Unpark, Line: "main", Silent: true}, false},
	},
	"moves.settle": {
		{"loose", nil, team.Action{Do: team.PutGrab, Line: "main", Loose: true}, true},
		{"snug", nil, team.Action{Do: team.PutGrab, Line: "main"}, false},
	},
	"service.function-check": {
		{"let out onto a brake that is not proved", then(grabbed, onMain(func(h *team.Half) { h.Proved = false })), team.Action{Do: team.Extend, Line: "main"}, true},
		{"onto one that is", grabbed, team.Action{Do: team.Extend, Line: "main"}, false},
	},
	"device.two": {
		{"one-person brake, unparked", then(live, onMain(func(h *team.Half) { h.Bend = false })), stays, true},
		{"the bend is in", live, stays, false},
		{"rated for two", func(r *team.Rig, s *team.State) { live(r, s); s.Main.Bend, r.Main.TwoPersons = false, true }, stays, false},
		{"one person", func(r *team.Rig, s *team.State) { live(r, s); s.Main.Bend, r.Load.Persons = false, 1 }, stays, false},
		{"parked", onMain(func(h *team.Half) { h.Bend = false }), stays, false},
		{"the bend taken out, unparked", live, team.Action{Do: team.BendOut, Line: "main"}, true},
		{"taken out, parked", nil, team.Action{Do: team.BendOut, Line: "main"}, false},
	},
	"team.hand": {
		{"unparked, no hand", onMain(func(h *team.Half) { h.Hand = 0 }), team.Action{Do: team.Unpark, Line: "main"}, true},
		{"unparked, a hand on it", nil, team.Action{Do: team.Unpark, Line: "main"}, false},
		{"the hand leaves", live, team.Action{Do: team.HandOff, Line: "main"}, true},
		{"leaves a parked one", nil, team.Action{Do: team.HandOff, Line: "main"}, false},
		{"a grab put on, unparked", live, team.Action{Do: team.PutGrab, Line: "main"}, true},
		{"a wheel let go, nothing holds", then(wheeled, onMain(func(h *team.Half) { h.Parked, h.Wheel.Grip = false, true })), team.Action{Do: team.LetGoWheel, Line: "main"}, true},
		{"let go, the lock catches", then(wheeled, onMain(func(h *team.Half) { h.Wheel.Grip = true })), team.Action{Do: team.LetGoWheel, Line: "main"}, false},
	},
	"team.angle": {
		{"forward", onMain(func(h *team.Half) { h.Forward = true }), stays, true},
		{"back", nil, stays, false},
	},
	"team.park": {
		{"loaded with the park brake on", onMain(func(h *team.Half) { h.Loaded, h.Proved = false, false }), team.Action{Do: team.LoadRope, Line: "main"}, true},
		{"loaded unparked", onMain(func(h *team.Half) { h.Loaded, h.Proved, h.Parked = false, false, false }), team.Action{Do: team.LoadRope, Line: "main"}, false},
		{"hauled parked", then(hauling, onMain(func(h *team.Half) { h.Parked = true })), team.Action{Do: team.Haul, Line: "main", AtM: 61}, true},
		{"hauled unparked", hauling, team.Action{Do: team.Haul, Line: "main", AtM: 61}, false},
		{"built unparked", live, team.Action{Do: team.Build, Line: "main", Ratio: 3}, true},
		{"built parked", nil, team.Action{Do: team.Build, Line: "main", Ratio: 3}, false},
		{"built in hand, by school", func(r *team.Rig, s *team.State) { live(r, s); r.Schools.ParkAt = "hand" }, team.Action{Do: team.Build, Line: "main", Ratio: 3}, false},
	},
	"team.grab": {
		{"behind the brake", nil, team.Action{Do: team.PutGrab, Line: "main", Behind: true}, true},
		{"before it", nil, team.Action{Do: team.PutGrab, Line: "main"}, false},
	},
	"team.both": {
		{"grabs on both", func(_ *team.Rig, s *team.State) { s.Main.Grab, s.Belay.Grab = team.OnSlack, team.OnSlack }, stays, true},
		{"on one", grabbed, stays, false},
	},
	"team.away": {
		{"parked alone", onMain(func(h *team.Half) { h.Hand, h.Away = 0, true }), stays, true},
		{"parked and knotted", onMain(func(h *team.Half) { h.Hand, h.Away, h.Tied = 0, true, true }), stays, false},
		{"knotted, not parked", live, team.Action{Do: team.Tie, Line: "main"}, true},
		{"knotted, parked", nil, team.Action{Do: team.Tie, Line: "main"}, false},
	},
	"team.sight": {
		{"shared out of sight", func(r *team.Rig, s *team.State) { live(r, s); r.OutOfSight = true }, team.Action{Do: team.Share}, true},
		{"shared in sight", live, team.Action{Do: team.Share}, false},
		{"lowered shared, out of sight", func(r *team.Rig, s *team.State) { live(r, s); r.OutOfSight, s.Shared = true, true }, team.Action{Do: team.Lower, AtM: 50}, true},
		{"lowered on one, out of sight", func(r *team.Rig, s *team.State) { live(r, s); r.OutOfSight = true }, team.Action{Do: team.Lower, AtM: 50}, false},
	},
	"team.wheel": {
		{"turned, the lock free", then(wheeled, onMain(func(h *team.Half) { h.Wheel.Handle, h.Parked = true, false })), team.Action{Do: team.Turn, Line: "main", AtM: 60.5}, true},
		{"turned, the lock catches", then(wheeled, onMain(func(h *team.Half) { h.Wheel.Handle = true })), team.Action{Do: team.Turn, Line: "main", AtM: 60.5}, false},
		{"freed with the handle out", then(wheeled, onMain(func(h *team.Half) { h.Wheel.Handle, h.Wheel.Grip = true, true })), team.Action{Do: team.FreeLock, Line: "main"}, true},
		{"freed with the handle in", then(wheeled, onMain(func(h *team.Half) { h.Wheel.Grip = true })), team.Action{Do: team.FreeLock, Line: "main"}, false},
	},
}

// Every rule on a team's steps has trials that fire and trials that do not; a rule
// without fails here.
func TestEveryTeamRule(t *testing.T) {
	for _, rule := range team.Rules {
		fires, not := 0, 0
		for _, c := range trials[rule.ID] {
			t.Run(rule.ID+"/"+c.name, func(t *testing.T) {
				r, s := stretcher(), ready()
				if c.change != nil {
					c.change(r, &s)
				}
				found := r.Check(&s)
				if c.do != stays {
					var err error
					if _, found, err = r.Apply(s, c.do); err != nil {
						t.Fatal(err)
					}
				}
				of := func(v stance.Violation) bool { return v.Rule == rule.ID && v.Severity == finding.Stop }
				if got := slices.ContainsFunc(found, of); got != c.stops {
					t.Errorf("stops %v, want %v: %v", got, c.stops, found)
				}
			})
			if c.stops {
				fires++
			} else {
				not++
			}
		}
		if fires == 0 || not == 0 {
			t.Errorf("%s: %d trials that fire, %d that do not", rule.ID, fires, not)
		}
	}
}

// A capture's teeth come free by a small lift: a knot that is through comes up with it as in a
// haul to that height, and is refused where that is.
func TestTeethUnderKnot(t *testing.T) {
	refused := 0
	for k := 20.0; k < 45; k += 0.01 {
		r, s := stretcher(), ready()
		toothed(r, &s)
		r.Belay.KnotsM, s.Belay.Passed = []quantity.Metres{quantity.Metres(k)}, 1
		free := s
		lifted, _, err := r.Apply(free, team.Action{Do: team.FreeTeeth, Line: "main"})
		plain, p := stretcher(), ready()
		hauling(plain, &p)
		plain.Belay.KnotsM, p.Belay.Passed = r.Belay.KnotsM, 1
		_, _, hauled := plain.Apply(p, team.Action{Do: team.Haul, Line: "main", AtM: (p.At + stance.ToCm(r.Kit.CaptureM)).M()})
		if (err == nil) != (hauled == nil) {
			t.Fatalf("a knot at %.2f: freed %v, hauled %v", k, err, hauled)
		}
		if err != nil {
			refused++
		} else if lifted.At != s.At+stance.ToCm(r.Kit.CaptureM) {
			t.Fatalf("lifted to %v", lifted.At)
		}
	}
	if refused == 0 || refused == 2500 {
		t.Errorf("%d of 2500 are refused", refused)
	}
}
