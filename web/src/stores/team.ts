import { defineStore } from 'pinia'
import { computed, ref, shallowRef, toRaw, watch } from 'vue'
import { api, type Fault, type Reeving, type TeamAnswer } from '@/api/client'
import { canonical } from '@/lib/same'
import { saveAs } from '@/lib/save'
import { useAsking } from '@/lib/asking'
import { findTeamMove, nobody, stopped } from '@/lib/moves'
import { useDraft } from './draft'

/** What is asked of a drop's team, and what was answered. */
export const useTeam = defineStore('team', () => {
  const draft = useDraft()
  const move = ref('lower')
  const from = ref<number>()
  const to = ref<number>()
  const ratio = ref<1 | 2 | 3 | 5 | 9>(3)
  /** The part of the haul's rope that is looked at. */
  const part = ref<{ rope: string; index: number }>()
  /** Steps of the plan that are left out, to see what that would do. */
  const left = ref<number[]>([])
  /** What the rules say of the plan with those steps left out. */
  const without = shallowRef<TeamAnswer>()
  const answer = shallowRef<TeamAnswer>()
  const faults = ref<Fault[]>([])
  const here = ref(false)
  let asked = 0
  /** The drop that the answer is of, as canonical JSON. */
  let answerOf = ''
  /** What was asked when the answer came, as canonical JSON. */
  const askedOf = ref('')
  const finding = ref(false)
  const asking = useAsking()

  const needsTo = () => ['lower', 'raise', 'wind-up'].includes(move.value)
  const needsRatio = () => ['raise', 'lower-to-raise', 'change-ratio'].includes(move.value)
  const hangs = () => !['prove-brake', 'edge'].includes(move.value)
  const up = () => ['raise', 'wind-up'].includes(move.value)
  const top = () => draft.drop?.geometry.top_m ?? 0
  /** Where it comes to while nothing is stated: near the landing, near the top, or a little up. */
  const target = () =>
    to.value ?? (move.value === 'raise' ? Math.round(top() * 0.8) : move.value === 'wind-up' ? (start() ?? 0) + 1 : 1)
  const start = () => from.value ?? (up() ? 2 : undefined)

  const asks = () => ({
    drop: toRaw(draft.drop!),
    move: move.value,
    ...(hangs() && start() !== undefined ? { from_m: start() } : {}),
    ...(needsTo() ? { to_m: target() } : {}),
    ...(needsRatio() ? { ratio: ratio.value } : {}),
  })

  const there = computed(() => Boolean(draft.drop) && askedOf.value === canonical({ ...asks(), drop: draft.drop }))

  async function find() {
    if (!draft.drop?.team) return
    const n = ++asked
    finding.value = true
    left.value = []
    without.value = undefined
    const body = { ...asks(), ...(part.value ? { part: part.value } : {}) }
    const of = canonical(body.drop)
    const point = canonical(asks())
    const reply = await asking.run((how) => findTeamMove(body, how)).catch(() => nobody)
    if (n !== asked) return
    finding.value = false
    // The figures of the rig stay where the move is refused, or what was typed: the page says
    // so. Where nobody could answer, they are not this drop's.
    if (reply?.data) {
      answer.value = reply.data
      answerOf = of
    } else if (reply?.faults.some((f) => !f.pointer) && answerOf !== of) answer.value = undefined
    else answer.value = answer.value && { ...answer.value, plan: undefined, impossible: undefined }
    if (reply?.data || answerOf === of) askedOf.value = point
    faults.value = reply ? reply.faults : [stopped]
    here.value = reply?.here ?? false
  }

  /** Leaves a step out, or puts it back, and asks the rules. */
  async function leave(step: number) {
    const plan = answer.value?.plan
    if (!plan || !draft.drop) return
    left.value = left.value.includes(step) ? left.value.filter((s) => s !== step) : [...left.value, step]
    without.value = undefined
    if (!left.value.length) return
    const steps = plan.steps.filter((_, i) => !left.value.includes(i + 1)).map((s) => s.action)
    const chosen = left.value
    const reply = await findTeamMove({ ...asks(), steps }).catch(() => undefined)
    if (left.value === chosen) without.value = reply?.data
  }

  /** Chooses a move, from where it begins by itself. */
  function choose(name: string) {
    move.value = name
    from.value = to.value = undefined
  }

  const sheetFault = ref('')
  /** Has the sheet of the rig and the move written, and keeps it as a file. */
  async function sheet(format: 'svg' | 'pdf') {
    if (!draft.drop) return
    sheetFault.value = ''
    const reply = await api
      .POST(`/api/v1/team/sheet.${format}`, { body: asks(), parseAs: 'blob' })
      .catch(() => undefined)
    if (!reply?.data)
      sheetFault.value = reply
        ? 'The sheet was refused.'
        : 'No connection: the sheet is written by the server. Print this page instead.'
    else saveAs(reply.data as Blob, `${draft.id}-team.${format}`)
  }

  /** Takes another reeving. */
  function reeve(reeving: Reeving[]) {
    part.value = undefined
    draft.edit((d) => {
      if (d.team) d.team.haul = { reeving }
    })
  }

  // What was asked of one drop is nothing of the next.
  watch(
    () => draft.id,
    () => {
      asked++
      asking.stop()
      askedOf.value = ''
      finding.value = false
      choose('lower')
      left.value = []
      part.value = without.value = answer.value = undefined
      faults.value = []
      sheetFault.value = ''
    },
  )

  return {
    left,
    without,
    leave,
    move,
    from,
    to,
    ratio,
    part,
    answer,
    faults,
    here,
    there,
    finding,
    asking,
    needsTo,
    needsRatio,
    hangs,
    top,
    target,
    start,
    find,
    choose,
    reeve,
    sheet,
    sheetFault,
  }
})
