// Generated from internal/core by make generate.

/** A fault that one may point at, by its words. */
export type What = { what: string; rule: string; at?: string[] }

/** Something that is forgotten between two trainings. */
export type Skill = { id: string; title: string; rescue?: boolean; screen?: boolean }

/** The faults of a rig. */
export const rigFaults: What[] = [
  {
    "what": "it is loaded the wrong way round",
    "rule": "device.direction",
    "at": [
      "hold"
    ]
  },
  {
    "what": "the rope is not on its path",
    "rule": "device.direction",
    "at": [
      "hold"
    ]
  },
  {
    "what": "a side plate or catch is open",
    "rule": "device.open",
    "at": [
      "hold"
    ]
  },
  {
    "what": "a gate is open",
    "rule": "connector.gate",
    "at": [
      "item"
    ]
  },
  {
    "what": "a gate is shut and not locked",
    "rule": "connector.gate",
    "at": [
      "item"
    ]
  },
  {
    "what": "a connector is loaded across",
    "rule": "connector.cross",
    "at": [
      "item"
    ]
  },
  {
    "what": "it is left in a position that does not hold",
    "rule": "device.mode",
    "at": [
      "hold"
    ]
  },
  {
    "what": "the wheel is still parked",
    "rule": "device.park-before-descent",
    "at": [
      "hold"
    ]
  },
  {
    "what": "the backup is low",
    "rule": "device.height",
    "at": [
      "hold"
    ]
  },
  {
    "what": "the backup hangs from a point that is not for fall arrest",
    "rule": "device.point",
    "at": [
      "hold"
    ]
  },
  {
    "what": "no stopper is at the end",
    "rule": "rope.end-stop",
    "at": [
      "strand"
    ]
  },
  {
    "what": "the rope is too thick",
    "rule": "rope.diameter",
    "at": [
      "strand",
      "hold"
    ]
  },
  {
    "what": "the rope is too thin",
    "rule": "rope.diameter",
    "at": [
      "strand",
      "hold"
    ]
  },
  {
    "what": "the friction for two is missing",
    "rule": "load.two-person",
    "at": [
      "hold"
    ]
  },
  {
    "what": "it is set for one person, under two",
    "rule": "load.two-person",
    "at": [
      "hold"
    ]
  },
  {
    "what": "both strands are on one bolt",
    "rule": "anchor.shared",
    "at": [
      "anchor",
      "strand"
    ]
  },
  {
    "what": "the legs are too wide",
    "rule": "anchor.angle",
    "at": [
      "anchor"
    ]
  },
  {
    "what": "damage is not taken out of the line",
    "rule": "rope.damage",
    "at": [
      "mark",
      "strand"
    ]
  },
  {
    "what": "the rope is too short",
    "rule": "rope.short",
    "at": [
      "strand"
    ]
  },
  {
    "what": "the lanyard or absorber is too long, or not on its list",
    "rule": "device.lanyard",
    "at": [
      "item",
      "hold"
    ]
  },
  {
    "what": "a connector more is in its hole than goes in",
    "rule": "link.hole",
    "at": [
      "item",
      "hold"
    ]
  },
  {
    "what": "the sharp edge is bare",
    "rule": "edge.bare",
    "at": [
      "edge"
    ]
  },
  {
    "what": "the examination is overdue",
    "rule": "service.examination",
    "at": [
      "item",
      "hold",
      "strand"
    ]
  },
  {
    "what": "it had a shock load, and no check since",
    "rule": "service.event",
    "at": [
      "item",
      "hold",
      "strand"
    ]
  },
  {
    "what": "it is quarantined",
    "rule": "service.quarantine",
    "at": [
      "item",
      "hold",
      "strand"
    ]
  },
  {
    "what": "nobody has checked its function today",
    "rule": "service.function-check",
    "at": [
      "hold"
    ]
  },
  {
    "what": "who hangs on it is too heavy for it",
    "rule": "load.rated",
    "at": [
      "hold",
      "person"
    ]
  },
  {
    "what": "the strand leaves it on the side for a device at the anchor",
    "rule": "device.turned",
    "at": [
      "hold"
    ]
  },
  {
    "what": "one operator is at two brakes",
    "rule": "team.operator",
    "at": [
      "person"
    ]
  }
]

