<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Calibration, PanView } from '../api/schema.gen'
import { clock } from '../ui/time'
import { degrees } from '../ui/units'
import { system } from '../ui/settings'

/** A pan of water on its way to rest: what was read, the fit, and what was known after each hour. */
const { pan, calibration, floor, now } = defineProps<{
  pan: PanView
  calibration: Calibration
  floor: number
  now: string
}>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const height = 340
const left = 46
const top = 44
const bottom = height - 44
const told = computed(() => pan.told)
const putIn = computed(() => Date.parse(calibration.put_in_at))
const shown = computed(() => (calibration.saved_at ? Date.parse(calibration.saved_at) : Date.parse(now)))
const so = computed(() => Math.max(0.5, (shown.value - putIn.value) / 3_600_000))
/** To where it is within a degree, and somewhat on. */
const hours = computed(() =>
  Math.max(so.value * 1.15, Math.min((told.value.within_1_f_after_h ?? 0) * 1.05, so.value * 2)),
)
const tops = computed(() => [
  calibration.target_c + 3,
  ...told.value.hourly.map((e) => e.c + Math.min(e.plus_minus_c, 12)),
  (told.value.settles?.c ?? 0) + 3,
  ...pan.readings.map((r) => r.c),
])
const high = computed(() => Math.max(...tops.value) + 1)
// What counts is near the floor: under it the scale is squeezed.
const knee = computed(() => floor - 4)
const lowest = computed(() => Math.min(knee.value - 1, ...pan.readings.map((r) => r.c)))
const x = (h: number) => left + (h / hours.value) * Math.max(10, width.value - left - 12)
function y(c: number): number {
  const at = bottom - (bottom - top) * 0.25
  if (c >= knee.value) return at - ((c - knee.value) / (high.value - knee.value)) * (at - top)
  return at + ((knee.value - c) / (knee.value - lowest.value)) * (bottom - at)
}
const path = (points: [number, number][]) =>
  points.map(([h, c], i) => `${i ? 'L' : 'M'}${x(h).toFixed(1)} ${y(c).toFixed(1)}`).join('')
const read = computed(() => path(pan.readings.map((r) => [r.s / 3600, r.c])))
const fit = computed(() => {
  const t = told.value
  if (!t.settles || t.begins_c === null || !t.tau_h) return ''
  const rise = t.settles.c - t.begins_c
  return path(
    Array.from({ length: 121 }, (_, i) => {
      const h = (hours.value * i) / 120
      return [h, t.settles!.c - rise * Math.exp(-h / t.tau_h!)] as [number, number]
    }),
  )
})
interface Known {
  h: number
  x: number
  y: number
  top: number
  low: number
  c: string
  half: number
}
const known = computed(() =>
  [...told.value.hourly, ...(told.value.settles ? [told.value.settles] : [])]
    .filter((e) => e.plus_minus_c < 20)
    .map((e) => ({
      h: e.hours,
      x: x(e.hours),
      y: y(e.c),
      top: Math.max(top, y(e.c + e.plus_minus_c)),
      low: Math.min(bottom, y(e.c - e.plus_minus_c)),
      c: degrees(e.c),
      half: Math.max(1, Math.round(e.plus_minus_c * (system.value === 'F' ? 1.8 : 1))),
    }))
    // From the last one back, as far apart as their numbers are wide.
    .reduceRight<Known[]>((kept, k) => (kept.length && kept[0]!.x - k.x < 52 ? kept : [k, ...kept]), []),
)
const ticks = computed(() => {
  const step = Math.max(1, Math.ceil(hours.value / 8))
  return Array.from({ length: Math.floor(hours.value / step) + 1 }, (_, i) => i * step)
})
const heats = computed(() => {
  const step = system.value === 'F' ? 10 : 5
  const show = (c: number) => (system.value === 'F' ? c * 1.8 + 32 : c)
  const back = (v: number) => (system.value === 'F' ? (v - 32) / 1.8 : v)
  const first = Math.ceil(show(floor) / step) * step
  const out = [{ v: Math.round(show(lowest.value)), c: lowest.value }]
  for (let v = first; back(v) < high.value; v += step) out.push({ v, c: back(v) })
  return out
})
</script>

<template>
  <div ref="box" class="chart">
    <svg :width="width" :height="height" role="img" :aria-label="told.words[0] ?? told.why">
      <rect
        :x="left"
        :y="y(calibration.target_c + 1.67)"
        :width="Math.max(0, width - left)"
        :height="y(calibration.target_c - 1.67) - y(calibration.target_c + 1.67)"
        fill="var(--trough)"
      />
      <g v-for="t in ticks" :key="t">
        <path :d="`M${x(t)} ${top}V${bottom}`" stroke="var(--grain)" />
        <text :x="x(t)" :y="bottom + 18" text-anchor="middle" class="axis">{{ clock(putIn + t * 3_600_000) }}</text>
        <text :x="x(t)" :y="bottom + 36" text-anchor="middle" class="small">{{ t === 0 ? 'pan in' : `${t} h` }}</text>
      </g>
      <text v-for="h in heats" :key="h.v" :x="left - 6" :y="y(h.c) + 5" text-anchor="end" class="axis">{{ h.v }}</text>
      <path :d="`M${left} ${y(calibration.target_c)}H${width}`" stroke="var(--edge)" stroke-dasharray="5 4" />
      <path :d="`M${left} ${y(floor)}H${width}`" stroke="var(--ink)" stroke-width="3" />
      <text :x="left + 6" :y="y(floor) + 16" class="name">Floor</text>
      <text :x="width - 8" :y="y(calibration.target_c + 1.67) - 5" text-anchor="end" class="name">Target</text>
      <path :d="fit" fill="none" stroke="var(--ink)" stroke-width="2.5" stroke-dasharray="9 5" />
      <path :d="read" fill="none" stroke="var(--ink)" stroke-width="1.2" />
      <g v-for="k in known" :key="k.h">
        <path
          :d="`M${k.x} ${k.top}V${k.low}M${k.x - 7} ${k.top}h14M${k.x - 7} ${k.low}h14`"
          stroke="var(--ink)"
          stroke-width="2.5"
        />
        <path :d="`M${k.x} ${k.y - 7}l7 7l-7 7l-7 -7z`" fill="var(--board)" stroke="var(--ink)" stroke-width="2" />
        <text :x="k.x" y="16" text-anchor="middle" class="told">{{ k.c }}</text>
        <text :x="k.x" y="34" text-anchor="middle" class="axis">±{{ k.half }}</text>
      </g>
      <path :d="`M${x(so)} ${top}V${bottom}`" stroke="var(--ember)" stroke-width="3" />
    </svg>
    <p class="small soot">
      Above: where it settles, as known after each hour, 9 times in 10. Thin: the pan. Dashed: the fit. Under the floor
      the scale is squeezed.
    </p>
  </div>
</template>

<style scoped>
.chart {
  min-width: 0;
  min-height: 384px;
  padding: 8px 0;
}
.axis {
  font: 14px var(--font-num);
  fill: var(--soot);
}
.small {
  font: 13px var(--font-text);
  fill: var(--soot);
}
.name {
  font: 700 14px var(--font-text);
  fill: var(--ink);
}
.told {
  font: 700 17px var(--font-num);
  fill: var(--ink);
}
p {
  padding: 0 12px 0 46px;
}
</style>
