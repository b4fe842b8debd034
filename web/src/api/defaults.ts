// Generated from internal/core by make generate.

/** How long checks count, in hours, where a team's policy says nothing of it. */
export const shiftH: number = 14
