import type { Drop, MovePlan, MoveStep } from '@/api/client'
import { labelOf } from './gear'
import type { SheetLane } from './sheet'

type Stance = MoveStep['after']

/** The stances of a plan, the start first. */
export function stances(plan: MovePlan): Stance[] {
  return [plan.start, ...plan.steps.map((s) => s.after)]
}

/** Lays the score out: a lane for each strand and for clip points, a row for each thing. */
export function score(drop: Drop, plan: MovePlan): SheetLane[] {
  const all = stances(plan)
  const strands = drop.strands ?? []
  const lanes: SheetLane[] = [
    ...strands.map((s): SheetLane => ({ name: s.name, role: s.role, rows: [] })),
    { name: 'clipped into', role: 'clipped', rows: [] },
  ]
  for (const [n, stance] of all.entries()) {
    for (const h of stance.holds) {
      const index = h.into ? strands.length : strands.findIndex((s) => s.id === h.strand)
      const lane = lanes[index]
      if (!lane) continue
      let row = lane.rows.find((r) => r.key === h.item)
      if (!row) lane.rows.push((row = { key: h.item, label: labelOf(drop, h.item), bars: [] }))
      const loose = Boolean(h.unlocked || h.unproved)
      const heavy = stance.bears === h.item
      const words = loose ? 'is unlocked or unproved' : heavy ? 'bears the weight' : 'is on'
      const last = row.bars.at(-1)
      if (last && last.to === n && last.words === words && last.heavy === heavy) last.to = n + 1
      else row.bars.push({ from: n, to: n + 1, heavy, loose, words })
    }
  }
  return lanes.filter((l) => l.rows.length)
}

/** How far one would fall at the most at each stance, and whether everything holds. */
export function worst(step: MoveStep | undefined): { held: boolean; fall: number } {
  const first = step?.fail_one[0]
  return { held: first?.held ?? true, fall: first?.free_fall_m ?? 0 }
}
