<script setup lang="ts">
import type { CutView, Event } from '../api/schema.gen'
import { letterOf } from './acts'
import { flagTitle, type Flag } from './lanes'

/** A flag in a lane: the letter of the act, how many there were, and a line down to its moment. */
defineProps<{ flag: Flag; cuts: CutView[]; y: number; line: number }>()
const emit = defineEmits<{ event: [Event] }>()
</script>

<template>
  <g
    class="flag"
    :transform="`translate(${flag.x} ${y})`"
    @pointerdown.stop
    @pointerup.stop="emit('event', flag.events[0]!)"
  >
    <title>{{ flagTitle(flag, cuts) }}</title>
    <path v-if="line" :d="`M0 20V${line - y}`" stroke="var(--ink)" stroke-width="1" opacity="0.35" />
    <rect :x="flag.nudge - 10" y="0" :width="flag.events.length > 1 ? 30 : 20" height="21" rx="3" />
    <text :x="flag.nudge" y="16" text-anchor="middle">{{ letterOf(flag.act) }}</text>
    <text v-if="flag.events.length > 1" :x="flag.nudge + 12" y="16" text-anchor="middle" class="many">{{
      flag.events.length
    }}</text>
  </g>
</template>

<style scoped>
.flag {
  cursor: pointer;
}
.flag rect {
  fill: var(--board);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.flag text {
  font: 700 14px var(--font-num);
  fill: var(--ink);
}
.flag .many {
  font-weight: 400;
  font-size: 13px;
}
</style>
