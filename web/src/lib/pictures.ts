import { shallowRef, toRaw, watch } from 'vue'
import { api, type Drop } from '@/api/client'
import type { components, operations } from '@/api/schema'
import { askHere } from './core'

export type Loaded = components['schemas']['Loaded']
export type KnotDrawn = components['schemas']['KnotDrawn']
export type Drawing = components['schemas']['Drawing']
/** Whose hold is drawn, and from where it is seen. */
export type Asked = { person: string; hold: string; view: 'front' | 'back' }

type Body<Q extends keyof operations> = operations[Q] extends {
  requestBody: { content: { 'application/json': infer B } }
}
  ? B
  : never

/** The questions for pictures, by their ids; each answers what the core on this device does. */
const questions = {
  loading: (body: Body<'loading'>) => api.POST('/api/v1/pictures/loading', { body }),
  knots: (body: Body<'knots'>) => api.POST('/api/v1/pictures/knots', { body }),
  'team-picture': (body: Body<'team-picture'>) => api.POST('/api/v1/pictures/team', { body }),
  'stance-picture': (body: Body<'stance-picture'>) => api.POST('/api/v1/pictures/stance', { body }),
  'forces-picture': (body: Body<'forces-picture'>) => api.POST('/api/v1/pictures/forces', { body }),
  'pair-picture': (body: Body<'pair-picture'>) => api.POST('/api/v1/pictures/pair', { body }),
}
type Question = keyof typeof questions
type Answer<Q extends Question> = NonNullable<Awaited<ReturnType<(typeof questions)[Q]>>['data']>

/** Asks the server, and without a connection the core on this device; undefined where there is nothing to draw. */
async function drawn<Q extends Question>(question: Q, body: Body<Q>): Promise<Answer<Q> | undefined> {
  try {
    const answer = await questions[question](body as never)
    if (answer.data || answer.error.errors) return answer.data as Answer<Q> | undefined
  } catch {
    // Without a connection this device draws.
  }
  return (await askHere<Answer<Q>>(question, body)).answer
}

/**
 * The answer to a question for pictures, asked again when its key changes; an empty key asks
 * nothing. What was drawn before is gone at once, unless it may stay until the next is there.
 */
function useDrawn<Q extends Question>(question: Q, key: () => string, body: () => Body<Q>, stays = false) {
  const answer = shallowRef<Answer<Q>>()
  let last = 0
  watch(
    key,
    async (now) => {
      const mine = ++last
      if (!now || !stays) answer.value = undefined
      if (!now) return
      const found = await drawn(question, body()).catch(() => undefined)
      if (mine === last) answer.value = found
    },
    { immediate: true },
  )
  return answer
}

/** The pictures of a hold; those of before are gone at once when another hold is shown. */
export function useLoading(drop: () => Drop | undefined, asked: () => Asked | undefined) {
  return useDrawn(
    'loading',
    () => {
      const d = drop()
      const a = asked()
      if (!d || !a) return ''
      const h = d.people?.find((p) => p.id === a.person)?.holds?.find((o) => o.id === a.hold)
      // What is drawn of a hold; of a brake of the team all that is entered of the team.
      return JSON.stringify([
        a,
        h
          ? [h.device, h.mode, h.position, h.point, h.threaded, h.open, h.leaves, h.extra_friction, h.role, h.links]
          : d.team,
        // What the models say decides too: a change in the store shows.
        d.models,
      ])
    },
    () => ({ drop: toRaw(drop()!), ...asked()! }),
  )
}

/** Everything that is asked is the key: what is drawn is never of something else. */
const whole = (body: unknown) => (body ? JSON.stringify(body) : '')

/** Knots in a rope: of a strand of a drop, or by themselves. */
export function useKnots(body: () => Body<'knots'> | undefined) {
  return useDrawn(
    'knots',
    () => whole(body()),
    () => body()!,
  )
}

/** The rig of a team at a step, as it is drawn; the last one stays until the next is there. */
export function useTeamPicture(body: () => Body<'team-picture'> | undefined) {
  return useDrawn(
    'team-picture',
    () => whole(body()),
    () => body()!,
    true,
  )
}

/** A person at a step of a move, close up. */
export function useStance(body: () => Body<'stance-picture'>) {
  return useDrawn(
    'stance-picture',
    () => whole(body()),
    () => body(),
    true,
  )
}

/** The rig of a team with its forces; the last one stays until the next is there. */
export function useForces(body: () => Body<'forces-picture'>) {
  return useDrawn(
    'forces-picture',
    () => whole(body()),
    () => body(),
    true,
  )
}

/** A rescuer with a casualty at a step, as they are drawn. */
export function usePairPicture(body: () => Body<'pair-picture'> | undefined) {
  return useDrawn(
    'pair-picture',
    () => whole(body()),
    () => body()!,
    true,
  )
}
