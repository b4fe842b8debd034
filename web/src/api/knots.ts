// Generated from internal/core by make generate.

/** The knot of a word of the glossary, by its id. */
export const termKnots: Record<string, string> = {
  "backing knot": "backing",
  "end loop": "end-loop",
  "end stop": "stopper",
  "friction hitch": "grip-hitch",
  "join": "join",
  "load-releasing hitch": "release-hitch",
  "loop with an eye": "eye-loop",
  "mid-line loop": "mid-loop",
  "walk-away knot": "walk-away"
}

/** The knot that an action of a person's moves ties. */
export const stepKnots: Record<string, string> = {
  "isolate": "eye-loop",
  "tie": "mid-loop"
}
