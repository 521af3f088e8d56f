<script setup lang="ts">
import { useRouter } from 'vue-router'
import Button from 'primevue/button'
import type { KnowAnswer, ShownBy, Unlike } from '../api/schema.gen'
import { span } from '../ui/time'
import { fixed, shortWeight, signed, temperature } from '../ui/units'

/** The trial that stands apart, and how it differed from the others; a guess is called a guess. */
defineProps<{ answer: KnowAnswer; trial: ShownBy }>()
const router = useRouter()
function said(u: Unlike, v: number | null, text: string) {
  if (v === null) return text || '–'
  if (u.unit === 'C') return temperature(v)
  if (u.unit === 'h') return span(v)
  if (u.unit === 'kg') return shortWeight(v)
  return `${fixed(v, 1)}${u.unit ? ` ${u.unit}` : ''}`
}
</script>

<template>
  <aside class="apart" data-testid="apart">
    <h2 class="triangle">{{ trial.question }} stands apart</h2>
    <p>{{ signed(trial.estimate, 1) }} there. How it differed:</p>
    <table>
      <thead>
        <tr>
          <th />
          <th>the others</th>
          <th>it</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="u in answer.how" :key="u.name">
          <td>{{ u.name }}</td>
          <td class="num">{{ said(u, u.others, u.was) }}</td>
          <td class="num">
            <b>{{ said(u, u.apart, u.is) }}</b>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="small">
      <b>A guess</b>, which of them did it:
      {{ answer.how.length > 1 ? 'several changed together' : 'nothing else on record did' }}.
    </p>
    <div class="row">
      <Button outlined label="Open this question" @click="router.push(`/trials/new?follow=${trial.trial_id}`)" />
      <Button outlined label="Open the trial" @click="router.push(`/trials/${trial.trial_id}/settle`)" />
    </div>
  </aside>
</template>

<style scoped>
.apart {
  border-left: var(--line-strong) solid var(--ink);
  padding: 10px 16px;
  background: var(--lime);
  display: grid;
  gap: 8px;
  align-content: start;
}
h2 {
  color: var(--watch);
}
td {
  padding: 3px 6px 3px 0;
}
@media (max-width: 1000px) {
  .apart {
    border-left: 0;
  }
}
</style>
