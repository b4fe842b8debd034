<script setup lang="ts">
// The card: what to rig, what it asks for, who does what, what was found. What changed since
// the last word is marked.
import { computed } from 'vue'
import type { CalloutCard, CalloutDocument } from '@/api/client'
import { heightKnown, reasonWords } from '@/lib/callout'
import { useForces } from '@/lib/pictures'
import { say, show } from '@/lib/units'
import { count } from '@/lib/words'
import CalloutLine from './CalloutLine.vue'
import FindingNote from './FindingNote.vue'
import PictureView from './PictureView.vue'
import WorkingView from './WorkingView.vue'

const props = defineProps<{ card: CalloutCard; before?: CalloutCard; document: CalloutDocument }>()
const emit = defineEmits<{ reason: [rule: string, subject: string, words: string] }>()

const rig = computed(() => props.card.rig)
const best = computed(() =>
  props.card.raise && props.card.raise.best >= 0 ? props.card.raise.ways[props.card.raise.best] : undefined,
)
const changed = (of: (c: CalloutCard) => unknown) =>
  props.before !== undefined && JSON.stringify(of(props.before)) !== JSON.stringify(of(props.card))
const minutes = (s: number) => Math.max(1, Math.round(s / 60))
const reasonOf = (rule: string, subject: string) =>
  props.document.reasons?.filter((r) => r.rule === rule && r.subject === subject).at(-1)
const picture = useForces(() => ({ drop: props.card.drop!, raising: false, moving: false }))
const head = computed(() => {
  const r = rig.value
  if (!r) return { ink: 'text-stop', shape: '■', words: 'These kits give no rig for a lower.' }
  // As the card was asked: what is tapped now has its card in a moment.
  if (!heightKnown(props.card))
    return { ink: 'text-look', shape: '◆', words: `Height not known: these ropes come down ${show(r.height_m, 'm')}.` }
  if (!props.card.reaches)
    return { ink: 'text-stop', shape: '■', words: `No ropes of these kits come down ${show(r.height_m, 'm')}.` }
  return { ink: 'text-ink', shape: '', words: `Ropes for ${show(r.height_m, 'm')}, the worst end of what is known:` }
})
const costs = computed(() => props.card.taken.filter((t) => !t.known || t.cost))
</script>

