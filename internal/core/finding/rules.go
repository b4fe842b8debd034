package finding

import "slices"

// rules are the ids of the rules on a drop, on a board and on a callout, in the order of the alphabet: a policy names
// them, and is read below the packages that have them.
var rules = []string{
	"anchor.angle", "anchor.confirm", "anchor.register", "anchor.shared", "body.ground", "brake.seat", "callout.awake", "callout.kit", "callout.landing", "callout.people", "callout.reach", "check.due", "connector.cross", "connector.gate", "date.future",
	"day.alone", "day.cover", "day.due", "day.hours", "day.missing", "day.supervised", "day.twice", "day.wind", "deviation.load", "device.descent-limit",
	"device.direction", "device.foul", "device.height", "device.lanyard", "device.mode", "device.open", "device.park-before-descent",
	"device.place", "device.point", "device.slip", "device.turned", "edge.bare", "fall.clearance", "fall.slack", "fall.swing", "force.arrest", "hands.gloves", "harness.missing", "kit.missing", "kit.unfit", "link.hole",
	"link.missing", "load.margin", "load.rated", "load.teeth", "load.two-person", "load.wll", "person.competence", "person.familiar", "person.listed",
	"person.practised", "points.two", "rescue.last-resort", "rescue.slow", "rescue.uncovered", "rope.condition", "rope.construction", "rope.damage",
	"rope.diameter", "rope.end-stop", "rope.kit", "rope.noted", "rope.short", "rope.twice", "service.event", "service.examination", "service.function-check",
	"service.quarantine", "standard.role", "strand.below", "strand.shared", "team.arrest", "team.grip", "team.haul", "team.haulers", "team.jam", "team.kit", "team.knot", "team.operator", "team.rope",
	"team.sight", "team.slip", "wind.slack", "work.hazard",
}

// Rule reports whether a rule on a drop or a board has this id.
func Rule(id string) bool {
	_, known := slices.BinarySearch(rules, id)
	return known
}

// Rules are the ids of the rules on a drop and on a board.
func Rules() []string { return slices.Clone(rules) }
