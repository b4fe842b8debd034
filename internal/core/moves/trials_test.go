package moves_test

import (
	"slices"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/stance"
)

// hung is somebody who hangs at a height, parked on the descender or on the chest
// ascender, with the backup as high as it goes.
type hung struct {
	*stance.Scene
	s stance.Stance
}

func hang(t *testing.T, d *drop.Document, ways school.Schools, at stance.Cm, bears string) *hung {
	t.Helper()
	sc, _, err := sceneOn(d, ways)
	if err != nil {
		t.Fatal(err)
	}
	h := &hung{Scene: sc}
	h.s.At, h.s.Sat = at, at
	span := 0
	for _, m := range sc.Lines[0].Marks {
		if m.At > at {
			span++
		}
	}
	h.s.On(sc, 0, span)
	h.s.Bears = int8(sc.Tool(bears))
	h.on(bears, 0, at+stance.DeviceLen)
	h.s.Holds[h.s.Bears].Parked = sc.Tools[h.s.Bears].Class == gear.Descender
	b := sc.Tool("backup-31")
	h.on("backup-31", 1, at+stance.Sternal+sc.High(b))
	return h
}

// on puts a tool on a line, locked and proved.
func (h *hung) on(item string, line int, at stance.Cm) *stance.Hold {
	span := 0
	for _, m := range h.Lines[line].Marks {
		if m.At > at {
			span++
		}
	}
	t := h.Tool(item)
	h.s.Holds[t] = stance.Hold{There: true, Line: int8(line), Span: int8(span), At: at, Locked: true, Proved: true}
	return &h.s.Holds[t]
}

func (h *hung) hold(item string) *stance.Hold { return &h.s.Holds[h.Tool(item)] }

// loose leaves a hold unlocked, as it was found at the start.
func (h *hung) loose(item string) {
	h.hold(item).Locked = false
	h.s.Found |= 1 << h.Tool(item)
}

// do applies one action.
func (h *hung) do(t *testing.T, a stance.Action) []stance.Violation {
	t.Helper()
	next, broken, err := h.Apply(h.s, a)
	if err != nil {
		t.Fatalf("%+v: %v", a, err)
	}
	h.s = next
	return broken
}

// stepTrial is a stance or a step, and what a rule then gives: "" for nothing.
type stepTrial struct {
	name string
	do   func(t *testing.T) []stance.Violation
	want finding.Severity
}

const stop, look, quiet = finding.Stop, finding.Look, finding.Severity("")

// stanceTrial judges a stance that is made from hanging at 20 m on the descender.
func stanceTrial(name string, want finding.Severity, change func(h *hung)) stepTrial {
	return stepTrial{name, func(t *testing.T) []stance.Violation {
		h := hang(t, carry(shaft(20, nil, nil), "+absorber-8"), school.Schools{}, 2000, "descender-21")
		change(h)
		return h.Check(&h.s)
	}, want}
}

// actionTrial does an action from hanging at 20 m on a device of a drop.
func actionTrial(name string, want finding.Severity, d func() *drop.Document, ways school.Schools, bears string, a stance.Action, change func(h *hung)) stepTrial {
	return stepTrial{name, func(t *testing.T) []stance.Violation {
		h := hang(t, d(), ways, 2000, bears)
		if change != nil {
			change(h)
		}
		return h.do(t, a)
	}, want}
}

func plain() *drop.Document { return carry(shaft(20, nil, nil), "+absorber-8") }

// longArm reaches higher than the links of the backup.
func longArm() *drop.Document {
	d := plain()
	d.People[0].ReachUpM = 1.9
	return d
}

func towable(may bool) func() *drop.Document {
	return func() *drop.Document {
		d := plain()
		for i := range d.Models {
			if d.Models[i].ID == "backup-cam" {
				b := *d.Models[i].Backup
				b.TowedByCord = may
				d.Models[i].Backup = &b
			}
		}
		return d
	}
}

func opens(may bool) func() *drop.Document {
	return func() *drop.Document {
		d := plain()
		for i := range d.Models {
			if d.Models[i].Class == gear.BackupDevice {
				v := *d.Models[i].Device
				v.OpensOnConnector = may
				d.Models[i].Device = &v
			}
		}
		return d
	}
}

func unpark(h *hung) { h.hold("descender-21").Parked = false }

