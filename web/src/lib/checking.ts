import { useStorage } from '@vueuse/core'
import { computed, type Ref } from 'vue'
import type { Due, Entry, Proof } from '@/api/client'

export type Result = { proof: string; did: boolean; note?: string }

/** What names a check, so that one half done is found again after a reload. */
export function keyOf(d: Due): string {
  return [d.kind, d.person, d.hold, d.item, d.rope, d.mode, d.rigging].filter(Boolean).join(':')
}

/** A check on its way: the proofs done so far, kept on this device. */
export function useChecking(whose: string, due: Ref<Due | undefined>) {
  const all = useStorage<Record<string, Result[]>>(`checking:${whose}`, {})
  const results = computed(() => (due.value ? (all.value[keyOf(due.value)] ?? []) : []))
  const proof = computed<Proof | undefined>(() => due.value?.proofs[results.value.length])
  const failed = computed(() => results.value.find((r) => !r.did))

  function set(list: Result[]) {
    if (due.value) all.value = { ...all.value, [keyOf(due.value)]: list }
  }

  return {
    results,
    proof,
    failed,
    answer: (did: boolean, note: string) => {
      if (proof.value) set([...results.value, { proof: proof.value.id, did, ...(note ? { note } : {}) }])
    },
    undo: () => set(results.value.slice(0, -1)),
    clear: () => set([]),
  }
}

/** What is recorded of a check that was done. */
export function entryOf(drop: string, day: string, due: Due, results: Result[]): Omit<Entry, 'id' | 'given_at'> {
  const passed = results.every((r) => r.did)
  const about = { day, drop }
  if (due.kind === 'partner')
    return {
      ...about,
      kind: 'partner-check',
      person: due.person,
      partner: { rigging: due.rigging ?? '', passed, proofs: results },
    }
  return {
    ...about,
    kind: 'function-check',
    item: due.item,
    check: { rope: due.rope ?? '', passed, proofs: results, ...(due.mode ? { mode: due.mode } : {}) },
  }
}
