// Generated from internal/core by make generate.

/** A word as the program uses it, and other names of the same thing. */
export type Term = { word: string; means: string; also?: string[] }

/** The words of the job, by the alphabet. */
export const glossary: Term[] = [
  {
    "word": "absorber",
    "means": "A pack that tears open in a fall and so limits the force.",
    "also": [
      "shock absorber",
      "energy absorber"
    ]
  },
  {
    "word": "anchor",
    "means": "What a strand hangs from: one or more points of the structure, joined in a master point.",
    "also": [
      "belay point"
    ]
  },
  {
    "word": "anchor brake",
    "means": "A brake fixed to the anchor, through which the rope moves. With it a team lowers, raises or belays.",
    "also": [
      "fixed descender",
      "control device"
    ]
  },
  {
    "word": "attendant",
    "means": "The person who hangs beside the stretcher and looks after the casualty.",
    "also": [
      "litter attendant"
    ]
  },
  {
    "word": "backing knot",
    "means": "A knot of the tail round the strand that bears, so that it cannot pull through.",
    "also": [
      "keeper knot"
    ]
  },
  {
    "word": "backup",
    "means": "The strand that carries nothing until the main fails. It has an anchor of its own.",
    "also": [
      "safety line",
      "belay line"
    ]
  },
  {
    "word": "backup device",
    "means": "A device on the backup strand that follows the person and locks in a fall.",
    "also": [
      "fall arrester",
      "rope adjustment device type A"
    ]
  },
  {
    "word": "body",
    "means": "What hangs: a technician, a casualty, a stretcher with or without an attendant, a test mass. Its mass is with clothing and kit."
  },
  {
    "word": "brake strand",
    "means": "The strand that leaves a brake on the side of the hand.",
    "also": [
      "control rope",
      "tail rope",
      "dead end"
    ]
  },
  {
    "word": "casualty",
    "means": "The person who needs help.",
    "also": [
      "patient",
      "subject"
    ]
  },
  {
    "word": "changeover",
    "means": "From going down to going up, or back, without leaving the rope.",
    "also": [
      "conversion"
    ]
  },
  {
    "word": "chest ascender",
    "means": "A cam at the chest that runs up the rope and not down.",
    "also": [
      "ventral ascender"
    ]
  },
  {
    "word": "clearance",
    "means": "The free height that a fall needs below a person before anything is struck."
  },
  {
    "word": "clip point",
    "means": "Something a lanyard can be clipped into: an anchor, a knot loop, a sling, another person's harness."
  },
  {
    "word": "connector",
    "means": "A metal link with a gate that opens.",
    "also": [
      "carabiner",
      "karabiner",
      "snap link"
    ]
  },
  {
    "word": "countersign",
    "means": "A supervisor confirms another person's hours."
  },
  {
    "word": "descender",
    "means": "A device to go down a rope that brakes by itself.",
    "also": [
      "rope adjustment device type C"
    ]
  },
  {
    "word": "deviation",
    "means": "A sling that pulls a strand aside, away from an edge or water. If it fails, the strand swings back.",
    "also": [
      "redirect"
    ]
  },
  {
    "word": "drop",
    "means": "One place where people hang: its heights, edges, anchors, ropes and people, planned for one day."
  },
  {
    "word": "edge protection",
    "means": "What keeps a rope off an edge: a roller, a plate, a sleeve.",
    "also": [
      "edge guard",
      "rope protector"
    ]
  },
  {
    "word": "end loop",
    "means": "The loop in the end of a rope, by which it hangs from its anchor."
  },
  {
    "word": "end stop",
    "means": "A knot or sewn end that a device cannot run off.",
    "also": [
      "stopper knot"
    ]
  },
  {
    "word": "evacuation kit",
    "means": "A sealed lowering unit for one use. It is a last resort."
  },
  {
    "word": "exercise",
    "means": "Something to practise on a screen: a fault to find, a failure to judge, a move to do. The rules mark it; the same number makes the same one.",
    "also": [
      "drill",
      "scenario"
    ]
  },
  {
    "word": "fall factor",
    "means": "The height of a fall divided by the length of rope that takes it."
  },
  {
    "word": "familiarisation",
    "means": "Somebody was shown a model by one who knows it.",
    "also": [
      "type training"
    ]
  },
  {
    "word": "finding",
    "means": "One result of a rule: what is wrong, why, with which figures, and what clears it. It is a stop, a look or a note."
  },
  {
    "word": "friction hitch",
    "means": "A loop of cord wound around a rope so that it grips under load.",
    "also": [
      "gripping hitch"
    ]
  },
  {
    "word": "function check",
    "means": "The proofs that show before use that a device works on this rope.",
    "also": [
      "pre-use check"
    ]
  },
  {
    "word": "guest item",
    "means": "Somebody's own thing, used with the team. Its paper stands for the team's examination until it ends."
  },
  {
    "word": "hand ascender",
    "means": "A cam held in the hand that runs up the rope and not down. It carries the foot loop.",
    "also": [
      "handled ascender"
    ]
  },
  {
    "word": "haul",
    "means": "Pulleys, a grab and a capture that make a pull larger.",
    "also": [
      "hauling system",
      "mechanical advantage system"
    ]
  },
  {
    "word": "hold",
    "means": "One attachment of a body to a strand or a clip point: device, links, harness point, and how they are set.",
    "also": [
      "point of attachment"
    ]
  },
  {
    "word": "impact force",
    "means": "The largest force while a fall is stopped.",
    "also": [
      "peak force",
      "arrest force"
    ]
  },
  {
    "word": "interim inspection",
    "means": "A shorter look between two thorough examinations. It moves no date."
  },
  {
    "word": "join",
    "means": "The place where two ropes are tied into one strand.",
    "also": [
      "joining knot"
    ]
  },
  {
    "word": "kit",
    "means": "Things that belong together under one name and are handed out and counted back together.",
    "also": [
      "bag list"
    ]
  },
  {
    "word": "knot pass",
    "means": "Going past a knot, with the weight on something else meanwhile.",
    "also": [
      "knot crossing"
    ]
  },
  {
    "word": "landing",
    "means": "The level where a person can stand at the bottom of a drop. Heights are measured from the lowest one."
  },
  {
    "word": "lanyard",
    "means": "A short tail of rope or webbing from the harness with a connector at its end.",
    "also": [
      "cow's tail"
    ]
  },
  {
    "word": "leg",
    "means": "The part of an anchor between one point of the structure and the master point.",
    "also": [
      "arm"
    ]
  },
  {
    "word": "linked anchors",
    "means": "Two anchors joined so that each strand survives the loss of either.",
    "also": [
      "load-sharing link"
    ]
  },
  {
    "word": "load-releasing hitch",
    "means": "A hitch or sewn extender that can be let out under load.",
    "also": [
      "release hitch"
    ]
  },
  {
    "word": "look",
    "means": "A finding that a person must judge. A plan is released with a written reason for each."
  },
  {
    "word": "loop with an eye",
    "means": "A loop that takes damage out of the line, with an eye of its own to clip into.",
    "also": [
      "isolating knot"
    ]
  },
  {
    "word": "lower",
    "means": "A team lets a load down through brakes at the anchors."
  },
  {
    "word": "main",
    "means": "The strand that carries the person in normal work.",
    "also": [
      "working line",
      "main line"
    ]
  },
  {
    "word": "margin",
    "means": "Strength divided by load. The team's policy says how large it must be.",
    "also": [
      "safety factor"
    ]
  },
  {
    "word": "mark",
    "means": "Something on a strand that a device cannot slide over: a knot, a join, a re-belay, a deviation, an edge, damage, the end."
  },
  {
    "word": "master point",
    "means": "The one point in which the legs of an anchor meet.",
    "also": [
      "power point"
    ]
  },
  {
    "word": "mechanical advantage",
    "means": "How many times a haul makes a pull larger: ideal without friction, actual with it."
  },
  {
    "word": "mid-line loop",
    "means": "A loop in the middle of a rope that can be pulled both ways.",
    "also": [
      "in-line loop"
    ]
  },
  {
    "word": "mode",
    "means": "The conditions under which a leaflet permits a device, such as one person or two."
  },
  {
    "word": "move",
    "means": "A manoeuvre with a name, from one stance to another: a knot pass, a changeover, a re-belay.",
    "also": [
      "manoeuvre"
    ]
  },
  {
    "word": "not decided",
    "means": "The search ended at its limit before it found a plan or proved that there is none."
  },
  {
    "word": "note",
    "means": "A finding that is good to know."
  },
  {
    "word": "paper",
    "means": "A certificate: of a person's training or health, or of a guest item's examination.",
    "also": [
      "certificate",
      "ticket"
    ]
  },
  {
    "word": "park",
    "means": "To set a device so that it holds without a hand.",
    "also": [
      "lock off",
      "tie off"
    ]
  },
  {
    "word": "partner check",
    "means": "Another person touches every hold of a body and says what it is.",
    "also": [
      "buddy check"
    ]
  },
  {
    "word": "pick-off",
    "means": "A rescuer takes a casualty off the casualty's own holds and goes down with them.",
    "also": [
      "snatch rescue"
    ]
  },
  {
    "word": "plan",
    "means": "A drop with its state: draft, checked, released. A change takes it back to draft.",
    "also": [
      "method statement"
    ]
  },
  {
    "word": "policy",
    "means": "The team's own figures and answers: margins, times, intervals, schools."
  },
  {
    "word": "progress capture",
    "means": "What lets a rope in and not out while a load is raised.",
    "also": [
      "ratchet",
      "progress capture device"
    ]
  },
  {
    "word": "proof",
    "means": "One act of a function check, with what must be seen, felt or heard."
  },
  {
    "word": "quarantine",
    "means": "Out of use after a failed check or an event, until a signed record brings a thing back.",
    "also": [
      "out of service"
    ]
  },
  {
    "word": "raise",
    "means": "A team pulls a load up by a haul.",
    "also": [
      "hauling"
    ]
  },
  {
    "word": "re-belay",
    "means": "A second anchor further down a strand. The rope above it hangs in a loop.",
    "also": [
      "rebelay",
      "intermediate anchor"
    ]
  },
  {
    "word": "recall",
    "means": "A notice about a model or some of its items: stop, inspect before use, or information.",
    "also": [
      "safety notice"
    ]
  },
  {
    "word": "record",
    "means": "What was signed: by whom, when, and sealed over the record before it."
  },
  {
    "word": "rescue cover",
    "means": "For every height of a drop: who can reach a person there, how, and in how many minutes.",
    "also": [
      "rescue provision"
    ]
  },
  {
    "word": "reset",
    "means": "To move the grab of a haul back out for the next stroke."
  },
  {
    "word": "rope grab",
    "means": "A device or a hitch that grips a loaded rope.",
    "also": [
      "haul cam"
    ]
  },
  {
    "word": "run",
    "means": "What happens between the release of a plan and its putting away, as events that people and devices give."
  },
  {
    "word": "school",
    "means": "One of the ways in which practitioners differ. Each question has its answers, and the team chooses."
  },
  {
    "word": "score",
    "means": "The drawing of a move: one line for each strand, one column for each step, a bar where a hold is on."
  },
  {
    "word": "seal",
    "means": "The hash that ties a record to the one before it. A change of either shows.",
    "also": [
      "hash chain"
    ]
  },
  {
    "word": "set",
    "means": "The main and the backup strand that one person hangs on. A drop may have several sets."
  },
  {
    "word": "settle",
    "means": "How far a load drops when it passes from one holder to another.",
    "also": [
      "load transfer"
    ]
  },
  {
    "word": "shared tension",
    "means": "A way to lower in which both strands carry the load.",
    "also": [
      "twin tension",
      "two-tension rope system"
    ]
  },
  {
    "word": "single point of failure",
    "means": "One thing on every way from a body to the anchors.",
    "also": [
      "cut vertex"
    ]
  },
  {
    "word": "skill",
    "means": "Something that is forgotten between two trainings. It goes stale some months after it was last practised.",
    "also": [
      "competency"
    ]
  },
  {
    "word": "span",
    "means": "The part of a strand between two marks. A device sits on one span."
  },
  {
    "word": "stance",
    "means": "All holds of all bodies at one moment, each with its state."
  },
  {
    "word": "step",
    "means": "One action that leads from one stance to the next."
  },
  {
    "word": "stop",
    "means": "A finding that forbids use until it is cleared. It blocks a plan."
  },
  {
    "word": "store keeper",
    "means": "Who keeps the store: models, items, examinations, labels.",
    "also": [
      "equipment controller"
    ]
  },
  {
    "word": "strand",
    "means": "One rope, or several joined ones, that hang from an anchor.",
    "also": [
      "line"
    ]
  },
  {
    "word": "stretcher",
    "means": "What a casualty lies in.",
    "also": [
      "litter",
      "basket"
    ]
  },
  {
    "word": "thorough examination",
    "means": "A competent person examines a thing point by point, and says in writing that it is fit or not.",
    "also": [
      "periodic inspection",
      "detailed inspection"
    ]
  },
  {
    "word": "transfer",
    "means": "From one set of strands to another while hanging.",
    "also": [
      "rope-to-rope transfer"
    ]
  },
  {
    "word": "two-line rule",
    "means": "Off the ground every body is held twice over: no single thing that fails may leave it without a way to the anchors.",
    "also": [
      "two independent points"
    ]
  },
  {
    "word": "walk-away knot",
    "means": "What ties a parked brake off while its operator leaves."
  },
  {
    "word": "winding descender",
    "means": "A descender with a wheel that can also lift the load a short way."
  },
  {
    "word": "working",
    "means": "The formula, its inputs and the intermediate figures behind a result."
  },
  {
    "word": "working load limit",
    "means": "The largest load that a leaflet permits in use.",
    "also": [
      "rated load",
      "safe working load"
    ]
  }
]
