import { defineStore } from 'pinia'
import { computed, ref, shallowRef, toRaw } from 'vue'
import { api, type Drop, type Fault, type RescueAction, type RescueAnswer } from '@/api/client'
import { useAsking } from '@/lib/asking'
import { askRescue, nobody, stopped } from '@/lib/moves'
import { saveAs } from '@/lib/save'
import { useDraft } from './draft'

/** Who needs a rescue at which height, and what was answered. */
export const useRescue = defineStore('rescue', () => {
  const draft = useDraft()
  const person = ref<string>()
  const at = ref<number>()
  const way = ref(0)
  const answer = shallowRef<RescueAnswer>()
  const faults = ref<Fault[]>([])
  const here = ref(false)
  const looking = ref(false)
  const trying = useAsking()
  const fault = ref('')
  let asked = 0

  const people = computed(() => answer.value?.cover.people ?? [])
  const who = computed(() => people.value.find((p) => p.person === person.value) ?? people.value[0])
  /** The height that is looked at: the worst of the chosen person, until one is chosen. */
  const height = computed(() => {
    if (at.value !== undefined) return at.value
    const gap = answer.value?.cover.gaps.find((g) => g.person === who.value?.person)
    if (gap) return Math.round((gap.from_m + gap.to_m) / 2)
    const states = who.value?.states ?? []
    const slowest = states.reduce((best, s, i) => ((s.seconds_s ?? 0) > (states[best]?.seconds_s ?? 0) ? i : best), 0)
    return answer.value?.cover.heights_m[slowest]
  })

  const asks = (drop: Drop) => ({
    drop,
    ...(who.value ? { person: who.value.person } : {}),
    ...(height.value !== undefined ? { at_m: height.value } : {}),
    ...(way.value ? { way: way.value } : {}),
  })

  /** The answer that is shown is of something that was asked before. */
  const finding = ref(false)
  const asking = useAsking()

  async function find() {
    const drop = toRaw(draft.drop)
    if (!drop?.rescue) return
    const n = ++asked
    finding.value = true
    const search = () => asking.run((how) => askRescue(asks(drop), how)).catch(() => nobody)
    let told = await search()
    // Nobody and no height was chosen: the first answer says who and where.
    if (n === asked && told?.data && !told.data.ways && height.value === undefined) {
      answer.value = told.data
      if (height.value !== undefined) told = await search()
    }
    if (n !== asked) return
    finding.value = false
    if (told?.data) answer.value = { ...told.data, changes: answer.value?.changes }
    faults.value = told ? told.faults : [stopped]
    here.value = told?.here ?? false
  }

  function look(id: string, m: number) {
    person.value = id
    at.value = m
    way.value = 0
    void find()
  }

  function take(n: number) {
    way.value = n
    void find()
  }

  /** Asks what would cover more. */
  async function changes() {
    if (!draft.drop) return
    const body = { ...asks(toRaw(draft.drop)), changes: true }
    looking.value = true
    const told = await trying.run((how) => askRescue(body, how)).catch(() => nobody)
    looking.value = false
    faults.value = told ? told.faults : [{ ...stopped, detail: 'stopped before every change was tried' }]
    if (told?.data && answer.value) answer.value = { ...answer.value, changes: told.data.changes ?? [] }
  }

  /** Takes the drop with one of the changes. */
  async function apply(n: number) {
    if (!draft.drop) return
    const told = await askRescue({ drop: toRaw(draft.drop), apply: n }).catch(() => undefined)
    const changed = told?.data?.drop
    if (!changed) return
    if (answer.value) answer.value = { ...answer.value, changes: undefined }
    at.value = undefined
    draft.edit((d) => Object.assign(d, changed))
  }

  /** What the rules say of steps that somebody chose. */
  async function judge(steps: RescueAction[]) {
    if (!draft.drop) return undefined
    return (await askRescue({ ...asks(toRaw(draft.drop)), steps }).catch(() => undefined))?.data
  }

  async function sheet(format: 'svg' | 'pdf') {
    if (!draft.drop) return
    fault.value = ''
    const told = await api
      .POST(`/api/v1/rescue/sheet.${format}`, { body: asks(toRaw(draft.drop)), parseAs: 'blob' })
      .catch(() => undefined)
    if (!told?.data)
      fault.value = told
        ? 'The plan was refused.'
        : 'No connection: the plan is written by the server. Print this page instead.'
    else saveAs(told.data as Blob, `${draft.id}-rescue.${format}`)
  }

  return {
    person,
    at,
    way,
    answer,
    faults,
    here,
    looking,
    asking,
    trying,
    fault,
    people,
    who,
    height,
    find,
    look,
    take,
    changes,
    apply,
    judge,
    finding,
    sheet,
  }
})
