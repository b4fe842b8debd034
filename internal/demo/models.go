// Package demo holds the demo scenario: an invented team at an invented dam,
// with invented makers, models and figures. Nothing in it describes a real
// product, person or place.
package demo

import (
	"slices"

	"zealousknot/internal/core/gear"
)

var lowStretch = []gear.Construction{gear.LowStretchA}

func takes(min, max float64) []gear.RopeRange {
	return []gear.RopeRange{{Constructions: lowStretch, MinMM: mm(min), MaxMM: mm(max)}}
}

// handle are the positions of a self-braking descender.
var handle = []gear.Position{
	{Name: "stow", HandsOff: gear.Stops, Parked: true},
	{Name: "park", HandsOff: gear.Stops, Parked: true},
	{Name: "hold", HandsOff: gear.Stops},
	{Name: "work", HandsOff: gear.Runs},
	{Name: "over-pull", HandsOff: gear.Stops},
}

var life = &gear.Life{FromMadeYears: 12, FromFirstUseYears: 10}

// Models is the catalogue.
func Models() []gear.Model {
	return append(append(ropes(), devices()...), links()...)
}

func rope(id, name string, d, mass, elongation, strength float64) gear.Model {
	return gear.Model{
		ID: id, Class: gear.Rope, Maker: "Ostlane", Name: name, StrengthKN: kN(strength), Standards: []string{"EN 1891-A"}, Life: life,
		Source: "data sheet, issue 2",
		Rope: &gear.RopeModel{
			Construction: gear.LowStretchA, DiameterMM: mm(d), MassGPerM: gm(mass), ElongationPct: pct(elongation),
			Sheath: "polyamide", SheathLimitC: 150,
		},
	}
}

func ropes() []gear.Model {
	return []gear.Model{
		rope("rope-105", "low-stretch 10.5", 10.5, 71, 3.6, 30),
		rope("rope-110", "low-stretch 11", 11, 78, 3.3, 34),
		rope("rope-90", "low-stretch 9", 9, 53, 4.4, 22),
	}
}

func devices() []gear.Model { return slices.Concat(descenders(), ascenders(), backups()) }

func descenders() []gear.Model {
	effects := []gear.RopeEffect{{Condition: gear.Wet, Change: "less-friction", ParkNeedsPush: true}, {Condition: gear.Muddy, Change: "less-friction"}}
	heat := &gear.DeviceHeat{SpecificHeat: 900, CoolingWK: 2.4, Share: 0.5}
	return []gear.Model{
		{
			ID: "descender-a", Class: gear.Descender, Maker: "Hemmick", Name: "narrow descender", Generation: "second", MassG: 530, StrengthKN: 18,
			WorkingLoads: []gear.WorkingLoad{{Mode: "one person", Mass: 150}, {Mode: "two persons", Mass: 240}},
			Standards:    []string{"EN 12841-C", "EN 341"}, Source: "instructions for use, issue 5", ExaminationMonths: 6,
			Cautions: []string{"With two persons the added friction bend goes in before the second weight comes on."},
			Device: &gear.Device{
				Looks: &gear.Looks{RopePath: gear.CamAndPost, AnchorSign: "front", SecondPost: true},
				Modes: []gear.Mode{
					{Name: "one person", Persons: 1, Ropes: takes(9.5, 12), MinKg: 50, MaxKg: 150, MaxDescentM: 200},
					{Name: "two persons", Persons: 2, Ropes: takes(9.5, 11), MinKg: 80, MaxKg: 240, Needs: gear.ExtraFriction, MaxDescentM: 120},
				},
				Friction: &gear.Friction{BaseRatio: 14}, Positions: handle, OpensOnConnector: true, ConnectorsInHole: 1, ControlEdge: true, ThumbRelease: "slack-only", WrongLoading: "slips",
				Sides: &gear.Sides{Anchored: gear.Left, Riding: gear.Right}, RopeEffects: effects, Heat: heat, LeverReachM: 0.12, MaxSpeedMS: 2,
				WearLimits: []gear.WearLimit{{Part: "cam groove", LimitMM: 3, Deepens: true}},
			},
		},
		{
			ID: "descender-b", Class: gear.Descender, Maker: "Varrowby", Name: "wide descender", MassG: 610, StrengthKN: 20,
			WorkingLoads: []gear.WorkingLoad{{Mode: "single", Mass: 160}, {Mode: "rescue", Mass: 260}},
			Standards:    []string{"EN 12841-C"}, Source: "instructions for use, issue 2", ExaminationMonths: 12,
			Device: &gear.Device{
				Looks: &gear.Looks{RopePath: gear.CamAndPost, AnchorSign: "both"},
				Modes: []gear.Mode{
					{Name: "single", Persons: 1, Ropes: takes(10, 12), MinKg: 60, MaxKg: 160, MaxDescentM: 180},
					{Name: "rescue", Persons: 2, Ropes: takes(10, 12), MinKg: 60, MaxKg: 260, Needs: gear.ExtraFriction, MaxDescentM: 180},
				},
				Friction: &gear.Friction{BaseRatio: 11, BendDeg: 150}, Positions: handle[1:4], ConnectorsInHole: 2, ThumbRelease: "none", WrongLoading: "locks", RopeEffects: effects,
				Heat: heat, LeverReachM: 0.1, MaxSpeedMS: 1.5,
			},
		},
		{
			ID: "brake-a", Class: gear.AnchorBrake, Maker: "Hemmick", Name: "combined brake", MassG: 1150, StrengthKN: 30,
			WorkingLoads: []gear.WorkingLoad{{Mode: "one person", Mass: 150}, {Mode: "two persons", Mass: 280}}, Source: "instructions for use, issue 3",
			Device: &gear.Device{
				Looks: &gear.Looks{RopePath: gear.SheaveAndBrake, AnchorSign: "both", SecondPost: true},
				Modes: []gear.Mode{
					{Name: "one person", Persons: 1, Ropes: takes(10, 12), MinKg: 50, MaxKg: 150, MaxDescentM: 200},
					{Name: "two persons", Persons: 2, Ropes: takes(10, 12), MinKg: 80, MaxKg: 280, Needs: gear.ExtraFriction, MaxDescentM: 200},
				},
				Friction: &gear.Friction{BaseRatio: 16, TakeInPart: 0.78}, Positions: handle[1:4], OpensOnConnector: true, WrongLoading: "slips", RopeEffects: effects, Heat: heat, LeverReachM: 0.15, MaxSpeedMS: 2,
			},
		},
		winding("winding-1", "first", &gear.Winding{LiftPerTurnM: 0.12, Lock: "pin", LockSides: "left", SetFor: "load-left", Guide: "the horn beside the wheel", SlackAfterM: 0.6}),
		winding("winding-2", "second", &gear.Winding{LiftPerTurnM: 0.15, Lock: "lever", LockSides: "both", SetFor: "chosen", FreeAsUnpacked: true, Guide: "the roller on the guard", SlackAfterM: 1}),
	}
}

