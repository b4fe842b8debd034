<script setup lang="ts">
// Taking an invitation: with a new account, or as who is signed in already.
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { Refused, type Fault } from '@/api/client'
import { useSession } from '@/stores/session'

const session = useSession()
const route = useRoute()
const router = useRouter()
const token = computed(() => route.hash.slice(1))
const name = ref('')
const login = ref('')
const password = ref('')
const refused = ref('')
const faults = ref<Fault[]>([])
const at = (pointer: string) => faults.value.find((f) => f.pointer === pointer)?.detail

async function join() {
  refused.value = ''
  faults.value = []
  try {
    const fresh = { login: login.value, name: name.value, password: password.value }
    await session.join(token.value, session.signedIn ? undefined : fresh)
    await router.replace('/')
  } catch (e) {
    faults.value = e instanceof Refused ? e.faults : []
    refused.value = e instanceof Refused ? e.message : 'The server does not answer.'
  }
}
</script>

<template>
  <main id="page" class="mx-auto max-w-md px-5 py-8">
    <h1>Join the team</h1>
    <p class="text-soft mt-1">An invitation is taken once, within seven days.</p>
    <form class="mt-5 grid gap-4" @submit.prevent="join">
      <p v-if="session.signedIn">
        You are signed in as <b>{{ session.name }}</b> and join with this account; you can then go over between your
        teams.
      </p>
      <template v-else>
        <label>
          <span class="font-semibold">Your name, as it is signed</span>
          <input v-model="name" class="field" name="name" autocomplete="name" maxlength="80" required />
          <span v-if="at('/name')" class="text-stop" role="alert">■ {{ at('/name') }}</span>
        </label>
        <label>
          <span class="font-semibold">Login</span>
          <input v-model="login" class="field" name="login" autocomplete="username" autocapitalize="none" required />
          <span v-if="at('/login')" class="text-stop" role="alert">■ {{ at('/login') }}</span>
        </label>
        <label>
          <span class="font-semibold">Password, twelve characters or more</span>
          <input
            v-model="password"
            class="field"
            name="password"
            type="password"
            autocomplete="new-password"
            required
          />
          <span v-if="at('/password')" class="text-stop" role="alert">■ {{ at('/password') }}</span>
        </label>
      </template>
      <p v-if="refused" class="text-stop" role="alert">■ {{ refused }}</p>
      <button type="submit" class="strong min-h-14">Join</button>
    </form>
  </main>
</template>
