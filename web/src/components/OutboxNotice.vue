<script setup lang="ts">
// What was recorded on this device and is not yet with the server, and what met
// something else there: shown until it was read, never dropped.
import { computed } from 'vue'
import { useOutbox } from '@/stores/outbox'
import { kindWords, timeWords } from '@/lib/records'

const outbox = useOutbox()
const others = computed(() => [...new Set(outbox.others.map((k) => k.name))].join(', '))
</script>

<template>
  <div v-if="outbox.mine.length || outbox.others.length || outbox.troubled.length || outbox.failure" class="my-2">
    <p v-if="outbox.failure" class="text-stop font-bold" role="alert">■ {{ outbox.failure }}</p>
    <p v-if="outbox.mine.length" class="text-look" role="status" data-waiting>
      ◆ {{ outbox.mine.length }} not yet sent: kept on this device until there is a connection.
    </p>
    <p v-if="outbox.others.length" class="text-look" role="status">
      ◆ {{ outbox.others.length }} given by {{ others }}: sent when they sign in here.
    </p>
    <div
      v-for="k in outbox.troubled"
      :key="k.key"
      class="bg-raised my-2 rounded-md border-2 p-3"
      :class="k.refused ? 'border-stop' : 'border-look'"
      role="alert"
      data-trouble
    >
      <p>
        <b v-if="k.refused" class="text-stop">■ Not taken:</b>
        <b v-else class="text-look">◆ Recorded, but meanwhile otherwise:</b>
        {{ kindWords[k.entry.kind] }} of {{ k.label }}, given {{ timeWords(k.entry.given_at) }} by {{ k.name }}.
      </p>
      <p v-if="k.conflict">{{ k.conflict }}.</p>
      <p v-for="f in k.refused" :key="f.pointer">{{ f.detail }}.</p>
      <button type="button" class="plain mt-2 min-h-14!" @click="outbox.putAside(k.key)">
        Read: put this notice aside
      </button>
    </div>
  </div>
</template>
