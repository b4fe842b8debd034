import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'

/** Stepping through a plan by key, and asking what fails: arrows and f. */
export function useStepping(count: () => number | undefined) {
  const step = ref(0)
  const failing = ref(false)

  function go(by: number) {
    step.value = Math.min(count() ?? 0, Math.max(0, step.value + by))
  }

  useEventListener('keydown', (e) => {
    const t = e.target as HTMLElement
    const typing = t.matches('input, textarea, select, [role=slider], [role=listbox], [role=option]')
    if (count() === undefined || typing || e.ctrlKey || e.metaKey) return
    if (e.key === 'ArrowRight') go(1)
    else if (e.key === 'ArrowLeft') go(-1)
    else if (e.key === 'f') failing.value = !failing.value
    else return
    e.preventDefault()
  })

  return { step, failing, go }
}
