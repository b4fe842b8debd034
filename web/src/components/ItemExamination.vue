<script setup lang="ts">
// One item under examination: point by point, parts that wear, and what follows. Nothing
// counts as looked at that nobody pressed.
import { computed, ref } from 'vue'
import type { ExaminationPoint, Item, Model } from '@/api/client'
import { wearParts } from '@/lib/gear'
import PhotoTake from '@/components/PhotoTake.vue'
import type { Found, PointResult } from '@/stores/examining'

const props = defineProps<{ item: Item; model: Model; points: ExaminationPoint[]; interim: boolean; was?: Found }>()
const emit = defineEmits<{ found: [found: Found]; leave: [] }>()

const results = ref<Record<string, PointResult | undefined>>(
  Object.fromEntries((props.was?.points ?? []).map((p) => [p.point, p.result])),
)
const notes = ref<Record<string, string>>(
  Object.fromEntries((props.was?.points ?? []).map((p) => [p.point, p.note ?? ''])),
)
const measured = ref<Record<string, string>>(
  Object.fromEntries((props.was?.readings ?? []).map((r) => [r.part, String(r.mm)])),
)
const note = ref(props.was?.note ?? '')
const again = ref(props.was?.again_by ?? '')
const kept = ref(props.was?.kept ?? '')
const photos = ref<string[]>(props.was?.photos ?? [])
const choices: { value: PointResult; words: string; mark: string }[] = [
  { value: 'pass', words: 'pass', mark: '✓' },
  { value: 'observation', words: 'observe', mark: '◆' },
  { value: 'fail', words: 'fail', mark: '■' },
]
const left = computed(() => props.points.filter((p) => !results.value[p.id]))
const of = (r: PointResult) => props.points.filter((p) => results.value[p.id] === r)
const observed = computed(() => of('observation').length > 0)
/** Parts that are at the leaflet's limit, or past it: not fit, whatever else passes. */
const worn = computed(() =>
  wearParts(props.model).filter((w) => {
    const mm = Number((measured.value[w.part] ?? '').replace(',', '.'))
    return mm > 0 && (w.grows ? mm >= w.limit_mm : mm <= w.limit_mm)
  }),
)
const failed = computed(() => of('fail').length > 0 || worn.value.length > 0)
/** Stopped for a reason: a point that fails, or a note beside what is worn. */
const reasoned = computed(() => of('fail').length > 0 || observed.value || note.value.trim() !== '')
const wrong = computed(() =>
  Object.entries(measured.value).filter(([, v]) => v.trim() && !(Number(v.replace(',', '.')) > 0)),
)

/** What is not looked at yet passes; what was found otherwise stays. */
function restPasses() {
  for (const p of left.value) results.value[p.id] = 'pass'
}

function give(result: Found['result']) {
  const found: Found = {
    result,
    points: props.points
      .filter((p) => results.value[p.id])
      .map((p) => {
        const said = notes.value[p.id]?.trim()
        return { point: p.id, result: results.value[p.id]!, ...(said ? { note: said } : {}) }
      }),
  }
  const readings = Object.entries(measured.value)
    .filter(([, v]) => v.trim())
    .map(([part, v]) => ({ part, mm: Number(v.replace(',', '.')) }))
  if (readings.length) found.readings = readings
  if (note.value.trim()) found.note = note.value.trim()
  if (again.value && (result === 'fit' || result === 'observation')) found.again_by = again.value
  if (kept.value.trim() && (result === 'quarantine' || result === 'retire')) found.kept = kept.value.trim()
  if (photos.value.length) found.photos = photos.value
  emit('found', found)
}
const notPresented = () =>
  emit('found', { result: 'not-presented', ...(note.value.trim() ? { note: note.value.trim() } : {}) })
</script>

