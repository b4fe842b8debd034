import type {
  Drop,
  Exercise,
  ExerciseAnswer,
  ExerciseAsked,
  ExerciseMark,
  ExerciseStanding,
  Hold,
  Link,
} from '@/api/client'
import { rigFaults, skills, type Skill, type What } from '@/api/practice'
import { api, must } from '@/api/client'
import { askHere } from './core'
import { labelOf, modelOf } from './gear'
import { show } from './units'

export type Kind = Exercise['kind']

/** What is practised, as people call it. */
export const kinds: { kind: Kind; words: string; says: string }[] = [
  {
    kind: 'faults',
    words: 'Find the fault',
    says: 'A rig, or a list of steps. Point at what is wrong. Some have no fault.',
  },
  { kind: 'fails', words: 'What would happen?', says: 'One thing fails. Held by what, how far, how hard, where to?' },
  { kind: 'move', words: 'Do it', says: 'A move step by step, from everything that could be done.' },
  { kind: 'apart', words: 'Tell them apart', says: 'Two models of a class, and what differs.' },
]
export const kindTitle = (k: Kind) => kinds.find((o) => o.kind === k)?.words ?? k

/** The core on this device makes and marks: an exercise needs no connection and no account. */
async function asked<T>(question: string, request: unknown): Promise<T> {
  const here = await askHere<T>(question, request)
  if (here.answer) return here.answer
  throw new Error(here.errors?.map((f) => f.detail).join('; ') ?? 'it was refused')
}

/** The gear that a rig is made up from, where no drop is given. */
async function madeUp(): Promise<unknown> {
  const answer = await fetch('/practice.json')
  if (!answer.ok) throw new Error('the gear of made-up rigs is not on this device')
  return answer.json()
}

export async function makeExercise(a: ExerciseAsked): Promise<Exercise> {
  return asked<Exercise>('make-exercise', a.drop ? a : { ...a, gear: await madeUp() })
}
export const markExercise = (exercise: Exercise, answer: ExerciseAnswer) =>
  asked<ExerciseMark>('mark-exercise', { exercise, answer })
export const stepExercise = (body: unknown) => asked<ExerciseStanding>('step-exercise', body)
/** What is drawn of an exercise, or walked of its steps. */
export const askOf = asked

/** Something on a rig that one points at. */
export type Thing = {
  kind: 'hold' | 'item' | 'strand' | 'anchor' | 'mark' | 'edge' | 'person' | 'step'
  id: string
  label: string
}

/** The faults that a thing can have. */
export const faultsAt = (t: Thing): What[] => rigFaults.filter((w) => w.at?.includes(t.kind))

/** A link of a hold as it is seen. */
export function linkSeen(drop: Drop, l: Link): string {
  const model = modelOf(drop, l.item)
  if (model?.class !== 'connector') return model?.length_m ? show(model.length_m, 'm') : ''
  const lie = l.lie && l.lie !== 'along' ? `, ${l.lie === 'across' ? 'loaded across' : 'may turn'}` : ''
  return `gate ${l.gate ?? 'locked'}${lie}`
}

/** How a device is on its rope, as it is seen. */
export function holdSeen(h: Hold): string[] {
  return [
    `set for ${h.mode}, in “${h.position}”`,
    `${show(h.above_m, 'm')} above the ${h.point} point`,
    h.open ? 'a side plate or catch stands open' : 'side plates and catch shut',
    ...(h.leaves ? [`the strand leaves on the ${h.leaves.side}, seen from the ${h.leaves.seen_from}`] : []),
    ...(h.second_kg
      ? [`for a second person of ${show(h.second_kg, 'kg')}, the bend is ${h.extra_friction ? 'in' : 'not in'}`]
      : []),
  ]
}

/** What tag and records say of a thing. */
export function tagged(drop: Drop, item: string): string {
  const i = drop.items?.find((o) => o.id === item)
  if (!i) return ''
  const said = [i.state === 'in-service' ? '' : i.state, i.examined_on ? `examined ${i.examined_on}` : '']
  for (const e of i.events ?? []) said.push(`${e.kind.replace('-', ' ')} on ${e.on}`)
  if (drop.checks?.some((c) => c.item === item && c.on === drop.day && c.passed)) said.push('checked today')
  return said.filter(Boolean).join(', ')
}

export const labelled = labelOf

/** A skill in words. */
export function skillTitle(id: string): string {
  const known = skills.find((s) => s.id === id)
  if (known) return known.title
  const of = (kind: string) => id.slice(kind.length).replaceAll('-', ' ')
  if (id.startsWith('models-')) return `how models differ: ${of('models-')}`
  return id.startsWith('winding-') ? `winding descender, ${of('winding-')}` : id
}

export type { Skill }

/** The score as people read it. */
export const scoreWords = (score: number) => (score === 1 ? 'full marks' : `${Math.round(score * 100)} %`)

/** A random seed, for an exercise that is not chosen by its number. */
export const anySeed = () => crypto.getRandomValues(new Uint32Array(1))[0]! % 100000

/** Begins a team's move that several do together, and gives its id. */
export async function beginJoint(exercise: Exercise, exam: boolean): Promise<string> {
  const id = crypto.randomUUID()
  must(
    await api.PUT('/api/v1/practice/joint/{id}', {
      params: { path: { id } },
      body: { exercise: { ...exercise, answers: undefined }, ...(exam ? { exam } : {}) },
    }),
  )
  return id
}

/** Roles in a joint exercise, as they are offered. */
export const jointRoles = ['main', 'belay', 'edge', 'haul', 'attendant'] as const
export const roleWords: Record<(typeof jointRoles)[number], string> = {
  main: 'Main brake',
  belay: 'Belay brake',
  edge: 'At the edge',
  haul: 'Haul',
  attendant: 'With the load',
}
