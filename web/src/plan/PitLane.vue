<script setup lang="ts">
import { inject } from 'vue'
import type { Conflict, PlanView } from '../api/schema.gen'
import { clock } from '../ui/time'
import ClashMarks from './ClashMarks.vue'
import RailLine from './RailLine.vue'
import { railKey } from './railScale'

/** A pit: lit, warm, burning, out, with its wood. */
defineProps<{ pit: PlanView['pits'][number]; name: string; clashes: Conflict[] }>()
const { left, between } = inject(railKey)!
</script>

<template>
  <RailLine class="pit">
    <template #head
      ><b class="slab">{{ name }}</b></template
    >
    <span class="warm" :style="between(pit.light, pit.on)" :title="`lit at ${clock(pit.light)}`" />
    <span class="burns" :style="between(pit.on, pit.out.middle)"
      ><span>lit {{ clock(pit.light) }}</span></span
    >
    <i class="tail" :style="between(pit.out.early, pit.out.late)" />
    <i v-for="w in pit.wood" :key="w" class="wood" :style="left(w)" :title="`wood at ${clock(w)}`" />
    <ClashMarks :clashes="clashes" />
  </RailLine>
</template>

<style scoped>
.pit {
  --track: 40px;
}
.slab {
  font-family: var(--font-head);
}
.warm,
.burns {
  position: absolute;
  top: 6px;
  height: 22px;
  overflow: hidden;
  white-space: nowrap;
  font-size: 13px;
}
.warm {
  background: repeating-linear-gradient(-69deg, var(--edge) 0 1.5px, transparent 1.5px 7px);
  border: 1.5px solid var(--edge);
}
.burns {
  background: var(--trough);
  border: 1.5px solid var(--edge);
  padding-left: 6px;
}
.tail {
  position: absolute;
  top: 29px;
  height: 4px;
  background: var(--edge);
  z-index: 2;
}
.wood {
  position: absolute;
  top: 22px;
  width: 3px;
  height: 6px;
  background: var(--ink);
}
@media print {
  .burns,
  .warm {
    print-color-adjust: exact;
  }
}
</style>
