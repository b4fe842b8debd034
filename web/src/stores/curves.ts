import { useStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, watchEffect } from 'vue'
import { useDraft } from './draft'

/** Which curves are shown where there is room for a few. */
const few = ['arrest', 'clearance', 'hand', 'stretch']

/** The figures at every height of the open drop, for one person. */
export const useCurves = defineStore('curves', () => {
  const draft = useDraft()
  const open = useStorage('curves-open', false)
  const chosen = useStorage<string[]>('curves-chosen', few)
  const person = ref<string>()
  const curves = computed(() => draft.report?.curves)
  /** The height that is read, as an index of the heights. */
  const at = ref<number>()

  watchEffect(() => {
    draft.curvesOf = open.value ? (person.value ?? '') : undefined
  })

  const heights = computed(() => curves.value?.heights_m as number[] | undefined)
  /** The index that is read: the one chosen, else where the person is. */
  const reading = computed(() => {
    const list = heights.value
    if (!list?.length) return undefined
    if (at.value !== undefined) return Math.min(at.value, list.length - 1)
    const p = draft.drop?.people?.find((o) => o.id === curves.value?.person)
    return p ? nearest(list, p.at_m) : 0
  })

  /** Reads at a height; nothing: where the person is. */
  function read(height: number | undefined) {
    at.value = height === undefined || !heights.value ? undefined : nearest(heights.value, height)
  }

  function step(by: number) {
    const last = (heights.value?.length ?? 1) - 1
    at.value = Math.min(last, Math.max(0, (reading.value ?? 0) + by))
  }

  return { open, chosen, person, curves, heights, reading, at, read, step }
})

function nearest(list: number[], height: number): number {
  let best = 0
  list.forEach((h, i) => {
    if (Math.abs(h - height) < Math.abs(list[best]! - height)) best = i
  })
  return best
}