/** The faults of a person's steps. */
export const stepFaults: What[] = [
  {
    "what": "off the ground one anchor, strand, device, connector or lanyard lies on every way from the body to the anchors; a hand ascender is never one of the two",
    "rule": "points.two"
  },
  {
    "what": "what bears the weight is taken off, unclipped or moved",
    "rule": "moves.bearing"
  },
  {
    "what": "a connector is not locked before it bears, or is left unlocked when something else is done",
    "rule": "connector.gate"
  },
  {
    "what": "a device is not proved before it bears, or is left unproved when something else is done",
    "rule": "service.function-check"
  },
  {
    "what": "a hand leaves the control strand of a descender that bears and is not parked (by school: and does not stop by itself). A descender is sat onto unparked, or lowered from or descended on parked. A parked backup device is moved, or not unparked before the body moves. Work begins before the descender is parked and, by school, tied off",
    "rule": "device.mode"
  },
  {
    "what": "a backup device is below its attachment, or below the descender or chest ascender that bears; hard under its knot, by no more than a knot's length: look",
    "rule": "device.height"
  },
  {
    "what": "an ascender is on the control strand of a descender",
    "rule": "device.foul"
  },
  {
    "what": "by the school that tows: a cam backup whose model does not allow it is towed",
    "rule": "device.tow"
  },
  {
    "what": "the links of a backup device come tight",
    "rule": "moves.backup-slack"
  },
  {
    "what": "the body goes along the rope without a backup device on",
    "rule": "moves.backup-off"
  },
  {
    "what": "a backup device is not of the required kind",
    "rule": "moves.backup-kind"
  },
  {
    "what": "a hand ascender is out of reach after sitting down, or its lanyard comes tight",
    "rule": "moves.reach"
  },
  {
    "what": "the body drops further than the limit when weight moves, beyond the lengths of knot and devices",
    "rule": "moves.settle"
  },
  {
    "what": "the weight moves to a hold more than an arm's reach aside, and one is not lowered across",
    "rule": "moves.swing"
  },
  {
    "what": "one changes sides (set to set, or past a re-belay) and is not held twice on each; by school only where the other side is out of the arm's reach",
    "rule": "moves.four"
  },
  {
    "what": "moving or working on a single point of attachment",
    "rule": "moves.breach"
  },
  {
    "what": "the connector of a deviation is passed and no lanyard is in its sling",
    "rule": "moves.deviation"
  },
  {
    "what": "at the top the descender goes on before a backup device",
    "rule": "moves.edge"
  },
  {
    "what": "by school: a knot is passed before the one that comes first",
    "rule": "moves.knot-order"
  },
  {
    "what": "by school: the chest ascender comes off below a knot and no descender is on",
    "rule": "moves.knot-up"
  },
  {
    "what": "a device is put on, or weight comes, below damage that no knot covers; by the school that goes past a hurt sheath: look",
    "rule": "rope.damage"
  }
]

/** The faults of a team's steps. */
export const teamStepFaults: What[] = [
  {
    "what": "the load hangs and one strand, brake, anchor, grab or operator lets it go",
    "rule": "points.two"
  },
  {
    "what": "what bears is taken off or opened: a grab, a haul that is pulled, a toothed capture without a device behind it that can lower, a winding descender's lock without a hand on the wheel",
    "rule": "moves.bearing"
  },
  {
    "what": "the load is moved, or what bears it, without a call and its answer",
    "rule": "moves.call"
  },
  {
    "what": "grab and hitch are left loose",
    "rule": "moves.settle"
  },
  {
    "what": "a brake bears before a tug has proved it",
    "rule": "service.function-check"
  },
  {
    "what": "two persons hang on a brake that is rated for one without the added bend, and it is not parked; the bend is changed unparked",
    "rule": "device.two"
  },
  {
    "what": "a brake is not parked and no hand is on its brake strand",
    "rule": "team.hand"
  },
  {
    "what": "the brake strand comes off at less than a right angle",
    "rule": "team.angle"
  },
  {
    "what": "the park brake is on while rope is loaded or hauled; by school a haul is built and the main is not parked",
    "rule": "team.park"
  },
  {
    "what": "a grab is on the wrong side of the knot",
    "rule": "team.grab"
  },
  {
    "what": "main and belay are worked on at once",
    "rule": "team.both"
  },
  {
    "what": "an operator has left a brake that is not parked and knotted",
    "rule": "team.away"
  },
  {
    "what": "operators share a load and do not see each other",
    "rule": "team.sight"
  },
  {
    "what": "the wheel of a winding descender is turned while its lock does not catch, or its lock freed with the handle out",
    "rule": "team.wheel"
  }
]

/** The skills that are kept. */
export const skills: Skill[] = [
  {
    "id": "changeover",
    "title": "changeovers"
  },
  {
    "id": "knot-pass",
    "title": "knot pass"
  },
  {
    "id": "re-belay",
    "title": "re-belay"
  },
  {
    "id": "deviation",
    "title": "deviation"
  },
  {
    "id": "transfer",
    "title": "rope-to-rope transfer"
  },
  {
    "id": "aid",
    "title": "aid"
  },
  {
    "id": "edge",
    "title": "over the edge"
  },
  {
    "id": "damage",
    "title": "damage tied out"
  },
  {
    "id": "work",
    "title": "work position"
  },
  {
    "id": "pick-off",
    "title": "pick-off",
    "rescue": true
  },
  {
    "id": "lower",
    "title": "team lower"
  },
  {
    "id": "knot-lower",
    "title": "knot in a lower"
  },
  {
    "id": "haul",
    "title": "haul and change",
    "rescue": true
  },
  {
    "id": "capture",
    "title": "release a capture",
    "rescue": true
  },
  {
    "id": "winding",
    "title": "winding descender",
    "rescue": true
  },
  {
    "id": "function-check",
    "title": "function checks"
  },
  {
    "id": "fault-finding",
    "title": "find the fault",
    "screen": true
  },
  {
    "id": "failures",
    "title": "what would happen",
    "screen": true
  },
  {
    "id": "models",
    "title": "how models differ",
    "screen": true
  }
]
