<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import type { Mend, Number as Planning, Offer } from '../api/schema.gen'
import FindingList from '../trial/FindingList.vue'
import { money, useAskForm } from './ask'
import WordTip from '../guide/WordTip.vue'
import NumberCurve from './NumberCurve.vue'
import { fixed } from '../ui/units'

/** What the ask can tell, what it cannot, and what would mend it. */
const { ask, reading, shut, take, mend } = useAskForm()
// What a new draw would mend is mended in Match.
const findings = computed(
  () => reading.value?.findings.map((f) => ({ ...f, mends: f.mends.filter((m) => m.ask) })) ?? [],
)
const picked = ref('')
const id = (n: Planning) => `${n.outcome.key} ${n.unit}`
const shown = computed(() => reading.value?.numbers.find((n) => id(n) === picked.value))
const kinds = computed(() => [...new Set(reading.value?.numbers.map((n) => n.unit))])
const amount = (v: number | null) => (v === null ? '–' : fixed(v, v < 10 ? 1 : 0))
const least = (n: number) => (n === 0 ? '200+' : String(n))
const unitOf = (n: Planning) => (n.outcome.unit === '1 to 9' ? 'pts' : n.outcome.unit.split(' ')[0])
/** How far an answer from the cook days at hand goes. */
const reach = computed(() => {
  const days = ask.hand.cook_days
  if (days >= 3) return `An answer is of these ${days} cooks; on three or more the next cook is asked too.`
  return days === 2
    ? 'An answer is of these two cooks. For the next cook two lean at most: three tell.'
    : 'An answer is of this one cook. The next cook is not asked: three cook days tell of it.'
})
function cost(o: Offer): string {
  const parts = [
    `${o.cuts} ${o.cuts === 1 ? 'cut' : 'cuts'}`,
    `${o.cooks} ${o.cooks === 1 ? 'cook' : 'cooks'}`,
    `${o.arms} arms`,
  ]
  if (o.cost_cents) parts.push(`meat ${money(o.cost_cents)}`)
  return parts.join(', ')
}
</script>

<template>
  <div class="reading" aria-live="polite">
    <h2 data-testid="can-answer">{{ reading?.can_answer ?? 'Reading the ask' }}</h2>
    <p v-if="ask.kind" class="small" data-testid="burns-tell">
      It tells how soon each set-up is hot, how far the grate lies apart, how long it stays in the band, how long a
      piece of fuel holds it, and what each is good for. With one burn of each, the day cannot be told apart from the
      set-up; with two of each, every difference comes with an interval.
    </p>
    <FindingList :findings="findings" :shut="shut" @mend="(m: Mend, finding: string) => mend(finding, m.do)" />

    <template v-for="kind in kinds" :key="kind">
      <h3>
        What
        {{ reading!.numbers.find((n) => n.unit === kind)!.units }}
        {{ kind }}s an arm can find
      </h3>
      <table class="numbers">
        <thead>
          <tr>
            <th>8 times in 10</th>
            <th class="num-col"><WordTip word="Smallest difference you would see" /></th>
            <th class="num-col"><WordTip word="Cuts to prove better" /></th>
            <th class="num-col"><WordTip word="Cuts to prove same" /></th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="n in reading!.numbers.filter((n) => n.unit === kind)"
            :key="id(n)"
            :data-testid="`number-${n.outcome.key}`"
            :class="{ picked: picked === id(n) }"
          >
            <td>
              <button type="button" @click="picked = picked === id(n) ? '' : id(n)">
                {{ n.outcome.name }}<span v-if="n.spread_df" class="soot small"> house</span>
              </button>
            </td>
            <td class="num-col num">
              <b>{{ amount(n.detects) }}</b> {{ unitOf(n) }}
            </td>
            <td class="num-col num" :class="{ enough: n.to_clear && n.units >= n.to_clear }">
              {{ least(n.to_clear) }}
            </td>
            <td class="num-col num" :class="{ enough: n.to_same && n.units >= n.to_same }">{{ least(n.to_same) }}</td>
          </tr>
        </tbody>
      </table>
      <NumberCurve v-if="shown?.unit === kind" :number="shown" />
    </template>
    <p v-if="kinds.length" class="soot small">
      Counted in {{ kinds.join(' or ') }}s an arm. Spread from the house where it says so, else the barn's usual.
    </p>

    <p v-if="kinds.length" class="small" data-testid="ask-reach">{{ reach }}</p>

    <h3 v-if="reading?.offers.length">Layouts for what is at hand</h3>
    <article
      v-for="o in reading?.offers"
      :key="o.key"
      class="offer"
      :class="{ fits: o.fits }"
      :data-testid="`offer-${o.key}`"
    >
      <div class="row nowrap">
        <b>{{ o.name }}</b>
        <span v-if="ask.layout === o.key" class="check push small">laid out so</span>
        <Button
          v-else-if="o.fits && !shut"
          class="push"
          label="Use this layout"
          size="small"
          outlined
          @click="take(o.ask)"
        />
      </div>
      <p class="num small">{{ cost(o) }}</p>
      <p v-if="o.lacks" class="small open">{{ o.lacks[0]!.toUpperCase() + o.lacks.slice(1) }}.</p>
      <p v-if="o.tells.length" class="small">Tells {{ o.tells.join('; ') }}.</p>
      <p v-if="o.cannot.length" class="small">Not: {{ o.cannot.join('; ') }}.</p>
      <details v-if="o.scheme.length">
        <summary class="small">who meets whom</summary>
        <p v-for="line in o.scheme" :key="line" class="num small">{{ line }}</p>
      </details>
    </article>
  </div>
</template>

<style scoped>
.reading {
  padding: 16px;
  overflow-y: auto;
  flex: 1;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.numbers td,
.numbers th {
  padding: 4px 0 4px 8px;
}
.numbers td:first-child,
.numbers th:first-child {
  padding-left: 0;
}
.num-col {
  text-align: right;
}
.numbers button {
  background: none;
  border: 0;
  padding: 0;
  min-height: 30px;
  text-align: left;
  cursor: pointer;
  text-decoration: underline dotted;
}
.enough {
  font-weight: 700;
}
.enough::before {
  content: '';
  display: inline-block;
  width: 0.7em;
  height: 0.35em;
  border: solid currentColor;
  border-width: 0 0 2px 2px;
  transform: rotate(-45deg);
  margin: 0 0.4em 0.2em 0;
}
.picked {
  background: var(--trough);
}
.offer {
  border-top: var(--line) solid var(--edge);
  padding-top: 8px;
  color: var(--soot);
}
.offer.fits {
  color: var(--ink);
}
.nowrap {
  flex-wrap: nowrap;
}
.open {
  color: var(--watch);
}
</style>
