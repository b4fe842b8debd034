package picture

import "zealousknot/internal/core/gear"

// Signs are plain drawings of what a proof does, beside a rope with a block on it: paths of SVG
// in a box of 132 by 120. They stand where no loading picture does.
var Signs = map[gear.Sign]string{
	gear.PullUp:    up,
	gear.PullDown:  down,
	gear.Jerk:      down + "M104 40v30m-6 -8l6 8 6 -8",
	gear.Roll:      up + "M110 46v44m-9 -11l9 12 9 -12",
	gear.LetGo:     "M84 66q14 -16 30 -6m-30 6q16 2 30 -6M108 78l10 8m-4 -18l12 2",
	gear.Handle:    "M76 60h30m-8 -14q18 14 0 28m-6 -6l6 7 9 -3",
	gear.CordPull:  "M76 72q16 4 18 24m-7 -9l7 10 8 -9",
	gear.ParkSign:  "M86 46h22v28h-22zM92 46v-8q5 -9 10 0v8",
	gear.ShutPlate: "M112 42l-28 18 28 18m-28 -18h34",
	gear.Lay:       "M118 40q-34 4 -34 20t34 20m-9 -9l10 9 -9 9",
	gear.Look:      "M80 60q17 -22 36 0q-19 22 -36 0m18 -6a6 6 0 1 0 .1 0",
	gear.GateSign:  "M88 40v34q0 12 11 12t11 -12v-34q0 -10 -11 -10t-11 10m22 6v18",
	gear.KnotSign:  "M84 60q0 -18 16 -18t16 18 -16 18 -16 -18m8 -12q22 4 16 26",
	gear.Touch:     "M98 40a8 8 0 1 0 .1 0M98 57v24m-16 -16l16 -6 16 6m-16 16l-9 18m9 -18l9 18",
}

const (
	up   = "M92 74V30m-9 11l9 -12 9 12"
	down = "M92 46v44m-9 -11l9 12 9 -12"
)
