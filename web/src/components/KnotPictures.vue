<script setup lang="ts">
// Knots in one rope: each as it must be, and beside it a form that is wrong.
import { useKnots } from '@/lib/pictures'
import type { Drop } from '@/api/client'
import { computed } from 'vue'
import PictureView from './PictureView.vue'

const props = defineProps<{
  drop?: Drop
  strand?: string
  /** Which knots; left out: those that are on the strand. */
  knots?: string[]
  /** Or the one that an action of the team ties with its kit. */
  teamStep?: string
  /** Of those on the strand, all but these. */
  without?: string[]
}>()

const drawn = useKnots(() => ({
  drop: props.drop,
  strand: props.strand,
  knots: props.knots,
  team_step: props.teamStep,
}))
const shown = computed(() => (drawn.value?.knots ?? []).filter((k) => !props.without?.includes(k.knot.id)))
</script>

<template>
  <div v-if="shown.length" data-knots-drawn>
    <p class="text-soft mb-2 text-sm">One way to tie each: your team's own comes first.</p>
    <ul class="space-y-5">
      <li v-for="k in shown" :key="k.knot.id" :data-knot="k.knot.id">
        <p>
          <b>{{ k.knot.name }}</b><template v-if="k.where">: {{ k.where.join('; ') }}</template
          ><template v-else>: {{ k.knot.use }}</template
          >.
        </p>
        <div class="mt-1 grid max-w-xl grid-cols-2 gap-3">
          <figure>
            <PictureView :drawing="k.right" class="border-line w-full rounded-md border" />
            <figcaption class="text-sm">
              ✓ {{ k.knot.runs }}. <b v-for="m in k.measures" :key="m" class="figure block">{{ m }}.</b>
            </figcaption>
          </figure>
          <figure>
            <PictureView :drawing="k.wrong" class="border-line w-full rounded-md border" />
            <figcaption class="text-sm"><span class="text-stop">■ wrong:</span> {{ k.knot.wrong }}.</figcaption>
          </figure>
        </div>
      </li>
    </ul>
  </div>
</template>
