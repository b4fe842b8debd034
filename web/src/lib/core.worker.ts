// The core in a worker: the page never waits for it, and ends what takes too long by
// ending the worker.
import coreUrl from '../../core/core.wasm?url'
import '../../core/wasm_exec.js'

/** What the page asks: to begin, with the core where it has it already, or for an answer. */
export type ToCore =
  { module?: WebAssembly.Module } | { id: number; question: string; options: string; request: string }
/** What the page receives. */
export type FromCore =
  | { module: WebAssembly.Module }
  | { failed: string }
  | { id: number; text: string | null }
  | { id: number; progress: string }

declare class Go {
  importObject: WebAssembly.Imports
  run(instance: WebAssembly.Instance): Promise<void>
}

type Core = {
  zealousKnotAsk?: (question: string, options: string, request: string) => string | null
  zealousKnotTell: (progress: string) => void
}
const core = globalThis as unknown as Core
const post = (m: FromCore) => postMessage(m)
let ready: Promise<void> | undefined

async function begin(module?: WebAssembly.Module) {
  const go = new Go()
  const compiled = module ?? (await WebAssembly.compileStreaming(fetch(coreUrl)))
  void go.run(await WebAssembly.instantiate(compiled, go.importObject))
  if (!module) post({ module: compiled })
}

onmessage = async (e: MessageEvent<ToCore>) => {
  const ask = e.data
  if (!('id' in ask)) {
    ready = begin(ask.module)
    ready.catch((error: unknown) => post({ failed: String(error) }))
    return
  }
  await ready
  core.zealousKnotTell = (progress) => post({ id: ask.id, progress })
  let text: string | null = null
  try {
    text = core.zealousKnotAsk?.(ask.question, ask.options, ask.request) ?? null
  } finally {
    post({ id: ask.id, text })
  }
}
