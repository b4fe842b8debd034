import { useTitle } from '@vueuse/core'
import { computed, nextTick, watch } from 'vue'
import { useRoute } from 'vue-router'
import { pageWords } from '@/router'
import { useDraft } from '@/stores/draft'

/**
 * Says where one is: in the title of the window, and to whoever works by keys. Where a page
 * takes away what had the focus, the new page has it.
 */
export function useWhere() {
  const route = useRoute()
  const draft = useDraft()
  useTitle(
    computed(() => {
      const page = pageWords[String(route.name ?? '')]
      const drop = route.path.startsWith('/drops/') ? draft.drop?.name : undefined
      return [page, drop, 'Zealous Knot'].filter(Boolean).join(' · ')
    }),
  )
  watch(
    () => route.path,
    () => void rest(),
  )
}

/** Gives the focus to the page where nothing has it once what was there is gone. */
export async function rest() {
  await nextTick()
  if (document.activeElement && document.activeElement !== document.body) return
  const page = document.getElementById('page')
  page?.setAttribute('tabindex', '-1')
  page?.focus({ preventScroll: true })
}
