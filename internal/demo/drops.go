package demo

import (
	"fmt"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// Team is the name of the demo team.
const Team = "Marrowfell rope team"

// Site is where the demo drops are.
const Site = "Marrowfell dam"

// Gear is the catalogue and the team's store.
func Gear() *drop.Store { return &drop.Store{Models: Models(), Items: Items(), Kits: Kits()} }

// Drops are the drops of the scenario by their ids, complete with the items they
// use. Face 4 has a planted fault: a rescue mode that takes thinner rope than
// the one that hangs there.
func Drops() map[string]*drop.Document {
	drops := map[string]*drop.Document{"face-4": face(), "gate-shaft": shaft(), "spillway-lip": lip(), "crown-gallery": gallery(), "basin-wall": basin(), "sump-hatch": sump(), "face-7": faceSeven()}
	for _, d := range drops {
		d.Format, d.Version, d.Site, d.Day = drop.Format, drop.Version, Site, Day
		d.Policy = policy.Policy{Name: Team}
		d.Refresh(Gear())
	}
	shaft := drops["gate-shaft"]
	shaft.PartnerChecks = []rig.PartnerCheck{{Person: "ivo", Rigging: procedure.RiggingOn(shaft, "ivo"), On: Day, By: "Dov Pellister"}}
	r, err := shaft.Rig()
	if err != nil {
		panic(err)
	}
	shaft.WornChecks = []rig.WornCheck{{Person: "ivo", Items: procedure.AllSound(r.People[0]), On: Day, By: "Ivo Kestrane"}}
	return drops
}

// person makes a member of the team into a person on a drop.
func person(id string, at quantity.Metres) rig.Person {
	for _, m := range People() {
		if m.ID == id {
			return rig.Person{ID: m.ID, Name: m.Name, MassKg: m.MassKg, AtM: at, Harness: m.Harness, Familiar: m.Familiar}
		}
	}
	panic("no member " + id)
}

func chain(items ...string) []rig.Link {
	var list []rig.Link
	for _, id := range items {
		list = append(list, rig.Link{Item: id})
	}
	return list
}

func number(prefix string, n ...int) []string {
	var list []string
	for _, i := range n {
		list = append(list, fmt.Sprintf("%s-%d", prefix, i))
	}
	return list
}

func checked(by string, pairs ...[2]string) []rig.FunctionCheck {
	var list []rig.FunctionCheck
	for _, p := range pairs {
		list = append(list, rig.FunctionCheck{Item: p[0], Rope: p[1], On: Day, By: by, Passed: true})
	}
	return list
}

// legs is an even anchor of two legs with the given half width and height.
func legs(prefix string, half, up float64) []rig.Leg {
	return []rig.Leg{
		{ID: prefix + "-1", XM: metres(-half), YM: metres(up), ElongationPct: 4, StrengthKN: 22},
		{ID: prefix + "-2", XM: metres(half), YM: metres(up), ElongationPct: 4, StrengthKN: 22},
	}
}

func face() *drop.Document {
	rhea := person("rhea", 61.2)
	rhea.Holds = []rig.Hold{
		{
			ID: "rhea-main", Strand: "main", Device: "descender-14", Mode: "two persons", Position: "park", Point: gear.Ventral, AboveM: 0.15,
			Threaded: rig.ThreadedRight, SecondKg: 85, ExtraFriction: true, Leaves: &rig.Leaves{Side: gear.Right, SeenFrom: "front"},
			Links: chain("connector-41"),
		},
		{
			ID: "rhea-backup", Strand: "backup", Device: "backup-7", Mode: "two persons", Position: "rolling", Point: gear.Sternal, AboveM: 0.3,
			Threaded: rig.ThreadedRight, SecondKg: 85, Links: chain("connector-61", "absorber-11", "connector-62"),
		},
	}
	rhea.Carries = append(number("connector", 63, 64, 65, 66), "chest-1", "hand-1", "foot-loop-1", "backup-8", "lanyard-1", "lanyard-11", "gloves-1")
	rhea.Moves = []manoeuvre.MoveName{"descend", "rebelay-down", "rebelay-up", "ascend-to-descend", "pick-off"}
	return &drop.Document{
		Name: "Face 4", WindMS: 5,
		Note: "Inspection of the downstream face below block 4, crest to apron. Rhea goes down rigged to bring a second person with her.",
		Geometry: rig.Geometry{
			TopM: 96, TopName: "crest", LandingName: "apron", OffsetM: 6.5,
			Ledges: []rig.Ledge{{ID: "gallery", Name: "gallery sill", HeightM: 31.5}},
			Edges:  []rig.Edge{{ID: "crest-edge", Name: "crest edge", HeightM: 94.2, Protection: "roller", RopeM: 0.4}},
		},
		Anchors: []rig.Anchor{
			{ID: "crest-main", Name: "main anchor", XM: -0.6, HeightM: 96.4, Legs: legs("rail-left", 0.45, 0.9)},
			{ID: "crest-backup", Name: "backup anchor", XM: 0.6, HeightM: 96.4, Legs: append(legs("rail-right", 0.45, 0.9)[:1:1], rig.Leg{ID: "crest-bolt", XM: 0.2, YM: 0.6, ElongationPct: 4, StrengthKN: 25})},
			{ID: "face-main", Name: "re-belay main", XM: -0.15, HeightM: 52, Legs: []rig.Leg{{ID: "bolt-52a", YM: 0.3, StrengthKN: 25}}},
			{ID: "face-backup", Name: "re-belay backup", XM: 0.15, HeightM: 52.4, Legs: []rig.Leg{{ID: "bolt-52b", YM: 0.3, StrengthKN: 25}}},
		},
		Strands: []rig.Strand{
			{
				ID: "main", Name: "main", Role: rig.Main, Set: 1, Anchors: []string{"crest-main"}, Ropes: []string{"rope-3"}, EndStop: rig.EndKnot,
				Marks: []rig.Mark{
					{ID: "m-52", Kind: rig.RebelayMark, HeightM: 52, Anchor: "face-main", LoopM: 2.4},
					{ID: "m-chafe", Kind: rig.DamageMark, Name: "chafed sheath", HeightM: 23.4},
					{ID: "m-knot", Kind: rig.KnotMark, Name: "isolating knot", HeightM: 23.8, Isolates: "m-chafe"},
				},
			},
			{
				ID: "backup", Name: "backup", Role: rig.Backup, Set: 1, Anchors: []string{"crest-backup"}, Ropes: []string{"rope-4"}, EndStop: rig.EndKnot,
				Marks: []rig.Mark{{ID: "b-52", Kind: rig.RebelayMark, HeightM: 52.4, Anchor: "face-backup", LoopM: 2.4}},
			},
		},
		People: []rig.Person{rhea},
		Checks: checked("Rhea Tolland", [2]string{"descender-14", "rope-3"}, [2]string{"backup-7", "rope-4"}),
	}
}

func shaft() *drop.Document {
	ivo := person("ivo", 12)
	ivo.Holds = []rig.Hold{
		{
			ID: "ivo-main", Strand: "main", Device: "descender-21", Mode: "single", Position: "park", Point: gear.Ventral, AboveM: 0.15,
			Threaded: rig.ThreadedRight, Links: chain("connector-42"),
		},
		{
			ID: "ivo-backup", Strand: "backup", Device: "backup-31", Mode: "one person", Position: "on the rope", Point: gear.Sternal, AboveM: 0.35,
			Threaded: rig.ThreadedRight, Links: chain("connector-67", "lanyard-2", "connector-68"),
		},
	}
	ivo.Carries = append(number("connector", 69, 70, 43), "chest-2", "hand-2", "foot-loop-2", "lanyard-3", "lanyard-12", "gloves-2", "backup-9", "absorber-8")
	ivo.Moves = []manoeuvre.MoveName{"descend", "pass-knots-down", "descend-to-ascend", "ascend", "pass-knots-up"}
	return &drop.Document{
		Name:     "Gate shaft",
		Note:     "To the sill of the lower gate. The main is a joined pair: a knot hangs at 18 m, and beside it one in the backup.",
		Geometry: rig.Geometry{TopM: 38, TopName: "gate deck", LandingName: "shaft sump"},
		Anchors: []rig.Anchor{
			{ID: "deck-main", Name: "main anchor", XM: -0.4, HeightM: 39.1, Legs: legs("beam-a", 0.3, 0.6)},
			{ID: "deck-backup", Name: "backup anchor", XM: 0.4, HeightM: 39.1, Legs: legs("beam-b", 0.3, 0.6)},
		},
		Strands: []rig.Strand{
			{
				ID: "main", Name: "main", Role: rig.Main, Set: 1, Anchors: []string{"deck-main"}, Ropes: []string{"rope-7", "rope-8"}, EndStop: rig.EndKnot,
				Marks: []rig.Mark{{ID: "m-join", Kind: rig.JoinMark, Name: "join", HeightM: 18}},
			},
			{
				ID: "backup", Name: "backup", Role: rig.Backup, Set: 1, Anchors: []string{"deck-backup"}, Ropes: []string{"rope-9"}, EndStop: rig.EndKnot,
				Marks: []rig.Mark{{ID: "b-eye", Kind: rig.KnotMark, Name: "knot with an eye", HeightM: 18.4, Eye: true}},
			},
		},
		People: []rig.Person{ivo},
		Checks: checked("Ivo Kestrane", [2]string{"descender-21", "rope-7"}, [2]string{"backup-31", "rope-9"}, [2]string{"rope-7", "rope-7"}, [2]string{"rope-8", "rope-8"}, [2]string{"rope-9", "rope-9"}),
	}
}

// gallery has two sets with slings between them, and a chafed main.
func gallery() *drop.Document {
	dov := person("dov", 12)
	dov.Holds = []rig.Hold{
		{
			ID: "dov-main", Strand: "main", Device: "descender-22", Mode: "single", Position: "park", Point: gear.Ventral, AboveM: 0.15,
			Threaded: rig.ThreadedRight, Links: chain("connector-46"),
		},
		{
			ID: "dov-backup", Strand: "backup", Device: "backup-32", Mode: "one person", Position: "on the rope", Point: gear.Sternal, AboveM: 0.35,
			Threaded: rig.ThreadedRight, Links: chain("connector-73", "lanyard-5", "connector-74"),
		},
	}
	dov.Carries = append(number("connector", 75, 76, 77, 78, 47, 48), "chest-3", "hand-3", "foot-loop-3", "foot-loop-4", "foot-loop-5", "lanyard-6", "lanyard-13", "lanyard-14", "backup-33", "absorber-9", "gloves-4")
	dov.Moves = []manoeuvre.MoveName{"ascend", "aid", "transfer", "isolate-damage", "short-work"}
	d := &drop.Document{
		Name:     "Crown gallery",
		Note:     "Two sets in front of the gallery ports, slings on the handrail between them. The main of the left set is chafed at 9 m.",
		Geometry: rig.Geometry{TopM: 25, TopName: "crown gallery", LandingName: "toe block"},
	}
	for set, x := range []float64{-0.9, 0.9} {
		side := []string{"left", "right"}[set]
		for i, role := range []rig.Role{rig.Main, rig.Backup} {
			id, name := string(role), string(role)
			if set > 0 {
				id, name = id+"-right", name+" right"
			}
			anchor := side + "-" + string(role)
			d.Anchors = append(d.Anchors, rig.Anchor{ID: anchor, Name: side + " " + string(role) + " anchor", XM: metres(x + 0.4*float64(i) - 0.2), HeightM: 25.6, Legs: legs(anchor, 0.3, 0.6)})
			d.Strands = append(d.Strands, rig.Strand{ID: id, Name: name, Role: role, Set: set + 1, Anchors: []string{anchor}, Ropes: number("rope", 13+2*set+i), EndStop: rig.EndKnot})
		}
	}
	d.Strands[0].Marks = []rig.Mark{{ID: "chafe", Kind: rig.DamageMark, Name: "chafed sheath", HeightM: 9, SheathOnly: true}}
	for i := range 5 {
		d.Anchors = append(d.Anchors, rig.Anchor{
			ID: fmt.Sprintf("sling-%d", i+1), Name: fmt.Sprintf("sling %d", i+1), XM: metres(-0.8 + 0.4*float64(i)), HeightM: 22, Sling: true,
			Legs: []rig.Leg{{ID: fmt.Sprintf("rail-%d", i+1), YM: 0.2, StrengthKN: 22}},
		})
	}
	d.People = []rig.Person{dov}
	d.Checks = checked("Dov Pellister", [2]string{"descender-22", "rope-13"}, [2]string{"backup-32", "rope-14"})
	return d
}

// basin is a stretcher lower by a team, with a knot in the main.
func basin() *drop.Document {
	return &drop.Document{
		Name:     "Basin wall",
		Note:     "Stretcher with its attendant, wall top to basin floor. A knot takes damage out of the main 22 m from the load.",
		Geometry: rig.Geometry{TopM: 48, TopName: "wall top", LandingName: "basin floor", Edges: []rig.Edge{{ID: "coping", Name: "coping", HeightM: 47.4, Protection: "roller", RopeM: 0.3}}},
		Anchors: []rig.Anchor{
			{ID: "wall-main", Name: "main anchor", XM: -0.7, HeightM: 48.8, Legs: legs("wall-main", 0.4, 0.8)},
			{ID: "wall-belay", Name: "belay anchor", XM: 0.7, HeightM: 48.8, Legs: legs("wall-belay", 0.4, 0.8)},
		},
		Strands: []rig.Strand{
			{ID: "main", Name: "main", Role: rig.Main, Set: 1, Anchors: []string{"wall-main"}, Ropes: []string{"rope-5"}, EndStop: rig.EndKnot},
			{ID: "belay", Name: "belay", Role: rig.Backup, Set: 1, Anchors: []string{"wall-belay"}, Ropes: []string{"rope-6"}, EndStop: rig.EndKnot},
		},
		Team: &rig.TeamRig{
			Load:      rig.TeamLoad{Name: "the stretcher with its attendant", MassKg: 165, Persons: 2, Stretcher: true},
			Main:      rig.TeamLine{Strand: "main", Brake: "brake-1", Connector: "connector-83", KnotsM: []quantity.Metres{22}},
			Belay:     rig.TeamLine{Strand: "belay", Brake: "brake-2", Connector: "connector-84"},
			Operators: []string{"Rhea Tolland", "Ivo Kestrane", "Maren Oake"}, Haulers: 3, RunM: 6,
			Kit: append(number("pulley", 1, 2, 3), "capture-1", "grab-1", "hitch-1", "connector-81", "connector-82", "connector-85", "connector-86", "connector-71", "connector-72"),
		},
		Checks: checked("Rhea Tolland", [2]string{"brake-1", "rope-5"}, [2]string{"brake-2", "rope-6"}),
	}
}

// faceSeven is a face with two people at work and one at the crest who comes.
func faceSeven() *drop.Document {
	ivo, rhea, dov := person("ivo", 44), person("rhea", 58), person("dov", 72)
	ivo.Holds = []rig.Hold{
		{
			ID: "ivo-main", Strand: "main", Device: "descender-17", Mode: "one person", Position: "park", Point: gear.Ventral, AboveM: 0.15,
			Threaded: rig.ThreadedRight, Leaves: &rig.Leaves{Side: gear.Right, SeenFrom: "front"}, Links: chain("connector-42"),
		},
		{
			ID: "ivo-backup", Strand: "backup", Device: "backup-11", Mode: "one person", Position: "rolling", Point: gear.Sternal, AboveM: 0.3,
			Threaded: rig.ThreadedRight, Links: chain("connector-67", "absorber-13", "connector-68"),
		},
	}
	ivo.Carries = append(number("connector", 69, 70, 43), "chest-2", "hand-2", "foot-loop-2", "lanyard-3", "lanyard-12", "gloves-2")
	rhea.Holds = []rig.Hold{
		{
			ID: "rhea-main", Strand: "main-two", Device: "descender-18", Mode: "one person", Position: "park", Point: gear.Ventral, AboveM: 0.15,
			Threaded: rig.ThreadedRight, Leaves: &rig.Leaves{Side: gear.Right, SeenFrom: "front"}, Links: chain("connector-41"),
		},
		{
			ID: "rhea-backup", Strand: "backup-two", Device: "backup-12", Mode: "one person", Position: "rolling", Point: gear.Sternal, AboveM: 0.3,
			Threaded: rig.ThreadedRight, Links: chain("connector-61", "absorber-14", "connector-62"),
		},
	}
	rhea.Carries = append(number("connector", 64, 65, 66, 44), "chest-1", "hand-1", "foot-loop-1", "lanyard-1", "lanyard-11", "gloves-1", "pulley-1")
	dov.Grounded = true
	dov.Carries = append(number("connector", 75, 76, 77, 78, 47, 48, 49, 50, 51), "descender-22", "backup-8", "absorber-12", "chest-3", "hand-3", "foot-loop-3", "lanyard-6", "lanyard-13", "gloves-4", "pulley-2")
	d := &drop.Document{
		Name:     "Face 7",
		Note:     "Joint inspection by two: a re-belay under the cornice on the left set, a knot in each strand below it. Dov is at the crest and comes if somebody cannot help themselves.",
		Geometry: rig.Geometry{TopM: 72, TopName: "crest", LandingName: "apron", Edges: []rig.Edge{{ID: "crest-edge", Name: "crest edge", HeightM: 71, Protection: "roller", RopeM: 0.3}}},
		People:   []rig.Person{ivo, rhea, dov},
		Rescue: &rig.Rescue{
			Rescuers: []rig.Rescuer{{Person: "dov", PractisedOn: "2026-08-03"}},
			Phones:   []rig.Phone{{Who: "site office"}, {Who: "medical provider"}},
		},
		Checks: checked("Dov Pellister", [2]string{"descender-17", "rope-17"}, [2]string{"backup-11", "rope-18"}, [2]string{"descender-18", "rope-19"}, [2]string{"backup-12", "rope-20"}),
	}
	for set, x := range []float64{-0.5, 0.7} {
		for i, role := range []rig.Role{rig.Main, rig.Backup} {
			id, name := string(role), string(role)
			if set > 0 {
				id, name = id+"-two", name+" two"
			}
			anchor := "crest-" + id
			d.Anchors = append(d.Anchors, rig.Anchor{ID: anchor, Name: name + " anchor", XM: metres(x + 0.4*float64(i) - 0.2), HeightM: 72.8, Legs: legs(anchor, 0.4, 0.8)})
			d.Strands = append(d.Strands, rig.Strand{ID: id, Name: name, Role: role, Set: set + 1, Anchors: []string{anchor}, Ropes: number("rope", 17+2*set+i), EndStop: rig.EndKnot})
		}
	}
	d.Anchors = append(d.Anchors,
		rig.Anchor{ID: "cornice-main", Name: "cornice, main", XM: -0.7, HeightM: 61, Legs: legs("cornice-main", 0.2, 0.4)},
		rig.Anchor{ID: "cornice-backup", Name: "cornice, backup", XM: -0.3, HeightM: 61, Legs: legs("cornice-backup", 0.2, 0.4)})
	d.Strands[0].Marks = []rig.Mark{
		{ID: "m-cornice", Kind: rig.RebelayMark, Name: "re-belay", HeightM: 61, Anchor: "cornice-main", LoopM: 2.4},
		{ID: "m-knot", Kind: rig.KnotMark, Name: "knot", HeightM: 25, Eye: true},
	}
	d.Strands[1].Marks = []rig.Mark{
		{ID: "b-cornice", Kind: rig.RebelayMark, Name: "re-belay", HeightM: 61, Anchor: "cornice-backup", LoopM: 2.4},
		{ID: "b-knot", Kind: rig.KnotMark, Name: "knot", HeightM: 24.6, Eye: true},
	}
	return d
}

// sump is a short lift out of a shaft by a winding descender.
func sump() *drop.Document {
	return &drop.Document{
		Name:     "Sump hatch",
		Note:     "One person out of the pump sump, through the hatch: a short lift by the wheel, or down again to the floor.",
		Geometry: rig.Geometry{TopM: 11, TopName: "hatch", LandingName: "sump floor", Edges: []rig.Edge{{ID: "hatch-rim", Name: "hatch rim", HeightM: 11, Protection: "roller"}}},
		Anchors: []rig.Anchor{
			{ID: "frame-main", Name: "frame, main", XM: -0.3, HeightM: 13, Legs: legs("frame-main", 0.3, 0.9)},
			{ID: "frame-belay", Name: "frame, belay", XM: 0.3, HeightM: 13, Legs: legs("frame-belay", 0.3, 0.9)},
		},
		Strands: []rig.Strand{
			{ID: "main", Name: "main", Role: rig.Main, Set: 1, Anchors: []string{"frame-main"}, Ropes: []string{"rope-13"}, EndStop: rig.EndKnot},
			{ID: "belay", Name: "belay", Role: rig.Backup, Set: 1, Anchors: []string{"frame-belay"}, Ropes: []string{"rope-14"}, EndStop: rig.EndKnot},
		},
		Team: &rig.TeamRig{
			Load: rig.TeamLoad{Name: "one person in a harness", MassKg: 92, Persons: 1},
			Main: rig.TeamLine{Strand: "main", Brake: "winding-2", Connector: "connector-87"}, Belay: rig.TeamLine{Strand: "belay", Brake: "brake-3", Connector: "connector-88"},
			Operators: []string{"Ivo Kestrane", "Maren Oake"}, Haulers: 1, BackM: new(quantity.Metres),
			Kit: append(number("pulley", 4), "grab-2", "hitch-2", "connector-89", "connector-90"),
		},
		Checks: checked("Ivo Kestrane", [2]string{"winding-2", "rope-13"}, [2]string{"brake-3", "rope-14"}),
	}
}

func lip() *drop.Document {
	maren := person("maren", 6.5)
	maren.Holds = []rig.Hold{
		{
			ID: "maren-main", Strand: "main", Device: "descender-16", Mode: "one person", Position: "work", Point: gear.Ventral, AboveM: 0.15,
			Threaded: rig.ThreadedRight, Links: chain("connector-44"),
		},
		{
			ID: "maren-backup", Strand: "backup", Device: "backup-10", Mode: "one person", Position: "rolling", Point: gear.Sternal, AboveM: 0.1,
			Threaded: rig.ThreadedRight, Links: []rig.Link{{Item: "connector-71", Gate: rig.GateShut}, {Item: "absorber-7"}, {Item: "connector-72"}},
		},
	}
	maren.Carries = []string{"lanyard-4", "connector-45", "gloves-3"}
	maren.Moves = []manoeuvre.MoveName{"descend", "short-work"}
	return &drop.Document{
		Name:     "Spillway lip",
		Note:     "Half rigged: look through it as an exercise.",
		Geometry: rig.Geometry{TopM: 14, TopName: "spillway bridge", LandingName: "stilling basin", Edges: []rig.Edge{{ID: "lip", Name: "lip", HeightM: 13.6, Protection: "none", RopeM: 0.3}}},
		Anchors: []rig.Anchor{
			{ID: "bridge", Name: "bridge anchor", XM: 0, HeightM: 14.8, Legs: legs("post", 1.2, 0.6)},
		},
		Strands: []rig.Strand{
			{ID: "main", Name: "main", Role: rig.Main, Set: 1, Anchors: []string{"bridge"}, Ropes: []string{"rope-10"}, EndStop: rig.EndKnot},
			{ID: "backup", Name: "backup", Role: rig.Backup, Set: 1, Anchors: []string{"bridge"}, Ropes: []string{"rope-11"}, EndStop: rig.EndNone},
		},
		People: []rig.Person{maren},
		Checks: checked("Maren Oake", [2]string{"descender-16", "rope-10"}),
	}
}
