import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import {
  api,
  must,
  type CalloutCard,
  type CalloutDocument,
  type CalloutMark,
  type Item,
  type Kit,
  type Model,
} from '@/api/client'
import { askHere } from './core'
import { useGear } from './gear'

/** The kits that there are, with what is in them, as far as this device knows. */
export function useKits() {
  const gear = useGear()
  const items = computed(() => gear.items.value.filter((i) => i.kit))
  const names = computed(() => [...new Set(items.value.map((i) => i.kit!))].sort())
  const stock = computed<{ items: Item[]; models: Model[]; kits: Kit[] }>(() => {
    const used = new Set(items.value.map((i) => i.model))
    return {
      items: items.value,
      models: [...gear.models.value.values()].filter((m) => used.has(m.id)),
      kits: gear.data.value?.kits ?? [],
    }
  })
  /** What each bag is sealed with, and when it was checked. */
  const seals = computed(() =>
    Object.fromEntries(
      (gear.data.value?.kits ?? []).flatMap((k) =>
        k.seal ? [[k.name, `sealed ${k.seal.number}, checked ${k.seal.on}`]] : [],
      ),
    ),
  )
  return { gear, names, stock, seals }
}

/** The team's policy, as far as this device knows it. */
export function usePolicy() {
  return useQuery({ queryKey: ['policy', 'own'], queryFn: async () => must(await api.GET('/api/v1/policy')).own })
}

/** The card of a callout, from this device's own core; the last one stays until the next is there or was refused. */
export function useCard(document: Ref<CalloutDocument | undefined>) {
  const { gear, names, stock, seals } = useKits()
  const policy = usePolicy()
  const card = shallowRef<CalloutCard>()
  const before = shallowRef<CalloutCard>()
  const failure = ref('')
  let last = 0
  const asked = computed(() => {
    const d = document.value
    // Without its tables a team would be answered by those that are shipped, and not know it.
    if (!d || !names.value.length || policy.isPending.value) return
    return { known: d.known, day: d.day, exercise: d.exercise, ...stock.value, policy: policy.data.value }
  })
  watch(
    asked,
    async (body) => {
      const mine = ++last
      if (!body) return
      const here = await askHere<CalloutCard>('callout', body).catch((e: Error) => ({
        errors: [{ pointer: '', detail: e.message }],
        answer: undefined,
      }))
      if (mine !== last) return
      failure.value = here.errors?.map((f) => f.detail).join('; ') ?? ''
      // What is refused has no card: the one of before is of something else.
      before.value = here.answer ? card.value : undefined
      card.value = here.answer
    },
    { immediate: true },
  )
  const pending = computed(() => gear.isPending.value || policy.isPending.value)
  return { card, before, failure, names, seals, pending, unread: gear.isError, shipped: policy.isError }
}

/** Whether a card was asked with a height. */
export const heightKnown = (c: CalloutCard) => c.taken.some((t) => t.of === 'height' && t.known)

/** What times are marked for, in the order of a callout. */
export const markWords: Record<CalloutMark['what'], string> = {
  arrived: 'first on scene',
  ready: 'rigged and proved',
  'over-edge': 'over the edge',
  'at-load': 'at the casualty',
  down: 'down at the landing',
  up: 'up at the top',
  'handed-over': 'handed over',
  ended: 'stood down',
  other: 'mark time',
}

/** Why a leader goes on in spite of a finding, by one tap. */
export const reasonWords = ['seen: it holds', 'no other kit here', 'a life is at risk now', 'done otherwise']

export const loadWords = { one: 'one person', two: 'two persons', stretcher: 'stretcher' } as const
export const edgeWords = {
  none: 'bare edge',
  pad: 'pad',
  sleeve: 'sleeve',
  roller: 'roller',
  free: 'hangs free',
} as const
export const landingWords = { ground: 'ground', deck: 'deck', water: 'water', boat: 'boat' } as const
export const ropesWords = { dry: 'dry', wet: 'wet', icy: 'icy' } as const
export const heightBands = [
  [1, 15],
  [15, 30],
  [30, 45],
  [45, 60],
  [60, 90],
  [90, 120],
  [120, 200],
] as const
export const backBands = [
  [0.5, 2],
  [2, 5],
  [5, 10],
  [10, 20],
] as const
