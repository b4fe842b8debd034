<script setup lang="ts">
// A fall in time: the force on the rope.
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useElementSize } from '@vueuse/core'
import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import type { FallAnswer } from '@/api/client'
import { look } from '@/lib/look'
import { system, toShown, unitOf } from '@/lib/units'

const props = defineProps<{ course: NonNullable<FallAnswer['course']>; ceiling?: number }>()

const box = ref<HTMLElement>()
const { width } = useElementSize(box)
let plot: uPlot | undefined
const ink = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()

function data(): uPlot.AlignedData {
  return [
    props.course.map((p) => p.t_s),
    props.course.map((p) => toShown(p.force_kN, 'kN')),
    props.course.map(() => (props.ceiling ? toShown(props.ceiling, 'kN') : null)),
  ]
}

function make() {
  plot?.destroy()
  if (!box.value || width.value < 50) return
  const axis = {
    stroke: ink('--soft'),
    font: '12px "Knot Sans"',
    labelFont: '12px "Knot Sans"',
    labelSize: 18,
    grid: { stroke: ink('--line'), width: 1 },
    ticks: { stroke: ink('--line'), size: 5 },
  }
  plot = new uPlot(
    {
      width: width.value,
      height: 190,
      cursor: { show: false },
      legend: { show: false },
      scales: { x: { time: false }, y: { range: (_u, _min, max) => [0, max * 1.08] } },
      axes: [
        { ...axis, label: 'seconds since the fall began' },
        { ...axis, label: `force, ${unitOf('kN')}`, size: 52 },
      ],
      series: [
        {},
        { stroke: ink('--ink'), width: 2, points: { show: false } },
        { stroke: ink('--look'), width: 1.5, dash: [5, 4], points: { show: false } },
      ],
    },
    data(),
    box.value,
  )
}

onMounted(make)
onBeforeUnmount(() => plot?.destroy())
watch(
  () => props.course,
  () => plot?.setData(data()),
)
watch([width, look, system], make, { flush: 'post' })
</script>

<template>
  <div ref="box" class="w-full" aria-hidden="true" />
</template>