func ascenders() []gear.Model {
	return []gear.Model{
		{
			ID: "chest-a", Class: gear.ChestAscender, Maker: "Hemmick", Name: "chest ascender 2", MassG: 135, StrengthKN: 8,
			WorkingLoads: []gear.WorkingLoad{{Mass: 140}}, Standards: []string{"EN 12841-B", "EN 567"}, Source: "instructions for use, issue 3",
			Device: ascender(),
		},
		{
			ID: "hand-a", Class: gear.HandAscender, Maker: "Hemmick", Name: "hand ascender 2", MassG: 210, StrengthKN: 8,
			WorkingLoads: []gear.WorkingLoad{{Mass: 140}}, Standards: []string{"EN 12841-B", "EN 567"}, Source: "instructions for use, issue 3",
			Device: ascender(),
		},
	}
}

func backups() []gear.Model {
	return []gear.Model{
		{
			ID: "backup-wheel", Class: gear.BackupDevice, Maker: "Varrowby", Name: "rolling backup", MassG: 420, StrengthKN: 16,
			Standards: []string{"EN 12841-A"}, Source: "instructions for use, issue 4",
			Device: &gear.Device{
				Looks: &gear.Looks{RopePath: gear.LockingWheel, AnchorSign: "front"},
				Modes: []gear.Mode{
					{Name: "one person", Persons: 1, Ropes: takes(10, 11.5), MinKg: 50, MaxKg: 140},
					{Name: "two persons", Persons: 2, Ropes: takes(10, 11.5), MinKg: 50, MaxKg: 250},
				},
				Positions:    []gear.Position{{Name: "rolling", HandsOff: gear.Stops}, {Name: "parked", HandsOff: gear.Stops, Parked: true}},
				WrongLoading: "nothing", OpensOnConnector: true,
				RopeEffects: []gear.RopeEffect{{Condition: gear.Wet, Change: "no-change"}, {Condition: gear.Icy, Change: "may-not-lock"}},
			},
			Backup: &gear.Backup{
				Kind: gear.Wheel, Links: []gear.AllowedLink{{Model: "absorber-a", MaxM: 0.6}, {Model: "absorber-b", MaxM: 0.5}},
				LockSpeedMS: 2, LockDistanceM: 0.12, DragN: 6, Parks: true, UnparkBeforeDescent: true,
			},
		},
		{
			ID: "backup-cam", Class: gear.BackupDevice, Maker: "Hemmick", Name: "cam backup", MassG: 260, StrengthKN: 15,
			Standards: []string{"EN 12841-A"}, Source: "instructions for use, issue 6",
			Device: &gear.Device{
				Looks:     &gear.Looks{RopePath: gear.PinchingCam, AnchorSign: "front"},
				Modes:     []gear.Mode{{Name: "one person", Persons: 1, Ropes: takes(10, 12), MinKg: 50, MaxKg: 120}},
				Positions: []gear.Position{{Name: "on the rope", HandsOff: gear.Stops}}, WrongLoading: "slips", OpensIfPushed: true,
				Teeth: []gear.TeethLimit{{DiameterMM: 10, HarmKN: 5}, {DiameterMM: 11, HarmKN: 6}}, OpensOnConnector: true,
			},
			Backup: &gear.Backup{
				Kind: gear.Cam, Links: []gear.AllowedLink{{Model: "lanyard-60", MaxM: 0.6}, {Model: "absorber-a", MaxM: 0.5}},
				LockDistanceM: 0.05, TowedByCord: true,
			},
		},
	}
}

