<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useElementSize, useMediaQuery } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import { api, ok } from '../api/client'
import type { CookView, Event, Outlook, Traces } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { handheld } from '../ui/screens'
import { clock, date } from '../ui/time'
import ArmLane from './ArmLane.vue'
import { useDue } from './due'
import FireDoor from './FireDoor.vue'
import LaneHead from './LaneHead.vue'
import { anchorOf, handReads, pitLanes, railLabel, shifts, type Align } from './lanes'
import { label } from './acts'
import PitHead from './PitHead.vue'
import PitTrace from './PitTrace.vue'
import { useUntil } from './replay'
import { ticks } from './scale'
import { useSheet } from './sheet'

/** Arms as lanes on one time axis, the pits below, and the door with the numbers. */
const props = defineProps<{
  cook: CookView
  traces: Traces | undefined
  /** The traces are still being read. */
  waiting: boolean
  latest: Map<number, { at: number; c: number }>
  view: [number, number]
  align: Align
  marked: number | null
  now: number
  /** What is likely is drawn right of this moment; null leaves it out. */
  ahead: number | null
  /** Where the door hangs; null is the end of the view. */
  door: number | null
  /** A finished cook is shown as it was at this moment; null is all of it. */
  until: number | null
}>()
const emit = defineEmits<{
  view: [[number, number]]
  mark: [number]
  size: [number]
  shift: [number] // ms, of the lane that is shifted most
  event: [Event]
}>()
const { trial, armOf } = useThisTrial()

