<script setup lang="ts">
// A partner signs a check on this device, with their own PIN: it is theirs, and the record
// says on whose device it was. It needs a connection: the PIN is kept nowhere.
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, must, Refused } from '@/api/client'
import type { Given } from '@/stores/outbox'
import StateNotice from './StateNotice.vue'

const props = defineProps<{ label: string; entry: Given }>()
const emit = defineEmits<{ signed: [name: string, conflict?: string]; leave: [] }>()

const partners = useQuery({
  queryKey: ['partners'],
  queryFn: async () => must(await api.GET('/api/v1/partners')).partners,
  staleTime: 0,
})
const account = ref('')
const pin = ref('')
const failure = ref('')
const busy = ref(false)
// One id, however often it is sent: it is recorded once.
const id = crypto.randomUUID()
const given = new Date().toISOString()

async function sign() {
  busy.value = true
  failure.value = ''
  try {
    const record = { ...props.entry, id, given_at: given }
    const body = { sent_at: new Date().toISOString(), account: account.value, pin: pin.value, record }
    const [outcome] = must(await api.POST('/api/v1/records/by-pin', { body })).records
    if (outcome?.state === 'refused') failure.value = (outcome.errors ?? []).map((f) => f.detail).join('; ')
    else emit('signed', partners.data.value?.find((p) => p.account === account.value)?.name ?? '', outcome?.conflict)
  } catch (e) {
    failure.value =
      e instanceof Refused
        ? e.words
        : 'The server does not answer: whether it is recorded is not known, and the PIN is kept nowhere. Sign it again: it is recorded once.'
  } finally {
    pin.value = ''
    busy.value = false
  }
}
</script>

<template>
  <form class="mx-auto max-w-xl" data-pin-sign @submit.prevent="sign">
    <h1>Your partner signs</h1>
    <p class="mt-1">{{ label }}: every answer stands as it was given. Hand them the device.</p>
    <StateNotice v-if="partners.isPending.value" part title="Looking who has a PIN" busy />
    <StateNotice v-else-if="partners.isError.value" part title="Who has a PIN could not be fetched">
      <button type="button" class="plain" @click="partners.refetch()">Try again</button>
    </StateNotice>
    <p v-else-if="!partners.data.value?.length" class="text-look mt-3">
      ◆ Nobody else of the team has a PIN yet. Each sets their own under their name, on their own device.
    </p>
    <template v-else>
      <label class="mt-3 block"
        >who signs<select v-model="account" class="field min-h-14!" required data-partner>
          <option v-for="p in partners.data.value" :key="p.account" :value="p.account">{{ p.name }}</option>
        </select></label
      >
      <label class="mt-3 block"
        >their PIN<input
          v-model="pin"
          type="password"
          inputmode="numeric"
          pattern="[0-9]{6,12}"
          autocomplete="off"
          class="field min-h-14!"
          required
          data-pin
      /></label>
    </template>
    <p v-if="failure" class="text-stop mt-3" role="alert">■ {{ failure }}</p>
    <div class="mt-4 flex flex-wrap gap-3">
      <button
        v-if="partners.data.value?.length"
        type="submit"
        class="strong min-h-16! flex-1"
        :disabled="busy || !account || !pin"
        data-pin-done
      >
        {{ busy ? 'Recording…' : 'Sign it' }}
      </button>
      <button type="button" class="plain min-h-16!" @click="emit('leave')">Leave it unsigned</button>
    </div>
  </form>
</template>
