import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, must, type Accuracy, type Loading } from '@/api/client'
import { useSession } from '@/stores/session'

const words: Record<Loading, string> = { rest: 'At rest', lowering: 'While lowering' }

/**
 * How far off forces were on earlier runs of the team that were predicted as one now is, for as
 * long as somebody looks; nothing without a sign-in or a connection.
 */
export function useMeasured(looks: MaybeRefOrGetter<boolean>) {
  const session = useSession()
  const query = useQuery({
    queryKey: ['runs', 'learning'],
    queryFn: async () => must(await api.GET('/api/v1/runs/learning')),
    enabled: computed(() => session.signedIn && toValue(looks)),
    staleTime: 3600_000,
    retry: false,
  })
  const of = (loading?: Loading): Accuracy | undefined => query.data.value?.measured.find((m) => m.loading === loading)
  /** What runs measured beside a force, in words; empty where none did. */
  const said = (loading?: Loading) => {
    const a = of(loading)
    return a ? `${words[a.loading]}, ${a.words}; of a fall it says nothing.` : ''
  }
  return { said }
}
