<script setup lang="ts">
import Button from 'primevue/button'
import { computed, watchEffect } from 'vue'
import { useRoute } from 'vue-router'
import { vocabulary } from '../api/vocabulary.gen'
import { date } from '../ui/time'
import { title } from '../ui/title'
import { sentence, shortWeight } from '../ui/units'
import { useCard } from './card'
import { amount, endOf, endsBy, tolerance } from './card'
import { fixed, poundKg } from '../ui/units'
import { weights } from '../ui/settings'

/** The card on the pit wall: to be read at two metres, on A4 or letter. */
const route = useRoute()
const id = computed(() => Number(route.params.id))
const { data: card } = useCard(id)
watchEffect(() => (title.value = card.value?.name ?? ''))
const v = computed(() => card.value?.versions.find((x) => x.id === card.value?.in_force))
const print = () => window.print()
const wrapOf = (key: string) => vocabulary.wraps.find((w) => w.key === key)?.words ?? key
const per = (g: number) => (weights.value === 'lb' ? `${amount(g * poundKg)} g a lb` : `${amount(g)} g a kg`)
</script>

<template>
  <div v-if="card && v" class="sheet" data-testid="wall-card">
    <div class="row no-print">
      <RouterLink :to="`/book/cards/${card.id}`">Back to the card</RouterLink>
      <Button label="Print" class="push" data-testid="print" @click="print" />
    </div>
    <h1>{{ card.name }}</h1>
    <p class="sub">
      Version {{ v.number }}<span v-if="v.body.pit">, {{ v.body.pit }}</span
      ><span v-if="v.body.set_up">, {{ v.body.set_up }}</span
      ><span v-if="v.body.kg">. {{ shortWeight(v.body.kg.low) }} to {{ shortWeight(v.body.kg.high) }} each</span>
    </p>
    <p v-if="v.failed_at" class="warn triangle">This version failed: {{ v.fault }}. Do not cook by it.</p>
    <table>
      <tbody>
        <tr v-for="(s, i) in v.body.steps" :key="i">
          <td class="n">{{ i + 1 }}</td>
          <td class="what">
            {{ s.name }}<template v-if="s.set_typed"> at {{ s.set_typed }}</template
            ><template v-if="s.wrap && s.wrap !== 'none'">, {{ wrapOf(s.wrap) }}</template>
            <span class="by">{{ [endsBy(s), tolerance(s)].filter(Boolean).join('; ') }}</span>
          </td>
          <td class="end">{{ endOf(s) }}</td>
        </tr>
      </tbody>
    </table>
    <p class="takes">
      <span v-for="a in v.body.takes" :key="a.name"
        ><b>{{ a.name }}</b>
        {{ a.g_per_kg ? per(a.g_per_kg) : a.count ? `${fixed(a.each, 0)} a ${a.of}` : `${amount(a.each)} g a ${a.of}` }}
      </span>
    </p>
    <p v-for="c in v.body.cautions" :key="c.text" class="caution triangle">
      {{ sentence(c.text) }} <span class="by">{{ c.source }}</span>
    </p>
    <p class="foot">
      {{ v.body.evidence.says }}
      <span v-for="s in v.signed" :key="s.id">Signed {{ s.name }}, {{ date(s.signed_at) }}. </span>
    </p>
  </div>
</template>

<style scoped>
.sheet {
  background: var(--board);
  max-width: 980px;
  margin: 0 auto;
  padding: 20px 28px;
}
h1 {
  font-size: 46px;
}
.sub {
  font-size: 22px;
  margin-bottom: 8px;
}
td {
  padding: 8px 10px 8px 0;
  vertical-align: middle;
}
tr {
  border-top: 3px solid var(--ink);
}
.n {
  font: 700 26px var(--font-num);
  width: 44px;
}
.what {
  font: 700 30px var(--font-head);
}
.by {
  display: block;
  font: 400 18px var(--font-text);
}
.end {
  font: 700 46px var(--font-num);
  text-align: right;
  white-space: nowrap;
}
.takes {
  font-size: 22px;
  display: flex;
  gap: 24px;
  flex-wrap: wrap;
  border-top: 3px solid var(--ink);
  padding-top: 8px;
}
.caution {
  font-size: 19px;
  margin-top: 6px;
}
.foot {
  border-top: 3px solid var(--ink);
  margin-top: 10px;
  padding-top: 6px;
  font-size: 17px;
}
@media print {
  .sheet {
    padding: 0;
    max-width: none;
  }
  @page {
    margin: 12mm;
  }
}
@media (max-width: 600px) {
  .end {
    font-size: 28px;
  }
  .what {
    font-size: 20px;
  }
}
</style>
