<script setup lang="ts">
// What a kit can do by itself, with the number of the card that says so.
import { computed, ref, shallowRef, watch } from 'vue'
import type { Capability } from '@/api/client'
import { useKits, usePolicy } from '@/lib/callout'
import { askHere } from '@/lib/core'
import { today } from '@/lib/records'
import { show } from '@/lib/units'
import { count } from '@/lib/words'

const props = defineProps<{ name: string }>()
const { gear, stock } = useKits()
const policy = usePolicy()
const able = shallowRef<Capability>()
const failure = ref('')
watch(
  [stock, () => policy.data.value, gear.isPending],
  async ([s, own, pending]) => {
    // The number is of the team's tables too: without them it would be another one.
    if (pending || !own) return
    const here = await askHere<Capability>('capability', { kit: props.name, day: today(), ...s, policy: own }).catch(
      (e: Error) => ({ answer: undefined, errors: [{ pointer: '', detail: e.message }] }),
    )
    able.value = here.answer
    failure.value = here.errors?.map((f) => f.detail).join('; ') ?? ''
  },
  { immediate: true },
)
const loads = ['one', 'two', 'stretcher'] as const
const words = { one: 'one person', two: 'two persons', stretcher: 'stretcher' }
const file = computed(() => `/api/v1/store/kits/${encodeURIComponent(props.name)}/capability.pdf`)
</script>

<template>
  <div class="bg-raised border-line mt-3 rounded-md border p-3" data-capability>
    <p v-if="failure" class="text-stop" role="alert">■ {{ failure }}</p>
    <p v-else-if="gear.isError.value || policy.isError.value" class="text-stop" role="alert">
      ■ The store or the team's tables could not be fetched: no card is worked out.
    </p>
    <p v-else-if="!able" class="text-soft" role="status">Working it out…</p>
    <template v-else>
      <p>
        Card <b class="figure" data-number>{{ able.number }}</b>: a printed card with another number is void.
        <a class="plain ml-2 inline-flex items-center" :href="file" download>card for the lid, A5</a>
      </p>
      <p v-if="able.seal_undone" class="text-look mt-2" data-undone>
        ◆ Its seal stands, but {{ able.seal_undone }}: look through it.
      </p>
      <p v-if="able.until" class="mt-2">
        The card is void after <b class="figure">{{ able.until }}</b>: then ends the {{ able.until_for }}, as far as
        dates are recorded.
      </p>
      <p v-else class="text-look mt-2">◆ Until when what is counted is in date is not known.</p>
      <p v-if="able.why" class="text-look mt-2">◆ {{ able.why }}</p>
      <template v-else>
        <p class="mt-2">
          Anchors {{ show(able.near_m, 'm') }} to {{ show(able.back_m, 'm') }} back, over any edge: down
          <b>{{ show(able.single_m, 'm') }}</b><template v-if="able.joined_m"
            >, joined <b>{{ show(able.joined_m, 'm') }}</b></template
          >. Largest load:
          <template v-for="(l, i) in able.largest" :key="l.persons"
            >{{ i ? '; ' : '' }}{{ count(l.persons, 'person') }}
            <b>{{ l.mass_kg ? show(l.mass_kg, 'kg') : 'none' }}</b></template
          >.
        </p>
        <table class="figure mt-3 w-full text-left text-sm">
          <thead>
            <tr class="border-line border-b">
              <th scope="col" class="py-1 pr-3">who pull</th>
              <th v-for="l in loads" :key="l" scope="col" class="py-1 pr-3">{{ words[l] }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in able.raises" :key="r.haulers" class="border-line border-b">
              <th scope="row" class="py-1 pr-3">{{ r.haulers }}</th>
              <td v-for="w in r.of" :key="w.load" class="py-1 pr-3" :class="w.system ? '' : 'text-soft'">
                {{ w.system ? `${w.system}, ${Math.round((w.seconds_s ?? 0) / 60)} min` : 'not by these' }}
              </td>
            </tr>
          </tbody>
        </table>
        <p v-for="l in able.left" :key="l.item" class="text-look mt-1 text-sm">
          ◆ not counted: {{ l.label }}. {{ l.why }}
        </p>
      </template>
    </template>
  </div>
</template>
