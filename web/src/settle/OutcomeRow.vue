<script setup lang="ts">
import { computed } from 'vue'
import type { Arm, Pair, Row, Side, Weighed } from '../api/schema.gen'
import WordTip from '../guide/WordTip.vue'
import ArmToken from '../ui/ArmToken.vue'
import ArmsLine from './ArmsLine.vue'
import { fixed } from '../ui/units'
import VerdictBeam from './VerdictBeam.vue'
import { outcomeWords, saidOf, type ReachKey } from './words'

/** One outcome: its word, all arms on one line, the three reaches, and what it weighs. */
const props = defineProps<{
  row: Row
  arms: Arm[]
  weighed: Weighed | undefined
  share: number | undefined
  open: boolean
}>()
const emit = defineEmits<{ move: [share: number]; toggle: []; work: [pair: Pair, reach: ReachKey] }>()
const head = computed(() => outcomeWords(props.row, props.arms))
/** Of a reach, the word most of its pairs came to, and who over whom. */
interface Told {
  word: string
  winners: number[]
  losers: number[]
  why: string
}
function told(of: (p: Pair) => Side | null): Told | null {
  const sides = props.row.pairs.map((p) => ({ p, s: of(p) })).filter((x) => x.s !== null)
  if (sides.length === 0) return null
  for (const word of ['clear winner', 'same for our purposes', 'leaning']) {
    const these = sides.filter((x) => x.s!.word === word)
    if (these.length === 0) continue
    if (word === 'same for our purposes')
      return { word: 'same', winners: [...new Set(these.flatMap((x) => [x.p.a, x.p.b]))], losers: [], why: '' }
    const winners = [...new Set(these.map((x) => x.s!.winner!))]
    const losers = [...new Set(these.map((x) => x.p.a + x.p.b - x.s!.winner!))].filter((l) => !winners.includes(l))
    return { word: word === 'clear winner' ? 'clear' : word, winners, losers, why: '' }
  }
  const first = sides[0]!.s!
  const why = first.estimate === null || (first.ci90 === null && first.why) ? first.why : ''
  return { word: first.word ? 'cannot tell' : 'no verdict', winners: [], losers: [], why }
}
const reaches = computed<[ReachKey, string, Told | null][]>(() => [
  ['pieces', 'these pieces', told((p) => p.pieces)],
  ['cooks', 'these cooks', told((p) => p.cooks)],
  ['next', 'the next cook', told((p) => p.next)],
])
const turn = computed(() => (props.weighed?.turns_at == null ? null : Math.round(100 * props.weighed.turns_at)))
function work(reach: ReachKey) {
  const p = props.row.pairs[0]
  if (p) emit('work', props.row.pairs.find((q) => saidOf(q, reach)?.winner != null) ?? p, reach)
}
</script>

