// Reads codes in pictures of the camera, off the page: a picture takes some milliseconds.
import { prepareZXingModule, readBarcodes } from 'zxing-wasm/reader'
import wasmUrl from 'zxing-wasm/reader/zxing_reader.wasm?url'

// Its own address is elsewhere; nothing is fetched from there.
prepareZXingModule({ overrides: { locateFile: () => wasmUrl } })

onmessage = async (e: MessageEvent<ImageData>) => {
  try {
    const found = await readBarcodes(e.data, { formats: ['QRCode'], tryHarder: true, maxNumberOfSymbols: 1 })
    postMessage({ text: found[0]?.text ?? '' })
  } catch (error) {
    postMessage({ failed: String(error) })
  }
}
