package demo

import (
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

// Day is the day the scenario plays on.
const Day gear.Date = "2026-11-24"

// Items is the team's store.
func Items() []gear.Item {
	list := []gear.Item{
		ropeItem("rope-3", "rope 3", "rope-110", 110, 11.4, gear.Wet),
		ropeItem("rope-4", "rope 4", "rope-105", 110, 10.6, gear.Dry),
		ropeItem("rope-5", "rope 5", "rope-105", 110, 10.5, gear.Dry),
		ropeItem("rope-6", "rope 6", "rope-110", 60, 11, gear.Dry),
		ropeItem("rope-7", "rope 7", "rope-105", 26, 10.5, gear.Dry),
		ropeItem("rope-8", "rope 8", "rope-105", 24, 10.6, gear.Dry),
		ropeItem("rope-9", "rope 9", "rope-105", 50, 10.4, gear.Dry),
		ropeItem("rope-10", "rope 10", "rope-105", 18, 10.5, gear.Dry),
		ropeItem("rope-11", "rope 11", "rope-105", 15, 10.5, gear.Dry),
		ropeItem("rope-13", "rope 13", "rope-105", 30, 10.5, gear.Dry),
		ropeItem("rope-14", "rope 14", "rope-105", 30, 10.5, gear.Dry),
		ropeItem("rope-15", "rope 15", "rope-105", 30, 10.5, gear.Dry),
		ropeItem("rope-16", "rope 16", "rope-105", 30, 10.5, gear.Dry),
		ropeItem("rope-17", "rope 17", "rope-105", 110, 10.5, gear.Dry),
		ropeItem("rope-18", "rope 18", "rope-105", 110, 10.5, gear.Dry),
		ropeItem("rope-19", "rope 19", "rope-105", 110, 10.5, gear.Dry),
		ropeItem("rope-20", "rope 20", "rope-105", 110, 10.5, gear.Dry),
		ropeItem("rope-21", "rope 21", "rope-105", 160, 10.5, gear.Dry),
		ropeItem("rope-22", "rope 22", "rope-105", 160, 10.5, gear.Dry),
		ropeItem("rope-12", "rope 12", "rope-90", 60, 9, gear.Dry),
	}
	list = append(list, numbered("descender", "descender", "descender-a", 14, 18)...)
	list = append(list, numbered("descender", "descender", "descender-b", 21, 22)...)
	list = append(list, numbered("chest", "chest ascender", "chest-a", 1, 4)...)
	list = append(list, numbered("hand", "hand ascender", "hand-a", 1, 4)...)
	list = append(list, numbered("backup", "wheel backup", "backup-wheel", 7, 12)...)
	list = append(list, numbered("backup", "cam backup", "backup-cam", 31, 34)...)
	list = append(list, numbered("absorber", "absorber", "absorber-a", 7, 10)...)
	list = append(list, numbered("absorber", "absorber", "absorber-b", 11, 12)...)
	list = append(list, numbered("absorber", "absorber", "absorber-a", 13, 14)...)
	list = append(list, numbered("connector", "connector", "connector-offset", 41, 56)...)
	list = append(list, numbered("connector", "connector", "connector-oval", 61, 78)...)
	list = append(list, numbered("connector", "connector", "connector-pear", 81, 90)...)
	list = append(list, numbered("connector", "accessory clip", "connector-plain", 91, 92)...)
	list = append(list, numbered("lanyard", "short lanyard", "lanyard-60", 1, 6)...)
	list = append(list, numbered("lanyard", "long lanyard", "lanyard-90", 11, 16)...)
	list = append(list, numbered("foot-loop", "foot loop", "foot-loop", 1, 6)...)
	list = append(list, numbered("harness", "harness", "harness-a", 1, 4)...)
	list = append(list, numbered("gloves", "gloves", "gloves-a", 1, 4)...)
	list = append(list, numbered("pulley", "pulley", "pulley-a", 1, 4)...)
	list = append(list, numbered("capture", "capture pulley", "capture-a", 1, 1)...)
	list = append(list, numbered("winding", "winding descender", "winding-1", 1, 1)...)
	list = append(list, numbered("winding", "winding descender", "winding-2", 2, 2)...)
	list = append(list, numbered("brake", "combined brake", "brake-a", 1, 3)...)
	list = append(list, numbered("grab", "rope grab", "grab-a", 1, 2)...)
	list = append(list, numbered("hitch", "load-releasing hitch", "hitch-a", 1, 2)...)
	list = append(list, numbered("evacuation", "evacuation kit", "evacuation-a", 1, 1)...)
	list = append(list, inKit("rescue bag", append(numbered("helmet", "helmet", "helmet-a", 1, 2), append(numbered("stretcher", "stretcher", "stretcher-a", 1, 1), numbered("bag", "bag", "bag-a", 1, 1)...)...))...)
	list = append(list, inKit("van bag", vanBag())...)
	list = append(list, inKit("long bag", longBag())...)
	list = append(list, guest())
	for i := range list {
		happen(&list[i])
	}
	return list
}

// vanBag is what the vehicle has for a callout: four ropes for a lower of one length, or of
// two that are joined.
func vanBag() (list []gear.Item) {
	for n := 31; n <= 34; n++ {
		id := fmt.Sprintf("rope-%d", n)
		list = append(list, ropeItem(id, fmt.Sprintf("rope %d", n), "rope-105", 60, 10.5, gear.Dry))
	}
	list = append(list, numbered("brake", "combined brake", "brake-a", 11, 12)...)
	list = append(list, numbered("grab", "rope grab", "grab-a", 11, 13)...)
	list = append(list, numbered("hitch", "load-releasing hitch", "hitch-a", 11, 12)...)
	list = append(list, numbered("pulley", "pulley", "pulley-a", 11, 14)...)
	return append(list, numbered("connector", "connector", "connector-pear", 101, 112)...)
}

// longBag is two long ropes with their brakes, for what the van bag does not reach.
func longBag() (list []gear.Item) {
	for n := 41; n <= 42; n++ {
		list = append(list, ropeItem(fmt.Sprintf("rope-%d", n), fmt.Sprintf("rope %d", n), "rope-105", 120, 10.5, gear.Dry))
	}
	return append(list, numbered("brake", "combined brake", "brake-a", 13, 14)...)
}

func inKit(name string, items []gear.Item) []gear.Item {
	for i := range items {
		items[i].Kit = name
	}
	return items
}

// guest is the helmet of somebody who works with the team for a while.
func guest() gear.Item {
	i := numbered("helmet", "helmet", "helmet-a", 9, 9)[0]
	i.Owner, i.Place, i.ExaminedOn = "Sunniva Arrel", "with its owner", ""
	i.Guest = &gear.Guest{Certificate: "2026-1187", Examiner: "Corbin Asse", ValidUntil: "2027-02-28"}
	return i
}

// Kits are what is handed out together.
func Kits() []gear.Kit {
	return []gear.Kit{{ID: "rescue-bag", Name: "rescue bag", Wanted: []gear.KitLine{
		{Class: gear.Stretcher, Count: 1}, {Model: "helmet-a", Count: 3}, {Class: gear.Bag, Count: 1}, {Class: gear.Connector, Count: 2},
	}}, {ID: "van-bag", Name: "van bag", Wanted: []gear.KitLine{
		{Class: gear.Rope, Count: 4}, {Class: gear.AnchorBrake, Count: 2}, {Class: gear.RopeGrab, Count: 3}, {Class: gear.Hitch, Count: 2}, {Class: gear.Pulley, Count: 4}, {Class: gear.Connector, Count: 12},
	}}, {ID: "long-bag", Name: "long bag", Wanted: []gear.KitLine{{Class: gear.Rope, Count: 2}, {Class: gear.AnchorBrake, Count: 2}}}}
}

// happen gives single items their history.
func happen(i *gear.Item) {
	switch i.ID {
	case "descender-15":
		i.State, i.Reason = gear.Quarantine, "handle drifts while paying out"
	case "connector-63":
		i.ExaminedOn = "2026-06-02"
	case "backup-34":
		i.Events = []gear.Event{{Kind: "shock-load", On: "2026-11-18", Note: "caught a swing at the lip"}}
	case "rope-12":
		i.State, i.Reason = gear.Retired, "kept for knot practice on the ground only"
	}
}

func ropeItem(id, label, model string, length, measured float64, c gear.Condition) gear.Item {
	return gear.Item{
		ID: id, Model: model, Serial: "R-" + id[len("rope-"):], Label: label, State: gear.InService, MadeOn: "2023-03-01", FirstUsedOn: "2023-06-12",
		ExaminedOn: "2026-09-14", Place: "rope store", LengthM: metres(length), MeasuredMM: mm(measured), Condition: c,
	}
}

// numbered makes items of one model with numbers from first to last.
func numbered(id, label, model string, first, last int) []gear.Item {
	var list []gear.Item
	for n := first; n <= last; n++ {
		list = append(list, gear.Item{
			ID: fmt.Sprintf("%s-%d", id, n), Model: model, Serial: fmt.Sprintf("%s-%03d", model, n), Label: fmt.Sprintf("%s %d", label, n),
			State: gear.InService, MadeOn: "2023-01-20", FirstUsedOn: "2023-05-02", ExaminedOn: "2026-09-14", Place: "gear store",
		})
	}
	return list
}

// People is the team.
func People() []rig.Member {
	return []rig.Member{
		{ID: "rhea", Name: "Rhea Tolland", MassKg: 88, Harness: "harness-1", Familiar: knows("descender-a", "descender-b", "chest-a", "hand-a", "backup-wheel", "backup-cam"), Papers: papers("2", "Dov Pellister")},
		{ID: "ivo", Name: "Ivo Kestrane", MassKg: 81, Harness: "harness-2", Familiar: knows("descender-b", "chest-a", "hand-a", "backup-cam", "backup-wheel", "evacuation-a"), Papers: papers("2", "Dov Pellister")},
		{ID: "maren", Name: "Maren Oake", MassKg: 74, Harness: "harness-3", Familiar: knows("descender-a", "chest-a", "hand-a", "backup-wheel"), Papers: papers("3", "Dov Pellister", rig.Paper{Kind: "first-aid", Name: "first aid at height", Until: Day.AddMonths(14), SeenBy: "Dov Pellister"})},
		{ID: "dov", Name: "Dov Pellister", MassKg: 96, Harness: "harness-4", Familiar: knows("descender-a", "descender-b", "chest-a", "hand-a", "backup-cam"), Papers: papers("3", "Maren Oake", rig.Paper{Kind: "first-aid", Name: "first aid at height", Until: Day.AddMonths(14), SeenBy: "Maren Oake"})},
	}
}

func knows(models ...string) []rig.Familiarity {
	var list []rig.Familiarity
	for _, m := range models {
		list = append(list, rig.Familiarity{Model: m, On: "2026-02-10", By: "Dov Pellister"})
	}
	return list
}