// winding makes a generation of the winding descender; the two differ in wheel and lock.
func winding(id, generation string, w *gear.Winding) gear.Model {
	return gear.Model{
		ID: id, Class: gear.WindingDev, Maker: "Hemmick", Name: "winding descender", Generation: generation, MassG: 2300, StrengthKN: 22,
		WorkingLoads: []gear.WorkingLoad{{Mode: "one person", Mass: 150}, {Mode: "two persons", Mass: 250}}, Standards: []string{"EN 341"}, Source: "instructions for use of the " + generation + " generation",
		Device: &gear.Device{
			Modes: []gear.Mode{
				{Name: "one person", Persons: 1, Ropes: takes(9.5, 11), MinKg: 40, MaxKg: 150, MaxDescentM: 120},
				{Name: "two persons", Persons: 2, Ropes: takes(9.5, 11), MinKg: 60, MaxKg: 250, MaxDescentM: 120},
			},
			Friction: &gear.Friction{BaseRatio: 30, TakeInPart: 0.6}, Positions: []gear.Position{{Name: "lock in", HandsOff: gear.Stops, Parked: true}, {Name: "lock free", HandsOff: gear.Runs}},
			WrongLoading: "slips", LeverReachM: 0.2, MaxSpeedMS: 1,
		},
		Winding: w,
	}
}

func ascender() *gear.Device {
	return &gear.Device{
		Modes:     []gear.Mode{{Name: "one person", Persons: 1, Ropes: takes(8, 12), MaxKg: 140}},
		Positions: []gear.Position{{Name: "on the rope", HandsOff: gear.Stops}, {Name: "open", HandsOff: gear.Runs}},
		Teeth:     []gear.TeethLimit{{DiameterMM: 8, HarmKN: 3.2}, {DiameterMM: 10, HarmKN: 4}, {DiameterMM: 11, HarmKN: 4.5}}, SlipKN: 5,
		WrongLoading: "slips", OpensOnConnector: true,
		RopeEffects: []gear.RopeEffect{{Condition: gear.Wet, Change: "no-change"}, {Condition: gear.Muddy, Change: "may-not-lock"}, {Condition: gear.Icy, Change: "may-not-lock"}},
	}
}

