import type { Drop, Item, Model, Reeving, TeamPlan } from '@/api/client'
import { include, labelOf } from './gear'
import type { SheetBar, SheetLane } from './sheet'

type State = TeamPlan['start']
type Half = State['main']

/** The operators, each once: plans count hands so. */
function hands(team: NonNullable<Drop['team']>): string[] {
  const plain = (who: string) => who.trim().replace(/\s+/g, ' ').toLowerCase()
  return team.operators.filter((who, i, all) => all.findIndex((o) => plain(o) === plain(who)) === i)
}

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
        now: (h) => (h.hand ? [hands(team)[h.hand - 1] ?? '', true] : undefined),
      },
      {
        key: 'grab',
        label: 'grab and hitch',
        now: (h) => (h.grab ? [h.grab === 2 ? 'bears' : 'on, snug', h.grab === 2] : undefined),
      },
      {
        key: 'capture',
        label: 'toothed capture',
        now: (h) => (h.toothed ? [h.toothed === 1 ? 'bears' : 'held open', h.toothed === 1] : undefined),
      },
      {
        key: 'wheel',
        label: 'wheel',
        now: (h) =>
          h.wheel?.grip
            ? ['hand on it', true]
            : h.wheel?.handle
              ? ['handle out', false]
              : h.wheel?.set
                ? ['lock set', false]
                : undefined,
      },
      {
        key: 'haul',
        label: 'haul',
        now: (h) => (h.haul ? [`${h.haul}:1${h.pull ? ', pulled' : ', captured'}`, Boolean(h.pull)] : undefined),
      },
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

/** What a load can be, with its persons. */
export const loads = [
  { value: 'one', words: 'one person', persons: 1, stretcher: false, kg: 100 },
  { value: 'two', words: 'two persons', persons: 2, stretcher: false, kg: 190 },
  { value: 'stretcher', words: 'a stretcher with its attendant', persons: 2, stretcher: true, kg: 190 },
] as const

/** The text of a reeving, a rope to a line. */
export const reevingText = (ropes: Reeving[]) => ropes.map((r) => `${r.rope}: ${r.path.join(', ')}`).join('\n')

/** Reads such a text; a line that is not one is named by its number. */
export function readReeving(text: string): { ropes?: Reeving[]; wrong?: string } {
  const ropes: Reeving[] = []
  for (const [i, line] of text.split('\n').entries()) {
    if (!line.trim()) continue
    const at = line.indexOf(':')
    const name = line.slice(0, at).trim()
    // The first colon ends the name, unless it belongs to a path's first word.
    if (at < 0 || !name || /^(pulley|grab|hand|slack)$/.test(name)) {
      return { wrong: `line ${i + 1}: begin with the rope's name and a colon` }
    }
    const path = line
      .slice(at + 1)
      .split(',')
      .map((t) => t.trim())
      .filter(Boolean)
    ropes.push({ rope: name, path })
  }
  return ropes.length ? { ropes } : { wrong: 'nothing is written' }
}

/** The classes of things that lie ready at the anchors. */
export const kitClasses = ['pulley', 'capture-pulley', 'rope-grab', 'load-releasing-hitch', 'connector']

type Free = { item: Item; model: Model }

/** Rigs a team on a drop that has none, of what is free; says what is missing for it. */
export function newTeam(drop: Drop, free: Free[], names: string[]): { missing?: string } {
  const strands = drop.strands ?? []
  const main = strands.find((s) => s.role === 'main')
  const belay = strands.find((s) => s.role === 'backup' && s.set === main?.set)
  if (!main || !belay) return { missing: 'a main and a backup strand' }
  const brakes = ['anchor-brake', 'winding-descender', 'descender'].flatMap((c) =>
    free.filter((f) => f.model.class === c),
  )
  const [first, second] = brakes
  if (!first || !second) return { missing: 'two free brakes in the store' }
  for (const f of [first, second]) include(drop, f.item, f.model)
  drop.team = {
    load: { name: loads[0].words, mass_kg: loads[0].kg, persons: 1 },
    main: { strand: main.id, brake: first.item.id },
    belay: { strand: belay.id, brake: second.item.id },
    operators: names.length > 1 ? names.slice(0, 2) : ['first operator', 'second operator'],
    haulers: 2,
    kit: [],
  }
  return {}
}
