<script setup lang="ts">
// What was given on this device is sent wherever one is, not on its own page alone; what was
// given in another team waits for that team, and is said here.
import { computed } from 'vue'
import { prefixes, read } from '@/lib/given'
import { useSession } from '@/stores/session'

const session = useSession()
const sending: [string, () => Promise<unknown>][] = [
  [prefixes.event, () => import('@/stores/running').then((m) => m.useRunning())],
  [prefixes.callout, () => import('@/stores/callouts').then((m) => m.useCallouts())],
  [prefixes.mark, () => import('@/stores/practice').then((m) => m.usePractice())],
]
for (const [prefix, begin] of sending) if (read(prefix).length) void begin()

/** How much waits, by the team that it was given in. */
const elsewhere = computed(() => {
  const found = new Map<string, number>()
  for (const k of Object.values(prefixes).flatMap((p) => read<{ sent?: boolean; refused?: unknown }>(p))) {
    if (k.account !== session.account || !k.team || k.team.id === session.team?.id || k.sent || k.refused) continue
    found.set(k.team.name, (found.get(k.team.name) ?? 0) + 1)
  }
  return found
})
</script>

<template>
  <p
    v-for="[team, n] in elsewhere"
    :key="team"
    class="text-look border-line border-b px-4 py-2"
    role="status"
    data-elsewhere
  >
    ◆ {{ n }} not yet sent, given in {{ team }}: kept on this device, and sent when you are in that team again.
  </p>
</template>
