<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ok } from '../api/client'
import TrendChart from '../settle/TrendChart.vue'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import BookTabs from './BookTabs.vue'
import ForestPlot from './ForestPlot.vue'
import OpenMap from './OpenMap.vue'
import TrialApart from './TrialApart.vue'

/** What the house knows: one sentence, the trials behind it, and what was never tried. */
const route = useRoute()
const router = useRouter()
const q = computed(() => ({
  text: String(route.query.text ?? ''),
  product: Number(route.query.product ?? 0),
  factor: Number(route.query.factor ?? 0),
  first: Number(route.query.first ?? 0),
  second: Number(route.query.second ?? 0),
  outcome: String(route.query.outcome ?? ''),
}))
const text = ref(q.value.text)
watch(
  () => q.value.text,
  (t) => (text.value = t),
)
const { data: known } = useQuery({
  queryKey: computed(() => ['book', 'know', q.value]),
  queryFn: () => ok(api.GET('/api/book/know', { params: { query: q.value } })),
  placeholderData: (was) => was,
})
const { data: map } = useQuery({ queryKey: ['book', 'map'], queryFn: () => ok(api.GET('/api/book/map')) })
const a = computed(() => known.value?.answer)
const look = () => router.push({ query: text.value ? { text: text.value } : {} })
const pick = (change: Record<string, string | number>) => {
  const at = known.value!.query
  void router.push({
    query: {
      product: String(at.product_id),
      factor: String(at.factor_id),
      first: String(at.first),
      second: String(at.second),
      outcome: at.outcome,
      ...Object.fromEntries(Object.entries(change).map(([k, v]) => [k, String(v)])),
    },
  })
}
const apart = computed(() => a.value?.trials.find((t) => t.apart))
const field = ref<{ $el: HTMLElement } | null>(null)
useKeys((key) => {
  if (key === '/') return (field.value?.$el.focus(), true)
})
</script>

<template>
  <BookTabs here="know" />
  <form class="ask no-print" role="search" @submit.prevent="look">
    <InputText
      ref="field"
      v-model="text"
      placeholder="paper wrap, lamb shoulder, juiciness"
      aria-label="What do we know of"
      data-testid="know-text"
    />
    <Button type="submit" data-testid="know-look">Look up <KeyCap>Enter</KeyCap></Button>
  </form>
  <div v-if="known" class="know">
    <div v-if="known.products.length" class="row picks no-print">
      <Select
        :model-value="known.query.product_id"
        :options="known.products"
        option-label="name"
        option-value="id"
        aria-label="Product"
        @update:model-value="(v) => pick({ product: v, first: 0, second: 0 })"
      />
      <Select
        :model-value="known.query.factor_id"
        :options="known.factors"
        option-label="name"
        option-value="id"
        aria-label="Factor"
        @update:model-value="(v) => pick({ factor: v, first: 0, second: 0, outcome: '' })"
      />
      <template v-if="known.levels.length">
        <Select
          :model-value="known.query.first"
          :options="known.levels"
          option-label="name"
          option-value="id"
          aria-label="First level"
          data-testid="know-first"
          @update:model-value="(v) => pick({ first: v })"
        />
        <span>or</span>
        <Select
          :model-value="known.query.second"
          :options="known.levels"
          option-label="name"
          option-value="id"
          aria-label="Second level"
          @update:model-value="(v) => pick({ second: v })"
        />
      </template>
      <Select
        v-if="known.outcomes.length"
        :model-value="known.query.outcome"
        :options="known.outcomes"
        option-label="name"
        option-value="key"
        aria-label="Outcome"
        data-testid="know-outcome"
        @update:model-value="(v) => pick({ outcome: v })"
      />
    </div>
    <div class="top" :class="{ split: apart }">
      <section>
        <div class="says">
          <h1 data-testid="know-sentence">{{ a ? a.sentence : known.says }}</h1>
          <p v-if="a" data-testid="know-size">{{ a.size }}</p>
          <p v-if="a?.without" class="small watch triangle">{{ a.without }}</p>
        </div>
        <ForestPlot v-if="a && a.trials.length" :answer="a" />
      </section>
      <TrialApart v-if="a && apart" :answer="a" :trial="apart" />
    </div>
    <div class="bottom" :class="{ split: a?.trend }">
      <OpenMap
        v-if="map"
        :map="map"
        :here="known.query"
        @pick="(p, f) => pick({ product: p, factor: f, first: 0, second: 0, outcome: '' })"
      />
      <section v-if="a?.trend" class="trend">
        <h2>{{ a.trend.sentence }}</h2>
        <TrendChart :row="{ outcome: a.outcome }" :trend="a.trend" />
        <RouterLink :to="`/trials/${a.trend_of}/settle`">Open the trial</RouterLink>
      </section>
    </div>
  </div>
</template>

<style scoped>
.ask {
  display: flex;
  gap: 8px;
  padding: 10px 16px;
}
.ask :deep(input) {
  flex: 1;
  font-size: 18px;
}
.picks {
  padding: 0 16px 8px;
  gap: 6px;
}
.says {
  padding: 4px 16px 10px;
}
.watch {
  color: var(--watch);
}
.top,
.bottom {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
}
.top.split {
  grid-template-columns: minmax(0, 1fr) 340px;
}
.bottom {
  border-top: var(--line-strong) solid var(--ink);
}
.bottom.split {
  grid-template-columns: minmax(0, 1fr) 440px;
}
.trend {
  padding: 12px 16px;
  border-left: var(--line-strong) solid var(--ink);
}
@media (max-width: 1000px) {
  .top.split,
  .bottom.split {
    grid-template-columns: minmax(0, 1fr);
  }
  .trend {
    border-left: 0;
  }
}
</style>
