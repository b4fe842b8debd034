// Package care knows what keeps gear fit for use beyond the day's checks: what a thorough
// examination looks at, when the next is due, how parts wear, and the codes on labels.
//
// It knows models, items and days. What a missed examination means on a drop is for the
// rules.
package care

import (
	"cmp"
	"fmt"
	"strings"

	"zealousknot/internal/core/gear"
)

// A ExaminationPoint is one thing to examine.
type ExaminationPoint struct {
	ID   string `json:"id"`
	Text string `json:"text"`
}

// every are the points of whatever class, first.
var every = []ExaminationPoint{
	{"marks", "serial, maker and standards can be read; the item is the one on the record"},
	{"history", "nothing in its history that has not been checked: fall, heat, chemicals, edge"},
}

var metal = []ExaminationPoint{
	{"body", "no crack, bend, burr or corrosion; no part loose or missing"},
	{"worn", "worn parts within the limits of the leaflet: groove, edge, holes"},
}

var textile = []ExaminationPoint{
	{"cloth", "no cut, fray, fluff, melt, stiff place or bleach, all along and on both sides"},
	{"stitch", "every stitch pattern whole, no thread pulled, none of another colour"},
}

var moving = []ExaminationPoint{
	{"moves", "cams, levers and springs move freely and return by themselves"},
	{"locks", "locks on a rope of its range and releases as the leaflet says"},
}

// points are those of a class, after those of every class.
var points = map[gear.Class][]ExaminationPoint{
	gear.Rope: {
		{"sheath", "sheath all along by hand: no cut, fluff, glaze, flat or stiff place, no bulge"},
		{"core", "core all along by hand: no hollow, lump or step; it bends evenly"},
		{"ends", "ends and sewn terminations whole; length as recorded"},
	},
	gear.Descender: join(metal, moving), gear.ChestAscender: join(metal, moving, teeth()), gear.HandAscender: join(metal, moving, teeth()),
	gear.BackupDevice: join(metal, moving), gear.AnchorBrake: join(metal, moving), gear.RopeGrab: join(metal, moving), gear.WindingDev: join(metal, moving),
	gear.CapturePulley: join(metal, moving, wheel()), gear.Pulley: join(metal, wheel()),
	gear.Connector: join(metal, []ExaminationPoint{
		{"gate", "gate opens, closes and locks by itself; no play; nose and pin meet"},
	}),
	gear.Swivel:  join(metal, []ExaminationPoint{{"turns", "turns freely under load and without, no play"}}),
	gear.Lanyard: textile, gear.Sling: textile, gear.FootLoop: textile, gear.Hitch: textile, gear.Bag: textile,
	gear.Absorber: join(textile, []ExaminationPoint{{"unopened", "cover whole, no part of it torn out"}}),
	gear.Harness: join(textile, []ExaminationPoint{
		{"buckles", "buckles close, hold and run; keepers there; attachment points not worn to the indicator"},
	}),
	gear.Helmet: {
		{"shell", "no crack, dent, soft place, paint or sticker that is not allowed"},
		{"straps", "straps, cradle and buckle whole; the buckle closes"},
	},
	gear.Stretcher: join(metal, textile, []ExaminationPoint{{"joins", "joints and locks close; bridle whole, each leg of the recorded length"}}),
	gear.Tripod:    join(metal, []ExaminationPoint{{"legs", "legs lock at each length; feet and chains there; head pins whole"}}),
	gear.Evacuation: join(metal, textile, []ExaminationPoint{{"rope", "its own rope all along; the brake runs evenly"},
		{"seal", "packing and seal whole, date not passed"}}),
	gear.FixedAnchor:  join(metal, []ExaminationPoint{{"fixing", "fixing tight, ground around it whole; proof of the last test there"}}),
	gear.RiggingPlate: metal,
}

// PointTitles are what people read in place of the id of a point.
var PointTitles = map[string]string{
	"marks": "markings", "history": "history", "body": "body", "worn": "wear", "cloth": "fabric", "stitch": "stitching", "moves": "moving parts", "locks": "locking",
	"sheath": "sheath", "core": "core", "ends": "ends", "gate": "gate", "turns": "turning", "unopened": "cover", "buckles": "buckles", "shell": "shell",
	"straps": "straps", "joins": "joints and locks", "legs": "legs", "rope": "its own rope", "seal": "packing and seal", "fixing": "fixing", "teeth": "teeth",
	"wheel": "wheel", "whole": "condition",
}

// PointTitle is what people read in place of the id of a point: a point of a leaflet is
// numbered as it stands there.
func PointTitle(id string) string {
	if n, ok := strings.CutPrefix(id, "leaflet-"); ok {
		return "point " + n + " of the leaflet"
	}
	return cmp.Or(PointTitles[id], strings.ReplaceAll(id, "-", " "))
}

func teeth() []ExaminationPoint {
	return []ExaminationPoint{{"teeth", "teeth sharp, clean, none missing"}}
}
func wheel() []ExaminationPoint {
	return []ExaminationPoint{{"wheel", "wheel round and running; side plates not bent, they close"}}
}

func join(lists ...[]ExaminationPoint) (all []ExaminationPoint) {
	for _, l := range lists {
		all = append(all, l...)
	}
	return all
}

// Points are what a thorough examination of a thing of this model looks at: the leaflet's
// own list, else that of its class.
func Points(m *gear.Model) []ExaminationPoint {
	list := join(every)
	if len(m.Examine) > 0 {
		for i, text := range m.Examine {
			list = append(list, ExaminationPoint{fmt.Sprintf("leaflet-%d", i+1), text})
		}
		return list
	}
	own := points[m.Class]
	if own == nil {
		own = []ExaminationPoint{{"whole", "whole, clean, nothing worn or damaged that its leaflet names"}}
	}
	return append(list, own...)
}
