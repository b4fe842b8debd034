<script setup lang="ts">
// Signing in. Where the program runs as a demo, its accounts are listed.
import { computed, ref } from 'vue'
import { Refused } from '@/api/client'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'

const session = useSession()
const outbox = useOutbox()
const login = ref('')
const password = ref('')
const refused = ref('')
const busy = ref(false)
const accounts = computed(() => session.session?.demo_accounts ?? [])
const waiting = computed(() => [...new Set(outbox.others.map((k) => k.name))].join(', '))

async function enter(who = login.value, secret = password.value) {
  busy.value = true
  refused.value = ''
  try {
    await session.signIn(who, secret)
  } catch (e) {
    refused.value = e instanceof Refused ? e.message : 'The server does not answer. Signing in needs a connection.'
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main id="page" class="mx-auto max-w-md px-5 py-8">
    <h1>Sign in</h1>
    <p class="text-soft mt-1">
      For trained people. The manufacturer's instructions, local rules and the person in charge come first.
    </p>
    <p v-if="outbox.others.length" class="text-look mt-3" role="status">
      ◆ {{ outbox.others.length }} not yet sent, given by {{ waiting }}: kept on this device until they sign in here.
    </p>
    <form class="mt-5 grid gap-4" @submit.prevent="enter()">
      <label>
        <span class="font-semibold">Login</span>
        <input v-model="login" class="field" name="login" autocomplete="username" autocapitalize="none" required />
      </label>
      <label>
        <span class="font-semibold">Password</span>
        <input
          v-model="password"
          class="field"
          name="password"
          type="password"
          autocomplete="current-password"
          required
        />
      </label>
      <p v-if="refused" class="text-stop" role="alert">■ {{ refused }}</p>
      <button type="submit" class="strong min-h-14" :disabled="busy">{{ busy ? 'Signing in…' : 'Sign in' }}</button>
    </form>
    <section v-if="accounts.length" class="border-line mt-8 border-t pt-4">
      <h2>This is the demo: be one of these</h2>
      <p class="text-soft text-sm">
        Invented people. Everybody may know their password: “{{ accounts[0]?.password }}”.
      </p>
      <ul class="mt-3 grid gap-2">
        <li v-for="a in accounts" :key="a.login">
          <button
            type="button"
            class="plain min-h-14! w-full justify-between!"
            :disabled="busy"
            :data-account="a.login"
            @click="enter(a.login, a.password)"
          >
            <b>{{ a.name }}</b><span class="text-soft text-sm whitespace-normal">{{ a.is }}</span>
          </button>
        </li>
      </ul>
    </section>
    <p v-else class="text-soft mt-6 text-sm">
      No account yet? Ask the supervisor of your team for an invitation. Nobody in the team yet: see the README, “For a
      team of your own”.
    </p>
    <RouterLink to="/practice" class="quiet mt-4 -ml-2 inline-flex items-center" data-practise
      >Practise without signing in</RouterLink
    >
  </main>
</template>
