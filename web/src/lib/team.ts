import type { Drop, TeamPlan } from '@/api/client'
import { labelOf } from './gear'
import type { SheetBar, SheetLane } from './sheet'

type State = TeamPlan['start']
type Half = State['main']

/** The states of a plan, the start first. */
export function states(plan: TeamPlan): State[] {
  return [plan.start, ...plan.steps.map((s) => s.after)]
}

/** Lays the score of a team out: for each strand its brake, hand, grab and haul. */
export function teamScore(drop: Drop, plan: TeamPlan): SheetLane[] {
  const team = drop.team
  if (!team) return []
  const all = states(plan)
  return (['main', 'belay'] as const).map((name) => {
    const brake = labelOf(drop, team[name].brake)
    const rows: { key: string; label: string; now: (h: Half) => [words: string, heavy: boolean] | undefined }[] = [
      {
        key: 'brake',
        label: brake,
        now: (h) =>
          h.loaded
            ? [h.tied ? 'parked and knotted' : h.parked ? 'parked' : h.proved ? 'live' : 'not proved', !h.parked]
            : undefined,
      },
      {
        key: 'hand',
        label: 'hand on the strand',
        now: (h) => (h.hand ? [team.operators[h.hand - 1] ?? '', true] : undefined),
      },
      {
        key: 'grab',
        label: 'grab and hitch',
        now: (h) => (h.grab ? [h.grab === 2 ? 'bears' : 'on, snug', h.grab === 2] : undefined),
      },
      { key: 'haul', label: 'haul', now: (h) => (h.haul ? [`${h.haul}:1`, true] : undefined) },
    ]
    return {
      name,
      role: name === 'main' ? 'main' : 'backup',
      rows: rows
        .map(({ key, label, now }) => {
          const bars: SheetBar[] = []
          for (const [n, s] of all.entries()) {
            const is = now(s[name])
            const last = bars.at(-1)
            if (!is) continue
            if (last?.to === n && last.words === is[0]) last.to = n + 1
            else bars.push({ from: n, to: n + 1, words: is[0], heavy: is[1] })
          }
          return { key, label, bars }
        })
        .filter((r) => r.bars.length),
    }
  })
}