const { data: clocks } = useQuery({
  queryKey: computed(() => ['clocks', props.cook.id]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/clocks', { params: { path: { id: props.cook.id } } })),
  refetchInterval: 30_000,
  enabled: computed(() => !props.waiting), // the traces come first
})
const { view: due } = useDue(
  () => props.cook,
  () => !props.waiting,
)
// The same forecast as in the table below.
const { data: outlooks } = useQuery({
  queryKey: computed(() => ['forecast', props.cook.id]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/forecast', { params: { path: { id: props.cook.id } } })),
  enabled: computed(() => props.ahead !== null),
})

const board = ref<HTMLElement | null>(null)
const plot = ref<HTMLElement | null>(null)
const { width } = useElementSize(plot)
const { height: room } = useElementSize(board)
watch(width, (w) => emit('size', Math.round(w)))
const small = useMediaQuery(handheld)
/** Lanes take what is left of the screen, and scroll inside the board when that is too little. */
const railH = 36
const mounted = ref(0)
onMounted(() => (mounted.value = board.value?.clientHeight ?? 0))
const heights = computed(() => {
  // Before it is watched: as it was mounted, and before that what shell, due and pads usually leave.
  const left = room.value || mounted.value || window.innerHeight - 302
  const free = (small.value ? window.innerHeight * 0.6 : left) - railH - 2
  const n = Math.max(1, pits.value.length)
  const pit = dry.value
    ? Math.max(180, Math.floor(free / n))
    : Math.max(52, Math.min(96, Math.floor((free * 0.22) / n)))
  const lane = Math.floor((free - pits.value.length * pit) / Math.max(1, lanes.value.length))
  return { lane: Math.max(64, Math.min(260, lane)), pit }
})
const laneH = computed(() => heights.value.lane)
const pitH = computed(() => heights.value.pit)

/** The door hangs at now, or at the moment that is played; where lanes are shifted, at the end. */
const gutter = 40
const doorW = computed(() => (small.value ? 0 : 148))
const {
  drawn,
  door,
  x,
  moved: sheet,
  hover,
  seen: onScreen,
} = useSheet({
  plot,
  view: () => props.view,
  room: () => ({ width: width.value, gutter, door: doorW.value }),
  hangs: () => (props.align === 'clock' ? (props.until ?? props.door ?? Infinity) : Infinity),
  look: (v) => emit('view', v),
  mark: (ms) => emit('mark', ms),
})
const seen = (ms: number) => onScreen.value.x(ms)
const cursor = computed(() => hover.value ?? props.marked ?? props.until)
const marks = computed(() => {
  const [from, to] = drawn.value
  const room = width.value - gutter - doorW.value
  if (props.align === 'clock') return ticks(from, to, room)
  // Full hours from the act, not full hours of the day.
  const zero = shifted.value.zero
  return ticks(from - zero, to - zero, room).map((t) => t + zero)
})
const marksX = computed(() => marks.value.map(x.value))
const stretch = computed(() =>
  props.traces
    ? (Date.parse(props.traces.to) - Date.parse(props.traces.from)) / Math.max(1, props.traces.columns)
    : 60_000,
)
const hole = computed(() => Math.max(3 * stretch.value, 12 * 60_000))
const reach = computed(() => Math.max(stretch.value * 2, 180_000))

const events = useUntil(
  computed(() => trial.value.events),
  () => props.until,
)
/** A burn without meat has no lane but its pit's. */
const dry = computed(() => trial.value.ask.kind === 'set-ups')
const lanes = computed(() =>
  (dry.value ? [] : trial.value.ask.arms).map((arm, i) => {
    const cuts = trial.value.cuts.filter((c) => armOf(c) === i && c.placement?.cook_id === props.cook.id)
    const mine = (id: number | null) => id !== null && cuts.some((c) => c.id === id)
    const traces = (props.traces?.traces ?? []).filter((t) => mine(t.cut_id))
    return { arm, i, cuts, traces, events: events.value.filter((e) => mine(e.cut_id)) }
  }),
)
const pits = computed(() => pitLanes(props.cook, props.traces?.traces ?? [], events.value))

// Lanes that are laid side by side on an act are each shifted by their own time.
const anchors = computed(() =>
  lanes.value.map((l) => (props.align === 'clock' ? null : anchorOf(trial.value.events, l.cuts, props.align))),
)
const shifted = computed(() => shifts(anchors.value))
watch(
  () => Math.max(0, ...shifted.value.by),
  (by) => emit('shift', by),
  { immediate: true },
)
const moved = (by: number) => {
  const plain = x.value
  return by === 0 ? plain : (ms: number) => plain(ms - by)
}
const laneX = computed(() => shifted.value.by.map(moved))
/** A pit goes with the first lane that stands in it. */
const pitBy = (run: number | null) => {
  const i = lanes.value.findIndex((l) => l.cuts.some((c) => c.placement?.pit_run_id === run))
  return shifted.value.by[i] ?? 0
}
const pitX = computed(() => pits.value.map((p) => moved(pitBy(p.runId))))
const then = (by: number) => (cursor.value === null ? null : cursor.value + by)

// Each its own list, so that a lane is drawn anew only when something of it is another.
const blocks = computed(() => lanes.value.map((l) => due.value?.lanes.find((p) => p.arm === l.i)?.blocks ?? []))
const clocksOf = computed(() => lanes.value.map((l) => mine(clocks.value, l.cuts)))
const likely = computed(() =>
  lanes.value.map((l) => (props.ahead === null ? [] : mine(outlooks.value, l.cuts).filter((o) => o.done))),
)
const doorLanes = computed(() =>
  lanes.value.map((l) => ({
    key: l.i,
    traces: l.traces,
    hands: handReads(l.events, l.cuts, then(shifted.value.by[l.i]!)),
    at: then(shifted.value.by[l.i]!),
    stalled: cursor.value === null && clocksOf.value[l.i]!.some((k) => k.stall_from && !k.stall_to),
    pull: latestOf(likely.value[l.i]!),
  })),
)
/** An arm is done with the last of its cuts. */
const latestOf = (of: Outlook[]) =>
  of.reduce<Outlook | null>((last, o) => (!last || o.done!.middle > last.done!.middle ? o : last), null)
const headSaid = (i: number) =>
  props.align !== 'clock' && anchors.value[i] === null && lanes.value[i]!.cuts.length
    ? `no ${label(props.align).toLowerCase()}: on the clock`
    : ''
const doorPits = computed(() => pits.value.map((p) => ({ ...p, at: then(pitBy(p.runId)) })))
const mine = <T extends { cut_id: number }>(of: T[] | undefined, cuts: { id: number }[]) =>
  (of ?? []).filter((k) => cuts.some((c) => c.id === k.cut_id))
const lastAt = computed(() => Math.min(Date.parse(props.cook.now), Date.parse(props.traces?.last || props.cook.now)))
const doorTime = computed(() => {
  if (cursor.value !== null) return railLabel(cursor.value, props.align, shifted.value.zero)
  return props.traces?.traces.length ? clock(props.traces.last) : '--:--'
})

defineExpose({ plot })
</script>

<template>
  <div ref="board" class="board chart" tabindex="0" role="region" aria-label="Lanes of the cook">
    <div class="heads">
      <div class="corner">
        {{ align === 'clock' ? date(view[0]) : `from ${label(align).toLowerCase()}` }}
      </div>
      <LaneHead
        v-for="l in lanes"
        :key="l.arm.id"
        :arm="l.arm"
        :place="l.i"
        :cuts="l.cuts"
        :clocks="until === null ? clocksOf[l.i]! : []"
        :said="headSaid(l.i)"
        :height="laneH"
      />
      <PitHead v-for="p in pits" :key="p.key" :pit="p" :height="pitH" />
    </div>
    <div ref="plot" class="plot" data-testid="chart" :data-last="traces?.last">
      <svg width="0" height="0" aria-hidden="true">
        <pattern id="stall" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(21)">
          <path d="M0 0V8" stroke="var(--edge)" stroke-width="1.5" />
        </pattern>
      </svg>
      <div class="sheet" :style="sheet">
        <svg class="rail" :width="width" height="36" aria-hidden="true">
          <text v-for="t in marks.filter((t) => x(t) < width - 24)" :key="t" :x="x(t)" y="20" text-anchor="middle">
            {{ railLabel(t, align, shifted.zero) }}
          </text>
          <path v-for="t in marks" :key="`m${t}`" :d="`M${x(t)} 26v8`" stroke="var(--ink)" stroke-width="2" />
        </svg>
        <ArmLane
          v-for="l in lanes"
          :key="l.arm.id"
          class="lane"
          :data-name="l.arm.tag"
          :arm="l.arm"
          :place="l.i"
          :cuts="l.cuts"
          :traces="l.traces"
          :events="l.events"
          :cook="cook"
          :x="laneX[l.i]!"
          :width="width"
          :height="laneH"
          :marks="marksX"
          :hole="hole"
          :last="lastAt"
          :clocks="clocksOf[l.i]!"
          :blocks="blocks[l.i]!"
          :likely="likely[l.i]!"
          :ahead="ahead"
          :door-end="door + doorW"
          :gutter="gutter"
          @event="(e) => emit('event', e)"
        />
        <PitTrace
          v-for="(p, n) in pits"
          :key="p.key"
          class="lane"
          :data-name="p.name"
          :lane="p"
          :x="pitX[n]!"
          :width="width"
          :height="pitH"
          :hole="hole"
          @event="(e) => emit('event', e)"
        />
      </div>
      <div
        v-if="until !== null"
        class="curtain"
        :style="{ transform: `translateX(${seen(until)}px)` }"
        aria-hidden="true"
      />
      <div
        v-if="cursor !== null"
        class="cursor"
        :style="{ transform: `translateX(${seen(cursor)}px)` }"
        aria-hidden="true"
      />
    </div>
    <FireDoor
      class="door-at"
      :style="small ? undefined : { transform: `translateX(${door}px)`, width: `${doorW}px` }"
      :time="doorTime"
      :lanes="doorLanes"
      :pits="doorPits"
      :reach="reach"
      :now="now"
      :latest="latest"
      :lane-h="laneH"
      :pit-h="pitH"
      @pointerdown.stop
    />
  </div>
</template>

<style scoped>
.chart {
  position: relative;
  display: grid;
  grid-template-columns: 148px minmax(0, 1fr);
  align-content: start;
  padding: 0;
}
.door-at {
  grid-column: 2;
  grid-row: 1;
  position: relative;
  z-index: 1;
  align-self: start;
}
.plot {
  grid-column: 2;
  grid-row: 1;
}
.corner {
  height: 36px;
  padding: 8px 16px;
  font-weight: 700;
  font-size: var(--t-sm);
}
.plot {
  position: relative;
  touch-action: pan-y;
  cursor: crosshair;
  user-select: none;
  overflow: hidden;
}
svg {
  display: block;
}
.rail {
  border-bottom: var(--line-strong) solid var(--ink);
  height: 36px;
}
.rail text {
  font: 15px var(--font-num);
  fill: var(--ink);
}
.sheet {
  transform-origin: 0 0;
  will-change: transform;
}
.sheet > svg {
  overflow: visible;
}
.lane {
  border-top: var(--line) solid var(--edge);
}
.cursor,
.curtain {
  position: absolute;
  left: 0;
  top: 36px;
  bottom: 0;
  pointer-events: none;
  will-change: transform; /* moved each frame of a replay, over a picture that is dear to paint */
}
.cursor {
  width: 0;
  border-left: 1.5px solid var(--ink);
}
.curtain {
  width: 100%;
  background: var(--board);
  border-left: 3px solid var(--ember);
}
@media (max-width: 1000px) {
  .chart {
    grid-template-columns: 118px minmax(0, 1fr);
  }
  .corner {
    padding-left: 8px;
  }
}
@media (max-width: 700px), (max-height: 500px) {
  /* In the hand: the numbers as rows, the lanes under them. */
  .chart {
    grid-template-columns: 84px minmax(0, 1fr);
  }
  .door-at {
    grid-column: 1 / -1;
  }
  .heads,
  .plot {
    grid-row: 2;
  }
  .corner {
    white-space: nowrap;
    overflow: hidden;
  }
  .heads :deep(.line),
  .heads :deep(.token) {
    display: none;
  }
  .heads :deep(.head) {
    padding-left: 8px;
  }
}
@media print {
  .chart {
    grid-template-columns: 148px minmax(0, 1fr);
  }
  .cursor {
    display: none;
  }
}
</style>