func links() []gear.Model {
	connector := func(id, name, gate, shape string, strength, open, across float64) gear.Model {
		return gear.Model{
			ID: id, Class: gear.Connector, Maker: "Ostlane", Name: name, MassG: 90, StrengthKN: kN(strength), Standards: []string{"EN 362"},
			Source:    "instructions for use, issue 1",
			Connector: &gear.ConnectorModel{OpenKN: kN(open), AcrossKN: kN(across), Gate: gate, Shape: shape},
		}
	}
	length := func(id string, class gear.Class, name string, m, strength float64, standards ...string) gear.Model {
		return gear.Model{
			ID: id, Class: class, Maker: "Ostlane", Name: name, StrengthKN: kN(strength), Standards: standards, Life: life,
			Source: "instructions for use, issue 1", LengthM: metres(m),
		}
	}
	absorber := func(id, name string, m, force, max, heaviest float64) gear.Model {
		a := length(id, gear.Absorber, name, m, 22, "EN 355")
		a.Maker = "Varrowby"
		a.Absorber = &gear.AbsorberModel{ForceKN: kN(force), MaxM: metres(max), MinKg: 50, MaxKg: kg(heaviest)}
		return a
	}
	return []gear.Model{
		connector("connector-oval", "oval, screw", "screw", "oval", 25, 7, 8),
		connector("connector-offset", "offset, three-action", "three-action", "offset", 27, 8, 9),
		connector("connector-pear", "pear, two-action", "two-action", "pear", 26, 7, 8),
		connector("connector-plain", "accessory, plain gate", "plain", "offset", 20, 6, 7),
		length("lanyard-60", gear.Lanyard, "short lanyard 60", 0.6, 22, "EN 354"),
		length("lanyard-90", gear.Lanyard, "long lanyard 90", 0.9, 22, "EN 354"),
		length("sling-120", gear.Sling, "sling 120", 1.2, 24, "EN 795-B"),
		length("foot-loop", gear.FootLoop, "foot loop", 1.1, 0),
		absorber("absorber-a", "absorber 40", 0.4, 4.5, 0.9, 140),
		absorber("absorber-b", "absorber 30, two persons", 0.3, 5.5, 1.2, 250),
		{
			ID: "harness-a", Class: gear.Harness, Maker: "Hemmick", Name: "full harness", StrengthKN: 15, Standards: []string{"EN 361", "EN 813"}, Life: life,
			Source: "instructions for use, issue 2",
			Harness: &gear.HarnessModel{Points: []gear.HarnessPoint{
				{Point: gear.Ventral}, {Point: gear.Sternal, FallArrest: true}, {Point: gear.Dorsal, FallArrest: true}, {Point: gear.Lateral},
			}},
		},
		{ID: "gloves-a", Class: gear.Gloves, Maker: "Ostlane", Name: "rope gloves", Source: "leaflet"},
		{ID: "helmet-a", Class: gear.Helmet, Maker: "Hemmick", Name: "work helmet", Standards: []string{"EN 397"}, Life: life, Source: "leaflet"},
		{ID: "stretcher-a", Class: gear.Stretcher, Maker: "Hemmick", Name: "folding stretcher", StrengthKN: 11, Life: life, Source: "instructions for use, issue 1"},
		{ID: "bag-a", Class: gear.Bag, Maker: "Ostlane", Name: "rope bag 40", Source: "leaflet"},
		{ID: "roller-a", Class: gear.EdgeProtector, Maker: "Varrowby", Name: "edge roller", Source: "instructions for use, issue 1"},
		{
			ID: "pulley-a", Class: gear.Pulley, Maker: "Varrowby", Name: "single pulley", StrengthKN: 32, Source: "instructions for use, issue 1",
			Pulley: &gear.PulleyModel{Efficiency: 0.92, Sheaves: 1, SideKN: 8, LargestDiameterMM: 13},
		},
		{
			ID: "capture-a", Class: gear.CapturePulley, Maker: "Varrowby", Name: "capture pulley", MassG: 260, StrengthKN: 22, Source: "instructions for use, issue 2",
			Pulley: &gear.PulleyModel{Efficiency: 0.9, Sheaves: 1, SideKN: 6, LargestDiameterMM: 12, OpensOnConnector: true, CamHoldsOpen: true, ReleaseTravelM: 0.04},
			Device: forTwo(ascender()),
		},
		{
			ID: "grab-a", Class: gear.RopeGrab, Maker: "Varrowby", Name: "rope grab", MassG: 310, StrengthKN: 15, Source: "instructions for use, issue 2",
			Device: forTwo(ascender()),
		},
		{
			ID: "hitch-a", Class: gear.Hitch, Maker: "Varrowby", Name: "load-releasing hitch", StrengthKN: 30, Source: "instructions for use, issue 1", Life: life,
			Hitch: &gear.HitchModel{ExtendsM: 1.2, ElongationPct: 4},
		},
		{
			ID: "evacuation-a", Class: gear.Evacuation, Maker: "Varrowby", Name: "sealed evacuation kit", StrengthKN: 12, Source: "instructions for use, issue 2",
			Evacuation: &gear.EvacuationModel{MinKg: 40, MaxKg: 150, MaxM: 100, SpeedMS: 0.8, OneShot: true},
		},
	}
}

// forTwo adds a mode for two persons on the ropes of the first.
func forTwo(d *gear.Device) *gear.Device {
	two := d.Modes[0]
	two.Name, two.Persons, two.MaxKg = "two persons", 2, 300
	d.Modes = append(d.Modes, two)
	return d
}
