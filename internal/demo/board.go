package demo

import (
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// Board is the day of the scenario. Dov is planted on two drops at once; two drops of the team
// have no time yet; the wind rises after noon.
func Board() *day.Board {
	b := &day.Board{Format: day.Format, Version: day.Version, Day: Day, WindAtM: 0}
	slot := func(drop string, from day.Clock, hours float64) *day.Slot {
		b.Slots = append(b.Slots, day.Slot{Drop: drop, From: from, Hours: hours, Supervisor: "dov", NoHazards: true})
		return &b.Slots[len(b.Slots)-1]
	}
	slot("face-7", "07:30", 3)
	slot("crown-gallery", "08:30", 2)
	slot("spillway-lip", "08:00", 1.5)
	face := slot("face-4", "11:00", 2)
	face.NoHazards, face.Hazards = false, []day.Hazard{{Kind: "cutting", Protection: "both strands in steel sleeves from 40 to 46 m; the saw on its own lanyard"}}
	slot("gate-shaft", "11:30", 2).Others = []string{"maren"}
	slot("basin-wall", "", 2)
	slot("sump-hatch", "", 1.5)
	for i, w := range [][2]quantity.MetresPerSecond{{2, 3}, {2, 3}, {2, 3.2}, {2.5, 3.6}, {2.5, 3.8}, {3, 4.4}, {4, 6}, {5, 8.5}, {6, 11}, {7, 12.5}, {5, 9}} {
		gust := w[1]
		b.Wind = append(b.Wind, day.Wind{At: day.ClockOf(60 * (6 + i)), WindMS: w[0], GustMS: &gust})
	}
	return b
}

// papers are what somebody of the team holds.
func papers(level, seen string, more ...rig.Paper) []rig.Paper {
	return append([]rig.Paper{
		{Kind: "qualification", Name: "rope access level " + level, Until: Day.AddMonths(20), SeenBy: seen},
		{Kind: "medical", Name: "fit for work at height", Until: Day.AddMonths(9), SeenBy: seen},
		{Kind: "induction", Name: Site, Until: Day.AddMonths(4), SeenBy: seen},
	}, more...)
}
