<script setup lang="ts">
import { computed } from 'vue'
import type { CardBody } from '../api/schema.gen'
import { span } from '../ui/time'
import { fixed, poundKg, sentence, shortWeight } from '../ui/units'
import { amount } from './card'
import { weights } from '../ui/settings'

/** What a card takes, what it gives, what it is for and what not, and what can hurt. */
const props = defineProps<{ body: CardBody }>()
const perMeat = (g: number) => (weights.value === 'lb' ? `${amount(g * poundKg)} g a lb` : `${amount(g)} g a kg`)
const tasted = computed(() => props.body.gives.filter((g) => g.tasted))
const measured = computed(() => props.body.gives.filter((g) => !g.tasted))
/** Scores on one small rule from 1 to 9. */
const at = (v: number) => 4 + ((v - 1) / 8) * 92
const said = (unit: string, v: number) =>
  unit === 'h' ? span(v) : unit.startsWith('%') ? `${fixed(v, 1)} %` : `${fixed(v, 0)} ${unit}`
const money = (cents: number) => {
  const per = weights.value === 'lb' ? cents * poundKg : cents
  return fixed(per / 100, 2)
}
</script>

<template>
  <div class="three">
    <section>
      <h2>What it takes</h2>
      <table>
        <tbody>
          <tr v-if="body.kg">
            <td>A {{ body.cut }}</td>
            <td class="num right">{{ shortWeight(body.kg.low) }} to {{ shortWeight(body.kg.high) }}</td>
          </tr>
          <tr v-if="body.pit">
            <td>{{ body.pit }}</td>
            <td class="right">{{ body.set_up || 'as it stands' }}</td>
          </tr>
          <tr v-if="body.fuel">
            <td>Fuel</td>
            <td class="right">{{ body.fuel }}</td>
          </tr>
          <tr v-for="a in body.takes" :key="a.name">
            <td>{{ a.name }}{{ a.of ? `, a ${a.of}` : '' }}</td>
            <td class="num right">
              {{ a.g_per_kg ? perMeat(a.g_per_kg) : a.count ? fixed(a.each, 0) + ' ×' : `${amount(a.each)} g` }}
            </td>
          </tr>
          <tr v-if="body.hands_min !== null">
            <td>Hands, a {{ body.cut }}</td>
            <td class="num right">{{ fixed(body.hands_min, 0) }} min</td>
          </tr>
          <tr v-if="body.allergens.length">
            <td>Allergens</td>
            <td class="right">{{ body.allergens.join(', ') }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section>
      <h2>What it gives</h2>
      <table>
        <tbody>
          <tr v-for="g in tasted" :key="g.key">
            <td>{{ g.name }}</td>
            <td class="rule">
              <svg v-if="g.unit === '1 to 9'" viewBox="0 0 100 16" aria-hidden="true">
                <path d="M4 8H96" stroke="var(--grain)" stroke-width="2" />
                <path :d="`M${at(g.low)} 8H${at(g.high)}`" stroke="var(--ink)" stroke-width="3" />
                <rect
                  :x="at(g.middle) - 3"
                  y="4"
                  width="6"
                  height="8"
                  fill="var(--board)"
                  stroke="var(--ink)"
                  stroke-width="2"
                />
              </svg>
            </td>
            <td class="num right">
              <b>{{ fixed(g.middle, 1) }}</b> <span class="small">{{ fixed(g.low, 1) }}–{{ fixed(g.high, 1) }}</span>
            </td>
          </tr>
          <tr v-for="g in measured" :key="g.key">
            <td colspan="2">{{ g.name }}</td>
            <td class="num right">
              <b>{{ said(g.unit, g.middle) }}</b>
            </td>
          </tr>
          <tr v-if="body.cents_kg">
            <td colspan="2">Edible {{ weights === 'lb' ? 'lb' : 'kg' }}</td>
            <td class="num right">
              <b>{{ money(body.cents_kg.middle) }}</b>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="small soot">The bar holds the mean 9 times in 10.</p>
    </section>
    <section>
      <h2>For what</h2>
      <p v-for="f in body.for" :key="f" class="check">
        <b>{{ f }}</b>
      </p>
      <p v-for="n in body.not" :key="n">✕ {{ sentence(n) }}</p>
    </section>
  </div>
  <div class="cautions">
    <p v-for="c in body.cautions" :key="c.text" class="triangle">
      <b>{{ sentence(c.text) }}</b> <span class="small soot">{{ c.source }}</span>
    </p>
  </div>
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 16px;
  border-top: var(--line-strong) solid var(--ink);
  padding-top: 8px;
  margin-top: 6px;
}
td {
  padding: 3px 6px 3px 0;
}
.rule {
  width: 46px;
}
.rule svg {
  width: 46px;
}
td.num {
  white-space: nowrap;
  letter-spacing: -0.04em;
}
.cautions {
  border-top: var(--line) solid var(--edge);
  padding-top: 6px;
  display: grid;
  gap: 4px;
}
@media (max-width: 800px) {
  .three {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
