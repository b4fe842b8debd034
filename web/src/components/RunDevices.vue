<script setup lang="ts">
// The devices that may send readings of a run: a token each, shown once.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, must, Refused } from '@/api/client'

const props = defineProps<{ id: string }>()
const client = useQueryClient()
const name = ref('')
const token = ref('')
const failure = ref('')
const path = computed(() => ({ id: props.id }))
const query = useQuery({
  queryKey: computed(() => ['tokens', props.id]),
  queryFn: async () => must(await api.GET('/api/v1/runs/{id}/device-tokens', { params: { path: path.value } })).tokens,
})
const address = computed(() => `${location.origin}/api/v1/runs/${props.id}/readings`)

async function act(what: () => Promise<unknown>) {
  failure.value = ''
  try {
    await what()
    await client.invalidateQueries({ queryKey: ['tokens'] })
  } catch (e) {
    failure.value = e instanceof Refused ? e.message : 'The server does not answer: nothing was changed.'
  }
}
const make = () =>
  act(async () => {
    token.value = must(
      await api.POST('/api/v1/runs/{id}/device-tokens', { params: { path: path.value }, body: { name: name.value } }),
    ).token
    name.value = ''
  })
const revoke = (t: string) =>
  act(async () => {
    const params = { path: { ...path.value, token: t } }
    must(await api.DELETE('/api/v1/runs/{id}/device-tokens/{token}', { params }))
    token.value = ''
  })
</script>

<template>
  <details class="mt-4" data-devices>
    <summary class="quiet -ml-2">Load cells and anemometers: {{ query.data.value?.length ?? 0 }} may send</summary>
    <p v-if="failure" class="text-stop" role="alert">■ {{ failure }}</p>
    <ul>
      <li v-for="t in query.data.value ?? []" :key="t.id" class="flex min-h-11 items-center gap-3">
        {{ t.name }} <button type="button" class="quiet text-sm" @click="revoke(t.id)">revoke</button>
      </li>
    </ul>
    <form class="flex flex-wrap items-center gap-2" @submit.prevent="make">
      <input
        v-model="name"
        class="field"
        maxlength="60"
        required
        aria-label="What the device is"
        placeholder="load cell on the main"
        data-device-name
      />
      <button type="submit" class="plain" data-make-token>Let it send</button>
    </form>
    <div v-if="token" class="border-accent bg-raised mt-2 rounded-md border-2 p-3" role="status">
      <p>The token is shown once:</p>
      <p class="figure break-all" data-token>{{ token }}</p>
      <p class="mt-2">Without a device, on this machine, in an exercise:</p>
      <p class="figure text-sm break-all">
        bin/zealousknot standin load-cell --scenario slip --to {{ address }} --token {{ token }}
      </p>
    </div>
  </details>
</template>
