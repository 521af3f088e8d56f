<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import ProblemNote from '../ui/ProblemNote.vue'
import { useThisTrial } from './trial'

/** A rehearsal as a practice evening: what to do at each step, up to the truth. */
const { here } = defineProps<{ here: string }>()
const { trial, set } = useThisTrial()
const steps: Record<string, [number, string]> = {
  fire: [1, 'Put the cuts on, wrap and pull them as the plan says; at 600× a day is a minute. A stall is no fault.'],
  rest: [2, 'Read each cut by hand, slice it, and weigh it out.'],
  table: [3, 'Seat three or more, serve a flight, and let the simulated tasters taste. Then open the codes.'],
  settle: [4, 'Read the verdict first. What was true stands below it.'],
}
const step = computed(() => steps[here])
const open = computed(() => trial.value.ballots.filter((b) => !b.locked).length)
const { busy, problem, run } = useAct()
async function taste() {
  set(await run(() => ok(api.POST('/api/trials/{id}/simulated-tasters', { params: { path: { id: trial.value.id } } }))))
}
</script>

<template>
  <div v-if="step" class="practice no-print" data-testid="practice">
    <span
      ><b>Practice, {{ step[0] }} of 4.</b> {{ step[1] }}
      <RouterLink to="/guide/practice">The whole evening</RouterLink></span
    >
    <Button
      v-if="here === 'table' && open > 0 && !trial.revealed_at"
      label="Let simulated tasters taste"
      :loading="busy"
      data-testid="simulated-tasters"
      @click="taste"
    />
    <ProblemNote v-if="problem" :problem="problem" />
  </div>
</template>

<style scoped>
.practice {
  display: flex;
  gap: 8px 16px;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  padding: 6px 16px;
  background: var(--watch-wash);
  color: var(--watch);
}
.practice a {
  color: inherit;
}
</style>