<template>
  <section class="border-accent bg-raised mt-3 scroll-mt-28 rounded-md border-2 p-3" :data-under="item.id">
    <div class="flex flex-wrap items-baseline gap-x-3">
      <h2>{{ item.label }}</h2>
      <p class="text-soft">{{ model.maker }} {{ model.name }}, serial {{ item.serial }}</p>
    </div>
    <p v-if="item.state !== 'in-service'" class="text-stop">
      ■ {{ item.state === 'retired' ? 'retired' : 'in quarantine' }}: {{ item.reason }}. What is found is recorded; it
      comes back with a record of its own.
    </p>
    <p class="text-soft text-sm">
      {{
        [
          item.examined_on ? `last examined ${item.examined_on}` : 'never examined',
          item.first_used_on ? `first used ${item.first_used_on}` : '',
        ]
          .filter(Boolean)
          .join(', ')
      }}
    </p>
    <ol class="mt-2">
      <li v-for="p in points" :key="p.id" class="border-line border-t py-2" :data-point="p.id">
        <p>{{ p.text }}</p>
        <div class="mt-1 grid grid-cols-3 gap-2" role="group" :aria-label="p.text">
          <button
            v-for="c in choices"
            :key="c.value"
            type="button"
            class="plain min-h-12!"
            :class="results[p.id] === c.value ? 'border-accent! border-2! font-semibold' : 'text-soft!'"
            :aria-pressed="results[p.id] === c.value"
            :data-result="c.value"
            @click="results[p.id] = c.value"
          >
            <span aria-hidden="true">{{ results[p.id] === c.value ? c.mark : '' }}</span> {{ c.words }}
          </button>
        </div>
        <input
          v-if="results[p.id] === 'fail' || results[p.id] === 'observation'"
          v-model="notes[p.id]"
          class="field mt-2"
          maxlength="200"
          :aria-label="`what was seen: ${p.text}`"
          placeholder="what was seen, and where"
        />
      </li>
    </ol>
    <fieldset v-if="wearParts(model).length" class="border-line border-t py-2">
      <legend class="sr-only">Parts that wear</legend>
      <label v-for="w in wearParts(model)" :key="w.part" class="mt-1 flex flex-wrap items-center gap-2">
        <span class="min-w-40">{{ w.part }}, mm</span>
        <input v-model="measured[w.part]" class="field w-28" inputmode="decimal" :data-part="w.part" />
        <span class="text-soft text-sm">limit {{ w.grows ? 'below' : 'above' }} {{ w.limit_mm }}</span>
      </label>
      <p v-for="w in worn" :key="w.part" class="text-stop" role="alert">
        ■ {{ w.part }}: at the limit of the leaflet, or past it. Not fit for use; say in the note what it is.
      </p>
      <p v-for="[part] in wrong" :key="part" class="text-stop" role="alert">■ {{ part }}: a number of millimetres.</p>
    </fieldset>
    <label class="border-line block border-t py-2">
      Note
      <input v-model="note" class="field" maxlength="380" data-note />
    </label>
    <PhotoTake v-model="photos" class="py-2" />
    <button v-if="left.length && !failed" type="button" class="plain min-h-14! w-full" data-rest @click="restPasses">
      All {{ left.length === points.length ? 'points' : `other ${left.length}` }} looked at: pass
    </button>
    <template v-if="failed">
      <label class="block py-2">
        Tagged and kept apart at
        <input v-model="kept" class="field" maxlength="80" data-kept />
      </label>
      <div class="grid gap-2 sm:grid-cols-2">
        <button
          type="button"
          class="strong min-h-14!"
          data-give="quarantine"
          :disabled="wrong.length > 0 || !reasoned"
          @click="give('quarantine')"
        >
          ■ Stop it: into quarantine
        </button>
        <button
          type="button"
          class="plain min-h-14!"
          data-give="retire"
          :disabled="wrong.length > 0 || !reasoned"
          @click="give('retire')"
        >
          ■ Stop it: to be destroyed
        </button>
      </div>
      <p class="text-stop mt-1 text-sm">It is recorded and out of service at once, on every drop.</p>
    </template>
    <div v-else-if="!left.length || interim" class="mt-2">
      <label v-if="observed" class="block py-1">
        Again by, if sooner than usual
        <input v-model="again" class="field" type="date" data-again />
      </label>
      <button
        type="button"
        class="strong min-h-14! w-full"
        :data-give="observed ? 'observation' : 'fit'"
        :disabled="wrong.length > 0"
        @click="give(observed ? 'observation' : 'fit')"
      >
        {{ observed ? '◆ Fit, with an observation' : '✓ Fit for use' }}
      </button>
    </div>
    <div class="mt-2 flex flex-wrap gap-3">
      <button
        v-if="left.length === points.length"
        type="button"
        class="plain min-h-12!"
        data-give="not-presented"
        @click="notPresented"
      >
        Not presented
      </button>
      <button type="button" class="quiet" @click="emit('leave')">Leave it</button>
    </div>
  </section>
</template>
