// Generated from internal/core by make generate.

/** What people read in place of the id of a proof. */
export const proofTitles: Record<string, string> = {
  "cord": "moved down by its cord",
  "down": "locks downwards",
  "end": "lower end",
  "free": "frees",
  "gates": "gates shut and locked",
  "grip": "grips",
  "hand": "through the hand, end to end",
  "handle": "handle through its positions",
  "holds": "holds when let go",
  "jerk": "locks when jerked",
  "knots": "knots dressed and set",
  "lay": "rope and connector as in the picture",
  "let-go": "let go under load",
  "lifts": "lifts",
  "look": "looked over",
  "over-pull": "handle pulled past work",
  "park": "parked, and holds",
  "parts": "parts as on its card",
  "pull": "strand pulled sharply",
  "rolls": "rolls both ways",
  "runs": "rope runs in",
  "set": "lock set for the loaded side",
  "slide": "slides by hand",
  "unparked": "parking lock off",
  "up": "runs up",
  "whole": "whole and in date"
}

/** What people read in place of the id of a point of an examination. */
export const pointTitles: Record<string, string> = {
  "body": "body",
  "buckles": "buckles",
  "cloth": "fabric",
  "core": "core",
  "ends": "ends",
  "fixing": "fixing",
  "gate": "gate",
  "history": "history",
  "joins": "joints and locks",
  "legs": "legs",
  "locks": "locking",
  "marks": "markings",
  "moves": "moving parts",
  "rope": "its own rope",
  "seal": "packing and seal",
  "sheath": "sheath",
  "shell": "shell",
  "stitch": "stitching",
  "straps": "straps",
  "teeth": "teeth",
  "turns": "turning",
  "unopened": "cover",
  "wheel": "wheel",
  "whole": "condition",
  "worn": "wear"
}

/** The figures that can be computed by themselves, by name. */
export const figureTitles: Record<string, string> = {
  "anchor": "tension of each leg of an anchor, and what happens if one goes",
  "fall": "a fall onto a backup device",
  "haul": "ratio, forces and strokes of a haul system",
  "heat": "temperature of a device at the end of a descent",
  "lower": "what a brake asks of the hand",
  "redirect": "load on a point where a rope changes its direction",
  "rope": "rope needed for a drop",
  "share": "a strand that fails while two share the load",
  "stretch": "stretch of a hanging rope",
  "swing": "how hard a body swings when let go",
  "wind": "slack that the wind draws on a backup strand"
}

/** The kinds of record that a later one may correct. */
export const correctable: string[] = [
  "function-check",
  "partner-check",
  "worn-check",
  "familiarisation",
  "hours",
  "use",
  "practice",
  "examination",
  "inspection",
  "rope-note",
  "recall"
]
