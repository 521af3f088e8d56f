<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, inject, ref } from 'vue'
import type { Block, Conflict, Lane, Moment, PlanView } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { coreY } from '../fire/scale'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { clock } from '../ui/time'
import ClashMarks from './ClashMarks.vue'
import { draftKey } from './draft'
import { fixed, spanText } from './rail'
import { kindOf } from './phases'
import RailLine from './RailLine.vue'
import { railKey } from './railScale'

/** One arm on the rail: its phases as blocks that are dragged or nudged, and how its cores climb. */
const props = defineProps<{ lane: Lane; work: PlanView; clashes: Conflict[] }>()
const picked = defineModel<{ arm: number; phase: number } | null>('picked', { required: true })
const { trial, shut } = useThisTrial()
const { draft, stretch } = inject(draftKey)!
const { rail, width, marks, x, left, between } = inject(railKey)!

const arm = computed(() => trial.value.ask.arms[props.lane.arm]!)
const cuts = computed(() =>
  props.work.cuts.filter((c) => trial.value.cuts.find((k) => k.id === c.id)?.arm_id === arm.value.id),
)
const phaseOf = (b: Block) => draft.value!.outline.arms[props.lane.arm]!.phases[b.phase]
const lastSmoke = computed(() =>
  draft.value!.outline.arms[props.lane.arm]!.phases.map((p) => kindOf(p.kind).in_pit).lastIndexOf(true),
)
const uncertain = (m: Moment) => Date.parse(m.late) - Date.parse(m.early) > 5 * 60_000
const mean = (of: (c: PlanView['cuts'][number]) => number) =>
  cuts.value.reduce((s, c) => s + of(c), 0) / cuts.value.length
const loss = computed(() => Math.round(100 * mean((c) => c.loss)))
const tender = computed(() => vocabulary.tender.find((w) => mean((c) => c.tender) < w.under)!.words)
const curveH = 40
const curve = (points: PlanView['cuts'][number]['curve']) =>
  points
    .map(
      (p, i) => `${i ? 'L' : 'M'}${((x(p.at) / 100) * width.value).toFixed(1)} ${coreY(p.core_C, curveH).toFixed(1)}`,
    )
    .join('')

/** What is before the fire, where the clock is pressed together. */
const leads: string[] = vocabulary.kinds.filter((k) => k.lead).map((k) => k.kind)
// Dragging the end of a block that ends by the clock; a hold grows from its start.
const dragged = ref<{ arm: number; phase: number; from: number; was: number; back: boolean } | null>(null)
function start(e: PointerEvent, b: Block) {
  const { arm } = props.lane
  const p = phaseOf(b)
  picked.value = { arm, phase: b.phase }
  if (!p || shut.value || fixed(p) === null || e.button !== 0) return
  const back = p.kind === 'hold' || p.kind === 'rest' || leads.includes(p.kind)
  dragged.value = { arm, phase: b.phase, from: e.clientX, was: fixed(p)!, back }
  e.preventDefault()
}
useEventListener(window, 'pointermove', (e: PointerEvent) => {
  const d = dragged.value
  if (!d) return
  const lead = leads.includes(draft.value!.outline.arms[d.arm]!.phases[d.phase]!.kind)
  const r = rail.value
  const perPixel = lead ? (r.fire - r.from) / (r.lead * width.value) : (r.to - r.fire) / ((1 - r.lead) * width.value)
  const by = ((e.clientX - d.from) * perPixel) / 1000
  stretch(d.arm, d.phase, d.was + (d.back ? -by : by))
})
useEventListener(window, 'pointerup', () => (dragged.value = null))

