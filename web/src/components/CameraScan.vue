<script setup lang="ts">
// The camera, until it has read a code. Without one, or without leave to use it, the code
// is typed.
import { onBeforeUnmount, onMounted, ref } from 'vue'

const emit = defineEmits<{ read: [text: string]; close: [] }>()

const video = ref<HTMLVideoElement>()
const why = ref('')
let stream: MediaStream | undefined
let worker: Worker | undefined
let gone = false

/** Side of the picture that is looked at, in pixels: enough for a label in the hand. */
const side = 640

async function begin() {
  try {
    stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } })
  } catch {
    why.value = 'No camera, or no leave to use it: type the code that stands on the label.'
    return
  }
  if (gone || !video.value) return end()
  video.value.srcObject = stream
  await video.value.play()
  worker = new Worker(new URL('../lib/scan.worker.ts', import.meta.url), { type: 'module' })
  worker.onmessage = (e: MessageEvent<{ text?: string; failed?: string }>) => {
    if (e.data.failed) why.value = 'The camera’s pictures cannot be read here: type the code.'
    else if (e.data.text) emit('read', e.data.text)
    look()
  }
  worker.onerror = () => (why.value = 'The camera’s pictures cannot be read here: type the code.')
  look()
}

/** Sends the next picture, once there is one: never two at a time. */
function look() {
  const v = video.value
  if (gone || !v || !worker) return
  requestAnimationFrame(() => {
    const least = Math.min(v.videoWidth, v.videoHeight)
    if (!least) return look()
    const canvas = new OffscreenCanvas(side, side)
    const on = canvas.getContext('2d', { willReadFrequently: true })!
    on.drawImage(v, (v.videoWidth - least) / 2, (v.videoHeight - least) / 2, least, least, 0, 0, side, side)
    worker?.postMessage(on.getImageData(0, 0, side, side))
  })
}

function end() {
  gone = true
  worker?.terminate()
  stream?.getTracks().forEach((t) => t.stop())
}

onMounted(() => void begin())
onBeforeUnmount(end)
</script>

<template>
  <div class="border-line mt-2 rounded-md border p-2" data-camera-scan>
    <p v-if="why" class="text-look" role="alert">◆ {{ why }}</p>
    <template v-else>
      <video ref="video" class="mx-auto aspect-square w-full max-w-sm rounded object-cover" muted playsinline />
      <p class="text-soft mt-1 text-center text-sm">Hold the label into the picture.</p>
    </template>
    <button type="button" class="quiet" @click="emit('close')">close the camera</button>
  </div>
</template>
