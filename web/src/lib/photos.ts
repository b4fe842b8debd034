import { del, get, set } from 'idb-keyval'
import { asWhom } from '@/api/client'

/** The size of the largest picture that is kept, in bytes, and its longest side to begin with. */
const most = 200_000
const longest = 1280

const key = (sum: string) => `photo:${sum}`

/** Scales a picture down until it is small enough; what the camera wrote beside it is left out. */
async function scaled(file: Blob): Promise<Blob> {
  const picture = await createImageBitmap(file, { imageOrientation: 'from-image' })
  for (let side = longest, quality = 0.85; ; quality > 0.5 ? (quality -= 0.15) : (side *= 0.75)) {
    const by = Math.min(1, side / Math.max(picture.width, picture.height))
    const canvas = new OffscreenCanvas(Math.round(picture.width * by), Math.round(picture.height * by))
    canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
    const blob = await canvas.convertToBlob({ type: 'image/jpeg', quality })
    if (blob.size <= most) return blob
  }
}

/** Keeps a picture on this device, scaled down, until it is sent; gives the sum it is named by. */
export async function keepPhoto(file: Blob): Promise<string> {
  const blob = await scaled(file)
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', await blob.arrayBuffer()))
  const sum = [...digest].map((b) => b.toString(16).padStart(2, '0')).join('')
  await set(key(sum), blob)
  return sum
}

/** Puts a picture aside that no record will name. */
export const dropPhoto = (sum: string) => del(key(sum))

/** Where a picture is shown from: this device, else the server. */
export async function photoAddress(sum: string): Promise<string> {
  const blob = await get<Blob>(key(sum)).catch(() => undefined)
  if (!blob) return `/api/v1/photos/${sum}`
  return new Promise((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve(reader.result as string)
    reader.onerror = () => reject(reader.error!)
    reader.readAsDataURL(blob)
  })
}

/**
 * Sends pictures that are still on this device. False: the server takes none now. One that
 * it refuses stays refused: the record that names it says so.
 */
export async function sendPhotos(sums: string[]): Promise<boolean> {
  for (const sum of sums) {
    const body = await get<Blob>(key(sum))
    if (!body) continue
    const headers = { 'Content-Type': body.type, ...asWhom() }
    const answer = await fetch(`/api/v1/photos/${sum}`, { method: 'PUT', body, headers })
    if (answer.status === 401 || answer.status === 429 || answer.status >= 500) return false
    if (answer.ok) await del(key(sum))
  }
  return true
}
