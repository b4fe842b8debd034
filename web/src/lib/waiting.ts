import { api, type WaitingAnswer, type WaitingAsked } from '@/api/client'

/** What things are with what waits: by the server, else by the core on this device; undefined where neither answers. */
export async function withWaiting(asked: WaitingAsked): Promise<WaitingAnswer | undefined> {
  const answer = await api.POST('/api/v1/waiting', { body: asked }).catch(() => undefined)
  if (answer?.data) return answer.data
  const { askHere } = await import('./core')
  return (await askHere<WaitingAnswer>('waiting', asked).catch(() => undefined))?.answer
}
