<script setup lang="ts">
import { computed } from 'vue'

/** Values of arms against a gate: two posts, the ground between them means alike. */
const props = defineProps<{ arms: { mean: number | null; values: number[] }[]; gate: number }>()
const W = 320
const row = 30
const all = computed(() => props.arms.flatMap((a) => a.values))
const means = computed(() => props.arms.flatMap((a) => (a.mean === null ? [] : [a.mean])))
const middle = computed(() => (means.value.length ? means.value.reduce((a, b) => a + b, 0) / means.value.length : 0))
const reach = computed(() => Math.max(props.gate * 1.25, ...all.value.map((v) => Math.abs(v - middle.value))) * 1.06)
const x = (v: number) => W / 2 + ((v - middle.value) / reach.value) * (W / 2 - 8)
const half = computed(() => x(middle.value + props.gate / 2) - W / 2)
</script>

<template>
  <svg :viewBox="`0 0 ${W} ${row * arms.length + 12}`" role="img" aria-label="Arm averages and cuts against the gate">
    <rect :x="W / 2 - half" y="0" :width="2 * half" :height="row * arms.length + 12" fill="var(--trough)" />
    <path
      :d="`M${W / 2 - half} 0v${row * arms.length + 12}M${W / 2 + half} 0v${row * arms.length + 12}`"
      stroke="var(--ink)"
      stroke-width="4"
    />
    <g
      v-for="(a, i) in arms"
      :key="i"
      :transform="`translate(0 ${row * i + row / 2 + 6})`"
      :style="{ color: `var(--arm${i + 1})` }"
    >
      <path
        v-if="a.values.length"
        :d="`M${x(Math.min(...a.values))} 0H${x(Math.max(...a.values))}`"
        stroke="currentColor"
        stroke-width="1.75"
      />
      <circle v-for="(v, n) in a.values" :key="n" :cx="x(v)" cy="0" r="4" fill="currentColor" />
      <g v-if="a.mean !== null" :transform="`translate(${x(a.mean)} 0)`">
        <rect x="-11" y="-11" width="22" height="22" fill="var(--board)" stroke="currentColor" stroke-width="2.5" />
        <foreignObject x="-8" y="-8" width="16" height="16"
          ><i class="mark" :style="{ '--m': `var(--mark${i + 1})`, width: '16px', height: '16px', display: 'block' }"
        /></foreignObject>
      </g>
    </g>
  </svg>
</template>
