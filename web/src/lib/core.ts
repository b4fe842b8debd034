import type { Fault, MoveAnswer, Progress, ReplayAnswer, Report, RescueAnswer, TeamAnswer } from '@/api/client'
import type { FromCore, ToCore } from './core.worker'

/** What a check is to give, by the names of the API. */
export type Asked = { figures: boolean; curves: boolean; checks: boolean; person?: string }
type Answer = { report?: Report; errors?: Fault[] }

/** How somebody who asks is told how far it is, and stops it. */
export type Listening = { signal?: AbortSignal; tell?: (p: Progress) => void }

type Open = {
  name: string
  args: string[]
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
  for (const [id, a] of open) post({ id, name: a.name, args: a.args })
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

/** Asks the core; what is stopped ends its worker, and the others are asked of a new one. */
async function answered<T>(name: string, args: string[], how: Listening = {}): Promise<T> {
  how.signal?.throwIfAborted()
  const id = ++last
  const text = await new Promise<string | null>((done, failed) => {
    open.set(id, { name, args, done, failed, tell: how.tell })
    if (worker) post({ id, name, args })
    else start()
    how.signal?.addEventListener('abort', () => {
      if (!open.delete(id)) return
      end()
      if (open.size) start()
      failed(new DOMException('stopped', 'AbortError'))
    })
  })
  if (text === null) throw new Error('the core gave no answer')
  return JSON.parse(text) as T
}

/** Checks a drop on this device, by the same core as the server's. */
export const checkHere = (drop: unknown, asked: Asked) =>
  answered<Answer>('zealousKnotCheck', [JSON.stringify(drop), JSON.stringify(asked)])

/** Finds a move on this device. */
export const planHere = (asked: unknown, how?: Listening) =>
  answered<MoveAnswer & { errors?: Fault[] }>('zealousKnotPlan', [JSON.stringify(asked)], how)

/** Finds a move of a team on this device. */
export const teamHere = (asked: unknown, how?: Listening) =>
  answered<TeamAnswer & { errors?: Fault[] }>('zealousKnotTeam', [JSON.stringify(asked)], how)

/** Looks for rescues on this device. */
export const rescueHere = (asked: unknown, how?: Listening) =>
  answered<RescueAnswer & { errors?: Fault[] }>('zealousKnotRescue', [JSON.stringify(asked)], how)

/** Walks a list of actions by the rules on this device. */
export const replayHere = (asked: unknown) =>
  answered<ReplayAnswer & { errors?: Fault[] }>('zealousKnotReplay', [JSON.stringify(asked)])
