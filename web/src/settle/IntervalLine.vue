<script setup lang="ts">
import { computed } from 'vue'
import type { Row, Side } from '../api/schema.gen'

/** One comparison against the gate: the row's own difference that matters is the ground, better is right. */
const props = defineProps<{ row: Row; side: Side; thin?: boolean }>()
const W = 340
const H = 34
const flip = computed(() => (props.row.outcome.better === 'down' ? -1 : 1))
// The gate takes a fixed share of the width; what lies further is drawn at the edge with an arrow.
const unit = 40
const x = (v: number) => W / 2 + Math.max(-4.3, Math.min(4.3, (flip.value * v) / props.row.smallest_difference)) * unit
const ends = computed(() =>
  props.side.ci90 ? [x(props.side.ci90[0]!), x(props.side.ci90[1]!)].sort((a, b) => a - b) : null,
)
const cut = computed(() => (props.side.ci90 ?? []).some((v) => Math.abs(v / props.row.smallest_difference) > 4.3))
const colour = computed(() => (props.side.winner === null ? 'var(--ink)' : `var(--arm${props.side.winner + 1})`))
</script>

<template>
  <svg
    :viewBox="`0 0 ${W} ${H}`"
    :width="W"
    :height="H"
    role="img"
    :aria-label="side.ci90 ? `90 % interval ${side.ci90.join(' to ')}` : 'no interval'"
    :style="{ color: colour }"
  >
    <rect :x="W / 2 - unit" y="0" :width="2 * unit" :height="H" fill="var(--trough)" />
    <path :d="`M${W / 2 - unit} 0v${H}M${W / 2 + unit} 0v${H}`" stroke="var(--ink)" stroke-width="5" />
    <path :d="`M${W / 2} 0v${H}`" stroke="var(--edge)" stroke-dasharray="3 3" />
    <g v-if="ends">
      <path
        :d="`M${ends[0]} ${H / 2}H${ends[1]}`"
        stroke="currentColor"
        :stroke-width="thin ? 2.5 : 4.5"
        :stroke-dasharray="side.word === 'cannot tell' ? '6 4' : undefined"
      />
      <path :d="`M${ends[0]} ${H / 2 - 8}v16M${ends[1]} ${H / 2 - 8}v16`" stroke="currentColor" stroke-width="3" />
      <path v-if="cut && x(side.estimate!) > W / 2" :d="`M${W - 10} ${H / 2 - 7}l9 7-9 7z`" fill="currentColor" />
      <path v-if="cut && x(side.estimate!) < W / 2" :d="`M10 ${H / 2 - 7}l-9 7 9 7z`" fill="currentColor" />
    </g>
    <g v-if="side.estimate !== null" :transform="`translate(${x(side.estimate)} ${H / 2})`">
      <rect x="-10" y="-10" width="20" height="20" fill="var(--board)" stroke="currentColor" stroke-width="2.5" />
      <foreignObject v-if="side.winner !== null" x="-7" y="-7" width="14" height="14"
        ><i
          class="mark"
          :style="{ '--m': `var(--mark${side.winner + 1})`, width: '14px', height: '14px', display: 'block' }"
      /></foreignObject>
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  max-width: 100%;
}
</style>
