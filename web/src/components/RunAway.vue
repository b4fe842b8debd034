<script setup lang="ts">
// What a run that has ended adds to people and items: looked through, corrected with a reason,
// signed. Then the run is sealed.
import { computed, reactive, ref, watch } from 'vue'
import type { AwayLine, EdgeLine, RunDocument, RunState } from '@/api/client'
import { show } from '@/lib/units'
import { useDraft } from '@/stores/draft'

const props = defineProps<{ run: RunDocument; state: RunState; signing: boolean }>()
defineEmits<{ sign: [lines: AwayLine[], edges: EdgeLine[], work: string] }>()

const draft = useDraft()
const lines = ref<AwayLine[]>([])
/** The lines as they were counted. */
const counts = ref<AwayLine[]>([])
const work = ref('rope access')
const counted = computed(() => props.state.counters ?? [])
/** What was counted changed while it was looked through: an event came late. */
const changed = ref(false)
// What somebody corrects here stays, however often the same is counted again.
watch(
  () => JSON.stringify(counted.value),
  (_, was) => {
    changed.value = was !== undefined
    const round = (v: number) => Math.round(v * 10) / 10
    counts.value = counted.value.map((o) => ({
      ...(o.person ? { person: o.person } : { item: o.item }),
      down_m: round(o.down_m),
      up_m: round(o.up_m),
      hours_h: Math.round((o.hours_h ?? 0) * 100) / 100,
    }))
    lines.value = counts.value.map((o) => ({ ...o }))
  },
  { immediate: true },
)
const label = (l: AwayLine) =>
  l.person
    ? (props.run.people.find((p) => p.id === l.person)?.name ?? l.person)
    : (draft.drop?.items?.find((i) => i.id === l.item)?.label ?? l.item!)
/** Whether a line was changed here: what then differs is the core's to say. */
function differs(l: AwayLine, n: number) {
  const { down_m, up_m, hours_h } = counts.value[n]!
  return l.leave || l.down_m !== down_m || l.up_m !== up_m || l.hours_h !== hours_h
}
const contacts = computed(() => (props.run.exercise ? [] : (props.run.contacts ?? [])))
/** Which end of a rope was up, by rope: the plan does not say. */
const up = reactive<Record<string, 'A' | 'B' | ''>>({})
const ropes = computed(() => [...new Set(contacts.value.map((c) => c.rope))])
const edges = computed<EdgeLine[]>(() =>
  contacts.value.flatMap((c) => {
    const end = up[c.rope]
    return end ? [{ rope: c.rope, edge: c.edge, up: end }] : []
  }),
)
const missing = computed(() => lines.value.some((l, n) => differs(l, n) && !l.reason?.trim()))
</script>

<template>
  <section class="border-accent bg-raised mt-4 rounded-md border-2 p-4" data-away>
    <h2>Put away</h2>
    <p v-if="changed" class="text-look font-semibold" role="alert" data-changed>
      ◆ Something came in meanwhile, and what is counted is other: look through it again.
    </p>
    <p v-if="run.exercise">An exercise: nothing is counted. Signing seals its events.</p>
    <template v-else>
      <p class="text-soft max-w-prose">
        This is recorded when you sign. What differs from what was counted wants a reason. Metres are those between the
        heights that were given.
      </p>
      <div
        v-for="(l, n) in lines"
        :key="(l.person ?? '') + (l.item ?? '')"
        class="border-line border-b py-2"
        :data-line="l.person ?? l.item"
      >
        <p>
          <b>{{ label(l) }}</b>
          <span v-if="counted[n]?.low" class="text-look ml-2">◆ heights are missing: the metres err low</span>
        </p>
        <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
          <label v-if="l.item"
            >down, m <input v-model.number="l.down_m" type="number" min="0" step="0.1" class="field w-24" data-down
          /></label>
          <label v-if="l.item"
            >up, m <input v-model.number="l.up_m" type="number" min="0" step="0.1" class="field w-24"
          /></label>
          <label v-if="l.person"
            >on rope, h <input v-model.number="l.hours_h" type="number" min="0" max="24" step="0.01" class="field w-24"
          /></label>
          <label v-if="l.item" class="flex min-h-11 items-center gap-2"
            ><input v-model="l.wet" type="checkbox" class="size-5" data-wet /> wet</label
          >
          <label v-if="l.item" class="flex min-h-11 items-center gap-2"
            ><input v-model="l.dirty" type="checkbox" class="size-5" /> dirty</label
          >
          <label class="flex min-h-11 items-center gap-2"
            ><input v-model="l.leave" type="checkbox" class="size-5" /> leave out</label
          >
        </div>
        <label v-if="differs(l, n)" class="block">
          <span :class="l.reason?.trim() ? '' : 'text-stop'">why it differs from what was counted</span>
          <input v-model="l.reason" class="field w-full max-w-md" maxlength="380" data-reason />
        </label>
      </div>
      <fieldset v-for="r in ropes" :key="r" class="border-line border-b py-2" :data-contacts="r">
        <legend class="float-left w-full">
          <b>{{ label({ item: r, down_m: 0, up_m: 0 }) }}</b> on its map
        </legend>
        <p v-for="c in contacts.filter((o) => o.rope === r)" :key="c.edge" class="clear-both">
          {{ c.ran ? 'ran over' : 'lay on' }} {{ c.name }}<span v-if="c.bare" class="text-look"> ◆ bare</span>,
          {{ show(c.from_m, 'm', 1) }} to {{ show(c.to_m, 'm', 1) }} from
          {{ c.ran ? 'the end at the load' : 'the end that was up' }}
        </p>
        <div class="flex flex-wrap items-center gap-x-4">
          <span>which end was that?</span>
          <label v-for="end in ['A', 'B', ''] as const" :key="end" class="flex min-h-11 items-center gap-2">
            <input v-model="up[r]" type="radio" :name="`up-${r}`" :value="end" class="size-5" />
            {{ end ? `end ${end}` : 'not known: leave it out' }}
          </label>
        </div>
      </fieldset>
      <p v-if="!lines.length" class="text-soft">Nothing was counted.</p>
      <label v-else class="mt-2 block"
        >kind of work <input v-model="work" class="field max-w-60" maxlength="60"
      /></label>
    </template>
    <button
      type="button"
      class="strong mt-4 min-h-14!"
      :disabled="missing || signing"
      data-sign-away
      @click="$emit('sign', lines, edges, work)"
    >
      {{ signing ? 'Sealing…' : 'Sign and seal it' }}
    </button>
  </section>
</template>
