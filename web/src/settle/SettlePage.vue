<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok, Refused } from '../api/client'
import type { Row, Side } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { span } from '../ui/time'
import { sentence, signed } from '../ui/units'
import IntervalLine from './IntervalLine.vue'
import VerdictBeam from './VerdictBeam.vue'

const { trial, shut } = useThisTrial()
const { data: result, error } = useQuery({
  queryKey: computed(() => ['settle', trial.value.id, trial.value.revealed_at]),
  queryFn: () => ok(api.GET('/api/trials/{id}/settle', { params: { path: { id: trial.value.id } } })),
  enabled: shut,
  staleTime: Infinity,
})
const tag = (i: number) => trial.value.ask.arms[i]!.tag
const digits = (r: Row) => (r.outcome.unit.startsWith('%') ? 1 : 2)

function verdict(s: Side): string {
  if (!s.word) return 'No verdict'
  const word = s.word[0]!.toUpperCase() + s.word.slice(1)
  return s.winner === null ? word : `${word}: ${tag(s.winner)}`
}
function mean(r: Row, v: number | null): string {
  if (v === null) return '–'
  return r.outcome.unit === 'h' ? span(v) : v.toFixed(1)
}
/** The two levels, never mixed: each with its own line and its own word. */
function sides(r: Row): [string, Side][] {
  return r.pieces
    ? [
        ['the process', r.process!],
        ['these pieces', r.pieces],
      ]
    : [['the process', r.process!]]
}
function amount(r: Row, s: Side): string {
  return s.estimate === null ? '' : signed(s.estimate, digits(r))
}
function interval(r: Row, s: Side): string {
  if (!s.ci90) return ''
  const plain = (v: number) => signed(v, digits(r)).replace('+', '')
  return `${plain(s.ci90[0]!)} to ${plain(s.ci90[1]!)}`
}
</script>

<template>
  <div v-if="!shut" class="page stack">
    <h1>The codes are closed</h1>
    <p>The verdict is read once every ballot is locked and the codes are opened on the Table.</p>
    <RouterLink :to="`/trials/${trial.id}/table`">Go to the table</RouterLink>
  </div>
  <div v-else-if="error instanceof Refused" class="page"><ProblemNote :problem="error.problem" /></div>
  <div v-else-if="result" class="two">
    <section class="wide">
      <div class="answer">
        <h1 data-testid="headline">{{ sentence(result.headline) }}</h1>
        <p>
          {{ result.rests_on }} <span v-if="trial.reveal_reason">Codes opened early: {{ trial.reveal_reason }}.</span>
        </p>
      </div>
      <div class="heads small">
        <span class="soot">Verdict, and the arm averages</span>
        <span class="dir"
          ><span>◀ {{ tag(1) }}</span
          ><b>same for our purposes</b><span>{{ tag(0) }} ▶</span></span
        >
        <span class="soot">{{ tag(0) }} minus {{ tag(1) }}, 9 times in 10</span>
      </div>
      <article v-for="r in result.rows" :key="r.outcome.key" class="outcome" :data-testid="`outcome-${r.outcome.key}`">
        <div>
          <div class="row nowrap">
            <VerdictBeam v-if="r.process" :word="r.process.word" />
            <h2 class="word">{{ r.process ? verdict(r.process) : 'Described only' }}</h2>
          </div>
          <p class="small">
            <b class="gap">{{ r.outcome.name }}</b>
            <span class="soot"
              >{{ r.outcome.unit }}{{ r.outcome.better === 'down' ? ', less is better' : ''
              }}{{ r.process ? `, matters from ${r.smallest_difference}` : '' }}</span
            >
          </p>
          <div class="row means">
            <span v-for="(m, i) in r.means" :key="i" class="row tight"
              ><ArmToken :place="i" :size="20" /><b class="num">{{ mean(r, m) }}</b></span
            >
          </div>
        </div>
        <div v-if="r.process" class="lines">
          <IntervalLine :row="r" :side="r.process" />
          <IntervalLine v-if="r.pieces" :row="r" :side="r.pieces" thin />
        </div>
        <div v-if="r.process" class="figures">
          <div v-for="[name, side] in sides(r)" :key="name" class="figure">
            <span class="soot small">{{ name }}</span>
            <b class="num">{{ amount(r, side) }}</b>
            <span class="num small">{{ interval(r, side) }}</span>
            <span class="small own">{{ side === r.pieces ? side.word : '' }}</span>
          </div>
          <p v-if="r.process.too_small" class="small">Real, but too small to matter.</p>
          <p v-if="r.process.exact" class="small soot">By exact sign flips.</p>
          <p v-if="r.process.why" class="small">{{ r.process.why[0]!.toUpperCase() + r.process.why.slice(1) }}.</p>
          <p v-if="r.process.need" class="small need">{{ r.process.need }}</p>
        </div>
      </article>
    </section>
    <aside class="side stack">
      <h2>What this does not cover</h2>
      <p data-testid="not-covered">
        <b>{{ sentence(result.not_covered) }}</b>
      </p>
      <p v-for="l in result.limits" :key="l.text" :class="l.confound ? 'warn triangle' : 'dash'">
        {{ sentence(l.text) }}
      </p>
      <h2>How it is judged</h2>
      <p class="small">
        <b>The process</b> asks whether the next cook would show it again: each {{ trial.ask.unit }} counts once, in its
        pair or cook. <b>These pieces</b> asks whether the panel told the pieces on the table apart: each taster counts
        once. The ground between the posts is the difference you said does not matter.
      </p>
      <p class="small">
        Clear winner: sure, and by at least what matters. Same for our purposes: surely within the posts. Leaning: more
        likely than not. Cannot tell: not enough to say.
      </p>
    </aside>
  </div>
</template>

<style scoped>
.answer {
  background: var(--lime);
  padding: 14px 16px;
}
.answer h1 {
  margin-bottom: 6px;
}
.wide {
  min-width: 0;
}
.heads,
.outcome {
  display: grid;
  grid-template-columns: 244px 340px minmax(0, 1fr);
  gap: 14px;
  padding: 8px 16px;
  background: var(--board);
}
.heads {
  padding-bottom: 2px;
}
.dir {
  display: grid;
  grid-template-columns: 1fr auto 1fr;
  gap: 6px;
  align-items: end;
}
.dir span:last-child {
  text-align: right;
}
.outcome {
  border-top: var(--line) solid var(--edge);
}
.word {
  font-size: 19px;
}
.nowrap {
  flex-wrap: nowrap;
}
.tight {
  gap: 6px;
}
.means {
  font-size: 20px;
  margin-top: 2px;
}
.figure {
  display: grid;
  grid-template-columns: 78px auto 1fr;
  column-gap: 10px;
  align-items: baseline;
  min-height: 30px;
}
.figure b {
  font-size: 19px;
}
.gap {
  margin-right: 6px;
}
.figure .num.small {
  letter-spacing: -0.4px;
  white-space: nowrap;
}
.own {
  grid-column: 2 / -1;
}
.need {
  font-weight: 700;
}
.dash::before {
  content: '';
  display: inline-block;
  width: 12px;
  height: 3px;
  background: var(--ink);
  vertical-align: middle;
  margin-right: 8px;
}
.side {
  padding: 16px;
}
@media (max-width: 1100px) {
  .heads {
    display: none;
  }
  .outcome {
    grid-template-columns: 1fr;
  }
}
</style>
