<script setup lang="ts">
// One's own hours and checks; the devices one is signed in on; the password; the
// teams one is in.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, must, Refused } from '@/api/client'
import OutboxNotice from '@/components/OutboxNotice.vue'
import RecordList from '@/components/RecordList.vue'
import { timeWords, today } from '@/lib/records'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'

const session = useSession()
const outbox = useOutbox()
const log = useQuery({
  queryKey: ['log', 'me'],
  queryFn: async () => must(await api.GET('/api/v1/people/{id}/log', { params: { path: { id: 'me' } } })),
  staleTime: 0,
})
const devices = useQuery({ queryKey: ['sign-ins'], queryFn: async () => must(await api.GET('/api/v1/sign-ins')) })
const total = computed(() => (log.data.value?.hours ?? []).reduce((sum, h) => sum + h.hours_h, 0))

const day = ref(today())
const hours = ref<number>()
const work = ref('')
const site = ref('')
const height = ref<number>()

function addHours() {
  if (!hours.value || !work.value.trim()) return
  outbox.record(session.name, {
    kind: 'hours',
    day: day.value,
    person: session.person,
    hours: {
      hours_h: hours.value,
      work: work.value.trim(),
      ...(site.value.trim() ? { site: site.value.trim() } : {}),
      ...(height.value ? { height_m: height.value } : {}),
    },
  })
  hours.value = undefined
}

const old = ref('')
const fresh = ref('')
const said = ref('')

async function changePassword() {
  try {
    must(await api.PUT('/api/v1/session/password', { body: { old: old.value, new: fresh.value } }))
    said.value = 'Changed. Every other device is signed out.'
    old.value = fresh.value = ''
    void devices.refetch()
  } catch (e) {
    said.value = e instanceof Refused ? `■ ${e.faults[0]?.detail ?? e.message}` : '■ The server does not answer.'
  }
}

const password = ref('')
const pin = ref('')
const pinSaid = ref('')

async function setPIN() {
  try {
    must(await api.PUT('/api/v1/session/pin', { body: { password: password.value, pin: pin.value } }))
    pinSaid.value = pin.value ? 'Set. You can sign partner checks on the devices of others.' : 'Removed.'
    password.value = pin.value = ''
  } catch (e) {
    pin.value = ''
    pinSaid.value = e instanceof Refused ? `■ ${e.faults[0]?.detail ?? e.message}` : '■ The server does not answer.'
  }
}

const leaving = ref('')

async function signOut() {
  try {
    await session.signOut()
  } catch {
    leaving.value = 'The server does not answer: signing out needs a connection.'
  }
}

async function end(id: string) {
  await api.DELETE('/api/v1/sign-ins/{id}', { params: { path: { id } } })
  void devices.refetch()
}
</script>

