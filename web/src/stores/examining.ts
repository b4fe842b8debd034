import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import type { Entry } from '@/api/client'
import { today } from '@/lib/records'
import { useOutbox, type Given } from './outbox'
import { useSession } from './session'

type Examined = NonNullable<Entry['examined']>
export type PointResult = NonNullable<Examined['points']>[number]['result']
/** What was found of one item, as it is recorded. */
export type Found = Pick<Examined, 'result' | 'points' | 'readings' | 'again_by' | 'kept'> & {
  note?: string
  photos?: string[]
}
/** An item that was looked at and is not signed yet. */
export type Looked = { item: string; label: string; day: string; found: Found }
/** Looked at one after the other, signed together. */
type Sitting = {
  batch: string
  kind: 'examination' | 'inspection'
  colour: string
  examiner: string
  looked: Looked[]
  /** Items that are recorded, of this sitting, and which of them were stopped. */
  recorded: string[]
  stopped: string[]
}

const fresh = (): Sitting => ({
  batch: crypto.randomUUID(),
  kind: 'examination',
  colour: '',
  examiner: '',
  looked: [],
  recorded: [],
  stopped: [],
})

/**
 * A session of examinations, kept on this device until it is signed. What is stopped is
 * recorded at once; the rest waits for the signature, and can be looked at again until then.
 */
export const useExamining = defineStore('examining', () => {
  const session = useSession()
  const outbox = useOutbox()
  const key = computed(() => `examining:${session.team?.id ?? ''}:${session.account}`)
  const sitting = ref<Sitting>(fresh())
  /** Why this device could not keep it. */
  const failure = ref('')

  function read(): Sitting {
    try {
      return { ...fresh(), ...(JSON.parse(localStorage.getItem(key.value) ?? '{}') as Partial<Sitting>) }
    } catch {
      return fresh()
    }
  }
  watch(key, () => (sitting.value = read()), { immediate: true })

  function keep() {
    try {
      localStorage.setItem(key.value, JSON.stringify(sitting.value))
      failure.value = ''
    } catch {
      failure.value = 'This device has no room left: sign what was looked at now.'
    }
  }

  function entryOf(l: Looked): Given {
    const { note, photos, ...found } = l.found
    const { batch, kind, colour, examiner } = sitting.value
    return {
      kind,
      day: l.day,
      item: l.item,
      ...(note ? { note } : {}),
      ...(photos?.length ? { photos } : {}),
      examined: {
        batch,
        ...found,
        ...(colour.trim() ? { colour: colour.trim() } : {}),
        ...(examiner.trim() ? { examiner: examiner.trim() } : {}),
      },
    }
  }

  /** Notes what was found; what is stopped is recorded there and then. False: it was not. */
  function put(item: string, label: string, found: Found): boolean {
    const looked = { item, label, day: today(), found }
    if (found.result === 'quarantine' || found.result === 'retire') {
      if (!outbox.record(label, entryOf(looked))) return false
      sitting.value.recorded.push(item)
      sitting.value.stopped.push(item)
      leaveOut(item)
    } else sitting.value.looked = [...sitting.value.looked.filter((l) => l.item !== item), looked]
    keep()
    return !failure.value
  }

  /** Takes an item that is not signed out again. */
  function leaveOut(item: string) {
    sitting.value.looked = sitting.value.looked.filter((l) => l.item !== item)
    keep()
  }

  /** Signs all that was looked at; what this device has no room for stays. */
  function sign() {
    const all = sitting.value.looked
    const done = outbox.recordAll(all.map((l) => ({ label: l.label, entry: entryOf(l) })))
    sitting.value.recorded.push(...all.slice(0, done).map((l) => l.item))
    sitting.value.looked = all.slice(done)
    keep()
  }

  /** Begins another session; what was not signed is not lost by it. */
  function begin() {
    if (sitting.value.looked.length) return
    const { kind, colour, examiner } = sitting.value
    sitting.value = { ...fresh(), kind, colour, examiner }
    keep()
  }

  return { sitting, failure, keep, put, leaveOut, sign, begin }
})
