<script setup lang="ts">
// A fall onto a backup in time, with the band of what is not known exactly and
// what drives it most.
import { computed, defineAsyncComponent, ref, shallowRef, watch } from 'vue'
import { api, type FallAnswer, type FallAsked } from '@/api/client'
import { show } from '@/lib/units'

const props = defineProps<{ fall: FallAsked; ceiling?: number }>()

// The plotting library is fetched when the first plot is.
const CoursePlot = defineAsyncComponent(() => import('./CoursePlot.vue'))

const answer = shallowRef<FallAnswer>()
const failed = ref('')
const table = ref(false)
let asking = false
let waiting = false

async function ask() {
  if (asking) {
    waiting = true
    return
  }
  asking = true
  try {
    do {
      waiting = false
      const body = { ...props.fall, course: true, samples: 1000 }
      const got = await api.POST('/api/v1/calc/fall', { body })
      failed.value = got.error ? (got.error.errors ?? []).map((e) => `${e.pointer} ${e.detail}`).join('; ') : ''
      if (got.data) answer.value = got.data
    } while (waiting)
  } catch {
    failed.value = 'The server does not answer.'
  } finally {
    asking = false
  }
}

watch(() => JSON.stringify(props.fall), ask, { immediate: true })

const words: Record<string, string> = {
  mass_kg: 'the mass',
  device_above_attachment_m: 'the height of the device',
  elongation_pct: 'the stretch of the rope',
}
const units: Record<string, string> = { mass_kg: 'kg', device_above_attachment_m: 'm', elongation_pct: '%' }

const known = computed(() =>
  Object.entries(props.fall.spread)
    .map(([field, s]) => `${words[field] ?? field} ± ${show(s.plus_minus ?? 0, units[field] ?? '')}`)
    .join(', '),
)

type Banded = { key: string; name: string; unit: string }
const banded: Banded[] = [
  { key: 'peak_kN', name: 'arrest force', unit: 'kN' },
  { key: 'likely_kN', name: 'likely', unit: 'kN' },
  { key: 'clearance_needed_m', name: 'clearance needed', unit: 'm' },
]

function band(b: Banded): string {
  const v = answer.value?.band?.[b.key]
  if (!v) return ''
  const end = (n: number | null) => (n === null ? 'without bound' : show(n, b.unit))
  return `${end(v.p5)} to ${end(v.p95)}`
}

function driver(b: Banded): string {
  const d = answer.value?.drivers?.[b.key]?.[0]
  return d && d.share > 0.01 ? `${words[d.field] ?? d.field} (${Math.round(100 * d.share)} %)` : 'nothing of these'
}

const rows = computed(() => (answer.value?.course ?? []).filter((_, i) => i % 10 === 0))
</script>

<template>
  <div class="border-line mt-1 mb-2 border-l-2 pl-3">
    <p v-if="failed" class="text-stop" role="alert">■ {{ failed }}</p>
    <template v-else-if="answer">
      <table class="text-sm">
        <thead class="text-soft text-left">
          <tr>
            <th scope="col" class="pr-4 font-normal"></th>
            <th scope="col" class="pr-4 font-normal">9 of 10 lie in</th>
            <th scope="col" class="font-normal">driven most by</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="b in banded" :key="b.key">
            <th scope="row" class="pr-4 text-left font-semibold">{{ b.name }}</th>
            <td class="figure pr-4">{{ band(b) }}</td>
            <td>{{ driver(b) }}</td>
          </tr>
        </tbody>
      </table>
      <p class="text-soft text-sm">With {{ known }}; 1000 samples, always the same ones.</p>
      <template v-if="answer.course">
        <CoursePlot v-if="!table" :course="answer.course" :ceiling="ceiling" />
        <table v-else class="figure my-2 text-right text-sm">
          <thead class="text-soft">
            <tr>
              <th scope="col" class="pr-4 font-normal">s</th>
              <th scope="col" class="pr-4 font-normal">fallen</th>
              <th scope="col" class="pr-4 font-normal">speed</th>
              <th scope="col" class="font-normal">force</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="p in rows" :key="p.t_s">
              <td class="pr-4">{{ p.t_s.toFixed(2) }}</td>
              <td class="pr-4">{{ show(p.x_m, 'm') }}</td>
              <td class="pr-4">{{ show(p.v_m_s, 'm/s') }}</td>
              <td>{{ show(p.force_kN, 'kN') }}</td>
            </tr>
          </tbody>
        </table>
        <button type="button" class="quiet -ml-2 text-sm" @click="table = !table">
          {{ table ? 'as a plot' : 'as a table' }}
        </button>
      </template>
    </template>
  </div>
</template>
