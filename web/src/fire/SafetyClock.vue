<script setup lang="ts">
import { computed } from 'vue'
import type { Clock } from '../api/schema.gen'
import { sentence, temperature } from '../ui/units'

/** The worst clock of an arm's cuts: time in the danger range against four hours, until the cold point is out of it. */
const { clocks } = defineProps<{ clocks: Clock[] }>()
const worst = computed(
  () => [...clocks].sort((a, b) => Number(a.passed) - Number(b.passed) || b.for_s - a.for_s)[0] ?? null,
)
const spoken = computed(() => {
  const m = Math.floor((worst.value?.for_s ?? 0) / 60)
  return `${Math.floor(m / 60)}:${String(m % 60).padStart(2, '0')}`
})
const limit = 4 * 3600
</script>

<template>
  <div
    v-if="worst"
    class="clock small"
    :class="{ watch: worst.watch, over: worst.over && !worst.passed }"
    :title="sentence(worst.words)"
  >
    <template v-if="worst.passed"
      ><span class="check">past {{ temperature(worst.to_c) }} after</span> <b class="num">{{ spoken }}</b></template
    >
    <template v-else
      ><span :class="{ triangle: worst.watch }">under {{ temperature(worst.to_c) }}</span>
      <b class="num">{{ spoken }}</b>
      <i class="bar"><i :style="{ width: `${Math.min(100, (100 * worst.for_s) / limit)}%` }" /></i
    ></template>
  </div>
</template>

<style scoped>
.clock {
  margin-top: 4px;
  line-height: 1.2;
}
.check::before {
  margin-right: 6px;
}
.watch {
  color: var(--watch);
  font-weight: 700;
}
.over {
  color: var(--alarm);
}
.bar {
  display: block;
  height: 5px;
  margin-top: 3px;
  border: 1px solid currentColor;
}
.bar i {
  display: block;
  height: 100%;
  background: currentColor;
}
</style>
