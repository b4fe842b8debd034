import { computed, ref } from 'vue'
import type { Drop, Due, Entry, Proof } from '@/api/client'
import { shiftH } from '@/api/defaults'
import { timeWords } from '@/lib/records'

export type Result = { proof: string; did: boolean; note?: string }

/** Answers of a check that is half done, with when the last one was given. */
type Kept = { at: string; results: Result[] }

const hourMs = 3600_000
const prefix = 'proofs:'

/** Names a check among those of a drop's day. */
export function keyOf(d: Due): string {
  return JSON.stringify([d.kind, d.person, d.hold, d.strand, d.item, d.rope, d.mode, d.rigging].map((v) => v ?? ''))
}

/** Removes answers that are too old to go on with. */
function prune(now: number) {
  for (const key of Object.keys(localStorage)) {
    // Versions before this one kept finished answers under "checking:".
    if (key.startsWith('checking:') || (key.startsWith(prefix) && !recent(read(key), now))) localStorage.removeItem(key)
  }
}

function recent(k: Kept | undefined, now: number): boolean {
  const age = now - Date.parse(k?.at ?? '')
  return age >= 0 && age <= shiftH * hourMs
}

function read(key: string): Kept | undefined {
  try {
    return JSON.parse(localStorage.getItem(key) ?? 'null') ?? undefined
  } catch {
    return undefined
  }
}

/**
 * A check on its way. What is half done is kept on this device for one account, team, drop,
 * day and check, and only while its proofs are the same: it is written at once, since
 * the page may go at any moment. Finished answers are never kept: take() clears them
 * and gives them to be recorded.
 */
export function useChecking(account: string, team: string, drop: string, day: string, due: Due) {
  const key = prefix + JSON.stringify([account, team, drop, day, keyOf(due)])
  prune(Date.now())
  const kept = read(key)
  const found = (kept?.results ?? []).filter((r, i) => due.proofs[i]?.id === r.proof)
  // The last answer is always given on this screen.
  if (found.length === due.proofs.length && found.every((r) => r.did)) found.pop()
  const results = ref<Result[]>(found)
  /** When the answers that were found were given; empty where none was. */
  const since = ref(found.length && kept ? kept.at : '')
  const proof = computed<Proof | undefined>(() => due.proofs[results.value.length])
  const failed = computed(() => results.value.find((r) => !r.did))

  function set(list: Result[]) {
    results.value = list
    try {
      if (list.length) localStorage.setItem(key, JSON.stringify({ at: new Date().toISOString(), results: list }))
      else localStorage.removeItem(key)
    } catch {
      // No room: the check goes on, and is not found again after a reload.
    }
  }

  return {
    results,
    since,
    proof,
    failed,
    /** Notes an answer; true where it was the last one and every proof did what it must. */
    answer(did: boolean, note: string): boolean {
      if (!proof.value || failed.value) return false
      const list = [...results.value, { proof: proof.value.id, did, ...(note ? { note } : {}) }]
      const complete = did && list.length === due.proofs.length
      if (complete) results.value = list
      else set(list)
      return complete
    },
    undo: () => set(results.value.slice(0, -1)),
    again() {
      set([])
      since.value = ''
    },
    /** Gives the answers to be recorded, once: nothing of them is kept. */
    take(): Result[] {
      const list = results.value
      set([])
      return list
    },
  }
}

/** What is recorded of a check that was done. */
export function entryOf(drop: string, day: string, due: Due, results: Result[]): Omit<Entry, 'id' | 'given_at'> {
  const passed = results.length === due.proofs.length && results.every((r) => r.did)
  const about = { day, drop }
  if (due.kind === 'partner')
    return {
      ...about,
      kind: 'partner-check',
      person: due.person,
      partner: { rigging: due.rigging ?? '', passed, proofs: results },
    }
  if (due.kind === 'worn')
    return {
      ...about,
      kind: 'worn-check',
      person: due.person,
      worn: { items: results.map((r) => ({ item: r.proof, sound: r.did, ...(r.note ? { note: r.note } : {}) })) },
    }
  return {
    ...about,
    kind: 'function-check',
    item: due.item,
    check: { rope: due.rope ?? '', passed, proofs: results, ...(due.mode ? { mode: due.mode } : {}) },
  }
}

/** Marks the checks of a drop whose shift is over by now; true where there is one more. */
export function expire(d: Drop): boolean {
  const over = [...(d.checks ?? []), ...(d.partner_checks ?? []), ...(d.worn_checks ?? [])].filter(
    (c) => c.until && !c.over && Date.parse(c.until) < Date.now(),
  )
  for (const c of over) c.over = `its shift is over: it counted until ${timeWords(c.until!)}`
  return over.length > 0
}
