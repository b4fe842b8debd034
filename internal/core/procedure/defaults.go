package procedure

import (
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
)

// Of gives the proofs of a model in their order: its own instructions first, then
// the parts of its class. A proof of its own with the id of a part takes that
// part's place. A class without parts of its own has none.
func Of(m *gear.Model) []gear.Proof {
	parts := slices.Clone(ofClass(m))
	var own []gear.Proof
	for _, p := range m.Proofs {
		if i := slices.IndexFunc(parts, func(d gear.Proof) bool { return d.ID == p.ID }); i >= 0 {
			parts[i] = p
		} else {
			own = append(own, p)
		}
	}
	return append(own, parts...)
}

func ofClass(m *gear.Model) []gear.Proof {
	switch m.Class {
	case gear.Rope:
		return rope
	case gear.Descender:
		return descender(m)
	case gear.BackupDevice:
		if m.Backup != nil && m.Backup.Kind == gear.Wheel {
			return wheel(m)
		}
		return cam
	case gear.ChestAscender, gear.HandAscender:
		return ascender
	case gear.RopeGrab:
		return grab
	case gear.AnchorBrake:
		return anchorBrake
	case gear.CapturePulley:
		return capture
	case gear.WindingDev:
		return winding
	case gear.Evacuation:
		return evacuation
	}
	return nil
}

// aside is what a failed proof mostly means.
const aside = "It may not hold. Take it off, put it aside, take another."

func descender(m *gear.Model) []gear.Proof {
	list := []gear.Proof{
		{ID: "look", Do: "Open it. Look at cam, post, plate and spring.", Must: "No wear beyond its limits, no dirt, the spring snaps back.", Cue: gear.Seen, Fails: "Worn or dirty parts slip or jam. Clean it or put it aside.", Sign: gear.Look},
		{ID: "lay", Do: "Lay the rope as its picture shows for a device that rides on you. Close it, connector through both plates, gate locked.", Must: "A click. The strand to the anchor leaves on the side of the picture.", Cue: gear.Heard, Fails: "Misthreaded it slips or locks for good. Take the rope out and lay it again.", Mend: true, Sign: gear.Lay},
		{ID: "handle", Do: "Take the handle through all its positions and back.", Must: "Each position catches and stays; nothing is stiff or drifts.", Cue: gear.Felt, Fails: "A handle that drifts opens by itself. " + aside, Sign: gear.Handle},
		{ID: "pull", Do: "Pull the strand to the anchor sharply.", Must: "It locks at once; no rope comes through.", Cue: gear.Felt, Fails: "It is threaded the wrong way round, or does not lock. Lay the rope again once; then put it aside.", Sign: gear.Jerk},
		{ID: "let-go", Do: "Backup on, feet near the ground, control hand on. Put your weight on it, then let the handle go.", Must: "It stops by itself.", Cue: gear.Felt, Fails: "It runs with hands off. " + aside, Sign: gear.LetGo},
	}
	if hasPosition(m, "over-pull") {
		list = append(list, gear.Proof{ID: "over-pull", Do: "With your weight on it pull the handle past work.", Must: "It stops.", Cue: gear.Felt, Fails: "A hand that clenches would drop you. " + aside, Sign: gear.Handle})
	}
	if parks(m) {
		list = append(list, gear.Proof{ID: "park", Do: "Park it; tie off where your school asks. Take the hand away.", Must: "Park really seats; nothing creeps. With a wet or muddy rope push once more.", Cue: gear.Seen, Fails: "A brake that only looks parked lets you run. Seat it again; if it will not, put it aside.", Sign: gear.ParkSign})
	}
	return list
}

