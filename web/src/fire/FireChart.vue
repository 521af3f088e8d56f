<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useDebounceFn, useElementSize } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, ok } from '../api/client'
import type { CookView, Event, Traces } from '../api/schema.gen'
import { armName, useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { clock, date } from '../ui/time'
import { typedTemperature } from '../ui/units'
import ArmLane from './ArmLane.vue'
import FireDoor from './FireDoor.vue'
import { anchorOf, pitLanes, railLabel, shifts, type Align } from './lanes'
import { label } from './acts'
import PitTrace from './PitTrace.vue'
import SafetyClock from './SafetyClock.vue'
import { useUntil } from './replay'
import { ticks } from './scale'

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
})
// The plan as it stands, and what was done of it.
const { data: due } = useQuery({
  queryKey: computed(() => ['due', props.cook.id]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/due', { params: { path: { id: props.cook.id } } })),
  enabled: computed(() => !props.waiting), // the traces come first
})
// The same forecast as in the table below.
const { data: outlooks } = useQuery({
  queryKey: computed(() => ['forecast', props.cook.id]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/forecast', { params: { path: { id: props.cook.id } } })),
  enabled: computed(() => props.ahead !== null),
})

const plot = ref<HTMLElement | null>(null)
const { width } = useElementSize(plot)
watch(width, (w) => emit('size', Math.round(w)))
const many = computed(() => trial.value.ask.arms.length > 4)
const laneH = computed(() => (many.value ? 104 : 156))
const pitH = 96

// While a hand moves the picture, the sheet that is drawn is moved as it is; it is drawn anew once the hand rests.
const drawn = shallowRef(props.view)
let gesture = -Infinity
const rests = 140
const settle = useDebounceFn(() => (drawn.value = props.view), rests)
watch(
  () => props.view,
  (v) => {
    if (performance.now() - gesture < rests) void settle()
    else drawn.value = v
  },
)
const sheet = computed(() => {
  const [a, b] = drawn.value
  const [c, d] = props.view
  if (a === c && b === d) return undefined
  return { transform: `translateX(${((a - c) / (d - c)) * width.value}px) scaleX(${(b - a) / (d - c)})` }
})
// A function of plain numbers: it is called for every point there is.
const x = computed(() => {
  const [from, to] = drawn.value
  const scale = width.value / (to - from)
  return (ms: number) => (ms - from) * scale
})
/** Where the hand sees a moment, also while the sheet is moved. */
const seen = (ms: number) => ((ms - props.view[0]) / (props.view[1] - props.view[0])) * width.value
const at = (px: number) => props.view[0] + (px / width.value) * (props.view[1] - props.view[0])
const hover = ref<number | null>(null)
const cursor = computed(() => hover.value ?? props.marked ?? props.until)
const marks = computed(() => {
  const [from, to] = drawn.value
  if (props.align === 'clock') return ticks(from, to, width.value)
  // Full hours from the act, not full hours of the day.
  const zero = shifted.value.zero
  return ticks(from - zero, to - zero, width.value).map((t) => t + zero)
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
const lanes = computed(() =>
  trial.value.ask.arms.map((arm, i) => {
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
  lanes.value.map((l) => ({ key: l.i, traces: l.traces, at: then(shifted.value.by[l.i]!) })),
)
const doorPits = computed(() => pits.value.map((p) => ({ ...p, at: then(pitBy(p.runId)) })))
const mine = <T extends { cut_id: number }>(of: T[] | undefined, cuts: { id: number }[]) =>
  (of ?? []).filter((k) => cuts.some((c) => c.id === k.cut_id))
const lastAt = computed(() => Math.min(Date.parse(props.cook.now), Date.parse(props.traces?.last || props.cook.now)))
const doorTime = computed(() => {
  if (cursor.value !== null) return railLabel(cursor.value, props.align, shifted.value.zero)
  return props.traces?.traces.length ? clock(props.traces.last) : '--:--'
})

// Wheel zooms around the pointer, dragging moves, a click marks a moment.
let drag: { px: number; view: [number, number]; moved: boolean } | null = null
function zoom(factor: number, ms: number) {
  gesture = performance.now()
  const [a, b] = props.view
  emit('view', [ms - (ms - a) * factor, ms + (b - ms) * factor])
}
function local(e: MouseEvent) {
  return e.clientX - plot.value!.getBoundingClientRect().left
}
function down(e: PointerEvent) {
  drag = { px: local(e), view: [...props.view], moved: false }
}
function move(e: PointerEvent) {
  if (!drag) {
    hover.value = at(local(e))
    return
  }
  gesture = performance.now()
  const by = local(e) - drag.px
  if (Math.abs(by) > 4) drag.moved = true
  const ms = (by / width.value) * (drag.view[1] - drag.view[0])
  if (!drag.moved) return
  hover.value = null
  emit('view', [drag.view[0] - ms, drag.view[1] - ms])
}
function up(e: PointerEvent) {
  if (drag && !drag.moved) emit('mark', Math.round(at(local(e)) / 60_000) * 60_000)
  drag = null
}
function leave() {
  hover.value = null
  drag = null
}
defineExpose({ plot })
</script>

<template>
  <div class="board chart">
    <div class="heads">
      <div class="corner">
        {{ align === 'clock' ? date(view[0]) : `from ${label(align).toLowerCase()}` }}
      </div>
      <div v-for="l in lanes" :key="l.arm.id" class="head" :style="{ height: `${laneH}px` }">
        <div class="row tag">
          <ArmToken :place="l.i" :size="30" /> <b class="num">{{ l.arm.tag }}</b>
        </div>
        <div class="small">{{ armName(l.arm) }}</div>
        <div class="small soot">
          {{ l.cuts.length ? l.cuts.map((c) => c.name).join(', ') : 'no cut in this cook' }}
        </div>
        <div v-if="align !== 'clock' && anchors[l.i] === null && l.cuts.length" class="small soot">
          no {{ label(align).toLowerCase() }}: on the clock
        </div>
        <SafetyClock v-if="until === null" :clocks="clocksOf[l.i]!" />
      </div>
      <div v-for="p in pits" :key="p.key" class="head" :style="{ height: `${pitH}px` }">
        <h3>{{ p.name }}</h3>
        <div v-if="p.set" class="small soot">set {{ typedTemperature(p.set) }}</div>
        <div class="small soot">{{ p.setup }}</div>
      </div>
    </div>
    <div
      ref="plot"
      class="plot"
      data-testid="chart"
      :data-last="traces?.last"
      @wheel.prevent="(e) => zoom(e.deltaY > 0 ? 1.25 : 0.8, at(local(e)))"
      @pointerdown="down"
      @pointermove="move"
      @pointerup="up"
      @pointerleave="leave"
    >
      <svg width="0" height="0" aria-hidden="true">
        <pattern id="stall" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(21)">
          <path d="M0 0V8" stroke="var(--edge)" stroke-width="1.5" />
        </pattern>
      </svg>
      <div class="sheet" :style="sheet">
        <svg class="rail" :width="width" height="36" aria-hidden="true">
          <text v-for="t in marks.filter((t) => x(t) < width - 30)" :key="t" :x="x(t)" y="20" text-anchor="middle">
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
      <div v-if="until !== null" class="curtain" :style="{ left: `${seen(until)}px` }" aria-hidden="true" />
      <div v-if="cursor !== null" class="cursor" :style="{ left: `${seen(cursor)}px` }" aria-hidden="true" />
    </div>
    <FireDoor
      :time="doorTime"
      :lanes="doorLanes"
      :pits="doorPits"
      :reach="reach"
      :now="now"
      :latest="latest"
      :lane-h="laneH"
      :pit-h="pitH"
    />
  </div>
</template>

<style scoped>
.chart {
  display: grid;
  grid-template-columns: 148px minmax(0, 1fr) 152px;
  padding: 0;
}
.corner {
  height: 36px;
  padding: 8px 16px;
  font-weight: 700;
  font-size: var(--t-sm);
}
.head {
  border-top: var(--line) solid var(--edge);
  padding: 10px 8px 4px 16px;
  border-right: var(--line) solid var(--edge);
  overflow: hidden;
}
.tag {
  font-size: 19px;
  gap: 8px;
  margin-bottom: 4px;
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
  top: 36px;
  bottom: 0;
  pointer-events: none;
}
.cursor {
  width: 0;
  border-left: 1.5px solid var(--ink);
}
.curtain {
  right: 0;
  background: var(--board);
  border-left: 3px solid var(--ember);
}
@media (max-width: 900px) {
  .chart {
    grid-template-columns: 84px minmax(0, 1fr);
  }
  .head,
  .corner {
    padding-left: 6px;
    white-space: nowrap;
    overflow: hidden;
  }
  .head .small {
    display: none;
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
