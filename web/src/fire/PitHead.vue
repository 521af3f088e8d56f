<script setup lang="ts">
import { typedTemperature } from '../ui/units'
import type { PitLane } from './lanes'

/** The head of a pit's lane, or of a holder's: at what it is set, and how it is set up. */
defineProps<{ pit: PitLane; height: number }>()
</script>

<template>
  <div class="pit" :style="{ height: `${height}px` }">
    <h2>{{ pit.name }}</h2>
    <div v-if="pit.set" class="small soot">set {{ typedTemperature(pit.set) }}</div>
    <div class="small soot">{{ pit.setup }}</div>
  </div>
</template>

<style scoped>
.pit {
  border-top: var(--line) solid var(--edge);
  border-right: var(--line) solid var(--edge);
  padding: 4px 8px 2px 16px;
  overflow: hidden;
  line-height: 1.2;
}
.pit h2 {
  font-size: 16px;
}
@media (max-width: 1000px) {
  .pit {
    padding-left: 8px;
  }
}
@media (max-width: 700px), (max-height: 500px) {
  .small {
    display: none;
  }
}
</style>
