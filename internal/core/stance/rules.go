package stance

import "zealousknot/internal/core/finding"

// Rule is a rule on a stance or on a step.
type Rule struct {
	ID    string
	Gives finding.Severity
	Fires string
}

// Rules are all of them; planner, replay and drill ask the same.
var Rules = []Rule{
	{"points.two", finding.Stop, "off the ground one anchor, strand, device, connector or lanyard lies on every way from the body to the anchors; a hand ascender is never one of the two"},
	{"moves.bearing", finding.Stop, "what bears the weight is taken off, unclipped or moved"},
	{"connector.gate", finding.Stop, "a connector is not locked before it bears, or is left unlocked when something else is done"},
	{"service.function-check", finding.Stop, "a device is not proved before it bears, or is left unproved when something else is done"},
	{"device.mode", finding.Stop, "a hand leaves the control strand of a descender that bears and is not parked (by school: and does not stop by itself). A descender is sat onto unparked, or lowered from or descended on parked. A parked backup device is moved, or not unparked before the body moves. Work begins before the descender is parked and, by school, tied off"},
	{"device.height", finding.Stop, "a backup device is below its attachment, or below the descender or chest ascender that bears; hard under its knot, by no more than a knot's length: look"},
	{"device.foul", finding.Stop, "an ascender is on the control strand of a descender"},
	{"device.drop", finding.Look, "a device that leaves its connector to be loaded is put on while hanging"},
	{"device.tow", finding.Stop, "by the school that tows: a cam backup whose model does not allow it is towed"},
	{"moves.backup-slack", finding.Stop, "the links of a backup device come tight"},
	{"moves.backup-off", finding.Stop, "the body goes along the rope without a backup device on"},
	{"moves.backup-kind", finding.Stop, "a backup device is not of the required kind"},
	{"moves.reach", finding.Stop, "a hand ascender is out of reach after sitting down, or its lanyard comes tight"},
	{"moves.settle", finding.Stop, "the body drops further than the limit when weight moves, beyond the lengths of knot and devices"},
	{"moves.swing", finding.Stop, "the weight moves to a hold more than an arm's reach aside, and one is not lowered across"},
	{"moves.four", finding.Stop, "one changes sides (set to set, or past a re-belay) and is not held twice on each; by school only where the other side is out of the arm's reach"},
	{"moves.breach", finding.Stop, "moving or working on a single point of attachment"},
	{"moves.deviation", finding.Stop, "the connector of a deviation is passed and no lanyard is in its sling"},
	{"moves.edge", finding.Stop, "at the top the descender goes on before a backup device"},
	{"moves.knot-order", finding.Stop, "by school: a knot is passed before the one that comes first"},
	{"moves.knot-up", finding.Stop, "by school: the chest ascender comes off below a knot and no descender is on"},
	{"rope.damage", finding.Stop, "a device is put on, or weight comes, below damage that no knot covers; by the school that goes past a hurt sheath: look"},
	{"moves.peak", finding.Look, "if one thing fails the peak force is above the policy's ceiling"},
	{"moves.goal", finding.Stop, "the steps do not lead to where the move ends"},
}
