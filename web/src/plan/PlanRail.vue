<script setup lang="ts">
import { useElementSize, useEventListener } from '@vueuse/core'
import { computed, inject, ref } from 'vue'
import type { Block, Conflict, Lane, Moment, PlanView, Task } from '../api/schema.gen'
import { coreY, ticks } from '../fire/scale'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { clock, date } from '../ui/time'
import { draftKey, fixed, railOf, railX, spanText } from './draft'
import { vocabulary } from '../api/vocabulary.gen'
import { plannedLetter } from './tasks'

/** Arms, pits and hands on one clock, from the first salt to the table. */
const { work } = defineProps<{ work: PlanView }>()
const picked = defineModel<{ arm: number; phase: number } | null>('picked', { required: true })
const { trial, shut } = useThisTrial()
const { draft, stretch } = inject(draftKey)!

const track = ref<HTMLElement | null>(null)
const { width } = useElementSize(track)
const rail = computed(() => railOf(work))
const x = (t: string | number) => railX(rail.value, t)
const pc = (v: number) => `${v}%`
const between = (a: string | number, b: string | number) => ({ left: pc(x(a)), width: pc(Math.max(0.2, x(b) - x(a))) })
const marks = computed(() =>
  ticks(rail.value.fire, rail.value.to, Math.max(1, width.value) * (1 - rail.value.lead)).filter(
    (t) => t > rail.value.fire,
  ),
)
const nights = computed(() => {
  const out: [number, number][] = []
  const hour = (t: number) => Number(clock(t).slice(0, 2))
  let from: number | null = null
  const step = 15 * 60_000
  for (let t = Math.ceil(rail.value.fire / step) * step; t <= rail.value.to; t += step) {
    const dark = hour(t) >= vocabulary.night.from || hour(t) < vocabulary.night.to
    if (dark) from ??= t
    if ((!dark || t + step > rail.value.to) && from !== null) {
      out.push([from, t])
      from = null
    }
  }
  return out
})

const phaseOf = (l: Lane, b: Block) => draft.value!.outline.arms[l.arm]!.phases[b.phase]
const lanes = computed(() =>
  work.lanes.map((l) => ({
    l,
    arm: trial.value.ask.arms[l.arm]!,
    cuts: work.cuts.filter(
      (c) => trial.value.cuts.find((k) => k.id === c.id)?.arm_id === trial.value.ask.arms[l.arm]!.id,
    ),
  })),
)
const lastSmoke = (l: Lane) => draft.value!.outline.arms[l.arm]!.phases.map((p) => p.kind).lastIndexOf('smoke')
const uncertain = (m: Moment) => Date.parse(m.late) - Date.parse(m.early) > 5 * 60_000
const loss = (cuts: PlanView['cuts']) => Math.round((100 * cuts.reduce((s, c) => s + c.loss, 0)) / cuts.length)
const tender = (cuts: PlanView['cuts']) => cuts.reduce((s, c) => s + c.tender, 0) / cuts.length
const feel = (t: number) => vocabulary.tender.find((w) => t < w.under)!.words
const curveH = 40
const curve = (points: PlanView['cuts'][number]['curve']) =>
  points
    .map(
      (p, i) => `${i ? 'L' : 'M'}${((x(p.at) / 100) * width.value).toFixed(1)} ${coreY(p.core_C, curveH).toFixed(1)}`,
    )
    .join('')

const clashes = (arm: number, pit: number) =>
  work.conflicts.filter((c) => (arm >= 0 ? c.arm === arm : c.arm < 0 && c.pit === pit))
const clashTitle = (c: Conflict) => `${clock(c.at)} ${c.words}`

// Hands: what falls together shares a flag.
interface Flag {
  x: number
  tasks: Task[]
}
function flags(tasks: Task[]): Flag[] {
  const out: Flag[] = []
  for (const t of tasks) {
    const px = Math.max(13, (x(t.at.middle) / 100) * width.value) // clear of the head
    const last = out[out.length - 1]
    if (last && px - last.x < 24) last.tasks.push(t)
    else out.push({ x: px, tasks: [t] })
  }
  return out
}
const hands = computed(() => {
  const rows = work.people.map((name, i) => ({ name, flags: flags(work.tasks.filter((t) => t.person === i)) }))
  const nobody = work.tasks.filter((t) => t.person < 0)
  return [...rows.filter((r) => r.flags.length), ...(nobody.length ? [{ name: 'Nobody', flags: flags(nobody) }] : [])]
})
const flagTitle = (f: Flag) => f.tasks.map((t) => `${clock(t.at.middle)} ${t.words}`).join('\n')

