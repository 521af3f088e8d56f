<script setup lang="ts">
import { computed } from 'vue'
import type { OutcomeDefault, Trend } from '../api/schema.gen'
import { fixed } from '../ui/units'

/** A numeric factor: the levels' means, the trend with its band, and the least level as good as any on its post. */
const props = defineProps<{ row: { outcome: OutcomeDefault }; trend: Trend }>()
const W = 420
const H = 230
const left = 44
const right = W - 16
const top = 26
const bottom = H - 34
const levels = computed(() => props.trend.levels ?? [])
const doses = computed(() => levels.value.map((l) => l.dose))
const ends = computed(() => {
  const all = levels.value.flatMap((l) => [l.mean, l.trend, ...(l.band ?? [])])
  const low = Math.min(...all)
  const high = Math.max(...all)
  const room = (high - low || 1) * 0.12
  return [low - room, high + room] as const
})
const x = (d: number) => {
  const lo = Math.min(...doses.value)
  const hi = Math.max(...doses.value)
  return left + 14 + ((d - lo) / (hi - lo || 1)) * (right - left - 28)
}
const y = (v: number) => bottom - ((v - ends.value[0]) / (ends.value[1] - ends.value[0])) * (bottom - top)
/** The trend through its levels, smooth where it is a curve: three points of each stretch by the parabola of its ends. */
const path = computed(() => levels.value.map((l, i) => `${i ? 'L' : 'M'}${x(l.dose)} ${y(l.trend)}`).join(''))
const band = computed(() => {
  const with_ = levels.value.filter((l) => l.band)
  if (with_.length < 2) return ''
  const up = with_.map((l, i) => `${i ? 'L' : 'M'}${x(l.dose)} ${y(l.band![1]!)}`).join('')
  const down = [...with_]
    .reverse()
    .map((l) => `L${x(l.dose)} ${y(l.band![0]!)}`)
    .join('')
  return `${up}${down}Z`
})
const ticks = computed(() => {
  const [lo, hi] = ends.value
  const step = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20].find((s) => (hi - lo) / s <= 6) ?? 50
  const out: number[] = []
  for (let v = Math.ceil(lo / step) * step; v <= hi; v += step) out.push(v)
  return out
})
const turns = computed(() => props.trend.turns_within && props.trend.turning_point)
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="trend.sentence">
      <g v-for="t in ticks" :key="t">
        <path :d="`M${left} ${y(t)}H${right}`" stroke="var(--grain)" />
        <text :x="left - 6" :y="y(t) + 4" text-anchor="end">{{ fixed(t, 1) }}</text>
      </g>
      <path :d="band" fill="var(--trough)" />
      <path :d="path" fill="none" stroke="var(--ink)" stroke-width="2.5" />
      <path :d="`M${left} ${bottom}H${right}`" stroke="var(--ink)" stroke-width="3" />
      <g v-if="trend.least_as_good != null">
        <path :d="`M${x(trend.least_as_good)} ${top - 8}V${bottom}`" stroke="var(--ink)" stroke-width="4" />
        <text :x="x(trend.least_as_good) + 8" :y="top - 8" class="b">least as good as any</text>
      </g>
      <g v-for="l in levels" :key="l.dose">
        <rect
          :x="x(l.dose) - 6"
          :y="y(l.mean) - 6"
          width="12"
          height="12"
          :fill="l.dose === trend.least_as_good ? 'var(--ink)' : 'var(--board)'"
          stroke="var(--ink)"
          stroke-width="2.5"
        />
        <text :x="x(l.dose)" :y="y(l.mean) + 22" text-anchor="middle" class="b">{{ fixed(l.mean, 1) }}</text>
        <text :x="x(l.dose)" :y="bottom + 20" text-anchor="middle">{{ l.dose }} {{ trend.unit }}</text>
      </g>
      <text v-if="turns" :x="right" :y="bottom - 8" text-anchor="end">
        turns near {{ fixed(turns.dose, 1) }} {{ trend.unit }}
      </text>
    </svg>
    <figcaption class="small soot">{{ row.outcome.name }}, {{ row.outcome.unit }}; band 9 in 10</figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  max-width: 480px;
}
svg {
  width: 100%;
  display: block;
}
text {
  font: 13px var(--font-num);
  fill: var(--ink);
}
.b {
  font-weight: 700;
}
</style>
