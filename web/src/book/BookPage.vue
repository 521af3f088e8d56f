<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, ok } from '../api/client'
import { useKeys } from '../ui/keys'
import BookTabs from './BookTabs.vue'

/** The cards of the barn: what is in force, who stands by it, and what drifts. */
const router = useRouter()
const { data: cards } = useQuery({ queryKey: ['book', 'cards'], queryFn: () => ok(api.GET('/api/book/cards')) })
const first = computed(() => {
  const n = cards.value?.length ?? 0
  const drifts = cards.value?.filter((c) => c.drifts).length ?? 0
  if (n === 0) return 'No card is written yet.'
  const says = n === 1 ? 'One card' : `${n} cards`
  return drifts === 0 ? `${says}, and nothing drifts.` : `${says}; ${drifts === 1 ? 'one drifts' : `${drifts} drift`}.`
})
useKeys((key) => {
  const c = cards.value?.[Number(key) - 1]
  if (c) return (void router.push(`/book/cards/${c.id}`), true)
})
</script>

<template>
  <BookTabs here="cards" />
  <div v-if="cards" class="page stack">
    <h1 data-testid="book-first">{{ first }}</h1>
    <div v-if="cards.length === 0" class="empty">
      <p>A card is written from a settled trial: open one, and press <b>Write the card</b>.</p>
      <RouterLink to="/">Go to the barn</RouterLink>
    </div>
    <RouterLink v-for="c in cards" :key="c.id" :to="`/book/cards/${c.id}`" class="card" :data-testid="`card-${c.id}`">
      <span class="name">{{ c.name }}</span>
      <span
        ><b v-if="c.version">Version {{ c.version }}</b
        ><b v-else class="watch triangle">Every version failed</b>
        <span v-if="c.versions > 1" class="soot small"> of {{ c.versions }}</span> {{ c.title }}</span
      >
      <span>{{ c.says }}</span>
      <span class="small">
        <template v-if="c.signed.length">Signed by {{ c.signed.join(' and ') }}.</template
        ><template v-else>Not signed.</template> Cooked <b class="num">{{ c.cooks }}</b>
        {{ c.cooks === 1 ? 'time' : 'times' }} since.</span
      >
      <span v-if="c.drifts" class="warn triangle">{{ c.drifts }}</span>
    </RouterLink>
  </div>
</template>

<style scoped>
.card {
  display: grid;
  gap: 4px;
  background: var(--board);
  border-top: var(--line-strong) solid var(--ink);
  padding: 12px 16px;
  text-decoration: none;
}
.name {
  font: 700 22px var(--font-head);
}
.watch {
  color: var(--watch);
}
</style>
