package demo

import "zealousknot/internal/core/callout"

// Preplans are what the team knows of sites before anybody calls.
func Preplans() map[string]*callout.Preplan {
	at := func(lat, lon float64) (*float64, *float64) { return &lat, &lon }
	wall := &callout.Preplan{
		Format: "pre-plan", Version: 1, Name: "Basin wall", Access: "By the service road to the valve house; the gate's key is with the dam keeper.", Rendezvous: "car park under the left abutment",
		Radio: "channel 3; none in the gallery", Hazards: "The spillway may run without a warning: ask the keeper first.", LandingAt: "basin floor, out by the ladder on the right", Landing: "ground",
		HeightM: &callout.Span{LowM: 47, HighM: 48}, BackM: &callout.Span{LowM: 2, HighM: 4}, Edge: "roller", Drop: "basin-wall",
		Anchors: []callout.Register{
			{Name: "wall main", What: "two bolts behind the coping", StrengthKN: 25, ExaminedOn: "2026-05-11", ExaminedBy: "Dov Pellister", AgainBy: "2027-05-10", Anchor: "wall-main"},
			{Name: "wall belay", What: "two bolts, 1.4 m to the right", StrengthKN: 25, ExaminedOn: "2025-04-02", ExaminedBy: "Dov Pellister", AgainBy: "2026-04-01", Anchor: "wall-belay"},
		},
	}
	wall.Lat, wall.Lon = at(46.4102, 9.8731)
	quarry := &callout.Preplan{
		Format: "pre-plan", Version: 1, Name: "Old quarry, east face", Access: "Track from the upper village, on foot for the last 300 m.", Rendezvous: "the turning place",
		LandingAt: "scree at the foot, boat across the pool", Landing: "boat", HeightM: &callout.Span{LowM: 60, HighM: 75}, Edge: "none",
		Anchors: []callout.Register{{Name: "three larches", What: "slings round the stems, 6 m back"}},
	}
	quarry.Lat, quarry.Lon = at(46.4388, 9.9015)
	return map[string]*callout.Preplan{"basin-wall": wall, "old-quarry": quarry}
}
