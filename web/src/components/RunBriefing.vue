<script setup lang="ts">
// What everybody signs before they clip in, beside the plan: permit, zone, channel, signals, the
// points of the day, who is out of sight. A new one asks everybody again.
import { ref } from 'vue'
import type { RunEvent, RunState } from '@/api/client'
import { timeField, timeOfField, timeWords } from '@/lib/records'
import { count } from '@/lib/words'

const props = defineProps<{ state: RunState; writes: boolean; now: number }>()
const emit = defineEmits<{ give: [event: Pick<RunEvent, 'kind' | 'briefing'>] }>()

type Briefing = NonNullable<RunEvent['briefing']>
const writing = ref(false)
const blank = () => ({
  permit: '',
  until: '',
  exclusion: '',
  sentry: '',
  channel: '',
  lost: '',
  points: '',
  every: {} as Record<string, number>,
})
const form = ref(blank())

function begin() {
  const b = props.state.briefing
  form.value = blank()
  if (b) {
    const every = Object.fromEntries((b.check_ins ?? []).map((c) => [c.person, c.every_s / 60]))
    form.value = {
      permit: b.permit ?? '',
      until: b.permit_until ? timeField(new Date(b.permit_until)) : '',
      exclusion: b.exclusion ?? '',
      sentry: b.sentry ?? '',
      channel: b.channel,
      lost: b.lost_contact,
      points: (b.points ?? []).join('\n'),
      every,
    }
  }
  writing.value = true
}
function give() {
  const f = form.value
  const points = f.points
    .split('\n')
    .map((p) => p.trim())
    .filter(Boolean)
  const checks = Object.entries(f.every).filter(([, m]) => m > 0)
  const briefing: Briefing = {
    channel: f.channel.trim(),
    lost_contact: f.lost.trim(),
    ...(f.permit.trim() ? { permit: f.permit.trim() } : {}),
    ...(f.until ? { permit_until: timeOfField(f.until) } : {}),
    ...(f.exclusion.trim() ? { exclusion: f.exclusion.trim() } : {}),
    ...(f.sentry.trim() ? { sentry: f.sentry.trim() } : {}),
    ...(points.length ? { points } : {}),
    ...(checks.length ? { check_ins: checks.map(([person, m]) => ({ person, every_s: m * 60 })) } : {}),
  }
  emit('give', { kind: 'briefing', briefing })
  writing.value = false
}
const ended = () =>
  props.state.briefing?.permit_until !== undefined && Date.parse(props.state.briefing.permit_until) < props.now
const signed = () => props.state.people.filter((p) => p.briefed).length
const named = (id: string) => props.state.people.find((p) => p.person === id)?.name ?? id
</script>

<template>
  <section class="border-line mt-4 border-y py-2" aria-labelledby="briefing" data-briefing>
    <h2 id="briefing">Briefing</h2>
    <template v-if="state.briefing">
      <p>
        Hazards and rescue as the plan has them. Channel: <b>{{ state.briefing.channel }}</b>. Nobody heard:
        <b>{{ state.briefing.lost_contact }}</b>.
      </p>
      <p v-if="state.briefing.permit" :class="ended() ? 'text-stop font-semibold' : ''" data-permit>
        {{ ended() ? '■ The permit has ended: ' : '' }}Permit {{ state.briefing.permit
        }}<template v-if="state.briefing.permit_until">, until {{ timeWords(state.briefing.permit_until) }}.</template
        ><span v-else class="text-look">. ◆ When it ends is not written.</span>
      </p>
      <p v-if="state.briefing.exclusion || state.briefing.sentry">
        Kept clear: {{ state.briefing.exclusion || 'as marked'
        }}<template v-if="state.briefing.sentry">, by {{ state.briefing.sentry }}</template
        >.
      </p>
      <ul v-if="state.briefing.points" class="list-disc pl-5">
        <li v-for="p in state.briefing.points" :key="p">{{ p }}</li>
      </ul>
      <p v-for="c in state.briefing.check_ins" :key="c.person">
        Out of sight: {{ named(c.person) }} says every {{ Math.round(c.every_s / 60) }} min that they are well.
      </p>
      <p class="text-soft text-sm">
        {{ state.briefing_by }}, {{ timeWords(state.briefing_at!) }}. Signed by {{ signed() }} of
        {{ count(state.people.length, 'person') }}.
      </p>
    </template>
    <p v-else class="text-look">◆ No briefing is written: permit, zone, channel, signals.</p>
    <button v-if="writes && !writing" type="button" class="plain mt-2 min-h-14!" data-write-briefing @click="begin">
      {{ state.briefing ? 'Change it: everybody signs again' : 'Write it' }}
    </button>
    <form v-if="writing" class="mt-2 grid gap-2 sm:grid-cols-2" @submit.prevent="give">
      <label
        >Channel, with the radio check <input v-model="form.channel" class="field" maxlength="80" required data-channel
      /></label>
      <label>When nobody is heard <input v-model="form.lost" class="field" maxlength="200" required data-lost /></label>
      <label>Permit <input v-model="form.permit" class="field" maxlength="80" data-permit-number /></label>
      <label>It ends <input v-model="form.until" type="datetime-local" class="field" data-until /></label>
      <label>Kept clear <input v-model="form.exclusion" class="field" maxlength="200" /></label>
      <label>Sentry <input v-model="form.sentry" class="field" maxlength="80" /></label>
      <label class="sm:col-span-2"
        >Points of the day, a line each <textarea v-model="form.points" class="field" rows="3" data-points></textarea>
      </label>
      <label v-for="p in state.people" :key="p.person"
        >{{ p.name }}, out of sight: every
        <select v-model.number="form.every[p.person]" class="field" :data-every="p.person">
          <option :value="undefined">in sight</option>
          <option v-for="m in [5, 10, 15, 30, 60]" :key="m" :value="m">{{ m }} min</option>
        </select>
      </label>
      <p class="flex flex-wrap gap-3 sm:col-span-2">
        <button type="submit" class="strong min-h-14!" data-give-briefing>This is the briefing</button>
        <button type="button" class="plain min-h-14!" @click="writing = false">Leave it</button>
      </p>
    </form>
  </section>
</template>
