<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useElementSize } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, ok } from '../api/client'
import type { CookView, Event, Outlook, Trace, Traces } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { clock, date } from '../ui/time'
import { degrees, system, temperature, toF, typedTemperature } from '../ui/units'
import SafetyClock from './SafetyClock.vue'
import { label, letters } from './acts'
import { coreY, ticks, tracePath, valueAt } from './scale'

/** Arms as lanes on one time axis, the pits below, and the door with the numbers. */
const props = defineProps<{
  cook: CookView
  traces: Traces | undefined
  view: [number, number]
  marked: number | null
  /** What is likely is drawn right of this moment; null leaves it out. */
  ahead: number | null
}>()
const emit = defineEmits<{ view: [[number, number]]; mark: [number]; size: [number]; event: [Event] }>()
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
})
function planned(arm: number) {
  const lane = due.value?.lanes.find((l) => l.arm === arm)
  const phases = trial.value.outline.arms[arm]?.phases ?? []
  return (lane?.blocks ?? []).map((b) => ({ ...b, name: phases[b.phase]?.name ?? '' }))
}
const wide = (from: string, to: string) => Math.max(1, x(Date.parse(to)) - x(Date.parse(from)))
const stallsOf = (cuts: { id: number }[]) =>
  (clocks.value ?? []).filter((k) => k.stall_from && k.stall_to && cuts.some((c) => c.id === k.cut_id))
