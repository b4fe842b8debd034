import { replaceEqualDeep } from '@tanstack/vue-query'
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, shallowRef, toRaw, watch } from 'vue'
import { api, type Fault, type Report } from '@/api/client'
import { expire } from '@/lib/checking'
import { askHere } from '@/lib/core'
import type { Open } from './open'

/** What a check is to give beside findings. */
type CheckQuery = { figures: boolean; curves: boolean; checks: boolean; person?: string }

/** Checks the drop after every change: by the server, else by the core on this device. */
export function useJudging({ id, drop, online }: Open) {
  const report = shallowRef<Report>()
  const faults = shallowRef<Fault[]>([])
  /** Without a connection: the core on this device checks. */
  const here = ref(false)
  /** Whose curves are needed: '' for the first who hangs; undefined for none. */
  const curvesOf = ref<string>()
  /** The checks of today are needed. */
  const checksWanted = ref(false)
  const wanted = computed(() => `${curvesOf.value} ${checksWanted.value}`)

  /** Counts what differs from before, here or in the store, and so is to be checked. */
  const changes = ref(0)
  const checked = ref(-1)
  let checkedFor = ''
  let checking = false
  /** What was found is of the drop as it is shown. */
  const current = computed(() => checked.value === changes.value)

  /** Says that the drop is another than it was. */
  function differs() {
    changes.value++
    void check()
  }

  /** Judges the drop anew, changed or not. */
  function again() {
    checked.value = -1
    return check()
  }

  /** Checks the newest change; while one check runs, later ones wait for it. */
  async function check() {
    if (checking) return
    checking = true
    try {
      if (drop.value && expire(drop.value)) changes.value++
      while (drop.value && (checked.value !== changes.value || checkedFor !== wanted.value)) await judge()
    } catch {
      // Neither the server nor this device could check it.
      here.value = false
    } finally {
      checking = false
    }
  }

  async function judge() {
    const [change, of, asked, whose] = [changes.value, id.value, wanted.value, curvesOf.value]
    const answer = await ask({
      figures: true,
      curves: whose !== undefined,
      checks: checksWanted.value,
      ...(whose ? { person: whose } : {}),
    })
    // Another drop was opened meanwhile: its own check is next.
    if (id.value !== of) return
    // What is as it was stays the same object, so that only what changed is drawn again.
    if (answer.report) report.value = replaceEqualDeep(report.value, answer.report)
    faults.value = answer.errors ?? []
    checked.value = change
    checkedFor = asked
  }

  async function ask(asked: CheckQuery): Promise<{ report?: Report; errors?: Fault[] }> {
    const document = toRaw(drop.value!)
    try {
      const answer = await api.POST('/api/v1/check', { params: { query: asked }, body: document })
      online.value = true
      here.value = false
      // A server that is too busy, or broken, has judged nothing: this device does.
      if (answer.data || answer.error.errors) return { report: answer.data, errors: answer.error?.errors }
    } catch {
      online.value = false
    }
    const { answer, errors } = await askHere<Report>('check', document, { options: asked })
    here.value = true
    return { report: answer, errors }
  }

  function clear() {
    report.value = undefined
    faults.value = []
  }

  watch(wanted, () => void check())
  // The server is there again: it judges what this device judged by the records of then.
  watch(online, (is) => void (is && (here.value ? again() : check())))
  // Checks run out while nothing else changes.
  useIntervalFn(() => void (drop.value && expire(drop.value) && differs()), 30_000)

  return { report, faults, here, curvesOf, checksWanted, current, differs, check, again, clear }
}
