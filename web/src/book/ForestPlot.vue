<script setup lang="ts">
import { computed } from 'vue'
import type { KnowAnswer } from '../api/schema.gen'
import VerdictBeam from '../settle/VerdictBeam.vue'
import { date } from '../ui/time'
import { fixed, signed } from '../ui/units'

/** Trials newest first on one gate; all together in ink under a thick line, the next trial as a dashed box. */
const props = defineProps<{ answer: KnowAnswer }>()
const a = computed(() => props.answer)
const flip = computed(() => (a.value.outcome.better === 'down' ? -1 : 1))
const ends = computed(() => {
  const all = a.value.trials
    .flatMap((t) => [...(t.ci90 ?? [])])
    .concat([...(a.value.ci90 ?? [])], [...(a.value.next80 ?? [])])
  return Math.max(a.value.smallest * 1.6, ...all.map(Math.abs)) * 1.05 || 1
})
const x = (v: number) => 50 + ((flip.value * v) / ends.value) * 49
const span = (i: number[]) => [x(i[0]!), x(i[1]!)].sort((p, q) => p - q) as [number, number]
const words = (i: number[]) => `${fixed(i[0]!, 1)} to ${fixed(i[1]!, 1)}`
</script>

<template>
  <div class="plot" data-testid="forest">
    <div class="line heads small soot">
      <span>Trial, newest first</span>
      <span class="gate"
        ><span>◀ {{ a.levels[1] }} better</span><b>same for our purposes</b
        ><span>{{ a.levels[0] }} better ▶</span></span
      >
      <span>gain</span><span>9 times in 10</span><span>its cooks</span>
    </div>
    <div v-for="t in a.trials" :key="t.trial_id" class="line" :data-testid="`known-${t.trial_id}`">
      <span class="name">
        <VerdictBeam :word="t.word" />
        <span>
          <RouterLink :to="`/trials/${t.trial_id}/settle`"
            ><b>{{ t.question }}</b></RouterLink
          >
          <b v-if="t.apart" class="watch triangle"> apart</b>
          <span class="small soot">
            {{ date(t.at) }}. {{ t.setting.pits.join(', ') }}, {{ t.setting.cooks }} cooks,
            {{ t.setting.cuts }} cuts<template v-if="t.setting.tasters">, {{ t.setting.tasters }} tasters</template>
          </span>
          <span v-if="t.limited" class="small watch triangle">{{ t.limited }}</span>
        </span>
      </span>
      <svg viewBox="0 0 100 40" preserveAspectRatio="none" aria-hidden="true">
        <rect
          :x="x(-a.smallest * flip)"
          :width="2 * (x(a.smallest * flip) - 50)"
          y="0"
          height="40"
          fill="var(--trough)"
        />
        <path
          :d="`M${x(a.smallest)} 0V40M${x(-a.smallest)} 0V40`"
          stroke="var(--ink)"
          stroke-width="4"
          vector-effect="non-scaling-stroke"
        />
        <g v-if="t.ci90">
          <path
            :d="`M${span(t.ci90)[0]} 20H${span(t.ci90)[1]}`"
            stroke="var(--arm1)"
            stroke-width="3.5"
            vector-effect="non-scaling-stroke"
          />
          <path
            :d="`M${span(t.ci90)[0]} 12V28M${span(t.ci90)[1]} 12V28`"
            stroke="var(--arm1)"
            stroke-width="3"
            vector-effect="non-scaling-stroke"
          />
          <path
            :d="`M${x(t.estimate)} 8V32`"
            stroke="var(--arm1)"
            stroke-width="9"
            vector-effect="non-scaling-stroke"
          />
        </g>
      </svg>
      <b class="num">{{ signed(t.estimate, 1) }}</b>
      <span class="num small">{{ t.ci90 ? words(t.ci90) : '' }}</span>
      <b class="small">{{ t.word }}</b>
    </div>
    <div v-if="a.estimate !== null && a.ci90" class="line all">
      <span class="name">
        <VerdictBeam :word="a.word" />
        <span
          ><b>{{
            a.trials.length === 1
              ? 'This one alone'
              : a.trials.length === 2
                ? 'Both together'
                : `All ${a.trials.length} together`
          }}</b>
          <span class="small soot">{{ a.cooks }} cooks, {{ a.cuts }} cuts. {{ a.method }}.</span></span
        >
      </span>
      <svg viewBox="0 0 100 56" preserveAspectRatio="none" aria-hidden="true">
        <rect
          :x="x(-a.smallest * flip)"
          :width="2 * (x(a.smallest * flip) - 50)"
          y="0"
          height="56"
          fill="var(--trough)"
        />
        <path
          :d="`M${x(a.smallest)} 0V56M${x(-a.smallest)} 0V56`"
          stroke="var(--ink)"
          stroke-width="4"
          vector-effect="non-scaling-stroke"
        />
        <path
          :d="`M${span(a.ci90)[0]} 18H${span(a.ci90)[1]}`"
          stroke="var(--ink)"
          stroke-width="4"
          vector-effect="non-scaling-stroke"
        />
        <path :d="`M${x(a.estimate)} 6V30`" stroke="var(--ink)" stroke-width="12" vector-effect="non-scaling-stroke" />
        <rect
          v-if="a.next80"
          :x="span(a.next80)[0]"
          :width="span(a.next80)[1] - span(a.next80)[0]"
          y="38"
          height="13"
          fill="var(--board)"
          stroke="var(--ink)"
          stroke-dasharray="4 3"
          stroke-width="1.5"
          vector-effect="non-scaling-stroke"
        />
      </svg>
      <b class="num big">{{ signed(a.estimate, 1) }}</b>
      <span class="num small"
        ><b>{{ words([...a.ci90]) }}</b
        ><br v-if="a.next80" />{{ a.next80 ? words([...a.next80]) : '' }}</span
      >
      <span class="small"
        ><b>{{ a.word }}</b
        ><br v-if="a.next80" /><span v-if="a.next80" class="soot">next trial, 8 in 10</span></span
      >
    </div>
  </div>
</template>

<style scoped>
.plot {
  background: var(--board);
}
.line {
  display: grid;
  grid-template-columns: minmax(200px, 1.2fr) minmax(180px, 1fr) 60px 104px 96px;
  gap: 10px;
  align-items: center;
  padding: 0 16px;
  border-top: var(--line) solid var(--edge);
}
.heads {
  border: 0;
  padding-top: 4px;
}
.gate {
  display: flex;
  justify-content: space-between;
  gap: 6px;
}
.gate b {
  color: var(--ink);
}
.name {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 6px 0;
}
.name .small {
  display: block;
}
.line > svg {
  width: 100%;
  height: 60px;
}
.all > svg {
  height: 74px;
}
.line > .num {
  white-space: nowrap;
  letter-spacing: -0.04em;
}
.all {
  border-top: 4px solid var(--ink);
}
.watch {
  color: var(--watch);
}
@media (max-width: 800px) {
  .line {
    grid-template-columns: 60px minmax(0, 1fr) 96px;
    padding-bottom: 6px;
  }
  .heads {
    display: none;
  }
  .name,
  .line > svg {
    grid-column: 1 / -1;
  }
}
</style>
