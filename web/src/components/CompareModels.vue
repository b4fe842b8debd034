<script setup lang="ts">
// Two or three models side by side, what differs first and large.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { say } from '@/lib/units'
import { api, must, type Choice } from '@/api/client'
import { ink, shape } from '@/lib/words'

const props = defineProps<{
  models: string[]
  /** What was found for items of these models in the place at hand; left out: in none. */
  choices?: Choice[]
}>()

const all = ref(false)
const query = useQuery({
  queryKey: computed(() => ['comparison', props.models]),
  queryFn: async () => must(await api.GET('/api/v1/comparison', { params: { query: { model: props.models } } })),
})
const rows = computed(() => query.data.value?.rows ?? [])
/** The first free item of each model stands for it here. */
const here = computed(() => props.models.map((m) => props.choices?.find((c) => c.model === m && !c.taken)))
const differing = computed(() => rows.value.filter((r) => r.differs))
const alike = computed(() => rows.value.filter((r) => !r.differs))
</script>

<template>
  <section class="mt-6 overflow-x-auto" aria-label="Comparison">
    <p v-if="query.isError.value" role="alert" class="text-stop">■ {{ query.error.value?.message }}</p>
    <table v-else-if="query.data.value" class="w-full text-left">
      <thead>
        <tr>
          <th class="text-soft w-48 py-2 pr-4 font-normal">
            {{ differing.length }} {{ differing.length === 1 ? 'differs' : 'differ' }}
          </th>
          <th v-for="t in query.data.value.titles" :key="t" class="py-2 pr-4 text-lg font-semibold">{{ t }}</th>
        </tr>
      </thead>
      <tbody class="divide-line divide-y">
        <tr v-if="choices">
          <th class="text-soft py-2 pr-4 text-sm font-normal">in this place</th>
          <td v-for="(c, i) in here" :key="i" class="py-2 pr-4 align-top leading-snug">
            <span v-if="!c">none is free</span>
            <span v-else-if="!c.findings.length">fits; nothing found</span>
            <ul v-else>
              <li v-for="f in c.findings" :key="f.rule + f.what">
                <b :class="ink[f.severity]">{{ shape[f.severity] }} {{ f.severity }}</b> {{ say(f.what) }}
              </li>
            </ul>
          </td>
        </tr>
        <tr v-for="r in differing" :key="r.label">
          <th class="text-soft py-2 pr-4 text-sm font-normal">{{ r.label }}</th>
          <td v-for="(v, i) in r.values" :key="i" class="py-2 pr-4 text-lg leading-snug">{{ v || '—' }}</td>
        </tr>
        <template v-if="all">
          <tr v-for="r in alike" :key="r.label">
            <th class="text-soft py-1 pr-4 text-sm font-normal">{{ r.label }}</th>
            <td :colspan="r.values.length" class="py-1 text-sm">{{ r.values[0] }}</td>
          </tr>
        </template>
      </tbody>
    </table>
    <button v-if="alike.length" type="button" class="quiet -ml-2" :aria-expanded="all" @click="all = !all">
      {{ all ? 'hide' : 'show' }} {{ alike.length }} in which they are alike
    </button>
  </section>
</template>
