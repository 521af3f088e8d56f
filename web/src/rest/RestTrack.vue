<script setup lang="ts">
import { computed } from 'vue'
import type { CutGate, CutView, Event, Resting, Trace } from '../api/schema.gen'
import { stretchesOf } from '../fire/lanes'
import { tracePath, type TimeScale } from '../fire/scale'
import { working } from '../gate/gate'
import { clock, span } from '../ui/time'
import { degrees, fixed, temperature } from '../ui/units'
import { enoughWords, restWords } from './board'
import { system } from '../ui/settings'

/** One piece from the pull to the knife: what was done, its core and where that goes, when it slices well, how tender it gets. */
const props = defineProps<{
  cut: CutView
  arm: number
  rest: Resting
  events: Event[]
  traces: Trace[]
  ruling: CutGate | undefined
  scale: TimeScale
  width: number
  door: number
  doorWidth: number
  now: number
  picked: boolean
  /** The lowest its holder swung to; null is not measured. */
  low: number | null
}>()
const emit = defineEmits<{ pick: []; read: [] }>()
const height = 94
const at = (t: string) => props.scale.x(Date.parse(t))
const y = (c: number) => 56 - ((Math.max(48, Math.min(100, c)) - 48) / 52) * 34
const floor = 60
/** What is left of here is the piece's name. */
const gutter = 46

const mine = computed(() => props.events.filter((e) => e.cut_id === props.cut.id))
const end = computed(() => (props.rest.cut ? Date.parse(props.rest.knife) : props.now))
const did = computed(() =>
  stretchesOf(mine.value, end.value)
    .map((s) => ({
      ...s,
      name: s.name === 'smoke' ? 'on the fire' : s.name,
      x: Math.max(gutter, props.scale.x(s.from)),
      to: Math.min(props.door, props.scale.x(s.to)),
    }))
    .filter((s) => s.to > s.x + 1),
)
const keys = computed(() => {
  const done = (act: string, key: string) =>
    mine.value.filter((e) => e.act === act).map((e) => ({ key, x: at(e.at), likely: false }))
  const out = [...done('pull', 'P'), ...done('hold', 'H'), ...done('carve', 'O')]
  const r = props.rest
  if (r.likely) out.push({ key: 'P', x: at(r.likely.middle), likely: true })
  if (!r.cut && r.state !== 'not on') out.push({ key: 'O', x: at(r.knife), likely: true })
  return out.filter((k) => k.x >= gutter && k.x <= props.width - 10)
})
const paths = computed(() => props.traces.map((t) => tracePath(t, props.scale.x, y, 600_000)))
const coming = computed(() =>
  props.rest.coming.map((p, i) => `${i ? 'L' : 'M'}${at(p.at).toFixed(1)} ${y(p.middle).toFixed(1)}`).join(''),
)
const post = computed(() => {
  const r = props.rest
  if (!r.from || r.state === 'not on') return null
  const from = at(r.from)
  const to = r.to ? at(r.to) : props.width
  return { from, wide: Math.max(2, to - from) }
})
/** How far the centre climbs once it is off: as read, or as it is likely to. */
const peak = computed(() => {
  const r = props.rest
  if (!r.peak_at || typeof r.peak_c !== 'number' || typeof r.pull_c !== 'number' || r.peak_c - r.pull_c < 0.3)
    return null
  return { x: at(r.peak_at), y: y(r.peak_c), c: degrees(r.peak_c) }
})
const swing = computed(() => {
  const r = props.rest
  if (props.low === null || !r.hold_from) return ''
  const to = Math.min(props.door, at(r.cut ? r.knife : new Date(props.now).toISOString()))
  return `M${Math.max(gutter, at(r.hold_from))} ${y(props.low)}H${to}`
})
/** The tenderness scale: from the pull to the knife, so far solid. */
const tender = computed(() => {
  const r = props.rest
  if (!r.pull || r.tender.length < 4) return null
  const from = Math.max(gutter, at(r.pull))
  const to = Math.min(props.width - 26, at(r.knife))
  if (to - from < 40) return null
  return { from, to, first: fixed(r.tender[0]!, 1), last: fixed(r.tender[3]!, 1) }
})
const gate = computed(() => {
  const g = props.ruling
  const passed = g?.places.find((p) => p.passed)
  if (!g || props.rest.state === 'not on') return { words: '', ok: true }
  if (passed) return { words: working(passed, g.minimum.c), ok: true }
  if (!g.places.length) return { words: 'Not measured yet: read its coldest place.', ok: false }
  return { words: working(g.places[0]!, g.minimum.c), ok: false }
})
const says = computed(() => restWords(props.rest))
const number = computed(() =>
  typeof props.rest.now_c === 'number' ? temperature(props.rest.now_c).split(' ')[0] : props.rest.cut ? '–' : '?',
)
const under = computed(() => {
  const r = props.rest
  if (r.cut) return `cut ${clock(r.knife)}`
  if (typeof r.now_c !== 'number') return r.state === 'not on' ? 'not on' : 'not read'
  if (r.state === 'on') return 'on the fire'
  if (r.state === 'held') return 'held'
  return r.pull ? `off ${span((props.now - Date.parse(r.pull)) / 3_600_000)}` : ''
})
</script>

