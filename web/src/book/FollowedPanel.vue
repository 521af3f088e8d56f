<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import type { CardView } from '../api/schema.gen'
import KeyCap from '../ui/KeyCap.vue'
import { fixed, sentence, signed } from '../ui/units'
import ControlChart from './ControlChart.vue'

/** How the later cooks went: the rule that fired in words, the chart, and what was different. */
const props = defineProps<{ card: CardView; mayAsk: boolean; busy: boolean }>()
defineEmits<{ reopen: [] }>()
const loud = computed(() =>
  Math.max(
    0,
    props.card.measures.findIndex((m) => m.chart.drifts),
  ),
)
const chosen = ref<number | null>(null)
const m = computed(() => props.card.measures[chosen.value ?? loud.value]!)
const since = computed(() => (m.value.chart.since ? m.value.cooks[m.value.chart.since - 1] : 0))
const widest = computed(() =>
  Math.max(
    Math.abs(m.value.seen ?? 1),
    ...m.value.causes.flatMap((c) => [Math.abs(c.low ?? 0), Math.abs(c.high ?? 0)]),
  ),
)
const x = (v: number) => 50 + (v / (widest.value * 1.05)) * 48
const first = computed(() => m.value.causes.find((c) => c.check))
</script>

<template>
  <aside class="panel">
    <div class="chart">
      <div class="row measures no-print" role="group" aria-label="Measure">
        <button
          v-for="(k, i) in card.measures"
          :key="k.key"
          type="button"
          class="tap"
          :aria-pressed="k === m"
          :data-testid="`measure-${k.key}`"
          @click="chosen = i"
        >
          {{ k.name }}<span v-if="k.chart.since"> ▲</span>
        </button>
      </div>
      <h2 data-testid="rule-fired">{{ m.says || 'As it was: no point stands out.' }}</h2>
      <ControlChart :measure="m" />
    </div>
    <div v-if="m.chart.since" class="why">
      <div class="row">
        <h2>What was different from cook {{ since }} on</h2>
        <span class="push small"
          >seen <b class="num">{{ signed(m.seen ?? 0, 1) }}</b></span
        >
      </div>
      <p v-if="m.causes.length === 0" class="soot">Nothing on record differs beyond its tolerance.</p>
      <ol>
        <li v-for="(c, i) in m.causes" :key="c.name" :data-testid="`cause-${i}`">
          <div>
            <b>{{ c.name }}</b>
            <p class="small">{{ sentence(c.text) }}</p>
          </div>
          <div class="could">
            <b class="num">{{ c.could === null ? '?' : signed(c.could, 1) }}</b>
            <svg viewBox="0 0 100 18" preserveAspectRatio="none" aria-hidden="true">
              <path d="M50 0V18" stroke="var(--ink)" stroke-width="2.5" />
              <path v-if="m.seen !== null" :d="`M${x(m.seen)} 0V18`" stroke="var(--ink)" stroke-dasharray="2 2" />
              <g v-if="c.could !== null && c.low !== null && c.high !== null">
                <path
                  :d="`M${x(c.low)} 9H${x(c.high)}`"
                  stroke="var(--ink)"
                  stroke-width="2.5"
                  :stroke-dasharray="c.measured ? undefined : '4 3'"
                />
                <rect
                  :x="x(c.could) - 3"
                  y="5"
                  width="6"
                  height="8"
                  fill="var(--board)"
                  stroke="var(--ink)"
                  stroke-width="1.5"
                />
              </g>
            </svg>
            <span class="small soot">{{
              c.could === null ? 'not measured' : c.measured ? 'by your cooks' : 'the usual slope'
            }}</span>
          </div>
        </li>
      </ol>
      <div class="row">
        <p v-if="first">
          <b>{{ first.check }}</b><span v-if="first.minutes">, {{ fixed(first.minutes, 0) }} min</span>.
        </p>
        <Button
          v-if="card.reopen && mayAsk"
          class="push no-print"
          :loading="busy"
          data-testid="reopen"
          @click="$emit('reopen')"
          >Reopen as a question <KeyCap>Q</KeyCap></Button
        >
      </div>
    </div>
  </aside>
</template>

<style scoped>
.panel {
  min-width: 0;
}
.chart {
  padding: 10px 16px;
}
.measures {
  gap: 4px;
  margin-bottom: 6px;
}
.why {
  border-top: var(--line-strong) solid var(--ink);
  background: var(--trough);
  padding: 10px 16px;
}
ol {
  margin: 0 0 8px;
  padding-left: 20px;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 170px;
  gap: 10px;
  border-top: var(--line) solid var(--edge);
  padding: 4px 0;
}
.could {
  background: var(--board);
  padding: 2px 6px;
}
.could svg {
  width: 100%;
  height: 20px;
  display: block;
}
</style>