// stepTrials show for every rule on a stance or a step that it fires, and that it does
// not just inside its limit.
var stepTrials = map[string][]stepTrial{
	"points.two": {
		stanceTrial("one hold", stop, func(h *hung) { *h.hold("backup-31") = stance.Hold{} }),
		stanceTrial("a hand ascender is no second one", stop, func(h *hung) { *h.hold("backup-31") = stance.Hold{}; h.on("hand-2", 0, 2060) }),
		stanceTrial("two", quiet, func(*hung) {}),
		stanceTrial("two on one strand", stop, func(h *hung) { *h.hold("backup-31") = stance.Hold{}; h.on("chest-2", 0, 2016) }),
	},
	"moves.bearing": {
		actionTrial("what bears", stop, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.TakeOff, Item: "descender-21"}, nil),
		actionTrial("what does not", quiet, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.TakeOff, Item: "chest-2"}, func(h *hung) { h.on("chest-2", 0, 2016) }),
	},
	"connector.gate": {
		actionTrial("unlocked, and something else is done", stop, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.Move, Item: "backup-31", AtM: 20.5}, func(h *hung) { h.on("chest-2", 0, 2016).Locked = false }),
		actionTrial("locked", quiet, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.Move, Item: "backup-31", AtM: 20.5}, func(h *hung) { h.on("chest-2", 0, 2016) }),
		actionTrial("goes down on what was found unlocked", stop, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.Descend, AtM: 19}, func(h *hung) { unpark(h); h.loose("descender-21") }),
		actionTrial("climbs on what was found unlocked", stop, plain, school.Schools{}, "chest-2", act(stance.Climb, "", 20.3), func(h *hung) { h.on("hand-2", 0, 2060); h.loose("chest-2") }),
		actionTrial("what was found unlocked is put right first", quiet, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.Lock, Item: "descender-21"}, func(h *hung) { h.loose("descender-21") }),
	},
	"service.function-check": {
		actionTrial("not proved, and something else is done", stop, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.Move, Item: "backup-31", AtM: 20.5}, func(h *hung) { h.on("chest-2", 0, 2016).Proved = false }),
		actionTrial("proved", quiet, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.Move, Item: "backup-31", AtM: 20.5}, func(h *hung) { h.on("chest-2", 0, 2016) }),
	},
	"device.mode": {
		actionTrial("a hand leaves it unparked", stop, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.PutOn, Item: "hand-2", Line: "main", AtM: 20.8}, unpark),
		actionTrial("parked", quiet, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.PutOn, Item: "hand-2", Line: "main", AtM: 20.8}, nil),
		actionTrial("descends parked", stop, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.Descend, AtM: 19}, nil),
		actionTrial("descends unparked", quiet, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.Descend, AtM: 19}, unpark),
		actionTrial("a parked wheel comes along", stop, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.Descend, AtM: 19}, func(h *hung) { unpark(h); h.on("backup-9", 1, 2050).Parked = true }),
		actionTrial("works, not tied off", stop, plain, school.Schools{Parked: "tied"}, "descender-21", stance.Action{Do: stance.Work}, nil),
		actionTrial("works, tied off", quiet, plain, school.Schools{Parked: "tied"}, "descender-21", stance.Action{Do: stance.Work}, func(h *hung) { h.hold("descender-21").Tied = true }),
	},
	"device.height": {
		stanceTrial("a hair below its attachment", stop, func(h *hung) { h.hold("backup-31").At = 2034 }),
		stanceTrial("level with it", quiet, func(h *hung) { h.hold("backup-31").At = 2035 }),
	},
	"device.foul": {
		stanceTrial("on the control strand", stop, func(h *hung) { h.on("chest-2", 0, 2014) }),
		stanceTrial("above", quiet, func(h *hung) { h.on("chest-2", 0, 2025) }),
	},
	"device.drop": {
		actionTrial("leaves its connector", look, opens(false), school.Schools{}, "descender-21", stance.Action{Do: stance.PutOn, Item: "backup-9", Line: "backup", AtM: 20.4}, nil),
		actionTrial("opens on it", quiet, opens(true), school.Schools{}, "descender-21", stance.Action{Do: stance.PutOn, Item: "backup-9", Line: "backup", AtM: 20.4}, nil),
	},
	"device.tow": {
		actionTrial("not allowed", stop, towable(false), school.Schools{BackupDown: "towed"}, "descender-21", stance.Action{Do: stance.Descend, AtM: 19}, unpark),
		actionTrial("allowed", quiet, towable(true), school.Schools{BackupDown: "towed"}, "descender-21", stance.Action{Do: stance.Descend, AtM: 19}, unpark),
	},
	"moves.backup-slack": {
		actionTrial("a hair too high", stop, longArm, school.Schools{}, "descender-21", stance.Action{Do: stance.Move, Item: "backup-31", AtM: 21.18}, nil),
		actionTrial("as high as its links go", quiet, longArm, school.Schools{}, "descender-21", stance.Action{Do: stance.Move, Item: "backup-31", AtM: 21.17}, nil),
	},
	"moves.backup-off": {
		actionTrial("none on", stop, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.Descend, AtM: 19}, func(h *hung) { unpark(h); *h.hold("backup-31") = stance.Hold{} }),
		actionTrial("on", quiet, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.Descend, AtM: 19}, unpark),
	},
	"moves.backup-kind": {
		actionTrial("a cam where the school wants a wheel", stop, plain, school.Schools{BackupKind: "cam"}, "descender-21", stance.Action{Do: stance.PutOn, Item: "backup-9", Line: "backup", AtM: 20.5}, nil),
		actionTrial("the kind that the school wants", quiet, plain, school.Schools{BackupKind: "wheel"}, "descender-21", stance.Action{Do: stance.PutOn, Item: "backup-9", Line: "backup", AtM: 20.5}, nil),
	},
	"moves.reach": {
		stanceTrial("a hair out of reach", stop, func(h *hung) { h.on("hand-2", 0, 2101) }),
		stanceTrial("just in reach", quiet, func(h *hung) { h.on("hand-2", 0, 2100) }),
	},
	"moves.settle": {
		settling("a hair too far", stop, 2000-31), settling("as far as the limit", quiet, 2000-30),
		clipped("from lanyard to lanyard, a hair too far", stop, 16), clipped("as far as the limit, no device between", quiet, 15),
	},
	"moves.swing": {
		actionTrial("onto a strand out of the arm's reach", stop, aside(1.2), school.Schools{Sides: "fewer"}, "descender-21", stance.Action{Do: stance.Sit, Item: "chest-2"}, standing),
		actionTrial("in reach", quiet, aside(0.7), school.Schools{Sides: "fewer"}, "descender-21", stance.Action{Do: stance.Sit, Item: "chest-2"}, standing),
	},
	"moves.four": {
		actionTrial("held once on the other side", stop, aside(0.5), school.Schools{Sides: "four"}, "descender-21", stance.Action{Do: stance.Sit, Item: "chest-2"}, standing),
		actionTrial("held twice on both", quiet, aside(0.5), school.Schools{Sides: "four"}, "descender-21", stance.Action{Do: stance.Sit, Item: "chest-2"}, func(h *hung) { standing(h); h.on("backup-9", 3, 2080) }),
		actionTrial("once on a side that is hurt below", stop, hurtAside(19.9), school.Schools{Sides: "four"}, "descender-21", stance.Action{Do: stance.Sit, Item: "chest-2"}, onceAndTwice),
		actionTrial("once on a side that is hurt above", quiet, hurtAside(20.3), school.Schools{Sides: "four"}, "descender-21", stance.Action{Do: stance.Sit, Item: "chest-2"}, onceAndTwice),
		actionTrial("by school fewer, in reach", quiet, aside(0.5), school.Schools{Sides: "fewer"}, "descender-21", stance.Action{Do: stance.Sit, Item: "chest-2"}, standing),
	},
	"moves.breach": {
		actionTrial("goes on held once", stop, func() *drop.Document { return carry(shaft(20, nil, []rig.Mark{damage(30, false)}), "+absorber-8") }, school.Schools{}, "descender-21", stance.Action{Do: stance.Descend, AtM: 19}, unpark),
		actionTrial("held twice", quiet, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.Descend, AtM: 19}, unpark),
	},
	"moves.deviation": {
		actionTrial("no lanyard in its sling", stop, func() *drop.Document { return near(deviated(), 20.5) }, school.Schools{}, "descender-21", stance.Action{Do: stance.Pass, Line: "backup", Span: 1}, func(h *hung) { h.hold("backup-31").At = 2070 }),
		actionTrial("a lanyard in it", quiet, func() *drop.Document { return near(deviated(), 20.5) }, school.Schools{}, "descender-21", stance.Action{Do: stance.Pass, Line: "backup", Span: 1}, func(h *hung) {
			h.hold("backup-31").At = 2070
			l := h.on("lanyard-12", 0, 2050)
			l.Clip, l.Span = stance.IntoMark, 1
		}),
	},
	"moves.edge": {
		topping("descender first", stop, false), topping("after the backup", quiet, true),
		actionTrial("at the landing there is no edge", quiet, plain, school.Schools{}, "descender-21", stance.Action{Do: stance.PutOn, Item: "descender-21", Line: "main", AtM: 1.1}, func(h *hung) {
			h.s = stance.Stance{Grounded: true, Bears: stance.NoTool, At: h.Ground, Sat: h.Ground}
			h.s.On(h.Scene, 0, 0)
		}),
	},
	"moves.knot-order": {ordered("the backup's before the main's", stop, "main-first"), ordered("by the other school", quiet, "backup-first")},
	"moves.knot-up": {
		upPast("no descender on", stop, nil),
		upPast("a descender on", quiet, func(h *hung) { h.on("descender-21", 0, 2001).Parked = true }),
		upPast("a descender on, not parked", stop, func(h *hung) { h.on("descender-21", 0, 2001) }),
		upPast("a descender on the other strand", stop, func(h *hung) { h.on("descender-21", 1, 2001).Parked = true }),
		upPast("another device on", stop, func(h *hung) { h.on("backup-9", 0, 2040).Parked = true }),
	},
	"rope.damage": {
		actionTrial("put on below it", stop, func() *drop.Document { return carry(shaft(20, nil, []rig.Mark{damage(20.5, false)}), "+absorber-8") }, school.Schools{}, "descender-21", stance.Action{Do: stance.PutOn, Item: "backup-9", Line: "backup", Span: 1, AtM: 20.35}, nil),
		actionTrial("put on above it", quiet, func() *drop.Document { return carry(shaft(20, nil, []rig.Mark{damage(19.5, false)}), "+absorber-8") }, school.Schools{}, "descender-21", stance.Action{Do: stance.PutOn, Item: "backup-9", Line: "backup", AtM: 20.6}, nil),
	},
	"moves.peak": {peaking("above the ceiling", look, 0.999), peaking("at it", quiet, 1)},
	"moves.goal": {
		{"steps that lead nowhere", leading(false), stop}, {"steps that lead there", leading(true), quiet},
	},
}

