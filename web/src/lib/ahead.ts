import { anywhere, passes } from '@/api/actions'
import type { Drop, Mark } from '@/api/client'

/** The move that a mark gives to somebody at a height. */
export function moveFor(kind: Mark['kind'], height: number, at: number): string {
  return passes[height > at ? 'up' : 'down'][kind]
}

/** The moves that what is there gives: past marks above and below, to other sets, along slings. */
export function movesAhead(drop: Drop, set: number, at: number): Set<string> {
  const strands = (drop.strands ?? []).filter((s) => s.set === set)
  const marks = strands.flatMap((s) => s.marks ?? [])
  const covered = new Set(marks.map((m) => m.isolates).filter(Boolean))
  const given = new Set(anywhere)
  for (const m of marks) if (m.kind !== 'damage' || !covered.has(m.id)) given.add(moveFor(m.kind, m.height_m, at))
  if ((drop.strands ?? []).some((s) => s.set !== set)) given.add('transfer')
  if (drop.anchors?.some((a) => a.sling)) given.add('aid')
  return given
}
