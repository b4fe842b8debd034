<script setup lang="ts">
// The rail close up: the body at a step of a move with its holds, to one scale. What
// bears is heavy; what the worst failure would do is drawn beside it when asked for.
import { useLocalStorage } from '@vueuse/core'
import type { Drop, MoveStep } from '@/api/client'
import { useStance } from '@/lib/pictures'
import LiveChoice from './LiveChoice.vue'
import PictureView from './PictureView.vue'

const props = defineProps<{
  drop: Drop
  stance: MoveStep['after']
  worst?: MoveStep['fail_one'][number]
}>()

const seenFrom = useLocalStorage<'front' | 'back'>('moves-seen-from', 'front')
const hand = useLocalStorage<'right' | 'left'>('moves-brake-hand', 'right')
const picture = useStance(() => ({
  drop: props.drop,
  state: props.stance,
  view: seenFrom.value,
  hand: hand.value,
  lost: props.worst,
}))
</script>

<template>
  <figure class="no-print w-[300px]">
    <PictureView v-if="picture" :drawing="picture" class="border-line block w-full rounded-md border" data-close />
    <figcaption class="text-soft flex flex-wrap items-center gap-x-1 text-sm">
      Seen from the
      <LiveChoice
        :value="seenFrom"
        :options="[
          { value: 'front' as const, words: 'front' },
          { value: 'back' as const, words: 'back' },
        ]"
        label="Seen from"
        @set="(v) => (seenFrom = v)"
      />
      brake hand
      <LiveChoice
        :value="hand"
        :options="[
          { value: 'right' as const, words: 'right' },
          { value: 'left' as const, words: 'left' },
        ]"
        label="Brake hand"
        @set="(v) => (hand = v)"
      />
      <span>Slanting strands are drawn across.</span>
    </figcaption>
  </figure>
</template>