<template>
  <article class="outcome" :data-testid="`outcome-${row.outcome.key}`">
    <div class="head">
      <VerdictBeam v-if="head.word !== undefined" :word="head.word" />
      <div>
        <h2 class="word">
          <WordTip v-if="head.word" :word="head.word">{{ head.text }}</WordTip><template v-else>{{
            head.text
          }}</template>
          <span v-if="head.within" class="within">{{ head.within }}</span>
        </h2>
        <p class="small">
          <b>{{ row.outcome.name }}</b>
          <span class="soot"
            >, {{ row.outcome.unit }}{{ row.outcome.better === 'down' ? '; less is better' : '' }}</span
          >
        </p>
        <p v-if="head.but" class="small watch triangle">{{ head.but }}</p>
        <button
          v-if="row.pairs.length"
          type="button"
          class="more word no-print"
          :aria-expanded="open"
          :data-testid="`more-${row.outcome.key}`"
          @click="$emit('toggle')"
        >
          {{ open ? 'less' : arms.length > 2 ? `its ${row.pairs.length} pairs` : 'intervals and parts' }}
        </button>
      </div>
    </div>
    <ArmsLine v-if="row.pairs.length" :row="row" :arms="arms" />
    <p v-else class="row means">
      <span v-for="(m, i) in row.means" :key="i" class="row"
        ><ArmToken :place="i" :size="20" /><b class="num">{{ m === null ? '–' : fixed(m, 1) }}</b></span
      >
    </p>
    <div class="reaches">
      <div v-for="[key, name, t] in reaches" :key="key" class="reach">
        <span class="small soot name">{{ name }}</span>
        <button v-if="t" type="button" class="told" :data-testid="`work-${row.outcome.key}-${key}`" @click="work(key)">
          <span class="visually-hidden">{{ name }}: </span>
          <b :class="{ plain: t.word === 'cannot tell' }">{{ t.word }}</b>
          <span v-if="t.winners.length" class="who">
            <template v-for="w in t.winners" :key="w"
              ><ArmToken :place="w" :size="15" /><span class="visually-hidden">{{ arms[w]!.tag }} </span></template
            >
            <template v-if="t.losers.length"
              ><i>over</i>
              <template v-for="l in t.losers" :key="l"
                ><ArmToken :place="l" :size="15" /><span class="visually-hidden">{{ arms[l]!.tag }} </span></template
              ></template
            >
          </span>
          <span v-if="t.why" class="small soot">{{ t.why }}</span>
          <span class="visually-hidden">Show the working</span>
        </button>
        <span v-else class="small soot">{{ row.pairs.length ? 'not tasted' : '' }}</span>
      </div>
    </div>
    <div class="weight no-print">
      <template v-if="weighed && share !== undefined">
        <label :for="`w-${row.outcome.key}`"
          ><span class="visually-hidden">{{ row.outcome.name }}, weight</span><b class="num">{{ Math.round(share) }}</b
          ><span class="small soot"> {{ turn === null ? 'never' : `at ${turn}` }}</span></label
        >
        <div class="slide">
          <input
            :id="`w-${row.outcome.key}`"
            type="range"
            min="0"
            max="100"
            step="1"
            :value="Math.round(share)"
            :data-testid="`weight-${row.outcome.key}`"
            @input="(e) => $emit('move', Number((e.target as HTMLInputElement).value))"
          />
          <span v-if="turn !== null" class="turn" :style="{ left: `${turn}%` }" aria-hidden="true">
            <ArmToken v-if="weighed.turns_to[0] !== undefined" :place="weighed.turns_to[0]" :size="14" />
          </span>
        </div>
      </template>
    </div>
    <p v-if="row.beside" class="small soot beside" data-testid="beside">{{ row.beside }}</p>
    <slot v-if="open" />
  </article>
</template>

<style scoped>
.outcome {
  display: grid;
  grid-template-columns: 200px minmax(0, 244px) minmax(0, 1fr) 104px;
  gap: 2px 12px;
  padding: 4px 16px;
  border-top: var(--line) solid var(--edge);
  background: var(--board);
  align-items: start;
}
.head {
  display: flex;
  gap: 8px;
  align-items: flex-start;
}
h2.word {
  font-size: 18px;
}
.within {
  margin-left: 0.3em;
  font: 400 14px var(--font-text);
}
.more {
  all: unset;
  cursor: pointer;
  font-size: 14px;
  color: var(--soot);
  text-decoration: underline;
  min-height: 28px;
}
.more:focus-visible {
  outline: 3px solid var(--focus);
}
.watch {
  color: var(--watch);
}
.beside {
  grid-column: 1 / -1;
}
.reaches {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px;
}
.reach {
  display: flex;
  flex-direction: column;
}
.name {
  display: none;
}
.told {
  all: unset;
  cursor: pointer;
  display: flex;
  flex-direction: column;
  gap: 2px;
  min-height: 44px;
  text-decoration: underline dotted var(--edge);
  text-underline-offset: 3px;
}
.told:focus-visible {
  outline: 3px solid var(--focus);
  outline-offset: 2px;
}
.plain {
  font-weight: 400;
  color: var(--soot);
}
.who {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  flex-wrap: wrap;
}
.who i {
  font-style: normal;
  font-size: 13px;
  color: var(--soot);
}
.weight {
  display: flex;
  flex-direction: column;
}
.slide {
  position: relative;
  padding-top: 22px;
}
.weight label {
  display: flex;
  gap: 8px;
  align-items: baseline;
  font-size: 17px;
  position: absolute;
}
.weight {
  position: relative;
}
input[type='range'] {
  width: 100%;
  min-height: 28px;
  accent-color: var(--ink);
  margin: 0;
}
.turn {
  position: absolute;
  top: 38px;
  transform: translateX(-50%);
  height: 16px;
  border-left: 2px solid var(--edge);
  padding-left: 2px;
}
.means {
  font-size: 20px;
}
@media (max-width: 1000px) {
  .outcome {
    grid-template-columns: minmax(0, 1fr);
  }
  .name {
    display: block;
  }
  .weight {
    max-width: 320px;
  }
  input[type='range'] {
    min-height: 44px;
  }
  .turn {
    top: 46px;
  }
}
</style>
