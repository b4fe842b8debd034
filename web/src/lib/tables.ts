import type { Policy } from '@/api/client'

/** A figure of the team's policy, by the names on the way to it. */
export type Row = {
  path: [keyof Policy] | [keyof Policy, string]
  words: string
  unit: string
  step: number
  min: number
  max: number
}

export type Table = { id: string; title: string; says: string; rows: Row[] }

function row(path: Row['path'], words: string, unit: string, step: number, min: number, max: number): Row {
  return { path, words, unit, step, min, max }
}

const states = ['dry', 'wet', 'muddy', 'icy', 'stiff', 'glazed']

/** The tables that the figures use, as a team reads them. */
export const tables: Table[] = [
  {
    id: 'knots',
    title: 'Rope that knots take',
    says: 'In diameters of the rope. Longer knots than these leave less rope at the bottom than computed: tie yours and measure.',
    rows: [
      row(['knots', 'end_loop'], 'end loop', '', 1, 0, 500),
      row(['knots', 'mid_loop'], 'mid-rope loop', '', 1, 0, 500),
      row(['knots', 'join'], 'join of two ropes', '', 1, 0, 500),
      row(['knots', 'stopper'], 'stopper', '', 1, 0, 500),
      row(['knots', 'tail'], 'tail of a knot', '', 1, 0, 500),
    ],
  },
  {
    id: 'day',
    title: 'Days and runs',
    says: 'What the day’s board and a run are held against.',
    rows: [
      row(['day', 'gust_m_s'], 'gusts at the height of the work at most', 'm/s', 0.5, 0.5, 60),
      row(['day', 'change_min'], 'between two drops of one person or item', 'min', 5, 0, 600),
      row(['day', 'shift_h'], 'longest shift', 'h', 0.5, 0.5, 24),
      row(['day', 'check_h'], 'how long checks count within a shift', 'h', 0.5, 0.5, 24),
      row(['day', 'awake_h'], 'longest awake of who is called out', 'h', 0.5, 0.5, 48),
      row(['day', 'rest_h'], 'rest between two shifts', 'h', 0.5, 0, 24),
      row(['day', 'shock_kN'], 'measured force from which what is in its load path stops', 'kN', 0.5, 0.5, 100),
      row(['day', 'rescue_factor'], 'planned minutes of a rescue are multiplied by', '×', 0.1, 1, 10),
    ],
  },
  {
    id: 'strength',
    title: 'Strength left at knots',
    says: 'As a part of the rope’s strength. A worn or badly dressed knot leaves less.',
    rows: [
      row(['knot_strength', 'end_loop'], 'end loop', '', 0.01, 0.01, 1),
      row(['knot_strength', 'mid_loop'], 'mid-rope loop', '', 0.01, 0.01, 1),
      row(['knot_strength', 'join'], 'join of two ropes', '', 0.01, 0.01, 1),
    ],
  },
  {
    id: 'friction',
    title: 'Friction of rope on metal',
    says: 'By the state of the rope. It makes the hand on the brake: too high a figure here makes the hand’s force too low.',
    rows: states.map((s) => row(['friction', s], s, '', 0.01, 0, 1)),
  },
  {
    id: 'margins',
    title: 'Margins and ceilings',
    says: 'What strength, force and hand are held against.',
    rows: [
      row(['textile_factor'], 'strength over load, textile', '×', 0.5, 1, 50),
      row(['metal_factor'], 'strength over load, metal', '×', 0.5, 1, 50),
      row(['arrest_ceiling_kN'], 'arrest force at most', 'kN', 0.1, 0.1, 12),
      row(['teeth_look'], 'look from this part of the force that harms a sheath', '', 0.05, 0.05, 1),
      row(['grip_kN'], 'what a hand holds for long', 'kN', 0.01, 0.01, 2),
      row(['grip_most_kN'], 'what a hand holds for a moment', 'kN', 0.01, 0.01, 2),
    ],
  },
  {
    id: 'team',
    title: 'Hauling and lowering by a team',
    says: 'What people pull, what an edge lets through, and what a snug grab settles.',
    rows: [
      row(['hauler_kN'], 'what one hauler pulls for long', 'kN', 0.01, 0.01, 2),
      row(['hauler_peak_kN'], 'what one pulls at most', 'kN', 0.01, 0.01, 3),
      row(['stroke_m'], 'stroke of a haul', 'm', 0.1, 0.1, 20),
      row(['reset_loss_m'], 'lost at each reset', 'm', 0.01, 0, 2),
      row(['grab_settle_m'], 'settle of a snug grab', 'm', 0.01, 0.01, 1),
      row(['knot_gap_m'], 'left between knot and brake', 'm', 0.01, 0.01, 0.5),
      row(['hand_width_m'], 'a hand’s width before a brake', 'm', 0.01, 0.01, 0.5),
      ...['roller', 'pad', 'sleeve', 'none'].map((p) =>
        row(['edge_part', p], `part of a pull over an edge: ${p}`, '', 0.05, 0.05, 1),
      ),
    ],
  },
  {
    id: 'rescue',
    title: 'Rescue',
    says: 'How long is too long is a medical question: ask your medical provider.',
    rows: [
      row(['hang_limit_min'], 'a casualty hangs still at most', 'min', 1, 1, 240),
      row(['alarm_s'], 'until it is noticed and reported', 's', 10, 0, 7200),
      row(['walk_s'], 'until a rescuer is at the strands', 's', 10, 0, 7200),
      row(['practice_months'], 'a rescuer has practised within', 'months', 1, 1, 60),
    ],
  },
  {
    id: 'falls',
    title: 'Falls and bodies',
    says: 'What a fall is computed with beside the gear.',
    rows: [
      row(['feet_m'], 'from the attachment to the feet', 'm', 0.05, 0.1, 3),
      row(['margin_m'], 'clearance kept below the feet', 'm', 0.1, 0.1, 10),
      row(['damping_ratio'], 'damping ratio of ropes, for likely forces', '', 0.01, 0, 0.5),
      row(['connector_m'], 'length of a connector whose model gives none', 'm', 0.01, 0.01, 0.5),
      row(['unsure', 'mass_kg'], 'a mass may be off by', 'kg', 1, 1, 100),
      row(['unsure', 'height_m'], 'a device’s height may be off by', 'm', 0.05, 0.01, 5),
      row(['unsure', 'elongation_part'], 'a rope’s elongation may be off by this part', '', 0.05, 0.01, 0.9),
      row(['belay_share'], 'where both strands carry: part on the second', '', 0.05, 0, 1),
      row(['belay_slack_m'], 'where one carries: slack in the second', 'm', 0.1, 0, 20),
    ],
  },
  {
    id: 'rope',
    title: 'Rope, wind and speed',
    says: 'When the lie of a strand asks for something.',
    rows: [
      row(['reserve_m'], 'spare rope below which an end stop is required', 'm', 0.1, 0.1, 20),
      row(['stretch_m'], 'stretch at rest above which a re-belay is needed', 'm', 0.1, 0.1, 20),
      row(['wind_slack_m'], 'slack above a backup, left or drawn by wind, that is found', 'm', 0.1, 0.1, 20),
      row(['descent_speed_m_s'], 'speed of a descent', 'm/s', 0.1, 0.1, 10),
      row(['air_C'], 'air', '°C', 1, -60, 60),
      row(['foul_gap_m'], 'gap between a lever’s reach and another device', 'm', 0.01, 0.01, 1),
    ],
  },
]

type Tree = Record<string, number | Record<string, number> | undefined>

export function valueOf(p: Policy, path: Row['path']): number | undefined {
  const v = (p as unknown as Tree)[path[0]]
  return path.length === 1 || v === undefined ? (v as number | undefined) : (v as Record<string, number>)[path[1]]
}

/** A policy with one figure set. A figure of a table brings the rest of the table as it is in force. */
export function withValue(own: Policy, inForce: Policy, path: Row['path'], value: number): Policy {
  const [name, key] = path
  const whole = (inForce as unknown as Tree)[name]
  return { ...own, [name]: key === undefined ? value : { ...(whole as Record<string, number>), [key]: value } }
}

/** A policy with one figure as shipped again; a table that is all as shipped is left out. */
export function withoutValue(own: Policy, shipped: Policy, path: Row['path']): Policy {
  const [name, key] = path
  const next = { ...own } as unknown as Tree
  if (key !== undefined) {
    const whole = { ...(next[name] as Record<string, number>), [key]: valueOf(shipped, path)! }
    const same = Object.entries(whole).every(([k, v]) => v === valueOf(shipped, [name, k]))
    if (!same) return { ...own, [name]: whole }
  }
  delete next[name]
  return next as unknown as Policy
}
