import { defineStore } from 'pinia'
import { ref } from 'vue'
import type { Person } from '@/api/client'

/** Where somebody is at the step of a move that is looked at: the rail shows them there. */
export const useMoving = defineStore('moving', () => {
  const who = ref('')
  const at = ref(0)

  function show(person: string, height: number) {
    who.value = person
    at.value = height
  }

  /** A person as the rail is to show them. */
  function seen(p: Person): Person {
    return p.id === who.value ? { ...p, at_m: at.value } : p
  }

  return { show, seen, stop: () => (who.value = '') }
})
