<script setup lang="ts">
import type { Trace } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { span } from '../ui/time'
import { degrees, system, toF } from '../ui/units'
import type { PitLane } from './lanes'
import { pointsOf, valueAt } from './scale'

/** The door: all numbers of one moment, the last there is or the one that is pointed at. */
const props = defineProps<{
  time: string
  lanes: { key: number; traces: Trace[]; at: number | null }[] // at null: the last reading
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
function readings(l: { traces: Trace[]; at: number | null }) {
  const byCut = new Map<string, Reading & { trace: Trace }>()
  for (const t of l.traces) {
    const r = read(t, l.at)
    const name = trial.value.cuts.find((c) => c.id === t.cut_id)?.name ?? ''
    const known = byCut.get(name)
    // Of several probes in a cut the coldest decides.
    if (r && (!known || r.c < known.c)) byCut.set(name, { ...r, trace: t })
  }
  return [...byCut].map(([name, r]) => ({ name, ...r })).sort((a, b) => b.c - a.c)
}
const perHour = (t: Trace, at: number | null) => {
  const c = climb(t, at)
  if (c === null) return ''
  const v = Math.round(system.value === 'F' ? c * 1.8 : c)
  return `${v > 0 ? '+' : v < 0 ? '−' : ''}${Math.abs(v)} an hour`
}
const fromSet = (c: number, set: number) => Math.round(system.value === 'F' ? toF(c) - toF(set) : c - set)
</script>

<template>
  <div class="door">
    <div class="now num">{{ time }}</div>
    <div v-for="l in lanes" :key="l.key" class="read" :style="{ height: `${laneH}px` }">
      <span class="phone row"
        ><ArmToken :place="l.key" :size="28" /> <b class="num">{{ trial.ask.arms[l.key]!.tag }}</b></span
      >
      <template v-for="(r, n) in readings(l).slice(0, 1)" :key="n">
        <div class="lead num" :class="{ hollow: r.age > stale }">
          {{ degrees(r.c) }}<sup>{{ system }}</sup>
        </div>
        <div class="small dim">{{ r.age > stale ? `${span(r.age / 3_600_000)} old` : perHour(r.trace, l.at) }}</div>
        <div class="others num">
          <span v-for="o in readings(l)" :key="o.name"
            ><i>{{ o.name }}</i> {{ degrees(o.c) }}</span
          >
        </div>
      </template>
      <div v-if="!readings(l).length" class="silent">no reading{{ l.at === null ? '' : ' then' }}</div>
    </div>
    <div v-for="p in pits" :key="p.key" class="read" :style="{ height: `${pitH}px` }">
      <b class="phone">{{ p.name }}</b>
      <template v-for="t in p.traces" :key="t.probe_id">
        <template v-if="read(t, p.at)">
          <div class="lead num pitlead" :class="{ hollow: read(t, p.at)!.age > stale }">
            {{ degrees(read(t, p.at)!.c) }}<sup>{{ system }}</sup>
          </div>
          <div v-if="p.set" class="small">
            from set <b class="num push">{{ fromSet(read(t, p.at)!.c, p.set.c) }}</b>
          </div>
        </template>
      </template>
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
.lead.hollow {
  color: transparent;
  -webkit-text-stroke: 1.5px var(--on-iron);
}
.lead sup {
  font-size: 15px;
  font-weight: 400;
}
.dim {
  color: var(--on-iron-2);
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
.phone {
  display: none;
}
@media print {
  .door {
    display: none;
  }
}
@media (max-width: 900px) {
  /* On a phone it is a stack of rows above the lanes. */
  .door {
    grid-column: 1 / -1;
    grid-row: 1;
  }
  .now {
    display: none;
  }
  .read {
    height: auto !important;
    display: flex;
    align-items: center;
    gap: 14px;
    min-height: 60px;
  }
  .phone {
    display: flex;
    min-width: 104px;
    flex-wrap: nowrap;
    gap: 8px;
  }
  .others {
    grid-template-columns: 1fr;
    margin-left: auto;
  }
}
</style>
