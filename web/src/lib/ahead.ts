import type { Drop, Mark } from '@/api/client'

/** The move that passes a mark of a kind, up or down. */
const passes: Record<Mark['kind'], { up: string; down: string }> = {
  knot: { up: 'pass-knots-up', down: 'pass-knots-down' },
  join: { up: 'pass-knots-up', down: 'pass-knots-down' },
  're-belay': { up: 'rebelay-up', down: 'rebelay-down' },
  deviation: { up: 'deviation-up', down: 'deviation-down' },
  damage: { up: 'isolate-damage', down: 'isolate-damage' },
}

/** The move that a mark gives to somebody at a height. */
export function moveFor(kind: Mark['kind'], height: number, at: number): string {
  return passes[kind][height > at ? 'up' : 'down']
}

const always = [
  'leave-ground',
  'ascend',
  'ascend-to-descend',
  'descend-to-ascend',
  'descend',
  'short-work',
  'over-edge',
  'there-and-back',
]

/** The moves that what is there gives: past marks above and below, to other sets, along slings. */
export function movesAhead(drop: Drop, set: number, at: number): Set<string> {
  const strands = (drop.strands ?? []).filter((s) => s.set === set)
  const marks = strands.flatMap((s) => s.marks ?? [])
  const covered = new Set(marks.map((m) => m.isolates).filter(Boolean))
  const given = new Set(always)
  for (const m of marks) if (m.kind !== 'damage' || !covered.has(m.id)) given.add(moveFor(m.kind, m.height_m, at))
  if ((drop.strands ?? []).some((s) => s.set !== set)) given.add('transfer')
  if (drop.anchors?.some((a) => a.sling)) given.add('aid')
  return given
}
