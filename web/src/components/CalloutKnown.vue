<script setup lang="ts">
// What is known, by taps: one question is open at a time, and its answer opens the next.
import { computed, ref } from 'vue'
import type { CalloutKnown } from '@/api/client'
import { backBands, edgeWords, heightBands, landingWords, loadWords, ropesWords } from '@/lib/callout'
import { show } from '@/lib/units'
import CalloutBands from './CalloutBands.vue'
import CalloutPeople from './CalloutPeople.vue'

const props = defineProps<{ known: CalloutKnown; kits: string[]; seals: Record<string, string> }>()
const emit = defineEmits<{ change: [known: CalloutKnown] }>()

const questions = ['height', 'back', 'edge', 'load', 'landing', 'ropes', 'knots', 'kits', 'people'] as const
type Question = (typeof questions)[number]
const open = ref<Question | ''>('height')

const words: Record<Question, string> = {
  height: 'Height',
  back: 'Edge to anchors',
  edge: 'Edge',
  load: 'Load',
  landing: 'Landing',
  ropes: 'Ropes',
  knots: 'Knots',
  kits: 'Kits',
  people: 'People',
}
const span = (s?: { low_m: number; high_m: number }) => (s ? `${show(s.low_m, 'm')} to ${show(s.high_m, 'm')}` : '')
const answers = computed<Record<Question, string>>(() => {
  const k = props.known
  return {
    height: span(k.height_m),
    back: span(k.back_m),
    edge: k.edge ? edgeWords[k.edge] : '',
    load: k.load ? loadWords[k.load] : '',
    landing: k.landing ? landingWords[k.landing] : '',
    ropes: k.ropes ? ropesWords[k.ropes] : '',
    knots: k.knots === undefined ? '' : k.knots ? 'ropes may be joined' : 'no knot',
    kits: k.kits?.join(', ') ?? '',
    people: k.people?.length ? `${k.people.length} ${k.people.length === 1 ? 'person' : 'people'}` : '',
  }
})

/** Takes an answer; what is tapped again is not known any more. */
function take(change: Partial<CalloutKnown>) {
  const now = { ...props.known, ...change }
  for (const k of Object.keys(now) as (keyof CalloutKnown)[]) if (now[k] === undefined) delete now[k]
  emit('change', now)
}
function next(from: Question) {
  open.value = questions[questions.indexOf(from) + 1] ?? ''
}
function choose<K extends 'edge' | 'load' | 'landing' | 'ropes' | 'knots'>(key: K, value: CalloutKnown[K]) {
  const same = props.known[key] === value
  take({ [key]: same ? undefined : value })
  if (!same) next(key)
}
function kit(name: string) {
  const has = props.known.kits ?? []
  const now = has.includes(name) ? has.filter((k) => k !== name) : [...has, name].sort()
  take({ kits: now.length ? now : undefined })
}
const choices = computed(() => ({
  edge: Object.entries(edgeWords),
  load: Object.entries(loadWords),
  landing: Object.entries(landingWords),
  ropes: Object.entries(ropesWords),
}))
const pressed = (on: boolean) => (on ? 'border-accent! border-2! font-semibold' : '')
</script>

<template>
  <section aria-labelledby="known" class="mt-4">
    <h2 id="known">What is known</h2>
    <div v-for="q in questions" :key="q" class="border-line border-b" :data-question="q">
      <button
        type="button"
        class="flex min-h-14 w-full items-center gap-3 text-left"
        :aria-expanded="open === q"
        @click="open = open === q ? '' : q"
      >
        <span class="w-32 shrink-0 font-semibold">{{ words[q] }}</span>
        <span class="figure" :class="answers[q] ? '' : 'text-look'">{{ answers[q] || '◆ not known' }}</span>
        <span class="text-soft ml-auto" aria-hidden="true">{{ open === q ? '▴' : '▾' }}</span>
      </button>
      <div v-if="open === q" class="pb-3">
        <CalloutBands
          v-if="q === 'height'"
          :span="known.height_m"
          :bands="heightBands"
          :most="600"
          @change="take({ height_m: $event })"
          @answered="next('height')"
        />
        <CalloutBands
          v-else-if="q === 'back'"
          :span="known.back_m"
          :bands="backBands"
          :most="100"
          @change="take({ back_m: $event })"
          @answered="next('back')"
        />
        <div
          v-else-if="q === 'edge' || q === 'load' || q === 'landing' || q === 'ropes'"
          class="grid grid-cols-2 gap-2"
        >
          <button
            v-for="[value, name] in choices[q]"
            :key="value"
            type="button"
            class="plain min-h-14!"
            :aria-pressed="known[q] === value"
            :class="pressed(known[q] === value)"
            @click="choose(q, value as never)"
          >
            {{ name }}
          </button>
        </div>
        <div v-else-if="q === 'knots'" class="grid grid-cols-2 gap-2">
          <button
            v-for="may in [false, true]"
            :key="String(may)"
            type="button"
            class="plain min-h-14!"
            :aria-pressed="known.knots === may"
            :class="pressed(known.knots === may)"
            @click="choose('knots', may)"
          >
            {{ may ? 'ropes may be joined' : 'no knot' }}
          </button>
        </div>
        <div v-else-if="q === 'kits'" class="grid grid-cols-2 gap-2">
          <button
            v-for="name in kits"
            :key="name"
            type="button"
            class="plain min-h-14!"
            :aria-pressed="known.kits?.includes(name) ?? false"
            :class="pressed(known.kits?.includes(name) ?? false)"
            @click="kit(name)"
          >
            {{ name }}
            <span class="block text-sm" :class="seals[name] ? 'text-soft' : 'text-look'">{{
              seals[name] ?? '◆ not sealed: look through it'
            }}</span>
          </button>
        </div>
        <CalloutPeople
          v-else
          :people="known.people ?? []"
          @change="take({ people: $event.length ? $event : undefined })"
        />
      </div>
    </div>
  </section>
</template>
