import { ref, type App } from 'vue'
import { START_LOCATION, type Router } from 'vue-router'
import { keptMark } from './behind'

/** What failed on the page that is shown, in words; empty for nothing. */
export const failed = ref('')

/** Says what fails in drawing a page, or in what a button does: it would be a blank otherwise. */
export function sayFailures(app: App) {
  app.config.errorHandler = (error) => {
    console.error(error)
    failed.value = 'part of this page failed: load it again'
  }
}

/**
 * Says which page could not be fetched. Where the server answers, it has other files than when
 * this page was loaded: the whole page is loaded from there.
 */
export function sayMissingPages(router: Router, words: Record<string, string>) {
  router.onError(async (error, to, from) => {
    console.warn(error)
    failed.value = `${words[String(to.name)] ?? 'that page'} could not be fetched`
    if (from === START_LOCATION) return
    const answers = await fetch('/api/v1/session', { cache: 'no-store' }).then(
      (answer) => !answer.headers.has(keptMark),
      () => false,
    )
    if (answers) location.assign(to.fullPath)
  })
  router.afterEach((_to, _from, failure) => {
    if (!failure) failed.value = ''
  })
}
