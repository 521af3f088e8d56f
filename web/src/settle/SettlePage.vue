<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { api, ok, Refused } from '../api/client'
import type { DeliveredFact, Pair, Result, Row, Side } from '../api/schema.gen'
import GateRecord from '../gate/GateRecord.vue'
import WordTip from '../guide/WordTip.vue'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { dateTime, span } from '../ui/time'
import { fixed, sentence, signed, temperature } from '../ui/units'
import IntervalLine from './IntervalLine.vue'
import VerdictBeam from './VerdictBeam.vue'

const { trial, shut } = useThisTrial()
const { data: view, error } = useQuery({
  queryKey: computed(() => ['settle', trial.value.id, trial.value.revealed_at]),
  queryFn: () => ok(api.GET('/api/trials/{id}/settle', { params: { path: { id: trial.value.id } } })),
  enabled: shut,
})
/** As it was read first, unless a hand asks how it reads since. */
const asSince = ref(false)
const result = computed<Result | undefined>(() =>
  asSince.value && view.value?.since ? view.value.since.result : view.value,
)
const tag = (i: number) => trial.value.ask.arms[i]!.tag
const digits = (r: Row) => (r.outcome.unit.startsWith('%') ? 1 : 2)

function verdict(s: Side): string {
  if (!s.word) return 'No verdict'
  const word = s.word[0]!.toUpperCase() + s.word.slice(1)
  return s.winner === null ? word : `${word}: ${tag(s.winner)}`
}
function mean(r: Row, v: number | null): string {
  if (v === null) return '–'
  return r.outcome.unit === 'h' ? span(v) : fixed(v, 1)
}
/** The reaches, never mixed: each with its own line and its own word. */
function sides(p: Pair): [string, Side][] {
  const all: [string, Side][] = [
    ['the next cook', p.next],
    [cooksName.value, p.cooks],
  ]
  if (p.pieces) all.push(['these pieces', p.pieces])
  return all
}
const cooksName = computed(() => {
  const n = trial.value.cooks.length
  return n < 2 ? 'this cook' : n === 2 ? 'these two cooks' : `these ${n} cooks`
})
/** The side of the widest reach that can tell. */
const said = (p: Pair) => (p.reach === 'next' ? p.next : p.reach === 'pieces' && p.pieces ? p.pieces : p.cooks)
const deliveredIn = (d: DeliveredFact, v: number | null) => {
  if (v === null) return '–'
  if (d.unit === 'C') return temperature(v)
  if (d.unit === 'h') return span(v)
  return `${fixed(v, d.unit === '' ? 1 : 0)}${d.unit ? ` ${d.unit}` : ''}`
}
/** What nobody did is left out, unless it was to be equal. */
const delivered = computed(
  () => result.value?.delivered.filter((d) => d.promised || d.values.some((v) => v !== 0)) ?? [],
)
const capital = (s: string) => s[0]!.toUpperCase() + s.slice(1)
const two = computed(() => trial.value.ask.arms.length === 2)
const counted = computed(() => [...new Set(result.value?.rows.flatMap((r) => r.pairs.map((p) => p.unit)))].join(' or '))
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
        <p class="small" data-testid="read-at">
          <template v-if="asSince && view?.since"
            >Read anew {{ dateTime(view.since.at) }}, since {{ view.since.because }}.</template
          >
          <template v-else-if="view?.late"
            >Read {{ dateTime(view.read_at) }}, for the first time since its codes were opened.</template
          >
          <template v-else
            >Read {{ dateTime(view!.read_at) }}, when the codes were opened, by rules {{ view!.rules }}.</template
          >
          {{ result.read }}
        </p>
        <p v-if="view?.since && !asSince" class="small" data-testid="since-then">
          Since then {{ view.since.because }}.
          <template v-if="view.since.result.headline === view.headline">The sentence stands as it was.</template>
          <template v-else
            >{{ dateTime(view.since.at) }} it read: “{{ sentence(view.since.result.headline) }}”</template
          >
        </p>
        <p v-for="l in view?.looks ?? []" :key="l.cook_id" class="small" data-testid="looked">
          Cook {{ trial.cooks.findIndex((k) => k.id === l.cook_id) + 1 }} alone was read {{ dateTime(l.at) }}: “{{
            sentence(l.headline)
          }}”
        </p>
        <Button
          v-if="view?.since"
          size="small"
          outlined
          :label="asSince ? 'As it was read first' : 'Show how it reads since'"
          data-testid="toggle-since"
          @click="asSince = !asSince"
        />
        <p>
          {{ result.rests_on }} <span v-if="trial.ended_by">Ended with nothing tasted: {{ trial.reveal_reason }}.</span>
          <span v-else-if="trial.reveal_reason">Codes opened early: {{ trial.reveal_reason }}.</span>
        </p>
      </div>
      <div v-if="two" class="heads small">
        <span class="soot">Verdict, and the arm averages</span>
        <span class="dir"
          ><span>◀ {{ tag(1) }}</span
          ><b>same for our purposes</b><span>{{ tag(0) }} ▶</span></span
        >
        <span class="soot">{{ tag(0) }} minus {{ tag(1) }}, 9 times in 10</span>
      </div>
      <article v-for="r in result.rows" :key="r.outcome.key" class="outcome" :data-testid="`outcome-${r.outcome.key}`">
        <div>
          <div v-if="r.pairs.length < 2" class="row nowrap">
            <VerdictBeam v-if="r.pairs[0]" :word="said(r.pairs[0]).word" />
            <h2 class="word">
              <WordTip v-if="r.pairs[0]" :word="said(r.pairs[0]).word ?? ''">{{
                verdict(said(r.pairs[0]))
              }}</WordTip><template v-else>Described only</template>
              <span v-if="r.pairs[0]?.within" class="within">{{ r.pairs[0].within }}</span>
            </h2>
          </div>
          <p class="small">
            <b class="gap">{{ r.outcome.name }}</b>
            <span class="soot"
              >{{ r.outcome.unit }}{{ r.outcome.better === 'down' ? ', less is better' : ''
              }}{{ r.pairs.length ? `, matters from ${r.smallest_difference}` : '' }}</span
            >
          </p>
          <div class="row means">
            <span v-for="(m, i) in r.means" :key="i" class="row tight"
              ><ArmToken :place="i" :size="20" /><b class="num">{{ mean(r, m) }}</b></span
            >
          </div>
        </div>
        <div v-for="p in r.pairs" :key="`${p.a} ${p.b}`" class="pair" :data-testid="`pair-${tag(p.a)}-${tag(p.b)}`">
          <div>
            <div v-if="!two" class="row tight versus">
              <ArmToken :place="p.b" :size="16" /><b>{{ tag(p.b) }}</b
              ><span class="soot small">against</span><b>{{ tag(p.a) }}</b
              ><ArmToken :place="p.a" :size="16" />
            </div>
            <IntervalLine :row="r" :side="p.cooks" />
            <IntervalLine v-if="p.pieces" :row="r" :side="p.pieces" thin />
          </div>
          <div class="figures">
            <div v-if="!two" class="row nowrap">
              <VerdictBeam :word="said(p).word" />
              <b class="word"
                ><WordTip :word="said(p).word ?? ''">{{ verdict(said(p)) }}</WordTip>
                <span class="within">{{ p.within }}</span></b
              >
            </div>
            <div v-for="[name, side] in sides(p)" :key="name" class="figure">
              <span class="soot small">{{ name }}</span>
              <b class="num">{{ amount(r, side) }}</b>
              <span class="num small">{{ interval(r, side) }}</span>
              <span class="small own">{{
                side.estimate === null ? side.why : side.word + (side.but ? `, ${side.but}` : '')
              }}</span>
            </div>
            <p v-if="p.cooks.too_small" class="small">Real, but too small to matter.</p>
            <p v-if="p.cooks.exact" class="small soot">
              By the small-sample method: every way the cuts could have been dealt.
            </p>
            <p v-if="p.cooks.why" class="small">{{ capital(p.cooks.why) }}.</p>
            <p v-if="p.next.why && p.next.estimate !== null" class="small">{{ capital(p.next.why) }}.</p>
            <p v-if="p.cooks.need" class="small need">{{ p.cooks.need }}</p>
          </div>
        </div>
      </article>
    </section>
    <aside class="side stack">
      <h2>What this does not cover</h2>
      <p data-testid="not-covered">
        <b>{{ sentence(result.not_covered) }}</b>
      </p>
      <p
        v-for="l in result.limits"
        :key="l.text"
        data-testid="limit"
        :class="l.confound || l.broken ? 'warn triangle' : 'dash'"
      >
        {{ sentence(l.text) }}
      </p>
      <p v-if="result.luck" class="small soot">{{ result.luck }}</p>
      <template v-if="result.delivered.length">
        <h2>What each arm got</h2>
        <table class="delivered" data-testid="delivered">
          <thead>
            <tr>
              <th />
              <th v-for="(a, i) in trial.ask.arms" :key="a.id"><ArmToken :place="i" :size="18" /> {{ a.tag }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="d in delivered" :key="d.fact" :class="{ apart: d.apart }">
              <td>{{ d.name }}<span v-if="d.promised" class="small"> was to be equal</span></td>
              <td v-for="(v, i) in d.values" :key="i" class="num">{{ deliveredIn(d, v) }}</td>
            </tr>
          </tbody>
        </table>
      </template>
      <GateRecord />
      <h2>Go on from here</h2>
      <div class="row">
        <RouterLink
          v-for="(a, i) in trial.ask.arms"
          :key="a.id"
          class="follow"
          :to="`/trials/new?follow=${trial.id}&arm=${a.id}`"
          ><ArmToken :place="i" :size="20" /> Follow on with {{ a.tag }}</RouterLink
        >
      </div>
      <h2>How it is judged</h2>
      <p class="small">
        <b>The next cook</b> asks whether another day would show it: each cook counts once, of this trial and of your
        earlier ones of the same two; it needs three. <b>These cooks</b> asks it of the days it was done: each
        {{ counted }} counts once. <b>These pieces</b> asks whether the panel told the pieces on the table apart: each
        taster counts once. The ground between the posts is the difference you said does not matter.
      </p>
      <p class="small">
        Clear winner: sure, and by at least what matters. Same for our purposes: surely within the posts. Leaning: more
        likely than not. Cannot tell: not enough to say.
      </p>
    </aside>
  </div>
</template>

<style scoped>
.within {
  margin-left: 0.3em;
  font-weight: 400;
  font-size: var(--t-sm);
}
.delivered td,
.delivered th {
  padding: 2px 6px 2px 0;
}
.delivered .apart td {
  color: var(--watch);
  font-weight: 700;
}
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
.pair {
  grid-column: 2 / -1;
  display: grid;
  grid-template-columns: 340px minmax(0, 1fr);
  gap: 14px;
}
.versus {
  justify-content: space-between;
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
  grid-template-columns: 112px 1fr;
  column-gap: 10px;
  align-items: baseline;
  margin-bottom: 6px;
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
  grid-row: 1;
  grid-column: 2;
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
.follow {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 36px;
}
@media (max-width: 1100px) {
  .heads {
    display: none;
  }
  .outcome,
  .pair {
    grid-template-columns: minmax(0, 1fr);
  }
  .pair {
    grid-column: auto;
  }
}
</style>
