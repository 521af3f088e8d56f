<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { BurnTrace, Told } from '../api/schema.gen'
import { letterOf } from '../fire/acts'
import { keptApart } from '../ui/apart'
import { degrees, toC, toF } from '../ui/units'
import { system } from '../ui/settings'

/** A burn over the minutes since it was lit: each point by its name, the band, when it was hot, and what each addition gave. */
const {
  traces,
  told,
  setC,
  bandC = 15 / 1.8,
  minutes,
  high = 0,
  place = -1,
  axis = true,
  height = 190,
} = defineProps<{
  traces: BurnTrace[]
  told: Told | null
  setC: number
  bandC?: number // to either side; the usual is 15 F
  minutes: number // of the axis
  high?: number // C, that the scale reaches at least
  place?: number // of the arm; without one it is drawn in ink
  axis?: boolean
  height?: number
}>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const left = 44
const right = computed(() => Math.max(left + 40, width.value - 82))
const top = 10
const foot = computed(() => (axis ? 24 : 4))
const base = computed(() => height - foot.value)
const colour = computed(() => (place < 0 ? 'var(--ink)' : `var(--arm${place + 1})`))
const all = computed(() => traces.flatMap((t) => t.readings.map((r) => r.c)))
// What counts is near the set point: far under it the scale is squeezed, and the brackets stand there.
const knee = computed(() => setC - 50 / 1.8)
const most = computed(() => Math.max(setC + bandC + 2, high, ...all.value) + 2)
const lowest = computed(() => Math.min(knee.value - 5, ...all.value))
const kneeY = computed(() => base.value - 46)
const x = (m: number) => left + (m / Math.max(minutes, 1)) * (right.value - left)
const y = (c: number) =>
  c >= knee.value
    ? kneeY.value - ((c - knee.value) / (most.value - knee.value)) * (kneeY.value - top)
    : kneeY.value + ((knee.value - c) / (knee.value - lowest.value)) * (base.value - kneeY.value)
const path = (t: BurnTrace) =>
  t.readings
    .filter((r) => r.s / 60 <= minutes)
    .map((r, i) => `${i ? 'L' : 'M'}${x(r.s / 60).toFixed(1)} ${y(r.c).toFixed(1)}`)
    .join('')
const dashes: Record<string, string> = { dial: '2 4', 'far end': '8 5', 'wet bulb': '1 6' }
/** The lines, their names at their ends kept apart. */
const lines = computed(() =>
  keptApart(
    traces
      .filter((t) => t.readings.length > 1 && t.place !== 'wet bulb')
      .map((t) => {
        const shown = t.readings.filter((r) => r.s / 60 <= minutes)
        const end = shown[shown.length - 1] ?? t.readings[0]!
        return {
          name: t.point || 'pit',
          d: path(t),
          dash: dashes[t.point] ?? '',
          dial: t.place === 'dial',
          thick: t.point === (told?.middle ?? ''),
          x: x(Math.min(end.s / 60, minutes)),
          y: y(end.c),
        }
      }),
    15,
    base.value - 4,
  ),
)
const ticks = computed(() => {
  const step = [5, 10, 20, 30, 60, 120, 240].find((s) => ((right.value - left) * s) / minutes > 42) ?? 480
  return Array.from({ length: Math.floor(minutes / step) + 1 }, (_, i) => i * step)
})
const heats = computed(() => {
  const f = system.value === 'F'
  const show = (c: number) => (f ? toF(c) : c)
  const step = f ? 50 : 25
  const out: number[] = []
  for (let v = Math.ceil(show(knee.value) / step) * step; v < show(most.value); v += step) out.push(f ? toC(v) : v)
  return out
})
const middle = computed(() => traces.find((t) => t.point === told?.middle))
const hot = computed(() => {
  const m = told?.warm_up_min
  if (m === null || m === undefined || m > minutes) return null
  const up = x(m) > right.value - 90
  return { x: x(m), y: y(setC - bandC), text: `hot at ${Math.round(m)} min`, anchor: up ? 'end' : 'start' }
})
/** Where they stand close, additions are ticks without brackets. */
const roomy = computed(() => {
  const n = told?.responses.length ?? 0
  return n < 2 || (right.value - left) / n > 24
})
/** An addition, as far as its words have room before the next one. */
const additions = computed(() => {
  const list = (told?.responses ?? []).filter((r) => r.s / 60 <= minutes)
  return list.map((r, i) => {
    const from = r.s / 60
    const to = from + (r.held_min ?? r.at_least_min ?? 0)
    const next = list[i + 1] ? x(list[i + 1]!.s / 60) : right.value + 70
    const room = next - x(from) - 24
    const short = r.held_min === null ? '' : `${Math.round(r.held_min)} min`
    const words = !roomy.value ? '' : room > 7 * r.words.length ? r.words : room > 7 * short.length ? short : ''
    return {
      at: x(from),
      to: x(Math.min(to, minutes)),
      held: r.held_min !== null,
      y: y(r.before_c ?? setC),
      words,
      letter: letterOf(r.what),
      key: from,
    }
  })
})
</script>