// settling sits from the chest ascender onto a descender that lets the body down to a
// height.
func settling(name string, want finding.Severity, to stance.Cm) stepTrial {
	return actionTrial(name, want, plain, school.Schools{}, "chest-2", stance.Action{Do: stance.Sit, Item: "descender-21"}, func(h *hung) {
		h.on("descender-21", 0, to+stance.DeviceLen).Parked = true
		h.on("hand-2", 0, 2060)
		*h.hold("chest-2") = stance.Hold{}
		h.s.Standing, h.s.Bears, h.s.At = true, int8(h.Tool("hand-2")), 2010
	})
}

// clipped sits into a lanyard in the eye of a knot, so far below where one sat before,
// with no device to sit in.
func clipped(name string, want finding.Severity, drop stance.Cm) stepTrial {
	return actionTrial(name, want, knotted(20.5), school.Schools{}, "descender-21", stance.Action{Do: stance.Sit, Item: "lanyard-12"}, func(h *hung) {
		*h.hold("descender-21") = stance.Hold{}
		l := h.on("lanyard-12", 0, 2050)
		l.Clip, l.Span = stance.IntoMark, 1
		h.on("hand-2", 1, 2080)
		sits := 2050 - h.Tools[h.Tool("lanyard-12")].Length
		h.s.Standing, h.s.Bears, h.s.At, h.s.Sat = true, int8(h.Tool("hand-2")), sits+20, sits+drop
	})
}