/** What is before the fire, where the clock is pressed together. */
const leads: string[] = vocabulary.kinds.filter((k) => k.lead).map((k) => k.kind)
// Dragging the end of a block that ends by the clock; a hold grows from its start.
const dragged = ref<{ arm: number; phase: number; from: number; was: number; back: boolean } | null>(null)
function start(e: PointerEvent, l: Lane, b: Block) {
  const p = phaseOf(l, b)
  picked.value = { arm: l.arm, phase: b.phase }
  if (!p || shut.value || fixed(p) === null || e.button !== 0) return
  const back = p.kind === 'hold' || p.kind === 'rest' || leads.includes(p.kind)
  dragged.value = { arm: l.arm, phase: b.phase, from: e.clientX, was: fixed(p)!, back }
  e.preventDefault()
}
useEventListener(window, 'pointermove', (e: PointerEvent) => {
  const d = dragged.value
  if (!d) return
  const lead = work.lanes.length && leads.includes(draft.value!.outline.arms[d.arm]!.phases[d.phase]!.kind)
  const r = rail.value
  const perPixel = lead ? (r.fire - r.from) / (r.lead * width.value) : (r.to - r.fire) / ((1 - r.lead) * width.value)
  const by = ((e.clientX - d.from) * perPixel) / 1000
  stretch(d.arm, d.phase, d.was + (d.back ? -by : by))
})
useEventListener(window, 'pointerup', () => (dragged.value = null))

function nudge(e: KeyboardEvent, l: Lane, b: Block) {
  const p = phaseOf(l, b)
  const by = { ArrowLeft: -1, ArrowRight: 1, '-': -1, '+': 1 }[e.key]
  if (!p || by === undefined || shut.value) return
  const s = fixed(p)
  e.preventDefault()
  if (s !== null) return stretch(l.arm, b.phase, s + by * 900)
  const end = p.ends.find((c) => c.watch === 'core')
  const m = end && /^(-?[\d.]+)\s*([FC])$/i.exec(end.typed)
  if (end && m) end.typed = `${Number(m[1]) + by * (m[2]!.toUpperCase() === 'F' ? 1 : 0.5)} ${m[2]!.toUpperCase()}`
}
const says = (l: Lane, b: Block) => {
  const p = phaseOf(l, b)!
  const ends = p.ends.map(
    (c) => c.typed || { feel: 'feel', bark: 'bark set', rendered: 'fat rendered' }[c.watch as 'feel'],
  )
  return ends.join(p.all ? ' and ' : ' or ')
}
</script>