<template>
  <div ref="box" class="burn">
    <svg
      :width="width"
      :height="height"
      role="img"
      :aria-label="`${told?.responses.length ?? 0} additions in ${minutes} min`"
    >
      <rect
        :x="left"
        :width="right - left"
        :y="y(setC + bandC)"
        :height="y(setC - bandC) - y(setC + bandC)"
        fill="var(--trough)"
      />
      <g v-for="t in ticks" :key="t">
        <path :d="`M${x(t)} ${top}V${base}`" stroke="var(--grain)" />
        <text v-if="axis" :x="x(t)" :y="height - 6" text-anchor="middle" class="axis">{{ t }}</text>
      </g>
      <text v-if="axis" :x="right + 24" :y="height - 6" class="axis">min</text>
      <text v-for="h in heats" :key="h" :x="left - 6" :y="y(h) + 5" text-anchor="end" class="axis">
        {{ degrees(h) }}
      </text>
      <path :d="`M${left} ${y(setC)}H${right}`" stroke="var(--edge)" stroke-dasharray="5 4" />
      <path :d="`M${left} ${base}H${right}`" stroke="var(--ink)" stroke-width="2" />
      <g v-for="a in additions" :key="a.key">
        <path
          v-if="roomy && a.to > a.at"
          :d="`M${a.at} ${a.y}H${a.to}M${a.at} ${a.y}V${base - 12}${a.held ? `M${a.to} ${a.y}V${base - 6}` : ''}`"
          fill="none"
          stroke="var(--ink)"
          stroke-dasharray="2 3"
        />
        <path v-if="roomy && a.to > a.at" :d="`M${a.at} ${base - 12}H${a.to}`" stroke="var(--ink)" stroke-width="2.5" />
        <path v-if="roomy && a.held" :d="`M${a.to} ${base - 18}v12`" stroke="var(--ink)" stroke-width="2.5" />
        <template v-if="roomy">
          <rect :x="a.at - 8" :y="base - 20" width="16" height="16" rx="3" class="letter" />
          <text :x="a.at" :y="base - 7" text-anchor="middle" class="key">{{ a.letter }}</text>
        </template>
        <path v-else :d="`M${a.at} ${base - 12}v12`" stroke="var(--ink)" stroke-width="2" />
        <text v-if="a.words" :x="a.at + 12" :y="base - 18" class="said">{{ a.words }}</text>
      </g>
      <path
        v-for="l in lines"
        :key="l.name"
        :d="l.d"
        fill="none"
        :stroke="l.dial ? 'var(--ink)' : colour"
        :stroke-width="l.thick ? 3 : 1.8"
        :stroke-dasharray="l.dash"
      />
      <g v-for="l in lines" :key="l.name">
        <path :d="`M${l.x} ${l.y}L${right + 8} ${l.at}`" :stroke="l.dial ? 'var(--ink)' : colour" stroke-width="1" />
        <text :x="right + 11" :y="l.at + 5" class="name" :fill="l.dial ? 'var(--ink)' : colour">{{ l.name }}</text>
      </g>
      <g v-if="hot && middle">
        <path :d="`M${hot.x} ${hot.y}V${top + 16}`" stroke="var(--ink)" stroke-width="2" />
        <circle :cx="hot.x" :cy="hot.y" r="5" fill="var(--board)" stroke="var(--ink)" stroke-width="2.5" />
        <text :x="hot.x + (hot.anchor === 'end' ? -6 : 6)" :y="top + 14" :text-anchor="hot.anchor" class="said">
          {{ hot.text }}
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.burn {
  min-width: 0;
}
svg {
  display: block;
}
.axis {
  font: 13px var(--font-num);
  fill: var(--soot);
}
.name {
  font: 700 13px var(--font-text);
}
.said {
  font: 700 13px var(--font-text);
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--board);
  stroke-width: 3px;
}
.key {
  font: 700 13px var(--font-num);
  fill: var(--ink);
}
.letter {
  fill: var(--board);
  stroke: var(--ink);
  stroke-width: 1.5;
}
</style>
