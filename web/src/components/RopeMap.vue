<script setup lang="ts">
// A rope to scale from end A to end B: damage, edges, diameters, marks, washes; noted by
// metre, and cut.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, must, type Entry, type Item } from '@/api/client'
import { today } from '@/lib/records'
import { show } from '@/lib/units'
import { freeId } from '@/lib/words'
import { named, useGear } from '@/lib/gear'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'

type Noted = NonNullable<Entry['rope']>

const props = defineProps<{ item: Item }>()
const gear = useGear()
const outbox = useOutbox()
const session = useSession()
const map = useQuery({
  queryKey: computed(() => ['records', 'rope', props.item.id]),
  queryFn: async () => must(await api.GET('/api/v1/items/{id}/rope', { params: { path: { id: props.item.id } } })),
})
const kinds: Record<Noted['what'], string> = {
  damage: 'damage',
  'edge-contact': 'contact with an edge',
  diameter: 'diameter',
  mark: 'a mark',
  wash: 'washed',
  turn: 'turned end for end',
  joint: 'joined to another rope',
  apart: 'taken apart from another rope',
}
const doing = ref<'' | 'note' | 'cut'>('')
const what = ref<Noted['what']>('damage')
const from = ref('')
const to = ref('')
const mm = ref('')
const note = ref('')
const other = ref('')
const otherAt = ref('')
const at = ref('')
const waste = ref(false)
const label = ref('')
const figure = (text: string) => (text.trim() ? Number(text.replace(',', '.')) : undefined)
const long = computed(() => props.item.length_m ?? 0)
const whole = computed(() => ['wash', 'turn', 'apart'].includes(what.value))
const joins = computed(() => what.value === 'joint' || what.value === 'apart')
/** Ropes that it may be joined to; those that it is joined to, to take them apart. */
const ropes = computed(() =>
  gear.items.value.filter(
    (i) =>
      i.id !== props.item.id &&
      gear.models.value.get(i.model)?.class === 'rope' &&
      (what.value === 'joint' ? i.state !== 'retired' : placed.value.some((m) => m.with === i.id)),
  ),
)
const labelOf = (id: string) => named(gear.items.value.find((i) => i.id === id)?.label, id, gear.data.value)
const marks = computed(() => map.data.value?.marks ?? [])
const placed = computed(() => marks.value.filter((m) => m.what !== 'wash' && m.what !== 'turn'))
const dated = computed(() => marks.value.filter((m) => m.what === 'wash' || m.what === 'turn'))
const waits = computed(() =>
  outbox.waiting.some((k) => k.entry.item === props.item.id && (k.entry.rope || k.entry.cut)),
)
const wide = 700
const x = (m: number) => 30 + (m / (long.value || 1)) * (wide - 60)
const colour = {
  joint: 'var(--ink)',
  damage: 'var(--stop)',
  'edge-contact': 'var(--look)',
  diameter: 'var(--accent)',
  mark: 'var(--soft)',
}
const cutAt = computed(() => figure(at.value))
const cutOk = computed(
  () =>
    cutAt.value !== undefined &&
    cutAt.value > 0 &&
    cutAt.value < long.value &&
    (waste.value || label.value.trim() !== ''),
)

function writeNote() {
  const rope: Noted = {
    what: what.value,
    ...(whole.value
      ? {}
      : { from_m: figure(from.value) ?? 0, ...(figure(to.value) ? { to_m: figure(to.value)! } : {}) }),
    ...(what.value === 'diameter' ? { mm: figure(mm.value) ?? 0 } : {}),
    ...(joins.value ? { with: other.value } : {}),
    ...(what.value === 'joint' && figure(otherAt.value) ? { with_m: figure(otherAt.value)! } : {}),
  }
  const more = note.value.trim() ? { note: note.value.trim() } : {}
  if (!outbox.record(props.item.label, { kind: 'rope-note', day: today(), item: props.item.id, rope, ...more })) return
  doing.value = from.value = to.value = mm.value = note.value = other.value = otherAt.value = ''
}

function cut() {
  if (!cutOk.value) return
  const into = waste.value
    ? {}
    : {
        into: freeId(
          `${props.item.id.slice(0, 50)}-part`,
          gear.items.value.map((i) => i.id),
        ),
        label: label.value.trim(),
      }
  const c = { length_m: long.value, at_m: cutAt.value!, ...into }
  const more = note.value.trim() ? { note: note.value.trim() } : {}
  if (!outbox.record(props.item.label, { kind: 'rope-cut', day: today(), item: props.item.id, cut: c, ...more })) return
  doing.value = at.value = label.value = note.value = ''
}
</script>

