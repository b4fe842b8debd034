import { useStorage } from '@vueuse/core'
import { watchEffect } from 'vue'

/** The looks of the screens, with the words for them. */
export const looks = [
  { id: 'paper', words: 'Paper' },
  { id: 'night', words: 'Night' },
  { id: 'sun', words: 'Sun: large, high contrast' },
  { id: 'wall', words: 'Projector: for the last row' },
] as const

export type Look = (typeof looks)[number]['id']

export const look = useStorage<Look>('look', 'paper')

/** Kit: what can be set with its name alone, in place of sentences. */
export const short = useStorage('kit-short', false)

watchEffect(() => {
  document.documentElement.dataset.look = look.value
})
