<script setup lang="ts">
import { computed } from 'vue'
import type { Event } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { degrees } from '../ui/units'
import FlagMark from './FlagMark.vue'
import { flagsOf, type PitLane } from './lanes'
import { tracePath } from './scale'

/** A pit or holder: its band, its trace, its flags, on a scale around its set point. */
const props = defineProps<{
  lane: PitLane
  x: (ms: number) => number
  width: number
  height: number
  hole: number
}>()
const emit = defineEmits<{ event: [Event] }>()
const { trial } = useThisTrial()

/** Hot holding begins here. */
const holdC = 60
/** 10 F to both sides of the set point. */
const bandC = 5.6
const range = computed(() => {
  const set = props.lane.set
  let low = set?.c ?? holdC
  let top = low
  for (const t of props.lane.traces)
    for (const p of t.points) {
      low = Math.min(low, p[1]!)
      top = Math.max(top, p[2]!)
    }
  return [Math.max(low, set ? set.c - 45 : low) - 3, Math.max(top, set ? set.c + 15 : 0) + 3] as const
})
function y(c: number) {
  const [low, top] = range.value
  return props.height - 26 - ((c - low) / (top - low)) * (props.height - 34)
}
const paths = computed(() =>
  props.lane.traces.map((t) => ({ id: t.probe_id, d: tracePath(t, props.x, y, props.hole) })),
)
const flags = computed(() => flagsOf(props.lane.events, props.x, props.width))
const line = computed(() => props.lane.set?.c ?? holdC)
</script>

<template>
  <svg class="lane" :width="width" :height="height" role="img" :aria-label="`Temperature of ${lane.name}`">
    <rect
      v-if="lane.set"
      x="0"
      :y="y(lane.set.c + bandC)"
      :width="width"
      :height="y(lane.set.c - bandC) - y(lane.set.c + bandC)"
      fill="var(--trough)"
    />
    <path :d="`M34 ${y(line)}H${width}`" stroke="var(--edge)" stroke-dasharray="5 4" />
    <text x="2" :y="y(line) + 5" class="axis">{{ degrees(line) }}</text>
    <path v-for="p in paths" :key="p.id" class="trace" :d="p.d" />
    <FlagMark
      v-for="f in flags"
      :key="`${f.act}${f.events[0]!.id}`"
      :flag="f"
      :cuts="trial.cuts"
      :y="height - 23"
      :line="0"
      @event="(e) => emit('event', e)"
    />
  </svg>
</template>

<style scoped>
.axis {
  font: 13px var(--font-num);
  fill: var(--soot);
}
.trace {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
  stroke-linejoin: round;
}
</style>