func wheel(m *gear.Model) []gear.Proof {
	list := []gear.Proof{
		{ID: "look", Do: "Absorber on an A point, arrow to the anchor, catches shut, tether on where it could be dropped.", Must: "Arrow up, every catch shut, arms out of the absorber's loop.", Cue: gear.Seen, Fails: "Upside down it holds nothing. Take it off and put it on again.", Mend: true, Sign: gear.Lay},
		{ID: "rolls", Do: "Roll it up and down the rope.", Must: "It rolls freely both ways.", Cue: gear.Felt, Fails: "Dirt or damage: it may lock late or not follow. " + aside, Sign: gear.Roll},
		{ID: "jerk", Do: "Jerk it down.", Must: "It locks at once.", Cue: gear.Felt, Fails: "It would not catch a fall. " + aside, Sign: gear.Jerk},
		{ID: "free", Do: "Free it the way its instructions say.", Must: "A click, and it rolls again.", Cue: gear.Heard, Fails: "Half locked it drags or does not lock again. " + aside, Sign: gear.PullUp},
	}
	if m.Backup.Parks {
		list = append(list, gear.Proof{ID: "park", Do: "Parking lock on, then off again.", Must: "On: it does not roll. Off: it rolls.", Cue: gear.Felt, Fails: "Parked it will not come down with you. " + aside, Sign: gear.ParkSign})
	}
	if m.Backup.UnparkBeforeDescent {
		list = append(list, gear.Proof{ID: "unparked", Do: "Before every descent: look at the parking lock.", Must: "It is off.", Cue: gear.Seen, Fails: "You would hang on the backup. Take the lock off.", Mend: true, Sign: gear.Look})
	}
	return list
}

var cam = []gear.Proof{
	{ID: "lay", Do: "Lanyard connector clipped through before the rope goes in. Rope under tension, on the rope with the arrow to the anchor, connector back in and locked.", Must: "Arrow up, connector locked, it could not be dropped on the way.", Cue: gear.Seen, Fails: "Upside down it holds nothing. Take it off and put it on again.", Mend: true, Sign: gear.Lay},
	{ID: "up", Do: "Lift it by its connector.", Must: "It runs up.", Cue: gear.Felt, Fails: "Rope too thick or dirty, or upside down. " + aside, Sign: gear.PullUp},
	{ID: "down", Do: "Pull its lanyard down. Do not grip the body.", Must: "It locks.", Cue: gear.Felt, Fails: "It would not catch a fall. " + aside, Sign: gear.PullDown},
	{ID: "cord", Do: "Pinch its cord lightly and pull; let the cord go as soon as the body has moved.", Must: "It runs down and locks again when the cord is free.", Cue: gear.Felt, Fails: "A cord that hangs keeps it from locking. " + aside, Sign: gear.CordPull},
}

var ascender = []gear.Proof{
	{ID: "look", Do: "Look at the teeth and let the cam snap.", Must: "Teeth clean and whole, the spring snaps.", Cue: gear.Heard, Fails: "A weak spring or clogged teeth slip. Clean it or put it aside.", Sign: gear.Look},
	{ID: "lay", Do: "Rope in, catch shut.", Must: "The catch is over and stays.", Cue: gear.Seen, Fails: "The rope can come out. Lay it again.", Mend: true, Sign: gear.ShutPlate},
	{ID: "up", Do: "Push it up.", Must: "It runs.", Cue: gear.Felt, Fails: "Upside down or clogged. Take it off and look.", Mend: true, Sign: gear.PullUp},
	{ID: "down", Do: "Pull it down.", Must: "It bites at once.", Cue: gear.Felt, Fails: aside, Sign: gear.PullDown},
}

var grab = []gear.Proof{
	{ID: "lay", Do: "Look at the cam; rope in, on the load side, shut, connector locked in the hitch.", Must: "Cam clean, shut and locked, the arrow to the anchor.", Cue: gear.Seen, Fails: "The rope can come out, or it bears the wrong way. Lay it again.", Mend: true, Sign: gear.Lay},
	{ID: "slide", Do: "Slide it along by hand, the way it is set out.", Must: "It runs.", Cue: gear.Felt, Fails: "The wrong way round or clogged. Take it off and look.", Mend: true, Sign: gear.PullUp},
	{ID: "grip", Do: "Pull it towards the load.", Must: "It grips at once.", Cue: gear.Felt, Fails: aside, Sign: gear.PullDown},
}

