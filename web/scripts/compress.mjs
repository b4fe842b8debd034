// Compresses what vite built, so that the server only picks the encoding.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'

const root = '../internal/web/ui/dist/app'
const totals = { js: 0, wasm: 0, woff2: 0 }

for (const name of readdirSync(root, { recursive: true })) {
  const file = join(root, name)
  if (/\.woff2$/.test(name)) totals.woff2 += readFileSync(file).length
  if (!/\.(js|css|html|svg|wasm|webmanifest)$/.test(name)) continue
  const content = readFileSync(file)
  const small = brotliCompressSync(content, {
    params: {
      // The last step of quality takes ten times as long on a large file.
      [constants.BROTLI_PARAM_QUALITY]: /\.wasm$/.test(name) ? 9 : 11,
    },
  })
  writeFileSync(file + '.br', small)
  writeFileSync(file + '.gz', gzipSync(content, { level: 9 }))
  if (/\.js$/.test(name)) totals.js += small.length
  if (/\.wasm$/.test(name)) totals.wasm += small.length
}
console.log(
  `script ${(totals.js / 1000).toFixed(1)} kB compressed, core ${(totals.wasm / 1000).toFixed(1)} kB, fonts ${(totals.woff2 / 1000).toFixed(1)} kB`,
)
