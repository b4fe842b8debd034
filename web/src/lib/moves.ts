import {
  api,
  type Action,
  type Drop,
  type Fault,
  type MoveAnswer,
  type ReplayAnswer,
  type RescueAnswer,
  type RescueAsked,
  type Schools,
  type TeamAnswer,
  type TeamAsked,
} from '@/api/client'
import { planHere, replayHere, rescueHere, teamHere } from './core'

/** What is asked for: a move of a person on a drop. */
export type Asked = {
  drop: Drop
  person: string
  move: string
  from_m?: number
  to_m?: number
  set?: number
  to_set?: number
  as_rigged?: boolean
  schools: Schools
}

type Told<T> = { data?: T; faults: Fault[]; here: boolean }

/** Asks the server, and the core in this page where there is no connection. */
async function ask<T>(
  server: () => Promise<{ data?: T; error?: unknown }>,
  core: () => Promise<T & { errors?: Fault[] }>,
): Promise<Told<T>> {
  const answer = await server().catch(() => undefined)
  if (answer) {
    const problem = answer.error as { errors?: Fault[]; title?: string } | undefined
    return {
      data: answer.data,
      faults: problem ? (problem.errors ?? [{ pointer: '', detail: problem.title ?? 'refused' }]) : [],
      here: false,
    }
  }
  const here = await core()
  return here.errors ? { faults: here.errors, here: true } : { data: here, faults: [], here: true }
}

/** Finds a move. */
export const findMove = (body: Asked) =>
  ask<MoveAnswer>(
    () => api.POST('/api/v1/moves/plan', { body }),
    () => planHere(body),
  )

/** Walks a list of actions by the rules. */
export const walk = (body: {
  drop: Drop
  list: { person: string; move: string; to_m: number; start: ReplayAnswer['walked']['start']; steps: Action[] }
  schools: Schools
}) =>
  ask<ReplayAnswer>(
    () => api.POST('/api/v1/moves/replay', { body }),
    () => replayHere(body),
  )

/** Finds a move of a team. */
export const findTeamMove = (body: TeamAsked) =>
  ask<TeamAnswer>(
    () => api.POST('/api/v1/team/plan', { body }),
    () => teamHere(body),
  )

/** Looks who is reached from where. */
export const askRescue = (body: RescueAsked) =>
  ask<RescueAnswer>(
    () => api.POST('/api/v1/rescue', { body }),
    () => rescueHere(body),
  )

/** What an action is called. */
export const doWords: Record<Action['do'], string> = {
  'put-on': 'put on',
  'take-off': 'take off',
  lock: 'lock',
  prove: 'prove',
  clip: 'clip in',
  unclip: 'unclip',
  move: 'move along the rope',
  stand: 'stand up',
  sit: 'sit onto',
  'lower-onto': 'lower onto',
  climb: 'climb to',
  descend: 'descend to',
  park: 'park',
  unpark: 'unpark',
  tie: 'tie a loop',
  untie: 'untie the loop',
  land: 'stand on the ground',
  pass: 'pass the deviation',
  'tie-off': 'tie off',
  'untie-off': 'untie',
  work: 'work',
  isolate: 'tie damage out',
}

/** What an action must be told: an item, a strand, a height. */
export const needs: Partial<Record<Action['do'], ('item' | 'strand' | 'span' | 'at' | 'into')[]>> = {
  'put-on': ['item', 'strand', 'span', 'at'],
  'take-off': ['item'],
  lock: ['item'],
  prove: ['item'],
  clip: ['item', 'strand', 'span', 'into'],
  unclip: ['item'],
  move: ['item', 'at'],
  stand: ['item'],
  sit: ['item'],
  'lower-onto': ['item'],
  climb: ['at'],
  descend: ['at'],
  park: ['item'],
  unpark: ['item'],
  tie: ['strand', 'span', 'at'],
  pass: ['strand', 'span'],
  'tie-off': ['item'],
  'untie-off': ['item'],
  isolate: ['strand', 'span'],
}
