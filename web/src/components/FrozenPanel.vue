<script setup lang="ts">
// What an incident was about, as it was when it was recorded.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, must, type Drop } from '@/api/client'

const props = defineProps<{ number: number }>()
const frozen = useQuery({
  queryKey: ['frozen', props.number],
  queryFn: async () =>
    must(await api.GET('/api/v1/records/{number}/frozen', { params: { path: { number: props.number } } })),
  staleTime: Infinity,
})
const drop = computed(() => frozen.data.value?.document as Drop | undefined)
const words = { 'in-service': 'in service', quarantine: '■ in quarantine', retired: 'retired' }
</script>

<template>
  <div class="border-line mt-2 border-l-4 pl-3 text-sm" data-frozen>
    <p v-if="frozen.isPending.value">Fetching what was kept…</p>
    <p v-else-if="frozen.isError.value" class="text-look">◆ What was kept could not be fetched.</p>
    <template v-else-if="frozen.data.value">
      <p v-if="drop">
        The plan {{ drop.name }}, version {{ frozen.data.value.version }}, for {{ drop.day }}:
        <a class="quiet" :href="`/api/v1/records/${number}/frozen`" :download="`incident-${number}.json`"
          >all of it, as a file</a
        >
      </p>
      <p v-if="frozen.data.value.run_events" data-frozen-run>
        The run with its {{ frozen.data.value.run_events }} events until then, SHA-256
        <span class="figure break-all">{{ frozen.data.value.run_sha256 }}</span>
      </p>
      <p>Who was there: {{ frozen.data.value.people.map((p) => p.name).join(', ') || 'nobody is named' }}</p>
      <ul class="sm:columns-2">
        <li v-for="i in frozen.data.value.items" :key="i.id">
          {{ i.label }} <span class="text-soft">{{ i.serial }}</span>, {{ words[i.state]
          }}{{ i.examined_on ? `, examined ${i.examined_on}` : '' }}
        </li>
      </ul>
    </template>
  </div>
</template>
