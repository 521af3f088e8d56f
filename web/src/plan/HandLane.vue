<script setup lang="ts">
import { computed, inject } from 'vue'
import type { Task } from '../api/schema.gen'
import { clock } from '../ui/time'
import RailLine from './RailLine.vue'
import { railKey } from './railScale'
import { plannedLetter } from './tasks'

/** What one person has to do; what falls together shares a flag. */
const props = defineProps<{ name: string; tasks: Task[]; nobody?: boolean }>()
const { x, width } = inject(railKey)!
interface Flag {
  x: number
  tasks: Task[]
}
const flags = computed(() => {
  const out: Flag[] = []
  for (const t of props.tasks) {
    const px = Math.max(13, (x(t.at.middle) / 100) * width.value) // clear of the head
    const last = out[out.length - 1]
    if (last && px - last.x < 24) last.tasks.push(t)
    else out.push({ x: px, tasks: [t] })
  }
  return out
})
const title = (f: Flag) => f.tasks.map((t) => `${clock(t.at.middle)} ${t.words}`).join('\n')
</script>

<template>
  <RailLine class="hand" :class="{ nobody }">
    <template #head>{{ name }}</template>
    <span v-for="f in flags" :key="f.x" class="flag num" :style="{ left: `${f.x}px` }" :title="title(f)"
      >{{ plannedLetter(f.tasks[0]!.act) }}<small v-if="f.tasks.length > 1">{{ f.tasks.length }}</small></span
    >
  </RailLine>
</template>

<style scoped>
.hand {
  --track: 30px;
}
.hand :deep(.head) {
  padding-block: 4px;
}
.hand.nobody,
.hand.nobody :deep(.head) {
  background: var(--watch-wash);
  color: var(--watch);
}
.flag {
  position: absolute;
  top: 4px;
  transform: translateX(-50%);
  min-width: 20px;
  height: 22px;
  padding: 0 3px;
  border: 1.5px solid var(--edge);
  border-radius: var(--r-1);
  background: var(--board);
  text-align: center;
  font-size: 13px;
  font-weight: 700;
  line-height: 19px;
  white-space: nowrap;
}
.flag small {
  font-weight: 400;
  font-size: 13px;
}
</style>
