import { defineStore } from 'pinia'
import { ref } from 'vue'
import type { Mark, Person } from '@/api/client'

/** Where somebody is at the step of a move that is looked at: the rail shows them there. */
export const useMoving = defineStore('moving', () => {
  const who = ref('')
  const at = ref(0)
  /** Where the worst failure would leave them; undefined while nobody asks. */
  const fallen = ref<number>()
  /** A mark that was chosen on the rail, to get past. */
  const toPass = ref<{ kind: Mark['kind']; height: number }>()
  /** A move that was chosen elsewhere. */
  const wanted = ref<string>()

  /** Where they hang sideways; undefined while they stand. */
  const x = ref<number>()

  function show(person: string, height: number, aside?: number, fall?: number) {
    who.value = person
    at.value = height
    x.value = aside
    fallen.value = fall === undefined ? undefined : height - fall
  }

  /** A person as the rail is to show them. */
  function seen(p: Person): Person {
    return p.id === who.value ? { ...p, at_m: at.value } : p
  }

  return { who, fallen, x, toPass, wanted, show, seen, stop: () => (who.value = '') }
})
