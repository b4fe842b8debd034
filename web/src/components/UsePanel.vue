<script setup lang="ts">
// How a thing was used, in sum, with the days that are counted; typed in until runs do it.
import { computed, ref } from 'vue'
import type { components } from '@/api/schema'
import type { Entry, Item } from '@/api/client'
import { today } from '@/lib/records'
import { show } from '@/lib/units'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'

type Counters = components['schemas']['Counters']

const props = defineProps<{ item: Item; used: Counters }>()
const outbox = useOutbox()
const session = useSession()
const adding = ref(false)
const from = ref('')
const to = ref(today())
const figures = ref<Record<string, string>>({})
const fields = [
  { name: 'days', words: 'days of use', first: '1' },
  { name: 'wet_days', words: 'of them wet' },
  { name: 'dirty_days', words: 'of them dirty' },
  { name: 'down_m', words: 'descended and lowered, m' },
  { name: 'up_m', words: 'ascended and raised, m' },
  { name: 'loads', words: 'loaded, times' },
  { name: 'peak_kN', words: 'greatest load measured, kN' },
] as const
const figure = (name: string) => Number((figures.value[name] ?? '').replace(',', '.'))
const wrong = computed(() =>
  fields.filter((f) => figures.value[f.name]?.trim() && !(figure(f.name) >= 0)).map((f) => f.words),
)
const waits = computed(() => outbox.waiting.some((k) => k.entry.item === props.item.id && k.entry.use))
const counted = computed(() => {
  const u = props.used
  return [
    {
      name: 'days of use',
      words: `${u.days}${u.wet_days || u.dirty_days ? `, ${u.wet_days} wet, ${u.dirty_days} dirty` : ''}`,
    },
    { name: 'down', words: show(u.down_m, 'm') },
    { name: 'up', words: show(u.up_m, 'm') },
    { name: 'loaded', words: `${u.loads} times` },
    { name: 'greatest load', words: u.peak_kN ? show(u.peak_kN, 'kN') : 'not measured' },
  ]
})

function begin() {
  figures.value = { days: '1' }
  from.value = ''
  to.value = today()
  adding.value = true
}

function sign() {
  const use = { days: figure('days') } as NonNullable<Entry['use']>
  for (const f of fields) if (figures.value[f.name]?.trim()) use[f.name] = figure(f.name)
  if (from.value) use.from = from.value
  if (outbox.record(props.item.label, { kind: 'use', day: to.value, item: props.item.id, use })) adding.value = false
}
</script>

<template>
  <section class="mt-5" aria-label="Use" data-use>
    <h2>Use</h2>
    <template v-if="used.covers.length">
      <p>
        Counted from
        <template v-for="(s, n) in used.covers" :key="s.from"
          >{{ n ? ', ' : '' }}{{ s.from }}{{ s.to === s.from ? '' : ` to ${s.to}` }}</template
        >. Of other days nothing is known.
      </p>
      <p v-if="used.twice?.length" class="text-look" data-twice>
        ◆ More than one entry is of
        {{ used.twice.map((s) => (s.to === s.from ? s.from : `${s.from} to ${s.to}`)).join(', ') }}: these days may be
        counted twice.
      </p>
      <dl class="mt-1 grid grid-cols-[10rem_1fr] gap-x-4 gap-y-1">
        <template v-for="c in counted" :key="c.name">
          <dt class="text-soft">{{ c.name }}</dt>
          <dd class="figure">{{ c.words }}</dd>
        </template>
      </dl>
    </template>
    <p v-else class="text-soft text-sm">No day of its use is counted yet.</p>
    <p v-if="used.shocks" class="text-stop">
      ■ {{ used.shocks === 1 ? '1 shock load' : `${used.shocks} shock loads` }}
    </p>
    <p v-if="waits" class="text-look">◆ What was signed here is on its way.</p>
    <button
      v-if="!adding && session.may('record:use')"
      type="button"
      class="plain no-print mt-1"
      data-add-use
      @click="begin"
    >
      Add days of use
    </button>
    <form v-if="adding" class="border-line mt-2 grid max-w-xl gap-2 border-t pt-2" @submit.prevent="sign">
      <div class="grid grid-cols-2 gap-2">
        <label>From, or empty: one day <input v-model="from" type="date" class="field" :max="to" data-from /></label>
        <label>Until, or on <input v-model="to" type="date" class="field" required data-to /></label>
        <label v-for="f in fields" :key="f.name">
          {{ f.words }}
          <input
            v-model="figures[f.name]"
            class="field"
            inputmode="decimal"
            :required="f.name === 'days'"
            :data-figure="f.name"
          />
        </label>
      </div>
      <p v-for="w in wrong" :key="w" class="text-stop" role="alert">■ {{ w }}: a number.</p>
      <p class="flex gap-3">
        <button type="submit" class="strong min-h-12!" :disabled="wrong.length > 0" data-sign-use>
          Counted, signed
        </button>
        <button type="button" class="plain min-h-12!" @click="adding = false">Leave it</button>
      </p>
    </form>
  </section>
</template>