<template>
  <div class="rail" data-testid="plan-rail">
    <div class="line">
      <div class="head day num">{{ date(Math.min(...work.pits.map((p) => Date.parse(p.light)))) }}</div>
      <div ref="track" class="track clockline">
        <span v-if="rail.lead" class="before small" :style="{ width: pc(100 * rail.lead) }"
          >{{ date(rail.from) }} {{ clock(rail.from) }}</span
        >
        <span v-for="t in marks" :key="t" class="tick num" :style="{ left: pc(x(t)) }">{{ clock(t) }}</span>
      </div>
    </div>

    <div v-for="{ l, arm, cuts } in lanes" :key="l.arm" class="line arm" :data-testid="`plan-lane-${arm.tag}`">
      <div class="head">
        <div class="who">
          <ArmToken :place="l.arm" :size="24" />
          <b class="num">{{ arm.tag }}</b>
          <b class="num on" :data-testid="`on-${arm.tag}`">{{ clock(l.on) }}</b>
        </div>
        <p class="small soot">
          <template v-if="cuts.length"
            >loses <b class="num">{{ loss(cuts) }} %</b>, {{ feel(tender(cuts)) }}</template
          >
        </p>
        <p class="small soot">
          latest <b class="num">{{ clock(l.latest) }}</b>
        </p>
      </div>
      <div class="track">
        <i v-for="[a, b] in nights" :key="a" class="night" :style="between(a, b)" />
        <i v-for="t in marks" :key="`g${t}`" class="grid" :style="{ left: pc(x(t)) }" />
        <svg class="curve" :width="width" :height="curveH">
          <path v-for="c in cuts" :key="c.id" :d="curve(c.curve)" :style="{ stroke: `var(--arm${l.arm + 1})` }" />
        </svg>
        <template v-for="b in l.blocks" :key="b.phase">
          <button
            v-if="phaseOf(l, b)"
            type="button"
            class="block"
            :class="[
              phaseOf(l, b)!.kind.replace(' ', '-'),
              {
                wrapped: phaseOf(l, b)!.wrap && phaseOf(l, b)!.kind === 'smoke',
                picked: picked?.arm === l.arm && picked?.phase === b.phase,
                stretches: fixed(phaseOf(l, b)!) !== null,
              },
            ]"
            :style="{ ...between(b.from, b.to.middle), '--c': `var(--arm${l.arm + 1})` }"
            :aria-label="`${arm.tag}: ${phaseOf(l, b)!.name}, ${clock(b.from)} to ${clock(b.to.middle)}`"
            :title="`${phaseOf(l, b)!.name} until ${says(l, b)}, ${spanText((Date.parse(b.to.middle) - Date.parse(b.from)) / 1000)}`"
            :data-testid="`block-${arm.tag}-${phaseOf(l, b)!.kind}`"
            @pointerdown="start($event, l, b)"
            @keydown="nudge($event, l, b)"
            @focus="picked = { arm: l.arm, phase: b.phase }"
          >
            <span class="name">{{ phaseOf(l, b)!.name }}</span>
            <span class="until">{{ says(l, b) }}</span>
          </button>
          <i
            v-if="uncertain(b.to) && phaseOf(l, b)?.kind === 'smoke'"
            class="tail"
            :class="{ pull: lastSmoke(l) === b.phase }"
            :style="{ ...between(b.to.early, b.to.late), '--c': `var(--arm${l.arm + 1})` }"
            :title="`${phaseOf(l, b)!.name} is over between ${clock(b.to.early)} and ${clock(b.to.late)}, 8 times in 10`"
          />
        </template>
        <span
          v-for="c in clashes(l.arm, -1)"
          :key="c.words"
          class="clash triangle"
          :style="{ left: pc(x(c.at)) }"
          :title="clashTitle(c)"
          role="img"
          :aria-label="c.words"
        />
      </div>
    </div>

    <div v-for="p in work.pits" :key="`p${p.pit}`" class="line pit">
      <div class="head">
        <b class="slab">{{ work.pit_names[p.pit] }}</b>
      </div>
      <div class="track">
        <i v-for="[a, b] in nights" :key="a" class="night" :style="between(a, b)" />
        <span class="warm" :style="between(p.light, p.on)" :title="`lit at ${clock(p.light)}`" />
        <span class="burns" :style="between(p.on, p.out.middle)"
          ><span>lit {{ clock(p.light) }}</span></span
        >
        <i class="tail" :style="between(p.out.early, p.out.late)" />
        <i v-for="w in p.wood" :key="w" class="wood" :style="{ left: pc(x(w)) }" :title="`wood at ${clock(w)}`" />
        <span
          v-for="c in clashes(-1, p.pit)"
          :key="c.words"
          class="clash triangle"
          :style="{ left: pc(x(c.at)) }"
          :title="clashTitle(c)"
          role="img"
          :aria-label="c.words"
        />
      </div>
    </div>

    <div v-for="h in hands" :key="h.name" class="line hand" :class="{ nobody: h.name === 'Nobody' }">
      <div class="head">{{ h.name }}</div>
      <div class="track">
        <i v-for="[a, b] in nights" :key="a" class="night" :style="between(a, b)" />
        <span v-for="f in h.flags" :key="f.x" class="flag num" :style="{ left: `${f.x}px` }" :title="flagTitle(f)"
          >{{ plannedLetter(f.tasks[0]!.act) }}<small v-if="f.tasks.length > 1">{{ f.tasks.length }}</small></span
        >
      </div>
    </div>
    <i v-if="x(work.now) > 0 && x(work.now) < 100" class="now" :style="{ '--x': x(work.now) / 100 }" />
    <i class="table" :style="{ '--x': x(work.serve) / 100 }" />
  </div>
</template>

