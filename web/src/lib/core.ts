import type { Fault, Progress } from '@/api/client'
import type { FromCore, ToCore } from './core.worker'

/** How somebody who asks sees how far it is, and stops it. */
export type Listening = { signal?: AbortSignal; tell?: (p: Progress) => void }

type Open = {
  question: string
  options: string
  request: string
  done: (text: string | null) => void
  failed: (e: Error) => void
  tell?: (p: Progress) => void
}

let worker: Worker | undefined
/** The compiled core, so that a new worker begins at once. */
let module: WebAssembly.Module | undefined
/** What is asked and not answered, first come first. */
const open = new Map<number, Open>()
let last = 0

const post = (m: ToCore) => worker?.postMessage(m)

function start() {
  const w = new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module' })
  worker = w
  w.onmessage = (e: MessageEvent<FromCore>) => {
    const m = e.data
    if ('module' in m) module = m.module
    else if ('failed' in m) fail(m.failed)
    else if ('progress' in m) open.get(m.id)?.tell?.(JSON.parse(m.progress) as Progress)
    else {
      open.get(m.id)?.done(m.text)
      open.delete(m.id)
    }
  }
  w.onerror = () => fail('the core could not be fetched')
  post({ module })
  for (const [id, a] of open) post({ id, question: a.question, options: a.options, request: a.request })
}

function fail(why: string) {
  end()
  for (const a of open.values()) a.failed(new Error(why))
  open.clear()
}

function end() {
  worker?.terminate()
  worker = undefined
}

/** What the core answers, or what it refused. */
export type Here<T> = { answer?: T; errors?: Fault[] }

/**
 * Asks the core on this device a question by its id, the operation of the API; options are
 * what the API has in the address. What is stopped ends its worker, and the others are asked
 * of a new one.
 */
export async function askHere<T>(
  question: string,
  request: unknown,
  how: Listening & { options?: object } = {},
): Promise<Here<T>> {
  how.signal?.throwIfAborted()
  const id = ++last
  const asked = { question, options: how.options ? JSON.stringify(how.options) : '', request: JSON.stringify(request) }
  const text = await new Promise<string | null>((done, failed) => {
    open.set(id, { ...asked, done, failed, tell: how.tell })
    if (worker) post({ id, ...asked })
    else start()
    how.signal?.addEventListener('abort', () => {
      if (!open.delete(id)) return
      end()
      if (open.size) start()
      failed(new DOMException('stopped', 'AbortError'))
    })
  })
  if (text === null) throw new Error('the core gave no answer')
  return JSON.parse(text) as Here<T>
}