<template>
  <div class="track" :class="{ picked }" :style="{ height: `${height}px` }" :data-testid="`track-${cut.name}`">
    <svg :width="width" :height="height" aria-hidden="true" :style="{ color: `var(--arm${arm + 1})` }">
      <path :d="`M${gutter} ${y(floor)}H${width}`" stroke="var(--edge)" stroke-dasharray="5 4" />
      <text x="18" :y="y(floor) + 4" class="axis">{{ system === 'F' ? 140 : 60 }}</text>
      <g v-if="post">
        <rect :x="post.from" y="22" :width="post.wide" :height="36" fill="var(--lime)" />
        <path :d="`M${post.from} 22v36`" stroke="var(--ink)" stroke-width="3" />
        <path v-if="rest.to" :d="`M${post.from + post.wide} 22v36`" stroke="var(--ink)" stroke-width="3" />
      </g>
      <g v-for="s in did" :key="s.from">
        <rect :x="s.x" y="2" :width="s.to - s.x" height="17" fill="currentColor" fill-opacity="0.16" />
        <text v-if="s.to - s.x > 8 * s.name.length + 24" :x="s.x + 24" y="15" class="words">
          {{ s.name }}
        </text>
      </g>
      <path v-for="(d, i) in paths" :key="i" :d="d" class="core" />
      <path :d="coming" class="core" stroke-dasharray="6 5" />
      <path v-if="swing" :d="swing" class="swing" />
      <text v-if="peak" :x="peak.x" :y="peak.y + 16" text-anchor="middle" class="axis">{{ peak.c }}</text>
      <g v-if="tender">
        <path :d="`M${tender.from + 24} 68H${tender.to}`" stroke="currentColor" stroke-width="5" stroke-opacity="0.3" />
        <path
          v-if="Math.min(tender.to, door) > tender.from + 24"
          :d="`M${tender.from + 24} 68H${Math.min(tender.to, door)}`"
          stroke="currentColor"
          stroke-width="5"
        />
        <text :x="tender.from" y="72" class="words">{{ tender.first }}</text>
        <text :x="tender.to + 3" y="72" class="words">{{ tender.last }}</text>
      </g>
      <g v-for="k in keys" :key="`${k.key}${k.x}`">
        <rect
          :x="k.x - 9"
          y="1"
          width="18"
          height="18"
          rx="3"
          class="key"
          :stroke-dasharray="k.likely ? '3 2' : 'none'"
        />
        <text :x="k.x" y="15" text-anchor="middle" class="letter">{{ k.key }}</text>
      </g>
    </svg>
    <button type="button" class="name num" :aria-pressed="picked" @click="emit('pick')">{{ cut.name }}</button>
    <p class="gate" :class="{ watch: !gate.ok }" :style="{ width: `${door - 8}px` }">
      <span :class="gate.ok && gate.words ? 'check' : gate.words ? 'triangle' : ''">{{ gate.words }}</span>
    </p>
    <div class="door" :style="{ left: `${door}px`, width: `${doorWidth}px` }">
      <b class="num">{{ number }}</b>
      <span class="small">{{ under }}</span>
    </div>
    <p class="right" :style="{ left: `${door + doorWidth + 6}px` }">
      {{ says.words }}<b v-if="says.watch" class="watch">: {{ says.watch }}</b>
      <template v-if="rest.state === 'held' && enoughWords(rest)">; {{ enoughWords(rest) }}</template>
    </p>
    <button
      v-if="!gate.ok && !ruling?.places.length && rest.state !== 'not on'"
      type="button"
      class="read"
      @click="emit('read')"
    >
      Read {{ cut.name }}
    </button>
  </div>
</template>

<style scoped>
.track {
  position: relative;
  border-top: var(--line) solid var(--grain);
  overflow: hidden;
}
.track.picked {
  background: var(--trough);
}
svg {
  display: block;
}
.core {
  fill: none;
  stroke: currentColor;
  stroke-width: 2.5;
}
.swing {
  stroke: var(--ink);
  stroke-width: 4;
  stroke-dasharray: 1 7;
  stroke-linecap: round;
}
.axis {
  font: 12px var(--font-num);
  fill: var(--soot);
}
.words {
  font: 13px var(--font-ui);
  fill: var(--ink);
}
.key {
  fill: var(--board);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.letter {
  font: 700 13px var(--font-num);
  fill: var(--ink);
}
.name {
  position: absolute;
  left: 0;
  top: 0;
  min-width: 44px;
  min-height: 44px;
  border: 0;
  background: none;
  color: var(--ink);
  font-weight: 700;
  font-size: 17px;
  text-align: left;
  cursor: pointer;
}
.gate {
  position: absolute;
  left: 2px;
  bottom: 0;
  margin: 0;
  font-size: 13px;
  line-height: 1.3;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.watch {
  color: var(--watch);
  font-weight: 700;
}
p.watch {
  background: var(--watch-wash);
}
.door {
  position: absolute;
  top: 0;
  bottom: 0;
  background: var(--door, #1c2426);
  color: var(--on-door, #f4f4f0);
  border-inline: 3px solid var(--ember);
  padding: 8px 6px;
  display: flex;
  flex-direction: column;
}
.door b {
  font-size: 30px;
  line-height: 1.1;
}
.right {
  position: absolute;
  bottom: 0;
  right: 4px;
  margin: 0;
  font-size: 13px;
  line-height: 1.3;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.read {
  position: absolute;
  left: 60px;
  top: 22px;
  min-height: 44px;
  padding: 0 12px;
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  background: var(--board);
  font-weight: 700;
  cursor: pointer;
}
</style>
