<script setup lang="ts">
// One curve with the height upwards, to the scale of the rail beside it. It is a
// picture only: its figures stand above it and in the table.
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import type { Curve } from '@/api/client'
import { look } from '@/lib/look'
import { ticks } from '@/lib/rail'
import { system, toShown } from '@/lib/units'
import { plainNumber } from '@/lib/words'

const props = defineProps<{
  curve: Curve
  heights: number[]
  /** The greatest height of the rail, and the space above and below its scale. */
  top: number
  above: number
  below: number
  width: number
  height: number
}>()

const box = ref<HTMLElement>()
let plot: uPlot | undefined

const ink = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()

type Column = (number | null)[]

function shown(values: Column): Column {
  return values.map((v) => (v === null ? null : toShown(v, props.curve.unit)))
}

function data(): uPlot.AlignedData {
  return [props.heights, ...props.curve.lines.map((l) => shown(l.values as Column))]
}

/** From zero to what is there, and to the limit where that is not far beyond. */
const range = computed<[number, number]>(() => {
  const all = props.curve.lines.flatMap((l) => shown(l.values as Column)).filter((v) => v !== null)
  const most = Math.max(0, ...all)
  const limit = props.curve.limit ? toShown(props.curve.limit.value, props.curve.unit) : 0
  const high = limit <= 2.5 * most ? Math.max(most, limit) : most
  return [Math.min(0, ...all), (high || 1) * 1.06]
})

const side = 6
/** Two or three round values along the plot; their figures are text, not picture. */
const marks = computed(() => {
  const [low, high] = range.value
  return ticks(high - low, 3)
    .map((t) => t + Math.ceil(low))
    .filter((t) => t <= high)
    .map((t) => ({ t, x: side + ((t - low) / (high - low)) * (props.width - side - 8) }))
})

/** The limit as a broken line, and a mark where the figure is worst. */
function draw(u: uPlot) {
  const { ctx } = u
  const { limit, worst, lines } = props.curve
  const dpr = devicePixelRatio
  ctx.save()
  if (limit) {
    const x = Math.round(u.valToPos(toShown(limit.value, props.curve.unit), 'y', true))
    if (x <= u.bbox.left + u.bbox.width) {
      ctx.strokeStyle = ink('--look')
      ctx.lineWidth = 1.5 * dpr
      ctx.setLineDash([5 * dpr, 4 * dpr])
      ctx.beginPath()
      ctx.moveTo(x, u.bbox.top)
      ctx.lineTo(x, u.bbox.top + u.bbox.height)
      ctx.stroke()
    }
  }
  const value = worst && lines[0]?.values[worst.index]
  if (worst && value !== undefined && value !== null) {
    const x = u.valToPos(toShown(value, props.curve.unit), 'y', true)
    const y = u.valToPos(props.heights[worst.index]!, 'x', true)
    const r = 5 * dpr
    ctx.setLineDash([])
    ctx.fillStyle = worst.beyond ? ink('--stop') : ink('--ground')
    ctx.strokeStyle = worst.beyond ? ink('--stop') : ink('--ink')
    ctx.lineWidth = 2 * dpr
    ctx.beginPath()
    if (worst.beyond) ctx.rect(x - r, y - r, 2 * r, 2 * r)
    else ctx.arc(x, y, r, 0, 2 * Math.PI)
    ctx.fill()
    ctx.stroke()
  }
  ctx.restore()
}

function make() {
  plot?.destroy()
  if (!box.value) return
  plot = new uPlot(
    {
      width: props.width,
      height: props.height,
      padding: [props.above, 8, 0, side],
      cursor: { show: false },
      legend: { show: false },
      scales: {
        x: { time: false, ori: 1, dir: 1, range: () => [0, props.top] },
        y: { ori: 0, dir: 1, range: () => range.value },
      },
      axes: [
        { scale: 'x', side: 3, show: false },
        {
          scale: 'y',
          side: 2,
          size: props.below,
          // Text on a canvas is slow: the figures stand below it.
          splits: () => marks.value.map((m) => m.t),
          values: (_u, splits) => splits.map(() => null),
          grid: { stroke: ink('--line'), width: 1 },
          ticks: { stroke: ink('--line'), size: 5 },
        },
      ],
      series: [
        {},
        ...props.curve.lines.map((_, i) => ({
          stroke: ink(i === 0 ? '--ink' : '--soft'),
          width: i === 0 ? 2 : 1.5,
          dash: i === 0 ? undefined : [3, 4],
          points: { show: false },
          spanGaps: false,
        })),
      ],
      hooks: { draw: [draw] },
    },
    data(),
    box.value,
  )
}

onMounted(make)
onBeforeUnmount(() => plot?.destroy())
watch(
  () => [props.curve, props.heights],
  () => {
    // The same lines: new figures only, at once.
    if (plot && plot.series.length === props.curve.lines.length + 1) plot.setData(data())
    else make()
  },
)
watch(() => [props.width, props.height, props.top, props.above, look.value, system.value], make, { flush: 'post' })
</script>

<template>
  <div class="relative" aria-hidden="true">
    <div ref="box" />
    <span
      v-for="m in marks"
      :key="m.t"
      class="figure text-soft absolute -translate-x-1/2 text-xs"
      :style="{ left: `${m.x}px`, bottom: `${below - 24}px` }"
      >{{ plainNumber(m.t) }}</span
    >
  </div>
</template>