function nudge(e: KeyboardEvent, b: Block) {
  const p = phaseOf(b)
  const by = { ArrowLeft: -1, ArrowRight: 1, '-': -1, '+': 1 }[e.key]
  if (!p || by === undefined || shut.value) return
  const s = fixed(p)
  e.preventDefault()
  if (s !== null) return stretch(props.lane.arm, b.phase, s + by * 900)
  const end = p.ends.find((c) => c.watch === 'core')
  const m = end && /^(-?[\d.]+)\s*([FC])$/i.exec(end.typed)
  if (end && m) end.typed = `${Number(m[1]) + by * (m[2]!.toUpperCase() === 'F' ? 1 : 0.5)} ${m[2]!.toUpperCase()}`
}
const says = (b: Block) => {
  const p = phaseOf(b)!
  const short = { feel: 'feel', bark: 'bark set', rendered: 'fat rendered', look: 'look' }
  const ends = p.ends.map((c) => c.typed || short[c.watch as 'feel'])
  return ends.join(p.all ? ' and ' : ' or ')
}
</script>

<template>
  <RailLine class="arm" :data-testid="`plan-lane-${arm.tag}`">
    <template #head>
      <div class="who">
        <ArmToken :place="lane.arm" :size="24" />
        <b class="num">{{ arm.tag }}</b>
        <b class="num on" :data-testid="`on-${arm.tag}`">{{ clock(lane.on) }}</b>
      </div>
      <p class="small soot">
        <template v-if="cuts.length"
          >loses <b class="num">{{ loss }} %</b>, {{ tender }}</template
        >
      </p>
      <p class="small soot">
        latest <b class="num">{{ clock(lane.latest) }}</b>
      </p>
    </template>
    <i v-for="t in marks" :key="`g${t}`" class="grid" :style="left(t)" />
    <svg class="curve" aria-hidden="true" :width="width" :height="curveH">
      <path v-for="c in cuts" :key="c.id" :d="curve(c.curve)" :style="{ stroke: `var(--arm${lane.arm + 1})` }" />
    </svg>
    <template v-for="b in lane.blocks" :key="b.phase">
      <button
        v-if="phaseOf(b)"
        type="button"
        class="block"
        :class="[
          phaseOf(b)!.kind.replace(' ', '-'),
          {
            wrapped: phaseOf(b)!.wrap && kindOf(phaseOf(b)!.kind).in_pit,
            picked: picked?.arm === lane.arm && picked?.phase === b.phase,
            stretches: fixed(phaseOf(b)!) !== null,
          },
        ]"
        :style="{ ...between(b.from, b.to.middle), '--c': `var(--arm${lane.arm + 1})` }"
        :aria-label="`${arm.tag}: ${phaseOf(b)!.name} ${says(b)}, ${clock(b.from)} to ${clock(b.to.middle)}`"
        :title="`${phaseOf(b)!.name} until ${says(b)}, ${spanText((Date.parse(b.to.middle) - Date.parse(b.from)) / 1000)}`"
        :data-testid="`block-${arm.tag}-${phaseOf(b)!.kind}`"
        @pointerdown="start($event, b)"
        @keydown="nudge($event, b)"
        @focus="picked = { arm: lane.arm, phase: b.phase }"
      >
        <span class="name">{{ phaseOf(b)!.name }}</span>
        <span class="until">{{ says(b) }}</span>
      </button>
      <i
        v-if="uncertain(b.to) && phaseOf(b) && kindOf(phaseOf(b)!.kind).in_pit"
        class="tail"
        :class="{ pull: lastSmoke === b.phase }"
        :style="{ ...between(b.to.early, b.to.late), '--c': `var(--arm${lane.arm + 1})` }"
        :title="`${phaseOf(b)!.name} is over between ${clock(b.to.early)} and ${clock(b.to.late)}, 8 times in 10`"
      />
    </template>
    <ClashMarks :clashes="clashes" />
  </RailLine>
</template>

<style scoped>
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
.arm {
  --track: 96px;
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
  height: 44px;
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
@media (max-width: 900px) {
  .who {
    flex-wrap: wrap;
    gap: 0 6px;
  }
  .on {
    margin-left: 0;
    width: 100%;
  }
  .arm {
    --track: 118px;
  }
}
@media print {
  .block {
    print-color-adjust: exact;
  }
}
</style>
