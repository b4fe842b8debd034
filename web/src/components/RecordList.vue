<script setup lang="ts">
// Records as they stand, last first. What was corrected stays to be seen.
import { computed, ref } from 'vue'
import type { RecordLine } from '@/api/client'
import { correctable } from '@/api/titles'
import FrozenPanel from '@/components/FrozenPanel.vue'
import PhotoList from '@/components/PhotoList.vue'
import WithdrawBox from '@/components/WithdrawBox.vue'
import { named, useGear, usePeople } from '@/lib/gear'
import { kindWords, saysWords, timeWords } from '@/lib/records'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'

const props = defineProps<{ records: RecordLine[] }>()

const session = useSession()
const outbox = useOutbox()
const gear = useGear()
const people = usePeople()
const labels = computed(() => new Map(gear.items.value.map((i) => [i.id, i.label])))
const names = computed(() => new Map((people.data.value ?? []).map((p) => [p.id, p.name])))

function words(r: RecordLine) {
  return saysWords(
    r.says,
    (i) => named(labels.value.get(i), i, gear.data.value),
    (p) => named(names.value.get(p), p, people.data.value),
    (m) => {
      const model = gear.models.value.get(m)
      return named(model && `${model.maker} ${model.name}`, m, gear.data.value)
    },
  )
}

/** Hours are countersigned once, by a supervisor, never one's own. */
const confirmed = computed(() => new Set(props.records.map((r) => r.says.confirms)))
function mayConfirm(r: RecordLine): boolean {
  return (
    r.says.kind === 'hours' &&
    !r.corrected_by &&
    session.may('record:countersignature') &&
    r.account !== session.account &&
    r.says.person !== session.person &&
    !confirmed.value.has(r.says.id) &&
    !outbox.waiting.some((w) => w.entry.confirms === r.says.id)
  )
}
function confirm(r: RecordLine) {
  const about = { day: r.says.day, person: r.says.person!, confirms: r.says.id }
  outbox.record(names.value.get(r.says.person ?? '') ?? '', { kind: 'countersignature', ...about })
}

/** What is about to be withdrawn. */
const withdrawn = ref<RecordLine>()

/** The incident of which is shown what was kept. */
const opened = ref(0)

function mayWithdraw(r: RecordLine): boolean {
  if (r.corrected_by || !correctable.includes(r.says.kind) || !session.may('record:withdrawal')) return false
  return r.account === session.account || session.may('plan:released')
}
</script>

<template>
  <div>
    <ol class="divide-line border-line divide-y border-y">
      <li
        v-for="r in records"
        :key="r.number"
        class="flex flex-wrap items-baseline gap-x-4 py-2"
        :data-record="r.says.kind"
      >
        <span class="figure text-soft w-14 text-sm">{{ r.number }}</span>
        <span class="min-w-56 flex-1" :class="r.corrected_by ? 'line-through' : ''">
          <b>{{ kindWords[r.says.kind] }}</b> {{ words(r).about }}
          <span class="block" :class="words(r).result.startsWith('■') ? 'text-stop' : ''">{{ words(r).result }}</span>
          <PhotoList v-if="r.says.photos?.length" :sums="r.says.photos" />
          <button
            v-if="r.says.incident"
            type="button"
            class="quiet no-print -ml-2 text-sm"
            :aria-expanded="opened === r.number"
            data-open-frozen
            @click="opened = opened === r.number ? 0 : r.number"
          >
            the plan, the kit and the people as they were
          </button>
          <FrozenPanel v-if="r.says.incident && opened === r.number" :number="r.number" />
          <span v-for="c in r.changes" :key="c" class="block" data-changed>{{ c }}</span>
          <span v-if="r.says.paper" class="text-note block" data-on-paper
            >● done by {{ r.says.done_by }} on paper, {{ timeWords(r.says.paper.at) }}; typed by {{ r.by }}</span
          >
          <span v-if="r.says.on_device_of" class="text-note block" data-on-device
            >● signed with their PIN on the device of {{ r.says.on_device_of }}</span
          >
          <span v-if="r.says.check?.way === 'together'" class="text-note block">● all proofs signed at once</span>
          <span v-if="r.says.conflict" class="text-look block">◆ meanwhile: {{ r.says.conflict }}</span>
        </span>
        <span class="text-soft figure text-right text-sm max-sm:w-full max-sm:text-left">
          {{ r.by }} · {{ timeWords(r.says.given_at) }}
          <span v-if="r.says.clock_off_s" class="text-look block">clock off by {{ r.says.clock_off_s }} s</span>
          <span class="block">
            <button v-if="mayWithdraw(r)" type="button" class="quiet no-print text-sm" @click="withdrawn = r">
              withdraw
            </button>
            <button
              v-if="mayConfirm(r)"
              type="button"
              class="quiet no-print text-sm"
              data-countersign
              @click="confirm(r)"
            >
              countersign
            </button>
            <template v-if="r.corrected_by">corrected by {{ r.corrected_by }} · </template>
            <span :title="r.seal">seal {{ r.seal.slice(0, 8) }}</span>
          </span>
        </span>
      </li>
    </ol>
    <WithdrawBox :record="withdrawn" @close="withdrawn = undefined" />
  </div>
</template>