var anchorBrake = []gear.Proof{
	{ID: "lay", Do: "Park brake off. Lay the rope as its picture shows for the anchor, held on the sheave by its guard. Plate closed, connector locked in the anchor.", Must: "Rope on the path of the picture, plate shut, gate locked. An unusually stiff handle: the park brake is still on.", Cue: gear.Seen, Fails: "Take the rope out and lay it again.", Mend: true, Sign: gear.Lay},
	{ID: "pull", Do: "Pull the load strand sharply.", Must: "It grabs; no rope comes through.", Cue: gear.Felt, Fails: "It would not hold the load. Lay the rope again once; then put it aside.", Sign: gear.Jerk},
	{ID: "park", Do: "Park it.", Must: "Park really seats; with a wet or muddy rope push once more.", Cue: gear.Seen, Fails: "It runs when the hand leaves. " + aside, Sign: gear.ParkSign},
}

var capture = []gear.Proof{
	{ID: "look", Do: "Close it, capture on.", Must: "Shut, no warning mark showing.", Cue: gear.Seen, Fails: "Open it can lose the rope. Close it again.", Mend: true, Sign: gear.ShutPlate},
	{ID: "runs", Do: "Pull the rope through.", Must: "It runs.", Cue: gear.Felt, Fails: "Threaded the wrong way round. Lay it again.", Mend: true, Sign: gear.PullUp},
	{ID: "holds", Do: "Let the rope go.", Must: "It holds, without run-back.", Cue: gear.Felt, Fails: aside, Sign: gear.LetGo},
	{ID: "free", Do: "Hold the capture open and pull both ways.", Must: "It runs free.", Cue: gear.Felt, Fails: "It cannot be released. " + aside, Sign: gear.Roll},
}

var winding = []gear.Proof{
	{ID: "set", Do: "Set the lock for the loaded side. As unpacked it may run free: nothing holds until it is set.", Must: "The lock catches on the loaded side.", Cue: gear.Heard, Fails: "Set the wrong way it runs. Set it again.", Mend: true, Sign: gear.Look},
	{ID: "lifts", Do: "Turn the wheel a little with load on.", Must: "The load lifts.", Cue: gear.Seen, Fails: "It is set for the other side.", Mend: true, Sign: gear.Handle},
	{ID: "handle", Do: "Fold the handle before any lowering.", Must: "Folded, and the wheel turns clear of you.", Cue: gear.Seen, Fails: "A turning handle breaks hands.", Mend: true, Sign: gear.Handle},
}

var evacuation = []gear.Proof{
	{ID: "whole", Do: "Look at the wrapping and the date.", Must: "Whole, and in date.", Cue: gear.Seen, Fails: "Put it aside and take the next.", Sign: gear.Look},
	{ID: "parts", Do: "Hold the parts against its card.", Must: "All there; cutting tool tethered and guarded.", Cue: gear.Seen, Fails: "Put it aside and take the next.", Sign: gear.Look},
}

var rope = []gear.Proof{
	{ID: "hand", Do: "Through the hand, end to end.", Must: "No cut, flat spot, glaze, stiffness, fuzz or chemical mark.", Cue: gear.Felt, Fails: "Mark the place and take it out of the line with a knot, or change the rope.", Sign: gear.Look},
	{ID: "knots", Do: "Every knot: look at it and pull each of its strands.", Must: "Dressed, every strand tight, tails long enough.", Cue: gear.Seen, Fails: "Tie it again.", Mend: true, Sign: gear.KnotSign},
	{ID: "end", Do: "Look at the lower end.", Must: "End stop tied, or sewn.", Cue: gear.Seen, Fails: "A device can run off. Tie it.", Mend: true, Sign: gear.KnotSign},
	{ID: "gates", Do: "Press every gate at its anchors.", Must: "Shut and locked; no warning colour showing.", Cue: gear.Felt, Fails: "Lock it and press again.", Mend: true, Sign: gear.GateSign},
}

func hasPosition(m *gear.Model, name string) bool {
	return m.Device != nil && slices.ContainsFunc(m.Device.Positions, func(p gear.Position) bool { return strings.Contains(p.Name, name) })
}

func parks(m *gear.Model) bool {
	return m.Device != nil && slices.ContainsFunc(m.Device.Positions, func(p gear.Position) bool { return p.Parked })
}
