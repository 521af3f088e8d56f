<script setup lang="ts">
import { computed } from 'vue'
import type { Arm, Pair, Row, Side } from '../api/schema.gen'
import ArmToken from '../ui/ArmToken.vue'
import { span } from '../ui/time'
import { fixed, sentence, signed } from '../ui/units'
import IntervalLine from './IntervalLine.vue'
import TrendChart from './TrendChart.vue'
import { widest, type ReachKey } from './words'

/** What is behind a row: pairs in their three reaches, factors that were crossed, places and parts, the trend. */
const props = defineProps<{ row: Row; arms: Arm[] }>()
defineEmits<{ work: [pair: Pair, reach: ReachKey] }>()
const tag = (i: number) => props.arms[i]!.tag
const digits = computed(() => (props.row.outcome.unit.startsWith('%') ? 1 : 2))
const sides = (p: Pair): [ReachKey, string, Side][] => {
  const all: [ReachKey, string, Side][] = []
  if (p.pieces) all.push(['pieces', 'these pieces', p.pieces])
  all.push(['cooks', 'these cooks', p.cooks], ['next', 'the next cook', p.next])
  return all
}
const amount = (s: Side) => (s.estimate === null ? '' : signed(s.estimate, digits.value))
function interval(s: Side): string {
  if (!s.ci90) return ''
  const plain = (v: number) => signed(v, digits.value).replace('+', '')
  return `${plain(s.ci90[0]!)} to ${plain(s.ci90[1]!)}`
}
const mean = (v: number | null | undefined) =>
  v == null ? '–' : props.row.outcome.unit === 'h' ? span(v) : fixed(v, 1)
const capital = (s: string) => s[0]!.toUpperCase() + s.slice(1)
const chance = (p: Pair) => props.row.go_on.filter((g) => g.a === p.a && g.b === p.b)
</script>

<template>
  <div class="detail" :data-testid="`detail-${row.outcome.key}`">
    <table v-if="row.effects.length" data-testid="effects">
      <thead>
        <tr>
          <th>Factors by themselves, then together</th>
          <th>does</th>
          <th>9 times in 10</th>
          <th>word</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="e in row.effects" :key="e.factors.join()">
          <td>
            <b>{{ e.factors.join(' with ') }}</b><span v-if="e.first">, {{ e.first }} less {{ e.second }}</span>
          </td>
          <td class="num">{{ signed(e.estimate, digits) }}</td>
          <td class="num">{{ e.ci90 ? `${fixed(e.ci90[0]!, digits)} to ${fixed(e.ci90[1]!, digits)}` : '' }}</td>
          <td>{{ e.word }}</td>
        </tr>
      </tbody>
    </table>
    <div v-for="p in row.pairs" :key="`${p.a} ${p.b}`" class="pair" :data-testid="`pair-${tag(p.a)}-${tag(p.b)}`">
      <div>
        <p class="versus small">
          <span>◀ <ArmToken :place="p.b" :size="15" /> {{ tag(p.b) }}</span>
          <b>{{ widest(p).word || 'no verdict' }}</b>
          <span>{{ tag(p.a) }} <ArmToken :place="p.a" :size="15" /> ▶</span>
        </p>
        <IntervalLine :row="row" :side="p.cooks" />
        <IntervalLine v-if="p.pieces" :row="row" :side="p.pieces" thin />
      </div>
      <div>
        <button
          v-for="[key, name, s] in sides(p)"
          :key="key"
          type="button"
          class="figure"
          :aria-label="`${name}: show the working`"
          :data-testid="`number-${row.outcome.key}-${tag(p.a)}-${tag(p.b)}-${key}`"
          @click="$emit('work', p, key)"
        >
          <span class="soot small">{{ name }}</span>
          <b class="num">{{ amount(s) }}</b>
          <span class="num small">{{ interval(s) }}</span>
          <span class="small">{{ s.estimate === null ? s.why : s.word + (s.but ? `, ${s.but}` : '') }}</span>
        </button>
        <p v-if="p.cooks.too_small" class="small">Real, but too small to matter.</p>
        <p v-if="p.cooks.exact" class="small soot">
          By the small-sample method: every way the cuts could have been dealt.
        </p>
        <p v-if="p.cooks.why" class="small">{{ capital(p.cooks.why) }}.</p>
        <p v-if="p.next.why && p.next.estimate !== null" class="small">{{ capital(p.next.why) }}.</p>
        <p v-if="p.cooks.need" class="small need">{{ p.cooks.need }}</p>
        <p v-if="chance(p).length" class="small" :data-testid="`go-on-${tag(p.a)}-${tag(p.b)}`">
          To settle the next cook:
          <template v-for="(c, i) in chance(p)" :key="c.cooks"
            >{{ i ? ', ' : '' }}{{ c.cooks }} more <b class="num">{{ Math.round(10 * c.chance) }}</b> in 10</template
          >.
        </p>
      </div>
    </div>
    <TrendChart v-if="row.trend" :row="row" :trend="row.trend" />
    <p v-if="row.trend" class="said">{{ sentence(row.trend.sentence) }}</p>
    <table v-if="row.subs.length" class="subs" data-testid="subs">
      <thead>
        <tr>
          <th>Places and parts</th>
          <th v-for="(a, i) in arms" :key="a.id"><ArmToken :place="i" :size="16" /> {{ a.tag }}</th>
          <th>cuts</th>
          <th>word</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in row.subs" :key="s.of + s.name">
          <td>{{ s.of }} {{ s.name }}</td>
          <td v-for="(m, i) in s.means" :key="i" class="num">{{ mean(m) }}</td>
          <td class="num">{{ s.units.join(', ') }}</td>
          <td>
            {{ s.word ?? '' }} <template v-if="s.over.length">{{ tag(s.over[0]!) }}</template>
            <span v-if="!s.word" class="soot">not asked: means alone</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.detail {
  grid-column: 1 / -1;
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 8px 0 12px;
}
.pair {
  display: grid;
  grid-template-columns: minmax(0, 340px) minmax(0, 1fr);
  gap: 16px;
  border-top: var(--line) solid var(--grain);
  padding-top: 6px;
}
.versus {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.figure {
  all: unset;
  cursor: pointer;
  display: grid;
  grid-template-columns: 104px 64px 120px minmax(0, 1fr);
  gap: 8px;
  min-height: 36px;
  align-items: center;
  width: 100%;
}
.figure:hover {
  background: var(--trough);
}
.figure:focus-visible {
  outline: 3px solid var(--focus);
}
.need {
  color: var(--soot);
}
.said {
  font: 700 17px var(--font-head);
}
@media (max-width: 900px) {
  .pair {
    grid-template-columns: minmax(0, 1fr);
  }
  .figure {
    grid-template-columns: 96px 60px minmax(0, 1fr);
  }
}
</style>
