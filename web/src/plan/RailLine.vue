<script setup lang="ts">
import { inject } from 'vue'
import { railKey } from './railScale'

/** A line of the rail: a head at the left, and a track with its nights. */
const { nights, between } = inject(railKey)!
</script>

<template>
  <div class="line">
    <div class="head"><slot name="head" /></div>
    <div class="track">
      <i v-for="[a, b] in nights" :key="a" class="night" :style="between(a, b)" />
      <slot />
    </div>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: var(--head) minmax(0, 1fr);
  border-top: var(--line) solid var(--grain);
}
.head {
  padding: 6px 8px 6px 12px;
  border-right: var(--line) solid var(--edge);
  min-width: 0;
  line-height: 1.25;
  position: sticky;
  left: 0;
  z-index: 5;
  background: var(--board);
}
.track {
  position: relative;
  min-height: var(--track, 100%);
}
.night {
  position: absolute;
  inset-block: 0;
  background: var(--trough);
}
</style>
