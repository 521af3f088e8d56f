<script setup lang="ts">
import { computed } from 'vue'
import type { Number as Planning } from '../api/schema.gen'

/** Chances of the two words by units an arm; the dotted level is 8 times in 10. */
const props = defineProps<{ number: Planning }>()
const W = 380
const H = 150
const most = computed(() => props.number.curve.at(-1)?.units ?? 2)
const x = (n: number) => 34 + ((Math.sqrt(n) - Math.sqrt(2)) / (Math.sqrt(most.value) - Math.sqrt(2) || 1)) * (W - 48)
const y = (p: number) => H - 24 - p * (H - 36)
const path = (of: 'clear' | 'same') =>
  props.number.curve.map((c, i) => `${i ? 'L' : 'M'}${x(c.units)} ${y(c[of])}`).join('')
const here = computed(() =>
  props.number.units >= 2 && props.number.units <= most.value ? x(props.number.units) : null,
)
const at = computed(() => props.number.curve.find((c) => c.units === props.number.units))
const tens = (p: number) => `${Math.round(10 * p)} in 10`
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`Chances by ${number.unit}s an arm`">
      <path :d="`M34 ${y(0)}H${W - 10}M34 ${y(1)}V${y(0)}`" stroke="var(--edge)" fill="none" stroke-width="1.5" />
      <path :d="`M34 ${y(0.8)}H${W - 10}`" stroke="var(--edge)" stroke-dasharray="2 4" />
      <text x="4" :y="y(0.8) + 4">8/10</text>
      <g v-for="n in [2, 4, 8, 16, 32]" :key="n">
        <text v-if="n <= most" :x="x(n)" :y="H - 6" text-anchor="middle">{{ n }}</text>
      </g>
      <path v-if="here !== null" :d="`M${here} ${y(1)}V${y(0)}`" stroke="var(--ink)" stroke-width="5" />
      <path :d="path('clear')" fill="none" stroke="var(--ink)" stroke-width="3" />
      <path :d="path('same')" fill="none" stroke="var(--ink)" stroke-width="2" stroke-dasharray="6 4" />
    </svg>
    <figcaption class="small">
      Solid: cuts to prove better, at twice {{ number.smallest_difference }}. Dashed: cuts to prove same, at none.
      <template v-if="at">With {{ at.units }}: {{ tens(at.clear) }} and {{ tens(at.same) }}.</template>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
text {
  font: 13px var(--font-num);
  fill: var(--soot);
}
</style>
