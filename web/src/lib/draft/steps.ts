import { ref, toRaw, type Ref } from 'vue'
import type { Drop } from '@/api/client'
import { present, type Open } from './open'

const depth = 100

/** Steps back, and forward again until something else is changed. */
export function useSteps({ drop }: Open, changed: () => void) {
  const undoable = ref<string[]>([])
  const redoable = ref<string[]>([])

  const lay = (onto: Ref<string[]>) =>
    (onto.value = [...onto.value.slice(1 - depth), JSON.stringify(toRaw(drop.value))])

  /** Notes what stands, before it is changed. */
  function note() {
    lay(undoable)
    redoable.value = []
  }

  /** Takes the last state of one pile, and lays what stands onto the other. */
  function step(from: Ref<string[]>, onto: Ref<string[]>) {
    const last = from.value.at(-1)
    if (!last || !drop.value) return
    from.value = from.value.slice(0, -1)
    lay(onto)
    // What the store has learnt since stands.
    drop.value = present(JSON.parse(last) as Drop, toRaw(drop.value))
    changed()
  }

  /** Steps back lead from what stood here before: another drop has none. */
  function clear() {
    undoable.value = redoable.value = []
  }

  return {
    undoable,
    redoable,
    note,
    clear,
    undo: () => step(undoable, redoable),
    redo: () => step(redoable, undoable),
  }
}