<template>
  <section class="mt-5" aria-label="Rope map" data-rope-map>
    <h2>Rope map</h2>
    <p v-if="map.isError.value" class="text-look">◆ What is on the rope could not be fetched.</p>
    <svg
      v-else-if="map.data.value"
      :viewBox="`0 0 ${wide} 92`"
      class="w-full"
      role="img"
      :aria-label="`${item.label}, ${long} m: ${placed.map((m) => `${kinds[m.what]} at ${m.from_m ?? 0} m`).join(', ') || 'nothing noted'}`"
    >
      <text x="4" y="44" class="fill-ink text-[16px] font-semibold">A</text>
      <text :x="wide - 18" y="44" class="fill-ink text-[16px] font-semibold">B</text>
      <line :x1="x(0)" :x2="x(long)" y1="38" y2="38" stroke="var(--main)" stroke-width="10" />
      <template v-for="(m, i) in placed" :key="i">
        <rect
          v-if="m.to_m && m.to_m > (m.from_m ?? 0)"
          :x="x(m.from_m ?? 0)"
          y="28"
          :width="x(m.to_m) - x(m.from_m ?? 0)"
          height="20"
          :fill="colour[m.what as keyof typeof colour]"
          fill-opacity="0.55"
        />
        <path
          v-else
          :d="`M${x(m.from_m ?? 0)} 26l-7-14h14z`"
          :fill="colour[m.what as keyof typeof colour]"
          :data-at="m.from_m ?? 0"
        />
      </template>
      <template v-for="n in 11" :key="n">
        <line :x1="x((long * (n - 1)) / 10)" :x2="x((long * (n - 1)) / 10)" y1="50" y2="58" stroke="var(--soft)" />
        <text :x="x((long * (n - 1)) / 10)" y="76" text-anchor="middle" class="fill-soft figure text-[13px]">
          {{ Math.round(long * (n - 1)) / 10 }}
        </text>
      </template>
    </svg>
    <ul v-if="marks.length" class="text-sm">
      <li v-for="m in placed" :key="`${m.record}-${m.from_m}`" :data-noted="m.what">
        <span :class="m.what === 'damage' ? 'text-stop' : ''"
          >{{ m.what === 'damage' ? '■' : m.what === 'edge-contact' ? '◆' : '●' }} {{ kinds[m.what] }}</span
        >
        <span class="figure ml-1">
          {{
            m.to_m ? `from ${show(m.from_m ?? 0, 'm')} to ${show(m.to_m, 'm')}` : `at ${show(m.from_m ?? 0, 'm')}`
          }}</span>{{ m.mm ? `, ${show(m.mm, 'mm')}` : ''
        }}{{ m.with ? `, ${labelOf(m.with)} at ${show(m.with_m ?? 0, 'm')}` : '' }}, {{ m.on
        }}{{ m.note ? `: ${m.note}` : '' }}
      </li>
      <li v-for="m in dated" :key="m.record" :data-noted="m.what">
        ● {{ kinds[m.what] }}, {{ m.on }}{{ m.note ? `: ${m.note}` : '' }}
      </li>
    </ul>
    <p v-else-if="map.data.value" class="text-soft text-sm">Nothing is noted on it. Metres are from end A.</p>
    <p v-if="waits" class="text-look">◆ What was signed here is on its way.</p>
    <p v-if="!doing" class="no-print mt-1 flex flex-wrap gap-3">
      <button v-if="session.may('record:rope-note')" type="button" class="plain" data-note-rope @click="doing = 'note'">
        Note something by metre
      </button>
      <button
        v-if="session.may('record:rope-cut')"
        type="button"
        class="plain"
        data-cut-rope
        :disabled="waits"
        @click="doing = 'cut'"
      >
        Cut it
      </button>
    </p>
    <form
      v-if="doing === 'note'"
      class="border-line mt-2 grid max-w-xl gap-2 border-t pt-2"
      @submit.prevent="writeNote"
    >
      <label>
        What
        <select v-model="what" class="field" data-what>
          <option v-for="(words, value) in kinds" :key="value" :value="value">{{ words }}</option>
        </select>
      </label>
      <div v-if="!whole" class="grid grid-cols-2 gap-2">
        <label>At, or from, m <input v-model="from" class="field" inputmode="decimal" required data-from /></label>
        <label v-if="what !== 'joint'">to, m <input v-model="to" class="field" inputmode="decimal" data-to /></label>
      </div>
      <div v-if="joins" class="grid grid-cols-2 gap-2">
        <label>
          The other rope
          <select v-model="other" class="field" required data-other>
            <option value="" disabled>choose</option>
            <option v-for="r in ropes" :key="r.id" :value="r.id">{{ r.label }}</option>
          </select>
        </label>
        <label v-if="what === 'joint'"
          >there at, m <input v-model="otherAt" class="field" inputmode="decimal" required data-other-at
        /></label>
      </div>
      <label v-if="what === 'diameter'"
        >Measured, mm <input v-model="mm" class="field" inputmode="decimal" required
      /></label>
      <label>Note <input v-model="note" class="field" maxlength="380" /></label>
      <p class="flex gap-3">
        <button type="submit" class="strong min-h-12!" data-sign-note>Noted, signed</button>
        <button type="button" class="plain min-h-12!" @click="doing = ''">Leave it</button>
      </p>
    </form>
    <form v-if="doing === 'cut'" class="border-line mt-2 grid max-w-xl gap-2 border-t pt-2" @submit.prevent="cut">
      <label>Cut at, m from end A <input v-model="at" class="field" inputmode="decimal" required data-at-m /></label>
      <label class="flex min-h-11 items-center gap-2">
        <input v-model="waste" type="checkbox" class="size-5" data-waste /> the part at end B is waste
      </label>
      <label v-if="!waste"
        >What the part at end B is called <input v-model="label" class="field" maxlength="80" data-part-label
      /></label>
      <label>Note <input v-model="note" class="field" maxlength="380" /></label>
      <p v-if="cutOk" data-becomes>
        {{ item.label }} keeps <b>{{ show(cutAt!, 'm') }}</b> from end A;
        {{ waste ? 'the rest is waste' : `${label.trim()} has` }} <b v-if="!waste">{{ show(long - cutAt!, 'm') }}</b>.
        Plans that count on it go back to draft.
      </p>
      <p v-else-if="at" class="text-look">◆ Between 0 and {{ show(long, 'm') }}, and a name for what is kept.</p>
      <p class="flex gap-3">
        <button type="submit" class="strong min-h-12!" :disabled="!cutOk" data-sign-cut>Cut, signed</button>
        <button type="button" class="plain min-h-12!" @click="doing = ''">Leave it</button>
      </p>
    </form>
  </section>
</template>
