// Compresses what vite built, so that the server only picks the encoding.
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { brotliCompress, constants, gzipSync } from 'node:zlib'

const root = '../internal/web/ui/dist/app'
const totals = { js: 0, wasm: 0, woff2: 0 }

const brotli = (content, block = 0) =>
  promisify(brotliCompress)(content, {
    params: {
      [constants.BROTLI_PARAM_QUALITY]: 11,
      [constants.BROTLI_PARAM_LGWIN]: constants.BROTLI_MAX_WINDOW_BITS,
      [constants.BROTLI_PARAM_SIZE_HINT]: content.length,
      [constants.BROTLI_PARAM_LGBLOCK]: block,
    },
  })
/** The blocks of the core, as a power of two: of all sizes this one gives the least, by 10 kB. */
const coreBlock = 19

/** The core takes half a minute: what it gave is kept beside it until the core is another one. */
const used = new Set()
async function once(content) {
  const name = `${createHash('sha256').update(content).digest('hex')}-${coreBlock}.br`
  used.add(name)
  const kept = join('core', name)
  if (existsSync(kept)) return readFileSync(kept)
  const small = await brotli(content, coreBlock)
  writeFileSync(kept, small)
  return small
}

async function compress(name) {
  const file = join(root, name)
  if (/\.woff2$/.test(name)) totals.woff2 += readFileSync(file).length
  if (!/\.(js|css|html|svg|wasm|webmanifest)$/.test(name)) return
  const content = readFileSync(file)
  const small = await (/\.wasm$/.test(name) ? once(content) : brotli(content))
  writeFileSync(file + '.br', small)
  writeFileSync(file + '.gz', gzipSync(content, { level: 9 }))
  if (/\.js$/.test(name)) totals.js += small.length
  if (/\.wasm$/.test(name)) totals.wasm += small.length
}

await Promise.all(readdirSync(root, { recursive: true }).map(compress))
for (const old of readdirSync('core')) if (old.endsWith('.br') && !used.has(old)) rmSync(join('core', old))
console.log(
  `script ${(totals.js / 1000).toFixed(1)} kB compressed, core ${(totals.wasm / 1000).toFixed(1)} kB, fonts ${(totals.woff2 / 1000).toFixed(1)} kB`,
)
