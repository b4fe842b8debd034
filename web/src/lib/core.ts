import coreUrl from '../../core/core.wasm?url'
import execUrl from '../../core/wasm_exec.js?url'
import type { Fault, Report } from '@/api/client'

/** What a check is to give, by the names of the API. */
export type Asked = { figures: boolean; curves: boolean; checks: boolean; person?: string }
type Answer = { report?: Report; errors?: Fault[] }

declare class Go {
  importObject: WebAssembly.Imports
  run(instance: WebAssembly.Instance): Promise<void>
}
declare function zealousKnotCheck(drop: string, asked: string): string | null

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

/** Checks a drop on this device, by the same core as the server's. */
export async function checkHere(drop: unknown, asked: Asked): Promise<Answer> {
  loading ??= load()
  try {
    await loading
  } catch (e) {
    loading = undefined
    throw e
  }
  const text = zealousKnotCheck(JSON.stringify(drop), JSON.stringify(asked))
  if (text === null) throw new Error('the core gave no answer')
  return JSON.parse(text) as Answer
}
