<script setup lang="ts">
// One of several: what would happen in a stance, or how two models differ.
import { computed, shallowRef, watch } from 'vue'
import type { Exercise, ExerciseAnswer, ExerciseMark } from '@/api/client'
import { askOf, scoreWords } from '@/lib/practice'
import type { Drawing } from '@/lib/pictures'
import { show } from '@/lib/units'
import ExerciseRail from './ExerciseRail.vue'
import GearIcon from './GearIcon.vue'
import PictureView from './PictureView.vue'

const props = defineProps<{ exercise: Exercise; mark?: ExerciseMark; busy?: boolean; hidden?: boolean }>()
const emit = defineEmits<{ answer: [answer: ExerciseAnswer] }>()

const q = computed(() => props.exercise.question)
const models = computed(() => (q.value.models ?? []).map((id) => props.exercise.models?.find((m) => m.id === id)))
const close = shallowRef<Drawing>()
watch(
  () => props.exercise,
  async (e) => {
    close.value = undefined
    if (e.kind !== 'fails') return
    const of = { drop: e.drop, state: e.question.stance }
    close.value = await askOf<Drawing>('stance-picture', of).catch(() => undefined)
  },
  { immediate: true },
)
type Option = NonNullable<Exercise['question']['options']>[number]

/** What an option says, a line each. */
function says(o: Option): string[] {
  if (o.text) return [o.text]
  if (!o.held_by) return ['Nothing holds']
  if (!o.drop_m) return [`${o.held_by} holds`, 'nothing moves']
  return [
    `${o.held_by} holds`,
    `after ${show(o.drop_m, 'm')}`,
    o.peak_kN ? `peak ${show(o.peak_kN, 'kN')}` : 'no force to speak of',
    ...(o.aside_m ? [`${show(o.aside_m, 'm')} aside`] : []),
  ]
}
</script>

<template>
  <div>
    <p class="text-lg font-semibold" data-asks>
      <template v-if="exercise.kind === 'apart'">{{ q.asks }}</template>
      <template v-else>This fails: {{ q.fails_words }}. What then?</template>
    </p>
    <div v-if="exercise.kind === 'apart'" class="my-3 flex flex-wrap gap-6">
      <figure v-for="m in models" :key="m?.id" class="border-line bg-raised min-w-40 rounded-md border p-3 text-center">
        <GearIcon :model="m" class="mx-auto h-28!" />
        <figcaption>
          {{ m?.maker }} {{ m?.name }}<template v-if="m?.generation">, {{ m.generation }} generation</template>
        </figcaption>
      </figure>
    </div>
    <ul class="mt-2 grid gap-3 @2xl:grid-cols-2" data-options>
      <li v-for="o in q.options" :key="o.id">
        <button
          type="button"
          class="bg-raised flex min-h-16 w-full gap-3 rounded-md border-2 p-3 text-left"
          :class="
            !mark || hidden
              ? 'border-line hover:border-accent'
              : mark.right === o.id
                ? 'border-ink'
                : 'border-line opacity-60'
          "
          :disabled="busy || Boolean(mark)"
          :data-option="o.id"
          @click="emit('answer', { option: o.id })"
        >
          <b class="figure text-soft">{{ o.id }}</b>
          <span>
            <b v-if="mark?.right === o.id && !hidden">✓ </b>
            <span v-for="(w, i) in says(o)" :key="w" class="figure" :class="i ? '' : 'font-semibold'"
              >{{ i ? ', ' : '' }}{{ w }}</span
            >
          </span>
        </button>
      </li>
    </ul>
    <section v-if="mark && !hidden" class="border-line bg-raised mt-3 rounded-md border p-3" data-mark>
      <h2 role="status">{{ scoreWords(mark.score) }}. It is {{ mark.right }}.</h2>
      <p v-if="mark.lost">
        If {{ mark.lost.words }} goes,
        <template v-if="!mark.lost.held"><b class="text-stop">■ nothing holds</b>.</template>
        <template v-else
          >{{ mark.lost.by }} holds after {{ show(mark.lost.free_fall_m, 'm')
          }}<template v-if="mark.lost.peak_kN">, with a peak of {{ show(mark.lost.peak_kN, 'kN') }}</template
          ><template v-if="mark.lost.swing_m">, {{ show(mark.lost.swing_m, 'm') }} aside</template>. Computed from the
          stance, the rope and the links; the peak is the undamped one, on the high side.</template
        >
      </p>
      <p v-else>It is what the models' instructions say, as the team has entered them.</p>
    </section>
    <div v-if="exercise.kind === 'fails' && exercise.drop" class="mt-4 flex flex-wrap items-start gap-6">
      <PictureView v-if="close" :drawing="close" class="border-line w-96 max-w-full rounded-md border" />
      <ExerciseRail
        class="w-72 max-w-full"
        :drop="exercise.drop"
        :person="q.person"
        :at-m="q.stance?.at_m"
        :x-m="q.stance?.x_m"
      />
    </div>
  </div>
</template>
