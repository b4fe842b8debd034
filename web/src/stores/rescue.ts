import { replaceEqualDeep } from '@tanstack/vue-query'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, toRaw, watch } from 'vue'
import { api, type Drop, type Fault, type RescueAction, type RescueAnswer } from '@/api/client'
import { useAsking } from '@/lib/asking'
import { askRescue, nobody, stopped } from '@/lib/moves'
import { canonical } from '@/lib/same'
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
  /** The drop that the answer is of, and that changes were tried on, as canonical JSON. */
  const answerOf = ref('')
  let changesOf = ''

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
  /** It is of this drop as it is now. */
  const current = computed(() => answerOf.value === canonical(draft.drop))
  const point = computed(() => JSON.stringify([who.value?.person, height.value, way.value]))
  const pointOf = ref('')
  /** The ways and the plan are of the person, the height and the way that are looked at. */
  const there = computed(() => current.value && pointOf.value === point.value)
  const asking = useAsking()

  async function find() {
    const drop = toRaw(draft.drop)
    if (!drop?.rescue) return
    const n = ++asked
    const of = canonical(drop)
    if (changesOf && changesOf !== of) forgetChanges()
    finding.value = true
    const search = () => asking.run((how) => askRescue(asks(drop), how)).catch(() => nobody)
    let reply: Awaited<ReturnType<typeof search>> = undefined
    // Until somebody and a height are chosen, the answer itself says who and where: asked again.
    for (let tries = 0; tries < 3; tries++) {
      const at = point.value
      reply = await search()
      if (n !== asked) return
      if (!reply?.data) break
      // A plan that is the same stays the same object, so that a drill of it goes on.
      answer.value = replaceEqualDeep(answer.value, { ...reply.data, changes: answer.value?.changes })
      answerOf.value = of
      pointOf.value = at
      if (at === point.value) break
    }
    finding.value = false
    if (!reply?.data && answerOf.value !== of) answer.value = undefined
    faults.value = reply ? reply.faults : [stopped]
    here.value = reply?.here ?? false
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
    const of = canonical(body.drop)
    looking.value = true
    const reply = await trying.run((how) => askRescue(body, how)).catch(() => nobody)
    looking.value = false
    faults.value = reply ? reply.faults : [{ ...stopped, detail: 'stopped before every change was tried' }]
    if (!reply?.data || !answer.value || of !== canonical(draft.drop)) return
    answer.value = { ...answer.value, changes: reply.data.changes ?? [] }
    changesOf = of
  }

  function forgetChanges() {
    changesOf = ''
    if (answer.value) answer.value = { ...answer.value, changes: undefined }
  }

  /** Takes the drop with one of the changes: of the list that was tried on this very drop. */
  async function apply(n: number) {
    const of = canonical(draft.drop)
    if (!draft.drop || changesOf !== of) return
    const reply = await askRescue({ drop: toRaw(draft.drop), apply: n }).catch(() => undefined)
    const changed = reply?.data?.drop
    if (!changed || of !== canonical(draft.drop)) return
    forgetChanges()
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
    const reply = await api
      .POST(`/api/v1/rescue/sheet.${format}`, { body: asks(toRaw(draft.drop)), parseAs: 'blob' })
      .catch(() => undefined)
    if (!reply?.data)
      fault.value = reply
        ? 'The plan was refused.'
        : 'No connection: the plan is written by the server. Print this page instead.'
    else saveAs(reply.data as Blob, `${draft.id}-rescue.${format}`)
  }

  // What was asked of one drop is nothing of the next.
  watch(
    () => draft.id,
    () => {
      asked++
      asking.stop()
      trying.stop()
      person.value = at.value = answer.value = undefined
      way.value = 0
      faults.value = []
      fault.value = answerOf.value = pointOf.value = changesOf = ''
      finding.value = false
    },
  )

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
    current,
    there,
    sheet,
  }
})
