import coreUrl from '../../core/core.wasm?url'
import execUrl from '../../core/wasm_exec.js?url'
import type { Fault, MoveAnswer, ReplayAnswer, Report, RescueAnswer, TeamAnswer } from '@/api/client'

/** What a check is to give, by the names of the API. */
export type Asked = { figures: boolean; curves: boolean; checks: boolean; person?: string }
type Answer = { report?: Report; errors?: Fault[] }

declare class Go {
  importObject: WebAssembly.Imports
  run(instance: WebAssembly.Instance): Promise<void>
}
declare function zealousKnotCheck(drop: string, asked: string): string | null
declare function zealousKnotPlan(asked: string): string | null
declare function zealousKnotTeam(asked: string): string | null
declare function zealousKnotRescue(asked: string): string | null
declare function zealousKnotReplay(asked: string): string | null

let loading: Promise<void> | undefined

/** Fetches the core into this page; the service worker has it after one visit. */
async function load() {
  await new Promise<void>((done, failed) => {
    const script = document.createElement('script')
    script.src = execUrl
    script.onload = () => done()
    script.onerror = () => failed(new Error('the core could not be fetched'))
    document.head.append(script)
  })
  const go = new Go()
  const { instance } = await WebAssembly.instantiateStreaming(fetch(coreUrl), go.importObject)
  void go.run(instance)
}

/** Waits for the core, and reads what it answers. */
async function answered<T>(ask: () => string | null): Promise<T> {
  loading ??= load()
  try {
    await loading
  } catch (e) {
    loading = undefined
    throw e
  }
  const text = ask()
  if (text === null) throw new Error('the core gave no answer')
  return JSON.parse(text) as T
}

/** Checks a drop on this device, by the same core as the server's. */
export const checkHere = (drop: unknown, asked: Asked) =>
  answered<Answer>(() => zealousKnotCheck(JSON.stringify(drop), JSON.stringify(asked)))

/** Finds a move on this device. */
export const planHere = (asked: unknown) =>
  answered<MoveAnswer & { errors?: Fault[] }>(() => zealousKnotPlan(JSON.stringify(asked)))

/** Finds a move of a team on this device. */
export const teamHere = (asked: unknown) =>
  answered<TeamAnswer & { errors?: Fault[] }>(() => zealousKnotTeam(JSON.stringify(asked)))

/** Looks for rescues on this device. */
export const rescueHere = (asked: unknown) =>
  answered<RescueAnswer & { errors?: Fault[] }>(() => zealousKnotRescue(JSON.stringify(asked)))

/** Walks a list of actions by the rules on this device. */
export const replayHere = (asked: unknown) =>
  answered<ReplayAnswer & { errors?: Fault[] }>(() => zealousKnotReplay(JSON.stringify(asked)))
