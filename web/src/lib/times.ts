import type { ActionTime, Policy } from '@/api/client'

/** The policy's tables of times, as a team reads them. */
export const timeTables: { id: ActionTime['table']; title: string }[] = [
  { id: 'move_times', title: 'of a move on the strands' },
  { id: 'team_times', title: 'of a team at the anchors' },
  { id: 'rescue_times', title: 'of a rescue, beside the casualty' },
]

type Told = { do: string; s: number }[]

const told = (p: Policy, t: ActionTime) => (p[t.table] ?? []) as Told

/** How long an action takes by a policy. */
export function timeOf(p: Policy, t: ActionTime): number {
  return told(p, t).find((x) => x.do === t.do)?.s ?? t.s
}

/** A policy with one time set; one that is as shipped is left out. */
export function withTime(own: Policy, t: ActionTime, s: number): Policy {
  const rest = told(own, t).filter((x) => x.do !== t.do)
  const next = { ...own, [t.table]: s === t.s ? rest : [...rest, { do: t.do, s }] } as Policy
  if (!next[t.table]?.length) delete next[t.table]
  return next
}
