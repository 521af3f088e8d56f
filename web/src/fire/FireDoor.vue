<script setup lang="ts">
import { computed } from 'vue'
import type { Outlook, Trace } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { clock, span } from '../ui/time'
import { degrees, toF } from '../ui/units'
import type { HandRead, PitLane } from './lanes'
import { pointsOf, valueAt } from './scale'
import { system } from '../ui/settings'

/** The door: all numbers of one moment, the last there is or the one that is pointed at. */
const props = defineProps<{
  time: string
  lanes: {
    key: number
    traces: Trace[]
    hands: HandRead[]
    at: number | null
    stalled: boolean
    pull: Outlook | null
  }[] // at null: the last reading
  pits: (PitLane & { at: number | null })[]
  reach: number
  now: number
  latest: Map<number, { at: number; c: number }>
  laneH: number
  pitH: number
}>()
const { trial } = useThisTrial()

/** Older than this a number is hollow. */
const stale = 3 * 60_000
interface Reading {
  c: number
  age: number
}
function read(t: Trace, at: number | null): Reading | null {
  if (at !== null) {
    const c = valueAt(t, at, props.reach)
    return c === null ? null : { c, age: 0 }
  }
  const all = pointsOf(t)
  const last = all[all.length - 1]
  const live = props.latest.get(t.probe_id)
  if (live && (!last || live.at >= last[0]! - props.reach)) return { c: live.c, age: props.now - live.at }
  return last ? { c: (last[1]! + last[2]!) / 2, age: 0 } : null
}
/** C an hour, over the last half hour there is. */
function climb(t: Trace, at: number | null): number | null {
  const points = pointsOf(t)
  const end = at ?? points[points.length - 1]?.[0]
  if (end === undefined) return null
  const [now, then] = [valueAt(t, end, props.reach), valueAt(t, end - 1_800_000, props.reach)]
  return now === null || then === null ? null : (now - then) * 2
}
function readings(l: { traces: Trace[]; hands: HandRead[]; at: number | null }) {
  const byCut = new Map<string, Reading & { trace?: Trace }>()
  // A cut without a probe shows what a hand read last, with its age.
  for (const h of l.hands) byCut.set(h.name, { c: h.c, age: (l.at ?? props.now) - h.at })
  for (const t of l.traces) {
    const r = read(t, l.at)
    const name = trial.value.cuts.find((c) => c.id === t.cut_id)?.name ?? ''
    const known = byCut.get(name)
    // Of several probes in a cut the coldest decides; a probe tells more than a hand did before.
    if (r && (!known?.trace || r.c < known.c)) byCut.set(name, { ...r, trace: t })
  }
  return [...byCut].map(([name, r]) => ({ name, ...r })).sort((a, b) => a.c - b.c)
}
/** How far the others of an arm are above its coldest, where they are more than stand below it. */
const upTo = (of: Reading[]) => (of.length > 2 ? `to ${degrees(of.at(-1)!.c)}` : '')
// Each frame of a replay asks for them: once a lane.
const rows = computed(() => props.lanes.map(readings))
const leads = computed(() => props.pits.map((p) => (p.traces[0] ? read(p.traces[0], p.at) : null)))
const others = computed(() => props.pits.map(beside))
/** What the other points of a pit show, and its wet bulb. */
function beside(p: PitLane & { at: number | null }) {
  const named = [...p.traces.slice(1), ...(p.wet ? [p.wet] : [])].map((t) => ({
    name: t.point || t.probe,
    c: read(t, p.at)?.c ?? null,
  }))
  return named.filter((o): o is { name: string; c: number } => o.c !== null)
}
const perHour = (t: Trace | undefined, at: number | null) => {
  const c = t ? climb(t, at) : null
  if (c === null) return ''
  const v = Math.round(system.value === 'F' ? c * 1.8 : c)
  return `${v > 0 ? '+' : v < 0 ? '−' : ''}${Math.abs(v)}/h`
}
const fromSet = (c: number, set: number) => Math.round(system.value === 'F' ? toF(c) - toF(set) : c - set)
</script>

