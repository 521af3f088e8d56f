<script setup lang="ts">
import { inject } from 'vue'
import type { Conflict } from '../api/schema.gen'
import { clock } from '../ui/time'
import { railKey } from './railScale'

/** Where something stands in the way on a line of the rail. */
defineProps<{ clashes: Conflict[] }>()
const { left } = inject(railKey)!
</script>

<template>
  <span
    v-for="c in clashes"
    :key="c.words"
    class="clash triangle"
    :style="left(c.at)"
    :title="`${clock(c.at)} ${c.words}`"
    role="img"
    :aria-label="c.words"
  />
</template>

<style scoped>
.clash {
  position: absolute;
  bottom: 3px;
  transform: translateX(-50%);
  color: var(--watch);
  background: var(--watch-wash);
  padding: 1px 0 1px 5px;
  font-size: 16px;
  line-height: 1;
  z-index: 4;
}
</style>
