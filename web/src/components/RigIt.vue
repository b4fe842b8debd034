<script setup lang="ts">
// What the drop lacks, proposed from the store: looked at first, then put in as one step.
import { computed, ref, shallowRef, toRaw, watch } from 'vue'
import { api, type Proposal, type Proposed } from '@/api/client'
import { labelOf } from '@/lib/gear'
import { canonical } from '@/lib/same'
import { useDraft } from '@/stores/draft'
import { moveWords } from '@/lib/words'

const props = defineProps<{ id: string }>()

const draft = useDraft()
const proposal = shallowRef<Proposal>()
const asking = ref(false)
const failed = ref('')
/** The drop that it was proposed for. */
let of = ''

async function ask(parts?: string[]) {
  if (!draft.drop || asking.value) return
  asking.value = true
  failed.value = ''
  try {
    // What was saved comes back with the store's records: it is requested as it is then.
    for (let tries = 0; ; tries++) {
      const now = canonical(draft.drop)
      const body = { drop: toRaw(draft.drop), ...(parts ? { parts } : {}) }
      const answer = await api.POST('/api/v1/propose', { params: { query: { id: props.id } }, body })
      if (now !== canonical(draft.drop)) {
        if (tries < 3 && draft.drop) continue
        failed.value = 'The drop was changed meanwhile. Ask again.'
      } else if (answer.data) {
        proposal.value = answer.data
        of = now
      } else failed.value = answer.error.errors?.map((e) => `${e.pointer} ${e.detail}`).join('; ') ?? answer.error.title
      break
    }
  } catch {
    failed.value = 'No connection: the proposal is made by the server.'
  }
  asking.value = false
}

// A proposal belongs to one state of the drop; a change makes it void.
watch(
  () => canonical(draft.drop),
  (now) => {
    if (now !== of) proposal.value = undefined
  },
)

function take() {
  const p = proposal.value
  if (!p || of !== canonical(draft.drop)) return
  draft.edit((d) => Object.assign(d, structuredClone(toRaw(p.drop))))
}

/** Whose it is, by the first parts of its place. */
function owner(c: Proposed): string {
  const [, kind, index] = c.path.split('/')
  const d = proposal.value!.drop
  if (kind === 'people') return d.people?.[Number(index)]?.name ?? ''
  return kind === 'strands' ? 'Strands' : 'Anchors'
}

const use: Record<string, string> = { harness: 'wears', holds: 'hangs on', carries: 'carries', moves: 'plans' }

function words(c: Proposed): string {
  const [, kind, index, part] = c.path.split('/')
  const d = proposal.value!.drop
  if (kind === 'anchors') return d.anchors?.[Number(index)]?.name ?? ''
  if (kind === 'strands') return `${d.strands?.[Number(index)]?.name}: ${labelOf(d, c.item ?? '')}`
  if (part === 'moves') return `${use[part]} ${(d.people?.[Number(index)]?.moves ?? []).map(moveWords).join(', ')}`
  const by = c.path.includes('/links/') ? 'by' : (use[part ?? ''] ?? '')
  return `${by} ${labelOf(d, c.item ?? '')}`
}

const groups = computed(() => {
  const map = new Map<string, Proposed[]>()
  for (const c of proposal.value?.choices ?? []) map.set(owner(c), [...(map.get(owner(c)) ?? []), c])
  return [...map]
})
</script>

<template>
  <section class="no-print my-3" aria-label="Rig it from the store">
    <button v-if="!proposal" type="button" class="plain scroll-mt-20" data-rig-it :disabled="asking" @click="ask()">
      {{ asking ? 'Trying what the store has…' : 'Rig it from the store' }}
    </button>
    <p v-if="failed" class="text-stop mt-2" role="alert">■ {{ failed }}</p>
    <div v-if="proposal" class="border-line bg-raised rounded-md border p-4" data-proposal>
      <h2>{{ proposal.choices.length ? 'Proposed, not yet put in' : 'The store has nothing to add' }}</h2>
      <ul v-if="proposal.missing.length" class="mt-2" data-lacks>
        <li v-for="(m, n) in proposal.missing" :key="n">
          <b class="text-stop">■ missing</b> {{ m.what }} <span class="text-soft">To help: {{ m.smallest }}</span>
        </li>
      </ul>
      <p v-if="proposal.undecided" class="text-look mt-2">
        ◆ Not everything was tried: what is missing may be in the store after all.
      </p>
      <div v-for="[name, list] in groups" :key="name" class="mt-3">
        <h3 class="font-semibold">{{ name }}</h3>
        <ul class="text-[0.95rem]">
          <li v-for="c in list" :key="c.path" class="flex flex-wrap gap-x-2" :data-proposed="c.item">
            <span class="min-w-52 font-medium">{{ words(c) }}</span>
            <span class="text-soft flex-1 basis-60"
              >{{ c.why }}<template v-if="c.next">; next best: {{ c.next }}</template></span
            >
          </li>
        </ul>
      </div>
      <p class="mt-3 flex flex-wrap gap-3">
        <button
          v-if="proposal.choices.length"
          type="button"
          class="strong min-h-12 scroll-mt-20"
          data-put-in
          @click="take"
        >
          Put all of it in
        </button>
        <button type="button" class="plain" @click="proposal = undefined">Leave it</button>
      </p>
      <p class="text-soft mt-2 text-sm">
        It fits by the rules and the records. Look at each anchor and each thing before anybody hangs on it; the
        function checks are still to be done.
      </p>
    </div>
  </section>
</template>
