// Generated from internal/core by make generate.

/** A fault that one may point at, by its words. */
export type What = { what: string; rule: string; at?: string[] }

/** Something that is forgotten between two trainings. */
export type Skill = { id: string; title: string; rescue?: boolean; screen?: boolean; of?: string }

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
    "what": "an anchor is too weak",
    "rule": "load.margin",
    "at": [
      "anchor"
    ]
  },
  {
    "what": "it sits on a knot",
    "rule": "device.place",
    "at": [
      "hold",
      "mark"
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
    "what": "somebody is held by one thing only",
    "rule": "points.two"
  },
  {
    "what": "what bears is taken off or moved",
    "rule": "moves.bearing"
  },
  {
    "what": "a connector is not locked",
    "rule": "connector.gate"
  },
  {
    "what": "a device is not proved",
    "rule": "service.function-check"
  },
  {
    "what": "it is not parked, or still parked",
    "rule": "device.mode"
  },
  {
    "what": "the backup is low",
    "rule": "device.height"
  },
  {
    "what": "an ascender is on the control strand",
    "rule": "device.foul"
  },
  {
    "what": "a backup is towed that may not be",
    "rule": "device.tow"
  },
  {
    "what": "the links of the backup come tight",
    "rule": "moves.backup-slack"
  },
  {
    "what": "one moves along the rope without a backup",
    "rule": "moves.backup-off"
  },
  {
    "what": "it is the wrong kind of backup",
    "rule": "moves.backup-kind"
  },
  {
    "what": "the hand ascender is out of reach",
    "rule": "moves.reach"
  },
  {
    "what": "the weight drops too far",
    "rule": "moves.settle"
  },
  {
    "what": "the weight moves too far aside",
    "rule": "moves.swing"
  },
  {
    "what": "fewer than two holds are on a side",
    "rule": "moves.four"
  },
  {
    "what": "one moves or works on a single hold",
    "rule": "moves.breach"
  },
  {
    "what": "a deviation is passed with no lanyard in it",
    "rule": "moves.deviation"
  },
  {
    "what": "the descender is on before the backup",
    "rule": "moves.edge"
  },
  {
    "what": "the wrong knot is passed first",
    "rule": "moves.knot-order"
  },
  {
    "what": "the chest ascender comes off too soon",
    "rule": "moves.knot-up"
  },
  {
    "what": "it is below damage that no knot covers",
    "rule": "rope.damage"
  }
]

/** The faults of a team's steps. */
export const teamStepFaults: What[] = [
  {
    "what": "the load is held by one thing only",
    "rule": "points.two"
  },
  {
    "what": "what bears is taken off or opened",
    "rule": "moves.bearing"
  },
  {
    "what": "it is done without its call",
    "rule": "moves.call"
  },
  {
    "what": "grab and hitch are loose",
    "rule": "moves.settle"
  },
  {
    "what": "a brake is not proved",
    "rule": "service.function-check"
  },
  {
    "what": "the friction for two is missing, or changed too late",
    "rule": "device.two"
  },
  {
    "what": "no hand is on a brake that is not parked",
    "rule": "team.hand"
  },
  {
    "what": "the brake strand is led forward",
    "rule": "team.angle"
  },
  {
    "what": "the park brake is on, or off, at the wrong time",
    "rule": "team.park"
  },
  {
    "what": "the grab is on the wrong side",
    "rule": "team.grab"
  },
  {
    "what": "main and belay are worked on at once",
    "rule": "team.both"
  },
  {
    "what": "an operator left a brake that is not parked and knotted",
    "rule": "team.away"
  },
  {
    "what": "the operators do not see each other",
    "rule": "team.sight"
  },
  {
    "what": "the wheel is turned while its lock does not catch",
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
    "id": "pick-off-own-strands",
    "title": "pick-off, down their own strands",
    "rescue": true,
    "of": "pick-off"
  },
  {
    "id": "pick-off-second-set",
    "title": "pick-off, from a second set",
    "rescue": true,
    "of": "pick-off"
  },
  {
    "id": "pick-off-set-beforehand",
    "title": "pick-off, from a set rigged beforehand",
    "rescue": true,
    "of": "pick-off"
  },
  {
    "id": "pick-off-from-below",
    "title": "pick-off, from below",
    "rescue": true,
    "of": "pick-off"
  },
  {
    "id": "pick-off-lowered",
    "title": "pick-off, lowered by the team",
    "rescue": true,
    "of": "pick-off"
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
    "id": "function-check-descender",
    "title": "function check, descender",
    "of": "function-check"
  },
  {
    "id": "function-check-backup-device",
    "title": "function check, backup device",
    "of": "function-check"
  },
  {
    "id": "function-check-ascender",
    "title": "function check, ascender",
    "of": "function-check"
  },
  {
    "id": "function-check-anchor-brake",
    "title": "function check, anchor brake",
    "of": "function-check"
  },
  {
    "id": "function-check-rope-grab",
    "title": "function check, rope grab",
    "of": "function-check"
  },
  {
    "id": "function-check-capture-pulley",
    "title": "function check, capture pulley",
    "of": "function-check"
  },
  {
    "id": "function-check-winding-descender",
    "title": "function check, winding descender",
    "of": "function-check"
  },
  {
    "id": "function-check-evacuation-kit",
    "title": "function check, evacuation kit",
    "of": "function-check"
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
