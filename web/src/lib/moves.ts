import {
  api,
  type Fault,
  type MoveAnswer,
  type MoveAsked,
  type Progress,
  type ReplayAnswer,
  type ReplayAsked,
  type RescueAnswer,
  type RescueAsked,
  type TeamAnswer,
  type TeamAsked,
} from '@/api/client'
import { askHere, type Listening } from './core'

export type Told<T> = { data?: T; faults: Fault[]; here: boolean }

/** What is reported where neither the server nor the core on this device answers. */
export const nobody = {
  data: undefined,
  faults: [{ pointer: '', detail: 'no connection, and no core on this device' }],
  here: false,
}
/** What is reported where somebody stopped it. */
export const stopped: Fault = {
  pointer: '',
  detail: 'stopped before everything was looked at; what is shown is from before',
}
type Problem = { errors?: Fault[]; title?: string; detail?: string }

const faultsOf = (p: Problem | undefined): Fault[] =>
  p ? (p.errors ?? [{ pointer: '', detail: p.detail ?? p.title ?? 'refused' }]) : []

/** Asks the server, and the core on this device where there is no connection. */
async function ask<T>(
  question: string,
  request: unknown,
  server: () => Promise<{ data?: T; error?: unknown }>,
  how: Listening = {},
): Promise<Told<T>> {
  const answer = await server().catch((e: unknown) => {
    if (e instanceof DOMException && e.name === 'AbortError') throw e
    return undefined
  })
  if (answer) return { data: answer.data, faults: faultsOf(answer.error as Problem | undefined), here: false }
  const here = await askHere<T>(question, request, how)
  return { data: here.answer, faults: here.errors ?? [], here: true }
}

/** What the server says while it computes, a line each. */
type Line<T> = { progress?: Progress; answer?: T; problem?: Problem }

/** Reads lines until the answer, and tells how far it is. */
export async function fromLines<T>(
  sent: Promise<{ data?: unknown; error?: unknown }>,
  how: Listening,
): Promise<{ data?: T; error?: unknown }> {
  const { data, error } = await sent
  if (!data) return { error: error ?? { title: 'no answer' } }
  const reader = (data as ReadableStream<BufferSource>).pipeThrough(new TextDecoderStream()).getReader()
  for (let text = ''; ;) {
    const { value, done } = await reader.read()
    text += value ?? ''
    const whole = text.split('\n')
    text = whole.pop() ?? ''
    for (const l of whole.filter(Boolean)) {
      const line = JSON.parse(l) as Line<T>
      if (line.progress) how.tell?.(line.progress)
      else return { data: line.answer, error: line.problem }
    }
    if (done) throw new TypeError('the answer broke off')
  }
}

/** How an answer in lines is requested. */
export const inLines = (how: Listening) => ({
  headers: { Accept: 'application/x-ndjson' },
  parseAs: 'stream' as const,
  signal: how.signal,
})

/** Finds a move. */
export const findMove = (body: MoveAsked, how: Listening = {}) =>
  ask<MoveAnswer>(
    'plan-move',
    body,
    () => fromLines(api.POST('/api/v1/moves/plan', { body, ...inLines(how) }), how),
    how,
  )

/** Walks a list of actions by the rules. */
export const walk = (body: ReplayAsked) =>
  ask<ReplayAnswer>('replay-moves', body, () => api.POST('/api/v1/moves/replay', { body }))

/** Finds a move of a team. */
export const findTeamMove = (body: TeamAsked, how: Listening = {}) =>
  ask<TeamAnswer>(
    'plan-team',
    body,
    () => fromLines(api.POST('/api/v1/team/plan', { body, ...inLines(how) }), how),
    how,
  )

/** Looks who is reached from where. */
export const askRescue = (body: RescueAsked, how: Listening = {}) =>
  ask<RescueAnswer>('rescue', body, () => fromLines(api.POST('/api/v1/rescue', { body, ...inLines(how) }), how), how)