/** Stretches of an arm by what its first cut logged: smoke, wrapped, rest, hold. */
function didOf(cuts: { id: number }[]) {
  const events = trial.value.events
    .filter((e) => e.cut_id !== null && e.cut_id === cuts[0]?.id)
    .sort((a, b) => Date.parse(a.at) - Date.parse(b.at))
  const names: Partial<Record<Event['act'], string>> = {
    on: 'smoke',
    wrap: 'wrapped',
    unwrap: 'smoke',
    pull: 'rest',
    hold: 'hold',
  }
  const out: { from: number; to: number; name: string; wrapped: boolean }[] = []
  const last = Math.min(Date.parse(props.cook.now), Date.parse(props.traces?.last ?? props.cook.now))
  for (const e of events) {
    const open = out[out.length - 1]
    if (e.act === 'carve' && open) open.to = Date.parse(e.at)
    const name = names[e.act]
    if (!name) continue
    if (open) open.to = Date.parse(e.at)
    out.push({ from: Date.parse(e.at), to: Math.max(last, Date.parse(e.at)), name, wrapped: name === 'wrapped' })
  }
  return out
}
// The same forecast as in the table below.
const { data: outlooks } = useQuery({
  queryKey: computed(() => ['forecast', props.cook.id]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/forecast', { params: { path: { id: props.cook.id } } })),
  enabled: computed(() => props.ahead !== null),
})
const fanOf = (o: Outlook) => {
  const side = (c: 'low' | 'high') =>
    o.fan.map((f) => `${x(Date.parse(f.at)).toFixed(1)} ${coreY(f[c], traceH).toFixed(1)}`)
  return `M${side('high').join('L')}L${side('low').reverse().join('L')}Z`
}
const likely = (cuts: { id: number }[]) =>
  props.ahead === null ? [] : (outlooks.value ?? []).filter((o) => o.done && cuts.some((c) => c.id === o.cut_id))
const plot = ref<HTMLElement | null>(null)
const { width } = useElementSize(plot)
watch(width, (w) => emit('size', Math.round(w)))
/** Phases have a row of their own under the traces. */
const phaseH = 22
const laneH = 156
const traceH = laneH - phaseH
const pitH = 96

const x = (ms: number) => ((ms - props.view[0]) / (props.view[1] - props.view[0])) * width.value
const at = (px: number) => props.view[0] + (px / width.value) * (props.view[1] - props.view[0])
const hover = ref<number | null>(null)
const cursor = computed(() => hover.value ?? props.marked)
const marks = computed(() => ticks(props.view[0], props.view[1], width.value))
const stretch = computed(() =>
  props.traces ? (Date.parse(props.traces.to) - Date.parse(props.traces.from)) / Math.max(1, width.value) : 60_000,
)
const hole = computed(() => Math.max(3 * stretch.value, 12 * 60_000))

const cutOf = (t: Trace) => trial.value.cuts.find((c) => c.id === t.cut_id)
const lanes = computed(() =>
  trial.value.ask.arms.map((arm, i) => {
    const cuts = trial.value.cuts.filter((c) => armOf(c) === i && c.placement?.cook_id === props.cook.id)
    const traces = (props.traces?.traces ?? []).filter((t) => t.cut_id !== null && cuts.some((c) => c.id === t.cut_id))
    return { arm, i, cuts, traces, flags: flagsOf((e) => e.cut_id !== null && cuts.some((c) => c.id === e.cut_id)) }
  }),
)
/** Pits, and the holders that have a probe: lanes of one scale around what they did. */
const pits = computed(() => [
  ...props.cook.runs.map((run) => ({
    key: `pit ${run.id}`,
    name: run.pit,
    set: { c: run.set_point_c, typed: run.set_point_typed } as { c: number; typed: string } | null,
    setup: run.setup,
    traces: (props.traces?.traces ?? []).filter((t) => t.pit_run_id === run.id),
    flags: flagsOf((e) => e.pit_run_id === run.id),
  })),
  ...props.cook.holders.map((run) => ({
    key: `holder ${run.id}`,
    name: run.holder,
    set: null,
    setup: 'holder',
    traces: (props.traces?.traces ?? []).filter((t) => t.holder_run_id === run.id),
    flags: [] as Flag[],
  })),
])

interface Flag {
  act: Event['act']
  x: number
  row: number
  events: Event[]
}
/** Events of one act that would overlap share a flag, with their number; other flags take the next row. */
function flagsOf(mine: (e: Event) => boolean): Flag[] {
  const flags: Flag[] = []
  for (const e of trial.value.events.filter(mine)) {
    const ms = Date.parse(e.at)
    const same = flags.find((f) => f.act === e.act && Math.abs(f.x - x(ms)) < 24)
    if (same) same.events.push(e)
    else flags.push({ act: e.act, x: x(ms), row: 0, events: [e] })
  }
  flags.forEach((f, i) => {
    const taken = flags
      .slice(0, i)
      .filter((g) => Math.abs(g.x - f.x) < 33)
      .map((g) => g.row)
    while (taken.includes(f.row)) f.row++
  })
  return flags.filter((f) => f.x > -12 && f.x < width.value + 12)
}
const who = (events: Event[]) =>
  events
    .map((e) => trial.value.cuts.find((c) => c.id === e.cut_id)?.name)
    .filter(Boolean)
    .join(', ')
const flagTitle = (f: Flag) =>
  `${clock(f.events[0]!.at)} ${label(f.act)} ${who(f.events)} ${f.events[0]!.note} (${f.events[0]!.by})`

// Each of these lanes has a scale around its set point, or around what it did.
type Pit = (typeof pits.value)[number]
/** Hot holding begins here. */
const holdC = 60
function range(p: Pit): readonly [number, number] {
  const values = [p.set?.c ?? holdC, ...p.traces.flatMap((t) => t.points.flatMap((q) => [q[1]!, q[2]!]))]
  const low = Math.min(...values)
  return [Math.max(low, p.set ? p.set.c - 45 : low) - 3, Math.max(...values, p.set ? p.set.c + 15 : 0) + 3]
}
const ranges = computed(() => new Map(pits.value.map((p) => [p.key, range(p)])))
function pitY(p: Pit, c: number) {
  const [low, top] = ranges.value.get(p.key)!
  return pitH - 26 - ((c - low) / (top - low)) * (pitH - 34)
}

/** What the door reads: at the cursor, else the last reading of each probe. */
function read(t: Trace): number | null {
  if (cursor.value !== null) return valueAt(t, cursor.value, Math.max(stretch.value * 2, 180_000))
  const last = t.points[t.points.length - 1]
  return last ? (last[1]! + last[2]!) / 2 : null
}
function readings(traces: Trace[]): { name: string; c: number }[] {
  const byCut = new Map<string, number>()
  for (const t of traces) {
    const c = read(t)
    const name = cutOf(t)?.name ?? ''
    // Of several probes in a cut the coldest decides.
    if (c !== null) byCut.set(name, Math.min(c, byCut.get(name) ?? Infinity))
  }
  return [...byCut].map(([name, c]) => ({ name, c })).sort((a, b) => b.c - a.c)
}
const doorTime = computed(() =>
  cursor.value !== null ? clock(cursor.value) : props.traces?.traces.length ? clock(props.traces.last) : '--:--',
)

// Wheel zooms around the pointer, dragging moves, a click marks a moment.
let drag: { px: number; view: [number, number]; moved: boolean } | null = null
function zoom(factor: number, ms: number) {
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
  hover.value = at(local(e))
  if (!drag) return
  const by = local(e) - drag.px
  if (Math.abs(by) > 4) drag.moved = true
  const ms = (by / width.value) * (drag.view[1] - drag.view[0])
  if (drag.moved) emit('view', [drag.view[0] - ms, drag.view[1] - ms])
}
function up(e: PointerEvent) {
  if (drag && !drag.moved) emit('mark', Math.round(at(local(e)) / 60_000) * 60_000)
  drag = null
}
function leave() {
  hover.value = null
  drag = null
}
// The first cut of an arm is drawn strong, the others thin and dashed, each named in the door.
const traceStyle = (i: number) => ({
  strokeWidth: i === 0 ? '3px' : '1.75px',
  strokeDasharray: ['none', '7 4', '2 4', '12 4 2 4'][i % 4],
})
const guide = (f: number) => (f - 32) / 1.8
</script>

<template>
  <div class="board chart">
    <div class="heads">
      <div class="corner">{{ date(view[0]) }}</div>
      <div v-for="l in lanes" :key="l.arm.id" class="head" :style="{ height: `${laneH}px` }">
        <div class="row tag">
          <ArmToken :place="l.i" :size="30" /> <b class="num">{{ l.arm.tag }}</b>
        </div>
        <div class="small">{{ l.arm.levels.join(', ') }}</div>
        <div class="small soot">{{ l.cuts.length ? l.cuts.map((c) => c.name).join(', ') : 'no cut in this cook' }}</div>
        <SafetyClock :clocks="(clocks ?? []).filter((k) => l.cuts.some((c) => c.id === k.cut_id))" />
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
      <svg class="rail" :width="width" height="36" aria-hidden="true">
        <text v-for="t in marks" :key="t" :x="x(t)" y="20" text-anchor="middle">{{ clock(t) }}</text>
        <path v-for="t in marks" :key="`m${t}`" :d="`M${x(t)} 26v8`" stroke="var(--ink)" stroke-width="2" />
      </svg>
      <svg
        v-for="l in lanes"
        :key="l.arm.id"
        class="lane"
        :width="width"
        :height="laneH"
        role="img"
        :aria-label="`Core temperatures of ${l.arm.tag}`"
        :style="{ color: `var(--arm${l.i + 1})` }"
      >
        <rect x="0" :y="coreY(60, traceH)" :width="width" :height="traceH - coreY(60, traceH)" fill="var(--lime)" />
        <rect
          v-for="s in stallsOf(l.cuts)"
          :key="`stall${s.cut_id}`"
          :x="x(Date.parse(s.stall_from!))"
          y="0"
          :width="Math.max(1, x(Date.parse(s.stall_to!)) - x(Date.parse(s.stall_from!)))"
          :height="traceH"
          fill="url(#stall)"
          :data-testid="`stall-${l.arm.tag}`"
        >
          <title>stall of {{ trial.cuts.find((c) => c.id === s.cut_id)?.name }}</title>
        </rect>
        <path v-for="t in marks" :key="t" :d="`M${x(t)} 0v${laneH}`" stroke="var(--grain)" />
        <g v-for="f in [140, 165, 203]" :key="f">
          <path :d="`M34 ${coreY(guide(f), traceH)}H${width}`" stroke="var(--edge)" stroke-dasharray="5 4" />
          <text x="2" :y="coreY(guide(f), traceH) + 5" class="axis">
            {{ system === 'F' ? f : Math.round(guide(f)) }}
          </text>
        </g>
        <g v-for="(o, n) in likely(l.cuts)" :key="`fan${o.cut_id}`" :data-testid="`fan-${l.arm.tag}`">
          <path :d="fanOf(o)" class="fan" />
          <rect
            :x="x(Date.parse(o.done!.low))"
            :y="coreY(o.target_c, traceH) - 3 + 8 * n"
            :width="Math.max(2, x(Date.parse(o.done!.high)) - x(Date.parse(o.done!.low)))"
            height="6"
            class="span"
          >
            <title>
              {{ trial.cuts.find((c) => c.id === o.cut_id)?.name }} at {{ temperature(o.target_c) }} between
              {{ clock(o.done!.low) }} and {{ clock(o.done!.high) }}, 8 times in 10
            </title>
          </rect>
          <path
            :d="`M${x(Date.parse(o.done!.middle))} ${coreY(o.target_c, traceH) - 8 + 8 * n}l7 8l-7 8l-7 -8Z`"
            class="middle"
          />
        </g>
        <g v-for="b in planned(l.i)" :key="`plan${b.phase}`" class="planned" :data-testid="`planned-${l.arm.tag}`">
          <title>{{ b.name }} planned from {{ clock(b.from) }} to {{ clock(b.to.middle) }}</title>
          <rect :x="x(Date.parse(b.from))" :y="traceH + 2" :width="wide(b.from, b.to.middle)" :height="phaseH - 5" />
          <text
            v-if="wide(b.from, b.to.middle) > 9 * b.name.length"
            :x="Math.max(4, x(Date.parse(b.from)) + 4)"
            :y="laneH - 7"
          >
            {{ b.name }}
          </text>
        </g>
        <rect
          v-for="d in didOf(l.cuts)"
          :key="`did${d.from}`"
          class="did"
          :x="x(d.from)"
          :y="traceH + 2"
          :width="Math.max(1, x(d.to) - x(d.from))"
          :height="phaseH - 5"
          :style="{ opacity: d.wrapped ? 0.5 : 0.28 }"
        >
          <title>{{ d.name }} from {{ clock(d.from) }}</title>
        </rect>
        <g v-if="ahead !== null" aria-hidden="true">
          <path :d="`M${x(ahead)} 0v${laneH}`" stroke="var(--ember)" stroke-width="3" />
          <path :d="`M${x(Date.parse(cook.serve_at))} 0v${laneH}`" stroke="var(--ink)" stroke-width="3" />
        </g>
        <path
          v-for="(t, n) in l.traces"
          :key="t.probe_id"
          class="trace"
          :d="tracePath(t, x, (c) => coreY(c, traceH), hole)"
          :style="traceStyle(n)"
        />
        <g
          v-for="f in l.flags"
          :key="`${f.act}${f.events[0]!.id}`"
          class="flag"
          :transform="`translate(${f.x} ${4 + 25 * f.row})`"
          @pointerdown.stop
          @pointerup.stop="emit('event', f.events[0]!)"
        >
          <title>{{ flagTitle(f) }}</title>
          <path :d="`M0 20V${laneH}`" stroke="var(--ink)" stroke-width="1" opacity="0.35" />
          <rect x="-10" y="0" :width="f.events.length > 1 ? 30 : 20" height="21" rx="3" />
          <text y="16" text-anchor="middle">{{ letters[f.act] }}</text>
          <text v-if="f.events.length > 1" x="12" y="16" text-anchor="middle" class="many">{{ f.events.length }}</text>
        </g>
        <path v-if="cursor !== null" :d="`M${x(cursor)} 0v${laneH}`" stroke="var(--ink)" stroke-width="1.5" />
      </svg>
      <svg
        v-for="p in pits"
        :key="p.key"
        class="lane"
        :width="width"
        :height="pitH"
        role="img"
        :aria-label="`Temperature of ${p.name}`"
      >
        <template v-if="p.set">
          <rect
            x="0"
            :y="pitY(p, p.set.c + 5.6)"
            :width="width"
            :height="pitY(p, p.set.c - 5.6) - pitY(p, p.set.c + 5.6)"
            fill="var(--trough)"
          />
        </template>
        <path :d="`M34 ${pitY(p, p.set?.c ?? holdC)}H${width}`" stroke="var(--edge)" stroke-dasharray="5 4" />
        <text x="2" :y="pitY(p, p.set?.c ?? holdC) + 5" class="axis">{{ degrees(p.set?.c ?? holdC) }}</text>
        <path v-for="t in p.traces" :key="t.probe_id" class="trace pit" :d="tracePath(t, x, (c) => pitY(p, c), hole)" />
        <g
          v-for="f in p.flags"
          :key="`${f.act}${f.events[0]!.id}`"
          class="flag"
          :transform="`translate(${f.x} ${pitH - 23})`"
          @pointerdown.stop
          @pointerup.stop="emit('event', f.events[0]!)"
        >
          <title>{{ flagTitle(f) }}</title>
          <rect x="-10" y="0" :width="f.events.length > 1 ? 30 : 20" height="21" rx="3" />
          <text y="16" text-anchor="middle">{{ letters[f.act] }}</text>
          <text v-if="f.events.length > 1" x="12" y="16" text-anchor="middle" class="many">{{ f.events.length }}</text>
        </g>
        <path v-if="cursor !== null" :d="`M${x(cursor)} 0v${pitH}`" stroke="var(--ink)" stroke-width="1.5" />
      </svg>
    </div>
    <div class="door">
      <div class="now num">{{ doorTime }}</div>
      <div v-for="l in lanes" :key="l.arm.id" class="read" :style="{ height: `${laneH}px` }">
        <template v-if="readings(l.traces).length">
          <div class="lead num">
            {{ degrees(readings(l.traces)[0]!.c) }}<sup>{{ system }}</sup>
          </div>
          <div class="others num">
            <span v-for="r in readings(l.traces)" :key="r.name"
              ><i>{{ r.name }}</i> {{ degrees(r.c) }}</span
            >
          </div>
        </template>
        <div v-else class="silent">no reading{{ cursor === null ? '' : ' then' }}</div>
      </div>
      <div v-for="p in pits" :key="p.key" class="read" :style="{ height: `${pitH}px` }">
        <template v-for="t in p.traces" :key="t.probe_id">
          <div v-if="read(t) !== null" class="lead num pitlead">
            {{ degrees(read(t)!) }}<sup>{{ system }}</sup>
          </div>
          <div v-if="read(t) !== null && p.set" class="small">
            from set
            <b class="num push">{{ Math.round(system === 'F' ? toF(read(t)!) - toF(p.set.c) : read(t)! - p.set.c) }}</b>
          </div>
        </template>
        <div v-if="!p.traces.length" class="silent">no probe</div>
      </div>
    </div>
    <span class="visually-hidden" aria-live="polite">{{
      cursor === null
        ? ''
        : lanes
            .map((l) => `${l.arm.tag} ${readings(l.traces)[0] ? temperature(readings(l.traces)[0]!.c) : ''}`)
            .join(', ')
    }}</span>
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
.lane {
  border-top: var(--line) solid var(--edge);
}
.lane:first-of-type {
  border-top: 0;
}
.axis {
  font: 13px var(--font-num);
  fill: var(--soot);
}
.trace {
  fill: none;
  stroke: currentColor;
  stroke-linejoin: round;
}
.trace.pit {
  stroke: var(--ink);
  stroke-width: 2;
}
.planned rect {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.5;
}
.planned text {
  font: 13px var(--font-text);
  fill: var(--ink);
}
.did {
  fill: currentColor;
}
.fan {
  fill: currentColor;
  opacity: 0.16;
}
.span {
  fill: currentColor;
}
.middle {
  fill: var(--board);
  stroke: currentColor;
  stroke-width: 2;
}
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
.door {
  background: var(--iron);
  color: var(--on-iron);
  border: 3px solid var(--iron);
}
.now {
  height: 33px;
  font-size: 20px;
  font-weight: 700;
  text-align: center;
  border-bottom: 3px solid var(--on-iron-2);
}
.read {
  border-top: var(--line) solid var(--soot);
  padding: 4px 10px;
  overflow: hidden;
}
.lead {
  font-size: 44px;
  font-weight: 700;
  line-height: 1;
}
.lead.pitlead {
  font-size: 36px;
}
.lead sup {
  font-size: 15px;
  font-weight: 400;
}
.others {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 8px;
  font-size: 14px;
}
.others i {
  font-style: normal;
  color: var(--on-iron-2);
}
.silent {
  color: var(--on-iron-2);
  padding-top: 8px;
}
@media (max-width: 900px) {
  .chart {
    grid-template-columns: 84px minmax(0, 1fr);
  }
  .door {
    display: none;
  }
  .head {
    padding-left: 6px;
  }
  .head .small {
    display: none;
  }
}
@media print {
  .door {
    display: none;
  }
  .chart {
    grid-template-columns: 148px minmax(0, 1fr);
  }
}
</style>
