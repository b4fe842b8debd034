package drill

// personSteps and teamSteps are what is wrong with a step, by the rule that sees it, in the words
// by which people point at it.
var (
	personSteps = map[string]string{
		"points.two": "somebody is held by one thing only", "moves.bearing": "what bears is taken off or moved", "connector.gate": "a connector is not locked",
		"service.function-check": "a device is not proved", "device.mode": "it is not parked, or still parked", "device.height": "the backup is low",
		"device.foul": "an ascender is on the control strand", "device.tow": "a backup is towed that may not be", "moves.backup-slack": "the links of the backup come tight",
		"moves.backup-off": "one moves along the rope without a backup", "moves.backup-kind": "it is the wrong kind of backup", "moves.reach": "the hand ascender is out of reach",
		"moves.settle": "the weight drops too far", "moves.swing": "the weight moves too far aside", "moves.four": "fewer than two holds are on a side",
		"moves.breach": "one moves or works on a single hold", "moves.deviation": "a deviation is passed with no lanyard in it", "moves.edge": "the descender is on before the backup",
		"moves.knot-order": "the wrong knot is passed first", "moves.knot-up": "the chest ascender comes off too soon", "rope.damage": "it is below damage that no knot covers",
	}
	teamSteps = map[string]string{
		"points.two": "the load is held by one thing only", "moves.bearing": "what bears is taken off or opened", "moves.call": "it is done without its call",
		"moves.settle": "grab and hitch are loose", "service.function-check": "a brake is not proved", "device.two": "the friction for two is missing, or changed too late",
		"team.hand": "no hand is on a brake that is not parked", "team.angle": "the brake strand is led forward", "team.park": "the park brake is on, or off, at the wrong time",
		"team.grab": "the grab is on the wrong side", "team.both": "main and belay are worked on at once", "team.away": "an operator left a brake that is not parked and knotted",
		"team.sight": "the operators do not see each other", "team.wheel": "the wheel is turned while its lock does not catch",
	}
)

// stepWords is what a rule of steps sees, in short.
func stepWords(rule string, ofTeam bool) string {
	if ofTeam {
		return teamSteps[rule]
	}
	return personSteps[rule]
}
