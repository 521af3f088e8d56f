<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ok, Refused } from '../api/client'
import { useThisTrial } from '../trial/trial'
import EatersAdvice from '../taste/EatersAdvice.vue'
import ProblemNote from '../ui/ProblemNote.vue'

/** The ballots of a flight on paper, one page a taster: codes in their order, the same rules as on a phone. */
const { trial } = useThisTrial()
const id = Number(useRoute().params.flight)
const { data: papers, error } = useQuery({
  queryKey: ['paper', id],
  queryFn: () => ok(api.GET('/api/flights/{id}/paper', { params: { path: { id } } })),
})
const allergens = computed(() => trial.value.ask.allergens.join(', '))
const print = () => window.print()
</script>

<template>
  <div class="page stack">
    <div class="row no-print">
      <h1>Paper ballots</h1>
      <Button label="Print" @click="print" />
      <RouterLink class="push" :to="`/trials/${trial.id}/table`">Back to Table</RouterLink>
    </div>
    <p class="soot small no-print">One page a taster. They are typed in on Table, one key a score.</p>
    <ProblemNote v-if="error instanceof Refused" :problem="error.problem" />
    <article v-for="p in papers" :key="p.taster_id" class="paper" :data-testid="`paper-of-${p.taster}`">
      <header class="row">
        <h2>{{ p.taster }}</h2>
        <span>Seat {{ p.seat }}, flight {{ p.plate.flight }}</span>
      </header>
      <p v-if="allergens" class="triangle">
        <b>Any sample may hold {{ allergens }}.</b>
      </p>
      <EatersAdvice v-if="p.plate.advised" />
      <p>
        Taste in this order, {{ p.plate.sheet.bites }} {{ p.plate.sheet.bites === 1 ? 'bite' : 'bites' }} each, water
        between. No talk until all is done. There are no right answers.
      </p>
      <template v-if="p.plate.sheet.format === 'scores'">
        <section v-for="s in p.plate.samples" :key="s.code" class="sample">
          <b class="num code">{{ s.code }}</b><small v-if="s.warm_up">to warm up, not counted</small>
          <div v-for="a in p.plate.sheet.attributes" :key="a.key" class="rule">
            <span class="name">{{ a.name }}<small v-if="a.look">, look before you bite</small></span>
            <small class="low">{{ a.low }}</small>
            <span v-for="n in a.most" :key="n" class="box num">{{ n }}</span>
            <small>{{ a.high }}</small>
          </div>
          <p v-if="p.plate.sheet.faults.length" class="words">
            <span v-for="f in p.plate.sheet.faults" :key="f"><i class="tickbox" /> {{ f }}</span>
          </p>
        </section>
        <p v-if="p.plate.sheet.choice">Which would you serve? <span class="line" /> Why? <span class="line long" /></p>
      </template>
      <template v-else>
        <h3>{{ p.plate.sheet.asks }}</h3>
        <div class="row">
          <span v-for="s in p.plate.samples" :key="s.code" class="pick"
            ><b class="num code">{{ s.code }}</b
            ><i class="tickbox"
          /></span>
        </div>
        <p>
          {{
            p.plate.sheet.format === 'ranking'
              ? 'Write 1 for the best; two may have the same number.'
              : 'Mark one; guess if you cannot tell.'
          }}
        </p>
        <p>Why? <span class="line long" /></p>
      </template>
    </article>
  </div>
</template>

<style scoped>
.paper {
  background: var(--board);
  padding: 16px 20px;
  border: var(--line) solid var(--edge);
  break-after: page;
}
.paper p {
  margin: 6px 0;
}
.code {
  font-size: 32px;
  margin-right: 12px;
}
.sample {
  border-top: var(--line) solid var(--edge);
  padding: 6px 0;
  break-inside: avoid;
}
.rule {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px;
  padding: 2px 0;
}
.name {
  flex: 0 0 200px;
  font-weight: 600;
}
.low {
  flex: 0 0 118px;
  text-align: right;
  padding-right: 6px;
}
.box {
  border: var(--line) solid var(--ink);
  width: 30px;
  height: 30px;
  display: grid;
  place-items: center;
}
.tickbox {
  display: inline-block;
  width: 18px;
  height: 18px;
  border: var(--line) solid var(--ink);
  vertical-align: middle;
}
.words {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
}
.pick {
  display: flex;
  align-items: center;
  padding: 8px 18px 8px 0;
}
.line {
  display: inline-block;
  width: 90px;
  border-bottom: var(--line) solid var(--ink);
}
.long {
  width: 320px;
}
@media print {
  .paper {
    border: 0;
    padding: 0;
  }
}
</style>