// aside has a second set so far from the first.
func aside(m float64) func() *drop.Document { return func() *drop.Document { return beside(m) } }

// standing stands in the foot loop, with the chest ascender on the other set's main.
func standing(h *hung) {
	h.on("hand-2", 0, 2060)
	h.on("chest-2", 2, 2030)
	h.s.Standing, h.s.Bears, h.s.At = true, int8(h.Tool("hand-2")), 2020
}

// hurtAside is two sets beside each other, the first one's backup damaged at a height.
func hurtAside(at float64) func() *drop.Document {
	return func() *drop.Document {
		d := beside(0.5)
		d.Strands[1].Marks = []rig.Mark{damage(at, false)}
		return d
	}
}

// onceAndTwice stands with one hold on the first set and two on the other.
func onceAndTwice(h *hung) {
	standing(h)
	h.on("backup-9", 3, 2080)
	h.hold("backup-31").There = false
}

// near moves the deviation of a drop to a height.
func near(d *drop.Document, at float64) *drop.Document {
	d.Anchors[len(d.Anchors)-1].HeightM = knot("", at, false).HeightM
	for i := range d.Strands {
		d.Strands[i].Marks[0].HeightM = knot("", at, false).HeightM
	}
	return d
}

// topping puts the descender on at the top, before or after the backup.
func topping(name string, want finding.Severity, backup bool) stepTrial {
	return stepTrial{name, func(t *testing.T) []stance.Violation {
		h := hang(t, plain(), school.Schools{}, 2000, "descender-21")
		at := h.Top(0)
		h.s = stance.Stance{Grounded: true, Bears: stance.NoTool, At: at, Sat: at}
		h.s.On(h.Scene, 0, 0)
		if backup {
			h.on("backup-31", 1, at)
		}
		return h.do(t, stance.Action{Do: stance.PutOn, Item: "descender-21", Line: "main", AtM: at.M()})
	}, want}
}

