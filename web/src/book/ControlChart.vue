<script setup lang="ts">
import { computed } from 'vue'
import type { CardMeasure } from '../api/schema.gen'
import { fixed } from '../ui/units'

/** Individuals over their steps: one square a cook, limits frozen by the first six. */
const props = defineProps<{ measure: CardMeasure }>()
const W = 520
const H = 200
const STEPS = 70
const left = 12
const right = W - 128
const c = computed(() => props.measure.chart)
const values = computed(() => c.value.points.map((p) => p.value))
const ends = computed(() => {
  const all = [...values.value, ...[c.value.low, c.value.high].filter((v) => v !== null)]
  const lo = Math.min(...all)
  const hi = Math.max(...all)
  const room = (hi - lo || 1) * 0.14
  return [lo - room, hi + room] as const
})
const x = (i: number) => left + 14 + (i / Math.max(1, values.value.length - 1)) * (right - left - 28)
const y = (v: number) => H - 26 - ((v - ends.value[0]) / (ends.value[1] - ends.value[0])) * (H - 44)
const path = computed(() => values.value.map((v, i) => `${i ? 'L' : 'M'}${x(i)} ${y(v)}`).join(''))
const most = computed(() => Math.max(c.value.step_limit ?? 0, ...c.value.points.map((p) => p.step ?? 0)) * 1.15 || 1)
const stepY = (v: number) => STEPS - 4 - (v / most.value) * (STEPS - 18)
const dash = computed(() => (c.value.frozen ? undefined : '6 5'))
const digits = computed(() => (ends.value[1] - ends.value[0] < 3 ? 2 : 1))
const said = (v: number) => fixed(v, digits.value)
const lines = computed(() => {
  const at: [string, number | null, number, string?][] = [
    ['high limit', c.value.high, 4],
    ['middle', c.value.middle, 1.5, '2 4'],
    ['low limit', c.value.low, 4],
  ]
  return at.filter((l) => l[1] !== null) as [string, number, number, string?][]
})
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`${measure.name}: ${values.map(said).join(', ')}`">
      <rect
        v-if="c.low !== null && c.high !== null"
        :x="left"
        :width="right - left"
        :y="y(c.high)"
        :height="y(c.low) - y(c.high)"
        fill="var(--trough)"
      />
      <g v-for="[name, v, w, d] in lines" :key="name">
        <path :d="`M${left} ${y(v)}H${right}`" stroke="var(--ink)" :stroke-width="w" :stroke-dasharray="d ?? dash" />
        <text :x="right + 6" :y="y(v) + 4">
          <tspan class="b">{{ said(v) }}</tspan>
          {{ name }}
        </text>
      </g>
      <g v-for="v in [c.near_low, c.near_high]" :key="String(v)">
        <path
          v-if="v !== null && v !== undefined"
          :d="`M${left} ${y(v)}H${right}`"
          stroke="var(--edge)"
          stroke-dasharray="8 5"
        />
      </g>
      <path
        v-if="c.since > 0"
        :d="`M${(x(c.since - 1) + x(Math.max(0, c.since - 2))) / 2} 6V${H - 22}`"
        stroke="var(--ink)"
        stroke-width="2.5"
        stroke-dasharray="4 4"
      />
      <path :d="path" fill="none" stroke="var(--ink)" stroke-width="2" />
      <g v-for="(p, i) in c.points" :key="i">
        <path v-if="c.since > 0 && i >= c.since - 1" :d="`M${x(i)} ${y(p.value) - 8}l8 13h-16z`" fill="var(--watch)" />
        <rect v-else :x="x(i) - 5" :y="y(p.value) - 5" width="10" height="10" fill="var(--ink)" />
        <text :x="x(i)" :y="y(p.value) - 11" text-anchor="middle" class="b">{{ said(p.value) }}</text>
        <text :x="x(i)" :y="H - 6" text-anchor="middle">{{ measure.cooks[i] }}</text>
      </g>
    </svg>
    <svg v-if="c.step_limit !== null" :viewBox="`0 0 ${W} ${STEPS}`" aria-hidden="true">
      <path
        :d="`M${left} ${stepY(c.step_limit)}H${right}`"
        stroke="var(--ink)"
        stroke-width="3"
        :stroke-dasharray="dash"
      />
      <text :x="right + 6" :y="stepY(c.step_limit) + 4">
        <tspan class="b">{{ said(c.step_limit) }}</tspan>
        limit
      </text>
      <text :x="left + 2" y="10">step from the cook before</text>
      <path :d="`M${left} ${STEPS - 4}H${right}`" stroke="var(--edge)" />
      <g v-for="(p, i) in c.points" :key="i">
        <rect
          v-if="p.step !== null"
          :x="x(i) - 4"
          :y="stepY(p.step)"
          width="8"
          :height="STEPS - 4 - stepY(p.step)"
          :fill="p.step > c.step_limit! ? 'var(--watch)' : 'var(--ink)'"
        />
      </g>
    </svg>
    <figcaption class="small soot">
      {{ measure.name }}, {{ measure.unit }}; one square a cook.
      {{ c.frozen ? 'Limits set by the first six.' : 'Limits stand once six are cooked.' }}
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  width: 100%;
  display: block;
}
text {
  font: 12.5px var(--font-num);
  fill: var(--ink);
}
.b {
  font-weight: 700;
}
</style>
