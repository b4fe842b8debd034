import { useQueryClient } from '@tanstack/vue-query'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, must, onSignedOut, Refused, showAs, type Session } from '@/api/client'
import { forget, warm } from '@/lib/offline'
import { setZone } from '@/lib/records'

/** What this device is called in the list of sign-ins. */
function deviceName(): string {
  const phone = /Mobi|Android/.test(navigator.userAgent) ? 'phone or tablet' : 'computer'
  return `${phone}, ${/(Firefox|Edg|Chrome|Safari)/.exec(navigator.userAgent)?.[1] ?? 'browser'}`
}

/** Who is signed in on this device, in which team, and what they may do. */
export const useSession = defineStore('session', () => {
  const client = useQueryClient()
  const session = shallowRef<Session>()
  /** Why who is signed in is not known. */
  const failure = ref('')

  const signedIn = computed(() => session.value?.signed_in ?? false)
  const name = computed(() => session.value?.name ?? '')
  const account = computed(() => session.value?.account ?? '')
  const person = computed(() => session.value?.person ?? '')
  const team = computed(() => session.value?.team)

  /** How often it was asked who is signed in: an answer from before the last time is too old. */
  let asked = 0
  async function load() {
    const n = ++asked
    failure.value = ''
    try {
      const is = must(await api.GET('/api/v1/session'))
      if (n !== asked) return
      // In another window somebody else signed in, or went over to another team.
      const was = session.value
      if (was?.signed_in && (was.account !== is.account || was.team?.id !== is.team?.id)) client.clear()
      session.value = is
      showAs(is.account ?? '', is.team?.id)
      setZone(is.team?.time_zone)
    } catch (e) {
      if (n !== asked) return
      failure.value =
        e instanceof Refused ? e.message : 'The server does not answer, and nobody is signed in on this device.'
    }
  }

  /** Whether the roles allow an operation, a kind of record (record:…) or a state (plan:…). */
  function may(what: string): boolean {
    return session.value?.may.includes(what) ?? false
  }

  async function signIn(login: string, password: string) {
    must(await api.POST('/api/v1/session', { body: { login, password, device: deviceName() } }))
    await entered()
  }

  async function join(token: string, fresh?: { login: string; name: string; password: string }) {
    must(await api.POST('/api/v1/join', { body: { token, ...fresh, ...(fresh ? { device: deviceName() } : {}) } }))
    await entered()
  }

  /** What another person, or another team, had on this device goes. */
  async function entered() {
    await forget()
    client.clear()
    await load()
    void warm()
  }

  async function signOut() {
    must(await api.DELETE('/api/v1/session'))
    await entered()
  }

  async function switchTeam(id: string) {
    must(await api.PUT('/api/v1/session/team', { body: { team: id } }))
    await entered()
  }

  onSignedOut(() => {
    if (signedIn.value) void load()
  })

  return { session, failure, signedIn, name, account, person, team, load, may, signIn, join, signOut, switchTeam }
})