<template>
  <div class="door">
    <div class="now num">{{ time }}</div>
    <div
      v-for="(l, i) in lanes"
      :key="l.key"
      class="read"
      :class="{ low: laneH < 100 }"
      :style="{ height: `${laneH}px` }"
      :data-arm="l.key"
    >
      <span class="whose"
        ><ArmToken :place="l.key" :size="24" /> <b class="num">{{ trial.ask.arms[l.key]!.tag }}</b></span
      >
      <template v-for="(r, n) in rows[i]!.slice(0, 1)" :key="n">
        <div class="lead num" :class="{ hollow: r.age > stale }">
          {{ degrees(r.c) }}<sup>{{ system }}</sup>
        </div>
        <div class="pace num">
          <b v-if="rows[i]!.length > 1" title="The coldest">{{ r.name }}</b>
          <span class="dim">{{ upTo(rows[i]!) }}</span>
          <span v-if="r.age > stale" class="dim">{{ span(r.age / 3_600_000) }} old</span>
          <template v-else>
            <span class="dim">{{ perHour(r.trace, l.at) }}</span> <b v-if="l.stalled" class="stall">Stall</b></template
          >
        </div>
        <div class="others num">
          <span v-for="o in rows[i]!.length > 1 ? rows[i]!.slice(1) : rows[i]" :key="o.name"
            ><i>{{ o.name }}</i> {{ degrees(o.c) }}</span
          >
        </div>
        <div v-if="l.pull" class="pull num">
          <i>done</i> <b>~{{ clock(l.pull.done!.middle) }}</b>
        </div>
      </template>
      <div v-if="!rows[i]!.length" class="silent">no reading{{ l.at === null ? '' : ' then' }}</div>
    </div>
    <div v-for="(p, i) in pits" :key="p.key" class="read low pitrow" :style="{ height: `${pitH}px` }">
      <b class="whose">{{ p.name }}</b>
      <template v-for="(r, n) in leads.slice(i, i + 1)" :key="n">
        <template v-if="r">
          <div class="lead num pitlead" :class="{ hollow: r.age > stale }">
            {{ degrees(r.c) }}<sup>{{ system }}</sup>
          </div>
          <div v-if="p.set" class="small from">
            <span class="dim">from set</span> <b class="num">{{ fromSet(r.c, p.set.c) }}</b>
          </div>
        </template>
      </template>
      <div v-if="others[i]!.length" class="beside num">
        <span v-for="o in others[i]" :key="o.name"
          ><i>{{ o.name }}</i> {{ degrees(o.c) }}</span
        >
      </div>
      <div v-if="!p.traces.length" class="silent">no probe</div>
    </div>
  </div>
</template>

<style scoped>
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
  padding: 6px 10px;
  overflow: hidden;
  display: grid;
  grid-template-columns: auto 1fr;
  align-content: start;
  gap: 2px 10px;
}
.lead {
  grid-column: 1 / -1;
  font-size: 50px;
  font-weight: 700;
  line-height: 0.95;
}
/* Lanes of little height: the number, and the rest beside it. */
.low {
  padding: 2px 10px;
}
.low .lead {
  grid-column: 1;
  grid-row: 1 / span 2;
  font-size: 36px;
  line-height: 1.1;
}
.low .others {
  display: none;
}
.low .pace {
  display: flex;
  flex-wrap: wrap;
  align-self: center;
  line-height: 1.25;
}
.lead.hollow {
  color: transparent;
  -webkit-text-stroke: 1.5px var(--on-iron);
}
.lead sup {
  font-size: 14px;
  font-weight: 400;
}
.pitrow {
  grid-template-columns: auto 1fr;
}
.from {
  align-self: center;
  line-height: 1.15;
}
.dim,
.others i,
.pull i {
  font-style: normal;
  color: var(--on-iron-2);
}
.pace,
.others,
.pull {
  font-size: 14px;
  white-space: nowrap;
}
.pace > * {
  margin-right: 4px;
}
.others {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
}
.beside {
  grid-column: 1 / -1;
  display: flex;
  flex-direction: column;
  font-size: 14px;
}
.beside i {
  font-style: normal;
  color: var(--on-iron-2);
}
.pull {
  display: none; /* it stands right of the door */
}
.stall {
  background: var(--ember-on-iron);
  color: var(--iron);
  padding: 0 6px;
}
.silent {
  color: var(--on-iron-2);
  padding-top: 8px;
}
.whose {
  display: none;
}
@media print {
  .door {
    display: none;
  }
}
@media (max-width: 700px), (max-height: 500px) {
  /* In the hand it is a stack of rows. */
  .now {
    display: none;
  }
  .read,
  .read.low {
    height: auto !important;
    display: grid;
    grid-template-columns: 88px 84px minmax(0, 1fr) auto;
    grid-template-rows: auto auto;
    align-items: center;
    gap: 0 6px;
    min-height: 46px;
    padding: 2px 8px;
  }
  .whose {
    display: flex;
    align-items: center;
    gap: 8px;
    grid-row: 1 / span 2;
    white-space: nowrap;
    overflow: hidden;
  }
  .read .lead,
  .low .lead {
    grid-column: 2;
    grid-row: 1 / span 2;
    font-size: 36px;
    line-height: 1.1;
  }
  .read .pace,
  .read .others,
  .low .others {
    display: block;
    grid-column: 3;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .others span {
    margin-right: 8px;
  }
  .pull {
    display: block;
    grid-column: 4;
    grid-row: 1 / span 2;
    font-size: 15px;
  }
  .pull i {
    display: none;
  }
  .read.pitrow {
    min-height: 40px;
  }
  .pitrow .lead {
    font-size: 26px;
  }
  .from,
  .silent {
    grid-column: 3;
    grid-row: 1 / span 2;
  }
  .silent {
    grid-column: 2 / -1;
    padding: 0;
  }
}
</style>
