<script setup lang="ts">
// Exports the whole team as one file, and imports one after a dry run.
import { ref } from 'vue'
import { api, type ArchiveAnswer, type Problem } from '@/api/client'
import { useSession } from '@/stores/session'
import { count } from '@/lib/words'

const session = useSession()
const file = ref<File>()
const name = ref('')
const seen = ref<ArchiveAnswer>()
const refused = ref('')
const busy = ref(false)

function choose(e: Event) {
  file.value = (e.target as HTMLInputElement).files?.[0]
  seen.value = undefined
  refused.value = ''
  if (file.value) void send(true)
}

async function send(trial: boolean) {
  if (!file.value) return
  busy.value = true
  seen.value = undefined
  const answer = await api
    .POST('/api/v1/archive', {
      body: file.value as never,
      bodySerializer: (b: unknown) => b as File,
      headers: { 'Content-Type': 'application/zip' },
      params: { query: { dry_run: trial, ...(name.value.trim() ? { name: name.value.trim() } : {}) } },
    })
    .catch(() => undefined)
  busy.value = false
  const problem = answer?.error as Problem | undefined
  refused.value = !answer
    ? 'No connection: nothing was taken in.'
    : problem
      ? [problem.detail, ...(problem.errors ?? []).map((f) => f.detail)].filter(Boolean).join(': ')
      : ''
  seen.value = answer?.data
  if (seen.value?.written) await session.load()
}
</script>

<template>
  <section class="border-line mt-6 border-t pt-4" data-archive>
    <h2>The whole team in one file</h2>
    <p class="max-w-prose">
      Models, items, people, kits, drops with every version, and records as they were sealed; not who may sign in. Keep
      it elsewhere.
    </p>
    <p class="mt-2"><a class="plain" href="/api/v1/archive" download="team.zip">Save the archive</a></p>
    <h3 class="mt-4 font-semibold">Take an archive in</h3>
    <p class="text-soft max-w-prose">It becomes a team of its own beside this one, and you its supervisor.</p>
    <div class="mt-2 flex flex-wrap items-end gap-3">
      <label class="min-w-56 flex-1"
        >Archive<input type="file" class="field" accept=".zip,application/zip" data-archive-file @change="choose"
      /></label>
      <label class="min-w-56 flex-1"
        >Name of the team, if not its own<input v-model="name" class="field" maxlength="80" data-archive-name
      /></label>
      <button type="button" class="plain min-h-12!" :disabled="!file || busy" data-archive-try @click="send(true)">
        {{ busy ? 'Reading it…' : 'Look at it' }}
      </button>
    </div>
    <p v-if="refused" class="text-stop mt-2" role="alert">■ {{ refused }}</p>
    <template v-if="seen">
      <p class="mt-2" role="status" data-archive-seen>
        <b>{{ seen.team }}</b>: {{ count(seen.counts.models, 'model') }}, {{ count(seen.counts.items, 'item') }},
        people: {{ seen.counts.people }}, {{ count(seen.counts.kits, 'kit') }},
        {{ count(seen.counts.drops, 'drop') }} and {{ count(seen.counts.records, 'record') }}, whole<span
          v-if="seen.chain.seal"
          class="figure text-soft"
        >
          · last seal {{ seen.chain.seal.slice(0, 8) }}</span
        >.
        <b v-if="seen.written">✓ It is here: change to it under your name.</b>
      </p>
      <button
        v-if="!seen.written"
        type="button"
        class="strong mt-2"
        :disabled="busy"
        data-archive-take
        @click="send(false)"
      >
        Take it in
      </button>
    </template>
  </section>
</template>
