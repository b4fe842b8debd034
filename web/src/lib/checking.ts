import { useStorage } from '@vueuse/core'
import { computed, type Ref } from 'vue'
import type { Drop, Due, Proof } from '@/api/client'

export type Result = { proof: string; did: boolean; note?: string }

/** What names a check, so that one half done is found again after a reload. */
export function keyOf(d: Due): string {
  return [d.kind, d.person, d.hold, d.item, d.rope, d.mode, d.rigging].filter(Boolean).join(':')
}

/** A check on its way: the proofs done so far, kept on this device. */
export function useChecking(dropId: string, due: Ref<Due | undefined>) {
  const all = useStorage<Record<string, Result[]>>(`checking:${dropId}`, {})
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

/** Writes a check that was done into the drop. */
export function record(d: Drop, due: Due, by: string, results: Result[]) {
  const passed = results.every((r) => r.did)
  if (due.kind === 'partner') {
    if (passed && due.person && due.rigging)
      d.partner_checks = [...(d.partner_checks ?? []), { person: due.person, rigging: due.rigging, on: d.day, by }]
    return
  }
  if (!due.item || !due.rope) return
  const check = { item: due.item, rope: due.rope, on: d.day, by, passed, proofs: results }
  d.checks = [...(d.checks ?? []), due.mode ? { ...check, mode: due.mode } : check]
}

/** Takes an item out of service in the drop that is open; the store follows. */
export function takeOut(d: Drop, item: string, reason: string) {
  const i = d.items?.find((o) => o.id === item)
  if (!i || i.state === 'retired') return
  i.state = 'quarantine'
  i.reason = reason
}