<style scoped>
.rail {
  --head: 176px;
  position: relative;
  background: var(--board);
  border-top: var(--line-strong) solid var(--ink);
  border-bottom: var(--line-strong) solid var(--ink);
  user-select: none;
}
.line {
  display: grid;
  grid-template-columns: var(--head) minmax(0, 1fr);
  border-top: var(--line) solid var(--grain);
}
.line:first-child {
  border-top: 0;
}
.head {
  padding: 6px 8px 6px 12px;
  border-right: var(--line) solid var(--edge);
  min-width: 0;
  line-height: 1.25;
  position: sticky;
  left: 0;
  z-index: 5;
  background: var(--board);
}
.who {
  display: flex;
  align-items: center;
  gap: 8px;
}
.who > :first-child {
  flex: none;
}
.on {
  margin-left: auto;
  font-size: 20px;
}
.track {
  position: relative;
  min-height: 100%;
}
.clockline {
  height: 30px;
}
.day {
  font-weight: 700;
  font-size: 14px;
}
.tick {
  position: absolute;
  bottom: 2px;
  transform: translateX(-50%);
  font-size: 14px;
}
.before {
  position: absolute;
  left: 4px;
  bottom: 4px;
  color: var(--soot);
  overflow: hidden;
  white-space: nowrap;
}
.arm .track {
  height: 96px;
}
.night {
  position: absolute;
  inset-block: 0;
  background: var(--trough);
}
.grid {
  position: absolute;
  inset-block: 0;
  border-left: 1px solid var(--grain);
}
.curve {
  position: absolute;
  left: 0;
  bottom: 2px;
}
.curve path {
  fill: none;
  stroke-width: 1.75;
  opacity: 0.75;
}
.block {
  position: absolute;
  top: 6px;
  height: 40px;
  padding: 0 5px;
  border: 2px solid var(--c);
  border-radius: 0;
  background: color-mix(in srgb, var(--c) var(--arm-wash), var(--board));
  color: var(--ink);
  text-align: left;
  overflow: hidden;
  white-space: nowrap;
  display: flex;
  flex-direction: column;
  justify-content: center;
  line-height: 1.15;
  font-size: 14px;
  cursor: pointer;
  touch-action: none;
}
.block.stretches {
  cursor: ew-resize;
}
.block.wrapped {
  background: color-mix(in srgb, var(--c) 26%, var(--board));
}
.block.rest {
  background: var(--board);
  border-style: dashed;
}
.block.hold {
  background: var(--trough);
  border-style: dashed;
}
.block.sear {
  background: var(--board);
}
.block.thaw,
.block.brine,
.block.dry-brine,
.block.injection {
  background: var(--board);
  border-color: var(--edge);
}
.block.picked {
  outline: 3px solid var(--focus);
  outline-offset: 1px;
  z-index: 3;
}
.name {
  font-weight: 700;
}
.until {
  font-family: var(--font-num);
  font-size: 13px;
}
.tail {
  position: absolute;
  top: 52px;
  height: 2px;
  background: var(--c, var(--edge));
  z-index: 2;
}
.tail.pull {
  top: 47px;
  height: 5px;
}
.pit .track {
  height: 40px;
}
.slab {
  font-family: var(--font-head);
}
.warm,
.burns {
  position: absolute;
  top: 6px;
  height: 22px;
  overflow: hidden;
  white-space: nowrap;
  font-size: 13px;
}
.warm {
  background: repeating-linear-gradient(-69deg, var(--edge) 0 1.5px, transparent 1.5px 7px);
  border: 1.5px solid var(--edge);
}
.burns {
  background: var(--trough);
  border: 1.5px solid var(--edge);
  padding-left: 6px;
}
.pit .tail {
  top: 29px;
  height: 4px;
}
.wood {
  position: absolute;
  top: 22px;
  width: 3px;
  height: 6px;
  background: var(--ink);
}
.hand .head {
  padding-block: 4px;
}
.hand .track {
  height: 30px;
}
.hand.nobody,
.hand.nobody .head {
  background: var(--watch-wash);
  color: var(--watch);
}
.flag {
  position: absolute;
  top: 4px;
  transform: translateX(-50%);
  min-width: 20px;
  height: 22px;
  padding: 0 3px;
  border: 1.5px solid var(--edge);
  border-radius: var(--r-1);
  background: var(--board);
  text-align: center;
  font-size: 13px;
  font-weight: 700;
  line-height: 19px;
  white-space: nowrap;
}
.flag small {
  font-weight: 400;
  font-size: 13px;
}
.clash {
  position: absolute;
  bottom: 3px;
  transform: translateX(-50%);
  color: var(--watch);
  background: var(--watch-wash);
  padding: 1px 0 1px 5px;
  font-size: 16px;
  line-height: 1;
  z-index: 4;
}
.now,
.table {
  position: absolute;
  inset-block: 0;
  left: calc(var(--head) + (100% - var(--head)) * var(--x));
  pointer-events: none;
  border-left: 3px solid var(--ink);
}
.now {
  border-color: var(--ember);
}
@media (max-width: 900px) {
  .rail {
    --head: 116px;
    min-width: 760px;
  }
  .who {
    flex-wrap: wrap;
    gap: 0 6px;
  }
  .on {
    margin-left: 0;
    width: 100%;
  }
  .arm .track {
    height: 118px;
  }
}
@media print {
  .block,
  .burns,
  .warm {
    print-color-adjust: exact;
  }
}
</style>
