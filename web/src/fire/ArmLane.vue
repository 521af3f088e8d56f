<script setup lang="ts">
import { computed } from 'vue'
import type { Arm, Clock, CookView, CutView, DueView, Event, Outlook, Trace } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { tens } from '../plan/tasks'
import { clock } from '../ui/time'
import { temperature } from '../ui/units'
import FlagMark from './FlagMark.vue'
import { beginsIn, flagsOf, stretchesOf } from './lanes'
import { coreY, tracePath } from './scale'
import { system } from '../ui/settings'

/** One arm's lane: cores, what was planned and done, stalls, flags, and what is likely. */
const props = defineProps<{
  arm: Arm
  place: number
  cuts: CutView[]
  traces: Trace[]
  events: Event[]
  cook: CookView
  x: (ms: number) => number
  width: number
  height: number
  marks: number[] // px
  hole: number
  last: number // until when its log goes
  clocks: Clock[]
  blocks: DueView['lanes'][number]['blocks']
  likely: Outlook[]
  ahead: number | null
  doorEnd: number // px of the door's right edge
  gutter: number // px of the labels
}>()
const emit = defineEmits<{ event: [Event] }>()
const { trial } = useThisTrial()

// Plan and Did stand above the trace, as far as the height goes.
const roomy = computed(() => props.height >= 100)
const planH = computed(() => (roomy.value ? 18 : 8))
const didH = computed(() => (roomy.value ? 18 : 10))
const top = computed(() => planH.value + didH.value + (roomy.value ? 6 : 4))
const didY = computed(() => planH.value + (roomy.value ? 4 : 3))
const traceH = computed(() => props.height - top.value)
const scaleY = computed(() => {
  const [h, from] = [traceH.value, top.value]
  return (c: number) => from + coreY(c, h)
})
const y = (c: number) => scaleY.value(c)
const at = (t: string) => props.x(Date.parse(t))
const wide = (from: string, to: string) => Math.max(1, at(to) - at(from))
/** How much of a stretch lies in the view, px. */
const shown = (from: string, to: string) => Math.min(props.width, at(to)) - Math.max(0, at(from))
const name = (id: number) => trial.value.cuts.find((c) => c.id === id)?.name ?? ''

const paths = computed(() =>
  props.traces.map((t) => ({ id: t.probe_id, d: tracePath(t, props.x, scaleY.value, props.hole) })),
)
const flags = computed(() => flagsOf(props.events, props.x, props.width))
const did = computed(() =>
  stretchesOf(
    props.events.filter((e) => e.cut_id === props.cuts[0]?.id),
    props.last,
    beginsIn(props.cuts[0], props.cook.runs, props.events),
  ),
)
const stalls = computed(() => props.clocks.filter((k) => k.stall_from && k.stall_to))
/** Where a wrap came earlier or later than planned: its slip, min. */
const slips = computed(() =>
  did.value.flatMap((d) => {
    const kind = d.wrapped ? /wrap|foil|paper|pan/i : d.name === 'rest' ? /rest/i : null
    const block = kind && props.blocks.find((b) => kind.test(phases.value[b.phase]?.name ?? ''))
    if (!block) return []
    const min = Math.round((d.from - Date.parse(block.from)) / 60_000)
    return Math.abs(min) < 5 ? [] : [{ key: d.from, planned: at(block.from), done: props.x(d.from), min }]
  }),
)
const slipWords = (min: number) => `${Math.abs(min)} min ${min > 0 ? 'late' : 'early'}`
/** What the latest of the cuts is likely to do, right of the door where there is room for it. */
const saidRight = computed(() => {
  const o = props.likely.reduce<Outlook | null>((l, v) => (!l || v.done!.middle > l.done!.middle ? v : l), null)
  if (!o || props.height < 84 || props.width - props.doorEnd < 300) return null
  const inTime = o.done!.by_table
  return {
    at: clock(o.done!.middle),
    span: `${clock(o.done!.low)} to ${clock(o.done!.high)}, 8 times in 10`,
    table: `${tens(inTime)} by the table`,
    doubt: inTime < 0.75,
  }
})
const phases = computed(() => trial.value.outline.arms[props.place]?.phases ?? [])
const byHand = computed(() => props.events.filter((e) => e.act === 'probe' && typeof e.detail.c === 'number'))
function fan(o: Outlook): string {
  const side = (c: 'low' | 'high') => o.fan.map((f) => `${at(f.at).toFixed(1)} ${y(f[c]).toFixed(1)}`)
  return `M${side('high').join('L')}L${side('low').reverse().join('L')}Z`
}
// The first cut of an arm is drawn strong, the others thin and dashed, each named in the door.
const traceStyle = (t: Trace) => {
  const n = props.cuts.findIndex((c) => c.id === t.cut_id)
  return {
    strokeWidth: n <= 0 ? '3px' : '1.75px',
    strokeDasharray: ['none', '7 4', '2 4', '12 4 2 4'][Math.max(0, n) % 4],
  }
}
const guide = (f: number) => (f - 32) / 1.8
</script>

