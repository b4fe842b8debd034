<script setup lang="ts">
// One check, one proof at a time: what to do, what must happen, two answers.
import { computed, nextTick, ref } from 'vue'
import type { Drop, Due } from '@/api/client'
import { useChecking } from '@/lib/checking'
import type { Result } from '@/lib/checking'
import { useLoading } from '@/lib/pictures'
import { timeWords } from '@/lib/records'
import { useSession } from '@/stores/session'
import KnotPictures from './KnotPictures.vue'
import ModelCautions from './ModelCautions.vue'
import PictureView from './PictureView.vue'
import ProofAll from './ProofAll.vue'
import ProofSign from './ProofSign.vue'

/** One check: who shows another one makes another of these. */
const props = defineProps<{ dropId: string; drop: Drop; due: Due; familiar: boolean }>()
const emit = defineEmits<{ done: [results: Result[], together: boolean]; leave: [] }>()

const session = useSession()
// Who began a check ends it: it is signed as a whole.
const checking = useChecking(session.account, session.team?.id ?? '', props.dropId, props.drop.day, props.due)
const { results, since, proof, failed } = checking
const section = ref<HTMLElement>()
const note = ref('')
const at = computed(() => results.value.length + 1)
const failedProof = computed(() => props.due.proofs.find((p) => p.id === failed.value?.proof))
/** What was found half done is shown until an answer is given. */
const found = ref(since.value !== '')

/** Whose rope is drawn: of a partner check the hold that is touched. */
const drawn = computed(() => {
  const touched = props.due.kind === 'partner' ? Number(proof.value?.id.replace('hold-', '')) : 0
  const holds = props.drop.people?.find((p) => p.id === props.due.person)?.holds
  const hold = touched ? holds?.[touched - 1]?.id : props.due.hold
  return props.due.person && hold ? { person: props.due.person, hold, view: view.value } : undefined
})
const view = ref<'front' | 'back'>('front')
/** What is proved: an item, or all that a partner looks at. */
const proved = computed(() =>
  props.due.item
    ? [props.due.item]
    : (props.drop.people?.find((p) => p.id === props.due.person)?.holds ?? []).map((h) => h.device),
)
const loaded = useLoading(
  () => props.drop,
  () => drawn.value,
)
const picture = computed(
  () => loaded.value && (loaded.value.proofs.find((p) => p.proof === proof.value?.id)?.drawing ?? loaded.value.is),
)

/** The proofs of a rope's knots and of its end show those knots. */
const knots = computed(() => {
  if (props.due.kind !== 'rope') return undefined
  return { knots: { without: ['stopper'] }, end: { knots: ['stopper'] } }[proof.value?.id ?? '']
})

/** What giving up means. */
const lost = computed(() => {
  if (props.due.kind === 'partner') return 'Not passed: recorded; put it right, begin again'
  return failedProof.value?.mend ? 'It cannot be put right: into quarantine' : 'It failed: into quarantine'
})

/** A tap that comes twice answers once: the next proof stands where this one did. */
function answer(e: MouseEvent, did: boolean) {
  if (e.detail > 1) return
  found.value = false
  const complete = checking.answer(did, note.value.trim())
  note.value = ''
  // The next proof is read from its top, however far the last one was scrolled.
  void nextTick(() => section.value?.scrollIntoView({ block: 'start' }))
  if (complete) finish()
}

// The answers are cleared before they are recorded, so that no tap records them again.
let ended = false
function finish() {
  if (ended) return
  ended = true
  emit('done', checking.take(), false)
}

/** All proofs on one screen: for who is familiar with the model and has answered none. */
const all = ref(false)
function finishAll() {
  if (ended) return
  ended = true
  checking.again()
  emit(
    'done',
    props.due.proofs.map((p) => ({ proof: p.id, did: true })),
    true,
  )
}

const cues = { seen: 'see', heard: 'hear', felt: 'feel' } as const
</script>

