package ask

import (
	"cmp"
	"slices"

	"zealousknot/internal/core/rescue"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/team"
)

// ActionTime is how long one action takes as shipped; a policy may say otherwise in
// its table of that name. Of a way along the rope, and of the pulleys of a haul, more
// is counted.
type ActionTime struct {
	Table string  `json:"table" enum:"move_times,team_times,rescue_times" doc:"the policy's"`
	Do    string  `json:"do"`
	Words string  `json:"words"`
	S     float64 `json:"s"`
}

// ActionTimes are the shipped times of every action, by table and by words.
func ActionTimes() []ActionTime {
	all := listed("move_times", stance.DefaultPace().Seconds, moveWords)
	all = append(all, listed("team_times", team.ShippedTimes(), teamWords)...)
	return append(all, listed("rescue_times", rescue.ShippedTimes(), rescueWords)...)
}

func listed[D ~string](table string, seconds map[D]float64, words map[D]string) []ActionTime {
	all := make([]ActionTime, 0, len(seconds))
	for do, s := range seconds {
		all = append(all, ActionTime{table, string(do), words[do], s})
	}
	slices.SortFunc(all, func(a, b ActionTime) int { return cmp.Compare(a.Words, b.Words) })
	return all
}

var moveWords = map[stance.Do]string{
	stance.PutOn: "put a device or hitch on a strand", stance.TakeOff: "take one off", stance.Lock: "lock what was closed", stance.Prove: "prove by a tug",
	stance.Clip: "clip a lanyard", stance.Unclip: "unclip a lanyard", stance.Move: "move a device along the rope", stance.Stand: "stand up in the foot loop",
	stance.Sit: "sit down into what bears", stance.LowerOnto: "lower onto another device", stance.Climb: "begin to climb", stance.Descend: "begin to descend",
	stance.Park: "park", stance.Unpark: "unpark", stance.Tie: "tie a loop", stance.Untie: "untie a loop", stance.Land: "stand on the ground",
	stance.Pass: "pass a deviation", stance.TieOff: "tie a descender off", stance.UntieOff: "untie a descender", stance.Work: "work at a place", stance.Isolate: "tie damage out",
}

var teamWords = map[team.Do]string{
	team.LoadRope: "load a rope into a brake", team.Prove: "prove a brake by a tug", team.Park: "park a brake", team.Unpark: "unpark a brake", team.Tie: "tie a brake off", team.Untie: "untie a brake",
	team.HandOn: "hand onto the brake strand", team.HandOff: "hand off the brake strand", team.BendIn: "bend for friction in", team.BendOut: "bend for friction out", team.Over: "load over the edge",
	team.Lower: "begin to lower", team.PutGrab: "put a grab with its hitch on", team.Settle: "let down until the grab holds", team.Through: "knot through an open brake",
	team.Extend: "let the hitch out until the brake bears", team.TakeGrab: "take the grab off", team.Build: "build a haul, without its pulleys", team.Haul: "begin to haul",
	team.Capture: "slack to the progress capture", team.Advance: "set the haul's grab back", team.OverKnot: "the haul's grab on beyond a knot", team.Strip: "take the haul down", team.Share: "share the load between strands",
	team.Unshare: "one strand to slack belay", team.Leave: "walk away", team.Return: "come back", team.Swap: "swap operators", team.FreeTeeth: "free a toothed capture",
	team.SetLock: "winding descender: set the lock", team.HandleOut: "winding descender: handle out", team.Turn: "winding descender: begin to turn", team.DrawSlack: "winding descender: draw slack",
	team.FoldHandle: "winding descender: fold the handle", team.GripWheel: "winding descender: grip the wheel", team.FreeLock: "winding descender: free the lock",
	team.LetGoWheel: "winding descender: let go of the wheel",
}

var rescueWords = map[rescue.Do]string{
	rescue.Park: "park the rescuer's descender", rescue.TieOff: "tie the rescuer's descender off", rescue.UntieOff: "untie the rescuer's descender", rescue.Unpark: "unpark the rescuer's descender", rescue.ClearAll: "clear ropes from between legs",
	rescue.LongOn: "long lanyard to the casualty", rescue.ChainOn: "connect the casualty by the chain", rescue.LockIt: "lock a connector", rescue.TakeStrand: "take the casualty's strand",
	rescue.FreeTheirs: "unpark the casualty's descender", rescue.LowerTheirs: "lower the casualty onto the rescuer", rescue.RigLift: "rig a lift for the casualty",
	rescue.Lift: "lift the casualty", rescue.LetUp: "let the casualty down", rescue.TakeOff: "take something off the casualty", rescue.Bend: "bend for friction",
	rescue.Descend: "begin to descend as two", rescue.Land: "land as two",
}