<template>
  <svg
    class="lane"
    :width="width"
    :height="height"
    role="img"
    :aria-label="`Core temperatures of ${arm.tag}`"
    :style="{ color: `var(--arm${place + 1})` }"
  >
    <rect x="0" :y="y(60)" :width="width" :height="height - y(60)" fill="var(--lime)" />
    <rect
      v-for="s in stalls"
      :key="`stall${s.cut_id}`"
      :x="at(s.stall_from!)"
      :y="didY"
      :width="wide(s.stall_from!, s.stall_to!)"
      :height="didH"
      fill="url(#stall)"
      :data-testid="`stall-${arm.tag}`"
    >
      <title>stall of {{ name(s.cut_id) }}</title>
    </rect>
    <path v-for="m in marks" :key="m" :d="`M${m} ${top}v${traceH}`" stroke="var(--grain)" />
    <g v-for="f in roomy ? [140, 165, 203] : [140, 203]" :key="f">
      <path :d="`M${gutter - 4} ${y(guide(f))}H${width}`" stroke="var(--edge)" stroke-dasharray="5 4" />
      <text x="4" :y="y(guide(f)) + 5" class="axis">{{ system === 'F' ? f : Math.round(guide(f)) }}</text>
    </g>
    <g v-for="b in blocks" :key="`plan${b.phase}`" class="planned" :data-testid="`planned-${arm.tag}`">
      <title>{{ phases[b.phase]?.name }} planned from {{ clock(b.from) }} to {{ clock(b.to.middle) }}</title>
      <rect :x="at(b.from)" y="2" :width="wide(b.from, b.to.middle)" :height="planH - 2" />
      <text
        v-if="roomy && shown(b.from, b.to.middle) > 9 * (phases[b.phase]?.name.length ?? 0)"
        :x="Math.max(gutter + 4, at(b.from) + 4)"
        y="15"
      >
        {{ phases[b.phase]?.name }}
      </text>
    </g>
    <g v-for="d in did" :key="`did${d.from}`">
      <title>{{ d.name }} from {{ clock(d.from) }}</title>
      <rect
        class="did"
        :x="x(d.from)"
        :y="didY"
        :width="Math.max(1, x(d.to) - x(d.from))"
        :height="didH"
        :style="{ opacity: d.wrapped ? 0.4 : 0.16 }"
      />
      <path :d="`M${x(d.from)} ${didY}v${didH}`" stroke="currentColor" stroke-width="4" />
      <text v-if="roomy && x(d.to) - x(d.from) > 9 * d.name.length" :x="x(d.from) + 6" :y="didY + 14" class="phase">
        {{ d.name }}
      </text>
    </g>
    <g v-for="s in slips" :key="`slip${s.key}`" class="slip">
      <path :d="`M${s.planned} ${planH}L${s.done} ${didY}`" />
      <text v-if="roomy" :x="s.done - 6" :y="didY + 14" text-anchor="end">{{ slipWords(s.min) }}</text>
    </g>
    <g class="names">
      <rect x="0" y="0" :width="gutter - 2" :height="top" fill="var(--board)" />
      <template v-if="roomy">
        <text x="4" y="15">Plan</text>
        <text x="4" :y="didY + 14">Did</text>
      </template>
    </g>
    <g v-for="(o, n) in likely" :key="`fan${o.cut_id}`" :data-testid="`fan-${arm.tag}`">
      <path v-if="o.fan.length > 1" :d="fan(o)" class="fan" />
      <rect
        :x="at(o.done!.low)"
        :y="y(o.target_c) - 3 + 8 * n"
        :width="wide(o.done!.low, o.done!.high)"
        height="6"
        class="span"
      >
        <title>
          {{ name(o.cut_id) }} at {{ temperature(o.target_c) }} between {{ clock(o.done!.low) }} and
          {{ clock(o.done!.high) }}, 8 times in 10
        </title>
      </rect>
      <path :d="`M${at(o.done!.middle)} ${y(o.target_c) - 8 + 8 * n}l7 8l-7 8l-7 -8Z`" class="middle" />
    </g>
    <path
      v-if="ahead !== null"
      :d="`M${at(cook.serve_at)} 0v${height}`"
      stroke="var(--ink)"
      stroke-width="3"
      aria-hidden="true"
    />
    <path v-for="(p, n) in paths" :key="p.id" class="trace" :d="p.d" :style="traceStyle(traces[n]!)" />
    <path
      v-for="e in byHand"
      :key="`hand${e.id}`"
      class="hand"
      :d="`M${at(e.at)} ${y(e.detail.c!) - 6}l6 6l-6 6l-6 -6Z`"
      data-testid="by-hand"
    >
      <title>{{ name(e.cut_id!) }} {{ e.said }} by hand at {{ clock(e.at) }}</title>
    </path>
    <g v-if="saidRight" class="said" :transform="`translate(${doorEnd + 10} ${height - 8})`">
      <text y="-1">
        Done
        <tspan class="when">{{ saidRight.at }}</tspan>
      </text>
      <text x="112" y="-16">{{ saidRight.span }}</text>
      <text x="112" y="-1" :class="{ doubt: saidRight.doubt }">{{ saidRight.table }}</text>
    </g>
    <FlagMark
      v-for="f in flags"
      :key="`${f.act}${f.events[0]!.id}`"
      :flag="f"
      :cuts="trial.cuts"
      :y="top + 1 + (roomy ? 25 : 0) * f.row"
      :line="height"
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
  stroke: currentColor;
  stroke-linejoin: round;
}
.planned rect {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.5;
}
.planned text,
.phase,
.names text {
  font: 13px var(--font-text);
  fill: var(--ink);
}
.names text {
  fill: var(--soot);
}
.slip path {
  stroke: currentColor;
  stroke-width: 3;
}
.slip text {
  font: 600 13px var(--font-text);
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--board);
  stroke-width: 4px;
}
.said text {
  font: 13px var(--font-text);
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--board);
  stroke-width: 4px;
}
.said .when {
  font: 700 22px var(--font-num);
}
.said .doubt {
  font-weight: 700;
  fill: var(--watch);
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
.middle,
.hand {
  fill: var(--board);
  stroke: currentColor;
  stroke-width: 2;
}
@media print {
  .fan {
    display: none; /* the span says it */
  }
}
</style>