<template>
  <section ref="section" class="mx-auto max-w-xl scroll-mt-2 sm:scroll-mt-20" :aria-label="`Check of ${due.label}`">
    <div class="flex items-center justify-between">
      <button type="button" class="quiet -ml-2 min-h-14" @click="emit('leave')">← all checks</button>
      <button v-if="results.length" type="button" class="quiet min-h-14" @click="checking.undo()">undo</button>
    </div>
    <p class="text-soft">
      <b>{{ drop.name }}</b> · {{ due.label }} · {{ due.on }}<template v-if="due.mode"> · {{ due.mode }}</template>
    </p>
    <ModelCautions :drop="drop" :items="proved" />
    <p v-if="found" class="border-look bg-raised my-2 rounded-md border-2 p-3" data-half-done>
      ◆ Half done: you answered {{ results.length }} of {{ due.proofs.length }} proofs, last {{ timeWords(since) }}. Has
      nothing changed since?
      <button type="button" class="plain mt-2 min-h-14! w-full" @click="(checking.again(), (found = false))">
        Begin again
      </button>
    </p>
    <ProofAll v-if="all && !results.length" :drop="drop" :due="due" @all="finishAll" @singly="all = false" />
    <div v-else-if="failed && failedProof" class="mt-2" role="alert">
      <h1 class="text-stop">■ It did not</h1>
      <p class="mt-2 text-lg">{{ failedProof.must }}</p>
      <p class="mt-2 text-lg">{{ failedProof.fails }}</p>
      <div class="mt-5 grid gap-3">
        <button type="button" class="plain min-h-16! text-lg" @click="checking.undo()">
          {{ failedProof.mend ? 'Put right: prove it again' : 'Try this proof once more' }}
        </button>
        <button
          type="button"
          class="plain border-stop! text-stop! min-h-16! border-2! text-lg font-bold"
          @click="finish"
        >
          {{ lost }}
        </button>
      </div>
    </div>
    <template v-else-if="proof">
      <p class="flex flex-wrap items-center gap-x-4">
        <span class="figure text-soft">proof {{ at }} of {{ due.proofs.length }}</span>
        <button
          v-if="familiar && !results.length && due.proofs.length > 1"
          type="button"
          class="quiet min-h-12"
          data-at-once
          @click="all = true"
        >
          you know this model: all on one screen
        </button>
      </p>
      <div
        class="bg-rock h-2 w-full rounded"
        role="progressbar"
        aria-label="Proofs done"
        :aria-valuenow="results.length"
        aria-valuemin="0"
        :aria-valuemax="due.proofs.length"
      >
        <div class="bg-accent h-2 rounded" :style="{ width: `${(100 * results.length) / due.proofs.length}%` }" />
      </div>
      <div class="mt-2 flex items-start gap-4" :class="picture ? 'max-sm:flex-col max-sm:gap-2' : ''">
        <div v-if="picture" class="shrink-0 max-sm:mx-auto">
          <PictureView :drawing="picture" class="h-60 sm:h-72" />
          <button
            type="button"
            class="quiet -ml-2 text-sm"
            data-turn
            @click="view = view === 'front' ? 'back' : 'front'"
          >
            show it from the {{ view === 'front' ? 'back' : 'front' }}
          </button>
        </div>
        <ProofSign v-else-if="!knots" :sign="proof.sign" class="shrink-0" />
        <div>
          <h1 class="text-2xl leading-snug" data-do>{{ proof.do }}</h1>
          <p class="mt-3 text-lg">
            <b>You must {{ cues[proof.cue] }}:</b> {{ proof.must }}
          </p>
        </div>
      </div>
      <KnotPictures v-if="knots" class="mt-3" :drop="drop" :strand="due.strand" v-bind="knots" />
      <div class="bg-ground mt-5 grid grid-cols-2 gap-3 max-sm:sticky max-sm:bottom-0 max-sm:py-2">
        <button
          type="button"
          class="bg-accent text-on-accent min-h-20 rounded-md text-xl font-bold"
          data-did
          @click="answer($event, true)"
        >
          ✓ It did
        </button>
        <button
          type="button"
          class="border-stop text-stop bg-raised min-h-20 rounded-md border-2 text-xl font-bold"
          data-did-not
          @click="answer($event, false)"
        >
          ■ It did not
        </button>
      </div>
      <p v-if="picture" class="text-soft mt-3 text-sm">
        {{ picture.note }} A plain drawing of the kind: the picture on the device comes first.
      </p>
      <label class="mt-4 block">
        <span class="text-soft text-sm">note, if there is something to say</span>
        <input v-model="note" maxlength="200" class="border-soft bg-raised h-14 w-full rounded-md border px-3" />
      </label>
    </template>
    <p v-else class="py-4">This class has no proofs entered: follow its instructions.</p>
    <details v-if="due.off" class="border-line mt-6 border-t" data-off>
      <summary class="cursor-pointer py-4 font-semibold">How it comes off the rope</summary>
      <ol class="list-decimal pl-6 text-lg">
        <li v-for="step in due.off" :key="step">{{ step }}</li>
      </ol>
    </details>
  </section>
</template>
