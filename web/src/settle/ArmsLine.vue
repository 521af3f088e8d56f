<script setup lang="ts">
import { computed } from 'vue'
import type { Arm, Row } from '../api/schema.gen'
import { span } from '../ui/time'
import { fixed } from '../ui/units'

/** All arms on one line, better to the right, against today's practice and what does not matter about it. */
const props = defineProps<{ row: Row; arms: Arm[] }>()
const W = 300
const H = 62
const LINE = 48
/** The ground that does not matter takes a fixed share; what lies further is drawn at the edge. */
const unit = 44
const flip = computed(() => (props.row.outcome.better === 'down' ? -1 : 1))
const control = computed(() =>
  Math.max(
    0,
    props.arms.findIndex((a) => a.control),
  ),
)
const at = computed(() => props.row.means[control.value] ?? props.row.means.find((m) => m !== null) ?? 0)
const x = (m: number) =>
  W / 2 + Math.max(-3.1, Math.min(3.1, (flip.value * (m - at.value)) / (props.row.smallest_difference || 1))) * unit
const said = (v: number) => (props.row.outcome.unit === 'h' ? span(v) : fixed(v, 1))
/** Boxes over their dots, pushed apart so that no number lies over another. */
const marks = computed(() => {
  const all = props.row.means
    .map((m, place) => (m === null ? null : { place, mean: m, dot: x(m), box: x(m) }))
    .filter((m) => m !== null)
    .sort((a, b) => a.dot - b.dot)
  const longest = Math.max(4, ...all.map((m) => said(m.mean).length))
  const wide = Math.min(10 * longest, (W - 20) / Math.max(1, all.length))
  for (let i = 1; i < all.length; i++) all[i]!.box = Math.max(all[i]!.box, all[i - 1]!.box + wide)
  const over = all.length ? all[all.length - 1]!.box - (W - 18) : 0
  if (over > 0)
    for (let i = all.length - 1, most = W - 18; i >= 0; i--, most -= wide) all[i]!.box = Math.min(all[i]!.box, most)
  return all
})
const best = computed(() => marks.value[marks.value.length - 1])
const bar = computed(() =>
  props.row.bar === null || !best.value || marks.value.length < 2
    ? null
    : Math.max(4, best.value.dot - (props.row.bar / (props.row.smallest_difference || 1)) * unit),
)
const label = computed(() => marks.value.map((m) => `${props.arms[m.place]!.tag} ${said(m.mean)}`).join(', '))
</script>

<template>
  <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="label">
    <rect :x="W / 2 - unit" y="18" :width="2 * unit" :height="H - 18" fill="var(--trough)" />
    <path :d="`M${W / 2 - unit} 18V${H}M${W / 2 + unit} 18V${H}`" stroke="var(--ink)" stroke-width="5" />
    <path :d="`M4 ${LINE}H${W - 4}`" stroke="var(--edge)" />
    <g v-if="bar !== null && best">
      <path :d="`M${bar} ${LINE + 9}H${best.dot}`" stroke="var(--ink)" stroke-width="2.5" />
      <path :d="`M${bar} ${LINE + 5}v8M${best.dot} ${LINE + 5}v8`" stroke="var(--ink)" stroke-width="2.5" />
    </g>
    <g v-for="m in marks" :key="m.place" :style="{ color: `var(--arm${m.place + 1})` }">
      <path :d="`M${m.box} 33L${m.dot} ${LINE}`" stroke="currentColor" stroke-width="1.5" />
      <circle :cx="m.dot" :cy="LINE" r="4" fill="currentColor" />
      <text :x="m.box" y="13" text-anchor="middle" class="num" fill="var(--ink)">{{ said(m.mean) }}</text>
      <rect :x="m.box - 9" y="16" width="18" height="18" fill="var(--board)" stroke="currentColor" stroke-width="2" />
      <foreignObject :x="m.box - 6" y="19" width="12" height="12"
        ><i
          class="mark"
          :style="{ '--m': `var(--mark${m.place + 1})`, width: '12px', height: '12px', display: 'block' }"
      /></foreignObject>
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-width: 340px;
}
text {
  font: 700 14px var(--font-num);
  paint-order: stroke;
  stroke: var(--board);
  stroke-width: 4px;
}
</style>