<template>
  <section aria-labelledby="card" class="mt-5" data-card>
    <h2 id="card">First card</h2>
    <p class="text-lg font-semibold" :class="head.ink" data-head>
      <span aria-hidden="true">{{ head.shape }}</span> {{ head.words }}
    </p>
    <template v-if="rig">
      <CalloutLine name="main" :line="rig.main" :was="before?.rig?.main" />
      <CalloutLine name="belay" :line="rig.belay" :was="before?.rig?.belay" />
      <p class="border-line border-b py-2 text-lg" data-anchors>
        Each anchor bears up to <b class="figure">{{ show(rig.anchor_kN, 'kN') }}</b>, with the team's margin besides.
        <span v-if="changed((c) => c.rig?.anchor_kN)" class="text-look text-sm font-semibold">◆ changed</span>
      </p>
      <p class="border-line border-b py-2 text-lg" data-raise>
        <template v-if="best"
          >Up again: <b>{{ best.system }}</b> with <b>{{ count(best.haulers_needed, 'hauler') }}</b>, about
          {{ minutes(best.seconds_s) }} min.</template
        >
        <span v-else :class="'text-look'"
          >◆ Up again: nobody here manages it<template v-if="card.raise?.more"
            >; {{ count(card.raise.more, 'more hauler') }} would</template
          >.</span
        >
        <span v-if="changed((c) => c.raise)" class="text-look ml-1 text-sm font-semibold">◆ changed</span>
      </p>
    </template>

    <h2 class="mt-4">
      Found: {{ count(card.findings.filter((f) => f.severity === 'stop').length, 'stop') }},
      {{ count(card.findings.filter((f) => f.severity === 'look').length, 'look') }}
    </h2>
    <p class="text-soft text-sm">Nothing here blocks. The leader goes on with a reason.</p>
    <div v-for="f in card.findings" :key="f.rule + f.subject.id" class="border-line border-b py-2" :data-found="f.rule">
      <FindingNote :finding="f" />
      <p v-if="reasonOf(f.rule, f.subject.id)" class="text-note text-sm" data-reason>
        ● {{ reasonOf(f.rule, f.subject.id)!.by }}: {{ reasonOf(f.rule, f.subject.id)!.words }}
      </p>
      <component :is="f.severity === 'stop' ? 'div' : 'details'" v-else-if="f.severity !== 'note'">
        <component :is="f.severity === 'stop' ? 'p' : 'summary'" class="flex min-h-14 cursor-pointer items-center">
          go on, because…
        </component>
        <div class="grid grid-cols-2 gap-2 pb-2" role="group" aria-label="Why the leader goes on">
          <button
            v-for="words in reasonWords"
            :key="words"
            type="button"
            class="plain min-h-14!"
            @click="emit('reason', f.rule, f.subject.id, words)"
          >
            {{ words }}
          </button>
        </div>
      </component>
    </div>

    <h2 class="mt-4">Who, where</h2>
    <p v-if="card.people.lower_min !== undefined" class="figure">
      Main, belay and who goes down are there in <b>{{ card.people.lower_min }} min</b>.
    </p>
    <ul>
      <li v-for="(p, i) in card.people.places" :key="i" class="border-line border-b py-2">
        <b>{{ p.who }}</b>, {{ p.at }}: {{ p.place
        }}<template v-if="p.paying_out">. Paying out: {{ p.paying_out }}</template>
      </li>
    </ul>

    <template v-if="rig && picture">
      <h2 class="mt-4">The rig, held</h2>
      <PictureView :drawing="picture" class="max-h-[60vh] w-full" />
    </template>

    <template v-if="card.calls.length">
      <h2 class="mt-4">Calls</h2>
      <ul>
        <li v-for="c in card.calls" :key="c.do" class="border-line border-b py-2">
          “<b>{{ c.call }}</b
          >”, answered “{{ c.answer }}”
        </li>
      </ul>
    </template>

    <template v-if="card.checks.length">
      <h2 class="mt-4">Checks by touch, in this order</h2>
      <ol class="list-decimal pl-6">
        <li v-for="(t, i) in card.checks" :key="i" class="border-line border-b py-2">
          <b>{{ t.of }}</b>: {{ t.do }} <span class="text-soft">{{ t.must }}</span>
        </li>
      </ol>
    </template>

    <h2 class="mt-4">Not looked at</h2>
    <ul class="list-disc pl-5">
      <li v-for="u in card.not_looked_at" :key="u">{{ say(u) }}</li>
      <li v-for="l in card.left" :key="l.item">Left out: {{ l.label }}. {{ l.why }}</li>
    </ul>

    <h2 class="mt-4">What was taken, and what it costs</h2>
    <ul>
      <li v-for="t in costs" :key="t.of" class="border-line border-b py-2" :data-taken="t.of">
        <b>{{ t.of }}</b>: {{ say(t.words) }}<template v-if="t.cost">; {{ say(t.cost) }}</template>
      </li>
    </ul>

    <details class="mt-4">
      <summary class="flex min-h-14 cursor-pointer items-center font-semibold">How far each rope comes down</summary>
      <ul>
        <li v-for="r in card.reach" :key="r.ropes.join()" class="border-line figure border-b py-2">
          {{ r.enough ? '✓' : '' }} {{ r.ropes.join(' + ')
          }}<template v-if="r.alike"> and {{ r.alike }} alike</template>: {{ show(r.reach_m, 'm')
          }}{{ r.joined ? ', joined' : '' }}
        </li>
      </ul>
    </details>
    <details v-if="rig" class="mt-2">
      <summary class="flex min-h-14 cursor-pointer items-center font-semibold">Working</summary>
      <WorkingView :working="rig.working" />
    </details>
  </section>
</template>
