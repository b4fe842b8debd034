package moves

import (
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// noSide is no side of the scene.
const noSide int8 = -1

// cues are what to look, hear or feel for when a device is put on.
var cues = map[gear.Class]string{
	gear.Descender:     "Right way up, rope as its picture shows; shut it until it clicks. Pull: it locks.",
	gear.ChestAscender: "Catch shut. It runs up; pulled down it bites.",
	gear.HandAscender:  "Catch shut. Pulled down it bites.",
	gear.BackupDevice:  "Arrow up, connector locked. Jerk it down: it locks.",
}

// say writes a step for the person on the rope: short, naming the item in hand, the
// cue, and the check before going on; and why it is needed now.
func say(sc *stance.Scene, at *stance.Stance, st *step) (words, reason string) {
	st.from = noSide
	if o := &st.action; o.Do == stance.TakeOff {
		st.from = sc.SideOfHold(&at.Holds[sc.Tool(o.Item)])
	}
	a := st.action
	label := a.Item
	var tool *stance.Tool
	if i := sc.Tool(a.Item); i >= 0 {
		tool = &sc.Tools[i]
		label = tool.Label
	}
	line := a.Line
	if i := sc.Line(a.Line); i >= 0 {
		line = sc.Lines[i].Name
	}
	switch a.Do {
	case stance.PutOn:
		return fmt.Sprintf("%s%s on the %s strand at %v. %s", drawn(sc, at, &a, line), label, line, a.AtM, cues[tool.Class]), whyOn(sc, at, st, tool)
	case stance.TakeOff:
		return fmt.Sprintf("%s %s.%s", label, procedure.Off(tool.Model), pushed(sc, st, tool)), "It bears nothing, and the others hold without it."
	case stance.Clip:
		return clipping(sc, &a, label, line)
	case stance.Pass:
		return fmt.Sprintf("Connector of the deviation off the %s strand on the near side, on again beyond you, locked.", line),
			"Devices cannot slide past it; the lanyard in its sling keeps you from swinging."
	case stance.Unclip:
		return fmt.Sprintf("%s out, stowed.", label), "The other holds are on and proved."
	case stance.Move:
		if h := &at.Holds[sc.Tool(a.Item)]; stance.ToCm(a.AtM) < h.At {
			return fmt.Sprintf("%s down to %v.", label, a.AtM), "Left as high as it is, its links would come tight when you sit lower."
		}
		return fmt.Sprintf("%s up to %v.", label, a.AtM), "The higher it is, the shorter the fall."
	case stance.Stand, stance.Sit, stance.LowerOnto, stance.Climb, stance.Descend:
		return shifting(sc, at, st, tool, label)
	case stance.Park:
		return fmt.Sprintf("Park %s. See that it seats.", label), "The hand is about to leave the control strand."
	case stance.TieOff:
		return fmt.Sprintf("Tie %s off; pull the knot tight.", label), "Both hands are about to work."
	case stance.UntieOff:
		return fmt.Sprintf("Control strand of %s in hand. Untie it.", label), "Tied off it cannot go on."
	case stance.Work:
		return "Work. Tools on their tethers; look now and then at what you hang on.", ""
	case stance.Isolate:
		return isolating(sc, &a, line), "Nothing may come to depend on it. From now on there is a knot at that height, with a knot's strength."
	case stance.Unpark:
		if tool.Class == gear.BackupDevice {
			return fmt.Sprintf("Parking lock of %s off; it rolls.", label), "Parked it would not come with you."
		}
		if _, bend := tool.Rated(2, sc.MassKg); bend && sc.Heavy() {
			return fmt.Sprintf("Control strand of %s found, named, in hand; the friction for two on it. Unpark.", label), ""
		}
		return fmt.Sprintf("Control strand of %s found, named, in hand. Unpark.", label), ""
	case stance.Tie:
		return fmt.Sprintf("Tie a loop into the %s strand at %v, as long as your hand is wide (%.0f mm) so that it can be clipped; pull every strand of it.", line, a.AtM, float64(sc.HandMM)), "It covers the backup while it is changed."
	case stance.Untie:
		return untying(sc, freed(sc, at))
	case stance.Land:
		return "Stand on the ground, step clear of the ropes.", ""
	case stance.Lock:
		return fmt.Sprintf("Lock the connector of %s.", label), ""
	case stance.Prove:
		return fmt.Sprintf("Prove %s.", label), ""
	}
	return string(a.Do), ""
}

// clipping says what a lanyard is clipped into, and what is looked at.
func clipping(sc *stance.Scene, a *stance.Action, label, line string) (words, reason string) {
	into := "the loop"
	if a.Into == "mark" {
		into = sc.Lines[sc.Line(a.Line)].Marks[a.Span-1].Name
	}
	if a.Line == stance.Structure {
		return fmt.Sprintf("%s into %s. Look at the sling and what it goes round; gate shut, locked; press it.", label, into), "Two are always in, at two points."
	}
	if a.Into == "mark" && sc.Lines[sc.Line(a.Line)].Marks[a.Span-1].Kind == rig.DeviationMark {
		return fmt.Sprintf("%s into the sling of the deviation, as a restraint; it is no hold.", label), "You would swing when the connector comes off the ropes."
	}
	return fmt.Sprintf("%s into %s on the %s strand. Gate shut, locked; press it.", label, into, line), "It covers you while another hold is changed."
}

// shifting says how the weight is moved: from one hold to another, up, down.
func shifting(sc *stance.Scene, at *stance.Stance, st *step, tool *stance.Tool, label string) (words, reason string) {
	switch st.action.Do {
	case stance.Stand:
		if tool == nil {
			return "Stand up in the slack loop of the re-belay.", "The weight comes off what you sat in."
		}
		return fmt.Sprintf("Stand up in the foot loop of %s.", label), "The weight comes off what you sat in."
	case stance.Sit:
		if at.Grounded && at.At > sc.Ground {
			return fmt.Sprintf("Ease over the edge until %s bears. Below it look at the protectors.", label), overEdgeWhy(sc)
		}
		return fmt.Sprintf("Sit onto %s. Look: nothing cross-loaded, no gate pressed.", label), ""
	case stance.LowerOnto:
		if st.after.X != at.X {
			return fmt.Sprintf("Control strand in hand: lower yourself across until %s bears and the descender is slack. The backups come along, a cam by its cord.", label), "Lowered across you do not swing."
		}
		return fmt.Sprintf("Lower until %s bears and the descender is slack.", label), ""
	case stance.Climb:
		return climbing(sc, at, st), ""
	}
	return fmt.Sprintf("Down to %v, hand on the control strand; the backup comes along.", st.action.AtM), ""
}

// climbing says how one goes up, or a little way down, on what bears.
func climbing(sc *stance.Scene, at *stance.Stance, st *step) string {
	to := st.action.AtM
	switch {
	case sc.Tools[at.Bears].Class == gear.Descender && sc.Schools.Stroke == "hands":
		return fmt.Sprintf("Up to %v on the descender, by strokes: control strand in hand, unpark, stand, draw the rope through, sit; hand ascender and backup up. Park it before the hand leaves.", to)
	case sc.Tools[at.Bears].Class == gear.Descender:
		return fmt.Sprintf("Up to %v on the descender, by strokes: control strand in hand, unpark, stand, draw the rope through, sit, park; then hand ascender and backup up.", to)
	case st.after.At < at.At:
		return fmt.Sprintf("Down to %v in small steps: hand ascender down, stand a little, chest ascender freed by hand and down, sit; the backup with you.", to)
	}
	return fmt.Sprintf("Climb to %v; hand ascender up, stand, sit, backup up.", to)
}

// drawn says that the strands of another side are fetched first.
func drawn(sc *stance.Scene, at *stance.Stance, a *stance.Action, line string) string {
	if i := sc.Line(a.Line); at.Bears >= 0 && sc.Across(at, i, a.Span) {
		return fmt.Sprintf("Reach for the %s strand and draw it across. ", line)
	}
	return ""
}

// pushed says that the strands one has left are pushed away, once nothing is on them.
func pushed(sc *stance.Scene, st *step, off *stance.Tool) string {
	if st.after.Grounded || off.Class == gear.HandAscender {
		return ""
	}
	left := false
	for i := range sc.Tools {
		h := &st.after.Holds[i]
		left = left || h.There && sc.SideOfHold(h) != st.after.Side
	}
	if left || st.from < 0 || st.from == st.after.Side {
		return ""
	}
	return " Push the strands you left away: nothing of yours is caught in them."
}

// overEdgeWhy says what the thumb release is for, by school.
func overEdgeWhy(sc *stance.Scene) string {
	if sc.Schools.ThumbRelease == "slopes" {
		return "The thumb release is for slack, and for a slope where your feet carry you; never once you hang."
	}
	return "The thumb release is for slack only, until the edge bears: pressed, the descender is no hold."
}

func isolating(sc *stance.Scene, a *stance.Action, line string) string {
	m := &sc.Lines[sc.Line(a.Line)].Marks[a.Span-1]
	words := fmt.Sprintf("Tie a loop knot into the %s strand with %s in its loop, at %v; tails at least %.0f mm; dress and set the knot.", line, m.Name, m.At.M(), float64(sc.TailMM(sc.Line(a.Line), m.At)))
	if a.Eye {
		words += " A second knot in the loop leaves an eye to clip into."
	}
	return words
}

// call is what is said before a step, and answered.
func call(at *stance.Stance, st *step, tool *stance.Tool) string {
	switch st.action.Do {
	case stance.Sit:
		if at.Grounded {
			return "Ready"
		}
	case stance.Stand:
		return "Changing over"
	case stance.LowerOnto:
		if st.after.X != at.X {
			return "Lowering across"
		}
	case stance.Unpark:
		if tool != nil && tool.Class == gear.Descender {
			return "Going on"
		}
	case stance.Land:
		return "Down"
	}
	return ""
}

func whyOn(sc *stance.Scene, at *stance.Stance, st *step, t *stance.Tool) string {
	switch {
	case at.Grounded:
		return "Before the weight comes off the ground."
	case t.Class == gear.BackupDevice && st.action.Span > 0:
		return "The backup must be beyond the mark before you move on; put on before the other comes off."
	case t.Class == gear.HandAscender:
		return "You stand up in its foot loop to take the weight off."
	}
	return "Put on before anything is taken off."
}