// ordered puts a second backup beyond its knot while the main's is not passed.
func ordered(name string, want finding.Severity, first string) stepTrial {
	d := func() *drop.Document {
		return carry(shaft(20, []rig.Mark{knot("m", 19.5, false)}, []rig.Mark{knot("b", 20.2, false)}), "+absorber-8")
	}
	return actionTrial(name, want, d, school.Schools{KnotOrder: first}, "descender-21", stance.Action{Do: stance.PutOn, Item: "backup-9", Line: "backup", Span: 1, AtM: 20}, func(h *hung) { h.hold("backup-31").Span = 0 })
}

// upPast takes the chest ascender off below a knot.
func upPast(name string, want finding.Severity, more func(h *hung)) stepTrial {
	d := func() *drop.Document {
		return carry(shaft(20, []rig.Mark{knot("m", 20.5, false)}, nil), "+absorber-8")
	}
	return actionTrial(name, want, d, school.Schools{KnotUp: "descender"}, "chest-2", stance.Action{Do: stance.TakeOff, Item: "chest-2"}, func(h *hung) {
		h.on("hand-2", 0, 2080)
		h.s.Standing, h.s.Bears, h.s.At = true, int8(h.Tool("hand-2")), 2010
		if more != nil {
			more(h)
		}
	})
}

// peaking judges a fall onto the backup by a ceiling that is so many times its peak.
func peaking(name string, want finding.Severity, times float64) stepTrial {
	return stepTrial{name, func(t *testing.T) []stance.Violation {
		h := hang(t, plain(), school.Schools{}, 2000, "descender-21")
		lost := h.FailOne(&h.s)
		h.CeilingKN = 0
		for _, l := range lost {
			h.CeilingKN = max(h.CeilingKN, l.PeakKN*quantity.Kilonewtons(times))
		}
		return h.Peaks(lost)
	}, want}
}

// leading walks the steps of a plan, all or all but the last.
func leading(whole bool) func(*testing.T) []stance.Violation {
	return func(t *testing.T) []stance.Violation {
		d := plain()
		list := moves.StepsOf(plan(t, d, "descend-to-ascend", school.Schools{}))
		if !whole {
			list.Steps = list.Steps[:len(list.Steps)-1]
		}
		_, found, err := walkOn(d, list, school.Schools{})
		if err != nil {
			t.Fatal(err)
		}
		var all []stance.Violation
		for _, b := range found {
			all = append(all, b.Broken...)
		}
		return all
	}
}

// Every rule on stances and steps has trials that fire and trials that do not; a rule
// without fails here.
func TestEveryStepRule(t *testing.T) {
	for _, rule := range stance.Rules {
		fires, not := 0, 0
		for _, c := range stepTrials[rule.ID] {
			t.Run(rule.ID+"/"+c.name, func(t *testing.T) {
				got := quiet
				for _, v := range c.do(t) {
					if v.Rule == rule.ID && (got == quiet || v.Severity.Worse(got)) {
						got = v.Severity
					}
				}
				if got != c.want {
					t.Errorf("%q, want %q", got, c.want)
				}
			})
			if c.want == quiet {
				not++
			} else {
				fires++
			}
		}
		if fires == 0 || not == 0 {
			t.Errorf("%s: %d trials that fire, %d that do not", rule.ID, fires, not)
		}
	}
	for id := range stepTrials {
		if !slices.ContainsFunc(stance.Rules, func(r stance.Rule) bool { return r.ID == id }) {
			t.Errorf("trials of %s, which is no rule", id)
		}
	}
}