<template>
  <main id="page" class="mx-auto max-w-4xl px-5 py-6">
    <div class="flex flex-wrap items-center gap-x-4">
      <h1>{{ session.name }}</h1>
      <span class="text-soft">{{ session.session?.roles.join(', ') }} in {{ session.team?.name }}</span>
      <button type="button" class="plain ml-auto" data-sign-out @click="signOut">Sign out</button>
    </div>
    <p v-if="leaving" class="text-stop" role="alert">■ {{ leaving }}</p>
    <section v-if="(session.session?.teams.length ?? 0) > 1" class="mt-3 flex flex-wrap items-center gap-2">
      <span>Go over to:</span>
      <button
        v-for="t in session.session?.teams.filter((t) => t.id !== session.team?.id)"
        :key="t.id"
        type="button"
        class="plain whitespace-normal!"
        @click="session.switchTeam(t.id)"
      >
        {{ t.name }} <span class="text-soft text-sm">{{ t.roles.join(', ') }}</span>
      </button>
    </section>
    <OutboxNotice />
    <section v-if="session.person" class="border-line mt-5 border-t pt-4">
      <h2>Hours on rope</h2>
      <p v-if="log.data.value?.hours.length" class="figure">
        <b>{{ total }} h</b> in all:
        <template v-for="(h, n) in log.data.value.hours" :key="h.work"
          ><template v-if="n">; </template>{{ h.hours_h }} h {{ h.work }} on {{ h.days }}
          {{ h.days === 1 ? 'day' : 'days' }}</template
        >.
      </p>
      <p v-else class="text-soft">None recorded yet.</p>
      <RouterLink v-if="session.may('record:hours')" class="quiet -ml-2" to="/me/import" data-load-hours
        >Load a table of hours</RouterLink
      >
      <form v-if="session.may('record:hours')" class="mt-3 flex flex-wrap items-end gap-3" @submit.prevent="addHours">
        <label>Day<input v-model="day" type="date" class="field" :max="today()" required /></label>
        <label
          >Hours<input
            v-model.number="hours"
            type="number"
            class="field w-24!"
            min="0.25"
            max="24"
            step="0.25"
            required
        /></label>
        <label class="min-w-48 flex-1"
          >Kind of work<input v-model="work" class="field" maxlength="60" required
        /></label>
        <label class="min-w-48 flex-1">Where<input v-model="site" class="field" maxlength="80" data-site /></label>
        <label
          >Greatest height, m<input
            v-model.number="height"
            type="number"
            class="field w-32!"
            min="0"
            max="2000"
            step="any"
            data-height
        /></label>
        <button type="submit" class="strong min-h-12!">Record and sign</button>
      </form>
    </section>
    <section class="border-line mt-5 border-t pt-4">
      <div class="flex flex-wrap items-center gap-3">
        <h2>My records</h2>
        <a class="plain ml-auto" href="/api/v1/people/me/log.csv" download>as CSV</a>
      </div>
      <p v-if="log.data.value && !log.data.value.records.length" class="text-soft">Nothing yet.</p>
      <RecordList v-else-if="log.data.value" class="mt-2" :records="log.data.value.records" />
    </section>
    <section class="border-line mt-5 border-t pt-4">
      <h2>Signed in on</h2>
      <ul class="divide-line border-line divide-y border-y">
        <li v-for="d in devices.data.value ?? []" :key="d.id" class="flex min-h-14 flex-wrap items-center gap-x-4">
          <span class="flex-1">{{ d.device }}<b v-if="d.present"> · this one</b></span>
          <span class="text-soft figure text-sm"
            >since {{ timeWords(d.made_at) }}, seen {{ timeWords(d.seen_at) }}</span
          >
          <button v-if="!d.present" type="button" class="quiet" @click="end(d.id)">sign it out</button>
        </li>
      </ul>
    </section>
    <section class="border-line mt-5 border-t pt-4">
      <h2>Password</h2>
      <form class="mt-2 flex flex-wrap items-end gap-3" @submit.prevent="changePassword">
        <label
          >Present<input v-model="old" class="field" type="password" autocomplete="current-password" required
        /></label>
        <label>New<input v-model="fresh" class="field" type="password" autocomplete="new-password" required /></label>
        <button type="submit" class="plain min-h-12!">Change it</button>
      </form>
      <p v-if="said" role="status" :class="said.startsWith('■') ? 'text-stop' : ''">{{ said }}</p>
    </section>
    <section v-if="session.may('set-pin')" class="border-line mt-5 border-t pt-4">
      <h2>PIN for others’ devices</h2>
      <p class="text-soft max-w-prose">
        With it you sign a partner check on somebody else’s device. Six digits or more; left empty, there is none any
        more.
      </p>
      <form class="mt-2 flex flex-wrap items-end gap-3" @submit.prevent="setPIN">
        <label
          >Your password<input
            v-model="password"
            class="field"
            type="password"
            autocomplete="current-password"
            required
            data-pin-password
        /></label>
        <label
          >PIN<input
            v-model="pin"
            class="field"
            type="password"
            inputmode="numeric"
            pattern="[0-9]{6,12}"
            autocomplete="off"
            data-pin-new
        /></label>
        <button type="submit" class="plain min-h-12!" data-pin-set>Set it</button>
      </form>
      <p v-if="pinSaid" role="status" :class="pinSaid.startsWith('■') ? 'text-stop' : ''" data-pin-said>
        {{ pinSaid }}
      </p>
    </section>
  </main>
</template>
