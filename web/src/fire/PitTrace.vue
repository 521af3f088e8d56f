<script setup lang="ts">
import { computed } from 'vue'
import type { Event, Trace } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { degrees, toC } from '../ui/units'
import FlagMark from './FlagMark.vue'
import { flagsOf, type PitLane } from './lanes'
import { pointsOf, tracePath } from './scale'

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
// Where the lowest and the highest of it are, to a degree, so that the scale does not change with each reading.
const sets = computed(() => props.lane.sets)
const low = computed(() => bound((t) => Math.min(...pointsOf(t).map((p) => p[1])), Math.min, Math.floor))
const top = computed(() => bound((t) => Math.max(...pointsOf(t).map((p) => p[2])), Math.max, Math.ceil))
function bound(of: (t: Trace) => number, pick: (...v: number[]) => number, round: (v: number) => number) {
  const set = pick(...(sets.value.length ? sets.value.map((s) => s.c) : [holdC]))
  return props.lane.traces.filter((t) => t.points.length).reduce((v, t) => round(pick(v, of(t))), set)
}
const scaleY = computed(() => {
  const set = props.lane.set
  const bottom = Math.max(low.value, set ? set.c - 45 : low.value) - 3
  const span = Math.max(top.value, set ? set.c + 15 : 0) + 3 - bottom
  const h = props.height
  return (c: number) => h - 26 - ((c - bottom) / span) * (h - 34)
})
const y = (c: number) => scaleY.value(c)
/** The band around each set point, for as long as it held. */
const bands = computed(() =>
  sets.value.map((s, i) => {
    const from = Math.max(0, s.at === -Infinity ? 0 : props.x(s.at))
    const next = sets.value[i + 1]
    const to = next ? Math.min(props.width, props.x(next.at)) : props.width
    return { from, wide: Math.max(0, to - from), c: s.c }
  }),
)
const paths = computed(() =>
  props.lane.traces.map((t, i) => ({
    id: t.probe_id,
    d: tracePath(t, props.x, scaleY.value, props.hole),
    dash: t.point === 'dial' ? '2 4' : t.point === 'far end' ? '8 5' : '',
    wide: i === 0 ? 2.5 : 1.5,
  })),
)
// There is one row for them here: what would take the next stands beside.
const flags = computed(() =>
  flagsOf(props.lane.events, props.x, props.width).map((f) => ({ ...f, nudge: f.nudge + 24 * f.row })),
)
/** A lane that has the screen to itself has a scale. */
const tall = computed(() => {
  if (props.height < 180) return []
  const out: number[] = []
  for (let f = 50; f <= 600; f += 50) out.push(toC(f))
  return out.filter((c) => y(c) > 14 && y(c) < props.height - 30 && Math.abs(y(c) - y(line.value)) > 16)
})
const line = computed(() => props.lane.set?.c ?? holdC)
</script>

<template>
  <svg class="lane" :width="width" :height="height" role="img" :aria-label="`Temperature of ${lane.name}`">
    <g v-for="b in bands" :key="`${b.from}${b.c}`">
      <rect
        :x="b.from"
        :y="y(b.c + bandC)"
        :width="b.wide"
        :height="y(b.c - bandC) - y(b.c + bandC)"
        fill="var(--trough)"
      />
      <path
        :d="`M${Math.max(36, b.from)} ${y(b.c)}H${Math.max(36, b.from + b.wide)}`"
        stroke="var(--edge)"
        stroke-dasharray="5 4"
      />
    </g>
    <path v-if="!bands.length" :d="`M36 ${y(line)}H${width}`" stroke="var(--edge)" stroke-dasharray="5 4" />
    <text v-for="c in tall" :key="c" x="4" :y="y(c) + 5" class="axis">{{ degrees(c) }}</text>
    <text x="4" :y="y(line) + 5" class="axis">{{ degrees(line) }}</text>
    <path v-for="p in paths" :key="p.id" class="trace" :d="p.d" :stroke-dasharray="p.dash" :stroke-width="p.wide" />
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
  stroke-linejoin: round;
}
</style>
