/** One bar of a score, from one step to another. */
export type SheetBar = { from: number; to: number; heavy: boolean; loose?: boolean; words: string }
export type SheetRow = { key: string; label: string; bars: SheetBar[] }
/** A lane of a score: a strand, or what is clipped into. */
export type SheetLane = { name: string; role: 'main' | 'backup' | 'clipped'; rows: SheetRow[] }
/** A line of figures under the staves, one a column; bad ones are marked. */
export type SheetFigures = { words: string; of: string[]; bad?: (n: number) => boolean }
