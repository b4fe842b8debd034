import { computed, ref, type App } from 'vue'
import { START_LOCATION, type Router } from 'vue-router'
import { keptMark } from './behind'

const unfetched = ref('')
const broken = ref('')

/** What failed on the page that is shown, in words; empty for nothing. */
export const failed = computed(() => [unfetched.value, broken.value].filter(Boolean).join('; '))

/** Says what fails in drawing a page, or in what a button does: it would be a blank otherwise. */
export function sayFailures(app: App) {
  app.config.errorHandler = (error) => {
    console.error(error)
    broken.value = 'part of this page failed: load it again'
  }
}

/**
 * Says which page could not be fetched. Where the server answers, it has other files than when
 * this page was loaded: the whole page is loaded from there.
 */
export function sayMissingPages(router: Router, words: Record<string, string>) {
  router.onError(async (error, to, from) => {
    console.warn(error)
    unfetched.value = `${words[String(to.name)] ?? 'that page'} could not be fetched`
    if (from === START_LOCATION) return
    const answers = await fetch('/api/v1/session', { cache: 'no-store' }).then(
      (answer) => !answer.headers.has(keptMark),
      () => false,
    )
    if (answers) location.assign(to.fullPath)
  })
  router.afterEach((to, from, failure) => {
    if (failure) return
    unfetched.value = ''
    // What is around the pages of one drop stays, and so does what broke in it.
    if (to.matched[0] !== from.matched[0]) broken.value = ''
  })
}
